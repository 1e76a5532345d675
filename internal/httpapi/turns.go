package httpapi

import (
	"context"
	"errors"
	"sync"
)

// turns lets so many computations go on at once as there are processors, and of one person only
// some of them: whoever asks much waits for himself.
type turns struct {
	all  chan struct{}
	mu   sync.Mutex
	each map[string]*queue
}

// queue is what one person has under way.
type queue struct {
	free    chan struct{}
	waiting int
}

// eachAtOnce is how many computations of one person go on at once, eachWaiting how many wait.
const eachAtOnce, eachWaiting = 2, 16

// errBusy is answered to whoever has too much waiting.
var errBusy = errors.New("too many computations are waiting: let those that are under way come back first")

func newTurns(processors int) *turns {
	return &turns{all: make(chan struct{}, max(1, processors)), each: map[string]*queue{}}
}

// take waits for a turn of a person; done gives it back.
func (t *turns) take(ctx context.Context, person string) (done func(), err error) {
	q, err := t.enter(person)
	if err != nil {
		return nil, err
	}
	select {
	case q.free <- struct{}{}:
	case <-ctx.Done():
		t.leave(person, q)
		return nil, ctx.Err()
	}
	select {
	case t.all <- struct{}{}:
	case <-ctx.Done():
		<-q.free
		t.leave(person, q)
		return nil, ctx.Err()
	}
	return func() {
		<-t.all
		<-q.free
		t.leave(person, q)
	}, nil
}

func (t *turns) enter(person string) (*queue, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	q := t.each[person]
	if q == nil {
		q = &queue{free: make(chan struct{}, eachAtOnce)}
		t.each[person] = q
	}
	if q.waiting >= eachAtOnce+eachWaiting {
		return nil, errBusy
	}
	q.waiting++
	return q, nil
}

func (t *turns) leave(person string, q *queue) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if q.waiting--; q.waiting == 0 {
		delete(t.each, person)
	}
}
