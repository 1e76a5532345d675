package glassware_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/glassware"
)

// iso is a cupboard with every size of ISO 1042.
var iso glassware.Cupboard

func ExampleFlask_Contents() {
	flask, _, _ := iso.For(250, glassware.ClassA)
	v := flask.Contents(24.5, 1, "")
	fmt.Printf("%s at 24.5 °C: %.2f mL at 20 °C, u = %.2f mL\n", flask, v.Value, v.U())
	// Output:
	// 250 mL, class A at 24.5 °C: 249.75 mL at 20 °C, u = 0.08 mL
}

// Tanaka et al., Metrologia 38 (2001) 301, table of air-free water (from memory).
func TestWaterDensity(t *testing.T) {
	for temperature, want := range map[float64]float64{4: 999.975, 15: 999.103, 20: 998.207, 25: 997.047, 30: 995.649} {
		if got := glassware.WaterDensity(temperature); math.Abs(got-want) > 0.0006 {
			t.Errorf("ρ(%g °C) = %.4f kg/m³, want %.3f", temperature, got, want)
		}
	}
}

// ISO 1042:1998, table 1 (from memory).
func TestFlaskTolerances(t *testing.T) {
	for volume, want := range map[float64]float64{5: 0.025, 10: 0.025, 25: 0.04, 50: 0.06, 100: 0.10, 200: 0.15, 250: 0.15, 500: 0.25, 1000: 0.40, 2000: 0.60} {
		a, exact, err := iso.For(volume, glassware.ClassA)
		if err != nil || !exact || a.Tolerance() != want {
			t.Errorf("%g mL class A: %v exact=%v ±%g mL, want ±%g", volume, err, exact, a.Tolerance(), want)
		}
		if b := (glassware.Flask{Volume: volume, Class: glassware.ClassB}); b.Tolerance() != 2*want {
			t.Errorf("%g mL class B: ±%g mL", volume, b.Tolerance())
		}
	}
}

// EURACHEM/CITAC CG 4, A1 (from memory): filling a 100 mL flask repeats within
// 0.02 mL, and ±4 °C on 100 mL is limits of 0.084 mL (water alone, 2.1e-4 /°C;
// the glass takes 1e-5 /°C of it back).
func TestContentsAgainstQUAM(t *testing.T) {
	flask := glassware.Flask{Volume: 100, Class: glassware.ClassA}
	if got := flask.Filling(); math.Abs(got-0.02) > 0.0005 {
		t.Errorf("filling %.4f mL, want 0.020", got)
	}
	for _, share := range flask.Contents(20, 4, "").Budget() {
		if share.Label == "temperature" && math.Abs(share.U*math.Sqrt(3)-0.080) > 0.002 {
			t.Errorf("temperature limits ±%.4f mL, want 0.084 less 0.004", share.U*math.Sqrt(3))
		}
	}
}

func TestFlaskFor(t *testing.T) {
	for _, c := range []struct {
		volume, want float64
		exact        bool
	}{{250, 250, true}, {260, 500, false}, {0.3, 1, false}, {5000, 5000, true}} {
		f, exact, err := iso.For(c.volume, glassware.ClassB)
		if err != nil || f.Volume != c.want || exact != c.exact {
			t.Errorf("FlaskFor(%g) = %v, %v, %v", c.volume, f, exact, err)
		}
	}
	for _, volume := range []float64{0, -1, 5001, math.NaN(), math.Inf(1)} {
		if _, _, err := iso.For(volume, glassware.ClassA); err == nil {
			t.Errorf("FlaskFor(%g) gives no error", volume)
		}
	}
	if _, _, err := iso.For(100, "C"); err == nil {
		t.Error("class C gives no error")
	}
}

// ISO 835 and ISO 4788, class A (from memory): what a liquid is measured with.
func TestMeasures(t *testing.T) {
	for _, c := range []struct {
		kind   glassware.Kind
		volume float64
		want   float64
	}{
		{glassware.GraduatedPipette, 0.7, 1},
		{glassware.GraduatedPipette, 2.08, 5},
		{glassware.GraduatedPipette, 25, 25},
		{glassware.Cylinder, 20.8, 25},
		{glassware.Cylinder, 83, 100},
	} {
		m, err := glassware.MeasureFor(c.kind, c.volume, nil)
		if err != nil || m.Volume != c.want || m.Division() <= 0 {
			t.Errorf("%g mL with a %s: %v, %v", c.volume, c.kind, m, err)
		}
	}
	for kind, volume := range map[glassware.Kind]float64{glassware.GraduatedPipette: 30, glassware.Cylinder: -1, "spoon": 5} {
		if _, err := glassware.MeasureFor(kind, volume, nil); err == nil {
			t.Errorf("%g mL with a %s gives no error", volume, kind)
		}
	}
	// A cylinder is several times coarser than a pipette of the same size.
	pipette := glassware.Item{Kind: glassware.GraduatedPipette, Volume: 10, Class: "A"}
	cylinder := glassware.Item{Kind: glassware.Cylinder, Volume: 10, Class: "A"}
	owned := []glassware.Item{cylinder, {Kind: glassware.Cylinder, Volume: 100, Class: "B"}}
	if m, err := glassware.MeasureFor(glassware.Cylinder, 20, owned); err != nil || m.Volume != 100 || m.Tolerance() != 1 {
		t.Errorf("20 mL from what is owned: %v, %v", m, err)
	}
	if m, err := glassware.MeasureFor(glassware.Cylinder, 200, owned); err == nil {
		t.Errorf("200 mL from what is owned: %v", m)
	}
	if a, b := pipette.Reading(8, "").U(), cylinder.Reading(8, "").U(); !(b > 1.5*a) {
		t.Errorf("pipette u %g mL, cylinder u %g mL", a, b)
	}
}

// Each piece is handled as its kind is: no bulb on a cylinder, no second stop on a burette.
func TestHandling(t *testing.T) {
	for kind, want := range map[glassware.Kind]string{
		glassware.OneMarkPipette: "bulb", glassware.GraduatedPipette: "bulb", glassware.PistonPipette: "second stop",
		glassware.Burette: "Funnel off", glassware.Syringe: "plunger", glassware.Cylinder: "let it drain", glassware.VolumetricFlask: "let it drain",
	} {
		for _, words := range []string{"bulb", "second stop", "Funnel off", "plunger", "let it drain"} {
			if says := (glassware.Item{Kind: kind}).Handling(); strings.Contains(says, words) != (words == want) {
				t.Errorf("%s: %s", kind, says)
			}
		}
	}
}
