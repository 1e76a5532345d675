package solution

import (
	"fmt"
	"iter"

	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// Request is what is wanted and what it is made with. It holds everything the
// recipe depends on, so that a stored plan stays as it was when made.
type Request struct {
	Solute
	// Also is what else goes into the same flask, all of it solids.
	Also []Solute `json:"also,omitempty"`
	// SolutionDensity in g/mL within ±SolutionDensityLimits, for the bases by mass
	// of solution and for making up by mass; 0 when not needed.
	SolutionDensity       float64 `json:"solutionDensity,omitempty"`
	SolutionDensityLimits float64 `json:"solutionDensityLimits,omitempty"`
	// Dispense is how a concentrated liquid is taken: empty by weighing, or the kind
	// of glass it is measured with.
	Dispense glassware.Kind `json:"dispense,omitempty"`
	// Volume wanted; the recipe is for the flask that holds it.
	Volume quantity.Quantity `json:"volume"`
	MakeUp MakeUp            `json:"makeUp,omitempty"`
	// Glass is what the lab owns; none of a kind stands for every size of it.
	Glass      []glassware.Item `json:"glass,omitempty"`
	FlaskClass glassware.Class  `json:"flaskClass"`
	// InBatches splits the volume over several fillings; a volume that no flask holds
	// is split in any case. Batch says which of them this is, from 0.
	InBatches bool `json:"inBatches,omitempty"`
	Batch     int  `json:"batch,omitempty"`
	// Band is the half width of the acceptance band of the mass, as a fraction.
	Band float64 `json:"band"`
	// Wanted is the relative expanded uncertainty asked for; 0 when none is.
	Wanted  float64          `json:"wanted,omitempty"`
	Balance weighing.Balance `json:"balance"`
	// Balances are those that the lab could take instead.
	Balances []weighing.Balance `json:"balances,omitempty"`
	// WaterTemperature in °C, as on the bench when the plan was made. The plan
	// assumes 20 °C all the same, which the run is to come to.
	WaterTemperature float64 `json:"waterTemperature"`
	// Buoyancy reports whether masses are corrected for the buoyancy of the air.
	Buoyancy   bool               `json:"buoyancy"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// Solute is one substance of the solution and how strong it is to be.
type Solute struct {
	Substance substance.Substance `json:"substance"`
	// Assay is the mass fraction of the compound in the solid, within ±AssayLimits
	// (rectangular), both in g/g.
	Assay       float64 `json:"assay"`
	AssayLimits float64 `json:"assayLimits"`
	// DryingLoss is the mass fraction that the solid at hand would lose on drying and
	// that is weighed all the same, when the assay is that of the dried solid.
	DryingLoss float64 `json:"dryingLoss,omitempty"`
	// Waters is how much water of crystallisation the solid on the bottle at hand
	// has, when that is another hydrate than the substance; nil when it is the same.
	Waters *float64 `json:"waters,omitempty"`
	// Concentration wanted, on one of the bases: amount or mass concentration, mass
	// fraction, molality, equivalents.
	Concentration quantity.Quantity `json:"concentration"`
	// Of is the element or ion that the concentration counts; empty for the compound.
	Of string `json:"of,omitempty"`
	// EquivalentCount is how many equivalents one formula unit has in Reaction.
	EquivalentCount float64 `json:"equivalentCount,omitempty"`
	Reaction        string  `json:"reaction,omitempty"`
	// LiquidDensity is what the bottle of a concentrated liquid says, in g/mL; 0 takes
	// the library's.
	LiquidDensity float64 `json:"liquidDensity,omitempty"`
	// StatedMolarity is what the bottle of a concentrated liquid says instead of assay
	// and density, in mol/L within ±StatedMolarityLimits (rectangular); 0 when not.
	StatedMolarity       float64 `json:"statedMolarity,omitempty"`
	StatedMolarityLimits float64 `json:"statedMolarityLimits,omitempty"`
}

// MakeUp is how a solution gets its volume.
type MakeUp string

// To the mark of a flask; by weighing the solution, with its density, the more
// precise way; or by adding a measured volume of water, which is nominal: volumes
// are not additive.
const (
	ToTheMark MakeUp = ""
	ByMass    MakeUp = "mass"
	ByAdding  MakeUp = "adding"
)

// Limits of a temperature in °C: before it was measured in the flask, and after.
const (
	assumedTemperatureLimits  = 4.0
	measuredTemperatureLimits = 1.0
)

// liquidDensityLimits is how well the density on a bottle of concentrated liquid
// holds at the temperature of the day, as a fraction (common practice).
const liquidDensityLimits = 0.002

// unknownDensity stands for a solid whose density is not known, in g/mL: most
// salts and organic solids lie between 1.2 and 3.
const unknownDensity = 1.6

// dryingLossLimits is how well a loss on drying is known, as a fraction of it
// (common practice: one weighing before and after).
const dryingLossLimits = 0.2

// context is a checked request, seen from one of its solutes, with what is derived
// from it once.
type context struct {
	Request
	part    int              // 0, or the place in Also from 1
	formula formula.Formula  // the compound that is meant
	molar   uncertain.Number // g/mol of it
	solid   formula.Formula  // what is in the bottle at hand
	weighed uncertain.Number // g/mol of that
	nu      float64          // entities per formula unit
	entity  uncertain.Number // g/mol of the entity
	// anhydrous is the compound without its water, which counts as solvent.
	anhydrous formula.Formula
	basis     basis
	density   uncertain.Number // g/mL of the solution
	cupboard  glassware.Cupboard
	flask     glassware.Flask
	batches   []glassware.Flask
	exact     bool             // the flasks have the volume asked for
	added     glassware.Item   // what water is added with, when it is
	target    float64          // wanted, mol/L of the entity
	assay     uncertain.Number // g/g, of what is weighed
	buoyancy  uncertain.Number
	fallback  bool // buoyancy with an assumed density
	decimals  int
	byVolume  bool
	measure   glassware.Item
	liquid    uncertain.Number // g/mL of the concentrated liquid
	others    []context        // the solutes of Also
	// temperatureLimits is how well the temperature of the solution is known before it
	// is measured, in °C.
	temperatureLimits float64
}

// check reads the request; an error is a verdict.Problems with JSON pointers
// into the request.
func (r Request) check() (*context, error) {
	var p, vessel verdict.Problems
	c := &context{Request: r, cupboard: glassware.Flasks(r.Glass), temperatureLimits: assumedTemperatureLimits}
	c.checkVessel(&vessel)
	c.checkSolute("", &p)
	p = append(p, vessel...)
	for i, s := range r.Also {
		at := fmt.Sprintf("/also/%d", i)
		if s.Substance.Liquid {
			p.Add(at+"/substance/key", "a concentrated liquid is not mixed in with others: make it by itself, then dilute both together")
			continue
		}
		if len(p) > 0 {
			continue // the vessel or the first solute is not known yet
		}
		other := *c
		other.Solute, other.part, other.others = s, i+1, nil
		if other.checkSolute(at, &p); len(p) == 0 {
			c.others = append(c.others, other)
		}
	}
	if len(r.Also) > 0 && r.Substance.Liquid {
		p.Add("/substance/key", "a concentrated liquid is not mixed in with others: make it by itself, then dilute both together")
	}
	return c, p.OrNil()
}

// solutes goes through the solutes, the first one first.
func (c *context) solutes() iter.Seq[*context] {
	return func(yield func(*context) bool) {
		for i := -1; i < len(c.others); i++ {
			o := c
			if i >= 0 {
				o = &c.others[i]
			}
			if !yield(o) {
				return
			}
		}
	}
}

// maxAlso is how many solutes more than one a mixed standard has.
const maxAlso = 5

// The smallest and the largest volume planned at once, in mL.
const (
	minVolume = 0.1
	maxVolume = 60_000.0
)

// readBottle derives assay, buoyancy and density of what is taken.
func (c *context) readBottle() {
	c.assay = uncertain.WithLimits(c.Assay, c.AssayLimits, uncertain.RectangularShape, uncertain.Source{
		ID: "assay " + c.Substance.Key, Label: "assay", Basis: percents(c.Assay, c.AssayLimits),
	})
	if c.DryingLoss > 0 {
		c.assay = c.assay.Times(uncertain.WithLimits(1-c.DryingLoss, dryingLossLimits*c.DryingLoss, uncertain.RectangularShape, uncertain.Source{
			ID: "drying " + c.Substance.Key, Label: "loss on drying", Basis: percent4(c.DryingLoss) + " within a fifth of it, rectangular",
		}))
	}
	density := c.Substance.Density
	if density == 0 {
		density, c.fallback = unknownDensity, true
	}
	if c.fallback {
		c.buoyancy = weighing.NoBuoyancy(1000 * density)
	} else {
		c.buoyancy = c.buoyancyOf(density)
	}
}

// buoyancyOf returns m/W for a density in g/mL, corrected for or not as the lab does.
func (c *context) buoyancyOf(density float64) uncertain.Number {
	if c.Buoyancy {
		return weighing.Buoyancy(1000 * density)
	}
	return weighing.NoBuoyancy(1000 * density)
}

// unit is the unit of what is read off: g on the balance, mL on the glass.
func (c *context) unit() string {
	if c.byVolume {
		return "mL"
	}
	return "g"
}

// with names what it is read off.
func (c *context) with() string {
	if c.byVolume {
		return c.measure.Name()
	}
	return c.Balance.Name
}

// taking returns the reading to aim at in a flask, in unit().
func (c *context) taking(flask glassware.Flask) float64 {
	if c.byVolume {
		return c.reading(flask) / c.liquid.Value
	}
	return c.reading(flask)
}

// netMass turns a reading, in unit(), into a mass in g; tare is taken off a balance.
func (c *context) netMass(reading, tare float64, id string) uncertain.Number {
	if c.byVolume {
		return c.measure.Reading(reading, "").Times(c.liquid)
	}
	return c.Balance.Net(reading, tare, id)
}

// say writes a reading with its unit.
func (c *context) say(reading float64) string {
	return quantity.Digits(reading, c.decimals) + " " + c.unit()
}

// reading returns the net mass in g that gives the target in a flask.
func (c *context) reading(flask glassware.Flask) float64 {
	litres := flask.Actual() / 1000
	return c.target / c.nu * litres * c.weighed.Value / c.assay.Value / c.buoyancy.Value
}
