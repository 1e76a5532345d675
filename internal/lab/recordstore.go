package lab

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/stock"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// ArticleRecord is something that is kept in the store, with its containers.
type ArticleRecord struct {
	ID     string `json:"id"`
	Number int64  `json:"number"`
	stock.Article
	Version    int               `json:"version"`
	By         string            `json:"by"`
	At         time.Time         `json:"at"`
	Removed    *time.Time        `json:"removed,omitempty"`
	Containers []ContainerRecord `json:"containers,omitempty"`
}

// ContainerRecord is a container with what it was counted to hold, and what runs took.
type ContainerRecord struct {
	ID      string             `json:"id"`
	Number  int64              `json:"number"`
	Place   string             `json:"place,omitempty"`
	Opened  string             `json:"opened,omitempty"`
	Expires string             `json:"expires,omitempty"`
	Version int                `json:"version"`
	By      string             `json:"by"`
	At      time.Time          `json:"at"`
	Entries []StockEntryRecord `json:"entries"`
}

// StockEntryRecord is a count or, of a run, what that took.
type StockEntryRecord struct {
	ID     string    `json:"id"`
	Seq    int64     `json:"seq"`
	Run    *string   `json:"run,omitempty"`
	Amount float64   `json:"amount"`
	Note   string    `json:"note,omitempty"`
	By     string    `json:"by"`
	At     time.Time `json:"at"`
}

func exportStore(db *store.Store, out *Records) error {
	articles, err := db.AllArticles()
	if err != nil || len(articles) == 0 {
		return err
	}
	ids := make([]string, len(articles))
	for i, a := range articles {
		ids[i] = a.ID
	}
	containers, err := db.ContainersOf(ids)
	if err != nil {
		return err
	}
	inside := make([]string, len(containers))
	for i, c := range containers {
		inside[i] = c.ID
	}
	entries, err := db.Entries(inside)
	of := map[string][]StockEntryRecord{}
	for _, e := range entries {
		of[e.ContainerID] = append(of[e.ContainerID], StockEntryRecord{e.ID, e.Seq, e.RunID, e.Amount, e.Note, e.Maker.Initials, e.MadeAt.UTC()})
	}
	for i, a := range articles {
		r := ArticleRecord{
			ID: a.ID, Number: a.Number, Article: a.Article, Version: a.Version, By: a.Creator.Initials, At: a.CreatedAt.UTC(), Removed: a.RemovedAt,
		}
		for _, c := range containers {
			if c.ArticleID == ids[i] {
				r.Containers = append(r.Containers, ContainerRecord{
					c.ID, c.Number, c.Place, c.Opened, c.Expires, c.Version, c.Creator.Initials, c.CreatedAt.UTC(), of[c.ID],
				})
			}
		}
		out.Store = append(out.Store, r)
	}
	return err
}

// takeStore takes in what is kept in the store. In a store that holds nothing yet numbers are kept as they were given.
func (in *importer) takeStore(list []ArticleRecord) error {
	all, err := in.tx.AllArticles()
	if err != nil {
		return err
	}
	in.freshStore = in.fresh && len(all) == 0
	for i, r := range list {
		if err := in.takeArticle(fmt.Sprintf("/store/%d", i), r); err != nil {
			return err
		}
	}
	return nil
}

// takeArticle takes in an article that is not known yet, and what is new of its containers. What the store has under
// another ID, by its substance or its name, gets the containers.
func (in *importer) takeArticle(place string, r ArticleRecord) error {
	by, ok := in.person(place, r.By)
	if !ok || !in.isID(place+"/id", r.ID) {
		return nil
	}
	known := make([]substance.Substance, 0, len(in.byKey))
	for _, s := range in.byKey {
		known = append(known, s.Substance)
	}
	if err := r.Check(known); err != nil {
		return in.blame(place, err)
	}
	all, err := in.tx.AllArticles()
	if err != nil {
		return err
	}
	i := slices.IndexFunc(all, func(a store.Article) bool { return a.ID == r.ID })
	if i < 0 && r.Removed == nil {
		i = slices.IndexFunc(all, func(a store.Article) bool {
			return a.RemovedAt == nil && (a.Key != "" && a.Key == r.Key || strings.EqualFold(a.Name, r.Name))
		})
	}
	id := r.ID
	switch {
	case i >= 0 && all[i].Unit != r.Unit:
		in.problems.Add(place+"/unit", "%s is counted in %s here", all[i].Name, all[i].Unit)
		return nil
	case i >= 0:
		id = all[i].ID
	default:
		row := store.Article{
			ID: r.ID, Article: r.Article, Version: max(1, r.Version), CreatedBy: by.ID, CreatedAt: r.At, RemovedAt: r.Removed,
		}
		if in.freshStore {
			row.Number = r.Number
		}
		if len(in.problems) > 0 {
			return nil
		}
		if err := in.tx.Create(&row); err != nil {
			return err
		}
	}
	for k, c := range r.Containers {
		if err := in.takeContainer(fmt.Sprintf("%s/containers/%d", place, k), id, c); err != nil {
			return err
		}
	}
	return nil
}

func (in *importer) takeContainer(place, article string, r ContainerRecord) error {
	by, ok := in.person(place, r.By)
	if !ok || !in.isID(place+"/id", r.ID) {
		return nil
	}
	if err := (stock.Container{Place: r.Place, Opened: r.Opened, Expires: r.Expires}).Check(); err != nil {
		return in.blame(place, err)
	}
	rows, err := in.entries(place, r)
	if err != nil || len(in.problems) > 0 {
		return err
	}
	if _, err := in.tx.ContainerByID(r.ID); isNotFound(err) {
		row := store.Container{
			ID: r.ID, ArticleID: article, Place: r.Place, Opened: r.Opened, Expires: r.Expires,
			Version: max(1, r.Version), CreatedBy: by.ID, CreatedAt: r.At,
		}
		if in.freshStore {
			row.Number = r.Number
		}
		if err := in.tx.Create(&row); err != nil {
			return err
		}
	} else if err != nil {
		return err
	}
	ids := make([]string, len(rows))
	for i, e := range rows {
		ids[i] = e.ID
	}
	known, err := in.tx.EntriesByID(ids)
	if err != nil {
		return err
	}
	rows = slices.DeleteFunc(rows, func(e store.StockEntry) bool { _, is := known[e.ID]; return is })
	if len(rows) == 0 {
		return nil
	}
	return in.tx.CreateMany(rows)
}

// entries reads what was counted and taken.
func (in *importer) entries(place string, r ContainerRecord) ([]store.StockEntry, error) {
	if !slices.ContainsFunc(r.Entries, func(e StockEntryRecord) bool { return e.Run == nil }) {
		in.problems.Add(place+"/entries", "a container needs a count of what it holds")
	}
	rows := make([]store.StockEntry, 0, len(r.Entries))
	for i, e := range r.Entries {
		of := fmt.Sprintf("%s/entries/%d", place, i)
		who, ok := in.person(of, e.By)
		if !ok || !in.isID(of+"/id", e.ID) {
			continue
		}
		if !(e.Amount >= 0 && e.Amount <= stock.MostHeld) || len([]rune(e.Note)) > mostCountNote {
			in.problems = append(in.problems, verdict.Problem{Field: of + "/amount", Reason: "an amount is nothing or more, with a short note"})
			continue
		}
		if e.Run != nil {
			if _, err := in.tx.RunByID(*e.Run, false); isNotFound(err) {
				in.problems.Add(of+"/run", "no run with this ID is here or in these records")
				continue
			} else if err != nil {
				return nil, err
			}
		}
		row := store.StockEntry{ID: e.ID, ContainerID: r.ID, RunID: e.Run, Amount: e.Amount, Note: e.Note, MadeBy: who.ID, MadeAt: e.At}
		if in.freshStore {
			row.Seq = e.Seq
		}
		rows = append(rows, row)
	}
	return rows, nil
}
