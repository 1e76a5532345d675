// Package leastsquares fits the parameters of a model: [Linear] of one that is linear in them, [Fit] of any other.
//
// The latter minimises S(p) = Σ (y − f(p))² by Levenberg's and Marquardt's way,
//
//	(JᵀJ + λ·diag(JᵀJ))·δ = Jᵀr
//
// with J by forward differences on the way, by central ones at the end. λ falls while steps help, and
// rises when one does not. The covariance of the parameters is s²·(JᵀJ)⁻¹ with s² = S/(n − m) of n
// points and m parameters.
//
// K. Levenberg, Q. Appl. Math. 2 (1944) 164; D. W. Marquardt, J. SIAM 11 (1963) 431.
package leastsquares

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/mat"
)

// Model writes what it gives at all points for some parameters into out.
type Model func(p, out []float64)

// Result is a fit.
type Result struct {
	P []float64
	// Covariance of the parameters, SD the standard deviation of the residuals, Residuals y − f.
	Covariance *mat.SymDense
	SD         float64
	Residuals  []float64
	// Inverse is (JᵀJ)⁻¹: the covariance where each y was divided by its own standard deviation.
	Inverse *mat.SymDense
	// Leverage of each point, 0 … 1: how much of its own y comes back in f.
	Leverage []float64
	// Influence of each point on each parameter, d p/d y: (JᵀJ)⁻¹Jᵀ, a row for each parameter.
	Influence *mat.Dense
	Steps     int
}

// SE is the standard error of a parameter.
func (r Result) SE(i int) float64 { return math.Sqrt(math.Max(0, r.Covariance.At(i, i))) }

// Correlation of two parameters, −1 … 1.
func (r Result) Correlation(i, k int) float64 {
	return r.Covariance.At(i, k) / (r.SE(i) * r.SE(k))
}

// What may go wrong.
var (
	ErrFew      = errors.New("there are no more points than parameters")
	ErrSingular = errors.New("the points do not tell all parameters apart")
	ErrNotFound = errors.New("no minimum was found")
)

const (
	maxSteps  = 200
	tolerance = 1e-10 // of a step, beside the parameter
	flat      = 1e-14 // of the sum of squares, that a step gains
	largest   = 1e16  // λ
)

// Fit fits a model to y from a start; scale is about how large each parameter's steps may be, and
// is never zero.
func Fit(f Model, y, start, scale []float64) (Result, error) {
	n, m := len(y), len(start)
	if n <= m {
		return Result{}, ErrFew
	}
	p := append([]float64(nil), start...)
	out, r := make([]float64, n), make([]float64, n)
	sum := residuals(f, p, y, out, r)
	if math.IsNaN(sum) {
		return Result{}, ErrNotFound
	}
	jacobian := mat.NewDense(n, m, nil)
	lambda := 1e-3
	for step := range maxSteps {
		forward(f, p, scale, y, r, out, jacobian)
		var normal mat.SymDense
		normal.SymOuterK(1, jacobian.T())
		gradient := mat.NewVecDense(m, nil)
		gradient.MulVec(jacobian.T(), mat.NewVecDense(n, r))
		moved := false
		small := true
		for ; lambda < largest; lambda *= 10 {
			delta, ok := damped(&normal, gradient, lambda)
			if !ok {
				continue
			}
			next := make([]float64, m)
			small = true
			for i := range p {
				next[i] = p[i] + delta.AtVec(i)
				small = small && math.Abs(delta.AtVec(i)) <= tolerance*(math.Abs(p[i])+tolerance*scale[i])
			}
			trial := make([]float64, n)
			promised := 2*mat.Dot(delta, gradient) - mat.Inner(delta, &normal, delta) // by the model as a plane
			if s := residuals(f, next, y, out, trial); s <= sum {
				small = small || sum-s <= flat*sum
				p, r, sum, moved = next, trial, s, true
				lambda = math.Max(lambda/10, 1e-12)
				break
			}
			if small || promised <= flat*sum {
				break
			}
		}
		if !moved || small {
			return finished(f, p, scale, r, sum, step+1)
		}
	}
	return Result{}, ErrNotFound
}

// residuals fills in y − f and returns the sum of their squares.
func residuals(f Model, p, y, out, r []float64) (sum float64) {
	f(p, out)
	for i := range y {
		r[i] = y[i] - out[i]
		sum += r[i] * r[i]
	}
	return sum
}

// forward fills in d f/d p from the residuals that are known and one step ahead: near enough to find the
// way, for half of what [differences] takes.
func forward(f Model, p, scale, y, r, out []float64, jacobian *mat.Dense) {
	q := append([]float64(nil), p...)
	for k := range p {
		h := 1e-7 * math.Max(math.Abs(p[k]), scale[k])
		q[k] = p[k] + h
		f(q, out)
		q[k] = p[k]
		for i := range r {
			jacobian.Set(i, k, (out[i]-(y[i]-r[i]))/h)
		}
	}
}

// differences fills in d f/d p.
func differences(f Model, p, scale []float64, jacobian *mat.Dense) {
	n, _ := jacobian.Dims()
	up, down := make([]float64, n), make([]float64, n)
	q := append([]float64(nil), p...)
	for k := range p {
		h := 1e-6 * math.Max(math.Abs(p[k]), scale[k])
		q[k] = p[k] + h
		f(q, up)
		q[k] = p[k] - h
		f(q, down)
		q[k] = p[k]
		for i := range n {
			jacobian.Set(i, k, (up[i]-down[i])/(2*h))
		}
	}
}

// damped solves the damped normal equations, scaled so that their diagonal is one.
func damped(normal *mat.SymDense, gradient *mat.VecDense, lambda float64) (*mat.VecDense, bool) {
	m := normal.SymmetricDim()
	d := make([]float64, m)
	for i := range m {
		if d[i] = math.Sqrt(normal.At(i, i)); d[i] == 0 {
			d[i] = 1
		}
	}
	a, b := mat.NewSymDense(m, nil), mat.NewVecDense(m, nil)
	for i := range m {
		for k := i; k < m; k++ {
			a.SetSym(i, k, normal.At(i, k)/(d[i]*d[k]))
		}
		a.SetSym(i, i, a.At(i, i)+lambda)
		b.SetVec(i, gradient.AtVec(i)/d[i])
	}
	var chol mat.Cholesky
	if !chol.Factorize(a) {
		return nil, false
	}
	x := mat.NewVecDense(m, nil)
	if chol.SolveVecTo(x, b) != nil {
		return nil, false
	}
	for i := range m {
		x.SetVec(i, x.AtVec(i)/d[i])
	}
	return x, true
}

func finished(f Model, p, scale, r []float64, sum float64, steps int) (Result, error) {
	n, m := len(r), len(p)
	jacobian := mat.NewDense(n, m, nil)
	differences(f, p, scale, jacobian)
	var normal mat.SymDense
	normal.SymOuterK(1, jacobian.T())
	inverse, ok := inverted(&normal)
	if !ok {
		return Result{}, ErrSingular
	}
	variance := sum / float64(n-m)
	covariance := mat.NewSymDense(m, nil)
	covariance.ScaleSym(variance, inverse)
	var influence mat.Dense
	influence.Mul(inverse, jacobian.T())
	leverage := make([]float64, n)
	for i := range n {
		leverage[i] = mat.Dot(jacobian.RowView(i), influence.ColView(i))
	}
	return Result{
		P: p, Covariance: covariance, SD: math.Sqrt(variance), Residuals: r,
		Inverse: inverse, Leverage: leverage, Influence: &influence, Steps: steps,
	}, nil
}

// inverted inverts a matrix by its scaled form.
func inverted(normal *mat.SymDense) (*mat.SymDense, bool) {
	m := normal.SymmetricDim()
	d := make([]float64, m)
	a := mat.NewSymDense(m, nil)
	for i := range m {
		if d[i] = math.Sqrt(normal.At(i, i)); d[i] == 0 || math.IsNaN(d[i]) {
			return nil, false
		}
	}
	for i := range m {
		for k := i; k < m; k++ {
			a.SetSym(i, k, normal.At(i, k)/(d[i]*d[k]))
		}
	}
	var chol mat.Cholesky
	if !chol.Factorize(a) || chol.Cond() > 1e14 {
		return nil, false
	}
	inverse := mat.NewSymDense(m, nil)
	if chol.InverseTo(inverse) != nil {
		return nil, false
	}
	for i := range m {
		for k := i; k < m; k++ {
			inverse.SetSym(i, k, inverse.At(i, k)/(d[i]*d[k]))
		}
	}
	return inverse, true
}
