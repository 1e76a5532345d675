package readings

import (
	"slices"
	"strings"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// KindRead is a line of the log: Name says which sample, Choice what was read or seen, by
// its ID below; Text is a note, or the colour in words. A reading of the meter is as in
// package electrode; a range is its two ends, as Quantity and After.
const KindRead = "reading"

const (
	choiceSample = "sample"
	choiceDilute = "dilute"
	choiceSodium = "sodium"
	choiceCheck  = "check " // and the name of the buffer
	choicePaper  = "paper"
	choiceTubes  = "tubes"
	choiceBath   = "bath"
	choiceWarmed = "warmed"
	choiceEnd    = "end"

	choiceRedStayed  = "red litmus stayed"
	choiceRedTurned  = "red litmus turned"
	choiceBlueStayed = "blue litmus stayed"
	choiceBlueTurned = "blue litmus turned"
)

// What is stated with a choice.
const (
	takesReading = "name reading note"
	takesCheck   = "reading note"
	takesRange   = "name range words"
	takesWords   = "name words"
	takesBath    = "name temperature"
	takesName    = "name note"
)

// Parts implements [run.Plan].
func (r Request) Parts() int { return 1 }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch {
	case f.Kind != KindRead:
		return nil
	case r.takes(f.Choice) == takesRange:
		return []quantity.Dimension{quantity.Acidity}
	case r.takes(f.Choice) == takesBath:
		return []quantity.Dimension{quantity.Temperature}
	}
	return r.Calibration.Meter.Takes()
}

// takes is what is stated with a choice; empty of one that there is not.
func (r Request) takes(choice string) string {
	for _, o := range r.options() {
		if o.ID == choice {
			return o.Takes
		}
	}
	return ""
}

// options are what may be read or seen.
func (r Request) options() []verdict.Choice {
	list := []verdict.Choice{
		{ID: choiceSample, Label: "A sample", Takes: takesReading},
		{ID: choiceDilute, Label: "Rain, deionised or very soft water", Takes: takesReading},
		{ID: choiceSodium, Label: "A sample with much sodium (lye, soap, brine)", Takes: takesReading},
	}
	for _, p := range r.Calibration.Points {
		list = append(list, verdict.Choice{ID: choiceCheck + p.Buffer.Name, Label: "Check buffer: " + p.Buffer.Name, Takes: takesCheck})
	}
	return append(list,
		verdict.Choice{ID: choicePaper, Label: "Without the meter: indicator paper", Takes: takesRange},
		verdict.Choice{ID: choiceTubes, Label: "Without the meter: between two reference tubes", Takes: takesRange},
		verdict.Choice{ID: choiceRedStayed, Label: "Without the meter: red litmus stayed red", Takes: takesName},
		verdict.Choice{ID: choiceRedTurned, Label: "Without the meter: red litmus turned blue", Takes: takesName},
		verdict.Choice{ID: choiceBlueStayed, Label: "Without the meter: blue litmus stayed blue", Takes: takesName},
		verdict.Choice{ID: choiceBlueTurned, Label: "Without the meter: blue litmus turned red", Takes: takesName},
		verdict.Choice{ID: choiceBath, Label: "A tube goes into a warm or cold bath", Takes: takesBath},
		verdict.Choice{ID: choiceWarmed, Label: "Its colour beside the untouched control", Takes: takesWords},
	)
}

// checkBuffer is the buffer of a check.
func (r Request) checkBuffer(choice string) (electrode.Buffer, bool) {
	name, ok := strings.CutPrefix(choice, choiceCheck)
	i := slices.IndexFunc(r.Calibration.Points, func(p electrode.Fitted) bool { return p.Buffer.Name == name })
	if !ok || i < 0 {
		return electrode.Buffer{}, false
	}
	return r.Calibration.Points[i].Buffer, true
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	if f.Kind != KindRead {
		return run.Check(f)
	}
	var p verdict.Problems
	takes := r.takes(f.Choice)
	name := strings.TrimSpace(f.Name)
	switch {
	case takes == "":
		p.Add("/choice", "say what was read: a sample, one of the buffers of the calibration, or what was seen without the meter")
		return p
	case name == "" && strings.HasPrefix(takes, "name"):
		p.Add("/name", "name the sample, as it is called on its vessel")
	}
	switch takes {
	case takesReading, takesCheck:
		f.Only(&p, "name", "quantity", "spread", "beside", "choice", "text")
		r.Calibration.Meter.CheckReading(f, &p)
	case takesRange:
		f.Only(&p, "name", "quantity", "after", "choice", "text")
		checkRange(f, &p)
	case takesBath:
		f.Only(&p, "name", "quantity", "choice", "text")
		if q := f.Quantity; q == nil || !(q.Base() >= 0 && q.Base() <= 100) {
			p.Add("/quantity", "a bath has 0 to 100 °C")
		}
	default:
		f.Only(&p, "name", "choice", "text")
	}
	if takes == takesWords && len(strings.TrimSpace(f.Text)) < leastWords {
		p.Add("/text", "say the colour in words beside the control, like “more yellow than the control, yellow-orange”")
	}
	if b, ok := r.checkBuffer(f.Choice); ok && len(p) == 0 {
		if _, err := b.At(r.Calibration.Meter.Read(f, r.Celsius).Celsius); err != nil {
			p.Add("/beside/0", "%s", err)
		}
	}
	return p.OrNil()
}

// leastWords is the shortest word for a colour.
const leastWords = 3

// checkRange checks the two ends of a range of pH.
func checkRange(f fact.Fact, p *verdict.Problems) {
	for field, q := range map[string]*quantity.Quantity{"/quantity": f.Quantity, "/after": f.After} {
		if q == nil || !(q.Value >= 0 && q.Value <= 14) {
			p.Add(field, "a pH from 0 to 14")
		}
	}
	if len(*p) == 0 && f.After.Value < f.Quantity.Value {
		p.Add("/after", "the range goes from the lower pH (%s) to the higher one", quantity.Digits(f.Quantity.Value, f.Quantity.Decimals))
	}
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	if f.Kind != KindRead {
		return run.Sentence(f, map[string]string{choiceEnd: "end this log"})
	}
	name := strings.TrimSpace(f.Name)
	if b, ok := r.checkBuffer(f.Choice); ok {
		name = "Check in " + b.Name
	}
	switch r.takes(f.Choice) {
	case takesReading, takesCheck:
		return name + " reads " + electrode.Shown(*f.Quantity) + f.Read()
	case takesRange:
		return name + ", " + methods[f.Choice] + ": " + ranged(f) + f.Read()
	case takesBath:
		return name + " into a bath at " + f.Quantity.String() + f.Read()
	case takesWords:
		return name + " beside its control: " + strings.TrimSpace(f.Text)
	}
	return name + ": " + methods[f.Choice] + f.Read()
}

// methods say how something was found without the meter.
var methods = map[string]string{
	choicePaper: "indicator paper", choiceTubes: "between two reference tubes", choiceRedStayed: "red litmus stayed red",
	choiceRedTurned: "red litmus turned blue", choiceBlueStayed: "blue litmus stayed blue", choiceBlueTurned: "blue litmus turned red",
	choiceBath: "into a bath", choiceWarmed: "beside its control",
}

// ranged writes a range of pH.
func ranged(f fact.Fact) string {
	return "pH " + quantity.Digits(f.Quantity.Value, f.Quantity.Decimals) + " to " + quantity.Digits(f.After.Value, f.After.Decimals)
}
