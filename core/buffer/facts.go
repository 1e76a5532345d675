package buffer

import (
	"fmt"
	"math"
	"strings"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The kinds of fact of a run, beside those that all kinds of work have. The Part of a fact
// is the place of the tube times the number of ingredients, and the place of what is taken.
const (
	KindWatered  = "watered"    // Choice: in
	KindWeighed  = "weighed"    // Quantity: net reading; with After: vessel before and after
	KindMeasured = "measured"   // Quantity: volume of a liquid
	KindStirred  = "stirred"    // Choice: clear or solid-left
	KindRead     = "pH"         // Quantity: what the meter shows, in the beaker
	KindAcid     = "acid-added" // Quantity: mL
	KindBase     = "base-added" // Quantity: mL
	KindMark     = "mark"       // Choice: reached or past
	KindFinal    = "final-pH"   // Quantity: what the meter shows, in the finished buffer
)

// The choices that facts carry.
const (
	choiceIn        = "in"
	choiceClear     = "clear"
	choiceSolidLeft = "solid-left"
	choiceReached   = "reached"
	choicePast      = "past"

	choiceAcid     = "add-acid"
	choiceBase     = "add-base"
	choiceLeave    = "leave"
	choiceReadOn   = "read-again"
	choiceKeepPast = "keep-past"
	choiceKeep     = "keep"
)

// perTube is how many ingredients each tube has.
func (r Request) perTube() int { return len(r.ingredients()) }

// Parts implements [run.Plan].
func (r Request) Parts() int { return len(r.targets()) * r.perTube() }

// ingredientOf is what a fact is about.
func (r Request) ingredientOf(f fact.Fact) Ingredient { return r.ingredients()[f.Part%r.perTube()] }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch f.Kind {
	case KindWeighed:
		return []quantity.Dimension{quantity.Mass}
	case KindMeasured, KindAcid, KindBase:
		return []quantity.Dimension{quantity.Volume}
	case KindRead, KindFinal:
		return r.Probe.Meter().Takes()
	}
	return nil
}

// maxTaken is the largest mass in g or volume in mL that can be meant.
const maxTaken = 1e5

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	switch f.Kind {
	case KindWatered:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceIn)
	case KindStirred:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceClear, choiceSolidLeft)
	case KindMark:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceReached, choicePast)
	case KindWeighed:
		f.Only(&p, "quantity", "after", "spread")
		r.checkTaken(f, quantity.Mass, "g", &p)
	case KindMeasured, KindAcid, KindBase:
		f.Only(&p, "quantity", "text")
		r.checkTaken(f, quantity.Volume, "mL", &p)
	case KindRead, KindFinal:
		f.Only(&p, "quantity", "spread", "beside", "text")
		r.Probe.Meter().CheckReading(f, &p)
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

func (r Request) checkTaken(f fact.Fact, d quantity.Dimension, unit string, p *verdict.Problems) {
	q := f.Quantity
	switch {
	case q == nil || q.Unit.Dimension != d:
		p.Add("/quantity", "what is taken is stated in %s", unit)
	case f.After != nil && (f.After.Unit.Dimension != d || !(f.After.Base() < q.Base())):
		p.Add("/after", "the vessel weighs less after the solid has left it: %s before, so less than that", q)
	case !(q.In(unit) > 0 && q.In(unit) <= maxTaken):
		p.Add("/quantity", "%s: more than 0 %s", q, unit)
	case f.Kind == KindWeighed && q.In("g") > r.Balance.Capacity:
		p.Add("/quantity", "%s is more than %s weighs (%s g)", q, r.Balance.Name, trim(r.Balance.Capacity))
	case !math.IsInf(q.Base(), 0) && f.Kind != KindWeighed && q.In("mL") > r.Volume && !r.byVolume():
		p.Add("/quantity", "%s is more than the flask holds (%s mL)", q, trim(r.Volume))
	}
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	tube := ""
	if n := len(r.targets()); n > 1 && f.Part >= 0 && f.Part < r.Parts() {
		tube = fmt.Sprintf("pH %s: ", quantity.Digits(r.targets()[f.Part/r.perTube()], 2))
	}
	switch f.Kind {
	case KindWatered:
		return "Water in, to about 40 %"
	case KindStirred:
		return map[string]string{choiceClear: "All dissolved, clear", choiceSolidLeft: "Solid left"}[f.Choice]
	case KindMark:
		return tube + map[string]string{choiceReached: "Filled to the mark", choicePast: "Past the mark"}[f.Choice]
	case KindWeighed:
		text := tube + "Weighed " + f.Quantity.String()
		if f.After != nil {
			text = tube + "Vessel " + f.Quantity.String() + " before, " + f.After.String() + " after"
		}
		return text + " of " + r.ingredientOf(f).Substance.Name + f.Read()
	case KindMeasured:
		return tube + "Measured " + f.Quantity.String() + " of " + r.ingredientOf(f).String() + f.Read()
	case KindAcid, KindBase:
		return tube + "Added " + f.Quantity.String() + " of " + r.with(f.Kind == KindAcid) + f.Read()
	case KindRead:
		return "In the beaker: " + electrode.Shown(*f.Quantity) + f.Read()
	case KindFinal:
		return tube + "Finished: " + electrode.Shown(*f.Quantity) + f.Read()
	}
	if strings.HasPrefix(f.Kind, "decided") {
		return tube + run.Sentence(
			f,
			map[string]string{
				choiceAcid: "add acid", choiceBase: "add base", choiceLeave: "leave it as it is", choiceReadOn: "read it again",
				choiceKeepPast: "keep it, past the mark", choiceKeep: "keep it under the pH that it has",
			},
		)
	}
	return run.Sentence(f, nil)
}
