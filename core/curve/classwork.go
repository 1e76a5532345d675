package curve

import (
	"math"

	"vialbench/core/buffer"
	"vialbench/core/quantity"
	"vialbench/core/run"
)

var _ run.Classwork = Request{}

// Liquids implements [run.Classwork]: what is titrated, and what it is titrated with.
func (r Request) Liquids() []run.Liquid {
	flask := run.Liquid{Name: r.Flask.Name, Strength: strengthOf(r.Flask), Each: r.Volume, Times: 1, From: "pipette", Size: r.Sample.Volume}
	titrant := run.Liquid{Name: r.Burette.Name, Strength: strengthOf(r.Burette), Each: math.Ceil(r.needs()), Times: 1, Known: true}
	if r.Tip == nil {
		titrant.From, titrant.Size = "burette", r.Glass.Volume
	}
	return []run.Liquid{flask, titrant}
}

func strengthOf(s buffer.Stock) string {
	if !(s.Concentration.Value > 0) {
		return ""
	}
	return quantity.Trim(quantity.Nominal(s.Concentration.Value)) + " mol/L"
}
