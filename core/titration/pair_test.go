package titration

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/equilibrium"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
)

// soda is 25 mL of pond soda with 0.1 mol/L acid to both end points, diluted 1 in 10.
func soda(t testing.TB) Request {
	r := lye(t)
	r.Reaction, r.Standardise, r.Diluted = find(t, "carbonate-both"), false, 10
	r.Titrant = Solution{Name: "Hydrochloric acid", Formula: "HCl", Units: 1, Bottle: "b4", Number: 4, C: number("c", 0.1, 0.0001)}
	r.Sample = Solution{Name: "Pond soda"}
	return r
}

// both goes to the first and to the second end point.
func (b *bench) both(part int, first, second string) run.Outcome {
	b.T.Helper()
	b.State(fact.Fact{Kind: KindSample, Part: part, Choice: choiceDelivered})
	return b.rest(part, first, second)
}

func byID(out run.Outcome) map[string]figure.Figure {
	m := map[string]figure.Figure{}
	for _, f := range out.Figures {
		m[f.ID] = f
	}
	return m
}

func TestHydroxideBesideCarbonate(t *testing.T) {
	b := on(t, soda(t))
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.State(fact.Fact{Kind: KindSample, Choice: choiceDelivered})
	out := b.State(scale(KindStart, 0, "0.00"))
	s := runtest.Now(t, out)
	if s.Title != "Trial 1, rough: to the first end point, and read when you stop" ||
		!strings.Contains(s.Hint, "Look for: pink to colourless.") {
		t.Errorf("%+v", s)
	}
	b.State(scale(KindRead, 0, "17.90"))
	b.State(decide(0, choiceUnsure))
	out = b.State(scale(KindRead, 0, "18.00"))
	s = runtest.Now(t, out)
	if v := s.Verdicts[0]; v.Choices[0].Label != "That was the first end point" || !strings.Contains(v.Sentence, "pink to colourless") ||
		len(v.Choices) != 6 {
		t.Errorf("%+v", v)
	}
	out = b.State(decide(0, choiceEarlier)) // 17.90
	s = runtest.Now(t, out)
	if s.Title != "Trial 1, rough: the second indicator in, on to the second end point, and read when you stop" ||
		!strings.Contains(s.Hint, "Look for: yellow to the first orange.") {
		t.Errorf("%+v", s)
	}
	// At the first end point itself nothing ran in for the second.
	out = b.State(scale(KindRead, 0, "17.90"))
	if got := says(runtest.Now(t, out).Verdicts, "T-2"); !strings.HasPrefix(got, "stop: ") {
		t.Error(got)
	}
	b.State(decide(0, choiceReread))
	out = b.State(scale(KindRead, 0, "25.00"))
	if v := runtest.Now(t, out).Verdicts[0]; v.Choices[0].Label != "That was the second end point" || len(v.Choices) != 5 {
		t.Errorf("%+v", v)
	}
	b.State(decide(0, choiceEnd))
	b.State(fact.Fact{Kind: KindSample, Part: 1, Choice: choiceDelivered})
	out = b.State(scale(KindStart, 1, "0.00"))
	if s := runtest.Now(t, out); s.Expects != "17.90 mL" || !strings.Contains(s.Hint, "At once to 16.9 mL") {
		t.Errorf("%+v", s)
	}
	for _, o := range out.Offers {
		if o.ID == choiceBlank {
			t.Error("a blank is offered")
		}
	}
	b.State(scale(KindRead, 1, "18.00"))
	b.State(decide(1, choiceEnd))
	b.State(scale(KindRead, 1, "25.00"))
	b.State(decide(1, choiceEnd))
	out = b.both(2, "18.00", "25.00")
	v := view(out)
	if x := v.Trials[2]; x.First != "18.00" || x.Titre != "25.00" || !x.Used {
		t.Errorf("%+v", x)
	}
	// 18.00 and 7.00 mL of 0.1 mol/L: 7.00 for the carbonate, 11.00 for the hydroxide, ×10.
	figures := byID(out)
	for id, want := range map[string]float64{
		"carbonate": 0.28, "beside": 0.44, "carbonate g/L": 0.28 * 105.988, "beside g/L": 0.44 * 39.997,
		"alkalinity": 2.5 / 25 / 2 * 10 * 100087,
	} {
		if f := figures[id]; math.Abs(f.Value/want-1) > 2e-5 {
			t.Errorf("%s: %.6g, want %.6g", id, f.Value, want)
		}
	}
	if got := figures["beside"].Label; got != "NaOH in pond soda, undiluted" {
		t.Error(got)
	}
	if got := says(
		v.Verdicts,
		"T-24",
	); got != "fine: 18.00 mL to the first end point, 7.00 mL from there on: more before than after, so hydroxide stands beside the carbonate." {
		t.Error(got)
	}
	if got := stepSummary(out, 3); got != "Trial 3: 25.00 mL in all, 18.00 mL to the first end point, for 25 mL" {
		t.Error(got)
	}
	if got := out.Table[3]; got[len(got)-1] != "18.00" || len(got) != len(out.Table[0]) {
		t.Errorf("%v", got)
	}
	b.explains(out)
	// The burette counts once: its tolerance in 2V₁ − V₂ is that of 11 of 25 mL, read from one start.
	share := 0.0
	for _, x := range figures["beside"].Budget {
		if x.Label == "reading the scale" {
			share += x.U * x.U
		}
	}
	// Of each of two trials: 2r₁ − r₂ − r₀, each 0.02 mL rectangular.
	want := 0.02 / math.Sqrt(3) * math.Sqrt(4+1+1) / math.Sqrt2 * 0.1 / 25 * 10
	if got := math.Sqrt(share); math.Abs(got/want-1) > 1e-6 {
		t.Errorf("readings: %.3e, want %.3e", got, want)
	}
}

func TestOtherPairs(t *testing.T) {
	for _, c := range []struct {
		first, second, beside string
		carbonate, other      float64
		says                  string
	}{
		{"8.00", "24.00", "NaHCO3", 0.032, 0.032, "less before than after, so hydrogen carbonate"},
		{"12.00", "24.02", "", 0.04804, 0, "alike within their uncertainty, so carbonate alone"},
	} {
		r := soda(t)
		r.Diluted = 0
		b := on(t, r)
		b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
		b.both(0, c.first, c.second)
		b.both(1, c.first, c.second)
		out := b.both(2, c.first, c.second)
		figures := byID(out)
		if f := figures["carbonate"]; math.Abs(f.Value-c.carbonate) > 1e-6 || f.Label != "Na2CO3 in pond soda" {
			t.Errorf("%v", f)
		}
		if f, ok := figures["beside"]; ok != (c.beside != "") ||
			ok && (math.Abs(f.Value-c.other) > 1e-6 || !strings.HasPrefix(f.Label, c.beside)) {
			t.Errorf("%v", f)
		}
		if got := says(view(out).Verdicts, "T-24"); !strings.Contains(got, c.says) {
			t.Error(got)
		}
		b.explains(out)
	}
}

// A solid of 0.2500 g with hydrogen carbonate beside carbonate, and a refill between both end
// points; trials whose first end points lie apart.
func TestPairOfASolid(t *testing.T) {
	r := soda(t)
	r.By, r.Mass, r.Glass, r.Diluted = Weighed, 0.25, lye(t).Glass, 0
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	weigh := func(part int) {
		b.State(fact.Fact{Kind: KindSample, Part: part, Quantity: inGrams(t, 0.25)})
	}
	weigh(0)
	b.State(scale(KindStart, 0, "35.00"))
	b.State(scale(KindRead, 0, "45.00"))
	b.State(decide(0, choiceEnd))
	b.State(scale(KindRead, 0, "49.00"))
	b.State(decide(0, choiceRefill))
	b.State(scale(KindRefill, 0, "1.00"))
	b.State(scale(KindRead, 0, "20.00"))
	b.State(decide(0, choiceUnsure))
	b.State(scale(KindRead, 0, "20.05"))
	out := b.State(decide(0, choiceEarlier)) // 10.00 and 33.00 mL
	f := byID(out)
	if math.Abs(f["carbonate"].Value-4) > 1e-6 || math.Abs(f["beside"].Value-1000*0.1*0.013/0.25) > 1e-6 {
		t.Errorf("%v %v", f["carbonate"], f["beside"])
	}
	if math.Abs(f["carbonate %"].Value-4e-3*105.988*100) > 1e-3 || math.Abs(f["beside %"].Value-5.2e-3*84.006*100) > 1e-3 {
		t.Errorf("%v %v", f["carbonate %"], f["beside %"])
	}
	b.explains(out)
	weigh(1)
	b.rest(1, "10.20", "33.05")
	weigh(2)
	out = b.rest(2, "10.00", "33.00")
	if got := says(view(out).Verdicts, "T-6"); !strings.HasPrefix(got, "fine: Trials 2 and 3 agree") {
		t.Error(got)
	}
	apart := ""
	for _, v := range view(out).Verdicts {
		if strings.HasPrefix(v.Sentence, "The first end points lie 0.20 mL apart") {
			apart = v.Sentence
		}
	}
	if apart == "" {
		t.Errorf("%+v", view(out).Verdicts)
	}
	r = soda(t)
	r.Standardise, r.Sample.C = true, number("c", 0.1, 0.001)
	if got := field(r); got != "/standardise" {
		t.Error(got)
	}
}

// rest is both end points of a sample that was taken.
func (b *bench) rest(part int, first, second string) run.Outcome {
	b.T.Helper()
	b.State(scale(KindStart, part, "0.00"))
	b.State(scale(KindRead, part, first))
	b.State(decide(part, choiceEnd))
	b.State(scale(KindRead, part, second))
	return b.State(decide(part, choiceEnd))
}

// The titration of mixtures as the charge balance has it (package equilibrium): where the pH
// falls steepest are both end points, and they give the mixture back. 50 mL, 0.1 mol/L acid.
func TestPairsOfTheChargeBalance(t *testing.T) {
	for _, c := range []struct {
		carbonate, other float64
		beside           string
	}{{0.03, 0.02, "NaOH"}, {0.02, 0.03, "NaHCO3"}, {0.04, 0, ""}} {
		t.Run(fmt.Sprint(c.beside), func(t *testing.T) {
			m := equilibrium.Mixture{Celsius: uncertain.Exact(25)}
			add := func(m *equilibrium.Mixture, compound string, c float64) {
				x, ok := equilibrium.CompoundOf(compound)
				if !ok {
					t.Fatal(compound)
				}
				m.Add(x, uncertain.Exact(c))
			}
			add(&m, "Na2CO3", c.carbonate)
			if c.beside != "" {
				add(&m, c.beside, c.other)
			}
			acid := equilibrium.Mixture{Celsius: uncertain.Exact(25)}
			add(&acid, "HCl", 0.1)
			var volumes []float64
			for v := 0.0; v <= 60; v += 0.02 {
				volumes = append(volumes, v)
			}
			curve := m.Titrated(50, acid, volumes)
			steepest := func(low, high float64) float64 {
				best, at := 0.0, 0.0
				for i := 1; i < len(curve); i++ {
					if pH := curve[i].PH; pH < low || pH > high {
						continue
					}
					if fall := curve[i-1].PH - curve[i].PH; fall > best {
						best, at = fall, (volumes[i-1]+volumes[i])/2
					}
				}
				return at
			}
			v1, v2 := steepest(7.3, 9.5), steepest(3, 5.2)
			a := func(v float64) uncertain.Number { return number(fmt.Sprint(v), 0.1*v/50, 0.1*0.05/50) }
			p := SolvePair(a(v1), a(v2))
			if p.Beside != c.beside || math.Abs(p.Carbonate.Value-c.carbonate) > 0.0003 || math.Abs(p.Other.Value-c.other) > 0.0005 {
				t.Errorf("%.2f and %.2f mL: %.5f carbonate, %.5f %s", v1, v2, p.Carbonate.Value, p.Other.Value, p.Beside)
			}
		})
	}
}

// A tolerance holds between any two marks of a scale: each volume has it, and so has the
// difference of two; only what is read at the same mark is shared.
func TestToleranceBetweenTwoEndPoints(t *testing.T) {
	glass := soda(t).Burette
	first, second := glass.Between(17.9, "0", "1"), glass.Between(25, "0", "2")
	moved := elsewhere(first)
	of := func(n uncertain.Number) float64 {
		sum := 0.0
		for _, c := range n.Contributions {
			if strings.HasPrefix(c.ID, "glass ") {
				sum += c.U * c.U
			}
		}
		return math.Sqrt(sum)
	}
	rest := second.Minus(moved)
	if math.Abs(of(moved)-of(first)) > 1e-12 || math.Abs(of(rest)-of(second)) > 0.3*of(second) || of(second.Minus(first)) > 0.5*of(second) {
		t.Errorf("first %g, moved %g, second %g, rest %g", of(first), of(moved), of(second), of(rest))
	}
	if r := uncertain.Correlation(moved, second); !(r > 0.4 && r < 0.9) {
		t.Errorf("correlation %g", r)
	}
}
