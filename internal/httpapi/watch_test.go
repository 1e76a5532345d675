package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/prometheus/common/expfmt"
	"github.com/prometheus/common/model"

	"vialbench/internal/httpapi"
	"vialbench/internal/store/storetest"
)

// What a server was asked is told by operation and status, and how many streams are open; the numbers read
// as Prometheus reads them, and the profiles are there.
func TestWatch(t *testing.T) {
	s := storetest.Open(t)
	pool, err := s.Pool()
	if err != nil {
		t.Fatal(err)
	}
	watch := httpapi.NewWatch(pool)
	told := httptest.NewServer(watch.Handler())
	defer told.Close()
	get := func(path string) string {
		t.Helper()
		r, _ := http.NewRequestWithContext(t.Context(), http.MethodGet, told.URL+path, nil)
		answer, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer answer.Body.Close() //nolint:errcheck // read to the end
		text, err := io.ReadAll(answer.Body)
		if err != nil || answer.StatusCode != http.StatusOK {
			t.Fatal(path, answer.Status, err)
		}
		return string(text)
	}
	base := newServerWith(t, s, httpapi.Options{Watch: watch})
	ra, run := begin(t, base)
	ra.do("GET", "/runs/"+run, nil)
	ra.do("GET", "/runs/"+uuid.NewString(), nil)
	for _, method := range []string{"GET", "BREW", "PROPFIND"} {
		ra.do(method, "/../../teapot", nil)
	}
	streams, leave := context.WithCancel(t.Context())
	r, _ := http.NewRequestWithContext(streams, http.MethodGet, base+"/api/v1/events", nil)
	stream, err := ra.client.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	defer stream.Body.Close() //nolint:errcheck // the test ends
	text := get("/metrics")
	parser := expfmt.NewTextParser(model.LegacyValidation)
	families, err := parser.TextToMetricFamilies(strings.NewReader(text))
	if err != nil {
		t.Fatal(err)
	}
	counts := map[string]uint64{}
	for _, m := range families["vialbench_request_seconds"].Metric {
		name := ""
		for _, l := range m.Label {
			name += l.GetValue() + " "
		}
		counts[strings.TrimSpace(name)] = m.Histogram.GetSampleCount()
	}
	if counts["GET /api/v1/runs/:id 200"] != 1 || counts["GET /api/v1/runs/:id 404"] != 1 || counts["POST /api/v1/runs 201"] != 1 {
		t.Errorf("%v", counts)
	}
	for name := range counts {
		if method, _, _ := strings.Cut(name, " "); !slices.Contains([]string{"GET", "POST", "PUT", "DELETE", "page", "other"}, method) {
			t.Errorf("an operation of a stranger: %s", name)
		}
	}
	open := func(text string) bool { return strings.Contains(text, "\nvialbench_streams_open 1\n") }
	if !open(text) || families["go_sql_max_open_connections"] == nil || families["go_goroutines"] == nil {
		t.Errorf("%s", text)
	}
	leave()
	for until := time.Now().Add(time.Minute); open(get("/metrics")) && time.Now().Before(until); {
		time.Sleep(20 * time.Millisecond)
	}
	if open(get("/metrics")) {
		t.Error("the stream that was left counts as open")
	}
	if !strings.Contains(get("/debug/pprof/"), "goroutine") {
		t.Error("no profiles")
	}
}

// logged keeps what several write to a log.
type logged struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (l *logged) Write(line []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.Write(line)
}

// taken is what was written so far; what comes is kept for the next time.
func (l *logged) taken() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	defer l.text.Reset()
	return l.text.String()
}

// Each line of the log of a request says which request it belongs to, as its answer does, and which
// operation; attributes and groups are kept.
func TestLogOfARequest(t *testing.T) {
	var lines logged
	log := slog.New(httpapi.LogHandler(slog.NewJSONHandler(&lines, nil)))
	old := slog.Default()
	slog.SetDefault(log)
	defer slog.SetDefault(old)
	ra, _ := begin(t, newServer(t, storetest.Open(t)))
	balance := object{"name": "Twin", "capacity": 220, "resolution": 0.0001, "repeatability": 0.0001, "linearity": 0.0002}
	ra.must(201, "POST", "/balances", balance)
	if status, problem := ra.do("POST", "/balances", balance); status < 400 || status >= 500 {
		t.Fatal(status, problem)
	}
	id, found := ra.last.Get("X-Request-Id"), 0
	text := lines.taken()
	for line := range strings.Lines(text) {
		var said struct{ Request, Operation, Msg, SQL string }
		if err := json.Unmarshal([]byte(line), &said); err != nil {
			t.Fatal(err)
		}
		if id != "" && said.Request == id && said.Msg == "query failed" {
			found++
			if said.Operation != "POST /api/v1/balances" || !strings.HasPrefix(said.SQL, "INSERT INTO \"balances\"") {
				t.Errorf("%s", line)
			}
		}
	}
	if found != 1 {
		t.Errorf("%d lines of request %s in\n%s", found, id, text)
	}
	log.With("lab", "Alderbrook").WithGroup("x").Info("beside any request", "error", errors.New("planted"))
	if got := lines.taken(); !strings.Contains(got, `"lab":"Alderbrook","x":{"error":"planted"}`) || strings.Contains(got, "operation") {
		t.Error(got)
	}
}
