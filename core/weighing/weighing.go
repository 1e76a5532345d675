// Package weighing turns what a balance shows into a mass with its uncertainty.
//
// A reading r has the independent sources
//
//	repeatability   s                       (normal)
//	resolution      d/2, rectangular        u = d/√12
//	linearity       ±l, rectangular         u = l/√3
//
// each of them once per reading, so that a net mass, the difference of two
// readings (tared zero and load, or vessel before and after), carries each twice
// (EURACHEM/CITAC CG 4, example A2).
//
// A balance is adjusted with weights of 8000 kg/m³ in air of density ρa, so that
// what it shows is a conventional mass W; the mass of a solid of density ρs is
//
//	m = W·(1 − ρa/8000)/(1 − ρa/ρs)
//
// (OIML R 111-1; ρs and ρa in kg/m³).
package weighing

import (
	"fmt"
	"math"

	"vialbench/core/uncertain"
)

// Balance is what the maker or the last check says of a balance, all in g.
type Balance struct {
	Name     string  `json:"name"`
	Capacity float64 `json:"capacity"`
	// Resolution is the last digit shown.
	Resolution float64 `json:"resolution"`
	// Repeatability is the standard deviation of repeated weighings.
	Repeatability float64 `json:"repeatability"`
	// Linearity is the largest departure over the range, ±.
	Linearity float64 `json:"linearity"`
	// FailedCheck reports whether it failed its last check; it is no property of the piece, and kept nowhere.
	FailedCheck bool `json:"failedCheck,omitempty" gorm:"-"`
}

// Check returns an error that says what a balance lacks.
func (b Balance) Check() error {
	switch {
	case b.Name == "":
		return fmt.Errorf("a balance needs a name")
	case !(b.Resolution >= 1e-7 && b.Resolution <= 100):
		return fmt.Errorf("the resolution of a balance is between 0.0000001 g and 100 g")
	case !(b.Capacity > b.Resolution && b.Capacity <= 1e5):
		return fmt.Errorf("the capacity is more than one last digit and at most 100 kg")
	case !(b.Repeatability >= 0 && b.Repeatability < b.Capacity), !(b.Linearity >= 0 && b.Linearity < b.Capacity):
		return fmt.Errorf("repeatability and linearity are zero or more, and less than the capacity")
	}
	return nil
}

// Usual is an analytical balance as teaching laboratories have them, which is assumed
// until the lab's own is entered (common practice).
func Usual() Balance {
	return Balance{Name: "a usual analytical balance", Capacity: 220, Resolution: 0.0001, Repeatability: 0.0001, Linearity: 0.0002}
}

// Decimals returns the digits after the point that the balance shows in g.
func (b Balance) Decimals() int { return max(0, int(math.Round(-math.Log10(b.Resolution)+0.3))) }

// SmallestMass returns the smallest sensible net mass in g for a relative
// uncertainty, by the rule of USP <41>: 2·s/tolerance, and never less than
// 2·0.41·d/tolerance.
func (b Balance) SmallestMass(tolerance float64) float64 {
	return 2 * math.Max(b.Repeatability, 0.41*b.Resolution) / tolerance
}

// Reading returns one reading in g with its sources. The id keeps the readings
// of one run apart.
func (b Balance) Reading(grams float64, id string) uncertain.Number {
	const linearity, repeatability, resolution = "balance linearity ", "balance repeatability ", "balance resolution "
	n := uncertain.Number{Value: grams, Contributions: make([]uncertain.Contribution, 0, 3)} // in the order of their IDs
	ids := linearity + id + repeatability + id + resolution + id                             // in one piece
	add := func(length int, u float64, shape uncertain.Shape) {
		if u > 0 {
			n.Contributions = append(n.Contributions, uncertain.Contribution{U: u, Source: uncertain.Source{
				ID:    ids[:length],
				Label: "weighing",
				Basis: "repeatability, resolution and linearity of the balance, twice",
				Shape: shape,
			}})
		}
		ids = ids[length:]
	}
	add(len(linearity)+len(id), uncertain.Rectangular(b.Linearity), uncertain.RectangularShape)
	add(len(repeatability)+len(id), b.Repeatability, uncertain.NormalShape)
	add(len(resolution)+len(id), b.Resolution/math.Sqrt(12), uncertain.RectangularShape)
	return n
}

// Net returns load − tare in g, both readings on the same balance.
func (b Balance) Net(load, tare float64, id string) uncertain.Number {
	return b.Reading(load, id+" load").Minus(b.Reading(tare, id+" tare"))
}

// The densities for buoyancy, in kg/m³. The air of a laboratory between sea
// level and about 900 m, 15 to 27 °C, lies within AirDensity ± airLimits.
const (
	WeightDensity = 8000.0
	AirDensity    = 1.2
	airLimits     = 0.1
)

// Buoyancy returns m/W for a solid of a density in kg/m³ in usual laboratory air,
// with the density of the air as its source.
func Buoyancy(solid float64) uncertain.Number {
	factor := func(air float64) float64 { return (1 - air/WeightDensity) / (1 - air/solid) }
	slope := factor(AirDensity+airLimits) - factor(AirDensity)
	return uncertain.New(factor(AirDensity), slope/math.Sqrt(3), uncertain.Source{
		ID: "air density", Shape: uncertain.RectangularShape, Label: "air buoyancy", Basis: "air 1.2 ± 0.1 kg/m³, rectangular",
	})
}

// NoBuoyancy returns 1 with the size of the correction that was not made as
// limits (rectangular).
func NoBuoyancy(solid float64) uncertain.Number {
	return uncertain.WithLimits(1, Buoyancy(solid).Value-1, uncertain.RectangularShape, uncertain.Source{
		ID: "air buoyancy", Label: "air buoyancy", Basis: "not corrected; its size counted as limits",
	})
}
