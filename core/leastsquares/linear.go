package leastsquares

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/mat"
)

// Linear finds the coefficients b that make Σ(yᵢ − Σ xᵢⱼ·bⱼ)² least, by a QR decomposition of the rows x with their columns scaled to one
// length, and returns that sum with them. Weighted rows and values come in multiplied by the roots of their weights. An error says that the
// rows do not tell the coefficients.
func Linear(x [][]float64, y []float64) (b []float64, rss float64, err error) {
	none := errors.New("the readings do not tell all coefficients")
	if len(x) == 0 || len(x) < len(x[0]) || len(y) != len(x) {
		return nil, 0, none
	}
	n, k := len(x), len(x[0])
	lengths := make([]float64, k)
	for _, row := range x {
		for j, v := range row {
			lengths[j] = math.Hypot(lengths[j], v)
		}
	}
	design := mat.NewDense(n, k, nil)
	for i, row := range x {
		for j, v := range row {
			design.Set(i, j, v/lengths[j])
		}
	}
	var found mat.VecDense
	if err := found.SolveVec(design, mat.NewVecDense(n, y)); err != nil {
		return nil, 0, none
	}
	for j := range k {
		b = append(b, found.AtVec(j)/lengths[j])
	}
	for i := range n {
		r := y[i] - mat.Dot(design.RowView(i), &found)
		rss += r * r
	}
	return b, rss, nil
}
