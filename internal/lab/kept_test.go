package lab

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"testing/synctest"
	"time"
)

// What is kept is worked out once, again when one of its topics has changed or it is old, and not
// when something else has.
func TestKeptUntilItsTopicChanges(t *testing.T) {
	noon := time.Date(2026, 5, 11, 12, 0, 0, 0, time.UTC)
	l := &Lab{now: func() time.Time { return noon }}
	var k kept[int]
	made := 0
	get := func() int {
		t.Helper()
		v, err := k.get(t.Context(), l, []string{"bench", "setup"}, func(context.Context) (int, error) { made++; return made, nil })
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	for _, x := range []struct {
		topic string
		want  int
	}{{"", 1}, {"", 1}, {"run 7 12", 1}, {"benches", 1}, {"bench", 2}, {"", 2}, {"setup", 3}, {"shelf", 3}, {"resync", 4}, {"bench of somebody", 5}, {"listening", 6}} {
		if x.topic != "" {
			l.changes.note(x.topic)
		}
		if got := get(); got != x.want {
			t.Errorf("after %q: worked out %d times, want %d", x.topic, got, x.want)
		}
	}
	noon = noon.Add(longestKept - time.Second)
	if get() != 6 {
		t.Error("worked out again before it was old")
	}
	if noon = noon.Add(time.Second); get() != 7 {
		t.Error("what is old is kept")
	}
	if noon = noon.Add(-2 * longestKept); get() != 8 {
		t.Error("kept though the clock was put back")
	}
}

// Who asks at once waits for one and the same; who goes away meanwhile does not end it for the
// others; what came from before a change is not told to who asks after it.
func TestKeptIsWorkedOutOnce(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		l := &Lab{now: time.Now}
		var k kept[int]
		var made atomic.Int32
		goOn := make(chan bool)
		work := func(ctx context.Context) (int, error) {
			n := int(made.Add(1))
			select {
			case <-goOn:
				return n, nil
			case <-ctx.Done():
				return 0, ctx.Err()
			}
		}
		gone, leave := context.WithCancel(t.Context())
		var all sync.WaitGroup
		asks := func(ctx context.Context, want int, wrong error) {
			all.Go(func() {
				if v, err := k.get(ctx, l, []string{"bench"}, work); v != want || !errors.Is(err, wrong) {
					t.Errorf("got %d, %v, want %d", v, err, want)
				}
			})
			synctest.Wait()
		}
		asks(gone, 0, context.Canceled)
		for range 5 {
			asks(t.Context(), 1, nil)
		}
		leave()
		l.changes.note("bench")
		asks(t.Context(), 2, nil)
		close(goOn)
		all.Wait()
		if v, err := k.get(t.Context(), l, []string{"bench"}, work); v != 2 || err != nil || made.Load() != 2 {
			t.Errorf("kept %d, %v, worked out %d times", v, err, made.Load())
		}
	})
}

// What went wrong is told and not kept, a panic too.
func TestKeptSaysWhatWentWrong(t *testing.T) {
	l := &Lab{now: time.Now}
	var k kept[int]
	away := errors.New("the database is away")
	for _, x := range []struct {
		work func(context.Context) (int, error)
		want string
	}{
		{func(context.Context) (int, error) { return 0, away }, away.Error()},
		{func(context.Context) (int, error) { panic("nobody thought of this") }, "panic: nobody thought of this"},
	} {
		if _, err := k.get(t.Context(), l, nil, x.work); err == nil || err.Error() != x.want {
			t.Errorf("%v, want %s", err, x.want)
		}
	}
	if v, err := k.get(t.Context(), l, nil, func(context.Context) (int, error) { return 7, nil }); v != 7 || err != nil {
		t.Errorf("%d, %v", v, err)
	}
}
