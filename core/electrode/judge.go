package electrode

import (
	"fmt"
	"math"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Judge says what is to be thought of a calibration, the gravest first. low and high are
// the pH that the samples are expected to have, both 0 when nobody said; now tells how old
// the buffers are. Choices are those of whoever decides.
func (c Calibration) Judge(low, high float64, now time.Time, t verdict.Thresholds) []verdict.Verdict {
	var stop, look, fine []verdict.Verdict
	add := func(v verdict.Verdict) {
		switch v.Level {
		case verdict.Stop:
			stop = append(stop, v)
		case verdict.Look:
			look = append(look, v)
		case verdict.Fine:
			fine = append(fine, v)
		}
	}
	if mixed := c.mixedUp(); mixed != "" {
		add(RuleSwapped.Finds(verdict.Stop, nil, mixed))
	} else {
		add(c.judgeSlope(t))
		if c.Low() <= 8.5 && c.High() >= 5.5 { // else the offset is too far from the points
			add(c.judgeOffset(t))
		}
	}
	if worst, off := c.worst(); off > t.Of(RuleResidual) && len(stop) == 0 {
		add(RuleResidual.Says(verdict.Look, nil, "%s lies %s pH off the line: rinse, and take that point again.", worst, quantity.Digits(off, 2)))
	}
	if low < high {
		c.judgeSpan(low, high, add)
	}
	for _, p := range c.Points {
		if opened, err := time.Parse(time.DateOnly, p.Buffer.Opened); err == nil {
			if days := math.Floor(now.Sub(opened).Hours() / 24); days > t.Of(RuleBufferAge) {
				add(RuleBufferAge.Says(verdict.Look, nil, "%s was opened %s days ago: take a fresh bottle.", p.Buffer.Name, quantity.Digits(days, 0)))
			}
		}
		if p.Spread > 0 {
			add(
				RuleSettled.Says(
					verdict.Look,
					nil,
					"%s was taken before it had settled (it moved by %s mV).",
					p.Buffer.Name,
					quantity.Digits(p.Spread, 1),
				),
			)
		}
	}
	if cold, warm := c.temperatures(); warm-cold > t.Of(RuleTemperature) {
		add(RuleTemperature.Says(verdict.Look, nil, "The buffers were at %s to %s °C: let them come to one temperature, and take them again.",
			quantity.Digits(cold, 1), quantity.Digits(warm, 1)))
	}
	return append(append(stop, look...), fine...)
}

func (c Calibration) judgeSlope(t verdict.Thresholds) verdict.Verdict {
	if c.Assumed {
		return RuleOnePoint.Says(
			verdict.Look,
			nil,
			"One buffer: the offset is known, the slope is taken for 100 %%. For rough work near pH %s.",
			quantity.Digits(c.Low(), 1),
		)
	}
	percent := 100 * c.Slope.Value
	text := quantity.Digits(percent, 1) + " % of the theoretical slope"
	switch {
	case percent < t.Of(RuleSlopeUsable):
		return RuleSlopeUsable.Says(verdict.Stop, nil, "%s: do not use this probe. Clean or recondition it, then calibrate again.", text)
	case percent > t.Of(RuleSlopeMost):
		return RuleSlopeMost.Says(verdict.Stop, nil, "%s: no probe gives more than theory. Look at the buffers, then calibrate again.", text)
	case percent < t.Of(RuleSlopeLow):
		return RuleSlopeLow.Says(verdict.Look, nil, "%s: usable. Clean or recondition the probe and look again.", text)
	case percent > t.Of(RuleSlopeHigh):
		return RuleSlopeHigh.Says(verdict.Look, nil, "%s: usable. Take fresh buffer and look again.", text)
	}
	return RuleSlopeLow.Says(verdict.Fine, nil, "%s: good.", text)
}

func (c Calibration) judgeOffset(t verdict.Thresholds) verdict.Verdict {
	off := math.Abs(c.Offset.Value)
	text := quantity.Digits(c.Offset.Value, 1) + " mV at pH 7"
	switch {
	case off > t.Of(RuleOffsetUsable):
		return RuleOffsetUsable.Says(
			verdict.Stop,
			nil,
			"%s: do not use this probe. Renew its filling or its junction; and look whether the buffer is the one meant.",
			text,
		)
	case off > t.Of(RuleOffset):
		return RuleOffset.Says(verdict.Look, nil, "%s: usable. Soak or refill the probe and look again.", text)
	}
	return RuleOffset.Says(verdict.Fine, nil, "%s: good.", text)
}

func (c Calibration) judgeSpan(low, high float64, add func(verdict.Verdict)) {
	samples := fmt.Sprintf("The samples are expected from pH %s to %s", quantity.Digits(low, -1), quantity.Digits(high, -1))
	switch {
	case c.High() < low:
		add(RuleBracket.Says(verdict.Look, nil, "%s: all buffers lie below. Take one above %s too.", samples, quantity.Digits(high, -1)))
	case c.Low() > high:
		add(RuleBracket.Says(verdict.Look, nil, "%s: all buffers lie above. Take one below %s too.", samples, quantity.Digits(low, -1)))
	case c.Low() > low || c.High() < high:
		add(RuleBracket.Says(verdict.Look, nil, "%s, and the buffers from %s to %s: take one beyond each end of the samples.",
			samples, quantity.Digits(c.Low(), 2), quantity.Digits(c.High(), 2)))
	default:
		add(RuleBracket.Says(verdict.Fine, nil, "%s, inside the buffers.", samples))
	}
}

// worst is the point that lies farthest off the line, in pH.
func (c Calibration) worst() (name string, off float64) {
	for _, p := range c.Points {
		if math.Abs(p.ResidualPH) > off {
			name, off = p.Buffer.Name, math.Abs(p.ResidualPH)
		}
	}
	return name, off
}

func (c Calibration) temperatures() (cold, warm float64) {
	cold, warm = math.Inf(1), math.Inf(-1)
	for _, p := range c.Points {
		cold, warm = min(cold, p.Celsius), max(warm, p.Celsius)
	}
	return cold, warm
}

// mixedUp says which buffers were swapped, or which one was taken twice, by the potentials
// alone; empty when all is as it should be.
func (c Calibration) mixedUp() string {
	for i := 0; i+1 < len(c.Points); i++ {
		a, b := c.Points[i], c.Points[i+1]
		expected := Nernst(c.Celsius) * (b.PH - a.PH) // by which the potential falls
		if expected < 25 {                            // too near to tell
			continue
		}
		switch fell := a.MV - b.MV; {
		case fell < -expected/2:
			return fmt.Sprintf(
				"%s and %s are swapped: the potential rises from %s to %s mV where it should fall by about %s. Take both points again.",
				a.Buffer.Name,
				b.Buffer.Name,
				quantity.Digits(a.MV, 1),
				quantity.Digits(b.MV, 1),
				quantity.Digits(expected, 0),
			)
		case fell < expected/2:
			return fmt.Sprintf(
				"%s and %s read nearly the same (%s and %s mV, where %s lie between them): the probe stood in one buffer twice, or is broken. Look, and take both again.",
				a.Buffer.Name,
				b.Buffer.Name,
				quantity.Digits(a.MV, 1),
				quantity.Digits(b.MV, 1),
				quantity.Digits(expected, 0),
			)
		}
	}
	return ""
}
