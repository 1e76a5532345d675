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
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

var nine = time.Date(2026, 5, 11, 9, 0, 0, 0, time.UTC)

// six is the calibration line whose figures were worked out by exact arithmetic, with an unknown that is read three times.
func six() absorbance.Request {
	r := absorbance.Request{
		Substance: "Phosphate as molybdate blue", Unit: "mg/L P", Wavelength: 880, Path: 10, Cells: 1, Replicates: 1,
		Unknowns: []absorbance.Unknown{{Name: "pond", Owner: "Tamsin Reed"}},
	}
	for c := range 6 {
		r.Standards = append(r.Standards, absorbance.Standard{Concentration: uncertain.Exact(float64(c))})
	}
	return r
}

var sixRead = []string{"0.004", "0.121", "0.239", "0.352", "0.474", "0.590"}

// bench states facts, a minute apart.
type bench struct {
	t     *testing.T
	plan  run.Plan
	facts []fact.Fact
	at    time.Time
}

func begun(t *testing.T, plan run.Plan) *bench { return &bench{t: t, plan: plan, at: nine} }

func (b *bench) state(f fact.Fact, text string) error {
	b.at = b.at.Add(time.Minute)
	f.ID, f.At = fmt.Sprintf("f%d", len(b.facts)), b.at
	if text != "" {
		q, err := quantity.ParseAny(text, b.plan.Takes(f), "AU")
		if err != nil {
			return err
		}
		f.Quantity = &q
	}
	if err := run.Admit(b.plan, b.facts, f, b.at); err != nil {
		return err
	}
	b.facts = append(b.facts, f)
	return nil
}

func (b *bench) do(kind string, part int, text string) {
	b.t.Helper()
	if err := b.state(fact.Fact{Kind: kind, Part: part}, text); err != nil {
		b.t.Fatalf("%s %d %s: %v", kind, part, text, err)
	}
}

func (b *bench) decide(choice string, part int, text string) {
	b.t.Helper()
	if err := b.state(fact.Fact{Kind: run.KindDecided, Choice: choice, Part: part, Text: text}, ""); err != nil {
		b.t.Fatalf("%s: %v", choice, err)
	}
}

func (b *bench) out() (run.Outcome, absorbance.View) {
	b.t.Helper()
	out, err := b.plan.Make(b.facts, b.at)
	if err != nil {
		b.t.Fatal(err)
	}
	return out, out.View.(absorbance.View)
}

func (b *bench) atHand() run.Step {
	out, _ := b.out()
	i := slices.IndexFunc(out.Steps, func(s run.Step) bool { return s.State == run.Now })
	if i < 0 {
		return run.Step{}
	}
	return out.Steps[i]
}

func figureOf(t *testing.T, out run.Outcome, id string) figure.Figure {
	t.Helper()
	i := slices.IndexFunc(out.Figures, func(f figure.Figure) bool { return f.ID == id })
	if i < 0 {
		t.Fatalf("no figure %q among %d", id, len(out.Figures))
	}
	return out.Figures[i]
}

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if !(math.Abs(got-want) <= within) {
		t.Errorf("%s: %.9g, want %.9g ± %g", what, got, want, within)
	}
}

// measured goes through the line of six with the unknown read three times.
func measured(t *testing.T, r absorbance.Request) *bench {
	b := begun(t, r)
	b.do(absorbance.KindBlank, 0, "0.000")
	for i, a := range sixRead {
		b.do(absorbance.KindRead, i, a)
	}
	b.do(absorbance.KindRead, 6, "0.298")
	b.decide("again", 6, "")
	b.do(absorbance.KindRead, 6, "0.300")
	b.decide("again", 6, "")
	b.do(absorbance.KindRead, 6, "0.302")
	return b
}

// Exact arithmetic: slope 0.1172, intercept 0.0036667, and of the mean of three readings 0.300 the concentration 2.528441 with
// the standard error 0.0113415, first-order interval ± 0.0314890, Fieller 2.496954 to 2.559935.
func TestLineWorkedByHand(t *testing.T) {
	b := measured(t, six())
	out, view := b.out()
	near(t, "slope", figureOf(t, out, "slope").Value, 0.1172, 1e-9)
	near(t, "u of the slope", figureOf(t, out, "slope").U(), 0.00044934, 5e-9)
	near(t, "intercept", figureOf(t, out, "intercept").Value, 0.0036667, 5e-8)
	near(t, "u of the intercept", figureOf(t, out, "intercept").U(), 0.00136044, 5e-9)
	c := figureOf(t, out, "unknown 6")
	near(t, "unknown", c.Value, 2.528441, 5e-7)
	near(t, "its standard error", c.U(), 0.0113415, 5e-8)
	near(t, "its interval", c.Expanded, 0.0314890, 5e-7)
	if c.Label != "pond, as it was read" || c.Unit != "mg/L P" {
		t.Errorf("%s in %s", c.Label, c.Unit)
	}
	unknown := view.Vessels[6]
	if got := fmt.Sprint(unknown.Schools); got != "[{line with intercept, all that adds to it 2.528 ± 0.031 mg/L P true} "+
		"{line with intercept, its scatter alone (Fieller) 2.497 to 2.560 mg/L P false} "+
		"{line with intercept, its scatter alone (first order) 2.497 to 2.560 mg/L P false} {slope through zero alone 2.538 mg/L P false}]" {
		t.Error(got)
	}
	if view.Says != "A = 0.11720·c + 0.0037 with c in mg/L P; R² 0.99994, residual SD 0.0019" || view.Limits !=
		"Limit of detection 0.053 mg/L P, of quantification 0.16 mg/L P (3.3 and 10 residual standard deviations)." {
		t.Errorf("%s\n%s", view.Says, view.Limits)
	}
	if len(view.Band) != 41 || view.Band[0].C != 0 || math.Abs(view.Band[40].C-5.4) > 1e-9 || view.Band[0].Half < 0.0037 || view.Band[0].Half > 0.0038 {
		t.Errorf("band from %+v to %+v", view.Band[0], view.Band[40])
	}
	near(t, "residual of the fourth", view.Vessels[3].Residual, 0.352-0.1172*3-0.0036666667, 1e-9)
	near(t, "best from", view.Best.From, 0.2, 1e-12)
	for _, f := range out.Figures {
		lines, err := b.plan.Explain(b.facts, f.ID)
		if err != nil || len(lines) < 2 {
			t.Errorf("%s: %v", f.ID, err)
		}
		workingtest.Check(t, lines)
	}
	if out.Status != run.Open || b.atHand().ID != "judge" {
		t.Errorf("%s, %s", out.Status, b.atHand().ID)
	}
	b.decide("end", 0, "")
	out, _ = b.out()
	if out.Status != run.Finished || len(out.Products) != 1 || !out.Products[0].Result || len(out.Products[0].Detail.(absorbance.Line).A) != 6 {
		t.Errorf("%+v", out.Products)
	}
	last := out.Steps[len(out.Steps)-1]
	if last.Summary != "Keep this line" || len(last.Facts) != 1 {
		t.Errorf("%+v", last)
	}
}

// A transmittance is the same reading as its absorbance; blank and cell come off.
func TestWhatCounts(t *testing.T) {
	r := six()
	r.Cells = 2
	b := begun(t, r)
	if s := b.atHand(); s.ID != "cell 1" || s.Kind != absorbance.KindCell {
		t.Fatalf("%+v", s)
	}
	b.do(absorbance.KindCell, 1, "0.012")
	if out, _ := b.out(); len(out.Steps[0].Verdicts) != 1 || out.Steps[0].Verdicts[0].Sentence != "Cell 2 differs by 0.012 AU, more than 0.01: clean it, or leave it out." {
		t.Errorf("%+v", out.Steps[0].Verdicts)
	}
	b.do(absorbance.KindBlank, 0, "0.002")
	if s := b.atHand(); s.Title != "The standard of 0 mg/L P, in cell 1" || s.Expects != "" {
		t.Errorf("%+v", s)
	}
	b.do(absorbance.KindRead, 0, "98.63 %T") // 0.006
	b.do(absorbance.KindRead, 1, "0.135")    // second cell: less 0.002 and 0.012
	b.do(absorbance.KindRead, 2, "0.241")
	if s := b.atHand(); s.Expects != "0.356 AU" || s.Title != "The standard of 3 mg/L P, in cell 2" {
		t.Errorf("%s, expects %q", s.Title, s.Expects)
	}
	_, view := b.out()
	for i, want := range []float64{2 - math.Log10(98.63) - 0.002, 0.121, 0.239} {
		near(t, "what counts", view.Vessels[i].Readings[0].A, want, 1e-12)
	}
	if read := view.Vessels[0].Readings[0]; read.AText != "0.004" || read.TText != "99.1" || read.Shown != "98.63 %T" {
		t.Errorf("%+v", read)
	}
	// The blank is corrected: everything moves.
	f := b.facts[1]
	q := quantity.Of(0.012, "AU")
	f.ID, f.Quantity, f.Replaces, f.Reason = "right", &q, f.ID, "misread"
	if err := run.Admit(b.plan, b.facts, f, b.at); err != nil {
		t.Fatal(err)
	}
	b.facts = append(b.facts, f)
	_, view = b.out()
	near(t, "after the correction", view.Vessels[2].Readings[0].A, 0.229, 1e-12)
}

func TestAPointIsStruckWithAReason(t *testing.T) {
	r := six()
	b := begun(t, r)
	b.do(absorbance.KindBlank, 0, "0.000")
	for i, a := range sixRead {
		if i == 3 {
			a = "0.452"
		}
		b.do(absorbance.KindRead, i, a)
	}
	_, view := b.out()
	if !slices.ContainsFunc(view.Verdicts, func(v verdict.Verdict) bool {
		return v.Rule == "AB-6" && strings.HasPrefix(v.Sentence, "The standard of 3 mg/L P, 0.452 at 3 mg/L P, lies ")
	}) {
		t.Errorf("%+v", view.Verdicts)
	}
	var p verdict.Problems
	if err := b.state(fact.Fact{Kind: run.KindDecided, Choice: "strike", Part: 3}, ""); !errors.As(err, &p) || p[0].Field != "/text" {
		t.Errorf("struck without a reason: %v", err)
	}
	b.decide("strike", 3, "a bubble")
	out, view := b.out()
	near(t, "slope without it", figureOf(t, out, "slope").Value, 0.1172+0.0003/37, 4e-4)
	if view.Vessels[3].Struck != "a bubble" || len(view.Vessels[3].Readings) != 1 || view.Line.DF != 3 || math.Abs(view.Vessels[3].Residual) < 0.09 {
		t.Errorf("%+v", view.Vessels[3])
	}
	if slices.ContainsFunc(out.Offers, func(o run.Offer) bool { return o.ID == "strike" && o.Part == 3 }) {
		t.Error("it can be struck twice")
	}
	row := out.Table[4]
	if out.Table[0][10] != "struck because" || row[10] != "a bubble" || row[6] != "0.452" || row[2] != "3" || !strings.HasPrefix(row[9], "+0.09") {
		t.Errorf("%q", row)
	}
	// Taken back, it counts again.
	b.facts = append(b.facts, fact.Fact{ID: "w", Kind: fact.Withdrawn, Part: 3, Replaces: b.facts[len(b.facts)-1].ID, Reason: "it was none", At: b.at})
	if _, view = b.out(); view.Line.DF != 4 || view.Vessels[3].Struck != "" {
		t.Errorf("%+v", view.Line)
	}
}

// The blank is asked for again after so many minutes, and when a person wants it.
func TestTheBlankIsSetAgain(t *testing.T) {
	b := begun(t, six())
	b.do(absorbance.KindBlank, 0, "0.000")
	b.do(absorbance.KindRead, 0, "0.004")
	b.at = b.at.Add(28 * time.Minute) // 30 min after the blank with the next one
	b.do(absorbance.KindRead, 1, "0.121")
	if b.atHand().ID != "read 2" {
		t.Errorf("after 30 minutes: %s", b.atHand().ID)
	}
	b.do(absorbance.KindRead, 2, "0.239")
	out, view := b.out()
	if s := b.atHand(); s.ID != "blank 1" || s.Kind != absorbance.KindBlank {
		t.Fatalf("after 31 minutes: %s", s.ID)
	}
	if v := view.Vessels[2].Verdicts; len(v) != 1 || v[0].Sentence != "Read 31 minutes after the blank was set: set it again, and read this again." {
		t.Errorf("%+v", v)
	}
	if len(view.Vessels[1].Verdicts) != 0 || slices.ContainsFunc(out.Offers, func(o run.Offer) bool { return o.ID == "blank" }) {
		t.Errorf("%+v, %+v", view.Vessels[1].Verdicts, out.Offers)
	}
	b.do(absorbance.KindBlank, 0, "0.010")
	b.do(absorbance.KindRead, 3, "0.362")
	_, view = b.out()
	near(t, "after the new blank", view.Vessels[3].Readings[0].A, 0.352, 1e-12)
	near(t, "before it", view.Vessels[2].Readings[0].A, 0.239, 1e-12)
	b.decide("blank", 0, "")
	if b.atHand().ID != "blank 2" {
		t.Error(b.atHand().ID)
	}
	if len(view.Blanks) != 2 || view.Blanks[1].Shown != "0.010 AU" {
		t.Errorf("%+v", view.Blanks)
	}
}

// An unknown goes back to its sample by what was typed, and by the record of its bottle.
func TestBackToTheSample(t *testing.T) {
	r := six()
	r.Unknowns[0].Diluted = 5
	out, view := measured(t, r).out()
	c, s := figureOf(t, out, "unknown 6"), figureOf(t, out, "sample 6")
	near(t, "sample", s.Value, 5*2.528441, 5e-6)
	near(t, "its u", s.U(), math.Hypot(5*c.U(), 2.528441*5*0.002/math.Sqrt(3)), 1e-7)
	if view.Vessels[6].Sample != "sample 6" || out.Figures[0].ID != "sample 6" || s.Label != "pond, before it was diluted" {
		t.Errorf("%+v", view.Vessels[6])
	}
	// What the two bottles share cancels: only the pipette of the dilution is left.
	stock := uncertain.Source{ID: "assay"}
	r = six()
	r.Unknowns[0].Descent = &run.Descent{
		Bottle: "b1", Number: 1, Undiluted: uncertain.New(0.1, 0.001, stock),
		Sample: uncertain.New(0.01, 0.0001, stock).Plus(uncertain.New(0, 0.00002, uncertain.Source{ID: "pipette"})),
	}
	out, _ = measured(t, r).out()
	near(t, "u by its bottle", figureOf(t, out, "sample 6").U(), math.Hypot(10*0.0113415, 25.28441*0.002), 1e-5)
	lines, err := r.Explain(measured(t, r).facts, "sample 6")
	if err != nil || len(lines) != 5 || lines[3].From[0] != "F: how many times it had been diluted, by the record of its bottle since bottle 1" {
		t.Errorf("%+v, %v", lines, err)
	}
}

// What standards share is in every unknown, and no replicate makes it smaller.
func TestTheStockIsInEveryUnknown(t *testing.T) {
	r := six()
	stock := uncertain.Source{ID: "stock", Label: "stock"}
	for i := range r.Standards {
		c := r.Standards[i].Concentration.Value
		r.Standards[i].Concentration = uncertain.New(c, 0.01*c, stock)
	}
	out, view := measured(t, r).out()
	c := figureOf(t, out, "unknown 6")
	near(t, "u with the stock", c.U(), math.Hypot(0.0113415, 0.01*2.528441), 2e-4)
	if v := view.Vessels[6].Verdicts; len(v) != 1 || v[0].Rule != "AB-11" || v[0].Level != verdict.Fine || !strings.Contains(v[0].Sentence, "144 % wider") {
		t.Errorf("%+v", v)
	}
	if view.General == nil || len(view.Vessels[6].Schools) != 5 || view.Vessels[6].Schools[4].Name != "line with errors of the standards" {
		t.Errorf("%+v", view.Vessels[6].Schools)
	}
	if view.Vessels[5].U < 0.09 || view.Vessels[5].Text != "5.00 mg/L P" {
		t.Errorf("%+v", view.Vessels[5])
	}
}

// Readings made with 6220 L/(mol·cm) give it back: in a cell of 10 mm and, turned to its short way, of 4 mm; told by amount and by
// mass. That checks units and path, no source.
func TestMolarAbsorptivity(t *testing.T) {
	for _, c := range []struct {
		unit string
		path float64
		one  float64 // mol/L of one unit
	}{{"mmol/L", 10, 1e-3}, {"µmol/L", 4, 1e-6}, {"mg/L P", 10, 1e-3 / 30.973761998}} {
		r := six()
		r.Unit, r.Path, r.Unknowns = c.unit, c.path, nil
		for i := range r.Standards {
			r.Standards[i].Concentration = uncertain.Exact(float64(i) * 1e-5 / c.one) // 0.00001 mol/L apart
		}
		b := begun(t, r)
		b.do(absorbance.KindBlank, 0, "0.0000")
		for i := range r.Standards {
			b.do(absorbance.KindRead, i, fmt.Sprintf("%.5f", 6220*1e-5*float64(i)*c.path/10+[]float64{0, 1e-4, -1e-4, 1e-4, -1e-4, 0}[i]))
		}
		out, _ := b.out()
		near(t, c.unit, figureOf(t, out, "absorptivity").Value, 6220, 8)
	}
	r := six()
	r.Unit = "mg/L"
	out, _ := measured(t, r).out()
	if slices.ContainsFunc(out.Figures, func(f figure.Figure) bool { return f.ID == "absorptivity" }) {
		t.Error("a mass of nothing has a molar absorptivity")
	}
}

func TestTheEyeIsComparedAfterwards(t *testing.T) {
	for choice, want := range map[string]string{
		"3": "between 2 mg/L P and 3 mg/L P. The reading agrees", "0": "paler than 0 mg/L P. The reading says otherwise",
		"6": "darker than 5 mg/L P. The reading says otherwise",
	} {
		r := six()
		r.Guess = true
		b := begun(t, r)
		b.do(absorbance.KindBlank, 0, "0.000")
		if s := b.atHand(); s.ID != "guess 6" || len(s.Options) != 7 || s.Options[1].Label != "Between 0 mg/L P and 1 mg/L P" {
			t.Fatalf("%+v", s)
		}
		if err := b.state(fact.Fact{Kind: absorbance.KindGuessed, Part: 6, Choice: choice}, ""); err != nil {
			t.Fatal(err)
		}
		for i, a := range append(slices.Clone(sixRead), "0.300") {
			b.do(absorbance.KindRead, i, a)
		}
		if _, view := b.out(); view.Vessels[6].Guess != want {
			t.Errorf("%q, want %q", view.Vessels[6].Guess, want)
		}
	}
}
