package lab

import (
	"encoding/json"
	"fmt"
	"time"

	"vialbench/internal/store"
)

// ClassRecord is the class of a session: its groups with their codes, their tasks, and what was handed in.
type ClassRecord struct {
	Groups []ClassGroupRecord `json:"groups,omitempty"`
	Tasks  []ClassTaskRecord  `json:"tasks,omitempty"`
	Words  []ClassWordRecord  `json:"words,omitempty"`
}

// ClassWordRecord is a word to a group, by its ID, or to all.
type ClassWordRecord struct {
	ID    string    `json:"id"`
	Group *string   `json:"group,omitempty"`
	Said  string    `json:"said"`
	By    string    `json:"by"`
	At    time.Time `json:"at"`
}

// ClassGroupRecord is a group. Account are the initials of its account.
type ClassGroupRecord struct {
	ID      string     `json:"id"`
	Number  int        `json:"number"`
	Name    string     `json:"name"`
	Code    string     `json:"code"`
	Account string     `json:"account"`
	Hand    *time.Time `json:"hand,omitempty"`
	At      time.Time  `json:"at"`
	// Bench says which balance, burette and meter it has.
	Bench *GroupBench `json:"bench,omitempty"`
}

// ClassTaskRecord is a task of the groups.
type ClassTaskRecord struct {
	ID       string         `json:"id"`
	Plan     string         `json:"plan"`
	Title    string         `json:"title"`
	Unit     string         `json:"unit"`
	Held     *float64       `json:"held,omitempty"`
	HeldU    float64        `json:"heldU,omitempty"`
	Unknowns *string        `json:"unknowns,omitempty"`
	Shows    bool           `json:"shows,omitempty"`
	Quiet    bool           `json:"quiet,omitempty"`
	By       string         `json:"by"`
	At       time.Time      `json:"at"`
	Removed  *time.Time     `json:"removed,omitempty"`
	HandIns  []HandInRecord `json:"handIns,omitempty"`
	Schemes  []SchemeRecord `json:"schemes,omitempty"`
}

// HandInRecord is what a group handed in, with what was said of its slips.
type HandInRecord struct {
	ID     string       `json:"id"`
	Group  string       `json:"group"` // its ID
	Stated string       `json:"stated"`
	Note   string       `json:"note,omitempty"`
	By     string       `json:"by"`
	At     time.Time    `json:"at"`
	Slips  []SlipRecord `json:"slips,omitempty"`
}

// SlipRecord is what somebody said of a slip.
type SlipRecord struct {
	ID        string    `json:"id"`
	Slip      string    `json:"slip"`
	Confirmed bool      `json:"confirmed"`
	By        string    `json:"by"`
	At        time.Time `json:"at"`
}

// exportClasses are the classes of sessions, by the IDs of those.
func exportClasses(db *store.Store, sessions []string) (map[string]*ClassRecord, error) {
	list := map[string]*ClassRecord{}
	of := func(session string) *ClassRecord {
		if list[session] == nil {
			list[session] = &ClassRecord{}
		}
		return list[session]
	}
	groups, err := db.ClassGroups(sessions)
	if err != nil {
		return nil, err
	}
	for _, g := range groups {
		c := of(g.SessionID)
		at, err := benchOf(g)
		if err != nil {
			return nil, err
		}
		c.Groups = append(c.Groups, ClassGroupRecord{g.ID, g.Number, g.Name, g.Code, g.Account.Initials, inUTC(g.HandAt), g.MadeAt.UTC(), at})
	}
	words, err := db.ClassWords(sessions)
	if err != nil {
		return nil, err
	}
	for _, w := range words {
		c := of(w.SessionID)
		c.Words = append(c.Words, ClassWordRecord{w.ID, w.GroupID, w.Said, w.Maker.Initials, w.MadeAt.UTC()})
	}
	tasks, err := db.ClassTasks(sessions)
	if err != nil || len(tasks) == 0 {
		return list, err
	}
	handed, err := exportHandIns(db, tasks)
	if err != nil {
		return nil, err
	}
	schemes, err := exportSchemes(db, tasks)
	for _, t := range tasks {
		c := of(t.SessionID)
		c.Tasks = append(c.Tasks, ClassTaskRecord{
			ID: t.ID, Plan: t.PlanID, Title: t.Title, Unit: t.Unit, Held: t.Held, HeldU: t.HeldU, Unknowns: t.UnknownsID, Shows: t.Shows,
			Quiet: t.Quiet, By: t.Maker.Initials, At: t.MadeAt.UTC(), Removed: inUTC(t.RemovedAt), HandIns: handed[t.ID],
			Schemes: schemes[t.ID],
		})
	}
	return list, err
}

// exportSchemes is how results were marked, by the IDs of their tasks.
func exportSchemes(db *store.Store, tasks []store.ClassTask) (map[string][]SchemeRecord, error) {
	ids := make([]string, len(tasks))
	for i, t := range tasks {
		ids[i] = t.ID
	}
	rows, err := db.ClassSchemes(ids)
	list := map[string][]SchemeRecord{}
	for _, r := range rows {
		list[r.TaskID] = append(list[r.TaskID], SchemeRecord{r.ID, r.Scheme, r.Maker.Initials, r.MadeAt.UTC()})
	}
	return list, err
}

// exportHandIns is what was handed in, by the IDs of its tasks.
func exportHandIns(db *store.Store, tasks []store.ClassTask) (map[string][]HandInRecord, error) {
	ids := make([]string, len(tasks))
	for i, t := range tasks {
		ids[i] = t.ID
	}
	rows, err := db.HandIns(ids)
	if err != nil {
		return nil, err
	}
	ids = make([]string, len(rows))
	for i, h := range rows {
		ids[i] = h.ID
	}
	said, err := db.SlipJudgements(ids)
	list := map[string][]HandInRecord{}
	for _, h := range rows {
		r := HandInRecord{ID: h.ID, Group: h.GroupID, Stated: h.Stated, Note: h.Note, By: h.Maker.Initials, At: h.MadeAt.UTC()}
		for _, j := range said {
			if j.HandInID == h.ID {
				r.Slips = append(r.Slips, SlipRecord{j.ID, j.Slip, j.Confirmed, j.Maker.Initials, j.MadeAt.UTC()})
			}
		}
		list[h.TaskID] = append(list[h.TaskID], r)
	}
	return list, err
}

func inUTC(t *time.Time) *time.Time {
	if t == nil {
		return nil
	}
	utc := t.UTC()
	return &utc
}

// takeClass takes in the class of a new session. A code that opens another group here is drawn afresh.
func (in *importer) takeClass(place, sessionID string, r ClassRecord) error {
	for i, g := range r.Groups {
		of := fmt.Sprintf("%s/groups/%d", place, i)
		who, ok := in.person(of, g.Account)
		if !ok || !in.isID(of+"/id", g.ID) {
			continue
		}
		if who.Role != Group || g.Number < 1 || g.Code == "" {
			in.problems.Add(of, "a group has a number, a code, and an account of its own")
			continue
		}
		row := store.ClassGroup{
			ID: g.ID, SessionID: sessionID, Number: g.Number, Name: g.Name, Code: g.Code, AccountID: who.ID, HandAt: g.Hand, MadeAt: g.At,
		}
		if g.Bench != nil {
			var err error
			if row.Bench, err = json.Marshal(g.Bench); err != nil {
				return err
			}
		}
		if _, err := in.tx.ClassGroupByCode(g.Code); err == nil {
			row.Code = newCode()
		} else if !isNotFound(err) {
			return err
		}
		if err := in.tx.Create(&row); err != nil {
			return err
		}
	}
	for i, w := range r.Words {
		of := fmt.Sprintf("%s/words/%d", place, i)
		who, ok := in.person(of, w.By)
		if !ok || !in.isID(of+"/id", w.ID) {
			continue
		}
		row := store.ClassWord{ID: w.ID, SessionID: sessionID, GroupID: w.Group, Said: w.Said, MadeBy: who.ID, MadeAt: w.At}
		if err := in.tx.Create(&row); err != nil {
			return err
		}
	}
	for i, t := range r.Tasks {
		if err := in.takeTask(fmt.Sprintf("%s/tasks/%d", place, i), sessionID, t); err != nil {
			return err
		}
	}
	return nil
}

func (in *importer) takeTask(place, sessionID string, t ClassTaskRecord) error {
	by, ok := in.person(place, t.By)
	if !ok || !in.isID(place+"/id", t.ID) {
		return nil
	}
	if _, err := in.tx.PlanByID(t.Plan); isNotFound(err) {
		in.problems.Add(place+"/plan", "no plan with this ID is here or in these records")
		return nil
	} else if err != nil {
		return err
	}
	row := store.ClassTask{
		ID: t.ID, SessionID: sessionID, PlanID: t.Plan, Title: t.Title, Unit: t.Unit, Held: t.Held, HeldU: t.HeldU, UnknownsID: t.Unknowns,
		Shows: t.Shows, Quiet: t.Quiet, MadeBy: by.ID, MadeAt: t.At, RemovedAt: t.Removed,
	}
	if len(in.problems) > 0 {
		return nil
	}
	if err := in.tx.Create(&row); err != nil {
		return err
	}
	for i, s := range t.Schemes {
		of := fmt.Sprintf("%s/schemes/%d", place, i)
		who, ok := in.person(of, s.By)
		if !ok || !in.isID(of+"/id", s.ID) {
			continue
		}
		if err := s.Scheme.Check(); err != nil && len(s.Scheme.Parts) > 0 {
			return in.blame(of+"/scheme", err)
		}
		marked := store.ClassScheme{ID: s.ID, TaskID: t.ID, Scheme: s.Scheme, MadeBy: who.ID, MadeAt: s.At}
		if err := in.tx.Create(&marked); err != nil {
			return err
		}
	}
	for i, h := range t.HandIns {
		if err := in.takeHandIn(fmt.Sprintf("%s/handIns/%d", place, i), row, h); err != nil {
			return err
		}
	}
	return nil
}

func (in *importer) takeHandIn(place string, t store.ClassTask, h HandInRecord) error {
	who, ok := in.person(place, h.By)
	if !ok || !in.isID(place+"/id", h.ID) {
		return nil
	}
	if _, _, err := readStated(t, h.Stated); err != nil {
		return in.blame(place, err)
	}
	row := store.HandIn{ID: h.ID, TaskID: t.ID, GroupID: h.Group, Stated: h.Stated, Note: h.Note, MadeBy: who.ID, MadeAt: h.At}
	if err := in.tx.Create(&row); err != nil {
		return err
	}
	for i, s := range h.Slips {
		of := fmt.Sprintf("%s/slips/%d", place, i)
		by, ok := in.person(of, s.By)
		if !ok || !in.isID(of+"/id", s.ID) {
			continue
		}
		said := store.SlipJudgement{ID: s.ID, HandInID: h.ID, Slip: s.Slip, Confirmed: s.Confirmed, MadeBy: by.ID, MadeAt: s.At}
		if err := in.tx.Create(&said); err != nil {
			return err
		}
	}
	return nil
}
