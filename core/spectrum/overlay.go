package spectrum

import (
	"slices"

	"gonum.org/v1/gonum/interp"

	"vialbench/core/verdict"
)

// Points are a spectrum without its words.
type Points struct {
	X []float64 `json:"x"`
	Y []float64 `json:"y"`
}

// OverlayQuestion lays one spectrum over another.
type OverlayQuestion struct {
	A Points `json:"a"`
	B Points `json:"b"`
}

// OverlayAnswer compares them where both reach, at the wavelengths of the first.
type OverlayAnswer struct {
	X          []float64 `json:"x"`
	Difference []float64 `json:"difference"` // A − B
	// Ratio is A/B; 0 where B is too small to divide by.
	Ratio []float64 `json:"ratio"`
}

// smallest is the least ordinate that is divided by.
const smallest = 0.005

// Overlay compares two spectra; between its points the second one is joined by straight lines. An error is a verdict.Problems.
func Overlay(q OverlayQuestion) (OverlayAnswer, error) {
	a := OverlayAnswer{X: []float64{}, Difference: []float64{}, Ratio: []float64{}}
	var p verdict.Problems
	for field, s := range map[string]Points{"/a": q.A, "/b": q.B} {
		if len(s.X) != len(s.Y) || len(s.X) < 2 || len(s.X) > MaxPoints {
			p.Add(field, "a spectrum has 2 to %d wavelengths, and an ordinate for each", MaxPoints)
		}
	}
	if len(p) > 0 {
		return a, p
	}
	x, y := slices.Clone(q.B.X), slices.Clone(q.B.Y)
	if x[0] > x[len(x)-1] {
		slices.Reverse(x)
		slices.Reverse(y)
	}
	for i := 1; i < len(x); i++ {
		if !(x[i] > x[i-1]) {
			p.Add("/b", "its wavelengths rise or fall from one to the next")
			return a, p
		}
	}
	var second interp.PiecewiseLinear
	if err := second.Fit(x, y); err != nil {
		p.Add("/b", "%s", err)
		return a, p
	}
	for i, at := range q.A.X {
		if at < x[0] || at > x[len(x)-1] {
			continue
		}
		b, ratio := second.Predict(at), 0.0
		if b >= smallest {
			ratio = q.A.Y[i] / b
		}
		a.X, a.Difference, a.Ratio = append(a.X, at), append(a.Difference, q.A.Y[i]-b), append(a.Ratio, ratio)
	}
	if len(a.X) == 0 {
		p.Add("/b", "the two have no wavelength in common")
		return a, p
	}
	return a, nil
}
