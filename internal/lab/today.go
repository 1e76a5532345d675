package lab

import (
	"context"
	"time"

	"vialbench/core/run"
	"vialbench/internal/store"
)

// Today is what is going on.
type Today struct {
	Open, Recent []store.Run
	// Expiring and Standardise are the bottles whose day has come or is near.
	Expiring, Standardise []BottleView
	Bottles               int64
	// Next are the tasks of sessions that are due next, Sessions those to come.
	Next     []NextTask
	Sessions []PlannedSession
	// Orders are the articles of the store that have to be ordered, the first to be ordered first.
	Orders []ArticleView
	// Lacks names what is still to be set up, in the order to do it.
	Lacks []string
}

// How far ahead Today looks, and how many finished runs it shows.
const (
	expiryOutlook      = 14 * 24 * time.Hour
	standardiseOutlook = 2 * 24 * time.Hour
	recentRuns         = 6
	mostNext           = 8
)

// Today gathers what is going on and what to do next.
func (l *Lab) Today(ctx context.Context) (Today, error) {
	topics := []string{"run", "shelf", "bottle", "setup", topicPlanned, topicStore}
	return l.today.get(ctx, l, topics, func(ctx context.Context) (Today, error) {
		t, err := l.lookToday(l.store.With(ctx))
		if err != nil {
			return t, err
		}
		t.Sessions, err = l.LabSessions(ctx)
		if err != nil {
			return t, err
		}
		t.Next = nextTasks(t.Sessions, l.now(), mostNext)
		t.Orders, err = l.Orders(ctx)
		return t, err
	})
}

func (l *Lab) lookToday(db *store.Store) (t Today, err error) {
	if t.Open, err = db.Runs(string(run.Open), "", fromStart, pageSize); err != nil {
		return t, err
	}
	latest, err := db.Runs("", "", fromStart, pageSize)
	if err != nil {
		return t, err
	}
	for _, r := range latest {
		if r.Status != string(run.Open) && len(t.Recent) < recentRuns {
			t.Recent = append(t.Recent, r)
		}
	}
	soon := l.now().Add(expiryOutlook)
	if t.Expiring, err = l.shelved(db, store.ShelfFilter{ExpiringBefore: soon}); err != nil {
		return t, err
	}
	if t.Standardise, err = l.shelved(db, store.ShelfFilter{StandardiseBefore: l.now().Add(standardiseOutlook)}); err != nil {
		return t, err
	}
	if t.Bottles, err = db.CountBottles(); err != nil {
		return t, err
	}
	t.Lacks, err = lacks(db, len(latest) > 0)
	return t, err
}
