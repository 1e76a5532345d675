package httpapi

import (
	"context"
	"errors"
	"testing"
)

// One person has two turns at once, somebody else comes in between, and what is given up leaves
// nothing behind.
func TestTurns(t *testing.T) {
	all := newTurns(3)
	ctx := t.Context()
	first, err := all.take(ctx, "a")
	if err != nil {
		t.Fatal(err)
	}
	second, err := all.take(ctx, "a")
	if err != nil {
		t.Fatal(err)
	}
	gone, cancel := context.WithCancel(ctx)
	cancel()
	if _, err := all.take(gone, "a"); !errors.Is(err, context.Canceled) {
		t.Errorf("a third one at once: %v", err)
	}
	other, err := all.take(ctx, "b")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := all.take(gone, "c"); !errors.Is(err, context.Canceled) {
		t.Errorf("a fourth one on three processors: %v", err)
	}
	first()
	third, err := all.take(ctx, "a")
	if err != nil {
		t.Fatal(err)
	}
	for _, done := range []func(){second, third, other} {
		done()
	}
	if len(all.each) != 0 || len(all.all) != 0 {
		t.Errorf("left: %v, %d", all.each, len(all.all))
	}
}

// Whoever has too many waiting is told so.
func TestTurnsThatWait(t *testing.T) {
	all := newTurns(1)
	ctx, cancel := context.WithCancel(t.Context())
	for range eachAtOnce + eachWaiting {
		if _, err := all.enter("a"); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := all.take(ctx, "a"); !errors.Is(err, errBusy) {
		t.Errorf("one too many: %v", err)
	}
	done, err := all.take(ctx, "b")
	if err != nil {
		t.Fatal(err)
	}
	done()
	cancel()
}
