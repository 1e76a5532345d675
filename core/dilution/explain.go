package dilution

import (
	"fmt"
	"strconv"
	"strings"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/core/working"
)

// ExplainTube shows how the concentration of a tube comes about by the plan, from the
// stock down. An error is a verdict.Problems.
func (r Request) ExplainTube(tube int) ([]working.Line, error) {
	l, err := r.Ladder()
	if err != nil {
		return nil, err
	}
	return r.explain(tube, l, nil, r.expansions(nil))
}

// Explain implements [run.Plan]: a figure is that of a tube, like “tube 2”, “volume 2” or “pH 2”.
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	what, which, _ := strings.Cut(figureID, " ")
	n, err := strconv.Atoi(which)
	tube := n - 1
	switch {
	case err != nil || tube < 0 || tube >= len(r.Rungs):
	case what == "tube":
		return r.explain(tube, a.ladder, a.bench(), r.expansions(a.temperature))
	case what == "volume":
		return r.explainVolume(tube, a.bench()[tube], r.expansions(a.temperature)), nil
	case what == "pH" && r.Stock.Mixture != nil:
		return a.explainPH(tube)
	}
	return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a dilution is that of a tube, like “tube 2”, “volume 2” or “pH 2”"}}
}

// explainVolume shows what a tube holds at 20 °C.
func (r Request) explainVolume(tube int, m *made, t expansions) []working.Line {
	taken, final := r.volumes(tube, m, t)
	l := working.Line{
		Title: "Volume at 20 °C", Symbol: "V_{20}", Result: working.Result(final, "mL"),
		From: []string{"V: " + r.words(tube), "the solution expands as water"},
	}
	switch rung := r.Rungs[tube]; {
	case rung.Flask != nil:
		l.Formula = `V_{20} = V_{\mathrm{flask}}\,\frac{\rho_t}{\rho_{20}}`
		l.Substituted = fmt.Sprintf(`V_{20} = %s \times %s`, working.Value(rung.Flask.Filled(""), "mL"), working.Value(t.solvent, ""))
	default:
		l.Formula = `V_{20} = V_{\mathrm{taken}} + V_{\mathrm{solvent}}`
		l.Substituted = fmt.Sprintf(`V_{20} = %s + %s`, working.Value(taken, "mL"), working.Value(final.Minus(taken), "mL"))
	}
	return append([]working.Line{l}, working.Uncertainty(final, "mL")...)
}

// explainPH shows the pH of a buffer that was diluted: by the balance of charge in what is left of it.
func (a *account) explainPH(tube int) ([]working.Line, error) {
	c := a.concentrations(a.bench(), a.expansions(a.temperature))[tube]
	thinner := a.thinned(c)
	answer, err := thinner.Answer(a.Thresholds)
	if err != nil {
		return nil, err
	}
	factor := c.Over(a.Stock.Concentration)
	return append([]working.Line{{
		Title:       "What is left of the buffer",
		Symbol:      "x",
		Formula:     `x = \frac{c_{` + a.ladder.Tubes[tube].Label + `}}{c}`,
		Substituted: fmt.Sprintf(`x = \frac{%s}{%s}`, a.ladder.value(c), a.ladder.value(a.Stock.Concentration)),
		Result:      working.Result(factor, ""),
		From:        []string{"c: the stock, " + a.Stock.String()},
	}}, append(answer.Lines(), working.Uncertainty(answer.PH, "")...)...), nil
}

// explain shows it with what was read at the bench, when at is not nil.
func (r Request) explain(tube int, l Ladder, at []*made, t expansions) ([]working.Line, error) {
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
		lines = append(
			lines,
			working.Line{
				Title:   "Tube " + n,
				Symbol:  "c_{" + n + "}",
				Formula: fmt.Sprintf(`c_{%s} = c\,\frac{V_{\mathrm{taken}}}{V_{\mathrm{final}}}`, n),
				Substituted: fmt.Sprintf(
					`c_{%s} = %s \times \frac{%s}{%s}`,
					n,
					l.value(source),
					working.Value(taken, "mL"),
					working.Value(final, "mL"),
				),
				Result: working.Result(concentrations[i].Scale(l.scale), l.Unit),
				From:   []string{"c: " + name, "V: " + r.words(i), "volumes at 20 °C, by the standards of the glass"},
			},
		)
	}
	c := concentrations[tube]
	var terms []string
	for _, share := range c.Budget() {
		terms = append(terms, "("+quantity.Digits(100*share.U/c.Value, 3)+`\,\%)^2`)
	}
	if len(terms) > 0 {
		f := l.figure(tube, c)
		lines = append(lines, working.Line{
			Title:       "Uncertainty, k = 2",
			Symbol:      "U",
			Formula:     `U = 2\,c\,\sqrt{\textstyle\sum_i (u_i/c)^2}`,
			Substituted: `U = 2 \times ` + l.value(uncertain.Exact(c.Value)) + `\,\sqrt{` + working.Sum(terms) + "}",
			Result:      f.UText + " " + f.Unit,
			From:        working.Shares(f.Budget),
		})
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
	return working.Line{
		Title:   "Portion for tube " + n,
		Symbol:  "V",
		Formula: `V = \frac{W\,b}{\rho}`,
		Substituted: fmt.Sprintf(
			`V = \frac{%s \times %s}{%s}`,
			working.Value(r.Balance.Net(grams, 0, ""), "g"),
			working.Value(buoyancy, ""),
			working.Value(density, "g/mL"),
		),
		Result: working.Result(taken, "mL"),
		From:   []string{"W: what " + r.Balance.Name + " shows", "b: buoyancy in air, of a liquid of this density", "ρ: of the stock at 20 °C"},
	}
}

// value writes a concentration in the unit of the ladder.
func (l Ladder) value(c uncertain.Number) string { return working.Value(c.Scale(l.scale), l.Unit) }
