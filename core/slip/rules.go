package slip

import (
	"vialbench/core/verdict"
)

// The rules of tracing.
var (
	// RuleOwnRounding is how far a hand calculation strays by its own rounding.
	RuleOwnRounding = verdict.Rule{
		ID: "SL-1", Title: "Rounding of a hand calculation", Threshold: 0.05, Unit: "%", Min: 0.001, Max: 1,
		Why: "Molar masses and intermediate results are rounded on the way, which is no slip.", Source: "common practice",
	}
	// RuleNamed is from which share on a slip is named.
	RuleNamed = verdict.Rule{
		ID: "SL-2", Title: "When a slip is named", Threshold: 50, Unit: "%", Min: 20, Max: 99,
		Why: "An honest result must not be blamed: a slip is named when it is likelier than all else together.", Source: "common practice",
	}
	// RuleHands is how well a result is known of which nobody says how well: its relative expanded uncertainty.
	RuleHands = verdict.Rule{
		ID: "SL-3", Title: "A result without an uncertainty", Threshold: 0.6, Unit: "%, k = 2", Min: 0.05, Max: 10,
		Why: "What a class does by hand agrees with the true value to within this; what is further off is looked into.", Source: "common practice",
	}
)

// Rules lists the rules of tracing.
func Rules() []verdict.Rule { return []verdict.Rule{RuleOwnRounding, RuleNamed, RuleHands} }
