package session

import (
	"fmt"
	"slices"
	"strings"

	"vialbench/core/substance"
)

// Caution is what a liquid of a session can do to people, by the hazards of what it is made from.
type Caution struct {
	Title string `json:"title"`
	// Signal is the signal word, Statements the texts of the hazards.
	Signal     string   `json:"signal,omitempty"`
	Statements []string `json:"statements"`
}

// AlwaysSaid is printed on every sheet of cautions.
const AlwaysSaid = "Goggles for everybody. Your local rules, the safety data sheet and licensed waste handling come first."

// Cautions lists what the items of a session can do, as the substance in the bottle does it; a solution may do less.
func (store Store) Cautions(s Session) []Caution {
	list := []Caution{}
	for _, item := range s.Items {
		i := store.substance(item.Name)
		if i < 0 || len(store.Substances[i].Hazards) == 0 {
			continue
		}
		sub := store.Substances[i]
		c := Caution{Title: sub.Name, Signal: sub.Signal, Statements: []string{}}
		for _, st := range substance.Statements(sub.Hazards) {
			c.Statements = append(c.Statements, strings.TrimSpace(st.Code+" "+st.Text))
		}
		if !slices.ContainsFunc(list, func(o Caution) bool { return o.Title == c.Title }) {
			list = append(list, c)
		}
	}
	return list
}

// Portions says what one group gets of an item: “75 mL: 40 mL trials, 20 mL spare, …”.
func (n Need) Portions() string {
	parts := make([]string, len(n.Lines))
	for i, line := range n.Lines {
		parts[i] = line.Why
	}
	return fmt.Sprintf("%s: %s", Volume(n.ML), strings.Join(parts, ", "))
}
