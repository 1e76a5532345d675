package curve

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/equilibrium"
	"vialbench/core/leastsquares"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// ReadQuestion asks what a measured curve tells.
type ReadQuestion struct {
	Question
	// Readings in the order of the additions.
	Readings []Point `json:"readings"`
	// Find are the parameters of the fit; none leaves it.
	Find []string `json:"find"`
	// Shared is the relative standard uncertainty of what all volumes share: the titrant, the
	// burette's calibration, the sample. A concentration has it on top of the scatter.
	Shared float64 `json:"shared"`
}

// Half is the pH half way to an equivalence from the one before: about a pKa.
type Half struct {
	Volume float64 `json:"volume"`
	PH     float64 `json:"pH"`
}

// ReadAnswer is what a curve tells.
type ReadAnswer struct {
	Slopes    []Slope    `json:"slopes"`
	EndPoints []EndPoint `json:"endPoints"`
	Halves    []Half     `json:"halves"`
	Before    *Gran      `json:"before,omitempty"`
	After     *Gran      `json:"after,omitempty"`
	Fit       *Fitted    `json:"fit,omitempty"`
	// PI is the isoelectric point by the constants found, of an amino acid; nil of all else.
	PI       *float64          `json:"pI,omitempty"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

const leastReadings, mostReadings = 5, 400

// check checks the readings, and what the fit is to find.
func (q ReadQuestion) check(p *verdict.Problems) {
	if n := len(q.Readings); n < leastReadings || n > mostReadings {
		p.Add("/readings", "a curve is read from %d to %d readings, this has %d", leastReadings, mostReadings, n)
	}
	for i, r := range q.Readings {
		if !(r.PH >= -2 && r.PH <= 16) {
			p.Add(fmt.Sprintf("/readings/%d/pH", i), "a meter shows pH −2 to 16")
		}
		if !(r.Volume >= 0) || i > 0 && r.Volume < q.Readings[i-1].Volume {
			p.Add(fmt.Sprintf("/readings/%d/volume", i), "additions are counted from the start, and go up")
		}
	}
	if !(q.Shared >= 0 && q.Shared <= 1) {
		p.Add("/shared", "a relative standard uncertainty is from 0 to 1")
	}
	for i, what := range q.Find {
		if !slices.Contains([]string{FitC, FitPKa, FitCarbonate, FitOffset, FitAcid}, what) {
			p.Add(fmt.Sprintf("/find/%d", i), "a fit finds c, pKa, carbonate, offset or acid")
		}
	}
}

// Read answers it. An error is a verdict.Problems.
func Read(q ReadQuestion) (ReadAnswer, error) {
	c, p := q.curve()
	q.check(&p)
	if len(p) > 0 {
		return ReadAnswer{}, p
	}
	if len(c.Equivalences()) == 0 {
		return ReadAnswer{}, verdict.Problems{q.doesNothing()}
	}
	a, err := c.read(q.Readings, q.Find, nil)
	if a.Fit != nil && q.Shared > 0 {
		a.Fit.share(q.Shared)
	}
	return a, err
}

// share adds what all volumes share to the uncertainty of a concentration.
func (f *Fitted) share(u float64) {
	for i, p := range f.Parameters {
		if p.Name == FitC {
			shared := uncertain.New(1, u, uncertain.Source{ID: "shared", Label: "titrant, burette and sample", Basis: "as given"})
			f.Parameters[i].Value = p.Value.Times(shared)
			f.Parameters[i].write()
		}
	}
}

// read reads a curve: the fit first, since it says which equivalence each end point is.
func (c Curve) read(readings []Point, find []string, t verdict.Thresholds) (ReadAnswer, error) {
	a := ReadAnswer{Slopes: Slopes(readings), EndPoints: []EndPoint{}, Halves: []Half{}, Verdicts: judgeReadings(readings, t)}
	known := c
	known.C = c.starts(readings)[0]
	follows := false
	if len(find) > 0 {
		f, err := c.Fit(readings, find)
		switch {
		case errors.Is(err, leastsquares.ErrFew):
			return a, verdict.Problems{{Field: "/find", Reason: "there are no more readings than parameters: take more, or find fewer"}}
		case err != nil:
			a.Verdicts = append(
				a.Verdicts,
				RuleTells.Finds(
					verdict.Look,
					nil,
					"These readings do not determine all of these parameters: find fewer, or go on beyond the end point.",
				),
			)
		default:
			verdicts := f.judge(t)
			a.Fit, known, follows = &f, f.is, f.follows(t)
			a.Verdicts = append(a.Verdicts, verdicts...)
		}
	}
	known.mark(&a, readings, follows)
	if pI, _, ok := c.isoelectric(a.Fit); ok {
		a.PI = &pI.Value
	}
	return a, nil
}

// leastShown is how far the pH moves by the model from half a per cent before to half a per cent
// after an equivalence, where a peak of the slope is mistaken for it (common practice).
const leastShown = 0.05

// mark finds the end points, each as the equivalence that it is, the points half way, and the
// lines of Gran. What follows the readings also says at which equivalence none shows.
func (c Curve) mark(a *ReadAnswer, readings []Point, follows bool) {
	points, expected := merged(readings), c.Points()
	found := make([]*EndPoint, len(expected))
	for _, e := range EndPoints(readings) {
		k := nearest(expected, e.Volume)
		last := 0.0
		if k > 0 {
			last = expected[k-1].Volume
		}
		shows := !follows || expected[k].Jump >= leastShown && math.Abs(e.Volume-expected[k].Volume) < (expected[k].Volume-last)/4
		if shows && (found[k] == nil || e.Slope > found[k].Slope) {
			e.Number = k + 1
			found[k] = &e
		}
	}
	last, known := 0.0, 0.0 // the last end point, and the equivalence before it
	before := 0.0
	for k, e := range found {
		at := expected[k].Volume
		if e != nil {
			a.EndPoints = append(a.EndPoints, *e)
			at, last, known = e.Volume, e.Volume, before
		}
		found[k] = &EndPoint{Volume: at}
		before = at
	}
	before = 0
	for _, e := range found { // up to the last one that shows
		if e.Volume > last {
			break
		}
		half := (before + e.Volume) / 2
		a.Halves = append(a.Halves, Half{half, between(points, half)})
		before = e.Volume
	}
	if last > 0 {
		a.Before, a.After = GranLines(points, c.Volume, last, known, c.base(), len(c.Analyte.Units) == 0)
	}
}

// nearest is the equivalence next to a volume.
func nearest(list []Equivalence, volume float64) (best int) {
	for k, e := range list {
		if math.Abs(e.Volume-volume) < math.Abs(list[best].Volume-volume) {
			best = k
		}
	}
	return best
}

func judgeReadings(list []Point, t verdict.Thresholds) []verdict.Verdict {
	verdicts := []verdict.Verdict{}
	if list[0].Volume > 0 {
		verdicts = append(
			verdicts,
			RuleStart.Says(
				verdict.Look,
				nil,
				"The first reading is after %s mL: the pH before anything was added is missing.",
				quantity.Digits(list[0].Volume, 2),
			),
		)
	}
	for i := 1; i < len(list); i++ {
		if a, b := list[i-1], list[i]; a.Volume == b.Volume && math.Abs(a.PH-b.PH) > t.Of(RuleTwice) {
			verdicts = append(
				verdicts,
				RuleTwice.Says(
					verdict.Look,
					nil,
					"At %s mL there are two readings, pH %s and %s: which had settled? Both are kept, and their mean is read.",
					quantity.Digits(a.Volume, 2),
					quantity.Digits(a.PH, 2),
					quantity.Digits(b.PH, 2),
				),
			)
		}
	}
	return verdicts
}

// follows reports whether what is left of the readings can be scatter.
func (f Fitted) follows(t verdict.Thresholds) bool {
	return f.SD <= t.Of(RuleMissed) && f.VolumeSD <= t.Of(RuleMissedVolume)
}

// judge says what a fit can tell, and how well it follows.
func (f Fitted) judge(t verdict.Thresholds) (list []verdict.Verdict) {
	within := fmt.Sprintf("%s pH and %s mL", quantity.Digits(f.SD, 3), quantity.Digits(f.VolumeSD, 3))
	switch {
	case !f.follows(t):
		rule := RuleMissed
		if f.SD <= t.Of(RuleMissed) {
			rule = RuleMissedVolume
		}
		list = append(list, rule.Says(
			verdict.Stop,
			nil,
			"The calculated curve misses the readings by %s: that cannot be scatter. Do not use these figures; look for another acid, a misread volume or a wrong titrant.",
			within,
		))
	case f.SD > t.Of(RuleFits) || f.VolumeSD > t.Of(RuleFitsVolume):
		rule := RuleFits
		if f.SD <= t.Of(RuleFits) {
			rule = RuleFitsVolume
		}
		list = append(list, rule.Says(verdict.Look, nil, "The calculated curve follows the readings within %s only.", within))
	default:
		list = append(list, RuleFits.Says(verdict.Fine, nil, "The calculated curve follows the readings within %s.", within))
	}
	if len(f.Kept) > 0 {
		list = append(
			list,
			RuleTells.Says(verdict.Look, nil, "These readings do not determine %s: kept as listed.", strings.Join(f.Kept, " and ")),
		)
	}
	for i, p := range f.Parameters {
		if away := p.Value.Value - p.Listed; p.Listed != 0 && math.Abs(away) > t.Of(RuleListed) {
			list = append(list, RuleListed.Says(verdict.Look, nil, "%s comes out at %s, listed as %s: is it this acid, and this titrant?", p.Name,
				quantity.Digits(p.Value.Value, 2), quantity.Digits(p.Listed, 2)))
		}
		for k := range i {
			if r := f.Covariance[i][k] / math.Sqrt(f.Covariance[i][i]*f.Covariance[k][k]); math.Abs(r) > t.Of(RuleTells) {
				list = append(
					list,
					RuleTells.Says(verdict.Look, nil, "%s and %s move together (correlation %s): these readings do not tell them apart.",
						f.Parameters[k].Name, p.Name, quantity.Digits(r, 3)),
				)
			}
		}
	}
	return list
}

// isoelectric is the pH at which an amino acid has no charge on average, at the temperature of the
// curve: half way between the constants on both sides of its neutral form, as a fit found them or
// as the library lists them. ok is false of all else.
func (c Curve) isoelectric(f *Fitted) (pI uncertain.Number, between [2]float64, ok bool) {
	if len(c.Analyte.Units) == 0 {
		return pI, between, false
	}
	s := c.Analyte.Units[0].System
	neutral := s.Charge() // protons to give off until no charge is left
	// Of the library it says which are amino acids; of a lab's own, all that can be neutral between
	// two constants.
	if _, listed := equilibrium.Find(s.Key); listed && !s.Amino || neutral < 1 || neutral >= s.Protons() {
		return pI, between, false
	}
	constants, variance, basis := slices.Clone(s.Constants[neutral-1:neutral+1]), 0.0, uncertain.Source{}
	if f != nil {
		at := []int{f.at(pKaName(neutral - 1)), f.at(pKaName(neutral))}
		for i, row := range at {
			if row < 0 {
				continue
			}
			constants[i].PKa, basis = f.Parameters[row].Value.Value, f.source(fmt.Sprint("fit pI of ", s.Key))
			for _, column := range at {
				if column >= 0 {
					variance += f.Covariance[row][column] / 4
				}
			}
		}
	}
	between = [2]float64{constants[0].At(c.Celsius), constants[1].At(c.Celsius)}
	return uncertain.New((between[0]+between[1])/2, math.Sqrt(variance), basis), between, true
}

// pKaName names a constant, counted from 0.
func pKaName(k int) string { return fmt.Sprintf("pKa %d", k+1) }

// at is the place of a parameter; -1 when it was not fitted.
func (f Fitted) at(name string) int {
	return slices.IndexFunc(f.Parameters, func(p Parameter) bool { return p.Name == name })
}

// source is the scatter of the readings, as what a parameter is uncertain by.
func (f Fitted) source(id string) uncertain.Source {
	n := len(f.Residuals)
	return uncertain.Source{
		ID:    id,
		Label: "scatter of the readings",
		Basis: fmt.Sprintf("%d readings, s %.3f pH and %.3f mL", n, f.SD, f.VolumeSD),
		DoF:   float64(n - len(f.Covariance)),
	}
}
