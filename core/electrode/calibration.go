package electrode

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"

	"vialbench/core/line"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Point is one buffer as the meter read it.
type Point struct {
	// ID tells points apart; an empty one is given a number.
	ID     string `json:"id,omitempty"`
	Buffer Buffer `json:"buffer"`
	// MV is the potential in mV. Of a meter that shows pH only it is what [FromShown] makes of that.
	MV      float64 `json:"mV"`
	Celsius float64 `json:"celsius"`
	// Spread is how far the reading still moved when it was taken, in mV; 0 when it had settled.
	Spread float64 `json:"spread,omitempty"`
}

// FromShown is the potential that a meter of ideal slope and no offset would show as a pH.
// Calibrated with such potentials, a meter that shows pH alone is corrected by a line; the
// slope is then that of its display, which is 100 % when it was adjusted well.
func FromShown(pH, celsius float64) float64 { return -Nernst(celsius) * (pH - 7) }

// Meter is what is known of the readings of a meter.
type Meter struct {
	Name string `json:"name"`
	// Probe that hangs on it.
	Probe string `json:"probe"`
	// Resolution is its last digit, in mV, or in pH when it shows no mV.
	Resolution float64 `json:"resolution"`
	// ShowsPH reports whether it shows pH only.
	ShowsPH bool `json:"showsPH,omitempty"`
	// Repeatability is the standard deviation of readings taken again after a rinse, in mV.
	Repeatability float64 `json:"repeatability"`
	// Thermometer ± limits of its temperature (rectangular), °C.
	Thermometer float64 `json:"thermometer"`
}

// UsualMeter is one of a teaching laboratory (common practice).
func UsualMeter() Meter {
	return Meter{Name: "a usual meter", Resolution: 0.1, Repeatability: 0.3, Thermometer: 0.5}
}

// Check reports whether a meter can be used. An error is a verdict.Problems.
func (m Meter) Check() error {
	var p verdict.Problems
	if m.Name == "" || len([]rune(m.Name)) > 40 {
		p.Add("/name", "a meter has a name of at most 40 letters")
	}
	if len([]rune(m.Probe)) > 40 {
		p.Add("/probe", "the name of a probe has at most 40 letters")
	}
	unit, least, most := "mV", 0.01, 5.0
	if m.ShowsPH {
		unit, least, most = "pH", 0.001, 0.5
	}
	if !(m.Resolution >= least && m.Resolution <= most) {
		p.Add("/resolution", "the last digit of the meter is from %g to %g %s", least, most, unit)
	}
	if !(m.Repeatability >= 0 && m.Repeatability <= 10) {
		p.Add("/repeatability", "the repeatability is from 0 to 10 mV")
	}
	if !(m.Thermometer >= 0 && m.Thermometer <= 5) {
		p.Add("/thermometer", "the limits of the thermometer are from 0 to 5 °C")
	}
	return p.OrNil()
}

// step is its last digit in mV.
func (m Meter) step(celsius float64) float64 {
	if m.ShowsPH {
		return m.Resolution * Nernst(celsius)
	}
	return m.Resolution
}

// reading is what is uncertain in one potential: the last digit, the repeatability, and
// how far it still moved.
func (m Meter) reading(celsius, spread float64) float64 {
	digit := uncertain.Rectangular(m.step(celsius) / 2)
	return math.Sqrt(digit*digit + m.Repeatability*m.Repeatability + spread*spread/12)
}

// MaxPoints is the most points of a calibration.
const MaxPoints = 5

// Least and most that a probe can give.
const (
	maxMV       = 1000.0
	assumedGood = 0.05 // limits ± of the slope of a probe of which one point is known
)

// Fitted is a point and how it lies.
type Fitted struct {
	Point
	// PH of the buffer at its temperature.
	PH float64 `json:"pH"`
	// Residual is how far it lies off the line: mV, and as a pH.
	Residual   float64 `json:"residual"`
	ResidualPH float64 `json:"residualPH"`
}

// Piece is the line that holds between two pH values.
type Piece struct {
	Low  float64 `json:"low"`
	High float64 `json:"high"`
	// Offset in mV at pH 7, Slope as a part of the theoretical one. They share sources.
	Offset uncertain.Number `json:"offset"`
	Slope  uncertain.Number `json:"slope"`
}

// Calibration is what a probe was found to be.
type Calibration struct {
	Meter  Meter    `json:"meter"`
	Points []Fitted `json:"points"` // by rising pH
	// Offset and Slope of the line through all points.
	Offset uncertain.Number `json:"offset"`
	Slope  uncertain.Number `json:"slope"`
	// Covariance of the two, mV.
	Covariance float64 `json:"covariance"`
	// SD of the residuals in mV, with n − 2 degrees of freedom; 0 of two points.
	SD float64 `json:"sd"`
	// Celsius is the mean temperature of the points.
	Celsius float64 `json:"celsius"`
	// Assumed reports whether the slope is the theoretical one, without a second buffer.
	Assumed bool `json:"assumed,omitempty"`
	// Pieces lead from buffer to buffer, where that school is followed.
	Pieces []Piece `json:"pieces,omitempty"`
}

// Low and High are the span of the buffers.
func (c Calibration) Low() float64 { return c.Points[0].PH }

// High is its upper end.
func (c Calibration) High() float64 { return c.Points[len(c.Points)-1].PH }

// SlopeMV is the slope in mV per pH at the temperature of the calibration.
func (c Calibration) SlopeMV() uncertain.Number { return c.Slope.Scale(Nernst(c.Celsius)) }

// Calibrate finds offset and slope from 1 to 5 points, in any order; of one point the
// slope is assumed theoretical. bySegments leads from buffer to buffer instead of one
// line. An error is a verdict.Problems that points to /points.
func Calibrate(m Meter, points []Point, bySegments bool) (Calibration, error) {
	c := Calibration{Meter: m, Points: make([]Fitted, len(points))}
	if err := checkPoints(points); err != nil {
		return c, err
	}
	for i, p := range points {
		if p.ID == "" {
			p.ID = strconv.Itoa(i + 1)
		}
		pH, err := p.Buffer.At(p.Celsius)
		if err != nil {
			return c, verdict.Problems{{Field: fmt.Sprintf("/points/%d/celsius", i), Reason: err.Error()}}
		}
		c.Points[i] = Fitted{Point: p, PH: pH}
		c.Celsius += p.Celsius / float64(len(points))
	}
	slices.SortStableFunc(c.Points, func(a, b Fitted) int { return cmp.Compare(a.PH, b.PH) })
	if len(points) == 1 {
		c.Assumed = true
		c.Slope = uncertain.WithLimits(1, assumedGood, uncertain.RectangularShape,
			uncertain.Source{ID: "slope assumed", Label: "slope, assumed theoretical", Basis: "a probe in use: 95 to 105 %"})
		only := c.Points[0]
		terms := m.terms(only, 1, 0, 0)
		c.Offset = uncertain.Gather(only.MV, terms[:]).Plus(c.Slope.Scale(Nernst(only.Celsius) * (only.PH - 7)))
		c.Covariance = uncertain.Correlation(c.Offset, c.Slope) * c.Offset.U() * c.Slope.U()
		return c, nil
	}
	piece, sd, err := fit(m, c.Points)
	if err != nil {
		return c, verdict.Problems{{Field: "/points", Reason: "all points are of one pH: a slope takes two buffers that differ"}}
	}
	c.Offset, c.Slope, c.SD = piece.Offset, piece.Slope, sd
	c.Covariance = uncertain.Correlation(c.Offset, c.Slope) * c.Offset.U() * c.Slope.U()
	for i := range c.Points {
		p := &c.Points[i]
		k := Nernst(p.Celsius)
		p.Residual = p.MV - c.Offset.Value + c.Slope.Value*k*(p.PH-7)
		p.ResidualPH = -p.Residual / (c.Slope.Value * k)
	}
	for i := 0; bySegments && len(points) > 2 && i+1 < len(c.Points); i++ {
		piece, _, err := fit(m, c.Points[i:i+2])
		if err != nil {
			return c, verdict.Problems{{Field: "/points", Reason: "two points are of one pH: from buffer to buffer takes a different one each time"}}
		}
		c.Pieces = append(c.Pieces, piece)
	}
	return c, nil
}

func checkPoints(points []Point) error {
	var p verdict.Problems
	if len(points) == 0 || len(points) > MaxPoints {
		p.Add("/points", "a calibration has 1 to %d points", MaxPoints)
	}
	for i, at := range points {
		field := fmt.Sprintf("/points/%d", i)
		for _, wrong := range asProblems(at.Buffer.Check()) {
			p.Add(field+"/buffer"+wrong.Field, "%s", wrong.Reason)
		}
		if !(math.Abs(at.MV) <= maxMV) {
			p.Add(field+"/mV", "%s mV: a probe gives −1000 to 1000 mV", quantity.Digits(at.MV, -1))
		}
		if !(at.Celsius >= minTemperature && at.Celsius <= maxTemperature) {
			p.Add(field+"/celsius", "%s °C: probes are calibrated between 0 and 60 °C here", quantity.Digits(at.Celsius, -1))
		}
		if !(at.Spread >= 0 && at.Spread <= maxMV) {
			p.Add(field+"/spread", "how far it still moved is zero or more, in mV")
		}
	}
	return p.OrNil()
}

func asProblems(err error) verdict.Problems {
	p, _ := err.(verdict.Problems) //nolint:errorlint // made here, never wrapped
	return p
}

// terms are what is uncertain in the potential of a point as it goes into the line: the
// reading (at least sd, the scatter of so many points about their line), the buffer's own value, and the thermometer, which all points
// share. What is wrong with the pH of a buffer moves the line as much as an error of η·k
// times that in the potential.
func (m Meter) terms(p Fitted, slope, sd float64, points int) [3]uncertain.Contribution {
	k := Nernst(p.Celsius)
	reading := uncertain.Source{ID: "reading " + p.ID, Label: "readings in the buffers", Basis: "last digit and repeatability"}
	u := m.reading(p.Celsius, p.Spread)
	if sd > u {
		u, reading.Basis, reading.DoF = sd, "scatter about the line", float64(points-2)
	}
	perDegree := slope * (k/(p.Celsius+zeroCelsius)*(p.PH-7) + k*p.Buffer.perDegree(p.Celsius))
	return [3]uncertain.Contribution{
		{Source: reading, U: u},
		{Source: uncertain.Source{
			ID: "buffer " + p.Buffer.Key + " " + p.Buffer.Name, Label: "values of the buffers",
			Basis: "what the bottle says", Shape: uncertain.RectangularShape,
		}, U: uncertain.Rectangular(slope * k * p.Buffer.Limits)},
		{Source: m.thermometer(), U: uncertain.Rectangular(perDegree * m.Thermometer)},
	}
}

func (m Meter) thermometer() uncertain.Source {
	return uncertain.Source{
		ID:    "thermometer " + m.Name,
		Label: "thermometer of the meter",
		Basis: "its limits",
		Shape: uncertain.RectangularShape,
	}
}

// fit lays a line through points, with what each adds to offset and slope.
func fit(m Meter, points []Fitted) (Piece, float64, error) {
	var room [2 * MaxPoints]float64
	x, y := room[:0:MaxPoints], room[MaxPoints:MaxPoints]
	for _, p := range points {
		x, y = append(x, Nernst(p.Celsius)*(p.PH-7)), append(y, p.MV)
	}
	l, err := line.Fit(x, y)
	if err != nil {
		return Piece{}, 0, err
	}
	toSlope, toOffset := make([]uncertain.Contribution, 0, 3*len(points)), make([]uncertain.Contribution, 0, 3*len(points))
	for i, p := range points {
		slope := -(x[i] - l.MeanX) / l.Sxx
		for _, t := range m.terms(p, -l.Slope, l.SD, len(points)) {
			toSlope = append(toSlope, uncertain.Contribution{Source: t.Source, U: slope * t.U})
			toOffset = append(toOffset, uncertain.Contribution{Source: t.Source, U: (1/float64(len(points)) + slope*l.MeanX) * t.U})
		}
	}
	return Piece{
		Low:    points[0].PH,
		High:   points[len(points)-1].PH,
		Offset: uncertain.Gather(l.Intercept, toOffset),
		Slope:  uncertain.Gather(-l.Slope, toSlope),
	}, l.SD, nil
}
