package equilibrium

import "testing"

// cyanophenol is a system that a lab might add: pKa 7.97 (handbooks, from memory).
var cyanophenol = System{
	Key: "own", Name: "4-cyanophenol", Base: "4-cyanophenolate", Acid: "C7H5NO",
	Constants: []Constant{{PKa: 7.97, U: 0.02}}, Source: "handbook",
}

// glycerate-like diacids and an amine show each kind of charge.
var (
	diacid = System{Key: "diacid", Name: "a diacid", Acid: "C5H6O4", Constants: []Constant{{PKa: 3}, {PKa: 5}}, Source: "s"}
	amine  = System{Key: "amine", Name: "an amine", Acid: "C3H10N+", Constants: []Constant{{PKa: 9.8}}, Source: "s"}
)

func TestSaltsOfALabsOwnSystem(t *testing.T) {
	for text, want := range map[string]struct {
		system string
		units  float64
		strong float64 // charge of the strong ions
		lost   float64
	}{
		"C7H5NO":          {"own", 1, 0, 0},
		"NaC7H4NO":        {"own", 1, 1, 1},
		"C7H4NONa.2H2O":   {"own", 1, 1, 1},
		"Ca(C7H4NO)2":     {"own", 2, 2, 2},
		"KC5H5O4":         {"diacid", 1, 1, 1},
		"Na2C5H4O4":       {"diacid", 1, 2, 2},
		"MgC5H4O4":        {"diacid", 1, 2, 2},
		"C3H9N":           {"amine", 1, 0, 1},
		"C3H10NCl":        {"amine", 1, -1, 0},
		"(C3H10N)2SO4":    {"amine", 2, -2, 0},
		"NaC2H3O2":        {"acetic", 1, 1, 1}, // the library's
		"C6H12O6":         {},
		"NaKC5H4O4":       {}, // with two ions it is not looked for
		"not a formula !": {},
	} {
		c, ok := CompoundOf(text, cyanophenol, diacid, amine)
		if ok != (want.system != "") {
			t.Errorf("%s: known %v", text, ok)
			continue
		}
		if !ok {
			continue
		}
		if u := c.Units[0]; u.System.Key != want.system || u.Count != want.units || c.StrongCharge() != want.strong || c.Lost() != want.lost {
			t.Errorf("%s: %g of %s, strong %g, lost %g; want %+v", text, u.Count, u.System.Key, c.StrongCharge(), c.Lost(), want)
		}
	}
	if _, ok := CompoundOf("NaC7H4NO"); ok {
		t.Error("the library knows 4-cyanophenolate without the lab’s system")
	}
	own := cyanophenol
	own.Acid, own.Constants = "C2H4O2", []Constant{{PKa: 4.6}}
	if c, ok := CompoundOf("CH3COONa", own); !ok || c.Units[0].System.Constants[0].PKa != 4.6 {
		t.Errorf("the lab’s own constants come second: %+v", c)
	}
}

func TestChecksOfALabsOwnSystem(t *testing.T) {
	if err := cyanophenol.Check(); err != nil {
		t.Error(err)
	}
	for want, change := range map[string]func(*System){
		"/name":                      func(s *System) { s.Name = " " },
		"/acid":                      func(s *System) { s.Acid, s.Constants = "HOOCCOOH", []Constant{{PKa: 1}, {PKa: 2}, {PKa: 3}} },
		"/constants":                 func(s *System) { s.Constants = nil },
		"/constants/0/pKa":           func(s *System) { s.Constants = []Constant{{PKa: 17}} },
		"/constants/1/pKa":           func(s *System) { s.Acid, s.Constants = "C5H6O4", []Constant{{PKa: 5}, {PKa: 3}} },
		"/constants/0/u":             func(s *System) { s.Constants = []Constant{{PKa: 5, U: -1}} },
		"/constants/0/heatCapacity":  func(s *System) { s.Constants = []Constant{{PKa: 5, HeatCapacity: pointer(1e4)}} },
		"/constants/0/enthalpy":      func(s *System) { s.Constants = []Constant{{PKa: 5, Enthalpy: pointer(1e4)}} },
		"/acid " + "together needed": func(s *System) { s.Acid, s.Constants = "HOC2O2OH", []Constant{{PKa: 1}, {PKa: 4}} },
	} {
		s := cyanophenol
		change(&s)
		p := problems(s.Check())
		field := want
		if i := len("/acid"); len(field) > i && field[i] == ' ' {
			field = field[:i]
		}
		if len(p) == 0 || p[0].Field != field {
			t.Errorf("%s: %v", want, p)
		}
	}
	if p := CheckSystems([]System{cyanophenol, {}}); len(p) == 0 || p[0].Field != "/systems/1/name" {
		t.Errorf("%v", p)
	}
	if s := cyanophenol; s.Common() != "4-cyanophenolate" || (System{Name: "x"}).Common() != "x" || s.Cited() != "handbook" {
		t.Error("names")
	}
}

func pointer(x float64) *float64 { return &x }
