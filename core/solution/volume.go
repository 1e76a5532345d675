package solution

import (
	"fmt"

	"vialbench/core/glassware"
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
		return c.volumeByAdding(c.flask.Volume)
	}
	return c.flask.Contents(glassware.ReferenceTemperature, assumedTemperatureLimits)
}

// volumeByMass is V = W·b/ρ in mL, of a solution that reads W in g on the balance.
func (c *context) volumeByMass(reading float64, id string) uncertain.Number {
	return c.Balance.Net(reading, 0, id).Times(c.buoyancyOf(c.density.Value)).Over(c.density)
}

// volumeByAdding is the volume in mL of a solution to which so much water was
// added: the same volume, within the allowance of rule M-9.
func (c *context) volumeByAdding(mL float64) uncertain.Number {
	allowance := c.Thresholds.Of(RuleAdding) / 100
	return c.added.Reading(mL).Times(uncertain.WithLimits(1, allowance, uncertain.RectangularShape, uncertain.Source{
		ID: "not additive", Label: "volumes are not additive", Basis: fmt.Sprintf("±%g %%, rectangular, rule M-9", 100*allowance)}))
}
