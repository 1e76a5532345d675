package titration

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// Concordant picks the largest set of titres that lie within a limit of one another, by their
// places; of several such sets the one with the smallest spread, and then the later one, since
// hands get better. A set has at least two.
func Concordant(titres []float64, limit float64) []int {
	order := make([]int, len(titres))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(titres[a], titres[b]) })
	const rounding = 1e-9 // 20.10 and 20.00 are 0.10 apart
	var best []int
	spread, latest := math.Inf(1), 0
	for from := range order {
		to := from
		for to+1 < len(order) && titres[order[to+1]]-titres[order[from]] <= limit+rounding {
			to++
		}
		set := order[from : to+1]
		s, sum := titres[order[to]]-titres[order[from]], 0
		for _, i := range set {
			sum += i
		}
		if len(set) < len(best) || len(set) == len(best) && (s > spread+rounding || math.Abs(s-spread) <= rounding && sum <= latest) {
			continue
		}
		best, spread, latest = set, s, sum
	}
	if len(best) < 2 {
		return nil
	}
	best = slices.Clone(best)
	slices.Sort(best)
	return best
}

// MeanSD is the mean of some values and their standard deviation, 0 of fewer than two.
func MeanSD(values []float64) (mean, sd float64) {
	for _, x := range values {
		mean += x / float64(len(values))
	}
	if len(values) < 2 {
		return mean, 0
	}
	for _, x := range values {
		sd += (x - mean) * (x - mean)
	}
	return mean, math.Sqrt(sd / float64(len(values)-1))
}

// StudentT is the two-sided 95 % quantile of Student's t.
func StudentT(degrees int) float64 {
	return distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(degrees)}.Quantile(0.975)
}

// dixon are the critical values of r10, two-sided 95 %, from n = 3 (Rorabacher 1991, from
// memory).
var dixon = []float64{0.970, 0.829, 0.710, 0.625, 0.568, 0.526, 0.493, 0.466}

// Outlier is what a test says of the value that lies farthest out.
type Outlier struct {
	Test string `json:"test"` // Dixon or Grubbs
	// At is its place, Value the statistic and Critical what it is compared with, for N values.
	At       int     `json:"at"`
	Value    float64 `json:"value"`
	Critical float64 `json:"critical"`
	N        int     `json:"n"`
}

// Outlies reports whether the test calls it an outlier.
func (o Outlier) Outlies() bool { return o.Value > o.Critical }

// Dixon tests by r10 = gap/range; ok is false of fewer than 3 or more than 10 values, and when
// all are equal.
func Dixon(values []float64) (o Outlier, ok bool) {
	n := len(values)
	if n < 3 || n-3 >= len(dixon) {
		return o, false
	}
	sorted := slices.Clone(values)
	slices.Sort(sorted)
	whole := sorted[n-1] - sorted[0]
	if whole == 0 {
		return o, false
	}
	low, high := (sorted[1]-sorted[0])/whole, (sorted[n-1]-sorted[n-2])/whole
	o = Outlier{Test: "Dixon", At: slices.Index(values, sorted[0]), Value: low, Critical: dixon[n-3], N: n}
	if high > low {
		o.At, o.Value = slices.Index(values, sorted[n-1]), high
	}
	return o, true
}

// Grubbs tests by G = |x − mean|/s against
//
//	G = (n−1)/√n · √(t²/(n−2+t²)),  t of n−2 degrees at 1 − 0.05/(2n)
//
// ok is false of fewer than 3 values, and when all are equal.
func Grubbs(values []float64) (o Outlier, ok bool) {
	n := float64(len(values))
	mean, sd := MeanSD(values)
	if n < 3 || sd == 0 {
		return o, false
	}
	t := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: n - 2}.Quantile(1 - 0.05/(2*n))
	o = Outlier{Test: "Grubbs", Critical: (n - 1) / math.Sqrt(n) * math.Sqrt(t*t/(n-2+t*t)), N: len(values)}
	for i, x := range values {
		if g := math.Abs(x-mean) / sd; g > o.Value {
			o.At, o.Value = i, g
		}
	}
	return o, true
}
