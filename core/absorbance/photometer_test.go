package absorbance_test

import (
	"slices"
	"strings"
	"testing"

	"vialbench/core/absorbance"
	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/working/workingtest"
)

func dunlin() *photometry.Photometer {
	m := photometry.UsualPhotometer()
	m.Name, m.StrayLight = "Dunlin", 0.1
	return &m
}

// A photometer on record is read by every step at the wavelength of the line, which it has to reach, and is named by every reading.
func TestReadWithAPhotometer(t *testing.T) {
	r := six()
	r.Photometer = dunlin()
	if got := r.Uses().Instruments; !slices.Equal(got, []string{"Dunlin"}) {
		t.Error(got)
	}
	b := begun(t, r)
	step := b.atHand()
	if !step.Tares || step.Instrument != "Dunlin" || step.Wavelength != 880 || step.Molar == nil || *step.Molar != 0 {
		t.Errorf("the blank: %+v", step)
	}
	b.do(absorbance.KindBlank, 0, "0.000")
	step = b.atHand()
	if step.Tares || step.Instrument != "Dunlin" || step.Molar == nil {
		t.Errorf("the first tube: %+v", step)
	}
	out, _ := b.out()
	var molar []float64
	for _, s := range out.Steps {
		if s.Kind == absorbance.KindRead && s.Molar != nil {
			molar = append(molar, *s.Molar)
		}
	}
	if len(molar) != len(r.Standards) {
		t.Fatalf("what is in the cell is known of %d tubes", len(molar))
	}
	near(t, "mol/L of 1 mg/L P", molar[1], 1e-3/30.973761998, 1e-12)
	wrong := fact.Fact{Kind: absorbance.KindRead, Beside: []quantity.Quantity{quantity.Of(620, "nm")}}
	if err := b.state(wrong, "0.1"); err == nil || !strings.Contains(err.Error(), "stood at 620 nm") {
		t.Error(err)
	}
	right := fact.Fact{Kind: absorbance.KindRead, Beside: []quantity.Quantity{quantity.Of(880, "nm")}, Instrument: "Dunlin"}
	if err := b.state(right, "0.004"); err != nil {
		t.Fatal(err)
	}
	if step = b.atHand(); !slices.Contains(step.Remarks, "a bubble") {
		t.Errorf("%v", step.Remarks)
	}
	if err := b.state(fact.Fact{Kind: absorbance.KindRead, Part: 1, Text: "a bubble, cloudy"}, "1.960"); err != nil {
		t.Fatal(err)
	}
	if out, _ = b.out(); len(out.Readings) != 3 || out.Readings[2].Instrument != "Dunlin" {
		t.Errorf("%+v", out.Readings)
	}
	said := ""
	for _, s := range out.Steps {
		for _, v := range s.Verdicts {
			said += v.Sentence + "\n"
		}
	}
	if !strings.Contains(said, "Stray light of Dunlin takes 2.1 % off 1.960 AU") {
		t.Error(said)
	}

	if !strings.Contains(said, "Read with a remark: a bubble, cloudy. Put it right") {
		t.Error(said)
	}

	r.Wavelength = 300
	if _, err := r.Design(); err == nil || !strings.Contains(err.Error(), "Dunlin reaches 320 to 1000 nm") {
		t.Error(err)
	}
}

// Without one, nothing is set to zero by the sheet, and no reading is an instrument's.
func TestReadWithoutAPhotometer(t *testing.T) {
	b := begun(t, six())
	if step := b.atHand(); step.Tares || step.Instrument != "" {
		t.Errorf("%+v", step)
	}
	b.do(absorbance.KindBlank, 0, "0.000")
	if out, _ := b.out(); len(out.Readings) != 0 || six().Uses().Instruments != nil {
		t.Errorf("%+v", out.Readings)
	}
}

// Readings that scatter more when they are strong weigh less, and the working says by how much.
func TestWeightedLine(t *testing.T) {
	r := six()
	r.Scatter = &photometry.Scatter{Floor: 0.002, Part: 2}
	b := measured(t, r)
	_, view := b.out()
	q := photometry.Question{X: []float64{0, 1, 2, 3, 4, 5}, Scatter: r.Scatter}
	for _, v := range view.Vessels[:6] {
		q.Y = append(q.Y, v.Mean)
	}
	want, err := photometry.Fit(q)
	if err != nil || view.Line == nil {
		t.Fatal(err, view.Not)
	}
	near(t, "slope", view.Line.Slope, want.Line.Slope, 1e-12)
	if !strings.HasSuffix(view.Says, "; each reading weighs by its scatter") {
		t.Error(view.Says)
	}
	if s := view.Vessels[6].Schools; s[0].Name != "weighted line with intercept, all that adds to it" || !s[0].Taken {
		t.Errorf("%+v", s)
	}
	for id, says := range map[string]string{"slope": `\sum w_i`, "unknown 6": `\frac{1}{m\,w_0}`} {
		lines, err := b.plan.Explain(b.facts, id)
		if err != nil {
			t.Fatal(err)
		}
		workingtest.Check(t, lines)
		found := false
		for _, l := range lines {
			found = found || strings.Contains(l.Formula, says)
		}
		if !found {
			t.Errorf("%s is worked out as %+v", id, lines)
		}
	}
	r.Scatter = &photometry.Scatter{Floor: 0, Part: 2}
	if _, err := r.Design(); err == nil || !strings.Contains(err.Error(), "about its last digit") {
		t.Error(err)
	}
}

// What was measured before says about what will be read, until there is a line of one's own.
func TestExpectedByAnEarlierLine(t *testing.T) {
	r := six()
	for _, c := range []struct {
		slope float64
		says  string
	}{
		{0.1172, "As in run 31, they will read about 0.00 to 0.59 AU."},
		{0.3, "As in run 31, they will read about 0.00 to 1.50 AU. The strongest is above 0.8: take a shorter path, or a weaker rack."},
		{0.03, "As in run 31, they will read about 0.00 to 0.15 AU. All are below 0.2: take a longer path, or a stronger rack."},
	} {
		r.Before = &absorbance.Before{Number: 31, Slope: c.slope, Intercept: 0.001}
		if _, view := begun(t, r).out(); view.Predicted != c.says || view.Before == nil {
			t.Errorf("%q", view.Predicted)
		}
	}
	r.Before.Slope = 0.1172
	b := begun(t, r)
	b.do(absorbance.KindBlank, 0, "0.000")
	b.do(absorbance.KindRead, 0, "0.004")
	if step := b.atHand(); step.Expects != "0.12 AU" {
		t.Errorf("%q", step.Expects)
	}
	b.do(absorbance.KindRead, 1, "0.121")
	b.do(absorbance.KindRead, 2, "0.239")
	if _, view := b.out(); view.Predicted != "" || view.Before != nil || view.Line == nil {
		t.Errorf("%q stays beside a line", view.Predicted)
	}
}

// Until it is kept, the table has a row to write into for everything that is still to be read.
func TestTableToWriteInto(t *testing.T) {
	r := six()
	r.Replicates = 2
	b := begun(t, r)
	rows := func() (names []string) {
		out, _ := b.out()
		for _, row := range out.Table[1:] {
			free := ""
			if row[5] == "\u00a0" {
				free = " to read"
			}
			names = append(names, row[0]+" "+row[2]+free)
		}
		return names
	}
	if got := rows(); len(got) != 1+2*7 || got[0] != "Blank 1  to read" || got[1] != "The standard of 0 mg/L P 0 to read" || got[14] != "Pond  to read" {
		t.Errorf("%d: %q", len(got), got)
	}
	b.do(absorbance.KindBlank, 0, "0.000")
	b.do(absorbance.KindRead, 0, "0.004")
	if got := rows(); len(got) != 2*7 || got[0] != "The standard of 0 mg/L P 0 to read" || got[1] != "The standard of 0 mg/L P 0" {
		t.Errorf("%d: %q", len(got), got)
	}
	b.decide("start-again", 0, "")
	if got := rows(); len(got) != 1 {
		t.Errorf("given up, there is still to read: %q", got)
	}
}
