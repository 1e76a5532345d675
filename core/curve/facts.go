package curve

import (
	"fmt"

	"vialbench/core/droptip"
	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The kinds of fact of a run.
const (
	KindReady = "curve-ready" // Choice: in
	KindStart = "start"       // Quantity: the burette before
	KindRead  = "pH"          // Quantity: what the meter shows
	KindAdded = "added"       // Quantity: the burette after an addition; or Count: its drops

	KindAcid   = "acidified" // Quantity: acid that went into the beaker before the curve
	KindAcidPH = "acid-pH"   // Quantity: what the meter shows with it
)

const (
	choiceIn   = "in"
	choiceDone = "curve-done"

	choiceDrop       = "acid-drop"
	choiceProtonated = "protonated"
)

// Parts implements [run.Plan].
func (r Request) Parts() int { return 1 }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch f.Kind {
	case KindRead, KindAcidPH:
		return r.Probe.Meter().Takes()
	case KindAdded:
		if r.Tip != nil {
			return nil
		}
		return []quantity.Dimension{quantity.Volume}
	case KindStart, KindAcid:
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
		run.CheckChoice(f, &p, choiceIn)
	case KindAcid:
		f.Only(&p, "quantity", "text")
		switch q := f.Quantity; {
		case r.Protonate == nil:
			p.Add("/kind", "no acid goes into the beaker before this curve")
		case q == nil || q.Unit.Dimension != quantity.Volume || !(q.In("mL") > 0 && q.In("mL") <= r.mostAcid()):
			p.Add("/quantity", "acid is a volume, above zero and at most %s mL here", quantity.Digits(r.mostAcid(), 1))
		}
	case KindRead, KindAcidPH:
		f.Only(&p, "quantity", "spread", "beside", "text")
		r.Probe.Meter().CheckReading(f, &p)
	case KindStart, KindAdded:
		switch {
		case r.Tip == nil:
			f.Only(&p, "quantity", "text")
			run.CheckReading(f, r.Glass, &p)
		case f.Kind == KindStart:
			p.Add("/kind", "drops are counted for this curve: no scale is read")
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

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	switch f.Kind {
	case KindReady:
		return fmt.Sprintf("In the beaker: %s", r.sayFlask())
	case KindStart:
		return "Burette at " + f.Quantity.String() + f.Read()
	case KindAdded:
		if f.Count != nil {
			return droptip.Say(*f.Count) + " more" + f.Read()
		}
		return "Run in to " + f.Quantity.String() + f.Read()
	case KindAcid:
		return f.Quantity.String() + " of acid into the beaker" + f.Read()
	case KindRead, KindAcidPH:
		return electrode.Shown(*f.Quantity) + f.Read()
	}
	return run.Sentence(f, map[string]string{
		choiceDone: "the curve is complete", choiceDrop: "one drop of acid more", choiceProtonated: "it is fully protonated",
	})
}
