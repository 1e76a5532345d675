package lab

import (
	"context"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/internal/store"
)

// Statement is a fact as it is stated: its quantities are still to be read, in the
// dimensions that its kind takes.
type Statement struct {
	run.Stated
	// Seen is the number of facts the sender knew, when given.
	Seen *int
}

// StateFact adds a fact to a run. A fact that is known already changes nothing. When
// there are more facts by now than the sender knew, it is refused with a Conflict that
// says what came in between.
func (l *Lab) StateFact(ctx context.Context, by Actor, runID string, s Statement) (RunView, error) {
	s.By = by.Initials
	if err := l.MayLook(ctx, by, runID); err != nil {
		return RunView{}, err
	}
	var view RunView
	var moved []string
	err := l.change(ctx, by, func(tx *store.Store) (err error) {
		if view, err = runView(tx, runID, true); err != nil {
			return err
		}
		f, err := s.Read(view.plan)
		if err != nil {
			return err
		}
		known, err := alreadyStated(view.Facts, f)
		if known || err != nil {
			return err
		}
		if f.At, err = run.MadeAt(f.At, view.BegunAt, l.now()); err != nil {
			return err
		}
		if s.Seen != nil && *s.Seen != len(view.Facts) && *s.Seen >= 0 {
			return Conflict{sinceThen(view.Facts, *s.Seen)}
		}
		if moved, err = l.record(tx, by, &view, f); err != nil || by.Role != Group {
			return err
		}
		g, err := tx.ClassGroupOf(by.ID)
		if err == nil && g.Session.RemovedAt != nil {
			err = takenOff
		}
		if err != nil {
			return err
		}
		return tx.Announce(topicClass + g.SessionID)
	})
	if err != nil {
		return RunView{}, err
	}
	view.Moved = moved
	l.store.Remember(runID, view.Facts)
	return l.told(ctx, view)
}

// alreadyStated reports whether a fact of this ID is on record in the run; one that says
// something else under the same ID is a Conflict.
func alreadyStated(facts []store.Fact, f fact.Fact) (bool, error) {
	i := slices.IndexFunc(facts, func(old store.Fact) bool { return old.ID == f.ID })
	if i < 0 {
		return false, nil
	}
	if !sameFact(facts[i].Body, f) {
		return true, anotherFact
	}
	return true, nil
}

var anotherFact = Conflict{"another reading went on record under the same ID: send this one again as a new one"}

// sameFact reports whether two facts say the same, whoever said it and when.
func sameFact(a, b fact.Fact) bool {
	a.At, a.By, b.At, b.By = time.Time{}, "", time.Time{}, ""
	return reflect.DeepEqual(a, b)
}

func sinceThen(facts []store.Fact, seen int) string {
	if seen > len(facts) {
		return "this run has changed meanwhile: look at it, then go on"
	}
	var news []string
	for _, f := range facts[seen:] {
		news = append(news, f.Maker.Initials+": "+f.Sentence)
	}
	return "Somebody else recorded something first. " + strings.Join(news, "; ") + ". Look, then record yours if it still applies"
}

// record admits a fact, stores it, and brings the run, what it made and all that
// depends on that up to date. It says what moved elsewhere on the shelf.
func (l *Lab) record(tx *store.Store, by Actor, view *RunView, f fact.Fact) (moved []string, err error) {
	if err := run.Admit(view.plan, view.stated(), f, f.At); err != nil {
		return nil, err
	}
	row := factRow(view, by, f, l.now())
	cause := fmt.Sprintf("run %d: %s", view.Number, row.Sentence)
	if f.Reason != "" {
		cause += " (" + f.Reason + ")"
	}
	return l.recordAll(tx, by, view, []store.Fact{row}, cause)
}

// recordAll stores facts that were admitted, and brings the run, what it made and all that depends
// on that up to date, once.
func (l *Lab) recordAll(tx *store.Store, by Actor, view *RunView, rows []store.Fact, cause string) (moved []string, err error) {
	switch fresh, err := tx.Record(rows); {
	case store.IsDuplicate(err):
		return nil, Conflict{"this reading was corrected already: look at the newest one"}
	case err != nil:
		return nil, err
	case !fresh: // it is one of another run
		return nil, anotherFact
	}
	var instruments []string // which may be others than that of the plan
	for _, row := range rows {
		if i := row.Body.Instrument; i != "" && !slices.Contains(instruments, i) {
			instruments = append(instruments, i)
			if err := tx.Stands(store.Source{RunID: &view.ID, Role: roleInstrument, Instrument: &i}); err != nil {
				return nil, err
			}
		}
	}
	view.Facts, view.ChangedAt = append(view.Facts, rows...), rows[len(rows)-1].MadeAt
	c := &computing{Lab: l, tx: tx, by: by, cause: cause, states: view.ID}
	if err := c.run(view); err != nil {
		return nil, err
	}
	err = c.follow()
	return c.moved, err
}

func factRow(view *RunView, by Actor, f fact.Fact, now time.Time) store.Fact {
	return store.Fact{
		ID: f.ID, RunID: view.ID, Kind: f.Kind, Body: f, Sentence: view.plan.Sentence(f), MadeBy: by.ID, Maker: by.Account,
		MadeAt: f.At, RecordedAt: now, Reason: f.Reason, Replaces: optionalID(f.Replaces),
	}
}
