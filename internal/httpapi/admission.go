package httpapi

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"

	"vialbench/internal/lab"
)

// How large a body may be in its structure: deeper or wider is no request of the contract, and
// would cost much to say what is wrong with it.
const (
	mostDepth   = 24    // objects and lists within one another
	mostMembers = 2100  // of one object or list
	mostValues  = 20000 // in all
)

// admission lets in what fits the contract, from whoever may ask: who it is comes before the body
// is read, and how large it is before it is looked into.
type admission struct {
	router routers.Router
	next   http.Handler
}

func newAdmission(spec *openapi3.T, next http.Handler) (*admission, error) {
	router, err := gorillamux.NewRouter(spec)
	return &admission{router, next}, err
}

// ServeHTTP implements [http.Handler].
func (a *admission) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	group := actor(r.Context()).Role == lab.Group
	if isUnchecked(r) {
		if group && !isStream(r) {
			writeProblem(w, http.StatusForbidden, notForGroups, nil)
			return
		}
		a.next.ServeHTTP(w, r)
		return
	}
	route, params, err := a.find(r)
	if err != nil {
		writeProblem(w, http.StatusNotFound, "there is nothing at this address", nil)
		return
	}
	if needsSession(route) && actor(r.Context()).ID == "" {
		writeProblem(w, http.StatusUnauthorized, "sign in first; what you typed is kept", nil)
		return
	}
	if group && needsSession(route) && !forGroups(route) {
		writeProblem(w, http.StatusForbidden, notForGroups, nil)
		return
	}
	if !isLarge(r) {
		body, err := io.ReadAll(r.Body)
		if err != nil {
			writeUnread(w, err)
			return
		}
		switch reason := unsound(body); reason {
		case "":
		case noNUL:
			writeProblem(w, http.StatusUnprocessableEntity, reason, nil)
			return
		default:
			writeProblem(w, http.StatusBadRequest, reason, nil)
			return
		}
		r.Body = io.NopCloser(bytes.NewReader(body))
	}
	in := &openapi3filter.RequestValidationInput{Request: r, PathParams: params, Route: route, Options: validation}
	if err := openapi3filter.ValidateRequest(r.Context(), in); err != nil {
		var tooLarge *http.MaxBytesError
		if errors.As(err, &tooLarge) {
			writeTooLarge(w)
			return
		}
		writeInvalid(w, err)
		return
	}
	a.next.ServeHTTP(w, r)
}

// validation is how requests are held against the contract. Who asks is settled before. An error
// has no text of its own: it would be written from the whole body, once for each alternative.
var validation = func() *openapi3filter.Options {
	o := &openapi3filter.Options{MultiError: true, AuthenticationFunc: openapi3filter.NoopAuthenticationFunc}
	o.WithCustomSchemaErrorFunc(func(err *openapi3.SchemaError) string { return "does not fit: " + err.SchemaField })
	return o
}()

// find is the operation of a request.
func (a *admission) find(r *http.Request) (*routers.Route, map[string]string, error) {
	bare := r.WithContext(r.Context())
	bare.URL = new(url.URL)
	*bare.URL = *r.URL
	bare.URL.Path, bare.URL.RawPath = strings.TrimPrefix(r.URL.Path, apiPrefix), strings.TrimPrefix(r.URL.RawPath, apiPrefix)
	return a.router.FindRoute(bare)
}

// needsSession reports whether the contract closes an operation to strangers.
func needsSession(route *routers.Route) bool {
	if own := route.Operation.Security; own != nil {
		return len(*own) > 0
	}
	return len(route.Spec.Security) > 0
}

// notForGroups is what a group of a class is told of all that is not its own.
const notForGroups = "this is for the people of the laboratory: a group has its own sheet"

// forGroups reports whether the contract opens an operation to the groups of a class.
func forGroups(route *routers.Route) bool {
	may, is := route.Operation.Extensions["x-group"].(bool)
	return is && may
}

// identified looks up who a session cookie belongs to and puts the actor into
// the context. A request without a valid session goes on without one.
func (s *Server) identified(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if cookie, err := r.Cookie(s.sessionCookie()); err == nil {
			actor, err := s.whoIs(r.Context(), cookie.Value)
			var nobody lab.NotFound
			switch {
			case err == nil:
				r = r.WithContext(context.WithValue(r.Context(), actorKey{}, actor))
			case !errors.As(err, &nobody):
				writeError(r.Context(), w, err)
				return
			}
		}
		next.ServeHTTP(w, r)
	})
}

// unsound says what is wrong with the structure of a JSON body, in one pass over its bytes and
// without decoding it; empty when nothing is. Whether it is JSON at all is left to the decoder.
func unsound(body []byte) string {
	var members [mostDepth + 1]int
	depth, values := 0, 0
	quoted := false
	for i := 0; i < len(body); i++ {
		c := body[i]
		if c == 0 {
			return noNUL
		}
		if quoted {
			switch c {
			case '"':
				quoted = false
			case '\\':
				if bytes.HasPrefix(body[i:], []byte(`\u0000`)) {
					return noNUL
				}
				i++ // whatever it escapes
			}
			continue
		}
		switch c {
		case '"':
			quoted = true
		case '{', '[':
			if depth++; depth > mostDepth {
				return fmt.Sprintf("this is nested more than %d deep, which no request is", mostDepth)
			}
			members[depth] = 1
			values++
		case '}', ']':
			depth = max(0, depth-1)
		case ',':
			values++
			if members[depth]++; members[depth] > mostMembers {
				return fmt.Sprintf("a list or an object here has more than %d members, which none has", mostMembers)
			}
		}
		if values > mostValues {
			return fmt.Sprintf("this has more than %d values, which no request has", mostValues)
		}
	}
	return ""
}
