package calibration_test

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

func TestSentences(t *testing.T) {
	plan := request(t, "phthalate", "phosphate")
	for _, c := range []struct {
		f    fact.Fact
		want string
	}{
		{fact.Fact{Kind: calibration.KindBulb, Choice: "wet"}, "The bulb: it stood wet"},
		{fact.Fact{Kind: calibration.KindSoaked, Choice: "soaked"}, "The bulb was soaked in storage solution"},
		{fact.Fact{Kind: calibration.KindDipped, Choice: "in", Part: 1}, "Rinsed and blotted, in phosphate 1:1, 0.025 mol/kg"},
		{reading(0, 177.5, 25), "hydrogen phthalate, 0.05 mol/kg reads 177.5 mV, 25 °C"},
		{fact.Fact{Kind: run.KindDecided, Choice: "keep", Part: 1}, "Decided: keep this reading, phosphate 1:1, 0.025 mol/kg"},
		{fact.Fact{Kind: run.KindDecided, Choice: "again", Part: 0}, "Decided: take this buffer again, hydrogen phthalate, 0.05 mol/kg"},
		{fact.Fact{Kind: run.KindDecided, Choice: "use", Part: 1}, "Decided: use this calibration"},
	} {
		if got := plan.Sentence(c.f); got != c.want {
			t.Errorf("%q, want %q", got, c.want)
		}
	}
}

// Where the buffers end short of the samples, the end that lacks one is named; buffers at the very ends do.
func TestWhichBufferIsWanted(t *testing.T) {
	for _, c := range []struct {
		low, high float64
		says      string
		level     verdict.Level
	}{
		{4, 8, "take a buffer of pH 4 or less.", verdict.Look},
		{7, 11, "take a buffer of pH 11 or more.", verdict.Look},
		{4, 11, "take a buffer of pH 4 or less, and one of 11 or more.", verdict.Look},
		{6.865, 11, "take a buffer of pH 11 or more.", verdict.Look},
		{4, 9.18, "take a buffer of pH 4 or less.", verdict.Look},
		{6.865, 9.18, "The buffers bracket the samples.", verdict.Fine},
	} {
		r := request(t, "borax", "phosphate")
		r.Celsius, r.Low, r.High = 25, c.low, c.high
		d, err := r.Solve()
		if err != nil || len(d.Verdicts) != 1 || d.Verdicts[0].Level != c.level || !strings.HasSuffix(d.Verdicts[0].Sentence, c.says) {
			t.Errorf("%g to %g: %+v, %v", c.low, c.high, d.Verdicts, err)
		}
	}
	r := request(t, "borax", "phosphate")
	if d, err := r.Solve(); err != nil || len(d.Verdicts) != 0 {
		t.Errorf("samples that nobody told of: %+v, %v", d.Verdicts, err)
	}
}

// The ends of what a plan takes belong to it.
func TestEndsOfAPlan(t *testing.T) {
	problem := func(r calibration.Request, field string) bool {
		var p verdict.Problems
		_, err := r.Design()
		return errors.As(err, &p) && slices.ContainsFunc(p, func(x verdict.Problem) bool { return x.Field == field })
	}
	for celsius, refused := range map[float64]bool{0: false, 60: false, -0.1: true, 60.1: true} {
		r := request(t, "phthalate", "phosphate")
		r.Celsius = celsius
		if problem(r, "/celsius") != refused {
			t.Errorf("%g °C: refused %t", celsius, !refused)
		}
	}
	for ends, refused := range map[[2]float64]bool{{0, 14}: false, {0, 0}: false, {3, 3}: true, {-1, 4}: true, {0, 14.01}: true, {0, 4}: false} {
		r := request(t, "phthalate", "phosphate")
		r.Low, r.High = ends[0], ends[1]
		if problem(r, "/low") != refused {
			t.Errorf("pH %v: refused %t", ends, !refused)
		}
	}
}

// What other work asks of the probe that it reads with, and of a meter that was not calibrated.
func TestProbe(t *testing.T) {
	var none *calibration.Probe
	is := probed(t, 0.98, 5)
	p := &calibration.Probe{Calibration: is.Calibration, At: is.At, Run: "a", Number: 12}
	pH := *p
	pH.Calibration.Meter.ShowsPH = true
	const k = 59.1596 // mV at 25 °C: RT ln 10/F (CODATA 2018)
	for _, c := range []struct {
		probe *calibration.Probe
		want  float64
	}{{none, 3 * k}, {&pH, 3 * k}, {p, 5 + 0.98*3*k}} {
		if got := c.probe.Expected(4, 25); math.Abs(got-c.want) > 0.01 {
			t.Errorf("%g mV, want %g", got, c.want)
		}
	}
	good := calibration.Taken{}
	odd := calibration.Taken{Verdicts: []verdict.Verdict{{Level: verdict.Look}}}
	if p.Doubtful(good) || !p.Doubtful(odd) || !none.Doubtful(good) {
		t.Error("who may be off")
	}
	if v := none.Judge(); len(v) != 1 || v[0].Rule != "B-11" || !strings.Contains(v[0].Sentence, "±0.1 pH") || p.Judge() != nil {
		t.Errorf("%+v", v)
	}
	if none.Says() != "the meter was not calibrated here" || p.Says() != "run 12 of "+is.Calibration.Meter.Name {
		t.Error(none.Says(), p.Says())
	}
	var uses run.Uses
	none.Uses(&uses)
	if len(uses.Instruments)+len(uses.Sources) != 0 {
		t.Errorf("%+v", uses)
	}
	p.Uses(&uses)
	apart := *p
	apart.Run = ""
	apart.Uses(&uses)
	if len(uses.Instruments) != 2 || len(uses.Sources) != 1 || uses.Sources[0] != (run.Source{Role: calibration.RoleProbe, Run: "a"}) {
		t.Errorf("%+v", uses)
	}
	moved, later := probed(t, 0.97, 5), is
	later.At = is.At.Add(time.Minute)
	for name, c := range map[string]struct {
		from    any
		changed bool
	}{"the same": {is, false}, "another slope": {moved, true}, "the same, read later": {later, true}, "no calibration": {"x", false}} {
		now, changed := p.From(run.Product{Detail: c.from})
		if changed != c.changed || now.Run != "a" || now.Number != 12 {
			t.Errorf("%s: %+v, %t", name, now, changed)
		}
		if from, ok := c.from.(calibration.Result); ok && (!now.At.Equal(from.At) || now.Calibration.Slope.Value != from.Calibration.Slope.Value) {
			t.Errorf("%s: %+v", name, now)
		}
	}
	if now, changed := none.From(run.Product{Detail: is}); now != nil || changed || none.Bound(run.Source{}, 3) != nil {
		t.Error("a meter that was not calibrated has no run")
	}
	if b := p.Bound(run.Source{Run: "b"}, 3); b.Run != "b" || b.Number != 3 || p.Run != "a" {
		t.Errorf("%+v", b)
	}
}

// By hand, at 25 °C: x = 59.16·(pH − 7) is −177.18 and −7.99, from their mean ∓84.60; of the potentials ±84.50.
func TestWorkingOfASlope(t *testing.T) {
	s := begin(t, "phthalate", "phosphate").says(calibration.KindBulb, "wet", 0).takes(0, 177).takes(1, 8)
	lines, err := s.plan.Explain(s.facts, "slope")
	if err != nil || len(lines) != 4 {
		t.Fatalf("%+v, %v", lines, err)
	}
	for i, want := range map[int]string{
		1: `S_{xE} = (-84.60) \times (84.50) + (84.60) \times (-84.50)`,
		2: `S_{xx} = (-84.60)^2 + (84.60)^2`,
		3: `\eta = -\frac{(-14297)}{14314}`,
	} {
		if lines[i].Substituted != want {
			t.Errorf("%s, want %s", lines[i].Substituted, want)
		}
	}
	if !strings.Contains(strings.Join(lines[1].From, " "), "x̄ = −92.58 mV, Ē = 92.50 mV") {
		t.Error(lines[1].From)
	}
	if more, err := s.plan.Explain(s.facts, "slope in mV"); err != nil || len(more) != 5 || more[4].Title != "Slope in mV" {
		t.Errorf("%+v, %v", more, err)
	}
	if r := s.outcome().View.(calibration.View).Buffers[0].Residual; r != "" {
		t.Error("two points lie on their line: ", r)
	}
}

// By hand, at 25 °C: pH 4.005, 6.865 and 9.180 on the theoretical line but for 3 mV more at the middle one, which
// least squares share out as 0.015, −0.034 and 0.019 pH.
func TestResidualsOfThreePoints(t *testing.T) {
	s := begin(t, "phthalate", "phosphate", "borax").says(calibration.KindBulb, "wet", 0)
	var x, y [3]float64
	for i, pH := range []float64{4.005, 6.865, 9.18} {
		x[i] = 7 - pH
		y[i] = math.Round(10*59.1596*x[i]) / 10
		if i == 1 {
			y[i] += 3
		}
		s.takes(i, y[i])
	}
	meanX, meanY, sxy, sxx := (x[0]+x[1]+x[2])/3, (y[0]+y[1]+y[2])/3, 0.0, 0.0
	for i := range x {
		sxy, sxx = sxy+(x[i]-meanX)*(y[i]-meanY), sxx+(x[i]-meanX)*(x[i]-meanX)
	}
	view := s.outcome().View.(calibration.View)
	for i, b := range view.Buffers {
		off := -(y[i] - meanY - sxy/sxx*(x[i]-meanX)) / (sxy / sxx)
		if math.Abs(b.Off-off) > 0.0006 || b.Residual != quantity.Digits(b.Off, 3) {
			t.Errorf("buffer %d: %g (%s), want %.4f", i+1, b.Off, b.Residual, off)
		}
	}
	if len(view.Line.Verdicts) == 0 {
		t.Error("3 mV off, and nobody looks")
	}
}

// Half a digit and ± 0.02 of the buffer, both rectangular; 2.5 % of a time constant (k = 1).
func TestUncertaintiesBesideTheLine(t *testing.T) {
	s := begin(t, "phosphate")
	s.plan.Meter.ShowsPH, s.plan.Meter.Resolution = true, 0.02
	s.says(calibration.KindBulb, "wet", 0).says(calibration.KindDipped, "in", 0)
	before, after := quantity.Of(7.02, "pH"), quantity.Of(6.86, "pH")
	before.Decimals, after.Decimals = 2, 2
	s.state(fact.Fact{Kind: calibration.KindRead, Quantity: &before, After: &after, Beside: []quantity.Quantity{quantity.Of(25, "°C"), quantity.Of(8, "s")}})
	u := map[string]float64{}
	for _, f := range s.outcome().Figures {
		u[f.ID] = f.Expanded / 2
	}
	if want := math.Hypot(0.01, s.plan.Buffers[0].Limits) / math.Sqrt(3); math.Abs(u["as found"]-want) > 1e-6 {
		t.Errorf("as found: u %g, want %g", u["as found"], want)
	}
	if math.Abs(u["time constant"]-0.2) > 1e-9 {
		t.Errorf("time constant: u %g", u["time constant"])
	}
}

// Another meter may read than that of the plan: the reading names it.
func TestReadWithAnotherMeter(t *testing.T) {
	s := begin(t, "phthalate", "phosphate").says(calibration.KindBulb, "wet", 0).takes(0, 177).says(calibration.KindDipped, "in", 1)
	f := reading(1, 8, 25)
	f.Instrument = "Teal"
	r := s.state(f).outcome().Readings
	if len(r) != 2 || r[0].Instrument != "Heron" || r[1].Instrument != "Teal" || !r[1].At.Equal(s.facts[4].At) {
		t.Errorf("%+v", r)
	}
}

// A lab may go from buffer to buffer (rule P-22).
func TestFromBufferToBuffer(t *testing.T) {
	s := begin(t, "phthalate", "phosphate", "borax")
	for way, pieces := range map[float64]bool{0: false, 1: true} {
		s.facts, s.plan.Thresholds = nil, verdict.Thresholds{electrode.RuleSchool.ID: way}
		s.says(calibration.KindBulb, "wet", 0).takes(0, 177).takes(1, 8).takes(2, -129)
		if is := s.outcome().View.(calibration.View).Line.Segmented; is != pieces {
			t.Errorf("way %g: from buffer to buffer %t", way, is)
		}
	}
}

// Ten minutes of soaking are enough (rule P-1), less are looked at; the first buffer has none before it.
func TestSoakedLongEnough(t *testing.T) {
	for minutes, doubts := range map[float64]int{9.99: 1, 10: 0, 10.01: 0} {
		s := begin(t, "phthalate", "phosphate").at(0, fact.Fact{Kind: calibration.KindBulb, Choice: "dry"})
		s.at(minutes, fact.Fact{Kind: calibration.KindSoaked, Choice: "soaked"})
		if n := len(s.step("soak").Verdicts); n != doubts {
			t.Errorf("%g min: %d doubts", minutes, n)
		}
		if strings.Contains(s.step("dip 1").Hint, "poured back") || !strings.Contains(s.step("dip 2").Hint, "poured back") {
			t.Error(s.step("dip 1").Hint)
		}
		if hint := s.step("read 1").Hint; !strings.HasPrefix(hint, "Settled: less than 0.02 pH in 10 s.") {
			t.Error(hint)
		}
	}
}
