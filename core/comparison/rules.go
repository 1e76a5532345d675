package comparison

import "vialbench/core/verdict"

// The rules of a comparison.
var (
	// RuleApart is from which |z| on a result is off.
	RuleApart = verdict.Rule{
		ID: "CO-1", Title: "A result unlike the others", Threshold: 3, Unit: "standard deviations", Min: 2, Max: 5,
		Why: "Three standard deviations from the others is hardly ever scatter alone.", Source: "ISO 13528:2022, 9.4, from memory",
	}
	// RuleCommon is from how many standard errors on all results of a class are off together.
	RuleCommon = verdict.Rule{
		ID: "CO-2", Title: "All results off together", Threshold: 3, Unit: "standard errors", Min: 2, Max: 6,
		Why: "One slip does not happen to everybody: what all used is looked at first.", Source: "common practice",
	}
	// RuleTrue is from which |E_n| on a result disagrees with the true value of its bottle.
	RuleTrue = verdict.Rule{
		ID: "CO-3", Title: "A result against the true value", Threshold: 1, Unit: "times both uncertainties", Min: 0.5, Max: 5,
		Why: "A result and the true value agree when they differ by no more than both leave open.", Source: "ISO 13528:2022, 9.7, from memory",
	}
)

// Rules lists the rules of comparisons.
func Rules() []verdict.Rule { return []verdict.Rule{RuleApart, RuleCommon, RuleTrue} }
