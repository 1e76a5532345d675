package lab

import (
	"context"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"

	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// Import takes in records, all or none. Problems name their place by JSON pointer. A dry
// run says what would be taken in and changes nothing.
func (l *Lab) Import(ctx context.Context, by Actor, r Records, dryRun bool) (ImportReport, error) {
	if err := by.mayRule("taking in records"); err != nil {
		return ImportReport{}, err
	}
	return l.importWith(ctx, by, dryRun, func(in *importer) error { return in.take(r) })
}

// ImportFrom is Import for a file of records, which is read run by run.
func (l *Lab) ImportFrom(ctx context.Context, by Actor, file io.Reader, dryRun bool) (ImportReport, error) {
	if err := by.mayRule("taking in records"); err != nil {
		return ImportReport{}, err
	}
	return l.importWith(ctx, by, dryRun, func(in *importer) error { return in.takeFile(file) })
}

// Restore takes a file of records into an empty database, people and all. Nobody has a
// password afterwards.
func (l *Lab) Restore(ctx context.Context, file io.Reader) (ImportReport, error) {
	return l.importWith(ctx, Actor{}, false, func(in *importer) error {
		if len(in.people) > 0 {
			return Conflict{"records are restored into an empty database only: sign in, and take them in there"}
		}
		in.restoring = true
		if err := errors.Join(in.tx.LockAccounts(), in.tx.Restoring()); err != nil {
			return err
		}
		return in.takeFile(file)
	})
}

// take takes in records that are at hand.
func (in *importer) take(r Records) error {
	if err := in.begin(r); err != nil {
		return err
	}
	for i, run := range r.Runs {
		if err := in.takeRun(fmt.Sprintf("/runs/%d", i), run); err != nil {
			return err
		}
	}
	return in.finish(r)
}

// begin takes in all that runs may need.
func (in *importer) begin(r Records) error {
	if !slices.Contains(append(formerFormats, RecordsFormat), r.Format) {
		return verdict.Problems{{Field: "/format", Reason: "this is not a file of records: its format should be " + RecordsFormat}}
	}
	in.checkTexts(r)
	plans, err := in.tx.CountPlans()
	if err != nil {
		return err
	}
	in.fresh, in.strict = plans == 0, r.Format == RecordsFormat
	for i, p := range r.People {
		if err := in.takePerson(fmt.Sprintf("/people/%d", i), p); err != nil {
			return err
		}
	}
	for i, b := range r.Balances {
		in.takeBalance(fmt.Sprintf("/balances/%d", i), b)
	}
	for i, m := range r.Meters {
		in.takeMeter(fmt.Sprintf("/meters/%d", i), m)
	}
	for i, p := range r.Photometers {
		in.takePhotometer(fmt.Sprintf("/photometers/%d", i), p)
	}
	for i, g := range r.Glass {
		in.takeGlass(fmt.Sprintf("/glass/%d", i), g)
	}
	for i, s := range r.Substances {
		in.takeSubstance(fmt.Sprintf("/substances/%d", i), s)
	}
	for i, s := range r.Systems {
		in.takeSystem(fmt.Sprintf("/systems/%d", i), s)
	}
	if err := in.carryOut(); err != nil {
		return err
	}
	if err := in.takeLab(r); err != nil {
		return err
	}
	for i, c := range r.Checks {
		if err := in.takeCheck(fmt.Sprintf("/checks/%d", i), c); err != nil {
			return err
		}
	}
	for i, c := range r.Care {
		if err := in.takeCare(fmt.Sprintf("/care/%d", i), c); err != nil {
			return err
		}
	}
	return in.takeGiven(r)
}

// finish takes in what depends on the runs, and what became of the bottles.
func (in *importer) finish(r Records) error {
	for _, id := range slices.Sorted(maps.Keys(in.given.pools)) {
		if err := in.makePool(id); err != nil {
			return err
		}
	}
	for i, p := range r.Plans { // the bottles that they start from are there by now
		place := fmt.Sprintf("/plans/%d", i)
		if by, ok := in.person(place, p.By); ok {
			in.takePlanRecord(place, by, p)
		}
	}
	if err := in.carryOut(); err != nil {
		return err
	}
	if len(in.problems) > 0 {
		return in.problems
	}
	var made []string
	for i, b := range r.Bottles {
		isNew, err := in.settle(fmt.Sprintf("/bottles/%d", i), b)
		if err != nil {
			return err
		}
		if isNew {
			made = append(made, b.ID)
		}
	}
	for i, t := range r.Takings {
		if err := in.takeTaking(fmt.Sprintf("/takings/%d", i), t); err != nil {
			return err
		}
	}
	for i, s := range r.Sessions {
		if err := in.takeSession(fmt.Sprintf("/sessions/%d", i), s); err != nil {
			return err
		}
	}
	if err := in.takeStore(r.Store); err != nil {
		return err
	}
	for _, c := range r.Changes {
		if slices.Contains(made, c.Bottle) {
			if err := in.tx.Create(&store.Change{BottleID: c.Bottle, Moved: c.Moved, Cause: c.Cause, At: c.At}); err != nil {
				return err
			}
		}
	}
	if err := in.takeHistory(r); err != nil {
		return err
	}
	if err := in.tx.CountOn(); err != nil {
		return err
	}
	return in.problems.OrNil()
}

// takeHistory takes in what was changed in the setup, where that is restored.
func (in *importer) takeHistory(r Records) error {
	for i, h := range r.History {
		if !store.HasHistory(h.What) {
			in.problems.Add(fmt.Sprintf("/history/%d/what", i), "“%s” has no history", h.What)
			break
		}
		if !in.restoring {
			const says = "the history of changes to the setup stays in the file: this lab has its own"
			in.report.Changes = slices.Insert(in.report.Changes, 0, says) // it is not to be lost behind a hundred bottles
			break
		}
		row := store.History{What: h.What, RowID: h.Row, Before: store.JSON(h.Before), Gone: h.Gone, By: h.By, At: h.At}
		if err := in.tx.Create(&row); err != nil {
			return err
		}
	}
	return nil
}

// note says something of what was taken in that nobody would expect.
func (in *importer) note(sentence string, args ...any) {
	if len(in.report.Changes) < maxChanges {
		in.report.Changes = append(in.report.Changes, fmt.Sprintf(sentence, args...))
	}
}
