package comparison

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
)

// Robust is a mean and a standard deviation that a few wrong results do not move.
type Robust struct {
	Mean float64 `json:"mean"`
	SD   float64 `json:"sd"`
}

// Median of values in any order; NaN of none.
func Median(values []float64) float64 {
	sorted := slices.Sorted(slices.Values(values))
	n := len(sorted)
	switch {
	case n == 0:
		return math.NaN()
	case n%2 == 1:
		return sorted[n/2]
	}
	return (sorted[n/2-1] + sorted[n/2]) / 2
}

// MAD is 1.4826 times the median distance from the median: the standard deviation, of what is normally distributed.
func MAD(values []float64) float64 {
	middle := Median(values)
	apart := make([]float64, len(values))
	for i, x := range values {
		apart[i] = math.Abs(x - middle)
	}
	return Median(apart) / distuv.UnitNormal.Quantile(0.75)
}

// The numbers of Algorithm A: where results are drawn in to, what makes good for it in the standard deviation of normal
// scatter, and when the iteration stands.
const (
	drawnInTo  = 1.5
	correction = 1.134
	mostRounds = 200
	standsAt   = 1e-12
)

// AlgorithmA gives robust mean and standard deviation of two results or more (ISO 13528:2022, C.3.1). Where more than half
// of the results are the same, their spread is taken from the distances of the others.
func AlgorithmA(values []float64) Robust {
	r := Robust{Median(values), MAD(values)}
	if r.SD == 0 { // most are the same to the last digit
		for _, x := range values {
			r.SD += math.Abs(x-r.Mean) / float64(len(values))
		}
	}
	drawn := make([]float64, len(values))
	for range mostRounds {
		for i, x := range values {
			drawn[i] = min(max(x, r.Mean-drawnInTo*r.SD), r.Mean+drawnInTo*r.SD)
		}
		mean, sd := stat.MeanStdDev(drawn, nil)
		next := Robust{mean, correction * sd}
		change := math.Abs(next.Mean-r.Mean) + math.Abs(next.SD-r.SD)
		if r = next; change <= standsAt*(math.Abs(r.Mean)+r.SD) {
			break
		}
	}
	return r
}

// Hampel gives the standard deviation of the Q method and the mean by Hampel's estimator with it (ISO 13528:2022, C.5), of
// two results or more that came in once each.
func Hampel(values []float64) Robust {
	r := Robust{Median(values), qMethod(values)}
	if r.SD == 0 {
		return r
	}
	// The estimating function is piecewise linear: its root nearest the median is found between its corners.
	corners := []float64{}
	for _, x := range values {
		for _, k := range []float64{-4.5, -3, -1.5, 1.5, 3, 4.5} {
			corners = append(corners, x+k*r.SD)
		}
	}
	slices.Sort(corners)
	pull := func(at float64) (sum float64) {
		for _, x := range values {
			sum += hampelPsi((x - at) / r.SD)
		}
		return sum
	}
	best, found := r.Mean, math.Inf(1)
	for i := 1; i < len(corners); i++ {
		a, b := corners[i-1], corners[i]
		fa, fb := pull(a), pull(b)
		if a == b || fa < 0 || fb > 0 || fa == fb { // a root where the function falls
			continue
		}
		root := a + (b-a)*fa/(fa-fb)
		if apart := math.Abs(root - r.Mean); apart < found {
			best, found = root, apart
		}
	}
	r.Mean = best
	return r
}

// hampelPsi is how hard a result pulls at the mean, by its distance in standard deviations.
func hampelPsi(q float64) float64 {
	size := math.Abs(q)
	switch {
	case size <= 1.5:
		return q
	case size <= 3:
		size = 1.5
	case size <= 4.5:
		size = 4.5 - size
	default:
		size = 0
	}
	return math.Copysign(size, q)
}

// qMethod is the standard deviation from the distances of all pairs of results (ISO 13528:2022, C.5.2).
func qMethod(values []float64) float64 {
	var apart []float64
	for i, x := range values {
		for _, y := range values[:i] {
			apart = append(apart, math.Abs(x-y))
		}
	}
	slices.SortFunc(apart, cmp.Compare[float64])
	pairs := float64(len(apart))
	// h is the share of pairs up to a distance, g the same without its steps: half way up each.
	same := 0.0
	for _, d := range apart {
		if d == 0 {
			same++
		}
	}
	same /= pairs
	wanted := 0.25 + 0.75*same
	lastX, lastG := 0.0, 0.0
	below := 0.0
	for i := 0; i < len(apart); {
		j := i
		for j < len(apart) && apart[j] == apart[i] {
			j++
		}
		h := float64(j) / pairs
		g := (h + below) / 2
		if apart[i] == 0 {
			g = 0
		}
		if g >= wanted && apart[i] > 0 {
			x := lastX + (apart[i]-lastX)*(wanted-lastG)/(g-lastG)
			return x / (math.Sqrt2 * distuv.UnitNormal.Quantile(0.625+0.375*same))
		}
		lastX, lastG, below, i = apart[i], g, h, j
	}
	return lastX / (math.Sqrt2 * distuv.UnitNormal.Quantile(0.625+0.375*same))
}
