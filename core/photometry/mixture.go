package photometry

import (
	"fmt"
	"math"
	"strconv"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distuv"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// MixtureQuestion asks for two substances that absorb beside each other, from readings at two wavelengths. Both need a line of their own
// at both.
type MixtureQuestion struct {
	// Lines are those of the first and of the second substance, each at the first and at the second wavelength.
	First  []Model `json:"first"`
	Second []Model `json:"second"`
	// Readings are those of the mixture at both wavelengths, one or more at each.
	Readings [][]float64 `json:"readings"`
	// Names of the substances, for words; none where they do not matter.
	Names      []string           `json:"names,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// MixtureAnswer is what the mixture contains.
type MixtureAnswer struct {
	// C are the concentrations, SE their standard errors, Intervals those at 95 %.
	C         []float64  `json:"c"`
	SE        []float64  `json:"se"`
	Intervals []Interval `json:"intervals"`
	// DF are the effective degrees of freedom of C, 0 where nothing scatters; EquationSE is the standard error of what each wavelength
	// says, AU.
	DF         []float64 `json:"df"`
	EquationSE []float64 `json:"equationSE"`
	// Correlation of the two: what one is read too high, the other is mostly read too low.
	Correlation float64 `json:"correlation"`
	// Apart is how well the two wavelengths tell the substances apart, from 0 (not at all) to 1 (each absorbs at one of them alone).
	Apart    float64           `json:"apart"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Mixture solves
//
//	A₁ = a₁ + b₁₁·c₁ + b₁₂·c₂,   A₂ = a₂ + b₂₁·c₁ + b₂₂·c₂
//
// in which the intercepts of both lines add up. The errors of readings, slopes and intercepts go into both concentrations, to first order;
// the intervals use Student's t with the effective degrees of freedom (JCGM 100, G.4). An error is a verdict.Problems. Source: Harvey,
// Analytical Chemistry 2.1, 10.3, from memory.
func Mixture(q MixtureQuestion) (MixtureAnswer, error) {
	if err := q.check(); err != nil {
		return MixtureAnswer{}, err
	}
	lines := [2][]Model{q.First, q.Second}
	b := mat.NewDense(2, 2, nil)
	var y, length [2]float64
	for at := range 2 {
		for _, a := range q.Readings[at] {
			y[at] += a / float64(len(q.Readings[at]))
		}
		for of, l := range lines {
			y[at] -= l[at].Intercept
			b.Set(at, of, l[at].Slope)
			length[of] = math.Hypot(length[of], l[at].Slope)
		}
	}
	a := MixtureAnswer{Apart: math.Abs(mat.Det(b)) / (length[0] * length[1]), Verdicts: []verdict.Verdict{}}
	var inverse mat.Dense
	if !(a.Apart > 1e-9) || inverse.Inverse(b) != nil {
		return a, verdict.Problems{{Field: "/second", Reason: "both substances absorb in the same ratio at these wavelengths: take others"}}
	}
	for of := range 2 {
		a.C = append(a.C, inverse.At(of, 0)*y[0]+inverse.At(of, 1)*y[1])
	}
	var parts [2][]variance
	for at := range 2 {
		parts[at] = q.variances(at, a.C)
		sum := 0.0
		for _, v := range parts[at] {
			sum += v.of
		}
		a.EquationSE = append(a.EquationSE, math.Sqrt(sum))
	}
	covariance := 0.0
	for of := range 2 {
		variance, fourth := 0.0, 0.0 // Welch and Satterthwaite
		for at := range 2 {
			part := inverse.At(of, at)
			for _, v := range parts[at] {
				variance += part * part * v.of
				fourth += part * part * part * part * v.of * v.of / float64(v.df)
				if of == 0 {
					covariance += part * inverse.At(1, at) * v.of
				}
			}
		}
		t, df := 0.0, 0.0
		if fourth > 0 {
			df = variance * variance / fourth
			t = distuv.StudentsT{Mu: 0, Sigma: 1, Nu: df}.Quantile(0.975)
		}
		a.DF = append(a.DF, df)
		se := math.Sqrt(variance)
		a.SE = append(a.SE, se)
		a.Intervals = append(a.Intervals, Interval{a.C[of] - t*se, a.C[of] + t*se})
	}
	if a.SE[0]*a.SE[1] > 0 {
		a.Correlation = covariance / (a.SE[0] * a.SE[1])
	}
	q.judge(&a)
	return a, nil
}

// variance of an equation, with its degrees of freedom.
type variance struct {
	of float64
	df int
}

// variances are what the equation of a wavelength is uncertain by: both lines at the concentrations that were found, and the scatter of
// its readings, which is that of both lines together.
func (q MixtureQuestion) variances(at int, c []float64) []variance {
	var list []variance
	squares, df := 0.0, 0
	for of, l := range [2][]Model{q.First, q.Second} {
		m, c := l[at], c[of]
		list = append(list, variance{max(0, m.InterceptSE*m.InterceptSE+2*c*m.Covariance+c*c*m.SlopeSE*m.SlopeSE), m.DF})
		squares, df = squares+float64(m.DF)*m.SD*m.SD, df+m.DF
	}
	return append(list, variance{squares / float64(df) / float64(len(q.Readings[at])), df})
}

func (q MixtureQuestion) check() error {
	var p verdict.Problems
	for field, list := range map[string][]Model{"/first": q.First, "/second": q.Second} {
		if len(list) != 2 {
			p.Add(field, "there are two lines of each substance, one at each wavelength")
		}
		for i, l := range list {
			l.check(field+"/"+strconv.Itoa(i), &p)
		}
	}
	if len(q.Readings) != 2 {
		p.Add("/readings", "the mixture is read at both wavelengths")
	}
	for i, list := range q.Readings {
		of := "/readings/" + strconv.Itoa(i)
		if len(list) < 1 || len(list) > mostReplies {
			p.Add(of, "it is read 1 to %d times", mostReplies)
		}
		for k, a := range list {
			checkAbsorbance(a, of+"/"+strconv.Itoa(k), &p)
		}
	}
	if n := len(q.Names); n != 0 && n != 2 {
		p.Add("/names", "there are two substances")
	}
	return p.OrNil()
}

// check adds a problem for what is no line, below a field.
func (m Model) check(field string, p *verdict.Problems) {
	if !(m.Slope >= 0) || math.IsInf(m.Slope, 0) || math.IsNaN(m.Intercept) || math.IsInf(m.Intercept, 0) {
		p.Add(field+"/slope", "a line has a slope of 0 or more, and an intercept")
	}
	variance := m.InterceptSE*m.InterceptSE + m.SlopeSE*m.SlopeSE + m.SD*m.SD + math.Abs(m.Covariance)
	if !(m.InterceptSE >= 0 && m.SlopeSE >= 0 && m.SD >= 0) || math.IsInf(variance, 0) || math.IsNaN(variance) {
		p.Add(field+"/sd", "standard errors and deviations are 0 or more")
	}
	if m.DF < 1 || m.DF > mostReadings {
		p.Add(field+"/df", "a line has 1 to %d degrees of freedom", mostReadings)
	}
}

func (q MixtureQuestion) judge(a *MixtureAnswer) {
	if least := q.Thresholds.Of(RuleApart); a.Apart < least {
		a.Verdicts = append(a.Verdicts, RuleApart.Says(verdict.Look, nil,
			"The two absorb much alike at both wavelengths (%s of 1, less than %g): small errors of a reading are large ones here.",
			quantity.Digits(a.Apart, 2), least))
	}
	for i, c := range a.C {
		name := fmt.Sprintf("Substance %d", i+1)
		if len(q.Names) > 0 {
			name = q.Names[i]
		}
		switch {
		case a.Intervals[i].To < 0:
			a.Verdicts = append(a.Verdicts, RuleInside.Says(verdict.Stop, nil,
				"%s comes out below nothing: something else absorbs too, or the lines are not those of this cell.", name))
		case a.Intervals[i].From < 0 && c < 2*a.SE[i]:
			a.Verdicts = append(a.Verdicts, RuleInside.Says(verdict.Look, nil, "%s cannot be told from nothing beside the other.", name))
		}
	}
}
