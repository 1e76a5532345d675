package buffer

import (
	"cmp"
	"context"
	"slices"
	"sync"

	"vialbench/core/equilibrium"
	"vialbench/core/formula"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
)

// maxRoutes is how many ways of making one buffer are worked out, mostOthers how many more are
// named, mostHands how many ingredients of each side are paired.
const maxRoutes, mostOthers, mostHands = 10, 200, 40

// Citric acid with disodium hydrogen phosphate buffers from pH 2.6 to 7.6 (McIlvaine 1921);
// it comes after the plain ways.
const (
	wideSystem = "citric"
	wideRank   = 0.9
)

// How far down a way comes (common practice): for each that differs from it in water only, for a
// strong acid or base in place of a salt, for each proton that its two forms lie further apart.
const (
	anotherHydrate = 0.4
	partly         = 0.6
	perProton      = 0.3
)

// hand is an ingredient with what a search for ways asks of it again and again.
type hand struct {
	Ingredient
	compound equilibrium.Compound
	waters   float64
	unhandy  float64
}

// onShelf reports whether it is a stock of a system at hand.
func (h hand) onShelf(key string) bool { return h.Bottle != "" && units(h.compound, key) > 0 }

// lost is how many protons each unit of a system has given off in it.
func (h hand) lost(key string) float64 { return h.compound.Lost() / units(h.compound, key) }

// hands are the ingredients: those that bring one system, by its key; strong acids and bases that
// carry one proton or hydroxide and nothing that gets in the way; and disodium hydrogen phosphate,
// with which citric acid buffers over a wide range.
type hands struct {
	own                      map[string][]*hand
	acids, bases, phosphates []*hand
}

// pool lists what can be taken: stocks on the shelf that are strong enough for a buffer of
// so many mol/L, and substances.
func (q Question) pool(wanted float64) hands {
	list := hands{own: map[string][]*hand{}}
	add := func(i Ingredient) { list.add(handOf(i)) }
	for _, s := range q.Shelf {
		if s.Concentration.Value >= wanted*(1-1e-9) {
			add(s.ingredient().with(q.Systems))
		}
	}
	if len(q.Systems) == 0 {
		for _, h := range libraryHands() {
			list.add(h)
		}
	} else {
		for _, s := range substance.Library() {
			add(Ingredient{Substance: s}.with(q.Systems))
		}
	}
	for _, s := range q.Substances {
		i := Ingredient{Substance: s}.with(q.Systems)
		i.listed = true
		add(i)
	}
	return list
}

// libraryHands are those of the library, as its own systems read them: nothing changes them, and a page
// asks with every key.
var libraryHands = sync.OnceValue(func() (list []*hand) {
	for _, s := range substance.Library() {
		list = append(list, handOf(Ingredient{Substance: s}))
	}
	return list
})

// handOf is an ingredient as a hand; nil of what is no compound that is known.
func handOf(i Ingredient) *hand {
	c, ok := i.Compound()
	if !ok {
		return nil
	}
	h := &hand{Ingredient: i, compound: c, waters: waters(i)}
	h.unhandy = h.rank()
	return h
}

func (list *hands) add(h *hand) {
	if h == nil {
		return
	}
	switch h.compound.Formula {
	case "HCl":
		list.acids = append(list.acids, h)
	case "NaOH", "KOH":
		list.bases = append(list.bases, h)
	case "Na2HPO4":
		list.phosphates = append(list.phosphates, h)
	}
	if len(h.compound.Units) == 1 {
		key := h.compound.Units[0].System.Key
		list.own[key] = append(list.own[key], h)
	}
}

// rank is how much further down a way comes for one of its ingredients: what a lab owns comes
// first.
func (h hand) rank() (rank float64) {
	switch {
	case h.Bottle != "" && h.compound.Strong() != 0:
		return -0.1 // before another one; a strong acid or base stands on every bench
	case h.Bottle != "":
		return -1.5 // at hand
	case h.compound.Strong() != 0:
		if rank = 0.05 * h.waters; h.compound.Formula == "KOH" {
			rank += 0.02 // sodium hydroxide is what most have at hand
		}
		return rank
	case h.Substance.Class == substance.Primary:
		rank = -0.2
	case h.Substance.Hygroscopic && !h.Liquid():
		rank = 0.3
	}
	if h.listed {
		rank -= 0.5
	}
	rank += 0.01 * h.waters
	if h.Substance.Liquid {
		rank += 0.4 // concentrated: in the hood
	}
	if h.Substance.Signal == "Danger" {
		rank += 0.2
	}
	return rank
}

// waters of crystallisation of a solid: the fewer the better, other things being equal.
func waters(i Ingredient) float64 {
	f, err := formula.Parse(i.Substance.Formula)
	if err != nil {
		return 0
	}
	return f.Waters()
}

// way is a pair of ingredients between which a target lies.
type way struct {
	acid, base *hand
	wide       bool
	rank       float64
	at         int // its place before they are ranked
}

func (w way) id() string { return w.acid.id() + " + " + w.base.id() }

func (w way) title() string {
	title := w.acid.String() + " with " + w.base.String()
	if w.wide {
		title += ", buffers over a wide range"
	}
	return title
}

// signal is the signal word of what brings the system; the strong acid or base that goes
// with it stands on every bench.
func (w way) signal(key string) string {
	var codes []string
	for _, h := range []*hand{w.acid, w.base} {
		if units(h.compound, key) > 0 {
			codes = append(codes, h.Substance.Hazards...)
		}
	}
	return substance.Signal(codes)
}

// needed is how many protons each unit of a system has given off at the target, what water takes
// up counted in: a pair reaches it when one of the two has lost fewer, and the other more.
func (r Request) needed(s equilibrium.System) (float64, bool) {
	m := equilibrium.Mixture{
		Celsius: uncertain.Exact(r.Celsius),
		Model:   r.Model,
		Amounts: []equilibrium.Amount{{System: s, C: uncertain.Exact(r.Concentration)}},
	}
	solver, err := m.Solver()
	if err != nil {
		return 0, false
	}
	_, base := solver.At(r.Target)
	return base/r.Concentration + float64(s.Charge()), true
}

// ways lists the pairs that reach the target, the simplest first: two forms of the system, or one
// with a strong acid or base.
func (h hands) ways(r Request, s equilibrium.System) []way {
	need, ok := r.needed(s)
	if !ok {
		return nil
	}
	var below, above []*hand
	for _, i := range h.own[s.Key] {
		switch at := i.lost(s.Key); {
		case at < need:
			below = append(below, i)
		case at > need:
			above = append(above, i)
		}
	}
	below, above = handiest(below), handiest(above)
	acids, bases := handiest(h.acids), handiest(h.bases)
	var list []way
	add := func(acid, base *hand, rank float64) {
		list = append(list, way{acid: acid, base: base, rank: rank + acid.unhandy + base.unhandy})
	}
	for _, i := range below {
		at := i.lost(s.Key)
		for _, j := range above {
			add(i, j, perProton*(j.lost(s.Key)-at-1))
		}
		for _, b := range bases {
			add(i, b, partly+perProton*(need-at))
		}
		if s.Key == wideSystem && at == 0 {
			for _, b := range h.phosphates {
				add(i, b, wideRank)
				list[len(list)-1].wide = true
			}
		}
	}
	for _, j := range above {
		for _, a := range acids {
			add(a, j, partly+perProton*(j.lost(s.Key)-need))
		}
	}
	return ranked(list)
}

// handiest are those that come first, as many as are paired.
func handiest(list []*hand) []*hand {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b *hand) int { return cmp.Compare(a.unhandy, b.unhandy) })
	return list[:min(len(list), mostHands)]
}

// ranked sorts ways, and puts other hydrates of the same two after other ways.
func ranked(list []way) []way {
	byRank := func(a, b way) int { return cmp.Or(cmp.Compare(a.rank, b.rank), cmp.Compare(a.at, b.at)) }
	sorted := func() {
		for i := range list {
			list[i].at = i
		}
		slices.SortFunc(list, byRank)
	}
	sorted()
	seen := map[[2]string]float64{}
	for i, w := range list {
		two := [2]string{w.acid.compound.Formula, w.base.compound.Formula}
		list[i].rank += anotherHydrate * seen[two]
		seen[two]++
	}
	sorted()
	return list
}

// routes works out the first ways, and the one that is asked for wherever it comes; others are the
// rest. A way that does not reach the pH is left out.
func (r Request) routes(ctx context.Context, list []way, asked string) (routes []Route, others []Other, err error) {
	others = []Other{}
	for _, w := range list {
		if r.inRow() && (!w.acid.Liquid() || !w.base.Liquid()) {
			continue // a row is made of two liquids
		}
		if r.byVolume() && !(w.acid.Stock.Value > 0 && w.base.Stock.Value > 0) {
			continue // nobody mixes concentrated liquids as they are
		}
		id := w.id()
		if id != asked && (len(routes) >= maxRoutes || len(routes) == maxRoutes-1 && asked != "" && !slices.ContainsFunc(routes, isOf(asked))) {
			if len(others) < mostOthers {
				others = append(others, Other{id, w.title()})
			}
			continue
		}
		if err := ctx.Err(); err != nil {
			return nil, nil, err
		}
		if route, ok := r.route(w); ok {
			routes = append(routes, route)
		}
	}
	return routes, others, nil
}

func isOf(id string) func(Route) bool { return func(r Route) bool { return r.ID == id } }

// route is a way with what it takes; ok is false when it does not reach the pH.
func (r Request) route(w way) (Route, bool) {
	route := Route{ID: w.id(), Acid: w.acid.Ingredient, Base: w.base.Ingredient, Title: w.title()}
	of := r.Recipe
	of.Acid, of.Base = route.Acid, route.Base
	c, err := of.compose(r.Target)
	if err != nil {
		return route, false
	}
	litres := r.Volume / 1000
	route.AcidAmount, route.BaseAmount = r.say(route.Acid, c.Acid*litres), r.say(route.Base, c.Base*litres)
	for i, mol := range map[*Ingredient]float64{&route.Acid: c.Acid, &route.Base: c.Base} {
		route.drops = route.drops || i.Substance.Liquid && i.Stock.Value == 0 && i.For(mol*litres) < r.Thresholds.Of(RuleDrop)
	}
	if of.liquids(c) > 1+1e-6 && !r.byVolume() {
		route.Problem = "the stocks are too thin: they would take more than the whole volume"
	}
	return route, true
}
