package titration

import (
	"fmt"
	"math"
	"strings"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// steps are the burette, each trial that is done folded into one, and the one at hand.
func (a *account) steps() []run.Step {
	list := append(a.preparing(), a.readyStep())
	if n := len(a.trials); a.enough.IsZero() && a.trials[n-1].done && n < MaxTrials {
		a.at(n)
	}
	for i := range a.trials {
		switch t := &a.trials[i]; {
		case t.done:
			list = append(
				list,
				run.Step{ID: stepOf(i), Part: i, Title: fmt.Sprintf("Trial %d", i+1), Kind: KindRead, Input: run.InputQuantity},
			)
		case t.begun || a.enough.IsZero() && i == len(a.trials)-1:
			list = append(list, a.trialStep(i))
		}
	}
	return list
}

func (a *account) readyStep() run.Step {
	return run.Step{
		ID:    "ready",
		Title: "Rinse the " + a.device() + " with " + run.LowerFirst(a.Titrant.Name) + ", fill it, bubble out" + a.funnelOff(),
		Kind:  KindReady,
		Input: run.InputChoice,
		Asks:  true,
		Options: []verdict.Choice{
			{ID: choiceThrice, Label: "Rinsed three times"}, {ID: choiceTwice, Label: "Rinsed twice"}, {ID: choiceNone, Label: "Not rinsed"},
		},
		Hint:     a.howToFill(),
		Cautions: a.cautions(),
	}
}

// trialStep asks for what a trial needs next: its sample, the scale before, and the scale when
// it was stopped, as often as it takes.
func (a *account) trialStep(i int) run.Step {
	t := &a.trials[i]
	s := run.Step{ID: stepOf(i), Part: i, Asks: true}
	name := fmt.Sprintf("Trial %d", i+1)
	switch {
	case a.rough(i):
		name += ", rough"
	case t.blank:
		name += ", blank"
	}
	switch {
	case !t.taken:
		s = a.sampleStep(s, name)
		s.Verdicts = append(a.judgeRinse(), a.judgeLast(i)...)
		if i > 0 {
			s.Ends = &verdict.Choice{ID: choiceEnough, Label: "Enough trials"}
		}
	case !t.started || t.refilling:
		s.Kind, s.Title = KindStart, name+": read the "+a.device()+" before it begins"
		s.Hint = "Anywhere near the top will do: it is the difference that counts. " + a.howToRead()
		if i > 0 {
			s.Expects, s.Hint = a.afterLast(a.trials[i-1].last(), a.expects(t))
		}
		if t.refilling {
			s.Kind, s.Expects = KindRefill, ""
			s.Title = name + ": fill the " + a.device() + " up" + a.funnelOff() + ", and read it"
		}
		s = a.scale(s)
	case t.open:
		s.Kind, s.Title, s.Asks = KindRead, name+": stopped at "+a.shows(t.last())+" mL", false
		if a.Tip != nil {
			s.Title = name + ": stopped after " + drops(t.last())
		}
		s = a.scale(s)
		s.Verdicts = []verdict.Verdict{a.askColour(t)}
		if t.misread() {
			s.Verdicts = []verdict.Verdict{RuleScale.Says(verdict.Stop, []verdict.Choice{{ID: choiceReread, Label: "Read it again"}},
				"The %s cannot stand at %s mL after %s mL: correct the one that was misread, or read again.",
				a.device(), a.shows(t.last()), a.shows(t.previous()))}
		}
	default:
		s.Kind, s.Title = KindRead, name+": run it in, and read when you stop"
		if a.Tip != nil {
			s.Title = name + ": let it drip, and count until you stop"
		}
		if a.Reaction.Pair() {
			s.Title = name + a.sayWhich(t)
		}
		if t.unsure {
			s.Title = name + ": one drop more, and read"
		}
		s.Hint = a.sayRun(t)
		s = a.scale(s)
		if v := a.expects(t); v > 0 && !t.blank {
			s.Expects = a.shows(math.Min(a.holdsAtMost(), a.endOf(t, v))) + " " + s.Unit
		}
		if a.Tip != nil && t.unsure {
			s.Title, s.Default = name+": one drop more", "1"
		}
		s.Verdicts = a.judgeLevel(t)
	}
	return s
}

// afterLast says what the burette shows unless it was filled up since the trial before, and whether
// what is left does for the next one, which takes about so many mL.
func (a *account) afterLast(last, takes float64) (expects, hint string) {
	if left := a.Burette.Volume - last; takes > left {
		return "", fmt.Sprintf("Fill it up first: %s mL are left, about %s mL are needed. %s", a.shows(left), quantity.Digits(takes, 1), a.howToRead())
	}
	return a.shows(last) + " mL", "What is left may serve, or fill it up and read. " + a.howToRead()
}

// scale asks for a reading of the burette, or for drops.
func (a *account) scale(s run.Step) run.Step {
	if a.Tip != nil {
		s.Input, s.Label, s.Unit = run.InputDrops, "Drops", "drops"
		return s
	}
	s.Input, s.Label, s.Unit, s.Scale = run.InputQuantity, run.UpperFirst(a.device()), "mL", a.Burette.Volume
	s.Dimensions = []quantity.Dimension{quantity.Volume}
	return s
}

// endOf is where the end point of a trial of v mL is expected: on the scale as it runs out, or
// after so many drops.
func (a *account) endOf(t *trial, v float64) float64 {
	if a.Tip != nil {
		return math.Round(v / a.Tip.Volume.Value)
	}
	return t.start + v - a.ran(t)
}

// holdsAtMost is where the scale ends; drops have no end.
func (a *account) holdsAtMost() float64 {
	if a.Tip != nil {
		return math.Inf(1)
	}
	return a.Burette.Volume
}

// funnelOff follows the filling of a burette.
func (a *account) funnelOff() string {
	if a.device() == "burette" {
		return ", funnel off"
	}
	return ""
}

// howToFill says how the titrant comes in.
func (a *account) howToFill() string {
	switch a.device() {
	case "burette":
		return "Small portions, over the whole wall and through the tip. Fill it below eye level; a drop from the funnel later would count as titrant."
	case "dropper":
		return "The tip dry outside. Held upright, one drop a second: so the drops are of one size."
	}
	return "Small portions, over the whole wall and through the tip. Wipe the tip outside."
}

// howToRead says where to look.
func (a *account) howToRead() string {
	switch {
	case a.Tip != nil:
		return "One drop a second, the tip upright; slower near the end."
	case a.Burette.Kind == glassware.Syringe:
		return fmt.Sprintf("The edge of the plunger, estimated between two marks, to %s mL. Do not squeeze the barrel.", run.Finest(a.Burette))
	}
	what := "the bottom of the meniscus"
	if a.Reaction.Dark {
		what = "the top edge of the dark liquid, both times"
	}
	return fmt.Sprintf("At eye level, %s, to %s mL.", what, run.Finest(a.Burette))
}

func (a *account) sampleStep(s run.Step, name string) run.Step {
	s.Kind = KindSample
	switch a.By {
	case ByPipette:
		s.Title, s.Input = fmt.Sprintf("%s: %s into the flask", name, a.saySample()), run.InputChoice
		s.Options = []verdict.Choice{{ID: choiceDelivered, Label: "Done"}}
		s.Hint = "Rinse the pipette with the sample, the flask with water only. Touch the tip off, do not blow it out."
	case ByBurette:
		s.Title, s.Input, s.Label, s.Unit = name+": the sample from the second burette", run.InputReadings, "Reading", "mL"
		s.Dimensions, s.Scale = []quantity.Dimension{quantity.Volume}, a.Glass.Volume
		s.Hint = a.saySample()
	case ByCylinder:
		s.Title, s.Input, s.Label, s.Unit = name+": the sample, as the cylinder reads", run.InputQuantity, "Cylinder", "mL"
		s.Dimensions = []quantity.Dimension{quantity.Volume}
		s.Expects = quantity.Trim(a.Volume) + " mL"
		s.Hint = a.saySample() + ". What is read is what counts: 24.90 is as good as 25. Rinse it in with water."
	case Weighed:
		s = a.asksMass(s, a.Mass)
		s.Title = name + ": weigh " + a.sayMass()
		s.Hint = "By difference when some stays in the vessel. Dissolve it in water: how much water does not matter."
	}
	if a.Reaction.Indicator != "" {
		s.Hint += " Indicator: " + a.Reaction.Indicator
		if !strings.HasPrefix(a.Reaction.Indicator, "none") {
			s.Hint += ", a drop or two"
		}
		s.Hint += "."
	}
	if a.Back != nil {
		s.Title += a.sayBack()
		s.Hint += " Let it react to the end before what is left is titrated."
	}
	s.Cautions = a.Reaction.Conditions
	return s
}

// asksMass asks for what the balance shows, about so many g.
func (a *account) asksMass(s run.Step, about float64) run.Step {
	s.Input, s.Label, s.Unit, s.ByDifference, s.Instrument = run.InputQuantity, "Net mass shown", "g", true, a.Balance.Name
	s.Dimensions, s.Expects = []quantity.Dimension{quantity.Mass}, quantity.Digits(about, a.Balance.Decimals())+" g"
	return s
}

// sayRun says how to go about it: in at once, then drop by drop.
func (a *account) sayRun(t *trial) string {
	var b strings.Builder
	if v := a.expects(t); v > 0 && !t.blank && !t.unsure {
		short := a.Thresholds.Of(RuleAtOnce)
		switch atOnce := a.endOf(t, v) - short; {
		case a.Tip != nil:
			if n := a.endOf(t, v-short); n > t.last() {
				fmt.Fprintf(&b, "About %s in all. After %s look at each. ", drops(a.endOf(t, v)), quantity.Digits(n, 0))
			}
		case atOnce > t.last():
			fmt.Fprintf(
				&b,
				"About %s mL in all. At once to %s mL, then drop by drop. ",
				quantity.Digits(v, 1),
				quantity.Digits(a.onScale(atOnce), 1),
			)
		}
	}
	if colour := a.wanted(t); colour != "" {
		fmt.Fprintf(&b, "Look for: %s. ", colour)
	}
	b.WriteString("Wash the walls down: water changes no amount. " + a.howToRead())
	return b.String()
}

// ran is what had run in before the burette was filled up.
func (a *account) ran(t *trial) float64 {
	sum := 0.0
	for _, s := range t.before {
		sum += s.to - s.from
	}
	return sum
}

// askColour asks what was seen at a reading.
func (a *account) askColour(t *trial) verdict.Verdict {
	end := "That was the end point"
	if a.Reaction.Pair() {
		end = "That was the second end point"
		if t.first == nil {
			end = "That was the first end point"
		}
	}
	choices := []verdict.Choice{{ID: choiceEnd, Label: end}, {ID: choiceUnsure, Label: "Unsure: one drop more"}}
	if t.earlier() {
		choices = append(choices, verdict.Choice{ID: choiceEarlier, Label: "The reading before was it"})
	}
	choices = append(
		choices,
		verdict.Choice{ID: choicePast, Label: "Past it: set this trial aside"},
		verdict.Choice{ID: choiceMore, Label: "Not there yet"},
	)
	if a.Tip == nil {
		choices = append(choices, verdict.Choice{ID: choiceRefill, Label: "Fill the " + a.device() + " up"})
	}
	sentence := "What did the colour do?"
	if colour := a.wanted(t); colour != "" {
		sentence = "What did the colour do? Wanted: " + colour + "."
	}
	return RulePast.Finds(verdict.Look, choices, sentence)
}

// wanted is the colour at the end point that comes next.
func (a *account) wanted(t *trial) string {
	if a.Reaction.Pair() && t.first == nil {
		return a.Reaction.First
	}
	return a.Reaction.Colour
}

// sayWhich says which of two end points comes next.
func (a *account) sayWhich(t *trial) string {
	if t.first == nil {
		return ": to the first end point, and read when you stop"
	}
	return ": the second indicator in, on to the second end point, and read when you stop"
}

// judgeLevel says when what is left in the burette will not do.
func (a *account) judgeLevel(t *trial) []verdict.Verdict {
	v := a.expects(t)
	if a.Tip != nil || v == 0 || t.blank || len(t.readings) > 0 || len(t.before) > 0 || t.start+v <= a.Burette.Volume {
		return nil
	}
	return []verdict.Verdict{
		RuleRefill.Says(
			verdict.Look,
			[]verdict.Choice{{ID: choiceRefill, Label: "Fill it up first"}},
			"From %s mL on it takes about %s mL, more than is left: fill up now, or on the way.",
			a.shows(t.start),
			quantity.Digits(v, 1),
		),
	}
}

func (a *account) judgeRinse() []verdict.Verdict {
	if a.rinsed() >= a.Thresholds.Of(RuleRinse) || len(a.trials) > 1 {
		return nil
	}
	return []verdict.Verdict{
		RuleRinse.Says(
			verdict.Look,
			nil,
			"The %s was not rinsed %s times with the titrant: what was in it thins it.",
			a.device(),
			quantity.Trim(a.Thresholds.Of(RuleRinse)),
		),
	}
}

// judgeLast gives the result of the trials so far, before the next one.
func (a *account) judgeLast(i int) []verdict.Verdict {
	if i == 0 {
		return nil
	}
	return a.judgeTrials()
}

// done reports whether a step is finished.
func (a *account) done(s *run.Step) bool {
	switch s.ID {
	case "ready":
		return a.ready != ""
	case stepWeigh, stepMakeUp, stepMix:
		return a.preparedTo(s.ID)
	}
	return a.trials[s.Part].done
}

// needed is how many more trials are needed until enough agree.
func (a *account) needed(r Result, ok bool) int {
	wanted := int(math.Round(a.Thresholds.Of(RuleTrials)))
	switch {
	case !ok:
		return wanted
	case r.Agreed:
		return max(0, wanted-len(r.Used))
	}
	// One of those that are there may agree with the next.
	return max(1, wanted-1)
}
