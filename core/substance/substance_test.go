package substance_test

import (
	"encoding/csv"
	"errors"
	"fmt"
	"math"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"vialbench/core/formula"
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

// Every value of every entry names a source that exists.
func TestLibraryEntriesAreComplete(t *testing.T) {
	list := substance.Library()
	if len(list) < 150 {
		t.Errorf("%d substances, want at least 150", len(list))
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
		quiet := !slices.ContainsFunc(s.Hazards, func(h string) bool { return h != "H411" && h != "H412" })
		if (s.Signal == "") != quiet { // these two alone have no signal word
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
	counts := map[string]string{
		"monohydrate":     "·H2O",
		"dihydrate":       "·2H2O",
		"trihydrate":      "·3H2O",
		"tetrahydrate":    "·4H2O",
		"pentahydrate":    "·5H2O",
		"hexahydrate":     "·6H2O",
		"heptahydrate":    "·7H2O",
		"octahydrate":     "·8H2O",
		"nonahydrate":     "·9H2O",
		"octadecahydrate": "·18H2O",
		"decahydrate":     "·10H2O",
		"dodecahydrate":   "·12H2O",
	}
	for _, s := range substance.Library() {
		words := strings.Fields(s.Name)
		want, isHydrate := counts[words[len(words)-1]]
		if isHydrate != strings.Contains(s.Formula, "·") || isHydrate && !strings.HasSuffix(s.Formula, want) {
			t.Errorf("%s is %s", s.Name, s.Formula)
		}
	}
}

// The molar mass of every entry, as printed on bottles (common practice, two
// decimals, from memory), was computed by others from other editions of the atomic
// weights: within 0.02 g/mol, and 0.01 % of the heavy ones.
func TestMolarMassOfEveryEntry(t *testing.T) {
	file, err := os.Open("testdata/molar_masses.csv")
	if err != nil {
		t.Fatal(err)
	}
	defer file.Close() //nolint:errcheck // only read
	rows, err := csv.NewReader(file).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	printed := map[string]string{}
	for _, row := range rows[1:] {
		printed[row[0]] = row[1]
	}
	for _, s := range substance.Library() {
		want, err := strconv.ParseFloat(printed[s.Key], 64)
		if err != nil {
			t.Errorf("%s: no molar mass to compare with", s.Key)
			continue
		}
		f, err := formula.Parse(s.Formula)
		if err != nil {
			t.Errorf("%s: %v", s.Key, err)
			continue
		}
		if got := f.MolarMass().Value; math.Abs(got-want) > max(0.02, 1e-4*want) {
			t.Errorf("M(%s, %s) = %.3f g/mol, printed %.2f", s.Key, s.Formula, got, want)
		}
	}
}

// Amount concentrations of commercial concentrated reagents (common practice;
// hydrochloric 12.02 and sulfuric acid 17.97 mol/L recomputed from 1000·ρ·w/M).
func TestConcentratedReagents(t *testing.T) {
	want := map[string][2]float64{
		"hydrochloric-acid":   {12.02, 0.005},
		"sulfuric-acid":       {17.97, 0.005},
		"nitric-acid":         {14.4, 0.06},
		"phosphoric-acid":     {14.6, 0.06},
		"acetic-acid-glacial": {17.4, 0.06},
		"ammonia-solution":    {13.4, 0.06},
		"hydrogen-peroxide":   {9.8, 0.06},
		"hydrochloric-acid-32": {
			10.2,
			0.06,
		},
		"hydrochloric-acid-25": {7.7, 0.06},
		"nitric-acid-69":       {15.4, 0.06},
		"sulfuric-acid-50":     {7.1, 0.06},
		"perchloric-acid":      {11.6, 0.06},
		"hydrobromic-acid":     {8.84, 0.06},
		"hydriodic-acid":       {7.6, 0.06},
		"formic-acid":          {26.0, 0.06},
		"propionic-acid": {
			13.3,
			0.06,
		},
		"lactic-acid":               {12.1, 0.06},
		"ammonia-solution-32":       {16.6, 0.06},
		"sodium-hydroxide-solution": {19.1, 0.06},
		"potassium-hydroxide-solution": {
			11.7,
			0.06,
		},
		"sodium-hypochlorite-solution": {1.95, 0.06},
		"formaldehyde-solution":        {13.4, 0.06},
		"triethanolamine":              {7.46, 0.06},
		"ethanolamine":                 {16.4, 0.06},
		"ethanol":                      {17.1, 0.06},
		"methanol":                     {24.7, 0.06},
		"propan-2-ol":                  {13.0, 0.06},
		"acetone":                      {13.6, 0.06},
		"butan-1-ol":                   {10.9, 0.06},
		"glycerol":                     {13.6, 0.06},
		"ethylene-glycol":              {17.8, 0.06},
		"acetonitrile":                 {19.1, 0.06},
		"dimethyl-sulfoxide":           {14.1, 0.06},
		"pyridine":                     {12.4, 0.06},
	}
	for _, s := range substance.Library() {
		if !s.Liquid {
			continue
		}
		molarity, ok := s.Molarity()
		if !ok || !(molarity.Relative() > 0.001 && molarity.Relative() < 0.05) {
			t.Errorf("%s: %g ± %g mol/L", s.Name, molarity.Value, molarity.U())
		}
		c := molarity.Value
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
		{"H301 H302", "GHS06"},
		{"H311 H332", "GHS06"},
		{"H302 H332", "GHS07"},
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

// What the label of concentrated hydrochloric acid leaves open: ±0.2 % of the density and
// ±0.5 % w/w of 37 %, both rectangular, are 0.0012 and 0.0078 of the molarity (common
// practice, the limits; by hand: √(0.002²/3 + (0.005/0.37)²/3) = 0.00789).
func TestMolarityOfALabelIsAsGoodAsTheLabel(t *testing.T) {
	for _, s := range substance.Library() {
		if s.Key != "hydrochloric-acid" {
			continue
		}
		c, ok := s.Molarity()
		if !ok || math.Abs(c.U()/c.Value-0.00789) > 0.00002 {
			t.Errorf("%.4f ± %.4f mol/L", c.Value, c.U())
		}
		share := map[string]float64{}
		for _, x := range c.Budget() {
			share[x.Label] = x.Fraction
		}
		if math.Abs(share["assay"]-0.9785) > 0.001 || math.Abs(share["density of the liquid"]-0.0214) > 0.001 {
			t.Errorf("%v", share)
		}
		for _, x := range c.Contributions {
			if x.Label == "assay" && x.Basis != "37 % ± 0.5 %, rectangular" {
				t.Errorf("the basis is %q", x.Basis)
			}
		}
	}
}
