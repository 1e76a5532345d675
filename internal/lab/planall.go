package lab

import (
	"context"
	"slices"

	"vialbench/core/session"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// planned is what sessions that were planned first have: so much of bottles, in mL by their IDs, and of what is in the
// store by its key; and the hours of people and things.
type planned struct {
	sessions map[string]bool
	promised map[string]float64
	busy     []session.Busy
}

func newPlanned() *planned { return &planned{map[string]bool{}, map[string]float64{}, nil} }

func (p *planned) add(id string, d session.Design) {
	p.sessions[id] = true
	for bottle, mL := range d.Takes {
		p.promised[bottle] += mL
	}
	for _, draw := range d.Draws {
		p.promised[draw.Key] += draw.Amount
	}
	for _, bar := range d.Bars {
		p.busy = append(p.busy, bar.Busy())
	}
}

// without takes from what the store holds what others were promised of it.
func (p *planned) without(held []session.Stock) []session.Stock {
	list := slices.Clone(held)
	for i := range list {
		list[i].Left -= p.promised[list[i].Key]
	}
	return list
}

// keptBack is how much of a bottle stays for the session that it was made for, in mL.
type keptBack struct {
	session string
	mL      float64
}

// madeFor tells which bottles were made for which of the sessions to come, and how much those need of them.
func (s sessionStore) madeFor(coming []store.LabSession, tasks []store.SessionTask, rules verdict.Thresholds) map[string]keptBack {
	list := map[string]keptBack{}
	for _, t := range tasks {
		i := slices.IndexFunc(coming, func(c store.LabSession) bool { return c.ID == t.SessionID })
		if t.RunID == nil || i < 0 {
			continue
		}
		needs, err := session.Needs(coming[i].Plan, rules)
		if err != nil {
			continue // kept before a rule forbade it: it needs nothing
		}
		for _, b := range s.bottles {
			if s.runs[b.ID] != *t.RunID {
				continue
			}
			kept := keptBack{session: t.SessionID}
			for k, item := range coming[i].Plan.Items {
				if nameOf(item.Name) == nameOf(b.Name) {
					kept.mL += needs[k].Total
				}
			}
			list[b.ID] = kept
		}
	}
	return list
}

// planAll plans sessions as the lab stands, one after another: what one has is not there for the next, nor what was given
// before, nor what was made for another of those to come.
func (l *Lab) planAll(ctx context.Context, db *store.Store, rows, coming []store.LabSession, before *planned) ([]PlannedSession, error) {
	views := make([]PlannedSession, len(rows))
	if len(rows) == 0 {
		return views, nil
	}
	var ids []string
	for _, row := range slices.Concat(rows, coming) {
		ids = append(ids, row.ID)
	}
	tasks, err := db.SessionTasks(ids)
	if err != nil {
		return nil, err
	}
	owned, err := l.sessionStore(db, rows)
	if err != nil {
		return nil, err
	}
	kept := owned.madeFor(coming, tasks, owned.question.Thresholds)
	for i, row := range rows {
		q := owned.question
		q.Now, q.Session, q.Moved = l.now(), row.Plan, row.Moved
		q.Store.Bottles, q.Busy = owned.bottlesFor(row.Plan, before.promised), before.busy
		for k, b := range q.Store.Bottles {
			if of := kept[b.ID]; of.session != row.ID && !before.sessions[of.session] {
				q.Store.Bottles[k].Promised += min(b.Left, of.mL)
			}
		}
		q.Store.Stock = before.without(q.Store.Stock)
		views[i].LabSession, views[i].Cautions = row, q.Store.Cautions(row.Plan)
		views[i].Past, q.Done = became(tasks, row.ID)
		for _, past := range views[i].Past {
			if past.State == taskBegun {
				q.Begun = append(q.Begun, past.Task)
			}
		}
		if views[i].Design, err = l.designs.of(ctx, row.ID, q, owned.substances); err != nil {
			return nil, err
		}
		before.add(row.ID, views[i].Design)
	}
	return views, nil
}
