package store

import (
	"time"
)

// CountAccounts counts the accounts.
func (s *Store) CountAccounts() (int64, error) {
	var n int64
	err := s.db.Model(&Account{}).Count(&n).Error
	return n, err
}

// LockAccounts keeps other transactions from making accounts until this one ends.
func (s *Store) LockAccounts() error {
	return s.db.Exec("LOCK TABLE accounts IN SHARE ROW EXCLUSIVE MODE").Error
}

// Accounts lists all accounts by name.
func (s *Store) Accounts() ([]Account, error) { return many[Account](s.db.Order("name, id")) }

// AccountByID finds an account.
func (s *Store) AccountByID(id string) (Account, error) {
	return one[Account](s.db.Where("id = ?", id))
}

// AccountByLogin finds an account by its lower-case sign-in name.
func (s *Store) AccountByLogin(login string) (Account, error) {
	return one[Account](s.db.Where("login = ?", login))
}

// SignInByToken finds a session that has not expired, with its account.
func (s *Store) SignInByToken(hash []byte, now time.Time) (SignIn, error) {
	return one[SignIn](s.db.Joins("Account").Where("token_hash = ? AND expires_at > ?", hash, now))
}

// SignInsOf lists the sessions of an account that have not expired, the newest first.
func (s *Store) SignInsOf(accountID string, now time.Time) ([]SignIn, error) {
	return many[SignIn](s.db.Where("account_id = ? AND expires_at > ?", accountID, now).Order("created_at DESC, token_hash"))
}

// ExtendSignIn moves the end of a session.
func (s *Store) ExtendSignIn(hash []byte, until time.Time) error {
	return s.db.Model(&SignIn{}).Where("token_hash = ?", hash).Update("expires_at", until).Error
}

// DeleteSignIn ends a session, DeleteSignInsOf all those of an account.
func (s *Store) DeleteSignIn(hash []byte) error {
	return s.db.Where("token_hash = ?", hash).Delete(&SignIn{}).Error
}

// DeleteSignInsOf ends all sessions of an account but the one with a hash.
func (s *Store) DeleteSignInsOf(accountID string, but []byte) error {
	return s.db.Where("account_id = ? AND token_hash IS DISTINCT FROM ?", accountID, but).Delete(&SignIn{}).Error
}

// IsDeviceOf reports whether an account signed in on a device before, or is signed in on it.
func (s *Store) IsDeviceOf(hash []byte, accountID string) (bool, error) {
	var n int64
	err := s.db.Raw(`SELECT (SELECT count(*) FROM devices WHERE token_hash = @hash AND account_id = @account)
		+ (SELECT count(*) FROM sign_ins WHERE token_hash = @hash AND account_id = @account)`,
		map[string]any{"hash": hash, "account": accountID}).Scan(&n).Error
	return n > 0, err
}

// DeleteDevice forgets a device, DeleteDevicesOf all those of an account.
func (s *Store) DeleteDevice(hash []byte) error {
	return s.db.Where("token_hash = ?", hash).Delete(&Device{}).Error
}

// DeleteDevicesOf forgets all devices of an account.
func (s *Store) DeleteDevicesOf(accountID string) error {
	return s.db.Where("account_id = ?", accountID).Delete(&Device{}).Error
}

// DeleteOldSignIns removes sessions that have expired and attempts older than a day.
func (s *Store) DeleteOldSignIns(now time.Time) error {
	if err := s.db.Where("expires_at <= ?", now).Delete(&SignIn{}).Error; err != nil {
		return err
	}
	return s.db.Where("at < ?", now.Add(-24*time.Hour)).Delete(&FailedSignIn{}).Error
}

// LockSignIns keeps other tries at a sign-in name waiting until the transaction ends.
func (s *Store) LockSignIns(login string) error {
	return s.db.Exec("SELECT pg_advisory_xact_lock(?, hashtext(?))", migrationLock, login).Error
}

// FailedSignIns counts failed tries since a time that meet a condition, and tells when the
// last one was.
func (s *Store) FailedSignIns(since time.Time, condition string, values ...any) (n int64, last time.Time, err error) {
	var row struct {
		N    int64
		Last *time.Time
	}
	err = s.db.Model(&FailedSignIn{}).
		Select("count(*) AS n, max(at) AS last").
		Where("at > ?", since).
		Where(condition, values...).
		Scan(&row).
		Error
	if row.Last != nil {
		last = *row.Last
	}
	return row.N, last, err
}

// ForgetFailure takes back one try.
func (s *Store) ForgetFailure(id int64) error {
	return s.db.Where("id = ?", id).Delete(&FailedSignIn{}).Error
}

// ForgetFailures takes back the tries of a sign-in name on a device that is known, or else
// from an address.
func (s *Store) ForgetFailures(login string, device []byte, address string) error {
	q := s.db.Where("login = ? AND device = ?", login, device)
	if device == nil {
		q = s.db.Where("login = ? AND device IS NULL AND address = ?", login, address)
	}
	return q.Delete(&FailedSignIn{}).Error
}
