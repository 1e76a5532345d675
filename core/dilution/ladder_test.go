package dilution_test

import (
	"context"
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/dilution"
	"vialbench/core/glassware"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func stock(c, u float64) dilution.Stock {
	return dilution.Stock{
		Name:          "Copper(II) sulfate",
		Unit:          "mol/L",
		Concentration: uncertain.New(c, u, uncertain.Source{ID: "stock", Label: "stock"}),
	}
}

func ask(mode dilution.Mode) dilution.Question {
	owned := glass([]float64{1, 2, 5, 10, 20, 25}, []float64{25, 50, 100, 250})
	owned = append(owned, items(glassware.GraduatedPipette, 5, 10)...)
	owned = append(owned, items(glassware.Burette, 25, 50)...)
	return dilution.Question{Stock: stock(0.1, 0.0001), Mode: mode, Glass: owned, Class: "A", WaterTemperature: 20, MaxSteps: 2, Volume: 50}
}

// "1:20" is told apart from "1 + 20", whichever way a lab reads it; other spellings
// mean the same to all (common practice).
func TestFactorsAsPeopleWriteThem(t *testing.T) {
	for _, c := range []struct {
		text string
		adds bool
		want float64
	}{{"20", false, 20}, {"20x", true, 20}, {"1 in 20", true, 20}, {"1 + 19", false, 20}, {"1+19", true, 20}, {"1:20", false, 20}, {"1:20", true, 21}, {"2 in 50", false, 25}, {"1 in 12,5", false, 12.5}, {"1/20", false, 20}} {
		if f, err := dilution.ParseFactor(c.text, c.adds); err != nil || math.Abs(f.Value-c.want) > 1e-12 {
			t.Errorf("%q (adds %v): %v, %v; want %g", c.text, c.adds, f, err, c.want)
		}
	}
	for _, text := range []string{"", "0", "-5", "1 in 0", "0.5", "20 in 1", "a:b", "1e99", "1:2:3"} {
		if f, err := dilution.ParseFactor(text, false); err == nil {
			t.Errorf("%q is read as %g", text, f.Value)
		}
	}
	f, _ := dilution.ParseFactor("1:20", false)
	if f.Read != "1 in 20, which is 1 + 19" {
		t.Error(f.Read)
	}
}

func FuzzFactor(f *testing.F) {
	for _, text := range []string{"1:20", "1 in 20", "1 + 19", "20x", "1e308 in 1e-308", "∞"} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		if got, err := dilution.ParseFactor(text, true); err == nil && !(got.Value >= 1 && got.Value <= 1e9) {
			t.Errorf("%q gives %g", text, got.Value)
		}
	})
}

// c₁·V₁ = c₂·V₂, whichever is unknown: 12.0 mol/L, 8.33 mL to 1 L gives 0.100 mol/L.
func TestOneStep(t *testing.T) {
	whole := dilution.Step{Stock: 12, Taken: 25.0 / 3, Final: 1000, Gives: 0.1}
	for i := range 4 {
		s := whole
		*[]*float64{&s.Stock, &s.Taken, &s.Final, &s.Gives}[i] = 0
		got, err := s.Solve()
		if err != nil || math.Abs(got.Stock-12) > 1e-9 || math.Abs(got.Taken-25.0/3) > 1e-9 || math.Abs(got.Final-1000) > 1e-9 ||
			math.Abs(got.Gives-0.1) > 1e-12 {
			t.Errorf("%+v: %+v, %v", s, got, err)
		}
	}
	for _, s := range []dilution.Step{{Stock: 1, Taken: 1}, whole, {Stock: 1, Taken: 10, Final: 5}, {Stock: 0.1, Gives: 1, Final: 10}, {Stock: -1, Taken: 1, Final: 2}, {Taken: 1e-300, Final: 1e300, Gives: 1}} {
		if got, err := s.Solve(); err == nil {
			t.Errorf("%+v gives %+v", s, got)
		}
	}
}

// A chain of 1 in 10 three times, with one 10 mL pipette and one 100 mL flask: by hand
// the relative variance of the factor is (3·u_p)² + (3·u_f)² for the glass and
// 3·(u_set² + u_fill²) for what is new each time (JCGM 100 5.2.2).
func TestChainAgainstHandPropagation(t *testing.T) {
	q := ask(dilution.Chain)
	q.Glass = glass([]float64{10}, []float64{100})
	q.Factors, q.Keep, q.Volume = []string{"10", "1 + 9", "1:10"}, 20, 0
	q.Stock = stock(0.1, 0)
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	last := a.Ladder.Tubes[2]
	tp, sp := 0.020/math.Sqrt(6)/10, 0.020/3/10
	tf, sf := 0.10/math.Sqrt(6)/100, glassware.Flask{Volume: 100, Class: "A"}.Filling()/100
	temperature := 2.1e-4 * 2 / math.Sqrt(3) // stock against solvent, once each
	want := 1e-4 * math.Sqrt(9*tp*tp+9*tf*tf+3*(sp*sp+sf*sf)+2*temperature*temperature)
	if last.Concentration.Unit != "mmol/L" || math.Abs(last.Concentration.Value-0.1) > 1e-6 ||
		math.Abs(last.Concentration.U()/1000/want-1) > 0.005 {
		t.Errorf("c = %g, u = %g; by hand 0.1 mmol/L, %g", last.Concentration.Value, last.Concentration.U(), 1000*want)
	}
	if last.Factor != 1000 || last.Step != 10 || len(a.Read) != 3 {
		t.Errorf("factor %g, step %g, read %v", last.Factor, last.Step, a.Read)
	}
	// worked back from the end: each stage keeps 20 mL and hands on 10 mL
	if t0 := a.Ladder.Tubes[0]; t0.Needed != 30 || t0.Spare != 70 || a.Ladder.StockNeeded != 10 {
		t.Errorf("needed %g, spare %g, stock %g", t0.Needed, t0.Spare, a.Ladder.StockNeeded)
	}
	if o := a.Ladder.Order; o[0] != 2 || o[2] != 0 {
		t.Errorf("measured in the order %v, the most dilute first", o)
	}
}

// 0, 1, 2, 3, 4, 5 of 5 mL: evenly spaced, the blank first, each tube 5 mL in all
// (common practice), and a parallel series carries the error of the stock alike.
func TestSeriesByTwoBurettes(t *testing.T) {
	q := ask(dilution.Series)
	q.Volume, q.Volumes = 5, []float64{0, 1, 2, 3, 4, 5}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	for i, tube := range a.Ladder.Tubes {
		if math.Abs(tube.Concentration.Value-0.02*float64(i)) > 1e-9 || math.Abs(tube.Final()-5) > 1e-12 {
			t.Errorf("tube %d: %s mol/L in %g mL", i, tube.Concentration.Text, tube.Final())
		}
	}
	if last := a.Ladder.Tubes[5].Concentration; last.U() != a.Request.Stock.Concentration.U() {
		t.Errorf("5 of 5 mL is the stock itself: u = %g", last.U())
	}
	if a.Ladder.Tubes[0].Label != "blank" || !strings.Contains(a.Ladder.Tubes[1].Words, "4 mL of solvent with a 25 mL burette") {
		t.Errorf("%q: %s", a.Ladder.Tubes[0].Label, a.Ladder.Tubes[1].Words)
	}
	if r := uncertain.Correlation(
		a.Ladder.Tubes[2].Concentration.Number,
		a.Ladder.Tubes[3].Concentration.Number,
	); !(r > 0.001) { // a little: reading the scale rules
		t.Errorf("correlation %.3f: one stock, one burette", r)
	}
	q.Volumes = nil
	q.Targets, q.InFlasks, q.Volume = []float64{0.02, 0.004, 0.013}, true, 50
	if a, err = dilution.Solve(context.Background(), q); err != nil {
		t.Fatal(err)
	}
	if w := a.Ladder.Tubes; w[0].With.Kind != glassware.OneMarkPipette || w[0].Taken != 10 || w[2].With.Kind != glassware.GraduatedPipette ||
		math.Abs(w[2].Taken-6.5) > 1e-9 {
		t.Errorf("%s; %s", w[0].Words, w[2].Words)
	}
}

func TestOneTargetAndItsRoutes(t *testing.T) {
	q := ask(dilution.OneTarget)
	q.Target, q.Objective = 0.001, dilution.FewestSteps
	a, err := dilution.Solve(context.Background(), q)
	if err != nil || len(a.Request.Rungs) != 1 || a.Ladder.Tubes[0].Factor != 100 {
		t.Fatalf("%+v %v", a.Ladder.Tubes, err)
	}
	q.Route = len(a.Routes) - 1
	b, err := dilution.Solve(context.Background(), q)
	if err != nil || len(b.Request.Rungs) != len(a.Routes[q.Route].Stages) {
		t.Errorf("route %d has %d stages, the ladder %d rungs", q.Route, len(a.Routes[q.Route].Stages), len(b.Request.Rungs))
	}
	q.Route = len(a.Routes) // there are not so many: the best one
	if b, err = dilution.Solve(context.Background(), q); err != nil || b.Ladder.Tubes[0].Words != a.Ladder.Tubes[0].Words {
		t.Errorf("%v %v", b.Ladder.Tubes, err)
	}
	q.Target = 0.1
	if _, err = dilution.Solve(context.Background(), q); err == nil || !strings.Contains(err.Error(), "the stock itself") {
		t.Errorf("the stock, diluted to what it is: %v", err)
	}
	q.Glass = glass([]float64{1, 2, 5, 10}, []float64{25, 50, 100})
	q.Target, q.Factor, q.MaxSteps, q.Route = 0, "1 in 19.5", 1, 0
	if a, err = dilution.Solve(context.Background(), q); err != nil || a.Ladder.Verdicts[0].Rule != "D-5" ||
		math.Abs(a.Routes[0].Off-0.0256) > 0.001 {
		t.Errorf("%+v %v", a.Ladder.Verdicts, err)
	}
}

// Back from a tube to the undiluted sample: measured, in mmol/L, times the factor.
func TestBackCalculation(t *testing.T) {
	q := ask(dilution.Chain)
	q.Factors = []string{"10", "20"}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	measured := uncertain.New(12.3, 0.2, uncertain.Source{ID: "reading", Label: "reading"})
	back, err := dilution.Back(a.Request, 1, measured)
	a.Request.Stock.Concentration = uncertain.Exact(1)
	ladder, _ := a.Request.Ladder()
	want := math.Hypot(measured.Relative(), ladder.Tubes[1].Concentration.Relative())
	if err != nil || math.Abs(back.Value-2.46) > 1e-9 || math.Abs(back.Relative()/want-1) > 1e-9 {
		t.Errorf("%g ± %g, %v", back.Value, back.U(), err)
	}
	if _, err := dilution.Back(a.Request, 2, measured); err == nil {
		t.Error("tube 3 of 2")
	}
}

func TestSpread(t *testing.T) {
	even, _ := dilution.Spread{From: 0, To: 0.1, Count: 6}.Targets()
	decades, _ := dilution.Spread{From: 1e-5, To: 1e-2, Count: 4, Logarithmic: true}.Targets()
	if fmt.Sprintf("%.3g", even) != "[0 0.02 0.04 0.06 0.08 0.1]" || fmt.Sprintf("%.3g", decades) != "[1e-05 0.0001 0.001 0.01]" {
		t.Errorf("%v %v", even, decades)
	}
	q := ask(dilution.Series)
	q.Volume, q.InFlasks, q.Spread = 50, true, &dilution.Spread{From: 0.01, To: 0.04, Count: 3, Logarithmic: true}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil || len(a.Ladder.Tubes) != 3 || math.Abs(a.Ladder.Tubes[1].Taken-10) > 1e-9 {
		t.Errorf("%+v %v", a.Ladder.Tubes, err)
	}
	for want, spread := range map[string]dilution.Spread{"/spread/from": {To: 1, Count: 3, Logarithmic: true}, "/spread/to": {Count: 2}, "/spread/count": {To: 1, Count: 13}, "/targets/1": {To: 1, Count: 2}} {
		q.Spread = &spread
		var p verdict.Problems
		if _, err := dilution.Solve(context.Background(), q); !errors.As(err, &p) || p[0].Field != want {
			t.Errorf("want a problem at %s, got %v", want, err)
		}
	}
}

// What a certificate states, 0.1000 ± 0.0002 mol/L at k = 2, is in every tube: its
// relative variance, 0.1 % squared, adds to that of the glass (GUM 4.3.3, 5.1.2).
func TestCertifiedStock(t *testing.T) {
	q := ask(dilution.Chain)
	q.Factors = []string{"10", "5"}
	q.Stock = dilution.Stock{Name: "the stock", Unit: "mol/L", Concentration: uncertain.Exact(0.1)}
	exact, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	q.Stock.Expanded = 0.0002
	stated, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	for i := range stated.Ladder.Tubes {
		glass, all := exact.Ladder.Tubes[i].Concentration, stated.Ladder.Tubes[i].Concentration
		added := math.Sqrt(all.U()*all.U()-glass.U()*glass.U()) / all.Value
		if math.Abs(added-0.001) > 1e-9 || glass.Value != all.Value {
			t.Errorf("tube %d: the stock adds %g, not 0.001", i+1, added)
		}
	}
}

func TestDesignRefuses(t *testing.T) {
	for want, change := range map[string]func(*dilution.Question){
		"/volumes/1": func(q *dilution.Question) { q.Volumes, q.Volume, q.InFlasks = []float64{10, 60}, 100, true }, // of a 50 mL burette
		"/target":    func(q *dilution.Question) { q.Mode, q.Target = dilution.OneTarget, 0.5 },
		"/factor":    func(q *dilution.Question) { q.Mode, q.Factor = dilution.OneTarget, "0" },
		"/targets/1": func(q *dilution.Question) { q.Targets = []float64{0.01, 2} },
		"/volumes/0": func(q *dilution.Question) { q.Volumes = []float64{60} },
		"/volumes":   func(q *dilution.Question) { q.Volumes = make([]float64, 13) },
		"/volume":    func(q *dilution.Question) { q.Volumes, q.Volume = []float64{1}, 0 },
		"/factors":   func(q *dilution.Question) { q.Mode, q.Factors = dilution.Chain, make([]string, 13) },
		"/factors/1": func(q *dilution.Question) { q.Mode, q.Factors = dilution.Chain, []string{"10", "1 in 0"} },
		"/route":     func(q *dilution.Question) { q.Mode, q.Factor, q.Route = dilution.OneTarget, "10", -1 },
		"/factors/0": func(q *dilution.Question) {
			q.Mode, q.Factors, q.Glass = dilution.Chain, []string{"3"}, glass([]float64{10}, []float64{100})
		},
		"/class":               func(q *dilution.Question) { q.Class = "C" },
		"/stock/concentration": func(q *dilution.Question) { q.Stock.Concentration.Value = 0 },
		"/stock/expanded":      func(q *dilution.Question) { q.Stock.Expanded = 0.1 },
		"/mode":                func(q *dilution.Question) { q.Mode = "sideways" },
	} {
		q := ask(dilution.Series)
		change(&q)
		var p verdict.Problems
		if _, err := dilution.Solve(context.Background(), q); !errors.As(err, &p) || p[0].Field != want {
			t.Errorf("want a problem at %s, got %v", want, err)
		}
	}
}

func TestLadderVerdicts(t *testing.T) {
	q := ask(dilution.Series)
	q.Volume, q.Volumes, q.Keep = 5, []float64{0.5, 5}, 10
	q.Stock.Left = 4
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	rules := ""
	for _, v := range a.Ladder.Verdicts {
		rules += v.Rule + " "
	}
	if rules != "D-2 D-3 D-1 " {
		t.Errorf("%s: the bottle, both tubes too small, and ten divisions of a burette", rules)
	}
}

func BenchmarkSeriesOfTwelve(b *testing.B) {
	q := ask(dilution.Series)
	q.Volume, q.Volumes = 25, []float64{0, 1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := a.Request.Ladder(); err != nil {
			b.Fatal(err)
		}
	}
}

// The working of a tube goes through every stage and ends in its figure.
func TestExplain(t *testing.T) {
	q := ask(dilution.Chain)
	q.Factors = []string{"10", "5"}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	lines, err := a.Request.ExplainTube(1)
	f := a.Ladder.Tubes[1].Concentration
	if err != nil || len(lines) != 3 || lines[1].Result != f.Text+" ± "+f.UText+" mol/L" || lines[2].Result != f.UText+" mol/L" {
		t.Errorf("%+v %v; the figure is %s ± %s", lines, err, f.Text, f.UText)
	}
	if _, err := a.Request.ExplainTube(7); err == nil {
		t.Error("tube 8 of 2")
	}
}

// A chain carries its error on, a parallel series needs small volumes: both are shown
// for the same concentrations (common practice), and each as a design of its own.
func TestChainAndSeriesCompared(t *testing.T) {
	q := ask(dilution.Chain)
	q.Factors, q.Keep = []string{"10", "10"}, 10
	q.Volume = 100
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	if len(a.Compare) != 3 {
		t.Fatalf("%+v", a.Compare)
	}
	if math.Abs(a.Compare[1].Stock-2*a.Compare[0].Stock) > 1e-9 || math.Abs(a.Ladder.StockNeeded-a.Compare[2].Stock) > 1e-9 {
		t.Errorf("%+v", a.Compare)
	}
	chain, last := a.Compare[2], a.Ladder.Tubes[1].Concentration
	if chain.Says != "" || math.Abs(chain.Worst-last.Expanded/last.Value) > 1e-9 || chain.Stock != a.Ladder.StockNeeded {
		t.Errorf("chain %+v, the ladder's last tube ±%g", chain, last.Expanded/last.Value)
	}
	if burettes := a.Compare[0]; burettes.Says != "" || burettes.Worst < 2*chain.Worst { // 1 mL of 100 by a burette
		t.Errorf("burettes %+v", burettes)
	}
	q.Mode, q.Factors, q.Targets, q.Volume = dilution.Series, nil, []float64{0.05, 0.0123}, 50
	if a, err = dilution.Solve(context.Background(), q); err != nil || a.Compare[2].Says == "" && a.Compare[2].Worst == 0 {
		t.Errorf("%+v %v", a.Compare, err)
	}
}

// A flask holds one stage: the marked one is given out once, and too few are named.
func TestFlasksAreSharedOut(t *testing.T) {
	q := ask(dilution.Chain)
	q.Glass = items(glassware.OneMarkPipette, 10)
	q.Glass = append(
		q.Glass,
		glassware.Item{
			Kind:        glassware.VolumetricFlask,
			Volume:      100,
			Class:       "A",
			Count:       1,
			Certificate: glassware.Certificate{Mark: "F1", Certified: 100.02, CertifiedLimits: 0.02},
		},
		glassware.Item{Kind: glassware.VolumetricFlask, Volume: 100, Class: "A", Count: 1},
	)
	q.Factors, q.Volume = []string{"10", "10"}, 0
	a, err := dilution.Solve(context.Background(), q)
	if err != nil || a.Request.Rungs[0].Flask.Mark != "F1" || a.Request.Rungs[1].Flask.Mark != "" || len(a.Ladder.Verdicts) != 0 {
		t.Fatalf("%+v %v", a.Request.Rungs, err)
	}
	q.Factors = append(q.Factors, "10")
	if a, err = dilution.Solve(context.Background(),
		q,
	); err != nil || len(a.Ladder.Verdicts) != 1 ||
		!strings.Contains(a.Ladder.Verdicts[0].Sentence, "and the lab owns 1") {
		t.Errorf("%+v %v", a.Ladder.Verdicts, err)
	}
}
