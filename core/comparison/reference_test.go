package comparison_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/stat/distuv"

	"vialbench/core/comparison"
	"vialbench/core/verdict"
)

func close9(t *testing.T, what string, got, want float64) {
	t.Helper()
	if math.Abs(got-want) > 1e-9*(1+math.Abs(want)) || math.IsNaN(got) {
		t.Errorf("%s is %.12g, want %.12g", what, got, want)
	}
}

// classes are results of 2 to 30 groups: scattered, rounded so that many are the same, and with one far off.
func classes() [][]float64 {
	random := rand.New(rand.NewPCG(13528, 2022))
	var list [][]float64
	for n := 2; n <= 30; n++ {
		for _, digits := range []float64{1e6, 20, 4} {
			values := make([]float64, n)
			for i := range values {
				values[i] = math.Round((10+random.NormFloat64())*digits) / digits
			}
			list = append(list, slices.Clone(values))
			values[n-1] += 12
			list = append(list, values)
		}
	}
	return list
}

// Algorithm A stands still where its definition says: the mean of the results drawn in to 1.5 standard deviations, and 1.134 times theirs.
func TestAlgorithmAStandsStill(t *testing.T) {
	for _, values := range classes() {
		r := comparison.AlgorithmA(values)
		if r.SD == 0 {
			continue // more than half of them are the same
		}
		sum, squares, n := 0.0, 0.0, float64(len(values))
		var drawn []float64
		for _, x := range values {
			drawn = append(drawn, min(max(x, r.Mean-1.5*r.SD), r.Mean+1.5*r.SD))
			sum += drawn[len(drawn)-1]
		}
		for _, x := range drawn {
			squares += (x - sum/n) * (x - sum/n)
		}
		if math.Abs(sum/n-r.Mean) > 1e-7 || math.Abs(1.134*math.Sqrt(squares/(n-1))-r.SD) > 1e-7 {
			t.Errorf("%v: %+v moves on to %g, %g", values, r, sum/n, 1.134*math.Sqrt(squares/(n-1)))
		}
	}
}

// The Q method by its formula, from the distribution of the distances alone (ISO 13528:2022, C.5.2, from memory).
func qByFormula(values []float64) float64 {
	var distances []float64
	for i := range values {
		for k := i + 1; k < len(values); k++ {
			distances = append(distances, math.Abs(values[i]-values[k]))
		}
	}
	h := func(x float64) float64 {
		n := 0
		for _, d := range distances {
			if d <= x {
				n++
			}
		}
		return float64(n) / float64(len(distances))
	}
	steps := slices.Compact(slices.Sorted(slices.Values(distances)))
	xs, gs := []float64{0}, []float64{0}
	for i, x := range steps {
		switch {
		case x == 0:
		case i == 0:
			xs, gs = append(xs, x), append(gs, h(x)/2)
		default:
			xs, gs = append(xs, x), append(gs, (h(x)+h(steps[i-1]))/2)
		}
	}
	want := 0.25 + 0.75*h(0)
	for i := 1; i < len(xs); i++ {
		if gs[i] >= want {
			x := xs[i-1] + (xs[i]-xs[i-1])*(want-gs[i-1])/(gs[i]-gs[i-1])
			return x / (math.Sqrt2 * distuv.UnitNormal.Quantile(0.625+0.375*h(0)))
		}
	}
	return xs[len(xs)-1] / (math.Sqrt2 * distuv.UnitNormal.Quantile(0.625+0.375*h(0)))
}

// Q by its formula, and Hampel's mean as the root of its estimating function that lies nearest the median, looked for in small steps.
func TestHampelByDefinition(t *testing.T) {
	psi := func(q float64) float64 {
		switch a := math.Abs(q); {
		case a <= 1.5:
			return q
		case a <= 3:
			return math.Copysign(1.5, q)
		case a <= 4.5:
			return math.Copysign(4.5-a, q)
		}
		return 0
	}
	for _, values := range classes() {
		r := comparison.Hampel(values)
		if want := qByFormula(values); math.Abs(r.SD-want) > 1e-9 {
			t.Errorf("%v: Q is %.12g, want %.12g", values, r.SD, want)
		}
		if r.SD == 0 {
			close9(t, "the mean of results that are mostly the same", r.Mean, comparison.Median(values))
			continue
		}
		sum := func(at float64) (s float64) {
			for _, x := range values {
				s += psi((x - at) / r.SD)
			}
			return s
		}
		middle, best := comparison.Median(values), math.Inf(1)
		const step = 1e-3
		for k := range 6000 {
			for _, from := range []float64{middle + float64(k)*step, middle - float64(k+1)*step} {
				if a, b := sum(from), sum(from+step); a >= -1e-9 && b <= 1e-9 && a-b > 1e-9 {
					best = min(best, math.Abs(from+step*a/(a-b)-middle))
				}
			}
			if !math.IsInf(best, 1) && float64(k)*step > best+2*step {
				break
			}
		}
		if got := math.Abs(r.Mean - middle); math.Abs(got-best) > 2e-3 || math.Abs(sum(r.Mean)) > 1e-6 {
			t.Errorf("%v: Hampel's mean %g lies %g from the median, a root %g (the pull there is %g)", values, r.Mean, got, best, sum(r.Mean))
		}
	}
}

// Every figure of a comparison by its definition, of classes with a bottle each and of a class with one bottle.
func TestEveryFigureOfAClass(t *testing.T) {
	random := rand.New(rand.NewPCG(60, 3))
	for n := 1; n <= 12; n++ {
		for _, shared := range []bool{false, true} {
			q := comparison.Question{Unit: "mol/L", Shared: shared}
			var compared, us []float64
			for i := range n {
				truth := 0.1 + 0.01*float64(i)
				if shared {
					truth = 0.1
				}
				r := comparison.Result{
					Group: fmt.Sprintf("g%d", i), Value: truth * (1.02 + 0.01*random.NormFloat64()), U: 0.0004, True: &truth, TrueU: 0.0003,
				}
				for range i % 4 {
					r.Runs = append(r.Runs, r.Value*(1+0.002*random.NormFloat64()))
				}
				q.Results = append(q.Results, r)
				if shared {
					compared, us = append(compared, r.Value), append(us, r.U/2)
				} else {
					compared, us = append(compared, 100*(r.Value-truth)/truth), append(us, 100/truth*math.Hypot(r.U, r.TrueU)/2)
				}
			}
			c, err := comparison.Compare(q)
			if err != nil {
				t.Fatal(err)
			}
			of, unit := "percent errors", "%"
			if shared {
				of, unit = "results", "mol/L"
			}
			if c.Of != of || c.Unit != unit {
				t.Errorf("compared are %s in %s", c.Of, c.Unit)
			}
			mean, squares := 0.0, 0.0
			for _, x := range compared {
				mean += x / float64(n)
			}
			for _, x := range compared {
				squares += (x - mean) * (x - mean)
			}
			close9(t, "mean", c.Mean, mean)
			close9(t, "median", c.Median, comparison.Median(compared))
			if n == 1 {
				close9(t, "the mean of one", c.A.Mean, mean)
				if c.SD != 0 || c.Rows[0].Z != nil || c.UMean != 0 {
					t.Errorf("one result scatters: %+v", c)
				}
				continue
			}
			a := comparison.AlgorithmA(compared)
			close9(t, "SD", c.SD, math.Sqrt(squares/float64(n-1)))
			close9(t, "robust mean", c.A.Mean, a.Mean)
			close9(t, "robust SD", c.A.SD, a.SD)
			close9(t, "MAD", c.MAD, comparison.MAD(compared))
			close9(t, "uncertainty of the mean", c.UMean, 1.25*a.SD/math.Sqrt(float64(n)))
			for i, row := range c.Rows {
				r := q.Results[i]
				close9(t, "error", *row.Error, 100*(r.Value / *r.True - 1))
				en := (r.Value - *r.True) / 0.0005 // 3, 4, 5
				close9(t, "E_n", *row.En, en)
				if row.Off != (math.Abs(en) > 1) {
					t.Errorf("E_n %g, off %t", en, row.Off)
				}
				if (row.Z != nil) != (n > 2) {
					t.Errorf("%d results, z %v", n, row.Z)
				} else if n > 2 {
					close9(t, "z", *row.Z, (compared[i]-a.Mean)/a.SD)
					close9(t, "ζ", *row.Zeta, (compared[i]-a.Mean)/math.Hypot(us[i], c.UMean))
				}
				if (row.RunSD != nil) != (len(r.Runs) > 1) {
					t.Errorf("%d runs, SD %v", len(r.Runs), row.RunSD)
				} else if len(r.Runs) == 2 {
					close9(t, "SD of two runs", *row.RunSD, math.Abs(r.Runs[0]-r.Runs[1])/math.Sqrt2)
				}
			}
		}
	}
}

// The edges: what lies exactly at a threshold is not yet off, and what may just be asked.
func TestEdgesOfAComparison(t *testing.T) {
	truth := 10.0
	at := func(value, u, trueU float64, th verdict.Thresholds) comparison.Row {
		c, err := comparison.Compare(comparison.Question{Thresholds: th, Results: []comparison.Result{{Group: "a", Value: value, U: u, True: &truth, TrueU: trueU}}})
		if err != nil {
			t.Fatal(err)
		}
		return c.Rows[0]
	}
	if at(10.5, 0.5, 0, nil).Off || !at(10.5000001, 0.5, 0, nil).Off || at(9.5, 0, 0.5, nil).Off || !at(9.49, 0, 0.5, nil).Off {
		t.Error("E_n of exactly 1 agrees, more does not")
	}
	if at(10.9, 0.5, 0, verdict.Thresholds{"CO-3": 2}).Off {
		t.Error("the threshold is the lab's")
	}
	if row := at(11, 0, 0, nil); row.En != nil || row.Off {
		t.Errorf("without uncertainties there is no E_n: %+v", row)
	}
	many := comparison.Question{Shared: true}
	for i := range comparison.MostGroups {
		many.Results = append(many.Results, comparison.Result{Group: fmt.Sprint(i), Value: float64(i % 7), Runs: make([]float64, comparison.MostRuns)})
	}
	if err := many.Check(); err != nil {
		t.Error(err)
	}
	many.Results[3].Runs = make([]float64, comparison.MostRuns+1)
	if many.Check() == nil {
		t.Error("a run too many")
	}
	many.Results[3].Runs = nil
	many.Results = append(many.Results, comparison.Result{Group: "one more", Value: 1})
	if many.Check() == nil {
		t.Error("a group too many")
	}
	// Off together by exactly as much as the rule says, and by a little more: of equal errors the robust SD is that of nothing, so
	// that the uncertainty of the true value alone counts, 0.5 %.
	together := func(error float64) int {
		q := comparison.Question{}
		for _, g := range []string{"a", "b", "c"} {
			q.Results = append(q.Results, comparison.Result{Group: g, Value: truth * (1 + error/100), U: 0.2, True: &truth, TrueU: 0.1})
		}
		c, err := comparison.Compare(q)
		if err != nil {
			t.Fatal(err)
		}
		n := 0
		for _, v := range c.Verdicts {
			if v.Rule == "CO-2" {
				n++
			}
		}
		return n
	}
	if together(1.49) != 0 || together(1.51) != 1 || together(-1.51) != 1 || together(-1.49) != 0 {
		t.Error("three standard errors are the edge of “off together”")
	}
	// An even number of results has its median half way.
	close9(t, "median of four", comparison.Median([]float64{4, 1, 3, 2}), 2.5)
	close9(t, "MAD of four", comparison.MAD([]float64{4, 1, 3, 2}), 1/distuv.UnitNormal.Quantile(0.75))
}
