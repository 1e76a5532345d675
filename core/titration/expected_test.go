package titration

import (
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/substance"
)

// A sample that weighs more than the first one takes more, as much as it weighs more.
func TestExpectedOfUnlikeSamples(t *testing.T) {
	library := substance.Library()
	khp := library[slices.IndexFunc(library, func(s substance.Substance) bool { return s.Formula == "KHC8H4O4" })]
	r := lye(t)
	r.By, r.Mass, r.Substance = Weighed, 0.5, &khp
	r.Sample = Solution{Name: khp.Name, Formula: khp.Formula, Units: 1}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	weigh := func(part int, grams float64) run.Outcome {
		t.Helper()
		b.State(fact.Fact{Kind: KindSample, Part: part, Quantity: inGrams(t, grams)})
		return b.State(scale(KindStart, part, "0.00"))
	}
	out := weigh(0, 0.6)
	if s, want := runtest.Now(t, out), r.Expected()*0.6/0.5; math.Abs(view(out).Expected-want) > 0.05 || s.Expects == "" {
		t.Errorf("before any trial: %g, want %.2f", view(out).Expected, want)
	}
	b.State(scale(KindRead, 0, "30.00"))
	b.State(decide(0, choiceEnd))
	out = weigh(1, 0.4)
	if s := runtest.Now(t, out); math.Abs(view(out).Expected-20) > 1e-9 || s.Expects != "20.00 mL" ||
		!strings.Contains(s.Hint, "About 20.0 mL in all. At once to 19.0 mL") {
		t.Errorf("two thirds of the first sample: %g, %+v", view(out).Expected, s)
	}
}

// A blank is called one where it is done and in the table, and is no rough trial, though it is the first.
func TestABlankIsCalledOne(t *testing.T) {
	b := on(t, iron(t))
	b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	out := b.State(decide(0, choiceBlank))
	if s := runtest.Now(t, out); s.Title != "Trial 1, blank: read the burette before it begins" {
		t.Errorf("%q", s.Title)
	}
	b.State(scale(KindStart, 0, "0.00"))
	b.State(scale(KindRead, 0, "0.10"))
	out = b.State(decide(0, choiceEnd))
	if line := out.Table[1]; view(out).Trials[0].Sample != "blank" || !view(out).Trials[0].Blank || view(out).Trials[0].Rough || line[1] != "blank" {
		t.Errorf("%+v, %v", view(out).Trials[0], line)
	}
	if s := runtest.Now(t, out); !strings.HasPrefix(s.Title, "Trial 2, rough: ") {
		t.Errorf("%q", s.Title)
	}
}

// What shows itself gets no drop of an indicator.
func TestIndicatorOfAStep(t *testing.T) {
	for want, r := range map[string]Request{
		"Indicator: none, permanganate shows itself.": iron(t), "Indicator: phenolphthalein, a drop or two.": lye(t),
	} {
		b := on(t, r)
		out := b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
		if s := runtest.Now(t, out); !strings.Contains(s.Hint, want) {
			t.Errorf("%q, want %q in it", s.Hint, want)
		}
	}
}
