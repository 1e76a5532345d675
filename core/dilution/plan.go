package dilution

import (
	"encoding/json"
	"fmt"
	"slices"

	"vialbench/core/run"
	"vialbench/core/substance"
)

var _ run.Sourced = Request{}

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

// Title names the ladder.
func (r Request) Title() string {
	title := "Dilution of " + run.LowerFirst(r.Stock.String())
	if n := len(r.Rungs); n > 1 {
		title += fmt.Sprintf(", %d tubes", n)
	}
	return title
}

// Design is what a plan gives, as its page shows it.
type Design struct {
	Request Request `json:"request"`
	Ladder  Ladder  `json:"ladder"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) {
	ladder, err := r.Ladder()
	return Design{r, ladder}, err
}

// RoleStock is the source that a dilution takes from.
const RoleStock = "stock"

// Uses implements [run.Plan].
func (r Request) Uses() run.Uses {
	var uses run.Uses
	if r.Balance != nil {
		uses.Instruments = []string{r.Balance.Name}
	}
	if r.Stock.Bottle != "" {
		uses.Sources = []run.Source{{Role: RoleStock, Bottle: r.Stock.Bottle}}
	}
	return uses
}

// From implements [run.Sourced]: the stock is what its bottle holds.
func (r Request) From(role string, source run.Product) (run.Plan, bool) {
	c, ok := source.PerVolume()
	if role != RoleStock || !ok {
		return r, false
	}
	was := r.Stock
	r.Stock.Unit, r.Stock.Concentration, r.Stock.Approximate = c.Unit, c.Number, !source.Exact
	r.Stock.Name, r.Stock.Formula, r.Stock.Ingredients, r.Stock.Mixture = source.Name, source.Formula, source.Ingredients, source.Mixture
	same := was.Unit == c.Unit && was.Concentration.Value == c.Value && was.Concentration.U() == c.U() &&
		was.Approximate == r.Stock.Approximate &&
		was.Name == r.Stock.Name &&
		slices.EqualFunc(
			was.Ingredients,
			r.Stock.Ingredients,
			func(a, b substance.Ingredient) bool { return a.Key == b.Key && a.Grams == b.Grams },
		)
	return r, !same
}

// Bound implements [run.Sourced].
func (r Request) Bound(role string, source run.Source, number int64) run.Plan {
	if role == RoleStock {
		r.Stock.Bottle, r.Stock.Number = source.Bottle, number
	}
	return r
}
