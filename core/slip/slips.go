package slip

import (
	"math"
	"slices"
)

// Slip is one way in which a result comes out wrong.
type Slip struct {
	ID string
	// Title completes “would be explained by …”.
	Title string
	// Hint asks those who found the result, and tells nothing.
	Hint string
	// Often is how often it happens, beside the others.
	Often float64
	// Hands reports whether a figure itself is wrong, and not what was done with it.
	Hands bool
	// at says what else can happen at a step.
	at func(s *Step, add adding)
}

// adding notes something else that can happen at a step, in words where the step itself does not say it.
type adding func(says string, instead func(value float64, args []float64) float64)

// How often slips happen beside one another: common practice, as no survey of them is known to us.
const (
	often  = 4
	usual  = 2
	seldom = 0.5
)

// to makes what stands at a step another value, whatever is under it.
func to(x float64) func(float64, []float64) float64 {
	return func(float64, []float64) float64 { return x }
}

// times multiplies what stands at a step.
func times(x float64) func(float64, []float64) float64 {
	return func(v float64, _ []float64) float64 { return v * x }
}

func leaveOut(_ float64, args []float64) float64    { return args[0] }
func upsideDown(v float64, _ []float64) float64     { return 1 / v }
func twice(v float64, _ []float64) float64          { return v * v }
func notAtAll(float64, []float64) float64           { return 1 }
func multiplied(_ float64, args []float64) float64  { return args[0] * args[1] }
func otherSign(v float64, _ []float64) float64      { return -v }
func added(_ float64, args []float64) float64       { return args[0] + args[1] }
func second(_ float64, args []float64) float64      { return args[1] }
func naturally(v float64, _ []float64) float64      { return v * math.Ln10 }
func fromFourteen(v float64, _ []float64) float64   { return 14 - v }
func noIntercept(_ float64, args []float64) float64 { return args[0] }

// at makes a slip of something else that can happen at steps of some roles.
func at(instead func(float64, []float64) float64, roles ...Role) func(*Step, adding) {
	return func(s *Step, add adding) {
		if slices.Contains(roles, s.Role) {
			add("", instead)
		}
	}
}

// insteads makes a slip of the values that a step says can stand in its place.
func insteads(id string) func(*Step, adding) {
	return func(s *Step, add adding) {
		for _, other := range s.Instead {
			if other.Slip == id {
				add(other.Says, to(other.Value))
			}
		}
	}
}

// The slips of the working.
var working = []Slip{
	{
		ID: "mL for L", Title: "millilitres used as litres",
		Hint: "In which unit does the volume go into the formula?", Often: often, at: at(leaveOut, Litres),
	},
	{
		ID: "L to mL", Title: "millilitres multiplied by 1000 instead of divided",
		Hint: "How many litres is one millilitre?", Often: usual, at: at(times(1e6), Litres),
	},
	{
		ID: "mass as amount", Title: "the mass used as an amount",
		Hint: "Is that a mass, or how many moles?", Often: often, at: at(leaveOut, ToAmount),
	},
	{
		ID: "times molar mass", Title: "the mass multiplied by the molar mass",
		Hint: "How do you get from grams to moles?", Often: usual, at: at(multiplied, ToAmount),
	},
	{
		ID: "ratio of masses", Title: "the molar mass divided by the mass",
		Hint: "Which goes on top, the mass or the molar mass?", Often: seldom, at: at(upsideDown, ToAmount),
	},
	{
		ID: "hydrate", Title: "the molar mass of another hydrate",
		Hint: "What does the label say about water in the crystals?", Often: often, at: insteads("hydrate"),
	},
	{
		ID: "metal for salt", Title: "the molar mass of one ion for that of the salt",
		Hint: "Of what exactly did you take the molar mass?", Often: usual, at: insteads("metal for salt"),
	},
	{
		ID: "purity left out", Title: "the purity left out",
		Hint: "How much of the solid is the substance itself?", Often: usual, at: at(notAtAll, Purity),
	},
	{
		ID: "purity divided", Title: "a division by the purity instead of a multiplication",
		Hint: "Is there more or less of the substance than you weighed?", Often: seldom, at: at(upsideDown, Purity),
	},

	{
		ID: "factor left out", Title: "the dilution factor left out",
		Hint: "What was done to the sample before it was measured?", Often: often, at: at(notAtAll, DilutionFactor, Diluted),
	},
	{
		ID: "factor twice", Title: "the dilution factor used twice",
		Hint: "How often was it diluted?", Often: usual, at: at(twice, DilutionFactor, Diluted),
	},
	{
		ID: "factor upside down", Title: "aliquot and flask exchanged in the dilution factor",
		Hint: "Was the sample before the dilution stronger or weaker?", Often: often, at: at(upsideDown, DilutionFactor, Diluted),
	},
	{
		ID: "parts to parts", Title: "1 + 9 for 1 in 9: aliquot and total counted as parts side by side",
		Hint: "Is the volume of the flask what you added, or all of it?", Often: usual, at: partsToParts,
	},
	{
		ID: "of the rest", Title: "the volume of the water used for the total volume",
		Hint: "Is the volume of the flask what you added, or all of it?", Often: usual, at: ofTheRest,
	},

	{
		ID: "ratio left out", Title: "the mole ratio left out",
		Hint: "How many moles of the one react with one of the other?", Often: often, at: moleRatio(notAtAll),
	},
	{
		ID: "ratio upside down", Title: "the mole ratio upside down",
		Hint: "Which of the two does one mole of the other need more of?", Often: often, at: moleRatio(upsideDown),
	},
	{
		ID: "electrons", Title: "electrons counted for moles",
		Hint: "Which numbers stand before the formulas in the whole equation?", Often: usual, at: insteads("electrons"),
	},
	{
		ID: "normality", Title: "a normality used as a molarity",
		Hint: "Is the concentration on the label one of equivalents?", Often: usual, at: insteads("normality"),
	},
	{
		ID: "nominal", Title: "the nominal concentration used for the actual one",
		Hint: "What does the label of the bottle say today?", Often: often, at: insteads("nominal"),
	},
	{
		ID: "bottles exchanged", Title: "the concentrations of two bottles exchanged",
		Hint: "Which bottle stood in the burette?", Often: usual, at: insteads("bottles exchanged"),
	},
	{
		ID: "another flask", Title: "another volume of the flask",
		Hint: "What is printed on your flask?", Often: usual, at: insteads("another flask"),
	},
	{
		ID: "another pipette", Title: "another volume of the pipette",
		Hint: "What is printed on your pipette?", Often: usual, at: insteads("another pipette"),
	},

	{
		ID: "start left out", Title: "the start reading not subtracted",
		Hint: "Where did the burette stand before you began?", Often: often, at: startLeftOut,
	},
	{
		ID: "start added", Title: "the start reading added instead of subtracted",
		Hint: "How do you get from two readings to what ran out?", Often: seldom, at: at(added, Titre),
	},
	{
		ID: "rough averaged", Title: "the rough trial averaged in",
		Hint: "Which trials agree with one another?", Often: often, at: roughAveraged,
	},
	{
		ID: "rough alone", Title: "the rough trial used instead of the mean",
		Hint: "Which trials agree with one another?", Often: seldom, at: roughAlone,
	},
	{
		ID: "one trial", Title: "one trial used instead of the mean",
		Hint: "Which of the trials go into the result?", Often: usual, at: oneTrial,
	},
	{
		ID: "sum for mean", Title: "the sum of the trials used for their mean",
		Hint: "How much ran out in one trial?", Often: usual, at: sumForMean,
	},
	{
		ID: "drops subtracted", Title: "drops subtracted from an overshot trial",
		Hint: "What do you do with a trial that went past the end point?", Often: usual, at: dropsSubtracted,
	},
	{
		ID: "rest for used", Title: "what was left of the excess taken for what reacted",
		Hint: "What does the titre tell you: what the sample took, or what it left?", Often: often, at: at(second, Used),
	},
	{
		ID: "rest left out", Title: "what was left of the excess not subtracted",
		Hint: "Did the sample take all that you added?", Often: usual, at: at(leaveOut, Used),
	},
	{
		ID: "aliquot for flask", Title: "what was found in the aliquot taken for all of the flask",
		Hint: "How much of the flask went into one titration?", Often: often, at: insteads("aliquot for flask"),
	},
	{
		ID: "another point", Title: "another point of the curve taken for the end point",
		Hint: "How many end points has the curve, and which of them counts all of it?", Often: often, at: insteads("another point"),
	},
	{
		ID: "drops for mL", Title: "drops used as millilitres",
		Hint: "How much is one drop?", Often: usual, at: at(leaveOut, Volume),
	},

	{
		ID: "ratio of bases", Title: "the ratio of base and acid upside down",
		Hint: "Which of the two is on top in the logarithm?", Often: often, at: at(upsideDown, BaseOverAcid),
	},
	{
		ID: "total for partner", Title: "the total concentration used for that of a partner",
		Hint: "How much of the total is the base, and how much the acid?", Often: usual, at: insteads("total for partner"),
	},
	{
		ID: "natural logarithm", Title: "the natural logarithm for that to the base of ten",
		Hint: "Which key did you press for the logarithm?", Often: often, at: at(naturally, Logarithm, Absorbance),
	},
	{
		ID: "no logarithm", Title: "the logarithm left out",
		Hint: "What does the formula do with the ratio?", Often: usual, at: at(leaveOut, Logarithm),
	},
	{
		ID: "sign of logarithm", Title: "the sign of the logarithm",
		Hint: "Is more base a higher or a lower pH?", Often: often, at: at(otherSign, Logarithm, Absorbance),
	},
	{
		ID: "pOH", Title: "pOH for pH",
		Hint: "Is it the acid or the base that you worked out?", Often: usual, at: at(fromFourteen, Acidity),
	},

	{
		ID: "blank left out", Title: "the blank not subtracted",
		Hint: "What does the blank read, and what is done with it?", Often: often, at: at(leaveOut, Net),
	},
	{
		ID: "blank added", Title: "the blank added instead of subtracted",
		Hint: "What does the blank read, and what is done with it?", Often: seldom, at: at(added, Net),
	},
	{
		ID: "transmittance", Title: "per cent transmittance used as absorbance",
		Hint: "Which scale did you read?", Often: usual, at: transmittance,
	},
	{
		ID: "slope and intercept", Title: "slope and intercept exchanged",
		Hint: "Which of the two numbers of the line goes with the concentration?", Often: usual, at: slopeAndIntercept,
	},
	{
		ID: "no intercept", Title: "the intercept of the line left out",
		Hint: "Where does your line meet the axis?", Often: usual, at: intercept(noIntercept),
	},
	{
		ID: "intercept added", Title: "the intercept added instead of subtracted",
		Hint: "How do you solve the line for the concentration?", Often: usual, at: intercept(added),
	},
	{
		ID: "times slope", Title: "a multiplication by the slope instead of a division",
		Hint: "How do you solve the line for the concentration?", Often: usual, at: at(multiplied, OnLine),
	},
	{
		ID: "path left out", Title: "the path length left out",
		Hint: "How thick is your cell?", Often: usual, at: at(notAtAll, Path),
	},
	{
		ID: "path in mm", Title: "the path length in millimetres",
		Hint: "In which unit does the path go into the formula?", Often: usual, at: at(times(10), Path),
	},
	{
		ID: "volume at the start", Title: "the volume without what was added",
		Hint: "How much was in the beaker when you read it?", Often: often, at: insteads("volume at the start"),
	},
	{
		ID: "before left out", Title: "the reading at the start left out",
		Hint: "What did it read before you added anything?", Often: often, at: at(leaveOut, Change),
	},

	{
		ID: "g/L for mol/L", Title: "g/L for mol/L",
		Hint: "In which unit is the result asked for?", Often: usual, at: insteads("g/L for mol/L"),
	},
	{
		ID: "% w/v for % w/w", Title: "a mass by volume used as one by mass, or the other way round",
		Hint: "Is that for 100 mL of the solution, or for 100 g of it?", Often: usual, at: insteads("% w/v for % w/w"),
	},
	{
		ID: "unit of a column", Title: "the unit of another column: a factor of 1000",
		Hint: "In which unit is the result asked for?", Often: usual, at: ofResult(1000),
	},
	{
		ID: "decimal point", Title: "a decimal point that is shifted",
		Hint: "About how large should it be?", Often: usual, at: ofResult(10),
	},
	{
		ID: "digits copied", Title: "two digits exchanged in copying",
		Hint: "Compare the figures in your working with those you wrote down.", Often: usual, at: digitsExchanged,
	},
	{
		ID: "rounded early", Title: "a figure rounded too early",
		Hint: "With how many digits did you go on?", Often: usual, at: roundedEarly,
	},
}

// All lists the slips, of the working and then of the hands.
func All() []Slip { return append(slices.Clone(working), hands...) }
