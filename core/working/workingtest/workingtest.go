// Package workingtest reads a line of working as a person would and computes it again, so
// that tests find a line whose values do not give the result that it prints.
package workingtest

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"vialbench/core/quantity"
	"vialbench/core/working"
)

// Check fails a test when a line does not evaluate to its result, as far as the digits
// that it prints tell.
func Check(t testing.TB, lines []working.Line) {
	t.Helper()
	for _, l := range lines {
		got, err := Evaluate(l.Substituted)
		if err != nil {
			t.Errorf("%s: %s: %v", l.Title, l.Substituted, err)
			continue
		}
		want, step, err := result(l.Result)
		if err != nil {
			t.Errorf("%s: result %q: %v", l.Title, l.Result, err)
			continue
		}
		tolerance := 0.51*step + 2e-4*math.Abs(want) // values before it are printed to their own uncertainty
		if l.Symbol == "U" {                         // its terms have three digits each, and it has two, also without a point
			step = math.Max(step, math.Pow(10, math.Floor(math.Log10(want))-1))
			tolerance = 0.51*step + 0.005*math.Abs(want)
		}
		if math.Abs(got-want) > tolerance {
			t.Errorf("%s: %s gives %.6g and not %.6g (%s)", l.Title, l.Substituted, got, want, l.Result)
		}
	}
}

// result reads "0.1000 ± 0.0002 mol/L" in base units, with the size of its last digit.
func result(text string) (value, step float64, err error) {
	text = strings.ReplaceAll(text, "−", "-")
	value0, rest, _ := strings.Cut(text, " ")
	own := 0.0 // the size of the second digit of an uncertainty like 410: both are rounded to it
	if after, ok := strings.CutPrefix(rest, "± "); ok {
		var u string
		u, rest, _ = strings.Cut(after, " ")
		if of, err := strconv.ParseFloat(u, 64); err == nil && of >= 100 {
			own = math.Pow(10, math.Floor(math.Log10(of))-1)
		}
	}
	value, err = strconv.ParseFloat(value0, 64)
	if err != nil {
		return 0, 0, err
	}
	factor, err := factorOf(strings.TrimSpace(rest))
	_, decimals, _ := strings.Cut(value0, ".")
	return value * factor, max(own, math.Pow(10, -float64(len(decimals)))) * factor, err
}

// Evaluate computes what is to the right of the first equals sign, in g, L and mol.
func Evaluate(latex string) (float64, error) {
	for _, sign := range []string{"=", `\approx`} {
		if _, after, ok := strings.Cut(latex, sign); ok {
			latex = after
			break
		}
	}
	if low, high, ok := strings.Cut(latex, `\le y \le`); ok { // an interval: its middle
		a, err1 := Evaluate(low)
		b, err2 := Evaluate(high)
		return (a + b) / 2, errors.Join(err1, err2)
	}
	p := &parser{in: strip.Replace(latex)}
	value, err := p.sum()
	if err == nil && strings.TrimSpace(p.in) != "" {
		err = fmt.Errorf("“%s” is left over", p.in)
	}
	return value, err
}

// strip drops what only sets the line.
var strip = strings.NewReplacer(
	`\begin{aligned}&`,
	"",
	`\end{aligned}`,
	"",
	`\\ &`,
	"",
	`\textstyle`,
	"",
	`\bigl`,
	"",
	`\bigr`,
	"",
	`\,\%`,
	`\%`,
)

type parser struct{ in string }

var (
	number = regexp.MustCompile(`^\d+(\.\d+)?(e[-+]?\d+)?( \\times 10\^\{(-?\d+)\})?`)
	unit   = regexp.MustCompile(`^\\,\\mathrm\{((?:[^{}]|\{[^{}]*\})*)\}`)
)

func (p *parser) take(prefix string) bool {
	p.in = strings.TrimLeft(p.in, " ")
	rest, ok := strings.CutPrefix(p.in, prefix)
	if ok {
		p.in = rest
	}
	return ok
}

func (p *parser) sum() (float64, error) {
	value, err := p.product()
	for err == nil {
		var next float64
		switch {
		case p.take("+"):
			next, err = p.product()
			value += next
		case p.take("-"):
			next, err = p.product()
			value -= next
		default:
			return value, nil
		}
	}
	return value, err
}

func (p *parser) product() (float64, error) {
	value, err := p.power()
	for err == nil {
		p.take(`\times`)
		p.take(`\,`)
		p.in = strings.TrimLeft(p.in, " ")
		if p.in == "" || strings.ContainsAny(p.in[:1], "+-)}") {
			break
		}
		var next float64
		next, err = p.power()
		value *= next
	}
	return value, err
}

func (p *parser) power() (float64, error) {
	value, err := p.atom()
	if err == nil && p.take("^2") {
		value *= value
	}
	if m := unit.FindStringSubmatch(p.in); m != nil { // of a whole term
		p.in = p.in[len(m[0]):]
		var factor float64
		factor, err = factorOf(plain(m[1]))
		value *= factor
	}
	return value, err
}

func (p *parser) atom() (float64, error) {
	switch {
	case p.take(`\frac{`):
		above, err := p.until("}")
		if err != nil || !p.take("{") {
			return 0, errors.Join(err, errors.New("a fraction has two parts"))
		}
		below, err := p.until("}")
		return above / below, err
	case p.take(`\sqrt{`):
		value, err := p.until("}")
		return math.Sqrt(value), err
	case p.take(`\log(`):
		value, err := p.until(")")
		return math.Log10(value), err
	case p.take("("):
		return p.until(")")
	case p.take("-"):
		value, err := p.power()
		return -value, err
	}
	m := number.FindStringSubmatch(p.in)
	if m == nil {
		return 0, fmt.Errorf("no number at “%s”", p.in)
	}
	p.in = p.in[len(m[0]):]
	mantissa, _, _ := strings.Cut(m[0], " ")
	value, err := strconv.ParseFloat(mantissa, 64)
	if m[4] != "" {
		exponent, _ := strconv.Atoi(m[4])
		value *= math.Pow10(exponent)
	}
	if p.take(`\%`) {
		value /= 100
	}
	return value, err
}

func (p *parser) until(end string) (float64, error) {
	value, err := p.sum()
	if err == nil && !p.take(end) {
		err = fmt.Errorf("“%s” is missing at “%s”", end, p.in)
	}
	return value, err
}

// plain is a unit without its setting.
func plain(latex string) string {
	return strings.NewReplacer(`\%`, "%", `{}^{\circ}C`, "°C", `\mu `, "µ").Replace(latex)
}

// factorOf brings a unit to g, L and mol.
func factorOf(text string) (float64, error) {
	switch text {
	case "":
		return 1, nil
	case "%":
		return 0.01, nil
	case "L/(mol·cm)":
		return 1, nil
	}
	if strings.Contains(text, " per ") { // a slope, as it stands
		return 1, nil
	}
	u, err := quantity.UnitOf(text)
	if err != nil {
		return 0, err
	}
	switch u.Dimension {
	case quantity.Density: // g/mL
		return 1000 * u.Factor, nil
	case quantity.Molality: // mol/kg
		return u.Factor / 1000, nil
	}
	return u.Factor, nil
}
