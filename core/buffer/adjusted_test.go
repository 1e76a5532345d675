package buffer

import (
	"math"
	"testing"

	"vialbench/core/uncertain"
)

// adjusted is a Tris buffer with so much of both at first, and then acid or base added, in mL.
func adjusted(t *testing.T, acid, base float64) (*account, *tube) {
	t.Helper()
	r := request(t, "tris", 8.07, 0.1, solid(t, "tris-hydrochloride"), solid(t, "tris"))
	a, err := r.follow(nil)
	if err != nil {
		t.Fatal(err)
	}
	tube := &a.tubes[0]
	tube.acid, tube.base = uncertain.Exact(acid), uncertain.Exact(base)
	return a, tube
}

// Acid brings a buffer down and base up, by what the charge balance asks: of 25 mmol of Tris, about
// half of it base, 5 mL of 1 mol/L acid turn 5 mmol: log(7.5/17.5) is −0.368 below log(12.5/12.5).
func TestAdjustedByAcidOrBase(t *testing.T) {
	pH := func(acid, base float64) float64 {
		a, tube := adjusted(t, acid, base)
		s, err := a.mixture(tube, uncertain.Exact(250), 25).Solver()
		if err != nil {
			t.Fatal(err)
		}
		return s.Solve().PH
	}
	before := pH(0, 0)
	b := 25 / (1 + math.Pow(10, -(before-8.072-0.085))) // mmol of base, with the activity of the cation
	shift := func(mmol float64) float64 { return math.Log10((b+mmol)/(25-b-mmol)) - math.Log10(b/(25-b)) }
	if got := pH(5, 0) - before; math.Abs(got-shift(-5)) > 0.02 {
		t.Errorf("5 mL of acid move it by %.3f, want %.3f", got, shift(-5))
	}
	if got := pH(0, 5) - before; math.Abs(got-shift(5)) > 0.02 {
		t.Errorf("5 mL of base move it by %.3f, want %.3f", got, shift(5))
	}
	a, tube := adjusted(t, 5, 2)
	ions := map[string]float64{}
	for _, ion := range a.mixture(tube, uncertain.Exact(250), 25).Strong {
		ions[ion.Formula] += float64(ion.Charge) * ion.C.Value
	}
	if math.Abs(ions["Na+"]-2./250) > 1e-9 || ions["Cl-"] > -5./250 {
		t.Errorf("ions, with their charge: %v", ions)
	}
	if m := a.made(tube, 250, 25); math.Abs(m.StrongAcid-0.005) > 1e-9 || math.Abs(m.StrongBase-0.002) > 1e-9 {
		t.Errorf("%+v", m)
	}
}

// Before the mark there are two fifths of the flask in water, what was measured in, and what was
// added; never more than the flask.
func TestVolumeInTheBeaker(t *testing.T) {
	a, tube := adjusted(t, 3, 4)
	if got := a.beaker(tube); math.Abs(got-107) > 1e-9 {
		t.Errorf("%.2f mL, want 100 of water and 7 that were added", got)
	}
	tube.acid = uncertain.Exact(400)
	if got := a.beaker(tube); got != 250 {
		t.Errorf("%.1f mL in a flask of 250", got)
	}
	r := request(t, "tris", 8.07, 0.1, stock(t, "hydrochloric-acid", 1), solid(t, "tris"))
	wet, err := r.follow(nil)
	if err != nil {
		t.Fatal(err)
	}
	wet.tubes[0].taken[0] = uncertain.Exact(12)
	if got := wet.beaker(&wet.tubes[0]); math.Abs(got-112) > 1e-9 {
		t.Errorf("%.2f mL with 12 mL of a stock", got)
	}
}
