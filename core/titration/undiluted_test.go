package titration

import (
	"math"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

func bottled(c uncertain.Number, unit string) run.Product {
	return run.Product{Exact: true, Figures: []figure.Figure{figure.New("c", "c", unit, c).As(figure.Concentration)}}
}

// A sample of 10 in 100 mL of a bottle: what both depend on cancels in the factor, and what the
// glass adds stays.
func TestDescent(t *testing.T) {
	stock := number("solid", 0.5, 0.01)
	factor := number("glass", 0.1, 0.0002)
	thin := stock.Times(factor)
	d, ok := run.DescentOf(bottled(thin, "mol/L"), bottled(stock, "mol/L"), "b1", 1)
	if !ok {
		t.Fatal("no descent")
	}
	r := iron(t)
	r.Diluted, r.Descent, r.Sample = 0, d, Solution{Name: "Pond iron", Bottle: "b7", Number: 7}
	if f := r.factor(); math.Abs(f.Value-10) > 1e-9 || math.Abs(f.U()-0.02) > 1e-9 {
		t.Errorf("%g ± %g", f.Value, f.U())
	}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.trial(0, "0.00", "20.00")
	b.trial(1, "0.00", "20.00")
	out := b.trial(2, "0.00", "20.00")
	f := byID(out)
	// 5 × 0.02 mol/L × 20/25, and ten times that.
	if math.Abs(f["c"].Value-0.08) > 1e-9 || math.Abs(f["undiluted"].Value-0.8) > 1e-9 ||
		f["undiluted"].Label != "Fe^2+ in pond iron, undiluted (bottle 1)" {
		t.Errorf("%v %v", f["c"], f["undiluted"])
	}
	glass := 0.0
	for _, x := range f["undiluted"].Budget {
		if x.Label == "glass" {
			glass += x.U
		}
		if x.Label == "solid" {
			t.Errorf("what both depend on does not cancel: %+v", x)
		}
	}
	if math.Abs(glass-0.8*0.002) > 1e-9 {
		t.Errorf("by the glass: %g", glass)
	}
	b.explains(out)
	lines, err := r.Explain(b.Facts, "undiluted")
	if err != nil || !strings.Contains(strings.Join(lines[2].From, " "), "by the record of its bottle since bottle 1") {
		t.Errorf("%+v %v", lines, err)
	}
	design, err := r.Design()
	if err != nil || !strings.HasSuffix(design.(Design).Sample, ", diluted 10.0000 times from bottle 1") { //nolint:errcheck // of this kind
		t.Errorf("%+v %v", design, err)
	}
	// A factor typed beside it multiplies.
	r.Diluted = 2
	if f := r.factor(); math.Abs(f.Value-20) > 1e-9 {
		t.Errorf("%g", f.Value)
	}
	// Both bottles are followed.
	uses := r.Uses().Sources
	if last := uses[len(uses)-1]; last.Role != RoleUndiluted || last.Bottle != "b1" {
		t.Errorf("%+v", uses)
	}
	for role, want := range map[string]float64{RoleUndiluted: 12, RoleSample: 10.0 / 1.2} {
		product := bottled(stock.Scale(1.2), "mol/L")
		if role == RoleSample {
			product = bottled(thin.Scale(1.2), "mol/L")
		}
		plan, changed := r.From(role, product)
		if got := plan.(Request).factor().Value / 2; !changed || math.Abs(got-want) > 1e-9 ||
			r.Descent.Undiluted.Value != d.Undiluted.Value { //nolint:errcheck // of this kind
			t.Errorf("%s: %g, want %g", role, got, want)
		}
		if _, changed := r.From(role, run.Product{}); changed {
			t.Errorf("%s: a bottle without a strength moves it", role)
		}
	}
	if got := r.Bound(RoleUndiluted, run.Source{Bottle: "b5"}, 5).(Request); got.Descent.Number != 5 ||
		r.Descent.Number != 1 { //nolint:errcheck // of this kind
		t.Errorf("%+v", got.Descent)
	}
}

func TestNoDescent(t *testing.T) {
	c := number("c", 0.5, 0.01)
	for name, p := range map[string][2]run.Product{
		"thicker":     {bottled(c, "mol/L"), bottled(c.Scale(0.5), "mol/L")},
		"other units": {bottled(c, "g/L"), bottled(c.Scale(2), "mol/L")},
		"no strength": {{}, bottled(c, "mol/L")},
	} {
		if _, ok := run.DescentOf(p[0], p[1], "b", 1); ok {
			t.Error(name)
		}
	}
	// A unit of the same kind will do.
	if d, ok := run.DescentOf(bottled(c, "mmol/L"), bottled(c, "mol/L"), "b", 1); !ok || math.Abs(d.Undiluted.Value/d.Sample.Value-1000) > 1e-6 {
		t.Errorf("%+v", d)
	}
}
