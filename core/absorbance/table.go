package absorbance

import (
	"fmt"
	"strconv"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// blanksWanted and open are how many rows a table leaves empty, to write into: those of blanks and of the readings of a tube that are
// still to come.
func (a *account) blanksWanted() int {
	if a.ended || a.reason != "" {
		return 0
	}
	return a.wanted
}

func (a *account) open(part int) int {
	if a.ended || a.reason != "" {
		return 0
	}
	return max(0, a.Replicates+a.again[part]-len(a.reads[part]))
}

// blankRow is a row of the table that is to be filled in by hand.
func (a *account) blankRow(name string, cell int) []string {
	const free = "\u00a0" // a column with nothing in it would not be printed
	return []string{name, "", "", "", a.Unit, free, free, free, strconv.Itoa(cell), "", free, ""}
}

// table is what was read and what it gives.
func (a *account) table(v View) [][]string {
	list := [][]string{{
		"tube", "owner", "concentration", "U (k = 2)", "unit", "shown", "A", "%T", "cell", "residual", "struck because", "doubts",
	}}
	for i := range a.blanksWanted() - len(v.Blanks) {
		list = append(list, a.blankRow(fmt.Sprintf("Blank %d", len(v.Blanks)+i+1), a.cell(0)+1))
	}
	for _, w := range v.Warmth {
		list = append(list, []string{w.Name, "", "", "", "", w.Shown, "", "", "", "", "", ""})
	}
	for _, vessel := range v.Vessels {
		for range a.open(vessel.Part) {
			row := a.blankRow(vessel.Name, vessel.Cell)
			row[1] = vessel.Owner
			if !vessel.Unknown {
				row[2], row[3] = quantity.Round(vessel.C, vessel.U)
			}
			list = append(list, row)
		}
		for _, read := range vessel.Readings {
			residual, doubts := "", ""
			if !vessel.Unknown && v.Line != nil {
				residual = quantity.Signed(read.A-v.Line.Intercept-v.Line.Slope*vessel.C, 4)
			}
			for _, doubt := range vessel.Verdicts {
				if doubt.Level != verdict.Fine {
					doubts += doubt.Rule + ": " + doubt.Sentence + " "
				}
			}
			c, u := "", ""
			if vessel.Text != "" {
				c, u = quantity.Round(vessel.C, vessel.U)
			}
			list = append(list, []string{
				vessel.Name, vessel.Owner, c, u, a.Unit, read.Shown, read.AText, read.TText, strconv.Itoa(vessel.Cell), residual, vessel.Struck, doubts,
			})
		}
	}
	return list
}
