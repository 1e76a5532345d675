package uncertain_test

import (
	"fmt"
	"math"
	"testing"

	"vialbench/core/uncertain"
)

func ExampleSimulate() {
	mass := uncertain.New(5.1, 0.0003, uncertain.Source{ID: "mass"})
	flask := uncertain.WithLimits(0.25, 0.00015, uncertain.TriangularShape, uncertain.Source{ID: "flask"})
	s := uncertain.Simulate([]uncertain.Number{mass, flask}, func(x []float64) float64 { return x[0] / x[1] }, 100_000, 1)
	first := mass.Over(flask)
	fmt.Printf("%.3f, u = %.4f; first order %.3f, u = %.4f; confirmed: %v\n", s.Mean, s.U, first.Value, first.U(), s.Confirms(first))
	// Output: 20.400, u = 0.0051; first order 20.400, u = 0.0051; confirmed: true
}

// JCGM 101:2008, 9.2: the sum of four inputs of mean 0 and standard deviation 1
// (from memory). Normal: 95 % interval ±3.92. Rectangular: ±3.88.
func TestSupplementAdditive(t *testing.T) {
	for shape, want := range map[uncertain.Shape]float64{uncertain.NormalShape: 3.92, uncertain.RectangularShape: 3.88} {
		var inputs []uncertain.Number
		for i := range 4 {
			inputs = append(inputs, uncertain.New(0, 1, uncertain.Source{ID: fmt.Sprint(i), Shape: shape}))
		}
		s := uncertain.Simulate(inputs, func(x []float64) float64 { return x[0] + x[1] + x[2] + x[3] }, 1_000_000, 7)
		near(t, "u", s.U, 2, 0.01)
		near(t, string(shape)+" low", s.Low, -want, 0.02)
		near(t, string(shape)+" high", s.High, want, 0.02)
	}
}

// JCGM 101:2008, 9.2.4: one rectangular input ten times as wide as the three normal
// ones rules: u 10.1, 95 % interval ±17.0 where the first order says ±19.8 (from
// memory). The first order is not confirmed.
func TestSupplementDominantRectangle(t *testing.T) {
	inputs := []uncertain.Number{uncertain.New(0, 10, uncertain.Source{ID: "wide", Shape: uncertain.RectangularShape})}
	sum := inputs[0]
	for i := range 3 {
		n := uncertain.New(0, 1, uncertain.Source{ID: fmt.Sprint(i)})
		inputs, sum = append(inputs, n), sum.Plus(n)
	}
	s := uncertain.Simulate(inputs, func(x []float64) float64 { return x[0] + x[1] + x[2] + x[3] }, 1_000_000, 3)
	near(t, "u", s.U, 10.1, 0.05)
	near(t, "half of the interval", (s.High-s.Low)/2, 17.0, 0.05)
	if s.Confirms(sum) {
		t.Error("the first order is confirmed")
	}
}

// A square at its foot has no first order at all: u is 0 there, the draws say √2·u².
func TestSimulationSeesWhatFirstOrderCannot(t *testing.T) {
	x := uncertain.New(0, 0.1, uncertain.Source{ID: "x"})
	s := uncertain.Simulate([]uncertain.Number{x}, func(v []float64) float64 { return v[0] * v[0] }, 200_000, 5)
	near(t, "mean", s.Mean, 0.01, 0.0002)
	near(t, "u", s.U, math.Sqrt2*0.01, 0.0003)
	if first := x.Times(x); first.U() != 0 || s.Confirms(first) {
		t.Errorf("first order u = %g", first.U())
	}
}

// What shares a source moves together, and the same seed draws the same.
func TestDrawsShareSources(t *testing.T) {
	a := uncertain.New(1, 0.1, uncertain.Source{ID: "pipette"})
	difference := func(x []float64) float64 { return x[0] - x[1] }
	if s := uncertain.Simulate([]uncertain.Number{a, a.Scale(1)}, difference, 2000, 1); s.U != 0 {
		t.Errorf("a difference of two equal deliveries: u = %g", s.U)
	}
	b := uncertain.New(1, 0.1, uncertain.Source{ID: "other"})
	run := func(seed uint64) uncertain.Simulation {
		return uncertain.Simulate([]uncertain.Number{a, b}, difference, 2000, seed)
	}
	if run(9) != run(9) || run(9) == run(10) {
		t.Error("draws do not follow the seed")
	}
}

// Student's t, 97.5 % (tables; from memory) for 1 … 10 degrees of freedom, and the
// end gauge of GUM H.1: contributions 25, 9.7, 2.9, 16.6 nm with 18, 25.6, 50, 2
// degrees of freedom are u = 32 nm with 16 effective ones (from memory).
func TestCoverage(t *testing.T) {
	for i, want := range []float64{12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228} {
		n := uncertain.New(1, 1, uncertain.Source{ID: "s", DoF: float64(i + 1)})
		near(t, fmt.Sprintf("t(%d)", i+1), n.CoverageFactor(), want, 0.0006)
	}
	var gauge uncertain.Number
	for i, c := range [][2]float64{{25, 18}, {9.7, 25.6}, {2.9, 50}, {16.6, 2}} {
		gauge = gauge.Plus(uncertain.New(0, c[0], uncertain.Source{ID: fmt.Sprint(i), DoF: c[1]}))
	}
	near(t, "u / nm", gauge.U(), 32, 0.5)
	if nu := math.Floor(gauge.EffectiveDoF()); nu != 16 {
		t.Errorf("effective degrees of freedom %g, want 16", nu)
	}
	if k := uncertain.New(1, 1, src("known")).CoverageFactor(); k != uncertain.Coverage {
		t.Errorf("k = %g without degrees of freedom", k)
	}
}

// A five-input model, 100 000 draws.
func BenchmarkSimulate(b *testing.B) {
	inputs := []uncertain.Number{
		uncertain.New(5.1, 0.0003, src("mass")),
		uncertain.WithLimits(0.9995, 0.0005, uncertain.RectangularShape, src("assay")),
		uncertain.New(204.2223, 0.0047, src("molar mass")),
		uncertain.WithLimits(250, 0.15, uncertain.TriangularShape, src("flask")),
		uncertain.New(0, 0.03, src("filling")),
	}
	for b.Loop() {
		uncertain.Simulate(inputs, func(x []float64) float64 { return 1000 * x[0] * x[1] / x[2] / (x[3] + x[4]) }, 100_000, 1)
	}
}

// A normal of mean 100 and u 2 has its 95 % interval at 100 ± 3.92, and its draws spread
// by 2 about their mean, not about nought.
func TestDrawsAwayFromNought(t *testing.T) {
	x := uncertain.New(100, 2, uncertain.Source{ID: "x"})
	s := uncertain.Simulate([]uncertain.Number{x}, func(v []float64) float64 { return v[0] }, 400_000, 11)
	near(t, "mean", s.Mean, 100, 0.02)
	near(t, "u", s.U, 2, 0.01)
	near(t, "low", s.Low, 96.08, 0.03)
	near(t, "high", s.High, 103.92, 0.03)
	if !s.Confirms(x) {
		t.Error("the first order is not confirmed")
	}
	off := s
	off.High += 0.25 // more than a tenth of u
	if off.Confirms(x) {
		t.Error("an interval that ends elsewhere confirms the first order")
	}
}
