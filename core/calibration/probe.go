package calibration

import (
	"cmp"
	"fmt"
	"reflect"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// RuleProbe is about a meter that other work reads with.
var RuleProbe = verdict.Rule{
	ID: "B-11", Title: "A meter that was calibrated",
	Why:    "A pH is as good as the calibration behind it.",
	Source: "common practice",
}

// RoleProbe is the source that work depends on which reads with a calibrated meter.
const RoleProbe = "calibration"

// Probe is a meter under the calibration that held when other work was begun, and the run
// that made it. A nil Probe is a meter that was not calibrated here.
type Probe struct {
	Calibration electrode.Calibration `json:"calibration"`
	At          time.Time             `json:"at"`
	Run         string                `json:"run"`
	Number      int64                 `json:"number"`
}

// Taken is a pH that was read with a probe.
type Taken struct {
	PH      uncertain.Number
	Celsius float64
	// Shown is what the meter showed.
	Shown    string
	Verdicts []verdict.Verdict
	// Reading is when which meter was read; nil of one that was not calibrated here.
	Reading *run.Reading

	read electrode.Read
}

// Meter is the one that reads.
func (p *Probe) Meter() electrode.Meter {
	if p != nil {
		return p.Calibration.Meter
	}
	m := electrode.UsualMeter()
	m.Name, m.ShowsPH, m.Resolution = "a meter that was not calibrated here", true, 0.01
	return m
}

// uncalibrated is how far a meter may be off that was not calibrated here, ± pH (common
// practice).
const uncalibrated = 0.1

// Read is the pH of a reading; celsius holds where the fact does not say.
func (p *Probe) Read(f fact.Fact, celsius float64, t verdict.Thresholds) Taken {
	m := p.Meter()
	x := m.Read(f, celsius)
	if p != nil {
		x = p.Calibration.Read(f, celsius)
	}
	got := Taken{Celsius: x.Celsius, Shown: electrode.Shown(*f.Quantity), read: x}
	if p == nil {
		// What it is off by is the same in all readings; each has its own last digit besides.
		ideal := electrode.Calibration{Meter: m, Slope: uncertain.Exact(1)}
		got.PH = ideal.PH(x).Plus(uncertain.WithLimits(0, uncalibrated, uncertain.RectangularShape, uncertain.Source{
			ID: "meter", Label: "meter", Basis: "not calibrated here, ±0.1, rectangular",
		}))
		return got
	}
	got.PH = p.Calibration.PH(x)
	got.Verdicts = p.Calibration.Doubts(x, got.PH.Value, f.At, p.At, t)
	got.Reading = &run.Reading{Instrument: cmp.Or(f.Instrument, m.Name), At: f.At}
	return got
}

// Expected is about what the meter will show at a pH, in mV.
func (p *Probe) Expected(pH, celsius float64) float64 {
	mV := (7 - pH) * electrode.Nernst(celsius)
	if p == nil || p.Meter().ShowsPH {
		return mV
	}
	offset, slope := p.Calibration.At(mV)
	return offset.Value + slope.Value*mV
}

// Doubtful reports whether the meter may be off: it was not calibrated, or the reading is in doubt.
func (p *Probe) Doubtful(got Taken) bool { return p == nil || len(got.Verdicts) > 0 }

// Judge tells of a meter that was not calibrated.
func (p *Probe) Judge() []verdict.Verdict {
	if p != nil {
		return nil
	}
	return []verdict.Verdict{RuleProbe.Says(verdict.Look, nil,
		"No calibration held when this was begun: readings count as good to ±%g pH. Calibrate the meter, and begin it again.", uncalibrated)}
}

// Says names the calibration for a working.
func (p *Probe) Says() string {
	if p == nil {
		return "the meter was not calibrated here"
	}
	return fmt.Sprintf("run %d of %s", p.Number, p.Calibration.Meter.Name)
}

// Lines show how a reading gives its pH.
func (p *Probe) Lines(title string, got Taken) []working.Line {
	if p == nil {
		return append([]working.Line{{
			Title: title, Symbol: `\mathrm{pH}`, Formula: `\mathrm{pH}`,
			Substituted: `\mathrm{pH} = ` + working.Value(uncertain.Exact(got.PH.Value), ""), Result: working.Result(got.PH, ""),
			From: []string{"as the meter showed it", p.Says()},
		}}, working.Uncertainty(got.PH, "")...)
	}
	return p.Calibration.Lines(title, got.read, got.Shown, p.Says())
}

// Uses adds the meter and the run of its calibration to what a plan depends on.
func (p *Probe) Uses(uses *run.Uses) {
	if p == nil {
		return
	}
	uses.Instruments = append(uses.Instruments, p.Calibration.Meter.Name)
	if p.Run != "" {
		uses.Sources = append(uses.Sources, run.Source{Role: RoleProbe, Run: p.Run})
	}
}

// From is the probe as its run gives now; changed is false when nothing moved.
func (p *Probe) From(source run.Product) (probe *Probe, changed bool) {
	is, ok := source.Detail.(Result)
	if !ok || p == nil {
		return p, false
	}
	now := *p
	now.Calibration, now.At = is.Calibration, is.At
	return &now, !reflect.DeepEqual(p.Calibration, now.Calibration) || !p.At.Equal(now.At)
}

// Bound is the probe of another lab, where its run has another name.
func (p *Probe) Bound(source run.Source, number int64) *Probe {
	if p == nil {
		return nil
	}
	now := *p
	now.Run, now.Number = source.Run, number
	return &now
}
