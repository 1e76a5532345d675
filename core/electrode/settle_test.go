package electrode_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"vialbench/core/electrode"
)

type draws struct{ *rand.Rand }

func drawer(seed uint64) draws { return draws{rand.New(rand.NewPCG(seed, 2))} }

func (d draws) normal(sd float64) float64     { return sd * d.NormFloat64() }
func (d draws) rectangular(a float64) float64 { return a * (2*d.Float64() - 1) }

// stream is what a probe gives after it was dipped, at 5 Hz: an end value, what is missing
// of it at first, falling with one or two time constants, noise, and the last digit.
func stream(d draws, seconds, end float64, missing, tau []float64, noise float64) []electrode.Sample {
	var list []electrode.Sample
	for i := range int(5*seconds) + 1 {
		at := float64(i) / 5
		mV := end + d.normal(noise)
		for j := range missing {
			mV += missing[j] * math.Exp(-at/tau[j])
		}
		list = append(list, electrode.Sample{Seconds: at, MV: math.Round(10*mV) / 10})
	}
	return list
}

// 0.02 pH in 10 s are 1.18 mV at 25 °C.
func TestSettled(t *testing.T) {
	ramp := func(perSecond, seconds, scatter float64) []electrode.Sample {
		var list []electrode.Sample
		for i := range int(5*seconds) + 1 {
			at := float64(i) / 5
			list = append(list, electrode.Sample{Seconds: 100 + at, MV: 20 + perSecond*at + scatter*float64(1-2*(i%2))})
		}
		return list
	}
	for _, c := range []struct {
		name    string
		samples []electrode.Sample
		want    bool
	}{
		{"still", ramp(0, 10, 0), true},
		{"rising, just slow enough", ramp(0.1183, 10, 0), true},
		{"falling, just slow enough", ramp(-0.1183, 10, 0), true},
		{"rising, just too fast", ramp(0.1184, 10, 0), false},
		{"falling, just too fast", ramp(-0.1184, 10, 0), false},
		{"not watched long enough", ramp(0, 8.8, 0), false},
		{"watched long enough", ramp(0, 9.2, 0), true},
		{"jumping within bounds", ramp(0, 12, 0.57), true},
		{"jumping", ramp(0, 12, 0.60), false},
		{"nothing", nil, false},
		{"two readings", ramp(0, 0.2, 0), false},
		{"moved, before the window", append(ramp(-50, 5, 0), stream(drawer(1), 0, 0, nil, nil, 0)...), false},
	} {
		if got := electrode.Settled(c.samples, 25, nil); got.Settled != c.want {
			t.Errorf("%s: %+v", c.name, got)
		}
	}
	after := append(ramp(-50, 5, 0), func() (l []electrode.Sample) {
		for _, s := range ramp(0, 12, 0) {
			s.Seconds += 6
			l = append(l, s)
		}
		return l
	}()...)
	if got := electrode.Settled(after, 25, nil); !got.Settled || got.Change > 1e-9 || math.Abs(got.Watched-10) > 0.01 {
		t.Errorf("what it did before the last ten seconds counts: %+v", got)
	}
	stricter := electrode.Settled(ramp(0.1, 10, 0), 25, map[string]float64{"P-4": 0.01})
	if stricter.Settled || math.Abs(stricter.Change-1) > 1e-9 {
		t.Errorf("%+v", stricter)
	}
}

// A response without noise gives its end value and its time constant.
func TestPredictOneExponential(t *testing.T) {
	exact := make([]electrode.Sample, 51)
	for i := range exact {
		at := float64(i) / 5
		exact[i] = electrode.Sample{Seconds: 30 + at, MV: 177.5 - 120*math.Exp(-at/6)}
	}
	f, ok := electrode.Predict(exact, 25, nil)
	if !ok {
		t.Fatal("nothing predicted")
	}
	near(t, "end", f.MV, 177.5, 1e-3)
	near(t, "time constant", f.TimeConstant, 6, 1e-3)
	// The ten seconds that end at t see 120·(e^{10/6} − 1)·e^{−t/6} = 1.183 mV.
	near(t, "wait", f.Wait, 6*math.Log(120*(math.Exp(10.0/6)-1)/(0.02*electrode.Nernst(25)))-10, 0.05)
	if f.Two {
		t.Error("one exponential was treated as two")
	}
}

// The ten seconds that are looked back on must have passed, and none of them may see the
// step: 100 mV have fallen to 1.18 mV after 2.22 s at a time constant of 0.5 s.
func TestPredictWaitsForTheWindow(t *testing.T) {
	f, ok := electrode.Predict(stream(drawer(2), 5, 40, []float64{-100}, []float64{0.5}, 0.05), 25, nil)
	if !ok || math.Abs(f.Wait-(10+2.22-5)) > 0.05 {
		t.Errorf("%+v, %v", f, ok)
	}
	if f, ok = electrode.Predict(stream(drawer(2), 5, 40, nil, nil, 0), 25, nil); !ok || math.Abs(f.Wait-5) > 1e-9 {
		t.Errorf("what stands from the first: %+v, %v", f, ok)
	}
}

// Of two exponentials the slow one is found, which is what one waits for.
func TestPredictTwoExponentials(t *testing.T) {
	d := drawer(3)
	f, ok := electrode.Predict(stream(d, 60, -118, []float64{60, 14}, []float64{1.5, 20}, 0.05), 25, nil)
	if !ok || !f.Two {
		t.Fatalf("%+v, %v", f, ok)
	}
	near(t, "end", f.MV, -118, math.Max(f.U, 0.3))
	near(t, "slow time constant", f.TimeConstant, 20, 3)
}

// What stands already goes nowhere: an end value, no wait but for the window.
func TestPredictWhatStands(t *testing.T) {
	f, ok := electrode.Predict(stream(drawer(5), 20, 12.3, nil, nil, 0.1), 25, nil)
	if !ok || math.Abs(f.MV-12.3) > 0.5 || f.Wait > 20 {
		t.Errorf("%+v, %v", f, ok)
	}
	if _, ok := electrode.Predict(stream(drawer(5), 2, 12.3, nil, nil, 0.1), 25, nil); ok {
		t.Error("predicted from ten readings")
	}
}

// How often the predicted value holds: of probes of many time constants, watched for two of
// them at least, the end value lies within U (k = 2) about as often as it should.
func TestHowOftenThePredictedValueHolds(t *testing.T) {
	d := drawer(11)
	held, tries, wide := 0, 0, 0
	for range 600 {
		tau := 1 + 11*d.Float64()
		end, start := d.rectangular(200), d.rectangular(250)
		f, ok := electrode.Predict(stream(d, tau*(2+2*d.Float64())+3, end, []float64{start}, []float64{tau}, 0.15), 25, nil)
		if !ok {
			continue
		}
		tries++
		if math.Abs(f.MV-end) <= f.U {
			held++
		}
		if f.U > 5 {
			wide++
		}
	}
	share := float64(held) / float64(tries)
	t.Logf("held %d of %d times (%.1f %%), %d with U over 5 mV", held, tries, 100*share, wide)
	if share < 0.92 || share > 0.99 || tries < 590 || wide > tries/20 {
		t.Errorf("held %d of %d times, %d with U over 5 mV", held, tries, wide)
	}
}

// The time constant of a probe that moved by 100 mV or more is right within 5 %, nineteen
// times of twenty at least.
func TestHowWellTheTimeConstantIsKnown(t *testing.T) {
	d := drawer(13)
	right, tries := 0, 0
	for range 300 {
		tau, step := 1+9*d.Float64(), 100+100*d.Float64()
		f, ok := electrode.Predict(stream(d, 2*tau+10, 0, []float64{step}, []float64{tau}, 0.15), 25, nil)
		if !ok {
			continue
		}
		tries++
		if math.Abs(f.TimeConstant/tau-1) <= 0.05 {
			right++
		}
	}
	t.Logf("right %d of %d times", right, tries)
	if tries != 300 || right < 285 {
		t.Errorf("right %d of %d times", right, tries)
	}
}

func BenchmarkSettled(b *testing.B) {
	s := stream(drawer(1), 60, 50, []float64{-100}, []float64{5}, 0.1)
	b.ReportAllocs()
	for b.Loop() {
		electrode.Settled(s, 25, nil)
	}
}

func BenchmarkPredict(b *testing.B) {
	s := stream(drawer(1), 60, 50, []float64{-100}, []float64{5}, 0.1)
	b.ReportAllocs()
	for b.Loop() {
		electrode.Predict(s, 25, nil)
	}
}
