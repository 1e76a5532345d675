package lab

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"

	"github.com/google/uuid"

	"vialbench/core/run"
	"vialbench/internal/store"
)

// draw keeps one entry for each bottle that a run took from, as its facts have it now: the bottles
// that its plan depends on, and along a chain its own.
func (c *computing) draw(view *RunView) error {
	ids := make([]string, len(view.Outcome.Drawn))
	for i, d := range view.Outcome.Drawn {
		ids[i] = takenForRun(d, view.ID)
	}
	known, err := c.tx.TakingsByID(ids)
	if err != nil {
		return err
	}
	bottles := map[string]string{}
	for _, s := range view.plan.Uses().Sources {
		bottles[s.Role] = s.Bottle
	}
	changed := map[string]store.Taking{} // by its ID
	for i, d := range view.Outcome.Drawn {
		entry, isKnown := known[ids[i]]
		if !isKnown {
			if d.Volume == 0 {
				continue
			}
			entry = store.Taking{
				ID:       ids[i],
				BottleID: bottles[d.Role],
				RunID:    &view.ID,
				Purpose:  fmt.Sprintf("run %d, %s", view.Number, run.LowerFirst(view.Plan.Title)),
				MadeBy:   view.BegunBy,
				MadeAt:   view.ChangedAt,
			}
			if d.Role == "" {
				own, err := c.tx.BottleOfRun(view.ID, d.Part)
				if err != nil && !isNotFound(err) {
					return err
				}
				entry.BottleID = own.ID
			}
			if entry.BottleID == "" { // typed instead, or not on the shelf yet
				continue
			}
		}
		if isKnown && entry.RunID == nil { // of records that do not say whose it is
			continue
		}
		before := entry.Volume
		entry.Volume = math.Round(1000*d.Volume) / 1000
		if c.given.taking(&entry) && !(isKnown && entry.Volume == before) {
			changed[entry.ID] = entry
		}
	}
	// Everybody locks bottles in one order.
	inOrder := func(a, b store.Taking) int { return cmp.Compare(a.BottleID, b.BottleID) }
	for _, entry := range slices.SortedFunc(maps.Values(changed), inOrder) {
		was, isKnown := known[entry.ID]
		if err := c.tx.Take(entry, entry.Volume-was.Volume, isKnown); err != nil {
			return err
		}
		if err := c.tx.Announce(topicPlanned); err != nil { // less is left for the sessions to come
			return err
		}
	}
	return nil
}

// takenForRun names the entry of what a run draws from one bottle, so that there is one.
func takenForRun(d run.Drawn, runID string) string {
	what := d.Role
	if what == "" {
		what = fmt.Sprint("part ", d.Part)
	}
	return uuid.NewSHA1(uuid.NameSpaceOID, []byte(what+" of run "+runID)).String()
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
