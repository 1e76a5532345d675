package readings_test

import (
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/readings"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

var nine = time.Date(2026, 5, 11, 9, 0, 0, 0, time.UTC)

// calibrated is a probe without faults, in 4, 7 and 9, at 25 °C.
func calibrated(t testing.TB, offset float64) electrode.Calibration {
	t.Helper()
	m := electrode.UsualMeter()
	m.Name = "Heron"
	var points []electrode.Point
	for _, key := range []string{"phthalate", "phosphate", "borax"} {
		b, _ := electrode.BufferOf(key)
		pH, _ := b.At(25)
		points = append(points, electrode.Point{ID: key, Buffer: b, MV: offset + electrode.FromShown(pH, 25), Celsius: 25})
	}
	c, err := electrode.Calibrate(m, points, false)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func request(t testing.TB) readings.Request {
	return readings.Request{Name: "Pond, six places", Calibration: calibrated(t, 0), CalibratedAt: nine, Run: "r", Number: 12, Celsius: 20}
}

const (
	phosphate = "check phosphate 1:1, 0.025 mol/kg"
	borax     = "check borax, 0.01 mol/kg"
)

type reading struct {
	sample, choice string
	pH, celsius    float64
	minute         int
}

func (r reading) fact(n int) fact.Fact {
	q := quantity.Of(math.Round(10*electrode.FromShown(r.pH, r.celsius))/10+0, "mV")
	q.Decimals = 1
	return fact.Fact{
		ID: fmt.Sprintf("f%d", n), Kind: readings.KindRead, Name: r.sample, Choice: r.choice, Quantity: &q,
		Beside: []quantity.Quantity{quantity.Of(r.celsius, "°C")}, At: nine.Add(time.Duration(r.minute) * time.Minute),
	}
}

func logged(t *testing.T, plan readings.Request, list ...reading) (readings.View, []fact.Fact) {
	t.Helper()
	var facts []fact.Fact
	for i, r := range list {
		f := r.fact(i)
		if err := run.Admit(plan, facts, f, f.At); err != nil {
			t.Fatalf("%+v: %v", r, err)
		}
		facts = append(facts, f)
	}
	out, err := plan.Make(facts, nine)
	if err != nil {
		t.Fatal(err)
	}
	return out.View.(readings.View), facts
}

func rules(row readings.Row) string {
	var list []string
	for _, v := range row.Verdicts {
		list = append(list, v.Rule+" "+string(v.Level))
	}
	return strings.Join(list, ", ")
}

func TestRows(t *testing.T) {
	plan := request(t)
	view, facts := logged(t, plan,
		reading{"inlet", "sample", 7.42, 24, 1},
		reading{"  under the willow ", "sample", 6.31, 14, 2},
		reading{"spring", "sample", 3.4, 24, 3},
		reading{"lye", "sodium", 12.6, 24, 4},
		reading{"rain butt", "dilute", 6.0, 24, 5},
		reading{"outlet", "sample", 7.9, 24, 9 * 60},
	)
	for i, want := range []struct{ sample, pH, rules string }{
		{"inlet", "7.420", ""},
		{"under the willow", "6.31", "P-12 look"},
		{"spring", "3.40", "P-13 look"},
		{"lye", "12.60", "P-13 stop, P-21 look"},
		{"rain butt", "6.000", "P-14 stop"},
		{"outlet", "7.901", "P-17 look"},
	} {
		row := view.Rows[i]
		if row.Sample != want.sample || math.Abs(row.PH.Value-[]float64{7.42, 6.31, 3.4, 12.6, 6, 7.9}[i]) > 0.002 || rules(row) != want.rules ||
			row.Check {
			t.Errorf("%d: %s, pH %s, %s; want %+v", i, row.Sample, row.PH.Text, rules(row), want)
		}
		if row.Refused != (want.sample == "rain butt") || row.Shown != plan.Calibration.Meter.Name && !strings.HasSuffix(row.Shown, " mV") {
			t.Errorf("%+v", row)
		}
		lines, err := plan.Explain(facts, row.PH.ID)
		if err != nil || len(lines) != 3 {
			t.Fatal(lines, err)
		}
		workingtest.Check(t, lines)
	}
	if view.Calibration != "run 12" || !view.CalibratedAt.Equal(nine) || view.Low != 4.005 || view.High != 9.18 || view.Meter != "Heron" {
		t.Errorf("%+v", view)
	}
	out, _ := plan.Make(facts, nine)
	if len(out.Figures) != 5 || out.Figures[0].Label != "inlet" || out.Status != run.Open {
		t.Errorf("%d figures, %s", len(out.Figures), out.Status)
	}
	if _, err := plan.Explain(facts, "reading nobody took"); err == nil {
		t.Error("a reading that there is not was explained")
	}
}

// A check that fails marks what was read since the last good one, and nothing else.
func TestFailedCheckMarksWhatWasReadSince(t *testing.T) {
	view, _ := logged(t, request(t),
		reading{"a", "sample", 7, 25, 1},
		reading{"", borax, 9.20, 25, 2}, // holds
		reading{"b", "sample", 7, 25, 3},
		reading{"c", "sample", 7, 25, 4},
		reading{"", phosphate, 6.94, 25, 5}, // 0.075 off
		reading{"d", "sample", 7, 25, 6},
	)
	want := []string{"", "P-16 fine", "P-16 look", "P-16 look", "P-16 stop", ""}
	for i, row := range view.Rows {
		if rules(row) != want[i] || row.Check != (i == 1 || i == 4) {
			t.Errorf("%d %s: %s, want %s", i, row.Sample, rules(row), want[i])
		}
	}
	if says := view.Rows[2].Verdicts[0].Sentence; !strings.Contains(says, "phosphate 1:1, 0.025 mol/kg failed") {
		t.Error(says)
	}
	if says := view.Rows[1].Sample; says != "borax, 0.01 mol/kg" {
		t.Error(says)
	}
}

// The log as a table: what a spreadsheet shows.
func TestTable(t *testing.T) {
	plan := request(t)
	_, facts := logged(t, plan, reading{"inlet", "sample", 7.42, 24, 1}, reading{"rain", "dilute", 6, 25, 2}, reading{"", borax, 9.2, 25, 3})
	facts[0].Text = "brown"
	out, err := plan.Make(facts, nine)
	if err != nil {
		t.Fatal(err)
	}
	want := [][]string{
		{"time", "sample", "pH", "U (k = 2)", "°C", "shown", "found by", "note", "doubts"},
		{"2026-05-11T09:01:00Z", "inlet", out.Figures[0].Text, out.Figures[0].UText, "24.0", "−24.8 mV", "Heron", "brown", ""},
		{
			"2026-05-11T09:02:00Z", "rain", "", "", "25.0", "59.2 mV", "Heron", "",
			"P-14: Hardly any ions in it: a meter does not read this water. Say so instead of a pH.",
		},
		{
			"2026-05-11T09:03:00Z",
			"borax, 0.01 mol/kg",
			out.View.(readings.View).Rows[2].PH.Text,
			out.View.(readings.View).Rows[2].PH.UText,
			"25.0",
			"−130.2 mV",
			"check of Heron",
			"",
			"",
		},
	}
	if !reflect.DeepEqual(out.Table, want) {
		t.Errorf("%q\nwant %q", out.Table, want)
	}
}

// The log ends by a decision, and hands on the pH of its samples, no check and no water
// that a meter does not read.
func TestEnd(t *testing.T) {
	plan := request(t)
	_, facts := logged(t, plan, reading{"a", "sample", 7, 25, 1}, reading{"", borax, 9.2, 25, 2}, reading{"rain", "dilute", 6, 25, 3})
	end := fact.Fact{ID: "end", Kind: run.KindDecided, Choice: "end"}
	if err := run.Admit(plan, facts, end, nine); err != nil {
		t.Fatal(err)
	}
	facts = append(facts, end)
	out, err := plan.Make(facts, nine)
	if err != nil || out.Status != run.Finished || len(out.Products) != 1 || !out.Products[0].Result || len(out.Products[0].Figures) != 1 ||
		len(out.Readings) != 3 {
		t.Errorf("%+v, %v", out, err)
	}
	if run.Admit(plan, facts, reading{"b", "sample", 7, 25, 5}.fact(9), nine) == nil {
		t.Error("a log that ended goes on")
	}
	for i, want := range []string{"a reads 0.0 mV, 25 °C", "Check in borax, 0.01 mol/kg reads −130.2 mV, 25 °C", "rain reads 59.2 mV, 25 °C", "Decided: end this log"} {
		if got := plan.Sentence(facts[i]); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
	gone, _ := plan.Make(append(facts[:3:3], fact.Fact{Kind: run.KindDecided, Choice: run.ChoiceStartAgain, Text: "wrong pond"}), nine)
	if gone.Status != run.Void || gone.Reason != "given up: wrong pond" {
		t.Errorf("%s: %s", gone.Status, gone.Reason)
	}
}

// A calibration that is corrected moves every pH that depends on it.
func TestFollowsItsCalibration(t *testing.T) {
	plan := request(t)
	_, facts := logged(t, plan, reading{"a", "sample", 7, 25, 1})
	moved := run.Product{Detail: calibration.Result{Calibration: calibrated(t, 5.9159), At: nine.Add(time.Hour)}}
	next, changed := plan.From(readings.RoleCalibration, moved)
	if !changed || !next.(readings.Request).CalibratedAt.Equal(nine.Add(time.Hour)) {
		t.Fatal("nothing moved, or not when it was made")
	}
	out, _ := next.Make(facts, nine)
	if got := out.View.(readings.View).Rows[0].PH.Value; math.Abs(got-7.1) > 1e-4 {
		t.Errorf("pH %g, want 7.1", got)
	}
	if _, changed := next.(run.Sourced).From(readings.RoleCalibration, moved); changed {
		t.Error("the same calibration again is a change")
	}
	if _, changed := plan.From("stock", moved); changed {
		t.Error("a stock is treated as a calibration")
	}
	bound := plan.Bound(readings.RoleCalibration, run.Source{Run: "x"}, 40).(readings.Request)
	if bound.Run != "x" || bound.Number != 40 || plan.Uses().Sources[0].Run != "r" {
		t.Errorf("%+v", bound)
	}
}

func TestRefused(t *testing.T) {
	plan := request(t)
	good := reading{"a", "sample", 7, 25, 1}.fact(0)
	for want, change := range map[string]func(*fact.Fact){
		"/name":     func(f *fact.Fact) { f.Name = " " },
		"/choice":   func(f *fact.Fact) { f.Choice = "" },
		"/choice#":  func(f *fact.Fact) { f.Choice = "check tetroxalate" },
		"/quantity": func(f *fact.Fact) { f.Quantity = nil },
		"/beside/0": func(f *fact.Fact) { f.Beside[0] = quantity.Of(120, "°C") },
		"/beside/0#": func(f *fact.Fact) {
			f.Choice, f.Name = phosphate, ""
			f.Beside[0] = quantity.Of(55, "°C")
		},
		"/count": func(f *fact.Fact) { n := 2; f.Count = &n },
	} {
		f := good
		f.Beside = append([]quantity.Quantity(nil), good.Beside...)
		change(&f)
		var p verdict.Problems
		if errors.As(plan.Check(f), &p); len(p) != 1 || p[0].Field != strings.TrimRight(want, "#") {
			t.Errorf("%+v: %v, want one at %s", f, p, want)
		}
	}
	for want, r := range map[string]readings.Request{
		"/name":    {Calibration: plan.Calibration},
		"/run":     {Name: "x"},
		"/celsius": {Name: "x", Calibration: plan.Calibration, Celsius: 61},
	} {
		var p verdict.Problems
		_, err := r.Design()
		if errors.As(err, &p); len(p) != 1 || p[0].Field != want {
			t.Errorf("%v, want one at %s", err, want)
		}
	}
	if _, err := plan.Design(); err != nil || plan.Title() != "Pond, six places: pH with Heron" {
		t.Error(err, plan.Title())
	}
}

// Papers, reference tubes and baths: what was seen without the meter stands in the log too.
func TestSeenWithoutTheMeter(t *testing.T) {
	plan := request(t)
	var facts []fact.Fact
	state := func(minute float64, f fact.Fact) {
		t.Helper()
		f.ID, f.Kind = fmt.Sprintf("f%d", len(facts)), readings.KindRead
		f.At = nine.Add(time.Duration(minute * float64(time.Minute)))
		if err := run.Admit(plan, facts, f, f.At); err != nil {
			t.Fatalf("%+v: %v", f, err)
		}
		facts = append(facts, f)
	}
	pH := func(x float64) *quantity.Quantity {
		q := quantity.Of(x, "pH")
		q.Decimals = 1
		return &q
	}
	bath := quantity.Of(60, "°C")
	state(1, fact.Fact{Name: "a", Choice: "paper", Quantity: pH(6), After: pH(6.5), Text: "yellow-green"})
	state(2, fact.Fact{Name: "a", Choice: "tubes", Quantity: pH(5), After: pH(6)})
	state(3, fact.Fact{Name: "b", Choice: "red litmus stayed"})
	state(4, fact.Fact{Name: "b", Choice: "blue litmus turned"})
	state(5, fact.Fact{Name: "c", Choice: "red litmus stayed"})
	state(6, fact.Fact{Name: "C", Choice: "blue litmus stayed"})
	state(7, fact.Fact{Name: "d", Choice: "red litmus turned"})
	state(8, fact.Fact{Name: "d", Choice: "blue litmus turned"})
	state(9, fact.Fact{Name: "e", Choice: "blue litmus stayed"})
	state(10, fact.Fact{Name: "tube 1", Choice: "bath", Quantity: &bath})
	clock := func() *run.Clock {
		t.Helper()
		out, err := plan.Make(facts, nine)
		if err != nil {
			t.Fatal(err)
		}
		return out.Steps[0].Clock
	}
	if c := clock(); c == nil || c.What != "tube 1" || c.Minutes != 5 || !c.Since.Equal(nine.Add(10*time.Minute)) {
		t.Errorf("the clock of the bath: %+v", c)
	}
	state(14.9, fact.Fact{Name: "tube 1", Choice: "warmed", Text: "more red than the control, red-orange"})
	if c := clock(); c != nil {
		t.Errorf("it was looked at, and the clock runs on: %+v", c)
	}
	state(15, fact.Fact{Name: "Tube 1", Choice: "warmed", Text: "red"})
	state(16, fact.Fact{Name: "tube 2", Choice: "warmed", Text: "as the control"})
	out, err := plan.Make(facts, nine)
	if err != nil {
		t.Fatal(err)
	}
	rows := out.View.(readings.View).Rows
	for i, want := range []struct{ says, rules, sentence string }{
		{"pH 6.0 to 6.5", "", "a, indicator paper: pH 6.0 to 6.5 (yellow-green)"},
		{"pH 5.0 to 6.0", "P-25 look", "a, between two reference tubes: pH 5.0 to 6.0"},
		{"Not alkaline. Take blue", "P-27 look", "b: red litmus stayed red"},
		{"Acid: below about pH 5.", "P-27 fine", "b: blue litmus turned red"},
		{"Not alkaline", "P-27 look", "c: red litmus stayed red"},
		{"Both stayed: about neutral", "P-27 fine", "C: blue litmus stayed blue"},
		{"Alkaline: above about pH 8.", "P-27 fine", "d: red litmus turned blue"},
		{"cannot be one sample", "P-27 stop", "d: blue litmus turned red"},
		{"Not acid. Take red", "P-27 look", "e: blue litmus stayed blue"},
		{"at 60 °C", "", "tube 1 into a bath at 60 °C"},
		{"In the bath for 4 of 5 min", "P-26 look", "tube 1 beside its control: more red than the control, red-orange"},
		{"", "", "Tube 1 beside its control: red"},
		{"", "", "tube 2 beside its control: as the control"},
	} {
		row := rows[i]
		all := row.Shown
		for _, v := range row.Verdicts {
			all += v.Sentence
		}
		if !strings.Contains(all, want.says) || rules(row) != want.rules || plan.Sentence(facts[i]) != want.sentence || row.Method == "" {
			t.Errorf("%d: %q, %s, %q; want %+v", i, all, rules(row), plan.Sentence(facts[i]), want)
		}
	}
	if f := rows[0].PH; f.Value != 6.25 || math.Abs(f.U()-0.25/math.Sqrt(3)) > 1e-12 || rows[0].Note != "yellow-green" {
		t.Errorf("%s, %q", f, rows[0].Note)
	}
	if len(out.Figures) != 2 { // a colour tells no figure
		t.Errorf("%d figures", len(out.Figures))
	}
	lines, err := plan.Explain(facts, rows[1].PH.ID)
	if err != nil {
		t.Fatal(err)
	}
	workingtest.Check(t, lines)
	if _, err := plan.Explain(facts, rows[2].PH.ID); err == nil {
		t.Error("a colour was explained as a figure")
	}
	for field, f := range map[string]fact.Fact{
		"/after":     {Name: "a", Choice: "paper", Quantity: pH(6), After: pH(5)},
		"/quantity":  {Name: "a", Choice: "paper", Quantity: pH(15.2), After: pH(16)},
		"/quantity#": {Name: "a", Choice: "bath"},
		"/name":      {Choice: "blue litmus stayed"},
		"/text":      {Name: "a", Choice: "warmed", Text: "  "},
	} {
		f.Kind = readings.KindRead
		var p verdict.Problems
		if errors.As(plan.Check(f), &p); len(p) == 0 ||
			!slices.ContainsFunc(p, func(x verdict.Problem) bool { return x.Field == strings.TrimRight(field, "#") }) {
			t.Errorf("%+v: %v, want one at %s", f, p, field)
		}
	}
}

// A check of the meter marks what the meter read, and nothing that was seen.
func TestChecksDoNotMarkPapers(t *testing.T) {
	plan := request(t)
	view, facts := logged(t, plan, reading{"a", "sample", 7, 25, 1})
	q := quantity.Of(6, "pH")
	facts = append(
		facts,
		fact.Fact{
			ID:       "paper",
			Kind:     readings.KindRead,
			Name:     "a",
			Choice:   "paper",
			Quantity: &q,
			After:    &q,
			Text:     "green",
			At:       nine.Add(2 * time.Minute),
		},
	)
	facts = append(facts, reading{"", phosphate, 7.1, 25, 3}.fact(2))
	out, err := plan.Make(facts, nine)
	if err != nil {
		t.Fatal(err)
	}
	if view = out.View.(readings.View); rules(view.Rows[0]) != "P-16 look" || rules(view.Rows[1]) != "" {
		t.Errorf("%s; %s", rules(view.Rows[0]), rules(view.Rows[1]))
	}
}
