package buffer

import (
	"fmt"
	"math"
	"slices"

	"vialbench/core/equilibrium"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Recipe is the pair that a buffer is made of, and what is wanted of it.
type Recipe struct {
	System equilibrium.System `json:"system"`
	// Acid is the ingredient on the acid side, Base that on the base side: two forms of the
	// system, or one of them and a strong acid or base.
	Acid Ingredient `json:"acid"`
	Base Ingredient `json:"base"`
	// Target is the pH wanted at Celsius; MadeAt is the temperature at which it is made.
	Target  float64 `json:"target"`
	Celsius float64 `json:"celsius"`
	MadeAt  float64 `json:"madeAt"`
	// Concentration in mol/L of what Basis counts, a word of rule B-4: 0 all forms, 1 the acid,
	// 2 the base.
	Concentration float64 `json:"concentration"`
	Basis         int     `json:"basis"`
	Volume        float64 `json:"volume"` // mL
	// Salt is inert and brings the ionic strength up to Strength, in mol/L; 0 leaves it.
	Salt     *Ingredient       `json:"salt,omitempty"`
	Strength float64           `json:"strength,omitempty"`
	Model    equilibrium.Model `json:"model,omitempty"`
}

// Composition is what a litre of a buffer is made of, in mol/L.
type Composition struct {
	Acid, Base, Salt float64
	// Total is that of the system in all its forms.
	Total float64
	// mL is how much there is of it where no flask is filled to a mark.
	mL float64
}

// blend computes the pH of many compositions of one recipe without allocating.
type blend struct {
	s               *equilibrium.Solver
	of              [3][]float64 // what a mol of acid, base and salt brings of each system, mol
	charge, squares [3]float64
	unitsA, unitsB  float64 // of the system of the recipe
	system          int     // its place
}

// units of a system in a compound.
func units(c equilibrium.Compound, key string) float64 {
	for _, u := range c.Units {
		if u.System.Key == key {
			return u.Count
		}
	}
	return 0
}

func (r Recipe) blend(celsius float64) (*blend, error) {
	m := equilibrium.Mixture{Celsius: uncertain.Exact(celsius), Model: r.Model}
	ingredients := []Ingredient{r.Acid, r.Base}
	if r.Salt != nil {
		ingredients = append(ingredients, *r.Salt)
	}
	var parts []equilibrium.Mixture
	for _, i := range ingredients {
		c, ok := i.Compound()
		if !ok {
			return nil, verdict.Problems{{Reason: fmt.Sprintf("what %s does in water is not known here", i.Substance.Name)}}
		}
		var one equilibrium.Mixture
		one.Add(r.own(c), uncertain.Exact(1))
		parts = append(parts, one)
		m.Add(r.own(c), uncertain.Exact(0))
	}
	s, err := m.Solver()
	if err != nil {
		return nil, err
	}
	b := &blend{s: s, system: slices.IndexFunc(m.Amounts, func(a equilibrium.Amount) bool { return a.System.Key == r.System.Key })}
	if b.system < 0 {
		return nil, verdict.Problems{
			{Reason: fmt.Sprintf("neither %s nor %s contains %s", r.Acid.Substance.Name, r.Base.Substance.Name, r.System.Name)},
		}
	}
	for k, one := range parts {
		b.of[k] = make([]float64, len(m.Amounts))
		for i, a := range m.Amounts {
			for _, x := range one.Amounts {
				if x.System.Key == a.System.Key {
					b.of[k][i] = x.C.Value
				}
			}
		}
		for _, ion := range one.Strong {
			z := float64(ion.Charge)
			b.charge[k] += z * ion.C.Value
			b.squares[k] += z * z * ion.C.Value
		}
	}
	b.unitsA, b.unitsB = b.of[0][b.system], b.of[1][b.system]
	return b, nil
}

// own puts the constants of the recipe's system in the place of the library's.
func (r Recipe) own(c equilibrium.Compound) equilibrium.Compound {
	c.Units = slices.Clone(c.Units)
	for i, u := range c.Units {
		if u.System.Key == r.System.Key {
			c.Units[i].System = r.System
		}
	}
	return c
}

// at solves a composition.
func (b *blend) at(c Composition) equilibrium.Point {
	x := [3]float64{c.Acid, c.Base, c.Salt}
	charge, squares := 0.0, 0.0
	for k, amount := range x {
		charge, squares = charge+amount*b.charge[k], squares+amount*b.squares[k]
	}
	for i := range b.of[0] {
		sum := 0.0
		for k, amount := range x {
			if b.of[k] != nil {
				sum += amount * b.of[k][i]
			}
		}
		b.s.Set(i, sum)
	}
	b.s.SetStrong(charge, squares)
	return b.s.Solve()
}

// split shares out a total of the system: base is the concentration of the base
// ingredient, the rest of the system comes with the acid.
func (b *blend) split(total, base, salt float64) Composition {
	c := Composition{Base: base, Salt: salt, Total: total}
	switch {
	case b.unitsA > 0:
		c.Acid = (total - base*b.unitsB) / b.unitsA
	default: // the base carries the system, a strong acid is added to it
		c.Base, c.Acid = total/b.unitsB, base
	}
	return c
}

// compose finds what gives a pH at a total concentration, by bracketing: more base, or
// less of the strong acid, is a higher pH. An error says what the pair can reach.
func (b *blend) compose(total, pH, salt float64) (Composition, error) {
	low, high := 0.0, 0.0
	switch {
	case b.unitsA > 0 && b.unitsB > 0:
		high = total / b.unitsB
	default:
		high = mostStrong*total + 1
	}
	rising := b.unitsA > 0 // else what varies is the acid
	f := func(x float64) float64 {
		y := b.at(b.split(total, x, salt)).PH - pH
		if !rising {
			y = -y
		}
		return y
	}
	fl, fh := f(low), f(high)
	if fl > 0 || fh < 0 {
		from, to := fl+pH, fh+pH
		if !rising {
			from, to = pH-fh, pH-fl
		}
		return Composition{}, verdict.Problems{{
			Field:  "/target",
			Reason: fmt.Sprintf("this pair goes from pH %.2f to %.2f at this concentration: take another one for pH %.2f", from, to, pH),
		}}
	}
	x, side := (low+high)/2, 0
	for range 200 { // false position with the weights of Illinois
		x = (low*fh - high*fl) / (fh - fl)
		if !(x > low && x < high) {
			x = (low + high) / 2
		}
		y := f(x)
		switch {
		case math.Abs(y) < 1e-9 || high-low < 1e-14*high:
			return b.split(total, x, salt), nil
		case y < 0:
			if low, fl = x, y; side < 0 {
				fh /= 2
			}
			side = -1
		default:
			if high, fh = x, y; side > 0 {
				fl /= 2
			}
			side = 1
		}
	}
	return b.split(total, x, salt), nil
}

// mostStrong is how much strong acid or base a system can take up at most, by its total.
const mostStrong = equilibrium.MaxSteps

// compose finds what a litre is made of, so that it has a pH at the temperature of use.
func (r Recipe) compose(target float64) (c Composition, err error) {
	b, err := r.blend(r.Celsius)
	if err != nil {
		return c, err
	}
	total, salt := r.Concentration, 0.0
	for range 30 {
		if c, err = b.compose(total, target, salt); err != nil {
			return c, err
		}
		p := b.at(c)
		next, nextSalt := total, salt
		if r.Basis > 0 {
			next = r.Concentration / b.fraction(r.System, target, r.Celsius, r.Basis)
		}
		if r.Salt != nil && b.squares[2] > 0 {
			nextSalt = math.Max(0, salt+2*(r.Strength-p.Strength)/b.squares[2])
		}
		if math.Abs(next-total) <= 1e-9*total && math.Abs(nextSalt-salt) <= 1e-9 {
			return c, nil
		}
		total, salt = next, nextSalt
	}
	return c, nil
}

// fraction of a system that is the acid (1) or the base (2) of the step next to a pH.
func (b *blend) fraction(s equilibrium.System, pH, celsius float64, basis int) float64 {
	step, _ := s.Step(pH, celsius)
	return b.s.Fraction(b.system, step+basis-1)
}

// Mixture is what amounts in mol give in a volume in mL.
func (r Recipe) Mixture(acid, base, salt, volume uncertain.Number, celsius uncertain.Number) equilibrium.Mixture {
	m := equilibrium.Mixture{Celsius: celsius, Model: r.Model}
	add := func(i Ingredient, amount uncertain.Number) {
		if c, ok := i.Compound(); ok && amount.Value != 0 {
			m.Add(r.own(c), amount.Over(volume).Scale(1000))
		}
	}
	add(r.Acid, acid)
	add(r.Base, base)
	if r.Salt != nil {
		add(*r.Salt, salt)
	}
	return m
}

// check returns what is wrong with a recipe, with JSON pointers.
func (r Recipe) check() error {
	var p verdict.Problems
	if err := r.System.Check(); err != nil {
		p.Add("/system", "%s", err)
	}
	if !(r.Target >= 0 && r.Target <= 14) {
		p.Add("/target", "the pH wanted is from 0 to 14")
	}
	if !(r.Celsius >= equilibrium.MinTemperature && r.Celsius <= equilibrium.MaxTemperature) {
		p.Add("/celsius", "a buffer is used between 0 and 60 °C here")
	}
	if !(r.MadeAt >= equilibrium.MinTemperature && r.MadeAt <= equilibrium.MaxTemperature) {
		p.Add("/madeAt", "a buffer is made between 0 and 60 °C here")
	}
	if !(r.Concentration >= 1e-5 && r.Concentration <= 5) {
		p.Add("/concentration", "the concentration of a buffer is from 0.01 mmol/L to 5 mol/L")
	}
	if r.Basis < 0 || r.Basis > 2 {
		p.Add("/basis", "a concentration counts both forms (0), the acid (1) or the base (2)")
	}
	if !(r.Volume >= 1 && r.Volume <= 1e5) {
		p.Add("/volume", "the volume is from 1 mL to 100 L")
	}
	if !(r.Strength >= 0 && r.Strength <= 5) {
		p.Add("/strength", "the ionic strength is from 0 to 5 mol/L")
	}
	return p.OrNil()
}
