package titration

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/reaction"
	"vialbench/core/uncertain"
)

func number(id string, value, u float64) uncertain.Number {
	return uncertain.New(value, u, uncertain.Source{ID: id, Label: id})
}

// naoh is EURACHEM/CITAC Guide CG 4 (QUAM), 3rd edition, example A2: sodium hydroxide against
// potassium hydrogen phthalate. Repeatability enters the titre, relative 0.0005.
func naoh(t *testing.T, repeatability float64) uncertain.Number {
	t.Helper()
	mass := number("mass", 0.3888, math.Sqrt2*uncertain.Rectangular(0.00015))
	purity := uncertain.WithLimits(1, 0.0005, uncertain.RectangularShape, uncertain.Source{ID: "purity", Label: "purity"})
	k := Known{Ratio: reaction.Ratio{Of: 1, By: 1}, Standardise: true, Weighed: true, PerGram: purity.Over(number("M", 204.2212, 0.0038))}
	titre := number("burette T1", 18.64, math.Hypot(uncertain.Triangular(0.03), 19*2.1e-4*3/1.96)).
		Plus(number("repeatability", 0, 18.64*repeatability))
	r, err := k.Solve([]Trial{{Titre: titre, Sample: mass}}, Limits{})
	if err != nil {
		t.Fatal(err)
	}
	return r.C
}

// QUAM A2: 0.10214 mol/L, u 0.00010; relative 0.00099 recomputed (0.00097 printed, rounded on
// the way).
func TestQUAMA2(t *testing.T) {
	c := naoh(t, 0.0005)
	if math.Abs(c.Value-0.10214) > 5e-6 || math.Abs(c.U()/c.Value-0.00099) > 5e-6 {
		t.Errorf("%.5f mol/L, relative u %.5f", c.Value, c.U()/c.Value)
	}
}

// QUAM A3: hydrochloric acid by that sodium hydroxide: 0.10139 mol/L, u 0.00018. The phthalate
// and the first titre come along with the titrant.
func TestQUAMA3(t *testing.T) {
	of := func(id string, mL float64) uncertain.Number {
		return number(
			id,
			mL,
			math.Hypot(uncertain.Triangular(map[bool]float64{true: 0.02, false: 0.03}[id == "pipette"]), mL*2.1e-4*4/math.Sqrt(3)),
		)
	}
	mass := number("mass", 0.3888, math.Sqrt2*uncertain.Rectangular(0.00015))
	purity := uncertain.WithLimits(1, 0.0005, uncertain.RectangularShape, uncertain.Source{ID: "purity", Label: "purity"})
	one := reaction.Ratio{Of: 1, By: 1}
	first, err := Known{Ratio: one, Standardise: true, Weighed: true, PerGram: purity.Over(number("M", 204.2212, 0.0038))}.
		Solve([]Trial{{Titre: of("T1", 18.64), Sample: mass}}, Limits{})
	if err != nil {
		t.Fatal(err)
	}
	r, err := Known{Ratio: one, C: first.C}.Solve([]Trial{{Titre: of("T2", 14.89), Sample: of("pipette", 15)}}, Limits{})
	if err != nil {
		t.Fatal(err)
	}
	c := r.C.Times(number("repeatability", 1, 0.001))
	if math.Abs(c.Value-0.10139) > 5e-6 || math.Abs(c.U()-0.00018) > 5e-6 {
		t.Errorf("%.5f mol/L, u %.6f", c.Value, c.U())
	}
	labels := map[string]bool{}
	for _, x := range c.Contributions {
		labels[x.ID] = true
	}
	for _, want := range []string{"mass", "purity", "M", "T1", "T2", "pipette"} {
		if !labels[want] {
			t.Errorf("%s is lost on the way", want)
		}
	}
	// Read on one burette, its error goes into the titrant and comes out again, as far as the
	// titres are alike: 14.89/18.64 of it.
	shared, err := Known{
		Ratio: one,
		C:     first.C,
	}.Solve([]Trial{{Titre: of("T1", 18.64).Scale(14.89 / 18.64), Sample: of("pipette", 15)}}, Limits{})
	if err != nil || shared.C.U() >= r.C.U()*0.95 {
		t.Errorf("shared burette %.6f, two burettes %.6f", shared.C.U(), r.C.U())
	}
}

// 25.00 mL of iron(II) takes 19.05 mL of 0.02014 mol/L permanganate, five to one:
// 5 × 0.02014 × 19.05 / 25.00 = 0.076734 mol/L (arithmetic).
func TestFiveToOne(t *testing.T) {
	iron, ok := Find("permanganate-iron")
	if !ok {
		t.Fatal("no iron")
	}
	ratio, err := iron.Ratio()
	if err != nil || ratio != (reaction.Ratio{Of: 5, By: 1}) {
		t.Fatalf("%v %v", ratio, err)
	}
	k := Known{Ratio: ratio, C: number("c", 0.02014, 0.00001)}
	r, err := k.Solve([]Trial{
		{Titre: number("a", 19.60, 0.02), Sample: number("v", 25, 0.01), Rough: true},
		{Titre: number("b", 19.10, 0.02), Sample: number("v", 25, 0.01)},
		{Titre: number("x", 20.30, 0.02), Sample: number("v", 25, 0.01), SetAside: "past the end point"},
		{Titre: number("d", 19.20, 0.02), Sample: number("v", 25, 0.01)},
		{Titre: number("e", 0.10, 0.02), Blank: true},
	}, Limits{Concordant: 0.1, EndPoint: 0.025})
	if err != nil {
		t.Fatal(err)
	}
	if !slices.Equal(r.Used, []int{1, 3}) || !r.Agreed || math.Abs(r.Mean-19.05) > 1e-9 || math.Abs(r.C.Value-0.0767334) > 1e-6 ||
		r.Blank.Value != 0.1 {
		t.Errorf("%+v", r)
	}
	// By its scatter alone: t(1) × s/√2 = 12.706 × 0.0707/1.4142 = 0.635 mL of 19.05.
	if math.Abs(r.TypeA-0.63531/19.05) > 1e-5 {
		t.Errorf("type A %.6f", r.TypeA)
	}
	// The pipette is one error, the end points are two and the blank one: what is shared is not
	// divided by the number of trials.
	budget := map[string]float64{}
	for _, c := range r.C.Contributions {
		budget[c.ID] = math.Abs(c.U / r.C.Value)
	}
	for id, want := range map[string]float64{
		"v": 0.01 / 25, "end point 1": uncertain.Rectangular(0.025) / 2 / 19.05, "end point 3": uncertain.Rectangular(0.025) / 2 / 19.05,
		"end point 4": uncertain.Rectangular(0.025) / 19.05, "e": 0.02 / 19.05,
	} {
		if math.Abs(budget[id]-want) > 1e-5 {
			t.Errorf("%s: relative %.6f, want %.6f", id, budget[id], want)
		}
	}
}

// Masses differ from trial to trial: titres are compared as if all had been the first.
func TestUnequalMasses(t *testing.T) {
	k := Known{Ratio: reaction.Ratio{Of: 1, By: 1}, Standardise: true, Weighed: true, PerGram: number("1/M", 1/204.2223, 0)}
	var trials []Trial
	for i, m := range []float64{0.5106, 0.4800, 0.5300} {
		trials = append(
			trials,
			Trial{Sample: number(fmt.Sprint("m", i), m, 0.0002), Titre: number(fmt.Sprint("v", i), m/204.2223/0.1001*1000, 0.02)},
		)
	}
	r, err := k.Solve(trials, Limits{Concordant: 0.1})
	if err != nil || len(r.Used) != 3 || math.Abs(r.C.Value-0.1001) > 1e-9 || r.SD > 1e-9 || math.Abs(r.Titres[1]-r.Titres[0]) > 1e-9 {
		t.Errorf("%+v %v", r, err)
	}
	// Weighed and determined: mol for each g.
	back := Known{Ratio: reaction.Ratio{Of: 1, By: 1}, Weighed: true, C: number("c", 0.1001, 0)}
	if r, err := back.Solve(trials, Limits{Concordant: 0.1}); err != nil || math.Abs(1/r.C.Value-204.2223) > 1e-6 {
		t.Errorf("molar mass %.4f %v", 1/r.C.Value, err)
	}
}

func TestWithoutAgreement(t *testing.T) {
	k := Known{Ratio: reaction.Ratio{Of: 1, By: 2}, C: number("c", 0.1, 0)}
	v := number("v", 20, 0.01)
	r, err := k.Solve([]Trial{{Titre: number("a", 20, 0), Sample: v}, {Titre: number("b", 20.5, 0), Sample: v}}, Limits{Concordant: 0.1})
	if err != nil || r.Agreed || len(r.Used) != 2 || math.Abs(r.C.Value-0.1*20.25/20/2) > 1e-12 {
		t.Errorf("%+v %v", r, err)
	}
	r, err = k.Solve([]Trial{{Titre: number("a", 20, 0), Sample: v, Rough: true}}, Limits{Concordant: 0.1})
	if err != nil || r.Agreed || r.Mean != 20 || r.TypeA != 0 {
		t.Errorf("a rough one alone: %+v %v", r, err)
	}
	for want, trials := range map[string][]Trial{
		"no trial counts yet":             {{Titre: number("a", 20, 0), Sample: v, SetAside: "x"}},
		"what was taken is more than":     {{Titre: number("a", 20, 0)}},
		"no trial counts yet ":            nil,
		"no trial counts yet, all blanks": {{Titre: number("a", 0.1, 0), Blank: true}},
	} {
		if _, err := k.Solve(trials, Limits{}); err == nil ||
			!strings.Contains(want, strings.TrimSpace(strings.Split(err.Error(), ",")[0])) && !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", want, err)
		}
	}
}

func TestLibraryOfTitrations(t *testing.T) {
	if n := len(Library()); n < 25 {
		t.Errorf("%d titrations", n)
	}
	seen := map[string]bool{}
	for _, r := range Library() {
		ratio, err := r.Ratio()
		e, err2 := r.Balanced()
		if err != nil || err2 != nil || ratio.Of < 1 || ratio.By < 1 {
			t.Errorf("%s: %v %v", r.Key, err, err2)
			continue
		}
		if written, _ := reaction.Parse(r.Equation); written.String() != e.String() {
			t.Errorf("%s is written %s and balances as %s", r.Key, written, e)
		}
		if seen[r.Key] || r.Indicator == "" || r.Colour == "" || len(r.Cautions) == 0 || r.Cited() == r.Source {
			t.Errorf("%+v", r)
		}
		seen[r.Key] = true
	}
	// Ratios as every text has them (from memory).
	for key, want := range map[string]reaction.Ratio{
		"phthalate-for-base": {Of: 1, By: 1}, "carbonate-for-acid": {Of: 1, By: 2}, "borax-for-acid": {Of: 1, By: 2}, "citric-by-base": {Of: 1, By: 3},
		"permanganate-oxalate": {Of: 5, By: 2}, "permanganate-peroxide": {Of: 5, By: 2}, "dichromate-iron": {Of: 6, By: 1},
		"thiosulfate-iodine": {Of: 1, By: 2}, "thiosulfate-iodate": {Of: 1, By: 6}, "thiosulfate-bleach": {Of: 1, By: 2}, "edta-hardness": {Of: 1, By: 1},
	} {
		r, _ := Find(key)
		if got, err := r.Ratio(); err != nil || got != want {
			t.Errorf("%s: %v %v", key, got, err)
		}
	}
}

func TestUnitsOfACompound(t *testing.T) {
	for _, x := range []struct {
		key, compound string
		titrant       bool
		want          float64
	}{
		{"permanganate-iron", "KMnO4", true, 1},
		{"permanganate-iron", "(NH4)2Fe(SO4)2·6H2O", false, 1},
		{"permanganate-iron", "Fe2(SO4)3", false, 2},
		{"permanganate-oxalate", "Na2C2O4", false, 1},
		{"permanganate-oxalate", "H2C2O4·2H2O", false, 1},
		{"permanganate-oxalate", "KH3C4O8·2H2O", false, 2},
		{"permanganate-oxalate", "NaC2H3O2", false, 0},
		{"permanganate-iron", "NaOH", true, 0},
		{"phthalate-for-base", "NaOH", true, 1},
		{"phthalate-for-base", "KOH", true, 1},
		{"phthalate-for-base", "Ba(OH)2·8H2O", true, 2},
		{"phthalate-for-base", "KHC8H4O4", false, 1},
		{"oxalic-for-base", "H2C2O4·2H2O", false, 1},
		{"strong-base-by-acid", "HNO3", true, 1},
		{"thiosulfate-iodate", "Na2S2O3·5H2O", true, 1},
		{"thiosulfate-iodate", "KIO3", false, 1},
		{"edta-hardness", "C10H14N2Na2O8·2H2O", true, 1},
		{"silver-chloride", "CaCl2", false, 2},
		{"silver-chloride", "?", false, 0},
	} {
		r, ok := Find(x.key)
		if !ok {
			t.Fatal(x.key)
		}
		of := r.AnalyteUnits
		if x.titrant {
			of = r.TitrantUnits
		}
		if got, ok := of(x.compound); got != x.want && ok || ok != (x.want > 0) {
			t.Errorf("%s, %s: %g %v, want %g", x.key, x.compound, got, ok, x.want)
		}
		use := Uses(x.compound)[slices.IndexFunc(Library(), func(r Reaction) bool { return r.Key == x.key })]
		if got := map[bool]float64{true: use.Titrant, false: use.Analyte}[x.titrant]; got != x.want {
			t.Errorf("%s, %s among all: %g, want %g", x.key, x.compound, got, x.want)
		}
	}
}

func BenchmarkUses(b *testing.B) {
	for b.Loop() {
		Uses("C10H14N2Na2O8·2H2O")
	}
}

func TestTyped(t *testing.T) {
	r, err := Typed("Zn + HCl -> ZnCl2 + H2", "HCl", "Zn")
	if err != nil || r.Equation != "Zn + 2 HCl → ZnCl2 + H2" {
		t.Fatalf("%+v %v", r, err)
	}
	if ratio, err := r.Ratio(); err != nil || ratio != (reaction.Ratio{Of: 1, By: 2}) {
		t.Errorf("%v %v", ratio, err)
	}
	for field, x := range map[string][3]string{
		"/equation": {"Zn + HCl -> ZnCl2", "HCl", "Zn"}, "/analyte": {"Zn + HCl -> ZnCl2 + H2", "HCl", "Mg"}, "/titrant": {"Zn + HCl -> ZnCl2 + H2", "HBr", "Zn"},
	} {
		if _, err := Typed(x[0], x[1], x[2]); len(problems(err)) == 0 || problems(err)[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// A set of six trials with all sources of a bench.
func BenchmarkResult(b *testing.B) {
	k := Known{Ratio: reaction.Ratio{Of: 1, By: 1}, C: number("c", 0.1, 0.0001)}
	var trials []Trial
	for i := range 6 {
		titre := number(
			fmt.Sprint("first", i),
			20+float64(i)/100,
			0.01,
		).Plus(number(fmt.Sprint("last", i), 0, 0.01)).
			Plus(number("burette", 0, 0.02))
		trials = append(trials, Trial{Titre: titre, Sample: number("pipette", 25, 0.01).Plus(number(fmt.Sprint("delivery", i), 0, 0.01))})
	}
	for b.Loop() {
		if _, err := k.Solve(trials, Limits{Concordant: 0.1, EndPoint: 0.025}); err != nil {
			b.Fatal(err)
		}
	}
}

// Two to one, both ways of taking the standard: 0.1261 g of oxalic acid dihydrate (126.064 g/mol,
// atomic weights) with 20.00 mL: c = 2 × 0.1261/126.064/0.02000; 25.00 mL of 0.0500 mol/L the same
// with 25.00 mL: c = 2 × 0.0500 = 0.1000 mol/L (arithmetic).
func TestStandardiseTwoToOne(t *testing.T) {
	ratio, err := find(t, "oxalic-for-base").Ratio()
	if err != nil || ratio != (reaction.Ratio{Of: 1, By: 2}) {
		t.Fatalf("%v %v", ratio, err)
	}
	weighed := Known{Ratio: ratio, Standardise: true, Weighed: true, PerGram: number("1/M", 1/126.064, 0)}
	r, err := weighed.Solve([]Trial{{Titre: number("v", 20, 0), Sample: number("m", 0.1261, 0)}}, Limits{})
	if err != nil || math.Abs(r.C.Value-2*0.1261/126.064/0.02) > 1e-9 {
		t.Errorf("weighed: %.6f %v", r.C.Value, err)
	}
	aliquot := Known{Ratio: ratio, Standardise: true, C: number("c", 0.05, 0)}
	if r, err = aliquot.Solve([]Trial{{Titre: number("v", 25, 0), Sample: number("a", 25, 0)}}, Limits{}); err != nil ||
		math.Abs(r.C.Value-0.1) > 1e-12 {
		t.Errorf("aliquot: %.6f %v", r.C.Value, err)
	}
}
