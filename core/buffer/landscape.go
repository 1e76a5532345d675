package buffer

import (
	"math"
	"slices"

	"vialbench/core/equilibrium"
)

// landscapePoints is how many values of pH a landscape has.
const landscapePoints = 141

// leastCharge is the smallest part of the largest charge that is told.
const leastCharge = 1e-4

// balance lists the charges of a composition that can be seen beside the largest.
func (r Request) balance(c Composition) []Charge {
	answer, err := r.planned(c, r.Celsius).Answer(r.Thresholds)
	if err != nil {
		return nil
	}
	largest := 0.0
	for _, term := range answer.Balance {
		largest = math.Max(largest, math.Abs(term.Value))
	}
	var list []Charge
	for _, term := range answer.Balance {
		if math.Abs(term.Value) >= leastCharge*largest {
			list = append(list, Charge{pieces(term.Name), term.Value})
		}
	}
	return list
}

// landscape is the capacity of what is in a composition, strong acid and base bringing it to
// every pH, and the forms of the system.
func (r Request) landscape(c Composition) Landscape {
	var l Landscape
	low, high := 14.0, 0.0
	for _, c := range r.System.Constants {
		pKa := c.At(r.Celsius)
		l.PKa = append(l.PKa, pKa)
		low, high = math.Min(low, pKa-3), math.Max(high, pKa+3)
	}
	low, high = math.Max(0, math.Min(low, r.Target-2)), math.Min(14, math.Max(high, r.Target+2))
	_, pKa := r.System.Step(r.Target, r.Celsius)
	span := r.Thresholds.Of(RuleRange)
	l.Low, l.High = pKa-span, pKa+span
	m := r.planned(c, r.Celsius)
	m.Strong = nil
	s, err := m.Solver()
	if err != nil {
		return l
	}
	place := slices.IndexFunc(m.Amounts, func(a equilibrium.Amount) bool { return a.System.Key == r.System.Key })
	for j := range r.System.Protons() + 1 {
		l.Forms = append(l.Forms, Form{Formula: pieces(r.System.Form(j))})
	}
	for i := range landscapePoints {
		pH := low + (high-low)*float64(i)/(landscapePoints-1)
		s.At(pH)
		beta := s.Capacity(nil)
		l.PH, l.Beta, l.Water = append(l.PH, pH), append(l.Beta, beta.Total), append(l.Water, beta.Water)
		for j := range l.Forms {
			l.Forms[j].Fraction = append(l.Forms[j].Fraction, s.Fraction(place, j))
		}
	}
	return l
}
