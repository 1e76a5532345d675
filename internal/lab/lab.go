package lab

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	"vialbench/internal/instrument"
	"vialbench/internal/store"
)

// Lab carries out the use cases on one store.
type Lab struct {
	store *store.Store
	// now is the clock; tests may stop it.
	now func() time.Time
	// feeds are the connections to instruments of this process.
	feeds  instrument.Feeds
	hasher *hasher
	// What everybody asks for, as long as it stays the same.
	changes    changes
	bench      kept[BenchView]
	today      kept[Today]
	checks     kept[doubts]
	titrations kept[[]TitrationView]
	planned    kept[[]PlannedSession]
	stockroom  kept[[]ArticleView]
	settings   kept[store.Settings]
	designs    designs
	odd        oddOnes
	Options
}

// Options are what an installation sets; none of them has to be.
type Options struct {
	// Reach is where instruments may stand, beside this machine.
	Reach instrument.Reach
	// Hashing is how passwords are hashed.
	Hashing Hashing
}

// New returns a lab on a store.
func New(s *store.Store, o Options) *Lab {
	now := func() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }
	l := &Lab{store: s, now: now, hasher: newHasher(o.Hashing), Options: o}
	s.Hear(l.changes.note)
	return l
}

// The roles.
const (
	Instructor = "instructor"
	Assistant  = "assistant"
)

// Actor is who acts.
type Actor struct{ store.Account }

// mayRule returns an error for anybody but an instructor.
func (a Actor) mayRule(what string) error {
	if a.Role != Instructor {
		return Forbidden{what + " is for instructors"}
	}
	return nil
}

// change makes a change for somebody, all of it or nothing.
func (l *Lab) change(ctx context.Context, by Actor, do func(tx *store.Store) error) error {
	return l.store.With(ctx).As(by.ID).InTransaction(do)
}

// NotFound says that there is no such thing.
type NotFound struct{ What string }

func (e NotFound) Error() string { return e.What + " is not there" }

// Forbidden says that the role of the person does not allow it.
type Forbidden struct{ Reason string }

func (e Forbidden) Error() string { return e.Reason }

// Conflict says that somebody else was there first, and what changed.
type Conflict struct{ Reason string }

func (e Conflict) Error() string { return e.Reason }

// found turns a missing row into NotFound.
func found(err error, what string) error {
	if isNotFound(err) {
		return NotFound{what}
	}
	return err
}

func isNotFound(err error) bool { return errors.Is(err, store.ErrNotFound) }

func newID() string { return uuid.Must(uuid.NewV7()).String() }

func isUUID(id string) bool {
	return len(id) == 36 && uuid.Validate(id) == nil
}

// Now is the time as the lab has it.
func (l *Lab) Now() time.Time { return l.now() }

// Ready reports whether the lab can work.
func (l *Lab) Ready(ctx context.Context) error { return l.store.Ping(ctx) }

// Listen passes on what changes, from every server process, until the context ends.
func (l *Lab) Listen(ctx context.Context, heard func(topic string)) {
	l.store.Listen(ctx, func(topic string) {
		l.changes.note(topic) // before anybody hears of it and asks again
		heard(topic)
	})
}

// pageSize is the length of a page of a list.
const pageSize = 50

// Page is a part of a list; Next is the number to ask for the following part
// with, 0 at the end.
type Page[T any] struct {
	Items []T
	Next  int64
}

// cut makes a page of up to pageSize items out of one more than that.
func cut[T any](items []T, number func(T) int64) Page[T] {
	if len(items) <= pageSize {
		return Page[T]{Items: items}
	}
	items = items[:pageSize]
	return Page[T]{items, number(items[pageSize-1])}
}

// fromStart is the cursor of a first page.
const fromStart = int64(1) << 62

func before(cursor int64) int64 {
	if cursor <= 0 {
		return fromStart
	}
	return cursor
}
