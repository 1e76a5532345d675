package lab

import (
	"context"
	"encoding/json"
	"fmt"

	"vialbench/core/droptip"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

func init() {
	register(kind{name: droptip.Kind, place: 46, rules: droptip.Rules, ask: askDrops})
}

// dropsQuestion asks for the calibration of a tip.
type dropsQuestion struct {
	Name    string  `json:"name"`
	Liquid  string  `json:"liquid"`
	Density float64 `json:"density"`
	By      string  `json:"by"`
	// Cylinder in mL, the smallest of those owned that holds as much.
	Cylinder float64 `json:"cylinder"`
	Celsius  float64 `json:"celsius"`
}

// askDrops takes glass, balance and rules from the lab.
func askDrops(question json.RawMessage, own *owned) (run.Plan, error) {
	var q dropsQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	r := droptip.Request{
		Name: q.Name, Liquid: q.Liquid, Density: q.Density, By: q.By, Balance: own.balance(), Celsius: q.Celsius,
		Thresholds: own.settings.Thresholds,
	}
	if q.By == droptip.ByCylinder {
		var err error
		if r.Glass, err = glassware.MeasureFor(glassware.Cylinder, q.Cylinder, own.glass); err != nil {
			return nil, at("/cylinder", verdict.Problems{{Reason: err.Error()}})
		}
	}
	_, err := r.Design()
	return r, err
}

// PastTip is a tip as a run found it.
type PastTip struct {
	droptip.Tip
	Run store.Run
	// Text is the volume of a drop.
	Text string
}

// Tips lists the calibrated tips, newest first; of those of one name the newest alone.
func (l *Lab) Tips(ctx context.Context) ([]PastTip, error) {
	db := l.store.With(ctx)
	runs, err := db.FinishedRuns(droptip.Kind, maxTips)
	if err != nil {
		return nil, err
	}
	var list []PastTip
	seen := map[string]bool{}
	for _, r := range runs {
		tip, err := tipOf(db, r)
		if err != nil {
			return nil, err
		}
		if tip != nil && !seen[tip.Name] {
			text, u := quantity.Round(tip.Volume.Value, tip.Volume.Expanded())
			seen[tip.Name] = true
			list = append(list, PastTip{*tip, r, text + " ± " + u + " mL"})
		}
	}
	return list, nil
}

// maxTips is how many calibrations are looked through for tips.
const maxTips = 100

// tipOf is what a run found of a tip; nil when it found nothing.
func tipOf(db *store.Store, r store.Run) (*droptip.Tip, error) {
	out, err := outcomeOf(db, r.ID)
	if err != nil {
		return nil, err
	}
	for _, p := range out.Products {
		if is, ok := p.Detail.(droptip.Result); ok {
			is.Tip.Run, is.Tip.Number = r.ID, r.Number
			return &is.Tip, nil
		}
	}
	return nil, nil
}

// tip is the one that a run calibrated, or without a run one whose drops have the volume in mL
// that was typed, or that is usual.
func (o *owned) tip(runID string, mL float64) (*droptip.Tip, error) {
	if runID == "" {
		if mL == 0 {
			mL = o.settings.Thresholds.Of(droptip.RuleDrop)
		}
		tip := droptip.Uncounted("a dropper", mL)
		return &tip, at("/drop", tip.Check())
	}
	if !isUUID(runID) {
		return nil, verdict.Problems{{Field: "/tip", Reason: "a tip is named by the run that calibrated it"}}
	}
	r, err := o.tx.RunByID(runID, false)
	if err != nil {
		return nil, at("/tip", found(err, "this tip"))
	}
	tip, err := tipOf(o.tx, r)
	if err == nil && tip == nil {
		err = verdict.Problems{{Field: "/tip", Reason: fmt.Sprintf("run %d found no volume of a drop: take a tip that was calibrated", r.Number)}}
	}
	return tip, err
}
