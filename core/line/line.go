// Package line fits a straight line by least squares:
//
//	y = a + b·x,   b = Σ(x − x̄)(y − ȳ) / Σ(x − x̄)²,   a = ȳ − b·x̄
//	s² = Σ(y − a − b·x)² / (n − 2)
//	s²(b) = s² / Σ(x − x̄)²,   s²(a) = s²·(1/n + x̄²/Σ(x − x̄)²)
//
// With weights w, of which the mean is made 1, every sum is Σw·…, x̄ and ȳ are weighted means, and s is the standard deviation of
// a point of weight 1. Source: NIST/SEMATECH e-Handbook of Statistical Methods, 4.1.4.1 and 4.1.4.3.
package line

import (
	"errors"
	"math"
)

// rounding is how far residuals come from the arithmetic alone, as a part of y: a line through points that lie on it has no scatter.
const rounding = 16 * 0x1p-52

// Line is a fitted line. Slope is in units of y per unit of x, Intercept and SD in those
// of y.
type Line struct {
	Slope, Intercept float64
	// SD is the residual standard deviation, with N − 2 degrees of freedom; 0 of two points.
	SD float64
	N  int
	// MeanX and Sxx are x̄ and Σ(x − x̄)², weighted.
	MeanX, Sxx float64
}

// Fit fits a line to points; there are at least two, with different x, all of them finite. All weigh alike.
func Fit(x, y []float64) (Line, error) { return FitWeighted(x, y, nil) }

// FitWeighted is Fit with a weight above zero for each point, of which the mean is 1, as [Even] makes them; nil where all weigh alike.
func FitWeighted(x, y, weights []float64) (Line, error) {
	if len(x) != len(y) || len(x) < 2 || weights != nil && len(weights) != len(x) {
		return Line{}, errors.New("a line takes at least two points")
	}
	weight := func(i int) float64 {
		if weights == nil {
			return 1
		}
		return weights[i]
	}
	n := float64(len(x))
	l := Line{N: len(x)}
	meanY := 0.0
	for i := range x {
		l.MeanX += weight(i) * x[i] / n
		meanY += weight(i) * y[i] / n
	}
	sxy := 0.0
	for i := range x {
		dx := x[i] - l.MeanX
		l.Sxx += weight(i) * dx * dx
		sxy += weight(i) * dx * (y[i] - meanY)
	}
	if !(l.Sxx > 0) || math.IsInf(l.Sxx, 0) || math.IsNaN(sxy) || math.IsInf(sxy, 0) {
		return Line{}, errors.New("a line takes points that lie apart")
	}
	l.Slope = sxy / l.Sxx
	l.Intercept = meanY - l.Slope*l.MeanX
	if l.N > 2 {
		rss, most := 0.0, 0.0
		for i := range x {
			r := y[i] - meanY - l.Slope*(x[i]-l.MeanX)
			rss += weight(i) * r * r
			most = math.Max(most, math.Abs(y[i]))
		}
		l.SD = math.Sqrt(rss / (n - 2))
		if l.SD < rounding*most {
			l.SD = 0
		}
	}
	return l, nil
}

// Even scales weights so that their mean is 1, and returns by what.
func Even(weights []float64) (even []float64, by float64) {
	sum := 0.0
	for _, w := range weights {
		sum += w
	}
	by = float64(len(weights)) / sum
	for _, w := range weights {
		even = append(even, w*by)
	}
	return even, by
}

// At is the value of the line at x.
func (l Line) At(x float64) float64 { return l.Intercept + l.Slope*x }

// SlopeSE is the standard error of the slope.
func (l Line) SlopeSE() float64 { return l.SD / math.Sqrt(l.Sxx) }

// InterceptSE is the standard error of the intercept.
func (l Line) InterceptSE() float64 {
	return l.SD * math.Sqrt(1/float64(l.N)+l.MeanX*l.MeanX/l.Sxx)
}
