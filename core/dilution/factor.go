package dilution

import (
	"fmt"
	"strconv"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Factor is a dilution factor F = final volume / volume taken, 1 or more.
type Factor struct {
	Value float64 `json:"value"`
	// Read says how a text was understood: "1 in 20, which is 1 + 19".
	Read string `json:"read"`
}

// The bounds of a factor.
const (
	leastFactor = 1.0
	mostFactor  = 1e9
)

// ParseFactor reads a factor as people write it: "20", "20x", "1 in 20", "1 + 19",
// "1:20", "20-fold", also with other parts than one ("2 in 50"). With colonAdds, "1:20" is
// one part and twenty parts; without, one part in twenty. Equal parts, "1:1", are one and
// one either way: one part in one dilutes nothing.
func ParseFactor(text string, colonAdds bool) (Factor, error) {
	s := strings.ToLower(strings.TrimSpace(text))
	wrong := func() (Factor, error) {
		return Factor{}, fmt.Errorf("“%.20s” is not a dilution factor: write it like 20, 1 in 20, 1 + 19 or 1:20", text)
	}
	number := func(part string) (float64, bool) {
		x, err := quantity.Number(part)
		return x, err == nil && x > 0
	}
	for _, form := range []struct {
		sign string
		adds bool
	}{{" in ", false}, {"+", true}, {":", colonAdds}, {"/", false}} {
		first, second, found := strings.Cut(s, form.sign)
		if !found {
			continue
		}
		part, ok1 := number(first)
		other, ok2 := number(second)
		if !ok1 || !ok2 {
			return wrong()
		}
		if form.adds || form.sign == ":" && part == other {
			other += part
		}
		return newFactor(other / part)
	}
	x, ok := number(strings.TrimRight(strings.TrimSuffix(strings.TrimSuffix(s, "fold"), "times"), "x×- "))
	if !ok {
		return wrong()
	}
	return newFactor(x)
}

func newFactor(value float64) (Factor, error) {
	if !(value >= leastFactor && value <= mostFactor) {
		return Factor{}, fmt.Errorf("a dilution factor is 1 or more, and at most a thousand million: %s would make it stronger", short(value))
	}
	return Factor{value, fmt.Sprintf("1 in %s, which is 1 + %s", short(value), short(value-1))}, nil
}

func short(x float64) string { return strconv.FormatFloat(x, 'g', 6, 64) }

// Step is one dilution, c₁·V₁ = c₂·V₂, concentrations in one unit and volumes in mL.
// 0 stands for what is not known.
type Step struct {
	Stock float64 `json:"stock"`
	Taken float64 `json:"taken"`
	Final float64 `json:"final"`
	Gives float64 `json:"gives"`
}

// Solve finds the one value that is not known.
func (s Step) Solve() (Step, error) {
	unknown := 0
	for _, x := range []float64{s.Stock, s.Taken, s.Final, s.Gives} {
		if x == 0 {
			unknown++
		} else if !(x >= 1/maxConcentration && x <= maxConcentration) {
			return s, fmt.Errorf(
				"concentrations and volumes are above zero, and none is beyond %s; leave out the one to be found",
				quantity.Digits(maxConcentration, 0),
			)
		}
	}
	if unknown != 1 {
		return s, fmt.Errorf("three of the four are needed to find the other one: stock, volume taken, final volume, concentration")
	}
	switch {
	case s.Stock == 0:
		s.Stock = s.Gives * s.Final / s.Taken
	case s.Taken == 0:
		s.Taken = s.Gives * s.Final / s.Stock
	case s.Final == 0:
		s.Final = s.Stock * s.Taken / s.Gives
	default:
		s.Gives = s.Stock * s.Taken / s.Final
	}
	if s.Gives > s.Stock*(1+1e-12) {
		return s, fmt.Errorf("%s is stronger than the stock (%s): dilution only makes weaker", short(s.Gives), short(s.Stock))
	}
	if s.Taken > s.Final*(1+1e-12) {
		return s, fmt.Errorf("more is taken (%s mL) than the final volume (%s mL) holds", short(s.Taken), short(s.Final))
	}
	return s, nil
}

// Solved is Solve, with an error that is verdict.Problems.
func (s Step) Solved() (Step, error) {
	solved, err := s.Solve()
	if err != nil {
		return solved, verdict.Problems{{Reason: err.Error()}}
	}
	return solved, nil
}
