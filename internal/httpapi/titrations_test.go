package httpapi_test

import (
	"math"
	"testing"

	"github.com/google/uuid"

	"vialbench/internal/store/storetest"
)

// The computations of titrations and curves through the API, answers checked against the contract:
// EURACHEM/CITAC Guide CG 4, examples A2 and A3, one after the other, with the phthalate and the
// first titre in the budget of the second.
func TestTitrationComputations(t *testing.T) {
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	number := func(id string, value, u float64) object {
		return object{"value": value, "contributions": []object{{"id": id, "label": id, "u": u}}}
	}
	near := func(what string, got any, want, tolerance float64) {
		t.Helper()
		if x, ok := got.(float64); !ok || math.Abs(x-want) > tolerance {
			t.Errorf("%s: %v, want %g", what, got, want)
		}
	}
	expanded := func(n any) float64 {
		sum := 0.0
		for _, c := range n.(object)["contributions"].([]any) {
			u, _ := c.(object)["u"].(float64)
			sum += u * u
		}
		return math.Sqrt(sum)
	}
	volume := func(id string, mL, limits float64) object {
		return number(id, mL, math.Hypot(limits/math.Sqrt(6), mL*2.1e-4*4/math.Sqrt(3)))
	}
	a2 := ra.must(
		200,
		"POST",
		"/compute/titration",
		object{
			"reaction": "phthalate-for-base", "standardise": true, "weighed": true, "endPoint": -1,
			"molarMass": number("M", 204.2212, 0.0038), "purity": number("P", 1, 0.0005/math.Sqrt(3)),
			"trials": []object{{"sample": number("m", 0.3888, 0.0001225), "titre": volume("T1", 18.64, 0.03)}},
		},
	)
	near("A2", a2["c"].(object)["value"], 0.10214, 5e-6)
	a3 := ra.must(200, "POST", "/compute/titration", object{
		"reaction": "strong-acid-by-base", "endPoint": -1, "c": a2["c"],
		"trials": []object{{"sample": volume("pipette", 15, 0.02), "titre": volume("T2", 14.89, 0.03)}},
	})
	near("A3", a3["c"].(object)["value"], 0.10139, 5e-6)
	near("u of A3", math.Hypot(expanded(a3["c"]), 0.001*0.10139), 0.00018, 5e-6)
	if len(a3["budget"].([]any)) != 6 {
		t.Errorf("%v", a3["budget"])
	}
	e := ra.must(
		200,
		"POST",
		"/compute/equation",
		object{"equation": "MnO4- + 8H+ + 5e- -> Mn2+ + 4H2O", "half": "Fe2+ -> Fe3+ + e-", "of": "Fe2+", "by": "MnO4-"},
	)
	if e["text"] != "MnO4- + 8 H+ + 5 Fe^2+ → Mn^2+ + 4 H2O + 5 Fe^3+" || e["sentence"] != "5 mol of Fe2+ for 1 mol of MnO4-" {
		t.Errorf("%v", e)
	}
	acid := object{"formula": "H3PO4", "c": "0,1"}
	c := ra.must(
		200,
		"POST",
		"/compute/curve",
		object{"analyte": acid, "titrant": object{"formula": "NaOH", "c": 0.1}, "volume": 25, "celsius": 25, "volumes": []any{0, 25, "37.5"}},
	)
	near("half way to the second", c["points"].([]any)[2].(object)["pH"], 6.898, 0.003)
	readings := []object{}
	for _, p := range ra.must(200, "POST", "/compute/curve", object{"analyte": acid, "titrant": object{"formula": "NaOH", "c": 0.1}, "volume": 25, "celsius": 25, "points": 60})["points"].([]any) {
		readings = append(readings, object{"volume": p.(object)["volume"], "pH": p.(object)["pH"]})
	}
	f := ra.must(
		200,
		"POST",
		"/compute/fit",
		object{
			"analyte": object{"formula": "H3PO4", "c": 0.11}, "titrant": object{"formula": "NaOH", "c": 0.1}, "volume": 25,
			"celsius": 25, "readings": readings, "find": []string{"c", "pKa"},
		},
	)
	near("fitted", f["fit"].(object)["parameters"].([]any)[0].(object)["value"].(object)["value"], 0.1, 1e-6)
	for path, x := range map[string]struct {
		body    object
		pointer string
	}{
		"/compute/titration": {object{"reaction": "strong-acid-by-base", "c": number("c", 0.1, 0), "trials": []object{{"titre": number("v", 20, 0)}}}, "/trials/0/sample"},
		"/compute/equation":  {object{"equation": "H2 + O2"}, "/equation"},
		"/compute/curve":     {object{"analyte": acid, "titrant": object{"formula": "HCl", "c": 0.1}, "volume": 25, "celsius": 25}, "/titrant/formula"},
		"/compute/fit":       {object{"analyte": acid, "titrant": object{"formula": "NaOH", "c": 0.1}, "volume": 25, "celsius": 25, "readings": readings[:3]}, "/readings"},
	} {
		if status, problem := ra.do("POST", path, x.body); status != 422 || pointers(problem) != x.pointer {
			t.Errorf("%s: %d at %s", path, status, pointers(problem))
		}
	}
	list := ra.must(200, "GET", "/titrations", nil)["list"].([]any)
	if len(list) < 25 || len(ra.must(200, "GET", "/indicators", nil)["list"].([]any)) < 10 {
		t.Errorf("%d titrations", len(list))
	}
}

// What is wrong with a question stands at its own field, not at that of a plan.
func TestAPreviewThatCannotBe(t *testing.T) {
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	question := object{
		"reaction": "phthalate-for-base", "standardise": true, "titrantBottle": "", "by": "pipette", "volume": 25,
		"burette": 50, "celsius": 20,
	}
	asked := object{"id": uuid.NewString(), "kind": "titration", "question": question}
	if status, problem := ra.do("POST", "/plans/preview", asked); status != 422 || pointers(problem) != "/titrantBottle" {
		t.Errorf("%d at %s", status, pointers(problem))
	}
}
