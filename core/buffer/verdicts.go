package buffer

import (
	"math"
	"slices"

	"vialbench/core/equilibrium"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// judgeDrops says of which concentrated liquid so little is taken that a stock of it is better made
// first.
func (r Request) judgeDrops(lines []Line) (list []verdict.Verdict) {
	for k, i := range r.ingredients() {
		if !i.Substance.Liquid || i.Stock.Value > 0 {
			continue
		}
		least := math.Inf(1)
		for _, l := range lines {
			if mL := i.For(l.mix.of(k) * r.volume(l.mix) / 1000); mL > 0 {
				least = math.Min(least, mL)
			}
		}
		if limit := r.Thresholds.Of(RuleDrop); least < limit {
			strength := quantity.Significant(i.Molarity().Value*least/(10*limit), 1) // so that ten times the limit is measured
			list = append(list, RuleDrop.Says(verdict.Look, nil,
				"%s mL of %s is too little to measure well. Make a stock of about %s mol/L first, under Standards, and take about %s mL of that.",
				quantity.Digits(least, 2), run.LowerFirst(i.Substance.Name), trim(strength), quantity.Digits(i.Molarity().Value*least/strength, 0)))
		}
	}
	return list
}

// judge gives the verdicts on a design.
func (r Request) judge(lines []Line) []verdict.Verdict {
	list := r.Balance.Doubt()
	t := r.Thresholds
	step, _ := r.System.Step(r.Target, r.Celsius)
	for _, pH := range r.targets() {
		_, pKa := r.System.Step(pH, r.Celsius)
		if away := math.Abs(pH - pKa); away > t.Of(RuleRange) {
			list = append(
				list,
				RuleRange.Says(verdict.Look, nil, "pH %.2f lies %.2f away from the nearest pKa of %s, %.2f: it hardly buffers there.",
					pH, away, r.System.Common(), pKa),
			)
		}
	}
	list = append(list, r.judgeDrops(lines)...)
	s, m := r.solved(lines[0].mix, r.Celsius)
	system := slices.IndexFunc(m.Amounts, func(a equilibrium.Amount) bool { return a.System.Key == r.System.Key })
	p := s.Solve()
	fa, fb := s.Fraction(system, step), s.Fraction(system, step+1)
	more, less, side, ratio := "base", "acid", "above", fb/fa
	if ratio < 1 {
		more, less, side, ratio = "acid", "base", "below", 1/ratio
	}
	if ratio < 1.05 {
		list = append(list, RuleRatio.Says(verdict.Fine, nil, "About as much acid as base: at the pKa it buffers best."))
	} else {
		list = append(
			list,
			RuleRatio.Says(verdict.Fine, nil, "%s times as much of the %s as of the %s: the pH lies %s the pKa that holds at this ionic strength.",
				trim(quantity.Significant(ratio, 2)), more, less, side),
		)
	}
	if most := t.Of(equilibrium.RuleStrength); p.Strength > most {
		list = append(
			list,
			equilibrium.RuleStrength.Says(
				verdict.Look,
				nil,
				"The ionic strength is %s mol/L: the calculated pH is only a guide, bring it to pH with the meter.",
				trim(quantity.Significant(p.Strength, 2)),
			),
		)
	}
	beta := s.Capacity(nil).Total
	if moves := -equilibrium.OpenCO2(r.Celsius) * carbonTaken(r.Target) / beta; math.Abs(moves) > t.Of(RuleAir) {
		list = append(
			list,
			RuleAir.Says(
				verdict.Look,
				nil,
				"So thin that the carbon dioxide of the air moves it by %s: boiled water, a closed bottle, fresh every day.",
				quantity.Signed(moves, 2),
			),
		)
	}
	if made := r.madePH(lines[0].mix); math.Abs(made-r.Target) > t.Of(RuleWarming) {
		list = append(
			list,
			RuleWarming.Says(
				verdict.Look,
				nil,
				"Bring it to pH %.2f at %s °C: at %s °C that is the %.2f wanted.",
				made,
				trim(r.MadeAt),
				trim(r.Celsius),
				r.Target,
			),
		)
	}
	half := r.planned(lines[0].mix, r.Celsius).Scaled(uncertain.Exact(0.5))
	if sh, err := half.Solver(); err == nil {
		if moves := sh.Solve().PH - p.PH; math.Abs(moves) > t.Of(RuleDilution) {
			list = append(list, RuleDilution.Says(verdict.Look, nil, "Diluted by two it moves by %s.", quantity.Signed(moves, 2)))
		}
	}
	return append(list, r.judgeSolids(lines)...)
}

// carbonTaken is how many protons carbon dioxide gives off at a pH.
func carbonTaken(pH float64) float64 {
	return 1 / (1 + math.Pow(10, 6.35-pH))
}

// judgeSolids tells of what hardly dissolves.
func (r Request) judgeSolids(lines []Line) []verdict.Verdict {
	var list []verdict.Verdict
	for k, i := range r.ingredients() {
		if i.Liquid() || i.Substance.Solubility == 0 {
			continue
		}
		grams := i.For(lines[0].mix.of(k)) / 10 // g in 100 mL
		if part := 100 * grams / i.Substance.Solubility; part > r.Thresholds.Of(RuleSolubility) {
			list = append(
				list,
				RuleSolubility.Says(
					verdict.Look,
					nil,
					"%s: %s g in 100 mL, and %s g dissolve at 20 °C.",
					i.Substance.Name,
					trim(quantity.Significant(grams, 3)),
					trim(i.Substance.Solubility),
				),
			)
		}
	}
	return list
}
