package lab

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"

	"vialbench/core/benchtop"
	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/work"
	"vialbench/internal/store"
)

func (in *importer) takeRun(place string, r RunRecord) error {
	if !in.isID(place+"/id", r.ID) || !in.isID(place+"/plan/id", r.Plan.ID) {
		return nil
	}
	by, ok := in.person(place, r.By)
	if !ok {
		return nil
	}
	view, err := runView(in.tx, r.ID, true)
	var missing NotFound
	switch {
	case errors.As(err, &missing):
		if view, err = in.beginRecord(place, by, r); err != nil || view.ID == "" {
			return err
		}
	case err != nil:
		return err
	default:
		k, read, err := in.read(r.Plan.Work)
		if err != nil {
			return in.blame(place+"/plan", err)
		}
		if in.report.Known++; view.PlanID != r.Plan.ID || view.Batch != r.Batch || !in.sameWork(view.Plan, k, read) {
			in.problems.Add(place, "another run is on record here under this ID")
			return nil
		}
	}
	return in.takeFacts(place, &view, r.Facts)
}

// beginRecord begins a run of a record. Without an ID in the view, it could not be.
func (in *importer) beginRecord(place string, by Actor, r RunRecord) (RunView, error) {
	if err := run.BegunAt(r.Begun, in.now()); err != nil {
		return RunView{}, in.blame(place, err)
	}
	maker, ok := in.person(place+"/plan", cmp.Or(r.Plan.By, r.By))
	if !ok {
		return RunView{}, nil
	}
	k, read, err := in.read(r.Plan.Work)
	if err != nil {
		return RunView{}, in.blame(place+"/plan", err)
	}
	plan, err := in.keepRecord(maker, r.Plan, k, read)
	if err != nil {
		return RunView{}, in.blame(place+"/plan/request", err)
	}
	if len(r.Bench) > 0 {
		if err := errors.Join(bounded(r.Bench), json.Unmarshal(r.Bench, new(benchtop.Bench))); err != nil {
			in.problems.Add(place+"/bench", "this is no bench: %s", err)
			return RunView{}, nil
		}
	}
	number := r.Number
	if !in.fresh {
		number = 0
	}
	begun := store.Run{ID: r.ID, Number: number, Batch: r.Batch, BegunAt: r.Begun, Bench: store.JSON(r.Bench)}
	if err := in.beginRun(in.tx, by, plan, begun); err != nil {
		return RunView{}, in.blame(place, err)
	}
	in.report.Runs++
	in.newRuns = append(in.newRuns, r.ID)
	view, err := runView(in.tx, r.ID, true)
	if err == nil && r.Number != 0 && view.Number != r.Number {
		in.note("run %d of the file is run %d here", r.Number, view.Number)
	}
	return view, err
}

// takeFacts admits the facts of a run one after the other, as they were stated, and
// computes the results once.
func (in *importer) takeFacts(place string, view *RunView, facts []FactRecord) error {
	known := map[string]fact.Fact{}
	for _, f := range view.Facts {
		known[f.ID] = f.Body
	}
	stated := view.stated()
	var rows []store.Fact
	last := Actor{}
	for i, r := range facts {
		at := fmt.Sprintf("%s/facts/%d", place, i)
		by, ok := in.person(at, r.By)
		if !ok || !in.isID(at+"/id", r.ID) {
			return nil
		}
		f := r.Fact
		f.By = by.Initials
		if old, ok := known[f.ID]; ok {
			if in.report.Known++; !sameFact(old, f) {
				in.problems.Add(at, "another reading is on record here under this ID")
				return nil
			}
			continue
		}
		var err error
		if f.At, err = run.MadeAt(f.At, view.BegunAt, in.now()); err == nil {
			err = run.Admit(view.plan, stated, f, f.At)
		}
		if err != nil { // the rest of the run hangs on this fact
			return in.blame(at, err)
		}
		row := factRow(view, by, f, in.now())
		if r.Recorded != nil && !r.Recorded.After(in.now()) {
			row.RecordedAt = r.Recorded.UTC()
		}
		if in.fresh {
			row.Seq = r.Seq
		}
		rows, stated, last = append(rows, row), append(stated, f), by
		known[f.ID] = f
		in.report.Facts++
	}
	if len(rows) == 0 {
		return nil
	}
	if err := in.tx.CreateMany(&rows); err != nil {
		if store.IsDuplicate(err) {
			in.problems.Add(place, "a reading of this run is on record here under the same ID, in another run")
			return nil
		}
		return err
	}
	instruments := map[string]bool{}
	for _, row := range rows {
		if name := row.Body.Instrument; name != "" && !instruments[name] {
			instruments[name] = true
			if err := in.tx.Stands(store.Source{RunID: &view.ID, Role: roleInstrument, Instrument: &name}); err != nil {
				return err
			}
		}
	}
	view.Facts, view.ChangedAt = append(view.Facts, rows...), rows[len(rows)-1].MadeAt
	c := &computing{Lab: in.Lab, tx: in.tx, by: last, cause: fmt.Sprintf("run %d was taken in", view.Number), given: in.given}
	if err := c.run(view); err != nil {
		return in.blame(place, err)
	}
	return in.blame(place, c.follow())
}

// takePlanRecord takes in a plan as the records have it.
func (in *importer) takePlanRecord(place string, by Actor, p PlanRecord) {
	k, plan, err := in.read(p.Work)
	if in.blame(place, err) != nil || err != nil {
		return
	}
	in.takePlan(place, by, p, k, plan)
}

// takePlan takes in a plan.
func (in *importer) takePlan(place string, by Actor, p PlanRecord, k kind, plan run.Plan) {
	if !in.isID(place+"/id", p.ID) {
		return
	}
	if known, err := in.tx.PlanByID(p.ID); err == nil {
		if in.report.Known++; !in.sameWork(known, k, plan) {
			in.problems.Add(place, "another plan is here under this ID")
		}
		return
	}
	if _, err := plan.Design(); in.blame(place, err) != nil || err != nil {
		return
	}
	in.report.Plans++
	in.change(
		func() error { _, err := in.keepRecord(by, p, k, plan); return err },
		"new: plan of %s",
		run.LowerFirst(plan.Title()),
	)
}

// sameWork reports whether a plan that is here is of the same work. Of what is computed from
// a stock, the figures of the stock may have moved.
func (in *importer) sameWork(known store.Plan, k kind, plan run.Plan) bool {
	here, err := planOf(known, 0)
	if err != nil || known.Kind != k.name {
		return false
	}
	for _, s := range here.Uses().Sources {
		if sourced, ok := plan.(run.Sourced); ok { // whatever its number in the file
			plan = sourced.Bound(s.Role, run.Source{}, 0)
		}
	}
	return unbound(here).Title() == plan.Title()
}

// read reads the plan of a record.
func (in *importer) read(w Work) (kind, run.Plan, error) {
	k, err := kindNamed(w.Kind)
	if err != nil {
		return k, nil, err
	}
	if err := bounded(w.Request); err != nil {
		return k, nil, verdict.Problems{{Field: "/request", Reason: err.Error()}}
	}
	plan, err := work.Decode(k.name, w.Request)
	if err != nil {
		return k, nil, verdict.Problems{{Field: "/request", Reason: "this is not a request of the kind “" + w.Kind + "”: " + err.Error()}}
	}
	if err := noMore(w.Request, plan); err != nil && in.strict {
		return k, nil, verdict.Problems{{Field: "/request", Reason: err.Error()}}
	}
	return k, plan, nil
}

// keepRecord keeps a plan of a record, bound to the bottles that it takes from here: of
// what is not here, its figures stay, and that is said.
func (in *importer) keepRecord(by Actor, p PlanRecord, k kind, plan run.Plan) (store.Plan, error) {
	if known, err := in.tx.PlanByID(p.ID); err == nil {
		if !in.sameWork(known, k, plan) {
			return known, Conflict{"another plan is here under this ID"}
		}
		return known, nil
	}
	plan = unbound(plan) // what is not named below is not here
	for _, s := range p.Sources {
		sourced, ok := plan.(run.Sourced)
		if !ok {
			continue
		}
		if s.Result {
			earlier, err := in.tx.RunByID(s.Run, false)
			switch {
			case isNotFound(err):
				in.note("%s: its %s is not among these records, nor here; the figures of it in the plan stay", plan.Title(), s.Role)
			case err != nil:
				return store.Plan{}, err
			default:
				plan = sourced.Bound(s.Role, run.Source{Run: earlier.ID}, earlier.Number)
			}
			continue
		}
		bottle, err := in.source(s)
		if err != nil {
			return store.Plan{}, err
		}
		if bottle.ID == "" {
			in.note("%s: its %s is not among these records, nor here; the figures of it in the plan stay", plan.Title(), s.Role)
			continue
		}
		plan = sourced.Bound(s.Role, run.Source{Bottle: bottle.ID}, bottle.Number)
	}
	number := p.Number
	if !in.fresh {
		number = 0
	}
	at := p.At
	if at.IsZero() { // of records that do not say when
		at = in.now()
	}
	return keepPlan(in.tx, by, store.Plan{ID: p.ID, Number: number, Kind: k.name, CreatedAt: at}, plan)
}
