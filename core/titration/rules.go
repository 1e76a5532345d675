package titration

import (
	"vialbench/core/curve"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// The rules of titrations. Thresholds are defaults that a lab can set.
var (
	RuleRinse = verdict.Rule{
		ID: "T-1", Title: "Rinse the burette with what goes in", Threshold: 2, Unit: "times", Min: 1, Max: 5,
		Why:    "Water or another solution left on the wall thins the titrant. The flask below may be wet with water: that changes no amount.",
		Source: "common practice",
	}
	RuleScale = verdict.Rule{
		ID: "T-2", Title: "Read the burette one digit beyond its marks",
		Why:    "The tenth between two marks is estimated, no finer. What is below the last mark was never calibrated.",
		Source: "ISO 385; common practice",
	}
	RuleRough = verdict.Rule{
		ID: "T-3", Title: "The first trial may be rough", Threshold: 1, Unit: "choice", Min: 0, Max: 1,
		Words: []string{"every trial counts", "the first is rough"},
		Why:   "It tells where the end point lies. From then on most is run in at once, and the rest drop by drop.", Source: "common practice",
	}
	RuleAtOnce = verdict.Rule{
		ID: "T-4", Title: "Stop short of the end point at first", Threshold: 1, Unit: "mL", Min: 0.2, Max: 5,
		Why: "The last millilitre goes in drop by drop, with the walls washed down.", Source: "common practice",
	}
	RulePast = verdict.Rule{
		ID: "T-5", Title: "Past the end point",
		Why:    "The amount is unknown: drops are never subtracted. The trial is set aside and done again.",
		Source: "common practice",
	}
	RuleAgree = verdict.Rule{
		ID:        "T-6",
		Title:     "Trials that agree",
		Threshold: 0.10,
		Unit:      "mL",
		Min:       0.02,
		Max:       1,
		Why:       "Two drops apart is as well as eyes and hands repeat an end point. Those that agree are averaged, and only those.",
		Source:    "common practice",
	}
	RuleTrials = verdict.Rule{
		ID: "T-7", Title: "How many must agree", Threshold: 2, Unit: "trials", Min: 2, Max: 6,
		Why: "One trial shows no slip. With a rough one before them, two that agree make three.", Source: "common practice",
	}
	RuleEndPoint = verdict.Rule{
		ID: "T-8", Title: "How well an end point is met", Threshold: 0.025, Unit: "mL", Min: 0.005, Max: 0.2,
		Why: "The colour turns within one drop, 0.05 mL: half of it to either side.", Source: "common practice",
	}
	RuleTitre = verdict.Rule{
		ID: "T-9", Title: "Large enough a titre", Threshold: 10, Unit: "mL", Min: 1, Max: 30,
		Why:    "Reading, drop and burette are the same for every titre: of 20 mL they are a few tenths of a per cent, of 5 mL over one.",
		Source: "common practice",
	}
	RuleFlask = verdict.Rule{
		ID: "T-32", Title: "A solid made up to a flask",
		Why:    "What is found in an aliquot goes back to the whole flask, and from there to the solid: the flask has to be filled to its mark, and to hold what all trials take.",
		Source: "common practice",
	}
	RuleDrops = verdict.Rule{
		ID: "T-23", Title: "Enough drops", Threshold: 50, Unit: "drops", Min: 10, Max: 200,
		Why: "The end point lies within one drop: of 50 that is 2 %.", Source: "common practice",
	}
	RulePair = verdict.Rule{
		ID:     "T-24",
		Title:  "Two end points of one sample",
		Why:    "To the first one hydroxide and half of the carbonate take acid, from there on the other half and what hydrogen carbonate there was.",
		Source: "Warder; common practice",
	}
	RuleBack = verdict.Rule{
		ID: "T-25", Title: "An excess of the right size", Threshold: 15, Unit: "%", Min: 2, Max: 40,
		Why:    "What is found is the difference of what was added and what is left: too much of either makes it uncertain.",
		Source: "common practice",
	}
	RuleNegative = verdict.Rule{
		ID: "T-31", Title: "A result below nothing",
		Why:    "An amount is zero or more: what gives less is a figure that is misread, exchanged, or of another sample.",
		Source: "common practice",
	}
	RuleOutlier = verdict.Rule{
		ID: "T-10", Title: "A trial far out",
		Why:    "A test of outliers is advice: a trial is left out for a reason that was seen, not for its figure alone.",
		Source: "Dixon (Rorabacher 1991) and Grubbs (1969), two-sided 95 %",
	}
	RuleScatter = verdict.Rule{
		ID: "T-11", Title: "Scatter beside the budget", Threshold: 2, Unit: "times", Min: 1, Max: 10,
		Why:    "Glass, readings and drops explain some scatter. More than that has a cause in how it is done.",
		Source: "JCGM 100 (GUM)",
	}
	RuleMade = verdict.Rule{
		ID: "T-12", Title: "Beside what it was made as", Threshold: 5, Unit: "%", Min: 0.5, Max: 50,
		Why:    "Moisture, air and standing take a few per cent of what is made approximately. More is another bottle, or a slip.",
		Source: "common practice",
	}
	RuleRefill = verdict.Rule{
		ID: "T-13", Title: "Enough in the burette",
		Why:    "A refill in the middle of a trial costs two readings more. It goes in below eye level, through a funnel that is taken away.",
		Source: "common practice",
	}
)

// Rules lists the rules of the package in the order of the work.
func Rules() []verdict.Rule {
	return append([]verdict.Rule{
		RuleRinse,
		RuleScale,
		RuleRough,
		RuleAtOnce,
		RuleRefill,
		RulePast,
		RuleAgree,
		RuleTrials,
		RuleEndPoint,
		RuleTitre,
		RuleNegative,
		RuleDrops,
		RulePair,
		RuleBack,
		RuleFlask,
		run.RuleFactor,
		RuleOutlier,
		RuleScatter,
		RuleMade,
	}, curve.Rules()...)
}
