package titration

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"vialbench/core/equilibrium"
	"vialbench/core/formula"
	"vialbench/core/reaction"
	"vialbench/core/verdict"
)

// Reaction is what goes on in the flask.
type Reaction struct {
	Key   string `json:"key"`
	Title string `json:"title"`
	// Titrant and Analyte are species of the Equation, which is balanced as it is written.
	Titrant  string `json:"titrant"`
	Analyte  string `json:"analyte"`
	Equation string `json:"equation"`
	// TitrantMarker and AnalyteMarker are elements by which the species are counted in a
	// compound that brings them, like Mn of KMnO4; empty where the compound is the species.
	// TitrantAtoms is how many of them the species has, when that is not in its formula.
	TitrantMarker string  `json:"titrantMarker,omitempty"`
	AnalyteMarker string  `json:"analyteMarker,omitempty"`
	TitrantAtoms  float64 `json:"titrantAtoms,omitempty"`
	// AnalyteSystem is the acid–base system by whose units the analyte is counted instead.
	AnalyteSystem string `json:"analyteSystem,omitempty"`
	// Standard reports whether the analyte is a primary standard for the titrant.
	Standard  bool   `json:"standard,omitempty"`
	Indicator string `json:"indicator"`
	// First is what is seen at the first of two end points that are taken of each sample; empty
	// where there is one.
	First string `json:"first,omitempty"`
	// Colour is what is seen at the end point, Dark that the titrant hides the meniscus.
	Colour     string   `json:"colour"`
	Dark       bool     `json:"dark,omitempty"`
	Conditions []string `json:"conditions,omitempty"`
	Cautions   []string `json:"cautions,omitempty"`
	Source     string   `json:"source"`
}

// Sources says in full where the titrations come from.
var sources = map[string]string{
	"vogel":  "Vogel’s Textbook of Quantitative Chemical Analysis (from memory)",
	"taught": "common practice in teaching",
}

// Cited says where it comes from.
func (r Reaction) Cited() string {
	if text, ok := sources[r.Source]; ok {
		return text
	}
	return r.Source
}

//go:embed library.json
var libraryJSON []byte

var library []Reaction

func init() {
	if err := json.Unmarshal(libraryJSON, &library); err != nil {
		panic("titration: embedded library: " + err.Error())
	}
	for _, r := range library {
		known[r.Titrant], known[r.Analyte] = readCompound(r.Titrant), readCompound(r.Analyte)
	}
}

// Library lists the titrations that ship with the application.
func Library() []Reaction { return slices.Clone(library) }

// Find returns one by its key.
func Find(key string) (r Reaction, ok bool) {
	i := slices.IndexFunc(library, func(r Reaction) bool { return r.Key == key })
	if i < 0 {
		return r, false
	}
	return library[i], true
}

// Typed is a titration of an equation of one's own, which the tool balances; titrant and
// analyte are two of its species. An error is a verdict.Problems.
func Typed(equation, titrant, analyte string) (Reaction, error) {
	a, err := reaction.Solve(reaction.Question{Equation: equation, Of: analyte, By: titrant})
	if err != nil {
		var p verdict.Problems
		for _, x := range problems(err) {
			p.Add(map[string]string{"/equation": "/equation", "/of": "/analyte", "/by": "/titrant"}[x.Field], "%s", x.Reason)
		}
		return Reaction{}, p
	}
	return Reaction{
		Title:    analyte + " with " + titrant,
		Titrant:  titrant,
		Analyte:  analyte,
		Equation: a.Text,
		Source:   "an equation of one’s own",
	}, nil
}

func problems(err error) verdict.Problems {
	p, _ := err.(verdict.Problems) //nolint:errorlint // made here, never wrapped
	return p
}

// Balanced is its equation.
func (r Reaction) Balanced() (reaction.Equation, error) {
	e, err := reaction.Parse(r.Equation)
	if err != nil {
		return e, err
	}
	return e.Balance()
}

// Ratio is how many moles of the analyte go with how many of the titrant.
func (r Reaction) Ratio() (reaction.Ratio, error) {
	e, err := r.Balanced()
	if err != nil {
		return reaction.Ratio{}, err
	}
	return e.RatioOf(r.Analyte, r.Titrant)
}

// Seen is what is seen at its end points.
func (r Reaction) Seen() string {
	if r.First == "" {
		return r.Colour
	}
	return "at the first end point " + r.First + ", at the second " + r.Colour
}

// TitrantUnits is how many units of the titrant's species each unit of a compound contains, like
// 1 MnO4- of KMnO4; ok is false when it contains none.
func (r Reaction) TitrantUnits(compound string) (n float64, ok bool) {
	n = r.titrantUnits(readCompound(compound), readCompound(r.Titrant))
	return n, n > 0
}

// AnalyteUnits is [Reaction.TitrantUnits] of the analyte.
func (r Reaction) AnalyteUnits(compound string) (n float64, ok bool) {
	n = r.analyteUnits(readCompound(compound), readCompound(r.Analyte))
	return n, n > 0
}

// Use is what a compound is to a titration: how many units of its titrant and of its analyte each
// unit of the compound contains; 0 for none.
type Use struct{ Titrant, Analyte float64 }

// Uses tells what a compound is to each titration of [Library], in that order.
func Uses(compound string) []Use {
	c := readCompound(compound)
	list := make([]Use, len(library))
	for i, r := range library {
		list[i] = Use{r.titrantUnits(c, known[r.Titrant]), r.analyteUnits(c, known[r.Analyte])}
	}
	return list
}

func (r Reaction) titrantUnits(c, titrant compound) float64 {
	return units(c, titrant, r.TitrantMarker, r.TitrantAtoms)
}

func (r Reaction) analyteUnits(c, analyte compound) float64 {
	if r.AnalyteSystem == "" {
		return units(c, analyte, r.AnalyteMarker, 0)
	}
	for _, u := range c.gives.Units {
		if u.System.Key == r.AnalyteSystem {
			return u.Count
		}
	}
	return 0
}

// compound is a formula as it was read: its atoms, without water of crystallisation, and what it gives in
// water, if that is known. Its zero value is no formula.
type compound struct {
	formula formula.Formula
	gives   equilibrium.Compound
	found   bool
}

// known are the species of the library, read once.
var known = map[string]compound{}

func readCompound(text string) (c compound) {
	f, err := formula.Parse(text)
	if err != nil {
		return c
	}
	c.formula = f
	if dry, err := f.WithWaters(0); err == nil {
		c.formula = dry
	}
	c.gives, c.found = equilibrium.CompoundOf(text)
	return c
}

// units is how many units of a species each unit of a compound contains; 0 for none.
func units(c, of compound, marker string, inSpecies float64) float64 {
	switch {
	case len(c.formula.Elements) == 0 || len(of.formula.Elements) == 0:
		return 0
	case sameAtoms(c.formula, of.formula):
		return 1
	case marker != "":
		if inSpecies == 0 {
			inSpecies = of.formula.Atoms(marker)
		}
		if n := c.formula.Atoms(marker) / inSpecies; !math.IsNaN(n) && !math.IsInf(n, 0) {
			return n
		}
		return 0
	case c.found && of.found && c.gives.Strong() != 0 && c.gives.Strong() == of.gives.Strong():
		// A strong base does for another, and a strong acid.
		return c.gives.StrongCharge() / of.gives.StrongCharge()
	}
	return 0
}

func sameAtoms(a, b formula.Formula) bool {
	if len(a.Elements) != len(b.Elements) || a.Charge != b.Charge {
		return false
	}
	for _, e := range a.Elements {
		if math.Abs(b.Atoms(e.Symbol)-e.Atoms) > 1e-9 {
			return false
		}
	}
	return true
}

// words writes a ratio: “5 Fe^2+ for 1 MnO4-”.
func (r Reaction) words(ratio reaction.Ratio) string {
	return fmt.Sprintf("%d mol of %s for %d mol of %s", ratio.Of, r.Analyte, ratio.By, r.Titrant)
}
