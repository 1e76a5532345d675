package uncertain

import (
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// Shape is the distribution of a source. The empty shape is normal.
type Shape string

// The shapes of sources; a t distribution is what a normal one is with few degrees
// of freedom.
const (
	NormalShape      Shape = ""
	RectangularShape Shape = "rectangular"
	TriangularShape  Shape = "triangular"
)

// standard returns the source's distribution with mean 0 and standard deviation 1.
// A t distribution is scaled by its own standard uncertainty, so that its tails
// stay (JCGM 101:2008, 6.4.9); it has a standard deviation from three degrees of
// freedom on.
func (s Source) standard(src rand.Source) interface{ Rand() float64 } {
	switch {
	case s.Shape == RectangularShape:
		return distuv.Uniform{Min: -math.Sqrt(3), Max: math.Sqrt(3), Src: src}
	case s.Shape == TriangularShape:
		return distuv.NewTriangle(-math.Sqrt(6), math.Sqrt(6), 0, src)
	case s.DoF > 0:
		return distuv.StudentsT{Mu: 0, Sigma: 1, Nu: s.DoF, Src: src}
	}
	return distuv.Normal{Mu: 0, Sigma: 1, Src: src}
}

// Simulation is what the draws of a model say.
type Simulation struct {
	Draws int
	Mean  float64
	// U is the standard deviation of the draws.
	U float64
	// Low and High bound the probabilistically symmetric 95 % interval.
	Low, High float64
}

// Simulate propagates distributions through a model by drawing from them (JCGM
// 101:2008, the Monte Carlo supplement of the GUM). A draw gives every source one
// value, whichever inputs share it; x holds one value per input. The same seed
// gives the same draws. At least 1000 draws are made.
func Simulate(inputs []Number, model func(x []float64) float64, draws int, seed uint64) Simulation {
	draws = max(draws, 1000)
	src := rand.NewPCG(seed, seed)
	index := map[string]int{}
	var dice []interface{ Rand() float64 }
	type part struct {
		source int
		u      float64
	}
	parts := make([][]part, len(inputs))
	for i, n := range inputs {
		for _, c := range n.Contributions {
			k, known := index[c.ID]
			if !known {
				k = len(dice)
				index[c.ID] = k
				dice = append(dice, c.standard(src))
			}
			parts[i] = append(parts[i], part{k, c.U})
		}
	}
	z, x, y := make([]float64, len(dice)), make([]float64, len(inputs)), make([]float64, draws)
	sum := 0.0
	for d := range y {
		for k, die := range dice {
			z[k] = die.Rand()
		}
		for i, n := range inputs {
			x[i] = n.Value
			for _, p := range parts[i] {
				x[i] += p.u * z[p.source]
			}
		}
		y[d] = model(x)
		sum += y[d]
	}
	s := Simulation{Draws: draws, Mean: sum / float64(draws)}
	for _, v := range y {
		s.U += (v - s.Mean) * (v - s.Mean)
	}
	s.U = math.Sqrt(s.U / float64(draws-1))
	slices.Sort(y)
	tail := int(0.025 * float64(draws))
	s.Low, s.High = y[tail], y[draws-1-tail]
	return s
}

// Confirms reports whether the draws confirm the first-order result: both ends of
// the 95 % intervals agree within a tenth of u (the comparison of JCGM 101:2008,
// 8.1, with a tolerance between those for one and for two significant digits), or
// within what that many draws leave open.
func (s Simulation) Confirms(n Number) bool {
	const k = 1.959964 // 95 % of a normal distribution
	u := n.U()
	noise := 6 * u / math.Sqrt(float64(s.Draws)) // a quantile of M draws wanders by about 2.7·u/√M
	limit := math.Max(0.1*u, noise)
	return math.Abs(n.Value-k*u-s.Low) <= limit && math.Abs(n.Value+k*u-s.High) <= limit
}

// EffectiveDoF returns the effective degrees of freedom of a number by the
// Welch–Satterthwaite formula, u⁴/Σ(uᵢ⁴/νᵢ) (GUM G.4); infinite when no source has
// a finite number.
func (n Number) EffectiveDoF() float64 {
	sum := 0.0
	for _, c := range n.Contributions {
		if c.DoF > 0 {
			sum += math.Pow(c.U, 4) / c.DoF
		}
	}
	if sum == 0 {
		return math.Inf(1)
	}
	return math.Pow(n.U(), 4) / sum
}

// CoverageFactor returns k for 95 %: [Coverage] when the degrees of freedom are
// not known to be few, or Student's t for the effective degrees of freedom,
// rounded down (GUM G.6.4).
func (n Number) CoverageFactor() float64 {
	nu := math.Floor(n.EffectiveDoF())
	if math.IsInf(nu, 1) || nu > 60 {
		return Coverage
	}
	return distuv.StudentsT{Mu: 0, Sigma: 1, Nu: math.Max(1, nu)}.Quantile(0.975)
}
