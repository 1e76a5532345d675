package schedule

import (
	"cmp"
	"context"
	"math/rand/v2"
	"slices"

	"vialbench/core/verdict"
)

// Schedule is who does what when.
type Schedule struct {
	Placed []Placed `json:"placed"` // in the order of their starts
	// Late is by how many minutes the task that is most over its time is late; 0 or less where all is ready
	// in time, and then there is so much to spare.
	Late int `json:"late"`
	// Bound is the lateness that no schedule gets below; Proven reports whether this one is as good as any.
	Bound  int  `json:"bound"`
	Proven bool `json:"proven"`
}

// effort bounds the search for one schedule, in placements tried: less than a second.
const effort = 400_000

// Earliest places every task so that the greatest lateness is as small as it can be, each as early as it
// can then be. Errors are those of [Problem.Check], or that nobody's hours have room for all of it.
func Earliest(ctx context.Context, p Problem) (Schedule, error) {
	if err := p.Check(); err != nil {
		return Schedule{}, err
	}
	left := effort
	return earliest(ctx, p, &left)
}

// Quick is [Earliest] with a tenth of the effort, to try what would help.
func Quick(ctx context.Context, p Problem) (Schedule, error) {
	if err := p.Check(); err != nil {
		return Schedule{}, err
	}
	left := effort / 10
	return earliest(ctx, p, &left)
}

// earliest searches with what is left of an effort.
func earliest(ctx context.Context, p Problem, left *int) (Schedule, error) {
	s := newSolver(ctx, p, left)
	s.sample()
	s.search(s.bound)
	switch {
	case s.found != nil:
		return s.schedule(), nil
	case ctx.Err() != nil:
		return Schedule{}, ctx.Err()
	}
	return Schedule{}, noRoom()
}

func noRoom() error {
	var wrong verdict.Problems
	wrong.Add("/people", "nobody's hours have room for all of this: add hours, a day or a person")
	return wrong
}

// task is a task as the solver sees it: by places instead of names.
type task struct {
	hands, lasts int
	from, due    int
	before       []int // tasks that come before it
	follow       []int
	needs        uint64 // the same as a set
	uses         []use
	able         []int // people
	tail         int   // minutes from its start to the end of the longest chain that it begins, against the due times: see prepare
}

type use struct {
	thing, number int
	lasts         int // how long it is held
}

// hold is something held until a time.
type hold struct{ until, number int }

type solver struct {
	ctx    context.Context
	tasks  []task
	order  []int // so that nothing comes before what it waits for
	people []Person
	twin   []int    // for each person an earlier one with the same hours; -1 of none
	things []int    // how many there are
	others [][]Hold // what others hold of each
	names  Problem

	// The partial schedule.
	placed   uint64
	start    []int
	end      []int
	by       []int
	busy     []int    // people, until when
	held     [][]hold // of each thing, in the order of placement
	late     int
	sequence []int

	best   int // the lateness to be beaten
	found  []Placed
	bound  int  // at the root
	effort *int // what is left of it
	seen   map[uint64][]state
	kept   int
	head   []int // scratch of the bound
}

// none is a lateness below all.
const none = -1 << 40

func newSolver(ctx context.Context, p Problem, left *int) *solver {
	s := &solver{ctx: ctx, names: p, people: p.People, best: 1 << 40, late: none, effort: left, seen: map[uint64][]state{}}
	place := map[string]int{}
	for i, t := range p.Tasks {
		place[t.ID] = i
	}
	thing := map[string]int{}
	for i, t := range p.Things {
		thing[t.Name] = i
		s.things, s.others = append(s.things, t.Number), append(s.others, t.Held)
	}
	for _, t := range p.Tasks {
		own := task{hands: t.Hands, lasts: t.Lasts(), from: t.From, due: t.Due}
		for _, id := range t.After {
			own.before = append(own.before, place[id])
			own.needs |= 1 << place[id]
		}
		for _, u := range t.Uses {
			own.uses = append(own.uses, use{thing[u.Thing], u.Number, u.holds(t)})
		}
		if t.Hands > 0 {
			own.able = p.able(t)
		}
		s.tasks = append(s.tasks, own)
	}
	for i, t := range s.tasks {
		for _, b := range t.before {
			s.tasks[b].follow = append(s.tasks[b].follow, i)
		}
	}
	s.prepare()
	n := len(s.tasks)
	s.start, s.end, s.by, s.head = make([]int, n), make([]int, n), make([]int, n), make([]int, n)
	s.busy = make([]int, len(s.people))
	for k := range s.busy {
		s.busy[k] = none
	}
	s.held = make([][]hold, len(s.things))
	s.bound = max(s.lower(none), s.energetic())
	return s
}

// prepare orders the tasks, finds their tails, and people with the same hours.
func (s *solver) prepare() {
	var done uint64
	for len(s.order) < len(s.tasks) {
		for i, t := range s.tasks {
			if done&(1<<i) == 0 && t.needs&^done == 0 {
				s.order = append(s.order, i)
				done |= 1 << i
			}
		}
	}
	// A task that starts at t makes something late by t + tail at least.
	for _, i := range slices.Backward(s.order) {
		t := &s.tasks[i]
		t.tail = t.lasts - t.due
		for _, f := range t.follow {
			t.tail = max(t.tail, t.lasts+s.tasks[f].tail)
		}
	}
	s.twin = make([]int, len(s.people))
	for k := range s.people {
		s.twin[k] = -1
		for j := range k {
			if slices.Equal(s.people[j].Hours, s.people[k].Hours) && s.sameTasks(j, k) {
				s.twin[k] = j
			}
		}
	}
}

// sameTasks reports whether two people may do the same tasks.
func (s *solver) sameTasks(j, k int) bool {
	for _, t := range s.tasks {
		if slices.Contains(t.able, j) != slices.Contains(t.able, k) {
			return false
		}
	}
	return true
}

// candidate is a task that may come next, with its person (-1 of none) and the earliest start.
type candidate struct{ task, person, start int }

// next lists what may come next when nothing may start before now.
func (s *solver) next(now int) []candidate {
	var list []candidate
	over := 1 << 60 // when the first of them could be over
	for i := range s.tasks {
		t := &s.tasks[i]
		if s.placed&(1<<i) != 0 || t.needs&^s.placed != 0 {
			continue
		}
		ready := max(now, t.from)
		for _, b := range t.before {
			ready = max(ready, s.end[b])
		}
		if t.hands == 0 {
			start := s.free(t, ready, -1)
			list = append(list, candidate{i, -1, start})
			over = min(over, start+t.lasts)
			continue
		}
		for _, k := range t.able {
			if twin := s.twin[k]; twin >= 0 && max(s.busy[twin], ready) == max(s.busy[k], ready) {
				continue
			}
			if start := s.free(t, ready, k); start < never {
				list = append(list, candidate{i, k, start})
				over = min(over, start+t.lasts)
			}
		}
	}
	return slices.DeleteFunc(list, func(c candidate) bool { return c.start >= over })
}

// never is after all times.
const never = 1 << 50

// free is the first time from ready at which somebody's hands and all that a task uses are free.
// Nothing placed starts later than ready, so what is free stays so.
func (s *solver) free(t *task, ready, person int) int {
	at := ready
	for {
		from := at
		if person >= 0 {
			at = within(s.people[person].Hours, max(at, s.busy[person]), t.hands)
			if at >= never {
				return never
			}
		}
		for _, u := range t.uses {
			at = s.enough(u, at)
		}
		if at == from {
			return at
		}
	}
}

// within is the first time from at with so many minutes in one stretch of hours.
func within(hours []Span, at, minutes int) int {
	for _, h := range hours {
		if start := max(at, h.From); start+minutes <= h.To {
			return start
		}
	}
	return never
}

// enough is the first time from at when enough of a thing is free for as long as it is needed.
func (s *solver) enough(u use, at int) int {
	for {
		free := s.tight(u, at, at)
		for _, h := range s.others[u.thing] {
			if free == at && at < h.From && h.From < at+u.lasts {
				free = s.tight(u, at, h.From)
			}
		}
		if free == at {
			return at
		}
		at = free
	}
}

// tight is at where a use that starts then finds enough at a time while it lasts, and otherwise when the first of those
// lets go that hold too much by then.
func (s *solver) tight(u use, at, time int) int {
	held, first := 0, never
	for _, h := range s.held[u.thing] {
		if h.until > time {
			held += h.number
			first = min(first, h.until)
		}
	}
	for _, h := range s.others[u.thing] {
		if h.From <= time && time < h.To {
			held += h.Number
			first = min(first, h.To)
		}
	}
	if held+u.number <= s.things[u.thing] {
		return at
	}
	return first
}

func (s *solver) place(c candidate) (undo func()) {
	t := &s.tasks[c.task]
	late, busy := s.late, 0
	s.placed |= 1 << c.task
	s.start[c.task], s.end[c.task], s.by[c.task] = c.start, c.start+t.lasts, c.person
	if c.person >= 0 {
		busy = s.busy[c.person]
		s.busy[c.person] = c.start + t.hands
	}
	for _, u := range t.uses {
		s.held[u.thing] = append(s.held[u.thing], hold{c.start + u.lasts, u.number})
	}
	s.late = max(s.late, s.end[c.task]-t.due)
	s.sequence = append(s.sequence, c.task)
	return func() {
		s.placed &^= 1 << c.task
		if c.person >= 0 {
			s.busy[c.person] = busy
		}
		for _, u := range t.uses {
			s.held[u.thing] = s.held[u.thing][:len(s.held[u.thing])-1]
		}
		s.late = late
		s.sequence = s.sequence[:len(s.sequence)-1]
	}
}

// search goes on from the partial schedule until one with a lateness of at most target is found.
func (s *solver) search(target int) {
	now := none
	if n := len(s.sequence); n > 0 {
		now = s.start[s.sequence[n-1]]
	}
	if len(s.sequence) == len(s.tasks) {
		s.keep()
		return
	}
	list := s.next(now)
	s.urgent(list)
	for _, c := range list {
		if s.best <= target || s.spent() {
			return
		}
		if c.start+s.tasks[c.task].tail >= s.best {
			continue
		}
		undo := s.place(c)
		if s.late < s.best && s.lower(c.start) < s.best && !s.dominated(c.start) {
			s.search(target)
		}
		undo()
	}
}

// urgent sorts what makes most late first, and of that what starts first.
func (s *solver) urgent(list []candidate) {
	slices.SortStableFunc(list, func(a, b candidate) int {
		return cmp.Or(cmp.Compare(s.tasks[b.task].tail+b.start, s.tasks[a.task].tail+a.start), cmp.Compare(a.start, b.start))
	})
}

// spent counts a placement, and reports whether there were too many.
func (s *solver) spent() bool {
	*s.effort--
	if *s.effort&1023 == 0 && s.ctx.Err() != nil {
		*s.effort = -1
	}
	return *s.effort <= 0
}

// keep notes a whole schedule that beats the best.
func (s *solver) keep() {
	if s.late >= s.best {
		return
	}
	s.best = s.late
	s.found = make([]Placed, 0, len(s.tasks))
	for _, i := range s.sequence {
		name := ""
		if s.by[i] >= 0 {
			name = s.people[s.by[i]].Name
		}
		s.found = append(s.found, Placed{s.names.Tasks[i].ID, name, s.start[i], s.start[i] + s.tasks[i].hands, s.end[i]})
	}
}

// dives is how many schedules are made by chance before the search: a good one to beat spares effort.
const dives = 60

// sample makes schedules by chance, each time with what is more urgent more likely.
func (s *solver) sample() {
	chance := rand.New(rand.NewPCG(1, 2)) // the same problem has the same schedule
	for dive := range dives {
		var undo []func()
		for now := none; ; {
			list := s.next(now)
			if len(list) == 0 {
				break
			}
			s.urgent(list)
			pick := 0
			for dive > 0 && pick < len(list)-1 && chance.IntN(3) == 0 {
				pick++
			}
			now = list[pick].start
			undo = append(undo, s.place(list[pick]))
			if s.late >= s.best {
				break
			}
		}
		if len(s.sequence) == len(s.tasks) {
			s.keep()
		}
		for _, u := range slices.Backward(undo) {
			u()
		}
		if s.best <= s.bound {
			return
		}
	}
}

// schedule is the best that was found, with what is proven of it.
func (s *solver) schedule() Schedule {
	proven := *s.effort > 0 || s.best <= s.bound
	bound := s.bound
	if proven {
		bound = s.best
	}
	return Schedule{Placed: s.found, Late: s.best, Bound: bound, Proven: proven}
}
