package httpapi

import (
	"context"
	"slices"

	"vialbench/core/quantity"
	"vialbench/core/unknowns"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// ListUnknowns implements StrictServerInterface.
func (s *Server) ListUnknowns(ctx context.Context, r ListUnknownsRequestObject) (ListUnknownsResponseObject, error) {
	list, err := s.lab.Unknowns(ctx, r.Id)
	return ListUnknowns200JSONResponse(each(list, wireUnknowns)), err
}

// MakeUnknowns implements StrictServerInterface.
func (s *Server) MakeUnknowns(ctx context.Context, r MakeUnknownsRequestObject) (MakeUnknownsResponseObject, error) {
	asked := lab.UnknownsAsked{
		Name: given(r.Body.Name), Bottle: given(r.Body.Bottle), Stock: given(r.Body.Stock), Low: r.Body.Low, High: r.Body.High, Each: r.Body.Each,
		Seed: given(r.Body.Seed), Levels: given(r.Body.Levels), Within: r.Body.Within,
	}
	done, err := s.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	var set unknowns.Set
	if given(r.Body.Try) {
		set, err = s.lab.TryUnknowns(ctx, r.Id, asked)
	} else {
		set, err = s.lab.MakeUnknowns(ctx, actor(ctx), r.Id, r.Body.Id, asked)
	}
	return MakeUnknowns200JSONResponse{Strengths: len(set.Levels), Stock: set.Stock, Apart: set.Apart}, err
}

// WithdrawUnknowns implements StrictServerInterface.
func (s *Server) WithdrawUnknowns(ctx context.Context, r WithdrawUnknownsRequestObject) (WithdrawUnknownsResponseObject, error) {
	return WithdrawUnknowns204Response{}, s.lab.WithdrawUnknowns(ctx, actor(ctx), r.Id)
}

// OpenUnknowns implements StrictServerInterface.
func (s *Server) OpenUnknowns(ctx context.Context, r OpenUnknownsRequestObject) (OpenUnknownsResponseObject, error) {
	row, err := s.lab.OpenUnknowns(ctx, actor(ctx), r.Id, string(r.Body.What), given(r.Body.Reason))
	if err != nil {
		return nil, err
	}
	return OpenUnknowns200JSONResponse(wireOpened(row.Set, string(r.Body.What))), nil
}

// wireOpened says how a set is prepared and, of the key, who has what.
func wireOpened(set unknowns.Set, what string) OpenedUnknowns {
	var out OpenedUnknowns
	for _, level := range set.Levels {
		codes := []int{}
		for _, b := range set.Bottles {
			if b.Level == level.Letter {
				codes = append(codes, b.Code)
			}
		}
		slices.Sort(codes) // in the order of the groups they would tell who has what
		out.Flasks = append(out.Flasks, UnknownFlask{Codes: codes, Letter: level.Letter, Made: level.Made()})
	}
	if what == lab.OpensKey {
		groups := each(set.Bottles, func(b unknowns.Bottle) GivenUnknown {
			i := slices.IndexFunc(set.Levels, func(l unknowns.Level) bool { return l.Letter == b.Level })
			strength := quantity.Trim(quantity.Significant(set.Levels[i].Strength, 4)) + " " + set.Unit
			return GivenUnknown{Code: b.Code, Group: b.Group, Strength: &strength}
		})
		out.Groups = &groups
	}
	return out
}

func wireUnknowns(u lab.UnknownsView) Unknowns {
	out := Unknowns{
		Id: u.ID, Name: u.Name, Strengths: len(u.Set.Levels), Stock: u.Set.Stock, Within: u.Question.Within,
		By: u.Maker.Initials, At: u.MadeAt,
		Bottles: each(u.Set.Bottles, func(b unknowns.Bottle) GivenUnknown { return GivenUnknown{Code: b.Code, Group: b.Group} }),
		Openings: each(u.Openings, func(o store.UnknownOpening) Opening {
			return Opening{What: OpeningWhat(o.What), Reason: o.Reason, By: o.Maker.Initials, At: o.MadeAt}
		}),
	}
	if u.Bottle != nil {
		number := int(u.Bottle.Number)
		out.Bottle = &number
	}
	return out
}
