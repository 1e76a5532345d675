package glassware

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/uncertain"
)

// graduation is one nominal volume in mL: tolerance of class A and smallest
// division, both in mL.
type graduation struct{ volume, tolerance, division float64 }

// pistonRandom is the maximum permissible random error of piston pipettes as a part of
// the systematic one, which holds within a tenth for all sizes (ISO 8655-2:2002,
// table 1, from memory); pistonSteps is how finely one is set, so that a tenth of its
// volume is the least it is used for.
const (
	pistonRandom = 3.0 / 8
	pistonSteps  = 200
)

// graduations: ISO 8655-2:2002, ISO 835:2007, ISO 385:2005 and ISO 4788:2005, class A (from memory).
var graduations = map[Kind][]graduation{
	GraduatedPipette: {{1, 0.007, 0.01}, {2, 0.010, 0.02}, {5, 0.030, 0.05}, {10, 0.05, 0.1}, {25, 0.10, 0.1}},
	PistonPipette: {
		{0.02, 0.0002, 0.02 / pistonSteps},
		{0.05, 0.0005, 0.05 / pistonSteps},
		{0.1, 0.0008, 0.1 / pistonSteps},
		{0.2, 0.0016, 0.2 / pistonSteps},
		{
			0.5,
			0.004,
			0.5 / pistonSteps,
		},
		{1, 0.008, 1.0 / pistonSteps},
		{2, 0.016, 2.0 / pistonSteps},
		{5, 0.04, 5.0 / pistonSteps},
		{10, 0.06, 10.0 / pistonSteps},
	},
	Burette: {{10, 0.02, 0.02}, {25, 0.03, 0.05}, {50, 0.05, 0.1}, {100, 0.10, 0.2}},
	Cylinder: {
		{5, 0.05, 0.1},
		{10, 0.10, 0.2},
		{25, 0.25, 0.5},
		{50, 0.50, 1},
		{100, 0.50, 1},
		{250, 1.0, 2},
		{500, 2.5, 5},
		{1000, 5, 10},
		{2000, 10, 20},
	},
	// ISO 7886-1:2017 (from memory): ±5 % below 5 mL, ±4 % from 5 mL on; divisions as they are usual.
	Syringe: {{1, 0.05, 0.05}, {2, 0.10, 0.1}, {5, 0.20, 0.2}, {10, 0.40, 0.5}, {20, 0.80, 1}, {50, 2.0, 2}},
}

// MeasureFor returns the smallest glass of a kind that holds a volume in mL, out of
// what is owned. A lab that lists none of the kind is taken to have every size, of
// class A.
func MeasureFor(kind Kind, volume float64, owned []Item) (Item, error) {
	if kind != GraduatedPipette && kind != Cylinder {
		return Item{}, fmt.Errorf("a liquid is measured with a graduated pipette or a cylinder, not with “%s”", kind)
	}
	var best, largest Item
	for _, i := range OfKind(kind, owned) {
		if i.Volume > largest.Volume {
			largest = i
		}
		if volume > 0 && volume <= i.Volume*(1+1e-9) && (best.Volume == 0 || i.Volume < best.Volume) {
			best = i
		}
	}
	if best.Volume == 0 {
		return Item{}, fmt.Errorf("no %s here holds %.4g mL: the largest is %g mL", kind, volume, largest.Volume)
	}
	return best, nil
}

// Largest is the smallest glass of a kind that holds a volume in mL, or else the largest
// there is, which is then filled several times.
func Largest(kind Kind, volume float64, owned []Item) Item {
	list := OfKind(kind, owned)
	return slices.MaxFunc(list, func(a, b Item) int {
		fitsA, fitsB := a.Volume >= volume*(1-1e-9), b.Volume >= volume*(1-1e-9)
		switch {
		case fitsA && fitsB:
			return cmp.Compare(b.Volume, a.Volume)
		case fitsA:
			return 1
		case fitsB:
			return -1
		}
		return cmp.Compare(a.Volume, b.Volume)
	})
}

// Finest is what measures out a volume in mL best, of the burettes, graduated pipettes and piston
// pipettes that a lab lists; of one that lists none, the burette for it.
func Finest(mL float64, owned []Item) Item {
	best := Largest(Burette, mL, owned)
	least := math.Inf(1)
	for _, i := range owned {
		if i.Kind != Burette && i.Kind != GraduatedPipette && i.Kind != PistonPipette {
			continue
		}
		if mL > i.Volume*(1+1e-9) || i.Kind == PistonPipette && mL < i.Volume/10 {
			continue
		}
		if u := i.Dispensed(mL, "").U(); u < least {
			best, least = i, u
		}
	}
	return best
}

// OfKind takes the glass of a kind out of a list; a list without any stands for
// every size of its standard, of class A.
func OfKind(kind Kind, owned []Item) []Item {
	var list []Item
	for _, i := range owned {
		if i.Kind == kind {
			list = append(list, i)
		}
	}
	if len(list) > 0 {
		return list
	}
	for _, volume := range sizesOf(kind) {
		list = append(list, Item{Kind: kind, Volume: volume, Class: ClassA, Count: 1})
	}
	return list
}

// Division returns the smallest division in mL; 0 of glass with one mark.
func (i Item) Division() float64 { return i.graduation().division }

func (i Item) graduation() graduation {
	list := graduations[i.Kind]
	if k := slices.IndexFunc(list, func(g graduation) bool { return g.volume == i.Volume }); k >= 0 {
		return list[k]
	}
	return graduation{}
}

// Name is short: "10 mL graduated pipette", with its mark when it has one.
func (i Item) Name() string {
	text := strconv.FormatFloat(i.Volume, 'g', -1, 64) + " mL " + string(i.Kind)
	if i.Mark != "" {
		text += " " + i.Mark
	}
	return text
}

// source begins the sources of the glass itself: its error is the same every time
// it is used.
func (i Item) source() uncertain.Source {
	return uncertain.Source{ID: ScaleSource + i.Name() + " " + string(i.Class), Label: i.Name()}
}

// ScaleSource begins the ID of the error of a piece of glass. Pieces of one kind and size
// that carry no mark count as one piece, which is the safe side: their errors add up.
const ScaleSource = "glass "

// Reading returns a volume read on graduated glass, in mL, with its sources: the
// glass (certificate, or tolerance, triangular), and reading to a fifth of the
// smallest division (rectangular, common practice); id keeps the times apart.
func (i Item) Reading(mL float64, id string) uncertain.Number {
	nominal := i.Volume
	v := i.calibrated(nominal, i.Tolerance(), i.Standard(), i.source())
	v.Value = mL * v.Value / nominal
	return v.Plus(uncertain.WithLimits(0, i.Division()/5, uncertain.RectangularShape, uncertain.Source{
		ID: strings.TrimSpace("reading " + i.Name() + " " + id), Label: "reading the scale",
		Basis: fmt.Sprintf("a fifth of %g mL, rectangular", i.Division()),
	}))
}

// Delivered returns what a one-mark pipette delivers, in mL, with its sources: the
// glass, and setting the meniscus again each time (id keeps the times apart), taken
// as a third of the tolerance (common practice).
func (i Item) Delivered(id string) uncertain.Number {
	v := i.calibrated(i.Volume, i.Tolerance(), i.Standard(), i.source())
	return v.Plus(uncertain.New(0, i.Tolerance()/3, uncertain.Source{
		ID: "delivery " + id, Label: "setting and delivering", Basis: fmt.Sprintf("a third of ±%g mL", i.Tolerance()),
	}))
}

// Dispensed returns a volume let out of a burette or a graduated pipette between two
// readings, or of a piston pipette set to it, in mL, with its sources: the glass, and each reading to a fifth of the
// smallest division (rectangular, common practice); id keeps the times apart.
func (i Item) Dispensed(mL float64, id string) uncertain.Number {
	return i.Between(mL, id+" first", id+" last")
}

// Between is [Item.Dispensed] with a name for each of the two readings, so that volumes that begin
// at the same reading share its error.
func (i Item) Between(mL float64, first, last string) uncertain.Number {
	v := i.calibrated(i.Volume, i.Tolerance(), i.Standard(), i.source())
	if i.Kind == Syringe {
		v = i.calibrated(i.Volume, i.expelled(mL), i.Standard(), i.source())
	}
	v.Value = mL * v.Value / i.Volume
	if i.Kind == PistonPipette {
		return v.Plus(
			uncertain.New(
				0,
				pistonRandom*i.Tolerance(),
				uncertain.Source{ID: "delivery " + last, Label: "delivering", Basis: "random error, ISO 8655-2"},
			),
		)
	}
	basis := fmt.Sprintf("two readings, each a fifth of %g mL, rectangular", i.Division())
	for k, reading := range []string{first, last} {
		v = v.Plus(uncertain.WithLimits(0, float64(2*k-1)*i.Division()/5, uncertain.RectangularShape, uncertain.Source{
			ID: "reading " + reading, Label: "reading the scale", Basis: basis,
		}))
	}
	return v
}

// expelled is the tolerance ± in mL of a volume pushed out of a syringe: a part of it from half
// the nominal volume on, below that 1.5 % of the nominal volume and the rest of the part that
// joins both (ISO 7886-1:2017, table 1, from memory).
func (i Item) expelled(mL float64) float64 {
	part := i.Tolerance() / i.Volume
	if mL >= i.Volume/2 {
		return part * mL
	}
	return 0.015*i.Volume + (part-0.03)*mL
}

// Decimals is how many decimals in mL a fifth of a division is read with.
func (i Item) Decimals() int {
	return int(math.Max(0, math.Ceil(-math.Log10(i.Division()/5)-1e-9)))
}

// Handling says how a liquid is measured out with it (common practice; ISO 648 and ISO 835 for the
// waiting and the touching off of pipettes).
func (i Item) Handling() string {
	switch i.Kind {
	case OneMarkPipette, GraduatedPipette:
		return "With a bulb, the meniscus at eye level; let it run out, touch off the tip, do not blow out."
	case PistonPipette:
		return "A fresh tip, upright; draw slowly, touch off the tip, push to the second stop."
	case Burette:
		return "Funnel off, no bubble in the tip; read before and after at eye level, and touch off the drop."
	case Syringe:
		return "No bubble; push slowly, and read at the same edge of the plunger."
	}
	return "On a level bench, the meniscus at eye level; pour slowly and let it drain."
}
