package lab

import (
	"context"

	"vialbench/core/run"
	"vialbench/internal/store"
)

// Entry is one line of the logbook: a fact, and the correction that replaced it.
type Entry struct {
	store.LogLine
	// Late reports whether it went on record long after it was made.
	Late bool
}

// atATime is how many rows of a large table are read at once.
const atATime = 1000

// Logbook lists facts, newest first.
func (l *Lab) Logbook(ctx context.Context, f store.LogFilter, cursor int64) (Page[Entry], error) {
	entries, err := l.log(ctx, f, before(cursor), pageSize+1)
	return cut(entries, func(e Entry) int64 { return e.Seq }), err
}

// EachEntry visits all facts that pass the filter, newest first, some at a time.
func (l *Lab) EachEntry(ctx context.Context, f store.LogFilter, visit func(Entry) error) error {
	for before := fromStart; ; {
		entries, err := l.log(ctx, f, before, atATime)
		if err != nil {
			return err
		}
		for _, e := range entries {
			if err := visit(e); err != nil {
				return err
			}
		}
		if len(entries) < atATime {
			return nil
		}
		before = entries[len(entries)-1].Seq
	}
}

func (l *Lab) log(ctx context.Context, f store.LogFilter, before int64, most int) ([]Entry, error) {
	db := l.store.With(ctx)
	lines, err := db.Log(f, before, most)
	if err != nil {
		return nil, err
	}
	settings, err := db.Settings()
	entries := make([]Entry, len(lines))
	for i, line := range lines {
		entries[i] = Entry{line, run.Late(line.MadeAt, line.RecordedAt, settings.Thresholds)}
	}
	return entries, err
}
