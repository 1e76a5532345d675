package quantity

import (
	"fmt"
	"math"
	"strings"
	"unicode/utf8"
)

// Dimension is a kind of quantity.
type Dimension string

// The dimensions of the trade, each with its base unit.
const (
	Mass                Dimension = "mass"                 // g
	Volume              Dimension = "volume"               // L
	Amount              Dimension = "amount"               // mol
	AmountConcentration Dimension = "amount concentration" // mol/L
	MassConcentration   Dimension = "mass concentration"   // g/L
	Density             Dimension = "density"              // g/mL
	MolarMass           Dimension = "molar mass"           // g/mol
	Temperature         Dimension = "temperature"          // °C
	MassFraction        Dimension = "mass fraction"        // 1 (g/g)
	Molality            Dimension = "molality"             // mol/kg
	Equivalents         Dimension = "equivalents"          // eq/L
	VolumeFraction      Dimension = "volume fraction"      // 1 (mL/mL)
	Potential           Dimension = "potential"            // V
	Absorbance          Dimension = "absorbance"           // AU, decadic
	Transmittance       Dimension = "transmittance"        // 1
	Wavelength          Dimension = "wavelength"           // nm
	Acidity             Dimension = "pH"                   // pH
	Time                Dimension = "time"                 // s
)

// one names a quantity with its article: “a mass”, “an amount”.
func (d Dimension) one() string {
	switch d {
	case Equivalents:
		return "a number of equivalents"
	case Amount, AmountConcentration, Absorbance:
		return "an " + string(d)
	}
	return "a " + string(d)
}

// Unit is one unit of a dimension: 1 unit = Factor × the base unit.
type Unit struct {
	Symbol    string
	Dimension Dimension
	Factor    float64
}

// units lists every unit; the first of a dimension is its base. Spelling is as
// printed, and other ways of typing it follow in aliases.
var units = []Unit{
	{"g", Mass, 1},
	{"mg", Mass, 1e-3},
	{"µg", Mass, 1e-6},
	{"kg", Mass, 1e3},
	{"L", Volume, 1},
	{"mL", Volume, 1e-3},
	{"µL", Volume, 1e-6},
	{"mol", Amount, 1},
	{"mmol", Amount, 1e-3},
	{"µmol", Amount, 1e-6},
	{
		"mol/L",
		AmountConcentration,
		1,
	},
	{"mmol/L", AmountConcentration, 1e-3},
	{"µmol/L", AmountConcentration, 1e-6},
	{"nmol/L", AmountConcentration, 1e-9},
	{"g/L", MassConcentration, 1},
	{"mg/L", MassConcentration, 1e-3},
	{"µg/L", MassConcentration, 1e-6},
	{"ng/L", MassConcentration, 1e-9},
	{"mg/mL", MassConcentration, 1},
	{"µg/mL", MassConcentration, 1e-3},
	{"g/dL", MassConcentration, 10},
	{"mg/dL", MassConcentration, 1e-2},
	{
		"% w/v",
		MassConcentration,
		10,
	},
	{"‰ w/v", MassConcentration, 1},
	{"ppm w/v", MassConcentration, 1e-3},
	{"ppb w/v", MassConcentration, 1e-6},
	{"g/mL", Density, 1},
	{"g/mol", MolarMass, 1},
	{"°C", Temperature, 1},
	{"% w/w", MassFraction, 1e-2},
	{"‰ w/w", MassFraction, 1e-3},
	{"ppm w/w", MassFraction, 1e-6},
	{"ppb w/w", MassFraction, 1e-9},
	{"g/kg", MassFraction, 1e-3},
	{"mg/kg", MassFraction, 1e-6},
	{"mol/kg", Molality, 1},
	{"mmol/g", Molality, 1},
	{"mol/g", Molality, 1000},
	{"mmol/kg", Molality, 1e-3},
	{"eq/L", Equivalents, 1},
	{"meq/L", Equivalents, 1e-3},
	{
		"mL/mL",
		VolumeFraction,
		1,
	},
	{"% v/v", VolumeFraction, 1e-2},
	{"‰ v/v", VolumeFraction, 1e-3},
	{"ppm v/v", VolumeFraction, 1e-6},
	{"ppb v/v", VolumeFraction, 1e-9},
	{"V", Potential, 1},
	{"mV", Potential, 1e-3},
	{"AU", Absorbance, 1},
	{"mAU", Absorbance, 1e-3},
	{"%T", Transmittance, 1e-2},
	{"nm", Wavelength, 1},
	{"pH", Acidity, 1},
	{"s", Time, 1},
	{"min", Time, 60},
	{"h", Time, 3600},
}

// aliases maps other spellings to the printed symbol. Spellings of a litre, of a power of
// minus one and of capitals are read by [FindUnit].
var aliases = map[string]string{
	"M":           "mol/L",
	"mM":          "mmol/L",
	"µM":          "µmol/L",
	"nM":          "nmol/L",
	"molar":       "mol/L",
	"millimolar":  "mmol/L",
	"micromolar":  "µmol/L",
	"molal":       "mol/kg",
	"gram":        "g",
	"grams":       "g",
	"litre":       "L",
	"litres":      "L",
	"liter":       "L",
	"liters":      "L",
	"millilitres": "mL",
	"milliliters": "mL",
	"cm3":         "mL",
	"cm³":         "mL",
	"dm3":         "L",
	"dm³":         "L",
	"g/cm3":       "g/mL",
	"g/cm³":       "g/mL",
	"mol/dm3":     "mol/L",
	"mol/dm³":     "mol/L",
	"g/dm3":       "g/L",
	"g/dm³":       "g/L",
	"C":           "°C",
	"degC":        "°C",
	"% m/m":       "% w/w",
	"% m/v":       "% w/v",
	"%w/w":        "% w/w",
	"%w/v":        "% w/v",
	"%v/v":        "% v/v",
	"% T":         "%T",
	"N":           "eq/L",
	"mN":          "meq/L",
	"normal":      "eq/L",
	"Eq/L":        "eq/L",
	"mEq/L":       "meq/L",
}

var bySymbol = func() map[string]Unit {
	table := make(map[string]Unit, len(units)+len(aliases))
	for _, u := range units {
		table[u.Symbol] = u
	}
	for alias, symbol := range aliases {
		table[alias] = table[symbol]
	}
	return table
}()

// ofWhat holds the parts that are no unit by themselves, with what to write.
var ofWhat = map[string]string{
	"%": "% w/v (g in 100 mL) or % w/w (g in 100 g), of a liquid also % v/v (mL in 100 mL)", "‰": "‰ w/v, ‰ w/w or ‰ v/v",
	"ppm": "ppm w/v (mg in 1 L) or ppm w/w (mg in 1 kg)", "ppb": "ppb w/v (µg in 1 L) or ppb w/w (µg in 1 kg)",
}

// plainUnit brings the ways of writing a unit to one.
var plainUnit = strings.NewReplacer("μ", "µ", "⁄", "/", " / ", "/", "⁻¹", "-1", "−1", "-1", "^-1", "-1", "⋅", "·")

// FindUnit returns the unit that a spelling stands for: "mol/L", "mol L−1", "mol·l⁻¹".
func FindUnit(spelling string) (Unit, error) {
	s := strings.Join(strings.Fields(spelling), " ")
	s = plainUnit.Replace(s)
	if rest, ok := strings.CutSuffix(s, "-1"); ok { // mol L-1, mol·L-1
		if i := strings.LastIndexAny(rest, " ·"); i > 0 {
			_, size := utf8.DecodeRuneInString(rest[i:])
			s = strings.TrimSpace(rest[:i]) + "/" + rest[i+size:]
		}
	}
	for _, try := range []string{s, litres(s)} {
		if u, ok := bySymbol[try]; ok {
			return u, nil
		}
		if rest, ok := strings.CutPrefix(try, "u"); ok { // ug, uL, uM: micro without the Greek letter
			if u, ok := bySymbol["µ"+rest]; ok {
				return u, nil
			}
		}
	}
	if advice, ok := ofWhat[s]; ok {
		return Unit{}, fmt.Errorf("“%s” alone does not say of what: write %s", s, advice)
	}
	return Unit{}, fmt.Errorf("no unit “%s”: use one of %s", clip(spelling), strings.Join(allSymbols(), ", "))
}

// litres writes a litre with a capital: ml, mol/l, µg/ml.
func litres(s string) string {
	for _, part := range []string{"l", "ml", "µl", "ul", "dl"} {
		if s == part {
			return s[:len(s)-1] + "L"
		}
		if head, ok := strings.CutSuffix(s, "/"+part); ok {
			return head + "/" + part[:len(part)-1] + "L"
		}
	}
	return s
}

// UnitOf reads the unit of a figure, which may be followed by what is counted: "mg/L P".
func UnitOf(text string) (Unit, error) {
	unit, err := FindUnit(text)
	for err != nil {
		i := strings.LastIndex(text, " ")
		if i < 0 {
			return unit, err
		}
		text = text[:i]
		unit, err = FindUnit(text)
	}
	return unit, nil
}

// PerVolume reports whether a dimension counts what is in a volume of solution, which a
// dilution by volume divides.
func (d Dimension) PerVolume() bool {
	return d == AmountConcentration || d == MassConcentration || d == Equivalents || d == VolumeFraction
}

// byThousands are the units that follow one another by a factor of a thousand.
var byThousands = [][]string{
	{"mol/L", "mmol/L", "µmol/L", "nmol/L"},
	{"g/L", "mg/L", "µg/L", "ng/L"},
	{"mg/mL", "µg/mL"},
	{"eq/L", "meq/L"},
	{"mol/kg", "mmol/kg"},
	{"g/kg", "mg/kg"},
}

// smallest is the value below which a unit is left for one a thousand times smaller
// (common practice: 0.05 mmol/L rather than 0.00005 mol/L).
const smallest = 0.001

// Readable gives the unit in which a value is best read, and the factor that brings
// the value to it: 0.00005 of "mol/L" is 0.05 of "mmol/L". What follows the unit
// ("mg/L P") stays; a unit with no smaller one is kept.
func Readable(value float64, unit string) (readable string, factor float64) {
	for _, family := range byThousands {
		for i, symbol := range family {
			of, ok := strings.CutPrefix(unit, symbol)
			if !ok || of != "" && of[0] != ' ' {
				continue
			}
			factor = 1
			for value != 0 && math.Abs(value*factor) < smallest && i < len(family)-1 {
				i, factor = i+1, factor*1000
			}
			return family[i] + of, factor
		}
	}
	return unit, 1
}

// UnitsOf lists the symbols of a dimension, the base unit first.
func UnitsOf(d Dimension) []string {
	var symbols []string
	for _, u := range units {
		if u.Dimension == d {
			symbols = append(symbols, u.Symbol)
		}
	}
	return symbols
}

func allSymbols() []string {
	symbols := make([]string, len(units))
	for i, u := range units {
		symbols[i] = u.Symbol
	}
	return symbols
}

// clip shortens text that goes into a message.
func clip(s string) string {
	const most = 24
	if r := []rune(s); len(r) > most {
		return string(r[:most]) + "…"
	}
	return s
}
