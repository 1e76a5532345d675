package solution_test

import (
	"cmp"
	"fmt"
	"math"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/solution"
)

// toTheLabel takes a run from its beginning to the label as the sheet asks: what the
// steps propose, the first choice everywhere, masses and volumes as the titles say.
func toTheLabel(t testing.TB, r solution.Request) *script {
	t.Helper()
	s := &script{}
	recipe, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	for range 40 {
		out, err := r.Make(s.facts, today)
		if err != nil {
			t.Fatal(err)
		}
		if out.Status != run.Open {
			return s
		}
		var step run.Step
		for _, x := range out.Steps {
			if x.State == run.Now {
				step = x
			}
		}
		f := fact.Fact{ID: fmt.Sprint("f", len(s.facts)), Kind: step.Kind, Part: step.Part, At: today}
		read := func(value float64, unit string, decimals int) {
			q := quantity.Of(value, unit)
			q.Decimals = decimals
			f.Quantity = &q
		}
		portion := recipe.Portion
		if step.Part > 0 {
			portion = recipe.Also[step.Part-1]
		}
		switch {
		case !step.Asks:
			f.Kind, f.Choice = run.KindDecided, step.Verdicts[0].Choices[0].ID
		case step.Kind == solution.KindTared:
			read(0, "g", 4)
		case step.Kind == solution.KindWeighed, step.Kind == solution.KindMeasured:
			scale := math.Pow10(recipe.Decimals)
			read(math.Round(portion.Take*scale)/scale, step.Unit, recipe.Decimals)
		case step.Kind == solution.KindMadeUp && step.Unit == "g":
			read(recipe.Flask.Volume*r.SolutionDensity, "g", 4)
		case step.Kind == solution.KindMadeUp, step.Kind == run.KindTemperature:
			q, err := quantity.ParseAny(cmp.Or(step.Default, step.Expects), step.Dimensions, step.Unit)
			if err != nil {
				t.Fatal(err)
			}
			f.Quantity = &q
		case step.Input == run.InputCount:
			n := 20
			f.Count = &n
		case step.Input == run.InputLabel:
			f.Date = "2027-01-31"
		default:
			f.Choice = step.Options[0].ID
		}
		if err := run.Admit(r, s.facts, f, today); err != nil {
			t.Fatalf("%s: %v", step.Title, err)
		}
		s.facts = append(s.facts, f)
	}
	t.Fatal("the run does not end")
	return nil
}
