package report

import (
	"fmt"
	"io"
	"time"

	ics "github.com/arran4/golang-ical"
)

// Event is a session or a task in a calendar.
type Event struct {
	// UID stays the same when the event is changed; Sequence counts the changes (RFC 5545, 3.8.7.4).
	UID      string
	Sequence int
	Title    string
	Place    string
	Text     string
	Starts   time.Time
	Ends     time.Time
}

// Calendar writes events as a calendar file (RFC 5545). Times are in UTC: every program shows them in its own zone.
func Calendar(w io.Writer, name string, stamp time.Time, events []Event) error {
	cal := ics.NewCalendar()
	cal.SetProductId("-//Vial Bench//Sessions//EN")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(name)
	for _, e := range events {
		event := cal.AddEvent(e.UID)
		event.SetDtStampTime(stamp)
		event.SetSequence(e.Sequence)
		event.SetSummary(e.Title)
		event.SetStartAt(e.Starts)
		event.SetEndAt(e.Ends)
		if e.Place != "" {
			event.SetLocation(e.Place)
		}
		if e.Text != "" {
			event.SetDescription(e.Text)
		}
	}
	if err := cal.SerializeTo(w); err != nil {
		return fmt.Errorf("writing the calendar: %w", err)
	}
	return nil
}
