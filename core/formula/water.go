package formula

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// water is the addend of a hydrate: its formula after the last separator.
const water = "H2O"

// dry parts a formula from its water of crystallisation.
func (f Formula) dry() (rest string, waters float64) {
	text := f.String()
	i := strings.LastIndex(text, "·")
	if i < 0 {
		return text, 0
	}
	count, isWater := strings.CutSuffix(text[i+len("·"):], water)
	if !isWater {
		return text, 0
	}
	if count == "" {
		return text[:i], 1
	}
	n, err := strconv.ParseFloat(count, 64)
	if err != nil {
		return text, 0
	}
	return text[:i], n
}

// Waters returns how many molecules of water of crystallisation the formula
// writes after its last separator: 5 for CuSO4·5H2O, 0 for none.
func (f Formula) Waters() float64 {
	_, n := f.dry()
	return n
}

// WithWaters returns the same compound with another number of waters of
// crystallisation, 0 to 24.
func (f Formula) WithWaters(n float64) (Formula, error) {
	if !(n >= 0 && n <= 24) {
		return Formula{}, fmt.Errorf("a hydrate has 0 to 24 waters, not %g", n)
	}
	rest, waters := f.dry()
	switch n {
	case waters:
		return f, nil
	case 0:
		return Parse(rest)
	case 1:
		return Parse(rest + "·" + water)
	}
	return Parse(rest + "·" + strconv.FormatFloat(n, 'f', -1, 64) + water)
}

// Contains returns how many whole units of an ion or element stand in one unit of
// the formula: 2 for SO4 in (NH4)2Fe(SO4)2·6H2O. It counts atoms, not bonds: the
// atoms have to be there, and how they are bound is the chemist's to know.
func (f Formula) Contains(part Formula) float64 {
	units := 0.0
	for i, c := range part.Elements {
		n := float64(int(f.Atoms(c.Symbol)/c.Atoms + 1e-9))
		if i == 0 || n < units {
			units = n
		}
	}
	return units
}

// asElement is how water analysis counts an ion by one of its elements: NO3-N, PO4-P.
var asElement = regexp.MustCompile(`-[A-Z][a-z]?$`)

// ElementSuffix is the end of a text that counts an ion by one of its elements: "-N" of
// "NO3-N"; empty when there is none.
func ElementSuffix(text string) string { return asElement.FindString(text) }
