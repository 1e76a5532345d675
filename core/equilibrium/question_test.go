package equilibrium

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func problemsOf(err error) verdict.Problems {
	p, _ := err.(verdict.Problems) //nolint:errorlint // made here, never wrapped
	return p
}

func ExampleSpeciate() {
	a, err := Speciate(Question{Celsius: 25, Contents: []Content{{Formula: "CH3COOH", C: 0.1}, {Formula: "CH3COONa·3H2O", C: 0.1}}})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("pH %.2f, ionic strength %.3f mol/L, β %.4f mol/L\n", a.PH.Value, a.Strength, a.Beta)
	// Output: pH 4.65, ionic strength 0.100 mol/L, β 0.1195 mol/L
}

func TestSpeciate(t *testing.T) {
	pKw := 13.995
	own := System{Key: "mine", Name: "mine", Acid: "HF", Constants: []Constant{{PKa: 5}}}
	a, err := Speciate(Question{
		Celsius: 25,
		PKw:     &pKw,
		Model:   Ideal,
		Systems: []System{own},
		Volume:  100,
		Contents: []Content{
			{System: "mine", Amount: 1},
			{System: "mine", Lost: 1, Amount: 1},
			{Formula: "Na+", C: 0.01},
			{Formula: "Cl-", C: 0.01},
		},
	})
	if err != nil || math.Abs(a.PH.Value-5) > 0.001 {
		t.Fatalf("equal parts of acid and base: pH %v, %v", a.PH.Value, err)
	}
	sum, parts := 0.0, 0.0
	for _, term := range a.Balance {
		sum += term.Value
	}
	for _, part := range a.Parts {
		parts += part.Value
	}
	if math.Abs(sum) > 1e-12 || math.Abs(parts-a.Beta) > 1e-9 {
		t.Errorf("balance %g, parts %g of %g", sum, parts, a.Beta)
	}
	// β of a pair in equal parts is ln 10·C/4 and the water.
	if want := math.Ln10 * (0.02/4 + 1e-5 + 1e-9); math.Abs(a.Beta-want) > 2e-5 {
		t.Errorf("β %.6f, want %.6f", a.Beta, want)
	}
	salty, err := Speciate(Question{Celsius: 25, Contents: []Content{{Formula: "NaCl", C: 0.6}}})
	if err != nil || len(salty.Verdicts) != 1 || !strings.Contains(salty.Verdicts[0].Sentence, "0.60 mol/L") {
		t.Errorf("0.6 mol/L: %v %v", salty.Verdicts, err)
	}
	under, err := Speciate(Question{Celsius: 25, Contents: []Content{{Formula: "NaCl", C: 0.499}}})
	if err != nil || len(under.Verdicts) != 0 {
		t.Errorf("0.499 mol/L: %v %v", under.Verdicts, err)
	}
	air, err := Speciate(Question{Celsius: 25, Contents: []Content{{System: "carbonic", Open: true}}})
	if err != nil || math.Abs(air.PH.Value-5.61) > 0.03 {
		t.Errorf("water in air: %v %v", air.PH.Value, err)
	}
}

func TestBadQuestions(t *testing.T) {
	for field, q := range map[string]Question{
		"/contents/0/formula": {Celsius: 25, Contents: []Content{{Formula: "C60", C: 1}}},
		"/contents/0/system":  {Celsius: 25, Contents: []Content{{System: "nothing", C: 1}}},
		"/contents/0/lost":    {Celsius: 25, Contents: []Content{{System: "acetic", Lost: 2, C: 1}}},
		"/contents/0/c":       {Celsius: 25, Contents: []Content{{Formula: "HCl", C: -1}}},
		"/contents/0/u":       {Celsius: 25, Contents: []Content{{Formula: "HCl", U: -1}}},
		"/contents/0/amount":  {Celsius: 25, Contents: []Content{{Formula: "HCl", Amount: 1}}},
		"/systems/0/name":     {Celsius: 25, Systems: []System{{Acid: "HF", Constants: []Constant{{PKa: 3}}}}},
		"/volume":             {Celsius: 25, Volume: -1},
		"/celsius":            {Celsius: -5},
	} {
		_, err := Speciate(q)
		if p := problemsOf(err); len(p) != 1 || p[0].Field != field {
			t.Errorf("%s: %v", field, p)
		}
	}
	good := AdditionsQuestion{
		Question: Question{Celsius: 25, Volume: 20},
		Titrant:  []Content{{Formula: "NaOH", C: 0.1}},
		Volumes:  []float64{0, 5},
	}
	for field, spoil := range map[string]func(q *AdditionsQuestion){
		"/volume":                     func(q *AdditionsQuestion) { q.Volume = 0 },
		"/volumes":                    func(q *AdditionsQuestion) { q.Volumes = nil },
		"/volumes/1":                  func(q *AdditionsQuestion) { q.Volumes = []float64{2, 1} },
		"/titrant/contents/0/formula": func(q *AdditionsQuestion) { q.Titrant = []Content{{Formula: "C60"}} },
	} {
		q := good
		spoil(&q)
		_, err := Additions(q)
		if p := problemsOf(err); len(p) != 1 || p[0].Field != field {
			t.Errorf("%s: %v", field, p)
		}
	}
}

// The cases of TestPHOfKnownMixtures, added step by step.
func TestAdditions(t *testing.T) {
	pKw := 13.995
	water, err := Additions(
		AdditionsQuestion{
			Question: Question{Celsius: 25, PKw: &pKw, Volume: 20},
			Titrant:  []Content{{Formula: "NaOH", C: 0.1}},
			Volumes:  []float64{0, 5},
		},
	)
	if err != nil || math.Abs(water[0].PH-6.9975) > 0.001 || math.Abs(water[1].PH-12.236) > 0.0006 {
		t.Errorf("water and base: %v %v", water, err)
	}
	acid, err := Additions(AdditionsQuestion{
		Question: Question{Celsius: 25, PKw: &pKw, Volume: 25, Contents: []Content{{Formula: "H3PO4", C: 0.1}}},
		Titrant:  []Content{{Formula: "NaOH", C: 0.1}}, Volumes: []float64{0, 25, 37.5},
	})
	if err != nil || math.Abs(acid[1].PH-4.544) > 0.0006 || math.Abs(acid[2].PH-6.898) > 0.0006 {
		t.Errorf("phosphoric acid: %v %v", acid, err)
	}
	weak, err := Additions(AdditionsQuestion{
		Question: Question{Celsius: 25, Volume: 25, Contents: []Content{{Formula: "NH3", C: 0.1}, {System: "carbonic", Open: true}}},
		Titrant:  []Content{{Formula: "CH3COOH", C: 0.1}}, Volumes: []float64{12.5, 25},
	})
	if err != nil || len(weak) != 2 || !(weak[1].PH < weak[0].PH) || math.Abs(weak[1].PH-7) > 0.1 {
		t.Errorf("ammonia and acetic acid meet at about 7: %v %v", weak, err)
	}
}

func TestBadMixtures(t *testing.T) {
	acetic, _ := Find("acetic")
	pKw := 3.0
	for field, m := range map[string]Mixture{
		"/celsius":          {Celsius: uncertain.Exact(75)},
		"/model":            {Celsius: uncertain.Exact(25), Model: "guess"},
		"/pKw":              {Celsius: uncertain.Exact(25), PKw: &pKw},
		"/amounts/0/c":      {Celsius: uncertain.Exact(25), Amounts: []Amount{{System: acetic, C: uncertain.Exact(-1)}}},
		"/amounts/0/system": {Celsius: uncertain.Exact(25), Amounts: []Amount{{C: uncertain.Exact(1)}}},
		"/strong/0/c":       {Celsius: uncertain.Exact(25), Strong: []Strong{{"Na+", 1, uncertain.Exact(math.NaN())}}},
		"/strong/0/charge":  {Celsius: uncertain.Exact(25), Strong: []Strong{{"X", 0, uncertain.Exact(1)}}},
	} {
		_, err := m.Solver()
		if problems := problemsOf(err); len(problems) != 1 || problems[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	enthalpy, cp := 500.0, 5000.0
	for field, s := range map[string]System{
		"/name":                     {Acid: "HF", Constants: []Constant{{PKa: 3}}},
		"/acid":                     {Name: "x", Acid: "F-", Constants: []Constant{{PKa: 3}}},
		"/constants":                {Name: "x", Acid: "HF"},
		"/constants/1/pKa":          {Name: "x", Acid: "H2F2", Constants: []Constant{{PKa: 3}, {PKa: 2}}},
		"/constants/0/pKa":          {Name: "x", Acid: "HF", Constants: []Constant{{PKa: 17}}},
		"/constants/0/u":            {Name: "x", Acid: "HF", Constants: []Constant{{PKa: 3, U: 3}}},
		"/constants/0/enthalpy":     {Name: "x", Acid: "HF", Constants: []Constant{{PKa: 3, Enthalpy: &enthalpy}}},
		"/constants/0/heatCapacity": {Name: "x", Acid: "HF", Constants: []Constant{{PKa: 3, HeatCapacity: &cp}}},
	} {
		if problems := problemsOf(s.Check()); len(problems) != 1 || problems[0].Field != field {
			t.Errorf("%s: %v", field, s.Check())
		}
	}
}

// By its form, a system brings the counter-ions that its charge asks for.
func TestFormsBringTheirCounterIons(t *testing.T) {
	for lost, want := range map[int]float64{0: 0.02, 1: 0.01, 2: 0, 3: 0.01} { // lysine from 2+ to 1−
		m, err := Question{Celsius: 25, Contents: []Content{{System: "lysine", Lost: lost, C: 0.01}}}.Mixture()
		if err != nil {
			t.Fatal(err)
		}
		charge, _ := m.strong()
		if math.Abs(math.Abs(charge)-want) > 1e-12 || charge > 0 != (lost == 3) {
			t.Errorf("%d lost: strong ions %g mol/L", lost, charge)
		}
	}
}

// Beyond 0.1 mol/L the model is trusted less, by 0.3 pH for each mol/L.
func TestTheModelIsTrustedLessAtHighStrength(t *testing.T) {
	u := func(c float64) float64 {
		n, err := simple(t, Davies, map[string]float64{"HCl": c}).PH()
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range n.Contributions {
			if x.ID == "activity model" {
				return x.U * math.Sqrt(3)
			}
		}
		return 0
	}
	apart := math.Abs(
		solve(t, simple(t, Davies, map[string]float64{"HCl": 0.5})).PH - solve(
			t,
			simple(t, ExtendedDebyeHuckel, map[string]float64{"HCl": 0.5}),
		).PH,
	)
	if got := u(0.5); math.Abs(got-(math.Max(apart, 0.012)+0.12)) > 1e-6 {
		t.Errorf("at 0.5 mol/L: ±%.4f, models apart by %.4f", got, apart)
	}
	if got := u(0.05); got > 0.03 {
		t.Errorf("at 0.05 mol/L: ±%.4f", got)
	}
}
