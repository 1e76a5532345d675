// Package reaction reads chemical equations, balances them, and tells how many moles of one
// species go with how many of another.
//
// An equation is balanced when every element and the charge come to the same on both sides:
// with a column for each species, a row for each element and one for the charge, and the right
// side counted negative, the coefficients ν solve
//
//	A·ν = 0,  ν > 0
//
// A has a null space of one dimension when the equation has one solution; it is found exactly,
// in integers. With none the equation cannot be balanced; with more than one it holds two
// reactions, and the coefficients that were written stand if they balance.
package reaction

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/formula"
	"vialbench/core/verdict"
)

// Term is a species of an equation with its coefficient.
type Term struct {
	Coefficient int64 `json:"coefficient"`
	// Formula as it is written, without the state: “Fe^2+”; the electron is “e-”.
	Formula string          `json:"formula"`
	Pieces  []formula.Piece `json:"pieces"`
	// State is s, l, g or aq; empty when it was not written.
	State string `json:"state,omitempty"`

	elements []formula.Count
	charge   int
	// species tells it from others, whatever way they are spelled.
	species string
}

// Electron reports whether the term is electrons.
func (t Term) Electron() bool { return t.Formula == electron }

const electron = "e-"

// Equation is a reaction.
type Equation struct {
	Left  []Term `json:"left"`
	Right []Term `json:"right"`
	// written reports whether coefficients other than 1 were written.
	written bool
}

// Limits of an equation.
const (
	maxText    = 500
	maxSpecies = 16
	maxWritten = 9999
)

var arrows = []string{"⟶", "→", "⇌", "⇄", "<=>", "<->", "-->", "->", "=>", "="}

// Parse reads “MnO4- + 5 Fe^2+ + 8 H+ -> Mn^2+ + 5 Fe^3+ + 4 H2O”; states like (aq) may stand
// behind a formula, and e- is the electron. An error is a verdict.Problems.
func Parse(text string) (Equation, error) {
	wrong := func(format string, args ...any) (Equation, error) {
		return Equation{}, verdict.Problems{{Field: "/equation", Reason: fmt.Sprintf(format, args...)}}
	}
	if len(text) > maxText {
		return wrong("an equation has at most %d characters", maxText)
	}
	left, right, ok := "", "", false
	for _, arrow := range arrows {
		if left, right, ok = strings.Cut(text, arrow); ok {
			break
		}
	}
	if !ok {
		return wrong("write an arrow between the two sides, like H2 + O2 -> H2O")
	}
	var e Equation
	for _, side := range []struct {
		text string
		into *[]Term
	}{{left, &e.Left}, {right, &e.Right}} {
		for _, part := range split(side.text) {
			t, written, err := readTerm(part)
			if err != nil {
				return wrong("%s", err)
			}
			e.written = e.written || written
			*side.into = append(*side.into, t)
		}
		if len(*side.into) == 0 {
			return wrong("nothing is on one side of the arrow")
		}
	}
	if n := len(e.Left) + len(e.Right); n > maxSpecies {
		return wrong("an equation has at most %d species here, this one has %d", maxSpecies, n)
	}
	return e, nil
}

// split cuts a side at its plus signs: those between spaces, and those right before the next
// formula. A plus behind a formula is its charge.
func split(side string) []string {
	runes := []rune(side)
	var parts []string
	from := 0
	for i, r := range runes {
		if r != '+' || i == 0 || i == len(runes)-1 {
			continue
		}
		next := runes[i+1]
		if rest := string(runes[i+1:]); slices.ContainsFunc(states, func(s string) bool { return strings.HasPrefix(rest, s) }) {
			continue // a state: the plus is the charge before it
		}
		before := strings.TrimRight(string(runes[from:i]), " ")
		between := runes[i-1] == ' ' || slices.ContainsFunc(states, func(s string) bool { return strings.HasSuffix(before, s) })
		formula := next >= 'A' && next <= 'Z' || next == '[' || next == '(' || next == 'e'
		if between || formula && runes[i-1] != '+' {
			parts = append(parts, string(runes[from:i]))
			from = i + 1
		}
	}
	parts = append(parts, string(runes[from:]))
	return slices.DeleteFunc(parts, func(p string) bool { return strings.TrimSpace(p) == "" })
}

var states = []string{"(aq)", "(s)", "(l)", "(g)"}

// readTerm reads “5 Fe^2+ (aq)”; written reports whether it has a coefficient.
func readTerm(text string) (t Term, written bool, err error) {
	text = strings.TrimSpace(text)
	for _, s := range states {
		if rest, ok := strings.CutSuffix(text, s); ok {
			text, t.State = strings.TrimSpace(rest), strings.Trim(s, "()")
			break
		}
	}
	t.Coefficient = 1
	digits := 0
	for digits < len(text) && text[digits] >= '0' && text[digits] <= '9' {
		digits++
	}
	if digits > 0 {
		n, err := strconv.ParseInt(text[:digits], 10, 64)
		if err != nil || n < 1 || n > maxWritten {
			return t, true, fmt.Errorf("a coefficient is from 1 to %d, not %s", maxWritten, text[:digits])
		}
		t.Coefficient, written = n, true
		text = strings.TrimSpace(strings.TrimLeft(text[digits:], "*· "))
	}
	switch strings.ReplaceAll(text, "−", "-") {
	case "":
		return t, written, fmt.Errorf("a coefficient stands without a formula")
	case "e", "e-", "e^-":
		t.Formula, t.charge = electron, -1
		t.Pieces = []formula.Piece{{Text: "e"}, {Text: "−", Style: formula.Sup}}
		t.species = t.Formula
		return t, written, nil
	}
	f, err := formula.Parse(text)
	if err != nil {
		return t, written, fmt.Errorf("“%s”: %w", text, err)
	}
	t.Formula, t.Pieces, t.elements, t.charge = f.String(), f.Pieces, slices.Clone(f.Elements), f.Charge
	slices.SortFunc(t.elements, func(a, b formula.Count) int { return strings.Compare(a.Symbol, b.Symbol) })
	t.species = fmt.Sprint(t.elements, t.charge)
	return t, written, nil
}

// String writes the equation in plain characters.
func (e Equation) String() string { return sideOf(e.Left) + " → " + sideOf(e.Right) }

func sideOf(terms []Term) string {
	list := make([]string, len(terms))
	for i, t := range terms {
		list[i] = t.Formula
		if t.Coefficient != 1 {
			list[i] = fmt.Sprintf("%d %s", t.Coefficient, t.Formula)
		}
		if t.State != "" {
			list[i] += "(" + t.State + ")"
		}
	}
	return strings.Join(list, " + ")
}

// LaTeX sets the equation.
func (e Equation) LaTeX() string {
	set := func(terms []Term) string {
		list := make([]string, len(terms))
		for i, t := range terms {
			if t.Coefficient != 1 {
				list[i] = fmt.Sprintf(`%d\,`, t.Coefficient)
			}
			list[i] += Set(t.Pieces)
		}
		return strings.Join(list, " + ")
	}
	return set(e.Left) + ` \longrightarrow ` + set(e.Right)
}

// Set sets a formula in LaTeX.
func Set(pieces []formula.Piece) string {
	var b strings.Builder
	b.WriteString(`\mathrm{`)
	for _, p := range pieces {
		switch p.Style {
		case formula.Sub:
			fmt.Fprintf(&b, "_{%s}", p.Text)
		case formula.Sup:
			fmt.Fprintf(&b, "^{%s}", strings.ReplaceAll(p.Text, "−", "-"))
		default:
			b.WriteString(strings.ReplaceAll(p.Text, "·", `\cdot `))
		}
	}
	b.WriteByte('}')
	return b.String()
}
