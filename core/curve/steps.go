package curve

import (
	"fmt"
	"math"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// The rules of the next addition.
var (
	RuleStep = verdict.Rule{
		ID: "T-19", Title: "How much to add next", Threshold: 0.25, Unit: "pH", Min: 0.05, Max: 1,
		Why: "Where the curve is flat a millilitre tells as much as ten drops. In the jump each drop counts.", Source: "common practice",
	}
	RuleMost = verdict.Rule{
		ID: "T-20", Title: "No more than this at a time", Threshold: 1, Unit: "mL", Min: 0.2, Max: 10,
		Why: "Longer steps may leap over an end point.", Source: "common practice",
	}
	RuleRuns = verdict.Rule{
		ID:     "T-22",
		Title:  "A burette only runs out",
		Why:    "A reading above the one before is a misread one, or the burette was filled up: then what was added is unknown.",
		Source: "common practice",
	}
	RuleBeyond = verdict.Rule{
		ID: "T-21", Title: "Go on beyond the end point", Threshold: 12, Unit: "pH", Min: 10, Max: 13,
		Why: "Both sides of the jump are needed to find its middle. With acid added, as far below 7.", Source: "common practice",
	}
)

// next is where to run the burette to, or how many drops to add; empty when the curve has its other side.
func (a *account) next(answer ReadAnswer) string {
	n := len(a.points)
	if n == 0 || a.complete() {
		return ""
	}
	c := a.curve()
	if f := answer.Fit; f != nil {
		for _, p := range f.Parameters {
			if p.Name == "c" {
				c.C = p.Value.Value
			}
		}
	}
	here := a.points[n-1]
	step := a.Thresholds.Of(RuleMost)
	// The longest step, of those that halve, that moves the pH by no more than is wanted.
	for ; step > a.least(); step /= 2 {
		at := c.At([]float64{here.Volume, here.Volume + step})
		if math.Abs(at[1]-at[0]) <= a.Thresholds.Of(RuleStep) {
			break
		}
	}
	if a.unknown() {
		step = math.Min(step, a.bySlope())
	}
	return a.proposes(step)
}

// bySlope is the step by what was read last, when no model knows the way: half a millilitre at
// first, and then such that the pH moves by no more than is wanted if the slope goes on growing as
// it did.
func (a *account) bySlope() float64 {
	n := len(a.points)
	if n < leastReadings {
		return firstStep
	}
	slope := func(i int) float64 {
		return math.Abs((a.points[i].PH - a.points[i-1].PH) / (a.points[i].Volume - a.points[i-1].Volume))
	}
	last, before := slope(n-1), slope(n-2)
	step := a.Thresholds.Of(RuleStep) / last / math.Max(1, last/before)
	if math.IsNaN(step) { // read twice at one volume
		return firstStep
	}
	return step
}

// firstStep is how much to add while nothing is known, in mL.
const firstStep = 0.5

// complete reports whether the readings go far enough beyond the last end point.
func (a *account) complete() bool {
	n := len(a.points)
	if n == 0 {
		return false
	}
	list := a.curve().Equivalences()
	beyond := a.Thresholds.Of(RuleBeyond)
	last := a.points[n-1]
	if a.curve().base() {
		return last.PH >= beyond || last.Volume > 1.5*list[len(list)-1]
	}
	return last.PH <= 14-beyond || last.Volume > 1.5*list[len(list)-1]
}

func (a *account) steps(v View) []run.Step {
	ready := run.Step{
		ID:       "ready",
		Title:    a.sayFlask() + " into the beaker, bulb covered, titrant at hand",
		Kind:     KindReady,
		Input:    run.InputChoice,
		Asks:     true,
		Options:  []verdict.Choice{{ID: choiceIn, Label: "Done"}},
		Hint:     a.sayFilled() + a.sayBurette() + ".",
		Cautions: []string{"Goggles and gloves. Your local rules, the safety data sheets and licensed waste handling come first."},
	}
	start := run.Step{
		ID:    "start",
		Title: "Read the burette before anything is added",
		Kind:  KindStart,
		Input: run.InputQuantity,
		Asks:  true,
		Label: "Burette",
		Unit:  "mL",
		Dimensions: []quantity.Dimension{
			quantity.Volume,
		},
		Scale:   a.Glass.Volume,
		Expects: "0.00 mL",
		Hint:    "Anywhere near the top. Bottom of the meniscus, at eye level.",
	}
	list := []run.Step{ready}
	if a.Protonate != nil {
		list = append(list, a.acidStep())
	}
	if a.Tip == nil {
		list = append(list, start)
	}
	return append(list, a.curveStep(v))
}

// curveStep reads the pH and takes an addition, in turn.
func (a *account) curveStep(v View) run.Step {
	s := run.Step{ID: "curve", Asks: true, Ends: &verdict.Choice{ID: choiceDone, Label: "The curve is complete"}}
	if len(a.points) == 0 {
		s.Ends = nil
	}
	added := a.at - a.start
	if a.owed {
		s.Kind, s.Title = KindRead, fmt.Sprintf("The pH after %s mL", quantity.Digits(added, 2))
		if len(a.points) == 0 {
			s.Title, s.Verdicts = "The pH before anything is added", a.Probe.Judge()
		}
		s.Hint = "Stir; wait until it has settled."
		pH := a.curve().At([]float64{math.Max(0, added)})[0]
		s.Stands = &run.Stands{PH: pH, Celsius: a.celsius}
		return a.Probe.Meter().Asks(s, a.celsius, a.Probe.Expected(pH, a.celsius))
	}
	s = a.asksAddition(s, v.Next)
	if v.Next != "" {
		s.Hint = "So that the pH moves by about " + quantity.Digits(
			a.Thresholds.Of(RuleStep),
			2,
		) + ", and no more than " + quantity.Digits(a.Thresholds.Of(RuleMost), -1) + " mL."
	} else if a.complete() {
		s.Hint = "It has its other side: the curve may end here."
	}
	s.Verdicts = a.doubts
	if a.wrong {
		s.Verdicts = append(
			s.Verdicts,
			RuleRuns.Says(verdict.Stop, nil, "The burette went backwards: one of its readings is misread. Correct it."),
		)
	}
	return s
}

func (a *account) isDone(s *run.Step) bool {
	switch s.ID {
	case "ready":
		return a.ready
	case "acid":
		return a.protonated
	case "start":
		return a.started
	}
	return a.done && len(a.points) > 0
}

// Explain implements [run.Plan].
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	answer, _ := a.read()
	for _, f := range a.figures(answer) {
		if f.ID != figureID {
			continue
		}
		l := working.Line{
			Title:       run.UpperFirst(f.Label),
			Symbol:      "p",
			Formula:     `\sum_i \frac{\bigl(\mathrm{pH}_i - \mathrm{pH}(V_i; p)\bigr)^2}{s_{\mathrm{pH}}^2 + s_V^2 \left(\mathrm{d\,pH}/\mathrm{d}V\right)^2} \to \min`,
			Substituted: "p = " + working.Value(f.Number, f.Unit),
			Result:      working.Result(f.Number, f.Unit),
		}
		if answer.Fit != nil {
			l.From = []string{
				fmt.Sprintf("the full balance fitted to %d readings by least squares; they scatter by %s pH and %s mL", len(a.points),
					quantity.Digits(answer.Fit.SD, 3), quantity.Digits(answer.Fit.VolumeSD, 3)),
				"pH: " + a.Probe.Says(), "titrant: " + a.sayBurette(),
			}
			for _, p := range answer.Fit.Parameters {
				switch {
				case p.Name != f.ID:
				case p.Name == "acid":
					l.From = append(l.From, fmt.Sprintf("%s mmol went in, as it was read", quantity.Digits(a.acid(), 4)))
				case p.Listed > 0:
					l.From = append(l.From, fmt.Sprintf("at 25 °C, without salt; the library lists %.3f", p.Listed))
				case p.Name == "c":
					l.From = append(l.From, fmt.Sprintf("in the beaker %.5g mol/L, times %g mL over %g mL", p.Value.Value, a.full(), a.Volume))
				}
			}
			if f.ID == "pI" {
				_, between, _ := a.curve().isoelectric(answer.Fit)
				l.Symbol, l.Formula = `\mathrm{pI}`, `\mathrm{pI} = \frac{\mathrm{p}K_1 + \mathrm{p}K_2}{2}`
				l.Substituted = fmt.Sprintf(`\mathrm{pI} = \frac{%.4f + %.4f}{2}`, between[0], between[1])
				l.From = append(
					l.From,
					fmt.Sprintf("the constants on both sides of the neutral form, at %g °C; what they share in the fit is counted", a.Celsius),
				)
			}
		}
		for _, e := range answer.EndPoints {
			if f.ID == fmt.Sprint("end point ", e.Number) {
				l.Symbol, l.Formula, l.Substituted = "V", `\frac{\mathrm{d}^2\,\mathrm{pH}}{\mathrm{d}V^2} = 0`, fmt.Sprintf(
					`V = %.4f`,
					e.Volume,
				)+working.Unit("mL")
				l.From = []string{
					"quadratics through five neighbouring readings each; the second derivative goes through zero here",
					fmt.Sprintf("slope there: %.2f pH/mL, pH %.2f", e.Slope, e.PH),
				}
			}
		}
		return append([]working.Line{l}, working.Uncertainty(f.Number, f.Unit)...), nil
	}
	return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a curve is an end point, or what its fit found"}}
}
