package run_test

import (
	"testing"
	"time"

	"vialbench/core/run"
	"vialbench/core/verdict"
)

// When a fact was made: at the bounds, just inside and just outside.
func TestWhenAFactWasMade(t *testing.T) {
	now := time.Date(2026, 5, 12, 10, 0, 0, 0, time.UTC)
	begun := now.Add(-time.Hour)
	for name, c := range map[string]struct {
		stated, want time.Time
		ok           bool
	}{
		"not stated":             {time.Time{}, now, true},
		"now":                    {now, now, true},
		"a little ahead":         {now.Add(10 * time.Second), now, true},
		"ahead":                  {now.Add(10*time.Second + time.Microsecond), time.Time{}, false},
		"a year ahead":           {now.AddDate(1, 0, 0), time.Time{}, false},
		"in between":             {now.Add(-time.Minute), now.Add(-time.Minute), true},
		"in another zone":        {now.Add(-time.Minute).In(time.FixedZone("", 7200)), now.Add(-time.Minute), true},
		"finer than stored":      {now.Add(-time.Minute + 999), now.Add(-time.Minute), true},
		"a little before":        {begun.Add(-10 * time.Second), begun.Add(-10 * time.Second), true},
		"before the run":         {begun.Add(-10*time.Second - time.Microsecond), time.Time{}, false},
		"in another century":     {time.Date(1, 1, 2, 0, 0, 0, 0, time.UTC), time.Time{}, false},
		"in the far future":      {time.Date(9999, 1, 1, 0, 0, 0, 0, time.UTC), time.Time{}, false},
		"when the run began":     {begun, begun, true},
		"in nineteen-ninety":     {time.Date(1990, 1, 1, 0, 0, 0, 0, time.UTC), time.Time{}, false},
		"an instant in the past": {now.Add(-time.Microsecond), now.Add(-time.Microsecond), true},
	} {
		got, err := run.MadeAt(c.stated, begun, now)
		if (err == nil) != c.ok || c.ok && (!got.Equal(c.want) || got.Location() != time.UTC) {
			t.Errorf("%s: %s, %v; want %s", name, got, err, c.want)
		}
	}
	for stated, ok := range map[time.Time]bool{
		now: true, now.Add(10 * time.Second): true, now.Add(11 * time.Second): false,
		time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC): true, time.Date(1999, 12, 31, 23, 59, 59, 0, time.UTC): false, {}: false,
	} {
		if err := run.BegunAt(stated, now); (err == nil) != ok {
			t.Errorf("begun %s: %v", stated, err)
		}
	}
	for minutes, late := range map[float64]bool{0: false, 4.99: false, 5: false, 5.01: true, -60: false} {
		if got := run.Late(now, now.Add(time.Duration(minutes*float64(time.Minute))), nil); got != late {
			t.Errorf("recorded %g minutes later: late %t", minutes, got)
		}
	}
	if run.Late(now, now.Add(30*time.Minute), verdict.Thresholds{"R-1": 60}) {
		t.Error("a lab that lets an hour pass")
	}
}
