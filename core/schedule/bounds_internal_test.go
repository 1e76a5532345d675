package schedule

import (
	"context"
	"testing"
)

// Two people: one from 0 to 60 and from 100 to 200, one from 30 to 90. Together they have worked 30 minutes at 30, 90 at
// 60, 120 at 90, and 220 at 200.
func TestWhenMinutesAreWorked(t *testing.T) {
	s := &solver{
		people: []Person{{Hours: []Span{{0, 60}, {100, 200}}}, {Hours: []Span{{30, 90}}}},
		busy:   []int{none, none},
	}
	for _, c := range []struct{ minutes, from, want int }{
		{20, 0, 20},
		{30, 0, 30},
		{31, 0, 31},
		{32, 0, 31},
		{33, 0, 32},
		{90, 0, 60},
		{91, 0, 61},
		{120, 0, 90},
		{121, 0, 101},
		{220, 0, 200},
		{221, 0, never},
		{20, 50, 60},
		{21, 50, 61},
		{1, 95, 101},
		{1, 300, never},
		{10, -50, 10},
	} {
		if got := s.done(c.minutes, c.from); got != c.want {
			t.Errorf("%d minutes from %d on are worked at %d, by hand at %d", c.minutes, c.from, got, c.want)
		}
	}
	s.busy[0] = 40 // 10 minutes of the second until then, and both after
	if got := s.done(20, 0); got != 45 {
		t.Errorf("20 minutes with one busy until 40 are worked at %d, by hand at 45", got)
	}
}

// The bound before anything is placed, by hand.
func TestFirstBound(t *testing.T) {
	on := func(thing string, n int) []Use { return []Use{{Thing: thing, Number: n, Waiting: true}} }
	always := []Person{{Name: "a", Hours: []Span{{0, 1000}}}}
	two := append([]Person{{Name: "b", Hours: []Span{{0, 1000}}}}, always...)
	for _, c := range []struct {
		name string
		want int
		p    Problem
	}{
		{"a chain", 27, Problem{Tasks: []Task{{ID: "1", Wait: 20, From: 2}, {ID: "2", Wait: 5, After: []string{"1"}}}}},
		{"a due time", 7, Problem{Tasks: []Task{{ID: "1", Wait: 20, Due: 13}, {ID: "2", Wait: 5}}}},
		{"an oven for three", 35, Problem{
			Things: []Thing{{Name: "oven", Number: 1}},
			Tasks: []Task{
				{ID: "1", Wait: 10, From: 5, Uses: on("oven", 1)},
				{ID: "2", Wait: 10, From: 5, Uses: on("oven", 1)},
				{ID: "3", Wait: 10, From: 6, Uses: on("oven", 1)},
			},
		}},
		{"two ovens for three", 20, Problem{
			Things: []Thing{{Name: "oven", Number: 2}},
			Tasks: []Task{
				{ID: "1", Wait: 10, From: 5, Uses: on("oven", 1)},
				{ID: "2", Wait: 10, From: 5, Uses: on("oven", 1)},
				{ID: "3", Wait: 10, From: 5, Uses: on("oven", 1)},
			},
		}},
		{"two ovens, both for one", 20, Problem{
			Things: []Thing{{Name: "oven", Number: 2}},
			Tasks:  []Task{{ID: "1", Wait: 10, Uses: on("oven", 2)}, {ID: "2", Wait: 10, Uses: on("oven", 2)}},
		}},
		{"what comes after the oven", 27, Problem{
			Things: []Thing{{Name: "oven", Number: 1}},
			Tasks: []Task{
				{ID: "1", Wait: 10, Uses: on("oven", 1)},
				{ID: "2", Wait: 10, Uses: on("oven", 1)},
				{ID: "3", Wait: 7, After: []string{"1"}},
				{ID: "4", Wait: 8, After: []string{"2"}},
			},
		}},
		{"one pair of hands", 33, Problem{People: always, Tasks: []Task{{ID: "1", Hands: 10, From: 3}, {ID: "2", Hands: 10, From: 3}, {ID: "3", Hands: 10, From: 3}}}},
		{"two pairs", 15, Problem{People: two, Tasks: []Task{{ID: "1", Hands: 10}, {ID: "2", Hands: 10}, {ID: "3", Hands: 10}}}},
		{"waiting after the hands", 29, Problem{People: always, Tasks: []Task{{ID: "1", Hands: 10, Wait: 9}, {ID: "2", Hands: 10, Wait: 12}}}},
		{"hours that begin later", 70, Problem{
			People: []Person{{Name: "a", Hours: []Span{{0, 15}, {50, 200}}}},
			Tasks:  []Task{{ID: "1", Hands: 20}},
		}},
	} {
		for i := range c.p.Tasks {
			if c.name != "a due time" {
				c.p.Tasks[i].Due = 0
			}
		}
		if got := newSolver(context.Background(), c.p, new(int)).bound; got != c.want {
			t.Errorf("%s: bound %d, by hand %d", c.name, got, c.want)
		}
	}
}

// A partial schedule leaves as much room as another when its people and its tasks are free as early.
func TestWhatIsDominated(t *testing.T) {
	fresh := func() *solver {
		s := newSolver(context.Background(), Problem{
			People: []Person{{Name: "a", Hours: []Span{{0, 1000}}}},
			Tasks:  []Task{{ID: "1", Hands: 5, Wait: 20}, {ID: "2", Hands: 5}, {ID: "3", Hands: 5}},
		}, new(int))
		s.placed, s.end, s.busy, s.late = 3, []int{25, 30, 0}, []int{30}, 0
		return s
	}
	for _, c := range []struct {
		name   string
		now    int
		change func(s *solver)
		want   bool
	}{
		{"the same", 25, func(*solver) {}, true},
		{"later", 27, func(*solver) {}, true},
		{"earlier", 24, func(*solver) {}, false},
		{"less late", 25, func(s *solver) { s.late = -1 }, false},
		{"more late", 25, func(s *solver) { s.late = 1 }, true},
		{"hands free earlier", 25, func(s *solver) { s.busy = []int{29} }, false},
		{"hands free earlier, but not after now", 30, func(s *solver) { s.busy = []int{29} }, true},
		{"a task over earlier", 25, func(s *solver) { s.end = []int{25, 29, 0} }, false},
		{"a task over earlier, before now", 25, func(s *solver) { s.end = []int{24, 30, 0} }, true},
		{"other tasks", 25, func(s *solver) { s.placed = 5 }, false},
	} {
		s := fresh()
		if s.dominated(25) {
			t.Fatalf("%s: nothing was seen yet", c.name)
		}
		c.change(s)
		if got := s.dominated(c.now); got != c.want {
			t.Errorf("%s: dominated is %v", c.name, got)
		}
	}
}
