package schedule

import (
	"context"
	"slices"
)

// grid is how finely the latest start is sought, in minutes.
const grid = 5

// Latest places every task so that the work begins as late as it can with all ready in time: nothing starts
// before a time X, the latest on a grid of five minutes. Where that cannot be, it is [Earliest]. Its
// Proven reports whether five minutes later would not do. now is when work can begin at all.
func Latest(ctx context.Context, p Problem, now int) (Schedule, error) {
	if err := p.Check(); err != nil {
		return Schedule{}, err
	}
	left := effort // for all that is tried
	soon, err := earliest(ctx, p.NotBefore(now), &left)
	if err != nil || soon.Late > 0 {
		return soon, err
	}
	first := soon.Placed[0].Start
	last := first
	for _, t := range p.Tasks {
		last = max(last, t.Due-t.Lasts())
	}
	best, proven := soon, true
	low, high := 0, (last-first)/grid+1 // low can be done, high cannot
	for high-low > 1 && ctx.Err() == nil {
		middle := (low + high) / 2
		s := newSolver(ctx, p.NotBefore(first+middle*grid), &left)
		s.best = 1 // anything in time
		s.sample()
		if s.found == nil && s.bound < 1 {
			s.search(0)
		}
		if s.found != nil {
			low, best = middle, s.schedule()
			continue
		}
		high = middle
		proven = left > 0 || s.bound >= 1
	}
	best.Proven = proven && ctx.Err() == nil
	best.Bound = min(best.Late, best.Bound)
	return best, nil
}

// NotBefore is the problem with nothing started before a time.
func (p Problem) NotBefore(from int) Problem {
	p.Tasks = slices.Clone(p.Tasks)
	for i := range p.Tasks {
		p.Tasks[i].From = max(p.Tasks[i].From, from)
	}
	return p
}

// Room is how far one task can be moved while all others stay, in minutes.
type Room struct {
	Earlier int `json:"earlier"`
	Later   int `json:"later"`
}

// farthest is how far a room reaches, in minutes.
const farthest = 24 * 60

// Rooms tells how far each placed task can be moved by itself, all others left where they are: within the
// hours of its person, after what comes before it, before what comes after; in the order of placed, in
// steps of five minutes, at most a day.
func (p Problem) Rooms(placed []Placed) []Room {
	rooms := make([]Room, len(placed))
	for i, at := range placed {
		t := p.task(at.Task)
		if t == nil {
			continue
		}
		room := Room{at.Start - t.From, t.Due - at.End}
		for _, o := range placed {
			other := p.task(o.Task)
			switch {
			case other == nil || o.Task == at.Task:
				continue
			case slices.Contains(t.After, o.Task):
				room.Earlier = min(room.Earlier, at.Start-o.End)
			case slices.Contains(other.After, at.Task):
				room.Later = min(room.Later, o.Start-at.End)
			}
			if at.Person != "" && o.Person == at.Person {
				if o.Start < at.Start {
					room.Earlier = min(room.Earlier, at.Start-o.Free)
				} else {
					room.Later = min(room.Later, o.Start-at.Free)
				}
			}
		}
		for _, person := range p.People {
			for _, h := range person.Hours {
				if person.Name == at.Person && h.From <= at.Start && at.Free <= h.To {
					room.Earlier, room.Later = min(room.Earlier, at.Start-h.From), min(room.Later, h.To-at.Free)
				}
			}
		}
		rooms[i] = Room{p.reach(*t, placed, i, -1, room.Earlier), p.reach(*t, placed, i, 1, room.Later)}
	}
	return rooms
}

// reach is how far a task can be moved in a direction before too much of a thing is held.
func (p Problem) reach(t Task, placed []Placed, i, direction, most int) int {
	for by := 0; by < min(most, farthest); by += grid {
		if step := min(by+grid, most); p.crowds(t, placed, i, placed[i].Start+direction*step) {
			return by
		}
	}
	return max(0, min(most, farthest))
}

// crowds reports whether a task that starts at another time holds too much of a thing at some time.
func (p Problem) crowds(t Task, placed []Placed, i, start int) bool {
	for _, u := range t.Uses {
		until := start + u.holds(t)
		others := p.holding(u.Thing, placed, i)
		for _, o := range append(others, Hold{Span{start, until}, 0}) { // most is held when something begins
			if o.From < start || o.From >= until {
				continue
			}
			sum := u.Number
			for _, other := range others {
				if other.From <= o.From && o.From < other.To {
					sum += other.Number
				}
			}
			if sum > p.number(u.Thing) {
				return true
			}
		}
	}
	return false
}

// holding is what others and placed tasks hold of a thing, but for the task at a place.
func (p Problem) holding(thing string, placed []Placed, but int) []Hold {
	var list []Hold
	for _, t := range p.Things {
		if t.Name == thing {
			list = append(list, t.Held...)
		}
	}
	for k, o := range placed {
		t := p.task(o.Task)
		if k == but || t == nil {
			continue
		}
		for _, u := range t.Uses {
			if u.Thing == thing {
				list = append(list, Hold{Span{o.Start, o.Start + u.holds(*t)}, u.Number})
			}
		}
	}
	return list
}
