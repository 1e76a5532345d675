package httpapi

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
	openapi_types "github.com/oapi-codegen/runtime/types"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/substance"
	"vialbench/internal/lab"
	"vialbench/internal/report"
	"vialbench/internal/spreadsheet"
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
	out := ListLogbook200JSONResponse{Items: make([]LogEntry, len(page.Items)), Next: nextCursor(page.Next)}
	for i, e := range page.Items {
		f, bad := e.Fact()
		out.Items[i], err = wireEntry(e, f), errors.Join(err, bad)
	}
	return out, err
}

func wireEntry(e lab.Entry, f fact.Fact) LogEntry {
	out := LogEntry{
		Fact:      f,
		RunId:     e.RunID,
		RunNumber: int(e.RunNumber),
		Title:     e.Title,
		Sentence:  e.Sentence,
		Corrected: e.Corrected,
	}
	if e.Late {
		out.Recorded = &e.RecordedAt
	}
	if e.Corrected {
		out.CorrectedBy, out.CorrectedReason = &e.CorrectedBy, &e.CorrectedReason
	}
	return out
}

// ExportLogbookCSV implements StrictServerInterface.
func (s *Server) ExportLogbookCSV(ctx context.Context, r ExportLogbookCSVRequestObject) (ExportLogbookCSVResponseObject, error) {
	filter := logFilter(r.Params.Q, r.Params.Person, r.Params.From, r.Params.To)
	line := func(e lab.Entry) report.LogLine {
		return report.LogLine{
			At:       e.MadeAt,
			Recorded: e.RecordedAt,
			By:       e.By,
			Run:      fmt.Sprint(e.RunNumber),
			Title:    e.Title,
			Sentence: e.Sentence,
			Reason:   e.Reason,

			CorrectedBy: e.CorrectedBy,
		}
	}
	download(ctx, "logbook.csv")
	return table{ctx, func(w io.Writer) error {
		return report.LogbookCSV(w, func(write func(report.LogLine) error) error {
			return s.lab.EachEntry(ctx, filter, func(e lab.Entry) error { return write(line(e)) })
		})
	}}, nil
}

// GetRunTable implements StrictServerInterface.
func (s *Server) GetRunTable(ctx context.Context, r GetRunTableRequestObject) (GetRunTableResponseObject, error) {
	view, err := s.lab.Run(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	download(ctx, fmt.Sprintf("run-%d.csv", view.Number))
	return table{ctx, func(w io.Writer) error { return spreadsheet.Write(w, view.Outcome.AsTable()) }}, nil
}

// TakeRunTable implements StrictServerInterface.
func (s *Server) TakeRunTable(ctx context.Context, r TakeRunTableRequestObject) (TakeRunTableResponseObject, error) {
	view, err := s.lab.TakeLines(ctx, actor(ctx), r.Id, strings.NewReader(*r.Body))
	return TakeRunTable200JSONResponse(wireRun(view)), err
}

// VisitGetRunTableResponse implements GetRunTableResponseObject.
func (t table) VisitGetRunTableResponse(w http.ResponseWriter) error { return t.answer(w) }

// table is an answer that is written as it is read.
type table struct {
	ctx   context.Context //nolint:containedctx // it is written within its request
	write func(w io.Writer) error
}

func (t table) answer(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", "text/csv; charset=utf-8")
	w.WriteHeader(http.StatusOK)
	if err := t.write(w); err != nil {
		breakOff(t.ctx, "a table", err)
	}
	return nil
}

// VisitExportLogbookCSVResponse implements ExportLogbookCSVResponseObject.
func (t table) VisitExportLogbookCSVResponse(w http.ResponseWriter) error { return t.answer(w) }

// VisitExportTableResponse implements ExportTableResponseObject.
func (t table) VisitExportTableResponse(w http.ResponseWriter) error { return t.answer(w) }

// download names the file that the browser saves an answer as.
func download(ctx context.Context, name string) {
	answerHeader(ctx).Set("Content-Disposition", `attachment; filename="`+name+`"`)
}

// exportRecords writes all records as they are read.
func (s *Server) exportRecords(c *gin.Context) {
	if !signedIn(c) {
		return
	}
	c.Header("Content-Type", "application/json")
	c.Header("Content-Disposition", `attachment; filename="vialbench-records.json"`)
	if err := s.lab.Export(c.Request.Context(), c.Writer); err != nil {
		if c.Writer.Written() {
			breakOff(c.Request.Context(), "the file of records", err)
			return
		}
		c.Writer.Header().Del("Content-Disposition")
		writeError(c.Request.Context(), c.Writer, err)
	}
}

// importRecords takes in records as they are read.
func (s *Server) importRecords(c *gin.Context) {
	if !signedIn(c) {
		return
	}
	dryRun, err := strconv.ParseBool(c.DefaultQuery("dryRun", "false"))
	if err != nil {
		writeProblem(c.Writer, http.StatusBadRequest, "dryRun is true or false", []ProblemField{{Pointer: "/dryRun", Detail: "true or false"}})
		return
	}
	if media, _, _ := mime.ParseMediaType(c.ContentType()); media != "application/json" {
		writeProblem(c.Writer, http.StatusUnsupportedMediaType, "records are taken in as JSON", nil)
		return
	}
	who := actor(c.Request.Context())
	file := &progress{Reader: c.Request.Body, total: c.Request.ContentLength, tell: func(percent int64) {
		s.events.announce(fmt.Sprintf("%s%s %d", lab.TopicImport, who.ID, percent))
	}}
	report, err := s.lab.ImportFrom(c.Request.Context(), who, file, dryRun)
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &tooLarge):
		writeTooLarge(c.Writer)
	case err != nil:
		writeError(c.Request.Context(), c.Writer, err)
	default:
		c.JSON(http.StatusOK, wireReport(report))
	}
}

// progress tells how much of a file has been read.
type progress struct {
	io.Reader
	total, read, told int64
	tell              func(percent int64)
}

func (p *progress) Read(b []byte) (int, error) {
	n, err := p.Reader.Read(b)
	p.read += int64(n)
	if p.total > 1<<20 { // a smaller one is read before anybody looks
		if percent := 100 * p.read / p.total; percent > p.told {
			p.told = percent
			p.tell(percent)
		}
	}
	return n, err
}

// ListHistory implements StrictServerInterface.
func (s *Server) ListHistory(ctx context.Context, r ListHistoryRequestObject) (ListHistoryResponseObject, error) {
	page, err := s.lab.History(ctx, cursor(r.Params.Cursor))
	return ListHistory200JSONResponse{Items: each(page.Items, wireHistory), Next: nextCursor(page.Next)}, err
}

func wireHistory(h lab.HistoryView) HistoryEntry {
	return HistoryEntry{
		What: h.What, Name: h.Name, Gone: h.Gone, By: optional(h.By), At: h.At,
		Before: each(h.Values, func(v lab.HistoryValue) HistoryValue {
			return HistoryValue{Field: v.Field, Before: v.Before, After: v.After}
		}),
	}
}

func wireReport(r lab.ImportReport) ImportReport {
	return ImportReport{
		Balances:    r.Balances,
		Meters:      r.Meters,
		Photometers: r.Photometers,
		Glass:       r.Glass,
		Substances:  r.Substances,
		Systems:     r.Systems,
		Plans:       r.Plans,
		Runs:        r.Runs,
		Facts:       r.Facts,
		Changed:     r.Changed,
		Known:       r.Known,
		Changes:     strings0(r.Changes),
	}
}

// ExportTable implements StrictServerInterface.
func (s *Server) ExportTable(ctx context.Context, r ExportTableRequestObject) (ExportTableResponseObject, error) {
	download(ctx, string(r.Table)+".csv")
	return table{ctx, func(w io.Writer) error { return s.lab.ExportTable(ctx, lab.Table(r.Table), w) }}, nil
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
		label := wireLabel(bottle, settings.LabName, s.address(ctx))
		if label.For, err = s.lab.MadeFor(ctx, bottle); err != nil {
			return nil, err
		}
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
		Doubted:      b.Doubt != "",
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
	if p.Tube {
		label.Tube = p.Part + 1
	}
	if b.ExpiresOn != nil {
		label.Expires = *b.ExpiresOn
	}
	if b.StandardiseOn != nil {
		label.StandardiseBy = *b.StandardiseOn
	}
	several := len(p.Concentrations()) > 1
	for _, c := range p.NamedBy() {
		text := c.String()
		switch {
		case c.Role == figure.PH:
			text += strings.TrimPrefix(c.Label, "pH") // “… read at 21.4 °C”
		case several: // solutes
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
func (s *Server) address(ctx context.Context) string {
	c, ok := ctx.(*gin.Context)
	if !ok {
		return ""
	}
	scheme := "http"
	if c.Request.TLS != nil || s.options.SecureCookies {
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
