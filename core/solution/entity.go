package solution

import (
	"fmt"
	"strings"

	"vialbench/core/formula"
)

// hardness is what water analysis tells hardness and alkalinity as.
const hardness = "CaCO3"

// divalent are the ions that make water hard.
var divalent = []string{"Mg", "Ca", "Sr", "Ba"}

// readOf finds what the concentration counts: how many of it are in one formula unit
// (nu), and its molar mass (entity).
func (c *context) readOf() error {
	if c.Of == "" {
		return nil
	}
	if end := formula.ElementSuffix(c.Of); end != "" { // NO3-N
		element := end[1:]
		ion, err := formula.Parse(strings.TrimSuffix(c.Of, end))
		if err != nil {
			return err
		}
		weight, known := formula.AtomicWeight(element)
		if c.nu = c.formula.Contains(ion) * ion.Atoms(element); !known || c.nu == 0 {
			return fmt.Errorf("%s counts the %s of %s, and there is none in %s", c.Of, element, ion, c.formula)
		}
		c.entity = weight
		return nil
	}
	part, err := formula.Parse(c.Of)
	if err != nil {
		return err
	}
	c.entity = part.MolarMass()
	if c.nu = c.formula.Contains(part); c.nu == 0 && part.String() == hardness {
		c.nu = c.asCarbonate()
	}
	if c.nu == 0 {
		return fmt.Errorf("there is no %s in %s: choose one of %s, or an ion made of them", c.Of, c.formula, symbols(c.formula))
	}
	return nil
}

// asCarbonate is how much calcium carbonate one formula unit stands for: as hardness, one
// for each ion of an alkaline earth; as alkalinity, half for each equivalent of base.
func (c *context) asCarbonate() float64 {
	earths := 0.0
	for _, symbol := range divalent {
		earths += c.formula.Atoms(symbol)
	}
	if earths > 0 {
		return earths
	}
	if salt, ok := ionsOf(c.anhydrous); ok {
		return salt.base / 2
	}
	return 0
}
