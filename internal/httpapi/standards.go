package httpapi

import (
	"context"
	"fmt"
	"strconv"
	"time"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/solution"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// cursor reads the cursor of a list; a text that is none starts from the beginning.
func cursor(s *string) int64 {
	n, _ := strconv.ParseInt(text(s), 10, 64)
	return n
}

func nextCursor(n int64) *string {
	if n == 0 {
		return nil
	}
	return optional(strconv.FormatInt(n, 10))
}

// CreatePlan implements StrictServerInterface.
func (s *Server) CreatePlan(ctx context.Context, r CreatePlanRequestObject) (CreatePlanResponseObject, error) {
	request, err := standardRequest(*r.Body)
	if err != nil {
		return nil, err
	}
	plan, err := s.lab.CreatePlan(ctx, actor(ctx), text(r.Body.Id), request)
	return CreatePlan201JSONResponse(wirePlan(plan)), err
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

func wirePlan(p store.Plan) Plan {
	r := p.Request
	return Plan{Id: p.ID, Number: int(p.Number), Title: p.Title, Substance: r.Substance, Concentration: r.Concentration, Of: optional(r.Of), Volume: r.Volume,
		AssayPercent: 100 * r.Assay, BandPercent: 100 * r.Band, Balance: r.Balance, Recipe: p.Recipe, By: p.Creator.Initials, At: p.CreatedAt}
}

// CreateRun implements StrictServerInterface.
func (s *Server) CreateRun(ctx context.Context, r CreateRunRequestObject) (CreateRunResponseObject, error) {
	run, err := s.lab.BeginRun(ctx, actor(ctx), r.Body.Id, r.Body.PlanId)
	return CreateRun201JSONResponse(wireRun(run)), err
}

// GetRun implements StrictServerInterface.
func (s *Server) GetRun(ctx context.Context, r GetRunRequestObject) (GetRunResponseObject, error) {
	run, err := s.lab.Run(ctx, r.Id)
	return GetRun200JSONResponse(wireRun(run)), err
}

// ListRuns implements StrictServerInterface.
func (s *Server) ListRuns(ctx context.Context, r ListRunsRequestObject) (ListRunsResponseObject, error) {
	status := ""
	if r.Params.Status != nil {
		status = string(*r.Params.Status)
	}
	page, err := s.lab.Runs(ctx, status, cursor(r.Params.Cursor))
	return ListRuns200JSONResponse{Items: each(page.Items, wireSummary), Next: nextCursor(page.Next)}, err
}

func wireSummary(r store.Run) RunSummary {
	return RunSummary{Id: r.ID, Number: int(r.Number), PlanId: r.PlanID, Title: r.Plan.Title, Status: Status(r.Status), Reason: optional(r.Reason),
		Step: optional(r.Step), By: r.Beginner.Initials, Begun: r.BegunAt, Changed: r.ChangedAt}
}

func wireRun(v lab.RunView) Run {
	return Run{Summary: wireSummary(v.Run), Plan: wirePlan(v.Plan), Outcome: v.Outcome, BottleId: optional(v.BottleID),
		Facts: each(v.Facts, func(f store.Fact) FactLine { return FactLine{Fact: f.Body, Sentence: f.Sentence} })}
}

// AddFact implements StrictServerInterface.
func (s *Server) AddFact(ctx context.Context, r AddFactRequestObject) (AddFactResponseObject, error) {
	b := r.Body
	f := fact.Fact{ID: b.Id, Kind: b.Kind, Count: b.Count, Choice: text(b.Choice), Text: text(b.Text), Date: text(b.Date),
		Replaces: text(b.Replaces), Reason: text(b.Reason)}
	if b.At != nil {
		f.At = *b.At
	}
	dimension := quantity.Mass
	switch f.Kind {
	case solution.KindTemperature:
		dimension = quantity.Temperature
	case solution.KindMeasured:
		dimension = quantity.Volume
	}
	var p verdict.Problems
	f.Quantity = readQuantity(b.Quantity, "/quantity", &p, dimension)
	f.After = readQuantity(b.After, "/after", &p, dimension)
	if len(p) > 0 {
		return nil, p
	}
	run, err := s.lab.StateFact(ctx, actor(ctx), r.Id, f, b.Seen)
	return AddFact200JSONResponse(wireRun(run)), err
}

// GetRunWorking implements StrictServerInterface.
func (s *Server) GetRunWorking(ctx context.Context, r GetRunWorkingRequestObject) (GetRunWorkingResponseObject, error) {
	lines, err := s.lab.Working(ctx, r.Id, text(r.Params.Figure))
	return GetRunWorking200JSONResponse(lines), err
}

// GetToday implements StrictServerInterface.
func (s *Server) GetToday(ctx context.Context, _ GetTodayRequestObject) (GetTodayResponseObject, error) {
	today, err := s.lab.Today(ctx)
	return GetToday200JSONResponse{Open: each(today.Open, wireSummary), Recent: each(today.Recent, wireSummary),
		Expiring: each(today.Expiring, wireBottle), Bottles: int(today.Bottles)}, err
}

// ListBottles implements StrictServerInterface.
func (s *Server) ListBottles(ctx context.Context, r ListBottlesRequestObject) (ListBottlesResponseObject, error) {
	page, err := s.lab.Bottles(ctx, text(r.Params.Q), cursor(r.Params.Cursor))
	return ListBottles200JSONResponse{Items: each(page.Items, wireBottle), Next: nextCursor(page.Next)}, err
}

// GetBottle implements StrictServerInterface.
func (s *Server) GetBottle(ctx context.Context, r GetBottleRequestObject) (GetBottleResponseObject, error) {
	bottle, err := s.lab.Bottle(ctx, r.Id)
	return GetBottle200JSONResponse(wireBottle(bottle)), err
}

// DiscardBottle implements StrictServerInterface.
func (s *Server) DiscardBottle(ctx context.Context, r DiscardBottleRequestObject) (DiscardBottleResponseObject, error) {
	bottle, err := s.lab.Discard(ctx, actor(ctx), r.Id, r.Body.Reason)
	return DiscardBottle200JSONResponse(wireBottle(bottle)), err
}

func wireBottle(b store.Bottle) Bottle {
	r := b.Run.Plan.Request
	out := Bottle{Id: b.ID, Number: int(b.Number), RunId: b.RunID, RunNumber: int(b.Run.Number), Title: b.Title, Name: r.Substance.Dissolved(), FromLiquid: r.Substance.Liquid,
		Formula: b.Run.Plan.Recipe.Formula, Figures: b.Outcome.Figures, Exact: b.Outcome.Exact, Volume: b.Outcome.Vessel.Flask.Volume,
		By: b.Maker.Initials, Made: b.MadeAt, Expires: b.ExpiresOn.Format(time.DateOnly), Expired: b.ExpiresOn.AddDate(0, 0, 1).Before(time.Now()),
		Note: optional(b.Outcome.Note), State: BottleState(b.State), Reason: optional(b.Reason), Signal: optional(r.Substance.Signal),
		Pictograms: strings0(substance.Pictograms(r.Substance.Hazards)), Hazards: substance.Statements(r.Substance.Hazards)}
	if len(b.Outcome.Figures) > 0 {
		out.Concentration = b.Outcome.Figures[0]
	}
	state := "solid"
	if r.Substance.Liquid {
		state = "liquid"
	}
	out.Parents = []string{fmt.Sprintf("%s, %s, assay %.4g %% w/w", r.Substance.Name, state, 100*r.Assay), "deionised water"}
	return out
}
