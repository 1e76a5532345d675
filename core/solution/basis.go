package solution

import (
	"fmt"

	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// basis is one usual way of saying how strong a solution is: how it is read into
// an amount concentration of the entity, and written back out of one.
type basis struct {
	symbol string
	// read returns c of the entity in mol/L for a wanted value in the base unit.
	read func(c *context, wanted float64) float64
	// write returns the value in the base unit for c of the compound in mol/L.
	write func(c *context, compound uncertain.Number) uncertain.Number
	// formula shows write and inverse read, for the working; put sets the values into the
	// one, given the concentration of the compound, and putInverse into the other.
	formula, inverse string
	put              func(c *context, compound uncertain.Number) string
	putInverse       func(c *context) string
	// needsDensity reports whether the density of the solution comes in.
	needsDensity bool
}

// bases by the dimension of what is asked for. M is the molar mass of the entity
// or of the compound in g/mol, ρ the density of the solution in g/mL, ν the number
// of entities in one compound, z its equivalents.
var bases = map[quantity.Dimension]basis{
	quantity.AmountConcentration: {
		symbol:  "c",
		read:    func(_ *context, wanted float64) float64 { return wanted },
		write:   func(c *context, compound uncertain.Number) uncertain.Number { return compound.Scale(c.nu) },
		formula: `c = \nu\,c_{\mathrm{compound}}`,
		inverse: `c = c`,
		put: func(c *context, compound uncertain.Number) string {
			return fmt.Sprintf(`%g \times %s`, c.nu, working.Value(compound, "mol/L"))
		},
		putInverse: func(c *context) string {
			return c.wanted()
		},
	},
	quantity.MassConcentration: { // γ = c·M(entity)
		symbol:  `\gamma`,
		read:    func(c *context, wanted float64) float64 { return wanted / c.entity.Value },
		write:   massConcentration,
		formula: `\gamma = \nu\,c_{\mathrm{compound}}\,M_{\mathrm{entity}}`,
		inverse: `c = \frac{\gamma}{M_{\mathrm{entity}}}`,
		put: func(c *context, compound uncertain.Number) string {
			return fmt.Sprintf(`%g \times %s \times %s`, c.nu, working.Value(compound, "mol/L"), working.Value(c.entity, "g/mol"))
		},
		putInverse: func(c *context) string {
			return fmt.Sprintf(`\frac{%s}{%s}`, c.wanted(), working.Value(c.entity, "g/mol"))
		},
	},
	quantity.MassFraction: { // w = γ/(1000·ρ)
		symbol: "w",
		read:   func(c *context, wanted float64) float64 { return wanted * 1000 * c.density.Value / c.entity.Value },
		write: func(c *context, compound uncertain.Number) uncertain.Number {
			return massConcentration(c, compound).Over(c.density.Scale(1000))
		},
		formula: `w = \frac{\nu\,c_{\mathrm{compound}}\,M_{\mathrm{entity}}}{\rho}`,
		inverse: `c = \frac{w\,\rho}{M_{\mathrm{entity}}}`,
		put: func(c *context, compound uncertain.Number) string {
			return fmt.Sprintf(
				`\frac{%g \times %s \times %s}{%s}`,
				c.nu,
				working.Value(compound, "mol/L"),
				working.Value(c.entity, "g/mol"),
				working.Value(c.density, "g/mL"),
			)
		},
		putInverse: func(c *context) string {
			return fmt.Sprintf(`\frac{%s \times %s}{%s}`, c.wanted(), working.Value(c.density, "g/mL"), working.Value(c.entity, "g/mol"))
		},
		needsDensity: true,
	},
	quantity.Molality: { // b = ν·c/(ρ − c·M/1000), of the mass of all the water, that of a hydrate included
		symbol: "b",
		read: func(c *context, wanted float64) float64 {
			b := wanted / c.nu
			return c.nu * b * c.density.Value / (1 + b*c.anhydrous.MolarMass().Value/1000)
		},
		write: func(c *context, compound uncertain.Number) uncertain.Number {
			return compound.Scale(c.nu).Over(c.density.Minus(compound.Times(c.anhydrous.MolarMass()).Scale(1e-3)))
		},
		formula: `b = \frac{\nu\,c_{\mathrm{compound}}}{\rho - c_{\mathrm{compound}}\,M_{\mathrm{anhydrous}}}`,
		inverse: `c = \frac{b\,\rho}{1 + \frac{b}{\nu}\,M_{\mathrm{anhydrous}}}`,
		put: func(c *context, compound uncertain.Number) string {
			return fmt.Sprintf(
				`\frac{%g \times %s}{%s - %s \times %s}`,
				c.nu,
				working.Value(compound, "mol/L"),
				working.Value(c.density, "g/mL"),
				working.Value(compound, "mol/L"),
				working.Value(c.anhydrous.MolarMass(), "g/mol"),
			)
		},
		putInverse: func(c *context) string {
			return fmt.Sprintf(
				`\frac{%s \times %s}{1 + \frac{%s}{%g} \times %s}`,
				c.wanted(),
				working.Value(c.density, "g/mL"),
				c.wanted(),
				c.nu,
				working.Value(c.anhydrous.MolarMass(), "g/mol"),
			)
		},
		needsDensity: true,
	},
	quantity.VolumeFraction: { // φ = γ/(1000·ρ°), ρ° of the pure liquid
		symbol: `\varphi`,
		read:   func(c *context, wanted float64) float64 { return wanted * 1000 * c.Substance.Density / c.entity.Value },
		write: func(c *context, compound uncertain.Number) uncertain.Number {
			return massConcentration(c, compound).Scale(1 / (1000 * c.Substance.Density))
		},
		formula: `\varphi = \frac{c_{\mathrm{compound}}\,M}{\rho^{\circ}}`,
		inverse: `c = \frac{\varphi\,\rho^{\circ}}{M}`,
		put: func(c *context, compound uncertain.Number) string {
			return fmt.Sprintf(
				`\frac{%s \times %s}{%s}`,
				working.Value(compound, "mol/L"),
				working.Value(c.molar, "g/mol"),
				plain(c.Substance.Density, "g/mL"),
			)
		},
		putInverse: func(c *context) string {
			return fmt.Sprintf(`\frac{%s \times %s}{%s}`, c.wanted(), plain(c.Substance.Density, "g/mL"), working.Value(c.entity, "g/mol"))
		},
	},
	quantity.Equivalents: { // N = z·c
		symbol:  "N",
		read:    func(c *context, wanted float64) float64 { return wanted / c.EquivalentCount },
		write:   func(c *context, compound uncertain.Number) uncertain.Number { return compound.Scale(c.EquivalentCount) },
		formula: `N = z\,c_{\mathrm{compound}}`,
		inverse: `c = \frac{N}{z}`,
		put: func(c *context, compound uncertain.Number) string {
			return fmt.Sprintf(`%g \times %s`, c.EquivalentCount, working.Value(compound, "mol/L"))
		},
		putInverse: func(c *context) string {
			return fmt.Sprintf(`\frac{%s}{%g}`, c.wanted(), c.EquivalentCount)
		},
	},
}

// wanted sets the concentration that is asked for.
func (c *context) wanted() string { return plain(c.Concentration.Value, c.Concentration.Unit.Symbol) }

// purestLiquid is from which mass fraction on the density of a liquid is treated as
// that of the pure compound.
const purestLiquid = 0.98

// Bases lists the dimensions that a concentration may be asked for in, the usual
// ones first.
func Bases() []quantity.Dimension {
	return []quantity.Dimension{
		quantity.AmountConcentration,
		quantity.MassConcentration,
		quantity.MassFraction,
		quantity.Molality,
		quantity.Equivalents,
		quantity.VolumeFraction,
	}
}

func massConcentration(c *context, compound uncertain.Number) uncertain.Number {
	return compound.Scale(c.nu).Times(c.entity)
}

// readBasis checks what the basis of the target asks for and sets c.basis and
// c.target.
func (c *context) readBasis(p *verdict.Problems) {
	dimension := c.Concentration.Unit.Dimension
	known, ok := bases[dimension]
	if !ok {
		p.Add(
			"/concentration",
			"a concentration is in mol/L, g/L, %% w/v, %% w/w, %% v/v, mol/kg or eq/L, not in %s",
			c.Concentration.Unit.Symbol,
		)
		return
	}
	c.basis = known
	switch {
	case known.needsDensity && c.SolutionDensity == 0:
		p.Add(
			"/solutionDensity",
			"%s needs the density of the solution, in g/mL: look it up for this strength, or ask for mol/L or g/L instead",
			c.Concentration.Unit.Symbol,
		)
		return
	case c.SolutionDensity != 0 && !(c.SolutionDensity >= 0.5 && c.SolutionDensity <= 3):
		p.Add("/solutionDensity", "the density of an aqueous solution is between 0.5 and 3 g/mL")
		return
	case !(c.SolutionDensityLimits >= 0 && c.SolutionDensityLimits < 0.5):
		p.Add("/solutionDensityLimits", "the limits of the density are zero or more, and less than 0.5 g/mL")
		return
	case dimension == quantity.MassFraction && c.Concentration.Base() >= 1:
		p.Add("/concentration", "a solution holds less than 100 %% w/w of what is dissolved")
		return
	}
	if dimension == quantity.VolumeFraction && !c.checkVolumeFraction(p) || dimension == quantity.Equivalents && !c.checkEquivalents(p) {
		return
	}
	c.density = uncertain.WithLimits(c.SolutionDensity, c.SolutionDensityLimits, uncertain.RectangularShape, uncertain.Source{
		ID: "solution density", Label: "density of the solution", Basis: fmt.Sprintf("±%g g/mL, rectangular", c.SolutionDensityLimits),
	})
	c.target = known.read(c, c.Concentration.Base())
	if stock, ok := c.bottleStrength(); ok && c.target/c.nu > stock*(1+1e-9) {
		p.Add(
			"/concentration",
			"the bottle itself holds %.4g mol/L: nothing made from it is stronger. Ask for less, or take a stronger bottle",
			stock,
		)
		return
	}
	most := mostDissolved
	if c.SolutionDensity > 0 {
		most = min(most, 1000*c.SolutionDensity)
	}
	if dissolved := c.target / c.nu * c.molar.Value; !(dissolved < most) {
		p.Add("/concentration", "no solution holds that much: a litre of it has less than %g g dissolved in it", most)
	}
}

// checkVolumeFraction notes why a strength cannot be counted by volume; ok when it can.
func (c *context) checkVolumeFraction(p *verdict.Problems) (ok bool) {
	switch {
	case !c.Substance.Liquid || c.Assay < purestLiquid:
		p.Add(
			"/concentration",
			"a volume fraction is of a liquid that is itself at least %g %% pure, like ethanol: ask for mol/L, g/L or %% w/v instead",
			100*purestLiquid,
		)
	case c.Of != "":
		p.Add("/of", "a volume fraction counts the whole compound: leave “of” at the compound")
	case c.Concentration.Base() >= 1:
		p.Add("/concentration", "a solution holds less than 100 %% v/v of what is dissolved")
	default:
		return true
	}
	return false
}

// checkEquivalents notes what equivalents lack; ok when they are whole.
func (c *context) checkEquivalents(p *verdict.Problems) (ok bool) {
	switch {
	case !(c.EquivalentCount > 0 && c.EquivalentCount <= 20):
		p.Add("/equivalentCount", "how many equivalents one formula unit has in the reaction: above 0, like 1 for HCl or 5 for KMnO4 in acid")
	case c.Reaction == "":
		p.Add("/reaction", "equivalents belong to a reaction: name it, like “acid–base” or “MnO4− to Mn2+”")
	case c.Of != "":
		p.Add("/of", "equivalents count the whole compound: leave “of” at the compound")
	default:
		return true
	}
	return false
}

// bottleStrength is what a bottle of concentrated liquid holds, in mol/L of the compound.
func (c *context) bottleStrength() (molarity float64, ok bool) {
	switch {
	case !c.Substance.Liquid:
		return 0, false
	case c.StatedMolarity > 0:
		return c.StatedMolarity, true
	}
	return 1000 * c.Substance.Density * c.Assay / c.molar.Value, true
}

// mostDissolved is more than the densest solutions in water weigh, in g/L (those of
// thallium(I) formate and malonate: about 4.3 g/mL, from memory).
const mostDissolved = 4500.0
