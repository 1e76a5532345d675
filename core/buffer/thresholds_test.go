package buffer

import (
	"math"
	"testing"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// toTheReading takes a buffer to its reading in the beaker.
func toTheReading(t *testing.T) *bench {
	b := phosphate(t)
	line, err := b.Plan.line(0)
	if err != nil {
		t.Fatal(err)
	}
	b.State(choose(KindWatered, choiceIn, 0))
	b.State(grams(0, line.Takes[0].Amount))
	b.State(mLOf(KindMeasured, 1, line.Takes[1].Amount))
	b.State(choose(KindStirred, choiceClear, 0))
	return b
}

// The rules of the bench just under, at and just over their thresholds.
func TestBenchThresholds(t *testing.T) {
	goal := toTheReading(t)
	goal.State(reads(KindRead, 0, "7.00"))
	wanted := goal.Outcome().View.(View).Goal //nolint:errcheck // its own kind
	for _, x := range []struct {
		off  float64
		want verdict.Level
	}{{0.0499, verdict.Fine}, {-0.0499, verdict.Fine}, {0.0501, verdict.Look}, {-0.0501, verdict.Look}} {
		b := toTheReading(t)
		out := b.State(reads(KindRead, 0, quantity.Digits(wanted+x.off, 5)))
		if v, ok := says(runtest.Now(t, out).Verdicts, RuleClose.ID); !ok || v.Level != x.want {
			t.Errorf("%+.4f pH away: %+v", x.off, v)
		}
	}
	// Another lab is content with less.
	b := toTheReading(t)
	b.Plan.Thresholds = verdict.Thresholds{RuleClose.ID: 0.2, RuleKeeps.ID: 7, run.RuleInversions.ID: 3}
	out := b.State(reads(KindRead, 0, quantity.Digits(wanted+0.15, 3)))
	if v, _ := says(runtest.Now(t, out).Verdicts, RuleClose.ID); v.Level != verdict.Fine {
		t.Errorf("within 0.2: %+v", v)
	}
	b.State(choose(run.KindDecided, choiceLeave, 0))
	b.State(choose(KindMark, choiceReached, 0))
	three := 3
	mix := choose(run.KindMixed, "", 0)
	mix.Count = &three
	b.State(mix)
	out = b.State(reads(KindFinal, 0, "7.10"))
	if s := runtest.Now(t, out); s.ID != "label" || s.Default != "2026-12-03" {
		t.Errorf("a week after 2026-11-26: %+v", s)
	}
}

func TestTooFewInversions(t *testing.T) {
	b := toTheReading(t)
	b.State(reads(KindRead, 0, "6.94"))
	b.State(choose(run.KindDecided, choiceLeave, 0))
	b.State(choose(KindMark, choiceReached, 0))
	nineteen := 19
	mix := choose(run.KindMixed, "", 0)
	mix.Count = &nineteen
	out := b.State(mix)
	if s := runtest.Now(t, out); len(s.Verdicts) != 1 || s.Verdicts[0].Rule != run.RuleInversions.ID || s.Default != "1" {
		t.Errorf("%+v", s)
	}
}

func TestRoomAndMissThresholds(t *testing.T) {
	r := phosphate(t).Plan
	c, err := r.compose(7)
	if err != nil {
		t.Fatal(err)
	}
	litres := r.Volume / 1000
	// What it takes brings it to just under, and just over, 95 % of the flask.
	m := r.Mixture(exact(c.Acid*litres), exact(0.8*c.Base*litres), exact(0), exact(0.5*r.Volume), exact(25))
	s, _ := m.Solver()
	is := s.Solve().PH
	a, err := r.Advise(m, 0.5*r.Volume, is, 7)
	if err != nil {
		t.Fatal(err)
	}
	for share, want := range map[float64]bool{0.999: false, 1.001: true} {
		r.Thresholds = verdict.Thresholds{RuleRoom.ID: 100 * (0.5*r.Volume + a.All) / r.Volume / share}
		if b, _ := r.Advise(m, 0.5*r.Volume, is, 7); b.TooMuch != want {
			t.Errorf("%.3f of the room: too much %v", share, b.TooMuch)
		}
	}
	r.Thresholds = verdict.Thresholds{RulePortion.ID: 50}
	if b, _ := r.Advise(m, 0.5*r.Volume, is, 7); math.Abs(b.First-0.5*b.All) > 1e-9 {
		t.Errorf("half of it first: %+v", b)
	}
	r.Thresholds = nil
	made := Made{Acid: c.Acid * litres, Base: c.Base * litres, Volume: r.Volume, Celsius: 25}
	predicted := uncertain.New(7, 0.03, uncertain.Source{ID: "p"})
	for z, want := range map[float64]bool{2.59: true, -2.59: true, 2.61: false, -2.61: false} {
		measured := uncertain.New(7+0.05*z, 0.04, uncertain.Source{ID: "m"}) // together 0.05
		d, err := r.Diagnose(made, Seen{Predicted: predicted, Measured: measured, Goal: r.Target})
		if err != nil || d.Explained != want || math.Abs(d.U-0.05) > 1e-9 {
			t.Errorf("%.2f uncertainties: %+v (%v)", z, d, err)
		}
	}
	if _, err := r.Diagnose(Made{}, Seen{Predicted: predicted, Measured: predicted}); err == nil {
		t.Error("a diagnosis of nothing")
	}
}
