package curve

import (
	"fmt"
	"math"
	"strconv"

	"vialbench/core/quantity"
)

// What readings are foreseen with: a settled meter scatters by about a hundredth (common practice), to
// both sides and with no slope of its own; and so many readings at most.
const (
	foreseenScatter = 0.01
	mostForeseen    = 60
)

var foreseenSides = [...]float64{1, -1, -1, 1}

// prospect is what the readings would give if they were taken as the sheet proposes them; empty where
// nothing is known of it beforehand.
func (r Request) prospect() string {
	if r.unknown() || r.Protonate != nil {
		return ""
	}
	a := &account{Request: r, started: true, celsius: r.Celsius}
	c := a.curve()
	for n := range mostForeseen {
		pH := c.At([]float64{a.at})[0] + foreseenScatter*foreseenSides[n%len(foreseenSides)]
		a.points = append(a.points, Point{a.at, pH})
		to, err := strconv.ParseFloat(a.next(ReadAnswer{}), 64)
		if err != nil { // complete, or the burette is empty
			break
		}
		if a.Tip != nil {
			to = a.at + to*a.Tip.Volume.Value
		}
		a.at = to
	}
	answer, ok := a.read()
	if !ok {
		return ""
	}
	for _, f := range a.figures(answer) {
		if f.ID == FitC && f.Relative() > 0 {
			most := f.Number.Budget()[0]
			return fmt.Sprintf("About %d readings, as the sheet proposes them, would give the concentration to about ±\u00a0%s\u00a0%%; "+
				"most of that is the %s (%s\u00a0%%).", len(a.points), quantity.Digits(100*f.Number.Expanded()/math.Abs(f.Value), 2),
				most.Label, quantity.Digits(100*most.Fraction, 0))
		}
	}
	return ""
}
