package lab

import (
	"encoding/json"
	"math"

	"vialbench/core/buffer"
	"vialbench/core/calibration"
	"vialbench/core/equilibrium"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/internal/store"
)

func init() {
	register(kind{
		name: buffer.Kind, place: 30, rules: buffer.Rules, ask: askBuffer,
		renew: func(plan run.Plan, own *owned) (run.Plan, bool, error) {
			r := plan.(buffer.Request) //nolint:errcheck // what this kind decodes
			probe, changed, err := own.newerProbe(r.Probe)
			r.Probe = probe
			return r, changed, err
		},
		computations: map[string]computation{
			"buffer":     searches(buffer.Solve),
			"diagnose":   searches(buffer.Miss),
			"speciation": computes(equilibrium.Speciate),
			"additions":  computes(equilibrium.Additions),
		},
	})
}

// askBuffer takes the stocks on the shelf, substances, balance, glass and rules from the
// lab, and the calibration that holds for the meter on the bench.
func askBuffer(question json.RawMessage, own *owned) (run.Plan, error) {
	var q buffer.Question
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	var err error
	if q.Systems, err = ownSystems(own.tx); err != nil {
		return nil, err
	}
	if q.Shelf, err = own.stocks(q.Systems); err != nil {
		return nil, err
	}
	mine, err := own.tx.Substances()
	if err != nil {
		return nil, err
	}
	q.Substances = nil
	for _, s := range mine {
		q.Substances = append(q.Substances, s.Substance)
	}
	q.Balance, q.Glass, q.Thresholds = own.balance(), own.glass, own.settings.Thresholds
	q.FlaskClass = glassware.Class(own.settings.FlaskClass)
	answer, err := buffer.Solve(own.tx.Context(), q)
	if err != nil {
		return nil, err
	}
	r := answer.Design.Request
	r.Probe, err = own.probe()
	return r, err
}

// probe is the meter on the bench under the calibration that holds; nil when none does.
func (o *owned) probe() (*calibration.Probe, error) {
	if o.bench.Meter == nil {
		return nil, nil
	}
	past, err := calibrationsOf(o.tx, o.bench.Meter.Name, 1)
	if err != nil || len(past) == 0 {
		return nil, err
	}
	return &calibration.Probe{Calibration: past[0].Calibration, At: past[0].At, Run: past[0].Run.ID, Number: past[0].Run.Number}, nil
}

// newerProbe is the probe that holds now, when that is another one than a plan has.
func (o *owned) newerProbe(was *calibration.Probe) (probe *calibration.Probe, changed bool, err error) {
	now, err := o.probe()
	if err != nil || now == nil || was != nil && was.Run == now.Run && was.At.Equal(now.At) {
		return was, false, err
	}
	return now, true, nil
}

// stocks are the bottles on the shelf that a buffer can be made of.
func (o *owned) stocks(systems []equilibrium.System) ([]buffer.Stock, error) {
	var list []buffer.Stock
	for before := int64(math.MaxInt64); ; {
		page, err := o.tx.Bottles(store.ShelfFilter{}, before, pageSize)
		if err != nil {
			return nil, err
		}
		for _, b := range page {
			if s, ok := buffer.StockOf(b.Product, b.ID, b.Number, b.Left(), systems...); ok && b.State == onShelf {
				list = append(list, s)
			}
			before = b.Number
		}
		if len(page) < pageSize {
			return list, nil
		}
	}
}
