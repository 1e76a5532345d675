package store

import (
	"time"

	"vialbench/core/unknowns"
)

// UnknownSet are the unknowns of the groups of a session.
type UnknownSet struct {
	ID        string `gorm:"primaryKey"`
	SessionID string
	// Name is what is in them; BottleID the bottle that they are made from, where it stands on the shelf.
	Name        string
	BottleID    *string
	Bottle      *Bottle
	Question    unknowns.Question `gorm:"type:jsonb;serializer:json"`
	Set         unknowns.Set      `gorm:"type:jsonb;serializer:json"`
	MadeBy      string
	Maker       Account `gorm:"foreignKey:MadeBy"`
	MadeAt      time.Time
	WithdrawnAt *time.Time
}

// UnknownOpening is who opened what of a set, and why: the list it is prepared by, or the key.
type UnknownOpening struct {
	ID     string `gorm:"primaryKey"`
	SetID  string
	What   string
	Reason string
	MadeBy string
	Maker  Account `gorm:"foreignKey:MadeBy"`
	MadeAt time.Time
}

// UnknownSets lists the unknowns of sessions, those that were withdrawn too, oldest first.
func (s *Store) UnknownSets(sessions []string) ([]UnknownSet, error) {
	q := s.db.Joins("Maker").Joins("Bottle").Where("session_id IN ?", sessions)
	return many[UnknownSet](q.Order("unknown_sets.made_at, unknown_sets.id"))
}

// UnknownSetByID finds a set.
func (s *Store) UnknownSetByID(id string) (UnknownSet, error) {
	return one[UnknownSet](s.db.Joins("Maker").Joins("Bottle").Where("unknown_sets.id = ?", id))
}

// UnknownOpenings lists who opened sets, oldest first.
func (s *Store) UnknownOpenings(sets []string) ([]UnknownOpening, error) {
	return many[UnknownOpening](s.db.Joins("Maker").Where("set_id IN ?", sets).Order("unknown_openings.made_at, unknown_openings.id"))
}

// WithdrawUnknowns takes a set off its session.
func (s *Store) WithdrawUnknowns(id string, at time.Time) error {
	return s.db.Model(&UnknownSet{}).Where("id = ? AND withdrawn_at IS NULL", id).Update("withdrawn_at", at).Error
}
