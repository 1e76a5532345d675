package run_test

import (
	"errors"
	"math"
	"reflect"
	"strings"
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func bottle(c, mL float64, flask string) run.Product {
	volume := uncertain.New(mL, 0.1, uncertain.Source{ID: flask, Label: "flask"})
	return run.Product{Title: "batch", Exact: true, Expires: "2026-06-30", Figures: []figure.Figure{
		figure.New("concentration", "concentration", "mol/L", uncertain.Exact(c)).As(figure.Concentration),
		figure.New("volume", "volume", "mL", volume).As(figure.Volume),
		figure.New("amount", "amount", "mmol", uncertain.Exact(c*mL)).As(figure.Amount),
	}}
}

func whole(p run.Product) run.Poured { return run.Poured{Product: p, Share: 1} }

// 500 mL of 0.1 mol/L and half of 1000 mL of 0.2 mol/L are 1 L of 0.15 mol/L.
func TestPouredTogether(t *testing.T) {
	first, second := bottle(0.1, 500, "a"), bottle(0.2, 1000, "b")
	second.Expires, second.StandardiseBy, second.Exact = "2026-05-31", "2026-05-20", false
	both, err := run.Pour([]run.Poured{whole(first), {Product: second, Share: 0.5}})
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []float64{0.15, 1000, 150} {
		if got := both.Figures[i].Value; math.Abs(got-want) > 1e-12*want {
			t.Errorf("%s = %g, want %g", both.Figures[i].ID, got, want)
		}
	}
	if both.Volume() != both.Figures[1].Value || both.Expires != "2026-05-31" || both.StandardiseBy != "2026-05-20" || both.Exact ||
		len(both.Concentrations()) != 1 {
		t.Errorf("%+v", both)
	}
}

// The error of one flask filled twice stays one error; of two flasks it is less:
// √(0.1² + 0.1²) against 0.1 + 0.1.
func TestPouredFromOneFlaskOrTwo(t *testing.T) {
	for other, want := range map[string]float64{"a": 0.2, "b": math.Sqrt(0.02)} {
		both, err := run.Pour([]run.Poured{whole(bottle(0.1, 500, "a")), whole(bottle(0.1, 500, other))})
		if err != nil {
			t.Fatal(err)
		}
		if volume, _ := both.Figure(figure.Volume); math.Abs(volume.U()-want) > 1e-12 {
			t.Errorf("flasks a and %s: u = %g mL, want %g", other, volume.U(), want)
		}
		if c := both.Figures[0]; c.U() > 1e-12 { // the same strength, however much of each
			t.Errorf("u(c) = %g", c.U())
		}
	}
}

// Without a table of its own, a run gives its figures.
func TestAsTable(t *testing.T) {
	out := run.Outcome{Figures: bottle(0.1, 100, "a").Figures[:2]}
	want := [][]string{{"figure", "value", "U (k = 2)", "unit"}, {"concentration", "0.1", "0", "mol/L"}, {"volume", "100.00", "0.20", "mL"}}
	if got := out.AsTable(); !reflect.DeepEqual(got, want) {
		t.Errorf("%q, want %q", got, want)
	}
	if out.Table = [][]string{{"own"}}; out.AsTable()[0][0] != "own" {
		t.Error("its own table is passed over")
	}
}

func TestPourRefuses(t *testing.T) {
	acidity := bottle(0.1, 100, "a")
	acidity.Figures = append(acidity.Figures, figure.New("pH", "pH", "", uncertain.Exact(4)).As("pH"))
	dry := bottle(0.1, 100, "a")
	dry.Figures = dry.Figures[:1]
	for want, parts := range map[string][]run.Poured{
		"at least two bottles":   {whole(bottle(0.1, 500, "a"))},
		"empty bottle":           {whole(bottle(0.1, 500, "a")), {Product: bottle(0.1, 500, "a")}},
		"bottles of one plan":    {whole(bottle(0.1, 500, "a")), whole(dry)},
		"measure it":             {whole(acidity), whole(acidity)},
		"only finished bottles":  {whole(acidity), whole(bottle(0.1, 500, "a"))},
		"cannot be poured":       {whole(bottle(0.1, 500, "a")), {Product: bottle(0.1, 500, "a"), Share: 1.01}},
		"an empty bottle cannot": {whole(bottle(0.1, 500, "a")), {Product: bottle(0.1, 500, "a"), Share: math.NaN()}},
	} {
		_, err := run.Pour(parts)
		var problems verdict.Problems
		if !errors.As(err, &problems) || !strings.Contains(err.Error(), want) || problems[0].Field != "/bottles" {
			t.Errorf("%v, want %q", err, want)
		}
	}
}

// The facts that all kinds have, at the ends of their ranges.
func TestCommonFacts(t *testing.T) {
	q := func(value float64, unit string) *quantity.Quantity {
		made := quantity.Of(value, unit)
		return &made
	}
	n := func(count int) *int { return &count }
	for _, c := range []struct {
		f    fact.Fact
		want string // where the problem is
		says string
	}{
		{fact.Fact{Kind: run.KindTemperature, Quantity: q(0, "°C")}, "", "At 0 °C"},
		{fact.Fact{Kind: run.KindTemperature, Quantity: q(40, "°C")}, "", "At 40 °C"},
		{fact.Fact{Kind: run.KindTemperature, Quantity: q(40.1, "°C")}, "/quantity", ""},
		{fact.Fact{Kind: run.KindTemperature, Quantity: q(-0.1, "°C")}, "/quantity", ""},
		{fact.Fact{Kind: run.KindTemperature, Quantity: q(math.NaN(), "°C")}, "/quantity", ""},
		{fact.Fact{Kind: run.KindTemperature, Quantity: q(20, "g")}, "/quantity", ""},
		{fact.Fact{Kind: run.KindTemperature}, "/quantity", ""},
		{fact.Fact{Kind: run.KindTemperature, Quantity: q(20, "°C"), Count: n(1)}, "/count", ""},
		{fact.Fact{Kind: run.KindMixed, Count: n(1)}, "", "Inverted once"},
		{fact.Fact{Kind: run.KindMixed, Count: n(run.MaxCount)}, "", "Inverted 200 times"},
		{fact.Fact{Kind: run.KindMixed, Count: n(run.MaxCount + 1)}, "/count", ""},
		{fact.Fact{Kind: run.KindMixed, Count: n(0)}, "/count", ""},
		{fact.Fact{Kind: run.KindMixed}, "/count", ""},
		{fact.Fact{Kind: run.KindDecided, Choice: "accept", Text: "good enough"}, "", "Decided: take it as it is (good enough)"},
		{fact.Fact{Kind: run.KindDecided, Choice: run.ChoiceStartAgain}, "", "Decided: give this run up"},
		{fact.Fact{Kind: run.KindDecided}, "/choice", ""},
		{fact.Fact{Kind: run.KindLabelled, Date: "2028-02-29", Text: "blue cap"}, "", "Labelled, keeps until 2028-02-29: blue cap"},
		{fact.Fact{Kind: run.KindLabelled, Date: "2027-02-29"}, "/date", ""},
		{fact.Fact{Kind: run.KindLabelled}, "/date", ""},
		{fact.Fact{Kind: run.KindNote, Text: "the fan is off"}, "", "Note: the fan is off"},
		{fact.Fact{Kind: run.KindNote, Text: "  "}, "/text", ""},
		{fact.Fact{Kind: "sung"}, "/kind", ""},
		{fact.Fact{Kind: "mixed", Count: n(3), Choice: "x", Text: "y", Date: "z", Quantity: q(1, "g"), After: q(1, "g"), Spread: q(1, "g"), Beside: []quantity.Quantity{*q(1, "g")}}, "/quantity /after /spread /beside /choice /text /date", ""},
	} {
		var problems verdict.Problems
		errors.As(run.Check(c.f), &problems)
		fields := make([]string, len(problems))
		for i, p := range problems {
			fields[i] = p.Field
		}
		if got := strings.Join(fields, " "); got != c.want {
			t.Errorf("%+v: problems at %q, want %q", c.f, got, c.want)
		}
		if c.want == "" {
			if got := run.Sentence(c.f, map[string]string{"accept": "take it as it is"}); got != c.says {
				t.Errorf("%q, want %q", got, c.says)
			}
		}
	}
	if run.GivenUp(fact.Fact{}) != "given up" || run.GivenUp(fact.Fact{Text: "fire drill"}) != "given up: fire drill" {
		t.Error("why it was given up is not said")
	}
}

// A burette of 50 mL is read from 0 to 50, downward.
func TestScales(t *testing.T) {
	q := func(mL float64) *quantity.Quantity {
		made := quantity.Of(mL, "mL")
		return &made
	}
	mass := quantity.Of(1, "g")
	for _, c := range []struct {
		before, after *quantity.Quantity
		want          string
	}{
		{q(0), q(50), ""},
		{q(12.34), q(12.35), ""},
		{q(0), q(50.01), "/after"},
		{q(-0.01), q(5), "/quantity"},
		{q(5), q(5), "/after"},
		{q(6), q(5), "/after"},
		{nil, q(5), "/quantity"},
		{q(5), nil, "/after"},
		{&mass, q(5), "/quantity"},
		{q(math.NaN()), q(5), "/quantity"},
	} {
		var problems verdict.Problems
		run.CheckScale(fact.Fact{Quantity: c.before, After: c.after}, 50, &problems)
		got := ""
		for _, p := range problems {
			got += p.Field
		}
		if got != c.want {
			t.Errorf("%v to %v: problems at %q, want %q", c.before, c.after, got, c.want)
		}
	}
}

func TestFirstLetters(t *testing.T) {
	for text, want := range map[string][2]string{
		"Phosphate buffer": {"phosphate buffer", "Phosphate buffer"},
		"water":            {"water", "Water"},
		"HEPES buffer":     {"HEPES buffer", "HEPES buffer"},
		"β-alanine buffer": {"β-alanine buffer", "β-alanine buffer"},
		"Z":                {"z", "Z"},
		"":                 {"", ""},
	} {
		if low, up := run.LowerFirst(text), run.UpperFirst(text); low != want[0] || up != want[1] {
			t.Errorf("%q: %q and %q", text, low, up)
		}
	}
}

// steps is a plan of which a sheet has two steps of one kind, in two parts; the second is at hand once a
// fact is there.
type steps struct{ run.Plan }

func (steps) Make(facts []fact.Fact, _ time.Time) (run.Outcome, error) {
	list := []run.Step{
		{ID: "a", Title: "first", Kind: "read", Part: 0, State: run.Now, Default: "1"},
		{ID: "b", Title: "again", Kind: "read", Part: 0, State: run.Coming},
		{ID: "c", Title: "other", Kind: "read", Part: 1, State: run.Coming},
	}
	if len(fact.Standing(facts)) > 0 {
		list[0].State, list[1].State = run.Done, run.Now
	}
	return run.Outcome{Steps: list}, nil
}

// Of several steps of a kind and a part the one at hand asked; else the first of them.
func TestWhichStepAsked(t *testing.T) {
	facts := []fact.Fact{{ID: "1", Kind: "read"}, {ID: "2", Kind: "read"}, {ID: "3", Kind: "read", Part: 1}, {ID: "4", Kind: "weighed"}}
	for id, want := range map[string]string{"1": "first", "2": "again", "3": "other"} {
		if s, err := run.AskedBy(steps{}, facts, id, time.Time{}); err != nil || s.Title != want || s.Default != "" {
			t.Errorf("%s: %q, %v", id, s.Title, err)
		}
	}
	facts = append(facts, fact.Fact{ID: "1b", Kind: "read", Replaces: "1", Reason: "misread"})
	if s, err := run.AskedBy(steps{}, facts, "2", time.Time{}); err != nil || s.Title != "again" {
		t.Errorf("after a correction of the first: %q, %v", s.Title, err)
	}
	for _, id := range []string{"1", "4", "5"} {
		if s, err := run.AskedBy(steps{}, facts, id, time.Time{}); err == nil {
			t.Errorf("%s: %q", id, s.Title)
		}
	}
}
