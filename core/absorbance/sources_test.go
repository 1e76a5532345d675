package absorbance_test

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/absorbance"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

func TestAnEarlierLine(t *testing.T) {
	b := measured(t, six())
	b.decide("end", 0, "")
	out, _ := b.out()
	line := out.Products[0].Detail.(absorbance.Line)
	r := six()
	r.Standards, r.Earlier = nil, &absorbance.Earlier{Run: "r1", Number: 12, Line: line}
	r.Unknowns = []absorbance.Unknown{{Name: "pond"}, {Name: "tap"}}
	later := begun(t, r)
	later.at = nine.Add(30 * time.Hour)
	later.do(absorbance.KindBlank, 0, "0.000")
	later.do(absorbance.KindRead, 0, "0.300")
	later.do(absorbance.KindRead, 1, "0.800")
	again, view := later.out()
	near(t, "by the earlier line", figureOf(t, again, "unknown 0").Value, 2.528441, 5e-7)
	if view.Vessels[1].Dilute != 3 || len(again.Figures) != 2 || r.Title() != "Phosphate as molybdate blue, read from the line of run 12" {
		t.Errorf("%+v, %d figures", view.Vessels[1], len(again.Figures))
	}
	if v := view.Vessels[0].Verdicts[0]; v.Rule != "AB-12" || v.Sentence != "The line is 30 hours old, more than 8: read one of its standards again beside this." {
		t.Errorf("%+v", v)
	}
	for _, f := range again.Figures {
		lines, err := r.Explain(later.facts, f.ID)
		if err != nil || !strings.HasPrefix(lines[1].From[0], "line of run 12: A = 0.11720·c") {
			t.Errorf("%+v, %v", lines, err)
		}
		workingtest.Check(t, lines)
	}
	// A reading of it was wrong: what was read from it moves.
	moved := line
	moved.A = slices.Clone(line.A)
	moved.A[5] = 0.595
	plan, changed := r.From(absorbance.RoleLine, run.Product{Detail: moved})
	if !changed || plan.(absorbance.Request).Earlier.Line.A[5] != 0.595 || plan.(absorbance.Request).Earlier.Number != 12 {
		t.Errorf("%v %+v", changed, plan)
	}
	if _, changed := r.From(absorbance.RoleLine, run.Product{Detail: line}); changed {
		t.Error("the same line is another one")
	}
	uses := r.Uses()
	if len(uses.Sources) != 1 || uses.Sources[0].Role != "line" || uses.Sources[0].Run != "r1" {
		t.Errorf("%+v", uses)
	}
	bound := r.Bound("line", run.Source{Run: "r2"}, 15).(absorbance.Request)
	if bound.Earlier.Run != "r2" || bound.Earlier.Number != 15 || r.Earlier.Run != "r1" {
		t.Errorf("%+v", bound.Earlier)
	}
}

// Tubes hold what the shelf says, and are another lab's when the records move.
func TestSources(t *testing.T) {
	r := six()
	r.Standards[2].Bottle, r.Standards[2].Number = "b3", 3
	r.Unknowns[0].Bottle, r.Unknowns[0].Descent = "b9", &run.Descent{Bottle: "b8", Number: 8, Undiluted: uncertain.Exact(1), Sample: uncertain.Exact(0.1)}
	var roles []string
	for _, s := range r.Uses().Sources {
		roles = append(roles, s.Role+"="+s.Bottle)
	}
	if got := strings.Join(roles, ","); got != "standard 2=b3,unknown 0=b9,undiluted 0=b8" {
		t.Error(got)
	}
	tube := run.Product{Title: "tube", Figures: []figure.Figure{figure.New("c", "c", "µg/L P", uncertain.Exact(2100)).As(figure.Concentration)}}
	plan, changed := r.From("standard 2", tube)
	near(t, "the tube", plan.(absorbance.Request).Standards[2].Concentration.Value, 2.1, 1e-12)
	if !changed || r.Standards[2].Concentration.Value != 2 {
		t.Error("the plan itself moved")
	}
	tube.Figures[0] = figure.New("c", "c", "mg/L", uncertain.Exact(2.1)).As(figure.Concentration)
	if _, changed := r.From("standard 2", tube); changed {
		t.Error("a tube of another unit was taken")
	}
	if _, err := absorbance.Strength(tube, "mg/L P"); err == nil || err.Error() != "tube is told in mg/L, the line in mg/L P: take standards of one rack" {
		t.Error(err)
	}
	if _, err := absorbance.Strength(run.Product{Title: "water"}, "mg/L P"); err == nil || absorbance.UnitOf(tube) != "mg/L" {
		t.Error("water has a strength")
	}
	sample := run.Product{Figures: []figure.Figure{figure.New("c", "c", "g/L", uncertain.Exact(0.2)).As(figure.Concentration)}}
	plan, changed = r.From("unknown 0", sample)
	if d := plan.(absorbance.Request).Unknowns[0].Descent; !changed || math.Abs(d.Factor().Value-5) > 1e-12 || r.Unknowns[0].Descent.Sample.Value != 0.1 {
		t.Errorf("%+v", d)
	}
	for _, role := range []string{"standard 6", "standard x", "unknown 1", "undiluted -1", "stock"} {
		if _, changed := r.From(role, tube); changed {
			t.Errorf("%s is a role", role)
		}
	}
	var bound run.Plan = r
	for role, source := range map[string]int64{"standard 2": 33, "unknown 0": 39, "undiluted 0": 38} {
		bound = bound.(run.Sourced).Bound(role, run.Source{Bottle: fmt.Sprintf("n%d", source)}, source)
	}
	is := bound.(absorbance.Request)
	if is.Standards[2].Bottle != "n33" || is.Standards[2].Number != 33 || is.Unknowns[0].Number != 39 || is.Unknowns[0].Descent.Bottle != "n38" ||
		r.Unknowns[0].Descent.Number != 8 {
		t.Errorf("%+v", is)
	}
}

func TestWhatIsRefused(t *testing.T) {
	for text, want := range map[string]string{
		"7": "7 AU: photometers show −0.5 to 4 AU", "4.1": "4.1 AU", "-0.6": "−0.6 AU", "0 %T": "no light came through", "130 %T": "more light than the blank",
		"12 mL": "",
	} {
		b := begun(t, six())
		b.do(absorbance.KindBlank, 0, "0.000")
		err := b.state(fact.Fact{Kind: absorbance.KindRead}, text)
		if err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", text, err)
		}
	}
	for _, text := range []string{"4", "-0.5", "129 %T", "0.1 %T", "352 mAU"} {
		b := begun(t, six())
		b.do(absorbance.KindBlank, 0, "0.000")
		b.do(absorbance.KindRead, 0, text)
	}
	b := begun(t, six())
	if err := b.state(fact.Fact{Kind: absorbance.KindRead}, "0.004"); err == nil {
		t.Error("read without a blank")
	}
	b.do(absorbance.KindBlank, 0, "0.000")
	for field, change := range map[string]func(*absorbance.Request){
		"/substance":          func(r *absorbance.Request) { r.Substance = "" },
		"/wavelength":         func(r *absorbance.Request) { r.Wavelength = 189 },
		"/path":               func(r *absorbance.Request) { r.Path = 0.9 },
		"/cells":              func(r *absorbance.Request) { r.Cells = 5 },
		"/replicates":         func(r *absorbance.Request) { r.Replicates = 0 },
		"/standards":          func(r *absorbance.Request) { r.Standards = r.Standards[:2] },
		"/standards/1":        func(r *absorbance.Request) { r.Standards[1].Concentration.Value = -1 },
		"/unknowns/0/name":    func(r *absorbance.Request) { r.Unknowns[0].Name = "" },
		"/unknowns/0/owner":   func(r *absorbance.Request) { r.Unknowns[0].Owner = strings.Repeat("x", 61) },
		"/unknowns/0/diluted": func(r *absorbance.Request) { r.Unknowns[0].Diluted = 0.5 },
		"/unknowns": func(r *absorbance.Request) {
			r.Standards, r.Unknowns, r.Earlier = nil, nil, &absorbance.Earlier{}
		},
	} {
		r := six()
		change(&r)
		_, err := r.Design()
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
		if _, err := r.Make(nil, nine); err == nil {
			t.Errorf("%s: it was made", field)
		}
	}
	r := six()
	for i := range r.Standards {
		r.Standards[i].Concentration.Value = 3
	}
	if _, err := r.Design(); err == nil || !strings.Contains(err.Error(), "all of one concentration") {
		t.Error(err)
	}
	for _, change := range []func(*absorbance.Request){
		func(r *absorbance.Request) { r.Wavelength, r.Path = 190, 1 },
		func(r *absorbance.Request) { r.Wavelength, r.Path = 1100, 100 },
		func(r *absorbance.Request) { r.Cells, r.Replicates, r.Unknowns[0].Diluted = 4, 5, 1 },
		func(r *absorbance.Request) { r.Standards = r.Standards[:3] },
	} {
		r := six()
		change(&r)
		if _, err := r.Design(); err != nil {
			t.Error(err)
		}
	}
}

// Read dilute to strong, whatever the order of the tubes; twice when the plan says so.
func TestOrderAndReplicates(t *testing.T) {
	r := six()
	r.Replicates = 2
	slices.Reverse(r.Standards)
	b := begun(t, r)
	b.do(absorbance.KindBlank, 0, "0.000")
	if s := b.atHand(); s.Part != 5 || s.Title != "The standard of 0 mg/L P: reading 1 of 2" {
		t.Errorf("%+v", s)
	}
	b.do(absorbance.KindRead, 5, "0.004")
	if s := b.atHand(); s.Part != 5 || s.Title != "The standard of 0 mg/L P: reading 2 of 2" {
		t.Errorf("%+v", s)
	}
	b.do(absorbance.KindRead, 5, "0.006")
	if s := b.atHand(); s.Part != 4 {
		t.Errorf("%+v", s)
	}
	_, view := b.out()
	near(t, "mean", view.Vessels[0].Mean, 0.005, 1e-12)
	if view.Line != nil || view.Not != "The line appears with the third standard." {
		t.Errorf("%+v", view)
	}
	for i, want := range []string{"Blank set to zero; it shows 0.000 AU", "The standard of 0 mg/L P shows 0.004 AU"} {
		if got := r.Sentence(b.facts[i]); got != want {
			t.Errorf("%q", got)
		}
	}
	for choice, want := range map[string]string{
		"end": "Decided: keep this line", "blank": "Decided: set the blank again", "again": "Decided: read the standard of 1 mg/L P again",
		"strike": "Decided: strike the standard of 1 mg/L P (a bubble)",
	} {
		f := fact.Fact{Kind: run.KindDecided, Choice: choice, Part: 4}
		if choice == "strike" {
			f.Text = "a bubble"
		}
		if got := r.Sentence(f); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}
