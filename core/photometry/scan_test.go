package photometry_test

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vialbench/core/photometry"
	"vialbench/core/verdict"
)

// permanganate is nine readings by hand, 20 nm apart, of a band at 525 nm.
func permanganate() photometry.ScanQuestion {
	var q photometry.ScanQuestion
	for i := range 9 {
		x := 450 + 20*float64(i)
		q.X, q.Y = append(q.X, x), append(q.Y, 0.01+0.62*math.Exp(-(x-525)*(x-525)/(2*32*32)))
	}
	return q
}

func scanned(t testing.TB, q photometry.ScanQuestion) photometry.ScanAnswer {
	t.Helper()
	a, err := photometry.Scan(q)
	if err != nil {
		t.Fatal(err)
	}
	return a
}

func ExampleScan() {
	a, err := photometry.Scan(permanganate())
	fmt.Println(a.Measure, a.Peaks[0].Absorbed, a.Peaks[0].Seen, err)
	fmt.Println(a.Verdicts[0].Sentence)
	// Output:
	// 525 green purple <nil>
	// Measure at 525 nm: the maximum lies at 525.4 ± 1.7 nm, between the readings. The readings lie 20 nm apart and the top is 10 nm wide: read closer together around it.
}

// The maximum is found between the readings, where none was taken, whatever their order.
func TestMaximumBetweenReadings(t *testing.T) {
	q := permanganate()
	if slices.Contains(q.X, 525) {
		t.Fatal("a reading stands at the maximum")
	}
	slices.Reverse(q.X)
	slices.Reverse(q.Y)
	a := scanned(t, q)
	if p := a.Peaks[0]; len(a.Peaks) != 1 || math.Abs(p.X-525) > 3*p.U || p.U > 1 || math.Abs(p.Y-0.63) > 0.01 || a.Measure != math.Round(p.X) {
		t.Errorf("%+v", a.Peaks)
	}
	if a.CurveX[0] != 450 || a.CurveX[400] != 610 || len(a.CurveX) != 401 || math.Abs(a.CurveY[200]-q.Y[4]) > 1e-9 {
		t.Errorf("the curve leads from %g to %g", a.CurveX[0], a.CurveX[400])
	}
	// A parabola is met exactly: A = 0.8 − 0.0001·(λ − 507)², 1 % lower √80 nm away.
	var exact photometry.ScanQuestion
	for x := 480.0; x <= 540; x += 15 {
		exact.X, exact.Y = append(exact.X, x), append(exact.Y, 0.8-1e-4*(x-507)*(x-507))
	}
	if p := scanned(t, exact).Peaks[0]; math.Abs(p.X-507) > 1e-6 || math.Abs(p.Y-0.8) > 1e-9 || math.Abs(p.Flat-math.Sqrt(80)) > 1e-6 {
		t.Errorf("%+v", p)
	}
}

// Of 300 noisy scans the interval holds the maximum about as often as it says, sparse and dense.
func TestMaximumHoldsItsUncertainty(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	for _, step := range []float64{15, 1} {
		held := 0
		const draws = 300
		for range draws {
			at := 520 + 10*random.Float64()
			q := photometry.ScanQuestion{Noise: 0.002}
			for x := 430.0; x <= 610; x += step {
				q.X, q.Y = append(q.X, x), append(q.Y, 0.7*math.Exp(-(x-at)*(x-at)/(2*40*40))+0.002*random.NormFloat64())
			}
			if p := scanned(t, q).Peaks[0]; math.Abs(p.X-at) <= 2*p.U {
				held++
			}
		}
		if held < 270 {
			t.Errorf("%g nm apart: held in %d of %d", step, held, draws)
		}
	}
}

func TestVerdictsOnScans(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(q *photometry.ScanQuestion)
		level  verdict.Level
		says   string
	}{
		{"cut off", func(q *photometry.ScanQuestion) { q.X, q.Y = q.X[:4], q.Y[:4] }, verdict.Stop, "The highest reading stands at the end, at 510 nm"},
		{"water", func(q *photometry.ScanQuestion) {
			for i := range q.Y {
				q.Y[i] = 0.001 * float64(i%2)
			}
		}, verdict.Stop, "No reading stands out"},
		{"strong", func(q *photometry.ScanQuestion) {
			for i := range q.Y {
				q.Y[i] *= 3
			}
		}, verdict.Look, "Absorbance 1.88 at the top, more than 1.5: dilute it"},
		{"blank", func(q *photometry.ScanQuestion) { q.Blank = []float64{0, 0, 0, 0.05, 0.15, 0, 0, 0, 0} }, verdict.Look, "The blank itself absorbs 0.150 there"},
		{"lamp", func(q *photometry.ScanQuestion) { q.From = 560 }, verdict.Look, "No maximum lies within what the lamp reaches."},
		{"narrow", func(q *photometry.ScanQuestion) {
			for i, x := range q.X {
				q.Y[i] = math.Exp(-(x - 531) * (x - 531) / (2 * 12 * 12))
			}
		}, verdict.Look, "read closer together around it"},
	} {
		q := permanganate()
		c.change(&q)
		if a := scanned(t, q); !said(a.Verdicts, c.level, c.says) {
			t.Errorf("%s: %+v", c.name, a.Verdicts)
		}
	}
	// Two bands, the higher one out of reach.
	q := photometry.ScanQuestion{To: 600}
	for x := 400.0; x <= 800; x += 10 {
		q.X, q.Y = append(q.X, x), append(q.Y, 0.3*math.Exp(-(x-500)*(x-500)/900)+0.6*math.Exp(-(x-700)*(x-700)/900))
	}
	a := scanned(t, q)
	if len(a.Peaks) != 2 || a.Measure != 500 || !said(a.Verdicts, verdict.Look, "The highest maximum, at 700 nm, lies outside") || a.Peaks[0].Seen != "blue-green" {
		t.Errorf("%+v", a.Peaks)
	}
}

func TestScansThatAreNone(t *testing.T) {
	for field, change := range map[string]func(q *photometry.ScanQuestion){
		"/x":     func(q *photometry.ScanQuestion) { q.X, q.Y = q.X[:3], q.Y[:3] },
		"/y":     func(q *photometry.ScanQuestion) { q.Y = q.Y[1:] },
		"/noise": func(q *photometry.ScanQuestion) { q.Noise = -1 },
		"/x/2":   func(q *photometry.ScanQuestion) { q.X[2] = 5 },
		"/x/5":   func(q *photometry.ScanQuestion) { q.X[5] = q.X[4] },
		"/y/3":   func(q *photometry.ScanQuestion) { q.Y[3] = math.NaN() },
	} {
		q := permanganate()
		change(&q)
		_, err := photometry.Scan(q)
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// Colours of common practice: permanganate is purple, copper blue, chromate yellow.
func TestColours(t *testing.T) {
	for nm, want := range map[float64]string{399: "/", 373: "/", 400: "violet/yellow-green", 450: "blue/yellow", 485: "green-blue/orange", 495: "blue-green/red", 525: "green/purple", 590: "yellow/blue", 650: "red/blue-green", 730: "/"} {
		if a, s := photometry.Colours(nm); a+"/"+s != want {
			t.Errorf("%g nm: %s/%s, want %s", nm, a, s, want)
		}
	}
}

// Standard additions worked by hand: 10 mL of a sample of 2.5 mg/L made up to 25 mL with 0 to 4 mL of 10 mg/L; A = 0.2·c.
func TestAdditions(t *testing.T) {
	q := photometry.AdditionsQuestion{Sample: 10, Standard: 10, Added: []float64{0, 1, 2, 3, 4}, Final: 25, Unit: "mg/L"}
	for _, v := range q.Added {
		q.A = append(q.A, 0.2*(2.5*10+10*v)/25)
	}
	a, err := photometry.Additions(q)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "concentration", a.C, 2.5, 1e-12)
	near(t, "slope", a.Line.Slope, 0.2, 1e-12)
	// Not made up, the volumes add: the same sample.
	open := q
	open.Final, open.A = 0, nil
	for _, v := range q.Added {
		open.A = append(open.A, 0.2*(2.5*10+10*v)/(10+v))
	}
	if a, err = photometry.Additions(open); err != nil {
		t.Fatal(err)
	}
	near(t, "volumes that add", a.C, 2.5, 1e-12)
	// With scatter: s = 0.0027 of residuals ±, and the interval by hand. x 0…1.6, Y mean 0.36, Sxx 1.6.
	for i, r := range []float64{0.002, -0.002, 0, -0.002, 0.002} {
		q.A[i] += r
	}
	a, _ = photometry.Additions(q)
	s := math.Sqrt(4 * 4e-6 / 3)
	near(t, "standard error", a.SE, 2.5*s/0.2*math.Sqrt(0.2+0.36*0.36/(0.04*1.6)), 1e-9)
	near(t, "half the interval", a.Interval.To-a.C, 3.18244630528*a.SE, 1e-9)
	q.Slope, q.SlopeSE = 0.26, 0.002
	if a, _ = photometry.Additions(q); !said(a.Verdicts, verdict.Look, "In the sample the slope is 77 % of that of plain standards") {
		t.Errorf("%+v", a.Verdicts)
	}
	q.Slope = 0.2
	if a, _ = photometry.Additions(q); !said(a.Verdicts, verdict.Fine, "The slope is that of plain standards") || len(a.Verdicts) != 1 {
		t.Errorf("%+v", a.Verdicts)
	}
	q.Slope, q.Added, q.A = 0, []float64{0, 0.1, 0.2}, []float64{0.2, 0.209, 0.215}
	if a, _ = photometry.Additions(q); !said(a.Verdicts, verdict.Look, "Less was added than was there") {
		t.Errorf("%+v", a.Verdicts)
	}
	for field, change := range map[string]func(q *photometry.AdditionsQuestion){
		"/added":    func(q *photometry.AdditionsQuestion) { q.Added = q.Added[:2] },
		"/sample":   func(q *photometry.AdditionsQuestion) { q.Sample = 0 },
		"/standard": func(q *photometry.AdditionsQuestion) { q.Standard = 0 },
		"/added/4":  func(q *photometry.AdditionsQuestion) { q.Added[4] = 16 },
		"/a/1":      func(q *photometry.AdditionsQuestion) { q.A[1] = 7 },
		"/final":    func(q *photometry.AdditionsQuestion) { q.Final = -1 },
		"/a":        func(q *photometry.AdditionsQuestion) { slices.Reverse(q.A) },
	} {
		bad := open
		bad.Added, bad.A, bad.Final = slices.Clone(open.Added), []float64{0.2, 0.28, 0.36, 0.44, 0.52}, 25
		change(&bad)
		_, err := photometry.Additions(bad)
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	if !strings.HasPrefix(photometry.RuleMatrix.ID, "AB-") {
		t.Error(photometry.RuleMatrix.ID)
	}
}

func BenchmarkScan(b *testing.B) {
	var q photometry.ScanQuestion
	for i := range 2000 {
		x := 350 + 0.2*float64(i)
		q.X, q.Y = append(q.X, x), append(q.Y, 0.7*math.Exp(-(x-525)*(x-525)/2000))
	}
	for b.Loop() {
		if _, err := photometry.Scan(q); err != nil {
			b.Fatal(err)
		}
	}
}
