package store_test

import (
	"context"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"vialbench/internal/store"
	"vialbench/internal/store/storetest"
)

// A database that a newer version has changed is left alone, and what to do is said.
func TestANewerDatabaseIsLeftAlone(t *testing.T) {
	s, address := storetest.OpenWithURL(t)
	conn, err := pgx.Connect(t.Context(), address)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(context.Background()) //nolint:errcheck // the test is over
	if err := s.Migrate(t.Context()); err != nil {
		t.Fatalf("migrated once more: %v", err)
	}
	if _, err := conn.Exec(t.Context(), "INSERT INTO migrations (id) VALUES ('9999_of_tomorrow')"); err != nil {
		t.Fatal(err)
	}
	if err := s.Migrate(t.Context()); err == nil || !strings.Contains(err.Error(), "a newer version of this program") {
		t.Errorf("an older program on a newer database: %v", err)
	}
}

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
	heard, listening := make(chan string, 9), make(chan bool, 1)
	go other.Listen(ctx, func(topic string) {
		if topic == store.Listening {
			listening <- true
			return
		}
		heard <- topic
	})
	<-listening
	next := func() string {
		select {
		case topic := <-heard:
			return topic
		case <-time.After(time.Minute):
			return "nothing"
		}
	}
	if err := s.Announce("shelf", "bench"); err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{"shelf", "bench"} {
		if topic := next(); topic != want {
			t.Errorf("heard %q, want %q", topic, want)
		}
	}
	// Within one, each goes out once, when it is committed; this process hears of it then.
	var own []string
	s.Hear(func(topic string) { own = append(own, topic) })
	again := errors.New("changed my mind")
	for _, end := range []error{again, nil} {
		err := s.InTransaction(func(tx *store.Store) error {
			return errors.Join(tx.Announce("run 1"), tx.Announce("run 1", "shelf"), end)
		})
		if !errors.Is(err, end) {
			t.Fatal(err)
		}
		if (end == nil) != (len(own) == 2) {
			t.Errorf("heard %q by itself", own)
		}
	}
	for _, want := range []string{"run 1", "shelf"} {
		if topic := next(); topic != want {
			t.Errorf("heard %q, want %q", topic, want)
		}
	}
}

// The role that the program works in adds facts and reads them; it cannot change them,
// remove them, or empty their tables, nor can the owner. The other tables keep a history.
func TestFactsOnlyGrow(t *testing.T) {
	s, address := storetest.OpenWithURL(t)
	ctx := context.Background()
	owner, err := pgx.Connect(ctx, address)
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close(ctx) //nolint:errcheck // the test is over
	const id = "01970000-0000-7000-8000-00000000000a"
	setUp := []string{
		"INSERT INTO accounts VALUES ('" + id + "', 'N', 'N', 'n', 'instructor', 'secret hash', true, now())",
		"INSERT INTO plans (id, kind, title, request, created_by, created_at) VALUES ('" + id + "', 'standard', 't', '{}', '" + id + "', now())",
		"INSERT INTO runs (id, plan_id, status, begun_by, begun_at, changed_at) VALUES ('" + id + "', '" + id + "', 'open', '" + id + "', now(), now())",
		"INSERT INTO facts (id, run_id, kind, body, sentence, made_by, made_at, recorded_at) VALUES ('" + id + "', '" + id + "', 'note', '{}', 's', '" + id + "', now(), now())",
	}
	for _, role := range []string{"vialbench_app", "NONE"} {
		if _, err := owner.Exec(ctx, "SET ROLE "+role); err != nil {
			t.Fatal(err)
		}
		for _, sql := range setUp { // as the program does it
			if _, err := owner.Exec(ctx, sql); err != nil {
				t.Fatalf("%s: %s: %v", role, sql, err)
			}
		}
		setUp = nil
		for _, table := range []string{"facts", "takings", "balance_checks", "changes", "history"} {
			column := map[string]string{"changes": "cause"}[table]
			if column == "" {
				column = "id"
			}
			for _, sql := range []string{"UPDATE " + table + " SET " + column + " = " + column, "DELETE FROM " + table, "TRUNCATE " + table + " CASCADE"} {
				_, err := owner.Exec(ctx, sql)
				empty := table != "facts" && role == "NONE" && !strings.HasPrefix(sql, "TRUNCATE") // no row, no trigger
				if (err == nil) != empty {
					t.Errorf("%s: %s: %v", role, sql, err)
				}
			}
		}
		for _, sql := range []string{"DROP TABLE facts", "ALTER TABLE facts DISABLE TRIGGER ALL", "CREATE TABLE more (x int)", "DELETE FROM accounts"} {
			if _, err := owner.Exec(ctx, sql); role != "NONE" && err == nil {
				t.Errorf("%s: %s was done", role, sql)
			}
			if role == "NONE" {
				break
			}
		}
	}
	if _, err := owner.Exec(ctx, "RESET ROLE; UPDATE accounts SET password_hash = 'another hash'"); err != nil {
		t.Fatal(err)
	}
	list, err := s.Histories(1<<60, 10)
	if err != nil || len(list) != 1 || list[0].What != "accounts" || list[0].Actor != nil ||
		strings.Contains(string(list[0].Before), "hash") ||
		!strings.Contains(string(list[0].Before), `"password": "another"`) {
		t.Errorf("%+v %v", list, err)
	}
}

// What says that the database is away, and what says something of the question.
func TestWhatMeansAway(t *testing.T) {
	for code, away := range map[string]bool{
		"08006": true, "53300": true, "53100": true, "57P01": true, "57P03": true, "57014": true, "58030": true, "40001": true, "40P01": true, "55P03": true,
		"25006": true, "23505": false, "23503": false, "22021": false, "42501": false, "42P01": false, "P0001": false,
	} {
		err := fmt.Errorf("wrapped: %w", &pgconn.PgError{Code: code})
		if store.Unavailable(err) != away {
			t.Errorf("%s: away %t", code, !away)
		}
		if store.Unstorable(err) != (code[:2] == "22") {
			t.Errorf("%s: unstorable %t", code, store.Unstorable(err))
		}
	}
	for _, err := range []error{io.EOF, io.ErrUnexpectedEOF, net.ErrClosed, driver.ErrBadConn, &net.OpError{Op: "dial", Err: errors.New("refused")}} {
		if !store.Unavailable(fmt.Errorf("wrapped: %w", err)) {
			t.Errorf("%v: not away", err)
		}
	}
	if store.Unavailable(nil) || store.Unavailable(store.ErrNotFound) || store.Unavailable(errors.New("something else")) {
		t.Error("what is something else means away")
	}
}

// A fact goes on record once, whichever run it is stated of, and nothing beside it is written.
func TestAFactIsRecordedOnce(t *testing.T) {
	s := storetest.Open(t)
	const a, b, c = "01970000-0000-7000-8000-00000000000a", "01970000-0000-7000-8000-00000000000b", "01970000-0000-7000-8000-00000000000c"
	account := store.Account{ID: a, Name: "Niamh Hale", Initials: "NH", Login: "hale", Role: "instructor", Active: true, CreatedAt: time.Now()}
	plan := store.Plan{ID: a, Kind: "standard", Title: "t", Request: store.JSON("{}"), CreatedBy: a, CreatedAt: time.Now(), Batches: 1}
	run := func(id string) *store.Run {
		return &store.Run{ID: id, PlanID: a, Status: "open", BegunBy: a, BegunAt: time.Now(), ChangedAt: time.Now()}
	}
	if err := errors.Join(s.Create(&account), s.Create(&plan), s.Create(run(a)), s.Create(run(b))); err != nil {
		t.Fatal(err)
	}
	state := func(id, run string) []store.Fact {
		now := time.Now()
		return []store.Fact{{ID: id, RunID: run, Kind: "note", Sentence: "s", MadeBy: a, Maker: store.Account{ID: c, Name: "Nobody"}, MadeAt: now, RecordedAt: now}}
	}
	for _, x := range []struct {
		id, run string
		fresh   bool
	}{{a, a, true}, {a, b, false}, {a, a, false}, {b, a, true}} {
		facts := state(x.id, x.run)
		if fresh, err := s.Record(facts); fresh != x.fresh || err != nil || fresh && facts[0].Seq == 0 {
			t.Errorf("%s in %s: %t, %v, %+v", x.id, x.run, fresh, err, facts[0])
		}
	}
	first, err := s.FactsOfRun(a)
	second, err2 := s.FactsOfRun(b)
	if err := errors.Join(err, err2); err != nil || len(first) != 2 || len(second) != 0 {
		t.Fatalf("%d and %d facts, %v", len(first), len(second), err)
	}
	for _, f := range first {
		if m := f.Maker; m.ID != a || m.Name != "Niamh Hale" || m.Initials != "NH" || m.Login != "hale" || m.Role != "instructor" || !m.Active || m.CreatedAt.IsZero() {
			t.Errorf("%+v", m)
		}
	}
	if accounts, err := s.Accounts(); err != nil || len(accounts) != 1 {
		t.Errorf("%d accounts, %v", len(accounts), err)
	}
}
