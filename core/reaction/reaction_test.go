package reaction

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"vialbench/core/verdict"
)

// Reactions as general chemistry and quantitative analysis texts balance them (from memory).
var balanced = []string{
	"2 H2 + O2 → 2 H2O",
	"N2 + 3 H2 → 2 NH3",
	"CH4 + 2 O2 → CO2 + 2 H2O",
	"C3H8 + 5 O2 → 3 CO2 + 4 H2O",
	"2 C4H10 + 13 O2 → 8 CO2 + 10 H2O",
	"C6H12O6 + 6 O2 → 6 CO2 + 6 H2O",
	"4 Fe + 3 O2 → 2 Fe2O3",
	"Fe2O3 + 3 CO → 2 Fe + 3 CO2",
	"2 Al + 3 Cl2 → 2 AlCl3",
	"2 Na + 2 H2O → 2 NaOH + H2",
	"CaCO3 + 2 HCl → CaCl2 + CO2 + H2O",
	"Ca(OH)2 + 2 HCl → CaCl2 + 2 H2O",
	"H2SO4 + 2 NaOH → Na2SO4 + 2 H2O",
	"H3PO4 + 3 NaOH → Na3PO4 + 3 H2O",
	"Na2CO3 + 2 HCl → 2 NaCl + CO2 + H2O",
	"Na2B4O7·10H2O + 2 HCl → 4 H3BO3 + 2 NaCl + 5 H2O",
	"KHC8H4O4 + NaOH → KNaC8H4O4 + H2O",
	"H2C2O4·2H2O + 2 NaOH → Na2C2O4 + 4 H2O",
	"Ba(OH)2·8H2O + 2 NH4Cl → BaCl2 + 2 NH3 + 10 H2O",
	"AgNO3 + NaCl → AgCl + NaNO3",
	"Pb(NO3)2 + 2 KI → PbI2 + 2 KNO3",
	"3 Cu + 8 HNO3 → 3 Cu(NO3)2 + 2 NO + 4 H2O",
	"Cu + 4 HNO3 → Cu(NO3)2 + 2 NO2 + 2 H2O",
	"2 KMnO4 + 16 HCl → 2 KCl + 2 MnCl2 + 5 Cl2 + 8 H2O",
	"K2Cr2O7 + 14 HCl → 2 KCl + 2 CrCl3 + 3 Cl2 + 7 H2O",
	"2 KClO3 → 2 KCl + 3 O2",
	"2 H2O2 → 2 H2O + O2",
	"P4 + 5 O2 → P4O10",
	"P4O10 + 6 H2O → 4 H3PO4",
	"4 NH3 + 5 O2 → 4 NO + 6 H2O",
	"2 ZnS + 3 O2 → 2 ZnO + 2 SO2",
	"4 FeS2 + 11 O2 → 2 Fe2O3 + 8 SO2",
	"TiCl4 + 2 H2O → TiO2 + 4 HCl",
	"K4[Fe(CN)6] + 6 H2SO4 + 6 H2O → 2 K2SO4 + FeSO4 + 3 (NH4)2SO4 + 6 CO",
	"MnO4- + 5 Fe^2+ + 8 H+ → Mn^2+ + 5 Fe^3+ + 4 H2O",
	"2 MnO4- + 5 C2O4^2- + 16 H+ → 2 Mn^2+ + 10 CO2 + 8 H2O",
	"Cr2O7^2- + 6 Fe^2+ + 14 H+ → 2 Cr^3+ + 6 Fe^3+ + 7 H2O",
	"I2 + 2 S2O3^2- → 2 I- + S4O6^2-",
	"IO3- + 5 I- + 6 H+ → 3 I2 + 3 H2O",
	"C6H8O6 + I2 → C6H6O6 + 2 I- + 2 H+",
	"2 Cu^2+ + 4 I- → 2 CuI + I2",
	"Ag+ + Cl- → AgCl",
	"2 Ag+ + CrO4^2- → Ag2CrO4",
	"Ca^2+ + H2C10H12N2O8^2- → CaC10H12N2O8^2- + 2 H+",
	"BrO3- + 5 Br- + 6 H+ → 3 Br2 + 3 H2O",
	"Ce^4+ + Fe^2+ → Ce^3+ + Fe^3+",
	"3 ClO- → ClO3- + 2 Cl-",
	"2 CaSO4·0.5H2O + 3 H2O → 2 CaSO4·2H2O",
}

func TestTextbookEquations(t *testing.T) {
	if len(balanced) < 40 {
		t.Fatal("too few")
	}
	for _, want := range balanced {
		e, err := Parse(want)
		if err != nil {
			t.Errorf("%s: %v", want, err)
			continue
		}
		for _, side := range [][]Term{e.Left, e.Right} {
			for i := range side {
				side[i].Coefficient = 1
			}
		}
		e.written = false
		got, err := e.Balance()
		if err != nil || !got.balances() {
			t.Errorf("%s: %v", want, err)
			continue
		}
		// A spelling may be kept in another way; the numbers decide.
		again, _ := Parse(want)
		for i, x := range got.terms() {
			if c := again.terms()[i].Coefficient; c != x.Coefficient {
				t.Errorf("%s: %d of %s, got %s", want, x.Coefficient, x.Formula, got)
			}
		}
	}
}

func TestParse(t *testing.T) {
	for text, want := range map[string]string{
		"H2+O2->H2O":                       "H2 + O2 → H2O",
		"2H2 + O2 = 2H2O":                  "2 H2 + O2 → 2 H2O",
		"Ag+ (aq) + Cl-(aq) -> AgCl(s)":    "Ag+(aq) + Cl-(aq) → AgCl(s)",
		"Fe^2+ ⇌ Fe^3+ + e-":               "Fe^2+ → Fe^3+ + e-",
		"MnO4− + 8H+ + 5e− → Mn2+ + 4 H2O": "MnO4- + 8 H+ + 5 e- → Mn^2+ + 4 H2O",
		"Ca++ + 2 F- --> CaF2":             "Ca^2+ + 2 F- → CaF2",
	} {
		e, err := Parse(text)
		if err != nil || e.String() != want {
			t.Errorf("%s: %s %v", text, e, err)
		}
	}
	if e, _ := Parse("H2SO4 -> 2 H+ + SO4^2-"); e.LaTeX() != `\mathrm{H_{2}SO_{4}} \longrightarrow 2\,\mathrm{H^{+}} + \mathrm{SO_{4}^{2-}}` {
		t.Error(e.LaTeX())
	}
}

func TestWhatCannotBe(t *testing.T) {
	for text, want := range map[string]string{
		"H2 + O2":                               "write an arrow",
		"-> H2O":                                "nothing is on one side",
		"H2 + Xx -> H2O":                        "“Xx”",
		"2 -> H2O":                              "without a formula",
		"10000 H2 + O2 -> H2O":                  "from 1 to 9999",
		"NaCl + H2O -> NaOH":                    "Cl is on the left side only",
		"Fe^2+ -> Fe^3+":                        "the charge ask for different coefficients",
		"H2 + O2 -> H2O + H2O2":                 "more than one solution: it holds 2 reactions",
		"H2 + O2 + He -> H2O + He":              "", // two solutions, one of them trivial
		"O2 + H2O -> H2":                        "only with a species on the other side",
		"H2 + H2 + O2 -> H2O":                   "H2 stands there twice",
		strings.Repeat("H2 + ", 200):            "at most 500 characters",
		strings.Repeat("H2 + ", 17) + "H2 -> H": "at most 16 species",
	} {
		e, err := Parse(text)
		if err == nil {
			_, err = e.Balance()
		}
		if err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v, want “%s”", text, err, want)
		}
	}
	// Peroxide gives oxygen by itself too: only the coefficients, or half-equations, tell.
	e, err := Parse("MnO4- + H2O2 + H+ -> Mn^2+ + O2 + H2O")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := e.Balance(); err == nil || !strings.Contains(err.Error(), "more than one solution") {
		t.Errorf("%v", err)
	}
	// With its coefficients, the one that was meant stands.
	e, err = Parse("3 H2 + 2 O2 -> 2 H2O + H2O2")
	if err != nil {
		t.Fatal(err)
	}
	if got, err := e.Balance(); err != nil || got.String() != "3 H2 + 2 O2 → 2 H2O + H2O2" {
		t.Errorf("%s %v", got, err)
	}
	e, _ = Parse("3 H2 + 5 O2 -> 2 H2O + H2O2")
	if _, err := e.Balance(); err == nil {
		t.Error("written coefficients that do not balance are taken")
	}
}

// Half-equations as tables of electrode potentials list them (from memory).
func TestCombine(t *testing.T) {
	for _, x := range []struct{ one, other, want string }{
		{"MnO4- + 8H+ + 5e- -> Mn^2+ + 4H2O", "Fe^2+ -> Fe^3+ + e-", "MnO4- + 8 H+ + 5 Fe^2+ → Mn^2+ + 4 H2O + 5 Fe^3+"},
		{"MnO4- + H+ + e- -> Mn^2+ + H2O", "C2O4^2- -> CO2 + e-", "2 MnO4- + 16 H+ + 5 C2O4^2- → 2 Mn^2+ + 8 H2O + 10 CO2"},
		{"H2O2 -> O2 + 2H+ + 2e-", "MnO4- + 8H+ + 5e- -> Mn^2+ + 4H2O", "5 H2O2 + 2 MnO4- + 6 H+ → 5 O2 + 2 Mn^2+ + 8 H2O"},
		// Written double, they are the same halves.
		{"2 MnO4- + 16 H+ + 10 e- -> 2 Mn^2+ + 8 H2O", "3 Fe^2+ -> 3 Fe^3+ + 3 e-", "MnO4- + 8 H+ + 5 Fe^2+ → Mn^2+ + 4 H2O + 5 Fe^3+"},
		{"I2 + 2e- -> 2I-", "2 S2O3^2- -> S4O6^2- + 2e-", "I2 + 2 S2O3^2- → 2 I- + S4O6^2-"},
	} {
		a, err1 := Parse(x.one)
		b, err2 := Parse(x.other)
		got, err := Combine(a, b)
		if err := errors.Join(err1, err2, err); err != nil || got.String() != x.want || !got.balances() {
			t.Errorf("%s: %v", got, err)
		}
	}
	a, _ := Parse("Fe^2+ -> Fe^3+ + e-")
	if _, err := Combine(a, a); err == nil || !strings.Contains(err.Error(), "one half-equation gives electrons off") {
		t.Errorf("%v", err)
	}
}

func TestRatio(t *testing.T) {
	a, err := Solve(Question{Equation: "MnO4- + Fe2+ + H+ -> Mn2+ + Fe3+ + H2O", Of: "Fe^2+", By: "MnO4-"})
	if err != nil || *a.Ratio != (Ratio{5, 1}) || a.Sentence != "5 mol of Fe^2+ for 1 mol of MnO4-" || a.Ratio.Value() != 5 {
		t.Errorf("%+v %v", a.Ratio, err)
	}
	a, err = Solve(Question{Equation: "H3PO4 + NaOH -> Na2HPO4 + H2O", Of: "NaOH", By: "H3PO4"})
	if err != nil || *a.Ratio != (Ratio{2, 1}) || a.Text != "H3PO4 + 2 NaOH → Na2HPO4 + 2 H2O" {
		t.Errorf("%+v %v", a, err)
	}
	for field, q := range map[string]Question{
		"/of":       {Equation: "H2 + O2 -> H2O", Of: "N2", By: "O2"},
		"/by":       {Equation: "H2 + O2 -> H2O", Of: "H2", By: "?"},
		"/equation": {Equation: "H2"},
		"/half":     {Equation: "Fe^2+ -> Fe^3+ + e-", Half: "nothing"},
	} {
		var p verdict.Problems
		if _, err := Solve(q); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

func FuzzParse(f *testing.F) {
	for _, text := range append(balanced, "e- -> e-", "+ -> +", "((((", "2 2 2 -> 3") {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		e, err := Parse(text)
		if err != nil {
			return
		}
		if got, err := e.Balance(); err == nil && !got.balances() {
			t.Errorf("%q comes out as %s", text, got)
		}
	})
}

// Eight species.
func BenchmarkBalance(b *testing.B) {
	e, err := Parse("KMnO4 + Na2C2O4 + H2SO4 -> K2SO4 + Na2SO4 + MnSO4 + H2O + CO2")
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := e.Balance(); err != nil {
			b.Fatal(err)
		}
	}
}

func ExampleEquation_Balance() {
	e, _ := Parse("MnO4- + Fe^2+ + H+ -> Mn^2+ + Fe^3+ + H2O")
	e, _ = e.Balance()
	fmt.Println(e)
	// Output: MnO4- + 5 Fe^2+ + 8 H+ → Mn^2+ + 5 Fe^3+ + 4 H2O
}

// A state may stand right behind a charge.
func TestStateBehindACharge(t *testing.T) {
	for text, want := range map[string]string{
		"Ag+(aq) + Cl-(aq) -> AgCl(s)":                    "Ag+(aq) + Cl-(aq) → AgCl(s)",
		"Ag+ (aq)+Cl- (aq) -> AgCl (s)":                   "Ag+(aq) + Cl-(aq) → AgCl(s)",
		"Fe^3+(aq)+ 3OH-(aq) -> Fe(OH)3(s)":               "Fe^3+(aq) + 3 OH-(aq) → Fe(OH)3(s)",
		"Na+(aq)+(NH4)2SO4(s) -> Na2SO4 + NH4+(aq)":       "2 Na+(aq) + (NH4)2SO4(s) → Na2SO4 + 2 NH4+(aq)",
		"H+(aq)+OH-(aq) = H2O(l)":                         "H+(aq) + OH-(aq) → H2O(l)",
		"2 H+(aq) + CO3^2-(aq) -> H2O(l) + CO2(g)":        "2 H+(aq) + CO3^2-(aq) → H2O(l) + CO2(g)",
		"MnO4- + Fe^2+ + H+(aq) -> Mn^2+(aq)+Fe^3+ + H2O": "MnO4- + 5 Fe^2+ + 8 H+(aq) → Mn^2+(aq) + 5 Fe^3+ + 4 H2O",
	} {
		e, err := Parse(text)
		if err != nil {
			t.Errorf("%s: %v", text, err)
			continue
		}
		if e, err = e.Balance(); err != nil || e.String() != want {
			t.Errorf("%s: %s, want %s (%v)", text, e, want, err)
		}
	}
}

// Equations that were made to balance do, however large their numbers become on the way, with the
// smallest coefficients.
func TestLargeEquationsBalance(t *testing.T) {
	random := rand.New(rand.NewPCG(4, 56))
	elements := []string{"C", "H", "N", "O", "S", "P", "Cl"}
	for range 400 {
		n := 4 + random.IntN(4)
		atoms, last := make([][]int64, n), make([]int64, n)
		nu := make([]int64, n)
		var left []string
		for i := range n {
			nu[i] = 1 + random.Int64N(20)
			text := ""
			for k := range n {
				a := 1 + random.Int64N(40)
				atoms[i], last[k] = append(atoms[i], a), last[k]+nu[i]*a
				text += fmt.Sprint(elements[k], a)
			}
			left = append(left, text)
		}
		right := ""
		for k, a := range last {
			right += fmt.Sprint(elements[k], a)
		}
		e, err := Parse(strings.Join(left, " + ") + " -> " + right)
		if err != nil {
			t.Fatal(err)
		}
		e, err = e.Balance()
		if err != nil {
			t.Errorf("%v of %v: %v", nu, atoms, err)
			continue
		}
		for i, x := range e.Left {
			if x.Coefficient != nu[i]*e.Right[0].Coefficient || e.Right[0].Coefficient != 1 {
				t.Errorf("%v for %v", e.Left, nu)
			}
		}
	}
	// Coefficients that nobody writes are refused.
	nobody := 0
	for range 50 {
		text := make([]string, 7)
		for i := range text {
			for _, element := range elements[:6] {
				text[i] += fmt.Sprint(element, 1+random.IntN(9000))
			}
		}
		e, err := Parse(strings.Join(text[:3], " + ") + " -> " + strings.Join(text[3:], " + "))
		if err != nil {
			t.Fatal(err)
		}
		if e, err := e.Balance(); err == nil {
			t.Errorf("%s", e)
		} else if strings.Contains(err.Error(), "coefficients above 1000000000") {
			nobody++
		}
	}
	if nobody < 40 {
		t.Errorf("%d of 50 are refused for their size", nobody)
	}
}
