package absorbance

import (
	"fmt"
	"strconv"

	"vialbench/core/figure"
	"vialbench/core/line"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Additions are portions of one sample, each with more of a standard: the line through their absorbances, drawn back to no absorbance,
// says what the sample has. The portions are the standards of the request: their concentrations are what was added to them.
type Additions struct {
	// Sample is the volume of it in each portion, mL; Added are those of the standard.
	Sample float64   `json:"sample"`
	Added  []float64 `json:"added"`
	// Final is what every portion is made up to, mL; 0 where it is not, and the volumes add.
	Final float64 `json:"final,omitempty"`
	// Standard is what is added, in the unit of the request; Bottle and Number where it is on the shelf.
	Standard uncertain.Number `json:"standard"`
	Bottle   string           `json:"bottle,omitempty"`
	Number   int64            `json:"number,omitempty"`
}

// volume is what counts as the volume of a portion, mL: absorbances of portions that were not made up are brought to that of the sample.
func (d Additions) volume() float64 {
	if d.Final > 0 {
		return d.Final
	}
	return d.Sample
}

// Portions are what was added to each portion, as standards.
func (d Additions) Portions() []Standard {
	list := make([]Standard, len(d.Added))
	for i, v := range d.Added {
		list[i] = Standard{
			Concentration: d.Standard.Scale(v / d.volume()),
			Name:          "the portion with " + quantity.Trim(v) + " mL added",
		}
	}
	return list
}

// brought is by what an absorbance of a portion is multiplied.
func (d *Additions) brought(part int) float64 {
	if d == nil || d.Final > 0 || part >= len(d.Added) {
		return 1
	}
	return (d.Sample + d.Added[part]) / d.Sample
}

func (d Additions) check(p *verdict.Problems) {
	if !(d.Sample > 0 && d.Sample <= 1000) {
		p.Add("/additions/sample", "each portion has more than 0 and at most 1000 mL of sample")
	}
	if !(d.Standard.Value > 0 && d.Standard.Value <= 1e9) {
		p.Add("/additions/standard", "what is added has a concentration above 0")
	}
	if n := len(d.Added); n < 3 || n > maxStandards {
		p.Add("/additions/added", "make 3 to %d portions, the first with nothing added: 0 1 2 3 4", maxStandards)
	}
	differ := false
	for i, v := range d.Added {
		differ = differ || v != d.Added[0]
		switch field := "/additions/added/" + strconv.Itoa(i); {
		case !(v >= 0 && v <= 1000):
			p.Add(field, "what is added is from 0 to 1000 mL")
		case d.Final > 0 && v+d.Sample > d.Final*(1+1e-9):
			p.Add(field, "%s mL of sample and %s mL of standard do not fit into %s mL",
				quantity.Trim(d.Sample), quantity.Trim(v), quantity.Trim(d.Final))
		}
	}
	if !differ {
		p.Add("/additions/added", "the portions are all alike: add more to each")
	}
	if !(d.Final >= 0 && d.Final <= 10_000) {
		p.Add("/additions/final", "a portion is made up to at most 10000 mL, or not at all")
	}
}

// roleAdded is the source of what is added.
const roleAdded = "added"

// withAdded is the request with another strength of what is added.
func (r Request) withAdded(c uncertain.Number) Request {
	d := *r.Additions
	d.Standard = c
	r.Additions, r.Standards = &d, d.Portions()
	return r
}

// Added is what standard additions give, as the screen shows it.
type Added struct {
	C        float64           `json:"c"`
	U        float64           `json:"u"`
	Text     string            `json:"text"`
	Figure   string            `json:"figure"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

const addedFigure = "sample"

// added is the concentration of the sample with all that adds to it; ok is false before it is known.
func (a *account) added() (c uncertain.Number, found photometry.AdditionsAnswer, ok bool) {
	d := a.Additions
	if d == nil || a.answer == nil {
		return c, found, false
	}
	q := photometry.AdditionsQuestion{
		Sample: d.Sample, Standard: d.Standard.Value, Final: d.Final, Unit: a.Unit, Thresholds: a.Thresholds,
	}
	for i, k := range a.line.Of {
		q.Added = append(q.Added, d.Added[k])
		q.A = append(q.A, a.line.A[i]/d.brought(k)) // as it was shown
	}
	if a.Before != nil {
		q.Slope, q.SlopeSE = a.Before.Slope, a.Before.SlopeSE
	}
	found, err := photometry.Additions(q)
	if err != nil {
		return c, found, false
	}
	list := []uncertain.Contribution{{
		Source: uncertain.Source{
			ID: "scatter " + a.reads[a.line.Of[0]][0].ID, Label: "scatter of the readings", Basis: "from the residuals of the line",
			DoF: float64(found.Line.DF),
		},
		U: found.SE,
	}}
	for _, k := range d.Standard.Contributions {
		list = append(list, uncertain.Contribution{Source: k.Source, U: k.U * found.C / d.Standard.Value})
	}
	c = uncertain.Gather(found.C, list)
	// The volumes are typed: their ratio is known as well as any dilution that is.
	limits := a.Thresholds.Of(run.RuleFactor) / 100
	return c.Times(uncertain.WithLimits(1, limits, uncertain.RectangularShape, uncertain.Source{
		ID: "volumes of the portions", Label: "volumes of the portions", Basis: fmt.Sprintf("±%g %%, rectangular", 100*limits),
	})), found, true
}

func (a *account) addedView() *Added {
	c, found, ok := a.added()
	if !ok {
		return nil
	}
	return &Added{c.Value, c.Expanded(), say(c, a.Unit), addedFigure, found.Verdicts}
}

func (a *account) addedFigures() []figure.Figure {
	c, _, ok := a.added()
	if !ok {
		return nil
	}
	return []figure.Figure{figure.New(addedFigure, "the sample, by standard additions", a.Unit, c).As(figure.OtherConcentration)}
}

// addedLine is how the sample follows from slope and intercept.
func (a *account) addedLine(l line.Line) []working.Line {
	c, found, ok := a.added()
	if !ok {
		return nil
	}
	d := a.Additions
	ratio, factor := "", ""
	from := []string{"a, b: of the line through what was added; drawn back to A = 0 it cuts the axis at −a/b"}
	if d.Final > 0 {
		ratio, factor = `\,\frac{V}{V_0}`, working.Fill(` \times \frac{%v}{%v}`, d.Final, d.Sample)
		from = append(from, "V: what every portion is made up to", "V₀: the sample in it")
	} else {
		from = append(from, "absorbances are brought to the volume of the sample: times (V₀ + V)/V₀")
	}
	mean := l.At(l.MeanX)
	return []working.Line{
		{
			Title: "The sample", Symbol: "c", Formula: `c = \frac{a}{b}` + ratio,
			Substituted: working.Fill(`c = \frac{%v}{%v}`, l.Intercept, l.Slope) + factor + working.Unit(a.Unit),
			Result:      working.Result(c, a.Unit), From: from,
		},
		{
			Title: "Standard error by the scatter", Symbol: "s(c)",
			Formula: `s(c) = \frac{s}{b} \sqrt{\frac{1}{n} + \frac{\bar{A}^2}{b^2 \sum (c_i - \bar{c})^2}}` + ratio,
			Substituted: working.Fill(`s(c) = \frac{%v}{%v} \sqrt{\frac{1}{%d} + \frac{%v^2}{%v^2 \times %v}}`,
				l.SD, l.Slope, l.N, mean, l.Slope, l.Sxx) + factor + working.Unit(a.Unit),
			Result: working.Digits(found.SE) + " " + a.Unit, From: []string{"the strength of what is added and the volumes come on top"},
		},
	}
}
