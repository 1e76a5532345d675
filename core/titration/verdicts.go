package titration

import (
	"fmt"
	"math"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// judgeTrials gives the verdict on the trials together.
func (a *account) judgeTrials() []verdict.Verdict {
	r, _, ok := a.result()
	if !ok {
		return []verdict.Verdict{}
	}
	var list []verdict.Verdict
	limit := quantity.Digits(a.Thresholds.Of(RuleAgree), 2)
	more := a.needed(r, ok)
	switch {
	case r.Agreed && more == 0:
		list = append(list, RuleAgree.Says(verdict.Fine, nil, "%s agree within %s mL: mean %s mL, s %s mL.",
			sayPlaces(r.Used), limit, quantity.Digits(r.Mean, 2), quantity.Digits(r.SD, 3)))
	case r.Agreed:
		list = append(
			list,
			RuleAgree.Says(verdict.Look, nil, "%s agree within %s mL; %d more that agrees is wanted.", sayPlaces(r.Used), limit, more),
		)
	case len(r.Used) == 1:
		list = append(
			list,
			RuleTrials.Says(verdict.Look, nil, "One trial shows no slip: at least %d more, until two agree within %s mL.", more, limit),
		)
	default:
		list = append(list, RuleAgree.Says(verdict.Look, nil, "No two agree within %s mL yet: another trial.", limit))
	}
	if negative := r.judgeNegative(); len(negative) > 0 {
		list = append(list, negative...)
	} else if a.Tip != nil {
		list = append(list, a.judgeDrops(r.Mean)...)
	} else if least := a.Thresholds.Of(RuleTitre); r.Mean < least {
		list = append(list, RuleTitre.Says(verdict.Look, nil, "The titre is %s mL only, less than %s mL: take more sample, or a thinner titrant.",
			quantity.Digits(r.Mean, 2), quantity.Trim(least)))
	}
	for _, o := range r.Outliers {
		if o.Outlies() {
			list = append(
				list,
				RuleOutlier.Says(
					verdict.Look,
					nil,
					"%s of %d trials calls trial %d an outlier (%s, two-sided 95 %%: %s). Was anything seen there? Set it aside for that, or let it stand.",
					o.Test,
					o.N,
					o.At+1,
					quantity.Digits(o.Value, 3),
					quantity.Digits(o.Critical, 3),
				),
			)
		}
	}
	if r.Agreed && len(r.Used) > 2 && r.TypeA > a.Thresholds.Of(RuleScatter)*r.C.Expanded()/r.C.Value {
		list = append(
			list,
			RuleScatter.Says(
				verdict.Look,
				nil,
				"By their scatter the mean is good to ±%s %%, by glass and readings to ±%s %%: something else moves them.",
				quantity.Digits(100*r.TypeA, 2),
				quantity.Digits(100*r.C.Expanded()/r.C.Value, 2),
			),
		)
	}
	if a.Reaction.Pair() {
		list = append(list, a.judgePair(r)...)
	}
	if a.Back != nil {
		list = append(list, a.judgeBack(r)...)
	}
	return append(list, a.judgeMade(r)...)
}

// sayPlaces names trials: “Trials 2, 3 and 4”.
func sayPlaces(places []int) string {
	text := "Trials "
	for k, i := range places {
		switch {
		case k == 0:
		case k == len(places)-1:
			text += " and "
		default:
			text += ", "
		}
		text += fmt.Sprint(i + 1)
	}
	return text
}

// judgeMade puts a standardisation beside what the bottle was made as.
func (a *account) judgeMade(r Result) []verdict.Verdict {
	if !a.Standardise || !(a.Titrant.C.Value > 0) {
		return nil
	}
	found := r.C.Scale(1 / a.Titrant.Units)
	off := 100 * (found.Value/a.Titrant.C.Value - 1)
	made := quantity.Digits(a.Titrant.C.Value, 4)
	size := quantity.Digits(math.Abs(off), 1)
	if size == "0.0" {
		return []verdict.Verdict{RuleMade.Finds(verdict.Fine, nil, "Just as it was made ("+made+" mol/L).")}
	}
	way := "higher"
	if off < 0 {
		way = "lower"
	}
	sentence := fmt.Sprintf("%s %% %s than it was made as (%s mol/L).", size, way, made)
	if most := a.Thresholds.Of(RuleMade); math.Abs(off) > most {
		return []verdict.Verdict{
			RuleMade.Finds(
				verdict.Look,
				nil,
				sentence+" That is more than moisture, air and standing take: is it the right bottle, and the right sample?",
			),
		}
	}
	if off < 0 {
		sentence += " Moisture, air and standing can do that."
	}
	return []verdict.Verdict{RuleMade.Finds(verdict.Fine, nil, sentence)}
}
