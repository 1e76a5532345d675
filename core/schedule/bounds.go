package schedule

// state is a partial schedule, as far as what comes after it can tell.
type state struct {
	now  int
	late int
	busy []int
	// ends are those of the tasks that were not over when the last one began, in the order of the tasks.
	ends []int
}

// mostStates bounds what is remembered.
const mostStates = 200_000

// dominated reports whether a partial schedule of the same tasks was searched that leaves as much room;
// otherwise it remembers this one.
func (s *solver) dominated(now int) bool {
	for _, o := range s.seen[s.placed] {
		if o.now <= now && o.late <= s.late && s.roomier(o, now) {
			return true
		}
	}
	if s.kept < mostStates {
		ends := make([]int, len(s.tasks))
		for i := range s.tasks {
			if s.placed&(1<<i) != 0 {
				ends[i] = s.end[i]
			}
		}
		s.seen[s.placed] = append(s.seen[s.placed], state{now, s.late, append([]int(nil), s.busy...), ends})
		s.kept++
	}
	return false
}

// roomier reports whether all hands are free as early in o, and all tasks over as early, from now on.
// What a task uses is held for a time that its end tells.
func (s *solver) roomier(o state, now int) bool {
	for k, until := range s.busy {
		if o.busy[k] > max(until, now) {
			return false
		}
	}
	for i, end := range s.end {
		if s.placed&(1<<i) != 0 && o.ends[i] > max(end, now) {
			return false
		}
	}
	return true
}

// lower is the lateness that no schedule gets below which begins with what is placed: by the chains of
// tasks, and by the minutes of hands. Nothing more starts before now.
func (s *solver) lower(now int) int {
	bound := s.late
	for _, i := range s.order {
		t := &s.tasks[i]
		if s.placed&(1<<i) != 0 {
			continue
		}
		head := max(now, t.from)
		for _, b := range t.before {
			if s.placed&(1<<b) != 0 {
				head = max(head, s.end[b])
			} else {
				head = max(head, s.head[b]+s.tasks[b].lasts)
			}
		}
		if t.hands > 0 {
			first := never
			for _, k := range t.able {
				first = min(first, within(s.people[k].Hours, max(head, s.busy[k]), t.hands))
			}
			head = first
		}
		s.head[i] = head
		bound = max(bound, head+t.tail)
	}
	return max(bound, s.work(now))
}

// work is the bound by the minutes of all hands: what is left to do, from its earliest head on, done by
// whoever is there without a pause; then the shortest tail after it.
func (s *solver) work(now int) int {
	minutes, first, tail := 0, never, never
	for i := range s.tasks {
		t := &s.tasks[i]
		if s.placed&(1<<i) != 0 || t.hands == 0 {
			continue
		}
		minutes += t.hands
		first = min(first, s.head[i])
		tail = min(tail, t.tail-t.hands)
	}
	if minutes == 0 || first >= never {
		return none
	}
	return s.done(minutes, max(first, now)) + tail
}

// done is the first time by which all people together can have worked so many minutes from a time on.
func (s *solver) done(minutes, from int) int {
	at := from
	for {
		// The rate, and how long it stays.
		rate, change := 0, never
		for k := range s.people {
			free := max(at, s.busy[k])
			if free > at {
				change = min(change, free)
				continue
			}
			for _, h := range s.people[k].Hours {
				if h.From > at {
					change = min(change, h.From)
					break
				}
				if at < h.To {
					rate++
					change = min(change, h.To)
					break
				}
			}
		}
		if rate > 0 && (minutes+rate-1)/rate <= change-at {
			return at + (minutes+rate-1)/rate
		}
		if change >= never {
			return never
		}
		minutes -= rate * (change - at)
		at = change
	}
}

// energetic is the bound by each thing that is shared, and by the hands, over all stretches between a head
// and a tail: what falls into one needs so many minutes of so many pieces. It is for the root alone.
func (s *solver) energetic() int {
	bound := none
	for thing, number := range s.things {
		for i := range s.tasks {
			for j := range s.tasks {
				from, tail := s.head[i], s.tasks[j].tail-s.heldOf(j, thing)
				sum := 0
				for k := range s.tasks {
					t := &s.tasks[k]
					for _, u := range t.uses {
						if u.thing == thing && s.head[k] >= from && t.tail-u.lasts >= tail {
							sum += u.number * u.lasts
						}
					}
				}
				if sum > 0 {
					bound = max(bound, from+(sum+number-1)/number+tail)
				}
			}
		}
	}
	for i := range s.tasks {
		for j := range s.tasks {
			from, tail := s.head[i], s.tasks[j].tail-s.tasks[j].hands
			sum := 0
			for k := range s.tasks {
				if t := &s.tasks[k]; s.head[k] >= from && t.tail-t.hands >= tail {
					sum += t.hands
				}
			}
			if sum > 0 {
				bound = max(bound, s.done(sum, from)+tail)
			}
		}
	}
	return bound
}

// heldOf is how long a task holds a thing.
func (s *solver) heldOf(i, thing int) int {
	for _, u := range s.tasks[i].uses {
		if u.thing == thing {
			return u.lasts
		}
	}
	return 0
}
