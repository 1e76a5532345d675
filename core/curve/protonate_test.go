package curve

import (
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"vialbench/core/equilibrium"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// zwitterion is 20 mL of about 0.05 mol/L glycine, to be brought to its fully protonated form with
// 1 mol/L acid: 1.00 mL.
func zwitterion(t testing.TB) Request {
	r := vinegar(t)
	s, ok := equilibrium.Find("glycine")
	if !ok {
		t.Fatal("no glycine")
	}
	r.Flask, r.Volume, r.Water, r.Sample.Volume = stock("Glycine", "C2H5NO2", 0.05, 0, "", 0), 20, 0, 20
	r.Analyte = equilibrium.Compound{Formula: "C2H5NO2", Units: []equilibrium.Units{{System: s, Count: 1}}}
	r.Protonate = &Protonate{Acid: stock("Hydrochloric acid", "HCl", 1, 0.002, "b3", 3), Compound: compound(t, "HCl")}
	return r
}

// shows states a pH that is read.
func (b *bench) shows(pH float64) run.Outcome {
	b.T.Helper()
	return b.State(of1(KindAcidPH, "pH", math.Round(100*pH)/100))
}

func decided(choice string) fact.Fact { return fact.Fact{Kind: run.KindDecided, Choice: choice} }

func TestProtonatedFirst(t *testing.T) {
	r := zwitterion(t)
	if v := r.AcidVolume(); math.Abs(v-1) > 1e-9 {
		t.Errorf("%g mL of acid", v)
	}
	// Both constants show from there on: 10 and 20 mL of 0.1 mol/L base.
	list := r.curve().Equivalences()
	if len(list) != 2 || math.Abs(list[0]-10) > 1e-9 || math.Abs(list[1]-20) > 1e-9 {
		t.Errorf("%v", list)
	}
	b := on(t, r)
	out := b.State(fact.Fact{Kind: KindReady, Choice: choiceIn})
	s := runtest.Now(t, out)
	if s.Kind != KindAcid || s.Expects != "1.00 mL" || s.Default != "" ||
		s.Title != "To its fully protonated form: 1.00 mL of hydrochloric acid, 1.0000 mol/L, bottle 3 into the beaker" {
		t.Errorf("%+v", s)
	}
	out = b.State(of1(KindAcid, "mL", 0.5))
	s = runtest.Now(t, out)
	// Half protonated, about its first constant.
	if s.Kind != KindAcidPH || s.Title != "The pH with 0.50 mL of acid" || math.Abs(s.Stands.PH-2.6) > 0.25 {
		t.Errorf("%+v %+v", s, s.Stands)
	}
	b.shows(s.Stands.PH)
	out = b.State(decided(choiceDrop))
	if s = runtest.Now(t, out); s.Expects != "0.05 mL" || s.Title != "One drop of acid more" {
		t.Errorf("%+v", s)
	}
	b.State(of1(KindAcid, "mL", 0.25))
	out = b.shows(2.2)
	if v := runtest.Now(t, out).Verdicts[0]; !strings.HasPrefix(v.Sentence, "One drop more moved the pH by 0.") || v.Level != "look" {
		t.Errorf("%+v", v)
	}
	b.State(decided(choiceDrop))
	b.State(of1(KindAcid, "mL", 0.25))
	out = b.shows(2.15)
	if v := runtest.Now(t, out).Verdicts[0]; v.Level != "fine" || v.Choices[0].ID != choiceProtonated {
		t.Errorf("%+v", v)
	}
	out = b.State(decided(choiceProtonated))
	if got := out.Steps[1].Summary; got != "1.00 mL of acid, pH 2.15: fully protonated" {
		t.Error(got)
	}
	if s := runtest.Now(t, out); s.Kind != KindStart {
		t.Errorf("%+v", s)
	}
}

// The curve that is taken from there finds strength and both constants, and counts the acid.
func TestCurveOfAProtonatedAminoAcid(t *testing.T) {
	r := zwitterion(t)
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceIn})
	b.State(of1(KindAcid, "mL", 1))
	b.shows(2)
	b.State(decided(choiceProtonated))
	truth := r.curveWith(0.0478, 1, 1)
	out := b.titrate(truth, 0, rand.New(rand.NewPCG(11, 12)))
	found := map[string]figure.Figure{}
	for _, f := range out.Figures {
		found[f.ID] = f
	}
	if f := found["c"]; math.Abs(f.Value-0.0478) > f.Expanded || f.Expanded > 0.0015 {
		t.Errorf("%v", f)
	}
	for id, want := range map[string]float64{"pKa 1": 2.35, "pKa 2": 9.778} {
		if f := found[id]; math.Abs(f.Value-want) > f.Expanded || f.Expanded > 0.12 {
			t.Errorf("%s: %v, want %g", id, f, want)
		}
	}
	// The acid is found again: 1 mmol went in.
	if f := found["acid"]; math.Abs(f.Value-1) > f.Expanded || f.Expanded > 0.03 || f.Unit != "mmol" {
		t.Errorf("%v", f)
	}
	lines, err := r.Explain(b.Facts, "acid")
	if err != nil || !strings.Contains(strings.Join(lines[0].From, "; "), "1.0000 mmol went in, as it was read") {
		t.Errorf("%+v %v", lines, err)
	}
}

// Nobody has a guess of how strong the vinegar is: advice goes by what was read, and the fit finds
// it, thin or strong.
func TestUnknownStrength(t *testing.T) {
	for _, c := range []float64{0.02, 0.0837, 0.15} {
		r := vinegar(t)
		r.Flask.Concentration = uncertain.Number{}
		d, err := r.Design()
		if err != nil || d.(Design).Expected != "" { //nolint:errcheck // of this kind
			t.Fatalf("%+v %v", d, err)
		}
		b := on(t, r)
		truth := r.curveWith(c, 0, 0)
		out := b.take(truth, 0, rand.New(rand.NewPCG(5, 6)))
		view := out.View.(View) //nolint:errcheck // its own kind
		for _, f := range out.Figures {
			if f.ID == "c" && (math.Abs(f.Value-c) > f.Expanded || f.Expanded > 0.05*c) {
				t.Errorf("%g mol/L: %v", c, f)
			}
		}
		if len(out.Figures) == 0 {
			t.Errorf("%g mol/L: nothing found in %d readings", c, len(view.Readings))
		}
		last := view.Readings[len(view.Readings)-1]
		if end := c * 25 / 0.1; last.Volume < end {
			t.Errorf("%g mol/L: it stops at %g mL, before %g", c, last.Volume, end)
		}
		for i := 1; i < len(view.Readings); i++ {
			x, y := view.Readings[i-1], view.Readings[i]
			if y.PH-x.PH > 2 && y.Volume-x.Volume > 0.11 || y.Volume-x.Volume > 1.001 {
				t.Errorf("%g mol/L: from pH %.2f to %.2f at once, %g mL", c, x.PH, y.PH, y.Volume-x.Volume)
			}
		}
	}
}

func TestBadAcids(t *testing.T) {
	for name, change := range map[string]func(*Request){
		"a base":         func(r *Request) { r.Protonate.Compound = compound(t, "NaOH") },
		"no strength":    func(r *Request) { r.Protonate.Acid.Concentration = uncertain.Number{} },
		"protonated":     func(r *Request) { r.Analyte = glycine(t) },
		"with an acid":   func(r *Request) { r.Titrant = compound(t, "HCl") },
		"thin as water":  func(r *Request) { r.Protonate.Acid.Concentration = uncertain.Exact(0.001) },
		"nothing to add": func(r *Request) { r.Analyte = compound(t, "HCl") },
	} {
		r := zwitterion(t)
		change(&r)
		_, err := r.Design()
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != "/acid" {
			t.Errorf("%s: %v", name, err)
		}
	}
	r := zwitterion(t)
	for _, f := range []fact.Fact{of1(KindAcid, "mL", 0), of1(KindAcid, "mL", 4.1), of1(KindAcid, "g", 1), {Kind: KindAcid}} {
		if r.Check(f) == nil {
			t.Errorf("%+v is taken", f)
		}
	}
	if vinegar(t).Check(of1(KindAcid, "mL", 1)) == nil {
		t.Error("acid goes into a curve that has none")
	}
	uses := r.Uses().Sources
	if len(uses) != 2 || uses[1] != (run.Source{Role: RoleAcid, Bottle: "b3"}) {
		t.Errorf("%+v", uses)
	}
	moved := run.Product{Figures: []figure.Figure{figure.New("c", "c", "mol/L", uncertain.Exact(1.1)).As(figure.Concentration)}}
	next, changed := r.From(RoleAcid, moved)
	if got := next.(Request).Protonate.Acid.Concentration.Value; !changed || got != 1.1 ||
		r.Protonate.Acid.Concentration.Value != 1 { //nolint:errcheck // its own kind
		t.Errorf("%g", got)
	}
	if got := r.Bound(RoleAcid, run.Source{Bottle: "x"}, 8).(Request); got.Protonate.Acid.Number != 8 ||
		r.Protonate.Acid.Number != 3 { //nolint:errcheck // its own kind
		t.Errorf("%+v", got.Protonate)
	}
}

// Acid that is there already leaves less of a base for the acid in the burette: of 0.05 mol/L
// ammonia with 0.02 mol/L acid 30 mL times 0.03/0.1.
func TestAcidBesideABase(t *testing.T) {
	c := Curve{Volume: 30, Analyte: compound(t, "NH3"), C: 0.05, Acid: 0.02, Titrant: compound(t, "HCl"), Strength: 0.1, Celsius: 25}
	if list := c.Equivalences(); len(list) != 1 || math.Abs(list[0]-9) > 1e-9 {
		t.Errorf("%v", list)
	}
	c.Acid = 0.06 // none is left
	if list := c.Equivalences(); len(list) != 0 {
		t.Errorf("%v", list)
	}
}
