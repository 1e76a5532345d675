package httpapi

import (
	"bytes"
	"context"
	"fmt"
	"strconv"

	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/report"
	"vialbench/internal/spreadsheet"
)

// PrintRunReport implements StrictServerInterface.
func (s *Server) PrintRunReport(ctx context.Context, r PrintRunReportRequestObject) (PrintRunReportResponseObject, error) {
	view, err := s.lab.Run(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	sheet := reportOf(view)
	sheet.Made = s.lab.Now()
	var out bytes.Buffer
	if err := sheet.Write(&out); err != nil {
		return nil, err
	}
	return PrintRunReport200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

// reportOf is a run on paper: what it gives and how well that is known, its drawings, its readings, and who stated what when.
func reportOf(v lab.RunView) report.Sheet {
	sheet := report.Sheet{
		Title:    v.Plan.Title,
		Subtitle: fmt.Sprintf("Run %d, begun %s UTC by %s", v.Number, v.BegunAt.UTC().Format("2 January 2006 15:04"), v.Beginner.Initials),
	}
	switch v.Outcome.Status {
	case run.Open:
		sheet.Subtitle += ", not finished"
	case run.Void:
		sheet.Subtitle += ", void: " + v.Outcome.Reason
	}
	results := report.Section{Heading: "Results", Widths: []float64{0.55, 0.45}}
	for _, f := range v.Outcome.Figures {
		results.Rows = append(results.Rows, []string{f.Label, f.String()})
	}
	budget := report.Section{Heading: "What adds to the uncertainty", Widths: []float64{0.3, 0.15, 0.55}}
	for i, f := range v.Outcome.Figures {
		if i > 0 || len(f.Budget) < 2 {
			break // of what the run is about
		}
		budget.Heading += " of " + run.LowerFirst(f.Label)
		for _, share := range f.Budget {
			budget.Rows = append(budget.Rows, []string{share.Label, strconv.FormatFloat(100*share.Fraction, 'f', 1, 64) + " %", share.Basis})
		}
	}
	verdicts := report.Section{Heading: "Verdicts", Widths: []float64{0.12, 0.88}}
	for _, step := range v.Outcome.Steps {
		for _, said := range step.Verdicts {
			verdicts.Rows = append(verdicts.Rows, []string{said.Rule, word(said.Level) + said.Sentence})
		}
	}
	facts := report.Section{Heading: "The record", Widths: []float64{0.62, 0.1, 0.28}}
	for _, f := range v.Facts {
		sentence := f.Sentence
		if f.Replaces != nil {
			sentence += " (corrected: " + f.Reason + ")"
		}
		facts.Rows = append(facts.Rows, []string{sentence, f.Maker.Initials, f.MadeAt.UTC().Format("2 Jan 2006 15:04 UTC")})
	}
	sheet.Sections = []report.Section{
		results,
		{Heading: "Drawing", Plots: v.Outcome.Plots},
		verdicts, readingsOf(v.Outcome), budget, facts,
		{Heading: "Before you repeat it", Warns: true, Rows: [][]string{{"Your local rules, the safety data sheet and licensed waste handling come first."}}},
	}
	return sheet
}

func word(level verdict.Level) string {
	switch level {
	case verdict.Stop:
		return "Stop: "
	case verdict.Look:
		return "Look: "
	}
	return ""
}

// readingsOf is the table of a run with the columns that say something.
func readingsOf(out run.Outcome) report.Section {
	section := report.Section{Heading: "Readings"}
	if out.Table == nil {
		return section
	}
	var columns []int
	for i := range out.Table[0] {
		for _, row := range out.Table[1:] {
			if i < len(row) && row[i] != "" {
				columns = append(columns, i)
				break
			}
		}
	}
	for _, row := range out.Table {
		var cells []string
		for _, i := range columns {
			cells = append(cells, row[i])
		}
		section.Rows = append(section.Rows, cells)
	}
	return section
}

// ExportRunWorkbook implements StrictServerInterface.
func (s *Server) ExportRunWorkbook(ctx context.Context, r ExportRunWorkbookRequestObject) (ExportRunWorkbookResponseObject, error) {
	view, err := s.lab.Run(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	results := [][]any{{"figure", "value", "U (k = 2)", "unit"}}
	for _, f := range view.Outcome.Figures {
		results = append(results, []any{f.Label, f.Value, f.Expanded, f.Unit})
	}
	tabs := []spreadsheet.Tab{{Name: "Results", Rows: results}}
	if view.Outcome.Table != nil {
		readings := make([][]any, len(view.Outcome.Table))
		for i, row := range view.Outcome.Table {
			for _, cell := range row {
				readings[i] = append(readings[i], numberOr(cell))
			}
		}
		tabs = append(tabs, spreadsheet.Tab{Name: "Readings", Rows: readings})
	}
	var out bytes.Buffer
	if err := spreadsheet.WriteWorkbook(&out, tabs); err != nil {
		return nil, err
	}
	download(ctx, fmt.Sprintf("run-%d.xlsx", view.Number))
	return ExportRunWorkbook200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{
		Body: &out, ContentLength: int64(out.Len()),
	}, nil
}

// numberOr is the number that a cell holds, or else its text.
func numberOr(cell string) any {
	if x, err := strconv.ParseFloat(cell, 64); err == nil {
		return x
	}
	return cell
}
