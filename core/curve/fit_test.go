package curve

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vialbench/core/equilibrium"
	"vialbench/core/verdict"
)

// Without noise a fit finds what the curve was made with, from a start that is off.
func TestFitFindsWhatTheCurveWasMadeWith(t *testing.T) {
	truth := of(t, "H3PO4", 0.0987, "NaOH")
	truth.Carbonate = 0.015
	points := measured(truth, 0, nil)
	for i := range points {
		points[i].PH += 0.03
	}
	start := of(t, "H3PO4", 0.105, "NaOH")
	constants := start.Analyte.Units[0].System.Constants
	was := constants[1].PKa
	f, err := start.Fit(points, []string{FitC, FitPKa, FitCarbonate, FitOffset})
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []float64{0.0987, constants[0].PKa, constants[1].PKa, constants[2].PKa, 0.015, 0.03} {
		if got := f.Parameters[i].Value.Value; math.Abs(got-want) > 1e-5*math.Max(1, want) {
			t.Errorf("%s: %.6f, want %.6f", f.Parameters[i].Name, got, want)
		}
	}
	if f.SD > 1e-6 || constants[1].PKa != was || len(f.Residuals) != len(points) || f.Parameters[2].Listed != was {
		t.Errorf("s %g; the library's constant is %g", f.SD, constants[1].PKa)
	}
}

// What a fit finds lies within its own uncertainty in 95 of 100 draws of noise: concentration,
// constant and offset of acetic acid, 0.02 pH.
func TestFitCoversTheTruth(t *testing.T) {
	truth := of(t, "CH3COOH", 0.1, "NaOH")
	points := measured(truth, 0, nil)
	random := rand.New(rand.NewPCG(1, 2))
	const draws = 1000
	hits := [3]int{}
	want := [3]float64{0.1, truth.Analyte.Units[0].System.Constants[0].PKa, 0}
	for range draws {
		noisy := make([]Point, len(points))
		for i, p := range points {
			noisy[i] = Point{p.Volume, p.PH + 0.02*random.NormFloat64()}
		}
		f, err := truth.Fit(noisy, []string{FitC, FitPKa, FitOffset})
		if err != nil {
			t.Fatal(err)
		}
		for i := range hits {
			if v := f.Parameters[i].Value; math.Abs(v.Value-want[i]) <= v.CoverageFactor()*v.U() {
				hits[i]++
			}
		}
	}
	for i, n := range hits {
		if part := float64(n) / draws; math.Abs(part-0.95) > 0.03 {
			t.Errorf("parameter %d: %.1f %% within its uncertainty", i, 100*part)
		}
	}
}

func question() ReadQuestion {
	return ReadQuestion{Question: Question{Analyte: Solution{"CH3COOH", 0.09}, Titrant: Solution{"NaOH", 0.1}, Volume: 25, Celsius: 25}}
}

func TestRead(t *testing.T) {
	truth := of(t, "CH3COOH", 0.1, "NaOH")
	q := question()
	q.Readings, q.Find = measured(truth, 0.005, rand.New(rand.NewPCG(3, 4))), []string{FitC, FitPKa}
	a, err := Read(q)
	if err != nil {
		t.Fatal(err)
	}
	if len(a.EndPoints) != 1 || math.Abs(a.EndPoints[0].Volume-25) > 0.1 || len(a.Halves) != 1 || math.Abs(a.Halves[0].PH-4.66) > 0.05 ||
		a.Before == nil ||
		a.After == nil {
		t.Errorf("%+v %+v %+v", a.EndPoints, a.Halves, a.Before)
	}
	if f := a.Fit; f == nil || math.Abs(f.Parameters[0].Value.Value-0.1) > 0.0002 || math.Abs(f.Parameters[1].Value.Value-4.756) > 0.01 ||
		f.Parameters[1].Listed != 4.756 {
		t.Errorf("%+v", a.Fit)
	}
	if n := len(a.Verdicts); n == 0 || a.Verdicts[n-1].Level != verdict.Fine || a.PI != nil {
		t.Errorf("%+v", a.Verdicts)
	}
}

// Glycine hydrochloride: pI = (2.350 + 9.778)/2 = 6.06 (handbooks: 5.97 to 6.06, from memory).
func TestIsoelectricPoint(t *testing.T) {
	glycine, _ := equilibrium.Find("glycine")
	q := question()
	q.Analyte = Solution{"C2H6NO2Cl", 0.1}
	q.Systems = []equilibrium.System{glycine}
	c, p := q.curve()
	if len(p) > 0 {
		t.Fatal(p)
	}
	q.Readings, q.Find = measured(c, 0, nil), []string{FitC, FitPKa}
	a, err := Read(q)
	if err != nil || a.PI == nil || math.Abs(*a.PI-6.06) > 0.02 || len(a.Fit.Parameters) != 3 {
		t.Errorf("%v %+v", err, a.PI)
	}
}

func TestBadCurves(t *testing.T) {
	good := measured(of(t, "CH3COOH", 0.1, "NaOH"), 0, nil)
	for field, change := range map[string]func(*ReadQuestion){
		"/readings":          func(q *ReadQuestion) { q.Readings = good[:3] },
		"/readings/2/volume": func(q *ReadQuestion) { q.Readings[2].Volume = 0.5 },
		"/readings/2/pH":     func(q *ReadQuestion) { q.Readings[2].PH = 20 },
		"/find/0":            func(q *ReadQuestion) { q.Find = []string{"colour"} },
		"/find": func(q *ReadQuestion) {
			q.Readings, q.Find = good[:5], []string{FitC, FitPKa, FitCarbonate, FitOffset, "x"}[:4]
			q.Analyte.Formula = "H3PO4"
		},
		"/volume": func(q *ReadQuestion) { q.Volume = -1 },
	} {
		q := question()
		q.Readings = append([]Point(nil), good...)
		change(&q)
		var p verdict.Problems
		if _, err := Read(q); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	q := question()
	q.Readings = append([]Point{{1, 3}, {1, 3.3}}, good[2:]...)
	a, err := Read(q)
	if err != nil || len(a.Verdicts) != 2 || a.Verdicts[0].Rule != "T-15" ||
		!strings.Contains(a.Verdicts[1].Sentence, "At 1.00 mL there are two readings, pH 3.00 and 3.30") {
		t.Errorf("%+v %v", a.Verdicts, err)
	}
	// Only the beginning of a curve: strength and constant move together.
	q = question()
	q.Readings, q.Find = good[:6], []string{FitC, FitPKa}
	if a, err = Read(q); err != nil || a.Verdicts[len(a.Verdicts)-1].Rule != "T-17" {
		t.Errorf("%+v %v", a.Verdicts, err)
	}
}

// 60 readings, five parameters.
func BenchmarkFit(b *testing.B) {
	c := of(b, "H3PO4", 0.1, "NaOH")
	random := rand.New(rand.NewPCG(1, 2))
	var points []Point
	volumes := make([]float64, 60)
	for i := range volumes {
		volumes[i] = float64(i) * 90 / 59
	}
	for i, pH := range c.At(volumes) {
		points = append(points, Point{volumes[i], pH + 0.02*random.NormFloat64()})
	}
	for b.Loop() {
		if _, err := c.Fit(points, []string{FitC, FitPKa, FitOffset}); err != nil {
			b.Fatal(err)
		}
	}
}

// Lysine has two protons more than its neutral form: pI = (pKa 2 + pKa 3)/2; glutamic acid, with
// one, (pKa 1 + pKa 2)/2. With the constants that biochemistry texts list they give 9.74 and 3.22
// (Lehninger, from memory).
func TestIsoelectricPointOfThreeGroups(t *testing.T) {
	for key, x := range map[string]struct {
		pKa  []float64
		want float64
	}{"lysine": {[]float64{2.18, 8.95, 10.53}, 9.74}, "glutamic": {[]float64{2.19, 4.25, 9.67}, 3.22}} {
		s, ok := equilibrium.Find(key)
		if !ok {
			t.Fatal(key)
		}
		s.Constants = slices.Clone(s.Constants)
		for i, pKa := range x.pKa {
			s.Constants[i].PKa = pKa
		}
		c := Curve{Celsius: 25, Analyte: equilibrium.Compound{Units: []equilibrium.Units{{System: s, Count: 1}}}}
		if pI, _, ok := c.isoelectric(nil); !ok || math.Abs(pI.Value-x.want) > 0.005 || pI.U() != 0 {
			t.Errorf("%s: %v, want %g", key, pI.Value, x.want)
		}
	}
	acetic, _ := equilibrium.Find("acetic")
	if pI, _, ok := (Curve{Analyte: equilibrium.Compound{Units: []equilibrium.Units{{System: acetic, Count: 1}}}}).isoelectric(nil); ok {
		t.Errorf("acetic acid has an isoelectric point of %g", pI.Value)
	}
}
