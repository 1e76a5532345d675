package schedule

import (
	"slices"

	"vialbench/core/verdict"
)

// Task is a piece of work. Times are in minutes.
type Task struct {
	ID string `json:"id"`
	// Hands is how long it takes somebody, without a break; Wait is how long it goes on by itself then.
	Hands int `json:"hands"`
	Wait  int `json:"wait"`
	// After are the IDs of the tasks that are over before it starts.
	After []string `json:"after,omitempty"`
	Uses  []Use    `json:"uses,omitempty"`
	// By are the names of those who may do it; everybody may when it is empty.
	By []string `json:"by,omitempty"`
	// From is its earliest start; by Due it is over.
	From int `json:"from"`
	Due  int `json:"due"`
}

// Lasts is how long a task takes with its waiting, in minutes.
func (t Task) Lasts() int { return t.Hands + t.Wait }

// Use is what a task holds of a thing.
type Use struct {
	Thing  string `json:"thing"`
	Number int    `json:"number"`
	// Waiting reports whether it is held while the task waits, too, like an oven.
	Waiting bool `json:"waiting,omitempty"`
}

// holds is for how long a task holds it, in minutes.
func (u Use) holds(t Task) int {
	if u.Waiting || t.Hands == 0 {
		return t.Lasts()
	}
	return t.Hands
}

// Span is a stretch of time, To not included.
type Span struct {
	From int `json:"from"`
	To   int `json:"to"`
}

// Person has one pair of hands, in these hours.
type Person struct {
	Name  string `json:"name"`
	Hours []Span `json:"hours"`
}

// Thing is what several tasks share: there are so many of it.
type Thing struct {
	Name   string `json:"name"`
	Number int    `json:"number"`
	// Held is when how many of it are in use by others.
	Held []Hold `json:"held,omitempty"`
}

// Hold is so much of a thing, for a time.
type Hold struct {
	Span
	Number int `json:"number"`
}

// Problem is what is to be scheduled.
type Problem struct {
	Tasks  []Task   `json:"tasks"`
	People []Person `json:"people"`
	Things []Thing  `json:"things"`
}

// Placed is a task with its time. Person is empty where no hands are needed.
type Placed struct {
	Task   string `json:"task"`
	Person string `json:"person,omitempty"`
	Start  int    `json:"start"`
	// Free is when the hands are free again, End when it is over.
	Free int `json:"free"`
	End  int `json:"end"`
}

// Bounds of what is taken.
const (
	mostTasks  = 64
	mostPeople = 12
	mostThings = 64
	mostSpans  = 1000
	mostHolds  = 1000
	// most is how long a task may take, and how far a time may lie from the origin, in minutes: a year.
	most = 366 * 24 * 60
)

// Check reports what cannot be scheduled at all. Errors are verdict.Problems with JSON pointers into the
// problem.
func (p Problem) Check() error {
	var wrong verdict.Problems
	switch {
	case len(p.Tasks) == 0:
		wrong.Add("/tasks", "there is nothing to schedule: add a task")
	case len(p.Tasks) > mostTasks:
		wrong.Add("/tasks", "%d tasks are too many for one schedule: at most %d", len(p.Tasks), mostTasks)
	case len(p.People) > mostPeople:
		wrong.Add("/people", "%d people are too many for one schedule: at most %d", len(p.People), mostPeople)
	case len(p.Things) > mostThings:
		wrong.Add("/things", "%d shared things are too many for one schedule: at most %d", len(p.Things), mostThings)
	}
	if wrong != nil {
		return wrong
	}
	p.checkPeople(&wrong)
	things := map[string]int{}
	for i, t := range p.Things {
		if t.Number < 1 || t.Number > 1000 {
			wrong.Add(at("/things", i, "number"), "of “%s” there are %d: from 1 to 1000 can be shared", t.Name, t.Number)
		}
		things[t.Name] = t.Number
		if len(t.Held) > mostHolds || slices.ContainsFunc(t.Held, func(h Hold) bool {
			return h.From < -most || h.To > most || h.To <= h.From || h.Number < 1
		}) {
			wrong.Add(at("/things", i, "held"), "others hold one or more of it, from a time to a later one, at most %d times", mostHolds)
		}
	}
	for i, t := range p.Tasks {
		p.checkTask(i, t, things, &wrong)
	}
	if wrong == nil {
		if round := p.round(); len(round) > 0 {
			wrong.Add("/tasks", "these tasks go round in a circle: %s; one of them must not wait for the next", chain(round))
		}
	}
	return wrong.OrNil()
}

func (p Problem) checkPeople(wrong *verdict.Problems) {
	for i, person := range p.People {
		if person.Name == "" || slices.ContainsFunc(p.People[:i], func(o Person) bool { return o.Name == person.Name }) {
			wrong.Add(at("/people", i, "name"), "each person needs a name of their own")
		}
		if len(person.Hours) > mostSpans {
			wrong.Add(at("/people", i, "hours"), "%d stretches of hours are too many: at most %d", len(person.Hours), mostSpans)
		}
		for k, h := range person.Hours {
			if h.From < -most || h.To > most || h.To <= h.From || k > 0 && h.From < person.Hours[k-1].To {
				wrong.Add(at("/people", i, "hours"), "hours come one after another, each with an end after its beginning")
				break
			}
		}
	}
}

func (p Problem) checkTask(i int, t Task, things map[string]int, wrong *verdict.Problems) {
	if t.ID == "" || slices.ContainsFunc(p.Tasks[:i], func(o Task) bool { return o.ID == t.ID }) {
		wrong.Add(at("/tasks", i, "id"), "each task needs an ID of its own")
	}
	if t.Hands < 0 || t.Wait < 0 || t.Lasts() < 1 || t.Lasts() > most {
		wrong.Add(at("/tasks", i, "hands"), "a task takes a minute or more, at the bench or waiting, and at most a year")
	}
	if t.From < -most || t.From > most || t.Due < -most || t.Due > most {
		wrong.Add(at("/tasks", i, "from"), "this lies more than a year away")
	}
	for _, id := range t.After {
		if !slices.ContainsFunc(p.Tasks, func(o Task) bool { return o.ID == id }) {
			wrong.Add(at("/tasks", i, "after"), "there is no task “%s” that could come before it", id)
		}
	}
	for _, u := range t.Uses {
		if n, ok := things[u.Thing]; !ok {
			wrong.Add(at("/tasks", i, "uses"), "there is no “%s” among the things that are shared", u.Thing)
		} else if u.Number < 1 || u.Number > n {
			wrong.Add(at("/tasks", i, "uses"), "it needs %d of “%s” at once; there are %d", u.Number, u.Thing, n)
		}
	}
	if t.Hands == 0 {
		return
	}
	able := p.able(t)
	if len(able) == 0 {
		wrong.Add(at("/tasks", i, "by"), "nobody is there who may do this: add a person, or leave it to anybody")
		return
	}
	if !slices.ContainsFunc(able, func(k int) bool {
		return slices.ContainsFunc(p.People[k].Hours, func(h Span) bool { return h.To-h.From >= t.Hands })
	}) {
		wrong.Add(at("/tasks", i, "hands"), "%d minutes at the bench are longer than anybody is there at a stretch: split it, or make the hours longer", t.Hands)
	}
}

// task is the task of an ID; nil where there is none.
func (p Problem) task(id string) *Task {
	for i := range p.Tasks {
		if p.Tasks[i].ID == id {
			return &p.Tasks[i]
		}
	}
	return nil
}

// number is how many there are of a thing.
func (p Problem) number(thing string) int {
	for _, t := range p.Things {
		if t.Name == thing {
			return t.Number
		}
	}
	return 0
}

// able are the places of those who may do a task.
func (p Problem) able(t Task) []int {
	var able []int
	for k, person := range p.People {
		if len(t.By) == 0 || slices.Contains(t.By, person.Name) {
			able = append(able, k)
		}
	}
	return able
}

// round returns tasks that wait for each other; none where there are none.
func (p Problem) round() []string {
	const under, done = 1, 2
	mark := map[string]int{}
	byID := map[string]Task{}
	for _, t := range p.Tasks {
		byID[t.ID] = t
	}
	var path []string
	var visit func(id string) []string
	visit = func(id string) []string {
		path = append(path, id)
		mark[id] = under
		for _, before := range byID[id].After {
			if mark[before] == under {
				return append(slices.Clone(path[slices.Index(path, before):]), before)
			}
			if mark[before] == 0 {
				if found := visit(before); found != nil {
					return found
				}
			}
		}
		path = path[:len(path)-1]
		mark[id] = done
		return nil
	}
	for _, t := range p.Tasks {
		if mark[t.ID] == 0 {
			if found := visit(t.ID); found != nil {
				slices.Reverse(found)
				return found
			}
		}
	}
	return nil
}
