package photometry

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Unknown is a solution that is read from the line.
type Unknown struct {
	Name     string    `json:"name,omitempty"`
	Readings []float64 `json:"readings"`
}

// Interval is a range of concentrations.
type Interval struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// Found is what an unknown holds.
type Found struct {
	Name string  `json:"name,omitempty"`
	Mean float64 `json:"mean"` // of its readings
	// X is its concentration by the line, SE its standard error; FirstOrder and Fieller are 95 % intervals, Fieller nil where
	// the slope is not known well enough for one.
	X          float64   `json:"x"`
	SE         float64   `json:"se"`
	FirstOrder Interval  `json:"firstOrder"`
	Fieller    *Interval `json:"fieller,omitempty"`
	// BySlope is its concentration by the slope through zero alone, ByGeneral by the line with errors of the
	// concentrations, with its standard error; 0 where there is none.
	BySlope   float64 `json:"bySlope"`
	ByGeneral float64 `json:"byGeneral,omitempty"`
	GeneralSE float64 `json:"generalSE,omitempty"`
	// Dilute is by how many times to dilute one that is too strong; 0 of any other.
	Dilute   float64           `json:"dilute,omitempty"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// find reads an unknown.
func (f fit) find(u Unknown, a Answer) Found {
	l := f.line
	m := float64(len(u.Readings))
	found := Found{Name: u.Name, Verdicts: []verdict.Verdict{}}
	for _, y := range u.Readings {
		found.Mean += y / m
	}
	found.X = (found.Mean - l.Intercept) / l.Slope
	if a.ThroughZero.Slope != 0 {
		found.BySlope = found.Mean / a.ThroughZero.Slope
	}
	d := found.Mean - l.At(l.MeanX)
	m *= f.weightAt(l.At(l.MeanX) + d) // of readings of weight 1
	of := 1/m + 1/float64(l.N)
	found.SE = math.Abs(l.SD/l.Slope) * math.Sqrt(of+d*d/(l.Slope*l.Slope*l.Sxx))
	found.FirstOrder = Interval{found.X - a.T*found.SE, found.X + a.T*found.SE}
	// Fieller: (d − b·x)² = t²s²(1/m + 1/n + x²/Sxx), with x from the mean.
	if g := l.Slope*l.Slope - a.T*a.T*l.SD*l.SD/l.Sxx; g > 0 {
		half := a.T * l.SD * math.Sqrt(d*d/l.Sxx+of*g)
		from, to := l.MeanX+(l.Slope*d-half)/g, l.MeanX+(l.Slope*d+half)/g
		found.Fieller = &Interval{from, to}
	}
	if g := a.General; g != nil {
		found.ByGeneral = (found.Mean - g.Intercept) / g.Slope
		x := found.ByGeneral
		variance := l.SD*l.SD/m + g.InterceptSE*g.InterceptSE + x*x*g.SlopeSE*g.SlopeSE + 2*x*g.Covariance
		found.GeneralSE = math.Sqrt(max(0, variance)) / math.Abs(g.Slope)
	}
	f.judgeUnknown(&found, a)
	return found
}

// most is how far an interval may differ from the other before that is worth a word.
const most = 0.05

func (f fit) judgeUnknown(u *Found, a Answer) {
	add := func(r verdict.Rule, level verdict.Level, format string, args ...any) {
		u.Verdicts = append(u.Verdicts, r.Says(level, nil, format, args...))
	}
	low, high := slices.Min(f.X), slices.Max(f.X)
	reads := quantity.Digits(u.Mean, 3)
	band := f.Thresholds.Of(RuleBand)
	switch {
	case u.X > high:
		u.Dilute = math.Ceil(2 * u.X / high * (1 - 1e-12)) // to about the middle of the standards
		add(RuleInside, verdict.Stop, "Absorbance %s is beyond the strongest standard, %s: dilute it %g times and read it again.",
			reads, f.say(high), u.Dilute)
	case u.X < 0 && u.FirstOrder.To < 0:
		add(RuleInside, verdict.Stop, "Absorbance %s is below nothing: the blank, or the sides of the cell.", reads)
	case u.X < low:
		add(RuleInside, verdict.Look, "Absorbance %s is below the weakest standard, %s.", reads, f.say(low))
	case u.X < a.Detection:
		add(RuleInside, verdict.Look, "%s is below the limit of detection, %s.", f.say(u.X), f.say(a.Detection))
	case u.Mean < band/4 || u.Mean > band:
		add(RuleBand, verdict.Look, "Absorbance %s: between %g and %g it is read best.", reads, band/4, band)
	}
	switch i := u.Fieller; {
	case i == nil:
		add(RuleR2, verdict.Stop, "The slope is not known well enough for an interval: nothing can be said of this unknown.")
	case math.Abs(i.From-u.FirstOrder.From)+math.Abs(i.To-u.FirstOrder.To) > most*(i.To-i.From):
		add(RuleR2, verdict.Look, "The slope is known so little that the interval is lopsided: %s to %s.", f.say(i.From), f.say(i.To))
	}
}

// steps is how many iterations a general line may take; settled is how little it then still moves, beside itself.
const (
	steps   = 100
	settled = 1e-13
)

// general is the line with the errors of the concentrations. The readings scatter by what the ordinary line leaves over.
func (f fit) general() (*Model, error) {
	n := len(f.X)
	scatter := f.line.SD * f.line.SD
	if !(scatter > 0) {
		return nil, verdict.Problems{{Field: "/y", Reason: "the readings lie on a line exactly: nothing says how they scatter"}}
	}
	own := mat.NewSymDense(n, nil)
	for i := range n {
		own.SetSym(i, i, scatter/f.weight(i))
	}
	return f.york(own)
}

// york solves for a line with covariances of both: own are those of the readings.
func (f fit) york(own *mat.SymDense) (*Model, error) {
	n := len(f.X)
	cx := mat.NewSymDense(n, nil)
	for i := range n {
		for k := i; k < n; k++ {
			cx.SetSym(i, k, f.XCovariance[i][k])
		}
	}
	x, y := mat.NewVecDense(n, slices.Clone(f.X)), mat.NewVecDense(n, slices.Clone(f.Y))
	wrong := verdict.Problems{{Field: "/xCovariance", Reason: "with these no line can be found: is it a covariance of concentrations, in their unit squared?"}}
	a, b := f.line.Intercept, f.line.Slope
	for range steps {
		var v mat.SymDense
		v.ScaleSym(b*b, cx)
		v.AddSym(&v, own)
		var chol mat.Cholesky
		if !chol.Factorize(&v) {
			return nil, wrong
		}
		r := mat.NewVecDense(n, nil)
		for i := range n {
			r.SetVec(i, f.Y[i]-a-b*f.X[i])
		}
		var vr, adjusted mat.VecDense
		if err := chol.SolveVecTo(&vr, r); err != nil {
			return nil, wrong
		}
		adjusted.MulVec(cx, &vr)
		adjusted.AddScaledVec(x, b, &adjusted)
		design := mat.NewDense(n, 2, nil)
		for i := range n {
			design.Set(i, 0, 1)
			design.Set(i, 1, adjusted.AtVec(i))
		}
		var w mat.Dense // V⁻¹[1 ĉ]
		if err := chol.SolveTo(&w, design); err != nil {
			return nil, wrong
		}
		plain := mat.NewDense(n, 2, nil)
		plain.Copy(design)
		plain.SetCol(1, f.X)
		var normal mat.Dense
		var right, p mat.VecDense
		normal.Mul(w.T(), plain)
		right.MulVec(w.T(), y)
		if err := p.SolveVec(&normal, &right); err != nil {
			return nil, wrong
		}
		reach := math.Abs(a) + math.Abs(b)*math.Abs(f.line.MeanX)
		still := math.Abs(p.AtVec(1)-b) <= settled*math.Abs(b) && math.Abs(p.AtVec(0)-a) <= settled*reach
		a, b = p.AtVec(0), p.AtVec(1)
		if !still {
			continue
		}
		var information, covariance mat.Dense
		information.Mul(w.T(), design)
		if err := covariance.Inverse(&information); err != nil {
			return nil, wrong
		}
		return &Model{
			Intercept: a, Slope: b, InterceptSE: math.Sqrt(covariance.At(0, 0)), SlopeSE: math.Sqrt(covariance.At(1, 1)),
			Covariance: covariance.At(0, 1), SD: f.line.SD, DF: n - 2, R2: f.withIntercept().R2,
		}, nil
	}
	return nil, wrong
}
