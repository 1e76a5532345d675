package formula

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
)

// Formulas that were read are remembered, as many as a laboratory has: the same few hundred are asked for
// with every key.
const mostRemembered = 2000

var (
	remembered sync.Map // of Formula, by text
	howMany    atomic.Int64
)

// Parse reads a formula. An error is an *Error. What it returns is shared: nobody changes its elements or
// its pieces.
func Parse(text string) (Formula, error) {
	if known, ok := remembered.Load(text); ok {
		return known.(Formula), nil //nolint:errcheck // nothing else is put in
	}
	f, err := parse(text)
	if err == nil && howMany.Load() < mostRemembered {
		f.Elements, f.Pieces = slices.Clip(f.Elements), slices.Clip(f.Pieces)
		if _, known := remembered.LoadOrStore(text, f); !known {
			howMany.Add(1)
		}
	}
	return f, err
}

func parse(text string) (Formula, error) {
	text = strings.TrimSpace(text)
	runes := []rune(text)
	p := &parser{text: text, in: runes, set: make([]byte, 0, 2*len(text)), marks: make([]mark, 0, 12)}
	if len(runes) == 0 {
		return Formula{}, p.fail(0, "nothing written: write a formula, like NaCl or CuSO4·5H2O")
	}
	if len(runes) > maxLength {
		return Formula{}, p.fail(maxLength, "too long for a formula (%d characters; at most %d)", len(runes), maxLength)
	}
	for i, r := range p.in {
		p.in[i] = plain(r)
	}
	if err := p.formula(); err != nil {
		return Formula{}, err
	}
	p.out.Pieces = p.pieces()
	return p.out, nil
}

// plain maps subscript digits and look-alike signs to the characters the parser
// knows. Superscripts stay, since they say "charge".
func plain(r rune) rune {
	switch {
	case r >= '₀' && r <= '₉':
		return '0' + r - '₀'
	case strings.ContainsRune("•⋅∙×*", r):
		return '·'
	case strings.ContainsRune("−–—‒", r):
		return '-'
	case strings.ContainsRune("\u00a0\u2009\u202f", r):
		return ' '
	}
	return r
}

type parser struct {
	text string
	in   []rune
	pos  int
	out  Formula
	// set is the formula as it is set so far, marks where each of its pieces begins.
	set   []byte
	marks []mark
	one   [1]Count // the element at hand
}

type mark struct {
	start int
	style Style
}

func (p *parser) fail(at int, format string, args ...any) *Error {
	return &Error{Text: p.text, At: at, Reason: fmt.Sprintf(format, args...)}
}

func (p *parser) peek() rune {
	if p.pos < len(p.in) {
		return p.in[p.pos]
	}
	return 0
}

func (p *parser) emit(text string, style Style) {
	if n := len(p.marks); n == 0 || style != Plain || p.marks[n-1].style != Plain {
		p.marks = append(p.marks, mark{len(p.set), style})
	}
	p.set = append(p.set, text...)
}

// pieces cuts what was set into its pieces.
func (p *parser) pieces() []Piece {
	all := string(p.set)
	list := make([]Piece, len(p.marks))
	end := len(all)
	for i := len(list) - 1; i >= 0; i-- {
		list[i] = Piece{all[p.marks[i].start:end], p.marks[i].style}
		end = p.marks[i].start
	}
	return list
}

func isDigit(r rune) bool { return r >= '0' && r <= '9' }

func isUpper(r rune) bool { return r >= 'A' && r <= 'Z' }

func isLower(r rune) bool { return r >= 'a' && r <= 'z' }

func isOpen(r rune) bool { return r == '(' || r == '[' || r == '{' }

func isClose(r rune) bool { return r == ')' || r == ']' || r == '}' }

var partner = map[rune]rune{'(': ')', '[': ']', '{': '}'}

func (p *parser) formula() error {
	total := make(tally, 0, 6)
	for {
		factor := 1.0
		if isDigit(p.peek()) || p.peek() == '½' {
			if len(total) == 0 {
				return p.fail(p.pos, "a formula starts with an element: leave out the number in front")
			}
			var err error
			if factor, err = p.count(true); err != nil {
				return err
			}
			p.emit(strconv.FormatFloat(factor, 'f', -1, 64), Plain)
		}
		part, err := p.group(0)
		if err != nil {
			return err
		}
		if len(part) == 0 {
			return p.unexpected()
		}
		total.add(part, factor)
		if p.peek() != '·' && p.peek() != '.' {
			break
		}
		p.pos++
		p.emit("·", Plain)
	}
	if err := p.charge(); err != nil {
		return err
	}
	p.out.Elements = total
	return nil
}

// tally counts atoms, in the order of first appearance. A formula has few elements:
// looking along a list is quicker than a map.
type tally []Count

func (t *tally) add(other tally, factor float64) {
	for _, c := range other {
		i := slices.IndexFunc(*t, func(have Count) bool { return have.Symbol == c.Symbol })
		if i < 0 {
			i = len(*t)
			*t = append(*t, Count{Symbol: c.Symbol})
		}
		(*t)[i].Atoms += factor * c.Atoms
	}
}

// group reads elements and brackets up to a closing bracket, a separator, a
// charge or the end.
func (p *parser) group(depth int) (tally, error) {
	sum := make(tally, 0, 6)
	for p.pos < len(p.in) {
		start := p.pos
		r := p.peek()
		var item tally
		switch {
		case isUpper(r) || isLower(r):
			symbol, err := p.element()
			if err != nil {
				return sum, err
			}
			p.emit(symbol, Plain)
			p.one[0] = Count{symbol, 1}
			item = p.one[:]
		case isOpen(r):
			if depth == maxDepth {
				return sum, p.fail(start, "more than %d brackets inside one another", maxDepth)
			}
			p.pos++
			p.emit(string(r), Plain)
			inner, err := p.group(depth + 1)
			if err != nil {
				return sum, err
			}
			if p.peek() != partner[r] {
				if p.pos == len(p.in) {
					return sum, p.fail(start, "the bracket “%c” is not closed: add “%c”", r, partner[r])
				}
				return sum, p.fail(p.pos, "“%c” does not close “%c”: use “%c”", p.peek(), r, partner[r])
			}
			if len(inner) == 0 {
				return sum, p.fail(start, "there is nothing between the brackets")
			}
			p.pos++
			p.emit(string(partner[r]), Plain)
			item = inner
		case isClose(r):
			if depth == 0 {
				return sum, p.fail(start, "“%c” closes a bracket that was not opened", r)
			}
			return sum, nil
		default:
			return sum, nil
		}
		n, err := p.index(depth, start == 0, item)
		if err != nil {
			return sum, err
		}
		sum.add(item, n)
	}
	return sum, nil
}

// index reads the count behind an element or a bracket; 1 when there is none.
func (p *parser) index(depth int, whole bool, item tally) (float64, error) {
	if !isDigit(p.peek()) {
		return 1, nil
	}
	digits, err := p.chargeAhead(depth, whole, item)
	if err != nil || digits == 0 {
		return 1, err
	}
	rest := p.in
	p.in = p.in[:p.pos+digits]
	n, err := p.count(false)
	p.in = rest
	if err == nil && n != 1 {
		p.emit(strconv.FormatFloat(n, 'f', -1, 64), Sub)
	}
	return n, err
}

// halogen tells of an element whose ions of one atom never carry more than one charge.
func halogen(symbol string) bool { return slices.Contains([]string{"F", "Cl", "Br", "I"}, symbol) }

// count reads a whole number, or with decimals allowed also 0.5 and ½.
func (p *parser) count(decimals bool) (float64, error) {
	start := p.pos
	if p.peek() == '½' {
		p.pos++
		return 0.5, nil
	}
	n := 0.0
	for ; isDigit(p.peek()); p.pos++ {
		n = 10*n + float64(p.peek()-'0')
	}
	if decimals && p.peek() == '.' && p.pos+1 < len(p.in) && isDigit(p.in[p.pos+1]) {
		for p.pos++; isDigit(p.peek()); p.pos++ {
		}
		n, _ = strconv.ParseFloat(string(p.in[start:p.pos]), 64) // digits and a point
	}
	if n == 0 || n > maxCount {
		return 0, p.fail(start, "a count is a number from 1 to %d, not %s", maxCount, string(p.in[start:p.pos]))
	}
	return n, nil
}

// element reads one symbol, the longest that exists.
func (p *parser) element() (string, error) {
	first := p.peek()
	next := rune(0)
	if p.pos+1 < len(p.in) {
		next = p.in[p.pos+1]
	}
	if isUpper(first) {
		if isLower(next) {
			if e := elementOf[string([]byte{byte(first), byte(next)})]; e != nil {
				p.pos += 2
				return e.symbol, nil
			}
			return "", p.fail(p.pos, "%s", p.adviseSymbol(first, next))
		}
		if e := elementOf[string([]byte{byte(first)})]; e != nil {
			p.pos++
			return e.symbol, nil
		}
	}
	return "", p.fail(p.pos, "%s", p.adviseSymbol(first, next))
}

// adviseSymbol explains a symbol that does not exist and says what was probably meant.
func (p *parser) adviseSymbol(first, next rune) string {
	upper := func(r rune) rune { return []rune(strings.ToUpper(string(r)))[0] }
	lower := func(r rune) rune { return []rune(strings.ToLower(string(r)))[0] }
	written := string(first)
	if isLower(next) {
		written += string(next)
	}
	message := "no element " + written
	capital := string(upper(first))
	// NaCL: the letter before and this one make a symbol.
	if p.pos > 0 && isUpper(p.in[p.pos-1]) {
		if e := elementOf[string([]rune{p.in[p.pos-1], lower(first)})]; e != nil {
			return fmt.Sprintf("%s; %s is %s", message, e.name, e.symbol)
		}
	}
	// nacl: a capital is missing.
	if isLower(first) {
		if isLower(next) {
			if e := elementOf[capital+string(next)]; e != nil {
				return fmt.Sprintf("%s; %s is %s, with a capital", message, e.name, e.symbol)
			}
		}
		if e := elementOf[capital]; e != nil {
			return fmt.Sprintf("%s; %s is %s, with a capital", message, e.name, e.symbol)
		}
		return message
	}
	// Kh: two elements run together.
	if isLower(next) {
		a, b := elementOf[capital], elementOf[string(upper(next))]
		if a != nil && b != nil {
			return fmt.Sprintf("%s; %s is %s, then %s", message, a.name, a.symbol, b.symbol)
		}
		if a != nil {
			return fmt.Sprintf("%s; %s is %s alone", message, a.name, a.symbol)
		}
	}
	// A letter that only starts symbols: name one or two of them.
	var starts []string
	for _, e := range elements {
		if strings.HasPrefix(e.symbol, capital) && len(starts) < 3 {
			starts = append(starts, fmt.Sprintf("%s (%s)", e.symbol, e.name))
		}
	}
	if len(starts) > 0 {
		return message + "; there is " + strings.Join(starts, ", ")
	}
	return message
}

// unexpected says what cannot stand where the parser is.
func (p *parser) unexpected() *Error {
	if p.pos >= len(p.in) {
		return p.fail(len(p.in), "the formula stops after “%s”: an element should follow", string(p.in[max(0, len(p.in)-1):]))
	}
	r := p.in[p.pos]
	switch {
	case r == ' ':
		return p.fail(p.pos, "a space does not belong inside a formula, except before a charge (SO4 2-)")
	case r == '·' || r == '.':
		return p.fail(p.pos, "something should stand between two points, like ·5H2O")
	case isClose(r):
		return p.fail(p.pos, "“%c” closes a bracket that was not opened", r)
	case r == '+' || r == '-' || r == '^':
		return p.fail(p.pos, "a charge comes at the end: write it like Ca^2+ or SO4 2-")
	}
	return p.fail(p.pos, "“%c” does not belong in a formula: use symbols, counts, brackets, · for water and a charge", r)
}
