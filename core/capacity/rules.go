package capacity

import (
	"math"

	"vialbench/core/buffer"
	"vialbench/core/electrode"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// The rules of a capacity test. Thresholds are defaults that a lab can set.
var (
	RuleWay = verdict.Rule{
		ID: "B-15", Title: "Acid lowers, base raises", Threshold: 0.02, Unit: "pH", Min: 0.005, Max: 0.5,
		Why: "A pH that goes the other way was read too early, or the bottles were mixed up.", Source: "common practice",
	}
	RuleMoves = verdict.Rule{
		ID: "B-16", Title: "Enough to see", Threshold: 3, Unit: "standard uncertainties", Min: 1, Max: 10,
		Why: "A step is known as well as the difference of two readings: a few hundredths tell no capacity.", Source: "JCGM 100 (GUM)",
	}
	RuleTheory = verdict.Rule{
		ID: "B-17", Title: "Theory beside it", Threshold: 0.05, Unit: "pH", Min: 0.01, Max: 0.5,
		Why:    "The balance of the buffer tells each reading; what all of them are off by together is the meter, what grows is the strength.",
		Source: "common practice",
	}
	RuleWater = verdict.Rule{
		ID: "B-18", Title: "Water beside it",
		Why: "Plain water moves by units with a few drops: that is what a buffer is for.", Source: "common practice",
	}
	RuleShade = verdict.Rule{
		ID:        "B-19",
		Title:     "The colour seen, beside the one expected",
		Threshold: 1,
		Unit:      "shades of five",
		Min:       0,
		Max:       4,
		Why:       "An indicator tells the pH to about half a unit, and eyes differ by a shade. Two shades off is another pH, or the wrong bottle.",
		Source:    "common practice",
	}
)

// Rules lists the rules of the package in the order of the work.
func Rules() []verdict.Rule {
	return []verdict.Rule{RuleWay, RuleMoves, RuleTheory, RuleWater, buffer.RuleDilution, buffer.RuleWarming, electrode.RuleWarmed, RuleShade}
}

// judgeStep gives the verdict on one step.
func judgeStep(s Step, acid bool) []verdict.Verdict {
	what, way := "Base", "down"
	if acid {
		what, way = "Acid", "up"
	}
	switch {
	case s.Wrong:
		return []verdict.Verdict{
			RuleWay.Says(
				verdict.Look,
				nil,
				"%s was added, and the pH went %s, near pH %s: has it settled, and was it the right bottle? Read it again.",
				what,
				way,
				quantity.Digits(s.PH, 2),
			),
		}
	case s.Small:
		return []verdict.Verdict{
			RuleMoves.Says(verdict.Look, nil, "The step near pH %s hardly moved it: add more at a time.", quantity.Digits(s.PH, 2)),
		}
	}
	return nil
}

// judgeFit compares what was found with what the label says.
func (r Request) judgeFit(f Fit) verdict.Verdict {
	strength, u := quantity.Round(100*f.Strength.Value, 100*f.Strength.Expanded())
	off := "the pH as calculated"
	if math.Abs(f.Offset.Value) >= 0.005 {
		off = "pH " + quantity.Digits(math.Abs(f.Offset.Value), 2) + map[bool]string{true: " higher", false: " lower"}[f.Offset.Value > 0]
	}
	if most := r.Thresholds.Of(RuleTheory); math.Abs(f.Offset.Value) > most || f.SD > most ||
		math.Abs(f.Strength.Value-1) > f.Strength.Expanded()+0.1 {
		return RuleTheory.Says(
			verdict.Look,
			nil,
			"Beside theory: strength %s ± %s %% of the label, %s, scatter %s pH. Look at the meter, the strength of what was added, and the buffer itself.",
			strength,
			u,
			off,
			quantity.Digits(f.SD, 2),
		)
	}
	return RuleTheory.Says(verdict.Fine, nil, "The readings follow theory: strength %s ± %s %% of the label, %s.", strength, u, off)
}
