package formula_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/formula"
	"vialbench/core/uncertain"
)

func Example() {
	f, _ := formula.Parse("CuSO4.5H2O")
	m := f.MolarMass()
	fmt.Printf("%s  M = %.3f g/mol, u = %.3f g/mol\n", f, m.Value, m.U())
	_, err := formula.Parse("Khc8H4O4")
	fmt.Println(err)
	// Output:
	// CuSO4·5H2O  M = 249.677 g/mol, u = 0.006 g/mol
	// no element Kh; potassium is K, then H
}

// Molar masses from the IUPAC 2021 conventional atomic weights, worked out
// independently with high-precision arithmetic.
func TestMolarMass(t *testing.T) {
	for _, c := range []struct {
		text string
		want float64
	}{
		{"KHC8H4O4", 204.2223},
		{"Na2B4O7·10H2O", 381.3625},
		{"KH2PO4", 136.0841},
		{"C10H14N2Na2O8·2H2O", 372.2375},
		{"(NH4)2Fe(SO4)2·6H2O", 392.125},
		{"KAl(SO4)2·12H2O", 474.3718},
	} {
		f, err := formula.Parse(c.text)
		if err != nil {
			t.Errorf("%s: %v", c.text, err)
			continue
		}
		if got := f.MolarMass().Value; math.Abs(got-c.want) > 0.00051 {
			t.Errorf("M(%s) = %.5f g/mol, want %.4f", c.text, got, c.want)
		}
	}
}

// EURACHEM/CITAC QUAM A2 gives u(M) = 0.0038 g/mol for potassium hydrogen
// phthalate from the atomic weights of its time (from memory). The intervals of
// 2021 are wider for carbon, so that u must come out larger, but not twice.
func TestMolarMassUncertainty(t *testing.T) {
	f, _ := formula.Parse("KHC8H4O4")
	if u := f.MolarMass().U(); u < 0.0038 || u > 0.0076 {
		t.Errorf("u(M) = %.4f g/mol, want between 0.0038 and 0.0076", u)
	}
}

func TestParse(t *testing.T) {
	for _, c := range []struct {
		text, elements string
		charge         int
		set            string
	}{
		{"H2PO4-", "H2 P1 O4", -1, "H<2>PO<4>{−}"},
		{"SO4 2-", "S1 O4", -2, "SO<4>{2−}"},
		{"SO₄²⁻", "S1 O4", -2, "SO<4>{2−}"},
		{"Ca^2+", "Ca1", 2, "Ca{2+}"},
		{"Ca2+", "Ca1", 2, "Ca{2+}"},
		{"Ca++", "Ca1", 2, "Ca{2+}"},
		{"I3-", "I3", -1, "I<3>{−}"},
		{"Hg2 2+", "Hg2", 2, "Hg<2>{2+}"},
		{"Na+", "Na1", 1, "Na{+}"},
		{"CuSO4.5H2O", "Cu1 S1 O9 H10", 0, "CuSO<4>·5H<2>O"},
		{"CuSO4*5H2O", "Cu1 S1 O9 H10", 0, "CuSO<4>·5H<2>O"},
		{"CaSO4·0.5H2O", "Ca1 S1 O4.5 H1", 0, "CaSO<4>·0.5H<2>O"},
		{"CaSO4·½H2O", "Ca1 S1 O4.5 H1", 0, "CaSO<4>·0.5H<2>O"},
		{"K4[Fe(CN)6]·3H2O", "K4 Fe1 C6 N6 H6 O3", 0, "K<4>[Fe(CN)<6>]·3H<2>O"},
		{"(NH4)2Fe(SO4)2·6H2O", "N2 H20 Fe1 S2 O14", 0, "(NH<4>)<2>Fe(SO<4>)<2>·6H<2>O"},
		{"[Cu(NH3)4]^2+", "Cu1 N4 H12", 2, "[Cu(NH<3>)<4>]{2+}"},
		{" NaCl ", "Na1 Cl1", 0, "NaCl"},
	} {
		f, err := formula.Parse(c.text)
		if err != nil {
			t.Errorf("%s: %v", c.text, err)
			continue
		}
		var parts []string
		for _, e := range f.Elements {
			parts = append(parts, fmt.Sprintf("%s%g", e.Symbol, e.Atoms))
		}
		set := ""
		for _, p := range f.Pieces {
			set += map[formula.Style]string{formula.Plain: p.Text, formula.Sub: "<" + p.Text + ">", formula.Sup: "{" + p.Text + "}"}[p.Style]
		}
		if got := strings.Join(parts, " "); got != c.elements || f.Charge != c.charge || set != c.set {
			t.Errorf("%s → %s, charge %d, %s; want %s, %d, %s", c.text, got, f.Charge, set, c.elements, c.charge, c.set)
		}
	}
}

func TestParseRefusesWithAdvice(t *testing.T) {
	for _, c := range []struct {
		text   string
		at     int
		advice string
	}{
		{"Kh", 0, "no element Kh; potassium is K, then H"},
		{"NaCL", 3, "chlorine is Cl"},
		{"nacl", 0, "sodium is Na, with a capital"},
		{"NaCl2O(", 6, "not closed: add “)”"},
		{"Na(OH]", 5, "use “)”"},
		{"NaOH)", 4, "was not opened"},
		{"Na()", 2, "nothing between"},
		{"H0", 1, "from 1 to 9999"},
		{"H99999", 1, "from 1 to 9999"},
		{"2NaCl", 0, "starts with an element"},
		{"CuSO4·", 6, "an element should follow"},
		{"Cu SO4", 2, "a space does not belong"},
		{"<b>", 0, "does not belong in a formula"},
		{"", 0, "nothing written"},
		{"Na+Cl", 2, "a charge comes at the end"},
		{strings.Repeat("C", 10000), 200, "too long"},
		{"Jx", 0, "no element Jx"},
		{strings.Repeat("(", 20), 8, "brackets inside"},
	} {
		_, err := formula.Parse(c.text)
		var wrong *formula.Error
		if !errors.As(err, &wrong) || !strings.Contains(wrong.Reason, c.advice) || wrong.At != c.at {
			t.Errorf("%.20q: %+v, want at %d: …%s…", c.text, err, c.at, c.advice)
		}
	}
}

func TestComposition(t *testing.T) {
	// Phosphorus in potassium dihydrogen phosphate: 22.76 % (common practice for
	// phosphate standards: 0.4394 g/L is 100 mg/L as P).
	f, _ := formula.Parse("KH2PO4")
	total := 0.0
	for _, s := range f.Composition() {
		total += s.Fraction
		if s.Symbol == "P" && math.Abs(0.1/s.Fraction-0.4394) > 0.00005 {
			t.Errorf("100 mg/L as P takes %.5f g/L, want 0.4394", 0.1/s.Fraction)
		}
	}
	if math.Abs(total-1) > 1e-12 {
		t.Errorf("fractions add up to %g", total)
	}
}

func FuzzParse(f *testing.F) {
	for _, seed := range []string{"KHC8H4O4", "K4[Fe(CN)6]·3H2O", "SO4 2-", "Ca^2+", "CaSO4.0.5H2O", "((((", "½", "H2O.½", "Na+Cl", "₂⁻"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		got, err := formula.Parse(text)
		if err != nil {
			var wrong *formula.Error
			if !errors.As(err, &wrong) || wrong.Reason == "" || wrong.At < 0 || wrong.At > len([]rune(text)) {
				t.Fatalf("%q: %#v", text, err)
			}
			return
		}
		if m := got.MolarMass().Value; !(m > 0) {
			t.Fatalf("%q has molar mass %g", text, m)
		}
		again, err := formula.Parse(got.String())
		if err != nil || again.String() != got.String() || again.Charge != got.Charge ||
			math.Abs(again.MolarMass().Value-got.MolarMass().Value) > 1e-9*got.MolarMass().Value {
			t.Fatalf("%q → %q → %q (%v)", text, got, again, err)
		}
	})
}

func BenchmarkParseAndMolarMass(b *testing.B) {
	b.ReportAllocs()
	for b.Loop() {
		f, err := formula.Parse("(NH4)2Fe(SO4)2·6H2O")
		if err != nil || f.MolarMass().Value < 392 {
			b.Fatal(err)
		}
	}
}

// More molar masses, as textbooks and bottles print them to two decimals (common
// practice), from many kinds of formula.
func TestMolarMassesInPrint(t *testing.T) {
	for text, want := range map[string]float64{
		"H2O": 18.02, "NaCl": 58.44, "H2SO4": 98.08, "HNO3": 63.01, "CH3COOH": 60.05, "NH3": 17.03, "Ca(OH)2": 74.09, "Al(NO3)3·9H2O": 375.13,
		"Fe2O3": 159.69, "Mg(ClO4)2": 223.21, "Hg2Cl2": 472.09, "[Co(NH3)6]Cl3": 267.48, "Na2S2O3.5H2O": 248.18, "MgCl2·6H2O": 203.30,
		"C6H8O7": 192.12, "Ce(SO4)2·4H2O": 404.30, "HOC(COOH)(CH2COOH)2": 192.12, "UO2(NO3)2·6H2O": 502.13, "D": 0,
	} {
		f, err := formula.Parse(text)
		if want == 0 {
			if err == nil {
				t.Errorf("%s is read", text)
			}
			continue
		}
		if err != nil || math.Abs(f.MolarMass().Value-want) > 0.016 {
			t.Errorf("M(%s) = %.3f, want %.2f (%v)", text, f.MolarMass().Value, want, err)
		}
	}
}

// A sum of parts weighs what its parts weigh, and shares their uncertainty source
// by source: the hydrate's water and the salt's oxygen are the same oxygen.
func TestMolarMassIsAdditive(t *testing.T) {
	mass := func(text string) uncertain.Number {
		f, err := formula.Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		return f.MolarMass()
	}
	whole := mass("CuSO4·5H2O")
	parts := mass("CuSO4").Plus(mass("H2O").Scale(5))
	if math.Abs(whole.Value-parts.Value) > 1e-9 || math.Abs(whole.U()-parts.U()) > 1e-12 {
		t.Errorf("%.6f ± %.6f and %.6f ± %.6f", whole.Value, whole.U(), parts.Value, parts.U())
	}
	if r := uncertain.Correlation(mass("CO2"), mass("H2O")); r <= 0 || r >= 1 {
		t.Errorf("correlation of two oxides %g", r)
	}
	if w, ok := formula.AtomicWeight("P"); !ok || math.Abs(w.Value-30.973761998) > 1e-9 {
		t.Errorf("A(P) = %v", w.Value)
	}
	if _, ok := formula.AtomicWeight("Xx"); ok {
		t.Error("there is an element Xx")
	}
}

func TestWaters(t *testing.T) {
	for _, c := range []struct {
		text   string
		waters float64
		with   float64
		want   string
	}{
		{"CuSO4·5H2O", 5, 0, "CuSO4"},
		{"CuSO4", 0, 5, "CuSO4·5H2O"},
		{"NaH2PO4.H2O", 1, 2, "NaH2PO4·2H2O"},
		{"CaSO4·0.5H2O", 0.5, 2, "CaSO4·2H2O"},
		{"KCl·MgCl2·6H2O", 6, 0, "KCl·MgCl2"},
		{"H2O", 0, 1, "H2O·H2O"},
	} {
		f, err := formula.Parse(c.text)
		if err != nil {
			t.Fatal(err)
		}
		g, err := f.WithWaters(c.with)
		if err != nil || f.Waters() != c.waters || g.String() != c.want {
			t.Errorf("%s: %g waters, with %g %s (%v); want %g, %s", c.text, f.Waters(), c.with, g, err, c.waters, c.want)
		}
	}
	f, _ := formula.Parse("CuSO4")
	if _, err := f.WithWaters(-1); err == nil {
		t.Error("a negative number of waters")
	}
}

func TestContains(t *testing.T) {
	for _, c := range []struct {
		compound, part string
		want           float64
	}{
		{"(NH4)2Fe(SO4)2·6H2O", "SO4 2-", 2},
		{"(NH4)2Fe(SO4)2·6H2O", "NH4+", 2},
		{"(NH4)2Fe(SO4)2·6H2O", "Fe", 1},
		{"Na2CO3", "CO3 2-", 1},
		{"Na2CO3", "Na+", 2},
		{"KH2PO4", "P", 1},
		{"KH2PO4", "NO3-", 0},
		{"NaOH", "OH-", 1},
		{"K2Cr2O7", "Cr", 2},
	} {
		f, _ := formula.Parse(c.compound)
		part, err := formula.Parse(c.part)
		if got := f.Contains(part); err != nil || got != c.want {
			t.Errorf("%s in %s: %g, want %g", c.part, c.compound, got, c.want)
		}
	}
}

// How a formula is written on one line, and the limits of what is read.
func TestLimitsOfAFormula(t *testing.T) {
	for text, want := range map[string]string{
		"SO4^2-": "SO4^2−", "H2PO4-": "H2PO4−", "Na+": "Na+", "ZnO": "ZnO", "CaSO4.0.5H2O": "CaSO4·0.5H2O", "Zz": "", "azz": "",
		"CaSO4·½H2O": "CaSO4·0.5H2O", "NaCl1": "NaCl", "C9999": "C9999", "C10000": "", "C0": "", "Fe^9+": "Fe^9+", "Fe^10+": "", "Fe^0+": "",
		"NaCl" + strings.Repeat("C", 196): "NaCl" + strings.Repeat("C", 196), "NaCl" + strings.Repeat("C", 197): "",
		"CaSO4·0.": "", "CaSO4·2.5": "",
	} {
		f, err := formula.Parse(text)
		if got := strings.ReplaceAll(f.String(), "-", "−"); got != want || (err == nil) != (want != "") {
			t.Errorf("%s: %q, %v; want %q", text, got, err, want)
		}
	}
	for text, want := range map[string]string{
		"L2": "no element L; there is Li (lithium), La (lanthanum), Lu (lutetium)", "J2": "no element J",
		"C10000": "a count is a number from 1 to 9999, not 10000",
	} {
		if _, err := formula.Parse(text); err == nil || err.Error() != want {
			t.Errorf("%s: %v, want %q", text, err, want)
		}
	}
	salt, _ := formula.Parse("CaSO4·2H2O")
	for waters, want := range map[float64]string{0: "CaSO4", 0.5: "CaSO4·0.5H2O", 1: "CaSO4·H2O", 2: "CaSO4·2H2O", 24: "CaSO4·24H2O", 24.01: "", -0.1: ""} {
		f, err := salt.WithWaters(waters)
		if f.String() != want || (err == nil) != (want != "") {
			t.Errorf("%g waters: %s, %v", waters, f, err)
		}
	}
	calcium, _ := formula.Parse("Ca")
	for text, want := range map[string]float64{"CaSO4·2H2O": 1, "Ca3(PO4)2": 3, "NaCl": 0} {
		if f, _ := formula.Parse(text); f.Contains(calcium) != want {
			t.Errorf("%s holds %g Ca", text, f.Contains(calcium))
		}
	}
}

// What was read is remembered: the same again, also for whoever has added to it; and what cannot be read
// is not.
func TestParseAgain(t *testing.T) {
	first, err := formula.Parse("Fe(NH4)2(SO4)2·6H2O")
	if err != nil {
		t.Fatal(err)
	}
	want := fmt.Sprint(first)
	first.Elements = append(first.Elements, formula.Count{Symbol: "Xx", Atoms: 1})
	first.Pieces = append(first.Pieces, formula.Piece{Text: "!"})
	for range 2 {
		again, err := formula.Parse("Fe(NH4)2(SO4)2·6H2O")
		if err != nil || fmt.Sprint(again) != want || len(again.Elements) != len(first.Elements)-1 {
			t.Errorf("%v %v", again, err)
		}
	}
	for range 2 {
		if _, err := formula.Parse("Fe(NH4"); err == nil {
			t.Error("half a formula is read")
		}
	}
}

func BenchmarkParse(b *testing.B) {
	for b.Loop() {
		if _, err := formula.Parse("Fe(NH4)2(SO4)2·6H2O"); err != nil {
			b.Fatal(err)
		}
	}
}
