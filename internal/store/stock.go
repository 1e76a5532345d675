package store

import (
	"time"

	"vialbench/core/stock"
)

// Article is something that is kept in the store.
type Article struct {
	ID            string `gorm:"primaryKey"`
	Number        int64  `gorm:"default:(-)"`
	stock.Article `gorm:"embedded"`
	Version       int
	CreatedBy     string
	Creator       Account `gorm:"foreignKey:CreatedBy"`
	CreatedAt     time.Time
	RemovedAt     *time.Time
}

// Container is one bottle, tub or box of an article. Days are YYYY-MM-DD, or empty.
type Container struct {
	ID        string `gorm:"primaryKey"`
	Number    int64  `gorm:"default:(-)"`
	ArticleID string
	Place     string
	Opened    string
	Expires   string
	Version   int
	CreatedBy string
	Creator   Account `gorm:"foreignKey:CreatedBy"`
	CreatedAt time.Time
}

// StockEntry is what a container was counted to hold or, of a run, what that took out of it, in the unit of the article.
type StockEntry struct {
	ID          string `gorm:"primaryKey"`
	Seq         int64  `gorm:"default:(-)"`
	ContainerID string
	RunID       *string
	Run         *Run
	Amount      float64
	Note        string
	MadeBy      string
	Maker       Account `gorm:"foreignKey:MadeBy"`
	MadeAt      time.Time
}

// Articles lists what is kept in the store, by name.
func (s *Store) Articles() ([]Article, error) {
	return many[Article](s.db.Where("removed_at IS NULL").Order("lower(name), number"))
}

// AllArticles lists all of it, what was removed too, with who entered it.
func (s *Store) AllArticles() ([]Article, error) {
	return many[Article](s.db.Joins("Creator").Order("articles.number"))
}

// ArticleByID finds an article.
func (s *Store) ArticleByID(id string) (Article, error) {
	return one[Article](s.db.Where("id = ?", id))
}

// ArticleByKey finds the article of a substance.
func (s *Store) ArticleByKey(key string) (Article, error) {
	return one[Article](s.db.Where("key = ? AND removed_at IS NULL", key))
}

// ContainersOf lists the containers of articles, by their numbers.
func (s *Store) ContainersOf(articles []string) ([]Container, error) {
	return many[Container](s.db.Joins("Creator").Where("article_id IN ?", articles).Order("containers.number"))
}

// ContainerByID finds a container.
func (s *Store) ContainerByID(id string) (Container, error) {
	return one[Container](s.db.Where("id = ?", id))
}

// LastEntries lists what the containers of articles were counted to hold last, and what was taken since, in order.
func (s *Store) LastEntries(articles []string) ([]StockEntry, error) {
	var list []StockEntry
	err := s.db.Raw(`SELECT e.* FROM containers c
		CROSS JOIN LATERAL (SELECT made_at FROM stock_entries
			WHERE container_id = c.id AND run_id IS NULL ORDER BY made_at DESC, seq DESC LIMIT 1) last
		JOIN stock_entries e ON e.container_id = c.id AND e.made_at >= last.made_at
		WHERE c.article_id IN ? ORDER BY e.seq`, articles).Scan(&list).Error
	return list, err
}

// Entries lists all entries of some containers, in order.
func (s *Store) Entries(containers []string) ([]StockEntry, error) {
	q := s.db.Joins("Maker").Joins("Run").Where("container_id IN ?", containers)
	return many[StockEntry](q.Order("stock_entries.seq"))
}

// EntriesByID finds some, by their IDs.
func (s *Store) EntriesByID(ids []string) (map[string]StockEntry, error) {
	list, err := many[StockEntry](s.db.Where("id IN ?", ids))
	found := make(map[string]StockEntry, len(list))
	for _, e := range list {
		found[e.ID] = e
	}
	return found, err
}

// SetTaken changes what a run took.
func (s *Store) SetTaken(id string, amount float64) error {
	return s.db.Model(&StockEntry{ID: id}).Update("amount", amount).Error
}
