package equilibrium

import (
	"math"
	"testing"

	"vialbench/core/uncertain"
)

// The uncertainty of a pH is what its causes give when each is moved by itself.
func TestUncertaintyOfPH(t *testing.T) {
	acid, _ := CompoundOf("C2H4O2")
	salt, _ := CompoundOf("NaC2H3O2")
	source := func(id string) uncertain.Source { return uncertain.Source{ID: id, Label: id} }
	m := Mixture{Celsius: uncertain.New(25, 2, source("thermometer"))}
	m.Add(acid, uncertain.New(0.1, 0.001, source("acid")))
	m.Add(salt, uncertain.New(0.1, 0.001, source("salt")))
	n, err := m.PH()
	if err != nil {
		t.Fatal(err)
	}
	us := map[string]float64{}
	for _, c := range n.Contributions {
		us[c.ID] = c.U
	}
	// log₁₀ of a ratio: 0.4343·0.01 for 1 % of the acid; the salt brings its ions besides.
	for id, want := range map[string][2]float64{"acid": {-0.00434, 0.0001}, "salt": {0.0042, 0.0003}, "pKa acetic 1": {0.002, 0.00002}, "thermometer": {-0.0008, 0.0012}} {
		if math.Abs(us[id]-want[0]) > want[1] {
			t.Errorf("%s: %.5f, want %.5f", id, us[id], want[0])
		}
	}
	if us["activity model"] < 0.012/math.Sqrt(3)-1e-9 {
		t.Errorf("the model: %v", us["activity model"])
	}
	if h := n.U(); !(h > 0.008 && h < 0.03) {
		t.Errorf("u(pH) = %v", h)
	}
}

// The capacity of a weak acid alone goes with [H⁺], and that with the root of its constant and
// of its concentration; the ionic strength of its salt is the salt.
func TestUncertaintyOfCapacityAndStrength(t *testing.T) {
	acid, _ := CompoundOf("C2H4O2")
	salt, _ := CompoundOf("NaC2H3O2")
	source := func(id string) uncertain.Source { return uncertain.Source{ID: id, Label: id} }
	us := func(n uncertain.Number, err error) map[string]float64 {
		if err != nil {
			t.Fatal(err)
		}
		list := map[string]float64{}
		for _, c := range n.Contributions {
			list[c.ID] = c.U
		}
		return list
	}
	m := Mixture{Celsius: uncertain.Exact(25), Model: Ideal}
	m.Add(acid, uncertain.New(0.1, 0.001, source("acid")))
	beta, err := m.Capacity()
	got := us(beta, err)
	uK := m.Amounts[0].System.PKa(0, 25).U()
	for id, want := range map[string]float64{"acid": beta.Value * 0.005, "pKa acetic 1": -beta.Value * math.Ln10 / 2 * uK} {
		if math.Abs(got[id]-want) > 0.03*math.Abs(want) {
			t.Errorf("%s: %.3g, want %.3g", id, got[id], want)
		}
	}
	m = Mixture{Celsius: uncertain.Exact(25)}
	m.Add(acid, uncertain.New(0.1, 0.001, source("acid")))
	m.Add(salt, uncertain.New(0.1, 0.001, source("salt")))
	strength, err := m.Strength()
	if got := us(strength, err); math.Abs(strength.Value-0.1) > 5e-5 || math.Abs(got["salt"]-0.001) > 2e-6 || math.Abs(got["acid"]) > 1e-6 ||
		got["activity model"] > 1e-5 {
		t.Errorf("I = %v: %v", strength.Value, got)
	}
	if got := us(m.Capacity()); got["activity model"] == 0 || math.Abs(got["pKa acetic 1"]) > 1e-5 {
		t.Errorf("half of each: the constant hardly counts, %v", got)
	}
}
