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
	"vialbench/core/run/runtest"
)

// drips titrates 5 mL of phthalate in counted drops of 0.048 ± 0.0005 mL.
func drips(t testing.TB) Request {
	r := lye(t)
	r.Volume, r.Glass, r.Burette = 5, pipette(5), glassware.Item{}
	r.Tip = &droptip.Tip{Name: "Dropper 3", Volume: number("drop", 0.048, 0.0005), Run: "r7", Number: 7}
	return r
}

// counted lets drops fall until a decision.
func (b *bench) counted(part, drops int, choice string) run.Outcome {
	b.T.Helper()
	b.State(fact.Fact{Kind: KindRead, Part: part, Count: &drops})
	return b.State(decide(part, choice))
}

func TestCountedDrops(t *testing.T) {
	r := drips(t)
	b := on(t, r)
	d, err := r.Design()
	if err != nil {
		t.Fatal(err)
	}
	// 5.00 mL of 0.1 mol/L each: 104 drops.
	if got := d.(Design); got.Expected != "104 drops (5.0 mL)" || len(got.Verdicts) != 0 || //nolint:errcheck // of this kind
		got.Burette != "drops of 0.0480 ± 0.0010 mL from Dropper 3, run 7" || strings.Contains(strings.Join(got.Cautions, " "), "burette") {
		t.Errorf("%+v", got)
	}
	out := b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	if got := out.Steps[0].Summary; got != "Dropper rinsed twice with the titrant, filled, no bubble" {
		t.Error(got)
	}
	out = b.State(fact.Fact{Kind: KindSample, Choice: choiceDelivered})
	s := runtest.Now(t, out)
	if s.Input != run.InputDrops || s.Title != "Trial 1, rough: let it drip, and count until you stop" || s.Expects != "104 drops" ||
		!strings.Contains(s.Hint, "About 104 drops in all. After 83 look at each.") || s.Scale != 0 {
		t.Errorf("%+v", s)
	}
	b.counted(0, 110, choiceEnd)
	b.State(fact.Fact{Kind: KindSample, Part: 1, Choice: choiceDelivered})
	b.counted(1, 100, choiceMore)
	out = b.counted(1, 3, choiceUnsure)
	if s := runtest.Now(t, out); s.Default != "1" || s.Title != "Trial 2: one drop more" {
		t.Errorf("%+v", s)
	}
	one := 1
	out = b.State(fact.Fact{Kind: KindRead, Part: 1, Count: &one})
	s = runtest.Now(t, out)
	if s.Title != "Trial 2: stopped after 104 drops" {
		t.Errorf("%+v", s)
	}
	for _, c := range s.Verdicts[0].Choices {
		if c.ID == choiceRefill {
			t.Error("a dropper is asked to be filled up")
		}
	}
	out = b.State(decide(1, choiceEarlier))
	v := view(out)
	if v.Trials[1].Last != "103" || v.Trials[1].Titre != "4.94" || v.Drop != 0.048 || v.Device != "dropper" || v.Scale != 0 {
		t.Errorf("%+v", v.Trials[1])
	}
	b.State(fact.Fact{Kind: KindSample, Part: 2, Choice: choiceDelivered})
	b.counted(2, 104, choiceEnd)
	out = b.State(decide(3, choiceEnough))
	// 0.1 × 5/(103.5 × 0.048), the mean of what both give.
	want := (0.5/103 + 0.5/104) / 2 / 0.048
	f := out.Figures[0]
	if out.Status != run.Finished || math.Abs(f.Value-want) > 1e-9 {
		t.Errorf("%s %v, want %.6f", out.Status, f, want)
	}
	// The drop is one error of all trials: 0.0005/0.048; the end point lies within one drop.
	shares := map[string]float64{}
	for _, x := range f.Budget {
		shares[x.Label] += x.U * x.U
	}
	if got := math.Sqrt(shares["drop"]) / f.Value; math.Abs(got-0.0005/0.048) > 1e-6 {
		t.Errorf("by the drop: ±%.5f", got)
	}
	if got, want := math.Sqrt(shares["end point"])/f.Value, 0.5/103.5/math.Sqrt(3)/math.Sqrt2; math.Abs(got-want) > 2e-5 {
		t.Errorf("by the end point: ±%.5f, want %.5f", got, want)
	}
	if got := out.Table[2]; fmt.Sprint(got[2:5]) != "[0 103 4.94]" || out.Table[0][3] != "drops" {
		t.Errorf("%v", out.Table)
	}
	if got := stepSummary(out, 2); got != "Trial 2: 103 drops, 4.94 mL for 5 mL" {
		t.Error(got)
	}
	b.explains(out)
	lines, err := r.Explain(b.Facts, "mean")
	if err != nil || !strings.Contains(strings.Join(lines[0].From, "; "), "drops of 0.0480 ± 0.0010 mL from Dropper 3, run 7") {
		t.Errorf("%+v %v", lines, err)
	}
}

// field is what is wrong in a plan, the first of it; empty when nothing is.
func field(r Request) string {
	_, err := r.Design()
	if list := problems(err); len(list) > 0 {
		return list[0].Field
	}
	return ""
}

func stepSummary(out run.Outcome, i int) string { return out.Steps[i].Summary }

func TestDropsFollowTheirTip(t *testing.T) {
	r := drips(t)
	uses := r.Uses()
	if len(uses.Sources) != 3 || uses.Sources[0] != (run.Source{Role: droptip.RoleTip, Run: "r7"}) {
		t.Errorf("%+v", uses.Sources)
	}
	newer := droptip.Tip{Name: "Dropper 3", Volume: number("drop", 0.05, 0.0005)}
	plan, changed := r.From(droptip.RoleTip, run.Product{Detail: droptip.Result{Tip: newer}})
	if got := plan.(Request); !changed || got.Tip.Volume.Value != 0.05 || got.Tip.Number != 7 ||
		r.Tip.Volume.Value != 0.048 { //nolint:errcheck // of this kind
		t.Errorf("%+v", got.Tip)
	}
	if got := r.Bound(droptip.RoleTip, run.Source{Run: "x"}, 3).(Request); got.Tip.Run != "x" ||
		got.Tip.Number != 3 { //nolint:errcheck // of this kind
		t.Errorf("%+v", got.Tip)
	}
}

func TestTooFewAndTooManyDrops(t *testing.T) {
	for mL, want := range map[float64]string{
		1:   "look: A trial would take about 21 drops only, and one of them is 5 %: take about 4.8 mL, or a thinner titrant.",
		50:  "look: A trial would take about 1042 drops, more than anybody counts: take about 4.8 mL, or a burette.",
		2.4: "",
	} {
		r := drips(t)
		r.Volume, r.Glass = mL, pipette(mL)
		d, err := r.Design()
		if err != nil {
			t.Fatal(err)
		}
		if got := says(d.(Design).Verdicts, "T-23"); got != want { //nolint:errcheck // of this kind
			t.Errorf("%g mL: %s", mL, got)
		}
	}
	b := on(t, drips(t))
	b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	b.State(fact.Fact{Kind: KindSample, Choice: choiceDelivered})
	if err := b.Plan.Check(scale(KindStart, 0, "0.00")); err == nil || !strings.Contains(err.Error(), "drops are counted") {
		t.Errorf("a scale is read: %v", err)
	}
	if _, err := b.Try(scale(KindRead, 0, "1.00")); err == nil {
		t.Error("a volume is treated as drops")
	}
	for _, n := range []int{0, 401} {
		if _, err := b.Try(fact.Fact{Kind: KindRead, Count: &n}); err == nil || !strings.Contains(err.Error(), "count 1 to 400 drops") {
			t.Errorf("%d drops: %v", n, err)
		}
	}
	r := drips(t)
	r.Tip.Volume = number("drop", 5, 0.1)
	if got := field(r); got != "/drop" {
		t.Errorf("a drop of 5 mL: %s", got)
	}
	// A blank begins at no drops as well.
	b = on(t, drips(t))
	b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	b.State(decide(0, choiceBlank))
	out := b.counted(0, 2, choiceEnd)
	if v := view(out).Trials[0]; !v.Blank || v.Last != "2" {
		t.Errorf("%+v", v)
	}
}

// A syringe of 20 mL shows what is left: from 18.0 to 8.0 mL, 10 mL ran in. Its tolerance is 4 %,
// and each reading is a fifth of its 1 mL divisions (rectangular).
func TestSyringe(t *testing.T) {
	r := lye(t)
	r.Volume, r.Glass, r.Burette = 10, pipette(10), glassware.Item{Kind: glassware.Syringe, Volume: 20, Class: glassware.ClassA}
	b := on(t, r)
	out := b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	if s := out.Steps[0]; s.Title != "Rinse the syringe with sodium hydroxide, fill it, bubble out" {
		t.Errorf("%+v", s)
	}
	b.State(fact.Fact{Kind: KindSample, Choice: choiceDelivered})
	out = b.State(scale(KindStart, 0, "18.0"))
	s := runtest.Now(t, out)
	if s.Label != "Syringe" || s.Expects != "8.0 mL" || !strings.Contains(s.Hint, "At once to 9.0 mL") ||
		!strings.Contains(s.Hint, "to 0.1 mL. Do not squeeze the barrel.") {
		t.Errorf("%+v", s)
	}
	// Up instead of down: one of the two was misread.
	out = b.State(scale(KindRead, 0, "19.0"))
	if got := says(runtest.Now(t, out).Verdicts, "T-2"); !strings.HasPrefix(got, "stop: The syringe cannot stand at 19.0 mL after 18.0 mL") {
		t.Error(got)
	}
	b.State(decide(0, choiceReread))
	b.State(scale(KindRead, 0, "8.0"))
	out = b.State(decide(0, choiceEnd))
	v := view(out)
	if x := v.Trials[0]; x.Start != "18.0" || x.Last != "8.0" || x.Titre != "10.0" || x.From != 2 || x.To != 12 || v.Device != "syringe" {
		t.Errorf("%+v", x)
	}
	shares := map[string]float64{}
	for _, f := range out.Figures {
		if f.ID == "mean" {
			for _, x := range f.Budget {
				shares[x.Label] += x.U * x.U
			}
		}
	}
	if got, want := math.Sqrt(shares["reading the scale"]), 0.2*math.Sqrt(2.0/3); math.Abs(got-want) > 1e-9 {
		t.Errorf("reading: ±%.4f mL, want %.4f", got, want)
	}
	if got, want := math.Sqrt(shares["20 mL syringe"]), 10*0.04/math.Sqrt(6); math.Abs(got-want) > 1e-9 {
		t.Errorf("syringe: ±%.4f mL, want %.4f", got, want)
	}
	if out.Table[0][2] != "syringe before, mL" {
		t.Errorf("%v", out.Table[0])
	}
	b.explains(out)
}

func TestDevices(t *testing.T) {
	r := lye(t)
	r.Burette = glassware.Item{Kind: glassware.GraduatedPipette, Volume: 25, Class: glassware.ClassA}
	d, err := r.Design()
	if err != nil || d.(Design).Burette != "25 mL graduated pipette, class A" { //nolint:errcheck // of this kind
		t.Errorf("%v %v", d, err)
	}
	for _, kind := range []glassware.Kind{glassware.Cylinder, glassware.PistonPipette, glassware.OneMarkPipette} {
		r.Burette.Kind, r.Burette.Volume = kind, 10
		if got := field(r); got != "/burette" {
			t.Errorf("%s: %s", kind, got)
		}
	}
	r.Burette.Kind, r.Burette.Volume = glassware.Burette, 33
	if got := field(r); got != "/burette" {
		t.Errorf("a burette of 33 mL: %s", got)
	}
	r = lye(t)
	r.Note = "Waste into the labelled beaker."
	if got := r.cautions(); !strings.Contains(got[len(got)-1], "“"+r.Note+"”") || !strings.Contains(got[len(got)-2], "safety data sheets") {
		t.Errorf("%v", got)
	}
	r.Note = strings.Repeat("x", MaxNote+1)
	if got := field(r); got != "/note" {
		t.Error(got)
	}
}
