package curve

import (
	"cmp"
	"math"
	"slices"

	"vialbench/core/equilibrium"
	"vialbench/core/leastsquares"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
)

// What a fit may find.
const (
	FitC         = "c"         // concentration of the analyte, mol/L
	FitPKa       = "pKa"       // all its constants
	FitCarbonate = "carbonate" // part of the base that has become carbonate
	FitOffset    = "offset"    // what the meter reads too high, pH
	FitAcid      = "acid"      // strong acid beside the analyte, mol/L
)

// Parameter is one that a fit found.
type Parameter struct {
	Name  string           `json:"name"` // c, pKa 1, carbonate, offset
	Unit  string           `json:"unit"`
	Value uncertain.Number `json:"value"`
	Text  string           `json:"text"`
	// Listed is the constant of the library, of a pKa; 0 of all else.
	Listed float64 `json:"listed"`
}

// write sets the text.
func (p *Parameter) write() {
	text, u := quantity.Round(p.Value.Value, p.Value.Expanded())
	p.Text = text + " ± " + u
}

// Fitted is the full balance fitted to a curve.
type Fitted struct {
	Parameters []Parameter `json:"parameters"`
	// Kept are the parameters that the readings do not determine: they stay as they were.
	Kept []string `json:"kept"`
	// Covariance of the parameters, in their order.
	Covariance [][]float64 `json:"covariance"`
	// SD is how far a pH scatters, VolumeSD how far a volume in mL: together they explain the
	// residuals.
	SD        float64 `json:"sd"`
	VolumeSD  float64 `json:"volumeSD"`
	Residuals []Point `json:"residuals"`
	Curve     []Point `json:"curve"`
	is        Curve
}

// Scatter is how far readings scatter, as standard deviations: of a pH, and of a volume in mL.
type Scatter struct {
	PH     float64 `json:"pH"`
	Volume float64 `json:"volume"`
}

// usualScatter is that of a settled meter and of a burette that is read to a hundredth (common
// practice). A fit begins with it, and finds its own from the residuals.
var usualScatter = Scatter{PH: 0.01, Volume: 0.01}

// usualCounts is how many readings the usual scatter counts as, beside those that were taken.
const usualCounts = 2

// A broad scatter is what a fit begins with while it is far off: no single reading of the jump
// leads it astray.
var broadScatter = Scatter{PH: 0.1, Volume: 0.1}

// parameter is one that a fit looks for.
type parameter struct {
	name, unit string
	start      float64
	scale      float64 // of its steps
	set        func(*Curve, float64)
	listed     float64
	// prior is the standard deviation of what is known beforehand, zero of what is not; above most
	// the readings say nothing of it.
	prior, most float64
}

// The limits of what is known before a fit, and of what a fit still determines (common practice).
const (
	priorPKa, mostPKa             = 1.0, 0.3
	priorOffset, mostOffset       = 0.2, 0.1 // pH
	priorCarbonate, mostCarbonate = 0.1, 0.05
	priorAcid, mostAcid           = 0.2, 0.1 // of itself
)

// parameters lists what is looked for, in the order in which it is told.
func (c Curve) parameters(find []string) (list []parameter) {
	wants := func(what string) bool { return slices.Contains(find, what) }
	if wants(FitC) {
		list = append(list, parameter{name: FitC, unit: "mol/L", start: c.C, scale: c.C, set: func(c *Curve, x float64) { c.C = math.Abs(x) }})
	}
	if wants(FitPKa) && len(c.Analyte.Units) > 0 {
		for k, constant := range c.Analyte.Units[0].System.Constants {
			list = append(list, parameter{
				name: pKaName(k), start: constant.PKa, scale: 1, listed: constant.PKa, prior: priorPKa, most: mostPKa,
				set: func(c *Curve, x float64) { c.Analyte.Units[0].System.Constants[k].PKa = x },
			})
		}
	}
	if wants(FitAcid) && c.Acid > 0 {
		list = append(list, parameter{
			name: FitAcid, unit: "mol/L", start: c.Acid, scale: c.Acid, prior: priorAcid * c.Acid, most: mostAcid * c.Acid,
			set: func(c *Curve, x float64) { c.Acid = math.Abs(x) },
		})
	}
	if wants(FitCarbonate) {
		list = append(list, parameter{
			name: FitCarbonate, start: 0.01, scale: 0.01, prior: priorCarbonate, most: mostCarbonate,
			// A little less than none is let in: what scatters about none does so on both sides.
			set: func(c *Curve, x float64) { c.Carbonate = math.Max(-mostCarbonate, x) },
		})
	}
	if wants(FitOffset) {
		list = append(list, parameter{
			name: FitOffset, unit: "pH", scale: 0.1, prior: priorOffset, most: mostOffset,
			set: func(c *Curve, x float64) { c.offset = x },
		})
	}
	return list
}

// own is a curve that shares no constants with this one, so that they may be set.
func (c Curve) own() Curve {
	c.Analyte.Units = slices.Clone(c.Analyte.Units)
	if len(c.Analyte.Units) > 0 {
		c.Analyte.Units[0].System.Constants = slices.Clone(c.Analyte.Units[0].System.Constants)
	}
	return c
}

// fitting is a fit on its way. What is compared is the volume that was read and the one at which
// the curve comes to the pH that was read:
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
	strength []float64 // ionic strength at each reading, mol/L
	slope    []float64 // dV/dpH there, mL
	weight   []float64 // 1/σ of each reading in the last step
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

// volume is where a titration comes to a pH, in mL; bounded where it never does.
func (f *fitting) volume(t *equilibrium.Titration, i int, pH float64) float64 {
	v := t.VolumeAt(pH, f.strength[i])
	if far := farAway * (f.Volume + f.points[i].Volume); !(math.Abs(v) < far) {
		return far
	}
	return v
}

// farAway is beyond any addition, in volumes of what is in the beaker.
const farAway = 10

// look finds the ionic strength and the slope at each reading.
func (f *fitting) look() {
	const step = 0.005 // pH
	c := f.with(f.p)
	t := c.titration()
	for i, p := range f.points {
		f.strength[i] = t.At(p.Volume).Strength
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
	f := &fitting{Curve: c, list: list, points: points, scatter: broadScatter,
		strength: make([]float64, n), slope: make([]float64, n), weight: make([]float64, n)}
	for _, p := range list {
		f.p = append(f.p, p.start)
	}
	f.look()
	return f, f.step(true)
}

// settle goes on with weights that follow from the readings.
func (f *fitting) settle(priors bool) error {
	f.scatter = usualScatter
	for range rounds {
		f.learn()
		f.look()
		if err := f.step(priors); err != nil {
			return err
		}
	}
	return nil
}

// covariance of the parameters: (JᵀWJ)⁻¹, with the weights as they were found.
func (f *fitting) covariance(i, k int) float64 { return f.result.Inverse.At(i, k) }

// Fit finds parameters of a curve from its readings, beginning at several concentrations. Each
// reading counts by what its pH and its volume scatter, as the residuals show. What the readings
// do not determine keeps its value, and is told. The uncertainty of each parameter is that of the
// scatter; what all volumes share, and the titrant, come on top.
func (c Curve) Fit(points []Point, find []string) (Fitted, error) {
	starts := []float64{c.C}
	if slices.Contains(find, FitC) {
		starts = c.starts(points)
	}
	var list []*fitting
	err := leastsquares.ErrNotFound
	for _, start := range starts {
		from := c
		from.C = start
		f, failed := from.from(points, from.parameters(find))
		switch {
		case failed != nil:
			err = failed
		case !slices.ContainsFunc(list, f.isNear): // or it came to the same again
			list = append(list, f)
		}
	}
	var best *fitting
	for _, f := range list {
		if failed := f.settle(true); failed != nil {
			err = failed
		} else if best == nil || f.misfit() < best.misfit() {
			best = f
		}
	}
	if best == nil {
		return Fitted{}, err
	}
	if err := best.finish(); err != nil {
		return Fitted{}, err
	}
	return best.told(), nil
}

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

// starts are the concentrations that a fit begins with: those at which some end point of the
// readings is some equivalence of the analyte, and a row around the guess; of all these the ones
// that look most like the readings with the constants of the library, the best first.
func (c Curve) starts(points []Point) []float64 {
	tries := []float64{c.C}
	for k := range guesses {
		tries = append(tries, c.C*math.Pow(10, 3*float64(k)/(guesses-1)-2))
	}
	none := c
	none.Acid = 0 // it moves the end points as well, and a fit finds that
	for _, v := range none.Equivalences() {
		for _, e := range EndPoints(points) {
			tries = append(tries, c.C*e.Volume/v)
		}
	}
	every := len(points)/lookedAt + 1
	misfit := make(map[float64]float64, len(tries))
	for _, x := range tries {
		with := c
		with.C = x
		look := fitting{Curve: with, points: points, strength: make([]float64, len(points))}
		t := with.titration()
		for i := 0; i < len(points); i += every {
			p := points[i]
			look.strength[i] = usualStrength
			const step = 0.05 // pH
			v := look.volume(t, i, p.PH)
			slope := (look.volume(t, i, p.PH+step) - v) / step
			// As of a distribution with wide tails (Cauchy's): a reading that is far off counts
			// little more than one that is off.
			off := p.Volume - v
			misfit[x] += math.Log1p(off * off / (broadScatter.Volume*broadScatter.Volume + broadScatter.PH*broadScatter.PH*slope*slope))
		}
	}
	slices.SortStableFunc(tries, func(a, b float64) int { return cmp.Compare(misfit[a], misfit[b]) })
	var best []float64
	for _, x := range tries {
		if len(best) < mostStarts && !slices.ContainsFunc(best, func(y float64) bool { return math.Abs(math.Log(x/y)) < nearly }) {
			best = append(best, x)
		}
	}
	return best
}

// guesses is how many concentrations are tried, from a hundredth of the guess to ten times as
// much; mostStarts how many of them a fit begins with; two as close as nearly (of the logarithm)
// count as one; lookedAt is how many readings are compared, at about the usual ionic strength in mol/L.
const guesses, mostStarts, nearly, lookedAt, usualStrength = 31, 3, 0.1, 30, 0.05
