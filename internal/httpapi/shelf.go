package httpapi

import (
	"context"
	"fmt"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// ListBottles implements StrictServerInterface.
func (s *Server) ListBottles(ctx context.Context, r ListBottlesRequestObject) (ListBottlesResponseObject, error) {
	shelf := lab.Shelf{Text: given(r.Params.Q), Only: string(given(r.Params.Only))}
	page, err := s.lab.Bottles(ctx, shelf, cursor(r.Params.Cursor))
	return ListBottles200JSONResponse{Items: each(page.Items, wireBottle), Next: nextCursor(page.Next)}, err
}

// GetBottle implements StrictServerInterface.
func (s *Server) GetBottle(ctx context.Context, r GetBottleRequestObject) (GetBottleResponseObject, error) {
	bottle, err := s.lab.Bottle(ctx, r.Id)
	return GetBottle200JSONResponse(wireBottle(bottle)), err
}

// GetFamily implements StrictServerInterface.
func (s *Server) GetFamily(ctx context.Context, r GetFamilyRequestObject) (GetFamilyResponseObject, error) {
	family, err := s.lab.Family(ctx, r.Id)
	return GetFamily200JSONResponse(each(family, func(k lab.Kin) Kin {
		kin := Kin{Bottle: wireLink(k.Bottle), RunId: k.RunID, State: k.State, From: strings0(k.From), Parents: []string{}}
		if len(k.From) == 0 {
			of := madeOf(k.Plan)
			kin.Parents = of[:len(of)-1] // water is in every one of them
		}
		return kin
	})), err
}

// DiscardBottle implements StrictServerInterface.
func (s *Server) DiscardBottle(ctx context.Context, r DiscardBottleRequestObject) (DiscardBottleResponseObject, error) {
	bottle, err := s.lab.Discard(ctx, actor(ctx), r.Id, r.Body.Reason)
	return DiscardBottle200JSONResponse(wireBottle(bottle)), err
}

// PoolBottles implements StrictServerInterface.
func (s *Server) PoolBottles(ctx context.Context, r PoolBottlesRequestObject) (PoolBottlesResponseObject, error) {
	bottle, err := s.lab.Pool(ctx, actor(ctx), r.Body.Id, r.Body.Bottles)
	return PoolBottles201JSONResponse(wireBottle(bottle)), err
}

// TakeFromBottle implements StrictServerInterface.
func (s *Server) TakeFromBottle(ctx context.Context, r TakeFromBottleRequestObject) (TakeFromBottleResponseObject, error) {
	var p verdict.Problems
	volume := readQuantity(&r.Body.Volume, "/volume", &p, quantity.Volume)
	if len(p) > 0 {
		return nil, p
	}
	if volume.Unit.Dimension != quantity.Volume {
		return nil, verdict.Problems{{Field: "/volume", Reason: "what was taken is a volume, like 25 mL"}}
	}
	bottle, err := s.lab.TakeFrom(ctx, actor(ctx), r.Id, r.Body.Id, volume.In("mL"), r.Body.Purpose)
	return TakeFromBottle200JSONResponse(wireBottle(bottle)), err
}

// LabelsPrinted implements StrictServerInterface.
func (s *Server) LabelsPrinted(ctx context.Context, r LabelsPrintedRequestObject) (LabelsPrintedResponseObject, error) {
	return LabelsPrinted204Response{}, s.lab.LabelsPrinted(ctx, r.Body.Bottles)
}

func wireBottle(b lab.BottleView) Bottle {
	name, pieces := lab.BottleContents(b.Bottle)
	codes, signal := lab.BottleHazards(b.Bottle)
	out := Bottle{Id: b.ID, Number: int(b.Number), RunId: b.RunID, Title: b.Title, Name: name, FromLiquid: b.Plan.Request.Substance.Liquid, Formula: pieces,
		Figures: b.Outcome.Figures, Exact: b.Outcome.Exact, Volume: b.Volume, Left: b.Left(), Labelled: b.LabelPrintedAt != nil, Tube: b.Plan.Kind == store.DilutionKind,
		By: b.Maker.Initials, Made: b.MadeAt, Expires: b.ExpiresOn.Format(time.DateOnly), Expired: past(b.ExpiresOn), Store: optional(b.Outcome.Store), Doubt: optional(b.Doubt),
		Note: optional(b.Outcome.Note), State: BottleState(b.State), Reason: optional(b.Reason), Signal: optional(signal),
		Pictograms: strings0(substance.Pictograms(codes)), Hazards: substance.Statements(codes), Parents: madeOf(b.Plan)}
	if b.ParentID != nil { // which stands above it
		out.Parents = out.Parents[len(out.Parents)-1:]
	}
	if out.Formula == nil {
		out.Formula = []Piece{}
	}
	if b.Run != nil {
		number := int(b.Run.Number)
		out.RunNumber = &number
	}
	if b.StandardiseOn != nil {
		day, now := b.StandardiseOn.Format(time.DateOnly), past(*b.StandardiseOn)
		out.StandardiseBy, out.StandardiseNow = &day, &now
	}
	if len(b.Outcome.Figures) > 0 {
		out.Concentration = b.Outcome.Figures[0]
	}
	takings := each(b.Takings, func(t store.Taking) Taking {
		return Taking{Volume: t.Volume, Purpose: t.Purpose, By: t.Maker.Initials, At: t.MadeAt}
	})
	from := each(b.Parents, wireLink)
	out.Takings, out.From = &takings, &from
	return out
}

func wireLink(b store.Bottle) BottleLink {
	link := BottleLink{Id: b.ID, Number: int(b.Number), Title: b.Title}
	if len(b.Outcome.Figures) > 0 {
		c := b.Outcome.Figures[0]
		link.Text = c.Text + " ± " + c.UText + " " + c.Unit
	}
	return link
}

// madeOf lists what a bottle was made of.
func madeOf(p store.Plan) []string {
	if p.Kind == store.DilutionKind {
		return []string{p.Dilution.Stock.String(), "deionised water"}
	}
	state := "solid"
	if p.Request.Substance.Liquid {
		state = "liquid"
	}
	list := []string{fmt.Sprintf("%s, %s, assay %.4g %% w/w", p.Request.Substance.Name, state, 100*p.Request.Assay)}
	for _, s := range p.Request.Also {
		list = append(list, fmt.Sprintf("%s, solid, assay %.4g %% w/w", s.Substance.Name, 100*s.Assay))
	}
	return append(list, "deionised water")
}

// past tells whether a day is over.
func past(day time.Time) bool { return day.AddDate(0, 0, 1).Before(time.Now()) }
