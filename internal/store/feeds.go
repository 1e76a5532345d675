package store

import "time"

// CalendarFeed is an address at which a calendar program reads the sessions without signing in.
type CalendarFeed struct {
	ID          string `gorm:"primaryKey"`
	TokenHash   []byte
	AccountID   string
	Account     Account
	CreatedAt   time.Time
	WithdrawnAt *time.Time
}

// CalendarFeeds lists the feeds of an account that were not withdrawn, oldest first.
func (s *Store) CalendarFeeds(accountID string) ([]CalendarFeed, error) {
	return many[CalendarFeed](s.db.Where("account_id = ? AND withdrawn_at IS NULL", accountID).Order("created_at, id"))
}

// CalendarFeedByToken finds a feed that was not withdrawn, with whose it is.
func (s *Store) CalendarFeedByToken(hash []byte) (CalendarFeed, error) {
	return one[CalendarFeed](s.db.Joins("Account").Where("token_hash = ? AND withdrawn_at IS NULL", hash))
}

// WithdrawFeed closes a feed of an account, and reports whether there was one.
func (s *Store) WithdrawFeed(id, accountID string, at time.Time) (bool, error) {
	result := s.db.Model(&CalendarFeed{}).Where("id = ? AND account_id = ? AND withdrawn_at IS NULL", id, accountID).Update("withdrawn_at", at)
	return result.RowsAffected == 1, result.Error
}
