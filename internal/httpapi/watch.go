package httpapi

import (
	"context"
	"database/sql"
	"log/slog"
	"net/http"
	"net/http/pprof"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// Watch measures a process for those who run it.
type Watch struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec
	streams  prometheus.Gauge
}

// NewWatch measures the process, its pool of connections to the database, and what a server with it in its
// options is asked.
func NewWatch(pool *sql.DB) *Watch {
	w := &Watch{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "vialbench_request_seconds", Help: "How long requests took, by operation and status; event streams are left out.",
			Buckets: []float64{0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 30},
		}, []string{"operation", "status"}),
		streams: prometheus.NewGauge(prometheus.GaugeOpts{
			Name: "vialbench_streams_open", Help: "Open event streams: pages, and instruments that are watched.",
		}),
	}
	w.registry.MustRegister(w.requests, w.streams, collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}), collectors.NewDBStatsCollector(pool, "vialbench"))
	return w
}

// Handler serves /metrics for Prometheus and /debug/pprof/. It asks for no sign-in: it belongs on an address
// of the machine itself.
func (w *Watch) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(w.registry, promhttp.HandlerOpts{}))
	mux.HandleFunc("/debug/pprof/", pprof.Index)
	mux.HandleFunc("/debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("/debug/pprof/symbol", pprof.Symbol)
	mux.HandleFunc("/debug/pprof/trace", pprof.Trace)
	return mux
}

// note is what the log says of the request that a line belongs to.
type note struct{ id, operation string }

type noteKey struct{}

func noteOf(ctx context.Context) *note {
	n, _ := ctx.Value(noteKey{}).(*note)
	return n
}

// noted notes the operation of a request, as the contract names its path. What has no path of ours is one
// operation, whatever its method: a stranger makes no new ones.
func noted(c *gin.Context) {
	n := noteOf(c.Request.Context())
	switch path := c.FullPath(); {
	case n == nil:
	case path == "":
		n.operation = "page"
	default:
		n.operation = c.Request.Method + " " + path
	}
}

// logged gives every request an ID and a line in the log, and measures it.
func (s *Server) logged(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		n := &note{id: uuid.NewString(), operation: "other"}
		begun := time.Now()
		w.Header().Set("X-Request-Id", n.id)
		out := &statusWriter{w, http.StatusOK}
		r = r.WithContext(context.WithValue(r.Context(), noteKey{}, n))
		watch, stream := s.options.Watch, isStream(r)
		if watch != nil && stream {
			watch.streams.Inc()
			defer watch.streams.Dec()
		}
		next.ServeHTTP(out, r)
		took := time.Since(begun)
		if watch != nil && !stream {
			watch.requests.WithLabelValues(n.operation, strconv.Itoa(out.status)).Observe(took.Seconds())
		}
		level := slog.LevelDebug
		if out.status >= http.StatusInternalServerError {
			level = slog.LevelError
		}
		slog.Log(r.Context(), level, "request", "path", r.URL.Path, "status", out.status, "ms", took.Milliseconds())
	})
}

// LogHandler adds the ID and the operation of its request to each line of a log.
func LogHandler(to slog.Handler) slog.Handler { return requestHandler{to} }

type requestHandler struct{ slog.Handler }

func (h requestHandler) Handle(ctx context.Context, r slog.Record) error {
	if n := noteOf(ctx); n != nil {
		r.AddAttrs(slog.String("request", n.id), slog.String("operation", n.operation))
	}
	return h.Handler.Handle(ctx, r)
}

func (h requestHandler) WithAttrs(attrs []slog.Attr) slog.Handler {
	return requestHandler{h.Handler.WithAttrs(attrs)}
}

func (h requestHandler) WithGroup(name string) slog.Handler {
	return requestHandler{h.Handler.WithGroup(name)}
}
