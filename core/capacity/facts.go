package capacity

import (
	"fmt"
	"strconv"

	"vialbench/core/droptip"
	"vialbench/core/electrode"
	"vialbench/core/equilibrium"
	"vialbench/core/fact"
	"vialbench/core/indicator"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The kinds of fact of a run. The Part of a fact is the place of its beaker.
const (
	KindPoured = "poured" // Choice: in
	KindRead   = "pH"     // Quantity: what the meter shows
	KindAdded  = "added"  // Quantity: a portion, in mL; or Count: its drops
	KindBath   = "bath"   // Quantity: its temperature
	KindSeen   = "seen"   // Choice: which of the colours of the indicator, from 0
)

const (
	choiceIn   = "in"
	choiceDone = "beaker-done"
)

// Parts implements [run.Plan].
func (r Request) Parts() int { return len(r.beakers()) }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch f.Kind {
	case KindRead:
		return r.Probe.Meter().Takes()
	case KindAdded:
		return []quantity.Dimension{quantity.Volume}
	case KindBath:
		return []quantity.Dimension{quantity.Temperature}
	}
	return nil
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	switch f.Kind {
	case KindPoured:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceIn)
	case KindRead:
		f.Only(&p, "quantity", "spread", "beside", "text")
		r.Probe.Meter().CheckReading(f, &p)
	case KindAdded:
		r.checkAdded(f, &p)
	case KindBath:
		f.Only(&p, "quantity", "text")
		if q := f.Quantity; q == nil || !(q.Base() >= equilibrium.MinTemperature && q.Base() <= equilibrium.MaxTemperature) {
			p.Add("/quantity", "a bath has 0 to 60 °C")
		}
	case KindSeen:
		f.Only(&p, "choice", "text")
		if _, ok := shadeOf(f.Choice); !ok || r.Indicator == nil {
			p.Add("/choice", "say which of the colours of the indicator it is")
		}
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

// maxDrops is how many drops are counted at a time at most.
const maxDrops = 1000

// checkAdded checks a portion: a volume, or, where drops are counted, how many.
func (r Request) checkAdded(f fact.Fact, p *verdict.Problems) {
	f.Only(p, "quantity", "count", "text")
	most := r.Volume
	if list := r.beakers(); f.Part >= 0 && f.Part < len(list) && list[f.Part].Kind == Diluted {
		most = maxWater
	}
	switch q := f.Quantity; {
	case f.Count != nil && q != nil:
		p.Add("/count", "a portion is counted in drops or measured, not both")
	case f.Count != nil && r.Drops == 0:
		p.Add("/count", "drops are not counted in this test: state the portion in mL")
	case f.Count != nil && (*f.Count < 1 || *f.Count > maxDrops):
		p.Add("/count", "a portion has 1 to %d drops", maxDrops)
	case f.Count != nil:
	case q == nil || q.Unit.Dimension != quantity.Volume:
		p.Add("/quantity", "a portion is a volume, like 0.50 mL")
	case !(q.In("mL") > 0 && q.In("mL") <= most):
		p.Add("/quantity", "%s: a portion is above zero, and less than what is in the beaker", q)
	}
}

// maxWater is how much water at once dilutes a buffer, in mL.
const maxWater = 5000

// shadeOf reads which colour of an indicator a choice is.
func shadeOf(choice string) (shade int, ok bool) {
	shade, err := strconv.Atoi(choice)
	return shade, err == nil && shade >= 0 && shade < indicator.Shades
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	name := ""
	if list := r.beakers(); f.Part >= 0 && f.Part < len(list) {
		name = list[f.Part].Name
	}
	switch f.Kind {
	case KindPoured:
		return fmt.Sprintf("%s mL in each beaker", quantity.Trim(r.Volume+r.Covered))
	case KindRead:
		return name + ": " + electrode.Shown(*f.Quantity) + f.Read()
	case KindAdded:
		if f.Count != nil {
			return name + ": " + droptip.Say(*f.Count) + " more" + f.Read()
		}
		return name + ": " + f.Quantity.String() + " more" + f.Read()
	case KindBath:
		return name + ": into a bath at " + f.Quantity.String()
	case KindSeen:
		if shade, ok := shadeOf(f.Choice); ok && r.Indicator != nil {
			return name + ": " + r.Indicator.Name + " is " + r.Indicator.Words[shade] + f.Read()
		}
	}
	return run.Sentence(f, map[string]string{choiceDone: name + " is done"})
}
