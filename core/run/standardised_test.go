package run

import (
	"math"
	"testing"
	"time"

	"vialbench/core/figure"
	"vialbench/core/uncertain"
	"vialbench/core/working/workingtest"
)

// Made on the 1st as 0.100 mol/L with 14 days to go, standardised on the 11th as 0.098: due again on
// the 25th, and what is told in other units moves with it.
func TestStandardise(t *testing.T) {
	made := time.Date(2026, 11, 1, 9, 0, 0, 0, time.UTC)
	p := Product{StandardiseBy: "2026-11-15", Figures: []figure.Figure{
		figure.New("c", "c", "mmol/L", uncertain.Exact(100)).As(figure.Concentration),
		figure.New("g", "g", "g/L", uncertain.Exact(4)).As(figure.OtherConcentration),
		figure.New("n", "n", "mmol", uncertain.Exact(50)).As(figure.Amount),
		figure.New("m", "m", "g", uncertain.Exact(2)).As(figure.Mass),
		figure.New("v", "v", "mL", uncertain.New(500, 1, uncertain.Source{ID: "flask", Label: "flask"})).As(figure.Volume),
	}}
	c := uncertain.New(0.098, 0.0001, uncertain.Source{ID: "titre", Label: "titre"})
	at := made.AddDate(0, 0, 10)
	is := p.Standardise(c, Standardised{Run: "r", Number: 5, At: at}, made)
	if !is.Exact || is.Standardised.Made.Value != 100 || is.Standardised.Number != 5 || is.StandardiseBy != "2026-11-25" {
		t.Errorf("%+v", is)
	}
	for i, want := range []float64{98, 3.92, 49, 1.96, 500} {
		if got := is.Figures[i].Value; math.Abs(got-want) > 1e-9 {
			t.Errorf("%s: %g, want %g", is.Figures[i].ID, got, want)
		}
	}
	if u := is.Figures[0].U(); math.Abs(u-0.1) > 1e-9 || p.Figures[0].Value != 100 || p.Exact {
		t.Errorf("u %g; the product itself is %g", u, p.Figures[0].Value)
	}
	// Each of them shows how it follows; the concentration and the volume stand for themselves.
	for i, f := range is.Figures {
		lines, ok := is.Follows(f)
		if ok != (i > 0 && i < 4) {
			t.Errorf("%s: %v", f.ID, ok)
		}
		workingtest.Check(t, lines)
	}
	if _, ok := p.Follows(p.Figures[1]); ok {
		t.Error("a product that was not standardised follows from what was found")
	}
	if lines, _ := is.Follows(is.Figures[1]); lines[0].Title != "G" || lines[0].Result != "3.9200 ± 0.0080 g/L" || len(lines) != 2 {
		t.Errorf("%+v", lines)
	}
	// 0.1/98 of the titre and 1/500 of the flask.
	if u := is.Figures[2].U(); math.Abs(u-49*math.Hypot(0.1/98, 1.0/500)) > 1e-9 {
		t.Errorf("u of the amount %g", u)
	}
	p.StandardiseBy = ""
	if is = p.Standardise(c, Standardised{At: at}, made); is.StandardiseBy != "" {
		t.Errorf("due again on %s", is.StandardiseBy)
	}
	p.Figures = nil
	if is = p.Standardise(c, Standardised{At: at}, made); is.Exact {
		t.Error("a product without a concentration is standardised")
	}
}
