package lab

import (
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"vialbench/core/run"
	"vialbench/internal/store"
)

// keep puts the products of a finished run on the shelf, or brings them up to date. A run
// that is no longer finished takes them off.
func (c *computing) keep(view *RunView, wasFinished bool) error {
	switch {
	case view.Outcome.Status == run.Finished:
	case wasFinished:
		return c.withdraw(view)
	default: // nothing was made yet
		return nil
	}
	made := map[int]string{} // by part
	for _, p := range view.Outcome.Products {
		if p.Result {
			c.change(node{run: true, id: view.ID})
			continue
		}
		bottle, err := c.tx.BottleOfRun(view.ID, p.Part)
		isNew := isNotFound(err)
		switch {
		case isNew:
			bottle = store.Bottle{
				ID:     newID(),
				RunID:  &view.ID,
				Part:   p.Part,
				PlanID: view.PlanID,
				MadeBy: c.by.ID,
				MadeAt: view.ChangedAt,
				State:  onShelf,
			}
			c.given.bottle(&bottle)
		case err != nil:
			return err
		case bottle.State == isVoid:
			bottle.State, bottle.Reason = onShelf, ""
			c.change(node{id: bottle.ID})
		}
		made[p.Part] = bottle.ID
		if err := c.fill(&bottle, p, isNew); err != nil {
			return err
		}
		if isNew {
			if err := c.parents(view, p, bottle.ID, made); err != nil {
				return err
			}
		}
	}
	return c.tx.Announce("shelf")
}

// withdraw takes what a run made off the shelf: it has lost what it rested on. What is
// thrown away does not come back.
func (c *computing) withdraw(view *RunView) error {
	c.change(node{run: true, id: view.ID}) // a result that others took is none any more
	ids, err := c.tx.BottlesOfRun(view.ID)
	if err != nil || len(ids) == 0 {
		return err
	}
	for _, id := range ids {
		bottle, err := c.tx.BottleByID(id)
		if err != nil {
			return err
		}
		if bottle.State == discarded || bottle.State == isVoid {
			continue
		}
		c.change(node{id: id})
		if bottle.State == poured { // the bottle it went into is void then
			continue
		}
		bottle.State, bottle.Reason = isVoid, "a reading that it rests on was taken back or corrected"
		if view.Outcome.Reason != "" {
			bottle.Reason = view.Outcome.Reason
		}
		if err := c.tx.Save(&bottle); err != nil {
			return err
		}
	}
	return c.tx.Announce("shelf")
}

// parents records what a new bottle was made from: another product of the run, or the
// bottles that its plan takes from.
func (c *computing) parents(view *RunView, p run.Product, id string, made map[int]string) error {
	if p.From != run.FromSources {
		return c.tx.Create(&store.Parent{BottleID: id, ParentID: made[p.From]})
	}
	sources, err := c.tx.SourcesOf(view.Run)
	if err != nil {
		return err
	}
	for _, s := range sources {
		if s.BottleID == nil {
			continue
		}
		if err := c.tx.Create(&store.Parent{BottleID: id, ParentID: *s.BottleID}); err != nil {
			return err
		}
	}
	return nil
}

// fill writes a product into its bottle and notes whether it moved.
func (c *computing) fill(b *store.Bottle, p run.Product, isNew bool) error {
	before, known := b.Product, b.Computed && !isNew
	if !isNew {
		var err error
		if p, err = c.standardised(b, p); err != nil {
			return err
		}
	}
	b.Product, b.Computed, b.Title, b.Volume = p, true, p.Title, p.Volume()
	for text, day := range map[string]**time.Time{p.Expires: &b.ExpiresOn, p.StandardiseBy: &b.StandardiseOn} {
		*day = nil
		if parsed, err := time.Parse(time.DateOnly, text); err == nil {
			*day = &parsed
		}
	}
	if isNew {
		return c.tx.Create(b)
	}
	if err := c.tx.Save(b); err != nil {
		return err
	}
	if known && same(before, p) {
		return nil
	}
	c.change(node{id: b.ID})
	moved := p.Moved(before)
	if moved == "" || !known || c.given.tells() {
		return nil
	}
	c.moved = append(c.moved, fmt.Sprintf("bottle %d, %s: %s", b.Number, p.Name, moved))
	return c.tx.Create(&store.Change{BottleID: b.ID, Moved: moved, Cause: c.cause, At: c.now()})
}

// same reports whether two products are alike in all that others take from them.
func same(a, b run.Product) bool {
	first, err1 := json.Marshal(a)
	second, err2 := json.Marshal(b)
	return errors.Join(err1, err2) == nil && string(first) == string(second)
}
