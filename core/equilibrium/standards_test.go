package equilibrium

import (
	"math"
	"math/cmplx"
	"testing"

	"gonum.org/v1/gonum/mat"

	"vialbench/core/uncertain"
)

// IUPAC Recommendations 2002, Pure Appl. Chem. 74 (2002) 2169, table 2: pH(S) of the primary
// standards from 0 to 50 °C. Composition, constants with their enthalpies and heat
// capacities, water and the Davies equation have to come together for each of them: within
// 0.02 from 5 to 40 °C. At the ends 0.03 is allowed, since a constant with one enthalpy and
// one heat capacity is a parabola about 25 °C (measured: phthalate at 0 °C +0.020, phosphate
// 1:3.5 at 50 °C +0.027, all else within 0.02).
func TestPrimaryStandardsWithTemperature(t *testing.T) {
	celsius := []float64{0, 5, 10, 15, 20, 25, 30, 35, 40, 50}
	for _, x := range []struct {
		name     string
		contents map[string]float64
		pHS      []float64
	}{
		{"hydrogen phthalate", map[string]float64{"KHC8H4O4": 0.05}, []float64{4.000, 3.998, 3.997, 3.998, 4.000, 4.005, 4.011, 4.018, 4.027, 4.050}},
		{"phosphate 1:1", map[string]float64{"KH2PO4": 0.025, "Na2HPO4": 0.025}, []float64{6.984, 6.951, 6.923, 6.900, 6.881, 6.865, 6.853, 6.844, 6.838, 6.833}},
		{"phosphate 1:3.5", map[string]float64{"KH2PO4": 0.008695, "Na2HPO4": 0.03043}, []float64{7.534, 7.500, 7.472, 7.448, 7.429, 7.413, 7.400, 7.389, 7.380, 7.367}},
		{"borax", map[string]float64{"Na2B4O7": 0.01}, []float64{9.464, 9.395, 9.332, 9.276, 9.225, 9.180, 9.139, 9.102, 9.068, 9.011}},
		{"carbonate", map[string]float64{"NaHCO3": 0.025, "Na2CO3": 0.025}, []float64{10.317, 10.245, 10.179, 10.118, 10.062, 10.012, 9.966, 9.926, 9.889, 9.828}},
		{"dihydrogen citrate", map[string]float64{"KC6H7O7": 0.05}, []float64{3.863, 3.840, 3.820, 3.802, 3.788, 3.776, 3.766, 3.759, 3.754, 3.749}},
	} {
		for i, pHS := range x.pHS {
			m := simple(t, Davies, x.contents)
			m.PKw, m.Celsius = nil, uncertain.Exact(celsius[i])
			within := 0.02
			if celsius[i] < 5 || celsius[i] > 40 {
				within = 0.03
			}
			if got := solve(t, m).PH; math.Abs(got-pHS) > within {
				t.Errorf("%s at %g °C: pH %.3f, pH(S) %.3f", x.name, celsius[i], got, pHS)
			}
		}
	}
}

// A second solution by other means: without activities the balance of an acid HnA with
// strong ions is a polynomial in [H⁺], whose one positive root gonum finds as an eigenvalue
// of the companion matrix.
//
//	(h + s − Kw/h)·Σ βj·h^(n−j) − c·Σ (j − z)·βj·h^(n−j) = 0
func TestAgainstPolynomialRoots(t *testing.T) {
	for _, x := range []struct {
		system string
		c, s   float64 // mol/L of the system, charge of the strong ions
	}{
		{"acetic", 0.1, 0},
		{"acetic", 0.1, 0.05},
		{"phosphoric", 0.05, 0},
		{"phosphoric", 0.05, 0.075},
		{"phosphoric", 0.01, 0.028},
		{"citric", 0.02, 0.03},
		{"carbonic", 1e-4, 1e-4},
		{"boric", 0.04, 0.02},
		{"ammonium", 0.1, -0.05},
		{"glycine", 0.1, 0},
		{"glycine", 0.1, -0.1},
		{"lysine", 0.05, -0.02},
		{"edta", 0.01, 0.02},
		{"tris", 0.05, -0.02},
	} {
		system, ok := Find(x.system)
		if !ok {
			t.Fatal(x.system)
		}
		m := Mixture{Celsius: uncertain.Exact(25), Model: Ideal, Amounts: []Amount{{System: system, C: uncertain.Exact(x.c)}}}
		m.AddIon("Na+", 1, uncertain.Exact(math.Max(0, x.s)))
		m.AddIon("Cl-", -1, uncertain.Exact(math.Max(0, -x.s)))
		got := solve(t, m).PH
		if want := byRoots(t, system, x.c, x.s); math.Abs(got-want) > 1e-6 {
			t.Errorf("%s %g mol/L, strong %g: pH %.8f, by roots %.8f", x.system, x.c, x.s, got, want)
		}
	}
}

// byRoots is the pH by the roots of the polynomial, in units of 1e-7 mol/L so that its
// coefficients lie closer together.
func byRoots(t *testing.T, system System, c, s float64) float64 {
	t.Helper()
	const unit = 1e-7
	kw := math.Pow(10, -PKw(25)) / unit / unit
	c, s = c/unit, s/unit
	n := system.Protons()
	beta := make([]float64, n+1) // of h^(n−j)
	beta[0] = 1
	for j, constant := range system.Constants {
		beta[j+1] = beta[j] * math.Pow(10, -constant.PKa) / unit
	}
	// p[k] belongs to h^k of the whole, multiplied by h.
	p := make([]float64, n+3)
	for j, b := range beta {
		power := n - j
		p[power+2] += b
		p[power+1] += b * s
		p[power] -= b * kw
		p[power+1] -= c * (float64(j) - float64(system.Charge())) * b
	}
	degree := n + 2
	companion := mat.NewDense(degree, degree, nil)
	for i := range degree {
		companion.Set(i, degree-1, -p[i]/p[degree])
		if i > 0 {
			companion.Set(i, i-1, 1)
		}
	}
	var eigen mat.Eigen
	if !eigen.Factorize(companion, mat.EigenNone) {
		t.Fatal("no roots")
	}
	best := math.NaN()
	for _, root := range eigen.Values(nil) {
		if real(root) > 0 && math.Abs(imag(root)) < 1e-6*cmplx.Abs(root) && !(real(root) < best) {
			best = real(root)
		}
	}
	for range 5 { // a few steps of Newton take the rounding off the eigenvalue
		value, slope := 0.0, 0.0
		for k := degree; k >= 0; k-- {
			slope = slope*best + value
			value = value*best + p[k]
		}
		best -= value / slope
	}
	return -math.Log10(best * unit)
}
