package run

import (
	"fmt"
	"slices"

	"vialbench/core/equilibrium"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Origin says what a product was made from.
type Origin string

// The origins.
const (
	FromSolid       Origin = "solid"
	FromConcentrate Origin = "concentrate"
	FromSolution    Origin = "solution"
)

// FromSources is the place that a product comes from when that is no other product of
// its run, but what the plan depends on.
const FromSources = -1

// Product is what a finished run puts on the shelf: a bottle, or one tube of a rack.
type Product struct {
	// Part keeps several products of one run apart, from 0; From is the part of the same
	// run that it was made from, or FromSources.
	Part int `json:"part"`
	From int `json:"from"`
	// Tube reports whether it is one of a rack, which a small label belongs on.
	Tube bool `json:"tube,omitempty"`
	// Title tells it from others on the shelf, Name is what is in it.
	Title   string          `json:"title"`
	Name    string          `json:"name"`
	Formula []formula.Piece `json:"formula"`
	Origin  Origin          `json:"origin"`
	MadeOf  []string        `json:"madeOf"`
	// Exact reports whether its concentration stands without being standardised.
	Exact bool `json:"exact"`
	// Figures begin with what it is named by. Each has a role.
	Figures []figure.Figure `json:"figures"`
	// Expires and StandardiseBy are days, YYYY-MM-DD; empty when there is none.
	Expires       string `json:"expires,omitempty"`
	StandardiseBy string `json:"standardiseBy,omitempty"`
	Store         string `json:"store,omitempty"`
	Note          string `json:"note,omitempty"`
	// Hazards of the product at its strength, as GHS codes, and the signal word.
	Hazards []string `json:"hazards"`
	Signal  string   `json:"signal,omitempty"`
	// Ingredients are what the hazards of something made from it are calculated with.
	Ingredients []substance.Ingredient `json:"ingredients,omitempty"`
	// Mixture is what is dissolved in it, of a product whose name does not say that: a buffer.
	Mixture *equilibrium.Mixture `json:"mixture,omitempty"`
	// Standardised is its last standardisation; nil before one.
	Standardised *Standardised `json:"standardised,omitempty"`
	// Result reports whether no shelf holds it: later work takes figures from it, and what else
	// it needs from Detail.
	Result bool `json:"-"`
	Detail any  `json:"-"`
	// Readings are those of instruments that it rests on.
	Readings []Reading `json:"readings,omitempty"`
}

// Volume is how much of it there is, in mL; 0 when it is not a liquid in a bottle.
func (p Product) Volume() float64 {
	f, _ := p.Figure(figure.Volume)
	return f.Value
}

// Figure is its first figure of a role.
func (p Product) Figure(role figure.Role) (figure.Figure, bool) {
	i := slices.IndexFunc(p.Figures, func(f figure.Figure) bool { return f.Role == role })
	if i < 0 {
		return figure.Figure{}, false
	}
	return p.Figures[i], true
}

// Concentrations are the figures of concentration that it is named by.
func (p Product) Concentrations() []figure.Figure {
	var list []figure.Figure
	for _, f := range p.Figures {
		if f.Role == figure.Concentration {
			list = append(list, f)
		}
	}
	return list
}

// Poured is a product and how much of it is poured together with others.
type Poured struct {
	Product
	// Share is the part of it that is left and poured, 0…1.
	Share float64
}

// Pour is what comes of pouring products of one plan together:
//
//	c = Σ c·V / Σ V
//
// with V the volume poured; masses, amounts and volumes add up. What the products
// share, like the assay or the tolerance of one flask filled several times, stays one
// error; filling and weighing are errors of each. The pH of a mixture is not the mean of its parts: such
// products are not poured together. An error is a verdict.Problems.
func Pour(parts []Poured) (Product, error) {
	var p verdict.Problems
	if len(parts) < 2 {
		p.Add("/bottles", "pouring together takes at least two bottles")
		return Product{}, p
	}
	out := parts[0].Product
	total := uncertain.Number{}
	for _, b := range parts {
		volume, known := b.Figure(figure.Volume)
		switch {
		case !known || len(b.Figures) != len(out.Figures):
			p.Add("/bottles", "only finished bottles of one plan are poured together")
		case !(b.Share > 0 && b.Share <= 1):
			p.Add("/bottles", "an empty bottle cannot be poured together with others")
		}
		total = total.Plus(volume.Scale(b.Share))
	}
	if len(p) > 0 {
		return Product{}, p
	}
	out.Part, out.From, out.Figures, out.Readings, out.Note, out.Standardised = 0, FromSources, nil, nil, "", nil
	for i, f := range parts[0].Figures {
		sum := uncertain.Number{}
		for _, b := range parts {
			n := b.Figures[i].Scale(b.Share)
			if perVolume(f.Role) {
				volume, _ := b.Figure(figure.Volume)
				n = n.Times(volume.Number)
			}
			sum = sum.Plus(n)
		}
		switch {
		case perVolume(f.Role):
			sum = sum.Over(total)
		case !adds(f.Role):
			p.Add("/bottles", "the %s of a mixture does not follow from those of its parts: measure it", f.Label)
			return Product{}, p
		}
		out.Figures = append(out.Figures, figure.New(f.ID, f.Label, f.Unit, sum).As(f.Role))
	}
	for _, b := range parts {
		out.Exact = out.Exact && b.Exact
		out.Expires = earlier(out.Expires, b.Expires)
		out.StandardiseBy = earlier(out.StandardiseBy, b.StandardiseBy)
		out.Readings = append(out.Readings, b.Readings...)
	}
	return out, nil
}

func perVolume(role figure.Role) bool {
	return role == figure.Concentration || role == figure.OtherConcentration
}

func adds(role figure.Role) bool {
	return role == figure.Volume || role == figure.Amount || role == figure.Mass
}

// earlier returns the earlier of two days, YYYY-MM-DD; an empty one is no day.
func earlier(a, b string) string {
	if a == "" || b != "" && b < a {
		return b
	}
	return a
}

// Moved says how the main figure of a product moved when it was computed again; empty
// when it reads as before.
func (p Product) Moved(before Product) string {
	if len(p.Figures) == 0 || len(before.Figures) == 0 {
		return ""
	}
	is, was := p.Figures[0], before.Figures[0]
	if is.Text == was.Text && is.UText == was.UText && is.Unit == was.Unit {
		return ""
	}
	return fmt.Sprintf("%s → %s", was, is)
}

// Molar is its first amount concentration in mol/L; ok is false when it has none.
func (p Product) Molar() (c uncertain.Number, ok bool) {
	for _, f := range p.Concentrations() {
		if unit, err := quantity.UnitOf(f.Unit); err == nil && unit.Dimension == quantity.AmountConcentration && f.Value > 0 {
			return f.Scale(unit.Factor / quantity.Of(1, "mol/L").Base()), true
		}
	}
	return c, false
}

// Solute is the formula of its one solute as plain text; empty when it has several, or none
// that is known.
func (p Product) Solute() string {
	if len(p.Concentrations()) != 1 {
		return ""
	}
	text := ""
	for _, x := range p.Formula {
		text += x.Text
	}
	return text
}

// NamedBy are the figures that are on its label: concentrations, and the pH that was
// measured.
func (p Product) NamedBy() []figure.Figure {
	list := p.Concentrations()
	if pH, ok := p.Figure(figure.PH); ok {
		list = append(list, pH)
	}
	return list
}

// PerVolume is the figure of concentration by which the product is diluted: the first
// that counts what is in a litre of it. ok is false when it has none, or holds none.
func (p Product) PerVolume() (f figure.Figure, ok bool) {
	for _, f := range p.Figures {
		if !perVolume(f.Role) || !(f.Value > 0) {
			continue
		}
		if unit, err := quantity.UnitOf(f.Unit); err == nil && unit.Dimension.PerVolume() {
			return f, true
		}
	}
	return figure.Figure{}, false
}
