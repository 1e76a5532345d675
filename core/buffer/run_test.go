package buffer

import (
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

// bench carries a plan out.
type bench struct{ runtest.Bench[Request] }

func on(t testing.TB, r Request) *bench { return &bench{runtest.Bench[Request]{T: t, Plan: r}} }

func of(text string, d ...quantity.Dimension) *quantity.Quantity {
	q, err := quantity.ParseAny(text, d, "")
	if err != nil {
		panic(err)
	}
	return &q
}

func grams(part int, text string) fact.Fact {
	return fact.Fact{Kind: KindWeighed, Part: part, Quantity: of(text, quantity.Mass)}
}

func mLOf(kind string, part int, text string) fact.Fact {
	return fact.Fact{Kind: kind, Part: part, Quantity: of(text, quantity.Volume)}
}

func reads(kind string, part int, pH string) fact.Fact {
	return fact.Fact{Kind: kind, Part: part, Quantity: of(pH+" pH", quantity.Acidity)}
}

func choose(kind, choice string, part int) fact.Fact {
	return fact.Fact{Kind: kind, Choice: choice, Part: part}
}

// phosphate is 250 mL of phosphate, pH 7.00, of KH2PO4 and sodium hydroxide solution.
func phosphate(t *testing.T) *bench {
	return on(t, request(t, "phosphoric", 7, 0.05, solid(t, "potassium-dihydrogen-phosphate"), stock(t, "sodium-hydroxide", 1)))
}

func twenty() *int { n := 20; return &n }

func TestRunToTheLabel(t *testing.T) {
	b := phosphate(t)
	out := b.Outcome()
	if s := runtest.Now(t, out); s.ID != "water" || !strings.Contains(s.Title, "100 mL") ||
		!strings.Contains(s.Cautions[0], "licensed waste handling") {
		t.Errorf("%+v", s)
	}
	out = b.State(choose(KindWatered, choiceIn, 0))
	if s := runtest.Now(t, out); s.Title != "Weigh 1.7011 g of Potassium dihydrogen phosphate" { // 12.5 mmol of 136.084 g/mol, assay 1
		t.Errorf("%s", s.Title)
	}
	out = b.State(grams(0, "1.7020 g"))
	take := runtest.Now(t, out)
	if !strings.HasSuffix(take.Title, "mL of Sodium hydroxide, 1 mol/L") || take.Kind != KindMeasured || take.Part != 1 {
		t.Errorf("%+v", take)
	}
	b.State(mLOf(KindMeasured, 1, "6.00 mL"))
	out = b.State(choose(KindStirred, choiceSolidLeft, 0))
	if runtest.Now(t, out).ID != "stir" {
		t.Error("solid left, and it goes on")
	}
	b.State(choose(KindStirred, choiceClear, 0))
	out = b.State(reads(KindRead, 0, "6.70"))
	s := runtest.Now(t, out)
	v, ok := says(s.Verdicts, RuleClose.ID)
	if !ok || v.Level != verdict.Look || !strings.Contains(v.Sentence, "sodium hydroxide") || v.Choices[0].ID != choiceBase || s.Asks {
		t.Fatalf("%+v", s)
	}
	out = b.State(choose(run.KindDecided, choiceBase, 0))
	s = runtest.Now(t, out)
	if s.Kind != KindBase || !s.Asks || s.Expects == "" || s.Default != "" || !strings.HasPrefix(s.Title, "Add "+s.Expects+" of sodium hydroxide") {
		t.Fatalf("%+v", s)
	}
	out = b.State(mLOf(KindBase, 0, s.Expects))
	if s = runtest.Now(t, out); s.Kind != KindRead || !s.Asks {
		t.Fatalf("a portion asks for a reading: %+v", s)
	}
	view := out.View.(View) //nolint:errcheck // its own kind
	goal := view.Goal
	out = b.State(reads(KindRead, 0, quantity.Digits(goal+0.02, 2)))
	if v, _ := says(runtest.Now(t, out).Verdicts, RuleClose.ID); v.Level != verdict.Fine || v.Choices[0].ID != choiceLeave {
		t.Fatalf("close enough: %+v", v)
	}
	b.State(choose(run.KindDecided, choiceLeave, 0))
	b.State(choose(KindMark, choiceReached, 0))
	b.State(fact.Fact{Kind: run.KindMixed, Count: twenty()})
	out = b.State(reads(KindFinal, 0, "6.98"))
	if s := runtest.Now(t, out); s.ID != "label" || s.Default != "2026-12-24" {
		t.Fatalf("%+v", s)
	}
	out = b.State(fact.Fact{Kind: run.KindLabelled, Date: "2026-12-24"})
	if out.Status != run.Finished || len(out.Products) != 1 {
		t.Fatalf("%s, %d products", out.Status, len(out.Products))
	}
	runtest.Used(t, out, "potassium-dihydrogen-phosphate 1.702 g") // the base is a solution that stands in no store
	p := out.Products[0]
	pH, _ := p.Figure(figure.PH)
	c, _ := p.Figure(figure.Concentration)
	if pH.Text[:4] != "6.98" || p.Title != "Phosphate buffer, 0.05 mol/L, pH 6.98" || math.Abs(c.Value-0.05003) > 2e-5 ||
		math.Abs(p.Volume()-250) > 0.01 ||
		p.Mixture == nil {
		t.Errorf("%s, pH %s, %v mol/L, %v mL", p.Title, pH.Text, c.Value, p.Volume())
	}
	if got := p.Ingredients[0].Grams; math.Abs(got-1.7020/0.25) > 0.02 { // in a litre
		t.Errorf("%.4f g/L of KH2PO4", got)
	}
	if p.Signal != "" || len(p.Ingredients) != 1 {
		t.Errorf("what is neutralised is no hazard: %s %+v", p.Signal, p.Ingredients)
	}
	if e := out.View.(View).Rows[0].Error; e != "−0.3 %" && e != "−0.2 %" { //nolint:errcheck // its own kind
		t.Errorf("error %s", e)
	}
	for _, f := range out.Figures {
		lines, err := b.Plan.Explain(b.Facts, f.ID)
		if err != nil || len(lines) == 0 || lines[len(lines)-1].Result == "" {
			t.Errorf("%s: %v", f.ID, err)
		}
		if last := lines[len(lines)-1]; last.Symbol != "U" || strings.TrimSpace(last.Result) != strings.TrimSpace(f.UText+" "+f.Unit) {
			t.Errorf("%s: its uncertainty stands nowhere: %+v", f.ID, last)
		}
		workingtest.Check(t, lines)
	}
}

// The slips of the bench, as the sheet names them.
func TestMissesAtTheBench(t *testing.T) {
	upside := request(t, "tris", 7.7, 0.1, solid(t, "tris-hydrochloride"), solid(t, "tris"))
	b := on(t, upside)
	b.State(choose(KindWatered, choiceIn, 0))
	line, err := upside.line(0)
	if err != nil {
		t.Fatal(err)
	}
	b.State(grams(0, line.Takes[0].Amount))
	b.State(grams(1, line.Takes[1].Amount))
	b.State(choose(KindStirred, choiceClear, 0))
	made := Made{Acid: line.Takes[1].mol, Base: line.Takes[0].mol, Volume: 100, Celsius: 25}
	s, _ := upside.mixture(made).Solver()
	out := b.State(reads(KindRead, 0, quantity.Digits(s.Solve().PH, 2)))
	if v, ok := says(runtest.Now(t, out).Verdicts, RuleMiss.ID); !ok || !strings.Contains(v.Sentence, "upside down") {
		t.Errorf("%+v", runtest.Now(t, out).Verdicts)
	}
	// No room for what it takes: begin again.
	out = b.State(choose(run.KindDecided, choiceReadOn, 0))
	if s := runtest.Now(t, out); !s.Asks || s.Kind != KindRead {
		t.Errorf("read again: %+v", s)
	}
	out = b.State(reads(KindRead, 0, "3.0"))
	if v, ok := says(runtest.Now(t, out).Verdicts, RuleRoom.ID); ok && v.Level != verdict.Stop {
		t.Errorf("%+v", v)
	}
	out = b.State(choose(run.KindDecided, run.ChoiceStartAgain, 0))
	if out.Status != run.Void {
		t.Errorf("given up: %s", out.Status)
	}
}

func TestPastTheMarkAndAfter(t *testing.T) {
	b := phosphate(t)
	line, _ := b.Plan.line(0)
	b.State(choose(KindWatered, choiceIn, 0))
	b.State(grams(0, line.Takes[0].Amount))
	b.State(mLOf(KindMeasured, 1, line.Takes[1].Amount))
	b.State(choose(KindStirred, choiceClear, 0))
	b.State(reads(KindRead, 0, "7.00"))
	b.State(choose(run.KindDecided, choiceLeave, 0))
	out := b.State(choose(KindMark, choicePast, 0))
	if s := runtest.Now(t, out); len(s.Verdicts) != 1 || s.Verdicts[0].Level != verdict.Stop {
		t.Fatalf("%+v", s)
	}
	out = b.State(choose(run.KindDecided, choiceKeepPast, 0))
	c := out.Figures[slices.IndexFunc(out.Figures, func(f figure.Figure) bool { return f.Role == figure.Concentration })]
	if math.Abs(c.Value-0.05/1.01) > 1e-5 || c.Expanded < 0.0005 {
		t.Errorf("past the mark: %s %v", c, c.Expanded)
	}
	b.State(fact.Fact{Kind: run.KindMixed, Count: twenty()})
	out = b.State(reads(KindFinal, 0, "6.85"))
	s := runtest.Now(t, out)
	if v, ok := says(s.Verdicts, RuleClose.ID); !ok || v.Choices[0].ID != choiceKeep || !strings.Contains(v.Sentence, "−") {
		t.Fatalf("%+v", s.Verdicts)
	}
	b.State(choose(run.KindDecided, choiceBase, 0))
	out = b.State(mLOf(KindBase, 0, "0.5 mL"))
	if s := runtest.Now(t, out); s.Kind != KindFinal || !s.Asks {
		t.Fatalf("read again after an addition: %+v", s)
	}
	out = b.State(reads(KindFinal, 0, "7.01"))
	runtest.Drew(t, out, map[string]float64{RoleAcid: 0, RoleBase: 0, RoleAdjustAcid: 0, RoleAdjustBase: 0.5})
	if s := runtest.Now(t, out); s.ID != "label" {
		t.Errorf("%+v", s)
	}
	a, err := b.Plan.follow(b.Facts)
	if err != nil {
		t.Fatal(err)
	}
	if m := a.made(&a.tubes[0], 250, 21); math.Abs(m.StrongBase-0.0005) > 1e-12 || m.StrongAcid != 0 {
		t.Errorf("0.5 mL of 1 mol/L: %+v", m)
	}
	out = b.State(fact.Fact{Kind: run.KindLabelled, Date: "2026-12-24"})
	if v := out.Products[0].Volume(); math.Abs(v-(250*1.01+0.5)) > 0.01 {
		t.Errorf("%g mL in the bottle", v)
	}
}

// A stock counts in mol/L, whatever its label is written in.
func TestStocksOfTheShelf(t *testing.T) {
	product := func(value float64, unit string) run.Product {
		return run.Product{
			Name: "Sodium acetate", Formula: []formula.Piece{{Text: "NaC"}, {Text: "2", Style: "sub"}, {Text: "H3O2"}},
			Figures: []figure.Figure{figure.New("c", "concentration", unit, uncertain.Exact(value)).As(figure.Concentration)},
		}
	}
	for unit, value := range map[string]float64{"mol/L": 0.05, "mmol/L": 50} {
		if s, ok := StockOf(product(value, unit), "b", 3, 100); !ok || math.Abs(s.Concentration.Value-0.05) > 1e-12 || s.Formula != "NaC2H3O2" {
			t.Errorf("%g %s: %+v %v", value, unit, s, ok)
		}
	}
	if _, ok := StockOf(product(4, "g/L"), "b", 3, 100); ok {
		t.Error("a mass concentration was treated as an amount")
	}
}

// A row of buffers from two stocks: one bottle for each.
func TestRow(t *testing.T) {
	r := request(t, "acetic", 4.2, 0.05, stock(t, "acetic-acid-glacial", 0.2), stock(t, "sodium-acetate", 0.2))
	r.Row, r.Volume, r.Acid.Bottle, r.Base.Bottle = []float64{4.7, 5.2}, 100, "b1", "b2"
	b := on(t, r)
	design, err := r.Design()
	if err != nil || len(design.(Design).Lines) != 3 { //nolint:errcheck // its own kind
		t.Fatalf("%v", err)
	}
	var out run.Outcome
	drawn := map[string]float64{RoleAdjustAcid: 0, RoleAdjustBase: 0}
	for tube := range 3 {
		line, _ := r.line(tube)
		for k, role := range []string{RoleAcid, RoleBase} {
			q, err := quantity.Parse(line.Takes[k].Amount, quantity.Volume, "mL")
			if err != nil {
				t.Fatal(err)
			}
			drawn[role] += q.In("mL")
		}
		b.State(mLOf(KindMeasured, 2*tube, line.Takes[0].Amount))
		b.State(mLOf(KindMeasured, 2*tube+1, line.Takes[1].Amount))
		b.State(choose(KindMark, choiceReached, 2*tube))
		out = b.State(fact.Fact{Kind: run.KindMixed, Part: 2 * tube, Count: twenty()})
	}
	runtest.Drew(t, out, drawn)
	for tube, pH := range []string{"4.20", "4.71", "5.19"} {
		out = b.State(reads(KindFinal, 2*tube, pH))
	}
	if s := runtest.Now(t, out); s.ID != "label" {
		t.Fatalf("%+v", s)
	}
	out = b.State(fact.Fact{Kind: run.KindLabelled, Date: "2026-12-24"})
	if len(out.Products) != 3 || out.Products[1].Title != "Acetate buffer, 0.05 mol/L, pH 4.71" || !out.Products[2].Tube {
		t.Errorf("%d products: %+v", len(out.Products), out.Products)
	}
	if len(out.Table) != 4 || len(out.Table[0]) != len(out.Table[1]) || out.Table[2][0] != "4.70" || out.Table[2][5] == "" {
		t.Errorf("%v", out.Table)
	}
}

func TestFactsThatMakeNoSense(t *testing.T) {
	b := phosphate(t)
	for field, f := range map[string]fact.Fact{
		"/quantity": grams(0, "-1 g"),
		"/choice":   choose(KindMark, "nearly", 0),
		"/after":    {Kind: KindWeighed, Quantity: of("1 g", quantity.Mass), After: of("2 g", quantity.Mass)},
		"/kind":     {Kind: "nothing"},
		"/count":    {Kind: KindWatered, Choice: choiceIn, Count: twenty()},
	} {
		p, _ := b.Plan.Check(f).(verdict.Problems) //nolint:errorlint // made here
		if len(p) == 0 || p[0].Field != field {
			t.Errorf("%+v: %v", f, p)
		}
	}
	for _, f := range []fact.Fact{mLOf(KindBase, 0, "300 mL"), grams(0, "300 g"), reads(KindRead, 0, "20")} {
		if err := b.Plan.Check(f); err == nil {
			t.Errorf("%+v is taken", f)
		}
	}
}
