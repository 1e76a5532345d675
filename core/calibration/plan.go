// Package calibration is the calibration of a pH meter as work at the bench: which meter
// and buffers (the plan), the readings taken in them, and what the probe was found to be
// (the outcome), with the judgements of the trade on the way. What is computed stands in
// package electrode.
package calibration

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/electrode"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Kind names this kind of work.
const Kind = "calibration"

var _ run.Plan = Request{}

// Request is a calibration as it is planned.
type Request struct {
	Meter electrode.Meter `json:"meter"`
	// Buffers in the order in which they are taken, 1 to 5.
	Buffers []electrode.Buffer `json:"buffers"`
	// Celsius is the temperature that is expected.
	Celsius float64 `json:"celsius"`
	// Low and High are the pH that samples will have; both 0 when nobody says.
	Low        float64            `json:"low,omitempty"`
	High       float64            `json:"high,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

// Check reports whether a calibration can be carried out. An error is a verdict.Problems.
func (r Request) check() error {
	var p verdict.Problems
	at := func(field string, err error) {
		if problems, ok := err.(verdict.Problems); ok { //nolint:errorlint // made there, never wrapped
			for _, x := range problems {
				p.Add(field+x.Field, "%s", x.Reason)
			}
		}
	}
	at("/meter", r.Meter.Check())
	if len(r.Buffers) == 0 || len(r.Buffers) > electrode.MaxPoints {
		p.Add("/buffers", "take 1 to %d buffers: two that bracket the samples as a rule", electrode.MaxPoints)
	}
	for i, b := range r.Buffers {
		field := fmt.Sprintf("/buffers/%d", i)
		err := b.Check()
		at(field, err)
		if _, outside := b.At(r.Celsius); err == nil && outside != nil {
			p.Add(field, "%s", outside)
		}
		if slices.ContainsFunc(r.Buffers[:i], func(x electrode.Buffer) bool { return x.Name == b.Name }) {
			p.Add(field, "%s is there twice: a slope takes buffers that differ", b.Name)
		}
	}
	if !(r.Celsius >= 0 && r.Celsius <= 60) {
		p.Add("/celsius", "probes are calibrated between 0 and 60 °C here")
	}
	if r.Low != 0 || r.High != 0 {
		if !(r.Low >= 0 && r.High <= 14 && r.Low < r.High) {
			p.Add("/low", "the samples go from one pH to a higher one, between 0 and 14")
		}
	}
	return p.OrNil()
}

// Title names the calibration.
func (r Request) Title() string {
	names := make([]string, len(r.Buffers))
	for i := range r.Buffers {
		names[i] = r.sayPH(i)
	}
	return "Calibration of " + r.Meter.Name + ", pH " + strings.Join(names, ", ")
}

// sayPH is the pH of a buffer at the temperature that is expected.
func (r Request) sayPH(i int) string {
	pH, err := r.Buffers[i].At(r.Celsius)
	if err != nil {
		pH = r.Buffers[i].Table[0].PH
	}
	return quantity.Digits(pH, 2)
}

// Expected is what a buffer is, and what a probe without faults would give in it.
type Expected struct {
	Name string `json:"name"`
	// PH at the temperature that is expected, and the source of that.
	PH     string  `json:"pH"`
	MV     float64 `json:"mV"`
	Text   string  `json:"text"`
	Source string  `json:"source,omitempty"`
}

// Design is what a plan gives, as its page shows it.
type Design struct {
	Request Request    `json:"request"`
	Buffers []Expected `json:"buffers"`
	// Nernst is the theoretical slope at the temperature, Slope that in mV for each pH.
	Nernst string  `json:"nernst"`
	Slope  float64 `json:"slope"`
	// Known says how well a pH would be known over the scale, read with a probe without faults; Says puts
	// it in words for the samples, or for the span of the buffers where nobody says what the samples are.
	Known []Known `json:"known"`
	Says  string  `json:"says"`
	// Better is the buffer of the library that would narrow it most; nil where none helps.
	Better   *Better           `json:"better,omitempty"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Known is how well a pH would be known, ± at 95 %.
type Known struct {
	PH     float64 `json:"pH"`
	Limits float64 `json:"limits"`
}

// Better is a buffer that would help.
type Better struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Says string `json:"says"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) { return r.Solve() }

// Solve is Design, typed.
func (r Request) Solve() (Design, error) {
	if err := r.check(); err != nil {
		return Design{}, err
	}
	k := electrode.Nernst(r.Celsius)
	d := Design{Request: r, Nernst: quantity.Digits(k, 2) + " mV", Slope: k, Verdicts: []verdict.Verdict{}}
	low, high := math.Inf(1), math.Inf(-1)
	for _, b := range r.Buffers {
		pH, err := b.At(r.Celsius)
		if err != nil {
			return d, err
		}
		low, high = min(low, pH), max(high, pH)
		mV := -k * (pH - 7)
		d.Buffers = append(
			d.Buffers,
			Expected{Name: b.Name, PH: quantity.Digits(pH, 2), MV: mV, Text: quantity.Digits(mV, 0) + " mV", Source: b.Source},
		)
	}
	switch {
	case len(r.Buffers) == 1:
		d.Verdicts = append(
			d.Verdicts,
			electrode.RuleOnePoint.Says(verdict.Look, nil, "One buffer gives the offset only: for rough work near pH %s.", d.Buffers[0].PH),
		)
	case r.High > 0 && (low > r.Low || high < r.High):
		d.Verdicts = append(
			d.Verdicts,
			electrode.RuleBracket.Says(
				verdict.Look,
				nil,
				"The buffers go from pH %s to %s, the samples from %s to %s: take a buffer %s.",
				quantity.Digits(low, 2),
				quantity.Digits(high, 2),
				quantity.Digits(r.Low, -1),
				quantity.Digits(r.High, -1),
				r.beyond(low, high),
			),
		)
	case r.High > 0:
		d.Verdicts = append(d.Verdicts, electrode.RuleBracket.Says(verdict.Fine, nil, "The buffers bracket the samples."))
	}
	return d, r.foresee(&d, low, high)
}

// knownPoints is how many points the scale is known at; helps is how much, in pH, another buffer has to take
// away to be worth taking: less does not show at a bench.
const knownPoints, helps = 57, 0.01

// foresee fills in how well a pH of the samples would be known, low and high being the span of the buffers.
func (r Request) foresee(d *Design, low, high float64) error {
	c, err := r.ideal(r.Buffers)
	if err != nil {
		return err
	}
	d.Known = scale(c, r.Celsius)
	of := "Between the buffers"
	if r.High > 0 {
		low, high, of = r.Low, r.High, fmt.Sprintf("In samples of pH %s to %s", quantity.Digits(r.Low, -1), quantity.Digits(r.High, -1))
	}
	if len(r.Buffers) == 1 && r.High == 0 {
		of = "In this buffer"
	}
	best, worst := span(c, low, high, r.Celsius)
	d.Says = fmt.Sprintf("%s a pH would be known to %s, with a good probe.", of, sayLimits(best, worst))
	if r.High == 0 || len(r.Buffers) == electrode.MaxPoints {
		return nil
	}
	narrowest := worst - helps
	for _, b := range electrode.Buffers() {
		pH, err := b.At(r.Celsius)
		if err != nil || slices.ContainsFunc(r.Buffers, func(x electrode.Buffer) bool { return x.Name == b.Name }) {
			continue
		}
		with, err := r.ideal(append(slices.Clone(r.Buffers), b))
		if err != nil {
			continue
		}
		if _, worst := span(with, low, high, r.Celsius); worst < narrowest {
			narrowest = worst
			d.Better = &Better{Key: b.Key, Name: b.Name, Says: fmt.Sprintf("With %s (pH %s) as well: ± %s at worst.",
				b.Name, quantity.Digits(pH, 2), quantity.Digits(worst, 2))}
		}
	}
	return nil
}

// ideal is the calibration that a probe without faults would get in some buffers.
func (r Request) ideal(buffers []electrode.Buffer) (electrode.Calibration, error) {
	points := make([]electrode.Point, len(buffers))
	for i, b := range buffers {
		pH, err := b.At(r.Celsius)
		if err != nil {
			return electrode.Calibration{}, err
		}
		points[i] = electrode.Point{Buffer: b, MV: electrode.FromShown(pH, r.Celsius), Celsius: r.Celsius}
	}
	return electrode.Calibrate(r.Meter, points, r.Thresholds.Of(electrode.RuleSchool) == 1)
}

// limits is how well a pH would be known under a calibration, ± at 95 %.
func limits(c electrode.Calibration, pH, celsius float64) float64 {
	return c.PH(electrode.Read{MV: electrode.FromShown(pH, celsius), Celsius: celsius}).Expanded()
}

// span is the smallest and the largest of that between two pH.
func span(c electrode.Calibration, low, high, celsius float64) (best, worst float64) {
	best = math.Inf(1)
	for i := range knownPoints {
		is := limits(c, low+(high-low)*float64(i)/(knownPoints-1), celsius)
		best, worst = min(best, is), max(worst, is)
	}
	return best, worst
}

// beyond says where a buffer is wanted, those that there are going from low to high.
func (r Request) beyond(low, high float64) string {
	below, above := quantity.Digits(r.Low, -1), quantity.Digits(r.High, -1)
	switch {
	case low <= r.Low:
		return "of pH " + above + " or more"
	case high >= r.High:
		return "of pH " + below + " or less"
	}
	return "of pH " + below + " or less, and one of " + above + " or more"
}

// Uses implements [run.Plan].
func (r Request) Uses() run.Uses { return run.Uses{Instruments: []string{r.Meter.Name}} }
