package lab

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"slices"

	"vialbench/core/run"
	"vialbench/internal/store"
)

// PlanView is a plan with its design.
type PlanView struct {
	store.Plan
	Design any
}

// CreatePlan computes and keeps a plan. What belongs to the bench, to the shelf and to
// the rules of the lab is taken from there, not from the question. An id that is known
// already returns the plan that has it.
func (l *Lab) CreatePlan(ctx context.Context, by Actor, id, kindName string, question json.RawMessage) (PlanView, error) {
	var row store.Plan
	asked := digestOf(kindName, question)
	err := l.change(ctx, by, func(tx *store.Store) (err error) {
		if row, err = tx.PlanByID(id); err == nil {
			return sameAsked(row, asked)
		}
		k, err := kindNamed(kindName)
		if err != nil {
			return err
		}
		plan, err := k.asked(tx, question)
		if err != nil {
			return at("/question", err)
		}
		row, err = keepPlan(tx, by, store.Plan{ID: id, Kind: kindName, Asked: asked, CreatedAt: l.now()}, plan)
		return at("/question", err)
	})
	if store.IsDuplicate(err) { // the same came in at the same moment
		if row, err = l.store.With(ctx).PlanByID(id); err == nil {
			err = sameAsked(row, asked)
		}
	}
	if err != nil {
		return PlanView{}, err
	}
	return planView(row)
}

// digestOf tells questions apart, however they are spaced and in which order their members stand.
func digestOf(kindName string, question json.RawMessage) []byte {
	var value any
	if err := json.Unmarshal(question, &value); err != nil {
		return nil // it is refused for that
	}
	text, err := json.Marshal([]any{kindName, value})
	if err != nil {
		return nil
	}
	sum := sha256.Sum256(text)
	return sum[:]
}

// sameAsked refuses another question under an ID that is known. What was asked for a plan that came
// in with records is not known.
func sameAsked(row store.Plan, asked []byte) error {
	if len(row.Asked) > 0 && !bytes.Equal(row.Asked, asked) {
		return Conflict{"another question is on record under the same ID: send this one again as a new one"}
	}
	return nil
}

// asked is the plan of a question, with what the lab has for it.
func (k kind) asked(tx *store.Store, question json.RawMessage) (run.Plan, error) {
	own, err := ownedBy(tx)
	if err != nil {
		return nil, err
	}
	return k.ask(question, own)
}

// Preview is the run that a question would begin, before its first fact; nothing is kept.
func (l *Lab) Preview(ctx context.Context, by Actor, id, kindName string, question json.RawMessage) (RunView, error) {
	k, err := kindNamed(kindName)
	if err != nil {
		return RunView{}, err
	}
	plan, err := k.asked(l.store.With(ctx), question)
	if err != nil {
		return RunView{}, err
	}
	if batched, ok := plan.(run.Batched); ok {
		plan = batched.Nth(0)
	}
	now, who := l.now(), by.Account
	view := RunView{
		Run: store.Run{
			ID: id, PlanID: id, Beginner: who, BegunAt: now, ChangedAt: now,
			Plan: store.Plan{ID: id, Kind: kindName, Title: plan.Title(), Creator: who, CreatedAt: now},
		},
		plan: plan,
	}
	if view.Design, err = plan.Design(); err != nil {
		return view, err
	}
	if view.Outcome, err = plan.Make(nil, now); err != nil {
		return view, err
	}
	view.Status, view.Step = string(view.Outcome.Status), view.Outcome.AtHand()
	if view.Needs, err = l.needsOf(ctx, plan); err != nil {
		return view, err
	}
	view.Doubt, err = l.doubtOfPlan(l.store.With(ctx), plan)
	return view, err
}

// Need is about how much of a bottle a plan will take, in mL, and how much is left in it.
type Need struct {
	Bottle      string
	Number      int64
	Title       string
	Needs, Left float64
}

// needsOf lists what a plan will take from the shelf, as far as it knows.
func (l *Lab) needsOf(ctx context.Context, plan run.Plan) (list []Need, err error) {
	for _, s := range plan.Uses().Sources {
		if s.Bottle == "" || s.Needs == 0 {
			continue
		}
		if i := slices.IndexFunc(list, func(n Need) bool { return n.Bottle == s.Bottle }); i >= 0 {
			list[i].Needs += s.Needs
			continue
		}
		b, err := l.store.With(ctx).BottleByID(s.Bottle)
		if err != nil {
			return nil, err
		}
		list = append(list, Need{Bottle: b.ID, Number: b.Number, Title: b.Title, Needs: s.Needs, Left: b.Left()})
	}
	return list, nil
}

// keepPlan keeps a plan with what it depends on, as a row that is begun; the number 0 is the next one.
func keepPlan(tx *store.Store, by Actor, row store.Plan, plan run.Plan) (store.Plan, error) {
	if _, err := plan.Design(); err != nil {
		return store.Plan{}, err
	}
	request, err := json.Marshal(plan)
	if err != nil {
		return store.Plan{}, err
	}
	id := row.ID
	row.Title, row.Request, row.Batches, row.CreatedBy = plan.Title(), store.JSON(request), 1, by.ID
	if batched, ok := plan.(run.Batched); ok {
		row.Batches = batched.Batches()
	}
	if err := tx.Create(&row); err != nil {
		return row, err
	}
	uses := plan.Uses()
	for _, s := range uses.Sources {
		if err := tx.Stands(store.Source{PlanID: &id, Role: s.Role, BottleID: optionalID(s.Bottle), EarlierID: optionalID(s.Run)}); err != nil {
			return row, err
		}
	}
	for _, name := range uses.Instruments {
		if err := tx.Stands(store.Source{PlanID: &id, Role: roleInstrument, Instrument: &name}); err != nil {
			return row, err
		}
	}
	return tx.PlanByID(id)
}

// roleInstrument is what an instrument is to a plan or a run.
const roleInstrument = "instrument"

func optionalID(id string) *string {
	if id == "" {
		return nil
	}
	return &id
}

func planView(row store.Plan) (PlanView, error) {
	plan, err := planOf(row, 0)
	if err != nil {
		return PlanView{}, err
	}
	design, err := plan.Design()
	return PlanView{row, design}, err
}

// Plan returns a plan.
func (l *Lab) Plan(ctx context.Context, id string) (PlanView, error) {
	row, err := l.store.With(ctx).PlanByID(id)
	if err != nil {
		return PlanView{}, found(err, "this plan")
	}
	return planView(row)
}

// Plans lists plans, newest first.
func (l *Lab) Plans(ctx context.Context, cursor int64) (Page[PlanView], error) {
	rows, err := l.store.With(ctx).Plans(before(cursor), pageSize+1)
	if err != nil {
		return Page[PlanView]{}, err
	}
	views := make([]PlanView, len(rows))
	for i, row := range rows {
		if views[i], err = planView(row); err != nil {
			return Page[PlanView]{}, err
		}
	}
	return cut(views, func(p PlanView) int64 { return p.Number }), nil
}
