package lab

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"vialbench/internal/store"
)

// HistoryView is one change of something that may change, in words.
type HistoryView struct {
	ID     int64
	What   string // kind of thing
	Name   string
	Values []HistoryValue
	Gone   bool
	By     string // initials; empty when it was changed by hand in the database
	At     time.Time
}

// HistoryValue is what a field said before, and says after it; After is nil of what is
// gone.
type HistoryValue struct {
	Field, Before string
	After         *string
}

// historyOf names the tables with a history, as people call what is in them, and the field
// that tells one row from another.
var historyOf = map[string]struct{ what, name string }{
	"accounts":    {"account", "name"},
	"settings":    {"rules", ""},
	"benches":     {"bench", ""},
	"balances":    {"balance", "name"},
	"meters":      {"pH meter", "name"},
	"photometers": {"photometer", "name"},
	"glass":       {"glass", "kind"},
	"substances":  {"substance", "key"},
	"systems":     {"acid–base system", "name"},
	"bottles":     {"bottle", "number"},
	"articles":    {"article in the store", "name"},
	"containers":  {"container in the store", "number"},
}

// notTold are fields that are the same ever after, or that say nothing to a person.
var notTold = []string{"id", "key", "number", "created_at", "created_by", "made_at", "made_by", "run_id", "plan_id", "article_id", "part"}

// History lists what was changed, newest first, with what it said before and after.
func (l *Lab) History(ctx context.Context, cursor int64) (Page[HistoryView], error) {
	db := l.store.With(ctx)
	rows, err := db.Histories(before(cursor), pageSize+1)
	if err != nil {
		return Page[HistoryView]{}, err
	}
	balances, err := db.Balances()
	if err != nil {
		return Page[HistoryView]{}, err
	}
	views := make([]HistoryView, len(rows))
	for i, row := range rows {
		after, err := db.HistoryAfter(row)
		if err != nil {
			return Page[HistoryView]{}, err
		}
		views[i] = historyView(row, after)
		views[i].name(balances)
	}
	return cut(views, func(h HistoryView) int64 { return h.ID }), nil
}

func historyView(row store.History, after store.JSON) HistoryView {
	of := historyOf[row.What]
	v := HistoryView{ID: row.ID, What: of.what, Gone: row.Gone, At: row.At}
	if row.Actor != nil {
		v.By = row.Actor.Initials
	}
	was, is := fields(row.Before), fields(after)
	v.Name = was[of.name]
	for _, field := range slices.Sorted(maps.Keys(was)) {
		if slices.Contains(notTold, field) || field == of.name && row.Gone {
			continue
		}
		now, known := is[field]
		switch {
		case row.Gone:
			v.Values = append(v.Values, HistoryValue{Field: plainName(field), Before: was[field]})
		case !known && field == "password":
			v.Values = append(v.Values, HistoryValue{Field: field, Before: was[field]})
		case now != was[field]:
			v.Values = append(v.Values, HistoryValue{plainName(field), was[field], &now})
		}
	}
	return v
}

// name puts the names of balances for their IDs.
func (v *HistoryView) name(balances []store.Balance) {
	for i := range v.Values {
		if v.Values[i].Field != "balance id" {
			continue
		}
		v.Values[i].Field = "balance"
		for _, b := range balances {
			if v.Values[i].Before == b.ID {
				v.Values[i].Before = b.Name
			}
			if after := v.Values[i].After; after != nil && *after == b.ID {
				v.Values[i].After = &b.Name
			}
		}
	}
}

func plainName(field string) string { return strings.ReplaceAll(field, "_", " ") }

// fields are the members of a row in words.
func fields(row store.JSON) map[string]string {
	var members map[string]any
	_ = json.Unmarshal(row, &members) // none of an empty one
	out := make(map[string]string, len(members))
	for name, value := range members {
		switch v := value.(type) {
		case nil:
			out[name] = ""
		case map[string]any, []any:
			text, _ := json.Marshal(v) // it was read from JSON
			out[name] = string(text)
		default:
			out[name] = fmt.Sprint(v)
		}
	}
	return out
}
