package lab

import (
	"context"
	"errors"
	"log/slog"
	"slices"
	"strings"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// Sheet is what a group sees of its class.
type Sheet struct {
	Group store.ClassGroup
	Tasks []SheetTask
	// Words are what was said to it, the newest first.
	Words []store.ClassWord
	// Bench is what it has of its own; the rest is what the lab has, to choose from.
	Bench                      GroupBench
	Balances, Meters, Burettes []string
	// Connected are its own instruments that can be watched.
	Connected []Connected
}

// Connected is an instrument that can be watched: one of the balances or of the meters.
type Connected struct{ ID, Name, Of string }

// SheetTask is a task of a group. Calculated is what its figures give, once it handed its own result in.
type SheetTask struct {
	ClassCell
	Calculated string
}

// EnterClass opens the sheet of a group by its code, as it is read out: in any case, with spaces or without. Whoever tries
// many has to wait.
func (l *Lab) EnterClass(ctx context.Context, code string, at Attempt) (in SignedIn, err error) {
	code = strings.ToUpper(strings.NewReplacer(" ", "", "-", "", "\u00a0", "").Replace(code))
	db := l.store.With(ctx)
	failed := store.FailedSignIn{Login: "class " + at.Address, Address: at.Address, At: l.now()}
	if err := db.InTransaction(func(tx *store.Store) error { return l.count(tx, &failed) }); err != nil {
		return in, err
	}
	g, err := db.ClassGroupByCode(code)
	switch {
	case isNotFound(err):
		slog.WarnContext(ctx, "a class code was wrong", "address", at.Address)
		return in, NotFound{"a group with this code"}
	case err != nil:
		return in, err
	}
	if err := db.ForgetFailures(failed.Login, nil, at.Address); err != nil {
		return in, err
	}
	until := g.Session.EndsAt.Add(afterClass)
	if g.Session.RemovedAt != nil || !until.After(l.now()) {
		return in, Conflict{"this code was for “" + g.Session.Title + "”, which has ended: ask for today's"}
	}
	if at.Session != "" {
		if err := db.DeleteSignIn(tokenHash(at.Session)); err != nil {
			return in, err
		}
	}
	in.Account = g.Account
	in.Token, err = l.beginUntil(ctx, g.Account, at, until)
	return in, err
}

// OwnSheet is the sheet of the group that asks.
func (l *Lab) OwnSheet(ctx context.Context, by Actor) (Sheet, error) {
	db := l.store.With(ctx)
	g, err := db.ClassGroupOf(by.ID)
	if err != nil {
		return Sheet{}, found(err, "a group of yours")
	}
	c, err := l.classOf(db, g.Session)
	sheet := Sheet{Group: g}
	for _, cell := range c.Cells {
		if cell.Group.ID != g.ID {
			continue
		}
		t := SheetTask{ClassCell: cell}
		if cell.HandIn != nil {
			if t.Calculated, err = l.calculated(db, cell); err != nil {
				return sheet, err
			}
		}
		sheet.Tasks = append(sheet.Tasks, t)
	}
	if err != nil {
		return sheet, err
	}
	if err := sheet.lookAround(db); err != nil {
		return sheet, err
	}
	words, err := db.ClassWords([]string{g.SessionID})
	for _, w := range slices.Backward(words) {
		if w.GroupID == nil || *w.GroupID == g.ID {
			sheet.Words = append(sheet.Words, w)
		}
	}
	return sheet, err
}

// calculated is what the figures of a group give, in words; empty where they give nothing yet.
func (l *Lab) calculated(db *store.Store, cell ClassCell) (string, error) {
	w, ok, err := l.workedOut(db, cell)
	if err != nil || !ok {
		return "", err
	}
	value, u := quantity.Round(w.Value, w.U)
	return value + " ± " + u + " " + cell.Task.Unit, nil
}

// SetHand raises the hand of the group that asks, or takes it down.
func (l *Lab) SetHand(ctx context.Context, by Actor, raised bool) (Sheet, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		g, err := tx.ClassGroupOf(by.ID)
		if err != nil {
			return found(err, "a group of yours")
		}
		var since *time.Time
		if now := l.now(); raised {
			since = &now
		}
		return errors.Join(tx.RaiseHand(g.ID, since), tx.Announce(topicClass+g.SessionID))
	})
	if err != nil {
		return Sheet{}, err
	}
	return l.OwnSheet(ctx, by)
}

// ownTask is a task of the group that asks.
func ownTask(db *store.Store, by Actor, id string) (g store.ClassGroup, t store.ClassTask, err error) {
	if g, err = db.ClassGroupOf(by.ID); err != nil {
		return g, t, found(err, "a group of yours")
	}
	if g.Session.RemovedAt != nil {
		return g, t, takenOff
	}
	t, err = db.ClassTaskByID(id)
	if err == nil && (t.SessionID != g.SessionID || t.RemovedAt != nil) {
		err = store.ErrNotFound
	}
	return g, t, found(err, "this task")
}

// takenOff is said to a group whose session is on the plan no longer.
var takenOff = Conflict{"this session was taken off the plan: nothing more is written in it. Ask your instructor"}

// mostRuns is how often a group begins a task.
const mostRuns = 20

// BeginOwnTask begins a task of the group that asks, under an ID. One that is open is gone on with.
func (l *Lab) BeginOwnTask(ctx context.Context, by Actor, taskID, id string) (RunView, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		g, t, err := ownTask(tx, by, taskID)
		if err != nil {
			return err
		}
		runs, err := tx.RunsOfGroups([]string{by.ID}, []string{t.PlanID})
		if err != nil {
			return err
		}
		for _, r := range runs {
			if r.ID == id || r.Status == string(run.Open) { // two devices of one group begin one run
				id = r.ID
				return nil
			}
		}
		if len(runs) >= mostRuns {
			return Conflict{"this was begun often enough: ask your instructor"}
		}
		plan, err := tx.PlanByID(t.PlanID)
		if err != nil {
			return err
		}
		at, err := standsAt(tx, g)
		if err != nil {
			return err
		}
		return errors.Join(l.beginRun(tx, by, plan, store.Run{ID: id, BegunAt: l.now(), Bench: at}), tx.Announce(topicClass+g.SessionID))
	})
	if err != nil && !store.IsDuplicate(err) {
		return RunView{}, err
	}
	view, err := l.Run(ctx, id)
	if err != nil {
		return view, err
	}
	return l.SeenBy(ctx, by, view)
}

// HandIn takes the result of the group that asks, as it worked it out. An ID that is known changes nothing.
func (l *Lab) HandIn(ctx context.Context, by Actor, taskID, id, stated, note string) (Sheet, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		g, t, err := ownTask(tx, by, taskID)
		if err != nil {
			return err
		}
		return l.handIn(tx, by, g, t, id, stated, note)
	})
	if err != nil && !store.IsDuplicate(err) {
		return Sheet{}, err
	}
	return l.OwnSheet(ctx, by)
}

// handIn keeps what was handed in for a group.
func (l *Lab) handIn(tx *store.Store, by Actor, g store.ClassGroup, t store.ClassTask, id, stated, note string) error {
	if _, _, err := readStated(t, stated); err != nil {
		return err
	}
	if len([]rune(note)) > longestHand {
		return verdict.Problems{{Field: "/note", Reason: "a note has at most 400 characters"}}
	}
	if known, err := tx.HandInByID(id); err == nil {
		if known.TaskID != t.ID || known.GroupID != g.ID || known.Stated != strings.TrimSpace(stated) {
			return Conflict{"another result went on record under the same ID: hand this one in again"}
		}
		return nil
	} else if !isNotFound(err) {
		return err
	}
	row := store.HandIn{
		ID: id, TaskID: t.ID, GroupID: g.ID, Stated: strings.TrimSpace(stated), Note: strings.TrimSpace(note), MadeBy: by.ID, MadeAt: l.now(),
	}
	if err := tx.Create(&row); err != nil {
		return err
	}
	return tx.Announce(topicClass + t.SessionID)
}

// readStated reads a result in the unit of its task, with half a unit of its last digit.
func readStated(t store.ClassTask, stated string) (value, half float64, err error) {
	unit, err := quantity.UnitOf(t.Unit)
	if err != nil {
		return 0, 0, err
	}
	counts := strings.TrimSpace(strings.TrimPrefix(t.Unit, unit.Symbol)) // “P” of “mg/L P”
	stated = strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(stated), counts))
	q, err := quantity.ParseAny(stated, []quantity.Dimension{unit.Dimension}, unit.Symbol)
	if err != nil {
		reason := "state the result in " + t.Unit + ", like 0.1023 " + t.Unit + ": " + err.Error()
		return 0, 0, verdict.Problems{{Field: "/stated", Reason: reason}}
	}
	factor := q.Unit.Factor / unit.Factor
	return q.Value * factor, factor * halfDigit(q), nil
}

// SeenBy is a run as somebody may see it. A group sees its own; and what is computed from its figures once it handed its own
// result in, unless the task shows it before.
func (l *Lab) SeenBy(ctx context.Context, by Actor, view RunView) (RunView, error) {
	if by.Role != Group {
		return view, nil
	}
	if view.BegunBy != by.ID {
		return RunView{}, NotFound{"this run"}
	}
	hides, err := l.hiddenFrom(ctx, by, view.PlanID)
	if err != nil {
		return view, err
	}
	view.Hides = hides
	view.Outcome, err = hides.From(view.Outcome, view.plan, view.stated(), l.now())
	return view, err
}

// hiddenFrom is what is kept from a group in its runs of a plan: nothing once a result was handed in.
func (l *Lab) hiddenFrom(ctx context.Context, by Actor, planID string) (run.Hidden, error) {
	db := l.store.With(ctx)
	g, err := db.ClassGroupOf(by.ID)
	if err != nil {
		return run.Hidden{}, found(err, "a group of yours")
	}
	c, err := l.classOf(db, g.Session)
	hides := run.Hidden{Figures: true}
	for _, cell := range c.Cells {
		if cell.Group.ID != g.ID || cell.Task.PlanID != planID {
			continue
		}
		if cell.HandIn != nil {
			return run.Hidden{}, err
		}
		hides.Figures = hides.Figures && !cell.Task.Shows
		hides.Verdicts = hides.Verdicts || cell.Task.Quiet
	}
	return hides, err
}

// MayLook reports whether somebody may look into a run, and state facts in it: a group into its own.
func (l *Lab) MayLook(ctx context.Context, by Actor, runID string) error {
	if by.Role != Group {
		return nil
	}
	row, err := l.store.With(ctx).RunByID(runID, false)
	if err == nil && row.BegunBy != by.ID {
		err = store.ErrNotFound
	}
	return found(err, "this run")
}

// MayExplain reports whether somebody may see the working of a run.
func (l *Lab) MayExplain(ctx context.Context, by Actor, runID string) error {
	if by.Role != Group {
		return nil
	}
	row, err := l.store.With(ctx).RunByID(runID, false)
	if err != nil || row.BegunBy != by.ID {
		return found(errors.Join(err, store.ErrNotFound), "this run")
	}
	hides, err := l.hiddenFrom(ctx, by, row.PlanID)
	if err == nil && hides.Figures {
		err = Forbidden{"the working is shown once you have handed your result in"}
	}
	return err
}
