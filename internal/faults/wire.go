// Package faults holds what tests break things with. It carries traffic between loopback
// addresses only.
package faults

import (
	"bytes"
	"io"
	"net"
	"net/url"
	"sync"
	"testing"
)

// Wire lies between a program and its database, and can be cut.
type Wire struct {
	listener net.Listener
	to       string

	mu    sync.Mutex
	fault Fault
	conns map[net.Conn]struct{}
}

// Fault is what is wrong with a wire.
type Fault int

// The faults: none; the database does not answer connections; it answers nothing, and
// nobody is told; the wire breaks at a commit, after the database got it.
const (
	Whole Fault = iota
	Away
	Hanging
	CutAfterCommit
)

// NewWire lays a wire to the database that a URL names, and returns the URL at its near
// end. It is taken up when the test ends.
func NewWire(t testing.TB, database string) (w *Wire, near string) {
	t.Helper()
	u, err := url.Parse(database)
	if err != nil {
		t.Fatal(err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0") //nolint:noctx // it ends with the test
	if err != nil {
		t.Fatal(err)
	}
	w = &Wire{listener: listener, to: u.Host, conns: map[net.Conn]struct{}{}}
	t.Cleanup(func() { _ = listener.Close(); w.Set(Away) })
	go w.serve()
	u.Host = listener.Addr().String()
	return w, u.String()
}

// Set brings a fault about, or mends it. What was connected is cut by all but Hanging and
// CutAfterCommit.
func (w *Wire) Set(f Fault) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.fault = f
	if f == Away || f == Whole {
		for c := range w.conns {
			_ = c.Close()
		}
		clear(w.conns)
	}
}

func (w *Wire) now() Fault {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.fault
}

func (w *Wire) serve() {
	for {
		near, err := w.listener.Accept()
		if err != nil {
			return
		}
		if w.now() == Away {
			_ = near.Close()
			continue
		}
		far, err := net.Dial("tcp", w.to) //nolint:noctx // it ends with the wire
		if err != nil {
			_ = near.Close()
			continue
		}
		w.mu.Lock()
		w.conns[near], w.conns[far] = struct{}{}, struct{}{}
		w.mu.Unlock()
		go w.carry(far, near, true)
		go w.carry(near, far, false)
	}
}

// carry copies one way. A commit goes through to the database, and then the wire is cut.
func (w *Wire) carry(to, from net.Conn, toDatabase bool) {
	defer to.Close()   //nolint:errcheck // the wire is cut
	defer from.Close() //nolint:errcheck // the wire is cut
	buffer := make([]byte, 64<<10)
	for {
		n, err := from.Read(buffer)
		switch w.now() {
		case Hanging:
			if n > 0 {
				_, _ = io.Copy(io.Discard, from) // swallowed
				return
			}
		case CutAfterCommit:
			if toDatabase && bytes.Contains(bytes.ToLower(buffer[:n]), []byte("commit\x00")) {
				_, _ = to.Write(buffer[:n])
				_ = from.Close() // nobody hears what the database says to it
				_, _ = io.Copy(io.Discard, to)
				return
			}
		}
		if n > 0 {
			if _, err := to.Write(buffer[:n]); err != nil {
				return
			}
		}
		if err != nil {
			return
		}
	}
}
