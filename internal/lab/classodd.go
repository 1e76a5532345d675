package lab

import (
	"crypto/sha256"
	"fmt"
	"slices"
	"sync"

	"vialbench/core/quantity"
	"vialbench/internal/store"
)

// oddities says in the cells of a task what is odd about what was handed in. The grid is asked for at every figure of every
// group: what was traced once is not traced again while its figures stay the same.
func (l *Lab) oddities(db *store.Store, c *ClassState, t ClassTask) error {
	var with *tracer
	for i := range c.Cells {
		cell := &c.Cells[i]
		if cell.Task.ID != t.ID || cell.HandIn == nil {
			continue
		}
		key := cell.HandIn.ID
		if cell.Behind != nil {
			b := cell.Behind // a correction of what is behind it, a standard or a calibration, changes its plan or its bench
			by := sha256.Sum256(slices.Concat(b.Plan.Request, b.Bench))
			key += b.ID + b.ChangedAt.String() + string(by[:])
		}
		if held, _, ok := t.held(cell.Group.Number); ok {
			key += fmt.Sprint(held)
		}
		if said, ok := l.odd.get(key); ok {
			cell.Odd = said
			continue
		}
		if with == nil {
			fresh, err := tracerOf(db, c, t)
			if err != nil {
				return err
			}
			with = &fresh
		}
		r, err := l.traced(db, *with, *cell)
		if err != nil {
			return err
		}
		cell.Odd = r.odd()
		l.odd.put(key, cell.Odd)
	}
	return nil
}

// mostOdd is how many results a process remembers of.
const mostOdd = 5000

// oddOnes remembers what is odd about results.
type oddOnes struct {
	mu   sync.Mutex
	said map[string]string
}

func (o *oddOnes) get(key string) (said string, ok bool) {
	o.mu.Lock()
	defer o.mu.Unlock()
	said, ok = o.said[key]
	return said, ok
}

func (o *oddOnes) put(key, said string) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.said == nil || len(o.said) >= mostOdd {
		o.said = map[string]string{}
	}
	o.said[key] = said
}

// odd says in a few words what is odd about a result; empty where nothing is.
func (r ClassResult) odd() string {
	switch tr := r.Traced; {
	case tr == nil:
		return ""
	case len(tr.Impossible) > 0:
		return "a figure that cannot be"
	case tr.Follows != nil && !*tr.Follows:
		return "not what its figures give"
	case tr.Agrees != nil && !*tr.Agrees && r.Held != nil:
		return fmt.Sprintf("%s %% off", quantity.Signed(100*(r.Value-*r.Held) / *r.Held, 1))
	}
	return ""
}
