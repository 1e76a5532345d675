package lab

import (
	"errors"
	"fmt"

	"vialbench/core/run"
	"vialbench/internal/store"
)

// draw records what a run drew from the bottles that it depends on, as far as they had it.
func (c *computing) draw(view *RunView) error {
	for _, s := range view.plan.Uses().Sources {
		if s.Bottle == "" || !(s.Draws > 0) {
			continue
		}
		entry := takenForRun(s.Role, view.ID)
		if _, err := c.tx.TakingByID(entry); err == nil {
			continue
		}
		taking := store.Taking{
			ID:       entry,
			BottleID: s.Bottle,
			Purpose:  fmt.Sprintf("run %d, %s", view.Number, run.LowerFirst(view.Plan.Title)),
			MadeBy:   c.by.ID,
			MadeAt:   c.now(),
		}
		if !c.given.taking(&taking) {
			continue
		}
		bottle, err := lockedOnShelf(c.tx, s.Bottle)
		var gone Conflict
		if errors.As(err, &gone) {
			continue // discarded meanwhile: nothing is left to take from
		}
		if err != nil {
			return err
		}
		if taking.Volume == 0 {
			taking.Volume = min(s.Draws, bottle.Left())
		}
		if taking.Volume <= 0 {
			continue
		}
		bottle.Taken += taking.Volume
		if err := errors.Join(c.tx.Save(&bottle), c.tx.Create(&taking)); err != nil {
			return err
		}
	}
	return nil
}

// pool computes a bottle from what was poured into it. It is void when one of those is.
func (c *computing) pool(id string) error {
	bottle, err := c.tx.BottleByID(id)
	if err != nil {
		return err
	}
	parts, sound, err := c.pouredInto(id)
	if err != nil {
		return err
	}
	if !sound {
		if bottle.State == onShelf {
			bottle.State, bottle.Reason = isVoid, "a batch in it is void"
			c.change(node{id: id})
			return errors.Join(c.tx.Save(&bottle), c.tx.Announce("shelf"))
		}
		return nil
	}
	product, err := run.Pour(parts)
	if err != nil {
		return err
	}
	product.Title = bottle.Plan.Title
	if bottle.State == isVoid {
		bottle.State, bottle.Reason = onShelf, ""
		c.change(node{id: id})
	}
	return errors.Join(c.fill(&bottle, product, false), c.tx.Announce("shelf"))
}

// pouredInto lists what was poured into a bottle; sound is false when some of it is void.
func (c *computing) pouredInto(id string) (parts []run.Poured, sound bool, err error) {
	parents, err := c.tx.ParentsOf(id)
	if err != nil {
		return nil, false, err
	}
	sound = true
	for _, p := range parents {
		if p.Share == nil {
			continue
		}
		if p.Parent.RunID != nil {
			from, err := c.tx.RunByID(*p.Parent.RunID, false)
			if err != nil {
				return nil, false, err
			}
			sound = sound && from.Status == string(run.Finished)
		}
		sound = sound && p.Parent.State != isVoid
		parts = append(parts, run.Poured{Product: p.Parent.Product, Share: *p.Share})
	}
	return parts, sound, nil
}
