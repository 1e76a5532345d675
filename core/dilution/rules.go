package dilution

import "vialbench/core/verdict"

// The rules of dilution. Thresholds are defaults that a lab can set.
var (
	RuleSmallVolume = verdict.Rule{
		ID:        "D-1",
		Title:     "Enough of a scale is used",
		Threshold: leastDivisions,
		Unit:      "smallest divisions",
		Min:       5,
		Max:       100,
		Why:       "A scale is read to about a fifth of its smallest division, twice: on a few divisions that is several per cent.",
		Source:    "common practice",
	}
	RuleStockLeft = verdict.Rule{
		ID: "D-2", Title: "The bottle holds enough",
		Why: "A pipette is rinsed two or three times with what it will hold, and that is drawn too.", Source: "common practice",
	}
	RuleRunsOut = verdict.Rule{
		ID: "D-3", Title: "No stage runs out",
		Why: "Of each stage a portion is kept, some is carried on, and the pipette is rinsed with it.", Source: "common practice",
	}
	RuleAdditive = verdict.Rule{
		ID: "D-4", Title: "To the mark, or so much added",
		Why: "Making up to 100 mL and adding 100 mL are different things: volumes are not additive.", Source: "common practice",
	}
	RuleNearest = verdict.Rule{
		ID:     "D-5",
		Title:  "Reached exactly, or nearly",
		Why:    "Glass comes in a few volumes, and nobody pours a target exactly. What was reached is what the label says.",
		Source: "common practice",
	}
	RuleColon = verdict.Rule{
		ID:     "D-6",
		Title:  "One in twenty, or one and twenty",
		Unit:   "reading of 1:20",
		Words:  []string{"one part in twenty", "one part and twenty parts"},
		Max:    1,
		Why:    "“1:20” is one part in twenty to most, and one part and twenty parts to some. What was read is always said.",
		Source: "common practice",
	}
)

// RuleConcentrate is about starting from a concentrated liquid.
var RuleConcentrate = verdict.Rule{
	ID:     "D-7",
	Title:  "From a concentrated liquid",
	Why:    "Poured the wrong way round it boils and spits; hot, it fills the flask to the wrong volume; and its label is only approximately right.",
	Source: "common practice",
}

// RuleSearched is about a search that is too large to be finished.
var RuleSearched = verdict.Rule{
	ID: "D-12", Title: "The search for a route",
	Why:    "With very much glass and four steps there are more combinations than can be looked at while somebody waits.",
	Source: "common practice",
}

// RuleFlasks is about how many flasks a ladder takes.
var RuleFlasks = verdict.Rule{
	ID: "D-8", Title: "A flask for every tube",
	Why: "A flask that still holds one stage cannot take the next.", Source: "common practice",
}

// RulePast is about a stage that must be made again.
var RulePast = verdict.Rule{
	ID:     "D-9",
	Title:  "A stage made again",
	Why:    "Past the mark the volume is unknown, and no liquid is taken out again. All that is made from a stage carries its error.",
	Source: "common practice",
}

// RuleTwoBurettes is about series by burettes.
var RuleTwoBurettes = verdict.Rule{
	ID: "D-10", Title: "A burette for each liquid",
	Why: "A burette that held stock makes the solvent stronger, and one that held water makes the stock weaker.", Source: "common practice",
}

// RuleOneOfASize says which school the budget follows where glass carries no mark.
var RuleOneOfASize = verdict.Rule{
	ID:     "D-11",
	Title:  "Unmarked glass of one size counts as one piece",
	Why:    "Which of several alike was taken is unknown, so its error is counted as the same every time. Mark the pieces and list each by itself to count them apart.",
	Source: "common practice",
}

// Rules lists the rules of the package.
func Rules() []verdict.Rule {
	return []verdict.Rule{
		RuleSmallVolume,
		RuleStockLeft,
		RuleRunsOut,
		RuleAdditive,
		RuleNearest,
		RuleColon,
		RuleConcentrate,
		RuleFlasks,
		RuleSearched,
		RulePast,
		RuleTwoBurettes,
		RuleOneOfASize,
	}
}
