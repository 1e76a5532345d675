package titration

import (
	"math"
	"slices"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run/runtest"
	"vialbench/core/substance"
)

// Electrons or protons of each mole in these reactions (common practice; the half-equations of
// general texts).
func TestEquivalents(t *testing.T) {
	for key, want := range map[string][2]float64{
		"permanganate-iron": {5, 1}, "permanganate-oxalate": {5, 2}, "permanganate-peroxide": {5, 2}, "dichromate-iron": {6, 1},
		"cerium-iron": {1, 1}, "thiosulfate-iodate": {1, 6}, "thiosulfate-iodine": {1, 2}, "thiosulfate-copper": {1, 1},
		"thiosulfate-bleach": {1, 2}, "iodine-ascorbic": {2, 2}, "carbonate-first": {1, 1}, "carbonate-for-acid": {1, 2},
		"citric-by-base": {1, 3}, "borax-for-acid": {1, 2}, "silver-chloride": {1, 1}, "thiocyanate-silver": {1, 1},
	} {
		titrant, analyte, why, ok := find(t, key).Equivalents()
		if !ok || titrant != want[0] || math.Abs(analyte-want[1]) > 1e-12 || why == "" {
			t.Errorf("%s: %g and %g, want %v", key, titrant, analyte, want)
		}
	}
	if _, _, _, ok := find(t, "edta-calcium").Equivalents(); ok {
		t.Error("equivalents of EDTA")
	}
	for _, r := range Library() {
		if _, _, _, ok := r.Equivalents(); !ok && r.Titrant != "H2C10H12N2O8^2-" {
			t.Errorf("%s: no equivalents of %s", r.Key, r.Titrant)
		}
	}
}

// 0.3152 g of oxalic acid dihydrate take 50.00 mL of 0.1 mol/L sodium hydroxide: 2.5 mmol, so
// 126.08 g go with each mole, 126.08 less 90.034 in water of 18.015: 2.001 (arithmetic).
func TestWaterOfCrystallisation(t *testing.T) {
	solids := substance.Library()
	i := slices.IndexFunc(solids, func(s substance.Substance) bool { return s.Key == "oxalic-acid-dihydrate" })
	if i < 0 {
		t.Fatal("no oxalic acid dihydrate")
	}
	r := lye(t)
	r.Standardise, r.Reaction, r.Titrant.C = false, find(t, "oxalic-for-base"), number("c", 0.1, 0.0001)
	r.By, r.Mass, r.Substance = Weighed, 0.3152, &solids[i]
	r.Sample = Solution{Name: "Oxalic acid", Formula: solids[i].Formula, Units: 1}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	q, err := quantity.ParseAny("0.3152", []quantity.Dimension{quantity.Mass}, "g")
	if err != nil {
		t.Fatal(err)
	}
	b.State(fact.Fact{Kind: KindSample, Quantity: &q})
	out := b.trial(0, "0.00", "50.00")
	figures := map[string]figure.Figure{}
	for _, f := range out.Figures {
		figures[f.ID] = f
	}
	// A mole of it is good to what strength, mass and titre are: 0.1 % of strength alone is 0.126 g.
	x := figures["waters"]
	if math.Abs(x.Value-2.0008) > 0.0005 || x.U() < 0.126/18.015 || x.U() > 0.03 {
		t.Errorf("x %.4f, u %.4f", x.Value, x.U())
	}
	if x.Label != "x in H2C2O4·xH2O, if nothing else is in it" {
		t.Error(x.Label)
	}
	b.explains(out)
	// Of an unknown acid there are no waters, but what goes with each proton.
	r.Substance, r.Sample = nil, Solution{Name: "Unknown"}
	b2 := &bench{runtest.Bench[Request]{T: t, Plan: r, Facts: b.Facts}}
	if out, err = r.Make(b.Facts, runtest.Noon); err != nil {
		t.Fatal(err)
	}
	if last := out.Figures[2]; last.ID != "equivalent mass" || math.Abs(last.Value-63.04) > 0.001 {
		t.Errorf("%+v", last)
	}
	b2.explains(out)
}

// Permanganate standardised: 0.02 mol/L of it are 0.1 eq/L.
func TestNormalityOfATitrant(t *testing.T) {
	r := lye(t)
	r.Reaction = find(t, "permanganate-iron")
	r.Titrant = Solution{Name: "Permanganate", Formula: "KMnO4", Units: 1, Bottle: "b2", Number: 2, C: number("made", 0.02, 0.001)}
	r.Sample.Formula, r.Sample.Units = "FeSO4", 1
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	out := b.trial(0, "0.00", "25.00")
	n := out.Figures[1]
	if n.ID != "normality" || math.Abs(n.Value-0.1) > 1e-9 || n.Label != "normality, 5 eq for each mol of MnO4-" || n.Unit != "eq/L" {
		t.Errorf("%+v", n)
	}
	b.explains(out)
}
