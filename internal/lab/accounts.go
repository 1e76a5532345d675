package lab

import (
	"context"
	"errors"
	"slices"
	"strings"

	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// NewAccount is what an account is made from.
type NewAccount struct{ Name, Initials, Login, Password, Role string }

// check checks an account with its password.
func (n *NewAccount) check() error {
	var p verdict.Problems
	if err := n.checkNames(); err != nil && !errors.As(err, &p) {
		return err
	}
	checkPassword(n.Password, n.Login, n.Name, &p)
	return p.OrNil()
}

// checkNames checks an account without its password.
func (n *NewAccount) checkNames() error {
	n.Name, n.Initials, n.Login = strings.TrimSpace(n.Name), strings.TrimSpace(n.Initials), strings.ToLower(strings.TrimSpace(n.Login))
	var p verdict.Problems
	if n.Name == "" || len([]rune(n.Name)) > 80 {
		p.Add("/name", "a name has 1 to 80 characters")
	}
	if n.Initials == "" || len([]rune(n.Initials)) > 8 || strings.ContainsAny(n.Initials, " \t") {
		p.Add("/initials", "initials are 1 to 8 letters without spaces, like RA")
	}
	if n.Login == "" || len([]rune(n.Login)) > 40 || strings.ContainsAny(n.Login, " \t") {
		p.Add("/login", "a sign-in name has 1 to 40 characters and no spaces, like ashdown")
	}
	if n.Role != Instructor && n.Role != Assistant {
		p.Add("/role", "the role is instructor or assistant")
	}
	return p.OrNil()
}

// createAccount makes an account whose password was hashed before, outside of any
// transaction, since that takes a while.
func (l *Lab) createAccount(tx *store.Store, n NewAccount, hash string) (store.Account, error) {
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
	account := store.Account{
		ID: newID(), Name: n.Name, Initials: n.Initials, Login: n.Login, Role: n.Role,
		PasswordHash: hash, Active: true, CreatedAt: l.now(),
	}
	return account, tx.Create(&account)
}

// NeedsSetup reports whether there is no account yet.
func (l *Lab) NeedsSetup(ctx context.Context) (bool, error) {
	n, err := l.store.With(ctx).CountAccounts()
	return n == 0, err
}

// CreateFirst makes the first account, an instructor; a Conflict when there is
// one already.
func (l *Lab) CreateFirst(ctx context.Context, n NewAccount) (store.Account, error) {
	n.Role = Instructor
	var account store.Account
	switch needed, err := l.NeedsSetup(ctx); { // before anything is hashed: that takes a while
	case err != nil:
		return account, err
	case !needed:
		return account, errSetUp
	}
	hash, err := l.hashOf(ctx, &n)
	if err != nil {
		return account, err
	}
	err = l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		if err := tx.LockAccounts(); err != nil {
			return err
		}
		count, err := tx.CountAccounts()
		if err != nil {
			return err
		}
		if count > 0 {
			return errSetUp
		}
		account, err = l.createAccount(tx, n, hash)
		return err
	})
	return account, err
}

// errSetUp is what whoever comes too late is told.
var errSetUp = Conflict{"the first instructor has been made already: sign in"}

// CreatePerson makes an account.
func (l *Lab) CreatePerson(ctx context.Context, by Actor, n NewAccount) (store.Account, error) {
	if err := by.mayRule("making accounts"); err != nil {
		return store.Account{}, err
	}
	var account store.Account
	hash, err := l.hashOf(ctx, &n)
	if err != nil {
		return account, err
	}
	err = l.change(ctx, by, func(tx *store.Store) (err error) {
		if err = tx.LockAccounts(); err != nil {
			return err
		}
		if account, err = l.createAccount(tx, n, hash); err != nil {
			return err
		}
		return tx.Announce("setup")
	})
	return account, err
}

// hashOf checks a new account and hashes its password.
func (l *Lab) hashOf(ctx context.Context, n *NewAccount) (string, error) {
	if err := n.check(); err != nil {
		return "", err
	}
	return l.hasher.hash(ctx, n.Password)
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
	account, err := l.store.With(ctx).AccountByID(id)
	if err != nil {
		return store.Account{}, found(err, "this account")
	}
	hash := ""
	if c.Password != nil {
		if hash, err = l.newHash(ctx, account, *c.Password); err != nil {
			return store.Account{}, err
		}
	}
	err = l.change(ctx, by, func(tx *store.Store) error {
		if err := tx.LockAccounts(); err != nil {
			return err
		}
		var others int
		if account, others, err = withInstructors(tx, id); err != nil {
			return err
		}
		if c.Role != nil {
			account.Role = *c.Role
		}
		if c.Active != nil {
			account.Active = *c.Active
		}
		if c.Password != nil {
			account.PasswordHash = hash
		}
		if others == 0 && (account.Role != Instructor || !account.Active) {
			return Conflict{"this is the last instructor: make another one first"}
		}
		if !account.Active || c.Password != nil {
			if err := l.endSessions(tx, id, nil); err != nil {
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

// withInstructors finds an account, and counts the other instructors who can sign in.
func withInstructors(tx *store.Store, id string) (account store.Account, others int, err error) {
	accounts, err := tx.Accounts()
	for _, a := range accounts {
		if a.ID == id {
			account = a
		} else if a.Active && a.Role == Instructor {
			others++
		}
	}
	return account, others, err
}

// newHash checks a new password for an account and hashes it.
func (l *Lab) newHash(ctx context.Context, account store.Account, password string) (string, error) {
	var p verdict.Problems
	if checkPassword(password, account.Login, account.Name, &p); len(p) > 0 {
		return "", p
	}
	return l.hasher.hash(ctx, password)
}

// People lists the accounts of people: groups of a class are none.
func (l *Lab) People(ctx context.Context) ([]store.Account, error) {
	accounts, err := l.store.With(ctx).Accounts()
	return slices.DeleteFunc(accounts, func(a store.Account) bool { return a.Role == Group }), err
}

// endSessions ends the sessions of an account on all its devices, but for the one of a
// token. Streams that are open end with them.
func (l *Lab) endSessions(tx *store.Store, accountID string, but []byte) error {
	return errors.Join(tx.DeleteSignInsOf(accountID, but), tx.DeleteDevicesOf(accountID), tx.Announce(TopicSession+accountID))
}

// TopicSession begins the topic that says that sessions of an account ended.
const TopicSession = "session "

// ChangeOwnPassword gives somebody who knows the password another one, and ends the other
// sessions of the account.
func (l *Lab) ChangeOwnPassword(ctx context.Context, by Actor, token, current, next, address string) error {
	if err := l.prove(ctx, by.Login, current, Attempt{Address: address, Device: token}); err != nil {
		if errors.As(err, &SignInFailed{}) {
			return verdict.Problems{{Field: "/current", Reason: "this is not your password now"}}
		}
		return err
	}
	hash, err := l.newHash(ctx, by.Account, next)
	if err != nil {
		return err
	}
	return l.change(ctx, by, func(tx *store.Store) error {
		account, err := tx.AccountByID(by.ID)
		if err != nil {
			return err
		}
		account.PasswordHash = hash
		return errors.Join(tx.Save(&account), l.endSessions(tx, by.ID, tokenHash(token)), tx.Announce("setup"))
	})
}

// SetPassword gives an account a password, for whoever runs the program.
func (l *Lab) SetPassword(ctx context.Context, login, password string) error {
	account, err := l.store.With(ctx).AccountByLogin(strings.ToLower(strings.TrimSpace(login)))
	if err != nil {
		return found(err, "an account of this sign-in name")
	}
	hash, err := l.newHash(ctx, account, password)
	if err != nil {
		return err
	}
	return l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		account.PasswordHash = hash
		return errors.Join(tx.Save(&account), l.endSessions(tx, account.ID, nil))
	})
}
