// Package benchtop is where somebody carries a plan out who has instruments of their own: a group of a class, at its own balance, meter and
// burette. A plan is made for what stands on the bench of the lab; [At] moves it to another one.
package benchtop

import (
	"encoding/json"

	"vialbench/core/calibration"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/weighing"
)

// Bench is what stands there; nil is what the plan was made for.
type Bench struct {
	Balance *weighing.Balance  `json:"balance,omitempty"`
	Burette *glassware.Item    `json:"burette,omitempty"`
	Probe   *calibration.Probe `json:"probe,omitempty"`
	// Celsius is the temperature of water and solutions there.
	Celsius *float64 `json:"celsius,omitempty"`
}

// Movable is a plan that can be carried out at another bench: a value of a request, changed.
type Movable interface {
	run.Plan
	AtBench(b Bench) run.Plan
}

// At is a plan as it is carried out at a bench. Where that does not fit, like a burette that is too small, or of a plan that takes nothing
// from a bench, it stays as it was made.
func At(plan run.Plan, b Bench) run.Plan {
	m, ok := plan.(Movable)
	if !ok {
		return plan
	}
	moved := m.AtBench(b)
	if _, err := moved.Design(); err != nil {
		return plan
	}
	return moved
}

// Read reads a bench that was kept; none stands for the bench that the plan was made for.
func Read(text []byte) (b Bench, err error) {
	if len(text) > 0 {
		err = json.Unmarshal(text, &b)
	}
	return b, err
}

// OfBurette is a burette of the bench in place of the one of a plan, where it is one of the same volume.
func (b Bench) OfBurette(was glassware.Item) glassware.Item {
	if b.Burette == nil || b.Burette.Kind != was.Kind || b.Burette.Volume != was.Volume {
		return was
	}
	return *b.Burette
}

// Or is what stands on the bench, or else what the plan was made for.
func Or[T any](here *T, was T) T {
	if here == nil {
		return was
	}
	return *here
}
