package session

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// ways finds how one item can be supplied.
type ways struct {
	store  Store
	liquid liquid
	day    string  // of the session, YYYY-MM-DD
	need   float64 // mL
	rules  verdict.Thresholds
	// there is what bottles hold that serve as they are, none of them enough alone; what they leave is made.
	there []Take
	tried int // bottles whose dilutions were searched
	// splits are the flasks that were found, by what they hold at least: most ways ask for the same.
	splits map[float64]split
}

// split are flasks that are filled one after another, in mL.
type split struct {
	flasks []float64
	err    error
}

// least is how much is enough, in mL.
func (w *ways) least() float64 { return w.need * near }

// goes is how much of a bottle goes when its strength is found, in mL.
func (w *ways) goes(settles bool) float64 {
	if settles {
		return w.rules.Of(RuleSettles)
	}
	return 0
}

// near is how much less than what is needed serves: what is spilled is a guess, and nobody fills a second flask
// for a few per cent (common practice).
const near = 1 / 1.03

// mostDiluted is for how many bottles of a liquid the ways to dilute them are searched.
const mostDiluted = 4

func (w *ways) supply() Supply {
	l := w.liquid
	sup := Supply{Item: l.ID, Options: []Option{}, Chosen: -1}
	if w.store.isWater(l) {
		sup.Options = []Option{{How: byBottle, Takes: []Take{}, Serves: true, Sentence: "From the tap or the still, " + Volume(w.need) + "."}}
		sup.Chosen = 0
		return sup
	}
	var stronger []Bottle
	for _, b := range w.store.Bottles {
		if !sameLiquid(b, l) {
			continue
		}
		o, dilutes := w.asItIs(b)
		if dilutes {
			stronger = append(stronger, b)
		} else if o != nil {
			sup.Options = append(sup.Options, *o)
		}
	}
	if o := w.together(sup.Options); o != nil {
		sup.Options = append(sup.Options, *o)
	}
	for _, b := range stronger {
		sup.Options = append(sup.Options, w.dilute(b))
	}
	sup.Options = append(sup.Options, w.making()...)
	slices.SortStableFunc(sup.Options, func(a, b Option) int { return cmp.Compare(a.rank(), b.rank()) })
	for i, o := range sup.Options {
		if o.Serves && (l.From == "" && sup.Chosen < 0 || o.From == l.From) {
			sup.Chosen = i
		}
	}
	if sup.Chosen < 0 {
		sup.Short = short(l, sup.Options, w.need)
	}
	return sup
}

func (store Store) isWater(l liquid) bool {
	name := strings.ToLower(strings.TrimSpace(l.Name))
	return l.strength == nil && l.pH == 0 && (name == "water" || strings.HasSuffix(name, " water"))
}

// sameLiquid reports whether a bottle holds the same thing, at whatever strength.
func sameLiquid(b Bottle, l liquid) bool {
	if !strings.EqualFold(strings.TrimSpace(l.Name), strings.TrimSpace(b.Name)) {
		return false
	}
	if l.pH > 0 {
		return math.Abs(b.PH-l.pH) < 0.05+1e-9 // two buffers that nobody tells apart at the bench
	}
	return true
}

// ratio is how many times as strong a bottle is as the item asks for; 0 of one that is stated on another basis: nobody
// would take it for the same.
func (w *ways) ratio(b Bottle) float64 {
	if w.liquid.strength == nil {
		return 1
	}
	unit, err := quantity.FindUnit(b.Unit)
	if err != nil || unit.Dimension != w.liquid.strength.Unit.Dimension {
		return 0
	}
	return b.Strength * unit.Factor / w.liquid.strength.Base()
}

// free is how much of a bottle nobody was promised, and the words for what is left.
func (b Bottle) free() (float64, string) {
	left := fmt.Sprintf("%s left", Volume(b.Left))
	if b.Promised > 0 {
		left += fmt.Sprintf(", of which %s are promised", Volume(b.Promised))
	}
	return max(0, b.Left-b.Promised), left
}

// settles reports whether the strength of a bottle has to be found before the session.
func (w *ways) settles(b Bottle) bool {
	return w.liquid.Standardised && (!b.Known || b.Until != "" && b.Until < w.day)
}

// asItIs is what a bottle can do undiluted; nil where it is another thing. A bottle that is stronger may be diluted.
func (w *ways) asItIs(b Bottle) (o *Option, dilutes bool) {
	o = &Option{From: byBottle + " " + b.ID, How: byBottle, Takes: []Take{}}
	says := func(format string, args ...any) *Option {
		o.Sentence = fmt.Sprintf("Bottle %d: ", b.Number) + fmt.Sprintf(format, args...)
		return o
	}
	ratio, tolerance := w.ratio(b), w.rules.Of(RuleTolerance)/100
	switch {
	case ratio == 0:
		return nil, false
	case b.Keeps != "" && b.Keeps < w.day:
		return says("keeps until %s only.", b.Keeps), false
	case ratio < 1-tolerance:
		return says("too weak, %s.", b.strength()), false
	case ratio > 1+tolerance:
		return nil, true
	}
	free, left := b.free()
	o.Standardise = w.settles(b)
	goes := w.goes(o.Standardise)
	take := Take{Bottle: b.ID, Number: b.Number, ML: min(free, w.need+goes), Standardise: o.Standardise}
	if free < w.least()+goes {
		if free > 0 {
			w.there = append(w.there, take)
		}
		return says("not enough, %s; %s are needed.", left, Volume(w.need+goes)), false
	}
	o.Serves, o.Takes = true, []Take{take}
	if o.Standardise {
		return says("serves once it is standardised; %s.", left), false
	}
	return says("serves as it is; %s.", left), false
}

func (b Bottle) strength() string {
	return quantity.Digits(quantity.Significant(b.Strength, 4), -1) + " " + b.Unit
}

// together is what several bottles do, none of which is enough alone: those whose strength is known first, and of them
// the fullest. Those that have to be standardised are poured together, and standardised once.
func (w *ways) together(alone []Option) *Option {
	if slices.ContainsFunc(alone, func(o Option) bool { return o.Serves }) {
		w.there = nil // what is made beside a bottle that serves is made whole
		return nil
	}
	slices.SortStableFunc(w.there, func(a, b Take) int {
		return cmp.Or(btoi(a.Standardise)-btoi(b.Standardise), cmp.Compare(b.ML, a.ML))
	})
	o := Option{From: byBottle + "s", How: byBottle}
	rest := w.need
	for _, take := range w.there {
		if take.Standardise && !o.Standardise {
			o.Standardise = true
			rest += w.goes(true)
		}
		take.ML = min(take.ML, rest)
		rest -= take.ML
		o.Takes = append(o.Takes, take)
		if rest <= w.need-w.least() {
			o.Serves = true
			o.Sentence = bottleWords(o.Takes) + " together: " + takeWords(o.Takes) + "." + settleWords(o.Takes)
			w.there = nil
			return &o
		}
	}
	return nil
}

// listed writes a list: “a, b and c”.
func listed(list []string) string {
	if len(list) < 2 {
		return strings.Join(list, "")
	}
	last := len(list) - 1
	return strings.Join(list[:last], ", ") + " and " + list[last]
}

// bottleWords names bottles: “Bottles 12, 13 and 14”.
func bottleWords(takes []Take) string {
	numbers := make([]string, len(takes))
	for i, take := range takes {
		numbers[i] = strconv.FormatInt(take.Number, 10)
	}
	word := "Bottles "
	if len(takes) == 1 {
		word = "Bottle "
	}
	return word + listed(numbers)
}

// takeWords says how much is taken of each: “250 mL and 120 mL”.
func takeWords(takes []Take) string {
	list := make([]string, len(takes))
	for i, take := range takes {
		list[i] = Volume(take.ML)
	}
	return listed(list)
}

// unsettled are the bottles that have to be standardised.
func unsettled(takes []Take) []Take {
	return slices.DeleteFunc(slices.Clone(takes), func(t Take) bool { return !t.Standardise })
}

// settleWords says which bottles have to be standardised; nothing where none has.
func settleWords(takes []Take) string {
	switch list := unsettled(takes); len(list) {
	case 0:
		return ""
	case 1:
		return " Standardise " + inSentence(bottleWords(list)) + " first."
	default:
		return " Pour " + inSentence(bottleWords(list)) + " together and standardise them first."
	}
}

// settles says how what is made gets its strength: poured together with all else that has none yet, and standardised.
func (o Option) settles(beside []Take) string {
	loose := unsettled(beside)
	switch {
	case len(loose) > 0:
		return "pour it together with " + inSentence(bottleWords(loose)) + " and standardise it"
	case len(o.Flasks) > 1:
		return "pour it together and standardise it"
	case o.How == byMaking:
		return "and standardise it"
	}
	return "standardise what comes of it"
}

// besides says which bottles serve for the part that is not made.
func (o Option) besides(takes []Take) string {
	if len(takes) == 0 {
		return ""
	}
	verb := " serves"
	if len(takes) > 1 {
		verb = " serve"
	}
	text := " " + bottleWords(takes) + verb + " for the rest, " + takeWords(takes) + "."
	if o.Standardise { // then they are poured together with what is made
		return text
	}
	return text + settleWords(takes)
}

// fill finds the flasks for what the bottles that are there leave to be made, and which of those bottles are needed
// beside them. What has to be standardised is poured together, so that standardising takes its part once.
func (w *ways) fill(standardise bool, flasks func(need float64) ([]float64, error)) ([]float64, []Take, error) {
	rest := w.least() + w.goes(standardise || len(unsettled(w.there)) > 0)
	for _, take := range w.there {
		rest -= take.ML
	}
	list, err := flasks(rest)
	over := -rest
	for _, volume := range list {
		over += volume
	}
	beside := w.there
	for len(beside) > 0 { // the emptiest is the first to stay where it is
		if over -= beside[len(beside)-1].ML; over < 0 {
			break
		}
		beside = beside[:len(beside)-1]
	}
	return list, beside, err
}

// dilute is a stronger bottle that is diluted into flasks.
func (w *ways) dilute(b Bottle) Option {
	ratio := w.ratio(b)
	o := Option{
		From: byDilute + " " + b.ID, How: byDilute, Takes: []Take{},
		Wanted: strconv.FormatFloat(quantity.Significant(b.Strength/ratio, 6), 'f', -1, 64),
	}
	o.Standardise = w.settles(b)
	flasks := w.split
	if w.tried++; w.tried <= mostDiluted && len(w.store.Glass) > 0 {
		flasks = func(need float64) ([]float64, error) { return w.store.diluted(ratio, need) }
	}
	var beside []Take
	var err error
	if o.Flasks, beside, err = w.fill(o.Standardise, flasks); err != nil {
		o.Sentence = fmt.Sprintf("Bottle %d could be diluted, but %s.", b.Number, err)
		return o
	}
	made := 0.0
	for _, volume := range o.Flasks {
		made += volume
	}
	free, left := b.free()
	take := Take{Bottle: b.ID, Number: b.Number, ML: made / ratio}
	if take.ML > free {
		o.Sentence = fmt.Sprintf("Bottle %d, %s, does not go far enough: %s to %s; %s.",
			b.Number, b.strength(), Volume(take.ML), Volume(made), left)
		return o
	}
	o.Serves, o.Takes = true, append([]Take{take}, beside...)
	o.Sentence = fmt.Sprintf("Dilute bottle %d, %s: %s to %s; %s.", b.Number, b.strength(), Volume(take.ML), flaskWords(o.Flasks), left)
	if o.Standardise {
		o.Sentence += " Its strength is not known well enough: " + o.settles(beside) + "."
	}
	o.Sentence += o.besides(beside)
	return o
}
