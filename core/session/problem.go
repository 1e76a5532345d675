package session

import (
	"fmt"
	"slices"
	"time"

	"vialbench/core/schedule"
)

// problem is what the solver is asked. People come so many minutes earlier, and so many more of them.
func (q Question) problem(tasks []Task, ready time.Time, longer, more int) schedule.Problem {
	q.Busy = slices.DeleteFunc(slices.Clone(q.Busy), func(b Busy) bool { // what lies outside the time that is planned
		return !b.Ends.After(q.Now) || !b.Starts.Before(q.Session.Starts.Add(24*time.Hour))
	})
	p := schedule.Problem{}
	thing := func(name string, n int) {
		p.Things = append(p.Things, schedule.Thing{Name: name, Number: max(1, n)})
	}
	thing(oven, int(q.Thresholds.Of(RuleOvens)))
	thing(hood, int(q.Thresholds.Of(RuleHoods)))
	for _, f := range q.Store.flasksUsed(tasks) {
		thing(f.Thing, f.Number)
	}
	thing(balance, q.Store.Balances)
	thing(meter, q.Store.Meters)
	q.holdBack(p.Things)
	for _, person := range q.Session.People {
		p.People = append(p.People, schedule.Person{Name: person.Name, Hours: q.without(q.hours(person, longer), person.Name)})
	}
	for k := range more {
		first := q.Session.People[0]
		p.People = append(p.People, schedule.Person{Name: fmt.Sprint("somebody else ", k+1), Hours: q.hours(first, longer)})
	}
	for _, t := range tasks {
		task := schedule.Task{ID: t.ID, Hands: t.Hands, Wait: t.Wait, Uses: t.Uses, Due: q.minute(ready)}
		for _, id := range t.After {
			if slices.ContainsFunc(tasks, func(o Task) bool { return o.ID == id }) { // what is over holds nothing up
				task.After = append(task.After, id)
			}
		}
		if t.From != nil {
			task.From = max(0, q.minute(*t.From))
		}
		p.Tasks = append(p.Tasks, task)
	}
	return p
}

// outlook is how many days ahead hours are laid out.
const outlook = 60

// holdBack takes from the things what other sessions hold of them.
func (q Question) holdBack(things []schedule.Thing) {
	for _, b := range q.Busy {
		for _, u := range b.Uses {
			until := b.Free
			if u.Waiting {
				until = b.Ends
			}
			i := slices.IndexFunc(things, func(t schedule.Thing) bool { return t.Name == u.Thing })
			span := schedule.Span{From: max(0, q.minute(b.Starts)), To: q.minute(until)}
			if i >= 0 && span.To > span.From {
				things[i].Held = append(things[i].Held, schedule.Hold{Span: span, Number: u.Number})
			}
		}
	}
}

// without leaves out of hours what other sessions planned for a person.
func (q Question) without(hours []schedule.Span, name string) []schedule.Span {
	for _, b := range q.Busy {
		if b.Person != name {
			continue
		}
		from, to := q.minute(b.Starts), q.minute(b.Free)
		var left []schedule.Span
		for _, h := range hours {
			for _, part := range []schedule.Span{{From: h.From, To: min(h.To, from)}, {From: max(h.From, to), To: h.To}} {
				if part.To > part.From {
					left = append(left, part)
				}
			}
		}
		hours = left
	}
	return hours
}

// hours are those of a person on each working day from now on, and on the day of the session, to the day after it.
func (q Question) hours(person Person, longer int) []schedule.Span {
	zone, err := q.Session.zone()
	if err != nil {
		return nil
	}
	from, _ := clock(person.From)
	to, _ := clock(person.To)
	var list []schedule.Span
	day, end := q.Now.In(zone), q.Session.Starts.In(zone)
	if first := end.AddDate(0, 0, -outlook); day.Before(first) {
		day = first
	}
	for range outlook + 2 {
		y, m, n := day.Date()
		isDay := y == end.Year() && day.YearDay() == end.YearDay()
		if wd := day.Weekday(); wd != time.Saturday && wd != time.Sunday || isDay {
			// Made by the clock on the wall: on a night of change a day is longer or shorter.
			starts := time.Date(y, m, n, 0, from-longer, 0, 0, zone)
			ends := time.Date(y, m, n, 0, to, 0, 0, zone)
			span := schedule.Span{From: max(0, q.minute(starts)), To: q.minute(ends)}
			if span.To > span.From {
				list = append(list, span)
			}
		}
		if day.After(end.AddDate(0, 0, 1)) {
			break
		}
		day = day.AddDate(0, 0, 1)
	}
	return list
}
