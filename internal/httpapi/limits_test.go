package httpapi_test

import (
	"fmt"
	"io"
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/internal/store/storetest"
)

func TestPagesAndHeaders(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	get := func(path string) (status int, header http.Header) {
		r, _ := http.NewRequestWithContext(t.Context(), http.MethodGet, base+path, nil)
		answer, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		_ = answer.Body.Close() // only headers count
		return answer.StatusCode, answer.Header
	}
	for path, cache := range map[string]string{"/": "no-cache", "/shelf/anything": "no-cache", "/assets/a.js": "public, max-age=31536000, immutable"} {
		status, header := get(path)
		if status != http.StatusOK || header.Get("Cache-Control") != cache {
			t.Errorf("%s: %d %s", path, status, header.Get("Cache-Control"))
		}
		if csp := header.Get("Content-Security-Policy"); !strings.Contains(csp, "default-src 'none'") || strings.Contains(csp, "http") {
			t.Errorf("%s: policy %q", path, csp)
		}
	}
	for path, want := range map[string]int{"/healthz": 200, "/readyz": 200, "/api/v1/nothing": 404, "/api/v1/events": 401, "/pictograms/GHS05.svg": 200, "/pictograms/GHS99.svg": 404} {
		if got, _ := get(path); got != want {
			t.Errorf("%s: %d, want %d", path, got, want)
		}
	}
}

// A file of the front end comes as it was packed, to who says that they can unpack it.
func TestPackedFiles(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	for _, c := range []struct{ accepts, encoding, want string }{
		{"gzip, deflate, br, zstd", "br", "packed by one"}, {"gzip, deflate", "gzip", "packed by another"}, {"identity", "", "1"},
	} {
		r, _ := http.NewRequestWithContext(t.Context(), http.MethodGet, base+"/assets/a.js", nil)
		r.Header.Set("Accept-Encoding", c.accepts)
		answer, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		body, err := io.ReadAll(answer.Body)
		if err != nil || answer.Body.Close() != nil || string(body) != c.want {
			t.Errorf("%s: %q, %v", c.accepts, body, err)
		}
		for header, want := range map[string]string{
			"Content-Encoding": c.encoding, "Content-Type": "text/javascript; charset=utf-8", "Vary": "Accept-Encoding",
			"Cache-Control": "public, max-age=31536000, immutable",
		} {
			if got := answer.Header.Get(header); got != want {
				t.Errorf("%s: %s %q, want %q", c.accepts, header, got, want)
			}
		}
	}
}

// What a list leaves out comes where it is asked for.
func TestWhatIsAskedFor(t *testing.T) {
	ra := newPerson(t, newServer(t, storetest.Open(t)))
	ra.must(201, "POST", "/setup", object{"name": "Rowan Ashdown", "initials": "RA", "login": "ashdown", "password": password})
	for path, asked := range map[string]string{"/settings": "rules", "/substances": "statements"} {
		for query, want := range map[string]bool{"": false, "?" + asked + "=true": true} {
			_, answer := ra.do("GET", path+query, nil)
			if got := strings.Contains(fmt.Sprint(answer), "Harmful if swallowed") || strings.Contains(fmt.Sprint(answer), "tared balance"); got != want {
				t.Errorf("%s%s: %v, want %v", path, query, got, want)
			}
		}
	}
}

// The limits that keep a server up and an account shut.
func TestLimits(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	ra, run := begin(t, base)
	huge := object{"id": uuid.NewString(), "kind": "note", "text": strings.Repeat("x", 2<<20)}
	if status, _ := ra.do("POST", "/runs/"+run+"/facts", huge); status != 413 {
		t.Errorf("2 MiB of note: %d", status)
	}
	guesser := newPerson(t, base)
	for range 5 {
		guesser.do("POST", "/session", object{"login": "ashdown", "password": "guess"})
	}
	// On a busy machine the first wait may be over by now: the next ones are longer.
	for range 200 {
		guesser.do("POST", "/session", object{"login": "ashdown", "password": "guess"})
		if seconds, _ := strconv.Atoi(guesser.last.Get("Retry-After")); seconds >= 2 {
			break
		}
		time.Sleep(50 * time.Millisecond)
	}
	if status, problem := guesser.do(
		"POST",
		"/session",
		object{"login": "ashdown", "password": password},
	); status != 429 ||
		!strings.Contains(problem["detail"].(string), "too many tries: wait ") {
		t.Errorf("the right password after too many guesses: %d %v", status, problem["detail"])
	}
	ra.must(200, "GET", "/session", nil) // who is signed in stays so
}

// Lists come in pages; following the cursors visits every run once, newest first.
func TestPages(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	plan := ra.must(200, "GET", "/runs/"+run, nil)["plan"].(object)["id"]
	for range 60 {
		ra.must(201, "POST", "/runs", object{"id": uuid.NewString(), "planId": plan})
	}
	last, seen := 1e9, 0
	for path := "/runs?status=open"; path != ""; {
		page := ra.must(200, "GET", path, nil)
		for _, r := range page["items"].([]any) {
			number := r.(object)["number"].(float64)
			if number >= last {
				t.Errorf("run %g after run %g", number, last)
			}
			last = number
			seen++
		}
		path = ""
		if next, ok := page["next"].(string); ok {
			path = "/runs?status=open&cursor=" + next
		}
	}
	if seen != 61 {
		t.Errorf("%d runs, want 61", seen)
	}
	if again := ra.must(201, "POST", "/runs", object{"id": run, "planId": plan}); again["summary"].(object)["number"] != 1.0 {
		t.Error("a run sent twice was begun twice")
	}
}

func BenchmarkCompute(b *testing.B) {
	ra, _ := begin(b, newServer(b, storetest.Open(b)))
	q := question(ra)
	ra.unchecked = true
	for b.Loop() {
		ra.must(200, "POST", "/compute/standard", q)
	}
}

// One fact stated: sent, admitted, stored, the outcome and the run computed again.
func BenchmarkFact(b *testing.B) {
	ra, run := begin(b, newServer(b, storetest.Open(b)))
	ra.must(200, "POST", "/runs/"+run+"/facts", reading("tared", "0.0000"))
	ra.unchecked = true
	for b.Loop() {
		ra.must(200, "POST", "/runs/"+run+"/facts", reading("weighed", "5.1000"))
		b.StopTimer() // another run, so that its facts do not pile up
		plan := ra.must(200, "GET", "/runs/"+run, nil)["plan"].(object)["id"]
		run = uuid.NewString()
		ra.must(201, "POST", "/runs", object{"id": run, "planId": plan})
		ra.must(200, "POST", "/runs/"+run+"/facts", reading("tared", "0.0000"))
		b.StartTimer()
	}
}

// The same in a run that has 2000 notes already.
func BenchmarkFactOfALongRun(b *testing.B) {
	ra, run := begin(b, newServer(b, storetest.Open(b)))
	ra.unchecked = true
	note := func() object { return object{"id": uuid.NewString(), "kind": "note", "text": "a note among many"} }
	for range 2000 {
		ra.must(200, "POST", "/runs/"+run+"/facts?since=1000000", note())
	}
	for b.Loop() {
		ra.must(200, "POST", "/runs/"+run+"/facts?since=1000000", note())
	}
}
