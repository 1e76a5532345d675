package solution

import (
	"fmt"
	"iter"
	"math"
	"strconv"

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

// checkVessel reads what all solutes share: volume, flasks, balance, bench.
func (c *context) checkVessel(p *verdict.Problems) {
	r := &c.Request
	mL := r.Volume.In("mL")
	switch {
	case r.Volume.Unit.Dimension != quantity.Volume:
		p.Add("/volume", "a volume is in mL or L, not in %s", r.Volume.Unit.Symbol)
	case r.FlaskClass != glassware.ClassA && r.FlaskClass != glassware.ClassB:
		p.Add("/flaskClass", "a flask is of class A or class B, not “%s”", r.FlaskClass)
	case !(mL >= minVolume && mL <= maxVolume):
		p.Add("/volume", "a volume is at least %g mL and at most %g L", minVolume, maxVolume/1000)
	case r.MakeUp == ToTheMark:
		c.checkFlasks(mL, p)
	case r.MakeUp != ByMass && r.MakeUp != ByAdding:
		p.Add("/makeUp", "a solution is made up to the mark, by mass or by adding water, not by “%s”", r.MakeUp)
	default:
		c.flask, c.exact = glassware.Flask{Volume: mL, Class: r.FlaskClass}, true
		c.batches = []glassware.Flask{c.flask}
		if r.MakeUp == ByMass && r.SolutionDensity == 0 {
			p.Add(
				"/solutionDensity",
				"making up by mass needs the density of the solution, in g/mL: look it up for this strength, or make it up in a flask",
			)
		}
		c.added = glassware.Largest(glassware.Cylinder, mL, r.Glass)
	}
	if !(r.Band >= 0.0005 && r.Band <= 0.2) {
		p.Add("/band", "the band of the mass is between ±0.05 %% and ±20 %%")
	}
	if !(r.Wanted >= 0 && r.Wanted < 1) {
		p.Add("/wanted", "the uncertainty asked for is between 0 and 100 %%; leave it empty when none is")
	}
	if err := r.Balance.Check(); err != nil {
		p.Add("/balance", "%s", err)
	}
	if !(r.WaterTemperature >= glassware.MinTemperature && r.WaterTemperature <= glassware.MaxTemperature) {
		p.Add("/waterTemperature", "the water is between 0 and 40 °C")
	}
	if len(r.Also) > maxAlso {
		p.Add("/also", "a mixed standard has at most %d substances", maxAlso+1)
	}
}

// The smallest and the largest volume planned at once, in mL.
const (
	minVolume = 0.1
	maxVolume = 60_000.0
)

// checkFlasks finds the flask, or the flasks of the batches.
func (c *context) checkFlasks(mL float64, p *verdict.Problems) {
	flask, exact, err := c.cupboard.For(mL, c.FlaskClass)
	if err == nil && !c.InBatches {
		c.flask, c.exact, c.batches = flask, exact, []glassware.Flask{flask}
		return
	}
	if c.batches, err = c.cupboard.Split(mL, c.FlaskClass); err != nil {
		field := "/volume"
		if len(c.cupboard.Volumes(c.FlaskClass)) == 0 {
			field = "/flaskClass"
		}
		p.Add(field, "%s", err)
		return
	}
	sum := 0.0
	for _, f := range c.batches {
		sum += f.Volume
	}
	c.exact = math.Abs(sum-mL) <= 1e-9*mL
	if c.Batch < 0 || c.Batch >= len(c.batches) {
		p.Add("/batch", "there are %d batches", len(c.batches))
		return
	}
	c.flask = c.batches[c.Batch]
}

// checkSolute reads one solute; at is the JSON pointer that it stands at.
func (c *context) checkSolute(at string, p *verdict.Problems) {
	var err error
	c.nu = 1
	if c.Substance.Mixture != "" {
		p.Add(at+"/substance/key", "%s is a mixture (%s): weighing it gives no concentration", c.Substance.Name, c.Substance.Mixture)
		return
	}
	if c.formula, err = formula.Parse(c.Substance.Formula); err != nil {
		p.Add(at+"/substance/formula", "%s", err)
	} else if c.formula.Charge != 0 {
		p.Add(at+"/substance/formula", "an ion alone cannot be weighed: write the whole salt")
	}
	c.checkBottle(at, p)
	if !(c.Concentration.Value > 0) || math.IsInf(c.Concentration.Value, 0) {
		p.Add(at+"/concentration", "a concentration is above zero, like 0.1 mol/L")
	}
	if len(*p) > 0 {
		return
	}

	c.molar = c.formula.MolarMass()
	c.entity = c.molar
	c.solid, c.weighed = c.formula, c.molar
	if c.Waters != nil {
		if c.solid, err = c.formula.WithWaters(*c.Waters); err != nil {
			p.Add(at+"/waters", "%s", err)
			return
		}
		c.weighed = c.solid.MolarMass()
	}
	if c.anhydrous, err = c.formula.WithWaters(0); err != nil {
		p.Add(at+"/substance/formula", "%s", err)
		return
	}
	if err := c.readOf(); err != nil {
		p.Add(at+"/of", "%s", err)
		return
	}
	var basisProblems verdict.Problems
	if c.readBasis(&basisProblems); len(basisProblems) > 0 {
		for _, problem := range basisProblems {
			p.Add(at+problem.Field, "%s", problem.Reason)
		}
		return
	}
	c.decimals = c.Balance.Decimals()
	c.readBottle()
	if c.Dispense != "" && c.flask.Volume > 0 {
		c.checkDispense(at, p)
	}
}

// maxAssay is the largest assay that can be meant: a titration of a pure substance may find
// a little more than 100 %, and labels say so.
const maxAssay = 1.02

// checkBottle reads what the label of the bottle at hand says.
func (c *context) checkBottle(at string, p *verdict.Problems) {
	liquid := c.Substance.Liquid
	if liquid && c.Waters != nil {
		p.Add(at+"/waters", "a concentrated liquid has no water of crystallisation")
	}
	if c.Dispense != "" && !liquid {
		p.Add(at+"/dispense", "a solid is weighed: only a concentrated liquid is measured by volume")
	}
	c.checkLiquid(at, p)
	if !(c.Assay > 0 && c.Assay <= maxAssay) {
		p.Add(
			at+"/assay",
			"an assay is above 0 and at most %g %% w/w, as the label of the bottle says; 100 %% when it says nothing",
			100*maxAssay,
		)
	} else if !(c.AssayLimits >= 0 && c.AssayLimits < c.Assay) {
		p.Add(at+"/assayLimits", "the limits of the assay are zero or more, and less than the assay")
	}
	if !(c.DryingLoss >= 0 && c.DryingLoss < 0.9) || c.DryingLoss > 0 && liquid {
		p.Add(at+"/dryingLoss", "the loss on drying of a solid is between 0 and 90 %% w/w; 0 when it was dried")
	}
}

// checkLiquid notes what is wrong with what the bottle of a concentrated liquid says
// besides its assay, and takes its density over.
func (c *context) checkLiquid(at string, p *verdict.Problems) {
	liquid := c.Substance.Liquid
	if c.LiquidDensity != 0 {
		switch {
		case !liquid:
			p.Add(at+"/liquidDensity", "a solid is weighed: its density is not asked for")
		case !(c.LiquidDensity >= 0.5 && c.LiquidDensity <= 3):
			p.Add(at+"/liquidDensity", "the density of a concentrated liquid is between 0.5 and 3 g/mL, as its bottle says")
		default:
			c.Substance.Density = c.LiquidDensity
		}
	}
	switch {
	case c.StatedMolarity == 0:
	case !liquid:
		p.Add(at+"/statedMolarity", "a solid has an assay, not a molarity")
	case !(c.StatedMolarity > 0 && c.StatedMolarity <= 60):
		p.Add(at+"/statedMolarity", "the molarity on the bottle of a concentrated liquid is above 0 and at most 60 mol/L")
	case !(c.StatedMolarityLimits >= 0 && c.StatedMolarityLimits < c.StatedMolarity):
		p.Add(at+"/statedMolarityLimits", "the limits of the molarity are zero or more, and less than it")
	case c.Dispense == "":
		p.Add(
			at+"/dispense",
			"a liquid with a stated molarity is measured by volume: choose pipette or cylinder, or give assay and density and weigh it",
		)
	}
}

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

// checkDispense finds the glass for a liquid that is measured by volume.
func (c *context) checkDispense(at string, p *verdict.Problems) {
	c.byVolume, c.buoyancy = true, uncertain.Exact(1)
	density := c.Substance.Density
	c.liquid = uncertain.WithLimits(density, liquidDensityLimits*density, uncertain.RectangularShape, uncertain.Source{
		ID:    substance.DensitySource + c.Substance.Key,
		Label: "density of the liquid",
		Basis: fmt.Sprintf("%g g/mL ± %g %%, rectangular", density, 100*liquidDensityLimits),
	})
	if c.StatedMolarity > 0 { // so many g of the pure compound in a mL
		c.assay = uncertain.Exact(1)
		c.liquid = uncertain.WithLimits(c.StatedMolarity, c.StatedMolarityLimits, uncertain.RectangularShape, uncertain.Source{
			ID:    "molarity " + c.Substance.Key,
			Label: "molarity on the bottle",
			Basis: fmt.Sprintf("%g ± %g mol/L, rectangular", c.StatedMolarity, c.StatedMolarityLimits),
		}).
			Times(c.weighed).Scale(1e-3)
	}
	var err error
	if c.measure, err = glassware.MeasureFor(c.Dispense, c.reading(c.flask)/c.liquid.Value, c.Glass); err != nil {
		p.Add(at+"/dispense", "%s", err)
		return
	}
	c.decimals = c.measure.Decimals()
}

// percents writes a fraction and its limits: "99.95 % ± 0.05 %, rectangular".
func percents(fraction, limits float64) string {
	var room [48]byte
	text := strconv.AppendFloat(room[:0], 100*fraction, 'g', 4, 64)
	text = strconv.AppendFloat(append(text, " % ± "...), 100*limits, 'g', 4, 64)
	return string(append(text, " %, rectangular"...))
}

func percent4(fraction float64) string { return strconv.FormatFloat(100*fraction, 'g', 4, 64) + " %" }

func symbols(f formula.Formula) string {
	text := ""
	for i, e := range f.Elements {
		if i > 0 {
			text += ", "
		}
		text += e.Symbol
	}
	return text
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
		return c.measure.Reading(reading).Times(c.liquid)
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
