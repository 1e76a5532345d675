package store

import (
	"encoding/json"
	"slices"
	"sync"

	"gorm.io/gorm/clause"
)

// CountFacts counts the facts of a kind in a run.
func (s *Store) CountFacts(runID, kind string) (n int, err error) {
	var count int64
	err = s.db.Model(&Fact{}).Where("run_id = ? AND kind = ?", runID, kind).Count(&count).Error
	return int(count), err
}

// FactsOfRun lists the facts of a run in the order in which they were stated.
func (s *Store) FactsOfRun(runID string) ([]Fact, error) {
	known := s.facts.of(runID)
	last := int64(0)
	if n := len(known); n > 0 {
		last = known[n-1].Seq
	}
	list, err := s.factsFrom(runID, last)
	switch {
	case err != nil || len(known) == 0:
		return list, err
	case len(list) > 0 && list[0].ID == known[len(known)-1].ID:
		return append(known, list[1:]...), nil
	}
	s.facts.forget(runID) // it is another database than it was
	return s.factsFrom(runID, 0)
}

// Remember keeps the facts of a run, all of them and committed, so that they are not read again.
func (s *Store) Remember(runID string, facts []Fact) { s.facts.keep(runID, facts) }

// FactsOfRuns lists the facts of several runs, in the order in which they were stated.
func (s *Store) FactsOfRuns(runIDs []string) (map[string][]Fact, error) {
	list, err := s.scanFacts("f.run_id IN ?", runIDs)
	found := make(map[string][]Fact, len(runIDs))
	for _, f := range list {
		found[f.RunID] = append(found[f.RunID], f)
	}
	return found, err
}

// factsFrom reads the facts of a run from a sequence number on.
func (s *Store) factsFrom(runID string, seq int64) ([]Fact, error) {
	return s.scanFacts("f.run_id = ? AND f.seq >= ?", runID, seq)
}

// scanFacts reads facts. It scans them by hand: of everything that is read this is read most.
func (s *Store) scanFacts(condition string, values ...any) ([]Fact, error) {
	rows, err := s.db.Raw(`SELECT f.id, f.seq, f.run_id, f.kind, f.body, f.sentence, f.made_by, f.made_at, f.recorded_at, f.replaces, f.reason,
		a.name, a.initials, a.login, a.role, a.active, a.created_at
		FROM facts f JOIN accounts a ON a.id = f.made_by WHERE `+condition+` ORDER BY f.seq`, values...).Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close() //nolint:errcheck // what it says, Err says
	list := []Fact{}
	for rows.Next() {
		var f Fact
		var body []byte
		if err := rows.Scan(
			&f.ID,
			&f.Seq,
			&f.RunID,
			&f.Kind,
			&body,
			&f.Sentence,
			&f.MadeBy,
			&f.MadeAt,
			&f.RecordedAt,
			&f.Replaces,
			&f.Reason,
			&f.Maker.Name,
			&f.Maker.Initials,
			&f.Maker.Login,
			&f.Maker.Role,
			&f.Maker.Active,
			&f.Maker.CreatedAt,
		); err != nil {
			return nil, err
		}
		if err := json.Unmarshal(body, &f.Body); err != nil {
			return nil, err
		}
		f.Maker.ID = f.MadeBy
		list = append(list, f)
	}
	return list, rows.Err()
}

// Record keeps facts, and reports whether all of them are new: there may be a fact under the same ID.
func (s *Store) Record(facts []Fact) (bool, error) {
	kept := s.db.Omit(clause.Associations).Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}}, DoNothing: true}).Create(&facts)
	return kept.RowsAffected == int64(len(facts)), kept.Error
}

// memory keeps facts that were read: they never change, and those of a run are stated one after the
// other, under the lock of the run. Any process may forget them at any time.
type memory struct {
	mu    sync.Mutex
	runs  map[string][]Fact
	facts int
}

// mostRemembered is how many facts are kept, about five kilobytes each: those of the runs that a class is at.
const mostRemembered = 5_000

func (m *memory) of(runID string) []Fact {
	m.mu.Lock()
	defer m.mu.Unlock()
	return slices.Clip(m.runs[runID])
}

func (m *memory) forget(runID string) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.facts -= len(m.runs[runID])
	delete(m.runs, runID)
}

func (m *memory) keep(runID string, facts []Fact) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if len(facts) < len(m.runs[runID]) || len(facts) > mostRemembered {
		return // somebody was quicker, or it is too much
	}
	if m.runs == nil {
		m.runs = map[string][]Fact{}
	}
	m.facts += len(facts) - len(m.runs[runID])
	m.runs[runID] = slices.Clip(facts)
	for other, list := range m.runs {
		if m.facts <= mostRemembered {
			break
		}
		if other != runID {
			m.facts -= len(list)
			delete(m.runs, other)
		}
	}
}
