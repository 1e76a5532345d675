package buffer

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// onTheShelf is a stock with its bottle.
func onTheShelf(i Ingredient, bottle string, number int64) Stock {
	return Stock{
		Name: i.Substance.Name, Formula: i.Substance.Formula, Key: i.Substance.Key,
		Concentration: i.Stock, Bottle: bottle, Number: number, Left: 500,
	}
}

// byVolumes is a row of phosphate from two stocks of 1/15 mol/L, at 20 °C.
func byVolumes(t testing.TB, mixes ...Mix) Question {
	q := ask(7, "phosphoric")
	q.Celsius, q.Mixes = 20, mixes
	q.Shelf = []Stock{
		onTheShelf(stock(t, "potassium-dihydrogen-phosphate", 1./15), "a", 3),
		onTheShelf(stock(t, "disodium-hydrogen-phosphate", 1./15), "b", 4),
	}
	q.Route = "a + b"
	return q
}

// Sørensen’s table of phosphates of 1/15 mol/L (Biochem. Z. 21 (1909) 131; from memory): mL of Na2HPO4
// in 10 mL, and the pH on his scale at 18 to 20 °C, which lies 0.04 below that of activities (Bates,
// Determination of pH).
func TestSorensensTable(t *testing.T) {
	table := []struct{ base, pH float64 }{
		{1, 5.906}, {2, 6.239}, {3, 6.468}, {4, 6.643}, {5, 6.813}, {6, 6.979}, {7, 7.168}, {8, 7.381}, {9, 7.731},
	}
	var mixes []Mix
	for _, x := range table {
		mixes = append(mixes, Mix{Acid: 10 - x.base, Base: x.base})
	}
	a := answer(t, byVolumes(t, mixes...))
	for i, l := range a.Design.Lines {
		if off := l.Target - table[i].pH - 0.04; math.Abs(off) > 0.03 {
			t.Errorf("%g mL of Na2HPO4 in 10: pH %.3f, off by %.3f", table[i].base, l.Target, off)
		}
		if l.Total != "0.0667" || l.Takes[1].Amount != fmt.Sprintf("%.2f mL", table[i].base) || math.Abs(l.Figures[0].Value-l.Target) > 1e-9 {
			t.Errorf("%+v", l)
		}
	}
	if !a.Design.ByVolume || a.Design.Request.Title() != fmt.Sprintf("Phosphate buffer, 0.0667 mol/L, pH %.2f and 8 more", a.Design.Lines[0].Target) {
		t.Errorf("%q", a.Design.Request.Title())
	}
}

// What is mixed is what there is: each tube has a concentration of its own, and no mark.
func TestRowByVolumes(t *testing.T) {
	q := byVolumes(t, Mix{Acid: 5, Base: 1}, Mix{Acid: 2, Base: 8})
	q.Shelf[1].Concentration = uncertain.New(0.2, 0.0004, uncertain.Source{ID: "b", Label: "stock"})
	r := answer(t, q).Design.Request
	b := on(t, r)
	var out run.Outcome
	for tube, volumes := range [][2]string{{"5.00 mL", "1.10 mL"}, {"2.00 mL", "8.00 mL"}} {
		b.State(mLOf(KindMeasured, 2*tube, volumes[0]))
		out = b.State(mLOf(KindMeasured, 2*tube+1, volumes[1]))
		if s := runtest.Now(t, out); s.Kind != run.KindMixed {
			t.Fatalf("after both stocks comes %+v", s)
		}
		out = b.State(fact.Fact{Kind: run.KindMixed, Part: 2 * tube, Count: twenty()})
	}
	runtest.Drew(t, out, map[string]float64{RoleAcid: 7, RoleBase: 9.1, RoleAdjustAcid: 0, RoleAdjustBase: 0})
	// (5.00 mL × 1/15 mol/L + 1.10 mL × 0.2 mol/L) / 6.10 mL
	at := slices.IndexFunc(out.Figures, func(f figure.Figure) bool { return f.ID == "total 1" })
	if want := (5./15 + 1.1*0.2) / 6.1; at < 0 || math.Abs(out.Figures[at].Value-want) > 1e-9 {
		t.Errorf("%+v, not %.5f mol/L", out.Figures, want)
	}
	// The second is read low, by less acid than was meant, and is brought up.
	out = b.State(reads(KindFinal, 0, fmt.Sprintf("%.2f", r.Target)))
	low := fmt.Sprintf("%.2f", r.Row[0]-0.2)
	out = b.State(reads(KindFinal, 2, low))
	if s := runtest.Now(t, out); s.Verdicts[0].Level != verdict.Look || s.Verdicts[0].Choices[1].ID != choiceBase {
		t.Fatalf("%+v", s.Verdicts)
	}
	b.State(choose(run.KindDecided, choiceBase, 2))
	out = b.State(mLOf(KindBase, 2, "0.10 mL"))
	if s := runtest.Now(t, out); s.Kind != KindFinal || s.Part != 2 {
		t.Fatalf("it is read again: %+v", s)
	}
	b.State(reads(KindFinal, 2, fmt.Sprintf("%.2f", r.Row[0])))
	out = b.State(fact.Fact{Kind: run.KindLabelled, Date: "2026-12-24"})
	if len(out.Products) != 2 {
		t.Fatalf("%d products", len(out.Products))
	}
	second := out.Products[1]
	if want := fmt.Sprintf("Phosphate buffer, 0.173 mol/L, pH %.2f", r.Row[0]); second.Title != want || !second.Tube {
		t.Errorf("%q, not %q", second.Title, want)
	}
	if v := second.Figures[len(second.Figures)-1]; v.Role != figure.Volume || math.Abs(v.Value-10.1) > 1e-9 {
		t.Errorf("2 + 8 + 0.1 mL: %+v", v)
	}
	if made := strings.Join(second.MadeOf, ", "); strings.Contains(made, "water") {
		t.Errorf("no water went in: %s", made)
	}
	if strings.Contains(fmt.Sprint(out.Steps), "mark") {
		t.Error("a row by volumes knows no mark")
	}
}

// A stock that is found to be another strength moves the pH that its row should have.
func TestRowByVolumesFollowsItsStocks(t *testing.T) {
	r := answer(t, byVolumes(t, Mix{Acid: 5, Base: 5})).Design.Request
	stronger := run.Product{
		Name: "Disodium hydrogen phosphate", Formula: pieces("Na2HPO4"),
		Figures: []figure.Figure{figure.New("c", "concentration", "mol/L", uncertain.Exact(0.08)).As(figure.Concentration)},
	}
	plan, changed := r.From(RoleBase, stronger)
	now := plan.(Request) //nolint:errcheck // its own kind
	// log10(0.08 / (1/15)) is 0.08; the ionic strength moves it back a little.
	if moved := now.Target - r.Target; !changed || moved < 0.05 || moved > 0.08 {
		t.Errorf("moved by %.3f", moved)
	}
	if want := (1./15 + 0.08) / 2; math.Abs(now.Concentration-want) > 1e-12 {
		t.Errorf("%.5f mol/L, not %.5f", now.Concentration, want)
	}
	// One tube alone is no beaker with a mark either.
	if s := on(t, r).Outcome().Steps; s[0].Kind != KindMeasured || len(s) != 5 {
		t.Errorf("%+v", s)
	}
}

func TestBadVolumesOfARow(t *testing.T) {
	for field, change := range map[string]func(*Question){
		"/mixes/1":  func(q *Question) { q.Mixes = []Mix{{5, 1}, {6, 0}} },
		"/mixes/0":  func(q *Question) { q.Mixes[0].Acid = 1001 },
		"/mixes":    func(q *Question) { q.Mixes = make([]Mix, MaxRow+1) },
		"/strength": func(q *Question) { q.Strength = 0.1 },
	} {
		q := byVolumes(t, Mix{Acid: 5, Base: 1})
		change(&q)
		if _, err := Solve(context.Background(), q); !has(err, field) {
			t.Errorf("%s: %v", field, err)
		}
	}
	both := byVolumes(t, Mix{Acid: 5, Base: 1})
	both.Targets = []float64{6.5}
	if _, err := Solve(context.Background(), both); !has(err, "/mixes") {
		t.Errorf("pH and volumes: %v", err)
	}
	concentrated := byVolumes(t, Mix{Acid: 5, Base: 1})
	concentrated.Route, concentrated.Shelf = "", nil // phosphoric acid and sodium hydroxide solution are in the library
	if _, err := Solve(context.Background(), concentrated); !has(err, "/mixes") {
		t.Errorf("of concentrated liquids: %v", err)
	}
	none := byVolumes(t, Mix{Acid: 5, Base: 1})
	none.Route, none.Shelf = "potassium-dihydrogen-phosphate + disodium-hydrogen-phosphate", nil
	if _, err := Solve(context.Background(), none); !has(err, "/mixes") {
		t.Errorf("of two solids: %v", err)
	}
}

func has(err error, field string) bool {
	p, _ := err.(verdict.Problems) //nolint:errorlint // made here
	for _, x := range p {
		if x.Field == field {
			return true
		}
	}
	return false
}
