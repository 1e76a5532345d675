package dilution

import (
	"slices"
	"strconv"
	"strings"

	"vialbench/core/glassware"
	"vialbench/core/uncertain"
	"vialbench/core/weighing"
)

// weighed is the volume in mL of a portion that the balance showed, or is to show, as
// so many grams: m = W·b, V = m/ρ (package weighing has b).
func (r Request) weighed(grams, spread float64, id string) uncertain.Number {
	mass := r.Balance.Net(grams, 0, id)
	if spread > 0 {
		mass = mass.Plus(r.Balance.Moved(spread, id))
	}
	return mass.Times(weighing.Buoyancy(1000 * r.Stock.Density)).Over(r.Stock.density())
}

// grams is what the balance shows of a volume in mL of the stock.
func (r Request) grams(mL float64) float64 {
	return mL * r.Stock.Density / weighing.Buoyancy(1000*r.Stock.Density).Value
}

// volumes of a rung, in mL at 20 °C: taken and final. made, when not nil, is what was
// read at the bench instead of what was planned.
func (r Request) volumes(i int, made *made, at expansions) (taken, final uncertain.Number) {
	rung := r.Rungs[i]
	id := "rung " + strconv.Itoa(i+1)
	if made != nil && made.id != "" {
		id = made.id
	}
	taken = r.taken(rung, made, id)
	switch {
	case rung.Weighed: // its density is that at 20 °C
	case rung.From == FromStock:
		taken = taken.Times(at.stock)
	default:
		taken = taken.Times(at.solvent)
	}
	if rung.Flask != nil {
		return taken, rung.Flask.Filled(id).Times(at.solvent)
	}
	final = taken
	if rung.Solvent > 0 {
		mL := rung.Solvent
		if made != nil && made.solvent != nil {
			mL = *made.solvent
		}
		solvent := rung.SolventWith.Dispensed(mL, "solvent "+id)
		if !r.OneBurette { // another piece, with an error of its own
			solvent = renamed(solvent, glassware.ScaleSource, " of the solvent")
		}
		final = final.Plus(solvent.Times(at.solvent))
	}
	return taken, final
}

// taken is the volume of one portion as its scale or mark says, at the temperature of the
// work; that of a weighed one at 20 °C.
func (r Request) taken(rung Rung, made *made, id string) (taken uncertain.Number) {
	switch {
	case rung.Taken == 0:
	case rung.Weighed:
		grams, spread := r.grams(rung.Taken), 0.0
		if made != nil && made.grams != nil {
			grams, spread = *made.grams, made.spread
		}
		taken = r.weighed(grams, spread, id)
	case rung.With.Kind == glassware.OneMarkPipette:
		for n := range rung.Times {
			taken = taken.Plus(rung.With.Delivered(id + " " + strconv.Itoa(n+1)))
		}
	default:
		mL := rung.Taken
		if made != nil && made.taken != nil {
			mL = *made.taken
		}
		taken = rung.With.Dispensed(mL, id)
	}
	return taken
}

// renamed gives the sources that begin in one way another end.
func renamed(n uncertain.Number, prefix, end string) uncertain.Number {
	n.Contributions = slices.Clone(n.Contributions)
	for i, c := range n.Contributions {
		if strings.HasPrefix(c.ID, prefix) {
			n.Contributions[i].ID += end
		}
	}
	n.Contributions = sorted(n.Contributions)
	return n
}

func sorted(list []uncertain.Contribution) []uncertain.Contribution {
	slices.SortFunc(list, func(a, b uncertain.Contribution) int { return strings.Compare(a.ID, b.ID) })
	return list
}

// expansions bring volumes to 20 °C: of the stock, and of the solvent and all that is
// made with it.
type expansions struct{ stock, solvent uncertain.Number }

// expansions at what was measured at the bench, or at the temperature of the plan.
func (r Request) expansions(measured *float64) expansions {
	t := r.WaterTemperature
	if measured != nil {
		t = *measured
	}
	stock := glassware.Expansion(t, temperatureLimits, "stock")
	if r.Stock.Concentrate { // not water
		stock = glassware.LiquidExpansion(t, temperatureLimits, "stock")
	}
	return expansions{stock, glassware.Expansion(t, temperatureLimits, "solvent")}
}

// made is what is known of a rung from the bench.
type made struct {
	id             string   // of the facts that its errors belong to
	taken, solvent *float64 // mL
	grams          *float64 // of a portion that is weighed, as the balance shows it
	spread         float64  // g, how far that reading still moved
}

// concentrations computes all rungs; made, when not nil, has one entry for each.
func (r Request) concentrations(from []*made, at expansions) []uncertain.Number {
	list := make([]uncertain.Number, len(r.Rungs))
	for i, rung := range r.Rungs {
		var m *made
		if from != nil {
			m = from[i]
		}
		taken, final := r.volumes(i, m, at)
		source := r.Stock.Concentration
		if rung.From != FromStock {
			source = list[rung.From]
		}
		switch {
		case rung.Taken == 0:
		case rung.Flask == nil && rung.Solvent == 0: // undiluted: nothing cancels out of nothing
			list[i] = source
		default:
			list[i] = source.Times(taken).Over(final)
		}
	}
	return list
}
