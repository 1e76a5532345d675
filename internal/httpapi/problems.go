package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"maps"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"

	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// What is said when nobody can know whether a change was recorded: the commit may have
// gone through before the answer was lost. Sent again with the same ID, it is kept once.
const (
	unknownOutcome = "the database does not answer; whether this was recorded is not known: send it again, it is kept once"
	wentWrong      = "something went wrong here; whether this was recorded is not known: look before going on"
)

// writeProblem answers with an RFC 9457 problem.
func writeProblem(w http.ResponseWriter, status int, detail string, fields []ProblemField) {
	problem := Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Detail: &detail}
	if len(fields) > 0 {
		problem.Errors = &fields
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(problem) // the client has gone when this fails
}

// writeTooLarge answers a body over the limit. The rest of the body is not read,
// so the connection cannot be used again.
func writeTooLarge(w http.ResponseWriter) {
	w.Header().Set("Connection", "close")
	writeProblem(w, http.StatusRequestEntityTooLarge, "this is more than can be taken in at once", nil)
}

// statusClientGone is what the log calls a request that was given up by the one
// who asked; no standard status says so.
const statusClientGone = 499

// writeError answers an error of the lab with the problem that fits it.
func writeError(ctx context.Context, w http.ResponseWriter, err error) {
	var (
		problems  verdict.Problems
		notFound  lab.NotFound
		forbidden lab.Forbidden
		conflict  lab.Conflict
		throttled lab.Throttled
		failed    lab.SignInFailed
	)
	switch {
	case errors.As(err, &problems):
		fields := make([]ProblemField, len(problems))
		for i, p := range problems {
			fields[i] = ProblemField{Pointer: p.Field, Detail: p.Reason}
		}
		writeProblem(w, http.StatusUnprocessableEntity, problems.Error(), fields)
	case errors.As(err, &notFound):
		writeProblem(w, http.StatusNotFound, err.Error(), nil)
	case errors.As(err, &forbidden):
		writeProblem(w, http.StatusForbidden, err.Error(), nil)
	case errors.As(err, &conflict):
		writeProblem(w, http.StatusConflict, err.Error(), nil)
	case errors.As(err, &throttled):
		w.Header().Set("Retry-After", strconv.Itoa(int(math.Ceil(throttled.Wait.Seconds()))))
		writeProblem(w, http.StatusTooManyRequests, err.Error(), nil)
	case errors.As(err, &failed):
		writeProblem(w, http.StatusUnauthorized, err.Error(), nil)
	case errors.Is(err, errTooMuch):
		writeProblem(w, http.StatusUnprocessableEntity, err.Error(), nil)
	case errors.Is(err, errBusy):
		w.Header().Set("Retry-After", "1")
		writeProblem(w, http.StatusTooManyRequests, err.Error(), nil)
	case errors.Is(err, context.Canceled): // whoever asked has left, and nobody reads the answer
		writeProblem(w, statusClientGone, "the question was withdrawn", nil)
	case store.IsDuplicate(err):
		writeProblem(w, http.StatusConflict, "something of this is here already, as something else: look before going on", nil)
	case store.Unstorable(err):
		writeProblem(
			w,
			http.StatusUnprocessableEntity,
			"something in this cannot be kept: a text with a character that is none, or a number that is too large",
			nil,
		)
	case store.Unavailable(err) || errors.Is(err, context.DeadlineExceeded):
		slog.WarnContext(ctx, "the database does not answer", "error", err)
		w.Header().Set("Retry-After", "2")
		writeProblem(w, http.StatusServiceUnavailable, unknownOutcome, nil)
	default:
		slog.ErrorContext(ctx, "request failed", "error", err)
		writeProblem(w, http.StatusInternalServerError, wentWrong, nil)
	}
}

// writeUnread answers a body that could not be read: too large, or broken off.
func writeUnread(w http.ResponseWriter, err error) {
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		writeTooLarge(w)
		return
	}
	w.Header().Set("Connection", "close")
	writeProblem(w, http.StatusBadRequest, "the request broke off: send it again", nil)
}

// writeInvalid answers a request that does not fit the contract, naming the fields.
func writeInvalid(w http.ResponseWriter, err error) {
	fields := invalidFields(err)
	detail := "the request cannot be read"
	if len(fields) > 0 {
		detail = strings.TrimPrefix(fields[0].Pointer, "/") + ": " + fields[0].Detail
	}
	writeProblem(w, http.StatusBadRequest, strings.TrimPrefix(detail, ": "), fields)
}

// mostFields is how many of them an answer names.
const mostFields = 20

func isObject(value any) bool {
	_, ok := value.(map[string]any)
	return ok
}

// named is what is wrong with the alternative that a value names, or with the parts of a schema that
// all hold; nil of all else.
func named(e *openapi3.SchemaError) error {
	if e.Origin != nil && (e.SchemaField == "oneOf" && e.Schema.Discriminator != nil && isObject(e.Value) || len(e.Schema.AllOf) > 0) {
		return e.Origin
	}
	return nil
}

// misfit says where a value does not fit its schema, and what would.
func misfit(e *openapi3.SchemaError) (pointer, detail string) {
	for _, part := range e.JSONPointer() {
		pointer += "/" + part
	}
	switch one := e.Schema.Discriminator; {
	case e.SchemaField == "discriminator":
		return pointer + "/" + one.PropertyName, "is one of " + strings.Join(slices.Sorted(maps.Keys(one.Mapping)), ", ")
	case e.SchemaField == "oneOf" && one == nil:
		return pointer, "is a number, or the text that was typed for it"
	case e.SchemaField == "oneOf":
		return pointer, "is an object"
	}
	return pointer, e.Reason
}

// invalidFields collects the pointers and reasons of a validation error.
func invalidFields(err error) []ProblemField {
	var fields []ProblemField
	add := func(pointer, detail string) {
		if len(fields) < mostFields {
			fields = append(fields, ProblemField{Pointer: pointer, Detail: detail})
		}
	}
	var walk func(err error, prefix string)
	walk = func(err error, prefix string) {
		switch e := err.(type) { //nolint:errorlint // the tree is walked by hand, level by level
		case openapi3.MultiError:
			for _, inner := range e {
				walk(inner, prefix)
			}
		case *openapi3filter.RequestError:
			if e.Parameter != nil {
				prefix = "/" + e.Parameter.Name
			}
			if e.Err == nil {
				add(prefix, e.Reason)
				return
			}
			walk(e.Err, prefix)
		case *openapi3.SchemaError:
			if inner := named(e); inner != nil {
				walk(inner, prefix)
				return
			}
			pointer, detail := misfit(e)
			add(prefix+pointer, detail)
		default:
			if inner := errors.Unwrap(err); inner != nil {
				walk(inner, prefix)
				return
			}
			add(prefix, "cannot be read: "+err.Error())
		}
	}
	walk(err, "")
	slices.SortStableFunc(fields, func(a, b ProblemField) int { return strings.Compare(a.Pointer, b.Pointer) })
	return fields
}
