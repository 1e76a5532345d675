package lab

import (
	"reflect"
	"slices"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/run"
)

// Every reading is corrected in the very field that took it: of its kind and part, with its unit, its
// choices, and what was read beside it.
func TestEveryKindAsksAgainAsItAsked(t *testing.T) {
	eachSample(t, func(t *testing.T, s sampleRun) {
		facts := carryOut(t, s.plan, func([]fact.Fact, run.Outcome) {})
		for i, f := range facts {
			if f.Kind == run.KindDecided {
				continue
			}
			step, err := run.AskedBy(s.plan, facts, f.ID, monday)
			was := made(t, s.plan, facts[:i])
			now := was.Steps[slices.IndexFunc(was.Steps, func(s run.Step) bool { return s.State == run.Now })]
			says := s.plan.Sentence(f)
			switch {
			case err != nil:
				t.Errorf("%s: %v", says, err)
			case step.Kind != f.Kind || step.Part != f.Part || step.Title != now.Title || step.Label != now.Label || step.Unit != now.Unit ||
				step.Input != now.Input || !reflect.DeepEqual(step.Options, now.Options) || !reflect.DeepEqual(step.Beside, now.Beside):
				t.Errorf("%s: asked by %+v, corrected in %+v", says, now, step)
			case f.Quantity != nil && f.After == nil && step.Input == run.InputQuantity && !slices.Contains(step.Dimensions, f.Quantity.Unit.Dimension):
				t.Errorf("%s is corrected in a field of %v", says, step.Dimensions)
			case step.Default != "":
				t.Errorf("%s: a proposal (%s) stands in the field of a correction", says, step.Default)
			}
			// Corrected twice, it is asked for in the same field still.
			right := f
			right.ID, right.Replaces, right.Reason = "right", f.ID, "misread"
			if again, err := run.AskedBy(s.plan, append(slices.Clone(facts), right), "right", monday); err != nil || again.Title != step.Title {
				t.Errorf("%s, corrected: %q, %v", says, again.Title, err)
			}
		}
		// What was corrected before it changes nothing of what asks for the last one.
		first := slices.IndexFunc(facts, func(f fact.Fact) bool { return f.Kind != run.KindDecided })
		last := len(facts) - 1
		for facts[last].Kind == run.KindDecided {
			last--
		}
		corrected := slices.Clone(facts)
		right := facts[first]
		right.ID, right.Replaces, right.Reason = "right", facts[first].ID, "misread"
		step, err := run.AskedBy(s.plan, append(corrected, right), facts[last].ID, monday)
		before := made(t, s.plan, facts[:last])
		now := before.Steps[slices.IndexFunc(before.Steps, func(s run.Step) bool { return s.State == run.Now })]
		if first < last && (err != nil || step.Title != now.Title) {
			t.Errorf("%s, after a correction: %q, %v", s.plan.Sentence(facts[last]), step.Title, err)
		}
		if _, err := run.AskedBy(s.plan, facts, "nothing", monday); err == nil {
			t.Error("a field for a reading that there is not")
		}
	})
}
