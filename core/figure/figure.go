// Package figure is a computed quantity as a screen or a label shows it.
package figure

import (
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
)

// Figure is one computed quantity, with the text that a screen or a label shows.
type Figure struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Unit  string `json:"unit"`
	uncertain.Number
	// Expanded is U, k = 2, in Unit.
	Expanded float64 `json:"expanded"`
	Text     string  `json:"text"`
	UText    string  `json:"uText"`
	// Budget lists what adds to U, the largest first.
	Budget []uncertain.Share `json:"budget"`
}

// New writes a number in a unit as a figure, rounded to its uncertainty.
func New(id, label, unit string, n uncertain.Number) Figure {
	text, uText := quantity.Round(n.Value, n.Expanded())
	return Figure{id, label, unit, n, n.Expanded(), text, uText, n.Budget()}
}

// Readable writes a number that may have become small in the unit it reads best in.
func Readable(id, label, unit string, n uncertain.Number) Figure {
	readable, factor := quantity.Readable(n.Value, unit)
	return New(id, label, readable, n.Scale(factor))
}
