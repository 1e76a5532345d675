package standin

import (
	"bufio"
	"context"
	"net"
	"strings"
	"sync"
)

// Serve answers on a listener until the context ends. Pulling the cable closes every
// connection that measures, and so does every attempt to measure while it is out.
func Serve(ctx context.Context, listener net.Listener, instrument Instrument) {
	lines := lines{conns: map[net.Conn]struct{}{}}
	stop := context.AfterFunc(ctx, func() {
		_ = listener.Close()
		lines.cut(nil)
	})
	defer stop()
	for {
		conn, err := listener.Accept()
		if err != nil {
			return
		}
		go lines.answer(conn, instrument)
	}
}

// lines are the connections in use.
type lines struct {
	mu    sync.Mutex
	conns map[net.Conn]struct{}
}

func (l *lines) answer(conn net.Conn, instrument Instrument) {
	l.mu.Lock()
	l.conns[conn] = struct{}{}
	l.mu.Unlock()
	defer l.drop(conn)
	in := bufio.NewScanner(conn)
	for in.Scan() {
		answer, ok := instrument.Do(in.Text())
		if !ok {
			return
		}
		if strings.EqualFold(strings.TrimSpace(in.Text()), "STANDIN:LINK OFF") {
			l.cut(conn)
		}
		if _, err := conn.Write([]byte(answer + "\n")); err != nil {
			return
		}
	}
}

func (l *lines) drop(conn net.Conn) {
	l.mu.Lock()
	defer l.mu.Unlock()
	delete(l.conns, conn)
	_ = conn.Close()
}

// cut closes all connections but one.
func (l *lines) cut(except net.Conn) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for conn := range l.conns {
		if conn != except {
			_ = conn.Close()
		}
	}
}
