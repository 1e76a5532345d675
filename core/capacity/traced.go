package capacity

import (
	"slices"

	"vialbench/core/fact"
	"vialbench/core/slip"
)

// Trace implements [slip.Traceable] of the capacity by the first portion of a strong acid or base, in the first beaker of the buffer
// that tells one:
//
//	β = c·Δv/(V̄·|ΔpH|)
func (r Request) Trace(facts []fact.Fact) (w slip.Worked, ok bool) {
	a, err := r.follow(facts)
	if err != nil {
		return w, false
	}
	for i := range a.beakers {
		b := &a.beakers[i]
		if b.Water || b.v.Compound != nil || len(b.v.Points) < 2 || !(b.v.C.Value > 0) {
			continue
		}
		step := b.v.Steps(a.Thresholds)[0]
		if step.Wrong || step.Small || !(step.Beta.Value > 0) {
			continue
		}
		before, after := b.v.Points[0], b.v.Points[1]
		added := after.Added.Value - before.Added.Value
		c := slip.Capacity{
			Added: slip.Bottled{Name: b.With, C: b.v.C.Value}, ML: added, Before: before.PH.Value, After: after.PH.Value,
			Volume: slip.Glass{ML: b.v.Volume.Value + added/2}, Start: b.v.Volume.Value,
		}
		k := slices.IndexFunc(facts, func(f fact.Fact) bool { return f.ID == b.portions[1] })
		if k >= 0 && facts[k].Count != nil && *facts[k].Count > 0 {
			c.Drops, c.DropML, c.ML = *facts[k].Count, added/float64(*facts[k].Count), 0
		}
		return slip.Worked{Figures: slip.Figures{Capacity: &c}, Unit: "mol/L", Value: step.Beta.Value, U: step.Beta.Expanded()}, true
	}
	return w, false
}
