package equilibrium

import (
	"fmt"
	"math"
	"slices"

	"vialbench/core/formula"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Amount is how much of a system is in a mixture, in all its forms.
type Amount struct {
	System System           `json:"system"`
	C      uncertain.Number `json:"c"` // mol/L
	// Open reports whether the air holds the form with all protons at C.
	Open bool `json:"open,omitempty"`
}

// Strong is an ion that takes no part.
type Strong struct {
	Formula string           `json:"formula"`
	Charge  int              `json:"charge"`
	C       uncertain.Number `json:"c"` // mol/L
}

// Mixture is what is dissolved, and at which temperature.
type Mixture struct {
	Celsius uncertain.Number `json:"celsius"`
	Model   Model            `json:"model,omitempty"`
	// PKw replaces the ion product of water; nil takes that of the temperature.
	PKw     *float64 `json:"pKw,omitempty"`
	Amounts []Amount `json:"amounts"`
	Strong  []Strong `json:"strong"`
}

// Add puts a compound into the mixture, c in mol/L; what is there already grows.
func (m *Mixture) Add(compound Compound, c uncertain.Number) {
	for _, u := range compound.Units {
		m.AddSystem(u.System, c.Scale(u.Count))
	}
	for _, ion := range compound.Ions {
		m.AddIon(ion.Formula, ion.Charge, c.Scale(ion.Count))
	}
}

// AddSystem adds to a system alone; its protons follow from the charges of all ions.
func (m *Mixture) AddSystem(s System, c uncertain.Number) {
	i := slices.IndexFunc(m.Amounts, func(a Amount) bool { return a.System.Key == s.Key && !a.Open })
	if i < 0 {
		m.Amounts = append(m.Amounts, Amount{System: s, C: c})
		return
	}
	m.Amounts[i].C = m.Amounts[i].C.Plus(c)
}

// AddIon adds a strong ion.
func (m *Mixture) AddIon(text string, charge int, c uncertain.Number) {
	i := slices.IndexFunc(m.Strong, func(s Strong) bool { return s.Formula == text })
	if i < 0 {
		m.Strong = append(m.Strong, Strong{Formula: text, Charge: charge, C: c})
		return
	}
	m.Strong[i].C = m.Strong[i].C.Plus(c)
}

// Scaled is the mixture with all that is dissolved changed by a factor, as by dilution.
// What the air holds stays.
func (m Mixture) Scaled(factor uncertain.Number) Mixture {
	m.Amounts, m.Strong = slices.Clone(m.Amounts), slices.Clone(m.Strong)
	for i := range m.Amounts {
		if !m.Amounts[i].Open {
			m.Amounts[i].C = m.Amounts[i].C.Times(factor)
		}
	}
	for i := range m.Strong {
		m.Strong[i].C = m.Strong[i].C.Times(factor)
	}
	return m
}

// Mixed is two mixtures poured together, by their shares of the volume, which add up to 1
// as volumes are taken to be additive.
func (m Mixture) Mixed(share uncertain.Number, other Mixture, otherShare uncertain.Number) Mixture {
	sum := m.Scaled(share)
	for _, a := range other.Amounts {
		sum.AddSystem(a.System, a.C.Times(otherShare))
	}
	for _, s := range other.Strong {
		sum.AddIon(s.Formula, s.Charge, s.C.Times(otherShare))
	}
	return sum
}

// maxConcentration in mol/L is more than water can hold of any acid, base or salt here.
const maxConcentration = 20

// Check returns what is wrong with a mixture.
func (m Mixture) Check() error {
	var p verdict.Problems
	if !(m.Celsius.Value >= MinTemperature && m.Celsius.Value <= MaxTemperature) {
		p.Add("/celsius", "equilibria are calculated from 0 to 60 °C")
	}
	switch m.Model {
	case Davies, ExtendedDebyeHuckel, Ideal:
	default:
		p.Add("/model", "activities go by “” (Davies), extended or ideal")
	}
	if m.PKw != nil && !(*m.PKw >= 10 && *m.PKw <= 18) {
		p.Add("/pKw", "the pKw of water is from 10 to 18")
	}
	concentration := func(field string, c float64) {
		if !(c >= 0 && c <= maxConcentration) {
			p.Add(field, "a concentration is zero or more, and at most %d mol/L", maxConcentration)
		}
	}
	for i, a := range m.Amounts {
		concentration(fmt.Sprintf("/amounts/%d/c", i), a.C.Value)
		if n := len(a.System.Constants); n == 0 || n > MaxSteps {
			p.Add(fmt.Sprintf("/amounts/%d/system", i), "a system has 1 to %d constants", MaxSteps)
		}
	}
	for i, s := range m.Strong {
		concentration(fmt.Sprintf("/strong/%d/c", i), s.C.Value)
		if s.Charge == 0 || s.Charge < -3 || s.Charge > 3 {
			p.Add(fmt.Sprintf("/strong/%d/charge", i), "an ion has a charge from −3 to 3, not 0")
		}
	}
	return p.OrNil()
}

// Solver makes a solver of the mixture. An error is a verdict.Problems.
func (m Mixture) Solver() (*Solver, error) {
	if err := m.Check(); err != nil {
		return nil, err
	}
	return m.solver(m.Celsius.Value), nil
}

func (m Mixture) solver(celsius float64) *Solver {
	s := &Solver{model: m.Model, parts: make([]part, len(m.Amounts)), highest: 1}
	s.a, s.b = debyeHuckel(celsius)
	pKw := PKw(celsius)
	if m.PKw != nil {
		pKw = *m.PKw
	}
	s.kw = math.Pow(10, -pKw)
	for i, a := range m.Amounts {
		p := &s.parts[i]
		p.n, p.z, p.c, p.open = len(a.System.Constants), a.System.Charge(), a.C.Value, a.Open
		for j, c := range a.System.Constants {
			p.k[j] = math.Pow(10, -c.At(celsius))
		}
		s.highest = max(s.highest, p.z, -p.z, p.n-p.z)
	}
	for _, ion := range m.Strong {
		s.highest = max(s.highest, ion.Charge, -ion.Charge)
	}
	s.strong, s.salt = m.strong()
	return s
}

// Species is one form of a system in a mixture, or a strong ion.
type Species struct {
	Formula string  `json:"formula"`
	System  string  `json:"system,omitempty"` // its key; empty of an ion and of water's own
	Charge  int     `json:"charge"`
	C       float64 `json:"c"` // mol/L
	// Fraction is its part of the system, 0…1.
	Fraction float64 `json:"fraction,omitempty"`
	// Activity is the activity coefficient.
	Activity float64 `json:"activity"`
}

// Species lists what there is at a point that the solver of this mixture just found.
func (m Mixture) Species(s *Solver, p Point) []Species {
	list := []Species{
		{Formula: "H+", Charge: 1, C: p.Proton, Activity: s.gammaProton},
		{Formula: "OH-", Charge: -1, C: p.Hydroxide, Activity: s.gammaHydroxide},
	}
	for i, a := range m.Amounts {
		part := &s.parts[i]
		for j := 0; j <= part.n; j++ {
			list = append(list, Species{
				Formula: a.System.Form(j), System: a.System.Key, Charge: part.z - j, C: part.c * part.weight[j],
				Fraction: part.weight[j], Activity: s.gammaOf(part.z - j),
			})
		}
	}
	for _, ion := range m.Strong {
		list = append(list, Species{Formula: ion.Formula, Charge: ion.Charge, C: ion.C.Value, Activity: s.gammaOf(ion.Charge)})
	}
	return list
}

// How far a pH that is computed with activities may lie off besides the difference of the
// models: the Davies equation comes within 0.012 of every primary standard of IUPAC at
// 25 °C. Beyond an ionic strength of 0.1 mol/L ions pair, like sodium with citrate and
// phosphate, which no such model knows: that grows by 0.3 pH for each mol/L, as the table of
// McIlvaine shows (see the tests here and of package buffer).
const (
	modelLimits   = 0.012
	pairingFrom   = 0.1 // mol/L
	pairingLimits = 0.3 // pH by mol/L
)

// PH is the pH of the mixture with its uncertainty: that of every concentration, constant
// and of the temperature, each by how far the pH moves with it, and that of the model of
// activity, by how far the two models differ. An error is a verdict.Problems.
func (m Mixture) PH() (uncertain.Number, error) {
	pH := func(_ *Solver, p Point) float64 { return p.PH }
	return m.follow(pH, func(apart, strength float64) float64 {
		return math.Max(modelLimits*math.Min(1, strength/0.01), apart) + pairingLimits*math.Max(0, strength-pairingFrom)
	})
}

// Capacity is the buffer capacity in mol/L per pH, with its uncertainty as that of the pH.
// An error is a verdict.Problems.
func (m Mixture) Capacity() (uncertain.Number, error) {
	return m.follow(func(s *Solver, _ Point) float64 { return s.Capacity(nil).Total }, asFarApart)
}

// Strength is the ionic strength in mol/L, with its uncertainty as that of the pH. An error
// is a verdict.Problems.
func (m Mixture) Strength() (uncertain.Number, error) {
	return m.follow(func(_ *Solver, p Point) float64 { return p.Strength }, asFarApart)
}

// asFarApart are limits of a model of activity: how far the two differ.
func asFarApart(apart, _ float64) float64 { return apart }

// follow gives a value of the solved mixture the uncertainty of every number that it moves
// with. limits ± of the model come from how far the two models are apart in it, and from
// the ionic strength.
func (m Mixture) follow(value func(*Solver, Point) float64, limits func(apart, strength float64) float64) (uncertain.Number, error) {
	s, err := m.Solver()
	if err != nil {
		return uncertain.Number{}, err
	}
	of := func(s *Solver) float64 { return value(s, s.Solve()) }
	is, strength := of(s), s.Solve().Strength
	var list []uncertain.Contribution
	// add follows a number that the value moves with: slope is d value by it.
	add := func(n uncertain.Number, slope float64) {
		for _, c := range n.Contributions {
			c.U *= slope
			list = append(list, c)
		}
	}
	const step = 1e-4 // relative, small beside any uncertainty, large beside the tolerance
	between := func(set func(sign float64), width float64) float64 {
		set(1)
		up := of(s)
		set(-1)
		down := of(s)
		set(0)
		return (up - down) / (2 * width)
	}
	for i, a := range m.Amounts {
		if len(a.C.Contributions) > 0 {
			width := step * math.Max(a.C.Value, 1e-9)
			add(a.C, between(func(sign float64) { s.Set(i, a.C.Value+sign*width) }, width))
		}
		for j := range a.System.Constants {
			k := s.parts[i].k[j]
			add(a.System.PKa(j, m.Celsius.Value), between(func(sign float64) { s.parts[i].k[j] = k * math.Pow(10, -sign*step) }, step))
		}
	}
	charge, squares := s.strong, s.salt
	for _, ion := range m.Strong {
		if len(ion.C.Contributions) > 0 {
			z, width := float64(ion.Charge), step*math.Max(ion.C.Value, 1e-9)
			add(ion.C, between(func(sign float64) { s.SetStrong(charge+sign*z*width, squares+sign*z*z*width) }, width))
		}
	}
	if len(m.Celsius.Contributions) > 0 {
		const degree = 0.5
		t := math.Min(math.Max(m.Celsius.Value, MinTemperature+degree), MaxTemperature-degree)
		add(m.Celsius, (of(m.solver(t+degree))-of(m.solver(t-degree)))/(2*degree))
	}
	if m.Model != Ideal {
		other := m
		other.Model = map[Model]Model{Davies: ExtendedDebyeHuckel, ExtendedDebyeHuckel: Davies}[m.Model]
		apart := math.Abs(of(other.solver(m.Celsius.Value)) - is)
		add(uncertain.WithLimits(0, limits(apart, strength), uncertain.RectangularShape, uncertain.Source{
			ID:    "activity model",
			Label: "activity coefficients",
			Basis: "how far the models differ, and how well they meet the primary standards",
		}), 1)
	}
	list = slices.DeleteFunc(list, func(c uncertain.Contribution) bool { return c.U == 0 })
	return uncertain.Gather(is, list), nil
}

// IonOf reads a strong ion by its formula, like Na+ or SO4^2-.
func IonOf(text string) (Ion, error) {
	f, err := formula.Parse(text)
	switch {
	case err != nil:
		return Ion{}, verdict.Problems{{Reason: err.Error()}}
	case f.Charge == 0:
		return Ion{}, verdict.Problems{{Reason: text + " has no charge: write an ion, like Na+ or Cl-"}}
	}
	return Ion{Formula: f.String(), Charge: f.Charge, Count: 1}, nil
}
