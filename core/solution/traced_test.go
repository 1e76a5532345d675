package solution_test

import (
	"math"
	"testing"

	"vialbench/core/slip"
)

// What is traced of a run gives its concentration, and says what the balance can show.
func TestTracedIsTheFigure(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	s := bench("5.1234 g")
	out := mustMake(t, r, s)
	w, ok := r.Trace(s.facts)
	if !ok || math.Abs(w.Value/out.Figures[0].Value-1) > 1e-9 || w.Unit != "mol/L" {
		t.Fatalf("%+v %v", w, ok)
	}
	found, err := slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: "0.0205"})
	if err != nil || math.Abs(found.Calculated/w.Value-1) > 1e-6 {
		t.Errorf("traced as %g, the run gives %g (%v)", found.Calculated, w.Value, err)
	}
	if f := w.Figures.Solution; math.Abs(f.Mass-5.1234) > 0.004 || f.Flask.ML != 250 || f.Division != 1e-4 || len(f.Ions) == 0 {
		t.Errorf("%+v", f)
	}
	if _, ok := r.Trace(nil); ok {
		t.Error("traced before anything was weighed")
	}
	grams := request("potassium-hydrogen-phthalate", "20 g/L", "250 mL")
	if _, ok := grams.Trace(s.facts); ok {
		t.Error("traced in g/L, which is not laid out")
	}
}
