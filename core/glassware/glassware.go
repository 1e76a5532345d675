package glassware

import (
	"cmp"
	"math"
	"strconv"

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
	Certificate
}

// Certificate is what a calibration certificate says of one piece of glass.
type Certificate struct {
	// Mark is what is marked on the glass, so that the right piece is taken.
	Mark string `json:"mark,omitempty"`
	// Certified is the actual volume at 20 °C in mL, known within ±CertifiedLimits
	// mL with k = 2; both 0 without a certificate.
	Certified       float64 `json:"certified,omitempty"`
	CertifiedLimits float64 `json:"certifiedLimits,omitempty"`
}

// size is one nominal volume of ISO 1042, in mL: tolerance of class A (class B
// is twice that) and inner diameter of the neck in mm.
type size struct{ volume, tolerance, neck float64 }

var sizes = []size{
	{1, 0.025, 7},
	{2, 0.025, 7},
	{5, 0.025, 7},
	{10, 0.025, 7},
	{20, 0.04, 9},
	{25, 0.04, 9},
	{50, 0.06, 11},
	{100, 0.10, 13},
	{200, 0.15, 15.5},
	{250, 0.15, 15.5},
	{500, 0.25, 19},
	{1000, 0.40, 23},
	{2000, 0.60, 27.5},
	{5000, 1.20, 38},
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

// String names the flask: "250 mL, class A", with its mark when it has one.
func (f Flask) String() string { return f.name(", ") }

func (f Flask) name(separator string) string {
	var room [48]byte
	text := append(strconv.AppendFloat(room[:0], f.Volume, 'g', -1, 64), " mL"...)
	text = append(append(append(text, separator...), "class "...), f.Class...)
	if f.Mark != "" {
		text = append(append(text, separator...), f.Mark...)
	}
	return string(text)
}

// Actual returns the certified volume in mL, or the nominal one without a certificate.
func (f Flask) Actual() float64 {
	if f.Certified > 0 {
		return f.Certified
	}
	return f.Volume
}

// Contents returns the volume, in mL at 20 °C, of an aqueous solution that was
// made up to the mark at a temperature in °C that is known within ±limits °C
// (rectangular). Sources: tolerance (triangular), filling, temperature. The filling is
// that of [Flask.Filled].
func (f Flask) Contents(temperature, limits float64, filling string) uncertain.Number {
	return f.Filled(filling).Times(Expansion(temperature, limits, "solution"))
}

// Expansion is [ExpansionFactor] for a temperature in °C that is known within ±limits
// °C (rectangular); of names what has the temperature.
func Expansion(temperature, limits float64, of string) uncertain.Number {
	const h = 0.01
	slope := (ExpansionFactor(temperature+h) - ExpansionFactor(temperature-h)) / (2 * h)
	return uncertain.New(ExpansionFactor(temperature), slope*uncertain.Rectangular(limits), uncertain.Source{
		ID: of + " temperature", Shape: uncertain.RectangularShape, Label: "temperature", Basis: withinDegrees(limits),
	})
}

func withinDegrees(limits float64) string {
	return "±" + strconv.FormatFloat(limits, 'g', -1, 64) + " °C, rectangular"
}

// liquidExpansion is the cubic expansion of concentrated reagents and solvents, per °C, as
// a range: hydrochloric and sulfuric acid 0.5e-3, acetic acid and ethanol 1.1e-3, acetone
// 1.4e-3 (handbooks, from memory). Water has 0.2e-3.
const liquidExpansion, liquidExpansionLimits = 0.9e-3, 0.5e-3

// LiquidExpansion is [Expansion] for a liquid that is not mostly water: its volume at
// 20 °C for one at a temperature in °C within ±limits °C (rectangular).
func LiquidExpansion(temperature, limits float64, of string) uncertain.Number {
	off := temperature - ReferenceTemperature
	return uncertain.New(1-liquidExpansion*off, liquidExpansion*uncertain.Rectangular(limits), uncertain.Source{
		ID: of + " temperature", Shape: uncertain.RectangularShape, Label: "temperature", Basis: withinDegrees(limits),
	}).
		Minus(uncertain.WithLimits(0, liquidExpansionLimits*off, uncertain.RectangularShape, uncertain.Source{
			ID: of + " expansion", Label: "expansion of the liquid", Basis: "0.9 ± 0.5 ‰ per °C, rectangular",
		}))
}

// AtReference is [Flask.Filled] as planned.
func (f Flask) AtReference() uncertain.Number { return f.Filled("") }

// Filled returns what the flask holds at 20 °C, in mL, filled to the mark by a person:
// the certificate or the tolerance of its class, and the filling. The error of the flask
// is always the same; that of the filling is new with every filling, so that each has a
// name, which is empty in a plan.
func (f Flask) Filled(filling string) uncertain.Number {
	name := f.name(" ")
	v := f.calibrated(f.Volume, f.Tolerance(), "ISO 1042", uncertain.Source{ID: "flask " + name, Label: "flask"})
	return v.Plus(uncertain.New(0, f.Filling(), uncertain.Source{
		ID: "filling " + cmp.Or(filling, name), Label: "filling to the mark", Basis: "meniscus ±0.15 mm, EURACHEM/CITAC CG 4",
	}))
}

// calibrated returns a volume in mL by the certificate, or by the tolerance ± of a
// standard (triangular).
func (c Certificate) calibrated(nominal, tolerance float64, standard string, source uncertain.Source) uncertain.Number {
	if c.Certified > 0 {
		source.Basis = "certificate " + c.Mark + ", ±" + strconv.FormatFloat(c.CertifiedLimits, 'g', -1, 64) + " mL, k = 2"
		return uncertain.New(c.Certified, c.CertifiedLimits/2, source)
	}
	source.Basis = standard + ", ±" + strconv.FormatFloat(tolerance, 'g', -1, 64) + " mL, triangular"
	return uncertain.WithLimits(nominal, tolerance, uncertain.TriangularShape, source)
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
