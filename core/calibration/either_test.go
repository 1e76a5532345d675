package calibration_test

import (
	"math"
	"slices"
	"testing"

	"vialbench/core/calibration"
	"vialbench/core/figure"
	"vialbench/core/run"
)

// A meter of potentials that is switched to pH: the first reading says how it is read, and all the
// others are read the same way.
func TestMeterThatShowsEither(t *testing.T) {
	s := begin(t, "phthalate", "phosphate").says(calibration.KindBulb, "wet", 0).says(calibration.KindDipped, "in", 0)
	if step := s.step("read 1"); len(step.Dimensions) != 2 || step.Unit != "mV" {
		t.Errorf("%+v", step)
	}
	s.state(display(0, 4.10)).says(calibration.KindDipped, "in", 1)
	if step := s.step("read 2"); len(step.Dimensions) != 1 || step.Unit != "pH" || step.Then == nil {
		t.Errorf("%+v", step)
	}
	mixed := *s
	mixed.facts = slices.Clone(s.facts)
	mixed.state(reading(1, 8, 25))
	step := mixed.step("read 2")
	if len(step.Verdicts) != 1 || step.Verdicts[0].Rule != "P-28" || len(step.Verdicts[0].Choices) != 1 || step.Asks ||
		step.Verdicts[0].Sentence != "8 mV, and the first buffer was read in pH: read all of them the same way." {
		t.Errorf("%+v", step)
	}
	out := s.state(display(1, 6.90)).says(run.KindDecided, "use", 0).outcome()
	if slope := out.Figures[slices.IndexFunc(out.Figures, func(f figure.Figure) bool { return f.ID == "slope" })]; math.Abs(slope.Value-100*2.80/2.86) > 1e-9 {
		t.Errorf("%s", slope)
	}
	is := out.Products[0].Detail.(calibration.Result).Calibration //nolint:errcheck // what a calibration gives
	if !is.Meter.ShowsPH || is.Meter.Resolution != 0.01 || s.plan.Meter.ShowsPH {
		t.Errorf("%+v", is.Meter)
	}
	// Read in mV first, it stays in mV.
	s = begin(t, "phthalate", "phosphate").says(calibration.KindBulb, "wet", 0).takes(0, 175).says(calibration.KindDipped, "in", 1)
	if step := s.step("read 2"); len(step.Dimensions) != 1 || step.Unit != "mV" || step.Then != nil {
		t.Errorf("%+v", step)
	}
}
