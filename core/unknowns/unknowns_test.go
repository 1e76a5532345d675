package unknowns_test

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/unknowns"
	"vialbench/core/verdict"
)

func acid(seed string, groups int) unknowns.Question {
	return unknowns.Question{
		Seed: seed, Groups: groups, Stock: quantity.Typed("1 mol/L"), Low: quantity.Typed("0.05 mol/L"), High: quantity.Typed("0.3 mol/L"),
		Each: quantity.Typed("60 mL"), Within: 2, Class: glassware.ClassA,
	}
}

func find(t testing.TB, q unknowns.Question) unknowns.Set {
	t.Helper()
	set, err := unknowns.Find(q)
	if err != nil {
		t.Fatal(err)
	}
	return set
}

func Example() {
	q := acid("pond-water week", 4)
	q.Levels = 2
	set, err := unknowns.Find(q)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(len(set.Levels), len(set.Bottles), set.Unit, set.Apart > 1.5)
	// Output: 2 4 mol/L true
}

// Whatever the seed: neighbours differ, strengths are far enough apart, each is what its dilution gives, no flask is too
// small, and no two bottles have one number.
func TestSets(t *testing.T) {
	for seed := range 300 {
		groups := 2 + seed%59
		q := acid(fmt.Sprint(seed), groups)
		q.Each = quantity.Typed("20 mL")
		set := find(t, q)
		if len(set.Bottles) != groups || len(set.Levels) != min(5, groups) {
			t.Fatalf("%d levels, %d bottles for %d groups", len(set.Levels), len(set.Bottles), groups)
		}
		byLetter, codes, stock := map[string]unknowns.Level{}, map[int]bool{}, 0.0
		for i, l := range set.Levels {
			byLetter[l.Letter] = l
			stock += l.Pipette * float64(l.Times)
			if c := l.Pipette * float64(l.Times) / l.Flask; math.Abs(l.Strength/c-1) > 1e-7 || c < 0.05 || c > 0.3 {
				t.Errorf("%s: %s gives %g, not %g", l.Letter, l.Made(), c, l.Strength)
			}
			if l.Flask < 20*float64(l.Groups) {
				t.Errorf("%g mL for %d groups", l.Flask, l.Groups)
			}
			if n := float64(groups) / float64(len(set.Levels)); math.Abs(float64(l.Groups)-n) >= 1 {
				t.Errorf("%d groups of %d have one of %d levels", l.Groups, groups, len(set.Levels))
			}
			for _, other := range set.Levels[:i] {
				// Worked out here again: within ± 2 % each.
				apart := math.Abs(l.Strength-other.Strength) / (0.02 * math.Sqrt(l.Strength*l.Strength+other.Strength*other.Strength))
				if apart < 1.5 || apart < set.Apart-1e-9 {
					t.Errorf("%g and %g are %g apart, said %g", l.Strength, other.Strength, apart, set.Apart)
				}
			}
		}
		if math.Abs(stock-set.Stock) > 1e-9 {
			t.Errorf("%g mL of stock, said %g", stock, set.Stock)
		}
		counted := map[string]int{}
		for i, b := range set.Bottles {
			if b.Group != i+1 || b.Code < 100 || b.Code > 999 || codes[b.Code] || byLetter[b.Level].Letter == "" {
				t.Errorf("%+v", b)
			}
			codes[b.Code] = true
			counted[b.Level]++
			if i > 0 && set.Bottles[i-1].Level == b.Level {
				t.Errorf("seed %d: groups %d and %d have the same", seed, i, i+1)
			}
		}
		for letter, n := range counted {
			if byLetter[letter].Groups != n {
				t.Errorf("%s is for %d groups, said %d", letter, n, byLetter[letter].Groups)
			}
		}
	}
}

// A seed gives the same again, another seed another set; the order of letters tells nothing of the strengths.
func TestSeeds(t *testing.T) {
	if a, b := find(t, acid("one", 12)), find(t, acid("one", 12)); fmt.Sprint(a) != fmt.Sprint(b) {
		t.Errorf("%v, then %v", a, b)
	}
	seen, rising := map[string]bool{}, 0
	for i := range 200 {
		set := find(t, acid(fmt.Sprint("seed ", i), 12))
		seen[fmt.Sprint(set.Levels)] = true
		if slices.IsSortedFunc(set.Levels, func(a, b unknowns.Level) int { return int(math.Copysign(1, a.Strength-b.Strength)) }) {
			rising++
		}
	}
	if len(seen) < 190 || rising > 10 { // one order of 120 is rising
		t.Errorf("%d sets of 200 seeds, %d in rising order", len(seen), rising)
	}
}

// Every set that can be had is had as often as any other: three strengths, of which two can be told apart from each other
// in three pairs; χ² of 2 degrees of freedom stays below its 99.9 % point, 13.8 (common tables).
func TestEverySetHasTheSameChance(t *testing.T) {
	q := acid("", 2)
	q.Low, q.High, q.Each = quantity.Typed("0.1 mol/L"), quantity.Typed("0.25 mol/L"), quantity.Typed("5 mL")
	q.Glass = []glassware.Item{
		{Kind: glassware.OneMarkPipette, Volume: 25, Class: glassware.ClassA, Count: 1},
		{Kind: glassware.VolumetricFlask, Volume: 100, Class: glassware.ClassA, Count: 1},
		{Kind: glassware.VolumetricFlask, Volume: 200, Class: glassware.ClassA, Count: 1},
		{Kind: glassware.VolumetricFlask, Volume: 250, Class: glassware.ClassA, Count: 1},
	}
	// 25 mL to 250, 200, 100 mL; twice to 250, 200; three times to 250 mL is 0.3: 0.1, 0.125, 0.2, 0.25.
	counted := map[string]int{}
	const times = 1200
	for i := range times {
		q.Seed = fmt.Sprint(i)
		set := find(t, q)
		a, b := set.Levels[0].Strength, set.Levels[1].Strength
		counted[fmt.Sprintf("%g %g", min(a, b), max(a, b))]++
	}
	if len(counted) != 6 {
		t.Fatalf("%v", counted)
	}
	chi := 0.0
	for _, n := range counted {
		chi += math.Pow(float64(n)-times/6, 2) / (times / 6)
	}
	if chi > 20.5 { // 5 degrees of freedom, 99.9 %
		t.Errorf("χ² %g: %v", chi, counted)
	}
}

func TestWhatCannotBeAsked(t *testing.T) {
	for _, c := range []struct {
		field, says string
		change      func(q *unknowns.Question)
	}{
		{"/seed", "a word or a number", func(q *unknowns.Question) { q.Seed = " " }},
		{"/groups", "2 to 60", func(q *unknowns.Question) { q.Groups = 61 }},
		{"/groups", "2 to 60", func(q *unknowns.Question) { q.Groups = 1 }},
		{"/levels", "no more than groups", func(q *unknowns.Question) { q.Groups, q.Levels = 4, 5 }},
		{"/stock", "above nothing", func(q *unknowns.Question) { q.Stock = quantity.Typed("0 mol/L") }},
		{"/stock", "", func(q *unknowns.Question) { q.Stock = quantity.Typed("strong") }},
		{"/low", "on one basis", func(q *unknowns.Question) { q.Low = quantity.Typed("1 g/L") }},
		{"/low", "stronger than the stock", func(q *unknowns.Question) { q.Low, q.High = quantity.Typed("1 mol/L"), quantity.Typed("2 mol/L") }},
		{"/high", "from a lower strength to a higher one", func(q *unknowns.Question) { q.High = quantity.Typed("0.05 mol/L") }},
		{"/each", "from 1 mL to 1 L", func(q *unknowns.Question) { q.Each = quantity.Typed("2 L") }},
		{"/within", "0.05 to 30 %", func(q *unknowns.Question) { q.Within = 0 }},
		{"/within", "0.05 to 30 %", func(q *unknowns.Question) { q.Within = math.NaN() }},
		{"/class", "class A or class B", func(q *unknowns.Question) { q.Class = "C" }},
		{"/low", "no pipette and flask here give", func(q *unknowns.Question) {
			q.Low, q.High = quantity.Typed("0.0501 mol/L"), quantity.Typed("0.0502 mol/L")
		}},
		{"/levels", "tells 4 strengths of this range apart, not 5", func(q *unknowns.Question) { q.Within = 20 }},
	} {
		q := acid("x", 12)
		c.change(&q)
		_, err := unknowns.Find(q)
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != c.field || !strings.Contains(p[0].Reason, c.says) {
			t.Errorf("%s: %v", c.field, err)
		}
	}
}

// The edges of what can be asked, worked by hand: 25 mL in 500, 250 mL and twice in 250 mL of 1 mol/L are 0.05, 0.1 and
// 0.2 mol/L; both ends of a range are in it; of two ways to one strength the smaller flask and the fewer fillings; a flask
// holds 3 % more than its groups get.
func TestEdges(t *testing.T) {
	q := acid("edge", 2)
	q.Low, q.High, q.Each = quantity.Typed("0.1 mol/L"), quantity.Typed("0.2 mol/L"), quantity.Typed("1 mL")
	glass := func(pipettes, flasks []float64) {
		q.Glass = nil
		for _, v := range pipettes {
			q.Glass = append(q.Glass, glassware.Item{Kind: glassware.OneMarkPipette, Volume: v, Class: glassware.ClassA, Count: 1})
		}
		for _, v := range flasks {
			q.Glass = append(q.Glass, glassware.Item{Kind: glassware.VolumetricFlask, Volume: v, Class: glassware.ClassA, Count: 1})
		}
	}
	made := func() string {
		set := find(t, q)
		var list []string
		for _, l := range set.Levels {
			list = append(list, l.Made())
		}
		slices.Sort(list)
		return strings.Join(list, ", ")
	}
	glass([]float64{25}, []float64{250})
	if got := made(); got != "25 mL to 250 mL, 25 mL twice to 250 mL" {
		t.Errorf("both ends: %s", got)
	}
	glass([]float64{25, 50}, []float64{250, 500})
	if got := made(); got != "25 mL to 250 mL, 50 mL to 250 mL" && got != "25 mL 3 times to 500 mL, 50 mL to 250 mL" && got != "25 mL 3 times to 500 mL, 25 mL to 250 mL" {
		t.Errorf("the smaller flask, and one filling for two: %s", got)
	}
	// One group of each level: 242.72 mL and 3 % are 250 mL, 242.8 mL and 3 % are more.
	glass([]float64{25}, []float64{250})
	q.Each = quantity.Typed("242.7 mL")
	if got := made(); got != "25 mL to 250 mL, 25 mL twice to 250 mL" {
		t.Errorf("just enough: %s", got)
	}
	q.Each = quantity.Typed("242.8 mL")
	if _, err := unknowns.Find(q); err == nil || !strings.Contains(err.Error(), "with enough in a flask for a group") {
		t.Errorf("too little: %v", err)
	}
	q.Each, q.Groups, q.Levels = quantity.Typed("80 mL"), 5, 2 // three groups have one of two levels: 247.2 mL
	if got := made(); got != "25 mL to 250 mL, 25 mL twice to 250 mL" {
		t.Errorf("for three groups: %s", got)
	}
	q.Each = quantity.Typed("81 mL")
	if _, err := unknowns.Find(q); err == nil || !strings.Contains(err.Error(), "with enough in a flask for 3 groups") {
		t.Errorf("too little for three groups: %v", err)
	}
	// 0.1 and 0.2 are 0.1/(W·0.2236) apart: with W of 29.8142 % just 1.5 times.
	q.Each, q.Groups, q.Levels = quantity.Typed("1 mL"), 2, 0
	for within, found := range map[float64]bool{29.8: true, 29.83: false} {
		q.Within = within
		if _, err := unknowns.Find(q); (err == nil) != found {
			t.Errorf("within %g %%: %v", within, err)
		}
	}
	for change, fine := range map[string]bool{"100 characters": true, "101 characters": false} {
		q := acid(strings.Repeat("s", map[bool]int{true: 100, false: 101}[fine]), 60)
		q.Levels, q.Each, q.Within = 12, quantity.Typed("1 mL"), 0.05
		if _, err := unknowns.Find(q); (err == nil) != fine {
			t.Errorf("%s, 60 groups, 12 strengths: %v", change, err)
		}
	}
}

// Seven groups and two levels: the one that more groups have stands at both ends, whatever the seed.
func TestTheTightestWayToShareOut(t *testing.T) {
	for seed := range 50 {
		q := acid(fmt.Sprint(seed), 7)
		q.Levels, q.Each = 2, quantity.Typed("10 mL")
		list := find(t, q).Bottles
		if list[0].Level != list[6].Level || list[0].Level == list[1].Level {
			t.Errorf("seed %d: %+v", seed, list)
		}
	}
}

func TestMade(t *testing.T) {
	for times, want := range map[int]string{1: "25 mL to 250 mL", 2: "25 mL twice to 250 mL", 3: "25 mL 3 times to 250 mL"} {
		if got := (unknowns.Level{Pipette: 25, Times: times, Flask: 250}).Made(); got != want {
			t.Errorf("%s, want %s", got, want)
		}
	}
}

// What was stated in other units is read in that of the stock; a lab that sets the margin higher gets fewer strengths.
func TestUnitsAndMargin(t *testing.T) {
	q := acid("units", 12)
	q.Low, q.High = quantity.Typed("50 mmol/L"), quantity.Typed("300 mmol/L")
	if a, b := find(t, q), find(t, acid("units", 12)); fmt.Sprint(a) != fmt.Sprint(b) {
		t.Errorf("%v, want %v", a, b)
	}
	q.Thresholds = verdict.Thresholds{"UN-1": 5}
	q.Within = 8
	if _, err := unknowns.Find(q); err == nil {
		t.Error("five strengths, each 5 times what ± 8 % leaves open from the next, between 0.05 and 0.3")
	}
}

func BenchmarkFind(b *testing.B) {
	q := acid("bench", 60)
	q.Levels, q.Within, q.Each = 12, 1, quantity.Typed("5 mL")
	for b.Loop() {
		find(b, q)
	}
}
