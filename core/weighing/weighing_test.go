package weighing_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/glassware"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

var analytical = weighing.Balance{Name: "Fern", Capacity: 220, Resolution: 0.0001, Repeatability: 0.0001, Linearity: 0.0002}

func ExampleBalance_SmallestMass() {
	fmt.Printf("%.3f g\n", analytical.SmallestMass(0.001))
	// Output: 0.200 g
}

// EURACHEM/CITAC CG 4, example A2 (from memory): 0.3888 g by difference, ±0.15 mg
// rectangular counted twice, gives u = 0.13 mg before repeatability.
func TestNetAgainstQUAM(t *testing.T) {
	b := weighing.Balance{Name: "Q", Capacity: 200, Linearity: 0.00015}
	net := b.Net(60.5450-0, 60.1562, "1")
	if math.Abs(net.Value-0.3888) > 1e-9 || math.Abs(net.U()-0.00013) > 0.000008 {
		t.Errorf("net %.4f g, u %.6f g; want 0.3888, 0.00013", net.Value, net.U())
	}
}

// USP <41> (from memory): the smallest mass is 2·s/0.10 %, and s is treated as no
// less than 0.41·d: for d = 0.1 mg and s below 0.041 mg, 82 mg.
func TestSmallestMass(t *testing.T) {
	b := weighing.Balance{Resolution: 0.0001, Repeatability: 0.00003}
	if got := b.SmallestMass(0.001); math.Abs(got-0.082) > 1e-12 {
		t.Errorf("smallest mass %g g, want 0.082", got)
	}
}

// Checks of buoyancy: a worked example (10.0000 g of a solid of 1636 kg/m³ in air
// of 1.20 kg/m³ is 10.0058 g); the Z factor of ISO 4787, 1.00285 mL/g for water
// at 20 °C, from memory.
func TestBuoyancy(t *testing.T) {
	if got := 10 * weighing.Buoyancy(1636).Value; math.Abs(got-10.0058) > 0.00005 {
		t.Errorf("10.0000 g → %.5f g, want 10.0058", got)
	}
	water := glassware.WaterDensity(20)
	if z := weighing.Buoyancy(water).Value * 1000 / water; math.Abs(z-1.00285) > 0.000006 {
		t.Errorf("Z = %.6f mL/g, want 1.00285", z)
	}
	if u := weighing.NoBuoyancy(1636).U(); math.Abs(u-0.00058/math.Sqrt(3)) > 0.00001 {
		t.Errorf("not corrected: u = %g", u)
	}
}

func TestBalanceCheck(t *testing.T) {
	if err := analytical.Check(); err != nil || analytical.Decimals() != 4 {
		t.Errorf("%v, %d decimals", err, analytical.Decimals())
	}
	for _, b := range []weighing.Balance{
		{Capacity: 220, Resolution: 0.1},
		{Name: "x", Capacity: 220},
		{Name: "x", Capacity: 1e9, Resolution: 0.1},
		{Name: "x", Capacity: 220, Resolution: 0.1, Repeatability: -1},
		{Name: "x", Capacity: 220, Resolution: 0.1, Linearity: math.NaN()},
	} {
		if b.Check() == nil {
			t.Errorf("%+v passes", b)
		}
	}
}

// A check weight of 100 g, class F1 (OIML R 111: ±0.5 mg; from memory), on a 0.1 mg
// balance of repeatability 0.1 mg and linearity 0.2 mg: the reading, the zero and
// the weight make u = 0.36 mg, and three times that is the limit.
func TestCheckWeight(t *testing.T) {
	b := weighing.Balance{Name: "Fern", Capacity: 220, Resolution: 0.0001, Repeatability: 0.0001, Linearity: 0.0002}
	u := 0.0005 / math.Sqrt(3)
	if limit := b.CheckLimit(u, nil); math.Abs(limit-3*0.000360) > 2e-5 {
		t.Errorf("limit %.6f g", limit)
	}
	for reading, want := range map[float64]bool{100.0002: true, 100.0010: true, 100.0012: false, 99.9980: false} {
		if v, passed := b.Checked(100, u, reading, nil); passed != want || (v.Level == verdict.Stop) == want {
			t.Errorf("%.4f g: passed %v, %s", reading, passed, v.Sentence)
		}
	}
}

func TestSettled(t *testing.T) {
	b := weighing.Balance{Name: "Fern", Capacity: 220, Resolution: 0.0001}
	for _, c := range []struct {
		readings []float64
		stable   bool
		want     bool
	}{{nil, true, false}, {[]float64{5.1000, 5.1001, 5.1002}, true, true}, {[]float64{5.1000, 5.1003}, true, false}, {[]float64{5.1, 5.1}, false, false}} {
		if spread, still := b.Settled(c.readings, c.stable, nil); still != c.want {
			t.Errorf("%v stable=%v: still %v, spread %g", c.readings, c.stable, still, spread)
		}
	}
	if v := b.Wandering(0.0012); !strings.Contains(v.Sentence, "0.0012 g") || len(v.Choices) != 2 {
		t.Errorf("%+v", v)
	}
}

// What moves at the limit of a check weight, of settling, of the digits of a balance and of
// the air: against the same worked out by hand.
func TestLimitsOfABalance(t *testing.T) {
	limit := analytical.CheckLimit(0.0001, nil)
	net := math.Sqrt(2*(0.0002*0.0002/3+0.0001*0.0001+0.0001*0.0001/12) + 0.0001*0.0001)
	if math.Abs(limit/net-weighing.RuleCheck.Threshold) > 1e-9 {
		t.Errorf("limit %g g, u %g g", limit, net)
	}
	for _, c := range []struct {
		off  float64
		pass bool
	}{{-0.999 * limit, true}, {limit, true}, {-limit, true}, {1.001 * limit, false}, {-1.001 * limit, false}} {
		if _, passed := analytical.Checked(100, 0.0001, 100+c.off, nil); passed != c.pass {
			t.Errorf("%g of the limit off: passed %t", c.off/limit, passed)
		}
	}
	most := weighing.RuleSettled.Threshold * analytical.Resolution
	for spread, want := range map[float64]bool{0.99 * most: true, most: true, 1.01 * most: false} {
		if _, still := analytical.Settled([]float64{1, 1 + spread}, true, nil); still != want {
			t.Errorf("%g of the limit apart: still %t", spread/most, still)
		}
	}
	for resolution, want := range map[float64]int{0.0001: 4, 0.0002: 4, 0.0005: 4, 0.001: 3, 0.01: 2, 0.05: 2, 1: 0, 5: 0, 10: 0} {
		if got := (weighing.Balance{Resolution: resolution}).Decimals(); got != want {
			t.Errorf("%g g: %d decimals, want %d", resolution, got, want)
		}
	}
	if got := (weighing.Balance{Repeatability: 0.1}).Reading(1, "x"); len(got.Contributions) != 1 ||
		got.Contributions[0].ID != "balance repeatability x" {
		t.Errorf("only repeatability known: %+v", got)
	}
	// m/W = (1 − ρa/8000)/(1 − ρa/ρ); its derivative by ρa is (1/ρ − 1/8000)/(1 − ρa/ρ)².
	for _, density := range []float64{998, 1636, 8000, 12000} {
		lift := 1 - 1.2/density
		want := math.Abs((1/density - 1/8000.0) / (lift * lift) * 0.1 / math.Sqrt(3))
		if got := weighing.Buoyancy(density).U(); math.Abs(got-want) > 0.001*want {
			t.Errorf("%g kg/m³: u = %g, want %g", density, got, want)
		}
	}
}
