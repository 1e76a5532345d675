package lab

import (
	"context"
	"crypto/rand"
	"fmt"

	"vialbench/internal/store"
)

// mostFeeds is how many calendar feeds one person may have open.
const mostFeeds = 10

// MakeFeed makes an address at which a calendar program reads the sessions without signing in. The token is told once.
func (l *Lab) MakeFeed(ctx context.Context, by Actor) (feed store.CalendarFeed, token string, err error) {
	token = rand.Text() + rand.Text() // 256 bits
	err = l.change(ctx, by, func(tx *store.Store) error {
		open, err := tx.CalendarFeeds(by.ID)
		if err != nil {
			return err
		}
		if len(open) >= mostFeeds {
			return Conflict{fmt.Sprintf("%d addresses are open already: withdraw one that is not used any more", mostFeeds)}
		}
		feed = store.CalendarFeed{ID: newID(), TokenHash: tokenHash(token), AccountID: by.ID, CreatedAt: l.now()}
		return tx.Create(&feed)
	})
	return feed, token, err
}

// Feeds lists the calendar feeds of a person that are open.
func (l *Lab) Feeds(ctx context.Context, by Actor) ([]store.CalendarFeed, error) {
	return l.store.With(ctx).CalendarFeeds(by.ID)
}

// WithdrawFeed closes a calendar feed of a person: its address leads nowhere from then on.
func (l *Lab) WithdrawFeed(ctx context.Context, by Actor, id string) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		was, err := tx.WithdrawFeed(id, by.ID, l.now())
		if err == nil && !was {
			return NotFound{"this address"}
		}
		return err
	})
}

// OpenFeed finds whose feed a token opens; that of a closed account opens nothing.
func (l *Lab) OpenFeed(ctx context.Context, token string) (Actor, error) {
	feed, err := l.store.With(ctx).CalendarFeedByToken(tokenHash(token))
	if err == nil && !feed.Account.Active {
		err = store.ErrNotFound
	}
	return Actor{Account: feed.Account}, found(err, "this calendar")
}
