package demo

import (
	"context"
	_ "embed"
	"encoding/json"
	"fmt"
	"time"

	"vialbench/core/session"
	"vialbench/internal/lab"
)

//go:embed sessions.json
var sessionsJSON []byte

// planned is a session of pond-water week: so many days from now at an hour, or so many hours from now.
type planned struct {
	Days    int             `json:"days"`
	Hour    int             `json:"hour"`
	InHours int             `json:"inHours"`
	Lasts   int             `json:"lasts"` // hours
	Done    []string        `json:"done"`
	Begun   string          `json:"begun"` // the task that the run in progress does
	Begins  string          `json:"begins"`
	Session session.Session `json:"session"`
}

// planSessions plans the sessions of the sample records around a time.
func planSessions(ctx context.Context, l *lab.Lab, by lab.Actor, now time.Time) error {
	var list []planned
	if err := json.Unmarshal(sessionsJSON, &list); err != nil {
		return err
	}
	today, err := l.Today(ctx)
	if err != nil {
		return err
	}
	for i, p := range list {
		s := p.Session
		s.Starts = time.Date(now.Year(), now.Month(), now.Day()+p.Days, p.Hour, 0, 0, 0, now.Location())
		if p.InHours > 0 {
			s.Starts = now.Add(time.Duration(p.InHours) * time.Hour).Truncate(time.Hour)
		}
		s.Ends, s.Zone = s.Starts.Add(time.Duration(p.Lasts)*time.Hour), zoneOf(now)
		id := fmt.Sprintf("019a0000-0000-7000-8000-%012d", 5000+i)
		if _, err := l.KeepLabSession(ctx, by, id, s, 0); err != nil {
			return err
		}
		for k, task := range p.Done {
			tick := fmt.Sprintf("019a0000-0000-7000-8000-%012d", 6000+100*i+k)
			if _, err := l.TickTask(ctx, by, id, tick, task, true); err != nil {
				return err
			}
		}
		if p.Begun != "" && len(today.Open) > 0 {
			of := lab.TaskOf{Session: id, Task: p.Begun, Title: p.Begins}
			if err := l.DoTask(ctx, by, today.Open[0].ID, of); err != nil {
				return err
			}
		}
	}
	return nil
}

// zoneOf names the time zone of this machine; UTC where it has no name.
func zoneOf(now time.Time) string {
	if name := now.Location().String(); name != "Local" {
		return name
	}
	return "UTC"
}
