package store

import (
	"encoding/json"
	"strings"
	"time"

	"gorm.io/gorm"

	"vialbench/core/fact"
)

// contains is a pattern of ILIKE for a text that stands anywhere.
func contains(text string) string {
	return "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(text) + "%"
}

// LogFilter narrows the logbook. Zero fields do not narrow.
type LogFilter struct {
	Text     string
	Initials string
	From, To time.Time // To is exclusive
}

// LogLine is a fact with where it belongs, and the correction that replaced it.
type LogLine struct {
	Seq                 int64
	RunID               string
	RunNumber           int64
	Title, By, Sentence string
	MadeAt, RecordedAt  time.Time
	Reason              string
	Corrected           bool
	CorrectedBy         string
	CorrectedReason     string

	body []byte
}

// Fact is what was stated.
func (l LogLine) Fact() (f fact.Fact, err error) {
	err = json.Unmarshal(l.body, &f)
	return f, err
}

// Log lists facts, newest first, with a sequence number below before.
func (s *Store) Log(f LogFilter, before int64, most int) ([]LogLine, error) {
	q := s.db.Table("facts AS f").Select(`f.seq, f.run_id, r.number, p.title, m.initials, f.sentence, f.made_at, f.recorded_at, f.reason,
		f.body,
		c.id IS NOT NULL, coalesce(cm.initials, ''), coalesce(c.reason, '')`).
		Joins("JOIN accounts m ON m.id = f.made_by").
		Joins("JOIN runs r ON r.id = f.run_id").
		Joins("JOIN plans p ON p.id = r.plan_id").
		Joins("LEFT JOIN facts c ON c.replaces = f.id").
		Joins("LEFT JOIN accounts cm ON cm.id = c.made_by")
	if f.Text == "" {
		q = f.narrow(q, before)
	} else {
		hits, err := s.matching(f, before, most)
		if err != nil || len(hits) == 0 {
			return []LogLine{}, err
		}
		q = q.Where("f.seq IN ?", hits)
	}
	rows, err := q.Order("f.seq DESC").Limit(most).Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close() //nolint:errcheck // what it says, Err says
	list := []LogLine{}
	for rows.Next() {
		var l LogLine
		if err := rows.Scan(&l.Seq, &l.RunID, &l.RunNumber, &l.Title, &l.By, &l.Sentence, &l.MadeAt, &l.RecordedAt, &l.Reason, &l.body,
			&l.Corrected, &l.CorrectedBy, &l.CorrectedReason); err != nil {
			return nil, err
		}
		list = append(list, l)
	}
	return list, rows.Err()
}

// narrow puts all of a filter but its text to facts f.
func (f LogFilter) narrow(q *gorm.DB, before int64) *gorm.DB {
	q = q.Where("f.seq < ?", before)
	if f.Initials != "" {
		q = q.Where("f.made_by IN (SELECT id FROM accounts WHERE initials = ?)", f.Initials)
	}
	if !f.From.IsZero() {
		q = q.Where("f.made_at >= ?", f.From)
	}
	if !f.To.IsZero() {
		q = q.Where("f.made_at < ?", f.To)
	}
	return q
}

// matching are the newest facts that have a text in them, in their reason, or in the title of their
// run, by their sequence numbers. Each place is searched by itself, so that each has its index.
func (s *Store) matching(f LogFilter, before int64, most int) (hits []int64, err error) {
	like := contains(f.Text)
	all := func(condition string) *gorm.DB {
		return f.narrow(s.db.Table("facts AS f").Select("f.seq").Where(condition, like), before)
	}
	in := func(condition string) *gorm.DB { return all(condition).Order("f.seq DESC").Limit(most) }
	titled := all("f.run_id = ANY(ARRAY(SELECT r.id FROM runs r JOIN plans p ON p.id = r.plan_id WHERE p.title ILIKE ?))")
	err = s.db.Transaction(func(tx *gorm.DB) error {
		// Which way is best depends on how common the text is: a plan for any text would go along
		// all facts for one that there is not. OFFSET 0 keeps the titles from that.
		if err := tx.Exec("SET LOCAL plan_cache_mode = force_custom_plan").Error; err != nil {
			return err
		}
		return tx.Raw(`SELECT seq FROM ((?) UNION (?) UNION (SELECT seq FROM (? OFFSET 0) t ORDER BY seq DESC LIMIT ?)) hits
			ORDER BY seq DESC LIMIT ?`, in("f.sentence ILIKE ?"), in("f.reason <> '' AND f.reason ILIKE ?"), titled, most, most).Scan(&hits).Error
	})
	return hits, err
}
