package httpapi

import "testing"

// A stream that has fallen behind is told to read everything again, and does not
// hold up the others.
func TestHubTellsALaggardToResync(t *testing.T) {
	h := newHub()
	slow, quick := h.join(), h.join()
	for range cap(slow) + 1 {
		h.announce("run x")
		<-quick
	}
	if topic := <-slow; topic != "resync" {
		t.Errorf("the laggard reads %q", topic)
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
