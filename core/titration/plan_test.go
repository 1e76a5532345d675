package titration

import (
	"errors"
	"math"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func TestPlans(t *testing.T) {
	r := lye(t)
	d, err := r.Design()
	if err != nil {
		t.Fatal(err)
	}
	is := d.(Design) //nolint:errcheck // its own kind
	if is.Expected != "25.0 mL" || is.Needed != "about 90 mL for 3 trials and rinsing" || is.Ratio != "1 mol of KHC8H4O4 for 1 mol of NaOH" ||
		len(is.Verdicts) != 0 ||
		is.Title != "Standardise sodium hydroxide" ||
		!strings.Contains(is.LaTeX, `\longrightarrow`) {
		t.Errorf("%+v", is)
	}
	// The curve that is predicted: one end point at 25.0 mL, met by phenolphthalein.
	c := is.Curve
	if c == nil || len(c.Equivalences) != 1 || math.Abs(c.Equivalences[0].Volume-25) > 1e-9 ||
		!strings.Contains(says(c.Verdicts, "T-14"), "fine: The end point, at 25.00 mL and pH 8.") {
		t.Errorf("%+v", c)
	}
	if d, err := iron(t).Design(); err != nil || d.(Design).Curve != nil { //nolint:errcheck // its own kind
		t.Errorf("a curve of the pH for iron: %v", err)
	}
	r.Volume, r.Glass = 5, pipette(5)
	if d, _ := r.Design(); says(
		d.(Design).Verdicts,
		"T-9",
	) != "look: A trial would take 5.0 mL only: take about 35 mL, or a titrant of about 0.014 mol/L." { //nolint:errcheck // its own kind
		t.Errorf("%+v", d)
	}
	r.Volume, r.Glass = 100, pipette(100)
	if d, _ := r.Design(); !strings.Contains(
		says(d.(Design).Verdicts, "T-13"),
		"more than the burette holds: take about 35 mL, or",
	) { //nolint:errcheck // its own kind
		t.Errorf("%+v", d)
	}
	for field, change := range map[string]func(*Request){
		"/titrant":   func(r *Request) { r.Titrant.Name = "" },
		"/sample":    func(r *Request) { r.Sample.C = uncertain.Number{} },
		"/volume":    func(r *Request) { r.Volume = 0 },
		"/by":        func(r *Request) { r.By = "spoon" },
		"/mass":      func(r *Request) { r.By, r.Mass = Weighed, 0 },
		"/substance": func(r *Request) { r.By, r.Mass = Weighed, 0.5 },
		"/burette":   func(r *Request) { r.Burette = glassware.Item{} },
		"/diluted":   func(r *Request) { r.Diluted = 0.5 },
		"/density":   func(r *Request) { r.Density = -1 },
		"/titrant#2": func(r *Request) { r.Standardise, r.Titrant.C = false, uncertain.Number{} },
	} {
		r := lye(t)
		change(&r)
		var p verdict.Problems
		if _, err := r.Design(); !errors.As(err, &p) || p[0].Field != strings.TrimSuffix(field, "#2") {
			t.Errorf("%s: %v", field, err)
		}
	}
}

func TestTitrationsFollowTheirBottles(t *testing.T) {
	khp, err := formula.Parse("KHC8H4O4")
	if err != nil {
		t.Fatal(err)
	}
	bottle := func(c float64) run.Product {
		return run.Product{
			Name: "x", Formula: khp.Pieces, Exact: true,
			Figures: []figure.Figure{figure.New("c", "c", "mol/L", number("khp", c, 0.0001)).As(figure.Concentration)},
		}
	}
	r := lye(t)
	if _, changed := r.From(RoleSample, bottle(0.1)); changed {
		t.Error("changed though nothing moved")
	}
	next, changed := r.From(RoleSample, bottle(0.102))
	if !changed || next.(Request).Sample.C.Value != 0.102 { //nolint:errcheck // its own kind
		t.Error("the sample did not follow")
	}
	// What is being standardised says nothing of itself.
	if _, changed := r.From(run.RoleStandardises, bottle(0.2)); changed {
		t.Error("a standardisation follows the bottle that it finds")
	}
	i := iron(t)
	if next, changed := i.From(RoleTitrant, bottle(0.021)); !changed ||
		next.(Request).Titrant.C.Value != 0.021 { //nolint:errcheck // its own kind
		t.Error("the titrant did not follow")
	}
	for role, of := range map[string]func(Request) Solution{
		RoleTitrant: func(r Request) Solution { return r.Titrant }, run.RoleStandardises: func(r Request) Solution { return r.Titrant }, RoleSample: func(r Request) Solution { return r.Sample },
	} {
		there := r.Bound(role, run.Source{Bottle: "other"}, 9).(Request) //nolint:errcheck // its own kind
		if s := of(there); s.Bottle != "other" || s.Number != 9 {
			t.Errorf("%s: %+v", role, s)
		}
	}
	s, ok := r.Reaction.SolutionOf(bottle(0.1), "b", 4, false)
	if !ok || s.Units != 1 || s.Formula != "KHC8H4O4" || s.String() != "x, bottle 4" || s.Approximate {
		t.Errorf("%+v %v", s, ok)
	}
	if _, ok := r.Reaction.SolutionOf(bottle(0.1), "b", 4, true); ok {
		t.Error("phthalate is no titrant here")
	}
}

// What suits the burette lies between half and nine tenths of it: 25 mL of 0.1 mol/L for as much
// base are half of 50 mL; 10 mL are too little, and of the usual pipettes 25 comes next.
func TestTakeWhatSuitsTheBurette(t *testing.T) {
	for _, c := range []struct {
		mL   float64
		want string
	}{{25, ""}, {20, "25"}, {10, "25"}, {5, "25"}, {100, "25"}} {
		r := lye(t)
		r.Volume, r.Glass = c.mL, pipette(c.mL)
		d, err := r.Design()
		if got := d.(Design).Take; err != nil || got != c.want { //nolint:errcheck // its own kind
			t.Errorf("%g mL: take %q, want %q (%v)", c.mL, got, c.want, err)
		}
	}
	thin := lye(t) // of which no pipette delivers enough
	thin.Sample.C = number("thin", 0.01, 0.0001)
	if d, err := thin.Design(); err != nil || d.(Design).Take != "" { //nolint:errcheck // its own kind
		t.Errorf("%+v %v", d, err)
	}
	r := lye(t)
	r.By, r.Volume, r.Glass = ByCylinder, 10, glassware.Item{Kind: glassware.Cylinder, Volume: 10, Class: glassware.ClassA}
	if d, err := r.Design(); err != nil || d.(Design).Take != "35" { //nolint:errcheck // its own kind
		t.Errorf("%+v %v", d, err)
	}
	if d, err := drips(t).Design(); err != nil || d.(Design).Take != "" { //nolint:errcheck // its own kind
		t.Errorf("drops: %+v %v", d, err)
	}
}

// What is advised begins behind the thresholds, not at them: half and nine tenths of the burette, a
// titre that is just large enough, a burette that is just full, and one rinsed just often enough.
func TestAdviceBeginsBehindItsThresholds(t *testing.T) {
	r := lye(t)
	r.By = ByCylinder
	for v, want := range map[float64]bool{24.99: true, 25: false, 45: false, 45.01: true} {
		if got := r.take(v); (got != "") != want {
			t.Errorf("%g mL of 50: take %q", v, got)
		}
	}
	for v, want := range map[float64]string{9.99: RuleTitre.ID, 10: "", 50: "", 50.01: RuleRefill.ID} {
		rule := ""
		if list := r.judgePlan(v); len(list) > 0 {
			rule = list[0].Rule
		}
		if rule != want {
			t.Errorf("%g mL: %q, want %q", v, rule, want)
		}
	}
	b := on(t, r)
	out := b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	if s := runtest.Now(t, out); says(s.Verdicts, RuleRinse.ID) != "" {
		t.Errorf("rinsed twice, as the rule wants: %+v", s.Verdicts)
	}
	b.Plan.Thresholds = verdict.Thresholds{RuleRinse.ID: 3}
	if s := runtest.Now(t, b.Outcome()); says(s.Verdicts, RuleRinse.ID) == "" {
		t.Error("rinsed twice where three times are asked for passes")
	}
}
