package run

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/verdict"
)

// Admit is the one gate for the facts of a run: a new fact fits the step at hand, a
// decision was offered, a correction names a standing fact of its own kind with a
// reason. An error is a verdict.Problems with JSON pointers into the fact.
func Admit(p Plan, facts []fact.Fact, f fact.Fact, now time.Time) error {
	return NewGate(p, facts).Admit(f, now)
}

// Gate admits facts one after the other.
type Gate struct {
	plan  Plan
	facts []fact.Fact
	out   *Outcome // of these facts; nil when it is still to be made
}

// NewGate begins with the facts that are on record.
func NewGate(p Plan, facts []fact.Fact) *Gate { return &Gate{plan: p, facts: slices.Clip(facts)} }

// Admit checks a fact as [Admit] does, and takes it as being on record from then on. A sample
// leaves its step at hand, so that a table of them is admitted in one pass.
func (g *Gate) Admit(f fact.Fact, now time.Time) error {
	if err := g.check(f, now); err != nil {
		return err
	}
	g.facts = append(g.facts, f)
	if step := g.atHand(); step == nil || step.Input != InputSample || f.Replaces != "" || f.Kind != step.Kind {
		g.out = nil
	}
	return nil
}

// atHand is the step at hand of what was made last; nil when none is.
func (g *Gate) atHand() *Step {
	if g.out == nil {
		return nil
	}
	if i := slices.IndexFunc(g.out.Steps, func(s Step) bool { return s.State == Now }); i >= 0 {
		return &g.out.Steps[i]
	}
	return nil
}

func (g *Gate) check(f fact.Fact, now time.Time) error {
	p := g.plan
	wrong := func(field, reason string, args ...any) error {
		return verdict.Problems{{Field: field, Reason: fmt.Sprintf(reason, args...)}}
	}
	var beyond verdict.Problems
	if f.Bounded(&beyond); len(beyond) > 0 {
		return beyond
	}
	if f.Part < 0 || f.Part >= p.Parts() {
		return wrong("/part", "this plan has %d parts, counted from 0", p.Parts())
	}
	if f.Replaces != "" {
		return admitCorrection(p, g.facts, f)
	}
	if f.Kind == KindNote {
		return p.Check(f)
	}
	if g.out == nil {
		out, err := p.Make(g.facts, now)
		if err != nil {
			return err
		}
		g.out = &out
	}
	out := g.out
	if f.Kind == KindDecided && slices.ContainsFunc(out.Offers, func(o Offer) bool { return o.ID == f.Choice && o.Part == f.Part }) {
		return p.Check(f)
	}
	switch out.Status {
	case Void:
		return wrong("/kind", "this run is void (%s): begin again from the plan, or correct the reading that voided it", out.Reason)
	case Finished:
		return wrong("/kind", "this run is finished: correct a reading if one was wrong")
	}
	step := g.atHand()
	switch {
	case f.Kind != KindDecided && (f.Kind != step.Kind || f.Part != step.Part || !step.Asks):
		return wrong("/kind", "not the step at hand: %s comes now", LowerFirst(step.Title))
	case f.Kind == KindDecided && (f.Part != step.Part || !step.Takes(f.Choice)):
		return wrong("/choice", "“%s” is not a choice at this step (%s)", f.Choice, step.Title)
	}
	return p.Check(f)
}

// Takes reports whether a step may be answered with a decision: one that a verdict of it offers, or
// the one that ends it.
func (s *Step) Takes(choice string) bool {
	return s.Ends != nil && s.Ends.ID == choice || slices.ContainsFunc(s.Verdicts, func(v verdict.Verdict) bool {
		return slices.ContainsFunc(v.Choices, func(c verdict.Choice) bool { return c.ID == choice })
	})
}

// admitCorrection checks a fact that replaces another.
func admitCorrection(p Plan, facts []fact.Fact, f fact.Fact) error {
	standing := fact.Standing(facts)
	i := slices.IndexFunc(standing, func(old fact.Fact) bool { return old.ID == f.Replaces })
	var wrong verdict.Problems
	switch {
	case i < 0:
		wrong.Add("/replaces", "this reading was corrected already, or is of another run: look at the newest one")
	case strings.TrimSpace(f.Reason) == "":
		wrong.Add("/reason", "a correction needs a reason, like “misread”")
	case f.Part != standing[i].Part:
		wrong.Add("/part", "this reading is of another part: correct it at its own step")
	case f.Kind == fact.Withdrawn:
		f.Only(&wrong)
	case f.Kind != standing[i].Kind:
		wrong.Add("/kind", "a “%s” is corrected by another “%s”, not by “%s”", standing[i].Kind, standing[i].Kind, f.Kind)
	case f.Kind == KindDecided:
		wrong.Add("/kind", "a decision is withdrawn, not corrected")
	default:
		return p.Check(f)
	}
	return wrong.OrNil()
}
