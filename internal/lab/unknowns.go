package lab

import (
	"cmp"
	"context"
	"crypto/rand"
	"fmt"
	"slices"
	"strings"

	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/unknowns"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// UnknownsView is a set of unknowns with who opened it. What is in it stays sealed.
type UnknownsView struct {
	store.UnknownSet
	Openings []store.UnknownOpening
}

// UnknownsAsked asks for unknowns of a session: one for each of its groups. The stock is a bottle, or its strength is typed; a
// seed is drawn where none is given.
type UnknownsAsked struct {
	Name, Bottle, Stock, Low, High, Each, Seed string
	Levels                                     int
	Within                                     float64
}

// What can be opened of a set: the list that it is prepared by, and the key, which tells which group has what.
const (
	OpensList = "list"
	OpensKey  = "key"
)

// mostSets is how many sets of unknowns a session has.
const mostSets = 10

// TryUnknowns works unknowns out without keeping them, so that a question can be judged: with a seed that is thrown away.
func (l *Lab) TryUnknowns(ctx context.Context, sessionID string, asked UnknownsAsked) (unknowns.Set, error) {
	row, err := l.unknownSet(l.store.With(ctx), sessionID, asked)
	return row.Set, err
}

// unknownSet answers what is asked for with what the lab has.
func (l *Lab) unknownSet(db *store.Store, sessionID string, asked UnknownsAsked) (row store.UnknownSet, err error) {
	s, err := db.LabSessionByID(sessionID)
	if err == nil && s.RemovedAt != nil {
		err = store.ErrNotFound
	}
	if err != nil {
		return row, found(err, "this session")
	}
	own, err := ownedBy(db)
	if err != nil {
		return row, err
	}
	row = store.UnknownSet{SessionID: sessionID, Name: strings.TrimSpace(asked.Name)}
	row.Question = unknowns.Question{
		Seed: cmp.Or(strings.TrimSpace(asked.Seed), rand.Text()), Groups: s.Plan.Groups, Levels: asked.Levels,
		Stock: quantity.Typed(asked.Stock), Low: quantity.Typed(asked.Low), High: quantity.Typed(asked.High), Each: quantity.Typed(asked.Each),
		Within: asked.Within, Glass: own.glass, Class: glassware.Class(own.settings.FlaskClass), Thresholds: own.settings.Thresholds,
	}
	if asked.Bottle != "" {
		b, err := own.bottle(asked.Bottle)
		if err != nil {
			return row, at("/bottle", err)
		}
		c, ok := b.Product.Figure(figure.Concentration)
		if !ok {
			return row, verdict.Problems{{Field: "/bottle", Reason: "this bottle has no strength that could be diluted"}}
		}
		row.BottleID = &b.ID
		row.Name = cmp.Or(row.Name, b.Product.Name)
		row.Question.Stock = quantity.Stated{Value: &c.Value, Unit: c.Unit}
	}
	if row.Name == "" || len([]rune(row.Name)) > mostUnknownName {
		return row, verdict.Problems{{Field: "/name", Reason: fmt.Sprintf("say what is in them, in up to %d characters", mostUnknownName)}}
	}
	row.Set, err = unknowns.Find(row.Question)
	return row, err
}

// mostUnknownName is how long the name of a set may be.
const mostUnknownName = 80

// MakeUnknowns keeps unknowns for the groups of a session under an ID, and returns what is kept. One that is known already
// stays as it is.
func (l *Lab) MakeUnknowns(ctx context.Context, by Actor, sessionID, id string, asked UnknownsAsked) (unknowns.Set, error) {
	var row store.UnknownSet
	err := l.change(ctx, by, func(tx *store.Store) (err error) {
		if row, err = tx.UnknownSetByID(id); !isNotFound(err) {
			return err
		}
		if row, err = l.unknownSet(tx, sessionID, asked); err != nil {
			return err
		}
		there, err := tx.UnknownSets([]string{sessionID})
		if err != nil {
			return err
		}
		there = slices.DeleteFunc(there, func(u store.UnknownSet) bool { return u.WithdrawnAt != nil })
		if len(there) >= mostSets {
			return Conflict{fmt.Sprintf("a session has at most %d sets of unknowns: withdraw one", mostSets)}
		}
		row.ID, row.MadeBy, row.MadeAt = id, by.ID, l.now()
		if err := tx.Create(&row); err != nil {
			return err
		}
		return tx.Announce(topicPlanned + " " + sessionID)
	})
	if store.IsDuplicate(err) { // the same came in twice at once
		row, err = l.store.With(ctx).UnknownSetByID(id)
	}
	return row.Set, err
}

// Unknowns lists the unknowns of a session that were not withdrawn, with who opened them.
func (l *Lab) Unknowns(ctx context.Context, sessionID string) ([]UnknownsView, error) {
	db := l.store.With(ctx)
	sets, err := db.UnknownSets([]string{sessionID})
	if err != nil {
		return nil, err
	}
	sets = slices.DeleteFunc(sets, func(u store.UnknownSet) bool { return u.WithdrawnAt != nil })
	ids := make([]string, len(sets))
	for i, u := range sets {
		ids[i] = u.ID
	}
	openings, err := db.UnknownOpenings(ids)
	views := make([]UnknownsView, len(sets))
	for i, u := range sets {
		views[i].UnknownSet = u
		for _, o := range openings {
			if o.SetID == u.ID {
				views[i].Openings = append(views[i].Openings, o)
			}
		}
	}
	return views, err
}

// OpenUnknowns opens the list or the key of a set, on record. The key is for instructors, who say why.
func (l *Lab) OpenUnknowns(ctx context.Context, by Actor, id, what, reason string) (set store.UnknownSet, err error) {
	reason = strings.TrimSpace(reason)
	if what == OpensKey {
		if err := by.mayRule("opening a key"); err != nil {
			return set, err
		}
		if reason == "" || len([]rune(reason)) > mostCountNote {
			return set, verdict.Problems{{Field: "/reason", Reason: "say why the key is opened: it is on record"}}
		}
	}
	err = l.change(ctx, by, func(tx *store.Store) error {
		if set, err = tx.UnknownSetByID(id); err != nil {
			return found(err, "these unknowns")
		}
		opening := store.UnknownOpening{ID: newID(), SetID: id, What: what, Reason: reason, MadeBy: by.ID, MadeAt: l.now()}
		if err := tx.Create(&opening); err != nil {
			return err
		}
		return tx.Announce(topicPlanned + " " + set.SessionID)
	})
	return set, err
}

// WithdrawUnknowns takes a set off its session; it stays on record.
func (l *Lab) WithdrawUnknowns(ctx context.Context, by Actor, id string) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		set, err := tx.UnknownSetByID(id)
		if err != nil {
			return found(err, "these unknowns")
		}
		if err := tx.WithdrawUnknowns(id, l.now()); err != nil {
			return err
		}
		return tx.Announce(topicPlanned + " " + set.SessionID)
	})
}
