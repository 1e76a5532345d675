package absorbance_test

import (
	"errors"
	"math"
	"strings"
	"testing"

	"vialbench/core/absorbance"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

// portions of 5 mL of a sample with 2 mg/L, to which a standard of 10 mg/L is added, made up to a volume or not.
func portions(final float64) absorbance.Request {
	d := absorbance.Additions{
		Sample: 5, Final: final, Added: []float64{0, 1, 2, 3, 4},
		Standard: uncertain.New(10, 0.05, uncertain.Source{ID: "stock", Label: "stock"}), Bottle: "stock", Number: 7,
	}
	return absorbance.Request{
		Substance: "Iron", Unit: "mg/L", Wavelength: 510, Path: 10, Cells: 1, Replicates: 1, Additions: &d, Standards: d.Portions(),
	}
}

// readPortions reads portions whose absorbance is 0.1 AU per mg/L, a thousandth up and down, and keeps them.
func readPortions(t *testing.T, r absorbance.Request) *bench {
	t.Helper()
	b := begun(t, r)
	b.do(absorbance.KindBlank, 0, "0.000")
	d := r.Additions
	for i, v := range d.Added {
		to := d.Final
		if to == 0 {
			to = d.Sample + v
		}
		is := 0.1 * (2*d.Sample + 10*v) / to
		off := []float64{0.001, -0.001, 0, 0.001, -0.001}[i]
		b.do(absorbance.KindRead, i, quantity.Digits(is+off, 3))
	}
	return b
}

// Portions that are made up and portions that are not give the sample back, with what adds to it; the line through the latter is brought
// to the volume of the sample.
func TestStandardAdditions(t *testing.T) {
	for _, final := range []float64{25, 0} {
		r := portions(final)
		if r.Title() != "Iron by standard additions at 510 nm" || r.Uses().Sources[0] != (run.Source{Role: "added", Bottle: "stock"}) {
			t.Errorf("%s, %+v", r.Title(), r.Uses())
		}
		b := begun(t, r)
		b.do(absorbance.KindBlank, 0, "0.000")
		if step := b.atHand(); step.Title != "The portion with 0 mL added" || step.Molar != nil {
			t.Errorf("%+v", step)
		}
		b = readPortions(t, r)
		out, view := b.out()
		got := figureOf(t, out, "sample")
		near(t, "the sample", got.Value, 2, got.Expanded) // the thousandths were not drawn at random
		for _, v := range view.Verdicts {
			if v.Rule == "AB-4" {
				t.Errorf("the intercept is the sample, and yet: %s", v.Sentence)
			}
		}
		if view.Added == nil || view.Added.Figure != "sample" || math.Abs(view.Added.C-got.Value) > 1e-12 || view.Line == nil {
			t.Fatalf("%+v", view.Added)
		}
		if first := view.Band[0].C; math.Abs(first+view.Line.Intercept/view.Line.Slope) > 1e-9 {
			t.Errorf("the line is drawn back to %g", first)
		}
		// 0.5 % of the stock and 0.2 % of the volumes, rectangular, come on top of the scatter.
		by := map[string]float64{}
		for _, c := range got.Contributions {
			by[c.Label] = math.Abs(c.U / got.Value)
		}
		near(t, "the stock", by["stock"], 0.005, 1e-9)
		near(t, "the volumes", by["volumes of the portions"], 0.002/math.Sqrt(3), 1e-9)
		if by["scatter of the readings"] < 0.002 {
			t.Errorf("%+v", by)
		}
		for _, id := range []string{"sample", "slope", "intercept"} {
			lines, err := b.plan.Explain(b.facts, id)
			if err != nil {
				t.Fatal(err)
			}
			workingtest.Check(t, lines)
			if id == "sample" && (len(lines) < 4 || lines[2].Symbol != "c" || lines[3].Symbol != "s(c)") {
				t.Errorf("%+v", lines)
			}
		}
		b.decide("end", 0, "")
		if out, _ = b.out(); len(out.Products) != 1 || out.Products[0].Figures[0].ID != "sample" {
			t.Errorf("%+v", out.Products)
		}
	}
}

// What is added turns out to be of another strength: the sample follows in proportion.
func TestAdditionsFollowTheirStock(t *testing.T) {
	b := readPortions(t, portions(25))
	out, _ := b.out()
	before := figureOf(t, out, "sample").Value
	stronger := b.plan.(absorbance.Request)
	d := *stronger.Additions
	d.Standard = d.Standard.Scale(1.1)
	stronger.Additions, stronger.Standards = &d, d.Portions()
	b.plan = stronger
	out, _ = b.out()
	near(t, "with a stronger stock", figureOf(t, out, "sample").Value, 1.1*before, 1e-9)
	bound, ok := stronger.Bound("added", run.Source{Role: "added", Bottle: "other"}, 12).(absorbance.Request)
	if !ok || bound.Additions.Bottle != "other" || bound.Additions.Number != 12 || stronger.Additions.Bottle != "stock" {
		t.Errorf("%+v", bound.Additions)
	}
}

// In the sample the slope is half of that of plain standards: something else is in it.
func TestMatrixEffect(t *testing.T) {
	r := portions(25)
	for slope, want := range map[float64]string{0.2: "In the sample the slope is 50 % of that of plain standards", 0.1: "nothing else in the sample changes the reading"} {
		r.Before = &absorbance.Before{Number: 3, Slope: slope, SlopeSE: 0.0005}
		_, view := readPortions(t, r).out()
		said := ""
		for _, v := range view.Added.Verdicts {
			said += v.Sentence
		}
		if !strings.Contains(said, want) {
			t.Errorf("%g: %s", slope, said)
		}
	}
}

func TestAdditionsThatAreNone(t *testing.T) {
	for field, change := range map[string]func(*absorbance.Request){
		"/additions/sample":   func(r *absorbance.Request) { r.Additions.Sample = 0 },
		"/additions/standard": func(r *absorbance.Request) { r.Additions.Standard = uncertain.Exact(0) },
		"/additions/added":    func(r *absorbance.Request) { r.Additions.Added = []float64{0, 1} },
		"/additions/added#":   func(r *absorbance.Request) { r.Additions.Added = []float64{1, 1, 1} },
		"/additions/added/2":  func(r *absorbance.Request) { r.Additions.Added[2] = -1 },
		"/additions/added/4":  func(r *absorbance.Request) { r.Additions.Final = 8.5 },
		"/additions/final":    func(r *absorbance.Request) { r.Additions.Final = math.Inf(1) },
		"/additions":          func(r *absorbance.Request) { r.Unknowns = []absorbance.Unknown{{Name: "x"}} },
	} {
		r := portions(25)
		change(&r)
		var p verdict.Problems
		if _, err := r.Design(); !errors.As(err, &p) || p[0].Field != strings.TrimSuffix(field, "#") {
			t.Errorf("%s: %v", field, err)
		}
	}
}
