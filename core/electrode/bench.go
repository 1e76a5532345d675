package electrode

import (
	"math"
	"slices"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// A reading at the bench is a fact: the potential (or the pH, of a meter that shows no
// potential) as its Quantity, what was read beside it, the temperature and, of a connected
// meter, the time constant with which the probe came to rest, and as its Spread how far
// it still moved.

// Takes lists the dimensions of such a fact.
func (m Meter) Takes() []quantity.Dimension {
	return append(m.shows(), quantity.Temperature, quantity.Time)
}

// shows lists the dimensions of what the meter shows: a meter that shows a potential can be
// switched to pH.
func (m Meter) shows() []quantity.Dimension {
	if m.ShowsPH {
		return []quantity.Dimension{quantity.Acidity}
	}
	return []quantity.Dimension{quantity.Potential, quantity.Acidity}
}

// Unit is that of what it shows.
func (m Meter) Unit() string {
	if m.ShowsPH {
		return "pH"
	}
	return "mV"
}

// Asks completes a step that takes a reading; celsius is the temperature to be proposed,
// mV about what will be read, NaN when nobody can tell.
func (m Meter) Asks(s run.Step, celsius, mV float64) run.Step {
	s.Input, s.Dimensions, s.Instrument = run.InputQuantity, m.shows(), m.Name
	s.Label, s.Unit = "Potential shown", "mV"
	expected := quantity.Quantity{Value: mV, Unit: quantity.Of(0, "mV").Unit, Decimals: 0}
	if m.ShowsPH {
		s.Label, s.Unit = "pH shown", "pH"
		expected = quantity.Quantity{Value: 7 - mV/Nernst(celsius), Unit: quantity.Of(0, "pH").Unit, Decimals: 2}
	}
	if !math.IsNaN(mV) {
		s.Expects = expected.String()
	}
	s.Beside = &run.Field{
		Label:      "Temperature",
		Unit:       "°C",
		Default:    quantity.Digits(celsius, 1),
		Dimensions: []quantity.Dimension{quantity.Temperature},
	}
	return s
}

// What a typed reading can be.
const (
	leastShown, mostShown = -2.0, 16.0 // pH
	longestSettling       = 3600.0     // s
)

// CheckReading checks a reading of the meter.
func (m Meter) CheckReading(f fact.Fact, p *verdict.Problems) {
	m.checkShown("/quantity", f.Quantity, p)
	if f.After != nil {
		m.checkShown("/after", f.After, p)
	}
	if f.Spread != nil && (!slices.Contains(m.shows(), f.Spread.Unit.Dimension) || !(f.Spread.Value >= 0) || inMV(*f.Spread, 25) > maxMV) {
		p.Add("/spread", "how far it still moved is zero or more, in what the meter shows")
	}
	for i, q := range f.Beside {
		switch q.Unit.Dimension {
		case quantity.Temperature:
			if !(q.Base() >= minTemperature && q.Base() <= maxTemperature) {
				p.Add(besideField(i), "%s: probes are read between 0 and 60 °C here", q)
			}
		case quantity.Time:
			if !(q.Base() >= 0 && q.Base() <= longestSettling) {
				p.Add(besideField(i), "%s: a time constant is from 0 to 3600 s", q)
			}
		default:
			p.Add(besideField(i), "beside the reading stands its temperature, like 21.5 °C")
		}
	}
}

func besideField(i int) string { return "/beside/" + string(rune('0'+i)) }

func (m Meter) checkShown(field string, q *quantity.Quantity, p *verdict.Problems) {
	switch {
	case q == nil || !slices.Contains(m.shows(), q.Unit.Dimension):
		if m.ShowsPH {
			p.Add(field, "%s shows pH: write what it shows, like 6.92", m.Name)
		} else {
			p.Add(field, "%s shows a potential or a pH: write what it shows, like 177.3 mV or 6.92 pH", m.Name)
		}
	case q.Unit.Dimension == quantity.Acidity && !(q.Value >= leastShown && q.Value <= mostShown):
		p.Add(field, "%s: a meter shows pH −2 to 16", q)
	case q.Unit.Dimension == quantity.Potential && !(math.Abs(q.In("mV")) <= maxMV):
		p.Add(field, "%s: a probe gives −1000 to 1000 mV", q)
	}
}

// inMV is how much a difference of what a meter shows is in mV.
func inMV(q quantity.Quantity, celsius float64) float64 {
	if q.Unit.Dimension == quantity.Acidity {
		return q.Value * Nernst(celsius)
	}
	return q.In("mV")
}

// Read is the reading of a fact; celsius holds where the fact does not say. Of a display
// that was adjusted, what it showed afterwards counts. A pH is the potential by [FromShown].
func (m Meter) Read(f fact.Fact, celsius float64) Read {
	r := Read{ID: f.ID, Celsius: celsius}
	for _, q := range f.Beside {
		if q.Unit.Dimension == quantity.Temperature {
			r.Celsius = q.Base()
		}
	}
	shown := f.Quantity
	if f.After != nil {
		shown = f.After
	}
	if shown.Unit.Dimension == quantity.Acidity {
		r.MV = FromShown(shown.Value, r.Celsius)
		if !m.ShowsPH {
			r.PH, r.Digit = &shown.Value, LastDigit(*shown)
		}
	} else {
		r.MV = shown.In("mV")
	}
	if f.Spread != nil {
		r.Spread = inMV(*f.Spread, 25)
	}
	return r
}

// LastDigit is that of a quantity as it was written, in its unit.
func LastDigit(q quantity.Quantity) float64 { return math.Pow10(-q.Decimals) }

// Read is the reading of a fact under a calibration. A pH that a meter of potentials shows is
// treated as adjusted to the same buffers: it stands for the potential that the calibration gives
// at that pH.
func (c Calibration) Read(f fact.Fact, celsius float64) Read {
	r := c.Meter.Read(f, celsius)
	if r.PH != nil {
		offset, slope := c.Offset, c.Slope
		for _, piece := range c.Pieces {
			if offset, slope = piece.Offset, piece.Slope; *r.PH <= piece.High {
				break
			}
		}
		r.MV = offset.Value + slope.Value*FromShown(*r.PH, r.Celsius)
	}
	return r
}

// Settling is the time constant that a fact carries, in s; 0 without one.
func Settling(f fact.Fact) float64 {
	for _, q := range f.Beside {
		if q.Unit.Dimension == quantity.Time {
			return q.Base()
		}
	}
	return 0
}

// ShownBy writes what a meter showed in a reading, and what it was adjusted to.
func ShownBy(f fact.Fact) string {
	if f.After == nil {
		return Shown(*f.Quantity)
	}
	return Shown(*f.Quantity) + ", adjusted to " + quantity.Digits(f.After.Value, f.After.Decimals)
}

// Shown writes what a meter showed: 177.3 mV, or pH 6.92.
func Shown(q quantity.Quantity) string {
	if q.Unit.Dimension == quantity.Acidity {
		return "pH " + quantity.Digits(q.Value, q.Decimals)
	}
	return q.String()
}
