package capacity

import (
	"math"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

// bench carries a plan out.
type bench struct{ runtest.Bench[Request] }

func on(t testing.TB, r Request) *bench { return &bench{runtest.Bench[Request]{T: t, Plan: r}} }

func plan() Request {
	return Request{Name: "Acetate buffer", Mixture: acetate(0.05), Volume: 50, Acid: 0.1, Base: 0.1, Portion: 2, Water: true, Celsius: 25}
}

func reading(part int, pH float64) fact.Fact {
	q := quantity.Of(pH, "pH")
	return fact.Fact{Kind: KindRead, Part: part, Quantity: &q}
}

func portion(part int, mL float64) fact.Fact {
	q := quantity.Of(mL, "mL")
	return fact.Fact{Kind: KindAdded, Part: part, Quantity: &q}
}

// series reads a beaker from its theory, portion by portion.
func (b *bench) series(part, portions int) (out run.Outcome) {
	v := b.Plan.vessel(b.Plan.beakers()[part])
	for i := range portions + 1 {
		if i > 0 {
			b.State(portion(part, 2))
		}
		out = b.State(reading(part, math.Round(100*v.Theory([]float64{2 * float64(i)})[0].PH)/100))
	}
	return out
}

func TestFourBeakers(t *testing.T) {
	b := on(t, plan())
	out := b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	runtest.Drew(t, out, map[string]float64{RoleBuffer: 100, RoleAcid: 0, RoleBase: 0})
	if s := runtest.Now(t, out); s.Title != "Buffer with acid: the pH before anything is added" || s.Kind != KindRead {
		t.Fatalf("%+v", s)
	}
	out = b.series(0, 6)
	s := runtest.Now(t, out)
	if s.Kind != KindAdded || s.Expects != "2.00 mL" || s.Default != "" || !strings.Contains(s.Title, "add 2 mL of hydrochloric acid, 0.1 mol/L") || s.Ends == nil {
		t.Fatalf("%+v", s)
	}
	view := out.View.(View) //nolint:errcheck // its own kind
	rows := view.Beakers[0].Rows
	if len(rows) != 7 || rows[0].Beta != "" || rows[1].Beta == "" || math.Abs(rows[1].B-0.058) > 0.012 || rows[6].Added != "12.00" ||
		rows[3].Theory != rows[3].PH {
		t.Fatalf("%+v", rows)
	}
	b.State(fact.Fact{Kind: run.KindDecided, Choice: choiceDone, Part: 0})
	b.series(1, 6)
	b.State(fact.Fact{Kind: run.KindDecided, Choice: choiceDone, Part: 1})
	b.series(2, 1)
	out = b.State(fact.Fact{Kind: run.KindDecided, Choice: choiceDone, Part: 2})
	view = out.View.(View) //nolint:errcheck // its own kind
	var says []string
	for _, v := range view.Verdicts {
		says = append(says, v.Rule+" "+v.Sentence)
	}
	if all := strings.Join(
		says,
		"\n",
	); !strings.Contains(all, "B-17 The readings follow theory: strength 99.76 ± 0.51 % of the label") ||
		!strings.Contains(all, "The water has moved by 4.") {
		t.Errorf("%s", all)
	}
	b.series(3, 1)
	runtest.Drew(t, b.Outcome(), map[string]float64{RoleBuffer: 100, RoleAcid: 12 + 2, RoleBase: 12 + 2})
	out = b.State(fact.Fact{Kind: run.KindDecided, Choice: choiceDone, Part: 3})
	if out.Status != run.Finished || len(out.Products) != 1 || !out.Products[0].Result {
		t.Fatalf("%s, %+v", out.Status, out.Products)
	}
	ids := map[string]float64{}
	for _, f := range out.Figures {
		ids[f.ID] = f.Value
		lines, err := b.Plan.Explain(b.Facts, f.ID)
		if err != nil {
			t.Fatal(err)
		}
		workingtest.Check(t, lines)
	}
	if math.Abs(ids["strength"]-1) > 0.03 || math.Abs(ids["beta 1"]-0.058) > 0.012 {
		t.Errorf("%v", ids)
	}
	if len(out.Table) != 1+7+7+2+2 || out.Table[1][0] != "buffer with acid" || out.Table[8][2] == "" {
		t.Errorf("%v", out.Table)
	}
}

func TestWrongWayAndDrops(t *testing.T) {
	r := plan()
	r.Drops, r.Portion, r.Water = 5, 0.25, false
	b := on(t, r)
	b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	b.State(reading(0, 4.65))
	out := b.State(portion(0, 0.25))
	if s := runtest.Now(t, out); s.Kind != KindRead || !strings.Contains(s.Title, "after 0.25 mL") {
		t.Errorf("%+v", s)
	}
	out = b.State(reading(0, 4.95))
	s := runtest.Now(t, out)
	if len(s.Verdicts) == 0 || s.Verdicts[0].Rule != RuleWay.ID || !strings.Contains(s.Title, "5 drops, 0.25 mL") {
		t.Errorf("%+v", s)
	}
}

// Drops bring the uncertainty of their volume, water that covers the probe thins.
func TestDropsAndCoverCount(t *testing.T) {
	r := plan()
	r.Drops, r.Portion, r.Water = 20, 1, false
	b := on(t, r)
	b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	out := b.series(0, 1)
	found := false
	for _, share := range out.Figures[0].Budget {
		found = found || share.Label == "volume of a drop"
	}
	if !found {
		t.Errorf("%+v", out.Figures[0].Budget)
	}
	beta := func(covered float64) string {
		r.Covered = covered
		d, err := r.Design()
		if err != nil {
			t.Fatal(err)
		}
		return d.(Design).Beta //nolint:errcheck // its own kind
	}
	if whole, half := beta(0), beta(50); whole != "59.7" || half != "29.7" {
		t.Errorf("β %s, covered with as much water %s", whole, half)
	}
}

// A drink of unknown strength: found from the buffer, and compared by volume with water.
func TestDrink(t *testing.T) {
	r := plan()
	r.Drink, r.Acid, r.Base, r.Water = "lemon soda", 0, 0, false
	truth := plan().vessel(plan().beakers()[0]) // as strong as 0.1 mol/L
	b := on(t, r)
	b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	var out run.Outcome
	for i := range 5 {
		if i > 0 {
			b.State(portion(0, 2))
		}
		out = b.State(reading(0, truth.Theory([]float64{2 * float64(i)})[0].PH))
	}
	if len(out.Figures) == 0 || out.Figures[0].ID != "titrant" || math.Abs(out.Figures[0].Value-0.1) > 0.003 {
		t.Errorf("%+v", out.Figures)
	}
}

func TestPlansThatMakeNoSense(t *testing.T) {
	for field, spoil := range map[string]func(r *Request){
		"/name":    func(r *Request) { r.Name = "" },
		"/volume":  func(r *Request) { r.Volume = 0 },
		"/covered": func(r *Request) { r.Covered = 60 },
		"/acid":    func(r *Request) { r.Acid, r.Base = 0, 0 },
		"/base":    func(r *Request) { r.Base = -1 },
		"/portion": func(r *Request) { r.Portion = 0 },
		"/drops":   func(r *Request) { r.Drops = -1 },
		"/celsius": func(r *Request) { r.Celsius = 90 },
	} {
		r := plan()
		spoil(&r)
		_, err := r.Design()
		if p, _ := err.(verdict.Problems); len(p) == 0 || p[0].Field != field { //nolint:errorlint // made here
			t.Errorf("%s: %v", field, err)
		}
	}
	r := plan()
	for _, f := range []fact.Fact{portion(0, -1), portion(0, 80), reading(0, 20), {Kind: KindPoured, Choice: "no"}, {Kind: "nothing"}} {
		if err := r.Check(f); err == nil {
			t.Errorf("%+v is taken", f)
		}
	}
}

// What moves in the bottle moves the plan.
func TestFromTheBottle(t *testing.T) {
	r := plan()
	m := acetate(0.06)
	next, changed := r.From(RoleBuffer, run.Product{Mixture: &m})
	if !changed || next.(Request).Mixture.Amounts[0].C.Value != 0.12 { //nolint:errcheck // its own kind
		t.Errorf("%v %+v", changed, next)
	}
	if _, changed := next.(run.Sourced).From(RoleBuffer, run.Product{Mixture: &m}); changed { //nolint:errcheck // its own kind
		t.Error("changed though nothing moved")
	}
	if _, ok := MixtureOf(run.Product{}); ok {
		t.Error("a bottle of nothing known was taken")
	}
}
