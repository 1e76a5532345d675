package httpapi_test

import (
	"bufio"
	"context"
	"encoding/json"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/internal/standin"
	"vialbench/internal/store/storetest"
)

// A meter from its entry in the setup to a log that is downloaded, over HTTP; every answer
// fits the contract.
func TestMetersOverHTTP(t *testing.T) {
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	usual := ra.must(200, "GET", "/meters/usual", nil)
	delete(usual, "text")
	usual["name"], usual["probe"] = "Heron", "probe 3"
	meter := ra.must(201, "POST", "/meters", usual)
	id := meter["id"].(string)
	if word := meter["standing"].(object)["word"]; word != "not calibrated" {
		t.Error(word)
	}
	if status, problem := ra.do("POST", "/meters", usual); status != 422 || pointers(problem) != "/name" {
		t.Errorf("%d at %s", status, pointers(problem))
	}
	if n := len(ra.must(200, "GET", "/buffers", nil)["list"].([]any)); n != 9 {
		t.Errorf("%d buffers", n)
	}
	state := func(run string, f object) object {
		t.Helper()
		f["id"] = uuid.NewString()
		return ra.must(200, "POST", "/runs/"+run+"/facts", f)
	}
	begun := func(kind string, question object) string {
		t.Helper()
		plan := ra.must(201, "POST", "/plans", object{"id": uuid.NewString(), "kind": kind, "question": question})
		return ra.must(201, "POST", "/runs", object{"id": uuid.NewString(), "planId": plan["id"]})["summary"].(object)["id"].(string)
	}
	if status, problem := ra.do(
		"POST",
		"/plans",
		object{"id": uuid.NewString(), "kind": "calibration", "question": object{
			"meter": id, "celsius": "120",
			"buffers": []object{{"key": "", "name": "own", "table": []object{{"celsius": "25", "pH": "15,2"}}}},
		}},
	); status != 422 ||
		pointers(problem) != "/question/buffers/0/table/0/pH /question/celsius" {
		t.Errorf("%d at %s", status, pointers(problem))
	}
	run := begun("calibration", object{
		"meter":   id,
		"celsius": "25",
		"low":     "5",
		"high":    8.5,
		"buffers": []object{
			{"key": "phthalate", "opened": "2026-01-02"},
			{"key": "", "name": "pH 9 of the cupboard", "table": []object{{"celsius": "25", "pH": "9,18"}}, "limits": "0,05"},
		},
	})
	state(run, object{"kind": "bulb", "choice": "wet"})
	for part, mV := range []string{"177,2 mV", "-0.129 V"} {
		state(run, object{"kind": "dipped", "choice": "in", "part": part})
		state(run, object{"kind": "read", "part": part, "quantity": object{"text": mV}, "beside": []object{{"text": "25", "unit": "°C"}}})
	}
	done := state(run, object{"kind": "decided", "choice": "use"})
	if done["outcome"].(object)["status"] != "finished" || len(done["bottles"].([]any)) != 0 {
		t.Errorf("%v", done["outcome"])
	}
	log := begun("readings", object{"meter": id, "name": "Pond", "celsius": 21.4})
	state(
		log,
		object{
			"kind":     "reading",
			"name":     "=inlet",
			"choice":   "sample",
			"quantity": object{"text": "24.1 mV"},
			"beside":   []object{{"text": "24,5 °C"}},
		},
	)
	last := state(
		log,
		object{
			"kind":     "reading",
			"name":     "inlet",
			"choice":   "paper",
			"quantity": object{"text": "6", "unit": "pH"},
			"after":    object{"text": "6.5", "unit": "pH"},
			"text":     "green",
		},
	)
	rows := last["outcome"].(object)["view"].(object)["rows"].([]any)
	if rows[1].(object)["shown"] != "pH 6 to 6.5" || rows[0].(object)["celsius"] != "24.5" {
		t.Errorf("%v", rows)
	}
	figure := rows[0].(object)["pH"].(object)["id"].(string)
	if lines := ra.must(200, "GET", "/runs/"+log+"/working?figure="+strings.ReplaceAll(figure, " ", "%20"), nil)["list"].([]any); len(
		lines,
	) != 3 {
		t.Errorf("%v", lines)
	}
	_, table := ra.do("GET", "/runs/"+log+"/table.csv", nil)
	lines := strings.Split(strings.TrimSpace(table["text"].(string)), "\r\n")
	if len(lines) != 3 || !strings.HasPrefix(lines[0], "\ufefftime,sample,pH,U (k = 2)") || !strings.Contains(lines[1], ",'=inlet,6.59") ||
		!strings.Contains(lines[2], "indicator paper,green") {
		t.Errorf("%q", lines)
	}
	if _, table := ra.do("GET", "/runs/"+run+"/table.csv", nil); !strings.Contains(table["text"].(string), "\r\nslope,") {
		t.Errorf("%v", table["text"])
	}
	ra.must(204, "POST", "/meters/"+id+"/care", object{"id": uuid.NewString(), "what": "Refilled"})
	history := ra.must(200, "GET", "/meters/"+id+"/history", nil)
	if c := history["calibrations"].([]any); len(c) != 1 || c[0].(object)["runId"] != run || len(history["care"].([]any)) != 1 {
		t.Errorf("%v", history)
	}
	bench := ra.must(200, "GET", "/bench", nil)
	if m := bench["meter"].(object); m["id"] != id || m["standing"].(object)["word"] == "not calibrated" {
		t.Errorf("%v", bench)
	}
	ra.must(204, "PUT", "/meters/"+id, object{"address": "127.0.0.1:9", "probe": "probe 4"})
	if status, problem := ra.do("POST", "/meters/"+id+"/standin", object{}); status != 409 ||
		!strings.Contains(problem["text"].(string), "does not answer") {
		t.Errorf("%d %v", status, problem)
	}
}

// The stand-in is worked by hand over HTTP, and its stream carries what the sheet needs.
func TestMeterStreamOverHTTP(t *testing.T) {
	listener, err := (&net.ListenConfig{}).Listen(t.Context(), "tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go standin.Serve(t.Context(), listener, standin.NewMeter(1, 0, 1, 5))
	base := newServer(t, storetest.Open(t))
	ra, _ := begin(t, base)
	usual := ra.must(200, "GET", "/meters/usual", nil)
	delete(usual, "text")
	usual["name"] = "Heron"
	id := ra.must(201, "POST", "/meters", usual)["id"].(string)
	ra.must(204, "PUT", "/meters/"+id, object{"address": listener.Addr().String(), "probe": ""})
	for _, c := range []struct {
		hand object
		want func(object) bool
	}{
		{object{"do": "RINSE"}, func(s object) bool { return s["rinsed"] == true }},
		{object{"into": "borax 20"}, func(s object) bool {
			return s["in"] == "borax, 0.01 mol/kg" && s["celsius"] == 20.0 && s["rinsed"] == false
		}},
		{object{"slope": 0.93}, func(s object) bool { return s["slope"] == 0.93 }},
		{object{"offset": -8.5}, func(s object) bool { return s["offset"] == -8.5 }},
		{object{"time": 3}, func(s object) bool { return s["time"] == 3.0 }},
		{object{"drift": 12}, func(s object) bool { return s["drift"] == 12.0 }},
		{object{"bulb": "DRY"}, func(s object) bool { return s["bulb"] == "dry" }},
		{object{}, func(s object) bool { return s["link"] == "on" }},
	} {
		if got := ra.must(200, "POST", "/meters/"+id+"/standin", c.hand); !c.want(got) {
			t.Errorf("%v: %v", c.hand, got)
		}
	}
	if status, problem := ra.do("POST", "/meters/"+id+"/standin", object{"do": "AIR", "bulb": "WET"}); status != 422 {
		t.Errorf("two at once: %d %v", status, problem)
	}
	ctx, stop := context.WithTimeout(t.Context(), 2*time.Minute)
	defer stop()
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, base+"/api/v1/meters/"+id+"/live", http.NoBody)
	if err != nil {
		t.Fatal(err)
	}
	response, err := ra.client.Do(request)
	if err != nil {
		t.Fatal(err)
	}
	defer response.Body.Close() //nolint:errcheck // the test is over
	scanner := bufio.NewScanner(response.Body)
	for scanner.Scan() {
		text, ok := strings.CutPrefix(scanner.Text(), "data:")
		if !ok {
			continue
		}
		var live struct {
			Text, State, Watched string
			Standin, Still       bool
			Band                 float64
			Readings             []struct{ Unit string }
			Verdict              *struct{ Choices []any }
		}
		if err := json.Unmarshal([]byte(text), &live); err != nil {
			t.Fatal(err)
		}
		if !live.Standin || live.Still || !strings.HasSuffix(live.Text, " mV") || live.Watched == "" || live.Band < 1.1 ||
			len(live.Readings) != 2 ||
			live.Readings[1].Unit != "°C" ||
			live.Verdict == nil ||
			len(live.Verdict.Choices) != 2 {
			t.Errorf("%s", text)
		}
		return
	}
	t.Error("no reading came")
}
