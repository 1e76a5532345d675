package titration

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/droptip"
	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
)

func prospectOf(t *testing.T, r Request) string {
	t.Helper()
	d, err := r.Design()
	if err != nil {
		t.Fatal(err)
	}
	return d.(Design).Prospect //nolint:errcheck // its own kind
}

// What two trials would give is worked out by hand (JCGM 100): the pipette and the burette are the same
// in both, deliveries, readings and end points are not. Tolerances of class A: ISO 648 and ISO 385.
func TestProspectByHand(t *testing.T) {
	square := func(x float64) float64 { return x * x }
	const triangular, rectangular = 6, 3
	both := square(0.0001/0.1) + square(0.03/25)/triangular + square(0.05/25)/triangular
	each := square(0.01/25) + 2*square(0.02/25)/rectangular + square(0.025/25)/rectangular
	u := math.Sqrt(both + each/2)
	want := fmt.Sprintf("2 trials that agree would give it to about ±\u00a0%.2f\u00a0%%; most of that is the khp (%.0f %%).", 200*u, 100*square(0.001)/square(u))
	if got := prospectOf(t, lye(t)); got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
}

// It is what a run gives whose trials come out as expected.
func TestProspectIsKept(t *testing.T) {
	r := lye(t)
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.trial(0, "0.00", "25.00")
	b.trial(1, "0.00", "25.00")
	out := b.trial(2, "0.00", "25.00")
	f := out.Figures[0]
	if want := fmt.Sprintf("±\u00a0%.2f", 100*f.Expanded/f.Value); !strings.Contains(prospectOf(t, r), want) {
		t.Errorf("%s, found %s", prospectOf(t, r), want)
	}
}

// So it is of a back titration, each trial with an excess of its own.
func TestProspectOfABackTitration(t *testing.T) {
	r := chalk(t)
	r.Substance = &substance.Substance{Key: "calcium-carbonate", Name: "Calcium carbonate", Formula: "CaCO3", Assay: 1}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	titre := fmt.Sprintf("%.2f", r.Expected())
	b.weighed(0, titre)
	b.weighed(1, titre)
	f := b.weighed(2, titre).Figures[0]
	if want := fmt.Sprintf("±\u00a0%.2f", 100*f.Expanded/f.Value); !strings.Contains(prospectOf(t, r), want) {
		t.Errorf("%s, found %s", prospectOf(t, r), want)
	}
}

// A sample from a second burette, by hand: that burette is the one of the titrant, so that its tolerance
// cancels, and two readings go with each portion.
func TestProspectOfASecondBurette(t *testing.T) {
	r := lye(t)
	r.By, r.Glass = ByBurette, burette()
	square := func(x float64) float64 { return x * x }
	each := 4*square(0.02/25)/3 + square(0.025/25)/3
	u := math.Sqrt(square(0.001) + each/2)
	if want := fmt.Sprintf("±\u00a0%.2f\u00a0%%", 200*u); !strings.Contains(prospectOf(t, r), want) {
		t.Errorf("%s, want %s", prospectOf(t, r), want)
	}
}

// Of two end points nothing is said beforehand: what is found is what stands beside the carbonate.
func TestNoProspectOfAPair(t *testing.T) {
	r := iron(t)
	r.Reaction, r.Diluted, r.Density = find(t, "carbonate-both"), 0, 0
	r.Titrant = Solution{Name: "Hydrochloric acid", Formula: "HCl", Units: 1, C: number("acid", 0.1, 0.0001)}
	r.Sample = Solution{Name: "Soda", Formula: "Na2CO3", Units: 1, C: number("soda", 0.05, 0.0001)}
	if r.Expected() == 0 || prospectOf(t, r) != "" {
		t.Errorf("%g mL expected: %s", r.Expected(), prospectOf(t, r))
	}
}

func TestProspectOfOtherWays(t *testing.T) {
	weighed := iron(t)
	weighed.By, weighed.Mass = Weighed, 0.5
	if got := prospectOf(t, weighed); got != "" {
		t.Errorf("nothing is known of an unknown: %s", got)
	}
	for name, change := range map[string]func(*Request){
		"burette": func(r *Request) { r.By, r.Glass = ByBurette, burette() },
		"cylinder": func(r *Request) {
			r.By, r.Glass = ByCylinder, glassware.Item{Kind: glassware.Cylinder, Volume: 25, Class: glassware.ClassB, Count: 1}
		},
		"drops": func(r *Request) {
			tip := droptip.Uncounted("a dropper", 0.05)
			r.Tip, r.Volume = &tip, 5
			r.Glass = pipette(5)
		},
	} {
		r := lye(t)
		change(&r)
		got := prospectOf(t, r)
		most := map[string]string{"burette": "khp", "cylinder": "25 mL cylinder", "drops": "volume of a drop"}[name]
		if !strings.Contains(got, "most of that is the "+most+" (") {
			t.Errorf("%s: %s", name, got)
		}
	}
	none := lye(t)
	if none.Titrant.C = (uncertain.Number{}); prospectOf(t, none) != "" {
		t.Error("a prospect without an expected titre")
	}
}

// What is needed of each bottle: three trials of 25 mL and two rinsings of a 50 mL burette with 5 mL.
func TestNeedsOfTheShelf(t *testing.T) {
	needs := func(r Request) map[string]float64 {
		list := map[string]float64{}
		for _, s := range r.Uses().Sources {
			list[s.Role] = s.Needs
		}
		return list
	}
	if got := needs(lye(t)); got["standardises"] != 90 || got[RoleSample] != 75 {
		t.Errorf("%v", got)
	}
	if got := needs(iron(t)); got[RoleTitrant] != 0 {
		t.Errorf("of an unknown: %v", got)
	}
	r := chalk(t)
	if got := needs(r)[RoleReagent]; got != 3*r.Back.Volume {
		t.Errorf("%g mL of the excess, want three times %g", got, r.Back.Volume)
	}
}

// A bottle that takes over what is found is not what the result depends on, and is named.
func TestABottleThatTakesItOver(t *testing.T) {
	r := iron(t)
	r.Diluted, r.Density = 0, 0
	r.Sample = Solution{Name: "Pond iron", Formula: "FeSO4", Units: 1, Bottle: "b7", Number: 7}
	of := func(r Request) (roles []string) {
		for _, s := range r.Uses().Sources {
			roles = append(roles, s.Role+" "+s.Bottle)
		}
		return roles
	}
	if got := fmt.Sprint(of(r)); got != "[titrant b3 sample b7]" {
		t.Error(got)
	}
	r.Settles = true
	if got := fmt.Sprint(of(r)); got != "[titrant b3 standardises b7]" {
		t.Error(got)
	}
	d, err := r.Design()
	if err != nil || d.(Design).Settles != 7 { //nolint:errcheck // its own kind
		t.Errorf("%+v %v", d, err)
	}
	if d, err := lye(t).Design(); err != nil || d.(Design).Settles != 2 { //nolint:errcheck // its own kind
		t.Errorf("the bottle that is standardised: %+v %v", d, err)
	}
	// Two irons in each unit of the salt: the bottle has half as much of it.
	two := r
	two.Sample.Formula, two.Sample.Units = "Fe2(SO4)3", 2
	b := on(t, two)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.trial(0, "0.00", "20.00")
	b.trial(1, "0.00", "20.00")
	b.trial(2, "0.00", "20.00")
	out := b.State(decide(3, choiceEnough))
	is := out.Products[0].Detail.(run.Standardisation) //nolint:errcheck // as it is asked for
	if want := 0.02 * 20 / 25 * 5 / 2; is.Bottle != "b7" || math.Abs(is.C.Value/want-1) > 1e-9 {
		t.Errorf("%g mol/L in %s, want %g", is.C.Value, is.Bottle, want)
	}
	there := r.Bound(run.RoleStandardises, run.Source{Bottle: "other"}, 9).(Request) //nolint:errcheck // its own kind
	if there.Sample.Bottle != "other" || there.Sample.Number != 9 || there.Titrant.Bottle != "b3" {
		t.Errorf("%+v", there)
	}
	for name, change := range map[string]func(*Request){
		"standardised": func(r *Request) { *r = lye(t); r.Settles = true },
		"unknown":      func(r *Request) { r.Sample.Bottle = "" },
		"diluted":      func(r *Request) { r.Diluted = 10 },
		"weighed":      func(r *Request) { r.By, r.Mass = Weighed, 0.5 },
		"a pair":       func(r *Request) { r.Reaction = find(t, "carbonate-both") },
	} {
		r := r
		change(&r)
		if _, err := r.Design(); err == nil || !strings.Contains(err.Error(), "undiluted sample from a bottle") {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// The verdict on the curve is about the indicator that the titration is carried out with, where that
// serves; where it does not, that is said. Acetic acid with methyl orange is the textbook mistake.
func TestTheIndicatorAtHandIsJudged(t *testing.T) {
	r := lye(t)
	d, err := r.Design()
	if err != nil {
		t.Fatal(err)
	}
	curve := d.(Design).Curve //nolint:errcheck // its own kind
	if got := says(curve.Verdicts, "T-14"); !strings.Contains(got, "fine: The end point, at 25.00 mL and pH 8.8: phenolphthalein, colourless") {
		t.Error(got)
	}
	r.Reaction.Indicator = "thymol blue"
	if d, err = r.Design(); err != nil || !strings.HasPrefix(says(d.(Design).Curve.Verdicts, "T-14"), "fine: The end point") || //nolint:errcheck // its own kind
		d.(Design).Curve.Equivalences[0].Indicators[0].Name != "thymol blue, in base" { //nolint:errcheck // its own kind
		t.Errorf("%+v %v", d, err)
	}
	r.Reaction.Indicator = "methyl orange"
	d, err = r.Design()
	if err != nil {
		t.Fatal(err)
	}
	if got := says(d.(Design).Curve.Verdicts, "T-14"); !strings.HasPrefix(got, "look: Methyl orange does not show it well. The end point, at 25.00 mL") { //nolint:errcheck // its own kind
		t.Error(got)
	}
}
