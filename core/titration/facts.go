package titration

import (
	"fmt"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The kinds of fact of a run, beside those that all kinds of work have. The Part of a fact is
// the place of its trial.
const (
	KindReady  = "burette-ready" // Choice: how often it was rinsed
	KindSolid  = "weighed"       // Quantity: net mass of what is dissolved; with After: vessel before and after
	KindMark   = "mark"          // Choice: reached or past-mark
	KindSample = "sample"        // Quantity: net mass or volume; with After: vessel, or scale, before and after; Choice: delivered
	KindStart  = "start"         // Quantity: the scale before
	KindRead   = "read"          // Quantity: the scale when it was stopped; or Count: the drops since the last stop
	KindRefill = "refilled"      // Quantity: the scale after filling up in the middle of a trial
)

// The choices that facts carry.
const (
	choiceThrice    = "rinsed-3"
	choiceTwice     = "rinsed-2"
	choiceNone      = "rinsed-0"
	choiceDelivered = "delivered"

	choiceReached  = "reached"
	choicePastMark = "past-mark"

	choiceEnd     = "end-point"
	choiceUnsure  = "unsure"
	choicePast    = "past"
	choiceEarlier = "earlier"
	choiceMore    = "more"
	choiceRefill  = "refill"
	choiceReread  = "read-again"

	choiceEnough   = "enough"
	choiceBlank    = "blank"
	choiceRough    = "rough"
	choiceCount    = "count"
	choiceSetAside = "set-aside"
)

// Parts implements [run.Plan].
func (r Request) Parts() int { return MaxTrials }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch {
	case f.Kind == KindRead && r.Tip != nil:
		return nil
	case f.Kind == KindSample && r.By == Weighed, f.Kind == KindSolid:
		return []quantity.Dimension{quantity.Mass}
	case f.Kind == KindSample, f.Kind == KindStart, f.Kind == KindRead, f.Kind == KindRefill:
		return []quantity.Dimension{quantity.Volume}
	}
	return nil
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	switch f.Kind {
	case KindReady:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceThrice, choiceTwice, choiceNone)
	case KindSolid:
		r.checkMass(f, &p)
	case KindMark:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceReached, choicePastMark)
	case KindSample:
		r.checkSample(f, &p)
	case KindStart, KindRead, KindRefill:
		switch {
		case r.Tip == nil:
			f.Only(&p, "quantity", "text")
			run.CheckReading(f, r.Burette, &p)
		case f.Kind != KindRead:
			p.Add("/kind", "drops are counted in this titration: no scale is read")
		default:
			f.Only(&p, "count", "text")
			if f.Count == nil || *f.Count < 1 || *f.Count > maxDrops {
				p.Add("/count", "count 1 to %d drops at a time", maxDrops)
			}
		}
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

func (r Request) checkSample(f fact.Fact, p *verdict.Problems) {
	q := f.Quantity
	switch r.By {
	case ByPipette:
		f.Only(p, "choice")
		run.CheckChoice(f, p, choiceDelivered)
	case ByBurette:
		f.Only(p, "quantity", "after", "text")
		run.CheckScale(f, r.Glass.Volume, p)
	case ByCylinder:
		f.Only(p, "quantity", "text")
		if q == nil || !(q.In("mL") > 0 && q.In("mL") <= r.Glass.Volume) {
			p.Add("/quantity", "what is read on the cylinder, above 0 and at most %s mL", quantity.Trim(r.Glass.Volume))
		}
	case Weighed:
		r.checkMass(f, p)
	}
}

// checkMass checks what the balance showed of a sample, or of what is dissolved.
func (r Request) checkMass(f fact.Fact, p *verdict.Problems) {
	f.Only(p, "quantity", "after", "spread")
	switch q := f.Quantity; {
	case q == nil || q.Unit.Dimension != quantity.Mass || !(q.In("g") > 0):
		p.Add("/quantity", "the mass of the sample, like 0.5106 g")
	case f.After != nil && (f.After.Unit.Dimension != quantity.Mass || !(f.After.Base() < q.Base())):
		p.Add("/after", "the vessel weighs less after the solid has left it: %s before, so less than that", q)
	case q.In("g") > r.Balance.Capacity:
		p.Add("/quantity", "%s is more than %s weighs (%s g)", q, r.Balance.Name, quantity.Trim(r.Balance.Capacity))
	}
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	trial := fmt.Sprintf("Trial %d: ", f.Part+1)
	switch f.Kind {
	case KindReady:
		filled := " with the titrant, filled, no bubble"
		if r.device() == "burette" {
			filled += ", funnel off"
		}
		return run.UpperFirst(r.device()) + map[string]string{
			choiceThrice: " rinsed three times" + filled,
			choiceTwice:  " rinsed twice" + filled,
			choiceNone:   " filled without rinsing",
		}[f.Choice]
	case KindSolid:
		if f.After != nil {
			return "Vessel " + f.Quantity.String() + " before, " + f.After.String() + " after" + f.Read()
		}
		return "Weighed " + f.Quantity.String() + " of " + run.LowerFirst(r.Sample.Name) + f.Read()
	case KindMark:
		return map[string]string{choiceReached: "Filled to the mark", choicePastMark: "Past the mark"}[f.Choice]
	case KindSample:
		return trial + r.saySampled(f) + r.sayBack()
	case KindStart:
		return trial + r.device() + " at " + f.Quantity.String() + f.Read()
	case KindRead:
		if f.Count != nil {
			return trial + drops(float64(*f.Count)) + f.Read()
		}
		return trial + "stopped at " + f.Quantity.String() + f.Read()
	case KindRefill:
		return trial + r.device() + " filled up to " + f.Quantity.String() + f.Read()
	}
	if f.Kind == run.KindDecided && f.Choice != run.ChoiceStartAgain && f.Choice != choiceEnough {
		return trial + run.Sentence(f, words)
	}
	return run.Sentence(f, words)
}

// saySampled says how a sample was taken.
func (r Request) saySampled(f fact.Fact) string {
	switch {
	case f.Choice == choiceDelivered:
		return quantity.Trim(r.Volume) + " mL by pipette"
	case r.By == ByBurette:
		return "sample from the second burette, " + f.Quantity.String() + " to " + f.After.String() + f.Read()
	case f.After != nil:
		return "vessel " + f.Quantity.String() + " before, " + f.After.String() + " after" + f.Read()
	}
	return "sample " + f.Quantity.String() + f.Read()
}

// words say decisions.
var words = map[string]string{
	choiceEnd: "that was the end point", choiceUnsure: "unsure, one drop more", choicePast: "past the end point, set aside",
	choiceEarlier: "the reading before was the end point", choiceMore: "not there yet", choiceRefill: "the burette is filled up",
	choiceEnough: "enough trials", choiceBlank: "this one is a blank", choiceRough: "count it as rough", choiceCount: "let it count",
	choiceSetAside: "set it aside", choiceReread: "read it again",
}
