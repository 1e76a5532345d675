package electrode_test

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

func typed(text string, dimensions ...quantity.Dimension) *quantity.Quantity {
	q, err := quantity.ParseAny(text, dimensions, "")
	if err != nil {
		panic(err)
	}
	return &q
}

func shown(text string) *quantity.Quantity {
	return typed(text, quantity.Potential, quantity.Acidity)
}

func beside(texts ...string) (list []quantity.Quantity) {
	for _, text := range texts {
		list = append(list, *typed(text, quantity.Temperature, quantity.Time, quantity.Mass))
	}
	return list
}

// What a meter may show, and what may stand beside it: the ends belong to it.
func TestReadingsThatAreTaken(t *testing.T) {
	display := electrode.Meter{Name: "Coot", ShowsPH: true, Resolution: 0.01}
	for _, c := range []struct {
		meter  electrode.Meter
		fact   fact.Fact
		fields []string
	}{
		{bench, fact.Fact{Quantity: shown("177.3 mV")}, nil},
		{bench, fact.Fact{Quantity: shown("6.92 pH")}, nil},
		{display, fact.Fact{Quantity: shown("6.92 pH")}, nil},
		{display, fact.Fact{Quantity: shown("177.3 mV")}, []string{"/quantity"}},
		{bench, fact.Fact{}, []string{"/quantity"}},
		{bench, fact.Fact{Quantity: typed("3 g", quantity.Mass)}, []string{"/quantity"}},
		{bench, fact.Fact{Quantity: shown("1000 mV")}, nil},
		{bench, fact.Fact{Quantity: shown("-1000 mV")}, nil},
		{bench, fact.Fact{Quantity: shown("1000.1 mV")}, []string{"/quantity"}},
		{bench, fact.Fact{Quantity: shown("-2 pH")}, nil},
		{bench, fact.Fact{Quantity: shown("16 pH")}, nil},
		{bench, fact.Fact{Quantity: shown("-2.01 pH")}, []string{"/quantity"}},
		{bench, fact.Fact{Quantity: shown("16.01 pH")}, []string{"/quantity"}},
		{display, fact.Fact{Quantity: shown("6.92 pH"), After: shown("7.00 pH")}, nil},
		{display, fact.Fact{Quantity: shown("6.92 pH"), After: shown("17 pH")}, []string{"/after"}},
		{bench, fact.Fact{Quantity: shown("20 mV"), Spread: shown("0 mV")}, nil},
		{bench, fact.Fact{Quantity: shown("20 mV"), Spread: shown("1000 mV")}, nil},
		{bench, fact.Fact{Quantity: shown("20 mV"), Spread: shown("1000.1 mV")}, []string{"/spread"}},
		{bench, fact.Fact{Quantity: shown("20 mV"), Spread: shown("-0.1 mV")}, []string{"/spread"}},
		{display, fact.Fact{Quantity: shown("7 pH"), Spread: shown("1 mV")}, []string{"/spread"}},
		{bench, fact.Fact{Quantity: shown("20 mV"), Beside: beside("0 °C", "0 s")}, nil},
		{bench, fact.Fact{Quantity: shown("20 mV"), Beside: beside("60 °C", "3600 s")}, nil},
		{bench, fact.Fact{Quantity: shown("20 mV"), Beside: beside("60.1 °C", "3601 s")}, []string{"/beside/0", "/beside/1"}},
		{bench, fact.Fact{Quantity: shown("20 mV"), Beside: beside("-0.1 °C", "-1 s")}, []string{"/beside/0", "/beside/1"}},
		{bench, fact.Fact{Quantity: shown("20 mV"), Beside: beside("21 °C", "3 g")}, []string{"/beside/1"}},
	} {
		var p verdict.Problems
		if c.meter.CheckReading(c.fact, &p); !slices.Equal(fieldsOf(p.OrNil()), c.fields) {
			t.Errorf("%s, %+v: %v, want %v", c.meter.Name, c.fact, p, c.fields)
		}
	}
	var p verdict.Problems
	display.CheckReading(fact.Fact{}, &p)
	bench.CheckReading(fact.Fact{}, &p)
	if len(p) != 2 || !strings.HasPrefix(p[0].Reason, "Coot shows pH: ") || !strings.HasPrefix(p[1].Reason, "Heron shows a potential or a pH: ") {
		t.Errorf("%v", p)
	}
}

// How a reading is asked for, in what the meter shows: 118 mV below that of pH 7 at 25 °C is
// about pH 9, by k = 59.16 mV.
func TestHowAReadingIsAskedFor(t *testing.T) {
	display := electrode.Meter{Name: "Coot", ShowsPH: true}
	for _, c := range []struct {
		meter                  electrode.Meter
		mV                     float64
		label, unit, expecting string
	}{
		{bench, -118.3, "Potential shown", "mV", "−118 mV"},
		{bench, math.NaN(), "Potential shown", "mV", ""},
		{display, -118.32, "pH shown", "pH", "9.00 pH"},
		{display, math.NaN(), "pH shown", "pH", ""},
	} {
		s := c.meter.Asks(run.Step{}, 25, c.mV)
		if s.Label != c.label || s.Unit != c.unit || c.meter.Unit() != c.unit || s.Expects != c.expecting ||
			s.Instrument != c.meter.Name || s.Beside.Default != "25.0" || s.Input != run.InputQuantity {
			t.Errorf("%s: %+v", c.meter.Name, s)
		}
	}
	if got := bench.Takes(); !slices.Equal(got, []quantity.Dimension{quantity.Potential, quantity.Acidity, quantity.Temperature, quantity.Time}) {
		t.Errorf("%v", got)
	}
}

// A fact is read as what counts of it: what was shown after an adjustment, the temperature and
// the time constant beside it, a pH by k = 58.17 mV at 20 °C.
func TestFactsAreRead(t *testing.T) {
	display := electrode.Meter{Name: "Coot", ShowsPH: true}
	r := bench.Read(fact.Fact{ID: "f", Quantity: shown("177.3 mV"), Spread: shown("0.4 mV")}, 21)
	if r.ID != "f" || r.MV != 177.3 || r.Celsius != 21 || r.Spread != 0.4 || r.PH != nil {
		t.Errorf("%+v", r)
	}
	f := fact.Fact{Quantity: shown("6.92 pH"), After: shown("6.0 pH"), Spread: shown("0.1 pH"), Beside: beside("12 s", "20 °C")}
	r = bench.Read(f, 21)
	near(t, "potential of pH 6 at 20 °C", r.MV, 58.17, 0.01)
	near(t, "a tenth of a pH at 25 °C", r.Spread, 5.916, 0.001)
	if r.Celsius != 20 || r.PH == nil || *r.PH != 6 || math.Abs(r.Digit-0.1) > 1e-15 {
		t.Errorf("%+v", r)
	}
	if r = display.Read(f, 21); r.PH != nil || r.Digit != 0 {
		t.Errorf("of a meter that shows nothing else: %+v", r)
	}
	if electrode.Settling(f) != 12 || electrode.Settling(fact.Fact{Beside: beside("20 °C")}) != 0 {
		t.Error("the time constant is not read")
	}
	for f, want := range map[*fact.Fact]string{
		{Quantity: shown("6.92 pH")}:                           "pH 6.92",
		{Quantity: shown("6.92 pH"), After: shown("7.0 pH")}:   "pH 6.92, adjusted to 7.0",
		{Quantity: shown("177.3 mV")}:                          "177.3 mV",
		{Quantity: shown("177.3 mV"), After: shown("-1.5 mV")}: "177.3 mV, adjusted to −1.5",
	} {
		if got := electrode.ShownBy(*f); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}

// A pH that a meter of potentials shows gives that pH back, on whichever piece of the line it lies,
// and is known no better than its last digit.
func TestReadUnderACalibration(t *testing.T) {
	points := []electrode.Point{taken(t, "phthalate", 25, 5, 0.97), taken(t, "phosphate", 25, 5, 0.97), taken(t, "borax", 25, 5, 0.97)}
	points[2].MV += 4 // so that the two pieces differ
	c, err := electrode.Calibrate(bench, points, true)
	if err != nil {
		t.Fatal(err)
	}
	for _, text := range []string{"4.50 pH", "6.80 pH", "6.90 pH", "9.00 pH"} {
		r := c.Read(fact.Fact{ID: "s", Quantity: shown(text)}, 25)
		near(t, text, c.PH(r).Value, shown(text).Value, 1e-9)
		lines := c.Lines("pH of the pond", r, text, "run 7")
		workingtest.Check(t, lines)
		from := strings.Join(append(slices.Clone(lines[0].From), lines[1].From...), "; ")
		if lines[0].Result != "59.159 mV" || !strings.Contains(lines[0].Substituted, "298.15") {
			t.Errorf("%+v", lines[0])
		}
		for _, says := range []string{
			"T: of the sample, 25.0 °C", "E: what gives " + text + ", which Heron showed, adjusted to the same buffers", "E₀ and η: calibration, run 7",
		} {
			if !strings.Contains(from, says) {
				t.Errorf("%q is not said: %s", says, from)
			}
		}
	}
	plain := c.Read(fact.Fact{Quantity: shown("20.0 mV")}, 25)
	if lines := c.Lines("pH", plain, "20.0 mV", "run 7"); lines[1].From[0] != "E: 20.0 mV, as Heron showed it" {
		t.Errorf("%v", lines[1].From)
	}
	coarse, fine := c.Read(fact.Fact{Quantity: shown("6.5 pH")}, 25), c.Read(fact.Fact{Quantity: shown("6.500 pH")}, 25)
	// a rectangle of one digit is 0.1/√12 = 0.0289 wide
	u := math.Sqrt(math.Pow(c.PH(coarse).U(), 2) - math.Pow(c.PH(fine).U(), 2))
	near(t, "what a coarse digit adds", u, 0.1/math.Sqrt(12), 1e-4)
}

// The sentences of doubts, with their figures.
func TestDoubtsInWords(t *testing.T) {
	two, one := calibrated(t, taken(t, "phthalate", 25, 0, 1), taken(t, "borax", 25, 0, 1)), calibrated(t, taken(t, "phosphate", 25, 0, 1))
	for _, x := range []struct {
		c    electrode.Calibration
		pH   float64
		r    electrode.Read
		want string
	}{
		{two, 9.5, electrode.Read{Celsius: 25}, "Just outside the calibration: the buffers went from 4.00 to 9.18."},
		{two, 11, electrode.Read{Celsius: 25}, "1.8 pH outside the calibration: the buffers went from 4.00 to 9.18. Calibrate with a buffer beyond it, then read again."},
		{one, 7.5, electrode.Read{Celsius: 25}, "Just outside the calibration: the one buffer was at 6.87."},
		{two, 7, electrode.Read{Celsius: 25, Spread: 5.916}, "Taken before it had settled: it still moved by 0.100 pH."},
	} {
		if got := x.c.Doubts(x.r, x.pH, time.Time{}, time.Time{}, nil); len(got) != 1 || got[0].Sentence != x.want {
			t.Errorf("%v, want %q", got, x.want)
		}
	}
	over := verdict.Thresholds{electrode.RuleAlkaline.ID: 11.75}
	if got := two.Doubts(electrode.Read{Celsius: 25, Sodium: true}, 12, time.Time{}, time.Time{}, over); !strings.HasPrefix(
		got[len(got)-1].Sentence, "Above pH 11.75 with much sodium") {
		t.Errorf("%v", got)
	}
	_, err := electrode.Calibrate(bench, []electrode.Point{{Buffer: buffer(t, "borax"), MV: 1234.25, Celsius: -7.25}}, false)
	var p verdict.Problems
	if errors.As(err, &p); len(p) != 2 || !strings.HasPrefix(p[0].Reason, "1234.25 mV: ") || !strings.HasPrefix(p[1].Reason, "−7.25 °C: ") {
		t.Errorf("%v", err)
	}
}

// Where a stream goes does not depend on when the clock began, nor on how often it was read.
func TestPredictionsOfTheSameStream(t *testing.T) {
	samples := stream(drawer(5), 40, 100, []float64{-30}, []float64{8}, 0.05)
	later, often := slices.Clone(samples), []electrode.Sample(nil)
	for i := range later {
		later[i].Seconds += 5000
	}
	for _, s := range samples {
		for k := range 10 {
			often = append(often, electrode.Sample{Seconds: s.Seconds + float64(k)/1000, MV: s.MV})
		}
	}
	want, ok := electrode.Predict(samples, 25, nil)
	if !ok || math.Abs(want.MV-100) > 0.3 || math.Abs(want.TimeConstant-8) > 0.5 {
		t.Fatalf("%+v, %t", want, ok)
	}
	for name, list := range map[string][]electrode.Sample{"later": later, "more often": often} {
		got, ok := electrode.Predict(list, 25, nil)
		if !ok || math.Abs(got.MV-want.MV) > 0.02 || math.Abs(got.TimeConstant-want.TimeConstant) > 0.1 || math.Abs(got.Wait-want.Wait) > 0.5 {
			t.Errorf("%s: %+v, want %+v", name, got, want)
		}
	}
	if a, b := electrode.Settled(samples, 25, nil), electrode.Settled(later, 25, nil); math.Abs(a.Change-b.Change) > 1e-9 || a.Settled != b.Settled {
		t.Errorf("%+v, %+v", a, b)
	}
}
