package solution

import "sort"

// point is the heat in kJ/mol released so far when a mole of reagent meets n moles
// of water.
type point struct{ n, heat float64 }

// integralHeats are integral heats of solution at 25 °C by substance: NBS Circular
// 500 (from memory); sulfuric acid by Thomsen's 74.7·n/(n + 1.798) kJ/mol (from
// memory), which stands in steps here. The hydroxides are solids: all of it counts.
var integralHeats = map[string][]point{
	"hydrochloric-acid": {
		{1, 26.23},
		{2, 48.82},
		{3, 56.85},
		{4, 61.20},
		{5, 64.05},
		{10, 69.49},
		{20, 71.78},
		{50, 73.28},
		{100, 73.85},
		{200, 74.20},
		{1000, 74.52},
	},
	"nitric-acid":         {{0, 0}, {1, 13.1}, {2, 20.1}, {3, 24.3}, {5, 28.7}, {10, 31.8}, {20, 32.7}, {100, 33.0}, {1000, 33.3}},
	"sulfuric-acid":       thomsen(0, 0.1, 0.2, 0.3, 0.5, 1, 2, 3, 5, 10, 20, 50, 100, 1000),
	"sodium-hydroxide":    {{0, 0}, {3, 28.9}, {4, 34.4}, {5, 37.8}, {10, 42.5}, {50, 42.6}, {1000, 42.9}},
	"potassium-hydroxide": {{0, 0}, {5, 47.0}, {10, 52.7}, {50, 55.1}, {1000, 55.3}},
}

func thomsen(ns ...float64) []point {
	points := make([]point, len(ns))
	for i, n := range ns {
		points[i] = point{n, 74.7 * n / (n + 1.798)}
	}
	return points
}

// heatAt interpolates the heat in kJ/mol at n moles of water per mole.
func heatAt(points []point, n float64) float64 {
	i := sort.Search(len(points), func(i int) bool { return points[i].n >= n })
	switch i {
	case 0:
		return points[0].heat
	case len(points):
		return points[len(points)-1].heat
	}
	a, b := points[i-1], points[i]
	return a.heat + (b.heat-a.heat)*(n-a.n)/(b.n-a.n)
}

const (
	waterMolarMass = 18.015 // g/mol
	waterHeat      = 4.18   // J/(g·K)
	soluteHeat     = 1.5    // J/(g·K), of what is dissolved, acid or base (common practice)
)

// temperatureRise estimates how much warmer it gets, in K, when the reagent goes
// into half a flask of water and no heat is lost: ΔT = n·ΔH/(m·c). 0 when there is
// no table for it.
func (c *context) temperatureRise(grams float64) float64 {
	points, ok := integralHeats[c.Substance.Key]
	if !ok {
		return 0
	}
	moles := grams * c.assay.Value / c.weighed.Value
	water := c.flask.Volume / 2 // g
	before := 0.0
	if c.Substance.Liquid {
		before = (1 - c.Assay) / waterMolarMass / (c.Assay / c.weighed.Value)
	}
	heat := heatAt(points, before+water/waterMolarMass/moles) - heatAt(points, before)
	dissolved := grams * c.assay.Value
	return 1000 * heat * moles / ((water+grams-dissolved)*waterHeat + dissolved*soluteHeat)
}
