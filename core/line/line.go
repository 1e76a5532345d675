// Package line fits a straight line by least squares:
//
//	y = a + b·x,   b = Σ(x − x̄)(y − ȳ) / Σ(x − x̄)²,   a = ȳ − b·x̄
//	s² = Σ(y − a − b·x)² / (n − 2)
//	s²(b) = s² / Σ(x − x̄)²,   s²(a) = s²·(1/n + x̄²/Σ(x − x̄)²)
//
// All points weigh alike. Source: NIST/SEMATECH e-Handbook of Statistical Methods, 4.1.4.1.
package line

import (
	"errors"
	"math"
)

// Line is a fitted line. Slope is in units of y per unit of x, Intercept and SD in those
// of y.
type Line struct {
	Slope, Intercept float64
	// SD is the residual standard deviation, with N − 2 degrees of freedom; 0 of two points.
	SD float64
	N  int
	// MeanX and Sxx are x̄ and Σ(x − x̄)².
	MeanX, Sxx float64
}

// Fit fits a line to points; there are at least two, with different x, all of them finite.
func Fit(x, y []float64) (Line, error) {
	if len(x) != len(y) || len(x) < 2 {
		return Line{}, errors.New("a line takes at least two points")
	}
	n := float64(len(x))
	l := Line{N: len(x)}
	meanY := 0.0
	for i := range x {
		l.MeanX += x[i] / n
		meanY += y[i] / n
	}
	sxy := 0.0
	for i := range x {
		dx := x[i] - l.MeanX
		l.Sxx += dx * dx
		sxy += dx * (y[i] - meanY)
	}
	if !(l.Sxx > 0) || math.IsInf(l.Sxx, 0) || math.IsNaN(sxy) || math.IsInf(sxy, 0) {
		return Line{}, errors.New("a line takes points that lie apart")
	}
	l.Slope = sxy / l.Sxx
	l.Intercept = meanY - l.Slope*l.MeanX
	if l.N > 2 {
		rss := 0.0
		for i := range x {
			r := y[i] - meanY - l.Slope*(x[i]-l.MeanX)
			rss += r * r
		}
		l.SD = math.Sqrt(rss / (n - 2))
	}
	return l, nil
}

// At is the value of the line at x.
func (l Line) At(x float64) float64 { return l.Intercept + l.Slope*x }

// SlopeSE is the standard error of the slope.
func (l Line) SlopeSE() float64 { return l.SD / math.Sqrt(l.Sxx) }

// InterceptSE is the standard error of the intercept.
func (l Line) InterceptSE() float64 {
	return l.SD * math.Sqrt(1/float64(l.N)+l.MeanX*l.MeanX/l.Sxx)
}
