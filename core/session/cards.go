package session

import (
	"fmt"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Blank is a table that a group fills in.
type Blank struct {
	Title   string   `json:"title"`
	Columns []string `json:"columns"`
	// Rows are how many lines it has.
	Rows int `json:"rows"`
}

// Blanks lists the tables that each group fills in: of the liquids that are read from burettes, cuvettes and probes, a line
// for each trial and for those to spare.
func (s Session) Blanks(rules verdict.Thresholds) []Blank {
	var list []Blank
	for _, item := range s.Items {
		rows := item.Times
		name := strings.TrimSpace(item.Name)
		switch item.Glass {
		case Burette:
			for piece := range max(1, item.Pieces) {
				title := name + ", burette"
				if item.Pieces > 1 {
					title += fmt.Sprint(" ", piece+1)
				}
				spare := int(rules.Of(RuleSpare))
				list = append(list, Blank{title, []string{"trial", "start, mL", "end, mL", "used, mL", "remarks"}, rows + spare})
			}
		case Cuvette:
			list = append(list, Blank{name, []string{"reading", "wavelength, nm", "blank", "absorbance", "remarks"}, rows})
		case Probe:
			list = append(list, Blank{name, []string{"reading", "pH", "°C", "time", "remarks"}, rows})
		case Pipette, Poured:
		}
	}
	return list
}

// Uses says what a group uses of an item, in words: “2 × 20 mL from a burette of 50 mL”.
func (it Item) Uses() string {
	l, _ := it.read()
	words := fmt.Sprintf("%d × %s", it.Times, Volume(l.each))
	from := map[Glass]string{Burette: "burette", Pipette: "pipette", Cuvette: "cuvette", Probe: "beaker"}[it.Glass]
	switch {
	case from == "":
		return words
	case l.Pieces > 1:
		return fmt.Sprintf("%s from %d %ss of %s", words, l.Pieces, from, Volume(l.size))
	}
	return fmt.Sprintf("%s from a %s of %s", words, from, Volume(l.size))
}

// ItemOf is an item for a liquid that everybody needs who carries a plan out.
func ItemOf(l run.Liquid) Item {
	it := Item{Name: l.Name, Concentration: l.Strength, Times: max(1, l.Times), Glass: Glass(l.From), Standardised: l.Known}
	if l.Each > 0 {
		it.Each = Volume(l.Each)
	}
	if l.PH > 0 {
		it.PH = quantity.Digits(l.PH, 2)
	}
	if l.Size > 0 {
		it.Size = Volume(l.Size)
	}
	return it
}
