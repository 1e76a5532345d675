package lab

import (
	"context"
	"errors"

	"vialbench/core/comparison"
	"vialbench/internal/store"
)

// Term is how a class did in a task: what can be told beside another class that had other bottles.
type Term struct {
	Task    ClassTask
	Session store.LabSession
	Results int
	Off     int
	// Error is the median of the percent errors; nil where nobody knows what the bottles held. Scatter is the robust standard
	// deviation of the results, %.
	Error   *float64
	Scatter float64
}

// term is what a comparison of a class gives; ok is false where nothing is compared.
func (out ClassResults) term() (t Term, ok bool) {
	if out.Compared == nil || len(out.Results) == 0 {
		return t, false
	}
	t = Term{Task: out.Task, Session: out.Session, Results: len(out.Results)}
	var errs, values []float64
	for i, r := range out.Compared.Rows {
		if r.Off {
			t.Off++
		}
		if r.Error != nil {
			errs = append(errs, *r.Error)
		}
		values = append(values, out.Results[i].Value)
	}
	if len(errs) == len(values) {
		median := comparison.Median(errs)
		t.Error = &median
	} else {
		errs = errs[:0]
		middle := comparison.Median(values)
		for _, x := range values {
			errs = append(errs, 100*(x/middle-1))
		}
	}
	if len(errs) > 1 {
		t.Scatter = comparison.AlgorithmA(errs).SD
	}
	return t, true
}

// mostTerms is how many earlier classes are looked back on.
const mostTerms = 5

// EarlierTerms are how earlier classes did in a task of the same title and unit, newest first. Those of which nothing was handed in, or of
// which what the bottles held is locked, are left out.
func (l *Lab) EarlierTerms(ctx context.Context, taskID string) ([]Term, error) {
	db := l.store.With(ctx)
	task, err := db.ClassTaskByID(taskID)
	if err != nil {
		return nil, found(err, "this task")
	}
	before, err := db.EarlierClassTasks(task, mostTerms)
	if err != nil {
		return nil, err
	}
	list := []Term{}
	for _, t := range before {
		out, err := l.ClassResultsOf(ctx, t.ID)
		var gone NotFound
		if errors.As(err, &gone) { // its session was taken off the plan
			continue
		}
		if err != nil {
			return nil, err
		}
		if term, ok := out.term(); ok {
			list = append(list, term)
		}
	}
	return list, nil
}
