package photometry_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

func ExamplePhotometer_Without() {
	m := photometry.Photometer{StrayLight: 0.1}
	fmt.Printf("%.3f\n", m.Without(1.959))
	// Output: 2.000
}

// The absorbances that are shown for 1, 2 and 3 with stray light of 0.01, 0.1 and 1 % (common practice; worked by hand from the
// definition, 0.1 %: −lg(0.011/1.001) = 1.9590).
func TestStrayLight(t *testing.T) {
	for _, c := range []struct{ stray, real, shown float64 }{
		{0.1, 1, 0.99611}, {0.1, 2, 1.95904}, {0.1, 3, 2.69940}, {1, 1, 0.96293}, {1, 2, 1.70329}, {0.01, 2, 1.99572}, {0, 2, 2},
	} {
		m := photometry.Photometer{Name: "Dunlin", StrayLight: c.stray}
		near(t, fmt.Sprintf("%g %% at %g", c.stray, c.real), m.Without(c.shown), c.real, 2e-5)
	}
	m := &photometry.Photometer{Name: "Dunlin", StrayLight: 0.1}
	if !math.IsInf(m.Without(3.2), 1) {
		t.Error("more than stray light alone would show")
	}
	for shown, want := range map[float64]string{
		0.9: "", 1.2: "", 1.959: "Stray light of Dunlin takes 2 % off 1.959 AU: dilute it, or use a shorter path.",
		3.2: "3.200 AU is all stray light of Dunlin: dilute it, and read it again.", -0.1: "", 0: "",
	} {
		said := ""
		for _, v := range m.Strayed(shown, nil) {
			said += v.Sentence
		}
		if said != want {
			t.Errorf("%g: %q, want %q", shown, said, want)
		}
	}
	// The threshold is the lab's: 1.2 AU lose 0.5 %.
	if got := m.Strayed(1.2, verdict.Thresholds{"AB-20": 0.4}); len(got) != 1 || got[0].Level != verdict.Look {
		t.Errorf("%+v", got)
	}
	if got := (*photometry.Photometer)(nil).Strayed(3, nil); got != nil {
		t.Errorf("nothing is known of the instrument, yet %+v", got)
	}
}

func TestPhotometersThatAreNone(t *testing.T) {
	good := photometry.UsualPhotometer()
	good.Name = "Dunlin"
	if err := good.Check(); err != nil {
		t.Fatal(err)
	}
	for field, change := range map[string]func(*photometry.Photometer){
		"/name":       func(m *photometry.Photometer) { m.Name = "" },
		"/low":        func(m *photometry.Photometer) { m.Low = 1000 },
		"/low ":       func(m *photometry.Photometer) { m.Low = 180 },
		"/low  ":      func(m *photometry.Photometer) { m.High = 1200 },
		"/bandwidth":  func(m *photometry.Photometer) { m.Bandwidth = 0 },
		"/strayLight": func(m *photometry.Photometer) { m.StrayLight = -1 },
		"/resolution": func(m *photometry.Photometer) { m.Resolution = math.NaN() },
	} {
		bad := good
		change(&bad)
		var p verdict.Problems
		if err := bad.Check(); !errors.As(err, &p) || len(p) != 1 || p[0].Field != strings.TrimSpace(field) {
			t.Errorf("%s: %v", field, err)
		}
	}
	var p verdict.Problems
	good.CheckSetting(320, "/a", &p)
	good.CheckSetting(1000, "/a", &p)
	(*photometry.Photometer)(nil).CheckSetting(5, "/a", &p)
	if len(p) > 0 {
		t.Error(p)
	}
	if good.CheckSetting(319, "/a", &p); len(p) != 1 || p[0].Reason != "Dunlin reaches 320 to 1000 nm" {
		t.Error(p)
	}
	if (*photometry.Photometer)(nil).Instruments() != nil || good.Instruments()[0] != "Dunlin" || (*photometry.Photometer)(nil).Named() != "" {
		t.Error("the names are wrong")
	}
}

// The same unrest of the light, 0.1 % of it, is 0.0005 AU at 0 and 0.044 AU at 2: both stand; the threshold is 0.2 %.
func TestAReadingStandsByItsLight(t *testing.T) {
	m := photometry.Photometer{Resolution: 0.001}
	for _, c := range []struct {
		readings []float64
		stable   bool
		spread   float64
		still    bool
	}{
		{nil, true, 0, false},
		{[]float64{0.352}, true, 0, true},
		{[]float64{0.352}, false, 0, false},
		{[]float64{0, 0.0005, 0.0002}, true, 0.0005, true},
		{[]float64{2, 2.04, 2.01}, true, 0.04, true},  // 0.09 %
		{[]float64{2, 2.12, 2.01}, true, 0.12, false}, // 0.24 %
		{[]float64{0.3, 0.301, 0.3}, true, 0.001, true},
		{[]float64{0.3, 0.302, 0.3}, true, 0.002, false}, // 0.23 %
		{[]float64{0, 0.001}, true, 0.001, true},         // one digit is more than the rule: it cannot stand better
		{[]float64{0, 0.002}, true, 0.002, false},
	} {
		spread, still := m.Settled(c.readings, c.stable, nil)
		if still != c.still || math.Abs(spread-c.spread) > 1e-12 {
			t.Errorf("%v, %t: %g %t", c.readings, c.stable, spread, still)
		}
	}
	if v := m.Wandering(0.0244); !strings.Contains(v.Sentence, "by 0.024 AU just now") || len(v.Choices) != 2 || v.Choices[1].ID != "take-moving" {
		t.Errorf("%+v", v)
	}
	if v := m.Wandering(0); !strings.Contains(v.Sentence, "by 0.001 AU") {
		t.Error(v.Sentence)
	}
}

// What a photometer shows is no wavelength.
func TestShownIsLight(t *testing.T) {
	for text, refused := range map[string]bool{"0.352 AU": false, "44.5 %T": false, "526 nm": true, "4.1 AU": true, "0 %T": true, "129 %T": false, "130 %T": true} {
		q, err := quantity.ParseAny(text, photometry.Readings(), "AU")
		if err != nil {
			t.Fatal(err)
		}
		var p verdict.Problems
		if photometry.CheckShown(&q, &p); (len(p) == 1) != refused {
			t.Errorf("%s: %v", text, p)
		}
	}
}

// A reading at another wavelength is refused, and what is beside it is a wavelength.
func TestSetting(t *testing.T) {
	for _, c := range []struct {
		beside []quantity.Quantity
		want   string
	}{
		{nil, ""},
		{[]quantity.Quantity{quantity.Of(880, "nm")}, ""},
		{[]quantity.Quantity{quantity.Of(880.5, "nm")}, ""},
		{[]quantity.Quantity{quantity.Of(881, "nm")}, "/beside/0: the photometer stood at 881 nm, and this is read at 880 nm: set 880 nm, set the blank, and read again"},
		{[]quantity.Quantity{quantity.Of(20, "°C")}, "/beside/0: beside an absorbance stands its wavelength, like 880 nm"},
		{[]quantity.Quantity{quantity.Of(880, "nm"), quantity.Of(880, "nm")}, "/beside/1: beside an absorbance stands its wavelength, like 880 nm"},
	} {
		var p verdict.Problems
		photometry.CheckSet(c.beside, 880, &p)
		got := ""
		for _, x := range p {
			got += x.Field + ": " + x.Reason
		}
		if got != c.want {
			t.Errorf("%v: %q", c.beside, got)
		}
	}
}
