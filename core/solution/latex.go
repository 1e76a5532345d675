package solution

import (
	"fmt"
	"strings"

	"vialbench/core/formula"
	"vialbench/core/uncertain"
	"vialbench/core/working"
)

func (c *context) molarLine(f formula.Formula, m uncertain.Number) working.Line {
	var symbolsOf, terms []string
	for _, e := range f.Elements {
		weight, _ := formula.AtomicWeight(e.Symbol)
		symbolsOf = append(symbolsOf, fmt.Sprintf(`%g\,A_{\mathrm{%s}}`, e.Atoms, e.Symbol))
		terms = append(terms, fmt.Sprintf(`%g \times %s`, e.Atoms, short(weight.Value)))
	}
	return working.Line{
		Title: "Molar mass of " + f.String(), Symbol: "M", Formula: "M = " + working.Sum(symbolsOf),
		Substituted: "M = " + working.Sum(terms), Result: working.Result(m, "g/mol"),
		From: []string{"atomic weights: IUPAC 2021, conventional values"},
	}
}

func (c *context) massSources() []string {
	list := []string{fmt.Sprintf("w: assay %.4g %% w/w", 100*c.Assay)}
	if c.DryingLoss > 0 {
		list[0] += ", less " + percent4(c.DryingLoss) + " of loss on drying"
	}
	switch {
	case c.StatedMolarity > 0:
		return []string{
			fmt.Sprintf(
				"ρ: g of the pure compound in a mL, from %g ± %g mol/L on the bottle and M; so w = 1",
				c.StatedMolarity,
				c.StatedMolarityLimits,
			),
		}
	case c.byVolume:
		return append(list, fmt.Sprintf("ρ: %g g/mL, as stated", c.Substance.Density))
	case c.buoyancy.Value != 1:
		return append(list, fmt.Sprintf("b: air buoyancy, solid of %g g/mL, weights of 8.0 g/mL", c.Substance.Density))
	case c.fallback:
		return append(list, fmt.Sprintf("air buoyancy not corrected (density not known, %g g/mL taken); its size is counted", unknownDensity))
	}
	return append(list, "air buoyancy not corrected; its size is counted")
}

func (c *context) ofWhat() string {
	if c.Of != "" {
		return " of " + c.Of
	}
	return " of the compound"
}

func grouped(terms []string) string {
	if len(terms) == 1 {
		return terms[0]
	}
	return "(" + strings.Join(terms, " + ") + ")"
}

func factor(n uncertain.Number) string { return fmt.Sprintf("%.6f", n.Value) }

func plain(value float64, unit string) string { return short(value) + working.Unit(unit) }

// short writes a value with up to nine significant digits.
func short(value float64) string { return fmt.Sprintf("%.9g", value) }
