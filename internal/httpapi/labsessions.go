package httpapi

import (
	"context"

	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// ListLabSessions implements StrictServerInterface.
func (s *Server) ListLabSessions(ctx context.Context, r ListLabSessionsRequestObject) (ListLabSessionsResponseObject, error) {
	if given(r.Params.Past) {
		past, err := s.lab.PastLabSessions(ctx)
		return ListLabSessions200JSONResponse(each(past, func(row store.LabSession) LabSessionLine {
			return wireSessionLine(lab.PlannedSession{LabSession: row})
		})), err
	}
	list, err := s.lab.LabSessions(ctx)
	return ListLabSessions200JSONResponse(each(list, wireSessionLine)), err
}

// ListClasswork implements StrictServerInterface.
func (s *Server) ListClasswork(ctx context.Context, _ ListClassworkRequestObject) (ListClassworkResponseObject, error) {
	list, err := s.lab.Classworks(ctx)
	return ListClasswork200JSONResponse(each(list, func(c lab.Classwork) Classwork {
		return Classwork{Plan: c.Plan, Kind: c.Kind, Number: int(c.Number), Title: c.Title, Items: c.Items}
	})), err
}

// KeepLabSession implements StrictServerInterface. Planning it is work like any computation.
func (s *Server) KeepLabSession(ctx context.Context, r KeepLabSessionRequestObject) (KeepLabSessionResponseObject, error) {
	done, err := s.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	view, err := s.lab.KeepLabSession(ctx, actor(ctx), r.Body.Id, r.Body.Session, r.Body.Version)
	return KeepLabSession200JSONResponse(wireSession(view)), err
}

// PreviewLabSession implements StrictServerInterface.
func (s *Server) PreviewLabSession(ctx context.Context, r PreviewLabSessionRequestObject) (PreviewLabSessionResponseObject, error) {
	done, err := s.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	view, err := s.lab.PreviewLabSession(ctx, r.Body.Id, r.Body.Session)
	return PreviewLabSession200JSONResponse(wireSession(view)), err
}

// GetLabSession implements StrictServerInterface.
func (s *Server) GetLabSession(ctx context.Context, r GetLabSessionRequestObject) (GetLabSessionResponseObject, error) {
	view, err := s.lab.LabSession(ctx, r.Id)
	return GetLabSession200JSONResponse(wireSession(view)), err
}

// RemoveLabSession implements StrictServerInterface.
func (s *Server) RemoveLabSession(ctx context.Context, r RemoveLabSessionRequestObject) (RemoveLabSessionResponseObject, error) {
	return RemoveLabSession204Response{}, s.lab.RemoveLabSession(ctx, actor(ctx), r.Id, r.Params.Version)
}

// TickTask implements StrictServerInterface.
func (s *Server) TickTask(ctx context.Context, r TickTaskRequestObject) (TickTaskResponseObject, error) {
	view, err := s.lab.TickTask(ctx, actor(ctx), r.Id, r.Body.Id, r.Body.Task, r.Body.Done)
	return TickTask200JSONResponse(wireSession(view)), err
}

// MoveTask implements StrictServerInterface.
func (s *Server) MoveTask(ctx context.Context, r MoveTaskRequestObject) (MoveTaskResponseObject, error) {
	view, err := s.lab.MoveTask(ctx, actor(ctx), r.Id, r.Body.Task, r.Body.Start, r.Body.Version)
	return MoveTask200JSONResponse(wireSession(view)), err
}

func wireSession(v lab.PlannedSession) LabSession {
	return LabSession{
		Id: v.ID, Number: int(v.Number), Version: v.Version, Session: v.Plan, Design: v.Design, By: v.Creator.Initials,
		Past: each(v.Past, func(t lab.PastTask) PastTask {
			out := PastTask{Task: t.Task, Title: t.Title, State: PastTaskState(t.State), By: t.By, At: t.At, Run: optional(t.Run)}
			if t.Run != "" {
				number := int(t.Number)
				out.Number = &number
			}
			return out
		}),
	}
}

func wireSessionLine(v lab.PlannedSession) LabSessionLine {
	out := LabSessionLine{
		Id: v.ID, Number: int(v.Number), Title: v.Title, Place: v.Plan.Place, Starts: v.StartsAt, Ends: v.EndsAt, Groups: v.Plan.Groups,
		Open: len(v.Design.Bars), Late: v.Design.Late, Begins: v.Design.Begins, Short: []string{},
	}
	for _, t := range v.Past {
		if t.State == "done" {
			out.Done++
		}
	}
	for _, sup := range v.Design.Supplies {
		if sup.Short != "" {
			out.Short = append(out.Short, sup.Short)
		}
	}
	return out
}

func wireNext(t lab.NextTask) NextTask {
	return NextTask{Session: t.Session, Title: t.Title, Starts: t.Starts, Bar: t.Bar, Late: t.Late}
}
