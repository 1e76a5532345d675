package photometry

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"

	"vialbench/core/leastsquares"
	"vialbench/core/line"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Question asks for a line through readings, and for unknowns by it.
type Question struct {
	// X are concentrations, Y absorbances: one of each for every reading. A standard that was read twice stands there twice.
	X []float64 `json:"x"`
	Y []float64 `json:"y"`
	// XCovariance of the concentrations, a row for each reading; none where they count as exact.
	XCovariance [][]float64 `json:"xCovariance,omitempty"`
	// Scatter says how far readings scatter where they do not all do so alike; nil where they do.
	Scatter *Scatter `json:"scatter,omitempty"`
	// Names say what was read, one for each reading, like “tube 3”; none where their places in the list do.
	Names      []string           `json:"names,omitempty"`
	Unknowns   []Unknown          `json:"unknowns,omitempty"`
	Unit       string             `json:"unit,omitempty"` // of X, for words
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// Model is a line A = Intercept + Slope·c.
type Model struct {
	Intercept   float64 `json:"intercept"`
	Slope       float64 `json:"slope"`
	InterceptSE float64 `json:"interceptSE"`
	SlopeSE     float64 `json:"slopeSE"`
	// Covariance of intercept and slope.
	Covariance float64 `json:"covariance"`
	// SD of the residuals, with DF degrees of freedom; R2 is 1 − RSS/TSS.
	SD float64 `json:"sd"`
	DF int     `json:"df"`
	R2 float64 `json:"r2"`
}

// Point is a reading beside the line with intercept.
type Point struct {
	Residual    float64 `json:"residual"`
	Studentised float64 `json:"studentised"` // 0 where it cannot be known
	Leverage    float64 `json:"leverage"`
}

// Test is an F test: how large, and how likely by chance.
type Test struct {
	F   float64 `json:"f"`
	DF1 int     `json:"df1"`
	DF2 int     `json:"df2"`
	P   float64 `json:"p"`
}

// Answer is a line, judged, and what is read from it.
type Answer struct {
	Line        Model `json:"line"`
	ThroughZero Model `json:"throughZero"`
	// General takes the errors of the concentrations into account; nil where they count as exact.
	General *Model  `json:"general,omitempty"`
	Points  []Point `json:"points"`
	// T is the quantile of Student’s t that the 95 % intervals of the line use.
	T float64 `json:"t"`
	// InterceptP is how likely such an intercept is where there is none; 0 where the readings do not scatter.
	InterceptP float64 `json:"interceptP"`
	// Curvature is of a quadratic term, LackOfFit of the readings of one concentration against the line; nil where too few.
	Curvature *Test `json:"curvature,omitempty"`
	LackOfFit *Test `json:"lackOfFit,omitempty"`
	// Grows is of squared residuals that grow with the concentration, its F a χ² (DF2 is 0); nil where too few. Weighted reports
	// whether the readings weigh by the scatter that was stated.
	Grows    *Test `json:"grows,omitempty"`
	Weighted bool  `json:"weighted"`
	// Detection and Quantification are limits, as concentrations.
	Detection      float64           `json:"detection"`
	Quantification float64           `json:"quantification"`
	Unknowns       []Found           `json:"unknowns"`
	Verdicts       []verdict.Verdict `json:"verdicts"`
}

// Bounds of a question.
const (
	mostReadings = 200
	mostUnknowns = 100
	mostReplies  = 20
	strongest    = 5.0 // no photometer reads beyond
)

// Fit fits the line and reads the unknowns. An error is a verdict.Problems.
func Fit(q Question) (Answer, error) {
	if err := q.check(); err != nil {
		return Answer{}, err
	}
	f, err := q.fit()
	if err != nil {
		return Answer{}, verdict.Problems{{Field: "/x", Reason: err.Error()}}
	}
	if f.line.Slope == 0 {
		return Answer{}, verdict.Problems{{Field: "/y", Reason: "the absorbances do not follow the concentrations at all"}}
	}
	a := Answer{
		Weighted: q.Scatter != nil, Line: f.withIntercept(), ThroughZero: f.throughZero(), Points: f.points(),
		Unknowns: []Found{}, Verdicts: []verdict.Verdict{},
	}
	student := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(a.Line.DF)}
	a.T = student.Quantile(0.975)
	if a.Line.InterceptSE > 0 {
		a.InterceptP = 2 * student.Survival(math.Abs(a.Line.Intercept)/a.Line.InterceptSE)
	}
	a.Curvature, a.LackOfFit, a.Grows = f.curvature(), f.lackOfFit(), f.grows()
	near := a.Line.SD / math.Sqrt(f.weightAt(0)) / math.Abs(a.Line.Slope) // the scatter where there is nothing
	a.Detection, a.Quantification = 3.3*near, 10*near
	if len(q.XCovariance) > 0 {
		if a.General, err = f.general(); err != nil {
			return a, err
		}
	}
	for _, u := range q.Unknowns {
		a.Unknowns = append(a.Unknowns, f.find(u, a))
	}
	f.judge(&a)
	return a, nil
}

// fit is a question with its line: the ordinary one, or that of readings which weigh by their scatter.
type fit struct {
	Question
	line line.Line
	// weights of the readings, of which the mean is 1 (by was what they were multiplied by); nil where all weigh alike.
	weights []float64
	by      float64
}

func (f fit) weight(i int) float64 {
	if f.weights == nil {
		return 1
	}
	return f.weights[i]
}

// weightAt is the weight of a reading of an absorbance.
func (f fit) weightAt(y float64) float64 {
	if f.weights == nil {
		return 1
	}
	return f.by * f.Scatter.weight(y)
}

func (f fit) withIntercept() Model {
	l := f.line
	m := Model{
		Intercept: l.Intercept, Slope: l.Slope, InterceptSE: l.InterceptSE(), SlopeSE: l.SlopeSE(), SD: l.SD, DF: l.N - 2,
		Covariance: -l.SD * l.SD * l.MeanX / l.Sxx,
	}
	mean := l.At(l.MeanX)
	tss := 0.0
	for i, y := range f.Y {
		tss += f.weight(i) * (y - mean) * (y - mean)
	}
	m.R2 = 1 - l.SD*l.SD*float64(m.DF)/tss
	if tss == 0 {
		m.R2 = 0
	}
	return m
}

// throughZero is A = b·c. Its R² is against zero, as for every line without an intercept.
func (f fit) throughZero() Model {
	sxx, sxy, syy := 0.0, 0.0, 0.0
	for i, x := range f.X {
		sxx += f.weight(i) * x * x
		sxy += f.weight(i) * x * f.Y[i]
		syy += f.weight(i) * f.Y[i] * f.Y[i]
	}
	m := Model{Slope: sxy / sxx, DF: len(f.X) - 1}
	rss := 0.0
	for i, x := range f.X {
		rss += f.weight(i) * (f.Y[i] - m.Slope*x) * (f.Y[i] - m.Slope*x)
	}
	m.SD = math.Sqrt(rss / float64(m.DF))
	m.SlopeSE = m.SD / math.Sqrt(sxx)
	if syy > 0 {
		m.R2 = 1 - rss/syy
	}
	return m
}

func (f fit) points() []Point {
	n := float64(f.line.N)
	rss := f.line.SD * f.line.SD * (n - 2)
	list := make([]Point, len(f.X))
	for i, x := range f.X {
		w := f.weight(i)
		p := Point{Residual: f.Y[i] - f.line.At(x), Leverage: w * (1/n + (x-f.line.MeanX)*(x-f.line.MeanX)/f.line.Sxx)}
		if rest := rss - w*p.Residual*p.Residual/(1-p.Leverage); n > 3 && p.Leverage < 1-1e-12 && rest > 0 {
			p.Studentised = p.Residual * math.Sqrt(w/(rest/(n-3)*(1-p.Leverage)))
		}
		list[i] = p
	}
	return list
}

// curvature tests a quadratic term; nil of fewer than four readings, or three concentrations.
func (f fit) curvature() *Test {
	n := len(f.X)
	if n < 4 || len(f.groups()) < 3 {
		return nil
	}
	scale := slices.Max(f.X)
	rows, right := make([][]float64, n), make([]float64, n)
	for i, x := range f.X {
		root := math.Sqrt(f.weight(i))
		rows[i] = []float64{root, root * x / scale, root * x * x / (scale * scale)}
		right[i] = root * f.Y[i]
	}
	_, rss, err := leastsquares.Linear(rows, right)
	if err != nil {
		return nil
	}
	straight := f.line.SD * f.line.SD * float64(n-2)
	return test(straight-rss, 1, rss, n-3)
}

// groups are the readings by their concentrations.
func (f fit) groups() map[float64][]float64 {
	list := map[float64][]float64{}
	for i, x := range f.X {
		list[x] = append(list[x], f.Y[i])
	}
	return list
}

// lackOfFit compares how far the means of the concentrations lie from the line with the scatter of their readings.
func (f fit) lackOfFit() *Test {
	groups := f.groups()
	n, k := len(f.X), len(groups)
	if k < 3 || n == k {
		return nil
	}
	pure := 0.0
	for i, x := range f.X {
		mean := 0.0
		for _, y := range groups[x] {
			mean += y / float64(len(groups[x]))
		}
		pure += f.weight(i) * (f.Y[i] - mean) * (f.Y[i] - mean)
	}
	all := f.line.SD * f.line.SD * float64(n-2)
	return test(all-pure, k-2, pure, n-k)
}

// test is the F test of a sum of squares against another; nil where the other is nothing.
func test(ss float64, df1 int, rest float64, df2 int) *Test {
	if !(rest > 0) {
		return nil
	}
	t := Test{F: max(0, ss) / float64(df1) / (rest / float64(df2)), DF1: df1, DF2: df2}
	t.P = distuv.F{D1: float64(df1), D2: float64(df2)}.Survival(t.F)
	return &t
}

// judge says what is to be said of the line; what is said of an unknown stands with it.
func (f fit) judge(a *Answer) {
	add := func(r verdict.Rule, level verdict.Level, format string, args ...any) {
		a.Verdicts = append(a.Verdicts, r.Says(level, nil, format, args...))
	}
	of := f.Thresholds.Of
	if n := len(f.groups()); float64(n) < of(RulePoints) {
		add(RulePoints, verdict.Look, "Only %d concentrations: %g or more show a bend and a slip.", n, of(RulePoints))
	}
	r2 := quantity.Digits(a.Line.R2, 4)
	switch {
	case a.Line.R2 < of(RuleR2):
		add(RuleR2, verdict.Stop, "R² is %s, below %g: measure the standards again.", r2, of(RuleR2))
	case a.Line.R2 < of(RuleGood):
		add(RuleGood, verdict.Look, "R² is %s: usable, and below the %g of careful hands.", r2, of(RuleGood))
	default:
		add(RuleGood, verdict.Fine, "R² is %s. The residuals say more.", SayR2(a.Line.R2))
	}
	intercept := fmt.Sprintf("%s ± %s", quantity.Digits(a.Line.Intercept, 4), quantity.Digits(a.T*a.Line.InterceptSE, 4))
	if math.Abs(a.Line.Intercept) > a.T*a.Line.InterceptSE {
		add(RuleIntercept, verdict.Look, "The intercept, %s, differs from zero: was the blank set with this cell at this wavelength?", intercept)
	} else {
		add(RuleIntercept, verdict.Fine, "The intercept, %s, does not differ from zero.", intercept)
	}
	if a.Curvature != nil && 100*a.Curvature.P < of(RuleCurved) {
		add(RuleCurved, verdict.Look, "The line bends: chance alone does that in %s %% of cases.", percent(a.Curvature.P))
	}
	if a.LackOfFit != nil && 100*a.LackOfFit.P < of(RuleLack) {
		add(RuleLack, verdict.Look, "The standards lie further from the line than their readings scatter; chance alone does that in %s %% of cases.", percent(a.LackOfFit.P))
	}
	if a.Grows != nil && 100*a.Grows.P < of(RuleGrows) && f.Scatter == nil {
		add(RuleGrows, verdict.Look, "Strong solutions scatter more than weak ones; chance alone does that in %s %% of cases. Let the readings weigh by their scatter.",
			percent(a.Grows.P))
	}
	for i, p := range a.Points {
		chance := f.chance(p)
		if 100*chance >= of(RuleDoubtful) {
			continue
		}
		name := fmt.Sprintf("Reading %d", i+1)
		if len(f.Names) > 0 {
			name = f.Names[i]
		}
		add(RuleDoubtful, verdict.Look, "%s, %s at %s, lies %s standard deviations off the line (chance alone: %s %% of lines). Look at the cell and the tube.",
			name, quantity.Digits(f.Y[i], 3), f.say(f.X[i]), quantity.Digits(math.Abs(p.Studentised), 1), percent(chance))
	}
}

// chance is how likely one of so many readings lies as far off by scatter alone: that of Student’s t with n − 3 degrees of
// freedom, times n (Bonferroni).
func (f fit) chance(p Point) float64 {
	n := float64(f.line.N)
	if p.Studentised == 0 {
		return 1
	}
	return min(1, 2*n*distuv.StudentsT{Mu: 0, Sigma: 1, Nu: n - 3}.Survival(math.Abs(p.Studentised)))
}

// SayR2 writes R² with five digits, and never as 1 where points scatter.
func SayR2(r2 float64) string {
	if r2 < 1 && r2 >= 0.999995 {
		return "above 0.99999"
	}
	return quantity.Digits(r2, 5)
}

// percent writes a chance in %.
func percent(p float64) string {
	if p < 1e-5 {
		return "less than 0.001"
	}
	return quantity.Trim(quantity.Significant(100*p, 2))
}

// say writes a concentration with its unit.
func (q Question) say(x float64) string {
	text := quantity.Trim(quantity.Significant(x, 4))
	if q.Unit != "" {
		text += " " + q.Unit
	}
	return text
}
