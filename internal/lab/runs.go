package lab

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"vialbench/core/benchtop"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/work"
	"vialbench/core/working"
	"vialbench/internal/store"
)

// RunView is a run with its facts and what it made.
type RunView struct {
	store.Run
	// Design is what its plan gives, Outcome what the facts amount to.
	Design  any
	Outcome run.Outcome
	Facts   []store.Fact
	// Bottles are the IDs of what it put on the shelf, by part.
	Bottles []string
	// Batches tells how far each batch of the plan is, when it has several.
	Batches []BatchState
	// Doubt says why its readings are in doubt; empty when they are not.
	Doubt string
	// Thresholds are the lab's, for what is late.
	Thresholds verdict.Thresholds
	// Needs is what a preview will take from the shelf.
	Needs []Need
	// Hides is what is kept from who looks.
	Hides run.Hidden
	// Moved says what else the fact just stated moved on the shelf.
	Moved []string

	plan run.Plan
	// sources are what it depends on, once they were read.
	sources []store.Source
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
	return l.BeginTask(ctx, by, id, planID, batch, nil)
}

// BeginTask is [Lab.BeginRun] of a run that does a task of a session.
func (l *Lab) BeginTask(ctx context.Context, by Actor, id, planID string, batch int, of *TaskOf) (RunView, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		plan, err := tx.PlanByID(planID)
		if err != nil {
			return found(err, "this plan")
		}
		if known, err := tx.RunByID(id, false); err == nil {
			return sameBegun(known, plan, batch)
		}
		if plan, err = l.renewed(tx, by, plan); err != nil {
			return err
		}
		if err := l.beginRun(tx, by, plan, store.Run{ID: id, Batch: batch, BegunAt: l.now()}); err != nil || of == nil {
			return err
		}
		return l.doesTask(tx, by, id, *of)
	})
	if err != nil && !store.IsDuplicate(err) { // or else the same came in at the same moment
		return RunView{}, err
	}
	return l.Run(ctx, id)
}

// sameBegun refuses a run of something else under an ID that is known. A plan may have been renewed
// as its run began: then it is another one of the same title.
func sameBegun(known store.Run, plan store.Plan, batch int) error {
	k, err := kindNamed(plan.Kind)
	if err != nil {
		return err
	}
	renewed := k.renew != nil && known.Plan.Kind == plan.Kind && known.Plan.Title == plan.Title
	if known.Batch == batch && (known.PlanID == plan.ID || renewed) {
		return nil
	}
	return Conflict{"another run is on record under the same ID: begin this one again as a new one"}
}

// renewed is the plan as it is to be carried out now: a new one, when something that it
// depends on has been replaced since, like the calibration of a meter.
func (l *Lab) renewed(tx *store.Store, by Actor, row store.Plan) (store.Plan, error) {
	k, err := kindNamed(row.Kind)
	if err != nil || k.renew == nil {
		return row, err
	}
	plan, err := work.Decode(row.Kind, json.RawMessage(row.Request))
	if err != nil {
		return row, err
	}
	own, err := ownedBy(tx)
	if err != nil {
		return row, err
	}
	now, changed, err := k.renew(plan, own)
	if err != nil || !changed {
		return row, err
	}
	return keepPlan(tx, by, store.Plan{ID: newID(), Kind: row.Kind, CreatedAt: l.now()}, now)
}

// beginRun keeps a run that is begun: its ID, its batch, when, and at which bench.
func (l *Lab) beginRun(tx *store.Store, by Actor, row store.Plan, begun store.Run) error {
	if begun.Batch < 0 || begun.Batch >= row.Batches {
		return verdict.Problems{{Field: "/batch", Reason: fmt.Sprintf("the plan has %d batches", row.Batches)}}
	}
	begun.PlanID, begun.Plan, begun.BegunBy, begun.ChangedAt = row.ID, row, by.ID, begun.BegunAt
	plan, err := carriedOut(begun)
	if err != nil {
		return err
	}
	outcome, err := plan.Make(nil, begun.BegunAt)
	if err != nil {
		return err
	}
	begun.Status, begun.Step, begun.Plan = string(outcome.Status), outcome.AtHand(), store.Plan{}
	if err := errors.Join(tx.Create(&begun), standsOnBench(tx, begun)); err != nil {
		return err
	}
	return tx.Announce("run "+begun.ID, row.Kind)
}

// Run returns a run. Its outcome is computed again: the proposals that depend on the day
// (the expiry) are those of today.
func (l *Lab) Run(ctx context.Context, id string) (RunView, error) {
	view, err := runView(l.store.With(ctx), id, false)
	if err != nil {
		return view, err
	}
	l.store.Remember(id, view.Facts)
	return l.told(ctx, view)
}

// told fills in the results of a run that was read.
func (l *Lab) told(ctx context.Context, view RunView) (RunView, error) {
	db := l.store.With(ctx)
	var err error
	if view.Outcome, err = view.plan.Make(view.stated(), l.now()); err != nil {
		return view, err
	}
	if view.Design, err = view.plan.Design(); err != nil {
		return view, err
	}
	if view.Bottles, err = db.BottlesOfRun(view.ID); err != nil { // of an open run too: it may have been finished before
		return view, err
	}
	settings, err := l.shownBy(ctx)
	if err != nil {
		return view, err
	}
	view.Thresholds = settings.Thresholds
	if view.Doubt, err = l.doubtOfRun(db, view); err != nil {
		return view, err
	}
	if n := view.Plan.Batches; n > 1 {
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

// runView reads a run with its plan and facts; the outcome is still to be computed.
func runView(db *store.Store, id string, forChange bool) (RunView, error) {
	row, err := db.RunByID(id, forChange)
	if err != nil {
		return RunView{}, found(err, "this run")
	}
	view := RunView{Run: row}
	if view.Facts, err = db.FactsOfRun(id); err != nil {
		return view, err
	}
	view.plan, err = carriedOut(row)
	return view, err
}

// Runs lists runs, newest first, of one status and one kind, or all.
func (l *Lab) Runs(ctx context.Context, status, kindName string, cursor int64) (Page[store.Run], error) {
	runs, err := l.store.With(ctx).Runs(status, kindName, before(cursor), pageSize+1)
	return cut(runs, func(r store.Run) int64 { return r.Number }), err
}

// PlanOfRun is the plan of a run as it is kept, by which a device carries it on where this lab cannot be
// reached.
func (l *Lab) PlanOfRun(ctx context.Context, id string) (work.Plan, error) {
	row, err := l.store.With(ctx).RunByID(id, false)
	if err != nil {
		return work.Plan{}, found(err, "this run")
	}
	return planAt(row)
}

// planAt is the plan of a run with the bench that it is carried out at.
func planAt(row store.Run) (work.Plan, error) {
	p := work.Plan{Kind: row.Plan.Kind, Request: json.RawMessage(row.Plan.Request), Batch: row.Batch}
	if len(row.Bench) == 0 {
		return p, nil
	}
	p.Bench = new(benchtop.Bench)
	return p, json.Unmarshal(row.Bench, p.Bench)
}

// carriedOut is [planAt], read.
func carriedOut(row store.Run) (run.Plan, error) {
	p, err := planAt(row)
	if err != nil {
		return nil, err
	}
	plan, err := p.Read()
	if err != nil {
		return nil, fmt.Errorf("plan %d cannot be read: %w", row.Plan.Number, err)
	}
	return plan, nil
}

// Working explains a figure of a run.
func (l *Lab) Working(ctx context.Context, runID, figure string) ([]working.Line, error) {
	view, err := runView(l.store.With(ctx), runID, false)
	if err != nil {
		return nil, err
	}
	return view.plan.Explain(view.stated(), figure)
}

// AskedBy is the field that took a reading of a run, to correct it in.
func (l *Lab) AskedBy(ctx context.Context, runID, factID string) (run.Step, error) {
	view, err := runView(l.store.With(ctx), runID, false)
	if err != nil {
		return run.Step{}, err
	}
	return run.AskedBy(view.plan, view.stated(), factID, l.now())
}

// BottleWorking explains a figure of a bottle: by the run that made it, or, once it was
// standardised, by the run that found its concentration and what follows from that.
func (l *Lab) BottleWorking(ctx context.Context, id, figureID string) ([]working.Line, error) {
	if !isUUID(id) {
		return nil, NotFound{"this bottle"}
	}
	b, err := l.store.With(ctx).BottleByID(id)
	if err != nil {
		return nil, found(err, "this bottle")
	}
	i := slices.IndexFunc(b.Product.Figures, func(f figure.Figure) bool { return f.ID == figureID })
	switch {
	case b.Product.Standardised == nil || i >= 0 && b.Product.Figures[i].Role == figure.Volume:
		if b.RunID == nil {
			return nil, verdict.Problems{{Field: "/figure", Reason: "this bottle was poured together: its parts have a working each"}}
		}
		return l.Working(ctx, *b.RunID, figureID)
	case i < 0:
		return nil, verdict.Problems{{Field: "/figure", Reason: "this bottle has no such figure"}}
	}
	lines, err := l.Working(ctx, b.Product.Standardised.Run, "c")
	if err != nil {
		return nil, err
	}
	follows, _ := b.Product.Follows(b.Product.Figures[i])
	return append(lines, follows...), nil
}
