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

// Compound is what a substance brings into water: units of systems, and strong ions. Which
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

// CompoundOf finds what a compound brings into water by its formula, in any spelling, and
// with any water of crystallisation. Of isomers it knows the usual one: C4H4O4 is maleic
// acid. ok is false when the compound is not known here.
func CompoundOf(text string) (c Compound, ok bool) {
	f, err := formula.Parse(text)
	if err != nil {
		return c, false
	}
	if dry, err := f.WithWaters(0); err == nil {
		f = dry
	}
	i, ok := library.byAtoms[atoms(f)]
	if !ok {
		return c, false
	}
	return library.compounds[i], true
}

// atoms writes what a formula is made of, the same for all its spellings.
func atoms(f formula.Formula) string {
	elements := slices.Clone(f.Elements)
	slices.SortFunc(elements, func(a, b formula.Count) int { return strings.Compare(a.Symbol, b.Symbol) })
	var text strings.Builder
	for _, e := range elements {
		fmt.Fprintf(&text, "%s%g ", e.Symbol, e.Atoms)
	}
	fmt.Fprint(&text, f.Charge)
	return text.String()
}
