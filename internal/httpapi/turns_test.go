package httpapi

import (
	"context"
	"errors"
	"fmt"
	"net/http/httptest"
	"testing"
	"time"
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

// What reads one text waits for no turn; what waits too long for one is told to come again, and what
// computes too long is not.
func TestWaitingIsToldFromComputing(t *testing.T) {
	s := &Server{turns: newTurns(1)}
	done, err := s.turns.take(t.Context(), "a")
	if err != nil {
		t.Fatal(err)
	}
	defer done()
	if _, err := s.computed(t.Context(), "quantity", []byte(`{"text": "25 mL", "dimensions": ["volume"]}`)); err != nil {
		t.Errorf("a quantity: %v", err)
	}
	short, cancel := context.WithTimeout(t.Context(), time.Millisecond)
	defer cancel()
	if _, err := s.computed(short, "step", nil); !errors.Is(err, errBusy) {
		t.Errorf("all turns are taken: %v", err)
	}
	if _, err := s.PreviewPlan(short, PreviewPlanRequestObject{}); !errors.Is(err, errBusy) {
		t.Errorf("a preview while all turns are taken: %v", err)
	}
	for err, want := range map[error]string{errBusy: "429 1", errTooMuch: "422 "} {
		w := httptest.NewRecorder()
		writeError(t.Context(), w, err)
		if got := fmt.Sprint(w.Code, " ", w.Header().Get("Retry-After")); got != want {
			t.Errorf("%v: %s, want %s", err, got, want)
		}
	}
}
