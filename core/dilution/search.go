package dilution

import (
	"cmp"
	"context"
	"math"
	"slices"
	"sort"

	"vialbench/core/glassware"
)

type searcher struct {
	Search
	ctx     context.Context //nolint:containedctx // of this one search
	effort  int             // what is left of it
	limit   int
	depth   int // how many steps are looked for now
	near    bool
	options []option // of one-mark pipettes, by rising ratio
	ratios  []float64
	flasks  []flask
	least   float64 // mL, the smallest flask
	adding  float64 // relative variance that a step of one-mark glass adds at least
	path    [MaxSteps]*option
	found   []Route
	// known are those that decide what is beaten, by rising liquid.
	known []known
}

// flask is one that a step may be made up in: its relative standard uncertainty, each use the same, and the
// relative variance that is new every time.
type flask struct {
	glassware.Flask
	u, fresh float64
}

func newFlask(f glassware.Flask) flask {
	is := flask{Flask: f}
	for _, share := range f.AtReference().Budget() {
		u := share.U / f.Volume
		if share.Label == "flask" {
			is.u = u
		} else {
			is.fresh += u * u
		}
	}
	return is
}

// known is what a route is compared by; by counts those that beat it.
type known struct {
	variance, liquid, off float64
	by                    int
}

// beats reports whether it is better than another in all of that, or as good.
func (k known) beats(other known) bool {
	return k.variance <= other.variance && k.liquid <= other.liquid && k.off <= other.off
}

func (s *searcher) prepare() {
	cupboard := glassware.Flasks(s.Glass)
	for _, v := range cupboard.Volumes(s.Class) {
		f, _, _ := cupboard.For(v, s.Class) // it is there
		s.flasks = append(s.flasks, newFlask(f))
		if s.least == 0 {
			s.least = v
		}
	}
	for g, item := range best(glassware.OfKind(glassware.OneMarkPipette, s.Glass)) {
		single := item.Delivered("").Budget()
		for fi, f := range s.flasks {
			for times := 1; times <= 2; times++ {
				taken := float64(times) * item.Volume
				if taken >= f.Volume {
					continue
				}
				o := newOption(Stage{item, times, taken, f.Flask}, g, fi, f)
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
	s.adding = math.Inf(1)
	for i, o := range s.options {
		s.ratios[i] = o.ratio
		s.adding = min(s.adding, o.own())
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

func newOption(stage Stage, glass, place int, in flask) option {
	return option{Stage: stage, ratio: stage.Factor(), glass: glass, flask: place, tf: in.u, fresh: in.fresh}
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
	most := math.Pow(left*slack, 1/float64(more)) * (1 + exactly) // those to come are at least as large
	for i := from; i < len(s.options) && !s.cut(); i++ {
		o := &s.options[i]
		s.spend(1)
		if o.ratio > most {
			break
		}
		if o.Times > 1 && s.depth > twiceUpTo {
			continue
		}
		v, l := variance+s.adds(at, o), liquid+o.Flask.Volume
		if s.beaten(v+s.adding*float64(more-1), l+s.least*float64(more-1), 0) {
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

// own is what an option alone adds to the relative variance.
func (o *option) own() float64 { return o.fresh + o.tg*o.tg + o.tf*o.tf }

// adds is what an option adds to the relative variance of the path before it: its
// own, and twice the product with every use of the same glass or flask.
func (s *searcher) adds(at int, o *option) float64 {
	sum := o.own()
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

// beaten reports whether enough routes of no more steps are known that are better in
// uncertainty, liquid and nearness alike; longer ones only grow.
func (s *searcher) beaten(variance, liquid, off float64) bool {
	s.spend(1 + len(s.known)/foundAtOnce)
	by, it := 0, known{variance, liquid, math.Abs(off), 0}
	for _, k := range s.known {
		if k.liquid > liquid {
			break
		}
		if k.beats(it) {
			if by++; by > alternatives {
				return true
			}
		}
	}
	return false
}

// learn adds to what is known. What enough others beat decides nothing any more: whatever it beats, they beat as well.
func (s *searcher) learn(k known) {
	s.spend(1 + len(s.known)/foundAtOnce)
	kept := s.known[:0]
	for _, one := range s.known {
		if k.beats(one) {
			one.by++
		} else if one.beats(k) {
			k.by++
		}
		if one.by <= alternatives {
			kept = append(kept, one)
		}
	}
	at, _ := slices.BinarySearchFunc(kept, k, func(a, b known) int { return cmp.Compare(a.liquid, b.liquid) })
	s.known = slices.Insert(kept, at, k)
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
				o := newOption(Stage{item, 1, taken, f.Flask}, 1000+g, fi, f)
				if s.beaten(variance+o.own(), liquid+f.Volume, 0) { // by what the flask alone adds
					continue
				}
				s.spend(madeAtOnce)
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
	order := orderOf(s.path[:s.depth], s.Need)
	if order == nil || s.MaxStock > 0 && order[0].Taken > s.MaxStock*(1+exactly) {
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
	s.learn(known{variance, liquid, math.Abs(off), 0})
}

// orderOf finds the order of the steps that draws least stock, such that every flask holds what the next step takes
// and the last one what is needed; nil where there is none.
func orderOf(steps []*option, need float64) []*option {
	var o orders
	o.need, o.n = need, copy(o.now[:], steps)
	if o.permute(0); !o.any {
		return nil
	}
	return o.best[:o.n]
}

// orders are those of some steps: the one that is looked at and the best so far.
type orders struct {
	now, best [MaxSteps]*option
	n         int
	need      float64 // mL
	any       bool
}

func (o *orders) permute(k int) {
	if k == o.n {
		if o.now[k-1].Flask.Volume >= o.need*(1-exactly) && (!o.any || o.now[0].Taken < o.best[0].Taken) {
			o.best, o.any = o.now, true
		}
		return
	}
	for i := k; i < o.n; i++ {
		o.now[k], o.now[i] = o.now[i], o.now[k]
		if k == 0 || o.now[k].Taken <= o.now[k-1].Flask.Volume {
			o.permute(k + 1)
		}
		o.now[k], o.now[i] = o.now[i], o.now[k]
	}
}

// leads reports whether a route is better than another in uncertainty, liquid or number of steps, and worse in nothing.
func (r *Route) leads(other *Route) bool {
	better := r.Relative < other.Relative || r.Liquid < other.Liquid || len(r.Stages) < len(other.Stages)
	return better && r.Relative <= other.Relative && r.Liquid <= other.Liquid &&
		len(r.Stages) <= len(other.Stages) && math.Abs(r.Off) <= math.Abs(other.Off)
}

// ranked sorts what was found and marks the front.
func (s *searcher) ranked() []Route {
	list := s.found
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
	shown := list[:min(len(list), mostKept)]
	for i := range shown {
		shown[i].Front = true
		for k := range list {
			if list[k].leads(&shown[i]) {
				shown[i].Front = false
				break
			}
		}
	}
	return shown
}
