package electrode

import (
	"math"

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
	return []quantity.Dimension{m.shows(), quantity.Temperature, quantity.Time}
}

// shows is the dimension of what the meter shows.
func (m Meter) shows() quantity.Dimension {
	if m.ShowsPH {
		return quantity.Acidity
	}
	return quantity.Potential
}

// Asks completes a step that takes a reading; celsius is the temperature to be proposed,
// mV about what will be read, NaN when nobody can tell.
func (m Meter) Asks(s run.Step, celsius, mV float64) run.Step {
	s.Input, s.Dimensions, s.Instrument = run.InputQuantity, []quantity.Dimension{m.shows()}, m.Name
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
	if f.Spread != nil && (f.Spread.Unit.Dimension != m.shows() || !(f.Spread.Value >= 0) || m.mV(*f.Spread) > maxMV) {
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
	case q == nil || q.Unit.Dimension != m.shows():
		if m.ShowsPH {
			p.Add(field, "%s shows pH: write what it shows, like 6.92", m.Name)
		} else {
			p.Add(field, "%s shows a potential: write it in mV, like 177.3", m.Name)
		}
	case m.ShowsPH && !(q.Value >= leastShown && q.Value <= mostShown):
		p.Add(field, "%s: a meter shows pH −2 to 16", q)
	case !m.ShowsPH && !(math.Abs(q.In("mV")) <= maxMV):
		p.Add(field, "%s: a probe gives −1000 to 1000 mV", q)
	}
}

// mV is how much a difference of what the meter shows is in mV, at 25 °C of a pH.
func (m Meter) mV(q quantity.Quantity) float64 {
	if m.ShowsPH {
		return q.Value * Nernst(25)
	}
	return q.In("mV")
}

// Read is the reading of a fact; celsius holds where the fact does not say. Of a display
// that was adjusted, what it showed afterwards counts.
func (m Meter) Read(f fact.Fact, celsius float64) Read {
	r := Read{ID: f.ID, Celsius: celsius}
	for _, q := range f.Beside {
		if q.Unit.Dimension == quantity.Temperature {
			r.Celsius = q.Base()
		}
	}
	if m.ShowsPH {
		shown := f.Quantity
		if f.After != nil {
			shown = f.After
		}
		r.MV = FromShown(shown.Value, r.Celsius)
	} else {
		r.MV = f.Quantity.In("mV")
	}
	if f.Spread != nil {
		r.Spread = m.mV(*f.Spread)
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
