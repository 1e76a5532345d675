package run

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// The kinds of fact that runs of every kind have.
const (
	KindTemperature = "temperature" // Quantity
	KindMixed       = "mixed"       // Count: inversions, added up
	KindDecided     = "decided"     // Choice: one of those offered; Text: why
	KindLabelled    = "labelled"    // Date: expires; Text: what to remember
	KindNote        = "note"        // Text
)

// ChoiceStartAgain gives a run up.
const ChoiceStartAgain = "start-again"

// MaxCount is the largest count of rinses or inversions that can be meant.
const MaxCount = 200

// RuleInversions is about mixing, in a flask of a solution as in a tube of a dilution.
var RuleInversions = verdict.Rule{
	ID: "M-7", Title: "Mix thoroughly", Threshold: 20, Unit: "inversions", Min: 3, Max: 100,
	Why:    "The solution is still layered after a few turns, and the first reading of it is wrong. Some labs stop at 10.",
	Source: "common practice",
}

// Check checks the facts that all kinds have.
func Check(f fact.Fact) error {
	var p verdict.Problems
	switch f.Kind {
	case KindTemperature:
		f.Only(&p, "quantity")
		switch {
		case f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Temperature:
			p.Add("/quantity", "a temperature is in °C, like 20.5 °C")
		case !(f.Quantity.Base() >= glassware.MinTemperature && f.Quantity.Base() <= glassware.MaxTemperature):
			p.Add("/quantity", "%s: glass is used between 0 and 40 °C here", f.Quantity)
		}
	case KindMixed:
		f.Only(&p, "count")
		CheckCount(f, "inversions", &p)
	case KindDecided:
		f.Only(&p, "choice", "text")
		if f.Choice == "" {
			p.Add("/choice", "choose one of what the step offers")
		}
	case KindLabelled:
		f.Only(&p, "date", "text")
		if _, err := time.Parse(time.DateOnly, f.Date); err != nil {
			p.Add("/date", "the day it keeps until, like 2027-03-31")
		}
	case KindNote:
		f.Only(&p, "text")
		if strings.TrimSpace(f.Text) == "" {
			p.Add("/text", "the note is empty")
		}
	default:
		p.Add("/kind", "no reading of the kind “%s”", f.Kind)
	}
	return p.OrNil()
}

// CheckCount checks a count of rinses or inversions.
func CheckCount(f fact.Fact, what string, p *verdict.Problems) {
	if f.Count == nil || *f.Count < 1 || *f.Count > MaxCount {
		p.Add("/count", "%s are a number from 1 to %d", what, MaxCount)
	}
}

// CheckChoice checks an answer.
func CheckChoice(f fact.Fact, p *verdict.Problems, ids ...string) {
	if !slices.Contains(ids, f.Choice) {
		p.Add("/choice", "choose one of %s", strings.Join(ids, ", "))
	}
}

// CheckScale checks two readings of a scale that runs downward and ends at so many mL.
func CheckScale(f fact.Fact, end float64, p *verdict.Problems) {
	for _, r := range []struct {
		field string
		q     *quantity.Quantity
	}{{"/quantity", f.Quantity}, {"/after", f.After}} {
		switch {
		case r.q == nil || r.q.Unit.Dimension != quantity.Volume:
			p.Add(r.field, "a reading of the scale is a volume, like 12.34 mL")
		case !(r.q.Value >= 0) || r.q.In("mL") > end*(1+1e-9):
			p.Add(r.field, "%s is not on the scale: it goes from 0 to %s mL, and is never read beyond", r.q, quantity.Digits(end, -1))
		}
	}
	if len(*p) == 0 && f.After.Base() <= f.Quantity.Base() {
		p.Add("/after", "the reading after (%s) must be larger than the one before (%s): the scale runs downward", f.After, f.Quantity)
	}
}

// CheckReading checks one reading of a scale: on it, and no finer than it is read.
func CheckReading(f fact.Fact, glass glassware.Item, p *verdict.Problems) {
	switch q := f.Quantity; {
	case q == nil || q.Unit.Dimension != quantity.Volume:
		p.Add("/quantity", "a reading of the scale is a volume, like 12.34 mL")
	case !(q.Value >= 0) || q.In("mL") > glass.Volume*(1+1e-9):
		p.Add("/quantity", "%s is not on the scale: it goes from 0 to %s mL, and is never read beyond", q, quantity.Digits(glass.Volume, -1))
	case q.Unit.Symbol == "mL" && q.Decimals > glass.Decimals():
		p.Add("/quantity", "%s: this burette is marked every %s mL and read to %s mL, no finer",
			q, quantity.Digits(glass.Division(), -1), Finest(glass))
	}
}

// Finest is what a scale is read to, in mL, as text: 0.01.
func Finest(glass glassware.Item) string {
	return quantity.Digits(math.Pow(10, -float64(glass.Decimals())), glass.Decimals())
}

// Sentence says the facts that all kinds have in words. choices are the words for the
// decisions of the kind; a decision without any is said by its ID.
func Sentence(f fact.Fact, choices map[string]string) string {
	switch f.Kind {
	case KindTemperature:
		return fmt.Sprintf("At %s", f.Quantity)
	case KindMixed:
		return "Inverted " + Times(*f.Count)
	case KindDecided:
		words, ok := choices[f.Choice]
		if !ok {
			words = f.Choice
		}
		if f.Choice == ChoiceStartAgain {
			words = "give this run up"
		}
		return "Decided: " + words + inBrackets(f.Text)
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

func inBrackets(text string) string {
	if text == "" {
		return ""
	}
	return " (" + text + ")"
}

// GivenUp is the reason of a run that was given up.
func GivenUp(f fact.Fact) string {
	if f.Text == "" {
		return "given up"
	}
	return "given up: " + f.Text
}

// Times says how often: once, or 3 times.
func Times(n int) string {
	if n == 1 {
		return "once"
	}
	return strconv.Itoa(n) + " times"
}

// LowerFirst puts a phrase into the middle of a sentence.
func LowerFirst(s string) string {
	if s == "" || !capital(s[0]) || len(s) > 1 && capital(s[1]) { // an abbreviation
		return s
	}
	return string(s[0]-'A'+'a') + s[1:]
}

// UpperFirst puts a phrase at the beginning of a sentence. What begins with a Greek letter,
// like β-alanine, stays as it is.
func UpperFirst(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return string(s[0]-'a'+'A') + s[1:]
}

func capital(b byte) bool { return b >= 'A' && b <= 'Z' }
