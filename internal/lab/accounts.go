package lab

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"math"
	"strings"
	"time"

	"golang.org/x/crypto/argon2"

	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// How long a session lasts without use, and the limits on failed sign-ins: after
// so many within the window, further attempts are refused.
const (
	sessionLife        = 14 * 24 * time.Hour
	failureWindow      = 15 * time.Minute
	failuresPerLogin   = 5
	failuresPerAddress = 30
	minPassword        = 10
)

// Throttled says that there were too many failed sign-ins.
type Throttled struct{ Wait time.Duration }

func (e Throttled) Error() string {
	return fmt.Sprintf("too many failed sign-ins: wait %.0f minutes, then try again", math.Ceil(e.Wait.Minutes()))
}

// SignInFailed says that name and password do not match.
type SignInFailed struct{}

func (SignInFailed) Error() string { return "sign-in name and password do not match an open account" }

// NewAccount is what an account is made from.
type NewAccount struct{ Name, Initials, Login, Password, Role string }

func (n *NewAccount) check() error {
	n.Name, n.Initials, n.Login = strings.TrimSpace(n.Name), strings.TrimSpace(n.Initials), strings.ToLower(strings.TrimSpace(n.Login))
	var p verdict.Problems
	if n.Name == "" {
		p.Add("/name", "the name is empty")
	}
	if n.Initials == "" || strings.ContainsAny(n.Initials, " \t") {
		p.Add("/initials", "initials are 1 to 8 letters without spaces, like RA")
	}
	if n.Login == "" || strings.ContainsAny(n.Login, " \t") {
		p.Add("/login", "a sign-in name has no spaces, like ashdown")
	}
	if len([]rune(n.Password)) < minPassword {
		p.Add("/password", "a password has at least %d characters", minPassword)
	}
	if n.Role != Instructor && n.Role != Assistant {
		p.Add("/role", "the role is instructor or assistant")
	}
	return p.OrNil()
}

func (l *Lab) createAccount(tx *store.Store, n NewAccount) (store.Account, error) {
	if err := n.check(); err != nil {
		return store.Account{}, err
	}
	accounts, err := tx.Accounts()
	if err != nil {
		return store.Account{}, err
	}
	var p verdict.Problems
	for _, a := range accounts {
		if a.Login == n.Login {
			p.Add("/login", "the sign-in name %s is taken", n.Login)
		}
		if strings.EqualFold(a.Initials, n.Initials) {
			p.Add("/initials", "the initials %s belong to %s: choose others, since they go on the record", a.Initials, a.Name)
		}
	}
	if len(p) > 0 {
		return store.Account{}, p
	}
	account := store.Account{ID: newID(), Name: n.Name, Initials: n.Initials, Login: n.Login, Role: n.Role,
		PasswordHash: hashPassword(n.Password), Active: true, CreatedAt: l.now()}
	return account, tx.Create(&account)
}

// NeedsSetup tells whether there is no account yet.
func (l *Lab) NeedsSetup(ctx context.Context) (bool, error) {
	n, err := l.store.With(ctx).CountAccounts()
	return n == 0, err
}

// CreateFirst makes the first account, an instructor; a Conflict when there is
// one already.
func (l *Lab) CreateFirst(ctx context.Context, n NewAccount) (store.Account, error) {
	n.Role = Instructor
	var account store.Account
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		if err := tx.LockAccounts(); err != nil {
			return err
		}
		count, err := tx.CountAccounts()
		if err != nil {
			return err
		}
		if count > 0 {
			return Conflict{"the first instructor has been made already: sign in"}
		}
		account, err = l.createAccount(tx, n)
		return err
	})
	return account, err
}

// CreatePerson makes an account.
func (l *Lab) CreatePerson(ctx context.Context, by Actor, n NewAccount) (store.Account, error) {
	if err := by.mayRule("making accounts"); err != nil {
		return store.Account{}, err
	}
	var account store.Account
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) (err error) {
		if err = tx.LockAccounts(); err != nil {
			return err
		}
		if account, err = l.createAccount(tx, n); err != nil {
			return err
		}
		return tx.Announce("setup")
	})
	return account, err
}

// AccountChange says what to change; nil leaves it.
type AccountChange struct {
	Role     *string
	Active   *bool
	Password *string
}

// ChangePerson changes an account. The last instructor cannot be closed or
// turned into an assistant.
func (l *Lab) ChangePerson(ctx context.Context, by Actor, id string, c AccountChange) (store.Account, error) {
	if err := by.mayRule("changing accounts"); err != nil {
		return store.Account{}, err
	}
	var account store.Account
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		if err := tx.LockAccounts(); err != nil {
			return err
		}
		accounts, err := tx.Accounts()
		if err != nil {
			return err
		}
		others := 0
		for _, a := range accounts {
			if a.ID == id {
				account = a
			} else if a.Active && a.Role == Instructor {
				others++
			}
		}
		if account.ID == "" {
			return NotFound{"this account"}
		}
		if c.Role != nil {
			account.Role = *c.Role
		}
		if c.Active != nil {
			account.Active = *c.Active
		}
		if c.Password != nil {
			if len([]rune(*c.Password)) < minPassword {
				return verdict.Problems{{Field: "/password", Reason: fmt.Sprintf("a password has at least %d characters", minPassword)}}
			}
			account.PasswordHash = hashPassword(*c.Password)
		}
		if others == 0 && (account.Role != Instructor || !account.Active) {
			return Conflict{"this is the last instructor: make another one first"}
		}
		if !account.Active || c.Password != nil {
			if err := tx.DeleteSignInsOf(id); err != nil {
				return err
			}
		}
		if err := tx.Save(&account); err != nil {
			return err
		}
		return tx.Announce("setup")
	})
	return account, err
}

// People lists the accounts.
func (l *Lab) People(ctx context.Context) ([]store.Account, error) {
	return l.store.With(ctx).Accounts()
}

// SignIn checks name and password and begins a session. The token is for the
// cookie; the database keeps its hash.
func (l *Lab) SignIn(ctx context.Context, login, password, address string) (token string, account store.Account, err error) {
	db := l.store.With(ctx)
	login = strings.ToLower(strings.TrimSpace(login))
	byLogin, byAddress, err := db.FailedSignIns(login, address, l.now().Add(-failureWindow))
	if err != nil {
		return "", account, err
	}
	if byLogin >= failuresPerLogin || byAddress >= failuresPerAddress {
		return "", account, Throttled{failureWindow}
	}
	account, err = db.AccountByLogin(login)
	hash := account.PasswordHash
	if err != nil {
		hash = decoyHash // spend the same time on a name that does not exist
	}
	if !checkPassword(hash, password) || err != nil || !account.Active {
		if err := db.Create(&store.FailedSignIn{Login: login, Address: address, At: l.now()}); err != nil {
			return "", account, err
		}
		return "", store.Account{}, SignInFailed{}
	}
	if err = db.ForgetFailures(login); err != nil {
		return "", account, err
	}
	token, err = l.Begin(ctx, account)
	return token, account, err
}

// Begin begins a session for an account whose identity has been checked.
func (l *Lab) Begin(ctx context.Context, account store.Account) (token string, err error) {
	db := l.store.With(ctx)
	if err := db.DeleteOldSignIns(l.now()); err != nil {
		return "", err
	}
	token = rand.Text()
	session := store.SignIn{TokenHash: tokenHash(token), AccountID: account.ID, CreatedAt: l.now(), ExpiresAt: l.now().Add(sessionLife)}
	return token, db.Create(&session)
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
	if session.ExpiresAt.Sub(l.now()) < sessionLife-24*time.Hour {
		if err := db.ExtendSignIn(session.TokenHash, l.now().Add(sessionLife)); err != nil {
			return Actor{}, err
		}
	}
	return Actor{session.Account}, nil
}

// SignOut ends a session.
func (l *Lab) SignOut(ctx context.Context, token string) error {
	return l.store.With(ctx).DeleteSignIn(tokenHash(token))
}

func tokenHash(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}

// Argon2id with the second recommended parameter set of RFC 9106, 4: 64 MiB,
// three passes.
const (
	argonTime    = 3
	argonMemory  = 64 * 1024
	argonThreads = 4
	argonKey     = 32
	saltLength   = 16
)

// decoyHash belongs to no account.
var decoyHash = encodeHash(make([]byte, saltLength), make([]byte, argonKey))

func hashPassword(password string) string {
	salt := make([]byte, saltLength)
	_, _ = rand.Read(salt) // never fails, by its documentation
	return encodeHash(salt, argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonThreads, argonKey))
}

func encodeHash(salt, key []byte) string {
	b64 := base64.RawStdEncoding
	return fmt.Sprintf(
		"$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s",
		argon2.Version,
		argonMemory,
		argonTime,
		argonThreads,
		b64.EncodeToString(salt),
		b64.EncodeToString(key),
	)
}

func checkPassword(hash, password string) bool {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 {
		return false
	}
	var memory, passes uint32
	var threads uint8
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &memory, &passes, &threads); err != nil {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	key, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil {
		return false
	}
	got := argon2.IDKey([]byte(password), salt, passes, memory, threads, argonKey)
	return subtle.ConstantTimeCompare(got, key) == 1
}
