package session

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/dilution"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
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
		if free > goes {
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
// the fullest.
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
		goes := w.goes(take.Standardise)
		take.ML = min(take.ML, rest+goes)
		rest -= take.ML - goes
		o.Takes = append(o.Takes, take)
		o.Standardise = o.Standardise || take.Standardise
		if rest <= w.need-w.least() {
			o.Serves = true
			o.Sentence = bottleWords(o.Takes) + " together: " + takeWords(o.Takes) + "."
			w.there = nil
			return &o
		}
	}
	return nil
}

// bottleWords names bottles: “Bottles 12, 13 and 14”.
func bottleWords(takes []Take) string {
	numbers := make([]string, len(takes))
	for i, take := range takes {
		numbers[i] = strconv.FormatInt(take.Number, 10)
	}
	if len(numbers) == 1 {
		return "Bottle " + numbers[0]
	}
	last := len(numbers) - 1
	return "Bottles " + strings.Join(numbers[:last], ", ") + " and " + numbers[last]
}

// takeWords says how much is taken of each: “250 mL and 120 mL”.
func takeWords(takes []Take) string {
	list := make([]string, len(takes))
	for i, take := range takes {
		list[i] = Volume(take.ML)
		if take.Standardise {
			list[i] += " once it is standardised"
		}
	}
	if len(list) == 1 {
		return list[0]
	}
	last := len(list) - 1
	return strings.Join(list[:last], ", ") + " and " + list[last]
}

// besides says which bottles serve for the part that is not made.
func besides(takes []Take) string {
	if len(takes) == 0 {
		return ""
	}
	verb := " serves"
	if len(takes) > 1 {
		verb = " serve"
	}
	return " " + bottleWords(takes) + verb + " for the rest, " + takeWords(takes) + "."
}

// fill finds the flasks for what the bottles that are there leave to be made, when so much of each flask goes in mL, and
// which of those bottles are needed beside them.
func (w *ways) fill(goes float64, flasks func(need float64) ([]float64, error)) ([]float64, []Take, error) {
	rest := w.least()
	for _, take := range w.there {
		rest -= take.ML - w.goes(take.Standardise)
	}
	list, err := flasks(rest + goes)
	for n := 1; err == nil && goes > 0 && len(list) > n; {
		n = len(list)
		list, err = flasks(rest + float64(n)*goes)
	}
	over := -rest
	for _, volume := range list {
		over += volume - goes
	}
	beside := w.there
	for len(beside) > 0 { // the emptiest is the first to stay where it is
		last := beside[len(beside)-1]
		if over -= last.ML - w.goes(last.Standardise); over < 0 {
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
	flasks := w.store.split
	if w.tried++; w.tried <= mostDiluted && len(w.store.Glass) > 0 {
		flasks = func(need float64) ([]float64, error) { return w.store.diluted(ratio, need) }
	}
	var beside []Take
	var err error
	if o.Flasks, beside, err = w.fill(w.goes(o.Standardise), flasks); err != nil {
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
		o.Sentence += " Its strength is not known well enough: standardise what comes of it."
	}
	o.Sentence += besides(beside)
	return o
}

// making is making it from a substance that the library knows, or by the buffers of the lab.
func (w *ways) making() []Option {
	l := w.liquid
	if l.strength == nil {
		return nil
	}
	o := Option{From: byMaking, How: byMaking, Takes: []Take{}}
	if l.pH == 0 {
		i := w.store.substance(l.Name)
		if i < 0 {
			return nil
		}
		sub := w.store.Substances[i]
		o.Key = sub.Key
		o.Standardise = l.Standardised && sub.Class != substance.Primary
	}
	var beside []Take
	var err error
	if o.Flasks, beside, err = w.fill(w.goes(o.Standardise), w.store.split); err != nil {
		o.Sentence = fmt.Sprintf("It cannot be made at once: %s.", err)
		return []Option{o}
	}
	o.Draws = w.draws(o)
	if i := w.store.held(o.Draws); i >= 0 && w.store.Stock[i].Left < o.Draws.Amount {
		o.Sentence = fmt.Sprintf("Making it takes %s of %s, and %s are in the store.",
			amount(o.Draws.Amount, o.Draws.Unit), inSentence(o.Draws.Name), amount(max(0, w.store.Stock[i].Left), o.Draws.Unit))
		return []Option{o}
	}
	o.Serves, o.Takes = true, append(o.Takes, beside...)
	o.Sentence = "Make it: " + flaskWords(o.Flasks) + "."
	if o.Standardise {
		o.Sentence = "Make it, " + flaskWords(o.Flasks) + ", and standardise it."
	}
	o.Sentence += besides(beside)
	return []Option{o}
}

// draws is what filling the flasks takes of the substance: m = c·V·M/w of a solid, with w what its bottle usually holds
// of the compound; V = m/ρ of a liquid. A part by mass counts as of a solution of 1 g/mL.
func (w *ways) draws(o Option) *Draw {
	i := slices.IndexFunc(w.store.Substances, func(s substance.Substance) bool { return s.Key == o.Key })
	if o.Key == "" || i < 0 || slices.Contains(w.store.begun, w.liquid.ID) {
		return nil
	}
	sub := w.store.Substances[i]
	f, err := formula.Parse(sub.Formula)
	if err != nil {
		return nil
	}
	litres := 0.0
	for _, volume := range o.Flasks {
		litres += volume / 1000
	}
	grams := w.liquid.strength.Base() * litres
	switch w.liquid.strength.Unit.Dimension {
	case quantity.AmountConcentration:
		grams *= f.MolarMass().Value
	case quantity.MassFraction:
		grams *= 1000
	default:
	}
	d := Draw{Key: sub.Key, Name: sub.Name, Unit: "g", Amount: grams}
	switch {
	case sub.Liquid:
		d.Unit, d.Amount = "mL", grams/(sub.MassFraction*sub.Density)
	case sub.Assay > 0:
		d.Amount /= sub.Assay
	}
	d.Amount = quantity.Significant(d.Amount, 4)
	return &d
}

// amount writes what is taken out of the store.
func amount(value float64, unit string) string {
	return quantity.Trim(quantity.Significant(value, 3)) + " " + unit
}

// split is the flasks that are filled one after another, in mL.
func (store Store) split(need float64) ([]float64, error) {
	flasks, err := store.Flasks.Split(need, store.Class)
	volumes := make([]float64, len(flasks))
	for i, f := range flasks {
		volumes[i] = f.Volume
	}
	return volumes, err
}

// diluted is the fewest flasks that can be filled with a dilution, by pipettes and flasks that are there, in two steps at
// most; of as many, those with the least too much.
func (store Store) diluted(ratio, need float64) ([]float64, error) {
	fewest, volume := 0, 0.0
	for _, v := range store.Flasks.Volumes(store.Class) {
		n := int(math.Ceil(need/v - 1e-9))
		if n > glassware.MaxBatches || fewest > 0 && n >= fewest {
			continue
		}
		routes, _ := dilution.Routes(context.Background(), dilution.Search{ // its effort is bounded
			Factor: ratio, Glass: store.Glass, Class: store.Class, Need: v, MaxSteps: 2, Objective: dilution.FewestSteps,
		})
		if len(routes) > 0 {
			fewest, volume = n, v
		}
	}
	if fewest == 0 {
		return nil, fmt.Errorf("no pipettes and flasks here give 1 in %s, so much of it", quantity.Digits(quantity.Significant(ratio, 3), -1))
	}
	return slices.Repeat([]float64{volume}, fewest), nil
}

// substance is the place of what a solution of that name is made from: a primary standard first; −1 of none.
func (store Store) substance(name string) int {
	best := -1
	for i, sub := range store.Substances {
		same := func(other string) bool { return strings.EqualFold(strings.TrimSpace(name), other) }
		if !same(sub.Name) && !same(sub.Dissolved()) && !slices.ContainsFunc(sub.Synonyms, same) {
			continue
		}
		if best < 0 || sub.Class == substance.Primary && store.Substances[best].Class != substance.Primary {
			best = i
		}
	}
	return best
}

// flaskWords writes flasks as people say them: “2 × 1 L and 250 mL”.
func flaskWords(volumes []float64) string {
	var words []string
	for i := 0; i < len(volumes); {
		n := 1
		for i+n < len(volumes) && volumes[i+n] == volumes[i] {
			n++
		}
		word := Volume(volumes[i])
		if n > 1 {
			word = fmt.Sprintf("%d × %s", n, word)
		}
		words = append(words, word)
		i += n
	}
	return strings.Join(words, " and ")
}

// short says what is missing of an item, and what would mend it.
func short(l liquid, options []Option, need float64) string {
	if len(options) == 0 {
		if l.strength == nil {
			return fmt.Sprintf("%s: no bottle on the shelf is called that. Bring one in on the shelf, or write its name as the label has it.", l.title())
		}
		return fmt.Sprintf("%s: no bottle, and no substance of that name in the library. Write the name as the label has it, or add the substance in the lab setup.", l.title())
	}
	return fmt.Sprintf("%s: %s are needed, and nothing serves. %s", l.title(), Volume(need), options[0].Sentence)
}
