package electrode_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"gonum.org/v1/gonum/stat"

	"vialbench/core/electrode"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if !(math.Abs(got-want) <= within) {
		t.Errorf("%s: %.8g, want %.8g ± %g", what, got, want, within)
	}
}

// CODATA 2018: R = 8.314462618 J/(mol·K), F = 96485.33212 C/mol.
func TestNernst(t *testing.T) {
	for celsius, want := range map[float64]float64{0: 54.199, 20: 58.167, 25: 59.159, 30: 60.1515} {
		near(t, fmt.Sprint(celsius, " °C"), electrode.Nernst(celsius), want, 0.0005)
	}
}

func buffer(t testing.TB, key string) electrode.Buffer {
	t.Helper()
	b, ok := electrode.BufferOf(key)
	if !ok {
		t.Fatal("no buffer ", key)
	}
	return b
}

// IUPAC Recommendations 2002, Pure Appl. Chem. 74, 2169: pH(S) of primary standards at 0, 5,
// 10, 15, 20, 25, 30, 35, 40 and 50 °C; in between, straight lines.
func TestPrimaryStandards(t *testing.T) {
	at := []float64{0, 5, 10, 15, 20, 25, 30, 35, 40, 50}
	for key, table := range map[string][]float64{
		"phthalate":     {4.000, 3.998, 3.997, 3.998, 4.000, 4.005, 4.011, 4.018, 4.027, 4.050},
		"phosphate":     {6.984, 6.951, 6.923, 6.900, 6.881, 6.865, 6.853, 6.844, 6.838, 6.833},
		"phosphate-3.5": {7.534, 7.500, 7.472, 7.448, 7.429, 7.413, 7.400, 7.389, 7.380, 7.367},
		"borax":         {9.464, 9.395, 9.332, 9.276, 9.225, 9.180, 9.139, 9.102, 9.068, 9.011},
		"carbonate":     {10.317, 10.245, 10.179, 10.118, 10.062, 10.012, 9.966, 9.926, 9.889, 9.828},
		"citrate":       {3.863, 3.840, 3.820, 3.802, 3.788, 3.776, 3.766, 3.759, 3.754, 3.749},
	} {
		for i, want := range table {
			got, err := buffer(t, key).At(at[i])
			if err != nil || got != want {
				t.Errorf("%s at %g °C: %g, %v, want %g", key, at[i], got, err, want)
			}
		}
	}
	between, _ := buffer(t, "borax").At(22)
	near(t, "borax at 22 °C", between, 9.225+0.4*(9.180-9.225), 1e-12)
	last := 0.0
	for _, b := range electrode.Buffers() {
		pH, err := b.At(25)
		if err != nil || b.Check() != nil || !(pH > last) || b.Source == "" || !(b.Limits > 0) {
			t.Errorf("%+v: %v", b, err)
		}
		last = pH
	}
	for key, want := range map[string]float64{"tetroxalate": 1.679, "phosphate-7": 7.00, "hydroxide": 12.454} { // names they go by
		got, _ := buffer(t, key).At(25)
		near(t, key, got, want, 1e-12)
	}
}

func TestBuffersOutsideTheirTables(t *testing.T) {
	own := electrode.Buffer{Name: "pH 7 of the cupboard", Table: []electrode.Value{{Celsius: 20, PH: 7.02}}, Limits: 0.02}
	for celsius, ok := range map[float64]bool{17.5: true, 20: true, 22.5: true, 17.4: false, 22.6: false} {
		if _, err := own.At(celsius); (err == nil) != ok {
			t.Errorf("one value at 20 °C, asked at %g: %v", celsius, err)
		}
	}
	for celsius, says := range map[float64]string{-0.1: "from 0 to 50 °C", 50.1: "from 0 to 50 °C", math.NaN(): "has no value"} {
		if _, err := buffer(t, "borax").At(celsius); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%g °C: %v", celsius, err)
		}
	}
	if _, err := (electrode.Buffer{Name: "empty"}).At(20); err == nil {
		t.Error("a buffer without a value has one")
	}
	for field, b := range map[string]electrode.Buffer{
		"/name":            {Table: own.Table},
		"/table":           {Name: "x"},
		"/table/0/pH":      {Name: "x", Table: []electrode.Value{{Celsius: 20, PH: 15.2}}},
		"/table/0/celsius": {Name: "x", Table: []electrode.Value{{Celsius: 120, PH: 7}}},
		"/table/1/celsius": {Name: "x", Table: []electrode.Value{{Celsius: 20, PH: 7}, {Celsius: 20, PH: 7}}},
		"/limits":          {Name: "x", Table: own.Table, Limits: 0.51},
		"/opened":          {Name: "x", Table: own.Table, Opened: "March"},
	} {
		var p verdict.Problems
		if errors.As(b.Check(), &p); len(p) != 1 || p[0].Field != field {
			t.Errorf("%+v: %v, want one at %s", b, p, field)
		}
	}
}

var bench = electrode.Meter{Name: "Heron", Resolution: 0.1, Repeatability: 0.3, Thermometer: 0.5}

// taken is what a probe of an offset and a slope gives in a buffer.
func taken(t testing.TB, key string, celsius, offset, slope float64) electrode.Point {
	t.Helper()
	b := buffer(t, key)
	pH, err := b.At(celsius)
	if err != nil {
		t.Fatal(err)
	}
	return electrode.Point{Buffer: b, MV: offset - slope*electrode.Nernst(celsius)*(pH-7), Celsius: celsius}
}

func calibrated(t testing.TB, points ...electrode.Point) electrode.Calibration {
	t.Helper()
	c, err := electrode.Calibrate(bench, points, false)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// A probe without errors comes back as it is, at any temperature, from buffers in any order,
// and its pH with it.
func TestCalibrateFindsTheProbe(t *testing.T) {
	for _, celsius := range []float64{5, 20, 25, 37} {
		for _, keys := range [][]string{
			{"phthalate", "phosphate"},
			{"borax", "phthalate", "phosphate"},
			{"carbonate", "phosphate-7", "tetroxalate", "phthalate", "borax"},
		} {
			var points []electrode.Point
			for _, key := range keys {
				points = append(points, taken(t, key, celsius, -7.3, 0.968))
			}
			c := calibrated(t, points...)
			near(t, "slope", c.Slope.Value, 0.968, 1e-12)
			near(t, "offset", c.Offset.Value, -7.3, 1e-10)
			near(t, "slope in mV", c.SlopeMV().Value, 0.968*electrode.Nernst(celsius), 1e-9)
			near(t, "scatter", c.SD, 0, 1e-10)
			for i := 1; i < len(c.Points); i++ {
				if c.Points[i].PH <= c.Points[i-1].PH {
					t.Error("the points do not rise")
				}
			}
			for _, pH := range []float64{2, 6.2, 7, 11.4} { // at another temperature, with the slope of that
				read := electrode.Read{MV: -7.3 - 0.968*electrode.Nernst(18)*(pH-7), Celsius: 18}
				near(t, "pH", c.PH(read).Value, pH, 1e-10)
			}
		}
	}
}

// The line is that of gonum; offset, slope and what they share are those of drawing every
// reading, buffer and the thermometer again and again.
func TestCalibrateAgainstGonumAndDrawing(t *testing.T) {
	points := []electrode.Point{taken(t, "phthalate", 24, 4, 0.98), taken(t, "phosphate", 25, 4, 0.98), taken(t, "borax", 26, 4, 0.98)}
	for i, off := range []float64{1.1, -0.8, 0.9} {
		points[i].MV += off
	}
	c := calibrated(t, points...)
	var x, y []float64
	for _, p := range points {
		pH, _ := p.Buffer.At(p.Celsius)
		x, y = append(x, electrode.Nernst(p.Celsius)*(pH-7)), append(y, p.MV)
	}
	a, b := stat.LinearRegression(x, y, nil, false)
	near(t, "offset", c.Offset.Value, a, 1e-9)
	near(t, "slope", c.Slope.Value, -b, 1e-12)
	rss := 0.0
	for i := range x {
		rss += (y[i] - a - b*x[i]) * (y[i] - a - b*x[i])
	}
	near(t, "scatter", c.SD, math.Sqrt(rss/1), 1e-9)
	near(t, "mean of 24, 25 and 26 °C", c.Celsius, 25, 1e-12)
	near(t, "residual of 4", c.Points[0].Residual, y[0]-a-b*x[0], 1e-9)
	near(t, "the same as a pH", c.Points[0].ResidualPH, -c.Points[0].Residual/(c.Slope.Value*electrode.Nernst(24)), 1e-12)

	u := math.Max(c.SD, math.Sqrt(0.1*0.1/12+0.3*0.3)) // of a reading: the scatter is the larger here
	random := drawer(7)
	var offsets, slopes []float64
	for range 20000 {
		hot := random.rectangular(0.5)
		drawn := make([]electrode.Point, len(points))
		for i, p := range points {
			off := random.rectangular(p.Buffer.Limits)
			table := make([]electrode.Value, len(p.Buffer.Table))
			for j, v := range p.Buffer.Table {
				table[j] = electrode.Value{Celsius: v.Celsius, PH: v.PH + off}
			}
			p.Buffer.Table = table
			p.MV += random.normal(u)
			p.Celsius += hot
			drawn[i] = p
		}
		d := calibrated(t, drawn...)
		offsets, slopes = append(offsets, d.Offset.Value), append(slopes, d.Slope.Value)
	}
	near(t, "u(offset)", c.Offset.U()/stat.StdDev(offsets, nil), 1, 0.03)
	near(t, "u(slope)", c.Slope.U()/stat.StdDev(slopes, nil), 1, 0.03)
	near(t, "correlation", uncertain.Correlation(c.Offset, c.Slope), stat.Correlation(offsets, slopes, nil), 0.03)
	near(t, "covariance", c.Covariance/stat.Covariance(offsets, slopes, nil), 1, 0.15)
}

// At the buffers themselves a reading is about as sure as the buffer; far outside it is
// less so. Reading, buffers and thermometer are all in the budget.
func TestUncertaintyOfPH(t *testing.T) {
	c := calibrated(t, taken(t, "phthalate", 25, 0, 1), taken(t, "phosphate", 25, 0, 1))
	at := func(pH float64) uncertain.Number {
		return c.PH(electrode.Read{ID: "a", MV: -electrode.Nernst(25) * (pH - 7), Celsius: 25})
	}
	mid, end, far := at(5.43).U(), at(6.865).U(), at(10).U()
	if !(mid < end && end < far) {
		t.Errorf("u %.4f in the middle, %.4f at the end, %.4f outside", mid, end, far)
	}
	// By hand, half way: two readings of u(E) at half weight each, the sample's own, two
	// buffers of 0.02/√3 at half weight; k = 59.159 mV.
	uE := math.Sqrt(0.1*0.1/12+0.3*0.3) / 59.159
	uB := 0.02 / math.Sqrt(3)
	x := at((4.005 + 6.865) / 2)
	near(t, "u half way", x.U(), math.Sqrt(uE*uE*(1+0.5)+uB*uB*0.5), 2e-4)
	labels := ""
	for _, share := range x.Budget() {
		labels += share.Label + "; "
	}
	for _, want := range []string{"values of the buffers", "readings in the buffers", "reading of the sample"} {
		if !strings.Contains(labels, want) {
			t.Errorf("the budget has %q, and no %q", labels, want)
		}
	}
	// A thermometer that errs, errs alike in buffer and sample: at the temperature of the
	// buffers its error cancels at a buffer.
	same := c.PH(electrode.Read{MV: c.Points[0].MV, Celsius: 25})
	for _, s := range same.Contributions {
		if strings.HasPrefix(s.ID, "thermometer") && math.Abs(s.U) > 1e-3 {
			t.Errorf("the thermometer adds %g at a buffer", s.U)
		}
	}
	moving := c.PH(electrode.Read{MV: 0, Celsius: 25, Spread: 6})
	near(t, "u of one that moves by 6 mV", moving.U(), math.Hypot(c.PH(electrode.Read{Celsius: 25}).U(), 6/math.Sqrt(12)/59.159), 2e-5)
}

func TestOnePoint(t *testing.T) {
	c := calibrated(t, taken(t, "phosphate", 25, 12, 1))
	if !c.Assumed || c.Slope.Value != 1 || len(c.Points) != 1 {
		t.Errorf("%+v", c)
	}
	near(t, "offset", c.Offset.Value, 12, 1e-9)
	near(t, "limits of the slope", c.Slope.U(), 0.05/math.Sqrt(3), 1e-12)
	near(t, "pH 9", c.PH(electrode.Read{MV: 12 - 2*electrode.Nernst(25), Celsius: 25}).Value, 9, 1e-9)
	if near, far := c.PH(electrode.Read{MV: 12, Celsius: 25}).U(), c.PH(electrode.Read{MV: 190, Celsius: 25}).U(); !(far > 2*near) {
		t.Errorf("u %.4f at the point, %.4f at pH 4", near, far)
	}
	v := c.Judge(0, 0, time.Now(), nil)
	if len(v) == 0 || v[0].Rule != "P-23" || v[0].Level != verdict.Look {
		t.Errorf("%+v", v)
	}
}

// From buffer to buffer, each buffer reads itself.
func TestBySegments(t *testing.T) {
	points := []electrode.Point{taken(t, "borax", 25, 3, 0.94), taken(t, "phthalate", 25, 3, 1), taken(t, "phosphate", 25, 3, 1)}
	c, err := electrode.Calibrate(bench, points, true)
	if err != nil || len(c.Pieces) != 2 {
		t.Fatalf("%+v, %v", c.Pieces, err)
	}
	for _, p := range c.Points {
		near(t, p.Buffer.Name, c.PH(electrode.Read{MV: p.MV, Celsius: 25}).Value, p.PH, 1e-9)
	}
	near(t, "acid side", c.PH(electrode.Read{MV: 3 + 2.5*electrode.Nernst(25), Celsius: 25}).Value, 4.5, 1e-9)
	k := electrode.Nernst(25)
	third := c.Points[2].MV
	near(t, "beyond the last", c.PH(electrode.Read{MV: third - 10, Celsius: 25}).Value, 9.180+10/(k*c.Pieces[1].Slope.Value), 1e-9)
	if c.Pieces[0].Low != 4.005 || c.Pieces[0].High != 6.865 || c.Pieces[1].High != 9.180 {
		t.Errorf("%+v", c.Pieces)
	}
	if line := calibrated(
		t,
		points...); math.Abs(line.PH(electrode.Read{MV: points[0].MV, Celsius: 25}).Value-9.180) < 1e-3 ||
		len(line.Pieces) != 0 {
		t.Error("one line goes through all three points, which do not lie on one")
	}
}

// A meter that shows pH only: what it showed in the buffers corrects what it shows.
func TestShownPH(t *testing.T) {
	m := electrode.Meter{Name: "Coot", Resolution: 0.01, ShowsPH: true, Repeatability: 0.3, Thermometer: 0.5}
	point := func(key string, shown float64) electrode.Point {
		return electrode.Point{Buffer: buffer(t, key), MV: electrode.FromShown(shown, 25), Celsius: 25}
	}
	c, err := electrode.Calibrate(m, []electrode.Point{point("phthalate", 4.105), point("phosphate", 6.895)}, false)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "slope of the display", c.Slope.Value, (6.895-4.105)/(6.865-4.005), 1e-12)
	near(t, "half way", c.PH(electrode.Read{MV: electrode.FromShown(5.5, 25), Celsius: 25}).Value, (4.005+6.865)/2, 1e-9)
	one, err := electrode.Calibrate(m, []electrode.Point{point("phosphate", 7.00)}, false) // the knob is not turned
	near(t, "one buffer", one.PH(electrode.Read{MV: electrode.FromShown(7.10, 25), Celsius: 25}).Value, 6.965, 1e-9)
	if err != nil || one.PH(electrode.Read{Celsius: 25}).U() < 0.01/math.Sqrt(12) {
		t.Errorf("%v; a display of 0.01 pH is known better than its last digit", err)
	}
}

func TestCalibrateRefuses(t *testing.T) {
	good := taken(t, "phosphate", 25, 0, 1)
	with := func(change func(*electrode.Point)) []electrode.Point {
		p := good
		change(&p)
		return []electrode.Point{p, taken(t, "borax", 25, 0, 1)}
	}
	for field, points := range map[string][]electrode.Point{
		"/points":                      nil,
		"/points#":                     {good, good},
		"/points##":                    {good, good, good, good, good, good},
		"/points/0/mV":                 with(func(p *electrode.Point) { p.MV = 1000.1 }),
		"/points/0/mV#":                with(func(p *electrode.Point) { p.MV = math.NaN() }),
		"/points/0/celsius":            with(func(p *electrode.Point) { p.Celsius = 120 }),
		"/points/0/celsius#":           with(func(p *electrode.Point) { p.Celsius = 55 }), // beyond the table
		"/points/0/celsius##":          with(func(p *electrode.Point) { p.Celsius = math.NaN() }),
		"/points/0/spread":             with(func(p *electrode.Point) { p.Spread = -1 }),
		"/points/0/buffer/table/0/pH":  with(func(p *electrode.Point) { p.Buffer.Table = []electrode.Value{{Celsius: 25, PH: -3}} }),
		"/points/0/buffer/table/0/pH#": with(func(p *electrode.Point) { p.Buffer.Table = []electrode.Value{{Celsius: 25, PH: 15.2}} }),
	} {
		_, err := electrode.Calibrate(bench, points, false)
		var p verdict.Problems
		if errors.As(err, &p); len(p) != 1 || p[0].Field != strings.TrimRight(field, "#") {
			t.Errorf("%v, want one at %s", err, field)
		}
	}
	if _, err := electrode.Calibrate(bench, []electrode.Point{good, good, taken(t, "borax", 25, 0, 1)}, true); err == nil {
		t.Error("from a buffer to the same buffer leads a line")
	}
	for field, m := range map[string]electrode.Meter{
		"/name": {Resolution: 1}, "/resolution": {Name: "x", Resolution: 0.009}, "/resolution#": {Name: "x", Resolution: 0.6, ShowsPH: true},
		"/repeatability": {Name: "x", Resolution: 1, Repeatability: 11}, "/thermometer": {Name: "x", Resolution: 1, Thermometer: -1},
		"/probe": {Name: "x", Resolution: 1, Probe: strings.Repeat("n", 41)},
	} {
		var p verdict.Problems
		if errors.As(m.Check(), &p); len(p) != 1 || p[0].Field != strings.TrimRight(field, "#") {
			t.Errorf("%+v: %v, want one at %s", m, p, field)
		}
	}
	if electrode.UsualMeter().Check() != nil {
		t.Error("the usual meter cannot be used")
	}
	for field, r := range map[string]electrode.Read{"/mV": {MV: -1001, Celsius: 20}, "/celsius": {Celsius: 61}, "/spread": {Spread: -1}} {
		var p verdict.Problems
		if errors.As(r.Check(), &p); len(p) != 1 || p[0].Field != field {
			t.Errorf("%+v: %v, want one at %s", r, p, field)
		}
	}
}

func BenchmarkCalibrate(b *testing.B) {
	var points []electrode.Point
	for _, key := range []string{"tetroxalate", "phthalate", "phosphate", "borax", "hydroxide"} {
		points = append(points, taken(b, key, 25, 5, 0.98))
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := electrode.Calibrate(bench, points, false); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkPH(b *testing.B) {
	c := calibrated(b, taken(b, "phthalate", 25, 5, 0.98), taken(b, "phosphate", 25, 5, 0.98), taken(b, "borax", 25, 5, 0.98))
	b.ReportAllocs()
	for b.Loop() {
		c.PH(electrode.Read{MV: 50, Celsius: 22})
	}
}

func ExampleCalibrate() {
	phthalate, _ := electrode.BufferOf("phthalate")
	borax, _ := electrode.BufferOf("borax")
	c, err := electrode.Calibrate(electrode.UsualMeter(), []electrode.Point{
		{Buffer: borax, MV: -121.2, Celsius: 25},
		{Buffer: phthalate, MV: 180.4, Celsius: 25},
	}, false)
	fmt.Printf("%.1f %% of theory, %.1f mV at pH 7, %v\n", 100*c.Slope.Value, c.Offset.Value, err)
	pH := c.PH(electrode.Read{MV: 60, Celsius: 22})
	fmt.Printf("60 mV at 22 °C: pH %.2f ± %.2f\n", pH.Value, pH.Expanded())
	// Output:
	// 98.5 % of theory, 5.9 mV at pH 7, <nil>
	// 60 mV at 22 °C: pH 6.06 ± 0.02
}

// A display is read to half of its last digit: of 0.1 pH that is 0.05/√3 = 0.029 pH, when nothing else
// is uncertain (GUM F.2.2.1).
func TestTheLastDigitOfADisplay(t *testing.T) {
	m := electrode.Meter{Name: "Coot", Resolution: 0.1, ShowsPH: true}
	exact := buffer(t, "phosphate")
	exact.Limits = 1e-9
	c, err := electrode.Calibrate(m, []electrode.Point{{Buffer: exact, MV: electrode.FromShown(6.9, 25), Celsius: 25}}, false)
	if err != nil {
		t.Fatal(err)
	}
	digit := 0.05 / math.Sqrt(3)
	near(t, "a reading at the buffer", c.PH(electrode.Read{MV: electrode.FromShown(6.9, 25), Celsius: 25}).U(), math.Hypot(digit, digit), 2e-4)
}
