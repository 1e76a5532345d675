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
	// Nernst is the theoretical slope at the temperature.
	Nernst   string            `json:"nernst"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) { return r.Solve() }

// Solve is Design, typed.
func (r Request) Solve() (Design, error) {
	if err := r.check(); err != nil {
		return Design{}, err
	}
	k := electrode.Nernst(r.Celsius)
	d := Design{Request: r, Nernst: quantity.Digits(k, 2) + " mV", Verdicts: []verdict.Verdict{}}
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
				"The buffers go from pH %s to %s, the samples from %s to %s: take a buffer beyond each end.",
				quantity.Digits(low, 2),
				quantity.Digits(high, 2),
				quantity.Digits(r.Low, -1),
				quantity.Digits(r.High, -1),
			),
		)
	case r.High > 0:
		d.Verdicts = append(d.Verdicts, electrode.RuleBracket.Says(verdict.Fine, nil, "The buffers bracket the samples."))
	}
	return d, nil
}

// Uses implements [run.Plan].
func (r Request) Uses() run.Uses { return run.Uses{Instruments: []string{r.Meter.Name}} }
