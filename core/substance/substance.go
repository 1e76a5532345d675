// Package substance is the library of what a teaching laboratory keeps on the shelf:
// formula, density, solubility, class of standard, drying, GHS hazard and
// precautionary statements, every value with its source.
package substance

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"vialbench/core/formula"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Class says what a weighed mass of the substance can stand for.
type Class string

// A primary standard is pure, stable, not hygroscopic: weighing it gives an exact
// concentration. All else is secondary: approximate until standardised.
const (
	Primary   Class = "primary"
	Secondary Class = "secondary"
)

// Keeping says what spoils a solution of the substance; empty when little does.
type Keeping string

// What spoils a solution: carbon dioxide and glass a base, light what is kept dark,
// bacteria and acid thiosulfate, the air a reducing agent.
const (
	KeepBase     Keeping = "base"
	KeepDark     Keeping = "dark"
	KeepSulfur   Keeping = "thiosulfate"
	KeepReducing Keeping = "reducing"
)

// Substance is one solid, or one concentrated liquid, on the stock shelf.
type Substance struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	// Solute names what is in a solution made of it, when that is another name.
	Solute  string `json:"solute,omitempty"`
	Formula string `json:"formula"`
	Class   Class  `json:"class"`
	// Liquid reports whether it is a concentrated liquid, and MassFraction how much of the
	// compound it usually holds, in g/g.
	Liquid       bool    `json:"liquid,omitempty"`
	MassFraction float64 `json:"massFraction,omitempty"`
	// Density in g/mL; 0 when not known (of a solid only).
	Density float64 `json:"density,omitempty"`
	// Solubility in water in g per 100 mL at 20 °C; 0 when not known.
	Solubility float64 `json:"solubility,omitempty"`
	// DissolveIn says what it is dissolved in first, when water alone does not do it.
	DissolveIn string `json:"dissolveIn,omitempty"`
	// Assay is the mass fraction of the compound as reagent grades usually have it, within
	// ±AssayLimits, both in g/g; 0 when not known.
	Assay       float64 `json:"assay,omitempty"`
	AssayLimits float64 `json:"assayLimits,omitempty"`
	// Synonyms are other names that people look for.
	Synonyms []string `json:"synonyms,omitempty"`
	// Hygroscopic also means taking up carbon dioxide: the mass is never exact.
	Hygroscopic bool `json:"hygroscopic,omitempty"`
	// Mixture says why no concentration can be had by weighing it: it is no one
	// compound. Empty for a compound.
	Mixture string  `json:"mixture,omitempty"`
	Keep    Keeping `json:"keep,omitempty"`
	Drying  string  `json:"drying,omitempty"`
	Note    string  `json:"note,omitempty"`
	// Signal is the GHS signal word: Danger, Warning or none.
	Signal      string   `json:"signal,omitempty"`
	Hazards     []string `json:"hazards"`
	Precautions []string `json:"precautions"`
	// Sources names where each value is from, by field; the values are keys of
	// Sources() for the library, free text for a lab's own substance.
	Sources map[string]string `json:"sources"`
}

// Dissolved names what is in a solution made of the substance.
func (s Substance) Dissolved() string {
	if s.Solute != "" {
		return s.Solute
	}
	return s.Name
}

// How well a concentrated liquid is known by its label (common practice): the density
// as a fraction, the mass fraction in g/g.
const (
	densityLimits      = 0.002
	massFractionLimits = 0.005
)

// DensitySource begins the ID of the density of a liquid as a source of uncertainty; its
// Key follows.
const DensitySource = "density "

// Molarity returns the amount concentration of a concentrated liquid in mol/L, 1000·ρ·w/M,
// with the limits of its label; ok is false for a solid, and for a formula that cannot
// be read.
func (s Substance) Molarity() (c uncertain.Number, ok bool) {
	f, err := formula.Parse(s.Formula)
	if err != nil || !s.Liquid {
		return c, false
	}
	density := uncertain.WithLimits(s.Density, densityLimits*s.Density, uncertain.RectangularShape, uncertain.Source{
		ID:    DensitySource + s.Key,
		Label: "density of the liquid",
		Basis: fmt.Sprintf("%g g/mL ± %g %%, rectangular", s.Density, 100*densityLimits),
	})
	fraction := uncertain.WithLimits(s.MassFraction, massFractionLimits, uncertain.RectangularShape, uncertain.Source{
		ID: "assay " + s.Key, Label: "assay", Basis: fmt.Sprintf("%g %% ± %g %%, rectangular", 100*s.MassFraction, 100*massFractionLimits),
	})
	return density.Times(fraction).Over(f.MolarMass()).Scale(1000), true
}

//go:embed library.json
var libraryJSON []byte

//go:embed ghs.json
var ghsJSON []byte

type statement struct {
	Text      string `json:"text"`
	Pictogram string `json:"pictogram"`
}

var library struct {
	Sources    map[string]string `json:"sources"`
	Substances []Substance       `json:"substances"`
}

var ghs struct {
	Source      string               `json:"source"`
	Hazards     map[string]statement `json:"hazards"`
	Precautions map[string]string    `json:"precautions"`
}

func init() {
	for text, target := range map[*[]byte]any{&libraryJSON: &library, &ghsJSON: &ghs, &namesJSON: &names} {
		if err := json.Unmarshal(*text, target); err != nil {
			panic("substance: embedded library: " + err.Error())
		}
	}
	for i := range library.Substances {
		library.Substances[i].Synonyms = names.Synonyms[library.Substances[i].Key]
	}
	slices.SortFunc(library.Substances, func(a, b Substance) int { return strings.Compare(a.Name, b.Name) })
}

// Library lists the substances that ship with the application, by name.
func Library() []Substance { return slices.Clone(library.Substances) }

// Sources lists the sources of the library by key.
func Sources() map[string]string { return library.Sources }

// Statement is a GHS hazard or precautionary statement with its full text.
type Statement struct {
	Code string `json:"code"`
	Text string `json:"text"`
}

// Statements gives the full texts of hazard and precautionary codes. A code that
// is not in the table keeps its place with an empty text.
func Statements(codes []string) []Statement {
	statements := make([]Statement, 0, len(codes))
	for _, code := range codes {
		text := ghs.Precautions[code]
		if h, ok := ghs.Hazards[code]; ok {
			text = h.Text
		}
		statements = append(statements, Statement{code, text})
	}
	return statements
}

// Pictograms returns the GHS pictograms for hazard codes, in rising order, with
// the precedence of UN GHS 1.4.10.5.3.1: the skull and crossbones and the
// corrosion symbol make the exclamation mark needless for the same kind of harm.
func Pictograms(hazards []string) []string {
	var pictograms []string
	has := func(code string) bool { return slices.Contains(pictograms, code) }
	for _, pass := range []bool{false, true} { // the exclamation mark last
		for _, code := range hazards {
			p := ghs.Hazards[code].Pictogram
			if p == "" || has(p) || (p == "GHS07") != pass {
				continue
			}
			acute := code == "H302" || code == "H312" || code == "H332"
			local := code == "H315" || code == "H319"
			if p == "GHS07" &&
				(acute && has("GHS06") || local && slices.ContainsFunc(hazards, func(h string) bool { return h == "H314" || h == "H318" })) {
				continue
			}
			pictograms = append(pictograms, p)
		}
	}
	slices.Sort(pictograms)
	return pictograms
}

// Check returns the problems of a substance that a lab adds, with JSON pointers
// of its fields.
func (s Substance) Check() error {
	var p verdict.Problems
	if n := len([]rune(strings.TrimSpace(s.Name))); n == 0 || n > 120 {
		p.Add("/name", "a name has 1 to 120 characters")
	}
	if f, err := formula.Parse(s.Formula); err != nil {
		p.Add("/formula", "%s", err)
	} else if f.Charge != 0 {
		p.Add("/formula", "a substance has no charge: write the whole salt")
	}
	s.checkValues(&p)
	for i, code := range s.Hazards {
		if _, ok := ghs.Hazards[code]; !ok {
			p.Add(fmt.Sprintf("/hazards/%d", i), "no hazard statement %s in the list", code)
		}
	}
	for i, code := range s.Precautions {
		if _, ok := ghs.Precautions[code]; !ok {
			p.Add(fmt.Sprintf("/precautions/%d", i), "no precautionary statement %s in the list", code)
		}
	}
	return p.OrNil()
}

// checkValues checks each value by itself.
func (s Substance) checkValues(p *verdict.Problems) {
	for _, x := range []struct {
		wrong         bool
		field, reason string
	}{
		{s.Class != Primary && s.Class != Secondary, "/class", "a substance is a primary or a secondary standard"},
		{s.Class == Primary && s.Hygroscopic, "/class", "a hygroscopic solid cannot be a primary standard"},
		{s.Density != 0 && !(s.Density >= 0.1 && s.Density <= 25), "/density", "the density of a solid is between 0.1 and 25 g/mL; leave it empty when not known"},
		{s.Solubility != 0 && !(s.Solubility > 0 && s.Solubility <= 1000), "/solubility", "the solubility is between 0 and 1000 g per 100 mL; leave it empty when not known"},
		{s.Liquid && (s.Density == 0 || !(s.MassFraction > 0 && s.MassFraction <= 1)), "/density", "a concentrated liquid needs its density and its mass fraction"},
		{s.Assay != 0 && !(s.Assay > 0 && s.Assay <= 1) || !(s.AssayLimits >= 0 && s.AssayLimits <= 0.5), "/assay", "an assay is above 0 and at most 100 %, and its limits up to 50 %"},
		{s.Keep != "" && !slices.Contains([]Keeping{KeepBase, KeepDark, KeepSulfur, KeepReducing}, s.Keep), "/keep", "a solution is kept as one of base, dark, thiosulfate or reducing; leave it empty when little spoils it"},
		{s.Signal != "" && s.Signal != "Danger" && s.Signal != "Warning", "/signal", "the signal word is Danger, Warning or none"},
	} {
		if x.wrong {
			p.Add(x.field, "%s", x.reason)
		}
	}
}
