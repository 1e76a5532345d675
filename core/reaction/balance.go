package reaction

import (
	"fmt"
	"math"
	"math/big"
	"slices"
	"strings"

	"vialbench/core/formula"
	"vialbench/core/verdict"
)

// Balance finds the smallest whole coefficients that bring every element and the charge to the
// same on both sides. When several sets do, those that were written stand if they balance. An
// error is a verdict.Problems that says what stands in the way.
func (e Equation) Balance() (Equation, error) {
	wrong := func(format string, args ...any) (Equation, error) {
		return e, verdict.Problems{{Field: "/equation", Reason: fmt.Sprintf(format, args...)}}
	}
	terms := e.terms()
	for i, t := range terms {
		for _, other := range terms[:i] {
			if t.species == other.species && t.State == other.State {
				return wrong("%s stands there twice: write it once", t.Formula)
			}
		}
	}
	rows, err := e.rows()
	if err != nil {
		return wrong("%s", err)
	}
	basis := nullSpace(rows, len(terms))
	switch {
	case len(basis) == 0:
		return wrong("this cannot be balanced: %s", e.obstacle())
	case len(basis) > 1 && e.written && e.balances():
		return e, nil
	case len(basis) > 1:
		return wrong(
			"this has more than one solution: it holds %d reactions at once. Write them one by one, or with their coefficients",
			len(basis),
		)
	}
	nu, ok := coefficients(basis[0])
	if !ok {
		return wrong("this balances only with coefficients above %d: look whether each formula is right", mostCoefficient)
	}
	if slices.ContainsFunc(nu, func(n int64) bool { return n < 0 }) && slices.ContainsFunc(nu, func(n int64) bool { return n > 0 }) ||
		slices.Contains(nu, 0) {
		for i, n := range nu {
			if n == 0 {
				return wrong("%s takes no part in it: leave it out", terms[i].Formula)
			}
		}
		return wrong("this balances only with a species on the other side: look at %s", oddOnes(terms, nu))
	}
	return e.with(nu), nil
}

// oddOnes names the species whose coefficient has the rarer sign.
func oddOnes(terms []Term, nu []int64) string {
	var plus, minus []string
	for i, n := range nu {
		if n > 0 {
			plus = append(plus, terms[i].Formula)
		} else {
			minus = append(minus, terms[i].Formula)
		}
	}
	if len(plus) < len(minus) {
		minus = plus
	}
	return strings.Join(minus, " and ")
}

func (e Equation) terms() []Term { return append(slices.Clone(e.Left), e.Right...) }

// with is the equation with other coefficients, of either sign.
func (e Equation) with(nu []int64) Equation {
	e.Left, e.Right = slices.Clone(e.Left), slices.Clone(e.Right)
	for i := range e.Left {
		e.Left[i].Coefficient = magnitude(nu[i])
	}
	for i := range e.Right {
		e.Right[i].Coefficient = magnitude(nu[len(e.Left)+i])
	}
	return e
}

func magnitude(n int64) int64 { return max(n, -n) }

// rows are the elements, each with its atoms in every species, and the charge; the right side
// counts negative.
func (e Equation) rows() ([][]int64, error) {
	terms := e.terms()
	var symbols []string
	for _, t := range terms {
		for _, c := range t.elements {
			if !slices.Contains(symbols, c.Symbol) {
				symbols = append(symbols, c.Symbol)
			}
		}
	}
	rows := make([][]int64, 0, len(symbols)+1)
	for _, symbol := range symbols {
		row := make([]float64, len(terms))
		for i, t := range terms {
			for _, c := range t.elements {
				if c.Symbol == symbol {
					row[i] = c.Atoms
				}
			}
		}
		whole, ok := toWhole(row)
		if !ok {
			return nil, fmt.Errorf("%s has parts of atoms that no whole coefficient makes up for", symbol)
		}
		rows = append(rows, whole)
	}
	charge := make([]int64, len(terms))
	for i, t := range terms {
		charge[i] = int64(t.charge)
	}
	rows = append(rows, charge)
	for _, row := range rows {
		for i := len(e.Left); i < len(row); i++ {
			row[i] = -row[i]
		}
	}
	return rows, nil
}

// toWhole scales a row with halves and thirds, as of a hemihydrate, to whole numbers.
func toWhole(row []float64) (whole []int64, ok bool) {
	const most = 12
	for factor := 1.0; factor <= most; factor++ {
		whole = whole[:0]
		for _, x := range row {
			if n := math.Round(x * factor); math.Abs(n-x*factor) < 1e-9 {
				whole = append(whole, int64(n))
			}
		}
		if len(whole) == len(row) {
			return whole, true
		}
	}
	return nil, false
}

// nullSpace returns whole vectors that span the null space, each in smallest numbers, and
// positive where the first that is not zero stands. It eliminates in integers of any size, since
// those of a row grow with each step; each row is reduced by its common factor.
func nullSpace(small [][]int64, columns int) [][]*big.Int {
	rows := make([][]*big.Int, len(small))
	for i, row := range small {
		for _, n := range row {
			rows[i] = append(rows[i], big.NewInt(n))
		}
	}
	var pivots []int
	rank := 0
	var left, right big.Int
	for column := 0; column < columns && rank < len(rows); column++ {
		pivot := slices.IndexFunc(rows[rank:], func(r []*big.Int) bool { return r[column].Sign() != 0 })
		if pivot < 0 {
			continue
		}
		rows[rank], rows[rank+pivot] = rows[rank+pivot], rows[rank]
		p := rows[rank]
		for i, r := range rows {
			if i == rank || r[column].Sign() == 0 {
				continue
			}
			factor := new(big.Int).Set(r[column])
			for k := range r {
				r[k].Sub(left.Mul(p[column], r[k]), right.Mul(factor, p[k]))
			}
			reduce(r)
		}
		pivots = append(pivots, column)
		rank++
	}
	var basis [][]*big.Int
	for free := range columns {
		if slices.Contains(pivots, free) {
			continue
		}
		// Of each pivot row: p·x(pivot) + r·x(free) = 0, the common multiple of all p for x(free).
		common := big.NewInt(1)
		for i, column := range pivots {
			p := left.Abs(rows[i][column])
			common.Mul(common, right.Quo(p, new(big.Int).GCD(nil, nil, common, p)))
		}
		v := make([]*big.Int, columns)
		for k := range v {
			v[k] = new(big.Int)
		}
		v[free].Set(common)
		for i, column := range pivots {
			v[column].Neg(left.Mul(rows[i][free], right.Quo(common, rows[i][column])))
		}
		reduce(v)
		if first := slices.IndexFunc(v, func(n *big.Int) bool { return n.Sign() != 0 }); v[first].Sign() < 0 {
			for _, n := range v {
				n.Neg(n)
			}
		}
		basis = append(basis, v)
	}
	return basis
}

// reduce divides by the common factor.
func reduce(row []*big.Int) {
	common := new(big.Int)
	for _, n := range row {
		common.GCD(nil, nil, common, new(big.Int).Abs(n))
	}
	if common.Cmp(big.NewInt(1)) > 0 {
		for _, n := range row {
			n.Quo(n, common)
		}
	}
}

// mostCoefficient is how large a coefficient of an answer is at most.
const mostCoefficient = 1_000_000_000

// coefficients are those of a solution; ok is false when one is larger than anybody would write.
func coefficients(v []*big.Int) (nu []int64, ok bool) {
	for _, n := range v {
		if !n.IsInt64() || magnitude(n.Int64()) > mostCoefficient {
			return nil, false
		}
		nu = append(nu, n.Int64())
	}
	return nu, true
}

func gcd(a, b int64) int64 {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}

// balances reports whether the coefficients balance as they stand.
func (e Equation) balances() bool {
	rows, err := e.rows()
	if err != nil {
		return false
	}
	terms := e.terms()
	for _, row := range rows {
		sum := int64(0)
		for i, n := range row {
			sum += n * terms[i].Coefficient
		}
		if sum != 0 {
			return false
		}
	}
	return true
}

// obstacle says why nothing balances: an element on one side only, or else the charge.
func (e Equation) obstacle() string {
	has := func(terms []Term, symbol string) bool {
		return slices.ContainsFunc(terms, func(t Term) bool {
			return slices.ContainsFunc(t.elements, func(c formula.Count) bool { return c.Symbol == symbol })
		})
	}
	for _, t := range e.terms() {
		for _, c := range t.elements {
			if l, r := has(e.Left, c.Symbol), has(e.Right, c.Symbol); l != r {
				return fmt.Sprintf("%s is on the %s side only", c.Symbol, map[bool]string{true: "left", false: "right"}[l])
			}
		}
	}
	return "the elements and the charge ask for different coefficients. Is H+, OH-, H2O or e- missing?"
}

// Combine adds an oxidation and a reduction so that their electrons cancel, and takes away
// what is on both sides. Each is balanced first. An error is a verdict.Problems.
func Combine(one, other Equation) (Equation, error) {
	var electrons [2]int64
	for i, half := range []*Equation{&one, &other} {
		balanced, err := half.Balance()
		if err != nil {
			return Equation{}, err
		}
		*half = balanced
		for _, t := range half.Right {
			if t.Electron() {
				electrons[i] += t.Coefficient
			}
		}
		for _, t := range half.Left {
			if t.Electron() {
				electrons[i] -= t.Coefficient
			}
		}
	}
	if electrons[0] == 0 || electrons[1] == 0 || electrons[0] > 0 == (electrons[1] > 0) {
		return Equation{}, verdict.Problems{
			{Field: "/half", Reason: "one half-equation gives electrons off (e- on its right), the other takes them up"},
		}
	}
	a, b := magnitude(electrons[0]), magnitude(electrons[1])
	common := gcd(a, b)
	var sum Equation
	add := func(side *[]Term, terms []Term, times int64) {
		for _, t := range terms {
			t.Coefficient *= times
			if i := slices.IndexFunc(*side, func(x Term) bool { return x.species == t.species }); i >= 0 {
				(*side)[i].Coefficient += t.Coefficient
			} else {
				*side = append(*side, t)
			}
		}
	}
	for i, half := range []Equation{one, other} {
		times := []int64{b, a}[i] / common
		add(&sum.Left, half.Left, times)
		add(&sum.Right, half.Right, times)
	}
	sum.cancel()
	return sum, nil
}

// cancel takes away what is on both sides, and the common factor.
func (e *Equation) cancel() {
	for i := range e.Left {
		for k := range e.Right {
			if e.Left[i].species == e.Right[k].species {
				both := min(e.Left[i].Coefficient, e.Right[k].Coefficient)
				e.Left[i].Coefficient -= both
				e.Right[k].Coefficient -= both
			}
		}
	}
	gone := func(t Term) bool { return t.Coefficient == 0 }
	e.Left, e.Right = slices.DeleteFunc(e.Left, gone), slices.DeleteFunc(e.Right, gone)
	common := int64(0)
	for _, t := range e.terms() {
		common = gcd(common, t.Coefficient)
	}
	for _, side := range [][]Term{e.Left, e.Right} {
		for i := range side {
			side[i].Coefficient /= max(common, 1)
		}
	}
}

// Coefficient finds a species by its formula, in any spelling; ok is false when it has no part.
func (e Equation) Coefficient(text string) (n int64, ok bool) {
	t, _, err := readTerm(text)
	if err != nil {
		return 0, false
	}
	for _, x := range e.terms() {
		if x.species == t.species {
			return x.Coefficient, true
		}
	}
	return 0, false
}

// Ratio is how many moles of one species go with one mole of another.
type Ratio struct {
	Of int64 `json:"of"`
	By int64 `json:"by"`
}

// Value is Of over By.
func (r Ratio) Value() float64 { return float64(r.Of) / float64(r.By) }

// RatioOf is the ratio of two species of a balanced equation, in smallest numbers. An error is
// a verdict.Problems.
func (e Equation) RatioOf(of, by string) (Ratio, error) {
	var p verdict.Problems
	a, ok := e.Coefficient(of)
	if !ok {
		p.Add("/of", "%s has no part in this reaction", of)
	}
	b, ok := e.Coefficient(by)
	if !ok {
		p.Add("/by", "%s has no part in this reaction", by)
	}
	if len(p) > 0 {
		return Ratio{}, p
	}
	common := gcd(a, b)
	return Ratio{a / common, b / common}, nil
}
