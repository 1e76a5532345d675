package slip

import (
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

func sortedKeys(m map[string]float64) []string { return slices.Sorted(maps.Keys(m)) }

// Figures are the figures that a result is worked out from: one of these.
type Figures struct {
	Titration *Titration `json:"titration,omitempty"`
	Solution  *Solution  `json:"solution,omitempty"`
	Dilution  *Dilution  `json:"dilution,omitempty"`
	Buffer    *Buffer    `json:"buffer,omitempty"`
	Line      *Line      `json:"line,omitempty"`
	Capacity  *Capacity  `json:"capacity,omitempty"`
}

// Question asks what explains a result. Its values are in Unit, and so is the result that the figures give.
type Question struct {
	Figures
	Unit string `json:"unit,omitempty"`
	// Stated is the result as it was handed in: “0.1023”, with its digits.
	Stated string `json:"stated,omitempty"`
	// Half is half a unit of its last digit; 0 where the digits of Stated say it. Per is how many of Unit the figures give for
	// each of their own, mol/L or a pH; 0 for 1.
	Half float64 `json:"-"`
	Per  float64 `json:"-"`
	// Density of what is sought, g/mL, of a result in per cent; 0 where it is not known.
	Density float64 `json:"density,omitempty"`
	// U is the expanded uncertainty of the method (k = 2).
	U          float64            `json:"U,omitempty"`
	True       *float64           `json:"true,omitempty"`
	TrueU      float64            `json:"trueU,omitempty"`
	Others     []Bottle           `json:"others,omitempty"`
	Confirmed  map[string]int     `json:"confirmed,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// The bounds of a question.
const (
	mostTrials   = 12
	mostReadings = 12
	mostDiluted  = 6
	mostOthers   = 60
	mostSizes    = 40
	mostPoints   = 12
)

// Answer traces a result. An error is a verdict.Problems.
func Answer(q Question) (Traced, error) {
	c, err := q.read()
	if err != nil {
		return Traced{}, err
	}
	return Trace(c), nil
}

func (q Question) read() (Case, error) {
	c := Case{
		Unit: q.Unit, U: q.U, True: q.True, TrueU: q.TrueU, Others: q.Others, Confirmed: q.Confirmed, Thresholds: q.Thresholds,
	}
	var p verdict.Problems
	if q.Stated != "" {
		value, half, err := Digits(q.Stated)
		if err != nil {
			p.Add("/stated", "write the result as a number, like 0.1023")
		}
		if q.Half > 0 {
			half = q.Half
		}
		c.Stated, c.Half = &value, half
	}
	q.checkTrue(&p)
	root, ok := q.root(&p)
	switch {
	case len(p) > 0:
		return c, p
	case ok && q.Per > 0 && q.Per != 1:
		root.Name = "the result in mol/L"
		c.Root = Step{Name: result, Op: Scale, Factor: q.Per, Of: []Step{root}}
	case ok:
		c.Root = root
	case q.True != nil && q.Stated != "":
		c.Root, c.True, c.Scatter = Plain(*q.True, q.Unit), nil, c.sigma(*q.True)
	default:
		p.Add("/titration", "give the figures of the result, or the true value and what was stated")
		return c, p
	}
	if q.Density < 0 || !finite(q.Density) {
		p.Add("/density", "a density is more than 0 g/mL")
	}
	gives := layOut(&c.Root).result()
	if q.Density > 0 && strings.HasPrefix(q.Unit, "%") {
		for _, x := range []float64{gives * q.Density, gives / q.Density} {
			c.Root.Instead = append(c.Root.Instead, Instead{"% w/v for % w/w", "", x})
		}
	}
	if !finite(gives) || gives == 0 {
		p.Add("/titration", "these figures give no result: one of them is 0, or out of place")
	}
	return c, p.OrNil()
}

// checkTrue checks what is known of the bottles.
func (q Question) checkTrue(p *verdict.Problems) {
	if q.U < 0 || q.TrueU < 0 || !finite(q.U) || !finite(q.TrueU) {
		p.Add("/U", "an uncertainty is 0 or more")
	}
	if q.True != nil && (!finite(*q.True) || *q.True == 0) {
		p.Add("/true", "the true value is a number other than 0")
	}
	if len(q.Others) > mostOthers {
		p.Add("/others", "at most %d other bottles", mostOthers)
	}
}

func finite(x float64) bool { return math.Abs(x) <= math.MaxFloat64 }

// Digits reads a result as it was written, with half a unit of its last digit.
func Digits(text string) (value, half float64, err error) {
	value, decimals, err := quantity.Written(text)
	if err != nil || decimals >= 0 {
		return value, 0.5 * math.Pow10(-decimals), err
	}
	return value, math.Abs(value) * 5e-4, nil
}

// root is how the result is worked out; ok is false where no figures are given.
func (f Figures) root(p *verdict.Problems) (root Step, ok bool) {
	switch {
	case f.Titration != nil:
		f.Titration.check(p)
		root, ok = f.Titration.Root(), true
	case f.Solution != nil:
		positive(p, "/solution/mass", f.Solution.Mass)
		positive(p, "/solution/molarMass", f.Solution.MolarMass)
		f.Solution.Flask.check(p, "/solution/flask")
		root, ok = f.Solution.Root(), true
	case f.Dilution != nil:
		positive(p, "/dilution/stock/c", f.Dilution.Stock.C)
		checkDiluted(p, "/dilution/steps", f.Dilution.Steps)
		root, ok = f.Dilution.Root(), true
	case f.Buffer != nil:
		positive(p, "/buffer/base", f.Buffer.Base)
		positive(p, "/buffer/acid", f.Buffer.Acid)
		root, ok = f.Buffer.Root(), true
	case f.Line != nil:
		if n := len(f.Line.Readings); n < 1 || n > mostReadings {
			p.Add("/line/readings", "from 1 to %d readings", mostReadings)
		}
		positive(p, "/line/slope", math.Abs(f.Line.Slope))
		checkDiluted(p, "/line/diluted", f.Line.Diluted)
		root, ok = f.Line.Root(), true
	case f.Capacity != nil:
		positive(p, "/capacity/added/c", f.Capacity.Added.C)
		f.Capacity.Volume.check(p, "/capacity/volume")
		root, ok = f.Capacity.Root(), true
	}
	return root, ok
}

func positive(p *verdict.Problems, field string, x float64) {
	if !(x > 0) || !finite(x) {
		p.Add(field, "this is more than 0")
	}
}

func (g Glass) check(p *verdict.Problems, field string) {
	positive(p, field+"/mL", g.ML)
	if len(g.Others) > mostSizes {
		p.Add(field+"/others", "at most %d other sizes", mostSizes)
	}
}

func checkDiluted(p *verdict.Problems, field string, list []Dilution1) {
	if len(list) > mostDiluted {
		p.Add(field, "at most %d dilutions", mostDiluted)
		return
	}
	for i, d := range list {
		d.Aliquot.check(p, field+"/"+strconv.Itoa(i)+"/aliquot")
		d.Flask.check(p, field+"/"+strconv.Itoa(i)+"/flask")
	}
}
