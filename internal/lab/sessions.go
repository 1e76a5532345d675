package lab

import (
	"bytes"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"strings"
	"time"

	"vialbench/internal/store"
)

// How long a session lasts without use, and from which failed sign-ins within the window
// on the next ones have to wait: longer each time, and never so long that whoever knows
// the password is kept out. A device on which somebody signed in before is counted by
// itself.
const (
	sessionLife      = 14 * 24 * time.Hour
	longestSession   = 90 * 24 * time.Hour // however much it is used
	failureWindow    = 15 * time.Minute
	freeFailures     = 5
	freeFromAddress  = 30
	longestWait      = time.Minute
	longestByAddress = 15 * time.Second
)

// waitAfter is how long to wait after so many failures.
func waitAfter(failures, free int64, longest time.Duration) time.Duration {
	if failures < free {
		return 0
	}
	return min(longest, 2*time.Second<<min(failures-free, 10))
}

// Throttled says that there is too much at once; Wait is how long to wait.
type Throttled struct{ Wait time.Duration }

func (e Throttled) Error() string {
	return fmt.Sprintf("too many tries: wait %.0f seconds, then try again", math.Ceil(e.Wait.Seconds()))
}

// SignInFailed says that name and password do not match.
type SignInFailed struct{}

func (SignInFailed) Error() string { return "sign-in name and password do not match an open account" }

// Attempt is where somebody tries to sign in. Device is a token that a former sign-in left
// on it, Session that of a session which is still open there, and ends with the new one.
type Attempt struct{ Address, Browser, Device, Session string }

// prove checks name and password. A failed try is counted before the password is looked
// at, so that many at once are not all looked at.
func (l *Lab) prove(ctx context.Context, login, password string, at Attempt) error {
	db := l.store.With(ctx)
	account, err := db.AccountByLogin(login)
	if err != nil && !isNotFound(err) {
		return err
	}
	var device []byte // only one that this account is known on
	if account.ID != "" && at.Device != "" {
		known, err := db.IsDeviceOf(tokenHash(at.Device), account.ID)
		if err != nil {
			return err
		}
		if known {
			device = tokenHash(at.Device)
		}
	}
	failed := store.FailedSignIn{Login: login, Address: at.Address, Device: device, At: l.now()}
	if err := db.InTransaction(func(tx *store.Store) error { return l.count(tx, &failed) }); err != nil {
		return err
	}
	right, err := l.hasher.matches(ctx, account.PasswordHash, password, device != nil)
	if err != nil { // it was not looked at
		return errors.Join(err, db.ForgetFailure(failed.ID))
	}
	if !right || !account.Active {
		slog.WarnContext(ctx, "a sign-in failed", "login", login, "address", at.Address)
		return SignInFailed{}
	}
	return db.ForgetFailures(login, device, at.Address)
}

// count counts a try as failed until it has proved otherwise, or says how long to wait
// before the next one.
func (l *Lab) count(tx *store.Store, f *store.FailedSignIn) error {
	if err := tx.LockSignIns(f.Login); err != nil {
		return err
	}
	since := f.At.Add(-failureWindow)
	for _, x := range []struct {
		condition string
		values    []any
		free      int64
		longest   time.Duration
	}{
		{"login = ? AND device IS NOT DISTINCT FROM ?", []any{f.Login, f.Device}, freeFailures, longestWait},
		{"address = ? AND device IS NULL", []any{f.Address}, freeFromAddress, longestByAddress},
	} {
		if f.Device != nil && x.free == freeFromAddress { // known here: strangers at the same address do not matter
			continue
		}
		n, last, err := tx.FailedSignIns(since, x.condition, x.values...)
		if err != nil {
			return err
		}
		if wait := waitAfter(n, x.free, x.longest) - f.At.Sub(last); n >= x.free && wait > 0 {
			return Throttled{wait}
		}
	}
	return tx.Create(f)
}

// SignedIn is a session that was begun; the tokens are for cookies, the database keeps
// their hashes.
type SignedIn struct {
	Token, Device string
	Account       store.Account
}

// SignIn checks name and password and begins a session.
func (l *Lab) SignIn(ctx context.Context, login, password string, at Attempt) (in SignedIn, err error) {
	login = strings.ToLower(strings.TrimSpace(login))
	if err := l.prove(ctx, login, password, at); err != nil {
		return in, err
	}
	db := l.store.With(ctx)
	if in.Account, err = db.AccountByLogin(login); err != nil {
		return in, err
	}
	in.Device = rand.Text()
	device := store.Device{TokenHash: tokenHash(in.Device), AccountID: in.Account.ID, CreatedAt: l.now()}
	if err := db.Create(&device); err != nil {
		return in, err
	}
	if at.Device != "" {
		if err := db.DeleteDevice(tokenHash(at.Device)); err != nil {
			return in, err
		}
	}
	if at.Session != "" {
		if err := db.DeleteSignIn(tokenHash(at.Session)); err != nil {
			return in, err
		}
	}
	in.Token, err = l.Begin(ctx, in.Account, at)
	return in, err
}

// Begin begins a session for an account whose identity has been checked.
func (l *Lab) Begin(ctx context.Context, account store.Account, at Attempt) (token string, err error) {
	return l.beginUntil(ctx, account, at, l.now().Add(sessionLife))
}

// beginUntil begins a session that lasts until a time.
func (l *Lab) beginUntil(ctx context.Context, account store.Account, at Attempt, until time.Time) (token string, err error) {
	db := l.store.With(ctx)
	if err := db.DeleteOldSignIns(l.now()); err != nil {
		return "", err
	}
	token = rand.Text()
	session := store.SignIn{
		TokenHash: tokenHash(token), AccountID: account.ID, CreatedAt: l.now(), ExpiresAt: until,
		Address: at.Address, Browser: short(at.Browser, longestBrowser),
	}
	slog.InfoContext(ctx, "signed in", "login", account.Login, "address", at.Address)
	return token, db.Create(&session)
}

// longestBrowser is how much is kept of what a browser calls itself.
const longestBrowser = 160

func short(text string, most int) string {
	text = strings.ToValidUTF8(strings.Map(func(r rune) rune {
		if r < ' ' {
			return -1
		}
		return r
	}, text), "")
	if runes := []rune(text); len(runes) > most {
		return string(runes[:most])
	}
	return text
}

// Session is one that somebody has open.
type Session struct {
	store.SignIn
	// Current reports that it is the one that asks.
	Current bool
}

// Sessions lists those of whoever asks.
func (l *Lab) Sessions(ctx context.Context, by Actor, token string) ([]Session, error) {
	rows, err := l.store.With(ctx).SignInsOf(by.ID, l.now())
	list := make([]Session, len(rows))
	for i, row := range rows {
		list[i] = Session{row, bytes.Equal(row.TokenHash, tokenHash(token))}
	}
	return list, err
}

// SignOutEverywhere ends all sessions of whoever asks, this one too.
func (l *Lab) SignOutEverywhere(ctx context.Context, by Actor) error {
	return l.change(ctx, by, func(tx *store.Store) error { return l.endSessions(tx, by.ID, nil) })
}

// WhoIs returns who a session token belongs to; NotFound when nobody. A session
// in use is kept alive.
func (l *Lab) WhoIs(ctx context.Context, token string) (Actor, error) {
	db := l.store.With(ctx)
	session, err := db.SignInByToken(tokenHash(token), l.now())
	if err != nil {
		return Actor{}, found(err, "this session")
	}
	if !session.Account.Active {
		return Actor{}, NotFound{"this account"}
	}
	if session.Account.Role == Group { // its session ends with the class
		return Actor{session.Account}, nil
	}
	last := session.CreatedAt.Add(longestSession)
	if until := l.now().Add(sessionLife); session.ExpiresAt.Sub(l.now()) < sessionLife-24*time.Hour && session.ExpiresAt.Before(last) {
		if until.After(last) {
			until = last
		}
		if err := db.ExtendSignIn(session.TokenHash, until); err != nil {
			return Actor{}, err
		}
	}
	return Actor{session.Account}, nil
}

// SignOut ends a session, and the streams of its account that depend on it.
func (l *Lab) SignOut(ctx context.Context, by Actor, token string) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		return errors.Join(tx.DeleteSignIn(tokenHash(token)), tx.Announce(TopicSession+by.ID))
	})
}
