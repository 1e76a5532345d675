package curve

import (
	"math"
	"slices"

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
