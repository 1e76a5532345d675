package curve

import (
	"vialbench/core/verdict"
)

// The rules of curves.
var (
	RuleStart = verdict.Rule{
		ID: "T-15", Title: "The pH before anything is added",
		Why: "Without it the curve has no beginning, and the first constant has no basis.", Source: "common practice",
	}
	RuleTwice = verdict.Rule{
		ID: "T-16", Title: "Two readings at one volume", Threshold: 0.05, Unit: "pH", Min: 0.01, Max: 1,
		Why: "Both stay. When they differ the first was taken before it had settled, or a drop fell in between.", Source: "common practice",
	}
	RuleTells = verdict.Rule{
		ID:        "T-17",
		Title:     "What a fit can tell",
		Threshold: 0.98,
		Unit:      "correlation",
		Min:       0.5,
		Max:       0.9999,
		Why:       "Two parameters that move together cannot be told apart by these readings: fix one of them, or go on beyond the end point.",
		Source:    "JCGM 100 (GUM)",
	}
	RuleFits = verdict.Rule{
		ID:        "T-18",
		Title:     "How well a fit follows",
		Threshold: 0.05,
		Unit:      "pH",
		Min:       0.01,
		Max:       0.5,
		Why:       "A settled meter scatters by one or two hundredths. More is in the model: another acid, carbonate, a wrong volume.",
		Source:    "common practice",
	}
	RuleFitsVolume = verdict.Rule{
		ID:        "T-27",
		Title:     "How well a fit follows, in the volumes",
		Threshold: 0.05,
		Unit:      "mL",
		Min:       0.005,
		Max:       1,
		Why:       "A burette is read to one or two hundredths, a drop is five. More is in the model, or one reading is wrong.",
		Source:    "common practice",
	}
	RuleMissed = verdict.Rule{
		ID: "T-28", Title: "A fit that misses the readings", Threshold: 0.2, Unit: "pH", Min: 0.05, Max: 2,
		Why: "No meter scatters like this: the model is of something else, and what it finds is meaningless.", Source: "common practice",
	}
	RuleMissedVolume = verdict.Rule{
		ID:        "T-29",
		Title:     "A fit that misses the readings, in the volumes",
		Threshold: 0.3,
		Unit:      "mL",
		Min:       0.05,
		Max:       5,
		Why:       "Nobody reads a burette like this: the model is of something else, and what it finds is meaningless.",
		Source:    "common practice",
	}
	RuleListed = verdict.Rule{
		ID: "T-30", Title: "A constant far from the listed one", Threshold: 0.5, Unit: "pH", Min: 0.1, Max: 3,
		Why: "Salt, temperature and another source move a pKa by a tenth or two. More is another acid.", Source: "common practice",
	}
)

// Rules lists the rules of the package.
func Rules() []verdict.Rule {
	return []verdict.Rule{
		RuleShows,
		RuleProtonated,
		RuleStart,
		RuleTwice,
		RuleTells,
		RuleFits,
		RuleFitsVolume,
		RuleMissed,
		RuleMissedVolume,
		RuleListed,
		RuleStep,
		RuleMost,
		RuleBeyond,
		RuleRuns,
	}
}
