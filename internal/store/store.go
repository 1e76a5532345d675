// Package store keeps the records in PostgreSQL: models, migrations, queries.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"database/sql/driver"
	"embed"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"strings"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/stdlib"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// Store is the database, or one transaction in it.
type Store struct {
	db  *gorm.DB
	url string
	// actor is the account that changes are made for.
	actor string
	facts *memory
	// said are the topics announced in this transaction so far; nil outside one.
	said map[string]bool
	// heard is told what this process announced, once it is committed; nil when nobody is.
	heard func(topic string)
}

// Open connects to a PostgreSQL database by its URL, as its owner.
func Open(url string) (*Store, error) { return open(url) }

// role is the role that the program works in once the database is up to date: in it, facts
// are added and read, and neither changed nor removed.
const role = "vialbench_app"

// OpenConfined connects as Open does and works in the role vialbench_app. ErrNoRole says
// that it may not.
func OpenConfined(url string) (*Store, error) {
	s, err := open(url, stdlib.OptionAfterConnect(func(ctx context.Context, c *pgx.Conn) error {
		_, err := c.Exec(ctx, "SET ROLE "+role)
		return err
	}))
	var pg *pgconn.PgError
	if errors.As(err, &pg) && (pg.Code == "22023" || pg.Code == "42501") { // no such role; not a member of it
		err = ErrNoRole
	}
	return s, err
}

// ErrNoRole says that the role vialbench_app is missing, or not granted to the user of the
// database.
var ErrNoRole = errors.New("the database has no role " + role + " for this user")

func open(url string, options ...stdlib.OptionOpenDB) (*Store, error) {
	quiet := untroubled{logger.New(slogWriter{}, logger.Config{LogLevel: logger.Warn})}
	config, err := pgx.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("the address of the database cannot be read: %w", err)
	}
	config.ConnectTimeout = connectTimeout
	db, err := gorm.Open(
		postgres.New(postgres.Config{Conn: stdlib.OpenDB(*config, options...)}),
		&gorm.Config{Logger: quiet, TranslateError: true},
	)
	if err != nil {
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(mostConnections)
	pool.SetMaxIdleConns(mostConnections) // or PostgreSQL forks all the time under load
	pool.SetConnMaxIdleTime(idleTime)
	return &Store{db: db, url: url, facts: &memory{}}, nil
}

// mostConnections is how many a process has open, idleTime how long one stays without use.
const (
	mostConnections = 20
	idleTime        = 5 * time.Minute
)

// connectTimeout is how long the database has to take a connection.
const connectTimeout = 5 * time.Second

// slow is how long a query takes that the log tells of.
const slow = time.Second

// untroubled tells of queries that failed or were slow, with the request that they belong to; not of one
// that found nothing, nor of one whose asker has gone to another page meanwhile.
type untroubled struct{ logger.Interface }

func (u untroubled) Trace(ctx context.Context, begin time.Time, query func() (string, int64), err error) {
	took := time.Since(begin)
	says := "query failed"
	switch {
	case errors.Is(err, context.Canceled):
		return
	case err == nil || errors.Is(err, gorm.ErrRecordNotFound):
		if took < slow {
			return
		}
		says, err = "slow query", nil
	}
	text, rows := query()
	slog.WarnContext(ctx, says, "ms", took.Milliseconds(), "rows", rows, "error", err, "sql", text)
}

type slogWriter struct{}

func (slogWriter) Printf(format string, args ...any) {
	slog.Warn("database", "detail", strings.TrimSpace(fmt.Sprintf(format, args...)))
}

// Close ends all connections.
func (s *Store) Close() error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	return pool.Close()
}

// Pool is its connections, for those who measure them.
func (s *Store) Pool() (*sql.DB, error) { return s.db.DB() }

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	return pool.PingContext(ctx)
}

// Context is that of what is going on.
func (s *Store) Context() context.Context { return s.db.Statement.Context }

// With returns the store bound to a context.
func (s *Store) With(ctx context.Context) *Store {
	bound := *s
	bound.db = s.db.WithContext(ctx)
	return &bound
}

// As returns the store acting for an account, which the history then names.
func (s *Store) As(accountID string) *Store {
	acting := *s
	acting.actor = accountID
	return &acting
}

// Hear sets who is told what this process announced, as soon as it is committed and before it
// comes back from the database by [Store.Listen].
func (s *Store) Hear(heard func(topic string)) { s.heard = heard }

// InTransaction runs do in one transaction; an error rolls it back.
func (s *Store) InTransaction(do func(tx *Store) error) error {
	inside := *s
	inside.said = map[string]bool{}
	err := s.db.Transaction(func(tx *gorm.DB) error {
		if s.actor != "" {
			if err := tx.Exec("SELECT set_config('vialbench.actor', ?, true)", s.actor).Error; err != nil {
				return err
			}
		}
		inside.db = tx
		return do(&inside)
	})
	if err == nil && s.heard != nil {
		for topic := range inside.said {
			s.heard(topic)
		}
	}
	return err
}

// Snapshot runs do on the records as they stand at one moment; it can change nothing.
func (s *Store) Snapshot(do func(db *Store) error) error {
	options := sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true}
	return s.db.Transaction(func(tx *gorm.DB) error {
		inside := *s
		inside.db = tx
		return do(&inside)
	}, &options)
}

//go:embed migrations/*.sql
var migrationFiles embed.FS

//go:embed grants.sql
var grants string

// SchemaName names the schema that Migrate leads to: it changes with the migrations.
func SchemaName() (string, error) {
	files, err := fs.Glob(migrationFiles, "migrations/*.sql")
	if err != nil {
		return "", err
	}
	sum := sha256.New()
	sum.Write([]byte(grants))
	for _, name := range files {
		text, err := migrationFiles.ReadFile(name)
		if err != nil {
			return "", err
		}
		sum.Write(text)
	}
	return fmt.Sprintf("schema_%x", sum.Sum(nil)[:6]), nil
}

// migrationLock keeps two processes that start together from migrating at once.
const migrationLock = 7_269_401

// Migrate brings the schema up to date. Migrations only go forward; each is a
// file under migrations/, named by its order.
func (s *Store) Migrate(ctx context.Context) error {
	files, err := fs.Glob(migrationFiles, "migrations/*.sql")
	if err != nil {
		return err
	}
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Exec("SELECT pg_advisory_xact_lock(?)", migrationLock).Error; err != nil {
			return err
		}
		var migrations []*gormigrate.Migration
		for _, name := range files {
			text, err := migrationFiles.ReadFile(name)
			if err != nil {
				return err
			}
			id := strings.TrimSuffix(strings.TrimPrefix(name, "migrations/"), ".sql")
			migrations = append(migrations, &gormigrate.Migration{ID: id, Migrate: func(tx *gorm.DB) error { return tx.Exec(string(text)).Error }})
		}
		options := gormigrate.Options{TableName: "migrations", IDColumnName: "id", IDColumnSize: 255, ValidateUnknownMigrations: true}
		if err := gormigrate.New(tx, &options, migrations).Migrate(); err != nil {
			if errors.Is(err, gormigrate.ErrUnknownPastMigration) {
				return errNewer
			}
			return err
		}
		return tx.Exec(grants).Error
	})
}

var errNewer = errors.New("a newer version of this program has changed it: run that version, or restore a backup from before")

// channel is the PostgreSQL notification channel of all changes.
const channel = "vialbench"

// Announce tells every server process that something changed, once the
// transaction commits. A topic is like "run 0197…", "shelf" or "bench"; each goes out once.
func (s *Store) Announce(topics ...string) error {
	var values []any
	for _, t := range topics {
		if s.said[t] {
			continue
		}
		if s.said != nil {
			s.said[t] = true
		}
		values = append(values, t)
	}
	if len(values) == 0 {
		return nil
	}
	each := strings.Repeat(", pg_notify('"+channel+"', ?)", len(values))
	return s.db.Exec("SELECT "+each[2:], values...).Error
}

// Listening is the topic with which listening begins: what was looked up before may have changed
// unheard.
const Listening = "listening"

// Listen calls heard for every announcement until the context ends. After a lost
// connection it comes back by itself and calls heard with "resync", since
// announcements may have been missed.
func (s *Store) Listen(ctx context.Context, heard func(topic string)) {
	for first := true; ctx.Err() == nil; first = false {
		if err := s.listenOnce(ctx, heard, !first); err != nil && ctx.Err() == nil {
			slog.Warn("listening for changes stopped; trying again", "error", err)
			select {
			case <-ctx.Done():
			case <-time.After(time.Second):
			}
		}
	}
}

func (s *Store) listenOnce(ctx context.Context, heard func(string), again bool) error {
	conn, err := pgx.Connect(ctx, s.url)
	if err != nil {
		return err
	}
	defer conn.Close(context.WithoutCancel(ctx)) //nolint:errcheck // nothing is left to do about it
	if _, err := conn.Exec(ctx, "LISTEN "+channel); err != nil {
		return err
	}
	if again {
		heard("resync")
	} else {
		heard(Listening)
	}
	for {
		n, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		heard(n.Payload)
	}
}

// ErrNotFound says that no row was found.
var ErrNotFound = gorm.ErrRecordNotFound

// Unavailable reports whether an error comes from the database being away, overloaded or
// shutting down: what was asked of it may have been done or not.
func Unavailable(err error) bool {
	var (
		pg      *pgconn.PgError
		connect *pgconn.ConnectError
		network net.Error
	)
	if errors.As(err, &connect) {
		return true
	}
	if errors.As(err, &pg) {
		switch class := pg.Code[:min(2, len(pg.Code))]; {
		case class == "08", class == "53", class == "57", class == "58": // connection, resources, operator, system
			return true
		case pg.Code == "40001", pg.Code == "40P01", pg.Code == "55P03", pg.Code == "25006": // lost to others; locked; read only
			return true
		}
		return false
	}
	return errors.As(err, &network) || errors.Is(err, driver.ErrBadConn) || errors.Is(err, sql.ErrConnDone) ||
		errors.Is(
			err,
			io.EOF,
		) || errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, net.ErrClosed) || pgconn.Timeout(err) || pgconn.SafeToRetry(err)
}

// Unstorable reports whether an error comes from a value that no column can hold.
func Unstorable(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && strings.HasPrefix(pg.Code, "22")
}

// IsDuplicate reports whether an error comes from a value that must be unique.
func IsDuplicate(err error) bool {
	var pg *pgconn.PgError
	return errors.Is(err, gorm.ErrDuplicatedKey) || errors.As(err, &pg) && pg.Code == "23505"
}
