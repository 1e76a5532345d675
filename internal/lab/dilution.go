package lab

import (
	"encoding/json"

	"vialbench/core/dilution"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

func init() {
	register(kind{
		name: dilution.Kind, place: 20, rules: dilution.Rules, ask: askDilution,
		computations: map[string]computation{
			"dilution":         searches(dilution.Solve),
			"dilution/working": computes(explainTube),
			"step":             computes(dilution.Step.Solved),
			"back":             computes(dilution.SolveBack),
		},
	})
}

type tubeQuestion struct {
	Request dilution.Request `json:"request"`
	Tube    int              `json:"tube"`
}

func explainTube(q tubeQuestion) ([]working.Line, error) { return q.Request.ExplainTube(q.Tube) }

// askDilution takes the glass, the balance, the rules and the temperature of the bench
// from the lab, and the stock from its bottle when it is one.
func askDilution(question json.RawMessage, own *owned) (run.Plan, error) {
	var q dilution.Question
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	switch {
	case q.Stock.Bottle != "":
		bottle, err := own.bottle(q.Stock.Bottle)
		if err != nil {
			return nil, at("/stock/bottle", err)
		}
		c, ok := bottle.Product.PerVolume()
		if !ok {
			return nil, verdict.Problems{{Field: "/stock/bottle", Reason: "this bottle tells no concentration by volume: it cannot be diluted"}}
		}
		p := bottle.Product
		q.Stock = dilution.Stock{
			Name:          p.Name,
			Number:        bottle.Number,
			Formula:       p.Formula,
			Unit:          c.Unit,
			Concentration: c.Number,
			Bottle:        bottle.ID,
			Left:          bottle.Left(),
			Approximate:   !p.Exact,
			Ingredients:   p.Ingredients,
			Mixture:       p.Mixture,
			Density:       q.Stock.Density,
			DensityLimits: q.Stock.DensityLimits,
		} // the density is not known of a bottle
	case q.Stock.Key != "":
		s, err := own.substance(q.Stock.Key)
		if err != nil {
			return nil, at("/stock/key", err)
		}
		q.Stock.Ingredients = []substance.Ingredient{{Key: s.Key, Grams: 1000 * s.Density * s.MassFraction, Hazards: s.Hazards}}
	}
	q.Glass, q.Thresholds, q.WaterTemperature = own.glass, own.settings.Thresholds, own.bench.WaterTemperature
	if q.Balance = nil; q.Weighed {
		balance := own.balance()
		q.Balance = &balance
	}
	answer, err := dilution.Solve(own.tx.Context(), q)
	return answer.Request, err
}
