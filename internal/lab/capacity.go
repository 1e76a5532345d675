package lab

import (
	"encoding/json"
	"fmt"

	"vialbench/core/capacity"
	"vialbench/core/droptip"
	"vialbench/core/equilibrium"
	"vialbench/core/indicator"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

func init() {
	register(kind{
		name: capacity.Kind, place: 45, rules: capacity.Rules, ask: askCapacity,
		renew: func(plan run.Plan, own *owned) (run.Plan, bool, error) {
			r := plan.(capacity.Request) //nolint:errcheck // what this kind decodes
			probe, changed, err := own.newerProbe(r.Probe)
			r.Probe = probe
			return r, changed, err
		},
		computations: map[string]computation{"capacity": computes(capacity.Solve)},
	})
}

// capacityQuestion asks for a test of what stands on the shelf.
type capacityQuestion struct {
	Bottle  string  `json:"bottle"`
	Volume  float64 `json:"volume"`
	Covered float64 `json:"covered"`
	Acid    float64 `json:"acid"`
	Base    float64 `json:"base"`
	Drink   string  `json:"drink"`
	// AcidBottle and BaseBottle are added instead of these.
	AcidBottle string `json:"acidBottle"`
	BaseBottle string `json:"baseBottle"`
	// Portion in mL, or so many Drops with the volume of one.
	Portion float64 `json:"portion"`
	// Drop in mL is a drop, or that of the Tip that this run calibrated.
	Drops   int     `json:"drops"`
	Drop    float64 `json:"drop"`
	Tip     string  `json:"tip"`
	Water   bool    `json:"water"`
	Celsius float64 `json:"celsius"`
	// Dilution is the water that is added at a time to a beaker of its own, in mL; Baths, in
	// °C, warm or cool further ones, with the Indicator of that key in them.
	Dilution  float64   `json:"dilution"`
	Baths     []float64 `json:"baths"`
	Indicator string    `json:"indicator"`
}

// askCapacity takes what is in the bottle, and the calibration that holds.
func askCapacity(question json.RawMessage, own *owned) (run.Plan, error) {
	var q capacityQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	bottle, err := own.bottle(q.Bottle)
	if err != nil {
		return nil, at("/bottle", err)
	}
	systems, err := ownSystems(own.tx)
	if err != nil {
		return nil, err
	}
	m, ok := capacity.MixtureOf(bottle.Product, systems...)
	if !ok {
		return nil, verdict.Problems{
			{
				Field:  "/bottle",
				Reason: "what is in this bottle does in water is not known here: take a buffer, or a solution of one acid, base or salt",
			},
		}
	}
	var tip *droptip.Tip
	if q.Drops > 0 {
		if q.Tip == "" && !(q.Drop > 0) {
			return nil, verdict.Problems{{Field: "/drop", Reason: "counted drops need the volume of one: count 20 of them into a cylinder"}}
		}
		if tip, err = own.tip(q.Tip, q.Drop); err != nil {
			return nil, err
		}
		q.Portion = float64(q.Drops) * tip.Volume.Value
	}
	r := capacity.Request{
		Name:       bottle.Product.Title,
		Mixture:    m,
		Bottle:     bottle.ID,
		Number:     bottle.Number,
		Volume:     q.Volume,
		Covered:    q.Covered,
		Acid:       q.Acid,
		Base:       q.Base,
		Drink:      q.Drink,
		Portion:    q.Portion,
		Drops:      q.Drops,
		Tip:        tip,
		Water:      q.Water,
		Celsius:    q.Celsius,
		Dilution:   q.Dilution,
		Baths:      q.Baths,
		Thresholds: own.settings.Thresholds,
	}
	if r.AcidFrom, err = own.titrant("/acidBottle", q.AcidBottle, systems); err != nil {
		return nil, err
	}
	if r.BaseFrom, err = own.titrant("/baseBottle", q.BaseBottle, systems); err != nil {
		return nil, err
	}
	if q.Indicator != "" {
		i, ok := indicator.Find(q.Indicator)
		if !ok {
			return nil, verdict.Problems{{Field: "/indicator", Reason: fmt.Sprintf("no indicator “%s” in the library", q.Indicator)}}
		}
		r.Indicator = &i
	}
	if r.Probe, err = own.probe(); err != nil {
		return nil, err
	}
	_, err = r.Design()
	return r, err
}

// titrant is what a bottle contains as an acid or a base; nil without one.
func (o *owned) titrant(field, id string, systems []equilibrium.System) (*capacity.Titrant, error) {
	if id == "" {
		return nil, nil
	}
	b, err := o.bottle(id)
	if err != nil {
		return nil, at(field, err)
	}
	t, ok := capacity.TitrantOf(b.Product, b.ID, b.Number, systems...)
	if !ok {
		return nil, verdict.Problems{{Field: field, Reason: "take a solution of one acid or base, with its concentration in mol/L or the like"}}
	}
	return &t, nil
}
