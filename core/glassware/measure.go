package glassware

import (
	"fmt"

	"vialbench/core/uncertain"
)

// MeasureKind is a kind of glass that a liquid is measured with.
type MeasureKind string

// Graduated pipettes deliver (ISO 835, class A, type with waiting time where one
// is marked); cylinders are read (ISO 4788, class A).
const (
	GraduatedPipette MeasureKind = "graduated pipette"
	Cylinder         MeasureKind = "cylinder"
)

// Measure is one graduated pipette or cylinder.
type Measure struct {
	Kind MeasureKind `json:"kind"`
	// Volume in mL at the highest graduation.
	Volume float64 `json:"volume"`
}

// graduation is one nominal volume in mL: tolerance of class A and smallest
// division, both in mL.
type graduation struct{ volume, tolerance, division float64 }

// graduations: ISO 835:2007 and ISO 4788:2005, class A (from memory).
var graduations = map[MeasureKind][]graduation{
	GraduatedPipette: {{1, 0.007, 0.01}, {2, 0.010, 0.02}, {5, 0.030, 0.05}, {10, 0.05, 0.1}, {25, 0.10, 0.1}},
	Cylinder: {{5, 0.05, 0.1}, {10, 0.10, 0.2}, {25, 0.25, 0.5}, {50, 0.50, 1}, {100, 0.50, 1}, {250, 1.0, 2}, {500, 2.5, 5},
		{1000, 5, 10}, {2000, 10, 20}},
}

// MeasureFor returns the smallest glass of a kind that holds a volume in mL.
func MeasureFor(kind MeasureKind, volume float64) (Measure, error) {
	list, ok := graduations[kind]
	if !ok {
		return Measure{}, fmt.Errorf("a liquid is measured with a graduated pipette or a cylinder, not with “%s”", kind)
	}
	for _, g := range list {
		if volume > 0 && volume <= g.volume*(1+1e-9) {
			return Measure{kind, g.volume}, nil
		}
	}
	return Measure{}, fmt.Errorf("no %s holds %.4g mL: the largest is %g mL", kind, volume, list[len(list)-1].volume)
}

func (m Measure) graduation() graduation {
	for _, g := range graduations[m.Kind] {
		if g.volume == m.Volume {
			return g
		}
	}
	return graduation{}
}

// Division returns the smallest division in mL.
func (m Measure) Division() float64 { return m.graduation().division }

// String names the glass: "10 mL graduated pipette".
func (m Measure) String() string { return fmt.Sprintf("%g mL %s", m.Volume, m.Kind) }

// Reading returns a volume read on the glass, in mL, with its sources: tolerance
// (triangular), and reading to a fifth of the smallest division (rectangular,
// common practice).
func (m Measure) Reading(mL float64) uncertain.Number {
	g := m.graduation()
	return uncertain.WithLimits(mL, g.tolerance, uncertain.TriangularShape, uncertain.Source{
		ID: "measure " + m.String(), Label: m.String(), Basis: fmt.Sprintf("class A, ±%g mL, triangular", g.tolerance)}).
		Plus(uncertain.WithLimits(0, g.division/5, uncertain.RectangularShape, uncertain.Source{
			ID: "reading " + m.String(), Label: "reading the scale", Basis: fmt.Sprintf("a fifth of %g mL, rectangular", g.division)}))
}
