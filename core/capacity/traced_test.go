package capacity

import (
	"math"
	"slices"
	"strconv"
	"testing"

	"vialbench/core/droptip"
	"vialbench/core/fact"
	"vialbench/core/slip"
	"vialbench/core/uncertain"
)

// What is traced is the capacity by the first portion: of the acid where that was added, else of the base; in mL or in drops.
func TestTracedIsTheFigure(t *testing.T) {
	for name, c := range map[string]struct {
		part, drops int
		figure      string
	}{"acid": {0, 0, "beta 0"}, "base": {1, 0, "beta 1"}, "drops": {0, 40, "beta 0"}} {
		r := plan()
		if c.drops > 0 {
			r.Drops, r.Portion, r.Tip = c.drops, 2, &droptip.Tip{Name: "Dropper", Volume: uncertain.Exact(0.05)}
		}
		b := on(t, r)
		b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
		if _, ok := b.Plan.Trace(b.Facts); ok {
			t.Errorf("%s: traced before a reading", name)
		}
		if c.part == 1 {
			b.State(reading(0, 4.76))
			b.State(fact.Fact{Kind: "decided", Choice: choiceDone, Part: 0})
		}
		b.State(reading(c.part, 4.76))
		if c.drops > 0 {
			b.State(fact.Fact{Kind: KindAdded, Part: c.part, Count: &c.drops})
		} else {
			b.State(portion(c.part, 2))
		}
		out := b.State(reading(c.part, map[int]float64{0: 4.69, 1: 4.83}[c.part]))
		want := 0.0
		for _, f := range out.Figures {
			if f.ID == c.figure {
				want = f.Value
			}
		}
		// 0.1 mol/L · 2 mL / (51 mL · 0.07), the acetate of 50 mL.
		if math.Abs(want-0.1*2/51/0.07) > 1e-6 {
			t.Fatalf("%s: β %g", name, want)
		}
		w, ok := b.Plan.Trace(b.Facts)
		if !ok || math.Abs(w.Value/want-1) > 1e-9 || !(w.U > 0) || w.Unit != "mol/L" {
			t.Fatalf("%s: %+v %v", name, w, ok)
		}
		if got := w.Figures.Capacity.Drops; got != c.drops {
			t.Errorf("%s: %d drops", name, got)
		}
		for id, stated := range map[string]float64{
			"volume at the start": 0.1 * 2 / 50 / 0.07, "mL for L": 0.1 * 2 / 51 / 0.07 * 1e-3, "decimal point": 1 / 51.0 * 2 / 0.07,
		} {
			if id == "mL for L" && c.drops > 0 {
				continue
			}
			got, err := slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: strconv.FormatFloat(stated, 'f', 8, 64)})
			if err != nil || math.Abs(got.Calculated/want-1) > 1e-6 {
				t.Fatalf("%s: traced as %g, not %g (%v)", name, got.Calculated, want, err)
			}
			if !slices.ContainsFunc(got.Working, func(x slip.Cause) bool {
				return slices.Equal(x.Slips, []string{id}) || id == "mL for L" && len(x.Alike) > 0 || id == "mL for L" && slices.Contains(x.Slips, "unit of a column")
			}) {
				t.Errorf("%s, %s: %+v", name, id, got.Working)
			}
		}
	}
}
