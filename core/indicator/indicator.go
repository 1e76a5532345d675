// Package indicator knows the acid–base indicators of teaching laboratories: over which pH
// each changes, and which colours it shows on the way, in words.
//
// An indicator is itself a weak acid, HIn ⇌ H⁺ + In⁻. The eye sees the colour of one form alone
// when there is about ten times as much of it as of the other, so the change takes about two
// units of pH around its pKa:
//
//	pH = pKa + log([In⁻]/[HIn])
//
// The intervals are those that handbooks list for room temperature (CRC Handbook of Chemistry
// and Physics, “Acid–base indicators”; Vogel’s Textbook of Quantitative Chemical Analysis; from
// memory). The words for the mixed colours are common practice.
package indicator

import (
	"cmp"
	"math"
	"slices"
)

// Shades is how many colours are told apart: the acid's, three on the way, the base's.
const Shades = 5

// Indicator is one of them.
type Indicator struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	// From and To is the pH between which it changes, PKa that of the change.
	From float64 `json:"from"`
	To   float64 `json:"to"`
	PKa  float64 `json:"pKa"`
	// Words name its colours, from the acid's to the base's, and Colours shows them (#rrggbb).
	Words   [Shades]string `json:"words"`
	Colours [Shades]string `json:"colours"`
}

// Shade is which of its colours it shows at a pH, from 0 (acid) to Shades − 1 (base).
func (i Indicator) Shade(pH float64) int {
	switch {
	case pH < i.From:
		return 0
	case pH > i.To:
		return Shades - 1
	}
	const between = Shades - 2
	return 1 + min(between-1, int(between*(pH-i.From)/(i.To-i.From)))
}

// Colour names what it shows at a pH.
func (i Indicator) Colour(pH float64) string { return i.Words[i.Shade(pH)] }

var library = []Indicator{
	{
		"thymol-blue-acid", "thymol blue, in acid", 1.2, 2.8, 1.65,
		[Shades]string{"red", "red-orange", "orange", "yellow-orange", "yellow"},
		[Shades]string{"#c8322d", "#d9622b", "#e08f33", "#e3b340", "#e6cf52"},
	},
	{
		"bromophenol-blue", "bromophenol blue", 3.0, 4.6, 3.85,
		[Shades]string{"yellow", "yellow-green", "green", "blue-green", "blue-violet"},
		[Shades]string{"#e6cf52", "#b9bf56", "#7c9c66", "#5b7f95", "#4b4f9c"},
	},
	{
		"methyl-orange", "methyl orange", 3.1, 4.4, 3.4,
		[Shades]string{"red", "red-orange", "orange", "yellow-orange", "yellow"},
		[Shades]string{"#cf3a2e", "#dc632c", "#e38d33", "#e6ae3c", "#e8c94a"},
	},
	{
		"bromocresol-green", "bromocresol green", 3.8, 5.4, 4.7,
		[Shades]string{"yellow", "yellow-green", "green", "blue-green", "blue"},
		[Shades]string{"#e6cf52", "#b5c257", "#6fa263", "#3f8a86", "#2f64a8"},
	},
	{
		"methyl-red", "methyl red", 4.2, 6.3, 5.0,
		[Shades]string{"red", "red-orange", "orange", "yellow-orange", "yellow"},
		[Shades]string{"#c9303a", "#d95b33", "#e18a35", "#e5ad40", "#e8cb50"},
	},
	{
		"bromocresol-purple", "bromocresol purple", 5.2, 6.8, 6.1,
		[Shades]string{"yellow", "yellow-grey", "grey", "grey-violet", "violet"},
		[Shades]string{"#e6cf52", "#c2b05e", "#97857a", "#7d5c8b", "#6b3d92"},
	},
	{
		"bromothymol-blue", "bromothymol blue", 6.0, 7.6, 7.1,
		[Shades]string{"yellow", "yellow-green", "green", "blue-green", "blue"},
		[Shades]string{"#e4cc4b", "#aebf52", "#64a05f", "#3a8a8b", "#2c62ab"},
	},
	{
		"phenol-red", "phenol red", 6.8, 8.2, 7.9,
		[Shades]string{"yellow", "yellow-orange", "orange", "red-orange", "red-violet"},
		[Shades]string{"#e6cf52", "#e4a944", "#de7f42", "#d2504f", "#b92a6a"},
	},
	{
		"cresol-red", "cresol red", 7.2, 8.8, 8.2,
		[Shades]string{"yellow", "yellow-orange", "orange", "red-orange", "red-violet"},
		[Shades]string{"#e6cf52", "#e3a645", "#dc7a43", "#cd4a52", "#ab2a72"},
	},
	{
		"thymol-blue", "thymol blue, in base", 8.0, 9.6, 8.9,
		[Shades]string{"yellow", "yellow-green", "green", "blue-green", "blue"},
		[Shades]string{"#e6cf52", "#b1bf55", "#6a9f62", "#40868c", "#3a5fa6"},
	},
	{
		"phenolphthalein", "phenolphthalein", 8.2, 10.0, 9.4,
		[Shades]string{"colourless", "palest pink", "pale pink", "pink", "deep pink"},
		[Shades]string{"#f7f6f2", "#f6dfe6", "#f0b9cc", "#e27fa8", "#cc3f86"},
	},
	{
		"thymolphthalein", "thymolphthalein", 9.3, 10.5, 9.9,
		[Shades]string{"colourless", "palest blue", "pale blue", "blue", "deep blue"},
		[Shades]string{"#f7f6f2", "#dfe7f2", "#b3c8e6", "#6f96d1", "#2f5db4"},
	},
	{
		"alizarin-yellow", "alizarin yellow R", 10.1, 12.0, 11.0,
		[Shades]string{"yellow", "yellow-orange", "orange", "red-orange", "red"},
		[Shades]string{"#e8cf50", "#e6ae40", "#df8836", "#d45f30", "#c23a2c"},
	},
}

// Library lists them by the pH at which they change.
func Library() []Indicator { return slices.Clone(library) }

// Find returns one by its key.
func Find(key string) (i Indicator, ok bool) {
	at := slices.IndexFunc(library, func(i Indicator) bool { return i.Key == key })
	if at < 0 {
		return i, false
	}
	return library[at], true
}

// At lists those that change at a pH, the one with its pKa nearest first.
func At(pH float64) []Indicator {
	var list []Indicator
	for _, i := range library {
		if pH >= i.From && pH <= i.To {
			list = append(list, i)
		}
	}
	slices.SortStableFunc(list, func(a, b Indicator) int { return cmp.Compare(math.Abs(a.PKa-pH), math.Abs(b.PKa-pH)) })
	return list
}
