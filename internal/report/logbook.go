package report

import (
	"io"
	"time"

	"vialbench/internal/spreadsheet"
)

// LogLine is one line of the logbook table.
type LogLine struct {
	At          time.Time
	Recorded    time.Time
	By          string
	Run         string
	Title       string
	Sentence    string
	Reason      string // why it corrects an earlier one
	CorrectedBy string
}

// LogbookCSV writes the logbook as a table, line by line.
func LogbookCSV(w io.Writer, each func(write func(LogLine) error) error) error {
	table, err := spreadsheet.NewWriter(w, "time (UTC)", "person", "run", "what", "fact", "reason of the correction", "corrected since by",
		"recorded (UTC)")
	if err != nil {
		return err
	}
	err = each(func(l LogLine) error {
		return table.Row(l.At.UTC().Format(time.RFC3339), l.By, l.Run, l.Title, l.Sentence, l.Reason, l.CorrectedBy,
			l.Recorded.UTC().Format(time.RFC3339))
	})
	if err != nil {
		return err
	}
	return table.Flush()
}
