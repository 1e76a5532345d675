package buffer

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/equilibrium"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func library(t testing.TB, key string) substance.Substance {
	t.Helper()
	for _, s := range substance.Library() {
		if s.Key == key {
			return s
		}
	}
	t.Fatalf("no %s in the library", key)
	return substance.Substance{}
}

// stock is a solution of a substance at so many mol/L.
func stock(t testing.TB, key string, c float64) Ingredient {
	s := library(t, key)
	s.Liquid = false
	return Ingredient{Substance: s, Stock: uncertain.New(c, 0.002*c, uncertain.Source{ID: "stock " + key, Label: "stock"})}
}

func solid(t testing.TB, key string) Ingredient { return Ingredient{Substance: library(t, key)} }

// ask is a question for a system, of usual strength and volume.
func ask(target float64, system string) Question {
	return Question{Target: target, Celsius: 25, Concentration: quantity.Typed("0.1 mol/L"), Volume: quantity.Typed("250 mL"), System: system}
}

func answer(t testing.TB, q Question) Answer {
	t.Helper()
	a, err := Solve(context.Background(), q)
	if err != nil {
		t.Fatalf("%+v: %v", q, err)
	}
	return a
}

// request makes a plan of two ingredients.
func request(t testing.TB, system string, target, c float64, acid, base Ingredient) Request {
	t.Helper()
	r, err := ask(target, system).request()
	if err != nil {
		t.Fatal(err)
	}
	r.System, _ = equilibrium.Find(system)
	r.Acid, r.Base, r.Concentration = acid, base, c
	return r
}

func ExampleSolve() {
	a, err := Solve(
		context.Background(),
		Question{Target: 7, Celsius: 25, Concentration: quantity.Typed("0.05 mol/L"), Volume: quantity.Typed("500 mL"), System: "phosphoric"},
	)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, take := range a.Design.Lines[0].Takes {
		fmt.Println(take.Amount, take.Name)
	}
	fmt.Println("base over acid by the estimate:", a.Design.Estimate.Ratio)
	// Output:
	// 1.4489 g Potassium dihydrogen phosphate
	// 2.5675 g Disodium hydrogen phosphate dihydrate
	// base over acid by the estimate: 0.634
}

// Every way that is offered comes to the pH asked for, at the concentration asked for, when
// its mixture is solved by itself.
func TestRoutesReachTheTarget(t *testing.T) {
	for _, x := range []struct {
		system string
		target float64
	}{{"acetic", 4.5}, {"acetic", 5.3}, {"phosphoric", 7.2}, {"phosphoric", 6.4}, {"phosphoric", 2.5}, {"tris", 8.1}, {"carbonic", 10}, {"citric", 4.8}, {"ammonium", 9.3}, {"boric", 9.2}, {"hepes", 7.5}, {"glycine", 9.8}, {"phthalic", 5}} {
		first := answer(t, ask(x.target, x.system))
		if len(first.Routes) == 0 {
			t.Errorf("%s: no route", x.system)
		}
		for _, route := range first.Routes {
			if route.Problem != "" {
				continue
			}
			q := ask(x.target, x.system)
			q.Route = route.ID
			a, err := Solve(context.Background(), q)
			if err != nil {
				t.Errorf("%s, %s: %v", x.system, route.Title, err)
				continue
			}
			line := a.Design.Lines[0]
			pH, total := line.Figures[0], line.Figures[1]
			if math.Abs(pH.Value-x.target) > 1e-4 || math.Abs(total.Value-0.1) > 1e-5 {
				t.Errorf("%s, %s: pH %.5f for %g, %.6f mol/L", x.system, route.Title, pH.Value, x.target, total.Value)
			}
			if line.mix.Acid < 0 || line.mix.Base < 0 {
				t.Errorf("%s, %s: %+v", x.system, route.Title, line.mix)
			}
		}
	}
}

// Recipes of general texts (from memory): Sørensen phosphate at 1/15 mol/L, 61.1 parts of
// Na2HPO4 in 100 for pH 7.0 at 20 °C, on Sørensen’s scale, which lies 0.04 below that of
// activities (Bates, Determination of pH); acetate at 0.2 mol/L, 70 parts of sodium acetate
// in 100 for pH 5.0 at 25 °C (Walpole).
func TestRecipesOfTexts(t *testing.T) {
	r := request(t, "phosphoric", 7, 1./15, stock(t, "potassium-dihydrogen-phosphate", 1./15), stock(t, "disodium-hydrogen-phosphate", 1./15))
	r.Celsius, r.MadeAt = 20, 20
	c, err := r.compose(7.04)
	if part := c.Base / (c.Acid + c.Base); err != nil || math.Abs(part-0.611) > 0.012 {
		t.Errorf("Sørensen, pH 7.0: %.3f of dibasic phosphate (%v)", part, err)
	}
	w := request(t, "acetic", 5, 0.2, stock(t, "acetic-acid-glacial", 0.2), stock(t, "sodium-acetate", 0.2))
	c, err = w.compose(5.0)
	if part := c.Base / (c.Acid + c.Base); err != nil || math.Abs(part-0.70) > 0.015 {
		t.Errorf("Walpole, pH 5.0: %.3f of acetate (%v)", part, err)
	}
}

// McIlvaine, J. Biol. Chem. 49 (1921) 183 (from memory): of 0.1 mol/L citric acid and
// 0.2 mol/L disodium hydrogen phosphate, 20 mL of pH 5.0 take 9.70 and 10.30 mL, of pH 4.0
// 12.29 and 7.71, of pH 6.0 7.37 and 12.63, on Sørensen’s scale, 0.04 below that of
// activities. At up to 0.45 mol/L sodium pairs with citrate, which lowers the pH and which
// the model does not know: it is 0.04, 0.12 and 0.15 high, and has to own up to that. Its limits
// for pairing were chosen with these three values in view: this shows that they are applied,
// and is no test of the model by another source.
func TestWideRange(t *testing.T) {
	for _, x := range []struct{ pH, citric, phosphate float64 }{{4, 12.29, 7.71}, {5, 9.70, 10.30}, {6, 7.37, 12.63}} {
		r := request(
			t,
			"citric",
			x.pH,
			0.1*x.citric/20,
			stock(t, "citric-acid-monohydrate", 0.1),
			stock(t, "disodium-hydrogen-phosphate-dihydrate", 0.2),
		)
		m := r.Mixture(exact(0.1*x.citric/1000), exact(0.2*x.phosphate/1000), exact(0), exact(20), exact(25))
		got, err := m.PH()
		if err != nil || math.Abs(got.Value-x.pH-0.04) > got.Expanded() {
			t.Errorf("McIlvaine pH %g: %.3f ± %.3f (%v)", x.pH, got.Value, got.Expanded(), err)
		}
	}
	a := answer(t, ask(5.5, "citric"))
	for _, w := range a.Routes {
		if strings.Contains(w.Title, "buffers over a wide range") && w.Problem == "" {
			return
		}
	}
	t.Errorf("no wide range among %+v", a.Routes)
}

func TestConcentrationOfOnePartner(t *testing.T) {
	for basis, form := range map[int]string{1: "H2PO4-", 2: "HPO4^2-"} {
		q := ask(7.0, "phosphoric")
		q.Basis = &basis
		a := answer(t, q)
		m := a.Design.Request.planned(a.Design.Lines[0].mix, 25)
		s, _ := m.Solver()
		for _, x := range m.Species(s, s.Solve()) {
			if x.Formula == form && math.Abs(x.C-0.1) > 2e-4 {
				t.Errorf("%s: %.5f mol/L", form, x.C)
			}
		}
		if f := a.Design.Lines[0].Figures[1]; f.Label != form || math.Abs(f.Value-0.1) > 2e-4 {
			t.Errorf("named by %s: %s %s", form, f.Label, f.Text)
		}
	}
}

func TestIonicStrengthBySalt(t *testing.T) {
	q := ask(4.6, "acetic")
	q.Concentration = quantity.Typed("0.02 mol/L")
	q.Strength = 0.1
	a := answer(t, q)
	line := a.Design.Lines[0]
	if f := line.Figures[3]; math.Abs(f.Value-0.1) > 1e-4 {
		t.Errorf("ionic strength %s", f.Text)
	}
	if len(line.Takes) != 3 || line.Takes[2].Name != "Sodium chloride" {
		t.Errorf("takes %+v", line.Takes)
	}
}

// A Tris buffer for 4 °C is made at 25 °C to a pH that is lower by about 0.03 for each degree
// (common practice).
func TestMadeAtAnotherTemperature(t *testing.T) {
	q := ask(8.0, "tris")
	q.Celsius = 4
	at := 25.0
	q.MadeAt = &at
	a := answer(t, q)
	made := a.Design.Lines[0].Made
	if made != "7.37" && made != "7.38" && made != "7.39" && made != "7.40" {
		t.Errorf("made to pH %s at 25 °C", made)
	}
	if v, ok := says(a.Design.Verdicts, RuleWarming.ID); !ok || !strings.Contains(v.Sentence, made) {
		t.Errorf("%+v", v)
	}
}

func says(list []verdict.Verdict, rule string) (verdict.Verdict, bool) {
	for _, v := range list {
		if v.Rule == rule {
			return v, true
		}
	}
	return verdict.Verdict{}, false
}

// Each rule just under and just over its threshold.
func TestDesignVerdicts(t *testing.T) {
	acetic, _ := equilibrium.Find("acetic")
	pKa := acetic.Constants[0].PKa
	for _, x := range []struct {
		rule        string
		quiet, loud func(q *Question)
	}{
		{RuleRange.ID, func(q *Question) { q.Target = pKa + 0.99 }, func(q *Question) { q.Target = pKa + 1.01 }},
		{RuleWarming.ID, func(q *Question) { q.Celsius = 15 }, func(q *Question) { q.System, q.Target, q.Celsius = "tris", 8, 15; at := 25.0; q.MadeAt = &at }},
		{RuleAir.ID, func(q *Question) { q.Target = 4.7 }, func(q *Question) { q.System, q.Target, q.Concentration = "tris", 8.1, quantity.Typed("0.0005 mol/L") }},
		{
			RuleSolubility.ID, func(q *Question) { q.System, q.Target, q.Concentration = "phosphoric", 7, quantity.Typed("0.2 mol/L") },
			func(q *Question) { q.System, q.Target, q.Concentration = "phosphoric", 7.4, quantity.Typed("1 mol/L") },
		},
		{"B-1", func(q *Question) { q.Concentration = quantity.Typed("0.5 mol/L") }, func(q *Question) { q.Concentration = quantity.Typed("2 mol/L") }},
		{
			RuleDilution.ID, func(q *Question) { q.Concentration = quantity.Typed("0.05 mol/L") },
			func(q *Question) {
				q.System, q.Target, q.Thresholds = "phosphoric", 7, verdict.Thresholds{RuleDilution.ID: 0.05}
			},
		},
	} {
		for i, change := range []func(q *Question){x.quiet, x.loud} {
			q := ask(4.7, "acetic")
			change(&q)
			a := answer(t, q)
			if v, ok := says(a.Design.Verdicts, x.rule); ok != (i == 1) || ok && v.Level != verdict.Look {
				t.Errorf("%s, case %d: %+v", x.rule, i, a.Design.Verdicts)
			}
		}
	}
	// Which of the two is more, on both sides of the pKa.
	for target, want := range map[float64]string{4.0: "of the acid as of the base: the pH lies below", 5.4: "of the base as of the acid: the pH lies above"} {
		if v, _ := says(answer(t, ask(target, "acetic")).Design.Verdicts, RuleRatio.ID); !strings.Contains(v.Sentence, want) {
			t.Errorf("pH %g: %s", target, v.Sentence)
		}
	}
}

// By hand: 10^(7.00 − 7.198) = 0.634, and activities move it down by about a third.
func TestEstimateAndReasons(t *testing.T) {
	e := answer(t, ask(7.0, "phosphoric")).Design.Estimate
	if e.Ratio != "0.634" || len(e.Reasons) == 0 || !strings.Contains(e.Reasons[0], "Activities") {
		t.Errorf("%+v", e)
	}
	if e.PH > "6.75" || e.PH < "6.55" {
		t.Errorf("the recipe of the estimate gives pH %s", e.PH)
	}
	thin := ask(3.6, "formic")
	thin.Concentration = quantity.Typed("0.001 mol/L")
	if e := answer(t, thin).Design.Estimate; len(e.Reasons) == 0 || !strings.Contains(e.Reasons[len(e.Reasons)-1], "water") {
		t.Errorf("%+v", e)
	}
}

func TestLandscape(t *testing.T) {
	l := answer(t, ask(7.0, "phosphoric")).Design.Landscape
	if len(l.PH) != landscapePoints || len(l.Beta) != landscapePoints || len(l.Forms) != 4 || len(l.PKa) != 3 {
		t.Fatalf("%d points, %d forms", len(l.PH), len(l.Forms))
	}
	if math.Abs(l.Low-6.198) > 0.001 || math.Abs(l.High-8.198) > 0.001 {
		t.Errorf("useful from %.3f to %.3f", l.Low, l.High)
	}
	best, at := 0.0, 0.0
	for i, pH := range l.PH {
		sum := 0.0
		for _, f := range l.Forms {
			sum += f.Fraction[i]
		}
		if math.Abs(sum-1) > 1e-9 || pH < 12 && l.Beta[i] < l.Water[i] {
			t.Errorf("pH %.2f: fractions %g, β %g, of water %g", pH, sum, l.Beta[i], l.Water[i])
		}
		if pH > 5 && pH < 9 && l.Beta[i] > best {
			best, at = l.Beta[i], pH
		}
	}
	if math.Abs(at-6.78) > 0.15 || math.Abs(best-0.0576) > 0.006 { // ln 10·C/4 at the pKa as it is there
		t.Errorf("largest capacity %.4f at pH %.2f", best, at)
	}
}

func TestCandidates(t *testing.T) {
	a := answer(t, Question{Target: 7.4, Celsius: 25, Concentration: quantity.Typed("0.05 mol/L"), Volume: quantity.Typed("500 mL")})
	if len(a.Candidates) < 8 || a.Candidates[0].Routes == 0 {
		t.Fatalf("%+v", a.Candidates)
	}
	found := map[string]Candidate{}
	for i, c := range a.Candidates {
		found[c.Key] = c
		if i > 0 && a.Candidates[i-1].score > c.score {
			t.Errorf("not by rank: %+v", c)
		}
	}
	if c := found["tris"]; math.Abs(c.ByDegree+0.028) > 0.003 || math.Abs(c.Away+0.672) > 0.001 {
		t.Errorf("Tris: %+v", c)
	}
	if c := found["phosphoric"]; math.Abs(c.ByDegree+0.002) > 0.002 || c.Acid[0].Text != "H" || c.Base[len(c.Base)-1].Text != "2−" {
		t.Errorf("phosphate: %+v", c)
	}
	if _, ok := found["acetic"]; ok {
		t.Error("acetic acid is out of reach of pH 7.4")
	}
	// What stands on the shelf comes first among the ways.
	q := ask(7.4, "phosphoric")
	q.Shelf = []Stock{
		{Name: "Potassium dihydrogen phosphate", Formula: "KH2PO4", Concentration: uncertain.Exact(0.5), Bottle: "b", Number: 7, Left: 500},
	}
	if first := answer(t, q).Routes[0]; first.Acid.Number != 7 || first.AcidAmount == "" {
		t.Errorf("%+v", first)
	}
}

func TestBadQuestions(t *testing.T) {
	basis := 3
	hot := 70.0
	for field, change := range map[string]func(q *Question){
		"/target":        func(q *Question) { q.Target = 15 },
		"/celsius":       func(q *Question) { q.Celsius = -1 },
		"/madeAt":        func(q *Question) { q.MadeAt = &hot },
		"/concentration": func(q *Question) { q.Concentration = quantity.Typed("0.1 g/L") },
		"/volume":        func(q *Question) { q.Volume = quantity.Typed("5 g") },
		"/basis":         func(q *Question) { q.Basis = &basis },
		"/strength":      func(q *Question) { q.Strength = -1 },
		"/system":        func(q *Question) { q.System = "nothing" },
		"/route":         func(q *Question) { q.Route = "nothing" },
		"/targets/0":     func(q *Question) { q.Targets = []float64{99} },
		"/targets":       func(q *Question) { q.System, q.Target, q.Targets = "tris", 8, []float64{7.8} },
	} {
		q := ask(7, "phosphoric")
		change(&q)
		_, err := Solve(context.Background(), q)
		p, _ := err.(verdict.Problems) //nolint:errorlint // made here
		if len(p) == 0 || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	r := request(t, "acetic", 9, 0.1, solid(t, "acetic-acid-glacial"), solid(t, "sodium-acetate"))
	if _, err := r.compose(9.5); err == nil || !strings.Contains(err.Error(), "this pair goes from pH") {
		t.Errorf("beyond the pair: %v", err)
	}
	r.Acid, r.Base, r.Target = stock(t, "acetic-acid-glacial", 0.01), stock(t, "sodium-acetate", 0.01), 4.7
	if _, err := r.design(); err == nil || !strings.Contains(err.Error(), "at most 0.00") {
		t.Errorf("thin stocks: %v", err)
	}
}

// What is advised brings the model to its goal, and the finished flask to the target.
func TestAdviceBringsItToItsPH(t *testing.T) {
	r := request(t, "phosphoric", 7, 0.05, solid(t, "potassium-dihydrogen-phosphate"), stock(t, "sodium-hydroxide", 1))
	c, err := r.compose(7)
	if err != nil {
		t.Fatal(err)
	}
	litres := r.Volume / 1000
	for _, base := range []float64{0.5, 0.9, 1.1, 1.5} { // of what it takes
		beaker := 0.4 * r.Volume
		m := r.Mixture(exact(c.Acid*litres), exact(base*c.Base*litres), exact(0), exact(beaker), exact(25))
		s, _ := m.Solver()
		is := s.Solve().PH
		a, err := r.Advise(m, beaker, is, 7)
		if err != nil || a.Acid != (base > 1) || math.Abs(a.First-0.7*a.All) > 1e-9 {
			t.Fatalf("%+v %v", a, err)
		}
		if want := math.Abs(1-base) * c.Base * r.Volume; math.Abs(a.All-want) > 0.05*want {
			t.Errorf("%g of the base: %.3f mL more, want %.3f", base, a.All, want)
		}
		sign := 1.0
		if a.Acid {
			sign = -1
		}
		done := r.Mixture(exact(c.Acid*litres), exact(base*c.Base*litres), exact(0), exact(r.Volume), exact(25))
		done.AddIon("Na+", 1, exact(sign*a.All/r.Volume))
		sd, _ := done.Solver()
		if got := sd.Solve().PH; math.Abs(got-7) > 0.02 {
			t.Errorf("%g of the base: pH %.3f in the end", base, got)
		}
	}
	// Acid of half the strength takes twice the volume; the base is another matter.
	over := r.Mixture(exact(c.Acid*litres), exact(1.2*c.Base*litres), exact(0), exact(0.4*r.Volume), exact(25))
	so, _ := over.Solver()
	is := so.Solve().PH
	whole, _ := r.Advise(over, 0.4*r.Volume, is, 7)
	r.StrongAcid = 0.5
	if half, _ := r.Advise(over, 0.4*r.Volume, is, 7); !half.Acid || math.Abs(half.All-2*whole.All) > 1e-9 {
		t.Errorf("%+v for %+v", half, whole)
	}
	m := r.Mixture(exact(c.Acid*litres), exact(0), exact(0), exact(0.9*r.Volume), exact(25))
	if a, err := r.Advise(m, 0.93*r.Volume, 4.5, 7); err != nil || !a.TooMuch {
		t.Errorf("no room: %+v %v", a, err)
	}
}

func BenchmarkDesign(b *testing.B) {
	q := Question{Target: 7.4, Celsius: 25, Concentration: quantity.Typed("0.05 mol/L"), Volume: quantity.Typed("500 mL")}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Solve(context.Background(), q); err != nil {
			b.Fatal(err)
		}
	}
}
