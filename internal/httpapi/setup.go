package httpapi

import (
	"context"

	"vialbench/core/formula"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// each converts a list; the result is never nil, so that JSON has [].
func each[In, Out any](list []In, convert func(In) Out) []Out {
	out := make([]Out, len(list))
	for i, item := range list {
		out[i] = convert(item)
	}
	return out
}

// optional returns nil for an empty text.
func optional(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

// GetBench implements StrictServerInterface.
func (s *Server) GetBench(ctx context.Context, _ GetBenchRequestObject) (GetBenchResponseObject, error) {
	bench, err := s.lab.Bench(ctx)
	return GetBench200JSONResponse(wireBench(bench)), err
}

// PutBench implements StrictServerInterface.
func (s *Server) PutBench(ctx context.Context, r PutBenchRequestObject) (PutBenchResponseObject, error) {
	bench, err := s.lab.ChangeBench(ctx, lab.BenchChange{Session: r.Body.Session, WaterTemperature: r.Body.WaterTemperature, BalanceID: r.Body.BalanceId, Version: r.Body.Version})
	return PutBench200JSONResponse(wireBench(bench)), err
}

func wireBench(b store.Bench) Bench {
	out := Bench{Session: b.Session, WaterTemperature: b.WaterTemperature, Version: b.Version}
	if b.Balance != nil {
		balance := wireBalance(*b.Balance)
		out.Balance = &balance
	}
	return out
}

func wireBalance(b store.Balance) LabBalance { return LabBalance{Id: b.ID, Balance: b.Balance} }

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

// GetSettings implements StrictServerInterface.
func (s *Server) GetSettings(ctx context.Context, _ GetSettingsRequestObject) (GetSettingsResponseObject, error) {
	settings, err := s.lab.Settings(ctx)
	return GetSettings200JSONResponse(wireSettings(settings)), err
}

// PutSettings implements StrictServerInterface.
func (s *Server) PutSettings(ctx context.Context, r PutSettingsRequestObject) (PutSettingsResponseObject, error) {
	settings, err := s.lab.ChangeSettings(ctx, actor(ctx), store.Settings{LabName: r.Body.LabName, FlaskClass: string(r.Body.FlaskClass),
		Buoyancy: r.Body.Buoyancy, Thresholds: r.Body.Thresholds, Version: r.Body.Version})
	return PutSettings200JSONResponse(wireSettings(settings)), err
}

func wireSettings(s store.Settings) Settings {
	thresholds := s.Thresholds
	if thresholds == nil {
		thresholds = verdict.Thresholds{}
	}
	return Settings{LabName: s.LabName, FlaskClass: FlaskClass(s.FlaskClass), Buoyancy: s.Buoyancy, Thresholds: thresholds, Rules: lab.Rules(), Version: s.Version}
}

// ListSubstances implements StrictServerInterface.
func (s *Server) ListSubstances(ctx context.Context, _ ListSubstancesRequestObject) (ListSubstancesResponseObject, error) {
	list, err := s.lab.Substances(ctx)
	return ListSubstances200JSONResponse(each(list, wireSubstance)), err
}

// CreateSubstance implements StrictServerInterface.
func (s *Server) CreateSubstance(ctx context.Context, r CreateSubstanceRequestObject) (CreateSubstanceResponseObject, error) {
	b := r.Body
	own := substance.Substance{Name: b.Name, Formula: b.Formula, Class: substance.Class(b.Class), Drying: text(b.Drying), Note: text(b.Note),
		Signal: text((*string)(b.Signal)), Hazards: []string{}, Precautions: []string{}, Sources: map[string]string{"all": b.Source}}
	if b.Density != nil {
		own.Density = *b.Density
	}
	if b.Solubility != nil {
		own.Solubility = *b.Solubility
	}
	if b.Hygroscopic != nil {
		own.Hygroscopic = *b.Hygroscopic
	}
	if b.Hazards != nil {
		own.Hazards = *b.Hazards
	}
	if b.Precautions != nil {
		own.Precautions = *b.Precautions
	}
	added, err := s.lab.AddSubstance(ctx, actor(ctx), own)
	return CreateSubstance201JSONResponse(wireSubstance(added)), err
}

func wireSubstance(s lab.OwnedSubstance) LabSubstance {
	out := LabSubstance{Substance: s.Substance, Own: s.Own, Pieces: []Piece{}, Elements: []string{}, Pictograms: strings0(substance.Pictograms(s.Hazards)),
		Statements: substance.Statements(append(append([]string{}, s.Hazards...), s.Precautions...))}
	if f, err := formula.Parse(s.Formula); err == nil {
		out.Pieces, out.MolarMass = f.Pieces, f.MolarMass().Value
		for _, e := range f.Elements {
			out.Elements = append(out.Elements, e.Symbol)
		}
	}
	return out
}

// strings0 makes JSON [] of a nil list.
func strings0(list []string) []string {
	if list == nil {
		return []string{}
	}
	return list
}
