package readings_test

import (
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/readings"
	"vialbench/core/run"
)

// A gate that goes through a table admits what goes in one by one, and makes the run once.
func TestATableGoesThroughTheGateInOnePass(t *testing.T) {
	plan := &counted{Request: request(t)}
	gate := run.NewGate(plan, nil)
	var facts []fact.Fact
	for i := range 50 {
		f := reading{"pond", "sample", 7, 25, i}.fact(i)
		if err := gate.Admit(f, f.At); err != nil {
			t.Fatal(err)
		}
		if err := run.Admit(plan.Request, facts, f, f.At); err != nil {
			t.Fatal(err)
		}
		facts = append(facts, f)
	}
	if plan.made != 1 {
		t.Errorf("the run was made %d times", plan.made)
	}
	end := fact.Fact{ID: "end", Kind: run.KindDecided, Choice: "end", At: facts[0].At}
	if err := gate.Admit(end, end.At); err != nil {
		t.Errorf("the step's own end is no choice: %v", err)
	}
	if err := gate.Admit(reading{"late", "sample", 7, 25, 60}.fact(60), end.At); err == nil || plan.made != 2 {
		t.Errorf("after its end a log takes more: %v, made %d times", err, plan.made)
	}
}

// counted counts how often it is made.
type counted struct {
	readings.Request
	made int
}

func (c *counted) Make(facts []fact.Fact, now time.Time) (run.Outcome, error) {
	c.made++
	return c.Request.Make(facts, now)
}
