package equilibrium

import (
	"fmt"
	"math"

	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// RuleStrength is about how far the models of activity can be trusted.
var RuleStrength = verdict.Rule{
	ID:        "B-1",
	Title:     "Trust activities up to this ionic strength",
	Threshold: 0.5,
	Unit:      "mol/L",
	Min:       0.05,
	Max:       2,
	Why:       "The Davies equation is fitted to about 0.1 mol/L and is usable with care to 0.5 mol/L; beyond it, each salt behaves in its own way.",
	Source:    "Davies, Ion Association (1962); Stumm and Morgan, Aquatic Chemistry (from memory)",
}

// Content is a substance in a mixture, by its formula, or by a system in one of its forms.
type Content struct {
	Formula string `json:"formula"`
	// System is the key of one in the library or among those that came with the question;
	// Lost is how many protons it has given off: its charge is made up by Na+ or Cl-.
	System string `json:"system"`
	Lost   int    `json:"lost"`
	// C is in mol/L, with the standard uncertainty U; or Amount in mmol, in the volume of
	// the question.
	C      float64 `json:"c"`
	U      float64 `json:"u"`
	Amount float64 `json:"amount"`
	// Open reports whether the air holds it: C is that of its form with all protons, and 0 takes
	// what the carbon dioxide of the air gives.
	Open bool `json:"open"`
}

// Question asks for the state of a mixture.
type Question struct {
	Contents []Content `json:"contents"`
	// Systems are some of its own, with constants of its own.
	Systems []System `json:"systems"`
	Volume  float64  `json:"volume"` // mL; 0 when concentrations are given
	Celsius float64  `json:"celsius"`
	Model   Model    `json:"model"`
	PKw     *float64 `json:"pKw"`
}

// maxContents is the longest list that a question may have.
const maxContents = 50

// Mixture reads the question. An error is a verdict.Problems.
func (q Question) Mixture() (Mixture, error) {
	m := Mixture{Celsius: uncertain.Exact(q.Celsius), Model: q.Model, PKw: q.PKw}
	p := CheckSystems(q.Systems)
	if len(q.Contents) > maxContents || len(q.Systems) > maxContents {
		p.Add("/contents", "at most %d substances and systems", maxContents)
	}
	if !(q.Volume >= 0 && q.Volume <= 1e6) {
		p.Add("/volume", "the volume is zero or more, in mL")
	}
	if len(p) > 0 {
		return m, p
	}
	for i, c := range q.Contents {
		if err := q.add(&m, c); err != nil {
			for _, wrong := range problems(err) {
				p.Add(fmt.Sprintf("/contents/%d%s", i, wrong.Field), "%s", wrong.Reason)
			}
		}
	}
	if len(p) > 0 {
		return m, p
	}
	return m, m.Check()
}

func problems(err error) verdict.Problems {
	p, _ := err.(verdict.Problems) //nolint:errorlint // made here, never wrapped
	return p
}

// concentration of a content in mol/L.
func (q Question) concentration(i Content) (uncertain.Number, error) {
	var p verdict.Problems
	c := i.C
	switch {
	case i.Amount != 0 && i.C != 0:
		p.Add("/amount", "give either a concentration or an amount")
	case i.Amount != 0 && q.Volume == 0:
		p.Add("/amount", "an amount in mmol needs the volume that it is in")
	case i.Amount != 0:
		c = i.Amount / q.Volume
	}
	if !(c >= 0 && c <= maxConcentration) {
		p.Add("/c", "a concentration is zero or more, and at most %d mol/L", maxConcentration)
	}
	if !(i.U >= 0 && i.U <= maxConcentration) {
		p.Add("/u", "an uncertainty is zero or more")
	}
	name := i.Formula + i.System
	return uncertain.New(c, i.U, uncertain.Source{ID: "c " + name, Label: "concentration of " + name, Basis: "as given"}), p.OrNil()
}

func (q Question) add(m *Mixture, i Content) error {
	c, err := q.concentration(i)
	if err != nil {
		return err
	}
	if i.System == "" {
		if compound, ok := CompoundOf(i.Formula, q.Systems...); ok && !i.Open {
			m.Add(compound, c)
			return nil
		}
		ion, err := IonOf(i.Formula)
		if err != nil {
			return verdict.Problems{
				{
					Field:  "/formula",
					Reason: fmt.Sprintf("“%s” is not known as an acid, a base or a salt here: name its system, or write an ion like Na+", i.Formula),
				},
			}
		}
		m.AddIon(ion.Formula, ion.Charge, c)
		return nil
	}
	s, err := q.system(i.System)
	if err != nil {
		return err
	}
	if i.Open {
		if c.Value == 0 {
			c = uncertain.Exact(OpenCO2(q.Celsius))
		}
		m.Amounts = append(m.Amounts, Amount{System: s, C: c, Open: true})
		return nil
	}
	if i.Lost < 0 || i.Lost > s.Protons() {
		return verdict.Problems{{Field: "/lost", Reason: fmt.Sprintf("%s gives off 0 to %d protons", s.Name, s.Protons())}}
	}
	m.AddSystem(s, c)
	switch z := s.Charge() - i.Lost; {
	case z < 0:
		m.AddIon("Na+", 1, c.Scale(float64(-z)))
	case z > 0:
		m.AddIon("Cl-", -1, c.Scale(float64(z)))
	}
	return nil
}

// system finds one among those of the question, or in the library.
func (q Question) system(key string) (System, error) {
	for _, s := range q.Systems {
		if s.Key == key {
			return s, nil
		}
	}
	if s, ok := Find(key); ok {
		return s, nil
	}
	return System{}, verdict.Problems{
		{Field: "/system", Reason: fmt.Sprintf("no system “%s”: take one of the library, or send it along", key)},
	}
}

// Term is one in the balance of charge, or a part of the buffer capacity, in mol/L.
type Term struct {
	Name  string  `json:"name"`
	Value float64 `json:"value"`
}

// Answer is the state of a mixture.
type Answer struct {
	PH       uncertain.Number `json:"pH"`
	Text     string           `json:"text"`
	Strength float64          `json:"strength"` // mol/L
	Species  []Species        `json:"species"`
	// Beta is the buffer capacity in mol/L per pH, Parts what it is made of.
	Beta  float64 `json:"beta"`
	Parts []Term  `json:"parts"`
	// Balance are the terms of the balance of charge, which add up to nothing.
	Balance  []Term            `json:"balance"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Speciate answers a question. An error is a verdict.Problems.
func Speciate(q Question) (Answer, error) {
	m, err := q.Mixture()
	if err != nil {
		return Answer{}, err
	}
	return m.Answer(nil)
}

// Answer is the state of the mixture. An error is a verdict.Problems.
func (m Mixture) Answer(t verdict.Thresholds) (Answer, error) {
	pH, err := m.PH()
	if err != nil {
		return Answer{}, err
	}
	s := m.solver(m.Celsius.Value)
	p := s.Solve()
	text, u := quantity.Round(pH.Value, pH.Expanded())
	a := Answer{PH: pH, Text: text + " ± " + u, Strength: p.Strength, Species: m.Species(s, p), Verdicts: m.judge(p, t)}
	beta := s.Capacity(func(system, step int, part float64) {
		of := m.Amounts[system].System
		a.Parts = append(a.Parts, Term{of.Form(step) + "/" + of.Form(step+1), part})
	})
	a.Beta = beta.Total
	a.Parts = append(a.Parts, Term{"water", beta.Water}, Term{"change of ionic strength", beta.Activity})
	for _, x := range a.Species {
		if x.Charge != 0 {
			a.Balance = append(a.Balance, Term{x.Formula, float64(x.Charge) * x.C})
		}
	}
	return a, nil
}

func (m Mixture) judge(p Point, t verdict.Thresholds) []verdict.Verdict {
	most := t.Of(RuleStrength)
	if m.Model == Ideal || p.Strength <= most {
		return []verdict.Verdict{}
	}
	return []verdict.Verdict{
		RuleStrength.Says(verdict.Look, nil, "The ionic strength is %s mol/L: the computed pH is only a guide, measure it.",
			quantity.Digits(p.Strength, 2)),
	}
}

// AdditionsQuestion asks how the pH moves as a titrant is added.
type AdditionsQuestion struct {
	Question
	// Titrant is what is added, Volumes how much of it in all after each addition, in mL, to
	// the volume of the question.
	Titrant []Content `json:"titrant"`
	Volumes []float64 `json:"volumes"`
}

// Added is where an addition brings the mixture.
type Added struct {
	Volume   float64 `json:"volume"` // mL added in all
	PH       float64 `json:"pH"`
	Strength float64 `json:"strength"` // mol/L
	Beta     float64 `json:"beta"`     // mol/L per pH
}

// maxAdditions is the longest list of additions.
const maxAdditions = 2000

// Additions follows additions, volumes taken to be additive. An error is a verdict.Problems.
func Additions(q AdditionsQuestion) ([]Added, error) {
	m, err := q.Mixture()
	if err != nil {
		return nil, err
	}
	of := q.Question
	of.Contents, of.Volume = q.Titrant, 0
	titrant, err := of.Mixture()
	if err != nil {
		moved := verdict.Problems{}
		for _, p := range problems(err) {
			moved.Add("/titrant"+p.Field, "%s", p.Reason)
		}
		return nil, moved
	}
	var p verdict.Problems
	if !(q.Volume > 0) {
		p.Add("/volume", "give the volume that is titrated, in mL")
	}
	if n := len(q.Volumes); n == 0 || n > maxAdditions {
		p.Add("/volumes", "give 1 to %d additions", maxAdditions)
	}
	for i, v := range q.Volumes {
		if !(v >= 0 && v <= 1e6) || i > 0 && v < q.Volumes[i-1] {
			p.Add(fmt.Sprintf("/volumes/%d", i), "additions are counted from the start, and go up")
		}
	}
	if len(p) > 0 {
		return nil, p
	}
	return m.Titrated(q.Volume, titrant, q.Volumes), nil
}

// Titrated follows additions to a volume of the mixture, all in mL.
func (m Mixture) Titrated(volume float64, titrant Mixture, volumes []float64) []Added {
	t := m.Titration(volume, titrant)
	list := make([]Added, 0, len(volumes))
	for _, v := range volumes {
		p := t.At(v)
		list = append(list, Added{Volume: v, PH: p.PH, Strength: p.Strength, Beta: t.solver.Capacity(nil).Total})
	}
	return list
}

// strong are the charge and the squares of the strong ions.
func (m Mixture) strong() (charge, squares float64) {
	for _, ion := range m.Strong {
		z := float64(ion.Charge)
		charge, squares = charge+z*ion.C.Value, squares+z*z*ion.C.Value
	}
	return charge, squares
}

// Step is the step of a system whose pKa lies next to a pH at a temperature.
func (s System) Step(pH, celsius float64) (step int, pKa float64) {
	best := math.Inf(1)
	for i, c := range s.Constants {
		if at := c.At(celsius); math.Abs(at-pH) < best {
			best, step, pKa = math.Abs(at-pH), i, at
		}
	}
	return step, pKa
}
