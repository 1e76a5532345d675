package electrode

import (
	"fmt"
	"math"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Read is a potential as a meter showed it in a sample.
type Read struct {
	// ID tells readings apart, so that each has its own error.
	ID      string  `json:"id,omitempty"`
	MV      float64 `json:"mV"`
	Celsius float64 `json:"celsius"`
	// PH is what a meter of potentials showed when it was switched to pH, Digit the last one of it;
	// MV is then what stands for it.
	PH    *float64 `json:"pH,omitempty"`
	Digit float64  `json:"digit,omitempty"`
	// Spread is how far it still moved when it was taken, mV; 0 when it had settled.
	Spread float64 `json:"spread,omitempty"`
	// Dilute reports whether the sample has hardly any ions: rain, deionised water.
	Dilute bool `json:"dilute,omitempty"`
	// Sodium reports whether there is much of it in the sample.
	Sodium bool `json:"sodium,omitempty"`
}

// Check reports whether a reading can be one. An error is a verdict.Problems.
func (r Read) Check() error {
	var p verdict.Problems
	if !(math.Abs(r.MV) <= maxMV) {
		p.Add("/mV", "%s mV: a probe gives −1000 to 1000 mV", quantity.Digits(r.MV, -1))
	}
	if !(r.Celsius >= minTemperature && r.Celsius <= maxTemperature) {
		p.Add("/celsius", "%s °C: pH is read between 0 and 60 °C here", quantity.Digits(r.Celsius, -1))
	}
	if !(r.Spread >= 0 && r.Spread <= maxMV) {
		p.Add("/spread", "how far it still moved is zero or more, in mV")
	}
	return p.OrNil()
}

// PH is the pH of a reading:
//
//	pH = 7 − (E − E₀)/(η·k),   k at the temperature of the sample
//
// from the line through all points, or from that between the two buffers next to it. Its
// uncertainty is that of offset and slope with all they share, of the reading, and of the
// thermometer, which is the one that the buffers were measured with.
func (c Calibration) PH(r Read) uncertain.Number {
	k := Nernst(r.Celsius)
	offset, slope := c.At(r.MV)
	meter := c.Meter
	if r.PH != nil {
		meter.Resolution = r.Digit * slope.Value * k
	}
	reading := uncertain.New(r.MV, meter.reading(r.Celsius, r.Spread), uncertain.Source{
		ID: "sample " + r.ID, Label: "reading of the sample", Basis: "last digit and repeatability, as far as it had settled",
	})
	pH := uncertain.Exact(7).Minus(reading.Minus(offset).Over(slope).Scale(1 / k))
	byTemperature := (pH.Value - 7) / (r.Celsius + zeroCelsius) // d pH / d T, by way of k
	return pH.Plus(uncertain.WithLimits(0, -byTemperature*c.Meter.Thermometer, uncertain.RectangularShape, c.Meter.thermometer()))
}

// At is the line that holds at a potential.
func (c Calibration) At(mV float64) (offset, slope uncertain.Number) {
	if len(c.Pieces) == 0 {
		return c.Offset, c.Slope
	}
	i := 0
	for i+1 < len(c.Pieces) && mV < c.Points[i+1].MV { // the potential falls as the pH rises
		i++
	}
	return c.Pieces[i].Offset, c.Pieces[i].Slope
}

// Doubts are the objections to a reading of a pH. made is when it was read, calibrated
// when the probe was; a zero time leaves age aside.
func (c Calibration) Doubts(r Read, pH float64, made, calibrated time.Time, t verdict.Thresholds) []verdict.Verdict {
	var list []verdict.Verdict
	beyond := max(c.Low()-pH, pH-c.High())
	span := fmt.Sprintf("the buffers went from %s to %s", quantity.Digits(c.Low(), 2), quantity.Digits(c.High(), 2))
	if len(c.Points) == 1 {
		span = "the one buffer was at " + quantity.Digits(c.Low(), 2)
	}
	switch most := t.Of(RuleSpan); {
	case beyond > most:
		list = append(
			list,
			RuleSpan.Says(verdict.Stop, nil, "%s pH outside the calibration: %s. Calibrate with a buffer beyond it, then read again.",
				quantity.Digits(beyond, 1), span),
		)
	case beyond > 0:
		list = append(list, RuleSpan.Says(verdict.Look, nil, "Just outside the calibration: %s.", span))
	}
	if r.Dilute {
		list = append(
			list,
			RuleDilute.Says(verdict.Stop, nil, "Hardly any ions in it: a meter does not read this water. Say so instead of a pH."),
		)
	}
	if alkaline := t.Of(RuleAlkaline); pH > alkaline && r.Sodium {
		list = append(
			list,
			RuleAlkaline.Says(verdict.Look, nil, "Above pH %s with much sodium: the true pH is higher.", quantity.Digits(alkaline, -1)),
		)
	}
	if r.Spread > 0 {
		list = append(list, RuleSettled.Says(verdict.Look, nil, "Taken before it had settled: it still moved by %s pH.",
			quantity.Digits(r.Spread/Nernst(r.Celsius), 3)))
	}
	if off := math.Abs(r.Celsius - c.Celsius); off > t.Of(RuleTemperature) {
		list = append(
			list,
			RuleTemperature.Says(verdict.Look, nil, "At %s °C, and the buffers were at %s °C. The slope is corrected for that, the sample is not.",
				quantity.Digits(r.Celsius, 1), quantity.Digits(c.Celsius, 1)),
		)
	}
	if !made.IsZero() && !calibrated.IsZero() {
		if hours := made.Sub(calibrated).Hours(); hours > t.Of(RuleStale) {
			list = append(list, RuleStale.Says(verdict.Look, nil, "The calibration was %s hours old.", quantity.Digits(math.Floor(hours), 0)))
		}
	}
	return list
}

// Checked judges the reading of a check buffer: how far the pH that it gave lies from the
// value of the buffer. An error reports whether the buffer has none at the temperature.
func (c Calibration) Checked(b Buffer, r Read, t verdict.Thresholds) (drift float64, v verdict.Verdict, err error) {
	is, err := b.At(r.Celsius)
	if err != nil {
		return 0, v, err
	}
	drift = c.PH(r).Value - is
	says := fmt.Sprintf("%s reads %s, %s pH from its %s at %s °C", b.Name, quantity.Digits(is+drift, 2), quantity.Signed(drift, 2),
		quantity.Digits(is, 2), quantity.Digits(r.Celsius, 1))
	if math.Abs(drift) > t.Of(RuleDrift) {
		return drift, RuleDrift.Says(verdict.Stop, nil, "%s. Calibrate again; what was read since the last good check is marked.", says), nil
	}
	return drift, RuleDrift.Says(verdict.Fine, nil, "%s: it holds.", says), nil
}

// NernstLine shows how the theoretical slope comes about; of says what the temperature is that of.
func NernstLine(celsius float64, of string) working.Line {
	return working.Line{
		Title: "Slope by theory", Symbol: "k", Formula: `k = \frac{R\,T\,\ln 10}{F}`,
		Substituted: fmt.Sprintf(`k = \frac{8.31446 \times %s \times 2.302585}{96485.33}`, quantity.Digits(celsius+zeroCelsius, 2)),
		Result:      quantity.Digits(Nernst(celsius), 3) + " mV",
		From:        []string{"for each pH; R and F: CODATA 2018", of},
	}
}

func (c Calibration) sayShown(r Read, shown string) string {
	if r.PH != nil {
		return "E: what gives " + shown + ", which " + c.Meter.Name + " showed, adjusted to the same buffers"
	}
	return "E: " + shown + ", as " + c.Meter.Name + " showed it"
}

// Lines show how a reading gives its pH. shown is what the meter showed, calibration the
// one that held.
func (c Calibration) Lines(title string, r Read, shown, calibration string) []working.Line {
	offset, slope := c.At(r.MV)
	pH := c.PH(r)
	lines := []working.Line{
		NernstLine(r.Celsius, "T: of the sample, "+quantity.Digits(r.Celsius, 1)+" °C"),
		{
			Title:   title,
			Symbol:  `\mathrm{pH}`,
			Formula: `\mathrm{pH} = 7 - \frac{E - E_0}{\eta\,k}`,
			Substituted: fmt.Sprintf(
				`\mathrm{pH} = 7 - \frac{(%.2f) - (%.2f)}{%.5f \times %.3f}`,
				r.MV,
				offset.Value,
				slope.Value,
				Nernst(r.Celsius),
			),
			Result: working.Result(pH, ""),
			From: []string{
				c.sayShown(r, shown),
				"E₀ and η: calibration, " + calibration,
				"E, E₀ and k in mV",
			},
		},
	}
	return append(lines, working.Uncertainty(pH, "")...)
}
