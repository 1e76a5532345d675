package absorbance

import (
	"math"

	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/slip"
)

// Trace implements [slip.Traceable] of a run with one unknown: what a person reads from the line and takes back to the sample.
func (r Request) Trace(facts []fact.Fact) (w slip.Worked, ok bool) {
	if len(r.Unknowns) != 1 {
		return w, false
	}
	a, err := r.follow(facts)
	part := len(r.Standards)
	if err != nil {
		return w, false
	}
	c, ok := a.concentration(part)
	unit, err := quantity.UnitOf(a.Unit)
	if !ok || err != nil {
		return w, false
	}
	l := slip.Line{Slope: a.answer.Line.Slope, Intercept: a.answer.Line.Intercept}
	if g := a.answer.General; g != nil { // the one of both that counts here
		mean := a.answer.Unknowns[a.found[part]].Mean
		if math.Abs((mean-g.Intercept)/g.Slope-c.Value) < math.Abs((mean-l.Intercept)/l.Slope-c.Value) {
			l.Slope, l.Intercept = g.Slope, g.Intercept
		}
	}
	blank := 0.0
	if n := len(a.blanks); n > 0 {
		blank = photometry.Shown(*a.blanks[n-1].Quantity)
	}
	if blank != 0 {
		l.Blank = &blank
	}
	for _, read := range a.reads[part] {
		l.Readings = append(l.Readings, read.net+blank)
	}
	if f, diluted := a.factor(part); diluted {
		c = c.Times(f)
		l.Diluted = []slip.Dilution1{{Aliquot: slip.Glass{ML: 1}, Flask: slip.Glass{ML: f.Value}}}
	}
	return slip.Worked{Figures: slip.Figures{Line: &l}, Unit: unit.Symbol, Value: c.Value, U: c.Expanded()}, true
}
