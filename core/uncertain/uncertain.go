package uncertain

import (
	"cmp"
	"encoding/json"
	"math"
	"slices"
	"strings"
)

// Coverage is the coverage factor k of every expanded uncertainty: about 95 %
// for a normal distribution (GUM 6.2).
const Coverage = 2.0

// Source names one independent cause of uncertainty. Numbers that were made
// with the same Source.ID share its error.
type Source struct {
	// ID tells sources apart: "flask 250 mL A", "portion 1 linearity".
	ID string `json:"id"`
	// Label is what a person reads in the budget.
	Label string `json:"label"`
	// Basis says in a few words where the figure comes from.
	Basis string `json:"basis,omitempty"`
	// Shape is the distribution, normal when empty.
	Shape Shape `json:"shape,omitempty"`
	// DoF are the degrees of freedom of u; 0 when it is as good as known.
	DoF float64 `json:"dof,omitempty"`
}

// Contribution is what one source adds: the signed standard uncertainty in the
// unit of the number.
type Contribution struct {
	Source
	U float64 `json:"u"`
}

// Number is a value with its contributions, sorted by source ID. The zero value
// is an exact zero.
type Number struct {
	Value         float64       `json:"value"`
	Contributions Contributions `json:"contributions,omitempty"`
}

// Contributions are sorted by source ID, and name each source once.
type Contributions []Contribution

// UnmarshalJSON reads contributions in any order; those of one source add up. It stands here and not
// at the number: types that embed one would have it too, and lose their own fields.
func (c *Contributions) UnmarshalJSON(text []byte) error {
	var list []Contribution
	if err := json.Unmarshal(text, &list); err != nil {
		return err
	}
	if !slices.IsSortedFunc(list, bySource) || hasTwice(list) {
		list = Gather(0, list).Contributions
	}
	*c = list
	return nil
}

func bySource(a, b Contribution) int { return strings.Compare(a.ID, b.ID) }

// hasTwice reports whether a source stands twice in a sorted list.
func hasTwice(sorted []Contribution) bool {
	for i := 1; i < len(sorted); i++ {
		if sorted[i].ID == sorted[i-1].ID {
			return true
		}
	}
	return false
}

// Exact returns a number without uncertainty.
func Exact(value float64) Number { return Number{Value: value} }

// New returns value with the standard uncertainty u from one source.
func New(value, u float64, source Source) Number {
	if u == 0 {
		return Exact(value)
	}
	return Number{Value: value, Contributions: []Contribution{{source, u}}}
}

// Gather returns value with contributions in any order; it keeps the slice. Those of one
// source add up.
func Gather(value float64, contributions []Contribution) Number {
	slices.SortStableFunc(contributions, bySource)
	kept := contributions[:0]
	for _, c := range contributions {
		switch last := len(kept) - 1; {
		case last >= 0 && kept[last].ID == c.ID:
			kept[last].U += c.U
		default:
			kept = append(kept, c)
		}
	}
	return Number{Value: value, Contributions: kept}
}

// WithLimits returns value within limits ±a of a shape from one source.
func WithLimits(value, a float64, shape Shape, source Source) Number {
	source.Shape = shape
	if shape == TriangularShape {
		return New(value, Triangular(a), source)
	}
	return New(value, Rectangular(a), source)
}

// Rectangular returns the standard uncertainty of limits ±a within which every
// value is equally likely: a/√3 (GUM 4.3.7).
func Rectangular(a float64) float64 { return a / math.Sqrt(3) }

// Triangular returns the standard uncertainty of limits ±a with values near the
// middle more likely: a/√6 (GUM 4.3.9).
func Triangular(a float64) float64 { return a / math.Sqrt(6) }

// U returns the combined standard uncertainty, in the unit of the number.
func (n Number) U() float64 {
	sum := 0.0
	for _, c := range n.Contributions {
		sum += c.U * c.U
	}
	return math.Sqrt(sum)
}

// Expanded returns the expanded uncertainty k·U(), with k from [Number.CoverageFactor].
func (n Number) Expanded() float64 { return n.CoverageFactor() * n.U() }

// Relative returns U()/|Value|; infinite for a value of zero that is not exact.
func (n Number) Relative() float64 {
	if len(n.Contributions) == 0 {
		return 0
	}
	return n.U() / math.Abs(n.Value)
}

// Correlation returns the correlation coefficient r of two numbers, −1…1; 0
// when either is exact.
func Correlation(a, b Number) float64 {
	ua, ub := a.U(), b.U()
	if ua == 0 || ub == 0 {
		return 0
	}
	covariance := 0.0
	merge(a.Contributions, b.Contributions, func(_ Source, ca, cb float64) { covariance += ca * cb })
	return covariance / (ua * ub)
}

// Plus returns n + m.
func (n Number) Plus(m Number) Number { return combine(n.Value+m.Value, n, 1, m, 1) }

// Minus returns n − m.
func (n Number) Minus(m Number) Number { return combine(n.Value-m.Value, n, 1, m, -1) }

// Times returns n·m.
func (n Number) Times(m Number) Number { return combine(n.Value*m.Value, n, m.Value, m, n.Value) }

// Over returns n/m. Dividing by zero gives an infinity, as for float64.
func (n Number) Over(m Number) Number {
	return combine(n.Value/m.Value, n, 1/m.Value, m, -n.Value/(m.Value*m.Value))
}

// Scale returns factor·n for an exact factor.
func (n Number) Scale(factor float64) Number { return n.apply(n.Value*factor, factor) }

// Pow returns n to an exact power.
func (n Number) Pow(p float64) Number {
	return n.apply(math.Pow(n.Value, p), p*math.Pow(n.Value, p-1))
}

// Log returns the natural logarithm; NaN below zero.
func (n Number) Log() Number { return n.apply(math.Log(n.Value), 1/n.Value) }

// Exp returns e to the power n.
func (n Number) Exp() Number { e := math.Exp(n.Value); return n.apply(e, e) }

// apply returns f(n), given f's value and its derivative at n.
func (n Number) apply(value, derivative float64) Number {
	if derivative == 1 { // contributions are never changed in place, so they can be shared
		return Number{Value: value, Contributions: n.Contributions}
	}
	out := Number{Value: value, Contributions: slices.Clone(n.Contributions)}
	for i := range out.Contributions {
		out.Contributions[i].U *= derivative
	}
	return out
}

// combine returns f(a, b), given f's value and its partial derivatives.
func combine(value float64, a Number, da float64, b Number, db float64) Number {
	out := Number{Value: value}
	switch { // shared, as above
	case len(a.Contributions) == 0 && db == 1:
		out.Contributions = b.Contributions
		return out
	case len(b.Contributions) == 0 && da == 1:
		out.Contributions = a.Contributions
		return out
	}
	if total := len(a.Contributions) + len(b.Contributions); total > 0 {
		out.Contributions = make([]Contribution, 0, total)
	}
	merge(a.Contributions, b.Contributions, func(s Source, ca, cb float64) {
		out.Contributions = append(out.Contributions, Contribution{s, da*ca + db*cb})
	})
	return out
}

// merge walks two sorted lists together; a source missing from one counts zero there.
func merge(a, b []Contribution, visit func(s Source, ca, cb float64)) {
	i, j := 0, 0
	for i < len(a) || j < len(b) {
		order := 0
		switch {
		case i == len(a):
			order = 1
		case j == len(b):
			order = -1
		default:
			order = strings.Compare(a[i].ID, b[j].ID)
		}
		switch {
		case order < 0:
			visit(a[i].Source, a[i].U, 0)
			i++
		case order > 0:
			visit(b[j].Source, 0, b[j].U)
			j++
		default:
			visit(a[i].Source, a[i].U, b[j].U)
			i++
			j++
		}
	}
}

// Share is one line of an uncertainty budget: all sources with one label.
type Share struct {
	Label string `json:"label"`
	Basis string `json:"basis,omitempty"`
	// U is the size of the contribution, in the unit of the number.
	U float64 `json:"u"`
	// Fraction is the part of the combined variance, 0…1.
	Fraction float64 `json:"fraction"`
}

// largest is the source of a label that adds most.
func (n Number) largest(label string) (s Source) {
	most := -1.0
	for _, c := range n.Contributions {
		if c.Label == label && math.Abs(c.U) > most {
			most, s = math.Abs(c.U), c.Source
		}
	}
	return s
}

// negligible is the part of the variance below which a source is not told of.
const negligible = 1e-12

// Budget lists what the sources add, the largest first. Sources that carry the
// same label (the atomic weights in one molar mass, say) make one line, with the
// basis of the largest of them. The fractions add up to 1 unless the number is exact, when the budget is empty.
func (n Number) Budget() []Share {
	variance := n.U() * n.U()
	if variance == 0 {
		return nil
	}
	shares := make([]Share, 0, len(n.Contributions))
	for _, c := range n.Contributions {
		if c.U*c.U < negligible*variance { // what cancels out leaves a trace of rounding
			continue
		}
		i := slices.IndexFunc(shares, func(s Share) bool { return s.Label == c.Label })
		if i < 0 {
			i = len(shares)
			shares = append(shares, Share{Label: c.Label, Basis: n.largest(c.Label).Basis})
		}
		shares[i].U = math.Hypot(shares[i].U, c.U)
		shares[i].Fraction = shares[i].U * shares[i].U / variance
	}
	slices.SortStableFunc(shares, func(a, b Share) int { return cmp.Compare(b.Fraction, a.Fraction) })
	return shares
}
