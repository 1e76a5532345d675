package photometry

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/mat"

	"vialbench/core/line"
)

// Pearson's data with York's weights: intercept 5.479910, slope −0.480533, standard errors 0.295 and 0.058 (D. York et al.,
// Am. J. Phys. 72 (2004) 367, table II, from memory).
func TestYork(t *testing.T) {
	x := []float64{0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4}
	wx := []float64{1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1}
	y := []float64{5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5}
	wy := []float64{1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500}
	l, err := line.Fit(x, y)
	if err != nil {
		t.Fatal(err)
	}
	q := Question{X: x, Y: y}
	own := mat.NewSymDense(len(x), nil)
	for i := range x {
		row := make([]float64, len(x))
		row[i] = 1 / wx[i]
		q.XCovariance = append(q.XCovariance, row)
		own.SetSym(i, i, 1/wy[i])
	}
	m, err := fit{Question: q, line: l}.york(own)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		name           string
		got, want, off float64
	}{
		{"intercept", m.Intercept, 5.47991022, 1e-7},
		{"slope", m.Slope, -0.480533407, 1e-7},
		{"its standard error", m.InterceptSE, 0.295, 5e-4},
		{"that of the slope", m.SlopeSE, 0.058, 5e-4},
	} {
		if math.Abs(c.got-c.want) > c.off {
			t.Errorf("%s %.9f, want %.9f", c.name, c.got, c.want)
		}
	}
	// The sum of weighted squares is the least there is: York's 11.8663.
	chi := func(a, b float64) float64 {
		sum := 0.0
		for i := range x {
			sum += (y[i] - a - b*x[i]) * (y[i] - a - b*x[i]) / (1/wy[i] + b*b/wx[i])
		}
		return sum
	}
	if s := chi(m.Intercept, m.Slope); math.Abs(s-11.8663531) > 1e-5 {
		t.Errorf("χ² %.7f", s)
	}
	for _, step := range []float64{1e-4, -1e-4} {
		if chi(m.Intercept+step, m.Slope) < chi(m.Intercept, m.Slope) || chi(m.Intercept, m.Slope+step) < chi(m.Intercept, m.Slope) {
			t.Error("a neighbour is better")
		}
	}
}
