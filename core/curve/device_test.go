package curve

import (
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"vialbench/core/droptip"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/working/workingtest"
)

// drips is 5 mL of vinegar in water, with base in drops of 0.05 ± 0.0005 mL.
func drips(t testing.TB) Request {
	r := vinegar(t)
	r.Volume, r.Sample.Volume, r.Glass = 5, 5, glassware.Item{}
	r.Tip = &droptip.Tip{
		Name:   "Dropper 3",
		Volume: uncertain.New(0.05, 0.0005, uncertain.Source{ID: "tip", Label: "tip"}),
		Run:    "r7",
		Number: 7,
	}
	return r
}

// One counts drops, the other reads the pH: the curve is one of volumes, and the drop is an error of
// all of them.
func TestCurveInDrops(t *testing.T) {
	r := drips(t)
	b := on(t, r)
	d, err := r.Design()
	if err != nil ||
		!strings.HasSuffix(d.(Design).Burette, ", in drops of 0.0500 ± 0.0010 mL from Dropper 3, run 7") { //nolint:errcheck // of this kind
		t.Errorf("%+v %v", d, err)
	}
	out := b.State(fact.Fact{Kind: KindReady, Choice: choiceIn})
	if s := runtest.Now(t, out); s.Kind != KindRead || !strings.Contains(out.Steps[0].Hint, "one drop a second") {
		t.Errorf("%+v", s)
	}
	const c = 0.0837
	truth := r.curveWith(c, 0, 0)
	random := rand.New(rand.NewPCG(3, 4))
	drops := 0
	read := func() run.Outcome {
		pH := truth.At([]float64{0.05 * float64(drops)})[0] + 0.01*random.NormFloat64()
		return b.State(of1(KindRead, "pH", math.Round(100*pH)/100))
	}
	out = read()
	for range MaxAdditions {
		s := runtest.Now(t, out)
		if s.Default == "" {
			break
		}
		n, err := strconv.Atoi(s.Default)
		if err != nil || s.Input != run.InputDrops || n < 1 || n > 20 {
			t.Fatalf("%+v", s)
		}
		b.State(fact.Fact{Kind: KindAdded, Count: &n})
		drops += n
		out = read()
	}
	out = b.State(fact.Fact{Kind: run.KindDecided, Choice: choiceDone})
	found := map[string]figure.Figure{}
	for _, f := range out.Figures {
		found[f.ID] = f
		lines, err := r.Explain(b.Facts, f.ID)
		if err != nil {
			t.Fatal(err)
		}
		workingtest.Check(t, lines)
	}
	if f := found["c"]; math.Abs(f.Value-c) > f.Expanded || f.Expanded > 0.03*c {
		t.Errorf("%v", f)
	}
	share := 0.0
	for _, x := range found["c"].Budget {
		if x.Label == "tip" {
			share += x.U
		}
	}
	if got := share / found["c"].Value; math.Abs(got-0.01) > 1e-6 {
		t.Errorf("by the drop: %.5f", got)
	}
	if last := out.View.(View).Readings; math.Abs(last[len(last)-1].Volume-0.05*float64(drops)) > 1e-9 { //nolint:errcheck // of this kind
		t.Errorf("%+v", last[len(last)-1])
	}
}

func TestBadDropsOfACurve(t *testing.T) {
	r := drips(t)
	none, many, one := 0, 401, 1
	for _, f := range []fact.Fact{
		{Kind: KindAdded, Count: &none}, {Kind: KindAdded, Count: &many}, {Kind: KindAdded}, of1(KindAdded, "mL", 1), of1(KindStart, "mL", 0),
	} {
		if r.Check(f) == nil {
			t.Errorf("%+v is taken", f)
		}
	}
	if vinegar(t).Check(fact.Fact{Kind: KindAdded, Count: &one}) == nil {
		t.Error("drops are taken where a burette is read")
	}
	if got := r.Sentence(fact.Fact{Kind: KindAdded, Count: &one}); got != "1 drop more" {
		t.Error(got)
	}
	r.Tip.Volume = uncertain.Exact(2)
	if _, err := r.Design(); err == nil || !strings.Contains(err.Error(), "a drop is from") {
		t.Errorf("%v", err)
	}
	r = drips(t)
	newer := droptip.Tip{Name: "Dropper 3", Volume: uncertain.Exact(0.048)}
	next, changed := r.From(droptip.RoleTip, run.Product{Detail: droptip.Result{Tip: newer}})
	if got := next.(Request).Tip; !changed || got.Volume.Value != 0.048 || got.Run != "r7" ||
		r.Tip.Volume.Value != 0.05 { //nolint:errcheck // its own kind
		t.Errorf("%+v", got)
	}
	if got := r.Bound(droptip.RoleTip, run.Source{Run: "x"}, 2).(Request); got.Tip.Run != "x" ||
		r.Tip.Run != "r7" { //nolint:errcheck // its own kind
		t.Errorf("%+v", got.Tip)
	}
	roles := ""
	for _, s := range r.Uses().Sources {
		roles += s.Role + " "
	}
	if roles != "flask burette tip " {
		t.Error(roles)
	}
	// Of an unknown strength, half of the drops that anybody counts are a guess: 5 mL, so about 0.1 mol/L.
	r.Flask.Concentration = uncertain.Number{}
	if got := r.guess(); math.Abs(got-0.1) > 1e-9 {
		t.Errorf("guess %g", got)
	}
}
