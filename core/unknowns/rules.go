package unknowns

import "vialbench/core/verdict"

// RuleApart is how far strengths are apart, in units of what the method leaves open of both (k = 2).
var RuleApart = verdict.Rule{
	ID: "UN-1", Title: "Unknowns that can be told apart", Threshold: 1.5, Min: 1, Max: 5,
	Why: "A careful group must not be taken for its neighbour by scatter alone.", Source: "ISO 13528:2022, 9.7 (E_n), from memory; the margin is common practice",
}

// Rules lists the rules of unknowns.
func Rules() []verdict.Rule { return []verdict.Rule{RuleApart} }
