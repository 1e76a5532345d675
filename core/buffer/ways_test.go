package buffer

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// Pairs that teaching laboratories use (common practice): each can be asked for, and comes to its
// pH; those of a system's own two salts are among the ways that are worked out at once, or named.
func TestWaysThatPeopleUse(t *testing.T) {
	for _, x := range []struct {
		system     string
		target     float64
		acid, base string
	}{
		{"phosphoric", 7.2, "potassium-dihydrogen-phosphate", "disodium-hydrogen-phosphate"},
		{"phosphoric", 7.0, "sodium-dihydrogen-phosphate-monohydrate", "disodium-hydrogen-phosphate-heptahydrate"},
		{"citric", 4.8, "citric-acid-monohydrate", "trisodium-citrate-dihydrate"},
		{"boric", 8.8, "hydrochloric-acid", "borax"},
		{"boric", 8.8, "boric-acid", "borax"},
		{"boric", 9.6, "borax", "sodium-hydroxide"},
	} {
		q := ask(x.target, x.system)
		first := answer(t, q)
		q.Route = x.acid + " + " + x.base
		named := slices.ContainsFunc(first.Routes, isOf(q.Route)) ||
			slices.ContainsFunc(first.Others, func(o Other) bool { return o.ID == q.Route })
		if !named {
			t.Errorf("%s at pH %g is not named", q.Route, x.target)
		}
		a, err := Solve(context.Background(), q)
		if err != nil {
			t.Errorf("%s: %v", q.Route, err)
			continue
		}
		if got := a.Design.Lines[0].Figures[0].Value; a.Route != q.Route || math.Abs(got-x.target) > 1e-3 || len(a.Routes) > maxRoutes {
			t.Errorf("%s: pH %.4f, %d ways", a.Route, got, len(a.Routes))
		}
	}
}

// No way is listed that cannot reach the pH: between 8.2 and 9.15 borax takes acid, not base.
func TestNoWayThatMissesThePH(t *testing.T) {
	for pH := 8.3; pH < 9.2; pH += 0.2 {
		a := answer(t, ask(pH, "boric"))
		for _, w := range a.Routes {
			if w.Problem != "" || strings.HasPrefix(w.ID, "borax + sodium-hydroxide") {
				t.Errorf("pH %.1f: %s, %s", pH, w.Title, w.Problem)
			}
		}
	}
	q := ask(8.5, "boric")
	q.Route = "borax + sodium-hydroxide"
	var p verdict.Problems
	if _, err := Solve(context.Background(), q); !errors.As(err, &p) || p[0].Field != "/route" ||
		!strings.Contains(p[0].Reason, "do not reach this pH") {
		t.Errorf("asked for by name: %v", err)
	}
	// A way with a solid in it, chosen before further pH were asked for, makes no row.
	q = ask(4.7, "acetic")
	for _, w := range answer(t, q).Routes {
		if q.Route = w.ID; !w.Acid.Liquid() || !w.Base.Liquid() {
			break
		}
	}
	q.Targets = []float64{5.0}
	if _, err := Solve(context.Background(), q); !errors.As(err, &p) || p[0].Field != "/targets" || !strings.Contains(p[0].Reason, "has a solid in it") {
		t.Errorf("a row from %s: %v", q.Route, err)
	}
}

// Two stocks exactly as strong as the buffer make it, without water; what stands on the shelf
// comes first, and what a lab entered itself before the rest of the library.
func TestWaysOfWhatALabOwns(t *testing.T) {
	q := ask(7.0, "phosphoric")
	for i, s := range []struct{ name, formula string }{{"Potassium dihydrogen phosphate", "KH2PO4"}, {"Disodium hydrogen phosphate", "Na2HPO4"}} {
		q.Shelf = append(
			q.Shelf,
			Stock{
				Name:          s.name,
				Formula:       s.formula,
				Concentration: uncertain.Exact(0.1),
				Bottle:        fmt.Sprint("b", i),
				Number:        int64(i + 1),
				Left:          500,
			},
		)
	}
	a := answer(t, q)
	if a.Route != "b0 + b1" || a.Routes[0].Problem != "" {
		t.Fatalf("%s: %+v", a.Route, a.Routes[0])
	}
	c := a.Design.Lines[0].mix
	if sum := 10 * (c.Acid + c.Base); math.Abs(sum-1) > 1e-9 {
		t.Errorf("%.6f of the volume", sum)
	}
	// Thinner than the buffer they do not serve, and stocks of another system are no stock of it.
	q.Shelf[0].Concentration = uncertain.Exact(0.0999)
	if a := answer(t, q); slices.ContainsFunc(a.Routes, func(r Route) bool { return r.Acid.Bottle == "b0" }) {
		t.Error("a stock thinner than the buffer is offered")
	}
	q = ask(4.7, "acetic")
	q.Shelf = []Stock{{Name: "Sodium hydroxide", Formula: "NaOH", Concentration: uncertain.Exact(1), Bottle: "b9", Number: 9, Left: 500}}
	a = answer(t, q)
	for _, c := range a.Candidates {
		if c.OnShelf {
			t.Errorf("%s is said to be on the shelf because sodium hydroxide is", c.Name)
		}
	}
	q = ask(7.0, "phosphoric")
	q.Substances = []substance.Substance{
		{
			Key:     "mine",
			Name:    "Disodium phosphate of ours",
			Formula: "Na2HPO4.12H2O",
			Class:   substance.Secondary,
			Sources: map[string]string{"all": "label"},
		},
	}
	if a := answer(t, q); a.Routes[0].Base.Substance.Key != "mine" {
		t.Errorf("first: %s", a.Routes[0].Title)
	}
}

// A strong base stands on every bench: a bottle of it comes before any other, and does not displace the
// two salts of the system.
func TestAStrongBaseOfItsOwn(t *testing.T) {
	q := ask(7, "phosphoric")
	before := answer(t, q).Routes[0].ID
	q.Shelf = []Stock{{Name: "Sodium hydroxide", Formula: "NaOH", Concentration: uncertain.Exact(0.1), Bottle: "b9", Number: 9, Left: 500}}
	routes := answer(t, q).Routes
	if routes[0].ID != before {
		t.Errorf("%s comes before %s", routes[0].ID, before)
	}
	own := slices.IndexFunc(routes, func(r Route) bool { return r.Base.Bottle == "b9" })
	other := slices.IndexFunc(routes, func(r Route) bool { return r.Base.Substance.Formula == "NaOH" && r.Base.Bottle == "" })
	if own < 0 || other >= 0 && other < own {
		t.Errorf("the bottle at %d, another sodium hydroxide at %d", own, other)
	}
}

// An ionic strength below the buffer's own cannot be made by adding salt.
func TestStrengthBelowTheBuffersOwn(t *testing.T) {
	q := ask(7.2, "phosphoric")
	q.Strength = 0.05
	var p verdict.Problems
	if _, err := Solve(context.Background(), q); !errors.As(err, &p) || p[0].Field != "/strength" ||
		!strings.Contains(p[0].Reason, "ionic strength of 0.2") {
		t.Errorf("%v", err)
	}
	q.Strength = 0.3
	if a := answer(t, q); a.Design.Lines[0].mix.Salt <= 0 {
		t.Error("no salt for an ionic strength above it")
	}
}

// A search ends with its context.
func TestDesignEndsWithItsContext(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Solve(ctx, ask(7.2, "phosphoric")); !errors.Is(err, context.Canceled) {
		t.Errorf("%v", err)
	}
}

// A lab with as many bottles and substances as a question may bring.
func BenchmarkDesignOfALargeLab(b *testing.B) {
	q := Question{Target: 7.2, Celsius: 25, Concentration: quantity.Typed("0.1 mol/L"), Volume: quantity.Typed("250 mL")}
	for i := range 500 {
		q.Shelf = append(q.Shelf, Stock{
			Name: "Phosphate", Formula: []string{"KH2PO4", "Na2HPO4", "NaOH", "HCl"}[i%4],
			Concentration: uncertain.Exact(0.2 + 0.01*float64(i)), Bottle: fmt.Sprint("b", i), Number: int64(i + 1), Left: 500,
		})
		q.Substances = append(
			q.Substances,
			substance.Substance{
				Key: fmt.Sprint("s", i), Name: "Phosphate", Formula: []string{"KH2PO4", "Na2HPO4"}[i%2],
				Class: substance.Secondary, Sources: map[string]string{"all": "label"},
			},
		)
	}
	for b.Loop() {
		if _, err := Solve(context.Background(), q); err != nil {
			b.Fatal(err)
		}
	}
}

// The estimate counts the salt that a strong acid forms with a salt of the system: phosphate at
// 0.1 mol/L from Na2HPO4 and HCl has more ions than from two phosphates, and so a lower pH.
func TestEstimateCountsTheSaltThatIsFormed(t *testing.T) {
	of := func(route string) float64 {
		q := ask(6.8, "phosphoric")
		q.Route = route
		a := answer(t, q)
		var pH float64
		if _, err := fmt.Sscan(a.Design.Estimate.PH, &pH); err != nil {
			t.Fatal(err)
		}
		return pH
	}
	salts, acid := of("potassium-dihydrogen-phosphate + disodium-hydrogen-phosphate"), of("hydrochloric-acid + disodium-hydrogen-phosphate")
	// By hand, Davies: I = 0.1·(1·x + 3·(1−x)) with x = 0.714 of H2PO4⁻ is 0.157 mol/L; with HCl every
	// Na2HPO4 keeps its two sodiums, I = 0.1·(1 + (0.5·(x + 4·(1−x)) + 0.5·x)) = 0.229 mol/L.
	shift := func(strength float64) float64 {
		root := math.Sqrt(strength)
		return -3 * 0.509 * (root/(1+root) - 0.3*strength)
	}
	if math.Abs(salts-(6.8+shift(0.157))) > 0.03 || math.Abs(acid-(6.8+shift(0.229))) > 0.03 || acid >= salts {
		t.Errorf("estimates: %.2f from two salts, %.2f with acid; by hand %.3f and %.3f", salts, acid, 6.8+shift(0.157), 6.8+shift(0.229))
	}
}

// So little of a concentrated acid is not measured: a stock is made first. Just under, at and over the millilitre.
func TestDropsOfAConcentratedLiquid(t *testing.T) {
	q := ask(4.7, "acetic")
	q.Concentration, q.Volume = quantity.Typed("0.002 mol/L"), quantity.Typed("100 mL")
	q.Route = "acetic-acid-glacial + sodium-acetate"
	v, ok := says(answer(t, q).Design.Verdicts, "B-14")
	if !ok || !strings.HasPrefix(v.Sentence, "0.01 mL of acetic acid") ||
		!strings.Contains(v.Sentence, "Make a stock of about 0.01 mol/L first") {
		t.Errorf("%+v", v)
	}
	for limit, want := range map[float64]bool{0.9: false, 1.1: true} {
		q := ask(4.7, "acetic")
		q.Route = "acetic-acid-glacial + sodium-acetate"
		a := answer(t, q)
		glacial := a.Design.Request.Acid
		q.Thresholds = verdict.Thresholds{"B-14": limit * glacial.For(a.Design.Lines[0].mix.Acid*0.25)}
		if _, ok := says(answer(t, q).Design.Verdicts, "B-14"); ok != want {
			t.Errorf("%.1f of the limit: %t", 1/limit, ok)
		}
	}
}

// A balance that failed its last check is named first, whatever else there is to say.
func TestABalanceThatFailedItsCheck(t *testing.T) {
	q := ask(7, "phosphoric")
	q.Balance = weighing.Usual()
	q.Balance.FailedCheck = true
	list := answer(t, q).Design.Verdicts
	if len(list) == 0 || list[0].Rule != weighing.RuleCheck.ID || list[0].Level != verdict.Stop {
		t.Errorf("%+v", list)
	}
	q.Balance.FailedCheck = false
	for _, v := range answer(t, q).Design.Verdicts {
		if v.Rule == weighing.RuleCheck.ID {
			t.Errorf("a sound one: %s", v.Sentence)
		}
	}
}
