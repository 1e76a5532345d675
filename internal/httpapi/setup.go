package httpapi

import (
	"context"

	"vialbench/core/equilibrium"
	"vialbench/core/formula"
	"vialbench/core/indicator"
	"vialbench/core/run"
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
	return PutBench200JSONResponse(wireBench(bench)), err
}

func wireBench(b lab.BenchView) Bench {
	out := Bench{Session: b.Session, WaterTemperature: b.WaterTemperature, Version: b.Version}
	if b.Balance != nil {
		wire := wireBalance(*b.Balance)
		out.Balance = &wire
	}
	if b.Meter != nil {
		wire := wireMeter(*b.Meter)
		out.Meter = &wire
	}
	return out
}

// GetSettings implements StrictServerInterface.
func (s *Server) GetSettings(ctx context.Context, r GetSettingsRequestObject) (GetSettingsResponseObject, error) {
	settings, err := s.lab.Settings(ctx)
	wire := wireSettings(settings)
	if !given(r.Params.Rules) {
		wire.Rules = []verdict.Rule{}
	}
	return GetSettings200JSONResponse(wire), err
}

// PutSettings implements StrictServerInterface.
func (s *Server) PutSettings(ctx context.Context, r PutSettingsRequestObject) (PutSettingsResponseObject, error) {
	settings, err := s.lab.ChangeSettings(ctx, actor(ctx), store.Settings{
		LabName: r.Body.LabName, FlaskClass: string(r.Body.FlaskClass),
		Buoyancy: r.Body.Buoyancy, Thresholds: r.Body.Thresholds, Version: r.Body.Version,
	})
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
func (s *Server) ListSubstances(ctx context.Context, r ListSubstancesRequestObject) (ListSubstancesResponseObject, error) {
	list, err := s.lab.Substances(ctx)
	wire := each(list, wireSubstance)
	if !given(r.Params.Statements) {
		for i := range wire {
			wire[i].Statements, wire[i].Pictograms = []substance.Statement{}, []string{}
		}
	}
	return ListSubstances200JSONResponse(wire), err
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
		Name:         b.Name,
		Formula:      b.Formula,
		Class:        substance.Class(b.Class),
		Drying:       given(b.Drying),
		Note:         given(b.Note),
		Signal:       given((*string)(b.Signal)),
		Hazards:      strings0(given(b.Hazards)),
		Precautions:  strings0(given(b.Precautions)),
		Density:      given(b.Density),
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

// ListSystems implements StrictServerInterface.
func (s *Server) ListSystems(ctx context.Context, _ ListSystemsRequestObject) (ListSystemsResponseObject, error) {
	list, err := s.lab.Systems(ctx)
	return ListSystems200JSONResponse(each(list, wireSystem)), err
}

// CreateSystem implements StrictServerInterface.
func (s *Server) CreateSystem(ctx context.Context, r CreateSystemRequestObject) (CreateSystemResponseObject, error) {
	added, err := s.lab.AddSystem(ctx, actor(ctx), ownSystem("", *r.Body))
	return CreateSystem201JSONResponse(wireSystem(added)), err
}

// ChangeSystem implements StrictServerInterface.
func (s *Server) ChangeSystem(ctx context.Context, r ChangeSystemRequestObject) (ChangeSystemResponseObject, error) {
	changed, err := s.lab.ChangeSystem(ctx, actor(ctx), ownSystem(r.Id, *r.Body))
	return ChangeSystem200JSONResponse(wireSystem(changed)), err
}

// ListTitrations implements StrictServerInterface.
func (s *Server) ListTitrations(ctx context.Context, _ ListTitrationsRequestObject) (ListTitrationsResponseObject, error) {
	list, err := s.lab.Titrations(ctx)
	return ListTitrations200JSONResponse(each(list, func(v lab.TitrationView) Titration {
		return Titration{
			Key:        v.Key,
			Title:      v.Title,
			Titrant:    v.Titrant,
			Analyte:    v.Analyte,
			Equation:   v.Equation,
			Latex:      v.LaTeX,
			Ratio:      v.Ratio,
			Standard:   v.Standard,
			Indicator:  v.Indicator,
			Colour:     v.Seen(),
			Conditions: strings0(v.Conditions),
			Cautions:   strings0(v.Cautions),
			Source:     v.Cited(),
			Titrants:   v.Titrants,
			Samples:    v.Samples,
			Solids:     v.Solids,
		}
	})), err
}

// ListLines implements StrictServerInterface.
func (s *Server) ListLines(ctx context.Context, _ ListLinesRequestObject) (ListLinesResponseObject, error) {
	list, err := s.lab.Lines(ctx)
	return ListLines200JSONResponse(each(list, func(l lab.PastLine) PastLine {
		return PastLine{
			Run: l.Run.ID, Number: l.Run.Number, Title: l.Title, Says: l.Says,
			Substance: l.Plan.Substance, Unit: l.Plan.Unit, Wavelength: l.Plan.Wavelength, Path: l.Plan.Path,
		}
	})), err
}

// ListTips implements StrictServerInterface.
func (s *Server) ListTips(ctx context.Context, _ ListTipsRequestObject) (ListTipsResponseObject, error) {
	list, err := s.lab.Tips(ctx)
	return ListTips200JSONResponse(each(list, func(t lab.PastTip) Tip {
		return Tip{Run: t.Run.ID, Number: t.Run.Number, Name: t.Name, Title: t.Run.Plan.Title, Drop: t.Volume.Value, Text: t.Text}
	})), err
}

// ListIndicators implements StrictServerInterface.
func (s *Server) ListIndicators(context.Context, ListIndicatorsRequestObject) (ListIndicatorsResponseObject, error) {
	return ListIndicators200JSONResponse(indicator.Library()), nil
}

func ownSystem(key string, b NewSystem) equilibrium.System {
	return equilibrium.System{Key: key, Name: b.Name, Base: given(b.Base), Acid: b.Acid, Constants: b.Constants, Source: b.Source}
}

// wireSystem sets the forms of a system, and writes where its constants come from.
func wireSystem(s lab.OwnedSystem) LabSystem {
	out := LabSystem{System: s.System, Own: s.Own, Common: run.UpperFirst(s.Common()), Source: s.Cited(), Forms: [][]Piece{}}
	for lost := range s.Protons() + 1 {
		if f, err := formula.Parse(s.Form(lost)); err == nil {
			out.Forms = append(out.Forms, f.Pieces)
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
