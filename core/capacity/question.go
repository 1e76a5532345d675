package capacity

import (
	"fmt"

	"vialbench/core/droptip"
	"vialbench/core/equilibrium"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Question asks for the capacity that readings give.
type Question struct {
	// Volume in mL at the start; Covered is water added to cover the probe.
	Volume  float64 `json:"volume"`
	Covered float64 `json:"covered"`
	// Contents are those of the solution, empty of water.
	Contents []equilibrium.Content `json:"contents"`
	Celsius  float64               `json:"celsius"`
	// Acid reports whether acid is added; C is its strength in mol/L.
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
		v.Points = append(v.Points, Point{
			ID: fmt.Sprint(i), Added: added,
			PH: uncertain.New(r.PH, r.U, uncertain.Source{ID: fmt.Sprintf("reading %d", i), Label: "readings"}),
		})
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
