package capacity

import (
	"fmt"
	"math"
	"strconv"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

func (a *account) steps() []run.Step {
	list := []run.Step{
		{
			ID:    "pour",
			Title: fmt.Sprintf("%d beakers: %s", len(a.beakers), a.sayPour()),
			Kind:  KindPoured,
			Input: run.InputChoice,
			Asks:  true,
			Options: []verdict.Choice{
				{ID: choiceIn, Label: "Done"},
			},
			Hint:     "Water in the others, as much. Water that covers the probe counts: put the same into each.",
			Cautions: []string{"Goggles and gloves. Your local rules, the safety data sheets and licensed waste handling come first."},
		},
	}
	for i := range a.beakers {
		if a.beakers[i].Kind == InBath {
			list = append(list, a.bathStep(i))
		} else {
			list = append(list, a.beakerStep(i))
		}
	}
	return list
}

func (a *account) sayPour() string {
	text := quantity.Trim(a.Volume) + " mL of " + run.LowerFirst(a.Name) + " in each"
	if a.Number > 0 {
		text += fmt.Sprintf(", from bottle %d", a.Number)
	}
	if a.Covered > 0 {
		text += ", and " + quantity.Trim(a.Covered) + " mL of water to cover the probe"
	}
	return text
}

// beakerStep reads the pH and takes a portion, in turn.
func (a *account) beakerStep(i int) run.Step {
	b := &a.beakers[i]
	s := run.Step{ID: stepOf(i), Part: i, Asks: true}
	total := b.added.Value
	if b.owed {
		s.Title = fmt.Sprintf("%s: the pH after %s mL", run.UpperFirst(b.Name), quantity.Digits(total, 2))
		if len(b.v.Points) == 0 {
			s.Title = run.UpperFirst(b.Name) + ": the pH before anything is added"
		}
		pH := math.NaN()
		if b.v.C.Value > 0 || total == 0 || b.Kind == Diluted {
			pH = b.v.Theory([]float64{total})[0].PH
		}
		return a.asksProbe(s, b, pH, a.celsius)
	}
	if b.Kind == Diluted {
		return a.waterStep(s, b)
	}
	s.Kind, s.Input, s.Label, s.Dimensions, s.Unit = KindAdded, run.InputQuantity, "Portion", []quantity.Dimension{quantity.Volume}, "mL"
	s.Title = fmt.Sprintf("%s: add %s of %s", run.UpperFirst(b.Name), a.sayPortion(), b.With)
	s.Expects = quantity.Digits(a.Portion, max(2, decimals(a.Portion))) + " mL"
	if a.Drops > 0 {
		s.Input, s.Label, s.Unit, s.Default, s.Expects, s.Dimensions = run.InputDrops, "Drops", "drops", strconv.Itoa(a.Drops), "", nil
	}
	s.Hint = fmt.Sprintf("%s mL so far. Stir after each portion.", quantity.Digits(total, 2))
	s.Ends = &verdict.Choice{ID: choiceDone, Label: "Done with this beaker"}
	if steps := b.v.Steps(a.Thresholds); len(steps) > 0 {
		s.Verdicts = append(judgeStep(steps[len(steps)-1], b.Acid), b.doubts...)
	}
	return s
}

// decimals that a portion is written with.
func decimals(x float64) int {
	n := 0
	for ; n < 4 && math.Abs(x-math.Round(x)) > 1e-6; n++ {
		x *= 10
	}
	return n
}

func (a *account) done(s *run.Step) bool {
	if s.ID == "pour" {
		return a.poured
	}
	return a.finished(&a.beakers[s.Part])
}
