package photometry_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"vialbench/core/photometry"
	"vialbench/core/uncertain"
)

// Example A5 of the EURACHEM/CITAC Guide CG 4 (cadmium released from ceramic ware; absorbances of five standards read three times;
// from memory, and its slope, intercept, residual standard deviation and u(c₀) come out as printed): 0.26 mg/L ± u 0.018 of two readings.
func TestCadmiumByTheGuide(t *testing.T) {
	q := photometry.Question{Unit: "mg/L"}
	for _, s := range []struct{ c, a, b, d float64 }{
		{0.1, 0.028, 0.029, 0.029}, {0.3, 0.084, 0.083, 0.081}, {0.5, 0.135, 0.131, 0.133}, {0.7, 0.180, 0.181, 0.183}, {0.9, 0.215, 0.230, 0.216},
	} {
		q.X, q.Y = append(q.X, s.c, s.c, s.c), append(q.Y, s.a, s.b, s.d)
	}
	reads := 0.0087 + 0.2410*0.26
	q.Unknowns = []photometry.Unknown{{Readings: []float64{reads, reads}}}
	a := fitted(t, q)
	near(t, "slope", a.Line.Slope, 0.2410, 2e-4)
	near(t, "its standard error", a.Line.SlopeSE, 0.0050, 0.01)
	near(t, "intercept", a.Line.Intercept, 0.0087, 6e-3)
	near(t, "its standard error", a.Line.InterceptSE, 0.0029, 0.02)
	near(t, "residual standard deviation", a.Line.SD, 0.005486, 1e-4)
	near(t, "concentration", a.Unknowns[0].X, 0.26, 2e-3)
	near(t, "its standard uncertainty", a.Unknowns[0].SE, 0.018, 0.03)
}

// What is carried of an unknown holds the truth in 95 % of simulated lines: with one stock in common, flasks of their own, and
// readings that scatter; read once and three times.
func TestCarriedIntervalsHold(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	for _, times := range []int{1, 3} {
		const draws = 2000
		held := 0
		for range draws {
			stock := random.NormFloat64()
			var q photometry.Question
			var standards []uncertain.Number
			var of []int
			for i := range 6 {
				made, flask := float64(i), random.NormFloat64()
				standards = append(standards, uncertain.Gather(made, []uncertain.Contribution{
					{Source: uncertain.Source{ID: "stock"}, U: 0.01 * made}, {Source: uncertain.Source{ID: fmt.Sprintf("flask %d", i)}, U: 0.002 * made},
				}))
				truly := made * (1 + 0.01*stock + 0.002*flask)
				for range times {
					q.X, q.Y, of = append(q.X, made), append(q.Y, 0.12*truly+0.002*random.NormFloat64()), append(of, i)
				}
			}
			unknown := photometry.Unknown{}
			for range times {
				unknown.Readings = append(unknown.Readings, 0.12*2.6+0.002*random.NormFloat64())
			}
			q.Unknowns = []photometry.Unknown{unknown}
			c, err := q.Carry(fitted(t, q).Unknowns[0], standards, of, "scatter")
			if err != nil {
				t.Fatal(err)
			}
			if math.Abs(c.Value-2.6) <= c.Expanded() {
				held++
			}
		}
		near(t, fmt.Sprintf("part held, each read %d times", times), float64(held)/draws, 0.95, 0.021)
	}
}

// The derivatives by which errors of standards are carried are those of the fit itself.
func TestCarryFollowsTheFit(t *testing.T) {
	q := six()
	q.Y[3] += 0.02 // off the line, so that residuals count
	q.Unknowns = []photometry.Unknown{{Readings: []float64{0.3}}}
	was := fitted(t, q).Unknowns[0]
	shared := uncertain.Source{ID: "shared"}
	var standards []uncertain.Number
	of := make([]int, len(q.X))
	moved := q
	moved.X = slices.Clone(q.X)
	const h = 1e-6
	for i, x := range q.X {
		u := []float64{0.3, -1, 0.7, 2, -0.2, 1}[i] // by how much a common error moves each
		standards, of[i] = append(standards, uncertain.New(x, u, shared)), i
		moved.X[i] += h * u
	}
	moved.X[0] = max(0, moved.X[0])
	c, err := q.Carry(was, standards, of, "scatter")
	if err != nil {
		t.Fatal(err)
	}
	near(t, "value", c.Value, was.X, 0)
	want := (fitted(t, moved).Unknowns[0].X - was.X) / h
	i := slices.IndexFunc(c.Contributions, func(c uncertain.Contribution) bool { return c.ID == "shared" })
	near(t, "shared contribution", c.Contributions[i].U, want, 1e-4)
	i = slices.IndexFunc(c.Contributions, func(c uncertain.Contribution) bool { return c.ID == "scatter" })
	if got := c.Contributions[i]; got.U != was.SE || got.DoF != 4 {
		t.Errorf("%+v", got)
	}
	// What is of one standard alone is in the scatter already.
	for k := range standards {
		standards[k] = uncertain.New(q.X[k], 0.1, uncertain.Source{ID: fmt.Sprint(k)})
	}
	if c, _ = q.Carry(was, standards, of, "scatter"); len(c.Contributions) != 1 {
		t.Errorf("%+v", c.Contributions)
	}
}

func TestCovarianceAndBand(t *testing.T) {
	stock, flask := uncertain.Source{ID: "stock"}, uncertain.Source{ID: "flask"}
	standards := []uncertain.Number{uncertain.New(1, 0.01, stock), uncertain.New(2, 0.02, stock).Plus(uncertain.New(0, 0.03, flask))}
	c := photometry.Covariance(standards, []int{0, 1, 1})
	for i, row := range [][]float64{{1e-4, 2e-4, 2e-4}, {2e-4, 13e-4, 13e-4}, {2e-4, 13e-4, 13e-4}} {
		for k, want := range row {
			near(t, "covariance", c[i][k], want, 1e-12)
		}
	}
	if photometry.Covariance([]uncertain.Number{uncertain.Exact(1)}, []int{0}) != nil {
		t.Error("what is exact has a covariance")
	}
	a := fitted(t, six())
	y, half := a.Line.At(2.5) // the mean: t·s/√n
	near(t, "at the mean", y, 0.0036666667+0.1172*2.5, 1e-8)
	near(t, "half the band there", half, 2.7764451*0.00187972/math.Sqrt(6), 1e-5)
	near(t, "absorbance", photometry.Absorbance(10), 1, 1e-15)
	near(t, "transmittance", photometry.Transmittance(0.3), 50.118723, 1e-8)
	for r2, want := range map[float64]string{1: "1.00000", 0.999996: "above 0.99999", 0.999994: "0.99999", 0.98: "0.98000"} {
		if got := photometry.SayR2(r2); got != want {
			t.Errorf("%g: %s", r2, got)
		}
	}
}
