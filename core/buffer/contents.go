package buffer

import (
	"math"
	"slices"
	"strconv"

	"vialbench/core/calibration"
	"vialbench/core/equilibrium"
	"vialbench/core/uncertain"
)

// beaker is how much there is before the mark, in mL: water to 40 %, and what was added.
func (a *account) beaker(t *tube) float64 {
	v := beakerShare * a.Volume
	for k, i := range a.ingredients() {
		if i.Liquid() {
			v += t.taken[k].Value
		}
	}
	return math.Min(v+t.acid.Value+t.base.Value, a.Volume)
}

const beakerShare = 0.4

// pastMark is how far past the mark a flask is when it is kept all the same: a hundredth
// too much, or nothing, or two (common practice).
const pastMark = 0.01

// contents is the volume of a finished tube in mL.
func (a *account) contents(t *tube) uncertain.Number {
	if a.byVolume() {
		return sum(a.takenOr(t)).Plus(t.after)
	}
	flask, err := a.flask()
	if err != nil { // the recipe was checked
		return exact(a.Volume)
	}
	v := flask.Filled(t.filling)
	if t.mark == choicePast {
		v = v.Times(uncertain.WithLimits(1+pastMark, pastMark, uncertain.RectangularShape, uncertain.Source{
			ID: "past the mark " + t.filling, Label: "past the mark", Basis: "0 to 2 % more, rectangular",
		}))
	}
	return v.Plus(t.after)
}

// takenOr is what was taken of each ingredient; as planned, until it is.
func (a *account) takenOr(t *tube) []uncertain.Number {
	list := slices.Clone(t.taken)
	for k, i := range a.ingredients() {
		if !(list[k].Value > 0) {
			list[k] = a.plannedTake(i, i.For(t.plan.Takes[k].mol), "planned "+strconv.Itoa(k))
		}
	}
	return list
}

// mixture is what a tube holds in a volume at a temperature.
func (a *account) mixture(t *tube, volume uncertain.Number, celsius float64) equilibrium.Mixture {
	var n [3]uncertain.Number
	for k, taken := range a.takenOr(t) {
		n[k] = a.ingredients()[k].Amount(taken)
	}
	m := a.Mixture(n[0], n[1], n[2], volume, temperature(celsius))
	add := func(ion string, charge int, mL uncertain.Number, acid bool) {
		if mL.Value > 0 {
			m.AddIon(ion, charge, mL.Times(a.strength(acid)).Over(volume))
		}
	}
	add("Cl-", -1, t.acid, true)
	add("Na+", 1, t.base, false)
	return m
}

// made is what a tube is made of, as it is believed.
func (a *account) made(t *tube, volume, celsius float64) Made {
	m := Made{
		Volume: volume, Celsius: celsius,
		StrongAcid: t.acid.Value * a.strength(true).Value / 1000, StrongBase: t.base.Value * a.strength(false).Value / 1000,
	}
	to := []*float64{&m.Acid, &m.Base, &m.Salt}
	for k, i := range a.ingredients() {
		*to[k] = i.Amount(t.taken[k]).Value
	}
	return m
}

// goal is the pH that a finished tube should have at a temperature.
func (a *account) goal(t *tube, celsius float64) float64 {
	return a.goalAt(t.plan.mix, t.target, celsius)
}

// away is how far the reading of a tube lies from what it should be.
func (a *account) away(t *tube, got calibration.Taken) float64 {
	return got.PH.Value - a.goalNow(t, got)
}

// goalNow is the pH to come to now: in the beaker, or in the finished tube.
func (a *account) goalNow(t *tube, got calibration.Taken) float64 {
	goal := a.goal(t, got.Celsius)
	if a.filledUp(t) || !a.single() {
		return goal
	}
	return a.beakerGoal(t, got.Celsius)
}

// beakerGoal is the pH in the beaker that gives the goal once the flask is filled.
func (a *account) beakerGoal(t *tube, celsius float64) float64 {
	goal, volume := a.goal(t, celsius), a.beaker(t)
	advice, err := a.Advise(a.mixture(t, exact(volume), celsius), volume, goal, goal)
	if err != nil {
		return goal
	}
	return advice.Goal
}
