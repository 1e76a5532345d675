package calibration_test

import (
	"math"
	"strings"
	"testing"
	"time"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/verdict"
)

// probed is what a probe of a slope and an offset was found to be at eight.
func probed(t *testing.T, slope, offset float64) calibration.Result {
	t.Helper()
	var points []electrode.Point
	for _, b := range buffers(t, "phthalate", "borax") {
		pH, err := b.At(25)
		if err != nil {
			t.Fatal(err)
		}
		points = append(points, electrode.Point{Buffer: b, MV: offset - slope*electrode.Nernst(25)*(pH-7), Celsius: 25})
	}
	c, err := electrode.Calibrate(electrode.UsualMeter(), points, false)
	if err != nil {
		t.Fatal(err)
	}
	return calibration.Result{Calibration: c, At: eight}
}

// How a meter stands: by the age of its calibration, by what that was, and by its last check.
func TestStands(t *testing.T) {
	for _, c := range []struct {
		name          string
		slope, offset float64
		after         time.Duration
		failed        bool
		word, rule    string
		level         verdict.Level
		says          string
	}{
		{"fresh", 1, 0, 10 * time.Minute, false, "calibrated", "P-17", verdict.Fine, "less than an hour ago, good for 7 h more"},
		{"at noon", 1, 0, 4*time.Hour + time.Minute, false, "calibrated", "P-17", verdict.Fine, "4 h ago, good for 3 h more"},
		{"just in time", 1, 0, 8 * time.Hour, false, "calibrated", "P-17", verdict.Fine, "8 h ago, good for 0 h more"},
		{"too old", 1, 0, 8*time.Hour + time.Minute, false, "stale", "P-17", verdict.Look, "8 h ago: calibrate for this session"},
		{"a check failed", 1, 0, time.Hour, true, "in doubt", "P-16", verdict.Stop, "read wrong"},
		{"an old probe", 0.94, 0, time.Hour, false, "usable", "P-6", verdict.Look, "94.0 % of the theoretical slope: usable. Clean or recondition the probe and look again. Calibrated 1 h ago"},
		{"an offset", 1, 20, time.Hour, false, "usable", "P-10", verdict.Look, "20.0 mV at pH 7"},
		{"against advice", 0.90, 0, time.Hour, false, "in doubt", "P-8", verdict.Stop, "In use against advice. 90.0 %"},
	} {
		s := probed(t, c.slope, c.offset).Stands(eight.Add(c.after), time.Time{}, c.failed, nil)
		if s.Word != c.word || s.Verdict.Rule != c.rule || s.Verdict.Level != c.level || !strings.Contains(s.Verdict.Sentence, c.says) {
			t.Errorf("%s: %+v", c.name, s)
		}
		if want := 8 - c.after.Hours(); !c.failed && math.Abs(s.HoursLeft-want) > 1e-9 || c.failed && s.HoursLeft != 0 {
			t.Errorf("%s: %g h left", c.name, s.HoursLeft)
		}
		if good := c.word == "calibrated" || c.word == "usable"; good == s.CheckBy.IsZero() {
			t.Errorf("%s: check by %s", c.name, s.CheckBy)
		}
	}
	r := probed(t, 1, 0)
	if s := r.Stands(eight.Add(time.Hour), time.Time{}, false, nil); !s.CheckBy.Equal(eight.Add(4 * time.Hour)) {
		t.Errorf("first check by %s", s.CheckBy)
	}
	if s := r.Stands(eight.Add(4*time.Hour), eight.Add(3*time.Hour), false, nil); !s.CheckBy.Equal(eight.Add(7 * time.Hour)) {
		t.Errorf("after a check, the next by %s", s.CheckBy)
	}
	if s := r.Stands(
		eight.Add(25*time.Hour),
		time.Time{},
		false,
		verdict.Thresholds{"P-17": 48},
	); s.Word != "calibrated" ||
		s.HoursLeft != 23 {
		t.Errorf("by the lab's own rule: %+v", s)
	}
	if s := calibration.NotCalibrated(); s.Verdict.Level != verdict.Stop || s.HoursLeft > 0 {
		t.Errorf("%+v", s)
	}
}
