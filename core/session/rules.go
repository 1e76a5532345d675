package session

import "vialbench/core/verdict"

// The rules of sessions. Thresholds are defaults that a lab can set.
var (
	RuleSpare = verdict.Rule{
		ID: "S-1", Title: "Trials to spare", Threshold: 1, Unit: "trials", Min: 0, Max: 5,
		Why: "One trial goes wrong. Who has nothing left for another cannot finish.", Source: "common practice",
	}
	RuleRinse = verdict.Rule{
		ID: "S-2", Title: "A rinse of a burette", Threshold: 5, Unit: "mL", Min: 1, Max: 20,
		Why: "About a tenth of what it holds wets the whole wall when the burette is turned.", Source: "common practice",
	}
	RuleStays = verdict.Rule{
		ID: "S-3", Title: "What stays in a burette", Threshold: 5, Unit: "mL", Min: 0, Max: 25,
		Why: "The tip and what is below the last mark are filled too, and nobody runs it dry.", Source: "common practice",
	}
	RuleBeaker = verdict.Rule{
		ID: "S-4", Title: "What stays in the beaker under a pipette", Threshold: 10, Unit: "mL", Min: 0, Max: 50,
		Why: "A pipette whose tip comes out of the liquid draws air.", Source: "common practice",
	}
	RuleCovered = verdict.Rule{
		ID: "S-5", Title: "A bulb is covered", Threshold: 30, Unit: "mL", Min: 5, Max: 100,
		Why: "A probe reads right only when bulb and junction are below the surface.", Source: "common practice",
	}
	RuleSpilled = verdict.Rule{
		ID: "S-6", Title: "For what is spilled", Threshold: 5, Unit: "%", Min: 0, Max: 50,
		Why: "A bottle tips over, a group begins again.", Source: "common practice",
	}
	RulePlaces = verdict.Rule{
		ID: "S-7", Title: "Places besides the groups", Threshold: 1, Unit: "places", Min: 0, Max: 5,
		Why: "Who demonstrates needs as much as a group.", Source: "common practice",
	}
	RuleReserve = verdict.Rule{
		ID: "S-8", Title: "All is ready before the hour", Threshold: 15, Unit: "min", Min: 0, Max: 240,
		Why: "The first come early, and something is always missing.", Source: "common practice",
	}
	RuleTolerance = verdict.Rule{
		ID: "S-9", Title: "A strength that serves", Threshold: 5, Unit: "%", Min: 0.1, Max: 20,
		Why: "The actual strength counts in all results, so that a bottle near the one that was planned does as well.", Source: "common practice",
	}
	RuleFresh = verdict.Rule{
		ID: "S-10", Title: "Meters are calibrated at the start", Threshold: 60, Unit: "min before", Min: 15, Max: 480,
		Why: "A probe drifts: a calibration of the day before is none.", Source: "common practice",
	}
	RuleWeek = verdict.Rule{
		ID: "S-11", Title: "Standardised in the week", Threshold: 7, Unit: "days before", Min: 1, Max: 60,
		Why: "What takes up carbon dioxide or is broken down by light loses strength on the shelf.", Source: "common practice",
	}
	RuleAtOnce = verdict.Rule{
		ID: "S-12", Title: "Enough glass at once",
		Why: "All groups begin at the same time.", Source: "common practice",
	}
	RuleSettles = verdict.Rule{
		ID: "S-13", Title: "What standardising takes", Threshold: 100, Unit: "mL", Min: 0, Max: 500,
		Why: "Three trials of 25 mL and the rinsing come out of the bottle that the groups are to have.", Source: "common practice",
	}
)

// What a laboratory has of the large things, which no list of its own has.
var (
	RuleOvens = verdict.Rule{
		ID: "S-14", Title: "Drying ovens", Threshold: 1, Unit: "ovens", Min: 1, Max: 20,
		Why: "What is dried at one temperature blocks the oven for what is dried at another.", Source: "common practice",
	}
	RuleHoods = verdict.Rule{
		ID: "S-15", Title: "Fume hoods", Threshold: 1, Unit: "hoods", Min: 1, Max: 50,
		Why: "Concentrated acids and ammonia are measured under a hood, by one person at each.", Source: "common practice",
	}
)

// Rules lists the rules of sessions.
func Rules() []verdict.Rule {
	return []verdict.Rule{
		RuleSpare, RuleRinse, RuleStays, RuleBeaker, RuleCovered, RuleSpilled, RulePlaces, RuleReserve, RuleTolerance, RuleFresh, RuleWeek,
		RuleAtOnce, RuleSettles, RuleOvens, RuleHoods,
	}
}
