package photometry_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"vialbench/core/photometry"
	"vialbench/core/verdict"
)

func near(t *testing.T, name string, got, want, relative float64) {
	t.Helper()
	if math.Abs(got-want) > relative*math.Abs(want) {
		t.Errorf("%s %.12g, want %.12g", name, got, want)
	}
}

func fitted(t testing.TB, q photometry.Question) photometry.Answer {
	t.Helper()
	a, err := photometry.Fit(q)
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// six is a line of our own, worked out in exact arithmetic.
func six() photometry.Question {
	return photometry.Question{
		X: []float64{0, 1, 2, 3, 4, 5}, Y: []float64{0.004, 0.121, 0.239, 0.352, 0.474, 0.590},
		Unknowns: []photometry.Unknown{{Name: "pond", Readings: []float64{0.298, 0.300, 0.302}}}, Unit: "mg/L",
	}
}

func Example() {
	q := photometry.Question{
		X: []float64{0, 1, 2, 3, 4, 5}, Y: []float64{0.004, 0.121, 0.239, 0.352, 0.474, 0.590},
		Unknowns: []photometry.Unknown{{Readings: []float64{0.300, 0.300, 0.300}}},
	}
	a, err := photometry.Fit(q)
	if err != nil {
		fmt.Println(err)
		return
	}
	u := a.Unknowns[0]
	fmt.Printf("%.4f, from %.4f to %.4f\n", u.X, u.Fieller.From, u.Fieller.To)
	// Output: 2.5284, from 2.4970 to 2.5599
}

func TestAgainstExactArithmetic(t *testing.T) {
	a := fitted(t, six())
	u := a.Unknowns[0]
	near(t, "slope", a.Line.Slope, 0.1172, 1e-12)
	near(t, "its standard error", a.Line.SlopeSE, 0.00044934, 1e-5)
	near(t, "intercept", a.Line.Intercept, 0.0036667, 1e-5)
	near(t, "its standard error", a.Line.InterceptSE, 0.00136044, 1e-5)
	near(t, "residual SD", a.Line.SD, 0.00187972, 1e-5)
	near(t, "R²", a.Line.R2, 0.99994121, 1e-8)
	near(t, "slope through zero", a.ThroughZero.Slope, 0.1182, 1e-12)
	near(t, "its standard error", a.ThroughZero.SlopeSE, 0.00038043, 2e-5)
	near(t, "residual SD through zero", a.ThroughZero.SD, 0.00282135, 1e-5)
	near(t, "unknown", u.X, 2.528441, 1e-6)
	near(t, "its standard error", u.SE, 0.0113415, 1e-5)
	near(t, "half of its interval", (u.FirstOrder.To-u.FirstOrder.From)/2, 0.0314890, 1e-5)
	near(t, "from, by Fieller", u.Fieller.From, 2.496954, 1e-6)
	near(t, "to, by Fieller", u.Fieller.To, 2.559935, 1e-6)
	near(t, "by the slope alone", u.BySlope, 0.3/0.1182, 1e-12)
	near(t, "detection", a.Detection, 3.3*0.00187972/0.1172, 1e-5)
	near(t, "quantification", a.Quantification, 10*0.00187972/0.1172, 1e-5)
	near(t, "t of 4 degrees of freedom", a.T, 2.776445, 1e-6) // common tables
}

// NIST Statistical Reference Datasets: NoInt1 and NoInt2, certified values through zero.
func TestThroughZeroOfNIST(t *testing.T) {
	one := photometry.Question{}
	for i := range 11 {
		one.X, one.Y = append(one.X, float64(60+i)/100), append(one.Y, float64(130+i)/100) // scaled: no photometer reads 130
	}
	m := fitted(t, one).ThroughZero
	near(t, "slope of NoInt1", m.Slope, 2.07438016528926, 1e-12)
	near(t, "its standard error", m.SlopeSE, 0.0165289256198347, 1e-11)
	near(t, "residual SD", m.SD, 0.0356753034006338, 1e-11)
	near(t, "R²", m.R2, 0.999365492298663, 1e-12)
	m = fitted(t, photometry.Question{X: []float64{4, 5, 6}, Y: []float64{3, 4, 4}}).ThroughZero
	near(t, "slope of NoInt2", m.Slope, 0.727272727272727, 1e-12)
	near(t, "its standard error", m.SlopeSE, 0.0420827318078432, 1e-11)
	near(t, "residual SD", m.SD, 0.369274472937998, 1e-11)
	near(t, "R²", m.R2, 0.993348115299335, 1e-12)
}

// Worked by hand: 0.1 0.3, 0.2 0.2, 0.6 0.4 at 1, 2, 3. The means 0.2, 0.2, 0.5 give 0.15·c; the scatter within them is
// 0.02 + 0 + 0.02 with 3 degrees of freedom.
func TestLackOfFitAndLeverage(t *testing.T) {
	a := fitted(t, photometry.Question{X: []float64{1, 1, 2, 2, 3, 3}, Y: []float64{0.1, 0.3, 0.2, 0.2, 0.6, 0.4}})
	near(t, "slope", a.Line.Slope, 0.15, 1e-12)
	if math.Abs(a.Line.Intercept) > 1e-12 {
		t.Errorf("intercept %g", a.Line.Intercept)
	}
	rss := 0.0
	for _, p := range a.Points {
		rss += p.Residual * p.Residual
	}
	if a.LackOfFit == nil || a.LackOfFit.DF1 != 1 || a.LackOfFit.DF2 != 3 {
		t.Fatalf("%+v", a.LackOfFit)
	}
	near(t, "F of lack of fit", a.LackOfFit.F, (rss-0.04)/(0.04/3), 1e-9)
	sum := 0.0
	for i, p := range a.Points {
		sum += p.Leverage
		off := []float64{1, 1, 2, 2, 3, 3}[i] - 2
		if want := 1.0/6 + off*off/4; math.Abs(p.Leverage-want) > 1e-12 {
			t.Errorf("leverage %g, want %g", p.Leverage, want)
		}
		// The studentised residual is that of a line without the reading: (y − ŷ₍ᵢ₎)/(s₍ᵢ₎·√(1 + h₍ᵢ₎)).
		q := photometry.Question{}
		for k := range 6 {
			if k != i {
				q.X, q.Y = append(q.X, []float64{1, 1, 2, 2, 3, 3}[k]), append(q.Y, []float64{0.1, 0.3, 0.2, 0.2, 0.6, 0.4}[k])
			}
		}
		rest := fitted(t, q).Line
		x, y := []float64{1, 1, 2, 2, 3, 3}[i], []float64{0.1, 0.3, 0.2, 0.2, 0.6, 0.4}[i]
		variance := rest.SD*rest.SD + rest.InterceptSE*rest.InterceptSE + x*x*rest.SlopeSE*rest.SlopeSE + 2*x*rest.Covariance
		near(t, "studentised", p.Studentised, (y-rest.Intercept-rest.Slope*x)/math.Sqrt(variance), 1e-9)
	}
	near(t, "sum of the leverages", sum, 2, 1e-12)
}

// 95 % of the intervals hold the truth: of Fieller and of the first order where the slope is known well.
func TestCoverage(t *testing.T) {
	random := rand.New(rand.NewPCG(21, 21))
	const sets = 2000
	inside, general := 0, 0
	for range sets {
		q := photometry.Question{Unknowns: []photometry.Unknown{{}}}
		// One stock with an error of 1 % that all standards share, and 0.3 % of each by itself.
		stock := 1 + 0.01*random.NormFloat64()
		for i := range 8 {
			c := float64(i)
			q.X = append(q.X, c)
			q.Y = append(q.Y, 0.1*c*stock*(1+0.003*random.NormFloat64())+0.004*random.NormFloat64())
			row := make([]float64, 8)
			for k := range row {
				row[k] = 0.01 * 0.01 * c * float64(k)
			}
			row[i] += 0.003 * 0.003 * c * c
			q.XCovariance = append(q.XCovariance, row)
		}
		for range 3 {
			q.Unknowns[0].Readings = append(q.Unknowns[0].Readings, 0.35+0.004*random.NormFloat64())
		}
		u := fitted(t, q).Unknowns[0]
		// What the standards were taken for differs from the truth by the stock: the ordinary line cannot know.
		if u.Fieller.From <= 3.5/stock && 3.5/stock <= u.Fieller.To {
			inside++
		}
		if math.Abs(u.ByGeneral-3.5) <= 2.45*u.GeneralSE { // t of 6 degrees of freedom, for scatter and stock together
			general++
		}
	}
	if share := 100 * float64(inside) / sets; share < 93 || share > 97 {
		t.Errorf("Fieller holds what the standards say in %.1f %%", share)
	}
	if share := 100 * float64(general) / sets; share < 94 || share > 99 {
		t.Errorf("the general line holds the truth in %.1f %%", share)
	}
}

// A slope that may be nothing gives no interval, whatever the first order says.
func TestWhereTheFirstOrderFails(t *testing.T) {
	q := photometry.Question{
		X: []float64{1, 2, 3, 4, 5}, Y: []float64{0.10, 0.30, 0.05, 0.35, 0.20}, Unknowns: []photometry.Unknown{{Readings: []float64{0.2}}},
	}
	u := fitted(t, q).Unknowns[0]
	if u.Fieller != nil || !said(u.Verdicts, verdict.Stop, "nothing can be said of this unknown") {
		t.Errorf("%+v", u)
	}
	q.Y = []float64{0.10, 0.26, 0.22, 0.46, 0.44}
	q.Unknowns[0].Readings = []float64{0.6}
	u = fitted(t, q).Unknowns[0]
	if u.Fieller == nil || u.Fieller.To-u.X < 1.2*(u.X-u.Fieller.From) {
		t.Errorf("not lopsided: %+v", u)
	}
}

func said(list []verdict.Verdict, level verdict.Level, text string) bool {
	for _, v := range list {
		if v.Level == level && strings.Contains(v.Sentence, text) {
			return true
		}
	}
	return false
}

func TestVerdicts(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(q *photometry.Question)
		level  verdict.Level
		says   string
	}{
		{"as it is", func(*photometry.Question) {}, verdict.Fine, "R² is 0.99994."},
		{"its intercept", func(*photometry.Question) {}, verdict.Fine, "The intercept, 0.0037 ± 0.0038, does not differ from zero."},
		{"no blank", func(q *photometry.Question) {
			for i := range q.Y {
				q.Y[i] += 0.02
			}
		}, verdict.Look, "differs from zero: was the blank set"},
		{"a bubble", func(q *photometry.Question) { q.Y[3] = 0.420 }, verdict.Look, "Reading 4, 0.420 at 3 mg/L, lies"},
		{"much scatter", func(q *photometry.Question) { q.Y = []float64{0.05, 0.05, 0.30, 0.25, 0.60, 0.45} }, verdict.Stop, "measure the standards again"},
		{"some scatter", func(q *photometry.Question) { q.Y[1], q.Y[4] = 0.135, 0.460 }, verdict.Look, "usable, and below the 0.999"},
		{"stray light", func(q *photometry.Question) { q.Y = []float64{0, 0.150, 0.290, 0.418, 0.535, 0.640} }, verdict.Look, "The line bends"},
		{"few", func(q *photometry.Question) { q.X, q.Y = q.X[:4], q.Y[:4] }, verdict.Look, "Only 4 concentrations: 5 or more"},
		{"standards wrong", func(q *photometry.Question) {
			q.X = []float64{1, 1, 2, 2, 3, 3}
			q.Y = []float64{0.1, 0.101, 0.25, 0.251, 0.3, 0.301}
		}, verdict.Look, "lie further from the line than their readings scatter"},
	} {
		q := six()
		c.change(&q)
		if a := fitted(t, q); !said(a.Verdicts, c.level, c.says) {
			t.Errorf("%s: %+v", c.name, a.Verdicts)
		}
	}
	for _, c := range []struct {
		reading float64
		level   verdict.Level
		says    string
	}{
		{0.300, "", ""},
		{1.180, verdict.Stop, "beyond the strongest standard, 5 mg/L: dilute it 5 times"},
		{0.600, verdict.Stop, "dilute it 3 times"},
		{-0.05, verdict.Stop, "below nothing: the blank, or the sides of the cell"},
		{0.005, verdict.Look, "is below the limit of detection, 0.05293 mg/L"},
		{0.150, verdict.Look, "between 0.2 and 0.8 it is read best"},
	} {
		q := six()
		q.Unknowns[0].Readings = []float64{c.reading}
		list := fitted(t, q).Unknowns[0].Verdicts
		if c.says == "" && len(list) > 0 || c.says != "" && !said(list, c.level, c.says) {
			t.Errorf("%g: %+v", c.reading, list)
		}
	}
	q := six()
	q.X[0], q.Y[0] = 0.5, 0.0625
	q.Unknowns[0].Readings = []float64{0.03}
	if list := fitted(t, q).Unknowns[0].Verdicts; !said(list, verdict.Look, "below the weakest standard, 0.5 mg/L") {
		t.Errorf("%+v", list)
	}
}

func TestWhatCannotBeAsked(t *testing.T) {
	for _, c := range []struct {
		field  string
		change func(q *photometry.Question)
	}{
		{"/x", func(q *photometry.Question) { q.X, q.Y = q.X[:2], q.Y[:2] }},
		{"/y", func(q *photometry.Question) { q.Y = q.Y[:5] }},
		{"/x/2", func(q *photometry.Question) { q.X[2] = -1 }},
		{"/x/2", func(q *photometry.Question) { q.X[2] = math.NaN() }},
		{"/y/1", func(q *photometry.Question) { q.Y[1] = 7 }},
		{"/y/1", func(q *photometry.Question) { q.Y[1] = math.NaN() }},
		{"/x", func(q *photometry.Question) { q.X = []float64{2, 2, 2, 2, 2, 2} }},
		{"/unknowns/0/readings", func(q *photometry.Question) { q.Unknowns[0].Readings = nil }},
		{"/unknowns/0/readings/1", func(q *photometry.Question) { q.Unknowns[0].Readings[1] = 95 }},
		{"/y", func(q *photometry.Question) { q.X, q.Y = []float64{1, 2, 3}, []float64{0.1, 0, 0.1} }},
		{"/xCovariance", func(q *photometry.Question) { q.XCovariance = [][]float64{{1}} }},
		{"/xCovariance/0", func(q *photometry.Question) { q.XCovariance = make([][]float64, 6) }},
		{"/xCovariance/1", func(q *photometry.Question) { q.XCovariance = diagonal(1e-6); q.XCovariance[1][1] = -1 }},
		{"/xCovariance/0", func(q *photometry.Question) { q.XCovariance = diagonal(1e-6); q.XCovariance[0][1] = 1 }},
		{"/y", func(q *photometry.Question) {
			q.XCovariance = diagonal(1e-6)
			for i := range q.Y {
				q.Y[i] = 0
			}
		}},
	} {
		q := six()
		c.change(&q)
		_, err := photometry.Fit(q)
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != c.field {
			t.Errorf("want a problem at %s, got %v", c.field, err)
		}
	}
}

func diagonal(variance float64) [][]float64 {
	list := make([][]float64, 6)
	for i := range list {
		list[i] = make([]float64, 6)
		list[i][i] = variance
	}
	return list
}

// Without errors worth the name the general line is the ordinary one; an error that all standards share leaves the line and
// widens what is read from it by as much.
func TestGeneralLine(t *testing.T) {
	q := six()
	q.XCovariance = diagonal(1e-14)
	a := fitted(t, q)
	near(t, "slope", a.General.Slope, a.Line.Slope, 1e-9)
	near(t, "intercept", a.General.Intercept, a.Line.Intercept, 1e-7)
	near(t, "standard error of the slope", a.General.SlopeSE, a.Line.SlopeSE, 1e-6)
	near(t, "the unknown", a.Unknowns[0].ByGeneral, a.Unknowns[0].X, 1e-9)
	near(t, "its standard error", a.Unknowns[0].GeneralSE, a.Unknowns[0].SE, 1e-6)
	const share = 0.02
	for i := range q.X {
		for k := range q.X {
			q.XCovariance[i][k] = share * share * q.X[i] * q.X[k]
		}
	}
	b := fitted(t, q)
	near(t, "slope of one stock", b.General.Slope, a.Line.Slope, 1e-3)
	want := math.Hypot(a.Unknowns[0].SE, share*a.Unknowns[0].X)
	near(t, "standard error with the stock", b.Unknowns[0].GeneralSE, want, 0.01)
}

func BenchmarkFit(b *testing.B) {
	q := photometry.Question{}
	for i := range 12 {
		q.X = append(q.X, float64(i))
		q.Y = append(q.Y, 0.07*float64(i)+0.002*float64(i%3))
		row := make([]float64, 12)
		for k := range row {
			row[k] = 1e-4 * float64(i*k)
		}
		q.XCovariance = append(q.XCovariance, row)
	}
	for range 10 {
		q.Unknowns = append(q.Unknowns, photometry.Unknown{Readings: []float64{0.3, 0.31, 0.305}})
	}
	for b.Loop() {
		fitted(b, q)
	}
}

// Whatever can be answered can be sent: no figure is infinite, none is no number.
func TestEveryAnswerIsFinite(t *testing.T) {
	for _, q := range []photometry.Question{
		{X: []float64{0, 1, 2}, Y: []float64{0, 0.1, 0.2}, Unknowns: []photometry.Unknown{{Readings: []float64{0.1}}}},    // without scatter
		{X: []float64{1, 2, 4}, Y: []float64{0.2, 0.1, -0.1}, Unknowns: []photometry.Unknown{{Readings: []float64{0.1}}}}, // no slope through zero
		{X: []float64{1, 1, 2, 2, 3, 3}, Y: []float64{0.1, 0.1, 0.2, 0.2, 0.3, 0.3}},
	} {
		if text, err := json.Marshal(fitted(t, q)); err != nil {
			t.Errorf("%v: %s", err, text)
		}
	}
}
