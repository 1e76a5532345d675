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

// KindRead is a reading: Text names the sample, Choice says what the probe stands in: a
// sample (empty), one with hardly any ions, one with much sodium, or a check buffer, by
// “check ” and its name. The rest is as in package electrode.
const KindRead = "reading"

const (
	choiceSample = "sample"
	choiceDilute = "dilute"
	choiceSodium = "sodium"
	choiceCheck  = "check " // and the name of the buffer
	choiceEnd    = "end"
)

// Parts implements [run.Plan].
func (r Request) Parts() int { return 1 }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	if f.Kind == KindRead {
		return r.Calibration.Meter.Takes()
	}
	return nil
}

// options are what the probe may stand in.
func (r Request) options() []verdict.Choice {
	list := []verdict.Choice{
		{ID: choiceSample, Label: "A sample"},
		{ID: choiceDilute, Label: "Rain, deionised or very soft water"},
		{ID: choiceSodium, Label: "A sample with much sodium (lye, soap, brine)"},
	}
	for _, p := range r.Calibration.Points {
		list = append(list, verdict.Choice{ID: choiceCheck + p.Buffer.Name, Label: "Check buffer: " + p.Buffer.Name})
	}
	return list
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
	f.Only(&p, "quantity", "spread", "beside", "choice", "text")
	r.Calibration.Meter.CheckReading(f, &p)
	switch name := strings.TrimSpace(f.Text); {
	case len([]rune(name)) > MaxName:
		p.Add("/text", "the name of a sample has at most %d letters", MaxName)
	case name == "" && !strings.HasPrefix(f.Choice, choiceCheck):
		p.Add("/text", "name the sample, as it stands on its vessel")
	}
	if !slices.ContainsFunc(r.options(), func(o verdict.Choice) bool { return o.ID == f.Choice }) {
		p.Add("/choice", "say what the probe stands in: a sample, or one of the buffers of the calibration")
	}
	if b, ok := r.checkBuffer(f.Choice); ok && len(p) == 0 {
		if _, err := b.At(r.Calibration.Meter.Read(f, r.Celsius).Celsius); err != nil {
			p.Add("/beside/0", "%s", err)
		}
	}
	return p.OrNil()
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	if f.Kind != KindRead {
		return run.Sentence(f, map[string]string{choiceEnd: "end this log"})
	}
	name := strings.TrimSpace(f.Text)
	if b, ok := r.checkBuffer(f.Choice); ok {
		name = "Check in " + b.Name
	}
	f.Text = ""
	return name + " reads " + electrode.Shown(*f.Quantity) + f.Read()
}
