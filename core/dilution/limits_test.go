package dilution_test

import (
	"context"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/dilution"
	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

func fieldsOf(err error) string {
	var p verdict.Problems
	if !errors.As(err, &p) {
		return ""
	}
	var list []string
	for _, x := range p {
		list = append(list, x.Field)
	}
	return strings.Join(list, " ")
}

// What a question, a ladder and a step may say: at the bounds, and just past them.
func TestLimitsOfDilutions(t *testing.T) {
	for _, c := range []struct {
		name, field string // no field: it is right
		change      func(*dilution.Question)
	}{
		{"two concentrations", "", func(q *dilution.Question) { q.Spread.Count = 2 }},
		{"one concentration", "/spread/count", func(q *dilution.Question) { q.Spread.Count = 1 }},
		{"as many as there may be", "", func(q *dilution.Question) { q.Spread.Count = dilution.MaxRungs }},
		{"one more", "/spread/count", func(q *dilution.Question) { q.Spread.Count = dilution.MaxRungs + 1 }},
		{"up to the stock itself", "", func(q *dilution.Question) { q.Spread.To = 0.1 }},
		{"above the stock", "/targets/2", func(q *dilution.Question) { q.Spread.To = 0.1001 }},
		{"no volume", "/volume", func(q *dilution.Question) { q.Volume = -1 }},
		{"cold water", "", func(q *dilution.Question) { q.WaterTemperature = glassware.MinTemperature }},
		{"ice", "/waterTemperature", func(q *dilution.Question) { q.WaterTemperature = glassware.MinTemperature - 0.1 }},
		{"warm water", "", func(q *dilution.Question) { q.WaterTemperature = glassware.MaxTemperature }},
		{"hot water", "/waterTemperature", func(q *dilution.Question) { q.WaterTemperature = glassware.MaxTemperature + 0.1 }},
		{"nothing kept", "", func(q *dilution.Question) { q.Keep, q.Rinse = 0, 0 }},
		{"less than nothing kept", "/keep", func(q *dilution.Question) { q.Keep = -0.1 }},
		{"much rinsing", "", func(q *dilution.Question) { q.Rinse = 100 }},
		{"more rinsing", "/keep", func(q *dilution.Question) { q.Rinse = 100.1 }},
		{"less than no rinsing", "/keep", func(q *dilution.Question) { q.Rinse = -0.1 }},
	} {
		q := ask(dilution.Series)
		q.Volume, q.Spread = 50, &dilution.Spread{From: 0.01, To: 0.05, Count: 3}
		c.change(&q)
		if _, err := dilution.Solve(
			context.Background(),
			q,
		); !slices.Contains(strings.Fields(fieldsOf(err)), c.field) && c.field != "" ||
			c.field == "" && err != nil {
			t.Errorf("%s: %v, want a problem at %q", c.name, err, c.field)
		}
	}
	for _, c := range []struct {
		text string
		want float64 // 0: refused
	}{{"1", 1}, {"0.999", 0}, {"1e9", 1e9}, {"1.001e9", 0}, {"1 in 1", 1}, {"0 in 5", 0}, {"5 in 0", 0}, {"2 in 50", 25}, {"1 + 19", 20}, {"-3", 0}} {
		if f, err := dilution.ParseFactor(c.text, false); (err == nil) != (c.want > 0) || c.want > 0 && f.Value != c.want {
			t.Errorf("%s: %g, %v", c.text, f.Value, err)
		}
	}
	for _, c := range []struct {
		s    dilution.Step
		want dilution.Step // empty: refused
	}{
		{dilution.Step{Stock: 1, Taken: 10, Final: 100}, dilution.Step{Stock: 1, Taken: 10, Final: 100, Gives: 0.1}},
		{dilution.Step{Stock: 1, Taken: 100, Final: 100}, dilution.Step{Stock: 1, Taken: 100, Final: 100, Gives: 1}},
		{dilution.Step{Stock: 1, Final: 100, Gives: 0.1}, dilution.Step{Stock: 1, Taken: 10, Final: 100, Gives: 0.1}},
		{dilution.Step{Stock: 1, Taken: 10, Gives: 0.1}, dilution.Step{Stock: 1, Taken: 10, Final: 100, Gives: 0.1}},
		{dilution.Step{Taken: 10, Final: 100, Gives: 0.1}, dilution.Step{Stock: 1, Taken: 10, Final: 100, Gives: 0.1}},
		{dilution.Step{Stock: 1, Taken: 100.1, Final: 100}, dilution.Step{}},
		{dilution.Step{Stock: 1, Final: 100, Gives: 1.001}, dilution.Step{}},
		{dilution.Step{Stock: 1, Final: 100}, dilution.Step{}},
		{dilution.Step{Stock: 1, Taken: 10, Final: 100, Gives: 0.1}, dilution.Step{}},
		{dilution.Step{Stock: 1e13, Taken: 10, Final: 100}, dilution.Step{}},
		{dilution.Step{Stock: -1, Taken: 10, Final: 100}, dilution.Step{}},
	} {
		got, err := c.s.Solve()
		if refused := c.want == (dilution.Step{}); refused != (err != nil) ||
			!refused &&
				math.Abs(got.Stock-c.want.Stock)+math.Abs(
					got.Taken-c.want.Taken,
				)+math.Abs(got.Final-c.want.Final)+math.Abs(got.Gives-c.want.Gives) > 1e-9 {
			t.Errorf("%+v: %+v, %v", c.s, got, err)
		}
	}
	q := ask(dilution.Chain)
	q.Factors = []string{"10"}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		value, limits float64
		ok            bool
	}{{1, 0, true}, {1, 0.5, true}, {0, 0.5, false}, {-1, 0, false}, {1, -0.1, false}} {
		if _, err := dilution.SolveBack(dilution.BackQuestion{Request: a.Request, Value: c.value, Limits: c.limits}); (err == nil) != c.ok {
			t.Errorf("back from %g ± %g: %v", c.value, c.limits, err)
		}
	}
}

// What a ladder needs, added up by hand: of 10 mL into 100 mL and 20 mL of that into 100 mL,
// 5 mL kept of each and 3 mL to rinse with, the bottle gives 13 mL, the first tube 28 mL, and
// the solvent adds up to 170 mL.
func TestWhatALadderNeeds(t *testing.T) {
	q := ask(dilution.Chain)
	q.Glass, q.Factors, q.Keep, q.Rinse = glass([]float64{10, 20}, []float64{100}), []string{"10", "5"}, 5, 3
	q.Volume = 100
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	l := a.Ladder
	if l.StockNeeded != 13 || l.SolventNeeded != 170 || l.Tubes[0].Needed != 28 || l.Tubes[0].Spare != 72 || l.Tubes[1].Needed != 5 ||
		l.Tubes[1].Spare != 95 {
		t.Errorf("stock %g, solvent %g, tubes %+v", l.StockNeeded, l.SolventNeeded, l.Tubes)
	}
	for left, says := range map[float64]bool{12.9: true, 13: false, 13.1: false} {
		q.Stock.Left = left
		a, err := dilution.Solve(context.Background(), q)
		if err != nil || (verdictOf(a.Ladder, "D-2") != "") != says {
			t.Errorf("%g mL left: %q %v", left, verdictOf(a.Ladder, "D-2"), err)
		}
	}
}

// Of a stock of 1.2 g/mL, 10 mL weigh 12 g; the balance shows less by the lift of the air,
// 1.2 kg/m³ on 1200 kg/m³ of liquid and on 8000 kg/m³ of weights: 12/(1 + 0.00085) = 11.9898 g.
func TestAWeighedPortionIsLiftedByTheAir(t *testing.T) {
	q := ask(dilution.Chain)
	q.Glass, q.Factors, q.Volume, q.Weighed, q.Balance = glass([]float64{10}, []float64{100}), []string{"10"}, 100, true, &fern
	q.Stock.Density, q.Stock.DensityLimits = 1.2, 0.0005
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	tube := a.Ladder.Tubes[0]
	lift := (1 - 1.2/8000) / (1 - 1.2/1200)
	if want := 12 / lift; math.Abs(tube.Grams-want) > 1e-9 {
		t.Errorf("%.6f g, want %.6f", tube.Grams, want)
	}
	s := &script{t: t, r: a.Request}
	s.add("temperature", 0, degrees(20))
	weigh := func(grams float64) func(*fact.Fact) {
		return func(f *fact.Fact) { q := quantity.Of(grams, "g"); f.Quantity = &q }
	}
	out := s.add("taken", 0, weigh(11.5)).add("filled", 0, chosen("reached")).outcome()
	want := 0.1 * 11.5 * lift / 1.2 / 100
	if got := out.Figures[0].Value; math.Abs(got/want-1) > 1e-4 {
		t.Errorf("%g mol/L, want %g", got, want)
	}
}

// A portion that is off by more than 2 % is said, and one that is not is not: with a
// burette, and on the balance.
func TestPortionsThatAreOff(t *testing.T) {
	says := func(out run.Outcome) bool {
		for _, step := range out.Steps {
			if step.ID == "take 1" {
				return slices.ContainsFunc(step.Verdicts, func(v verdict.Verdict) bool { return v.Rule == "D-5" })
			}
		}
		t.Fatal("there is no such step")
		return false
	}
	series := ask(dilution.Series)
	series.Volume, series.Volumes = 20, []float64{10}
	a, err := dilution.Solve(context.Background(), series)
	if err != nil {
		t.Fatal(err)
	}
	for to, want := range map[float64]bool{9.79: true, 9.81: false, 10: false, 10.19: false, 10.21: true} {
		s := &script{t: t, r: a.Request}
		out := s.add("temperature", 0, degrees(20)).add("rinsed", 0, counted(2)).add("taken", 0, read(0, to)).outcome()
		if says(out) != want {
			t.Errorf("%g mL for 10 mL: said %t", to, says(out))
		}
	}
	heavy := ask(dilution.Chain)
	heavy.Glass, heavy.Factors, heavy.Volume, heavy.Weighed, heavy.Balance = glass(
		[]float64{10},
		[]float64{100},
	), []string{
		"10",
	}, 100, true, &fern
	heavy.Stock.Density, heavy.Stock.DensityLimits = 1.2, 0.0005
	if a, err = dilution.Solve(context.Background(), heavy); err != nil {
		t.Fatal(err)
	}
	for part, want := range map[float64]bool{0.979: true, 0.981: false, 1: false, 1.019: false, 1.021: true} {
		s := &script{t: t, r: a.Request}
		grams := part * a.Ladder.Tubes[0].Grams
		out := s.add("temperature", 0, degrees(20)).
			add("taken", 0, func(f *fact.Fact) { q := quantity.Of(grams, "g"); f.Quantity = &q }).outcome()
		if says(out) != want {
			t.Errorf("%g of what was planned: said %t", part, says(out))
		}
	}
}
