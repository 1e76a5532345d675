package lab

import (
	"errors"
	"fmt"
	"slices"

	"vialbench/internal/store"
)

// product names a bottle by the run that made it.
type product struct {
	run  string
	part int
}

// given is what records say of bottles that are computed from their runs.
type given struct {
	bottles map[product]BottleRecord
	pools   map[string]BottleRecord
	takings map[string]TakingRecord
	people  map[string]Actor
}

// tells reports whether the records say what became of bottles; those of former formats did
// not.
func (g *given) tells() bool { return g != nil && len(g.bottles)+len(g.pools) > 0 }

// bottle puts what is given of a new bottle into it.
func (g *given) bottle(b *store.Bottle) {
	if g == nil || b.RunID == nil {
		return
	}
	if r, ok := g.bottles[product{*b.RunID, b.Part}]; ok {
		b.ID, b.Number, b.MadeAt = r.ID, r.Number, r.At
		if by, ok := g.people[r.By]; ok {
			b.MadeBy = by.ID
		}
	}
}

// taking puts what is given of what a run drew into it; ok is false when the run drew
// nothing, by what is given.
func (g *given) taking(t *store.Taking) (ok bool) {
	if !g.tells() {
		return true
	}
	r, ok := g.takings[t.ID]
	if ok {
		t.Seq, t.Volume, t.Purpose, t.MadeAt = r.Seq, r.Volume, r.Purpose, r.At
		if by, known := g.people[r.By]; known {
			t.MadeBy = by.ID
		}
	}
	return ok
}

// makePool pours together what a record says was.
func (in *importer) makePool(id string) error {
	r, ok := in.given.pools[id]
	if !ok {
		return nil
	}
	delete(in.given.pools, id)
	if _, err := in.tx.BottleByID(id); err == nil {
		return nil
	}
	by, ok := in.person("/bottles", r.By)
	if !ok {
		return nil
	}
	for _, from := range r.From {
		if err := in.makePool(from.Bottle); err != nil {
			return err
		}
		if _, err := in.tx.BottleByID(from.Bottle); err != nil {
			if isNotFound(err) {
				in.problems.Add("/bottles", "bottle %d was poured together of %s, and that is not here", r.Number, from.Bottle)
				err = nil
			}
			return err
		}
	}
	row := store.Bottle{ID: id, Number: r.Number, PlanID: r.Plan, MadeBy: by.ID, MadeAt: r.At, State: onShelf}
	c := &computing{Lab: in.Lab, tx: in.tx, by: by, given: in.given}
	if r.Product != nil {
		return errors.Join(c.fill(&row, *r.Product, true), in.parents(r))
	}
	row.Computed = true
	if err := errors.Join(in.tx.Create(&row), in.parents(r)); err != nil {
		return err
	}
	return c.pool(id)
}

func (in *importer) parents(r BottleRecord) error {
	for _, from := range r.From {
		if err := in.tx.Create(&store.Parent{BottleID: r.ID, ParentID: from.Bottle, Share: from.Share}); err != nil {
			return err
		}
	}
	return nil
}

// settle brings a bottle to where the record leaves it. One that is known is left as it is.
func (in *importer) settle(place string, r BottleRecord) (isNew bool, err error) {
	b, err := in.tx.BottleByID(r.ID)
	switch {
	case isNotFound(err) && r.Product != nil: // its run does not make it any more
		by, ok := in.person(place, r.By)
		if !ok {
			return false, nil
		}
		b = store.Bottle{
			ID: r.ID, Number: in.given.bottles[product{r.Run, r.Part}].Number, RunID: &r.Run, Part: r.Part, PlanID: r.Plan,
			MadeBy: by.ID, MadeAt: r.At, State: onShelf,
		}
		c := &computing{Lab: in.Lab, tx: in.tx, by: by}
		if err := errors.Join(c.fill(&b, *r.Product, true), in.parents(r)); err != nil {
			return false, err
		}
	case isNotFound(err):
		in.problems.Add(place, "its run makes no such bottle")
		return false, nil
	case err != nil:
		return false, err
	case !in.isNew(b):
		if in.report.Known++; b.State != r.State {
			in.note("bottle %d: %s in the file, %s here; left as it is here", b.Number, r.State, b.State)
		}
		return false, nil
	}
	if !in.fresh && r.Number != b.Number && r.Number != 0 {
		in.note("bottle %d of the file is bottle %d here; its label still leads to it", r.Number, b.Number)
	}
	if !slices.Contains([]string{onShelf, discarded, isVoid, poured}, r.State) {
		in.problems.Add(place+"/state", "a bottle is on the shelf, discarded, void or poured, not “%s”", r.State)
		return false, nil
	}
	b.State, b.Reason, b.LabelPrintedAt = r.State, r.Reason, r.Printed
	return true, in.tx.Save(&b)
}

// isNew reports whether a bottle came with these records.
func (in *importer) isNew(b store.Bottle) bool {
	if b.RunID == nil {
		return !slices.Contains(in.oldBottles, b.ID)
	}
	return slices.Contains(in.newRuns, *b.RunID)
}

// takeTaking records what was taken, unless its run has drawn it.
func (in *importer) takeTaking(place string, t TakingRecord) error {
	known, err := in.tx.TakingByID(t.ID)
	if err == nil {
		if known.BottleID != t.Bottle || known.Volume != t.Volume || known.Purpose != t.Purpose {
			in.problems.Add(place, "another taking is on record here under this ID")
		}
		return nil
	}
	by, ok := in.person(place, t.By)
	if !ok || !in.isID(place+"/id", t.ID) {
		return nil
	}
	_, err = in.tx.BottleByID(t.Bottle)
	if isNotFound(err) {
		in.problems.Add(place+"/bottle", "there is no bottle %s", t.Bottle)
		return nil
	}
	if err != nil {
		return err
	}
	if t.Run != nil {
		if _, err := in.tx.RunByID(*t.Run, false); err != nil {
			in.problems.Add(place+"/run", "there is no run %s", *t.Run)
			return nil
		}
	}
	row := store.Taking{
		ID:       t.ID,
		Seq:      in.given.takings[t.ID].Seq,
		BottleID: t.Bottle,
		RunID:    t.Run,
		Volume:   t.Volume,
		Purpose:  t.Purpose,
		MadeBy:   by.ID,
		MadeAt:   t.At,
	}
	return in.tx.Take(row, t.Volume, false)
}

// source finds the bottle that a record takes from; one without an ID is not here.
func (in *importer) source(s SourceRecord) (bottle store.Bottle, err error) {
	switch {
	case s.Bottle != "" && isUUID(s.Bottle):
		if err := in.makePool(s.Bottle); err != nil {
			return bottle, err
		}
		bottle, err = in.tx.BottleByID(s.Bottle)
	case isUUID(s.Run):
		bottle, err = in.tx.BottleOfRun(s.Run, s.Part)
	default:
		return bottle, nil
	}
	if isNotFound(err) {
		return store.Bottle{}, nil
	}
	return bottle, err
}

// takeGiven notes what the records say of bottles and takings, before their runs make them.
func (in *importer) takeGiven(r Records) error {
	in.given = &given{
		bottles: map[product]BottleRecord{},
		pools:   map[string]BottleRecord{},
		takings: map[string]TakingRecord{},
		people:  in.people,
	}
	for i, b := range r.Bottles {
		if !in.isID(fmt.Sprintf("/bottles/%d/id", i), b.ID) {
			continue
		}
		here, err := in.tx.BottleByID(b.ID)
		if err != nil && !isNotFound(err) {
			return err
		}
		if err == nil && (here.PlanID != b.Plan || here.Part != b.Part || runOf(here) != b.Run) {
			in.problems.Add(fmt.Sprintf("/bottles/%d", i), "another bottle, number %d, is here under this ID", here.Number)
			continue
		}
		if !in.fresh {
			b.Number = 0
		}
		if b.Run == "" {
			in.given.pools[b.ID] = b
		} else {
			in.given.bottles[product{b.Run, b.Part}] = b
		}
	}
	for _, t := range r.Takings {
		if !in.fresh {
			t.Seq = 0
		}
		in.given.takings[t.ID] = t
	}
	return nil
}

// runOf is the ID of the run that made a bottle; empty of what was poured together.
func runOf(b store.Bottle) string {
	if b.RunID == nil {
		return ""
	}
	return *b.RunID
}
