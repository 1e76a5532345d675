package lab

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"vialbench/core/comparison"
	"vialbench/core/figure"
	"vialbench/core/marks"
	"vialbench/core/quantity"
	"vialbench/core/slip"
	"vialbench/core/uncertain"
	"vialbench/core/unknowns"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// ClassResults are the results of a task, compared and traced.
type ClassResults struct {
	Task    ClassTask
	Session store.LabSession
	Results []ClassResult
	// Compared is nil while nothing can be compared.
	Compared *comparison.Compared
	// Scheme is how they are marked; nil where they are not.
	Scheme *marks.Scheme
}

// ClassResult is what a group handed in, with what was found of it.
type ClassResult struct {
	ClassCell
	// Value is what was stated, in the unit of the task; U is that of its figures, k = 2, or 0.
	Value, U float64
	// Runs are the single values that its own figures give, where there are several; Marked are its marks.
	Runs   []float64
	Marked *marks.Marked
	half   float64 // half a unit of the last digit that was written
	// Held is what its bottle held; nil where that is locked or not known.
	Held   *float64
	heldU  float64 // k = 2
	Row    *comparison.Row
	Traced *slip.Traced
	Judged map[string]bool
}

// halfDigit is half a unit of the last digit that was written.
func halfDigit(q quantity.Quantity) float64 {
	if q.Decimals < 0 {
		return math.Abs(q.Value) * 5e-4
	}
	return 0.5 * math.Pow10(-q.Decimals)
}

// workedOut is what the figures of a group give, in the unit of the task; ok is false where they give nothing.
func (l *Lab) workedOut(db *store.Store, cell ClassCell) (w slip.Worked, ok bool, err error) {
	if cell.Behind == nil {
		return w, false, nil
	}
	view, err := runView(db, cell.Behind.ID, false)
	if err != nil {
		return w, false, err
	}
	unit, err := quantity.UnitOf(cell.Task.Unit)
	if err != nil {
		return w, false, err
	}
	if plan, is := view.plan.(slip.Traceable); is {
		if w, ok = plan.Trace(view.stated()); ok {
			from, err := quantity.FindUnit(w.Unit)
			if err != nil || from.Dimension != unit.Dimension {
				return slip.Worked{}, false, err
			}
			w.Scale(from.Factor/unit.Factor, cell.Task.Unit)
			return w, true, nil
		}
	}
	out, err := view.plan.Make(view.stated(), l.now())
	if err != nil {
		return w, false, err
	}
	for _, f := range out.Figures {
		if from, err := quantity.UnitOf(f.Unit); err == nil && from.Dimension == unit.Dimension {
			factor := from.Factor / unit.Factor
			return slip.Worked{Unit: cell.Task.Unit, Value: f.Value * factor, U: f.Expanded * factor}, true, nil
		}
	}
	return w, false, nil
}

// held is what the bottle of a group held, in the unit of the task; ok is false where that is locked or not known.
func (t ClassTask) held(group int) (value, u float64, ok bool) {
	switch {
	case t.Locked:
		return 0, 0, false
	case t.Held != nil:
		return *t.Held, t.HeldU, true
	case t.Unknowns == nil || t.UnknownsID == nil:
		return 0, 0, false
	}
	unit, errUnit := quantity.UnitOf(t.Unit)
	from, errFrom := quantity.FindUnit(t.Unknowns.Set.Unit)
	set := t.Unknowns.Set
	i := slices.IndexFunc(set.Bottles, func(b unknowns.Bottle) bool { return b.Group == group })
	if errors.Join(errUnit, errFrom) != nil || i < 0 {
		return 0, 0, false
	}
	k := slices.IndexFunc(set.Levels, func(l unknowns.Level) bool { return l.Letter == set.Bottles[i].Level })
	if k < 0 {
		return 0, 0, false
	}
	level, factor := set.Levels[k], from.Factor/unit.Factor
	known := level.Known(t.stock)
	return level.Strength * factor, level.Strength * factor * known.Expanded() / known.Value, true
}

// stockOf is the strength of the bottle that unknowns were made from, as it stands now; exactly 1 where that is not on record.
func stockOf(db *store.Store, setID string) (uncertain.Number, error) {
	set, err := db.UnknownSetByID(setID)
	if err != nil || set.Bottle == nil {
		return uncertain.Exact(1), err
	}
	c, ok := set.Bottle.Product.Figure(figure.Concentration)
	if !ok || !(c.Value > 0) {
		return uncertain.Exact(1), nil
	}
	return c.Number, nil
}

// tracer is what all results of a task are traced with.
type tracer struct {
	confirmed  map[string]int
	thresholds verdict.Thresholds
	groups     []store.ClassGroup
	task       ClassTask
}

// traced traces what a group handed in for a task.
func (l *Lab) traced(db *store.Store, with tracer, cell ClassCell) (ClassResult, error) {
	t := with.task
	r := ClassResult{ClassCell: cell, Judged: map[string]bool{}}
	value, half, err := readStated(t.ClassTask, cell.HandIn.Stated)
	if err != nil {
		return r, err
	}
	r.Value, r.half = value, half
	w, ok, err := l.workedOut(db, cell)
	if err != nil {
		return r, err
	}
	held, heldU, known := t.held(cell.Group.Number)
	if known {
		r.Held, r.heldU = &held, heldU
	}
	r.U, r.Runs = w.U, w.Runs
	if r.U == 0 && t.Unknowns != nil && t.UnknownsID != nil {
		r.U = t.Unknowns.Question.Within / 100 * math.Abs(value)
	}
	q := slip.Question{
		Figures: w.Figures, Unit: t.Unit, Stated: strconv.FormatFloat(value, 'f', -1, 64), Half: half, U: r.U, Per: w.Per, Density: w.Density,
		Confirmed: with.confirmed, Thresholds: with.thresholds,
	}
	if known {
		q.True, q.TrueU = &held, heldU
		for _, other := range with.groups {
			if x, _, is := t.held(other.Number); is && other.ID != cell.Group.ID && x != held {
				q.Others = append(q.Others, slip.Bottle{Of: other.Name, Value: x})
			}
		}
	}
	if !ok || w.Figures == (slip.Figures{}) {
		if !known { // nothing to trace it from
			return r, nil
		}
	}
	traced, err := slip.Answer(q)
	if err != nil {
		var p verdict.Problems
		if errors.As(err, &p) { // figures that give nothing: the result stands without a trace
			return r, nil
		}
		return r, err
	}
	r.Traced = &traced
	return r, nil
}

// tracerOf is what the results of a task are traced with.
func tracerOf(db *store.Store, c *ClassState, t ClassTask) (tracer, error) {
	confirmed, err := db.ConfirmedSlips()
	if err != nil {
		return tracer{}, err
	}
	settings, err := db.Settings()
	return tracer{confirmed, settings.Thresholds, c.Groups, t}, err
}

// resultsOf traces what was handed in for a task.
func (l *Lab) resultsOf(db *store.Store, c *ClassState, t ClassTask) (list []ClassResult, err error) {
	with, err := tracerOf(db, c, t)
	if err != nil {
		return nil, err
	}
	for _, cell := range c.Cells {
		if cell.Task.ID != t.ID || cell.HandIn == nil {
			continue
		}
		r, err := l.traced(db, with, cell)
		if err != nil {
			return nil, err
		}
		list = append(list, r)
	}
	return list, nil
}

// ClassResultsOf compares and traces the results of a task.
func (l *Lab) ClassResultsOf(ctx context.Context, taskID string) (ClassResults, error) {
	db := l.store.With(ctx)
	row, err := db.ClassTaskByID(taskID)
	if err != nil {
		return ClassResults{}, found(err, "this task")
	}
	s, err := plannedFor(db, row.SessionID)
	if err != nil {
		return ClassResults{}, err
	}
	c, err := l.classOf(db, s)
	if err != nil {
		return ClassResults{}, err
	}
	i := slices.IndexFunc(c.Tasks, func(t ClassTask) bool { return t.ID == taskID })
	if i < 0 {
		return ClassResults{}, NotFound{"this task"}
	}
	out := ClassResults{Task: c.Tasks[i], Session: s}
	if out.Results, err = l.resultsOf(db, &c, out.Task); err != nil {
		return out, err
	}
	if err := judged(db, out.Results); err != nil {
		return out, err
	}
	settings, err := db.Settings()
	if err != nil {
		return out, err
	}
	return out, errors.Join(out.compare(settings.Thresholds), out.mark(db))
}

// judged notes what was said of the slips of results.
func judged(db *store.Store, results []ClassResult) error {
	ids := make([]string, len(results))
	for i, r := range results {
		ids[i] = r.HandIn.ID
	}
	said, err := db.SlipJudgements(ids)
	for _, j := range said {
		results[slices.Index(ids, j.HandInID)].Judged[j.Slip] = j.Confirmed
	}
	return err
}

// compare compares the results of a task, where each has a true value or all had the same bottle.
func (out *ClassResults) compare(th verdict.Thresholds) error {
	q := comparison.Question{Unit: out.Task.Unit, Shared: out.Task.UnknownsID == nil, Thresholds: th}
	for _, r := range out.Results {
		one := comparison.Result{Group: r.Group.Name, Value: r.Value, U: r.U, True: r.Held, TrueU: r.heldU, Runs: r.Runs}
		q.Results = append(q.Results, one)
	}
	if len(q.Results) == 0 || out.Task.Locked {
		return nil
	}
	c, err := comparison.Compare(q)
	if err != nil {
		return err
	}
	out.Compared = &c
	for i := range c.Rows {
		out.Results[i].Row = &c.Rows[i]
	}
	return nil
}

// Entered is a result on paper, by the number of its group.
type Entered struct {
	Group  int
	Stated string
}

// EnterResults takes results on paper for groups: all of them, or none.
func (l *Lab) EnterResults(ctx context.Context, by Actor, taskID string, list []Entered) (ClassResults, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		t, err := tx.ClassTaskByID(taskID)
		if err != nil {
			return found(err, "this task")
		}
		groups, err := tx.ClassGroups([]string{t.SessionID})
		if err != nil {
			return err
		}
		var p verdict.Problems
		for i, e := range list {
			field := fmt.Sprintf("/results/%d", i)
			k := slices.IndexFunc(groups, func(g store.ClassGroup) bool { return g.Number == e.Group })
			if k < 0 {
				p.Add(field+"/group", "there is no group %d in this class", e.Group)
				continue
			}
			var wrong verdict.Problems
			switch err := l.handIn(tx, by, groups[k], t, newID(), e.Stated, ""); {
			case errors.As(err, &wrong):
				p.Add(field+"/stated", "group %d: %s", e.Group, wrong[0].Reason)
			case err != nil:
				return err
			}
		}
		return p.OrNil()
	})
	if err != nil {
		return ClassResults{}, err
	}
	return l.ClassResultsOf(ctx, taskID)
}

// JudgeSlip says whether a slip that was named was one: what is confirmed is likelier next time.
func (l *Lab) JudgeSlip(ctx context.Context, by Actor, handInID, id, what string, confirmed bool) error {
	if !slices.ContainsFunc(slip.All(), func(s slip.Slip) bool { return s.ID == what }) && what != slip.AnotherBottle {
		return verdict.Problems{{Field: "/slip", Reason: "there is no such slip in the list"}}
	}
	err := l.change(ctx, by, func(tx *store.Store) error {
		h, err := tx.HandInByID(handInID)
		if err != nil {
			return found(err, "this result")
		}
		t, err := tx.ClassTaskByID(h.TaskID)
		if err != nil {
			return err
		}
		row := store.SlipJudgement{ID: id, HandInID: handInID, Slip: what, Confirmed: confirmed, MadeBy: by.ID, MadeAt: l.now()}
		return errors.Join(tx.Create(&row), tx.Announce(topicClass+t.SessionID))
	})
	return again(err, l.store.With(ctx).SlipJudgementByID, id, func(j store.SlipJudgement) bool {
		return j.HandInID == handInID && j.Slip == what && j.Confirmed == confirmed
	})
}

// Touched is when a cell was last written in; nil before.
func (c ClassCell) Touched() (at *time.Time) {
	if c.Run != nil {
		at = &c.Run.ChangedAt
	}
	if c.HandIn != nil && (at == nil || c.HandIn.MadeAt.After(*at)) {
		at = &c.HandIn.MadeAt
	}
	return at
}
