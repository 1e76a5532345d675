package session

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/schedule"
	"vialbench/core/verdict"
)

// Question is a session with all that its plan depends on.
type Question struct {
	Session    Session            `json:"session"`
	Store      Store              `json:"store"`
	Now        time.Time          `json:"now"`
	Thresholds verdict.Thresholds `json:"thresholds"`
	Durations  Durations          `json:"durations"`
	// Done are the IDs of tasks that are over.
	Done []string `json:"done"`
	// Begun are those that a run does which has not ended.
	Begun []string `json:"begun,omitempty"`
	// Busy is what other sessions have planned already.
	Busy []Busy `json:"busy,omitempty"`
	// Moved are starts that somebody chose, by the ID of the task.
	Moved map[string]time.Time `json:"moved,omitempty"`
}

// Busy is a task of another session: whose hands it takes, and what it holds.
type Busy struct {
	Person string         `json:"person,omitempty"`
	Uses   []schedule.Use `json:"uses,omitempty"`
	Starts time.Time      `json:"starts"`
	// Free is when the hands are free again, Ends when it is over.
	Free time.Time `json:"free"`
	Ends time.Time `json:"ends"`
}

// Busy is what other sessions are told of a bar.
func (b Bar) Busy() Busy { return Busy{b.Person, b.Uses, b.Starts, b.Free, b.Ends} }

// Bar is a task with its time.
type Bar struct {
	Task
	Person string    `json:"person,omitempty"`
	Starts time.Time `json:"starts"`
	// Free is when the hands are free again, Ends when it is over.
	Free time.Time `json:"free"`
	Ends time.Time `json:"ends"`
	// Earlier and Later are by how many minutes it can be moved with all else as it is.
	Earlier int `json:"earlier"`
	Later   int `json:"later"`
	// Breaks says what its time breaks; nothing where it can be kept.
	Breaks []string `json:"breaks"`
}

// Design is the plan of a session.
type Design struct {
	Needs    []Need   `json:"needs"`
	Supplies []Supply `json:"supplies"`
	// Bars are the tasks that are left, in the order of their starts.
	Bars []Bar `json:"bars"`
	// Ready is by when all of it has to be over, Begins when the work begins at the latest.
	Ready  time.Time  `json:"ready"`
	Begins *time.Time `json:"begins,omitempty"`
	// Late is by how many minutes it is not ready; Proven reports whether nobody could do better.
	Late     int               `json:"late"`
	Proven   bool              `json:"proven"`
	Verdicts []verdict.Verdict `json:"verdicts"`
	// Mends are what would help where it is late, each of them tried.
	Mends []Mend `json:"mends"`
	// Takes are what it takes of each bottle, in mL.
	Takes map[string]float64 `json:"takes"`
	// Draws are what it takes out of the store.
	Draws []Draw `json:"draws"`
	// Unplanned says why there is no schedule; empty where there is one.
	Unplanned string `json:"unplanned,omitempty"`
}

// Mend is a change that was tried, and how late all would be ready with it: 0 or less is in time.
type Mend struct {
	What string `json:"what"`
	Late int    `json:"late"`
}

// Plan works a session out. Errors are those of [Session.Check].
func Plan(ctx context.Context, q Question) (Design, error) {
	s := q.Session
	needs, err := Needs(s, q.Thresholds)
	if err != nil {
		return Design{}, err
	}
	for _, task := range q.Begun {
		if item, making := strings.CutPrefix(task, "make "); making {
			q.Store.begun = append(q.Store.begun, item)
		}
	}
	d := Design{
		Needs: needs, Supplies: q.Store.Supplies(s, needs, q.Thresholds), Bars: []Bar{}, Verdicts: []verdict.Verdict{}, Mends: []Mend{},
		Takes: map[string]float64{}, Draws: []Draw{}, Ready: s.Starts.Add(-time.Duration(q.Thresholds.Of(RuleReserve)) * time.Minute),
	}
	for _, sup := range d.Supplies {
		if o := sup.taken(); o != nil {
			for _, take := range o.Takes {
				d.Takes[take.Bottle] += take.ML
			}
		}
		if draw := sup.draws(); draw != nil {
			d.Draws = append(d.Draws, *draw)
		}
	}
	d.Verdicts = append(d.Verdicts, q.atOnce()...)
	tasks := s.tasks(q.Store, d.Supplies, q.Durations, q.Thresholds)
	tasks = slices.DeleteFunc(tasks, func(t Task) bool { return slices.Contains(q.Done, t.ID) })
	if len(tasks) == 0 || !s.Starts.After(q.Now) {
		return d, nil
	}
	return d, q.schedule(ctx, &d, tasks)
}

// minute is a time in minutes from now on.
func (q Question) minute(t time.Time) int { return int(t.Sub(q.origin()).Minutes()) }

// origin is the next five minutes.
func (q Question) origin() time.Time {
	at := q.Now.Truncate(5 * time.Minute)
	if at.Before(q.Now) {
		at = at.Add(5 * time.Minute)
	}
	return at
}

// schedule places the tasks, as late as they can be, or as early where that is too late already.
func (q Question) schedule(ctx context.Context, d *Design, tasks []Task) error {
	p := q.problem(tasks, d.Ready, 0, 0)
	at, err := schedule.Latest(ctx, p, 0)
	var wrong verdict.Problems
	if errors.As(err, &wrong) {
		d.Unplanned = unplanned(wrong, tasks)
		return nil
	}
	if err != nil {
		return err
	}
	d.Late, d.Proven = max(0, at.Late), at.Proven
	if d.Late > 0 {
		q.mends(ctx, d, tasks)
	}
	placed := at.Placed
	for i := range placed {
		if start, ok := q.Moved[placed[i].Task]; ok {
			by := q.minute(start) - placed[i].Start
			placed[i].Start, placed[i].Free, placed[i].End = placed[i].Start+by, placed[i].Free+by, placed[i].End+by
		}
	}
	q.bars(d, p, placed, tasks)
	return nil
}

func (q Question) bars(d *Design, p schedule.Problem, placed []schedule.Placed, tasks []Task) {
	rooms, broken := p.Rooms(placed), p.Breaks(placed)
	when := func(minute int) time.Time { return q.origin().Add(time.Duration(minute) * time.Minute) }
	title := map[string]string{}
	for _, t := range tasks {
		title[t.ID] = t.Title
	}
	for i, at := range placed {
		k := slices.IndexFunc(tasks, func(t Task) bool { return t.ID == at.Task })
		bar := Bar{
			Task: tasks[k], Person: at.Person, Starts: when(at.Start), Free: when(at.Free), Ends: when(at.End),
			Earlier: rooms[i].Earlier, Later: rooms[i].Later, Breaks: []string{},
		}
		if bar.After == nil {
			bar.After = []string{}
		}
		if bar.Uses == nil {
			bar.Uses = []schedule.Use{}
		}
		for _, b := range broken {
			if b.Task == at.Task {
				bar.Breaks = append(bar.Breaks, breakWords(b, title))
			}
		}
		d.Bars = append(d.Bars, bar)
	}
	slices.SortStableFunc(d.Bars, func(a, b Bar) int { return a.Starts.Compare(b.Starts) })
	if len(d.Bars) > 0 {
		d.Begins = &d.Bars[0].Starts
	}
}

// breakWords says what a time breaks.
func breakWords(b schedule.Break, title map[string]string) string {
	switch b.Kind {
	case "order":
		return fmt.Sprintf("“%s” is not over by then, by %d min.", title[b.Other], b.By)
	case "hands":
		return fmt.Sprintf("The same hands are at “%s” for %d min more.", title[b.Other], b.By)
	case "hours":
		return fmt.Sprintf("%s is not there all the time.", b.Other)
	case "thing":
		return fmt.Sprintf("There are too few of “%s”: %d more would be needed.", b.Other, b.By)
	case "from":
		return fmt.Sprintf("That is %d min earlier than it can be done.", b.By)
	case "due":
		return fmt.Sprintf("It is not over in time, by %d min.", b.By)
	}
	return "Nobody is there who may do it."
}

// mostMends bounds how many bottles from elsewhere are tried.
const mostMends = 8

// mends tries what would help.
func (q Question) mends(ctx context.Context, d *Design, tasks []Task) {
	try := func(what string, p schedule.Problem) {
		if s, err := schedule.Quick(ctx, p); err == nil && s.Late < d.Late {
			d.Mends = append(d.Mends, Mend{what, s.Late})
		}
	}
	if len(q.Session.People) > 0 {
		try("One person more, with the hours of "+q.Session.People[0].Name, q.problem(tasks, d.Ready, 0, 1))
		try("Everybody comes an hour earlier", q.problem(tasks, d.Ready, 60, 0))
	}
	reserve := q.Thresholds.Of(RuleReserve)
	try(fmt.Sprintf("Ready at the hour itself, without the %g minutes before", reserve), q.problem(tasks, q.Session.Starts, 0, 0))
	tried := 0
	for _, sup := range d.Supplies {
		o := sup.taken()
		if tried == mostMends || o == nil || o.How == byBottle && !o.Standardise {
			continue
		}
		rest := slices.DeleteFunc(slices.Clone(tasks), func(t Task) bool { return t.Item == sup.Item })
		i := slices.IndexFunc(d.Needs, func(n Need) bool { return n.Item == sup.Item })
		if len(rest) > 0 {
			tried++
			try("A bottle of "+d.Needs[i].Title+" from elsewhere, "+Volume(d.Needs[i].Total), q.problem(rest, d.Ready, 0, 0))
		}
	}
	slices.SortStableFunc(d.Mends, func(a, b Mend) int { return a.Late - b.Late })
}

// unplanned says why there is no schedule, with the task that it is about.
func unplanned(wrong verdict.Problems, tasks []Task) string {
	var at int
	if n, _ := fmt.Sscanf(wrong[0].Field, "/tasks/%d/", &at); n == 1 && at < len(tasks) {
		return fmt.Sprintf("“%s”: %s.", tasks[at].Title, wrong[0].Reason)
	}
	return wrong[0].Reason + "."
}

// atOnce compares the glass and the probes that are used at once with what is owned.
func (q Question) atOnce() []verdict.Verdict {
	var list []verdict.Verdict
	groups := q.Session.Groups
	clash := func(needed, owned int, what string) {
		if needed <= owned || owned == 0 {
			return
		}
		ways := count(needed-owned, "group") + " share, or two rounds"
		if needed-owned == 1 {
			ways = "1 group shares, or two rounds"
		}
		list = append(list, RuleAtOnce.Says(verdict.Look, nil, "%d %s at once, %d owned: %s.", needed, what, owned, ways))
	}
	type sized struct {
		glass Glass
		size  float64
	}
	needed := map[sized]int{}
	var order []sized
	for _, item := range q.Session.Items {
		l, _ := item.read()
		if l.Glass == Burette || l.Glass == Pipette {
			key := sized{l.Glass, l.size}
			if needed[key] == 0 {
				order = append(order, key)
			}
			needed[key] += groups * l.Pieces
		}
	}
	for _, key := range order {
		owned := 0
		for _, piece := range q.Store.Pieces {
			if piece.Glass == key.glass && piece.Size == key.size {
				owned += piece.Number
			}
		}
		clash(needed[key], owned, fmt.Sprintf("%ss of %s", key.glass, Volume(key.size)))
	}
	clash(q.Session.Meters, q.Store.Meters, "pH meters")
	return list
}
