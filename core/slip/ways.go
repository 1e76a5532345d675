package slip

import (
	"fmt"
	"slices"
	"strings"

	"vialbench/core/quantity"
)

// partsToParts is aliquot + flask over aliquot where it was flask over aliquot, and what turns it round.
func partsToParts(s *Step, add adding) {
	if s.Role == DilutionFactor {
		add("", func(v float64, _ []float64) float64 { return v + 1 })
	}
	if s.Role == Diluted {
		add("", func(v float64, _ []float64) float64 { return v / (v + 1) })
	}
}

// ofTheRest is flask − aliquot over aliquot.
func ofTheRest(s *Step, add adding) {
	if s.Role == DilutionFactor {
		add("", func(v float64, _ []float64) float64 { return v - 1 })
	}
	if s.Role == Diluted {
		add("", func(v float64, _ []float64) float64 { return v / (1 - v) })
	}
}

// moleRatio is a slip of a ratio other than one.
func moleRatio(instead func(float64, []float64) float64) func(*Step, adding) {
	return func(s *Step, add adding) {
		if s.Role == MoleRatio && s.Value != 1 {
			add("", instead)
		}
	}
}

// startLeftOut is a slip in all trials, or in one.
func startLeftOut(s *Step, add adding) {
	switch {
	case s.Role == Titre:
		add("", leaveOut)
	case s.Role == Trials && len(s.Of) > 1:
		var without []float64
		for i := range s.Of {
			x, ok := withoutStart(&s.Of[i])
			if !ok {
				return
			}
			without = append(without, x)
		}
		add("in every trial", func(float64, []float64) float64 { return s.of(without) })
	}
}

// withoutStart is what a trial gives where its start reading is not subtracted; ok is false of one that has none.
func withoutStart(trial *Step) (x float64, ok bool) {
	w := layOut(trial)
	at := slices.IndexFunc(w.steps, func(s *Step) bool { return s.Role == Titre })
	if at < 0 {
		return 0, false
	}
	return w.with(&chance{at: at, instead: leaveOut}), true
}

// leftOut reports whether some trials are left out of a mean.
func leftOut(s *Step) bool { return s.Role == Trials && slices.Contains(s.Counted, false) }

func roughAveraged(s *Step, add adding) {
	if leftOut(s) {
		add("", func(_ float64, args []float64) float64 { return s.mean(args, func(int) bool { return true }) })
	}
}

func roughAlone(s *Step, add adding) {
	for i, counts := range s.Counted {
		if s.Role == Trials && !counts {
			add(s.Of[i].Name, func(_ float64, args []float64) float64 { return args[i] })
		}
	}
}

func oneTrial(s *Step, add adding) {
	if s.Role != Trials || len(s.Of) < 2 {
		return
	}
	for i := range s.Of {
		if len(s.Counted) == 0 || s.Counted[i] {
			add(s.Of[i].Name, func(_ float64, args []float64) float64 { return args[i] })
		}
	}
}

func sumForMean(s *Step, add adding) {
	if s.Role == Trials && len(s.Of) > 1 {
		add("", func(v float64, args []float64) float64 {
			n := len(args)
			if len(s.Counted) > 0 {
				n = 0
				for _, counts := range s.Counted {
					if counts {
						n++
					}
				}
			}
			return v * float64(n)
		})
	}
}

// drop is the volume of one, in mL (common practice).
const drop = 0.05

func dropsSubtracted(s *Step, add adding) {
	if s.Role != Titre {
		return
	}
	for _, n := range []float64{1, 2, 3, 4} {
		add(fmt.Sprintf("%g of %s", n, s.Name), func(v float64, _ []float64) float64 { return v - n*drop })
	}
}

// transmittance is what was read in %, or the fraction, in the place of its absorbance.
func transmittance(s *Step, add adding) {
	if s.Role == Absorbance {
		fraction := layOut(&s.Of[0].Of[0]).result()
		add("the fraction", to(fraction))
		add("the per cent", to(100*fraction))
	}
}

// slopeAndIntercept exchanges both of a line (A − b)/m.
func slopeAndIntercept(s *Step, add adding) {
	if s.Role != OnLine || s.Of[0].Op != Minus {
		return
	}
	a, b, m := &s.Of[0].Of[0], &s.Of[0].Of[1], &s.Of[1]
	if b.Op == Figure && b.Value != 0 && m.Op == Figure {
		observed := layOut(a).result()
		add("", to((observed-m.Value)/b.Value))
	}
}

// intercept is a slip with that of a line.
func intercept(instead func(float64, []float64) float64) func(*Step, adding) {
	return func(s *Step, add adding) {
		if s.Role == OnLine && s.Of[0].Op == Minus && s.Of[0].Of[1].Value != 0 {
			under := s.Of[0].Of
			add("", func(_ float64, args []float64) float64 {
				return instead(0, []float64{layOut(&under[0]).result(), layOut(&under[1]).result()}) / args[1]
			})
		}
	}
}

// ofResult is a slip by a factor either way, of the result alone.
func ofResult(factor float64) func(*Step, adding) {
	return func(s *Step, add adding) {
		if s.Name != result {
			return
		}
		add(fmt.Sprintf("%g times too large", factor), times(factor))
		add(fmt.Sprintf("%g times too small", factor), times(1/factor))
	}
}

// digitsExchanged is a figure with two neighbouring digits the other way round.
func digitsExchanged(s *Step, add adding) {
	if s.Op != Figure || s.Role == MoleRatio || s.Role == Expected {
		return
	}
	text := strings.Replace(quantity.Digits(s.Value, s.Decimals), "−", "-", 1)
	for i := range len(text) - 1 {
		j := i + 1
		if text[j] == '.' {
			j++
		}
		if j >= len(text) || !isDigit(text[i]) || !isDigit(text[j]) || text[i] == text[j] {
			continue
		}
		other := []byte(text)
		if other[i], other[j] = other[j], other[i]; other[0] == '0' && text[0] != '0' { // nobody writes that
			continue
		}
		if value, err := quantity.Number(string(other)); err == nil {
			add(fmt.Sprintf("%s for %s, %s", other, text, s.Name), to(value))
		}
	}
}

func isDigit(c byte) bool { return c >= '0' && c <= '9' }

// roundedEarly is a step on the way with two or three digits.
func roundedEarly(s *Step, add adding) {
	if s.Name == result || s.Op == Scale || s.Name == "" || s.Op == Figure && (s.Role != Constant && s.Role != Concentration) {
		return
	}
	for _, digits := range []int{1, 2, 3} {
		says := fmt.Sprintf("%s to %d digits", s.Name, digits)
		if digits == 1 {
			says = s.Name + " to one digit"
		}
		add(says, func(v float64, _ []float64) float64 { return quantity.Significant(v, digits) })
	}
}
