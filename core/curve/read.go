package curve

import (
	"cmp"
	"math"
	"slices"

	"vialbench/core/line"
)

// Slope is how a curve runs at a point.
type Slope struct {
	Volume float64 `json:"volume"`
	// First in pH/mL and Second in pH/mL².
	First  float64 `json:"first"`
	Second float64 `json:"second"`
}

// window is how many neighbouring points a quadratic goes through.
const window = 5

// Slopes are those of a measured curve, from quadratics through five neighbouring points each, by
// least squares: near the ends the window stays within the curve. Of fewer than five points there
// are none. Points at one volume count as one reading of it, the mean.
func Slopes(points []Point) []Slope {
	points = merged(points)
	if len(points) < window {
		return nil
	}
	var list []Slope
	for i, p := range points {
		from := min(max(0, i-window/2), len(points)-window)
		_, b, c := quadratic(points[from:from+window], p.Volume)
		list = append(list, Slope{p.Volume, b, 2 * c})
	}
	return list
}

// merged puts readings at one volume together.
func merged(points []Point) []Point {
	var list []Point
	for i := 0; i < len(points); {
		sum, n := 0.0, 0
		for k := i; k < len(points) && points[k].Volume == points[i].Volume; k++ {
			sum, n = sum+points[k].PH, n+1
		}
		list = append(list, Point{points[i].Volume, sum / float64(n)})
		i += n
	}
	return list
}

// quadratic fits a + b(v − at) + c(v − at)² by least squares.
func quadratic(points []Point, at float64) (a, b, c float64) {
	var s [5]float64
	var t [3]float64
	for _, p := range points {
		x, power := p.Volume-at, 1.0
		for k := range s {
			s[k] += power
			if k < 3 {
				t[k] += power * p.PH
			}
			power *= x
		}
	}
	det := s[0]*(s[2]*s[4]-s[3]*s[3]) - s[1]*(s[1]*s[4]-s[2]*s[3]) + s[2]*(s[1]*s[3]-s[2]*s[2])
	a = (t[0]*(s[2]*s[4]-s[3]*s[3]) - s[1]*(t[1]*s[4]-s[3]*t[2]) + s[2]*(t[1]*s[3]-s[2]*t[2])) / det
	b = (s[0]*(t[1]*s[4]-s[3]*t[2]) - t[0]*(s[1]*s[4]-s[2]*s[3]) + s[2]*(s[1]*t[2]-t[1]*s[2])) / det
	c = (s[0]*(s[2]*t[2]-t[1]*s[3]) - s[1]*(s[1]*t[2]-t[1]*s[2]) + t[0]*(s[1]*s[3]-s[2]*s[2])) / det
	return a, b, c
}

// EndPoint is where a curve is steepest.
type EndPoint struct {
	Volume float64 `json:"volume"` // mL
	PH     float64 `json:"pH"`
	Slope  float64 `json:"slope"` // pH/mL
	// Number is which equivalence it is, from 1; 0 while that is open.
	Number int `json:"number"`
	// Within is half the distance of the readings around it, in mL: between them nobody has looked.
	Within float64 `json:"within"`
}

// leastPeak is how much steeper than the median slope a curve must be at an end point.
const leastPeak = 2.5

// valley is how deep the slope falls between two end points, beside the lower one of them: what
// stands closer is one peak, split by scatter.
const valley = 0.5

// EndPoints are the places where the slope is largest, by their volume: where the second
// derivative goes through zero between its two points.
func EndPoints(points []Point) []EndPoint {
	points = merged(points)
	slopes := Slopes(points)
	if len(slopes) == 0 {
		return nil
	}
	sizes := make([]float64, len(slopes))
	for i, s := range slopes {
		sizes[i] = math.Abs(s.First)
	}
	sorted := slices.Clone(sizes)
	slices.Sort(sorted)
	median := sorted[len(sorted)/2]
	var peaks []int // by their steepness, each with a valley to all that are steeper
	for i := 1; i+1 < len(slopes); i++ {
		if sizes[i] >= sizes[i-1] && sizes[i] > sizes[i+1] && sizes[i] >= leastPeak*median {
			peaks = append(peaks, i)
		}
	}
	slices.SortStableFunc(peaks, func(a, b int) int { return cmp.Compare(sizes[b], sizes[a]) })
	var list []EndPoint
	var kept []int
	for _, i := range peaks {
		if slices.ContainsFunc(kept, func(k int) bool { return slices.Min(sizes[min(i, k):max(i, k)+1]) > valley*sizes[i] }) {
			continue
		}
		kept = append(kept, i)
		// The zero of the second derivative: in the gap before or after the steepest point.
		v := slopes[i].Volume
		for _, k := range []int{i - 1, i} {
			if a, b := slopes[k].Second, slopes[k+1].Second; a*b < 0 {
				zero := slopes[k].Volume + (slopes[k+1].Volume-slopes[k].Volume)*a/(a-b)
				if math.Abs(zero-slopes[i].Volume) <= (slopes[i+1].Volume-slopes[i-1].Volume)/2 {
					v = zero
				}
			}
		}
		list = append(list, EndPoint{Volume: v, PH: between(points, v), Slope: sizes[i], Within: (slopes[i+1].Volume - slopes[i-1].Volume) / 4})
	}
	slices.SortFunc(list, func(a, b EndPoint) int { return cmp.Compare(a.Volume, b.Volume) })
	return list
}

// between is the pH at a volume, by a straight line between the readings around it.
func between(points []Point, v float64) float64 {
	for i := 1; i < len(points); i++ {
		if a, b := points[i-1], points[i]; v <= b.Volume {
			return a.PH + (b.PH-a.PH)*(v-a.Volume)/(b.Volume-a.Volume)
		}
	}
	return points[len(points)-1].PH
}

// Gran is a line of Gran.
type Gran struct {
	// Volume of the equivalence that it points to, in mL, with its standard error.
	Volume float64 `json:"volume"`
	SE     float64 `json:"se"`
	// From and To are the additions whose readings it goes through.
	From float64 `json:"from"`
	To   float64 `json:"to"`
	N    int     `json:"n"`
	// Points are those that it goes through, Slope its rise for each mL: both as a part of the largest
	// of them, so that the lines before and after can be drawn together.
	Points []GranPoint `json:"points"`
	Slope  float64     `json:"slope"`
}

// GranPoint is a reading as Gran plots it.
type GranPoint struct {
	Volume float64 `json:"volume"` // mL
	Value  float64 `json:"value"`
}

// GranLines are the lines before and after an equivalence that lies near a volume, of a curve that
// began with so many mL and whose last equivalence before it lies at another; base reports whether base
// was added. A line takes at least three readings.
//
//	before: (V − V1)·10^∓pH ∝ Ve − V of a weak one, (V0 + V)·10^∓pH ∝ Ve − V of a strong one
//	after:  (V0 + V)·10^±pH ∝ V − Ve
func GranLines(points []Point, volume, near, last float64, base, strong bool) (before, after *Gran) {
	sign := 1.0
	if !base {
		sign = -1
	}
	const inner, outer = 0.5, 0.95 // of the way from the equivalence before
	var x1, y1, x2, y2 []float64
	for _, p := range points {
		part := (p.Volume - last) / (near - last)
		switch {
		case part >= inner && part <= outer:
			times := p.Volume - last
			if strong {
				times = volume + p.Volume
			}
			x1, y1 = append(x1, p.Volume), append(y1, times*math.Pow(10, -sign*p.PH))
		case part >= 1.05 && part <= 1.6:
			x2, y2 = append(x2, p.Volume), append(y2, (volume+p.Volume)*math.Pow(10, sign*p.PH-14))
		}
	}
	return granLine(x1, y1), granLine(x2, y2)
}

func granLine(x, y []float64) *Gran {
	if len(x) < 3 {
		return nil
	}
	l, err := line.Fit(x, y)
	if err != nil || l.Slope == 0 {
		return nil
	}
	v, slope := -l.Intercept/l.Slope, l.Slope
	// Of x where a + b·x = 0, to first order: s/b·√(1/n + (x − x̄)²/Sxx).
	mean := 0.0
	for _, q := range x {
		mean += q / float64(len(x))
	}
	se := math.Abs(l.SD/slope) * math.Sqrt(1/float64(len(x))+(v-mean)*(v-mean)/l.Sxx)
	most := slices.MaxFunc(y, func(a, b float64) int { return cmp.Compare(math.Abs(a), math.Abs(b)) })
	g := &Gran{Volume: v, SE: se, From: x[0], To: x[len(x)-1], N: len(x), Slope: slope / math.Abs(most)}
	for i := range x {
		g.Points = append(g.Points, GranPoint{x[i], y[i] / math.Abs(most)})
	}
	return g
}
