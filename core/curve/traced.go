package curve

import (
	"fmt"
	"slices"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/slip"
)

// Trace implements [slip.Traceable] of the concentration by the last end point that is told, where no acid was added before:
//
//	c = c_T·V_e·ν/V_S
//
// with ν the moles of what is in the beaker for each mole of the titrant up to there. The fit is not worked out by hand.
func (r Request) Trace(facts []fact.Fact) (w slip.Worked, ok bool) {
	if r.Protonate != nil {
		return w, false
	}
	a, err := r.follow(facts)
	if err != nil {
		return w, false
	}
	answer, ok := a.read()
	if !ok || len(answer.EndPoints) == 0 {
		return w, false
	}
	last := answer.EndPoints[len(answer.EndPoints)-1]
	expected := a.curve().Equivalences()
	if last.Number < 1 || last.Number > len(expected) {
		return w, false
	}
	titrant, sample := a.Burette.Concentration, a.sample()
	ratio := a.guess() * a.Volume / (titrant.Value * expected[last.Number-1])
	list := a.figures(answer)
	i := slices.IndexFunc(list, func(f figure.Figure) bool { return f.ID == fmt.Sprint("end point ", last.Number) })
	c := titrant.Times(list[i].Number).Scale(ratio).Over(sample)

	t := slip.Titration{
		Titrant: slip.Bottled{Name: a.Burette.Name, C: titrant.Value}, Ratio: ratio, Burette: a.Glass.Volume,
		Aliquot: slip.Glass{ML: sample.Value, Others: glassware.OneMarkVolumes()},
		Trials:  []slip.Trial{{Start: a.start, End: a.start + last.Volume}},
	}
	if a.Tip != nil {
		t.Burette = 0
	}
	for _, e := range answer.EndPoints {
		t.Points = append(t.Points, e.Volume/2)
		if e != last {
			t.Points = append(t.Points, e.Volume)
		}
	}
	if f, err := formula.Parse(a.Flask.Formula); err == nil {
		t.MolarMass = f.MolarMass().Value
	}
	return slip.Worked{Figures: slip.Figures{Titration: &t}, Unit: "mol/L", Value: c.Value, U: c.Expanded()}, true
}
