package solution

import (
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

// portion is one vessel of solid on the pan, or one measure of liquid.
type portion struct {
	id         string  // of the fact that it was read in: its errors belong to it
	load, tare float64 // the two readings, in unit(); of a glass only the first
	removed    float64 // taken off again and discarded, in unit()
	spread     float64 // how far the reading still moved, in unit()
	short      bool    // fewer digits were recorded than the balance shows
}

// reading is the net reading, in unit().
func (p portion) reading() float64 { return p.load - p.tare }

// taking is what is taken of one solute.
type taking struct {
	*context
	portions []portion
	net      uncertain.Number // what all portions weigh, in g
	awaiting bool             // the next reading of the pan is asked for
	removing bool
	kept     bool
}

// summary says what was taken; of what, when there are several.
func (t *taking) summary(named bool) string {
	text, parts, removed := "Weighed ", 0, 0.0
	if t.byVolume {
		text = "Measured "
	}
	for _, p := range t.portions {
		if p.load != 0 {
			if parts++; parts > 1 {
				text += " + "
			}
			text += t.say(p.reading())
		}
		removed += p.removed
	}
	if parts > 1 {
		text += " = " + t.say(t.taken())
	}
	if named {
		text += " of " + t.solid.String()
	}
	if removed > 0 {
		text += ", " + t.say(removed) + " discarded"
	}
	return text
}

// taken is the sum of the readings, in unit().
func (t *taking) taken() float64 {
	sum := 0.0
	for _, p := range t.portions {
		sum += p.reading()
	}
	return sum
}

// mass is the sum of the portions, in g. What still moved when it was read counts
// as limits of half the spread.
func (t *taking) mass() uncertain.Number {
	sum := uncertain.Number{}
	for _, p := range t.portions {
		if p.load != 0 {
			sum = sum.Plus(t.netMass(p.load, p.tare, p.id))
		}
		if p.spread > 0 {
			sum = sum.Plus(t.Balance.Moved(p.spread, p.id))
		}
	}
	return sum
}

// used is what was taken of a solute out of its container, with what was taken off again: a liquid in mL.
func (t *taking) used() (amount float64, unit string) {
	sum := 0.0
	for _, p := range t.portions {
		if p.load != 0 {
			sum += p.reading() + p.removed
		}
	}
	switch {
	case t.byVolume:
		return sum, "mL"
	case t.Substance.Liquid:
		return sum / t.Substance.Density, "mL"
	}
	return sum, "g"
}

// used is what was taken out of the store.
func (a *account) used() []run.Used {
	var list []run.Used
	for i := range a.takings {
		amount, unit := a.takings[i].used()
		list = run.Use(list, a.takings[i].Substance.Key, amount, unit)
	}
	return list
}
