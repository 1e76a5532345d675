package httpapi

import (
	"context"
	"time"

	"vialbench/core/figure"
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
	items := each(page.Items, wireListed)
	if given(r.Params.Sources) {
		for i, b := range page.Items {
			items[i].Concentration.Contributions = wireBottle(b).Concentration.Contributions
		}
	}
	return ListBottles200JSONResponse{Items: items, Next: nextCursor(page.Next)}, err
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
		if of := k.Product.MadeOf; len(k.From) == 0 && len(of) > 0 {
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
	volume, err := r.Body.Volume.Read(quantity.Volume)
	if err != nil {
		return nil, verdict.Problems{{Field: "/volume", Reason: err.Error()}}
	}
	if volume.Unit.Dimension != quantity.Volume {
		return nil, verdict.Problems{{Field: "/volume", Reason: "what was taken is a volume, like 25 mL"}}
	}
	bottle, err := s.lab.TakeFrom(ctx, actor(ctx), r.Id, r.Body.Id, volume.In("mL"), r.Body.Purpose)
	return TakeFromBottle200JSONResponse(wireBottle(bottle)), err
}

// LabelsPrinted implements StrictServerInterface.
func (s *Server) LabelsPrinted(ctx context.Context, r LabelsPrintedRequestObject) (LabelsPrintedResponseObject, error) {
	return LabelsPrinted204Response{}, s.lab.LabelsPrinted(ctx, actor(ctx), r.Body.Bottles)
}

// wireListed is a bottle in a list: what it is named by and what else other work starts from, without what adds
// to the uncertainty of either.
func wireListed(b lab.BottleView) Bottle {
	out := wireBottle(b)
	out.Concentration.Contributions, out.Concentration.Budget = nil, nil
	besides := []figure.Figure{}
	for i, f := range b.Product.Figures {
		if i > 0 && (f.Role == figure.Concentration || f.Role == figure.PH) {
			f.Contributions, f.Budget = nil, nil
			besides = append(besides, f)
		}
	}
	out.Figures = besides
	return out
}

func wireBottle(b lab.BottleView) Bottle {
	p := b.Product
	out := Bottle{
		Id:         b.ID,
		Number:     int(b.Number),
		RunId:      b.RunID,
		Title:      b.Title,
		Name:       p.Name,
		Origin:     string(p.Origin),
		Formula:    p.Formula,
		Figures:    p.Figures,
		Exact:      p.Exact,
		Volume:     b.Volume,
		Left:       b.Left(),
		Labelled:   b.LabelPrintedAt != nil,
		Tube:       p.Tube,
		Classified: len(p.Ingredients) > 0,
		By:         b.Maker.Initials,
		Made:       b.MadeAt,
		Store:      optional(p.Store),
		Doubt:      optional(b.Doubt),
		Note:       optional(p.Note),
		State:      BottleState(b.State),
		Reason:     optional(b.Reason),
		Signal:     optional(p.Signal),
		Pictograms: strings0(substance.Pictograms(p.Hazards)),
		Hazards:    substance.Statements(p.Hazards),
		Parents:    strings0(p.MadeOf),
	}
	if len(b.Parents) > 0 && len(out.Parents) > 0 { // which stand above it
		out.Parents = out.Parents[len(out.Parents)-1:]
	}
	if out.Formula == nil {
		out.Formula = []Piece{}
	}
	if b.Run != nil {
		number := int(b.Run.Number)
		out.RunNumber = &number
	}
	if b.ExpiresOn != nil {
		day := b.ExpiresOn.Format(time.DateOnly)
		out.Expires, out.Expired = &day, past(*b.ExpiresOn)
	}
	if b.StandardiseOn != nil {
		day, now := b.StandardiseOn.Format(time.DateOnly), past(*b.StandardiseOn)
		out.StandardiseBy, out.StandardiseNow = &day, &now
	}
	if len(p.Figures) > 0 {
		out.Concentration = p.Figures[0]
	}
	takings := each(b.Takings, func(t store.Taking) Taking {
		return Taking{Volume: t.Volume, Purpose: t.Purpose, By: t.Maker.Initials, At: t.MadeAt}
	})
	from := each(b.Parents, wireLink)
	if p.Standardised != nil {
		out.MadeAs = optional(p.Standardised.Made.String())
	}
	standardisations := each(b.Standardisations, func(s lab.PastStandardisation) Standardised {
		u := s.C.Expanded()
		return Standardised{Run: s.Run.ID, Number: s.Run.Number, At: s.At, C: s.C.Value, U: &u, Text: figure.New("", "", "mol/L", s.C).String()}
	})
	out.Standardisations = &standardisations
	changes := each(b.Changes, func(c store.Change) Change { return Change{Moved: c.Moved, Cause: c.Cause, At: c.At} })
	out.Takings, out.From, out.Changes = &takings, &from, &changes
	return out
}

func wireLink(b store.Bottle) BottleLink {
	link := BottleLink{Id: b.ID, Number: int(b.Number), Title: b.Title}
	if len(b.Product.Figures) > 0 {
		link.Text = b.Product.Figures[0].String()
	}
	return link
}

// past reports whether a day is over.
func past(day time.Time) bool { return day.AddDate(0, 0, 1).Before(time.Now()) }
