package lab_test

import (
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/core/session"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
)

// nextWeek is a session of four groups with one liquid, in a week at nine.
func nextWeek(title, liquid, strength string) session.Session {
	starts := time.Now().UTC().AddDate(0, 0, 8).Truncate(24 * time.Hour).Add(9 * time.Hour)
	return session.Session{
		Title: title, Starts: starts, Ends: starts.Add(3 * time.Hour), Zone: "UTC", Groups: 4,
		Items:  []session.Item{{ID: "x", Name: liquid, Concentration: strength, Each: "20 mL", Times: 2}},
		People: []session.Person{{Name: "Imani Thorne", From: "08:00", To: "17:00"}}, Own: []session.OwnTask{},
	}
}

func bar(v lab.PlannedSession, task string) *session.Bar {
	i := slices.IndexFunc(v.Design.Bars, func(b session.Bar) bool { return b.ID == task })
	if i < 0 {
		return nil
	}
	return &v.Design.Bars[i]
}

func TestKeepingASession(t *testing.T) {
	l, ra, it := newLab(t)
	id, s := uuid.NewString(), nextWeek("Chloride", "Potassium chloride", "0.1 mol/L")
	first, err := l.KeepLabSession(t.Context(), it, id, s, 0)
	if err != nil || first.Version != 1 || first.Number == 0 || bar(first, "make x") == nil {
		t.Fatalf("%+v, %v", first.LabSession, err)
	}
	if again, err := l.KeepLabSession(t.Context(), it, id, s, 0); err != nil || again.Version != 1 { // sent twice
		t.Errorf("%d, %v", again.Version, err)
	}
	s.Groups = 6
	if changed, err := l.KeepLabSession(t.Context(), ra, id, s, 1); err != nil || changed.Version != 2 || changed.Plan.Groups != 6 || changed.Design.Needs[0].Places != 7 {
		t.Errorf("%+v, %v", changed.LabSession, err)
	}
	s.Groups = 8
	var conflict lab.Conflict
	if _, err := l.KeepLabSession(t.Context(), it, id, s, 1); !errors.As(err, &conflict) {
		t.Errorf("changed over a change: %v", err)
	}
	past := nextWeek("Yesterday", "Potassium chloride", "0.1 mol/L")
	past.Starts = time.Now().Add(-time.Hour)
	var problems verdict.Problems
	if _, err := l.KeepLabSession(t.Context(), it, uuid.NewString(), past, 0); !errors.As(err, &problems) || problems[0].Field != "/session/starts" {
		t.Errorf("in the past: %v", err)
	}
	s.Groups = 0
	if _, err := l.KeepLabSession(t.Context(), it, id, s, 2); !errors.As(err, &problems) || problems[0].Field != "/session/groups" {
		t.Errorf("without groups: %v", err)
	}
	var missing lab.NotFound
	if _, err := l.KeepLabSession(t.Context(), it, uuid.NewString(), nextWeek("x", "y", "1 mol/L"), 3); !errors.As(err, &missing) {
		t.Errorf("changes of what is not there: %v", err)
	}

	if err := l.RemoveLabSession(t.Context(), it, id, 1); !errors.As(err, &conflict) {
		t.Errorf("taken off at an old version: %v", err)
	}
	if err := l.RemoveLabSession(t.Context(), it, id, 2); err != nil {
		t.Fatal(err)
	}
	if err := l.RemoveLabSession(t.Context(), it, id, 2); err != nil { // once more changes nothing
		t.Error(err)
	}
	if _, err := l.LabSession(t.Context(), id); !errors.As(err, &missing) {
		t.Errorf("taken off: %v", err)
	}
	if _, err := l.KeepLabSession(t.Context(), it, id, nextWeek("x", "y", "1 mol/L"), 3); !errors.As(err, &conflict) {
		t.Errorf("changes of what was taken off: %v", err)
	}
	if list, err := l.LabSessions(t.Context()); err != nil || len(list) != 0 {
		t.Errorf("%d left, %v", len(list), err)
	}
}

// The session that was planned first has the bottle, whichever comes first; when it is taken off, the other has it.
func TestOneBottleForTwoSessions(t *testing.T) {
	l, ra, it := newLab(t)
	planID, _ := plan(t, l, it, "500 mL")
	made := finish(t, l, it, planID, 0, 3.7276).Bottles[0]
	keep := func(days int) string {
		id, s := uuid.NewString(), nextWeek("Chloride", "Potassium chloride", "0.1 mol/L")
		s.Starts, s.Ends = s.Starts.AddDate(0, 0, days), s.Ends.AddDate(0, 0, days)
		if _, err := l.KeepLabSession(t.Context(), ra, id, s, 0); err != nil {
			t.Fatal(err)
		}
		return id
	}
	takes := func(id string) float64 {
		v, err := l.LabSession(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		return v.Design.Takes[made]
	}
	// Each needs 5 places × 60 mL and 5 %, of 500 mL.
	later, sooner := keep(5), keep(0)
	if takes(later) != 315 || takes(sooner) != 185 { // the rest of what it needs is made
		t.Errorf("planned first takes %g mL, planned second %g", takes(later), takes(sooner))
	}
	if s, err := l.PreviewLabSession(t.Context(), uuid.NewString(), nextWeek("x", "Potassium chloride", "0.1 mol/L")); err != nil || s.Design.Takes[made] != 0 {
		t.Errorf("a third: %v, %v", s.Design.Takes, err)
	}
	if err := l.RemoveLabSession(t.Context(), ra, later, 1); err != nil {
		t.Fatal(err)
	}
	if takes(sooner) != 315 {
		t.Errorf("the other was taken off: takes %g mL", takes(sooner))
	}
	if _, err := l.Discard(t.Context(), ra, made, "spilled"); err != nil { // promised or not
		t.Fatal(err)
	}
	if v, err := l.LabSession(t.Context(), sooner); err != nil || bar(v, "make x") == nil || len(v.Design.Takes) != 0 {
		t.Errorf("a bottle that was promised is discarded: %+v, %v", v.Design.Supplies, err)
	}
}

func TestTasksOfASession(t *testing.T) {
	l, ra, it := newLab(t)
	id := uuid.NewString()
	view, err := l.KeepLabSession(t.Context(), ra, id, nextWeek("Chloride", "Potassium chloride", "0.1 mol/L"), 0)
	if err != nil {
		t.Fatal(err)
	}
	tick := uuid.NewString()
	for range 2 { // a tick that is sent twice is one
		if view, err = l.TickTask(t.Context(), it, id, tick, "set out", true); err != nil {
			t.Fatal(err)
		}
	}
	if bar(view, "set out") != nil || len(view.Past) != 1 || view.Past[0].By != "IT" || view.Past[0].State != "done" {
		t.Errorf("%+v", view.Past)
	}
	if view, err = l.TickTask(t.Context(), it, id, uuid.NewString(), "set out", false); err != nil || bar(view, "set out") == nil || len(view.Past) != 0 {
		t.Errorf("not done after all: %+v, %v", view.Past, err)
	}
	var missing lab.NotFound
	if _, err := l.TickTask(t.Context(), it, id, uuid.NewString(), "feed the newts", true); !errors.As(err, &missing) {
		t.Errorf("no such task: %v", err)
	}

	// A run that is open has begun it; once it is finished its bottle serves and the task is gone; once that is void it is back.
	planID, _ := plan(t, l, it, "500 mL")
	run, err := l.BeginTask(t.Context(), it, uuid.NewString(), planID, 0, &lab.TaskOf{Session: id, Task: "make x", Title: "Make potassium chloride"})
	if err != nil {
		t.Fatal(err)
	}
	state := func() (string, bool) {
		t.Helper()
		v, err := l.LabSession(t.Context(), id)
		if err != nil || len(v.Past) != 1 {
			t.Fatalf("%+v, %v", v.Past, err)
		}
		return v.Past[0].State, bar(v, "make x") != nil
	}
	if s, left := state(); s != "begun" || !left {
		t.Errorf("%s, %v", s, left)
	}
	goThrough(t, l, it, run.ID, 3.7276)
	if s, left := state(); s != "done" || left {
		t.Errorf("finished: %s, %v", s, left)
	}
	finished, err := l.Run(t.Context(), run.ID)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := l.Discard(t.Context(), ra, finished.Bottles[0], "dropped"); err != nil {
		t.Fatal(err)
	}
	if s, left := state(); s != "done" || !left { // it was done, and is to be done again
		t.Errorf("discarded: %s, %v", s, left)
	}
	if _, err := l.BeginTask(t.Context(), it, uuid.NewString(), planID, 0, &lab.TaskOf{Session: uuid.NewString(), Task: "x"}); !errors.As(err, &missing) {
		t.Errorf("for no session: %v", err)
	}
}

func TestMovedTask(t *testing.T) {
	l, ra, _ := newLab(t)
	id := uuid.NewString()
	view, err := l.KeepLabSession(t.Context(), ra, id, nextWeek("Chloride", "Potassium chloride", "0.1 mol/L"), 0)
	if err != nil {
		t.Fatal(err)
	}
	night := view.StartsAt.Add(-5 * time.Hour)
	moved, err := l.MoveTask(t.Context(), ra, id, "make x", &night, 1)
	if err != nil || !bar(moved, "make x").Starts.Equal(night) || !strings.Contains(strings.Join(bar(moved, "make x").Breaks, " "), "Imani Thorne is not there") {
		t.Fatalf("%+v, %v", bar(moved, "make x"), err)
	}
	var conflict lab.Conflict
	if _, err := l.MoveTask(t.Context(), ra, id, "make x", nil, 1); !errors.As(err, &conflict) {
		t.Errorf("at an old version: %v", err)
	}
	back, err := l.MoveTask(t.Context(), ra, id, "make x", nil, 2)
	if err != nil || !bar(back, "make x").Starts.Equal(bar(view, "make x").Starts) {
		t.Errorf("back to the schedule: %+v, %v", bar(back, "make x"), err)
	}
}

// Two sessions at one hour, with one person: the second is planned around the first, so that nobody does two things at once.
func TestTwoSessionsAtOnce(t *testing.T) {
	l, ra, _ := newLab(t)
	var bars []session.Bar
	for _, title := range []string{"First", "Second"} {
		view, err := l.KeepLabSession(t.Context(), ra, uuid.NewString(), nextWeek(title, "Potassium chloride", "0.1 mol/L"), 0)
		if err != nil || view.Design.Late > 0 {
			t.Fatalf("late by %d, %v", view.Design.Late, err)
		}
		bars = append(bars, view.Design.Bars...)
	}
	for i, a := range bars {
		for _, b := range bars[:i] {
			if a.Person != "" && a.Person == b.Person && a.Starts.Before(b.Free) && b.Starts.Before(a.Free) {
				t.Errorf("%s %s–%s and %s %s–%s", a.Title, a.Starts, a.Free, b.Title, b.Starts, b.Free)
			}
		}
	}
}

func TestTodayLeadsThroughSessions(t *testing.T) {
	l, ra, _ := newLab(t)
	for days, title := range []string{"First", "Second"} {
		s := nextWeek(title, "Potassium chloride", "0.1 mol/L")
		s.Starts, s.Ends = s.Starts.AddDate(0, 0, days), s.Ends.AddDate(0, 0, days)
		if _, err := l.KeepLabSession(t.Context(), ra, uuid.NewString(), s, 0); err != nil {
			t.Fatal(err)
		}
	}
	today, err := l.Today(t.Context())
	if err != nil || len(today.Sessions) != 2 || today.Sessions[0].Title != "First" || len(today.Next) != 8 {
		t.Fatalf("%d sessions, %d tasks, %v", len(today.Sessions), len(today.Next), err)
	}
	for i, next := range today.Next {
		if i > 0 && next.Bar.Starts.Before(today.Next[i-1].Bar.Starts) || next.Late {
			t.Errorf("%+v", next)
		}
	}
}

// 1000 sessions, a tenth of them to come: Today as everybody asks for it, and once more after a bottle was put on the shelf.
func BenchmarkTodayOf1000Sessions(b *testing.B) {
	l, ra, _ := newLab(b)
	for i := range 100 {
		s := nextWeek("Chloride", "Potassium chloride", "0.1 mol/L")
		s.Starts, s.Ends = s.Starts.AddDate(0, 0, i%20), s.Ends.AddDate(0, 0, i%20)
		if _, err := l.KeepLabSession(b.Context(), ra, uuid.NewString(), s, 0); err != nil {
			b.Fatal(err)
		}
		for range 9 {
			id := uuid.NewString()
			if _, err := l.KeepLabSession(b.Context(), ra, id, s, 0); err != nil {
				b.Fatal(err)
			}
			if err := l.RemoveLabSession(b.Context(), ra, id, 1); err != nil {
				b.Fatal(err)
			}
		}
	}
	for _, stale := range []bool{false, true} {
		b.Run(map[bool]string{false: "as it stands", true: "after a change"}[stale], func(b *testing.B) {
			for b.Loop() {
				if stale {
					if _, err := l.TickTask(b.Context(), ra, firstOf(b, l), uuid.NewString(), "set out", true); err != nil {
						b.Fatal(err)
					}
				}
				if _, err := l.Today(b.Context()); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

func firstOf(b *testing.B, l *lab.Lab) string {
	b.Helper()
	list, err := l.LabSessions(b.Context())
	if err != nil {
		b.Fatal(err)
	}
	return list[0].ID
}

// A bottle that was made for a session is there for that session, though another was planned before it; what it does not
// need, others have.
func TestABottleIsKeptForItsSession(t *testing.T) {
	l, ra, it := newLab(t)
	keep := func(title string) string {
		id := uuid.NewString()
		if _, err := l.KeepLabSession(t.Context(), ra, id, nextWeek(title, "Potassium chloride", "0.1 mol/L"), 0); err != nil {
			t.Fatal(err)
		}
		return id
	}
	first, second := keep("Planned first"), keep("Made for")
	planID, _ := plan(t, l, it, "500 mL")
	run, err := l.BeginTask(t.Context(), it, uuid.NewString(), planID, 0, &lab.TaskOf{Session: second, Task: "make x", Title: "Make potassium chloride"})
	if err != nil {
		t.Fatal(err)
	}
	bottle := goThrough(t, l, it, run.ID, 3.7276).Bottles[0]
	takes := func(id string) float64 {
		t.Helper()
		v, err := l.LabSession(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		return v.Design.Takes[bottle]
	}
	if takes(second) != 315 || takes(first) != 185 {
		t.Errorf("the session it was made for takes %g mL of 500, the one that was planned before %g", takes(second), takes(first))
	}
	if v, err := l.PreviewLabSession(t.Context(), first, nextWeek("Planned first", "Potassium chloride", "0.1 mol/L")); err != nil || v.Design.Takes[bottle] != 185 {
		t.Errorf("while it is changed: %v, %v", v.Design.Takes, err)
	}
	if err := l.RemoveLabSession(t.Context(), ra, second, 1); err != nil {
		t.Fatal(err)
	}
	if takes(first) != 315 {
		t.Errorf("its session is off the plan: %g mL", takes(first))
	}
}
