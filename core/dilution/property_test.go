package dilution_test

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"regexp"
	"testing"

	"vialbench/core/dilution"
	"vialbench/core/uncertain"
)

// Ladders of any kind, drawn reproducibly: a tube has the concentration of the stock
// over its factor, its budget adds up, what is needed of it is there when no verdict
// says otherwise, and the same question gives the same ladder.
func TestLaddersHoldTogether(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 8))
	per := map[string]float64{"mol/L": 1, "mmol/L": 1e3, "µmol/L": 1e6}
	designed := 0
	for range 400 {
		q := ask([]dilution.Mode{dilution.OneTarget, dilution.Series, dilution.Chain}[rng.IntN(3)])
		q.WaterTemperature, q.Keep, q.Rinse = 15+10*rng.Float64(), float64(rng.IntN(30)), float64(rng.IntN(6))
		q.Objective = []dilution.Objective{dilution.LeastUncertainty, dilution.LeastLiquid, dilution.FewestSteps, dilution.Mixed}[rng.IntN(4)]
		switch q.Mode {
		case dilution.OneTarget:
			q.Factor, q.Volume = fmt.Sprint(2+rng.IntN(500)), float64(rng.IntN(100))
		case dilution.Series:
			for range 1 + rng.IntN(6) {
				q.Volumes = append(q.Volumes, float64(rng.IntN(50)))
			}
			q.InFlasks = rng.IntN(2) == 0
		case dilution.Chain:
			q.Volume = 0
			for range 1 + rng.IntN(4) {
				q.Factors = append(q.Factors, []string{"2", "5", "1 in 10", "1 + 24", "20", "50"}[rng.IntN(6)])
			}
		}
		a, err := dilution.Solve(context.Background(), q)
		if err != nil {
			continue // no such glass: said, and tested elsewhere
		}
		designed++
		scant := false
		for _, v := range a.Ladder.Verdicts {
			scant = scant || v.Rule == "D-3"
		}
		for i, tube := range a.Ladder.Tubes {
			c := tube.Concentration
			if tube.Taken == 0 {
				if c.Value != 0 {
					t.Errorf("a blank of %g", c.Value)
				}
				continue
			}
			if math.Abs(c.Value/per[c.Unit]*tube.Factor/q.Stock.Concentration.Value-1) > 1e-3 || c.Value < 0.001 && c.Unit != "µmol/L" {
				t.Errorf("%s: %g %s at 1 in %g", tube.Words, c.Value, c.Unit, tube.Factor)
			}
			sum := 0.0
			for _, share := range c.Budget {
				sum += share.U * share.U
			}
			if math.Abs(math.Sqrt(sum)/c.U()-1) > 1e-9 {
				t.Errorf("tube %d: budget %g, u %g", i, math.Sqrt(sum), c.U())
			}
			if math.Abs(tube.Needed+tube.Spare-tube.Final()) > 1e-9 || tube.Spare < -1e-6 && !scant {
				t.Errorf("tube %d makes %g mL: %g needed, %g spare", i, tube.Final(), tube.Needed, tube.Spare)
			}
		}
		b, err := dilution.Solve(context.Background(), q)
		if err != nil || fmt.Sprint(b.Request) != fmt.Sprint(a.Request) {
			t.Error("asked twice, answered otherwise")
		}
	}
	if designed < 200 {
		t.Errorf("only %d of 400 questions have a ladder", designed)
	}
}

// The last tube of a chain by draws: every source drawn once, whichever stage it is in
// (JCGM 101). The pipette and the flask are used three times each.
func TestChainAgainstDraws(t *testing.T) {
	q := ask(dilution.Chain)
	q.Glass, q.Factors, q.Volume = glass([]float64{10}, []float64{100}), []string{"10", "10", "10"}, 0
	q.Stock = stock(0.1, 0.0002)
	a, err := dilution.Solve(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	first := a.Ladder.Tubes[2].Concentration.Scale(1e-3) // from mmol/L
	inputs := []uncertain.Number{q.Stock.Concentration}
	for i, s := range a.Request.Rungs {
		flask := s.Flask.AtReference()
		for k := range flask.Contributions {
			if flask.Contributions[k].Label == "filling to the mark" {
				flask.Contributions[k].ID += fmt.Sprint(" ", i)
			}
		}
		inputs = append(inputs, s.With.Delivered(fmt.Sprint(i)), flask)
	}
	drawn := uncertain.Simulate(inputs, func(x []float64) float64 {
		return x[0] * x[1] / x[2] * x[3] / x[4] * x[5] / x[6]
	}, 100_000, 4)
	temperature := 0.0 // of stock against solvent: not drawn here
	for _, share := range first.Budget() {
		if share.Label == "temperature" {
			temperature = share.U
		}
	}
	want := math.Sqrt(first.U()*first.U() - temperature*temperature)
	if math.Abs(drawn.U/want-1) > 0.01 || math.Abs(drawn.Mean/first.Value-1) > 1e-4 {
		t.Errorf("drawn %g, u %g; first order %g, u %g", drawn.Mean, drawn.U, first.Value, want)
	}
}

// Whatever is asked, there is an answer that can be written down, or a sentence without
// an infinity in it: no panic, and no number that is none.
func TestAnyQuestionIsAnswered(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 14))
	extreme := func() float64 {
		few := []float64{0, -1, 1e-300, 1e-12, 1e-3, 0.1, 1, 5, 25, 50, 100, 1000, 1e9, 1e300, -1e300}
		return few[rng.IntN(len(few))]
	}
	several := func() []float64 {
		list := make([]float64, rng.IntN(14))
		for i := range list {
			list[i] = extreme()
		}
		return list
	}
	usual := func(value float64) float64 { // so that what is odd is alone, mostly
		if rng.IntN(8) == 0 {
			return extreme()
		}
		return value
	}
	noNumber := regexp.MustCompile(`Inf|NaN`)
	answered := 0
	for range 1000 {
		q := ask([]dilution.Mode{dilution.OneTarget, dilution.Series, dilution.Chain}[rng.IntN(3)])
		q.Stock = dilution.Stock{
			Name:          "the stock",
			Unit:          "mol/L",
			Concentration: uncertain.Exact(usual(0.1)),
			Expanded:      usual(0.001),
			Density:       usual(1.05),
			DensityLimits: usual(0.001),
		}
		q.Weighed, q.Balance = rng.IntN(4) == 0, &fern
		q.Volume, q.Keep, q.Rinse, q.WaterTemperature = usual(50), usual(10), usual(2), usual(20)
		q.MaxSteps, q.MaxStock, q.MaxLiquid, q.Route = rng.IntN(7)-1, usual(0), usual(0), rng.IntN(4)-1
		q.InFlasks = rng.IntN(2) == 0
		switch {
		case q.Mode == dilution.Chain:
			q.Factors = []string{"10", "1e9", "1/3", "", "1.0000001", "1 + 0"}[rng.IntN(2):][:1+rng.IntN(4)]
		case q.Mode == dilution.OneTarget && rng.IntN(2) == 0:
			q.Factor = "1 in 20"
		case q.Mode == dilution.OneTarget:
			q.Target = usual(0.002)
		case rng.IntN(3) == 0:
			q.Spread = &dilution.Spread{From: usual(0.01), To: usual(0.05), Count: rng.IntN(14) - 1, Logarithmic: rng.IntN(2) == 0}
		case rng.IntN(2) == 0:
			q.Volumes = several()
		default:
			q.Targets = []float64{usual(0.05), usual(0.02)}
		}
		a, err := dilution.Solve(context.Background(), q)
		if err != nil {
			if noNumber.MatchString(err.Error()) {
				t.Errorf("%+v: %v", q, err)
			}
			continue
		}
		answered++
		if _, err := json.Marshal(a); err != nil {
			t.Errorf("%+v: %v", q, err)
		}
	}
	if answered < 100 {
		t.Errorf("only %d questions of 1000 have an answer", answered)
	}
}
