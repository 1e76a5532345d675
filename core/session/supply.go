package session

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"

	"vialbench/core/dilution"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

// Bottle is what stands on the shelf.
type Bottle struct {
	ID     string `json:"id"`
	Number int64  `json:"number"`
	Name   string `json:"name"` // of what is in it
	// Strength in Unit; 0 of what has none. PH is that of a buffer, or 0.
	Strength float64 `json:"strength"`
	Unit     string  `json:"unit"`
	PH       float64 `json:"pH"`
	// Left is how much is left, Promised how much of that other sessions were promised, in mL.
	Left     float64 `json:"left"`
	Promised float64 `json:"promised"`
	// Known reports whether its strength is exact or was standardised; Until is the last day on which it is, and
	// Keeps the last day on which it can be used, YYYY-MM-DD; empty of none.
	Known bool   `json:"known"`
	Until string `json:"until,omitempty"`
	Keeps string `json:"keeps,omitempty"`
}

// Store is what a lab has to supply a session from.
type Store struct {
	Bottles []Bottle           `json:"bottles"`
	Flasks  glassware.Cupboard `json:"flasks"`
	Class   glassware.Class    `json:"class"`
	// Glass is what dilutions are measured with; none where any is there.
	Glass      []glassware.Item      `json:"glass,omitempty"`
	Substances []substance.Substance `json:"substances"`
	// Balances, Meters and Burettes are how many there are; Burettes of at least each size are counted.
	Balances int     `json:"balances"`
	Meters   int     `json:"meters"`
	Pieces   []Piece `json:"pieces"`
}

// Piece is glass that a lab has: so many of a kind and a size.
type Piece struct {
	Glass  Glass   `json:"glass"`
	Size   float64 `json:"size"` // mL
	Number int     `json:"number"`
}

// How an item is supplied.
const (
	byBottle = "bottle"
	byDilute = "dilute"
	byMaking = "make"
)

// Option is a way to supply an item.
type Option struct {
	// From is what an [Item] names to choose it.
	From string `json:"from"`
	How  string `json:"how"`
	// Bottle is the one that is taken, of which TakesML are; empty of what is made from the store.
	Bottle  string  `json:"bottle,omitempty"`
	Number  int64   `json:"number,omitempty"`
	TakesML float64 `json:"takesML,omitempty"`
	// Wanted is the strength that a bottle is diluted to, in the unit of that bottle.
	Wanted string `json:"wanted,omitempty"`
	// Key is that of the substance that is weighed or measured.
	Key string `json:"key,omitempty"`
	// Flasks are filled one after another, in mL.
	Flasks []float64 `json:"flasks,omitempty"`
	// Serves reports whether it does; where it does not, Sentence says why.
	Serves   bool   `json:"serves"`
	Sentence string `json:"sentence"`
	// Standardise reports whether the strength has to be found yet.
	Standardise bool `json:"standardise,omitempty"`
}

// Supply is how an item can be supplied, the best way first, and which way was taken.
type Supply struct {
	Item    string   `json:"item"`
	Options []Option `json:"options"`
	// Chosen is the place of the way that is taken; −1 where none serves: the item is short.
	Chosen int `json:"chosen"`
	// Short says what is missing, and what would mend it; empty where nothing is.
	Short string `json:"short,omitempty"`
}

// taken is the way that is taken; nil where there is none.
func (s Supply) taken() *Option {
	if s.Chosen < 0 {
		return nil
	}
	return &s.Options[s.Chosen]
}

// Supplies finds how each item can be supplied, in the order of the items. What one item takes is not there
// for the next.
func (store Store) Supplies(s Session, needs []Need, rules verdict.Thresholds) []Supply {
	store.Bottles = slices.Clone(store.Bottles)
	list := make([]Supply, len(needs))
	for i, need := range needs {
		l, _ := s.Items[i].read()
		list[i] = store.supply(s, l, need.Total, rules)
		if o := list[i].taken(); o != nil && o.Bottle != "" {
			for k := range store.Bottles {
				if store.Bottles[k].ID == o.Bottle {
					store.Bottles[k].Promised += o.TakesML
				}
			}
		}
	}
	return list
}

func (store Store) supply(s Session, l liquid, need float64, rules verdict.Thresholds) Supply {
	sup := Supply{Item: l.ID, Options: []Option{}, Chosen: -1}
	if store.isWater(l) {
		sup.Options = []Option{{From: "", How: byBottle, Serves: true, Sentence: "From the tap or the still, " + Volume(need) + "."}}
		sup.Chosen = 0
		return sup
	}
	flasks := sync.OnceValues(func() ([]float64, error) { return store.split(need) })
	tried := 0
	for _, b := range store.Bottles {
		if sameLiquid(b, l) {
			sup.Options = append(sup.Options, bottle(s, l, b, need, rules, func(ratio float64) ([]float64, error) {
				if tried++; tried > mostDiluted || len(store.Glass) == 0 {
					return flasks()
				}
				return store.diluted(ratio, need)
			})...)
		}
	}
	sup.Options = append(sup.Options, store.making(l, flasks)...)
	slices.SortStableFunc(sup.Options, func(a, b Option) int { return cmp.Compare(a.rank(), b.rank()) })
	for i, o := range sup.Options {
		if o.Serves && (l.From == "" && sup.Chosen < 0 || o.From == l.From) {
			sup.Chosen = i
		}
	}
	if sup.Chosen < 0 {
		sup.Short = short(l, sup.Options, need)
	}
	return sup
}

// rank puts what serves first, and of that a bottle as it is before one that is diluted, and that before
// what is made.
func (o Option) rank() int {
	rank := slices.Index([]string{byBottle, byDilute, byMaking}, o.How)
	if o.Standardise && o.How == byBottle {
		rank++ // as much work as diluting one whose strength is known
	}
	if !o.Serves {
		rank += 10
	}
	return rank
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

// bottle is what a bottle can do for an item: serve as it is, or be diluted.
func bottle(s Session, l liquid, b Bottle, need float64, rules verdict.Thresholds, flasks func(ratio float64) ([]float64, error)) []Option {
	o := Option{From: byBottle + " " + b.ID, How: byBottle, Bottle: b.ID, Number: b.Number, TakesML: need}
	free := max(0, b.Left-b.Promised)
	left := fmt.Sprintf("%s left", Volume(b.Left))
	if b.Promised > 0 {
		left += fmt.Sprintf(", of which %s are promised", Volume(b.Promised))
	}
	day := s.Starts.Format("2006-01-02")
	says := func(format string, args ...any) []Option {
		o.Sentence = fmt.Sprintf("Bottle %d: ", b.Number) + fmt.Sprintf(format, args...)
		return []Option{o}
	}
	if b.Keeps != "" && b.Keeps < day {
		return says("keeps until %s only.", b.Keeps)
	}
	ratio := 1.0
	if l.strength != nil {
		unit, err := quantity.FindUnit(b.Unit)
		if err != nil || unit.Dimension != l.strength.Unit.Dimension {
			return nil // stated on another basis: nobody would take it for the same
		}
		ratio = b.Strength * unit.Factor / l.strength.Base()
	}
	o.Standardise = l.Standardised && (!b.Known || b.Until != "" && b.Until < day)
	tolerance := rules.Of(RuleTolerance) / 100
	switch {
	case ratio < 1-tolerance:
		return says("too weak, %s %s.", quantity.Digits(quantity.Significant(b.Strength, 4), -1), b.Unit)
	case ratio > 1+tolerance:
		o.Wanted = strconv.FormatFloat(quantity.Significant(b.Strength/ratio, 6), 'f', -1, 64)
		return []Option{dilute(b, ratio, free, left, o, flasks)}
	}
	if free < need {
		return says("not enough, %s; %s are needed.", left, Volume(need))
	}
	o.Serves = true
	if o.Standardise {
		return says("serves once it is standardised; %s.", left)
	}
	return says("serves as it is; %s.", left)
}

// dilute is a stronger bottle that is diluted into flasks.
func dilute(b Bottle, ratio, free float64, left string, o Option, flasks func(ratio float64) ([]float64, error)) Option {
	o.From, o.How, o.TakesML = byDilute+" "+b.ID, byDilute, 0
	var err error
	if o.Flasks, err = flasks(ratio); err != nil {
		o.Sentence = fmt.Sprintf("Bottle %d could be diluted, but %s.", b.Number, err)
		return o
	}
	made := 0.0
	for _, volume := range o.Flasks {
		made += volume
	}
	o.TakesML = made / ratio
	strength := quantity.Digits(quantity.Significant(b.Strength, 4), -1) + " " + b.Unit
	if o.TakesML > free {
		o.Sentence = fmt.Sprintf("Bottle %d, %s, does not go far enough: %s to %s; %s.",
			b.Number, strength, Volume(o.TakesML), Volume(made), left)
		return o
	}
	o.Serves = true
	o.Sentence = fmt.Sprintf("Dilute bottle %d, %s: %s to %s; %s.", b.Number, strength, Volume(o.TakesML), flaskWords(o.Flasks), left)
	if o.Standardise {
		o.Sentence += " Its strength is not known well enough: standardise what comes of it."
	}
	return o
}

// making is making it from a substance that the library knows, or by the buffers of the lab.
func (store Store) making(l liquid, flasks func() ([]float64, error)) []Option {
	o := Option{From: byMaking, How: byMaking}
	if l.strength == nil {
		return nil
	}
	if l.pH == 0 {
		i := store.substance(l.Name)
		if i < 0 {
			return nil
		}
		sub := store.Substances[i]
		o.Key = sub.Key
		o.Standardise = l.Standardised && sub.Class != substance.Primary
	}
	var err error
	if o.Flasks, err = flasks(); err != nil {
		o.Sentence = fmt.Sprintf("It cannot be made at once: %s.", err)
		return []Option{o}
	}
	o.Serves = true
	o.Sentence = "Make it: " + flaskWords(o.Flasks) + "."
	if o.Standardise {
		o.Sentence = "Make it, " + flaskWords(o.Flasks) + ", and standardise it."
	}
	return []Option{o}
}

// near is how much less than what is needed may be made: what is spilled is a guess, and nobody fills a second flask
// for a few per cent (common practice).
const near = 1 / 1.03

// split is the flasks that are filled one after another, in mL.
func (store Store) split(need float64) ([]float64, error) {
	flasks, err := store.Flasks.Split(need*near, store.Class)
	volumes := make([]float64, len(flasks))
	for i, f := range flasks {
		volumes[i] = f.Volume
	}
	return volumes, err
}

// mostDiluted is for how many bottles of a liquid the ways to dilute them are searched.
const mostDiluted = 4

// diluted is the fewest flasks that can be filled with a dilution, by pipettes and flasks that are there, in two steps at
// most; of as many, those with the least too much.
func (store Store) diluted(ratio, need float64) ([]float64, error) {
	fewest, volume := 0, 0.0
	for _, v := range store.Flasks.Volumes(store.Class) {
		n := int(math.Ceil(need*near/v - 1e-9))
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
