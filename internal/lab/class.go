package lab

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// Group is the role of the groups of a class: they see their own sheet, state facts in their own runs, and nothing else.
const Group = "group"

// topicClass says that something changed in the class of a session.
const topicClass = "class "

// A code has letters and digits that are told apart when they are read out: no 0 and O, 1, I and L, 2 and Z, 5 and S, 8 and B.
const (
	codeLetters = "ACDEFGHJKMNPQRTUVWXY34679"
	codeLength  = 6
	mostTasks   = 12
	longestHand = 400 // of a note
)

// afterClass is how long a group can still write once its session has ended.
const afterClass = time.Hour

// ClassState is where the class of a session stands.
type ClassState struct {
	Groups []store.ClassGroup
	Tasks  []ClassTask
	Cells  []ClassCell
	Ended  bool
}

// ClassTask is a task of a class. Locked reports whether nobody has opened the key of its unknowns.
type ClassTask struct {
	store.ClassTask
	Locked bool
	stock  uncertain.Number // that unknowns were made from, as its bottle has it now; exactly 1 of none
}

// ClassCell is what a group has done of a task.
type ClassCell struct {
	Group store.ClassGroup
	Task  store.ClassTask
	// Run is the last one, of so many; nil before one is begun.
	Run    *store.Run
	Runs   int
	HandIn *store.HandIn
	// Behind is the run that what was handed in was worked out from: the last one that was begun before, and is not void.
	Behind *store.Run
	// Odd says what is odd about what was handed in; empty where nothing is.
	Odd string
}

// State says where it stands: none, begun, finished or handed.
func (c ClassCell) State() string {
	switch {
	case c.HandIn != nil:
		return "handed"
	case c.Run == nil || c.Run.Status == string(run.Void):
		return "none"
	case c.Run.Status == string(run.Finished):
		return "finished"
	}
	return "begun"
}

// Knows says what the bottles of a task held.
func (t ClassTask) Knows() string {
	switch {
	case t.Unknowns != nil && t.UnknownsID != nil:
		return "each group its own: " + t.Unknowns.Name
	case t.Held == nil:
		return "not known"
	}
	value, u := quantity.Round(*t.Held, t.HeldU)
	if t.HeldU == 0 {
		return quantity.Trim(*t.Held) + " " + t.Unit
	}
	return value + " ± " + u + " " + t.Unit
}

// newCode draws a code.
func newCode() string {
	var b [codeLength]byte
	_, _ = rand.Read(b[:]) // never fails
	for i := range b {
		b[i] = codeLetters[int(b[i])%len(codeLetters)] //nolint:gosec // 256 mod 25 makes six letters a little likelier
	}
	return string(b[:])
}

// OpenClass gives each group of a session a sheet with a code; those that have one keep it.
func (l *Lab) OpenClass(ctx context.Context, by Actor, sessionID string) (ClassState, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		if err := tx.LockAccounts(); err != nil {
			return err
		}
		s, err := plannedFor(tx, sessionID)
		if err != nil {
			return err
		}
		if !s.EndsAt.After(l.now()) {
			return Conflict{"this session has ended: codes are for a session to come"}
		}
		there, err := tx.ClassGroups([]string{sessionID})
		if err != nil {
			return err
		}
		for number := len(there) + 1; number <= s.Plan.Groups; number++ {
			if err := l.openGroup(tx, s, number); err != nil {
				return err
			}
		}
		return tx.Announce(topicClass + sessionID)
	})
	if err != nil {
		return ClassState{}, err
	}
	return l.Class(ctx, sessionID)
}

// plannedFor is a session that was not removed.
func plannedFor(db *store.Store, id string) (store.LabSession, error) {
	s, err := db.LabSessionByID(id)
	if err == nil && s.RemovedAt != nil {
		err = store.ErrNotFound
	}
	return s, found(err, "this session")
}

func (l *Lab) openGroup(tx *store.Store, s store.LabSession, number int) error {
	id := newID()
	account := store.Account{
		ID: id, Name: short(fmt.Sprintf("Group %d, %s", number, s.Title), 80), Initials: fmt.Sprintf("%d.%d", s.Number, number),
		Login: "g-" + id, Role: Group, Active: true, CreatedAt: l.now(),
	}
	if err := tx.Create(&account); err != nil {
		return err
	}
	row := store.ClassGroup{
		ID: newID(), SessionID: s.ID, Number: number, Name: fmt.Sprintf("Group %d", number), Code: newCode(), AccountID: id, MadeAt: l.now(),
	}
	return tx.Create(&row)
}

// LowerHand says that a group has been helped.
func (l *Lab) LowerHand(ctx context.Context, by Actor, groupID string) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		g, err := tx.ClassGroupByID(groupID)
		if err != nil {
			return found(err, "this group")
		}
		return errors.Join(tx.RaiseHand(g.ID, nil), tx.Announce(topicClass+g.SessionID))
	})
}

// longestWord is how long a word to a group may be.
const longestWord = 300

// SayToClass says a word to a group, or to all of a session where no group is named. An ID that is known says nothing again.
func (l *Lab) SayToClass(ctx context.Context, by Actor, sessionID, id, groupID, word string) error {
	word = strings.TrimSpace(word)
	if word == "" || len([]rune(word)) > longestWord {
		return verdict.Problems{{Field: "/said", Reason: fmt.Sprintf("a word has 1 to %d characters", longestWord)}}
	}
	err := l.change(ctx, by, func(tx *store.Store) error {
		if _, err := plannedFor(tx, sessionID); err != nil {
			return err
		}
		row := store.ClassWord{ID: id, SessionID: sessionID, Said: word, MadeBy: by.ID, MadeAt: l.now()}
		if groupID != "" {
			g, err := tx.ClassGroupByID(groupID)
			if err != nil || g.SessionID != sessionID {
				return found(cmp.Or(err, store.ErrNotFound), "this group")
			}
			row.GroupID = &g.ID
		}
		return errors.Join(tx.Create(&row), tx.Announce(topicClass+sessionID))
	})
	return again(err, l.store.With(ctx).ClassWordByID, id, func(w store.ClassWord) bool {
		return w.Said == word && w.SessionID == sessionID && (w.GroupID == nil) == (groupID == "") && (groupID == "" || *w.GroupID == groupID)
	})
}

// Class is where the class of a session stands.
func (l *Lab) Class(ctx context.Context, sessionID string) (ClassState, error) {
	db := l.store.With(ctx)
	s, err := plannedFor(db, sessionID)
	if err != nil {
		return ClassState{}, err
	}
	c, err := l.classOf(db, s)
	if err != nil {
		return c, err
	}
	for i := range c.Tasks {
		if err := l.oddities(db, &c, c.Tasks[i]); err != nil {
			return c, err
		}
	}
	return c, nil
}

// classOf reads the class of a session.
func (l *Lab) classOf(db *store.Store, s store.LabSession) (ClassState, error) {
	c := ClassState{Ended: !s.EndsAt.Add(afterClass).After(l.now())}
	var err error
	if c.Groups, err = db.ClassGroups([]string{s.ID}); err != nil {
		return c, err
	}
	tasks, err := db.ClassTasks([]string{s.ID})
	if err != nil {
		return c, err
	}
	for _, t := range standing(tasks) {
		task := ClassTask{ClassTask: t, stock: uncertain.Exact(1)}
		if t.UnknownsID != nil {
			if task.stock, err = stockOf(db, *t.UnknownsID); err != nil {
				return c, err
			}
			openings, err := db.UnknownOpenings([]string{*t.UnknownsID})
			if err != nil {
				return c, err
			}
			task.Locked = !slices.ContainsFunc(openings, func(o store.UnknownOpening) bool { return o.What == OpensKey })
		}
		c.Tasks = append(c.Tasks, task)
	}
	c.Cells, err = cellsOf(db, c)
	return c, err
}

// cellsOf are what each group has done of each task, the tasks of a group side by side.
func cellsOf(db *store.Store, c ClassState) ([]ClassCell, error) {
	var accounts, plans, tasks []string
	for _, g := range c.Groups {
		accounts = append(accounts, g.AccountID)
	}
	for _, t := range c.Tasks {
		plans, tasks = append(plans, t.PlanID), append(tasks, t.ID)
	}
	if len(accounts) == 0 || len(plans) == 0 {
		return nil, nil
	}
	runs, err := db.RunsOfGroups(accounts, plans)
	if err != nil {
		return nil, err
	}
	handed, err := db.HandIns(tasks)
	if err != nil {
		return nil, err
	}
	var cells []ClassCell
	for _, g := range c.Groups {
		for _, t := range c.Tasks {
			cell := ClassCell{Group: g, Task: t.ClassTask}
			for i := range handed {
				if handed[i].GroupID == g.ID && handed[i].TaskID == t.ID {
					cell.HandIn = &handed[i]
				}
			}
			cell.pick(runs)
			cells = append(cells, cell)
		}
	}
	return cells, nil
}

// pick notes the runs of the group by the plan of the task: the last one, and the one behind what was handed in.
func (c *ClassCell) pick(runs []store.Run) {
	for i := range runs {
		r := &runs[i]
		if r.BegunBy != c.Group.AccountID || r.PlanID != c.Task.PlanID {
			continue
		}
		c.Run = r
		c.Runs++
		if c.HandIn != nil && r.Status != string(run.Void) && !r.BegunAt.After(c.HandIn.MadeAt) {
			c.Behind = r
		}
	}
}
