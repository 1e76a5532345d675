package curve

import (
	"math"

	"vialbench/core/equilibrium"
	"vialbench/core/leastsquares"
	"vialbench/core/uncertain"
)

// usualScatter is that of a settled meter and of a burette that is read to a hundredth (common
// practice). A fit begins with it, and finds its own from the residuals.
var usualScatter = Scatter{PH: 0.01, Volume: 0.01}

// usualCounts is how many readings the usual scatter counts as, beside those that were taken.
const usualCounts = 2

// A broad scatter is what a fit begins with while it is far off: no single reading of the jump
// leads it astray.
var broadScatter = Scatter{PH: 0.1, Volume: 0.1}

// fitting is a fit on its way. What is compared is the volume that was read and the one at which
// the curve reaches the pH that was read:
//
//	r = V − V(pH; p),   σ² = σ(V)² + (σ(pH)·dV/dpH)²
//
// (effective variance: J. Orear, Am. J. Phys. 50 (1982) 912). A jump is steep in pH, and all but
// bends in V: so no reading there leads the fit astray, and V follows without a search.
type fitting struct {
	Curve
	list     []parameter
	points   []Point
	p        []float64 // what the parameters are now
	scatter  Scatter
	activity []equilibrium.Activities // at each reading
	slope    []float64                // dV/dpH there, mL
	weight   []float64                // 1/σ of each reading in the last step
	result   leastsquares.Result
	kept     []string // parameters that the readings do not determine
}

// with is the curve with other parameters.
func (f *fitting) with(p []float64) Curve {
	c := f.own()
	for i, x := range p {
		f.list[i].set(&c, x)
	}
	return c
}

// volume is where a titration reaches a pH, in mL; bounded where it never does.
func (f *fitting) volume(t *equilibrium.Titration, i int, pH float64) float64 {
	v := t.VolumeAt(pH, &f.activity[i])
	if far := farAway * (f.Volume + f.points[i].Volume); !(math.Abs(v) < far) {
		return far
	}
	return v
}

// farAway is beyond any addition, in volumes of what is in the beaker.
const farAway = 10

// look finds the activity coefficients and the slope at each reading.
func (f *fitting) look() {
	const step = 0.005 // pH
	c := f.with(f.p)
	t := c.titration()
	for i, p := range f.points {
		f.activity[i] = t.Activities(t.At(p.Volume).Strength)
		f.slope[i] = (f.volume(t, i, p.PH-c.offset+step) - f.volume(t, i, p.PH-c.offset-step)) / (2 * step)
	}
}

// variance of a reading, in mL².
func (f *fitting) variance(i int) float64 {
	return f.scatter.Volume*f.scatter.Volume + f.scatter.PH*f.scatter.PH*f.slope[i]*f.slope[i]
}

// step fits the parameters with the weights as they are. What is known beforehand counts as one
// reading more for each parameter that has a prior.
func (f *fitting) step(priors bool) error {
	n, m := len(f.points), len(f.list)
	y, start, scale := make([]float64, n, n+m), make([]float64, m), make([]float64, m)
	for i, p := range f.points {
		f.weight[i] = 1 / math.Sqrt(f.variance(i))
		y[i] = p.Volume * f.weight[i]
	}
	for i, p := range f.list {
		start[i], scale[i] = f.p[i], p.scale
		if priors && p.prior > 0 {
			y = append(y, p.start/p.prior)
		}
	}
	r, err := leastsquares.Fit(func(x, out []float64) {
		c := f.with(x)
		t := c.titration()
		for i, p := range f.points {
			out[i] = f.volume(t, i, p.PH-c.offset) * f.weight[i]
		}
		k := n
		for i, p := range f.list {
			if priors && p.prior > 0 {
				out[k] = x[i] / p.prior
				k++
			}
		}
	}, y, start, scale)
	if err != nil {
		return err
	}
	f.p, f.result = r.P, r
	return nil
}

// learn finds how far pH and volume scatter from the residuals, by the method of expectation and
// maximisation (Dempster, Laird, Rubin, J. R. Stat. Soc. B 39 (1977) 1). A residual is divided by
// √(1 − h) of its leverage h, since a fit comes nearer to its readings than the truth does.
func (f *fitting) learn() {
	n := len(f.points)
	for range learning {
		ofPH, ofVolume := usualCounts*usualScatter.PH*usualScatter.PH, usualCounts*usualScatter.Volume*usualScatter.Volume
		vp, vv := f.scatter.PH*f.scatter.PH, f.scatter.Volume*f.scatter.Volume
		for i, slope := range f.slope {
			e := f.result.Residuals[i] / f.weight[i]
			fromPH := vp * slope * slope
			v := vv + fromPH
			square := e * e / (v * math.Max(leastFree, 1-f.result.Leverage[i])) // 1 on average
			ofPH += vp / v * (fromPH*square + vv)
			ofVolume += vv / v * (vv*square + fromPH)
		}
		f.scatter = Scatter{math.Sqrt(ofPH / float64(n+usualCounts)), math.Sqrt(ofVolume / float64(n+usualCounts))}
	}
}

// learning is how often the scatter is found again from the same residuals, rounds how often
// weights and parameters are; leastFree is what is left of a reading that a fit all but runs through.
const learning, rounds, leastFree = 30, 4, 0.05

// misfit is −2·ln of the likelihood, up to a constant: what fits from several starts are compared by.
func (f *fitting) misfit() (sum float64) {
	for i, weight := range f.weight {
		e := f.result.Residuals[i]
		sum += e*e - 2*math.Log(weight)
	}
	return sum
}

// from begins a fit: with broad weights, which lead it near.
func (c Curve) from(points []Point, list []parameter) (*fitting, error) {
	n := len(points)
	if n <= len(list) {
		return nil, leastsquares.ErrFew
	}
	f := &fitting{
		Curve: c, list: list, points: points, scatter: broadScatter,
		activity: make([]equilibrium.Activities, n), slope: make([]float64, n), weight: make([]float64, n),
	}
	for _, p := range list {
		f.p = append(f.p, p.start)
	}
	f.look()
	err := f.step(true)
	f.scatter = usualScatter
	return f, err
}

// settle goes on with weights that follow from the readings.
func (f *fitting) settle(priors bool) error {
	for range rounds {
		before, p := f.scatter, f.p
		f.learn()
		f.look()
		if err := f.step(priors); err != nil {
			return err
		}
		if f.stands(before, p) {
			break
		}
	}
	return nil
}

// stands reports whether the last round changed neither the scatter nor a parameter by more than a hundredth, of itself
// and of its uncertainty.
func (f *fitting) stands(before Scatter, p []float64) bool {
	const hundredth = 0.01
	stands := math.Abs(f.scatter.PH-before.PH) <= hundredth*before.PH && math.Abs(f.scatter.Volume-before.Volume) <= hundredth*before.Volume
	for i, x := range f.p {
		stands = stands && math.Abs(x-p[i]) <= hundredth*math.Sqrt(f.covariance(i, i))
	}
	return stands
}

// covariance of the parameters: (JᵀWJ)⁻¹, with the weights as they were found.
func (f *fitting) covariance(i, k int) float64 { return f.result.Inverse.At(i, k) }

// freedom are the degrees of freedom of a parameter's uncertainty. The scatter of volumes shows in
// the few readings of the jumps alone, that of the pH in the others: each has degrees of freedom
// of its own, put together by how much it adds (Welch and Satterthwaite, GUM G.4.1).
func (f *fitting) freedom(parameter int) float64 {
	var ofPH, ofVolume, freePH, freeVolume float64
	for i, h := range f.result.Leverage[:len(f.points)] {
		share := f.scatter.Volume * f.scatter.Volume / f.variance(i) // of its variance
		effect := f.result.Influence.At(parameter, i)
		ofVolume, ofPH = ofVolume+share*effect*effect, ofPH+(1-share)*effect*effect
		freeVolume, freePH = freeVolume+share*(share-h), freePH+(1-share)*(1-share-h)
	}
	part := func(variance, free float64) float64 { return variance * variance / math.Max(1, free+usualCounts) }
	whole := ofVolume + ofPH
	return whole * whole / (part(ofVolume, freeVolume) + part(ofPH, freePH))
}

// isNear reports whether two fits are on their way to the same.
func (f *fitting) isNear(other *fitting) bool {
	for i, p := range f.list {
		if math.Abs(f.p[i]-other.p[i]) > nearly*p.scale {
			return false
		}
	}
	return true
}

// finish leaves out what the readings do not determine, and fits the rest without what was known
// beforehand.
func (f *fitting) finish() error {
	var list []parameter
	var p []float64
	f.Curve = f.own()
	for i, x := range f.list {
		if x.most > 0 && math.Sqrt(f.covariance(i, i)) > x.most {
			f.kept = append(f.kept, x.name)
			x.set(&f.Curve, x.start)
			continue
		}
		list, p = append(list, x), append(p, f.p[i])
	}
	f.list, f.p = list, p
	f.look()
	if err := f.step(false); err != nil {
		return err
	}
	return f.settle(false)
}

// told is a fit as it is told of.
func (f *fitting) told() Fitted {
	t := Fitted{Kept: append([]string{}, f.kept...), SD: f.scatter.PH, VolumeSD: f.scatter.Volume, is: f.with(f.p)}
	volumes := make([]float64, len(f.points))
	for i, p := range f.points {
		volumes[i] = p.Volume
	}
	for i, pH := range t.is.At(volumes) {
		t.Curve = append(t.Curve, Point{volumes[i], pH})
		t.Residuals = append(t.Residuals, Point{volumes[i], f.points[i].PH - pH})
	}
	for i := range f.list {
		row := make([]float64, len(f.list))
		for k := range row {
			row[k] = f.covariance(i, k)
		}
		t.Covariance = append(t.Covariance, row)
	}
	for i, p := range f.list {
		source := t.source("fit " + p.name)
		source.DoF = f.freedom(i)
		n := uncertain.New(f.p[i], math.Sqrt(t.Covariance[i][i]), source)
		found := Parameter{Name: p.name, Unit: p.unit, Value: n, Listed: p.listed}
		found.write()
		t.Parameters = append(t.Parameters, found)
	}
	return t
}
