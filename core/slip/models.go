package slip

import (
	"fmt"
	"strconv"

	"vialbench/core/quantity"
)

// result is the name of the step that gives it.
const result = "the result"

// figureOf is a figure as it was written.
func figureOf(name string, role Role, value float64, unit string, instead ...Instead) Step {
	return Step{Name: name, Role: role, Value: value, Decimals: -1, Unit: unit, Instead: instead}
}

func step(name string, op Op, role Role, of ...Step) Step {
	return Step{Name: name, Op: op, Role: role, Of: of}
}

func litres(of Step) Step {
	return Step{Name: of.Name + " in litres", Op: Scale, Role: Litres, Factor: 1e-3, Of: []Step{of}}
}

// Glass is a pipette or a flask, as it was written down, in mL. Others are sizes that stand beside it.
type Glass struct {
	ML     float64   `json:"mL"`
	Others []float64 `json:"others,omitempty"`
}

// step is the figure of a piece of glass.
func (g Glass) step(name string, role Role) Step {
	s := figureOf(name, role, g.ML, "mL")
	id := map[Role]string{Aliquot: "another pipette", Mark: "another flask"}[role]
	for _, other := range g.Others {
		if other != g.ML && id != "" {
			s.Instead = append(s.Instead, Instead{id, quantity.Trim(other) + " mL for " + quantity.Trim(g.ML) + " mL", other})
		}
	}
	return s
}

// Bottled is the concentration of a bottle, mol/L.
type Bottled struct {
	Name string  `json:"name,omitempty"`
	C    float64 `json:"c"`
	// Nominal is what was planned, Normality what it is in equivalents; 0 where they are not told.
	Nominal   float64 `json:"nominal,omitempty"`
	Normality float64 `json:"normality,omitempty"`
	// Beside is the concentration of another bottle on the bench; 0 where there is none.
	Beside float64 `json:"beside,omitempty"`
}

func (b Bottled) step() Step {
	name := b.Name
	if name == "" {
		name = "the solution"
	}
	s := figureOf("concentration of "+name, Concentration, b.C, "mol/L")
	for _, other := range []Instead{
		{"nominal", "", b.Nominal}, {"normality", "", b.Normality}, {"bottles exchanged", "", b.Beside},
	} {
		if other.Value > 0 && other.Value != b.C {
			s.Instead = append(s.Instead, other)
		}
	}
	return s
}

// Dilution1 is one dilution of what was measured: an aliquot made up in a flask.
type Dilution1 struct {
	Aliquot Glass `json:"aliquot"`
	Flask   Glass `json:"flask"`
}

func (d Dilution1) factor(i int) Step {
	return step("dilution "+strconv.Itoa(i+1), Over, DilutionFactor, d.Flask.step("the flask", Mark), d.Aliquot.step("the aliquot", Aliquot))
}

// withMass notes that a result in mol/L can be told in g/L.
func (s Step) withMass(molarMass float64) Step {
	if molarMass > 0 {
		s.Instead = append(s.Instead, Instead{"g/L for mol/L", "", layOut(&s).result() * molarMass})
	}
	return s
}

// Solution is a concentration from what was weighed, c = m·p/(M·V).
type Solution struct {
	Mass      float64 `json:"mass"`      // g
	MolarMass float64 `json:"molarMass"` // g/mol
	// Hydrates and Ions are molar masses that can be taken by mistake, by what they are of.
	Hydrates map[string]float64 `json:"hydrates,omitempty"`
	Ions     map[string]float64 `json:"ions,omitempty"`
	Purity   float64            `json:"purity,omitempty"` // mass fraction; 0 for 1
	Flask    Glass              `json:"flask"`
	// Division is the last digit of the balance, g; 0 where it is not known.
	Division float64 `json:"division,omitempty"`
}

// Root is how it is worked out.
func (s Solution) Root() Step {
	mass := figureOf("the mass", Weighed, s.Mass, "g")
	mass.Division = s.Division
	of := Weighing{s.MolarMass, s.Hydrates, s.Ions, s.Purity}
	amount := of.amountOf(mass)
	return step(result, Over, "", amount, litres(s.Flask.step("the flask", Mark))).withMass(s.MolarMass)
}

func namedMasses(slip string, masses map[string]float64) (list []Instead) {
	for _, name := range sortedKeys(masses) {
		list = append(list, Instead{slip, name, masses[name]})
	}
	return list
}

// Dilution is the concentration after dilutions one after the other, c = c₀·V_a/V_f·…
type Dilution struct {
	Stock Bottled     `json:"stock"`
	Steps []Dilution1 `json:"steps"`
}

// Root is how it is worked out.
func (d Dilution) Root() Step {
	of := []Step{d.Stock.step()}
	for i, s := range d.Steps {
		aliquot, flask := s.Aliquot.step("the aliquot", Aliquot), s.Flask.step("the flask", Mark)
		of = append(of, step("dilution "+strconv.Itoa(i+1), Over, Diluted, aliquot, flask))
	}
	return step(result, Times, "", of...)
}

// Buffer is the pH by pKa and the amounts of both partners, pH = pKa + log(base/acid).
type Buffer struct {
	PKa  float64 `json:"pKa"`
	Base float64 `json:"base"` // both in the same unit
	Acid float64 `json:"acid"`
}

// Root is how it is worked out.
func (b Buffer) Root() Step {
	total := func(of string, value float64) Step {
		return figureOf("the amount of "+of, Constant, value, "", Instead{"total for partner", "for the " + of, b.Base + b.Acid})
	}
	ratio := step("the ratio", Over, BaseOverAcid, total("base", b.Base), total("acid", b.Acid))
	return Step{Name: result, Op: Sum, Role: Acidity, Of: []Step{
		figureOf("pKa", Constant, b.PKa, ""), step("the logarithm", Log, Logarithm, ratio),
	}}
}

// Line is a concentration read from a calibration line, c = (A − A_blank − b)/m·…
type Line struct {
	// Readings are absorbances or, with Percent, transmittances in %.
	Readings []float64 `json:"readings"`
	Percent  bool      `json:"percent,omitempty"`
	// Blank is what the blank reads on the same scale; nil where the instrument was set to zero with it.
	Blank     *float64    `json:"blank,omitempty"`
	Slope     float64     `json:"slope"` // per unit of the result
	Intercept float64     `json:"intercept"`
	Path      float64     `json:"path,omitempty"` // cm, where it is put into the formula; 0 where it is not
	Diluted   []Dilution1 `json:"diluted,omitempty"`
}

// Root is how it is worked out.
func (l Line) Root() Step {
	read := func(name string, x float64, role Role) Step {
		s := figureOf(name, role, x, "")
		s.Decimals = 3
		if !l.Percent {
			return s
		}
		s.Role, s.Unit, s.Decimals, s.Most = Transmittance, "%", 1, 100
		fraction := Step{Name: name + " as a fraction", Op: Scale, Factor: 1e-2, Of: []Step{s}}
		return Step{Name: "its absorbance", Op: Scale, Role: Absorbance, Factor: -1, Of: []Step{{Op: Log, Of: []Step{fraction}}}}
	}
	mean := Step{Name: "the mean reading", Op: Mean}
	for i, x := range l.Readings {
		mean.Of = append(mean.Of, read("reading "+strconv.Itoa(i+1), x, Observed))
	}
	net := mean
	if l.Blank != nil {
		net = step("the net absorbance", Minus, Net, mean, read("the blank", *l.Blank, Blank))
	}
	root := step(result, Over, OnLine,
		step("the absorbance above the intercept", Minus, "", net, figureOf("the intercept", Constant, l.Intercept, "")),
		figureOf("the slope", Constant, l.Slope, ""))
	of := []Step{root}
	if l.Path > 0 {
		path := step("the path", Over, "", figureOf("one cm", "", 1, "cm"), figureOf("the path length", Path, l.Path, "cm"))
		of = append(of, path)
	}
	for i, d := range l.Diluted {
		of = append(of, d.factor(i))
	}
	if len(of) > 1 {
		of[0].Name = "what the line gives"
		root = step(result, Times, "", of...)
	}
	return root
}

// Capacity is a buffer capacity, β = n/(V·ΔpH): the amount added to a volume, over the change of pH.
type Capacity struct {
	Added  Bottled `json:"added"`
	Volume Glass   `json:"volume"` // of the buffer
	// Start is that volume before anything was added, mL, where Volume is the one half way; 0 where it is not told.
	Start float64 `json:"start,omitempty"`
	// ML is what was added, in mL; or Drops of DropML each.
	ML     float64 `json:"mL,omitempty"`
	Drops  int     `json:"drops,omitempty"`
	DropML float64 `json:"dropML,omitempty"`
	Before float64 `json:"before"` // pH
	After  float64 `json:"after"`
}

// Root is how it is worked out.
func (c Capacity) Root() Step {
	portion := figureOf("the volume added", Aliquot, c.ML, "mL")
	if c.Drops > 0 {
		portion = Step{Name: "the volume added", Op: Scale, Role: Volume, Factor: c.DropML, Of: []Step{figureOf("the drops", Drops, float64(c.Drops), "")}}
	}
	change := func(name string, x float64) Step {
		s := figureOf(name, Observed, x, "")
		s.Decimals, s.Least, s.Most = 2, 0, 14
		return s
	}
	delta := step("the change of pH", Minus, Change, change("pH after", c.After), change("pH before", c.Before))
	amount := step("the amount added", Times, "", c.Added.step(), litres(portion))
	volume := c.Volume.step("the volume of the buffer", Aliquot)
	if c.Start > 0 && c.Start != c.Volume.ML {
		volume.Instead = append(volume.Instead, Instead{"volume at the start", "", c.Start})
	}
	per := step("the amount for each litre", Over, "", amount, litres(volume))
	if c.After < c.Before { // acid was added
		delta.Of[0], delta.Of[1] = delta.Of[1], delta.Of[0]
	}
	return step(result, Over, "", per, delta)
}

// Plain is a result of which only the true value is known: what was stated is traced from that.
func Plain(value float64, unit string) Step {
	return Step{Name: result, Op: Scale, Factor: 1, Of: []Step{figureOf(fmt.Sprintf("the true value, %s", unit), Expected, value, unit)}}
}
