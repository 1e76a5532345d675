package main

import (
	"bytes"
	"context"
	"io"
	"net"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"vialbench/internal/store/storetest"
)

func TestCommandsSayWhatIsMissing(t *testing.T) {
	t.Setenv("VIALBENCH_DATABASE_URL", "")
	for _, c := range []struct {
		args []string
		in   string
		says string
	}{
		{nil, "", "name a command"},
		{[]string{"fly"}, "", "name a command"},
		{[]string{"serve"}, "", "VIALBENCH_DATABASE_URL is not set"},
		{[]string{"compute"}, "{}", "use one of additions, back, buffer, calibrate, calibration, capacity, compare, curve, diagnose, dilution, dilution/working, equation, fit, formula, line, mixture, needs, overlay, ph, quantity, scan, schedule, slips, speciation, spectrum, standard, standard-additions, step, supply, table, titration, unknowns"},
		{[]string{"compute", "formula"}, "nonsense", "is not JSON"},
		{[]string{"compute", "formula"}, `{"formula": "Khc"}`, "/formula: at character 1: no element Kh"},
	} {
		err := run(t.Context(), c.args, strings.NewReader(c.in), io.Discard)
		if err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%v: %v, want “%s”", c.args, err, c.says)
		}
	}
	var out bytes.Buffer
	if err := run(
		t.Context(),
		[]string{"compute", "formula"},
		strings.NewReader(`{"formula": "KHC8H4O4"}`),
		&out,
	); err != nil ||
		!strings.Contains(out.String(), `"204.2223 ± 0.0094 g/mol"`) {
		t.Errorf("%s %v", out.String(), err)
	}
}

// watcher collects what the server prints and hands out the address.
type watcher struct{ address chan string }

func (w watcher) Write(text []byte) (int, error) {
	if url := regexp.MustCompile(`http://\S+`).Find(text); url != nil {
		w.address <- string(url)
	}
	return len(text), nil
}

// The server migrates an empty database, serves, and stops cleanly in the middle
// of an open event stream; a taken address is said, with the way out.
func TestServeAndStop(t *testing.T) {
	t.Setenv("VIALBENCH_DATABASE_URL", storetest.Empty(t))
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer taken.Close() //nolint:errcheck // the test is over
	t.Setenv("VIALBENCH_ADDR", taken.Addr().String())
	if err := run(t.Context(), []string{"serve"}, nil, io.Discard); err == nil ||
		!strings.Contains(err.Error(), "choose another address, like VIALBENCH_ADDR=") {
		t.Errorf("a taken address: %v", err)
	}

	t.Setenv("VIALBENCH_ADDR", "127.0.0.1:0")
	for _, open := range []string{"0.0.0.0:8488", ":8488", "lab.example:8488", "8488"} {
		t.Setenv("VIALBENCH_WATCH_ADDR", open)
		if err := run(t.Context(), []string{"serve"}, nil, io.Discard); err == nil || !strings.Contains(err.Error(), "no address of this machine alone") {
			t.Errorf("measured at %s for everybody: %v", open, err)
		}
	}
	t.Setenv("VIALBENCH_WATCH_ADDR", "127.0.0.1:0")
	ctx, stop := context.WithCancel(t.Context())
	out, stopped := watcher{make(chan string, 1)}, make(chan error, 1)
	go func() { stopped <- run(ctx, []string{"demo"}, nil, out) }()
	var base string
	select {
	case base = <-out.address:
	case err := <-stopped:
		t.Fatal(err)
	}
	client := &http.Client{}
	r, _ := http.NewRequestWithContext(
		t.Context(),
		http.MethodPost,
		base+"/api/v1/session",
		strings.NewReader(`{"login":"thorne","password":"pond-water-week"}`),
	)
	r.Header.Set("Content-Type", "application/json")
	answer, err := client.Do(r)
	if err != nil || answer.StatusCode != http.StatusOK {
		t.Fatal(answer, err)
	}
	_ = answer.Body.Close()
	cookie := answer.Cookies()[0]
	if !cookie.HttpOnly || cookie.SameSite != http.SameSiteStrictMode || cookie.Secure {
		t.Errorf("%+v", cookie)
	}
	r, _ = http.NewRequestWithContext(t.Context(), http.MethodGet, base+"/api/v1/events", nil)
	r.AddCookie(cookie)
	stream, err := client.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	defer stream.Body.Close() //nolint:errcheck // the test is over
	stop()
	select {
	case err := <-stopped:
		if err != nil {
			t.Error(err)
		}
	case <-time.After(time.Minute):
		t.Error("an open stream holds the server up")
	}
	if err := run(t.Context(), []string{"migrate"}, nil, io.Discard); err != nil {
		t.Errorf("migrating what is up to date: %v", err)
	}
}
