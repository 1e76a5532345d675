package photometry

import (
	"math"
	"strconv"

	"gonum.org/v1/gonum/stat/distuv"

	"vialbench/core/line"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// AdditionsQuestion asks for a concentration by standard additions: portions of one sample, each with more of a standard.
type AdditionsQuestion struct {
	// Sample is the volume of sample in each portion, mL; Standard is the concentration of what is added.
	Sample   float64 `json:"sample"`
	Standard float64 `json:"standard"`
	// Added are the volumes of standard, mL, A the absorbances.
	Added []float64 `json:"added"`
	A     []float64 `json:"a"`
	// Final is the volume that every portion is made up to, mL; 0 where it is not made up, and the volumes add.
	Final float64 `json:"final,omitempty"`
	// Slope and SlopeSE are those of a line of plain standards, in AU per unit of concentration; 0 where there is none.
	Slope      float64            `json:"slope,omitempty"`
	SlopeSE    float64            `json:"slopeSE,omitempty"`
	Unit       string             `json:"unit,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// AdditionsAnswer is what the sample contains.
type AdditionsAnswer struct {
	// C is the concentration of the sample, SE its standard error, Interval that at 95 %.
	C        float64  `json:"c"`
	SE       float64  `json:"se"`
	Interval Interval `json:"interval"`
	// Line is that of the absorbances, brought to one volume, over what was added to it.
	Line Model `json:"line"`
	// X and Y are its points.
	X        []float64         `json:"x"`
	Y        []float64         `json:"y"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Additions finds it. Made up to a volume V, the concentration added is x = c_s·V_s/V, and the sample has
//
//	c = (a/b)·V/V₀,   s(c) = (V/V₀)·(s/b)·√(1/n + Ȳ²/(b²·S(xx)))
//
// Not made up, absorbances are brought to the volume of the sample, Y = A·(V₀ + V_s)/V₀, over x = c_s·V_s/V₀. An error is a
// verdict.Problems. Source: M. Bader, J. Chem. Educ. 57 (1980) 703; Harvey, Analytical Chemistry 2.1, 5C.3; both from memory.
func Additions(q AdditionsQuestion) (AdditionsAnswer, error) {
	n := len(q.Added)
	if err := q.check(); err != nil {
		return AdditionsAnswer{}, err
	}
	answer := AdditionsAnswer{Verdicts: []verdict.Verdict{}}
	to := q.Final
	if to == 0 {
		to = q.Sample
	}
	for i, v := range q.Added {
		scale := 1.0
		if q.Final == 0 {
			scale = (q.Sample + v) / q.Sample
		}
		answer.X, answer.Y = append(answer.X, q.Standard*v/to), append(answer.Y, q.A[i]*scale)
	}
	l, err := line.Fit(answer.X, answer.Y)
	if err != nil || !(l.Slope > 0) {
		return answer, verdict.Problems{{Field: "/a", Reason: "the absorbance does not rise with what is added: nothing can be found from it"}}
	}
	f := fit{Question: Question{X: answer.X, Y: answer.Y, Unit: q.Unit, Thresholds: q.Thresholds}, line: l}
	answer.Line = f.withIntercept()
	mean := l.At(l.MeanX)
	answer.C = l.Intercept / l.Slope * to / q.Sample
	answer.SE = to / q.Sample * l.SD / l.Slope * math.Sqrt(1/float64(n)+mean*mean/(l.Slope*l.Slope*l.Sxx))
	t := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(n - 2)}.Quantile(0.975)
	answer.Interval = Interval{answer.C - t*answer.SE, answer.C + t*answer.SE}
	q.judge(&answer, t)
	return answer, nil
}

func (q AdditionsQuestion) check() error {
	var p verdict.Problems
	n := len(q.Added)
	if n < 3 || n > mostReadings || len(q.A) != n {
		p.Add("/added", "there are 3 to %d additions, the first of nothing, and as many absorbances", mostReadings)
	}
	if !(q.Sample > 0 && q.Sample <= 1e4) {
		p.Add("/sample", "the volume of sample is above 0 and at most 10000 mL")
	}
	if !(q.Standard > 0 && q.Standard <= 1e9) {
		p.Add("/standard", "the concentration of the standard is above 0")
	}
	for i, v := range q.Added {
		if !(v >= 0 && v <= 1e4) || q.Final > 0 && v+q.Sample > q.Final*(1+1e-9) {
			p.Add("/added/"+strconv.Itoa(i), "what is added is 0 mL or more, and fits into the flask with the sample")
		}
	}
	for i, a := range q.A {
		checkAbsorbance(a, "/a/"+strconv.Itoa(i), &p)
	}
	if !(q.Final >= 0 && q.Final <= 1e5) || !(q.SlopeSE >= 0) || math.IsInf(q.Slope, 0) || math.IsNaN(q.Slope) {
		p.Add("/final", "a volume is 0 mL or more, and a slope a number")
	}
	return p.OrNil()
}

func (q AdditionsQuestion) judge(a *AdditionsAnswer, t float64) {
	add := func(level verdict.Level, format string, args ...any) {
		a.Verdicts = append(a.Verdicts, RuleMatrix.Says(level, nil, format, args...))
	}
	if a.Interval.From < 0 {
		add(verdict.Look, "The interval reaches below nothing: add less standard, or take more sample.")
	}
	if most := a.X[len(a.X)-1]; a.C*q.Sample > 0 && most < a.Line.Intercept/a.Line.Slope {
		add(verdict.Look, "Less was added than was there: add up to about twice as much, the line is drawn out far.")
	}
	if q.Slope == 0 {
		return
	}
	percent := 100 * (a.Line.Slope/q.Slope - 1)
	if math.Abs(a.Line.Slope-q.Slope) > t*math.Hypot(a.Line.SlopeSE, q.SlopeSE) {
		add(verdict.Look, "In the sample the slope is %s %% of that of plain standards: what else is in it changes the reading, and only additions give the right figure.",
			quantity.Digits(100+percent, 0))
		return
	}
	add(verdict.Fine, "The slope is that of plain standards, within their scatter: nothing else in the sample changes the reading.")
}
