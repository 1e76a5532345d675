package httpapi

import (
	"context"
	"strconv"

	"vialbench/core/dilution"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/solution"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

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

// CreatePlan implements StrictServerInterface.
func (s *Server) CreatePlan(ctx context.Context, r CreatePlanRequestObject) (CreatePlanResponseObject, error) {
	request, err := standardRequest(*r.Body)
	if err != nil {
		return nil, err
	}
	plan, err := s.lab.CreatePlan(ctx, actor(ctx), given(r.Body.Id), request)
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
	out := Plan{Id: p.ID, Number: int(p.Number), Kind: PlanKind(p.Kind), Title: p.Title, By: p.Creator.Initials, At: p.CreatedAt}
	if p.Kind == store.DilutionKind {
		if ladder, err := dilution.Plan(p.Dilution); err == nil { // it was kept because it could be computed
			out.Dilution = &DilutionAnswer{Request: p.Dilution, Ladder: ladder}
		}
		return out
	}
	r, assay, band := p.Request, 100*p.Request.Assay, 100*p.Request.Band
	out.Substance, out.Concentration, out.Of, out.Volume, out.Balance, out.Recipe = &r.Substance, &r.Concentration, optional(r.Of), &r.Volume, &r.Balance, &p.Recipe
	out.AssayPercent, out.BandPercent = &assay, &band
	return out
}

// CreateDilution implements StrictServerInterface.
func (s *Server) CreateDilution(ctx context.Context, r CreateDilutionRequestObject) (CreateDilutionResponseObject, error) {
	plan, err := s.lab.CreateDilution(ctx, actor(ctx), r.Body.Id, r.Body.Question)
	return CreateDilution201JSONResponse(wirePlan(plan)), err
}

// CreateRun implements StrictServerInterface.
func (s *Server) CreateRun(ctx context.Context, r CreateRunRequestObject) (CreateRunResponseObject, error) {
	run, err := s.lab.BeginRun(ctx, actor(ctx), r.Body.Id, r.Body.PlanId, given(r.Body.Batch))
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
		Step: optional(r.Step), By: r.Beginner.Initials, Begun: r.BegunAt, Changed: r.ChangedAt, Batch: &r.Batch}
}

func wireRun(v lab.RunView) Run {
	batches := each(v.Batches, func(b lab.BatchState) BatchState {
		return BatchState{RunId: optional(b.RunID), BottleId: optional(b.BottleID), Status: optional(b.Status)}
	})
	return Run{Summary: wireSummary(v.Run), Plan: wirePlan(v.Plan), Outcome: v.Outcome, BottleId: optional(v.BottleID), Doubt: optional(v.Doubt), Batches: &batches,
		Facts: each(v.Facts, func(f store.Fact) FactLine { return FactLine{Fact: f.Body, Sentence: f.Sentence} })}
}

// AddFact implements StrictServerInterface.
func (s *Server) AddFact(ctx context.Context, r AddFactRequestObject) (AddFactResponseObject, error) {
	b := r.Body
	f := fact.Fact{ID: b.Id, Kind: b.Kind, Count: b.Count, Choice: given(b.Choice), Text: given(b.Text), Date: given(b.Date),
		Replaces: given(b.Replaces), Reason: given(b.Reason), Instrument: given(b.Instrument), Part: given(b.Part)}
	if b.At != nil {
		f.At = *b.At
	}
	dimensions := []quantity.Dimension{quantity.Mass}
	switch f.Kind {
	case solution.KindTemperature: // of a dilution too
		dimensions[0] = quantity.Temperature
	case solution.KindMeasured, dilution.KindFilled:
		dimensions[0] = quantity.Volume
	case solution.KindMadeUp, dilution.KindTaken: // weighed, or read off a scale
		dimensions = append(dimensions, quantity.Volume)
	}
	var p verdict.Problems
	f.Quantity = readQuantity(b.Quantity, "/quantity", &p, dimensions...)
	f.After = readQuantity(b.After, "/after", &p, dimensions...)
	f.Spread = readQuantity(b.Spread, "/spread", &p, quantity.Mass)
	if len(p) > 0 {
		return nil, p
	}
	run, err := s.lab.StateFact(ctx, actor(ctx), r.Id, f, b.Seen)
	return AddFact200JSONResponse(wireRun(run)), err
}

// GetRunWorking implements StrictServerInterface.
func (s *Server) GetRunWorking(ctx context.Context, r GetRunWorkingRequestObject) (GetRunWorkingResponseObject, error) {
	lines, err := s.lab.Working(ctx, r.Id, given(r.Params.Figure))
	return GetRunWorking200JSONResponse(lines), err
}

// GetToday implements StrictServerInterface.
func (s *Server) GetToday(ctx context.Context, _ GetTodayRequestObject) (GetTodayResponseObject, error) {
	today, err := s.lab.Today(ctx)
	return GetToday200JSONResponse{Open: each(today.Open, wireSummary), Recent: each(today.Recent, wireSummary),
		Expiring: each(today.Expiring, wireBottle), Standardise: each(today.Standardise, wireBottle), Bottles: int(today.Bottles)}, err
}
