package lab_test

import (
	"encoding/json"
	"math"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/core/titration"
)

// What is determined of a bottle goes onto it where that was asked for, as a standardisation does, and off it
// again when the run is void; without that it stays in the record.
func TestADeterminedBottleTakesItOver(t *testing.T) {
	l, ra, _ := newLab(t)
	withLye(t, l, ra)
	withRecords(t, l, ra, "testdata/acid.json")
	lye, acid := bottleNamed(t, l, "Sodium hydroxide"), bottleNamed(t, l, "Hydrochloric acid")
	if acid.Product.Exact {
		t.Fatalf("%+v", acid.Product)
	}
	question := map[string]any{
		"reaction": "strong-acid-by-base", "titrantBottle": lye.ID, "sampleBottle": acid.ID, "by": "pipette",
		"volume": 25, "burette": 50, "celsius": 21, "settles": true, "standardise": false,
	}
	readings := [][2]string{{"0.00", "24.40"}, {"0.00", "24.50"}, {"0.00", "24.50"}}
	id := titrate(t, l, ra, question, readings...)
	made := molar(t, acid)
	acid = bottleByID(t, l, acid.ID)
	want := molar(t, lye) * 24.50 / 25
	if got := molar(t, acid); math.Abs(got/want-1) > 2e-4 || !acid.Product.Exact || len(acid.Standardisations) != 1 ||
		acid.Product.Standardised.Run != id || math.Abs(acid.Product.Standardised.Made.Value/made-1) > 1e-9 {
		t.Errorf("%.6f mol/L, want %.6f: %+v", got, want, acid.Product.Standardised)
	}
	if taken := acid.Volume - acid.Left(); math.Abs(taken-75) > 1e-9 {
		t.Errorf("%g mL were taken", taken)
	}
	question["settles"] = false
	titrate(t, l, ra, question, [][2]string{{"0.00", "20.00"}, {"0.00", "20.10"}, {"0.00", "20.10"}}...)
	if again := bottleByID(t, l, acid.ID); molar(t, again) != molar(t, acid) {
		t.Error("a result that was to stay in the record went onto the bottle")
	}
	question["settles"], question["diluted"] = true, 10
	body, err := json.Marshal(question)
	if err != nil {
		t.Fatal(err)
	}
	_, err = l.CreatePlan(t.Context(), ra, uuid.NewString(), titration.Kind, body)
	if says := problems(t, err)["/question/settles"]; !strings.Contains(says, "undiluted sample from a bottle") {
		t.Errorf("diluted before: %v", err)
	}
}
