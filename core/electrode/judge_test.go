package electrode_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/verdict"
)

var today = time.Date(2026, 3, 31, 12, 0, 0, 0, time.UTC)

// says lists verdicts as "P-6 fine".
func says(list []verdict.Verdict) string {
	var words []string
	for _, v := range list {
		words = append(words, v.Rule+" "+string(v.Level))
	}
	return strings.Join(words, ", ")
}

// The trade's thresholds of slope and offset (common practice), each on both sides.
func TestSlopeAndOffset(t *testing.T) {
	for _, c := range []struct {
		slope, offset float64
		want          string
	}{
		{1.00, 0, "P-6 fine, P-10 fine"},
		{0.9501, 0, "P-6 fine, P-10 fine"},
		{0.9499, 0, "P-6 look, P-10 fine"},
		{0.9201, 0, "P-6 look, P-10 fine"},
		{0.9199, 0, "P-8 stop, P-10 fine"},
		{1.0199, 0, "P-6 fine, P-10 fine"},
		{1.0201, 0, "P-7 look, P-10 fine"},
		{1.0499, 0, "P-7 look, P-10 fine"},
		{1.0501, 0, "P-9 stop, P-10 fine"},
		{1, 14.99, "P-6 fine, P-10 fine"},
		{1, 15.01, "P-10 look, P-6 fine"},
		{1, -15.01, "P-10 look, P-6 fine"},
		{1, 29.99, "P-10 look, P-6 fine"},
		{1, 30.01, "P-11 stop, P-6 fine"},
		{1, -30.01, "P-11 stop, P-6 fine"},
	} {
		got := calibrated(t, taken(t, "phthalate", 25, c.offset, c.slope), taken(t, "phosphate", 25, c.offset, c.slope)).Judge(0, 0, today, nil)
		if says(got) != c.want {
			t.Errorf("slope %g, offset %g: %s, want %s", c.slope, c.offset, says(got), c.want)
		}
	}
	c := calibrated(t, taken(t, "phthalate", 25, 8, 0.97), taken(t, "phosphate", 25, 8, 0.97))
	got := c.Judge(0, 0, today, verdict.Thresholds{"P-6": 98, "P-10": 5})
	if says(got) != "P-6 look, P-10 look" || !strings.HasPrefix(got[0].Sentence, "97.0 % of the theoretical slope") ||
		!strings.HasPrefix(got[1].Sentence, "8.0 mV at pH 7") {
		t.Errorf("the lab's own thresholds: %+v", got)
	}
	// Far from 7 the offset is a long way down the line: it is not judged.
	if got := says(calibrated(t, taken(t, "borax", 25, 40, 1), taken(t, "carbonate", 25, 40, 1)).Judge(0, 0, today, nil)); got != "P-6 fine" {
		t.Errorf("borax and carbonate: %s", got)
	}
}

// Swapped buffers, and one buffer twice, are told from the potentials.
func TestMixedUp(t *testing.T) {
	four, seven, nine := taken(t, "phthalate", 25, 2, 0.98), taken(t, "phosphate", 25, 2, 0.98), taken(t, "borax", 25, 2, 0.98)
	swap := func(a, b electrode.Point) (electrode.Point, electrode.Point) {
		a.MV, b.MV = b.MV, a.MV
		return a, b
	}
	x, y := swap(four, seven)
	got := calibrated(t, x, y).Judge(0, 0, today, nil)
	if says(got) != "P-19 stop" ||
		!strings.Contains(got[0].Sentence, "hydrogen phthalate, 0.05 mol/kg and phosphate 1:1, 0.025 mol/kg are swapped") {
		t.Errorf("%+v", got)
	}
	x, y = swap(seven, nine)
	if got := calibrated(t, four, y, x).Judge(0, 0, today, nil); got[0].Rule != "P-19" ||
		!strings.Contains(got[0].Sentence, "borax, 0.01 mol/kg are swapped") {
		t.Errorf("%+v", got)
	}
	// The two at the ends: the pairs of neighbours are innocent.
	x, y = swap(four, nine)
	if got := calibrated(t, x, seven, y).Judge(0, 0, today, nil); got[0].Rule != "P-19" ||
		!strings.Contains(got[0].Sentence, "hydrogen phthalate, 0.05 mol/kg and borax, 0.01 mol/kg are swapped") {
		t.Errorf("%+v", got)
	}
	// Each one in the place of the next.
	x, y, z := four, seven, nine
	x.MV, y.MV, z.MV = seven.MV, nine.MV, four.MV
	if got := calibrated(t, x, y, z).Judge(0, 0, today, nil); got[0].Rule != "P-19" ||
		!strings.Contains(got[0].Sentence, "0.05 mol/kg, phosphate 1:1, 0.025 mol/kg and borax, 0.01 mol/kg stand in each other's place") {
		t.Errorf("%+v", got)
	}
	// Five points, two that are not neighbours.
	five := []electrode.Point{four, taken(t, "citrate", 25, 2, 0.98), seven, nine, taken(t, "carbonate", 25, 2, 0.98)}
	five[1], five[4] = func() (a, b electrode.Point) { return swap(five[1], five[4]) }()
	if got := calibrated(t, five...).Judge(0, 0, today, nil); got[0].Rule != "P-19" || !strings.Contains(got[0].Sentence, "carbonate") ||
		!strings.Contains(got[0].Sentence, "citrate") || !strings.Contains(got[0].Sentence, "are swapped") {
		t.Errorf("%+v", got)
	}
	twice := nine
	twice.MV = seven.MV + 0.4
	if got := calibrated(t, four, seven, twice).Judge(0, 0, today, nil); got[0].Rule != "P-19" ||
		!strings.Contains(got[0].Sentence, "in one buffer twice") {
		t.Errorf("%+v", got)
	}
	if got := calibrated(t, four, seven, nine).Judge(0, 0, today, nil); got[0].Level != verdict.Fine {
		t.Errorf("%+v", got)
	}
	near := calibrated(t, seven, taken(t, "phosphate-7", 25, 2, 0.98)) // 8 mV apart: nobody can tell
	if got := says(near.Judge(0, 0, today, nil)); strings.Contains(got, "P-19") {
		t.Error(got)
	}
}

// Of three points none is more suspect than another; of four and five the wrong one is named,
// wherever it stands.
func TestWhichPointIsOffTheLine(t *testing.T) {
	keys := []string{"phthalate", "phosphate", "borax", "carbonate"}
	for n := 3; n <= 4; n++ {
		for wrong := range n {
			var points []electrode.Point
			for _, key := range keys[:n] {
				points = append(points, taken(t, key, 25, 0, 1))
			}
			points[wrong].MV += 12
			got := calibrated(t, points...).Judge(0, 0, today, nil)
			sentence := ""
			for _, v := range got {
				if v.Rule == "P-18" {
					sentence = v.Sentence
				}
			}
			named := strings.HasPrefix(sentence, points[wrong].Buffer.Name+" lies ")
			open := strings.Contains(
				sentence,
				"3 points cannot tell which: hydrogen phthalate, 0.05 mol/kg, phosphate 1:1, 0.025 mol/kg and borax, 0.01 mol/kg.",
			)
			if n == 3 && !open || n == 4 && !named {
				t.Errorf("point %d of %d: “%s”", wrong+1, n, sentence)
			}
		}
	}
}

func TestOtherDoubtsOfACalibration(t *testing.T) {
	four, seven, nine := taken(t, "phthalate", 25, 0, 1), taken(t, "phosphate", 25, 0, 1), taken(t, "borax", 25, 0, 1)
	good := "P-6 fine, P-10 fine"
	for _, c := range []struct {
		name, want string
		change     func(p []electrode.Point)
		low, high  float64
	}{
		{"nothing", good, nil, 0, 0},
		{"samples inside", good + ", P-3 fine", nil, 4.1, 9.1},
		{"samples beyond the acid end", "P-3 look, " + good, nil, 3.9, 9.1},
		{"samples beyond the basic end", "P-3 look, " + good, nil, 4.1, 9.3},
		{"all buffers below", "P-3 look, " + good, nil, 10, 11},
		{"all buffers above", "P-3 look, " + good, nil, 1, 3},
		{"one temperature", good, func(p []electrode.Point) { p[0] = taken(t, "phthalate", 20.1, 0, 1) }, 0, 0},
		{"two temperatures", "P-12 look, " + good, func(p []electrode.Point) { p[0] = taken(t, "phthalate", 19.9, 0, 1) }, 0, 0},
		{"fresh enough", good, func(p []electrode.Point) { p[0].Buffer.Opened = "2025-12-31" }, 0, 0}, // 90 days
		{"old", "P-20 look, " + good, func(p []electrode.Point) { p[0].Buffer.Opened = "2025-12-30" }, 0, 0},
		{"too early", "P-4 look, " + good, func(p []electrode.Point) { p[1].Spread = 2 }, 0, 0},
		// Off the line by 0.06 pH in the middle, two thirds of that are left after fitting.
		{"off the line", "P-18 look, " + good, func(p []electrode.Point) { p[1].MV += 4 }, 0, 0},
		{"on the line", good, func(p []electrode.Point) { p[1].MV += 1 }, 0, 0},
	} {
		points := []electrode.Point{four, seven, nine}
		if c.change != nil {
			c.change(points)
		}
		if got := says(calibrated(t, points...).Judge(c.low, c.high, today, nil)); got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
}

func TestDoubtsOfAReading(t *testing.T) {
	c := calibrated(t, taken(t, "phthalate", 25, 0, 1), taken(t, "borax", 25, 0, 1))
	for _, x := range []struct {
		name string
		pH   float64
		r    electrode.Read
		age  time.Duration
		want string
	}{
		{"inside", 7, electrode.Read{Celsius: 25}, time.Hour, ""},
		{"at the end", 9.18, electrode.Read{Celsius: 25}, time.Hour, ""},
		{"just outside", 9.19, electrode.Read{Celsius: 25}, time.Hour, "P-13 look"},
		{"outside, below", 3.9, electrode.Read{Celsius: 25}, time.Hour, "P-13 look"},
		{"a pH beyond", 10.18, electrode.Read{Celsius: 25}, time.Hour, "P-13 look"},
		{"more than that", 10.19, electrode.Read{Celsius: 25}, time.Hour, "P-13 stop"},
		{"more than that, below", 3.0, electrode.Read{Celsius: 25}, time.Hour, "P-13 stop"},
		{"rain", 6, electrode.Read{Celsius: 25, Dilute: true}, time.Hour, "P-14 stop"},
		{"lye", 12.1, electrode.Read{Celsius: 25, Sodium: true}, time.Hour, "P-13 stop, P-21 look"},
		{"alkaline without sodium", 12.1, electrode.Read{Celsius: 25}, time.Hour, "P-13 stop"},
		{"sodium", 9, electrode.Read{Celsius: 25, Sodium: true}, time.Hour, ""},
		{"moving", 7, electrode.Read{Celsius: 25, Spread: 3}, time.Hour, "P-4 look"},
		{"as warm", 7, electrode.Read{Celsius: 30}, time.Hour, ""},
		{"warmer", 7, electrode.Read{Celsius: 30.1}, time.Hour, "P-12 look"},
		{"colder", 7, electrode.Read{Celsius: 19.9}, time.Hour, "P-12 look"},
		{"in time", 7, electrode.Read{Celsius: 25}, 8 * time.Hour, ""},
		{"stale", 7, electrode.Read{Celsius: 25}, 8*time.Hour + time.Minute, "P-17 look"},
	} {
		if got := says(c.Doubts(x.r, x.pH, today.Add(x.age), today, nil)); got != x.want {
			t.Errorf("%s: %s, want %s", x.name, got, x.want)
		}
	}
	if got := c.Doubts(electrode.Read{Celsius: 25}, 7, today, time.Time{}, nil); got != nil {
		t.Errorf("the day it was calibrated is unknown: %v", got)
	}
}

// Checked in phosphate: 0.05 pH are 2.96 mV.
func TestCheckBuffer(t *testing.T) {
	c := calibrated(t, taken(t, "phthalate", 25, 0, 1), taken(t, "borax", 25, 0, 1))
	at := func(off float64) electrode.Read {
		return electrode.Read{MV: taken(t, "phosphate", 25, 0, 1).MV + off, Celsius: 25}
	}
	for off, want := range map[float64]verdict.Level{0: verdict.Fine, 2.95: verdict.Fine, -2.95: verdict.Fine, 2.97: verdict.Stop, -2.97: verdict.Stop} {
		drift, v, err := c.Checked(buffer(t, "phosphate"), at(off), nil)
		if err != nil || v.Level != want || v.Rule != "P-16" {
			t.Errorf("off by %g mV: %+v, %v", off, v, err)
		}
		near(t, "drift", drift, -off/electrode.Nernst(25), 1e-9)
	}
	_, v, _ := c.Checked(buffer(t, "borax"), electrode.Read{MV: electrode.FromShown(9.25, 25), Celsius: 25}, nil)
	if !strings.HasPrefix(v.Sentence, "borax, 0.01 mol/kg reads 9.25, +0.07 pH from its 9.18 at 25.0 °C. Calibrate again") {
		t.Error(v.Sentence)
	}
	if _, _, err := c.Checked(buffer(t, "phosphate"), electrode.Read{Celsius: 55}, nil); err == nil {
		t.Error("phosphate has a value at 55 °C")
	}
}

func TestRecognise(t *testing.T) {
	all := electrode.Buffers()
	for _, c := range []struct {
		mV    float64
		want  string
		doubt string
	}{
		{electrode.FromShown(4.005, 25) + 5, "phthalate", "dihydrogen citrate"}, // 3.78 is 13 mV away
		{electrode.FromShown(6.865, 25), "phosphate", "phosphate, technical, 7.00"},
		{electrode.FromShown(9.18, 25) - 6, "borax", ""},
		{electrode.FromShown(1.679, 25) + 5, "tetroxalate", ""},
		{electrode.FromShown(12.454, 25), "hydroxide", ""},
		{electrode.FromShown(5.5, 25), "", ""},
		{-900, "", ""},
	} {
		got, ok := electrode.Recognise(c.mV, 25, 15, all)
		if ok != (c.want != "") || got.Buffer.Key != c.want || (got.Doubt != "") != (c.doubt != "") || !strings.Contains(got.Doubt, c.doubt) {
			t.Errorf("%g mV: %+v, %v", c.mV, got, ok)
		}
	}
	set := []electrode.Buffer{buffer(t, "phthalate"), buffer(t, "phosphate"), buffer(t, "borax")}
	if got, ok := electrode.Recognise(180, 25, 15, set); !ok || got.Buffer.Key != "phthalate" || got.Doubt != "" {
		t.Errorf("%+v", got)
	}
}

// Every rule has an ID of its own, a reason, and a default inside its range.
func TestRules(t *testing.T) {
	for i, r := range electrode.Rules() {
		if r.ID != fmt.Sprintf("P-%d", i+1) || r.Why == "" || r.Source == "" || r.Unit != "" && (r.Threshold < r.Min || r.Threshold > r.Max) {
			t.Errorf("%+v", r)
		}
	}
}
