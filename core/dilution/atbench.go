package dilution

import (
	"vialbench/core/benchtop"
	"vialbench/core/run"
)

var _ benchtop.Movable = Request{}

// AtBench implements [benchtop.Movable].
func (r Request) AtBench(b benchtop.Bench) run.Plan {
	if r.Balance != nil && b.Balance != nil {
		r.Balance = b.Balance
	}
	r.WaterTemperature = benchtop.Or(b.Celsius, r.WaterTemperature)
	return r
}
