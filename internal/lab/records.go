package lab

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/internal/store"
)

// RecordsFormat names the open format of import and export.
const RecordsFormat = "vialbench-records/2"

// Records are the records of a lab in the open format: what an export writes and
// an import reads. Everything carries its ID, so that records taken in twice are
// kept once.
type Records struct {
	Format     string                `json:"format"`
	Balances   []weighing.Balance    `json:"balances,omitempty"`
	Glass      []glassware.Item      `json:"glass,omitempty"`
	Substances []substance.Substance `json:"substances,omitempty"`
	// Plans are those that were never run; the others stand with their runs.
	Plans []PlanRecord `json:"plans,omitempty"`
	Runs  []RunRecord  `json:"runs,omitempty"`
}

// Work is what is made: the kind, the request as the kind has it, and what that takes
// from.
type Work struct {
	Kind    string          `json:"kind"`
	Request json.RawMessage `json:"request"`
	Sources []SourceRecord  `json:"sources,omitempty"`
}

// SourceRecord names the product that a plan takes from by the run that made it, and by
// its part: the numbers and IDs of bottles are those of one lab only.
type SourceRecord struct {
	Role string `json:"role"`
	Run  string `json:"run"`
	Part int    `json:"part,omitempty"`
}

// PlanRecord is one plan.
type PlanRecord struct {
	ID string `json:"id"`
	Work
	By string    `json:"by"`
	At time.Time `json:"at"`
}

// RunRecord is one run with its plan and every fact. People are named by their
// initials.
type RunRecord struct {
	ID     string `json:"id"`
	PlanID string `json:"planId"`
	Work
	Batch int         `json:"batch,omitempty"`
	By    string      `json:"by"`
	Begun time.Time   `json:"begun"`
	Facts []fact.Fact `json:"facts"`
}

// Shift moves every time by whole days, so that sample records are of this week.
func (r *Records) Shift(days int) {
	for i := range r.Runs {
		run := &r.Runs[i]
		run.Begun = run.Begun.AddDate(0, 0, days)
		for j := range run.Facts {
			f := &run.Facts[j]
			f.At = f.At.AddDate(0, 0, days)
			if d, err := time.Parse(time.DateOnly, f.Date); err == nil {
				f.Date = d.AddDate(0, 0, days).Format(time.DateOnly)
			}
		}
	}
}

// ImportReport counts what was taken in, what was changed, and what was there
// already.
type ImportReport struct {
	Balances, Glass, Substances, Plans, Runs, Facts, Changed, Known int
	// Changes says in words what is new or changed in the setup, up to maxChanges.
	Changes []string
}

// maxChanges is how many changes a report spells out.
const maxChanges = 100

// errDryRun rolls a trial import back.
var errDryRun = errors.New("dry run")

// Import takes in records, all or none. Problems name their place by JSON
// pointer. A dry run says what would be taken in and changes nothing.
func (l *Lab) Import(ctx context.Context, by Actor, r Records, dryRun bool) (ImportReport, error) {
	if err := by.mayRule("taking in records"); err != nil {
		return ImportReport{}, err
	}
	if r.Format == formatOne {
		r.Format = RecordsFormat
	}
	if r.Format != RecordsFormat {
		return ImportReport{}, verdict.Problems{
			{Field: "/format", Reason: "this is not a file of records: its format should be " + RecordsFormat},
		}
	}
	return l.importWith(ctx, by, dryRun, func(in *importer) error { return in.take(r) })
}

// importWith takes in what take finds, all or none.
func (l *Lab) importWith(ctx context.Context, by Actor, dryRun bool, take func(*importer) error) (ImportReport, error) {
	var report ImportReport
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		in, err := l.newImporter(tx, by)
		if err != nil {
			return err
		}
		if err := take(in); err != nil {
			return err
		}
		if report = in.report; dryRun {
			return errDryRun
		}
		return tx.Announce("setup")
	})
	if errors.Is(err, errDryRun) {
		err = nil
	}
	return report, err
}

// Export gives all records, oldest run first.
func (l *Lab) Export(ctx context.Context) (Records, error) {
	db := l.store.With(ctx)
	out := Records{Format: RecordsFormat}
	balances, err := db.Balances()
	if err != nil {
		return out, err
	}
	for _, b := range balances {
		out.Balances = append(out.Balances, b.Balance)
	}
	glass, err := db.Glass()
	if err != nil {
		return out, err
	}
	out.Glass = eachItem(glass)
	own, err := db.Substances()
	if err != nil {
		return out, err
	}
	for _, s := range own {
		out.Substances = append(out.Substances, s.Substance)
	}
	runs, err := db.Runs("", "", fromStart, maxExport)
	if err != nil {
		return out, err
	}
	begun := map[string]bool{}
	for i := len(runs) - 1; i >= 0; i-- {
		view, err := runView(db, runs[i].ID, false)
		if err != nil {
			return out, err
		}
		begun[view.PlanID] = true
		work, err := workOf(db, view.Plan)
		if err != nil {
			return out, err
		}
		out.Runs = append(
			out.Runs,
			RunRecord{
				ID:     view.ID,
				PlanID: view.PlanID,
				Work:   work,
				Batch:  view.Batch,
				By:     view.Beginner.Initials,
				Begun:  view.BegunAt.UTC(),
				Facts:  view.stated(),
			},
		)
	}
	plans, err := db.Plans(fromStart, maxExport)
	if err != nil {
		return out, err
	}
	for i := len(plans) - 1; i >= 0; i-- {
		p := plans[i]
		if begun[p.ID] {
			continue
		}
		work, err := workOf(db, p)
		if err != nil {
			return out, err
		}
		out.Plans = append(out.Plans, PlanRecord{p.ID, work, p.Creator.Initials, p.CreatedAt.UTC()})
	}
	return out, nil
}

// workOf is a plan as a record has it.
func workOf(db *store.Store, p store.Plan) (Work, error) {
	work := Work{Kind: p.Kind, Request: json.RawMessage(p.Request)}
	plan, err := planOf(p, 0)
	if err != nil {
		return work, err
	}
	if work.Request, err = json.Marshal(unbound(plan)); err != nil {
		return work, err
	}
	sources, err := db.SourcesOfPlan(p.ID)
	for _, s := range sources {
		if s.BottleID == nil {
			continue
		}
		bottle, err := db.BottleByID(*s.BottleID)
		if err != nil {
			return work, err
		}
		if bottle.RunID != nil { // what was poured together has no run to be named by
			work.Sources = append(work.Sources, SourceRecord{s.Role, *bottle.RunID, bottle.Part})
		}
	}
	return work, err
}

// unbound is a plan without the IDs and numbers of bottles, which are those of one lab.
func unbound(plan run.Plan) run.Plan {
	for _, s := range plan.Uses().Sources {
		if sourced, ok := plan.(run.Sourced); ok {
			plan = sourced.Bound(s.Role, run.Source{}, 0)
		}
	}
	return plan
}
