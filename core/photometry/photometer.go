package photometry

import (
	"fmt"
	"math"
	"slices"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Photometer is a photometer of the lab, as its data sheet describes it.
type Photometer struct {
	Name string `json:"name"`
	// Low and High are the ends of what its lamp and detector reach, nm.
	Low  float64 `json:"low"`
	High float64 `json:"high"`
	// Bandwidth of its light, nm; StrayLight is the part of the light that goes past the cell, %.
	Bandwidth  float64 `json:"bandwidth"`
	StrayLight float64 `json:"strayLight"`
	// Resolution is its last digit, AU.
	Resolution float64 `json:"resolution"`
}

// UsualPhotometer is one of a teaching laboratory (common practice).
func UsualPhotometer() Photometer {
	return Photometer{Low: 320, High: 1000, Bandwidth: 5, StrayLight: 0.05, Resolution: 0.001}
}

const maxPhotometerName = 40

// Check reports whether a photometer can be used. An error is a verdict.Problems.
func (m Photometer) Check() error {
	var p verdict.Problems
	if n := len([]rune(m.Name)); n == 0 || n > maxPhotometerName {
		p.Add("/name", "a photometer has a name of at most %d letters", maxPhotometerName)
	}
	if !(m.Low >= lowest && m.High <= highest && m.Low < m.High) {
		p.Add("/low", "it reaches from a lower to a higher wavelength, within %g to %g nm", lowest, highest)
	}
	if !(m.Bandwidth > 0 && m.Bandwidth <= 50) {
		p.Add("/bandwidth", "the bandwidth is above 0 and at most 50 nm")
	}
	if !(m.StrayLight >= 0 && m.StrayLight <= 5) {
		p.Add("/strayLight", "stray light is from 0 to 5 %% of the light")
	}
	if !(m.Resolution >= 0.0001 && m.Resolution <= 0.01) {
		p.Add("/resolution", "its last digit is from 0.0001 to 0.01 AU")
	}
	return p.OrNil()
}

// The wavelengths that any photometer here reaches, nm.
const (
	lowest  = 190.0
	highest = 1100.0
)

// CheckSetting refuses a wavelength in nm that the photometer does not reach, at a field.
func (m *Photometer) CheckSetting(nm float64, field string, p *verdict.Problems) {
	if m != nil && !(nm >= m.Low && nm <= m.High) {
		p.Add(field, "%s reaches %g to %g nm", m.Name, m.Low, m.High)
	}
}

// Instruments names the photometer for [run.Uses]; none of readings whose instrument is not on record.
func (m *Photometer) Instruments() []string {
	if m == nil {
		return nil
	}
	return []string{m.Name}
}

// Named is its name; empty of none.
func (m *Photometer) Named() string {
	if m == nil {
		return ""
	}
	return m.Name
}

// settingError is how far the wavelength shown may be from the one that was asked for, nm: wheels and displays show whole ones.
const settingError = 0.6

// Readings are the dimensions of what a photometer shows, with the wavelength beside it.
func Readings() []quantity.Dimension {
	return []quantity.Dimension{quantity.Absorbance, quantity.Transmittance, quantity.Wavelength}
}

// CheckSet refuses a reading that the photometer took at another wavelength, at /beside. What was typed has nothing beside it.
func CheckSet(beside []quantity.Quantity, nm float64, p *verdict.Problems) {
	for i, q := range beside {
		switch {
		case i > 0 || q.Unit.Dimension != quantity.Wavelength:
			p.Add(fmt.Sprintf("/beside/%d", i), "beside an absorbance stands its wavelength, like 880 nm")
		case !(math.Abs(q.In("nm")-nm) <= settingError):
			p.Add("/beside/0", "the photometer stood at %s, and this is read at %g nm: set %g nm, set the blank, and read again", q, nm, nm)
		}
	}
}

// Settled judges the readings of the last moments, in AU, oldest first: they stand when the light that came through varied by no
// more than rule AB-19 allows, and the photometer itself says so. spread is the highest less the lowest, AU. A detector sees light, so
// that is what is compared: the same unrest of the light moves a strong solution more.
func (m Photometer) Settled(readings []float64, stable bool, t verdict.Thresholds) (spread float64, still bool) {
	if len(readings) == 0 {
		return 0, false
	}
	low, high := slices.Min(readings), slices.Max(readings)
	digits := Transmittance(low) - Transmittance(low+m.Resolution) // what one last digit is
	return high - low, stable && Transmittance(low)-Transmittance(high) <= max(t.Of(RuleStands), digits)*(1+1e-9)
}

// What may be decided about a reading that still moves.
const (
	choiceWait       = "wait-settled"
	choiceTakeMoving = "take-moving"
)

// Wandering is the verdict on a reading that is to be taken before it stands; spread in AU is how far it moved just now.
func (m Photometer) Wandering(spread float64) verdict.Verdict {
	return RuleStands.Says(
		verdict.Look,
		[]verdict.Choice{{ID: choiceWait, Label: "Wait until it stands"}, {ID: choiceTakeMoving, Label: "Take it as it is"}},
		"The reading still moves, by %s AU just now: a lamp that warms up, a bubble that rises, or something that settles in the cell.",
		quantity.Digits(max(spread, m.Resolution), 3),
	)
}

// Without is an absorbance as it would be shown without stray light; infinite where stray light is all that was seen. With the part s
// of the light going past the cell,
//
//	A(shown) = −lg((T + s)/(1 + s)),   T = 10^(−A)
//
// (common practice; an instrument with 0.1 % shows 1.959 for 2).
func (m Photometer) Without(shown float64) float64 {
	s := m.StrayLight / 100
	through := math.Pow(10, -shown)*(1+s) - s
	if through <= 0 {
		return math.Inf(1)
	}
	return -math.Log10(through)
}

// Strayed says that a reading in AU loses more to stray light than rule AB-20 allows; nothing of one that does not.
func (m *Photometer) Strayed(shown float64, t verdict.Thresholds) []verdict.Verdict {
	if m == nil || !(shown > 0) {
		return nil
	}
	real, most := m.Without(shown), t.Of(RuleStray)
	switch lost := 100 * (1 - shown/real); {
	case !(lost > most):
		return nil
	case math.IsInf(real, 1):
		return []verdict.Verdict{RuleStray.Finds(verdict.Stop, nil, fmt.Sprintf(
			"%s AU is all stray light of %s: dilute it, and read it again.", quantity.Digits(shown, 3), m.Name))}
	default:
		return []verdict.Verdict{RuleStray.Says(verdict.Look, nil,
			"Stray light of %s takes %s %% off %s AU: dilute it, or use a shorter path.", m.Name, quantity.Trim(quantity.Significant(lost, 2)),
			quantity.Digits(shown, 3))}
	}
}

// Doubts are what is to be said of a reading as it was shown, AU: so long after the blank was set, with a remark of who read it.
func (m *Photometer) Doubts(shown float64, age time.Duration, remark string, t verdict.Thresholds) (list []verdict.Verdict) {
	if minutes := age.Minutes(); minutes > t.Of(RuleBlank) {
		list = append(list, RuleBlank.Says(verdict.Look, nil,
			"Read %s minutes after the blank was set: set it again, and read this again.", quantity.Digits(minutes, 0)))
	}
	if remark != "" {
		list = append(list, RuleRemarked.Says(verdict.Look, nil, "Read with a remark: %s. Put it right, and read it once more.", remark))
	}
	return append(list, m.Strayed(shown, t)...)
}

// Aged says when a line is too old for a reading.
func Aged(line, read time.Time, t verdict.Thresholds) []verdict.Verdict {
	hours, most := read.Sub(line).Hours(), t.Of(RuleOld)
	if hours <= most {
		return nil
	}
	return []verdict.Verdict{RuleOld.Says(verdict.Look, nil,
		"The line is %s hours old, more than %s: read one of its standards again beside this.", quantity.Digits(hours, 0), quantity.Digits(most, -1))}
}
