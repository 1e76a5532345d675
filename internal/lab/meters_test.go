package lab_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/readings"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/standin"
)

// meterOf adds a meter.
func meterOf(t testing.TB, l *lab.Lab, ra lab.Actor, name string) lab.MeterView {
	t.Helper()
	m := electrode.UsualMeter()
	m.Name, m.Probe = name, "probe of "+name
	view, err := l.AddMeter(t.Context(), ra, m)
	if err != nil {
		t.Fatal(err)
	}
	return view
}

// state states a fact of a run.
func state(t testing.TB, l *lab.Lab, by lab.Actor, runID string, f fact.Fact) lab.RunView {
	t.Helper()
	f.ID = uuid.NewString()
	view, err := l.StateFact(t.Context(), by, runID, stated(f))
	if err != nil {
		t.Fatalf("%+v: %v", f, err)
	}
	return view
}

func millivolts(kind string, part int, mV float64) fact.Fact {
	q := quantity.Of(mV, "mV")
	return fact.Fact{Kind: kind, Part: part, Quantity: &q, Beside: []quantity.Quantity{quantity.Of(25, "°C")}}
}

// begun begins a run of a plan.
func begun(t testing.TB, l *lab.Lab, by lab.Actor, kind, question string) lab.RunView {
	t.Helper()
	plan, err := l.CreatePlan(t.Context(), by, uuid.NewString(), kind, json.RawMessage(question))
	if err != nil {
		t.Fatal(err)
	}
	view, err := l.BeginRun(t.Context(), by, uuid.NewString(), plan.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	return view
}

// calibrate calibrates a meter in 4 and 9 with a probe of an offset.
func calibrate(t testing.TB, l *lab.Lab, by lab.Actor, meter string, offset float64) lab.RunView {
	t.Helper()
	view := begun(
		t,
		l,
		by,
		calibration.Kind,
		fmt.Sprintf(`{"meter": %q, "celsius": "25", "buffers": [{"key": "phthalate"}, {"key": "borax"}]}`, meter),
	)
	state(t, l, by, view.ID, fact.Fact{Kind: calibration.KindBulb, Choice: "wet"})
	for part, pH := range []float64{4.005, 9.180} {
		state(t, l, by, view.ID, fact.Fact{Kind: calibration.KindDipped, Choice: "in", Part: part})
		state(t, l, by, view.ID, millivolts(calibration.KindRead, part, offset+electrode.FromShown(pH, 25)))
	}
	return state(t, l, by, view.ID, fact.Fact{Kind: run.KindDecided, Choice: "use"})
}

func heronOf(t *testing.T, l *lab.Lab) lab.MeterView {
	t.Helper()
	meters, err := l.Meters(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(meters, func(m lab.MeterView) bool { return m.Name == "Heron" })
	if i < 0 {
		t.Fatal("no Heron")
	}
	return meters[i]
}

func rowsOf(t *testing.T, l *lab.Lab, runID string) []readings.Row {
	t.Helper()
	view, err := l.Run(t.Context(), runID)
	if err != nil {
		t.Fatal(err)
	}
	return view.Outcome.View.(readings.View).Rows
}

// A meter is calibrated, read with, and calibrated again: each reading keeps the calibration
// that held, an abandoned one changes nothing, and what depends on a calibration follows it
// when a point of it is corrected.
func TestCalibrationHoldsForItsReadings(t *testing.T) {
	l, ra, it := newLab(t)
	m := meterOf(t, l, ra, "Heron")
	if _, err := l.CreatePlan(
		t.Context(),
		it,
		uuid.NewString(),
		readings.Kind,
		json.RawMessage(`{"meter": "`+m.ID+`", "name": "x", "celsius": 20}`),
	); err == nil ||
		!strings.Contains(err.Error(), "has no calibration in use") {
		t.Errorf("readings without a calibration: %v", err)
	}
	if s := heronOf(t, l).Standing; s.Word != "not calibrated" || s.Verdict.Level != verdict.Stop {
		t.Errorf("%+v", s)
	}
	first := calibrate(t, l, it, m.ID, 0)
	if got := heronOf(t, l); got.Standing.Word != "calibrated" || got.Newest.Run.ID != first.ID || len(got.Open) != 0 ||
		got.Standing.CheckBy.IsZero() {
		t.Errorf("%+v", got)
	}
	question := `{"meter": "` + m.ID + `", "name": "Pond", "celsius": "25"}`
	log := begun(t, l, it, readings.Kind, question)
	sample := millivolts(readings.KindRead, 0, 0)
	sample.Name, sample.Choice = "inlet", "sample"
	state(t, l, it, log.ID, sample)
	if rows := rowsOf(t, l, log.ID); math.Abs(rows[0].PH.Value-7) > 1e-5 {
		t.Errorf("pH %s", rows[0].PH)
	}

	abandoned := begun(t, l, ra, calibration.Kind, `{"meter": "`+m.ID+`", "celsius": 25, "buffers": [{"key": "phthalate"}, {"key": "borax"}]}`)
	if got := heronOf(t, l); len(got.Open) != 1 || got.Open[0].ID != abandoned.ID || got.Newest.Run.ID != first.ID {
		t.Errorf("while another one is under way: %+v", got)
	}
	state(t, l, ra, abandoned.ID, fact.Fact{Kind: run.KindDecided, Choice: run.ChoiceStartAgain})
	if got := heronOf(t, l); len(got.Open) != 0 || got.Newest.Run.ID != first.ID {
		t.Errorf("after it was given up: %+v", got)
	}

	second := calibrate(t, l, it, m.ID, 5.9159)
	if got := heronOf(t, l); got.Newest.Run.ID != second.ID {
		t.Error("the newest calibration is not the one that holds")
	}
	later := begun(t, l, it, readings.Kind, question)
	state(t, l, it, later.ID, sample)
	if old, is := rowsOf(t, l, log.ID)[0].PH.Value, rowsOf(t, l, later.ID)[0].PH.Value; math.Abs(old-7) > 1e-5 || math.Abs(is-7.1) > 1e-3 {
		t.Errorf("pH %g under the old one, %g under the new", old, is)
	}

	// Both points of the first were misread by as much: its readings move, the others do not.
	view, err := l.Run(t.Context(), first.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range view.Facts {
		if f.Kind != calibration.KindRead {
			continue
		}
		right := f.Body
		q := quantity.Of(right.Quantity.In("mV")-5.9159, "mV")
		right.Quantity, right.Replaces, right.Reason = &q, f.ID, "misread"
		state(t, l, it, first.ID, right)
	}
	if old, is := rowsOf(t, l, log.ID)[0].PH.Value, rowsOf(t, l, later.ID)[0].PH.Value; math.Abs(old-6.9) > 1e-3 || math.Abs(is-7.1) > 1e-3 {
		t.Errorf("after the correction: pH %g and %g, want 6.9 and 7.1", old, is)
	}

	// A correction and a note of the old one make it neither the newest nor newer.
	state(t, l, it, first.ID, fact.Fact{Kind: run.KindNote, Text: "misread by both of us"})
	if got := heronOf(t, l); got.Newest.Run.ID != second.ID {
		t.Errorf("run %d holds after a correction of run %d, not run %d", got.Newest.Run.Number, first.Number, second.Number)
	}

	// One is taken again: what depends on it is in doubt until it is in use again.
	state(t, l, it, first.ID, fact.Fact{Kind: run.KindDecided, Choice: "again", Part: 1})
	if view, err := l.Run(t.Context(), log.ID); err != nil || !strings.Contains(view.Doubt, fmt.Sprintf("depends on run %d", first.Number)) {
		t.Errorf("doubt %q, %v", view.Doubt, err)
	}
	if view, _ := l.Run(t.Context(), later.ID); view.Doubt != "" {
		t.Errorf("doubt of the other: %q", view.Doubt)
	}
}

// A check buffer that reads wrong puts the meter in doubt.
func TestFailedCheckPutsTheMeterInDoubt(t *testing.T) {
	l, ra, it := newLab(t)
	m := meterOf(t, l, ra, "Heron")
	calibrate(t, l, it, m.ID, 0)
	log := begun(t, l, it, readings.Kind, `{"meter": "`+m.ID+`", "name": "Pond", "celsius": 25}`)
	check := func(off float64) {
		t.Helper()
		f := millivolts(readings.KindRead, 0, electrode.FromShown(4.005+off, 25))
		f.Choice = "check hydrogen phthalate, 0.05 mol/kg"
		state(t, l, it, log.ID, f)
	}
	check(0.01)
	if s := heronOf(t, l).Standing; s.Word != "calibrated" {
		t.Errorf("%+v", s)
	}
	check(0.08)
	if s := heronOf(t, l).Standing; s.Word != "in doubt" || s.Verdict.Rule != "P-16" || s.Verdict.Level != verdict.Stop ||
		s.HoursLeft > 0 {
		t.Errorf("%+v", s)
	}
	calibrate(t, l, it, m.ID, -4.7)
	if s := heronOf(t, l).Standing; s.Word != "calibrated" {
		t.Errorf("calibrated again: %+v", s)
	}
	if h, err := l.HistoryOfMeter(t.Context(), m.ID); err != nil || len(h.Calibrations) != 2 ||
		math.Abs(h.Calibrations[0].Calibration.Offset.Value) > 1e-3 ||
		math.Abs(h.Calibrations[1].Calibration.Offset.Value+4.7) > 1e-3 {
		t.Errorf("%+v, %v", h, err)
	}
}

func TestMetersAreKept(t *testing.T) {
	l, ra, it := newLab(t)
	heron := meterOf(t, l, ra, "Heron")
	meterOf(t, l, ra, "Coot")
	bench, err := l.Bench(t.Context())
	if err != nil || bench.MeterID == nil || *bench.MeterID != heron.ID {
		t.Errorf("the first meter is not on the bench: %+v, %v", bench, err)
	}
	usual := electrode.UsualMeter()
	for says, try := range map[string]func() error{
		"there is a meter of that name": func() error { m := usual; m.Name = "heron"; _, err := l.AddMeter(t.Context(), ra, m); return err },
		"is for instructors":            func() error { m := usual; m.Name = "Teal"; _, err := l.AddMeter(t.Context(), it, m); return err },
		"last digit":                    func() error { _, err := l.AddMeter(t.Context(), ra, electrode.Meter{Name: "x"}); return err },
		"is not in a network":           func() error { return l.ChangeMeter(t.Context(), ra, heron.ID, "8.8.8.8:53", "") },
		"say what was done":             func() error { return l.TakeCare(t.Context(), it, heron.ID, uuid.NewString(), " ") },
		"this meter":                    func() error { return l.TakeCare(t.Context(), it, uuid.NewString(), uuid.NewString(), "x") },
	} {
		if err := try(); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%v, want %q", err, says)
		}
	}
	id := uuid.NewString()
	for range 2 { // sent again, it is kept once
		if err := l.TakeCare(t.Context(), it, heron.ID, id, "Refilled with KCl"); err != nil {
			t.Fatal(err)
		}
	}
	var conflict lab.Conflict
	if err := l.TakeCare(t.Context(), it, heron.ID, id, "Cleaned"); !errors.As(err, &conflict) {
		t.Errorf("%v", err)
	}
	if err := l.ChangeMeter(t.Context(), ra, heron.ID, "127.0.0.1:9", "probe 4"); err != nil {
		t.Fatal(err)
	}
	h, err := l.HistoryOfMeter(t.Context(), heron.ID)
	if err != nil || len(h.Care) != 1 || h.Care[0].What != "Refilled with KCl" || h.Care[0].Probe != "probe of Heron" {
		t.Errorf("%+v, %v", h, err)
	}
	if got := heronOf(t, l); got.Probe != "probe 4" || got.Address != "127.0.0.1:9" {
		t.Errorf("%+v", got)
	}
}

// Watched live, a stand-in says when it has settled, predicts where it is going, and what
// pH that is; without its cable it is lost.
func TestWatchMeter(t *testing.T) {
	l, ra, it := newLab(t)
	m := meterOf(t, l, ra, "Heron")
	calibrate(t, l, it, m.ID, 0)
	listener, err := (&net.ListenConfig{}).Listen(t.Context(), "tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go standin.Serve(t.Context(), listener, standin.NewMeter(1, 0, 1.5, 3))
	if err := l.ChangeMeter(t.Context(), ra, m.ID, listener.Addr().String(), "probe 3"); err != nil {
		t.Fatal(err)
	}
	hand := func(command, want string) {
		t.Helper()
		if got, err := l.HandStandinMeter(t.Context(), m.ID, command); err != nil || !strings.Contains(got, want) {
			t.Fatalf("%s: %q, %v", command, got, err)
		}
	}
	hand("RINSE", "rinsed=yes")
	hand("IN phthalate 25", "in=hydrogen phthalate")
	ctx, stop := context.WithTimeout(t.Context(), 2*time.Minute)
	defer stop()
	done := errors.New("seen enough")
	predicted, asked, n := false, false, 0
	err = l.WatchMeter(ctx, m.ID, func(live lab.Live) error {
		n++
		if !live.Standin || live.Identity == "" || len(live.Readings) != 2 || live.Band < 1.1 || live.Band > 1.3 {
			t.Errorf("%+v", live)
		}
		if !live.Still {
			asked = asked || live.Verdict != nil && len(live.Verdict.Choices) == 2 && live.Spread != nil
			if f := live.Predicted; f != nil && n < 40 && math.Abs(f.MV-electrode.FromShown(4.005, 25)) < 0.6 && math.Abs(f.Settling-1.5) < 0.3 &&
				f.Wait > 0 {
				predicted = true
			}
			return nil
		}
		if math.Abs(live.Readings[0].In("mV")-electrode.FromShown(4.005, 25)) > 0.5 || live.PH != "pH 4.01" && live.PH != "pH 4.00" {
			t.Errorf("settled at %s, %s", live.Text, live.PH)
		}
		return done
	})
	if !errors.Is(err, done) || !predicted || !asked {
		t.Errorf("%v after %d readings; predicted %v, asked %v", err, n, predicted, asked)
	}
	hand("LINK OFF", "link=off")
	err = l.WatchMeter(ctx, m.ID, func(live lab.Live) error {
		if live.State == "lost" && strings.Contains(live.Says, "Heron does not answer") {
			return done
		}
		return nil
	})
	if !errors.Is(err, done) {
		t.Error("without its cable it is not lost: ", err)
	}
	other := meterOf(t, l, ra, "Coot")
	if err := l.WatchMeter(ctx, other.ID, func(lab.Live) error { return nil }); err == nil ||
		!strings.Contains(err.Error(), "is not connected") {
		t.Errorf("%v", err)
	}
}

// Stateless: what calibrates answers is what reads a pH.
func TestComputeCalibrateAndPH(t *testing.T) {
	answer := func(operation, body string) map[string]any {
		t.Helper()
		got, err := lab.Compute(t.Context(), operation, []byte(body))
		if err != nil {
			t.Fatalf("%s: %v", operation, err)
		}
		text, err := json.Marshal(got)
		if err != nil {
			t.Fatal(err)
		}
		var out map[string]any
		if err := json.Unmarshal(text, &out); err != nil {
			t.Fatal(err)
		}
		return out
	}
	calibrated := answer(
		"calibrate",
		`{"points": [{"buffer": {"key": "phthalate"}, "mV": "177,2", "celsius": 25}, {"buffer": {"key": "borax"}, "mV": -129.0, "celsius": "25"}]}`,
	)
	c := calibrated["calibration"].(map[string]any)
	if slope := c["slope"].(map[string]any)["value"].(float64); math.Abs(slope-(177.2+129)/(59.159*5.175)) > 1e-4 {
		t.Errorf("slope %g", slope)
	}
	text, _ := json.Marshal(c)
	pH := answer("ph", `{"calibration": `+string(text)+`, "read": {"mV": 24.1, "celsius": 25}}`)
	if got := pH["pH"].(map[string]any)["value"].(float64); math.Abs(got-(4.005+(177.2-24.1)/(177.2+129)*5.175)) > 1e-6 ||
		!strings.Contains(pH["text"].(string), " ± ") {
		t.Errorf("%v", pH)
	}
	for _, c := range []struct{ operation, body, field string }{
		{"calibrate", `{"points": [{"buffer": {"key": "phthalate"}, "mV": 1, "celsius": 120}]}`, "/points/0/celsius"},
		{"calibrate", `{"points": []}`, "/points"},
		{"calibrate", `{"points": [{"buffer": {"key": "vinegar"}, "mV": 1, "celsius": 20}]}`, "/points/0/buffer/name"},
		{"calibrate", `{"meter": {"name": "x"}, "points": []}`, "/meter/resolution"},
		{"ph", `{"calibration": {}, "read": {"mV": 1, "celsius": 20}}`, "/calibration"},
		{"ph", `{"calibration": ` + string(text) + `, "read": {"mV": 5000, "celsius": 20}}`, "/read/mV"},
	} {
		_, err := lab.Compute(t.Context(), c.operation, []byte(c.body))
		var p verdict.Problems
		if errors.As(err, &p); len(p) == 0 || p[0].Field != c.field {
			t.Errorf("%s %s: %v, want a problem at %s", c.operation, c.body, err, c.field)
		}
	}
}
