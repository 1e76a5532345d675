package solution

import (
	"fmt"

	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
)

// solutionMass is the reading in g that a solution made up by mass is brought to.
func (c *context) solutionMass() float64 {
	return c.flask.Volume * c.density.Value / c.buoyancyOf(c.density.Value).Value
}

// plannedVolume is the volume in mL at 20 °C when all is done by the recipe.
func (c *context) plannedVolume() uncertain.Number {
	switch c.MakeUp {
	case ByMass:
		return c.volumeByMass(c.solutionMass(), "solution")
	case ByAdding:
		masses := c.plannedMasses()
		return c.volumeByAdding(c.waterToAdd(masses), masses)
	}
	return c.flask.Contents(glassware.ReferenceTemperature, c.temperatureLimits, "")
}

// volumeByMass is V = W·b/ρ in mL, of a solution that reads W in g on the balance.
func (c *context) volumeByMass(reading float64, id string) uncertain.Number {
	return c.Balance.Net(reading, 0, id).Times(c.buoyancyOf(c.density.Value)).Over(c.density)
}

// plannedMasses are the masses in g of what goes in by the recipe, as they are weighed.
func (c *context) plannedMasses() []uncertain.Number {
	masses := make([]uncertain.Number, 0, 1+len(c.others))
	for o := range c.solutes() {
		masses = append(masses, o.netMass(o.taking(c.flask), 0, "portion").Times(o.buoyancy))
	}
	return masses
}

// What becomes of the volume of a solid when it dissolves, as a part of it: molecules
// keep theirs (urea 0.96, glycine 0.92, glucose 0.95, sucrose 0.98 of the crystal's), ions
// draw the water in around them (sodium hydroxide about 0, sodium chloride 0.7, potassium
// chloride 0.8). By the apparent molar volumes and densities of handbooks, from memory.
const (
	moleculeKeeps, moleculeLimits = 0.97, 0.08
	saltKeeps, saltLimits         = 0.55, 0.55
)

// contraction is by how much a concentrated liquid and water shrink at most when mixed,
// half and half: from next to nothing (hydrochloric acid) to 8 % (sulfuric acid), 4 % of
// ethanol (handbook densities, from memory).
const contraction, contractionLimits = 0.04, 0.04

// waterToAdd is the water in mL that brings what is to be dissolved, as masses in g, to
// the volume wanted.
func (c *context) waterToAdd(masses []uncertain.Number) float64 {
	low, high := 0.0, c.flask.Volume*2
	for range 60 { // the volume rises with the water: halve the interval
		if mid := (low + high) / 2; c.mixed(uncertain.Exact(mid), masses).Value < c.flask.Volume {
			low = mid
		} else {
			high = mid
		}
	}
	return (low + high) / 2
}

// sayWater writes a volume of water as the glass reads it.
func (c *context) sayWater(mL float64) string {
	return quantity.Digits(mL, c.added.Decimals()) + " mL"
}

// volumeByAdding is the volume in mL of a solution to which so much water was added.
// Where it is not calculated from a density, the allowance of rule M-9 comes on top.
func (c *context) volumeByAdding(mL float64, masses []uncertain.Number) uncertain.Number {
	volume := c.mixed(c.added.Reading(mL, ""), masses)
	if c.SolutionDensity > 0 {
		return volume
	}
	allowance := c.Thresholds.Of(RuleAdding) / 100
	return volume.Times(uncertain.WithLimits(1, allowance, uncertain.RectangularShape, uncertain.Source{
		ID: "not additive", Label: "volumes are not additive", Basis: fmt.Sprintf("±%g %%, rectangular, rule M-9", 100*allowance),
	}))
}

// mixed is the volume in mL of water with what is dissolved in it: from the density of
// the solution where that was stated,
//
//	V = (m + V_water·ρ_water)/ρ
//
// else V = V_water + Σ φ·m/ρ of solids, and of a liquid
//
//	V = (V_liquid + V_water)·(1 − 4·x·(1 − x)·κ), x = V_liquid/(V_liquid + V_water)
func (c *context) mixed(water uncertain.Number, masses []uncertain.Number) uncertain.Number {
	if c.SolutionDensity > 0 {
		sum := water.Scale(glassware.WaterDensity(glassware.ReferenceTemperature) / 1000)
		for _, m := range masses {
			sum = sum.Plus(m)
		}
		return sum.Over(c.density)
	}
	if c.Substance.Liquid {
		liquid := masses[0].Scale(1 / c.Substance.Density)
		if c.byVolume {
			liquid = masses[0].Over(c.liquid)
		}
		x := liquid.Value / (liquid.Value + water.Value)
		kappa := uncertain.WithLimits(contraction, contractionLimits, uncertain.RectangularShape, uncertain.Source{
			ID: "contraction", Label: "liquid and water shrink", Basis: "0 to 8 % half and half, rectangular",
		})
		return liquid.Plus(water).Times(uncertain.Exact(1).Minus(kappa.Scale(4 * x * (1 - x))))
	}
	volume, i := water, 0
	for o := range c.solutes() {
		keeps, limits := saltKeeps, saltLimits
		if molecular(o.solid) {
			keeps, limits = moleculeKeeps, moleculeLimits
		}
		phi := uncertain.WithLimits(keeps, limits, uncertain.RectangularShape, uncertain.Source{
			ID:    "dissolved volume " + o.Substance.Key,
			Label: "volume of what is dissolved",
			Basis: fmt.Sprintf("%g ± %g of the solid’s, rectangular", keeps, limits),
		})
		volume = volume.Plus(masses[i].Scale(1 / o.solidDensity()).Times(phi))
		i++
	}
	return volume
}

// solidDensity in g/mL, of what is weighed.
func (c *context) solidDensity() float64 {
	if c.Substance.Density > 0 {
		return c.Substance.Density
	}
	return unknownDensity
}

// molecular reports whether a solid is made of molecules: carbon, and no metal in it.
func molecular(f formula.Formula) bool {
	for _, e := range f.Elements {
		if !formula.NonMetal(e.Symbol) {
			return false
		}
	}
	return f.Atoms("C") > 0
}
