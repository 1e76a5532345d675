package dilution_test

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/dilution"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

var today = time.Date(2026, 5, 12, 9, 0, 0, 0, time.UTC)

// script is a run at the bench, every fact admitted.
type script struct {
	t     *testing.T
	r     dilution.Request
	facts []fact.Fact
}

var fern = weighing.Balance{Name: "Fern", Capacity: 220, Resolution: 0.0001, Repeatability: 0.0001, Linearity: 0.0002}

func (s *script) add(kind string, part int, change func(*fact.Fact)) *script {
	s.t.Helper()
	f := fact.Fact{ID: fmt.Sprint("f", len(s.facts)), Kind: kind, Part: part}
	if change != nil {
		change(&f)
	}
	if err := run.Admit(s.r, s.facts, f, today); err != nil {
		s.t.Fatalf("%s for tube %d: %v", kind, part+1, err)
	}
	s.facts = append(s.facts, f)
	return s
}

func (s *script) outcome() run.Outcome {
	s.t.Helper()
	out, err := s.r.Make(s.facts, today)
	if err != nil {
		s.t.Fatal(err)
	}
	return out
}

// rack is what the drawing of an outcome shows.
func rack(out run.Outcome) []dilution.RackTube { return out.View.(dilution.View).Rack }

func chosen(id string) func(*fact.Fact) { return func(f *fact.Fact) { f.Choice = id } }
func counted(n int) func(*fact.Fact)    { return func(f *fact.Fact) { f.Count = &n } }
func read(before, after float64) func(*fact.Fact) {
	return func(f *fact.Fact) {
		a, b := quantity.Of(before, "mL"), quantity.Of(after, "mL")
		f.Quantity, f.After = &a, &b
	}
}

func degrees(x float64) func(*fact.Fact) {
	return func(f *fact.Fact) { q := quantity.Of(x, "°C"); f.Quantity = &q }
}

// stage makes one rung of a chain with a one-mark pipette.
func (s *script) stage(i int, mark string) *script {
	s.t.Helper()
	s.add("rinsed", i, counted(2)).add("taken", i, chosen("delivered")).add("filled", i, chosen(mark))
	if mark == "reached" {
		s.add("mixed", i, counted(20))
	}
	return s
}

func atHand(out run.Outcome) string {
	for _, s := range out.Steps {
		if s.State == run.Now {
			return s.ID
		}
	}
	return ""
}

func chain(t *testing.T) *script {
	t.Helper()
	q := ask(dilution.Chain)
	q.Glass, q.Factors = glass([]float64{10}, []float64{100}), []string{"10", "10", "10"}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	return &script{t: t, r: a.Request}
}

// A chain to the end; the second stage goes past the mark and is made again, and what
// was made from it is void with it.
func TestChainWithAStageRedone(t *testing.T) {
	s := chain(t)
	s.r.Rinse = 5
	s.add("temperature", 0, degrees(21)).stage(0, "reached").stage(1, "past")
	out := s.outcome()
	if atHand(out) != "fill 2" || rack(out)[1].Made || len(out.Figures) != 1 {
		t.Fatalf("at hand %s, rack %+v", atHand(out), rack(out))
	}
	runtest.Drew(t, out, map[string]float64{"stock": 15, "part 0": 15, "part 1": 0, "part 2": 0})
	s.add("decided", 1, chosen("redo-stage"))
	runtest.Drew(t, s.outcome(), map[string]float64{"stock": 15, "part 0": 15, "part 1": 0, "part 2": 0})
	if out = s.outcome(); atHand(out) != "rinse 2" || rack(out)[1].Void != "made again" {
		t.Fatalf("at hand %s, %+v", atHand(out), rack(out)[1])
	}
	for _, step := range out.Steps {
		if step.ID == "mix 2" && step.Hint != "At once: clear liquids get mixed up." { // nothing is kept here
			t.Errorf("hint %q", step.Hint)
		}
		if step.ID == "label" && !strings.Contains(step.Hint, "from weak to strong: 3, 2, 1.") {
			t.Errorf("hint %q", step.Hint)
		}
	}
	s.stage(1, "reached").stage(2, "reached")
	runtest.Drew(t, s.outcome(), map[string]float64{"stock": 15, "part 0": 30, "part 1": 15, "part 2": 0})
	s.add("decided", 0, chosen("redo-stage")) // the first one fell over after all
	if out = s.outcome(); atHand(out) != "rinse 1" || !strings.Contains(rack(out)[2].Void, "made from tube 2") || rack(out)[2].Made {
		t.Fatalf("at hand %s, %+v", atHand(out), rack(out))
	}
	s.stage(0, "reached").stage(1, "reached").stage(2, "reached").add("labelled", 0, func(f *fact.Fact) { f.Date = "2026-05-19" })
	out = s.outcome()
	if out.Status != run.Finished || len(out.Figures) != 3 || math.Abs(out.Figures[2].Value-0.1) > 2e-4 {
		t.Errorf("%s, %d figures", out.Status, len(out.Figures))
	}
	// The stock was drawn from twice; what came out of tubes that were thrown away is gone with them.
	runtest.Drew(t, out, map[string]float64{"stock": 30, "part 0": 15, "part 1": 15, "part 2": 0})
	lines, err := s.r.Explain(s.facts, "tube 3")
	if err != nil || len(lines) != 4 || !strings.Contains(lines[2].Result, out.Figures[2].Text) {
		t.Errorf("%+v %v", lines, err)
	}
}

// What the burettes gave counts, not what was planned; the blank stays a blank.
func TestSeriesNamedByItsReadings(t *testing.T) {
	q := ask(dilution.Series)
	q.Volume, q.Volumes = 5, []float64{0, 2}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	s := (&script{t: t, r: a.Request}).add("temperature", 0, degrees(20)).add("filled", 0, read(0.10, 5.12)).add("mixed", 0, counted(20)).
		add("rinsed", 1, counted(3)).add("taken", 1, read(1.00, 3.20)).add("filled", 1, read(5.12, 8.10)).add("mixed", 1, counted(20))
	out := s.outcome()
	want := 0.1 * 2.20 / (2.20 + 2.98)
	if c := rack(out)[1].Concentration; math.Abs(c.Value-want) > 1e-6 || rack(out)[0].Concentration.Value != 0 {
		t.Errorf("%s mol/L, want %.5f; blank %s", c.Text, want, rack(out)[0].Concentration.Text)
	}
	for _, step := range out.Steps {
		if step.ID == "take 2" && (len(step.Verdicts) != 1 || !strings.Contains(step.Verdicts[0].Sentence, "2.20 mL were taken")) {
			t.Errorf("%+v", step.Verdicts)
		}
	}
}

func TestAdmitRefuses(t *testing.T) {
	q := ask(dilution.Series)
	q.Volume, q.Volumes = 5, []float64{2}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	s := (&script{t: t, r: a.Request}).add("temperature", 0, degrees(20)).add("rinsed", 0, counted(2))
	for _, c := range []struct {
		kind   string
		change func(*fact.Fact)
		field  string
	}{
		{"taken", read(3, 1), "/after"},
		{"taken", read(1, 30), "/after"},
		{"taken", read(-1, 2), "/quantity"},
		{"taken", nil, "/quantity"},
		{"filled", chosen("reached"), "/kind"},
		{"mixed", counted(10), "/kind"},
		{"decided", chosen("keep-mass"), "/choice"},
		{"decided", chosen("redo-stage"), "/choice"},
		{"taken", func(f *fact.Fact) { f.Part = 3 }, "/part"},
		{"labelled", nil, "/kind"},
		{"note", nil, "/text"},
		{"taken", func(f *fact.Fact) { f.Replaces, f.Reason = "none", "x" }, "/replaces"},
		{"rinsed", func(f *fact.Fact) { f.Replaces = "f1" }, "/reason"},
		{"taken", func(f *fact.Fact) { read(1, 3)(f); counted(2)(f) }, "/count"},
	} {
		f := fact.Fact{ID: "new", Kind: c.kind}
		if c.change != nil {
			c.change(&f)
		}
		var p verdict.Problems
		if err := run.Admit(s.r, s.facts, f, today); !errors.As(err, &p) {
			t.Errorf("%s: %v, want a problem at %s", c.kind, err, c.field)
		} else if !slices.ContainsFunc(p, func(x verdict.Problem) bool { return x.Field == c.field }) {
			t.Errorf("%s: %v, want a problem at %s", c.kind, p, c.field)
		}
	}
	s.add("decided", 0, chosen("start-again"))
	if out := s.outcome(); out.Status != run.Void {
		t.Errorf("given up: %s", out.Status)
	}
}

// A concentrated acid as the stock: 12.02 mol/L (as commercial reagents are), 10 mL to
// 1 L; the solvent first, in the hood, and approximate.
func TestFromAConcentratedAcid(t *testing.T) {
	i := slices.IndexFunc(substance.Library(), func(s substance.Substance) bool { return s.Key == "hydrochloric-acid" })
	c, ok := substance.Library()[i].Molarity()
	if !ok {
		t.Fatal("no molarity")
	}
	q := ask(dilution.OneTarget)
	q.Glass = glass([]float64{10}, []float64{1000})
	q.Stock = dilution.Stock{Name: "Hydrochloric acid", Unit: "mol/L", Concentration: c, Concentrate: true, Approximate: true}
	q.Factor, q.Volume, q.MaxSteps = "100", 1000, 1
	a, err := dilution.Solve(context.Background(), q)
	if err != nil || a.Ladder.Verdicts[0].Rule != "D-7" || math.Abs(a.Ladder.Tubes[0].Concentration.Value-0.1202) > 2e-4 {
		t.Fatalf("%+v %v", a.Ladder, err)
	}
	s := (&script{t: t, r: a.Request}).add("temperature", 0, degrees(20)).add("rinsed", 0, counted(2))
	if out := s.outcome(); atHand(out) != "water 1" || out.Exact {
		t.Errorf("at hand %s, exact %v", atHand(out), out.Exact)
	}
	s.add("watered", 0, chosen("in")).add("taken", 0, chosen("delivered")).add("filled", 0, chosen("reached"))
	if out := s.outcome(); atHand(out) != "mix 1" {
		t.Errorf("at hand %s", atHand(out))
	}
}

// The same acid by mass: n = m·w/M, so that its density cancels (by hand: 9.8611 g of
// 37.0 % is 9.8611 × 0.370 ÷ 36.458 = 0.10008 mol, in 1 L at 20 °C; the mass is the
// reading times 1.00086, buoyancy of a liquid of 1.184 g/mL by the formula of OIML R 111).
func TestConcentratedAcidByMass(t *testing.T) {
	i := slices.IndexFunc(substance.Library(), func(s substance.Substance) bool { return s.Key == "hydrochloric-acid" })
	acid := substance.Library()[i]
	c, _ := acid.Molarity()
	q := ask(dilution.OneTarget)
	q.Glass = glass(nil, []float64{1000})
	q.Stock = dilution.Stock{
		Name:          acid.Name,
		Unit:          "mol/L",
		Concentration: c,
		Concentrate:   true,
		Approximate:   true,
		Key:           acid.Key,
		Density:       acid.Density,
	}
	q.Target, q.Volume = 0.1, 1000
	q.Weighed, q.Balance = true, &fern
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	tube := a.Ladder.Tubes[0]
	if want := 0.1 / 0.370 * 36.458 / 1.00086; math.Abs(tube.Grams/want-1) > 5e-4 || a.Ladder.StockNeeded != tube.Taken {
		t.Errorf("%g g to weigh, by hand %g; %g mL", tube.Grams, want, a.Ladder.StockNeeded)
	}
	for _, share := range tube.Concentration.Budget {
		if strings.Contains(share.Label, "density") && share.Fraction > 1e-9 {
			t.Errorf("%s takes %g of the budget: it cancels", share.Label, share.Fraction)
		}
	}
	s := (&script{t: t, r: a.Request}).add("temperature", 0, degrees(20)).add("watered", 0, chosen("in"))
	grams := func(before, after float64) func(*fact.Fact) {
		return func(f *fact.Fact) {
			f.At = today
			if x := quantity.Of(before, "g"); true {
				f.Quantity = &x
			}
			if x := quantity.Of(after, "g"); after > 0 {
				f.After = &x
			}
		}
	}
	for field, change := range map[string]func(*fact.Fact){"/quantity": grams(300, 0), "/after": grams(20, 25)} {
		f := fact.Fact{ID: "wrong", Kind: "taken"}
		change(&f)
		var p verdict.Problems
		if err := run.Admit(a.Request, s.facts, f, today); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%v to %v: %v", f.Quantity, f.After, err)
		}
	}
	s.add("taken", 0, grams(32.3526, 22.5000)) // by difference, 9.8526 g
	out := s.outcome()
	got := rack(out)[0].Concentration
	if want := 9.8526 * 1.00086 * 0.370 / 36.458; math.Abs(got.Value/want-1) > 5e-4 || len(out.Readings) != 1 {
		t.Errorf("%s mol/L, by hand %.5f; weighed %v", got.Text, want, out.Readings)
	}
	moving := script{t: t, r: a.Request, facts: slices.Clone(s.facts)}
	spread := quantity.Of(0.02, "g") // within half of it, rectangular: u = 0.01/√3 g
	moving.facts[len(moving.facts)-1].Spread = &spread
	out = moving.outcome()
	more := rack(out)[0].Concentration
	if added := math.Sqrt(
		more.U()*more.U()-got.U()*got.U(),
	) / got.Value; math.Abs(added/(0.01/math.Sqrt(3)/9.8526)-1) > 1e-6 ||
		!slices.ContainsFunc(out.Steps[2].Verdicts, func(v verdict.Verdict) bool { return v.Rule == "W-10" }) {
		t.Errorf("taken while it moved adds %g; %+v", added, out.Steps[2].Verdicts)
	}
	lines, err := a.Request.Explain(s.facts, "tube 1")
	if err != nil || !strings.Contains(lines[0].Substituted, "9.8526") || len(lines) != 3 {
		t.Errorf("%+v %v", lines, err)
	}
}

// What weighing a portion needs, and what the balance cannot do.
func TestWeighedPortionsRefusedAndJudged(t *testing.T) {
	weighed := func() dilution.Question {
		q := ask(dilution.Chain)
		q.Factors, q.Volume, q.Weighed, q.Balance = []string{"10", "5"}, 0, true, &fern
		q.Stock.Density, q.Stock.DensityLimits = 1.005, 0.001
		return q
	}
	a, err := dilution.Solve(context.Background(), weighed())
	if err != nil || !a.Request.Rungs[0].Weighed || a.Request.Rungs[1].Weighed {
		t.Fatalf("%+v %v", a.Request.Rungs, err)
	}
	for want, change := range map[string]func(*dilution.Question){
		"/balance":             func(q *dilution.Question) { q.Balance = nil },
		"/stock/density":       func(q *dilution.Question) { q.Stock.Density = 0 },
		"/stock/densityLimits": func(q *dilution.Question) { q.Stock.DensityLimits = 1 },
		"/keep":                func(q *dilution.Question) { q.Keep = 5000 },
		"/inFlasks":            func(q *dilution.Question) { q.Mode, q.Volumes, q.Volume = dilution.Series, []float64{1, 2}, 50 },
	} {
		q := weighed()
		change(&q)
		var p verdict.Problems
		if _, err := dilution.Solve(context.Background(), q); !errors.As(err, &p) ||
			!slices.ContainsFunc(p, func(x verdict.Problem) bool { return x.Field == want }) {
			t.Errorf("want a problem at %s, got %v", want, err)
		}
	}
	for want, change := range map[string]func(*dilution.Question){
		"W-2": func(q *dilution.Question) { q.Factors = []string{"2000", "5"} }, // 0.05 g
		"W-5": func(q *dilution.Question) {
			q.Balance = &weighing.Balance{Name: "Moss", Capacity: 1, Resolution: 0.001}
		},
	} {
		q := weighed()
		change(&q)
		a, err := dilution.Solve(context.Background(), q)
		if err != nil || !slices.ContainsFunc(a.Ladder.Verdicts, func(v verdict.Verdict) bool { return v.Rule == want }) {
			t.Errorf("want %s: %+v %v", want, a.Ladder.Verdicts, err)
		}
	}
}

func dated(day string) func(*fact.Fact) { return func(f *fact.Fact) { f.Date = day } }

// ingredients are so many g/L of a substance of the library.
func ingredients(key string, grams float64) []substance.Ingredient {
	for _, s := range substance.Library() {
		if s.Key == key {
			return []substance.Ingredient{{Key: key, Grams: grams, Hazards: s.Hazards}}
		}
	}
	panic(key)
}
