// Package runtest carries plans out in tests as the lab does: every fact passes the gate.
package runtest

import (
	"fmt"
	"math"
	"slices"
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

// Drew checks what a run took out of bottles, in mL: by role, or “part 0” of its own products.
// Nothing came out of what is not named.
func Drew(t testing.TB, out run.Outcome, want map[string]float64) {
	t.Helper()
	got := map[string]float64{}
	for _, d := range out.Drawn {
		name := d.Role
		if name == "" {
			name = fmt.Sprint("part ", d.Part)
		}
		got[name] = d.Volume
		if math.Abs(d.Volume-want[name]) > 1e-9 {
			t.Errorf("%g mL out of %s, want %g", d.Volume, name, want[name])
		}
	}
	for name, volume := range want {
		if _, told := got[name]; !told {
			t.Errorf("nothing is said of %s, want %g mL", name, volume)
		}
	}
}

// Used checks what a run took out of the store, like “sodium-chloride 2.5 g”, in any order.
func Used(t testing.TB, out run.Outcome, want ...string) {
	t.Helper()
	var got []string
	for _, u := range out.Used {
		if u.Amount != 0 {
			got = append(got, fmt.Sprintf("%s %.4g %s", u.Key, u.Amount, u.Unit))
		}
	}
	slices.Sort(got)
	slices.Sort(want)
	if !slices.Equal(got, want) {
		t.Errorf("used %q, want %q", got, want)
	}
}
