package solution

import "vialbench/core/quantity"

// Title names what is wanted: "Potassium dihydrogen phosphate, 100 mg/L as P".
func (r Request) Title() string {
	title := r.title()
	for _, s := range r.Also {
		title += " + " + s.title()
	}
	return title
}

func (s Solute) title() string {
	title := s.Substance.Dissolved() + ", " + s.Concentration.String()
	if s.Of != "" {
		title += " as " + s.Of
	}
	if s.Reaction != "" && s.Concentration.Unit.Dimension == quantity.Equivalents {
		title += " for " + s.Reaction
	}
	return title
}
