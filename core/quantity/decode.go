package quantity

import (
	"bytes"
	"encoding/json"
	"fmt"
	"reflect"
	"strings"

	"vialbench/core/verdict"
)

// Decode reads a question as JSON into a value whose numbers may be written as they
// were typed: "12,5" where 12.5 is meant, and an empty text where nothing was. Fields
// that are not known are refused. What is wrong is verdict.Problems with JSON pointers.
func Decode(text []byte, into any) error {
	var raw any
	reader := json.NewDecoder(bytes.NewReader(text))
	reader.UseNumber()
	if err := reader.Decode(&raw); err != nil {
		return verdict.Problems{{Reason: "this is not JSON: " + err.Error()}}
	}
	var p verdict.Problems
	raw = untype(raw, reflect.TypeOf(into).Elem(), "", &p)
	if len(p) > 0 {
		return p
	}
	plain, err := json.Marshal(raw)
	if err != nil {
		return err
	}
	strict := json.NewDecoder(bytes.NewReader(plain))
	strict.DisallowUnknownFields()
	if err := strict.Decode(into); err != nil {
		return verdict.Problems{{Reason: "the input cannot be read: " + strings.TrimPrefix(err.Error(), "json: ")}}
	}
	return nil
}

var unmarshaler = reflect.TypeFor[json.Unmarshaler]()

// untype turns texts into numbers wherever the type wants a number.
func untype(raw any, t reflect.Type, at string, p *verdict.Problems) any {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if reflect.PointerTo(t).Implements(unmarshaler) {
		return raw
	}
	switch t.Kind() {
	case reflect.Float64, reflect.Int:
		typed, ok := raw.(string)
		if !ok {
			return raw
		}
		if strings.TrimSpace(typed) == "" {
			return nil
		}
		value, err := Number(typed)
		if err != nil {
			p.Add(at, "“%s”: %s; write a number, like %s", clip(typed), err, map[bool]string{true: "3", false: "99.95"}[t.Kind() == reflect.Int])
		}
		return value
	case reflect.Slice:
		if list, ok := raw.([]any); ok {
			for i := range list {
				list[i] = untype(list[i], t.Elem(), fmt.Sprintf("%s/%d", at, i), p)
			}
		}
	case reflect.Map:
		if members, ok := raw.(map[string]any); ok {
			for name := range members {
				members[name] = untype(members[name], t.Elem(), at+"/"+name, p)
			}
		}
	case reflect.Struct:
		members, ok := raw.(map[string]any)
		if !ok {
			return raw
		}
		for _, f := range reflect.VisibleFields(t) {
			name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
			if value, ok := members[name]; ok && name != "" && !f.Anonymous {
				members[name] = untype(value, f.Type, at+"/"+name, p)
			}
		}
	}
	return raw
}
