package stock

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Demand is what a session is planned to take.
type Demand struct {
	Title  string    `json:"title"`
	At     time.Time `json:"at"`
	Amount float64   `json:"amount"`
}

// Standing is how an article stands today and by what is planned.
type Standing struct {
	// Usable is what has not expired, Planned what sessions will take, both in the unit of the article.
	Usable  float64 `json:"usable"`
	Planned float64 `json:"planned"`
	// OrderBy is the latest day to order on, YYYY-MM-DD, and Order how much; empty and 0 where nothing has to be ordered.
	OrderBy string  `json:"orderBy,omitempty"`
	Order   float64 `json:"order,omitempty"`
	// Late reports whether that day is over.
	Late     bool              `json:"late,omitempty"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Stands works out how an article stands now. Days are those of the clock of now.
func (a Article) Stands(containers []Container, demands []Demand, now time.Time) Standing {
	s := Standing{Verdicts: []verdict.Verdict{}}
	today := now.Format(time.DateOnly)
	var expired []Container
	for _, c := range containers {
		switch {
		case c.Left < 0:
			text := fmt.Sprintf("Container %d holds less than nothing by the record, by %s: count it.", c.Number, a.Unit.Say(-c.Left))
			s.Verdicts = append(s.Verdicts, RuleCount.Says(verdict.Look, nil, "%s", text))
		case c.expired(today) && c.Left > 0:
			expired = append(expired, c)
		default:
			s.Usable += c.Left
		}
	}
	for _, c := range expired {
		s.Verdicts = append(s.Verdicts, RuleExpired.Says(verdict.Look, nil,
			"Container %d expired on %s: its %s do not count. Discard it as your local rules say.", c.Number, c.Expires, a.Unit.Say(c.Left)))
	}
	a.follow(&s, containers, demands, now)
	return s
}

// follow takes what is planned in the order of the days, and finds when more is needed.
func (a Article) follow(s *Standing, containers []Container, demands []Demand, now time.Time) {
	left := slices.Clone(containers)
	slices.SortStableFunc(left, func(x, y Container) int { // what expires first is taken first; what does not, last
		return cmp.Or(btoi(x.Expires == "")-btoi(y.Expires == ""), strings.Compare(x.Expires, y.Expires))
	})
	demands = slices.Clone(demands)
	slices.SortStableFunc(demands, func(x, y Demand) int { return x.At.Compare(y.At) })
	usable := func(day string) float64 {
		sum := 0.0
		for _, c := range left {
			if !c.expired(day) {
				sum += max(0, c.Left)
			}
		}
		return sum
	}
	order := func(on time.Time) {
		day := on.Format(time.DateOnly)
		if s.OrderBy == "" || day < s.OrderBy {
			s.OrderBy = day
		}
	}
	short := 0.0 // what sessions do not find
	below := usable(now.Format(time.DateOnly)) < a.Minimum
	if below {
		order(now)
	}
	for _, d := range demands {
		day := d.At.Format(time.DateOnly)
		s.Planned += d.Amount
		missing := d.Amount
		for i := range left {
			if left[i].expired(day) || left[i].Left <= 0 {
				continue
			}
			take := min(left[i].Left, missing)
			left[i].Left -= take
			missing -= take
		}
		if missing > tiny {
			short += missing
			by := a.latest(d.At)
			order(by)
			s.Verdicts = append(s.Verdicts, RulePlanned.Says(verdict.Stop, nil, "%s", a.lacks(d, missing, by, now)))
		} else if !below && usable(day) < a.Minimum {
			below = true
			order(d.At)
			s.Verdicts = append(s.Verdicts, RuleMinimum.Says(verdict.Look, nil, "After “%s” on %s %s are left, below the minimum of %s.",
				d.Title, d.At.Format("2 Jan"), a.Unit.Say(usable(day)), a.Unit.Say(a.Minimum)))
		}
	}
	if s.OrderBy == "" {
		return
	}
	if s.Usable < a.Minimum {
		s.Verdicts = append(s.Verdicts, RuleMinimum.Says(verdict.Look, nil, "%s left, below the minimum of %s.",
			a.Unit.Say(s.Usable), a.Unit.Say(a.Minimum)))
	}
	last := now
	if len(demands) > 0 {
		last = demands[len(demands)-1].At
	}
	s.Order = quantity.Significant(short+max(0, a.Minimum-usable(last.Format(time.DateOnly))), 4)
	s.Late = s.OrderBy < now.Format(time.DateOnly)
}

// tiny is what nobody weighs, in any unit.
const tiny = 1e-6

// latest is the last day on which an order for a day goes out.
func (a Article) latest(day time.Time) time.Time {
	by := day.AddDate(0, 0, -a.LeadDays)
	switch by.Weekday() {
	case time.Saturday:
		return by.AddDate(0, 0, -1)
	case time.Sunday:
		return by.AddDate(0, 0, -2)
	default:
		return by
	}
}

// lacks says what a session lacks, and what can be done.
func (a Article) lacks(d Demand, missing float64, by, now time.Time) string {
	text := fmt.Sprintf("“%s” on %s takes %s, and %s are missing: ", d.Title, d.At.Format("2 Jan"), a.Unit.Say(d.Amount), a.Unit.Say(missing))
	if by.Format(time.DateOnly) < now.Format(time.DateOnly) {
		return text + fmt.Sprintf("an order takes %d days and comes too late. Borrow it, or make less.", a.LeadDays)
	}
	return text + "order by " + by.Format("Mon 2 Jan") + "."
}
