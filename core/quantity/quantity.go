package quantity

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"
)

// Quantity is a value with its unit. Decimals are the digits after the point
// that were read, kept so that a record shows trailing zeros; −1 when not known.
type Quantity struct {
	Value    float64
	Unit     Unit
	Decimals int
}

// maxText is the longest text that is read as one quantity.
const maxText = 64

// Of returns a value in the unit with that symbol. The symbol must be one of
// this package's; it panics otherwise, so it is for constants in code.
func Of(value float64, symbol string) Quantity {
	u, ok := bySymbol[symbol]
	if !ok {
		panic("quantity: no unit " + symbol)
	}
	return Quantity{value, u, -1}
}

// Base returns the value in the base unit of its dimension.
func (q Quantity) Base() float64 { return q.Value * q.Unit.Factor }

// In returns the value in another unit of the same dimension.
func (q Quantity) In(symbol string) float64 { return q.Base() / bySymbol[symbol].Factor }

// String writes the quantity with the decimals that were read, or else with the
// shortest digits that give the same value.
func (q Quantity) String() string {
	var room [48]byte
	text := append(AppendDigits(room[:0], q.Value, q.Decimals), ' ')
	return string(append(text, q.Unit.Symbol...))
}

// Digits writes a value with a number of decimals and a true minus sign;
// negative decimals mean as many as it takes.
func Digits(value float64, decimals int) string {
	var room [32]byte
	return string(AppendDigits(room[:0], value, decimals))
}

// Trim writes a value with as many decimals as it takes.
func Trim(value float64) string { return Digits(value, -1) }

// Signed writes a difference: with its sign, also above nothing.
func Signed(value float64, decimals int) string {
	if text := Digits(value, decimals); strings.HasPrefix(text, "−") {
		return text
	}
	return "+" + Digits(math.Abs(value), decimals)
}

// Significant rounds a value to so many significant digits.
func Significant(value float64, digits int) float64 {
	if value == 0 {
		return 0
	}
	p := math.Pow(10, float64(digits)-math.Ceil(math.Log10(math.Abs(value))))
	return math.Round(value*p) / p
}

// Nominal is what a value is asked for as: two figures where that is within 1 % of it, as 0.1 of 0.0997; three else.
func Nominal(value float64) float64 {
	if plain := Significant(value, 2); math.Abs(plain-value) <= 0.01*math.Abs(value) {
		return plain
	}
	return Significant(value, 3)
}

// AppendDigits appends what [Digits] writes.
func AppendDigits(text []byte, value float64, decimals int) []byte {
	before := len(text)
	if math.Signbit(value) {
		text, value = append(text, "−"...), -value
	}
	start := len(text)
	text = strconv.AppendFloat(text, value, 'f', min(max(decimals, -1), maxDecimals), 64)
	if len(text)-start > 15 && decimals < 0 {
		text = append(text[:start], strings.ReplaceAll(strconv.FormatFloat(value, 'g', 6, 64), "-", "−")...)
	}
	if start > before && !bytes.ContainsAny(text[start:], "123456789") { // no minus before nothing
		text = append(text[:before], text[start:]...)
	}
	return text
}

// Round writes a value and its uncertainty to two significant digits of
// uncertainty (GUM 7.2.6), without units. An uncertainty of zero leaves the
// value as it is.
func Round(value, u float64) (valueText, uText string) {
	decimals := Decimals(u)
	if u == 0 || math.IsNaN(u) || math.IsInf(u, 0) {
		return Digits(value, -1), "0"
	}
	scale := math.Pow(10, float64(decimals))
	if decimals < 0 { // tens and more: round to whole tens, hundreds …
		return Digits(math.Round(value*scale)/scale, 0), Digits(math.Round(u*scale)/scale, 0)
	}
	var room [64]byte
	text := AppendDigits(room[:0], value, decimals)
	both := string(AppendDigits(text, u, decimals))
	return both[:len(text)], both[len(text):]
}

// Decimals returns how many digits after the point two significant digits of u
// take; negative when u is 100 or more, 0 when u is 0.
func Decimals(u float64) int {
	if u == 0 || math.IsNaN(u) || math.IsInf(u, 0) {
		return 0
	}
	exponent := int(math.Floor(math.Log10(math.Abs(u))))
	decimals := 1 - exponent
	if math.Round(math.Abs(u)*math.Pow(10, float64(decimals))) >= 100 { // 0.0996 rounds to 0.10
		decimals--
	}
	return decimals
}

// Parse reads a quantity of a dimension. A number without a unit takes the unit
// named by fallback; with an empty fallback it is an error. The decimal sign is
// a point or a single comma.
func Parse(text string, d Dimension, fallback string) (Quantity, error) {
	if len(text) > maxText {
		return Quantity{}, fmt.Errorf(
			"too long for a quantity (%d characters): write a number and its unit, like %s",
			len([]rune(text)),
			example(d, fallback),
		)
	}
	trimmed := strings.TrimSpace(text)
	if trimmed == "" {
		return Quantity{}, fmt.Errorf("nothing written: write a number and its unit, like %s", example(d, fallback))
	}
	digits, spelling := split(trimmed)
	value, decimals, err := Written(digits)
	if err != nil {
		return Quantity{}, fmt.Errorf("“%s”: %w; write it like %s", clip(trimmed), err, example(d, fallback))
	}
	if spelling == "" {
		spelling = fallback
	}
	if spelling == "" {
		return Quantity{}, fmt.Errorf("“%s” has no unit: add one of %s", clip(trimmed), strings.Join(UnitsOf(d), ", "))
	}
	unit, err := FindUnit(spelling)
	if err != nil {
		if names := UnitsOf(d); len(names) > 0 && ofWhat[spelling] == "" {
			return Quantity{}, fmt.Errorf("no unit “%s”: %s is in %s", clip(spelling), d.one(), strings.Join(names, ", "))
		}
		return Quantity{}, err
	}
	if unit.Dimension != d {
		return Quantity{}, fmt.Errorf("“%s” is %s, and this is %s: use %s", clip(trimmed), unit.Dimension.one(), d.one(), strings.Join(UnitsOf(d), ", "))
	}
	return Quantity{value, unit, decimals}, nil
}

// ParseAny reads a quantity of any of some dimensions; the first names what an
// error proposes.
func ParseAny(text string, dimensions []Dimension, fallback string) (Quantity, error) {
	var first error
	for i, d := range dimensions {
		q, err := Parse(text, d, fallback)
		if err == nil {
			return q, nil
		}
		if i == 0 {
			first = err
		}
	}
	_, spelling := split(strings.TrimSpace(text))
	if unit, err := FindUnit(spelling); err == nil && len(dimensions) > 1 {
		bases := make([]string, len(dimensions))
		for i, d := range dimensions {
			bases[i] = UnitsOf(d)[0]
		}
		return Quantity{}, fmt.Errorf(
			"“%s” is a %s: use %s, or the like",
			clip(strings.TrimSpace(text)),
			unit.Dimension,
			strings.Join(bases, ", "),
		)
	}
	return Quantity{}, first
}

func example(d Dimension, fallback string) string {
	if fallback == "" {
		if names := UnitsOf(d); len(names) > 0 {
			fallback = names[0]
		}
	}
	return "12.5 " + fallback
}

// split parts the number from the unit. An exponent belongs to the number.
func split(s string) (number, unit string) {
	runes := []rune(s)
	end := 0
	for end < len(runes) {
		r := runes[end]
		isExponent := (r == 'e' || r == 'E') && end > 0 && end+1 < len(runes) &&
			(unicode.IsDigit(runes[end+1]) || (strings.ContainsRune("+-−", runes[end+1]) && end+2 < len(runes) && unicode.IsDigit(runes[end+2])))
		if !unicode.IsDigit(r) && !strings.ContainsRune("+-−., \u00a0\u2009\u202f", r) && !isExponent {
			break
		}
		if isExponent {
			end++ // the sign or first digit of the exponent
		}
		end++
	}
	return strings.TrimSpace(string(runes[:end])), strings.TrimSpace(string(runes[end:]))
}

// The most that a quantity is, and the most decimals that a reading has.
const (
	maxValue    = 1e15
	maxDecimals = 15
)

// wire is a quantity in JSON: {"value": 5.091, "unit": "g", "decimals": 4}.
type wire struct {
	Value    float64 `json:"value"`
	Unit     string  `json:"unit"`
	Decimals *int    `json:"decimals,omitempty"`
}

// MarshalJSON implements json.Marshaler.
func (q Quantity) MarshalJSON() ([]byte, error) {
	w := wire{Value: q.Value, Unit: q.Unit.Symbol}
	if q.Decimals >= 0 {
		w.Decimals = &q.Decimals
	}
	return json.Marshal(w)
}

// UnmarshalJSON implements json.Unmarshaler; it refuses a unit it does not know. Zero
// without a unit is the zero Quantity.
func (q *Quantity) UnmarshalJSON(text []byte) error {
	var w wire
	if err := json.Unmarshal(text, &w); err != nil {
		return err
	}
	if w.Unit == "" && w.Value == 0 {
		*q = Quantity{}
		return nil
	}
	if math.Abs(w.Value) > maxValue || w.Decimals != nil && (*w.Decimals < 0 || *w.Decimals > maxDecimals) {
		return fmt.Errorf("a quantity is at most %g, with 0 to %d decimals", maxValue, maxDecimals)
	}
	unit, err := FindUnit(w.Unit)
	if err != nil {
		return err
	}
	*q = Quantity{Value: w.Value, Unit: unit, Decimals: -1}
	if w.Decimals != nil {
		q.Decimals = *w.Decimals
	}
	return nil
}
