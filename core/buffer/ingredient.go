package buffer

import (
	"fmt"
	"slices"
	"sync"

	"vialbench/core/equilibrium"
	"vialbench/core/formula"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
)

// Ingredient is what a buffer is made of: a solid that is weighed, or a liquid that is
// measured, a concentrated one or a stock solution.
type Ingredient struct {
	// Substance is the solid or the concentrated liquid; of a stock what is dissolved in it.
	Substance substance.Substance `json:"substance"`
	// Stock is the concentration of a stock in mol/L; zero of all else.
	Stock uncertain.Number `json:"stock"`
	// Bottle and Number are those of a stock that stands on the shelf; Left is how much of it
	// there is, in mL.
	Bottle string  `json:"bottle,omitempty"`
	Number int64   `json:"number,omitempty"`
	Left   float64 `json:"left,omitempty"`
	// Own is what it gives in water by a system of the lab's own; nil of what the library
	// knows.
	Own *equilibrium.Compound `json:"own,omitempty"`
	// listed reports that the lab entered it itself.
	listed bool
}

// Liquid reports whether it is measured by volume.
func (i Ingredient) Liquid() bool { return i.Stock.Value > 0 || i.Substance.Liquid }

// String names it as the run sheet does.
func (i Ingredient) String() string {
	switch {
	case i.Number > 0:
		return fmt.Sprintf("%s, bottle %d", i.Substance.Name, i.Number)
	case i.Stock.Value > 0:
		return fmt.Sprintf("%s, %s mol/L", i.Substance.Name, trim(i.Stock.Value))
	}
	return i.Substance.Name
}

// Compound is what it gives in water; ok is false when that is not known here.
func (i Ingredient) Compound() (c equilibrium.Compound, ok bool) {
	if i.Substance.Mixture != "" {
		return c, false
	}
	if i.Own != nil {
		return *i.Own, true
	}
	if known, ok := libraryCompounds()[i.Substance.Formula]; ok {
		return known.Compound, known.ok
	}
	return equilibrium.CompoundOf(i.Substance.Formula)
}

// with reads an ingredient by the systems of the lab's own, when one of them knows it.
func (i Ingredient) with(own []equilibrium.System) Ingredient {
	if len(own) == 0 || i.Substance.Mixture != "" {
		return i
	}
	if c, ok := equilibrium.CompoundOf(i.Substance.Formula, own...); ok && isOwn(c, own) {
		i.Own = &c
	}
	return i
}

func isOwn(c equilibrium.Compound, own []equilibrium.System) bool {
	return slices.ContainsFunc(c.Units, func(u equilibrium.Units) bool {
		return slices.ContainsFunc(own, func(s equilibrium.System) bool { return s.Key == u.System.Key })
	})
}

type known struct {
	equilibrium.Compound
	ok bool
}

// libraryCompounds are those of the library by their formulas as it writes them: a design
// looks at each of them many times.
var libraryCompounds = sync.OnceValue(func() map[string]known {
	all := map[string]known{}
	for _, s := range substance.Library() {
		c, ok := equilibrium.CompoundOf(s.Formula)
		all[s.Formula] = known{c, ok}
	}
	return all
})

// Molarity is the concentration of a liquid in mol/L.
func (i Ingredient) Molarity() uncertain.Number {
	if i.Stock.Value > 0 {
		return i.Stock
	}
	c, _ := i.Substance.Molarity()
	return c
}

// MolarMass in g/mol of what is weighed, assay and all: g of the solid for each mol.
func (i Ingredient) MolarMass() uncertain.Number {
	f, err := formula.Parse(i.Substance.Formula)
	if err != nil {
		return uncertain.Number{}
	}
	if i.Substance.Assay == 0 {
		return f.MolarMass()
	}
	return f.MolarMass().Over(uncertain.WithLimits(i.Substance.Assay, i.Substance.AssayLimits, uncertain.RectangularShape, uncertain.Source{
		ID:    "assay " + i.Substance.Key,
		Label: "assay",
		Basis: fmt.Sprintf("%g %% ± %g %%, rectangular", 100*i.Substance.Assay, 100*i.Substance.AssayLimits),
	}))
}

// Amount in mol of so much of it, in g or mL.
func (i Ingredient) Amount(taken uncertain.Number) uncertain.Number {
	if i.Liquid() {
		return taken.Times(i.Molarity()).Scale(1e-3)
	}
	return taken.Over(i.MolarMass())
}

// Unit is what it is taken in: g or mL.
func (i Ingredient) Unit() string {
	if i.Liquid() {
		return "mL"
	}
	return "g"
}

// For is how much of it, in its unit, holds so many mol.
func (i Ingredient) For(mol float64) float64 {
	if i.Liquid() {
		return mol * 1000 / i.Molarity().Value
	}
	return mol * i.MolarMass().Value
}

// Stock is a solution that stands on the shelf.
type Stock struct {
	Name    string `json:"name"`
	Formula string `json:"formula"` // of what is dissolved
	Key     string `json:"key,omitempty"`
	// Concentration in mol/L.
	Concentration uncertain.Number `json:"concentration"`
	Bottle        string           `json:"bottle"`
	Number        int64            `json:"number"`
	Left          float64          `json:"left"` // mL
	Hazards       []string         `json:"hazards,omitempty"`
}

// ingredient is what a buffer takes of it.
func (s Stock) ingredient() Ingredient {
	return Ingredient{
		Substance: substance.Substance{Key: s.Key, Name: s.Name, Formula: s.Formula, Hazards: s.Hazards}, Stock: s.Concentration,
		Bottle: s.Bottle, Number: s.Number, Left: s.Left,
	}
}

// id tells ingredients of one question apart.
func (i Ingredient) id() string {
	if i.Bottle != "" {
		return i.Bottle
	}
	return i.Substance.Key
}
