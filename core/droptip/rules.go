package droptip

import "vialbench/core/verdict"

// The rules of counted drops. Thresholds are defaults that a lab can set.
var (
	RuleDrop = verdict.Rule{
		ID: "DT-1", Title: "A drop, unless it was counted", Threshold: 0.05, Unit: "mL", Min: 0.01, Max: 0.1,
		Why:    "Twenty drops are about a millilitre. It varies with tip and liquid: count your own.",
		Source: "common practice",
	}
	RuleEnough = verdict.Rule{
		ID:        "DT-2",
		Title:     "Count enough drops",
		Threshold: 20,
		Unit:      "drops",
		Min:       5,
		Max:       200,
		Why:       "One drop more or less, and what the balance or the cylinder can tell, must be little beside all of them.",
		Source:    "common practice",
	}
	RuleCounts = verdict.Rule{
		ID: "DT-3", Title: "Count more than once", Threshold: 3, Unit: "counts", Min: 2, Max: 10,
		Why: "One count shows no slip, and says nothing of whether the drops are of one size.", Source: "common practice",
	}
	RuleConstant = verdict.Rule{
		ID: "DT-4", Title: "Drops of one size", Threshold: 3, Unit: "%", Min: 0.5, Max: 20,
		Why:    "A tip that is held aslant, dripped fast, or wetted outside gives drops of another size.",
		Source: "common practice",
	}
)

// Rules lists the rules of the package in the order of the work.
func Rules() []verdict.Rule { return []verdict.Rule{RuleDrop, RuleEnough, RuleCounts, RuleConstant} }
