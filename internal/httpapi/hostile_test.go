package httpapi_test

import (
	"fmt"
	"runtime"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/google/uuid"

	"vialbench/internal/httpapi"
	"vialbench/internal/store/storetest"
)

// The bounds on the structure of a body hold all that the contract allows.
func TestStructureHoldsTheContract(t *testing.T) {
	eachInput(contract(t), func(at string, s *openapi3.Schema) {
		var walk func(s *openapi3.Schema, depth int)
		walk = func(s *openapi3.Schema, depth int) {
			if depth > httpapi.MostDepth {
				t.Errorf("%s is nested deeper than a body may be", at)
				return
			}
			if s.MaxItems != nil && *s.MaxItems > httpapi.MostMembers || len(s.Properties) > httpapi.MostMembers {
				t.Errorf("%s has more members than a body may have", at)
			}
			if s.Items != nil {
				walk(s.Items.Value, depth+1)
			}
			for _, p := range s.Properties {
				walk(p.Value, depth+1)
			}
			for _, list := range []openapi3.SchemaRefs{s.OneOf, s.AnyOf, s.AllOf} {
				for _, one := range list {
					walk(one.Value, depth)
				}
			}
		}
		walk(s, 0)
	})
}

// What a stranger sends is not read, however it is made; what somebody sends who is signed in is
// refused at a glance, and a wrong field is named.
func TestHostileBodies(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	ra, _ := begin(t, base)
	ra.unchecked = true
	stranger := newPerson(t, base)
	stranger.unchecked = true
	brackets := strings.Repeat("[", 9000) + strings.Repeat("]", 9000)
	var wide strings.Builder
	wide.WriteString(`{"id": "` + uuid.NewString() + `", "kind": "buffer", "question": {`)
	for i := range 60000 {
		fmt.Fprintf(&wide, `"x%d": 1,`, i)
	}
	wide.WriteString(`"y": 1}}`)
	narrow := `{"id": "` + uuid.NewString() + `", "kind": "standard", "question": {` + strings.Repeat(`"x": [[[[[[1]]]]]],`, 200) + `"y": 1}}`
	for what, c := range map[string]struct {
		body string
		who  *person
		want int
	}{
		"brackets of a stranger": {brackets, stranger, 401},
		"brackets":               {brackets, ra, 400},
		"members of a stranger":  {wide.String(), stranger, 401},
		"members":                {wide.String(), ra, 400},
		"unknown members":        {narrow, ra, 400},
	} {
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		status, answer := c.who.do("POST", "/plans", c.body)
		runtime.ReadMemStats(&after)
		if status != c.want {
			t.Errorf("%s: %d %v", what, status, answer["detail"])
		}
		if grown := after.TotalAlloc - before.TotalAlloc; grown > 8<<20 {
			t.Errorf("%s took %d KiB", what, grown>>10)
		}
	}
	id := uuid.NewString()
	for what, c := range map[string]struct {
		body    any
		pointer string
		says    string
	}{
		"a kind that is none": {object{"id": id, "kind": "brew", "question": object{}}, "/kind", "is one of absorbance, buffer, calibration, capacity"},
		"no kind":             {object{"id": id, "question": object{}}, "/kind", "is one of absorbance, buffer"},
		"a field of no kind":  {object{"id": id, "kind": "buffer", "question": object{"target": 7, "colour": "red"}}, "/question", `"colour" is unsupported`},
		"a list for a number": {object{"id": id, "kind": "buffer", "question": object{"target": []any{7}}}, "/question/target", "is a number, or the text"},
		"no object":           {[]any{}, "", "is an object"},
	} {
		status, answer := ra.do("POST", "/plans", c.body)
		found := fmt.Sprint(answer["errors"])
		if status != 400 || !strings.Contains(found, c.says) || !strings.Contains(found, "pointer:"+c.pointer) ||
			strings.Contains(found, "oneOf") {
			t.Errorf("%s: %d %v", what, status, found)
		}
	}
}
