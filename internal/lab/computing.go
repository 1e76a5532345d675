package lab

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// computing brings runs and bottles up to date in one transaction, for one cause, and
// follows what depends on them: from a bottle to the runs that depend on it and to the
// bottles it was poured into, from a run to what it made and to the runs that depend on
// it.
type computing struct {
	*Lab
	tx    *store.Store
	by    Actor
	cause string
	// states is the run that a fact was stated of.
	states string
	// changed are the bottles and runs that are not what they were.
	changed []node
	// moved says how the figures of bottles moved.
	moved []string
	// given is what records say of the bottles that are made while they are taken in.
	given *given
}

// node is a run or a bottle.
type node struct {
	run bool
	id  string
}

func (c *computing) change(n node) {
	if !slices.Contains(c.changed, n) {
		c.changed = append(c.changed, n)
	}
}

// follow computes again what depends on what changed, each once, after all that it
// depends on itself.
func (c *computing) follow() error {
	order, err := c.order(c.changed)
	if err != nil {
		return err
	}
	for _, n := range order {
		switch stale, err := c.stale(n); {
		case err != nil:
			return err
		case !stale:
		case n.run:
			view, err := runView(c.tx, n.id, true)
			if err != nil {
				return err
			}
			if err := c.run(&view); err != nil {
				return err
			}
		default:
			if err := c.bottle(n.id); err != nil {
				return err
			}
		}
	}
	return nil
}

// bottle computes a bottle again: from what was poured into it, or from the run that made it.
func (c *computing) bottle(id string) error {
	b, err := c.tx.BottleByID(id)
	switch {
	case err != nil:
		return err
	case b.RunID == nil:
		return c.pool(id)
	case b.State == isVoid:
		return nil
	}
	out, err := outcomeOf(c.tx, *b.RunID)
	if err != nil {
		return err
	}
	for _, p := range out.Products {
		if p.Part == b.Part {
			return c.fill(&b, p, false)
		}
	}
	return nil
}

// order lists what can be reached from some nodes, everything after what it depends on.
// Records that go round in a circle are refused.
func (c *computing) order(from []node) ([]node, error) {
	var done, doing []node
	var visit func(n node) error
	visit = func(n node) error {
		switch {
		case slices.Contains(done, n):
			return nil
		case slices.Contains(doing, n):
			return Conflict{"a bottle would be made from itself: these records go round in a circle"}
		}
		doing = append(doing, n)
		after, err := c.after(n)
		if err != nil {
			return err
		}
		for _, next := range after {
			if err := visit(next); err != nil {
				return err
			}
		}
		doing = doing[:len(doing)-1]
		done = append(done, n)
		return nil
	}
	for _, n := range slices.Clone(from) {
		if err := visit(n); err != nil {
			return nil, err
		}
	}
	slices.Reverse(done)
	return done, nil
}

// after lists what depends on a node.
func (c *computing) after(n node) ([]node, error) {
	type step struct {
		run  bool
		list func(string) ([]string, error)
	}
	steps := []step{{true, c.tx.RunsUsing}, {false, c.tx.PoolsOf}}
	if n.run {
		steps = []step{{false, c.tx.BottlesOfRun}, {true, c.tx.RunsAfter}, {false, c.tx.BottlesStandardisedBy}}
	}
	var list []node
	for _, s := range steps {
		ids, err := s.list(n.id)
		if err != nil {
			return nil, err
		}
		for _, id := range ids {
			list = append(list, node{s.run, id})
		}
	}
	return list, nil
}

// stale reports whether something that a node depends on changed.
func (c *computing) stale(n node) (bool, error) {
	has := func(run bool, id *string) bool { return id != nil && slices.Contains(c.changed, node{run, *id}) }
	if n.run {
		row, err := c.tx.RunByID(n.id, false)
		if err != nil {
			return false, err
		}
		sources, err := c.tx.SourcesOf(row)
		return slices.ContainsFunc(sources, func(s store.Source) bool { return has(false, s.BottleID) || has(true, s.EarlierID) }), err
	}
	standardising, err := c.tx.RunsThatStandardise(n.id)
	if err != nil {
		return false, err
	}
	if slices.ContainsFunc(standardising, func(id string) bool { return has(true, &id) }) {
		return true, nil
	}
	parents, err := c.tx.ParentsOf(n.id)
	return slices.ContainsFunc(parents, func(p store.Parent) bool { return p.Share != nil && has(false, &p.ParentID) }), err
}

// run computes a run from what it depends on and its facts, and keeps what it made.
func (c *computing) run(view *RunView) error {
	var err error
	if view.sources, err = c.tx.SourcesOf(view.Run); err != nil {
		return err
	}
	if err := c.renew(view); err != nil {
		return err
	}
	outcome, err := view.plan.Make(view.stated(), view.ChangedAt)
	if err != nil {
		return err
	}
	was, wasFinished := view.Status, view.Status == string(run.Finished)
	view.Status, view.Reason, view.Step, view.Outcome = string(outcome.Status), outcome.Reason, outcome.AtHand(), outcome
	if err := c.tx.Save(&view.Run); err != nil {
		return err
	}
	// What a group of a class uses was poured out for it beforehand, and what it makes does not stand on the shelf.
	if view.Beginner.Role != Group {
		if err := errors.Join(c.keep(view, wasFinished), c.draw(view), c.use(view, was == string(run.Open))); err != nil {
			return err
		}
	}
	if view.Status != was { // it may do a task of a session
		if err := c.tx.Announce(topicPlanned); err != nil {
			return err
		}
	}
	topic := "run " + view.ID
	if view.ID == c.states { // who has all its facts has it as it is
		topic = fmt.Sprintf("%s %d", topic, len(view.Facts))
	}
	return c.tx.Announce(topic, view.Plan.Kind)
}

// renew takes the figures of the sources into the plan. What is void stays in it as it
// was: all that was made from it is in doubt.
func (c *computing) renew(view *RunView) error {
	plan, err := planOf(view.Plan, view.Batch) // as it was made, wherever it is carried out
	if err != nil {
		return err
	}
	renewed, moved := false, false
	for _, s := range view.sources {
		product, err := c.product(s)
		if err != nil {
			return err
		}
		if s.Role == roleBench && product != nil {
			if moved, err = rebench(&view.Run, product); err != nil {
				return err
			}
			continue
		}
		sourced, ok := plan.(run.Sourced)
		if product == nil || !ok {
			continue
		}
		now, changed := sourced.From(s.Role, *product)
		plan, renewed = now, renewed || changed
	}
	if !renewed && !moved {
		return nil
	}
	request, err := json.Marshal(plan)
	if err != nil {
		return err
	}
	view.Plan.Request, view.Plan.Title = store.JSON(request), plan.Title()
	if view.plan, err = carriedOut(view.Run); err != nil || !renewed {
		return err
	}
	return c.tx.Save(&view.Plan)
}

// product is what a source holds now; nil of an instrument, and of what is void.
func (c *computing) product(s store.Source) (*run.Product, error) {
	switch {
	case s.BottleID != nil:
		bottle, err := c.tx.BottleByID(*s.BottleID)
		if err != nil || bottle.State == isVoid {
			return nil, err
		}
		return &bottle.Product, nil
	case s.EarlierID != nil:
		earlier, err := runView(c.tx, *s.EarlierID, false)
		if err != nil {
			return nil, err
		}
		outcome, err := earlier.plan.Make(earlier.stated(), earlier.ChangedAt)
		if err != nil || len(outcome.Products) == 0 {
			return nil, err
		}
		return &outcome.Products[0], nil
	}
	return nil, nil
}

// computations is the version of what is computed here. It goes up with each change after which the
// same facts may give another figure: then all records are computed again, once.
//
//	2: scatter of few points by Student's t, blanks, estimates; constants of tyrosine
//	3: volume and pH of a tube named by its tube
//	4: what is left in a bottle by what was taken, not by what was planned
//	5: ingredients of a buffer by the finest glass, a dilution that was typed with its uncertainty
const computations = 5

// Rebuild computes all records again when an earlier version of the program left them. It
// changes no fact. A bottle whose figure moves says so.
func (l *Lab) Rebuild(ctx context.Context) error {
	return l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		if err := tx.LockForComputing(); err != nil {
			return err
		}
		left, err := tx.UncomputedBottles()
		if err != nil {
			return err
		}
		version, err := tx.ComputedBy()
		if err != nil || left == 0 && version >= computations {
			return err
		}
		c := &computing{Lab: l, tx: tx, cause: "computed again by a newer version of the program"}
		ids, err := tx.RunIDs()
		if err != nil {
			return err
		}
		for _, id := range ids {
			view, err := runView(tx, id, true)
			if err != nil {
				return err
			}
			var p verdict.Problems
			// A run that a stricter rule of today refuses stays as it was.
			if err := c.run(&view); err != nil && !errors.As(err, &p) {
				return err
			}
		}
		pools, err := tx.Pools()
		if err != nil {
			return err
		}
		for _, id := range pools {
			var p verdict.Problems
			if err := c.pool(id); err != nil && !errors.As(err, &p) {
				return err
			}
		}
		return errors.Join(c.follow(), tx.AllComputed(computations))
	})
}
