package httpapi

import (
	"fmt"
	"strings"
	"testing"
)

// A stream that has fallen behind is told to read everything again, and does not
// hold up the others.
func TestHubTellsALaggardToResync(t *testing.T) {
	h := newHub()
	slow, seen := h.join()
	quick, same := h.join()
	if seen != same || !strings.HasSuffix(seen, " 0") {
		t.Errorf("joined at %q and %q", seen, same)
	}
	for range cap(slow) + 1 {
		h.announce("run x")
		<-quick
	}
	if topic := <-slow; topic != "resync" {
		t.Errorf("the laggard reads %q", topic)
	}
	if _, seen := h.join(); seen != fmt.Sprintf("%s %d", h.name, cap(slow)+1) {
		t.Errorf("joined at %q", seen)
	}
	h.leave(quick)
	h.announce("shelf")
	if len(quick) != 0 {
		t.Error("a stream that left still hears")
	}
	if topic := <-slow; topic != "shelf" {
		t.Errorf("after the resync: %q", topic)
	}
}
