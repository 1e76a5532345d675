package curve

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"vialbench/core/slip"
	"vialbench/core/uncertain"
)

// The concentration by the last end point of a curve is traced: near that of the fit, and half of it is the half-equivalence.
func TestTraced(t *testing.T) {
	for name, x := range map[string]struct {
		r      Request
		c      float64
		points int
	}{
		"acetic acid": {vinegar(t), 0.0871, 1},
		"phosphoric acid": {func() Request {
			r := vinegar(t)
			r.Flask = stock("Phosphoric acid", "H3PO4", 0.04, 0, "b1", 1)
			r.Analyte = compound(t, "H3PO4")
			return r
		}(), 0.0385, 3},
	} {
		truth := x.r
		truth.Flask.Concentration = uncertain.Exact(x.c)
		b := on(t, x.r)
		b.take(truth.curve(), 0.3, rand.New(rand.NewPCG(5, 6)))
		w, ok := b.Plan.Trace(b.Facts)
		if !ok || math.Abs(w.Value/x.c-1) > 0.01 || !(w.U > 0) || math.Abs(w.Value-x.c) > 2*w.U {
			t.Fatalf("%s: %+v %v, want %g", name, w, ok, x.c)
		}
		if points := w.Figures.Titration.Points; len(points) != x.points {
			t.Errorf("%s: points %v", name, points)
		}
		found, err := slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: "1"})
		if err != nil || math.Abs(found.Calculated/w.Value-1) > 1e-9 {
			t.Errorf("%s: traced as %g, not %g (%v)", name, found.Calculated, w.Value, err)
		}
		half := slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: "0.0435"}
		half.Stated = map[string]string{"acetic acid": "0.0436", "phosphoric acid": "0.0193"}[name]
		found, err = slip.Answer(half)
		if err != nil || len(found.Working) == 0 || !slices.Equal(found.Working[0].Slips, []string{"another point"}) {
			t.Errorf("%s: half of it is %+v (%v)", name, found.Working, err)
		}
	}
	// Before there is an end point, and where acid was added first, nothing is traced.
	if _, ok := vinegar(t).Trace(nil); ok {
		t.Error("traced without a reading")
	}
}
