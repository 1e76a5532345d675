package lab

import (
	"context"

	"vialbench/internal/store"
)

// Entry is one line of the logbook: a fact, and the correction that replaced it.
type Entry struct {
	store.Fact
	Correction *store.Fact
}

// maxExport bounds a logbook table.
const maxExport = 100_000

// Logbook lists facts, newest first.
func (l *Lab) Logbook(ctx context.Context, f store.LogFilter, cursor int64) (Page[Entry], error) {
	entries, err := l.log(ctx, f, before(cursor), pageSize+1)
	return cut(entries, func(e Entry) int64 { return e.Seq }), err
}

// WholeLogbook lists all facts that pass the filter, newest first.
func (l *Lab) WholeLogbook(ctx context.Context, f store.LogFilter) ([]Entry, error) {
	return l.log(ctx, f, fromStart, maxExport)
}

func (l *Lab) log(ctx context.Context, f store.LogFilter, before int64, most int) ([]Entry, error) {
	db := l.store.With(ctx)
	facts, err := db.Log(f, before, most)
	if err != nil {
		return nil, err
	}
	entries := make([]Entry, len(facts))
	place := make(map[string]int, len(facts))
	ids := make([]string, len(facts))
	for i, fact := range facts {
		entries[i], ids[i], place[fact.ID] = Entry{Fact: fact}, fact.ID, i
	}
	corrections, err := db.Corrections(ids)
	if err != nil {
		return nil, err
	}
	for i, c := range corrections {
		entries[place[*c.Replaces]].Correction = &corrections[i]
	}
	return entries, nil
}
