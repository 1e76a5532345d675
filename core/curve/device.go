package curve

import (
	"math"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// maxDrops is how many drops anybody counts at a time.
const maxDrops = 400

// checkDevice checks what the titrant comes from.
func (r Request) checkDevice(p *verdict.Problems) {
	switch {
	case r.Tip == nil && r.Glass.Division() == 0:
		p.Add("/glass", "choose a burette of the lab, or count drops")
	case r.Tip != nil:
		if problems, ok := r.Tip.Check().(verdict.Problems); ok { //nolint:errorlint // made there, never wrapped
			p.Add("/drop", "%s", problems[0].Reason)
		}
	}
}

// dispensed is a volume that came from the burette, or in drops, in mL; id keeps the times apart.
func (r Request) dispensed(mL float64, id string) uncertain.Number {
	if r.Tip != nil {
		return r.Tip.Drops(mL/r.Tip.Volume.Value, id)
	}
	return r.Glass.Dispensed(mL, id)
}

// sayDevice follows what is run in, where it drips.
func (r Request) sayDevice() string {
	if r.Tip == nil {
		return ""
	}
	return ", in " + r.Tip.String()
}

// sayFilled begins what is said of the titrant.
func (r Request) sayFilled() string {
	if r.Tip != nil {
		return "The tip dry outside, held upright, one drop a second. It drips "
	}
	return "No bubble in the tip of the burette, funnel off. It was rinsed with "
}

// least is the smallest addition that is proposed, in mL: a drop that is counted, or about two.
func (r Request) least() float64 {
	if r.Tip != nil {
		return r.Tip.Volume.Value
	}
	return twoDrops
}

// twoDrops are about so many mL (common practice).
const twoDrops = 0.1

// proposes is an addition as it is typed: where to run the burette to, or how many drops; empty
// where the burette has not as much.
func (a *account) proposes(step float64) string {
	if a.Tip != nil {
		return quantity.Digits(math.Max(1, math.Round(step/a.Tip.Volume.Value)), 0)
	}
	to := a.at + math.Max(twoDrops, math.Round(step*20)/20)
	if to > a.Glass.Volume {
		return ""
	}
	return quantity.Digits(to, a.Glass.Decimals())
}

// asksAddition asks for a reading of the burette after an addition, or for the drops of it.
func (a *account) asksAddition(s run.Step, next string) run.Step {
	s.Kind = KindAdded
	if a.Tip != nil {
		s.Default = next
		s.Input, s.Label, s.Unit, s.Title = run.InputDrops, "Drops", "drops", "Let it drip, and count"
		if next != "" {
			s.Title += ": about " + next
		}
		return s
	}
	s.Input, s.Label, s.Unit, s.Dimensions = run.InputQuantity, "Burette", "mL", []quantity.Dimension{quantity.Volume}
	s.Scale, s.Title = a.Glass.Volume, "Run in, and read the burette"
	if next != "" {
		s.Title += ": to about " + next + " mL"
		s.Expects = next + " mL"
	}
	return s
}
