package curve

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"vialbench/core/equilibrium"
	"vialbench/core/leastsquares"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
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

// Fitted is the full balance fitted to a curve.
type Fitted struct {
	Parameters []Parameter `json:"parameters"`
	// Covariance of the parameters, in their order.
	Covariance [][]float64 `json:"covariance"`
	SD         float64     `json:"sd"` // of the residuals, pH
	Residuals  []Point     `json:"residuals"`
	Curve      []Point     `json:"curve"`
}

// Fit finds parameters of a curve from its readings. The uncertainty of each is that of the fit;
// that of the volumes and of the titrant comes besides.
func (c Curve) Fit(points []Point, find []string) (Fitted, error) {
	type parameter struct {
		name, unit   string
		start, scale float64
		set          func(*Curve, float64)
		listed       float64
	}
	var list []parameter
	wants := func(what string) bool { return slices.Contains(find, what) }
	if wants(FitC) {
		list = append(list, parameter{"c", "mol/L", c.C, c.C, func(c *Curve, x float64) { c.C = math.Abs(x) }, 0})
	}
	if wants(FitPKa) && len(c.Analyte.Units) > 0 {
		for k, constant := range c.Analyte.Units[0].System.Constants {
			list = append(
				list,
				parameter{
					pKaName(k),
					"",
					constant.PKa,
					1,
					func(c *Curve, x float64) { c.Analyte.Units[0].System.Constants[k].PKa = x },
					constant.PKa,
				},
			)
		}
	}
	if wants(FitAcid) && c.Acid > 0 {
		list = append(list, parameter{"acid", "mol/L", c.Acid, c.Acid, func(c *Curve, x float64) { c.Acid = math.Abs(x) }, 0})
	}
	if wants(FitCarbonate) {
		list = append(list, parameter{"carbonate", "", 0.01, 0.01, func(c *Curve, x float64) { c.Carbonate = math.Max(0, x) }, 0})
	}
	offset := -1
	if wants(FitOffset) {
		offset = len(list)
		list = append(list, parameter{"offset", "pH", 0, 0.1, func(*Curve, float64) {}, 0})
	}
	volumes, y := make([]float64, len(points)), make([]float64, len(points))
	for i, p := range points {
		volumes[i], y[i] = p.Volume, p.PH
	}
	start, scale := make([]float64, len(list)), make([]float64, len(list))
	for i, p := range list {
		start[i], scale[i] = p.start, p.scale
	}
	with := func(x []float64) Curve {
		is := c
		is.Analyte.Units = slices.Clone(c.Analyte.Units)
		if len(is.Analyte.Units) > 0 {
			is.Analyte.Units[0].System.Constants = slices.Clone(c.Analyte.Units[0].System.Constants)
		}
		for i, p := range list {
			p.set(&is, x[i])
		}
		return is
	}
	r, err := leastsquares.Fit(func(x, out []float64) {
		copy(out, with(x).At(volumes))
		if offset >= 0 {
			for i := range out {
				out[i] += x[offset]
			}
		}
	}, y, start, scale)
	if err != nil {
		return Fitted{}, err
	}
	f := Fitted{SD: r.SD}
	for i, e := range r.Residuals {
		f.Residuals = append(f.Residuals, Point{volumes[i], e})
		f.Curve = append(f.Curve, Point{volumes[i], y[i] - e})
	}
	for i := range list {
		var row []float64
		for k := range list {
			row = append(row, r.Covariance.At(i, k))
		}
		f.Covariance = append(f.Covariance, row)
	}
	for i, p := range list {
		n := uncertain.New(r.P[i], r.SE(i), f.source("fit "+p.name))
		text, u := quantity.Round(n.Value, n.Expanded())
		f.Parameters = append(f.Parameters, Parameter{p.name, p.unit, n, text + " ± " + u, p.listed})
	}
	return f, nil
}

// ReadQuestion asks what a measured curve tells.
type ReadQuestion struct {
	Question
	// Readings in the order of the additions.
	Readings []Point `json:"readings"`
	// Find are the parameters of the fit; none leaves it.
	Find []string `json:"find"`
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

// The rules of curves.
var (
	RuleStart = verdict.Rule{ID: "T-15", Title: "The pH before anything is added",
		Why: "Without it the curve has no beginning, and the first constant nothing to stand on.", Source: "common practice"}
	RuleTwice = verdict.Rule{ID: "T-16", Title: "Two readings at one volume", Threshold: 0.05, Unit: "pH", Min: 0.01, Max: 1,
		Why: "Both stay. When they differ the first was taken before it had settled, or a drop fell in between.", Source: "common practice"}
	RuleTells = verdict.Rule{
		ID:        "T-17",
		Title:     "What a fit can tell",
		Threshold: 0.98,
		Unit:      "correlation",
		Min:       0.5,
		Max:       0.9999,
		Why:       "Two parameters that move together cannot be told apart by these readings: fix one of them, or go on beyond the end point.",
		Source:    "JCGM 100 (GUM)",
	}
	RuleFits = verdict.Rule{
		ID:        "T-18",
		Title:     "How well a fit follows",
		Threshold: 0.05,
		Unit:      "pH",
		Min:       0.01,
		Max:       0.5,
		Why:       "A settled meter scatters by one or two hundredths. More is in the model: another acid, carbonate, a wrong volume.",
		Source:    "common practice",
	}
)

// Rules lists the rules of the package.
func Rules() []verdict.Rule {
	return []verdict.Rule{RuleShows, RuleProtonated, RuleStart, RuleTwice, RuleTells, RuleFits, RuleStep, RuleMost, RuleBeyond, RuleRuns}
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
	expected := c.Equivalences()
	a := c.tell(q.Readings, expected, nil)
	if len(q.Find) > 0 {
		if err := a.fit(c, q.Readings, q.Find, expected, nil); err != nil {
			return a, err
		}
	}
	if pI, _, ok := c.isoelectric(a.Fit); ok {
		a.PI = &pI.Value
	}
	return a, nil
}

// tell reads a curve by its slope, the points half way, and the lines of Gran.
func (c Curve) tell(readings []Point, expected []float64, t verdict.Thresholds) ReadAnswer {
	a := ReadAnswer{
		Slopes:    Slopes(readings),
		EndPoints: EndPoints(readings, max(1, len(expected))),
		Halves:    []Half{},
		Verdicts:  judgeReadings(readings, t),
	}
	if a.EndPoints == nil {
		a.EndPoints = []EndPoint{}
	}
	points := merged(readings)
	last := 0.0
	for _, e := range a.EndPoints {
		v := (last + e.Volume) / 2
		a.Halves = append(a.Halves, Half{v, between(points, v)})
		last = e.Volume
	}
	if n := len(a.EndPoints); n > 0 {
		before := 0.0
		if n > 1 {
			before = a.EndPoints[n-2].Volume
		}
		a.Before, a.After = GranLines(points, c.Volume, a.EndPoints[n-1].Volume, before, c.base(), len(c.Analyte.Units) == 0)
	}
	return a
}

// fit fits what is asked for, beginning near what the slope says.
func (a *ReadAnswer) fit(c Curve, readings []Point, find []string, expected []float64, t verdict.Thresholds) error {
	if n := len(a.EndPoints); n > 0 && slices.Contains(find, FitC) {
		if k := min(n, len(expected)) - 1; k >= 0 && expected[k] > 0 {
			c.C *= a.EndPoints[k].Volume / expected[k]
		}
	}
	f, err := c.Fit(readings, find)
	switch {
	case errors.Is(err, leastsquares.ErrFew):
		return verdict.Problems{{Field: "/find", Reason: "there are no more readings than parameters: take more, or find fewer"}}
	case err != nil:
		a.Verdicts = append(
			a.Verdicts,
			RuleTells.Finds(verdict.Look, nil, "These readings do not tell all of these parameters: find fewer, or go on beyond the end point."),
		)
	default:
		a.Fit = &f
		a.Verdicts = append(a.Verdicts, f.judge(t)...)
	}
	return nil
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

// judge says what a fit can tell, and how well it follows.
func (f Fitted) judge(t verdict.Thresholds) (list []verdict.Verdict) {
	level := verdict.Fine
	if f.SD > t.Of(RuleFits) {
		level = verdict.Look
	}
	list = append(list, RuleFits.Says(level, nil, "The balance follows the readings within %s pH.", quantity.Digits(f.SD, 3)))
	for i := range f.Parameters {
		for k := range i {
			if r := f.Covariance[i][k] / math.Sqrt(f.Covariance[i][i]*f.Covariance[k][k]); math.Abs(r) > t.Of(RuleTells) {
				list = append(
					list,
					RuleTells.Says(verdict.Look, nil, "%s and %s move together (correlation %s): these readings do not tell them apart.",
						f.Parameters[k].Name, f.Parameters[i].Name, quantity.Digits(r, 3)),
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
	return uncertain.Source{ID: id, Label: "scatter of the readings", Basis: fmt.Sprintf("%d readings, residual s %.3f pH", n, f.SD),
		DoF: float64(n - len(f.Covariance))}
}
