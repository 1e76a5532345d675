// Package httpapi is the web side: routes, sign-in, problem answers, server-sent
// events and the embedded front end. It holds no rule of chemistry and no query.
package httpapi

import (
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
	nethttpmiddleware "github.com/oapi-codegen/nethttp-middleware"

	"vialbench/api"
	"vialbench/internal/lab"
)

// The limits of one request.
const (
	bodyLimit       = 1 << 20
	importBodyLimit = 32 << 20
	requestTimeout  = 30 * time.Second
)

const apiPrefix = "/api/v1"

// Server answers requests on one lab.
type Server struct {
	lab    *lab.Lab
	events *hub
	// lifetime ends the event streams, which would hold a shutdown up.
	lifetime context.Context //nolint:containedctx // it is the server's own
	// secure marks the session cookie for HTTPS only.
	secure bool
}

// New returns the handler of the whole application. site is the built front end.
// Events are listened for and streamed until the context ends.
func New(ctx context.Context, l *lab.Lab, site fs.FS, secureCookies bool) (http.Handler, error) {
	s := &Server{lab: l, events: newHub(), lifetime: ctx, secure: secureCookies}
	go l.Listen(ctx, s.events.announce)

	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.ContextWithFallback = true
	engine.HandleMethodNotAllowed = true
	engine.Use(gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, cause any) {
		slog.ErrorContext(c, "panic", "cause", cause, "path", c.Request.URL.Path)
		writeProblem(c.Writer, http.StatusInternalServerError, "something went wrong here; nothing was changed", nil)
		c.Abort()
	}))
	engine.Use(
		gzip.Gzip(
			gzip.DefaultCompression,
			gzip.WithExcludedPathsRegexs([]string{"^" + apiPrefix + "/(events|balances/[^/]+/live)$"}),
			gzip.WithExcludedExtensions([]string{".woff2", ".png", ".pdf"}),
		),
	)

	strict := NewStrictHandlerWithOptions(s, nil, StrictGinServerOptions{
		RequestErrorHandlerFunc: func(c *gin.Context, err error) {
			writeProblem(c.Writer, http.StatusBadRequest, "the request cannot be read: "+err.Error(), nil)
		},
		HandlerErrorFunc: func(c *gin.Context, err error) { writeError(c, c.Writer, err) },
		ResponseErrorHandlerFunc: func(c *gin.Context, err error) {
			slog.ErrorContext(c, "answer not sent", "error", err)
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
	engine.GET(apiPrefix+"/events", s.streamEvents)
	engine.GET(apiPrefix+"/balances/:id/live", s.streamBalance)
	engine.GET("/pictograms/:code", servePictogram)
	engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	engine.GET("/readyz", func(c *gin.Context) {
		if err := l.Ready(c); err != nil {
			c.String(http.StatusServiceUnavailable, "the database does not answer\n")
			return
		}
		c.String(http.StatusOK, "ready\n")
	})
	if err := serveSite(engine, site); err != nil {
		return nil, err
	}

	spec, err := openapi3.NewLoader().LoadFromData(api.Contract)
	if err != nil {
		return nil, err
	}
	validate := nethttpmiddleware.OapiRequestValidatorWithOptions(spec, &nethttpmiddleware.Options{
		Options:               openapi3filter.Options{MultiError: true, AuthenticationFunc: requireSession},
		ErrorHandlerWithOpts:  answerInvalid,
		SilenceServersWarning: true,
		DoNotValidateServers:  true,
		Prefix:                apiPrefix,
		Skipper:               isStream,
	})
	validated := s.identified(validate(engine))
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
	return logged(secured(limited(origin.Handler(routes)))), nil
}

// isStream tells whether a request opens a stream of events, which the contract
// does not describe and no timeout ends.
func isStream(r *http.Request) bool {
	path := r.URL.Path
	return path == apiPrefix+"/events" || strings.HasPrefix(path, apiPrefix+"/balances/") && strings.HasSuffix(path, "/live")
}

// secured sets the security headers. Styles may stand in attributes, since the
// control library and the drawings set them there; scripts may not.
func secured(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set(
			"Content-Security-Policy",
			"default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
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

func limited(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		most := int64(bodyLimit)
		if r.URL.Path == apiPrefix+"/import" || strings.HasPrefix(r.URL.Path, apiPrefix+"/tables/") {
			most = importBodyLimit
		}
		if r.ContentLength > most {
			writeTooLarge(w)
			return
		}
		r.Body = http.MaxBytesReader(w, r.Body, most)
		if !isStream(r) {
			ctx, cancel := context.WithTimeout(r.Context(), requestTimeout)
			defer cancel()
			r = r.WithContext(ctx)
		}
		next.ServeHTTP(w, r)
	})
}

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

// logged gives every request an ID and a line in the log.
func logged(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id := uuid.NewString()
		begun := time.Now()
		w.Header().Set("X-Request-Id", id)
		out := &statusWriter{w, http.StatusOK}
		next.ServeHTTP(out, r)
		level := slog.LevelDebug
		if out.status >= http.StatusInternalServerError {
			level = slog.LevelError
		}
		slog.Log(
			r.Context(),
			level,
			"request",
			"id",
			id,
			"method",
			r.Method,
			"path",
			r.URL.Path,
			"status",
			out.status,
			"ms",
			time.Since(begun).Milliseconds(),
		)
	})
}

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
			}
			files.ServeHTTP(c.Writer, c.Request)
			return
		}
		c.Header("Cache-Control", "no-cache")
		c.Data(http.StatusOK, "text/html; charset=utf-8", page)
	})
	return nil
}
