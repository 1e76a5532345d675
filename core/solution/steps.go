package solution

import (
	"fmt"
	"math"
	"strings"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The dimensions of what is read.
var (
	massOnly   = []quantity.Dimension{quantity.Mass}
	volumeOnly = []quantity.Dimension{quantity.Volume}

	temperatureOnly = []quantity.Dimension{quantity.Temperature}
)

// The answers that never change.
var (
	howDissolved = []verdict.Choice{
		{ID: choiceClear, Label: "All dissolved, clear"},
		{ID: choiceSolidLeft, Label: "Solid left"},
		{ID: choiceNeckReached, Label: "Neck reached with solid left"},
	}
	whereMeniscus = []verdict.Choice{{ID: choiceReached, Label: "Meniscus on the line"}, {ID: choicePast, Label: "Past the mark"}}
)

// steps lists the steps with what they ask and say now, in the order of the work.
func (a *account) steps(now time.Time) []run.Step {
	list := make([]run.Step, 0, 9+len(a.others))
	if a.Substance.Liquid {
		list = append(list, a.waterStep())
	}
	if !a.byVolume {
		list = append(list, a.settleStep())
	}
	for i := range a.takings {
		list = append(list, a.takeStep(i))
	}
	list = append(list, a.transferStep())
	if !a.Substance.Liquid {
		list = append(list, a.dissolveStep())
	}
	if a.MakeUp == ToTheMark {
		list = append(list, a.temperatureStep(), a.markStep())
	} else {
		list = append(list, a.madeUpStep())
	}
	return append(list, a.mixStep(), a.labelStep(now))
}

func (a *account) waterStep() run.Step {
	return run.Step{
		ID:    stepWater,
		Title: "Water into the " + a.vesselWord() + " first, about " + quantity.Trim(a.flask.Volume/2) + " mL",
		Kind:  KindWatered,
		Input: run.InputChoice,
		Asks:  true,
		Options: []verdict.Choice{
			{ID: choiceWaterIn, Label: "Water added"},
		},
		Hint:     "Acid and concentrated base go into water, never the reverse.",
		Cautions: a.general,
	}
}

func (a *account) settleStep() run.Step {
	hint := "Firm and level, away from draughts; it shows grams. Record what it shows after taring."
	if a.MakeUp == ByMass {
		hint += " Write down what the empty, dry bottle weighs, or tare it when it is its turn."
	}
	return run.Step{
		ID:         stepSettle,
		Title:      "Let the balance settle, tare the weighing vessel",
		Kind:       KindTared,
		Input:      run.InputQuantity,
		Label:      "Shown after taring",
		Dimensions: massOnly,
		Unit:       "g",
		Instrument: a.Balance.Name,
		Tares:      true,
		Asks:       true,
		Expects:    quantity.Digits(0, a.Balance.Decimals()) + " g",
		Hint:       hint,
		Cautions:   a.general[:1],
		Verdicts:   a.tareVerdicts(),
	}
}

// takeStep weighs or measures one solute.
func (a *account) takeStep(part int) run.Step {
	t := &a.takings[part]
	what := "the concentrated liquid"
	drying := ""
	if !a.Substance.Liquid {
		what = "the solid"
		if strings.Contains(t.Substance.Drying, " h at") && t.DryingLoss == 0 {
			what = "the dried solid"
		}
		if len(a.takings) > 1 || !sameSolid(t.context) {
			what += " (" + t.solid.String() + ")"
		}
		if t.Substance.Drying != "" {
			drying = "Drying: " + t.Substance.Drying + ". "
		}
	}
	if part > 0 {
		drying = "In a clean vessel, tared to the same zero. " + drying
	}
	target := t.say(t.taking(a.flask))
	step := run.Step{
		ID:           weighStep(part),
		Part:         part,
		Title:        "Weigh " + target + " of " + what,
		Kind:         KindWeighed,
		Input:        run.InputQuantity,
		Label:        "Net mass shown",
		Dimensions:   massOnly,
		Unit:         "g",
		Instrument:   a.Balance.Name,
		ByDifference: true,
		Asks:         t.awaiting,
		Hint:         drying + "Small portions near the end. What is too much goes to waste, never back into the bottle.",
		Cautions:     a.general[1:],
		Verdicts:     a.weighVerdicts(t),
	}
	if a.byVolume {
		step.Title, step.Kind = "Measure "+target+" of "+what+" with a "+t.with(), KindMeasured
		step.Label, step.Dimensions, step.Unit, step.Instrument, step.ByDifference = "Volume measured", volumeOnly, "mL", "", false
		step.Hint = "Into the water, slowly. " + t.measure.Handling()
	}
	return step
}

func (a *account) transferStep() run.Step {
	step := run.Step{
		ID:       stepTransfer,
		Title:    "Transfer through the funnel, rinse vessel and funnel",
		Kind:     KindTransferred,
		Input:    run.InputCount,
		Unit:     "rinses",
		Asks:     true,
		Default:  "3",
		Hint:     rinsingHint,
		Verdicts: a.transferVerdicts(),
	}
	if a.Substance.Liquid {
		step.Title, step.Hint = "Slowly into the water, rinse the vessel in", "A thin stream, swirling. "+step.Hint
		step.Cautions = a.general[1:]
	}
	return step
}

func (a *account) dissolveStep() run.Step {
	step := run.Step{
		ID:    stepDissolve,
		Title: "Fill to about " + quantity.Trim(a.flask.Volume/2) + " mL, swirl until clear before the neck",
		Kind:  KindDissolved,
		Input: run.InputChoice,
		Asks: a.dissolved == "" ||
			a.dissolved == choiceSolidLeft,
		Options:  howDissolved,
		Hint:     a.Substance.Note,
		Verdicts: a.dissolveVerdicts(),
	}
	if a.MakeUp != ToTheMark {
		step.Title, step.Options = "Dissolve it in part of the water", step.Options[:2]
	}
	return step
}

func (a *account) temperatureStep() run.Step {
	return run.Step{
		ID:         stepTemperature,
		Title:      "Fill to just below the mark, let it come to 20 ± " + quantity.Trim(a.Thresholds.Of(RuleTemperature)) + " °C",
		Kind:       run.KindTemperature,
		Input:      run.InputQuantity,
		Label:      "Temperature",
		Dimensions: temperatureOnly,
		Unit:       "°C",
		Asks:       a.temperature == nil,
		Expects:    quantity.Digits(a.WaterTemperature, 1) + " °C",
		Hint:       "Measure in the flask or in a beaker of the same water beside it.",
		Verdicts:   a.temperatureVerdicts(),
	}
}

func (a *account) markStep() run.Step {
	return run.Step{
		ID: stepMark, Title: "To the mark, drop by drop, at eye level", Kind: KindMark, Input: run.InputChoice, Asks: true,
		Options: whereMeniscus,
		Hint:    "The bottom of the meniscus on the line.", Verdicts: a.markVerdicts(),
	}
}

// madeUpStep makes up by mass or by adding water, without a mark.
func (a *account) madeUpStep() run.Step {
	step := run.Step{ID: stepMadeUp, Kind: KindMadeUp, Input: run.InputQuantity, Asks: a.madeUp == nil, Verdicts: a.madeUpVerdicts()}
	if a.MakeUp == ByMass {
		mass := quantity.Digits(a.solutionMass(), max(0, min(a.Balance.Decimals(), 4)-1)) + " g"
		step.Title = "On the tared bottle, water until the solution weighs about " + mass
		step.Label, step.Dimensions, step.Unit, step.Instrument = "Mass of the solution", massOnly, "g", a.Balance.Name
		step.Hint = "Record what the solution weighs without its bottle, every digit. Near enough will do: what it weighs is what counts."
		return step
	}
	water := a.waterToAdd(a.masses())
	step.Title = "Add " + a.sayWater(water) + " of water in all, with a " + a.added.Name()
	step.Label, step.Dimensions, step.Unit = "Water added", volumeOnly, "mL"
	step.Expects = quantity.Digits(water, a.added.Decimals()) + " mL"
	step.Hint = fmt.Sprintf(
		"The rinsings count too. It makes about %s mL, not exactly: the concentration is nominal.",
		quantity.Trim(a.flask.Volume),
	)
	return step
}

func (a *account) mixStep() run.Step {
	return run.Step{
		ID:       stepMix,
		Title:    "Stopper, hold the stopper, invert " + quantity.Trim(a.Thresholds.Of(run.RuleInversions)) + " times",
		Kind:     run.KindMixed,
		Input:    run.InputCount,
		Unit:     "inversions",
		Asks:     !a.mixedEnough(),
		Default:  quantity.Digits(math.Max(1, a.Thresholds.Of(run.RuleInversions)-float64(a.inversions)), 0),
		Hint:     "The level may stand a little lower afterwards, since the liquid wets neck and stopper: do not top up. The volume was right at the mark.",
		Verdicts: a.mixVerdicts(),
	}
}

func (a *account) labelStep(now time.Time) run.Step {
	hint := "At once: unlabelled clear liquids get mixed up."
	if k, ok := a.keeping(); ok {
		hint += " " + k.advice
	}
	return run.Step{
		ID: stepLabel, Title: "Label and shelve", Kind: run.KindLabelled, Input: run.InputLabel, Asks: true,
		Default: now.AddDate(0, 0, a.keepsDays()).Format(time.DateOnly), Hint: hint,
	}
}

// trim writes a number as short as it can be.

// bottleReads says the concentration of a solute that stands now, without uncertainty.
func (a *account) bottleReads(t *taking) string {
	id := t.concentrationID()
	for _, f := range a.shown {
		if f.ID == id {
			return "The bottle will read " + f.Text + " " + f.Unit
		}
	}
	return "What the bottle will read is known once the others are weighed"
}

// rinsingHint says in numbers why several small rinses beat a large one.
var rinsingHint = fmt.Sprintf(
	"Deionised water, all into the flask. With %g mL clinging, 3 rinses of %g mL leave %.2g %% of it, one of %g mL leaves %.2g %%.",
	usualResidue,
	usualRinse,
	100*LeftAfterRinsing(3, usualRinse, usualResidue),
	3*usualRinse,
	100*LeftAfterRinsing(1, 3*usualRinse, usualResidue),
)

// finest is the smallest difference that can be seen, in unit().
func (c *context) finest() float64 {
	if c.byVolume {
		return c.measure.Division() / 5
	}
	return c.Balance.Resolution
}
