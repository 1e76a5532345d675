// Package working describes how a number came about: symbol, formula, the same
// formula with the values in it, result, and where each value came from. Formulas
// are LaTeX mathematics, which a screen can set and a person can read.
package working

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/uncertain"
)

// Line is one step of a working.
type Line struct {
	Title       string `json:"title"`
	Symbol      string `json:"symbol"`
	Formula     string `json:"formula"`
	Substituted string `json:"substituted"`
	// Result is the value with its uncertainty (k = 2) and unit, as text.
	Result string `json:"result"`
	// From says where the values came from.
	From []string `json:"from"`
}

// Value writes a number with its unit for use inside a formula, rounded to two
// significant digits of its uncertainty, or as many digits as it takes when exact.
func Value(n uncertain.Number, unit string) string {
	text := quantity.Digits(n.Value, -1)
	if u := n.U(); u > 0 {
		text = quantity.Digits(n.Value, max(0, quantity.Decimals(u)))
	}
	return strings.ReplaceAll(text, "−", "-") + Unit(unit)
}

// Unit sets a unit upright, with a thin space before it.
func Unit(unit string) string {
	if unit == "" {
		return ""
	}
	return `\,\mathrm{` + setUnit.Replace(unit) + `}`
}

var setUnit = strings.NewReplacer("%", `\%`, "°C", `{}^{\circ}C`, "µ", `\mu `)

// Number writes one without uncertainty for a formula, with five digits.
func Number(x float64) string {
	if x != 0 && math.Abs(x) < 1e-3 {
		e := math.Floor(math.Log10(math.Abs(x)))
		return fmt.Sprintf(`%.4f \times 10^{%d}`, x/math.Pow(10, e), int(e))
	}
	return Digits(x)
}

// Digits writes five of them.
func Digits(x float64) string { return strconv.FormatFloat(quantity.Significant(x, 5), 'f', -1, 64) }

var raised = strings.NewReplacer("-", "⁻", "0", "⁰", "1", "¹", "2", "²", "3", "³",
	"4", "⁴", "5", "⁵", "6", "⁶", "7", "⁷", "8", "⁸", "9", "⁹")

// Term writes a value of a formula: one below nothing in brackets.
func Term(x float64) string {
	if x < 0 {
		return "(" + Number(x) + ")"
	}
	return Number(x)
}

// Fill is fmt.Sprintf of a formula with values in it: numbers are written as [Term] does, and go where %v stands.
func Fill(formula string, values ...any) string {
	for i, v := range values {
		if x, ok := v.(float64); ok {
			values[i] = Term(x)
		}
	}
	return fmt.Sprintf(formula, values...)
}

// SayNumber writes one for a sentence, with three digits.
func SayNumber(x float64) string {
	if x != 0 && math.Abs(x) < 1e-3 {
		e := math.Floor(math.Log10(math.Abs(x)))
		return quantity.Digits(x/math.Pow(10, e), 2) + " × 10" + raised.Replace(strconv.Itoa(int(e)))
	}
	return quantity.Trim(quantity.Significant(x, 3))
}

// Sum joins terms with plus signs, two to a line, so that a narrow panel holds it.
func Sum(terms []string) string {
	if len(terms) <= 2 {
		return strings.Join(terms, " + ")
	}
	var b strings.Builder
	b.WriteString(`\begin{aligned}&`)
	for i, term := range terms {
		switch {
		case i == 0:
		case i%2 == 0:
			b.WriteString(` \\ &+ `)
		default:
			b.WriteString(" + ")
		}
		b.WriteString(term)
	}
	b.WriteString(`\end{aligned}`)
	return b.String()
}

// Result writes value ± U (k = 2) with the unit.
func Result(n uncertain.Number, unit string) string {
	v, u := quantity.Round(n.Value, n.Expanded())
	if u == "0" {
		return v + " " + unit
	}
	return v + " ± " + u + " " + unit
}

// Uncertainty shows the expanded uncertainty of a number as k times the root of the sum of
// squares of its budget; k is 2, or more where it depends on few readings. There is nothing
// to show of an exact number.
func Uncertainty(n uncertain.Number, unit string) []Line {
	budget := n.Budget()
	if len(budget) == 0 {
		return nil
	}
	terms := make([]string, len(budget))
	for i, share := range budget {
		terms[i] = "(" + scientific(share.U) + ")^2"
	}
	k := fmt.Sprintf("%.3g", n.CoverageFactor())
	_, u := quantity.Round(n.Value, n.Expanded())
	return []Line{{
		Title: "Uncertainty, k = " + k, Symbol: "U", Formula: `U = k\,\sqrt{\textstyle\sum_i u_i^2}`,
		Substituted: `U = ` + k + `\,\sqrt{` + Sum(terms) + "}" + Unit(unit), Result: u + " " + unit, From: Shares(budget),
	}}
}

// Shares says what each line of a budget is: its label, its part of the variance, its basis.
func Shares(budget []uncertain.Share) []string {
	list := make([]string, len(budget))
	for i, share := range budget {
		list[i] = fmt.Sprintf("%s %.0f %%: %s", share.Label, 100*share.Fraction, share.Basis)
	}
	return list
}

// scientific writes a number for a formula with three digits, so that the root of the terms is
// the uncertainty that is shown, and a power of ten where one is needed.
func scientific(value float64) string {
	text := fmt.Sprintf("%.3g", value)
	if mantissa, exponent, ok := strings.Cut(text, "e"); ok {
		return mantissa + ` \times 10^{` + strings.TrimLeft(strings.Replace(exponent, "-0", "-", 1), "+0") + "}"
	}
	return text
}
