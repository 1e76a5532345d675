package curve

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vialbench/core/equilibrium"
	"vialbench/core/verdict"
)

// Without noise a fit finds what the curve was made with, from a start that is off.
func TestFitFindsWhatTheCurveWasMadeWith(t *testing.T) {
	truth := of(t, "H3PO4", 0.0987, "NaOH")
	truth.Carbonate = 0.015
	points := measured(truth, 0, nil)
	for i := range points {
		points[i].PH += 0.03
	}
	start := of(t, "H3PO4", 0.105, "NaOH")
	constants := start.Analyte.Units[0].System.Constants
	was := constants[1].PKa
	f, err := start.Fit(points, []string{FitC, FitPKa, FitCarbonate, FitOffset})
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []float64{0.0987, constants[0].PKa, constants[1].PKa, constants[2].PKa, 0.015, 0.03} {
		if got := f.Parameters[i].Value.Value; math.Abs(got-want) > 1e-5*math.Max(1, want) {
			t.Errorf("%s: %.6f, want %.6f", f.Parameters[i].Name, got, want)
		}
	}
	if f.SD > 0.002 || f.VolumeSD > 0.003 || constants[1].PKa != was || len(f.Residuals) != len(points) || f.Parameters[2].Listed != was {
		t.Errorf(
			"s %g and %g; %d residuals; the library's constant is %g, listed %g",
			f.SD,
			f.VolumeSD,
			len(f.Residuals),
			constants[1].PKa,
			f.Parameters[2].Listed,
		)
	}
}

// ofSystem is 25 mL of 0.05 mol/L of a system with all its protons, titrated with 0.1 mol/L of NaOH.
func ofSystem(t testing.TB, s equilibrium.System) Curve {
	c := Curve{
		Volume: 25, C: 0.05, Titrant: compound(t, "NaOH"), Strength: 0.1, Celsius: 25,
		Analyte: equilibrium.Compound{Units: []equilibrium.Units{{System: s, Count: 1}}},
	}
	switch z := s.Charge(); {
	case z > 0:
		c.Analyte.Ions = []equilibrium.Ion{{Formula: "Cl-", Charge: -1, Count: float64(z)}}
	case z < 0:
		c.Analyte.Ions = []equilibrium.Ion{{Formula: "Na+", Charge: 1, Count: float64(-z)}}
	}
	return c
}

// scattered are readings of a curve whose burette and meter scatter by 0.01 mL and 0.01 pH.
func (c Curve) scattered(random *rand.Rand) (points []Point) {
	for _, p := range measured(c, 0, nil) {
		v := p.Volume
		if v > 0 {
			v = math.Max(0, v+0.01*random.NormFloat64())
		}
		points = append(points, Point{p.Volume, c.At([]float64{v})[0] + 0.01*random.NormFloat64()})
	}
	return points
}

// truth is what a parameter of a curve is.
func (c Curve) truth(p Parameter) float64 {
	switch p.Name {
	case FitC:
		return c.C
	case FitOffset:
		return 0
	}
	return p.Listed
}

// covered counts the parameters that lie within their own uncertainty, of so many draws; each
// begins with a guess that is off by a third.
func covered(t testing.TB, c Curve, draws int, seed uint64) (hits, all map[string]int) {
	t.Helper()
	random := rand.New(rand.NewPCG(seed, 2))
	hits, all = map[string]int{}, map[string]int{}
	for range draws {
		guess := c
		guess.C *= math.Exp(0.3 * random.NormFloat64())
		f, err := guess.Fit(c.scattered(random), []string{FitC, FitPKa, FitOffset})
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range f.Parameters {
			all[p.Name]++
			if math.Abs(p.Value.Value-c.truth(p)) <= p.Value.Expanded() {
				hits[p.Name]++
			}
		}
	}
	return hits, all
}

// What a fit finds lies within its own uncertainty in 95 of 100 draws in which volumes and pH
// scatter: every parameter. So many draws tell a part of 0.95 to ± 0.02.
func TestFitCoversTheTruth(t *testing.T) {
	hits, n := 0, 0
	for k, key := range []string{"acetic", "phthalic", "glycine"} {
		s, _ := equilibrium.Find(key)
		found, all := covered(t, ofSystem(t, s), 100, uint64(k))
		for name := range all {
			hits, n = hits+found[name], n+all[name]
			if part := float64(found[name]) / float64(all[name]); part < 0.88 {
				t.Errorf("%s, %s: %.1f %% within its uncertainty", key, name, 100*part)
			}
		}
	}
	if part := float64(hits) / float64(n); n < 1000 || math.Abs(part-0.95) > 0.025 {
		t.Errorf("%.1f %% of %d within their uncertainty", 100*part, n)
	}
}

// The same of every system, with the parts as metrics: -benchtime 1000x gives 1000 draws each.
func BenchmarkCoverage(b *testing.B) {
	for _, s := range equilibrium.Systems() {
		b.Run(s.Key, func(b *testing.B) {
			hits, all := covered(b, ofSystem(b, s), b.N, 7)
			for name, n := range all {
				b.ReportMetric(100*float64(hits[name])/float64(n), strings.ReplaceAll(name, " ", "")+"-%")
			}
		})
	}
}

// Every system of the library is found as it was made, whatever the first guess.
func TestFitOfEverySystem(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	for _, s := range equilibrium.Systems() {
		c := ofSystem(t, s)
		guess := c
		guess.C *= []float64{0.3, 0.7, 1.5, 3}[random.IntN(4)]
		f, err := guess.Fit(c.scattered(random), []string{FitC, FitPKa, FitOffset})
		if err != nil {
			t.Errorf("%s: %v", s.Key, err)
			continue
		}
		for _, p := range f.Parameters {
			if off := math.Abs(p.Value.Value - c.truth(p)); off > 4*p.Value.U() || p.Name == FitC && off > 0.03*c.C {
				t.Errorf("%s, guessed %.3g: %s is %.4f ± %.4f, truth %.4f", s.Key, guess.C, p.Name, p.Value.Value, p.Value.U(), c.truth(p))
			}
		}
		if !f.follows(nil) || f.SD > 0.02 || f.VolumeSD > 0.03 {
			t.Errorf("%s: follows within %.3f pH and %.3f mL", s.Key, f.SD, f.VolumeSD)
		}
	}
}

// A diprotic acid that is none of the library, with constants that are listed wrong: what it truly
// has is found, and each end point is the equivalence that it is.
func TestFitOfAnotherDiproticAcid(t *testing.T) {
	phthalic, _ := equilibrium.Find("phthalic")
	c := ofSystem(t, phthalic).own()
	c.C = 0.0512
	for k, pKa := range []float64{2.85, 5.69} {
		c.Analyte.Units[0].System.Constants[k].PKa = pKa
	}
	guess := ofSystem(t, phthalic)
	a, err := guess.read(c.scattered(rand.New(rand.NewPCG(8, 9))), []string{FitC, FitPKa, FitOffset}, nil)
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []float64{0.0512, 2.85, 5.69, 0} {
		if p := a.Fit.Parameters[i]; math.Abs(p.Value.Value-want) > 3*p.Value.U() {
			t.Errorf("%s: %.4f ± %.4f, want %g", p.Name, p.Value.Value, p.Value.U(), want)
		}
	}
	last := a.EndPoints[len(a.EndPoints)-1]
	if last.Number != 2 || math.Abs(last.Volume-25.6) > 0.1 || len(a.Halves) != 2 || math.Abs(a.Halves[1].Volume-19.2) > 0.1 {
		t.Errorf("%+v %+v", a.EndPoints, a.Halves)
	}
}

// Glycine hydrochloride: the first equivalence shows, the second hardly does, and is not taken
// for the first. Malonic acid: the first hardly shows, the second does.
func TestEndPointsAreTheEquivalencesThatTheyAre(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 3))
	for _, x := range []struct {
		key    string
		number int
		volume float64
		half   Half
	}{{"glycine", 1, 12.5, Half{6.25, 2.55}}, {"malonic", 2, 25, Half{18.75, 5.4}}} {
		s, _ := equilibrium.Find(x.key)
		c := ofSystem(t, s)
		for range 10 {
			a, err := c.read(c.scattered(random), nil, nil)
			if err != nil || len(a.EndPoints) == 0 {
				t.Fatal(x.key, err)
			}
			i := slices.IndexFunc(a.EndPoints, func(e EndPoint) bool { return e.Number == x.number })
			if i < 0 || math.Abs(a.EndPoints[i].Volume-x.volume) > 0.1 || len(a.Halves) < x.number {
				t.Fatalf("%s: %+v %+v", x.key, a.EndPoints, a.Halves)
			}
			if h := a.Halves[x.number-1]; math.Abs(h.Volume-x.half.Volume) > 0.1 || math.Abs(h.PH-x.half.PH) > 0.1 {
				t.Errorf("%s: half way %+v", x.key, h)
			}
		}
	}
}

// A curve of another acid: what is left is no scatter, and a stop.
func TestFitOfTheWrongAcid(t *testing.T) {
	phosphoric, _ := equilibrium.Find("phosphoric")
	acetic, _ := equilibrium.Find("acetic")
	points := ofSystem(t, phosphoric).scattered(rand.New(rand.NewPCG(1, 1)))
	a, err := ofSystem(t, acetic).read(points, []string{FitC, FitPKa, FitOffset}, nil)
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(a.Verdicts, func(v verdict.Verdict) bool { return v.Level == verdict.Stop })
	if i < 0 || !strings.Contains(a.Verdicts[i].Sentence, "cannot be scatter") {
		t.Errorf("%+v", a.Verdicts)
	}
}

// A constant that no reading depends on keeps its value, and the rest is found all the same.
func TestFitKeepsWhatNoReadingDetermines(t *testing.T) {
	phosphoric, _ := equilibrium.Find("phosphoric")
	c := ofSystem(t, phosphoric)
	var points []Point
	for _, p := range c.scattered(rand.New(rand.NewPCG(1, 1))) {
		if p.Volume < 20 { // up to pH 7: nothing of the third proton
			points = append(points, p)
		}
	}
	f, err := c.Fit(points, []string{FitC, FitPKa})
	if err != nil {
		t.Fatal(err)
	}
	if len(f.Kept) != 1 || f.Kept[0] != "pKa 3" || len(f.Parameters) != 3 || math.Abs(f.Parameters[0].Value.Value-0.05) > 0.0003 {
		t.Errorf("%v %+v", f.Kept, f.Parameters)
	}
	if v := f.judge(nil); len(v) < 2 || v[1].Sentence != "These readings do not determine pKa 3: kept as listed." {
		t.Errorf("%+v", v)
	}
}

func question() ReadQuestion {
	return ReadQuestion{Question: Question{Analyte: Solution{"CH3COOH", 0.09}, Titrant: Solution{"NaOH", 0.1}, Volume: 25, Celsius: 25}}
}

func TestRead(t *testing.T) {
	truth := of(t, "CH3COOH", 0.1, "NaOH")
	q := question()
	q.Readings, q.Find = measured(truth, 0.005, rand.New(rand.NewPCG(3, 4))), []string{FitC, FitPKa}
	a, err := Read(q)
	if err != nil {
		t.Fatal(err)
	}
	if len(a.EndPoints) != 1 || math.Abs(a.EndPoints[0].Volume-25) > 0.1 || len(a.Halves) != 1 || math.Abs(a.Halves[0].PH-4.66) > 0.05 ||
		a.Before == nil ||
		a.After == nil {
		t.Errorf("%+v %+v %+v", a.EndPoints, a.Halves, a.Before)
	}
	if f := a.Fit; f == nil || math.Abs(f.Parameters[0].Value.Value-0.1) > 0.0002 || math.Abs(f.Parameters[1].Value.Value-4.756) > 0.01 ||
		f.Parameters[1].Listed != 4.756 {
		t.Errorf("%+v", a.Fit)
	}
	alone := a.Fit.Parameters[0].Value.U()
	q.Shared = 0.003
	a, err = Read(q)
	if c := a.Fit.Parameters[0]; err != nil || math.Abs(c.Value.U()-math.Hypot(alone, 0.003*c.Value.Value)) > 1e-9 ||
		!strings.HasSuffix(c.Text, "± 0.00060") {
		t.Errorf("with what all volumes share: %+v, %v", c, err)
	}
	if n := len(a.Verdicts); n == 0 || a.Verdicts[n-1].Level != verdict.Fine || a.PI != nil {
		t.Errorf("%+v", a.Verdicts)
	}
}

// Glycine hydrochloride: pI = (2.350 + 9.778)/2 = 6.06 (handbooks: 5.97 to 6.06, from memory).
func TestIsoelectricPoint(t *testing.T) {
	glycine, _ := equilibrium.Find("glycine")
	q := question()
	q.Analyte = Solution{"C2H6NO2Cl", 0.1}
	q.Systems = []equilibrium.System{glycine}
	c, p := q.curve()
	if len(p) > 0 {
		t.Fatal(p)
	}
	q.Readings, q.Find = measured(c, 0, nil), []string{FitC, FitPKa}
	a, err := Read(q)
	if err != nil || a.PI == nil || math.Abs(*a.PI-6.06) > 0.02 || len(a.Fit.Parameters) != 3 {
		t.Errorf("%v %+v", err, a.PI)
	}
}

func TestBadCurves(t *testing.T) {
	good := measured(of(t, "CH3COOH", 0.1, "NaOH"), 0, nil)
	for field, change := range map[string]func(*ReadQuestion){
		"/readings":          func(q *ReadQuestion) { q.Readings = good[:3] },
		"/readings/2/volume": func(q *ReadQuestion) { q.Readings[2].Volume = 0.5 },
		"/readings/2/pH":     func(q *ReadQuestion) { q.Readings[2].PH = 20 },
		"/find/0":            func(q *ReadQuestion) { q.Find = []string{"colour"} },
		"/find": func(q *ReadQuestion) {
			q.Readings, q.Find = good[:5], []string{FitC, FitPKa, FitCarbonate, FitOffset, "x"}[:4]
			q.Analyte.Formula = "H3PO4"
		},
		"/volume": func(q *ReadQuestion) { q.Volume = -1 },
	} {
		q := question()
		q.Readings = append([]Point(nil), good...)
		change(&q)
		var p verdict.Problems
		if _, err := Read(q); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	q := question()
	q.Readings = append([]Point{{1, 3}, {1, 3.3}}, good[2:]...)
	a, err := Read(q)
	if err != nil || len(a.Verdicts) != 2 || a.Verdicts[0].Rule != "T-15" ||
		!strings.Contains(a.Verdicts[1].Sentence, "At 1.00 mL there are two readings, pH 3.00 and 3.30") {
		t.Errorf("%+v %v", a.Verdicts, err)
	}
	// Only the beginning of a curve: strength and constant move together.
	q = question()
	q.Readings, q.Find = good[:6], []string{FitC, FitPKa}
	if a, err = Read(q); err != nil || a.Verdicts[len(a.Verdicts)-1].Rule != "T-17" {
		t.Errorf("%+v %v", a.Verdicts, err)
	}
}

// 60 readings, five parameters.
func BenchmarkFit(b *testing.B) {
	c := of(b, "H3PO4", 0.1, "NaOH")
	random := rand.New(rand.NewPCG(1, 2))
	var points []Point
	volumes := make([]float64, 60)
	for i := range volumes {
		volumes[i] = float64(i) * 90 / 59
	}
	for i, pH := range c.At(volumes) {
		points = append(points, Point{volumes[i], pH + 0.02*random.NormFloat64()})
	}
	for b.Loop() {
		if _, err := c.Fit(points, []string{FitC, FitPKa, FitOffset}); err != nil {
			b.Fatal(err)
		}
	}
}

// Lysine has two protons more than its neutral form: pI = (pKa 2 + pKa 3)/2; glutamic acid, with
// one, (pKa 1 + pKa 2)/2. With the constants that biochemistry texts list they give 9.74 and 3.22
// (Lehninger, from memory).
func TestIsoelectricPointOfThreeGroups(t *testing.T) {
	for key, x := range map[string]struct {
		pKa  []float64
		want float64
	}{"lysine": {[]float64{2.18, 8.95, 10.53}, 9.74}, "glutamic": {[]float64{2.19, 4.25, 9.67}, 3.22}} {
		s, ok := equilibrium.Find(key)
		if !ok {
			t.Fatal(key)
		}
		s.Constants = slices.Clone(s.Constants)
		for i, pKa := range x.pKa {
			s.Constants[i].PKa = pKa
		}
		c := Curve{Celsius: 25, Analyte: equilibrium.Compound{Units: []equilibrium.Units{{System: s, Count: 1}}}}
		if pI, _, ok := c.isoelectric(nil); !ok || math.Abs(pI.Value-x.want) > 0.005 || pI.U() != 0 {
			t.Errorf("%s: %v, want %g", key, pI.Value, x.want)
		}
	}
	acetic, _ := equilibrium.Find("acetic")
	if pI, _, ok := (Curve{Analyte: equilibrium.Compound{Units: []equilibrium.Units{{System: acetic, Count: 1}}}}).isoelectric(nil); ok {
		t.Errorf("acetic acid has an isoelectric point of %g", pI.Value)
	}
}

// The largest fit that a question may ask for: 400 readings, six constants and more.
func BenchmarkLargestFit(b *testing.B) {
	s := equilibrium.System{Key: "own", Name: "six", Acid: "H6A", Source: "made up"}
	for k := range equilibrium.MaxSteps {
		s.Constants = append(s.Constants, equilibrium.Constant{PKa: 2 + 1.7*float64(k)})
	}
	c := Curve{
		Volume: 25, C: 0.05, Titrant: compound(b, "NaOH"), Strength: 0.1, Celsius: 25,
		Analyte: equilibrium.Compound{Units: []equilibrium.Units{{System: s, Count: 1}}},
	}
	random := rand.New(rand.NewPCG(1, 2))
	var points []Point
	for i := range mostReadings {
		v := float64(i) * 100 / mostReadings
		points = append(points, Point{v, c.At([]float64{v})[0] + 0.02*random.NormFloat64()})
	}
	c.C = 0.02
	for b.Loop() {
		if _, err := c.Fit(points, []string{FitC, FitPKa, FitOffset, FitCarbonate}); err != nil {
			b.Fatal(err)
		}
	}
}

// The verdict names the rule that was broken, at its threshold and just over it: of the pH, or of
// the volumes when only they scatter.
func TestFitNamesItsRule(t *testing.T) {
	for _, x := range []struct {
		pH, mL float64
		level  verdict.Level
		rule   verdict.Rule
	}{
		{0.05, 0.05, verdict.Fine, RuleFits},
		{0.051, 0.05, verdict.Look, RuleFits},
		{0.05, 0.051, verdict.Look, RuleFitsVolume},
		{0.2, 0.3, verdict.Look, RuleFits},
		{0.201, 0.3, verdict.Stop, RuleMissed},
		{0.2, 0.301, verdict.Stop, RuleMissedVolume},
	} {
		if v := (Fitted{SD: x.pH, VolumeSD: x.mL}).judge(nil)[0]; v.Level != x.level || v.Rule != x.rule.ID {
			t.Errorf("%g pH, %g mL: %s by %s (%s), not %s by %s", x.pH, x.mL, v.Level, v.Rule, v.Sentence, x.level, x.rule.ID)
		}
	}
}
