package solution

import (
	"vialbench/core/benchtop"
	"vialbench/core/run"
)

var _ benchtop.Movable = Request{}

// AtBench implements [benchtop.Movable].
func (r Request) AtBench(b benchtop.Bench) run.Plan {
	r.Balance = benchtop.Or(b.Balance, r.Balance)
	r.WaterTemperature = benchtop.Or(b.Celsius, r.WaterTemperature)
	return r
}
