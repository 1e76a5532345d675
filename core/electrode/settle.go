package electrode

import (
	"math"
	"slices"

	"vialbench/core/leastsquares"
	"vialbench/core/line"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Sample is one reading of a stream.
type Sample struct {
	Seconds float64 `json:"seconds"`
	MV      float64 `json:"mV"`
}

// SettleWindow is how far back one looks to tell whether a reading stands, in seconds.
const SettleWindow = 10.0

// Standing is how a stream stands now.
type Standing struct {
	// Settled reports whether it may be taken.
	Settled bool `json:"settled"`
	// Watched is how much of the window was seen, s.
	Watched float64 `json:"watched"`
	// Change is by how much it moved in the window along its trend, Scatter the standard
	// deviation about that; both in mV, neither negative.
	Change  float64 `json:"change"`
	Scatter float64 `json:"scatter"`
}

// Settled judges the newest samples, which come in order of time, by the change and the
// scatter of the last [SettleWindow] seconds.
func Settled(samples []Sample, celsius float64, t verdict.Thresholds) Standing {
	var s Standing
	if len(samples) < 3 {
		return s
	}
	now := samples[len(samples)-1].Seconds
	from, _ := slices.BinarySearchFunc(samples, now-SettleWindow-1e-9, func(x Sample, at float64) int {
		if x.Seconds < at {
			return -1
		}
		return 1
	})
	last := samples[from:]
	x, y := make([]float64, len(last)), make([]float64, len(last))
	for i, v := range last {
		x[i], y[i] = v.Seconds-now, v.MV
	}
	l, err := line.Fit(x, y)
	if err != nil {
		return s
	}
	s.Watched = now - last[0].Seconds
	s.Change, s.Scatter = math.Abs(l.Slope)*SettleWindow, l.SD
	k := Nernst(celsius)
	s.Settled = s.Watched > 0.9*SettleWindow && s.Change <= t.Of(RuleSettled)*k && s.Scatter <= t.Of(RuleScatter)*k
	return s
}

// Prediction is where a stream is going.
type Prediction struct {
	// MV is the end value, U its expanded uncertainty (k = 2), mV.
	MV float64 `json:"mV"`
	U  float64 `json:"u"`
	// TimeConstant of the (slower) exponential, s: a probe that ages gets slower.
	TimeConstant float64 `json:"timeConstant"`
	// Wait is how long it still takes to settle, s.
	Wait float64 `json:"wait"`
	// Two reports whether it took two exponentials.
	Two bool `json:"two,omitempty"`
}

// What is fitted: at most so many samples, and time constants from the shortest to the
// longest, s.
const (
	mostFitted  = 60
	leastFitted = 12
	shortest    = 0.4
	longest     = 120.0
	believed    = 10.0 // F of the second exponential beside what is left without it: one in thousands by chance
)

// Predict fits
//
//	E(t) = E∞ + A·exp(−t/τ)    or    E∞ + A·exp(−t/τ) + B·exp(−t/τ₂)
//
// to the samples since the probe was dipped, by least squares: the exponents by search,
// the rest by linear algebra (G. H. Golub, V. Pereyra, variable projection, 1973). The
// second exponential is taken when what it explains is no chance (an F of ten). The uncertainty is that of E∞ from the
// linearised fit, all parameters together: true of a creep once it was watched for two of its time constants, too
// small before. It is false while the samples do not tell: too few, or a response that has hardly begun to bend.
func Predict(samples []Sample, celsius float64, t verdict.Thresholds) (Prediction, bool) {
	points := thinned(samples, mostFitted)
	if len(points) < leastFitted {
		return Prediction{}, false
	}
	seen := points[len(points)-1].Seconds - points[0].Seconds
	most := math.Min(longest, 2*seen) // slower than that, it has hardly begun to bend
	one := search1(points, most)
	best, two := one, false
	if len(points) >= 2*leastFitted && one.rss/float64(len(points)-3) > 1.5*jitter(points) {
		second := search2(points, most, one.tau[0])
		if gained := (one.rss - second.rss) / 2; gained > believed*second.rss/float64(len(points)-5) {
			best, two = second, true
		}
	}
	end, u, ok := best.uncertainty(points)
	if !ok {
		return Prediction{}, false
	}
	f := Prediction{MV: end, U: 2 * u, TimeConstant: best.tau[len(best.tau)-1], Two: two}
	f.Wait = best.wait(points[len(points)-1].Seconds-points[0].Seconds, t.Of(RuleSettled)*Nernst(celsius))
	return f, true
}

// jitter is the variance of the noise, as the second differences show it: of those a smooth response has hardly
// any but at its steep beginning, which their median leaves out.
func jitter(points []Sample) float64 {
	squares := make([]float64, 0, len(points))
	for i := 1; i+1 < len(points); i++ {
		d := points[i-1].MV - 2*points[i].MV + points[i+1].MV
		squares = append(squares, d*d)
	}
	slices.Sort(squares)
	const normal = 0.4549 // the median of the squares of a normal deviate
	return squares[len(squares)/2] / 6 / normal
}

// thinned averages neighbours until there are at most so many.
func thinned(samples []Sample, most int) []Sample {
	size := (len(samples) + most - 1) / most
	if size <= 1 {
		return samples
	}
	out := make([]Sample, 0, most)
	for chunk := range slices.Chunk(samples, size) {
		var mean Sample
		for _, s := range chunk {
			mean.Seconds += s.Seconds / float64(len(chunk))
			mean.MV += s.MV / float64(len(chunk))
		}
		out = append(out, mean)
	}
	return out
}

// response is a fit of one or two exponentials; times count from the first point.
type response struct {
	tau []float64 // rising
	// amplitudes: the end value, then one for each τ, as at the first point.
	amplitudes [3]float64
	rss        float64
}

// solve finds the amplitudes for given time constants.
func solve(points []Sample, tau ...float64) response {
	n := 1 + len(tau)
	var a [3][4]float64 // normal equations, with the right side
	var f [3]float64
	f[0] = 1
	base := points[len(points)-1].MV
	for _, p := range points {
		for j, t := range tau {
			f[j+1] = math.Exp(-(p.Seconds - points[0].Seconds) / t)
		}
		for i := range n {
			for j := range n {
				a[i][j] += f[i] * f[j]
			}
			a[i][3] += f[i] * (p.MV - base)
		}
	}
	r := response{tau: tau, rss: math.Inf(1)}
	x, ok := eliminate(a, n)
	if !ok {
		return r
	}
	r.rss = 0
	for _, p := range points {
		e := p.MV - base - x[0]
		for j, t := range tau {
			e -= x[j+1] * math.Exp(-(p.Seconds-points[0].Seconds)/t)
		}
		r.rss += e * e
	}
	x[0] += base
	r.amplitudes = x
	return r
}

// eliminate solves up to three equations by Gauss's elimination with pivots.
func eliminate(a [3][4]float64, n int) (x [3]float64, ok bool) {
	for i := range n {
		pivot := i
		for r := i + 1; r < n; r++ {
			if math.Abs(a[r][i]) > math.Abs(a[pivot][i]) {
				pivot = r
			}
		}
		a[i], a[pivot] = a[pivot], a[i]
		if math.Abs(a[i][i]) < 1e-12 {
			return x, false
		}
		for r := i + 1; r < n; r++ {
			factor := a[r][i] / a[i][i]
			for c := i; c < 4; c++ {
				a[r][c] -= factor * a[i][c]
			}
		}
	}
	for i := n - 1; i >= 0; i-- {
		x[i] = a[i][3]
		for c := i + 1; c < n; c++ {
			x[i] -= a[i][c] * x[c]
		}
		x[i] /= a[i][i]
	}
	return x, true
}

// search1 finds the time constant of one exponential: a grid, then the golden section.
func search1(points []Sample, most float64) response {
	return golden(shortest, most, func(tau float64) response { return solve(points, tau) })
}

// search2 finds two: the fast one beside that of one exponential, the slow one beside the fast, and both together from
// there. In turn alone they creep towards the least sum of squares, and stop short of it.
func search2(points []Sample, most, start float64) response {
	fast := golden(shortest, start/1.5, func(tau float64) response { return solve(points, tau, start) })
	if math.IsInf(fast.rss, 1) {
		return fast
	}
	both := golden(1.5*fast.tau[0], most, func(tau float64) response { return solve(points, fast.tau[0], tau) })
	return both.together(points, most)
}

// together moves the two time constants of a response at once to where the sum of squares is least; a response that
// has no better one within bounds stays as it is.
func (r response) together(points []Sample, most float64) response {
	if len(r.tau) != 2 {
		return r
	}
	fitted := func(p, out []float64) {
		tau := [2]float64{math.Exp(p[0]), math.Exp(p[1])}
		at := solve(points, tau[:]...)
		for i, x := range points {
			out[i] = at.amplitudes[0]
			for j, t := range tau {
				out[i] += at.amplitudes[j+1] * math.Exp(-(x.Seconds-points[0].Seconds)/t)
			}
		}
	}
	y := make([]float64, len(points))
	for i, x := range points {
		y[i] = x.MV
	}
	l, err := leastsquares.Fit(fitted, y, []float64{math.Log(r.tau[0]), math.Log(r.tau[1])}, []float64{1, 1})
	if err != nil {
		return r
	}
	fast, slow := math.Exp(l.P[0]), math.Exp(l.P[1])
	if better := solve(points, fast, slow); better.rss < r.rss && fast >= shortest && 1.5*fast <= slow && slow <= most {
		return better
	}
	return r
}

// golden minimises the rss over one time constant, on a logarithmic scale.
func golden(least, most float64, try func(float64) response) response {
	best := response{rss: math.Inf(1)}
	if !(most > least) {
		return best
	}
	const grid = 16
	step := math.Log(most/least) / grid
	at := 0
	for i := 0; i <= grid; i++ {
		if r := try(least * math.Exp(float64(i)*step)); r.rss < best.rss {
			best, at = r, i
		}
	}
	low, high := float64(max(0, at-1))*step, float64(min(grid, at+1))*step
	const ratio = 0.6180339887498949
	a, b := high-ratio*(high-low), low+ratio*(high-low)
	ra, rb := try(least*math.Exp(a)), try(least*math.Exp(b))
	for range 20 {
		if ra.rss < rb.rss {
			high, b, rb = b, a, ra
			a = high - ratio*(high-low)
			ra = try(least * math.Exp(a))
		} else {
			low, a, ra = a, b, rb
			b = low + ratio*(high-low)
			rb = try(least * math.Exp(b))
		}
	}
	for _, r := range []response{ra, rb} {
		if r.rss < best.rss {
			best = r
		}
	}
	return best
}

// uncertainty is the standard uncertainty of the end value, from the curvature of the sum
// of squares in all parameters, the time constants among them.
func (r response) uncertainty(points []Sample) (end, u float64, ok bool) {
	n := 1 + 2*len(r.tau)
	if math.IsInf(r.rss, 1) || len(points) <= n {
		return 0, 0, false
	}
	var a [5][5]float64
	var f [5]float64
	f[0] = 1
	for _, p := range points {
		t := p.Seconds - points[0].Seconds
		for j, tau := range r.tau {
			e := math.Exp(-t / tau)
			f[1+2*j], f[2+2*j] = e, r.amplitudes[j+1]*e*t/tau // by A, and by ln τ
		}
		for i := range n {
			for j := range n {
				a[i][j] += f[i] * f[j]
			}
		}
	}
	first, ok := firstOfInverse(a, n)
	if !ok || !(first > 0) {
		// An amplitude of nothing says nothing of its time constant: it stands already.
		first = 1 / float64(len(points))
	}
	variance := r.rss / float64(len(points)-n)
	return r.amplitudes[0], math.Sqrt(variance * first), true
}

// firstOfInverse is the first element of the inverse of a symmetric matrix: one over what
// is left of it when all others were eliminated.
func firstOfInverse(a [5][5]float64, n int) (float64, bool) {
	for i := n - 1; i > 0; i-- {
		if !(a[i][i] > 1e-12) {
			return 0, false
		}
		for r := range i {
			factor := a[r][i] / a[i][i]
			for c := range i {
				a[r][c] -= factor * a[i][c]
			}
		}
	}
	return 1 / a[0][0], a[0][0] > 0
}

// wait is how long from now until it moves by no more than so many mV in the window that
// is looked back on.
func (r response) wait(now, mV float64) float64 {
	moves := func(t float64) float64 { // in the window that ends then
		sum := 0.0
		for j, tau := range r.tau {
			sum += r.amplitudes[j+1] * (math.Exp(-(t-SettleWindow)/tau) - math.Exp(-t/tau))
		}
		return math.Abs(sum)
	}
	low := max(now, SettleWindow) // before that nobody can say that it stands
	high := low + 20*longest
	if moves(low) <= mV {
		return low - now
	}
	for range 60 {
		if mid := (low + high) / 2; moves(mid) > mV {
			low = mid
		} else {
			high = mid
		}
	}
	return high - now
}

// Choices of a reading that is to be taken before it has settled.
const (
	ChoiceWait = "wait-settled"
	ChoiceTake = "take-moving"
)

// Moving is what is said when a reading is to be taken that has not settled.
func Moving(s Standing, celsius float64) verdict.Verdict {
	choices := []verdict.Choice{{ID: ChoiceWait, Label: "Wait until it has settled"}, {ID: ChoiceTake, Label: "Take it all the same"}}
	if s.Watched < 0.9*SettleWindow {
		return RuleSettled.Says(verdict.Look, choices, "Watched for %s s of %s: nobody can tell yet whether it stands.",
			quantity.Digits(math.Floor(s.Watched), 0), quantity.Digits(SettleWindow, 0))
	}
	k := Nernst(celsius)
	if s.Change > s.Scatter {
		return RuleSettled.Says(verdict.Look, choices, "It still moves, by %s pH in 10 s.", quantity.Digits(s.Change/k, 3))
	}
	return RuleScatter.Says(verdict.Look, choices, "It jumps, by %s pH: is the bulb covered, the cable firm?", quantity.Digits(s.Scatter/k, 3))
}
