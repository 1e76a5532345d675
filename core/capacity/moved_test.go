package capacity

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/droptip"
	"vialbench/core/equilibrium"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/indicator"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

func phosphate() equilibrium.Mixture {
	m := equilibrium.Mixture{Celsius: uncertain.Exact(25)}
	for _, text := range []string{"KH2PO4", "Na2HPO4"} {
		compound, _ := equilibrium.CompoundOf(text)
		m.Add(compound, uncertain.Exact(0.025))
	}
	return m
}

// bottled is a bottle of one solute at so many mol/L.
func bottled(t *testing.T, title, text string, c float64) run.Product {
	t.Helper()
	f, err := formula.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	n := uncertain.New(c, 0.001*c, uncertain.Source{ID: "bottle", Label: "bottle"})
	return run.Product{
		Title:   title,
		Formula: f.Pieces,
		Figures: []figure.Figure{figure.New("c", "concentration", "mol/L", n).As(figure.Concentration)},
	}
}

func titrant(t *testing.T, title, text string) *Titrant {
	t.Helper()
	x, ok := TitrantOf(bottled(t, title, text, 0.1), "b", 4)
	if !ok {
		t.Fatalf("%s is no titrant", text)
	}
	return &x
}

func problemsOf(r Request) (p verdict.Problems) {
	errors.As(r.check(), &p)
	return p
}

func degrees(celsius float64) *quantity.Quantity {
	q := quantity.Of(celsius, "°C")
	return &q
}

// A weak acid gives off as much of its protons as its constants say: Henderson–Hasselbalch,
// f = 1/(1 + 10^(pKa − pH)), acetic acid with pKa 4.756 (25 °C, from memory), ideal to 0.02.
func TestWhatAWeakAcidGives(t *testing.T) {
	for _, x := range []struct {
		text string
		acid bool
		pH   float64
		want float64
	}{
		{"CH3COOH", true, 4.756, 0.5},
		{"CH3COOH", true, 6.756, 0.990},
		{"CH3COOH", true, 3.756, 0.0909},
		{"H2SO4", true, 7, 2},
		{"HCl", true, 3, 1},
		{"NH3", false, 9.245, 0.5},
		{"NaOH", false, 9, 1},
		{"NaOH", true, 9, -1}, // no acid at all
	} {
		compound, ok := equilibrium.CompoundOf(x.text)
		if !ok {
			t.Fatal(x.text)
		}
		v := Vessel{
			Mixture:  equilibrium.Mixture{Celsius: uncertain.Exact(25), Model: equilibrium.Ideal},
			Acid:     x.acid,
			C:        uncertain.Exact(0.001),
			Compound: &compound,
		}
		if got := v.gives(x.pH); math.Abs(got-x.want) > 0.03 {
			t.Errorf("%s at pH %g: %.4f, want %.4f", x.text, x.pH, got, x.want)
		}
	}
	if got := (Vessel{C: uncertain.Exact(0.1)}).gives(7); got != 1 {
		t.Errorf("strong: %g", got)
	}
}

// The capacity that small portions of a weak acid find is that of the buffer itself, as with
// a strong one.
func TestCapacityByAWeakAcid(t *testing.T) {
	r := Request{
		Name:     "Phosphate",
		Mixture:  phosphate(),
		Volume:   50,
		AcidFrom: titrant(t, "Acetic acid, 0.1 mol/L", "CH3COOH"),
		Portion:  0.2,
		Celsius:  25,
	}
	if err := r.check(); err != nil {
		t.Fatal(err)
	}
	b := r.beakers()[0]
	if b.With != "acetic acid, 0.1 mol/L from bottle 4" || b.C != 0.1 {
		t.Errorf("%+v", b)
	}
	v := r.vessel(b)
	volumes := []float64{0, 0.2}
	for i, x := range v.Theory(volumes) {
		v.Points = append(v.Points, Point{ID: fmt.Sprint(i), Added: uncertain.Exact(volumes[i]), PH: uncertain.Exact(x.PH)})
	}
	s, err := phosphate().Solver()
	if err != nil {
		t.Fatal(err)
	}
	s.Solve()
	want := s.Capacity(nil).Total
	if got := v.Steps(nil)[0]; math.Abs(got.Beta.Value/want-1) > 0.01 || math.Abs(got.Theory/want-1) > 0.01 || got.Beta.U() == 0 {
		t.Errorf("β %.5f, by theory %.5f, of the balance %.5f", got.Beta.Value, got.Theory, want)
	}
	r.BaseFrom = titrant(t, "Vinegar", "CH3COOH")
	if p := problemsOf(r); len(p) != 1 || p[0].Field != "/baseFrom" ||
		!strings.Contains(p[0].Reason, "Vinegar takes up no proton") {
		t.Errorf("an acid for a base: %v", p)
	}
	r.AcidFrom, r.BaseFrom = titrant(t, "Lye", "NaOH"), nil
	if p := problemsOf(r); len(p) != 1 || p[0].Field != "/acidFrom" {
		t.Errorf("a base for an acid: %v", p)
	}
	if _, ok := TitrantOf(bottled(t, "Salt", "C60", 0.1), "b", 1); ok {
		t.Error("what is not known here is a titrant")
	}
}

// What moves in the bottle of a titrant moves the plan, and in another lab it has another
// name.
func TestTitrantsFollowTheirBottles(t *testing.T) {
	r := plan()
	r.AcidFrom = titrant(t, "Acid", "HCl")
	r.BaseFrom = titrant(t, "Base", "NaOH")
	if uses := r.Uses().Sources; len(uses) != 2 || uses[0].Role != RoleAcid || uses[1].Role != RoleBase {
		t.Errorf("%+v", uses)
	}
	for role, text := range map[string]string{RoleAcid: "HCl", RoleBase: "NaOH"} {
		if _, changed := r.From(role, bottled(t, "x", text, 0.1)); changed {
			t.Errorf("%s: changed though nothing moved", role)
		}
		next, changed := r.From(role, bottled(t, "x", text, 0.12))
		is := next.(Request) //nolint:errcheck // its own kind
		c := map[string]float64{RoleAcid: is.AcidFrom.C.Value, RoleBase: is.BaseFrom.C.Value}
		if !changed || c[role] != 0.12 {
			t.Errorf("%s: %v %v", role, changed, c)
		}
		if _, changed := plan().From(role, bottled(t, "x", text, 0.12)); changed {
			t.Errorf("%s: changed without a bottle", role)
		}
		there := r.Bound(role, run.Source{Bottle: "other"}, 9).(Request) //nolint:errcheck // its own kind
		bottles := map[string]string{RoleAcid: there.AcidFrom.Bottle, RoleBase: there.BaseFrom.Bottle}
		if bottles[role] != "other" || r.AcidFrom.Bottle != "b" || r.BaseFrom.Bottle != "b" {
			t.Errorf("%s: %v", role, bottles)
		}
	}
}

// Dilution by two moves equimolal phosphate by +0.080 (IUPAC Recommendations 2002, dilution
// value; the Davies equation comes out 0.015 to 0.02 low there).
func TestDiluted(t *testing.T) {
	r := Request{Name: "Phosphate", Mixture: phosphate(), Volume: 50, Dilution: 50, Portion: 1, Celsius: 25}
	b := on(t, r)
	out := b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	if s := runtest.Now(t, out); s.Title != "Buffer with water: the pH before anything is added" || s.Stands == nil ||
		math.Abs(s.Stands.PH-6.877) > 0.01 {
		t.Fatalf("%+v", s)
	}
	out = b.State(reading(0, 6.87))
	s := runtest.Now(t, out)
	if s.Kind != KindAdded || s.Title != "Buffer with water: add 50 mL of deionised water" || s.Expects != "50.0 mL" || s.Ends == nil ||
		len(out.Figures) != 0 {
		t.Fatalf("%+v", s)
	}
	b.State(portion(0, 50))
	out = b.State(reading(0, 6.94))
	view := out.View.(View) //nolint:errcheck // its own kind
	rows := view.Beakers[0].Rows
	if len(rows) != 2 || rows[1].Beta != "" || rows[1].Added != "50.00" || len(view.Beakers[0].Curve.PH) == 0 {
		t.Errorf("%+v", rows)
	}
	theory := b.Plan.vessel(r.beakers()[0]).Theory([]float64{0, 50})
	if d := theory[1].PH - theory[0].PH; math.Abs(d-0.080) > 0.02 {
		t.Errorf("by theory %+.3f, IUPAC +0.080", d)
	}
	if len(view.Verdicts) != 1 || view.Verdicts[0].Level != verdict.Fine ||
		view.Verdicts[0].Sentence != "Diluted 2.0 times the buffer moved by +0.07 pH; theory says +0.06." {
		t.Errorf("%+v", view.Verdicts)
	}
	b.explains(out, "moved 0", 0.07)
	b.State(portion(0, 400))
	out = b.State(reading(0, 7.4))
	view = out.View.(View) //nolint:errcheck // its own kind
	if v := view.Verdicts[0]; v.Level != verdict.Look || v.Rule != "B-13" ||
		!strings.Contains(v.Sentence, "Diluted 10.0 times the buffer moved by +0.53 pH") {
		t.Errorf("%+v", v)
	}
	out = b.State(fact.Fact{Kind: run.KindDecided, Choice: choiceDone})
	if out.Status != run.Finished {
		t.Errorf("%s", out.Status)
	}
}

// explains looks for a figure and computes its working again.
func (b *bench) explains(out run.Outcome, id string, want float64) {
	b.T.Helper()
	for _, f := range out.Figures {
		if f.ID != id {
			continue
		}
		lines, err := b.Plan.Explain(b.Facts, id)
		if err != nil || len(lines) < 2 {
			b.T.Errorf("%s: %v", id, err)
		}
		workingtest.Check(b.T, lines)
		if math.Abs(f.Value-want) > 1e-6 {
			b.T.Errorf("%s: %g, want %g", id, f.Value, want)
		}
		return
	}
	b.T.Errorf("no figure %q among %d", id, len(out.Figures))
}

// Tris moves by −0.028 pH for each degree (Good; Bates, from memory): 15 degrees warmer it
// stands about 0.4 lower, and its indicator with it.
func TestWarmed(t *testing.T) {
	m := equilibrium.Mixture{Celsius: uncertain.Exact(25)}
	for _, text := range []string{"C4H11NO3", "C4H12NO3Cl"} {
		compound, ok := equilibrium.CompoundOf(text)
		if !ok {
			t.Fatal(text)
		}
		m.Add(compound, uncertain.Exact(0.05))
	}
	red, _ := indicator.Find("cresol-red")
	r := Request{Name: "Tris", Mixture: m, Volume: 20, Baths: []float64{40, 5}, Indicator: &red, Portion: 1, Celsius: 25}
	b := on(t, r)
	out := b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	if n := r.Parts(); n != 2 || len(out.Steps) != 3 {
		t.Fatalf("%d parts, %d steps", n, len(out.Steps))
	}
	b.State(reading(0, 8.12))
	out = b.State(fact.Fact{Kind: KindBath, Quantity: degrees(41.5)})
	s := runtest.Now(t, out)
	if s.Title != "Buffer at 40 °C: the pH in the bath" || s.Clock == nil || s.Clock.Minutes != 5 || s.Stands.Celsius != 41.5 {
		t.Fatalf("%+v", s)
	}
	warm := reading(0, 7.7)
	warm.Beside = []quantity.Quantity{*degrees(40)}
	out = b.State(warm)
	s = runtest.Now(t, out)
	if s.Kind != KindSeen || len(s.Options) != indicator.Shades || s.Options[1].Label != "Yellow-orange" || out.Steps[1].State != run.Now {
		t.Fatalf("%+v", s)
	}
	view := out.View.(View) //nolint:errcheck // its own kind
	rows := view.Beakers[0].Rows
	if rows[0].Celsius != "25.0" || rows[1].Celsius != "40.0" || rows[0].Colour != "orange" || rows[1].Colour != "orange" ||
		rows[1].Shade != "#dc7a43" {
		t.Errorf("%+v", rows)
	}
	cold := beaker{v: r.vessel(r.beakers()[0])}
	if d := cold.at(40) - cold.at(25); math.Abs(d+15*0.028) > 0.06 {
		t.Errorf("15 degrees move it by %.3f, want about −0.42", d)
	}
	out = b.State(fact.Fact{Kind: KindSeen, Choice: "4"})
	view = out.View.(View) //nolint:errcheck // its own kind
	if len(view.Verdicts) != 2 || view.Verdicts[0].Level != verdict.Fine ||
		!strings.Contains(view.Verdicts[0].Sentence, "At 40.0 °C the buffer moved by −0.42 pH") ||
		view.Verdicts[1].Level != verdict.Look ||
		view.Verdicts[1].Sentence != "Cresol red in the bath: orange was expected, red-violet was seen." {
		t.Errorf("%+v", view.Verdicts)
	}
	below := &bench{runtest.Bench[Request]{T: t, Plan: r, Facts: slices.Clone(b.Facts[:len(b.Facts)-1])}}
	view = below.State(fact.Fact{Kind: KindSeen, Choice: "0"}).View.(View) //nolint:errcheck // its own kind
	if got := view.Verdicts[1]; got.Level != verdict.Look || got.Sentence != "Cresol red in the bath: orange was expected, yellow was seen." {
		t.Errorf("a colour below the one expected: %+v", got)
	}
	view = b.Outcome().View.(View) //nolint:errcheck // its own kind
	if !view.Beakers[0].Done || view.AtHand != 1 || view.Beakers[0].Seen != "red-violet" {
		t.Errorf("%+v", view.Beakers[0])
	}
	b.explains(out, "moved 0", -0.42)
	if head, line := out.Table[0], out.Table[2]; head[5] != "°C" || line[5] != "40.0" || line[6] != "orange" || line[7] != "red-violet" {
		t.Errorf("%v %v", head, line)
	}
	b.State(reading(1, 8.12))
	out = b.State(fact.Fact{Kind: KindBath, Part: 1, Quantity: degrees(5)})
	if s := runtest.Now(t, out); math.Abs(s.Stands.PH-8.7) > 0.1 {
		t.Errorf("cooled: pH %.2f", s.Stands.PH)
	}
	b.State(reading(1, 8.7))
	out = b.State(fact.Fact{Kind: KindSeen, Part: 1, Choice: "3"})
	if out.Status != run.Finished {
		t.Errorf("%s", out.Status)
	}
	for _, f := range []fact.Fact{
		{Kind: KindBath, Quantity: degrees(80)}, {Kind: KindBath}, {Kind: KindSeen, Choice: "5"}, {Kind: KindSeen, Choice: "red"},
	} {
		if r.Check(f) == nil {
			t.Errorf("%+v is taken", f)
		}
	}
	r.Indicator = nil
	if r.Check(fact.Fact{Kind: KindSeen, Choice: "1"}) == nil {
		t.Error("a colour without an indicator is taken")
	}
	r.Baths = []float64{5, 10, 20, 30, 40}
	if p := problemsOf(r); len(p) == 0 || p[0].Field != "/baths" {
		t.Errorf("five baths: %v", p)
	}
	r.Baths = []float64{5, 90}
	if p := problemsOf(r); len(p) == 0 || p[0].Field != "/baths/1" {
		t.Errorf("a bath of 90 °C: %v", p)
	}
}

// Counted drops go on record as a count; their volume follows from the tip.
func TestCountedDrops(t *testing.T) {
	r := plan()
	r.Drops, r.Portion, r.Water = 5, 0.2, false
	b := on(t, r)
	b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	out := b.State(reading(0, 4.65))
	if s := runtest.Now(t, out); s.Input != run.InputDrops || s.Default != "5" || s.Unit != "drops" {
		t.Fatalf("%+v", s)
	}
	n := 7
	seven := fact.Fact{Kind: KindAdded, Count: &n}
	out = b.State(seven)
	if s := runtest.Now(t, out); !strings.Contains(s.Title, "after 0.28 mL") {
		t.Errorf("%s", s.Title)
	}
	if got := r.Sentence(seven); got != "buffer with acid: 7 drops more" {
		t.Error(got)
	}
	one, none := 1, 0
	if got := r.Sentence(fact.Fact{Kind: KindAdded, Count: &one}); got != "buffer with acid: 1 drop more" {
		t.Error(got)
	}
	q := quantity.Of(1, "mL")
	if r.Check(fact.Fact{Kind: KindAdded, Count: &none}) == nil || r.Check(fact.Fact{Kind: KindAdded, Count: &one, Quantity: &q}) == nil {
		t.Error("no drops, or drops and a volume, are taken")
	}
	if r.Drops = 0; r.Check(seven) == nil {
		t.Error("drops are taken where none are counted")
	}
}

// Half way from the start, where acid takes it, is half a unit lower, where base does, higher.
func TestHalfWay(t *testing.T) {
	v := Vessel{Points: []Point{{PH: uncertain.Exact(7)}}}
	if got := v.halfWay(); got != 7.5 {
		t.Errorf("with base: %g", got)
	}
	if v.Acid = true; v.halfWay() != 6.5 {
		t.Errorf("with acid: %g", v.halfWay())
	}
}

// A calibrated tip brings its own volume and uncertainty, and the test follows it.
func TestCountedDropsOfACalibratedTip(t *testing.T) {
	r := plan()
	r.Drops, r.Water = 5, false
	r.Tip = &droptip.Tip{
		Name:   "Dropper 3",
		Volume: uncertain.New(0.048, 0.0005, uncertain.Source{ID: "tip", Label: "tip"}),
		Run:    "r7",
		Number: 7,
	}
	r.Portion = 5 * 0.048
	b := on(t, r)
	b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	b.State(reading(0, 4.65))
	seven := 7
	out := b.State(fact.Fact{Kind: KindAdded, Count: &seven})
	if s := runtest.Now(t, out); !strings.Contains(s.Title, "after 0.34 mL") { // 7 × 0.048
		t.Errorf("%+v", s)
	}
	a, err := r.follow(b.Facts)
	if err != nil {
		t.Fatal(err)
	}
	if v := a.beakers[0].added; math.Abs(v.Value-0.336) > 1e-12 || math.Abs(v.U()-7*0.0005) > 1e-12 {
		t.Errorf("%g ± %g mL", v.Value, v.U())
	}
	uses := r.Uses().Sources
	if last := uses[len(uses)-1]; last != (run.Source{Role: droptip.RoleTip, Run: "r7"}) {
		t.Errorf("%+v", uses)
	}
	next, changed := r.From(
		droptip.RoleTip,
		run.Product{Detail: droptip.Result{Tip: droptip.Tip{Name: "Dropper 3", Volume: uncertain.Exact(0.05)}}},
	)
	if got := next.(Request); !changed || math.Abs(got.Portion-0.25) > 1e-12 || got.Tip.Run != "r7" ||
		r.Tip.Volume.Value != 0.048 { //nolint:errcheck // its own kind
		t.Errorf("%+v", got)
	}
	if got := r.Bound(droptip.RoleTip, run.Source{Run: "x"}, 2).(Request); got.Tip.Run != "x" ||
		r.Tip.Run != "r7" { //nolint:errcheck // its own kind
		t.Errorf("%+v", got.Tip)
	}
}

// What each place of a class needs: the buffer for each beaker that holds some, and about as much acid as moves it by one.
func TestLiquidsForAClass(t *testing.T) {
	r := plan()
	list := r.Liquids()
	if len(list) != 1 || list[0].Name != r.Name || math.Abs(list[0].PH-r.vessel(r.beakers()[0]).Theory([]float64{0})[0].PH) > 1e-9 || list[0].PH < 4.5 || list[0].PH > 5 || list[0].Each != r.Volume || list[0].Times != 2 || list[0].From != "probe" {
		t.Errorf("%+v", list)
	}
	r.Acid = 0 // then one beaker is left out
	if got := r.Liquids(); got[0].Times != 1 {
		t.Errorf("%+v", got)
	}
}
