// Package store keeps the records in PostgreSQL: models, migrations, queries.
package store

import (
	"context"
	"crypto/sha256"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"strings"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// Store is the database, or one transaction in it.
type Store struct {
	db  *gorm.DB
	url string
}

// Open connects to a PostgreSQL database by its URL.
func Open(url string) (*Store, error) {
	quiet := untroubled{
		logger.New(slogWriter{}, logger.Config{SlowThreshold: time.Second, LogLevel: logger.Warn, IgnoreRecordNotFoundError: true}),
	}
	db, err := gorm.Open(postgres.Open(url), &gorm.Config{Logger: quiet, TranslateError: true})
	if err != nil {
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(20)
	pool.SetMaxIdleConns(5)
	return &Store{db, url}, nil
}

// untroubled says nothing of a query whose asker has gone to another page meanwhile.
type untroubled struct{ logger.Interface }

func (u untroubled) Trace(ctx context.Context, begin time.Time, query func() (string, int64), err error) {
	if !errors.Is(err, context.Canceled) {
		u.Interface.Trace(ctx, begin, query, err)
	}
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

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	return pool.PingContext(ctx)
}

// With returns the store bound to a context.
func (s *Store) With(ctx context.Context) *Store { return &Store{s.db.WithContext(ctx), s.url} }

// InTransaction runs do in one transaction; an error rolls it back.
func (s *Store) InTransaction(do func(tx *Store) error) error {
	return s.db.Transaction(func(tx *gorm.DB) error { return do(&Store{tx, s.url}) })
}

//go:embed migrations/*.sql
var migrationFiles embed.FS

// SchemaName names the schema that Migrate leads to: it changes with the migrations.
func SchemaName() (string, error) {
	files, err := fs.Glob(migrationFiles, "migrations/*.sql")
	if err != nil {
		return "", err
	}
	sum := sha256.New()
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
		return gormigrate.New(tx, &gormigrate.Options{TableName: "migrations", IDColumnName: "id", IDColumnSize: 255}, migrations).Migrate()
	})
}

// channel is the PostgreSQL notification channel of all changes.
const channel = "vialbench"

// Announce tells every server process that something changed, once the
// transaction commits. A topic is like "run 0197…", "shelf" or "bench".
func (s *Store) Announce(topic string) error {
	return s.db.Exec("SELECT pg_notify(?, ?)", channel, topic).Error
}

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

// IsDuplicate tells whether an error comes from a value that must be unique.
func IsDuplicate(err error) bool {
	var pg *pgconn.PgError
	return errors.Is(err, gorm.ErrDuplicatedKey) || errors.As(err, &pg) && pg.Code == "23505"
}
