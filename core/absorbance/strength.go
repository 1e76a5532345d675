package absorbance

import (
	"fmt"
	"strings"

	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

// suffix is what is counted in a unit: “P” of “mg/L P”.
func suffix(text string, unit quantity.Unit) string {
	return strings.TrimSpace(strings.TrimPrefix(text, unit.Symbol))
}

// perVolume is the figure of a product that its place on a line comes from, 0 of a blank; ok is false when it has none.
func perVolume(p run.Product) (f figure.Figure, unit quantity.Unit, ok bool) {
	for _, f := range p.Figures {
		if f.Role != figure.Concentration && f.Role != figure.OtherConcentration {
			continue
		}
		if unit, err := quantity.UnitOf(f.Unit); err == nil && unit.Dimension.PerVolume() {
			return f, unit, true
		}
	}
	return f, unit, false
}

// UnitOf is the unit that a tube of the shelf is told in; empty where it holds nothing that counts per volume.
func UnitOf(p run.Product) string {
	f, _, _ := perVolume(p)
	return f.Unit
}

// Strength is the concentration of a tube in a unit like “mg/L P”. It is an error when the tube is told in one that cannot
// be compared.
func Strength(p run.Product, in string) (uncertain.Number, error) {
	f, unit, ok := perVolume(p)
	want, err := quantity.UnitOf(in)
	switch {
	case !ok || err != nil:
		return uncertain.Number{}, fmt.Errorf("%s has no concentration that counts per volume", p.Title)
	case unit.Dimension != want.Dimension || suffix(f.Unit, unit) != suffix(in, want):
		return uncertain.Number{}, fmt.Errorf("%s is told in %s, the line in %s: take standards of one rack", p.Title, f.Unit, in)
	}
	return f.Scale(unit.Factor / want.Factor), nil
}

// molar is how many mol/L one of a unit is; ok is false where that cannot be known.
func molar(in string) (factor float64, ok bool) {
	unit, err := quantity.UnitOf(in)
	if err != nil {
		return 0, false
	}
	switch of := suffix(in, unit); unit.Dimension {
	case quantity.AmountConcentration:
		return unit.Factor, true
	case quantity.MassConcentration:
		if f, err := formula.Parse(of); of != "" && err == nil {
			return unit.Factor / f.MolarMass().Value, true
		}
	}
	return 0, false
}
