package curve

import (
	"cmp"
	"math"
	"slices"

	"vialbench/core/equilibrium"
)

// starts are the concentrations that a fit begins with: those at which some end point of the
// readings is some equivalence of the analyte, and a row around the guess; of all these the ones
// that look most like the readings with the constants of the library, the best first.
func (c Curve) starts(points []Point) []float64 {
	tries := []float64{c.C}
	for k := range guesses {
		tries = append(tries, c.C*math.Pow(10, 3*float64(k)/(guesses-1)-2))
	}
	none := c
	none.Acid = 0 // it moves the end points as well, and a fit finds that
	for _, v := range none.Equivalences() {
		for _, e := range EndPoints(points) {
			tries = append(tries, c.C*e.Volume/v)
		}
	}
	every := len(points)/lookedAt + 1
	misfit := make(map[float64]float64, len(tries))
	for _, x := range tries {
		with := c
		with.C = x
		look := fitting{Curve: with, points: points, activity: make([]equilibrium.Activities, len(points))}
		t := with.titration()
		usual := t.Activities(usualStrength)
		for i := 0; i < len(points); i += every {
			p := points[i]
			look.activity[i] = usual
			const step = 0.05 // pH
			v := look.volume(t, i, p.PH)
			slope := (look.volume(t, i, p.PH+step) - v) / step
			// As of a distribution with wide tails (Cauchy's): a reading that is far off counts
			// little more than one that is off.
			off := p.Volume - v
			misfit[x] += math.Log1p(off * off / (broadScatter.Volume*broadScatter.Volume + broadScatter.PH*broadScatter.PH*slope*slope))
		}
	}
	slices.SortStableFunc(tries, func(a, b float64) int { return cmp.Compare(misfit[a], misfit[b]) })
	var best []float64
	for _, x := range tries {
		if len(best) < mostStarts && !slices.ContainsFunc(best, func(y float64) bool { return math.Abs(math.Log(x/y)) < nearly }) {
			best = append(best, x)
		}
	}
	return best
}

// guesses is how many concentrations are tried, from a hundredth of the guess to ten times as
// much; mostStarts how many of them a fit begins with; two as close as nearly (of the logarithm)
// count as one; lookedAt is how many readings are compared, at about the usual ionic strength in mol/L.
const guesses, mostStarts, nearly, lookedAt, usualStrength = 31, 3, 0.1, 30, 0.05
