package httpapi

import (
	"context"

	"vialbench/core/electrode"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

func wireMeter(m lab.MeterView) LabMeter {
	out := LabMeter{Id: m.ID, Meter: m.Meter.Meter, Address: m.Address, Standing: m.Standing, Open: each(m.Open, wireSummary)}
	if m.Newest != nil {
		newest, reach := wireCalibration(*m.Newest), m.Newest.Reach()
		out.Newest, out.Reach = &newest, &reach
	}
	return out
}

func wireCalibration(c lab.PastCalibration) PastCalibration {
	out := PastCalibration{
		RunId: c.Run.ID, Number: int(c.Run.Number), At: c.At, By: c.Run.Beginner.Initials, Low: c.Calibration.Low(),
		High: c.Calibration.High(), Figures: c.Figures,
	}
	for _, p := range c.Calibration.Points {
		out.Points = append(out.Points, p.PH)
	}
	return out
}

// ListDependents implements StrictServerInterface.
func (s *Server) ListDependents(ctx context.Context, r ListDependentsRequestObject) (ListDependentsResponseObject, error) {
	list, err := s.lab.Dependents(ctx, r.Params.Name)
	return ListDependents200JSONResponse(each(list, func(d lab.Dependent) Dependent {
		return Dependent{
			Run: wireSummary(d.Run),
			Bottles: each(d.Bottles, func(b lab.BottleView) DependentBottle {
				return DependentBottle{Id: b.ID, Number: b.Number, Title: b.Title, State: b.State, Doubt: optional(b.Doubt)}
			}),
		}
	})), err
}

// ListMeters implements StrictServerInterface.
func (s *Server) ListMeters(ctx context.Context, _ ListMetersRequestObject) (ListMetersResponseObject, error) {
	meters, err := s.lab.Meters(ctx)
	return ListMeters200JSONResponse(each(meters, wireMeter)), err
}

// CreateMeter implements StrictServerInterface.
func (s *Server) CreateMeter(ctx context.Context, r CreateMeterRequestObject) (CreateMeterResponseObject, error) {
	meter, err := s.lab.AddMeter(ctx, actor(ctx), *r.Body)
	return CreateMeter201JSONResponse(wireMeter(meter)), err
}

// UsualMeter implements StrictServerInterface.
func (s *Server) UsualMeter(context.Context, UsualMeterRequestObject) (UsualMeterResponseObject, error) {
	return UsualMeter200JSONResponse(electrode.UsualMeter()), nil
}

// ChangeMeter implements StrictServerInterface.
func (s *Server) ChangeMeter(ctx context.Context, r ChangeMeterRequestObject) (ChangeMeterResponseObject, error) {
	return ChangeMeter204Response{}, s.lab.ChangeMeter(ctx, actor(ctx), r.Id, r.Body.Address, r.Body.Probe)
}

// GetMeterHistory implements StrictServerInterface.
func (s *Server) GetMeterHistory(ctx context.Context, r GetMeterHistoryRequestObject) (GetMeterHistoryResponseObject, error) {
	history, err := s.lab.HistoryOfMeter(ctx, r.Id)
	return GetMeterHistory200JSONResponse{
		Calibrations: each(history.Calibrations, wireCalibration),
		Care: each(history.Care, func(c store.ProbeCare) Care {
			return Care{Probe: c.Probe, What: c.What, By: c.Maker.Initials, At: c.MadeAt}
		}),
	}, err
}

// TakeCareOfProbe implements StrictServerInterface.
func (s *Server) TakeCareOfProbe(ctx context.Context, r TakeCareOfProbeRequestObject) (TakeCareOfProbeResponseObject, error) {
	return TakeCareOfProbe204Response{}, s.lab.TakeCare(ctx, actor(ctx), r.Id, r.Body.Id, r.Body.What)
}

// ListBuffers implements StrictServerInterface.
func (s *Server) ListBuffers(context.Context, ListBuffersRequestObject) (ListBuffersResponseObject, error) {
	return ListBuffers200JSONResponse(electrode.Buffers()), nil
}

// HandStandinMeter implements StrictServerInterface.
func (s *Server) HandStandinMeter(ctx context.Context, r HandStandinMeterRequestObject) (HandStandinMeterResponseObject, error) {
	var h handed
	h.number("SLOPE", r.Body.Slope)
	h.number("OFFSET", r.Body.Offset)
	h.number("TIME", r.Body.Time)
	h.number("DRIFT", r.Body.Drift)
	h.word("IN", given(r.Body.Into))
	h.word("", string(given(r.Body.Do)))
	h.word("BULB", string(given(r.Body.Bulb)))
	h.word("LINK", string(given(r.Body.Link)))
	command, err := h.one()
	if err != nil {
		return nil, err
	}
	state, err := s.lab.HandStandinMeter(ctx, r.Id, command)
	if err != nil {
		return nil, err
	}
	var out StandinMeter
	err = readStandin(state, map[string]any{
		"in": &out.In, "celsius": &out.Celsius, "rinsed": &out.Rinsed, "bulb": &out.Bulb, "slope": &out.Slope, "offset": &out.Offset,
		"time": &out.Time, "drift": &out.Drift, "link": &out.Link,
	})
	return HandStandinMeter200JSONResponse(out), err
}
