package httpapi_test

import (
	"fmt"
	"io"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/internal/httpapi"
	"vialbench/internal/standin"
	"vialbench/internal/store/storetest"
)

// Streams end at once with the session that they were opened in, and only those: when
// somebody signs out, changes the password, or has the account closed.
func TestStreamsEndWithTheSession(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	ra, _ := begin(t, base)
	made := ra.must(
		201,
		"POST",
		"/people",
		object{"name": "Imani Thorne", "initials": "IT", "login": "thorne", "password": password, "role": "assistant"},
	)
	signedIn := func() *person {
		p := newPerson(t, base)
		p.must(200, "POST", "/session", object{"login": "thorne", "password": password})
		return p
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0") //nolint:noctx // it ends with the test
	if err != nil {
		t.Fatal(err)
	}
	go standin.Serve(t.Context(), listener, standin.NewBalance(220, 0.0001, 5))
	balance := ra.must(200, "GET", "/balances", nil)["list"].([]any)[0].(object)["id"].(string)
	ra.must(204, "PUT", "/balances/"+balance+"/address", object{"address": listener.Addr().String()})
	streamOf := func(p *person, path string) <-chan struct{} {
		t.Helper()
		r, _ := http.NewRequestWithContext(t.Context(), http.MethodGet, base+"/api/v1"+path, nil)
		answer, err := p.client.Do(r) //nolint:bodyclose // closed when the stream has ended
		if err != nil || answer.StatusCode != http.StatusOK {
			t.Fatal(answer, err)
		}
		if _, err := io.ReadFull(answer.Body, make([]byte, 5)); err != nil { // it has begun
			t.Fatal(err)
		}
		ended := make(chan struct{})
		go func() {
			_, _ = io.Copy(io.Discard, answer.Body)
			_ = answer.Body.Close()
			close(ended)
		}()
		return ended
	}
	stream := func(p *person) <-chan struct{} { return streamOf(p, "/events") }
	ends := func(what string, ended <-chan struct{}, want bool) {
		t.Helper()
		wait := time.Minute
		if !want {
			wait = 300 * time.Millisecond
		}
		select {
		case <-ended:
			if !want {
				t.Errorf("%s: the stream ended", what)
			}
		case <-time.After(wait):
			if want {
				t.Errorf("%s: the stream goes on", what)
			}
		}
	}
	here, there := signedIn(), signedIn()
	ofHere, ofThere, ofRA := stream(here), stream(there), stream(ra)
	weighing, elsewhere := streamOf(here, "/balances/"+balance+"/live"), streamOf(there, "/balances/"+balance+"/live")
	here.must(204, "DELETE", "/session", nil)
	ends("signed out", ofHere, true)
	ends("signed out, a balance", weighing, true)
	ends("signed in elsewhere, a balance", elsewhere, false)
	ends("signed in elsewhere", ofThere, false)
	here = signedIn()
	ofHere = stream(here)
	there.must(204, "POST", "/session/password", object{"current": password, "password": "duckweed on tuesday"})
	ends("another password", ofHere, true)
	ends("where it was changed", ofThere, false)
	ra.must(200, "PATCH", "/people/"+made["id"].(string), object{"active": false})
	ends("the account is closed", ofThere, true)
	ends("somebody else", ofRA, false)
}

// Signing in again on a device ends the session that was open there; sessions are listed, and all
// of them end at once.
func TestSessionsOfOnesOwn(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	ra, _ := begin(t, base)
	credentials := object{"login": "ashdown", "password": password}
	first := ra.client.Jar.Cookies(mustParse(t, base))
	ra.must(200, "POST", "/session", credentials)
	old := newPerson(t, base)
	old.client.Jar.SetCookies(mustParse(t, base), first)
	if status, _ := old.do("GET", "/session", nil); status != 401 {
		t.Errorf("the session before goes on: %d", status)
	}
	there := newPerson(t, base)
	there.must(200, "POST", "/session", credentials)
	list := ra.must(200, "GET", "/sessions", nil)["list"].([]any)
	if len(list) != 2 || list[0].(object)["current"] != false || list[1].(object)["current"] != true ||
		list[0].(object)["address"] != "127.0.0.1" ||
		!strings.HasPrefix(list[0].(object)["browser"].(string), "Go-http-client") {
		t.Errorf("%v", list)
	}
	ra.must(204, "DELETE", "/sessions", nil)
	for _, p := range []*person{ra, there} {
		if status, _ := p.do("GET", "/session", nil); status != 401 {
			t.Errorf("signed out everywhere: %d", status)
		}
	}
}

func mustParse(t testing.TB, address string) *url.URL {
	t.Helper()
	u, err := url.Parse(address)
	if err != nil {
		t.Fatal(err)
	}
	return u
}

// Where HTTPS is, browsers are told to keep to it, and the cookie is bound to the host.
func TestHTTPS(t *testing.T) {
	base := newServerWith(t, storetest.Open(t), httpapi.Options{SecureCookies: true})
	r, _ := http.NewRequestWithContext(t.Context(), http.MethodPost, base+"/api/v1/setup",
		strings.NewReader(`{"name": "Rowan Ashdown", "initials": "RA", "login": "ashdown", "password": "`+password+`"}`))
	r.Header.Set("Content-Type", "application/json")
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	_ = answer.Body.Close() // only headers count
	c := answer.Cookies()
	if answer.StatusCode != http.StatusCreated || len(c) != 1 || c[0].Name != "__Host-vialbench_session" || !c[0].Secure || !c[0].HttpOnly ||
		c[0].Path != "/" ||
		c[0].Domain != "" {
		t.Errorf("%d %+v", answer.StatusCode, c)
	}
	if h := answer.Header.Get("Strict-Transport-Security"); !strings.HasPrefix(h, "max-age=") {
		t.Errorf("HSTS: %q", h)
	}
	r, _ = http.NewRequestWithContext(t.Context(), http.MethodGet, base+"/api/v1/session", nil)
	r.AddCookie(&http.Cookie{Name: c[0].Name, Value: c[0].Value})
	if answer, err = http.DefaultClient.Do(r); err != nil || answer.StatusCode != http.StatusOK {
		t.Errorf("%v %v", answer, err)
	}
	_ = answer.Body.Close()
}

// The first instructor is made by whoever knows the set-up word; whoever comes too late is told so
// before anything is hashed, however often, and keeps nobody from signing in.
func TestSetUpByStrangers(t *testing.T) {
	base := newServerWith(t, storetest.Open(t), httpapi.Options{SetupWord: "heron"})
	first := object{"name": "Rowan Ashdown", "initials": "RA", "login": "ashdown", "password": password}
	stranger := newPerson(t, base)
	for _, word := range []any{nil, "", "Heron", "heronn"} {
		if first["word"] = word; word == nil {
			delete(first, "word")
		}
		if status, answer := stranger.do("POST", "/setup", first); status != 422 || !strings.Contains(fmt.Sprint(answer["errors"]), "/word") {
			t.Errorf("word %v: %d %v", word, status, answer)
		}
	}
	first["word"] = " heron "
	stranger.must(201, "POST", "/setup", first)
	var wg sync.WaitGroup
	for range 60 {
		one := newPerson(t, base)
		wg.Go(func() {
			if status, _ := one.do("POST", "/setup", first); status != 409 {
				t.Errorf("set up again: %d, want 409", status)
			}
		})
	}
	newPerson(t, base).must(200, "POST", "/session", object{"login": "ashdown", "password": password})
	wg.Wait()
}

// Where a request comes from is what a proxy of the installation says, and nobody else.
func TestWhoseWordIsTaken(t *testing.T) {
	guess := func(base, forwarded string) int {
		p := newPerson(t, base)
		status, _ := p.do("POST", "/session", object{"login": uuid.NewString()[:30], "password": "wrong"}, "X-Forwarded-For", forwarded)
		return status
	}
	for name, c := range map[string]struct {
		proxies string
		want    int // of a guess from another address, after too many from one
	}{"nobody's": {"10.9.9.9/32", 429}, "the proxy's": {"127.0.0.1/32", 401}} {
		t.Run(name, func(t *testing.T) {
			base := newServerWith(t, storetest.Open(t), httpapi.Options{Proxies: []netip.Prefix{netip.MustParsePrefix(c.proxies)}})
			// On a busy machine a guess may come after the wait is over. It counts, and the next
			// wait is longer.
			kept := func(forwarded string) int {
				status := 0
				for try := 0; try < 6 && status != 429; try++ {
					status = guess(base, forwarded)
				}
				return status
			}
			for i := range 30 {
				if status := guess(base, "203.0.113.7"); status != 401 {
					t.Fatalf("guess %d from one address: %d, want 401", i, status)
				}
			}
			if status := kept("203.0.113.7"); status != 429 {
				t.Fatalf("after thirty guesses: %d, want 429", status)
			}
			if status := kept("203.0.113.8"); status != c.want {
				t.Errorf("from another address: %d, want %d", status, c.want)
			}
			if status := kept("198.51.100.1, 203.0.113.7"); status != 429 {
				t.Errorf("an address made up by whoever asks: %d", status)
			}
		})
	}
}

// How long to wait is said as a machine reads it too.
func TestWaitingIsSaid(t *testing.T) {
	base := newServer(t, storetest.Open(t))
	begin(t, base)
	guesser := newPerson(t, base)
	for range 5 {
		guesser.do("POST", "/session", object{"login": "ashdown", "password": "guess"})
	}
	var answer object
	status := 0
	for try := 0; try < 5 && status != 429; try++ { // on a busy machine the first wait may be over by then
		status, answer = guesser.do("POST", "/session", object{"login": "ashdown", "password": "guess"})
	}
	seconds, err := strconv.Atoi(guesser.last.Get("Retry-After"))
	if status != 429 || err != nil || seconds < 1 || seconds > 60 ||
		!strings.Contains(answer["detail"].(string), fmt.Sprintf("wait %d seconds", seconds)) {
		t.Errorf("%d, Retry-After %q, %v", status, guesser.last.Get("Retry-After"), answer["detail"])
	}
}

// A note replaces nothing, neither in its own run nor in another; what it would have
// replaced can still be corrected.
func TestANoteReplacesNothing(t *testing.T) {
	ra, run := begin(t, newServer(t, storetest.Open(t)))
	tared := reading("tared", "0.0000")
	view := ra.must(200, "POST", "/runs/"+run+"/facts", tared)
	other := uuid.NewString()
	ra.must(201, "POST", "/runs", object{"id": other, "planId": view["plan"].(object)["id"]})
	for _, at := range []string{run, other} {
		for _, reason := range []string{"", "because"} {
			note := object{"id": uuid.NewString(), "kind": "note", "text": "instead", "replaces": tared["id"]}
			if reason != "" {
				note["reason"] = reason
			}
			if status, answer := ra.do("POST", "/runs/"+at+"/facts", note); status != 422 {
				t.Errorf("a note that replaces a reading: %d %v", status, answer)
			}
		}
	}
	right := reading("tared", "0.0001")
	right["replaces"], right["reason"] = tared["id"], "misread"
	ra.must(200, "POST", "/runs/"+run+"/facts", right)
}
