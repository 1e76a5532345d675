package lab

import (
	"context"
	"errors"
	"reflect"
	"time"

	"vialbench/core/marks"
	"vialbench/core/run"
	"vialbench/internal/store"
)

// schemeOf is how the results of a task are marked; nil where they are not.
func schemeOf(db *store.Store, taskID string) (*marks.Scheme, error) {
	list, err := db.ClassSchemes([]string{taskID})
	if err != nil || len(list) == 0 || len(list[len(list)-1].Scheme.Parts) == 0 {
		return nil, err
	}
	return &list[len(list)-1].Scheme, nil
}

// MarkClass sets how the results of a task are marked; a nil scheme takes the marks away. An ID that is known does nothing again.
func (l *Lab) MarkClass(ctx context.Context, by Actor, taskID, id string, scheme *marks.Scheme) (ClassResults, error) {
	if err := by.mayRule("marking results"); err != nil {
		return ClassResults{}, err
	}
	row := store.ClassScheme{ID: id, TaskID: taskID, MadeBy: by.ID, MadeAt: l.now()}
	if scheme != nil {
		if err := scheme.Check(); err != nil {
			return ClassResults{}, at("/scheme", err)
		}
		row.Scheme = *scheme
	}
	err := l.change(ctx, by, func(tx *store.Store) error {
		task, err := tx.ClassTaskByID(taskID)
		if err != nil {
			return found(err, "this task")
		}
		return errors.Join(tx.Create(&row), tx.Announce(topicClass+task.SessionID))
	})
	same := func(s store.ClassScheme) bool { return s.TaskID == taskID && reflect.DeepEqual(s.Scheme, row.Scheme) }
	if err = again(err, l.store.With(ctx).ClassSchemeByID, id, same); err != nil {
		return ClassResults{}, err
	}
	return l.ClassResultsOf(ctx, taskID)
}

// mark marks the results of a task by its scheme.
func (out *ClassResults) mark(db *store.Store) (err error) {
	if out.Scheme, err = schemeOf(db, out.Task.ID); err != nil || out.Scheme == nil {
		return err
	}
	for i := range out.Results {
		r := &out.Results[i]
		h := marks.Handed{Runs: r.Runs, Half: r.half, U: r.U}
		if r.Row != nil {
			h.Error = r.Row.Error
		}
		if r.Traced != nil && r.Behind != nil {
			h.Follows = r.Traced.Follows
		}
		if r.Behind != nil {
			notes, err := db.CountFacts(r.Behind.ID, run.KindNote)
			if err != nil {
				return err
			}
			if r.HandIn.Note != "" {
				notes++
			}
			h.Notes = &notes
		}
		m := out.Scheme.Mark(h)
		r.Marked = &m
	}
	return nil
}

// SchemeRecord is how the results of a task were marked from a time on.
type SchemeRecord struct {
	ID     string       `json:"id"`
	Scheme marks.Scheme `json:"scheme"`
	By     string       `json:"by"`
	At     time.Time    `json:"at"`
}
