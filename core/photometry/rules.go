package photometry

import "vialbench/core/verdict"

// The rules of calibration lines. Thresholds are defaults that a lab can set.
var (
	RulePoints = verdict.Rule{
		ID: "AB-1", Title: "Enough standards", Threshold: 5, Unit: "concentrations", Min: 3, Max: 20,
		Why: "Two standards make a line of anything; fewer than five hide a bend and a slip.", Source: "common practice",
	}
	RuleR2 = verdict.Rule{
		ID: "AB-2", Title: "A line worth reading from", Threshold: 0.98, Min: 0.9, Max: 0.9999,
		Why: "Below it the scatter of the standards is more than an unknown can bear. R² alone proves nothing: look at the residuals.", Source: "common practice",
	}
	RuleGood = verdict.Rule{
		ID: "AB-3", Title: "A good line", Threshold: 0.999, Min: 0.99, Max: 0.99999,
		Why: "Careful hands reach three nines with one stock and one cell.", Source: "common practice",
	}
	RuleIntercept = verdict.Rule{
		ID: "AB-4", Title: "The intercept against its standard error",
		Why: "A blank that was not set, or a cell that differs, moves all readings alike.", Source: "common practice",
	}
	RuleCurved = verdict.Rule{
		ID: "AB-5", Title: "A line that bends", Threshold: 1, Unit: "% chance", Min: 0.01, Max: 10,
		Why: "Stray light and too strong a solution bend it downward; what is read from a straight line is then wrong at both ends.", Source: "ISO 8466-1, from memory",
	}
	RuleDoubtful = verdict.Rule{
		ID: "AB-6", Title: "A reading off the line", Threshold: 5, Unit: "% chance", Min: 0.1, Max: 20,
		Why:    "A bubble, a fingerprint, two tubes exchanged. A person takes it out with a reason, never the figure alone.",
		Source: "R. D. Cook and S. Weisberg, Residuals and Influence in Regression, 1982 (outlier test with Bonferroni’s bound), from memory",
	}
	RuleInside = verdict.Rule{
		ID: "AB-7", Title: "Inside the standards",
		Why: "Nobody has seen the line beyond its last standard: dilute, and read again.", Source: "common practice",
	}
	RuleBand = verdict.Rule{
		ID: "AB-8", Title: "Where an absorbance is read best", Threshold: 0.8, Unit: "A at most, from a quarter of it", Min: 0.4, Max: 3,
		Why: "Below, the last digit counts for much; above, little light is left and stray light counts.", Source: "common practice (0.2 to 0.8)",
	}
	RuleLack = verdict.Rule{
		ID: "AB-9", Title: "Lack of fit", Threshold: 1, Unit: "% chance", Min: 0.01, Max: 10,
		Why: "The standards lie further from the line than their own readings scatter: their concentrations are wrong, or the line bends.", Source: "NIST/SEMATECH e-Handbook 4.4.4.6, from memory",
	}
	RuleBlank = verdict.Rule{
		ID: "AB-10", Title: "Set the blank again", Threshold: 30, Unit: "minutes", Min: 2, Max: 480,
		Why: "Lamp and detector drift: what counts as no absorbance has to be looked at from time to time, and after every change of cell or wavelength.", Source: "common practice",
	}
	RuleErrors = verdict.Rule{
		ID: "AB-11", Title: "Errors of the standards", Threshold: 10, Unit: "% wider", Min: 1, Max: 100,
		Why: "Standards of one stock share its error: no scatter shows it, and every unknown has it.", Source: "common practice; JCGM 100",
	}
	RuleOld = verdict.Rule{
		ID: "AB-12", Title: "A line of today", Threshold: 8, Unit: "hours", Min: 1, Max: 720,
		Why: "Lamp, cell and reagent are not those of yesterday: read a standard again before an older line is used.", Source: "common practice",
	}
	RuleCells = verdict.Rule{
		ID: "AB-13", Title: "Matched cells", Threshold: 0.01, Unit: "AU", Min: 0.001, Max: 0.1,
		Why: "Cells differ by scratches and glass. The difference is taken off every reading; one that is large is cleaned or left out.", Source: "common practice",
	}
	RuleEdge = verdict.Rule{
		ID: "AB-14", Title: "A maximum inside the scan",
		Why: "Only a reading with lower ones on both sides shows where the top is.", Source: "common practice",
	}
	RuleStrong = verdict.Rule{
		ID: "AB-15", Title: "Not too strong a solution to scan", Threshold: 1.5, Unit: "AU", Min: 0.8, Max: 3,
		Why: "Little light is left at the top, and stray light makes it look flat.", Source: "common practice",
	}
	RuleTop = verdict.Rule{
		ID: "AB-16", Title: "Measure at the maximum",
		Why: "There the reading is largest, and a wavelength that is a little off costs least.", Source: "common practice",
	}
	RuleBlankAbsorbs = verdict.Rule{
		ID: "AB-17", Title: "A blank that absorbs", Threshold: 0.1, Unit: "AU", Min: 0.01, Max: 1,
		Why: "What the reagents take out of the light is missing for what is measured.", Source: "common practice",
	}
	RuleMatrix = verdict.Rule{
		ID: "AB-18", Title: "What else is in the sample",
		Why: "Standards in water and the sample itself need not read alike: additions to the sample show it.", Source: "common practice",
	}
	RuleStands = verdict.Rule{
		ID: "AB-19", Title: "A reading that stands", Threshold: 0.2, Unit: "%T in a second", Min: 0.02, Max: 5,
		Why: "A detector sees light, not absorbance: the same unrest moves a strong solution's reading more.", Source: "common practice",
	}
	RuleStray = verdict.Rule{
		ID: "AB-20", Title: "Stray light", Threshold: 1, Unit: "% of the reading", Min: 0.1, Max: 10,
		Why: "Light that goes past the cell is counted as if it had come through: a strong solution reads too low, and a line bends.", Source: "common practice",
	}
	RuleGrows = verdict.Rule{
		ID: "AB-21", Title: "Scatter that grows", Threshold: 1, Unit: "% chance", Min: 0.01, Max: 10,
		Why:    "Where strong solutions scatter more, they pull the line about and the weak end is worth less than it could be: let each weigh by its scatter.",
		Source: "T. S. Breusch and A. R. Pagan, Econometrica 47 (1979) 1287, from memory",
	}
	RuleRemarked = verdict.Rule{
		ID: "AB-22", Title: "A reading with a remark",
		Why: "What takes out light besides the solution is read as more of it: put it right, and read again.", Source: "common practice",
	}
	RuleApart = verdict.Rule{
		ID: "AB-23", Title: "Two absorbers told apart", Threshold: 0.3, Unit: "of 1", Min: 0.01, Max: 0.9,
		Why: "Where both absorb in much the same ratio at both wavelengths, their difference is all that tells them apart.", Source: "common practice",
	}
	RuleWarm = verdict.Rule{
		ID: "AB-24", Title: "Line and unknowns at one temperature", Threshold: 2, Unit: "°C", Min: 0.2, Max: 20,
		Why: "Colours deepen or fade with temperature, many by a percent in a few degrees: what is warmer than its standards reads as more or as less.", Source: "common practice",
	}
)

// Rules lists them.
func Rules() []verdict.Rule {
	return []verdict.Rule{
		RulePoints, RuleR2, RuleGood, RuleIntercept, RuleCurved, RuleDoubtful, RuleInside, RuleBand, RuleLack, RuleBlank, RuleErrors,
		RuleOld, RuleCells, RuleEdge, RuleStrong, RuleTop, RuleBlankAbsorbs, RuleMatrix, RuleStands, RuleStray, RuleGrows,
		RuleRemarked, RuleApart, RuleWarm,
	}
}
