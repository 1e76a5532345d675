package scan_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/scan"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

var nine = time.Date(2026, 5, 11, 9, 0, 0, 0, time.UTC)

func stated(n int, kind string, part int, text string) fact.Fact {
	dimensions := []quantity.Dimension{quantity.Absorbance, quantity.Transmittance, quantity.Wavelength}
	q, err := quantity.ParseAny(text, dimensions, "AU")
	if err != nil {
		panic(err)
	}
	return fact.Fact{ID: fmt.Sprintf("f%d", n), Kind: kind, Part: part, Quantity: &q, At: nine.Add(time.Duration(n) * time.Minute)}
}

func made(t *testing.T, plan run.Plan, facts []fact.Fact) (run.Outcome, scan.View) {
	t.Helper()
	out, err := plan.Make(facts, nine)
	if err != nil {
		t.Fatal(err)
	}
	return out, out.View.(scan.View)
}

func byHand() scan.Request {
	return scan.Request{Name: "Permanganate", Wavelengths: []float64{480, 500, 520, 540, 560}}
}

func TestByHand(t *testing.T) {
	plan := byHand()
	var facts []fact.Fact
	for i, text := range []string{"0.30", "0.50", "20 %T", "0.62", "0.35"} { // 20 %T is 0.69897
		f := stated(i, scan.KindRead, i, text)
		if err := run.Admit(plan, facts, f, f.At); err != nil {
			t.Fatal(err)
		}
		facts = append(facts, f)
	}
	out, view := made(t, plan, facts)
	if len(view.X) != 5 || math.Abs(view.Y[2]-0.69897) > 1e-6 || view.Readings[2].Shown != "20 %T" || view.Readings[2].X != 520 {
		t.Errorf("%+v", view)
	}
	p := view.Answer.Peaks[0]
	if p.X < 520 || p.X > 530 || out.Figures[0].ID != "maximum" || out.Figures[0].Value != p.X || out.Figures[0].U() != p.U {
		t.Errorf("%+v %+v", p, out.Figures)
	}
	last := out.Steps[5]
	if last.State != run.Now || last.Expects != fmt.Sprintf("%.0f nm", p.X) || out.Steps[0].Title != "480 nm: set zero with the blank, then read the cell" ||
		out.Steps[2].Summary != "At 520 nm it shows 20 %T" {
		t.Errorf("%+v", last)
	}
	lines, err := plan.Explain(facts, "maximum")
	if err != nil {
		t.Fatal(err)
	}
	workingtest.Check(t, lines)
	if _, err := plan.Explain(facts, "minimum"); err == nil {
		t.Error("a figure that there is not was explained")
	}
	if fmt.Sprint(out.Table[:2]) != "[[nm AU] [480 0.3000]]" || len(out.Table) != 6 {
		t.Errorf("%v", out.Table)
	}
	choice := stated(9, scan.KindChosen, 0, "525 nm")
	if err := run.Admit(plan, facts, choice, nine); err != nil {
		t.Fatal(err)
	}
	out, view = made(t, plan, append(facts, choice))
	if out.Status != run.Finished || view.Chosen != 525 || len(out.Products) != 1 || !out.Products[0].Result || plan.Sentence(choice) != "To be measured at 525 nm" {
		t.Errorf("%s %+v", out.Status, view.Chosen)
	}
}

// A spectrum is looked at, and a wavelength chosen.
func TestSpectrum(t *testing.T) {
	plan := scan.Request{Name: "Iron with phenanthroline", Wavelengths: []float64{}, From: "from iron.jdx"}
	for x := 400.0; x <= 600; x++ {
		plan.X, plan.Y = append(plan.X, x), append(plan.Y, 0.5*math.Exp(-(x-510)*(x-510)/1800))
	}
	out, view := made(t, plan, nil)
	if len(out.Steps) != 1 || out.Steps[0].Expects != "510 nm" || len(view.X) != 201 || out.Status != run.Open || plan.Parts() != 1 {
		t.Errorf("%+v", out.Steps)
	}
	if err := run.Admit(plan, nil, stated(1, scan.KindRead, 0, "0.3"), nine); err == nil {
		t.Error("a spectrum is read by hand")
	}
	if err := run.Admit(plan, nil, stated(1, scan.KindChosen, 0, "120 nm"), nine); err == nil {
		t.Error("120 nm")
	}
	plan.Y[3] = math.NaN()
	if _, err := plan.Design(); err == nil {
		t.Error("not a number")
	}
	// Without a top the highest reading is proposed.
	edge := byHand()
	var facts []fact.Fact
	for i := range 5 {
		facts = append(facts, stated(i, scan.KindRead, i, fmt.Sprintf("0.%d", 5-i)))
	}
	out, _ = made(t, edge, facts)
	if s := out.Steps[5]; s.Expects != "480 nm" || s.Verdicts[0].Level != verdict.Stop || len(out.Figures) != 0 {
		t.Errorf("%+v", s)
	}
}

func TestRefused(t *testing.T) {
	for field, change := range map[string]func(r *scan.Request){
		"/name":          func(r *scan.Request) { r.Name = "" },
		"/wavelengths":   func(r *scan.Request) { r.Wavelengths = r.Wavelengths[:3] },
		"/wavelengths/1": func(r *scan.Request) { r.Wavelengths[1] = 189 },
		"/wavelengths/4": func(r *scan.Request) { r.Wavelengths[4] = 480 },
		"/low":           func(r *scan.Request) { r.Low, r.High = 700, 600 },
		"/x":             func(r *scan.Request) { r.X = make([]float64, scan.MaxKept+1) },
	} {
		r := byHand()
		change(&r)
		_, err := r.Design()
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	if err := run.Admit(byHand(), nil, stated(0, scan.KindRead, 0, "7"), nine); err == nil || !strings.HasPrefix(err.Error(), "7 AU") {
		t.Error(err)
	}
}

func TestSpread(t *testing.T) {
	list, err := scan.Spread(400, 560, 20)
	if err != nil || fmt.Sprint(list) != "[400 420 440 460 480 500 520 540 560]" {
		t.Error(list, err)
	}
	for field, ends := range map[string][3]float64{"/from": {700, 400, 20}, "/step": {400, 700, 5}} {
		_, err := scan.Spread(ends[0], ends[1], ends[2])
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	if list, err = scan.Spread(400, 695, 5); err != nil || len(list) != 60 {
		t.Error(len(list), err)
	}
	if _, err = scan.Spread(400, 700, 0); err == nil {
		t.Error("a step of nothing")
	}
}

// A scan with a photometer stays within what it reaches, and every reading is taken at its own wavelength.
func TestScanWithAPhotometer(t *testing.T) {
	r := byHand()
	m := photometry.UsualPhotometer()
	m.Name = "Dunlin"
	r.Photometer = &m
	if got := r.Uses().Instruments; len(got) != 1 || got[0] != "Dunlin" {
		t.Error(got)
	}
	out, _ := made(t, r, nil)
	if s := out.Steps[1]; s.Instrument != "Dunlin" || s.Wavelength != r.Wavelengths[1] {
		t.Errorf("%+v", s)
	}
	f := stated(1, scan.KindRead, 1, "0.2 AU")
	for nm, refused := range map[float64]bool{r.Wavelengths[1]: false, r.Wavelengths[0]: true} {
		f.Beside = []quantity.Quantity{quantity.Of(nm, "nm")}
		if err := r.Check(f); (err != nil) != refused {
			t.Errorf("read at %g nm: %v", nm, err)
		}
	}
	f.Beside = nil
	if out, _ = made(t, r, []fact.Fact{f}); len(out.Readings) != 1 || out.Readings[0].Instrument != "Dunlin" {
		t.Errorf("%+v", out.Readings)
	}
	m.High = r.Wavelengths[3]
	if _, err := r.Design(); err == nil || !strings.Contains(err.Error(), "Dunlin reaches") {
		t.Error(err)
	}
}
