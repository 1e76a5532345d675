package demo_test

import (
	"strings"
	"testing"
	"time"

	"vialbench/demo"
	"vialbench/internal/lab"
	"vialbench/internal/store/storetest"
)

// The sample records: six bottles, a rack of three tubes and one of six, a half-done run, a voided
// one, a corrected reading; of this week, and the same after a second start.
func TestLoadOnceAndAgain(t *testing.T) {
	l := lab.New(storetest.Open(t), lab.Options{})
	for range 2 {
		signIn, err := demo.Load(t.Context(), l)
		if err != nil || !strings.Contains(signIn, demo.Password) {
			t.Fatal(signIn, err)
		}
	}
	today, err := l.Today(t.Context())
	if err != nil || len(today.Open) != 1 || today.Bottles != 15 {
		t.Fatalf("%d runs open, %d bottles, %v", len(today.Open), today.Bottles, err)
	}
	if age := time.Since(today.Open[0].ChangedAt); age < 0 || age > 48*time.Hour {
		t.Errorf("the half-done run is %s old", age)
	}
	voided, err := l.Runs(t.Context(), "void", "", 0)
	if err != nil || len(voided.Items) != 2 || !strings.Contains(voided.Items[0].Reason+voided.Items[1].Reason, "past the mark") {
		t.Errorf("%+v, %v", voided.Items, err)
	}
	bottles, err := l.Bottles(t.Context(), lab.Shelf{}, 0)
	if err != nil {
		t.Fatal(err)
	}
	// The EDTA after its correction.
	want := map[string][2]float64{
		"Potassium hydrogen phthalate, 0.1000 mol/L":    {0.0990, 0.1010},
		"Disodium EDTA dihydrate, 0.0100 mol/L":         {0.00995, 0.01005},
		"Potassium dihydrogen phosphate, 100 mg/L as P": {99, 101},
		"Phosphate buffer, 0.05 mol/L, pH 7.02":         {0.048, 0.049},
		"Potassium permanganate, 0.02 mol/L":            {0.0198, 0.0200}, // as standardised
		"Sodium hydroxide, 0.1 mol/L":                   {0.099, 0.101},
	}
	rack := 0
	for _, b := range bottles.Items {
		if b.Product.Tube {
			rack++
			continue
		}
		c := b.Product.Figures[0]
		if limits := want[b.Title]; c.Value < limits[0] || c.Value > limits[1] || !b.ExpiresOn.After(time.Now()) {
			t.Errorf("%s: %s, expires %s", b.Title, c, b.ExpiresOn)
		}
		delete(want, b.Title)
	}
	if rack != 9 {
		t.Errorf("%d tubes with a parent", rack)
	}
	if len(want) != 0 {
		t.Errorf("not there: %v", want)
	}
	actor, err := l.People(t.Context())
	if err != nil || len(actor) != 2 {
		t.Errorf("%d people, %v", len(actor), err)
	}
}
