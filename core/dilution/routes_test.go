package dilution_test

import (
	"context"
	"fmt"
	"math"
	"testing"

	"vialbench/core/dilution"
	"vialbench/core/glassware"
	"vialbench/core/uncertain"
)

func items(kind glassware.Kind, volumes ...float64) []glassware.Item {
	var list []glassware.Item
	for _, v := range volumes {
		list = append(list, glassware.Item{Kind: kind, Volume: v, Class: glassware.ClassA, Count: 1})
	}
	return list
}

func glass(pipettes, flasks []float64) []glassware.Item {
	return append(items(glassware.OneMarkPipette, pipettes...), items(glassware.VolumetricFlask, flasks...)...)
}

func routesOf(s dilution.Search) []dilution.Route {
	routes, _ := dilution.Routes(context.Background(), s)
	return routes
}

func ExampleRoutes() {
	routes, _ := dilution.Routes(
		context.Background(),
		dilution.Search{
			Factor:    100,
			Glass:     glass([]float64{1, 10, 25}, []float64{50, 100, 250}),
			Class:     "A",
			MaxSteps:  2,
			Objective: dilution.LeastUncertainty,
		},
	)
	for _, s := range routes[0].Stages {
		fmt.Printf("%s to %s\n", s.With.Name(), s.Flask)
	}
	// Output:
	// 25 mL one-mark pipette to 250 mL, class A
	// 25 mL one-mark pipette to 250 mL, class A
}

// number is the factor of a route as an uncertain number, with everything that is
// shared between its steps shared.
func number(stages []dilution.Stage) uncertain.Number {
	f := uncertain.Exact(1)
	for i, s := range stages {
		taken := uncertain.Number{}
		for n := range s.Times {
			if s.With.Kind == glassware.OneMarkPipette {
				taken = taken.Plus(s.With.Delivered(fmt.Sprint(i, ".", n)))
			} else {
				taken = s.With.Dispensed(s.Taken, fmt.Sprint(i))
			}
		}
		flask := s.Flask.AtReference()
		for k := range flask.Contributions { // filled again every time
			if flask.Contributions[k].Label == "filling to the mark" {
				flask.Contributions[k].ID += fmt.Sprint(" ", i)
			}
		}
		f = f.Times(flask).Over(taken)
	}
	return f
}

// The search against brute force over all ordered sequences of up to three steps,
// and its variance against first-order propagation with shared sources.
func TestRoutesAgainstBruteForce(t *testing.T) {
	pipettes, flasks := []float64{1, 2, 5, 10}, []float64{25, 50, 100}
	for _, factor := range []float64{5, 10, 20, 25, 50, 100, 250, 500, 1000, 12.5, 2500} {
		for _, need := range []float64{0, 60} {
			best, liquid := math.Inf(1), math.Inf(1)
			var try func(stages []dilution.Stage, product float64)
			try = func(stages []dilution.Stage, product float64) {
				if n := len(stages); n > 0 && math.Abs(product/factor-1) < 1e-9 && stages[n-1].Flask.Volume >= need {
					best = math.Min(best, 2*number(stages).Relative())
					sum := 0.0
					for _, s := range stages {
						sum += s.Flask.Volume
					}
					liquid = math.Min(liquid, sum)
				}
				if len(stages) == 3 || product > factor*1.001 {
					return
				}
				for _, p := range pipettes {
					for _, f := range flasks {
						if p >= f || len(stages) > 0 && p > stages[len(stages)-1].Flask.Volume {
							continue
						}
						next := dilution.Stage{With: items(glassware.OneMarkPipette, p)[0], Times: 1, Taken: p, Flask: glassware.Flask{Volume: f, Class: "A"}}
						try(append(append([]dilution.Stage{}, stages...), next), product*f/p)
						if len(stages) == 0 && 2*p < f && factor == f/(2*p) { // filled twice, by itself
							next.Times, next.Taken = 2, 2*p
							try([]dilution.Stage{next}, f/(2*p))
						}
					}
				}
			}
			try(nil, 1)
			for objective, want := range map[dilution.Objective]float64{dilution.LeastUncertainty: best, dilution.LeastLiquid: liquid} {
				search := dilution.Search{Factor: factor, Glass: glass(pipettes, flasks), Class: "A", Need: need, MaxSteps: 3, Objective: objective}
				routes, _ := dilution.Routes(context.Background(), search)
				if len(routes) == 0 || routes[0].Off != 0 {
					if !math.IsInf(want, 1) {
						t.Errorf("factor %g, need %g mL: no exact route, brute force has %g", factor, need, want)
					}
					continue
				}
				got := routes[0]
				value := map[dilution.Objective]float64{dilution.LeastUncertainty: got.Relative, dilution.LeastLiquid: got.Liquid}[objective]
				if value > want*(1+1e-6) { // two fillings in one of two steps may be better still
					t.Errorf("factor %g, need %g mL, %s: %g, brute force %g (%+v)", factor, need, objective, value, want, got.Stages)
				}
				if u := 2 * number(got.Stages).Relative(); math.Abs(u/got.Relative-1) > 1e-6 {
					t.Errorf("factor %g: relative %g, propagated %g", factor, got.Relative, u)
				}
			}
		}
	}
}

// The same pipette used twice is the same error twice: more than for two of them.
func TestReusedPipetteAgainstMonteCarlo(t *testing.T) {
	ten := dilution.Stage{With: items(glassware.OneMarkPipette, 10)[0], Times: 1, Taken: 10, Flask: glassware.Flask{Volume: 100, Class: "A"}}
	f := number([]dilution.Stage{ten, ten})
	inputs := []uncertain.Number{ten.With.Delivered("0.0"), ten.With.Delivered("1.0"), ten.Flask.AtReference()}
	s := uncertain.Simulate(inputs, func(x []float64) float64 { return x[2] * x[2] / (x[0] * x[1]) }, 200_000, 1)
	// number() fills the flask again each time, the draws do not: allow for that part
	fill := ten.Flask.Filling() / 100 * 100
	want := math.Sqrt(s.U*s.U - 4*fill*fill + 2*fill*fill)
	if math.Abs(f.U()/want-1) > 0.01 {
		t.Errorf("first order u = %.5f, Monte Carlo %.5f", f.U(), want)
	}
}

func TestNearestAndLimits(t *testing.T) {
	owned := glass([]float64{1, 2, 5, 10}, []float64{25, 50, 100})
	owned = append(owned, items(glassware.GraduatedPipette, 10)...) // 0.1 mL divisions: at least 2 mL
	owned = append(owned, items(glassware.Burette, 25)...)
	search := dilution.Search{Factor: 7, Glass: owned, Class: "A", MaxSteps: 2, Objective: dilution.LeastUncertainty}
	routes, _ := dilution.Routes(context.Background(), search)
	if len(routes) == 0 || routes[0].Off != 0 || routes[0].Stages[0].With.Kind == glassware.OneMarkPipette {
		t.Fatalf("1 in 7 takes a scale: %+v", routes)
	}
	search.Factor, search.MaxSteps = 2100, 1
	for _, r := range routesOf(search) {
		if math.Abs(r.Off) > 0.05 {
			t.Errorf("%+v is too far off", r)
		}
	}
	search.Factor, search.MaxSteps, search.MaxStock = 100, 3, 1
	for _, r := range routesOf(search) {
		if r.Stock > 1 {
			t.Errorf("%g mL of stock, at most 1 is there", r.Stock)
		}
	}
	search.MaxStock, search.MaxLiquid = 0, 130
	for _, r := range routesOf(search) {
		if r.Liquid > 130 {
			t.Errorf("%g mL in all, at most 130", r.Liquid)
		}
	}
	for _, factor := range []float64{1, 0, -5, math.NaN()} {
		search.Factor = factor
		if r, _ := dilution.Routes(context.Background(), search); len(r) != 0 {
			t.Errorf("factor %g: %+v", factor, r)
		}
	}
}

func BenchmarkRoutesOfFourSteps(b *testing.B) {
	owned := glass([]float64{0.5, 1, 2, 5, 10, 20, 25, 50, 100}, []float64{10, 25, 50, 100, 200, 250, 500, 1000})
	owned = append(owned, items(glassware.GraduatedPipette, 5, 10)...)
	owned = append(owned, items(glassware.Burette, 50)...)
	search := dilution.Search{Factor: 10000, Glass: owned, Class: "A", MaxSteps: 4, Objective: dilution.LeastUncertainty}
	for b.Loop() {
		if len(routesOf(search)) == 0 {
			b.Fatal("no route")
		}
	}
}

// sizes are so many volumes, each a little larger than the one before.
func sizes(n int, from, by float64) (list []float64) {
	for i := range n {
		list = append(list, math.Round(1000*from*math.Pow(by, float64(i)))/1000)
	}
	return list
}

// A search that is too large gives what it found, and says so; one whose asker has gone ends.
func TestSearchesThatAreCut(t *testing.T) {
	search := dilution.Search{
		Factor:    12345.678,
		Glass:     glass(sizes(20, 1, 1.2), sizes(20, 5, 1.3)),
		Class:     "A",
		MaxSteps:  4,
		Objective: dilution.LeastUncertainty,
	}
	routes, cut := dilution.Routes(context.Background(), search)
	if !cut || len(routes) == 0 || math.Abs(routes[0].Off) > 0.05 {
		t.Errorf("%d routes, cut %t", len(routes), cut)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, cut := dilution.Routes(ctx, search); !cut {
		t.Error("nobody waits, and the search goes on")
	}
	if _, cut := dilution.Routes(
		context.Background(),
		dilution.Search{Factor: 100, Glass: glass([]float64{1, 10}, []float64{100}), Class: "A", MaxSteps: 2},
	); cut {
		t.Error("a small search is cut")
	}
	q := dilution.Question{
		Stock:            dilution.Stock{Name: "NaCl", Concentration: uncertain.Exact(1), Unit: "mol/L"},
		Mode:             dilution.OneTarget,
		Factor:           "12345.678",
		Glass:            search.Glass,
		Class:            "A",
		MaxSteps:         4,
		WaterTemperature: 20,
	}
	a, err := dilution.Solve(context.Background(), q)
	if err != nil || !a.Cut || a.Ladder.Verdicts[1].Rule != "D-12" {
		t.Errorf("%v: cut %t, %+v", err, a.Cut, a.Ladder.Verdicts)
	}
}

// The largest searches that a question may ask for.
func BenchmarkLargestSearches(b *testing.B) {
	for name, s := range map[string]dilution.Search{
		"uneven":   {Factor: 12345.678, Glass: glass(sizes(20, 1, 1.2), sizes(20, 5, 1.3))},
		"even":     {Factor: 10000, Glass: glass(sizes(20, 1, 2), sizes(20, 5, 2))},
		"120kinds": {Factor: 12345.678, Glass: glass(sizes(60, 0.1, 1.1), sizes(60, 5, 1.1))},
		"scales":   {Factor: 777.7, Glass: append(glass(sizes(30, 1, 1.1), sizes(40, 5, 1.1)), items(glassware.Burette, sizes(50, 5, 1.05)...)...)},
	} {
		s.Class, s.MaxSteps, s.Objective = "A", 4, dilution.LeastUncertainty
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				dilution.Routes(context.Background(), s)
			}
		})
	}
}
