package run

import (
	"fmt"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Stated is a fact as it was typed: its quantities are still to be read.
type Stated struct {
	fact.Fact
	Quantity *quantity.Stated  `json:"quantity,omitempty"`
	After    *quantity.Stated  `json:"after,omitempty"`
	Spread   *quantity.Stated  `json:"spread,omitempty"`
	Beside   []quantity.Stated `json:"beside,omitempty"`
}

// Read reads its quantities by the dimensions that a plan takes. An error is a verdict.Problems with
// JSON pointers into the fact.
func (s Stated) Read(plan Plan) (fact.Fact, error) {
	f := s.Fact
	var p verdict.Problems
	dimensions := plan.Takes(f)
	one := func(field string, stated *quantity.Stated) *quantity.Quantity {
		switch {
		case stated == nil:
			return nil
		case len(dimensions) == 0:
			p.Add(field, "“%s” has no reading: leave it out", f.Kind)
			return nil
		}
		q, err := stated.Read(dimensions...)
		if err != nil {
			p.Add(field, "%s", err)
		}
		return &q
	}
	f.Quantity, f.After, f.Spread = one("/quantity", s.Quantity), one("/after", s.After), one("/spread", s.Spread)
	for i, stated := range s.Beside {
		if q := one(fmt.Sprintf("/beside/%d", i), &stated); q != nil {
			f.Beside = append(f.Beside, *q)
		}
	}
	return f, p.OrNil()
}
