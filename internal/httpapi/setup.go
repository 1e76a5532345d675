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
	if err != nil {
		return nil, err
	}
	wire, err := s.wireBench(ctx, bench)
	return GetBench200JSONResponse(wire), err
}

// PutBench implements StrictServerInterface.
func (s *Server) PutBench(ctx context.Context, r PutBenchRequestObject) (PutBenchResponseObject, error) {
	bench, err := s.lab.ChangeBench(
		ctx,
		actor(ctx),
		lab.BenchChange{
			Session:          r.Body.Session,
			WaterTemperature: r.Body.WaterTemperature,
			BalanceID:        r.Body.BalanceId,
			MeterID:          r.Body.MeterId,
			Version:          r.Body.Version,
		},
	)
	if err != nil {
		return nil, err
	}
	wire, err := s.wireBench(ctx, bench)
	return PutBench200JSONResponse(wire), err
}

// wireBench adds the last check to the balance on the bench, and how the meter stands.
func (s *Server) wireBench(ctx context.Context, b store.Bench) (Bench, error) {
	out := Bench{Session: b.Session, WaterTemperature: b.WaterTemperature, Version: b.Version}
	balances, err := s.lab.Balances(ctx)
	for _, balance := range balances {
		if b.BalanceID != nil && balance.ID == *b.BalanceID {
			wire := wireBalance(balance)
			out.Balance = &wire
		}
	}
	if err != nil || b.Meter == nil {
		return out, err
	}
	meter, err := s.lab.MeterAsItStands(ctx, *b.Meter)
	wire := wireMeter(meter)
	out.Meter = &wire
	return out, err
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
	return Settings{
		LabName:    s.LabName,
		FlaskClass: FlaskClass(s.FlaskClass),
		Buoyancy:   s.Buoyancy,
		Thresholds: thresholds,
		Rules:      lab.Rules(),
		Version:    s.Version,
	}
}

// ListSubstances implements StrictServerInterface.
func (s *Server) ListSubstances(ctx context.Context, _ ListSubstancesRequestObject) (ListSubstancesResponseObject, error) {
	list, err := s.lab.Substances(ctx)
	return ListSubstances200JSONResponse(each(list, wireSubstance)), err
}

// SearchSubstances implements StrictServerInterface.
func (s *Server) SearchSubstances(ctx context.Context, r SearchSubstancesRequestObject) (SearchSubstancesResponseObject, error) {
	found, err := s.lab.FindSubstances(ctx, r.Params.Q)
	return SearchSubstances200JSONResponse(each(found, func(f lab.FoundSubstance) SubstanceMatch {
		return SubstanceMatch{Key: f.Key, Called: optional(f.Called), Says: optional(f.Says), Known: optional(f.Known)}
	})), err
}

// SetUpUsual implements StrictServerInterface.
func (s *Server) SetUpUsual(ctx context.Context, _ SetUpUsualRequestObject) (SetUpUsualResponseObject, error) {
	report, err := s.lab.SetUpUsual(ctx, actor(ctx))
	return SetUpUsual200JSONResponse(wireReport(report)), err
}

// CreateSubstance implements StrictServerInterface.
func (s *Server) CreateSubstance(ctx context.Context, r CreateSubstanceRequestObject) (CreateSubstanceResponseObject, error) {
	b := r.Body
	own := substance.Substance{
		Name:        b.Name,
		Formula:     b.Formula,
		Class:       substance.Class(b.Class),
		Drying:      given(b.Drying),
		Note:        given(b.Note),
		Signal:      given((*string)(b.Signal)),
		Hazards:     strings0(given(b.Hazards)),
		Precautions: strings0(given(b.Precautions)),
		Density: given(
			b.Density,
		),
		Solubility:   given(b.Solubility),
		Hygroscopic:  given(b.Hygroscopic),
		Liquid:       given(b.Liquid),
		MassFraction: given(b.MassFraction),
		Keep:         substance.Keeping(given((*string)(b.Keep))),
		Sources:      map[string]string{"all": b.Source},
	}
	added, err := s.lab.AddSubstance(ctx, actor(ctx), own)
	return CreateSubstance201JSONResponse(wireSubstance(added)), err
}

func wireSubstance(s lab.OwnedSubstance) LabSubstance {
	out := LabSubstance{
		Substance:  s.Substance,
		Own:        s.Own,
		Pieces:     []Piece{},
		Elements:   []string{},
		Pictograms: strings0(substance.Pictograms(s.Hazards)),
		Statements: substance.Statements(append(append([]string{}, s.Hazards...), s.Precautions...)),
	}
	if c, ok := s.Molarity(); ok {
		out.Molarity = &c
	}
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
