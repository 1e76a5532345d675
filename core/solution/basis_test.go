package solution_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/solution"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// The bases against tables and recipes from outside. Aqueous solutions at 20 °C:
// CRC Handbook, "Concentrative properties of aqueous solutions" (from memory):
// sodium chloride 10 % w/w, 1.0707 g/mL: 1.832 mol/L, 1.901 mol/kg; sucrose 10 %
// w/w, 1.0381 g/mL: 0.303 mol/L, 0.325 mol/kg. Saline, permanganate, dichromate and
// thiosulfate recipes: common practice.
func TestBases(t *testing.T) {
	for _, c := range []struct {
		key     string
		ask     quantity.Quantity
		of      string
		density float64
		z       float64
		figure  string
		want    float64 // of the figure, within half of its last digit
		last    float64
	}{
		{"sodium-chloride", quantity.Of(10, "% w/w"), "", 1.0707, 0, "amountConcentration", 1.832, 0.001},
		{"sodium-chloride", quantity.Of(1.901, "mol/kg"), "", 1.0707, 0, "amountConcentration", 1.832, 0.001},
		{"sucrose", quantity.Of(10, "% w/w"), "", 1.0381, 0, "amountConcentration", 0.3033, 0.0001},
		{"sucrose", quantity.Of(0.3246, "mol/kg"), "", 1.0381, 0, "amountConcentration", 0.3033, 0.0001},
		{"sodium-chloride", quantity.Of(0.9, "% w/v"), "", 0, 0, "amountConcentration", 0.154, 0.001},
		{"potassium-permanganate", quantity.Of(0.1, "eq/L"), "", 0, 5, "massConcentration", 3.161, 0.001},
		{"potassium-dichromate", quantity.Of(0.1, "eq/L"), "", 0, 6, "massConcentration", 4.903, 0.001},
		{"sodium-thiosulfate-pentahydrate", quantity.Of(0.1, "eq/L"), "", 0, 1, "massConcentration", 24.82, 0.01},
		{"ammonium-iron-sulfate-hexahydrate", quantity.Of(100, "ppm w/v"), "SO4 2-", 0, 0, "amountConcentration", 0.0005205, 0.0000001},
		{"sodium-carbonate", quantity.Of(0.1, "mol/L"), "CO3 2-", 0, 0, "massConcentration", 10.60, 0.01},
	} {
		r := request(c.key, "1 mol/L", "1 L")
		r.Concentration, r.Of, r.SolutionDensity, r.EquivalentCount, r.Reaction = c.ask, c.of, c.density, c.z, "the reaction"
		r.Substance.Solubility = 0
		recipe, err := r.Recipe()
		if err != nil {
			t.Errorf("%s %s: %v", c.key, c.ask, err)
			continue
		}
		if got := recipe.Figures[0].Value; math.Abs(got/c.ask.Value-1) > 1e-9 {
			t.Errorf("%s: the recipe gives %g %s, wanted %s", c.key, got, recipe.Figures[0].Unit, c.ask)
		}
		i := slices.IndexFunc(recipe.Figures, func(f figure.Figure) bool { return f.ID == c.figure })
		if i < 0 || math.Abs(recipe.Figures[i].Value-c.want) > 0.5*c.last {
			t.Errorf("%s %s: %s %g, want %g", c.key, c.ask, c.figure, recipe.Figures[max(i, 0)].Value, c.want)
		}
		if lines, err := r.Explain(nil, "plan"); err != nil || len(lines) < 3 {
			t.Errorf("%s: %d lines of working, %v", c.key, len(lines), err)
		}
	}
}

// What a basis lacks is asked for, in the field where it belongs.
func TestBasesSayWhatIsMissing(t *testing.T) {
	for _, c := range []struct {
		change func(*solution.Request)
		field  string
		says   string
	}{
		{func(r *solution.Request) { r.Concentration = quantity.Of(0.5, "mol/kg") }, "/solutionDensity", "needs the density"},
		{func(r *solution.Request) { r.Concentration = quantity.Of(5, "% w/w") }, "/solutionDensity", "needs the density"},
		{func(r *solution.Request) { r.Concentration, r.SolutionDensity = quantity.Of(5, "% w/w"), 10 }, "/solutionDensity", "between 0.5 and 3"},
		{func(r *solution.Request) { r.Concentration, r.SolutionDensity = quantity.Of(100, "% w/w"), 1 }, "/concentration", "less than 100 %"},
		{func(r *solution.Request) { r.Concentration = quantity.Of(0.1, "eq/L") }, "/equivalentCount", "how many equivalents"},
		{func(r *solution.Request) { r.Concentration, r.EquivalentCount = quantity.Of(0.1, "eq/L"), 1 }, "/reaction", "name it"},
		{func(r *solution.Request) { r.Of = "SO4 2-" }, "/of", "no SO4 2- in KHC8H4O4"},
		{func(r *solution.Request) { r.Of = "Xy" }, "/of", "no element Xy"},
		{func(r *solution.Request) { n := -1.0; r.Waters = &n }, "/waters", "0 to 24 waters"},
	} {
		r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
		c.change(&r)
		if _, err := r.Recipe(); fields(err) != c.field || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%v at %s; want “%s” at %s", err, fields(err), c.says, c.field)
		}
	}
}

// Planned for the anhydrous salt, the bottle holds the pentahydrate: 249.68/159.60
// = 1.564 times the mass (common practice: 25 g of blue vitriol for 16 g of CuSO4),
// and the concentration stays what was asked for.
func TestHydrateAtHand(t *testing.T) {
	r := request("copper-sulfate-pentahydrate", "0.1 mol/L", "1 L")
	r.Substance.Formula = "CuSO4"
	anhydrous, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	waters := 5.0
	r.Waters = &waters
	hydrate, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	if ratio := hydrate.Take / anhydrous.Take; math.Abs(ratio-1.5644) > 0.0001 || math.Abs(hydrate.Take-24.97) > 0.005 {
		t.Errorf("%.4f g and %.4f g, ratio %.4f", anhydrous.Take, hydrate.Take, ratio)
	}
	if math.Abs(hydrate.Figures[0].Value-0.1) > 1e-12 {
		t.Errorf("%g mol/L", hydrate.Figures[0].Value)
	}
	if !slices.ContainsFunc(hydrate.Verdicts, func(v verdict.Verdict) bool {
		return v.Rule == "W-8" && strings.Contains(v.Sentence, "CuSO4·5H2O, not CuSO4: the same amount takes 1.564 times")
	}) {
		t.Errorf("%+v", hydrate.Verdicts)
	}
	out := mustMake(t, r, (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed("24.9677 g")))
	if got := out.Figures[0].Value; math.Abs(got-0.1) > 2e-6 {
		t.Errorf("weighed 24.9677 g: %g mol/L", got)
	}
}

// "0.1 mol/L of the metal ion is not 0.1 g/L of it": both stand side by side.
func TestMassOrAmount(t *testing.T) {
	for text, asks := range map[string]bool{"0.1 g/L": true, "2 g/L": true, "0.05 g/L": true, "0.4394 g/L": false, "100 mg/L": false, "0.1 mol/L": false, "10 g/L": false} {
		r := request("copper-sulfate-pentahydrate", text, "1 L")
		r.Of = "Cu"
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatal(err)
		}
		i := slices.IndexFunc(recipe.Verdicts, func(v verdict.Verdict) bool { return v.Rule == "W-9" })
		if (i >= 0) != asks {
			t.Errorf("%s of Cu: asks %v, want %v", text, i >= 0, asks)
		}
		if text == "0.1 g/L" &&
			(recipe.Verdicts[i].Sentence != "0.1 g/L of Cu is 0.00157 mol/L. If 0.1 mol/L was meant, that is 6.35 g/L." || recipe.Verdicts[i].Choices[0].ID != "concentration 0.1 mol/L") {
			t.Errorf("%+v", recipe.Verdicts[i])
		}
	}
}

// acid asks for a litre made of a concentrated liquid.
func acid(key, concentration string, dispense glassware.Kind) solution.Request {
	r := request(key, concentration, "1 L")
	r.Assay, r.AssayLimits, r.Dispense = r.Substance.MassFraction, 0.005, dispense
	return r
}

// Recipes for dilute acids that every laboratory has on a card (common practice):
// 8.3 mL of 37 % hydrochloric acid to 1 L for 0.1 mol/L, 55.6 mL of 96 % sulfuric
// acid to 1 L for 1 mol/L, 57.5 mL of glacial acetic acid to 1 L for 1 mol/L; by
// weighing 9.85 g of the first.
func TestConcentratedLiquids(t *testing.T) {
	for _, c := range []struct {
		key, concentration string
		dispense           glassware.Kind
		want, last         float64
		with               string
	}{
		{"hydrochloric-acid", "0.1 mol/L", glassware.GraduatedPipette, 8.3, 0.1, "10 mL graduated pipette"},
		{"hydrochloric-acid", "0.1 mol/L", "", 9.85, 0.01, "Fern"},
		{"sulfuric-acid", "1 mol/L", glassware.Cylinder, 55.6, 0.1, "100 mL cylinder"},
		{"acetic-acid-glacial", "1 mol/L", glassware.Cylinder, 57.5, 0.5, "100 mL cylinder"},
	} {
		recipe, err := acid(c.key, c.concentration, c.dispense).Recipe()
		if err != nil {
			t.Errorf("%s: %v", c.key, err)
			continue
		}
		if math.Abs(recipe.Take-c.want) > 0.5*c.last || recipe.With != c.with {
			t.Errorf("%s: %s %s with %s, want %g with %s", c.key, recipe.TakeText, recipe.Unit, recipe.With, c.want, c.with)
		}
		if math.Abs(recipe.Figures[0].Value/map[string]float64{"0.1 mol/L": 0.1, "1 mol/L": 1}[c.concentration]-1) > 1e-9 {
			t.Errorf("%s: the recipe gives %g", c.key, recipe.Figures[0].Value)
		}
		if !slices.ContainsFunc(recipe.Cautions, func(s string) bool { return strings.HasPrefix(s, "Into water, slowly, never the reverse") }) {
			t.Errorf("%s: nothing about acid into water", c.key)
		}
	}
	lighter := acid("hydrochloric-acid", "0.1 mol/L", glassware.Cylinder)
	lighter.Assay, lighter.LiquidDensity = 0.32, 1.16 // the other usual bottle: 9.8 mL
	if recipe, err := lighter.Recipe(); err != nil || math.Abs(recipe.Take-9.8) > 0.05 {
		t.Errorf("32 %% hydrochloric acid: %s mL, %v", recipe.TakeText, err)
	}
	byMass, _ := acid("hydrochloric-acid", "0.1 mol/L", "").Recipe()
	byVolume, _ := acid("hydrochloric-acid", "0.1 mol/L", glassware.Cylinder).Recipe()
	if a, b := byMass.Figures[0].U(), byVolume.Figures[0].U(); a >= b {
		t.Errorf("weighing (u %g) is no better than the cylinder (u %g)", a, b)
	}
}

// One mole of 96 % sulfuric acid in half a litre: Thomsen's formula, 74.7·n/(n +
// 1.798) kJ/mol between n = 0.227 and 28, is 61.8 kJ into 602 g. At the 3.6 J/(g·K) of
// 16 % sulfuric acid (handbook value, from memory) that is 28.5 K, within 2 K. A tenth of it
// stays under the 20 K of the rule, and common salt has no table.
func TestHeatOfDilution(t *testing.T) {
	warms := func(r solution.Request) string {
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatal(err)
		}
		for _, v := range recipe.Verdicts {
			if v.Rule == "M-8" {
				return v.Sentence
			}
		}
		return ""
	}
	got, kelvin := warms(acid("sulfuric-acid", "1 mol/L", "")), 0.0
	if _, err := fmt.Sscanf(got, "About %f K", &kelvin); err != nil || math.Abs(kelvin-28.5) > 2 {
		t.Errorf("1 mol/L of sulfuric acid: %q", got)
	}
	if got := warms(acid("sulfuric-acid", "0.1 mol/L", "")); got != "" {
		t.Errorf("0.1 mol/L of sulfuric acid: %q", got)
	}
	if got := warms(request("sodium-hydroxide", "5 mol/L", "500 mL")); got == "" {
		t.Error("5 mol/L of sodium hydroxide warms nothing")
	}
	if got := warms(request("sodium-chloride", "1 mol/L", "1 L")); got != "" {
		t.Errorf("common salt: %q", got)
	}
}

// The run of a concentrated liquid: water first, then measured or weighed, poured
// in, brought to 20 °C; what was measured counts.
func TestRunOfAnAcid(t *testing.T) {
	r := acid("hydrochloric-acid", "0.1 mol/L", glassware.GraduatedPipette)
	s := &script{}
	order := func() string {
		var ids []string
		for _, step := range mustMake(t, r, s).Steps {
			ids = append(ids, step.ID)
		}
		return strings.Join(ids, " ")
	}
	if got := order(); got != "water weigh transfer temperature mark mix label" {
		t.Errorf("by volume: %s", got)
	}
	if err := run.Admit(r, nil, reading(solution.KindMeasured, "8.3 mL", quantity.Volume), today); err == nil {
		t.Error("acid before water is let in")
	}
	s.add(choose(solution.KindWatered, "in"))
	for text, says := range map[string]string{"200 mL": "not more than ten fillings", "-1 mL": "above zero"} {
		if err := run.Admit(r, s.facts, reading(solution.KindMeasured, text, quantity.Volume), today); err == nil ||
			!strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", text, err)
		}
	}
	s.add(reading(solution.KindMeasured, "8.40 mL", quantity.Volume))
	at := step(mustMake(t, r, s), "weigh")
	if at.Verdicts[0].Level != verdict.Fine || !strings.HasPrefix(at.Verdicts[0].Sentence, "0.93 % over") ||
		at.Verdicts[0].Choices[0].Label != "Keep this volume" {
		t.Errorf("%+v", at.Verdicts)
	}
	s.add(choose(run.KindDecided, "keep-mass")).
		add(counted(solution.KindTransferred, 3)).
		add(reading(run.KindTemperature, "20.0 °C", quantity.Temperature)).
		add(choose(solution.KindMark, "reached")).
		add(counted(run.KindMixed, 20)).
		add(fact.Fact{Kind: run.KindLabelled, Date: "2026-06-11"})
	out := mustMake(t, r, s)
	runtest.Used(t, out, "hydrochloric-acid 8.4 mL")
	// 8.40 mL · 1.184 g/mL · 0.370 / 36.458 g/mol = 0.10094 mol
	if out.Status != run.Finished || out.Exact || math.Abs(out.Figures[0].Value-0.10094) > 0.00002 {
		t.Errorf("%s, exact %v, %g mol/L", out.Status, out.Exact, out.Figures[0].Value)
	}
	lines, err := r.Explain(s.facts, "concentration")
	if err != nil || !slices.ContainsFunc(lines, func(l working.Line) bool {
		return strings.Contains(l.Formula, `\rho`) && strings.Contains(l.Substituted, "8.40")
	}) {
		t.Errorf("%+v %v", lines, err)
	}
	r.Dispense, s.facts = "", nil
	if got := order(); got != "water settle weigh transfer temperature mark mix label" {
		t.Errorf("by weighing: %s", got)
	}
	heavy := (&script{}).add(choose(solution.KindWatered, "in")).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed("9.472 g"))
	runtest.Used(t, mustMake(t, r, heavy), "hydrochloric-acid 8 mL") // of 1.184 g/mL
	for _, c := range []struct {
		field  string
		change func(*solution.Request)
	}{
		{"/dispense", func(r *solution.Request) {
			r.Substance = fromLibrary("sodium-chloride")
			r.Dispense = glassware.Cylinder
		}},
		{"/dispense", func(r *solution.Request) {
			r.Dispense, r.Volume = glassware.GraduatedPipette, quantity.Of(5, "L")
		}},
		{"/waters", func(r *solution.Request) { n := 1.0; r.Waters = &n }},
		{"/liquidDensity", func(r *solution.Request) { r.LiquidDensity = 11.84 }},
	} {
		wrong := r
		c.change(&wrong)
		if _, err := wrong.Recipe(); fields(err) != c.field {
			t.Errorf("%v at %s, want %s", err, fields(err), c.field)
		}
	}
}

// Where the model is linear enough, the draws are within 1 % of the first order,
// on every basis; where one rectangular source rules, the sentence says so.
func TestDrawsConfirmTheFirstOrder(t *testing.T) {
	for _, c := range []struct {
		change func(*solution.Request)
		says   string
	}{
		{func(*solution.Request) {}, "confirmed"},
		{func(r *solution.Request) {
			r.Concentration, r.SolutionDensity, r.SolutionDensityLimits = quantity.Of(0.1, "mol/kg"), 1.005, 0.0001
		}, ""},
		{func(r *solution.Request) { r.Of, r.Concentration = "K", quantity.Of(4, "g/L") }, "confirmed"},
		{func(r *solution.Request) { r.AssayLimits, r.Assay = 0.01, 0.99 }, "“assay” is not normally distributed"},
	} {
		r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
		r.Buoyancy = true
		c.change(&r)
		facts := bench("5.1056 g").facts
		out, err := r.Make(facts, today)
		if err != nil {
			t.Fatal(err)
		}
		s, line, ok, err := solution.Confirm(r, facts)
		if err != nil || !ok {
			t.Fatal(ok, err)
		}
		first := out.Figures[0]
		if math.Abs(s.U/first.U()-1) > 0.01 || math.Abs(s.Mean/first.Value-1) > 0.01*first.Relative() {
			t.Errorf("%s: draws %g ± %g, first order %g ± %g", first.Unit, s.Mean, s.U, first.Value, first.U())
		}
		if !strings.Contains(line.From[1], c.says) {
			t.Errorf("%s: %q, want %q", first.Unit, line.From[1], c.says)
		}
	}
	if _, _, ok, err := solution.Confirm(request("sodium-chloride", "1 mol/L", "1 L"), nil); ok || err != nil {
		t.Error("a run without a mass is confirmed")
	}
}

// The textbook comparison of extractions and rinses (common practice): with 0.5 mL
// left each time, three rinses of 5 mL leave (0.5/5.5)³ = 0.075 %, one of 15 mL 3.2 %.
func TestSmallRinsesBeatOneLarge(t *testing.T) {
	three, one := solution.LeftAfterRinsing(3, 5, 0.5), solution.LeftAfterRinsing(1, 15, 0.5)
	if math.Abs(three-0.000751) > 0.000001 || math.Abs(one-0.03226) > 0.00001 || solution.LeftAfterRinsing(0, 5, 0.5) != 1 {
		t.Errorf("three leave %g, one leaves %g", three, one)
	}
}
