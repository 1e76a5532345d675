package httpapi_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/internal/faults"
	"vialbench/internal/httpapi"
	"vialbench/internal/store"
	"vialbench/internal/store/storetest"
)

// While the database is away, hangs, or is cut off after a commit, a fact is answered with
// 503 and when to try again, and nobody claims to know whether it is on record. Sent again
// under the same ID it is there once.
func TestAFactDuringAnOutage(t *testing.T) {
	own, database := storetest.OpenWithURL(t)
	wire, near := faults.NewWire(t, database)
	cut, err := store.Open(near)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = cut.Close() })
	ra, run := begin(t, newServerWith(t, cut, httpapi.Options{Timeout: 5 * time.Second}))
	state := func(f object) (int, object) { return ra.do("POST", "/runs/"+run+"/facts", f) }
	facts := 0
	for name, fault := range map[string]faults.Fault{"away": faults.Away, "hanging": faults.Hanging, "cut after the commit": faults.CutAfterCommit} {
		t.Run(name, func(t *testing.T) {
			f := object{"id": uuid.NewString(), "kind": "note", "text": fmt.Sprint("note ", facts)}
			facts++
			wire.Set(fault)
			begun := time.Now()
			status, answer := state(f)
			if took := time.Since(begun); status != 503 || took > time.Minute {
				t.Errorf("%d after %s: %v, want 503", status, took, answer)
			}
			if says := fmt.Sprint(answer["detail"]); !strings.Contains(says, "not known") || ra.last.Get("Retry-After") == "" {
				t.Errorf("%s, Retry-After %q", says, ra.last.Get("Retry-After"))
			}
			wire.Set(faults.Whole)
			for deadline := time.Now().Add(time.Minute); ; {
				if status, answer = state(f); status == 200 || time.Now().After(deadline) {
					break
				}
				time.Sleep(50 * time.Millisecond)
			}
			if status != 200 || len(answer["facts"].([]any)) != facts {
				t.Errorf("sent again: %d with %v, want %d facts", status, answer, facts)
			}
			if stored, err := own.FactsOfRun(run); err != nil || len(stored) != facts {
				t.Errorf("%d facts stored, %v", len(stored), err)
			}
		})
	}
}
