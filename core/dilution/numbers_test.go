package dilution_test

import (
	"context"
	"math"
	"strings"
	"testing"

	"vialbench/core/dilution"
	"vialbench/core/equilibrium"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

func verdictOf(l dilution.Ladder, rule string) string {
	for _, v := range l.Verdicts {
		if v.Rule == rule {
			return string(v.Level) + ": " + v.Sentence
		}
	}
	return ""
}

// Every line of the working of every tube gives the result that it prints; and all tubes
// of a ladder are told in one unit.
func TestEveryWorkingLineEvaluates(t *testing.T) {
	chain := ask(dilution.Chain)
	chain.Factors, chain.Keep = []string{"10", "10", "10"}, 20
	series := ask(dilution.Series)
	series.Volume, series.Volumes = 10, []float64{0, 1, 2, 5}
	weighed := ask(dilution.OneTarget)
	weighed.Factor, weighed.Volume, weighed.Weighed, weighed.Balance = "1 in 20", 100, true, &fern
	weighed.Stock.Density, weighed.Stock.DensityLimits = 1.002, 0.001
	for _, q := range []dilution.Question{chain, series, weighed} {
		q.Stock.Concentration = uncertain.New(0.1, 0.0001, uncertain.Source{ID: "s", Label: "the stock"})
		a, err := dilution.Solve(context.Background(), q)
		if err != nil {
			t.Fatal(err)
		}
		for i, tube := range a.Ladder.Tubes {
			lines, err := a.Request.ExplainTube(i)
			if err != nil {
				t.Fatal(err)
			}
			workingtest.Check(t, lines)
			if tube.Concentration.Unit != a.Ladder.Unit {
				t.Errorf("tube %s in %s, the ladder in %s", tube.Label, tube.Concentration.Unit, a.Ladder.Unit)
			}
		}
	}
}

// Two burettes of one size are two pieces: 5 mL of each, ±0.05 mL at any point of a scale
// of 50 mL (ISO 385). c = c₀·V₁/(V₁ + V₂) moves by c·(ΔV₁ − ΔV₂)/2V: were they one, it
// would cancel (JCGM 100 5.2.2). A lab that owns one burette is told.
func TestTwoBurettesAreTwo(t *testing.T) {
	q := ask(dilution.Series)
	q.Volume, q.Volumes = 10, []float64{5}
	q.Stock.Concentration = uncertain.Exact(0.1)
	q.Glass = []glassware.Item{{Kind: glassware.Burette, Volume: 50, Class: "A", Count: 2}}
	two, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	q.Glass[0].Count = 1
	one, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	u := func(a dilution.Answer) float64 {
		sum := 0.0
		for _, c := range a.Ladder.Tubes[0].Concentration.Contributions {
			if strings.HasPrefix(c.ID, "glass ") {
				sum += c.U * c.U
			}
		}
		return math.Sqrt(sum) / a.Ladder.Tubes[0].Concentration.Value
	}
	want := math.Sqrt2 * 0.05 / math.Sqrt(6) / (2 * 5)
	if math.Abs(u(two)/want-1) > 1e-6 || u(one) > 1e-12 {
		t.Errorf("two %.3g, one %.3g, want %.3g and 0", u(two), u(one), want)
	}
	if verdictOf(two.Ladder, "D-10") != "" || !strings.Contains(verdictOf(one.Ladder, "D-10"), "the lab owns one") {
		t.Errorf("two: %s; one: %s", verdictOf(two.Ladder, "D-10"), verdictOf(one.Ladder, "D-10"))
	}
}

// 37 % w/w of 1.184 g/mL is 438 g/L, and half of that by volume 219 g/L: by the densities
// of a handbook 20.1 % w/w, not 18.5 (CRC Handbook, from memory: 20 % is 1.098 g/mL).
func TestAStockByMassIsDilutedByVolume(t *testing.T) {
	q := ask(dilution.OneTarget)
	q.Factor, q.Volume = "2", 100
	q.Stock.Unit, q.Stock.Concentration = "% w/w", uncertain.Exact(37)
	if _, err := dilution.Solve(context.Background(), q); err == nil || !strings.Contains(err.Error(), "once its density is known") {
		t.Errorf("without a density: %v", err)
	}
	q.Stock.Density = 1.184
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	c := a.Ladder.Tubes[len(a.Ladder.Tubes)-1].Concentration
	if w := c.Value / 1000 / 1.0985; c.Unit != "g/L" || math.Abs(c.Value-219.04) > 0.5 || math.Abs(100*w-19.95) > 0.1 {
		t.Errorf("%s: %.2f %% w/w", c, 100*w)
	}
	q.Stock.Unit = "mol/kg"
	if _, err := dilution.Solve(context.Background(), q); err == nil || !strings.Contains(err.Error(), "counts by mass") {
		t.Errorf("mol/kg: %v", err)
	}
}

// A burette of 0.1 mL divisions is read to 0.01 mL, no further; and what was measured on a
// tube in the unit of its ladder goes back in the unit of the stock.
func TestScalesAndUnits(t *testing.T) {
	q := ask(dilution.OneTarget)
	q.Factor, q.Volume, q.MaxSteps = "21", 100, 1
	q.Glass = []glassware.Item{
		{Kind: glassware.Burette, Volume: 50, Class: "A", Count: 1},
		{Kind: glassware.VolumetricFlask, Volume: 100, Class: "A", Count: 2},
	}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	if taken := a.Request.Rungs[0].Taken; taken != 4.76 || math.Abs(a.Routes[0].Factor-100/4.76) > 1e-9 {
		t.Errorf("%g mL, 1 in %g", taken, a.Routes[0].Factor)
	}
	chain := ask(dilution.Chain)
	chain.Factors = []string{"10", "100"}
	if a, err = dilution.Solve(context.Background(), chain); err != nil || a.Ladder.Unit != "mmol/L" {
		t.Fatalf("%s %v", a.Ladder.Unit, err)
	}
	back, err := dilution.SolveBack(dilution.BackQuestion{Request: a.Request, Tube: 1, Value: 0.123, Limits: 0.002})
	if err != nil || back.Unit != "mol/L" || math.Abs(back.Value-0.123) > 1e-6 || math.Abs(back.Expanded-0.002) > 5e-4 {
		t.Errorf("%s %v", back, err)
	}
}

// A thousandth of a millilitre cannot be taken: the sentence says which stage to make
// first, and stops.
func TestTooLittleOfAScale(t *testing.T) {
	q := ask(dilution.Series)
	q.Volume, q.Volumes = 10, []float64{0.02, 1}
	a, err := dilution.Solve(context.Background(), q)
	if says := verdictOf(a.Ladder, "D-1"); err != nil || !strings.HasPrefix(says, "stop: ") || !strings.Contains(says, "1 in 100 first") {
		t.Errorf("%s %v", says, err)
	}
	q.Volumes = []float64{0.5, 1}
	if a, err = dilution.Solve(context.Background(), q); err != nil || !strings.HasPrefix(verdictOf(a.Ladder, "D-1"), "look: ") {
		t.Errorf("%s %v", verdictOf(a.Ladder, "D-1"), err)
	}
}

// A concentrated liquid is not water: at 30 °C it fills a pipette with 0.4 to 1.4 ‰ per °C
// less of it (handbooks, from memory: acetic acid 1.07, sulfuric acid 0.55).
func TestAConcentratedLiquidExpands(t *testing.T) {
	q := ask(dilution.OneTarget)
	q.Factor, q.Volume, q.WaterTemperature = "10", 100, 30
	q.Stock.Concentration = uncertain.Exact(17.4)
	aqueous, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	q.Stock.Concentrate = true
	liquid, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	a, b := aqueous.Ladder.Tubes[0].Concentration, liquid.Ladder.Tubes[0].Concentration
	if ratio := b.Value / a.Value; ratio < 0.990 || ratio > 0.995 || b.Expanded < 3*a.Expanded {
		t.Errorf("%s, as water %s", b, a)
	}
}

// "1:1" is equal parts to everybody, whatever the school; "20-fold" is a factor.
func TestFactorsOfTheTrade(t *testing.T) {
	for text, want := range map[string]float64{"1:1": 2, "20-fold": 20, "20 fold": 20, "1:20": 20, "2:2": 2} {
		if f, err := dilution.ParseFactor(text, false); err != nil || f.Value != want {
			t.Errorf("%s: %g, %v", text, f.Value, err)
		}
	}
	if f, err := dilution.ParseFactor("1:20", true); err != nil || f.Value != 21 {
		t.Errorf("the other school: %g, %v", f.Value, err)
	}
	if _, err := dilution.ParseFactor("1,000", false); err == nil {
		t.Error("1,000 is read")
	}
}

// The hazards of tubes are those at their strength: 10 % NaOH burns, a hundredth of it
// irritates, and a ten-thousandth does nothing (CLP annex VI: 2 and 0.5 %).
func TestTubesHaveTheirOwnHazards(t *testing.T) {
	q := ask(dilution.Chain)
	q.Factors = []string{"10", "10"}
	q.Stock.Concentration = uncertain.Exact(2.7)
	q.Stock.Ingredients = ingredients("sodium-hydroxide", 108)
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	s := &script{t: t, r: a.Request}
	s.add("temperature", 0, degrees(20)).stage(0, "reached").stage(1, "reached").add("labelled", 0, dated("2027-01-31"))
	products := s.outcome().Products
	if len(products) != 2 {
		t.Fatalf("%d products", len(products))
	}
	for i, want := range []string{"H290 H315 H319", ""} {
		if got := strings.Join(products[i].Hazards, " "); got != want {
			t.Errorf("tube %d: %s, want %s", i+1, got, want)
		}
	}
	if products[1].From != 0 || products[0].From != -1 || !strings.HasPrefix(products[0].Title, "Copper(II) sulfate, diluted to 0.27") {
		t.Errorf("%+v", products[0])
	}
}

// The rules of a ladder change their mind where the quantity they judge is: 0.5 mL is ten
// divisions of a 10 mL burette of 0.05 mL; and a mass is small where
// twice the repeatability of the balance is the lab's tolerance of it.
// A buffer that is diluted moves a little: phosphate 1:1 by +0.08 when diluted by two (IUPAC
// Recommendations 2002, dilution value; the Davies equation is low by up to 0.02), and its
// tube says so.
func TestADilutedBufferKnowsItsPH(t *testing.T) {
	m := equilibrium.Mixture{Celsius: uncertain.Exact(25)}
	for _, text := range []string{"KH2PO4", "Na2HPO4"} {
		c, _ := equilibrium.CompoundOf(text)
		m.Add(c, uncertain.Exact(0.025))
	}
	q := ask(dilution.Chain)
	q.Factors = []string{"2"}
	q.Stock.Concentration, q.Stock.Mixture = uncertain.Exact(0.05), &m
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	s := &script{t: t, r: a.Request}
	s.add("temperature", 0, degrees(20)).stage(0, "reached").add("labelled", 0, dated("2027-01-31"))
	p := s.outcome().Products[0]
	pH, ok := p.Figure(figure.PH)
	before, err := m.PH()
	if moved := pH.Value - before.Value; !ok || err != nil || math.Abs(moved-0.080) > 0.022 || !strings.Contains(pH.Label, "not measured") {
		t.Errorf("%s: moved by %.3f (%v)", pH, moved, err)
	}
	for _, f := range p.Figures { // every figure opens
		lines, err := a.Request.Explain(s.facts, f.ID)
		if err != nil || len(lines) == 0 {
			t.Fatalf("%s: %v", f.ID, err)
		}
		workingtest.Check(t, lines)
		if said := lines[len(lines)-2].Result; !strings.HasPrefix(said, f.Text+" ") {
			t.Errorf("%s: %s, its working %+v", f.ID, f, lines)
		}
	}
	for _, id := range []string{"volume", "volume 2", "volume 0", "pH x", "mass 1", ""} {
		if _, err := a.Request.Explain(s.facts, id); err == nil {
			t.Errorf("figure %q is explained", id)
		}
	}
	if p.Mixture == nil || math.Abs(p.Mixture.Amounts[0].C.Value-0.025) > 2e-5 {
		t.Errorf("%+v", p.Mixture)
	}
}

func TestThresholdsOfALadder(t *testing.T) {
	scale := ask(dilution.Series)
	scale.Volume, scale.Volumes = 10, []float64{0.5, 5}
	a, err := dilution.Solve(context.Background(), scale)
	if err != nil {
		t.Fatal(err)
	}
	divisions := 0.5 / a.Ladder.Tubes[0].With.Division()
	heavy := ask(dilution.Chain)
	heavy.Factors, heavy.Volume, heavy.Weighed, heavy.Balance = []string{"500", "5"}, 0, true, &fern
	heavy.Stock.Density, heavy.Stock.DensityLimits = 1.005, 0.001
	if a, err = dilution.Solve(context.Background(), heavy); err != nil {
		t.Fatal(err)
	}
	percent := 100 * 2 * fern.Repeatability / a.Ladder.Tubes[0].Grams
	for rule, c := range map[string]struct {
		q         dilution.Question
		threshold float64
		over      bool // it speaks of a threshold that is over this one, and else of one under it
	}{"D-1": {scale, divisions, true}, "W-2": {heavy, percent, false}} {
		for _, factor := range []float64{1 - 1e-6, 1 + 1e-6} {
			q := c.q
			q.Thresholds = verdict.Thresholds{rule: c.threshold * factor}
			a, err := dilution.Solve(context.Background(), q)
			if says := verdictOf(a.Ladder, rule); err != nil || (says != "") != ((factor > 1) == c.over) {
				t.Errorf("%s at %.9g: %q, %v", rule, c.threshold*factor, says, err)
			}
		}
	}
	scale.Thresholds = verdict.Thresholds{"D-1": divisions}
	if a, err := dilution.Solve(context.Background(), scale); err != nil || verdictOf(a.Ladder, "D-1") != "" {
		t.Errorf("at the threshold: %s %v", verdictOf(a.Ladder, "D-1"), err)
	}
}

// The volume of a tube to which a solvent is added is that of both: at 20 °C as they were let in.
func TestVolumeOfATubeWithSolvent(t *testing.T) {
	q := ask(dilution.Series)
	q.Volume, q.Volumes = 10, []float64{5}
	q.Stock.Concentration = uncertain.Exact(0.1)
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	lines, err := a.Request.Explain(nil, "volume 1")
	if err != nil || !strings.HasPrefix(lines[0].Result, "10.0") {
		t.Fatalf("%+v, %v", lines, err)
	}
	workingtest.Check(t, lines)
}
