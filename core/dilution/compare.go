package dilution

import (
	"context"
	"math"
	"slices"

	"vialbench/core/figure"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Way is one way of making a set of concentrations.
type Way struct {
	Name string `json:"name"`
	// Worst is the largest relative expanded uncertainty of its tubes, k = 2, that of
	// the stock included; 0 when it cannot be made, which Says tells.
	Worst  float64 `json:"worst"`
	Stock  float64 `json:"stock"`
	Liquid float64 `json:"liquid"`
	Says   string  `json:"says,omitempty"`
}

// compare makes the concentrations of an answer in every way: side by side by burettes,
// side by side in flasks, and as a chain from strong to weak.
func (q Question) compare(ctx context.Context, a Answer) []Way {
	var factors []float64 // nominal, rising
	volume := 0.0
	for _, t := range a.Ladder.Tubes {
		if t.Taken > 0 {
			factors = append(factors, t.Factor)
		}
		volume = max(volume, t.Final())
	}
	slices.Sort(factors)
	factors = slices.CompactFunc(factors, func(x, y float64) bool { return math.Abs(x/y-1) < exactly })
	side, chain := q, q
	side.Weighed, chain.Weighed = false, false
	side.Spread, chain.Spread = nil, nil
	side.Mode, side.InFlasks, side.Targets, side.Volumes = Series, false, nil, nil
	if chain.Mode, chain.Factors = Chain, nil; q.Mode == Series { // there Volume is that of each tube
		chain.Volume = 0
	}
	last := 1.0
	for _, f := range factors {
		side.Targets = append(side.Targets, q.Stock.Concentration.Value/f)
		if f > last*(1+exactly) {
			chain.Factors = append(chain.Factors, short(f/last))
			last = f
		}
	}
	flasks := side
	flasks.InFlasks, flasks.Volume = true, volume
	side.Volume = min(volume, q.burette(math.Inf(1)).Volume) // what one filling lets out
	return []Way{side.way(ctx, "side by side, by burettes"), flasks.way(ctx, "side by side, in flasks"), chain.way(ctx, "as a chain")}
}

// way sums up one way.
func (q Question) way(ctx context.Context, name string) Way {
	var p verdict.Problems
	a := Answer{Request: Request{Stock: q.Stock, Keep: q.Keep, Rinse: q.Rinse, WaterTemperature: q.WaterTemperature, Thresholds: q.Thresholds}}
	if q.Mode == Chain {
		q.chain(ctx, &a, &p)
	} else {
		q.series(&a, &p)
	}
	w := Way{Name: name}
	if len(p) > 0 {
		w.Says = p[0].Reason
		return w
	}
	ladder, err := a.Request.Ladder()
	if err != nil {
		w.Says = err.Error()
		return w
	}
	w.Stock = ladder.StockNeeded
	for _, t := range ladder.Tubes {
		w.Liquid += t.Final()
		if t.Taken > 0 {
			w.Worst = max(w.Worst, t.Concentration.Expanded/t.Concentration.Value)
		}
	}
	return w
}

// Back is the concentration of the stock, in its unit, by what was measured on a tube
// in the unit of the ladder: measured times the dilution factor, with the uncertainty of
// the volumes of this ladder.
func Back(r Request, tube int, measured uncertain.Number) (uncertain.Number, error) {
	if err := r.check(); err != nil {
		return uncertain.Number{}, err
	}
	if tube < 0 || tube >= len(r.Rungs) || r.Rungs[tube].Taken == 0 {
		return uncertain.Number{}, verdict.Problems{{Field: "/tube", Reason: "choose a tube of the ladder that holds some of the sample"}}
	}
	_, scale := r.unit(r.concentrations(nil, r.expansions(nil)))
	one := r
	one.Stock.Concentration = uncertain.Number{Value: 1} // so that the ladder gives 1/F
	return measured.Scale(1 / scale).Over(one.concentrations(nil, one.expansions(nil))[tube]), nil
}

// BackQuestion is what was measured on a tube, in the unit of the ladder, known within
// ±Limits at k = 2.
type BackQuestion struct {
	Request Request `json:"request"`
	Tube    int     `json:"tube"`
	Value   float64 `json:"value"`
	Limits  float64 `json:"limits"`
}

// SolveBack is [Back] as a figure in the unit of the stock. An error is a
// verdict.Problems.
func SolveBack(q BackQuestion) (figure.Figure, error) {
	if !(q.Value > 0) || !(q.Limits >= 0) {
		return figure.Figure{}, verdict.Problems{{Field: "/value", Reason: "what was measured is above zero, and its uncertainty zero or more"}}
	}
	measured := uncertain.New(
		q.Value,
		q.Limits/uncertain.Coverage,
		uncertain.Source{ID: "measured", Label: "the measurement", Basis: "as stated, k = 2"},
	)
	back, err := Back(q.Request, q.Tube, measured)
	return figure.New("back", "undiluted", q.Request.Stock.Unit, back).As(figure.Concentration), err
}
