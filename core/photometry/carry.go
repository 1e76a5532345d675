package photometry

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"

	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Remarks are what is often seen when a cell is read (common practice).
func Remarks() []string {
	return []string{"a bubble", "a fingerprint", "cloudy", "a frosted side in the beam"}
}

// Absorbance of a transmittance in %: A = −lg(T/100).
func Absorbance(percent float64) float64 { return 2 - math.Log10(percent) }

// Transmittance of an absorbance, in %.
func Transmittance(a float64) float64 { return 100 * math.Pow(10, -a) }

// Shown is the absorbance of what a photometer showed, as absorbance or as transmittance.
func Shown(q quantity.Quantity) float64 {
	if q.Unit.Dimension == quantity.Transmittance {
		return Absorbance(q.In("%T"))
	}
	return q.In("AU")
}

// The range of what a photometer shows.
const (
	weakest  = -0.5
	darkest  = 4.0
	clearest = 130.0 // %T
)

// CheckShown refuses what no photometer shows, at /quantity.
func CheckShown(q *quantity.Quantity, p *verdict.Problems) {
	switch {
	case q == nil || q.Unit.Dimension != quantity.Transmittance && q.Unit.Dimension != quantity.Absorbance:
		p.Add("/quantity", "the absorbance shown, like 0.352, or the transmittance, like 44.5 %%T")
	case q.Unit.Dimension == quantity.Transmittance && !(q.In("%T") > 0):
		p.Add("/quantity", "%s: no light came through, which says only “too strong”. Dilute it, and read it again", q)
	case q.Unit.Dimension == quantity.Transmittance && q.In("%T") >= clearest:
		p.Add("/quantity", "%s: that is more light than the blank lets through. Set the blank again, with the same cell", q)
	case q.Unit.Dimension == quantity.Absorbance && !(q.In("AU") >= weakest && q.In("AU") <= darkest):
		p.Add("/quantity", "%s: photometers show %s to %s AU. Is it a transmittance in %%T?", q, quantity.Digits(weakest, 1), quantity.Digits(darkest, 0))
	}
}

// Carry returns the concentration of an unknown with all that adds to it: the scatter of the readings, with the degrees
// of freedom of the line, and what its standards share with one another, like the error of their stock.
//
//	c₀ = (A₀ − a)/b,   ∂c₀/∂cᵢ = wᵢ·(1/n − (c₀ − c̄)·(rᵢ − b·(cᵢ − c̄)) / (b·S(cc)))
//
// with rᵢ the residual and wᵢ the weight. of names the standard of every reading by its place in standards. What belongs to one standard
// alone, like the filling of its flask, is in the scatter already where each was read once; read more often, its readings share
// it, and it is added.
func (q Question) Carry(found Found, standards []uncertain.Number, of []int, id string) (uncertain.Number, error) {
	f, err := q.fit()
	if err != nil {
		return uncertain.Number{}, err
	}
	l := f.line
	slopes := make([]float64, len(standards)) // ∂c₀/∂c of each standard
	often := false
	for i, k := range of {
		db := (q.Y[i] - l.At(q.X[i]) - l.Slope*(q.X[i]-l.MeanX)) / l.Sxx
		often = often || slopes[k] != 0
		slopes[k] += f.weight(i) * (1/float64(l.N) - (found.X-l.MeanX)*db/l.Slope)
	}
	holders := map[string]int{}
	for k, s := range standards {
		for _, c := range s.Contributions {
			if slopes[k] != 0 {
				holders[c.ID]++
			}
		}
	}
	list := []uncertain.Contribution{{
		Source: uncertain.Source{
			ID: id, Label: "scatter of the readings", Basis: "from the residuals of the line, and how often the unknown was read", DoF: float64(l.N - 2),
		},
		U: found.SE,
	}}
	for k, s := range standards {
		for _, c := range s.Contributions {
			if often || holders[c.ID] > 1 {
				list = append(list, uncertain.Contribution{Source: c.Source, U: slopes[k] * c.U})
			}
		}
	}
	return uncertain.Gather(found.X, list), nil
}

// Covariance of the concentrations of the readings, of which of names the standard; nil where none of them has an
// uncertainty.
func Covariance(standards []uncertain.Number, of []int) [][]float64 {
	known := true
	for _, s := range standards {
		known = known && s.U() == 0
	}
	if known {
		return nil
	}
	between := make([][]float64, len(standards))
	for i, a := range standards {
		between[i] = make([]float64, len(standards))
		for k, b := range standards[:i+1] {
			between[i][k] = uncertain.Correlation(a, b) * a.U() * b.U()
			between[k][i] = between[i][k]
		}
	}
	list := make([][]float64, len(of))
	for i, a := range of {
		list[i] = make([]float64, len(of))
		for k, b := range of {
			list[i][k] = between[a][b]
		}
	}
	return list
}

// At is the absorbance of a concentration by a line, within ±half at 95 %: its confidence band.
//
//	half = t·√(var a + 2c·cov(a, b) + c²·var b)
func (m Model) At(c float64) (a, half float64) {
	variance := m.InterceptSE*m.InterceptSE + 2*c*m.Covariance + c*c*m.SlopeSE*m.SlopeSE
	t := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(m.DF)}.Quantile(0.975)
	return m.Intercept + m.Slope*c, t * math.Sqrt(max(0, variance))
}
