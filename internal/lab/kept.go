package lab

import (
	"strings"
	"sync"
	"time"
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
	if topic == "resync" {
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

// longestKept is how long an answer stays that depends on the time of day too.
const longestKept = time.Minute

// kept is an answer that every open page asks for. It is worked out once, and again when one of its
// topics has changed. Who gets it changes nothing in it.
type kept[T any] struct {
	mu    sync.Mutex
	made  bool
	at    uint64
	when  time.Time
	value T
}

// get is the answer as it stands; those who ask at the same time wait for one and the same.
func (k *kept[T]) get(l *Lab, topics []string, work func() (T, error)) (T, error) {
	k.mu.Lock()
	defer k.mu.Unlock()
	count, now := l.changes.count(topics), l.now()
	if k.made && k.at == count && now.Sub(k.when).Abs() < longestKept {
		return k.value, nil
	}
	value, err := work()
	if err == nil {
		k.made, k.at, k.when, k.value = true, count, now, value
	}
	return value, err
}
