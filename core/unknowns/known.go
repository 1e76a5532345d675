package unknowns

import (
	"strconv"

	"vialbench/core/glassware"
	"vialbench/core/uncertain"
)

// Known is the strength of a level with all that adds to its uncertainty, in the unit of the stock: the stock itself, a pipette that is
// filled several times and a flask, both of class A (ISO 648 and ISO 1042), setting the one and filling the other to its mark.
func (l Level) Known(stock uncertain.Number) uncertain.Number {
	pipette := glassware.Item{Kind: glassware.OneMarkPipette, Volume: l.Pipette, Class: "A"}
	taken := uncertain.Exact(0)
	for i := range l.Times {
		taken = taken.Plus(pipette.Delivered(l.Letter + " " + strconv.Itoa(i)))
	}
	flask := glassware.Flask{Volume: l.Flask, Class: "A"}
	return stock.Times(taken).Over(flask.Filled(l.Letter))
}
