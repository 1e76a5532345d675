package solution

import (
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

// keeping is how a kind of solution is kept: the rule says after how many days it
// is standardised again, the advice how it is stored.
type keeping struct {
	rule   verdict.Rule
	advice string
}

// keepings by what spoils a solution (common practice).
var keepings = map[substance.Keeping]keeping{
	substance.KeepBase: {RuleStandardiseBase, "In plastic, stoppered: base takes up carbon dioxide and attacks glass and ground joints."},
	substance.KeepDark: {
		RuleStandardiseDark,
		"In amber glass, in the dark, away from organic matter and dust: light and dust decompose it.",
	},
	substance.KeepSulfur: {
		RuleStandardiseSulfur,
		"With boiled water and a little carbonate, in the dark: bacteria, acid and carbon dioxide decompose it.",
	},
	substance.KeepReducing: {RuleStandardiseReducing, "Full to the stopper, acidified when its recipe says so: the air oxidises it."},
}

// keeping returns how the solution is kept, by the solute that spoils first.
func (c *context) keeping() (k keeping, ok bool) {
	for o := range c.solutes() {
		next, spoils := keepings[o.Substance.Keep]
		if spoils && (!ok || o.Thresholds.Of(next.rule) < c.Thresholds.Of(k.rule)) {
			k, ok = next, true
		}
	}
	return k, ok
}

func (c *context) keepingVerdict() (verdict.Verdict, bool) {
	k, ok := c.keeping()
	if !ok {
		return verdict.Verdict{}, false
	}
	return k.rule.Says(verdict.Look, nil, "%s Standardise it again after %g days.", k.advice, c.Thresholds.Of(k.rule)), true
}

// exact reports whether all solutes stand by weighing alone.
func (c *context) byWeighingAlone() bool {
	for o := range c.solutes() {
		if o.Substance.Class != substance.Primary || o.Substance.Hygroscopic || o.DryingLoss > 0 {
			return false
		}
	}
	return c.MakeUp != ByAdding
}

// keepsDays is how many days the finished bottle keeps, by the lab's rules.
func (c *context) keepsDays() int {
	if c.Substance.Class == substance.Primary && c.byWeighingAlone() {
		return int(c.Thresholds.Of(RuleShelfPrimary))
	}
	return int(c.Thresholds.Of(RuleShelfSecondary))
}

// standardiseDays is after how many days the bottle is standardised again; 0 when
// it stands by weighing alone and nothing spoils it.
func (c *context) standardiseDays() int {
	if k, ok := c.keeping(); ok {
		return int(c.Thresholds.Of(k.rule))
	}
	if c.byWeighingAlone() {
		return 0
	}
	return int(c.Thresholds.Of(RuleStandardise))
}
