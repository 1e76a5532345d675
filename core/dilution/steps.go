package dilution

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// volumeOnly is the dimension of a reading of a scale.
var volumeOnly = []quantity.Dimension{quantity.Volume}

func (a *account) steps(now time.Time) []run.Step {
	list := []run.Step{
		{
			ID:         "temperature",
			Title:      "Let stock and solvent come to the temperature of the room",
			Kind:       run.KindTemperature,
			Input:      run.InputQuantity,
			Label:      "Temperature",
			Dimensions: []quantity.Dimension{quantity.Temperature},
			Unit:       "°C",
			Asks:       true,
			Expects:    quantity.Digits(a.WaterTemperature, 1) + " °C",
			Hint:       "Both at the same temperature: then it hardly matters which.",
			Cautions:   []string{"Goggles and gloves on; never pipette by mouth. Your local rules and the safety data sheet come first."},
		},
	}
	before := map[string]int{} // which liquid each pipette held last
	for i, rung := range a.Rungs {
		if rung.Taken > 0 {
			if from, known := before[rung.With.Name()]; !rung.Weighed && (!known || from != rung.From) {
				list = append(
					list,
					run.Step{
						ID:      stepID("rinse", i),
						Part:    i,
						Title:   "Rinse the " + rung.With.Name() + " with " + a.name(rung.From),
						Kind:    KindRinsed,
						Input:   run.InputCount,
						Unit:    "rinses",
						Asks:    true,
						Default: "2",
						Hint:    "Two or three small portions, each thrown away: what clings to it would make it weaker or stronger.",
					},
				)
			}
			before[rung.With.Name()] = rung.From
			take := a.takeStep(i)
			if a.Stock.Concentrate && rung.From == FromStock {
				list = append(
					list,
					run.Step{
						ID:    stepID("water", i),
						Part:  i,
						Title: "Half the solvent into tube " + a.ladder.Tubes[i].Label + " first",
						Kind:  KindWatered,
						Input: run.InputChoice,
						Asks:  true,
						Options: []verdict.Choice{
							{ID: choiceWaterIn, Label: "The solvent is in"},
						},
						Hint:     "Acid and concentrated base go into water, never the reverse.",
						Cautions: concentrateCautions,
					},
				)
				take.Cautions = concentrateCautions
			}
			list = append(list, take)
		}
		if rung.Flask != nil || rung.Solvent > 0 {
			list = append(list, a.fillStep(i))
		}
		list = append(
			list,
			run.Step{
				ID:      stepID("mix", i),
				Part:    i,
				Title:   "Stopper tube " + a.ladder.Tubes[i].Label + ", invert " + strconv.Itoa(a.turns()) + " times, write its label",
				Kind:    run.KindMixed,
				Input:   run.InputCount,
				Unit:    "inversions",
				Asks:    a.tubes[i].inversions < a.turns(),
				Default: strconv.Itoa(max(1, a.turns()-a.tubes[i].inversions)),
				Hint:    a.keepHint(i),
			},
		)
	}
	return append(
		list,
		run.Step{
			ID:      "label",
			Title:   "The rack onto the shelf",
			Kind:    run.KindLabelled,
			Input:   run.InputLabel,
			Asks:    true,
			Default: now.AddDate(0, 0, keepsDays).Format(time.DateOnly),
			Hint:    "Labels for all of it print from the shelf, on a sheet for vials. Weak solutions keep less well than the stock. With one pipette or cell for all, measure from weak to strong: " + a.order() + ".",
		},
	)
}

// concentrateCautions stand where a concentrated liquid is handled.
var concentrateCautions = []string{
	"In the fume hood, from opening the bottle to the diluted solution; goggles, gloves, coat.",
	"Into water, slowly, never the reverse; swirl, and let it cool before the mark.",
	"Never pipette by mouth.",
	"Your local rules, the safety data sheet and licensed waste handling come first.",
}

// delivers reports whether a pipette gives its volume without a scale being read.
func delivers(with glassware.Item) bool {
	return with.Kind == glassware.OneMarkPipette || with.Kind == glassware.PistonPipette
}

// keepsDays is how long dilutions keep unless told otherwise (common practice).
const keepsDays = 7

// keepHint says how much of a tube must be there.
func (a *account) keepHint(i int) string {
	hint := "At once: clear liquids get mixed up."
	if a.Keep > 0 {
		hint += " Keep " + short(a.Keep) + " mL of it in a labelled bottle"
		if carried := a.ladder.Tubes[i].Needed - a.Keep; carried > 0 {
			hint += "; " + short(carried) + " mL go on, with rinsing the pipette"
		}
		hint += "."
	}
	return hint
}

// order names the tubes from weak to strong.
func (a *account) order() string {
	labels := make([]string, len(a.ladder.Order))
	for k, i := range a.ladder.Order {
		labels[k] = a.ladder.Tubes[i].Label
	}
	return strings.Join(labels, ", ")
}

func (a *account) takeStep(i int) run.Step {
	rung, t := a.Rungs[i], a.tubes[i]
	s := run.Step{
		ID:    stepID("take", i),
		Part:  i,
		Title: "Take " + short(rung.Taken) + " mL of " + a.name(rung.From) + " for tube " + a.ladder.Tubes[i].Label,
		Kind:  KindTaken,
		Asks:  !t.delivered,
	}
	switch {
	case rung.Weighed:
		grams := quantity.Digits(a.ladder.Tubes[i].Grams, a.Balance.Decimals())
		s.Title = "Weigh " + grams + " g of " + a.name(rung.From) + " on " + a.Balance.Name + ", for tube " + a.ladder.Tubes[i].Label
		s.Input, s.Label, s.Dimensions, s.Unit, s.Instrument, s.ByDifference = run.InputQuantity, "Net mass shown", []quantity.Dimension{
			quantity.Mass,
		}, "g", a.Balance.Name, true
		s.Hint = "By difference from a dropping bottle, or in a small tared beaker that is rinsed into the flask. Near is good enough: what was weighed is what counts."
	case delivers(rung.With):
		s.Input, s.Options = run.InputChoice, []verdict.Choice{{ID: choiceDelivered, Label: "Delivered, tip touched off"}}
		s.Hint = "Bottom of the meniscus on the line at eye level; let it run, wait, touch off the tip, do not blow out."
		if rung.With.Kind == glassware.PistonPipette {
			s.Hint = "Set it, fit a tip, wet it two or three times; hold it upright, press slowly to the first stop, let go slowly; deliver to the second stop against the wall."
		}
		if rung.Times > 1 {
			s.Title += fmt.Sprintf(", with the %s filled %d times", rung.With.Name(), rung.Times)
		} else {
			s.Title += ", with the " + rung.With.Name()
		}
	default:
		s.Input, s.Dimensions, s.Unit, s.Scale = run.InputReadings, volumeOnly, "mL", rung.With.Volume
		s.Title += ", from the " + rung.With.Name()
		s.Hint = "No bubble in the tip. Read before and after, one digit beyond the smallest division; the scale runs downward."
	}
	if t.void != "" && !t.delivered {
		s.Verdicts = append(
			s.Verdicts,
			RulePast.Says(verdict.Look, nil, "Tube %s is to be made again: %s. Empty and rinse it.", a.ladder.Tubes[i].Label, t.void),
		)
	}
	if t.grams != nil {
		if t.spread > 0 {
			s.Verdicts = append(s.Verdicts, a.Balance.TakenMoving(t.spread))
		}
		if planned := a.ladder.Tubes[i].Grams; math.Abs(*t.grams/planned-1) > 0.02 {
			s.Verdicts = append(
				s.Verdicts,
				RuleNearest.Says(
					verdict.Look,
					nil,
					"%s g were weighed, %s g were planned: the tube is named by what it holds.",
					quantity.Digits(*t.grams, a.Balance.Decimals()),
					quantity.Digits(planned, a.Balance.Decimals()),
				),
			)
		}
	}
	if t.taken != nil {
		if off := *t.taken/rung.Taken - 1; math.Abs(off) > 0.02 {
			s.Verdicts = append(
				s.Verdicts,
				RuleNearest.Says(
					verdict.Look,
					nil,
					"%s mL were taken, %s mL were planned: the tube is named by what it holds.",
					quantity.Digits(*t.taken, rung.With.Decimals()),
					short(rung.Taken),
				),
			)
		}
	}
	return s
}

func (a *account) fillStep(i int) run.Step {
	rung, t := a.Rungs[i], a.tubes[i]
	label := a.ladder.Tubes[i].Label
	s := run.Step{ID: stepID("fill", i), Part: i, Kind: KindFilled, Asks: !t.filled && !t.past}
	if rung.Flask == nil {
		s.Title, s.Input, s.Unit = "Add "+short(
			rung.Solvent,
		)+" mL of solvent to tube "+label+", from the "+rung.SolventWith.Name(), run.InputReadings, "mL"
		s.Dimensions = volumeOnly
		s.Scale = rung.SolventWith.Volume
		s.Hint = "From the other burette. Read before and after."
		return s
	}
	s.Title, s.Input = "Solvent to the mark of the "+flaskWords(*rung.Flask)+", tube "+label, run.InputChoice
	s.Options = []verdict.Choice{{ID: choiceReached, Label: "Meniscus on the line"}, {ID: choicePast, Label: "Past the mark"}}
	s.Hint = "Half full, swirl, then to the mark drop by drop, at eye level."
	if t.past {
		s.Verdicts = []verdict.Verdict{
			RulePast.Says(
				verdict.Stop,
				[]verdict.Choice{{ID: choiceRedo, Label: "Make this stage again"}, {ID: run.ChoiceStartAgain, Label: "Give this run up"}},
				"Past the mark: how much is in tube %s is unknown. Discard it and make it again; what was made from it is void too.",
				label,
			),
		}
	}
	return s
}

// flaskWords names a flask in a sentence: 50 mL flask, class A.
func flaskWords(f glassware.Flask) string {
	volume, rest, _ := strings.Cut(f.String(), ",")
	return volume + " flask," + rest
}
