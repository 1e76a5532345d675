package dilution

import (
	"context"
	"fmt"
	"math"
	"slices"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// Mode is the kind of ladder asked for.
type Mode string

// One concentration by the best route; a series side by side from one stock; a
// chain, each stage made from the one before.
const (
	OneTarget Mode = "one"
	Series    Mode = "series"
	Chain     Mode = "chain"
)

// Question is what people ask.
type Question struct {
	Stock Stock `json:"stock"`
	Mode  Mode  `json:"mode"`
	// Of OneTarget: a factor as it is written, or a concentration in the unit of the
	// stock; Volume is how much of it is wanted in mL; Route which of the routes.
	Factor string  `json:"factor,omitempty"`
	Target float64 `json:"target,omitempty"`
	Volume float64 `json:"volume,omitempty"`
	Route  int     `json:"route,omitempty"`
	// Of Series: concentrations, listed or spread out, or volumes of stock in mL (0 is the blank), at one
	// Volume in each tube; in flasks to the mark, or in tubes by two burettes.
	Targets  []float64 `json:"targets,omitempty"`
	Spread   *Spread   `json:"spread,omitempty"`
	Volumes  []float64 `json:"volumes,omitempty"`
	InFlasks bool      `json:"inFlasks,omitempty"`
	// Of Chain: the factor of each stage, as it is written.
	Factors []string `json:"factors,omitempty"`

	// Weighed reports whether the portions of the stock are weighed on Balance, into flasks.
	Weighed bool              `json:"weighed,omitempty"`
	Balance *weighing.Balance `json:"balance,omitempty"`

	Keep      float64          `json:"keep,omitempty"`
	Rinse     float64          `json:"rinse,omitempty"`
	Glass     []glassware.Item `json:"glass,omitempty"`
	Class     glassware.Class  `json:"class"`
	MaxSteps  int              `json:"maxSteps,omitempty"`
	MaxStock  float64          `json:"maxStock,omitempty"`
	MaxLiquid float64          `json:"maxLiquid,omitempty"`
	Objective Objective        `json:"objective,omitempty"`

	WaterTemperature float64            `json:"waterTemperature"`
	Thresholds       verdict.Thresholds `json:"thresholds,omitempty"`
}

// Answer is the ladder for a question.
type Answer struct {
	Request Request `json:"request"`
	Ladder  Ladder  `json:"ladder"`
	// Routes to choose from, of OneTarget; Read says how the factors were understood.
	Routes []Route  `json:"routes,omitempty"`
	Read   []string `json:"read,omitempty"`
	// Cut reports that the search for routes ended before it was through: a better one may exist.
	Cut bool `json:"cut,omitempty"`
	// Compare puts the ways of making the same concentrations side by side: of a series
	// and of a chain only.
	Compare []Way `json:"compare,omitempty"`
}

// Spread is so many concentrations from one to another, evenly or by one factor from
// each to the next, in the unit of the stock.
type Spread struct {
	From        float64 `json:"from"`
	To          float64 `json:"to"`
	Count       int     `json:"count"`
	Logarithmic bool    `json:"logarithmic,omitempty"`
}

// Targets lists them; problems have JSON pointers into the spread.
func (s Spread) Targets() (list []float64, p verdict.Problems) {
	if s.Count < 2 || s.Count > MaxRungs {
		p.Add("/count", "from 2 to %d concentrations", MaxRungs)
	}
	if !(s.From >= 0) || s.Logarithmic && !(s.From > 0) {
		p.Add("/from", "zero or more, and above zero when each is a factor of the one before")
	}
	if !(s.To > 0) || math.IsInf(s.To, 0) {
		p.Add("/to", "a concentration above zero")
	}
	if len(p) > 0 {
		return nil, p
	}
	list = make([]float64, s.Count)
	for i := range list {
		f := float64(i) / float64(s.Count-1)
		if s.Logarithmic {
			list[i] = s.From * math.Pow(s.To/s.From, f)
		} else {
			list[i] = s.From + (s.To-s.From)*f
		}
	}
	return list, nil
}

// Solve finds the ladder for a question. An error is a verdict.Problems with JSON
// pointers into the question.
func Solve(ctx context.Context, q Question) (Answer, error) {
	var p verdict.Problems
	q.Stock = q.Stock.stated().perVolume(&p)
	q.check(&p)
	if len(p) > 0 {
		return Answer{}, p
	}
	a := Answer{Request: Request{Stock: q.Stock, Keep: q.Keep, Rinse: q.Rinse, WaterTemperature: q.WaterTemperature, Thresholds: q.Thresholds}}
	if q.Weighed {
		a.Request.Balance = q.Balance
	}
	switch q.Mode {
	case OneTarget:
		q.one(ctx, &a, &p)
	case Series:
		q.series(&a, &p)
	case Chain:
		q.chain(ctx, &a, &p)
	default:
		p.Add("/mode", "a ladder is for one concentration, a series or a chain, not “%s”", q.Mode)
	}
	if len(p) > 0 {
		return a, p
	}
	scant := q.shareFlasks(a.Request.Rungs)
	var err error
	if a.Ladder, err = a.Request.Ladder(); err == nil && q.Mode != OneTarget {
		a.Compare = q.compare(ctx, a)
	}
	if err == nil && scant != "" {
		a.Ladder.Verdicts = append(
			a.Ladder.Verdicts,
			RuleFlasks.Says(verdict.Look, nil, "%s: pour a tube off into a labelled bottle before its flask is used again.", scant),
		)
	}
	if err == nil && a.Cut {
		a.Ladder.Verdicts = append(
			[]verdict.Verdict{
				RuleSearched.Says(verdict.Look, nil, "The search was cut off before it was through: a better route than these may exist."),
			},
			a.Ladder.Verdicts...)
	}
	if err == nil && len(a.Routes) > 0 {
		if r := q.chosen(a.Routes); r.Off != 0 {
			a.Ladder.Verdicts = append(
				[]verdict.Verdict{
					RuleNearest.Says(
						verdict.Look,
						nil,
						"No route here reaches 1 in %s exactly; this one gives 1 in %s, %+.2g %% off. A burette in the list of glass would reach it.",
						short(r.Factor/(1+r.Off)),
						short(r.Factor),
						100*r.Off,
					),
				},
				a.Ladder.Verdicts...)
		}
	}
	return a, err
}

// shareFlasks gives every rung a flask of its own as far as the lab owns them, a marked
// one only once; and says of which there are too few.
func (q Question) shareFlasks(rungs []Rung) (scant string) {
	used := map[glassware.Flask]int{}
	for i, r := range rungs {
		if r.Flask == nil {
			continue
		}
		flask := *r.Flask
		if used[flask] >= q.owned(flask) {
			for _, item := range q.Glass {
				other := glassware.Flask{Volume: item.Volume, Class: item.Class, Certificate: item.Certificate}
				if item.Kind == glassware.VolumetricFlask && item.Volume == flask.Volume && item.Class == flask.Class && used[other] < item.Count {
					flask = other
					break
				}
			}
		}
		if used[flask]++; used[flask] > q.owned(flask) {
			scant = fmt.Sprintf("%d flasks of %s are needed at once, and the lab owns %d", used[flask], flask, q.owned(flask))
		}
		rungs[i].Flask = &flask
	}
	return scant
}

// check notes what is wrong with a question, whatever its mode.
func (q Question) check(p *verdict.Problems) {
	if q.Class != glassware.ClassA && q.Class != glassware.ClassB {
		p.Add("/class", "glass is of class A or class B, not “%s”", q.Class)
	}
	q.Stock.check(p)
	if len(*p) == 0 && !(q.Stock.Expanded >= 0 && q.Stock.Expanded < q.Stock.Concentration.Value) {
		p.Add("/stock/expanded", "the stock is known within zero or more, and less than its concentration, like 0.0002")
	}
	if !(q.Volume >= 0 && q.Volume <= maxVolume) {
		p.Add("/volume", "a volume between zero and %s mL", quantity.Digits(maxVolume, 0))
	}
	if q.Route < 0 {
		p.Add("/route", "the ways there are counted from 0")
	}
}

// owned is how many of a flask there are; a lab that lists no flasks has enough.
func (q Question) owned(f glassware.Flask) int {
	listed := false
	for _, item := range q.Glass {
		if item.Kind != glassware.VolumetricFlask {
			continue
		}
		listed = true
		if item.Volume == f.Volume && item.Class == f.Class && item.Certificate == f.Certificate {
			return item.Count
		}
	}
	if listed {
		return 0
	}
	return MaxRungs
}

// factor reads a factor by the school of the lab.
func (q Question) factor(text, field string, a *Answer, p *verdict.Problems) float64 {
	f, err := ParseFactor(text, q.Thresholds.Of(RuleColon) >= 0.5)
	if err != nil {
		p.Add(field, "%s", err)
		return 0
	}
	a.Read = append(a.Read, f.Read)
	return f.Value
}

// aboveStock notes a concentration that no dilution reaches.
func (q Question) aboveStock(c float64, field string, p *verdict.Problems) bool {
	switch {
	case !(c > 0) || math.IsInf(c, 0):
		p.Add(field, "a concentration is above zero, like a tenth of the stock: %s %s", short(q.Stock.Concentration.Value/10), q.Stock.Unit)
	case c > q.Stock.Concentration.Value*(1+exactly):
		p.Add(
			field,
			"%s %s is above the stock, %s %s: dilution only makes weaker",
			short(c),
			q.Stock.Unit,
			short(q.Stock.Concentration.Value),
			q.Stock.Unit,
		)
	default:
		return false
	}
	return true
}

func (q Question) one(ctx context.Context, a *Answer, p *verdict.Problems) {
	factor := 0.0
	if q.Factor != "" {
		factor = q.factor(q.Factor, "/factor", a, p)
	} else if !q.aboveStock(q.Target, "/target", p) {
		factor = q.Stock.Concentration.Value / q.Target
	}
	if len(*p) == 0 && factor < 1+exactly {
		p.Add("/factor", "that is the stock itself: there is nothing to dilute")
	}
	if len(*p) > 0 {
		return
	}
	if q.Weighed {
		q.weighed(factor, q.Volume, "/volume", a, p)
		return
	}
	var cut bool
	a.Routes, cut = Routes(
		ctx,
		Search{
			Factor:    factor,
			Glass:     q.Glass,
			Class:     q.Class,
			Need:      q.Volume,
			MaxSteps:  max(1, q.MaxSteps),
			MaxStock:  q.MaxStock,
			MaxLiquid: q.MaxLiquid,
			Objective: q.Objective,
		},
	)
	if a.Cut = cut; cut && len(a.Routes) == 0 {
		p.Add("/factor", "no route was found in the time that a search has: allow fewer steps, or less liquid")
		return
	}
	if len(a.Routes) == 0 {
		p.Add(
			"/factor",
			"no route here comes within 5 %% of 1 in %s: allow more steps, more liquid, or list a burette in the lab setup",
			short(factor),
		)
		return
	}
	for i, s := range q.chosen(a.Routes).Stages {
		flask := s.Flask
		a.Request.Rungs = append(a.Request.Rungs, Rung{From: i - 1, With: s.With, Times: s.Times, Taken: s.Taken, Flask: &flask})
	}
}

// chosen is the route that was asked for, or the best when there are not so many.
func (q Question) chosen(routes []Route) Route {
	if q.Route < len(routes) {
		return routes[q.Route]
	}
	return routes[0]
}

// weighed adds a rung for a portion of the stock that is weighed into the smallest
// flask that makes so much.
func (q Question) weighed(factor, need float64, field string, a *Answer, p *verdict.Problems) {
	cupboard := glassware.Flasks(q.Glass)
	if !(need > 0) { // any flask will do
		need = slices.Min(append(cupboard.Volumes(q.Class), math.Inf(1)))
	}
	flask, _, err := cupboard.For(need, q.Class)
	if err != nil {
		p.Add(field, "%s", err)
		return
	}
	a.Request.Rungs = append(a.Request.Rungs, Rung{From: FromStock, Weighed: true, Times: 1, Taken: flask.Volume / factor, Flask: &flask})
}

// chain chooses the glass of each stage from the end, since a stage must make what
// the next one takes.
func (q Question) chain(ctx context.Context, a *Answer, p *verdict.Problems) {
	if n := len(q.Factors); n == 0 || n > MaxRungs {
		p.Add("/factors", "a chain has 1 to %d stages, and this one would have %d", MaxRungs, n)
		return
	}
	factors := make([]float64, len(q.Factors))
	for i, text := range q.Factors {
		field := fmt.Sprintf("/factors/%d", i)
		if factors[i] = q.factor(text, field, a, p); factors[i] == 1 {
			p.Add(field, "a stage of factor 1 dilutes nothing: leave it out")
		}
	}
	if len(*p) > 0 {
		return
	}
	objective := q.Objective
	if objective == "" {
		objective = Mixed
	}
	marks := slices.DeleteFunc(slices.Clone(q.Glass), func(i glassware.Item) bool { return i.Division() > 0 })
	rungs := make([]Rung, len(factors))
	need := max(q.Keep, q.Volume)
	for i := len(factors) - 1; i >= 0; i-- {
		if i == 0 && q.Weighed {
			first := *a
			if q.weighed(factors[0], need, "/keep", &first, p); len(first.Request.Rungs) > 0 {
				rungs[0] = first.Request.Rungs[0]
			}
			continue
		}
		search := Search{Factor: factors[i], Glass: marks, Class: q.Class, Need: need, MaxSteps: 1, Objective: objective}
		routes, _ := Routes(ctx, search)
		if len(routes) == 0 || routes[0].Off != 0 { // a scale only where no mark will do
			search.Glass = q.Glass
			routes, _ = Routes(ctx, search)
		}
		if len(routes) == 0 || routes[0].Off != 0 {
			nearest := ""
			if len(routes) > 0 {
				nearest = fmt.Sprintf("; 1 in %s is the nearest", short(routes[0].Factor))
			}
			p.Add(
				fmt.Sprintf("/factors/%d", i),
				"no one step with the glass here makes 1 in %s with at least %s mL%s: choose another factor, keep less, or list more glass",
				short(factors[i]),
				short(need),
				nearest,
			)
			continue
		}
		s := routes[0].Stages[0]
		rungs[i] = Rung{From: i - 1, With: s.With, Times: s.Times, Taken: s.Taken, Flask: &s.Flask}
		need = q.Keep + s.Taken + q.Rinse
	}
	a.Request.Rungs = rungs
}
