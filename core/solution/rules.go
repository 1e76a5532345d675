package solution

import (
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// The rules of making a standard solution. Thresholds are defaults that a lab can set.
var (
	RuleTare = verdict.Rule{
		ID: "W-1", Title: "The balance starts from zero", Threshold: 2, Unit: "last digits", Min: 1, Max: 20,
		Why: "A tared balance shows zero; what it shows instead goes straight into the mass.", Source: "common practice",
	}
	RuleBand = verdict.Rule{
		ID:        "W-3",
		Title:     "The mass is close enough",
		Threshold: 1,
		Unit:      "%",
		Min:       0.05,
		Max:       20,
		Why:       "The actual mass is what counts afterwards, so a mass inside the band is kept and the bottle is named by its actual concentration.",
		Source:    "common practice",
	}
	RuleExcess = verdict.Rule{
		ID: "W-4", Title: "Excess never goes back",
		Why: "What has left the stock bottle may carry something back into it. Discard it; the record keeps how much.", Source: "common practice",
	}
	RulePrimary = verdict.Rule{
		ID:     "W-6",
		Title:  "Primary or secondary",
		Why:    "Only a pure, stable, dry solid gives an exact concentration by weighing. All else is made approximately and standardised.",
		Source: "common practice",
	}
	RuleDigits = verdict.Rule{
		ID: "W-7", Title: "Every digit shown",
		Why: "The last digit is an estimate, but it was read: record it, and zeros at the end too.", Source: "common practice",
	}
	RuleHydrate = verdict.Rule{
		ID: "W-8", Title: "The hydrate in the bottle",
		Why: "Water of crystallisation is weighed too: left out of the molar mass, the solution comes out too weak.", Source: "common practice",
	}
	RuleMassOrAmount = verdict.Rule{
		ID: "W-9", Title: "Mass or amount",
		Why: "“0.1 molar” worked out as 0.1 gram per litre is the commonest slip of all.", Source: "common practice",
	}
	RuleFlask = verdict.Rule{
		ID: "M-1", Title: "A flask of that volume",
		Why: "A concentration is as good as its volume, and a volumetric flask has one volume.", Source: "ISO 1042",
	}
	RuleSolubility = verdict.Rule{
		ID: "M-2", Title: "It must dissolve", Threshold: 80, Unit: "% of the solubility", Min: 10, Max: 100,
		Why: "Near the solubility the last crystals take very long, and come back when the room cools.", Source: "common practice",
	}
	RuleRinses = verdict.Rule{
		ID: "M-3", Title: "Rinse it all in", Threshold: 2, Unit: "rinses", Min: 1, Max: 10,
		Why: "Solid on the funnel is not in the flask. Several small rinses beat one large one.", Source: "common practice",
	}
	RuleDissolved = verdict.Rule{
		ID: "M-4", Title: "Dissolved before the neck",
		Why: "In the neck nothing can be swirled, and dissolving changes the volume.", Source: "common practice",
	}
	RuleTemperature = verdict.Rule{
		ID: "M-5", Title: "Near 20 °C before the last drops", Threshold: 2, Unit: "°C", Min: 0.5, Max: 10,
		Why: "The mark is right at 20 °C; water changes by 0.02 % per °C.", Source: "ISO 1042; common practice",
	}
	RuleMark = verdict.Rule{
		ID: "M-6", Title: "To the mark, not past it",
		Why: "Past the mark the volume is unknown. No liquid is taken out again, since it would take solute with it.", Source: "common practice",
	}
	RuleHeat = verdict.Rule{
		ID:        "M-8",
		Title:     "Heat of dilution",
		Threshold: 20,
		Unit:      "K",
		Min:       5,
		Max:       80,
		Why:       "Hot solution splashes, breaks glass and fills the flask to the wrong volume. The estimate takes half a flask of water and no heat lost.",
		Source:    "NBS Circular 500; common practice",
	}
	RuleAdding = verdict.Rule{
		ID: "M-9", Title: "Added, not made up", Threshold: 3, Unit: "% of the volume", Min: 0.5, Max: 10,
		Why: "Making up to 100 mL and adding 100 mL are different things: volumes are not additive.", Source: "common practice",
	}
	RuleBatches = verdict.Rule{
		ID:     "M-10",
		Title:  "In batches",
		Why:    "No single flask holds it. The mean of the batches is as good as each of them, when every one is made to the mark.",
		Source: "common practice",
	}
	RuleReach = verdict.Rule{
		ID: "M-11", Title: "Good enough for what is asked",
		Why: "The balance and the flask set what can be reached, however carefully it is done.", Source: "JCGM 100 (GUM)",
	}
	RuleDrying = verdict.Rule{
		ID: "W-12", Title: "Dried or not",
		Why: "Water that clings to a solid is weighed too. Drying is the better way where the solid stands it.", Source: "common practice",
	}
	RuleCommonIon = verdict.Rule{
		ID: "M-12", Title: "One ion from several substances",
		Why: "An ion that comes with two salts counts from both, whatever was asked of each.", Source: "common practice",
	}
	RulePrecipitate = verdict.Rule{
		ID: "M-13", Title: "Nothing may fall out",
		Why: "A precipitate takes its ions out of the solution, and no concentration is what was weighed.", Source: "common practice",
	}
	RuleUsualBalance = verdict.Rule{
		ID:     "W-13",
		Title:  "The balance at hand",
		Why:    "How well a mass is known depends on the balance. Until the lab’s own is entered, a usual one is assumed.",
		Source: "common practice",
	}
	RuleSmallVolume = verdict.Rule{
		ID: "M-14", Title: "Enough to measure", Threshold: 20, Unit: "smallest divisions", Min: 5, Max: 100,
		Why: "A scale is read to about a fifth of its smallest division: of a few divisions that is several per cent.", Source: "common practice",
	}
	RuleShelfPrimary = verdict.Rule{
		ID: "K-1", Title: "Keeps, primary standard", Threshold: 180, Unit: "days", Min: 1, Max: 3650,
		Why: "A stable solution in a closed bottle still loses water through the stopper.", Source: "common practice",
	}
	RuleShelfSecondary = verdict.Rule{
		ID: "K-2", Title: "Keeps, secondary standard", Threshold: 30, Unit: "days", Min: 1, Max: 3650,
		Why: "What changes on the shelf is standardised again before it is used.", Source: "common practice",
	}
)

// The rules of standardising again. Where schools differ the shorter interval is the
// default.
var (
	RuleStandardise = verdict.Rule{
		ID: "K-3", Title: "Standardise again, in general", Threshold: 60, Unit: "days", Min: 1, Max: 3650,
		Why: "What was made approximately is as good as its last standardisation.", Source: "common practice",
	}
	RuleStandardiseBase = verdict.Rule{
		ID: "K-4", Title: "Standardise again, dilute base", Threshold: 14, Unit: "days", Min: 1, Max: 365,
		Why: "Base takes up carbon dioxide from the air and grows weaker; in glass it also dissolves some of it.", Source: "common practice",
	}
	RuleStandardiseDark = verdict.Rule{
		ID:        "K-5",
		Title:     "Standardise again, permanganate, silver, iodine",
		Threshold: 30,
		Unit:      "days",
		Min:       1,
		Max:       365,
		Why:       "Light and dust reduce them; iodine also evaporates.",
		Source:    "common practice",
	}
	RuleStandardiseSulfur = verdict.Rule{
		ID: "K-6", Title: "Standardise again, thiosulfate", Threshold: 14, Unit: "days", Min: 1, Max: 365,
		Why: "Bacteria and acid, carbon dioxide included, decompose it and sulfur comes out.", Source: "common practice",
	}
	RuleStandardiseReducing = verdict.Rule{
		ID:        "K-7",
		Title:     "Standardise again, iron(II), ascorbic acid and the like",
		Threshold: 1,
		Unit:      "days",
		Min:       1,
		Max:       60,
		Why:       "The oxygen of the air oxidises them within hours to days.",
		Source:    "common practice",
	}
)

// Rules lists the rules of the package in the order of the work.
func Rules() []verdict.Rule {
	return []verdict.Rule{
		RuleTare,
		weighing.RuleSmallestMass,
		RuleBand,
		RuleExcess,
		weighing.RuleCapacity,
		RulePrimary,
		RuleDigits,
		RuleHydrate,
		RuleMassOrAmount,
		weighing.RuleSettled,
		weighing.RuleCheck,
		RuleDrying,
		RuleUsualBalance,
		RuleFlask,
		RuleSolubility,
		RuleRinses,
		RuleDissolved,
		RuleTemperature,
		RuleMark,
		run.RuleInversions,
		RuleHeat,
		RuleAdding,
		RuleBatches,
		RuleReach,
		RuleCommonIon,
		RulePrecipitate,
		RuleSmallVolume,
		RuleShelfPrimary,
		RuleShelfSecondary,
		RuleStandardise,
		RuleStandardiseBase,
		RuleStandardiseDark,
		RuleStandardiseSulfur,
		RuleStandardiseReducing,
	}
}
