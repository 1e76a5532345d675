package solution

import (
	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/slip"
)

// leastShare is from which mass fraction on an element is one that people would take for the whole salt.
const leastShare = 0.1

// Trace implements [slip.Traceable] of one solid that was weighed and made up in a flask to a concentration in mol/L.
func (r Request) Trace(facts []fact.Fact) (w slip.Worked, ok bool) {
	c, err := r.check()
	if err != nil || len(r.Also) > 0 || r.Of != "" || r.Concentration.Unit.Dimension != quantity.AmountConcentration {
		return w, false
	}
	a := c.account(facts)
	if len(a.shown) == 0 || a.takings[0].byVolume || a.madeUp != nil {
		return w, false
	}
	t, found := a.takings[0], a.shown[0]
	unit, err := quantity.FindUnit(found.Unit)
	if err != nil || !(t.net.Value > 0) {
		return w, false
	}
	value := found.Value * unit.Factor
	flask := slip.Glass{ML: a.flask.Volume, Others: glassware.Flasks(nil).Volumes(r.FlaskClass)}
	s := slip.Solution{
		Mass: t.net.Value, MolarMass: t.molar.Value, Flask: flask, Division: r.Balance.Resolution,
		// What else is put into it: assay, water that dries off, buoyancy.
		Purity: quantity.Significant(value*t.molar.Value*a.flask.Volume/1000/t.net.Value, 9),
	}
	s.Ions = map[string]float64{}
	for _, e := range t.formula.Composition() {
		if e.Fraction > leastShare {
			s.Ions[e.Name] = t.formula.MolarMass().Value * e.Fraction / e.Atoms
		}
	}
	if dry := t.anhydrous.MolarMass().Value; dry != t.molar.Value {
		s.Hydrates = map[string]float64{"anhydrous": dry}
	}
	return slip.Worked{
		Figures: slip.Figures{Solution: &s}, Unit: "mol/L", Value: value, U: found.Expanded * unit.Factor,
	}, true
}
