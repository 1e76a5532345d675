package store

import (
	"errors"

	"gorm.io/gorm"
)

// AllTakings lists what was taken out of all bottles, in order.
func (s *Store) AllTakings() ([]Taking, error) {
	return many[Taking](s.db.Joins("Maker").Order("seq"))
}

// Takings lists what was taken out of a bottle, in order.
func (s *Store) Takings(bottleID string) ([]Taking, error) {
	return many[Taking](s.db.Joins("Maker").Where("bottle_id = ?", bottleID).Order("seq"))
}

// TakingsByID finds some, by their IDs.
func (s *Store) TakingsByID(ids []string) (map[string]Taking, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	list, err := many[Taking](s.db.Where("id IN ?", ids))
	found := make(map[string]Taking, len(list))
	for _, t := range list {
		found[t.ID] = t
	}
	return found, err
}

// Take keeps an entry of what was taken, known already or new, and takes so much more, in mL, out of
// its bottle.
func (s *Store) Take(t Taking, more float64, known bool) error {
	keep := func() error { return s.Create(&t) }
	if known {
		keep = func() error { return s.db.Model(&t).Update("volume", t.Volume).Error }
	}
	bottle := s.db.Table("bottles").Where("id = ?", t.BottleID)
	taken := gorm.Expr("greatest(0, taken + ?)", more)
	return errors.Join(keep(), bottle.Update("taken", taken).Error, s.Announce("bottle "+t.BottleID))
}

// TakingByID finds one.
func (s *Store) TakingByID(id string) (Taking, error) { return one[Taking](s.db.Where("id = ?", id)) }
