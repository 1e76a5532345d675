package lab

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
	"reflect"
	"slices"
	"strings"

	"vialbench/core/run"
	"vialbench/core/verdict"
)

// takeFile takes in records as they are read. What stands before the runs is taken in
// before them; of what stands after them, only plans can be.
func (in *importer) takeFile(file io.Reader) error {
	from := &source{Reader: file}
	err := in.takeSections(json.NewDecoder(from))
	if err != nil && from.err != nil {
		return from.err // a connection that breaks is no fault of the file
	}
	return err
}

// source keeps the error that reading met.
type source struct {
	io.Reader
	err error
}

func (s *source) Read(p []byte) (int, error) {
	n, err := s.Reader.Read(p)
	if err != nil && !errors.Is(err, io.EOF) {
		s.err = err
	}
	return n, err
}

func (in *importer) takeSections(d *json.Decoder) error {
	var head Records
	d.DisallowUnknownFields()
	sections := map[string]func(place string) error{
		"format":      one(d, &head.Format),
		"lab":         one(d, &head.Lab),
		"people":      lines(d, &head.People),
		"balances":    lines(d, &head.Balances),
		"meters":      lines(d, &head.Meters),
		"photometers": lines(d, &head.Photometers),
		"bench":       one(d, &head.Bench),
		"glass":       lines(d, &head.Glass),
		"substances":  lines(d, &head.Substances),
		"systems":     lines(d, &head.Systems),
		"checks":      lines(d, &head.Checks),
		"care":        lines(d, &head.Care),
		"bottles":     lines(d, &head.Bottles),
		"takings":     lines(d, &head.Takings),
		"changes":     lines(d, &head.Changes),
		"history":     lines(d, &head.History),
		"sessions":    lines(d, &head.Sessions),
		"store":       lines(d, &head.Store),
		"plans":       lines(d, &head.Plans),
	}
	if err := expect(d, '{'); err != nil {
		return err
	}
	begun := false
	for d.More() {
		name, err := d.Token()
		if err != nil {
			return unreadable("", err)
		}
		place := fmt.Sprintf("/%s", name)
		read, known := sections[place[1:]]
		switch {
		case name == "runs" && !begun:
			begun = true
			if err := in.begin(head); err != nil {
				return err
			}
			if err := in.takeRuns(d); err != nil {
				return err
			}
		case !known:
			return verdict.Problems{{Field: place, Reason: fmt.Sprintf("records have no “%s”; they have: %s, runs",
				name, strings.Join(slices.Sorted(maps.Keys(sections)), ", "))}}
		case begun && name != "plans":
			return verdict.Problems{{Field: place, Reason: "the runs come last in a file of records: what they need stands before them"}}
		default:
			if err := read(place); err != nil {
				return err
			}
		}
	}
	if err := expect(d, '}'); err != nil {
		return err
	}
	if !begun {
		if err := in.begin(head); err != nil {
			return err
		}
	}
	return in.finish(head)
}

// maxLines bounds a section of a file of records.
const maxLines = 200_000

// one reads a section of one value.
func one(d *json.Decoder, into any) func(place string) error {
	return func(place string) error { return unreadable(place, d.Decode(into)) }
}

// lines reads a section of a list.
func lines[T any](d *json.Decoder, into *[]T) func(place string) error {
	return func(place string) error {
		if err := expect(d, '['); err != nil {
			return err
		}
		for i := 0; d.More(); i++ {
			at := fmt.Sprintf("%s/%d", place, i)
			var line T
			if err := d.Decode(&line); err != nil {
				return unreadable(at, err)
			}
			if *into = append(*into, line); i == maxLines {
				return verdict.Problems{{Field: at, Reason: fmt.Sprintf("at most %d lines are taken in of one kind", maxLines)}}
			}
		}
		return expect(d, ']')
	}
}

func (in *importer) takeRuns(d *json.Decoder) error {
	if err := expect(d, '['); err != nil {
		return err
	}
	for i := 0; d.More(); i++ {
		place := fmt.Sprintf("/runs/%d", i)
		var r RunRecord
		if err := d.Decode(&r); err != nil {
			return unreadable(place, err)
		}
		if err := in.takeRun(place, r); err != nil {
			return err
		}
	}
	return expect(d, ']')
}

func expect(d *json.Decoder, want json.Delim) error {
	got, err := d.Token()
	if err == nil && got != want {
		err = fmt.Errorf("there is %v where %v should be", got, want)
	}
	return unreadable("", err)
}

// unreadable says where a file of records cannot be read.
func unreadable(place string, err error) error {
	var (
		typed   *json.UnmarshalTypeError
		problem verdict.Problems
	)
	switch {
	case err == nil, errors.As(err, &problem):
		return err
	case errors.As(err, &typed) && typed.Field != "":
		place += "/" + strings.ReplaceAll(typed.Field, ".", "/")
		err = fmt.Errorf("a %s does not belong here", typed.Value)
	case strings.HasPrefix(err.Error(), "json: unknown field "):
		err = errors.New("there is no member " + strings.TrimPrefix(err.Error(), "json: unknown field "))
	}
	return verdict.Problems{{Field: place, Reason: "this cannot be read as records: " + err.Error()}}
}

// The most that a request is.
const (
	maxRequest = 256 << 10
	maxDepth   = 20
	maxList    = 1000
	maxString  = 2000
	maxNumber  = 1e15
)

// bounded says what of a request is more than any plan has.
func bounded(request json.RawMessage) error {
	if len(request) > maxRequest {
		return fmt.Errorf("a request has at most %d kB", maxRequest>>10)
	}
	var value any
	if err := json.Unmarshal(request, &value); err != nil {
		return err
	}
	return boundedValue(value, 0)
}

func boundedValue(value any, depth int) error {
	if depth > maxDepth {
		return fmt.Errorf("this lies more than %d deep", maxDepth)
	}
	switch v := value.(type) {
	case string:
		if len(v) > maxString || strings.ContainsRune(v, 0) {
			return fmt.Errorf("a text has at most %d characters, and no NUL", maxString)
		}
	case float64:
		if math.Abs(v) > maxNumber {
			return fmt.Errorf("%g is too large for anything here", v)
		}
	case []any:
		if len(v) > maxList {
			return fmt.Errorf("a list has at most %d entries", maxList)
		}
		for _, x := range v {
			if err := boundedValue(x, depth+1); err != nil {
				return err
			}
		}
	case map[string]any:
		for name, x := range v {
			if len(name) > maxString || len(v) > maxList {
				return fmt.Errorf("this has more members than any request")
			}
			if err := boundedValue(x, depth+1); err != nil {
				return err
			}
		}
	}
	return nil
}

// noMore refuses members of a request that a plan does not have: they would be lost.
func noMore(request json.RawMessage, plan run.Plan) error {
	strict := reflect.New(reflect.TypeOf(plan))
	d := json.NewDecoder(bytes.NewReader(request))
	d.DisallowUnknownFields()
	if err := d.Decode(strict.Interface()); err != nil && strings.HasPrefix(err.Error(), "json: unknown field ") {
		return errors.New("there is no member " + strings.TrimPrefix(err.Error(), "json: unknown field "))
	}
	return nil
}

// checkTexts names the texts that are longer than any here, or that cannot be kept.
func (in *importer) checkTexts(r Records) {
	check := func(place, text string) {
		if len([]rune(text)) > maxString || strings.ContainsRune(text, 0) {
			in.problems.Add(place, "a text has at most %d characters, and no NUL", maxString)
		}
	}
	if r.Lab != nil {
		check("/lab/name", r.Lab.Name)
	}
	if r.Bench != nil {
		check("/bench/session", r.Bench.Session)
	}
	for i, c := range r.Checks {
		check(fmt.Sprintf("/checks/%d/sentence", i), c.Sentence)
	}
	for i, c := range r.Care {
		check(fmt.Sprintf("/care/%d/what", i), c.What)
	}
	for i, b := range r.Bottles {
		check(fmt.Sprintf("/bottles/%d/reason", i), b.Reason)
	}
	for i, t := range r.Takings {
		check(fmt.Sprintf("/takings/%d/purpose", i), t.Purpose)
	}
	for i, c := range r.Changes {
		check(fmt.Sprintf("/changes/%d", i), c.Moved+c.Cause)
	}
}
