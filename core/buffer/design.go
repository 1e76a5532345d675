package buffer

import (
	"cmp"
	"context"
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
	// Mixes are a row stated by volumes of the two stocks; Target finds the system, Concentration and
	// Volume are passed over.
	Mixes []Mix `json:"mixes,omitempty"`

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
	// drops reports that so little of a concentrated liquid is taken that it is hard to measure.
	drops bool
}

// Other is a way that is not worked out until it is asked for.
type Other struct {
	ID    string `json:"id"`
	Title string `json:"title"`
}

// Answer is a design.
type Answer struct {
	Candidates []Candidate `json:"candidates"`
	Routes     []Route     `json:"routes"`
	// Others are further ways to make it, which may be asked for by their ID.
	Others []Other `json:"others"`
	// System and Route are those that the design is of.
	System string `json:"system"`
	Route  string `json:"route"`
	Design Design `json:"design"`
}

// reach is how far beyond its pKa a system is offered at all, in pH.
const reach = 2.0

// Solve finds systems and routes for a question. An error is a verdict.Problems with JSON
// pointers into the question.
func Solve(ctx context.Context, q Question) (Answer, error) {
	r, err := q.request()
	if err != nil {
		return Answer{}, err
	}
	a := Answer{Routes: []Route{}, Others: []Other{}}
	systems := append(slices.Clone(q.Systems), equilibrium.Systems()...)
	wanted := r.Concentration
	if r.byVolume() {
		wanted = 0 // stocks are mixed as they are
	}
	hands := q.pool(wanted)
	for _, s := range systems {
		if ctx.Err() != nil {
			return a, ctx.Err()
		}
		if c, ok := q.candidate(r, s, hands); ok {
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
	routes, others, err := r.routes(ctx, hands.ways(r, r.System), q.Route)
	if err != nil {
		return a, err
	}
	if len(routes) == 0 && r.inRow() {
		return a, verdict.Problems{{Field: q.rowField(), Reason: fmt.Sprintf(
			"a row of buffers is made of two stocks, and there are none of %s: make the stocks first", r.System.Common())}}
	}
	if len(routes) == 0 {
		return a, verdict.Problems{{Field: "/system", Reason: fmt.Sprintf(
			"nothing to make %s with is in the lab: add its acid or its salt to the substances, or a stock to the shelf", r.System.Common())}}
	}
	chosen, err := q.choose(routes)
	if err != nil {
		return a, err
	}
	a.Others = others
	a.Routes, a.Route = routes, routes[chosen].ID
	r.Acid, r.Base = routes[chosen].Acid, routes[chosen].Base
	if err := r.row(); err != nil {
		return a, err
	}
	if r, err = r.mixed(); err != nil {
		return a, err
	}
	a.Design, err = r.design()
	return a, err
}

// rowField is where a row is stated.
func (q Question) rowField() string {
	if len(q.Mixes) > 0 {
		return "/mixes"
	}
	return "/targets"
}

// choose finds the way that was asked for; else the first that works, and of which no drops are to
// be measured if there is one.
func (q Question) choose(routes []Route) (int, error) {
	if q.Route == "" {
		chosen := slices.IndexFunc(routes, func(x Route) bool { return x.Problem == "" && !x.drops })
		if chosen < 0 {
			chosen = max(0, slices.IndexFunc(routes, func(x Route) bool { return x.Problem == "" }))
		}
		return chosen, nil
	}
	chosen := slices.IndexFunc(routes, func(x Route) bool { return x.ID == q.Route })
	switch {
	case chosen >= 0:
		return chosen, nil
	case len(q.Targets)+len(q.Mixes) > 0:
		return 0, verdict.Problems{{
			Field: q.rowField(), Reason: "a row is made of two liquids, and the way chosen has a solid in it: choose one of two liquids, or make two stocks first",
		}}
	}
	return 0, verdict.Problems{{Field: "/route", Reason: "these two do not reach this pH, or are not here: choose one of those listed"}}
}

// candidate judges a system for the target; ok is false when it is out of reach.
func (q Question) candidate(r Request, s equilibrium.System, hands hands) (c Candidate, ok bool) {
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
	pairs := hands.ways(r, s)
	c.Routes = min(len(pairs), maxRoutes)
	for _, p := range pairs {
		c.OnShelf = c.OnShelf || p.acid.onShelf(s.Key) || p.base.onShelf(s.Key)
	}
	c.score = math.Abs(c.Away) + 5*math.Abs(c.ByDegree)
	if len(pairs) > 0 {
		c.Signal = pairs[0].signal(s.Key)
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

func trim(x float64) string {
	return strings.TrimSpace(quantity.Digits(quantity.Significant(x, 4), -1))
}

// flask is the one that the buffer is made in.
func (r Request) flask() (glassware.Flask, error) {
	f, _, err := glassware.Flasks(r.Glass).For(r.Volume, r.FlaskClass)
	return f, err
}

// pieces set a formula of the library.
func pieces(text string) []formula.Piece {
	f, err := formula.Parse(text)
	if err != nil { // a system of the lab with a formula that is no formula
		return []formula.Piece{{Text: text}}
	}
	return f.Pieces
}
