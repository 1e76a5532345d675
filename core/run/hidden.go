package run

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/verdict"
)

// Hidden is what is kept from those who are to work their result out themselves first.
type Hidden struct {
	// Figures are what is computed from what they read; Verdicts what the rules say of it.
	Figures  bool `json:"figures,omitempty"`
	Verdicts bool `json:"verdicts,omitempty"`
}

// mostSaid is how many entries of a step are told one by one where it is folded.
const mostSaid = 4

// From hides it from the outcome of these facts. What was read stays, and what somebody has to decide; where figures are
// hidden, the drawing is that of a run which has not begun. An error is that of the plan.
func (h Hidden) From(o Outcome, p Plan, facts []fact.Fact, now time.Time) (Outcome, error) {
	if h == (Hidden{}) {
		return o, nil
	}
	o.Steps = slices.Clone(o.Steps)
	if h.Verdicts {
		for i := range o.Steps {
			o.Steps[i].Verdicts = unsaid(&o.Steps[i], p)
		}
	}
	if !h.Figures {
		return o, nil
	}
	byID := map[string]fact.Fact{}
	for _, f := range facts {
		byID[f.ID] = f
	}
	for i := range o.Steps {
		if s := &o.Steps[i]; s.Summary != "" {
			s.Summary = told(s, p, byID)
		}
	}
	blank, err := p.Make(nil, now)
	o.Figures, o.View = []figure.Figure{}, blank.View
	return o, err
}

// unsaid leaves of the verdicts on a step what has to be decided, in the words in which a decision goes on record.
func unsaid(s *Step, p Plan) (list []verdict.Verdict) {
	for _, v := range s.Verdicts {
		if len(v.Choices) == 0 {
			continue
		}
		plain := verdict.Verdict{Level: verdict.Look, Sentence: "Decide how you go on."}
		for _, c := range v.Choices {
			said := p.Sentence(fact.Fact{Kind: KindDecided, Choice: c.ID, Part: s.Part})
			if _, words, ok := strings.Cut(said, "Decided: "); ok {
				c.Label = UpperFirst(words)
			}
			plain.Choices = append(plain.Choices, c)
		}
		// The first one would lead on: none does here.
		slices.SortStableFunc(plain.Choices, func(a, b verdict.Choice) int { return strings.Compare(a.Label, b.Label) })
		list = append(list, plain)
	}
	return list
}

// told is a step as it was read: its readings, or what was said where none was asked for.
func told(s *Step, p Plan, facts map[string]fact.Fact) string {
	var list, read []string
	for _, id := range s.Facts {
		f := facts[id]
		list = append(list, p.Sentence(f))
		if f.Quantity != nil || f.Count != nil {
			read = append(read, list[len(list)-1])
		}
	}
	if len(read) > 0 {
		list = read
	}
	switch n := len(list); {
	case n == 0:
		return s.Title
	case n > mostSaid:
		return fmt.Sprintf("%s: %d entries, the last: %s", s.Title, n, list[n-1])
	}
	return UpperFirst(strings.Join(withoutRepeats(list), "; "))
}

// withoutRepeats leaves out what each sentence says before a colon, where the one before said the same: “Trial 1: …”.
func withoutRepeats(list []string) []string {
	short := slices.Clone(list)
	for i := 1; i < len(list); i++ {
		about, rest, ok := strings.Cut(list[i], ": ")
		if before, _, _ := strings.Cut(list[i-1], ": "); ok && before == about {
			short[i] = rest
		}
	}
	return short
}
