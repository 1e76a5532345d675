// Package fact is what a person or an instrument states at the bench. Facts are
// added and never changed: a correction is a new fact that replaces an earlier
// one, with a reason.
package fact

import (
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Fact is one thing that was seen or decided. Which fields it uses depends on
// its Kind; the package of the run's kind says so.
type Fact struct {
	ID       string             `json:"id"`
	Kind     string             `json:"kind"`
	Quantity *quantity.Quantity `json:"quantity,omitempty"`
	// After is the second reading of a weighing by difference.
	After *quantity.Quantity `json:"after,omitempty"`
	// Spread is how far the reading still moved when it was taken.
	Spread *quantity.Quantity `json:"spread,omitempty"`
	// Beside is what the instrument showed beside the Quantity: °C with mV.
	Beside []quantity.Quantity `json:"beside,omitempty"`
	// Instrument names what the reading came from, when nobody typed it.
	Instrument string `json:"instrument,omitempty"`
	// Part tells which of several things that are taken the fact is about, from 0.
	Part  int  `json:"part,omitempty"`
	Count *int `json:"count,omitempty"`
	// Name is what the fact is about, as it is called on its vessel: a sample.
	Name string `json:"name,omitempty"`
	// Choice is an answer or a decision, by its ID.
	Choice string `json:"choice,omitempty"`
	Text   string `json:"text,omitempty"`
	// Date is a day, YYYY-MM-DD.
	Date string `json:"date,omitempty"`
	// Replaces is the ID of the fact that this one corrects, with the Reason.
	Replaces string    `json:"replaces,omitempty"`
	Reason   string    `json:"reason,omitempty"`
	By       string    `json:"by,omitempty"`
	At       time.Time `json:"at"`
}

// Only adds a problem for every field that a fact carries beyond those that its kind
// has: it would stay on record and mean nothing.
func (f Fact) Only(p *verdict.Problems, fields ...string) {
	for _, x := range []struct {
		name    string
		carried bool
	}{
		{"quantity", f.Quantity != nil},
		{"after", f.After != nil},
		{"spread", f.Spread != nil},
		{"beside", len(f.Beside) > 0},
		{"count", f.Count != nil},
		{"name", f.Name != ""},
		{"choice", f.Choice != ""},
		{"text", f.Text != ""},
		{"date", f.Date != ""},
	} {
		if x.carried && !slices.Contains(fields, x.name) {
			p.Add("/"+x.name, "“%s” has no %s: leave it out", f.Kind, x.name)
		}
	}
}

// The most that a fact carries.
const (
	MaxText   = 2000
	MaxReason = 300
	MaxWord   = 60 // of a kind, a name, an instrument
	MaxChoice = 80
	MaxBeside = 4
)

// Bounded adds a problem for every field that carries more than a fact can, or what no
// record can be kept with.
func (f Fact) Bounded(p *verdict.Problems) {
	for _, x := range []struct {
		name, text string
		most       int
	}{
		{"kind", f.Kind, MaxWord},
		{"name", f.Name, MaxWord},
		{"choice", f.Choice, MaxChoice},
		{"instrument", f.Instrument, MaxWord},
		{"date", f.Date, len("2027-03-31")},
		{"text", f.Text, MaxText},
		{"reason", f.Reason, MaxReason},
	} {
		switch {
		case utf8.RuneCountInString(x.text) > x.most:
			p.Add("/"+x.name, "this is too long: at most %d characters", x.most)
		case !utf8.ValidString(x.text) || strings.ContainsRune(x.text, 0):
			p.Add("/"+x.name, "this has a character in it that cannot be kept: leave it out")
		}
	}
	if len(f.Beside) > MaxBeside {
		p.Add("/beside", "at most %d quantities are read at once", MaxBeside+1)
	}
}

// Read says in words how a reading came about: still moving, and where from, when it was
// not typed; and what to remember of it.
func (f Fact) Read() string {
	text := ""
	for _, q := range f.Beside {
		text += ", " + q.String()
	}
	if f.Spread != nil {
		text += ", still moving by " + f.Spread.String()
	}
	if f.Instrument != "" {
		text += ", read from " + f.Instrument
	}
	if f.Text != "" {
		text += " (" + f.Text + ")"
	}
	return text
}

// Withdrawn is the Kind of a correction that takes a fact back altogether.
const Withdrawn = "withdrawn"

// Standing returns the facts that stand, in the order in which they were first
// stated: a corrected fact gives way to its correction in its own place and at its own
// time, which is when it was read, and a withdrawn one is gone.
func Standing(facts []Fact) []Fact {
	var replacement map[string]int
	for i, f := range facts {
		if f.Replaces == "" {
			continue
		}
		if replacement == nil {
			replacement = map[string]int{}
		}
		replacement[f.Replaces] = i
	}
	standing := make([]Fact, 0, len(facts))
	for i, f := range facts {
		if f.Replaces != "" {
			continue
		}
		for range facts { // a chain of corrections is no longer than the list
			next, corrected := replacement[facts[i].ID]
			if !corrected {
				break
			}
			i = next
		}
		if facts[i].Kind != Withdrawn {
			standing = append(standing, facts[i])
			standing[len(standing)-1].At = f.At
		}
	}
	return standing
}
