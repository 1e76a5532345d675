package run

import (
	"time"

	"vialbench/core/verdict"
)

// RuleRecorded is about facts that went on record long after they were made.
var RuleRecorded = verdict.Rule{
	ID:        "R-1",
	Title:     "Recorded at once",
	Threshold: 5,
	Unit:      "minutes",
	Min:       1,
	Max:       1440,
	Why:       "What is written down later is written down from memory. Both times stay on record, and both are shown when they lie further apart.",
	Source:    "common practice",
}

// clockSlack is how far the clocks of two computers that are set may lie apart.
const clockSlack = 10 * time.Second

// earliest is the first day that a record may be of: nothing was recorded here before.
var earliest = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)

// MadeAt checks when a fact is said to have been made against when its run was begun and
// against now, and returns that time in UTC to the microsecond. None stated means now, and
// a little ahead of now is now. An error is a verdict.Problems with the pointer /at.
func MadeAt(stated, begun, now time.Time) (time.Time, error) {
	at := stated.UTC().Truncate(time.Microsecond)
	var wrong verdict.Problems
	switch {
	case stated.IsZero(), at.After(now) && !at.After(now.Add(clockSlack)):
		return now, nil
	case at.After(now):
		wrong.Add("/at", "%s is still to come: the clock that timed this is wrong, here it is %s", clockTime(at), clockTime(now))
	case at.Before(begun.Add(-clockSlack)):
		wrong.Add("/at", "%s is before the run was begun, %s", clockTime(at), clockTime(begun))
	}
	return at, wrong.OrNil()
}

// BegunAt checks when a run is said to have been begun. An error is a verdict.Problems
// with the pointer /begun.
func BegunAt(stated, now time.Time) error {
	var wrong verdict.Problems
	if stated.Before(earliest) || stated.After(now.Add(clockSlack)) {
		wrong.Add("/begun", "a run is begun between %s and now, not %s", earliest.Format("2 January 2006"), clockTime(stated))
	}
	return wrong.OrNil()
}

// Late reports whether a fact went on record so long after it was made that both times are
// shown, by rule R-1.
func Late(made, recorded time.Time, t verdict.Thresholds) bool {
	return recorded.Sub(made).Minutes() > t.Of(RuleRecorded)
}

func clockTime(t time.Time) string { return t.UTC().Format("2006-01-02 15:04 UTC") }
