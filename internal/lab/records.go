package lab

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"vialbench/core/fact"
	"vialbench/core/solution"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/internal/store"
)

// RecordsFormat names the open format of import and export.
const RecordsFormat = "vialbench-records/1"

// Records are the records of a lab in the open format: what an export writes and
// an import reads. Everything carries its ID, so that records taken in twice are
// kept once.
type Records struct {
	Format     string                `json:"format"`
	Balances   []weighing.Balance    `json:"balances,omitempty"`
	Substances []substance.Substance `json:"substances,omitempty"`
	Runs       []RunRecord           `json:"runs,omitempty"`
}

// RunRecord is one run with its plan and every fact. People are named by their
// initials.
type RunRecord struct {
	ID      string           `json:"id"`
	PlanID  string           `json:"planId"`
	Request solution.Request `json:"request"`
	By      string           `json:"by"`
	Begun   time.Time        `json:"begun"`
	Facts   []fact.Fact      `json:"facts"`
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

// ImportReport counts what was taken in, and what was there already.
type ImportReport struct{ Balances, Substances, Runs, Facts, Known int }

// errDryRun rolls a trial import back.
var errDryRun = errors.New("dry run")

// Import takes in records, all or none. Problems name their place by JSON
// pointer. A dry run says what would be taken in and changes nothing.
func (l *Lab) Import(ctx context.Context, by Actor, r Records, dryRun bool) (ImportReport, error) {
	if err := by.mayRule("taking in records"); err != nil {
		return ImportReport{}, err
	}
	if r.Format != RecordsFormat {
		return ImportReport{}, verdict.Problems{{Field: "/format", Reason: "this is not a file of records: its format should be " + RecordsFormat}}
	}
	var report ImportReport
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		in := importer{Lab: l, tx: tx, by: by, people: map[string]Actor{}}
		if err := in.take(r); err != nil {
			return err
		}
		report = in.report
		if dryRun {
			return errDryRun
		}
		return nil
	})
	if errors.Is(err, errDryRun) {
		err = nil
	}
	return report, err
}

type importer struct {
	*Lab
	tx       *store.Store
	by       Actor
	people   map[string]Actor
	problems verdict.Problems
	report   ImportReport
}

func (in *importer) take(r Records) error {
	accounts, err := in.tx.Accounts()
	if err != nil {
		return err
	}
	for _, a := range accounts {
		in.people[a.Initials] = Actor{a}
	}
	balances, err := in.tx.Balances()
	if err != nil {
		return err
	}
	for i, b := range r.Balances {
		if containsBalance(balances, b) {
			in.report.Known++
			continue
		}
		if _, err := in.addBalance(in.tx, b); in.blame(fmt.Sprintf("/balances/%d", i), err) != nil {
			return err
		} else if err == nil {
			in.report.Balances++
		}
	}
	known, err := substances(in.tx)
	if err != nil {
		return err
	}
	for i, s := range r.Substances {
		if containsSubstance(known, s.Key) {
			in.report.Known++
			continue
		}
		if _, err := in.addSubstance(in.tx, in.by, s); in.blame(fmt.Sprintf("/substances/%d", i), err) != nil {
			return err
		} else if err == nil {
			in.report.Substances++
		}
	}
	for i, run := range r.Runs {
		if err := in.takeRun(fmt.Sprintf("/runs/%d", i), run); err != nil {
			return err
		}
	}
	return in.problems.OrNil()
}

// blame files a problem under a place and returns only errors that are not the
// fault of the records.
func (in *importer) blame(place string, err error) error {
	var p verdict.Problems
	var conflict Conflict
	switch {
	case err == nil:
	case errors.As(err, &p):
		for _, problem := range p {
			in.problems.Add(place+problem.Field, "%s", problem.Reason)
		}
	case errors.As(err, &conflict):
		in.problems.Add(place, "%s", conflict.Reason)
	default:
		return err
	}
	return nil
}

func (in *importer) takeRun(place string, r RunRecord) error {
	for field, id := range map[string]string{"/id": r.ID, "/planId": r.PlanID} {
		if _, err := uuid.Parse(id); err != nil {
			in.problems.Add(place+field, "an ID is a UUID, like 01970000-0000-7000-8000-000000000001")
			return nil
		}
	}
	by, ok := in.people[r.By]
	if !ok {
		in.problems.Add(place+"/by", "nobody here has the initials “%s”: make the account first", r.By)
		return nil
	}
	view, err := runView(in.tx, r.ID, true)
	if err == nil {
		in.report.Known++
	} else {
		plan, err := in.keepPlan(in.tx, by, r.PlanID, r.Request, r.Begun)
		if err != nil {
			return in.blame(place+"/request", err)
		}
		if err := in.beginRun(in.tx, by, r.ID, plan, r.Begun); err != nil {
			return err
		}
		if view, err = runView(in.tx, r.ID, true); err != nil {
			return err
		}
		in.report.Runs++
	}
	for i, f := range r.Facts {
		at := fmt.Sprintf("%s/facts/%d", place, i)
		by, ok := in.people[f.By]
		if !ok {
			in.problems.Add(at+"/by", "nobody here has the initials “%s”: make the account first", f.By)
			return nil
		}
		if _, err := uuid.Parse(f.ID); err != nil {
			in.problems.Add(at+"/id", "an ID is a UUID")
			return nil
		}
		f.At = f.At.UTC().Truncate(time.Microsecond)
		known, err := in.alreadyStated(in.tx, r.ID, f)
		if known && err == nil {
			in.report.Known++
			continue
		}
		if err == nil {
			err = in.record(in.tx, by, &view, f)
		}
		if err != nil { // the rest of the run hangs on this fact
			return in.blame(at, err)
		}
		in.report.Facts++
	}
	return nil
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
	own, err := db.Substances()
	if err != nil {
		return out, err
	}
	for _, s := range own {
		out.Substances = append(out.Substances, s.Substance)
	}
	runs, err := db.Runs("", fromStart, maxExport)
	if err != nil {
		return out, err
	}
	for i := len(runs) - 1; i >= 0; i-- {
		view, err := runView(db, runs[i].ID, false)
		if err != nil {
			return out, err
		}
		out.Runs = append(out.Runs, RunRecord{ID: view.ID, PlanID: view.PlanID, Request: view.Plan.Request, By: view.Beginner.Initials, Begun: view.BegunAt.UTC(), Facts: view.stated()})
	}
	return out, nil
}

func containsBalance(list []store.Balance, b weighing.Balance) bool {
	for _, other := range list {
		if other.Name == b.Name {
			return true
		}
	}
	return false
}

func containsSubstance(list []OwnedSubstance, key string) bool {
	for _, s := range list {
		if s.Key == key {
			return true
		}
	}
	return false
}
