package run

import (
	"fmt"

	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// RuleFactor is about a dilution that was done beforehand and not recorded here.
var RuleFactor = verdict.Rule{
	ID: "T-33", Title: "How well a dilution beforehand is known", Threshold: 0.2, Unit: "%", Min: 0, Max: 10,
	Why:    "A 25 mL pipette and a 250 mL flask of class A give 1 in 10 to 0.2 % at the worst (0.12 and 0.06 %). A dilution on record is known by its own glass. 0 takes the factor as exact.",
	Source: "ISO 648, ISO 1042",
}

// Descent is how a sample's bottle descends from an undiluted one, by dilutions on record. Both
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

// inBase is what a product holds per volume, in base units; ok is false when it does not say.
func (p Product) inBase() (n uncertain.Number, of quantity.Dimension, ok bool) {
	f, ok := p.PerVolume()
	if !ok {
		return n, of, false
	}
	unit, err := quantity.UnitOf(f.Unit)
	return f.Scale(unit.Factor), unit.Dimension, err == nil
}

// DescentOf returns how much a bottle was diluted from another one; ok is false when they are told
// in units that cannot be compared, or when it is not thinner.
func DescentOf(sample, undiluted Product, bottle string, number int64) (d *Descent, ok bool) {
	c, in, ok1 := sample.inBase()
	c0, in0, ok2 := undiluted.inBase()
	if !ok1 || !ok2 || in != in0 || !(c0.Value > c.Value) {
		return nil, false
	}
	return &Descent{bottle, number, c0, c}, true
}

// Factor is how many times the sample was diluted.
func (d *Descent) Factor() uncertain.Number { return d.Undiluted.Over(d.Sample) }

// Follow returns the descent with what one of its two bottles holds now, the undiluted one or that of the
// sample; changed is false when nothing moved.
func (d *Descent) Follow(undiluted bool, source Product) (now *Descent, changed bool) {
	c, _, ok := source.inBase()
	if !ok {
		return d, false
	}
	is := *d
	of := &is.Sample
	if undiluted {
		of = &is.Undiluted
	}
	changed = of.Value != c.Value || of.U() != c.U()
	*of = c
	return &is, changed
}

// TypedFactor is a dilution that was typed: so many times, known as well as rule T-33 has it.
func TypedFactor(times float64, id string, t verdict.Thresholds) uncertain.Number {
	limits := t.Of(RuleFactor)
	if !(times > 1 && limits > 0) {
		return uncertain.Exact(max(1, times))
	}
	return uncertain.WithLimits(times, times*limits/100, uncertain.RectangularShape, uncertain.Source{
		ID: id, Label: "dilution beforehand", Basis: fmt.Sprintf("±%g %%, rectangular", limits),
	})
}
