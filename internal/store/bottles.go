package store

import (
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"vialbench/core/run"
)

func (s *Store) bottles() *gorm.DB {
	return s.db.Joins("Maker").Joins("Run").Joins("Plan")
}

// BottleByID finds a bottle with its run and plan.
func (s *Store) BottleByID(id string) (Bottle, error) {
	return one[Bottle](s.bottles().Where("bottles.id = ?", id))
}

// BottleOfRun finds the bottle that a run made, or one tube of a dilution.
func (s *Store) BottleOfRun(runID string, part int) (Bottle, error) {
	return one[Bottle](s.bottles().Where("bottles.run_id = ? AND bottles.part = ?", runID, part))
}

// LockBottle keeps other transactions from changing a bottle until this one ends.
func (s *Store) LockBottle(id string) error {
	return s.db.Model(&Bottle{}).Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", id).Take(&struct{ ID string }{}).Error
}

// ShelfFilter narrows the shelf. Zero fields do not narrow.
type ShelfFilter struct {
	Text string
	// ExpiringBefore and StandardiseBefore keep those on the shelf whose day comes
	// before another.
	ExpiringBefore, StandardiseBefore time.Time
	// Unlabelled keeps those on the shelf whose label was never printed, Low those
	// with less than that share of their volume left.
	Unlabelled bool
	Low        float64
}

// Bottles lists bottles, newest first, with a number below before.
func (s *Store) Bottles(f ShelfFilter, before int64, most int) ([]Bottle, error) {
	q := s.bottles().Where("bottles.number < ?", before)
	if f.Text != "" {
		q = q.Where("bottles.title ILIKE ?", contains(f.Text))
	}
	if !f.ExpiringBefore.IsZero() {
		q = q.Where("state = 'shelf' AND expires_on < ?", f.ExpiringBefore)
	}
	if !f.StandardiseBefore.IsZero() {
		q = q.Where("state = 'shelf' AND standardise_on < ?", f.StandardiseBefore)
	}
	if f.Unlabelled {
		q = q.Where("state = 'shelf' AND label_printed_at IS NULL")
	}
	if f.Low > 0 {
		q = q.Where("state = 'shelf' AND bottles.volume - bottles.taken < ? * bottles.volume", f.Low)
	}
	return many[Bottle](q.Order("bottles.number DESC").Limit(most))
}

// BottlesOfPlan lists the bottles that the runs of a plan made, oldest first.
func (s *Store) BottlesOfPlan(planID string) ([]Bottle, error) {
	return many[Bottle](s.bottles().Where("bottles.plan_id = ? AND bottles.run_id IS NOT NULL", planID).Order("bottles.number"))
}

// RunsOfPlan lists the runs of a plan, oldest first.
func (s *Store) RunsOfPlan(planID string) ([]Run, error) {
	return many[Run](s.db.Where("plan_id = ?", planID).Order("number"))
}

// ParentsOf lists what a bottle was made from.
func (s *Store) ParentsOf(bottleID string) ([]Parent, error) {
	return many[Parent](s.db.Joins("Parent").Where("bottle_id = ?", bottleID).Order(`"Parent".number`))
}

// Ancestor is a bottle that others were made from, with what doubt of it would rest on.
type Ancestor struct {
	ID, State, Reason string
	Number            int64
	Readings          []run.Reading `gorm:"serializer:json"`
}

// Ancestry lists what some bottles were made from, by bottle, and all those, however far back.
func (s *Store) Ancestry(of []string) (parents map[string][]string, bottles map[string]Ancestor, err error) {
	if len(of) == 0 {
		return nil, nil, nil
	}
	var lines []Parent
	err = s.db.Raw(`WITH RECURSIVE up AS (
			SELECT bottle_id, parent_id FROM parents WHERE bottle_id IN ?
			UNION SELECT p.bottle_id, p.parent_id FROM parents p JOIN up ON p.bottle_id = up.parent_id)
		SELECT up.bottle_id, up.parent_id FROM up JOIN bottles ON bottles.id = up.parent_id ORDER BY bottles.number`, of).Scan(&lines).Error
	if err != nil || len(lines) == 0 {
		return nil, nil, err
	}
	parents = map[string][]string{}
	var ids []string
	for _, l := range lines {
		parents[l.BottleID] = append(parents[l.BottleID], l.ParentID)
		ids = append(ids, l.ParentID)
	}
	bottles, err = s.Ancestors(ids)
	return parents, bottles, err
}

// Ancestors finds bottles by their IDs, as far as doubt of what was made from them goes.
func (s *Store) Ancestors(ids []string) (map[string]Ancestor, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	q := s.db.Table("bottles").Select("id, state, reason, number, product->'readings' AS readings")
	list, err := many[Ancestor](q.Where("id IN ?", ids))
	bottles := make(map[string]Ancestor, len(list))
	for _, b := range list {
		bottles[b.ID] = b
	}
	return bottles, err
}

// ChildrenOf lists the bottles that were made from a bottle.
func (s *Store) ChildrenOf(bottleID string) ([]Bottle, error) {
	return many[Bottle](
		s.bottles().Joins("JOIN parents ON parents.bottle_id = bottles.id").Where("parents.parent_id = ?", bottleID).Order("bottles.number"),
	)
}

// PoolsOf lists the bottles that a bottle was poured into.
func (s *Store) PoolsOf(bottleID string) ([]string, error) {
	return ids(s.db.Model(&Parent{}).Where("parent_id = ? AND share IS NOT NULL", bottleID).Order("bottle_id"), "bottle_id")
}

// Pools lists the bottles that were poured together, oldest first.
func (s *Store) Pools() ([]string, error) {
	return ids(s.db.Model(&Bottle{}).Where("run_id IS NULL").Order("number"), "id")
}

// BottlesOfRuns lists the bottles that some runs made, oldest first.
func (s *Store) BottlesOfRuns(runIDs []string) ([]Bottle, error) {
	return many[Bottle](s.bottles().Where("bottles.run_id IN ?", runIDs).Order("bottles.number"))
}

// BottlesOfRun lists the IDs of the bottles that a run made.
func (s *Store) BottlesOfRun(runID string) ([]string, error) {
	return ids(s.db.Model(&Bottle{}).Where("run_id = ?", runID).Order("part"), "id")
}
