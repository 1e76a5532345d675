package httpapi

import (
	"context"

	"vialbench/core/weighing"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

func wireBalance(b lab.BalanceView) LabBalance {
	out := LabBalance{Id: b.ID, Balance: b.Balance.Balance, Address: b.Address}
	if b.LastCheck != nil {
		check := wireCheck(*b.LastCheck)
		out.LastCheck = &check
		out.Balance.FailedCheck = !b.LastCheck.Passed
	}
	return out
}

func wireCheck(c store.BalanceCheck) BalanceCheck {
	return BalanceCheck{
		Id:           c.ID,
		Weight:       c.Weight,
		WeightLimits: c.WeightLimits,
		Reading:      c.Reading,
		Passed:       c.Passed,
		Sentence:     c.Sentence,
		By:           c.Maker.Initials,
		At:           c.MadeAt,
	}
}

// ListBalances implements StrictServerInterface.
func (s *Server) ListBalances(ctx context.Context, _ ListBalancesRequestObject) (ListBalancesResponseObject, error) {
	balances, err := s.lab.Balances(ctx)
	return ListBalances200JSONResponse(each(balances, wireBalance)), err
}

// CreateBalance implements StrictServerInterface.
func (s *Server) CreateBalance(ctx context.Context, r CreateBalanceRequestObject) (CreateBalanceResponseObject, error) {
	balance, err := s.lab.AddBalance(ctx, actor(ctx), *r.Body)
	return CreateBalance201JSONResponse(wireBalance(balance)), err
}

// UsualBalance implements StrictServerInterface.
func (s *Server) UsualBalance(context.Context, UsualBalanceRequestObject) (UsualBalanceResponseObject, error) {
	return UsualBalance200JSONResponse(weighing.Usual()), nil
}

// ConnectBalance implements StrictServerInterface.
func (s *Server) ConnectBalance(ctx context.Context, r ConnectBalanceRequestObject) (ConnectBalanceResponseObject, error) {
	return ConnectBalance204Response{}, s.lab.ConnectBalance(ctx, actor(ctx), r.Id, r.Body.Address)
}

// ListBalanceChecks implements StrictServerInterface.
func (s *Server) ListBalanceChecks(ctx context.Context, r ListBalanceChecksRequestObject) (ListBalanceChecksResponseObject, error) {
	checks, err := s.lab.BalanceChecks(ctx, r.Id)
	return ListBalanceChecks200JSONResponse(each(checks, wireCheck)), err
}

// CheckBalance implements StrictServerInterface.
func (s *Server) CheckBalance(ctx context.Context, r CheckBalanceRequestObject) (CheckBalanceResponseObject, error) {
	b := r.Body
	check, err := s.lab.CheckBalance(ctx, actor(ctx), r.Id, b.Id, b.Weight, b.WeightLimits, b.Reading)
	return CheckBalance201JSONResponse(wireCheck(check)), err
}

// TareBalance implements StrictServerInterface.
func (s *Server) TareBalance(ctx context.Context, r TareBalanceRequestObject) (TareBalanceResponseObject, error) {
	if err := s.lab.MayWatch(ctx, actor(ctx), r.Id); err != nil {
		return nil, err
	}
	return TareBalance204Response{}, s.lab.TareBalance(ctx, r.Id)
}

// HandStandin implements StrictServerInterface.
func (s *Server) HandStandin(ctx context.Context, r HandStandinRequestObject) (HandStandinResponseObject, error) {
	var h handed
	h.number("PAN", r.Body.Pan)
	h.number("ADD", r.Body.Add)
	h.number("DRIFT", r.Body.Drift)
	h.word("DOOR", string(given(r.Body.Door)))
	h.word("DRAUGHT", string(given(r.Body.Draught)))
	h.word("LINK", string(given(r.Body.Link)))
	command, err := h.one()
	if err != nil {
		return nil, err
	}
	state, err := s.lab.HandStandin(ctx, r.Id, command)
	if err != nil {
		return nil, err
	}
	var out StandinState
	err = readStandin(state, map[string]any{
		"pan": &out.Pan, "drift": &out.Drift, "door": &out.Door, "draught": &out.Draught, "link": &out.Link,
	})
	return HandStandin200JSONResponse(out), err
}

func wireGlass(g store.Glass) LabGlass {
	return LabGlass{Id: g.ID, Item: g.Item, Tolerance: g.Tolerance(), Standard: g.Standard()}
}

// ListGlass implements StrictServerInterface.
func (s *Server) ListGlass(ctx context.Context, _ ListGlassRequestObject) (ListGlassResponseObject, error) {
	glass, err := s.lab.Glass(ctx)
	return ListGlass200JSONResponse(each(glass, wireGlass)), err
}

// CreateGlass implements StrictServerInterface.
func (s *Server) CreateGlass(ctx context.Context, r CreateGlassRequestObject) (CreateGlassResponseObject, error) {
	glass, err := s.lab.AddGlass(ctx, actor(ctx), *r.Body)
	return CreateGlass201JSONResponse(wireGlass(glass)), err
}

// DeleteGlass implements StrictServerInterface.
func (s *Server) DeleteGlass(ctx context.Context, r DeleteGlassRequestObject) (DeleteGlassResponseObject, error) {
	return DeleteGlass204Response{}, s.lab.RemoveGlass(ctx, actor(ctx), r.Id)
}
