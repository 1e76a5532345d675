package lab

import (
	"encoding/json"
	"fmt"

	"vialbench/core/buffer"
	"vialbench/core/curve"
	"vialbench/core/equilibrium"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func init() {
	register(kind{
		name: curve.Kind, place: 51, rules: curve.Rules, ask: askCurve,
		renew: func(plan run.Plan, own *owned) (run.Plan, bool, error) {
			r := plan.(curve.Request) //nolint:errcheck // what this kind decodes
			probe, changed, err := own.newerProbe(r.Probe)
			r.Probe = probe
			return r, changed, err
		},
		computations: map[string]computation{
			"curve": computes(curve.Solve),
			"fit":   computes(curve.Read),
		},
	})
}

// solutionQuestion is what is in the flask or in the burette: a bottle, or a name, a formula and
// about how strong.
type solutionQuestion struct {
	Bottle  string  `json:"bottle"`
	Name    string  `json:"name"`
	Formula string  `json:"formula"`
	C       float64 `json:"c"`
}

// curveQuestion asks for a curve to be taken.
type curveQuestion struct {
	Flask    solutionQuestion `json:"flask"`
	Burette  solutionQuestion `json:"burette"`
	Volume   float64          `json:"volume"`
	Water    float64          `json:"water"`
	Glass    float64          `json:"glass"` // mL, the nearest burette of those owned
	Celsius  float64          `json:"celsius"`
	Carbonic bool             `json:"carbonic"`
	// Device “drops” counts them instead: from the Tip that this run calibrated, or of the volume
	// of a Drop in mL.
	Device string  `json:"device"`
	Tip    string  `json:"tip"`
	Drop   float64 `json:"drop"`
	// Acid brings it to its fully protonated form first; empty of what needs none.
	Acid solutionQuestion `json:"acid"`
}

// askCurve takes bottles, glass, the calibration that holds and rules from the lab.
func askCurve(question json.RawMessage, own *owned) (run.Plan, error) {
	var q curveQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	systems, err := ownSystems(own.tx)
	if err != nil {
		return nil, err
	}
	r := curve.Request{
		Volume: q.Volume, Water: q.Water, Celsius: q.Celsius, Carbonic: q.Carbonic, Thresholds: own.settings.Thresholds,
		Glass: glassware.Largest(glassware.Burette, q.Glass, own.glass),
	}
	if q.Device == byDrops {
		r.Glass = glassware.Item{}
		if r.Tip, err = own.tip(q.Tip, q.Drop); err != nil {
			return nil, err
		}
	}
	if pipette, ok := own.pipette(q.Volume); ok {
		r.Sample = pipette
	} else if q.Volume > 0 {
		if r.Sample, err = glassware.MeasureFor(glassware.Cylinder, q.Volume, own.glass); err != nil {
			return nil, at("/volume", verdict.Problems{{Reason: err.Error()}})
		}
	}
	if r.Flask, r.Analyte, err = own.dissolved("/flask", q.Flask, systems); err != nil {
		return nil, err
	}
	if r.Burette, r.Titrant, err = own.dissolved("/burette", q.Burette, systems); err != nil {
		return nil, err
	}
	if q.Acid.Bottle != "" || q.Acid.Formula != "" {
		var with curve.Protonate
		if with.Acid, with.Compound, err = own.dissolved("/acid", q.Acid, systems); err != nil {
			return nil, err
		}
		r.Protonate = &with
	}
	if r.Probe, err = own.probe(); err != nil {
		return nil, err
	}
	_, err = r.Design()
	return r, err
}

// typedLimits is how well a strength is known that was typed, as a fraction (k = 1).
const typedLimits = 0.005

// dissolved is one acid or base in water, and what it brings there.
func (o *owned) dissolved(
	field string,
	q solutionQuestion,
	systems []equilibrium.System,
) (s buffer.Stock, c equilibrium.Compound, err error) {
	if q.Bottle == "" {
		s = buffer.Stock{Name: q.Name, Formula: q.Formula, Concentration: uncertain.New(q.C, typedLimits*q.C, uncertain.Source{
			ID: "strength of " + q.Formula, Label: "strength of " + q.Name, Basis: "as stated, ±0.5 % (k = 1)",
		})}
		if q.Name == "" {
			s.Name = q.Formula
		}
	} else {
		b, err := o.bottle(q.Bottle)
		if err != nil {
			return s, c, at(field+"/bottle", err)
		}
		var ok bool
		if s, ok = buffer.StockOf(b.Product, b.ID, b.Number, b.Left(), systems...); !ok {
			return s, c, verdict.Problems{
				{Field: field + "/bottle", Reason: fmt.Sprintf("bottle %d is no solution of one acid or base that is known here", b.Number)},
			}
		}
	}
	c, ok := equilibrium.CompoundOf(s.Formula, systems...)
	if !ok { // a salt of one of the library's systems that is in no list, like glycine hydrochloride
		c, ok = equilibrium.CompoundOf(s.Formula, equilibrium.Systems()...)
	}
	if !ok || len(c.Units) > 1 {
		return s, c, verdict.Problems{
			{
				Field:  field + "/formula",
				Reason: fmt.Sprintf("“%s” is not known as one acid or base here: write its formula, like C2H4O2", s.Formula),
			},
		}
	}
	return s, c, nil
}
