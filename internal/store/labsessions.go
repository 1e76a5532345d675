package store

import (
	"strings"
	"time"

	"vialbench/core/session"
)

// LabSession is a session that is planned.
type LabSession struct {
	ID       string `gorm:"primaryKey"`
	Number   int64  `gorm:"default:(-)"`
	Title    string
	StartsAt time.Time
	EndsAt   time.Time
	Plan     session.Session `gorm:"type:jsonb;serializer:json"`
	// Moved are the starts that somebody chose, by the ID of the task.
	Moved     map[string]time.Time `gorm:"type:jsonb;serializer:json"`
	Version   int
	CreatedBy string
	Creator   Account `gorm:"foreignKey:CreatedBy"`
	CreatedAt time.Time
	RemovedAt *time.Time
}

// SessionTask is what became of a task of a session: a run that does it, or a tick by hand.
type SessionTask struct {
	ID        string `gorm:"primaryKey"`
	SessionID string
	Task      string
	Title     string
	RunID     *string
	Run       *Run
	Done      bool
	MadeBy    string
	Maker     Account `gorm:"foreignKey:MadeBy"`
	MadeAt    time.Time
}

// LabSessions lists sessions that end after a time, the nearest first.
func (s *Store) LabSessions(after time.Time, most int) ([]LabSession, error) {
	q := s.db.Joins("Creator").Where("removed_at IS NULL AND ends_at > ?", after)
	return many[LabSession](q.Order("starts_at, lab_sessions.number").Limit(most))
}

// PastLabSessions lists sessions that have ended, the newest first.
func (s *Store) PastLabSessions(before time.Time, most int) ([]LabSession, error) {
	q := s.db.Joins("Creator").Where("removed_at IS NULL AND ends_at <= ?", before)
	return many[LabSession](q.Order("starts_at DESC, lab_sessions.number DESC").Limit(most))
}

// AllLabSessions lists all of them, those that were removed too, by their numbers.
func (s *Store) AllLabSessions() ([]LabSession, error) {
	return many[LabSession](s.db.Joins("Creator").Order("lab_sessions.number"))
}

// LabSessionByID finds a session.
func (s *Store) LabSessionByID(id string) (LabSession, error) {
	return one[LabSession](s.db.Joins("Creator").Where("lab_sessions.id = ?", id))
}

// SessionTasks lists what became of the tasks of sessions, oldest first.
func (s *Store) SessionTasks(sessions []string) ([]SessionTask, error) {
	q := s.db.Joins("Maker").Joins("Run").Where("session_id IN ?", sessions)
	return many[SessionTask](q.Order("session_tasks.made_at, session_tasks.id"))
}

// SessionOfRun is the session that a run does a task of; without an ID where there is none.
func (s *Store) SessionOfRun(runID string) (row LabSession, err error) {
	of := "id = (SELECT session_id FROM session_tasks WHERE run_id = ? ORDER BY made_at DESC LIMIT 1)"
	err = s.db.Where(of, runID).Limit(1).Find(&row).Error
	return row, err
}

// BottlesNamed lists the bottles on the shelf that hold something of these names, in small letters; oldest first.
func (s *Store) BottlesNamed(names []string, most int) ([]Bottle, error) {
	return many[Bottle](s.db.Where("state = 'shelf' AND lower(product ->> 'name') IN ?", names).Order("number").Limit(most))
}

// Lasting is how long the last runs of a kind took, in minutes.
type Lasting struct {
	Kind    string
	Minutes float64
}

// LastingOf gives the median time of the last runs of some kinds that were finished, from their begin to their last
// fact, of those kinds that had as many as asked for. A run of less than 5 minutes or more than 4 hours was entered
// afterwards or left alone: it tells nothing.
func (s *Store) LastingOf(kinds []string, runs int) ([]Lasting, error) {
	var list []Lasting
	err := s.db.Raw(`SELECT kind, percentile_cont(0.5) WITHIN GROUP (ORDER BY minutes) AS minutes
		FROM unnest(string_to_array(?, ',')) AS kind(kind) CROSS JOIN LATERAL (
			SELECT extract(epoch FROM max(f.made_at) - r.begun_at) / 60 AS minutes
			FROM (SELECT runs.id, runs.begun_at, runs.number FROM runs JOIN plans ON plans.id = runs.plan_id
				WHERE plans.kind = kind.kind AND runs.status = 'finished' ORDER BY runs.number DESC LIMIT ?) r
			JOIN facts f ON f.run_id = r.id AND f.replaces IS NULL
			GROUP BY r.id, r.begun_at) last
		WHERE minutes BETWEEN 5 AND 240 GROUP BY kind HAVING count(*) >= ?`, strings.Join(kinds, ","), runs, runs).Scan(&list).Error
	return list, err
}
