package slip

import (
	"fmt"
	"math"
)

// The slips of the hands: what a figure would really have been.
var hands = []Slip{
	{
		ID: "past the mark by a drop", Hands: true, Title: "a flask filled past the mark by some drops",
		Hint: "Where does the meniscus stand against the mark, at eye level?", Often: usual, at: past(0.1, 0.2),
	},
	{
		ID: "past the mark", Hands: true, Title: "a flask filled past the mark by 1 mL",
		Hint: "Where does the meniscus stand against the mark, at eye level?", Often: usual, at: past(1),
	},
	{
		ID: "added to", Hands: true, Title: "the volume of the flask added, where it was to be made up to it",
		Hint: "Did you fill up to the mark, or add so much?", Often: usual, at: addedTo,
	},
	{
		ID: "overshot", Hands: true, Title: "the end point overshot",
		Hint: "How did the colour look at the end, and how long did it stay?", Often: often, at: overshot,
	},
	{
		ID: "whole mL", Hands: true, Title: "a reading that is a whole millilitre off",
		Hint: "Between which two numbers of the scale was the meniscus?", Often: usual, at: misread(1),
	},
	{
		ID: "tenth of a mL", Hands: true, Title: "a reading that is a tenth of a millilitre off",
		Hint: "Which line of the scale was the meniscus at?", Often: seldom, at: misread(0.1),
	},
	{
		ID: "scale upward", Hands: true, Title: "a scale read upward that runs downward",
		Hint: "In which direction do the numbers of the burette grow?", Often: usual, at: upward,
	},
	{
		ID: "meniscus", Hands: true, Title: "a meniscus read once at the top and once at the bottom",
		Hint: "Did you read both times at the same edge?", Often: usual, at: meniscus,
	},
	{
		ID: "digits written", Hands: true, Title: "two digits exchanged in writing a reading down",
		Hint: "Look at the instrument again, if it still shows it.", Often: usual, at: digitsWritten,
	},
	{
		ID: "pipette taken for another", Hands: true, Title: "a pipette of another size than was written down",
		Hint: "What is printed on your pipette?", Often: usual, at: insteads("another pipette"),
	},
	{
		ID: "flask taken for another", Hands: true, Title: "a flask of another size than was written down",
		Hint: "What is printed on your flask?", Often: usual, at: insteads("another flask"),
	},
	{
		ID: "other solid", Hands: true, Title: "another hydrate in the jar than was written down",
		Hint: "What does the label of the jar say?", Often: usual, at: insteads("hydrate"),
	},
	{
		ID: "bottles taken", Hands: true, Title: "the other bottle taken",
		Hint: "Which bottle stood in the burette?", Often: usual, at: insteads("bottles exchanged"),
	},
	{
		ID: "water in the pipette", Hands: true, Title: "a pipette or burette rinsed with water alone",
		Hint: "With what did you rinse it last?", Often: usual, at: watered,
	},
	{
		ID: "solid left behind", Hands: true, Title: "solid left in the vessel or the funnel",
		Hint: "What was left in the weighing vessel and the funnel?", Often: usual, at: leftBehind,
	},
}

func past(mL ...float64) func(*Step, adding) {
	return func(s *Step, add adding) {
		for _, v := range mL {
			if s.Role == Mark && v < s.Value/4 {
				add(s.Name, to(s.Value+v))
			}
		}
	}
}

// addedTo is a flask that holds what was taken besides.
func addedTo(s *Step, add adding) {
	if (s.Role == DilutionFactor || s.Role == Diluted) && len(s.Of) == 2 {
		partsToParts(s, func(_ string, f func(float64, []float64) float64) { add(s.Name, f) })
	}
}

// overshot are some drops, or up to a mL, in one trial.
func overshot(s *Step, add adding) {
	if s.Role != Titre {
		return
	}
	for _, over := range []float64{0.1, 0.2, 0.5, 1} {
		add(fmt.Sprintf("%s, by %g mL", s.Name, over), func(v float64, _ []float64) float64 { return v - over })
	}
}

func misread(by float64) func(*Step, adding) {
	return func(s *Step, add adding) {
		if s.Role == Reading {
			add(fmt.Sprintf("%s, %g mL too high", s.Name, by), to(s.Value-by))
			add(fmt.Sprintf("%s, %g mL too low", s.Name, by), to(s.Value+by))
		}
	}
}

// upward is a reading counted up from the number below the meniscus: 22.40 read as 23.60.
func upward(s *Step, add adding) {
	if whole := math.Ceil(s.Value); s.Role == Reading && whole != s.Value {
		add(s.Name, to(2*whole-s.Value-2))
		add(s.Name, to(2*whole-s.Value-1))
	}
}

// topToBottom is the height of a meniscus in a burette, in mL (common practice).
const topToBottom = 0.15

func meniscus(s *Step, add adding) {
	if s.Role == Titre {
		add(s.Name, func(v float64, _ []float64) float64 { return v + topToBottom })
		add(s.Name, func(v float64, _ []float64) float64 { return v - topToBottom })
	}
}

// digitsWritten are the digits of a reading in the other order.
func digitsWritten(s *Step, add adding) {
	if s.Role == Reading || s.Role == Weighed || s.Role == Observed {
		digitsExchanged(s, add)
	}
}

// watered is a solution that is weaker by one to three per cent.
func watered(s *Step, add adding) {
	if s.Role == Concentration || s.Role == Aliquot {
		add(s.Name, times(0.99))
		add(s.Name, times(0.98))
		add(s.Name, times(0.97))
	}
}

func leftBehind(s *Step, add adding) {
	if s.Role == Weighed {
		add(s.Name, times(0.99))
		add(s.Name, times(0.98))
		add(s.Name, times(0.95))
	}
}
