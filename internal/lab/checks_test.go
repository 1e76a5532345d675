package lab_test

import (
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/core/solution"
	"vialbench/internal/lab"
)

// A failed check puts in doubt what was weighed since the last good one, and what is
// weighed until the next good one, and nothing else.
func TestFailedCheckMarksWeighings(t *testing.T) {
	l, ra, it := newLab(t)
	if _, err := l.Import(t.Context(), ra, lab.Records{Format: lab.RecordsFormat, Balances: sample(t).Balances}, false); err != nil {
		t.Fatal(err)
	}
	balances, err := l.Balances(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	fern := balances[0]
	check := func(reading float64, passes bool) {
		t.Helper()
		c, err := l.CheckBalance(t.Context(), it, fern.ID, uuid.NewString(), 100, 0.0005, reading)
		if err != nil || c.Passed != passes {
			t.Fatalf("%g g: passed %v, %v", reading, c.Passed, err)
		}
	}
	planID, _ := plan(t, l, it, "250 mL")
	before := finish(t, l, it, planID, 0, 1.8638)
	check(100.0003, true)
	between := finish(t, l, it, planID, 0, 1.8640)
	check(100.0051, false)
	preview := func() string {
		t.Helper()
		view, err := l.Preview(t.Context(), it, uuid.NewString(), solution.Kind, chloride(t, "250 mL"))
		if err != nil {
			t.Fatal(err)
		}
		return view.Doubt
	}
	if doubt := preview(); !strings.Contains(doubt, "Fern failed its check on") {
		t.Errorf("a question whose balance failed: “%s”", doubt)
	}
	after := finish(t, l, it, planID, 0, 1.8641)
	check(100.0001, true)
	if doubt := preview(); doubt != "" {
		t.Errorf("after a good check: %s", doubt)
	}
	later := finish(t, l, it, planID, 0, 1.8642)
	for name, c := range map[string]struct {
		run  lab.RunView
		want bool
	}{"before": {before, false}, "between": {between, true}, "after the failed one": {after, true}, "later": {later, false}} {
		view, err := l.Run(t.Context(), c.run.ID)
		if err != nil {
			t.Fatal(err)
		}
		bottle, err := l.Bottle(t.Context(), view.Bottles[0])
		if err != nil || (view.Doubt != "") != c.want || bottle.Doubt != view.Doubt {
			t.Errorf("%s: run in doubt “%s”, bottle “%s”, %v; want %v", name, view.Doubt, bottle.Doubt, err, c.want)
		}
	}
	list, err := l.Dependents(t.Context(), fern.Name)
	if err != nil || len(list) != 4 || list[0].ID != later.ID || list[3].ID != before.ID {
		t.Fatalf("%d runs depend on %s, %v", len(list), fern.Name, err)
	}
	for i, doubted := range []bool{false, true, true, false} {
		if b := list[i].Bottles; len(b) != 1 || *b[0].RunID != list[i].ID || (b[0].Doubt != "") != doubted {
			t.Errorf("%d: %+v", i, b)
		}
	}
	if list, err := l.Dependents(t.Context(), "Moss"); err != nil || len(list) != 0 {
		t.Errorf("%d runs depend on a balance that nobody used, %v", len(list), err)
	}
	if balances, err = l.Balances(t.Context()); err != nil || balances[0].LastCheck == nil || !balances[0].LastCheck.Passed {
		t.Errorf("last check %+v, %v", balances[0].LastCheck, err)
	}
	_, err = l.CheckBalance(t.Context(), it, fern.ID, uuid.NewString(), 500, 600, -1)
	if p := problems(t, err); p["/weight"] == "" || p["/weightLimits"] == "" || p["/reading"] == "" {
		t.Errorf("%v", p)
	}
}
