package titration

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// ore is a solid of which so many g are made up to 250 mL, and 25 mL of that titrated with
// permanganate.
func ore(t testing.TB, grams, permanganate float64) Request {
	r := iron(t)
	r.Diluted, r.Density = 0, 0
	r.Titrant.C = number("c", permanganate, permanganate*0.002)
	r.Sample = Solution{Name: "Pond ochre"}
	r.Dissolved = &Dissolved{Mass: grams, Flask: glassware.Flask{Volume: 250, Class: glassware.ClassA}}
	return r
}

// madeUp goes through what comes before the trials.
func (b *bench) madeUp(grams float64) {
	b.T.Helper()
	b.State(fact.Fact{Kind: KindSolid, Quantity: inGrams(b.T, grams)})
	b.State(fact.Fact{Kind: KindMark, Choice: choiceReached})
	n := 20
	b.State(fact.Fact{Kind: run.KindMixed, Count: &n})
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
}

// Skoog, West, Holler, Crouch, Fundamentals of Analytical Chemistry, worked example of volumetric
// calculations (from memory): 0.8040 g of an iron ore take 47.22 mL of 0.02242 mol/L permanganate, so
// 36.8 % Fe. Here it is ten times as much in 250 mL, of which 25 mL are titrated.
func TestIronInAnOre(t *testing.T) {
	b := on(t, ore(t, 8, 0.02242))
	b.madeUp(8.0400)
	b.trial(0, "0.00", "47.22")
	b.trial(1, "0.00", "47.22")
	out := b.trial(2, "0.00", "47.22")
	f := byID(out)
	if w := f["solid %"]; math.Abs(w.Value-36.8) > 0.05 || w.Label != "part by mass that is Fe^2+" {
		t.Errorf("%+v", w)
	}
	if out.Figures[0].ID != "solid %" || math.Abs(f["c"].Value-5*47.22*0.02242/25) > 1e-9 || f["c"].Label != "Fe^2+ in pond ochre, made up" {
		t.Errorf("%+v", out.Figures)
	}
	// b = c·V/m
	if b := f["solid in each gram"]; math.Abs(b.Value-1000*f["c"].Value*0.25/8.04) > 1e-9 || b.Unit != "mmol/g" {
		t.Errorf("%+v", b)
	}
	b.explains(out)
	// What the flask, the mass and the temperature add to that of the concentration: ISO 1042 has
	// ±0.15 mL for 250 mL of class A.
	flask := math.Hypot(uncertain.Triangular(0.15)/250, b.Plan.Dissolved.Flask.Filling()/250)
	mass := b.Plan.Balance.Net(8.04, 0, "m").Relative()
	warm := uncertain.Rectangular(4 * 2.1e-4)
	molar := 0.002 / 55.845 // CIAAW
	want := f["c"].Relative()*f["c"].Relative() + flask*flask + mass*mass + warm*warm
	if got := f["solid in each gram"].Relative(); math.Abs(got-math.Sqrt(want)) > 1e-7 {
		t.Errorf("u of the amount %g, not %g", got, math.Sqrt(want))
	}
	if got := f["solid %"].Relative(); math.Abs(got-math.Sqrt(want+molar*molar)) > 1e-5 {
		t.Errorf("u of the part %g, not %g", got, math.Sqrt(want+molar*molar))
	}
	if uses := b.Plan.Uses(); len(uses.Instruments) != 1 || uses.Instruments[0] != b.Plan.Balance.Name {
		t.Errorf("%+v", uses)
	}
	runtest.Drew(t, out, map[string]float64{RoleTitrant: 3*47.22 + 15, RoleSample: 75, RoleReagent: 0})
}

// A known solid: what it would take is known, and its part by mass counts its own formula.
func TestPurityOfADissolvedSalt(t *testing.T) {
	r := ore(t, 9.8, 0.02)
	salt := substance.Substance{Key: "mohr", Name: "Mohr’s salt", Formula: "Fe(NH4)2(SO4)2·6H2O"}
	r.Substance, r.Sample = &salt, Solution{Name: salt.Name, Formula: salt.Formula, Units: 1}
	// 9.8 g / 392.14 g/mol in 250 mL is 0.09996 mol/L; 25 mL of that take a fifth of it over 0.02 mol/L.
	if v := r.Expected(); math.Abs(v-25*0.09996/5/0.02) > 0.01 {
		t.Errorf("%g mL", v)
	}
	b := on(t, r)
	d, err := r.Design()
	design := d.(Design) //nolint:errcheck // its own kind
	if err != nil || !strings.HasSuffix(design.Sample, "by pipette, of about 9.8000 g made up to 250 mL") ||
		!strings.Contains(design.Prospect, "2 trials that agree would give it to about ± 0.4") {
		t.Errorf("%+v %v", design, err)
	}
	b.madeUp(9.8000)
	b.trial(0, "0.00", "24.50")
	out := b.trial(1, "0.00", "24.50")
	if w := byID(out)["solid %"]; math.Abs(w.Value-100*24.5/24.99) > 0.01 || w.Label != "part by mass that is Fe(NH4)2(SO4)2·6H2O" {
		t.Errorf("%+v", w)
	}
	b.explains(out)
}

// A salt that contains two of what is titrated counts half.
func TestUnitsOfADissolvedSalt(t *testing.T) {
	r := ore(t, 5, 0.02)
	salt := substance.Substance{Key: "ferric", Name: "Iron(III) sulfate", Formula: "Fe2(SO4)3"}
	r.Substance, r.Sample = &salt, Solution{Name: salt.Name, Formula: salt.Formula, Units: 2}
	r.Diluted = 4
	b := on(t, r)
	b.madeUp(5)
	b.trial(0, "0.00", "10.00")
	out := b.trial(1, "0.00", "10.00")
	// 0.02 mol/L × 5 × 10/25 × 4 × 0.25 L / 2 × 399.87 g/mol / 5 g
	if w := byID(out)["solid %"]; math.Abs(w.Value-100*0.04*4*0.25/2*399.87/5) > 0.01 {
		t.Errorf("%+v", w)
	}
	b.explains(out)
	lines, err := b.Plan.Explain(b.Facts, "solid %")
	if text := fmt.Sprint(lines); err != nil || !strings.Contains(text, "z: Fe^2+ that each Fe2(SO4)3 contains") ||
		!strings.Contains(text, "F: how many times it had been diluted") {
		t.Errorf("%s %v", text, err)
	}
}

// Soda of a bag: both salts as parts by mass of what was weighed.
func TestPairInADissolvedSolid(t *testing.T) {
	r := soda(t)
	r.Diluted = 0
	r.Dissolved = &Dissolved{Mass: 2.5, Flask: glassware.Flask{Volume: 250, Class: glassware.ClassA}}
	b := on(t, r)
	b.madeUp(2.5)
	var out run.Outcome
	for i := range 3 {
		out = b.both(i, "18.00", "25.00")
	}
	f := byID(out)
	// a1 = 0.072, a2 = 0.1 mol/L: 0.028 of carbonate, 0.044 of hydroxide; 0.25 L of that from 2.5 g.
	for id, want := range map[string]float64{
		"carbonate %": 0.028 * 0.25 * 105.988 / 2.5 * 100, "beside %": 0.044 * 0.25 * 39.997 / 2.5 * 100, "carbonate": 0.028,
		"beside in each gram": 4.4,
	} {
		if got := f[id]; math.Abs(got.Value-want) > 2e-4*want {
			t.Errorf("%s: %g, not %g", id, got.Value, want)
		}
	}
	if _, is := f["alkalinity"]; is {
		t.Error("the alkalinity of a solid is told")
	}
	b.explains(out)
}

func TestBeforeTheTrials(t *testing.T) {
	b := on(t, ore(t, 8, 0.02))
	out := b.Outcome()
	weigh := runtest.Now(t, out)
	if weigh.Title != "Weigh about 8.0000 g of pond ochre" || !weigh.ByDifference || weigh.Instrument != b.Plan.Balance.Name ||
		weigh.Expects != "8.0000 g" || len(weigh.Cautions) == 0 {
		t.Errorf("%+v", weigh)
	}
	if _, err := b.Try(fact.Fact{Kind: KindSolid, Quantity: inGrams(t, 300)}); err == nil {
		t.Error("more than the balance weighs")
	}
	out = b.State(fact.Fact{Kind: KindSolid, Quantity: inGrams(t, 10), After: inGrams(t, 1.96)})
	if s := out.Steps[0]; s.Summary != "Vessel 10.0000 g before, 1.9600 g after" {
		t.Errorf("%+v", s)
	}
	out = b.State(fact.Fact{Kind: KindMark, Choice: choicePastMark})
	if s := runtest.Now(t, out); s.ID != stepMakeUp || s.Verdicts[0].Level != verdict.Stop || s.Verdicts[0].Choices[0].ID != run.ChoiceStartAgain {
		t.Errorf("%+v", s)
	}
	past := b.Facts[1]
	out = b.State(fact.Fact{Kind: KindMark, Choice: choiceReached, Replaces: past.ID, Reason: "misread"})
	if s := runtest.Now(t, out); s.Kind != run.KindMixed || s.Default != "20" {
		t.Errorf("%+v", s)
	}
	few := 5
	out = b.State(fact.Fact{Kind: run.KindMixed, Count: &few})
	if s := runtest.Now(t, out); s.Default != "15" || says(s.Verdicts, run.RuleInversions.ID) == "" {
		t.Errorf("%+v", s)
	}
	rest := 15
	out = b.State(fact.Fact{Kind: run.KindMixed, Count: &rest})
	if s := runtest.Now(t, out); s.Kind != KindReady || out.Steps[2].Summary != "Inverted 20 times" {
		t.Errorf("%+v, %v", s, out.Steps[2].Summary)
	}
	if len(out.Readings) != 1 || out.Readings[0].Instrument != b.Plan.Balance.Name {
		t.Errorf("%+v", out.Readings)
	}
}

func TestWhatCannotBeDissolved(t *testing.T) {
	for field, change := range map[string]func(*Request){
		"/dissolved":       func(r *Request) { r.Standardise = true },
		"/by":              func(r *Request) { r.By, r.Mass = Weighed, 1 },
		"/dissolved/mass":  func(r *Request) { r.Dissolved.Mass = 500 },
		"/dissolved/flask": func(r *Request) { r.Dissolved.Flask.Volume = 240 },
		"/volume":          func(r *Request) { r.Dissolved.Flask.Volume = 10 },
	} {
		r := ore(t, 8, 0.02)
		change(&r)
		err := r.check()
		found := false
		for _, p := range problems(err) {
			found = found || p.Field == field
		}
		if !found {
			t.Errorf("%s: %v", field, err)
		}
	}
	small := ore(t, 8, 0.02)
	small.Dissolved.Flask.Volume = 50
	if v := small.judgeFlask(); len(v) != 1 || !strings.HasPrefix(v[0].Sentence, "3 trials of 25 mL are more than the 50 mL of the flask") {
		t.Errorf("%+v", v)
	}
	small.Diluted = 10
	if v := small.judgeFlask(); v != nil {
		t.Errorf("diluted further: %+v", v)
	}
}

// A dilution that was typed is known as well as the rule has it.
func TestTypedDilution(t *testing.T) {
	r := iron(t)
	if f := r.factor(); f.Value != 10 || math.Abs(f.U()-10*0.002/math.Sqrt(3)) > 1e-12 {
		t.Errorf("%g ± %g", f.Value, f.U())
	}
	r.Thresholds = verdict.Thresholds{run.RuleFactor.ID: 0}
	if f := r.factor(); f.U() != 0 {
		t.Errorf("exact, and ± %g", f.U())
	}
}
