package lab

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/solution"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// The states of a bottle.
const (
	onShelf   = "shelf"
	discarded = "discarded"
	isVoid    = "void"
	poured    = "poured" // together with others, into another bottle
)

// BottleView is a bottle with what else is known of it.
type BottleView struct {
	store.Bottle
	// Doubt says why its weighings are in doubt; empty when they are not.
	Doubt string
	// Takings and Parents are read for a single bottle only.
	Takings []store.Taking
	Parents []store.Bottle
}

// keepBottles makes what a finished run puts on the shelf, or brings it up to date.
func (l *Lab) keepBottles(tx *store.Store, by Actor, view RunView) error {
	if view.Plan.Kind == store.DilutionKind {
		return l.keepRack(tx, by, view)
	}
	title := view.Plan.Title
	if n := len(view.Plan.Recipe.Batches); n > 1 {
		title += fmt.Sprintf(", batch %d of %d", view.Batch+1, n)
	}
	_, err := l.keepBottle(tx, by, view, 0, title, nil)
	return err
}

// keepBottle makes the bottle of a finished run, or of one tube of it, or brings it up
// to date after a correction. A run that is no longer finished takes its bottle off
// the shelf. The ID is empty when there is none.
func (l *Lab) keepBottle(tx *store.Store, by Actor, view RunView, part int, title string, parent *string) (string, error) {
	bottle, err := tx.BottleOfRun(view.ID, part)
	known := err == nil
	if !known && !isNotFound(err) {
		return "", err
	}
	o := view.Outcome
	switch {
	case o.Status != run.Finished:
		if !known || bottle.State == discarded {
			return "", nil // what is thrown away does not come back
		}
		bottle.Reason = "a reading of its run was corrected"
		if o.Reason != "" {
			bottle.Reason = o.Reason
		}
		if bottle.Outcome = o; bottle.State != poured {
			bottle.State = isVoid
		}
	case !known:
		bottle = store.Bottle{ID: newID(), RunID: &view.ID, Part: part, ParentID: parent, PlanID: view.PlanID, MadeBy: by.ID, MadeAt: view.ChangedAt, State: onShelf}
	case bottle.State == isVoid:
		bottle.State, bottle.Reason = onShelf, ""
	}
	if o.Status == run.Finished {
		bottle.Title = title
		if err := fill(&bottle, o); err != nil {
			return "", err
		}
	}
	if known {
		err = tx.Save(&bottle)
	} else {
		err = tx.Create(&bottle)
	}
	if err == nil && bottle.State == poured {
		err = l.refreshPool(tx, by, bottle.ID)
	}
	if err == nil && known {
		err = l.refreshDiluted(tx, by, bottle)
	}
	if err != nil {
		return "", err
	}
	return bottle.ID, tx.Announce("shelf")
}

// BottleHazards gives the hazard codes and the signal word of what a bottle was made
// from.
func BottleHazards(b store.Bottle) (codes []string, signal string) {
	if b.Plan.Kind == store.DilutionKind {
		return b.Plan.Dilution.Stock.Hazards, b.Plan.Dilution.Stock.Signal
	}
	codes, signal = b.Plan.Request.Substance.Hazards, b.Plan.Request.Substance.Signal
	for _, s := range b.Plan.Request.Also {
		for _, code := range s.Substance.Hazards {
			if !slices.Contains(codes, code) {
				codes = append(slices.Clip(codes), code)
			}
		}
		if s.Substance.Signal == "Danger" || signal == "" {
			signal = s.Substance.Signal
		}
	}
	return codes, signal
}

// BottleContents names what is in a bottle.
func BottleContents(b store.Bottle) (name string, pieces []formula.Piece) {
	if b.Plan.Kind == store.DilutionKind {
		return b.Plan.Dilution.Stock.Name, b.Plan.Dilution.Stock.Formula
	}
	name = b.Plan.Request.Substance.Dissolved()
	for _, s := range b.Plan.Request.Also {
		name += " + " + s.Substance.Dissolved()
	}
	return name, b.Plan.Recipe.Formula
}

// fill writes an outcome into its bottle.
func fill(b *store.Bottle, o run.Outcome) (err error) {
	if b.ExpiresOn, err = time.Parse(time.DateOnly, o.Expires); err != nil {
		return fmt.Errorf("the expiry of a finished run: %w", err)
	}
	b.StandardiseOn = nil
	if day, err := time.Parse(time.DateOnly, o.StandardiseBy); err == nil {
		b.StandardiseOn = &day
	}
	c := o.Figures[0]
	b.Concentration, b.U, b.Unit, b.Outcome, b.Volume = c.Value, c.U(), c.Unit, o, o.Volume
	return nil
}

// Pool pours bottles of one plan together into a new one. An id that is known
// already returns the bottle that has it.
func (l *Lab) Pool(ctx context.Context, by Actor, id string, bottleIDs []string) (BottleView, error) {
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		if _, err := tx.BottleByID(id); err == nil {
			return nil
		}
		slices.Sort(bottleIDs) // everybody locks in one order
		var batches []solution.Poured
		var bottles []store.Bottle
		for _, bottleID := range slices.Compact(bottleIDs) {
			b, err := lockedOnShelf(tx, bottleID)
			if err != nil {
				return err
			}
			bottles = append(bottles, b)
			batches = append(batches, solution.Poured{Outcome: b.Outcome, Share: b.Left() / b.Volume})
			if b.PlanID != bottles[0].PlanID {
				return verdict.Problems{{Field: "/bottles", Reason: "only batches of one plan are poured together: these were made for different ones"}}
			}
		}
		outcome, err := solution.Pool(batches)
		if err != nil {
			return err
		}
		pool := store.Bottle{ID: id, PlanID: bottles[0].PlanID, Title: bottles[0].Plan.Title, MadeBy: by.ID, MadeAt: l.now(), State: onShelf}
		if err := fill(&pool, outcome); err != nil {
			return err
		}
		if err := tx.Create(&pool); err != nil {
			return err
		}
		if pool, err = tx.BottleByID(id); err != nil {
			return err
		}
		for i, b := range bottles {
			b.State, b.Reason = poured, fmt.Sprintf("poured into bottle %d (%s)", pool.Number, by.Initials)
			if err := tx.Save(&b); err != nil {
				return err
			}
			if err := tx.Create(&store.Pouring{FromID: b.ID, IntoID: id, Share: batches[i].Share}); err != nil {
				return err
			}
		}
		return tx.Announce("shelf")
	})
	if err != nil {
		return BottleView{}, err
	}
	return l.Bottle(ctx, id)
}

// refreshPool brings the bottle that a batch was poured into up to date.
func (l *Lab) refreshPool(tx *store.Store, by Actor, batchID string) error {
	into, err := tx.PouredFrom(batchID)
	if err != nil {
		return err
	}
	pool, err := tx.BottleByID(into.IntoID)
	if err != nil {
		return err
	}
	parts, err := tx.PouredInto(pool.ID)
	if err != nil {
		return err
	}
	batches := make([]solution.Poured, len(parts))
	for i, p := range parts {
		batches[i] = solution.Poured{Outcome: p.From.Outcome, Share: p.Share}
	}
	outcome, err := solution.Pool(batches)
	switch {
	case err == nil:
		if pool.State == isVoid {
			pool.State, pool.Reason = onShelf, ""
		}
		err = fill(&pool, outcome)
	case pool.State == onShelf:
		pool.State, pool.Reason, err = isVoid, "a batch in it is void", nil
	default:
		err = nil
	}
	if err != nil {
		return err
	}
	if err := tx.Save(&pool); err != nil {
		return err
	}
	return l.refreshDiluted(tx, by, pool)
}

// lockedOnShelf finds a bottle that stands on the shelf, for a change.
func lockedOnShelf(tx *store.Store, id string) (store.Bottle, error) {
	if err := tx.LockBottle(id); err != nil {
		return store.Bottle{}, found(err, "this bottle")
	}
	b, err := tx.BottleByID(id)
	if err != nil {
		return b, err
	}
	if b.State != onShelf {
		return b, Conflict{"this bottle is not on the shelf any more (" + b.Reason + ")"}
	}
	return b, nil
}

// Bottle returns a bottle with what was taken out of it and poured into it.
func (l *Lab) Bottle(ctx context.Context, id string) (BottleView, error) {
	db := l.store.With(ctx)
	bottle, err := db.BottleByID(id)
	if err != nil {
		return BottleView{}, found(err, "this bottle")
	}
	views, err := l.withDoubts(db, []store.Bottle{bottle})
	if err != nil {
		return BottleView{}, err
	}
	view := views[0]
	if view.Takings, err = db.Takings(id); err != nil {
		return view, err
	}
	parts, err := db.PouredInto(id)
	if err != nil {
		return view, err
	}
	for _, p := range parts {
		view.Parents = append(view.Parents, p.From)
	}
	if bottle.ParentID != nil {
		parent, err := db.BottleByID(*bottle.ParentID)
		if err != nil {
			return view, err
		}
		view.Parents = append(view.Parents, parent)
	}
	return view, nil
}

// Kin is one bottle in a family, with those it comes from.
type Kin struct {
	store.Bottle
	From []string
}

// maxKin bounds a family.
const maxKin = 200

// Family gathers the bottles that a bottle comes from, and all that came from those,
// parents before children.
func (l *Lab) Family(ctx context.Context, id string) ([]Kin, error) {
	db := l.store.With(ctx)
	seen := map[string]bool{}
	var list []Kin
	var down func(id string) error
	down = func(id string) error {
		if seen[id] || len(list) >= maxKin {
			return nil
		}
		from, err := parentsOf(db, id)
		if err != nil {
			return err
		}
		for _, parent := range from { // whatever was poured in stands before
			if err := down(parent); err != nil || seen[id] {
				return err
			}
		}
		seen[id] = true
		bottle, err := db.BottleByID(id)
		if err != nil {
			return found(err, "this bottle")
		}
		list = append(list, Kin{bottle, from})
		children, err := db.DilutedFrom(id)
		if err != nil {
			return err
		}
		for _, child := range children {
			if err := down(child.ID); err != nil {
				return err
			}
		}
		return nil
	}
	return list, down(id)
}

// parentsOf lists the bottles that a bottle was diluted from or poured together of.
func parentsOf(db *store.Store, id string) ([]string, error) {
	bottle, err := db.BottleByID(id)
	if err != nil {
		return nil, found(err, "this bottle")
	}
	var from []string
	if bottle.ParentID != nil {
		from = append(from, *bottle.ParentID)
	}
	parts, err := db.PouredInto(id)
	for _, p := range parts {
		from = append(from, p.FromID)
	}
	return from, err
}

// Shelf says which bottles to list.
type Shelf struct {
	Text string
	// Only is empty, or one of the filters.
	Only string
}

// The filters of the shelf, and what counts as little left.
const (
	OnlyExpiring    = "expiring"
	OnlyStandardise = "standardise"
	OnlyUnlabelled  = "unlabelled"
	OnlyLow         = "low"
	littleLeft      = 0.2
)

// Bottles lists bottles, newest first.
func (l *Lab) Bottles(ctx context.Context, shelf Shelf, cursor int64) (Page[BottleView], error) {
	db := l.store.With(ctx)
	f := store.ShelfFilter{Text: strings.TrimSpace(shelf.Text)}
	switch shelf.Only {
	case OnlyExpiring:
		f.ExpiringBefore = l.now().Add(expiryOutlook)
	case OnlyStandardise:
		f.StandardiseBefore = l.now().Add(standardiseOutlook)
	case OnlyUnlabelled:
		f.Unlabelled = true
	case OnlyLow:
		f.Low = littleLeft
	}
	bottles, err := db.Bottles(f, before(cursor), pageSize+1)
	if err != nil {
		return Page[BottleView]{}, err
	}
	views, err := l.withDoubts(db, bottles)
	return cut(views, func(b BottleView) int64 { return b.Number }), err
}

// shelved lists the bottles of a filter without pages, the nearest day first.
func (l *Lab) shelved(db *store.Store, f store.ShelfFilter) ([]BottleView, error) {
	bottles, err := db.Bottles(f, fromStart, pageSize)
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(bottles, func(a, b store.Bottle) int {
		if !f.StandardiseBefore.IsZero() {
			return a.StandardiseOn.Compare(*b.StandardiseOn)
		}
		return a.ExpiresOn.Compare(b.ExpiresOn)
	})
	return l.withDoubts(db, bottles)
}

func (l *Lab) withDoubts(db *store.Store, bottles []store.Bottle) ([]BottleView, error) {
	doubts, err := l.doubts(db)
	if err != nil {
		return nil, err
	}
	known := map[string]string{} // by the ID of a bottle
	views := make([]BottleView, len(bottles))
	for i, b := range bottles {
		views[i].Bottle = b
		if views[i].Doubt, err = doubts.inherited(db, b, known); err != nil {
			return nil, err
		}
	}
	return views, nil
}

// inherited says why a bottle is in doubt: by its own weighings, or else by those of
// what it was diluted from or poured together of.
func (d doubts) inherited(db *store.Store, b store.Bottle, known map[string]string) (string, error) {
	if doubt, ok := known[b.ID]; ok {
		return doubt, nil
	}
	doubt := d.of(b.Plan, b.Outcome.Weighed)
	known[b.ID] = doubt
	if doubt != "" || b.RunID != nil && b.ParentID == nil { // made of no other bottle
		return doubt, nil
	}
	parents, err := parentsOf(db, b.ID)
	if err != nil {
		return "", err
	}
	for _, id := range parents {
		parent, err := db.BottleByID(id)
		if err != nil {
			return "", err
		}
		above, err := d.inherited(db, parent, known)
		if err != nil {
			return "", err
		}
		if parent.State == isVoid {
			above = "that is void, " + parent.Reason + "."
		}
		if above != "" {
			known[b.ID] = fmt.Sprintf("Made from bottle %d: %s", parent.Number, above)
			break
		}
	}
	return known[b.ID], nil
}

// Discard takes a bottle off the shelf, for a reason.
func (l *Lab) Discard(ctx context.Context, by Actor, id, reason string) (BottleView, error) {
	if strings.TrimSpace(reason) == "" {
		return BottleView{}, verdict.Problems{{Field: "/reason", Reason: "say why, like “used up” or “expired”"}}
	}
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		bottle, err := lockedOnShelf(tx, id)
		if err != nil {
			return err
		}
		bottle.State, bottle.Reason = discarded, strings.TrimSpace(reason)+" ("+by.Initials+")"
		if err := tx.Save(&bottle); err != nil {
			return err
		}
		return tx.Announce("shelf")
	})
	if err != nil {
		return BottleView{}, err
	}
	return l.Bottle(ctx, id)
}

// TakeFrom records that so many mL were taken out of a bottle. A negative volume
// puts a slip right. An id that is known already changes nothing.
func (l *Lab) TakeFrom(ctx context.Context, by Actor, id, takingID string, mL float64, purpose string) (BottleView, error) {
	purpose = strings.TrimSpace(purpose)
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		bottle, err := lockedOnShelf(tx, id)
		if err != nil {
			return err
		}
		if _, err := tx.TakingByID(takingID); err == nil {
			return nil
		}
		var p verdict.Problems
		switch {
		case mL == 0:
			p.Add("/volume", "the volume taken is above zero; a negative one puts a slip right")
		case mL > bottle.Left()*(1+1e-9):
			p.Add("/volume", "only %s mL are left: record what was taken, up to that", quantity.Digits(bottle.Left(), 1))
		case bottle.Taken+mL < -1e-9:
			p.Add("/volume", "only %s mL were taken so far: no more than that can be put right", quantity.Digits(bottle.Taken, 1))
		}
		if purpose == "" {
			p.Add("/purpose", "say what for, like “group 3” or “misread: 25 mL, not 50”")
		}
		if len(p) > 0 {
			return p
		}
		if err := tx.Create(&store.Taking{ID: takingID, BottleID: id, Volume: mL, Purpose: purpose, MadeBy: by.ID, MadeAt: l.now()}); err != nil {
			return err
		}
		bottle.Taken += mL
		if err := tx.Save(&bottle); err != nil {
			return err
		}
		return tx.Announce("shelf")
	})
	if err != nil {
		return BottleView{}, err
	}
	return l.Bottle(ctx, id)
}

// LabelsPrinted notes that the labels of bottles were printed.
func (l *Lab) LabelsPrinted(ctx context.Context, ids []string) error {
	return l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		if err := tx.LabelsPrinted(ids, l.now()); err != nil {
			return err
		}
		return tx.Announce("shelf")
	})
}
