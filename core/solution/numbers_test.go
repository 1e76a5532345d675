package solution_test

import (
	"math"
	"strconv"
	"strings"
	"testing"

	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/solution"
	"vialbench/core/substance"
)

// densities of solutions in g/mL at 20 °C by mass fraction: CRC Handbook, "Concentrative
// properties of aqueous solutions" (from memory).
var densities = map[string][][2]float64{
	"hydrochloric-acid": {
		{0.02, 1.0081},
		{0.04, 1.0179},
		{0.06, 1.0278},
		{0.10, 1.0476},
		{0.14, 1.0675},
		{0.18, 1.0878},
		{0.20, 1.0980},
		{0.22, 1.1083},
		{0.24, 1.1185},
	},
	"sucrose":          {{0.20, 1.0810}, {0.26, 1.1082}, {0.30, 1.1270}, {0.32, 1.1366}, {0.36, 1.1562}},
	"sodium-chloride":  {{0.04, 1.0268}, {0.05, 1.0340}, {0.06, 1.0413}, {0.07, 1.0486}, {0.10, 1.0707}, {0.20, 1.1478}},
	"sodium-hydroxide": {{0.04, 1.0428}, {0.05, 1.0538}, {0.10, 1.1089}, {0.16, 1.1751}, {0.20, 1.2192}},
}

// Volumes are not additive: what is added by the recipe gives what the label says, by
// handbook densities, within the uncertainty on it; and that is not wider than it must be.
func TestAddingMeansTheFinalVolume(t *testing.T) {
	for _, c := range []struct {
		key, strength string
		most          float64 // relative U that is still of use
	}{{"hydrochloric-acid", "6 mol/L", 0.12}, {"hydrochloric-acid", "1 mol/L", 0.12}, {"sucrose", "1 mol/L", 0.08}, {"sodium-chloride", "1 mol/L", 0.08}, {"sodium-hydroxide", "2 mol/L", 0.10}} {
		r := request(c.key, c.strength, "500 mL")
		r.MakeUp, r.Assay, r.AssayLimits = solution.ByAdding, 1, 0
		r.Balance.Capacity = 1000
		if r.Substance.Liquid {
			r.Assay, r.Dispense = 0.37, glassware.Cylinder
		}
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatal(err)
		}
		water, err := strconv.ParseFloat(strings.TrimSuffix(recipe.Water, " mL"), 64)
		if err != nil {
			t.Fatal(err)
		}
		pure := recipe.Take
		total := water*0.99821 + recipe.Take
		if r.Substance.Liquid {
			pure = recipe.Take * 1.184 * 0.37
			total = water*0.99821 + recipe.Take*1.184
		}
		w, density := pure/total, 0.0
		table := densities[c.key]
		for i := 1; i < len(table); i++ {
			if a, b := table[i-1], table[i]; w >= a[0] && w <= b[0] {
				density = a[1] + (b[1]-a[1])*(w-a[0])/(b[0]-a[0])
			}
		}
		got := recipe.Figures[0]
		want := 1000 * density * w / recipe.MolarMass.Value
		if off := math.Abs(got.Value - want); !(off <= got.Expanded) || got.Expanded > c.most*got.Value {
			t.Errorf(
				"%s of %s: %.4f ± %.4f mol/L on the label, %.4f by density %.4f of %.3f; %s of water",
				c.strength,
				c.key,
				got.Value,
				got.Expanded,
				want,
				density,
				w,
				recipe.Water,
			)
		}
		r.SolutionDensity, r.SolutionDensityLimits = density, 0.001
		known, err := r.Recipe()
		if err != nil || known.Figures[0].Expanded > 0.03*known.Figures[0].Value {
			t.Errorf("%s with its density: ± %g, %v", c.key, known.Figures[0].Expanded, err)
		}
	}
	big := request("sodium-chloride", "0.1 mol/L", "10 L")
	big.MakeUp = solution.ByAdding
	if _, err := big.Recipe(); err != nil {
		t.Errorf("10 L by adding: %v", err)
	}
}

// 1 mol of MgSO₄ in 1 kg of water: 1120.37 g of solution hold it, and of the heptahydrate
// 246.47 g; so 1 L of 1.11 g/mL takes 1110/1120.37 × 246.47 = 244.19 g.
func TestMolalityCountsTheWaterOfAHydrate(t *testing.T) {
	r := request("magnesium-sulfate-heptahydrate", "0.1 mol/L", "1 L")
	r.Concentration, r.SolutionDensity, r.Balance.Capacity = quantity.Of(1, "mol/kg"), 1.11, 1000
	recipe, err := r.Recipe()
	if err != nil || math.Abs(recipe.Take-244.19) > 0.02 || math.Abs(recipe.Figures[0].Value-1) > 1e-9 {
		t.Errorf("%.3f g for %g mol/kg, %v", recipe.Take, recipe.Figures[0].Value, err)
	}
}

func TestNothingIsStrongerThanItsBottle(t *testing.T) {
	r := request("hydrochloric-acid", "12 mol/L", "250 mL")
	r.Assay = 0.37
	if _, err := r.Recipe(); err != nil {
		t.Errorf("12 mol/L of 12.02: %v", err)
	}
	r.Concentration = quantity.Of(13, "mol/L")
	if _, err := r.Recipe(); fields(err) != "/concentration" || !strings.Contains(err.Error(), "12.02 mol/L") {
		t.Errorf("13 mol/L: %v", err)
	}
}

// Sodium counts from both salts: 100 mg/L from NaCl, and 0.01 mol/L × 22.990 g/mol from
// NaNO₃ (JCGM 100 5.2: what they share stays shared).
func TestIonsInCommonAreSummed(t *testing.T) {
	r := request("sodium-chloride", "0.1 mol/L", "1 L")
	r.Concentration, r.Of = quantity.Of(100, "mg/L"), "Na"
	r.Also = []solution.Solute{request("sodium-nitrate", "0.01 mol/L", "1 L").Solute}
	recipe, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	var all figure.Figure
	for _, f := range recipe.Figures {
		if f.ID == "all Na" {
			all = f
		}
	}
	if want := 100 + 1000*0.01*22.98977; math.Abs(all.Value-want) > 0.01 || all.Role != figure.Concentration || all.Unit != "mg/L Na" {
		t.Errorf("%+v, want %.2f mg/L Na", all, want)
	}
	if ofRule(recipe.Verdicts, "M-12") == "" {
		t.Error("nothing is said of sodium from both")
	}
	r.Also[0] = request("potassium-nitrate", "0.01 mol/L", "1 L").Solute
	if recipe, err = r.Recipe(); err != nil || ofRule(recipe.Verdicts, "M-12") != "" {
		t.Errorf("no ion in common: %v %v", ofRule(recipe.Verdicts, "M-12"), err)
	}
}

// The usual solubility rules (common practice).
func TestWhatFallsOut(t *testing.T) {
	for pair, falls := range map[[2]string]bool{
		{"silver-nitrate", "sodium-chloride"}: true, {"calcium-chloride-dihydrate", "sodium-carbonate"}: true, {"barium-chloride-dihydrate", "sodium-sulfate"}: true,
		{"lead-nitrate", "potassium-iodide"}: true, {"copper-sulfate-pentahydrate", "sodium-hydroxide"}: true, {"potassium-chloride", "sodium-nitrate"}: false,
		{"calcium-chloride-dihydrate", "sodium-hydrogencarbonate"}: true, {"ammonium-chloride", "sodium-carbonate"}: false, {"silver-nitrate", "potassium-nitrate"}: false,
		{"potassium-chromate", "silver-nitrate"}: true, {"glucose", "silver-nitrate"}: false, {"magnesium-sulfate-heptahydrate", "barium-nitrate"}: true,
	} {
		r := request(pair[0], "0.01 mol/L", "500 mL")
		r.Also = []solution.Solute{request(pair[1], "0.01 mol/L", "500 mL").Solute}
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatal(err)
		}
		if got := ofRule(recipe.Verdicts, "M-13") != ""; got != falls {
			t.Errorf("%v: falls out %v", pair, got)
		}
	}
}

// Saturated sodium chloride holds 26.4 % w/w and weighs 1.197 g/mL at 20 °C: 5.41 mol/L
// (CRC Handbook, from memory). What needs acid or iodide says so.
func TestWhatDissolves(t *testing.T) {
	for strength, stops := range map[string]bool{"5.3 mol/L": false, "5.6 mol/L": true} {
		r := request("sodium-chloride", strength, "250 mL")
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatal(err)
		}
		if got := strings.Contains(ofRule(recipe.Verdicts, "M-2"), "does not dissolve"); got != stops {
			t.Errorf("%s: %s", strength, ofRule(recipe.Verdicts, "M-2"))
		}
	}
	for key, in := range map[string]string{"calcium-carbonate": "hydrochloric acid", "iodine": "potassium iodide"} {
		recipe, err := request(key, "0.05 mol/L", "250 mL").Recipe()
		if says := ofRule(recipe.Verdicts, "M-2"); err != nil || !strings.Contains(says, in) || strings.Contains(says, "does not dissolve:") {
			t.Errorf("%s: %s %v", key, says, err)
		}
	}
}

// Water analysis counts nitrate as nitrogen, phosphate as phosphorus, and hardness and
// alkalinity as calcium carbonate: 1 mmol/L of Ca is 100.09 mg/L, and 1 mmol/L of NaHCO₃
// half of it (standard methods, common practice).
func TestCountedAsWaterAnalysisDoes(t *testing.T) {
	for _, c := range []struct {
		key, typed string
		mmol       float64 // of the compound in a litre
	}{
		{"potassium-nitrate", "10 mg/L NO3-N", 10 / 14.007},
		{"potassium-dihydrogen-phosphate", "5 mg/L PO4-P", 5 / 30.973762},
		{"calcium-chloride-dihydrate", "100.0869 mg/L as CaCO3", 1},
		{"sodium-hydrogencarbonate", "50 mg/L as CaCO3", 2 * 50 / 100.0869},
		{"sodium-carbonate", "50 mg/L as CaCO3", 50 / 100.0869},
		{"ammonium-sulfate", "14.007 mg/L as N", 0.5},
	} {
		q := solution.Question{
			SoluteQuestion:   solution.SoluteQuestion{Substance: library(c.key), AssayPercent: 100, Concentration: quantity.Typed(c.typed)},
			Volume:           quantity.Typed("1 L"),
			FlaskClass:       "A",
			BandPercent:      1,
			Balance:          analytical,
			WaterTemperature: 20,
		}
		r, err := q.Request()
		if err != nil {
			t.Fatalf("%s: %v", c.typed, err)
		}
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatalf("%s of %s: %v", c.typed, c.key, err)
		}
		if got := recipe.Take / recipe.MolarMass.Value * 1000; math.Abs(got/c.mmol-1) > 1e-4 {
			t.Errorf("%s of %s: %.5f mmol, want %.5f", c.typed, c.key, got, c.mmol)
		}
	}
	if _, err := (solution.Question{
		SoluteQuestion: solution.SoluteQuestion{Substance: library("sodium-chloride"), AssayPercent: 100, Concentration: quantity.Typed("10 mg/L NO3-N")},
		Volume:         quantity.Typed("1 L"), FlaskClass: "A", BandPercent: 1, Balance: analytical, WaterTemperature: 20,
	}).Request(); err != nil {
		t.Errorf("read as it is typed: %v", err)
	}
}

// An assay of 100.5 % is a titration of something pure; a litre flask 10 L by adding is
// filled several times; a hundredth of a division is refused with the way round.
func TestWhatIsTooLittleToMeasure(t *testing.T) {
	r := request("hydrochloric-acid", "0.0001 mol/L", "100 mL")
	r.Assay, r.Dispense = 0.37, glassware.GraduatedPipette
	recipe, err := r.Recipe()
	if says := ofRule(recipe.Verdicts, "M-14"); err != nil || !strings.Contains(says, "Make it 1000 times as strong first") {
		t.Errorf("%s %v", says, err)
	}
	r.Concentration = quantity.Of(0.1, "mol/L")
	if recipe, err = r.Recipe(); err != nil || ofRule(recipe.Verdicts, "M-14") != "" {
		t.Errorf("0.83 mL: %s %v", ofRule(recipe.Verdicts, "M-14"), err)
	}
	pure := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	pure.Assay = 1.005
	if _, err := pure.Recipe(); err != nil {
		t.Errorf("assay 100.5 %%: %v", err)
	}
}

// What cannot be reached with an assumed temperature is reached with a measured one.
func TestReachWithTheTemperatureMeasured(t *testing.T) {
	r := request("sodium-chloride", "0.1 mol/L", "250 mL")
	r.Wanted, r.Buoyancy, r.Assay, r.AssayLimits = 0.001, true, 1, 0.0001
	recipe, err := r.Recipe()
	if says := ofRule(recipe.Verdicts, "M-11"); err != nil || !strings.Contains(says, "measured in the flask") {
		t.Errorf("%s %v", says, err)
	}
}

// 10 mol of NaOH in 250 mL of water: about 2.8 mol of water a mole, 27 kJ/mol or so
// (NBS Circular 500, from memory), and the solution of it holds 3.1 to 3.3 J/(g·K)
// (handbooks): more than 100 K if nothing is lost.
func TestMuchSodiumHydroxideGrowsHot(t *testing.T) {
	r := request("sodium-hydroxide", "10 mol/L", "500 mL")
	r.Balance.Capacity = 1000
	recipe, err := r.Recipe()
	says := ofRule(recipe.Verdicts, "M-8")
	rise := 0.0
	for _, word := range strings.Fields(says) {
		if x, err := strconv.ParseFloat(word, 64); err == nil && rise == 0 {
			rise = x
		}
	}
	if err != nil || rise < 70 || rise > 130 {
		t.Errorf("%s: %g K, %v", says, rise, err)
	}
}

func library(key string) substance.Substance { return request(key, "0.1 mol/L", "1 L").Substance }
