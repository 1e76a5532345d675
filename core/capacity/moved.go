package capacity

import (
	"math"
	"strconv"

	"vialbench/core/buffer"
	"vialbench/core/electrode"
	"vialbench/core/indicator"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// What dilution and another temperature do to a buffer: its pH before and after, beside what
// theory says, and the colour of an indicator.

// expected is how warm a beaker is taken to be where a reading does not say.
func (a *account) expected(b *beaker) float64 {
	if !b.since.IsZero() {
		return b.bath
	}
	return a.Celsius
}

// theory is the pH that theory gives at each reading of a beaker.
func (a *account) theory(b *beaker) []float64 {
	list := make([]float64, len(b.v.Points))
	for i, x := range b.v.Theory(b.v.volumes()) {
		list[i] = x.PH
	}
	if b.Kind == InBath {
		for i := range list {
			list[i] = b.at(b.celsius[i])
		}
	}
	return list
}

// at is the pH by theory of what is in a beaker, at a temperature.
func (b *beaker) at(celsius float64) float64 {
	v := b.v
	v.Mixture.Celsius = uncertain.Exact(celsius)
	return v.Theory([]float64{0})[0].PH
}

// moved is how far the pH of a beaker went that was diluted, warmed or cooled; ok is false
// before there are two readings.
func (a *account) moved(b *beaker) (change uncertain.Number, ok bool) {
	n := len(b.v.Points)
	if b.Kind == Titrated || n < 2 {
		return change, false
	}
	return b.v.Points[n-1].PH.Minus(b.v.Points[0].PH), true
}

// judgeMoved puts the change of the pH beside theory, and the colour seen beside the one that
// was expected.
func (a *account) judgeMoved(b *beaker) (list []verdict.Verdict) {
	change, ok := a.moved(b)
	if !ok {
		return nil
	}
	theory := a.theory(b)
	predicted := theory[len(theory)-1] - theory[0]
	level, rule := verdict.Fine, buffer.RuleDilution
	if math.Abs(change.Value-predicted) > math.Max(a.Thresholds.Of(RuleTheory), change.Expanded()) {
		level = verdict.Look
	}
	what := "Diluted " + quantity.Digits((b.v.Volume.Value+b.added.Value)/b.v.Volume.Value, 1) + " times"
	if b.Kind == InBath {
		rule, what = buffer.RuleWarming, "At "+quantity.Digits(b.celsius[len(b.celsius)-1], 1)+" °C"
	}
	list = append(list, rule.Says(level, nil, "%s the buffer moved by %s pH; theory says %s.",
		what, quantity.Signed(change.Value, 2), quantity.Signed(predicted, 2)))
	if b.seen < 0 || a.Indicator == nil {
		return list
	}
	level = verdict.Fine
	expected := a.Indicator.Shade(theory[len(theory)-1])
	if away := max(b.seen-expected, expected-b.seen); float64(away) > a.Thresholds.Of(RuleShade) {
		level = verdict.Look
	}
	return append(list, RuleShade.Says(level, nil, "%s in the bath: %s was expected, %s was seen.",
		run.UpperFirst(a.Indicator.Name), a.Indicator.Words[expected], a.Indicator.Words[b.seen]))
}

// finished reports whether nothing more is owed to a beaker.
func (a *account) finished(b *beaker) bool {
	return b.done || b.Kind == InBath && len(b.v.Points) > 1 && !b.owed && (a.Indicator == nil || b.seen >= 0)
}

// asksProbe reads the pH of a beaker; pH is what theory gives, or NaN.
func (a *account) asksProbe(s run.Step, b *beaker, pH, celsius float64) run.Step {
	s.Kind, s.Hint = KindRead, "Rinse and blot between beakers. Stir, wait until it has settled."
	if len(b.v.Points) == 0 {
		s.Verdicts = a.Probe.Judge()
	}
	mV := math.NaN()
	if !math.IsNaN(pH) {
		mV = a.Probe.Expected(pH, celsius)
		s.Stands = &run.Stands{PH: pH, Celsius: celsius}
	}
	return a.Probe.Meter().Asks(s, celsius, mV)
}

// waterStep takes the water that dilutes a buffer.
func (a *account) waterStep(s run.Step, b *beaker) run.Step {
	s.Kind, s.Input, s.Label, s.Dimensions, s.Unit = KindAdded, run.InputQuantity, "Water", []quantity.Dimension{quantity.Volume}, "mL"
	s.Title = run.UpperFirst(b.Name) + ": add " + quantity.Trim(a.Dilution) + " mL of deionised water"
	s.Expects = quantity.Digits(a.Dilution, max(1, decimals(a.Dilution))) + " mL"
	s.Hint = quantity.Digits(b.added.Value, 1) + " mL so far. Stir."
	s.Ends = &verdict.Choice{ID: choiceDone, Label: "Done with this beaker"}
	s.Verdicts = b.doubts
	return s
}

// bathStep reads a beaker, warms or cools it, reads it again and asks for its colour.
func (a *account) bathStep(i int) run.Step {
	b := &a.beakers[i]
	name := run.UpperFirst(b.Name)
	s := run.Step{ID: stepOf(i), Part: i, Asks: true}
	switch {
	case b.owed && b.since.IsZero():
		s.Title = name + ": the pH before it goes into the bath"
		return a.asksProbe(s, b, b.at(a.celsius), a.celsius)
	case b.since.IsZero():
		s.Kind, s.Input, s.Label, s.Unit = KindBath, run.InputQuantity, "Bath", "°C"
		s.Dimensions, s.Expects = []quantity.Dimension{quantity.Temperature}, quantity.Trim(b.Celsius)+" °C"
		s.Title = name + ": into the bath; how warm is it?"
		s.Hint = "Another beaker stays untouched beside it."
		s.Cautions = []string{"Hot water scalds: tongs and gloves. Keep the probe within the temperatures that its maker names."}
		s.Verdicts = b.doubts
	case b.owed:
		s.Title = name + ": the pH in the bath"
		s = a.asksProbe(s, b, b.at(b.bath), b.bath)
		s.Clock = &run.Clock{Since: b.since, Minutes: a.Thresholds.Of(electrode.RuleWarmed), What: b.Name}
	default:
		s.Kind, s.Input = KindSeen, run.InputChoice
		s.Title = name + ": which colour does " + a.Indicator.Name + " show beside the untouched one?"
		s.Hint = "Against white paper. One or two drops of indicator in both."
		for shade := range indicator.Shades {
			s.Options = append(s.Options, verdict.Choice{ID: strconv.Itoa(shade), Label: run.UpperFirst(a.Indicator.Words[shade])})
		}
		s.Verdicts = b.doubts
	}
	return s
}
