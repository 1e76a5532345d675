package httpapi

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"time"

	"vialbench/core/marks"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/slip"
	"vialbench/internal/lab"
	"vialbench/internal/report"
	"vialbench/internal/spreadsheet"
)

// ExportClassResults implements StrictServerInterface.
func (s *Server) ExportClassResults(ctx context.Context, r ExportClassResultsRequestObject) (ExportClassResultsResponseObject, error) {
	out, err := s.lab.ClassResultsOf(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	rows := [][]any{{
		"group", "handed in", "in " + out.Task.Unit, "U (k = 2)", "bottle held", "percent error", "E_n", "z", "zeta", "figures give",
		"likely slip", "mean of the runs", "SD of the runs",
	}}
	if out.Scheme != nil {
		rows[0] = append(rows[0], "marks", "of")
	}
	for _, x := range out.Results {
		rows = append(rows, resultLine(x))
	}
	tabs := []spreadsheet.Tab{{Name: "Results", Rows: rows}}
	if out.Scheme != nil {
		tabs = append(tabs, markTab(out))
	}
	if c := out.Compared; c != nil {
		tabs = append(tabs, spreadsheet.Tab{Name: "Class", Rows: [][]any{
			{"of the " + c.Of, "value", "unit"},
			{"mean", c.Mean, c.Unit},
			{"standard deviation", c.SD, c.Unit},
			{"median", c.Median, c.Unit},
			{"MAD, scaled", c.MAD, c.Unit},
			{"robust mean (ISO 13528, algorithm A)", c.A.Mean, c.Unit},
			{"robust standard deviation", c.A.SD, c.Unit},
			{"Hampel mean", c.Q.Mean, c.Unit},
			{"standard deviation by the Q method", c.Q.SD, c.Unit},
		}})
	}
	var file bytes.Buffer
	if err := spreadsheet.WriteWorkbook(&file, tabs); err != nil {
		return nil, err
	}
	download(ctx, "vialbench-class.xlsx")
	return ExportClassResults200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{
		Body: &file, ContentLength: int64(file.Len()),
	}, nil
}

// resultLine is one result as a line of a table.
func resultLine(x lab.ClassResult) []any {
	number := func(v *float64) any {
		if v == nil {
			return ""
		}
		return *v
	}
	line := []any{x.Group.Name, x.HandIn.Stated, x.Value, "", number(x.Held), "", "", "", "", "", likely(x), "", ""}
	if x.U > 0 {
		line[3] = x.U
	}
	if row := x.Row; row != nil {
		line[5], line[6], line[7], line[8] = number(row.Error), number(row.En), number(row.Z), number(row.Zeta)
		line[11], line[12] = number(row.RunMean), number(row.RunSD)
	}
	if x.Traced != nil {
		line[9] = x.Traced.Calculated
	}
	if m := x.Marked; m != nil {
		line = append(line, m.Points, m.Of)
	}
	return line
}

// marksOf are the marks of a group on its sheet.
func marksOf(m marks.Marked) report.Section {
	out := report.Section{Heading: "Your marks", Widths: []float64{0.18, 0.16, 0.66}}
	for _, l := range m.Lines {
		points := "–"
		if l.Most > 0 {
			points = quantity.Trim(l.Points) + " of " + quantity.Trim(l.Most)
		}
		out.Rows = append(out.Rows, []string{run.UpperFirst(l.Of), points, run.UpperFirst(l.Why)})
	}
	out.Rows = append(out.Rows, []string{"All", quantity.Trim(m.Points) + " of " + quantity.Trim(m.Of), ""})
	return out
}

// markTab is what each part of the scheme gave each group, and why.
func markTab(out lab.ClassResults) spreadsheet.Tab {
	rows := [][]any{{"group", "part", "points", "of", "why"}}
	for _, x := range out.Results {
		for _, l := range x.Marked.Lines {
			rows = append(rows, []any{x.Group.Name, l.Of, l.Points, l.Most, l.Why})
		}
	}
	return spreadsheet.Tab{Name: "Marks", Rows: rows}
}

// likely is the slip that is named of a result; empty where none is.
func likely(x lab.ClassResult) string {
	if c := namedCause(x.Traced); c != nil {
		return c.Title
	}
	return ""
}

// namedCause is what is likely enough to be named, of the working before the hands.
func namedCause(t *slip.Traced) *slip.Cause {
	switch {
	case t == nil:
	case t.WorkingNamed:
		return &t.Working[0]
	case t.HandsNamed:
		return &t.Hands[0]
	}
	return nil
}

// PrintFeedback implements StrictServerInterface.
func (s *Server) PrintFeedback(ctx context.Context, r PrintFeedbackRequestObject) (PrintFeedbackResponseObject, error) {
	out, err := s.lab.ClassResultsOf(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	var sheets []report.Sheet
	for _, x := range out.Results {
		sheet, err := s.feedbackOf(ctx, out, x)
		if err != nil {
			return nil, err
		}
		sheets = append(sheets, sheet)
	}
	if len(sheets) == 0 {
		return nil, lab.Conflict{Reason: "nothing was handed in yet: a sheet goes to each group that did"}
	}
	var file bytes.Buffer
	if err := report.WriteSheets(&file, out.Task.Title, s.lab.Now(), sheets); err != nil {
		return nil, err
	}
	return PrintFeedback200ApplicationpdfResponse{Body: &file, ContentLength: int64(file.Len())}, nil
}

// feedbackOf is what goes back to a group: its figures, what these give, how that is worked out, and a question.
func (s *Server) feedbackOf(ctx context.Context, out lab.ClassResults, x lab.ClassResult) (report.Sheet, error) {
	unit := " " + out.Task.Unit
	four := func(v float64) string { return quantity.Trim(quantity.Significant(v, 4)) + unit }
	sheet := report.Sheet{Title: out.Task.Title + ": " + strings.ToLower(x.Group.Name), Subtitle: out.Session.Title}
	result := report.Section{Heading: "Your result", Widths: []float64{0.5, 0.5}}
	result.Rows = append(result.Rows, []string{"You handed in", x.HandIn.Stated})
	if t := x.Traced; t != nil && x.Behind != nil {
		result.Rows = append(result.Rows, []string{"Your figures give", four(t.Calculated)})
	}
	if x.Row != nil && x.Row.Error != nil && x.Held != nil {
		off := quantity.Signed(*x.Row.Error, 1) + " %"
		result.Rows = append(result.Rows, []string{"Your bottle held", four(*x.Held)}, []string{"Percent error", off})
	}
	if x.Row != nil && x.Row.RunSD != nil {
		result.Rows = append(result.Rows, []string{"Your runs scatter by", quantity.Trim(quantity.Significant(*x.Row.RunSD, 2)) + unit})
	}
	sheet.Sections = append(sheet.Sections, result)
	if x.Marked != nil {
		sheet.Sections = append(sheet.Sections, marksOf(*x.Marked))
	}
	asks := report.Section{Heading: "Look again", Rows: [][]string{}}
	if t := x.Traced; t != nil {
		for _, line := range t.Impossible {
			asks.Rows = append(asks.Rows, []string{"Can this be? " + line + "."})
		}
		if c := namedCause(t); c != nil {
			asks.Rows = append(asks.Rows, []string{c.Hint})
		}
	}
	sheet.Sections = append(sheet.Sections, asks)
	if x.Behind == nil {
		return sheet, nil
	}
	view, err := s.lab.Run(ctx, x.Behind.ID)
	if err != nil {
		return sheet, err
	}
	zone, err := time.LoadLocation(out.Session.Plan.Zone)
	if err != nil {
		zone = time.UTC
	}
	facts := report.Section{Heading: "What you wrote down"}
	for _, f := range view.Facts {
		facts.Rows = append(facts.Rows, []string{fmt.Sprintf("%s  %s", f.MadeAt.In(zone).Format("15:04"), f.Sentence)})
	}
	sheet.Sections = append(sheet.Sections, facts)
	if len(view.Outcome.Figures) == 0 {
		return sheet, nil
	}
	lines, err := s.lab.Working(ctx, x.Behind.ID, view.Outcome.Figures[0].ID)
	if err != nil {
		return sheet, err
	}
	work := report.Section{Heading: "How it is worked out", Widths: []float64{0.5, 0.5}}
	for _, line := range lines {
		work.Rows = append(work.Rows, []string{line.Title, line.Result})
	}
	sheet.Sections = append(sheet.Sections, work)
	return sheet, nil
}
