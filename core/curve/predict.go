package curve

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/equilibrium"
	"vialbench/core/indicator"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Curve is a titration of one acid or base.
type Curve struct {
	// Volume in the flask at the start, in mL, of Analyte at C mol/L.
	Volume  float64
	Analyte equilibrium.Compound
	C       float64
	// Acid is what a strong acid brings beside it, mol/L of protons.
	Acid float64
	// Titrant at Strength mol/L; Carbonate is the part of a base that has become carbonate.
	Titrant   equilibrium.Compound
	Strength  float64
	Carbonate float64
	Celsius   float64
	Model     equilibrium.Model
	// Indicator names what shows the end point, in words; empty where that is still open.
	Indicator string
	// offset is what the meter reads too high, pH.
	offset float64
}

// flask and burette are what is in them.
func (c Curve) flask() equilibrium.Mixture {
	m := equilibrium.Mixture{Celsius: uncertain.Exact(c.Celsius), Model: c.Model}
	m.Add(c.Analyte, uncertain.Exact(c.C))
	if c.Acid > 0 {
		m.AddIon("Cl-", -1, uncertain.Exact(c.Acid))
	}
	return m
}

func (c Curve) burette() equilibrium.Mixture {
	m := equilibrium.Mixture{Celsius: uncertain.Exact(c.Celsius), Model: c.Model}
	m.Add(c.Titrant, uncertain.Exact(c.Strength))
	if c.Carbonate != 0 {
		// Two hydroxides have become one carbonate; the cations stay.
		carbonic, _ := equilibrium.Find("carbonic")
		m.AddSystem(carbonic, uncertain.Exact(c.Carbonate*c.Strength/2))
	}
	return m
}

// titration follows the curve by the full balance.
func (c Curve) titration() *equilibrium.Titration { return c.flask().Titration(c.Volume, c.burette()) }

// At is the pH after so much was added, in mL.
func (c Curve) At(volumes []float64) []float64 {
	list := make([]float64, len(volumes))
	t := c.titration()
	for i, v := range volumes {
		list[i] = t.At(v).PH + c.offset
	}
	return list
}

// Form is one form of the analyte along a curve.
type Form struct {
	Formula string `json:"formula"`
	// Shares are its parts of the analyte, 0…1, at the volumes of the curve.
	Shares []float64 `json:"shares"`
}

// Forms are those of the analyte after so much was added, in mL, the most protonated first; none of a strong
// acid or base.
func (c Curve) Forms(volumes []float64) []Form {
	if len(c.Analyte.Units) == 0 {
		return nil
	}
	t, system := c.titration(), c.Analyte.Units[0].System
	list := make([]Form, system.Protons()+1)
	for lost := range list {
		list[lost].Formula = system.Form(lost)
	}
	for _, v := range volumes {
		t.At(v)
		for lost, share := range t.Forms(0) {
			list[lost].Shares = append(list[lost].Shares, share)
		}
	}
	return list
}

// base reports whether the titrant is a base.
func (c Curve) base() bool { return c.Titrant.StrongCharge() > 0 }

// Equivalences are the volumes in mL at which the titrant makes up for one proton after the
// other of the analyte.
func (c Curve) Equivalences() []float64 {
	each := math.Abs(c.Titrant.StrongCharge())
	if each == 0 {
		return nil
	}
	var list []float64
	acid := c.Acid // for the base to make up for first, or for an acid to have a start of
	if !c.base() {
		acid = -acid
	}
	add := func(protons float64) {
		if v := (protons*c.C + acid) * c.Volume / (each * c.Strength); v > 0 {
			list = append(list, v)
		}
	}
	if len(c.Analyte.Units) == 0 { // a strong acid or base
		if n := c.Analyte.StrongCharge(); n != 0 && (n < 0) == c.base() {
			add(math.Abs(n))
		}
		return list
	}
	u := c.Analyte.Units[0]
	given := c.Analyte.Lost() / u.Count // by each unit of the system; half a proton of borax
	if !c.base() {
		for form := math.Ceil(given-1e-9) - 1; form >= 0; form-- { // each form with one proton more
			add((given - form) * u.Count)
		}
		return list
	}
	first := math.Floor(given+1e-9) + 1
	if c.Acid > 0 { // from the fully protonated form on
		first = 1
	}
	for form := first; form <= float64(u.System.Protons()); form++ {
		add((form - given) * u.Count)
	}
	return list
}

// Serves is an indicator at an equivalence.
type Serves struct {
	indicator.Indicator
	// Error is how far its end point lies from the equivalence, as a part of the titre.
	Error float64 `json:"error"`
}

// Equivalence is one of a curve.
type Equivalence struct {
	Volume float64 `json:"volume"` // mL
	PH     float64 `json:"pH"`
	// Jump is how far the pH moves from 0.5 % before to 0.5 % after it.
	Jump float64 `json:"jump"`
	// Indicators whose error stays below the limit: that which is to be taken first, then the smallest
	// error.
	Indicators []Serves `json:"indicators"`
}

// errorLimit is how large the systematic error of an indicator may be, as a part of the titre.
const errorLimit = 0.005

// leastJump is how far the pH must move from 0.5 % before to 0.5 % after an equivalence for it to
// show (common practice).
const leastJump = 0.3

// Points finds the equivalences with their indicators.
func (c Curve) Points() []Equivalence {
	var list []Equivalence
	for _, v := range c.Equivalences() {
		at := c.At([]float64{v * (1 - errorLimit), v, v * (1 + errorLimit)})
		e := Equivalence{Volume: v, PH: at[1], Jump: math.Abs(at[2] - at[0]), Indicators: []Serves{}}
		low, high := min(at[0], at[2]), max(at[0], at[2])
		if e.Jump >= leastJump {
			for _, i := range indicator.Library() {
				if i.PKa > low && i.PKa < high {
					e.Indicators = append(e.Indicators, Serves{i, c.reaches(i.PKa, v*(1-errorLimit), v*(1+errorLimit))/v - 1})
				}
			}
		}
		slices.SortStableFunc(e.Indicators, func(a, b Serves) int {
			if x, y := c.takes(a.Indicator), c.takes(b.Indicator); x != y {
				return map[bool]int{true: -1, false: 1}[x]
			}
			return cmp.Compare(math.Abs(a.Error), math.Abs(b.Error))
		})
		list = append(list, e)
	}
	return list
}

// takes reports whether an indicator is among those that are to be taken.
func (c Curve) takes(i indicator.Indicator) bool {
	name, _, _ := strings.Cut(i.Name, ",") // “thymol blue, in base”
	return strings.Contains(c.Indicator, name)
}

// reaches is the volume between two at which the curve reaches a pH.
func (c Curve) reaches(pH, low, high float64) float64 {
	for range 50 {
		middle := (low + high) / 2
		if (c.At([]float64{middle})[0] < pH) == c.base() {
			low = middle
		} else {
			high = middle
		}
	}
	return (low + high) / 2
}

// Solution is what is in the flask or in the burette, by its formula.
type Solution struct {
	Formula string  `json:"formula"`
	C       float64 `json:"c"` // mol/L
}

// Question asks for a curve.
type Question struct {
	Analyte Solution `json:"analyte"`
	Titrant Solution `json:"titrant"`
	Volume  float64  `json:"volume"` // mL in the flask
	// Acid is what a strong acid brings beside the analyte, mol/L of protons.
	Acid float64 `json:"acid"`
	// Systems are some of one's own.
	Systems []equilibrium.System `json:"systems"`
	Celsius float64              `json:"celsius"`
	Model   equilibrium.Model    `json:"model"`
	// Volumes in mL after which the pH is asked for; none takes Points even steps to a quarter
	// past the last equivalence.
	Volumes []float64 `json:"volumes"`
	Points  int       `json:"points"`
	// Indicator names what is to show the end point, in words; it comes first where it serves.
	Indicator string `json:"indicator,omitempty"`
}

// Point is one of a curve.
type Point struct {
	Volume float64 `json:"volume"`
	PH     float64 `json:"pH"`
}

// Answer is a curve.
type Answer struct {
	Points       []Point           `json:"points"`
	Equivalences []Equivalence     `json:"equivalences"`
	Verdicts     []verdict.Verdict `json:"verdicts"`
}

const usualPoints, mostPoints = 100, 2000

// RuleShows is about end points that show.
var RuleShows = verdict.Rule{
	ID: "T-14", Title: "An end point that shows",
	Why:    "An indicator turns over about two units of pH. Where the curve is not steep enough it turns slowly, at no certain moment.",
	Source: "common practice",
}

// Curve reads the question. An error is a verdict.Problems.
func (q Question) curve() (Curve, verdict.Problems) {
	p := equilibrium.CheckSystems(q.Systems)
	c := Curve{
		Volume: q.Volume, C: q.Analyte.C, Acid: q.Acid, Strength: q.Titrant.C, Celsius: q.Celsius, Model: q.Model,
		Indicator: q.Indicator,
	}
	var ok bool
	if c.Analyte, ok = equilibrium.CompoundOf(q.Analyte.Formula, q.Systems...); !ok || len(c.Analyte.Units) > 1 {
		p.Add("/analyte/formula", "“%s” is not known as one acid or base here", q.Analyte.Formula)
	}
	if c.Titrant, ok = equilibrium.CompoundOf(q.Titrant.Formula, q.Systems...); !ok || c.Titrant.Strong() == 0 {
		p.Add("/titrant/formula", "“%s” is no strong acid or base: those are what curves are taken with", q.Titrant.Formula)
	}
	if !(q.Acid >= 0 && q.Acid <= 20) {
		p.Add("/acid", "the acid beside it is zero or more, in mol/L")
	}
	for field, x := range map[string]float64{"/analyte/c": c.C, "/titrant/c": c.Strength} {
		if !(x > 0 && x <= 20) {
			p.Add(field, "a concentration is above zero, and at most 20 mol/L")
		}
	}
	if !(q.Volume > 0 && q.Volume <= 1e5) {
		p.Add("/volume", "the volume in the flask is above zero, in mL")
	}
	if !(q.Celsius >= equilibrium.MinTemperature && q.Celsius <= equilibrium.MaxTemperature) {
		p.Add("/celsius", "equilibria are calculated from 0 to 60 °C")
	}
	return c, p
}

// Solve answers it. An error is a verdict.Problems.
func Solve(q Question) (Answer, error) {
	c, p := q.curve()
	if n := q.Points; n < 0 || n > mostPoints || len(q.Volumes) > mostPoints {
		p.Add("/points", "at most %d points", mostPoints)
	}
	for i, v := range q.Volumes {
		if !(v >= 0 && v <= 1e6) || i > 0 && v < q.Volumes[i-1] {
			p.Add(fmt.Sprintf("/volumes/%d", i), "additions are counted from the start, and go up")
		}
	}
	if len(p) > 0 {
		return Answer{}, p
	}
	a := Answer{Equivalences: c.Points(), Verdicts: []verdict.Verdict{}}
	if len(a.Equivalences) == 0 {
		return Answer{}, verdict.Problems{q.doesNothing()}
	}
	volumes := q.Volumes
	if len(volumes) == 0 {
		n := q.Points
		if n < 2 {
			n = usualPoints
		}
		end := 1.25 * a.Equivalences[len(a.Equivalences)-1].Volume
		for i := range n {
			volumes = append(volumes, end*float64(i)/float64(n-1))
		}
	}
	for i, pH := range c.At(volumes) {
		a.Points = append(a.Points, Point{volumes[i], pH})
	}
	a.Verdicts = c.judge(a.Equivalences)
	return a, nil
}

// doesNothing is what is said of two acids, or two bases.
func (q Question) doesNothing() verdict.Problem {
	return verdict.Problem{
		Field:  "/titrant/formula",
		Reason: fmt.Sprintf("%s does nothing to %s: an acid takes a base, and a base an acid", q.Titrant.Formula, q.Analyte.Formula),
	}
}

// judge says which end points show, and by which indicator.
func (c Curve) judge(list []Equivalence) []verdict.Verdict {
	verdicts := []verdict.Verdict{}
	from, to := 0, indicator.Shades-1 // colours as they change
	if !c.base() {
		from, to = to, from
	}
	for k, e := range list {
		which := "The end point"
		if len(list) > 1 {
			which = fmt.Sprintf("End point %d", k+1)
		}
		switch {
		case e.Jump < leastJump:
			verdicts = append(
				verdicts,
				RuleShows.Says(
					verdict.Look,
					nil,
					"%s, at %s mL and pH %s, does not show: the pH moves by %s only from half a per cent before to half a per cent after it.",
					which,
					quantity.Digits(e.Volume, 2),
					quantity.Digits(e.PH, 1),
					quantity.Digits(e.Jump, 1),
				),
			)
		case len(e.Indicators) == 0:
			verdicts = append(
				verdicts,
				RuleShows.Says(
					verdict.Look,
					nil,
					"%s, at pH %s: no indicator of the library turns there. Take the meter.",
					which,
					quantity.Digits(e.PH, 1),
				),
			)
		default:
			best := e.Indicators[0]
			level := verdict.Fine
			if slices.ContainsFunc(indicator.Library(), c.takes) && !c.takes(best.Indicator) {
				level, which = verdict.Look, run.UpperFirst(c.Indicator)+" does not show it well. "+which
			}
			verdicts = append(
				verdicts,
				RuleShows.Says(
					level,
					nil,
					"%s, at %s mL and pH %s: %s, %s to %s, meets it within %s %%.",
					which,
					quantity.Digits(e.Volume, 2),
					quantity.Digits(e.PH, 1),
					best.Name,
					best.Words[from],
					best.Words[to],
					quantity.Digits(math.Max(0.01, math.Abs(100*best.Error)), 2),
				),
			)
		}
	}
	return verdicts
}
