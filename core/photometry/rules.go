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
		ID: "AB-6", Title: "A reading off the line", Threshold: 3, Unit: "standard deviations", Min: 2, Max: 6,
		Why: "A bubble, a fingerprint, two tubes exchanged. A person takes it out with a reason, never the figure alone.", Source: "common practice",
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
)
