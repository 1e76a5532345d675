package run

import "vialbench/core/verdict"

// RuleInversions is about mixing, in a flask of a solution as in a tube of a dilution.
var RuleInversions = verdict.Rule{ID: "M-7", Title: "Mix thoroughly", Threshold: 20, Unit: "inversions", Min: 3, Max: 100,
	Why: "The solution is still layered after a few turns, and the first reading of it is wrong. Some labs stop at 10.", Source: "common practice"}
