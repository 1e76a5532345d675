package lab_test

import (
	"context"
	"errors"
	"net"
	"strings"
	"testing"
	"time"

	"vialbench/core/photometry"
	"vialbench/internal/lab"
	"vialbench/internal/standin"
)

// Watched live, a stand-in photometer stands or wanders by its light, says so when no light comes through, and is lost without its cable.
func TestWatchPhotometer(t *testing.T) {
	l, ra, it := newLab(t)
	m := photometry.UsualPhotometer()
	m.Name = "Dunlin"
	if _, err := l.AddPhotometer(t.Context(), it, m); err == nil || !strings.Contains(err.Error(), "instructor") {
		t.Errorf("an assistant adds one: %v", err)
	}
	p, err := l.AddPhotometer(t.Context(), ra, m)
	if err != nil {
		t.Fatal(err)
	}
	listener, err := (&net.ListenConfig{}).Listen(t.Context(), "tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go standin.Serve(t.Context(), listener, standin.NewPhotometer(0, 0, 3))
	if err := l.ConnectPhotometer(t.Context(), it, p.ID, listener.Addr().String()); err == nil {
		t.Error("an assistant connects it")
	}
	if err := errors.Join(
		l.ConnectPhotometer(t.Context(), ra, p.ID, listener.Addr().String()), l.SetPhotometer(t.Context(), p.ID, 526), l.ZeroPhotometer(t.Context(), p.ID, false),
	); err != nil {
		t.Fatal(err)
	}
	hand := func(command, want string) {
		t.Helper()
		if got, err := l.HandStandinPhotometer(t.Context(), p.ID, command); err != nil || !strings.Contains(got, want) {
			t.Fatalf("%s: %q, %v", command, got, err)
		}
	}
	ctx, stop := context.WithTimeout(t.Context(), time.Minute)
	defer stop()
	done := errors.New("seen enough")
	see := func(what string, is func(lab.Live) bool) {
		t.Helper()
		var last lab.Live
		if err := l.WatchPhotometer(ctx, p.ID, func(live lab.Live) error {
			if last = live; is(live) {
				return done
			}
			return nil
		}); !errors.Is(err, done) {
			t.Errorf("%s: %v; the last was %+v", what, err, last)
		}
	}
	see("the blank stands", func(live lab.Live) bool {
		return live.Still && live.Standin && live.Identity != "" && len(live.Readings) == 2 && live.Readings[1].In("nm") == 526 && live.Verdict == nil &&
			strings.HasSuffix(live.Text, " AU")
	})
	hand("NOISE 0.02", "noise=0.02")
	see("it wanders", func(live lab.Live) bool {
		return !live.Still && live.Verdict != nil && len(live.Verdict.Choices) == 2 && live.Spread.In("AU") > 0.001
	})
	hand("NOISE 0", "noise=0")
	hand("IN PERMANGANATE 0.01", "molar=0.01")
	see("no light comes through", func(live lab.Live) bool {
		return live.State == "overload" && strings.Contains(live.Says, "Too little light") && !live.Still && live.Text == ""
	})
	hand("LINK OFF", "link=off")
	see("it is lost", func(live lab.Live) bool {
		return live.State == "lost" && strings.Contains(live.Says, "Dunlin does not answer")
	})
	if err := l.WatchPhotometer(ctx, ra.ID, func(lab.Live) error { return nil }); err == nil || !strings.Contains(err.Error(), "this photometer") {
		t.Error(err)
	}
}
