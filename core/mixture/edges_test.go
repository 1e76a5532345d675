package mixture_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/mixture"
	"vialbench/core/photometry"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

// The edges are allowed: twenty samples, sixty letters, a dilution of one, five replicates, a blank as old as it may be.
func TestEdges(t *testing.T) {
	r := ironCopper()
	r.Samples = []mixture.Sample{{Name: strings.Repeat("x", 60), Diluted: 1}, {Name: "b", Diluted: 1e6}}
	for len(r.Samples) < 20 {
		r.Samples = append(r.Samples, mixture.Sample{Name: "more"})
	}
	r.Replicates = 5
	if _, err := r.Design(); err != nil || r.Parts() != 40 {
		t.Error(err)
	}
	for field, change := range map[string]func(*mixture.Request){
		"/samples":           func(r *mixture.Request) { r.Samples = append(r.Samples, mixture.Sample{Name: "one more"}) },
		"/samples/1/diluted": func(r *mixture.Request) { r.Samples = []mixture.Sample{{Name: "a"}, {Name: "b", Diluted: 1.01e6}} },
		"/replicates":        func(r *mixture.Request) { r.Replicates = 0 },
	} {
		other := r
		change(&other)
		var p verdict.Problems
		if _, err := other.Design(); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	r = ironCopper()
	r.Thresholds = verdict.Thresholds{photometry.RuleBlank.ID: 2}
	b := begun(t, r)
	b.State(shows(mixture.KindBlank, 0, 0))
	b.State(fact.Fact{Kind: run.KindNote, Text: "a minute later"})
	if now := runtest.Now(t, b.State(shows(mixture.KindRead, 0, 0.1))); now.ID != "blank 1 0" { // two minutes are not too long
		t.Errorf("%+v", now)
	}
	// Almost as much as the strongest standards hold is inside.
	out := read(begun(t, ironCopper()), []float64{9970e-6*49.9 + 34e-6*499}, []float64{84e-6*49.9 + 856e-6*499})
	if list := view(out).Samples[0].Verdicts; len(list) != 0 {
		t.Errorf("%+v", list)
	}
}

// A photometer on record is what every reading names, and what depends on it.
func TestItsPhotometer(t *testing.T) {
	r := ironCopper()
	r.Photometer = &photometry.Photometer{Name: "Dunlin", Low: 320, High: 1000, StrayLight: 0.02, Resolution: 0.001}
	if uses := r.Uses(); len(uses.Instruments) != 1 || uses.Instruments[0] != "Dunlin" {
		t.Errorf("%+v", uses)
	}
	out := read(begun(t, r), []float64{0.183}, []float64{0.109})
	if len(out.Readings) != 4 || out.Readings[3].Instrument != "Dunlin" {
		t.Errorf("%+v", out.Readings)
	}
	if s := out.Steps[0]; s.Instrument != "Dunlin" || !s.Tares || s.Molar == nil || *s.Molar != 0 || len(s.Remarks) == 0 || len(s.Cautions) == 0 {
		t.Errorf("%+v", s)
	}
	if s := begun(t, ironCopper()).Outcome().Steps[0]; s.Tares || s.Instrument != "" {
		t.Errorf("%+v", s)
	}
}

// Of two samples each has its own figures, doubts and offers, and an old line that both substances share is told once.
func TestTwoSamples(t *testing.T) {
	r := ironCopper()
	r.Samples = []mixture.Sample{{Name: "the first"}, {Name: "the second"}}
	for of := range r.Substances {
		r.Substances[of].Lines[0].Run = "one rack"
		r.Substances[of].Lines[0].Line.At = runtest.Noon.Add(-20 * time.Hour)
	}
	b := begun(t, r)
	b.State(shows(mixture.KindBlank, 0, 0))
	b.State(shows(mixture.KindRead, 0, 0.183))
	bubble := shows(mixture.KindRead, 1, 0.366)
	bubble.Text = "a bubble"
	b.State(bubble)
	b.State(shows(mixture.KindBlank, 1, 0))
	b.State(shows(mixture.KindRead, 2, 0.109))
	out := b.State(shows(mixture.KindRead, 3, 0.218))
	iron := 1e6 * (0.183*856 - 34*0.109) / (9970*856 - 34*84)
	near(t, "the first", figureOf(t, out, "sample 0 substance 0").Value, iron, 1e-9)
	near(t, "the second", figureOf(t, out, "sample 1 substance 0").Value, 2*iron, 1e-9)
	v := view(out)
	if n := len(v.Samples[0].Verdicts); n != 1 || says(v.Samples[0].Verdicts, photometry.RuleOld) == "" {
		t.Errorf("%+v", v.Samples[0].Verdicts)
	}
	if says(v.Samples[1].Verdicts, photometry.RuleRemarked) == "" {
		t.Errorf("%+v", v.Samples[1].Verdicts)
	}
	var offers []string
	for _, o := range out.Offers {
		if o.ID == "again" {
			offers = append(offers, fmt.Sprintf("%d %s", o.Part, o.Label))
		}
	}
	if got := strings.Join(offers, "; "); got != "0 Read the first once more at 550 nm; 1 Read the second once more at 550 nm; "+
		"2 Read the first once more at 396 nm; 3 Read the second once more at 396 nm" {
		t.Error(got)
	}
	doubts := out.Table[len(out.Table)-1][9]
	if !strings.Contains(doubts, "AB-22: Read with a remark: a bubble") || !strings.Contains(doubts, "AB-12: The line is 20 hours old") {
		t.Error(doubts)
	}
	if len(out.Plots) != 2 || out.Plots[1].Names[0] != "the second" || math.Abs(out.Plots[1].Drops[0][0]-2*iron) > 1e-9 {
		t.Errorf("%+v", out.Plots)
	}
	lines, err := b.Plan.Explain(b.Facts, "sample 1 substance 1")
	if err != nil {
		t.Fatal(err)
	}
	workingtest.Check(t, lines)
	for i, want := range []string{
		`A_1 = \frac{\sum A}{m} - a_{11} - a_{12}`, `A_2 = \frac{\sum A}{m} - a_{21} - a_{22}`,
		`c_2 = \frac{A_2 b_{11} - A_1 b_{21}}{b_{11} b_{22} - b_{21} b_{12}}`,
		`s(c_2) = \frac{\sqrt{(b_{21} s_1)^2 + (b_{11} s_2)^2}}{b_{11} b_{22} - b_{21} b_{12}}`,
	} {
		if lines[i].Formula != want {
			t.Errorf("%s", lines[i].Formula)
		}
	}
	if lines[1].From[1] != "a: the intercepts of the lines of runs 2 and 4" || lines[2].Symbol != "c_2" || lines[2].Result != "251.15 µmol/L" {
		t.Errorf("%+v", lines[:3])
	}
}
