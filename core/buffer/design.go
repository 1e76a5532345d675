package buffer

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/equilibrium"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Question is what people ask: a pH, how strong, how much, at which temperature.
type Question struct {
	Target  float64 `json:"target"`
	Celsius float64 `json:"celsius"`
	// MadeAt in °C; nil makes it at the temperature of use.
	MadeAt        *float64        `json:"madeAt,omitempty"`
	Concentration quantity.Stated `json:"concentration"`
	// Basis is a word of rule B-4; nil takes that of the lab.
	Basis  *int            `json:"basis,omitempty"`
	Volume quantity.Stated `json:"volume"`
	// Strength that an inert salt brings it up to, in mol/L; 0 leaves it.
	Strength float64 `json:"strength,omitempty"`
	// System is the key of the one that was chosen, Route the ID of its route; empty ones take
	// the first.
	System string `json:"system,omitempty"`
	Route  string `json:"route,omitempty"`
	// Targets are further values of pH from the same two stocks: a row of buffers.
	Targets []float64 `json:"targets,omitempty"`

	// StrongAcid and StrongBase, in mol/L, are what it is brought to its pH with, 1 mol/L when
	// they are left out; AcidBottle and BaseBottle are bottles on the shelf for that.
	StrongAcid float64 `json:"strongAcid,omitempty"`
	StrongBase float64 `json:"strongBase,omitempty"`
	AcidBottle string  `json:"acidBottle,omitempty"`
	BaseBottle string  `json:"baseBottle,omitempty"`

	// What the lab puts in: systems of its own, its stocks, and substances beside those of the
	// library.
	Systems    []equilibrium.System  `json:"systems,omitempty"`
	Shelf      []Stock               `json:"shelf,omitempty"`
	Substances []substance.Substance `json:"substances,omitempty"`
	Lab
}

// Candidate is a system that could serve.
type Candidate struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	// Acid and Base are the two forms next to the target.
	Acid []formula.Piece `json:"acid"`
	Base []formula.Piece `json:"base"`
	// PKa at the temperature of use, Away how far the target lies from it.
	PKa  float64 `json:"pKa"`
	Away float64 `json:"away"`
	// Beta is the buffer capacity at the target, in mol/L per pH; ByDegree how far the pH
	// moves by °C.
	Beta     float64 `json:"beta"`
	ByDegree float64 `json:"byDegree"`
	Signal   string  `json:"signal"` // of the graver of its ingredients
	// Routes is how many ways there are to make it, OnShelf whether one takes stocks at hand.
	Routes  int  `json:"routes"`
	OnShelf bool `json:"onShelf"`
	score   float64
}

// Route is a way to make a buffer.
type Route struct {
	ID    string     `json:"id"`
	Acid  Ingredient `json:"-"`
	Base  Ingredient `json:"-"`
	Title string     `json:"title"`
	// What of each is taken, for the first target.
	AcidAmount string `json:"acidAmount"`
	BaseAmount string `json:"baseAmount"`
	Problem    string `json:"problem,omitempty"`
	rank       float64
}

// Answer is a design.
type Answer struct {
	Candidates []Candidate `json:"candidates"`
	Routes     []Route     `json:"routes"`
	// System and Route are those that the design is of.
	System string `json:"system"`
	Route  string `json:"route"`
	Design Design `json:"design"`
}

// reach is how far beyond its pKa a system is offered at all, in pH.
const reach = 2.0

// maxRoutes is how many ways of making one buffer are told.
const maxRoutes = 10

// Citric acid with disodium hydrogen phosphate buffers from pH 2.6 to 7.6 (McIlvaine 1921);
// it comes after the plain ways.
const (
	wideSystem = "citric"
	wideRank   = 0.9
)

// anotherHydrate is how much further down a pair comes for each that differs from it in
// water only.
const anotherHydrate = 0.4

// Solve finds systems and routes for a question. An error is a verdict.Problems with JSON
// pointers into the question.
func Solve(q Question) (Answer, error) {
	r, err := q.request()
	if err != nil {
		return Answer{}, err
	}
	a := Answer{}
	systems := append(slices.Clone(q.Systems), equilibrium.Systems()...)
	pool := q.pool(r.Concentration)
	byKey := map[string][]Ingredient{}
	for _, i := range pool {
		if c, ok := i.Compound(); ok && len(c.Units) == 1 {
			key := c.Units[0].System.Key
			byKey[key] = append(byKey[key], i)
		}
	}
	with := othersOf(pool)
	for _, s := range systems {
		if c, ok := q.candidate(r, s, byKey[s.Key], with); ok {
			a.Candidates = append(a.Candidates, c)
		}
	}
	slices.SortStableFunc(a.Candidates, func(x, y Candidate) int { return cmp.Compare(x.score, y.score) })
	if len(a.Candidates) == 0 {
		return a, verdict.Problems{
			{
				Field:  "/target",
				Reason: fmt.Sprintf("no system in the library buffers at pH %.2f: a strong acid or base alone does, below 2 or above 12", q.Target),
			},
		}
	}
	key := q.System
	if key == "" {
		for _, c := range a.Candidates {
			if c.Routes > 0 {
				key = c.Key
				break
			}
		}
	}
	at := slices.IndexFunc(systems, func(s equilibrium.System) bool { return s.Key == key })
	if at < 0 {
		return a, verdict.Problems{{Field: "/system", Reason: fmt.Sprintf("no system “%s” in the library", key)}}
	}
	r.System, a.System = systems[at], key
	routes := r.routes(byKey[key], with)
	if len(routes) == 0 && len(r.Row) > 0 {
		return a, verdict.Problems{{Field: "/targets", Reason: fmt.Sprintf(
			"a row of buffers is made of two stocks, and there are none of %s: make the stocks first", r.System.Common())}}
	}
	if len(routes) == 0 {
		return a, verdict.Problems{{Field: "/system", Reason: fmt.Sprintf(
			"nothing to make %s with is in the lab: add its acid or its salt to the substances, or a stock to the shelf", r.System.Common())}}
	}
	chosen := max(0, slices.IndexFunc(routes, func(x Route) bool { return x.Problem == "" }))
	if q.Route != "" {
		if chosen = slices.IndexFunc(routes, func(x Route) bool { return x.ID == q.Route }); chosen < 0 {
			return a, verdict.Problems{{Field: "/route", Reason: "this way is not open any more: choose one of those listed"}}
		}
	}
	a.Routes, a.Route = routes, routes[chosen].ID
	r.Acid, r.Base = routes[chosen].Acid, routes[chosen].Base
	if err := r.row(); err != nil {
		return a, err
	}
	a.Design, err = r.design()
	return a, err
}

// pool lists what can be taken: stocks on the shelf that are strong enough for a buffer of
// so many mol/L, and substances.
func (q Question) pool(wanted float64) []Ingredient {
	var list []Ingredient
	for _, s := range q.Shelf {
		if s.Concentration.Value > wanted {
			list = append(list, s.ingredient().with(q.Systems))
		}
	}
	for _, s := range append(substance.Library(), q.Substances...) {
		list = append(list, Ingredient{Substance: s}.with(q.Systems))
	}
	return list
}

// others are what a form of a system is brought to its pH with: strong acids and bases, and
// disodium hydrogen phosphate for citric acid, with which it buffers over a wide range.
type others struct{ acids, bases, phosphates []Ingredient }

// othersOf takes those out that carry one proton or hydroxide and nothing that gets in the
// way: hydrochloric acid, the hydroxides of sodium and potassium; and the phosphate.
func othersOf(pool []Ingredient) others {
	var list others
	for _, i := range pool {
		c, ok := i.Compound()
		if !ok {
			continue
		}
		switch c.Formula {
		case "HCl":
			list.acids = append(list.acids, i)
		case "NaOH", "KOH":
			list.bases = append(list.bases, i)
		case "Na2HPO4":
			list.phosphates = append(list.phosphates, i)
		}
	}
	return list
}

// candidate judges a system for the target; ok is false when it is out of reach.
func (q Question) candidate(r Request, s equilibrium.System, own []Ingredient, with others) (c Candidate, ok bool) {
	step, pKa := s.Step(q.Target, q.Celsius)
	c = Candidate{
		Key:  s.Key,
		Name: run.UpperFirst(s.Common()),
		Acid: pieces(s.Form(step)),
		Base: pieces(s.Form(step + 1)),
		PKa:  pKa,
		Away: q.Target - pKa,
	}
	if math.Abs(c.Away) > reach || s.Unfit != "" {
		return c, false
	}
	m := equilibrium.Mixture{
		Celsius: uncertain.Exact(q.Celsius),
		Model:   r.Model,
		Amounts: []equilibrium.Amount{{System: s, C: uncertain.Exact(r.Concentration)}},
	}
	solver, err := m.Solver()
	if err != nil {
		return c, false
	}
	_, base := solver.At(q.Target)
	c.Beta = solver.Capacity(nil).Total
	// The same composition, a degree warmer: its strong ions stay.
	m.AddIon("Na+", 1, uncertain.Exact(math.Max(0, base)))
	m.AddIon("Cl-", -1, uncertain.Exact(math.Max(0, -base)))
	m.Celsius = uncertain.Exact(q.Celsius + 1)
	if warmer, err := m.Solver(); err == nil {
		c.ByDegree = warmer.Solve().PH - q.Target
	}
	pairs := pairsOf(s, own, with, q.Target, q.Celsius)
	c.Routes = min(len(pairs), maxRoutes)
	for _, p := range pairs {
		c.OnShelf = c.OnShelf || p.Acid.Bottle != "" || p.Base.Bottle != ""
	}
	c.score = math.Abs(c.Away) + 5*math.Abs(c.ByDegree)
	if len(pairs) > 0 {
		c.Signal = hazards(pairs[0], s.Key)
	}
	if c.Signal == "Danger" {
		c.score += 0.2
	}
	if !c.OnShelf {
		c.score += 0.2
	}
	if !s.Taught {
		c.score += 0.3
	}
	if len(pairs) == 0 {
		c.score += 10
	}
	return c, true
}

// hazards is the signal word of what brings the system; the strong acid or base that goes
// with it stands on every bench.
func hazards(way Route, key string) string {
	var codes []string
	for _, i := range []Ingredient{way.Acid, way.Base} {
		if c, ok := i.Compound(); ok && units(c, key) > 0 {
			codes = append(codes, i.Substance.Hazards...)
		}
	}
	return substance.Signal(codes)
}

// lost is how many protons each unit of a system has given off in an ingredient.
func lost(i Ingredient, key string) float64 {
	c, _ := i.Compound()
	return c.Lost() / units(c, key)
}

// pairsOf lists the pairs of ingredients between which a target lies, the simplest first:
// two neighbouring forms, then a form with a strong acid or base.
func pairsOf(s equilibrium.System, own []Ingredient, with others, target, celsius float64) []Route {
	step, _ := s.Step(target, celsius)
	middle := float64(step) + 0.5
	var list []Route
	add := func(acid, base Ingredient, rank float64) {
		title := acid.String() + " with " + base.String()
		if c, ok := base.Compound(); ok && units(c, s.Key) == 0 && c.Strong() == 0 {
			title += ", buffers over a wide range"
		}
		list = append(list, Route{ID: acid.id() + " + " + base.id(), Acid: acid, Base: base, Title: title,
			rank: rank + unhandy(acid) + unhandy(base)})
	}
	for _, i := range own {
		at := lost(i, s.Key)
		if at > middle {
			for _, a := range with.acids {
				add(a, i, (at-middle)+0.3)
			}
			continue
		}
		for _, j := range own {
			if other := lost(j, s.Key); other > middle {
				add(i, j, other-at-1)
			}
		}
		for _, b := range with.bases {
			add(i, b, (middle-at)+0.3)
		}
		if s.Key == wideSystem && at == 0 {
			for _, b := range with.phosphates {
				add(i, b, wideRank)
			}
		}
	}
	return ranked(list)
}

// ranked sorts ways, and puts other hydrates of the same two after other ways.
func ranked(list []Route) []Route {
	byRank := func(a, b Route) int { return cmp.Compare(a.rank, b.rank) }
	slices.SortStableFunc(list, byRank)
	seen := map[string]float64{}
	for i := range list {
		a, _ := list[i].Acid.Compound()
		b, _ := list[i].Base.Compound()
		list[i].rank += anotherHydrate * seen[a.Formula+b.Formula]
		seen[a.Formula+b.Formula]++
	}
	slices.SortStableFunc(list, byRank)
	return list
}

// unhandy is how much further down a way comes for one of its ingredients.
func unhandy(i Ingredient) (rank float64) {
	c, _ := i.Compound()
	switch {
	case i.Bottle != "":
		return -1.5 // at hand
	case c.Strong() != 0:
		if rank = 0.05 * waters(i); c.Formula == "KOH" {
			rank += 0.02 // sodium hydroxide is what most have at hand
		}
		return rank
	case i.Substance.Class == substance.Primary:
		rank = -0.2
	case i.Substance.Hygroscopic && !i.Liquid():
		rank = 0.3
	}
	rank += 0.01 * waters(i)
	if i.Substance.Liquid {
		rank += 0.4 // concentrated: in the hood
	}
	if i.Substance.Signal == "Danger" {
		rank += 0.2
	}
	return rank
}

// routes are the ways to make the buffer with what each takes.
func (r Request) routes(own []Ingredient, with others) []Route {
	list := pairsOf(r.System, own, with, r.Target, r.Celsius)
	var routes []Route
	for _, route := range list {
		if len(routes) == maxRoutes {
			break
		}
		if len(r.Row) > 0 && (!route.Acid.Liquid() || !route.Base.Liquid()) {
			continue // a row is made of two stocks
		}
		of := r.Recipe
		of.Acid, of.Base = route.Acid, route.Base
		c, err := of.compose(r.Target)
		if err != nil {
			route.Problem = err.Error()
			routes = append(routes, route)
			continue
		}
		litres := r.Volume / 1000
		route.AcidAmount, route.BaseAmount = r.say(route.Acid, c.Acid*litres), r.say(route.Base, c.Base*litres)
		if of.liquids(c) > 1 {
			route.Problem = "the stocks are too thin: they would take more than the whole volume"
		}
		routes = append(routes, route)
	}
	return routes
}

// liquids is which part of the volume the stocks take.
func (r Recipe) liquids(c Composition) float64 {
	part := 0.0
	if r.Acid.Liquid() {
		part += c.Acid / r.Acid.Molarity().Value
	}
	if r.Base.Liquid() {
		part += c.Base / r.Base.Molarity().Value
	}
	if r.Salt != nil && r.Salt.Liquid() {
		part += c.Salt / r.Salt.Molarity().Value
	}
	return part
}

// say writes what is taken of an ingredient for so many mol.
func (r Request) say(i Ingredient, mol float64) string {
	amount := i.For(mol)
	if i.Liquid() {
		return quantity.Digits(amount, 2) + " mL"
	}
	return quantity.Digits(amount, r.Balance.Decimals()) + " g"
}

func trim(x float64) string { return strings.TrimSpace(quantity.Digits(roundTo(x, 4), -1)) }

// roundTo rounds to significant digits.
func roundTo(x float64, digits int) float64 {
	if x == 0 {
		return 0
	}
	p := math.Pow(10, float64(digits)-math.Ceil(math.Log10(math.Abs(x))))
	return math.Round(x*p) / p
}

// flask is the one that the buffer is made in.
func (r Request) flask() (glassware.Flask, error) {
	f, _, err := glassware.Flasks(r.Glass).For(r.Volume, r.FlaskClass)
	return f, err
}

// waters of crystallisation of a solid: the fewer the better, other things being equal.
func waters(i Ingredient) float64 {
	f, err := formula.Parse(i.Substance.Formula)
	if err != nil {
		return 0
	}
	return f.Waters()
}

// pieces set a formula of the library.
func pieces(text string) []formula.Piece {
	f, err := formula.Parse(text)
	if err != nil { // a system of the lab with a formula that is no formula
		return []formula.Piece{{Text: text}}
	}
	return f.Pieces
}
