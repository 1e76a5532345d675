package httpapi_test

import (
	"bufio"
	"cmp"
	"context"
	"encoding/base64"
	"fmt"
	"math"
	"net"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/demo"
	"vialbench/internal/standin"
)

// corrects a reading of a run, the first in a unit, by so much.
func (c *class) corrects(run, unit string, by float64) {
	c.t.Helper()
	for _, line := range c.instructor.must(200, "GET", "/runs/"+run, nil)["facts"].([]any) {
		f := line.(object)["fact"].(object)
		q, ok := f["quantity"].(object)
		if !ok || q["unit"] != unit {
			continue
		}
		again := object{
			"id": uuid.NewString(), "kind": f["kind"], "part": cmp.Or(f["part"], any(0.0)), "replaces": f["id"], "reason": "misread",
			"quantity": object{"text": fmt.Sprintf("%.1f %s", q["value"].(float64)+by, unit)},
		}
		if beside, ok := f["beside"].([]any); ok && len(beside) > 0 {
			b := beside[0].(object)
			again["beside"] = []object{{"text": fmt.Sprintf("%.1f %v", b["value"], b["unit"])}}
		}
		c.instructor.must(200, "POST", "/runs/"+run+"/facts", again)
		return
	}
	c.t.Fatalf("run %s has no reading in %s", run, unit)
}

// A result is traced without any class: a base standardised by weighed samples, with the start reading never subtracted.
func TestSlipsOfWeighedSamples(t *testing.T) {
	c := openedClass(t, nil)
	trials := []object{{"start": 1.2, "end": 25.8, "sample": 0.5021}, {"start": 0.9, "end": 25.1, "sample": 0.4938}}
	stated := 1000 / 204.22 * (0.5021/25.8 + 0.4938/25.1) / 2
	got := c.instructor.must(200, "POST", "/compute/slips", object{"unit": "mol/L", "stated": fmt.Sprintf("%.4f", stated), "titration": object{
		"trials": trials, "ratio": 1, "standardises": true, "burette": 50, "weighed": object{"molarMass": 204.22},
	}})
	want := 1000 / 204.22 * (0.5021/24.6 + 0.4938/24.2) / 2
	if x := got["calculated"].(float64); math.Abs(x/want-1) > 1e-9 || fmt.Sprint(got["working"].([]any)[0].(object)["slips"]) != "[start left out]" {
		t.Errorf("%v, want %g", got, want)
	}
	problem := c.instructor.must(422, "POST", "/compute/slips", object{"stated": "0.1", "titration": object{
		"trials": trials, "ratio": 1, "weighed": object{"molarMass": 204.22},
	}})
	if !strings.Contains(pointers(problem), "/titration/weighed") {
		t.Errorf("%v", problem)
	}
}

// Verdicts can be kept back, with the figures or alone, until a group handed in.
func TestVerdictsKeptBack(t *testing.T) {
	for _, shows := range []bool{true, false} {
		c := openedClass(t, object{"quiet": true, "shows": shows})
		c.group.must(200, "POST", "/class/sign-in", object{"code": c.codes[0]})
		// The second trial is a whole mL off the first.
		run := c.titrates(c.group, [2]string{"0.35", "21.10"}, [2]string{"0.20", "22.32"})
		sees := func() (figures int, text string) {
			seen := c.group.must(200, "GET", "/runs/"+run, nil)
			for _, s := range seen["outcome"].(object)["steps"].([]any) {
				text += fmt.Sprint(s.(object)["verdicts"])
			}
			return len(seen["outcome"].(object)["figures"].([]any)), text
		}
		whole := fmt.Sprint(c.instructor.must(200, "GET", "/runs/"+run, nil)["outcome"].(object)["steps"])
		if !strings.Contains(whole, "rule:T-") {
			t.Fatalf("two trials that differ are not judged: %s", whole)
		}
		if figures, text := sees(); strings.Contains(text, "rule:T-") || (figures > 0) != shows {
			t.Errorf("shows %v: %d figures, %s", shows, figures, text)
		}
		c.group.must(200, "POST", "/class/tasks/"+c.task+"/hand-ins", object{"id": uuid.NewString(), "stated": "0.002 mol/L"})
		if figures, text := sees(); !strings.Contains(text, "rule:T-") || figures == 0 {
			t.Errorf("shows %v, handed in: %d figures, %s", shows, figures, text)
		}
	}
}

// A solid is sought in per cent by mass: what a group's figures give is told in that, and a stated result is traced.
func TestAPartByMassInAClass(t *testing.T) {
	c := openedClass(t, nil)
	_, bottles := c.instructor.do("GET", "/bottles", nil)
	permanganate := ""
	for _, b := range bottles["items"].([]any) {
		if strings.HasPrefix(fmt.Sprint(b.(object)["name"]), "Potassium permanganate") {
			permanganate = b.(object)["id"].(string)
		}
	}
	plan := c.instructor.must(201, "POST", "/plans", object{"id": uuid.NewString(), "kind": "titration", "question": object{
		"reaction": "permanganate-iron", "standardise": false, "titrantBottle": permanganate, "name": "Pond ochre", "by": "pipette", "volume": 25,
		"burette": 50, "celsius": 20, "dissolved": object{"mass": 8, "flask": 250},
	}})
	c.task = uuid.NewString()
	c.instructor.must(200, "POST", "/lab-sessions/"+c.session+"/class/tasks", object{"id": c.task, "plan": plan["id"], "unit": "% w/w"})
	c.group.must(200, "POST", "/class/sign-in", object{"code": c.codes[0]})
	run := c.group.must(200, "POST", "/class/tasks/"+c.task+"/run", object{"id": uuid.NewString()})["summary"].(object)["id"].(string)
	for _, f := range []object{
		{"kind": "weighed", "quantity": object{"text": "8.0400 g"}}, {"kind": "mark", "choice": "reached"}, {"kind": "mixed", "count": 20},
	} {
		f["id"] = uuid.NewString()
		c.group.must(200, "POST", "/runs/"+run+"/facts", f)
	}
	if got := c.titrates(c.group, [2]string{"0.00", "42.00"}, [2]string{"0.00", "42.00"}); got != run {
		t.Fatal("another run")
	}
	want := c.instructor.must(200, "GET", "/runs/"+run, nil)["outcome"].(object)["figures"].([]any)[0].(object)["value"].(float64)
	c.group.must(200, "POST", "/class/tasks/"+c.task+"/hand-ins", object{"id": uuid.NewString(), "stated": fmt.Sprintf("%.3f %% w/w", want/10)})
	results := c.instructor.must(200, "GET", "/class-tasks/"+c.task+"/results", nil)
	traced := results["results"].([]any)[0].(object)["traced"].(object)
	if math.Abs(traced["calculated"].(float64)/want-1) > 1e-4 || traced["follows"] != false || !strings.Contains(fmt.Sprint(traced["working"]), "aliquot") {
		t.Errorf("%v, want %g", traced, want)
	}
}

// A group has a bench of its own: what it begins then is worked out for that, by names that the lab knows; what it has begun stays, and
// so does the plan of the others.
func TestTheBenchOfAGroup(t *testing.T) {
	c := openedClass(t, object{"held": "0.002 ± 0.00001 mol/L", "shows": true})
	c.group.must(200, "POST", "/class/sign-in", object{"code": c.codes[0]})
	sheet := c.group.must(200, "GET", "/class/sheet", nil)
	burette := ""
	for _, name := range sheet["burettes"].([]any) {
		if strings.HasPrefix(name.(string), "50 mL burette") {
			burette = name.(string)
		}
	}
	if len(sheet["bench"].(object)) != 0 || fmt.Sprint(sheet["balances"]) != "[Fern Moss]" || fmt.Sprint(sheet["meters"]) != "[Coot Heron]" || burette == "" {
		t.Fatalf("%v", sheet)
	}
	first := c.titrates(c.group, [2]string{"0.35", "20.45"})
	for field, body := range map[string]object{
		"/balance": {"balance": "Nobody’s"}, "/burette": {"burette": "60 mL burette"}, "/meter": {"meter": "Wren"}, "/celsius": {"celsius": "55"},
	} {
		if status, problem := c.group.do("PUT", "/class/bench", body); status != 422 || pointers(problem) != field {
			t.Errorf("%v: %d %v", body, status, problem)
		}
	}
	if status, problem := c.group.do("PUT", "/class/bench", object{"celsius": "warm"}); status != 422 || pointers(problem) != "/celsius" {
		t.Errorf("%d %v", status, problem)
	}
	sheet = c.group.must(200, "PUT", "/class/bench", object{"balance": "Moss", "burette": burette, "celsius": "23,5", "meter": ""})
	if at := sheet["bench"].(object); at["balance"] != "Moss" || at["celsius"] != "23.5" || at["burette"] != burette || at["meter"] != nil {
		t.Errorf("%v", at)
	}
	// By this a tablet goes on without a network.
	at := func(who *person, run string) any { return who.must(200, "GET", "/runs/"+run+"/plan", nil)["bench"] }
	if was := at(c.group, first); was != nil {
		t.Errorf("what was begun before: %v", was)
	}
	// A run that is open is gone on with; this one is ended by its group first.
	c.group.must(200, "POST", "/runs/"+first+"/facts", object{"id": uuid.NewString(), "kind": "decided", "choice": "start-again", "text": "another bench"})
	second := c.titrates(c.group, [2]string{"0.35", "20.45"})
	is := at(c.group, second).(object)
	if second == first || is["celsius"] != 23.5 || is["balance"].(object)["name"] != "Moss" || is["burette"].(object)["volume"] != 50.0 || is["probe"] != nil {
		t.Errorf("%v", is)
	}
	other := newPerson(t, c.url)
	other.must(200, "POST", "/class/sign-in", object{"code": c.codes[1]})
	if is := at(other, c.titrates(other, [2]string{"0.35", "20.45"})); is != nil {
		t.Errorf("the bench of another group: %v", is)
	}
	c.group.must(200, "PUT", "/class/bench", object{"meter": "Heron"})
	c.group.must(200, "POST", "/runs/"+second+"/facts", object{"id": uuid.NewString(), "kind": "decided", "choice": "start-again", "text": "with the meter"})
	thirdRun := c.titrates(c.group, [2]string{"0.35", "20.45"})
	third := at(c.group, thirdRun).(object)
	if third["probe"].(object)["calibration"].(object)["meter"].(object)["name"] != "Heron" || third["celsius"] != nil {
		t.Errorf("%v", third)
	}
	// When a reading of that calibration is corrected, what was read with it follows.
	calibration := third["probe"].(object)["run"].(string)
	slope := func(of object) float64 {
		return of["probe"].(object)["calibration"].(object)["slope"].(object)["value"].(float64)
	}
	c.corrects(calibration, "mV", 1.5)
	if now := at(c.group, thirdRun).(object); math.Abs(slope(now)-slope(third)) < 1e-4 {
		t.Errorf("a slope of %g stays %g", slope(third), slope(now))
	}
	if run := c.instructor.must(200, "GET", "/runs/"+second, nil); run["outcome"].(object)["status"] != "void" {
		t.Errorf("%v", run["summary"])
	}
	if status, _ := c.instructor.do("PUT", "/class/bench", object{}); status != 404 {
		t.Errorf("an instructor has no group: %d", status)
	}
}

// The rows of a spreadsheet come back as they stand; what is none says so of the file.
func TestRowsOfASpreadsheet(t *testing.T) {
	p := newPerson(t, newServer(t, demoRecords(t)))
	p.must(200, "POST", "/session", object{"login": "ashdown", "password": demo.Password})
	file := base64.StdEncoding.EncodeToString([]byte("Group;Result\n1;0,0612\n"))
	if rows := p.must(200, "POST", "/compute/table", object{"file": file})["rows"]; fmt.Sprint(rows) != "[[Group Result] [1 0,0612]]" {
		t.Errorf("%v", rows)
	}
	if rows := p.must(200, "POST", "/compute/table", object{"file": ""})["rows"]; len(rows.([]any)) != 0 {
		t.Errorf("%v", rows)
	}
	for _, file := range []string{"not base64!", base64.StdEncoding.EncodeToString([]byte("PK\x03\x04"))} {
		if status, problem := p.do("POST", "/compute/table", object{"file": file}); status != 422 || pointers(problem) != "/file" {
			t.Errorf("%d %v", status, problem)
		}
	}
}

// A group watches the balance on its own bench, and sets it to zero; no other instrument, and not before it stands there.
func TestAGroupWatchesItsOwnInstrument(t *testing.T) {
	c := openedClass(t, nil)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go standin.Serve(t.Context(), listener, standin.NewBalance(220, 0.0001, 5))
	ids := map[string]string{}
	_, list := c.instructor.do("GET", "/balances", nil)
	for _, b := range list["list"].([]any) {
		ids[b.(object)["balance"].(object)["name"].(string)] = b.(object)["id"].(string)
	}
	c.instructor.must(204, "PUT", "/balances/"+ids["Fern"]+"/address", object{"address": listener.Addr().String()})
	c.group.must(200, "POST", "/class/sign-in", object{"code": c.codes[0]})
	watches := func(path string, ask string) (status int, first string) {
		ctx, stop := context.WithCancel(t.Context())
		defer stop()
		r, err := http.NewRequestWithContext(ctx, ask, c.url+"/api/v1"+path, http.NoBody)
		if err != nil {
			t.Fatal(err)
		}
		answer, err := c.group.client.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer answer.Body.Close() //nolint:errcheck // what was wanted was read
		for lines := bufio.NewScanner(answer.Body); answer.StatusCode == http.StatusOK && lines.Scan(); {
			if strings.Contains(lines.Text(), "0.0000 g") {
				return answer.StatusCode, lines.Text()
			}
		}
		return answer.StatusCode, ""
	}
	fern := "/balances/" + ids["Fern"]
	if status, _ := watches(fern+"/live", "GET"); status != 403 {
		t.Errorf("an instrument that is not on the bench: %d", status)
	}
	c.group.must(403, "POST", fern+"/tare", nil)
	sheet := c.group.must(200, "PUT", "/class/bench", object{"balance": "Fern"})
	if got := fmt.Sprint(sheet["connected"]); !strings.Contains(got, ids["Fern"]) || !strings.Contains(got, "of:balances") || len(sheet["connected"].([]any)) != 1 {
		t.Errorf("%s", got)
	}
	if status, first := watches(fern+"/live", "GET"); status != 200 || first == "" {
		t.Errorf("its own balance: %d %q", status, first)
	}
	c.group.must(204, "POST", fern+"/tare", nil)
	for _, path := range []string{"/balances/" + ids["Moss"] + "/live", "/photometers/" + ids["Moss"] + "/live", "/export"} {
		if status, _ := watches(path, "GET"); status != 403 {
			t.Errorf("%s: %d", path, status)
		}
	}
	c.group.must(403, "PUT", fern+"/address", object{"address": ""})
	c.group.must(403, "POST", fern+"/standin", object{"pan": 1})
	// One that is not connected is none to watch.
	if sheet = c.group.must(200, "PUT", "/class/bench", object{"balance": "Moss", "meter": "Heron"}); len(sheet["connected"].([]any)) != 0 {
		t.Errorf("%v", sheet["connected"])
	}
}
