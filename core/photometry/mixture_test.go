package photometry_test

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"vialbench/core/photometry"
	"vialbench/core/verdict"
)

// ironCopper are iron(III) and copper(II) with hexacyanoruthenate at 550 and 396 nm: Harvey, Analytical Chemistry 2.1, example 10.6, from
// memory (copper 1.26e-4 mol/L in print). The iron that is remembered, 1.80e-5, does not solve these two equations: Cramer's rule by hand
// gives 1.79268e-5.
func ironCopper() photometry.MixtureQuestion {
	line := func(slope float64) photometry.Model { return photometry.Model{Slope: slope, DF: 4} }
	return photometry.MixtureQuestion{
		First: []photometry.Model{line(9970), line(84)}, Second: []photometry.Model{line(34), line(856)},
		Readings: [][]float64{{0.183}, {0.109}}, Names: []string{"Iron", "Copper"},
	}
}

func ExampleMixture() {
	a, _ := photometry.Mixture(ironCopper())
	fmt.Printf("%.3g %.3g, apart %.2f\n", a.C[0], a.C[1], a.Apart)
	// Output: 1.79e-05 0.000126, apart 1.00
}

func TestMixture(t *testing.T) {
	a, err := photometry.Mixture(ironCopper())
	if err != nil {
		t.Fatal(err)
	}
	near(t, "iron", a.C[0], (0.183*856-34*0.109)/(9970*856-34*84), 1e-12)
	if math.Abs(a.C[1]-1.26e-4) > 0.005e-4 { // half of the last digit in print
		t.Errorf("copper %g", a.C[1])
	}
	near(t, "the first equation", 9970*a.C[0]+34*a.C[1], 0.183, 1e-12)
	near(t, "the second equation", 84*a.C[0]+856*a.C[1], 0.109, 1e-12)
	if a.SE[0] != 0 || len(a.Verdicts) != 0 {
		t.Errorf("%+v", a)
	}
	// Intercepts add up, and so does what a reading more brings.
	q := ironCopper()
	q.First[0].Intercept, q.Second[0].Intercept, q.Readings[0] = 0.002, 0.003, []float64{0.187, 0.189}
	if b, err := photometry.Mixture(q); err != nil || math.Abs(b.C[0]-a.C[0]) > 1e-12 || math.Abs(b.C[1]-a.C[1]) > 1e-12 {
		t.Errorf("%+v %v", b, err)
	}
	// Substances that absorb alike.
	q = ironCopper()
	q.Second = []photometry.Model{{Slope: 8000, DF: 4}, {Slope: 1500, DF: 4}}
	if a, err = photometry.Mixture(q); err != nil || !said(a.Verdicts, verdict.Look, "The two absorb much alike") {
		t.Errorf("%+v %v", a, err)
	}
	q.Readings = [][]float64{{0.5}, {0.001}}
	if a, err = photometry.Mixture(q); err != nil || !said(a.Verdicts, verdict.Stop, "Copper comes out below nothing") {
		t.Errorf("%+v %v", a, err)
	}
}

// The intervals hold both concentrations in 95 of 100 simulated mixtures, lines and readings drawn afresh each time.
func TestMixtureCoverage(t *testing.T) {
	random := rand.New(rand.NewPCG(4, 12))
	eps := [2][2]float64{{0.10, 0.04}, {0.05, 0.12}} // of substance, at wavelength
	const sd, sets = 0.002, 2000
	c := [2]float64{3, 2}
	held, crossed := [2]int{}, 0.0
	for range sets {
		var lines [2][]photometry.Model
		for of := range 2 {
			for at := range 2 {
				q := photometry.Question{}
				for x := 0.0; x <= 5; x++ {
					q.X, q.Y = append(q.X, x), append(q.Y, eps[of][at]*x+sd*random.NormFloat64())
				}
				lines[of] = append(lines[of], fitted(t, q).Line)
			}
		}
		q := photometry.MixtureQuestion{First: lines[0], Second: lines[1]}
		for at := range 2 {
			q.Readings = append(q.Readings, []float64{eps[0][at]*c[0] + eps[1][at]*c[1] + sd*random.NormFloat64()})
		}
		a, err := photometry.Mixture(q)
		if err != nil {
			t.Fatal(err)
		}
		for of, i := range a.Intervals {
			if i.From <= c[of] && c[of] <= i.To {
				held[of]++
			}
		}
		crossed += a.Correlation / sets
	}
	for of, n := range held {
		if part := 100 * float64(n) / sets; part < 93 || part > 97 {
			t.Errorf("substance %d is held in %.1f %%", of+1, part)
		}
	}
	if crossed > -0.3 || crossed < -1 {
		t.Errorf("the two are correlated by %g", crossed)
	}
	t.Logf("held %v of %d, correlation %.2f", held, sets, crossed)
}

func TestMixturesThatAreNone(t *testing.T) {
	for field, change := range map[string]func(*photometry.MixtureQuestion){
		"/first": func(q *photometry.MixtureQuestion) { q.First = q.First[:1] },
		"/second": func(q *photometry.MixtureQuestion) {
			q.Second = []photometry.Model{{Slope: 99700, DF: 4}, {Slope: 840, DF: 4}}
		},
		"/first/1/slope": func(q *photometry.MixtureQuestion) { q.First[1].Slope = math.NaN() },
		"/first/0/slope": func(q *photometry.MixtureQuestion) { q.First[0].Slope = -1 },
		"/second/0/sd":   func(q *photometry.MixtureQuestion) { q.Second[0].SD = math.Inf(1) },
		"/second/1/df":   func(q *photometry.MixtureQuestion) { q.Second[1].DF = 0 },
		"/readings":      func(q *photometry.MixtureQuestion) { q.Readings = q.Readings[:1] },
		"/readings/1":    func(q *photometry.MixtureQuestion) { q.Readings[1] = nil },
		"/readings/0/0":  func(q *photometry.MixtureQuestion) { q.Readings[0][0] = 44 },
		"/names":         func(q *photometry.MixtureQuestion) { q.Names = q.Names[:1] },
	} {
		q := ironCopper()
		change(&q)
		var p verdict.Problems
		if _, err := photometry.Mixture(q); !errors.As(err, &p) || p[0].Field != strings.TrimSpace(field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}
