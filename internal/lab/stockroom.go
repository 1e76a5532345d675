package lab

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"vialbench/core/run"
	"vialbench/core/session"
	"vialbench/core/stock"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// topicStore says that something in the store is not what it was.
const topicStore = "store"

// ArticleView is an article of the store with its containers, and how it stands.
type ArticleView struct {
	store.Article
	Containers []ContainerView
	Standing   stock.Standing
}

// ContainerView is a container with what is left in it.
type ContainerView struct {
	store.Container
	Left float64
}

// core is the container as the core has it.
func (c ContainerView) core() stock.Container {
	return stock.Container{ID: c.ID, Number: c.Number, Left: c.Left, Opened: c.Opened, Expires: c.Expires, Place: c.Place}
}

// Held are its containers as the core has them.
func (a ArticleView) Held() []stock.Container {
	list := make([]stock.Container, len(a.Containers))
	for i, c := range a.Containers {
		list[i] = c.core()
	}
	return list
}

// Stockroom lists what is kept in the store, by name, as it stands with the sessions to come.
func (l *Lab) Stockroom(ctx context.Context) ([]ArticleView, error) {
	return l.stockroom.get(ctx, l, []string{topicStore, "shelf", "setup", topicPlanned}, func(ctx context.Context) ([]ArticleView, error) {
		articles, err := l.store.With(ctx).Articles()
		if err != nil {
			return nil, err
		}
		views, err := containersOf(l.store.With(ctx), articles)
		if err != nil {
			return nil, err
		}
		sessions, err := l.LabSessions(ctx)
		if err != nil {
			return nil, err
		}
		for i := range views {
			views[i].Standing = views[i].Stands(views[i].Held(), demandsOn(views[i].Article, sessions), l.now())
		}
		return views, nil
	})
}

// toOrder are the articles that have to be ordered, the first to be ordered first.
func toOrder(list []ArticleView) []ArticleView {
	list = slices.DeleteFunc(slices.Clone(list), func(a ArticleView) bool { return a.Standing.OrderBy == "" })
	slices.SortStableFunc(list, func(a, b ArticleView) int { return cmp.Compare(a.Standing.OrderBy, b.Standing.OrderBy) })
	return list
}

// Orders lists what has to be ordered, the first to be ordered first.
func (l *Lab) Orders(ctx context.Context) ([]ArticleView, error) {
	list, err := l.Stockroom(ctx)
	return toOrder(list), err
}

// demandsOn are what sessions to come take of an article.
func demandsOn(a store.Article, sessions []PlannedSession) []stock.Demand {
	var list []stock.Demand
	for _, s := range sessions {
		for _, d := range s.Design.Draws {
			if d.Key == a.Key && d.Unit == string(a.Unit) {
				list = append(list, stock.Demand{Title: s.Title, At: s.StartsAt, Amount: d.Amount})
			}
		}
	}
	return list
}

// containersOf reads the containers of articles, with what is left in each. One that is empty by its count is gone.
func containersOf(db *store.Store, articles []store.Article) ([]ArticleView, error) {
	views := make([]ArticleView, len(articles))
	ids := make([]string, len(articles))
	for i, a := range articles {
		views[i].Article, ids[i] = a, a.ID
	}
	if len(ids) == 0 {
		return views, nil
	}
	containers, err := db.ContainersOf(ids)
	if err != nil {
		return nil, err
	}
	entries, err := db.LastEntries(ids)
	if err != nil {
		return nil, err
	}
	counted, taken := map[string]stock.Entry{}, map[string][]stock.Entry{}
	for _, e := range entries {
		entry := stock.Entry{Amount: e.Amount, At: e.MadeAt}
		if e.RunID == nil {
			counted[e.ContainerID] = entry
		} else {
			taken[e.ContainerID] = append(taken[e.ContainerID], entry)
		}
	}
	for _, c := range containers {
		left := stock.Left(counted[c.ID], taken[c.ID])
		if left == 0 && counted[c.ID].Amount == 0 {
			continue
		}
		i := slices.Index(ids, c.ArticleID)
		views[i].Containers = append(views[i].Containers, ContainerView{c, left})
	}
	return views, nil
}

// heldStock is what sessions find in the store: what has not expired, of each substance that is kept there.
func (l *Lab) heldStock(db *store.Store) ([]session.Stock, error) {
	articles, err := db.Articles()
	if err != nil {
		return nil, err
	}
	articles = slices.DeleteFunc(articles, func(a store.Article) bool { return a.Key == "" })
	views, err := containersOf(db, articles)
	list := make([]session.Stock, len(views))
	for i, v := range views {
		usable := v.Stands(v.Held(), nil, l.now()).Usable
		list[i] = session.Stock{Key: v.Key, Left: usable, Unit: string(v.Unit)}
	}
	return list, err
}

// KeepArticle keeps an article under an ID: a new one at version 0, or changes of one that was seen at a version.
func (l *Lab) KeepArticle(ctx context.Context, by Actor, id string, a stock.Article, version int) error {
	a.Name = strings.TrimSpace(a.Name)
	err := l.change(ctx, by, func(tx *store.Store) error {
		known, err := substances(tx)
		if err != nil {
			return err
		}
		list := make([]substance.Substance, len(known))
		for i, k := range known {
			list[i] = k.Substance
		}
		if err := a.Check(list); err != nil {
			return at("/article", err)
		}
		was, err := tx.ArticleByID(id)
		fresh := isNotFound(err)
		switch {
		case err != nil && !fresh:
			return err
		case fresh && version > 0, !fresh && was.RemovedAt != nil:
			return NotFound{"this article"}
		case !fresh && version == 0 && was.Version == 1: // the same came in twice
			return nil
		}
		row := store.Article{ID: id, Article: a, Version: version + 1, CreatedBy: by.ID, CreatedAt: l.now()}
		if fresh {
			if err := tx.Create(&row); err != nil {
				return err
			}
			return tx.Announce(topicStore, topicPlanned)
		}
		if views, err := containersOf(tx, []store.Article{was}); err != nil {
			return err
		} else if was.Unit != a.Unit && len(views[0].Containers) > 0 {
			return Conflict{fmt.Sprintf("its containers are counted in %s: the unit stays", was.Unit)}
		}
		return l.advanceArticle(tx, &row, version, "name", "key", "unit", "minimum", "lead_days")
	})
	if store.IsDuplicate(err) {
		return Conflict{"the store has that already: add a container to it"}
	}
	return err
}

func (l *Lab) advanceArticle(tx *store.Store, row *store.Article, from int, columns ...string) error {
	row.Version = from + 1
	won, err := tx.Advance(row, from, columns...)
	if err != nil {
		return err
	}
	if !won {
		return Conflict{"this article was changed meanwhile: look at it, then change it again"}
	}
	return tx.Announce(topicStore, topicPlanned)
}

// RemoveArticle takes an article off the list of the store. Its containers and what was counted stay on record.
func (l *Lab) RemoveArticle(ctx context.Context, by Actor, id string, version int) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		row, err := tx.ArticleByID(id)
		if err != nil {
			return found(err, "this article")
		}
		if row.RemovedAt != nil {
			return nil
		}
		now := l.now()
		row.RemovedAt = &now
		return l.advanceArticle(tx, &row, version, "removed_at")
	})
}

// ContainerChange is a container as it is to be, and the version it was seen at: 0 of a new one, of which Amount is
// what it holds, as typed.
type ContainerChange struct {
	Article, Place, Opened, Expires string
	Amount                          string
	Version                         int
}

// KeepContainer keeps a container under an ID.
func (l *Lab) KeepContainer(ctx context.Context, by Actor, id string, c ContainerChange) error {
	c.Place = strings.TrimSpace(c.Place)
	checked := stock.Container{Place: c.Place, Opened: c.Opened, Expires: c.Expires}
	if err := checked.Check(); err != nil {
		return err
	}
	err := l.change(ctx, by, func(tx *store.Store) error {
		article, err := tx.ArticleByID(c.Article)
		if err != nil || article.RemovedAt != nil {
			return found(cmp.Or(err, store.ErrNotFound), "this article")
		}
		row := store.Container{
			ID: id, ArticleID: c.Article, Place: c.Place, Opened: c.Opened, Expires: c.Expires,
			Version: c.Version + 1, CreatedBy: by.ID, CreatedAt: l.now(),
		}
		if c.Version > 0 {
			won, err := tx.Advance(&row, c.Version, "place", "opened", "expires")
			if err != nil {
				return err
			}
			if !won {
				return Conflict{"this container was changed meanwhile: look at it, then change it again"}
			}
			return tx.Announce(topicStore, topicPlanned)
		}
		amount, err := article.Unit.Read(c.Amount)
		if err != nil {
			return err
		}
		if amount == 0 {
			return verdict.Problems{{Field: "/amount", Reason: "a container that comes in holds something, like 250 " + string(article.Unit)}}
		}
		if err := tx.Create(&row); err != nil {
			return err
		}
		first := store.StockEntry{ID: newID(), ContainerID: id, Amount: amount, Note: "as it came", MadeBy: by.ID, MadeAt: l.now()}
		if err := tx.Create(&first); err != nil {
			return err
		}
		return tx.Announce(topicStore, topicPlanned)
	})
	if store.IsDuplicate(err) { // the same came in twice
		return nil
	}
	return err
}

// CountContainer keeps what a container was counted to hold, as typed. An id that is known already changes nothing.
func (l *Lab) CountContainer(ctx context.Context, by Actor, container, id, amount, note string) error {
	if len([]rune(note)) > mostCountNote {
		return verdict.Problems{{Field: "/note", Reason: fmt.Sprintf("this is too long: at most %d characters", mostCountNote)}}
	}
	err := l.change(ctx, by, func(tx *store.Store) error {
		row, err := tx.ContainerByID(container)
		if err != nil {
			return found(err, "this container")
		}
		article, err := tx.ArticleByID(row.ArticleID)
		if err != nil {
			return err
		}
		counted, err := article.Unit.Read(amount)
		if err != nil {
			return err
		}
		entry := store.StockEntry{
			ID: id, ContainerID: container, Amount: counted, Note: strings.TrimSpace(note), MadeBy: by.ID, MadeAt: l.now(),
		}
		if err := tx.Create(&entry); err != nil {
			return err
		}
		return tx.Announce(topicStore, topicPlanned)
	})
	if store.IsDuplicate(err) {
		return nil
	}
	return err
}

// mostCountNote is how long a note beside a count may be.
const mostCountNote = 200

// ContainerEntries lists what a container was counted to hold and what was taken, the newest first.
func (l *Lab) ContainerEntries(ctx context.Context, container string) ([]store.StockEntry, error) {
	db := l.store.With(ctx)
	if _, err := db.ContainerByID(container); err != nil {
		return nil, found(err, "this container")
	}
	list, err := db.Entries([]string{container})
	slices.Reverse(list)
	return list, err
}

// use keeps what a run takes out of the store, as its facts have it now: from a container of the substance, where the
// store has one. A run that had ended before, or that began before the store was kept, takes nothing more; what it took may be
// corrected.
func (c *computing) use(view *RunView, wasOpen bool) error {
	used := view.Outcome.Used
	if len(used) == 0 || c.given != nil { // records say themselves what was taken
		return nil
	}
	ids := make([]string, len(used))
	for i, u := range used {
		ids[i] = usedByRun(u, view.ID)
	}
	known, err := c.tx.EntriesByID(ids)
	if err != nil {
		return err
	}
	changed := false
	for i, u := range used {
		entry, isKnown := known[ids[i]]
		switch {
		case isKnown && entry.Amount != u.Amount:
			err = c.tx.SetTaken(entry.ID, u.Amount)
		case !isKnown && u.Amount > 0 && wasOpen:
			err = c.takeFrom(view, u, ids[i])
		default:
			continue
		}
		if err != nil {
			return err
		}
		changed = true
	}
	if !changed {
		return nil
	}
	return c.tx.Announce(topicStore, topicPlanned)
}

// takeFrom takes out of a container for the first time. One that was full is open from then on.
func (c *computing) takeFrom(view *RunView, u run.Used, id string) error {
	article, err := c.tx.ArticleByKey(u.Key)
	if isNotFound(err) || err == nil && (string(article.Unit) != u.Unit || article.CreatedAt.After(view.BegunAt)) {
		return nil
	}
	if err != nil {
		return err
	}
	views, err := containersOf(c.tx, []store.Article{article})
	if err != nil {
		return err
	}
	today := c.now().Format(time.DateOnly)
	i := stock.From(views[0].Held(), u.Amount, today)
	if i < 0 {
		return nil
	}
	row := views[0].Containers[i].Container
	if row.Opened == "" {
		row.Opened = today
		if err := c.tx.Save(&row); err != nil {
			return err
		}
	}
	return c.tx.Create(&store.StockEntry{
		ID: id, ContainerID: row.ID, RunID: &view.ID, Amount: u.Amount, MadeBy: view.BegunBy, MadeAt: c.now(),
		Note: fmt.Sprintf("run %d, %s", view.Number, run.LowerFirst(view.Plan.Title)),
	})
}

// usedByRun names the entry of what a run takes of a substance, so that there is one.
func usedByRun(u run.Used, runID string) string {
	return uuid.NewSHA1(uuid.NameSpaceOID, []byte("store: "+u.Key+" "+u.Unit+" of run "+runID)).String()
}
