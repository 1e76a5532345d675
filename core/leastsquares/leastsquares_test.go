package leastsquares

import (
	"errors"
	"fmt"
	"math"
	"testing"
)

// NIST Statistical Reference Datasets, nonlinear regression: data, certified parameters and their
// standard deviations (from memory; that the data give the certified digits shows that they were
// remembered right).
var certified = []struct {
	name   string
	x, y   []float64
	model  func(p []float64, x float64) float64
	starts [][]float64
	p, se  []float64
	sum    float64
}{
	{
		"Misra1a",
		[]float64{77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0},
		[]float64{10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.40, 75.47, 81.78},
		func(p []float64, x float64) float64 { return p[0] * (1 - math.Exp(-p[1]*x)) },
		[][]float64{{500, 0.0001}, {250, 0.0005}},
		[]float64{2.3894212918e+02, 5.5015643181e-04},
		[]float64{2.7070075241, 7.2668688436e-06},
		1.2455138894e-01,
	},
	{
		"Eckerle4",
		[]float64{
			400, 405, 410, 415, 420, 425, 430, 435, 436.5, 438, 439.5, 441, 442.5, 444, 445.5, 447, 448.5, 450, 451.5, 453, 454.5, 456, 457.5, 459,
			460.5, 462, 463.5, 465, 470, 475, 480, 485, 490, 495, 500,
		},
		[]float64{
			0.0001575,
			0.0001699,
			0.0002350,
			0.0003102,
			0.0004917,
			0.0008710,
			0.0017418,
			0.0046400,
			0.0065895,
			0.0097302,
			0.0149002,
			0.0237310,
			0.0401683,
			0.0712559,
			0.1264458,
			0.2073413,
			0.2902366,
			0.3445623,
			0.3698049,
			0.3668534,
			0.3106727,
			0.2078154,
			0.1164354,
			0.0616764,
			0.0337200,
			0.0194023,
			0.0117831,
			0.0074357,
			0.0022732,
			0.0008800,
			0.0004579,
			0.0002345,
			0.0001586,
			0.0001143,
			0.0000710,
		},
		func(p []float64, x float64) float64 { z := (x - p[2]) / p[1]; return p[0] / p[1] * math.Exp(-z*z/2) },
		[][]float64{{1.5, 5, 450}},
		[]float64{1.5543827178, 4.0888321754, 451.54121844},
		[]float64{1.5408051163e-02, 4.6803020753e-02, 4.6800518816e-02},
		1.4635887487e-03,
	},
	{
		"Thurber",
		[]float64{
			-3.067, -2.981, -2.921, -2.912, -2.840, -2.797, -2.702, -2.699, -2.633, -2.481, -2.363, -2.322, -1.501, -1.460, -1.274, -1.212,
			-1.100, -1.046, -0.915, -0.714, -0.566, -0.545, -0.400, -0.309, -0.109, -0.103, 0.010, 0.119, 0.377, 0.790, 0.963, 1.006,
			1.115, 1.572, 1.841, 2.047, 2.200,
		},
		[]float64{
			80.574, 84.248, 87.264, 87.195, 89.076, 89.608, 89.868, 90.101, 92.405, 95.854, 100.696, 101.060, 401.672, 390.724, 567.534,
			635.316, 733.054, 759.087, 894.206, 990.785, 1090.109, 1080.914, 1122.643, 1178.351, 1260.531, 1273.514, 1288.339, 1327.543,
			1353.863, 1414.509, 1425.208, 1421.384, 1442.962, 1464.350, 1468.705, 1447.894, 1457.628,
		},
		func(p []float64, x float64) float64 {
			return (p[0] + x*(p[1]+x*(p[2]+x*p[3]))) / (1 + x*(p[4]+x*(p[5]+x*p[6])))
		},
		[][]float64{{1300, 1500, 500, 75, 1, 0.4, 0.05}, {1000, 1000, 400, 40, 0.7, 0.3, 0.03}},
		[]float64{
			1.2881396800e+03, 1.4910792535e+03, 5.8323836877e+02, 7.5416644291e+01, 9.6629502864e-01, 3.9797285797e-01, 4.9727297349e-02,
		},
		[]float64{
			4.6647963344, 3.9571156086e+01, 2.8698696102e+01, 5.5675370270, 3.1333340687e-02, 1.4984928198e-02, 6.5842344623e-03,
		},
		5.6427082397e+03,
	},
}

func TestNIST(t *testing.T) {
	for _, c := range certified {
		if len(c.x) != len(c.y) {
			t.Fatalf("%s: %d x and %d y", c.name, len(c.x), len(c.y))
		}
		f := func(p, out []float64) {
			for i, x := range c.x {
				out[i] = c.model(p, x)
			}
		}
		for _, start := range c.starts {
			r, err := Fit(f, c.y, start, start)
			if err != nil {
				t.Errorf("%s from %v: %v", c.name, start, err)
				continue
			}
			sum := 0.0
			for _, e := range r.Residuals {
				sum += e * e
			}
			for i := range c.p {
				if math.Abs(r.P[i]/c.p[i]-1) > 1e-7 || math.Abs(r.SE(i)/c.se[i]-1) > 1e-4 {
					t.Errorf("%s from %v: b%d = %.10g ± %.6g, certified %.10g ± %.6g", c.name, start, i+1, r.P[i], r.SE(i), c.p[i], c.se[i])
				}
			}
			if math.Abs(sum/c.sum-1) > 1e-8 || math.Abs(r.SD-math.Sqrt(c.sum/float64(len(c.x)-len(c.p)))) > 1e-8 {
				t.Errorf("%s: S = %.10g, certified %.10g", c.name, sum, c.sum)
			}
		}
	}
}

func TestWhatCannotBeFitted(t *testing.T) {
	line := func(p, out []float64) {
		for i := range out {
			out[i] = p[0] + p[1]*float64(i)
		}
	}
	if _, err := Fit(line, []float64{1, 2}, []float64{0, 0}, []float64{1, 1}); !errors.Is(err, ErrFew) {
		t.Errorf("%v", err)
	}
	twice := func(p, out []float64) {
		for i := range out {
			out[i] = (p[0] + p[1]) * float64(i)
		}
	}
	if _, err := Fit(twice, []float64{1, 2, 3, 4}, []float64{1, 1}, []float64{1, 1}); !errors.Is(err, ErrSingular) {
		t.Errorf("%v", err)
	}
	r, err := Fit(line, []float64{1, 3, 5, 7}, []float64{0, 0}, []float64{1, 1})
	if err != nil || math.Abs(r.P[0]-1) > 1e-8 || math.Abs(r.P[1]-2) > 1e-8 {
		t.Errorf("%v %v", r.P, err)
	}
	// Of a line through 0 … 3 intercept and slope are correlated by −x̄/√(mean of x²) = −1.5/√3.5.
	if r, err = Fit(line, []float64{1, 3.1, 4.9, 7}, []float64{0, 0}, []float64{1, 1}); err != nil ||
		math.Abs(r.Correlation(0, 1)+1.5/math.Sqrt(3.5)) > 1e-6 {
		t.Errorf("%.6f %v", r.Correlation(0, 1), err)
	}
	nan := func(_, out []float64) {
		for i := range out {
			out[i] = math.NaN()
		}
	}
	if _, err := Fit(nan, []float64{1, 2, 3}, []float64{1}, []float64{1}); !errors.Is(err, ErrNotFound) {
		t.Errorf("%v", err)
	}
}

func ExampleFit() {
	decay := func(p, out []float64) {
		for i := range out {
			out[i] = p[0] * math.Exp(-p[1]*float64(i))
		}
	}
	r, _ := Fit(decay, []float64{10, 6.065, 3.679, 2.231}, []float64{5, 1}, []float64{1, 1})
	fmt.Printf("%.2f %.3f\n", r.P[0], r.P[1])
	// Output: 10.00 0.500
}
