package solution_test

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/solution"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// speaks reports whether a rule has something to look at, or stops, in a list.
func speaks(list []verdict.Verdict, rule verdict.Rule) bool {
	return slices.ContainsFunc(list, func(v verdict.Verdict) bool { return v.Rule == rule.ID && v.Level != verdict.Fine })
}

// A rule with a threshold changes its mind where the quantity that it judges is, which was
// worked out by hand: not a little below, and not a little above. Quantities that are read
// or counted are tried at the threshold itself too.
func TestEveryThresholdJustUnderAtAndOver(t *testing.T) {
	plan := func(r solution.Request, rule verdict.Rule) func(float64) bool {
		return func(threshold float64) bool {
			r.Thresholds = verdict.Thresholds{rule.ID: threshold}
			recipe, err := r.Recipe()
			if err != nil {
				t.Fatal(err)
			}
			return speaks(recipe.Verdicts, rule)
		}
	}
	at := func(rule verdict.Rule, stepID string, s *script) func(float64) bool {
		r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
		return func(threshold float64) bool {
			r.Thresholds = verdict.Thresholds{rule.ID: threshold}
			return speaks(step(mustMake(t, r, s), stepID).Verdicts, rule)
		}
	}
	warm := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	warm.WaterTemperature = 23
	cool := warm
	cool.WaterTemperature = 17
	salt := request("sodium-chloride", "200 g/L", "1 L")
	dissolves := 35.9 / (1 + 0.8*35.9/(100*2.165)) // g in 100 mL, from 35.9 g in 100 mL of water and 2.165 g/mL
	hydrochloric := request("hydrochloric-acid", "0.01 mol/L", "100 mL")
	hydrochloric.Assay, hydrochloric.Dispense = 0.37, glassware.GraduatedPipette
	measured := 1 / 0.37 / hydrochloric.Substance.Density * 36.458 / 1000 // mL, on a pipette of 1 mL in divisions of 0.01 mL

	for name, c := range map[string]struct {
		quantity, within float64
		over             bool // it speaks of what is over its threshold, and else of what is under
		exact            bool // the threshold can be met exactly, and is then all right
		fires            func(threshold float64) bool
	}{
		"W-1 two digits after taring": {2, 1e-6, true, true, at(solution.RuleTare, "settle", (&script{}).add(reading(solution.KindTared, "0.0002 g", quantity.Mass)))},
		"W-1 below zero":              {2, 1e-6, true, true, at(solution.RuleTare, "settle", (&script{}).add(reading(solution.KindTared, "-0.0002 g", quantity.Mass)))},
		"W-2 planned":                 {100 * 0.0002 / 5.10558, 1e-5, true, false, plan(request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL"), weighing.RuleSmallestMass)},
		"W-2 weighed": {0.1, 1e-9, true, false, at(weighing.RuleSmallestMass, "weigh",
			(&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed("0.2000 g")))},
		"M-2":              {100 * 20 / dissolves, 0.2, true, false, plan(salt, solution.RuleSolubility)},
		"M-3":              {2, 1e-6, false, true, at(solution.RuleRinses, "transfer", begun("5.1000 g").add(counted(solution.KindTransferred, 2)))},
		"M-5 planned warm": {3, 1e-9, true, true, plan(warm, solution.RuleTemperature)},
		"M-5 planned cool": {3, 1e-9, true, true, plan(cool, solution.RuleTemperature)},
		"M-5 at the bench": {3, 1e-9, true, true, at(solution.RuleTemperature, "temperature", begun("5.1000 g").add(counted(solution.KindTransferred, 3)).
			add(choose(solution.KindDissolved, "clear")).add(reading(run.KindTemperature, "17.0 °C", quantity.Temperature)))},
		"M-7": {19, 1e-6, false, true, at(run.RuleInversions, "mix", begun("5.1000 g").add(counted(solution.KindTransferred, 3)).
			add(choose(solution.KindDissolved, "clear")).add(reading(run.KindTemperature, "20.0 °C", quantity.Temperature)).
			add(choose(solution.KindMark, "reached")).add(counted(run.KindMixed, 9)).add(counted(run.KindMixed, 10)))},
		"M-8":  {28.5, 2, true, false, plan(acid("sulfuric-acid", "1 mol/L", ""), solution.RuleHeat)}, // as in TestHeatOfDilution
		"M-14": {measured / 0.01, 0.01, false, false, plan(hydrochloric, solution.RuleSmallVolume)},
	} {
		low, high := 0.01*c.quantity, 5*c.quantity // it speaks at one end only
		if c.fires(low) != c.over || c.fires(high) == c.over {
			t.Errorf("%s: speaks %t far under and %t far over", name, c.fires(low), c.fires(high))
			continue
		}
		for high-low > 1e-10*c.quantity {
			if middle := (low + high) / 2; c.fires(middle) == c.over {
				low = middle
			} else {
				high = middle
			}
		}
		if math.Abs(low-c.quantity) > c.within {
			t.Errorf("%s: changes its mind at %.7g, want %.7g", name, low, c.quantity)
		}
		if c.exact && c.fires(c.quantity) {
			t.Errorf("%s: speaks at its threshold", name)
		}
	}
}

// The band of a mass, in last digits of the balance: 5.1056 g ± 1 % is 5.0545 to 5.1566 g.
func TestTheBandJustInsideAndOutside(t *testing.T) {
	for mass, inside := range map[string]bool{"5.0544 g": false, "5.0546 g": true, "5.1056 g": true, "5.1566 g": true, "5.1568 g": false} {
		s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed(mass))
		says := step(mustMake(t, request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL"), s), "weigh").Verdicts[0]
		if (says.Level == verdict.Fine) != inside || strings.HasPrefix(says.Sentence, "On the target") != (mass == "5.1056 g") {
			t.Errorf("%s: %s, %s", mass, says.Level, says.Sentence)
		}
	}
}

// What is only added, not made up, is as uncertain as rule M-9 says: ± 3 %, rectangular,
// is 3.5 % with k = 2, and 1 % is 1.2 %.
func TestTheAllowanceForAdding(t *testing.T) {
	r := request("sodium-chloride", "1 g/L", "500 mL")
	r.MakeUp = solution.ByAdding
	for allowance, want := range map[float64]float64{3: 0.0346, 1: 0.0115} {
		r.Thresholds = verdict.Thresholds{solution.RuleAdding.ID: allowance}
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatal(err)
		}
		c := recipe.Figures[0]
		if got := c.Expanded / c.Value; got < want || got > 1.15*want { // glass and balance add a little
			t.Errorf("±%g %%: U = %.2f %%, want a little over %.2f %%", allowance, 100*got, 100*want)
		}
	}
}

// Every bottle keeps as many days as its rule says, and is standardised again by its rule.
func TestDaysOfKeeping(t *testing.T) {
	for key, c := range map[string]struct{ shelf, again *verdict.Rule }{
		"potassium-hydrogen-phthalate":      {&solution.RuleShelfPrimary, nil},
		"copper-sulfate-pentahydrate":       {&solution.RuleShelfSecondary, &solution.RuleStandardise},
		"sodium-hydroxide":                  {&solution.RuleShelfSecondary, &solution.RuleStandardiseBase},
		"potassium-permanganate":            {&solution.RuleShelfSecondary, &solution.RuleStandardiseDark},
		"sodium-thiosulfate-pentahydrate":   {&solution.RuleShelfSecondary, &solution.RuleStandardiseSulfur},
		"ammonium-iron-sulfate-hexahydrate": {&solution.RuleShelfSecondary, &solution.RuleStandardiseReducing},
	} {
		r := request(key, "0.01 mol/L", "250 mL")
		for _, days := range []int{1, 17, 18} {
			r.Thresholds = verdict.Thresholds{c.shelf.ID: 100 + float64(days)}
			if c.again != nil {
				r.Thresholds[c.again.ID] = float64(days)
			}
			s := bench("1.0000 g")
			sheet := mustMake(t, r, &script{s.facts[:len(s.facts)-1]})
			if got, want := step(sheet, "label").Default, today.AddDate(0, 0, 100+days).Format(time.DateOnly); got != want {
				t.Errorf("%s: keeps until %s, want %s", key, got, want)
			}
			s.facts[len(s.facts)-1] = fact.Fact{ID: "label", Kind: run.KindLabelled, At: today, Date: today.AddDate(0, 0, 100).Format(time.DateOnly)}
			want := ""
			if c.again != nil {
				want = today.AddDate(0, 0, days).Format(time.DateOnly)
			}
			if got := mustMake(t, r, s).Products[0].StandardiseBy; got != want {
				t.Errorf("%s: standardise by %q, want %q", key, got, want)
			}
		}
	}
}
