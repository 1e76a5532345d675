package capacity

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// fieldsOf are the fields that an error names.
func fieldsOf(err error) (fields []string) {
	var p verdict.Problems
	errors.As(err, &p)
	for _, x := range p {
		fields = append(fields, x.Field)
	}
	return fields
}

// The ends of what a question takes belong to it; a little beyond is refused.
func TestEndsOfAQuestion(t *testing.T) {
	for _, c := range []struct {
		name, field string
		set         func(q *Question)
		refused     bool
	}{
		{"volume 1e5", "/volume", func(q *Question) { q.Volume = 1e5 }, false},
		{"volume above", "/volume", func(q *Question) { q.Volume = 100001 }, true},
		{"covered 0", "/covered", func(q *Question) { q.Covered = 0 }, false},
		{"covered 1e5", "/covered", func(q *Question) { q.Covered = 1e5 }, false},
		{"covered above", "/covered", func(q *Question) { q.Covered = 100001 }, true},
		{"c 20", "/c", func(q *Question) { q.C = 20 }, false},
		{"c above", "/c", func(q *Question) { q.C = 20.1 }, true},
		{"pH −2", "/readings/1/pH", func(q *Question) { q.Readings[1].PH = -2 }, false},
		{"pH below", "/readings/1/pH", func(q *Question) { q.Readings[1].PH = -2.01 }, true},
		{"pH 16", "/readings/1/pH", func(q *Question) { q.Readings[1].PH = 16 }, false},
		{"pH above", "/readings/1/pH", func(q *Question) { q.Readings[1].PH = 16.01 }, true},
		{"u 2", "/readings/1/u", func(q *Question) { q.Readings[1].U = 2 }, false},
		{"u above", "/readings/1/u", func(q *Question) { q.Readings[1].U = 2.01 }, true},
		{"as much as before", "/readings/1/added", func(q *Question) { q.Readings = append(q.Readings[:1], q.Readings[0]) }, true},
		{"drops at first", "/readings/0/added", func(q *Question) { q.Drop, q.Readings[0].Drops = 0.05, 1 }, true},
		{"200 readings", "/readings", func(q *Question) { q.Readings = many(200) }, false},
		{"201 readings", "/readings", func(q *Question) { q.Readings = many(201) }, true},
	} {
		q := Question{Volume: 50, Celsius: 25, C: 0.1, Readings: []Reading{{PH: 7}, {Added: 1, PH: 7.2, U: 0.01}}}
		c.set(&q)
		if slices.Contains(fieldsOf(q.check()), c.field) != c.refused {
			t.Errorf("%s: refused %t", c.name, !c.refused)
		}
	}
}

func many(n int) (list []Reading) {
	for i := range n {
		list = append(list, Reading{Added: float64(i), PH: 7})
	}
	return list
}

func TestEndsOfAPlan(t *testing.T) {
	for _, c := range []struct {
		name, field string
		set         func(r *Request)
		refused     bool
	}{
		{"120 letters", "/name", func(r *Request) { r.Name = strings.Repeat("ß", 120) }, false},
		{"121 letters", "/name", func(r *Request) { r.Name = strings.Repeat("a", 121) }, true},
		{"1 mL", "/volume", func(r *Request) { r.Volume, r.Portion = 1, 0.5 }, false},
		{"less than 1 mL", "/volume", func(r *Request) { r.Volume = 0.9 }, true},
		{"5000 mL", "/volume", func(r *Request) { r.Volume = 5000 }, false},
		{"more than 5000 mL", "/volume", func(r *Request) { r.Volume = 5001 }, true},
		{"covered with as much", "/covered", func(r *Request) { r.Covered = 50 }, false},
		{"covered with more", "/covered", func(r *Request) { r.Covered = 50.1 }, true},
		{"10 mol/L", "/acid", func(r *Request) { r.Acid = 10 }, false},
		{"more than 10 mol/L", "/acid", func(r *Request) { r.Acid = 10.1 }, true},
		{"5000 mL of water", "/dilution", func(r *Request) { r.Dilution = 5000 }, false},
		{"more water", "/dilution", func(r *Request) { r.Dilution = 5001 }, true},
		{"all in one portion", "/portion", func(r *Request) { r.Portion = 50 }, false},
		{"more in one portion", "/portion", func(r *Request) { r.Portion = 50.1 }, true},
		{"200 drops", "/drops", func(r *Request) { r.Drops = 200 }, false},
		{"201 drops", "/drops", func(r *Request) { r.Drops = 201 }, true},
		{"a drink of 120 letters", "/drink", func(r *Request) { r.Drink = strings.Repeat("a", 120) }, false},
		{"a drink of 121 letters", "/drink", func(r *Request) { r.Drink = strings.Repeat("a", 121) }, true},
		{"baths of 0 and 60 °C", "/baths/0", func(r *Request) { r.Baths = []float64{0, 60} }, false},
		{"a bath of 60.1 °C", "/baths/1", func(r *Request) { r.Baths = []float64{0, 60.1} }, true},
		{"a bath of ice and salt", "/baths/0", func(r *Request) { r.Baths = []float64{-0.1} }, true},
		{"four baths", "/baths", func(r *Request) { r.Baths = []float64{5, 15, 35, 45} }, false},
		{"five baths", "/baths", func(r *Request) { r.Baths = []float64{5, 15, 35, 45, 55} }, true},
	} {
		r := plan()
		c.set(&r)
		_, err := r.Design()
		if slices.Contains(fieldsOf(err), c.field) != c.refused {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

// A cylinder measures a beaker to 1 %, and what is bought is as strong as it says to 0.5 % (k = 1).
func TestUncertaintyOfABeaker(t *testing.T) {
	r := plan()
	r.Covered = 10
	v := r.vessel(r.beakers()[0])
	if v.Volume.Value != 60 || math.Abs(v.Volume.U()-0.6) > 1e-12 || math.Abs(v.C.U()-0.0005) > 1e-12 {
		t.Errorf("%v mL ± %v, %v mol/L ± %v", v.Volume.Value, v.Volume.U(), v.C.Value, v.C.U())
	}
	// 50 mL of buffer in 60.
	if c := v.Mixture.Amounts[0].C.Value; math.Abs(c/r.Mixture.Amounts[0].C.Value-50.0/60) > 1e-12 {
		t.Errorf("%g mol/L", c)
	}
}

// A drawing goes from nothing added to the end, in even steps.
func TestCurveOfABeaker(t *testing.T) {
	r := plan()
	c := r.curve(r.vessel(r.beakers()[0]), 24)
	if n := len(c.Added); n != 49 || len(c.PH) != n || len(c.Beta) != n || c.Added[0] != 0 || c.Added[48] != 24 || c.Added[1] != 0.5 {
		t.Errorf("%v", c.Added)
	}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	ends := func(out run.Outcome) float64 { return slices.Max(out.View.(View).Beakers[0].Curve.Added) } //nolint:errcheck // its own kind
	if end := ends(b.series(0, 1)); end != 24 {                                                         // twelve portions of 2 mL
		t.Errorf("to %g mL", end)
	}
	b.State(portion(0, 28))
	if end := ends(b.State(reading(0, 1.9))); math.Abs(end-36) > 1e-9 { // a fifth beyond 30 mL
		t.Errorf("to %g mL", end)
	}
}

// By hand: 2.00 mL of 0.1000 mol/L into 50.00 mL, pH 4.65 to 4.59: β = 0.1·2/(51·0.06) mol/L, and 1.000 of
// the next 2.00 mL, half way between 51 and 53 mL.
func TestRowsOfABeaker(t *testing.T) {
	b := on(t, plan())
	b.State(fact.Fact{Kind: KindPoured, Choice: choiceIn})
	b.State(reading(0, 4.65))
	b.State(portion(0, 2))
	b.State(reading(0, 4.59))
	b.State(portion(0, 2))
	out := b.State(reading(0, 4.51))
	rows := out.View.(View).Beakers[0].Rows //nolint:errcheck // its own kind
	for i, want := range []float64{0, 0.1 * 2 / (51 * 0.06), 0.1 * 2 / (53 * 0.08)} {
		if math.Abs(rows[i].B-want) > 1e-9 {
			t.Errorf("row %d: β %g, want %g", i, rows[i].B, want)
		}
	}
	// In mmol/L, as the table of a handbook has it; the scatter of the meter is most of ±.
	if rows[1].Beta == "" || !strings.HasPrefix(rows[1].Beta, "65") || math.Abs(rows[1].Middle-4.62) > 1e-9 || !(rows[1].UB > 0) {
		t.Errorf("%+v", rows[1])
	}
	// A step that hardly moved it, or went the wrong way, is in the table but not in the drawing.
	b.State(portion(0, 2))
	small := b.State(reading(0, 4.505)).View.(View).Beakers[0].Rows[3] //nolint:errcheck // its own kind
	if small.B != 0 || small.UB != 0 || small.Beta == "" {
		t.Errorf("%+v", small)
	}
	b.State(portion(0, 2))
	out = b.State(reading(0, 4.6))
	if wrong := out.View.(View).Beakers[0].Rows[4]; wrong.B != 0 || wrong.Beta != "" { //nolint:errcheck // its own kind
		t.Errorf("%+v", wrong)
	}
	if s := runtest.Now(t, out); !strings.HasPrefix(s.Hint, "8.00 mL so far.") || len(s.Verdicts) == 0 || s.Verdicts[0].Rule != RuleWay.ID {
		t.Errorf("%+v", s)
	}
}

// How an offset is said: from half a hundredth on, higher or lower.
func TestOffsetInWords(t *testing.T) {
	known := func(x float64) uncertain.Number { return uncertain.New(x, 0.001, uncertain.Source{ID: "x"}) }
	for offset, says := range map[float64]string{
		0.0049: "the pH as calculated", 0.005: "pH 0.01 higher", 0.02: "pH 0.02 higher", -0.0049: "the pH as calculated", -0.02: "pH 0.02 lower",
		0.3: "pH 0.30 higher", -0.3: "pH 0.30 lower",
	} {
		v := plan().judgeFit(Fit{Strength: known(1), Offset: known(offset), SD: 0.01})
		if !strings.Contains(v.Sentence, "of the label, "+says) {
			t.Errorf("%g: %s", offset, v.Sentence)
		}
	}
}

func TestDecimalsOfAPortion(t *testing.T) {
	for x, want := range map[float64]int{1: 0, 0.5: 1, 0.25: 2, 1.125: 3, 0.12345: 4} {
		if got := decimals(x); got != want {
			t.Errorf("%g: %d decimals", x, got)
		}
	}
}

// The portion that is proposed moves the pH by 0.1; what cannot is not.
func TestPortionByItsMove(t *testing.T) {
	r := plan()
	v := r.vessel(r.beakers()[0])
	mL := v.portion(0.1, 50)
	if math.Abs(v.moved(mL)-0.1) > 1e-9 || !(mL > 1 && mL < 10) {
		t.Errorf("%g mL moves it by %g", mL, v.moved(mL))
	}
	if v.portion(12, 50) != 0 || v.portion(v.moved(50), 50) == 0 {
		t.Error("50 mL moves it by what it does, and no further")
	}
}
