package calibration_test

import (
	"math"
	"strings"
	"testing"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
)

func solved(t *testing.T, low, high float64, keys ...string) calibration.Design {
	t.Helper()
	r := request(t, keys...)
	r.Low, r.High = low, high
	d, err := r.Solve()
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func at(d calibration.Design, pH float64) float64 {
	for _, k := range d.Known {
		if math.Abs(k.PH-pH) < 1e-9 {
			return k.Limits
		}
	}
	return math.NaN()
}

// Between two buffers the uncertainty of a pH is that of a straight line through two points, each with
// its value and its reading (JCGM 100), and of the reading of the sample; the thermometer hardly counts
// near pH 7. By hand for the middle, where each buffer counts half.
func TestWhatAPHWouldBeKnownTo(t *testing.T) {
	d := solved(t, 0, 0, "phosphate", "borax")
	m := electrode.UsualMeter()
	k := electrode.Nernst(22)
	reading := math.Hypot(m.Resolution/2/math.Sqrt(3), m.Repeatability) / k
	buffer := math.Hypot(0.02/math.Sqrt(3), reading)
	want := 2 * math.Hypot(buffer/math.Sqrt2, reading)
	if got := at(d, 8); math.Abs(got/want-1) > 0.03 {
		t.Errorf("± %.4f at pH 8, want about ± %.4f", got, want)
	}
	if at(d, 12) < 2*at(d, 8) || at(d, 2) < at(d, 12) {
		t.Errorf("beyond the buffers it grows: %.3f at 2, %.3f at 8, %.3f at 12", at(d, 2), at(d, 8), at(d, 12))
	}
	if len(d.Known) != 57 || d.Known[0].PH != 0 || d.Known[56].PH != 14 || d.Slope != k {
		t.Errorf("%d points from %g to %g, slope %g", len(d.Known), d.Known[0].PH, d.Known[56].PH, d.Slope)
	}
	if !strings.HasPrefix(d.Says, "Between the buffers a pH would be known to ±\u00a00.02") || d.Better != nil {
		t.Errorf("%s %v", d.Says, d.Better)
	}
	if d := solved(t, 0, 0, "phosphate"); !strings.HasPrefix(d.Says, "In this buffer a pH would be known to ±") {
		t.Error(d.Says)
	}
}

// A pH of 12 wants a buffer beyond 10 (common practice): the one proposed lies there, and the plan with
// it says what was said of it.
func TestTheBufferThatNarrowsIt(t *testing.T) {
	d := solved(t, 11, 12, "phosphate", "borax")
	if d.Better == nil || d.Better.Key != "hydroxide" {
		t.Fatalf("%+v", d.Better)
	}
	with := solved(t, 11, 12, "phosphate", "borax", d.Better.Key)
	worst := strings.TrimSuffix(strings.TrimPrefix(d.Better.Says, "With calcium hydroxide, saturated at 25 °C (pH 12.56) as well: "), " at worst.")
	if !strings.HasPrefix(worst, "±\u00a00.0") || !strings.Contains(with.Says, worst) || strings.Contains(d.Says, worst) {
		t.Errorf("%s\nthen %s\nbefore %s", d.Better.Says, with.Says, d.Says)
	}
	if !strings.HasPrefix(d.Says, "In samples of pH 11 to 12 a pH would be known to ±") {
		t.Error(d.Says)
	}
	if d := solved(t, 6.9, 9, "phosphate", "borax", "phthalate"); d.Better != nil {
		t.Errorf("three buffers around the samples: %+v", d.Better)
	}
	if d := solved(t, 11, 12, "tetroxalate", "phthalate", "phosphate", "borax", "carbonate"); d.Better != nil {
		t.Errorf("five buffers, and a sixth proposed: %+v", d.Better)
	}
}

// Where another buffer is wanted is said of the end that lacks one.
func TestTheEndThatLacksABuffer(t *testing.T) {
	for want, x := range map[string][2]float64{
		"take a buffer of pH 12 or more.":                       {7, 12},
		"take a buffer of pH 3 or less.":                        {3, 9},
		"take a buffer of pH 3 or less, and one of 12 or more.": {3, 12},
	} {
		d := solved(t, x[0], x[1], "phosphate", "borax")
		if got := d.Verdicts[0].Sentence; !strings.HasSuffix(got, want) {
			t.Errorf("%v: %s", x, got)
		}
	}
}

// A calibration in use is known as its design foresaw, where the probe is a good one; beyond its buffers
// less and less.
func TestReachOfACalibration(t *testing.T) {
	d := solved(t, 0, 0, "phthalate", "borax")
	var points []electrode.Point
	for _, b := range d.Request.Buffers {
		pH, err := b.At(22)
		if err != nil {
			t.Fatal(err)
		}
		points = append(points, electrode.Point{Buffer: b, MV: electrode.FromShown(pH, 22), Celsius: 22})
	}
	c, err := electrode.Calibrate(electrode.UsualMeter(), points, false)
	if err != nil {
		t.Fatal(err)
	}
	reach := calibration.Result{Calibration: c}.Reach()
	if len(reach.Known) != len(d.Known) || reach.Known[0].PH != 0 || reach.Known[len(reach.Known)-1].PH != 14 {
		t.Fatalf("%+v", reach.Known)
	}
	for i, k := range reach.Known {
		if math.Abs(k.Limits-d.Known[i].Limits) > 1e-9 {
			t.Errorf("pH %g: ± %g, foreseen ± %g", k.PH, k.Limits, d.Known[i].Limits)
		}
	}
	if twelve := reach.Known[48]; twelve.PH != 12 || !(twelve.Limits > 1.3*at(d, 7)) {
		t.Errorf("%+v, at 7 ± %g", twelve, at(d, 7))
	}
	if !strings.HasPrefix(reach.Says, "Between its buffers, pH 4.00 to 9.21, "+c.Meter.Name+" reads a pH to ±") ||
		!strings.HasSuffix(reach.Says, " at worst.") {
		t.Error(reach.Says)
	}
	one, err := electrode.Calibrate(electrode.UsualMeter(), points[:1], false)
	if err != nil {
		t.Fatal(err)
	}
	if says := (calibration.Result{Calibration: one}).Reach().Says; !strings.HasPrefix(says, "At its buffer, pH 4.00,") ||
		strings.Contains(says, "worst") {
		t.Error(says)
	}
}
