package dilution

import (
	"slices"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/slip"
)

// Trace implements [slip.Traceable] of the last tube of one dilution or of a chain: what was in the stock, through every pipette and
// flask on the way. A rack whose tubes come from the same stock has no one result.
func (r Request) Trace(facts []fact.Fact) (w slip.Worked, ok bool) {
	a, err := r.follow(facts)
	if err != nil || len(a.tubes) == 0 {
		return w, false
	}
	last := len(a.tubes) - 1
	at, volumes := a.bench(), a.expansions(a.temperature)
	found := a.ladder.figure(last, a.concentrations(at, volumes)[last])
	unit, err := quantity.UnitOf(found.Unit)
	if err != nil {
		return w, false
	}
	d := slip.Dilution{}
	factor := 1.0
	for i, rung := range a.Rungs {
		t := a.tubes[i]
		if rung.From != i-1 || rung.Weighed || rung.Taken == 0 || !t.delivered || !t.filled {
			return w, false
		}
		aliquot, final := rung.Taken, rung.Final()
		if t.taken != nil {
			aliquot = *t.taken
		}
		if rung.Flask == nil {
			if final = aliquot + rung.Solvent; t.solvent != nil {
				final = aliquot + *t.solvent
			}
		}
		factor *= final / aliquot
		d.Steps = append(d.Steps, slip.Dilution1{
			Aliquot: slip.Glass{ML: aliquot, Others: glassware.OneMarkVolumes()},
			Flask:   slip.Glass{ML: final, Others: glassware.Flasks(nil).Volumes(glassware.ClassA)},
		})
	}
	slices.Reverse(d.Steps) // the last step is what a person divides by first
	// What the glass really holds, and its temperature, are in the figure: by the volumes written on it the stock has this.
	d.Stock = slip.Bottled{Name: a.Stock.Name, C: found.Value * factor}
	return slip.Worked{Figures: slip.Figures{Dilution: &d}, Unit: unit.Symbol, Value: found.Value, U: found.Expanded}, true
}
