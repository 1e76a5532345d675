package solution

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Admit checks a new fact against the run so far; an error is a verdict.Problems
// with JSON pointers into the fact.
func Admit(r Request, facts []fact.Fact, f fact.Fact, now time.Time) error {
	c, err := r.check()
	if err != nil {
		return err
	}
	if f.Kind == KindNote {
		return checkFields(c, f)
	}
	if f.Replaces != "" {
		return admitCorrection(c, facts, f)
	}
	a := c.account(facts)
	out := a.outcome(now)
	switch out.Status {
	case run.Void:
		return verdict.Problems{{Field: "/kind", Reason: "this run is void (" + out.Reason + "): begin again from the plan, or correct the reading that voided it"}}
	case run.Finished:
		return verdict.Problems{{Field: "/kind", Reason: "this run is finished: correct a reading if one was wrong"}}
	}
	i := slices.IndexFunc(out.Steps, func(s run.Step) bool { return s.State == run.Now })
	step := out.Steps[i]
	if f.Kind == KindDecided {
		for _, v := range step.Verdicts {
			if f.Part == step.Part && slices.ContainsFunc(v.Choices, func(c verdict.Choice) bool { return c.ID == f.Choice }) {
				return nil
			}
		}
		if f.Choice == choiceStartAgain {
			return nil
		}
		return verdict.Problems{{Field: "/choice", Reason: fmt.Sprintf("“%s” is not a choice at this step (%s)", f.Choice, step.Title)}}
	}
	if f.Kind != step.Kind || f.Part != step.Part || !step.Asks {
		return verdict.Problems{{Field: "/kind", Reason: "not the step at hand: " + lowerFirst(step.Title) + " comes now"}}
	}
	return checkFields(c, f)
}

func lowerFirst(s string) string { return strings.ToLower(s[:1]) + s[1:] }

// admitCorrection checks a fact that replaces another.
func admitCorrection(c *context, facts []fact.Fact, f fact.Fact) error {
	standing := fact.Standing(facts)
	i := slices.IndexFunc(standing, func(old fact.Fact) bool { return old.ID == f.Replaces })
	switch {
	case i < 0:
		return verdict.Problems{{Field: "/replaces", Reason: "this reading was corrected already: look at the newest one"}}
	case strings.TrimSpace(f.Reason) == "":
		return verdict.Problems{{Field: "/reason", Reason: "a correction needs a reason, like “misread”"}}
	case f.Kind == fact.Withdrawn:
		return nil
	case f.Kind != standing[i].Kind:
		return verdict.Problems{{Field: "/kind", Reason: fmt.Sprintf("a %s reading is corrected by a %s reading", standing[i].Kind, standing[i].Kind)}}
	case f.Part != standing[i].Part:
		return verdict.Problems{{Field: "/part", Reason: "this reading is of another substance: correct it at its own step"}}
	case f.Kind == KindDecided:
		return verdict.Problems{{Field: "/kind", Reason: "a decision is withdrawn, not corrected"}}
	}
	return checkFields(c, f)
}

// maxCount is the largest count of rinses or inversions taken for meant.
const maxCount = 200

// checkFields checks the values of a fact.
func checkFields(c *context, f fact.Fact) error {
	var p verdict.Problems
	mass := func(field string, q *quantity.Quantity, what string) {
		switch {
		case q == nil:
			p.Add(field, "%s is missing: write it like 5.1082 g", what)
		case q.Unit.Dimension != quantity.Mass:
			p.Add(field, "%s is a mass, in g, not in %s", what, q.Unit.Symbol)
		case math.IsNaN(q.Value) || math.Abs(q.Base()) > c.Balance.Capacity:
			p.Add(field, "%s carries up to %g g: %s cannot be its reading", c.Balance.Name, c.Balance.Capacity, q)
		}
	}
	choice := func(ids ...string) {
		if !slices.Contains(ids, f.Choice) {
			p.Add("/choice", "choose one of %s", strings.Join(ids, ", "))
		}
	}
	count := func(what string) {
		if f.Count == nil || *f.Count < 1 || *f.Count > maxCount {
			p.Add("/count", "%s are a number from 1 to %d", what, maxCount)
		}
	}
	c.Balance.CheckSpread(f.Spread, &p)
	only := func(fields ...string) { f.Only(&p, fields...) }
	switch f.Kind {
	case KindTared:
		only("quantity", "spread")
		mass("/quantity", f.Quantity, "what the balance shows")
		if len(p) == 0 && math.Abs(f.Quantity.Base()) > 0.01*c.Balance.Capacity {
			p.Add("/quantity", "%s is no tared balance: press tare and record what it shows then", f.Quantity)
		}
	case KindWeighed:
		only("quantity", "after", "spread")
		mass("/quantity", f.Quantity, "the reading")
		if f.After != nil {
			mass("/after", f.After, "the reading after")
			if len(p) == 0 && f.After.Base() >= f.Quantity.Base() {
				p.Add("/after", "after pouring out, the vessel weighs less than before (%s)", f.Quantity)
			}
		} else if len(p) == 0 && f.Quantity.Base() <= 0 {
			p.Add("/quantity", "%s: a mass is above zero; tare again when the pan shows less than nothing", f.Quantity)
		}
	case KindWatered:
		only("choice")
		choice(choiceWaterIn)
	case KindMeasured:
		only("quantity")
		switch {
		case f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Volume:
			p.Add("/quantity", "a volume is in mL, like %s", c.say(c.taking(c.flask)))
		case !(f.Quantity.Base() > 0) || f.Quantity.In("mL") > 10*c.measure.Volume:
			p.Add("/quantity", "%s: above zero, and not more than ten fillings of a %s", f.Quantity, c.measure.Name())
		}
	case KindTransferred:
		only("count")
		count("rinses")
	case KindDissolved:
		only("choice")
		choice(choiceClear, choiceSolidLeft, choiceNeckReached)
	case KindTemperature:
		only("quantity")
		switch {
		case f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Temperature:
			p.Add("/quantity", "a temperature is in °C, like 20.5 °C")
		case !(f.Quantity.Value >= glassware.MinTemperature && f.Quantity.Value <= glassware.MaxTemperature):
			p.Add("/quantity", "%s: glass is used between 0 and 40 °C here", f.Quantity)
		}
	case KindMark:
		only("choice")
		choice(choiceReached, choicePast)
	case KindMadeUp:
		only("quantity", "spread")
		if c.MakeUp == ByMass {
			if mass("/quantity", f.Quantity, "the solution"); len(p) == 0 && !(f.Quantity.Base() > 0.1*c.solutionMass()) {
				p.Add("/quantity", "%s is no solution of about %s g: record what it weighs without its bottle", f.Quantity, quantity.Digits(c.solutionMass(), 0))
			}
		} else if f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Volume || !(f.Quantity.In("mL") > 0.1*c.flask.Volume && f.Quantity.In("mL") < 10*c.flask.Volume) {
			p.Add("/quantity", "the water added is a volume near %g mL", c.flask.Volume)
		}
	case KindMixed:
		only("count")
		count("inversions")
	case KindLabelled:
		only("date", "text")
		if _, err := time.Parse(time.DateOnly, f.Date); err != nil {
			p.Add("/date", "the day it keeps until, like 2027-03-31")
		}
	case KindNote:
		only("text")
		if strings.TrimSpace(f.Text) == "" {
			p.Add("/text", "the note is empty")
		}
	default:
		p.Add("/kind", "no reading of the kind “%s”", f.Kind)
	}
	return p.OrNil()
}
