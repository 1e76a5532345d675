package solution

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// ChoiceSetup begins a choice that leads into a part of the lab setup.
const ChoiceSetup = "setup "

// ChoiceBatches is the choice to split the volume; the question form reads it.
const ChoiceBatches = "batches"

func (c *context) planVerdicts(reading float64) []verdict.Verdict {
	var list []verdict.Verdict
	say := func(v verdict.Verdict) { list = append(list, v) }

	list = append(list, c.Balance.Doubt()...)
	if v, ok := c.volumeVerdict(); ok {
		say(v)
	}
	for o := range c.solutes() {
		list = append(list, o.soluteVerdicts(o.reading(c.flask))...)
	}
	list = append(list, c.mixtureVerdicts()...)
	if c.Balance.Name == weighing.Usual().Name {
		say(
			RuleUsualBalance.Says(
				verdict.Look,
				[]verdict.Choice{{ID: ChoiceSetup + "balances", Label: "Enter your balance"}},
				"Worked out for %s, %g g by %g g: enter your own in the lab setup, and the recipe goes by that.",
				c.Balance.Name,
				c.Balance.Capacity,
				c.Balance.Resolution,
			),
		)
	}
	if v, ok := c.reachVerdict(); ok {
		say(v)
	}
	if c.MakeUp == ByMass && c.solutionMass() > c.Balance.Capacity {
		say(
			weighing.RuleCapacity.Says(
				verdict.Stop,
				nil,
				"The solution weighs %s g, more than %s carries (%g g). Make less of it, or take a larger balance.",
				quantity.Digits(c.solutionMass(), 0),
				c.Balance.Name,
				c.Balance.Capacity,
			),
		)
	}
	if rise := c.temperatureRise(reading); rise > c.Thresholds.Of(RuleHeat) {
		say(
			RuleHeat.Says(
				verdict.Look,
				nil,
				"About %.0f K warmer in %g mL of water: pour slowly, swirl, cool in a water bath, and let it come to 20 °C before the mark.",
				rise,
				c.flask.Volume/2,
			),
		)
	}
	if off := c.WaterTemperature - glassware.ReferenceTemperature; math.Abs(off) > c.Thresholds.Of(RuleTemperature) && c.MakeUp == ToTheMark {
		say(
			RuleTemperature.Says(
				verdict.Look,
				nil,
				"The water on the bench is at %s °C: allow time for it to come to 20 °C before the last drops.",
				quantity.Digits(c.WaterTemperature, 1),
			),
		)
	}
	if v, ok := c.keepingVerdict(); ok {
		say(v)
	}
	if len(list) == 0 {
		say(RulePrimary.Says(verdict.Fine, nil, "A primary standard, and %s and the flask are good for it.", c.Balance.Name))
	}
	return list
}

// volumeVerdict says what is to be said of the volume: no such flask, batches, or
// that the volume is nominal.
func (c *context) volumeVerdict() (verdict.Verdict, bool) {
	switch {
	case c.MakeUp == ByAdding:
		volume := c.plannedVolume()
		return RuleAdding.Says(
			verdict.Look,
			nil,
			"%s of water makes about %g mL with what is dissolved in it: the volume is known within ±%.1f %% only, and the concentration is nominal.",
			c.sayWater(c.waterToAdd(c.plannedMasses())),
			c.flask.Volume,
			100*volume.Expanded()/volume.Value,
		), true
	case len(c.batches) > 1:
		sum, parts := 0.0, make([]string, len(c.batches))
		for i, f := range c.batches {
			sum += f.Volume
			parts[i] = quantity.Digits(f.Volume, -1)
		}
		over := ""
		if !c.exact {
			over = fmt.Sprintf(", %s mL more than asked for", quantity.Digits(sum-c.Volume.In("mL"), -1))
		}
		return RuleBatches.Says(
			verdict.Look,
			nil,
			"%d batches: %s mL%s. Each is made and recorded by itself, then all are poured together.",
			len(c.batches),
			strings.Join(parts, " + "),
			over,
		), true
	case c.exact:
		return verdict.Verdict{}, false
	}
	volumes := c.cupboard.Volumes(c.FlaskClass)
	i := slices.Index(volumes, c.flask.Volume)
	choices := []verdict.Choice{volumeChoice(c.flask.Volume)}
	if i > 0 {
		choices = append([]verdict.Choice{volumeChoice(volumes[i-1])}, choices...)
	}
	if split, err := c.cupboard.Split(c.Volume.In("mL"), c.FlaskClass); err == nil && len(split) > 1 {
		choices = append(choices, verdict.Choice{ID: ChoiceBatches, Label: fmt.Sprintf("Make it in %d batches", len(split))})
	}
	return RuleFlask.Says(verdict.Look, choices, "There is no flask of %s; the recipe is for %g mL.", c.Volume, c.flask.Volume), true
}

// reachVerdict says whether the uncertainty asked for can be had, and with which
// of the balances at hand.
func (c *context) reachVerdict() (verdict.Verdict, bool) {
	if c.Wanted == 0 {
		return verdict.Verdict{}, false
	}
	relative := func(with weighing.Balance) float64 {
		other := *c
		other.Balance, other.decimals = with, with.Decimals()
		f := other.planned()[0]
		return f.Expanded / f.Value
	}
	type option struct {
		name string
		best float64
	}
	options := []option{{c.Balance.Name, relative(c.Balance)}}
	if !c.byVolume {
		for _, b := range c.Balances {
			if b.Name != c.Balance.Name {
				options = append(options, option{b.Name, relative(b)})
			}
		}
	}
	here := options[0]
	slices.SortStableFunc(options, func(a, b option) int { return cmp.Compare(a.best, b.best) })
	texts := make([]string, len(options))
	for i, o := range options {
		texts[i] = fmt.Sprintf("%s ±%.2g %%", o.name, 100*o.best)
	}
	with := "With " + strings.Join(texts, ", with ") + " (k = 2)"
	asked := fmt.Sprintf("±%.2g %% was asked for", 100*c.Wanted)
	switch {
	case here.best <= c.Wanted:
		return RuleReach.Says(verdict.Fine, nil, "%s. %s: it can be reached.", with, asked), true
	case options[0].best <= c.Wanted:
		return RuleReach.Says(verdict.Look, nil, "%s. %s: put %s on the bench.", with, asked, options[0].name), true
	}
	if c.MakeUp == ToTheMark {
		measured := *c
		measured.temperatureLimits = measuredTemperatureLimits
		if f := measured.planned()[0]; f.Expanded/f.Value <= c.Wanted {
			return RuleReach.Says(
				verdict.Look,
				nil,
				"%s. %s: measured in the flask, the temperature is known better, and ±%.2g %% is reached.",
				with,
				asked,
				100*f.Expanded/f.Value,
			), true
		}
	}
	worst := c.planned()[0].Budget[0].Label
	return RuleReach.Says(
		verdict.Stop,
		nil,
		"%s. %s, and nothing here reaches it; “%s” adds most. Make more of it, or make it stronger and dilute.",
		with,
		asked,
		worst,
	), true
}

// soluteVerdicts is what is to be said of one solute and its mass in g.
func (c *context) soluteVerdicts(reading float64) []verdict.Verdict {
	var list []verdict.Verdict
	say := func(v verdict.Verdict) { list = append(list, v) }
	tolerance := c.Thresholds.Of(weighing.RuleSmallestMass) / 100
	if smallest := c.Balance.SmallestMass(tolerance); !c.byVolume && reading < smallest {
		var choices []verdict.Choice
		for _, v := range c.cupboard.Volumes(c.FlaskClass) {
			if v > c.flask.Volume && reading*v/c.flask.Volume >= smallest {
				choices = []verdict.Choice{volumeChoice(v)}
				break
			}
		}
		say(weighing.RuleSmallestMass.Says(verdict.Look, choices,
			"%s g is less than %s weighs to %.2g %%: that starts at %s g. Make more of it, or a stronger stock and dilute.",
			quantity.Digits(reading, c.decimals), c.Balance.Name, 100*tolerance, quantity.Digits(smallest, c.decimals)))
	}
	if !c.byVolume && reading > c.Balance.Capacity {
		say(weighing.RuleCapacity.Says(verdict.Stop, nil, "%s g is more than %s carries (%g g). Weigh it in portions, or on a larger balance.",
			quantity.Digits(reading, c.decimals), c.Balance.Name, c.Balance.Capacity))
	}
	if !sameSolid(c) {
		say(
			RuleHydrate.Says(
				verdict.Look,
				nil,
				"The bottle at hand holds %s, not %s: the same amount takes %.4g times the mass.",
				c.solid,
				c.formula,
				c.weighed.Value/c.molar.Value,
			),
		)
	}
	if c.DryingLoss > 0 {
		say(
			RuleDrying.Says(
				verdict.Look,
				nil,
				"Not dried: %s of what is weighed is water, so the mass is %.4g times that of the dried solid.",
				percent4(c.DryingLoss),
				1/(1-c.DryingLoss),
			),
		)
	}
	if v, ok := c.confusion(); ok {
		say(v)
	}
	if v, ok := c.solubilityVerdict(reading); ok {
		say(v)
	}
	if v, ok := c.scantVerdict(); ok {
		say(v)
	}
	switch {
	case c.byVolume:
		say(
			RulePrimary.Says(
				verdict.Look,
				nil,
				"Measured with a %s, the bottle is approximate until it is standardised. Weighing the liquid is the better way.",
				c.measure.Name(),
			),
		)
	case c.Substance.Liquid:
		say(RulePrimary.Says(verdict.Look, nil, "What the label of a concentrated liquid says is approximate: standardise the bottle."))
	case c.Substance.Hygroscopic:
		say(
			RulePrimary.Says(
				verdict.Look,
				nil,
				"%s takes up water from the air: the bottle is approximate until it is standardised.",
				c.Substance.Name,
			),
		)
	case c.Substance.Class != substance.Primary:
		say(
			RulePrimary.Says(
				verdict.Look,
				nil,
				"%s is not a primary standard: the bottle is approximate until it is standardised.",
				c.Substance.Name,
			),
		)
	}
	return list
}

func sameSolid(c *context) bool { return c.Waters == nil || c.solid.String() == c.formula.String() }

// confusion notices a mass concentration whose number looks like a molarity: one
// significant digit between 0.001 and 5, in g/L. Both readings are put side by side.
func (c *context) confusion() (verdict.Verdict, bool) {
	unit, value := c.Concentration.Unit, c.Concentration.Value
	if unit.Symbol != "g/L" || value < 0.001 || value > 5 {
		return verdict.Verdict{}, false
	}
	if mantissa := value / math.Pow(10, math.Floor(math.Log10(value)+1e-9)); math.Abs(mantissa-math.Round(mantissa)) > 1e-6 {
		return verdict.Verdict{}, false
	}
	of := "of the compound"
	if c.Of != "" {
		of = "of " + c.Of
	}
	asMolar, asMass := quantity.Digits(value, -1), quantity.Digits(value*c.entity.Value, 2)
	return RuleMassOrAmount.Says(
		verdict.Look,
		[]verdict.Choice{{ID: "concentration " + asMolar + " mol/L", Label: "I meant " + asMolar + " mol/L"}},
		"%s g/L %s is %.3g mol/L. If %s mol/L was meant, that is %s g/L.",
		asMolar,
		of,
		value/c.entity.Value,
		asMolar,
		asMass,
	), true
}

// volumeChoice offers another flask; its ID is read by the question form.
func volumeChoice(mL float64) verdict.Choice {
	return verdict.Choice{ID: fmt.Sprintf("volume %g mL", mL), Label: fmt.Sprintf("Make %g mL", mL)}
}
