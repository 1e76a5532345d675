package httpapi

import (
	"context"
	"encoding/json"
	"strconv"
	"time"

	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// PlanQuestion is a question of a kind of work, which the kind reads itself.
type PlanQuestion struct {
	ID       string          `json:"id"`
	Kind     string          `json:"kind"`
	Question json.RawMessage `json:"question"`
}

// PlanAnswer is a plan with its design, as its kind has it.
type PlanAnswer struct {
	ID     string    `json:"id"`
	Number int64     `json:"number"`
	Kind   string    `json:"kind"`
	Title  string    `json:"title"`
	Design any       `json:"design"`
	By     string    `json:"by"`
	At     time.Time `json:"at"`
}

// The generated answers of a schema with oneOf ask their type for these two.

// MarshalJSON implements json.Marshaler.
func (p PlanAnswer) MarshalJSON() ([]byte, error) {
	type plain PlanAnswer
	return json.Marshal(plain(p))
}

// UnmarshalJSON implements json.Unmarshaler.
func (p *PlanAnswer) UnmarshalJSON(text []byte) error {
	type plain PlanAnswer
	return json.Unmarshal(text, (*plain)(p))
}

// cursor reads the cursor of a list; a text that is none starts from the beginning.
func cursor(s *string) int64 {
	n, _ := strconv.ParseInt(given(s), 10, 64)
	return n
}

func nextCursor(n int64) *string {
	if n == 0 {
		return nil
	}
	return optional(strconv.FormatInt(n, 10))
}

// given returns what an optional field says, and its zero value when it is left out.
func given[T any](field *T) T {
	if field == nil {
		var zero T
		return zero
	}
	return *field
}

// CreatePlan implements StrictServerInterface.
func (s *Server) CreatePlan(ctx context.Context, r CreatePlanRequestObject) (CreatePlanResponseObject, error) {
	plan, err := s.lab.CreatePlan(ctx, actor(ctx), r.Body.ID, r.Body.Kind, r.Body.Question)
	return CreatePlan201JSONResponse(wirePlan(plan)), err
}

// PreviewPlan implements StrictServerInterface. A page asks at every key: like any computation it
// waits for its turn.
func (s *Server) PreviewPlan(ctx context.Context, r PreviewPlanRequestObject) (PreviewPlanResponseObject, error) {
	done, err := s.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	run, err := s.lab.Preview(ctx, actor(ctx), r.Body.ID, r.Body.Kind, r.Body.Question)
	return PreviewPlan200JSONResponse(wireRun(run)), err
}

// GetPlan implements StrictServerInterface.
func (s *Server) GetPlan(ctx context.Context, r GetPlanRequestObject) (GetPlanResponseObject, error) {
	plan, err := s.lab.Plan(ctx, r.Id)
	return GetPlan200JSONResponse(wirePlan(plan)), err
}

// ListPlans implements StrictServerInterface.
func (s *Server) ListPlans(ctx context.Context, r ListPlansRequestObject) (ListPlansResponseObject, error) {
	page, err := s.lab.Plans(ctx, cursor(r.Params.Cursor))
	return ListPlans200JSONResponse{Items: each(page.Items, wirePlan), Next: nextCursor(page.Next)}, err
}

func wirePlan(p lab.PlanView) PlanAnswer {
	return PlanAnswer{ID: p.ID, Number: p.Number, Kind: p.Kind, Title: p.Title, Design: p.Design, By: p.Creator.Initials, At: p.CreatedAt}
}

// CreateRun implements StrictServerInterface.
func (s *Server) CreateRun(ctx context.Context, r CreateRunRequestObject) (CreateRunResponseObject, error) {
	var of *lab.TaskOf
	if t := r.Body.For; t != nil {
		of = &lab.TaskOf{Session: t.Session, Task: t.Task, Title: t.Title}
	}
	run, err := s.lab.BeginTask(ctx, actor(ctx), r.Body.Id, r.Body.PlanId, given(r.Body.Batch), of)
	return CreateRun201JSONResponse(wireRun(run)), err
}

// GetRun implements StrictServerInterface.
func (s *Server) GetRun(ctx context.Context, r GetRunRequestObject) (GetRunResponseObject, error) {
	run, err := s.lab.Run(ctx, r.Id)
	if err == nil {
		run, err = s.lab.SeenBy(ctx, actor(ctx), run)
	}
	return GetRun200JSONResponse(wireRun(run)), err
}

// ListRuns implements StrictServerInterface.
func (s *Server) ListRuns(ctx context.Context, r ListRunsRequestObject) (ListRunsResponseObject, error) {
	page, err := s.lab.Runs(ctx, string(given(r.Params.Status)), given(r.Params.Kind), cursor(r.Params.Cursor))
	return ListRuns200JSONResponse{Items: each(page.Items, wireSummary), Next: nextCursor(page.Next)}, err
}

func wireSummary(r store.Run) RunSummary {
	return RunSummary{
		Id:      r.ID,
		Number:  int(r.Number),
		PlanId:  r.PlanID,
		Kind:    r.Plan.Kind,
		Title:   r.Plan.Title,
		Status:  Status(r.Status),
		Reason:  optional(r.Reason),
		Step:    optional(r.Step),
		By:      r.Beginner.Initials,
		Begun:   r.BegunAt,
		Changed: r.ChangedAt,
		Batch:   &r.Batch,
	}
}

func wireRun(v lab.RunView) Run { return wireRunSince(v, 0) }

// wireRunSince is a run for somebody who has so many of its facts already.
func wireRunSince(v lab.RunView, since int) Run {
	since = min(since, len(v.Facts))
	batches := each(v.Batches, func(b lab.BatchState) BatchState {
		return BatchState{RunId: optional(b.RunID), BottleId: optional(b.BottleID), Status: optional(b.Status)}
	})
	var needs *[]Need
	if len(v.Needs) > 0 {
		list := each(v.Needs, func(n lab.Need) Need {
			return Need{Number: n.Number, Title: n.Title, Needs: n.Needs, Left: n.Left}
		})
		needs = &list
	}
	return Run{
		Needs:   needs,
		Summary: wireSummary(v.Run),
		Plan:    wirePlan(lab.PlanView{Plan: v.Plan, Design: v.Design}),
		Outcome: v.Outcome,
		Bottles: strings0(v.Bottles),
		Moved:   strings0(v.Moved),
		Doubt:   optional(v.Doubt),
		Hides:   &v.Hides,
		Batches: &batches,
		Since:   since,
		Facts:   each(v.Facts[since:], func(f store.Fact) FactLine { return wireLine(f, run.Late(f.MadeAt, f.RecordedAt, v.Thresholds)) }),
	}
}

// wireLine is a fact as a screen shows it: with when it went on record, when that was late.
func wireLine(f store.Fact, late bool) FactLine {
	line := FactLine{Fact: f.Body, Sentence: f.Sentence}
	if late {
		line.Recorded = &f.RecordedAt
	}
	return line
}

// GetRunPlan implements StrictServerInterface.
func (s *Server) GetRunPlan(ctx context.Context, r GetRunPlanRequestObject) (GetRunPlanResponseObject, error) {
	if err := s.lab.MayLook(ctx, actor(ctx), r.Id); err != nil {
		return nil, err
	}
	plan, err := s.lab.PlanOfRun(ctx, r.Id)
	return GetRunPlan200JSONResponse(plan), err
}

// AddFact implements StrictServerInterface.
func (s *Server) AddFact(ctx context.Context, r AddFactRequestObject) (AddFactResponseObject, error) {
	b := r.Body
	if b.At != nil && b.At.IsZero() { // which would pass for not given
		return nil, verdict.Problems{{Field: "/at", Reason: "the year 1 is before any laboratory: leave the time out, or say when it was"}}
	}
	stated := lab.Statement{
		Stated: run.Stated{
			Fact: fact.Fact{
				ID:         b.Id,
				Kind:       b.Kind,
				Count:      b.Count,
				Name:       given(b.Name),
				Choice:     given(b.Choice),
				Text:       given(b.Text),
				Date:       given(b.Date),
				Replaces:   given(b.Replaces),
				Reason:     given(b.Reason),
				Instrument: given(b.Instrument),
				Part:       given(b.Part),
				At:         given(b.At),
			},
			Quantity: b.Quantity,
			After:    b.After,
			Spread:   b.Spread,
			Beside:   given(b.Beside),
		},
		Seen: b.Seen,
	}
	view, err := s.lab.StateFact(ctx, actor(ctx), r.Id, stated)
	if err == nil {
		view, err = s.lab.SeenBy(ctx, actor(ctx), view)
	}
	return AddFact200JSONResponse(wireRunSince(view, given(r.Params.Since))), err
}

// GetRunWorking implements StrictServerInterface.
func (s *Server) GetRunWorking(ctx context.Context, r GetRunWorkingRequestObject) (GetRunWorkingResponseObject, error) {
	if err := s.lab.MayExplain(ctx, actor(ctx), r.Id); err != nil {
		return nil, err
	}
	lines, err := s.lab.Working(ctx, r.Id, given(r.Params.Figure))
	return GetRunWorking200JSONResponse(lines), err
}

// GetAsked implements StrictServerInterface.
func (s *Server) GetAsked(ctx context.Context, r GetAskedRequestObject) (GetAskedResponseObject, error) {
	if err := s.lab.MayLook(ctx, actor(ctx), r.Id); err != nil {
		return nil, err
	}
	step, err := s.lab.AskedBy(ctx, r.Id, r.Fact)
	return GetAsked200JSONResponse(step), err
}

// GetBottleWorking implements StrictServerInterface.
func (s *Server) GetBottleWorking(ctx context.Context, r GetBottleWorkingRequestObject) (GetBottleWorkingResponseObject, error) {
	lines, err := s.lab.BottleWorking(ctx, r.Id, r.Params.Figure)
	return GetBottleWorking200JSONResponse(lines), err
}

// GetToday implements StrictServerInterface.
func (s *Server) GetToday(ctx context.Context, _ GetTodayRequestObject) (GetTodayResponseObject, error) {
	today, err := s.lab.Today(ctx)
	return GetToday200JSONResponse{
		Open: each(today.Open, wireSummary), Recent: each(today.Recent, wireSummary),
		Expiring: each(today.Expiring, wireListed), Standardise: each(today.Standardise, wireListed), Bottles: int(today.Bottles),
		Next: each(today.Next, wireNext), Sessions: each(today.Sessions, wireSessionLine),
		Orders: each(today.Orders, wireOrder),
		Lacks:  each(today.Lacks, func(what string) TodayLacks { return TodayLacks(what) }),
	}, err
}
