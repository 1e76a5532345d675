package httpapi

import (
	"fmt"
	"slices"
	"strings"
	"testing"
)

// A stream that has fallen behind is told to read everything again, and does not
// hold up the others.
func TestHubTellsALaggardToResync(t *testing.T) {
	h := newHub()
	slow, seen := h.join(nil, "")
	quick, same := h.join(nil, "")
	if seen != same || !strings.HasSuffix(seen, " 0") {
		t.Errorf("joined at %q and %q", seen, same)
	}
	for range cap(slow) + 1 {
		h.announce("run x")
		<-quick
	}
	if x := <-slow; x.topic != "resync" {
		t.Errorf("the laggard reads %q", x.topic)
	}
	if _, seen := h.join(nil, ""); seen != fmt.Sprintf("%s %d", h.name, cap(slow)+1) {
		t.Errorf("joined at %q", seen)
	}
	h.leave(quick)
	h.announce("shelf")
	if len(quick) != 0 {
		t.Error("a stream that left still hears")
	}
	if x := <-slow; x.topic != "shelf" {
		t.Errorf("after the resync: %q", x.topic)
	}
}

// heardBy empties a stream.
func heardBy(c chan said) (topics []string) {
	for len(c) > 0 {
		topics = append(topics, (<-c).topic)
	}
	return topics
}

// A stream hears what it asked for and the ends of sessions. One that comes back hears what came
// between, or that it missed too much.
func TestHubByTopics(t *testing.T) {
	h := newHub()
	mine, since := h.join([]string{"run 1", "bench"}, "")
	for _, topic := range []string{"run 2", "run 1 7", "bench", "shelf", "session x", "resync"} {
		h.announce(topic)
	}
	if got := heardBy(mine); !slices.Equal(got, []string{"run 1 7", "bench", "session x", "resync"}) {
		t.Errorf("heard %q", got)
	}
	h.leave(mine)
	h.announce("run 2 3")
	for what, want := range map[string][]string{
		since:          {"run 2", "session x", "resync", "run 2 3"},
		h.id(6):        {"run 2 3"},
		h.id(7):        nil,
		"elsewhere 3":  {"resync"},
		h.name + " no": {"resync"},
		"nonsense":     {"resync"},
		"":             nil,
	} {
		again, _ := h.join([]string{"run 2"}, what)
		if got := heardBy(again); !slices.Equal(got, want) {
			t.Errorf("since %q heard %q, want %q", what, got, want)
		}
	}
	for range 2*remembered + 1 {
		h.announce("shelf")
	}
	if len(h.latest) > 2*remembered {
		t.Errorf("%d are remembered", len(h.latest))
	}
	if late, _ := h.join([]string{"run"}, since); !slices.Equal(heardBy(late), []string{"resync"}) {
		t.Error("what was forgotten is not told")
	}
	if late, _ := h.join([]string{"run"}, h.id(h.count-5)); len(late) != 0 {
		t.Error("what nobody asked for is told")
	}
}
