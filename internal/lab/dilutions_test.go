package lab_test

import (
	"encoding/json"
	"errors"
	"math"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/core/dilution"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/internal/lab"
)

// design is the ladder of a run.
func design(v lab.RunView) dilution.Design { return v.Design.(dilution.Design) }

// makeRack makes all tubes of a dilution at 20 °C, labels them, and tells the facts that were last
// of their kind.
func makeRack(t *testing.T, l *lab.Lab, by lab.Actor, view lab.RunView) (lab.RunView, map[string]string) {
	t.Helper()
	n := func(n int) *int { return &n }
	ids := map[string]string{}
	state := func(f fact.Fact) {
		t.Helper()
		f.ID = uuid.NewString()
		ids[f.Kind] = f.ID
		var err error
		if view, err = l.StateFact(t.Context(), by, view.ID, stated(f)); err != nil {
			t.Fatalf("%s of tube %d: %v", f.Kind, f.Part+1, err)
		}
	}
	q20 := quantity.Of(20, "°C")
	state(fact.Fact{Kind: "temperature", Quantity: &q20})
	for i := range design(view).Request.Rungs {
		for _, s := range view.Outcome.Steps {
			if s.Part != i || s.Kind == "temperature" || s.Kind == "labelled" {
				continue
			}
			f := fact.Fact{Kind: s.Kind, Part: i}
			switch s.Kind {
			case "rinsed":
				f.Count = n(2)
			case "taken":
				if f.Choice = "delivered"; s.Input == run.InputReadings {
					before, after := quantity.Of(0, "mL"), quantity.Of(design(view).Request.Rungs[i].Taken, "mL")
					f.Choice, f.Quantity, f.After = "", &before, &after
				}
			case "filled":
				f.Choice = "reached"
			case "mixed":
				f.Count = n(20)
			}
			state(f)
		}
	}
	state(fact.Fact{Kind: "labelled", Date: "2030-01-31"})
	return view, ids
}

// A chain from a bottle on the shelf: a rack with the bottle as its parent, each tube
// the parent of the next, the stock drawn once; a correction moves all that hangs on
// it, and another lab takes the records in.
func TestDilutionFromABottle(t *testing.T) {
	l, ra, it := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	planID, _ := plan(t, l, it, "100 mL")
	stock := finish(t, l, it, planID, 0, 0.7455).Bottles[0]
	q := dilution.Question{
		Mode:      dilution.Chain,
		Stock:     dilution.Stock{Bottle: stock},
		Factors:   []string{"10", "10", "10"},
		Class:     "A",
		Keep:      20,
		Rinse:     5,
		Objective: dilution.LeastUncertainty,
	}
	keep := func() (lab.PlanView, error) {
		question, err := json.Marshal(q)
		if err != nil {
			t.Fatal(err)
		}
		return l.CreatePlan(t.Context(), it, uuid.NewString(), dilution.Kind, question)
	}
	kept, err := keep()
	if err != nil {
		t.Fatal(err)
	}
	view, err := l.BeginRun(t.Context(), it, uuid.NewString(), kept.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	view, ids := makeRack(t, l, it, view)
	state := func(f fact.Fact) {
		t.Helper()
		f.ID = uuid.NewString()
		ids[f.Kind] = f.ID
		if view, err = l.StateFact(t.Context(), it, view.ID, stated(f)); err != nil {
			t.Fatalf("%s of tube %d: %v", f.Kind, f.Part+1, err)
		}
	}
	rack := func() (concentrations []float64, states string) {
		t.Helper()
		family, err := l.Family(t.Context(), stock)
		if err != nil {
			t.Fatal(err)
		}
		for _, k := range family[1:] {
			c := k.Product.Figures[0]
			unit, err := quantity.FindUnit(c.Unit)
			if err != nil {
				t.Error(err)
			}
			concentrations = append(concentrations, c.Value*unit.Factor)
			states += k.State + " "
		}
		return concentrations, states
	}
	got, states := rack()
	if len(got) != 3 || states != "shelf shelf shelf " || math.Abs(got[2]/got[0]-0.01) > 1e-4 {
		t.Fatalf("rack %v, %s", got, states)
	}
	family, err := l.Family(t.Context(), view.Bottles[0])
	if err != nil || len(family) != 4 || family[0].ID != stock || len(family[0].From) != 0 || family[3].From[0] != family[2].ID {
		t.Errorf("family of %d, %v", len(family), err)
	}
	bottle, err := l.Bottle(t.Context(), stock)
	if err != nil || len(bottle.Takings) != 1 || bottle.Takings[0].Volume != design(view).Request.Rungs[0].Taken+5 {
		t.Errorf("takings %+v, %v", bottle.Takings, err)
	}
	// Along a chain each tube gives to the next, with what rinsed the pipette.
	for i, want := range []float64{design(view).Request.Rungs[1].Taken + 5, design(view).Request.Rungs[2].Taken + 5, 0} {
		b, err := l.Bottle(t.Context(), view.Bottles[i])
		if err != nil || math.Abs(b.Volume-b.Left()-want) > 1e-9 || (want > 0) != (len(b.Takings) == 1) {
			t.Errorf("%g mL taken out of tube %d, want %g: %+v %v", b.Volume-b.Left(), i+1, want, b.Takings, err)
		}
	}
	// the balance fails its check: the stock is in doubt, and what was made from it
	balances, err := l.Balances(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, b := range balances {
		if _, err := l.CheckBalance(t.Context(), it, b.ID, uuid.NewString(), 100, 0.0005, 101); err != nil {
			t.Fatal(err)
		}
	}
	last, err := l.Bottle(t.Context(), family[3].ID)
	if err != nil || strings.Count(last.Doubt, "Made from bottle") != 3 || !strings.Contains(last.Doubt, "failed its check") {
		t.Errorf("doubt “%s”, %v", last.Doubt, err)
	}
	// the balance was misread when the stock was made: all of it moves along
	var made lab.RunView
	if made, err = l.Run(t.Context(), *family[0].RunID); err != nil {
		t.Fatal(err)
	}
	weighed := func(grams float64) {
		t.Helper()
		for _, line := range made.Facts {
			if line.Kind != "weighed" || line.Body.Replaces != "" {
				continue
			}
			q := quantity.Of(grams, "g")
			q.Decimals = 4
			newest := line.ID
			for _, later := range made.Facts {
				if later.Replaces != nil && *later.Replaces == newest {
					newest = later.ID
				}
			}
			if made, err = l.StateFact(
				t.Context(),
				it,
				made.ID,
				stated(fact.Fact{ID: uuid.NewString(), Kind: "weighed", Quantity: &q, Replaces: newest, Reason: "misread"}),
			); err != nil {
				t.Fatal(err)
			}
			return
		}
	}
	weighed(0.7530)
	moved, _ := rack()
	for i := range moved {
		if math.Abs(moved[i]/got[i]-0.7530/0.7455) > 1e-6 {
			t.Errorf("tube %d went from %g to %g", i+1, got[i], moved[i])
		}
	}
	weighed(0.7455)
	if back, _ := rack(); math.Abs(back[2]/got[2]-1) > 1e-9 {
		t.Errorf("put right again: %v, at first %v", back, got)
	}
	// the last one went past the mark after all: the rack is void until it is put right
	for _, line := range view.Facts {
		if line.Kind == "filled" && line.Body.Part == 2 {
			state(fact.Fact{Kind: "filled", Part: 2, Choice: "past", Replaces: line.ID, Reason: "looked again"})
		}
	}
	if _, states = rack(); states != "void void void " {
		t.Errorf("after the correction %s", states)
	}
	other, rb, _ := newLab(t)
	if _, err := other.ImportFrom(t.Context(), rb, exported(t, l), false); err != nil {
		t.Fatalf("another lab: %v", err)
	}
	runs, err := other.Runs(t.Context(), "", "", 0)
	if err != nil || runs.Items[0].Plan.Title != kept.Title {
		t.Fatalf("%+v %v", runs.Items, err)
	}
	plan, err := other.Plan(t.Context(), runs.Items[0].PlanID)
	if err != nil {
		t.Fatal(err)
	}
	theirs := plan.Design.(dilution.Design).Request.Stock.Bottle // the ID on its label
	if kin, err := other.Family(
		t.Context(),
		theirs,
	); err != nil || len(kin) != 4 || theirs != stock || *kin[0].RunID != *family[0].RunID ||
		kin[3].From[0] != kin[2].ID {
		t.Errorf("family in another lab: %+v %v", kin, err)
	}
	q.Stock.Bottle = uuid.NewString()
	var gone lab.NotFound
	if _, err := keep(); !errors.As(err, &gone) {
		t.Errorf("a bottle that is not there: %v", err)
	}
}
