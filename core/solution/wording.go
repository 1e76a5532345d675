package solution

import (
	"fmt"
	"strings"

	"vialbench/core/fact"
	"vialbench/core/quantity"
)

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

var choiceWords = map[string]string{
	choiceClear: "all dissolved, clear", choiceSolidLeft: "solid left", choiceNeckReached: "the neck was reached with solid left",
	choiceReached: "meniscus on the line", choicePast: "past the mark",
	choiceKeep: "keep this mass", choiceAdd: "add more", choiceRemove: "remove some and discard it", choicePortion: "another portion, tared again",
	choiceStartAgain: "start again", choiceTakeTempAsIs: "go on at this temperature, corrected for",
	choiceWait: "let it come to 20 °C", choiceMixedEnough: "mixed enough", choiceSolidDissolved: "dissolved since, go on",
}

// Sentence says a fact in words, as the logbook shows it.
func Sentence(f fact.Fact) string {
	switch f.Kind {
	case KindTared:
		return fmt.Sprintf("Tared, the balance shows %s", f.Quantity)
	case KindWeighed:
		if f.After != nil {
			return fmt.Sprintf("Weighed by difference, %s before and %s after", f.Quantity, f.After)
		}
		text := fmt.Sprintf("Weighed %s", f.Quantity)
		if f.Part > 0 {
			text += fmt.Sprintf(" of substance %d", f.Part+1)
		}
		if f.Spread != nil {
			text += fmt.Sprintf(", still moving by %s", f.Spread)
		}
		if f.Instrument != "" {
			text += ", read from " + f.Instrument
		}
		return text
	case KindMadeUp:
		if f.Quantity.Unit.Dimension == quantity.Volume {
			return fmt.Sprintf("Water added, %s", f.Quantity)
		}
		return fmt.Sprintf("The solution weighs %s", f.Quantity)
	case KindWatered:
		return "Water is in the flask"
	case KindMeasured:
		return fmt.Sprintf("Measured %s", f.Quantity)
	case KindDecided:
		words, ok := choiceWords[f.Choice]
		if !ok { // a flask, by its volume
			words = "take the " + strings.TrimPrefix(f.Choice, choiceFlask) + " flask"
		}
		text := "Decided: " + words
		if f.Text != "" {
			text += " (" + f.Text + ")"
		}
		return text
	case KindTransferred:
		return "Transferred, rinsed " + times(*f.Count)
	case KindDissolved:
		return "Dissolving: " + choiceWords[f.Choice]
	case KindTemperature:
		return fmt.Sprintf("Solution at %s", f.Quantity)
	case KindMark:
		return "Making up: " + choiceWords[f.Choice]
	case KindMixed:
		return "Inverted " + times(*f.Count)
	case KindLabelled:
		text := "Labelled, keeps until " + f.Date
		if f.Text != "" {
			text += ": " + f.Text
		}
		return text
	case KindNote:
		return "Note: " + f.Text
	case fact.Withdrawn:
		return "Taken back"
	}
	return f.Kind
}
