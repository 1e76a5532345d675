package capacity

import (
	"vialbench/core/benchtop"
	"vialbench/core/run"
)

var _ benchtop.Movable = Request{}

// AtBench implements [benchtop.Movable].
func (r Request) AtBench(b benchtop.Bench) run.Plan {
	r.Celsius = benchtop.Or(b.Celsius, r.Celsius)
	if b.Probe != nil {
		r.Probe = b.Probe
	}
	return r
}
