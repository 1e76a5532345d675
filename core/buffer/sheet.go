package buffer

import (
	"fmt"
	"math"
	"strings"
	"time"

	"vialbench/core/calibration"
	"vialbench/core/equilibrium"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

var (
	massOnly   = []quantity.Dimension{quantity.Mass}
	volumeOnly = []quantity.Dimension{quantity.Volume}
)

// localRules comes with every caution.
const localRules = "Your local rules, the safety data sheets and licensed waste handling come first."

// steps lists the steps with what they ask and say now, in the order of the work.
func (a *account) steps(now time.Time) []run.Step {
	var list []run.Step
	if a.single() {
		list = append(list, a.waterStep())
	}
	for i := range a.tubes {
		part := i * a.perTube()
		for k := range a.ingredients() {
			list = append(list, a.takeStep(i, k))
		}
		if a.single() {
			list = append(list, a.stirStep(), a.readStep(&a.tubes[i], part))
		}
		if !a.byVolume() {
			list = append(list, a.markStep(&a.tubes[i], part))
		}
		list = append(list, a.mixStep(&a.tubes[i], part))
	}
	for i := range a.tubes {
		list = append(list, a.finalStep(&a.tubes[i], i*a.perTube()))
	}
	return append(list, a.labelStep(now))
}

// tubeWord begins the title of a step that is about one of a row.
func (a *account) tubeWord(t *tube) string {
	if a.single() {
		return ""
	}
	return "pH " + quantity.Digits(t.target, 2) + ": "
}

// cautions are those of what is handled.
func (a *account) cautions() []string {
	list := []string{"Goggles and gloves. " + localRules}
	for _, i := range a.ingredients() {
		if i.Substance.Liquid {
			return append(list, "Concentrated "+run.LowerFirst(i.Substance.Name)+": in the fume hood, acid into water, never the reverse.")
		}
	}
	return list
}

func (a *account) waterStep() run.Step {
	return run.Step{
		ID:       "water",
		Title:    "Deionised water into a beaker, about " + trim(quantity.Significant(beakerShare*a.Volume, 2)) + " mL",
		Kind:     KindWatered,
		Input:    run.InputChoice,
		Asks:     true,
		Options:  []verdict.Choice{{ID: choiceIn, Label: "Water added"}},
		Hint:     "To about 40 % of the flask: that leaves room for what brings it to its pH.",
		Cautions: a.cautions(),
	}
}

func (a *account) takeStep(tubeAt, k int) run.Step {
	t := &a.tubes[tubeAt]
	i := a.ingredients()[k]
	take := t.plan.Takes[k]
	part := tubeAt*a.perTube() + k
	s := run.Step{ID: stepOf("take", part), Part: part, Asks: true, Input: run.InputQuantity}
	if i.Liquid() {
		v := i.For(take.mol)
		s.Title = a.tubeWord(t) + take.Amount + " of " + i.String()
		s.Kind, s.Label, s.Dimensions, s.Unit = KindMeasured, "Volume let out", volumeOnly, "mL"
		s.Expects = quantity.Digits(v, 2) + " mL"
		s.Hint = fmt.Sprintf("With a %s. %s What was let out is what counts.", a.measure(v).Name(), a.measure(v).Handling())
		s.Cautions = a.cautions()
		return s
	}
	s.Title = a.tubeWord(t) + "Weigh " + take.Amount + " of " + i.Substance.Name
	s.Kind, s.Label, s.Dimensions, s.Unit, s.Instrument, s.ByDifference = KindWeighed, "Net mass shown", massOnly, "g", a.Balance.Name, true
	s.Hint = "Look at the label: it must be " + i.Substance.Formula + ". The vessel tared to zero; near enough will do, what was weighed is what counts."
	return s
}

func (a *account) stirStep() run.Step {
	return run.Step{
		ID:      "stir",
		Title:   "Stir until all has dissolved, let it come to " + trim(a.MadeAt) + " °C",
		Kind:    KindStirred,
		Input:   run.InputChoice,
		Asks:    true,
		Options: []verdict.Choice{{ID: choiceClear, Label: "All dissolved, clear"}, {ID: choiceSolidLeft, Label: "Solid left"}},
		Hint:    "Too little stirring, and the first pH is wrong.",
	}
}

// readStep reads the pH in the beaker, and takes what is added, in turn.
func (a *account) readStep(t *tube, part int) run.Step {
	s := run.Step{ID: stepOf("read", part), Part: part, Kind: KindRead}
	got, isRead := t.last()
	if isRead && t.final == nil && t.adjusting != "" {
		return a.addStep(s, t, got)
	}
	celsius := a.MadeAt
	if isRead {
		celsius = got.Celsius
	}
	s.Title, s.Asks, s.Verdicts = "Read the pH in the beaker", true, a.Probe.Judge()
	s.Hint = "Rinse, blot, bulb covered, stirring gently; wait until it has settled. Water that covers the probe moves a buffer little."
	s = a.asksProbe(s, a.mixture(t, exact(a.beaker(t)), celsius))
	if n := len(t.readings); n > 0 && a.additions < n { // a portion in between asks for a new reading
		s.Asks, s.Verdicts = false, a.judgeReading(t, t.readings[n-1])
	}
	return s
}

// asksProbe completes a step that reads the pH of a mixture, with what that is calculated to be.
func (a *account) asksProbe(s run.Step, m equilibrium.Mixture) run.Step {
	celsius := m.Celsius.Value
	solver, err := m.Solver()
	if err != nil { // beyond what can be calculated
		return a.Probe.Meter().Asks(s, celsius, math.NaN())
	}
	pH := solver.Solve().PH
	s.Stands = &run.Stands{PH: pH, Celsius: celsius}
	return a.Probe.Meter().Asks(s, celsius, a.Probe.Expected(pH, celsius))
}

func (a *account) addStep(s run.Step, t *tube, got calibration.Taken) run.Step {
	volume := a.beaker(t)
	advice, err := a.Advise(a.mixture(t, exact(volume), got.Celsius), volume, got.PH.Value, a.goal(t, got.Celsius))
	if err != nil {
		return s
	}
	s.Kind, s.Input, s.Asks = t.adjusting, run.InputQuantity, true
	s.Title = a.sayAdvice(advice)
	s.Label, s.Dimensions, s.Unit = "Volume let in", volumeOnly, "mL"
	s.Expects = quantity.Digits(quantity.Significant(advice.First, 2), -1) + " mL"
	if other := t.adjusting == KindAcid; other != advice.Acid { // the person knows better, or went past
		s.Title, s.Expects = "Add a little of "+a.with(other)+".", ""
	}
	s.Hint = fmt.Sprintf(
		"The first portion stops short of pH %s; read, then add the rest. Drop by drop, stirring.",
		quantity.Digits(advice.Goal, 2),
	)
	s.Cautions = []string{"Acid and lye at this strength burn skin and eyes: goggles, gloves. " + localRules}
	return s
}

// judgeReading says what a reading in the beaker means, with the choices.
func (a *account) judgeReading(t *tube, got calibration.Taken) []verdict.Verdict {
	if t.settled {
		return nil
	}
	var list []verdict.Verdict
	off := a.away(t, got)
	goal := quantity.Digits(a.goalNow(t, got), 2)
	volume := a.beaker(t)
	advice, err := a.Advise(a.mixture(t, exact(volume), got.Celsius), volume, got.PH.Value, a.goal(t, got.Celsius))
	choices := append(
		adding(advice.Acid),
		verdict.Choice{ID: choiceLeave, Label: "Leave it as it is"},
		verdict.Choice{ID: choiceReadOn, Label: "Read it again"},
	)
	switch {
	case math.Abs(off) <= a.Thresholds.Of(RuleClose):
		list = append(
			list,
			RuleClose.Says(verdict.Fine, append([]verdict.Choice{{ID: choiceLeave, Label: "On to the mark"}}, adding(advice.Acid)...),
				"pH %s, and %s is wanted here: close enough.", quantity.Digits(got.PH.Value, 2), goal),
		)
	case err == nil && advice.TooMuch:
		list = append(list, RuleRoom.Says(
			verdict.Stop,
			append([]verdict.Choice{{ID: run.ChoiceStartAgain, Label: "Begin again"}}, choices...),
			"pH %s for %s: it would take %s of %s, more than the flask has room for.",
			quantity.Digits(got.PH.Value, 2),
			goal,
			mL(advice.All),
			a.with(advice.Acid),
		))
	default:
		list = append(list, RuleClose.Says(verdict.Look, choices, "pH %s, and %s is wanted here, %s away. Add about %s of %s.",
			quantity.Digits(got.PH.Value, 2), goal, quantity.Signed(off, 2), mL(advice.All), a.with(advice.Acid)))
	}
	return append(append(list, got.Verdicts...), a.judgeMiss(t)...)
}

// adding are the choices of what to add, that which is advised first.
func adding(acid bool) []verdict.Choice {
	list := []verdict.Choice{{ID: choiceAcid, Label: "Add acid"}, {ID: choiceBase, Label: "Add base"}}
	if !acid {
		list[0], list[1] = list[1], list[0]
	}
	return list
}

// judgeMiss names what explains a reading that is not what was calculated.
func (a *account) judgeMiss(t *tube) []verdict.Verdict {
	d := a.row(t).Diagnosis
	if d == nil || d.Explained {
		return nil
	}
	sentence := fmt.Sprintf("Calculated pH %s, read %s.", quantity.Digits(d.Predicted, 2), quantity.Digits(d.Predicted+d.Difference, 2))
	if len(d.Causes) == 0 {
		return []verdict.Verdict{
			RuleMiss.Finds(verdict.Look, nil, sentence+" None of the usual slips explains it: check the meter in a buffer first."),
		}
	}
	return []verdict.Verdict{RuleMiss.Finds(verdict.Look, nil, sentence+" Most likely: "+d.Causes[0].Sentence+" "+d.Causes[0].Remedy)}
}

func (a *account) markStep(t *tube, part int) run.Step {
	flask, _ := a.flask() //nolint:errcheck // the recipe was checked
	glass := trim(flask.Volume) + " mL flask"
	title := "Into the " + glass + ", rinse the beaker in, water to the mark"
	if !a.single() {
		title = a.tubeWord(t) + "Water to the mark of the " + glass
	}
	s := run.Step{
		ID: stepOf("mark", part), Part: part, Title: title, Kind: KindMark, Input: run.InputChoice, Asks: t.mark == "",
		Options: []verdict.Choice{{ID: choiceReached, Label: "Meniscus on the line"}, {ID: choicePast, Label: "Past the mark"}},
		Hint:    "The bottom of the meniscus on the line, at eye level.",
	}
	if t.mark == choicePast && !t.keptPast {
		s.Verdicts = []verdict.Verdict{
			RuleRoom.Says(verdict.Stop, []verdict.Choice{
				{ID: choiceKeepPast, Label: "Keep it: its concentration is 0 to 2 % lower"},
				{
					ID:    run.ChoiceStartAgain,
					Label: "Begin again",
				},
			}, "Past the mark: a little more water hardly moves the pH, but it lowers the concentration by an unknown amount."),
		}
	}
	return s
}

func (a *account) mixStep(t *tube, part int) run.Step {
	wanted := a.Thresholds.Of(run.RuleInversions)
	s := run.Step{
		ID:      stepOf("mix", part),
		Part:    part,
		Title:   a.tubeWord(t) + "Stopper, hold the stopper, invert " + trim(wanted) + " times",
		Kind:    run.KindMixed,
		Input:   run.InputCount,
		Unit:    "inversions",
		Asks:    true,
		Default: quantity.Digits(math.Max(1, wanted-float64(t.inversions)), 0),
		Hint:    "The level may stand a little lower afterwards: do not top up.",
	}
	if t.inversions > 0 && float64(t.inversions) < wanted {
		s.Verdicts = []verdict.Verdict{run.RuleInversions.Says(verdict.Look, nil, "Inverted %s of %s.", run.Times(t.inversions), trim(wanted))}
	}
	return s
}

func (a *account) finalStep(t *tube, part int) run.Step {
	if t.final != nil && t.adjusting != "" {
		return a.addStep(run.Step{ID: stepOf("final", part), Part: part}, t, *t.final)
	}
	s := a.asksProbe(run.Step{
		ID:    stepOf("final", part),
		Part:  part,
		Title: a.tubeWord(t) + "Read the pH of the finished buffer",
		Kind:  KindFinal,
		Asks:  t.final == nil,
		Hint:  "A little of it in a beaker, thrown away afterwards. This pH goes on the label.",
	}, a.mixture(t, a.contents(t), a.MadeAt))
	if t.final == nil || t.kept {
		return s
	}
	got := *t.final
	goal := a.goal(t, got.Celsius)
	if math.Abs(got.PH.Value-goal) > a.Thresholds.Of(RuleClose) {
		choices := append([]verdict.Choice{{ID: choiceKeep, Label: "Keep it under the pH that it has"}}, adding(got.PH.Value > goal)...)
		choices = append(choices, verdict.Choice{ID: run.ChoiceStartAgain, Label: "Begin again"})
		s.Verdicts = append(s.Verdicts, RuleClose.Says(verdict.Look, choices, "pH %s for %s: %s.",
			quantity.Digits(got.PH.Value, 2), quantity.Digits(goal, 2), signedPercent(percentError(got.PH, goal).Value)))
		s.Verdicts = append(s.Verdicts, a.judgeMiss(t)...)
	}
	s.Verdicts = append(s.Verdicts, got.Verdicts...)
	return s
}

func (a *account) labelStep(now time.Time) run.Step {
	return run.Step{
		ID: "label", Title: "Label and shelve", Kind: run.KindLabelled, Input: run.InputLabel, Asks: true,
		Default: now.AddDate(0, 0, int(a.Thresholds.Of(RuleKeeps))).Format(time.DateOnly),
		Hint:    "At once, with the pH that was read: unlabelled clear liquids get mixed up.",
	}
}

// done reports whether a step is finished.
func (a *account) done(s *run.Step) bool {
	t := &a.tubes[s.Part/a.perTube()]
	switch name, _, _ := strings.Cut(s.ID, " "); name {
	case "water":
		return a.watered
	case "take":
		return t.taken[s.Part%a.perTube()].Value > 0
	case "stir":
		return a.stirred == choiceClear
	case "read":
		return t.settled && len(t.readings) > 0
	case "mark":
		return t.mark == choiceReached || t.keptPast && t.mark != ""
	case "mix":
		return float64(t.inversions) >= a.Thresholds.Of(run.RuleInversions)
	case "final":
		return t.final != nil && t.adjusting == "" &&
			(t.kept || math.Abs(t.final.PH.Value-a.goal(t, t.final.Celsius)) <= a.Thresholds.Of(RuleClose))
	case "label":
		return a.expires != ""
	}
	return false
}
