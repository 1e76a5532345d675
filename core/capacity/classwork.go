package capacity

import (
	"math"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/run"
)

var _ run.Classwork = Request{}

// Liquids implements [run.Classwork]: the buffer for its beakers, and acid and base for about one pH.
func (r Request) Liquids() []run.Liquid {
	name, _, _ := strings.Cut(r.Name, ", ") // without strength and pH, as on a label
	buffer := run.Liquid{Name: name, Each: r.Volume, From: "probe"}
	for _, b := range r.beakers() {
		if !b.Water {
			buffer.Times++
			buffer.PH = r.vessel(b).Theory([]float64{0})[0].PH
		}
	}
	list := []run.Liquid{buffer}
	for _, from := range []*Titrant{r.AcidFrom, r.BaseFrom} {
		if from != nil {
			strength := quantity.Trim(quantity.Nominal(from.C.Value)) + " mol/L"
			list = append(list, run.Liquid{Name: from.Name, Strength: strength, Each: math.Ceil(r.toOne(from)), Times: 1, Known: true})
		}
	}
	return list
}
