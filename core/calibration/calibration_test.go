package calibration_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

var eight = time.Date(2026, 5, 11, 8, 0, 0, 0, time.UTC)

func buffers(t testing.TB, keys ...string) (list []electrode.Buffer) {
	t.Helper()
	for _, key := range keys {
		b, ok := electrode.BufferOf(key)
		if !ok {
			t.Fatal(key)
		}
		list = append(list, b)
	}
	return list
}

func request(t testing.TB, keys ...string) calibration.Request {
	t.Helper()
	m := electrode.UsualMeter()
	m.Name, m.Probe = "Heron", "probe 3"
	return calibration.Request{Meter: m, Buffers: buffers(t, keys...), Celsius: 22}
}

// sheet carries a run out, one fact a minute.
type sheet struct {
	t     testing.TB
	plan  calibration.Request
	facts []fact.Fact
}

func begin(t testing.TB, keys ...string) *sheet {
	return &sheet{t: t, plan: request(t, keys...)}
}

func (s *sheet) outcome() run.Outcome {
	s.t.Helper()
	out, err := s.plan.Make(s.facts, eight)
	if err != nil {
		s.t.Fatal(err)
	}
	return out
}

func (s *sheet) at(minute float64, f fact.Fact) *sheet {
	s.t.Helper()
	f.ID = fmt.Sprintf("f%d", len(s.facts))
	f.At = eight.Add(time.Duration(minute * float64(time.Minute)))
	if err := run.Admit(s.plan, s.facts, f, f.At); err != nil {
		s.t.Fatalf("%+v: %v", f, err)
	}
	s.facts = append(s.facts, f)
	return s
}

func (s *sheet) state(f fact.Fact) *sheet { s.t.Helper(); return s.at(float64(len(s.facts)), f) }
func (s *sheet) says(kind, choice string, part int) *sheet {
	s.t.Helper()
	return s.state(fact.Fact{Kind: kind, Choice: choice, Part: part})
}

func reading(part int, mV, celsius float64) fact.Fact {
	q := quantity.Of(mV, "mV")
	return fact.Fact{Kind: calibration.KindRead, Part: part, Quantity: &q, Beside: []quantity.Quantity{quantity.Of(celsius, "°C")}}
}

// display is a reading in pH.
func display(part int, pH float64) fact.Fact {
	q := quantity.Of(pH, "pH")
	q.Decimals = 2
	return fact.Fact{Kind: calibration.KindRead, Part: part, Quantity: &q, Beside: []quantity.Quantity{quantity.Of(25, "°C")}}
}

func (s *sheet) takes(part int, mV float64) *sheet {
	s.t.Helper()
	return s.says(calibration.KindDipped, "in", part).state(reading(part, mV, 25))
}

func (s *sheet) step(id string) run.Step {
	s.t.Helper()
	for _, step := range s.outcome().Steps {
		if step.ID == id {
			return step
		}
	}
	s.t.Fatal("no step ", id)
	return run.Step{}
}

// 7, then 4, then 9: 98 % and +6 mV, by 0.98·59.159 mV for each pH.
func TestThreeBuffers(t *testing.T) {
	s := begin(t, "phosphate", "phthalate", "borax")
	if s.outcome().AtHand() != "Take the probe out of its storage solution, and look at the bulb" {
		t.Error(s.outcome().AtHand())
	}
	s.says(calibration.KindBulb, "wet", 0)
	if at := s.outcome().AtHand(); at != "Rinse, blot, into pH 6.87 (phosphate 1:1, 0.025 mol/kg), bulb covered" {
		t.Error(at)
	}
	mV := func(pH float64) float64 { return math.Round(10*(6-0.98*electrode.Nernst(25)*(pH-7))) / 10 }
	s.says(calibration.KindDipped, "in", 0)
	if step := s.step(
		"read 1",
	); step.Expects != "7 mV" || step.Unit != "mV" || step.Instrument != "Heron" || step.Beside == nil ||
		step.Beside.Default != "22.0" {
		t.Errorf("%+v", step)
	}
	s.state(reading(0, mV(6.865), 25)).takes(1, mV(4.005))
	if step := s.step("dip 3"); step.State != run.Now || !strings.Contains(step.Hint, "not poured back") {
		t.Errorf("%+v", step)
	}
	s.takes(2, mV(9.180))
	out := s.outcome()
	if step := s.step("judge"); step.State != run.Now || step.Asks || len(step.Verdicts) != 2 || step.Verdicts[0].Choices[0].ID != "use" {
		t.Fatalf("%+v", step)
	}
	for id, want := range map[string]float64{"slope": 98, "offset": 6, "slope in mV": 0.98 * 59.159} {
		for _, f := range out.Figures {
			if f.ID == id && math.Abs(f.Value-want) > 0.1 {
				t.Errorf("%s: %s, want %g", id, f, want)
			}
		}
		lines, err := s.plan.Explain(s.facts, id)
		if err != nil || len(lines) < 2 {
			t.Fatalf("%s: %v", id, err)
		}
		workingtest.Check(t, lines)
	}
	if len(out.Products) != 0 {
		t.Error("a calibration that nobody looked at is in use")
	}
	out = s.says(run.KindDecided, "use", 0).outcome()
	if out.Status != run.Finished || len(out.Products) != 1 || !out.Products[0].Result || len(out.Readings) != 3 {
		t.Fatalf("%+v", out)
	}
	p := out.Products[0]
	is, ok := p.Detail.(calibration.Result)
	if !ok || !is.At.Equal(s.facts[6].At) || math.Abs(is.Calibration.PH(electrode.Read{MV: mV(5), Celsius: 25}).Value-5) > 0.003 {
		t.Errorf("%+v", p.Detail)
	}
	if f, ok := p.Figure(figure.Slope); !ok || f.Text == "" || p.Name != "Heron" || len(p.MadeOf) != 3 {
		t.Errorf("%+v", p)
	}
	view := out.View.(calibration.View)
	if !view.Buffers[1].Read || view.Buffers[1].PH != 4.005 || view.Buffers[1].Residual == "" || view.Line.Low != 4.005 ||
		view.Line.High != 9.18 {
		t.Errorf("%+v", view)
	}
	if math.Abs(view.Line.At0-(6+7*0.98*59.159)) > 1 || math.Abs(view.Line.Theory14+7*59.159) > 0.01 {
		t.Errorf("%+v", view.Line)
	}
}

// A bulb that was dry is soaked for ten minutes; less than that is said.
func TestDryBulb(t *testing.T) {
	for minutes, looks := range map[float64]bool{4: true, 9.9: true, 10: false, 25: false} {
		s := begin(t, "phosphate", "borax").at(0, fact.Fact{Kind: calibration.KindBulb, Choice: "dry"})
		if step := s.step("soak"); step.State != run.Now || !strings.Contains(step.Title, "10 min") ||
			step.Clock == nil || !step.Clock.Since.Equal(eight) || step.Clock.Minutes != 10 {
			t.Errorf("%+v", step)
		}
		s.at(minutes, fact.Fact{Kind: calibration.KindSoaked, Choice: "soaked"})
		step := s.step("soak")
		if step.State != run.Done || step.Clock != nil || (len(step.Verdicts) == 1) != looks {
			t.Errorf("soaked for %g min: %+v", minutes, step.Verdicts)
		}
	}
	for _, step := range begin(t, "phosphate").says(calibration.KindBulb, "wet", 0).outcome().Steps {
		if step.ID == "soak" {
			t.Error("a wet bulb is soaked")
		}
	}
}

// The wrong buffer, a potential of the wrong sign, one that nothing gives, one taken too
// early: each waits for a decision.
func TestReadingsInDoubt(t *testing.T) {
	for _, c := range []struct {
		f    fact.Fact
		rule string
		says string
	}{
		{reading(0, 177.2, 25), "P-19", "177.2 mV is what hydrogen phthalate, 0.05 mol/kg gives; phosphate 1:1, 0.025 mol/kg gives about 8 mV"},
		{reading(0, -129, 25), "P-19", "-129"},
		{reading(0, 300, 25), "P-19", "belongs to none of these buffers"},
		{func() fact.Fact {
			f, q := reading(0, 8, 25), quantity.Of(2.5, "mV")
			f.Spread = &q
			return f
		}(), "P-4", "still moved by 2.5 mV"},
	} {
		s := begin(t, "phosphate", "phthalate", "borax").says(calibration.KindBulb, "wet", 0).says(calibration.KindDipped, "in", 0).state(c.f)
		step := s.step("read 1")
		if step.State != run.Now || step.Asks || len(step.Verdicts) != 1 || step.Verdicts[0].Rule != c.rule ||
			!strings.Contains(strings.ReplaceAll(step.Verdicts[0].Sentence, "−", "-"), c.says) {
			t.Errorf("%+v: %+v", c.f, step.Verdicts)
			continue
		}
		if view := s.outcome().View.(calibration.View); !view.Buffers[0].Doubt {
			t.Error("the drawing does not doubt it")
		}
		again := *s
		again.facts = append([]fact.Fact(nil), s.facts...)
		if step := again.says(run.KindDecided, "again", 0).step("dip 1"); step.State != run.Now || len(step.Facts) != 0 {
			t.Errorf("taken again: %+v", step)
		}
		if step := s.says(run.KindDecided, "keep", 0).step("dip 2"); step.State != run.Now {
			t.Errorf("kept: %+v", step)
		}
	}
}

// Two buffers that lie near each other cannot be told apart by a few millivolts: no verdict.
func TestNearBuffersAreNotMistaken(t *testing.T) {
	s := begin(t, "phosphate", "phosphate-7").says(calibration.KindBulb, "wet", 0).takes(0, 1) // 1 mV is nearer to 7.00
	if step := s.step("dip 2"); step.State != run.Now {
		t.Errorf("%+v", s.step("read 1").Verdicts)
	}
}

// Buffers swapped: each reading is the other's, and the judgement advises against it.
func TestStopIsAdvisedAgainst(t *testing.T) {
	s := begin(t, "phthalate", "phosphate").says(calibration.KindBulb, "wet", 0)
	s.takes(0, 8).says(run.KindDecided, "keep", 0).takes(1, 177).says(run.KindDecided, "keep", 1)
	step := s.step("judge")
	if step.State != run.Now || step.Verdicts[0].Level != verdict.Stop || step.Verdicts[0].Choices[0].ID != run.ChoiceStartAgain ||
		step.Verdicts[0].Choices[1].ID != "use" {
		t.Errorf("%+v", step)
	}
	if out := s.says(run.KindDecided, run.ChoiceStartAgain, 0).outcome(); out.Status != run.Void || len(out.Products) != 0 {
		t.Errorf("%+v", out)
	}
}

// Any buffer can be taken again, also after the calibration is in use: then it waits to be
// looked at again.
func TestTakenAgain(t *testing.T) {
	s := begin(t, "phthalate", "phosphate").says(calibration.KindBulb, "wet", 0).takes(0, 177).takes(1, 8).says(run.KindDecided, "use", 0)
	if s.outcome().Status != run.Finished {
		t.Fatal(s.outcome().AtHand())
	}
	s.says(run.KindDecided, "again", 1)
	if out := s.outcome(); out.Status != run.Open || len(out.Figures) != 0 || !strings.HasPrefix(out.AtHand(), "Rinse, blot, into pH 6.87") {
		t.Errorf("%s, %s", out.Status, out.AtHand())
	}
	s.takes(1, 9)
	if out := s.outcome(); out.Status != run.Open || out.AtHand() != "Look at the line, and decide" {
		t.Errorf("%s, %s", out.Status, out.AtHand())
	}
}

// A meter that shows pH: typed as pH, and its slope is that of the display.
func TestMeterThatShowsPH(t *testing.T) {
	s := begin(t, "phthalate", "phosphate")
	s.plan.Meter.ShowsPH, s.plan.Meter.Resolution = true, 0.01
	s.says(calibration.KindBulb, "wet", 0)
	s.says(calibration.KindDipped, "in", 0)
	if step := s.step("read 1"); step.Unit != "pH" || step.Label != "pH shown" || step.Expects != "4.00 pH" {
		t.Errorf("%+v", step)
	}
	s.state(display(0, 4.10)).says(calibration.KindDipped, "in", 1).state(display(1, 6.90))
	for _, f := range s.outcome().Figures {
		if f.ID == "slope" && math.Abs(f.Value-100*2.80/2.86) > 1e-9 {
			t.Errorf("%s", f)
		}
	}
	if says := s.plan.Sentence(s.facts[2]); says != "hydrogen phthalate, 0.05 mol/kg reads pH 4.10, 25 °C" {
		t.Error(says)
	}
	var p verdict.Problems
	if errors.As(s.plan.Check(reading(0, 100, 25)), &p); len(p) != 1 || p[0].Field != "/quantity" {
		t.Errorf("a potential from a meter that shows pH: %v", p)
	}
}

// A display that is adjusted: what it showed before says how far it was off, what it shows
// afterwards is what the readings depend on. One knob, one buffer.
func TestDisplayThatIsAdjusted(t *testing.T) {
	s := begin(t, "phosphate")
	s.plan.Meter.ShowsPH, s.plan.Meter.Resolution = true, 0.01
	s.says(calibration.KindBulb, "wet", 0).says(calibration.KindDipped, "in", 0)
	if step := s.step("read 1"); step.Then == nil || step.Then.Unit != "pH" {
		t.Errorf("%+v", step)
	}
	before, after := quantity.Of(7.02, "pH"), quantity.Of(6.87, "pH")
	before.Decimals, after.Decimals = 2, 2
	s.state(fact.Fact{Kind: calibration.KindRead, Quantity: &before, After: &after, Beside: []quantity.Quantity{quantity.Of(25, "°C")}})
	if says := s.plan.Sentence(s.facts[2]); says != "phosphate 1:1, 0.025 mol/kg reads pH 7.02, adjusted to 6.87, 25 °C" {
		t.Error(says)
	}
	values := map[string]float64{}
	for _, f := range s.outcome().Figures {
		values[f.ID] = f.Value
	}
	if math.Abs(values["as found"]-0.155) > 1e-9 ||
		math.Abs(values["offset"]-electrode.FromShown(6.87, 25)+electrode.FromShown(6.865, 25)) > 1e-9 {
		t.Errorf("%v", values)
	}
	lines, err := s.plan.Explain(s.facts, "as found")
	if err != nil {
		t.Fatal(err)
	}
	workingtest.Check(t, lines)
	s.plan.Meter.ShowsPH = false
	mV := reading(0, 8, 25)
	mV.After = &after
	var p verdict.Problems
	if errors.As(s.plan.Check(mV), &p); len(p) != 1 || p[0].Field != "/after" {
		t.Errorf("a potential that is adjusted: %v", p)
	}
}

// The time constant of the slowest point is kept.
func TestTimeConstant(t *testing.T) {
	s := begin(t, "phthalate", "phosphate").says(calibration.KindBulb, "wet", 0)
	for i, mV := range []float64{177, 8} {
		f := reading(i, mV, 25)
		f.Beside = append(f.Beside, quantity.Of([]float64{6.24, 4.1}[i], "s"))
		s.says(calibration.KindDipped, "in", i).state(f)
	}
	figures := s.outcome().Figures
	f := figures[len(figures)-1]
	if f.ID != "time constant" || f.Value != 6.24 || f.Role != figure.TimeConstant {
		t.Errorf("%+v", f)
	}
	lines, err := s.plan.Explain(s.facts, "time constant")
	if err != nil {
		t.Fatal(err)
	}
	workingtest.Check(t, lines)
}

func TestFactsThatAreRefused(t *testing.T) {
	plan := request(t, "phthalate", "phosphate")
	with := func(f fact.Fact, change func(*fact.Fact)) fact.Fact { change(&f); return f }
	grams := quantity.Of(1, "g")
	for _, c := range []struct {
		f    fact.Fact
		want string
	}{
		{fact.Fact{Kind: calibration.KindBulb, Choice: "damp"}, "/choice"},
		{fact.Fact{Kind: calibration.KindSoaked, Choice: "yes"}, "/choice"},
		{fact.Fact{Kind: calibration.KindDipped}, "/choice"},
		{fact.Fact{Kind: calibration.KindRead}, "/quantity"},
		{reading(0, 1001, 25), "/quantity"},
		{reading(0, math.NaN(), 25), "/quantity"},
		{reading(0, 10, 120), "/beside/0"},
		{reading(0, 10, 55), "/beside/0"}, // beyond the table of the buffer
		{with(reading(0, 10, 25), func(f *fact.Fact) { f.Quantity = &grams }), "/quantity"},
		{with(reading(0, 10, 25), func(f *fact.Fact) { f.Spread = &grams }), "/spread"},
		{with(reading(0, 10, 25), func(f *fact.Fact) { f.Beside = append(f.Beside, grams) }), "/beside/1"},
		{with(reading(0, 10, 25), func(f *fact.Fact) { f.Beside = append(f.Beside, quantity.Of(-1, "s")) }), "/beside/1"},
		{with(reading(0, 10, 25), func(f *fact.Fact) { f.Choice = "in" }), "/choice"},
		{fact.Fact{Kind: "sung"}, "/kind"},
	} {
		var p verdict.Problems
		if errors.As(plan.Check(c.f), &p); len(p) != 1 || p[0].Field != c.want {
			t.Errorf("%+v: %v, want one at %s", c.f, p, c.want)
		}
	}
	for _, good := range []fact.Fact{reading(0, 1000, 0), reading(1, -1000, 50), {Kind: run.KindNote, Text: "x"}} {
		if err := plan.Check(good); err != nil {
			t.Errorf("%+v: %v", good, err)
		}
	}
}

func TestPlansThatAreRefused(t *testing.T) {
	for field, change := range map[string]func(*calibration.Request){
		"/buffers":              func(r *calibration.Request) { r.Buffers = nil },
		"/buffers/1":            func(r *calibration.Request) { r.Buffers[1] = r.Buffers[0] },
		"/buffers/0":            func(r *calibration.Request) { r.Buffers[0].Table = r.Buffers[0].Table[:1] },
		"/buffers/0/table":      func(r *calibration.Request) { r.Buffers[0].Table = nil },
		"/celsius":              func(r *calibration.Request) { r.Celsius, r.Buffers = 61, nil },
		"/low":                  func(r *calibration.Request) { r.Low, r.High = 9, 4 },
		"/low#":                 func(r *calibration.Request) { r.Low, r.High = 9, 14.1 },
		"/meter/name":           func(r *calibration.Request) { r.Meter.Name = "" },
		"/buffers/0/table/0/pH": func(r *calibration.Request) { r.Buffers[0].Table = []electrode.Value{{Celsius: 22, PH: -3}} },
	} {
		r := request(t, "phthalate", "phosphate")
		change(&r)
		var p verdict.Problems
		_, err := r.Design()
		if errors.As(err, &p); len(p) == 0 || p[len(p)-1].Field != strings.TrimRight(field, "#") {
			t.Errorf("%v, want one at %s", err, field)
		}
	}
}

func TestDesign(t *testing.T) {
	r := request(t, "phosphate", "borax")
	r.Celsius, r.Low, r.High = 25, 7.2, 8.9
	d, err := r.Solve()
	if err != nil || len(d.Buffers) != 2 || d.Buffers[1].PH != "9.18" || d.Buffers[1].Text != "−129 mV" || d.Nernst != "59.16 mV" ||
		len(d.Verdicts) != 1 || d.Verdicts[0].Level != verdict.Fine {
		t.Errorf("%+v, %v", d, err)
	}
	if r.Title() != "Calibration of Heron, pH 6.87, 9.18" {
		t.Error(r.Title())
	}
	r.Low = 6.8
	if d, _ := r.Solve(); d.Verdicts[0].Level != verdict.Look || d.Verdicts[0].Rule != "P-3" {
		t.Errorf("%+v", d.Verdicts)
	}
	r.Buffers = r.Buffers[:1]
	if d, _ := r.Solve(); d.Verdicts[0].Rule != "P-23" {
		t.Errorf("%+v", d.Verdicts)
	}
}
