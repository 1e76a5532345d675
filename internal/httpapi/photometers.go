package httpapi

import (
	"context"
	"strings"

	"vialbench/core/photometry"
	"vialbench/internal/store"
)

func wirePhotometer(p store.Photometer) LabPhotometer {
	return LabPhotometer{Id: p.ID, Photometer: p.Photometer, Address: p.Address}
}

// ListPhotometers implements StrictServerInterface.
func (s *Server) ListPhotometers(ctx context.Context, _ ListPhotometersRequestObject) (ListPhotometersResponseObject, error) {
	list, err := s.lab.Photometers(ctx)
	return ListPhotometers200JSONResponse(each(list, wirePhotometer)), err
}

// CreatePhotometer implements StrictServerInterface.
func (s *Server) CreatePhotometer(ctx context.Context, r CreatePhotometerRequestObject) (CreatePhotometerResponseObject, error) {
	p, err := s.lab.AddPhotometer(ctx, actor(ctx), *r.Body)
	return CreatePhotometer201JSONResponse(wirePhotometer(p)), err
}

// UsualPhotometer implements StrictServerInterface.
func (s *Server) UsualPhotometer(context.Context, UsualPhotometerRequestObject) (UsualPhotometerResponseObject, error) {
	return UsualPhotometer200JSONResponse(photometry.UsualPhotometer()), nil
}

// ConnectPhotometer implements StrictServerInterface.
func (s *Server) ConnectPhotometer(ctx context.Context, r ConnectPhotometerRequestObject) (ConnectPhotometerResponseObject, error) {
	return ConnectPhotometer204Response{}, s.lab.ConnectPhotometer(ctx, actor(ctx), r.Id, r.Body.Address)
}

// SetPhotometer implements StrictServerInterface.
func (s *Server) SetPhotometer(ctx context.Context, r SetPhotometerRequestObject) (SetPhotometerResponseObject, error) {
	return SetPhotometer204Response{}, s.lab.SetPhotometer(ctx, r.Id, r.Body.Nm)
}

// ZeroPhotometer implements StrictServerInterface.
func (s *Server) ZeroPhotometer(ctx context.Context, r ZeroPhotometerRequestObject) (ZeroPhotometerResponseObject, error) {
	return ZeroPhotometer204Response{}, s.lab.ZeroPhotometer(ctx, r.Id, given(r.Body.Everywhere))
}

// ScanPhotometer implements StrictServerInterface.
func (s *Server) ScanPhotometer(ctx context.Context, r ScanPhotometerRequestObject) (ScanPhotometerResponseObject, error) {
	x, y, err := s.lab.ScanPhotometer(ctx, r.Id, r.Body.From, r.Body.To, r.Body.Step)
	return ScanPhotometer200JSONResponse{X: x, Y: y}, err
}

// HandStandinPhotometer implements StrictServerInterface.
func (s *Server) HandStandinPhotometer(
	ctx context.Context,
	r HandStandinPhotometerRequestObject,
) (HandStandinPhotometerResponseObject, error) {
	var h handed
	h.word("IN", strings.ToUpper(given(r.Body.Into)))
	h.word("CELL", string(given(r.Body.Cell)))
	h.word("FINGERPRINT", string(given(r.Body.Fingerprint)))
	h.word("BUBBLE", string(given(r.Body.Bubble)))
	h.word("LINK", string(given(r.Body.Link)))
	h.number("DRIFT", r.Body.Drift)
	command, err := h.one()
	if err != nil {
		return nil, err
	}
	state, err := s.lab.HandStandinPhotometer(ctx, r.Id, command)
	if err != nil {
		return nil, err
	}
	var out StandinPhotometer
	err = readStandin(state, map[string]any{
		"nm": &out.Nm, "in": &out.In, "molar": &out.Molar, "cell": &out.Cell, "fingerprint": &out.Fingerprint, "bubble": &out.Bubble,
		"drift": &out.Drift, "link": &out.Link,
	})
	for _, c := range photometry.Bands() {
		out.Coloured = append(out.Coloured, struct {
			Key  string `json:"key"`
			Name string `json:"name"`
		}{c.Key, c.Name})
	}
	return HandStandinPhotometer200JSONResponse(out), err
}
