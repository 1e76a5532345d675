package capacity

import (
	"fmt"
	"math"

	"vialbench/core/droptip"
	"vialbench/core/equilibrium"
	"vialbench/core/line"
	"vialbench/core/quantity"
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
	// Acid tells that acid is added, of strength C in mol/L, else base. With a C of zero it is
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
	// Wrong tells that the pH went the other way, by more than rule B-15 lets pass; Small that
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
		ID: "strength of the titrant", Label: "strength found", Basis: "from where it brought the buffer, at least 2 %"}
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

// Question asks for the capacity that readings give.
type Question struct {
	// Volume in mL at the start; Covered is water added to cover the probe.
	Volume  float64 `json:"volume"`
	Covered float64 `json:"covered"`
	// Contents are those of the solution, empty of water.
	Contents []equilibrium.Content `json:"contents"`
	Celsius  float64               `json:"celsius"`
	// Acid tells that acid is added; C is its strength in mol/L.
	Acid bool    `json:"acid"`
	C    float64 `json:"c"`
	// Drop is the volume of one in mL, where additions are counted in drops.
	Drop     float64   `json:"drop"`
	Readings []Reading `json:"readings"`
	// Thresholds of a lab; what is missing has its default.
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// Reading is a pH after so much was added in all, in mL or in drops; U is its standard
// uncertainty.
type Reading struct {
	Added float64 `json:"added"`
	Drops float64 `json:"drops"`
	PH    float64 `json:"pH"`
	U     float64 `json:"u"`
}

// StepAnswer is what one portion did.
type StepAnswer struct {
	PH     float64          `json:"pH"`
	Beta   uncertain.Number `json:"beta"` // mol/L per pH
	Text   string           `json:"text"`
	Theory float64          `json:"theory"`
	Wrong  bool             `json:"wrong"`
	Small  bool             `json:"small"`
}

// Answer is the capacity that readings give.
type Answer struct {
	Steps []StepAnswer `json:"steps"`
	// ToOne in mol/L moves the pH by one; nil while it has not moved so far.
	ToOne    *uncertain.Number   `json:"toOne,omitempty"`
	Theory   []equilibrium.Added `json:"theory"`
	Fit      *Fitted             `json:"fit,omitempty"`
	Verdicts []verdict.Verdict   `json:"verdicts"`
}

// Fitted is a fit as it is answered.
type Fitted struct {
	Strength uncertain.Number `json:"strength"`
	Offset   uncertain.Number `json:"offset"`
	SD       float64          `json:"sd"`
}

// maxReadings is the longest list of readings.
const maxReadings = 200

// Solve answers it. An error is a verdict.Problems.
func Solve(q Question) (Answer, error) {
	m, err := equilibrium.Question{Contents: q.Contents, Celsius: q.Celsius}.Mixture()
	if err != nil {
		return Answer{}, err
	}
	p := q.check()
	if len(p) > 0 {
		return Answer{}, p
	}
	// Water that covers the probe thins what is in the beaker.
	full := q.Volume + q.Covered
	v := Vessel{Volume: uncertain.Exact(full), Mixture: m.Scaled(uncertain.Exact(q.Volume / full)), Acid: q.Acid, C: uncertain.Exact(q.C)}
	for i, r := range q.Readings {
		added := uncertain.Exact(r.Added)
		if r.Drops > 0 {
			added = droptip.Uncounted("a dropper", q.Drop).Drops(r.Drops, fmt.Sprint(i))
		}
		v.Points = append(v.Points, Point{ID: fmt.Sprint(i), Added: added,
			PH: uncertain.New(r.PH, r.U, uncertain.Source{ID: fmt.Sprintf("reading %d", i), Label: "readings"})})
	}
	a := Answer{Theory: v.Theory(v.volumes()), Steps: []StepAnswer{}, Verdicts: []verdict.Verdict{}}
	for _, s := range v.Steps(q.Thresholds) {
		text, u := quantity.Round(s.Beta.Value, s.Beta.Expanded())
		a.Steps = append(a.Steps, StepAnswer{s.PH, s.Beta, text + " ± " + u, s.Theory, s.Wrong, s.Small})
		a.Verdicts = append(a.Verdicts, judgeStep(s, v.Acid)...)
	}
	if c, ok := v.ToOne(); ok {
		a.ToOne = &c
	}
	if f, ok := FitBuffer([]Vessel{v}); ok && len(q.Contents) > 0 {
		a.Fit = &Fitted{f.Strength, f.Offset, f.SD}
	}
	return a, nil
}

func (q Question) check() verdict.Problems {
	var p verdict.Problems
	if !(q.Volume > 0 && q.Volume <= 1e5) {
		p.Add("/volume", "the volume in the beaker is above zero, in mL")
	}
	if !(q.Covered >= 0 && q.Covered <= 1e5) {
		p.Add("/covered", "water that covers the probe is zero or more, in mL")
	}
	if !(q.C > 0 && q.C <= 20) {
		p.Add("/c", "the strength of what is added is above zero, in mol/L")
	}
	if n := len(q.Readings); n == 0 || n > maxReadings {
		p.Add("/readings", "give 1 to %d readings", maxReadings)
		return p
	}
	if first := q.Readings[0]; first.Added != 0 || first.Drops != 0 {
		p.Add("/readings/0/added", "the first reading is the one before anything is added")
	}
	q.checkReadings(&p)
	return p
}

// checkReadings checks each reading, and that additions go up.
func (q Question) checkReadings(p *verdict.Problems) {
	last := -1.0
	for i, r := range q.Readings {
		at := fmt.Sprintf("/readings/%d", i)
		if r.Drops != 0 && !(q.Drop > 0) {
			p.Add("/drop", "counted drops need the volume of one: count 20 of them into a cylinder")
			return
		}
		total := r.Added + r.Drops*q.Drop
		if !(r.Added >= 0 && r.Drops >= 0 && total > last) {
			p.Add(
				at+"/added",
				"additions are counted from the start, and go up: %s mL does not follow %s mL",
				quantity.Digits(total, -1),
				quantity.Digits(last, -1),
			)
		}
		last = total
		if !(r.PH >= -2 && r.PH <= 16) {
			p.Add(at+"/pH", "a meter shows pH −2 to 16")
		}
		if !(r.U >= 0 && r.U <= 2) {
			p.Add(at+"/u", "the uncertainty of a reading is from 0 to 2")
		}
	}
}
