package titration

import (
	"math"
	"slices"
	"strconv"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/slip"
	"vialbench/core/substance"
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
	// Before there is a result there is nothing to trace.
	if _, ok := lye(t).Trace(nil); ok {
		t.Error("traced without a trial")
	}
}

// What is traced of other ways of titrating gives the figure of the run too.
func TestTracedOfOtherWays(t *testing.T) {
	ready := fact.Fact{Kind: KindReady, Choice: choiceThrice}
	for name, carry := range map[string]func(t *testing.T) (*bench, float64){
		"drops": func(t *testing.T) (*bench, float64) {
			b := on(t, drips(t))
			b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
			var out run.Outcome
			for part, drops := range []int{110, 104, 104} {
				b.State(fact.Fact{Kind: KindSample, Part: part, Choice: choiceDelivered})
				out = b.counted(part, drops, choiceEnd)
			}
			return b, out.Figures[0].Value
		},
		"blank": func(t *testing.T) (*bench, float64) {
			b := on(t, iron(t))
			b.State(ready)
			b.trial(0, "0.35", "20.10")
			b.trial(1, "0.20", "19.32")
			b.trial(2, "0.10", "19.25")
			b.State(decide(3, choiceBlank))
			b.State(scale(KindStart, 3, "1.00"))
			b.State(scale(KindRead, 3, "1.05"))
			return b, 10 * b.State(decide(3, choiceEnd)).Figures[0].Value
		},
		"back": func(t *testing.T) (*bench, float64) {
			r := chalk(t)
			r.By, r.Mass, r.Volume, r.Glass = ByPipette, 0, 25, pipette(25)
			b := on(t, r)
			b.State(ready)
			b.trial(0, "0.00", "21.00")
			b.trial(1, "0.20", "20.32")
			return b, b.trial(2, "0.10", "20.25").Figures[0].Value
		},
		"weighed": func(t *testing.T) (*bench, float64) {
			r := lye(t)
			library := substance.Library()
			khp := library[slices.IndexFunc(library, func(s substance.Substance) bool { return s.Formula == "KHC8H4O4" })]
			r.By, r.Mass, r.Substance = Weighed, 0.5, &khp
			r.Sample = Solution{Name: khp.Name, Formula: khp.Formula, Units: 1}
			b := on(t, r)
			b.State(ready)
			var out run.Outcome
			for part, x := range []struct {
				grams float64
				to    string
			}{{0.5311, "26.60"}, {0.5124, "25.10"}, {0.4987, "24.45"}} {
				b.State(fact.Fact{Kind: KindSample, Part: part, Quantity: inGrams(t, x.grams)})
				b.State(scale(KindStart, part, "0.00"))
				b.State(scale(KindRead, part, x.to))
				out = b.State(decide(part, choiceEnd))
			}
			return b, out.Figures[0].Value
		},
	} {
		t.Run(name, func(t *testing.T) {
			b, want := carry(t)
			w, ok := b.Plan.Trace(b.Facts)
			if !ok || math.Abs(w.Value/want-1) > 1e-9 || !(w.U > 0) {
				t.Fatalf("%+v %v, want %g", w, ok, want)
			}
			found, err := slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: "1"})
			if err != nil || math.Abs(found.Calculated/want-1) > 1e-4 {
				t.Errorf("traced as %g, the run gives %g (%v)", found.Calculated, want, err)
			}
			if (len(w.Runs) == 0) != (name == "back") {
				t.Errorf("single results %v", w.Runs)
			}
			mean := 0.0
			for _, x := range w.Runs {
				mean += x / float64(len(w.Runs))
			}
			if len(w.Runs) > 0 && math.Abs(mean/want-1) > 1e-4 {
				t.Errorf("the single results %v have the mean %g, not %g", w.Runs, mean, want)
			}
		})
	}
}

// The part by mass of a solid that was made up to a flask is traced: 36.8 % of iron in an ore (Skoog and others, as in
// TestIronInAnOre), and what is found in an aliquot is a tenth of the flask.
func TestTracedPartOfASolid(t *testing.T) {
	r := ore(t, 8, 0.02242)
	for _, diluted := range []float64{0, 2} {
		r.Diluted = diluted
		b := on(t, r)
		b.madeUp(8.0400)
		b.trial(0, "0.00", "47.22")
		b.trial(1, "0.00", "47.22")
		out := b.trial(2, "0.00", "47.22")
		want := byID(out)["solid %"].Value
		w, ok := b.Plan.Trace(b.Facts)
		if !ok || w.Unit != "% w/w" || math.Abs(w.Value/want-1) > 1e-9 || !(w.U > 0) || diluted == 0 && math.Abs(want-36.8) > 0.05 {
			t.Fatalf("%+v %v, want %g", w, ok, want)
		}
		for stated, id := range map[float64]string{want: "", want / 10: "aliquot for flask", want * 1000: "mL for L"} {
			got, err := slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: strconv.FormatFloat(stated, 'f', 6, 64)})
			if err != nil || math.Abs(got.Calculated/want-1) > 1e-4 {
				t.Fatalf("traced as %g, the run gives %g (%v)", got.Calculated, want, err)
			}
			if id == "" != *got.Follows {
				t.Errorf("%g: %+v", stated, got)
			}
			if id != "" && !slices.ContainsFunc(got.Working, func(c slip.Cause) bool {
				return slices.Equal(c.Slips, []string{id}) || id == "aliquot for flask" && slices.Contains(c.Alike, "what was found in the aliquot taken for all of the flask")
			}) {
				t.Errorf("%g: %+v", stated, got.Working)
			}
		}
	}
	if _, ok := r.Trace(nil); ok {
		t.Error("traced before anything was weighed")
	}
}
