package httpapi_test

import (
	"math"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/internal/store/storetest"
)

// The stateless computations over HTTP: the values are those of the tests of the core.
func TestEquilibriaOverHTTP(t *testing.T) {
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	near := func(what string, got any, want, within float64) {
		t.Helper()
		if value, ok := got.(float64); !ok || math.Abs(value-want) > within {
			t.Errorf("%s: %v, want %g", what, got, want)
		}
	}
	acetate := []object{{"formula": "CH3COOH", "c": "0,05"}, {"formula": "CH3COONa·3H2O", "c": 0.05}}
	a := ra.must(200, "POST", "/compute/speciation", object{"contents": acetate, "celsius": "25"})
	near("pH", a["pH"].(object)["value"], 4.663, 0.01)
	near("strength", a["strength"], 0.05, 1e-4)
	if list := a["species"].([]any); len(list) != 5 {
		t.Errorf("species %v", list)
	}
	_, added := ra.do("POST", "/compute/additions", object{
		"contents": acetate, "volume": 20, "celsius": 25,
		"titrant": []object{{"formula": "HCl", "c": 0.1}}, "volumes": []any{0, "5"},
	})
	if text := added["text"].(string); !strings.Contains(text, `"pH":4.20`) {
		t.Errorf("additions: %s", text)
	}
	c := ra.must(200, "POST", "/compute/capacity", object{
		"contents": acetate, "volume": 50, "celsius": 25, "acid": true, "c": 0.1,
		"readings": []object{{"pH": 4.66}, {"added": 2, "pH": "4.59"}, {"added": 4, "pH": 4.52}},
	})
	near("β", c["steps"].([]any)[0].(object)["beta"].(object)["value"], 0.1*2/51/0.07, 1e-9)
	balance := ra.must(200, "GET", "/balances/usual", nil)
	delete(balance, "text")
	wanted := object{
		"target": "7,9", "celsius": 25, "concentration": object{"text": "0.05 mol/L"}, "volume": object{"text": "250 mL"},
		"balance": balance, "flaskClass": "A", "system": "tris",
	}
	upsideDown := false // somewhere between the pKa and as far above it as the target lies below
	for measured := 8.2; measured < 8.7; measured += 0.03 {
		d := ra.must(200, "POST", "/compute/diagnose", object{"buffer": wanted, "measured": measured})
		for _, cause := range d["causes"].([]any) {
			upsideDown = upsideDown || cause.(object)["slips"].([]any)[0] == "ratio"
		}
	}
	if !upsideDown {
		t.Error("the ratio upside down is never named")
	}
	for path, x := range map[string]struct {
		body    object
		pointer string
	}{
		"/compute/speciation": {object{"contents": []object{{"formula": "Unobtainium"}}, "celsius": 25}, "/contents/0/formula"},
		"/compute/additions":  {object{"contents": acetate, "volume": 0, "celsius": 25, "titrant": acetate, "volumes": []any{1}}, "/volume"},
		"/compute/capacity":   {object{"volume": 50, "celsius": 25, "c": 0.1, "readings": []object{{"pH": 7}, {"drops": 3, "pH": 8}}}, "/drop"},
		"/compute/buffer": {object{
			"target": 7, "celsius": 25, "concentration": object{"text": "5 g/L"}, "volume": object{"text": "1 L"},
			"balance": balance, "flaskClass": "A",
		}, "/concentration"},
	} {
		if status, problem := ra.do("POST", path, x.body); status != 422 || pointers(problem) != x.pointer {
			t.Errorf("%s: %d at %s", path, status, pointers(problem))
		}
	}
}

// A buffer made of a bottle on the shelf follows that bottle; its capacity test follows the
// buffer. What is in a bottle has to be known.
func TestBuffersOverHTTP(t *testing.T) {
	ra := demoLab(t)
	stock, phosphate, asP := "", "", ""
	for _, item := range ra.must(200, "GET", "/bottles", nil)["items"].([]any) {
		b := item.(object)
		switch title := b["title"].(string); {
		case strings.HasPrefix(title, "Potassium hydrogen phthalate"):
			stock = b["id"].(string)
		case strings.HasPrefix(title, "Phosphate buffer"):
			phosphate = b["id"].(string)
		case strings.HasSuffix(title, "100 mg/L as P"):
			asP = b["id"].(string)
		}
	}
	balance := ra.must(200, "GET", "/balances/usual", nil)
	delete(balance, "text")
	plan := ra.must(201, "POST", "/plans", object{"id": uuid.NewString(), "kind": "buffer", "question": object{
		"target": "5,0", "celsius": 21.4, "concentration": object{"text": "0.05 mol/L"}, "volume": object{"text": "100 mL"},
		"balance": balance, "flaskClass": "A", "system": "phthalic",
	}})
	design := plan["design"].(object)
	if acid := design["acid"].(string); !strings.Contains(acid, "bottle ") {
		t.Fatalf("made of %s, not of the bottle on the shelf", acid)
	}
	run := ra.must(201, "POST", "/runs", object{"id": uuid.NewString(), "planId": plan["id"]})["summary"].(object)["id"].(string)
	state := func(f object) object {
		t.Helper()
		f["id"] = uuid.NewString()
		return ra.must(200, "POST", "/runs/"+run+"/facts", f)
	}
	state(object{"kind": "watered", "choice": "in"})
	state(object{"kind": "measured", "quantity": object{"text": "50 mL"}})
	state(object{"kind": "measured", "part": 1, "quantity": object{"text": "22.1 mL"}}) // of the lye on the shelf
	got := state(object{"kind": "stirred", "choice": "clear"})
	concentration := func(run object) string {
		for _, f := range run["outcome"].(object)["figures"].([]any) {
			if figure := f.(object); figure["role"] == "concentration" {
				return figure["text"].(string)
			}
		}
		return ""
	}
	before := concentration(got)
	if !strings.HasPrefix(before, "0.04") && !strings.HasPrefix(before, "0.05") {
		t.Errorf("the buffer has %s mol/L", before)
	}
	// The standard was weighed wrongly: what was made of it moves.
	parent := ra.must(200, "GET", "/bottles/"+stock, nil)["runId"].(string)
	for _, line := range ra.must(200, "GET", "/runs/"+parent, nil)["facts"].([]any) {
		if f := line.(object)["fact"].(object); f["kind"] == "weighed" {
			ra.must(
				200,
				"POST",
				"/runs/"+parent+"/facts",
				object{
					"id": uuid.NewString(), "kind": "weighed", "replaces": f["id"], "reason": "misread",
					"quantity": object{"text": "5.0018 g"},
				},
			)
		}
	}
	if after := concentration(ra.must(200, "GET", "/runs/"+run, nil)); after == before {
		t.Errorf("the stock moved, and the buffer still has %s mol/L", after)
	}
	test := func(bottle string) object {
		return object{"id": uuid.NewString(), "kind": "capacity", "question": object{
			"bottle": bottle, "volume": 50, "acid": "0.1", "base": 0,
			"portion": "1", "water": true, "celsius": 21.4,
		}}
	}
	kept := ra.must(201, "POST", "/plans", test(phosphate))
	if design := kept["design"].(object); len(design["beakers"].([]any)) != 2 || design["start"] != "7.03" {
		t.Errorf("%v, from pH %v", design["beakers"], design["start"])
	}
	if status, problem := ra.do("POST", "/plans", test(asP)); status != 422 || pointers(problem) != "/question/bottle" {
		t.Errorf("%d at %s", status, pointers(problem))
	}
	drops := test(phosphate)
	drops["question"].(object)["drops"] = 5
	if status, problem := ra.do("POST", "/plans", drops); status != 422 || pointers(problem) != "/question/drop" {
		t.Errorf("drops without their volume: %d at %s", status, pointers(problem))
	}
}

// A plan that is taken up again reads with the meter and the calibration that hold then.
func TestAPlanTakesTheCalibrationOfTheDay(t *testing.T) {
	ra := demoLab(t)
	var plan, phosphate object
	for _, item := range ra.must(200, "GET", "/plans", nil)["items"].([]any) {
		if p := item.(object); p["kind"] == "buffer" && strings.HasPrefix(p["title"].(string), "Phosphate") {
			plan = p
		}
	}
	bench := ra.must(200, "GET", "/bench", nil)
	begin := func() object {
		return ra.must(201, "POST", "/runs", object{"id": uuid.NewString(), "planId": plan["id"]})
	}
	// It was made before the meter was calibrated last: it is taken up with that calibration.
	if again := begin()["plan"].(object); again["id"] == plan["id"] {
		t.Error("the plan of the morning, with its calibration")
	} else {
		plan = again
	}
	if phosphate = begin(); phosphate["plan"].(object)["id"] != plan["id"] {
		t.Error("another plan, though nothing changed")
	}
	for _, m := range ra.must(200, "GET", "/meters", nil)["list"].([]any) {
		if meter := m.(object); meter["meter"].(object)["name"] == "Coot" {
			change := object{
				"session":          bench["session"],
				"waterTemperature": bench["waterTemperature"],
				"version":          bench["version"],
				"meterId":          meter["id"],
			}
			ra.must(200, "PUT", "/bench", change)
		}
	}
	again := begin()
	if again["plan"].(object)["id"] == plan["id"] || again["summary"].(object)["title"] != phosphate["summary"].(object)["title"] {
		t.Errorf("%v", again["summary"])
	}
	for _, s := range again["outcome"].(object)["steps"].([]any) {
		if step := s.(object); step["id"] == "read 0" && step["instrument"] != "Coot" {
			t.Errorf("read with %v", step["instrument"])
		}
	}
}
