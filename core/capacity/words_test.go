package capacity

import (
	"slices"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/indicator"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

func poured() fact.Fact { return fact.Fact{Kind: KindPoured, Choice: choiceIn} }

func over(part int) fact.Fact {
	return fact.Fact{Kind: run.KindDecided, Choice: choiceDone, Part: part}
}

// warmed is a plan of everything but base: two beakers with acid, one diluted, two baths.
func warmed() Request {
	red, _ := indicator.Find("cresol-red")
	r := plan()
	r.Base, r.Dilution, r.Baths, r.Indicator, r.Covered, r.Number = 0, 100, []float64{40, 5}, &red, 10, 7
	return r
}

// What each fact may bring, and how the record says it.
func TestFactsOfATest(t *testing.T) {
	drops := plan()
	drops.Drops = 5
	count := func(n int) fact.Fact { return fact.Fact{Kind: KindAdded, Count: &n} }
	both := count(3)
	both.Quantity = degrees(20)
	grams := quantity.Of(1, "g")
	bath := func(celsius float64) fact.Fact { return fact.Fact{Kind: KindBath, Part: 3, Quantity: degrees(celsius)} }
	seen := func(choice string) fact.Fact { return fact.Fact{Kind: KindSeen, Part: 3, Choice: choice} }
	for _, c := range []struct {
		of     Request
		fact   fact.Fact
		fields []string
		says   string
	}{
		{warmed(), poured(), nil, "60 mL in each beaker"},
		{warmed(), portion(0, 50), nil, "buffer with acid: 50 mL more"},
		{warmed(), portion(0, 50.01), []string{"/quantity"}, ""},
		{warmed(), portion(0, 0), []string{"/quantity"}, ""},
		{warmed(), portion(2, 5000), nil, "buffer with water: 5000 mL more"},
		{warmed(), portion(2, 5001), []string{"/quantity"}, ""},
		{warmed(), fact.Fact{Kind: KindAdded, Quantity: &grams}, []string{"/quantity"}, ""},
		{warmed(), fact.Fact{Kind: KindAdded}, []string{"/quantity"}, ""},
		{warmed(), count(3), []string{"/count"}, ""},
		{drops, count(0), []string{"/count"}, ""},
		{drops, count(1), nil, "buffer with acid: 1 drop more"},
		{drops, count(1000), nil, "buffer with acid: 1000 drops more"},
		{drops, count(1001), []string{"/count"}, ""},
		{drops, both, []string{"/count"}, ""},
		{warmed(), bath(0), nil, "buffer at 40 °C: into a bath at 0 °C"},
		{warmed(), bath(60), nil, "buffer at 40 °C: into a bath at 60 °C"},
		{warmed(), bath(-0.1), []string{"/quantity"}, ""},
		{warmed(), bath(60.1), []string{"/quantity"}, ""},
		{warmed(), seen("0"), nil, "buffer at 40 °C: cresol red is yellow"},
		{warmed(), seen("4"), nil, "buffer at 40 °C: cresol red is red-violet"},
		{warmed(), seen("5"), []string{"/choice"}, ""},
		{warmed(), seen("-1"), []string{"/choice"}, ""},
		{plan(), seen("1"), []string{"/choice"}, ""},
		{warmed(), reading(1, 4.7), nil, "water with acid: pH 4.7"},
		{warmed(), over(3), nil, "Decided: buffer at 40 °C is done"},
		{warmed(), reading(5, 4.7), nil, ": pH 4.7"}, // a beaker that there is not; the sentence stands without its name
	} {
		if got := fieldsOf(c.of.Check(c.fact)); !slices.Equal(got, c.fields) {
			t.Errorf("%+v: %v, want %v", c.fact, got, c.fields)
		}
		if c.says == "" {
			continue
		}
		if got := c.of.Sentence(c.fact); got != c.says {
			t.Errorf("%q, want %q", got, c.says)
		}
	}
}

// A beaker on the sheet tells what it has come to, and nothing that has not happened yet.
func TestBeakersOnTheSheet(t *testing.T) {
	b := on(t, warmed())
	if out := b.Outcome(); out.View.(View).AtHand != -1 { //nolint:errcheck // its own kind
		t.Errorf("%+v", out.Steps[0])
	}
	for says, r := range map[string]Request{
		"50 mL of acetate buffer in each, from bottle 7, and 10 mL of water to cover the probe": warmed(),
		"50 mL of acetate buffer in each": plan(),
	} {
		if title := on(t, r).Outcome().Steps[0].Title; !strings.HasSuffix(title, " beakers: "+says) {
			t.Error(title)
		}
	}
	b.State(poured())
	said := func(out run.Outcome, step int) string { return out.Steps[step].Summary }
	if got := said(b.State(reading(0, 4.75)), 1); got != "Buffer with acid: pH 4.75" {
		t.Errorf("after one reading: %q", got)
	}
	b.State(portion(0, 2))
	out := b.State(reading(0, 4.64))
	if got := said(out, 1); got != "Buffer with acid: pH 4.75 to 4.64, 2 readings, 2.00 mL added" {
		t.Errorf("after two: %q", got)
	}
	if v := out.View.(View); v.AtHand != 0 || len(out.Offers) != 6 { //nolint:errcheck // its own kind
		t.Errorf("at hand %d, %d offers, want those of five beakers and of giving up", v.AtHand, len(out.Offers))
	}
}

// Diluted, the curve goes to twice what the plan adds, or a fifth further than what was added.
func TestCurveOfADilution(t *testing.T) {
	end := func(added float64) float64 {
		b := on(t, warmed())
		b.State(poured())
		b.State(over(0))
		b.State(over(1))
		b.State(reading(2, 4.75))
		b.State(portion(2, added))
		curve := b.State(reading(2, 4.76)).View.(View).Beakers[2].Curve //nolint:errcheck // its own kind
		return float64(curve.Added[len(curve.Added)-1])
	}
	if short, long := end(100), end(1000); short != 200 || long != 1200 {
		t.Errorf("to %g and %g mL", short, long)
	}
}

// The colour of the lowest shade counts as seen, and one shade away is near enough (rule B-19).
func TestShadesOfABath(t *testing.T) {
	r := warmed()
	r.Mixture = phosphate()
	shade := func(choice string) (out run.Outcome) {
		b := on(t, r)
		b.State(poured())
		for part := range 3 {
			b.State(over(part))
		}
		b.State(reading(3, 6.81))
		b.State(fact.Fact{Kind: KindBath, Part: 3, Quantity: degrees(40)})
		out = b.State(reading(3, 6.78))
		if out.View.(View).Beakers[3].Done { //nolint:errcheck // its own kind
			t.Fatal("done before a colour was seen")
		}
		return b.State(fact.Fact{Kind: KindSeen, Part: 3, Choice: choice})
	}
	// Cresol red turns between pH 7.2 and 8.8: at 6.8 it is yellow, the lowest of its shades.
	for choice, want := range map[string]verdict.Level{"0": verdict.Fine, "1": verdict.Fine, "2": verdict.Look} {
		view := shade(choice).View.(View) //nolint:errcheck // its own kind
		last := view.Verdicts[len(view.Verdicts)-1]
		if last.Rule != RuleShade.ID || last.Level != want || !view.Beakers[3].Done {
			t.Errorf("shade %s: %+v", choice, last)
		}
		if words := r.Indicator.Words; view.Beakers[3].Seen != words[slices.Index([]string{"0", "1", "2"}, choice)] {
			t.Errorf("shade %s is %q", choice, view.Beakers[3].Seen)
		}
	}
	out := shade("0")
	rows := slices.DeleteFunc(slices.Clone(out.Table), func(row []string) bool { return row[0] != "buffer at 40 °C" })
	if len(rows) != 2 || rows[0][7] != "" || rows[1][7] != "yellow" {
		t.Errorf("%v", rows)
	}
}

// Water beside a buffer is compared with it once both have moved, acid with acid.
func TestWaterBesideABuffer(t *testing.T) {
	b := on(t, plan())
	b.State(poured())
	water := func(out run.Outcome) int {
		n := 0
		for _, v := range out.View.(View).Verdicts { //nolint:errcheck // its own kind
			if v.Rule == RuleWater.ID {
				n++
			}
		}
		return n
	}
	for step, c := range []struct {
		do   func() run.Outcome
		want int
	}{
		{func() run.Outcome { b.series(0, 1); return b.State(over(0)) }, 0}, // the buffer with acid alone
		{func() run.Outcome { b.series(1, 1); return b.State(over(1)) }, 0}, // and with base
		{func() run.Outcome { return b.State(reading(2, 7)) }, 0},
		{func() run.Outcome { b.State(portion(2, 2)); b.State(reading(2, 2.4)); return b.State(over(2)) }, 1},
		{func() run.Outcome { return b.series(3, 1) }, 2},
	} {
		if got := water(c.do()); got != c.want {
			t.Errorf("step %d: %d comparisons, want %d", step, got, c.want)
		}
	}
}

// How much acid or base moves a buffer by one: between the readings around it, by a straight
// line, each way. By hand: 1 down between 4 and 6 mL of 0.1 mol/L in 50 mL, at a quarter of
// the way, is 4.5 mL, 0.009 mol/L.
func TestToOneEachWay(t *testing.T) {
	for _, acid := range []bool{true, false} {
		sign := map[bool]float64{true: -1, false: 1}[acid]
		v := Vessel{Mixture: acetate(0.05), Volume: uncertain.Exact(50), Acid: acid, C: uncertain.Exact(0.1)}
		for _, p := range [][2]float64{{0, 0}, {2, 0.4}, {4, 0.9}, {6, 1.3}, {8, 1.2}} {
			v.Points = append(v.Points, Point{Added: uncertain.Exact(p[0]), PH: uncertain.Exact(4.75 + sign*p[1])})
		}
		c, ok := v.ToOne()
		if !ok || c.Value < 0.00899999 || c.Value > 0.00900001 {
			t.Errorf("acid %t: %g, %t", acid, c.Value, ok)
		}
		if v.Points = v.Points[:3]; len(v.Points) == 3 {
			if _, ok := v.ToOne(); ok {
				t.Errorf("acid %t: moved by 0.9, and said to have moved by one", acid)
			}
		}
	}
}

// The working of how much moves it by one is its own, not that of a capacity; with a weak
// acid it says what a molecule gives off, and where.
func TestWorkingOfToOne(t *testing.T) {
	for _, weak := range []bool{false, true} {
		r := plan()
		r.Water = false
		if weak {
			r.Acid, r.AcidFrom = 0, titrant(t, "Citric acid, 0.1 mol/L", "C6H8O7")
		}
		b := on(t, r)
		b.State(poured())
		v := r.vessel(r.beakers()[0])
		var out run.Outcome
		for i := range 14 {
			if i > 0 {
				b.State(portion(0, 2))
			}
			out = b.State(reading(0, v.Theory([]float64{2 * float64(i)})[0].PH))
		}
		symbols := map[string]string{}
		for _, f := range out.Figures {
			lines, err := r.Explain(b.Facts, f.ID)
			if err != nil {
				t.Fatal(err)
			}
			workingtest.Check(t, lines)
			symbols[f.ID] = lines[0].Symbol
			from := strings.Join(lines[0].From, "; ")
			if told := strings.Contains(from, "gives off or takes up at pH 4."); told != (weak && f.Role == figure.Capacity) {
				t.Errorf("%s: %s", f.ID, from)
			}
		}
		if symbols["beta 0"] != `\beta` || symbols["to-one 0"] != "n/V" || symbols["strength"] != "f" {
			t.Errorf("%v", symbols)
		}
	}
}

// A figure that there is not is asked for in vain, and told so.
func TestNoSuchFigure(t *testing.T) {
	b := on(t, plan())
	b.State(poured())
	if _, err := b.Plan.Explain(b.Facts, "beta 0"); !slices.Equal(fieldsOf(err), []string{"/figure"}) {
		t.Errorf("%v", err)
	}
}

// A question of a buffer that is known is fitted; one of an unknown solution is not. The
// words of an error name the two volumes.
func TestQuestionOfAKnownBuffer(t *testing.T) {
	q := Question{Volume: 50, Celsius: 25, C: 0.1}
	v := plan().vessel(plan().beakers()[0])
	for i := range 5 {
		q.Readings = append(q.Readings, Reading{Added: 2 * float64(i), PH: v.Theory([]float64{2 * float64(i)})[0].PH})
	}
	q.Acid = true
	if a, err := Solve(q); err != nil || a.Fit != nil {
		t.Errorf("nothing in it: %v, %v", a.Fit, err)
	}
	q.Readings[2].Added = 1.25
	var p verdict.Problems
	_, err := Solve(q)
	if p, _ = err.(verdict.Problems); len(p) != 1 || !strings.HasSuffix(p[0].Reason, "1.25 mL does not follow 2 mL") { //nolint:errorlint // as it comes
		t.Errorf("%v", err)
	}
	four, three := []Vessel{v}, []Vessel{v}
	for i := range 4 {
		point := Point{Added: uncertain.Exact(2 * float64(i)), PH: uncertain.Exact(v.Theory([]float64{2 * float64(i)})[0].PH)}
		four[0].Points = append(four[0].Points, point)
		if i < 3 {
			three[0].Points = append(three[0].Points, point)
		}
	}
	if _, ok := FitBuffer(four); !ok {
		t.Error("four readings are not fitted")
	}
	if _, ok := FitBuffer(three); ok {
		t.Error("three readings are fitted")
	}
	runtest.Drew(t, on(t, plan()).Outcome(), map[string]float64{RoleBuffer: 0, RoleAcid: 0, RoleBase: 0})
}
