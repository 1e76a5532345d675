package dilution

import (
	"context"

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
	// Front reports whether no other route is better in uncertainty, liquid and number of
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
