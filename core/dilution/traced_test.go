package dilution_test

import (
	"math"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/slip"
)

// The last tube of a chain is traced through every stage; the factor forgotten, and a stage left out, are named.
func TestTracedIsTheLastTube(t *testing.T) {
	s := chain(t)
	s.add("temperature", 0, degrees(21)).stage(0, "reached").stage(1, "reached")
	if _, ok := s.r.Trace(s.facts); ok {
		t.Error("traced before the last tube is made")
	}
	s.stage(2, "reached").add("labelled", 0, func(f *fact.Fact) { f.Date = "2026-05-19" })
	out := s.outcome()
	w, ok := s.r.Trace(s.facts)
	last := out.Figures[len(out.Figures)-1]
	if !ok || math.Abs(w.Value/last.Value-1) > 1e-12 || w.U != last.Expanded || len(w.Figures.Dilution.Steps) != 3 {
		t.Fatalf("%+v %v", w, ok)
	}
	found, err := slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: "0.1", Half: last.Value, U: w.U})
	if err != nil || math.Abs(found.Calculated/w.Value-1) > 1e-9 {
		t.Errorf("traced as %g, the run gives %g (%v)", found.Calculated, w.Value, err)
	}
	// A tenth ten times too strong: one stage was not counted.
	found, err = slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: "1.000", Half: 0.0005, U: w.U})
	if err != nil || *found.Follows || len(found.Working) == 0 {
		t.Fatalf("%+v (%v)", found, err)
	}
	named := false
	for _, c := range found.Working[:min(3, len(found.Working))] {
		for _, id := range c.Slips {
			named = named || id == "factor left out"
		}
	}
	if !named {
		t.Errorf("ten times too strong: %+v", found.Working)
	}
}

// Tubes of a rack that all come from the stock have no one result.
func TestRacksAreNotTraced(t *testing.T) {
	s := chain(t)
	s.r.Rungs[1].From = -1
	s.add("temperature", 0, degrees(21)).stage(0, "reached")
	s.add("taken", 1, chosen("delivered")).add("filled", 1, chosen("reached")).add("mixed", 1, counted(20)).stage(2, "reached")
	if _, ok := s.r.Trace(s.facts); ok {
		t.Error("traced")
	}
}
