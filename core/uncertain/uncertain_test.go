package uncertain_test

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"testing"

	"vialbench/core/uncertain"
)

func ExampleNumber() {
	flask := uncertain.New(100, uncertain.Triangular(0.1), uncertain.Source{ID: "flask", Label: "flask"})
	filling := uncertain.New(0, 0.02, uncertain.Source{ID: "filling", Label: "filling"})
	volume := flask.Plus(filling)
	fmt.Printf("%.2f mL, u = %.3f mL\n", volume.Value, volume.U())
	for _, share := range volume.Budget() {
		fmt.Printf("%s %.0f %%\n", share.Label, 100*share.Fraction)
	}
	// Output:
	// 100.00 mL, u = 0.045 mL
	// flask 81 %
	// filling 19 %
}

func near(t *testing.T, what string, got, want, tolerance float64) {
	t.Helper()
	if math.Abs(got-want) > tolerance || math.IsNaN(got) {
		t.Errorf("%s = %.8g, want %.8g ± %.2g", what, got, want, tolerance)
	}
}

func src(id string) uncertain.Source { return uncertain.Source{ID: id, Label: id} }

// EURACHEM/CITAC Guide CG 4 (QUAM), 3rd edition, example A1: a calibration
// standard of cadmium. Inputs and result from memory of the guide; the printed
// 0.9 mg/L is 0.835 before rounding on the way.
func TestQUAMA1CalibrationStandard(t *testing.T) {
	mass := uncertain.New(100.28, 0.05, src("mass"))
	purity := uncertain.New(0.9999, uncertain.Rectangular(0.0001), src("purity"))
	volume := uncertain.New(100.0, uncertain.Triangular(0.1), src("flask")).
		Plus(uncertain.New(0, 0.02, src("filling"))).
		Plus(uncertain.New(0, uncertain.Rectangular(100.0*4*2.1e-4), src("temperature")))
	c := mass.Times(purity).Over(volume).Scale(1000)
	near(t, "c / mg/L", c.Value, 1002.7, 0.05)
	near(t, "u / mg/L", c.U(), 0.835, 0.0005)
}

// EURACHEM/CITAC QUAM, 3rd edition, example A2: sodium hydroxide against
// potassium hydrogen phthalate (from memory; 0.00099 recomputed, 0.00097 printed).
func TestQUAMA2SodiumHydroxide(t *testing.T) {
	mass := uncertain.New(0.3888, math.Sqrt2*uncertain.Rectangular(0.00015), src("linearity"))
	purity := uncertain.New(1, uncertain.Rectangular(0.0005), src("purity"))
	molar := uncertain.New(204.2212, 0.0038, src("molar mass"))
	volume := uncertain.New(18.64, uncertain.Triangular(0.03), src("burette")).
		Plus(uncertain.New(0, 19*3*2.1e-4/1.96, src("temperature")))
	repeat := uncertain.New(1, 0.0005, src("repeatability"))
	c := mass.Times(purity).Over(molar).Over(volume).Times(repeat).Scale(1000)
	near(t, "c / mol/L", c.Value, 0.10214, 0.000005)
	near(t, "u/c", c.Relative(), 0.00099, 0.000005)
}

// EURACHEM/CITAC QUAM, 3rd edition, example A3: hydrochloric acid by that sodium
// hydroxide (from memory). The two titres share the burette's temperature only
// in the sense of the guide, which counts them apart.
func TestQUAMA3HydrochloricAcid(t *testing.T) {
	titre := func(id string, v float64) uncertain.Number {
		return uncertain.New(v, uncertain.Triangular(0.03), src(id)).
			Plus(uncertain.New(0, uncertain.Rectangular(v*4*2.1e-4), src(id+" temperature")))
	}
	mass := uncertain.New(0.3888, math.Sqrt2*uncertain.Rectangular(0.00015), src("linearity"))
	purity := uncertain.New(1, uncertain.Rectangular(0.0005), src("purity"))
	molar := uncertain.New(204.2212, 0.0038, src("molar mass"))
	aliquot := uncertain.New(15, uncertain.Triangular(0.02), src("pipette")).
		Plus(uncertain.New(0, uncertain.Rectangular(15*4*2.1e-4), src("aliquot temperature")))
	repeat := uncertain.New(1, 0.001, src("repeatability"))
	c := mass.Times(purity).Times(titre("T2", 14.89)).
		Over(titre("T1", 18.64)).Over(molar).Over(aliquot).Times(repeat).Scale(1000)
	near(t, "c / mol/L", c.Value, 0.10139, 0.000005)
	near(t, "u / mol/L", c.U(), 0.00018, 0.000005)
}

// A shared source is one error: a difference of two equal readings with the same
// offset is exact, their sum carries it twice (GUM 5.2.2, r = 1).
func TestSharedSourceIsOneError(t *testing.T) {
	a := uncertain.New(10, 0.3, src("pipette"))
	b := uncertain.New(20, 0.3, src("pipette")).Plus(uncertain.New(0, 0.4, src("drops")))
	near(t, "u(a+a)", a.Plus(a).U(), 0.6, 1e-15)
	near(t, "u(a−a)", a.Minus(a).U(), 0, 1e-15)
	near(t, "u(a/a)", a.Over(a).U(), 0, 1e-15)
	near(t, "r(a,b)", uncertain.Correlation(a, b), 0.6, 1e-15)
	near(t, "u(a+b)", a.Plus(b).U(), math.Hypot(0.6, 0.4), 1e-15)
}

// Every operation agrees with a numerical derivative, and the budget adds up.
func TestPropagationMatchesNumericalDerivative(t *testing.T) {
	model := func(x, y uncertain.Number) uncertain.Number {
		return x.Times(y).Plus(x.Pow(1.5)).Minus(y.Log()).Over(x.Scale(-0.1).Exp())
	}
	x, y := uncertain.New(2.5, 0.02, src("x")), uncertain.New(7, 0.1, src("y"))
	const h = 1e-5
	at := func(dx, dy float64) float64 {
		return model(uncertain.Exact(2.5+dx), uncertain.Exact(7+dy)).Value
	}
	want := math.Hypot(0.02*(at(h, 0)-at(-h, 0))/(2*h), 0.1*(at(0, h)-at(0, -h))/(2*h))
	got := model(x, y)
	near(t, "u", got.U(), want, 1e-8*want)
	total := 0.0
	for _, share := range got.Budget() {
		total += share.Fraction
	}
	near(t, "sum of fractions", total, 1, 1e-12)
}

// The first-order result against 200 000 draws of the same model (the method of
// JCGM 101:2008): a concentration from mass, purity and volume, with the filling
// shared by numerator and denominator of a dilution.
func TestFirstOrderAgainstDraws(t *testing.T) {
	draw := rand.New(rand.NewPCG(1, 2))
	rectangular := func(a float64) float64 { return a * (2*draw.Float64() - 1) }
	triangular := func(a float64) float64 { return a * (draw.Float64() + draw.Float64() - 1) }
	model := func(mass, purity, flask, pipette uncertain.Number) uncertain.Number {
		first := mass.Times(purity).Over(flask)
		return first.Times(pipette).Over(flask)
	}
	c := model(uncertain.New(5.1, 0.0003, src("mass")), uncertain.New(0.9995, uncertain.Rectangular(0.0005), src("purity")),
		uncertain.New(0.25, uncertain.Triangular(0.00015), src("flask")), uncertain.New(0.025, uncertain.Rectangular(0.00003), src("pipette")))
	const draws = 200_000
	sum, squares := 0.0, 0.0
	for range draws {
		x := model(uncertain.Exact(5.1+0.0003*draw.NormFloat64()), uncertain.Exact(0.9995+rectangular(0.0005)),
			uncertain.Exact(0.25+triangular(0.00015)), uncertain.Exact(0.025+rectangular(0.00003))).Value
		sum += x
		squares += x * x
	}
	mean := sum / draws
	sd := math.Sqrt(squares/draws - mean*mean)
	near(t, "mean", mean, c.Value, 4*sd/math.Sqrt(draws))
	near(t, "standard deviation", sd, c.U(), 0.01*c.U())
}

func TestExactNumbersHaveNoBudget(t *testing.T) {
	if b := uncertain.Exact(3).Times(uncertain.Exact(4)).Budget(); b != nil {
		t.Errorf("%v", b)
	}
	if r := uncertain.Exact(0).Relative(); r != 0 {
		t.Errorf("relative uncertainty of an exact zero: %g", r)
	}
	if r := uncertain.New(0, 1, src("x")).Relative(); !math.IsInf(r, 1) {
		t.Errorf("relative uncertainty of zero: %g", r)
	}
	if r := uncertain.Correlation(uncertain.Exact(1), uncertain.New(1, 1, src("x"))); r != 0 {
		t.Errorf("an exact number correlates: %g", r)
	}
}

// Sources with one label make one line of the budget, in quadrature.
func TestBudgetGroupsByLabel(t *testing.T) {
	weight := func(id string, u float64) uncertain.Number {
		return uncertain.New(1, u, uncertain.Source{ID: id, Label: "atomic weights"})
	}
	b := weight("C", 0.3).Plus(weight("H", 0.4)).Plus(uncertain.New(0, 1.2, src("flask"))).Budget()
	if len(b) != 2 || b[0].Label != "flask" || math.Abs(b[1].U-0.5) > 1e-15 || math.Abs(b[1].Fraction-0.25/1.69) > 1e-15 {
		t.Errorf("%+v", b)
	}
}

// Contributions gathered in any order are those of adding them one by one.
func TestGather(t *testing.T) {
	a, b, c := uncertain.Source{ID: "a"}, uncertain.Source{ID: "b"}, uncertain.Source{ID: "c"}
	got := uncertain.Gather(5, []uncertain.Contribution{{c, 3}, {a, 1}, {b, 2}, {a, -4}})
	want := uncertain.New(5, 3, c).Plus(uncertain.New(0, 1, a)).Plus(uncertain.New(0, 2, b)).Plus(uncertain.New(0, -4, a))
	if !reflect.DeepEqual(got, want) || len(uncertain.Gather(1, nil).Contributions) != 0 {
		t.Errorf("%+v, want %+v", got, want)
	}
}

// Sources of one label make one line, which tells the basis of the one that adds most.
func TestBasisOfALine(t *testing.T) {
	small := uncertain.New(1, 0.001, uncertain.Source{ID: "a", Label: "assay", Basis: "small"})
	large := uncertain.New(1, 0.02, uncertain.Source{ID: "b", Label: "assay", Basis: "large"})
	for _, n := range []uncertain.Number{small.Times(large), large.Times(small), small.Minus(large)} {
		if b := n.Budget(); len(b) != 1 || b[0].Basis != "large" {
			t.Errorf("%+v", b)
		}
	}
}

// Contributions that come in out of order, or one of them twice, are those of their sources all the
// same: 1.1e-4 and 0.7e-4 of one source are 1.8e-4, not 1.30e-4.
func TestUnsortedContributionsComeIn(t *testing.T) {
	var a, b uncertain.Number
	for text, n := range map[string]*uncertain.Number{
		`{"value": 1, "contributions": [{"id": "flask", "label": "flask", "u": 1.1e-4}, {"id": "balance", "label": "balance", "u": 2e-5}]}`: &a,
		`{"value": 2, "contributions": [{"id": "balance", "label": "balance", "u": 1e-5}, {"id": "flask", "label": "flask", "u": 3e-5},
			{"id": "flask", "label": "flask", "u": 4e-5}]}`: &b,
	} {
		if err := json.Unmarshal([]byte(text), n); err != nil {
			t.Fatal(err)
		}
	}
	sum := a.Plus(b)
	if want := math.Hypot(1.8e-4, 3e-5); math.Abs(sum.U()-want) > 1e-12 || len(sum.Contributions) != 2 {
		t.Errorf("u = %g of %v, want %g", sum.U(), sum.Contributions, want)
	}
	if r := uncertain.Correlation(a, b); math.Abs(r-(1.1e-4*7e-5+2e-5*1e-5)/(a.U()*b.U())) > 1e-12 {
		t.Errorf("correlation %g", r)
	}
	// What embeds a number keeps its own fields.
	var named struct {
		uncertain.Number
		Label string `json:"label"`
	}
	if err := json.Unmarshal(
		[]byte(`{"value": 3, "contributions": [{"id": "b", "u": 1}, {"id": "a", "u": 1}], "label": "pH"}`),
		&named,
	); err != nil ||
		named.Label != "pH" || named.Value != 3 ||
		named.Contributions[0].ID != "a" {
		t.Errorf("%+v %v", named, err)
	}
	if err := json.Unmarshal([]byte(`{"value": "x"}`), &a); err == nil {
		t.Error("a text for a value")
	}
}
