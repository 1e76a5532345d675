package standin

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"time"

	"vialbench/core/photometry"
)

// PhotometerModel is the maker and model of the stand-in photometer.
const PhotometerModel = Maker + ",stand-in photometer"

// What happens in the beam of a photometer.
const (
	shortWay   = 0.4   // of the path, with the cell turned round
	frosted    = 0.35  // AU, of its frosted sides then
	smeared    = 0.03  // AU of a fingerprint
	bubbled    = 0.08  // AU of a bubble
	warmUp     = 15.0  // time constant, min
	coldOff    = 0.02  // AU at first
	dark       = 4e-4  // noise of the transmittance
	lampShifts = 0.002 // AU a nm, away from where the blank was set
	mostDrift  = 1.0   // AU an hour
)

// Photometer is a simulated photometer. Beside READ?, which answers absorbance and wavelength, it obeys on its measuring line
//
//	WAVELENGTH 880     nm, 320 to 1000
//	BLANK              what is in the beam counts as nothing, at this wavelength
//	BASELINE           the same, at every wavelength
//
// and by hand
//
//	STANDIN:IN PERMANGANATE 2e-4   a solution in the cell, by its key, in mol/L; WATER
//	STANDIN:CELL TURNED            or RIGHT: its frosted sides stand in the beam
//	STANDIN:FINGERPRINT ON         or OFF
//	STANDIN:BUBBLE ON              or OFF
//	STANDIN:BANDWIDTH 10           nm
//	STANDIN:STRAY 0.001            part of the light that went no way through the cell
//	STANDIN:DRIFT 0.01             AU an hour
//	STANDIN:NOISE 0.0004           of the transmittance
//	STANDIN:WARM                   the lamp has burnt for an hour
type Photometer struct {
	line
	now    func() time.Time
	random *rand.Rand
	lit    time.Time

	nm                      float64
	species                 *photometry.Coloured // nil of water
	molar                   float64
	turned, smear, bubble   bool
	bandwidth, stray, noise float64
	drift                   float64
	// zero is the beam that counts as nothing; zeroAt its wavelength, 0 of all.
	zero   float64
	zeroAt float64
}

// NewPhotometer returns a photometer at 525 nm with water in the cell, warm, not blanked. The same seed gives the same noise.
func NewPhotometer(bandwidth, stray float64, seed uint64) *Photometer {
	p := &Photometer{now: time.Now, random: rand.New(rand.NewPCG(seed, 5)), nm: 525, bandwidth: bandwidth, stray: stray, noise: dark}
	p.line = line{device: p, linked: true}
	p.lit = p.now().Add(-time.Hour)
	p.zero, p.zeroAt = 0.1, p.nm // as it was left
	return p
}

// solution is the absorbance of what is dissolved, as the cell stands.
func (p *Photometer) solution(nm float64) float64 {
	if p.species == nil {
		return 0
	}
	path := 1.0
	if p.turned {
		path = shortWay
	}
	return p.species.At(nm, p.molar, path, p.bandwidth)
}

// glass is what cell, fingers and bubbles take out.
func (p *Photometer) glass() float64 {
	sum := 0.04
	for _, x := range []struct {
		is bool
		a  float64
	}{{p.turned, frosted}, {p.smear, smeared}, {p.bubble, bubbled}} {
		if x.is {
			sum += x.a
		}
	}
	return sum
}

// wanders is how far the lamp has drifted, AU.
func (p *Photometer) wanders() float64 {
	minutes := p.now().Sub(p.lit).Minutes()
	return coldOff*math.Exp(-minutes/warmUp) + p.drift*minutes/60
}

// beam is what the detector sees at a wavelength, without noise, AU.
func (p *Photometer) beam(nm float64) float64 {
	through := math.Pow(10, -p.solution(nm)-p.glass())
	return -math.Log10((through+p.stray)/(1+p.stray)) + p.wanders()
}

// shows is the absorbance, with noise.
func (p *Photometer) shows() float64 {
	a := p.beam(p.nm) - p.zero
	if p.zeroAt != 0 {
		a += lampShifts * (p.nm - p.zeroAt)
	}
	return a + p.noise*p.random.NormFloat64()/(math.Ln10*math.Pow(10, -a))
}

func (p *Photometer) measure(command, argument string) string {
	switch command {
	case "*IDN?":
		return PhotometerModel + ",1,1"
	case "READ?":
		a := p.shows()
		if a > 3.5 {
			return "9.9E37,AU,overload"
		}
		return fmt.Sprintf("%+.3f,AU,%.0f,nm,stable", a+0, p.nm)
	case "WAVELENGTH":
		nm, err := number(argument)
		if err != nil || nm < 320 || nm > 1000 {
			return "ERROR a wavelength is from 320 to 1000 nm"
		}
		p.nm = nm
		return "OK"
	case "BLANK", "BASELINE":
		p.zero, p.zeroAt = p.beam(p.nm), p.nm
		if command == "BASELINE" {
			p.zeroAt = 0
		}
		return "OK"
	}
	return "ERROR unknown command"
}

func (p *Photometer) hand(command, argument string) error {
	switch command {
	case "IN":
		return p.into(argument)
	case "CELL":
		return either(argument, &p.turned, "TURNED", "RIGHT")
	case "FINGERPRINT":
		return either(argument, &p.smear, "ON", "OFF")
	case "BUBBLE":
		return either(argument, &p.bubble, "ON", "OFF")
	case "WARM":
		p.lit = p.now().Add(-time.Hour)
		return nil
	}
	limits := map[string]struct {
		of        *float64
		low, high float64
	}{
		"BANDWIDTH": {&p.bandwidth, 0, 100}, "STRAY": {&p.stray, 0, 0.1}, "DRIFT": {&p.drift, -mostDrift, mostDrift},
		"NOISE": {&p.noise, 0, 0.05},
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
	*is.of = x
	return nil
}

// into reads what the cell is filled with.
func (p *Photometer) into(argument string) error {
	what, strength, _ := strings.Cut(argument, " ")
	if what == "WATER" {
		p.species, p.molar = nil, 0
		return nil
	}
	c, ok := photometry.BandsOf(strings.ToLower(what))
	if !ok {
		return fmt.Errorf("WATER or a coloured substance by its key was expected, not “%s”", what)
	}
	molar, err := number(strength)
	if err != nil || molar < 0 || molar > 20 {
		return fmt.Errorf("a concentration is in mol/L, from 0 to 20")
	}
	p.species, p.molar = &c, molar
	return nil
}

func (p *Photometer) state() string {
	what := "water"
	if p.species != nil {
		what = p.species.Name
	}
	return fmt.Sprintf("nm=%g;in=%s;molar=%g;cell=%s;fingerprint=%s;bubble=%s;bandwidth=%g;stray=%g;drift=%g;noise=%g;link=%s",
		p.nm, what, p.molar, word(p.turned, "turned", "right"), word(p.smear, "on", "off"), word(p.bubble, "on", "off"), p.bandwidth, p.stray,
		p.drift, p.noise, word(p.linked, "on", "off"))
}
