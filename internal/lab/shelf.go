package lab

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/run"
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
	// Takings, Changes and Parents are read for a single bottle only.
	Takings []store.Taking
	Changes []store.Change
	Parents []store.Bottle
	// Standardisations are those of a single bottle, the newest first.
	Standardisations []PastStandardisation
}

// Pool pours bottles of one plan together into a new one. An id that is known
// already returns the bottle that has it.
func (l *Lab) Pool(ctx context.Context, by Actor, id string, bottleIDs []string) (BottleView, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		if _, err := tx.BottleByID(id); err == nil {
			return nil
		}
		slices.Sort(bottleIDs) // everybody locks in one order
		var parts []run.Poured
		var bottles []store.Bottle
		for _, bottleID := range slices.Compact(bottleIDs) {
			b, err := lockedOnShelf(tx, bottleID)
			if err != nil {
				return err
			}
			bottles = append(bottles, b)
			parts = append(parts, run.Poured{Product: b.Product, Share: b.Left() / max(b.Volume, 1e-9)})
			if b.PlanID != bottles[0].PlanID {
				return verdict.Problems{{Field: "/bottles", Reason: "only batches of one plan are poured together: these were made for different ones"}}
			}
		}
		product, err := run.Pour(parts)
		if err != nil {
			return err
		}
		product.Title = bottles[0].Plan.Title
		pool := store.Bottle{ID: id, PlanID: bottles[0].PlanID, MadeBy: by.ID, MadeAt: l.now(), State: onShelf}
		c := &computing{Lab: l, tx: tx, by: by}
		if err := c.fill(&pool, product, true); err != nil {
			return err
		}
		if pool, err = tx.BottleByID(id); err != nil {
			return err
		}
		for i, b := range bottles {
			b.State, b.Reason = poured, fmt.Sprintf("poured into bottle %d (%s)", pool.Number, by.Initials)
			if err := errors.Join(tx.Save(&b), tx.Create(&store.Parent{BottleID: id, ParentID: b.ID, Share: &parts[i].Share})); err != nil {
				return err
			}
		}
		return tx.Announce("shelf")
	})
	if err != nil && !store.IsDuplicate(err) { // or else the same came in at the same moment
		return BottleView{}, err
	}
	return l.Bottle(ctx, id)
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
	if view.Changes, err = db.Changes(id); err != nil {
		return view, err
	}
	if view.Standardisations, err = standardisationsOf(db, id); err != nil {
		return view, err
	}
	parents, err := db.ParentsOf(id)
	for _, p := range parents {
		view.Parents = append(view.Parents, p.Parent)
	}
	return view, err
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
		children, err := db.ChildrenOf(id)
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

// parentsOf lists the bottles that a bottle was made from.
func parentsOf(db *store.Store, id string) ([]string, error) {
	parents, err := db.ParentsOf(id)
	var from []string
	for _, p := range parents {
		from = append(from, p.ParentID)
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
		return a.ExpiresOn.Compare(*b.ExpiresOn)
	})
	return l.withDoubts(db, bottles)
}

func (l *Lab) withDoubts(db *store.Store, bottles []store.Bottle) ([]BottleView, error) {
	ids := make([]string, len(bottles))
	for i, b := range bottles {
		ids[i] = b.ID
	}
	line, err := l.lineage(db, ids)
	if err != nil {
		return nil, err
	}
	views := make([]BottleView, len(bottles))
	for i, b := range bottles {
		views[i] = BottleView{Bottle: b, Doubt: line.doubtOf(b.ID, b.Product.Readings)}
	}
	return views, nil
}

// lineage is what bottles were made from, as far back as it goes, and which weighings are in doubt.
type lineage struct {
	doubts
	parents map[string][]string
	bottles map[string]store.Ancestor
	known   map[string]string // by the ID of a bottle
}

func (l *Lab) lineage(db *store.Store, of []string) (lineage, error) {
	line := lineage{known: map[string]string{}}
	var err error
	if line.doubts, err = l.doubts(db); err != nil {
		return line, err
	}
	line.parents, line.bottles, err = db.Ancestry(of)
	return line, err
}

// doubtOf says why a bottle is in doubt: by its own weighings, or else by those of
// what it was diluted from or poured together of.
func (l lineage) doubtOf(id string, readings []run.Reading) string {
	if doubt, ok := l.known[id]; ok {
		return doubt
	}
	doubt := l.of(readings)
	for _, parent := range l.parents[id] {
		if doubt != "" {
			break
		}
		doubt = l.madeFrom(l.bottles[parent])
	}
	l.known[id] = doubt
	return doubt
}

// madeFrom says why what was made from a bottle is in doubt.
func (l lineage) madeFrom(b store.Ancestor) string {
	above := l.doubtOf(b.ID, b.Readings)
	if b.State == isVoid {
		above = "it is void, " + b.Reason + "."
	}
	if above == "" {
		return ""
	}
	return fmt.Sprintf("Made from bottle %d: %s", b.Number, above)
}

// doubtOfRun says why a run is in doubt: by its own readings, or by what it depends on.
func (l *Lab) doubtOfRun(db *store.Store, v RunView) (string, error) {
	if v.sources == nil {
		var err error
		if v.sources, err = db.SourcesOf(v.Run); err != nil {
			return "", err
		}
	}
	var bottles, earlier []string
	for _, s := range v.sources {
		if s.EarlierID != nil {
			earlier = append(earlier, *s.EarlierID)
		}
		if s.BottleID != nil {
			bottles = append(bottles, *s.BottleID)
		}
	}
	return l.doubtOfAll(db, v.Outcome.Readings, bottles, earlier)
}

// doubtOfPlan says why what a plan would give is in doubt before it is begun: by the instruments at hand,
// or by what it takes from.
func (l *Lab) doubtOfPlan(db *store.Store, plan run.Plan) (string, error) {
	var readings []run.Reading
	var bottles, earlier []string
	uses := plan.Uses()
	for _, name := range uses.Instruments {
		readings = append(readings, run.Reading{Instrument: name, At: l.now()})
	}
	for _, s := range uses.Sources {
		if s.Run != "" {
			earlier = append(earlier, s.Run)
		}
		if s.Bottle != "" {
			bottles = append(bottles, s.Bottle)
		}
	}
	return l.doubtOfAll(db, readings, bottles, earlier)
}

// doubtOfAll says why what is based on some readings, bottles and earlier runs is in doubt.
func (l *Lab) doubtOfAll(db *store.Store, readings []run.Reading, from, earlier []string) (string, error) {
	doubts, err := l.doubts(db)
	if err != nil {
		return "", err
	}
	if doubt := doubts.of(readings); doubt != "" {
		return doubt, nil
	}
	for _, id := range earlier {
		if doubt, err := doubtOfEarlier(db, id); doubt != "" || err != nil {
			return doubt, err
		}
	}
	bottles, err := db.Ancestors(from)
	if err != nil || len(from) == 0 {
		return "", err
	}
	line, err := l.lineage(db, from)
	if err != nil {
		return "", err
	}
	for _, id := range from {
		if doubt := line.madeFrom(bottles[id]); doubt != "" {
			return doubt, nil
		}
	}
	return "", nil
}

// doubtOfEarlier says why the result of a run that another depends on cannot be trusted:
// it is not finished any more.
func doubtOfEarlier(db *store.Store, id string) (string, error) {
	earlier, err := db.RunByID(id, false)
	if err != nil || earlier.Status == string(run.Finished) {
		return "", err
	}
	return fmt.Sprintf(
		"It depends on run %d, %s, of which a reading was taken back or is taken again.",
		earlier.Number,
		run.LowerFirst(earlier.Plan.Title),
	), nil
}

// Discard takes a bottle off the shelf, for a reason.
func (l *Lab) Discard(ctx context.Context, by Actor, id, reason string) (BottleView, error) {
	if strings.TrimSpace(reason) == "" {
		return BottleView{}, verdict.Problems{{Field: "/reason", Reason: "say why, like “used up” or “expired”"}}
	}
	why := strings.TrimSpace(reason) + " (" + by.Initials + ")"
	err := l.change(ctx, by, func(tx *store.Store) error {
		bottle, err := lockedOnShelf(tx, id)
		if err != nil {
			if known, found := tx.BottleByID(id); found == nil && known.State == discarded && known.Reason == why {
				return nil // sent again
			}
			return err
		}
		bottle.State, bottle.Reason = discarded, why
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
	err := l.change(ctx, by, func(tx *store.Store) error {
		if known, err := tx.TakingByID(takingID); err == nil {
			if known.BottleID != id || known.Volume != mL || known.Purpose != purpose {
				return Conflict{"something else was taken under the same ID: send this again as a new entry"}
			}
			return nil
		}
		bottle, err := lockedOnShelf(tx, id)
		if err != nil {
			return err
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
		taking := store.Taking{ID: takingID, BottleID: id, Volume: mL, Purpose: purpose, MadeBy: by.ID, MadeAt: l.now()}
		return tx.Take(taking, mL, false)
	})
	if err != nil {
		return BottleView{}, err
	}
	return l.Bottle(ctx, id)
}

// LabelsPrinted notes that the labels of bottles were printed.
func (l *Lab) LabelsPrinted(ctx context.Context, by Actor, ids []string) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		if err := tx.LabelsPrinted(ids, l.now()); err != nil {
			return err
		}
		return tx.Announce("shelf")
	})
}
