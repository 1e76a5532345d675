package calibration

import (
	"math"
	"strings"

	"vialbench/core/electrode"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

func (a *account) steps(verdicts []verdict.Verdict) []run.Step {
	list := []run.Step{
		{
			ID:    "bulb",
			Title: "Take the probe out of its storage solution, and look at the bulb",
			Kind:  KindBulb,
			Input: run.InputChoice,
			Asks:  true,
			Options: []verdict.Choice{
				{ID: choiceWet, Label: "It stood wet"},
				{ID: choiceDry, Label: "It was dry"},
			},
			Hint: "A probe stands in storage solution (KCl), never dry, never in deionised water.",
			Cautions: []string{
				"The bulb is thin glass: a broken one cuts. Goggles on; your local rules and the safety data sheets of the buffers come first.",
			},
		},
	}
	if a.bulb == choiceDry {
		least := quantity.Digits(a.Thresholds.Of(electrode.RuleWet), -1)
		soak := run.Step{
			ID:      "soak",
			Title:   "Soak it in storage solution for " + least + " min at least",
			Kind:    KindSoaked,
			Input:   run.InputChoice,
			Asks:    true,
			Options: []verdict.Choice{{ID: choiceSoaked, Label: "It has soaked"}},
			Hint:    "In KCl, not in water: the glass must take up its skin again.",
			Clock:   &run.Clock{Since: a.dryAt, Minutes: a.Thresholds.Of(electrode.RuleWet), What: "The bulb"},
		}
		if a.soaked > 0 && a.soaked.Minutes() < a.Thresholds.Of(electrode.RuleWet) {
			soak.Verdicts = []verdict.Verdict{electrode.RuleWet.Says(verdict.Look, nil,
				"Soaked for %s of %s min: look whether it still creeps.", quantity.Digits(math.Floor(a.soaked.Minutes()), 0), least)}
		}
		list = append(list, soak)
	}
	for i := range a.Buffers {
		list = append(list, a.dipStep(i), a.readStep(i))
	}
	judge := run.Step{
		ID:       "judge",
		Title:    "Look at the line, and decide",
		Kind:     run.KindDecided,
		Input:    run.InputChoice,
		Verdicts: verdicts,
	}
	if len(verdicts) > 0 {
		use := verdict.Choice{ID: choiceUse, Label: "Use this calibration"}
		again := verdict.Choice{ID: run.ChoiceStartAgain, Label: "Do not use it: calibrate again"}
		judge.Verdicts = append([]verdict.Verdict(nil), verdicts...)
		judge.Verdicts[0].Choices = []verdict.Choice{use, again}
		if verdicts[0].Level == verdict.Stop {
			judge.Verdicts[0].Choices = []verdict.Choice{again, use}
		}
	}
	return append(list, judge)
}

func (a *account) dipStep(i int) run.Step {
	s := run.Step{
		ID:      stepID("dip", i),
		Part:    i,
		Title:   "Rinse, blot, into pH " + a.sayPH(i) + " (" + a.Buffers[i].Name + "), bulb covered",
		Kind:    KindDipped,
		Input:   run.InputChoice,
		Asks:    true,
		Options: []verdict.Choice{{ID: choiceIn, Label: "The probe is in"}},
		Hint:    "From the wash bottle, not in one beaker for all. Blot with soft paper; never rub the bulb.",
	}
	if i > 0 {
		s.Hint += " Used buffer is not poured back."
	}
	return s
}

func (a *account) readStep(i int) run.Step {
	celsius := a.Celsius
	for _, p := range a.points[:i] {
		if p.read != nil {
			celsius = p.read.Celsius // one temperature for all, as a rule
		}
	}
	expected := math.NaN()
	if pH, err := a.Buffers[i].At(celsius); err == nil {
		expected = electrode.FromShown(pH, celsius)
	}
	s := a.Meter.Asks(run.Step{
		ID:    stepID("read", i),
		Part:  i,
		Title: "Wait until it has settled, then take pH " + a.sayPH(i),
		Kind:  KindRead,
		Asks:  true,
		Hint: "Settled: less than " + quantity.Digits(
			a.Thresholds.Of(electrode.RuleSettled),
			-1,
		) + " pH in 10 s. A point that is taken too early is taken again.",
	}, celsius, expected)
	if a.read == quantity.Potential {
		s.Dimensions = []quantity.Dimension{quantity.Potential}
	}
	if a.Meter.ShowsPH {
		s.Then = &run.Field{Label: "After adjusting, if it was", Unit: "pH", Dimensions: s.Dimensions}
	}
	if doubts := a.pointVerdicts(i); len(doubts) > 0 {
		doubts[0].Choices = []verdict.Choice{{ID: choiceAgain, Label: "Take this buffer again"}}
		if !a.points[i].otherwise {
			doubts[0].Choices = append(doubts[0].Choices, verdict.Choice{ID: choiceKeep, Label: "Keep this reading"})
		}
		s.Verdicts, s.Asks = doubts, false
	}
	return s
}

// pointVerdicts are the objections to one reading.
func (a *account) pointVerdicts(i int) []verdict.Verdict {
	p := a.points[i]
	if p.read == nil {
		return nil
	}
	var list []verdict.Verdict
	if p.otherwise {
		return append(list, electrode.RuleOneScale.Says(verdict.Stop, nil,
			"%s, and the first buffer was read in %s: read all of them the same way.", p.shown, a.Meter.Unit()))
	}
	offset := a.Thresholds.Of(electrode.RuleOffsetUsable)
	found, ok := electrode.Recognise(p.read.MV, p.read.Celsius, offset, a.Buffers)
	switch {
	case !ok:
		list = append(
			list,
			electrode.RuleSwapped.Says(
				verdict.Stop,
				nil,
				"%s belongs to none of these buffers; %s gives about %s. Is the bulb covered, its cap off, the sign right?",
				p.shown,
				a.Buffers[i].Name,
				a.expects(i),
			),
		)
	case found.Buffer.Name != a.Buffers[i].Name && found.Doubt == "":
		list = append(list, electrode.RuleSwapped.Says(verdict.Stop, nil, "%s is what %s gives; %s gives about %s. Look at the bottle.",
			p.shown, found.Buffer.Name, a.Buffers[i].Name, a.expects(i)))
	}
	if p.read.Spread > 0 {
		list = append(
			list,
			electrode.RuleSettled.Says(
				verdict.Look,
				nil,
				"Taken before it had settled: it still moved by %s mV.",
				quantity.Digits(p.read.Spread, 1),
			),
		)
	}
	return list
}

// expects is about what the meter shows in a buffer.
func (a *account) expects(i int) string {
	celsius := a.points[i].read.Celsius
	pH, err := a.Buffers[i].At(celsius)
	if err != nil {
		return "something else"
	}
	return strings.TrimSuffix(a.Meter.Asks(run.Step{}, celsius, electrode.FromShown(pH, celsius)).Expects, " pH")
}
