package absorbance

import (
	"fmt"

	"vialbench/core/fact"
	"vialbench/core/line"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Explain implements [run.Plan].
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	for _, f := range a.figures() {
		if f.ID != figureID {
			continue
		}
		lines, err := a.lines(figureID)
		return append(lines, working.Uncertainty(f.Number, f.Unit)...), err
	}
	return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a line is its slope, its intercept, or one of its unknowns"}}
}

func (a *account) lines(id string) ([]working.Line, error) {
	l, weightAt, err := a.line.Ordinary(a.Unit)
	if err != nil {
		return nil, err
	}
	for _, part := range a.order() {
		switch id {
		case figureID(part):
			return a.unknownLines(part, l, weightAt), nil
		case sampleID(part):
			c, _ := a.concentration(part)
			f, _ := a.factor(part)
			return append(a.unknownLines(part, l, weightAt), a.sampleLine(part, c, f)), nil
		}
	}
	slope := working.Line{
		Title: "Slope", Symbol: "b", Formula: `b = \frac{\sum (c_i - \bar{c})(A_i - \bar{A})}{\sum (c_i - \bar{c})^2}`,
		Substituted: working.Fill(`b = \frac{%v}{%v}`, l.Slope*l.Sxx, l.Sxx) + working.Unit(a.perUnit()),
		Result:      working.Result(a.slope(), a.perUnit()),
		From:        []string{working.Fill("%d readings that count; the band uses s = %v", l.N, l.SD)},
	}
	if s := a.line.Scatter; s != nil {
		slope.Formula = `b = \frac{\sum w_i (c_i - \bar{c})(A_i - \bar{A})}{\sum w_i (c_i - \bar{c})^2}`
		slope.From = append(slope.From, fmt.Sprintf("w: 1/s², with s of %s AU and %s %% of the reading; their mean is 1, and so are the means weighted",
			quantity.Trim(s.Floor), quantity.Trim(s.Part)))
	}
	intercept := working.Line{
		Title: "Intercept", Symbol: "a", Formula: `a = \bar{A} - b\,\bar{c}`,
		Substituted: working.Fill(`a = (%v - %v \times %v)`, l.At(l.MeanX), l.Slope, l.MeanX) + working.Unit("AU"),
		Result:      working.Result(a.intercept(), "AU"), From: []string{},
	}
	switch id {
	case "slope":
		return []working.Line{slope}, nil
	case "intercept":
		return []working.Line{slope, intercept}, nil
	case addedFigure:
		return append([]working.Line{slope, intercept}, a.addedLine(l)...), nil
	}
	f, _ := molar(a.Unit)
	e, _ := a.absorptivity()
	return []working.Line{slope, {
		Title: "Molar absorptivity", Symbol: `\varepsilon`, Formula: `\varepsilon = \frac{b}{f\,l}`,
		Substituted: working.Fill(`\varepsilon = \frac{%v}{%v \times %v}`, l.Slope, f, a.Path/10) + working.Unit("L/(mol·cm)"),
		Result:      working.Result(e, "L/(mol·cm)"),
		From:        []string{"f: the mol/L of one " + a.Unit, fmt.Sprintf("l: the path, %s cm", quantity.Digits(a.Path/10, -1))},
	}}, nil
}

// unknownLines show how an unknown was read.
func (a *account) unknownLines(part int, l line.Line, weightAt func(float64) float64) []working.Line {
	var terms []string
	mean := 0.0
	for _, read := range a.reads[part] {
		terms = append(terms, working.Term(read.net))
		mean += read.net / float64(len(a.reads[part]))
	}
	m := len(terms)
	found := a.answer.Unknowns[a.found[part]]
	d := mean - l.At(l.MeanX)
	shared := "line: " + a.says()
	if a.Earlier != nil {
		shared = fmt.Sprintf("line of run %d: %s", a.Earlier.Number, a.says())
	}
	spread := working.Line{
		Title: "Standard error by the scatter", Symbol: "s(c_0)",
		Formula: `s(c_0) = \frac{s}{b} \sqrt{\frac{1}{m} + \frac{1}{n} + \frac{(A_0 - \bar{A})^2}{b^2 \sum (c_i - \bar{c})^2}}`,
		Substituted: working.Fill(`s(c_0) = \frac{%v}{%v} \sqrt{\frac{1}{%d} + \frac{1}{%d} + \frac{%v^2}{%v^2 \times %v}}`,
			l.SD, l.Slope, m, l.N, d, l.Slope, l.Sxx) + working.Unit(a.Unit),
		Result: working.Digits(found.SE) + " " + a.Unit, From: []string{"what the standards share comes on top, by its sources"},
	}
	if a.line.Scatter != nil {
		w := weightAt(mean)
		spread.Formula = `s(c_0) = \frac{s}{b} \sqrt{\frac{1}{m\,w_0} + \frac{1}{n} + \frac{(A_0 - \bar{A})^2}{b^2 \sum w_i (c_i - \bar{c})^2}}`
		spread.Substituted = working.Fill(`s(c_0) = \frac{%v}{%v} \sqrt{\frac{1}{%d \times %v} + \frac{1}{%d} + \frac{%v^2}{%v^2 \times %v}}`,
			l.SD, l.Slope, m, w, l.N, d, l.Slope, l.Sxx) + working.Unit(a.Unit)
		spread.From = append(spread.From, "w₀: the weight of this reading")
	}
	return []working.Line{
		{
			Title: "Absorbance of " + run.LowerFirst(a.vessel(part)), Symbol: "A_0", Formula: `A_0 = \frac{\sum A_i}{m}`,
			Substituted: fmt.Sprintf(`A_0 = \frac{%s}{%d}`, working.Sum(terms), m) + working.Unit("AU"), Result: working.Digits(mean) + " AU",
			From: []string{"A: as shown, less the blank and the difference of the cell"},
		},
		{
			Title: "Its concentration", Symbol: "c_0", Formula: `c_0 = \frac{A_0 - a}{b}`,
			Substituted: working.Fill(`c_0 = \frac{%v - %v}{%v}`, mean, l.Intercept, l.Slope) + working.Unit(a.Unit),
			Result:      working.Digits(found.X) + " " + a.Unit, From: []string{shared},
		},
		spread,
	}
}

func (a *account) sampleLine(part int, c, f uncertain.Number) working.Line {
	from := "F: how many times it had been diluted"
	if d := a.Unknowns[a.unknown(part)].Descent; d != nil {
		from += fmt.Sprintf(", by the record of its bottle since bottle %d", d.Number)
	}
	return working.Line{
		Title: "The sample before it was diluted", Symbol: "c", Formula: `c = F\,c_0`,
		Substituted: working.Fill(`c = %v \times %v`, f.Value, c.Value) + working.Unit(a.Unit),
		Result:      working.Result(c.Times(f), a.Unit), From: []string{from},
	}
}
