// Package verdict holds judgements: what a rule of the trade says about what was
// seen, why, and what a person can do about it. The tool advises, the person
// decides.
package verdict

import "fmt"

// Level is how grave a verdict is.
type Level string

// The three levels.
const (
	Fine Level = "fine"
	Look Level = "look"
	Stop Level = "stop"
)

// Choice is one way on.
type Choice struct {
	// ID goes into the fact that records the decision.
	ID string `json:"id"`
	// Label is the button: an imperative.
	Label string `json:"label"`
	// Takes names what is stated with it, where choices of one step differ in that:
	// “name reading note”.
	Takes string `json:"takes,omitempty"`
}

// Verdict is one judgement.
type Verdict struct {
	Rule     string   `json:"rule"`
	Level    Level    `json:"level"`
	Sentence string   `json:"sentence"`
	Reason   string   `json:"reason"`
	Choices  []Choice `json:"choices,omitempty"`
}

// Rule is a rule of the trade with a threshold that the lab can set.
type Rule struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Why is the reason shown beside every verdict of the rule.
	Why string `json:"why"`
	// Threshold is the default; Unit says what it counts. Min and Max bound what
	// a lab can set. A rule without a unit has no threshold.
	Threshold float64 `json:"threshold"`
	Unit      string  `json:"unit,omitempty"`
	Min       float64 `json:"min"`
	Max       float64 `json:"max"`
	// Words stand for the thresholds 0, 1, … of a rule that chooses between readings.
	Words []string `json:"words,omitempty"`
	// Source is the published source, or "common practice".
	Source string `json:"source"`
}

// Thresholds are a lab's own settings by rule ID; what is missing has its default.
type Thresholds map[string]float64

// Of returns the threshold of a rule.
func (t Thresholds) Of(r Rule) float64 {
	if v, ok := t[r.ID]; ok {
		return v
	}
	return r.Threshold
}

// Says makes a verdict of the rule.
func (r Rule) Says(level Level, choices []Choice, sentence string, args ...any) Verdict {
	return r.Finds(level, choices, fmt.Sprintf(sentence, args...))
}

// Finds is [Rule.Says] with a sentence that is ready.
func (r Rule) Finds(level Level, choices []Choice, sentence string) Verdict {
	return Verdict{Rule: r.ID, Level: level, Sentence: sentence, Reason: r.Why, Choices: choices}
}

// Problem is one field of an input that cannot be used. Field is a JSON pointer
// into the input; Reason says what is wrong and what would be right.
type Problem struct {
	Field  string `json:"field"`
	Reason string `json:"reason"`
}

// Problems are all that is wrong with an input.
type Problems []Problem

func (p Problems) Error() string {
	if len(p) == 0 {
		return "no problems"
	}
	return p[0].Reason
}

// Add notes a problem.
func (p *Problems) Add(field, reason string, args ...any) {
	*p = append(*p, Problem{field, fmt.Sprintf(reason, args...)})
}

// OrNil returns the problems as an error, nil when there are none.
func (p Problems) OrNil() error {
	if len(p) == 0 {
		return nil
	}
	return p
}
