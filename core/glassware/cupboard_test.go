package glassware_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/glassware"
	"vialbench/core/verdict"
)

func ExampleCupboard_Split() {
	owned := glassware.Cupboard{{Volume: 50, Class: "A"}, {Volume: 250, Class: "A"}, {Volume: 500, Class: "A"}}
	flasks, _ := owned.Split(1800, "A")
	for _, f := range flasks {
		fmt.Print(f.Volume, " ")
	}
	// Output:
	// 500 500 500 250 50
}

// The split against brute force over all multisets of up to seven fillings.
func TestSplitAgainstBruteForce(t *testing.T) {
	owned := glassware.Cupboard{{Volume: 20, Class: "A"}, {Volume: 50, Class: "A"}, {Volume: 250, Class: "A"}}
	volumes := owned.Volumes("A")
	least := func(n int, volume float64) float64 { // least too much with n fillings
		best := math.Inf(1)
		var try func(n int, from int, sum float64)
		try = func(n, from int, sum float64) {
			if n == 0 {
				if sum >= volume-1e-9 {
					best = math.Min(best, sum-volume)
				}
				return
			}
			for i := from; i < len(volumes); i++ {
				try(n-1, i, sum+volumes[i])
			}
		}
		try(n, 0, 0)
		return best
	}
	for volume := 10.0; volume <= 700; volume += 10 {
		got, err := owned.Split(volume, "A")
		if err != nil {
			t.Fatal(err)
		}
		fewest := int(math.Ceil(volume / 250))
		want := least(fewest, volume)
		for n := fewest + 1; n <= fewest+4; n++ {
			if least(n, volume) < 1e-9 {
				want = min(want, 0)
			}
		}
		sum := 0.0
		for _, f := range got {
			sum += f.Volume
		}
		if math.Abs(sum-volume-want) > 1e-9 {
			t.Errorf("%g mL: %v, %g too much; %g would do", volume, got, sum-volume, want)
		}
	}
	for _, volume := range []float64{0, -5, math.NaN(), 250*12 + 1} {
		if f, err := owned.Split(volume, "A"); err == nil {
			t.Errorf("%g mL: %v", volume, f)
		}
	}
}

func TestOwnedFlasks(t *testing.T) {
	owned := glassware.Flasks([]glassware.Item{
		{Kind: glassware.VolumetricFlask, Volume: 250, Class: "A", Count: 3},
		{
			Kind:        glassware.VolumetricFlask,
			Volume:      250,
			Class:       "A",
			Count:       1,
			Certificate: glassware.Certificate{Mark: "F7", Certified: 249.93, CertifiedLimits: 0.04},
		},
		{Kind: glassware.Cylinder, Volume: 100, Class: "A", Count: 2},
	})
	f, exact, err := owned.For(200, "A")
	if err != nil || exact || f.Mark != "F7" || len(owned.Volumes("A")) != 1 {
		t.Fatalf("%v %v %v: the one with the certificate is taken", f, exact, err)
	}
	if v := f.AtReference(); math.Abs(v.Value-249.93) > 1e-9 || v.U() > 0.04 {
		t.Errorf("certified %g mL, u %g", v.Value, v.U())
	}
	if _, _, err := owned.For(200, "B"); err == nil || !strings.Contains(err.Error(), "no flask of class B") {
		t.Errorf("class B: %v", err)
	}
}

// ISO 648:2008, ISO 385:2005, ISO 8655-2:2002 (from memory), and what a lab cannot own.
func TestItems(t *testing.T) {
	for _, c := range []struct {
		kind      glassware.Kind
		volume    float64
		class     glassware.Class
		tolerance float64
	}{
		{glassware.OneMarkPipette, 10, "A", 0.020},
		{glassware.OneMarkPipette, 25, "A", 0.030},
		{glassware.OneMarkPipette, 1, "B", 0.015},
		{glassware.OneMarkPipette, 100, "B", 0.150},
		{glassware.PistonPipette, 1, "A", 0.008},
		{glassware.PistonPipette, 10, "B", 0.060},
		{glassware.PistonPipette, 0.1, "A", 0.0008},
		{glassware.Burette, 50, "A", 0.05},
		{glassware.Burette, 50, "B", 0.10},
		{glassware.VolumetricFlask, 100, "B", 0.20},
	} {
		i := glassware.Item{Kind: c.kind, Volume: c.volume, Class: c.class, Count: 1}
		if err := i.Check(); err != nil || i.Tolerance() != c.tolerance {
			t.Errorf("%s: ±%g mL, want ±%g; %v", i, i.Tolerance(), c.tolerance, err)
		}
	}
	certified := func(volume, limits float64, mark string, count int) glassware.Item {
		return glassware.Item{
			Kind:        glassware.VolumetricFlask,
			Volume:      250,
			Class:       "A",
			Count:       count,
			Certificate: glassware.Certificate{Mark: mark, Certified: volume, CertifiedLimits: limits},
		}
	}
	for want, item := range map[string]glassware.Item{
		"/kind":            {Kind: "bucket", Volume: 10, Class: "A", Count: 1},
		"/class":           {Kind: glassware.Burette, Volume: 50, Class: "C", Count: 1},
		"/volume":          {Kind: glassware.Burette, Volume: 55, Class: "A", Count: 1},
		"/count":           {Kind: glassware.Burette, Volume: 50, Class: "A"},
		"/certifiedLimits": certified(250.02, 300, "F1", 1),
		"/certified":       certified(300, 0.05, "F1", 1),
		"/mark":            certified(250.02, 0.05, "", 1),
	} {
		var p verdict.Problems
		if err := item.Check(); !errors.As(err, &p) || p[0].Field != want {
			t.Errorf("%s: %v, want a problem at %s", item, err, want)
		}
	}
}
