package capacity

import (
	"fmt"
	"math"
	"strconv"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Explain implements [run.Plan].
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	for _, f := range a.figures() {
		if f.ID == figureID {
			return a.explain(f), nil
		}
	}
	return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a capacity test is a capacity, or the strength found"}}
}

func (a *account) explain(f figure.Figure) []working.Line {
	l := working.Line{Title: f.Label, Symbol: `\beta`, Result: working.Result(f.Number, f.Unit), From: sayBudget(f.Number)}
	switch {
	case f.Role == figure.Capacity:
		i, _ := strconv.Atoi(f.ID[len(f.ID)-1:]) //nolint:errcheck // made here
		b := a.beakers[i]
		p, q := b.v.Points[0], b.v.Points[1]
		l.From = append([]string{"c: " + b.With, "V̄: half way, so that the dilution is counted", a.Probe.Says()}, l.From...)
		if f.ID == "to-one "+strconv.Itoa(i) {
			l.Symbol, l.Formula = "n/V", `\frac{n}{V_0} = \frac{c\,v_1}{V_0}`
			volume := f.Value * b.v.Volume.Value / b.v.C.Value
			l.Substituted = fmt.Sprintf(`\frac{n}{V_0} = \frac{%s \times %.5g}{%.6g}`, working.Value(b.v.C, "mol/L"), volume, b.v.Volume.Value)
			l.From = append([]string{"v₁: where the pH has moved by one, by a straight line between the readings around it"}, l.From...)
			return []working.Line{l}
		}
		middle := b.v.Volume.Value + (p.Added.Value+q.Added.Value)/2
		l.Formula = `\beta = \frac{c\,\Delta v}{\bar{V}\,|\Delta \mathrm{pH}|}`
		l.Substituted = fmt.Sprintf(
			`\beta = \frac{%s \times %.5g}{%.6g \times %.5g}`,
			working.Value(b.v.C, "mol/L"),
			q.Added.Value-p.Added.Value,
			middle,
			math.Abs(q.PH.Value-p.PH.Value),
		)
	case f.ID == "titrant":
		l.Symbol, l.Formula = "c", `c = \frac{\Delta n}{\Delta v}`
		l.Substituted = "c = " + working.Value(f.Number, f.Unit)
		l.From = append([]string{"n: the strong acid that the balance of the buffer asks for at each pH that was read"}, l.From...)
	default:
		l.Symbol, l.Formula = "f", `\mathrm{pH}_i = \mathrm{pH}(f\,c_0, v_i) + d`
		l.Substituted = "f = " + working.Value(f.Number, f.Unit)
		l.From = append([]string{"the full balance fitted to all readings of the buffer by least squares, with the meter off by d"}, l.From...)
	}
	return []working.Line{l}
}

func sayBudget(n uncertain.Number) []string {
	var list []string
	for _, share := range n.Budget() {
		if share.Fraction > 0.005 {
			list = append(list, fmt.Sprintf("%s, %.0f %% of the variance: %s", share.Label, 100*share.Fraction, share.Basis))
		}
	}
	return list
}
