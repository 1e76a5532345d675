package titration

import (
	"math"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
)

// Protein in meat by the ammonia that it gives: 0.9814 g, into 50.00 mL of 0.1047 mol/L acid, of
// which 22.84 mL of 0.1183 mol/L lye find the rest; with 17.2 % of nitrogen in protein 21.0 %
// (D. Harvey, Analytical Chemistry 2.1, an example of chapter 9, from memory).
func TestAmmoniaByBackTitration(t *testing.T) {
	a, err := Solve(Question{
		Reaction: "strong-acid-by-base", BackEquation: "NH3 + HCl -> NH4Cl", BackAnalyte: "NH3", C: uncertain.Exact(0.1183), Weighed: true,
		Trials: []AskedTrial{{Titre: uncertain.Exact(22.84), Sample: uncertain.Exact(0.9814), Excess: uncertain.Exact(50 * 0.1047)}},
	})
	if err != nil {
		t.Fatal(err)
	}
	if got := a.C.Value * 14.007 / 0.172 * 100; math.Abs(got-21.0) > 0.05 || a.Unit != "mol/g" {
		t.Errorf("%.3f %% protein (%v)", got, a.C)
	}
}

// chalk is 0.2 g of chalk in 50 mL of 0.1 mol/L acid, the rest with 0.1 mol/L lye.
func chalk(t testing.TB) Request {
	r := lye(t)
	r.Reaction, r.Standardise, r.By, r.Mass = find(t, "strong-acid-by-base"), false, Weighed, 0.2
	r.Titrant.C, r.Titrant.Approximate = number("lye", 0.1, 0.0001), false
	r.Sample = Solution{Name: "Pond chalk", Units: 1}
	back, err := BackOf(r.Reaction, "CaCO3 + HCl -> CaCl2 + CO2 + H2O", "CaCO3")
	if err != nil {
		t.Fatal(err)
	}
	back.Reagent = Solution{Name: "Hydrochloric acid", Formula: "HCl", Units: 1, Bottle: "b4", Number: 4, C: number("acid", 0.1, 0.0001)}
	back.Volume, back.Glass = 50, pipette(50)
	r.Back = &back
	return r
}

// weighed is a trial of 0.2000 g.
func (b *bench) weighed(part int, to string) run.Outcome {
	b.T.Helper()
	b.State(fact.Fact{Kind: KindSample, Part: part, Quantity: inGrams(b.T, 0.2)})
	b.State(scale(KindStart, part, "0.00"))
	b.State(scale(KindRead, part, to))
	return b.State(decide(part, choiceEnd))
}

func TestBackTitration(t *testing.T) {
	r := chalk(t)
	d, err := r.Design()
	if err != nil {
		t.Fatal(err)
	}
	if got := d.(Design); got.Ratio != "1 mol of CaCO3 for 2 mol of HCl, and 1 mol of HCl for 1 mol of NaOH" || //nolint:errcheck // of this kind
		got.Title != "Pond chalk: CaCO3 by back titration" ||
		!strings.HasSuffix(got.Sample, ", then 50 mL of hydrochloric acid, bottle 4, by pipette") ||
		got.Curve != nil {
		t.Errorf("%+v", got)
	}
	b := on(t, r)
	out := b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	if s := runtest.Now(t, out); !strings.HasSuffix(
		s.Title,
		"weigh about 0.2000 g of pond chalk, then 50 mL of hydrochloric acid, bottle 4, by pipette",
	) {
		t.Errorf("%s", s.Title)
	}
	b.weighed(0, "20.00")
	b.weighed(1, "20.00")
	b.State(fact.Fact{Kind: KindSample, Part: 2, Quantity: inGrams(t, 0.21)})
	out = b.State(scale(KindStart, 2, "0.00"))
	if s := runtest.Now(t, out); s.Expects != "18.50 mL" { // more chalk leaves less acid
		t.Errorf("%s", s.Expects)
	}
	b.State(scale(KindRead, 2, "18.50"))
	out = b.State(decide(2, choiceEnd))
	// 5.000 − 2.000 mmol of acid, half of it chalk: 7.5 mmol/g; 5.000 − 1.850: 7.5 mmol/g as well.
	f := byID(out)
	if math.Abs(f["c"].Value-7.5) > 1e-9 || f["c"].Label != "CaCO3 in each gram" {
		t.Errorf("%v", f["c"])
	}
	v := view(out)
	if v.Trials[2].Compared != "20.00" || !v.Trials[1].Used || !v.Trials[2].Used {
		t.Errorf("%+v", v.Trials)
	}
	if got := says(v.Verdicts, "T-25"); got != "fine: The sample took 62 % of the excess." {
		t.Error(got)
	}
	// Two equivalents a mole: 1/(2·7.5 mmol/g).
	if got := f["equivalent mass"].Value; math.Abs(got-1000.0/15) > 1e-6 {
		t.Errorf("%v", f["equivalent mass"])
	}
	b.explains(out)
	// The pipette that brings the acid is one piece of glass in all trials: 0.05 mL, triangular, of
	// 31.25 mL used up; its delivery is a matter of each.
	shares := map[string]float64{}
	for _, x := range f["c"].Budget {
		shares[x.Label] += x.U * x.U
	}
	used := 0.5 * (30/0.2 + 31.5/0.21) // mL for each g
	if got, want := math.Sqrt(shares["50 mL one-mark pipette"])/7.5, 0.05/math.Sqrt(6)*0.5*(1/0.2+1/0.21)/used; math.Abs(got/want-1) > 1e-6 {
		t.Errorf("pipette %.3e, want %.3e", got, want)
	}
	// Setting it is a matter of each: a third of 0.05 mL, in two trials.
	want := 0.05 / 3 * 0.5 * math.Hypot(1/0.2, 1/0.21) / used * 7.5
	if got := math.Sqrt(shares["setting and delivering"]); math.Abs(got/want-1) > 1e-6 {
		t.Errorf("setting %.3e, want %.3e", got, want)
	}
	// As calcium carbonate it is 75 % pure.
	for _, s := range substance.Library() {
		if s.Formula == "CaCO3" {
			r.Substance = &s
		}
	}
	if r.Substance == nil {
		t.Fatal("no chalk in the library")
	}
	b.Plan = r
	out = b.Outcome()
	if got := byID(out)["purity"].Value; math.Abs(got-0.75*100.0869) > 0.01 {
		t.Errorf("%v %%", got)
	}
	b.explains(out)
	// Of 0.2 g of pure chalk: 4 mmol of 5 are used, 1 is left: 10 mL.
	if v := r.Expected(); math.Abs(v-(5-0.4/0.1000869)/0.1) > 0.02 {
		t.Errorf("expected %.3f mL", v)
	}
}

// A blank of the same excess replaces what was pipetted: 49.00 mL of lye for it, 4.900 mmol.
func TestBackTitrationWithABlank(t *testing.T) {
	b := on(t, chalk(t))
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.State(decide(0, choiceBlank))
	b.State(scale(KindStart, 0, "0.00"))
	b.State(scale(KindRead, 0, "49.00"))
	b.State(decide(0, choiceEnd))
	out := b.weighed(1, "20.00")
	if f := byID(out)["c"]; math.Abs(f.Value-(4.9-2)/2/0.2) > 1e-9 {
		t.Errorf("%v", f)
	}
	b.explains(out)
}

func TestExcessOfTheWrongSize(t *testing.T) {
	for _, c := range []struct{ to, says string }{
		{"48.00", "look: The sample took 4 % of the excess only"},
		{"2.00", "look: The sample took 96 % of the excess: little is left"},
		{"49.99", "look: The sample took 0 % of the excess only"},
	} {
		b := on(t, chalk(t))
		b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
		out := b.weighed(0, c.to)
		if got := says(view(out).Verdicts, "T-25"); !strings.HasPrefix(got, c.says) {
			t.Errorf("%s: %s", c.to, got)
		}
	}
	r := chalk(t)
	r.Back.Reagent.C = number("thin", 0.05, 0.0001)
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	out := b.weighed(0, "30.00")
	if got := says(view(out).Verdicts, "T-25"); !strings.HasPrefix(got, "stop: The sample took none of the excess (−20 %)") {
		t.Error(got)
	}
}

func TestBadBackTitrations(t *testing.T) {
	acid := find(t, "strong-acid-by-base")
	for _, c := range []struct{ equation, analyte, want string }{
		{"CaCO3 + HNO3 -> Ca(NO3)2 + CO2 + H2O", "CaCO3", "/backEquation"}, // the rest of another acid is titrated
		{"CaCO3 + HCl -> CaCl2 + CO2 + H2O", "MgO", "/backAnalyte"},
		{"CaCO3 + HCl -> CaCl2", "CaCO3", "/backEquation"},
	} {
		_, err := BackOf(acid, c.equation, c.analyte)
		if list := problems(err); len(list) == 0 || list[0].Field != c.want {
			t.Errorf("%s, %s: %v", c.equation, c.analyte, err)
		}
	}
	for want, change := range map[string]func(*Request){
		"/back":          func(r *Request) { r.Standardise, r.Sample.C, r.By, r.Volume = true, number("c", 1, 0.1), ByPipette, 25 },
		"/reagentBottle": func(r *Request) { r.Back.Reagent.C = uncertain.Number{} },
		"/reagent":       func(r *Request) { r.Back.Volume = 40 },
		"/backEquation":  func(r *Request) { r.Back.Analyte = "MgO" },
	} {
		r := chalk(t)
		change(&r)
		if got := field(r); got != want {
			t.Errorf("%s: %s", want, got)
		}
	}
	q := Question{
		Reaction: "strong-acid-by-base", BackEquation: "NH3 + HCl -> NH4Cl", BackAnalyte: "NH3", C: uncertain.Exact(0.1),
		Trials: []AskedTrial{{Titre: uncertain.Exact(20), Sample: uncertain.Exact(1)}},
	}
	if _, err := Solve(q); len(problems(err)) != 1 || problems(err)[0].Field != "/trials/0/excess" {
		t.Errorf("%v", err)
	}
	q.Standardise, q.Trials[0].Excess = true, uncertain.Exact(5)
	if _, err := Solve(q); len(problems(err)) != 1 || problems(err)[0].Field != "/standardise" {
		t.Errorf("%v", err)
	}
}

// The reagent is followed like any bottle that a result depends on.
func TestBackFollowsItsBottles(t *testing.T) {
	r := chalk(t)
	roles := ""
	for _, s := range r.Uses().Sources {
		roles += s.Role + " "
	}
	if roles != "titrant reagent " {
		t.Error(roles)
	}
	bound := r.Bound(RoleReagent, run.Source{Bottle: "b9"}, 9).(Request) //nolint:errcheck // of this kind
	if bound.Back.Reagent.Bottle != "b9" || bound.Back.Reagent.Number != 9 || r.Back.Reagent.Number != 4 {
		t.Errorf("%+v", bound.Back.Reagent)
	}
	acid := bottled(number("acid", 0.11, 0.0001), "mol/L")
	plan, changed := r.From(RoleReagent, acid)
	if got := plan.(Request).Back.Reagent.C.Value; !changed || math.Abs(got-0.11) > 1e-12 ||
		r.Back.Reagent.C.Value != 0.1 { //nolint:errcheck // of this kind
		t.Errorf("%g", got)
	}
}
