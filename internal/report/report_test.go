package report_test

import (
	"bytes"
	"encoding/xml"
	"strings"
	"testing"
	"time"

	"vialbench/core/formula"
	"vialbench/core/substance"
	"vialbench/internal/report"
)

func label(name string) report.Label {
	f, _ := formula.Parse("K4[Fe(CN)6]·3H2O")
	made := time.Date(2026, 5, 12, 9, 0, 0, 0, time.UTC)
	return report.Label{
		Lab:            "Alderbrook College",
		Number:         7,
		Name:           name,
		Formula:        f.Pieces,
		Concentrations: []string{"0.099731 ± 0.000090 mol/L"},
		By:             "RA",
		Made:           made,
		Expires:        made.AddDate(0, 6, 0),
		Signal:         "Danger",
		Pictograms:     []string{"GHS05", "GHS07"},
		Hazards:        []string{"H302 Harmful if swallowed"},
		URL:            "http://localhost/shelf/x",
	}
}

// The same labels are the same bytes, names of any length fit, and a sheet of 25
// starting at place 8 has four pages.
func TestLabels(t *testing.T) {
	write := func(labels []report.Label, paper report.Paper, start int) string {
		t.Helper()
		var b bytes.Buffer
		if err := report.Labels(&b, labels, paper, start); err != nil {
			t.Fatal(err)
		}
		return b.String()
	}
	one := []report.Label{label("Potassium hexacyanoferrate(II) trihydrate")}
	if first, second := write(one, report.SingleLabel, 1), write(one, report.SingleLabel, 1); first != second {
		t.Error("two PDFs of one label differ")
	}
	var many []report.Label
	for range 25 {
		many = append(many, label(strings.Repeat("x", 120)))
	}
	for _, paper := range []report.Paper{report.A4, report.Letter} {
		if pages := strings.Count(write(many, paper, 8), "<</Type /Page\n"); pages != 4 {
			t.Errorf("%s: %d pages, want 4 (3 + 10 + 10 + 2 labels)", paper, pages)
		}
	}
	if pages := strings.Count(write(many, report.Vials, 60), "<</Type /Page\n"); pages != 2 || report.PerSheet(report.Vials) != 65 {
		t.Errorf("vials: %d pages, want 2 (6 + 19 labels)", pages)
	}
	if pages := strings.Count(write(many, report.SingleVial, 1), "<</Type /Page\n"); pages != 25 {
		t.Errorf("a roll: %d pages, want one for each label", pages)
	}
	if err := report.Labels(&bytes.Buffer{}, one, "a3", 1); err == nil {
		t.Error("paper a3 gives no error")
	}
}

// Every pictogram that a substance can ask for is drawn, as well-formed SVG.
func TestEveryPictogramIsDrawn(t *testing.T) {
	for _, s := range substance.Library() {
		for _, code := range substance.Pictograms(s.Hazards) {
			svg, ok := report.PictogramSVG(code)
			if !ok {
				t.Errorf("%s: no drawing of %s", s.Name, code)
				continue
			}
			if err := xml.Unmarshal([]byte(svg), new(struct{})); err != nil || !strings.Contains(svg, "<title>") {
				t.Errorf("%s: %v", code, err)
			}
		}
	}
}

// What a person writes stays text in a spreadsheet.
func TestLogbookCSVIsDefused(t *testing.T) {
	var b bytes.Buffer
	line := report.LogLine{By: "RA", Sentence: `=HYPERLINK("x")`, Reason: "a, \"b\""}
	if err := report.LogbookCSV(&b, func(write func(report.LogLine) error) error { return write(line) }); err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(b.String(), `"'=HYPERLINK(""x"")","a, ""b"""`) {
		t.Error(b.String())
	}
}
