package lab_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/titration"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
)

func asks(t *testing.T, l *lab.Lab, by lab.Actor, question map[string]any) (lab.PlanView, error) {
	t.Helper()
	body, err := json.Marshal(question)
	if err != nil {
		t.Fatal(err)
	}
	return l.CreatePlan(t.Context(), by, uuid.NewString(), titration.Kind, body)
}

// wrong is the first problem of a question, by its field.
func wrong(err error) string {
	var p verdict.Problems
	if !errors.As(err, &p) {
		return fmt.Sprint(err)
	}
	return strings.TrimPrefix(p[0].Field, "/question") + ": " + p[0].Reason
}

// The tips of a lab are those of its finished calibrations, of one name the newest; a titration in
// drops depends on one, follows its correction, and says what is wrong with a question.
func TestTips(t *testing.T) {
	l, ra, _ := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	withLye(t, l, ra)
	tips, err := l.Tips(t.Context())
	if err != nil || len(tips) != 1 || tips[0].Name != "Dropper 3" || math.Abs(tips[0].Volume.Value-0.0496) > 0.0002 ||
		!strings.HasPrefix(tips[0].Text, "0.0496") || tips[0].Number != tips[0].Run.Number {
		t.Fatalf("%+v %v", tips, err)
	}
	lye, khp := bottleNamed(t, l, "Sodium hydroxide"), bottleNamed(t, l, "Potassium hydrogen phthalate")
	question := func(more map[string]any) map[string]any {
		q := map[string]any{
			"reaction":      "phthalate-for-base",
			"standardise":   true,
			"titrantBottle": lye.ID,
			"sampleBottle":  khp.ID,
			"by":            "pipette",
			"volume":        5,
			"celsius":       21,
			"device":        "drops",
		}
		for k, v := range more {
			q[k] = v
		}
		return q
	}
	expected := func(more map[string]any) string {
		t.Helper()
		p, err := asks(t, l, ra, question(more))
		if err != nil {
			t.Fatal(err)
		}
		return p.Design.(titration.Design).Expected //nolint:errcheck // of this kind
	}
	if got := expected(map[string]any{"tip": tips[0].Run.ID}); got != "100 drops (5.0 mL)" {
		t.Error(got)
	}
	if got := expected(nil); got != "100 drops (5.0 mL)" { // of 0.05 mL, unless it was counted
		t.Error(got)
	}
	if got := expected(map[string]any{"drop": 0.025}); got != "199 drops (5.0 mL)" {
		t.Error(got)
	}
	if got := expected(map[string]any{"device": "syringe", "burette": 10}); got != "5.0 mL" {
		t.Error(got)
	}
	for want, more := range map[string]map[string]any{
		"/tip: a tip is named": {"tip": "dropper"},
		"/tip: run":            {"tip": *khp.RunID},
		"/drop":                {"drop": 1},
		"/device":              {"device": "spoon"},
	} {
		if _, err := asks(t, l, ra, question(more)); !strings.HasPrefix(wrong(err), want) {
			t.Errorf("%s: %s", want, wrong(err))
		}
	}
	if _, err := asks(t, l, ra, question(map[string]any{"tip": uuid.NewString()})); err == nil {
		t.Error("a tip that there is not")
	}
	// The mass of a count was misread: the drop is larger, and what depends on it follows.
	kept, err := asks(t, l, ra, question(map[string]any{"tip": tips[0].Run.ID}))
	if err != nil {
		t.Fatal(err)
	}
	titrated, err := l.BeginRun(t.Context(), ra, uuid.NewString(), kept.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	calibrated, err := l.Run(t.Context(), tips[0].Run.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range calibrated.Facts {
		if f.Kind == "drops-caught" {
			grams := f.Body.Quantity.In("g") * 1.1
			s := lab.Statement{Stated: run.Stated{
				Quantity: &quantity.Stated{Text: quantity.Digits(grams, 4), Unit: "g"},
				Fact:     fact.Fact{ID: uuid.NewString(), Kind: f.Kind, Part: f.Body.Part, Replaces: f.ID, Reason: "misread"},
			}}
			if _, err := l.StateFact(t.Context(), ra, calibrated.ID, s); err != nil {
				t.Fatal(err)
			}
		}
	}
	view, err := l.Run(t.Context(), titrated.ID)
	if err != nil {
		t.Fatal(err)
	}
	if got := view.Design.(titration.Design).Expected; got != "91 drops (5.0 mL)" { //nolint:errcheck // of this kind
		t.Errorf("after the correction: %s", got)
	}
}

// A back titration through the lab: what is wrong with its question, and what it takes.
func TestBackTitrationQuestions(t *testing.T) {
	l, ra, _ := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	withLye(t, l, ra)
	lye, khp := bottleNamed(t, l, "Sodium hydroxide"), bottleNamed(t, l, "Potassium hydrogen phthalate")
	question := func(field string, value any) map[string]any {
		q := map[string]any{
			"reaction": "phthalate-for-base", "titrantBottle": lye.ID, "by": "weighed", "mass": 0.1, "name": "Baking powder",
			"burette": 50, "celsius": 21, "backEquation": "NaHCO3 + KHC8H4O4 -> KNaC8H4O4 + CO2 + H2O", "backAnalyte": "NaHCO3",
			"reagentBottle": khp.ID, "reagent": 25,
		}
		if field != "" {
			q[field] = value
		}
		return q
	}
	p, err := asks(t, l, ra, question("", nil))
	if err != nil {
		t.Fatal(err)
	}
	if d := p.Design.(titration.Design); d.Title != "Baking powder: NaHCO3 by back titration" || //nolint:errcheck // of this kind
		!strings.Contains(d.Ratio, "1 mol of NaHCO3 for 1 mol of KHC8H4O4, and 1 mol of KHC8H4O4 for 1 mol of NaOH") {
		t.Errorf("%+v", d)
	}
	for want, change := range map[string]struct {
		field string
		value any
	}{
		"/backEquation":  {"backEquation", "NaHCO3 + HCl -> NaCl + CO2 + H2O"},
		"/backAnalyte":   {"backAnalyte", "Na2CO3"},
		"/reagentBottle": {"reagentBottle", ""},
		"/reagent":       {"reagent", 33},
	} {
		if _, err := asks(t, l, ra, question(change.field, change.value)); !strings.HasPrefix(wrong(err), want+": ") {
			t.Errorf("%s: %s", want, wrong(err))
		}
	}
	q := question("by", "pipette")
	q["volume"], q["sampleBottle"] = 25, khp.ID
	if _, err := asks(t, l, ra, q); err == nil || !strings.Contains(err.Error(), "name it instead of a bottle") {
		t.Errorf("%v", err)
	}
}
