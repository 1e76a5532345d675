package buffer

import (
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/equilibrium"
	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
)

// cyanophenol is a system that a lab might add: pKa 7.97 (handbooks, from memory).
var cyanophenol = equilibrium.System{
	Key: "own", Name: "4-cyanophenol", Base: "4-cyanophenolate", Acid: "C7H5NO",
	Constants: []equilibrium.Constant{{PKa: 7.97, U: 0.02}}, Source: "handbook",
}

func TestABufferOfALabsOwnSystem(t *testing.T) {
	q := ask(8.1, "own")
	q.Systems = []equilibrium.System{cyanophenol}
	if _, err := Solve(context.Background(), q); err == nil {
		t.Fatal("a buffer of what is not in the lab")
	}
	q.Substances = []substance.Substance{
		{Key: "cp", Name: "4-Cyanophenol", Formula: "C7H5NO", Class: substance.Secondary, Sources: map[string]string{"all": "label"}},
	}
	q.Shelf = []Stock{
		{Name: "Sodium 4-cyanophenolate", Formula: "NaC7H4NO", Concentration: uncertain.Exact(0.5), Bottle: "b7", Number: 7, Left: 500},
	}
	a := answer(t, q)
	if a.System != "own" || len(a.Routes) < 3 {
		t.Fatalf("%s: %d ways, want the acid with its salt and with two hydroxides", a.System, len(a.Routes))
	}
	first := a.Routes[0]
	if first.ID != "cp + b7" || first.Title != "4-Cyanophenol with Sodium 4-cyanophenolate, bottle 7" {
		t.Errorf("first: %s, %s", first.ID, first.Title)
	}
	// What it takes gives the pH wanted by the balance itself.
	r := a.Design.Request
	c, err := r.compose(8.1)
	if err != nil {
		t.Fatal(err)
	}
	s, err := r.Mixture(uncertain.Exact(c.Acid*0.25), uncertain.Exact(c.Base*0.25), uncertain.Exact(0), uncertain.Exact(250), uncertain.Exact(25)).
		Solver()
	if err != nil {
		t.Fatal(err)
	}
	if pH := s.Solve().PH; math.Abs(pH-8.1) > 1e-6 {
		t.Errorf("pH %.6f of what the recipe takes", pH)
	}
	if got := c.Acid + c.Base; math.Abs(got-0.1) > 1e-9 {
		t.Errorf("total %g mol/L", got)
	}
	q.Systems[0].Constants = []equilibrium.Constant{{PKa: 7}, {PKa: 6}}
	q.Systems[0].Acid = "C7H6NO+"
	if _, err := Solve(context.Background(), q); err == nil || !strings.Contains(fmt.Sprintf("%#v", err), "/systems/0/constants/1/pKa") {
		t.Errorf("constants out of order: %v", err)
	}
	q = ask(8.1, "")
	q.Substances = []substance.Substance{{Name: "nothing"}}
	if _, err := Solve(context.Background(), q); err == nil || !strings.Contains(fmt.Sprintf("%#v", err), "/substances/0") {
		t.Errorf("a substance without a formula: %v", err)
	}
}

// A pH of 6.90 for 7.00 is 1.4 % low, one of 7.10 for 7.00 1.4 % high (arithmetic).
func TestPercentErrorHasItsSign(t *testing.T) {
	for _, x := range []struct{ measured, want, u float64 }{{6.9, -1.42857, 0.285714}, {7.1, 1.42857, 0.285714}, {7, 0, 0.285714}} {
		got := percentError(uncertain.New(x.measured, 0.02, uncertain.Source{ID: "pH"}), 7)
		if math.Abs(got.Value-x.want) > 1e-4 || math.Abs(got.U()-x.u) > 1e-4 {
			t.Errorf("%g for 7: %.4f ± %.4f %%", x.measured, got.Value, got.U())
		}
	}
}

// What brings a buffer to its pH is as strong as its bottle says.
func TestReagentsFromTheShelf(t *testing.T) {
	q := ask(7, "phosphoric")
	lye := Stock{
		Name: "Sodium hydroxide solution", Formula: "NaOH", Bottle: "b5", Number: 5,
		Concentration: uncertain.New(0.4, 0.001, uncertain.Source{ID: "lye", Label: "lye"}),
	}
	acid := Stock{Name: "Hydrochloric acid", Formula: "HCl", Concentration: uncertain.Exact(2), Bottle: "b6", Number: 6}
	q.Shelf = []Stock{lye, acid}
	q.AcidBottle, q.BaseBottle = "b6", "b5"
	r := answer(t, q).Design.Request
	if got := r.with(false); got != "sodium hydroxide solution, 0.4 mol/L, bottle 5" {
		t.Error(got)
	}
	if got := r.with(true); got != "hydrochloric acid, 2 mol/L, bottle 6" {
		t.Error(got)
	}
	m := r.Mixture(uncertain.Exact(0.0125), uncertain.Exact(0.0125), uncertain.Exact(0), uncertain.Exact(250), uncertain.Exact(25))
	byBottle, err := r.Advise(m, 150, 6.5, 7)
	if err != nil {
		t.Fatal(err)
	}
	plain := answer(t, ask(7, "phosphoric")).Design.Request
	byDefault, err := plain.Advise(m, 150, 6.5, 7)
	if err != nil || byBottle.Acid || math.Abs(byBottle.All/byDefault.All-1/0.4) > 1e-9 {
		t.Errorf("%.3f mL of 0.4 mol/L beside %.3f of 1 mol/L (%v)", byBottle.All, byDefault.All, err)
	}
	roles := map[string]string{}
	for _, s := range r.Uses().Sources {
		roles[s.Role] = s.Bottle
	}
	if roles[RoleAdjustAcid] != "b6" || roles[RoleAdjustBase] != "b5" {
		t.Errorf("%v", roles)
	}
	moved := lye
	moved.Concentration = uncertain.Exact(0.39)
	product := run.Product{Figures: []figure.Figure{figure.New("c", "c", "mol/L", moved.Concentration).As(figure.Concentration)}}
	next, changed := r.From(RoleAdjustBase, product)
	if is := next.(Request); !changed || is.strength(false).Value != 0.39 || is.strength(true).Value != 2 { //nolint:errcheck // its own kind
		t.Errorf("%v %v", changed, is.strength(false).Value)
	}
	if _, changed := next.(Request).From(RoleAdjustBase, product); changed { //nolint:errcheck // its own kind
		t.Error("changed though nothing moved")
	}
	if _, changed := plain.From(RoleAdjustAcid, product); changed {
		t.Error("changed without a bottle")
	}
	there := r.Bound(RoleAdjustAcid, run.Source{Bottle: "other"}, 8).(Request) //nolint:errcheck // its own kind
	if there.AcidStock.Bottle != "other" || there.AcidStock.Number != 8 || r.AcidStock.Bottle != "b6" {
		t.Errorf("%+v", there.AcidStock)
	}
	for field, change := range map[string]func(*Question){
		"/acidBottle": func(q *Question) { q.AcidBottle = "b5" },
		"/baseBottle": func(q *Question) { q.BaseBottle = "nowhere" },
		"/strongAcid": func(q *Question) { q.StrongAcid = 20 },
		"/strongBase": func(q *Question) { q.StrongBase = 0.0001 },
	} {
		bad := q
		change(&bad)
		if _, err := Solve(context.Background(), bad); err == nil || !strings.Contains(fmt.Sprintf("%#v", err), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}
