package glassware_test

import (
	"math"
	"strings"
	"testing"

	"vialbench/core/glassware"
)

// A flask and a measure are found at their volume, and not beyond what arithmetic may miss
// it by.
func TestGlassAtItsVolume(t *testing.T) {
	cupboard := glassware.Cupboard{{Volume: 100, Class: glassware.ClassA}, {Volume: 250, Class: glassware.ClassA}}
	for _, c := range []struct {
		volume, flask float64
		exact         bool
	}{{99.9, 100, false}, {100, 100, true}, {100 * (1 + 1e-12), 100, true}, {100.1, 250, false}, {250, 250, true}, {250 * (1 + 1e-12), 250, true}} {
		f, exact, err := cupboard.For(c.volume, glassware.ClassA)
		if err != nil || f.Volume != c.flask || exact != c.exact {
			t.Errorf("%g mL: %v, exact %t, %v", c.volume, f, exact, err)
		}
	}
	for volume, want := range map[float64]string{0: "no flask of 0 mL", 250.01: "no flask of 250.01 mL: the largest is 250 mL; make it in batches"} {
		if _, _, err := cupboard.For(volume, glassware.ClassA); err == nil || !strings.HasPrefix(err.Error(), want) {
			t.Errorf("%g mL: %v, want %q", volume, err, want)
		}
	}
	if _, err := cupboard.Split(0, glassware.ClassA); err == nil || !strings.HasPrefix(err.Error(), "0 mL would take 0 fillings of 250 mL") {
		t.Errorf("nothing: %v", err)
	}
	most := glassware.MaxBatches * 250.0
	if list, err := cupboard.Split(most, glassware.ClassA); err != nil || len(list) != glassware.MaxBatches {
		t.Errorf("%g mL: %d fillings, %v", most, len(list), err)
	}
	if _, err := cupboard.Split(most+0.5, glassware.ClassA); err == nil ||
		!strings.HasPrefix(err.Error(), "3000.5 mL would take 13 fillings") {
		t.Errorf("over: %v", err)
	}

	owned := []glassware.Item{
		{
			Kind:   glassware.Cylinder,
			Volume: 50,
			Class:  glassware.ClassA,
			Count:  1,
		},
		{Kind: glassware.Cylinder, Volume: 10, Class: glassware.ClassA, Count: 1},
		{Kind: glassware.Cylinder, Volume: 25, Class: glassware.ClassA, Count: 1},
	}
	for volume, want := range map[float64]float64{10: 10, 10.01: 25, 25: 25, 25.01: 50, 50: 50, 50 * (1 + 1e-12): 50} {
		if got, err := glassware.MeasureFor(glassware.Cylinder, volume, owned); err != nil || got.Volume != want {
			t.Errorf("%g mL: %v, %v", volume, got, err)
		}
	}
	for _, volume := range []float64{0, -1, 50.01} {
		if _, err := glassware.MeasureFor(glassware.Cylinder, volume, owned); err == nil ||
			!strings.HasSuffix(err.Error(), "the largest is 50 mL") {
			t.Errorf("%g mL: %v", volume, err)
		}
	}
}

func TestItemsAreBounded(t *testing.T) {
	for _, c := range []struct {
		count int
		mark  string
		ok    bool
	}{{0, "", false}, {1, "", true}, {1000, "", true}, {1001, "", false}, {1, strings.Repeat("µ", 40), true}, {1, strings.Repeat("µ", 41), false}} {
		i := glassware.Item{Kind: glassware.VolumetricFlask, Volume: 250, Class: glassware.ClassA, Count: c.count}
		i.Mark = c.mark
		if err := i.Check(); (err == nil) != c.ok {
			t.Errorf("%d of mark %q: %v", c.count, c.mark, err)
		}
	}
	i := glassware.Item{Kind: glassware.VolumetricFlask, Volume: 333, Class: glassware.ClassA, Count: 1}
	if err := i.Check(); err == nil || !strings.Contains(err.Error(), "ISO 1042 has no volumetric flask of 333 mL") {
		t.Error(err)
	}
}

// What the budget says of a flask and of graduated glass, with a certificate and without.
// A cylinder read at half its volume is off by half of what its certificate says.
func TestSourcesOfGlass(t *testing.T) {
	plain := glassware.Flask{Volume: 250, Class: glassware.ClassA}
	certified := glassware.Flask{Volume: 250, Class: glassware.ClassA}
	certified.Mark, certified.Certified, certified.CertifiedLimits = "F-07", 249.93, 0.055
	for _, c := range []struct {
		of   glassware.Flask
		want string
	}{{plain, "ISO 1042, ±0.15 mL, triangular"}, {certified, "certificate F-07, ±0.055 mL, k = 2"}} {
		if got := c.of.AtReference().Contributions[1]; got.Label != "flask" || got.Basis != c.want {
			t.Errorf("%s: %+v", c.of, got)
		}
	}
	if one, two := plain.Filled("a").Contributions[0], plain.Filled("b").Contributions[0]; one.ID == two.ID || one.U != two.U {
		t.Errorf("two fillings: %+v, %+v", one, two)
	}

	i := glassware.Item{Kind: glassware.Cylinder, Volume: 2.5, Class: glassware.ClassA}
	if i.Mark = "C 3"; i.Name() != "2.5 mL cylinder C 3" {
		t.Error(i.Name())
	}
	if i.Mark = ""; i.Name() != "2.5 mL cylinder" {
		t.Error(i.Name())
	}
	i = glassware.Item{Kind: glassware.Cylinder, Volume: 100, Class: glassware.ClassA}
	i.Certified, i.CertifiedLimits = 99.6, 0.1
	v := i.Reading(50, "")
	if math.Abs(v.Value-49.8) > 1e-12 {
		t.Errorf("read 50 mL: %g mL, want 49.8", v.Value)
	}
	if math.Abs(v.U()-math.Hypot(0.05, 0.2/math.Sqrt(3))) > 1e-12 { // 1 mL divisions, read to a fifth
		t.Errorf("u = %g mL", v.U())
	}
}

// What a syringe pushes out is known to a part of it from half its volume on, and below that less
// well: ISO 7886-1:2017, table 1 (from memory); both limits meet at half the volume.
func TestSyringeLimits(t *testing.T) {
	for _, c := range []struct{ size, mL, limits float64 }{
		{20, 20, 0.80}, {20, 10, 0.40}, {20, 5, 0.35}, {2, 2, 0.10}, {2, 1, 0.05}, {2, 0.5, 0.04},
	} {
		i := glassware.Item{Kind: glassware.Syringe, Volume: c.size, Class: glassware.ClassB, Count: 1}
		if err := i.Check(); err != nil {
			t.Fatal(err)
		}
		v := i.Dispensed(c.mL, "a")
		for _, x := range v.Contributions {
			if x.Label == i.Name() && math.Abs(x.U-c.limits/math.Sqrt(6)) > 1e-9 {
				t.Errorf("%g mL from %s: ±%.4f mL, want %.4f", c.mL, i.Name(), x.U*math.Sqrt(6), c.limits)
			}
		}
		if v.Value != c.mL {
			t.Errorf("%g mL are %g", c.mL, v.Value)
		}
	}
}

// What runs out in two steps has one reading between them, which cancels in the sum: three
// readings less one.
func TestReadingBetweenTwoVolumes(t *testing.T) {
	b := glassware.Item{Kind: glassware.Burette, Volume: 50, Class: glassware.ClassA}
	sum := b.Between(10, "a", "b").Plus(b.Between(5, "b", "c"))
	readings := 0.0
	for _, x := range sum.Contributions {
		if x.Label == "reading the scale" {
			readings += x.U * x.U
		}
	}
	if want := 0.02 / math.Sqrt(3) * math.Sqrt2; math.Abs(math.Sqrt(readings)-want) > 1e-12 || sum.Value != 15 {
		t.Errorf("%g mL, readings ±%g, want %g", sum.Value, math.Sqrt(readings), want)
	}
}

// The finest of what is owned for a volume: by the limits of ISO 385, ISO 835 and ISO 8655-2 a piston
// pipette of 1 mL errs by 8 µL, a graduated one of 1 mL by 7 µL and a 25 mL burette by 30 µL at most,
// of which a small volume gets its part, but a burette is read to 10 µL twice.
func TestFinest(t *testing.T) {
	burette := glassware.Item{Kind: glassware.Burette, Volume: 25, Class: glassware.ClassA}
	graduated := glassware.Item{Kind: glassware.GraduatedPipette, Volume: 1, Class: glassware.ClassA}
	piston := glassware.Item{Kind: glassware.PistonPipette, Volume: 0.2, Class: glassware.ClassA}
	owned := []glassware.Item{burette, graduated, piston, {Kind: glassware.Cylinder, Volume: 5, Class: glassware.ClassA}, {Kind: glassware.OneMarkPipette, Volume: 1, Class: glassware.ClassA}}
	for mL, want := range map[float64]glassware.Item{
		0.1: piston, 0.2: piston, 0.01: graduated, 0.33: graduated, 1: graduated, 1.01: burette, 20: burette, 30: burette,
	} {
		if got := glassware.Finest(mL, owned); got.Name() != want.Name() {
			t.Errorf("%g mL: %s, not %s", mL, got.Name(), want.Name())
		}
	}
	if got := glassware.Finest(0.5, nil); got.Name() != "10 mL burette" {
		t.Errorf("nothing listed: %s", got.Name())
	}
	if text := glassware.Finest(0.33, owned).Handling(); !strings.Contains(text, "With a bulb") {
		t.Error(text)
	}
}
