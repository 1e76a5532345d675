package capacity

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/line"
	"vialbench/core/quantity"
	"vialbench/core/run"
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
	return nil, verdict.Problems{
		{Field: "/figure", Reason: "a figure of a capacity test is a capacity, a change of the pH, or the strength found"},
	}
}

func (a *account) explain(f figure.Figure) []working.Line {
	l := working.Line{Title: run.UpperFirst(f.Label), Symbol: `\beta`, Result: working.Result(f.Number, f.Unit)}
	switch {
	case f.Role == figure.Capacity:
		i, _ := strconv.Atoi(f.ID[len(f.ID)-1:]) //nolint:errcheck // made here
		b := a.beakers[i]
		l.From = []string{"c: " + b.With, "pH: " + a.Probe.Says()}
		given := func(pH float64) (factor, symbol string) {
			if b.v.Compound == nil {
				return "", ""
			}
			l.From = append(l.From, fmt.Sprintf("f: how many protons each molecule gives off or takes up at pH %s", quantity.Digits(pH, 2)))
			return fmt.Sprintf(`%.5g \times `, b.v.gives(pH)), `f\,`
		}
		if f.ID == "to-one "+strconv.Itoa(i) {
			factor, symbol := given(b.v.halfWay())
			l.Symbol, l.Formula = "n/V", `\frac{n}{V_0} = \frac{`+symbol+`c\,v_1}{V_0}`
			volume := f.Value * b.v.Volume.Value / b.v.C.Value / b.v.gives(b.v.halfWay())
			l.Substituted = fmt.Sprintf(`\frac{n}{V_0} = \frac{%s%s \times %s}{%s}`,
				factor, working.Value(b.v.C, "mol/L"), mL("%.5g", volume), mL("%.6g", b.v.Volume.Value))
			l.From = append(l.From, "v₁: where the pH has moved by one, by a straight line between the readings around it")
			break
		}
		p, q := b.v.Points[0], b.v.Points[1]
		middle := b.v.Volume.Value + (p.Added.Value+q.Added.Value)/2
		factor, symbol := given((p.PH.Value + q.PH.Value) / 2)
		l.Formula = `\beta = \frac{` + symbol + `c\,\Delta v}{\bar{V}\,|\Delta \mathrm{pH}|}`
		l.Substituted = fmt.Sprintf(
			`\beta = \frac{%s%s \times %s}{%s \times %.5g}`,
			factor,
			working.Value(b.v.C, "mol/L"),
			mL("%.5g", q.Added.Value-p.Added.Value),
			mL("%.6g", middle),
			math.Abs(q.PH.Value-p.PH.Value),
		)
		l.From = append(l.From, "V̄: half way, so that the dilution is counted")
	case strings.HasPrefix(f.ID, "moved"):
		a.explainMoved(&l, f)
	case f.ID == "titrant":
		a.explainTitrant(&l)
	default:
		l.Symbol, l.Formula = "f", `\mathrm{pH}_i = \mathrm{pH}(f\,c_0, v_i) + d`
		l.Substituted = "f = " + working.Value(f.Number, f.Unit)
		fit, _ := FitBuffer(a.buffers())
		l.From = []string{
			"the full balance fitted to all readings of the buffer by least squares, with the meter off by d",
			"d: " + working.Result(fit.Offset, "pH") + "; scatter of the readings: " + quantity.Digits(fit.SD, 3) + " pH",
		}
	}
	return append([]working.Line{l}, working.Uncertainty(f.Number, f.Unit)...)
}

// explainMoved shows the change of the pH between two readings.
func (a *account) explainMoved(l *working.Line, f figure.Figure) {
	i, _ := strconv.Atoi(f.ID[len(f.ID)-1:]) //nolint:errcheck // made here
	b := &a.beakers[i]
	theory, points := a.theory(b), b.v.Points
	last := len(points) - 1
	l.Symbol, l.Formula = `\Delta\mathrm{pH}`, `\Delta\mathrm{pH} = \mathrm{pH}_2 - \mathrm{pH}_1`
	l.Substituted = fmt.Sprintf(`\Delta\mathrm{pH} = %.4f - %.4f`, points[last].PH.Value, points[0].PH.Value)
	l.From = []string{
		"pH: " + a.Probe.Says() + "; what the meter is off by is off in both",
		fmt.Sprintf("by theory: %.2f before, %.2f after", theory[0], theory[last]),
	}
}

func mL(format string, x float64) string { return fmt.Sprintf(format, x) + working.Unit("mL") }

// explainTitrant shows the slope that the strength of an acid is found from.
func (a *account) explainTitrant(l *working.Line) {
	l.Symbol, l.Formula = "c", `c = \frac{\sum (v_i - \bar{v})(n_i - \bar{n})}{\sum (v_i - \bar{v})^2}`
	l.From = []string{"n: the strong acid that the balance of the buffer asks for at each pH that was read"}
	for _, b := range a.beakers {
		if !b.Acid || b.Water {
			continue
		}
		mL, mmol, err := b.v.asked()
		if err != nil {
			return
		}
		fit, err := line.Fit(mL, mmol)
		if err != nil {
			return
		}
		l.Substituted = fmt.Sprintf(`c = \frac{%.6g}{%.6g}`, fit.Slope*fit.Sxx, fit.Sxx) + working.Unit("mmol/mL")
		for i := range mL {
			l.From = append(l.From, fmt.Sprintf("after %s mL: %s mmol", quantity.Digits(mL[i], 2), quantity.Digits(mmol[i], 4)))
		}
	}
}
