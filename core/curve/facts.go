package curve

import (
	"fmt"

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
	KindAdded = "added"       // Quantity: the burette after an addition
)

const (
	choiceIn   = "in"
	choiceDone = "curve-done"
)

// Parts implements [run.Plan].
func (r Request) Parts() int { return 1 }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch f.Kind {
	case KindRead:
		return r.Probe.Meter().Takes()
	case KindStart, KindAdded:
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
	case KindRead:
		f.Only(&p, "quantity", "spread", "beside", "text")
		r.Probe.Meter().CheckReading(f, &p)
	case KindStart, KindAdded:
		f.Only(&p, "quantity", "text")
		run.CheckReading(f, r.Glass, &p)
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
		return "Run in to " + f.Quantity.String() + f.Read()
	case KindRead:
		return electrode.Shown(*f.Quantity) + f.Read()
	}
	return run.Sentence(f, map[string]string{choiceDone: "the curve is complete"})
}
