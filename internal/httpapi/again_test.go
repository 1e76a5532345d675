package httpapi_test

import (
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/internal/store/storetest"
)

// What is sent again changes nothing and is answered as before; something else under the same ID is
// refused, whatever it is.
func TestSentAgainOrSomethingElse(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	bottle := finished(t, ra, run)
	balance := ra.must(200, "GET", "/balances", nil)["list"].([]any)[0].(object)["id"].(string)
	asksFor := func(volume string) object {
		q := question(ra)
		q["volume"] = object{"text": volume}
		plan := asked(q)
		return plan
	}
	plan, otherPlan := asksFor("250 mL"), asksFor("500 mL")
	otherPlan["id"] = plan["id"]
	planID := ra.must(201, "POST", "/plans", plan)["id"]
	newRun := object{"id": uuid.NewString(), "planId": planID}
	elsewhere := ra.must(201, "POST", "/plans", asksFor("100 mL"))["id"]
	taking := object{"id": uuid.NewString(), "volume": object{"text": "10 mL"}, "purpose": "group 3"}
	check := object{"id": uuid.NewString(), "weight": 100, "weightLimits": 0.0005, "reading": 100.0001}
	with := func(o object, name string, value any) object {
		other := object{}
		for k, v := range o {
			other[k] = v
		}
		other[name] = value
		return other
	}
	for _, c := range []struct {
		what, path  string
		status      int
		same, other object
	}{
		{"plan", "/plans", 201, plan, otherPlan},
		{"run", "/runs", 201, newRun, with(newRun, "planId", elsewhere)},
		{"taking", "/bottles/" + bottle + "/takings", 200, taking, with(taking, "volume", object{"text": "20 mL"})},
		{"check", "/balances/" + balance + "/checks", 201, check, with(check, "reading", 100.0002)},
	} {
		for range 2 {
			if status, answer := ra.do("POST", c.path, c.same); status != c.status {
				t.Errorf("%s: %d %v, want %d", c.what, status, answer["detail"], c.status)
			}
		}
		if status, answer := ra.do("POST", c.path, c.other); status != 409 || !strings.Contains(answer["detail"].(string), "under the same ID") {
			t.Errorf("another %s under its ID: %d %v", c.what, status, answer["detail"])
		}
	}
	// A reading goes on record in one run.
	facts := ra.must(200, "GET", "/runs/"+run, nil)["facts"].([]any)
	tared := reading("tared", "0.0000")
	tared["id"] = facts[0].(object)["fact"].(object)["id"]
	of := "/runs/" + newRun["id"].(string)
	if status, answer := ra.do("POST", of+"/facts", tared); status != 409 || !strings.Contains(answer["detail"].(string), "under the same ID") {
		t.Errorf("a reading of another run: %d %v", status, answer)
	}
	if n := len(ra.must(200, "GET", of, nil)["facts"].([]any)); n != 0 {
		t.Errorf("%d facts of the other run", n)
	}
	if left := ra.must(200, "GET", "/bottles/"+bottle, nil)["takings"].([]any); len(left) != 1 {
		t.Errorf("%d takings", len(left))
	}
	discard := object{"reason": "used up"}
	for range 2 {
		ra.must(200, "POST", "/bottles/"+bottle+"/discard", discard)
	}
	if status, _ := ra.do("POST", "/bottles/"+bottle+"/discard", object{"reason": "spilt"}); status != 409 {
		t.Errorf("discarded for another reason: %d", status)
	}
	ra.must(200, "POST", "/bottles/"+bottle+"/takings", taking) // as before, though it is discarded now
}

// What cannot be meant is said where it stands.
func TestAddressesTimesAndTablesThatCannotBe(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	ra.unchecked = true
	for _, path := range []string{"/logbook?person=%ED%A0%80", "/logbook.csv?person=%ED%A0%80", "/bottles?q=%FF", "/logbook?q=%zz"} {
		if status, _ := ra.do("GET", path, nil); status != 400 {
			t.Errorf("%s: %d", path, status)
		}
	}
	note := object{"id": uuid.NewString(), "kind": "note", "text": "old", "at": "0001-01-01T00:00:00Z"}
	if status, answer := ra.do("POST", "/runs/"+run+"/facts", note); status != 422 || !strings.Contains(answer["text"].(string), "/at") {
		t.Errorf("the year 1: %d %v", status, answer)
	}
	wide := "name,formula\nsalt" + strings.Repeat(",", 2_000_000)
	if status, answer := ra.do("POST", "/tables/substances?dryRun=true", wide, "Content-Type", "text/plain"); status != 422 ||
		!strings.Contains(answer["text"].(string), "/2") {
		t.Errorf("two million columns: %d %.300v", status, answer["text"])
	}
}

// A run that goes on after its end still says which bottle it had made, void now.
func TestTakenBackAfterTheEnd(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	bottle := finished(t, ra, run)
	weighed := ra.must(200, "GET", "/runs/"+run, nil)["facts"].([]any)[1].(object)["fact"].(object)["id"]
	back := object{"id": uuid.NewString(), "kind": "withdrawn", "replaces": weighed, "reason": "another vessel"}
	for _, got := range []object{ra.must(200, "POST", "/runs/"+run+"/facts", back), ra.must(200, "GET", "/runs/"+run, nil)} {
		if bottles := got["bottles"].([]any); got["outcome"].(object)["status"] != "open" || len(bottles) != 1 || bottles[0] != bottle {
			t.Errorf("%v, %v", got["outcome"].(object)["status"], bottles)
		}
	}
	if is := ra.must(200, "GET", "/bottles/"+bottle, nil); is["state"] != "void" {
		t.Errorf("the bottle is %v", is["state"])
	}
}
