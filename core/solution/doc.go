// Package solution plans and accounts for standard solutions made in a volumetric
// flask from a solid or from a concentrated liquid.
//
// From the balance reading W (g, net), the assay w (g/g), the molar mass M of what
// is weighed (g/mol, its water of crystallisation included), the number ν of the
// entity wanted in one compound, and the volume V (L, at 20 °C):
//
//	n = b·W·w / M          amount of the compound, mol
//	c = ν·n / V            amount concentration of the entity, mol/L
//
// and from c the other bases: mass concentration, mass fraction, molality and
// equivalents (basis.go). A liquid that is measured by volume has W = V(liquid)·ρ.
// b is the buoyancy factor of package weighing, V the contents of the flask of
// package glassware at the temperature of the solution. The plan is the same
// equation solved for W.
//
// A run is a list of facts (package fact). [Make] turns a request and the facts
// into an outcome: the state of each step, the figures with their uncertainty,
// and verdicts. [Confirm] checks that uncertainty by drawing.
package solution
