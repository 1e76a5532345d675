package calibration

import (
	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The kinds of fact of a calibration, beside those that all kinds of work have. Those of
// one buffer carry its place as their Part.
const (
	KindBulb   = "bulb"   // Choice: wet or dry
	KindSoaked = "soaked" // Choice: soaked
	KindDipped = "dipped" // Choice: in; rinsed, blotted, bulb covered
	KindRead   = "read"   // a reading of the meter, see package electrode
)

const (
	choiceWet    = "wet"
	choiceDry    = "dry"
	choiceSoaked = "soaked"
	choiceIn     = "in"
	choiceKeep   = "keep"  // a reading that is in doubt
	choiceAgain  = "again" // a buffer
	choiceUse    = "use"   // the calibration
)

var choiceWords = map[string]string{
	choiceWet:   "it stood wet",
	choiceDry:   "it was dry",
	choiceKeep:  "keep this reading",
	choiceAgain: "take this buffer again",
	choiceUse:   "use this calibration",
}

// Parts implements [run.Plan]: the facts are about one of the buffers.
func (r Request) Parts() int { return len(r.Buffers) }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	if f.Kind == KindRead {
		return r.Meter.Takes()
	}
	return nil
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	switch f.Kind {
	case KindBulb:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceWet, choiceDry)
	case KindSoaked:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceSoaked)
	case KindDipped:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceIn)
	case KindRead:
		f.Only(&p, "quantity", "spread", "beside", "after")
		if f.After != nil && !r.Meter.ShowsPH && (f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Acidity) {
			p.Add("/after", "a potential is not adjusted: record what %s shows", r.Meter.Name)
			return p
		}
		r.Meter.CheckReading(f, &p)
		if len(p) == 0 && f.Part >= 0 && f.Part < len(r.Buffers) {
			if _, err := r.Buffers[f.Part].At(r.Meter.Read(f, r.Celsius).Celsius); err != nil {
				p.Add("/beside/0", "%s", err)
			}
		}
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	in := ""
	if f.Part >= 0 && f.Part < len(r.Buffers) {
		in = r.Buffers[f.Part].Name
	}
	switch f.Kind {
	case KindBulb:
		return "The bulb: " + choiceWords[f.Choice]
	case KindSoaked:
		return "The bulb was soaked in storage solution"
	case KindDipped:
		return "Rinsed and blotted, in " + in
	case KindRead:
		return in + " reads " + electrode.ShownBy(f) + f.Read()
	case run.KindDecided:
		if f.Choice == choiceKeep || f.Choice == choiceAgain {
			return run.Sentence(f, choiceWords) + ", " + in
		}
	}
	return run.Sentence(f, choiceWords)
}
