package solution

import (
	"fmt"
	"math"
	"strings"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Parts implements [run.Plan]: the facts are about one of the solutes.
func (r Request) Parts() int { return 1 + len(r.Also) }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch f.Kind {
	case KindTared, KindWeighed:
		return []quantity.Dimension{quantity.Mass}
	case KindMeasured:
		return []quantity.Dimension{quantity.Volume}
	case KindMadeUp:
		if r.MakeUp == ByMass {
			return []quantity.Dimension{quantity.Mass}
		}
		return []quantity.Dimension{quantity.Volume}
	case run.KindTemperature:
		return []quantity.Dimension{quantity.Temperature}
	}
	return nil
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	c, err := r.check()
	if err != nil {
		return err
	}
	return c.checkFact(f)
}

// checkFact checks the values of a fact.
func (c *context) checkFact(f fact.Fact) error {
	var p verdict.Problems
	c.Balance.CheckSpread(f.Spread, &p)
	switch f.Kind {
	case KindTared:
		f.Only(&p, "quantity", "spread")
		c.checkMass("/quantity", f.Quantity, &p, "what the balance shows")
		if len(p) == 0 && math.Abs(f.Quantity.Base()) > 0.01*c.Balance.Capacity {
			p.Add("/quantity", "%s is not what a tared balance shows: press tare, and record what it shows then", f.Quantity)
		}
	case KindWeighed:
		f.Only(&p, "quantity", "after", "spread")
		c.checkMass("/quantity", f.Quantity, &p, "the reading")
		if f.After != nil {
			c.checkMass("/after", f.After, &p, "the reading after")
			if len(p) == 0 && f.After.Base() >= f.Quantity.Base() {
				p.Add("/after", "after pouring out, the vessel weighs less than before (%s)", f.Quantity)
			}
		} else if len(p) == 0 && f.Quantity.Base() <= 0 {
			p.Add("/quantity", "%s: a mass is above zero; tare again when the empty pan shows less than zero", f.Quantity)
		}
	case KindWatered:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceWaterIn)
	case KindMeasured:
		f.Only(&p, "quantity")
		c.checkMeasured(f.Quantity, &p)
	case KindTransferred:
		f.Only(&p, "count")
		run.CheckCount(f, "rinses", &p)
	case KindDissolved:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceClear, choiceSolidLeft, choiceNeckReached)
	case KindMark:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceReached, choicePast)
	case KindMadeUp:
		f.Only(&p, "quantity", "spread")
		c.checkMadeUp(f, &p)
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

// checkMeasured checks a volume of concentrated liquid.
func (c *context) checkMeasured(q *quantity.Quantity, p *verdict.Problems) {
	switch {
	case q == nil || q.Unit.Dimension != quantity.Volume:
		p.Add("/quantity", "a volume is in mL, like %s", c.say(c.taking(c.flask)))
	case !(q.Base() > 0) || q.In("mL") > 10*c.measure.Volume:
		p.Add("/quantity", "%s: above zero, and not more than ten fillings of a %s", q, c.measure.Name())
	}
}

// checkMass checks a reading of the balance.
func (c *context) checkMass(field string, q *quantity.Quantity, p *verdict.Problems, what string) {
	switch {
	case q == nil:
		p.Add(field, "%s is missing: write it like 5.1082 g", what)
	case q.Unit.Dimension != quantity.Mass:
		p.Add(field, "%s is a mass, in g, not in %s", what, q.Unit.Symbol)
	case math.IsNaN(q.Value) || math.Abs(q.Base()) > c.Balance.Capacity:
		p.Add(field, "%s carries up to %g g: %s cannot be its reading", c.Balance.Name, c.Balance.Capacity, q)
	}
}

// checkMadeUp checks what the solution weighs, or how much water was added.
func (c *context) checkMadeUp(f fact.Fact, p *verdict.Problems) {
	if c.MakeUp == ByMass {
		if c.checkMass("/quantity", f.Quantity, p, "the solution"); len(*p) == 0 && !(f.Quantity.Base() > 0.1*c.solutionMass()) {
			p.Add(
				"/quantity",
				"%s cannot be all of it, which weighs about %s g: record what the solution weighs without its bottle",
				f.Quantity,
				quantity.Digits(c.solutionMass(), 0),
			)
		}
		return
	}
	if f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Volume ||
		!(f.Quantity.In("mL") > 0.1*c.flask.Volume && f.Quantity.In("mL") < 10*c.flask.Volume) {
		p.Add("/quantity", "the water added is a volume near %s", c.sayWater(c.waterToAdd(c.plannedMasses())))
	}
}

var choiceWords = map[string]string{
	choiceClear:          "all dissolved, clear",
	choiceSolidLeft:      "solid left",
	choiceNeckReached:    "the neck was reached with solid left",
	choiceReached:        "meniscus on the line",
	choicePast:           "past the mark",
	choiceKeep:           "keep this mass",
	choiceAdd:            "add more",
	choiceRemove:         "remove some and discard it",
	choicePortion:        "another portion, tared again",
	choiceTakeTempAsIs:   "go on at this temperature, corrected for",
	choiceWait:           "let it come to 20 °C",
	choiceMixedEnough:    "mixed enough",
	choiceSolidDissolved: "dissolved since, go on",
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	of := ""
	if f.Part > 0 && f.Part < r.Parts() {
		of = " of " + run.LowerFirst(r.Also[f.Part-1].Substance.Name)
	}
	switch f.Kind {
	case KindTared:
		return fmt.Sprintf("Tared, the balance shows %s%s", f.Quantity, f.Read())
	case KindWeighed:
		if f.After != nil {
			return fmt.Sprintf("Weighed%s by difference, %s before and %s after%s", of, f.Quantity, f.After, f.Read())
		}
		return fmt.Sprintf("Weighed %s%s%s", f.Quantity, of, f.Read())
	case KindMadeUp:
		if f.Quantity.Unit.Dimension == quantity.Volume {
			return fmt.Sprintf("Water added, %s%s", f.Quantity, f.Read())
		}
		return fmt.Sprintf("The solution weighs %s%s", f.Quantity, f.Read())
	case KindWatered:
		return "Water is in the flask"
	case KindMeasured:
		return fmt.Sprintf("Measured %s%s", f.Quantity, f.Read())
	case KindTransferred:
		return "Transferred, rinsed " + run.Times(*f.Count)
	case KindDissolved:
		return "Dissolving: " + choiceWords[f.Choice]
	case run.KindTemperature:
		return fmt.Sprintf("Solution at %s", f.Quantity)
	case KindMark:
		return "Making up: " + choiceWords[f.Choice]
	case run.KindDecided:
		if flask, ok := strings.CutPrefix(f.Choice, choiceFlask); ok {
			return run.Sentence(f, map[string]string{f.Choice: "take the " + flask + " flask"})
		}
	}
	return run.Sentence(f, choiceWords)
}
