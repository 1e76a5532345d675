package titration

import (
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"vialbench/core/reaction"
)

func TestConcordant(t *testing.T) {
	for _, x := range []struct {
		titres []float64
		limit  float64
		want   []int
	}{
		{[]float64{21.40, 20.85, 20.90}, 0.10, []int{1, 2}},
		{[]float64{20.00, 20.10, 20.20}, 0.10, []int{1, 2}}, // both pairs are 0.10 apart: the later
		{[]float64{20.00, 20.04, 20.20, 20.21}, 0.10, []int{2, 3}},
		{[]float64{20.00, 20.05, 20.10, 20.15}, 0.10, []int{1, 2, 3}},
		{[]float64{20.00, 20.11}, 0.10, nil},
		{[]float64{20.00}, 0.10, nil},
		{nil, 0.10, nil},
		{[]float64{18.64, 18.64, 18.64}, 0, []int{0, 1, 2}},
	} {
		if got := Concordant(x.titres, x.limit); !reflect.DeepEqual(got, x.want) {
			t.Errorf("%v within %g: %v, want %v", x.titres, x.limit, got, x.want)
		}
	}
}

// Against every subset.
func TestConcordantAgainstBruteForce(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for range 500 {
		titres := make([]float64, 1+random.IntN(8))
		for i := range titres {
			titres[i] = 20 + math.Round(20*random.Float64())/100
		}
		most := 0
		for bits := range 1 << len(titres) {
			var set []float64
			for i, x := range titres {
				if bits>>i&1 == 1 {
					set = append(set, x)
				}
			}
			if len(set) >= 2 && slices.Max(set)-slices.Min(set) <= 0.1+1e-9 {
				most = max(most, len(set))
			}
		}
		if got := Concordant(titres, 0.1); len(got) != most {
			t.Fatalf("%v: %v, but a set of %d agrees", titres, got, most)
		}
	}
}

// Two-sided 95 % (Grubbs 1969 and Rorabacher 1991 as tables print them, from memory): n = 3, 4,
// 5, 10. Student's t: 12.706, 4.303, 2.228 for 1, 2 and 10 degrees.
func TestTables(t *testing.T) {
	for n, want := range map[int]struct{ g, q float64 }{3: {1.155, 0.970}, 4: {1.481, 0.829}, 5: {1.715, 0.710}, 10: {2.290, 0.466}} {
		values := make([]float64, n)
		for i := range values {
			values[i] = float64(i)
		}
		g, ok1 := Grubbs(values)
		q, ok2 := Dixon(values)
		if !ok1 || !ok2 || math.Abs(g.Critical-want.g) > 0.001 || q.Critical != want.q || g.N != n || q.N != n {
			t.Errorf("n = %d: G %.4f, Q %.3f", n, g.Critical, q.Critical)
		}
	}
	for degrees, want := range map[int]float64{1: 12.706, 2: 4.303, 10: 2.228} {
		if got := StudentT(degrees); math.Abs(got-want) > 0.0005 {
			t.Errorf("t(%d) = %.4f", degrees, got)
		}
	}
}

func TestOutliers(t *testing.T) {
	values := []float64{20.85, 20.86, 21.40, 20.84} // gap 0.54 of a range of 0.56
	q, _ := Dixon(values)
	g, _ := Grubbs(values)
	if !q.Outlies() || q.At != 2 || math.Abs(q.Value-0.9643) > 1e-4 || !g.Outlies() || g.At != 2 || math.Abs(g.Value-1.4995) > 1e-3 {
		t.Errorf("%+v %+v", q, g)
	}
	low := []float64{20.3, 20.85, 20.86, 20.84}
	if q, _ := Dixon(low); q.At != 0 || !q.Outlies() {
		t.Errorf("%+v", q)
	}
	for _, few := range [][]float64{{1, 2}, {1, 1, 1}} {
		if _, ok := Dixon(few); ok {
			t.Errorf("Dixon of %v", few)
		}
		if _, ok := Grubbs(few); ok {
			t.Errorf("Grubbs of %v", few)
		}
	}
	if _, ok := Dixon(make([]float64, 11)); ok {
		t.Error("no table for 11")
	}
	if mean, sd := MeanSD([]float64{1, 2, 3, 4}); mean != 2.5 || math.Abs(sd-1.290994) > 1e-6 {
		t.Errorf("%g %g", mean, sd)
	}
}

func ExampleConcordant() {
	fmt.Println(Concordant([]float64{21.40, 20.85, 20.90, 20.88}, 0.10))
	// Output: [1 2 3]
}

// Rounding steps are no scatter: a third beside two that happen to be equal is no outlier, nor is any
// where all agree. Of four, one that lies far out is.
func TestNoOutlierAmongRoundingSteps(t *testing.T) {
	for _, c := range []struct {
		titres []float64
		tests  int
	}{
		{[]float64{21.65, 21.67, 21.67}, 0},
		{[]float64{21.67, 21.67, 21.67, 21.65}, 0},
		{[]float64{21.60, 21.67, 21.67, 21.70}, 0},
		{[]float64{21.60, 21.67, 21.67, 21.71}, 2},
		{[]float64{20.85, 20.86, 21.40, 20.84}, 2},
		{[]float64{20.85, 20.86, 21.40}, 0},
	} {
		var trials []Trial
		for i, v := range c.titres {
			trials = append(trials, Trial{Titre: number(fmt.Sprint("v", i), v, 0), Sample: number("sample", 25, 0)})
		}
		r, err := Known{Ratio: reaction.Ratio{Of: 1, By: 1}, C: number("c", 0.1, 0)}.Solve(trials, Limits{Concordant: 0.1})
		if err != nil || len(r.Outliers) != c.tests {
			t.Errorf("%v: %+v, %v", c.titres, r.Outliers, err)
		}
	}
}
