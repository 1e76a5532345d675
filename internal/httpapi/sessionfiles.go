package httpapi

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"time"

	"vialbench/internal/report"
	"vialbench/internal/spreadsheet"
	"vialbench/internal/store"
)

// ExportCalendar implements StrictServerInterface.
func (s *Server) ExportCalendar(ctx context.Context, _ ExportCalendarRequestObject) (ExportCalendarResponseObject, error) {
	out, err := s.calendar(ctx)
	if err != nil {
		return nil, err
	}
	download(ctx, "vialbench-sessions.ics")
	return ExportCalendar200TextcalendarResponse{Body: out, ContentLength: int64(out.Len())}, nil
}

// ReadCalendarFeed implements StrictServerInterface.
func (s *Server) ReadCalendarFeed(ctx context.Context, r ReadCalendarFeedRequestObject) (ReadCalendarFeedResponseObject, error) {
	if _, err := s.lab.OpenFeed(ctx, r.Token); err != nil {
		return nil, err
	}
	out, err := s.calendar(ctx)
	if err != nil {
		return nil, err
	}
	return ReadCalendarFeed200TextcalendarResponse{Body: out, ContentLength: int64(out.Len())}, nil
}

// ListCalendarFeeds implements StrictServerInterface.
func (s *Server) ListCalendarFeeds(ctx context.Context, _ ListCalendarFeedsRequestObject) (ListCalendarFeedsResponseObject, error) {
	list, err := s.lab.Feeds(ctx, actor(ctx))
	return ListCalendarFeeds200JSONResponse(each(list, func(f store.CalendarFeed) CalendarFeed {
		return CalendarFeed{Id: f.ID, At: f.CreatedAt}
	})), err
}

// MakeCalendarFeed implements StrictServerInterface.
func (s *Server) MakeCalendarFeed(ctx context.Context, _ MakeCalendarFeedRequestObject) (MakeCalendarFeedResponseObject, error) {
	feed, token, err := s.lab.MakeFeed(ctx, actor(ctx))
	path := apiPrefix + "/calendar/" + token + "/sessions.ics"
	return MakeCalendarFeed201JSONResponse{Id: feed.ID, At: feed.CreatedAt, Path: &path}, err
}

// WithdrawCalendarFeed implements StrictServerInterface.
func (s *Server) WithdrawCalendarFeed(
	ctx context.Context, r WithdrawCalendarFeedRequestObject,
) (WithdrawCalendarFeedResponseObject, error) {
	return WithdrawCalendarFeed204Response{}, s.lab.WithdrawFeed(ctx, actor(ctx), r.Id)
}

// calendar writes the sessions to come and their tasks.
func (s *Server) calendar(ctx context.Context) (*bytes.Buffer, error) {
	list, err := s.lab.LabSessions(ctx)
	if err != nil {
		return nil, err
	}
	settings, err := s.lab.Settings(ctx)
	if err != nil {
		return nil, err
	}
	var events []report.Event
	for _, v := range list {
		events = append(events, report.Event{
			UID: "session-" + v.ID + "@vialbench", Sequence: v.Version, Title: v.Title, Place: v.Plan.Place,
			Text: fmt.Sprintf("%d groups", v.Plan.Groups), Starts: v.StartsAt, Ends: v.EndsAt,
		})
		for _, bar := range v.Design.Bars {
			events = append(events, report.Event{
				UID: "task-" + v.ID + "-" + strings.ReplaceAll(bar.ID, " ", "-") + "@vialbench", Sequence: v.Version,
				Title: bar.Title, Place: v.Plan.Place, Text: strings.TrimPrefix(bar.Person+", for "+v.Title, ", "), Starts: bar.Starts, Ends: bar.Ends,
			})
		}
	}
	var out bytes.Buffer
	return &out, report.Calendar(&out, settings.LabName, s.lab.Now(), events)
}

// ExportSessionTasks implements StrictServerInterface.
func (s *Server) ExportSessionTasks(ctx context.Context, r ExportSessionTasksRequestObject) (ExportSessionTasksResponseObject, error) {
	v, err := s.lab.LabSession(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"begins (UTC)", "ends (UTC)", "task", "person", "at the bench, min", "waiting, min"}}
	for _, bar := range v.Design.Bars {
		rows = append(rows, []string{
			bar.Starts.UTC().Format(time.RFC3339), bar.Ends.UTC().Format(time.RFC3339), bar.Title, bar.Person,
			fmt.Sprint(bar.Hands), fmt.Sprint(bar.Wait),
		})
	}
	var out bytes.Buffer
	if err := spreadsheet.Write(&out, rows); err != nil {
		return nil, err
	}
	download(ctx, "vialbench-tasks.csv")
	return ExportSessionTasks200TextcsvResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

// PrintSessionSheet implements StrictServerInterface.
func (s *Server) PrintSessionSheet(ctx context.Context, r PrintSessionSheetRequestObject) (PrintSessionSheetResponseObject, error) {
	v, err := s.lab.LabSession(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	kept, err := s.lab.Stockroom(ctx)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := sheetOf(v, kept, s.lab.Now()).Write(&out); err != nil {
		return nil, err
	}
	return PrintSessionSheet200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}
