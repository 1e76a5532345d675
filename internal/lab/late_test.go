package lab_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/core/fact"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// A fact that went on record long after it was made shows both times, in its run and in
// the logbook; how long is the lab's to say.
func TestLateFactsShowBothTimes(t *testing.T) {
	l, ra, it := newLab(t)
	records := sample(t)
	records.Shift(0)
	if _, err := l.Import(t.Context(), ra, records, false); err != nil {
		t.Fatal(err)
	}
	s := lab.Statement{Stated: run.Stated{
		Fact: fact.Fact{ID: uuid.NewString(), Kind: "note", Text: "written down later", At: records.Runs[0].Begun.Add(time.Minute)},
	}}
	if _, err := l.StateFact(t.Context(), it, records.Runs[0].ID, s); err != nil {
		t.Fatal(err)
	}
	late := func() (list []string) {
		t.Helper()
		if err := l.EachEntry(t.Context(), store.LogFilter{}, func(e lab.Entry) error {
			if e.Late {
				list = append(list, e.Sentence)
			}
			return nil
		}); err != nil {
			t.Fatal(err)
		}
		return list
	}
	if list := late(); len(list) != 1 || !strings.Contains(list[0], "written down later") {
		t.Errorf("late: %v", list)
	}
	settings, err := l.Settings(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	settings.Thresholds = verdict.Thresholds{"R-1": 2000}
	var p verdict.Problems
	if _, err := l.ChangeSettings(t.Context(), ra, settings); !errors.As(err, &p) {
		t.Errorf("more than a day: %v", err)
	}
}
