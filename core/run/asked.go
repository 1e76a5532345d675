package run

import (
	"slices"
	"time"

	"vialbench/core/fact"
	"vialbench/core/verdict"
)

// AskedBy is the step as it asked for a standing fact, found by going through the facts before it: a
// correction is typed into the field that took the reading. An error is a verdict.Problems when the
// fact does not stand or no step asked for it.
func AskedBy(p Plan, facts []fact.Fact, id string, now time.Time) (Step, error) {
	standing := fact.Standing(facts)
	i := slices.IndexFunc(standing, func(f fact.Fact) bool { return f.ID == id })
	if i < 0 {
		return Step{}, verdict.Problems{{Field: "/fact", Reason: "this reading was corrected already, or is of another run: look at the newest one"}}
	}
	before := slices.Clone(standing[:i])
	for k := range before {
		before[k].Replaces = "" // it stands in the place of what it replaced
	}
	out, err := p.Make(before, now)
	if err != nil {
		return Step{}, err
	}
	var asked *Step
	for k := range out.Steps {
		if s := &out.Steps[k]; s.Kind == standing[i].Kind && s.Part == standing[i].Part && (asked == nil || s.State == Now) {
			asked = s
		}
	}
	if asked == nil {
		return Step{}, verdict.Problems{{Field: "/fact", Reason: "no field took this: take it back, and state it again"}}
	}
	asked.Default, asked.Verdicts, asked.Cautions, asked.Ends, asked.Clock, asked.Facts = "", nil, nil, nil, nil, nil
	return *asked, nil
}
