package solution

import (
	"math"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// saturatedKeeps is what part of its volume a solid keeps in a saturated solution, by
// the densities of saturated sodium and potassium chloride (handbooks, from memory).
const saturatedKeeps = 0.8

// saturation is how many g of the named compound 100 mL of a saturated solution hold,
// from what dissolves in 100 mL of water:
//
//	s' = s/(1 + φ·s/(100·ρ)), φ = 0.8
func (c *context) saturation() float64 {
	s := c.Substance.Solubility
	return s / (1 + saturatedKeeps*s/(100*c.solidDensity()))
}

// solubilityVerdict says whether a mass in g dissolves.
func (c *context) solubilityVerdict(reading float64) (verdict.Verdict, bool) {
	if c.Substance.DissolveIn != "" {
		return RuleSolubility.Says(
			verdict.Look,
			nil,
			"Hardly dissolves in water alone: dissolve it in %s first, then make up with water.",
			c.Substance.DissolveIn,
		), true
	}
	if c.Substance.Solubility == 0 {
		return verdict.Verdict{}, false
	}
	most := c.saturation()
	perHundred := reading / c.flask.Volume * 100 * c.molar.Value / c.weighed.Value
	switch used := 100 * perHundred / most; {
	case used > 100:
		return RuleSolubility.Says(
			verdict.Stop,
			nil,
			"This much does not dissolve: %s g in 100 mL, and 100 mL of saturated solution hold %.3g g at 20 °C. At most about %.2g %s.",
			quantity.Digits(perHundred, 1),
			most,
			c.Concentration.Value*most/perHundred,
			c.unitLabel(c.Concentration.Unit.Symbol),
		), true
	case used > c.Thresholds.Of(RuleSolubility):
		return RuleSolubility.Says(
			verdict.Look,
			nil,
			"This is %.0f %% of what dissolves (%.3g g in 100 mL at 20 °C). Allow time, and keep the room warm.",
			used,
			most,
		), true
	}
	return verdict.Verdict{}, false
}

// scantVerdict says that too little of a liquid is to be measured, and which stronger
// solution to make first.
func (c *context) scantVerdict() (verdict.Verdict, bool) {
	least := c.Thresholds.Of(RuleSmallVolume)
	take := c.taking(c.flask)
	if !c.byVolume || take >= least*c.measure.Division() {
		return verdict.Verdict{}, false
	}
	factor := math.Pow(10, math.Ceil(math.Log10(least*c.measure.Division()/take)))
	level := verdict.Look
	if take < c.measure.Division() {
		level = verdict.Stop
	}
	return RuleSmallVolume.Says(level, nil, "%.2g mL is %.2g divisions of a %s. Make it %g times as strong first, and dilute that 1 in %g.",
		take, take/c.measure.Division(), c.measure.Name(), factor, factor), true
}
