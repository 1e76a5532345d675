package httpapi

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"vialbench/core/electrode"
	"vialbench/core/verdict"
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
	var commands []string
	number := func(name string, x *float64) {
		if x != nil {
			commands = append(commands, name+" "+strconv.FormatFloat(*x, 'f', -1, 64))
		}
	}
	number("SLOPE", r.Body.Slope)
	number("OFFSET", r.Body.Offset)
	number("TIME", r.Body.Time)
	number("DRIFT", r.Body.Drift)
	if into := given(r.Body.Into); into != "" {
		commands = append(commands, "IN "+into)
	}
	if do := given(r.Body.Do); do != "" {
		commands = append(commands, string(do))
	}
	if bulb := given(r.Body.Bulb); bulb != "" {
		commands = append(commands, "BULB "+string(bulb))
	}
	if link := given(r.Body.Link); link != "" {
		commands = append(commands, "LINK "+string(link))
	}
	if len(commands) > 1 {
		return nil, verdict.Problems{{Field: "", Reason: "one thing at a time"}}
	}
	state, err := s.lab.HandStandinMeter(ctx, r.Id, strings.Join(commands, ""))
	if err != nil {
		return nil, err
	}
	var out StandinMeter
	numbers := map[string]*float64{"celsius": &out.Celsius, "slope": &out.Slope, "offset": &out.Offset, "time": &out.Time, "drift": &out.Drift}
	words := map[string]*string{"in": &out.In, "bulb": &out.Bulb, "link": &out.Link}
	for pair := range strings.SplitSeq(state, ";") {
		name, value, _ := strings.Cut(pair, "=")
		if x := numbers[name]; x != nil {
			if *x, err = strconv.ParseFloat(value, 64); err != nil {
				return nil, fmt.Errorf("the state of a stand-in, %q: %w", state, err)
			}
		}
		if text := words[name]; text != nil {
			*text = value
		}
		if name == "rinsed" {
			out.Rinsed = value == "yes"
		}
	}
	return HandStandinMeter200JSONResponse(out), nil
}
