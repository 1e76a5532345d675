// Package readings is a log of pH readings as work at the bench: samples and check buffers,
// one after the other, read with one meter under one calibration (the plan), and what
// their pH is, with the doubts that go with each (the outcome). What is computed stands in
// package electrode.
package readings

import (
	"encoding/json"
	"fmt"
	"reflect"
	"time"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Kind names this kind of work.
const Kind = "readings"

var _ run.Sourced = Request{}

// Request is a log as it is planned.
type Request struct {
	// Name says what it is about: “Pond, six places”.
	Name string `json:"name"`
	// Calibration that holds, when it was made, and the run that made it.
	Calibration  electrode.Calibration `json:"calibration"`
	CalibratedAt time.Time             `json:"calibratedAt"`
	Run          string                `json:"run"`
	Number       int64                 `json:"number"`
	// Celsius is the temperature that is expected.
	Celsius    float64            `json:"celsius"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// MaxName is the longest name of a log, and of a sample.
const MaxName = 60

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

func (r Request) check() error {
	var p verdict.Problems
	if n := len([]rune(r.Name)); n == 0 || n > MaxName {
		p.Add("/name", "say what is read, in at most %d letters: “Pond, six places”", MaxName)
	}
	if len(r.Calibration.Points) == 0 || !(r.Calibration.Slope.Value > 0) {
		p.Add("/run", "readings need a calibration that is in use: calibrate the meter first")
	}
	if !(r.Celsius >= 0 && r.Celsius <= 60) {
		p.Add("/celsius", "pH is read between 0 and 60 °C here")
	}
	return p.OrNil()
}

// Title names the log.
func (r Request) Title() string { return r.Name + ": pH with " + r.Calibration.Meter.Name }

// Design is what a plan gives, as its page shows it.
type Design struct {
	Request Request `json:"request"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) { return Design{r}, r.check() }

// RoleCalibration is the source that readings depend on.
const RoleCalibration = "calibration"

// Uses implements [run.Plan].
func (r Request) Uses() run.Uses {
	uses := run.Uses{Instruments: []string{r.Calibration.Meter.Name}}
	if r.Run != "" {
		uses.Sources = []run.Source{{Role: RoleCalibration, Run: r.Run}}
	}
	return uses
}

// From implements [run.Sourced]: the calibration is what its run gives now.
func (r Request) From(role string, source run.Product) (run.Plan, bool) {
	is, ok := source.Detail.(calibration.Result)
	if role != RoleCalibration || !ok {
		return r, false
	}
	was := r
	r.Calibration, r.CalibratedAt = is.Calibration, is.At
	return r, !reflect.DeepEqual(was.Calibration, r.Calibration) || !was.CalibratedAt.Equal(r.CalibratedAt)
}

// Bound implements [run.Sourced].
func (r Request) Bound(role string, source run.Source, number int64) run.Plan {
	if role == RoleCalibration {
		r.Run, r.Number = source.Run, number
	}
	return r
}

// says names the calibration.
func (r Request) says() string {
	return fmt.Sprintf("run %d", r.Number)
}
