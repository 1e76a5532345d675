package titration

import (
	"fmt"
	"math"
	"strings"

	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Pair is what two end points of one sample tell of a base that holds carbonate. With the acid a₁
// that it takes to the first end point (phenolphthalein) and a₂ to the second (methyl orange), in
// all,
//
//	hydroxide and carbonate:           n(OH⁻) = 2a₁ − a₂,  n(CO₃²⁻) = a₂ − a₁
//	carbonate and hydrogen carbonate:  n(CO₃²⁻) = a₁,      n(HCO₃⁻) = a₂ − 2a₁
//
// by the sign of 2a₁ − a₂; within its uncertainty of zero it is carbonate alone, a₂/2. Hydroxide
// and hydrogen carbonate do not stand beside one another. (Warder; Vogel, from memory.)
type Pair struct {
	Carbonate uncertain.Number
	// Beside is what stands beside it, NaOH or NaHCO3; empty of carbonate alone.
	Beside string
	Other  uncertain.Number
	// Excess is 2a₁ − a₂.
	Excess uncertain.Number
}

// SolvePair finds them; a1 and a2 in the same unit, mol/L or mol/g.
func SolvePair(a1, a2 uncertain.Number) Pair {
	p := Pair{Excess: a1.Scale(2).Minus(a2)}
	switch {
	case math.Abs(p.Excess.Value) <= p.Excess.Expanded():
		p.Carbonate = a2.Scale(0.5)
	case p.Excess.Value > 0:
		p.Beside, p.Other, p.Carbonate = "NaOH", p.Excess, a2.Minus(a1)
	default:
		p.Beside, p.Other, p.Carbonate = "NaHCO3", p.Excess.Scale(-1), a1
	}
	return p
}

// Pair reports whether two end points are taken of each sample.
func (r Reaction) Pair() bool { return r.First != "" }

// firstTitre is what ran in up to the first end point, in mL; ok is false before it.
func (a *account) firstTitre(i int) (v uncertain.Number, ok bool) {
	t := &a.trials[i]
	if t.first == nil {
		return v, false
	}
	for _, s := range t.before[:t.firstBefore] {
		v = v.Plus(a.delivered(s))
	}
	return a.warmed(elsewhere(v.Plus(a.delivered(*t.first)))), true
}

// elsewhere is a volume that ends at another place of the same scale than that of the whole titre.
// A tolerance holds for any two marks of a scale (ISO 385), so it does not cancel between the two
// end points: their errors correlate by a half, and the difference has the tolerance again.
func elsewhere(v uncertain.Number) uncertain.Number {
	var list []uncertain.Contribution
	for _, c := range v.Contributions {
		if strings.HasPrefix(c.ID, glassware.ScaleSource) {
			own := c
			own.ID += ", first end point"
			own.U *= math.Sqrt(0.75)
			c.U /= 2
			list = append(list, own)
		}
		list = append(list, c)
	}
	return uncertain.Gather(v.Value, list)
}

// firstExpected is about what the first end point takes, in mL: as in the trials that agree; 0
// before there are any.
func (a *account) firstExpected(t *trial, r Result, ok bool) float64 {
	if !ok {
		return 0
	}
	v := 0.0
	for _, i := range r.Used {
		first, _ := a.firstTitre(i)
		v += first.Value * t.sample.Value / a.trials[i].sample.Value / float64(len(r.Used))
	}
	return v
}

// acids are what both end points take for each mL or g of the sample, in mol/L or mol/g: the mean
// of the trials that agree.
func (a *account) acids(r Result) (a1, a2 uncertain.Number) {
	k := a.known()
	scale := 1 / float64(len(r.Used))
	if k.Weighed {
		scale /= 1000
	}
	for _, i := range r.Used {
		first, _ := a.firstTitre(i)
		second, _ := a.titre(i)
		sample := a.trials[i].sample
		met := func(v uncertain.Number, which string) uncertain.Number {
			return k.C.Times(k.metAt(v, fmt.Sprintf("%s end point %d", which, i), a.limits())).Over(sample).Scale(scale)
		}
		a1, a2 = a1.Plus(met(first, "first")), a2.Plus(met(second, "second"))
	}
	return a1, a2
}

// pair is what both end points tell.
func (a *account) pair(r Result) Pair {
	a1, a2 := a.acids(r)
	return SolvePair(a1, a2)
}

// pairFigures are those of a sample with two end points.
func (a *account) pairFigures(r Result) (list []figure.Figure) {
	p := a.pair(r)
	add := func(id, compound string, n uncertain.Number) {
		if compound == "" {
			return
		}
		f, err := formula.Parse(compound)
		if err != nil {
			return
		}
		if a.By == Weighed {
			list = append(list, figure.New(id, compound+" in each gram", "mmol/g", n.Scale(1000)),
				figure.New(id+" %", "part by mass that is "+compound, "%", n.Times(f.MolarMass()).Scale(100)))
			return
		}
		if a.Dissolved != nil {
			list = append(list, a.dissolvedFigures(id, compound, n)...)
			list = append(list, figure.New(id, compound+", made up", "mol/L", n).As(figure.Concentration))
			return
		}
		n = n.Times(a.factor())
		label := compound + " in " + run.LowerFirst(a.Sample.Name) + a.undiluted()
		list = append(list, figure.New(id, label, "mol/L", n).As(figure.Concentration),
			figure.New(id+" g/L", compound+a.undiluted(), "g/L", n.Times(f.MolarMass())).As(figure.OtherConcentration))
	}
	add("carbonate", "Na2CO3", p.Carbonate)
	add("beside", p.Beside, p.Other)
	if a.By != Weighed && a.Dissolved == nil {
		_, a2 := a.acids(r)
		list = append(list, figure.New("alkalinity", "alkalinity as CaCO3"+a.undiluted(), "mg/L",
			a2.Scale(500).Times(a.factor()).Times(calcite())).As(figure.OtherConcentration))
	}
	return list
}

// calcite is the molar mass of calcium carbonate, by which alkalinity is counted.
func calcite() uncertain.Number {
	f, _ := formula.Parse("CaCO3") //nolint:errcheck // it is one
	return f.MolarMass()
}

// judgePair says which mixture it is, and whether the first end points agree.
func (a *account) judgePair(r Result) []verdict.Verdict {
	p := a.pair(r)
	low, high := math.Inf(1), math.Inf(-1)
	mean1, mean2 := 0.0, 0.0
	for _, i := range r.Used {
		v1, _ := a.firstTitre(i)
		v2, _ := a.titre(i)
		low, high = min(low, v1.Value), max(high, v1.Value)
		mean1, mean2 = mean1+v1.Value/float64(len(r.Used)), mean2+v2.Value/float64(len(r.Used))
	}
	var list []verdict.Verdict
	says := func(sentence string, args ...any) {
		list = append(list, RulePair.Says(verdict.Fine, nil, sentence, args...))
	}
	v1, rest := quantity.Digits(mean1, 2), quantity.Digits(mean2-mean1, 2)
	switch p.Beside {
	case "NaOH":
		says("%s mL to the first end point, %s mL from there on: more before than after, so hydroxide stands beside the carbonate.", v1, rest)
	case "NaHCO3":
		says(
			"%s mL to the first end point, %s mL from there on: less before than after, so hydrogen carbonate stands beside the carbonate.",
			v1,
			rest,
		)
	default:
		says("%s mL to the first end point, %s mL from there on: alike within their uncertainty, so carbonate alone.", v1, rest)
	}
	if limit := a.Thresholds.Of(RuleAgree); high-low > limit+1e-9 {
		list = append(
			list,
			RuleAgree.Says(verdict.Look, nil, "The first end points lie %s mL apart, more than %s mL: pink fades slowly, so go slowly there.",
				quantity.Digits(high-low, 2), quantity.Digits(limit, 2)),
		)
	}
	return list
}

// pairLines come from both mean titres to a figure.
func (a *account) pairLines(f figure.Figure, r Result) []working.Line {
	first, second, sample := uncertain.Number{}, uncertain.Number{}, a.meanSample(r)
	n := 1 / float64(len(r.Used))
	for _, i := range r.Used {
		v1, _ := a.firstTitre(i)
		v2, _ := a.titre(i)
		first, second = first.Plus(v1.Scale(n)), second.Plus(v2.Scale(n))
	}
	c := working.Value(a.known().C, "mol/L")
	unit, of, symbol := "mL", "mol/L", "c"
	scale := 1.0
	if a.By == Weighed {
		unit, of, symbol, scale = "g", "mmol/g", "b", 1000
	}
	a1, a2 := a.acids(r)
	p := SolvePair(a1, a2)
	acid := func(name, index string, v, result uncertain.Number) working.Line {
		return working.Line{
			Title: "Acid to the " + name + " end point", Symbol: "a_" + index,
			Formula:     `a_` + index + ` = \frac{c\,V_` + index + `}{` + map[string]string{"mL": "V", "g": "m"}[unit] + `}`,
			Substituted: `a_` + index + ` = \frac{` + c + ` \times ` + working.Value(v, "mL") + `}{` + working.Value(sample, unit) + `}`,
			Result:      working.Result(result.Scale(scale), of),
			From:        []string{"c of " + a.Reaction.Titrant + ": " + a.Titrant.String(), "V: the mean of the trials that agree"},
		}
	}
	lines := []working.Line{acid("first", "1", first, a1), acid("second", "2", second, a2)}
	x1, x2 := working.Value(a1.Scale(scale), of), working.Value(a2.Scale(scale), of)
	result := p.Carbonate
	l := working.Line{Title: "Na2CO3", Symbol: symbol}
	if strings.HasPrefix(f.ID, "beside") {
		l.Title, result = p.Beside, p.Other
	}
	set := func(formula, substituted string) {
		l.Formula, l.Substituted = symbol+" = "+formula, symbol+" = "+substituted
	}
	switch {
	case f.ID == "alkalinity":
		l = working.Line{
			Title: "Alkalinity", Symbol: `\rho`, Formula: `\rho = \frac{a_2\,M}{2}`,
			Substituted: `\rho = \frac{` + x2 + a.setTimes() + ` \times ` + working.Value(calcite(), "g/mol") + `}{2}`,
			Result:      working.Result(f.Number, f.Unit), From: []string{"M of CaCO3 from atomic weights"},
		}
		return append(lines, l)
	case p.Beside == "":
		set(`\frac{a_2}{2}`, `\frac{`+x2+`}{2}`)
	case l.Title == "NaOH":
		set(`2\,a_1 - a_2`, `2 \times `+x1+` - `+x2)
	case l.Title == "NaHCO3":
		set(`a_2 - 2\,a_1`, x2+` - 2 \times `+x1)
	case p.Beside == "NaOH":
		set(`a_2 - a_1`, x2+` - `+x1)
	default:
		set(`a_1`, x1)
	}
	l.Result = working.Result(result.Scale(scale), of)
	lines = append(lines, l)
	if last := a.pairConverted(f, l, result.Scale(scale), of); last != nil {
		lines = append(lines, *last)
	}
	return lines
}

// pairConverted comes from a concentration to the unit of a figure; nil where it is that.
func (a *account) pairConverted(f figure.Figure, from working.Line, n uncertain.Number, unit string) *working.Line {
	mass, err := formula.Parse(from.Title)
	if err != nil {
		return nil
	}
	x, m := working.Value(n, unit), working.Value(mass.MolarMass(), "g/mol")
	l := working.Line{
		Title:  run.UpperFirst(f.Label),
		Symbol: "x",
		Result: working.Result(f.Number, f.Unit),
		From:   []string{"M of " + from.Title + " from atomic weights"},
	}
	switch {
	case a.Dissolved != nil && (f.Unit == "%" || f.Unit == "mmol/g"):
		l = a.solidLine(f, n, from.Title, 1)
	case f.Unit == "g/L":
		l.Symbol, l.Formula, l.Substituted = `\rho`, `\rho = c\,M`, `\rho = `+x+a.setTimes()+` \times `+m
	case f.Unit == "%":
		l.Symbol, l.Formula, l.Substituted = "w", `w = b\,M`, `w = `+x+` \times `+m
	case a.diluted() && a.Dissolved == nil:
		l.Symbol, l.Formula, l.Substituted, l.From = "c", `c = F\,c`, `c = `+x+a.setTimes(), []string{a.sayFactor()}
	default:
		return nil
	}
	return &l
}
