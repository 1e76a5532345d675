package solution_test

import (
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
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

func ofRule(list []verdict.Verdict, id string) string {
	for _, v := range list {
		if v.Rule == id {
			return v.Sentence
		}
	}
	return ""
}

func figureOf(t *testing.T, list []figure.Figure, id string) figure.Figure {
	t.Helper()
	i := slices.IndexFunc(list, func(f figure.Figure) bool { return f.ID == id })
	if i < 0 {
		t.Fatalf("no figure %q", id)
	}
	return list[i]
}

// CRC Handbook, concentrative properties (from memory): sodium chloride 10.0 % w/w
// has 1.0707 g/mL at 20 °C and 1.832 mol/L. Made up by mass, the mass fraction needs
// no density; the molarity takes it on, and its uncertainty with it.
func TestMadeUpByMass(t *testing.T) {
	r := request("sodium-chloride", "1.832 mol/L", "100 mL")
	r.MakeUp, r.SolutionDensity, r.SolutionDensityLimits, r.Buoyancy = solution.ByMass, 1.0707, 0.0005, true
	recipe, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(recipe.Take-10.707) > 0.01 || recipe.Neck != 0 {
		t.Errorf("weigh %g g, want 10.707 g (10.0 %% w/w of 107.07 g) in a bottle", recipe.Take)
	}
	// readings in air: 10.7070 g / 1.000404 and 107.070 g / 1.000972
	made := begun("10.7027 g").add(counted(solution.KindTransferred, 3)).add(choose(solution.KindDissolved, "clear"))
	made.add(reading(solution.KindMadeUp, "106.9660 g", quantity.Mass)).add(counted(run.KindMixed, 20))
	out := mustMake(t, r, made)
	c := figureOf(t, out.Figures, "concentration")
	if math.Abs(c.Value-1.832) > 0.001 {
		t.Errorf("%s mol/L, want 1.832", c.Text)
	}
	if c.Budget[0].Label != "density of the solution" {
		t.Errorf("the density rules the budget, not %q", c.Budget[0].Label)
	}
	if v := figureOf(t, out.Figures, "volume"); math.Abs(v.Value-100) > 0.01 { // 106.9660 g of 1.0707 g/mL, air displaced
		t.Errorf("%g mL, want 100", v.Value)
	}
	w := r
	w.Concentration = quantity.Of(10, "% w/w")
	byFraction := mustMake(t, w, made)
	f := figureOf(t, byFraction.Figures, "concentration")
	if math.Abs(f.Value-10) > 0.01 {
		t.Errorf("%s %% w/w, want 10.0", f.Text)
	}
	for _, share := range f.Budget {
		if share.Label == "density of the solution" && share.Fraction > 1e-9 {
			t.Errorf("the density cancels out of a mass fraction, and takes %g of it", share.Fraction)
		}
	}
}

// Common practice: where a recipe says "add", the volume is known within 1 to 5 %,
// and the concentration is nominal.
func TestMadeUpByAdding(t *testing.T) {
	r := request("sodium-chloride", "0.1 mol/L", "500 mL")
	r.MakeUp = solution.ByAdding
	recipe, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	c := recipe.Figures[0]
	if rel := c.Expanded / c.Value; !(rel > 0.01 && rel < 0.05) || c.Budget[0].Label != "volumes are not additive" {
		t.Errorf("U = %.2g %%, mostly %q", 100*rel, c.Budget[0].Label)
	}
	if !strings.Contains(ofRule(recipe.Verdicts, "M-9"), "nominal") {
		t.Errorf("verdicts %v", recipe.Verdicts)
	}
	made := begun("2.9221 g").add(counted(solution.KindTransferred, 3)).add(choose(solution.KindDissolved, "clear")).
		add(reading(solution.KindMadeUp, "500 mL", quantity.Volume)).add(counted(run.KindMixed, 20))
	made.add(fact.Fact{Kind: run.KindLabelled, Date: "2026-11-01"})
	if out := mustMake(t, r, made); out.Status != run.Finished || out.Exact {
		t.Errorf("status %s, exact %v: finished and not exact", out.Status, out.Exact)
	}
}

// A mixed standard: two salts in one flask, each as good as by itself.
func TestMixedStandard(t *testing.T) {
	r := request("potassium-chloride", "0.1000 mol/L", "250 mL")
	r.Also = []solution.Solute{request("sodium-chloride", "0.0500 mol/L", "250 mL").Solute}
	recipe, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	alone, _ := request("sodium-chloride", "0.0500 mol/L", "250 mL").Recipe()
	if len(recipe.Also) != 1 || recipe.Also[0].TakeText != alone.TakeText || recipe.Figures[1].UText != alone.Figures[0].UText {
		t.Fatalf(
			"also %+v, %s ± %s; alone %s ± %s",
			recipe.Also,
			recipe.Figures[1].Text,
			recipe.Figures[1].UText,
			alone.TakeText,
			alone.Figures[0].UText,
		)
	}
	if got := r.Title(); got != "Potassium chloride, 0.1000 mol/L + Sodium chloride, 0.0500 mol/L" {
		t.Error(got)
	}
	made := begun("1.8638 g")
	second := weighed("0.7400 g")
	second.Part = 1
	if err := run.Admit(r, made.facts, weighed("0.7400 g"), today); err == nil {
		t.Error("a second mass of the first solute is taken for one of the second")
	}
	if err := run.Admit(r, made.facts, second, today); err != nil {
		t.Fatal(err)
	}
	made.add(second)
	out := mustMake(t, r, made)
	if s := step(out, "weigh 2"); s.State != run.Now || !strings.Contains(s.Verdicts[0].Sentence, "over, above the ±1 % band") {
		t.Errorf("step %+v", s)
	}
	keep := choose(run.KindDecided, "keep-mass")
	keep.Part = 1
	made.add(keep)
	made.finish()
	out = mustMake(t, r, made)
	if out.Status != run.Finished {
		t.Fatalf("status %s", out.Status)
	}
	runtest.Used(t, out, "potassium-chloride 1.864 g", "sodium-chloride 0.74 g")
	k, na := figureOf(t, out.Figures, "concentration"), figureOf(t, out.Figures, "concentration 2")
	if math.Abs(k.Value-1.8638/74.5483/0.25) > 2e-5 || math.Abs(na.Value-0.7400/58.44/0.25) > 2e-5 {
		t.Errorf("KCl %s, NaCl %s", k.Text, na.Text)
	}
	if rho := uncertain.Correlation(k.Number, na.Number); !(rho > 0.05 && rho < 1) {
		t.Errorf("one flask holds both: correlation %.3f", rho)
	}
	if _, err := r.Explain(made.facts, "concentration 3"); err == nil {
		t.Error("there is no third substance to explain")
	}
	lines, err := r.Explain(made.facts, "concentration 2")
	if err != nil || !strings.Contains(lines[1].Title, "NaCl") {
		t.Errorf("%v %v", lines, err)
	}
	acid := request("hydrochloric-acid", "0.1 mol/L", "250 mL")
	r.Also[0] = acid.Solute
	if _, err := r.Recipe(); !strings.Contains(fields(err), "/also/0/substance/key") {
		t.Errorf("acid mixed in: %v", err)
	}
}

// 2 L in all from a lab whose largest flask holds 500 mL; the mean of four batches
// has the filling and weighing errors averaged, and not those that they share.
func TestBatches(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1000 mol/L", "2 L")
	flask := func(volume float64, class glassware.Class) glassware.Item {
		return glassware.Item{Kind: glassware.VolumetricFlask, Volume: volume, Class: class, Count: 1}
	}
	r.Glass = []glassware.Item{flask(100, "A"), flask(500, "A"), flask(1000, "B")}
	recipe, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	if len(recipe.Batches) != 4 || recipe.Batches[3].Flask.Volume != 500 || recipe.Batches[0].Take != "10.2111 g" {
		t.Fatalf("batches %+v", recipe.Batches)
	}
	r.Also = []solution.Solute{
		{Substance: request("sodium-chloride", "0.1 mol/L", "1 L").Substance, Assay: 1, Concentration: quantity.Of(0.1, "mol/L")},
	}
	if mixed, err := r.Recipe(); err != nil ||
		mixed.Batches[3].Take != "10.2111 g of KHC8H4O4 and 2.9220 g of NaCl" { // 0.05 mol × 58.44 g/mol
		t.Errorf("%+v %v", mixed.Batches, err)
	}
	r.Also = nil
	if got := ofRule(recipe.Verdicts, "M-10"); !strings.Contains(got, "500 + 500 + 500 + 500 mL.") {
		t.Error(got)
	}
	var batches []run.Poured
	for i, mass := range []string{"10.2111 g", "10.2200 g", "10.2100 g", "10.2000 g"} {
		r.Batch = i
		made := bench(mass)
		for k := range made.facts { // four runs, four sets of facts
			made.facts[k].ID += string(rune('a' + i))
		}
		batches = append(batches, run.Poured{Product: mustMake(t, r, made).Products[0], Share: 1})
	}
	pooled, err := run.Pour(batches)
	if err != nil {
		t.Fatal(err)
	}
	one, mean := batches[0].Figures[0], pooled.Figures[0]
	if want := (10.2111 + 10.22 + 10.21 + 10.2) / 204.2213 / 2; math.Abs(mean.Value-want) > 2e-6 || math.Abs(pooled.Volume()-2000) > 0.1 {
		t.Errorf("pooled %.6f mol/L in %g mL, want %.6f in 2000", mean.Value, pooled.Volume(), want)
	}
	share := func(f figure.Figure, label string) float64 {
		for _, s := range f.Budget {
			if s.Label == label {
				return s.U
			}
		}
		return 0
	}
	if ratio := share(mean, "filling to the mark") / share(one, "filling to the mark"); math.Abs(ratio-0.5) > 0.01 {
		t.Errorf("filling: %.3f of one, want a half (four independent ones)", ratio)
	}
	if ratio := share(mean, "flask") / share(one, "flask"); math.Abs(ratio-1) > 0.01 {
		t.Errorf("tolerance of the one flask: %.3f, want all of it", ratio)
	}
	batches[1].Share = 0
	if _, err := run.Pour(batches); err == nil {
		t.Error("an empty bottle is poured")
	}
	r.Batch = 4
	if _, err := r.Recipe(); !strings.Contains(fields(err), "/batch") {
		t.Errorf("batch 5 of 4: %v", err)
	}
}

// The balance and the glass at hand set what can be reached.
func TestReach(t *testing.T) {
	coarse := weighing.Balance{Name: "Oak", Capacity: 2000, Resolution: 0.01, Repeatability: 0.01, Linearity: 0.02}
	r := request("potassium-hydrogen-phthalate", "0.1000 mol/L", "250 mL")
	r.Balance, r.Balances, r.Buoyancy = coarse, []weighing.Balance{coarse, analytical}, true
	for wanted, want := range map[float64]string{0.01: "it can be reached", 0.002: "put Fern on the bench", 0.0001: "nothing here reaches it"} {
		r.Wanted = wanted
		recipe, err := r.Recipe()
		if err != nil {
			t.Fatal(err)
		}
		got := ofRule(recipe.Verdicts, "M-11")
		if !strings.Contains(got, want) || !strings.Contains(got, "Fern ±0.1") || !strings.Contains(got, "Oak ±0.") {
			t.Errorf("±%g %%: %s", 100*wanted, got)
		}
	}
}

func TestDryingLossAndStatedMolarity(t *testing.T) {
	r := request("sodium-chloride", "0.1000 mol/L", "1000 mL")
	dry, _ := r.Recipe()
	r.DryingLoss = 0.02
	damp, err := r.Recipe()
	if err != nil || math.Abs(damp.Take*0.98-dry.Take) > 1e-9 || ofRule(damp.Verdicts, "W-12") == "" {
		t.Errorf("dry %g g, damp %g g, %v", dry.Take, damp.Take, err)
	}
	r.DryingLoss = 1
	if _, err := r.Recipe(); !strings.Contains(fields(err), "/dryingLoss") {
		t.Errorf("all water: %v", err)
	}
	a := acid("hydrochloric-acid", "0.1000 mol/L", glassware.GraduatedPipette)
	a.StatedMolarity, a.StatedMolarityLimits = 12.0, 0.1
	a.Volume = quantity.Of(1, "L")
	recipe, err := a.Recipe()
	if err != nil || math.Abs(recipe.Take-1000*0.1/12) > 1e-6 { // c₁V₁ = c₂V₂
		t.Fatalf("%g mL of 12.0 mol/L, want 8.333: %v", recipe.Take, err)
	}
	if recipe.Figures[0].Budget[0].Label != "molarity on the bottle" {
		t.Errorf("budget %+v", recipe.Figures[0].Budget)
	}
	a.Dispense = ""
	if _, err := a.Recipe(); !strings.Contains(fields(err), "/dispense") {
		t.Errorf("stated molarity by weighing: %v", err)
	}
}

func TestMixtureIsRefused(t *testing.T) {
	r := request("sodium-chloride", "0.1 mol/L", "100 mL")
	r.Substance = substance.Substance{
		Name:    "Soda lime",
		Formula: "NaOH",
		Class:   substance.Secondary,
		Mixture: "calcium and sodium hydroxide in no fixed proportion",
	}
	if _, err := r.Recipe(); !strings.Contains(fields(err), "/substance/key") || !strings.Contains(err.Error(), "no fixed proportion") {
		t.Errorf("%v", err)
	}
}

// A reading taken while it moved is worth less, and is said to be.
func TestMovingReading(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1000 mol/L", "100 mL")
	still := mustMake(t, r, bench("2.0422 g"))
	moving := bench("2.0422 g")
	spread := quantity.Of(0.02, "g")
	for i := range moving.facts {
		if moving.facts[i].Kind == solution.KindWeighed {
			moving.facts[i].Spread = &spread
		}
	}
	out := mustMake(t, r, moving)
	// half of 0.02 g, rectangular, is 0.0058 g of 2.04 g: 0.28 %, and 0.57 % expanded
	if rel := out.Figures[0].Expanded / out.Figures[0].Value; math.Abs(rel-0.0057) > 0.0002 ||
		still.Figures[0].Expanded > out.Figures[0].Expanded/3 {
		t.Errorf("U = %.3g %%", 100*rel)
	}
	if !strings.Contains(ofRule(step(out, "weigh").Verdicts, "W-10"), "0.0200 g") {
		t.Errorf("%+v", step(out, "weigh").Verdicts)
	}
}

// Common practice: dilute base in plastic, permanganate in the dark, thiosulfate
// standardised again within weeks; a primary standard needs none of it.
func TestKeeping(t *testing.T) {
	for key, want := range map[string]struct{ store, by string }{
		"sodium-hydroxide": {"plastic", "2026-05-26"}, "potassium-permanganate": {"amber", "2026-06-11"},
		"sodium-thiosulfate-pentahydrate": {"boiled water", "2026-05-26"}, "sodium-chloride": {"", ""}, "copper-sulfate-pentahydrate": {"", "2026-07-11"},
	} {
		made := bench("1.0000 g")
		for i := range made.facts {
			made.facts[i].At = today
		}
		out := mustMake(t, request(key, "0.1 mol/L", "250 mL"), made)
		if !strings.Contains(out.Store, want.store) || (want.store == "") != (out.Store == "") || out.Products[0].StandardiseBy != want.by {
			t.Errorf("%s: %q, standardise by %q; want %q, %q", key, out.Store, out.Products[0].StandardiseBy, want.store, want.by)
		}
		made.facts[len(made.facts)-1].Date = "2026-05-20"
		if thrownAway := mustMake(t, request(key, "0.1 mol/L", "250 mL"), made).Products[0]; thrownAway.StandardiseBy != "" {
			t.Errorf("%s: standardise by %s, and use by %s", key, thrownAway.StandardiseBy, thrownAway.Expires)
		}
	}
}

// Ethanol of 70 % v/v: 0.70 L of the pure liquid of 0.789 g/mL in a litre is 552.3 g,
// 11.99 mol/L (common practice: 70 % v/v is 12.0 mol/L).
func TestVolumeFraction(t *testing.T) {
	r := acid("ethanol", "1 mol/L", glassware.Cylinder)
	r.Volume, r.Concentration, r.Assay = quantity.Of(1, "L"), quantity.Of(70, "% v/v"), 0.998
	recipe, err := r.Recipe()
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(recipe.Take-0.7*1000/0.998) > 0.01 {
		t.Errorf("measure %g mL, want 701.4", recipe.Take)
	}
	if c := figureOf(t, recipe.Figures, "amountConcentration"); math.Abs(c.Value-11.99) > 0.02 {
		t.Errorf("%g mol/L", c.Value)
	}
	all := r
	all.Concentration = quantity.Of(100, "% v/v")
	dilute := r
	dilute.Substance, dilute.Assay = fromLibrary("hydrochloric-acid"), 0.37
	for _, bad := range []solution.Request{all, dilute} {
		if _, err := bad.Recipe(); fields(err) != "/concentration" {
			t.Errorf("%s of %s: %v", bad.Concentration, bad.Substance.Name, err)
		}
	}
}
