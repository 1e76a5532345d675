package solution_test

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"regexp"
	"slices"
	"testing"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/solution"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
)

// someRequests draws requests over the library, the bases and the ways of making up,
// reproducibly.
func someRequests(t *testing.T, n int) []solution.Request {
	t.Helper()
	rng := rand.New(rand.NewPCG(11, 3))
	library := slices.DeleteFunc(substance.Library(), func(s substance.Substance) bool { return s.Mixture != "" })
	units := []string{"mol/L", "mmol/L", "g/L", "mg/L", "% w/v", "% w/w", "mol/kg", "eq/L"}
	volumes := []float64{100, 250, 500, 1000}
	var list []solution.Request
	for len(list) < n {
		s := library[rng.IntN(len(library))]
		r := request("sodium-chloride", "0.1 mol/L", fmt.Sprintf("%g mL", volumes[rng.IntN(len(volumes))]))
		r.Substance, r.Assay, r.AssayLimits, r.Buoyancy = s, 0.9+0.1*rng.Float64(), 0.002, rng.IntN(2) == 0
		if s.Liquid {
			r.Assay = s.MassFraction
		} else if rng.IntN(3) == 0 {
			r.DryingLoss = 0.01
		}
		r.Concentration = quantity.Of(0.05*(1+rng.Float64()), units[rng.IntN(len(units))])
		r.SolutionDensity, r.SolutionDensityLimits = 1.01, 0.001
		r.EquivalentCount, r.Reaction = 2, "acid–base"
		r.MakeUp = []solution.MakeUp{solution.ToTheMark, solution.ByMass, solution.ByAdding}[rng.IntN(3)]
		if _, err := r.Recipe(); err == nil {
			list = append(list, r)
		}
	}
	return list
}

// Made exactly by its recipe, a solution is what was asked for, on every basis; its
// budget adds up to its uncertainty; and twice the volume takes twice the mass.
func TestRecipesGiveWhatWasAsked(t *testing.T) {
	for _, r := range someRequests(t, 300) {
		what := fmt.Sprintf("%s of %s, made up %q", r.Concentration, r.Substance.Name, r.MakeUp)
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatal(err)
		}
		c := recipe.Figures[0]
		if math.Abs(c.Value/r.Concentration.Value-1) > 1e-9 {
			t.Errorf("%s gives %g", what, c.Value)
		}
		for _, f := range recipe.Figures {
			sum, fraction := 0.0, 0.0
			for _, share := range f.Budget {
				sum += share.U * share.U
				fraction += share.Fraction
			}
			if u := f.U(); math.Abs(math.Sqrt(sum)-u) > 1e-9*u || u > 0 && math.Abs(fraction-1) > 1e-9 {
				t.Errorf("%s, %s: budget %g, u %g", what, f.Label, math.Sqrt(sum), u)
			}
			if slices.ContainsFunc(f.Budget, func(s uncertain.Share) bool { return s.Basis == "" && s.Label != "weighing" }) {
				t.Errorf("%s, %s: a share without its basis", what, f.Label)
			}
		}
		double := r
		double.MakeUp, double.Volume = solution.ToTheMark, quantity.Of(1000, "mL")
		half := double
		half.Volume = quantity.Of(500, "mL")
		a, errA := double.Recipe()
		b, errB := half.Recipe()
		if errA == nil && errB == nil && math.Abs(a.Take/b.Take-2) > 1e-9 {
			t.Errorf("%s: %g g for 1000 mL, %g g for 500 mL", what, a.Take, b.Take)
		}
	}
}

// Draws and first order agree on the solutions that are made by mass, with a damp
// solid or in a certified flask too: within a twentieth of U once the temperature has
// been read. (While it is only assumed its rectangle of some kelvin rules the budget,
// and a hundred thousand draws give a narrower interval, as they should.)
func TestDrawsAgreeOnEveryWayOfMaking(t *testing.T) {
	for _, change := range []func(*solution.Request){
		func(r *solution.Request) {
			r.MakeUp, r.SolutionDensity, r.SolutionDensityLimits = solution.ByMass, 1.003, 0.0002
		},
		func(r *solution.Request) { r.DryingLoss = 0.001 },
		func(r *solution.Request) {
			r.Glass = []glassware.Item{{Kind: glassware.VolumetricFlask, Volume: 250, Class: "A", Count: 1, Certificate: glassware.Certificate{Mark: "F", Certified: 250.04, CertifiedLimits: 0.1}}}
		},
	} {
		r := request("sodium-chloride", "0.1000 mol/L", "250 mL")
		r.Buoyancy, r.AssayLimits, r.Assay = true, 0.0003, 0.9995
		change(&r)
		run := begun("1.4612 g")
		if r.MakeUp == solution.ToTheMark {
			run = run.finish()
		}
		s, _, ok, err := solution.Confirm(r, run.facts)
		if err != nil || !ok {
			t.Fatal(err)
		}
		first := mustMake(t, r, run).Figures[0]
		half := (s.High - s.Low) / 2
		if math.Abs(s.Mean-first.Value) > first.U()/20 || math.Abs(half/first.Expanded-1) > 0.05 {
			t.Errorf("made up %q: drawn %g ± %g, first order %g ± %g", r.MakeUp, s.Mean, half, first.Value, first.Expanded)
		}
	}
}

// Whatever is asked, there is a recipe that can be written down, or a sentence without
// an infinity in it: no panic, and no number that is none.
func TestAnyRequestIsAnswered(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 71))
	usual := func(value float64) float64 { // so that what is odd is alone, mostly
		if rng.IntN(10) > 0 {
			return value
		}
		few := []float64{0, -1, 1e-300, 1e-12, 1e-3, 0.1, 1, 5, 100, 1000, 1e9, 1e300, -1e300}
		return few[rng.IntN(len(few))]
	}
	noNumber := regexp.MustCompile(`Inf|NaN`)
	answered := 0
	for _, r := range someRequests(t, 3000) {
		r.Assay, r.AssayLimits, r.DryingLoss = usual(r.Assay), usual(r.AssayLimits), usual(r.DryingLoss)
		r.Concentration.Value, r.Volume.Value = usual(r.Concentration.Value), usual(r.Volume.Value)
		r.SolutionDensity, r.SolutionDensityLimits, r.EquivalentCount = usual(r.SolutionDensity), usual(
			r.SolutionDensityLimits,
		), usual(r.EquivalentCount)
		r.LiquidDensity, r.Band, r.Wanted, r.WaterTemperature = usual(r.LiquidDensity), usual(r.Band), usual(r.Wanted), usual(r.WaterTemperature)
		if r.Substance.Liquid && rng.IntN(2) == 0 {
			r.Dispense, r.StatedMolarity, r.StatedMolarityLimits = glassware.GraduatedPipette, usual(0), usual(0)
		}
		if !r.Substance.Liquid && rng.IntN(4) == 0 {
			waters := usual(1)
			r.Waters = &waters
		}
		recipe, err := r.Recipe()
		if err != nil {
			if noNumber.MatchString(err.Error()) {
				t.Errorf("%s of %s: %v", r.Concentration, r.Substance.Name, err)
			}
			continue
		}
		answered++
		out, err := r.Make(begun(fmt.Sprintf("%.4f g", math.Min(recipe.Take, 200))).facts, today)
		if err != nil {
			t.Errorf("planned, and not made: %v", err)
		}
		for _, written := range []any{recipe, out} {
			if _, err := json.Marshal(written); err != nil {
				t.Errorf("%s of %s, %s: %v", r.Concentration, r.Substance.Name, r.Volume, err)
			}
		}
	}
	if answered < 500 {
		t.Errorf("only %d of 3000 have a recipe", answered)
	}
}
