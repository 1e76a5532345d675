// Package figure is a computed quantity as a screen or a label shows it.
package figure

import (
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
)

// Role says what a figure stands for, so that whatever reads a product need not know
// the kind of work that made it.
type Role string

// The roles. A product is named by its concentrations; other concentrations say the same
// on another basis, or of another entity.
const (
	Concentration      Role = "concentration"
	OtherConcentration Role = "other concentration"
	Amount             Role = "amount"
	Mass               Role = "mass"
	Volume             Role = "volume"
	PH                 Role = "pH"
	Capacity           Role = "buffer capacity"
	Strength           Role = "ionic strength"
	Slope              Role = "slope"  // of a probe, % of theory
	Offset             Role = "offset" // of a probe, mV at pH 7
	TimeConstant       Role = "time constant"
	PercentError       Role = "percent error"
)

// Figure is one computed quantity, with the text that a screen or a label shows.
type Figure struct {
	ID    string `json:"id"`
	Role  Role   `json:"role,omitempty"`
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
	return Figure{ID: id, Label: label, Unit: unit, Number: n, Expanded: n.Expanded(), Text: text, UText: uText, Budget: n.Budget()}
}

// As gives the figure its role.
func (f Figure) As(role Role) Figure {
	f.Role = role
	return f
}

// String writes value, uncertainty and unit: "0.1000 ± 0.0002 mol/L"; a pH has its name
// instead of a unit.
func (f Figure) String() string {
	if f.Role == PH {
		return "pH " + f.Text + " ± " + f.UText
	}
	if f.UText == "0" {
		return f.Text + " " + f.Unit
	}
	return f.Text + " ± " + f.UText + " " + f.Unit
}
