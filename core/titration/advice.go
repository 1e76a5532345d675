package titration

import (
	"fmt"
	"math"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// judgePlan gives the verdicts on a titre that is expected.
func (r Request) judgePlan(v float64) []verdict.Verdict {
	switch {
	case r.Back != nil: // the excess is judged when its rest is known
		return []verdict.Verdict{}
	case r.Tip != nil:
		return r.judgeDrops(v)
	}
	full := r.Burette.Volume
	// Enough for seven tenths of the burette: between half and nine tenths of it.
	take, strength := r.sayAmount(0.7*full/v), r.sayStrength(v/(0.7*full))
	switch least := r.Thresholds.Of(RuleTitre); {
	case v > full:
		return []verdict.Verdict{
			RuleRefill.Says(
				verdict.Look,
				nil,
				"A trial would take %s mL, more than the burette holds: take about %s, or a titrant of about %s.",
				quantity.Digits(v, 1),
				take,
				strength,
			),
		}
	case v < least:
		return []verdict.Verdict{RuleTitre.Says(verdict.Look, nil,
			"A trial would take %s mL only: take about %s, or a titrant of about %s.", quantity.Digits(v, 1), take, strength)}
	}
	return []verdict.Verdict{}
}

// prospect is what the trials that must agree would give if each took v mL.
func (r Request) prospect(v float64) string {
	if r.Reaction.Pair() {
		return ""
	}
	a := account{Request: r}
	trials := make([]Trial, int(r.Thresholds.Of(RuleTrials)))
	for i := range trials {
		id := fmt.Sprint("trial ", i)
		ran := stretch{to: v, begins: id + " first", id: id + " last"}
		if r.Tip != nil {
			ran.to = v / r.Tip.Volume.Value
		}
		trials[i] = Trial{Titre: a.warmed(r.delivered(ran)), Sample: r.sampled(id + " sample")}
		if r.Back != nil {
			trials[i].Excess = r.Back.excess(id)
		}
	}
	found, err := r.known().Solve(trials, r.limits())
	if err != nil || found.C.Relative() == 0 {
		return ""
	}
	if d := r.Dissolved; d != nil {
		found.C = r.inSolid(found.C, r.Balance.Net(d.Mass, 0, stepWeigh), "")
	}
	most := found.C.Budget()[0]
	return fmt.Sprintf("%d trials that agree would give it to about ± %s %%; most of that is the %s (%s %%).", len(trials),
		quantity.Digits(100*found.C.Expanded()/math.Abs(found.C.Value), 2), most.Label, quantity.Digits(100*most.Fraction, 0))
}

// sampled is a sample as planned; id keeps its readings apart from others.
func (r Request) sampled(id string) uncertain.Number {
	switch r.By {
	case ByPipette:
		return r.Glass.Delivered(id)
	case ByBurette:
		return r.Glass.Dispensed(r.Volume, id)
	case ByCylinder:
		return r.Glass.Reading(r.Volume, id)
	}
	return r.Balance.Net(r.Mass, 0, id)
}

// sayAmount is a sample so many times as large, to two digits.
func (r Request) sayAmount(times float64) string {
	amount, unit := times*r.Volume, " mL"
	if r.By == Weighed {
		amount, unit = times*r.Mass, " g"
	}
	text, _ := quantity.Round(amount, amount)
	return text + unit
}

// sayStrength is a titrant so many times as strong, to two digits.
func (r Request) sayStrength(times float64) string {
	c := times * r.Titrant.C.Value
	text, _ := quantity.Round(c, c)
	return text + " mol/L"
}

// take is how much of the sample fills seven tenths of the burette, as it is typed: for a pipette
// the size that comes next to that; empty where the plan is right as it is, or where nothing is
// known.
func (r Request) take(v float64) string {
	full := r.Burette.Volume
	if r.Tip != nil || r.Back != nil || v >= full/2 && v <= 0.9*full {
		return ""
	}
	times := 0.7 * full / v
	switch r.By {
	case Weighed:
		text, _ := quantity.Round(times*r.Mass, times*r.Mass)
		return text
	case ByPipette:
		best := ""
		least := math.Inf(1)
		for _, size := range glassware.OfKind(glassware.OneMarkPipette, nil) {
			if mL := v * size.Volume / r.Volume; mL >= full/2 && mL <= 0.9*full && math.Abs(mL-0.7*full) < least {
				best, least = quantity.Trim(size.Volume), math.Abs(mL-0.7*full)
			}
		}
		return best
	}
	text, _ := quantity.Round(times*r.Volume, times*r.Volume)
	return text
}
