package buffer

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/formula"
	"vialbench/core/substance"
)

// slip is something that goes wrong: what is in the flask instead.
type slip struct {
	id, sentence string
	// about is what it happens to: nothing suffers two slips at once.
	about string
	// weight is how common it is beside the others (common practice).
	weight float64
	made   func(Made) Made
	// offMeter is the standard uncertainty of the reading itself.
	offMeter float64
	// remedy of one that has nothing to do with what is in the flask.
	remedy string
	// heavy reports that what was made has another strength than the label will say.
	heavy bool
}

// slips that a recipe can suffer; celsius is the temperature at which it was read.
func (r Request) slips(celsius float64, doubtfulMeter bool) []slip {
	var list []slip
	add := func(id, about string, weight float64, heavy bool, sentence string, made func(Made) Made) {
		list = append(list, slip{id: id, about: about, sentence: sentence, weight: weight, made: made, heavy: heavy})
	}
	a, b := r.Acid, r.Base
	ca, okA := a.Compound()
	cb, okB := b.Compound()
	pair := okA && okB && units(ca, r.System.Key) > 0 && units(cb, r.System.Key) > 0
	if pair {
		add(
			"ratio",
			"recipe",
			1,
			false,
			"The ratio is upside down: as much "+a.Substance.Name+" was taken as was meant of "+b.Substance.Name+", and the other way round.",
			func(m Made) Made { m.Acid, m.Base = m.Base, m.Acid; return m },
		)
		if a.Liquid() == b.Liquid() {
			factor := b.For(1) / a.For(1) // mol of the one in the mass or volume of a mol of the other
			add(
				"swapped",
				"recipe",
				0.6,
				false,
				"The two were mixed up: what was taken of "+a.String()+" was "+b.String()+", and the other way round.",
				func(m Made) Made { m.Acid, m.Base = m.Base*factor, m.Acid/factor; return m },
			)
			// What was meant of both came out of one of the two bottles.
			for role, i := range map[string]Ingredient{"acid": a, "base": b} {
				all := func(m Made) Made {
					if role == "acid" {
						m.Acid, m.Base = m.Acid+m.Base*b.For(1)/a.For(1), 0
					} else {
						m.Acid, m.Base = 0, m.Base+m.Acid*a.For(1)/b.For(1)
					}
					return m
				}
				add("both "+role, "recipe", 0.4, false, "Both came out of one bottle, that of "+i.String()+".", all)
			}
		}
	}
	r.arithmetic(add)
	for role, i := range map[string]Ingredient{"acid": a, "base": b} {
		name := i.Substance.Name
		scale := func(factor float64) func(Made) Made {
			return func(m Made) Made {
				if role == "acid" {
					m.Acid *= factor
				} else {
					m.Base *= factor
				}
				return m
			}
		}
		add("no "+role, role, 0.4, true, name+" was left out.", scale(0))
		add("twice "+role, role, 0.3, true, name+" went in twice.", scale(2))
		if i.Liquid() {
			add(
				"strong "+role,
				role,
				0.6,
				true,
				fmt.Sprintf("The stock of %s was ten times as strong: %s for %s mol/L.", name, trim(10*i.Molarity().Value), trim(i.Molarity().Value)),
				scale(10),
			)
			add(
				"weak "+role,
				role,
				0.6,
				true,
				fmt.Sprintf("The stock of %s was ten times as thin: %s for %s mol/L.", name, trim(i.Molarity().Value/10), trim(i.Molarity().Value)),
				scale(0.1),
			)
			continue
		}
		for _, other := range hydrates(i.Substance) {
			add(
				"hydrate "+role+" "+other.text,
				role,
				0.8,
				true,
				fmt.Sprintf("The bottle held %s, not %s.", other.text, i.Substance.Formula),
				scale(other.factor),
			)
		}
	}
	if r.swapped() {
		add("acid for base", "recipe", 0.4, true, "Acid and base were mixed up.", func(m Made) Made {
			if cb.Strong() > 0 {
				m.StrongAcid, m.Base = m.StrongAcid+m.Base, 0
			} else {
				m.StrongBase, m.Acid = m.StrongBase+m.Acid, 0
			}
			return m
		})
	}
	add("adjusted the wrong way", "adjusting", 0.6, false, "Acid was added for base, or base for acid, when it was brought to its pH.",
		func(m Made) Made { m.StrongAcid, m.StrongBase = m.StrongBase, m.StrongAcid; return m })
	if !r.byVolume() {
		add("past the mark", "volume", 0.3, true, "The flask was filled far past the mark, by a tenth.",
			func(m Made) Made { m.Volume *= 1.1; return m })
	}
	add("air", "air", 0.3, false, "It took up carbon dioxide, half a millimole in a litre.",
		func(m Made) Made { m.Carbonic += 0.5e-6 * m.Volume; return m })
	for _, mmol := range []float64{2, 5, 10} { // what base that stood open has taken up
		add(fmt.Sprintf("air %g", mmol), "air", 0.1, false,
			fmt.Sprintf("The base has taken up carbon dioxide where it stood open, %g mmol/L of it in the end.", mmol),
			func(m Made) Made { m.Carbonic += mmol * 1e-6 * m.Volume; return m })
	}
	for _, other := range []struct{ degrees, weight float64 }{
		{celsius - 10, 0.2}, {celsius + 10, 0.2}, {coldRoom, 0.1}, {usualRoom, 0.1}, {25, 0.1}, {bodyWarm, 0.1},
	} {
		degrees := other.degrees - celsius
		if math.Abs(degrees) < 4 || slices.ContainsFunc(list, func(s slip) bool { return s.id == fmt.Sprintf("%+g °C", degrees) }) {
			continue
		}
		list = append(list, slip{
			id:       fmt.Sprintf("%+g °C", degrees),
			about:    "temperature",
			weight:   other.weight,
			sentence: fmt.Sprintf("It was %s °C, not %s °C, when it was read.", trim(other.degrees), trim(celsius)),
			remedy:   fmt.Sprintf("Let it come to %s °C, and read it again before anything is added.", trim(r.MadeAt)),
			made:     func(m Made) Made { m.Celsius += degrees; return m },
		})
	}
	if doubtfulMeter {
		list = append(list, slip{
			id:       "meter",
			about:    "meter",
			weight:   0.5,
			sentence: "The meter is off: calibrate it, and read again.",
			remedy:   "Calibrate, and read it again before anything is added.",
			offMeter: 0.15,
			made:     func(m Made) Made { return m },
		})
	}
	slices.SortStableFunc(list, func(a, b slip) int { return strings.Compare(a.id, b.id) }) // maps have no order
	return list
}

// Temperatures in °C at which a buffer may be read: in the cold room, in the usual one, in a bath.
const coldRoom, usualRoom, bodyWarm = 4.0, 20.0, 37.0

// part is how an ingredient brings a system: units, and protons that each has given off.
type part struct{ units, lost float64 }

func (r Request) partOf(i Ingredient) part {
	c, ok := i.Compound()
	if !ok || units(c, r.System.Key) == 0 {
		return part{}
	}
	n := units(c, r.System.Key)
	return part{n, c.Lost() / n}
}

// given is how much of the system there is in mol, and how many protons each unit has given off on
// average by what was taken.
func (r Request) given(m Made) (total, lost float64) {
	a, b := r.partOf(r.Acid), r.partOf(r.Base)
	total = m.Acid*a.units + m.Base*b.units
	lost = (m.Acid*a.units*a.lost + m.Base*b.units*b.lost) / total
	if a.units == 0 { // a strong acid
		lost -= m.Acid / total
	}
	if b.units == 0 { // a strong base
		lost += m.Base / total
	}
	return total, lost
}

// taking is what somebody takes who works out that so many protons are given off on average.
func (r Request) taking(m Made, lost float64) Made {
	total, _ := r.given(m)
	a, b := r.partOf(r.Acid), r.partOf(r.Base)
	switch {
	case a.units > 0 && b.units > 0:
		m.Base = total / b.units * (lost - a.lost) / (b.lost - a.lost)
		m.Acid = (total - m.Base*b.units) / a.units
	case a.units > 0:
		m.Base = total * (lost - a.lost)
	default:
		m.Acid = total * (b.lost - lost)
	}
	m.Acid, m.Base = math.Max(0, m.Acid), math.Max(0, m.Base)
	return m
}

// arithmetic adds the slips of the arithmetic before the bench, of salts and of strong acid and
// base alike.
func (r Request) arithmetic(add func(id, about string, weight float64, heavy bool, sentence string, made func(Made) Made)) {
	a, b := r.partOf(r.Acid), r.partOf(r.Base)
	if a.units+b.units == 0 || a.units == 0 && !r.swapped() || b.units == 0 && !r.swapped() {
		return
	}
	step, nearest := r.System.Step(r.Target, r.Celsius)
	neighbours := a.units > 0 && b.units > 0 && math.Abs(b.lost-a.lost-1) < 1e-9
	if r.swapped() {
		add(
			"ratio",
			"recipe",
			1,
			false,
			"The ratio is upside down: as much acid as was meant of base, and the other way round.",
			func(m Made) Made {
				_, lost := r.given(m)
				return r.taking(m, 2*float64(step)+1-lost)
			},
		)
	}
	for i, c := range r.System.Constants {
		pKa := c.At(r.Celsius)
		base := 1 / (1 + math.Pow(10, pKa-r.Target))
		sentence := fmt.Sprintf("It was calculated with the wrong pKa, %.2f.", pKa)
		switch {
		case i != step:
			add(fmt.Sprintf("pKa %d", i+1), "recipe", 0.2, false, sentence, func(m Made) Made { return r.taking(m, float64(step)+base) })
		case a.units > 0 && b.units > 0 && !neighbours:
			add(fmt.Sprintf("pKa %d", i+1), "recipe", 0.3, false,
				fmt.Sprintf("The two were treated as neighbours with the pKa %.2f; they are %.0f protons apart.", pKa, b.lost-a.lost),
				func(m Made) Made { return r.taking(m, a.lost+base*(b.lost-a.lost)) })
		}
	}
	if usual := r.System.Constants[step].At(25); math.Abs(usual-nearest) > 0.01 {
		add(
			"25 °C",
			"recipe",
			0.6,
			false,
			fmt.Sprintf("It was calculated with the pKa at 25 °C, %.2f, for %.2f at %s °C.", usual, nearest, trim(r.Celsius)),
			func(m Made) Made {
				_, lost := r.given(m)
				part := math.Min(math.Max(lost-float64(step), 1e-6), 1-1e-6)
				ratio := part / (1 - part) * math.Pow(10, nearest-usual)
				return r.taking(m, float64(step)+ratio/(1+ratio))
			},
		)
	}
	for _, form := range []string{"acid", "base"} {
		add(
			"partner "+form,
			"concentration",
			0.3,
			true,
			"The concentration was treated as that of the "+form+" alone: there is more of both.",
			func(m Made) Made {
				_, lost := r.given(m)
				part := lost - float64(step) // of the base
				if form == "acid" {
					part = 1 - part
				}
				if part > 0.05 && part < 1 {
					m.Acid, m.Base = m.Acid/part, m.Base/part
				}
				return m
			},
		)
	}
}

// swapped reports that one of the ingredients is a strong acid or base.
func (r Request) swapped() bool {
	for _, i := range []Ingredient{r.Acid, r.Base} {
		if c, ok := i.Compound(); ok && c.Strong() != 0 {
			return true
		}
	}
	return false
}

type hydrate struct {
	text   string
	factor float64 // of the amount, when the same mass is taken
}

// hydrates are the other forms of a solid that stand on a shelf.
func hydrates(s substance.Substance) []hydrate {
	meant, err := formula.Parse(s.Formula)
	if err != nil {
		return nil
	}
	dry, err := meant.WithWaters(0)
	if err != nil {
		return nil
	}
	var list []hydrate
	for _, other := range substance.Library() {
		f, err := formula.Parse(other.Formula)
		if err != nil || other.Liquid || f.Waters() == meant.Waters() {
			continue
		}
		if d, err := f.WithWaters(0); err == nil && d.String() == dry.String() {
			list = append(list, hydrate{f.String(), meant.MolarMass().Value / f.MolarMass().Value})
		}
	}
	return list
}
