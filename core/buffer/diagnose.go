package buffer

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/equilibrium"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Made is what a buffer was made of, as it is believed: amounts in mol, a volume in mL.
type Made struct {
	Acid       float64 `json:"acid"`
	Base       float64 `json:"base"`
	Salt       float64 `json:"salt"`
	StrongAcid float64 `json:"strongAcid"` // added to bring it to its pH
	StrongBase float64 `json:"strongBase"`
	Volume     float64 `json:"volume"`
	Celsius    float64 `json:"celsius"`
	// Carbonic is carbon dioxide that was taken up, in mol.
	Carbonic float64 `json:"carbonic"`
}

// Cause is a slip, or two together, that explains a pH.
type Cause struct {
	Slips    []string `json:"slips"`
	Sentence string   `json:"sentence"`
	// PH is what it would give, Misfit how far the reading lies from that, in standard
	// uncertainties.
	PH     float64 `json:"pH"`
	Misfit float64 `json:"misfit"`
	// Remedy says what can still be done.
	Remedy string `json:"remedy"`
	score  float64
}

// Diagnosis says why a pH came out where it did.
type Diagnosis struct {
	// Predicted is the pH of what was made, with its standard uncertainty together with that of
	// the reading; Difference is how far the reading lies from it.
	Predicted  float64 `json:"predicted"`
	U          float64 `json:"u"`
	Difference float64 `json:"difference"`
	// Explained reports whether the reading is within what balance, glass, constants and meter explain.
	Explained bool    `json:"explained"`
	Causes    []Cause `json:"causes"`
}

// mixture is what was made, with exact amounts.
func (r Request) mixture(m Made) equilibrium.Mixture {
	x := r.Mixture(exact(m.Acid), exact(m.Base), exact(m.Salt), exact(m.Volume), exact(m.Celsius))
	perLitre := 1000 / m.Volume
	if m.StrongAcid > 0 {
		x.AddIon("Cl-", -1, exact(m.StrongAcid*perLitre))
	}
	if m.StrongBase > 0 {
		x.AddIon("Na+", 1, exact(m.StrongBase*perLitre))
	}
	if carbonic, ok := equilibrium.Find("carbonic"); ok && m.Carbonic > 0 {
		x.AddSystem(carbonic, exact(m.Carbonic*perLitre))
	}
	return x
}

func exact(x float64) uncertain.Number { return uncertain.Exact(x) }

// mostCauses is how many causes are named.
const mostCauses = 5

// pairWeight is how common two slips at once are beside one (common practice).
const pairWeight = 0.02

// Seen is what a meter said of a buffer.
type Seen struct {
	// Predicted is the pH of what was made, Measured the one that was read.
	Predicted, Measured uncertain.Number
	// Goal is the pH to come to in what there is, at the temperature of the reading.
	Goal float64
	// DoubtfulMeter reports whether the meter may be off.
	DoubtfulMeter bool
}

// Diagnose simulates every slip, singly and in pairs, and ranks those that explain the pH
// that was read. An error is a verdict.Problems.
func (r Request) Diagnose(made Made, seen Seen) (Diagnosis, error) {
	predicted, measured := seen.Predicted, seen.Measured
	var p verdict.Problems
	if !(made.Volume > 0) {
		p.Add("/made/volume", "the volume is above zero, in mL")
	}
	if !(measured.Value >= -2 && measured.Value <= 16) {
		p.Add("/measured", "a meter shows pH −2 to 16")
	}
	if len(p) > 0 {
		return Diagnosis{}, p
	}
	u := math.Hypot(predicted.U(), measured.U())
	limit := r.Thresholds.Of(RuleMiss)
	d := Diagnosis{Predicted: predicted.Value, U: u, Difference: measured.Value - predicted.Value, Causes: []Cause{}}
	if d.Explained = math.Abs(d.Difference) <= limit*u; d.Explained {
		return d, nil
	}
	list := r.slips(made.Celsius, seen.DoubtfulMeter)
	try := func(weight float64, slips ...slip) {
		m, off, heavy, remedy := made, 0.0, false, ""
		c := Cause{}
		var words []string
		for _, s := range slips {
			m, off, heavy, remedy = s.made(m), math.Hypot(off, s.offMeter), heavy || s.heavy, cmp.Or(remedy, s.remedy)
			weight *= s.weight
			c.Slips, words = append(c.Slips, s.id), append(words, s.sentence)
		}
		if m == made && off == 0 || !within(m) {
			return
		}
		solver, err := r.mixture(m).Solver()
		if err != nil {
			return
		}
		c.PH = solver.Solve().PH
		c.Misfit = math.Abs(measured.Value-c.PH) / math.Hypot(u, off)
		if c.Misfit > limit {
			return
		}
		c.score = weight * math.Exp(-c.Misfit*c.Misfit/2) * u / math.Hypot(u, off)
		c.Sentence = strings.Join(words, " And: ")
		if c.Remedy = remedy; remedy == "" {
			c.Remedy = r.remedy(m, seen.Goal, heavy)
		}
		d.Causes = append(d.Causes, c)
	}
	for i, s := range list {
		try(1, s)
		for _, other := range list[i+1:] {
			if other.about != s.about {
				try(pairWeight, s, other)
			}
		}
	}
	slices.SortStableFunc(d.Causes, func(a, b Cause) int { return cmp.Compare(b.score, a.score) })
	d.Causes = d.Causes[:min(len(d.Causes), mostCauses)]
	return d, nil
}

// within reports whether what was made can be dissolved in water at all, and read.
func within(m Made) bool {
	return m.Acid+m.Base >= 0 && 1000*(m.Acid+m.Base)/m.Volume < 15 &&
		m.Celsius >= equilibrium.MinTemperature && m.Celsius <= equilibrium.MaxTemperature
}

// mostExtra is how much more than the flask a remedy may add, as a fraction: what that
// does to the concentration is less than anybody asks of a buffer.
const mostExtra = 0.02

// remedy says what brings what is in the flask to a pH, if anything does.
func (r Request) remedy(m Made, goal float64, heavy bool) string {
	if heavy {
		return "Begin again: its strength is not what the label would say."
	}
	s, err := r.mixture(m).Solver()
	if err != nil {
		return "Begin again."
	}
	_, has := s.At(s.Solve().PH)
	_, wanted := s.At(goal)
	mmol := (wanted - has) * m.Volume
	add := math.Abs(mmol) / r.strength(mmol < 0).Value
	if room := r.Volume*r.Thresholds.Of(RuleRoom)/100 - m.Volume; add > math.Max(room, mostExtra*r.Volume) {
		return fmt.Sprintf("Begin again: it would take %s of %s.", mL(add), r.with(mmol < 0))
	}
	return fmt.Sprintf("Add %s of %s, in two portions.", mL(add), r.with(mmol < 0))
}

// MissQuestion asks why a buffer came out where it did.
type MissQuestion struct {
	// Buffer is what was wanted, with its system and the way it was made.
	Buffer Question `json:"buffer"`
	// Made is what was taken, in mol and mL; nil takes the recipe as it stands.
	Made *Made `json:"made"`
	// Measured is the pH that was read, with its standard uncertainty; a U of 0 takes 0.02.
	Measured float64 `json:"measured"`
	U        float64 `json:"u"`
	// DoubtfulMeter reports whether the meter may be off.
	DoubtfulMeter bool `json:"doubtfulMeter"`
}

// usualReading is the standard uncertainty of a pH read with a meter that was calibrated
// today (common practice).
const usualReading = 0.02

// Miss answers it. An error is a verdict.Problems.
func Miss(ctx context.Context, q MissQuestion) (Diagnosis, error) {
	a, err := Solve(ctx, q.Buffer)
	if err != nil {
		return Diagnosis{}, err
	}
	r := a.Design.Request
	c := a.Design.Lines[0].mix
	litres := r.volume(c) / 1000
	made := Made{Acid: c.Acid * litres, Base: c.Base * litres, Salt: c.Salt * litres, Volume: 1000 * litres, Celsius: r.MadeAt}
	if q.Made != nil {
		made = *q.Made
	}
	var p verdict.Problems
	if !(made.Volume > 0) || !within(made) {
		p.Add("/made", "what was made has a volume above zero, amounts of zero or more, and 0 to 60 °C")
	}
	u := cmp.Or(q.U, usualReading)
	if !(u > 0 && u <= 2) {
		p.Add("/u", "the uncertainty of a reading is from 0 to 2")
	}
	if len(p) > 0 {
		return Diagnosis{}, p
	}
	planned, err := r.planned(c, made.Celsius).PH()
	if err != nil {
		return Diagnosis{}, err
	}
	s, err := r.mixture(made).Solver()
	if err != nil {
		return Diagnosis{}, err
	}
	planned.Value = s.Solve().PH // of what was made, as well known as what was planned
	measured := uncertain.New(q.Measured, u, uncertain.Source{ID: "meter", Label: "reading"})
	return r.Diagnose(
		made,
		Seen{Predicted: planned, Measured: measured, Goal: r.goalAt(c, r.Target, made.Celsius), DoubtfulMeter: q.DoubtfulMeter},
	)
}
