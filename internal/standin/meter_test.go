package standin

import (
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"vialbench/core/electrode"
)

// bench is a stand-in meter with a clock of its own.
type bench struct {
	t *testing.T
	*Meter
	at time.Time
}

func newBench(t *testing.T, slope, offset, tau float64) *bench {
	b := &bench{t: t, at: time.Date(2026, 5, 11, 8, 0, 0, 0, time.UTC)}
	b.Meter = NewMeter(slope, offset, tau, 7)
	b.now = func() time.Time { return b.at }
	b.dipped = b.at.Add(-time.Hour)
	return b
}

func (b *bench) do(line string) string {
	b.t.Helper()
	answer, ok := b.Do(line)
	if !ok || strings.HasPrefix(answer, "ERROR") {
		b.t.Fatalf("%s: %q", line, answer)
	}
	return answer
}

// stream reads for so many seconds at 5 Hz.
func (b *bench) stream(seconds float64) (list []electrode.Sample, celsius float64, state string) {
	b.t.Helper()
	for i := range int(5*seconds) + 1 {
		var mV float64
		answer := strings.ReplaceAll(b.do("READ?"), ",", " ")
		if _, err := fmt.Sscanf(answer, "%g mV %g °C %s", &mV, &celsius, &state); err != nil {
			b.t.Fatalf("%q: %v", answer, err)
		}
		list = append(list, electrode.Sample{Seconds: float64(i) / 5, MV: mV})
		b.at = b.at.Add(200 * time.Millisecond)
	}
	return list, celsius, state
}

// Calibrated from its own stream, the probe comes back: slope, offset and time constant,
// within its noise.
func TestTheModelProbeIsRecovered(t *testing.T) {
	b := newBench(t, 0.962, -9.5, 4)
	m := electrode.UsualMeter()
	var points []electrode.Point
	for _, key := range []string{"phosphate", "phthalate", "borax"} {
		b.do("STANDIN:RINSE")
		b.do("STANDIN:IN " + key + " 25")
		s, celsius, state := b.stream(40)
		standing := electrode.Settled(s, 25, nil)
		if !standing.Settled || celsius != 25 || state != "stable" {
			t.Fatalf("%s: %+v, %g °C, %s", key, standing, celsius, state)
		}
		buffer, _ := electrode.BufferOf(key)
		points = append(points, electrode.Point{Buffer: buffer, MV: s[len(s)-1].MV, Celsius: celsius})
		if key == "phosphate" { // a step of a few mV tells little of the time constant
			continue
		}
		f, ok := electrode.Predict(s[:60], 25, nil) // 12 s
		if !ok || math.Abs(f.MV-s[len(s)-1].MV) > f.U+0.5 || math.Abs(f.TimeConstant/4-1) > 0.05 {
			t.Errorf("%s: after 12 s %+v, then %g mV", key, f, s[len(s)-1].MV)
		}
	}
	c, err := electrode.Calibrate(m, points, false)
	if err != nil || math.Abs(c.Slope.Value-0.962) > 0.001 || math.Abs(c.Offset.Value+9.5) > 0.2 {
		t.Errorf("slope %g, offset %g, %v", c.Slope.Value, c.Offset.Value, err)
	}
}

// What goes wrong at a bench shows as it does there.
func TestFaultsOfTheProbe(t *testing.T) {
	settled := func(b *bench, key string) electrode.Sample {
		b.do("STANDIN:IN " + key + " 25")
		s, _, _ := b.stream(60)
		return s[len(s)-1]
	}
	clean := newBench(t, 1, 0, 2)
	clean.do("STANDIN:RINSE")
	good := settled(clean, "phthalate").MV
	dirty := newBench(t, 1, 0, 2)
	settled(dirty, "borax")
	if off := settled(dirty, "phthalate").MV - good; math.Abs(off+carried*electrode.Nernst(25)*(9.180-4.005)) > 0.5 {
		t.Errorf("not rinsed, it is off by %.1f mV", off)
	}
	dry := newBench(t, 1, 0, 2)
	dry.do("STANDIN:BULB DRY")
	dry.do("STANDIN:RINSE")
	dry.do("STANDIN:IN phthalate 25")
	s, _, state := dry.stream(12)
	if state != "moving" || electrode.Settled(s, 25, nil).Settled {
		t.Error("a dry bulb settles as fast as a wet one")
	}
	if end := settled(dry, "phthalate").MV; math.Abs(end-(dryMoves+(1-dryLoses)*electrode.Nernst(25)*2.995)) > 3 {
		t.Errorf("dry, it ends at %g mV", end)
	}
	for _, line := range []string{"STANDIN:AIR", "STANDIN:IN DEIONISED 20"} {
		b := newBench(t, 1, 0, 2)
		b.do(line)
		b.stream(30)
		if s, _, state := b.stream(12); electrode.Settled(s, 20, nil).Settled || state != "moving" {
			t.Errorf("%s: it settles", line)
		}
	}
	drifting := newBench(t, 1, 0, 0.5)
	drifting.do("STANDIN:DRIFT 60")
	first, _, _ := drifting.stream(0)
	drifting.at = drifting.at.Add(30 * time.Minute)
	if last, _, _ := drifting.stream(0); math.Abs(last[0].MV-first[0].MV-30) > 0.5 {
		t.Errorf("it drifts by %g mV in half an hour", last[0].MV-first[0].MV)
	}
	warm := newBench(t, 1, 0, 0.5)
	warm.do("STANDIN:IN 7 40")
	if _, celsius, _ := warm.stream(2); celsius > 35 {
		t.Errorf("the thermometer is at %g °C after two seconds", celsius)
	}
}

func TestCommandsOfTheMeter(t *testing.T) {
	b := newBench(t, 1, 0, 2)
	if got := b.do("*IDN?"); got != "Vial Bench,stand-in pH meter,1,1" {
		t.Error(got)
	}
	b.do("standin:in borax 30")
	b.do("STANDIN:SLOPE 0.93")
	b.do("STANDIN:OFFSET -12.5")
	b.do("STANDIN:TIME 9")
	b.do("STANDIN:NOISE 0.2")
	if got := b.do(
		"STANDIN:STATE?",
	); got != "in=borax, 0.01 mol/kg;celsius=30;rinsed=no;bulb=wet;slope=0.93;offset=-12.5;time=9;drift=0;noise=0.2;link=on" {
		t.Error(got)
	}
	b.do("STANDIN:IN TAP")
	b.do("STANDIN:RINSE")
	if got := b.do("STANDIN:STATE?"); !strings.HasPrefix(got, "in=tap water;celsius=30;rinsed=yes") {
		t.Error(got)
	}
	for _, wrong := range []string{
		"STANDIN:IN", "STANDIN:IN vinegar", "STANDIN:IN 16", "STANDIN:IN 7 61", "STANDIN:IN 7 x", "STANDIN:IN borax 55", "STANDIN:SLOPE 2",
		"STANDIN:SLOPE", "STANDIN:BULB damp", "STANDIN:PAN 5", "TARE", "STANDIN:TIME 0", "STANDIN:LINK half",
	} {
		if got, _ := b.Do(wrong); !strings.HasPrefix(got, "ERROR") {
			t.Errorf("%s: %q", wrong, got)
		}
	}
	b.do("STANDIN:LINK OFF")
	if _, ok := b.Do("READ?"); ok {
		t.Error("it measures without its cable")
	}
	if got := b.do("STANDIN:STATE?"); !strings.HasSuffix(got, "link=off") {
		t.Error(got)
	}
}
