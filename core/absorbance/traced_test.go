package absorbance_test

import (
	"testing"

	"vialbench/core/slip"
)

// What is traced of a run gives the sample, before it was diluted; the factor left out is named, and so is the intercept.
func TestTracedIsTheSample(t *testing.T) {
	r := six()
	r.Unknowns[0].Diluted = 5
	b := measured(t, r)
	w, ok := r.Trace(b.facts)
	if !ok || w.Unit != "mg/L" || w.Figures.Line.Blank != nil || len(w.Figures.Line.Readings) != 3 {
		t.Fatalf("%+v %v", w, ok)
	}
	near(t, "sample", w.Value, 5*2.528441, 5e-6)
	for stated, want := range map[string]string{"2.528": "factor left out", "12.80": "no intercept"} {
		found, err := slip.Answer(slip.Question{Figures: w.Figures, Unit: w.Unit, Stated: stated})
		if err != nil {
			t.Fatal(err)
		}
		near(t, "traced", found.Calculated, w.Value, 1e-9)
		if !found.WorkingNamed || found.Working[0].Slips[0] != want {
			t.Errorf("%s: %+v", stated, found.Working)
		}
	}
	if _, ok := r.Trace(nil); ok {
		t.Error("traced before anything was read")
	}
	r.Unknowns = append(r.Unknowns, r.Unknowns[0])
	if _, ok := r.Trace(b.facts); ok {
		t.Error("traced of two unknowns: whose is it?")
	}
}
