package line_test

import (
	"fmt"
	"math"
	"testing"

	"gonum.org/v1/gonum/stat"

	"vialbench/core/line"
)

// Norris, NIST Statistical Reference Datasets, linear regression, lower level of
// difficulty: the certified values.
func TestNorris(t *testing.T) {
	x := []float64{
		0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6, 775.5, 666.9, 338.0, 447.5, 11.6, 556.0,
		228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999.0, 779.0, 11.1, 118.3, 229.2, 669.1, 448.9, 0.5,
	}
	y := []float64{
		0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8, 339.3, 448.9, 10.8, 557.7,
		228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888.0, 998.5, 778.9, 10.2, 117.6, 228.9, 668.4, 449.2, 0.2,
	}
	got, err := line.Fit(x, y)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		name      string
		got, want float64
	}{
		{"slope", got.Slope, 1.00211681802045},
		{"its standard error", got.SlopeSE(), 0.000429796848199937},
		{"intercept", got.Intercept, -0.262323073774029},
		{"its standard error", got.InterceptSE(), 0.232818234301152},
		{"residual SD", got.SD, 0.884796396144373},
	} {
		if math.Abs(c.got/c.want-1) > 1e-11 {
			t.Errorf("%s %.15g, want %.15g", c.name, c.got, c.want)
		}
	}
	a, b := stat.LinearRegression(x, y, nil, false) // gonum's
	if math.Abs(a-got.Intercept) > 1e-10 || math.Abs(b-got.Slope) > 1e-12 || math.Abs(got.At(100)-a-100*b) > 1e-10 {
		t.Errorf("gonum has %g + %g x, we have %g + %g x", a, b, got.Intercept, got.Slope)
	}
}

func TestTwoPointsAndNone(t *testing.T) {
	l, err := line.Fit([]float64{1, 3}, []float64{5, 1})
	if err != nil || l.Slope != -2 || l.Intercept != 7 || l.SD != 0 {
		t.Errorf("%+v, %v", l, err)
	}
	for _, c := range [][2][]float64{
		{{1}, {1}}, {{1, 2}, {1}}, {{2, 2}, {1, 3}}, {{1, math.NaN()}, {1, 2}}, {{1, 2}, {1, math.Inf(1)}}, {nil, nil},
	} {
		if _, err := line.Fit(c[0], c[1]); err == nil {
			t.Errorf("%v against %v gives a line", c[1], c[0])
		}
	}
}

func ExampleFit() {
	l, _ := line.Fit([]float64{0, 1, 2, 3, 4, 5}, []float64{0.004, 0.121, 0.239, 0.352, 0.474, 0.590})
	fmt.Printf("%.4f, %.7f, residuals %.8f\n", l.Slope, l.Intercept, l.SD)
	// Output: 0.1172, 0.0036667, residuals 0.00187972
}

// Fluorescence, weighted by the standard deviations of the standards: J. N. Miller and J. C. Miller, Statistics and Chemometrics for
// Analytical Chemistry, example 5.10.1, from memory (0.0738 and 0.0091 in print); gonum as a second opinion.
func TestWeighted(t *testing.T) {
	x, y := []float64{0, 2, 4, 6, 8, 10}, []float64{0.009, 0.158, 0.301, 0.472, 0.577, 0.739}
	var w []float64
	for _, s := range []float64{0.001, 0.004, 0.010, 0.013, 0.017, 0.022} {
		w = append(w, 1/(s*s))
	}
	even, by := line.Even(w)
	sum := 0.0
	for i := range even {
		sum += even[i]
		if math.Abs(even[i]/(by*w[i])-1) > 1e-15 {
			t.Errorf("weight %d: %g, want %g times %g", i, even[i], by, w[i])
		}
	}
	if math.Abs(sum-6) > 1e-12 {
		t.Errorf("the weights add up to %g", sum)
	}
	l, err := line.FitWeighted(x, y, even)
	if err != nil || math.Abs(l.Slope-0.0738) > 5e-5 || math.Abs(l.Intercept-0.0091) > 5e-5 {
		t.Errorf("%+v, %v", l, err)
	}
	if a, b := stat.LinearRegression(x, y, w, false); math.Abs(a-l.Intercept) > 1e-12 || math.Abs(b-l.Slope) > 1e-12 {
		t.Errorf("gonum has %g + %g x", a, b)
	}
	rss := 0.0
	for i := range x {
		rss += even[i] * (y[i] - l.At(x[i])) * (y[i] - l.At(x[i]))
	}
	if math.Abs(l.SD-math.Sqrt(rss/4)) > 1e-12 {
		t.Errorf("SD %g, want %g", l.SD, math.Sqrt(rss/4))
	}
	plain, _ := line.Fit(x, y)
	alike, err := line.FitWeighted(x, y, []float64{1, 1, 1, 1, 1, 1})
	if err != nil || plain != alike || math.Abs(plain.Slope-0.0725) > 5e-5 || math.Abs(plain.Intercept-0.0133) > 5e-5 {
		t.Errorf("%+v, %+v", plain, alike)
	}
	if _, err := line.FitWeighted(x, y, []float64{1}); err == nil {
		t.Error("one weight for six points")
	}
}

// What rounding leaves of points on a line is no scatter; what is larger is.
func TestRoundingIsNoScatter(t *testing.T) {
	x, y := []float64{0, 10, 20, 30, 40, 50}, []float64{0, 0.0997, 0.1994, 0.2991, 0.3988, 0.4985}
	if l, err := line.Fit(x, y); err != nil || l.SD != 0 {
		t.Errorf("%+v %v", l, err)
	}
	y[3] += 1e-12
	if l, err := line.Fit(x, y); err != nil || l.SD < 1e-13 {
		t.Errorf("%+v %v", l, err)
	}
}
