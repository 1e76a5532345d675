package store_test

import (
	"context"
	"strings"
	"sync"
	"testing"

	"github.com/jackc/pgx/v5"

	"vialbench/internal/store"
	"vialbench/internal/store/storetest"
)

// Two processes that start at once on a new database do not collide.
func TestMigrateTwiceAtOnce(t *testing.T) {
	address := storetest.Empty(t)
	var wg sync.WaitGroup
	for range 4 {
		wg.Go(func() {
			s, err := store.Open(address)
			if err != nil {
				t.Error(err)
				return
			}
			defer s.Close() //nolint:errcheck // the test is over
			if err := s.Migrate(context.Background()); err != nil {
				t.Error(err)
			}
		})
	}
	wg.Wait()
}

// The schema itself, not only the code, keeps facts as they are, and wants a
// reason for every correction. Every foreign key has an index.
func TestSchemaHoldsThePromises(t *testing.T) {
	_, address := storetest.OpenWithURL(t)
	ctx := context.Background()
	c, err := pgx.Connect(ctx, address)
	if err != nil {
		t.Fatal(err)
	}
	defer c.Close(ctx) //nolint:errcheck // the test is over
	const a, b = "01970000-0000-7000-8000-00000000000a", "01970000-0000-7000-8000-00000000000b"
	for _, sql := range []string{
		"INSERT INTO accounts VALUES ('" + a + "', 'N', 'N', 'n', 'instructor', '', true, now())",
		"INSERT INTO plans (id, kind, title, request, created_by, created_at) VALUES ('" + a + "', 'standard', 't', '{}', '" + a + "', now())",
		"INSERT INTO runs (id, plan_id, status, begun_by, begun_at, changed_at) VALUES ('" + a + "', '" + a + "', 'open', '" + a + "', now(), now())",
		"INSERT INTO facts (id, run_id, kind, body, sentence, made_by, made_at, recorded_at) VALUES ('" + a + "', '" + a + "', 'weighed', '{}', 's', '" + a + "', now(), now())",
	} {
		if _, err := c.Exec(ctx, sql); err != nil {
			t.Fatal(err)
		}
	}
	for sql, says := range map[string]string{
		"UPDATE facts SET sentence = 'other'": "never changed",
		"DELETE FROM facts":                   "never changed",
		"INSERT INTO facts (id, run_id, kind, body, sentence, made_by, made_at, recorded_at, replaces) VALUES ('" + b + "', '" + a + "', 'weighed', '{}', 's', '" + a + "', now(), now(), '" + a + "')": "check",
		"UPDATE accounts SET role = 'student'": "check",
	} {
		if _, err := c.Exec(ctx, sql); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%.60s…: %v, want an error with %q", sql, err, says)
		}
	}
	var missing string
	err = c.QueryRow(ctx, `SELECT coalesce(string_agg(conrelid::regclass || ': ' || conname, ', '), '') FROM pg_constraint k
		WHERE contype = 'f' AND NOT EXISTS (SELECT 1 FROM pg_index i WHERE i.indrelid = k.conrelid AND i.indkey[0] = k.conkey[1])`).Scan(&missing)
	if err != nil || missing != "" {
		t.Errorf("foreign keys without an index: %s (%v)", missing, err)
	}
}

// An announcement reaches a listener on another connection.
func TestAnnouncementsReachOtherProcesses(t *testing.T) {
	s, address := storetest.OpenWithURL(t)
	other, err := store.Open(address)
	if err != nil {
		t.Fatal(err)
	}
	defer other.Close() //nolint:errcheck // the test is over
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	heard := make(chan string, 1)
	go other.Listen(ctx, func(topic string) {
		select {
		case heard <- topic:
		default:
		}
	})
	for { // until the listener is there
		if err := s.Announce("shelf"); err != nil {
			t.Fatal(err)
		}
		select {
		case topic := <-heard:
			if topic != "shelf" {
				t.Errorf("heard %q", topic)
			}
			return
		case <-t.Context().Done():
			t.Fatal("nothing heard")
		default:
		}
	}
}
