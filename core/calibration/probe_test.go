package calibration_test

import (
	"math"
	"strings"
	"testing"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/working/workingtest"
)

// shows is a reading of a meter.
func shows(id string, value float64, unit string) fact.Fact {
	q := quantity.Of(value, unit)
	return fact.Fact{ID: id, Quantity: &q}
}

// What a meter that was not calibrated is off by is the same twice: a difference of two
// readings is as good as their last digits.
func TestDifferencesOfAMeterThatWasNotCalibrated(t *testing.T) {
	var p *calibration.Probe
	a, b := p.Read(shows("a", 4.70, "pH"), 25, nil), p.Read(shows("b", 4.60, "pH"), 25, nil)
	if math.Abs(a.PH.Value-4.70) > 1e-9 || math.Abs(a.PH.U()-0.1/math.Sqrt(3)) > 1e-3 {
		t.Errorf("pH %v, u %v", a.PH.Value, a.PH.U())
	}
	if u := a.PH.Minus(b.PH).U(); !(u > 0.006 && u < 0.012) {
		t.Errorf("difference: u %v", u)
	}
	lines := p.Lines("pH as it was read", a)
	if len(lines) != 2 || !strings.Contains(lines[0].From[1], "not calibrated") {
		t.Errorf("%+v", lines)
	}
	workingtest.Check(t, lines)
}

// The working of a reading goes from the potential, by offset and slope, to the pH.
func TestWorkingOfAReading(t *testing.T) {
	p := &calibration.Probe{Calibration: probed(t, 0.98, 5).Calibration, At: eight, Number: 12}
	got := p.Read(shows("a", 142.3, "mV"), 25, nil)
	if want := 7 - (142.3-5)/(0.98*59.159); math.Abs(got.PH.Value-want) > 1e-3 {
		t.Errorf("pH %v, want %v", got.PH.Value, want)
	}
	lines := p.Lines("pH as it was read", got)
	if len(lines) != 3 || !strings.Contains(lines[1].Substituted, "(142.30) - (5.00)") || !strings.Contains(lines[1].From[1], "run 12") ||
		!strings.Contains(lines[1].From[0], "142.3 mV") {
		t.Errorf("%+v", lines)
	}
	workingtest.Check(t, lines)
}

// A meter calibrated in mV and switched to pH gives the pH that it shows, with its last digit and
// with all that the calibration leaves in doubt.
func TestCalibratedInPotentialsReadInPH(t *testing.T) {
	p := &calibration.Probe{Calibration: probed(t, 0.98, 5).Calibration, At: eight, Number: 12}
	same := p.Read(shows("a", 142.3, "mV"), 25, nil)
	f := shows("a", 4.63, "pH")
	f.Quantity.Decimals = 2
	got := p.Read(f, 25, nil)
	if math.Abs(got.PH.Value-4.63) > 1e-12 || math.Abs(got.PH.Value-same.PH.Value) > 0.01 {
		t.Errorf("pH %v; by its potential %v", got.PH.Value, same.PH.Value)
	}
	digit := uncertain.Rectangular(0.005) // 0.1 mV, of the other, is less than a tenth of it
	if more := math.Sqrt(got.PH.U()*got.PH.U() - same.PH.U()*same.PH.U()); math.Abs(more/digit-1) > 0.01 {
		t.Errorf("u %v, of the potential %v", got.PH.U(), same.PH.U())
	}
	lines := p.Lines("pH as it was read", got)
	if !strings.Contains(lines[1].From[0], "what gives pH 4.63, which") {
		t.Errorf("%+v", lines[1].From)
	}
	workingtest.Check(t, lines)
	// From buffer to buffer, the piece that holds there.
	for _, pH := range []float64{3, 5, 6.9, 8, 11} {
		c := p.Calibration
		c.Pieces = []electrode.Piece{
			{Low: c.Low(), High: 6.865, Offset: uncertain.Exact(3), Slope: uncertain.Exact(0.97)},
			{Low: 6.865, High: c.High(), Offset: uncertain.Exact(4), Slope: uncertain.Exact(0.99)},
		}
		f := shows("b", pH, "pH")
		want := c.Pieces[0]
		if pH > 6.865 {
			want = c.Pieces[1]
		}
		if r := c.Read(f, 25); math.Abs(r.MV-want.Offset.Value-want.Slope.Value*electrode.FromShown(pH, 25)) > 1e-9 {
			t.Errorf("pH %g: %g mV", pH, r.MV)
		}
	}
}
