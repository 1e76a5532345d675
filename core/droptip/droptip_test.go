package droptip

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/core/working/workingtest"
)

func weighed() Request {
	return Request{Name: "Dropper 3", Liquid: "Water", By: Weighed, Balance: weighing.Usual(), Celsius: 20}
}

type bench struct{ runtest.Bench[Request] }

func on(t testing.TB, r Request) *bench {
	return &bench{runtest.Bench[Request]{T: t, Plan: r}}
}

// count states one: how many drops, and what they came to.
func (b *bench) count(part, drops int, value, unit string) run.Outcome {
	b.T.Helper()
	b.State(fact.Fact{Kind: KindCounted, Part: part, Count: &drops})
	return b.State(fact.Fact{Kind: KindCaught, Part: part, Quantity: read(b.T, value, unit)})
}

func read(t testing.TB, value, unit string) *quantity.Quantity {
	t.Helper()
	q, err := quantity.ParseAny(value, []quantity.Dimension{quantity.Mass, quantity.Volume}, unit)
	if err != nil {
		t.Fatal(err)
	}
	return &q
}

func sentence(list []verdict.Verdict, rule string) string {
	for _, v := range list {
		if v.Rule == rule {
			return string(v.Level) + ": " + v.Sentence
		}
	}
	return ""
}

// What water weighs in air, mL for each g that a balance shows at 101.3 kPa: ISO 8655-6:2002,
// table A.1 (from memory).
func TestWaterWeighedInAir(t *testing.T) {
	for celsius, z := range map[float64]float64{15: 1.0020, 20: 1.0029, 25: 1.0040} {
		r := weighed()
		r.Celsius = celsius
		b := on(t, r)
		out := b.count(0, 20, "1.0000", "g")
		if got := out.Figures[0].Value * 20; math.Abs(got-z) > 0.00005 {
			t.Errorf("%g °C: 1 g is %.5f mL, want %.4f", celsius, got, z)
		}
	}
}

// A medicine dropper gives drops of water that weigh 45 to 55 mg (USP <1101>, from memory): the
// drop that counts where none was calibrated lies within.
func TestUsualDrop(t *testing.T) {
	usual := Uncounted("a dropper", RuleDrop.Threshold)
	low, high := 0.045*1.0029, 0.055*1.0029
	if v := usual.Volume; v.Value-v.U() < low || v.Value+v.U() > high {
		t.Errorf("%.4f ± %.4f mL", v.Value, v.U())
	}
	if n := usual.Drops(20, "a"); math.Abs(n.Value-1) > 1e-12 || math.Abs(n.U()-0.05) > 1e-12 {
		t.Errorf("20 drops are %.4f ± %.4f mL", n.Value, n.U())
	}
}

func TestThreeCounts(t *testing.T) {
	b := on(t, weighed())
	out, err := b.Plan.Make(nil, runtest.Noon)
	if err != nil {
		t.Fatal(err)
	}
	if s := runtest.Now(t, out); s.Input != run.InputDrops || s.Default != "20" || s.Ends != nil ||
		s.Title != "Count 1: let drops of water fall into a tared beaker, and count them" {
		t.Errorf("%+v", s)
	}
	drops := 20
	out = b.State(fact.Fact{Kind: KindCounted, Count: &drops})
	if s := runtest.Now(t, out); s.Kind != KindCaught || s.Expects != "1.00 g" || s.Instrument != "Analytical balance" && s.Instrument == "" {
		t.Errorf("%+v", s)
	}
	out = b.State(fact.Fact{Kind: KindCaught, Quantity: read(t, "0.9780", "g")})
	s := runtest.Now(t, out)
	if s.Ends == nil || sentence(s.Verdicts, "DT-3") != "look: Count 2 more: one count shows no slip, and no constancy." {
		t.Errorf("%+v", s)
	}
	// One count alone: as little known as a drop that nobody calibrated.
	if u := out.Figures[0].U() / out.Figures[0].Value; !(math.Abs(u-0.05) <= 0.001) {
		t.Errorf("one count: ±%.4f", u)
	}
	b.count(1, 25, "1.2150", "g")
	out = b.count(2, 30, "1.4700", "g")
	each := []float64{0.9780 / 20, 1.2150 / 25, 1.4700 / 30}
	mean, s2 := 0.0, 0.0
	for _, m := range each {
		mean += m / 3
	}
	for _, m := range each {
		s2 += (m - mean) * (m - mean) / 2
	}
	const z = 1.00286 // mL/g at 20 °C, as above
	f := out.Figures[0]
	if math.Abs(f.Value-mean*z) > 1e-6 {
		t.Errorf("%.6f mL, want %.6f", f.Value, mean*z)
	}
	if scatter := math.Sqrt(s2/3) * z; f.U() < scatter || f.U() > 1.02*scatter {
		t.Errorf("u %.2e mL, scatter %.2e", f.U(), scatter)
	}
	// Two degrees of freedom: Student's t is 4.303, and the scatter is nearly all there is.
	if k := f.CoverageFactor(); !(k > 4.0 && k < 4.31) {
		t.Errorf("k %.3f of three counts", k)
	}
	if n := out.Figures[1]; math.Abs(n.Value-1/f.Value) > 1e-9 || n.ID != "per mL" {
		t.Errorf("%v", n)
	}
	v := out.View.(View) //nolint:errcheck // of this kind
	if len(v.Counts) != 3 || v.Counts[1] != (ViewCount{25, "1.2150 g", "0.0487"}) {
		t.Errorf("%+v", v.Counts)
	}
	if got := sentence(v.Verdicts, "DT-4"); got != "fine: The 3 counts lie within 0.8 %: the drops are of one size." {
		t.Error(got)
	}
	if want := []string{"2", "25", "1.2150 g", "0.0487"}; fmt.Sprint(out.Table[2]) != fmt.Sprint(want) {
		t.Errorf("%v", out.Table)
	}
	for _, f := range out.Figures {
		lines, err := b.Plan.Explain(b.Facts, f.ID)
		if err != nil {
			t.Fatal(err)
		}
		workingtest.Check(t, lines)
	}
	out = b.State(fact.Fact{Kind: run.KindDecided, Part: 3, Choice: choiceEnough})
	if out.Status != run.Finished || len(out.Products) != 1 {
		t.Fatalf("%s %+v", out.Status, out.Steps)
	}
	tip := out.Products[0].Detail.(Result).Tip //nolint:errcheck // of this kind
	if tip.Name != "Dropper 3" || tip.Volume.Value != f.Value || math.Abs(tip.Scatter-math.Sqrt(s2)/mean) > 1e-9 {
		t.Errorf("%+v", tip)
	}
	// Each count of such a tip scatters by itself, beside the volume that all share.
	a, c := tip.Drops(40, "a"), tip.Drops(40, "b")
	if d := a.Minus(c); math.Abs(d.U()-math.Sqrt2*tip.Scatter*a.Value) > 1e-9 {
		t.Errorf("two counts differ by ±%.5f mL", d.U())
	}
	// Taken back altogether, there is nothing to end with.
	for _, f := range b.Facts[:6] {
		out = b.State(fact.Fact{Kind: fact.Withdrawn, Part: f.Part, Replaces: f.ID, Reason: "another dropper"})
	}
	if out.Status != run.Open || len(out.Figures) != 0 {
		t.Errorf("%s %v", out.Status, out.Figures)
	}
}

func TestByCylinder(t *testing.T) {
	r := weighed()
	r.By, r.Glass = ByCylinder, glassware.Item{Kind: glassware.Cylinder, Volume: 5, Class: glassware.ClassA}
	b := on(t, r)
	b.count(0, 40, "2.00", "mL")
	out := b.count(1, 40, "2.20", "mL")
	f := out.Figures[0]
	if math.Abs(f.Value-2.1/40) > 1e-12 {
		t.Errorf("%.5f mL", f.Value)
	}
	v := out.View.(View) //nolint:errcheck // of this kind
	if got := sentence(v.Verdicts, "DT-4"); !strings.HasPrefix(got, "look: The counts lie 9.5 % apart, more than 3 %") {
		t.Error(got)
	}
	lines, err := r.Explain(b.Facts, "drop")
	if err != nil || !strings.Contains(lines[0].Substituted, "{40}") {
		t.Errorf("%v %v", lines, err)
	}
	workingtest.Check(t, lines)
	out = b.count(2, 10, "0.50", "mL")
	v = out.View.(View) //nolint:errcheck // of this kind
	if got := sentence(v.Verdicts, "DT-2"); got != "look: 10 drops only: one drop is 10 % of them. Count 20 or more." {
		t.Error(got)
	}
}

func TestBadCounts(t *testing.T) {
	b := on(t, weighed())
	none, many := 0, 1001
	heavy, mL := quantity.Of(500, "g"), quantity.Of(1, "mL")
	for _, f := range []fact.Fact{
		{Kind: KindCounted},
		{Kind: KindCounted, Count: &none},
		{Kind: KindCounted, Count: &many},
		{Kind: KindCaught},
		{Kind: KindCaught, Quantity: &heavy},
		{Kind: KindCaught, Quantity: &mL},
		{Kind: "nothing"},
	} {
		if b.Plan.Check(f) == nil {
			t.Errorf("%+v is taken", f)
		}
	}
	for want, change := range map[string]func(*Request){
		"/name":    func(r *Request) { r.Name = "" },
		"/liquid":  func(r *Request) { r.Liquid = strings.Repeat("x", 61) },
		"/density": func(r *Request) { r.Density = 30 },
		"/by":      func(r *Request) { r.By = "guess" },
		"/celsius": func(r *Request) { r.Celsius = 90 },
	} {
		r := weighed()
		change(&r)
		_, err := r.Design()
		if p, ok := err.(verdict.Problems); !ok || p[0].Field != want { //nolint:errorlint // made there, never wrapped
			t.Errorf("%s: %v", want, err)
		}
	}
	if Uncounted("x", 0.5).Check() == nil || Uncounted("x", 0).Check() == nil || Uncounted("x", 0.03).Check() != nil {
		t.Error("the volume of a drop is not looked at")
	}
	if _, ok := Solve(nil); ok {
		t.Error("no count gives a drop")
	}
}

// A plan stays as it is when it is kept, and follows its calibration.
func TestKept(t *testing.T) {
	r := weighed()
	r.Liquid, r.Density = "Lye", 1.04
	text, err := json.Marshal(r)
	if err != nil {
		t.Fatal(err)
	}
	back, err := Decode(text)
	if err != nil || back.Title() != "Drops of lye from dropper 3" {
		t.Fatalf("%v %v", back, err)
	}
	if got := back.(Request).density(); got != 1.04 { //nolint:errcheck // just decoded
		t.Errorf("density %g", got)
	}
	tip := Uncounted("Dropper 3", 0.05)
	tip.Run, tip.Number = "run", 7
	newer := Tip{Name: "Dropper 3", Volume: uncertain.Exact(0.048)}
	now, changed := tip.From(run.Product{Detail: Result{newer}})
	if !changed || now.Volume.Value != 0.048 || now.Run != "run" || now.Number != 7 {
		t.Errorf("%+v", now)
	}
	if _, changed := now.From(run.Product{Detail: Result{newer}}); changed {
		t.Error("the same again moves it")
	}
	if _, changed := tip.From(run.Product{}); changed {
		t.Error("another product moves it")
	}
	var uses run.Uses
	tip.Uses(&uses)
	if len(uses.Sources) != 1 || uses.Sources[0] != (run.Source{Role: RoleTip, Run: "run"}) {
		t.Errorf("%+v", uses)
	}
	if b := tip.Bound(run.Source{Run: "other"}, 9); b.Run != "other" || b.Number != 9 || tip.Run != "run" {
		t.Errorf("%+v", b)
	}
}

func BenchmarkSolve(b *testing.B) {
	counts := make([]Count, 5)
	for i := range counts {
		counts[i] = Count{20, weighing.Usual().Net(0.98+0.002*float64(i), 0, fmt.Sprint(i))}
	}
	for b.Loop() {
		if _, ok := Solve(counts); !ok {
			b.Fatal("nothing found")
		}
	}
}

// Counts that lie 4 % apart scatter by 2 %: it is how far apart they lie that is judged. A count
// in the making does not keep anybody from ending.
func TestApart(t *testing.T) {
	b := on(t, weighed())
	b.count(0, 100, "4.9000", "g")
	b.count(1, 100, "5.0000", "g")
	out := b.count(2, 100, "5.1000", "g")
	v := out.View.(View) //nolint:errcheck // of this kind
	if got := sentence(v.Verdicts, "DT-4"); !strings.HasPrefix(got, "look: The counts lie 4.0 % apart") {
		t.Error(got)
	}
	drops := 12
	b.State(fact.Fact{Kind: KindCounted, Part: 3, Count: &drops})
	out = b.State(fact.Fact{Kind: run.KindDecided, Part: 3, Choice: choiceEnough})
	if out.Status != run.Finished || len(out.Products) != 1 {
		t.Errorf("%s", out.Status)
	}
}

// To what ± counts give the volume of a drop by what catches them, by hand: of 20 drops of 0.05 mL in a
// 5 mL cylinder of class B (ISO 4788: ± 0.1 mL, divided in 0.1 mL), the glass is the same in three counts,
// reading it is not.
func TestProspect(t *testing.T) {
	prospect := func(r Request) string {
		d, err := r.Design()
		if err != nil {
			t.Fatal(err)
		}
		return d.(Design).Prospect //nolint:errcheck // its own kind
	}
	r := weighed()
	r.By, r.Glass = ByCylinder, glassware.Item{Kind: glassware.Cylinder, Volume: 5, Class: glassware.ClassB, Count: 1}
	glass, reading := r.Glass.Tolerance()/math.Sqrt(6), r.Glass.Division()/5/math.Sqrt(3)
	u := func(drops float64) float64 {
		v := 0.05 * drops
		return 200 * math.Hypot(glass/v, reading/v/math.Sqrt(3))
	}
	says := prospect(r)
	if want := fmt.Sprintf("By the cylinder alone, 3 counts of 20 drops give the volume of a drop to ±\u00a0%.2f\u00a0%%", u(20)); !strings.HasPrefix(says, want) {
		t.Errorf("%s\nwant %s", says, want)
	}
	if u(100) <= 1 || !strings.HasSuffix(says, "no number of drops that it holds gives ±\u00a01\u00a0%.") {
		t.Errorf("100 drops fill it and give %.2f %%: %s", u(100), says)
	}
	r.Glass.Volume, r.Glass.Class = 25, glassware.ClassA
	glass, reading = r.Glass.Tolerance()/math.Sqrt(6), r.Glass.Division()/5/math.Sqrt(3)
	least := math.Ceil(20 * u(20))
	if want := fmt.Sprintf("it takes %.0f drops a count", least); least > 500 || !strings.Contains(prospect(r), want) {
		t.Errorf("%s, want %s", prospect(r), want)
	}
	if says := prospect(weighed()); !strings.Contains(says, "By the balance alone") || !strings.HasSuffix(says, "it takes 1 drop a count. How much drops differ comes on top.") {
		t.Error(says)
	}
	coarse := weighed()
	coarse.Balance.Resolution, coarse.Balance.Repeatability, coarse.Balance.Linearity = 0.01, 0.01, 0
	says = prospect(coarse)
	n := 0
	_, takes, _ := strings.Cut(says, "it takes ")
	if _, err := fmt.Sscanf(takes, "%d drops a count", &n); err != nil {
		t.Fatal(says)
	}
	heavy := coarse
	heavy.Density = 2 // the same drops weigh twice as much
	if ratio := coarse.foreseen(20, 3) / heavy.foreseen(20, 3); math.Abs(ratio-2) > 0.02 {
		t.Errorf("twice as dense: known %g times as well", ratio)
	}
	if coarse.foreseen(n, 3) > 0.01 || coarse.foreseen(n-1, 3) <= 0.01 {
		t.Errorf("%d drops are not the fewest: %g, %g", n, coarse.foreseen(n, 3), coarse.foreseen(n-1, 3))
	}
}
