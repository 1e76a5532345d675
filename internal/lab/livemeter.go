package lab

import (
	"context"
	"fmt"
	"math"

	"vialbench/core/electrode"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/internal/instrument"
	"vialbench/internal/standin"
	"vialbench/internal/store"
)

func meterLine(m store.Meter) connection { return connection{m.Name, m.Address, standin.MeterModel} }

func (l *Lab) meterAt(ctx context.Context, id string) (store.Meter, error) {
	meter, err := l.store.With(ctx).MeterByID(id)
	return meter, found(err, "this meter")
}

// WatchMeter passes on what a pH meter shows until the context ends.
func (l *Lab) WatchMeter(ctx context.Context, id string, show func(Live) error) error {
	meter, err := l.meterAt(ctx, id)
	if err != nil {
		return err
	}
	db := l.store.With(ctx)
	settings, err := db.Settings()
	if err != nil {
		return err
	}
	past, err := calibrationsOf(db, meter.Name, 1)
	if err != nil {
		return err
	}
	watched := &watchedMeter{Meter: meter, thresholds: settings.Thresholds}
	if len(past) > 0 {
		watched.calibration = &past[0].Calibration
	}
	return l.watch(ctx, meterLine(meter), show, watched.look)
}

// HandStandinMeter does something to a meter that is a stand-in, and returns its state.
func (l *Lab) HandStandinMeter(ctx context.Context, id, command string) (string, error) {
	meter, err := l.meterAt(ctx, id)
	if err != nil {
		return "", err
	}
	return l.handStandin(ctx, meterLine(meter), "in=", command)
}

// watchedMeter is a meter, and what it showed since its probe was dipped last.
type watchedMeter struct {
	store.Meter
	thresholds  verdict.Thresholds
	calibration *electrode.Calibration
	trace       []electrode.Sample
	begun       instrument.Sample
	lastStep    float64
	predicted   *Prediction
}

const (
	// longestTrace is how far back a trace goes, s; refitted how often it is fitted again, in
	// samples.
	longestTrace = 90.0
	refitted     = 5
	// A step of so many mV, and so many times the one before it, is the probe being moved.
	dipStep, dipRatio = 4.0, 3.0
)

// look judges a sample by those since the probe was dipped.
func (w *watchedMeter) look(s instrument.Sample) Live {
	if s.Err != nil || len(s.Quantities) == 0 || s.Main().Unit.Dimension != quantity.Potential {
		w.trace = nil
		return lost(w.Name)
	}
	celsius := electrodeDefault
	for _, q := range s.Quantities {
		if q.Unit.Dimension == quantity.Temperature {
			celsius = q.Base()
		}
	}
	mV := s.Main().In("mV")
	w.add(s, mV)
	standing := electrode.Settled(w.trace, celsius, w.thresholds)
	if len(w.trace)%refitted == 1 || standing.Settled && w.predicted == nil {
		w.predict(celsius)
	}
	live := Live{
		Text: s.Main().String(), Readings: s.Quantities, State: string(s.State), Still: standing.Settled, Predicted: w.predicted,
		Band: w.thresholds.Of(electrode.RuleSettled) * electrode.Nernst(celsius),
	}
	moved := quantity.Quantity{Value: math.Max(standing.Change, w.Resolution), Unit: quantity.Of(0, "mV").Unit, Decimals: 1}
	live.Spread = &moved
	if standing.Watched < 0.9*electrode.SettleWindow {
		live.Watched = fmt.Sprintf("%.0f of %.0f s", math.Floor(standing.Watched), electrode.SettleWindow)
	}
	if !live.Still {
		v := electrode.Moving(standing, celsius)
		live.Verdict = &v
	}
	if w.calibration != nil && w.calibration.Slope.Value > 0 {
		read := electrode.Read{MV: mV, Celsius: celsius}
		if read.Check() == nil {
			live.PH = "pH " + quantity.Digits(w.calibration.PH(read).Value, 2)
		}
	}
	return live
}

// electrodeDefault is the temperature that is assumed where a meter shows none, °C.
const electrodeDefault = 25.0

// add adds a sample to the trace, or begins a new one when the probe was moved.
func (w *watchedMeter) add(s instrument.Sample, mV float64) {
	if n := len(w.trace); n > 0 {
		step := math.Abs(mV - w.trace[n-1].MV)
		if step > dipStep && step > dipRatio*w.lastStep {
			w.trace = nil
		}
		w.lastStep = step
	}
	if len(w.trace) == 0 {
		w.begun, w.predicted = s, nil
	}
	w.trace = append(w.trace, electrode.Sample{Seconds: s.At.Sub(w.begun.At).Seconds(), MV: mV})
	for w.trace[len(w.trace)-1].Seconds-w.trace[0].Seconds > longestTrace {
		w.trace = w.trace[1:]
	}
}

func (w *watchedMeter) predict(celsius float64) {
	f, ok := electrode.Predict(w.trace, celsius, w.thresholds)
	if !ok || f.U > 60 {
		return
	}
	text, u := quantity.Round(f.MV, f.U)
	if f.U < w.Resolution {
		text, u = quantity.Digits(f.MV, 1), quantity.Digits(w.Resolution, -1)
	}
	w.predicted = &Prediction{MV: f.MV, Text: fmt.Sprintf("%s ± %s mV", text, u), Wait: f.Wait, Settling: f.TimeConstant}
}
