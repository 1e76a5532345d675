package absorbance

import (
	"fmt"
	"strconv"

	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The kinds of fact of a run, beside those that all kinds of work have. The Part of a reading is the place of its tube,
// unknowns after standards; that of a cell its place.
const (
	KindCell    = "cell-read"        // Quantity: with the blank in it, the first cell set to zero
	KindBlank   = "blank-set"        // Quantity: what it read after it was set to zero
	KindRead    = "absorbance-read"  // Quantity: absorbance or transmittance
	KindWarm    = "cell-temperature" // Quantity: of the standards (Part 0) or of the unknowns (1)
	KindGuessed = "guessed"          // Choice: between which standards an unknown seems to lie
)

// The choices of a run.
const (
	choiceEnd    = "end"
	choiceBlank  = "blank"
	choiceAgain  = "again"
	choiceStrike = "strike"
)

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch f.Kind {
	case KindCell, KindBlank, KindRead:
		return photometry.Readings()
	case KindWarm:
		return []quantity.Dimension{quantity.Temperature}
	}
	return nil
}

var shown = []quantity.Dimension{quantity.Absorbance, quantity.Transmittance}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	switch f.Kind {
	case KindCell, KindBlank, KindRead:
		f.Only(&p, "quantity", "spread", "beside", "text")
		photometry.CheckShown(f.Quantity, &p)
		photometry.CheckSet(f.Beside, r.Wavelength, &p)
		if f.Kind == KindRead && f.Part >= len(r.Standards)+len(r.Unknowns) || f.Kind == KindCell && f.Part >= r.Cells {
			p.Add("/part", "there is no such tube or cell in this plan")
		}
	case KindWarm:
		f.Only(&p, "quantity", "text")
		if q := f.Quantity; q == nil || !(q.In("°C") >= 0 && q.In("°C") <= 100) {
			p.Add("/quantity", "the temperature of what is in the cell, from 0 to 100 °C")
		}
		if f.Part > ofUnknowns {
			p.Add("/part", "the temperature is that of the standards or of the unknowns")
		}
	case KindGuessed:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, r.guesses()...)
		if i := r.unknown(f.Part); i < 0 || i >= len(r.Unknowns) {
			p.Add("/part", "only an unknown is estimated")
		}
	default:
		if f.Kind == run.KindDecided && f.Choice == choiceStrike && f.Text == "" {
			p.Add("/text", "say why it is struck: a bubble, a fingerprint, two tubes exchanged")
			return p
		}
		return run.Check(f)
	}
	return p.OrNil()
}

// What has a temperature of its own, by the Part of its fact.
const (
	ofStandards = iota
	ofUnknowns
)

func warmName(part int) string {
	if part == ofUnknowns {
		return "temperature of the unknowns"
	}
	return "temperature of the standards"
}

// guesses are the IDs of what an estimate by eye can say: between which standards, by their order.
func (r Request) guesses() []string {
	n := len(r.line().Standards)
	list := make([]string, n+1)
	for i := range list {
		list[i] = strconv.Itoa(i)
	}
	return list
}

// sayGuess says it in words.
func (r Request) sayGuess(choice string) string {
	i, err := strconv.Atoi(choice)
	sorted := r.sorted()
	if err != nil || i < 0 || i > len(sorted) {
		return choice
	}
	text := func(k int) string { return r.sayConcentration(sorted[k], 3) }
	switch i {
	case 0:
		return "paler than " + text(0)
	case len(sorted):
		return "darker than " + text(len(sorted)-1)
	}
	return "between " + text(i-1) + " and " + text(i)
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	switch f.Kind {
	case KindCell:
		return fmt.Sprintf("Cell %d with the blank in it shows %s", f.Part+1, f.Quantity) + f.Read()
	case KindBlank:
		return fmt.Sprintf("Blank set to zero; it shows %s", f.Quantity) + f.Read()
	case KindRead:
		return run.UpperFirst(r.vessel(f.Part)) + " shows " + f.Quantity.String() + f.Read()
	case KindWarm:
		return run.UpperFirst(warmName(f.Part)) + ": " + f.Quantity.String() + f.Read()
	case KindGuessed:
		return run.UpperFirst(r.vessel(f.Part)) + " seems to the eye " + r.sayGuess(f.Choice)
	case run.KindDecided:
		of := " " + r.vessel(f.Part)
		words := map[string]string{
			choiceEnd: "keep this line", choiceBlank: "set the blank again", choiceAgain: "read" + of + " again", choiceStrike: "strike" + of,
		}
		if r.Earlier != nil {
			words[choiceEnd] = "keep these readings"
		}
		return run.Sentence(f, words)
	}
	return run.Sentence(f, nil)
}

// vessel names a tube or an unknown.
func (r Request) vessel(part int) string {
	if i := r.unknown(part); i >= 0 {
		if i < len(r.Unknowns) {
			return r.Unknowns[i].Name
		}
		return "a tube"
	}
	return r.Standards[part].name(r.Unit)
}

// name of a standard: its bottle, or what it contains.
func (s Standard) name(unit string) string {
	if s.Name != "" {
		return s.Name
	}
	if s.Number > 0 {
		return fmt.Sprintf("bottle %d", s.Number)
	}
	return "the standard of " + say(s.Concentration, unit)
}
