package absorbance_test

import (
	"strings"
	"testing"

	"vialbench/core/absorbance"
	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

func (b *bench) warm(part int, celsius float64) error {
	b.t.Helper()
	q := quantity.Of(celsius, "°C")
	q.Decimals = 1
	return b.state(fact.Fact{Kind: absorbance.KindWarm, Part: part, Quantity: &q}, "")
}

func warmer(v absorbance.View) string {
	for _, one := range v.Verdicts {
		if one.Rule == photometry.RuleWarm.ID {
			return one.Sentence
		}
	}
	return ""
}

// The temperature is read before the standards and before the unknowns; unknowns that are warmer are told, also by a line of an earlier run.
func TestWarmUnknowns(t *testing.T) {
	r := six()
	r.Warm = true
	b := begun(t, r)
	b.do(absorbance.KindBlank, 0, "0")
	if s := b.atHand(); s.ID != "warm 0" || s.Title != "Read the temperature of the standards" || s.Unit != "°C" {
		t.Errorf("%+v", s)
	}
	if err := b.warm(0, 101); err == nil || !strings.Contains(err.Error(), "from 0 to 100 °C") {
		t.Error(err)
	}
	if err := b.warm(0, 20.5); err != nil {
		t.Fatal(err)
	}
	for i, text := range sixRead {
		b.do(absorbance.KindRead, i, text)
	}
	if s := b.atHand(); s.ID != "warm 1" || s.Title != "Read the temperature of the unknowns" {
		t.Errorf("%+v", s)
	}
	if err := b.warm(1, 22.5); err != nil {
		t.Fatal(err)
	}
	b.do(absorbance.KindRead, 6, "0.352")
	out, v := b.out()
	if says := warmer(v); says != "" { // 2 °C are within the rule
		t.Error(says)
	}
	if len(v.Warmth) != 2 || v.Warmth[1].Name != "Temperature of the unknowns" || v.Warmth[1].Shown != "22.5 °C" {
		t.Errorf("%+v", v.Warmth)
	}
	if row := strings.Join(out.Table[1], "|"); row != "Temperature of the standards|||||20.5 °C||||||" {
		t.Error(row)
	}
	b.decide("end", 0, "")
	out, _ = b.out()
	line := out.Products[0].Detail.(absorbance.Line)
	if line.Celsius == nil || *line.Celsius != 20.5 {
		t.Errorf("%+v", line)
	}
	other := line
	if other.Celsius = new(float64); line.Same(other) || !line.Same(line) {
		t.Error("a line at another temperature is another line")
	}

	later := six()
	later.Standards, later.Warm, later.Earlier = nil, true, &absorbance.Earlier{Run: "a", Number: 7, Line: line}
	b = begun(t, later)
	b.do(absorbance.KindBlank, 0, "0")
	if s := b.atHand(); s.ID != "warm 1" {
		t.Errorf("%+v", s)
	}
	if err := b.warm(1, 17.9); err != nil {
		t.Fatal(err)
	}
	b.do(absorbance.KindRead, 0, "0.352")
	if _, v = b.out(); !strings.HasPrefix(warmer(v), "The unknowns were at 17.9 °C, and the standards of their line at 20.5 °C") {
		t.Errorf("%+v", v.Verdicts)
	}
	if s := b.atHand(); s.ID != "judge" || !strings.Contains(s.Verdicts[len(s.Verdicts)-1].Sentence, "17.9") {
		t.Errorf("%+v", s)
	}
	later.Thresholds = verdict.Thresholds{photometry.RuleWarm.ID: 3}
	b.plan = later
	if _, v = b.out(); warmer(v) != "" {
		t.Error(warmer(v))
	}
	for want, f := range map[string]fact.Fact{"/part": {Kind: absorbance.KindWarm, Part: 2}, "/quantity": {Kind: absorbance.KindWarm}} {
		q := quantity.Of(20, "°C")
		if want == "/part" {
			f.Quantity = &q
		}
		if err := later.Check(f); err == nil || !strings.Contains(err.Error(), want[1:]) && !strings.Contains(err.Error(), "temperature") {
			t.Errorf("%s: %v", want, err)
		}
	}
}
