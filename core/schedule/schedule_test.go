package schedule_test

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vialbench/core/schedule"
	"vialbench/core/verdict"
)

func span(from, to int) []schedule.Span { return []schedule.Span{{From: from, To: to}} }

// An acid is standardised with a salt that is dried first; the meter is calibrated within the last hour. The
// class begins at minute 480.
func morning() schedule.Problem {
	return schedule.Problem{
		People: []schedule.Person{{Name: "R. Ashdown", Hours: span(0, 480)}},
		Things: []schedule.Thing{{Name: "oven", Number: 1}, {Name: "balance", Number: 1}},
		Tasks: []schedule.Task{
			{ID: "dry", Hands: 5, Wait: 120, Due: 480, Uses: []schedule.Use{{Thing: "oven", Number: 1, Waiting: true}}},
			{ID: "cool", Wait: 30, Due: 480, After: []string{"dry"}},
			{ID: "weigh", Hands: 20, Due: 480, After: []string{"cool"}, Uses: []schedule.Use{{Thing: "balance", Number: 1}}},
			{ID: "make acid", Hands: 30, Wait: 30, Due: 480},
			{ID: "standardise", Hands: 40, Due: 480, After: []string{"weigh", "make acid"}},
			{ID: "calibrate", Hands: 15, From: 420, Due: 480},
		},
	}
}

func ExampleEarliest() {
	s, _ := schedule.Earliest(context.Background(), morning())
	for _, at := range s.Placed {
		fmt.Printf("%d–%d hands to %d: %s\n", at.Start, at.End, at.Free, at.Task)
	}
	fmt.Println("late by", s.Late, s.Proven)
	// Output:
	// 0–125 hands to 5: dry
	// 5–65 hands to 35: make acid
	// 125–155 hands to 125: cool
	// 155–175 hands to 175: weigh
	// 175–215 hands to 215: standardise
	// 420–435 hands to 435: calibrate
	// late by -45 true
}

// Worked by hand: calibrating, not before 420, weighing and standardising need the same hands and cannot all come
// after 420: 20 + 40 + 15 minutes. So weighing begins at 480 − 75 = 405, and drying 5 + 120 + 30 minutes before it.
func TestLatestByHand(t *testing.T) {
	s, err := schedule.Latest(context.Background(), morning(), 0)
	if err != nil {
		t.Fatal(err)
	}
	if first := s.Placed[0]; first.Start != 250 || first.Task != "dry" || s.Late != 0 || !s.Proven {
		t.Errorf("begins at %+v, late by %d, proven %v; by hand drying begins at 250", first, s.Late, s.Proven)
	}
	if broken := morning().Breaks(s.Placed); len(broken) > 0 {
		t.Errorf("it breaks %+v", broken)
	}
	// Begun later than that, it is late, and by how much is told.
	evening := morning()
	evening.People[0].Hours = span(0, 600)
	late, err := schedule.Latest(context.Background(), evening, 300)
	if err != nil || late.Late != 35 || late.Bound != 35 || !late.Proven {
		t.Errorf("from minute 300 on: %+v, %v; by hand 35 minutes late", late, err)
	}
}

// random is a small problem made by chance.
func random(chance *rand.Rand, tasks, people, things int) schedule.Problem {
	var p schedule.Problem
	for k := range people {
		from := chance.IntN(30)
		hours := []schedule.Span{{From: from, To: from + 60}, {From: from + 100, To: 2000}}
		p.People = append(p.People, schedule.Person{Name: fmt.Sprint("person ", k%2, k), Hours: hours[chance.IntN(2):]})
	}
	for k := range things {
		thing := schedule.Thing{Name: fmt.Sprint("thing ", k), Number: 1 + chance.IntN(2)}
		for from := chance.IntN(60); chance.IntN(2) == 0; from += 20 + chance.IntN(60) {
			thing.Held = append(thing.Held, schedule.Hold{Span: schedule.Span{From: from, To: from + 1 + chance.IntN(40)}, Number: 1})
		}
		p.Things = append(p.Things, thing)
	}
	for i := range tasks {
		t := schedule.Task{ID: fmt.Sprint(i), Hands: chance.IntN(31), Wait: chance.IntN(3) * chance.IntN(40), From: chance.IntN(2) * chance.IntN(60), Due: 60 + chance.IntN(120)}
		if t.Lasts() == 0 {
			t.Wait = 1
		}
		for before := range i {
			if chance.IntN(4) == 0 {
				t.After = append(t.After, fmt.Sprint(before))
			}
		}
		for _, thing := range p.Things {
			if chance.IntN(2) == 0 {
				t.Uses = append(t.Uses, schedule.Use{Thing: thing.Name, Number: 1 + chance.IntN(thing.Number), Waiting: chance.IntN(2) == 0})
			}
		}
		if people > 1 && chance.IntN(3) == 0 {
			t.By = []string{p.People[chance.IntN(people)].Name}
		}
		p.Tasks = append(p.Tasks, t)
	}
	return p
}

// brute is the least lateness over all orders of the tasks and all people for each, every task placed at the first
// time at which nothing is broken. It shares no code with the solver but the check of an arrangement.
func brute(p schedule.Problem) int {
	best := 1 << 30
	var placed []schedule.Placed
	var try func(late int)
	try = func(late int) {
		if late >= best {
			return
		}
		if len(placed) == len(p.Tasks) {
			best = late
			return
		}
		for _, t := range p.Tasks {
			if slices.ContainsFunc(placed, func(at schedule.Placed) bool { return at.Task == t.ID }) ||
				slices.ContainsFunc(t.After, func(id string) bool {
					return !slices.ContainsFunc(placed, func(at schedule.Placed) bool { return at.Task == id })
				}) {
				continue
			}
			names := []string{""}
			if t.Hands > 0 {
				names = t.By
				if len(names) == 0 {
					names = nil
					for _, person := range p.People {
						names = append(names, person.Name)
					}
				}
			}
			for _, name := range names {
				if at, ok := first(p, placed, t, name); ok {
					placed = append(placed, at)
					try(max(late, at.End-t.Due))
					placed = placed[:len(placed)-1]
				}
			}
		}
	}
	try(-1 << 30)
	return best
}

// first is the earliest start of a task: when it may begin, somebody comes, or something else lets go.
func first(p schedule.Problem, placed []schedule.Placed, t schedule.Task, name string) (schedule.Placed, bool) {
	starts := []int{t.From}
	for _, person := range p.People {
		for _, h := range person.Hours {
			starts = append(starts, h.From)
		}
	}
	for _, thing := range p.Things {
		for _, h := range thing.Held {
			starts = append(starts, h.To)
		}
	}
	for _, at := range placed {
		starts = append(starts, at.Free, at.End)
	}
	slices.Sort(starts)
	for _, start := range slices.Compact(starts) {
		at := schedule.Placed{Task: t.ID, Person: name, Start: start, Free: start + t.Hands, End: start + t.Lasts()}
		if !slices.ContainsFunc(p.Breaks(append(slices.Clone(placed), at)), func(b schedule.Break) bool { return b.Kind != "due" }) {
			return at, true
		}
	}
	return schedule.Placed{}, false
}

func TestAgainstEveryOrder(t *testing.T) {
	chance := rand.New(rand.NewPCG(7, 7))
	for n := range 60 {
		p := random(chance, 2+n%5, 1+n%3, n%3)
		if p.Check() != nil {
			continue
		}
		want := brute(p)
		s, err := schedule.Earliest(context.Background(), p)
		if err != nil || s.Late != want || !s.Proven || s.Bound != want {
			t.Errorf("problem %d: %d tasks late by %d (bound %d, proven %v, %v), by trying all orders %d", n, len(p.Tasks), s.Late, s.Bound, s.Proven, err, want)
		}
	}
}

// Nothing is broken but due times, however the problem is made; and no bound is above what is found.
func TestNothingIsBroken(t *testing.T) {
	chance := rand.New(rand.NewPCG(9, 9))
	count := 10_000
	if testing.Short() {
		count = 500
	}
	for n := range count {
		p := random(chance, 2+n%11, 1+n%3, n%4)
		if p.Check() != nil {
			continue
		}
		s, err := schedule.Earliest(context.Background(), p)
		if err != nil {
			t.Fatalf("problem %d: %v", n, err)
		}
		late := -1 << 30
		for _, b := range p.Breaks(s.Placed) {
			if b.Kind != "due" {
				t.Fatalf("problem %d breaks %+v", n, b)
			}
			late = max(late, b.By)
		}
		if late > -1<<30 && late != s.Late || s.Bound > s.Late || len(s.Placed) != len(p.Tasks) {
			t.Fatalf("problem %d: late by %d, told %d, bound %d", n, late, s.Late, s.Bound)
		}
	}
}

// fisherThompson is the job shop of six jobs on six machines that everybody starts with (Fisher and Thompson 1963;
// from memory): each job is a row of machine and minutes. The best makespan is 55.
func fisherThompson() schedule.Problem {
	jobs := [][]int{
		{2, 1, 0, 3, 1, 6, 3, 7, 5, 3, 4, 6},
		{1, 8, 2, 5, 4, 10, 5, 10, 0, 10, 3, 4},
		{2, 5, 3, 4, 5, 8, 0, 9, 1, 1, 4, 7},
		{1, 5, 0, 5, 2, 5, 3, 3, 4, 8, 5, 9},
		{2, 9, 1, 3, 4, 5, 5, 4, 0, 3, 3, 1},
		{1, 3, 3, 3, 5, 9, 0, 10, 4, 4, 2, 1},
	}
	var p schedule.Problem
	for m := range 6 {
		p.Things = append(p.Things, schedule.Thing{Name: fmt.Sprint("machine ", m), Number: 1})
	}
	for j, row := range jobs {
		for k := 0; k < len(row); k += 2 {
			t := schedule.Task{ID: fmt.Sprint(j, " ", k/2), Wait: row[k+1], Uses: []schedule.Use{{Thing: fmt.Sprint("machine ", row[k]), Number: 1}}}
			if k > 0 {
				t.After = []string{fmt.Sprint(j, " ", k/2-1)}
			}
			p.Tasks = append(p.Tasks, t)
		}
	}
	return p
}

func TestFisherThompson(t *testing.T) {
	s, err := schedule.Earliest(context.Background(), fisherThompson())
	if err != nil || s.Late != 55 || s.Bound > 55 {
		t.Errorf("late by %d, bound %d, proven %v (%v); the best is 55", s.Late, s.Bound, s.Proven, err)
	}
	t.Logf("bound %d, proven %v", s.Bound, s.Proven)
}

func TestBadProblems(t *testing.T) {
	change := func(f func(p *schedule.Problem)) schedule.Problem {
		p := morning()
		f(&p)
		return p
	}
	for _, c := range []struct {
		name, field, says string
		p                 schedule.Problem
	}{
		{"nothing", "/tasks", "add a task", schedule.Problem{}},
		{"nobody", "/tasks/0/by", "add a person", change(func(p *schedule.Problem) { p.People = nil })},
		{"longer than a day", "/tasks/2/hands", "longer than anybody is there", change(func(p *schedule.Problem) { p.Tasks[2].Hands = 600 })},
		{"no time at all", "/tasks/3/hands", "a minute or more", change(func(p *schedule.Problem) { p.Tasks[3].Hands, p.Tasks[3].Wait = 0, 0 })},
		{"two alike", "/tasks/1/id", "an ID of its own", change(func(p *schedule.Problem) { p.Tasks[1].ID = "dry" })},
		{"a circle", "/tasks", `"dry" → "cool" → "weigh" → "standardise" → "dry"`, change(func(p *schedule.Problem) {
			p.Tasks[0].After = []string{"standardise"}
		})},
		{"not there", "/tasks/0/after", "no task “polish”", change(func(p *schedule.Problem) { p.Tasks[0].After = []string{"polish"} })},
		{"two ovens", "/tasks/0/uses", "needs 2 of “oven” at once; there are 1", change(func(p *schedule.Problem) { p.Tasks[0].Uses[0].Number = 2 })},
		{"no such thing", "/tasks/0/uses", "no “kiln”", change(func(p *schedule.Problem) { p.Tasks[0].Uses[0].Thing = "kiln" })},
		{"hours back to front", "/people/0/hours", "an end after its beginning", change(func(p *schedule.Problem) { p.People[0].Hours = span(9, 9) })},
		{"held by nobody", "/things/0/held", "from a time to a later one", change(func(p *schedule.Problem) {
			p.Things[0].Held = []schedule.Hold{{Span: schedule.Span{From: 5, To: 5}, Number: 1}}
		})},
		{"no things", "/things/0/number", "from 1 to 1000", change(func(p *schedule.Problem) { p.Things[0].Number = 0 })},
		{"next century", "/tasks/5/from", "more than a year away", change(func(p *schedule.Problem) { p.Tasks[5].From = 1 << 30 })},
	} {
		_, err := schedule.Earliest(context.Background(), c.p)
		var problems verdict.Problems
		if !errors.As(err, &problems) || problems[0].Field != c.field || !strings.Contains(problems[0].Reason, c.says) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

func TestHoursWithoutRoom(t *testing.T) {
	p := morning()
	p.People[0].Hours = []schedule.Span{{From: 0, To: 60}}
	_, err := schedule.Earliest(context.Background(), p)
	if err == nil || !strings.Contains(err.Error(), "nobody's hours have room for all of this") {
		t.Errorf("%v", err)
	}
}

func TestMovedTask(t *testing.T) {
	p := morning()
	s, err := schedule.Earliest(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	move := func(task string, start int) []schedule.Placed {
		placed := slices.Clone(s.Placed)
		for i, at := range placed {
			if at.Task == task {
				by := start - at.Start
				placed[i].Start, placed[i].Free, placed[i].End = start, at.Free+by, at.End+by
			}
		}
		return placed
	}
	for _, c := range []struct {
		task  string
		start int
		want  []schedule.Break
	}{
		{"weigh", 150, []schedule.Break{{Task: "weigh", Kind: "order", Other: "cool", By: 5}}},
		{"weigh", 160, []schedule.Break{{Task: "standardise", Kind: "order", Other: "weigh", By: 5}, {Task: "standardise", Kind: "hands", Other: "weigh", By: 5}}},
		{"make acid", 2, []schedule.Break{{Task: "make acid", Kind: "hands", Other: "dry", By: 3}}},
		{"calibrate", 400, []schedule.Break{{Task: "calibrate", Kind: "from", By: 20}}},
		{"calibrate", 470, []schedule.Break{{Task: "calibrate", Kind: "due", By: 5}, {Task: "calibrate", Kind: "hours", Other: "R. Ashdown"}}},
		{"calibrate", 440, nil},
	} {
		if got := p.Breaks(move(c.task, c.start)); !slices.Equal(got, c.want) {
			t.Errorf("%s at %d breaks %+v, want %+v", c.task, c.start, got, c.want)
		}
	}
	rooms := p.Rooms(s.Placed)
	for i, want := range map[int]schedule.Room{0: {0, 0}, 1: {0, 110}, 5: {0, 45}} {
		if rooms[i] != want {
			t.Errorf("%s has room %+v, want %+v", s.Placed[i].Task, rooms[i], want)
		}
	}
}

// Two solutions are dried in one oven: the second cannot be moved into the time of the first.
func TestRoomBesideAThing(t *testing.T) {
	oven := []schedule.Use{{Thing: "oven", Number: 1, Waiting: true}}
	p := schedule.Problem{
		Things: []schedule.Thing{{Name: "oven", Number: 1}},
		Tasks:  []schedule.Task{{ID: "a", Wait: 60, Due: 500, Uses: oven}, {ID: "b", Wait: 60, Due: 500, Uses: oven}},
	}
	placed := []schedule.Placed{{Task: "a", Start: 0, End: 60}, {Task: "b", Start: 100, Free: 100, End: 160}}
	if got := p.Rooms(placed); got[0].Later != 40 || got[1].Earlier != 40 || got[1].Later != 340 {
		t.Errorf("%+v", got)
	}
	// Others take the oven from 190 on: so far it can be put off, and no farther.
	p.Things[0].Held = []schedule.Hold{{Span: schedule.Span{From: 190, To: 200}, Number: 1}}
	if got := p.Rooms(placed); got[1].Later != 30 {
		t.Errorf("%+v", got)
	}
	late := []schedule.Placed{placed[0], {Task: "b", Start: 131, Free: 131, End: 191}}
	if got := p.Breaks(late); !slices.Equal(got, []schedule.Break{{Task: "b", Kind: "thing", Other: "oven", By: 1}}) {
		t.Errorf("%+v", got)
	}
	p.Things[0].Held = nil
	placed[1].Start, placed[1].End = 59, 119
	if got := p.Breaks(placed); !slices.Equal(got, []schedule.Break{{Task: "b", Kind: "thing", Other: "oven", By: 1}}) {
		t.Errorf("%+v", got)
	}
}

func BenchmarkSchedule(b *testing.B) {
	chance := rand.New(rand.NewPCG(3, 3))
	for _, n := range []int{12, 25, 40} {
		p := class(chance, n)
		b.Run(fmt.Sprint(n, " tasks, 2 people, 6 things"), func(b *testing.B) {
			var s schedule.Schedule
			for b.Loop() {
				s, _ = schedule.Latest(context.Background(), p, 0)
			}
			proven := 0.0
			if s.Proven {
				proven = 1
			}
			b.ReportMetric(proven, "proven")
		})
	}
}

// class is a session of about so many tasks: solutions that are made, cooled and standardised.
func class(chance *rand.Rand, tasks int) schedule.Problem {
	p := schedule.Problem{
		People: []schedule.Person{{Name: "RA", Hours: []schedule.Span{{From: 0, To: 480}, {From: 1440, To: 1920}}}, {Name: "JT", Hours: []schedule.Span{{From: 120, To: 480}, {From: 1440, To: 1740}}}},
		Things: []schedule.Thing{{Name: "balance", Number: 1}, {Name: "oven", Number: 1}, {Name: "hood", Number: 1}, {Name: "meter", Number: 2}, {Name: "flask 1 L", Number: 2}, {Name: "burette", Number: 4}},
	}
	for i := 0; len(p.Tasks) < tasks; i++ {
		due := 1920
		dry := schedule.Task{ID: fmt.Sprint("dry ", i), Hands: 5, Wait: 120, Due: due, Uses: []schedule.Use{{Thing: "oven", Number: 1, Waiting: true}}}
		weigh := schedule.Task{ID: fmt.Sprint("weigh ", i), Hands: 15 + 5*chance.IntN(3), Wait: 30 * chance.IntN(2), Due: due, After: []string{dry.ID}, Uses: []schedule.Use{{Thing: "balance", Number: 1}, {Thing: "flask 1 L", Number: 1, Waiting: true}}}
		label := schedule.Task{ID: fmt.Sprint("make up ", i), Hands: 10, Due: due, After: []string{weigh.ID}, Uses: []schedule.Use{{Thing: "flask 1 L", Number: 1}}}
		check := schedule.Task{ID: fmt.Sprint("standardise ", i), Hands: 40, Due: due, After: []string{label.ID}, Uses: []schedule.Use{{Thing: "burette", Number: 1 + chance.IntN(2)}}}
		calibrate := schedule.Task{ID: fmt.Sprint("calibrate ", i), Hands: 15, From: 1740, Due: due, Uses: []schedule.Use{{Thing: "meter", Number: 1}}}
		all := []schedule.Task{weigh, label, check, calibrate}
		if i%3 == 0 {
			all = append([]schedule.Task{dry}, all...)
		} else {
			all[0].After = nil
		}
		p.Tasks = append(p.Tasks, all...)
	}
	p.Tasks = p.Tasks[:tasks]
	return p
}

// So many tasks that the search ends before it is through: what was found can be carried out, and its bound is told.
func TestBoundIsTold(t *testing.T) {
	chance := rand.New(rand.NewPCG(5, 5))
	p := random(chance, 60, 3, 3)
	for i := range p.Tasks {
		p.Tasks[i].After, p.Tasks[i].By = nil, nil
		p.Tasks[i].From = chance.IntN(600)
	}
	s, err := schedule.Earliest(context.Background(), p)
	if err != nil || s.Proven || s.Bound >= s.Late || len(s.Placed) != 60 {
		t.Fatalf("late by %d, bound %d, proven %v, %v", s.Late, s.Bound, s.Proven, err)
	}
	for _, b := range p.Breaks(s.Placed) {
		if b.Kind != "due" {
			t.Errorf("it breaks %+v", b)
		}
	}
	quick, err := schedule.Quick(context.Background(), p)
	if err != nil || quick.Late < s.Late || quick.Bound != s.Bound {
		t.Errorf("with less effort late by %d, bound %d, %v", quick.Late, quick.Bound, err)
	}
	// Whoever has no time gets the best of what chance made; nothing is called proven.
	over, cancel := context.WithCancel(context.Background())
	cancel()
	if s, err := schedule.Latest(over, p, 0); err != nil || s.Proven || len(s.Placed) != 60 {
		t.Errorf("without time: proven %v, %v", s.Proven, err)
	}
}
