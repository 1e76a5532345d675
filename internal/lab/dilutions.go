package lab

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"vialbench/core/dilution"
	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// CreateDilution finds the ladder for a question and keeps it. What belongs to the
// lab, and the stock when it is a bottle, is taken from the lab. An id that is known
// already returns the plan that has it.
func (l *Lab) CreateDilution(ctx context.Context, by Actor, id string, q dilution.Question) (store.Plan, error) {
	var plan store.Plan
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		var err error
		if plan, err = tx.PlanByID(id); err == nil {
			return nil
		}
		bench, err := tx.Bench()
		if err != nil {
			return err
		}
		settings, err := tx.Settings()
		if err != nil {
			return err
		}
		glass, err := tx.Glass()
		if err != nil {
			return err
		}
		if q.Stock.Bottle != "" {
			density, limits := q.Stock.Density, q.Stock.DensityLimits // not known of a bottle
			if q.Stock, err = stockOf(tx, q.Stock.Bottle); err != nil {
				return err
			}
			q.Stock.Density, q.Stock.DensityLimits = density, limits
		}
		q.Glass, q.Thresholds, q.WaterTemperature = eachItem(glass), settings.Thresholds, bench.WaterTemperature
		if q.Balance = nil; q.Weighed && bench.Balance != nil {
			q.Balance = &bench.Balance.Balance
		}
		answer, err := dilution.Design(q)
		if err != nil {
			return err
		}
		row := store.Plan{ID: id, Kind: store.DilutionKind, Title: answer.Request.Title(), Dilution: answer.Request, CreatedBy: by.ID, CreatedAt: l.now()}
		if err := tx.Create(&row); err != nil {
			return err
		}
		plan, err = tx.PlanByID(id)
		return err
	})
	return plan, err
}

// stockOf makes a stock of a bottle on the shelf.
func stockOf(tx *store.Store, id string) (dilution.Stock, error) {
	if _, err := uuid.Parse(id); err != nil {
		return dilution.Stock{}, verdict.Problems{{Field: "/stock/bottle", Reason: "a bottle is named by its ID"}}
	}
	b, err := tx.BottleByID(id)
	switch {
	case err != nil:
		return dilution.Stock{}, found(err, "this bottle")
	case b.State != onShelf:
		return dilution.Stock{}, Conflict{"this bottle is not on the shelf any more (" + b.Reason + ")"}
	case len(b.Outcome.Figures) == 0 || !(b.Outcome.Figures[0].Value > 0):
		return dilution.Stock{}, verdict.Problems{{Field: "/stock/bottle", Reason: "nothing is dissolved in this bottle: it cannot be diluted"}}
	}
	c := b.Outcome.Figures[0]
	name, formula := BottleContents(b)
	hazards, signal := BottleHazards(b)
	return dilution.Stock{Name: name, Number: b.Number, Formula: formula, Unit: c.Unit, Concentration: c.Number, Bottle: b.ID, Left: b.Left(),
		Approximate: !b.Outcome.Exact, Hazards: hazards, Signal: signal}, nil
}

// takenForRun names the entry of what a run draws from its stock, so that it is made
// once.
func takenForRun(runID string) string {
	return uuid.NewSHA1(uuid.NameSpaceOID, []byte("stock of run "+runID)).String()
}

// keepRack makes a bottle of each tube of a finished dilution, or brings them up to
// date after a correction; and takes what was drawn from the stock, once.
func (l *Lab) keepRack(tx *store.Store, by Actor, view RunView) error {
	stock := view.Plan.Dilution.Stock
	ladder, err := dilution.Plan(view.Plan.Dilution)
	if err != nil {
		return err
	}
	if view.Outcome.Status == run.Finished && stock.Bottle != "" {
		if err := l.drawStock(tx, by, view, ladder.StockNeeded); err != nil {
			return err
		}
	}
	parents := map[int]*string{dilution.FromStock: nil}
	if stock.Bottle != "" {
		parents[dilution.FromStock] = &stock.Bottle
	}
	for i, t := range view.Outcome.Rack {
		own := view // each tube has an outcome of its own
		own.Outcome.Figures = []figure.Figure{t.Concentration, t.Volume}
		own.Outcome.Volume, own.Outcome.Rack, own.Outcome.Steps = t.Volume.Value, nil, nil
		id, err := l.keepBottle(tx, by, own, i, fmt.Sprintf("%s, diluted to %s %s", stock, t.Concentration.Text, t.Concentration.Unit), parents[view.Plan.Dilution.Rungs[i].From])
		if err != nil {
			return err
		}
		if id != "" {
			parents[i] = &id
		}
	}
	return nil
}

// refreshDiluted computes anew what was diluted from a bottle whose own figures may have
// moved: facts stay, and what follows from them follows. A void bottle leaves what was
// made from it as it is, in doubt.
func (l *Lab) refreshDiluted(tx *store.Store, by Actor, bottle store.Bottle) error {
	if bottle.State == isVoid {
		return nil
	}
	plans, err := tx.DilutionsOf(bottle.ID)
	if err != nil {
		return err
	}
	for _, plan := range plans {
		c, stock := bottle.Outcome.Figures[0], &plan.Dilution.Stock
		if stock.Unit == c.Unit && stock.Concentration.Value == c.Value && stock.Concentration.U() == c.U() {
			continue
		}
		stock.Unit, stock.Concentration = c.Unit, c.Number
		if err := tx.Save(&plan); err != nil {
			return err
		}
		runs, err := tx.RunsOfPlan(plan.ID)
		if err != nil {
			return err
		}
		for _, r := range runs {
			view, err := runView(tx, r.ID, true)
			if err != nil {
				return err
			}
			if err := l.bringUpToDate(tx, by, &view); err != nil {
				return err
			}
		}
	}
	return nil
}

// drawStock records what the ladder drew from its bottle, as far as that had it.
func (l *Lab) drawStock(tx *store.Store, by Actor, view RunView, mL float64) error {
	stock := view.Plan.Dilution.Stock.Bottle
	entry := takenForRun(view.ID)
	if _, err := tx.TakingByID(entry); err == nil {
		return nil
	}
	bottle, err := lockedOnShelf(tx, stock)
	var gone Conflict
	if errors.As(err, &gone) {
		return nil // discarded meanwhile: nothing is left to take from
	}
	if err != nil {
		return err
	}
	if mL = min(mL, bottle.Left()); mL <= 0 {
		return nil
	}
	bottle.Taken += mL
	if err := tx.Save(&bottle); err != nil {
		return err
	}
	return tx.Create(&store.Taking{ID: entry, BottleID: stock, Volume: mL, Purpose: fmt.Sprintf("dilution, run %d", view.Number), MadeBy: by.ID, MadeAt: l.now().Truncate(time.Microsecond)})
}
