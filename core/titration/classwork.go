package titration

import (
	"math"

	"vialbench/core/quantity"
	"vialbench/core/run"
)

var _ run.Classwork = Request{}

// Liquids implements [run.Classwork]: the titrant, the sample that is taken by volume, and what is added in excess. What is
// found has no strength yet; what it is found by must be known. A trial to spare is the session's own affair.
func (r Request) Liquids() []run.Liquid {
	trials := int(r.Thresholds.Of(RuleTrials))
	titrant := run.Liquid{
		Name: r.Titrant.Name, Strength: strengthOf(r.Titrant), Each: math.Ceil(r.Expected()), Times: trials, Known: !r.Standardise,
	}
	if r.Tip == nil {
		titrant.From, titrant.Size = "burette", r.Burette.Volume
	}
	list := []run.Liquid{titrant}
	if r.By != Weighed && r.Dissolved == nil {
		sample := run.Liquid{Name: r.Sample.Name, Strength: strengthOf(r.Sample), Each: r.Volume, Times: trials, Known: r.Standardise}
		if r.By != ByCylinder {
			sample.From, sample.Size = r.By, r.Glass.Volume
		}
		list = append(list, sample)
	}
	if r.Back != nil {
		back := run.Liquid{Name: r.Back.Reagent.Name, Strength: strengthOf(r.Back.Reagent), Each: r.Back.Volume, Times: trials, Known: true}
		back.From, back.Size = "pipette", r.Back.Volume
		list = append(list, back)
	}
	return list
}

// strengthOf is the strength of a solution, as it is asked for.
func strengthOf(s Solution) string {
	if !(s.C.Value > 0) {
		return ""
	}
	return quantity.Trim(quantity.Nominal(s.C.Value)) + " mol/L"
}
