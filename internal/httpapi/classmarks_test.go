package httpapi_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/demo"
)

// A class is told beside earlier ones that had a task of the same title and unit, whatever their bottles held.
func TestEarlierClasses(t *testing.T) {
	c := openedClass(t, object{"held": "0.0020 mol/L"})
	enter := func(task string, stated ...string) {
		t.Helper()
		var list []any
		for i, x := range stated {
			list = append(list, object{"group": i + 1, "stated": x})
		}
		c.instructor.must(200, "POST", "/class-tasks/"+task+"/results", object{"results": list})
	}
	enter(c.task, "0.00202", "0.00204", "0.0030")
	if list := c.instructor.must(200, "GET", "/class-tasks/"+c.task+"/earlier", nil)["list"].([]any); len(list) != 0 {
		t.Errorf("the first class has earlier ones: %v", list)
	}
	next := func(title, unit, held string) string {
		t.Helper()
		session, task := uuid.NewString(), uuid.NewString()
		c.instructor.must(200, "POST", "/lab-sessions", object{"id": session, "session": hardness("A year later"), "version": 0})
		body := object{"id": task, "plan": c.plan["id"], "unit": unit, "title": title}
		if held != "" {
			body["held"] = held
		}
		c.instructor.must(200, "POST", "/lab-sessions/"+session+"/class/tasks", body)
		c.instructor.must(200, "POST", "/lab-sessions/"+session+"/class/groups", nil)
		return task
	}
	second, other := next("hardness", "mol/L", ""), next("Hardness", "mmol/L", "")
	enter(second, "0.0500", "0.0505", "0.0495")
	list := c.instructor.must(200, "GET", "/class-tasks/"+second+"/earlier", nil)["list"].([]any)
	if len(list) != 1 {
		t.Fatalf("%v", list)
	}
	first := list[0].(object)
	if first["task"] != c.task || first["title"] != "Hardness of the pond" || first["results"] != 3.0 || math.Abs(first["error"].(float64)-2) > 1e-9 {
		t.Errorf("%v", first)
	}
	if list = c.instructor.must(200, "GET", "/class-tasks/"+other+"/earlier", nil)["list"].([]any); len(list) != 0 {
		t.Errorf("in another unit: %v", list)
	}
	third := next("Hardness", "mol/L", "0.1 mol/L")
	list = c.instructor.must(200, "GET", "/class-tasks/"+third+"/earlier", nil)["list"].([]any)
	if len(list) != 2 || list[0].(object)["task"] != second || list[0].(object)["error"] != nil {
		t.Fatalf("%v", list)
	}
	// −1, 0 and +1 % of the median: 1.134 times a standard deviation of 1 %, drawn in nowhere.
	if sd := list[0].(object)["scatter"].(float64); math.Abs(sd-1.134) > 1e-6 {
		t.Errorf("scatter %g", sd)
	}
	c.instructor.must(404, "GET", "/class-tasks/"+uuid.NewString()+"/earlier", nil)
}

// A request that is sent again is done once; under the same ID something else is a conflict. A session that is taken off the plan takes
// nothing more from its groups.
func TestTheSameAgainInAClass(t *testing.T) {
	c := openedClass(t, object{"held": "0.002 mol/L"})
	c.group.must(200, "POST", "/class/sign-in", object{"code": c.codes[0]})
	run := c.titrates(c.group, [2]string{"0.35", "21.10"}, [2]string{"0.20", "20.32"})
	handed := uuid.NewString()
	c.group.must(200, "POST", "/class/tasks/"+c.task+"/hand-ins", object{"id": handed, "stated": "0.0021 mol/L"})
	usual := c.instructor.must(200, "GET", "/marks/usual", nil)
	delete(usual, "text")
	for what, x := range map[string]struct {
		method, path string
		ok           int
		body, other  object
	}{
		"word": {
			"POST", "/lab-sessions/" + c.session + "/class/words", 204, object{"said": "Ten minutes more"}, object{"said": "Five minutes more"},
		},
		"judgement": {
			"POST", "/hand-ins/" + handed + "/judgements", 204,
			object{"slip": "factor left out", "confirmed": true},
			object{"slip": "factor left out", "confirmed": false},
		},
		"scheme": {"PUT", "/class-tasks/" + c.task + "/marks", 200, object{"scheme": usual}, object{}},
		"task": {
			"POST", "/lab-sessions/" + c.session + "/class/tasks", 200,
			object{"plan": c.plan["id"], "unit": "mol/L", "title": "Again"},
			object{"plan": c.plan["id"], "unit": "mmol/L", "title": "Again"},
		},
	} {
		id := uuid.NewString()
		x.body["id"], x.other["id"] = id, id
		for range 2 {
			if status, answer := c.instructor.do(x.method, x.path, x.body); status != x.ok {
				t.Errorf("%s: %d %v", what, status, answer["detail"])
			}
		}
		if status, answer := c.instructor.do(x.method, x.path, x.other); status != 409 || !strings.Contains(fmt.Sprint(answer["detail"]), "under the same ID") {
			t.Errorf("another %s under the same ID: %d %v", what, status, answer["detail"])
		}
	}

	c.instructor.must(204, "DELETE", "/lab-sessions/"+c.session+"?version=1", nil)
	for path, body := range map[string]object{
		"/runs/" + run + "/facts":              {"id": uuid.NewString(), "kind": "note", "text": "too late"},
		"/class/tasks/" + c.task + "/hand-ins": {"id": uuid.NewString(), "stated": "0.0022 mol/L"},
		"/class/tasks/" + c.task + "/run":      {"id": uuid.NewString()},
	} {
		if status, answer := c.group.do("POST", path, body); status != 409 || !strings.Contains(fmt.Sprint(answer["detail"]), "was taken off the plan") {
			t.Errorf("%s: %d %v", path, status, answer["detail"])
		}
	}
}

// A course marks by a scheme of its own: by the instructor alone, with the points and reasons in the workbook and on the sheets, until it
// is taken away. A group that worked at the bench has its runs and its notes looked at too.
func TestResultsAreMarked(t *testing.T) {
	c := openedClass(t, object{"held": "0.0010 mol/L"})
	assistant := newPerson(t, c.url)
	assistant.must(200, "POST", "/session", object{"login": "thorne", "password": demo.Password})
	scheme := c.instructor.must(200, "GET", "/marks/usual", nil)
	delete(scheme, "text")
	scheme["title"] = "Hard but fair"
	at := "/class-tasks/" + c.task
	c.instructor.must(200, "POST", at+"/results", object{"results": []any{
		object{"group": 1, "stated": "0.00101"}, object{"group": 2, "stated": "0.0013"},
	}})
	id := uuid.NewString()
	if status, _ := assistant.do("PUT", at+"/marks", object{"id": id, "scheme": scheme}); status != 403 {
		t.Errorf("an assistant marks: %d", status)
	}
	bad := object{"format": scheme["format"], "title": "x", "parts": []any{object{"of": "style", "points": 3}}}
	if status, problem := c.instructor.do("PUT", at+"/marks", object{"id": id, "scheme": bad}); status != 422 || pointers(problem) != "/scheme/parts/0/of" {
		t.Errorf("%d at %s", status, pointers(problem))
	}
	if status, _ := c.instructor.do("PUT", "/class-tasks/"+uuid.NewString()+"/marks", object{"id": id, "scheme": scheme}); status != 404 {
		t.Errorf("a task that is none: %d", status)
	}
	var out object
	for range 2 { // sent again, it is the same
		out = c.instructor.must(200, "PUT", at+"/marks", object{"id": id, "scheme": scheme})
	}
	if out["scheme"].(object)["title"] != "Hard but fair" {
		t.Errorf("%v", out["scheme"])
	}
	for i, want := range []float64{40, 0} { // of 1 % and 30 % off; there are no runs and no figures
		m := out["results"].([]any)[i].(object)["marked"].(object)
		lines := m["lines"].([]any)
		if lines[0].(object)["points"] != want || lines[1].(object)["most"] != 0.0 || lines[2].(object)["most"] != 0.0 || m["of"] != 40.0 {
			t.Errorf("%v", m)
		}
	}
	_, workbook := c.instructor.do("GET", at+"/results.xlsx", nil)
	tabs := readWorkbook(t, workbook["text"].(string))
	if first := strings.Split(tabs["Marks"], "\n"); len(first) < 11 || first[0] != "group|part|points|of|why" || !strings.HasPrefix(first[1], "Group 1|accuracy|40|40|+1.0 % off: within ") {
		t.Errorf("%q", tabs["Marks"])
	}
	if !strings.Contains(strings.Split(tabs["Results"], "\n")[0], "|marks|of") {
		t.Errorf("%q", tabs["Results"])
	}
	_, pdf := c.instructor.do("GET", at+"/feedback.pdf", nil)
	if text := pdfText(t, pdf["text"].(string)); !strings.Contains(text, "Your marks") || !strings.Contains(text, "40 of 40") || !strings.Contains(text, "Not marked: there are no two runs") {
		t.Errorf("%s", text)
	}
	out = c.instructor.must(200, "PUT", at+"/marks", object{"id": uuid.NewString()})
	if out["scheme"] != nil || out["results"].([]any)[0].(object)["marked"] != nil {
		t.Errorf("no longer marked, and yet %v", out["scheme"])
	}
}
