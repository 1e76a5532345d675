package electrode

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Constants of CODATA 2018 (exact in the SI), and the ice point.
const (
	gasConstant = 8.314462618 // J/(mol·K)
	faraday     = 96485.33212 // C/mol
	zeroCelsius = 273.15      // K
)

// Nernst is R·T·ln 10 / F in mV: by how much the potential of an ideal probe falls with
// one pH, at so many °C.
func Nernst(celsius float64) float64 {
	return 1000 * gasConstant * (celsius + zeroCelsius) * math.Ln10 / faraday
}

// Value is the pH of a buffer at a temperature.
type Value struct {
	Celsius float64 `json:"celsius"`
	PH      float64 `json:"pH"`
}

// Buffer is a reference buffer: one of the library, or what the certificate of a bottle
// says.
type Buffer struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	// Table gives pH(S) by rising temperature, 1 to [MaxTable] lines.
	Table []Value `json:"table"`
	// Limits ± of its pH (rectangular).
	Limits float64 `json:"limits"`
	Source string  `json:"source,omitempty"`
	// Opened is the day the bottle was opened, YYYY-MM-DD; empty when it is unknown.
	Opened string `json:"opened,omitempty"`
}

// MaxTable is the longest table of a buffer.
const MaxTable = 40

// What a buffer can be.
const (
	minPH, maxPH   = 0.0, 14.0
	maxLimits      = 0.5
	minTemperature = 0.0
	maxTemperature = 60.0
	// oneValueHolds is how far from its temperature a single value may be used, in °C.
	oneValueHolds = 2.5
)

// tabulated are the temperatures of the tables of the library, °C.
var tabulated = []float64{0, 5, 10, 15, 20, 25, 30, 35, 40, 50}

const (
	iupac    = "IUPAC Recommendations 2002, Pure Appl. Chem. 74, 2169, table 2"
	memory   = "secondary standards of the same recommendations, table 6; from memory"
	usualOne = "usual table of technical phosphate buffers; from memory: what your bottle says comes first"
)

// usualLimits are those of buffers as they are bought or made up in a teaching laboratory
// (common practice); fresh primary standards are better than that.
const usualLimits = 0.02

var library = []Buffer{
	entry("tetroxalate", "tetroxalate, 0.05 mol/kg", memory, 1.666, 1.668, 1.670, 1.672, 1.675, 1.679, 1.683, 1.688, 1.694, 1.707),
	entry("citrate", "dihydrogen citrate, 0.05 mol/kg", iupac, 3.863, 3.840, 3.820, 3.802, 3.788, 3.776, 3.766, 3.759, 3.754, 3.749),
	entry("phthalate", "hydrogen phthalate, 0.05 mol/kg", iupac, 4.000, 3.998, 3.997, 3.998, 4.000, 4.005, 4.011, 4.018, 4.027, 4.050),
	entry("phosphate", "phosphate 1:1, 0.025 mol/kg", iupac, 6.984, 6.951, 6.923, 6.900, 6.881, 6.865, 6.853, 6.844, 6.838, 6.833),
	entry("phosphate-7", "phosphate, technical, 7.00", usualOne, 7.12, 7.09, 7.06, 7.04, 7.02, 7.00, 6.99, 6.98, 6.97, 6.97),
	entry("phosphate-3.5", "phosphate 1:3.5", iupac, 7.534, 7.500, 7.472, 7.448, 7.429, 7.413, 7.400, 7.389, 7.380, 7.367),
	entry("borax", "borax, 0.01 mol/kg", iupac, 9.464, 9.395, 9.332, 9.276, 9.225, 9.180, 9.139, 9.102, 9.068, 9.011),
	entry("carbonate", "carbonate 1:1, 0.025 mol/kg", iupac, 10.317, 10.245, 10.179, 10.118, 10.062, 10.012, 9.966, 9.926, 9.889, 9.828),
	entry(
		"hydroxide",
		"calcium hydroxide, saturated at 25 °C",
		memory,
		13.423,
		13.207,
		13.003,
		12.810,
		12.627,
		12.454,
		12.289,
		12.133,
		11.984,
		11.705,
	),
}

func entry(key, name, source string, values ...float64) Buffer {
	b := Buffer{Key: key, Name: name, Limits: usualLimits, Source: source}
	for i, v := range values {
		b.Table = append(b.Table, Value{tabulated[i], v})
	}
	return b
}

// Buffers lists the library by rising pH.
func Buffers() []Buffer { return slices.Clone(library) }

// BufferOf finds a buffer of the library.
func BufferOf(key string) (Buffer, bool) {
	i := slices.IndexFunc(library, func(b Buffer) bool { return b.Key == key })
	if i < 0 {
		return Buffer{}, false
	}
	return library[i], true
}

// At is the pH at a temperature, by straight lines between those of the table. A table of
// one line holds near its temperature only. An error says over what the table goes.
func (b Buffer) At(celsius float64) (float64, error) {
	if len(b.Table) == 0 {
		return 0, fmt.Errorf("%s has no value", b.Name)
	}
	first, last := b.Table[0], b.Table[len(b.Table)-1]
	switch {
	case len(b.Table) == 1 && math.Abs(celsius-first.Celsius) <= oneValueHolds:
		return first.PH, nil
	case len(b.Table) == 1:
		return 0, fmt.Errorf("%s has a value at %s °C only: give it one for %s °C, or bring it to that temperature",
			b.Name, quantity.Digits(first.Celsius, -1), quantity.Digits(celsius, -1))
	case !(celsius >= first.Celsius && celsius <= last.Celsius):
		return 0, fmt.Errorf("%s has no value at %s °C: its table goes from %s to %s °C",
			b.Name, quantity.Digits(celsius, -1), quantity.Digits(first.Celsius, -1), quantity.Digits(last.Celsius, -1))
	}
	i := max(1, slices.IndexFunc(b.Table, func(v Value) bool { return v.Celsius >= celsius }))
	low, high := b.Table[i-1], b.Table[i]
	return low.PH + (high.PH-low.PH)*(celsius-low.Celsius)/(high.Celsius-low.Celsius), nil
}

// perDegree is how its pH changes with temperature.
func (b Buffer) perDegree(celsius float64) float64 {
	below, err1 := b.At(celsius - 1)
	above, err2 := b.At(celsius + 1)
	if err1 != nil || err2 != nil {
		return 0
	}
	return (above - below) / 2
}

// Check reports whether a buffer can be used. An error is a verdict.Problems.
func (b Buffer) Check() error {
	var p verdict.Problems
	if name := strings.TrimSpace(b.Name); name == "" || len([]rune(name)) > 60 {
		p.Add("/name", "a buffer has a name of at most 60 letters, like the pH on its bottle")
	}
	if len(b.Table) == 0 || len(b.Table) > MaxTable {
		p.Add("/table", "give its pH at one temperature or more, at most %d", MaxTable)
	}
	for i, v := range b.Table {
		if !(v.PH >= minPH && v.PH <= maxPH) {
			p.Add(fmt.Sprintf("/table/%d/pH", i), "%s: buffers have a pH from 0 to 14", quantity.Digits(v.PH, -1))
		}
		if !(v.Celsius >= minTemperature && v.Celsius <= maxTemperature) {
			p.Add(fmt.Sprintf("/table/%d/celsius", i), "%s °C: buffers are used between 0 and 60 °C here", quantity.Digits(v.Celsius, -1))
		}
		if i > 0 && !(v.Celsius > b.Table[i-1].Celsius) {
			p.Add(fmt.Sprintf("/table/%d/celsius", i), "the temperatures rise from line to line")
		}
	}
	if !(b.Limits >= 0 && b.Limits <= maxLimits) {
		p.Add("/limits", "the limits of its pH are what the bottle says behind ±, like 0.02; at most 0.5")
	}
	if _, err := time.Parse(time.DateOnly, b.Opened); b.Opened != "" && err != nil {
		p.Add("/opened", "the day it was opened is like 2026-03-31")
	}
	return p.OrNil()
}

// Recognised is what a reading says of the buffer that it was taken in.
type Recognised struct {
	Buffer Buffer
	PH     float64 // of the buffer at the temperature
	// Doubt says why it may be another one; empty when none is near.
	Doubt string
}

// Recognise tells which of some buffers a potential belongs to, for a probe of usual slope
// whose offset is within ±offset mV. It is false when none fits.
func Recognise(mV, celsius, offset float64, candidates []Buffer) (Recognised, bool) {
	k := Nernst(celsius)
	best, next := math.Inf(1), math.Inf(1)
	var is, other Recognised
	for _, b := range candidates {
		pH, err := b.At(celsius)
		if err != nil {
			continue
		}
		switch off := math.Abs(mV + k*(pH-7)); {
		case off < best:
			best, next = off, best
			is, other = Recognised{Buffer: b, PH: pH}, is
		case off < next:
			next, other = off, Recognised{Buffer: b, PH: pH}
		}
	}
	// What the slope may be off by grows with the distance from pH 7.
	if may := offset + 0.08*k*math.Abs(is.PH-7); best > may {
		return Recognised{}, false
	}
	if next-best < offset {
		is.Doubt = fmt.Sprintf("it may be %s just as well: look at the bottle", other.Buffer.Name)
	}
	return is, true
}
