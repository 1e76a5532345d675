package demo

import (
	"context"
	_ "embed"
	"encoding/json"
	"fmt"
	"time"

	"vialbench/core/stock"
	"vialbench/internal/lab"
)

//go:embed store.json
var storeJSON []byte

// stocked is an article with its containers; days are counted from today, and 0 is none.
type stocked struct {
	Article    stock.Article `json:"article"`
	Containers []struct {
		Amount        string `json:"amount"`
		Place         string `json:"place"`
		OpenedDaysAgo int    `json:"openedDaysAgo"`
		KeepsDays     int    `json:"keepsDays"`
	} `json:"containers"`
}

// fillStore puts into the store what the lab of the sample records keeps there.
func fillStore(ctx context.Context, l *lab.Lab, by lab.Actor, now time.Time) error {
	var list []stocked
	if err := json.Unmarshal(storeJSON, &list); err != nil {
		return err
	}
	day := func(days int) string {
		if days == 0 {
			return ""
		}
		return now.AddDate(0, 0, days).Format(time.DateOnly)
	}
	for i, s := range list {
		id := fmt.Sprintf("019a0000-0000-7000-8000-%012d", 7000+100*i)
		if err := l.KeepArticle(ctx, by, id, s.Article, 0); err != nil {
			return err
		}
		for k, c := range s.Containers {
			container := fmt.Sprintf("019a0000-0000-7000-8000-%012d", 7001+100*i+k)
			change := lab.ContainerChange{Article: id, Amount: c.Amount, Place: c.Place, Opened: day(-c.OpenedDaysAgo), Expires: day(c.KeepsDays)}
			if err := l.KeepContainer(ctx, by, container, change); err != nil {
				return err
			}
		}
	}
	return nil
}
