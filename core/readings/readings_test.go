package readings_test

import (
	"errors"
	"fmt"
	"math"
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
	return fact.Fact{ID: fmt.Sprintf("f%d", n), Kind: readings.KindRead, Text: r.sample, Choice: r.choice, Quantity: &q,
		Beside: []quantity.Quantity{quantity.Of(r.celsius, "°C")}, At: nine.Add(time.Duration(r.minute) * time.Minute)}
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
		{"inlet", "7.420", ""}, {"under the willow", "6.31", "P-12 look"}, {"spring", "3.40", "P-13 look"}, {"lye", "12.60", "P-13 stop, P-21 look"},
		{"rain butt", "6.000", "P-14 stop"}, {"outlet", "7.901", "P-17 look"},
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
	if view.Calibration != "run 12 of 2026-05-11 09:00" || view.Low != 4.005 || view.High != 9.18 || view.Meter != "Heron" {
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
	if says := view.Rows[2].Verdicts[0].Sentence; !strings.Contains(says, "phosphate 1:1, 0.025 mol/kg at 09:05 UTC failed") {
		t.Error(says)
	}
	if says := view.Rows[1].Sample; says != "borax, 0.01 mol/kg" {
		t.Error(says)
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

// A calibration that is corrected moves every pH that stands on it.
func TestFollowsItsCalibration(t *testing.T) {
	plan := request(t)
	_, facts := logged(t, plan, reading{"a", "sample", 7, 25, 1})
	moved := run.Product{Detail: calibration.Result{Calibration: calibrated(t, 5.9159), At: nine.Add(time.Hour)}}
	next, changed := plan.From(readings.RoleCalibration, moved)
	if !changed {
		t.Fatal("nothing moved")
	}
	out, _ := next.Make(facts, nine)
	if got := out.View.(readings.View).Rows[0].PH.Value; math.Abs(got-7.1) > 1e-4 {
		t.Errorf("pH %g, want 7.1", got)
	}
	if _, changed := next.(run.Sourced).From(readings.RoleCalibration, moved); changed {
		t.Error("the same calibration again is a change")
	}
	if _, changed := plan.From("stock", moved); changed {
		t.Error("a stock is taken for a calibration")
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
		"/text":     func(f *fact.Fact) { f.Text = " " },
		"/text#":    func(f *fact.Fact) { f.Text = strings.Repeat("n", 61) },
		"/choice":   func(f *fact.Fact) { f.Choice = "" },
		"/choice#":  func(f *fact.Fact) { f.Choice = "check tetroxalate" },
		"/quantity": func(f *fact.Fact) { f.Quantity = nil },
		"/beside/0": func(f *fact.Fact) { f.Beside[0] = quantity.Of(120, "°C") },
		"/beside/0#": func(f *fact.Fact) {
			f.Choice, f.Text = phosphate, ""
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
