package standin_test

import (
	"context"
	"math"
	"net"
	"strings"
	"testing"
	"time"

	"vialbench/internal/instrument"
	"vialbench/internal/standin"
)

// start serves a balance on loopback.
func start(t *testing.T) (address string) {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() {
		standin.Serve(ctx, listener, standin.NewBalance(220, 0.0001, 7))
		close(done)
	}()
	t.Cleanup(func() { stop(); <-done })
	return listener.Addr().String()
}

func dial(t *testing.T, address string) *instrument.Connection {
	t.Helper()
	b, err := instrument.Open(t.Context(), address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = b.Close() })
	return b
}

func do(t *testing.T, b *instrument.Connection, line string) {
	t.Helper()
	if _, err := b.Ask(line); err != nil {
		t.Fatalf("%s: %v", line, err)
	}
}

// until reads until a reading will do.
func until(t *testing.T, b *instrument.Connection, want func(instrument.Reading) bool) instrument.Reading {
	t.Helper()
	for range 100 {
		r, err := b.Read()
		if err != nil {
			t.Fatal(err)
		}
		if want(r) {
			return r
		}
		time.Sleep(50 * time.Millisecond)
	}
	t.Fatal("the reading never came")
	return instrument.Reading{}
}

// A vessel, tare, a load: it settles from below, says moving until it stands, and
// then shows the net mass to the last digit.
func TestWeighing(t *testing.T) {
	b := dial(t, start(t))
	if !strings.HasPrefix(b.Identity, standin.BalanceModel) {
		t.Fatal(b.Identity)
	}
	do(t, b, "STANDIN:PAN 31.4159")
	stable := func(r instrument.Reading) bool { return r.State == instrument.Stable }
	if err := b.Tare(); err == nil {
		t.Error("tared while it moved")
	}
	if r := until(t, b, stable); r.Main().String() != "31.4159 g" {
		t.Errorf("vessel %s", r.Main())
	}
	if err := b.Tare(); err != nil {
		t.Fatal(err)
	}
	do(t, b, "STANDIN:ADD 5.1056")
	if r, err := b.Read(); err != nil || r.State != instrument.Moving || r.Main().Base() > 5 {
		t.Errorf("at once: %s, %s, %v: it should still rise", r.Main(), r.State, err)
	}
	if r := until(t, b, stable); r.Main().String() != "5.1056 g" {
		t.Errorf("net %s", r.Main())
	}
}

func TestMisbehaviour(t *testing.T) {
	address := start(t)
	b, hand := dial(t, address), dial(t, address)
	do(t, hand, "STANDIN:PAN 10")
	until(t, b, func(r instrument.Reading) bool { return r.State == instrument.Stable })
	do(t, hand, "STANDIN:DRAUGHT ON")
	low, high := math.Inf(1), math.Inf(-1)
	for range 40 {
		r, err := b.Read()
		if err != nil || r.State != instrument.Moving {
			t.Fatalf("in a draught: %s %s %v", r.Main(), r.State, err)
		}
		low, high = math.Min(low, r.Main().Base()), math.Max(high, r.Main().Base())
	}
	if spread := (high - low) / 0.0001; spread < 8 || spread > 28 {
		t.Errorf("a draught moves it by %.0f digits", spread)
	}
	do(t, hand, "STANDIN:DRAUGHT OFF")
	do(t, hand, "STANDIN:PAN 500")
	until(t, b, func(r instrument.Reading) bool { return r.State == instrument.Overload })
	for _, line := range []string{"STANDIN:PAN much", "STANDIN:DOOR ajar", "STANDIN:JUMP 1", "WEIGH?"} {
		if _, err := hand.Ask(line); err == nil {
			t.Errorf("%s gives no error", line)
		}
	}
	do(t, hand, "STANDIN:PAN 10")
	do(t, hand, "STANDIN:DRIFT 6000") // 10 mg a second
	before := until(t, b, func(r instrument.Reading) bool { return r.State == instrument.Stable }).Main().Base()
	time.Sleep(300 * time.Millisecond)
	if after, err := b.Read(); err != nil || after.Main().Base() < before+0.001 {
		t.Errorf("drift: %.4f g, then %s, %v", before, after.Main(), err)
	}
}

// The cable is pulled: whoever measures loses the line, is told so, and has readings
// again once it is back. The hand keeps hold of the balance all the while.
func TestDisconnectionAndReturn(t *testing.T) {
	address := start(t)
	hand := dial(t, address)
	var feeds instrument.Feeds
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	first, second := feeds.Watch(ctx, address), feeds.Watch(ctx, address)
	wait := func(what string, samples <-chan instrument.Sample, want func(instrument.Sample) bool) {
		t.Helper()
		timeout := time.After(time.Minute)
		for {
			select {
			case s := <-samples:
				if want(s) {
					return
				}
			case <-timeout:
				t.Fatal(what + " never came")
			}
		}
	}
	reading := func(s instrument.Sample) bool { return s.Err == nil && s.Identity != "" }
	lost := func(s instrument.Sample) bool { return s.Err != nil }
	wait("a reading", first, reading)
	wait("a reading for the other", second, reading)
	do(t, hand, "STANDIN:LINK OFF")
	wait("the loss", first, lost)
	do(t, hand, "STANDIN:LINK ON")
	wait("the return", first, reading)
	stop()
	for range first { //nolint:revive // it closes when the context has ended
	}
}

func FuzzReading(f *testing.F) {
	for _, line := range []string{"READ?", "TARE", "STANDIN:PAN 1e5", "STANDIN:ADD -3", "STANDIN:STATE?", "*IDN?", "\x00", "STANDIN:DRIFT NaN"} {
		f.Add(line)
	}
	f.Fuzz(func(t *testing.T, line string) {
		b := standin.NewBalance(220, 0.0001, 1)
		answer, _ := b.Do(line)
		if strings.ContainsAny(answer, "\n") && !strings.Contains(line, "\n") {
			t.Errorf("%q is answered with two lines: %q", line, answer)
		}
	})
}
