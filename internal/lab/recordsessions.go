package lab

import (
	"fmt"
	"time"

	"vialbench/core/session"
	"vialbench/internal/store"
)

// SessionRecord is a planned session with what became of its tasks.
type SessionRecord struct {
	ID      string               `json:"id"`
	Number  int64                `json:"number"`
	Session session.Session      `json:"session"`
	Moved   map[string]time.Time `json:"moved,omitempty"`
	Version int                  `json:"version"`
	By      string               `json:"by"`
	At      time.Time            `json:"at"`
	Removed *time.Time           `json:"removed,omitempty"`
	Tasks   []SessionTaskRecord  `json:"tasks,omitempty"`
}

// SessionTaskRecord is a task that a run does, or that was ticked by hand.
type SessionTaskRecord struct {
	ID    string    `json:"id"`
	Task  string    `json:"task"`
	Title string    `json:"title"`
	Run   *string   `json:"run,omitempty"`
	Done  bool      `json:"done"`
	By    string    `json:"by"`
	At    time.Time `json:"at"`
}

func exportSessions(db *store.Store, out *Records) error {
	rows, err := db.AllLabSessions()
	if err != nil || len(rows) == 0 {
		return err
	}
	ids := make([]string, len(rows))
	for i, row := range rows {
		ids[i] = row.ID
	}
	tasks, err := db.SessionTasks(ids)
	for _, row := range rows {
		r := SessionRecord{
			ID: row.ID, Number: row.Number, Session: row.Plan, Moved: row.Moved, Version: row.Version,
			By: row.Creator.Initials, At: row.CreatedAt.UTC(), Removed: row.RemovedAt,
		}
		for _, t := range tasks {
			if t.SessionID == row.ID {
				r.Tasks = append(r.Tasks, SessionTaskRecord{t.ID, t.Task, t.Title, t.RunID, t.Done, t.Maker.Initials, t.MadeAt.UTC()})
			}
		}
		out.Sessions = append(out.Sessions, r)
	}
	return err
}

// takeSession takes in a session that is not known yet.
func (in *importer) takeSession(place string, r SessionRecord) error {
	by, ok := in.person(place, r.By)
	if !ok || !in.isID(place+"/id", r.ID) {
		return nil
	}
	if err := in.blame(place+"/session", r.Session.Check()); err != nil {
		return err
	}
	if _, err := in.tx.LabSessionByID(r.ID); !isNotFound(err) {
		return err
	}
	row := store.LabSession{
		ID: r.ID, Title: r.Session.Title, StartsAt: r.Session.Starts, EndsAt: r.Session.Ends, Plan: r.Session, Moved: r.Moved,
		Version: max(1, r.Version), CreatedBy: by.ID, CreatedAt: r.At, RemovedAt: r.Removed,
	}
	if row.Moved == nil {
		row.Moved = map[string]time.Time{}
	}
	if in.fresh {
		row.Number = r.Number
	}
	if len(in.problems) > 0 {
		return nil
	}
	if err := in.tx.Create(&row); err != nil {
		return err
	}
	for i, t := range r.Tasks {
		of := fmt.Sprintf("%s/tasks/%d", place, i)
		who, ok := in.person(of, t.By)
		if !ok || !in.isID(of+"/id", t.ID) {
			continue
		}
		if t.Run != nil {
			if _, err := in.tx.RunByID(*t.Run, false); isNotFound(err) {
				in.problems.Add(of+"/run", "no run with this ID is here or in these records")
				continue
			} else if err != nil {
				return err
			}
		}
		task := store.SessionTask{
			ID: t.ID, SessionID: r.ID, Task: t.Task, Title: t.Title, RunID: t.Run, Done: t.Done, MadeBy: who.ID, MadeAt: t.At,
		}
		if err := in.tx.Create(&task); err != nil {
			return err
		}
	}
	return nil
}
