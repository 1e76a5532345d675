package equilibrium

import (
	"math"
	"testing"

	"vialbench/core/uncertain"
)

// simple makes a mixture of systems of the library with pKw 13.995, as the check values have it.
func simple(t testing.TB, model Model, contents map[string]float64) Mixture {
	t.Helper()
	pKw := 13.995
	m := Mixture{Celsius: uncertain.Exact(25), Model: model, PKw: &pKw}
	for _, text := range sortedKeys(contents) {
		c, ok := CompoundOf(text)
		if !ok {
			t.Fatalf("%s is not known", text)
		}
		m.Add(c, uncertain.Exact(contents[text]))
	}
	return m
}

func sortedKeys(m map[string]float64) []string {
	var keys []string
	for k := range m {
		keys = append(keys, k)
	}
	return keys
}

func solve(t testing.TB, m Mixture) Point {
	t.Helper()
	s, err := m.Solver()
	if err != nil {
		t.Fatal(err)
	}
	return s.Solve()
}

// Recomputed independently in arithmetic of high precision, with the same constants.
func TestPHOfKnownMixtures(t *testing.T) {
	for _, x := range []struct {
		name          string
		contents      map[string]float64
		ideal, davies float64
	}{
		{"acetic acid and acetate", map[string]float64{"CH3COOH": 0.1, "CH3COONa": 0.1}, 4.7562, 4.6492},
		{"hydrogen phthalate", map[string]float64{"KHC8H4O4": 0.05}, 4.1844, 4.0125},
		{"phosphate 1:1", map[string]float64{"KH2PO4": 0.025, "Na2HPO4": 0.025}, 7.1980, 6.8770},
		{"borax", map[string]float64{"Na2B4O7": 0.01}, 9.2362, 9.1762},
		{"carbonate 1:1", map[string]float64{"NaHCO3": 0.025, "Na2CO3": 0.025}, 10.3218, 10.0038},
		{"hydrochloric acid", map[string]float64{"HCl": 0.1}, 1.0000, 1.1070},
		{"hardly any acid", map[string]float64{"HCl": 1e-8}, 6.9759, 6.9759},
		// 20.00 mL of acetic 0.050 + acetate 0.050 and 5.00 mL of 0.10 HCl
		{"buffer with acid", map[string]float64{"CH3COOH": 0.04, "CH3COONa": 0.04, "HCl": 0.02}, 4.280, 4.202},
		{"water with base", map[string]float64{"NaOH": 0.02}, 12.296, 12.236},
		{"phosphoric acid, one proton gone", map[string]float64{"H3PO4": 0.05, "NaOH": 0.05}, 4.702, 4.544},
		{"phosphoric acid, one and a half gone", map[string]float64{"H3PO4": 2.5 / 62.5, "NaOH": 3.75 / 62.5}, 7.198, 6.898},
		{"glycine, second proton half gone", map[string]float64{"C2H5NO2": 1. / 35, "HCl": 1. / 35, "NaOH": 1.5 / 35}, 9.774, 9.694},
	} {
		for model, want := range map[Model]float64{Ideal: x.ideal, Davies: x.davies} {
			tolerance := 0.00006
			if math.Abs(want*1000-math.Round(want*1000)) < 1e-9 {
				tolerance = 0.0006
			}
			if got := solve(t, simple(t, model, x.contents)).PH; math.Abs(got-want) > tolerance {
				t.Errorf("%s, model %q: pH %.4f, want %.4f", x.name, model, got, want)
			}
		}
	}
}
