package httpapi_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/internal/httpapi"
	"vialbench/internal/lab"
	"vialbench/internal/store"
	"vialbench/internal/store/storetest"
)

func TestWalkFromPlanToLabel(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	state := func(f object) object {
		t.Helper()
		if f["id"] == nil {
			f["id"] = uuid.NewString()
		}
		return ra.must(200, "POST", "/runs/"+run+"/facts", f)
	}
	state(reading("tared", "0.0000"))
	weighed := reading("weighed", "5.0918")
	state(weighed)
	again := state(weighed) // a repeated send
	if n := len(again["facts"].([]any)); n != 2 {
		t.Fatalf("%d facts after a repeated send, want 2", n)
	}
	weighed["quantity"] = object{"text": "5.1 g"}
	if status, _ := ra.do("POST", "/runs/"+run+"/facts", weighed); status != 409 {
		t.Errorf("another reading under the same ID: %d, want 409", status)
	}
	state(object{"kind": "decided", "choice": "keep-mass"})
	state(object{"kind": "transferred", "count": 3})
	state(object{"kind": "dissolved", "choice": "clear"})
	state(object{"kind": "temperature", "quantity": object{"text": "20.4", "unit": "°C"}})
	state(object{"kind": "mark", "choice": "reached"})
	state(object{"kind": "mixed", "count": 20})
	finished := state(object{"kind": "labelled", "date": "2099-01-31", "text": "<b>for</b> everyone"})
	outcome := finished["outcome"].(object)
	if outcome["status"] != "finished" || !strings.HasPrefix(outcome["figures"].([]any)[0].(object)["text"].(string), "0.0996") {
		t.Errorf("outcome %v %v", outcome["status"], outcome["figures"])
	}
	bottle := finished["bottles"].([]any)[0].(string)
	for _, paper := range []string{"label", "a4", "letter"} {
		status, pdf := ra.do("GET", "/labels?bottle="+bottle+"&paper="+paper, nil)
		if status != 200 || !strings.HasPrefix(pdf["text"].(string), "%PDF") {
			t.Errorf("label on %s: %d", paper, status)
		}
	}
	lines := ra.must(200, "GET", "/runs/"+run+"/working?figure=concentration", nil)["list"].([]any)
	if len(lines) < 5 {
		t.Errorf("%d lines of working", len(lines))
	}
	log := ra.must(200, "GET", "/logbook?q=everyone&person=RA", nil)
	if items := log["items"].([]any); len(items) != 1 || !strings.Contains(items[0].(object)["sentence"].(string), "<b>for</b> everyone") {
		t.Errorf("search in the logbook: %v", log["items"])
	}
	_, csv := ra.do("GET", "/logbook.csv", nil)
	if text := csv["text"].(string); !strings.Contains(text, "Weighed 5.0918 g") || strings.Count(text, "\r\n") != 10 {
		t.Errorf("logbook as CSV: %s", text)
	}
	if records := ra.must(200, "GET", "/export", nil); records["format"] != lab.RecordsFormat {
		t.Errorf("export: %v", records["format"])
	}
	today := ra.must(200, "GET", "/today", nil)
	if len(today["open"].([]any)) != 0 || today["bottles"] != 1.0 {
		t.Errorf("today: %s", today["text"])
	}
	if shelf := ra.must(200, "GET", "/bottles?q=PHTHALATE", nil)["items"].([]any); len(shelf) != 1 {
		t.Errorf("%d bottles", len(shelf))
	}
}

func TestWhoMayDoWhat(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	stranger := newPerson(t, base)
	if needed := stranger.must(200, "GET", "/setup", nil)["needed"]; needed != true {
		t.Errorf("an empty lab needs setup: %v", needed)
	}
	ra, run := begin(t, base)
	for _, path := range []string{"/today", "/runs/" + run, "/logbook", "/export", "/people", "/session"} {
		if status, _ := stranger.do("GET", path, nil); status != 401 {
			t.Errorf("a stranger reads %s: %d, want 401", path, status)
		}
	}
	if status, _ := stranger.do("POST", "/session", object{"login": "ashdown", "password": "wrong"}); status != 401 {
		t.Errorf("wrong password: %d", status)
	}
	if status, _ := stranger.do("POST", "/setup", object{"name": "X", "initials": "X", "login": "x", "password": password}); status != 409 {
		t.Errorf("a second first instructor: %d", status)
	}
	ra.must(
		201,
		"POST",
		"/people",
		object{"name": "Imani Thorne", "initials": "IT", "login": "thorne", "password": password, "role": "assistant"},
	)
	it := newPerson(t, base)
	it.must(200, "POST", "/session", object{"login": "thorne", "password": password})
	for path, body := range map[string]object{
		"/people":     {"name": "X", "initials": "X", "login": "x", "password": password},
		"/balances":   fern,
		"/substances": {"name": "X", "formula": "NaCl", "class": "primary", "source": "s"},
		"/systems":    {"name": "X", "acid": "HX", "constants": []object{{"pKa": 4, "u": 0.02}}, "source": "s"},
		"/import":     {"format": lab.RecordsFormat},
	} {
		if status, _ := it.do("POST", path, body); status != 403 {
			t.Errorf("an assistant writes %s: %d, want 403", path, status)
		}
	}
	it.must(200, "POST", "/runs/"+run+"/facts", reading("tared", "0.0000"))
	if status, _ := ra.do("POST", "/balances", fern, "Origin", "https://elsewhere.example", "Sec-Fetch-Site", "cross-site"); status != 403 {
		t.Errorf("a write from another site: %d, want 403", status)
	}
	ra.must(204, "DELETE", "/session", nil)
	if status, _ := ra.do("GET", "/today", nil); status != 401 {
		t.Errorf("after signing out: %d", status)
	}
}

func TestConflictSaysWhatChanged(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	ra.must(200, "POST", "/runs/"+run+"/facts", reading("tared", "0.0000"))
	late := reading("weighed", "5.1000")
	late["seen"] = 0
	status, problem := ra.do("POST", "/runs/"+run+"/facts", late)
	if status != 409 || !strings.Contains(problem["detail"].(string), "RA: Tared, the balance shows 0.0000 g") {
		t.Errorf("%d %v", status, problem["detail"])
	}
	bench := ra.must(200, "GET", "/bench", nil)
	change := object{"session": "Pond-water week", "waterTemperature": 21.4, "version": bench["version"]}
	ra.must(200, "PUT", "/bench", change)
	if status, _ := ra.do("PUT", "/bench", change); status != 409 {
		t.Errorf("the bench changed from an old version: %d", status)
	}
}

func TestBadInputNamesTheField(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	with := func(field string, value any) object {
		q := question(ra)
		q[field] = value
		return q
	}
	ra.must(200, "POST", "/runs/"+run+"/facts", reading("tared", "0.0000"))
	for _, c := range []struct {
		path    string
		body    any
		status  int
		pointer string
		says    string
	}{
		{"/compute/formula", object{"formula": "Khc"}, 422, "/formula", "potassium is K, then H"},
		{"/compute/standard", with("assayPercent", 0), 422, "/assay", "above 0"},
		{"/compute/standard", with("assayPercent", 103), 422, "/assay", "at most 102"},
		{"/compute/standard", with("volume", object{"text": "70 L"}), 422, "/volume", "at most 60 L"},
		{"/compute/standard", with("volume", object{"text": ""}), 422, "/volume", "nothing written"},
		{"/compute/standard", with("concentration", object{"text": "0.1 g"}), 422, "/concentration", "is a mass"},
		{"/compute/standard", with("concentration", object{"value": 1, "unit": "g"}), 422, "/concentration", "in mol/L, g/L"},
		{"/compute/standard", with("concentration", object{"text": "5 %"}), 422, "/concentration", "does not say of what"},
		{"/compute/standard", with("concentration", object{"text": "0.5 mol/kg"}), 422, "/solutionDensity", "needs the density"},
		{"/compute/standard", with("concentration", object{"text": "0.1 N"}), 422, "/equivalentCount", "how many equivalents"},
		{"/compute/standard", with("waters", 99), 422, "/waters", "0 to 24"},
		{"/compute/standard", with("of", "P"), 422, "/of", "no P in"},
		{"/compute/standard", with("volume", "250 mL"), 400, "/volume", "object"},
		{"/compute/quantity", object{"text": strings.Repeat("9", 10000), "dimensions": []string{"mass"}}, 422, "/text", "too long"},
		{"/compute/quantity", object{"text": "1", "dimensions": []string{"charm"}}, 400, "/dimensions/0", "one of the allowed values"},
		{"/runs/" + run + "/facts", reading("weighed", "-1"), 422, "/quantity", "above zero"},
		{"/runs/" + run + "/facts", reading("weighed", "0"), 422, "/quantity", "above zero"},
		{"/runs/" + run + "/facts", reading("weighed", "1e9 g"), 422, "/quantity", "up to 220 g"},
		{"/runs/" + run + "/facts", reading("weighed", "5 mL"), 422, "/quantity", "is a volume"},
		{"/runs/" + run + "/facts", object{"id": uuid.NewString(), "kind": "weighed"}, 422, "/quantity", "missing"},
		{"/runs/" + run + "/facts", object{"id": "1", "kind": "weighed"}, 400, "/id", ""},
		{"/runs/" + run + "/facts", object{"kind": "weighed", "colour": 1}, 400, "", ""},
		{"/runs/" + run + "/facts", "{", 400, "", ""},
		{"/substances", object{"name": "Salt", "formula": "Na+", "class": "primary", "source": "s"}, 422, "/formula", "no charge"},
		{
			"/systems",
			object{"name": "Acid", "acid": "C2H4O2", "constants": []object{{"pKa": 5, "u": 0.1}, {"pKa": 4, "u": 0.1}}, "source": "s"},
			422,
			"/constants/1/pKa", "go up from step to step",
		},
		{"/people", object{"name": "A", "initials": "RA", "login": "ashdown", "password": password}, 422, "/login /initials", "taken"},
		{"/people", object{"name": "A", "initials": "A", "login": "a", "password": "short"}, 422, "/password", "at least 10"},
		{"/compute/standard", with("makeUp", "mass"), 422, "/solutionDensity", "needs the density of the solution"},
		{"/compute/standard", with("also", []object{{"substance": question(ra)["substance"], "assayPercent": 0, "concentration": object{"text": "1 mol/L"}}}), 422, "/also/0/assay", "above 0"},
		{"/glass", object{"kind": "burette", "volume": 55, "class": "A", "count": 1}, 422, "/volume", "10, 25, 50, 100"},
		{"/glass", object{"kind": "burette", "volume": 50, "class": "A", "count": 1, "mark": "B1", "certified": 50.01, "certifiedLimits": 60}, 422, "/certifiedLimits", "less than the volume"},
		{"/bottles/pool", object{"id": uuid.NewString(), "bottles": []string{uuid.NewString()}}, 404, "", "not there"},
		{"/runs", object{"id": uuid.NewString(), "planId": uuid.NewString()}, 404, "", "not there"},
	} {
		status, problem := ra.do("POST", c.path, c.body)
		detail, _ := problem["detail"].(string)
		if status != c.status || !strings.Contains(problem["text"].(string), c.says) || c.pointer != "" && pointers(problem) != c.pointer ||
			detail == "" {
			t.Errorf("%s %.80v: %d %v at %q; want %d, “%s” at %s", c.path, c.body, status, detail, pointers(problem), c.status, c.says, c.pointer)
		}
	}
}

// The stateless computation answers alike through the API and on the command line.
func TestComputeAlikeEverywhere(t *testing.T) {
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	body, err := json.Marshal(question(ra))
	if err != nil {
		t.Fatal(err)
	}
	line, err := httpapi.Compute(t.Context(), "standard", body)
	if err != nil {
		t.Fatal(err)
	}
	var a, b any
	answer := ra.must(200, "POST", "/compute/standard", string(body))
	if json.Unmarshal(line, &a) != nil || json.Unmarshal([]byte(answer["text"].(string)), &b) != nil || fmt.Sprint(a) != fmt.Sprint(b) {
		t.Error("the answers differ")
	}
	if mass := answer["recipe"].(object)["takeText"]; mass != "5.1081" {
		t.Errorf("mass %v, want 5.1081", mass)
	}
	for operation, says := range map[string]string{"nonsense": "use one of additions, back, buffer, calibrate, calibration, capacity, compare, curve, diagnose, dilution, dilution/working, equation, fit, formula, line, mixture, needs, overlay, ph, quantity, scan, schedule, slips, speciation, spectrum, standard, standard-additions, step, supply, table, titration, unknowns", "formula": "is not JSON"} {
		if _, err := httpapi.Compute(t.Context(), operation, []byte("{")); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", operation, err)
		}
	}
}

// Two server processes on one database: what is stated through one is heard
// through the other.
func TestEventsCrossProcesses(t *testing.T) {
	first, address := storetest.OpenWithURL(t)
	second, err := store.Open(address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = second.Close() })
	ra, run := begin(t, newServer(t, first))
	elsewhere := newPerson(t, newServer(t, second))
	elsewhere.must(200, "POST", "/session", object{"login": "ashdown", "password": password})

	ctx, stop := context.WithTimeout(t.Context(), 2*time.Minute)
	defer stop()
	r, _ := http.NewRequestWithContext(ctx, http.MethodGet, elsewhere.base+"/api/v1/events", nil)
	stream, err := elsewhere.client.Do(r)
	if err != nil || stream.StatusCode != http.StatusOK {
		t.Fatal(stream, err)
	}
	defer stream.Body.Close() //nolint:errcheck // the test is over
	lines := bufio.NewScanner(stream.Body)
	for lines.Scan() && !strings.Contains(lines.Text(), "joined") {
		continue
	}
	heard := make(chan bool)
	go func() {
		for lines.Scan() {
			if strings.Contains(lines.Text(), "run "+run) {
				heard <- true
				return
			}
		}
		heard <- false
	}()
	note := func() {
		ra.must(200, "POST", "/runs/"+run+"/facts", object{"id": uuid.NewString(), "kind": "note", "text": "stirring"})
	}
	for range 50 { // the listener of a new process may need a moment
		note()
		select {
		case ok := <-heard:
			if !ok {
				t.Error("the stream ended")
			}
			return
		case <-time.After(100 * time.Millisecond):
		}
	}
	t.Error("nothing was heard")
}

// The plan takes balance, temperature and rules from the lab, whatever was sent.
func TestPlanTakesTheBenchOfTheLab(t *testing.T) {
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	q := question(ra)
	q["balance"] = object{"name": "Other", "capacity": 1, "resolution": 0.1, "repeatability": 0, "linearity": 0}
	q["waterTemperature"] = 39
	q["thresholds"] = object{"W-2": 5}
	kept := asked(q)
	plan := ra.must(201, "POST", "/plans", kept)
	if plan["design"].(object)["balance"].(object)["name"] != "Fern" || plan["design"].(object)["recipe"].(object)["takeText"] != "5.1081" {
		t.Errorf("%s", plan["text"])
	}
	if again := ra.must(201, "POST", "/plans", kept); again["number"] != plan["number"] {
		t.Error("a plan sent twice was kept twice")
	}
	q["substance"].(object)["key"] = "unknown"
	if status, problem := ra.do("POST", "/plans", asked(q)); status != 422 || pointers(problem) != "/question/substance/key" {
		t.Errorf("an unknown substance: %d at %s", status, pointers(problem))
	}
}

// The logbook is narrowed by person, day and text, and shows a correction beside
// what it corrects.
func TestLogbookFilters(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	old := reading("tared", "0.0010")
	ra.must(200, "POST", "/runs/"+run+"/facts", old)
	fix := reading("tared", "0.0001")
	fix["replaces"], fix["reason"] = old["id"], "misread the 100 % sign_"
	ra.must(200, "POST", "/runs/"+run+"/facts", fix)
	today, tomorrow := time.Now().UTC().Format(time.DateOnly), time.Now().UTC().AddDate(0, 0, 1).Format(time.DateOnly)
	for query, want := range map[string]int{
		"": 2, "person=RA": 2, "person=XY": 0, "from=" + today: 2, "from=" + tomorrow: 0, "to=" + today: 2,
		"q=phthalate": 2, "q=0.0010": 1, "q=100+%25+sign_": 1, "q=100+%25+signs": 0, "q=%25": 1, "q=_": 1,
	} {
		if items := ra.must(200, "GET", "/logbook?"+query, nil)["items"].([]any); len(items) != want {
			t.Errorf("%q: %d entries, want %d", query, len(items), want)
		}
	}
	first := ra.must(200, "GET", "/logbook?q=0.0010", nil)["items"].([]any)[0].(object)
	if first["corrected"] != true || first["correctedBy"] != "RA" {
		t.Errorf("%v", first)
	}
	if status, _ := ra.do("GET", "/logbook?from=yesterday", nil); status != 400 {
		t.Errorf("from yesterday: %d", status)
	}
	_, twice := ra.do(
		"POST",
		"/runs/"+run+"/facts",
		object{"id": uuid.NewString(), "kind": "tared", "quantity": object{"text": "0 g"}, "replaces": old["id"], "reason": "again"},
	)
	if pointers(twice) != "/replaces" {
		t.Errorf("corrected twice: %v", twice["text"])
	}
}
