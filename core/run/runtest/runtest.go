// Package runtest carries plans out in tests as the lab does: every fact passes the gate.
package runtest

import (
	"fmt"
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/run"
)

// Noon is when the runs of tests begin.
var Noon = time.Date(2026, 11, 26, 12, 0, 0, 0, time.UTC)

// Bench carries one plan out; facts follow one another by a minute.
type Bench[P run.Plan] struct {
	T     testing.TB
	Plan  P
	Facts []fact.Fact
}

// Try states a fact, and says why it was refused.
func (b *Bench[P]) Try(f fact.Fact) (run.Outcome, error) {
	f.ID, f.At = fmt.Sprintf("f%03d", len(b.Facts)), Noon.Add(time.Duration(len(b.Facts))*time.Minute)
	if err := run.Admit(b.Plan, b.Facts, f, Noon); err != nil {
		return run.Outcome{}, err
	}
	b.Facts = append(b.Facts, f)
	return b.Plan.Make(b.Facts, Noon)
}

// State states a fact that has to be admitted.
func (b *Bench[P]) State(f fact.Fact) run.Outcome {
	b.T.Helper()
	out, err := b.Try(f)
	if err != nil {
		b.T.Fatalf("%s of part %d: %v", f.Kind, f.Part, err)
	}
	return out
}

// Outcome is the result of the facts so far.
func (b *Bench[P]) Outcome() run.Outcome {
	b.T.Helper()
	out, err := b.Plan.Make(b.Facts, Noon)
	if err != nil {
		b.T.Fatal(err)
	}
	return out
}

// Now is the step at hand.
func Now(t testing.TB, out run.Outcome) run.Step {
	t.Helper()
	for _, s := range out.Steps {
		if s.State == run.Now {
			return s
		}
	}
	t.Fatal("no step at hand")
	return run.Step{}
}
