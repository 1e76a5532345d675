package solution

import (
	"fmt"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/working"
)

// confirmDraws are few enough to be drawn while a person opens the working.
const confirmDraws = 100_000

// Confirm draws the concentration of a run from the distributions of its inputs and
// says whether the first-order uncertainty holds. ok is false before a mass is known.
func Confirm(r Request, facts []fact.Fact) (s uncertain.Simulation, line working.Line, ok bool, err error) {
	c, err := r.check()
	if err != nil {
		return s, line, false, err
	}
	a := c.account(facts)
	if len(a.shown) == 0 {
		return s, line, false, nil
	}
	first := a.shown[0]
	volume, degrees := a.volume, uncertain.Exact(glassware.ReferenceTemperature)
	if c.MakeUp == ToTheMark { // the temperature is no linear matter: it is drawn itself
		temperature, limits := a.solutionTemperature()
		volume = a.flask.AtReference()
		degrees = uncertain.WithLimits(temperature, limits, uncertain.RectangularShape, uncertain.Source{ID: "solution temperature"})
	}
	inputs := []uncertain.Number{a.takings[0].net, c.buoyancy, c.assay, c.weighed, volume, degrees, c.molar, c.entity, c.density}
	drawn := *c // the draws of what the basis asks for go in here
	unit := c.Concentration.Unit.Factor
	s = uncertain.Simulate(inputs, func(x []float64) float64 {
		litres := x[4] * glassware.ExpansionFactor(x[5]) / 1000
		drawn.molar, drawn.entity, drawn.density = uncertain.Exact(x[6]), uncertain.Exact(x[7]), uncertain.Exact(x[8])
		return c.basis.write(&drawn, uncertain.Exact(x[0]*x[1]*x[2]/x[3]/litres)).Value / unit
	}, confirmDraws, 1)

	half := (s.High - s.Low) / 2
	value, spread := quantity.Round((s.High+s.Low)/2, half)
	line = working.Line{
		Title:   "Checked by a hundred thousand draws",
		Symbol:  "U",
		Formula: `p(y_{\mathrm{low}} \le y \le y_{\mathrm{high}}) = 95\,\%`,
		Substituted: fmt.Sprintf(`%s \le y \le %s`, quantity.Digits(s.Low, quantity.Decimals(half)+1)+working.Unit(first.Unit),
			quantity.Digits(s.High, quantity.Decimals(half)+1)+working.Unit(first.Unit)),
		Result: value + " ± " + spread + " " + first.Unit,
		From:   []string{"propagation of distributions, GUM Supplement 1 (JCGM 101)", confirmSentence(s, first.Number)},
	}
	return s, line, true, nil
}

// confirmSentence says which of the two results to go by, and why.
func confirmSentence(s uncertain.Simulation, first uncertain.Number) string {
	half := (s.High - s.Low) / 2
	switch {
	case s.Confirms(first):
		return "the first order is confirmed: both intervals are the same"
	case half <= first.Expanded() && len(first.Budget()) > 0:
		return fmt.Sprintf(
			"“%s” is not normally distributed and makes up most of the budget: the true interval is narrower, and U on the label is on the safe side",
			first.Budget()[0].Label,
		)
	}
	return "the first order is too narrow here: go by the interval of the draws"
}
