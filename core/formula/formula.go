package formula

import (
	"slices"
	"strings"
	"unicode/utf8"

	"vialbench/core/uncertain"
)

// Count is how many atoms of one element a formula unit holds.
type Count struct {
	Symbol string  `json:"symbol"`
	Atoms  float64 `json:"atoms"`
}

// Style says how a piece of a typeset formula is set.
type Style string

// The three styles of a piece.
const (
	Plain Style = ""
	Sub   Style = "sub"
	Sup   Style = "sup"
)

// Piece is a run of characters of one style.
type Piece struct {
	Text  string `json:"text"`
	Style Style  `json:"style,omitempty"`
}

// Formula is a formula that has been read. The zero value is empty.
type Formula struct {
	// Elements in the order of first appearance.
	Elements []Count
	// Charge in elementary charges.
	Charge int
	// Pieces set the formula: H₂PO₄⁻.
	Pieces []Piece
}

// Error is a formula that cannot be read: where, what is wrong and what would be
// right. At counts characters from 0.
type Error struct {
	Text   string
	At     int
	Reason string
}

func (e *Error) Error() string { return e.Reason }

// String writes the formula on one line, with · before an addend and ^ before a
// charge that has a size. It reads back as the same formula.
func (f Formula) String() string {
	var b strings.Builder
	for _, p := range f.Pieces {
		if p.Style == Sup && utf8.RuneCountInString(p.Text) > 1 {
			b.WriteByte('^')
		}
		b.WriteString(strings.ReplaceAll(p.Text, "−", "-"))
	}
	return b.String()
}

// Atoms returns how many atoms of an element the formula holds.
func (f Formula) Atoms(symbol string) float64 {
	for _, c := range f.Elements {
		if c.Symbol == symbol {
			return c.Atoms
		}
	}
	return 0
}

// MolarMass returns M in g/mol with one source of uncertainty per element.
func (f Formula) MolarMass() uncertain.Number {
	m := uncertain.Number{Contributions: make([]uncertain.Contribution, 0, len(f.Elements))}
	for _, c := range f.Elements {
		e := elementOf[c.Symbol]
		m.Value += c.Atoms * e.weight
		m.Contributions = append(m.Contributions, uncertain.Contribution{Source: e.source, U: c.Atoms * e.u})
	}
	slices.SortFunc(m.Contributions, func(a, b uncertain.Contribution) int { return strings.Compare(a.ID, b.ID) })
	return m
}

// AtomicWeight returns the standard atomic weight of an element in g/mol; ok is
// false when there is no such element in the table.
func AtomicWeight(symbol string) (weight uncertain.Number, ok bool) {
	e, ok := elementOf[symbol]
	if !ok {
		return uncertain.Number{}, false
	}
	return uncertain.New(e.weight, e.u, e.source), true
}

// Share is the part of one element in the mass.
type Share struct {
	Count
	Name     string
	Mass     float64 // g per mol of formula units
	Fraction float64 // 0…1
}

// Composition lists the elements with their part in the mass.
func (f Formula) Composition() []Share {
	total := f.MolarMass().Value
	shares := make([]Share, len(f.Elements))
	for i, c := range f.Elements {
		e := elementOf[c.Symbol]
		mass := c.Atoms * e.weight
		shares[i] = Share{c, e.name, mass, mass / total}
	}
	return shares
}

const (
	maxLength = 200
	maxDepth  = 8
	maxCount  = 9999
)
