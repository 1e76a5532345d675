package buffer

import (
	"vialbench/core/calibration"
	"vialbench/core/equilibrium"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The rules of buffers. Thresholds are defaults that a lab can set.
var (
	RuleRange = verdict.Rule{
		ID: "B-2", Title: "Within reach of the pKa", Threshold: 1, Unit: "pH", Min: 0.3, Max: 2,
		Why:    "A pair buffers best at its pKa; one pH away it is down to a third, beyond that hardly anything is left.",
		Source: "common practice",
	}
	RuleRatio = verdict.Rule{
		ID: "B-3", Title: "Which of the two is more",
		Why:    "Base over acid goes into the logarithm: below the pKa there is more acid than base, above it more base than acid.",
		Source: "Henderson–Hasselbalch equation",
	}
	RuleBasis = verdict.Rule{
		ID: "B-4", Title: "What a concentration of a buffer counts", Threshold: 0, Unit: "choice", Min: 0, Max: 2,
		Words:  []string{"acid and base together", "the acid alone", "the base alone"},
		Why:    "Both schools are taught. “0.1 mol/L acetate buffer” means acid and acetate together unless somebody says otherwise.",
		Source: "common practice",
	}
	RuleClose = verdict.Rule{
		ID: "B-5", Title: "Close enough to the pH wanted", Threshold: 0.05, Unit: "pH", Min: 0.01, Max: 0.5,
		Why:    "A meter that was calibrated today is good to a few hundredths; closer than that nobody can tell.",
		Source: "common practice",
	}
	RulePortion = verdict.Rule{
		ID: "B-6", Title: "Stop short at first", Threshold: 70, Unit: "% of what is calculated", Min: 20, Max: 95,
		Why:    "What is past the pH wanted needs the other reagent, which adds salt and volume. Two portions are safer than one.",
		Source: "common practice",
	}
	RuleRoom = verdict.Rule{
		ID: "B-7", Title: "Stay below the mark", Threshold: 95, Unit: "% of the flask", Min: 60, Max: 99,
		Why:    "The pH is set before the mark: past it the concentration is no longer what the label says.",
		Source: "common practice",
	}
	RuleSolubility = verdict.Rule{
		ID: "B-8", Title: "It must dissolve", Threshold: 80, Unit: "% of the solubility", Min: 10, Max: 100,
		Why:    "Near the solubility the last crystals take very long, and come back when the room cools.",
		Source: "common practice",
	}
	RuleDrop = verdict.Rule{
		ID: "B-14", Title: "Enough of a liquid to measure", Threshold: 1, Unit: "mL", Min: 0.1, Max: 10,
		Why:    "Of a concentrated acid or base a drop is a large part of a small volume. Of a stock, made first, tenfold more is measured.",
		Source: "common practice",
	}
	RuleAir = verdict.Rule{
		ID: "B-9", Title: "What the air does to it", Threshold: 0.02, Unit: "pH", Min: 0.005, Max: 0.5,
		Why:    "Water takes up carbon dioxide until it holds about 0.014 mmol/L of it, and more when it is alkaline: a thin buffer feels that.",
		Source: "Henry’s law; common practice",
	}
	RuleWarming = verdict.Rule{
		ID: "B-10", Title: "Made at one temperature, used at another", Threshold: 0.03, Unit: "pH", Min: 0.01, Max: 0.5,
		Why:    "The pKa moves with the temperature, that of amines by three hundredths for each degree.",
		Source: "Goldberg et al., J. Phys. Chem. Ref. Data 31 (2002) 231",
	}
	RuleMiss = verdict.Rule{
		ID:        "B-12",
		Title:     "A pH that is not what was calculated",
		Threshold: 2.6,
		Unit:      "standard uncertainties",
		Min:       1.5,
		Max:       5,
		Why:       "Balance, glass, constants and meter explain a small difference. A larger one has a cause, and most causes can be named.",
		Source:    "JCGM 100 (GUM); common practice",
	}
	RuleDilution = verdict.Rule{
		ID: "B-13", Title: "What dilution does to it", Threshold: 0.1, Unit: "pH", Min: 0.02, Max: 1,
		Why:    "A buffer moves a little when it is diluted, since its ions shield one another less. Measure the pH before, and again after.",
		Source: "IUPAC Recommendations 2002, dilution values",
	}
	RuleKeeps = verdict.Rule{
		ID: "K-8", Title: "Keeps, buffer", Threshold: 28, Unit: "days", Min: 1, Max: 730,
		Why: "Moulds grow in phosphate and citrate, and the air gets at what is alkaline.", Source: "common practice",
	}
)

// Rules lists the rules of the package in the order of the work.
func Rules() []verdict.Rule {
	return []verdict.Rule{
		equilibrium.RuleStrength,
		RuleRange,
		RuleRatio,
		RuleBasis,
		RuleClose,
		RulePortion,
		RuleRoom,
		RuleSolubility,
		RuleDrop,
		RuleAir,
		RuleWarming,
		calibration.RuleProbe,
		RuleMiss,
		RuleDilution,
		run.RuleInversions,
		RuleKeeps,
	}
}
