package standin

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"time"

	"vialbench/core/electrode"
)

// MeterModel is the maker and model of the stand-in pH meter.
const MeterModel = Maker + ",stand-in pH meter"

// What happens to the probe of a meter.
const (
	warming   = 4.0  // time constant of its thermometer, s
	carried   = 0.04 // part of the last solution that an unrinsed probe brings along
	uncovered = 25.0 // mV by which a bulb in the air wanders
	dryLoses  = 0.18 // of the slope
	drySlower = 6.0  // times
	dryMoves  = 22.0 // mV of offset
	fewIons   = 6.0  // mV by which a probe in deionised water wanders
)

// Meter is a simulated pH meter with a probe that stands in a solution. Its hand commands:
//
//	STANDIN:IN 6.86 25     into a solution of a pH and a temperature in °C
//	STANDIN:IN BORAX 25    into a reference buffer by its key; TAP and DEIONISED water too
//	STANDIN:RINSE          rinsed and blotted: without it the next solution gets some of this one
//	STANDIN:AIR            out of the solution: the bulb is not covered
//	STANDIN:BULB DRY       or WET: it lost its skin; slow, low, and off
//	STANDIN:SLOPE 0.97     part of theory
//	STANDIN:OFFSET -8      mV at pH 7
//	STANDIN:TIME 5         its time constant, s
//	STANDIN:DRIFT 2        creeps by so many mV an hour
//	STANDIN:NOISE 0.1      mV
type Meter struct {
	line
	now    func() time.Time
	random *rand.Rand

	slope, offset, tau, noise float64
	drift                     float64 // mV/h
	creeps                    time.Time
	dry, air, rinsed          bool
	name                      string // of the solution
	pH, celsius               float64
	ions                      bool
	from                      float64 // mV when it was dipped
	fromCelsius               float64
	dipped                    time.Time
	wander                    float64
}

// NewMeter returns a meter whose probe stands in pH 7 at 22 °C, wet and rinsed. The same
// seed gives the same noise.
func NewMeter(slope, offset, tau float64, seed uint64) *Meter {
	m := &Meter{
		now: time.Now, random: rand.New(rand.NewPCG(seed, 3)), slope: slope, offset: offset, tau: tau, noise: 0.05,
		rinsed: true, name: "pH 7", pH: 7, celsius: 22, ions: true, fromCelsius: 22,
	}
	m.line = line{device: m, linked: true}
	m.dipped = m.now().Add(-time.Hour)
	m.from = m.goesTo()
	return m
}

// goesTo is the potential towards which the probe moves, mV.
func (m *Meter) goesTo() float64 {
	slope, offset := m.slope, m.offset
	if m.dry {
		slope, offset = slope-dryLoses, offset+dryMoves
	}
	return offset - slope*electrode.Nernst(m.celsius)*(m.pH-7)
}

// since is how long it has stood in its solution, s.
func (m *Meter) since() float64 { return m.now().Sub(m.dipped).Seconds() }

func (m *Meter) timeConstant() float64 {
	if m.dry {
		return m.tau * drySlower
	}
	return m.tau
}

// potential is what the probe gives without noise, mV.
func (m *Meter) potential() float64 {
	end := m.goesTo()
	return end + (m.from-end)*math.Exp(-m.since()/m.timeConstant()) + m.creep()
}

func (m *Meter) creep() float64 {
	if m.drift == 0 {
		return 0
	}
	return m.drift * m.now().Sub(m.creeps).Hours()
}

func (m *Meter) temperature() float64 {
	return m.celsius + (m.fromCelsius-m.celsius)*math.Exp(-m.since()/warming)
}

// dip puts the probe into a solution, with some of the last one unless it was rinsed.
func (m *Meter) dip(name string, pH, celsius float64, ions bool) {
	m.from, m.fromCelsius = m.potential()-m.creep(), m.temperature()
	if !m.rinsed && !m.air {
		pH += carried * (m.pH - pH)
	}
	m.name, m.pH, m.celsius, m.ions = name, pH, celsius, ions
	m.air, m.rinsed, m.dipped = false, false, m.now()
}

func (m *Meter) measure(command, _ string) string {
	switch command {
	case "*IDN?":
		return MeterModel + ",1,1"
	case "READ?":
		return m.read()
	}
	return "ERROR unknown command"
}

func (m *Meter) read() string {
	wide := 0.0
	switch {
	case m.air:
		wide = uncovered
	case !m.ions:
		wide = fewIons
	}
	m.wander = 0.9*m.wander + 0.44*wide*(2*m.random.Float64()-1) // it wanders, rather than jumps
	mV := m.potential() + m.wander + m.noise*m.random.NormFloat64()
	still := wide == 0 && math.Abs(m.goesTo()-m.potential()+m.creep()) < 0.3
	return fmt.Sprintf("%+.1f,mV,%.1f,°C,%s", mV, m.temperature(), word(still, "stable", "moving"))
}

// hand carries out a hand command.
func (m *Meter) hand(command, argument string) error {
	switch command {
	case "IN":
		return m.into(argument)
	case "RINSE":
		m.rinsed = true
	case "AIR":
		m.air, m.name, m.dipped = true, "the air", m.now()
	case "BULB":
		wet := !m.dry
		if err := either(argument, &wet, "WET", "DRY"); err != nil {
			return err
		}
		m.from, m.dipped = m.potential()-m.creep(), m.now()
		m.dry = !wet
	default:
		return m.set(command, argument)
	}
	return nil
}

// set changes one of the figures of the probe.
func (m *Meter) set(command, argument string) error {
	limits := map[string]struct {
		of        *float64
		low, high float64
	}{
		"SLOPE": {&m.slope, 0, 1.2}, "OFFSET": {&m.offset, -200, 200}, "TIME": {&m.tau, 0.05, 600}, "DRIFT": {&m.drift, -10000, 10000},
		"NOISE": {&m.noise, 0, 50},
	}
	is, ok := limits[command]
	if !ok {
		return fmt.Errorf("unknown command STANDIN:%s", command)
	}
	x, err := number(argument)
	if err != nil {
		return err
	}
	if x < is.low || x > is.high {
		return fmt.Errorf("%s is from %g to %g", command, is.low, is.high)
	}
	m.from, m.dipped = m.potential()-m.creep(), m.now()
	if command == "DRIFT" {
		m.from += m.creep() // what it has crept so far goes at once
		m.creeps = m.now()
	}
	*is.of = x
	return nil
}

// into reads what the probe is put into.
func (m *Meter) into(argument string) error {
	what, at, _ := strings.Cut(argument, " ")
	celsius := m.celsius
	if at != "" {
		x, err := number(at)
		if err != nil {
			return err
		}
		if x < 0 || x > 60 {
			return fmt.Errorf("solutions have 0 to 60 °C here")
		}
		celsius = x
	}
	switch what {
	case "TAP":
		m.dip("tap water", 7.7, celsius, true)
		return nil
	case "DEIONISED":
		m.dip("deionised water", 5.9, celsius, false)
		return nil
	}
	if b, ok := electrode.BufferOf(strings.ToLower(what)); ok {
		pH, err := b.At(celsius)
		if err == nil {
			m.dip(b.Name, pH, celsius, true)
		}
		return err
	}
	pH, err := number(what)
	if err != nil || pH < -1 || pH > 15 {
		return fmt.Errorf("a pH, the key of a buffer, TAP or DEIONISED was expected, not “%s”", what)
	}
	m.dip("pH "+what, pH, celsius, true)
	return nil
}

func (m *Meter) state() string {
	return fmt.Sprintf("in=%s;celsius=%g;rinsed=%s;bulb=%s;slope=%g;offset=%g;time=%g;drift=%g;noise=%g;link=%s",
		m.name, m.celsius, word(m.rinsed, "yes", "no"), word(m.dry, "dry", "wet"), m.slope, m.offset, m.tau, m.drift, m.noise,
		word(m.linked, "on", "off"))
}
