package glassware

import (
	"fmt"
	"strings"

	"vialbench/core/verdict"
)

// Kind is a kind of volumetric glass.
type Kind string

// The kinds of glass that a lab lists. Flasks contain; pipettes and burettes
// deliver, piston pipettes the volume they are set to; cylinders are read, and so are syringes,
// which show what is left in them.
const (
	VolumetricFlask  Kind = "volumetric flask"
	OneMarkPipette   Kind = "one-mark pipette"
	GraduatedPipette Kind = "graduated pipette"
	PistonPipette    Kind = "piston pipette"
	Burette          Kind = "burette"
	Cylinder         Kind = "cylinder"
	Syringe          Kind = "syringe"
)

// Kinds lists the kinds of glass.
func Kinds() []Kind {
	return []Kind{VolumetricFlask, OneMarkPipette, GraduatedPipette, PistonPipette, Burette, Cylinder, Syringe}
}

// Item is glass that a lab owns, Count pieces alike.
type Item struct {
	Kind Kind `json:"kind"`
	// Volume in mL, nominal.
	Volume float64 `json:"volume"`
	Class  Class   `json:"class"`
	Count  int     `json:"count"`
	Certificate
}

// standards names the standard of each kind.
var standards = map[Kind]string{
	VolumetricFlask:  "ISO 1042",
	OneMarkPipette:   "ISO 648",
	GraduatedPipette: "ISO 835",
	PistonPipette:    "ISO 8655-2",
	Burette:          "ISO 385",
	Cylinder:         "ISO 4788",
	Syringe:          "ISO 7886-1",
}

// oneMark lists the tolerances of class A and class B of one-mark pipettes in mL:
// ISO 648:2008, table 1 (from memory).
var oneMark = []struct{ volume, a, b float64 }{
	{0.5, 0.005, 0.010},
	{1, 0.008, 0.015},
	{2, 0.010, 0.020},
	{5, 0.015, 0.030},
	{10, 0.020, 0.040},
	{20, 0.030, 0.060},
	{25, 0.030, 0.060},
	{50, 0.050, 0.100},
	{100, 0.080, 0.150},
}

// OneMarkVolumes lists the sizes of one-mark pipettes of ISO 648 in mL, rising.
func OneMarkVolumes() []float64 {
	list := make([]float64, len(oneMark))
	for i, p := range oneMark {
		list[i] = p.volume
	}
	return list
}

// Standard names the standard that the tolerance is of.
func (i Item) Standard() string { return standards[i.Kind] }

// Tolerance returns the limits ± in mL by class; 0 for a size the standard has not.
func (i Item) Tolerance() float64 {
	switch i.Kind {
	case VolumetricFlask:
		for _, s := range sizes {
			if s.volume == i.Volume {
				return Flask{Volume: i.Volume, Class: i.Class}.Tolerance()
			}
		}
	case OneMarkPipette:
		for _, p := range oneMark {
			if p.volume == i.Volume {
				return map[Class]float64{ClassA: p.a, ClassB: p.b}[i.Class]
			}
		}
	default:
		t := i.graduation().tolerance
		if i.Class == ClassB && i.Kind != PistonPipette && i.Kind != Syringe { // their standards know no classes
			t *= 2
		}
		return t
	}
	return 0
}

// sizesOf lists the nominal volumes of a kind in mL.
func sizesOf(kind Kind) (volumes []float64) {
	switch kind {
	case VolumetricFlask:
		return Cupboard(nil).Volumes(ClassA)
	case OneMarkPipette:
		for _, p := range oneMark {
			volumes = append(volumes, p.volume)
		}
	default:
		for _, g := range graduations[kind] {
			volumes = append(volumes, g.volume)
		}
	}
	return volumes
}

// Check returns the problems of an item as verdict.Problems with JSON pointers.
func (i Item) Check() error {
	var p verdict.Problems
	if _, ok := standards[i.Kind]; !ok {
		p.Add("/kind", "glass is one of: %s", strings.Trim(fmt.Sprintf("%q", Kinds()), "[]"))
		return p
	}
	if i.Class != ClassA && i.Class != ClassB {
		p.Add("/class", "glass is of class A or class B, not “%s”", i.Class)
		return p
	}
	tolerance := i.Tolerance()
	if tolerance == 0 {
		p.Add(
			"/volume",
			"%s has no %s of %g mL; it has %s mL",
			i.Standard(),
			i.Kind,
			i.Volume,
			strings.Trim(strings.Join(strings.Fields(fmt.Sprint(sizesOf(i.Kind))), ", "), "[]"),
		)
		return p
	}
	if i.Count < 1 || i.Count > 1000 {
		p.Add("/count", "the number owned is from 1 to 1000")
	}
	if len([]rune(i.Mark)) > 40 {
		p.Add("/mark", "the mark on the glass has at most 40 characters")
	}
	switch {
	case i.Certified == 0 && i.CertifiedLimits == 0:
	case !(i.CertifiedLimits > 0 && i.CertifiedLimits < i.Volume):
		p.Add(
			"/certifiedLimits",
			"the uncertainty of a certificate is above zero and less than the volume (%g mL); usually it is less than the tolerance of the class, ±%g mL",
			i.Volume,
			tolerance,
		)
	case !(i.Certified > 0.9*i.Volume && i.Certified < 1.1*i.Volume):
		p.Add("/certified", "the certified volume is within 10 %% of %g mL", i.Volume)
	case i.Count > 1:
		p.Add("/count", "a certificate belongs to one piece of glass: list it by itself, with its mark")
	case i.Mark == "":
		p.Add("/mark", "write what is marked on the glass, so that the one with this certificate is taken")
	}
	return p.OrNil()
}

// String names the item: "250 mL volumetric flask, class A".
func (i Item) String() string {
	text := fmt.Sprintf("%g mL %s, class %s", i.Volume, i.Kind, i.Class)
	if i.Mark != "" {
		text += ", " + i.Mark
	}
	return text
}

// Flasks takes the flasks out of a list of glass.
func Flasks(items []Item) Cupboard {
	var flasks Cupboard
	for _, i := range items {
		if i.Kind == VolumetricFlask {
			flasks = append(flasks, Flask{i.Volume, i.Class, i.Certificate})
		}
	}
	return flasks
}
