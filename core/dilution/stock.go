package dilution

import (
	"fmt"
	"strings"

	"vialbench/core/equilibrium"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Stock is what is diluted.
type Stock struct {
	Name    string          `json:"name"`
	Formula []formula.Piece `json:"formula,omitempty"`
	Unit    string          `json:"unit"` // "mol/L", "mg/L P"
	// Concentration in Unit, with all that adds to its uncertainty.
	Concentration uncertain.Number `json:"concentration"`
	// Expanded uncertainty at k = 2 in Unit, as the certificate or the label of a
	// stock states it that was not made here; 0 when it counts as exact.
	Expanded float64 `json:"expanded,omitempty"`
	// Bottle it is taken from, by its ID and its Number, and how much of it is left in
	// mL; empty and 0 when it is not on the shelf.
	Bottle string  `json:"bottle,omitempty"`
	Number int64   `json:"number,omitempty"`
	Left   float64 `json:"left,omitempty"`
	// Approximate reports whether it was never standardised and is not a primary standard.
	Approximate bool `json:"approximate,omitempty"`
	// Concentrate reports whether it is a concentrated liquid, of the substance with this
	// Key: solvent first, in the hood.
	Concentrate bool   `json:"concentrate,omitempty"`
	Key         string `json:"key,omitempty"`
	// Density in g/mL at 20 °C within ±DensityLimits (rectangular), of a stock that
	// portions are weighed of; 0 when they are not.
	Density       float64 `json:"density,omitempty"`
	DensityLimits float64 `json:"densityLimits,omitempty"`
	// Ingredients are what the hazards of the tubes are calculated with.
	Ingredients []substance.Ingredient `json:"ingredients,omitempty"`
	// Mixture is what is dissolved in a buffer, whose pH moves when it is diluted.
	Mixture *equilibrium.Mixture `json:"mixture,omitempty"`
}

// String names the stock, with its bottle.
func (s Stock) String() string {
	if s.Number == 0 {
		return s.Name
	}
	return fmt.Sprintf("%s, bottle %d", s.Name, s.Number)
}

// stated takes an expanded uncertainty that was stated into the concentration
// (GUM 4.3.3: u = U/k).
func (s Stock) stated() Stock {
	if s.Expanded > 0 {
		s.Concentration = uncertain.New(s.Concentration.Value, s.Expanded/2, uncertain.Source{
			ID: "stock as stated", Label: "the stock",
			Basis: fmt.Sprintf("± %s %s at k = 2, as stated", short(s.Expanded), s.Unit), Shape: uncertain.NormalShape,
		})
	}
	return s
}

// perVolume tells a stock that is stated by mass of solution in g/L, by its density: what
// is measured by volume is divided by volume.
//
//	γ = 1000·w·ρ
func (s Stock) perVolume(p *verdict.Problems) Stock {
	unit, err := quantity.UnitOf(s.Unit)
	switch {
	case err != nil || unit.Dimension.PerVolume():
		return s
	case unit.Dimension != quantity.MassFraction:
		p.Add("/stock/unit", "a dilution by volume starts from a strength per volume, like mol/L or g/L: %s counts by mass", s.Unit)
	case !(s.Density >= 0.5 && s.Density <= 3.5):
		p.Add(
			"/stock/density",
			"a stock in %s is diluted by volume once its density is known, in g/mL at 20 °C: then the tubes are told in g/L",
			s.Unit,
		)
	default:
		grams := s.Concentration.Scale(unit.Factor).Times(s.density()).Scale(1000)
		s.Unit, s.Concentration, s.Expanded = "g/L"+strings.TrimPrefix(s.Unit, unit.Symbol), grams, 0
	}
	return s
}

// contains are the ingredients of the stock, of a concentrate that the library has by
// itself.
func (s Stock) contains() []substance.Ingredient {
	if len(s.Ingredients) > 0 || s.Key == "" {
		return s.Ingredients
	}
	for _, known := range substance.Library() {
		if known.Key == s.Key {
			return []substance.Ingredient{{Key: s.Key, Grams: 1000 * known.Density * known.MassFraction, Hazards: known.Hazards}}
		}
	}
	return nil
}

// The largest figures taken in: more than any bench has, in whichever unit.
const (
	maxConcentration = 1e9
	maxVolume        = 1e5 // mL
)

func (s Stock) check(p *verdict.Problems) {
	if c := s.Concentration.Value; !(c > 0 && c <= maxConcentration) {
		p.Add(
			"/stock/concentration",
			"the concentration of the stock is above zero, and at most %s %s",
			quantity.Digits(maxConcentration, 0),
			s.Unit,
		)
	}
}

// molarity of the stock in mol/L; 0 when its unit tells of no amount.
func (s Stock) molarity() float64 {
	if unit, err := quantity.FindUnit(s.Unit); err == nil && unit.Dimension == quantity.AmountConcentration {
		return s.Concentration.Value * unit.Factor
	}
	return 0
}

// density of the stock in g/mL. The concentration of a concentrated liquid comes from
// the same density (c = 1000·ρ·w/M): the two share their error, which cancels, since a
// weighed portion holds an amount m·w/M that the density has no part in.
func (s Stock) density() uncertain.Number {
	for _, c := range s.Concentration.Contributions {
		if s.Concentrate && c.ID == substance.DensitySource+s.Key {
			c.U *= s.Density / s.Concentration.Value
			return uncertain.Number{Value: s.Density, Contributions: []uncertain.Contribution{c}}
		}
	}
	return uncertain.WithLimits(s.Density, s.DensityLimits, uncertain.RectangularShape, uncertain.Source{
		ID: "density of the stock", Label: "density of the stock", Basis: fmt.Sprintf("%g ± %g g/mL, rectangular", s.Density, s.DensityLimits),
	})
}
