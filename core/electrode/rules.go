package electrode

import "vialbench/core/verdict"

// The rules of pH meters. Thresholds are defaults that a lab can set.
var (
	RuleWet = verdict.Rule{
		ID:        "P-1",
		Title:     "The bulb was wet",
		Threshold: 10,
		Unit:      "minutes of soaking",
		Min:       1,
		Max:       1440,
		Why:       "A glass bulb answers through a wet skin. Dried out it needs a soak in storage solution (KCl), never in deionised water, before it can be believed.",
		Source:    "common practice",
	}
	RuleRinse = verdict.Rule{
		ID:     "P-2",
		Title:  "Rinse, blot, cover the bulb",
		Why:    "What clings to the bulb goes into the next buffer. Rubbing charges the glass; a beaker for dipping gets dirty, a wash bottle does not; an uncovered bulb reads nothing in particular.",
		Source: "common practice",
	}
	RuleBracket = verdict.Rule{
		ID:     "P-3",
		Title:  "The buffers bracket the samples",
		Why:    "Between two buffers the line is known; beyond them it is a guess. Two that bracket the samples, three when these spread to both sides of 7; one is for rough work.",
		Source: "common practice",
	}
	RuleSettled = verdict.Rule{
		ID: "P-4", Title: "Wait until it has settled", Threshold: 0.02, Unit: "pH in 10 s", Min: 0.001, Max: 0.2,
		Why: "A probe creeps towards its reading. Taken too early, a point tilts the line and every pH after it.", Source: "common practice",
	}
	RuleScatter = verdict.Rule{
		ID: "P-5", Title: "It does not jump", Threshold: 0.01, Unit: "pH about its trend", Min: 0.001, Max: 0.2,
		Why: "A reading that jumps has a bad contact, a dry junction, or a bulb that is not covered.", Source: "common practice",
	}
	RuleSlopeLow = verdict.Rule{
		ID: "P-6", Title: "Slope, good from", Threshold: 95, Unit: "% of theory", Min: 80, Max: 100,
		Why: "An old or dirty bulb answers with less than theory.", Source: "common practice",
	}
	RuleSlopeHigh = verdict.Rule{
		ID: "P-7", Title: "Slope, good up to", Threshold: 102, Unit: "% of theory", Min: 100, Max: 115,
		Why: "More than theory is no better probe, but a buffer that is not what its bottle says.", Source: "common practice",
	}
	RuleSlopeUsable = verdict.Rule{
		ID: "P-8", Title: "Slope, usable from", Threshold: 92, Unit: "% of theory", Min: 70, Max: 100,
		Why: "Below that a probe is cleaned or reconditioned before it is used again.", Source: "common practice",
	}
	RuleSlopeMost = verdict.Rule{
		ID: "P-9", Title: "Slope, usable up to", Threshold: 105, Unit: "% of theory", Min: 100, Max: 120,
		Why: "Above that one of the buffers is wrong.", Source: "common practice",
	}
	RuleOffset = verdict.Rule{
		ID:        "P-10",
		Title:     "Offset, good within",
		Threshold: 15,
		Unit:      "mV",
		Min:       1,
		Max:       60,
		Why:       "At pH 7 the two sides of a probe balance. An offset that grows tells of a reference that ages or is fouled.",
		Source:    "common practice",
	}
	RuleOffsetUsable = verdict.Rule{
		ID: "P-11", Title: "Offset, usable within", Threshold: 30, Unit: "mV", Min: 5, Max: 100,
		Why: "Beyond that the reference is spent, or the buffer is not near 7.", Source: "common practice",
	}
	RuleTemperature = verdict.Rule{
		ID:        "P-12",
		Title:     "One temperature",
		Threshold: 5,
		Unit:      "°C",
		Min:       1,
		Max:       30,
		Why:       "The meter corrects the slope of the probe for temperature. It does not correct the sample, whose own pH changes too, nor a probe that is still warming up.",
		Source:    "common practice",
	}
	RuleSpan = verdict.Rule{
		ID: "P-13", Title: "Inside the span", Threshold: 1, Unit: "pH beyond the buffers", Min: 0, Max: 5,
		Why: "Beyond the outermost buffer nothing was checked: a small error of slope grows with every pH.", Source: "common practice",
	}
	RuleDilute = verdict.Rule{
		ID:     "P-14",
		Title:  "Enough ions",
		Why:    "In deionised or very dilute water there is too little to carry the reading: it drifts, and takes up carbon dioxide while one waits. What it shows is not its pH.",
		Source: "common practice",
	}
	RulePoured = verdict.Rule{
		ID: "P-15", Title: "Used buffer is not poured back",
		Why: "One dip brings in what the rinse left. A shared bottle serves everybody after you.", Source: "common practice",
	}
	RuleDrift = verdict.Rule{
		ID:        "P-16",
		Title:     "A check buffer still reads right",
		Threshold: 0.05,
		Unit:      "pH",
		Min:       0.01,
		Max:       0.5,
		Why:       "Checked in the middle and at the end, one buffer tells whether everything since the last good check can stand.",
		Source:    "common practice",
	}
	RuleStale = verdict.Rule{
		ID: "P-17", Title: "Calibrated for this session", Threshold: 8, Unit: "hours", Min: 1, Max: 168,
		Why: "A probe drifts with use and storage: it is calibrated at the start of every session.", Source: "common practice",
	}
	RuleResidual = verdict.Rule{
		ID: "P-18", Title: "The points lie on a line", Threshold: 0.03, Unit: "pH", Min: 0.005, Max: 0.3,
		Why: "A point that stands off the line was taken too early, in the wrong buffer, or in one that has gone off.", Source: "common practice",
	}
	RuleSwapped = verdict.Rule{
		ID:     "P-19",
		Title:  "Each buffer once, and the right one",
		Why:    "The potential falls by nearly 59 mV with each pH. Buffers in the wrong order, or one of them twice, give themselves away by that.",
		Source: "IUPAC 2002, the Nernst slope",
	}
	RuleBufferAge = verdict.Rule{
		ID:        "P-20",
		Title:     "Fresh buffer",
		Threshold: 90,
		Unit:      "days since it was opened",
		Min:       1,
		Max:       1000,
		Why:       "An open buffer takes up carbon dioxide (the alkaline ones within weeks) and grows moulds (the phthalate).",
		Source:    "common practice",
	}
	RuleAlkaline = verdict.Rule{
		ID: "P-21", Title: "Strongly alkaline with sodium", Threshold: 12, Unit: "pH", Min: 9, Max: 14,
		Why: "Where hydrogen ions are few the glass answers to sodium too, and reads too low.", Source: "common practice",
	}
	RuleSchool = verdict.Rule{
		ID: "P-22", Title: "Through three buffers and more", Unit: "way",
		Words: []string{"one straight line", "from buffer to buffer"}, Max: 1,
		Why:    "One line shows what does not fit, by its residuals. From buffer to buffer each one reads right by itself, and nothing shows.",
		Source: "IUPAC 2002, 9.1 and 9.2: multi-point and bracketing calibration",
	}
	RuleOnePoint = verdict.Rule{
		ID: "P-23", Title: "One buffer gives no slope",
		Why:    "One point tells where the line stands, not how steep it is: the slope is assumed theoretical, which old probes are not.",
		Source: "common practice",
	}
	RuleCompensated = verdict.Rule{
		ID:     "P-24",
		Title:  "Compensated for temperature",
		Why:    "The slope of the probe is taken at the temperature of the sample. The pH of the sample at 25 °C is another thing, and no meter knows it.",
		Source: "IUPAC 2002",
	}
)

// The rules of what is seen without a meter.
var (
	RuleColours = verdict.Rule{
		ID:     "P-25",
		Title:  "Colours in words, against references",
		Why:    "“Orange” is three colours to three people. Against a white ground, beside references and an untouched control, in words like yellow-orange, it can be read again.",
		Source: "common practice",
	}
	RuleWarmed = verdict.Rule{
		ID:        "P-26",
		Title:     "Warmed and cooled tubes",
		Threshold: 5,
		Unit:      "minutes in the bath",
		Min:       1,
		Max:       60,
		Why:       "A tube takes about five minutes to come to the temperature of its bath; before that the colour is that of something between.",
		Source:    "common practice",
	}
	RuleLitmus = verdict.Rule{
		ID:     "P-27",
		Title:  "Litmus both ways",
		Why:    "Red litmus turns blue in base, blue litmus red in acid. One paper alone leaves acid and neutral, or base and neutral, apart.",
		Source: "common practice",
	}
	RuleOneScale = verdict.Rule{
		ID: "P-28", Title: "All in mV, or all in pH",
		Why:    "A display in pH has been corrected by the meter; a potential has not. A line through both means nothing.",
		Source: "common practice",
	}
)

// Rules lists the rules of the package.
func Rules() []verdict.Rule {
	return []verdict.Rule{
		RuleWet, RuleRinse, RuleBracket, RuleSettled, RuleScatter, RuleSlopeLow, RuleSlopeHigh, RuleSlopeUsable, RuleSlopeMost, RuleOffset,
		RuleOffsetUsable, RuleTemperature, RuleSpan, RuleDilute, RulePoured, RuleDrift, RuleStale, RuleResidual, RuleSwapped,
		RuleBufferAge, RuleAlkaline, RuleSchool, RuleOnePoint, RuleCompensated, RuleColours, RuleWarmed, RuleLitmus,
		RuleOneScale,
	}
}
