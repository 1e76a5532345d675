package curve

import (
	"errors"
	"math"
	"strings"
	"testing"

	"vialbench/core/equilibrium"
	"vialbench/core/verdict"
)

func compound(t testing.TB, text string) equilibrium.Compound {
	t.Helper()
	c, ok := equilibrium.CompoundOf(text)
	if !ok {
		t.Fatal(text)
	}
	return c
}

// of is 25 mL of an analyte, with a titrant of 0.1 mol/L.
func of(t testing.TB, analyte string, c float64, titrant string) Curve {
	return Curve{Volume: 25, Analyte: compound(t, analyte), C: c, Titrant: compound(t, titrant), Strength: 0.1, Celsius: 25}
}

// Recomputed independently with pKa of phosphoric acid 2.148, 7.198, 12.35, Davies: 25.00 mL of
// 0.1000 H3PO4 and 25 or 37.5 mL of 0.1000 NaOH: pH 4.544, 6.898.
func TestPhosphoricAcid(t *testing.T) {
	c := of(t, "H3PO4", 0.1, "NaOH")
	for i, want := range []float64{4.544, 6.898} {
		if got := c.At([]float64{25, 37.5})[i]; math.Abs(got-want) > 0.003 {
			t.Errorf("pH %.4f, want %.3f", got, want)
		}
	}
	if v := c.Equivalences(); len(v) != 3 || v[0] != 25 || v[1] != 50 || v[2] != 75 {
		t.Errorf("%v", v)
	}
}

// 10.00 mL of 0.100 glycine + 10.00 mL of 0.100 HCl and 15 mL of 0.100 NaOH: pH 9.694 (Davies,
// recomputed independently with pKa 2.350, 9.778).
func TestGlycine(t *testing.T) {
	c := Curve{Volume: 20, Analyte: glycine(t), C: 0.05, Titrant: compound(t, "NaOH"), Strength: 0.1, Celsius: 25}
	if got := c.At([]float64{15})[0]; math.Abs(got-9.694) > 0.005 {
		t.Errorf("pH %.4f, want 9.694", got)
	}
	if v := c.Equivalences(); len(v) != 2 || math.Abs(v[0]-10) > 1e-9 || math.Abs(v[1]-20) > 1e-9 {
		t.Errorf("%v", v)
	}
}

func TestEquivalences(t *testing.T) {
	for _, x := range []struct {
		analyte, titrant string
		want             []float64
	}{
		{"HCl", "NaOH", []float64{25}},
		{"NaOH", "HCl", []float64{25}},
		{"CH3COOH", "NaOH", []float64{25}},
		{"Na2CO3", "HCl", []float64{25, 50}},
		{"NaHCO3", "HCl", []float64{25}},
		{"KHC8H4O4", "NaOH", []float64{25}},
		{"Na2B4O7.10H2O", "HCl", []float64{50}}, // borax, a primary standard for acids: two protons
		{"Na2B4O7", "NaOH", []float64{50}},
		{"Na2HPO4", "HCl", []float64{25, 50}},
		{"NH3", "HCl", []float64{25}},
		{"HCl", "HCl", nil},
		{"Ba(OH)2", "HCl", []float64{50}},
		{"HCl", "Ba(OH)2", []float64{12.5}},
	} {
		got := of(t, x.analyte, 0.1, x.titrant).Equivalences()
		if len(got) != len(x.want) {
			t.Errorf("%s with %s: %v", x.analyte, x.titrant, got)
			continue
		}
		for i := range got {
			if math.Abs(got[i]-x.want[i]) > 1e-9 {
				t.Errorf("%s with %s: %v", x.analyte, x.titrant, got)
			}
		}
	}
}

// What every text says: phenolphthalein for a weak acid with a strong base, methyl red for ammonia
// with a strong acid, and the third proton of phosphoric acid shows with none (common practice).
func TestIndicators(t *testing.T) {
	first := func(c Curve, k int) string {
		e := c.Points()[k]
		if len(e.Indicators) == 0 {
			return ""
		}
		return e.Indicators[0].Key
	}
	names := func(e Equivalence) (list string) {
		for _, i := range e.Indicators {
			list += i.Key + " "
		}
		return list
	}
	acetic := of(t, "CH3COOH", 0.1, "NaOH").Points()[0]
	if !strings.Contains(names(acetic), "phenolphthalein") || strings.Contains(names(acetic), "methyl") || math.Abs(acetic.PH-8.7) > 0.1 {
		t.Errorf("acetic acid: %s at pH %.2f", names(acetic), acetic.PH)
	}
	ammonia := of(t, "NH3", 0.1, "HCl").Points()[0]
	if !strings.Contains(names(ammonia), "methyl-red") || strings.Contains(names(ammonia), "phenolphthalein") {
		t.Errorf("ammonia: %s at pH %.2f", names(ammonia), ammonia.PH)
	}
	strong := of(t, "HCl", 0.1, "NaOH").Points()[0]
	if n := len(strong.Indicators); n < 6 {
		t.Errorf("strong acid with strong base: %d indicators", n)
	}
	phosphoric := of(t, "H3PO4", 0.1, "NaOH")
	if first(phosphoric, 2) != "" || first(phosphoric, 1) == "" {
		t.Errorf("phosphoric acid: “%s”, “%s”", first(phosphoric, 1), first(phosphoric, 2))
	}
	// The error that is told is where the curve reaches the pKa of the indicator.
	for _, i := range acetic.Indicators {
		c := of(t, "CH3COOH", 0.1, "NaOH")
		if pH := c.At([]float64{25 * (1 + i.Error)})[0]; math.Abs(pH-i.PKa) > 1e-4 {
			t.Errorf("%s: pH %.4f at its error, pKa %.2f", i.Key, pH, i.PKa)
		}
	}
}

// Carbonate in the base: some of each proton is taken up twice, so that an end point at pH 8.3
// comes late by half of it.
func TestCarbonate(t *testing.T) {
	clean, aged := of(t, "HCl", 0.1, "NaOH"), of(t, "HCl", 0.1, "NaOH")
	aged.Carbonate = 0.02
	late := aged.reaches(8.3, 20, 30)/clean.reaches(8.3, 20, 30) - 1
	if math.Abs(late-0.01) > 0.0015 {
		t.Errorf("late by %.4f, want about 0.01", late)
	}
	if late := aged.reaches(4.5, 20, 30)/clean.reaches(4.5, 20, 30) - 1; math.Abs(late) > 0.001 {
		t.Errorf("at pH 4.5 late by %.4f, want nothing", late)
	}
}

func TestSolve(t *testing.T) {
	q := Question{Analyte: Solution{"H3PO4", 0.1}, Titrant: Solution{"NaOH", 0.1}, Volume: 25, Celsius: 25}
	a, err := Solve(q)
	if err != nil || len(a.Points) != 100 || a.Points[0].Volume != 0 || math.Abs(a.Points[99].Volume-93.75) > 1e-9 ||
		len(a.Equivalences) != 3 ||
		len(a.Verdicts) != 3 {
		t.Fatalf("%+v %v", a, err)
	}
	if v := a.Verdicts[2]; v.Level != verdict.Look || !strings.Contains(v.Sentence, "End point 3, at 75.00 mL and pH 11.9") ||
		!strings.Contains(v.Sentence, "does not show") {
		t.Errorf("%+v", v)
	}
	for i := 1; i < len(a.Points); i++ {
		if a.Points[i].PH <= a.Points[i-1].PH {
			t.Errorf("the pH falls at %g mL", a.Points[i].Volume)
		}
	}
	q.Volumes = []float64{0, 25}
	if a, err = Solve(q); err != nil || len(a.Points) != 2 || math.Abs(a.Points[1].PH-4.544) > 0.003 {
		t.Errorf("%+v %v", a.Points, err)
	}
	for field, change := range map[string]func(*Question){
		"/analyte/formula":   func(q *Question) { q.Analyte.Formula = "C60" },
		"/titrant/formula":   func(q *Question) { q.Titrant.Formula = "CH3COOH" },
		"/titrant/formula#2": func(q *Question) { q.Titrant.Formula = "HCl" },
		"/analyte/c":         func(q *Question) { q.Analyte.C = 0 },
		"/titrant/c":         func(q *Question) { q.Titrant.C = -1 },
		"/volume":            func(q *Question) { q.Volume = 0 },
		"/celsius":           func(q *Question) { q.Celsius = 90 },
		"/points":            func(q *Question) { q.Points = 1e6 },
		"/volumes/1":         func(q *Question) { q.Volumes = []float64{5, 4} },
	} {
		q := Question{Analyte: Solution{"H3PO4", 0.1}, Titrant: Solution{"NaOH", 0.1}, Volume: 25, Celsius: 25}
		change(&q)
		var p verdict.Problems
		if _, err := Solve(q); !errors.As(err, &p) || p[0].Field != strings.TrimSuffix(field, "#2") {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// A triprotic acid, 400 points.
func BenchmarkCurve(b *testing.B) {
	c := of(b, "H3PO4", 0.1, "NaOH")
	volumes := make([]float64, 400)
	for i := range volumes {
		volumes[i] = float64(i) * 90 / 399
	}
	b.ReportAllocs()
	for b.Loop() {
		c.At(volumes)
	}
}
