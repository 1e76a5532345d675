package schedule

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Break is a rule of the problem that an arrangement does not keep.
type Break struct {
	Task string `json:"task"`
	// Kind is “order”, “hours”, “hands”, “thing”, “from”, “due” or “person”.
	Kind string `json:"kind"`
	// Other is the task, the thing or the person that it is about.
	Other string `json:"other,omitempty"`
	// By is by how much: minutes, or pieces of a thing.
	By int `json:"by,omitempty"`
}

// Breaks tells what an arrangement of tasks breaks; nothing where it can be carried out in time. Tasks that the
// problem does not know are passed over.
func (p Problem) Breaks(placed []Placed) []Break {
	var all []Break
	for i := range placed {
		all = append(all, p.breaks(placed, i)...)
	}
	return all
}

// breaks tells what one of them breaks, against all others.
func (p Problem) breaks(placed []Placed, i int) []Break {
	at := placed[i]
	t := p.task(at.Task)
	if t == nil {
		return nil
	}
	var all []Break
	add := func(kind, other string, by int) { all = append(all, Break{at.Task, kind, other, by}) }
	if at.Start < t.From {
		add("from", "", t.From-at.Start)
	}
	if at.End > t.Due {
		add("due", "", at.End-t.Due)
	}
	for _, o := range placed {
		if slices.Contains(t.After, o.Task) && o.End > at.Start {
			add("order", o.Task, o.End-at.Start)
		}
	}
	p.breaksOfHands(*t, at, placed, add)
	for _, u := range t.Uses {
		if over := p.over(u, t, at, placed); over > 0 {
			add("thing", u.Thing, over)
		}
	}
	return all
}

func (p Problem) breaksOfHands(t Task, at Placed, placed []Placed, add func(kind, other string, by int)) {
	if t.Hands == 0 {
		return
	}
	k := slices.IndexFunc(p.People, func(o Person) bool { return o.Name == at.Person })
	if k < 0 || len(t.By) > 0 && !slices.Contains(t.By, at.Person) {
		add("person", at.Person, 0)
		return
	}
	if !slices.ContainsFunc(p.People[k].Hours, func(h Span) bool { return h.From <= at.Start && at.Free <= h.To }) {
		add("hours", at.Person, 0)
	}
	for _, o := range placed {
		// Of two that overlap, the one that starts later is at fault.
		if o.Task != at.Task && o.Person == at.Person && o.Free > at.Start && at.Free > o.Start &&
			(o.Start < at.Start || o.Start == at.Start && o.Task < at.Task) {
			add("hands", o.Task, o.Free-at.Start)
		}
	}
}

// over is how many pieces of a thing are held too many when a task begins, or when others take some of it while it goes
// on. Of two tasks that hold too much together, the one that starts later is at fault.
func (p Problem) over(u Use, t *Task, at Placed, placed []Placed) int {
	most := 0
	times := []int{at.Start}
	for _, thing := range p.Things {
		for _, h := range thing.Held {
			if thing.Name == u.Thing && at.Start < h.From && h.From < at.Start+u.holds(*t) {
				times = append(times, h.From)
			}
		}
	}
	holding := p.holding(u.Thing, placed, -1)
	for _, time := range times {
		sum := 0
		for _, o := range holding {
			if o.From <= time && time < o.To {
				sum += o.Number
			}
		}
		most = max(most, sum)
	}
	return most - p.number(u.Thing)
}

func at(list string, i int, field string) string { return fmt.Sprintf("%s/%d/%s", list, i, field) }

// chain writes tasks in their order.
func chain(ids []string) string {
	quoted := make([]string, len(ids))
	for i, id := range ids {
		quoted[i] = strconv.Quote(id)
	}
	return strings.Join(quoted, " → ")
}
