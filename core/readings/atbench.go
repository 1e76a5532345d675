package readings

import (
	"vialbench/core/benchtop"
	"vialbench/core/run"
)

var _ benchtop.Movable = Request{}

// AtBench implements [benchtop.Movable].
func (r Request) AtBench(b benchtop.Bench) run.Plan {
	r.Celsius = benchtop.Or(b.Celsius, r.Celsius)
	if p := b.Probe; p != nil {
		r.Calibration, r.CalibratedAt, r.Run, r.Number = p.Calibration, p.At, p.Run, p.Number
	}
	return r
}
