package lab

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"sync"
	"time"

	"golang.org/x/sync/singleflight"

	"vialbench/internal/store"
)

// changes counts what was announced, by the first word of each topic.
type changes struct {
	mu     sync.Mutex
	counts map[string]uint64
	all    uint64 // of what may have been missed
}

// note counts a topic.
func (c *changes) note(topic string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if topic == "resync" || topic == store.Listening {
		c.all++
		return
	}
	if c.counts == nil {
		c.counts = map[string]uint64{}
	}
	word, _, _ := strings.Cut(topic, " ")
	c.counts[word]++
}

// count is how much of some topics has changed so far.
func (c *changes) count(topics []string) uint64 {
	c.mu.Lock()
	defer c.mu.Unlock()
	sum := c.all
	for _, t := range topics {
		sum += c.counts[t]
	}
	return sum
}

// longestKept is how long an answer stays that depends on the time of day too; longestWork is how
// long working it out may take.
const (
	longestKept = time.Minute
	longestWork = 30 * time.Second
)

// kept is an answer that every open page asks for. It is worked out once, and again when one of its
// topics has changed. Who gets it changes nothing in it.
type kept[T any] struct {
	mu    sync.Mutex
	made  bool
	at    uint64
	when  time.Time
	value T
	// work is under way once for all that ask after the same change.
	work singleflight.Group
}

// get is the answer as it stands. Who asks while it is worked out waits for that, as long as they
// care; what went wrong is told to all of them.
func (k *kept[T]) get(ctx context.Context, l *Lab, topics []string, work func(ctx context.Context) (T, error)) (value T, err error) {
	count, now := l.changes.count(topics), l.now()
	if value, ok := k.known(count, now); ok {
		return value, nil
	}
	done := k.work.DoChan(strconv.FormatUint(count, 10), func() (any, error) {
		ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), longestWork)
		defer cancel()
		value, err := careful(ctx, work)
		if err == nil {
			k.keep(count, now, value)
		}
		return value, err
	})
	select {
	case <-ctx.Done():
		return value, ctx.Err()
	case got := <-done:
		value, _ = got.Val.(T)
		return value, got.Err
	}
}

// careful makes an error of a panic, which would end the process outside a request.
func careful[T any](ctx context.Context, work func(ctx context.Context) (T, error)) (value T, err error) {
	defer func() {
		if cause := recover(); cause != nil {
			err = fmt.Errorf("panic: %v", cause)
		}
	}()
	return work(ctx)
}

func (k *kept[T]) known(count uint64, now time.Time) (T, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.value, k.made && k.at == count && now.Sub(k.when).Abs() < longestKept
}

func (k *kept[T]) keep(count uint64, now time.Time, value T) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if !k.made || count >= k.at { // or else somebody has a newer one
		k.made, k.at, k.when, k.value = true, count, now, value
	}
}
