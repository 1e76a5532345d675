package lab_test

import (
	"bytes"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/session"
	"vialbench/core/stock"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
)

// salt is the article of the tests; stocked is a lab that keeps it, in one container of so much.
var salt = stock.Article{Name: "Potassium chloride", Key: "potassium-chloride", Unit: stock.Grams, Minimum: 20, LeadDays: 2}

func stocked(t *testing.T, amount string) (l *lab.Lab, ra, it lab.Actor, article, container string) {
	t.Helper()
	l, ra, it = newLab(t)
	article, container = uuid.NewString(), uuid.NewString()
	if err := l.KeepArticle(t.Context(), it, article, salt, 0); err != nil {
		t.Fatal(err)
	}
	if err := l.KeepContainer(t.Context(), it, container, lab.ContainerChange{Article: article, Amount: amount, Place: "cupboard 3"}); err != nil {
		t.Fatal(err)
	}
	return l, ra, it, article, container
}

func inStore(t *testing.T, l *lab.Lab) lab.ArticleView {
	t.Helper()
	list, err := l.Stockroom(t.Context())
	if err != nil || len(list) != 1 {
		t.Fatalf("%d articles, %v", len(list), err)
	}
	return list[0]
}

// What a run weighs comes out of the container that is open; a correction moves it, a count settles it.
func TestRunsDrawFromTheStore(t *testing.T) {
	l, _, it, article, first := stocked(t, "50 g")
	second := uuid.NewString()
	if err := l.KeepContainer(t.Context(), it, second, lab.ContainerChange{Article: article, Amount: "0.5 kg"}); err != nil {
		t.Fatal(err)
	}
	left := func() string {
		var parts []string
		for _, c := range inStore(t, l).Containers {
			parts = append(parts, fmt.Sprintf("%g", c.Left))
		}
		return strings.Join(parts, " ")
	}
	planID, _ := plan(t, l, it, "500 mL")
	view := finish(t, l, it, planID, 0, 3.7276)
	if left() != "46.2724 500" {
		t.Errorf("after a run: %s g left", left())
	}
	if c := inStore(t, l).Containers[0]; c.Opened != time.Now().UTC().Format(time.DateOnly) {
		t.Errorf("what was weighed from is opened on “%s”", c.Opened)
	}
	correct := func(view lab.RunView, kind string, f fact.Fact) {
		t.Helper()
		view, err := l.Run(t.Context(), view.ID)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range view.Facts {
			if x.Kind == kind {
				f.Replaces = x.ID
			}
		}
		f.ID, f.Reason = uuid.NewString(), "misread"
		if _, err := l.StateFact(t.Context(), it, view.ID, stated(f)); err != nil {
			t.Fatal(err)
		}
	}
	grams := quantity.Of(3.7376, "g")
	correct(view, "weighed", fact.Fact{Kind: "weighed", Quantity: &grams})
	if left() != "46.2624 500" {
		t.Errorf("after a correction: %s g left", left())
	}
	correct(view, "mark", fact.Fact{Kind: "mark", Choice: "past"}) // the run is void, what was weighed is gone all the same
	if left() != "46.2624 500" {
		t.Errorf("of a void run: %s g left", left())
	}
	count := uuid.NewString()
	for range 2 { // a count that is sent twice is one
		if err := l.CountContainer(t.Context(), it, first, count, "45.1", "by the balance"); err != nil {
			t.Fatal(err)
		}
	}
	if left() != "45.1 500" {
		t.Errorf("after a count: %s g left", left())
	}
	correct(view, "mark", fact.Fact{Kind: "mark", Choice: "reached"})
	if left() != "45.1 500" {
		t.Errorf("what was taken before the count is in it: %s g left", left())
	}
	entries, err := l.ContainerEntries(t.Context(), first)
	var said []string
	for _, e := range entries {
		said = append(said, fmt.Sprintf("%g %s %s %v", e.Amount, e.Note, e.Maker.Initials, e.RunID != nil))
	}
	want := fmt.Sprintf("45.1 by the balance IT false|3.7376 run %d, potassium chloride, 0.1 mol/L IT true|50 as it came IT false", view.Number)
	if err != nil || strings.Join(said, "|") != want {
		t.Errorf("%s, %v", strings.Join(said, "|"), err)
	}

	// Once the first is empty it is gone, and the second is opened.
	if err := l.CountContainer(t.Context(), it, first, uuid.NewString(), "0", ""); err != nil {
		t.Fatal(err)
	}
	finish(t, l, it, planID, 0, 3.7276)
	if c := inStore(t, l).Containers; len(c) != 1 || c[0].Left != 496.2724 || c[0].Opened == "" {
		t.Errorf("%+v", c)
	}
}

func TestWhatIsNotKeptIsNotDrawn(t *testing.T) {
	l, ra, it := newLab(t)
	planID, _ := plan(t, l, it, "500 mL")
	view := finish(t, l, it, planID, 0, 3.7276)
	spoilt, open := finish(t, l, it, planID, 0, 3.7276), uuid.NewString()
	for _, f := range spoilt.Facts {
		if f.Kind == "mark" {
			past := fact.Fact{ID: uuid.NewString(), Kind: "mark", Choice: "past", Replaces: f.ID, Reason: "misread"}
			if _, err := l.StateFact(t.Context(), it, spoilt.ID, stated(past)); err != nil {
				t.Fatal(err)
			}
		}
	}
	if _, err := l.BeginRun(t.Context(), it, open, planID, 0); err != nil {
		t.Fatal(err)
	}
	article := uuid.NewString()
	if err := l.KeepArticle(t.Context(), ra, article, salt, 0); err != nil {
		t.Fatal(err)
	}
	if err := l.KeepContainer(t.Context(), it, uuid.NewString(), lab.ContainerChange{Article: article, Amount: "50"}); err != nil {
		t.Fatal(err)
	}
	// A run that ended before the store was kept takes nothing, though it is corrected, finished or void; nor one that had begun.
	for _, ended := range []lab.RunView{view, spoilt} {
		for _, f := range ended.Facts {
			if f.Kind == "weighed" {
				grams := quantity.Of(3.7376, "g")
				again := fact.Fact{ID: uuid.NewString(), Kind: "weighed", Quantity: &grams, Replaces: f.ID, Reason: "misread"}
				if _, err := l.StateFact(t.Context(), it, ended.ID, stated(again)); err != nil {
					t.Fatal(err)
				}
			}
		}
	}
	goThrough(t, l, it, open, 3.7276)
	if c := inStore(t, l).Containers; c[0].Left != 50 || c[0].Opened != "" {
		t.Errorf("%+v", c)
	}
}

func TestKeepingTheStore(t *testing.T) {
	l, ra, it, article, container := stocked(t, "50 g")
	var problems verdict.Problems
	var conflict lab.Conflict
	var missing lab.NotFound
	keep := func(a stock.Article, id string, version int) error {
		return l.KeepArticle(t.Context(), it, id, a, version)
	}
	change := func(c lab.ContainerChange, id string) error { return l.KeepContainer(t.Context(), it, id, c) }
	if err := keep(salt, article, 0); err != nil { // sent twice
		t.Error(err)
	}
	if err := keep(salt, uuid.NewString(), 0); !errors.As(err, &conflict) {
		t.Errorf("the same substance twice: %v", err)
	}
	if err := keep(stock.Article{Name: "potassium chloride", Unit: stock.Pieces}, uuid.NewString(), 0); !errors.As(err, &conflict) {
		t.Errorf("the same name twice: %v", err)
	}
	if err := keep(stock.Article{Unit: stock.Pieces}, uuid.NewString(), 0); !errors.As(err, &problems) || problems[0].Field != "/article/name" {
		t.Errorf("without a name: %v", err)
	}
	more := salt
	more.Minimum, more.Name = 100, "Potassium chloride, fine"
	if err := keep(more, article, 1); err != nil {
		t.Fatal(err)
	}
	if a := inStore(t, l); a.Minimum != 100 || a.Name != more.Name || a.Version != 2 || a.Standing.Order != 50 {
		t.Errorf("%+v", a)
	}
	if err := keep(salt, article, 1); !errors.As(err, &conflict) {
		t.Errorf("changed over a change: %v", err)
	}
	counted := stock.Article{Name: "Salt", Unit: stock.Pieces}
	if err := keep(counted, article, 2); !errors.As(err, &conflict) || !strings.Contains(err.Error(), "counted in g") {
		t.Errorf("another unit with containers: %v", err)
	}
	if err := keep(salt, uuid.NewString(), 3); !errors.As(err, &missing) {
		t.Errorf("changes of what is not there: %v", err)
	}

	for amount, field := range map[string]string{"": "/amount", "0": "/amount", "50 mL": "/amount"} {
		if err := change(lab.ContainerChange{Article: article, Amount: amount}, uuid.NewString()); !errors.As(err, &problems) || problems[0].Field != field {
			t.Errorf("a container of “%s”: %v", amount, err)
		}
	}
	if err := change(lab.ContainerChange{Article: uuid.NewString(), Amount: "1"}, uuid.NewString()); !errors.As(err, &missing) {
		t.Errorf("a container of nothing that is kept: %v", err)
	}
	if err := change(lab.ContainerChange{Article: article, Amount: "70"}, container); err != nil { // sent twice
		t.Error(err)
	}
	if err := change(lab.ContainerChange{Article: article, Expires: "2031-01-31", Place: "cellar", Version: 1}, container); err != nil {
		t.Fatal(err)
	}
	if c := inStore(t, l).Containers[0]; c.Expires != "2031-01-31" || c.Place != "cellar" || c.Left != 50 || c.Version != 2 {
		t.Errorf("%+v", c)
	}
	if err := change(lab.ContainerChange{Article: article, Version: 1}, container); !errors.As(err, &conflict) {
		t.Errorf("a container changed over a change: %v", err)
	}
	if err := change(lab.ContainerChange{Article: article, Version: 2, Expires: "soon"}, container); !errors.As(err, &problems) || problems[0].Field != "/expires" {
		t.Errorf("expires soon: %v", err)
	}
	if err := l.CountContainer(t.Context(), it, container, uuid.NewString(), "-3", ""); !errors.As(err, &problems) {
		t.Errorf("less than nothing: %v", err)
	}
	if err := l.CountContainer(t.Context(), it, uuid.NewString(), uuid.NewString(), "3", ""); !errors.As(err, &missing) {
		t.Errorf("a count of nothing: %v", err)
	}
	if _, err := l.ContainerEntries(t.Context(), uuid.NewString()); !errors.As(err, &missing) {
		t.Errorf("entries of nothing: %v", err)
	}

	if err := l.RemoveArticle(t.Context(), ra, article, 1); !errors.As(err, &conflict) {
		t.Errorf("taken off at an old version: %v", err)
	}
	for range 2 {
		if err := l.RemoveArticle(t.Context(), ra, article, 2); err != nil {
			t.Fatal(err)
		}
	}
	if list, err := l.Stockroom(t.Context()); err != nil || len(list) != 0 {
		t.Errorf("%d left, %v", len(list), err)
	}
	if err := keep(salt, uuid.NewString(), 0); err != nil { // a name is free again
		t.Error(err)
	}
}

// A session that makes more than the store holds is short days before, and the store says by when to order: 15 places of
// 60 mL and 5 % are 945 mL; 1 L of 0.1 mol/L takes 7.4551 g.
func TestASessionIsShortOfWhatTheStoreLacks(t *testing.T) {
	l, ra, it, _, container := stocked(t, "20 g")
	keep := func(title string) lab.PlannedSession {
		s := nextWeek(title, "Potassium chloride", "0.1 mol/L")
		s.Groups = 14
		v, err := l.KeepLabSession(t.Context(), ra, uuid.NewString(), s, 0)
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	first, second, third := keep("Chloride"), keep("Chloride again"), keep("Chloride once more")
	if len(first.Design.Draws) != 1 || first.Design.Draws[0] != (session.Draw{Key: "potassium-chloride", Name: "Potassium chloride", Amount: 7.455, Unit: "g"}) {
		t.Errorf("%+v", first.Design.Draws)
	}
	if first.Design.Supplies[0].Chosen != 0 || second.Design.Supplies[0].Chosen != 0 || third.Design.Supplies[0].Chosen != -1 ||
		!strings.Contains(third.Design.Supplies[0].Short, "Making it takes 7.46 g of potassium chloride, and 5.09 g are in the store.") {
		t.Errorf("%+v", third.Design.Supplies)
	}
	a := inStore(t, l)
	day := first.StartsAt.AddDate(0, 0, -2)
	for day.Weekday() == time.Saturday || day.Weekday() == time.Sunday {
		day = day.AddDate(0, 0, -1)
	}
	// Below the minimum of 20 g after the first session; the third finds 2.365 g too little.
	if s := a.Standing; s.Planned < 22.364 || s.Planned > 22.366 || s.Order < 22.36 || s.Order > 22.37 || s.OrderBy != day.Format(time.DateOnly) || s.Late {
		t.Errorf("%+v, want by %s", s, day.Format(time.DateOnly))
	}
	// What is being made has left the store: it is not asked for twice.
	planID, _ := plan(t, l, it, "1 L")
	run, err := l.BeginTask(t.Context(), it, uuid.NewString(), planID, 0, &lab.TaskOf{Session: first.ID, Task: "make x", Title: "Make potassium chloride"})
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range []fact.Fact{{Kind: "tared", Quantity: of(0, "g")}, {Kind: "weighed", Quantity: of(7.4551, "g")}} {
		f.ID = uuid.NewString()
		if _, err := l.StateFact(t.Context(), it, run.ID, stated(f)); err != nil {
			t.Fatal(err)
		}
	}
	if a = inStore(t, l); a.Containers[0].Left != 12.5449 || a.Standing.Planned > 14.92 || a.Standing.Planned < 14.9 {
		t.Errorf("%g g left, %g g planned", a.Containers[0].Left, a.Standing.Planned)
	}
	if err := l.CountContainer(t.Context(), it, container, uuid.NewString(), "100", "found some more"); err != nil {
		t.Fatal(err)
	}
	if v, err := l.LabSession(t.Context(), third.ID); err != nil || v.Design.Supplies[0].Chosen != 0 || inStore(t, l).Standing.OrderBy != "" {
		t.Errorf("with enough: %+v, %v", v.Design.Supplies, err)
	}
}

func of(x float64, unit string) *quantity.Quantity {
	q := quantity.Of(x, unit)
	return &q
}

// The store goes out and comes in with all records; into a lab that keeps the same substance, its containers do.
func TestTheStoreIsExportedWhole(t *testing.T) {
	l, _, it, _, container := stocked(t, "50 g")
	planID, _ := plan(t, l, it, "500 mL")
	finish(t, l, it, planID, 0, 3.7276)
	if err := l.CountContainer(t.Context(), it, container, uuid.NewString(), "46.2", "by the balance"); err != nil {
		t.Fatal(err)
	}
	finish(t, l, it, planID, 0, 3.7277)
	records := exported(t, l)
	other, ra2, _ := newLab(t)
	for range 2 {
		if _, err := other.ImportFrom(t.Context(), ra2, bytes.NewReader(records.Bytes()), false); err != nil {
			t.Fatal(err)
		}
		if c := inStore(t, other).Containers; len(c) != 1 || c[0].Left != 42.4723 || c[0].Place != "cupboard 3" {
			t.Errorf("%+v", c)
		}
	}
	section := func(of string) string {
		_, rest, _ := strings.Cut(of, "\"store\": [")
		here, _, _ := strings.Cut(rest, "\"plans\"")
		return here
	}
	if was, is := section(records.String()), section(exported(t, other).String()); was != is || !strings.Contains(was, "cupboard 3") {
		t.Errorf("goes out again as %s, was %s", is, was)
	}
	entries, err := other.ContainerEntries(t.Context(), container)
	if err != nil || len(entries) != 4 {
		t.Errorf("%d entries, %v", len(entries), err)
	}
	third, ra3, _, _, _ := stocked(t, "7 g")
	if _, err := third.ImportFrom(t.Context(), ra3, bytes.NewReader(records.Bytes()), false); err != nil {
		t.Fatal(err)
	}
	if c := inStore(t, third).Containers; len(c) != 2 {
		t.Errorf("%+v", c)
	}
}
