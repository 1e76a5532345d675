package dilution

import (
	"cmp"
	"context"
	"math"
	"slices"
	"sort"

	"vialbench/core/glassware"
)

// Stage is one step of a route: so much taken with one glass, made up in a flask.
type Stage struct {
	With  glassware.Item  `json:"with"`
	Times int             `json:"times"` // fillings of a one-mark pipette; 1 of graduated glass
	Taken float64         `json:"taken"` // mL
	Flask glassware.Flask `json:"flask"`
}

// Factor is the dilution factor of the stage, by nominal volumes.
func (s Stage) Factor() float64 { return s.Flask.Volume / s.Taken }

// Route is a way of reaching a factor.
type Route struct {
	Stages []Stage `json:"stages"`
	// Factor reached, and how far it is from the one wanted, as a fraction.
	Factor float64 `json:"factor"`
	Off    float64 `json:"off"`
	// Relative is the relative expanded uncertainty of the factor, k = 2.
	Relative float64 `json:"relative"`
	// Stock drawn and liquid made up in all, in mL.
	Stock  float64 `json:"stock"`
	Liquid float64 `json:"liquid"`
	// Front tells that no other route is better in uncertainty, liquid and number of
	// steps alike.
	Front bool `json:"front"`

	variance float64 // relative
}

// Objective ranks routes.
type Objective string

// What a route is ranked by.
const (
	LeastUncertainty Objective = "uncertainty"
	LeastLiquid      Objective = "liquid"
	FewestSteps      Objective = "steps"
	Mixed            Objective = "mixed" // the product of the three, so that halving one counts as much as halving another
)

// Search says what is wanted of a route.
type Search struct {
	Factor float64          `json:"factor"`
	Glass  []glassware.Item `json:"glass"`
	Class  glassware.Class  `json:"class"`
	// Need is how much of the last solution is wanted at least, in mL.
	Need     float64 `json:"need"`
	MaxSteps int     `json:"maxSteps"` // 1…4
	// MaxStock and MaxLiquid in mL; 0 without a limit.
	MaxStock  float64   `json:"maxStock"`
	MaxLiquid float64   `json:"maxLiquid"`
	Objective Objective `json:"objective"`
}

// The limits of the search.
const (
	MaxSteps  = 4
	mostKept  = 12
	nearby    = 0.05 // how far off a route may be to be offered when none is exact
	exactly   = 1e-9
	twiceUpTo = 2 // a pipette is filled twice only in routes of so many steps
	// leastDivisions is how many divisions of graduated glass are let out at least.
	leastDivisions = 20
	// alternatives is how many routes that are beaten in every way are kept beside each
	// that beats them.
	alternatives = 2
)

// option is one possible stage with what it adds to the variance.
type option struct {
	Stage
	ratio        float64
	glass, flask int     // which pieces, for what is shared
	tg, tf       float64 // relative standard uncertainty of the glass and of the flask, each use the same
	fresh        float64 // relative variance that is new every time
}

// Routes finds the routes to a factor, best first; when none is exact, the nearest
// within 5 %. It is empty when there is none. A search that takes more than its effort, or whose
// context ends, is cut: then it gives the best that it found, and a better one may exist.
func Routes(ctx context.Context, s Search) (routes []Route, cut bool) {
	if !(s.Factor > 1) {
		return nil, false
	}
	search := searcher{Search: s, ctx: ctx, effort: mostEffort, limit: min(max(s.MaxSteps, 1), MaxSteps)}
	search.prepare()
	for steps := 1; steps <= search.limit; steps++ { // short ones first: they cut most of the long ones
		search.depth = steps
		search.fixed(0, s.Factor, 0, 0, 0)
		if steps <= twiceUpTo {
			search.adjustable()
		}
	}
	exact := search.cut()
	if len(search.found) == 0 {
		search.near, search.effort = true, mostEffort
		for search.depth = 1; search.depth <= search.limit; search.depth++ {
			search.fixed(0, s.Factor, 0, 0, 0)
		}
	}
	return search.ranked(), exact || search.cut()
}

// mostEffort is how many combinations and comparisons a search looks at: about a tenth of a second.
const mostEffort = 2_500_000

// spend takes from the effort that is left, and looks now and then whether anybody still waits.
func (s *searcher) spend(n int) {
	if before := s.effort; before>>effortShown != (before-n)>>effortShown && s.ctx.Err() != nil {
		s.effort = 0
		return
	}
	s.effort -= n
}

// effortShown is the power of two after which the context is looked at.
const effortShown = 14

// foundAtOnce is how many routes that were found are compared in the time of one combination.
const foundAtOnce = 8

// madeAtOnce is how many combinations are looked at in the time in which a stage with graduated
// glass is made up.
const madeAtOnce = 100

// cut reports whether the effort is spent.
func (s *searcher) cut() bool { return s.effort <= 0 }

type searcher struct {
	Search
	ctx     context.Context //nolint:containedctx // of this one search
	effort  int             // what is left of it
	limit   int
	depth   int // how many steps are looked for now
	near    bool
	options []option // of one-mark pipettes, by rising ratio
	ratios  []float64
	flasks  []glassware.Flask
	least   float64 // mL, the smallest flask
	path    [MaxSteps]*option
	found   []Route
}

func (s *searcher) prepare() {
	cupboard := glassware.Flasks(s.Glass)
	for _, v := range cupboard.Volumes(s.Class) {
		f, _, _ := cupboard.For(v, s.Class) // it is there
		s.flasks = append(s.flasks, f)
		if s.least == 0 {
			s.least = v
		}
	}
	for g, item := range best(glassware.OfKind(glassware.OneMarkPipette, s.Glass)) {
		for fi, f := range s.flasks {
			for times := 1; times <= 2; times++ {
				taken := float64(times) * item.Volume
				if taken >= f.Volume {
					continue
				}
				single := item.Delivered("").Budget()
				o := newOption(Stage{item, times, taken, f}, g, fi)
				for _, share := range single {
					u := share.U / item.Volume
					if share.Label == item.Name() {
						o.tg = u
					} else {
						o.fresh += u * u / float64(times)
					}
				}
				s.options = append(s.options, o)
			}
		}
	}
	slices.SortStableFunc(s.options, func(a, b option) int { return cmp.Compare(a.ratio, b.ratio) })
	s.ratios = make([]float64, len(s.options))
	for i, o := range s.options {
		s.ratios[i] = o.ratio
	}
}

// best keeps one of each kind and volume: the certified one, else the one of class A.
func best(items []glassware.Item) []glassware.Item {
	list := slices.Clone(items)
	slices.SortStableFunc(list, func(a, b glassware.Item) int {
		return cmp.Or(
			cmp.Compare(a.Kind, b.Kind),
			cmp.Compare(a.Volume, b.Volume),
			cmp.Compare(b.Certified, a.Certified),
			cmp.Compare(a.Class, b.Class),
		)
	})
	return slices.CompactFunc(list, func(a, b glassware.Item) bool { return a.Kind == b.Kind && a.Volume == b.Volume })
}

func newOption(stage Stage, glass, flask int) option {
	o := option{Stage: stage, ratio: stage.Factor(), glass: glass, flask: flask}
	for _, share := range stage.Flask.AtReference().Budget() {
		u := share.U / stage.Flask.Volume
		if share.Label == "flask" {
			o.tf = u
		} else {
			o.fresh += u * u
		}
	}
	return o
}

// fixed tries every multiset of one-mark steps, by rising ratio from option number
// from on, for what is left of the factor. variance and liquid are those so far.
func (s *searcher) fixed(at int, left float64, from int, variance, liquid float64) {
	if at == s.depth-1 {
		s.last(left, from, variance, liquid)
		return
	}
	slack := 1 + exactly
	if s.near {
		slack = 1 + nearby
	}
	more := s.depth - at
	for i := from; i < len(s.options) && !s.cut(); i++ {
		o := &s.options[i]
		s.spend(1)
		if math.Pow(o.ratio, float64(more)) > left*slack { // those to come are at least as large
			break
		}
		if o.Times > 1 && s.depth > twiceUpTo {
			continue
		}
		v, l := variance+s.adds(at, o), liquid+o.Flask.Volume
		if s.beaten(v, l+s.least*float64(more-1), 0) {
			continue
		}
		s.path[at] = o
		s.fixed(at+1, left/o.ratio, i, v, l)
	}
}

// last looks for the options whose ratio is what is left.
func (s *searcher) last(left float64, from int, variance, liquid float64) {
	off := exactly
	if s.near {
		off = nearby
	}
	at := s.depth - 1
	i := max(from, sort.SearchFloat64s(s.ratios, left*(1-off)))
	for ; i < len(s.options) && s.options[i].ratio <= left*(1+off) && !s.cut(); i++ {
		o := &s.options[i]
		s.spend(1)
		if o.Times > 1 && s.depth > twiceUpTo {
			continue
		}
		s.path[at] = o
		s.keep(variance+s.adds(at, o), liquid+o.Flask.Volume, o.ratio/left-1)
	}
}

// adds is what an option adds to the relative variance of the path before it: its
// own, and twice the product with every use of the same glass or flask.
func (s *searcher) adds(at int, o *option) float64 {
	sum := o.fresh + o.tg*o.tg + o.tf*o.tf
	for _, p := range s.path[:at] {
		if p.glass == o.glass {
			sum += 2 * p.tg * o.tg
		}
		if p.flask == o.flask {
			sum += 2 * p.tf * o.tf
		}
	}
	return sum
}

// beaten tells whether enough routes of no more steps are known that are better in
// uncertainty, liquid and nearness alike; longer ones only grow.
func (s *searcher) beaten(variance, liquid, off float64) bool {
	by := 0
	defer func() { s.spend(1 + len(s.found)/foundAtOnce) }()
	for i := range s.found {
		r := &s.found[i]
		if r.variance <= variance && r.Liquid <= liquid && (off == 0 && (!s.near || r.Off == 0) || math.Abs(r.Off) <= math.Abs(off)) {
			if by++; by > alternatives {
				return true
			}
		}
	}
	return false
}

// adjustable tries graduated glass for the last step, after none or one fixed step.
func (s *searcher) adjustable() {
	items := best(slices.DeleteFunc(slices.Clone(s.Glass), func(i glassware.Item) bool {
		return i.Kind != glassware.GraduatedPipette && i.Kind != glassware.Burette && i.Kind != glassware.PistonPipette
	}))
	at := s.depth - 1
	try := func(left, variance, liquid float64) {
		for g, item := range items {
			for fi, f := range s.flasks {
				if s.spend(1); s.cut() {
					return
				}
				taken := readable(item, f.Volume/left)
				if taken > item.Volume || taken < leastDivisions*item.Division() || taken >= f.Volume {
					continue
				}
				s.spend(madeAtOnce)
				o := newOption(Stage{item, 1, taken, f}, 1000+g, fi)
				for _, share := range item.Dispensed(taken, "").Budget() {
					u := share.U / taken
					if share.Label == item.Name() {
						o.tg = u
					} else {
						o.fresh += u * u
					}
				}
				s.path[at] = &o
				s.keep(variance+s.adds(at, &o), liquid+f.Volume, 0)
			}
		}
	}
	if at == 0 {
		try(s.Factor, 0, 0)
		return
	}
	for i := range s.options {
		if o := &s.options[i]; o.Times == 1 && o.ratio < s.Factor {
			s.path[0] = o
			try(s.Factor/o.ratio, s.adds(0, o), o.Flask.Volume)
		}
	}
}

// keep takes the path for a route, in the order that draws least stock, unless it
// goes over the limits or is beaten.
func (s *searcher) keep(variance, liquid, off float64) {
	if math.Abs(off) < exactly {
		off = 0
	}
	if s.MaxLiquid > 0 && liquid > s.MaxLiquid*(1+exactly) || s.beaten(variance, liquid, off) {
		return
	}
	order, ok := ordered(s.path[:s.depth], s.Need)
	if !ok || s.MaxStock > 0 && order[0].Taken > s.MaxStock*(1+exactly) {
		return
	}
	r := Route{
		Factor:   1,
		Off:      off,
		Relative: 2 * math.Sqrt(variance),
		Stock:    order[0].Taken,
		Liquid:   liquid,
		variance: variance,
		Stages:   make([]Stage, len(order)),
	}
	for i, o := range order {
		r.Stages[i] = o.Stage
		r.Factor *= o.Factor()
	}
	s.found = append(s.found, r)
}

// ordered finds the order of the steps that draws least stock, such that every flask
// holds what the next step takes and the last one what is needed.
func ordered(steps []*option, need float64) ([]*option, bool) {
	if len(steps) == 1 {
		return steps, steps[0].Flask.Volume >= need*(1-exactly)
	}
	var bestOrder []*option
	order := slices.Clone(steps)
	var permute func(k int)
	permute = func(k int) {
		if k == len(order) {
			if order[k-1].Flask.Volume >= need*(1-exactly) && (bestOrder == nil || order[0].Taken < bestOrder[0].Taken) {
				bestOrder = slices.Clone(order)
			}
			return
		}
		for i := k; i < len(order); i++ {
			order[k], order[i] = order[i], order[k]
			if k == 0 || order[k].Taken <= order[k-1].Flask.Volume {
				permute(k + 1)
			}
			order[k], order[i] = order[i], order[k]
		}
	}
	permute(0)
	return bestOrder, bestOrder != nil
}

// ranked sorts what was found and marks the front.
func (s *searcher) ranked() []Route {
	list := s.found
	for i := range list {
		a := &list[i]
		a.Front = !slices.ContainsFunc(list, func(b Route) bool {
			better := b.Relative < a.Relative || b.Liquid < a.Liquid || len(b.Stages) < len(a.Stages)
			return better && b.Relative <= a.Relative && b.Liquid <= a.Liquid && len(b.Stages) <= len(a.Stages) && math.Abs(b.Off) <= math.Abs(a.Off)
		})
	}
	value := func(r Route) float64 {
		switch s.Objective {
		case LeastLiquid:
			return r.Liquid
		case FewestSteps:
			return float64(len(r.Stages))
		case Mixed:
			return r.Relative * r.Liquid * float64(len(r.Stages))
		}
		return r.Relative
	}
	slices.SortStableFunc(list, func(a, b Route) int {
		return cmp.Or(
			cmp.Compare(math.Abs(a.Off), math.Abs(b.Off)),
			cmp.Compare(value(a), value(b)),
			cmp.Compare(a.Relative, b.Relative),
			cmp.Compare(a.Liquid, b.Liquid),
		)
	})
	return list[:min(len(list), mostKept)]
}
