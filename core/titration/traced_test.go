package titration

import (
	"math"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/slip"
)

// What is traced gives the figure of the run, for a titrant that is standardised and for a diluted sample.
func TestTracedIsTheFigure(t *testing.T) {
	standardise := lye(t)
	sought := lye(t)
	sought.Standardise, sought.Diluted = false, 10
	sought.Titrant.C = standardise.Sample.C
	for name, r := range map[string]Request{"standardise": standardise, "find": sought} {
		b := on(t, r)
		b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
		b.trial(0, "0.35", "26.10")
		b.trial(1, "0.20", "25.32")
		out := b.trial(2, "0.10", "25.30")
		w, ok := b.Plan.Trace(b.Facts)
		want := out.Figures[0].Value
		if name == "find" {
			want = 10 * out.Figures[0].Value
		}
		if !ok || math.Abs(w.Value/want-1) > 1e-9 || len(w.Runs) != 2 || w.Unit != "mol/L" || !(w.U > 0) {
			t.Fatalf("%s: %+v %v, want %g", name, w, ok, want)
		}
		found, err := slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: "1"})
		if err != nil || math.Abs(found.Calculated/want-1) > 1e-4 {
			t.Errorf("%s: traced as %g, the run gives %g (%v)", name, found.Calculated, want, err)
		}
		if trials := w.Figures.Titration.Trials; len(trials) != 3 || !trials[0].Rough || trials[1].Rough || trials[1].End != 25.32 || trials[1].Start != 0.2 {
			t.Errorf("%s: %+v", name, trials)
		}
	}
	// Before there is a result there is nothing to trace; of weighed samples nothing is laid out.
	if _, ok := lye(t).Trace(nil); ok {
		t.Error("traced without a trial")
	}
}
