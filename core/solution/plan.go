package solution

import (
	"fmt"
	"math"
	"slices"

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
	Substance substance.Substance `json:"substance"`
	// Assay is the mass fraction of the compound in the solid, within ±AssayLimits
	// (rectangular), both in g/g.
	Assay       float64 `json:"assay"`
	AssayLimits float64 `json:"assayLimits"`
	// Waters is how much water of crystallisation the solid on the bottle at hand
	// has, when that is another hydrate than the substance; nil when it is the same.
	Waters *float64 `json:"waters,omitempty"`
	// Concentration wanted, on one of the bases: amount or mass concentration, mass
	// fraction, molality, equivalents.
	Concentration quantity.Quantity `json:"concentration"`
	// Of is the element or ion that the concentration counts; empty for the compound.
	Of string `json:"of,omitempty"`
	// SolutionDensity in g/mL within ±SolutionDensityLimits, for the bases by mass
	// of solution; 0 when not needed.
	SolutionDensity       float64 `json:"solutionDensity,omitempty"`
	SolutionDensityLimits float64 `json:"solutionDensityLimits,omitempty"`
	// EquivalentCount is how many equivalents one formula unit has in Reaction.
	EquivalentCount float64 `json:"equivalentCount,omitempty"`
	Reaction        string  `json:"reaction,omitempty"`
	// Dispense is how a concentrated liquid is taken: empty by weighing, or the kind
	// of glass it is measured with.
	Dispense glassware.MeasureKind `json:"dispense,omitempty"`
	// LiquidDensity is what the bottle of a concentrated liquid says, in g/mL; 0 takes
	// the library's.
	LiquidDensity float64 `json:"liquidDensity,omitempty"`
	// Volume wanted; the recipe is for the flask that holds it.
	Volume     quantity.Quantity `json:"volume"`
	FlaskClass glassware.Class   `json:"flaskClass"`
	// Band is the half width of the acceptance band of the mass, as a fraction.
	Band    float64          `json:"band"`
	Balance weighing.Balance `json:"balance"`
	// WaterTemperature in °C, as on the bench when the plan was made. The plan
	// reckons with 20 °C all the same, which the run is to come to.
	WaterTemperature float64 `json:"waterTemperature"`
	// Buoyancy tells whether masses are corrected for the buoyancy of the air.
	Buoyancy   bool               `json:"buoyancy"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

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

// Figure is one computed quantity, with the text that a screen or a label shows.
type Figure struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Unit  string `json:"unit"`
	uncertain.Number
	// Expanded is U, k = 2, in Unit.
	Expanded float64 `json:"expanded"`
	Text     string  `json:"text"`
	UText    string  `json:"uText"`
	// Budget lists what adds to U, the largest first.
	Budget []uncertain.Share `json:"budget"`
}

func figure(id, label, unit string, n uncertain.Number) Figure {
	text, uText := quantity.Round(n.Value, n.Expanded())
	return Figure{id, label, unit, n, n.Expanded(), text, uText, n.Budget()}
}

// Recipe is what to do for a request.
type Recipe struct {
	Formula   []formula.Piece `json:"formula"`
	MolarMass Figure          `json:"molarMass"`
	Flask     glassware.Flask `json:"flask"`
	Neck      float64         `json:"neck"` // mm
	// Take is the reading to aim at, in Unit (g or mL); Low and High the band. With
	// names the balance or the glass.
	Take     float64 `json:"take"`
	TakeText string  `json:"takeText"`
	Unit     string  `json:"unit"`
	With     string  `json:"with"`
	Low      float64 `json:"low"`
	High     float64 `json:"high"`
	Decimals int     `json:"decimals"`
	// Figures are what exactly that mass would give.
	Figures  []Figure          `json:"figures"`
	Verdicts []verdict.Verdict `json:"verdicts"`
	Cautions []string          `json:"cautions"`
}

// context is a checked request with what is derived from it once.
type context struct {
	Request
	formula  formula.Formula  // the compound that is meant
	molar    uncertain.Number // g/mol of it
	solid    formula.Formula  // what is in the bottle at hand
	weighed  uncertain.Number // g/mol of that
	nu       float64          // entities per formula unit
	entity   uncertain.Number // g/mol of the entity
	basis    basis
	density  uncertain.Number // g/mL of the solution
	flask    glassware.Flask
	exact    bool    // the flask has the volume asked for
	target   float64 // wanted, mol/L of the entity
	assay    uncertain.Number
	buoyancy uncertain.Number
	fallback bool // buoyancy with an assumed density
	decimals int
	byVolume bool
	measure  glassware.Measure
	liquid   uncertain.Number // g/mL of the concentrated liquid
}

// check reads the request; an error is a verdict.Problems with JSON pointers
// into the request.
func (r Request) check() (context, error) {
	var p verdict.Problems
	c := context{Request: r, nu: 1}
	var err error
	if c.formula, err = formula.Parse(r.Substance.Formula); err != nil {
		p.Add("/substance/formula", "%s", err)
	} else if c.formula.Charge != 0 {
		p.Add("/substance/formula", "an ion alone cannot be weighed: write the whole salt")
	}
	if r.Substance.Liquid && r.Waters != nil {
		p.Add("/waters", "a concentrated liquid has no water of crystallisation")
	}
	if r.Dispense != "" && !r.Substance.Liquid {
		p.Add("/dispense", "a solid is weighed: only a concentrated liquid is measured by volume")
	}
	if r.LiquidDensity != 0 {
		switch {
		case !r.Substance.Liquid:
			p.Add("/liquidDensity", "a solid is weighed: its density is not asked for")
		case !(r.LiquidDensity >= 0.5 && r.LiquidDensity <= 3):
			p.Add("/liquidDensity", "the density of a concentrated liquid is between 0.5 and 3 g/mL, as its bottle says")
		default:
			c.Substance.Density = r.LiquidDensity
		}
	}
	if !(r.Assay > 0 && r.Assay <= 1) {
		p.Add("/assay", "an assay is above 0 and at most 100 %% w/w, as the label of the bottle says; 100 %% when it says nothing")
	} else if !(r.AssayLimits >= 0 && r.AssayLimits < r.Assay) {
		p.Add("/assayLimits", "the limits of the assay are zero or more, and less than the assay")
	}
	if !(r.Concentration.Value > 0) || math.IsInf(r.Concentration.Value, 0) {
		p.Add("/concentration", "a concentration is above zero, like 0.1 mol/L")
	}
	if r.Volume.Unit.Dimension != quantity.Volume {
		p.Add("/volume", "a volume is in mL or L, not in %s", r.Volume.Unit.Symbol)
	} else if c.flask, c.exact, err = glassware.FlaskFor(r.Volume.In("mL"), r.FlaskClass); err != nil {
		field := "/volume"
		if r.FlaskClass != glassware.ClassA && r.FlaskClass != glassware.ClassB {
			field = "/flaskClass"
		}
		p.Add(field, "%s", err)
	}
	if !(r.Band >= 0.0005 && r.Band <= 0.2) {
		p.Add("/band", "the band of the mass is between ±0.05 %% and ±20 %%")
	}
	if err := r.Balance.Check(); err != nil {
		p.Add("/balance", "%s", err)
	}
	if !(r.WaterTemperature >= glassware.MinTemperature && r.WaterTemperature <= glassware.MaxTemperature) {
		p.Add("/waterTemperature", "the water is between 0 and 40 °C")
	}
	if len(p) > 0 {
		return c, p
	}

	c.molar = c.formula.MolarMass()
	c.entity = c.molar
	c.solid = c.formula
	if r.Waters != nil {
		if c.solid, err = c.formula.WithWaters(*r.Waters); err != nil {
			p.Add("/waters", "%s", err)
			return c, p
		}
	}
	c.weighed = c.solid.MolarMass()
	if r.Of != "" {
		part, err := formula.Parse(r.Of)
		if err != nil {
			p.Add("/of", "%s", err)
			return c, p
		}
		if c.nu = c.formula.Contains(part); c.nu == 0 {
			p.Add("/of", "there is no %s in %s: choose one of %s, or an ion made of them", r.Of, c.formula, symbols(c.formula))
			return c, p
		}
		c.entity = part.MolarMass()
	}
	if c.readBasis(&p); len(p) > 0 {
		return c, p
	}
	c.assay = uncertain.WithLimits(r.Assay, r.AssayLimits, uncertain.RectangularShape, uncertain.Source{
		ID: "assay " + r.Substance.Key, Label: "assay", Basis: fmt.Sprintf("%.4g %% ± %.2g %%, rectangular", 100*r.Assay, 100*r.AssayLimits)})
	density := c.Substance.Density
	if density == 0 {
		density, c.fallback = unknownDensity, true
	}
	if r.Buoyancy && !c.fallback {
		c.buoyancy = weighing.Buoyancy(1000 * density)
	} else {
		c.buoyancy = weighing.NoBuoyancy(1000 * density)
	}
	c.decimals = r.Balance.Decimals()
	if r.Dispense != "" {
		c.byVolume, c.buoyancy = true, uncertain.Exact(1)
		c.liquid = uncertain.WithLimits(density, liquidDensityLimits*density, uncertain.RectangularShape, uncertain.Source{
			ID: "density " + r.Substance.Key, Label: "density of the liquid", Basis: fmt.Sprintf("%g g/mL ± %g %%, rectangular", density, 100*liquidDensityLimits)})
		if c.measure, err = glassware.MeasureFor(r.Dispense, c.reading(c.flask)/density); err != nil {
			p.Add("/dispense", "%s", err)
			return c, p
		}
		c.decimals = int(math.Max(0, math.Ceil(-math.Log10(c.measure.Division()/5)-1e-9)))
	}
	return c, nil
}

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
func (c context) unit() string {
	if c.byVolume {
		return "mL"
	}
	return "g"
}

// with names what it is read off.
func (c context) with() string {
	if c.byVolume {
		return c.measure.String()
	}
	return c.Balance.Name
}

// taking returns the reading to aim at in a flask, in unit().
func (c context) taking(flask glassware.Flask) float64 {
	if c.byVolume {
		return c.reading(flask) / c.liquid.Value
	}
	return c.reading(flask)
}

// netMass turns a reading, in unit(), into a mass in g; tare is taken off a balance.
func (c context) netMass(reading, tare float64, id string) uncertain.Number {
	if c.byVolume {
		return c.measure.Reading(reading).Times(c.liquid)
	}
	return c.Balance.Net(reading, tare, id)
}

// say writes a reading with its unit.
func (c context) say(reading float64) string {
	return quantity.Digits(reading, c.decimals) + " " + c.unit()
}

// reading returns the net mass in g that gives the target in a flask.
func (c context) reading(flask glassware.Flask) float64 {
	litres := flask.Volume / 1000
	return c.target / c.nu * litres * c.weighed.Value / c.assay.Value / c.buoyancy.Value
}

// figures computes everything that a net mass in g gives in a flask.
func (c context) figures(net uncertain.Number, flask glassware.Flask, temperature, limits float64) []Figure {
	volume := flask.Contents(temperature, limits)
	mass := net.Times(c.buoyancy).Times(c.assay)
	amount := mass.Over(c.weighed)
	litres := volume.Scale(1e-3)
	compound := amount.Over(litres)

	unit := c.Concentration.Unit
	figures := []Figure{figure("concentration", "concentration", c.unitLabel(unit.Symbol), c.basis.write(&c, compound).Scale(1/unit.Factor))}
	if unit.Dimension != quantity.AmountConcentration || c.Of != "" {
		figures = append(figures, figure("amountConcentration", "of the compound", "mol/L", compound))
	}
	if unit.Dimension != quantity.MassConcentration || c.Of != "" {
		figures = append(figures, figure("massConcentration", "of the compound", "g/L", compound.Times(c.molar)))
	}
	return append(figures,
		figure("amount", "amount of the compound", "mmol", amount.Scale(1e3)),
		figure("mass", "mass of pure "+c.solid.String(), "g", mass),
		figure("volume", "volume at 20 °C", "mL", volume))
}

// unitLabel says of what a concentration is when it is not of the compound.
func (c context) unitLabel(unit string) string {
	if c.Of != "" {
		return unit + " " + c.Of
	}
	return unit
}

// Plan computes the recipe for a request. An error is a verdict.Problems.
func Plan(r Request) (Recipe, error) {
	c, err := r.check()
	if err != nil {
		return Recipe{}, err
	}
	take := c.taking(c.flask)
	return Recipe{
		Formula:   c.formula.Pieces,
		MolarMass: figure("molarMass", "molar mass", "g/mol", c.molar),
		Flask:     c.flask,
		Neck:      c.flask.Neck(),
		Take:      take,
		TakeText:  quantity.Digits(take, c.decimals),
		Unit:      c.unit(),
		With:      c.with(),
		Low:       take * (1 - c.Band),
		High:      take * (1 + c.Band),
		Decimals:  c.decimals,
		Figures:   c.figures(c.netMass(take, 0, "portion 1"), c.flask, glassware.ReferenceTemperature, assumedTemperatureLimits),
		Verdicts:  c.planVerdicts(c.reading(c.flask)),
		Cautions:  c.cautions(),
	}, nil
}

func (c context) planVerdicts(reading float64) []verdict.Verdict {
	var verdicts []verdict.Verdict
	say := func(v verdict.Verdict) { verdicts = append(verdicts, v) }

	if !c.exact {
		volumes := glassware.Volumes()
		i := slices.Index(volumes, c.flask.Volume)
		choices := []verdict.Choice{volumeChoice(c.flask.Volume)}
		if i > 0 {
			choices = append([]verdict.Choice{volumeChoice(volumes[i-1])}, choices...)
		}
		say(RuleFlask.Says(verdict.Look, choices, "There is no flask of %s; the recipe is for %g mL.", c.Volume, c.flask.Volume))
	}
	tolerance := c.Thresholds.Of(RuleSmallestMass) / 100
	if smallest := c.Balance.SmallestMass(tolerance); !c.byVolume && reading < smallest {
		var choices []verdict.Choice
		for _, v := range glassware.Volumes() {
			if v > c.flask.Volume && reading*v/c.flask.Volume >= smallest {
				choices = []verdict.Choice{volumeChoice(v)}
				break
			}
		}
		say(RuleSmallestMass.Says(verdict.Look, choices,
			"%s g is less than %s weighs to %.2g %%: that starts at %s g. Make more of it, or a stronger stock and dilute.",
			quantity.Digits(reading, c.decimals), c.Balance.Name, 100*tolerance, quantity.Digits(smallest, c.decimals)))
	}
	if !c.byVolume && reading > c.Balance.Capacity {
		say(RuleCapacity.Says(verdict.Stop, nil, "%s g is more than %s carries (%g g). Weigh it in portions, or on a larger balance.",
			quantity.Digits(reading, c.decimals), c.Balance.Name, c.Balance.Capacity))
	}
	if !sameSolid(c) {
		say(RuleHydrate.Says(verdict.Look, nil, "The bottle at hand holds %s, not %s: the same amount takes %.4g times the mass.", c.solid, c.formula, c.weighed.Value/c.molar.Value))
	}
	if v, ok := c.confusion(); ok {
		say(v)
	}
	if s := c.Substance.Solubility; s > 0 {
		perHundred := reading / c.flask.Volume * 100 * c.molar.Value / c.weighed.Value
		most := c.Concentration.Value * s / perHundred
		switch used := 100 * perHundred / s; {
		case used > 100:
			say(RuleSolubility.Says(verdict.Stop, nil, "This much does not dissolve: %s g in 100 mL, and water takes %g g at 20 °C. At most about %.2g %s.",
				quantity.Digits(perHundred, 1), s, most, c.unitLabel(c.Concentration.Unit.Symbol)))
		case used > c.Thresholds.Of(RuleSolubility):
			say(RuleSolubility.Says(verdict.Look, nil, "This is %.0f %% of what dissolves (%g g in 100 mL at 20 °C). Allow time, and keep the room warm.", used, s))
		}
	}
	if rise := c.temperatureRise(reading); rise > c.Thresholds.Of(RuleHeat) {
		say(RuleHeat.Says(verdict.Look, nil, "About %.0f K warmer in %g mL of water: pour slowly, swirl, cool in a water bath, and let it come to 20 °C before the mark.", rise, c.flask.Volume/2))
	}
	if off := c.WaterTemperature - glassware.ReferenceTemperature; math.Abs(off) > c.Thresholds.Of(RuleTemperature) {
		say(RuleTemperature.Says(verdict.Look, nil, "The water on the bench is at %s °C: allow time for it to come to 20 °C before the last drops.", quantity.Digits(c.WaterTemperature, 1)))
	}
	switch {
	case c.byVolume:
		say(RulePrimary.Says(verdict.Look, nil, "Measured with a %s, the bottle is approximate until it is standardised. Weighing the liquid is the better way.", c.measure))
	case c.Substance.Liquid:
		say(RulePrimary.Says(verdict.Look, nil, "What the label of a concentrated liquid says is approximate: standardise the bottle."))
	case c.Substance.Hygroscopic:
		say(RulePrimary.Says(verdict.Look, nil, "%s takes up water from the air: the bottle is approximate until it is standardised.", c.Substance.Name))
	case c.Substance.Class != substance.Primary:
		say(RulePrimary.Says(verdict.Look, nil, "%s is no primary standard: the bottle is approximate until it is standardised.", c.Substance.Name))
	}
	if len(verdicts) == 0 {
		say(RulePrimary.Says(verdict.Fine, nil, "A primary standard, and %s and the flask are good for it.", c.Balance.Name))
	}
	return verdicts
}

func sameSolid(c context) bool { return c.solid.String() == c.formula.String() }

// confusion notices a mass concentration whose number looks like a molarity: one
// significant digit between 0.001 and 5, in g/L. Both readings are put side by side.
func (c context) confusion() (verdict.Verdict, bool) {
	unit, value := c.Concentration.Unit, c.Concentration.Value
	if unit.Symbol != "g/L" || value < 0.001 || value > 5 {
		return verdict.Verdict{}, false
	}
	if mantissa := value / math.Pow(10, math.Floor(math.Log10(value)+1e-9)); math.Abs(mantissa-math.Round(mantissa)) > 1e-6 {
		return verdict.Verdict{}, false
	}
	of := "of the compound"
	if c.Of != "" {
		of = "of " + c.Of
	}
	asMolar, asMass := quantity.Digits(value, -1), quantity.Digits(value*c.entity.Value, 2)
	return RuleMassOrAmount.Says(verdict.Look, []verdict.Choice{{ID: "concentration " + asMolar + " mol/L", Label: "I meant " + asMolar + " mol/L"}},
		"%s g/L %s is %.3g mol/L. If %s mol/L was meant, that is %s g/L.", asMolar, of, value/c.entity.Value, asMolar, asMass), true
}

// volumeChoice offers another flask; its ID is read by the question form.
func volumeChoice(mL float64) verdict.Choice {
	return verdict.Choice{ID: fmt.Sprintf("volume %g mL", mL), Label: fmt.Sprintf("Make %g mL", mL)}
}

// LocalRules is the sentence that stands beside every caution.
const LocalRules = "Your local rules, the safety data sheet and licensed waste handling come first."

// cautions gives the usual cautions for the substance, first those of all work,
// last the local rules.
func (c context) cautions() []string {
	hazards := c.Substance.Hazards
	list := []string{"Goggles, gloves and coat on."}
	if c.Substance.Liquid {
		list = append(list, "In the fume hood, from opening the bottle to the diluted solution.", "Into water, slowly, never the reverse: water poured onto the concentrated liquid boils and spits.",
			"Never pipette by mouth.")
	}
	any := func(codes ...string) bool {
		return slices.ContainsFunc(hazards, func(h string) bool { return slices.Contains(codes, h) })
	}
	if any("H330", "H331", "H332", "H334", "H335", "H350i") {
		list = append(list, "Dust and vapour harm when breathed in: work in the fume hood or with the draught shield closed, raise no dust.")
	}
	if any("H314", "H318") {
		list = append(list, "Burns eyes and skin: rinse at once with much water. It may grow hot in water.")
	}
	if any("H301", "H302") {
		list = append(list, "Harmful if swallowed: wash hands after weighing.")
	}
	if any("H340", "H341", "H350", "H350i", "H360F", "H360FD", "H360Df", "H361d") {
		list = append(list, "May cause cancer or harm a child to be born: ask for a substitute; who is or may be pregnant does not handle it.")
	}
	if any("H226") {
		list = append(list, "Flammable: no flame, no hot plate near it.")
	}
	if any("H271", "H272") {
		list = append(list, "Oxidiser: keep paper, cloth and organic solids away; no wiping up with a paper towel.")
	}
	if any("H400", "H410", "H411", "H412") {
		list = append(list, "Harms water life: no residue into the sink, collect it.")
	}
	return append(list, LocalRules)
}
