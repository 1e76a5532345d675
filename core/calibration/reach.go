package calibration

import (
	"fmt"

	"vialbench/core/electrode"
	"vialbench/core/quantity"
)

// Reach is how well a pH is known under a calibration that is in use: over the scale, and in words.
type Reach struct {
	Known []Known `json:"known"`
	Says  string  `json:"says"`
}

// Reach of a calibration, read as warm as its buffers were. Beyond them the line is only drawn on: what
// that adds is in the uncertainty of its slope.
func (c Result) Reach() Reach {
	celsius := 0.0
	for _, p := range c.Calibration.Points {
		celsius += p.Celsius / float64(len(c.Calibration.Points))
	}
	reach := Reach{Known: scale(c.Calibration, celsius)}
	low, high := c.Calibration.Low(), c.Calibration.High()
	best, worst := span(c.Calibration, low, high, celsius)
	where := fmt.Sprintf("Between its buffers, pH %s to %s,", quantity.Digits(low, 2), quantity.Digits(high, 2))
	if low == high {
		where = fmt.Sprintf("At its buffer, pH %s,", quantity.Digits(low, 2))
	}
	reach.Says = fmt.Sprintf("%s %s reads a pH to %s.", where, c.Calibration.Meter.Name, sayLimits(best, worst))
	return reach
}

// scale is how well a pH would be known all over the scale.
func scale(c electrode.Calibration, celsius float64) []Known {
	list := make([]Known, knownPoints)
	for i := range list {
		pH := 14 * float64(i) / (knownPoints - 1)
		list[i] = Known{pH, limits(c, pH, celsius)}
	}
	return list
}

// sayLimits writes the narrowest and the widest of limits.
func sayLimits(best, worst float64) string {
	least, most := quantity.Digits(best, 2), quantity.Digits(worst, 2)
	if least == most {
		return "± " + most
	}
	return fmt.Sprintf("± %s at best, ± %s at worst", least, most)
}
