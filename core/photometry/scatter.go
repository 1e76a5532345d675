package photometry

import (
	"gonum.org/v1/gonum/stat/distuv"

	"vialbench/core/line"
	"vialbench/core/verdict"
)

// Scatter is how far readings scatter, as it is stated: by a part of what is shown beside a floor. Only how the two compare counts; how
// large both are is found from the residuals.
//
//	s(A)² = floor² + (part·A)²,   w ∝ 1/s(A)²
type Scatter struct {
	// Floor in AU, of a reading of nothing; Part of the reading, %.
	Floor float64 `json:"floor"`
	Part  float64 `json:"part"`
}

// Check adds a problem for what no photometer does, below a field.
func (s Scatter) Check(field string, p *verdict.Problems) {
	if !(s.Floor >= 1e-5 && s.Floor <= 0.1) {
		p.Add(field+"/floor", "the scatter of a reading of nothing is from 0.00001 to 0.1 AU: about its last digit")
	}
	if !(s.Part > 0 && s.Part <= 50) {
		p.Add(field+"/part", "the part of the reading that scatters is above 0 and at most 50 %%")
	}
}

// weight of a reading of an absorbance, on no scale of its own.
func (s Scatter) weight(y float64) float64 {
	grown := s.Part / 100 * y / s.Floor
	return 1 / (1 + grown*grown)
}

// fit is the line: of readings that weigh alike, or by the scatter of what an ordinary line has where they are.
func (q Question) fit() (fit, error) {
	l, err := line.Fit(q.X, q.Y)
	f := fit{Question: q, line: l}
	if err != nil || q.Scatter == nil {
		return f, err
	}
	weights := make([]float64, len(q.X))
	for i, x := range q.X {
		weights[i] = q.Scatter.weight(l.At(x))
	}
	f.weights, f.by = line.Even(weights)
	f.line, err = line.FitWeighted(q.X, q.Y, f.weights)
	return f, err
}

// Ordinary is the line that counts, with the weight of a reading of an absorbance beside it: 1 where all weigh alike. An error says that
// there is no line.
func (q Question) Ordinary() (l line.Line, weightAt func(absorbance float64) float64, err error) {
	f, err := q.fit()
	return f.line, f.weightAt, err
}

// grows tests whether squared residuals, as parts of their mean, grow with the concentration: half the sum of squares that a line through
// them explains is χ² with one degree of freedom where they do not (Breusch and Pagan). Nil of fewer than six readings.
func (f fit) grows() *Test {
	n := len(f.X)
	mean := f.line.SD * f.line.SD * float64(n-2) / float64(n)
	if n < 6 || !(mean > 0) {
		return nil
	}
	squares := make([]float64, n)
	for i, x := range f.X {
		r := f.Y[i] - f.line.At(x)
		squares[i] = f.weight(i) * r * r / mean
	}
	l, err := line.Fit(f.X, squares)
	if err != nil {
		return nil
	}
	t := &Test{DF1: 1, P: 1}
	if l.Slope > 0 { // that it shrinks is another matter
		t.F = l.Slope * l.Slope * l.Sxx / 2
		t.P = distuv.ChiSquared{K: 1}.Survival(t.F)
	}
	return t
}
