package dilution

import (
	"fmt"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The kinds of fact of a dilution, beside those that all kinds of work have. Those of one tube carry its place as their Part.
const (
	KindRinsed  = "rinsed"  // Count: the pipette with what it will take
	KindWatered = "watered" // Choice: in; solvent first, before a concentrated liquid
	KindTaken   = "taken"   // Choice: delivered; or Quantity and After: readings of a scale, mL; or masses, see [Rung.Weighed]
	KindFilled  = "filled"  // Choice: reached or past; or the readings of the solvent
)

const (
	choiceWaterIn   = "in"
	choiceDelivered = "delivered"
	choiceReached   = "reached"
	choicePast      = "past"
	choiceRedo      = "redo-stage"
)

// Parts implements [run.Plan]: the facts are about one of the tubes.
func (r Request) Parts() int { return len(r.Rungs) }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch {
	case f.Kind == run.KindTemperature:
		return []quantity.Dimension{quantity.Temperature}
	case f.Kind == KindTaken && f.Part >= 0 && f.Part < len(r.Rungs) && r.Rungs[f.Part].Weighed:
		return []quantity.Dimension{quantity.Mass}
	case f.Kind == KindTaken, f.Kind == KindFilled:
		return volumeOnly
	}
	return nil
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	if f.Part < 0 || f.Part >= len(r.Rungs) {
		p.Add("/part", "there are %d tubes", len(r.Rungs))
		return p
	}
	rung := r.Rungs[f.Part]
	switch f.Kind {
	case KindRinsed:
		f.Only(&p, "count")
		run.CheckCount(f, "rinses", &p)
	case KindWatered:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceWaterIn)
	case KindTaken:
		switch {
		case rung.Weighed:
			f.Only(&p, "quantity", "after", "spread")
			r.checkMass(f, &p)
		case delivers(rung.With):
			f.Only(&p, "choice")
			run.CheckChoice(f, &p, choiceDelivered)
		default:
			f.Only(&p, "quantity", "after")
			run.CheckScale(f, rung.With.Volume, &p)
		}
	case KindFilled:
		switch {
		case rung.Flask != nil:
			f.Only(&p, "choice")
			run.CheckChoice(f, &p, choiceReached, choicePast)
		case rung.SolventWith != nil:
			f.Only(&p, "quantity", "after")
			run.CheckScale(f, rung.SolventWith.Volume, &p)
		default:
			p.Add("/kind", "nothing is added to tube %d", f.Part+1)
		}
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

// checkMass checks the mass of a portion: net, or the vessel before and after.
func (r Request) checkMass(f fact.Fact, p *verdict.Problems) {
	r.Balance.CheckSpread(f.Spread, p)
	for field, q := range map[string]*quantity.Quantity{"/quantity": f.Quantity, "/after": f.After} {
		switch {
		case q == nil && field == "/after":
		case q == nil || q.Unit.Dimension != quantity.Mass || !(q.Value >= 0):
			p.Add(field, "what the balance shows is a mass, like 5.9234 g")
		case q.In("g") > r.Balance.Capacity:
			p.Add(field, "%s is more than %s carries: %g g", q, r.Balance.Name, r.Balance.Capacity)
		}
	}
	switch {
	case len(*p) > 0:
	case f.After != nil && f.After.Base() >= f.Quantity.Base():
		p.Add("/after", "after pouring out the vessel weighs less than before (%s)", f.Quantity)
	case f.After == nil && !(f.Quantity.Value > 0):
		p.Add("/quantity", "a net mass is above zero")
	}
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	tube := fmt.Sprintf("tube %d", f.Part+1)
	readings := ""
	switch {
	case f.Quantity != nil && f.After != nil:
		readings = fmt.Sprintf(", %s to %s", f.Quantity, f.After)
	case f.Quantity != nil:
		readings = fmt.Sprintf(", %s", f.Quantity)
	}
	readings += f.Read()
	switch f.Kind {
	case run.KindTemperature:
		return fmt.Sprintf("Stock and solvent at %s", f.Quantity)
	case KindRinsed:
		return "Pipette rinsed " + run.Times(*f.Count) + " for " + tube
	case KindWatered:
		return "Half the solvent is in " + tube
	case KindTaken:
		return "Taken for " + tube + readings
	case KindFilled:
		if f.Choice != "" {
			return "Making up " + tube + ": " + map[string]string{choiceReached: "meniscus on the line", choicePast: "past the mark"}[f.Choice]
		}
		return "Solvent into " + tube + readings
	case run.KindMixed:
		return "Inverted " + tube + " " + run.Times(*f.Count)
	}
	return run.Sentence(f, map[string]string{choiceRedo: "make " + tube + " again"})
}
