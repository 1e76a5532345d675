package dilution

import (
	"fmt"
	"math"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// verdicts judge a ladder.
func (r Request) verdicts(l Ladder) []verdict.Verdict {
	var list []verdict.Verdict
	if r.Stock.Left > 0 && l.StockNeeded > r.Stock.Left*(1+exactly) {
		list = append(
			list,
			RuleStockLeft.Says(
				verdict.Stop,
				nil,
				"%s mL of the stock are needed, with rinsing the pipette, and %s mL are left in the bottle.",
				quantity.Digits(l.StockNeeded, 1),
				quantity.Digits(r.Stock.Left, 1),
			),
		)
	}
	if r.Stock.Concentrate {
		list = append(
			list,
			RuleConcentrate.Says(
				verdict.Look,
				nil,
				"In the fume hood: half the solvent into the flask first, the liquid slowly into it, never the reverse; let it cool before the mark. It is approximate until standardised.",
			),
		)
	}
	least := r.Thresholds.Of(RuleSmallVolume)
	var scant, small, strong []string // the tubes that a rule has something to say of
	grave, between := verdict.Look, 0.0
	for i, t := range l.Tubes {
		if t.Spare < -1e-6 {
			scant = append(scant, fmt.Sprintf("%s (makes %s mL, %s mL needed)", t.Label, short(t.Final()), short(t.Needed)))
		}
		if t.Weighed {
			list = append(list, r.verdictsOfWeighing(t)...)
		} else if d := t.With.Division(); t.Taken > 0 && d > 0 && t.Taken < least*d {
			small = append(small, fmt.Sprintf("%s (%s mL is %.2g divisions of the %s)", t.Label, short(t.Taken), t.Taken/d, t.With.Name()))
			if first := math.Pow(10, math.Ceil(math.Log10(least*d/t.Taken))); first > between {
				between = first
			}
			if t.Taken < d {
				grave = verdict.Stop
			}
		}
		if rung := r.Rungs[i]; rung.Flask == nil && rung.Solvent > 0 && rung.Taken > 0 && r.Stock.molarity() > additiveUpTo {
			strong = append(strong, t.Label)
		}
	}
	if len(scant) > 0 {
		list = append(
			list,
			RuleRunsOut.Says(
				verdict.Stop,
				nil,
				"Too little of tube %s: for itself, for what is taken on, and to rinse the pipette.",
				strings.Join(scant, ", "),
			),
		)
	}
	if len(small) > 0 {
		list = append(
			list,
			RuleSmallVolume.Says(
				grave,
				nil,
				"Little of a scale is used for tube %s. Dilute the stock 1 in %s first and take from that, or take a smaller pipette.",
				strings.Join(small, ", "),
				short(between),
			),
		)
	}
	if len(strong) > 0 {
		list = append(
			list,
			RuleAdditive.Says(
				verdict.Look,
				nil,
				"Tube %s adds solvent to a strong stock: volumes are not quite additive. Make it up to the mark of a flask.",
				strings.Join(strong, ", "),
			),
		)
	}
	if r.OneBurette {
		list = append(
			list,
			RuleTwoBurettes.Says(
				verdict.Look,
				nil,
				"Stock and solvent go through burettes, and the lab owns one: run the stock into all tubes first, rinse the burette with water three times, then the solvent.",
			),
		)
	}
	return list
}

// verdictsOfWeighing judge whether the balance is the right one for a portion.
func (r Request) verdictsOfWeighing(t Tube) []verdict.Verdict {
	tolerance := r.Thresholds.Of(weighing.RuleSmallestMass) / 100
	grams := quantity.Digits(t.Grams, r.Balance.Decimals())
	if t.Grams > r.Balance.Capacity {
		return []verdict.Verdict{
			weighing.RuleCapacity.Says(
				verdict.Stop,
				nil,
				"%s g for tube %s is more than %s carries (%g g).",
				grams,
				t.Label,
				r.Balance.Name,
				r.Balance.Capacity,
			),
		}
	}
	if smallest := r.Balance.SmallestMass(tolerance); t.Grams < smallest {
		return []verdict.Verdict{
			weighing.RuleSmallestMass.Says(
				verdict.Look,
				nil,
				"%s g for tube %s is less than %s weighs to %.2g %% (from %s g on): take a larger flask, or two steps.",
				grams,
				t.Label,
				r.Balance.Name,
				100*tolerance,
				quantity.Digits(smallest, r.Balance.Decimals()),
			),
		}
	}
	return nil
}

// additiveUpTo is the molarity up to which volumes add up within the errors of
// burettes (common practice).
const additiveUpTo = 1.0
