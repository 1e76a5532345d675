package instrument

import (
	"context"
	"sync"
	"time"
)

// Sample is one reading of a feed, or why there is none.
type Sample struct {
	Reading
	Identity string
	Err      error
	At       time.Time
}

// How often an instrument is read, and how soon it is looked for again.
const (
	interval = 200 * time.Millisecond
	retry    = time.Second
)

// Feeds shares one connection to each instrument among all who watch it. The zero
// value is ready for use.
type Feeds struct {
	mu    sync.Mutex
	feeds map[string]*feed
}

type feed struct {
	watchers map[chan Sample]struct{}
	stop     context.CancelFunc
}

// Watch returns the samples of the instrument at an address until the context ends. A
// watcher that is slow misses samples; it never sees old ones pile up.
func (f *Feeds) Watch(ctx context.Context, address string) <-chan Sample {
	samples := make(chan Sample, 1)
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.feeds == nil {
		f.feeds = map[string]*feed{}
	}
	shared, ok := f.feeds[address]
	if !ok {
		reading, stop := context.WithCancel(context.Background())
		shared = &feed{map[chan Sample]struct{}{}, stop}
		f.feeds[address] = shared
		go run(reading, address, func(s Sample) { f.pass(shared, s) })
	}
	shared.watchers[samples] = struct{}{}
	context.AfterFunc(ctx, func() {
		f.mu.Lock()
		defer f.mu.Unlock()
		delete(shared.watchers, samples)
		close(samples)
		if len(shared.watchers) == 0 && f.feeds[address] == shared {
			shared.stop()
			delete(f.feeds, address)
		}
	})
	return samples
}

func (f *Feeds) pass(shared *feed, s Sample) {
	f.mu.Lock()
	defer f.mu.Unlock()
	for samples := range shared.watchers {
		select {
		case <-samples: // the newest one is what counts
		default:
		}
		samples <- s
	}
}

// run reads an instrument until the context ends, connecting again when it is lost.
func run(ctx context.Context, address string, pass func(Sample)) {
	for ctx.Err() == nil {
		err := readOn(ctx, address, pass)
		if ctx.Err() != nil {
			return
		}
		pass(Sample{Err: err, At: time.Now()})
		select {
		case <-ctx.Done():
		case <-time.After(retry):
		}
	}
}

func readOn(ctx context.Context, address string, pass func(Sample)) error {
	line, err := Open(ctx, address)
	if err != nil {
		return err
	}
	defer line.Close() //nolint:errcheck // nothing is left to do about it
	tick := time.NewTicker(interval)
	defer tick.Stop()
	for {
		reading, err := line.Read()
		if err != nil {
			return err
		}
		pass(Sample{Reading: reading, Identity: line.Identity, At: time.Now()})
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-tick.C:
		}
	}
}
