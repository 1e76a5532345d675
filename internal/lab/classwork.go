package lab

import (
	"context"
	"strconv"

	"vialbench/core/run"
	"vialbench/core/session"
)

// Classwork is a plan that a class may carry out, with what each place needs for it.
type Classwork struct {
	Plan, Kind, Title string
	Number            int64
	Items             []session.Item
}

// Of so many of the newest plans, so many are offered.
const (
	newestPlans   = 200
	mostClasswork = 30
)

// Classworks lists the newest plans that a class may carry out.
func (l *Lab) Classworks(ctx context.Context) ([]Classwork, error) {
	rows, err := l.store.With(ctx).Plans(fromStart, newestPlans)
	if err != nil {
		return nil, err
	}
	list := []Classwork{}
	for _, row := range rows {
		plan, err := planOf(row, 0)
		if err != nil {
			return nil, err
		}
		work, ok := plan.(run.Classwork)
		if !ok {
			continue
		}
		if len(list) == mostClasswork {
			break
		}
		c := Classwork{Plan: row.ID, Kind: row.Kind, Title: row.Title, Number: row.Number}
		for i, liquid := range work.Liquids() {
			item := session.ItemOf(liquid)
			item.ID = strconv.Itoa(i)
			c.Items = append(c.Items, item)
		}
		list = append(list, c)
	}
	return list, nil
}
