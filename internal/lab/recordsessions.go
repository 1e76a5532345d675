package lab

import (
	"fmt"
	"time"

	"vialbench/core/session"
	"vialbench/core/unknowns"
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
	// Unknowns have their seeds: whoever has the records can open them.
	Unknowns []UnknownsRecord `json:"unknowns,omitempty"`
	Class    *ClassRecord     `json:"class,omitempty"`
}

// UnknownsRecord are the unknowns of the groups, with who opened them.
type UnknownsRecord struct {
	ID        string            `json:"id"`
	Name      string            `json:"name"`
	Bottle    *string           `json:"bottle,omitempty"`
	Question  unknowns.Question `json:"question"`
	Set       unknowns.Set      `json:"set"`
	By        string            `json:"by"`
	At        time.Time         `json:"at"`
	Withdrawn *time.Time        `json:"withdrawn,omitempty"`
	Openings  []OpeningRecord   `json:"openings,omitempty"`
}

// OpeningRecord is who opened what of unknowns, and why.
type OpeningRecord struct {
	ID     string    `json:"id"`
	What   string    `json:"what"`
	Reason string    `json:"reason,omitempty"`
	By     string    `json:"by"`
	At     time.Time `json:"at"`
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
	if err != nil {
		return err
	}
	given, err := exportUnknowns(db, ids)
	if err != nil {
		return err
	}
	classes, err := exportClasses(db, ids)
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
		r.Unknowns, r.Class = given[row.ID], classes[row.ID]
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
	for i, u := range r.Unknowns {
		if err := in.takeUnknowns(fmt.Sprintf("%s/unknowns/%d", place, i), r.ID, u); err != nil {
			return err
		}
	}
	if r.Class != nil {
		return in.takeClass(place+"/class", r.ID, *r.Class)
	}
	return nil
}

// exportUnknowns are the unknowns of sessions, by the IDs of those.
func exportUnknowns(db *store.Store, sessions []string) (map[string][]UnknownsRecord, error) {
	sets, err := db.UnknownSets(sessions)
	if err != nil || len(sets) == 0 {
		return nil, err
	}
	ids := make([]string, len(sets))
	for i, u := range sets {
		ids[i] = u.ID
	}
	openings, err := db.UnknownOpenings(ids)
	list := map[string][]UnknownsRecord{}
	for _, u := range sets {
		r := UnknownsRecord{
			ID: u.ID, Name: u.Name, Bottle: u.BottleID, Question: u.Question, Set: u.Set,
			By: u.Maker.Initials, At: u.MadeAt.UTC(), Withdrawn: u.WithdrawnAt,
		}
		for _, o := range openings {
			if o.SetID == u.ID {
				r.Openings = append(r.Openings, OpeningRecord{o.ID, o.What, o.Reason, o.Maker.Initials, o.MadeAt.UTC()})
			}
		}
		list[u.SessionID] = append(list[u.SessionID], r)
	}
	return list, err
}

// takeUnknowns takes in the unknowns of a new session as they were given out, whatever this program would draw.
func (in *importer) takeUnknowns(place, sessionID string, r UnknownsRecord) error {
	by, ok := in.person(place, r.By)
	if !ok || !in.isID(place+"/id", r.ID) {
		return nil
	}
	if len(r.Set.Bottles) != r.Question.Groups || len(r.Set.Levels) == 0 {
		in.problems.Add(place+"/set", "unknowns have a bottle for each group, and the strengths that those hold")
		return nil
	}
	row := store.UnknownSet{
		ID: r.ID, SessionID: sessionID, Name: r.Name, Question: r.Question, Set: r.Set, MadeBy: by.ID, MadeAt: r.At, WithdrawnAt: r.Withdrawn,
	}
	if r.Bottle != nil { // of another lab it may not be here
		if _, err := in.tx.BottleByID(*r.Bottle); err == nil {
			row.BottleID = r.Bottle
		} else if !isNotFound(err) {
			return err
		}
	}
	if err := in.tx.Create(&row); err != nil {
		return err
	}
	for i, o := range r.Openings {
		of := fmt.Sprintf("%s/openings/%d", place, i)
		who, ok := in.person(of, o.By)
		if !ok || !in.isID(of+"/id", o.ID) {
			continue
		}
		if o.What != OpensList && o.What != OpensKey {
			in.problems.Add(of+"/what", "the list or the key is opened")
			continue
		}
		opening := store.UnknownOpening{ID: o.ID, SetID: r.ID, What: o.What, Reason: o.Reason, MadeBy: who.ID, MadeAt: o.At}
		if err := in.tx.Create(&opening); err != nil {
			return err
		}
	}
	return nil
}
