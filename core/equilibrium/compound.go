package equilibrium

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/formula"
)

// Ion is one that takes no part in any equilibrium here, by its formula: Na+.
type Ion struct {
	Formula string  `json:"formula"`
	Charge  int     `json:"charge"`
	Count   float64 `json:"count"`
}

// Units are those of a system in a compound.
type Units struct {
	System System  `json:"system"`
	Count  float64 `json:"count"`
}

// Compound is what a substance gives in water: units of systems, and strong ions. Which
// form the systems come in follows from the charges.
type Compound struct {
	Formula string  `json:"formula"`
	Units   []Units `json:"units"`
	Ions    []Ion   `json:"ions"`
}

// StrongCharge is that of its ions, by formula unit.
func (c Compound) StrongCharge() float64 {
	sum := 0.0
	for _, i := range c.Ions {
		sum += float64(i.Charge) * i.Count
	}
	return sum
}

// Lost is how many protons its systems have given off, by formula unit.
func (c Compound) Lost() float64 {
	lost := c.StrongCharge()
	for _, u := range c.Units {
		lost += u.Count * float64(u.System.Charge())
	}
	return lost
}

// Strong tells a strong acid (−1), a strong base (+1), and what is neither (0).
func (c Compound) Strong() int {
	switch charge := c.StrongCharge(); {
	case len(c.Units) > 0 || charge == 0:
		return 0
	case charge > 0:
		return 1
	}
	return -1
}

// readCompound reads what a compound is made of: “2 oxalic, K+”.
func readCompound(text, parts string) (Compound, error) {
	c := Compound{Formula: text}
	for part := range strings.SplitSeq(parts, ", ") {
		count := 1.0
		if number, rest, ok := strings.Cut(part, " "); ok {
			n, err := strconv.ParseFloat(number, 64)
			if err != nil {
				return c, err
			}
			count, part = n, rest
		}
		if s, ok := Find(part); ok {
			c.Units = append(c.Units, Units{s, count})
			continue
		}
		f, err := formula.Parse(part)
		if err != nil {
			return c, err
		}
		if f.Charge == 0 {
			return c, fmt.Errorf("no system “%s”", part)
		}
		c.Ions = append(c.Ions, Ion{part, f.Charge, count})
	}
	return c, nil
}

// CompoundOf finds what a compound gives in water by its formula, in any spelling, and
// with any water of crystallisation. A lab's own systems come before those of the library.
// Of isomers it knows the usual one: C4H4O4 is maleic acid. ok is false when the compound is
// not known here.
func CompoundOf(text string, own ...System) (c Compound, ok bool) {
	f, err := formula.Parse(text)
	if err != nil {
		return c, false
	}
	if dry, err := f.WithWaters(0); err == nil {
		f = dry
	}
	for _, s := range own {
		if c, ok := s.compound(f); ok {
			return c, true
		}
	}
	i, ok := library.byAtoms[atoms(f.Elements, f.Charge)]
	if !ok {
		return c, false
	}
	return library.compounds[i], true
}

// counterions are those of the salts that the forms of a lab's own system are looked for in.
var counterions = []Ion{
	{
		Formula: "Na+",
		Charge:  1,
	},
	{Formula: "K+", Charge: 1},
	{Formula: "Li+", Charge: 1},
	{Formula: "Ca^2+", Charge: 2},
	{Formula: "Mg^2+", Charge: 2},
	{Formula: "Cl-", Charge: -1},
	{Formula: "Br-", Charge: -1},
	{Formula: "NO3-", Charge: -1},
	{Formula: "SO4^2-", Charge: -2},
}

// compound reads a dry formula as one of the forms of the system: by itself, or as a salt
// with one of the usual ions. ok is false when it is none.
func (s System) compound(f formula.Formula) (c Compound, ok bool) {
	wanted := atoms(f.Elements, f.Charge)
	for lost := range s.Protons() + 1 {
		form, err := formula.Parse(s.Form(lost))
		if err != nil {
			return c, false
		}
		if form.Charge == 0 && atoms(form.Elements, 0) == wanted {
			return Compound{Formula: f.String(), Units: []Units{{s, 1}}}, true
		}
		for _, ion := range counterions {
			if form.Charge*ion.Charge >= 0 {
				continue
			}
			units, ions := float64(abs(ion.Charge)), float64(abs(form.Charge))
			if units == ions {
				units, ions = 1, 1
			}
			of, err := formula.Parse(ion.Formula)
			if err == nil && atoms(together(form.Elements, units, of.Elements, ions), 0) == wanted {
				ion.Count = ions
				return Compound{Formula: f.String(), Units: []Units{{s, units}}, Ions: []Ion{ion}}, true
			}
		}
	}
	return c, false
}

func abs(n int) int { return max(n, -n) }

// together counts the atoms of so many units of two formulas.
func together(a []formula.Count, n float64, b []formula.Count, m float64) []formula.Count {
	var list []formula.Count
	add := func(of []formula.Count, times float64) {
		for _, e := range of {
			if i := slices.IndexFunc(list, func(x formula.Count) bool { return x.Symbol == e.Symbol }); i >= 0 {
				list[i].Atoms += times * e.Atoms
			} else {
				list = append(list, formula.Count{Symbol: e.Symbol, Atoms: times * e.Atoms})
			}
		}
	}
	add(a, n)
	add(b, m)
	return list
}

// atoms writes what a formula is made of, the same for all its spellings.
func atoms(elements []formula.Count, charge int) string {
	elements = slices.Clone(elements)
	slices.SortFunc(elements, func(a, b formula.Count) int { return strings.Compare(a.Symbol, b.Symbol) })
	var text strings.Builder
	for _, e := range elements {
		fmt.Fprintf(&text, "%s%g ", e.Symbol, e.Atoms)
	}
	fmt.Fprint(&text, charge)
	return text.String()
}
