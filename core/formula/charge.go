package formula

import (
	"strconv"
	"strings"
)

// chargeAhead looks at digits that run up to a sign at the end, and tells which of them
// are an index; the others are the size of the charge. The trade writes both without a
// space: the last of two digits is the charge (SO42-, Cr2O72-, Hg22+), and so is a digit
// behind a single metal (Ca2+) or behind the bracket around a whole complex
// ([Fe(CN)6]4-); behind any other group a single digit is an index (NO3-, NH4+). Behind a
// single non-metal (S2-, O2-) it may be either, which is refused. depth is that of the
// brackets around the digits, whole reports whether they follow the first thing written.
func (p *parser) chargeAhead(depth int, whole bool, item tally) (index int, err error) {
	end := p.pos
	for end < len(p.in) && isDigit(p.in[end]) {
		end++
	}
	digits := end - p.pos
	if depth > 0 || end != len(p.in)-1 || p.in[end] != '+' && p.in[end] != '-' {
		return digits, nil
	}
	last := p.in[end-1]
	switch bracket := isClose(p.in[p.pos-1]); {
	case digits > 1 && last >= '2' && last <= '4':
		return digits - 1, nil
	case digits > 1 || !whole || bracket && p.in[p.pos-1] == ')' || !bracket && halogen(item[0].Symbol):
		return digits, nil
	case bracket || !nonMetals[item[0].Symbol]:
		return 0, nil
	}
	symbol, sign := item[0].Symbol, string(p.in[end])
	return 0, p.fail(p.pos, "%s%c%s can be read two ways: write %s^%c%s for the ion of one atom, or %s%c ^%s for that of %c atoms",
		symbol, last, sign, symbol, last, sign, symbol, last, sign, last)
}

var superscript = map[rune]rune{
	'⁰': '0',
	'¹': '1',
	'²': '2',
	'³': '3',
	'⁴': '4',
	'⁵': '5',
	'⁶': '6',
	'⁷': '7',
	'⁸': '8',
	'⁹': '9',
	'⁺': '+',
	'⁻': '-',
}

// charge reads what is left of the formula: nothing, or a charge.
func (p *parser) charge() error {
	start := p.pos
	for p.peek() == ' ' {
		p.pos++
	}
	if p.peek() == '^' {
		p.pos++
	}
	digits, sign := p.digitsAndSign()
	if p.pos < len(p.in) || p.pos > start && sign == 0 {
		p.pos = start
		return p.unexpected()
	}
	if sign == 0 {
		return nil
	}
	size := 1
	if digits != "" {
		size, _ = strconv.Atoi(digits)
	}
	if size == 0 || size > 9 {
		return p.fail(start, "a charge of %s is not possible: write it like 2+ or −", digits)
	}
	text := string(sign)
	if size > 1 {
		text = strconv.Itoa(size) + text
	}
	p.emit(strings.ReplaceAll(text, "-", "−"), Sup)
	p.out.Charge = size
	if sign == '-' {
		p.out.Charge = -size
	}
	return nil
}

// digitsAndSign reads “2+”, “−” or “--”; a sign of 0 is none.
func (p *parser) digitsAndSign() (digits string, sign rune) {
	for ; p.pos < len(p.in); p.pos++ {
		r := p.in[p.pos]
		if plainRune, ok := superscript[r]; ok {
			r = plainRune
		}
		if isDigit(r) && sign == 0 && len(digits) < 2 {
			digits += string(r)
			continue
		}
		if (r == '+' || r == '-') && (sign == 0 || sign == r && digits == "") {
			if sign == r { // "++" and "--"
				digits = "2"
			}
			sign = r
			continue
		}
		break
	}
	return digits, sign
}
