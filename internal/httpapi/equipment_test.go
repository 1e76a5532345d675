package httpapi_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"net"
	"net/http"
	"reflect"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/internal/standin"
	"vialbench/internal/store/storetest"
)

// finished takes a run from its beginning to the label and returns the bottle's ID.
func finished(t testing.TB, ra *person, run string) string {
	t.Helper()
	var last object
	for _, f := range []object{
		reading("tared", "0.0000"), reading("weighed", "5.1000"),
		{"id": uuid.NewString(), "kind": "decided", "choice": "keep-mass"},
		{"id": uuid.NewString(), "kind": "transferred", "count": 3},
		{"id": uuid.NewString(), "kind": "dissolved", "choice": "clear"},
		{"id": uuid.NewString(), "kind": "temperature", "quantity": object{"text": "20.0 °C"}},
		{"id": uuid.NewString(), "kind": "mark", "choice": "reached"},
		{"id": uuid.NewString(), "kind": "mixed", "count": 20},
		{"id": uuid.NewString(), "kind": "labelled", "date": "2030-01-31"},
	} {
		last = ra.must(200, "POST", "/runs/"+run+"/facts", f)
	}
	return last["bottles"].([]any)[0].(string)
}

// Glass is listed, adds up, and goes; a plan made meanwhile keeps what it was made with.
func TestGlassOverHTTP(t *testing.T) {
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	flask := object{"kind": "volumetric flask", "volume": 250, "class": "A", "count": 2}
	first := ra.must(201, "POST", "/glass", flask)
	if again := ra.must(201, "POST", "/glass", flask); again["id"] != first["id"] || again["item"].(object)["count"] != 4.0 {
		t.Errorf("two and two: %v", again)
	}
	if first["tolerance"] != 0.15 || first["standard"] != "ISO 1042" {
		t.Errorf("%v", first)
	}
	marked := object{
		"kind":            "volumetric flask",
		"volume":          250,
		"class":           "A",
		"count":           1,
		"mark":            "F1",
		"certified":       250.03,
		"certifiedLimits": 0.05,
	}
	ra.must(201, "POST", "/glass", marked)
	if status, problem := ra.do("POST", "/glass", marked); status != 422 || pointers(problem) != "/mark" {
		t.Errorf("the same mark twice: %d at %s", status, pointers(problem))
	}
	q := question(ra)
	q["volume"] = object{"text": "600 mL"}
	plan := ra.must(201, "POST", "/plans", asked(q))
	recipe := plan["design"].(object)["recipe"].(object)
	if n := len(recipe["batches"].([]any)); n != 3 || recipe["flask"].(object)["mark"] != "F1" {
		t.Errorf("600 mL in %d batches, flask %v", n, recipe["flask"])
	}
	ra.must(204, "DELETE", "/glass/"+first["id"].(string), nil)
	if status, _ := ra.do("DELETE", "/glass/"+first["id"].(string), nil); status != 404 {
		t.Errorf("removed twice: %d", status)
	}
	if n := len(ra.must(200, "GET", "/glass", nil)["list"].([]any)); n != 1 {
		t.Errorf("%d entries", n)
	}
	if status, problem := ra.do(
		"POST",
		"/runs",
		object{"id": uuid.NewString(), "planId": plan["id"], "batch": 3},
	); status != 422 ||
		pointers(problem) != "/batch" {
		t.Errorf("batch 4 of 3: %d at %s", status, pointers(problem))
	}
}

// A balance is connected, read as a stream, tared and handled; without a cable each of
// these says so, and the stream goes on once it is back.
func TestConnectedBalanceOverHTTP(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	ra, _ := begin(t, base)
	id := ra.must(200, "GET", "/balances", nil)["list"].([]any)[0].(object)["id"].(string)
	if status, problem := ra.do("POST", "/balances/"+id+"/tare", nil); status != 409 ||
		!strings.Contains(problem["text"].(string), "is not connected") {
		t.Errorf("not connected: %d %s", status, problem["text"])
	}
	if status, problem := ra.do("PUT", "/balances/"+id+"/address", object{"address": "here"}); status != 422 ||
		pointers(problem) != "/address" {
		t.Errorf("no port: %d at %s", status, pointers(problem))
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	go standin.Serve(ctx, listener, standin.NewBalance(220, 0.0001, 5))
	ra.must(204, "PUT", "/balances/"+id+"/address", object{"address": listener.Addr().String()})

	r, err := http.NewRequestWithContext(ctx, http.MethodGet, base+"/api/v1/balances/"+id+"/live", nil)
	if err != nil {
		t.Fatal(err)
	}
	stream, err := ra.client.Do(r)
	if err != nil || stream.StatusCode != http.StatusOK || !strings.HasPrefix(stream.Header.Get("Content-Type"), "text/event-stream") {
		t.Fatalf("%v %v", stream, err)
	}
	defer stream.Body.Close() //nolint:errcheck // the test ends
	lines := bufio.NewScanner(stream.Body)
	wait := func(what string, want func(object) bool) {
		t.Helper()
		for until := time.Now().Add(time.Minute); lines.Scan() && time.Now().Before(until); {
			data, ok := strings.CutPrefix(lines.Text(), "data:")
			var event object
			if ok && json.Unmarshal([]byte(data), &event) == nil && want(event) {
				return
			}
		}
		t.Fatal(what + " never came")
	}
	hand := func(what object) object {
		return ra.must(200, "POST", "/balances/"+id+"/standin", what)
	}
	hand(object{"pan": 12.5})
	wait("a settled reading", func(e object) bool { return e["still"] == true && e["text"] == "12.5000 g" })
	ra.must(204, "POST", "/balances/"+id+"/tare", nil)
	wait("zero", func(e object) bool { return e["text"] == "0.0000 g" })
	if state := hand(object{"door": "OPEN"}); state["door"] != "open" || state["pan"] != 12.5 {
		t.Errorf("%v", state)
	}
	wait("an open door", func(e object) bool { return e["still"] == false && e["verdict"] != nil })
	hand(object{"door": "CLOSED"})
	hand(object{"add": 1000})
	wait("an overload", func(e object) bool { return e["state"] == "overload" && e["text"] == "" })
	hand(object{"link": "OFF"})
	wait("the loss", func(e object) bool {
		return e["state"] == "lost" && strings.Contains(e["says"].(string), "type the reading")
	})
	if status, _ := ra.do("POST", "/balances/"+id+"/tare", nil); status != 409 {
		t.Errorf("tared without a cable: %d", status)
	}
	hand(object{"link": "ON"})
	wait("the return", func(e object) bool { return e["state"] == "overload" })
	if status, _ := ra.do("POST", "/balances/"+id+"/standin", object{"pan": 1, "add": 1}); status != 422 {
		t.Errorf("two things at once: %d", status)
	}
	stranger := newPerson(t, base)
	if status, _ := stranger.do("GET", "/balances/"+id+"/live", nil); status != 401 {
		t.Errorf("a stranger watches: %d", status)
	}
}

func TestChecksOverHTTP(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	bottle := finished(t, ra, run)
	id := ra.must(200, "GET", "/balances", nil)["list"].([]any)[0].(object)["id"].(string)
	check := object{"id": uuid.NewString(), "weight": 100, "weightLimits": 0.0005, "reading": 100.01}
	if c := ra.must(201, "POST", "/balances/"+id+"/checks", check); c["passed"] != false {
		t.Errorf("%v", c)
	}
	if status, _ := ra.do("POST", "/balances/"+id+"/checks", check); status != 201 {
		t.Errorf("sent twice: %d", status)
	}
	for path, what := range map[string]string{"/runs/" + run: "run", "/bottles/" + bottle: "bottle"} {
		if doubt, _ := ra.must(200, "GET", path, nil)["doubt"].(string); !strings.Contains(doubt, "Fern failed its check") {
			t.Errorf("%s: doubt %q", what, doubt)
		}
	}
	on := ra.must(200, "GET", "/instruments/dependents?name=Fern", nil)["list"].([]any)
	if len(on) != 1 || on[0].(object)["run"].(object)["id"] != run {
		t.Fatalf("%v", on)
	}
	for _, paper := range []string{"label", "vial"} {
		_, pdf := ra.do("GET", "/labels?bottle="+bottle+"&paper="+paper, nil)
		if says := pdfText(t, pdf["text"].(string)); !strings.Contains(says, "IN DOUBT, SEE ITS RECORD") {
			t.Errorf("the %s of a bottle in doubt: %s", paper, says)
		}
	}
	if b := on[0].(object)["bottles"].([]any)[0].(object); b["id"] != bottle || b["number"] != 1.0 || b["state"] != "shelf" ||
		!strings.Contains(b["doubt"].(string), "Fern failed its check") {
		t.Errorf("%v", b)
	}
	if b := ra.must(200, "GET", "/bench", nil); b["balance"].(object)["lastCheck"].(object)["passed"] != false ||
		b["balance"].(object)["balance"].(object)["failedCheck"] != true {
		t.Errorf("bench %v", b)
	}
	if n := len(ra.must(200, "GET", "/balances/"+id+"/checks", nil)["list"].([]any)); n != 1 {
		t.Errorf("%d checks", n)
	}
}

// What is taken, labelled and poured, over HTTP and against the contract.
func TestShelfOverHTTP(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	bottle := finished(t, ra, run)
	taking := func(volume string) (int, object) {
		return ra.do(
			"POST",
			"/bottles/"+bottle+"/takings",
			object{"id": uuid.NewString(), "volume": object{"text": volume, "unit": "mL"}, "purpose": "group 2"},
		)
	}
	if status, b := taking("0.1 L"); status != 200 || math.Abs(b["left"].(float64)-150) > 0.1 || len(b["takings"].([]any)) != 1 {
		t.Errorf("%d %v", status, b["left"])
	}
	for volume, at := range map[string]string{"300": "/volume", "5 g": "/volume", "x": "/volume"} {
		if status, problem := taking(volume); status != 422 || pointers(problem) != at {
			t.Errorf("%s: %d at %s", volume, status, pointers(problem))
		}
	}
	listed := func(only string) int {
		return len(ra.must(200, "GET", "/bottles?only="+only, nil)["items"].([]any))
	}
	if listed("unlabelled") != 1 || listed("low") != 0 {
		t.Errorf("unlabelled %d, low %d", listed("unlabelled"), listed("low"))
	}
	for paper, copies := range map[string]int{"vials": 20, "vial": 2, "a4": 3, "label": 1} {
		_, pdf := ra.do("GET", fmt.Sprintf("/labels?bottle=%s&paper=%s&copies=%d&start=2", bottle, paper, copies), nil)
		if !strings.HasPrefix(pdf["text"].(string), "%PDF-") {
			t.Errorf("%s: %.40s", paper, pdf["text"])
		}
	}
	ra.must(204, "POST", "/labels/printed", object{"bottles": []string{bottle}})
	if listed("unlabelled") != 0 {
		t.Error("still unlabelled")
	}
	if status, problem := ra.do(
		"POST",
		"/bottles/pool",
		object{"id": uuid.NewString(), "bottles": []string{bottle}},
	); status != 422 ||
		pointers(problem) != "/bottles" {
		t.Errorf("one bottle poured together: %d at %s", status, pointers(problem))
	}
	if n := len(ra.must(200, "GET", "/bottles/"+bottle+"/family", nil)["list"].([]any)); n != 1 {
		t.Errorf("a family of %d", n)
	}
}

// Tables go out and come in again over HTTP, whatever separates them; a wrong one names
// its lines and changes nothing.
func TestTablesOverHTTP(t *testing.T) {
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	give := func(table, text string, dryRun bool) (int, object) {
		return ra.do("POST", fmt.Sprintf("/tables/%s?dryRun=%v", table, dryRun), text, "Content-Type", "text/plain")
	}
	good := "name;formula;class;density g/mL\nPond salt;KCl;secondary;1,98\n"
	for _, dryRun := range []bool{true, false} {
		if status, r := give("substances", good, dryRun); status != 200 || r["substances"] != 1.0 {
			t.Errorf("dry run %v: %d %v", dryRun, status, r["text"])
		}
	}
	if status, problem := give("substances", good+"Salt;Khc;tertiary;x\n", false); status != 422 || pointers(problem) != "/3/density g/mL" {
		t.Errorf("%d at %s", status, pointers(problem))
	}
	_, out := ra.do("GET", "/tables/substances", nil)
	if text := out["text"].(string); !strings.Contains(text, "Pond salt,KCl,secondary") {
		t.Error(text)
	}
	if status, r := give("substances", out["text"].(string), false); status != 200 || r["known"] != 1.0 {
		t.Errorf("again: %d %v", status, r["text"])
	}
	for _, table := range []string{"equipment", "plans"} {
		_, out := ra.do("GET", "/tables/"+table, nil)
		if status, r := give(table, out["text"].(string), true); status != 200 || r["known"] != 1.0 || r["changed"] != 0.0 {
			t.Errorf("%s: %d %v", table, status, r["text"])
		}
	}
	if status, _ := ra.do("GET", "/tables/people", nil); status != 400 {
		t.Errorf("a table of people: %d", status)
	}
}

// A dilution from a bottle through the contract: plan, run with a stage redone, rack.
func TestDilutionOverHTTP(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	bottle := finished(t, ra, run)
	ask := object{
		"mode":             "chain",
		"stock":            object{"name": "", "unit": "", "bottle": bottle, "concentration": object{"value": 0}},
		"factors":          []string{"10", "1 + 4"},
		"class":            "A",
		"keep":             10,
		"rinse":            5,
		"waterTemperature": 20,
	}
	plan := ra.must(201, "POST", "/plans", object{"id": uuid.NewString(), "kind": "dilution", "question": ask})
	if plan["kind"] != "dilution" || plan["design"].(object)["recipe"] != nil {
		t.Errorf("%v", plan)
	}
	begun := uuid.NewString()
	view := ra.must(201, "POST", "/runs", object{"id": begun, "planId": plan["id"]})
	state := func(f object) {
		t.Helper()
		f["id"] = uuid.NewString()
		view = ra.must(200, "POST", "/runs/"+begun+"/facts", f)
	}
	state(object{"kind": "temperature", "quantity": object{"text": "20.5", "unit": "°C"}})
	redone := false
	for view["outcome"].(object)["status"] == "open" {
		var now object
		for _, s := range view["outcome"].(object)["steps"].([]any) {
			if s.(object)["state"] == "now" {
				now = s.(object)
			}
		}
		part := 0.0
		if now["part"] != nil {
			part = now["part"].(float64)
		}
		f := object{"kind": now["kind"], "part": part}
		switch now["kind"] {
		case "rinsed":
			f["count"] = 2
		case "mixed":
			f["count"] = 20
		case "taken":
			f["choice"] = "delivered"
		case "labelled":
			f["date"] = "2030-01-31"
		case "filled":
			if f["choice"] = "reached"; part == 1 && !redone {
				redone = true
				f["choice"] = "past"
				state(f)
				f = object{"kind": "decided", "choice": "redo-stage", "part": 1}
			}
		}
		state(f)
	}
	rack := ra.must(200, "GET", "/bottles", nil)["items"].([]any)
	if len(rack) != 3 || rack[0].(object)["tube"] != true || rack[2].(object)["tube"] != false {
		t.Fatalf("%d bottles", len(rack))
	}
	c := func(i int) float64 { return rack[i].(object)["concentration"].(object)["value"].(float64) }
	if math.Abs(c(1)/c(2)-0.1) > 1e-3 || math.Abs(c(0)/c(1)-0.2) > 1e-3 {
		t.Errorf("%g, %g, %g", c(2), c(1), c(0))
	}
	lines := ra.must(200, "GET", "/runs/"+begun+"/working?figure=tube%202", nil)["list"].([]any)
	if len(lines) != 3 {
		t.Errorf("%d lines of working", len(lines))
	}
	tube := rack[0].(object)["id"].(string)
	// In a list the concentration comes without what adds to its uncertainty, which can be asked for: other work
	// starts from it. A bottle by itself has all its figures.
	whole := ra.must(200, "GET", "/bottles/"+tube, nil)
	if all := whole["figures"].([]any); len(all) != 2 || all[0].(object)["budget"] == nil || len(rack[0].(object)["figures"].([]any)) != 0 {
		t.Errorf("in a list %v, by itself %v", rack[0].(object)["figures"], all)
	}
	if rack[0].(object)["concentration"].(object)["value"] != whole["concentration"].(object)["value"] {
		t.Error("a list has another concentration")
	}
	if is := rack[0].(object)["concentration"].(object); is["contributions"] != nil || is["budget"] != nil || is["text"] == "" {
		t.Errorf("in a list: %v", is)
	}
	for _, b := range ra.must(200, "GET", "/bottles?sources=true", nil)["items"].([]any) {
		if is := b.(object); is["id"] == tube && !reflect.DeepEqual(is["concentration"].(object)["contributions"], whole["concentration"].(object)["contributions"]) {
			t.Errorf("with its sources: %v", is)
		}
	}
	if family := ra.must(200, "GET", "/bottles/"+tube+"/family", nil)["list"].([]any); len(family) != 3 ||
		family[0].(object)["bottle"].(object)["id"] != bottle {
		t.Errorf("family %v", family)
	}
	ask["stock"].(object)["bottle"] = uuid.NewString()
	if status, _ := ra.do("POST", "/plans", object{"id": uuid.NewString(), "kind": "dilution", "question": ask}); status != 404 {
		t.Errorf("a bottle that is not there: %d", status)
	}
	request := plan["design"].(object)["request"]
	if back := ra.must(
		200,
		"POST",
		"/compute/back",
		object{"request": request, "tube": 1, "value": 0.002, "limits": 0.0001},
	); math.Abs(back["value"].(float64)-0.1) > 1e-3 {
		t.Errorf("back to %v", back["value"])
	}
	if status, problem := ra.do(
		"POST",
		"/compute/step",
		object{"stock": 1, "taken": 0, "final": 0, "gives": 1},
	); status != 422 ||
		!strings.Contains(problem["text"].(string), "three of the four") {
		t.Errorf("two unknowns: %d %s", status, problem["text"])
	}
}
