package equilibrium

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/formula"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// MaxSteps is how many protons a system may give off.
const MaxSteps = 6

// Constant is one step of a dissociation, at 25 °C and zero ionic strength.
type Constant struct {
	PKa float64 `json:"pKa"`
	// U is its standard uncertainty.
	U float64 `json:"u"`
	// Enthalpy in kJ/mol; nil when it is not known: then pKa is assumed to be that at 25 °C.
	Enthalpy *float64 `json:"enthalpy,omitempty"`
	// HeatCapacity in J/(mol·K); nil when it is not known.
	HeatCapacity *float64 `json:"heatCapacity,omitempty"`
}

// At is the pKa at a temperature in °C.
func (c Constant) At(celsius float64) float64 { return c.PKa - c.shift(celsius)/ln10 }

// shift is how much larger ln K is than at 25 °C.
func (c Constant) shift(celsius float64) float64 {
	if c.Enthalpy == nil {
		return 0
	}
	heatCapacity := 0.0
	if c.HeatCapacity != nil {
		heatCapacity = *c.HeatCapacity
	}
	return vantHoff(*c.Enthalpy*1000, heatCapacity, celsius)
}

// System is an acid with all that it becomes by giving off protons.
type System struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	// Base names what is left when all protons are gone.
	Base string `json:"base"`
	// Acid is the formula of the form with all its protons, with its charge.
	Acid string `json:"acid"`
	// Species are the formulas of all forms where they do not follow from that of the acid.
	Species []string `json:"species,omitempty"`
	// Amino reports whether it is an amino acid.
	Amino bool `json:"amino,omitempty"`
	// Taught reports whether teaching laboratories use it (common practice).
	Taught bool `json:"taught,omitempty"`
	// Unfit says why nobody makes a buffer of it (common practice); empty of the usual ones.
	Unfit string `json:"unfit,omitempty"`
	// Constants rise from step to step.
	Constants []Constant `json:"constants"`
	// Source says where the constants come from.
	Source string `json:"source"`
}

// Protons is how many the system can give off.
func (s System) Protons() int { return len(s.Constants) }

// Common is what a system is called at the bench: phosphate, Tris, HEPES, glycine.
func (s System) Common() string {
	if s.Amino {
		name, _, _ := strings.Cut(s.Name, " cation")
		return name
	}
	if s.Base == "" {
		return s.Name
	}
	return strings.TrimSuffix(strings.TrimSuffix(s.Base, " anion"), " dianion")
}

// Charge is that of the form with all its protons.
func (s System) Charge() int {
	i := strings.IndexAny(s.Acid, "^+-")
	if i < 0 {
		return 0
	}
	text := strings.TrimPrefix(s.Acid[i:], "^")
	charge := 1
	if n, err := strconv.Atoi(strings.TrimRight(text, "+-")); err == nil {
		charge = n
	}
	if strings.HasSuffix(text, "-") {
		return -charge
	}
	return charge
}

var hydrogen = regexp.MustCompile(`H(\d*)`)

// Form is the formula of the system with so many protons given off, like H2PO4-.
func (s System) Form(lost int) string {
	if lost < len(s.Species) {
		return s.Species[lost]
	}
	text := s.Acid
	if i := strings.IndexAny(text, "^+-"); i >= 0 {
		text = text[:i]
	}
	if at := hydrogen.FindStringSubmatchIndex(text); at != nil && lost > 0 {
		n := 1
		if at[2] < at[3] {
			n, _ = strconv.Atoi(text[at[2]:at[3]]) //nolint:errcheck // digits, by the expression
		}
		left := ""
		switch n -= lost; {
		case n > 1:
			left = "H" + strconv.Itoa(n)
		case n == 1:
			left = "H"
		}
		text = text[:at[0]] + left + text[at[1]:]
	}
	return text + signed(s.Charge()-lost)
}

// signed writes a charge behind a formula.
func signed(charge int) string {
	switch {
	case charge == 0:
		return ""
	case charge == 1:
		return "+"
	case charge == -1:
		return "-"
	case charge > 0:
		return "^" + strconv.Itoa(charge) + "+"
	}
	return "^" + strconv.Itoa(-charge) + "-"
}

// PKa is the constant of a step, from 0, at a temperature in °C, with its own uncertainty.
func (s System) PKa(step int, celsius float64) uncertain.Number {
	c := s.Constants[step]
	return uncertain.New(c.At(celsius), c.U, uncertain.Source{
		ID: fmt.Sprintf("pKa %s %d", s.Key, step+1), Label: "pKa of " + s.Name, Basis: fmt.Sprintf("%g ± %g (k = 1) at 25 °C", c.PKa, c.U),
	})
}

// Check returns the problems of a system that a lab adds, with JSON pointers.
func (s System) Check() error {
	var p verdict.Problems
	if n := len([]rune(strings.TrimSpace(s.Name))); n == 0 || n > 80 {
		p.Add("/name", "a name has 1 to 80 characters")
	}
	f, err := formula.Parse(s.Acid)
	switch {
	case err != nil:
		p.Add("/acid", "%s", err)
	case f.Charge < -4 || f.Charge > 4 || f.Charge != s.Charge():
		p.Add("/acid", "the form with all its protons has a charge from −4 to 4, written at its end, like NH4+ or C4H12N2^2+")
	case f.Atoms("H") < float64(len(s.Constants)):
		p.Add("/acid", "%s has fewer hydrogens than there are constants: write the form with all its protons", s.Acid)
	}
	if n := len(s.Constants); n == 0 || n > MaxSteps {
		p.Add("/constants", "a system has 1 to %d constants", MaxSteps)
	} else if len(p) == 0 && len(s.Species) == 0 && !s.formsFollow() {
		p.Add("/acid", "write all hydrogens together, like C7H6O3, so that the other forms follow from it")
	}
	s.checkConstants(&p)
	return p.OrNil()
}

// CheckSystems returns the problems of systems that came with a question, with JSON pointers
// into it.
func CheckSystems(list []System) (p verdict.Problems) {
	for i, s := range list {
		for _, wrong := range problems(s.Check()) {
			p.Add(fmt.Sprintf("/systems/%d%s", i, wrong.Field), "%s", wrong.Reason)
		}
	}
	return p
}

// formsFollow reports whether each form has one hydrogen less than that before it.
func (s System) formsFollow() bool {
	before := math.Inf(1)
	for lost := range s.Protons() + 1 {
		f, err := formula.Parse(s.Form(lost))
		if err != nil || lost > 0 && f.Atoms("H") != before-1 {
			return false
		}
		before = f.Atoms("H")
	}
	return true
}

// checkConstants checks each constant, and that they go up.
func (s System) checkConstants(p *verdict.Problems) {
	for i, c := range s.Constants {
		at := fmt.Sprintf("/constants/%d", i)
		if !(c.PKa >= -3 && c.PKa <= 16) {
			p.Add(at+"/pKa", "a pKa in water is from −3 to 16; what is stronger counts as a strong acid")
		}
		if !(c.U >= 0 && c.U <= 2) {
			p.Add(at+"/u", "the uncertainty of a pKa is from 0 to 2")
		}
		if c.Enthalpy != nil && !(math.Abs(*c.Enthalpy) <= 200) {
			p.Add(at+"/enthalpy", "the enthalpy of a dissociation is within ±200 kJ/mol")
		}
		if c.HeatCapacity != nil && !(math.Abs(*c.HeatCapacity) <= 1000) {
			p.Add(at+"/heatCapacity", "the heat capacity of a dissociation is within ±1000 J/(mol·K)")
		}
		if i > 0 && !(c.PKa > s.Constants[i-1].PKa) {
			p.Add(at+"/pKa", "the constants go up from step to step: %g does not follow %g", c.PKa, s.Constants[i-1].PKa)
		}
	}
}

//go:embed systems.json
var systemsJSON []byte

var library struct {
	systems   []System
	compounds []Compound
	byAtoms   map[string]int
	sources   map[string]string
}

func init() {
	var kept struct {
		Sources map[string]string
		Systems []struct {
			System
			Constants [][4]*float64 `json:"constants"`
		}
		Compounds map[string]string
	}
	if err := json.Unmarshal(systemsJSON, &kept); err != nil {
		panic("equilibrium: embedded library: " + err.Error())
	}
	library.sources = kept.Sources
	for _, k := range kept.Systems {
		s := k.System
		for _, c := range k.Constants {
			s.Constants = append(s.Constants, Constant{PKa: *c[0], U: *c[1], Enthalpy: c[2], HeatCapacity: c[3]})
		}
		library.systems = append(library.systems, s)
	}
	for text, parts := range kept.Compounds {
		c, err := readCompound(text, parts)
		if err != nil {
			panic("equilibrium: " + text + ": " + err.Error())
		}
		library.compounds = append(library.compounds, c)
	}
	slices.SortFunc(library.compounds, func(a, b Compound) int { return strings.Compare(a.Formula, b.Formula) })
	library.byAtoms = map[string]int{}
	for i, c := range library.compounds {
		f, err := formula.Parse(c.Formula)
		if err != nil {
			panic("equilibrium: " + err.Error())
		}
		library.byAtoms[atoms(f.Elements, f.Charge)] = i
	}
}

// Systems lists the acid–base systems that ship with the application.
func Systems() []System { return slices.Clone(library.systems) }

// Cited says in full where the constants of a system come from.
func (s System) Cited() string {
	if text, ok := library.sources[s.Source]; ok {
		return text
	}
	return s.Source
}

// Find returns a system of the library by its key.
func Find(key string) (s System, ok bool) {
	i := slices.IndexFunc(library.systems, func(s System) bool { return s.Key == key })
	if i < 0 {
		return s, false
	}
	return library.systems[i], true
}
