package solution

import (
	"fmt"
	"slices"
	"strings"

	"vialbench/core/formula"
	"vialbench/core/verdict"
)

// salt is a simple salt seen as its ions: the symbols of its cations, and its anion
// without the hydrogen that it may still hold (HCO3 counts as CO3). base is how many
// equivalents of strong acid one formula unit takes up, as alkalinity is told.
type salt struct {
	cations []string
	anion   string
	base    float64
}

// anions of the trade by their atoms without hydrogen, and how many charges each has.
var anions = []struct {
	name   string
	atoms  map[string]float64
	charge float64
}{
	{
		"F",
		map[string]float64{"F": 1},
		1,
	},
	{"Cl", map[string]float64{"Cl": 1}, 1},
	{"Br", map[string]float64{"Br": 1}, 1},
	{"I", map[string]float64{"I": 1}, 1},
	{"OH", map[string]float64{"O": 1}, 1},
	{"S", map[string]float64{"S": 1}, 2},
	{"NO3", map[string]float64{"N": 1, "O": 3}, 1},
	{
		"SO4",
		map[string]float64{"S": 1, "O": 4},
		2,
	},
	{"SO3", map[string]float64{"S": 1, "O": 3}, 2},
	{"S2O3", map[string]float64{"S": 2, "O": 3}, 2},
	{
		"CO3",
		map[string]float64{"C": 1, "O": 3},
		2,
	},
	{"PO4", map[string]float64{"P": 1, "O": 4}, 3},
	{"C2O4", map[string]float64{"C": 2, "O": 4}, 2},
	{
		"CrO4",
		map[string]float64{"Cr": 1, "O": 4},
		2,
	},
	{"IO3", map[string]float64{"I": 1, "O": 3}, 1},
	{"BrO3", map[string]float64{"Br": 1, "O": 3}, 1},
	{"SCN", map[string]float64{"S": 1, "C": 1, "N": 1}, 1},
	{"CN", map[string]float64{"C": 1, "N": 1}, 1},
	{"MoO4", map[string]float64{"Mo": 1, "O": 4}, 2},
	{"WO4", map[string]float64{"W": 1, "O": 4}, 2},
}

// amphoteric metals stand in an anion as often as they are a cation.
var inAnions = []string{"Cr", "Mo", "W"}

// ionsOf reads the ions of a simple salt, without its water; ok is false for anything
// else.
func ionsOf(f formula.Formula) (s salt, ok bool) {
	for _, a := range anions {
		rest, units := map[string]float64{}, 0.0
		for _, e := range f.Elements {
			rest[e.Symbol] = e.Atoms
		}
		hydrogen := rest["H"]
		delete(rest, "H")
		if units = takeAnion(rest, a.atoms); units == 0 {
			continue
		}
		if n := rest["N"]; n > 0 && hydrogen >= 4*n { // ammonium
			hydrogen -= 4 * n
			s.cations = append(s.cations, "NH4")
			delete(rest, "N")
		}
		for symbol := range rest {
			if formula.NonMetal(symbol) || slices.Contains(inAnions, symbol) && len(rest) > 1 {
				s.cations = nil
				break
			}
			s.cations = append(s.cations, symbol)
		}
		if len(s.cations) == 0 || len(rest) > 0 && len(s.cations) < len(rest) {
			s = salt{}
			continue
		}
		slices.Sort(s.cations)
		s.anion = a.name
		switch a.name {
		case "OH":
			s.base = units
		case "CO3":
			s.base = 2*units - hydrogen
		}
		return s, true
	}
	return salt{}, false
}

// takeAnion takes as many units of an anion out of atoms as there are, and counts them;
// 0 when it is not whole units.
func takeAnion(rest, anion map[string]float64) (units float64) {
	for symbol, n := range anion {
		if count := rest[symbol] / n; units == 0 || count < units {
			units = count
		}
	}
	if units != float64(int(units)) {
		return 0
	}
	for symbol, n := range anion {
		if rest[symbol] -= units * n; rest[symbol] == 0 {
			delete(rest, symbol)
		}
	}
	return units
}

// insoluble lists what falls out when two solutions meet, anions by cation (the usual
// solubility rules, common practice).
var insoluble = map[string]string{
	"Ag": "Cl Br I SO4 CO3 PO4 C2O4 CrO4 OH SCN S IO3 BrO3 CN SO3 MoO4 WO4",
	"Pb": "F Cl Br I SO4 CO3 PO4 C2O4 CrO4 OH SCN S IO3 SO3 MoO4 WO4",
	"Hg": "I S CO3 PO4 OH CrO4",
	"Ba": "SO4 CO3 PO4 C2O4 CrO4 F IO3 SO3 MoO4 WO4",
	"Sr": "SO4 CO3 PO4 C2O4 F",
	"Ca": "CO3 PO4 C2O4 F SO3 MoO4 WO4",
	"Mg": "CO3 PO4 OH F",
	"Al": "CO3 PO4 OH S",
	"Cr": "CO3 PO4 OH S",
	"Fe": "CO3 PO4 OH S",
	"Mn": "CO3 PO4 OH S C2O4",
	"Co": "CO3 PO4 OH S C2O4",
	"Ni": "CO3 PO4 OH S C2O4",
	"Cu": "CO3 PO4 OH S C2O4 SCN I",
	"Zn": "CO3 PO4 OH S C2O4",
	"Cd": "CO3 PO4 OH S C2O4",
	"Sn": "CO3 PO4 OH S",
	"Bi": "CO3 PO4 OH S I",
}

// precipitates names the pairs of ions of different solutes that fall out together.
func (c *context) precipitates() []string {
	var salts []salt
	for o := range c.solutes() {
		s, _ := ionsOf(o.anhydrous)
		salts = append(salts, s)
	}
	var pairs []string
	for i, a := range salts {
		for k, b := range salts {
			if i == k {
				continue
			}
			for _, cation := range a.cations {
				if slices.Contains(strings.Fields(insoluble[cation]), b.anion) {
					pairs = append(pairs, cation+" and "+b.anion)
				}
			}
		}
	}
	return pairs
}

// mixtureVerdicts are about solutes that share a flask.
func (c *context) mixtureVerdicts() []verdict.Verdict {
	if len(c.others) == 0 {
		return nil
	}
	var list []verdict.Verdict
	if pairs := c.precipitates(); len(pairs) > 0 {
		list = append(
			list,
			RulePrecipitate.Says(
				verdict.Stop,
				nil,
				"%s fall out together, and what is in the flask is no longer dissolved: make separate solutions of them.",
				strings.Join(pairs, ", "),
			),
		)
	}
	for _, shared := range c.sharedEntities() {
		list = append(
			list,
			RuleCommonIon.Says(
				verdict.Look,
				nil,
				"%s comes from %s: the label gives %s in all as well.",
				shared.of,
				strings.Join(shared.from, " and from "),
				shared.of,
			),
		)
	}
	return list
}

// shared is an ion or element that is asked of one solute and comes with others too.
type shared struct {
	of   string
	from []string
	asks *context
}

// sharedEntities lists them.
func (c *context) sharedEntities() []shared {
	var list []shared
	for o := range c.solutes() {
		if o.Of == "" || slices.ContainsFunc(list, func(s shared) bool { return s.of == o.Of }) || o.basis.needsDensity {
			continue
		}
		s := shared{of: o.Of, asks: o}
		for other := range c.solutes() {
			if other.counts(o.Of) > 0 {
				s.from = append(s.from, other.solid.String())
			}
		}
		if len(s.from) > 1 {
			list = append(list, s)
		}
	}
	return list
}

// counts is how many of an entity one formula unit of the solute has.
func (c *context) counts(of string) float64 {
	other := *c
	other.Of, other.nu = of, 0
	if other.readOf() != nil {
		return 0
	}
	return other.nu
}

// inAll is the ID of the figure of an entity that several solutes bring.
func inAll(of string) string { return fmt.Sprintf("all %s", of) }
