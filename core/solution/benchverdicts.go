package solution

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

func (a *account) tareVerdicts() []verdict.Verdict {
	most := a.Thresholds.Of(RuleTare) * a.Balance.Resolution
	if !a.tared || math.Abs(a.tare) <= most*(1+1e-9) {
		return nil
	}
	return []verdict.Verdict{
		RuleTare.Says(
			verdict.Look,
			nil,
			"It showed %s g after taring; this is taken off every reading.",
			quantity.Digits(a.tare, a.Balance.Decimals()),
		),
	}
}

func (a *account) weighVerdicts(t *taking) []verdict.Verdict {
	net := t.taken()
	if t.awaiting && !t.kept || !(net > 0) {
		return nil
	}
	target := t.taking(a.flask)
	off := net/target - 1
	reads := a.bottleReads(t) + ", and that is what the label will say."
	keep := verdict.Choice{ID: choiceKeep, Label: "Keep this mass"}
	if t.byVolume {
		keep.Label = "Keep this volume"
	}
	again := verdict.Choice{ID: run.ChoiceStartAgain, Label: "Start again"}

	list := make([]verdict.Verdict, 0, 2)
	switch {
	case math.Abs(off) <= a.Band:
		where := percent(off) + " over"
		if off < 0 {
			where = percent(off) + " under"
		}
		if math.Abs(net-target) < t.finest() {
			where = "On the target"
		}
		list = append(list, RuleBand.Finds(verdict.Fine, t.choices(target, keep, again),
			where+", inside the ±"+quantity.Trim(100*a.Band)+" % band. "+reads))
	case off < 0:
		list = append(list, RuleBand.Finds(verdict.Look, t.choices(target, keep, again),
			percent(off)+" under, below the ±"+quantity.Trim(100*a.Band)+" % band. "+reads))
	default:
		list = append(list, a.overshoot(t, keep, again, reads))
	}
	if slices.ContainsFunc(t.portions, func(p portion) bool { return p.short }) {
		list = append(
			list,
			RuleDigits.Says(
				verdict.Look,
				nil,
				"%s shows %d decimals in g, and fewer were recorded: correct the reading if digits were left out.",
				a.Balance.Name,
				t.decimals,
			),
		)
	}
	if i := slices.IndexFunc(t.portions, func(p portion) bool { return p.spread > 0 }); i >= 0 {
		list = append(list, a.Balance.TakenMoving(t.portions[i].spread))
	}
	tolerance := a.Thresholds.Of(weighing.RuleSmallestMass) / 100
	if smallest := a.Balance.SmallestMass(tolerance); !t.byVolume && net < smallest {
		list = append(
			list,
			weighing.RuleSmallestMass.Says(
				verdict.Look,
				nil,
				"%s is less than %s weighs to %.2g %% (from %s on).",
				t.say(net),
				a.Balance.Name,
				100*tolerance,
				t.say(smallest),
			),
		)
	}
	return list
}

// choices are the ways on with what was taken, when it is not too much for the band:
// the one that leads on first, and none once it was kept.
func (t *taking) choices(target float64, keep, again verdict.Choice) []verdict.Choice {
	if t.kept {
		return nil
	}
	missing := target - t.taken()
	if missing <= t.finest() {
		return []verdict.Choice{keep, again}
	}
	add := verdict.Choice{ID: choiceAdd, Label: "Add " + t.say(missing) + " more"}
	another := verdict.Choice{ID: choicePortion, Label: "Another portion, tared again"}
	if missing > t.Band*target {
		return []verdict.Choice{add, another, keep, again}
	}
	return []verdict.Choice{keep, add, another, again}
}

// overshoot is about more than the band lets in: what is over goes to waste, or a larger
// flask takes it.
func (a *account) overshoot(t *taking, keep, again verdict.Choice, reads string) verdict.Verdict {
	net, target := t.taken(), t.taking(a.flask)
	fits := ""
	volume := a.flask.Volume * net / target
	_, exact, err := a.cupboard.For(math.Round(10*volume)/10, a.flask.Class)
	if a.MakeUp == ToTheMark && !t.byVolume && !exact && err == nil {
		fits = fmt.Sprintf(" This mass fits %.1f mL, and there is no such flask.", volume)
	}
	choices := []verdict.Choice{keep, {ID: choiceRemove, Label: "Remove " + t.say(net-target) + " and discard it"}}
	if larger, ok := a.flaskFor(t); ok {
		label := fmt.Sprintf("Take the %g mL flask", larger.Volume)
		if more := t.taking(larger) - net; more >= t.finest() {
			label += ", take " + t.say(more) + " more"
		}
		choices = append(choices, verdict.Choice{ID: fmt.Sprintf("%s%g mL", choiceFlask, larger.Volume), Label: label})
	}
	v := RuleBand.Says(
		verdict.Look,
		append(choices, again),
		"%s over, above the ±%g %% band. %s%s",
		percent(net/target-1),
		100*a.Band,
		reads,
		fits,
	)
	v.Reason += " " + RuleExcess.Why
	return v
}

func percent(x float64) string { return strconv.FormatFloat(math.Abs(100*x), 'g', 2, 64) + " %" }

func (a *account) transferVerdicts() []verdict.Verdict {
	least := a.Thresholds.Of(RuleRinses)
	if a.rinses > 0 && float64(a.rinses) < least {
		return []verdict.Verdict{RuleRinses.Says(verdict.Look, nil, "Rinsed fewer than %g times: look for solid on the funnel.", least)}
	}
	return nil
}

func (a *account) dissolveVerdicts() []verdict.Verdict {
	again := verdict.Choice{ID: run.ChoiceStartAgain, Label: "Start again"}
	goOn := verdict.Choice{ID: choiceSolidDissolved, Label: "It has dissolved since, go on"}
	switch a.dissolved {
	case choiceSolidLeft:
		return []verdict.Verdict{
			RuleDissolved.Says(
				verdict.Look,
				[]verdict.Choice{goOn, again},
				"Solid left: no more water yet. Swirl on, or warm it gently in the hand and let it cool.",
			),
		}
	case choiceNeckReached:
		return []verdict.Verdict{
			RuleDissolved.Says(
				verdict.Stop,
				[]verdict.Choice{again, goOn},
				"The neck is reached and solid is left: the volume at the mark will not be the right one.",
			),
		}
	}
	return nil
}

func (a *account) temperatureVerdicts() []verdict.Verdict {
	if a.temperature == nil {
		return nil
	}
	t := *a.temperature
	change := 100 * (1/glassware.ExpansionFactor(t) - 1)
	if a.temperatureOK() {
		return []verdict.Verdict{
			RuleTemperature.Finds(verdict.Fine, nil, "Near enough to 20 °C; corrected for all the same ("+quantity.Signed(change, 2)+" %)."),
		}
	}
	return []verdict.Verdict{RuleTemperature.Says(verdict.Look, []verdict.Choice{
		{ID: choiceWait, Label: "Let it come to 20 °C"}, {ID: choiceTakeTempAsIs, Label: "Go on, corrected for"},
	},
		"%s °C from 20 °C: filled to the mark now, the concentration at 20 °C is %s %% off. It can be corrected for.",
		quantity.Digits(math.Abs(t-glassware.ReferenceTemperature), 1), quantity.Signed(change, 2))}
}

func (a *account) markVerdicts() []verdict.Verdict {
	if a.mark != choicePast {
		return nil
	}
	return []verdict.Verdict{
		RuleMark.Says(
			verdict.Stop,
			nil,
			"Past the mark: the volume is unknown. Discard it and begin again; this run stays on record. %s",
			LocalRules,
		),
	}
}

// madeUpVerdicts judges the mass of the solution, or the water that was added.
func (a *account) madeUpVerdicts() []verdict.Verdict {
	switch {
	case a.madeUp == nil:
		return nil
	case a.MakeUp == ByAdding:
		return []verdict.Verdict{
			RuleAdding.Says(verdict.Look, nil, "It makes about %s mL, known to ±%.1f %%: the concentration is nominal.",
				quantity.Digits(a.volume.Value, 0), 100*a.volume.Expanded()/a.volume.Value),
		}
	}
	off := 100 * (*a.madeUp/a.solutionMass() - 1)
	return []verdict.Verdict{
		RuleBand.Says(
			verdict.Fine,
			nil,
			"%s %% from the recipe; the bottle is named by what it weighs, %s mL at 20 °C.",
			quantity.Signed(off, 2),
			quantity.Digits(a.volume.Value, 2),
		),
	}
}

func (a *account) mixVerdicts() []verdict.Verdict {
	wanted := a.Thresholds.Of(run.RuleInversions)
	if a.inversions == 0 || a.mixedEnough() {
		return nil
	}
	return []verdict.Verdict{run.RuleInversions.Says(verdict.Look, []verdict.Choice{{ID: choiceMixedEnough, Label: "It is mixed, go on"}},
		"%d inversions so far, %g more to come.", a.inversions, wanted-float64(a.inversions))}
}
