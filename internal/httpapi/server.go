// Package httpapi is the web side: routes, sign-in, problem answers, server-sent
// events and the embedded front end. It holds no rule of chemistry and no query.
package httpapi

import (
	"cmp"
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"mime"
	"net/http"
	"net/netip"
	"net/url"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"
	"unicode/utf8"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"vialbench/api"
	"vialbench/internal/lab"
)

// The limits of one request.
const (
	bodyLimit       = 1 << 20
	tableBodyLimit  = 32 << 20
	importBodyLimit = 128 << 20
)

const apiPrefix = "/api/v1"

// Server answers requests on one lab.
type Server struct {
	lab    *lab.Lab
	events *hub
	turns  *turns
	// lifetime ends the event streams, which would hold a shutdown up.
	lifetime context.Context //nolint:containedctx // it is the server's own
	options  Options
}

// Options are what an installation sets.
type Options struct {
	// SecureCookies marks the session cookie for HTTPS only, and has browsers keep to HTTPS.
	SecureCookies bool
	// SetupWord is asked of whoever makes the first instructor; none when it is empty.
	SetupWord string
	// Proxies are those whose word on where a request comes from is taken.
	Proxies []netip.Prefix
	// Timeout is how long one request may take; 30 s when zero.
	Timeout time.Duration
	// Large is how long one may take that moves much; 10 minutes when zero.
	Large time.Duration
	// Watch measures what the server is asked; nothing does when it is nil.
	Watch *Watch
}

// trusts reports whether a host is a proxy of the installation.
func (o Options) trusts(host string) bool {
	ip, err := netip.ParseAddr(host)
	return err == nil && slices.ContainsFunc(o.Proxies, func(p netip.Prefix) bool { return p.Contains(ip.Unmap()) })
}

// contract is what requests are checked against, read once.
var contract = sync.OnceValues(func() (*openapi3.T, error) {
	spec, err := openapi3.NewLoader().LoadFromData(api.Contract)
	if err == nil {
		spec.Servers = nil // paths count, hosts do not
	}
	return spec, err
})

// New returns the handler of the whole application. site is the built front end.
// Events are listened for and streamed until the context ends.
func New(ctx context.Context, l *lab.Lab, site fs.FS, options Options) (http.Handler, error) {
	options.Timeout, options.Large = cmp.Or(options.Timeout, 30*time.Second), cmp.Or(options.Large, 10*time.Minute)
	s := &Server{lab: l, events: newHub(), turns: newTurns(runtime.GOMAXPROCS(0)), lifetime: ctx, options: options}
	go l.Listen(ctx, s.events.announce)

	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.ContextWithFallback = true
	engine.HandleMethodNotAllowed = true
	engine.Use(gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, cause any) {
		slog.ErrorContext(c.Request.Context(), "panic", "cause", cause, "path", c.Request.URL.Path)
		writeProblem(c.Writer, http.StatusInternalServerError, wentWrong, nil)
		c.Abort()
	}))
	engine.Use(noted)
	engine.Use(s.events.mark)
	engine.Use(
		gzip.Gzip(
			gzip.DefaultCompression,
			gzip.WithExcludedPathsRegexs([]string{"^" + apiPrefix + "/(events|(balances|meters|photometers)/[^/]+/live)$", "^/assets/"}),
			gzip.WithExcludedExtensions([]string{".woff2", ".png", ".pdf", ".gz", ".xlsx"}),
		),
	)

	strict := NewStrictHandlerWithOptions(s, []StrictMiddlewareFunc{detached}, StrictGinServerOptions{
		RequestErrorHandlerFunc: func(c *gin.Context, err error) {
			writeProblem(c.Writer, http.StatusBadRequest, "the request cannot be read: "+err.Error(), nil)
		},
		HandlerErrorFunc: func(c *gin.Context, err error) { writeError(c.Request.Context(), c.Writer, err) },
		ResponseErrorHandlerFunc: func(c *gin.Context, err error) {
			slog.ErrorContext(c.Request.Context(), "answer not sent", "error", err)
		},
	})
	RegisterHandlersWithOptions(
		engine,
		strict,
		GinServerOptions{BaseURL: apiPrefix, ErrorHandler: func(c *gin.Context, err error, status int) {
			writeProblem(c.Writer, status, err.Error(), nil)
		}},
	)
	engine.POST(apiPrefix+"/compute/*operation", s.compute)
	engine.GET(apiPrefix+"/export", s.exportRecords)
	engine.POST(apiPrefix+"/import", s.importRecords)
	engine.GET(apiPrefix+"/events", s.streamEvents)
	engine.GET(apiPrefix+"/balances/:id/live", s.stream(s.lab.WatchBalance))
	engine.GET(apiPrefix+"/meters/:id/live", s.stream(s.lab.WatchMeter))
	engine.GET(apiPrefix+"/photometers/:id/live", s.stream(s.lab.WatchPhotometer))
	engine.GET("/pictograms/:code", servePictogram)
	engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	engine.GET("/readyz", func(c *gin.Context) {
		if err := l.Ready(c.Request.Context()); err != nil {
			c.String(http.StatusServiceUnavailable, "the database does not answer\n")
			return
		}
		c.String(http.StatusOK, "ready\n")
	})
	if err := serveSite(engine, site); err != nil {
		return nil, err
	}

	spec, err := contract()
	if err != nil {
		return nil, err
	}
	admitted, err := newAdmission(spec, engine)
	if err != nil {
		return nil, err
	}
	validated := s.identified(admitted)
	routes := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, apiPrefix+"/") {
			validated.ServeHTTP(w, r)
			return
		}
		engine.ServeHTTP(w, r)
	})

	origin := http.NewCrossOriginProtection()
	origin.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeProblem(w, http.StatusForbidden, "this request came from another site", nil)
	}))
	return s.logged(s.secured(s.limited(origin.Handler(routes)))), nil
}

// detached hands an operation a context of its own: gin uses its contexts again for the
// next request, and what still watches one then would look into that.
func detached(operation StrictHandlerFunc, _ string) StrictHandlerFunc {
	return func(c *gin.Context, request any) (any, error) {
		own := c.Copy()
		own.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), answerKey{}, c.Writer.Header()))
		return operation(own, request)
	}
}

type answerKey struct{}

// answerHeader is the header of the answer to the request that a context is of.
func answerHeader(ctx context.Context) http.Header {
	h, ok := ctx.Value(answerKey{}).(http.Header)
	if !ok {
		return http.Header{}
	}
	return h
}

// isStream reports whether a request opens a stream of events, which the contract
// does not describe and no timeout ends.
func isStream(r *http.Request) bool {
	path := r.URL.Path
	instrument := func(of string) bool { return strings.HasPrefix(path, apiPrefix+"/"+of+"/") }
	return path == apiPrefix+"/events" || strings.HasSuffix(path, "/live") &&
		(instrument("balances") || instrument("meters") || instrument("photometers"))
}

// isLarge reports whether a request moves so much that it is read or written as it goes,
// and may take its time.
func isLarge(r *http.Request) bool {
	path := r.URL.Path
	return path == apiPrefix+"/import" || path == apiPrefix+"/export" || path == apiPrefix+"/logbook.csv" || path == apiPrefix+"/labels" ||
		strings.HasPrefix(path, apiPrefix+"/tables/")
}

// isUnchecked reports whether a request is looked at by its handler alone: the body of an
// import is too large to be checked in one piece.
func isUnchecked(r *http.Request) bool {
	return isStream(r) || r.URL.Path == apiPrefix+"/import" || r.URL.Path == apiPrefix+"/export"
}

// secured sets the security headers. Styles may stand in attributes, since the
// control library and the drawings set them there; scripts may not. The core runs in the
// browser too, compiled for it.
func (s *Server) secured(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		if s.options.SecureCookies {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		h.Set(
			"Content-Security-Policy",
			"default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; worker-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
		)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
		if strings.HasPrefix(r.URL.Path, apiPrefix) {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r)
	})
}

// takeFiles are the computations that a file comes in with.
var takeFiles = []string{apiPrefix + "/compute/spectrum", apiPrefix + "/compute/table"}

func (s *Server) limited(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		most := int64(bodyLimit)
		switch {
		case r.URL.Path == apiPrefix+"/import":
			most = importBodyLimit
		case strings.HasPrefix(r.URL.Path, apiPrefix+"/tables/"), slices.Contains(takeFiles, r.URL.Path):
			most = tableBodyLimit
		}
		if r.ContentLength > most {
			writeTooLarge(w)
			return
		}
		r.Body = http.MaxBytesReader(w, r.Body, most)
		var broken atomic.Bool
		r = r.WithContext(context.WithValue(r.Context(), brokenKey{}, &broken))
		defer func() {
			if broken.Load() { // and not before gin has taken its hands off: it would end the answer as if it were whole
				panic(http.ErrAbortHandler)
			}
		}()
		if !isStream(r) {
			timeout := s.options.Timeout
			if isLarge(r) {
				timeout = s.options.Large
			}
			// Whoever reads or sends too slowly does not hold the connection for ever.
			control, end := http.NewResponseController(w), time.Now().Add(timeout+timeout/5)
			_ = control.SetReadDeadline(end)
			_ = control.SetWriteDeadline(end)
			// A browser that goes on to another page does not cancel what is under way: a query that
			// is broken off as it ends can spoil its connection for the next request. What nobody
			// reads any more ends by the write deadline.
			// A computation touches no record, and ends with whoever asked.
			ctx := r.Context()
			if !strings.HasPrefix(r.URL.Path, apiPrefix+"/compute/") {
				ctx = context.WithoutCancel(ctx)
			}
			ctx, cancel := context.WithTimeout(ctx, timeout)
			defer cancel()
			r = r.WithContext(ctx)
		}
		query, err := url.QueryUnescape(r.URL.RawQuery)
		switch address := r.URL.Path + "?" + query; { // an address that cannot be read leaves no query
		case strings.Contains(address, "\x00"):
			writeProblem(w, http.StatusUnprocessableEntity, noNUL, nil)
			return
		case err != nil || !utf8.ValidString(address):
			writeProblem(w, http.StatusBadRequest, "this address is no text in UTF-8: percent-encode it", nil)
			return
		}
		next.ServeHTTP(w, r)
	})
}

type brokenKey struct{}

// breakOff breaks an answer off that has begun and cannot go on, so that nobody takes the
// beginning for all of it.
func breakOff(ctx context.Context, what string, err error) {
	slog.ErrorContext(ctx, what+" was not given out to the end", "error", err)
	if broken, ok := ctx.Value(brokenKey{}).(*atomic.Bool); ok {
		broken.Store(true)
	}
}

// noNUL is what is said of the one character that no text can be kept with.
const noNUL = "a text has a NUL character in it, which cannot be kept: leave it out"

type statusWriter struct {
	http.ResponseWriter
	status int
}

func (w *statusWriter) WriteHeader(status int) {
	w.status = status
	w.ResponseWriter.WriteHeader(status)
}

// Unwrap lets http.ResponseController reach the connection.
func (w *statusWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// Flush implements http.Flusher for the event stream.
func (w *statusWriter) Flush() { _ = http.NewResponseController(w.ResponseWriter).Flush() }

// serveSite serves the front end: hashed assets for a year, and the page itself
// for every path that is not a file.
func serveSite(engine *gin.Engine, site fs.FS) error {
	page, err := fs.ReadFile(site, "index.html")
	if errors.Is(err, fs.ErrNotExist) {
		page = []byte("<!doctype html><title>Vial Bench</title><p>The front end is not built: run make build.")
	} else if err != nil {
		return err
	}
	files := http.FileServerFS(site)
	engine.NoRoute(func(c *gin.Context) {
		path := strings.TrimPrefix(c.Request.URL.Path, "/")
		if strings.HasPrefix(path, "api/") {
			writeProblem(c.Writer, http.StatusNotFound, "there is nothing at this address", nil)
			return
		}
		if info, err := fs.Stat(site, path); err == nil && !info.IsDir() && path != "index.html" {
			if strings.HasPrefix(path, "assets/") {
				c.Header("Cache-Control", "public, max-age=31536000, immutable")
				servePacked(c, site, path)
			}
			files.ServeHTTP(c.Writer, c.Request)
			return
		}
		c.Header("Cache-Control", "no-cache")
		c.Data(http.StatusOK, "text/html; charset=utf-8", page)
	})
	return nil
}

// servePacked has a file of the front end handed out as the build packed it, to who can unpack that.
func servePacked(c *gin.Context, site fs.FS, path string) {
	c.Header("Vary", "Accept-Encoding")
	for _, p := range []struct{ encoding, extension string }{{"br", ".br"}, {"gzip", ".gz"}} {
		if !strings.Contains(c.GetHeader("Accept-Encoding"), p.encoding) {
			continue
		}
		if _, err := fs.Stat(site, path+p.extension); err == nil {
			c.Header("Content-Type", mime.TypeByExtension(filepath.Ext(path)))
			c.Header("Content-Encoding", p.encoding)
			c.Request.URL.Path += p.extension
			return
		}
	}
}
