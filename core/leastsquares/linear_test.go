package leastsquares_test

import (
	"math"
	"testing"

	"vialbench/core/leastsquares"
)

// longley is a data set of NIST StRD, linear regression, higher difficulty: y, x1 … x6 (J. W. Longley, JASA 62 (1967) 819), from memory, with the
// certified values.
var longley = [][]float64{
	{60323, 83.0, 234289, 2356, 1590, 107608, 1947},
	{61122, 88.5, 259426, 2325, 1456, 108632, 1948},
	{60171, 88.2, 258054, 3682, 1616, 109773, 1949},
	{61187, 89.5, 284599, 3351, 1650, 110929, 1950},
	{63221, 96.2, 328975, 2099, 3099, 112075, 1951},
	{63639, 98.1, 346999, 1932, 3594, 113270, 1952},
	{64989, 99.0, 365385, 1870, 3547, 115094, 1953},
	{63761, 100.0, 363112, 3578, 3350, 116219, 1954},
	{66019, 101.2, 397469, 2904, 3048, 117388, 1955},
	{67857, 104.6, 419180, 2822, 2857, 118734, 1956},
	{68169, 108.4, 442769, 2936, 2798, 120445, 1957},
	{66513, 110.8, 444546, 4681, 2637, 121950, 1958},
	{68655, 112.6, 482704, 3813, 2552, 123366, 1959},
	{69564, 114.2, 502601, 3931, 2514, 125368, 1960},
	{69331, 115.7, 518173, 4806, 2572, 127852, 1961},
	{70551, 116.9, 554894, 4007, 2827, 130081, 1962},
}

func TestLongley(t *testing.T) {
	var x [][]float64
	var y []float64
	for _, row := range longley {
		x, y = append(x, append([]float64{1}, row[1:]...)), append(y, row[0])
	}
	b, rss, err := leastsquares.Linear(x, y)
	if err != nil {
		t.Fatal(err)
	}
	certified := []float64{
		-3482258.63459582, 15.0618722713733, -0.358191792925910e-01, -2.02022980381683, -1.03322686717359, -0.511041056535807e-01, 1829.15146461355,
	}
	for i, want := range certified {
		if math.Abs(b[i]/want-1) > 1e-9 {
			t.Errorf("B%d: %.15g, certified %.15g", i, b[i], want)
		}
	}
	if sd := math.Sqrt(rss / 9); math.Abs(sd/304.854073561965-1) > 1e-9 {
		t.Errorf("residual standard deviation %.15g", sd)
	}
}

func TestWhatLinearCannotTell(t *testing.T) {
	for name, x := range map[string][][]float64{
		"no rows": nil, "fewer rows than coefficients": {{1, 2}}, "two columns alike": {{1, 2}, {2, 4}, {3, 6}}, "a column of nothing": {{1, 0}, {2, 0}, {3, 0}},
	} {
		if b, _, err := leastsquares.Linear(x, make([]float64, len(x))); err == nil {
			t.Errorf("%s: %v", name, b)
		}
	}
}
