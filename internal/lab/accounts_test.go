package lab

import (
	"errors"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"vialbench/core/verdict"
	"vialbench/internal/store/storetest"
)

const longPassword = "a long enough password"

// signInLab is a lab with two people, whose clock stands still.
func signInLab(t *testing.T) (l *Lab, pass func(time.Duration)) {
	t.Helper()
	l = New(storetest.Open(t), Options{Hashing: Hashing{Passes: 1, MemoryKiB: 64}})
	now := time.Date(2026, 5, 12, 9, 0, 0, 0, time.UTC)
	l.now = func() time.Time { return now }
	first, err := l.CreateFirst(t.Context(), NewAccount{Name: "Rowan Ashdown", Initials: "RA", Login: "Ashdown", Password: longPassword})
	if err != nil {
		t.Fatal(err)
	}
	second := NewAccount{Name: "Imani Thorne", Initials: "IT", Login: "thorne", Password: longPassword, Role: Assistant}
	if _, err := l.CreatePerson(t.Context(), Actor{first}, second); err != nil {
		t.Fatal(err)
	}
	return l, func(d time.Duration) { now = now.Add(d) }
}

// Guessing is slowed down, and never locks out whoever knows the password: a stranger
// waits, somebody else does not, a device that is known does not either.
func TestGuessingIsSlowedDown(t *testing.T) {
	l, pass := signInLab(t)
	try := func(login, password string, at Attempt) error {
		_, err := l.SignIn(t.Context(), login, password, at)
		return err
	}
	in, err := l.SignIn(t.Context(), " ASHDOWN ", longPassword, Attempt{Address: "10.0.0.1"})
	if err != nil {
		t.Fatalf("right password: %v", err)
	}
	var failed SignInFailed
	for range freeFailures {
		if err := try("ashdown", "wrong", Attempt{Address: "10.0.0.9"}); !errors.As(err, &failed) {
			t.Fatalf("wrong password: %v", err)
		}
	}
	var throttled Throttled
	if err := try("ashdown", longPassword, Attempt{Address: "10.0.0.2"}); !errors.As(err, &throttled) || throttled.Wait != 2*time.Second {
		t.Errorf("the sixth try: %v", err)
	}
	if err := try("ashdown", longPassword, Attempt{Address: "10.0.0.9", Device: in.Device}); err != nil {
		t.Errorf("from a known device: %v", err)
	}
	if err := try("thorne", longPassword, Attempt{Address: "10.0.0.9"}); err != nil {
		t.Errorf("somebody else at the same address: %v", err)
	}
	if err := try("ashdown", longPassword, Attempt{Address: "10.0.0.2", Device: "made up"}); !errors.As(err, &throttled) {
		t.Errorf("from a device that says it is known: %v", err)
	}
	waits := []time.Duration{2, 4, 8, 16, 32, 60, 60}
	for i, want := range waits {
		want *= time.Second
		pass(want - time.Millisecond)
		if err := try("ashdown", "wrong", Attempt{Address: "10.0.0.9"}); !errors.As(err, &throttled) || throttled.Wait != time.Millisecond {
			t.Errorf("after %d failures, a little early: %v", freeFailures+i, err)
		}
		pass(time.Millisecond)
		if err := try("ashdown", "wrong", Attempt{Address: "10.0.0.9"}); !errors.As(err, &failed) {
			t.Errorf("after %d failures, %s later: %v", freeFailures+i, want, err)
		}
	}
	pass(longestWait)
	if err := try("ashdown", longPassword, Attempt{Address: "10.0.0.2"}); err != nil {
		t.Errorf("the right password after a minute: %v", err)
	}
}

// An address that many share is slowed down only after many failures, and only a little;
// devices that are known there are let in.
func TestAnAddressThatManyShare(t *testing.T) {
	l, pass := signInLab(t)
	in, err := l.SignIn(t.Context(), "thorne", longPassword, Attempt{Address: "10.0.0.1"})
	if err != nil {
		t.Fatal(err)
	}
	var failed SignInFailed
	for i := range freeFromAddress {
		if _, err := l.SignIn(t.Context(), fmt.Sprintf("nobody%d", i), "wrong", Attempt{Address: "10.0.0.1"}); !errors.As(err, &failed) {
			t.Fatalf("failure %d: %v", i, err)
		}
	}
	var throttled Throttled
	if _, err := l.SignIn(t.Context(), "ashdown", longPassword, Attempt{Address: "10.0.0.1"}); !errors.As(err, &throttled) ||
		throttled.Wait > longestByAddress {
		t.Errorf("one more from there: %v", err)
	}
	if _, err := l.SignIn(t.Context(), "thorne", longPassword, Attempt{Address: "10.0.0.1", Device: in.Device}); err != nil {
		t.Errorf("a known device there: %v", err)
	}
	if _, err := l.SignIn(t.Context(), "ashdown", longPassword, Attempt{Address: "10.0.0.2"}); err != nil {
		t.Errorf("from elsewhere: %v", err)
	}
	pass(longestByAddress)
	if _, err := l.SignIn(t.Context(), "ashdown", longPassword, Attempt{Address: "10.0.0.1"}); err != nil {
		t.Errorf("after the wait: %v", err)
	}
}

// Of many guesses at once no more are looked at than of as many one after the other.
func TestManyGuessesAtOnce(t *testing.T) {
	l, _ := signInLab(t)
	var looked, waited atomic.Int32
	var wg sync.WaitGroup
	for range 24 {
		wg.Go(func() {
			_, err := l.SignIn(t.Context(), "ashdown", "wrong", Attempt{Address: "10.0.0.9"})
			switch {
			case errors.As(err, &SignInFailed{}):
				looked.Add(1)
			case errors.As(err, &Throttled{}):
				waited.Add(1)
			default:
				t.Error(err)
			}
		})
	}
	wg.Wait()
	if looked.Load() != freeFailures || looked.Load()+waited.Load() != 24 {
		t.Errorf("%d looked at and %d told to wait, want %d and the rest", looked.Load(), waited.Load(), freeFailures)
	}
}

// No more passwords are hashed at once than there is memory for; so many wait, and the
// others are told to come again.
func TestHashingIsBounded(t *testing.T) {
	h := newHasher(Hashing{Passes: 1, MemoryKiB: 64, AtOnce: 2})
	var at, most, done, sent atomic.Int32
	// Strangers are let through one by one, and so many wait; whoever is known does not wait for them.
	const served = mostWaiting + 1
	gate := make(chan struct{})
	var wg sync.WaitGroup
	for range 60 {
		wg.Go(func() {
			leave, err := h.turn(t.Context(), false)
			if errors.As(err, &Throttled{}) {
				sent.Add(1)
				return
			}
			if err != nil {
				t.Error(err)
				return
			}
			for n := at.Add(1); ; {
				if m := most.Load(); n <= m || most.CompareAndSwap(m, n) {
					break
				}
			}
			<-gate
			at.Add(-1)
			done.Add(1)
			leave()
		})
	}
	for deadline := time.Now().Add(time.Minute); sent.Load() < 60-served && time.Now().Before(deadline); {
		time.Sleep(time.Millisecond)
	}
	leave, err := h.turn(t.Context(), true)
	if err != nil {
		t.Fatal(err)
	}
	leave()
	close(gate)
	wg.Wait()
	if most.Load() > 1 || done.Load() != served || sent.Load() != 60-served {
		t.Errorf("%d at once, %d served, %d sent away", most.Load(), done.Load(), sent.Load())
	}
	if h := (Hashing{}).filled(); h.MemoryKiB != 64*1024 || h.Passes != 3 || h.AtOnce < 1 {
		t.Errorf("a lab hashes with %+v", h)
	}
}

// Passwords that anybody would try are refused, with what would be better.
func TestPasswordsThatWillNotDo(t *testing.T) {
	for password, says := range map[string]string{
		"": "at least 10", "short": "at least 10", "          ": "over and over", "aaaaaaaaaaaa": "over and over", "ababababab": "over and over",
		"password123": "tried first", "Password 123": "tried first", "1234567890": "tried first", "correct horse battery staple": "tried first",
		"rowan.ashdown": "", "rowanashdown": "a name", "ROWAN ASHDOWN": "a name", "ashdown-login": "a name", strings.Repeat("abcdef", 40): "at most 200",
		"pond-water-week": "", "tab\there it is": "letters, digits", "ümläute gehen": "", "duckweed on tuesday": "",
	} {
		var p verdict.Problems
		checkPassword(password, "ashdown-login", "Rowan Ashdown", &p)
		if (says == "") != (len(p) == 0) || says != "" && !strings.Contains(p[0].Reason, says) {
			t.Errorf("%q: %v, want %q", password, p, says)
		}
	}
}

// Whoever knows the password changes it, and the other sessions end; a wrong one is said.
func TestOnesOwnPassword(t *testing.T) {
	l, pass := signInLab(t)
	here, err := l.SignIn(t.Context(), "thorne", longPassword, Attempt{Address: "10.0.0.1"})
	if err != nil {
		t.Fatal(err)
	}
	there, err := l.SignIn(t.Context(), "thorne", longPassword, Attempt{Address: "10.0.0.2"})
	if err != nil {
		t.Fatal(err)
	}
	it := Actor{here.Account}
	change := func(current, next string) error {
		return l.ChangeOwnPassword(t.Context(), it, here.Token, current, next, "10.0.0.1")
	}
	var p verdict.Problems
	if err := change("a wrong password", "duckweed on tuesday"); !errors.As(err, &p) || p[0].Field != "/current" {
		t.Errorf("with a wrong password: %v", err)
	}
	if err := change(longPassword, "1234567890"); !errors.As(err, &p) || p[0].Field != "/password" {
		t.Errorf("a common one: %v", err)
	}
	if err := change(longPassword, "duckweed on tuesday"); err != nil {
		t.Fatal(err)
	}
	if _, err := l.WhoIs(t.Context(), here.Token); err != nil {
		t.Errorf("the session in which it was changed: %v", err)
	}
	var gone NotFound
	if _, err := l.WhoIs(t.Context(), there.Token); !errors.As(err, &gone) {
		t.Errorf("the other session: %v", err)
	}
	for range freeFailures + 1 { // a device that was known before counts as any other now
		_, err = l.SignIn(t.Context(), "thorne", longPassword, Attempt{Address: "10.0.0.3"})
	}
	if !errors.As(err, &Throttled{}) {
		t.Errorf("the old password, again and again: %v", err)
	}
	if _, err := l.SignIn(
		t.Context(),
		"thorne",
		"duckweed on tuesday",
		Attempt{Address: "10.0.0.2", Device: there.Device},
	); !errors.As(err, &Throttled{}) {
		t.Errorf("the device of a session that was ended: %v", err)
	}
	pass(longestWait)
	if _, err := l.SignIn(t.Context(), "thorne", "duckweed on tuesday", Attempt{}); err != nil {
		t.Errorf("the new one: %v", err)
	}
}

// A request of a record is bounded in every way that JSON has.
func TestRequestsAreBounded(t *testing.T) {
	deep := func(n int) string { return strings.Repeat("[", n) + strings.Repeat("]", n) }
	many := func(n int) string { return "[" + strings.TrimSuffix(strings.Repeat("1,", n), ",") + "]" }
	for text, ok := range map[string]bool{
		`{}`: true, deep(maxDepth + 1): true, deep(maxDepth + 2): false, many(maxList): true, many(maxList + 1): false,
		`{"a": 1e15}`: true, `{"a": 1.1e15}`: false, `{"a": -1e16}`: false, `{"a": "` + strings.Repeat("x", maxString) + `"}`: true,
		`{"a": "` + strings.Repeat("x", maxString+1) + `"}`: false, `{"` + strings.Repeat("x", maxString+1) + `": 1}`: false, `{"a": "\u0000"}`: false,
		`{"a": null, "b": [true, {"c": 1}]}`: true, `{"a": [{"b": 1e99}]}`: false, `"` + strings.Repeat("x", maxRequest) + `"`: false, `{`: false,
	} {
		if err := bounded([]byte(text)); (err == nil) != ok {
			t.Errorf("%.60s: %v", text, err)
		}
	}
}

// A session that is used lives on, and not for ever.
func TestASessionEnds(t *testing.T) {
	l, pass := signInLab(t)
	in, err := l.SignIn(t.Context(), "thorne", longPassword, Attempt{Address: "10.0.0.1"})
	if err != nil {
		t.Fatal(err)
	}
	days := 0
	for ; days < 200; days += 10 {
		pass(10 * 24 * time.Hour)
		if _, err := l.WhoIs(t.Context(), in.Token); err != nil {
			break
		}
	}
	if days < 80 || days > 90 {
		t.Errorf("a session that is used every ten days ends after %d", days)
	}
	if in, err = l.SignIn(t.Context(), "thorne", longPassword, Attempt{Address: "10.0.0.1"}); err != nil {
		t.Fatal(err)
	}
	pass(sessionLife + time.Minute)
	if _, err := l.WhoIs(t.Context(), in.Token); err == nil {
		t.Error("a session that nobody uses goes on")
	}
}
