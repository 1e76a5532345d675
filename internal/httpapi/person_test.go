package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"testing/fstest"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/google/uuid"

	"vialbench/api"
	"vialbench/internal/httpapi"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// quick hashes passwords with less care than a lab would.
var quick = lab.Options{Hashing: lab.Hashing{Passes: 1, MemoryKiB: 64}}

const password = "a long enough password"

// person is a browser: it keeps its cookie and checks every answer against the
// contract.
type person struct {
	t      testing.TB
	base   string
	client *http.Client
	router routers.Router
	// unchecked leaves the contract alone, for benchmarks.
	unchecked bool
	// last are the headers of the last answer.
	last http.Header
}

func newServer(t testing.TB, s *store.Store) string {
	t.Helper()
	return newServerWith(t, s, httpapi.Options{})
}

func newServerWith(t testing.TB, s *store.Store, options httpapi.Options) string {
	t.Helper()
	ctx, stop := context.WithCancel(context.Background())
	site := fstest.MapFS{
		"index.html": {Data: []byte("<title>page</title>")}, "assets/a.js": {Data: []byte("1")},
		"assets/a.js.br": {Data: []byte("packed by one")}, "assets/a.js.gz": {Data: []byte("packed by another")},
	}
	handler, err := httpapi.New(ctx, lab.New(s, quick), site, options)
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(handler)
	t.Cleanup(func() { stop(); server.Close() })
	return server.URL
}

// strict routes by the contract in which no answer may have a field that it lacks. It is read once: that
// takes most of a second under the race detector.
var strict = sync.OnceValues(func() (routers.Router, error) {
	spec, err := openapi3.NewLoader().LoadFromData(api.Contract)
	if err != nil {
		return nil, err
	}
	closed := false
	for _, schema := range spec.Components.Schemas {
		if s := schema.Value; s.Type.Is("object") && s.AdditionalProperties.Has == nil && s.AdditionalProperties.Schema == nil &&
			len(s.Properties) > 0 {
			s.AdditionalProperties.Has = &closed
		}
	}
	spec.Servers = openapi3.Servers{{URL: "/api/v1"}}
	return gorillamux.NewRouter(spec)
})

func newPerson(t testing.TB, base string) *person {
	t.Helper()
	router, err := strict()
	if err != nil {
		t.Fatal(err)
	}
	jar, _ := cookiejar.New(nil) // never fails without options
	return &person{t: t, base: base, client: &http.Client{Jar: jar}, router: router}
}

// do sends a request and returns status and body. Every JSON answer has to fit
// the contract.
func (p *person) do(method, path string, body any, header ...string) (int, map[string]any) {
	p.t.Helper()
	var sent io.Reader
	switch b := body.(type) {
	case nil:
	case string:
		sent = strings.NewReader(b)
	default:
		text, err := json.Marshal(b)
		if err != nil {
			p.t.Fatal(err)
		}
		sent = bytes.NewReader(text)
	}
	r, err := http.NewRequestWithContext(p.t.Context(), method, p.base+"/api/v1"+path, sent)
	if err != nil {
		p.t.Fatal(err)
	}
	if sent != nil {
		r.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i+1 < len(header); i += 2 {
		r.Header.Set(header[i], header[i+1])
	}
	answer, err := p.client.Do(r)
	if err != nil {
		p.t.Fatal(err)
	}
	p.last = answer.Header
	defer answer.Body.Close() //nolint:errcheck // read to the end
	text, err := io.ReadAll(answer.Body)
	if err != nil {
		p.t.Fatal(err)
	}
	if p.unchecked {
		return answer.StatusCode, decoded(text)
	}
	if route, params, err := p.router.FindRoute(r); err == nil {
		in := &openapi3filter.ResponseValidationInput{
			Status:                 answer.StatusCode,
			Header:                 answer.Header,
			Options:                &openapi3filter.Options{IncludeResponseStatus: true},
			RequestValidationInput: &openapi3filter.RequestValidationInput{Request: r, Route: route, PathParams: params},
		}
		in.SetBodyBytes(text)
		if err := openapi3filter.ValidateResponse(p.t.Context(), in); err != nil {
			p.t.Errorf("%s %s: the answer does not fit the contract: %.600v", method, path, err)
		}
	}
	return answer.StatusCode, decoded(text)
}

// decoded is a JSON answer as a map: an object's members, or a list under "list",
// and the text itself.
func decoded(text []byte) map[string]any {
	out := map[string]any{"text": string(text)}
	var list []any
	if json.Unmarshal(text, &out) != nil && json.Unmarshal(text, &list) == nil {
		out["list"] = list
	}
	return out
}

// must is do, with the status that is expected.
func (p *person) must(status int, method, path string, body any) map[string]any {
	p.t.Helper()
	got, out := p.do(method, path, body)
	if got != status {
		p.t.Fatalf("%s %s: %d %s, want %d", method, path, got, out["text"], status)
	}
	return out
}

// pointers lists the fields that a problem names.
func pointers(problem map[string]any) string {
	var list []string
	fields, _ := problem["errors"].([]any)
	for _, f := range fields {
		list = append(list, fmt.Sprint(f.(map[string]any)["pointer"]))
	}
	return strings.Join(list, " ")
}

type object = map[string]any

var fern = object{"name": "Fern", "capacity": 220, "resolution": 0.0001, "repeatability": 0.0001, "linearity": 0.0002}

// asked is a question of a standard solution as a plan is asked for.
func asked(q object) object { return object{"id": uuid.NewString(), "kind": "standard", "question": q} }

func question(p *person) object {
	for _, s := range p.must(200, "GET", "/substances", nil)["list"].([]any) {
		if substance := s.(object)["substance"].(object); substance["key"] == "potassium-hydrogen-phthalate" {
			return object{
				"substance":          substance,
				"assayPercent":       99.95,
				"assayLimitsPercent": 0.05,
				"concentration":      object{"text": "0.1000", "unit": "mol/L"},
				"volume":             object{"text": "250 mL"},
				"flaskClass":         "A",
				"bandPercent":        1,
				"balance":            fern,
				"waterTemperature":   20,
			}
		}
	}
	p.t.Fatal("no potassium hydrogen phthalate")
	return nil
}

// lab with an instructor who is signed in, a balance, and a run that is begun.
func begin(t testing.TB, base string) (ra *person, run string) {
	t.Helper()
	ra = newPerson(t, base)
	ra.must(201, "POST", "/setup", object{"name": "Rowan Ashdown", "initials": "RA", "login": "ashdown", "password": password})
	ra.must(201, "POST", "/balances", fern)
	plan := ra.must(201, "POST", "/plans", asked(question(ra)))
	run = uuid.NewString()
	ra.must(201, "POST", "/runs", object{"id": run, "planId": plan["id"]})
	return ra, run
}

func reading(kind, text string) object {
	return object{"id": uuid.NewString(), "kind": kind, "quantity": object{"text": text, "unit": "g"}}
}
