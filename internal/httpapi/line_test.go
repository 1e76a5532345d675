package httpapi_test

import (
	"math"
	"testing"
)

// A line and its unknown, as another program asks for them; what is wrong is named by its place.
func TestLineWithoutALab(t *testing.T) {
	ra := demoLab(t)
	asked := object{
		"x": []any{0, 1, 2, 3, 4, 5}, "y": []any{0.004, 0.121, 0.239, 0.352, 0.474, 0.590},
		"unknowns": []any{object{"name": "pond", "readings": []any{0.298, 0.300, 0.302}}}, "unit": "mg/L",
	}
	got := ra.must(200, "POST", "/compute/line", asked)
	unknown := got["unknowns"].([]any)[0].(object)
	fieller := unknown["fieller"].(object)
	for name, x := range map[string][2]float64{
		"slope":   {got["line"].(object)["slope"].(float64), 0.1172},
		"unknown": {unknown["x"].(float64), 2.528441},
		"from":    {fieller["from"].(float64), 2.496954},
		"to":      {fieller["to"].(float64), 2.559935},
	} {
		if math.Abs(x[0]/x[1]-1) > 1e-6 {
			t.Errorf("%s %g, want %g", name, x[0], x[1])
		}
	}
	if unknown["name"] != "pond" || got["general"] != nil || len(got["points"].([]any)) != 6 {
		t.Errorf("%v", got)
	}
	asked["y"] = []any{0.004, 0.121, 0.239, 0.352, 0.474, 59.0}
	if problem := ra.must(422, "POST", "/compute/line", asked); problem["errors"].([]any)[0].(object)["pointer"] != "/y/5" {
		t.Errorf("%v", problem)
	}
}
