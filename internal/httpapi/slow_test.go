package httpapi

import (
	"context"
	"errors"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"
)

// Whoever asks for much and does not read it is cut off, and whoever sends a body drop by
// drop; an answer that breaks off does not look whole; a stream is let go on.
func TestSlowOnesAreCutOff(t *testing.T) {
	s := &Server{options: Options{Timeout: 300 * time.Millisecond, Large: 300 * time.Millisecond}}
	released := make(chan string, 10)
	server := httptest.NewServer(s.limited(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() { released <- r.URL.Path }()
		switch r.URL.Path {
		case apiPrefix + "/export":
			for range 1000 {
				if _, err := w.Write(make([]byte, 1<<18)); err != nil {
					return
				}
			}
		case apiPrefix + "/logbook.csv":
			_, _ = w.Write([]byte("the beginning"))
			_ = http.NewResponseController(w).Flush()
			breakOff(r.Context(), "a table", errors.New("planted"))
		case apiPrefix + "/events":
			for range 6 {
				time.Sleep(100 * time.Millisecond)
				_, _ = w.Write([]byte("data: x\n\n"))
				_ = http.NewResponseController(w).Flush()
			}
		default:
			_, _ = io.Copy(io.Discard, r.Body)
		}
	})))
	defer server.Close()
	ask := func(request string) net.Conn {
		t.Helper()
		conn, err := (&net.Dialer{}).DialContext(t.Context(), "tcp", server.Listener.Addr().String())
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = conn.Close() })
		if _, err := conn.Write([]byte(request)); err != nil {
			t.Fatal(err)
		}
		return conn
	}
	for what, request := range map[string]string{
		"reads nothing": "GET " + apiPrefix + "/export HTTP/1.1\r\nHost: x\r\n\r\n",
		"sends no more": "POST " + apiPrefix + "/plans HTTP/1.1\r\nHost: x\r\nContent-Length: 1000\r\n\r\n{",
	} {
		ask(request)
		select {
		case <-released:
		case <-time.After(time.Minute):
			t.Errorf("whoever %s still holds the server", what)
		}
	}
	get := func(path string) (string, error) {
		ctx, cancel := context.WithTimeout(t.Context(), time.Minute)
		defer cancel()
		r, _ := http.NewRequestWithContext(ctx, http.MethodGet, server.URL+apiPrefix+path, nil)
		answer, err := http.DefaultClient.Do(r)
		if err != nil {
			return "", err
		}
		defer answer.Body.Close() //nolint:errcheck // read to the end
		text, err := io.ReadAll(answer.Body)
		return string(text), err
	}
	if text, err := get("/logbook.csv"); err == nil {
		t.Errorf("“%s” looks whole", text)
	}
	if text, err := get("/events"); err != nil || len(text) != 6*len("data: x\n\n") {
		t.Errorf("%d bytes of a stream, %v", len(text), err)
	}
}
