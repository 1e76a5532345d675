package titration

import (
	"math"

	"vialbench/core/droptip"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// runs reports whether the titrant can run out of the glass between two readings of its scale.
func (r Request) runs() bool {
	switch r.Burette.Kind {
	case glassware.Burette, glassware.GraduatedPipette, glassware.Syringe:
		return r.Burette.Division() > 0
	}
	return false
}

// device is what the titrant comes from, in a word.
func (r Request) device() string {
	switch {
	case r.Tip != nil:
		return "dropper"
	case r.Burette.Kind == glassware.GraduatedPipette:
		return "pipette"
	}
	return string(r.Burette.Kind)
}

// sayDevice names it.
func (r Request) sayDevice() string {
	if r.Tip == nil {
		return r.Burette.String()
	}
	return r.Tip.String()
}

// holds is how much titrant it holds, in mL.
func (r Request) holds() float64 {
	if r.Tip != nil {
		return dropper
	}
	return r.Burette.Volume
}

// dropper is about what a dropper holds, in mL.
const dropper = 3

// decimals of a titre in mL.
func (r Request) decimals() int {
	if r.Tip != nil {
		return 2
	}
	return r.Burette.Decimals()
}

// delivered is what came between two readings, or in so many drops, in mL; id keeps the times
// apart.
func (r Request) delivered(s stretch) uncertain.Number {
	if r.Tip != nil {
		return r.Tip.Drops(s.to-s.from, s.id)
	}
	return r.Burette.Between(s.to-s.from, s.begins, s.id)
}

// onScale turns what a scale shows into what has run out of full glass, and back: a syringe shows
// what is left.
func (r Request) onScale(mL float64) float64 {
	if r.Tip == nil && r.Burette.Kind == glassware.Syringe {
		return r.Burette.Volume - mL
	}
	return mL
}

// shows is what the scale shows, or how many drops fell, as text.
func (r Request) shows(at float64) string {
	if r.Tip != nil {
		return quantity.Digits(at, 0)
	}
	return quantity.Digits(r.onScale(at), r.Burette.Decimals())
}

// drops writes a number of drops, the nearest whole one.
func drops(n float64) string { return droptip.Say(int(math.Round(n))) }

// judgeDrops gives the verdicts on a titre of v mL that is counted in drops.
func (r Request) judgeDrops(v float64) []verdict.Verdict {
	n, least := v/r.Tip.Volume.Value, r.Thresholds.Of(RuleDrops)
	switch {
	case n > maxDrops:
		return []verdict.Verdict{
			RuleDrops.Says(verdict.Look, nil, "A trial would take about %s, more than anybody counts: take about %s, or a burette.",
				drops(n), r.sayAmount(2*least/n)),
		}
	case n < least:
		return []verdict.Verdict{
			RuleDrops.Says(verdict.Look, nil, "A trial would take about %s only, and one of them is %s %%: take about %s, or a thinner titrant.",
				drops(n), quantity.Digits(100/n, 0), r.sayAmount(2*least/n)),
		}
	}
	return []verdict.Verdict{}
}

// maxDrops is how many drops anybody counts in a trial.
const maxDrops = 400
