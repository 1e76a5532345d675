package lab

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	"vialbench/core/run"
	"vialbench/core/session"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// PlannedSession is a planned session with its plan as the lab stands now.
type PlannedSession struct {
	store.LabSession
	Design session.Design
	// Cautions are what its liquids can do to people.
	Cautions []session.Caution
	// Past are the tasks that were begun or done, the oldest first.
	Past []PastTask
}

// PastTask is a task of a session that was begun or is over.
type PastTask struct {
	Task, Title string
	// Run does it; empty of what was ticked by hand.
	Run    string
	Number int64
	// State is “begun”, “done” or “void”.
	State string
	By    string
	At    time.Time
}

// The states of a task.
const (
	taskBegun = "begun"
	taskDone  = "done"
	taskVoid  = "void"
)

// topicPlanned says that the plan of a session may be another one now.
const topicPlanned = "planned"

// planTime is how long the plan of one session may take; what was found by then stands.
const planTime = 2 * time.Second

// mostSessions bounds how many sessions are planned ahead.
const mostSessions = 100

// LabSessions lists the sessions that are still to end, the nearest first, with their plans.
func (l *Lab) LabSessions(ctx context.Context) ([]PlannedSession, error) {
	return l.planned.get(ctx, l, []string{"shelf", "setup", topicStore, topicPlanned}, func(ctx context.Context) ([]PlannedSession, error) {
		db := l.store.With(ctx)
		rows, err := db.LabSessions(l.now(), mostSessions)
		if err != nil {
			return nil, err
		}
		// What was planned first was promised first.
		slices.SortFunc(rows, func(a, b store.LabSession) int { return cmp.Compare(a.Number, b.Number) })
		views, err := l.planAll(ctx, db, rows, rows, newPlanned())
		slices.SortStableFunc(views, func(a, b PlannedSession) int { return a.StartsAt.Compare(b.StartsAt) })
		return views, err
	})
}

// PastLabSessions lists sessions that have ended, the newest first, without their plans.
func (l *Lab) PastLabSessions(ctx context.Context) ([]store.LabSession, error) {
	return l.store.With(ctx).PastLabSessions(l.now(), mostSessions)
}

// LabSession is one session with its plan.
func (l *Lab) LabSession(ctx context.Context, id string) (PlannedSession, error) {
	coming, err := l.LabSessions(ctx)
	if err != nil {
		return PlannedSession{}, err
	}
	if i := slices.IndexFunc(coming, func(v PlannedSession) bool { return v.ID == id }); i >= 0 {
		return coming[i], nil
	}
	db := l.store.With(ctx)
	row, err := db.LabSessionByID(id)
	if err == nil && row.RemovedAt != nil {
		err = store.ErrNotFound
	}
	if err != nil {
		return PlannedSession{}, found(err, "this session")
	}
	views, err := l.planAll(ctx, db, []store.LabSession{row}, nil, newPlanned())
	if err != nil {
		return PlannedSession{}, err
	}
	return views[0], nil
}

// PreviewLabSession plans a session that is not kept yet, or as it would be with changes.
func (l *Lab) PreviewLabSession(ctx context.Context, id string, s session.Session) (PlannedSession, error) {
	row := store.LabSession{ID: id, Plan: s, StartsAt: s.Starts, EndsAt: s.Ends}
	db := l.store.With(ctx)
	if known, err := db.LabSessionByID(id); err == nil {
		row.Moved, row.Number, row.Version = known.Moved, known.Number, known.Version
	} else if !isNotFound(err) {
		return PlannedSession{}, err
	}
	coming, err := l.LabSessions(ctx)
	if err != nil {
		return PlannedSession{}, err
	}
	before := newPlanned()
	others := make([]store.LabSession, len(coming))
	for i, other := range coming {
		others[i] = other.LabSession
		if other.ID != id && (row.Number == 0 || other.Number < row.Number) {
			before.add(other.ID, other.Design)
		}
	}
	views, err := l.planAll(ctx, db, []store.LabSession{row}, others, before)
	if err != nil {
		return PlannedSession{}, at("/session", err)
	}
	return views[0], nil
}

// KeepLabSession keeps a session under an ID: a new one at version 0, or changes of one that was seen at a version.
func (l *Lab) KeepLabSession(ctx context.Context, by Actor, id string, s session.Session, version int) (PlannedSession, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		known, err := tx.LabSessionByID(id)
		fresh := isNotFound(err)
		switch {
		case err != nil && !fresh:
			return err
		case fresh && version > 0:
			return NotFound{"this session"}
		case fresh && !s.Starts.After(l.now()):
			return verdict.Problems{{Field: "/session/starts", Reason: "a session is planned before it begins: choose a time to come"}}
		case !fresh && known.RemovedAt != nil:
			return Conflict{"this session was removed meanwhile: copy it, to have it again"}
		case !fresh && version == 0 && known.Version == 1: // the same came in twice
			return nil
		}
		row := store.LabSession{
			ID: id, Title: strings.TrimSpace(s.Title), StartsAt: s.Starts, EndsAt: s.Ends, Plan: s, Version: version + 1,
			Moved: map[string]time.Time{}, CreatedBy: by.ID, CreatedAt: l.now(),
		}
		if err := s.Check(); err != nil {
			return at("/session", err)
		}
		if fresh {
			if err := tx.Create(&row); err != nil {
				return err
			}
			return tx.Announce(topicPlanned + " " + id)
		}
		return l.advanceSession(tx, &row, version, "title", "starts_at", "ends_at", "plan")
	})
	if err != nil && !store.IsDuplicate(err) {
		return PlannedSession{}, err
	}
	return l.LabSession(ctx, id)
}

func (l *Lab) advanceSession(tx *store.Store, row *store.LabSession, from int, columns ...string) error {
	row.Version = from + 1
	won, err := tx.Advance(row, from, columns...)
	if err != nil {
		return err
	}
	if !won {
		return Conflict{"the session was changed meanwhile: look at it, then change it again"}
	}
	return tx.Announce(topicPlanned + " " + row.ID)
}

// RemoveLabSession takes a session off the plan. Its runs and what was ticked stay on record.
func (l *Lab) RemoveLabSession(ctx context.Context, by Actor, id string, version int) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		row, err := tx.LabSessionByID(id)
		if err != nil {
			return found(err, "this session")
		}
		if row.RemovedAt != nil {
			return nil
		}
		now := l.now()
		row.RemovedAt = &now
		return l.advanceSession(tx, &row, version, "removed_at")
	})
}

// TickTask says by hand that a task is done, or not after all. An id that is known already changes nothing.
func (l *Lab) TickTask(ctx context.Context, by Actor, sessionID, id, task string, done bool) (PlannedSession, error) {
	view, err := l.LabSession(ctx, sessionID)
	if err != nil {
		return view, err
	}
	title := ""
	for _, bar := range view.Design.Bars {
		if bar.ID == task {
			title = bar.Title
		}
	}
	for _, past := range view.Past {
		if past.Task == task {
			title = cmp.Or(title, past.Title)
		}
	}
	if title == "" {
		return view, NotFound{"this task"}
	}
	err = l.change(ctx, by, func(tx *store.Store) error {
		row := store.SessionTask{ID: id, SessionID: sessionID, Task: task, Title: title, Done: done, MadeBy: by.ID, MadeAt: l.now()}
		if err := tx.Create(&row); err != nil {
			return err
		}
		return tx.Announce(topicPlanned + " " + sessionID)
	})
	if err != nil && !store.IsDuplicate(err) {
		return view, err
	}
	return l.LabSession(ctx, sessionID)
}

// MoveTask puts a task to a time that somebody chose; nil gives it back to the schedule.
func (l *Lab) MoveTask(ctx context.Context, by Actor, sessionID, task string, start *time.Time, version int) (PlannedSession, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		row, err := tx.LabSessionByID(sessionID)
		if err != nil {
			return found(err, "this session")
		}
		if row.Moved == nil {
			row.Moved = map[string]time.Time{}
		}
		delete(row.Moved, task)
		if start != nil && len(row.Moved) < mostSessions {
			row.Moved[task] = *start
		}
		return l.advanceSession(tx, &row, version, "moved")
	})
	if err != nil {
		return PlannedSession{}, err
	}
	return l.LabSession(ctx, sessionID)
}

// TaskOf is the task of a session that a run does.
type TaskOf struct{ Session, Task, Title string }

// doesTask notes that a run does a task.
func (l *Lab) doesTask(tx *store.Store, by Actor, runID string, of TaskOf) error {
	if _, err := tx.LabSessionByID(of.Session); err != nil {
		return found(err, "this session")
	}
	row := store.SessionTask{ID: newID(), SessionID: of.Session, Task: of.Task, Title: of.Title, RunID: &runID, MadeBy: by.ID, MadeAt: l.now()}
	if err := tx.Create(&row); err != nil {
		return err
	}
	return tx.Announce(topicPlanned + " " + of.Session)
}

// DoTask says that a run does a task.
func (l *Lab) DoTask(ctx context.Context, by Actor, runID string, of TaskOf) error {
	return l.change(ctx, by, func(tx *store.Store) error { return l.doesTask(tx, by, runID, of) })
}

// MadeFor is the session that the run of a bottle does a task of, as its label says it: “Hardness of pond water, 3 Dec”;
// empty of none.
func (l *Lab) MadeFor(ctx context.Context, b BottleView) (string, error) {
	if b.RunID == nil {
		return "", nil
	}
	s, err := l.store.With(ctx).SessionOfRun(*b.RunID)
	if err != nil || s.ID == "" {
		return "", err
	}
	zone, err := time.LoadLocation(s.Plan.Zone)
	if err != nil {
		zone = time.UTC
	}
	title := s.Title
	if runes := []rune(title); len(runes) > mostOnLabel {
		title = strings.TrimSpace(string(runes[:mostOnLabel-1])) + "…"
	}
	return title + ", " + s.StartsAt.In(zone).Format("2 Jan"), nil
}

// mostOnLabel is how much of the title of a session stands on a label.
const mostOnLabel = 44

// became tells what became of the tasks of a session. What is made is over once a bottle serves, so that of
// such tasks a run that has ended does not count: the plan asks for them while nothing serves.
func became(tasks []store.SessionTask, id string) (past []PastTask, done []string) {
	ticked := map[string]bool{}
	for _, t := range tasks {
		if t.SessionID != id {
			continue
		}
		p := PastTask{Task: t.Task, Title: t.Title, By: t.Maker.Initials, At: t.MadeAt, State: taskDone}
		if t.Run == nil {
			ticked[t.Task] = t.Done
			past = slices.DeleteFunc(past, func(o PastTask) bool { return o.Task == t.Task && o.Run == "" })
			if t.Done {
				past = append(past, p)
			}
			continue
		}
		p.Run, p.Number = t.Run.ID, t.Run.Number
		switch run.Status(t.Run.Status) {
		case run.Open:
			p.State = taskBegun
		case run.Void:
			p.State = taskVoid
		case run.Finished:
			ticked[t.Task] = true
		}
		past = append(past, p)
	}
	for task, is := range ticked {
		if is && !session.Supplies(task) {
			done = append(done, task)
		}
	}
	slices.Sort(done)
	return past, done
}

// nextTasks are the tasks of the sessions to come that are due next.
func nextTasks(views []PlannedSession, now time.Time, most int) []NextTask {
	var list []NextTask
	for _, v := range views {
		for _, bar := range v.Design.Bars {
			list = append(list, NextTask{Session: v.ID, Title: v.Title, Starts: v.StartsAt, Bar: bar, Late: bar.Starts.Before(now)})
		}
	}
	slices.SortStableFunc(list, func(a, b NextTask) int { return a.Bar.Starts.Compare(b.Bar.Starts) })
	return list[:min(len(list), most)]
}

// NextTask is a task that is due.
type NextTask struct {
	Session string
	Title   string // of the session
	Starts  time.Time
	Bar     session.Bar
	Late    bool
}
