// Package storetest gives every test a PostgreSQL database of its own, cloned
// from a migrated template on the server that VIALBENCH_TEST_DATABASE_URL names.
package storetest

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"os"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"vialbench/internal/store"
)

// Variable names the environment variable with the URL of the server.
const Variable = "VIALBENCH_TEST_DATABASE_URL"

var template = struct {
	sync.Once
	name string
	err  error
}{}

// Empty returns the URL of a new database without tables. It is dropped when the
// test ends.
func Empty(t testing.TB) string { return create(t, "template0") }

// Open returns a store on a new migrated database.
func Open(t testing.TB) *store.Store {
	s, _ := OpenWithURL(t)
	return s
}

// OpenWithURL is Open, with the URL, for a test that opens it twice.
func OpenWithURL(t testing.TB) (*store.Store, string) {
	t.Helper()
	template.Do(func() { template.name, template.err = makeTemplate() })
	if template.err != nil {
		t.Fatal(template.err)
	}
	address := create(t, template.name)
	s, err := store.OpenConfined(address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	return s, address
}

// filled are the templates of this process that have records in them, by name.
var filled = struct {
	sync.Mutex
	names map[string]string
}{names: map[string]string{}}

// Filled returns a store on a new database with records in it: fill puts them into the first of a name, and the others of this
// process are copies of that. A package that asks for one ends with [Main].
func Filled(t testing.TB, name string, fill func(*store.Store) error) *store.Store {
	t.Helper()
	filled.Lock()
	defer filled.Unlock()
	if filled.names[name] == "" {
		s, address := OpenWithURL(t)
		if err := errors.Join(fill(s), s.Close()); err != nil {
			t.Fatal(err)
		}
		u, err := url.Parse(address)
		if err != nil {
			t.Fatal(err)
		}
		from, kept := u.Path[1:], "filled_"+uuid.NewString()[:8]
		if err := onServer(func(c *pgx.Conn) error {
			_, err := c.Exec(context.Background(), fmt.Sprintf("CREATE DATABASE %q TEMPLATE %q", kept, from))
			return err
		}); err != nil {
			t.Fatal(err)
		}
		filled.names[name] = kept
	}
	s, err := store.OpenConfined(create(t, filled.names[name]))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	return s
}

// Main runs the tests of a package, and drops what [Filled] kept for them.
func Main(m *testing.M) {
	code := m.Run()
	for _, name := range filled.names {
		if err := onServer(func(c *pgx.Conn) error {
			_, err := c.Exec(context.Background(), fmt.Sprintf("DROP DATABASE %q WITH (FORCE)", name))
			return err
		}); err != nil {
			fmt.Fprintln(os.Stderr, err)
		}
	}
	os.Exit(code)
}

// makeTemplate migrates the template, unless an earlier run of the tests has. Test
// processes that start together wait for the first.
func makeTemplate() (name string, err error) {
	if name, err = store.SchemaName(); err != nil {
		return "", err
	}
	err = onServer(func(c *pgx.Conn) error {
		ctx := context.Background()
		if _, err := c.Exec(ctx, "SELECT pg_advisory_lock(7269402)"); err != nil { // until the connection ends
			return err
		}
		var there bool
		if err := c.QueryRow(ctx, "SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)", name).Scan(&there); err != nil || there {
			return err
		}
		unfinished := name + "_unfinished"
		for _, sql := range []string{"DROP DATABASE IF EXISTS " + unfinished, "CREATE DATABASE " + unfinished + " TEMPLATE template0"} {
			if _, err := c.Exec(ctx, sql); err != nil {
				return err
			}
		}
		s, err := store.Open(addressOf(unfinished))
		if err != nil {
			return err
		}
		if err := errors.Join(s.Migrate(ctx), s.Close()); err != nil {
			return err
		}
		_, err = c.Exec(ctx, "ALTER DATABASE "+unfinished+" RENAME TO "+name)
		return err
	})
	return name, err
}

func create(t testing.TB, from string) string {
	t.Helper()
	name := "test_" + uuid.NewString()[:13]
	name = name[:13] + "_" + name[14:]
	do := func(sql string) error {
		return onServer(func(c *pgx.Conn) error { _, err := c.Exec(context.Background(), sql); return err })
	}
	if err := do(fmt.Sprintf("CREATE DATABASE %q TEMPLATE %q", name, from)); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		if err := do(fmt.Sprintf("DROP DATABASE %q WITH (FORCE)", name)); err != nil {
			t.Error(err)
		}
	})
	return addressOf(name)
}

func addressOf(database string) string {
	u, err := url.Parse(os.Getenv(Variable))
	if err != nil {
		return ""
	}
	u.Path = "/" + database
	return u.String()
}

func onServer(do func(*pgx.Conn) error) error {
	address := os.Getenv(Variable)
	if address == "" {
		return fmt.Errorf("%s is not set: run the tests with make test, or name a PostgreSQL server", Variable)
	}
	c, err := pgx.Connect(context.Background(), address)
	if err != nil {
		return err
	}
	defer c.Close(context.Background()) //nolint:errcheck // nothing is left to do about it
	return do(c)
}
