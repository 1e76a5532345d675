package report

import (
	"encoding/csv"
	"io"
	"strings"
	"time"
)

// LogLine is one line of the logbook table.
type LogLine struct {
	At          time.Time
	By          string
	Run         string
	Title       string
	Sentence    string
	Reason      string // why it corrects an earlier one
	CorrectedBy string
}

// LogbookCSV writes the logbook as CSV by RFC 4180, in UTF-8 with a byte order
// mark, since spreadsheets ask for one.
func LogbookCSV(w io.Writer, lines []LogLine) error {
	if _, err := io.WriteString(w, "\ufeff"); err != nil {
		return err
	}
	table := csv.NewWriter(w)
	table.UseCRLF = true
	rows := [][]string{{"time (UTC)", "person", "run", "what", "fact", "reason of the correction", "corrected since by"}}
	for _, l := range lines {
		rows = append(rows, []string{l.At.UTC().Format(time.RFC3339), l.By, l.Run, l.Title, l.Sentence, l.Reason, l.CorrectedBy})
	}
	for _, row := range rows {
		for i := range row {
			row[i] = defuse(row[i])
		}
		if err := table.Write(row); err != nil {
			return err
		}
	}
	table.Flush()
	return table.Error()
}

// defuse keeps a spreadsheet from taking what a person wrote for a formula.
func defuse(cell string) string {
	if cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) {
		return "'" + cell
	}
	return cell
}
