package solution_test

import (
	"testing"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/solution"
	"vialbench/core/working/workingtest"
)

// Every line of the working of every figure gives the result that it prints, on every
// basis, for every way of taking and of making up.
func TestEveryWorkingLineEvaluates(t *testing.T) {
	cases := map[string]solution.Request{}
	add := func(name, key, c, volume string, change func(*solution.Request)) {
		q, err := quantity.ParseAny(c, solution.Bases(), "")
		if err != nil {
			t.Fatal(err)
		}
		r := request(key, "0.1 mol/L", volume)
		r.Concentration = q
		r.Assay, r.AssayLimits = 0.995, 0.005
		if change != nil {
			change(&r)
		}
		cases[name] = r
	}
	dense := func(r *solution.Request) { r.SolutionDensity, r.SolutionDensityLimits = 1.07, 0.001 }
	add("mol/L", "potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL", nil)
	add("buoyancy", "potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL", func(r *solution.Request) { r.Buoyancy = true })
	add("mg/L of an ion", "copper-sulfate-pentahydrate", "100 mg/L", "500 mL", func(r *solution.Request) { r.Of = "Cu" })
	add("as an element of an ion", "potassium-nitrate", "10 mg/L", "1 L", func(r *solution.Request) { r.Of = "NO3-N" })
	add("as calcium carbonate", "calcium-chloride-dihydrate", "250 mg/L", "1 L", func(r *solution.Request) { r.Of = "CaCO3" })
	add("% w/w", "sodium-chloride", "10 % w/w", "250 mL", dense)
	add("molality of a hydrate", "magnesium-sulfate-heptahydrate", "1 mol/kg", "250 mL", dense)
	add("equivalents", "sodium-carbonate", "0.1 eq/L", "250 mL", func(r *solution.Request) { r.EquivalentCount, r.Reaction = 2, "acid–base" })
	add("% v/v", "ethanol", "40 % v/v", "100 mL", func(r *solution.Request) { r.Assay = 0.998; r.AssayLimits = 0.002 })
	add("another hydrate", "copper-sulfate-pentahydrate", "0.1 mol/L", "250 mL", func(r *solution.Request) { w := 0.0; r.Waters = &w })
	add("not dried", "sodium-chloride", "0.1 mol/L", "250 mL", func(r *solution.Request) { r.DryingLoss = 0.02 })
	acidic := func(dispense glassware.Kind, makeUp solution.MakeUp) func(*solution.Request) {
		return func(r *solution.Request) {
			r.Assay, r.AssayLimits, r.Dispense, r.MakeUp = 0.37, 0.005, dispense, makeUp
		}
	}
	add("acid by pipette", "hydrochloric-acid", "0.1 mol/L", "500 mL", acidic(glassware.GraduatedPipette, ""))
	add("acid by weighing", "hydrochloric-acid", "1 mol/L", "500 mL", acidic("", ""))
	add("acid, water added", "hydrochloric-acid", "6 mol/L", "500 mL", acidic(glassware.Cylinder, solution.ByAdding))
	add("stated molarity", "hydrochloric-acid", "0.1 mol/L", "500 mL", func(r *solution.Request) {
		r.Assay, r.AssayLimits, r.Dispense, r.StatedMolarity, r.StatedMolarityLimits = 0.37, 0, glassware.GraduatedPipette, 12, 0.1
	})
	add("by mass", "sodium-chloride", "0.1 mol/L", "100 mL", func(r *solution.Request) { dense(r); r.MakeUp = solution.ByMass })
	add("solid, water added", "sodium-chloride", "1 mol/L", "500 mL", func(r *solution.Request) { r.MakeUp = solution.ByAdding })
	add(
		"density known, water added",
		"sodium-chloride",
		"1 mol/L",
		"500 mL",
		func(r *solution.Request) { dense(r); r.MakeUp = solution.ByAdding },
	)
	add("mixed, one ion in common", "sodium-chloride", "100 mg/L", "500 mL", func(r *solution.Request) {
		r.Of = "Na"
		also := request("sodium-nitrate", "0.01 mol/L", "1 L").Solute
		r.Also = []solution.Solute{also}
	})
	for name, r := range cases {
		t.Run(name, func(t *testing.T) {
			plan, err := r.Explain(nil, "plan")
			if err != nil {
				t.Fatal(err)
			}
			workingtest.Check(t, plan)
			s := toTheLabel(t, r)
			out := mustMake(t, r, s)
			if len(out.Products) != 1 {
				t.Fatalf("%s: %s", out.Status, out.AtHand())
			}
			for _, f := range out.Figures {
				lines, err := r.Explain(s.facts, f.ID)
				if err != nil {
					t.Errorf("%s: %v", f.ID, err)
				}
				workingtest.Check(t, lines)
				if n := len(lines); n > 0 && f.ID != "concentration" && f.ID != "concentration 2" && lines[n-1].Result != f.String() {
					t.Errorf("the working of %s ends in %s, and the figure is %s", f.ID, lines[n-1].Result, f)
				}
			}
		})
	}
}
