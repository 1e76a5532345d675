package lab

import (
	"context"
	"fmt"
	"reflect"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/solution"
	"vialbench/core/verdict"
	"vialbench/core/working"
	"vialbench/internal/store"
)

// CreatePlan computes and keeps a plan. What belongs to the bench and to the
// rules of the lab is taken from there, not from the request. An id that is known
// already returns the plan that has it.
func (l *Lab) CreatePlan(ctx context.Context, by Actor, id string, r solution.Request) (store.Plan, error) {
	if id == "" {
		id = newID()
	}
	var plan store.Plan
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		bench, err := tx.Bench()
		if err != nil {
			return err
		}
		if bench.Balance == nil {
			return verdict.Problems{{Field: "/balance", Reason: "there is no balance on the bench: add one in the lab setup"}}
		}
		settings, err := tx.Settings()
		if err != nil {
			return err
		}
		if r.Substance, err = substanceByKey(tx, r.Substance.Key); err != nil {
			return err
		}
		for i := range r.Also {
			if r.Also[i].Substance, err = substanceByKey(tx, r.Also[i].Substance.Key); err != nil {
				return err
			}
		}
		balances, err := tx.Balances()
		if err != nil {
			return err
		}
		glass, err := tx.Glass()
		if err != nil {
			return err
		}
		r.Balances, r.Glass = eachBalance(balances), eachItem(glass)
		r.Balance, r.WaterTemperature, r.Batch = bench.Balance.Balance, bench.WaterTemperature, 0
		r.Buoyancy, r.Thresholds = settings.Buoyancy, settings.Thresholds
		plan, err = l.keepPlan(tx, by, id, r, l.now())
		return err
	})
	return plan, err
}

func (l *Lab) keepPlan(tx *store.Store, by Actor, id string, r solution.Request, at time.Time) (store.Plan, error) {
	if plan, err := tx.PlanByID(id); err == nil {
		return plan, nil
	}
	recipe, err := solution.Plan(r)
	if err != nil {
		return store.Plan{}, err
	}
	plan := store.Plan{ID: id, Kind: store.StandardKind, Title: r.Title(), Request: r, Recipe: recipe, CreatedBy: by.ID, CreatedAt: at}
	if err := tx.Create(&plan); err != nil {
		return plan, err
	}
	return tx.PlanByID(id)
}

// Plan returns a plan.
func (l *Lab) Plan(ctx context.Context, id string) (store.Plan, error) {
	plan, err := l.store.With(ctx).PlanByID(id)
	return plan, found(err, "this plan")
}

// Plans lists plans, newest first.
func (l *Lab) Plans(ctx context.Context, cursor int64) (Page[store.Plan], error) {
	plans, err := l.store.With(ctx).Plans(before(cursor), pageSize+1)
	return cut(plans, func(p store.Plan) int64 { return p.Number }), err
}

// RunView is a run with its facts and the bottle it made, if any.
type RunView struct {
	store.Run
	Facts    []store.Fact
	BottleID string
	// Batches tells how far each batch of the plan is, when it has several.
	Batches []BatchState
	// Doubt says why the weighings are in doubt; empty when they are not.
	Doubt string
}

// BatchState is how far one batch of a plan is. RunID is empty before it is begun.
type BatchState struct {
	RunID, BottleID, Status string
}

func (v RunView) stated() []fact.Fact {
	facts := make([]fact.Fact, len(v.Facts))
	for i, f := range v.Facts {
		facts[i] = f.Body
	}
	return facts
}

// BeginRun begins a run of a plan. A known id returns the run that has it.
func (l *Lab) BeginRun(ctx context.Context, by Actor, id, planID string, batch int) (RunView, error) {
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		if _, err := tx.RunByID(id, false); err == nil {
			return nil
		}
		plan, err := tx.PlanByID(planID)
		if err != nil {
			return found(err, "this plan")
		}
		return l.beginRun(tx, by, id, plan, batch, l.now())
	})
	if err != nil {
		return RunView{}, err
	}
	return l.Run(ctx, id)
}

func (l *Lab) beginRun(tx *store.Store, by Actor, id string, plan store.Plan, batch int, at time.Time) error {
	if batch < 0 || batch > 0 && batch >= len(plan.Recipe.Batches) {
		return verdict.Problems{{Field: "/batch", Reason: fmt.Sprintf("the plan has %d batches", max(1, len(plan.Recipe.Batches)))}}
	}
	outcome, err := sheetOf(store.Run{Plan: plan, Batch: batch}).Make(nil, at)
	if err != nil {
		return err
	}
	run := store.Run{ID: id, PlanID: plan.ID, Batch: batch, Status: string(outcome.Status), Step: stepAtHand(outcome), Outcome: outcome,
		BegunBy: by.ID, BegunAt: at, ChangedAt: at}
	if err := tx.Create(&run); err != nil {
		return err
	}
	return tx.Announce("run " + id)
}

// Run returns a run. Its outcome is computed anew: the proposals that depend on
// the day (the expiry) are those of today.
func (l *Lab) Run(ctx context.Context, id string) (RunView, error) {
	view, err := runView(l.store.With(ctx), id, false)
	if err != nil {
		return view, err
	}
	if view.Outcome, err = sheetOf(view.Run).Make(view.stated(), l.now()); err != nil {
		return view, err
	}
	db := l.store.With(ctx)
	doubts, err := l.doubts(db)
	if err != nil {
		return view, err
	}
	view.Doubt = doubts.of(view.Plan, view.Outcome.Weighed)
	if n := len(view.Plan.Recipe.Batches); n > 1 {
		view.Batches, err = batchStates(db, view.PlanID, n)
	}
	return view, err
}

// batchStates finds, for each batch of a plan, its newest run that is not void.
func batchStates(db *store.Store, planID string, n int) ([]BatchState, error) {
	runs, err := db.RunsOfPlan(planID)
	if err != nil {
		return nil, err
	}
	bottles, err := db.BottlesOfPlan(planID)
	if err != nil {
		return nil, err
	}
	states := make([]BatchState, n)
	for _, r := range runs {
		if r.Status == string(run.Void) || r.Batch >= n {
			continue
		}
		states[r.Batch] = BatchState{RunID: r.ID, Status: r.Status}
		for _, b := range bottles {
			if *b.RunID == r.ID && b.State == onShelf {
				states[r.Batch].BottleID = b.ID
			}
		}
	}
	return states, nil
}

func runView(db *store.Store, id string, forChange bool) (RunView, error) {
	run, err := db.RunByID(id, forChange)
	if err != nil {
		return RunView{}, found(err, "this run")
	}
	view := RunView{Run: run}
	if view.Facts, err = db.FactsOfRun(id); err != nil {
		return view, err
	}
	if bottle, err := db.BottleOfRun(id, 0); err == nil {
		view.BottleID = bottle.ID
	} else if !isNotFound(err) {
		return view, err
	}
	return view, nil
}

// Runs lists runs, newest first, of one status or all.
func (l *Lab) Runs(ctx context.Context, status string, cursor int64) (Page[store.Run], error) {
	runs, err := l.store.With(ctx).Runs(status, before(cursor), pageSize+1)
	return cut(runs, func(r store.Run) int64 { return r.Number }), err
}

// StateFact adds a fact to a run. A fact that is known already changes nothing.
// seen, when given, is the number of facts the sender knew; when there are more
// by now the fact is refused with a Conflict that says what came in between.
func (l *Lab) StateFact(ctx context.Context, by Actor, runID string, f fact.Fact, seen *int) (RunView, error) {
	f.By = by.Initials
	if now := l.now(); f.At.IsZero() || f.At.After(now) {
		f.At = now
	}
	f.At = f.At.UTC().Truncate(time.Microsecond)
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		view, err := runView(tx, runID, true)
		if err != nil {
			return err
		}
		known, err := l.alreadyStated(tx, runID, f)
		if known || err != nil {
			return err
		}
		if seen != nil && *seen != len(view.Facts) && *seen >= 0 {
			return Conflict{sinceThen(view.Facts, *seen)}
		}
		return l.record(tx, by, &view, f)
	})
	if err != nil {
		return RunView{}, err
	}
	return l.Run(ctx, runID)
}

// alreadyStated tells whether a fact of this ID is stored; one that says
// something else under the same ID is a Conflict.
func (l *Lab) alreadyStated(tx *store.Store, runID string, f fact.Fact) (bool, error) {
	old, err := tx.FactByID(f.ID)
	if err != nil {
		if isNotFound(err) {
			err = nil
		}
		return false, err
	}
	was := old.Body
	was.At, was.By, f.At, f.By = time.Time{}, "", time.Time{}, ""
	if old.RunID != runID || !reflect.DeepEqual(was, f) {
		return true, Conflict{"another reading was recorded under this mark: send it again as a new one"}
	}
	return true, nil
}

func sinceThen(facts []store.Fact, seen int) string {
	if seen > len(facts) {
		return "this run looks different by now: look at it, then go on"
	}
	var news []string
	for _, f := range facts[seen:] {
		news = append(news, f.Maker.Initials+": "+f.Sentence)
	}
	return "somebody was faster. " + strings.Join(news, "; ") + ". Look, then record yours if it still applies"
}

// record admits a fact, stores it and brings run and bottle up to date.
func (l *Lab) record(tx *store.Store, by Actor, view *RunView, f fact.Fact) error {
	facts, kind := view.stated(), sheetOf(view.Run)
	if err := kind.Admit(facts, f, f.At); err != nil {
		return err
	}
	row := store.Fact{ID: f.ID, RunID: view.ID, Kind: f.Kind, Body: f, Sentence: kind.Sentence(f), MadeBy: by.ID, Maker: by.Account,
		MadeAt: f.At, RecordedAt: l.now(), Reason: f.Reason}
	if f.Replaces != "" {
		row.Replaces = &f.Replaces
	}
	if err := tx.Create(&row); err != nil {
		if store.IsDuplicate(err) {
			return Conflict{"this reading was corrected already: look at the newest one"}
		}
		return err
	}
	view.Facts, view.ChangedAt = append(view.Facts, row), f.At
	return l.bringUpToDate(tx, by, view)
}

// bringUpToDate computes a run from its facts, and what it put on the shelf.
func (l *Lab) bringUpToDate(tx *store.Store, by Actor, view *RunView) error {
	outcome, err := sheetOf(view.Run).Make(view.stated(), view.ChangedAt)
	if err != nil {
		return err
	}
	view.Status, view.Reason, view.Step, view.Outcome = string(outcome.Status), outcome.Reason, stepAtHand(outcome), outcome
	if err := tx.Save(&view.Run); err != nil {
		return err
	}
	if err := l.keepBottles(tx, by, *view); err != nil {
		return err
	}
	return tx.Announce("run " + view.ID)
}

func stepAtHand(o run.Outcome) string {
	for _, s := range o.Steps {
		if s.State == run.Now {
			return s.Title
		}
	}
	return ""
}

// Working explains a figure of a run.
func (l *Lab) Working(ctx context.Context, runID, figure string) ([]working.Line, error) {
	view, err := runView(l.store.With(ctx), runID, false)
	if err != nil {
		return nil, err
	}
	return sheetOf(view.Run).Explain(view.stated(), figure)
}

// Today is what is going on.
type Today struct {
	Open, Recent []store.Run
	// Expiring and Standardise are the bottles whose day has come or is near.
	Expiring, Standardise []BottleView
	Bottles               int64
}

// How far ahead Today looks, and how many finished runs it shows.
const (
	expiryOutlook      = 14 * 24 * time.Hour
	standardiseOutlook = 2 * 24 * time.Hour
	recentRuns         = 6
)

// Today gathers what is going on and what to do next.
func (l *Lab) Today(ctx context.Context) (t Today, err error) {
	db := l.store.With(ctx)
	if t.Open, err = db.Runs(string(run.Open), fromStart, pageSize); err != nil {
		return t, err
	}
	latest, err := db.Runs("", fromStart, pageSize)
	if err != nil {
		return t, err
	}
	for _, r := range latest {
		if r.Status != string(run.Open) && len(t.Recent) < recentRuns {
			t.Recent = append(t.Recent, r)
		}
	}
	soon := l.now().Add(expiryOutlook)
	if t.Expiring, err = l.shelved(db, store.ShelfFilter{ExpiringBefore: soon}); err != nil {
		return t, err
	}
	if t.Standardise, err = l.shelved(db, store.ShelfFilter{StandardiseBefore: l.now().Add(standardiseOutlook)}); err != nil {
		return t, err
	}
	t.Bottles, err = db.CountBottles()
	return t, err
}
