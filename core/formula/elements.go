package formula

import (
	"math"

	"vialbench/core/uncertain"
)

// element is one entry of the table of standard atomic weights.
type element struct {
	symbol, name string
	weight       float64 // conventional or standard atomic weight
	u            float64 // standard uncertainty
	source       uncertain.Source
}

// interval gives an element whose standard atomic weight is the interval [a, b].
func interval(symbol, name string, conventional, a, b float64) element {
	return element{symbol: symbol, name: name, weight: conventional, u: (b - a) / math.Sqrt(12)}
}

// stated gives an element whose standard atomic weight has the uncertainty limits.
func stated(symbol, name string, weight, limits float64) element {
	return element{symbol: symbol, name: name, weight: weight, u: limits / math.Sqrt(3)}
}

// elements: standard atomic weights 2021 (Prohaska et al. 2022), from memory,
// checked against an independent table by elements_check.py. Elements without a
// standard atomic weight (no stable isotopes) are left out.
var elements = []element{
	interval("H", "hydrogen", 1.008, 1.00784, 1.00811),
	stated("He", "helium", 4.002602, 0.000002),
	interval("Li", "lithium", 6.94, 6.938, 6.997),
	stated("Be", "beryllium", 9.0121831, 0.0000005),
	interval("B", "boron", 10.81, 10.806, 10.821),
	interval("C", "carbon", 12.011, 12.0096, 12.0116),
	interval("N", "nitrogen", 14.007, 14.00643, 14.00728),
	interval("O", "oxygen", 15.999, 15.99903, 15.99977),
	stated("F", "fluorine", 18.998403162, 0.000000005),
	stated("Ne", "neon", 20.1797, 0.0006),
	stated("Na", "sodium", 22.98976928, 0.00000002),
	interval("Mg", "magnesium", 24.305, 24.304, 24.307),
	stated("Al", "aluminium", 26.9815384, 0.0000003),
	interval("Si", "silicon", 28.085, 28.084, 28.086),
	stated("P", "phosphorus", 30.973761998, 0.000000005),
	interval("S", "sulfur", 32.06, 32.059, 32.076),
	interval("Cl", "chlorine", 35.45, 35.446, 35.457),
	interval("Ar", "argon", 39.95, 39.792, 39.963),
	stated("K", "potassium", 39.0983, 0.0001),
	stated("Ca", "calcium", 40.078, 0.004),
	stated("Sc", "scandium", 44.955907, 0.000004),
	stated("Ti", "titanium", 47.867, 0.001),
	stated("V", "vanadium", 50.9415, 0.0001),
	stated("Cr", "chromium", 51.9961, 0.0006),
	stated("Mn", "manganese", 54.938043, 0.000002),
	stated("Fe", "iron", 55.845, 0.002),
	stated("Co", "cobalt", 58.933194, 0.000003),
	stated("Ni", "nickel", 58.6934, 0.0004),
	stated("Cu", "copper", 63.546, 0.003),
	stated("Zn", "zinc", 65.38, 0.02),
	stated("Ga", "gallium", 69.723, 0.001),
	stated("Ge", "germanium", 72.630, 0.008),
	stated("As", "arsenic", 74.921595, 0.000006),
	stated("Se", "selenium", 78.971, 0.008),
	interval("Br", "bromine", 79.904, 79.901, 79.907),
	stated("Kr", "krypton", 83.798, 0.002),
	stated("Rb", "rubidium", 85.4678, 0.0003),
	stated("Sr", "strontium", 87.62, 0.01),
	stated("Y", "yttrium", 88.905838, 0.000002),
	stated("Zr", "zirconium", 91.224, 0.002),
	stated("Nb", "niobium", 92.90637, 0.00001),
	stated("Mo", "molybdenum", 95.95, 0.01),
	stated("Ru", "ruthenium", 101.07, 0.02),
	stated("Rh", "rhodium", 102.90549, 0.00002),
	stated("Pd", "palladium", 106.42, 0.01),
	stated("Ag", "silver", 107.8682, 0.0002),
	stated("Cd", "cadmium", 112.414, 0.004),
	stated("In", "indium", 114.818, 0.001),
	stated("Sn", "tin", 118.710, 0.007),
	stated("Sb", "antimony", 121.760, 0.001),
	stated("Te", "tellurium", 127.60, 0.03),
	stated("I", "iodine", 126.90447, 0.00003),
	stated("Xe", "xenon", 131.293, 0.006),
	stated("Cs", "caesium", 132.90545196, 0.00000006),
	stated("Ba", "barium", 137.327, 0.007),
	stated("La", "lanthanum", 138.90547, 0.00007),
	stated("Ce", "cerium", 140.116, 0.001),
	stated("Pr", "praseodymium", 140.90766, 0.00001),
	stated("Nd", "neodymium", 144.242, 0.003),
	stated("Sm", "samarium", 150.36, 0.02),
	stated("Eu", "europium", 151.964, 0.001),
	stated("Gd", "gadolinium", 157.25, 0.03),
	stated("Tb", "terbium", 158.925354, 0.000007),
	stated("Dy", "dysprosium", 162.500, 0.001),
	stated("Ho", "holmium", 164.930329, 0.000005),
	stated("Er", "erbium", 167.259, 0.003),
	stated("Tm", "thulium", 168.934219, 0.000005),
	stated("Yb", "ytterbium", 173.045, 0.010),
	stated("Lu", "lutetium", 174.9668, 0.0001),
	stated("Hf", "hafnium", 178.486, 0.006),
	stated("Ta", "tantalum", 180.94788, 0.00002),
	stated("W", "tungsten", 183.84, 0.01),
	stated("Re", "rhenium", 186.207, 0.001),
	stated("Os", "osmium", 190.23, 0.03),
	stated("Ir", "iridium", 192.217, 0.002),
	stated("Pt", "platinum", 195.084, 0.009),
	stated("Au", "gold", 196.966570, 0.000004),
	stated("Hg", "mercury", 200.592, 0.003),
	interval("Tl", "thallium", 204.38, 204.382, 204.385),
	interval("Pb", "lead", 207.2, 206.14, 207.94),
	stated("Bi", "bismuth", 208.98040, 0.00001),
	stated("Th", "thorium", 232.0377, 0.0004),
	stated("Pa", "protactinium", 231.03588, 0.00001),
	stated("U", "uranium", 238.02891, 0.00003),
}

var elementOf = func() map[string]*element {
	table := make(map[string]*element, len(elements))
	for i := range elements {
		e := &elements[i]
		e.source = uncertain.Source{ID: "atomic weight " + e.symbol, Label: "atomic weights", Basis: "IUPAC 2021"}
		table[e.symbol] = e
	}
	return table
}()

// nonMetals: for these a trailing "2-" after a bare symbol is an index, not a charge.
var nonMetals = map[string]bool{
	"H": true, "He": true, "B": true, "C": true, "N": true, "O": true, "F": true, "Ne": true, "Si": true, "P": true,
	"S": true, "Cl": true, "Ar": true, "As": true, "Se": true, "Br": true, "Kr": true, "Te": true, "I": true, "Xe": true,
}

// NonMetal reports whether an element is a non-metal.
func NonMetal(symbol string) bool { return nonMetals[symbol] }
