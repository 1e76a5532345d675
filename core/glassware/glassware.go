package glassware

import (
	"fmt"
	"math"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/uncertain"
)

// ReferenceTemperature is the temperature of calibration, in °C.
const ReferenceTemperature = 20.0

// expansion is the cubic expansion of borosilicate glass 3.3, per °C.
const expansion = 9.9e-6

// meniscusHeight is the repeatability of setting a meniscus, in mm.
const meniscusHeight = 0.15

// The range of the density formula, in °C.
const (
	MinTemperature = 0.0
	MaxTemperature = 40.0
)

// Class is the class of accuracy.
type Class string

// The two classes of volumetric glass.
const (
	ClassA Class = "A"
	ClassB Class = "B"
)

// Flask is a one-mark volumetric flask by ISO 1042.
type Flask struct {
	// Volume in mL, contained at 20 °C.
	Volume float64 `json:"volume"`
	Class  Class   `json:"class"`
}

// size is one nominal volume of ISO 1042, in mL: tolerance of class A (class B
// is twice that) and inner diameter of the neck in mm.
type size struct{ volume, tolerance, neck float64 }

var sizes = []size{
	{1, 0.025, 7}, {2, 0.025, 7}, {5, 0.025, 7}, {10, 0.025, 7}, {20, 0.04, 9}, {25, 0.04, 9},
	{50, 0.06, 11}, {100, 0.10, 13}, {200, 0.15, 15.5}, {250, 0.15, 15.5}, {500, 0.25, 19},
	{1000, 0.40, 23}, {2000, 0.60, 27.5}, {5000, 1.20, 38},
}

// Volumes lists the nominal volumes of flasks in mL, in rising order.
func Volumes() []float64 {
	volumes := make([]float64, len(sizes))
	for i, s := range sizes {
		volumes[i] = s.volume
	}
	return volumes
}

// FlaskFor returns the smallest flask that holds a volume in mL, and whether it
// is of exactly that volume.
func FlaskFor(volume float64, class Class) (f Flask, exact bool, err error) {
	if class != ClassA && class != ClassB {
		return Flask{}, false, fmt.Errorf("a flask is of class A or class B, not “%s”", class)
	}
	largest := sizes[len(sizes)-1].volume
	if !(volume > 0) || volume > largest*(1+1e-9) {
		return Flask{}, false, fmt.Errorf("no flask of %s mL: the largest is %g mL; make it in batches", quantity.Digits(volume, -1), largest)
	}
	for _, s := range sizes {
		if s.volume >= volume*(1-1e-9) {
			return Flask{s.volume, class}, math.Abs(s.volume-volume) <= 1e-9*s.volume, nil
		}
	}
	panic("unreachable: the largest flask holds the volume")
}

// Larger returns the next larger flask of the same class; ok is false for the largest.
func (f Flask) Larger() (larger Flask, ok bool) {
	for _, s := range sizes {
		if s.volume > f.Volume {
			return Flask{s.volume, f.Class}, true
		}
	}
	return f, false
}

func (f Flask) size() size {
	for _, s := range sizes {
		if s.volume == f.Volume {
			return s
		}
	}
	return size{volume: f.Volume, tolerance: math.NaN(), neck: math.NaN()}
}

// Tolerance returns the limits ± in mL; NaN for a volume that is not of ISO 1042.
func (f Flask) Tolerance() float64 {
	if f.Class == ClassB {
		return 2 * f.size().tolerance
	}
	return f.size().tolerance
}

// Neck returns the inner diameter of the neck in mm.
func (f Flask) Neck() float64 { return f.size().neck }

// Filling returns the standard uncertainty of setting the meniscus, in mL.
func (f Flask) Filling() float64 {
	area := math.Pi / 4 * f.Neck() * f.Neck() // mm²
	return meniscusHeight * area / 1000
}

// String names the flask: "250 mL, class A".
func (f Flask) String() string { return fmt.Sprintf("%g mL, class %s", f.Volume, f.Class) }

// Contents returns the volume, in mL at 20 °C, of an aqueous solution that was
// made up to the mark at a temperature in °C that is known within ±limits °C
// (rectangular). Sources: tolerance (triangular), filling, temperature.
func (f Flask) Contents(temperature, limits float64) uncertain.Number {
	const h = 0.01
	slope := (ExpansionFactor(temperature+h) - ExpansionFactor(temperature-h)) / (2 * h)
	factor := uncertain.New(ExpansionFactor(temperature), slope*uncertain.Rectangular(limits), uncertain.Source{
		ID: "solution temperature", Shape: uncertain.RectangularShape, Label: "temperature", Basis: fmt.Sprintf("±%g °C, rectangular", limits)})
	return f.AtReference().Times(factor)
}

// AtReference returns what the flask holds at 20 °C, in mL, filled to the mark by
// a person: tolerance and filling.
func (f Flask) AtReference() uncertain.Number {
	name := strings.ReplaceAll(f.String(), ",", "")
	v := uncertain.WithLimits(f.Volume, f.Tolerance(), uncertain.TriangularShape, uncertain.Source{
		ID: "flask " + name, Label: "flask", Basis: fmt.Sprintf("ISO 1042, ±%g mL, triangular", f.Tolerance())})
	return v.Plus(uncertain.New(0, f.Filling(), uncertain.Source{
		ID: "filling " + name, Label: "filling to the mark", Basis: "meniscus ±0.15 mm, EURACHEM/CITAC CG 4"}))
}

// ExpansionFactor is the volume at 20 °C of the water that fills 1 mL of
// borosilicate glass at a temperature in °C: (1 + γΔt)·ρ(t)/ρ(20).
func ExpansionFactor(temperature float64) float64 {
	return (1 + expansion*(temperature-ReferenceTemperature)) * WaterDensity(temperature) / WaterDensity(ReferenceTemperature)
}

// WaterDensity returns the density of air-free water in kg/m³ at a temperature
// in °C, 0–40 °C (Tanaka et al. 2001).
func WaterDensity(t float64) float64 {
	const a1, a2, a3, a4, a5 = -3.983035, 301.797, 522528.9, 69.34881, 999.974950
	return a5 * (1 - (t+a1)*(t+a1)*(t+a2)/(a3*(t+a4)))
}
