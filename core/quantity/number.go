package quantity

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"unicode"
)

// Forms of a number with signs between its digits.
var (
	grouped    = regexp.MustCompile(`^[+-]?[1-9]\d{0,2}(,\d{3}){2,}(\.\d+)?$|^[+-]?[1-9]\d{0,2}(,\d{3})+\.\d+$`) // 1,000,000 and 1,000.5
	groupedDot = regexp.MustCompile(`^[+-]?[1-9]\d{0,2}(\.\d{3}){2,}(,\d+)?$|^[+-]?[1-9]\d{0,2}(\.\d{3})+,\d+$`) // 1.000.000 and 1.000,5
	twoWays    = regexp.MustCompile(`^[+-]?[1-9]\d{0,2},\d{3}$`)                                                 // 1,000: a thousand, or one
)

// Number reads a number as people type it: the decimal sign is a point or a comma,
// thousands may be grouped where that can be read one way only, and a % sign behind it
// is left out. What can be read two ways is refused with both of them.
func Number(text string) (float64, error) {
	value, _, err := Written(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(text), "%")))
	return value, err
}

// plainDigits drops the spaces that group digits, and writes a plain minus sign.
var plainDigits = strings.NewReplacer("−", "-", "\u00a0", "", "\u2009", "", "\u202f", "")

// Written reads a number with the digits after its point; −1 where it is written with an exponent.
func Written(s string) (value float64, decimals int, err error) {
	s = plainDigits.Replace(s)
	if s == "" {
		return 0, 0, errors.New("there is no number")
	}
	if strings.Contains(s, " ") {
		return 0, 0, errors.New("there are two numbers")
	}
	switch {
	case twoWays.MatchString(s):
		return 0, 0, fmt.Errorf(
			"this can be read as %s or as %s: write one of them",
			strings.Replace(s, ",", "", 1),
			strings.Replace(s, ",", ".", 1),
		)
	case grouped.MatchString(s):
		s = strings.ReplaceAll(s, ",", "")
	case groupedDot.MatchString(s):
		s = strings.Replace(strings.ReplaceAll(s, ".", ""), ",", ".", 1)
	case strings.Count(s, ",") > 1 || strings.Contains(s, ",") && strings.Contains(s, "."):
		return 0, 0, errors.New("a point and a comma together can be read two ways")
	}
	s = strings.Replace(s, ",", ".", 1)
	for _, r := range s {
		if r > unicode.MaxASCII {
			return 0, 0, errors.New("use the digits 0 to 9")
		}
	}
	value, err = strconv.ParseFloat(s, 64)
	if err != nil || math.IsInf(value, 0) || math.IsNaN(value) || strings.ContainsAny(s, "xXpP_") {
		return 0, 0, errors.New("this is not a number")
	}
	mantissa, exponent, _ := strings.Cut(strings.ToLower(s), "e")
	if _, fraction, ok := strings.Cut(mantissa, "."); ok {
		decimals = len(fraction)
	}
	if exponent != "" {
		decimals = -1
	}
	return value, decimals, nil
}

// Stated is a quantity as it is typed ("12.5 mL") or as a value with its unit.
type Stated struct {
	Text  string   `json:"text,omitempty"`
	Value *float64 `json:"value,omitempty"`
	// Unit of a bare number.
	Unit string `json:"unit,omitempty"`
}

// Typed makes one of a text.
func Typed(text string) Stated { return Stated{Text: text} }

// Read reads it as a quantity of one of some dimensions. A value with a unit of another
// dimension is passed on, so that the trade says what it should be.
func (s Stated) Read(dimensions ...Dimension) (Quantity, error) {
	if s.Text != "" || s.Value == nil {
		return ParseAny(s.Text, dimensions, s.Unit)
	}
	unit, err := FindUnit(s.Unit)
	if err != nil {
		return Quantity{Decimals: -1}, err
	}
	return Quantity{*s.Value, unit, -1}, nil
}

// Counted parts "10 mg/L NO3-N" and "100 mg/L as CaCO3" into the quantity and what it
// counts; ok is false when nothing is counted.
func Counted(text string, dimensions []Dimension) (quantity, of string, ok bool) {
	head, tail, found := strings.Cut(text, " as ")
	if !found {
		if _, err := ParseAny(text, dimensions, ""); err == nil { // "5 % w/w" is one unit
			return text, "", false
		}
		i := strings.LastIndex(strings.TrimSpace(text), " ")
		if i < 0 {
			return text, "", false
		}
		head, tail = text[:i], strings.TrimSpace(text)[i+1:]
	}
	if _, err := ParseAny(head, dimensions, ""); err != nil || strings.TrimSpace(tail) == "" {
		return text, "", false
	}
	return strings.TrimSpace(head), strings.TrimSpace(tail), true
}
