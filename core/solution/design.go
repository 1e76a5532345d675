package solution

import (
	"encoding/json"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/weighing"
)

var _ run.Batched = Request{}

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

// Design is what a plan gives, as its page shows it.
type Design struct {
	Substance     substance.Substance `json:"substance"`
	Concentration quantity.Quantity   `json:"concentration"`
	Of            string              `json:"of,omitempty"`
	Volume        quantity.Quantity   `json:"volume"`
	AssayPercent  float64             `json:"assayPercent"`
	BandPercent   float64             `json:"bandPercent"`
	Balance       weighing.Balance    `json:"balance"`
	Recipe        Recipe              `json:"recipe"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) {
	recipe, err := r.Recipe()
	if err != nil {
		return nil, err
	}
	return Design{r.Substance, r.Concentration, r.Of, r.Volume, 100 * r.Assay, 100 * r.Band, r.Balance, recipe}, nil
}

// Uses implements [run.Plan]: a solution depends on the balance alone.
func (r Request) Uses() run.Uses { return run.Uses{Instruments: []string{r.Balance.Name}} }

// Batches implements [run.Batched].
func (r Request) Batches() int {
	c, err := r.check()
	if err != nil {
		return 1
	}
	return len(c.batches)
}

// Nth implements [run.Batched].
func (r Request) Nth(i int) run.Plan {
	r.Batch = i
	return r
}
