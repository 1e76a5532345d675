package titration

import (
	"vialbench/core/benchtop"
	"vialbench/core/run"
)

var _ benchtop.Movable = Request{}

// AtBench implements [benchtop.Movable].
func (r Request) AtBench(b benchtop.Bench) run.Plan {
	r.Balance = benchtop.Or(b.Balance, r.Balance)
	r.Burette = b.OfBurette(r.Burette)
	r.Celsius = benchtop.Or(b.Celsius, r.Celsius)
	return r
}
