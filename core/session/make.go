package session

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/dilution"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
)

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
	if o.Flasks, beside, err = w.fill(o.Standardise, w.split); err != nil {
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
		o.Sentence = "Make it, " + flaskWords(o.Flasks) + ", " + o.settles(beside) + "."
	}
	o.Sentence += o.besides(beside)
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
func (w *ways) split(need float64) ([]float64, error) {
	if known, ok := w.splits[need]; ok {
		return known.flasks, known.err
	}
	flasks, err := w.store.Flasks.Split(need, w.store.Class)
	volumes := make([]float64, len(flasks))
	for i, f := range flasks {
		volumes[i] = f.Volume
	}
	w.splits[need] = split{volumes, err}
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
