package httpapi_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/demo"
	"vialbench/internal/lab"
	"vialbench/internal/store/storetest"
)

// Unknowns stay sealed until somebody opens them: the list by whoever prepares, the key by an instructor who says why; both
// are on record.
func TestUnknownsAreSealed(t *testing.T) {
	db := demoRecords(t)
	url := newServer(t, db)
	ra, it := newPerson(t, url), newPerson(t, url)
	ra.must(200, "POST", "/session", object{"login": "ashdown", "password": demo.Password})
	it.must(200, "POST", "/session", object{"login": "thorne", "password": demo.Password})
	session, id := uuid.NewString(), uuid.NewString()
	ra.must(200, "POST", "/lab-sessions", object{"id": session, "session": hardness("Unknown bases"), "version": 0})
	asked := object{
		"id": id, "name": "Sodium hydroxide", "stock": "1 mol/L", "low": "0.05 mol/L", "high": "0.3 mol/L", "each": "60 mL", "within": 2, "try": true,
	}
	tried := it.must(200, "POST", "/lab-sessions/"+session+"/unknowns", asked)
	list := func() []any {
		_, got := it.do("GET", "/lab-sessions/"+session+"/unknowns", nil)
		return got["list"].([]any)
	}
	if tried["strengths"] != 5.0 || tried["apart"].(float64) < 1.5 || len(list()) != 0 {
		t.Errorf("tried: %v, %v", tried, list())
	}
	asked["try"] = false
	kept := it.must(200, "POST", "/lab-sessions/"+session+"/unknowns", asked)
	if again := it.must(200, "POST", "/lab-sessions/"+session+"/unknowns", asked); fmt.Sprint(again) != fmt.Sprint(kept) { // sent twice
		t.Errorf("%v, then %v", kept, again)
	}
	sets := list()
	if sets[0].(object)["stock"] != kept["stock"] {
		t.Errorf("%v mL of stock were said, %v are kept", kept["stock"], sets[0].(object)["stock"])
	}
	if len(sets) != 1 {
		t.Fatalf("%v", sets)
	}
	set := sets[0].(object)
	sealed := fmt.Sprint(set)
	if len(set["bottles"].([]any)) != 12 || set["strengths"] != 5.0 || strings.Contains(sealed, "level") || strings.Contains(sealed, "seed") ||
		strings.Contains(sealed, "strength:") || len(set["openings"].([]any)) != 0 {
		t.Errorf("%s", sealed)
	}
	opened := it.must(200, "POST", "/unknowns/"+id+"/openings", object{"what": "list"})
	codes := map[float64]string{}
	for _, f := range opened["flasks"].([]any) {
		flask := f.(object)
		var there []float64
		for _, code := range flask["codes"].([]any) {
			codes[code.(float64)] = flask["made"].(string)
			there = append(there, code.(float64))
		}
		if !slices.IsSorted(there) {
			t.Errorf("the order of %v tells who has what", there)
		}
	}
	if len(codes) != 12 || opened["groups"] != nil {
		t.Errorf("%v", opened)
	}
	it.must(403, "POST", "/unknowns/"+id+"/openings", object{"what": "key", "reason": "curious"})
	if problem := ra.must(422, "POST", "/unknowns/"+id+"/openings", object{"what": "key"}); problem["errors"].([]any)[0].(object)["pointer"] != "/reason" {
		t.Errorf("%v", problem)
	}
	key := ra.must(200, "POST", "/unknowns/"+id+"/openings", object{"what": "key", "reason": "the class is over"})
	for i, g := range key["groups"].([]any) {
		group := g.(object)
		// 25 mL twice to 250 mL of 1 mol/L is 0.2 mol/L: worked out from the words of the list.
		var pipette, flask float64
		made := codes[group["code"].(float64)]
		times := 1.0
		switch {
		case strings.Contains(made, " twice"):
			times = 2
		case strings.Contains(made, " 3 times"):
			times = 3
		}
		plain := strings.NewReplacer(" twice", "", " 3 times", "").Replace(made)
		if _, err := fmt.Sscanf(plain, "%g mL to %g mL", &pipette, &flask); err != nil {
			t.Fatalf("%s: %v", made, err)
		}
		var strength float64
		if _, err := fmt.Sscanf(group["strength"].(string), "%g mol/L", &strength); err != nil || strength/(pipette*times/flask) < 0.999 || strength/(pipette*times/flask) > 1.001 {
			t.Errorf("group %d: %s from %s, %v", i+1, group["strength"], made, err)
		}
		if group["group"] != float64(i+1) || group["code"] != set["bottles"].([]any)[i].(object)["code"] {
			t.Errorf("%v", group)
		}
	}
	var said []string
	for _, o := range list()[0].(object)["openings"].([]any) {
		said = append(said, fmt.Sprint(o.(object)["by"], " ", o.(object)["what"], " ", o.(object)["reason"]))
	}
	if strings.Join(said, "|") != "IT list |RA key the class is over" {
		t.Errorf("%q", said)
	}

	// The records have it all, and bring it into another lab.
	_, records := ra.do("GET", "/export", nil)
	other := storetest.Open(t)
	fresh := lab.New(other, quick)
	if _, err := fresh.CreateFirst(t.Context(), lab.NewAccount{Name: "Rowan Ashdown", Initials: "RA", Login: "ashdown", Password: demo.Password}); err != nil {
		t.Fatal(err)
	}
	rb := newPerson(t, newServer(t, other))
	rb.must(200, "POST", "/session", object{"login": "ashdown", "password": demo.Password})
	rb.must(200, "POST", "/import", records["text"])
	if again := rb.must(200, "POST", "/unknowns/"+id+"/openings", object{"what": "key", "reason": "to compare"}); fmt.Sprint(again["groups"]) != fmt.Sprint(key["groups"]) {
		t.Errorf("%v, was %v", again["groups"], key["groups"])
	}

	for pointer, change := range map[string]object{
		"/low": {"low": "strong"}, "/within": {"within": 0}, "/levels": {"within": 25}, "/name": {"name": " "}, "/stock": {"stock": ""},
	} {
		bad := object{}
		for k, v := range asked {
			bad[k] = v
		}
		for k, v := range change {
			bad[k] = v
		}
		bad["id"] = uuid.NewString()
		if problem := it.must(422, "POST", "/lab-sessions/"+session+"/unknowns", bad); problem["errors"].([]any)[0].(object)["pointer"] != pointer {
			t.Errorf("%s: %v", pointer, problem)
		}
	}
	asked["id"], asked["bottle"] = uuid.NewString(), uuid.NewString()
	it.must(404, "POST", "/lab-sessions/"+session+"/unknowns", asked)
	it.must(404, "POST", "/unknowns/"+uuid.NewString()+"/openings", object{"what": "list"})
	it.must(204, "DELETE", "/unknowns/"+id, nil)
	if left := list(); len(left) != 0 {
		t.Errorf("%v", left)
	}
}
