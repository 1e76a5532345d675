package httpapi_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/url"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/google/uuid"

	"vialbench/api"
	"vialbench/internal/store/storetest"
)

func contract(t testing.TB) *openapi3.T {
	t.Helper()
	spec, err := openapi3.NewLoader().LoadFromData(api.Contract)
	if err != nil {
		t.Fatal(err)
	}
	return spec
}

// eachInput visits the schema of every parameter and every body.
func eachInput(spec *openapi3.T, visit func(at string, s *openapi3.Schema)) {
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			for _, p := range append(slices.Clone(item.Parameters), op.Parameters...) {
				visit(method+" "+path+"?"+p.Value.Name, p.Value.Schema.Value)
			}
			if op.RequestBody == nil {
				continue
			}
			for _, media := range op.RequestBody.Value.Content {
				visit(method+" "+path, media.Schema.Value)
			}
		}
	}
}

// Every number, string, list and object that comes in has a bound.
func TestEverythingThatComesInIsBounded(t *testing.T) {
	seen := map[*openapi3.Schema]bool{}
	checked := 0
	var walk func(at string, s *openapi3.Schema)
	walk = func(at string, s *openapi3.Schema) {
		if seen[s] {
			return
		}
		seen[s] = true
		checked++
		for _, list := range []openapi3.SchemaRefs{s.OneOf, s.AnyOf, s.AllOf} {
			for _, one := range list {
				walk(at, one.Value)
			}
		}
		switch {
		case s.Type.Is("string"):
			if s.MaxLength == nil && len(s.Enum) == 0 && s.Format == "" {
				t.Errorf("%s: a string without a longest length", at)
			}
		case s.Type.Is("number"), s.Type.Is("integer"):
			if (s.Min == nil || s.Max == nil) && len(s.Enum) == 0 {
				t.Errorf("%s: a number without bounds", at)
			}
		case s.Type.Is("array"):
			if s.MaxItems == nil {
				t.Errorf("%s: a list without a largest number", at)
			}
			walk(at+"/*", s.Items.Value)
		case s.Type.Is("object"):
			for name, property := range s.Properties {
				walk(at+"/"+name, property.Value)
			}
			open := s.AdditionalProperties
			switch {
			case strings.HasSuffix(at, "/import"): // is read piece by piece, and checked by the rules of the records
			case open.Schema != nil:
				if s.MaxProps == nil {
					t.Errorf("%s: a map without a largest number", at)
				}
				walk(at+"/*", open.Schema.Value)
			case open.Has == nil || *open.Has:
				t.Errorf("%s: an object that takes anything", at)
			}
		case s.Type == nil && len(s.OneOf)+len(s.AnyOf)+len(s.AllOf) == 0:
			t.Errorf("%s: anything at all", at)
		}
	}
	eachInput(contract(t), walk)
	if checked < 150 {
		t.Errorf("only %d schemas were looked at", checked)
	}
}

// maker makes bodies by the contract, and spoils them.
type maker struct {
	*rand.Rand
	ids []string
}

var texts = []string{
	"",
	" ",
	"0.1 mol/L",
	"250 mL",
	"5.1 g",
	"KHC8H4O4",
	"potassium-hydrogen-phthalate",
	"A",
	"é\u202e",
	"'; DROP TABLE facts; --",
	"<script>alert(1)</script>",
	"=cmd|' /C calc'!A0",
	strings.Repeat("x", 300),
	"\u0000",
	"1e400",
	"−5",
	"NaN",
	"../../etc/passwd",
	"%s%n",
	"🧪",
	"2026-02-30",
	"1:20",
}

var numbers = []float64{0, 1, -1, 0.5, 3, 20, 100, 250, 1e-300, 1e300, -1e12, 1e12, 2147483648, 9223372036854775807, 4.9e-324, 0.1 + 0.2}

func (m maker) text(s *openapi3.Schema) any {
	switch {
	case len(s.Enum) > 0:
		return s.Enum[m.IntN(len(s.Enum))]
	case s.Pattern != "" && strings.HasPrefix(s.Pattern, "^[0-9a-fA-F]{8}"):
		return m.ids[m.IntN(len(m.ids))]
	case s.Format == "date-time":
		return []string{"2026-05-12T09:00:00Z", "0001-01-01T00:00:00Z", "9999-12-31T23:59:59Z"}[m.IntN(3)]
	case s.Format == "date":
		return []string{"2026-05-12", "0001-01-01", "9999-12-31"}[m.IntN(3)]
	}
	return texts[m.IntN(len(texts))]
}

// value makes a value of a schema: now and then one that does not fit it.
func (m maker) value(s *openapi3.Schema, depth int) any {
	if m.IntN(40) == 0 {
		return []any{nil, true, "x", 1e300, -1, []any{}, map[string]any{"a": nil}, []any{[]any{[]any{}}}}[m.IntN(8)]
	}
	for _, list := range []openapi3.SchemaRefs{s.OneOf, s.AnyOf} {
		if len(list) > 0 {
			return m.value(list[m.IntN(len(list))].Value, depth)
		}
	}
	switch {
	case s.Type.Is("string"):
		return m.text(s)
	case s.Type.Is("number"), s.Type.Is("integer"):
		if s.Type.Is("integer") && m.IntN(2) == 0 {
			return m.IntN(5)
		}
		return numbers[m.IntN(len(numbers))]
	case s.Type.Is("boolean"):
		return m.IntN(2) == 0
	case s.Type.Is("array"):
		list := []any{}
		for range m.IntN(3) {
			if depth < 8 {
				list = append(list, m.value(s.Items.Value, depth+1))
			}
		}
		return list
	}
	object := map[string]any{}
	for _, name := range slices.Sorted(keys(s.Properties)) {
		if slices.Contains(s.Required, name) || depth < 8 && m.IntN(2) == 0 {
			object[name] = m.value(s.Properties[name].Value, depth+1)
		}
	}
	if open := s.AdditionalProperties.Schema; open != nil {
		object["M-7"] = m.value(open.Value, depth+1)
	}
	if m.IntN(30) == 0 {
		object["unknown"] = "x"
	}
	return object
}

func keys[V any](m map[string]V) func(yield func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

// sound are bodies that are taken as they are, by operation.
func sound(run, plan string, standard object) map[string][]object {
	note := func(f object) object { f["id"] = uuid.NewString(); return f }
	return map[string][]object{
		"createPlan":      {{"id": uuid.NewString(), "kind": "standard", "question": standard}},
		"computeStandard": {standard},
		"computeFormula":  {{"formula": "CuSO4.5H2O"}},
		"computeQuantity": {{"text": "5 g", "dimension": "mass"}},
		"createRun":       {{"id": uuid.NewString(), "planId": plan}},
		"addFact": {
			note(object{"kind": "note", "text": "a note"}),
			note(reading("tared", "0.0000")),
			note(reading("weighed", "5.0918")),
			note(object{"kind": "decided", "choice": "keep-mass"}),
			note(object{"kind": "transferred", "count": 3}),
			note(object{"kind": "note", "text": "late", "at": "2026-01-01T00:00:00Z"}),
			note(object{"kind": "note", "text": "x", "replaces": run, "reason": "why"}),
		},
		"createSubstance": {{"name": "Pond salt", "formula": "NaCl", "class": "secondary", "source": "the label", "density": 2.1}},
		"createSystem":    {{"name": "4-Cyanophenol", "acid": "C7H5NO", "constants": []object{{"pKa": 7.97, "u": 0.02}}, "source": "handbook"}},
		"createBalance":   {{"name": "Twin", "capacity": 220, "resolution": 0.0001, "repeatability": 0.0001, "linearity": 0.0002}},
		"createGlass":     {{"kind": "cylinder", "volume": 50, "class": "A", "count": 1, "mark": "C 1"}},
		"createPerson":    {{"name": "Sol Marsh", "initials": "SM", "login": "marsh", "password": password, "role": "assistant"}},
		"putSettings":     {{"labName": "Ours", "flaskClass": "A", "buoyancy": false, "thresholds": object{"M-7": 12}, "version": 1}},
		"putBench":        {{"session": "Tuesday", "waterTemperature": 20.5, "version": 1}},
		"computeBack":     {{"request": object{}, "tube": 0, "value": 1, "limits": 0.1}},
	}
}

// spoil changes one value somewhere in a body.
func (m maker) spoil(body any) any {
	switch b := body.(type) {
	case map[string]any:
		names := slices.Sorted(keys(b))
		if len(names) == 0 {
			return body
		}
		out := map[string]any{}
		for name, v := range b {
			out[name] = v
		}
		name := names[m.IntN(len(names))]
		if m.IntN(20) == 0 {
			delete(out, name)
		} else {
			out[name] = m.spoil(b[name])
		}
		return out
	case []any:
		if len(b) > 0 && m.IntN(2) == 0 {
			out := slices.Clone(b)
			i := m.IntN(len(b))
			out[i] = m.spoil(b[i])
			return out
		}
	case string:
		if m.IntN(3) == 0 { // it stays what it was, with something in it
			return b + texts[m.IntN(len(texts))]
		}
		return texts[m.IntN(len(texts))]
	case float64, int:
		return numbers[m.IntN(len(numbers))]
	}
	return []any{nil, true, "x", 1e300, -1, []any{}, map[string]any{}}[m.IntN(7)]
}

// hangs is how long an answer takes that has no bound, on any machine, under the race detector too;
// how fast answers are, the benchmarks tell.
const hangs = time.Minute

// Thousands of bodies made from the contract and spoilt: whatever comes, the answer is no
// failure of the server, has a bound, and leaves no memory behind.
func TestSpoiltRequestsOfEveryOperation(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	ra, run := begin(t, base)
	ra.unchecked = true
	view := ra.must(200, "GET", "/runs/"+run, nil)
	m := maker{rand.New(rand.NewPCG(20261126, 9)), []string{run, fmt.Sprint(view["plan"].(object)["id"]), uuid.NewString(), uuid.NewString()}}
	spec := contract(t)
	tried, taken := map[string]int{}, 0
	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	examples := sound(m.ids[0], m.ids[1], question(ra))
	for round := range 30 {
		for _, path := range slices.Sorted(keys(spec.Paths.Map())) {
			item := spec.Paths.Value(path)
			for _, method := range slices.Sorted(keys(item.Operations())) {
				op := item.Operations()[method]
				if op.OperationID == "signOut" || op.OperationID == "signOutEverywhere" || op.OperationID == "changeOwnPassword" ||
					op.OperationID == "signIn" {
					continue // they would end the session, or wait
				}
				address, query := path, []string{}
				for _, p := range append(slices.Clone(item.Parameters), op.Parameters...) {
					value := url.QueryEscape(fmt.Sprint(m.value(p.Value.Schema.Value, 0)))
					if p.Value.In == "path" {
						address = strings.ReplaceAll(address, "{"+p.Value.Name+"}", value)
					} else if p.Value.Required || m.IntN(2) == 0 {
						query = append(query, p.Value.Name+"="+value)
					}
				}
				if len(query) > 0 {
					address += "?" + strings.Join(query, "&")
				}
				var body any
				if op.RequestBody != nil {
					for _, media := range op.RequestBody.Value.Content {
						made := m.value(media.Schema.Value, 0)
						if ready := examples[op.OperationID]; len(ready) > 0 && round%4 > 0 {
							var plain any
							text, _ := json.Marshal(ready[m.IntN(len(ready))])
							_ = json.Unmarshal(text, &plain)
							made = m.spoil(plain)
							if o, ok := made.(map[string]any); ok && m.IntN(2) == 0 && o["id"] != nil {
								o["id"] = uuid.NewString()
							}
							if strings.HasSuffix(path, "/facts") {
								address = strings.ReplaceAll(path, "{id}", run)
							}
						}
						text, err := json.Marshal(made)
						if err != nil {
							t.Fatal(err)
						}
						if m.IntN(20) == 0 && len(text) > 2 { // cut off, or doubled
							text = bytes.Repeat(text[:m.IntN(len(text))], 1+m.IntN(2))
						}
						body = string(text)
					}
				}
				begun := time.Now()
				status, answer := ra.do(method, address, body)
				if took := time.Since(begun); took > hangs {
					t.Errorf("%s %s took %s", method, address, took)
				}
				if status >= 500 {
					t.Errorf("%s %s %.400v: %d %v", method, address, body, status, answer["detail"])
				}
				if tried[op.OperationID]++; status < 300 {
					taken++
				}
			}
		}
	}
	runtime.GC()
	runtime.ReadMemStats(&after)
	if grown := int64(after.HeapAlloc) - int64(before.HeapAlloc); grown > 64<<20 {
		t.Errorf("the memory grew by %d MiB", grown>>20)
	}
	n := 0
	for _, times := range tried {
		n += times
	}
	if n < 2000 || taken < n/20 {
		t.Errorf("%d requests, of which %d were taken: this tests little", n, taken)
	}
	t.Logf("%d requests of %d operations, %d taken", n, len(tried), taken)
}

// The same thing from several at once is made once, and everybody is told of it.
func TestTheSameAtOnce(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	ra, run := begin(t, base)
	view := ra.must(200, "GET", "/runs/"+run, nil)
	plan, again, newRun, fact := view["plan"].(object), uuid.NewString(), uuid.NewString(), uuid.NewString()
	askedPlan := asked(question(ra))
	askedPlan["id"] = again
	for what, c := range map[string]struct {
		path   string
		body   object
		wanted []int
	}{
		"plan":      {"/plans", askedPlan, []int{201}},
		"run":       {"/runs", object{"id": newRun, "planId": plan["id"]}, []int{201}},
		"fact":      {"/runs/" + run + "/facts", object{"id": fact, "kind": "note", "text": "at once"}, []int{200}},
		"glass":     {"/glass", object{"kind": "cylinder", "volume": 50, "class": "A", "count": 1, "mark": "C 1"}, []int{201, 409, 422}},
		"balance":   {"/balances", object{"name": "Twin", "capacity": 220, "resolution": 0.0001, "repeatability": 0.0001, "linearity": 0.0002}, []int{201, 422}},
		"substance": {"/substances", object{"name": "Pond salt", "formula": "NaCl", "class": "secondary", "source": "the label"}, []int{201, 409, 422}},
		"system":    {"/systems", object{"name": "4-Cyanophenol", "acid": "C7H5NO", "constants": []object{{"pKa": 7.97, "u": 0.02}}, "source": "handbook"}, []int{201, 409, 422}},
		"person":    {"/people", object{"name": "Sol Marsh", "initials": "SM", "login": "marsh", "password": password, "role": "assistant"}, []int{201, 422}},
	} {
		t.Run(what, func(t *testing.T) {
			var wg sync.WaitGroup
			var mu sync.Mutex
			made := 0
			for range 8 {
				one := newPerson(t, base)
				one.client.Jar = ra.client.Jar
				wg.Go(func() {
					status, answer := one.do(http.MethodPost, c.path, c.body)
					mu.Lock()
					defer mu.Unlock()
					if !slices.Contains(c.wanted, status) {
						t.Errorf("%d %v", status, answer["detail"])
					}
					if status < 300 {
						made++
					}
				})
			}
			wg.Wait()
			if want := map[bool]int{true: 8, false: 1}[len(c.wanted) == 1]; made != want {
				t.Errorf("%d were made, want %d", made, want)
			}
		})
	}
	if n := len(ra.must(200, "GET", "/runs/"+run, nil)["facts"].([]any)); n != 1 {
		t.Errorf("the note stands %d times", n)
	}
}
