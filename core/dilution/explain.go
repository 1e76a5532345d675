package dilution

import (
	"fmt"
	"strconv"

	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/core/working"
)

// Explain shows how the concentration of a tube comes about, from the stock down. An
// error is a verdict.Problems.
func Explain(r Request, tube int) ([]working.Line, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	return r.explain(tube, nil, r.expansions(nil))
}

// explain shows it with what was read at the bench, when at is not nil.
func (r Request) explain(tube int, at []*made, t expansions) ([]working.Line, error) {
	if tube < 0 || tube >= len(r.Rungs) {
		return nil, verdict.Problems{{Field: "/tube", Reason: "there is no such tube in the ladder"}}
	}
	concentrations := r.concentrations(at, t)
	var path []int
	for i := tube; i != FromStock; i = r.Rungs[i].From {
		path = append([]int{i}, path...)
	}
	var lines []working.Line
	for _, i := range path {
		rung := r.Rungs[i]
		var m *made
		if at != nil {
			m = at[i]
		}
		taken, final := r.volumes(i, m, t)
		source, name := r.Stock.Concentration, "the stock, "+r.Stock.String()
		if rung.From != FromStock {
			source, name = concentrations[rung.From], r.name(rung.From)
		}
		n := strconv.Itoa(i + 1)
		if rung.Weighed {
			lines = append(lines, r.explainWeighed(n, m, taken))
		}
		lines = append(lines, working.Line{Title: "Tube " + n, Symbol: "c_{" + n + "}", Formula: fmt.Sprintf(`c_{%s} = c\,\frac{V_{\mathrm{taken}}}{V_{\mathrm{final}}}`, n),
			Substituted: fmt.Sprintf(`c_{%s} = %s \times \frac{%s}{%s}`, n, r.value(source), working.Value(taken, "mL"), working.Value(final, "mL")),
			Result:      r.result(concentrations[i]), From: []string{"c: " + name, "V: " + r.words(i), "volumes at 20 °C, by the standards of the glass"}})
	}
	c := concentrations[tube]
	var terms, from []string
	for _, share := range c.Budget() {
		terms = append(terms, "("+quantity.Digits(100*share.U/c.Value, 3)+`\,\%)^2`)
		from = append(from, fmt.Sprintf("%s %.0f %%: %s", share.Label, 100*share.Fraction, share.Basis))
	}
	if len(terms) > 0 {
		f := figure.Readable("", "", r.Stock.Unit, c)
		lines = append(lines, working.Line{Title: "Uncertainty, k = 2", Symbol: "U", Formula: `U = 2\,c\,\sqrt{\textstyle\sum_i (u_i/c)^2}`,
			Substituted: `U = 2 \times ` + r.value(uncertain.Exact(c.Value)) + `\,\sqrt{` + working.Sum(terms) + "}", Result: f.UText + " " + f.Unit, From: from})
	}
	return lines, nil
}

// explainWeighed shows the volume of a portion that was weighed.
func (r Request) explainWeighed(n string, m *made, taken uncertain.Number) working.Line {
	grams := r.grams(taken.Value)
	if m != nil && m.grams != nil {
		grams = *m.grams
	}
	density := r.Stock.density()
	buoyancy := weighing.Buoyancy(1000 * r.Stock.Density)
	return working.Line{Title: "Portion for tube " + n, Symbol: "V", Formula: `V = \frac{W\,b}{\rho}`,
		Substituted: fmt.Sprintf(`V = \frac{%s \times %s}{%s}`, working.Value(r.Balance.Net(grams, 0, ""), "g"), working.Value(buoyancy, ""), working.Value(density, "g/mL")),
		Result:      working.Result(taken, "mL"), From: []string{"W: what " + r.Balance.Name + " shows", "b: buoyancy in air, of a liquid of this density", "ρ: of the stock at 20 °C"}}
}

// value and result write a concentration as the ladder does.
func (r Request) value(c uncertain.Number) string {
	unit, factor := quantity.Readable(c.Value, r.Stock.Unit)
	return working.Value(c.Scale(factor), unit)
}

func (r Request) result(c uncertain.Number) string {
	unit, factor := quantity.Readable(c.Value, r.Stock.Unit)
	return working.Result(c.Scale(factor), unit)
}
