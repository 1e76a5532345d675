package quantity_test

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/quantity"
)

func ExampleParse() {
	q, _ := quantity.Parse("5.0910", quantity.Mass, "g")
	fmt.Println(q, "=", q.In("mg"), "mg")
	_, err := quantity.Parse("5 mL", quantity.Mass, "g")
	fmt.Println(err)
	// Output:
	// 5.0910 g = 5091 mg
	// “5 mL” is a volume, and this is a mass: use g, mg, µg, kg
}

func TestParse(t *testing.T) {
	for _, c := range []struct {
		text string
		d    quantity.Dimension
		unit string
		want float64 // in the base unit
		say  string
	}{
		{"12.5 mL", quantity.Volume, "", 0.0125, "12.5 mL"},
		{"12,5", quantity.Volume, "mL", 0.0125, "12.5 mL"},
		{"250mg", quantity.Mass, "g", 0.25, "250 mg"},
		{"250 ug", quantity.Mass, "g", 250e-6, "250 µg"},
		{"0.1000 M", quantity.AmountConcentration, "", 0.1, "0.1000 mol/L"},
		{"1e-3 mol/L", quantity.AmountConcentration, "", 0.001, "0.001 mol/L"},
		{"100 mg / L", quantity.MassConcentration, "", 0.1, "100 mg/L"},
		{"−3.5", quantity.Temperature, "°C", -3.5, "−3.5 °C"},
		{"99.95 % w/w", quantity.MassFraction, "", 0.9995, "99.95 % w/w"},
		{"0.9 % w/v", quantity.MassConcentration, "", 9, "0.9 % w/v"},
		{"5 ppm w/w", quantity.MassFraction, "", 5e-6, "5 ppm w/w"},
		{"0.1 N", quantity.Equivalents, "", 0.1, "0.1 eq/L"},
		{"0.5 mol/kg", quantity.Molality, "", 0.5, "0.5 mol/kg"},
		{"0.25 dm³", quantity.Volume, "", 0.25, "0.25 L"},
	} {
		q, err := quantity.Parse(c.text, c.d, c.unit)
		if err != nil {
			t.Errorf("%q: %v", c.text, err)
			continue
		}
		if math.Abs(q.Base()-c.want) > 1e-12*math.Abs(c.want) || q.String() != c.say {
			t.Errorf("%q = %g (%s), want %g (%s)", c.text, q.Base(), q, c.want, c.say)
		}
	}
}

// Each wrong entry gets a sentence that says what would be right.
func TestParseRefusesWithAdvice(t *testing.T) {
	for _, c := range []struct{ text, unit, advice string }{
		{"", "g", "write a number and its unit, like 12.5 g"},
		{"   ", "g", "like 12.5 g"},
		{"5.1", "", "add one of g, mg, µg, kg"},
		{"5.1 mL", "g", "this is a mass: use g"},
		{"abc", "g", "there is no number"},
		{"1.2.3 g", "g", "not a number"},
		{"1,000 g", "g", "read as 1000 or as 1.000"},
		{"5 5 g", "g", "two numbers"},
		{"5 stone", "g", "a mass is in g, mg"},
		{"5 %", "g", "does not say of what: write % w/v (g in 100 mL)"},
		{"5 ppm", "g", "ppm w/v (mg in 1 L)"},
		{"NaN", "g", "no number"},
		{"1e999 g", "g", "not a number"},
		{strings.Repeat("9", 10000), "g", "too long"},
		{"<b>5</b>", "g", "no number"},
	} {
		_, err := quantity.Parse(c.text, quantity.Mass, c.unit)
		if err == nil || !strings.Contains(err.Error(), c.advice) {
			t.Errorf("%.20q: error %v, want one with %q", c.text, err, c.advice)
		}
	}
}

func TestParseAny(t *testing.T) {
	dimensions := []quantity.Dimension{quantity.AmountConcentration, quantity.MassConcentration, quantity.Molality}
	for text, want := range map[string]string{"0.1": "0.1 mol/L", "5 g/L": "5 g/L", "0.5 mol/kg": "0.5 mol/kg", "5 g": "use mol/L, g/L, mol/kg", "x": "there is no number", "5 %": "does not say of what"} {
		q, err := quantity.ParseAny(text, dimensions, "mol/L")
		if got := fmt.Sprint(q, err); !strings.Contains(got, want) {
			t.Errorf("%s: %s, want %s", text, got, want)
		}
	}
}

// GUM 7.2.6 gives y = 10.057 62 Ω with u = 27 mΩ as 10.058 Ω (from memory).
func TestRound(t *testing.T) {
	for _, c := range []struct {
		v, u   float64
		vs, us string
	}{
		{10.05762, 0.027, "10.058", "0.027"},
		{0.0996812, 0.0000812, "0.099681", "0.000081"},
		{0.1, 0.000996, "0.1000", "0.0010"},
		{1002.7, 0.835, "1002.70", "0.83"},
		{12344, 678, "12340", "680"},
		{-3.14159, 0.01, "−3.142", "0.010"},
		{5, 0, "5", "0"},
	} {
		v, u := quantity.Round(c.v, c.u)
		if v != c.vs || u != c.us {
			t.Errorf("Round(%g, %g) = %s ± %s, want %s ± %s", c.v, c.u, v, u, c.vs, c.us)
		}
	}
}

// Whatever is typed, parsing neither panics nor returns something that does not
// read back as itself.
func FuzzParse(f *testing.F) {
	for _, seed := range []string{"12.5 mL", "12,5", "250mg", "1e-3 mol/L", "−3", "% w/w", "5 e", "1e", "1e+ g", "µ"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		q, err := quantity.Parse(text, quantity.Mass, "g")
		if err != nil {
			return
		}
		if q.Unit.Dimension != quantity.Mass || math.IsNaN(q.Base()) {
			t.Fatalf("%q read as %v", text, q)
		}
		if q.Decimals < 0 || q.Decimals > 40 {
			return
		}
		again, err := quantity.Parse(q.String(), quantity.Mass, "")
		if len(q.String()) < 60 && (err != nil || math.Abs(again.Value-q.Value) > math.Pow(10, -float64(q.Decimals))) {
			t.Fatalf("%q → %q → %v, %v", text, q.String(), again, err)
		}
	})
}

// Factors of the SI Brochure, 9th edition, tables 7 and 8: prefixes, litre.
func TestConversions(t *testing.T) {
	for _, c := range []struct {
		text string
		d    quantity.Dimension
		to   string
		want float64
	}{
		{"1 kg", quantity.Mass, "mg", 1e6},
		{"250 µL", quantity.Volume, "mL", 0.25},
		{"1 cm3", quantity.Volume, "mL", 1},
		{"1 dm3", quantity.Volume, "L", 1},
		{"5 mM", quantity.AmountConcentration, "µmol/L", 5000},
		{"1 mg/mL", quantity.MassConcentration, "g/L", 1},
		{"1 µg/mL", quantity.MassConcentration, "mg/L", 1},
		{"2 g/cm3", quantity.Density, "g/mL", 2},
	} {
		q, err := quantity.Parse(c.text, c.d, "")
		if err != nil || math.Abs(q.In(c.to)/c.want-1) > 1e-12 {
			t.Errorf("%s = %g %s, want %g (%v)", c.text, q.In(c.to), c.to, c.want, err)
		}
	}
	for _, d := range []quantity.Dimension{quantity.Mass, quantity.Volume, quantity.Temperature, quantity.MassFraction} {
		if symbols := quantity.UnitsOf(d); len(symbols) == 0 || quantity.Of(1, symbols[0]).Unit.Dimension != d {
			t.Errorf("units of %s: %v", d, symbols)
		}
	}
	if _, err := quantity.FindUnit("%"); err == nil || !strings.Contains(err.Error(), "w/w") {
		t.Errorf("a bare percent sign: %v", err)
	}
}

// What goes out as JSON comes back the same, decimals included; an unknown unit
// does not come in.
func TestJSONRoundTrip(t *testing.T) {
	for _, text := range []string{"5.0910 g", "20 °C", "1e-3 mol/L", "99.95 % w/w"} {
		var d quantity.Dimension
		for _, dimension := range []quantity.Dimension{quantity.Mass, quantity.Temperature, quantity.AmountConcentration, quantity.MassFraction} {
			if _, err := quantity.Parse(text, dimension, ""); err == nil {
				d = dimension
			}
		}
		q, err := quantity.Parse(text, d, "")
		if err != nil {
			t.Fatal(err)
		}
		wire, err := json.Marshal(q)
		if err != nil {
			t.Fatal(err)
		}
		var back quantity.Quantity
		if err := json.Unmarshal(wire, &back); err != nil || back != q {
			t.Errorf("%s → %s → %v (%v)", text, wire, back, err)
		}
	}
	if err := json.Unmarshal([]byte(`{"value": 1, "unit": "stone"}`), new(quantity.Quantity)); err == nil {
		t.Error("stones come in")
	}
}

// Rounding leaves two significant digits of uncertainty, over 24 decades.
func TestRoundKeepsTwoDigits(t *testing.T) {
	for exponent := -12; exponent <= 12; exponent++ {
		for _, mantissa := range []float64{1, 1.04, 2.5, 9.94, 9.96} {
			u := mantissa * math.Pow(10, float64(exponent))
			_, text := quantity.Round(12.3456*u, u)
			got, err := quantity.Parse(text, quantity.Mass, "g")
			if err != nil || math.Abs(got.Value/u-1) > 0.05 {
				t.Errorf("%g is written %s", u, text)
			}
			if digits := strings.Trim(strings.ReplaceAll(text, ".", ""), "0"); len(digits) > 2 {
				t.Errorf("%g is written %s", u, text)
			}
		}
	}
}

// Every unit reads what it writes, in its own dimension and in no other; and a value
// goes to any unit of its dimension and back.
func TestEveryUnitRoundTrips(t *testing.T) {
	dimensions := []quantity.Dimension{
		quantity.Mass,
		quantity.Volume,
		quantity.Amount,
		quantity.AmountConcentration,
		quantity.MassConcentration,
		quantity.Density,
		quantity.MolarMass,
		quantity.Temperature,
		quantity.MassFraction,
		quantity.Molality,
		quantity.Equivalents,
		quantity.VolumeFraction,
		quantity.Potential,
		quantity.Absorbance,
		quantity.Acidity,
		quantity.Time,
	}
	for _, d := range dimensions {
		symbols := quantity.UnitsOf(d)
		if len(symbols) == 0 {
			t.Errorf("no unit of %s", d)
		}
		for _, symbol := range symbols {
			q := quantity.Of(12.5, symbol)
			back, err := quantity.Parse(q.String(), d, "")
			if err != nil || math.Abs(back.Value-12.5) > 1e-12 || back.Unit.Symbol != symbol {
				t.Errorf("%s reads as %v, %v", q, back, err)
			}
			for _, other := range symbols {
				if again := quantity.Of(q.In(other), other); math.Abs(again.In(symbol)/12.5-1) > 1e-12 {
					t.Errorf("%s to %s and back: %g", symbol, other, again.In(symbol))
				}
			}
			for _, wrong := range dimensions {
				if _, err := quantity.Parse(q.String(), wrong, ""); (err == nil) != (wrong == d) {
					t.Errorf("%s is treated as a %s", q, wrong)
				}
			}
		}
	}
}

// A value that is small in its unit goes to the next one, what it is of stays, and
// units that have no smaller one are kept (common practice).
func TestReadableUnits(t *testing.T) {
	for _, c := range []struct {
		value      float64
		unit, want string
		factor     float64
	}{
		{0.1, "mol/L", "mol/L", 1},
		{0.001, "mol/L", "mol/L", 1},
		{0.00099, "mol/L", "mmol/L", 1e3},
		{9.9e-5, "mol/L", "mmol/L", 1e3},
		{5e-7, "mol/L", "µmol/L", 1e6},
		{1e-12, "mol/L", "nmol/L", 1e9},
		{0, "mol/L", "mol/L", 1},
		{2e-4, "mg/L P", "µg/L P", 1e3},
		{1e-5, "mmol/L", "µmol/L", 1e3},
		{1e-5, "% w/v", "% w/v", 1},
		{1e-5, "g/L", "mg/L", 1e3},
	} {
		if unit, factor := quantity.Readable(c.value, c.unit); unit != c.want || factor != c.factor {
			t.Errorf("%g %s: × %g %s", c.value, c.unit, factor, unit)
		}
	}
}

// Limits of what is read, and what is said at them.
func TestLimitsOfAQuantity(t *testing.T) {
	for text, want := range map[string]string{
		"12 e": "no unit “e”", "5e3": "“5e3” has no unit: add one of L, mL, µL", "5e": "no unit “e”", "5 e+": "no unit “e+”", "e5": "there is no number", "5e+2 mL": "", "5e−2 mL": "",
		"٣ mL": "use the digits 0 to 9", "1e999 mL": "this is not a number", "5 %": "“%” alone does not say of what",
		"5 furlongs": "no unit “furlongs”: a volume is in L, mL", "5 g": "“5 g” is a mass, and this is a volume: use L, mL",
		"12345678901234567890123456": "“123456789012345678901234…” has no unit", "123456789012345678901234": "“123456789012345678901234” has no unit",
	} {
		_, err := quantity.Parse(text, quantity.Volume, "")
		if want == "" && err != nil || want != "" && (err == nil || !strings.Contains(err.Error(), want)) {
			t.Errorf("%q: %v, want %q", text, err, want)
		}
	}
	if _, err := quantity.ParseAny(
		"5 furlongs",
		[]quantity.Dimension{quantity.Mass, quantity.Volume},
		"",
	); err == nil ||
		!strings.Contains(err.Error(), "a mass is in g") {
		t.Error(err)
	}
	if _, err := quantity.ParseAny("5 °C", []quantity.Dimension{quantity.Mass}, ""); err == nil ||
		!strings.Contains(err.Error(), "this is a mass") {
		t.Error(err)
	}
	for _, q := range []quantity.Quantity{quantity.Of(0.1, "g"), must(quantity.Stated{Value: new(float64), Unit: "g"}.Read(quantity.Mass))} {
		if q.Decimals != -1 || q.Unit.Symbol != "g" {
			t.Errorf("%+v: the digits are not known", q)
		}
	}
	for _, c := range []struct {
		value    float64
		decimals int
		want     string
	}{
		{0, -1, "0"},
		{-0.00001, 2, "0.00"},
		{-0.04, 1, "0.0"},
		{-0.06, 1, "−0.1"},
		{-12.5, -1, "−12.5"},
		{math.Pi, -1, "3.14159"},
		{1.5e-9, -1, "0.0000000015"},
		{1.23456789e-14, -1, "1.23457e−14"},
		{-1.23456789e-14, -1, "−1.23457e−14"},
		{123456789012345, -1, "123456789012345"},
		{1234567890123456, -1, "1.23457e+15"},
		{2.5, 0, "2"},
		{3.5, 0, "4"},
	} {
		if got := quantity.Digits(c.value, c.decimals); got != c.want {
			t.Errorf("%g with %d decimals: %q, want %q", c.value, c.decimals, got, c.want)
		}
	}
	var q quantity.Quantity
	for text, ok := range map[string]bool{
		`{}`: true, `{"value":0}`: true, `{"value":1}`: false, `{"value":0,"unit":"g"}`: true, `{"value":0,"unit":"x"}`: false,
		`{"value":1,"unit":"g","decimals":15}`: true, `{"value":1,"unit":"g","decimals":16}`: false, `{"value":1,"unit":"g","decimals":-1}`: false,
		`{"value":1,"unit":"g","decimals":9223372036854775807}`: false, `{"value":1e15,"unit":"g"}`: true, `{"value":-1.1e15,"unit":"g"}`: false,
	} {
		if err := q.UnmarshalJSON([]byte(text)); (err == nil) != ok {
			t.Errorf("%s: %v", text, err)
		}
	}
	for _, c := range []struct {
		value  float64
		unit   string
		want   string
		factor float64
	}{{0.001, "mol/L", "mol/L", 1}, {0.000999, "mol/L", "mmol/L", 1e3}, {1e-13, "mol/L", "nmol/L", 1e9}, {1e-6, "mmol/L", "µmol/L", 1e3}, {9e-7, "mmol/L", "nmol/L", 1e6}} {
		if unit, factor := quantity.Readable(c.value, c.unit); unit != c.want || factor != c.factor {
			t.Errorf("%g %s: %s × %g", c.value, c.unit, unit, factor)
		}
	}
}

func must(q quantity.Quantity, err error) quantity.Quantity {
	if err != nil {
		panic(err)
	}
	return q
}

func TestWaysToWriteAValue(t *testing.T) {
	for got, want := range map[string]string{
		quantity.Signed(0.126, 2): "+0.13", quantity.Signed(-0.126, 2): "−0.13", quantity.Signed(0, 1): "+0.0", quantity.Signed(-0.001, 2): "+0.00",
		quantity.Trim(12.50): "12.5", quantity.Trim(-3): "−3", quantity.Trim(quantity.Significant(0.0123456, 3)): "0.0123", quantity.Trim(quantity.Significant(98765, 2)): "99000",
		quantity.Trim(quantity.Significant(-1, 1)): "−1", quantity.Trim(quantity.Significant(0, 3)): "0",
	} {
		if got != want {
			t.Errorf("%s, want %s", got, want)
		}
	}
}

// The article is right for every quantity.
func TestArticles(t *testing.T) {
	for text, want := range map[string]string{
		"5 mol/L": "“5 mol/L” is an amount concentration, and this is a mass: use",
		"5 mol":   "“5 mol” is an amount, and this is a mass: use",
		"5 mL":    "“5 mL” is a volume, and this is a mass: use",
		"5 eq/L":  "“5 eq/L” is a number of equivalents, and this is a mass: use",
	} {
		if _, err := quantity.Parse(text, quantity.Mass, "g"); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", text, err)
		}
	}
	if _, err := quantity.Parse("5 stone", quantity.AmountConcentration, "mol/L"); err == nil || !strings.Contains(err.Error(), ": an amount concentration is in mol/L") {
		t.Error(err)
	}
}

func TestNominal(t *testing.T) {
	for value, want := range map[float64]float64{0.0997: 0.1, 0.0201: 0.02, 0.125: 0.125, 0.1234: 0.123, 1.005: 1, 1.02: 1.02, 0: 0} {
		if got := quantity.Nominal(value); math.Abs(got-want) > 1e-12 {
			t.Errorf("%g is asked for as %g, want %g", value, got, want)
		}
	}
}
