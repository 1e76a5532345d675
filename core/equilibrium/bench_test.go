package equilibrium

import "testing"

// One triprotic system with activities, from a cold start.
func BenchmarkSpeciation(b *testing.B) {
	m := simple(b, Davies, map[string]float64{"H3PO4": 0.05, "NaOH": 0.075})
	s, err := m.Solver()
	if err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	for b.Loop() {
		s.warm = 0
		s.Solve()
	}
}

// Capacity and balance at 300 values of pH.
func BenchmarkLandscape(b *testing.B) {
	m := simple(b, Davies, map[string]float64{"H3PO4": 0.05})
	s, err := m.Solver()
	if err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	for b.Loop() {
		for i := range 300 {
			s.At(float64(i) * 14 / 299)
			s.Capacity(nil)
		}
	}
}

func BenchmarkUncertainty(b *testing.B) {
	m := simple(b, Davies, map[string]float64{"KH2PO4": 0.025, "Na2HPO4": 0.025})
	for b.Loop() {
		if _, err := m.PH(); err != nil {
			b.Fatal(err)
		}
	}
}
