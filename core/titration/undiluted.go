package titration

import (
	"fmt"

	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

// Descent is how the sample's bottle descends from an undiluted one, by dilutions on record. Both
// are told per volume in one unit:
//
//	F = c(undiluted) / c(sample)
//
// What the two share, like the assay of the solid, cancels: F depends on the glass of the dilutions
// alone.
type Descent struct {
	Bottle    string           `json:"bottle"`
	Number    int64            `json:"number"`
	Undiluted uncertain.Number `json:"undiluted"`
	Sample    uncertain.Number `json:"sample"`
}

// perVolume is what a product holds per volume, in base units; ok is false when it does not say.
func perVolume(p run.Product) (n uncertain.Number, of quantity.Dimension, ok bool) {
	f, ok := p.PerVolume()
	if !ok {
		return n, of, false
	}
	unit, err := quantity.UnitOf(f.Unit)
	return f.Scale(unit.Factor), unit.Dimension, err == nil
}

// DescentOf tells how much a bottle was diluted from another one; ok is false when they are told
// in units that cannot be compared, or when it is not thinner.
func DescentOf(sample, undiluted run.Product, bottle string, number int64) (d *Descent, ok bool) {
	c, in, ok1 := perVolume(sample)
	c0, in0, ok2 := perVolume(undiluted)
	if !ok1 || !ok2 || in != in0 || !(c0.Value > c.Value) {
		return nil, false
	}
	return &Descent{bottle, number, c0, c}, true
}

// factor is how many times the sample was diluted, 1 when it was not: as was typed, which is known as
// well as the rule has it, and by the descent of its bottle.
func (r Request) factor() uncertain.Number {
	f := uncertain.Exact(max(1, r.Diluted))
	if limits := r.Thresholds.Of(RuleFactor); r.Diluted > 1 && limits > 0 {
		f = uncertain.WithLimits(r.Diluted, r.Diluted*limits/100, uncertain.RectangularShape, uncertain.Source{
			ID: "dilution beforehand", Label: "dilution beforehand", Basis: fmt.Sprintf("±%g %%, rectangular", limits),
		})
	}
	if r.Descent != nil {
		f = f.Times(r.Descent.Undiluted.Over(r.Descent.Sample))
	}
	return f
}

// diluted reports whether there is an undiluted sample to go back to.
func (r Request) diluted() bool { return r.Diluted > 1 || r.Descent != nil }

// undiluted follows the name of what is told of the sample before it was diluted; empty when it
// was not.
func (r Request) undiluted() string {
	switch {
	case r.Descent != nil:
		return fmt.Sprintf(", undiluted (bottle %d)", r.Descent.Number)
	case r.Diluted > 1:
		return ", undiluted"
	}
	return ""
}

// sayDescent says how the sample was diluted, where its bottle tells.
func (r Request) sayDescent() string {
	if r.Descent == nil {
		return ""
	}
	return fmt.Sprintf(", diluted %s times from bottle %d", quantity.Digits(r.factor().Value, 4), r.Descent.Number)
}

// setTimes is the dilution of the sample as a factor of a formula; empty of an undiluted one.
func (r Request) setTimes() string {
	if !r.diluted() {
		return ""
	}
	f := r.factor()
	if r.Descent == nil {
		return ` \times ` + quantity.Digits(f.Value, -1)
	}
	text, _ := quantity.Round(f.Value, f.Expanded()/100) // the factor is one of several: two digits more
	return ` \times ` + text
}

// sayFactor says where the factor came from.
func (r Request) sayFactor() string {
	text := "F: how many times it had been diluted"
	if r.Descent != nil {
		text += fmt.Sprintf(", by the record of its bottle since bottle %d", r.Descent.Number)
	}
	return text
}

// undilutedFigure is the undiluted concentration of what was found in the sample, mol/L.
func (a *account) undilutedFigure(c uncertain.Number) figure.Figure {
	label := a.Sought() + " in " + run.LowerFirst(a.Sample.Name) + a.undiluted()
	return figure.New("undiluted", label, "mol/L", c.Times(a.factor())).As(figure.OtherConcentration)
}
