package substance_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"vialbench/core/formula"
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

// Every value of every entry names a source that exists.
func TestLibraryEntriesAreComplete(t *testing.T) {
	list := substance.Library()
	if len(list) < 40 {
		t.Errorf("%d substances, want at least 40", len(list))
	}
	keys := map[string]bool{}
	for _, s := range list {
		if err := s.Check(); err != nil {
			t.Errorf("%s: %v", s.Key, err)
		}
		if keys[s.Key] {
			t.Errorf("%s stands twice", s.Key)
		}
		keys[s.Key] = true
		for field, present := range map[string]bool{
			"class": true, "hazards": true, "density": s.Density != 0, "solubility": s.Solubility != 0,
			"massFraction": s.MassFraction != 0, "drying": s.Drying != "", "note": s.Note != "", "hygroscopic": s.Hygroscopic,
		} {
			if source := s.Sources[field]; present != (substance.Sources()[source] != "") {
				t.Errorf("%s: %s present=%v, source %q", s.Key, field, present, source)
			}
		}
		if (s.Signal == "") != (len(s.Hazards) == 0 || slices.Equal(s.Hazards, []string{"H412"})) { // H412 has no signal word
			t.Errorf("%s: signal word %q with %v", s.Key, s.Signal, s.Hazards)
		}
		for _, st := range substance.Statements(append(s.Hazards, s.Precautions...)) {
			if st.Text == "" {
				t.Errorf("%s: no text for %s", s.Key, st.Code)
			}
		}
		if s.Drying == "" && !s.Liquid {
			t.Errorf("%s: nothing about drying", s.Key)
		}
	}
}

// A name that says how much water agrees with its formula.
func TestHydrateNamesAgreeWithFormulas(t *testing.T) {
	counts := map[string]string{"monohydrate": "·H2O", "dihydrate": "·2H2O", "trihydrate": "·3H2O", "pentahydrate": "·5H2O",
		"hexahydrate": "·6H2O", "heptahydrate": "·7H2O", "decahydrate": "·10H2O", "dodecahydrate": "·12H2O"}
	for _, s := range substance.Library() {
		words := strings.Fields(s.Name)
		want, isHydrate := counts[words[len(words)-1]]
		if isHydrate != strings.Contains(s.Formula, "·") || isHydrate && !strings.HasSuffix(s.Formula, want) {
			t.Errorf("%s is %s", s.Name, s.Formula)
		}
	}
}

// Molar masses as printed on bottles (common practice, two decimals), computed
// from other editions of the atomic weights, so within 0.02 g/mol.
func TestMolarMassesOfTheShelf(t *testing.T) {
	for key, want := range map[string]float64{
		"sodium-carbonate": 105.99, "potassium-iodate": 214.00, "potassium-dichromate": 294.18, "silver-nitrate": 169.87,
		"copper-sulfate-pentahydrate": 249.69, "tris": 121.14, "benzoic-acid": 122.12, "oxalic-acid-dihydrate": 126.07,
		"sulfamic-acid": 97.10, "sucrose": 342.30, "potassium-permanganate": 158.03, "sodium-thiosulfate-pentahydrate": 248.18,
		"citric-acid-monohydrate": 210.14, "potassium-hexacyanoferrate-trihydrate": 422.39,
	} {
		i := slices.IndexFunc(substance.Library(), func(s substance.Substance) bool { return s.Key == key })
		if i < 0 {
			t.Errorf("no %s", key)
			continue
		}
		f, err := formula.Parse(substance.Library()[i].Formula)
		if err != nil {
			t.Fatal(err)
		}
		if got := f.MolarMass().Value; got < want-0.02 || got > want+0.02 {
			t.Errorf("M(%s) = %.3f g/mol, want %.2f", key, got, want)
		}
	}
}

// Amount concentrations of commercial concentrated reagents (common practice;
// hydrochloric 12.02 and sulfuric acid 17.97 mol/L recomputed from 1000·ρ·w/M).
func TestConcentratedReagents(t *testing.T) {
	want := map[string][2]float64{"hydrochloric-acid": {12.02, 0.005}, "sulfuric-acid": {17.97, 0.005}, "nitric-acid": {14.4, 0.06}, "phosphoric-acid": {14.6, 0.06},
		"acetic-acid-glacial": {17.4, 0.06}, "ammonia-solution": {13.4, 0.06}, "hydrogen-peroxide": {9.8, 0.06}}
	for _, s := range substance.Library() {
		if !s.Liquid {
			continue
		}
		f, err := formula.Parse(s.Formula)
		if err != nil {
			t.Fatal(err)
		}
		c := 1000 * s.Density * s.MassFraction / f.MolarMass().Value
		if w := want[s.Key]; c < w[0]-w[1] || c > w[0]+w[1] {
			t.Errorf("%s: %.3f mol/L, want %g", s.Name, c, w[0])
		}
		delete(want, s.Key)
	}
	if len(want) != 0 {
		t.Errorf("not there: %v", want)
	}
}

// UN GHS 1.4.10.5.3.1 (from memory).
func TestPictogramPrecedence(t *testing.T) {
	for _, c := range []struct{ hazards, want string }{
		{"H302 H318 H410", "GHS05 GHS07 GHS09"},
		{"H314 H319", "GHS05"},
		{"H301 H312", "GHS06"},
		{"H319", "GHS07"},
		{"H412", ""},
	} {
		if got := strings.Join(substance.Pictograms(strings.Fields(c.hazards)), " "); got != c.want {
			t.Errorf("%s → %q, want %q", c.hazards, got, c.want)
		}
	}
}

func TestCheckNamesTheField(t *testing.T) {
	var problems verdict.Problems
	err := substance.Substance{Name: "x", Formula: "Kh", Class: "primary", Hygroscopic: true, Density: 99, Hazards: []string{"H999"}}.Check()
	if !errors.As(err, &problems) {
		t.Fatal(err)
	}
	var fields []string
	for _, p := range problems {
		fields = append(fields, p.Field)
	}
	if got := strings.Join(fields, " "); got != "/formula /class /density /hazards/0" {
		t.Errorf("problems at %s", got)
	}
}

func ExamplePictograms() {
	fmt.Println(substance.Pictograms([]string{"H302", "H318", "H410"}))
	for _, s := range substance.Statements([]string{"H318", "P280"}) {
		fmt.Println(s.Code, s.Text)
	}
	// Output:
	// [GHS05 GHS07 GHS09]
	// H318 Causes serious eye damage
	// P280 Wear protective gloves, protective clothing and eye protection.
}
