package solution

import (
	"fmt"
	"math"
	"strconv"

	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

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
