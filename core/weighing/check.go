package weighing

import (
	"math"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// The rules of the balance itself. Thresholds are defaults that a lab can set.
var (
	RuleSmallestMass = verdict.Rule{
		ID:        "W-2",
		Title:     "The smallest sensible mass",
		Threshold: 0.10,
		Unit:      "%",
		Min:       0.01,
		Max:       5,
		Why:       "Below 2 × repeatability ÷ this tolerance (and never less than 2 × 0.41 × last digit), the balance itself is the error.",
		Source:    "USP <41>",
	}
	RuleCapacity = verdict.Rule{
		ID: "W-5", Title: "The balance can carry the mass",
		Why: "Above its capacity a balance shows nothing, or something wrong.", Source: "common practice",
	}
	RuleSettled = verdict.Rule{
		ID:        "W-10",
		Title:     "Wait until the last digit stands",
		Threshold: 2,
		Unit:      "last digits",
		Min:       1,
		Max:       20,
		Why:       "The last digit is an estimate and wanders with draughts and warmth. A reading taken too early is not the mass.",
		Source:    "common practice",
	}
	RuleCheck = verdict.Rule{
		ID:        "W-11",
		Title:     "The balance passes its check",
		Threshold: 3,
		Unit:      "standard uncertainties",
		Min:       2,
		Max:       6,
		Why:       "A check weight shows what the balance does today. After a failed check, nothing weighed since the last good one can be trusted.",
		Source:    "common practice",
	}
)

// Doubt warns of a balance that failed its last check; empty of any other.
func (b Balance) Doubt() []verdict.Verdict {
	if !b.FailedCheck {
		return nil
	}
	return []verdict.Verdict{RuleCheck.Says(verdict.Stop, nil,
		"%s failed its last check: check it again, or take another balance, before anything is weighed on it.", b.Name)}
}

// CheckLimit returns how far in g a reading of a check weight may be off: the
// threshold of rule W-11 times the combined standard uncertainty of the reading,
// the tared zero and the weight (u in g).
func (b Balance) CheckLimit(weightU float64, t verdict.Thresholds) float64 {
	net := b.Net(1, 0, "check").Plus(uncertain.New(0, weightU, uncertain.Source{ID: "weight"}))
	return t.Of(RuleCheck) * net.U()
}

// Checked judges the reading of a check weight, all in g: the mass on its
// certificate, with its standard uncertainty. passed reports whether it is within
// the limit.
func (b Balance) Checked(mass, weightU, reading float64, t verdict.Thresholds) (v verdict.Verdict, passed bool) {
	limit := b.CheckLimit(weightU, t)
	off := reading - mass
	d := b.Decimals()
	if passed = math.Abs(off) <= limit*(1+1e-9); passed {
		return RuleCheck.Says(verdict.Fine, nil, "%s g off, within ±%s g.", quantity.Digits(off, d), quantity.Digits(limit, d)), true
	}
	return RuleCheck.Says(
		verdict.Stop,
		nil,
		"%s g off, and at most ±%s g would be right. Level it, warm it up, adjust it and check again. What was weighed since the last good check is marked.",
		quantity.Digits(off, d),
		quantity.Digits(limit, d),
	), false
}

// Settled judges the readings in g of the last moments, oldest first: still when
// they lie within the threshold of rule W-10 and the balance itself says so. spread
// is the highest less the lowest.
func (b Balance) Settled(readings []float64, stable bool, t verdict.Thresholds) (spread float64, still bool) {
	if len(readings) == 0 {
		return 0, false
	}
	low, high := readings[0], readings[0]
	for _, r := range readings {
		low, high = math.Min(low, r), math.Max(high, r)
	}
	spread = high - low
	return spread, stable && spread <= t.Of(RuleSettled)*b.Resolution*(1+1e-6)
}

// Wandering is the verdict on a reading that is to be taken before it stands;
// spread in g is how far it moved just now.
func (b Balance) Wandering(spread float64) verdict.Verdict {
	return RuleSettled.Says(
		verdict.Look,
		[]verdict.Choice{{ID: ChoiceWait, Label: "Wait until it stands"}, {ID: ChoiceTakeMoving, Label: "Take it as it is"}},
		"The reading still moves, by %s g just now. Close the doors, wait; read as it is, that much is counted as its uncertainty.",
		quantity.Digits(spread, b.Decimals()),
	)
}

// Moved is what a reading adds to a mass in g when it was taken while it still moved
// by spread in g: nothing, within half of that (rectangular).
func (b Balance) Moved(spread float64, id string) uncertain.Number {
	return uncertain.WithLimits(0, spread/2, uncertain.RectangularShape, uncertain.Source{
		ID: "moving " + id, Label: "the reading still moved", Basis: "by " + quantity.Digits(spread, b.Decimals()) + " g, rectangular",
	})
}

// Weighed is the mass in g that a fact states: net, or of a vessel before and after, with what the reading
// still moved.
func (b Balance) Weighed(f fact.Fact) uncertain.Number {
	load, tare := f.Quantity.In("g"), 0.0
	if f.After != nil {
		tare = f.After.In("g")
	}
	n := b.Net(load, tare, f.ID)
	if f.Spread != nil {
		n = n.Plus(b.Moved(f.Spread.In("g"), f.ID))
	}
	return n
}

// TakenMoving is the verdict on a reading that was taken so.
func (b Balance) TakenMoving(spread float64) verdict.Verdict {
	return RuleSettled.Says(
		verdict.Look,
		nil,
		"Taken while it still moved by %s g: that much is counted as its uncertainty.",
		quantity.Digits(spread, b.Decimals()),
	)
}

// CheckSpread refuses how far a reading is said to have moved when that is no mass, or
// so much that it was no reading yet.
func (b Balance) CheckSpread(spread *quantity.Quantity, p *verdict.Problems) {
	if spread != nil && (spread.Unit.Dimension != quantity.Mass || !(spread.Value >= 0) || spread.Base() > 0.01*b.Capacity) {
		p.Add("/spread", "the reading moved by %s just now, which is no reading yet: wait until it stands", spread)
	}
}

// The choices of a verdict on a moving reading.
const (
	ChoiceWait       = "wait-settled"
	ChoiceTakeMoving = "take-moving"
)
