package capacity

import (
	"fmt"
	"math"

	"vialbench/core/equilibrium"
	"vialbench/core/line"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Point is a reading after so much was added.
type Point struct {
	ID string
	// Added is what was added in all, in mL.
	Added uncertain.Number
	PH    uncertain.Number
}

// Vessel is one beaker of a test.
type Vessel struct {
	// Volume in it at the start, in mL, water that covers the probe included.
	Volume uncertain.Number
	// Mixture is what is dissolved in it then; empty of water.
	Mixture equilibrium.Mixture
	// Acid reports whether acid is added, of strength C in mol/L, else base. With a C of zero it is
	// water, or nothing.
	Acid bool
	C    uncertain.Number
	// Compound is the weak acid or base that is added; nil is a strong one, of one proton.
	Compound *equilibrium.Compound
	// Points begin with the reading before anything was added.
	Points []Point
}

// Step is what one portion did.
type Step struct {
	// PH half way, and β in mol/L per pH.
	PH   float64
	Beta uncertain.Number
	// Theory is β by theory there.
	Theory float64
	// Wrong reports whether the pH went the other way, by more than rule B-15 lets pass; Small that
	// it moved by less than rule B-16 asks for, beside its uncertainty.
	Wrong, Small bool
}

// titrant is what is added, as a mixture.
func (v Vessel) titrant() equilibrium.Mixture {
	m := equilibrium.Mixture{Celsius: v.Mixture.Celsius}
	switch {
	case v.Compound != nil:
		m.Add(*v.Compound, v.C)
	case v.Acid:
		m.AddIon("Cl-", -1, v.C)
	default:
		m.AddIon("Na+", 1, v.C)
	}
	return m
}

// gives is how many protons each molecule of what is added gives off at a pH, or takes up
// there when it is a base: 1 of a strong one, less of a weak one whose pKa is near. It is
// negative of an acid where a base is asked for.
func (v Vessel) gives(pH float64) float64 {
	if v.Compound == nil || !(v.C.Value > 0) {
		return 1
	}
	s, err := v.titrant().Solver()
	if err != nil {
		return 1
	}
	p, base := s.At(pH)
	// What base it takes to bring the titrant there, less what its water takes.
	taken := (base + p.Proton - p.Hydroxide) / v.C.Value
	if v.Acid {
		return taken
	}
	return -taken
}

// volumes are those added at each point.
func (v Vessel) volumes() []float64 {
	list := make([]float64, len(v.Points))
	for i, p := range v.Points {
		list[i] = p.Added.Value
	}
	return list
}

// Theory is where each of some additions, in mL in all, would bring the beaker.
func (v Vessel) Theory(volumes []float64) []equilibrium.Added {
	return v.Mixture.Titrated(v.Volume.Value, v.titrant(), volumes)
}

// moved is by how much a portion in mL moves the pH from where the beaker stands at first.
func (v Vessel) moved(mL float64) float64 {
	at := v.Theory([]float64{0, mL})
	return math.Abs(at[1].PH - at[0].PH)
}

// portion in mL moves the pH by so much at first; 0 where no portion of at most so many mL does.
func (v Vessel) portion(by, most float64) float64 {
	if v.moved(most) < by {
		return 0
	}
	low, high := 0.0, most
	for range 40 { // more of it moves the pH further
		middle := (low + high) / 2
		if v.moved(middle) < by {
			low = middle
		} else {
			high = middle
		}
	}
	return high
}

// Steps are those between the readings, with the capacity that each gives:
//
//	β = f·c·Δv / (V̄·|ΔpH|)
//
// f is how many protons each molecule gives off or takes up there: 1 of strong acids and bases.
func (v Vessel) Steps(t verdict.Thresholds) []Step {
	var list []Step
	theory := v.Theory(v.volumes())
	for i := 1; i < len(v.Points); i++ {
		a, b := v.Points[i-1], v.Points[i]
		moved := b.PH.Minus(a.PH)
		if v.Acid {
			moved = moved.Scale(-1)
		}
		s := Step{PH: (a.PH.Value + b.PH.Value) / 2, Wrong: moved.Value < -t.Of(RuleWay), Small: moved.Value <= t.Of(RuleMoves)*moved.U()}
		if moved.Value > 0 {
			middle := v.Volume.Plus(a.Added.Plus(b.Added).Scale(0.5))
			s.Beta = v.C.Scale(v.gives(s.PH)).Times(b.Added.Minus(a.Added)).Over(middle).Over(moved)
		}
		if expected := math.Abs(theory[i].PH - theory[i-1].PH); expected > 0 {
			s.Theory = v.gives(s.PH) * v.C.Value * (b.Added.Value - a.Added.Value) / (v.Volume.Value + (a.Added.Value+b.Added.Value)/2) / expected
		}
		list = append(list, s)
	}
	return list
}

// ToOne is the amount of acid or base in mol for each litre at the start that moves the pH by one; ok is
// false while it has not moved so far.
func (v Vessel) ToOne() (c uncertain.Number, ok bool) {
	for i := 1; i < len(v.Points); i++ {
		a, b, start := v.Points[i-1], v.Points[i], v.Points[0].PH
		before, after := a.PH.Minus(start), b.PH.Minus(start)
		if v.Acid {
			before, after = before.Scale(-1), after.Scale(-1)
		}
		if after.Value < 1 || after.Value <= before.Value {
			continue
		}
		part := uncertain.Exact(1).Minus(before).Over(after.Minus(before))
		added := a.Added.Plus(b.Added.Minus(a.Added).Times(part))
		return v.C.Scale(v.gives(v.halfWay())).Times(added).Over(v.Volume), true
	}
	return c, false
}

// halfWay is the pH half of one away from the start, where acid or base takes it.
func (v Vessel) halfWay() float64 {
	if v.Acid {
		return v.Points[0].PH.Value - 0.5
	}
	return v.Points[0].PH.Value + 0.5
}

// Fit is what the full balance finds in the readings of one buffer.
type Fit struct {
	// Strength is the concentration found beside that of the label, as a fraction; Offset is
	// how much higher than theory the pH reads.
	Strength, Offset uncertain.Number
	// SD is that of the residuals.
	SD float64
}

// least is how many readings a fit takes, with two parameters and something to judge it by.
const least = 4

// FitBuffer fits the strength of a buffer and the offset of the meter to all readings of its
// beakers. ok is false when there are fewer than four, or when they do not tell.
func FitBuffer(vessels []Vessel) (f Fit, ok bool) {
	n := 0
	for _, v := range vessels {
		n += len(v.Points)
	}
	if n < least {
		return f, false
	}
	// For a given strength the offset is the mean of what is left: one parameter is sought.
	residuals := func(strength float64) (list []float64) {
		for _, v := range vessels {
			v.Mixture = v.Mixture.Scaled(uncertain.Exact(strength))
			for i, x := range v.Theory(v.volumes()) {
				list = append(list, v.Points[i].PH.Value-x.PH)
			}
		}
		return list
	}
	strength := 1.0
	const h = 1e-4
	for range 40 {
		r, up := residuals(strength), residuals(strength*(1+h))
		slopes := make([]float64, n)
		for i := range slopes {
			slopes[i] = (r[i] - up[i]) / (strength * h) // d pH by the strength
		}
		l, err := line.Fit(slopes, r) // r = d + slope·(change of the strength)
		if err != nil {
			return f, false
		}
		step := math.Max(-strength/2, math.Min(strength, l.Slope))
		strength += step
		if math.Abs(step) < 1e-9*strength {
			source := uncertain.Source{
				ID:    "residuals",
				Label: "scatter of the readings",
				Basis: fmt.Sprintf("%d readings, residual s %.3f pH", n, l.SD),
				DoF:   float64(n - 2),
			}
			return Fit{
				Strength: uncertain.New(strength, l.SlopeSE(), source),
				Offset:   uncertain.New(l.Intercept, l.InterceptSE(), source),
				SD:       l.SD,
			}, true
		}
	}
	return f, false
}

// FitTitrant finds how strong the acid or base is that was added, in mol/L, from where it
// brought the buffer. ok is false when fewer than two additions tell.
func FitTitrant(v Vessel) (c uncertain.Number, ok bool) {
	if len(v.Points) < 3 {
		return c, false
	}
	x, y, err := v.asked()
	if err != nil {
		return c, false
	}
	l, err := line.Fit(x, y)
	if err != nil || !(l.Slope > 0) {
		return c, false
	}
	u, source := leastStrength*l.Slope, uncertain.Source{
		ID: "strength of the titrant", Label: "strength found", Basis: "from where it brought the buffer, at least 2 %",
	}
	if se := l.SlopeSE(); se > u {
		u, source.DoF = se, float64(l.N-2)
	}
	return uncertain.New(l.Slope, u, source), true
}

// leastStrength is how well the balance of a buffer tells a strength at best, as a part of it.
const leastStrength = 0.02

// asked is how much strong acid or base, in mmol, the balance of the buffer asks for at each
// reading, after so many mL: the slope of the one over the other is the strength. What the
// meter was off by at the start it is taken to be off by all along.
func (v Vessel) asked() (mL, mmol []float64, err error) {
	s, err := v.Mixture.Solver()
	if err != nil {
		return nil, nil, err
	}
	offset := v.Points[0].PH.Value - s.Solve().PH
	for _, p := range v.Points {
		full := v.Volume.Value + p.Added.Value
		diluted, err := v.Mixture.Scaled(uncertain.Exact(v.Volume.Value / full)).Solver()
		if err != nil {
			return nil, nil, err
		}
		_, base := diluted.At(p.PH.Value - offset)
		mL, mmol = append(mL, p.Added.Value), append(mmol, math.Abs(base)*full)
	}
	return mL, mmol, nil
}
