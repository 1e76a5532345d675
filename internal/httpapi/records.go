package httpapi

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
	openapi_types "github.com/oapi-codegen/runtime/types"

	"vialbench/core/substance"
	"vialbench/internal/lab"
	"vialbench/internal/report"
	"vialbench/internal/store"
)

func logFilter(q, person *string, from, to *openapi_types.Date) store.LogFilter {
	f := store.LogFilter{Text: strings.TrimSpace(given(q)), Initials: strings.TrimSpace(given(person))}
	if from != nil {
		f.From = from.Time
	}
	if to != nil {
		f.To = to.AddDate(0, 0, 1)
	}
	return f
}

// ListLogbook implements StrictServerInterface.
func (s *Server) ListLogbook(ctx context.Context, r ListLogbookRequestObject) (ListLogbookResponseObject, error) {
	page, err := s.lab.Logbook(ctx, logFilter(r.Params.Q, r.Params.Person, r.Params.From, r.Params.To), cursor(r.Params.Cursor))
	return ListLogbook200JSONResponse{Items: each(page.Items, wireEntry), Next: nextCursor(page.Next)}, err
}

func wireEntry(e lab.Entry) LogEntry {
	out := LogEntry{
		Fact:      e.Body,
		RunId:     e.RunID,
		RunNumber: int(e.Run.Number),
		Title:     e.Run.Plan.Title,
		Sentence:  e.Sentence,
		Corrected: e.Correction != nil,
	}
	if e.Correction != nil {
		out.CorrectedBy, out.CorrectedReason = &e.Correction.Maker.Initials, &e.Correction.Reason
	}
	return out
}

// ExportLogbookCSV implements StrictServerInterface.
func (s *Server) ExportLogbookCSV(ctx context.Context, r ExportLogbookCSVRequestObject) (ExportLogbookCSVResponseObject, error) {
	entries, err := s.lab.WholeLogbook(ctx, logFilter(r.Params.Q, r.Params.Person, r.Params.From, r.Params.To))
	if err != nil {
		return nil, err
	}
	lines := each(entries, func(e lab.Entry) report.LogLine {
		line := report.LogLine{
			At:       e.MadeAt,
			By:       e.Maker.Initials,
			Run:      fmt.Sprint(e.Run.Number),
			Title:    e.Run.Plan.Title,
			Sentence: e.Sentence,
			Reason:   e.Reason,
		}
		if e.Correction != nil {
			line.CorrectedBy = e.Correction.Maker.Initials
		}
		return line
	})
	var b bytes.Buffer
	if err := report.LogbookCSV(&b, lines); err != nil {
		return nil, err
	}
	download(ctx, "logbook.csv")
	return ExportLogbookCSV200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

// download names the file that the browser saves an answer as.
func download(ctx context.Context, name string) {
	if c, ok := ctx.(*gin.Context); ok {
		c.Header("Content-Disposition", `attachment; filename="`+name+`"`)
	}
}

// ExportRecords implements StrictServerInterface.
func (s *Server) ExportRecords(ctx context.Context, _ ExportRecordsRequestObject) (ExportRecordsResponseObject, error) {
	records, err := s.lab.Export(ctx)
	if err == nil {
		download(ctx, "vialbench-records.json")
	}
	return ExportRecords200JSONResponse(records), err
}

// ImportRecords implements StrictServerInterface.
func (s *Server) ImportRecords(ctx context.Context, r ImportRecordsRequestObject) (ImportRecordsResponseObject, error) {
	report, err := s.lab.Import(ctx, actor(ctx), *r.Body, given(r.Params.DryRun))
	return ImportRecords200JSONResponse(wireReport(report)), err
}

func wireReport(r lab.ImportReport) ImportReport {
	return ImportReport{Balances: r.Balances, Glass: r.Glass, Substances: r.Substances, Plans: r.Plans, Runs: r.Runs, Facts: r.Facts,
		Changed: r.Changed, Known: r.Known, Changes: strings0(r.Changes)}
}

// ExportTable implements StrictServerInterface.
func (s *Server) ExportTable(ctx context.Context, r ExportTableRequestObject) (ExportTableResponseObject, error) {
	var b bytes.Buffer
	if err := s.lab.ExportTable(ctx, lab.Table(r.Table), &b); err != nil {
		return nil, err
	}
	download(ctx, string(r.Table)+".csv")
	return ExportTable200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

// ImportTable implements StrictServerInterface.
func (s *Server) ImportTable(ctx context.Context, r ImportTableRequestObject) (ImportTableResponseObject, error) {
	report, err := s.lab.ImportTable(ctx, actor(ctx), lab.Table(r.Table), strings.NewReader(*r.Body), given(r.Params.DryRun))
	return ImportTable200JSONResponse(wireReport(report)), err
}

// GetLabels implements StrictServerInterface.
func (s *Server) GetLabels(ctx context.Context, r GetLabelsRequestObject) (GetLabelsResponseObject, error) {
	settings, err := s.lab.Settings(ctx)
	if err != nil {
		return nil, err
	}
	copies := max(1, given(r.Params.Copies))
	labels := make([]report.Label, 0, copies*len(r.Params.Bottle))
	for _, id := range r.Params.Bottle {
		bottle, err := s.lab.Bottle(ctx, id)
		if err != nil {
			return nil, err
		}
		if bottle.State != "shelf" {
			return nil, lab.Conflict{Reason: fmt.Sprintf("bottle %d is not on the shelf any more (%s)", bottle.Number, bottle.Reason)}
		}
		label := wireLabel(bottle, settings.LabName, address(ctx))
		for range copies {
			labels = append(labels, label)
		}
	}
	paper := report.SingleLabel
	if r.Params.Paper != nil {
		paper = report.Paper(*r.Params.Paper)
	}
	var b bytes.Buffer
	if err := report.Labels(&b, labels, paper, max(1, given(r.Params.Start))); err != nil {
		return nil, err
	}
	return GetLabels200ApplicationpdfResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

func wireLabel(b lab.BottleView, labName, base string) report.Label {
	p := b.Product
	label := report.Label{
		Lab:          labName,
		Number:       b.Number,
		Name:         p.Name,
		Formula:      p.Formula,
		Exact:        p.Exact,
		By:           b.Maker.Initials,
		Made:         b.MadeAt,
		Signal:       p.Signal,
		Pictograms:   substance.Pictograms(p.Hazards),
		Unclassified: len(p.Ingredients) == 0,
		URL:          base + "/shelf/" + b.ID,
	}
	if b.ExpiresOn != nil {
		label.Expires = *b.ExpiresOn
	}
	if b.StandardiseOn != nil {
		label.StandardiseBy = *b.StandardiseOn
	}
	concentrations := p.Concentrations()
	for _, c := range concentrations {
		text := c.String()
		if len(concentrations) > 1 { // of several solutes
			text = c.Label + " " + text
		}
		label.Concentrations = append(label.Concentrations, text)
	}
	for _, h := range substance.Statements(p.Hazards) {
		label.Hazards = append(label.Hazards, h.Code+" "+h.Text)
	}
	return label
}

// address is the address under which the browser reached the application.
func address(ctx context.Context) string {
	c, ok := ctx.(*gin.Context)
	if !ok {
		return ""
	}
	scheme := "http"
	if c.Request.TLS != nil || c.GetHeader("X-Forwarded-Proto") == "https" {
		scheme = "https"
	}
	return scheme + "://" + c.Request.Host
}

// servePictogram serves the drawing of a GHS pictogram.
func servePictogram(c *gin.Context) {
	svg, ok := report.PictogramSVG(strings.TrimSuffix(c.Param("code"), ".svg"))
	if !ok {
		writeProblem(c.Writer, http.StatusNotFound, "there is no such pictogram", nil)
		return
	}
	c.Header("Cache-Control", "public, max-age=86400")
	c.Data(http.StatusOK, "image/svg+xml", []byte(svg))
}
