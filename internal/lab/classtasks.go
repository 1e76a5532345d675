package lab

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// NewClassTask is a task for the groups of a session. Held is what all bottles held, as typed.
type NewClassTask struct {
	ID, Plan, Title, Unit, Held, Unknowns string
	// Shows and Quiet say what groups see before they handed in: what is computed, and no verdicts.
	Shows, Quiet bool
}

// AddClassTask gives the groups of a session a plan. A task that is known already stays as it is.
func (l *Lab) AddClassTask(ctx context.Context, by Actor, sessionID string, n NewClassTask) (ClassState, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		if _, err := plannedFor(tx, sessionID); err != nil {
			return err
		}
		there, err := tx.ClassTasks([]string{sessionID})
		if err != nil {
			return err
		}
		row, err := n.read(tx)
		if err != nil {
			return err
		}
		if i := slices.IndexFunc(there, func(t store.ClassTask) bool { return t.ID == n.ID }); i >= 0 {
			return otherwise(there[i].PlanID == row.PlanID && there[i].Unit == row.Unit && there[i].Title == row.Title)
		}
		if len(standing(there)) >= mostTasks {
			return Conflict{fmt.Sprintf("a class has at most %d tasks", mostTasks)}
		}
		row.SessionID, row.MadeBy, row.MadeAt = sessionID, by.ID, l.now()
		if err := tx.Create(&row); err != nil {
			return err
		}
		return tx.Announce(topicClass + sessionID)
	})
	if err != nil && !store.IsDuplicate(err) {
		return ClassState{}, err
	}
	return l.Class(ctx, sessionID)
}

// standing are the tasks that were not removed.
func standing(tasks []store.ClassTask) []store.ClassTask {
	return slices.DeleteFunc(slices.Clone(tasks), func(t store.ClassTask) bool { return t.RemovedAt != nil })
}

func (n NewClassTask) read(tx *store.Store) (store.ClassTask, error) {
	row := store.ClassTask{ID: n.ID, PlanID: n.Plan, Shows: n.Shows, Quiet: n.Quiet}
	plan, err := tx.PlanByID(n.Plan)
	if err != nil {
		return row, at("/plan", found(err, "this plan"))
	}
	row.Title = cmp.Or(strings.TrimSpace(n.Title), plan.Title)
	var p verdict.Problems
	unit, err := quantity.UnitOf(strings.TrimSpace(n.Unit)) // of what, may stand behind it: “mg/L P”
	if err != nil {
		p.Add("/unit", "%s", err)
		return row, p
	}
	row.Unit = strings.TrimSpace(n.Unit)
	if held := strings.TrimSpace(n.Held); held != "" {
		value, u, _ := strings.Cut(held, "±")
		unitText := ""
		if u != "" { // the unit stands behind both
			if number, rest, ok := strings.Cut(strings.TrimSpace(u), " "); ok {
				u, unitText = number, rest
			}
		}
		x, err := quantity.ParseAny(strings.TrimSpace(value+" "+unitText), []quantity.Dimension{unit.Dimension}, unit.Symbol)
		if err != nil || !(x.Value > 0) {
			p.Add("/held", "write what the bottles held like 0.0512 ± 0.0002 %s", row.Unit)
			return row, p
		}
		v := x.Base() / unit.Factor
		row.Held = &v
		if u = strings.TrimSpace(u); u != "" {
			size, err := quantity.Number(u)
			if err != nil || size < 0 {
				p.Add("/held", "the uncertainty behind ± is a number, like 0.0002")
				return row, p
			}
			row.HeldU = size * x.Unit.Factor / unit.Factor
		}
	}
	if n.Unknowns != "" {
		set, err := tx.UnknownSetByID(n.Unknowns)
		if err != nil {
			return row, at("/unknowns", found(err, "this set of unknowns"))
		}
		of, err := quantity.FindUnit(set.Set.Unit)
		if err != nil || of.Dimension != unit.Dimension {
			p.Add("/unit", "these unknowns are known in %s: ask for the result in that", set.Set.Unit)
			return row, p
		}
		row.UnknownsID = &set.ID
	}
	return row, nil
}

// RemoveClassTask takes a task off the groups; what they did stays on record.
func (l *Lab) RemoveClassTask(ctx context.Context, by Actor, id string) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		t, err := tx.ClassTaskByID(id)
		if err != nil {
			return found(err, "this task")
		}
		return errors.Join(tx.RemoveClassTask(id, l.now()), tx.Announce(topicClass+t.SessionID))
	})
}
