package substance_test

import (
	"strings"
	"testing"

	"vialbench/core/substance"
)

// What a lab may say of a substance of its own: at the bounds, and just past them.
func TestSubstancesAreBounded(t *testing.T) {
	name := func(n int) func(*substance.Substance) {
		return func(s *substance.Substance) { s.Name = strings.Repeat("é", n) }
	}
	for _, c := range []struct {
		says   string
		ok     bool
		change func(*substance.Substance)
	}{
		{"as it is", true, func(*substance.Substance) {}},
		{"a name", false, name(0)},
		{"a name of one", true, name(1)},
		{"a name of 120", true, name(120)},
		{"a name of 121", false, name(121)},
		{"density", true, func(s *substance.Substance) { s.Density = 0.1 }},
		{"density", false, func(s *substance.Substance) { s.Density = 0.0999 }},
		{"density", true, func(s *substance.Substance) { s.Density = 25 }},
		{"density", false, func(s *substance.Substance) { s.Density = 25.01 }},
		{"solubility", true, func(s *substance.Substance) { s.Solubility = 1000 }},
		{"solubility", false, func(s *substance.Substance) { s.Solubility = 1000.1 }},
		{"solubility", false, func(s *substance.Substance) { s.Solubility = -1 }},
		{"liquid", true, func(s *substance.Substance) { s.Liquid, s.Density, s.MassFraction = true, 1.2, 1 }},
		{"liquid", false, func(s *substance.Substance) { s.Liquid, s.Density, s.MassFraction = true, 1.2, 1.01 }},
		{"liquid", false, func(s *substance.Substance) { s.Liquid, s.Density, s.MassFraction = true, 1.2, 0 }},
		{"liquid", false, func(s *substance.Substance) { s.Liquid, s.Density, s.MassFraction = true, 0, 0.5 }},
		{"assay", true, func(s *substance.Substance) { s.Assay = 1 }},
		{"assay", false, func(s *substance.Substance) { s.Assay = 1.001 }},
		{"assay", false, func(s *substance.Substance) { s.Assay = -0.1 }},
		{"assay limits", true, func(s *substance.Substance) { s.AssayLimits = 0.5 }},
		{"assay limits", false, func(s *substance.Substance) { s.AssayLimits = 0.501 }},
		{"assay limits", false, func(s *substance.Substance) { s.AssayLimits = -0.001 }},
		{"class", false, func(s *substance.Substance) { s.Class = "" }},
		{"class", false, func(s *substance.Substance) { s.Hygroscopic = true }},
		{"keep", false, func(s *substance.Substance) { s.Keep = "warm" }},
		{"signal", false, func(s *substance.Substance) { s.Signal = "Careful" }},
		{"hazard", false, func(s *substance.Substance) { s.Hazards = []string{"H999"} }},
	} {
		s := substance.Substance{Name: "Pond salt", Formula: "NaCl", Class: substance.Primary}
		c.change(&s)
		if err := s.Check(); (err == nil) != c.ok {
			t.Errorf("%s: %v, want it right: %t", c.says, err, c.ok)
		}
	}
}

// Slips of the finger find what was meant, and only where nothing is spelt so: letters
// changed about, left out, put in and mistaken.
func TestSlipsOfTheFinger(t *testing.T) {
	for query, want := range map[string]string{
		"sodium chlroide": "Sodium chloride", "potasium nitrate": "Potassium nitrate", "sodiium chloride": "Sodium chloride",
		"oxalic acud": "Oxalic acid", "zincc": "Zinc",
	} {
		found := substance.Find(substance.Library(), query, func(string) int { return 0 })
		if len(found) == 0 || !strings.HasPrefix(found[0].Name, want) {
			t.Errorf("%s: %+v, want %s", query, found, want)
		}
	}
	for _, m := range substance.Find(substance.Library(), "zinc", func(string) int { return 0 }) {
		if !strings.Contains(strings.ToLower(m.Name+m.Called+strings.Join(m.Synonyms, " ")), "zinc") {
			t.Errorf("zinc finds %s", m.Name)
		}
	}
	for _, typed := range []string{"zxnc", "xyzzy"} {
		if found := substance.Find(substance.Library(), typed, func(string) int { return 0 }); typed == "xyzzy" && len(found) > 0 {
			t.Errorf("%s finds %s", typed, found[0].Name)
		}
	}
}

// Acute toxicity adds up as 1/ATE = Σ wᵢ/ATEᵢ (CLP Annex I, 3.1.3.6): a quarter of what is
// harmful from 500 mg/kg on comes to 2000 mg/kg, the limit, and a little less is free.
func TestAcuteToxicityAtItsLimit(t *testing.T) {
	for _, c := range []struct {
		hazard  string
		grams   float64
		harmful bool
	}{{"H302", 250, true}, {"H302", 249, false}, {"H302", 0, false}, {"H312", 550, true}, {"H312", 549, false}, {"H332", 550, true}, {"H332", 549, false}} {
		codes, _ := substance.Classify([]substance.Ingredient{{Key: "pond-salt", Grams: c.grams, Hazards: []string{c.hazard}}})
		if (len(codes) == 1 && codes[0] == c.hazard) != c.harmful || len(codes) > 1 {
			t.Errorf("%g g/L with %s: %v", c.grams, c.hazard, codes)
		}
	}
}
