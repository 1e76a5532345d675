// Package solution plans and accounts for standard solutions made from a solid
// in a volumetric flask.
//
// From the balance reading W (g, net), the assay w (g/g), the molar mass M
// (g/mol), the number ν of the entity wanted in one formula unit, and the volume V
// (L, at 20 °C):
//
//	n = b·W·w / M          amount of the compound, mol
//	c = ν·n / V            amount concentration of the entity, mol/L
//	γ = c·M(entity)        mass concentration of the entity, g/L
//
// b is the buoyancy factor of package weighing, V the contents of the flask of
// package glassware at the temperature of the solution. The plan is the same
// equation solved for W.
//
// A run is a list of facts (package fact). [Make] turns a request and the facts
// into an outcome: the state of each step, the figures with their uncertainty,
// and verdicts.
package solution
