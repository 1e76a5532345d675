package solution

import (
	"slices"
	"strconv"
	"strings"

	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Portion is what to take of one solute: the reading to aim at, and the band.
type Portion struct {
	Name     string          `json:"name"`
	Formula  []formula.Piece `json:"solid"` // as it is in the bottle at hand
	Take     float64         `json:"take"`
	TakeText string          `json:"takeText"`
	Low      float64         `json:"low"`
	High     float64         `json:"high"`
}

// Batch is one filling.
type Batch struct {
	Flask glassware.Flask `json:"flask"`
	// Take is what goes into it: "5.1056 g", and of what when there are several solutes.
	Take string `json:"take"`
}

// Recipe is what to do for a request.
type Recipe struct {
	Formula   []formula.Piece `json:"formula"`
	MolarMass figure.Figure   `json:"molarMass"`
	Flask     glassware.Flask `json:"flask"`
	Neck      float64         `json:"neck"` // mm; 0 of a bottle
	// The portion is in Unit (g or mL); With names the balance or the glass.
	Portion
	Unit string `json:"unit"`
	// Water is what is to be added, when it is made up by adding.
	Water    string `json:"water,omitempty"`
	With     string `json:"with"`
	Decimals int    `json:"decimals"`
	// Also is what to weigh of the other solutes, Batches the flasks to fill one after
	// the other when there is more than one.
	Also    []Portion `json:"also,omitempty"`
	Batches []Batch   `json:"batches,omitempty"`
	// Figures are what exactly that mass would give.
	Figures  []figure.Figure   `json:"figures"`
	Verdicts []verdict.Verdict `json:"verdicts"`
	Cautions []string          `json:"cautions"`
}

// figures computes everything that a net mass in g gives in a volume in mL, the
// concentration asked for first.
func (c *context) figures(net, volume uncertain.Number) []figure.Figure {
	mass := net.Times(c.buoyancy).Times(c.assay)
	amount := mass.Over(c.weighed).Scale(1e3) // mmol
	compound := amount.Over(volume)           // mmol/mL is mol/L

	unit := c.Concentration.Unit
	figures := append(make([]figure.Figure, 0, 6), c.concentration(compound))
	if unit.Dimension != quantity.AmountConcentration || c.Of != "" {
		figures = append(figures, figure.New("amountConcentration", "of the compound", "mol/L", compound).As(figure.OtherConcentration))
	}
	if unit.Dimension != quantity.MassConcentration || c.Of != "" {
		figures = append(
			figures,
			figure.New("massConcentration", "of the compound", "g/L", compound.Times(c.molar)).As(figure.OtherConcentration),
		)
	}
	return append(figures,
		figure.New("amount", "amount of the compound", "mmol", amount).As(figure.Amount),
		figure.New("mass", "mass of pure "+c.solid.String(), "g", mass).As(figure.Mass),
		figure.New("volume", "volume at 20 °C", "mL", volume).As(figure.Volume))
}

// concentration writes the concentration asked for, given that of the compound in
// mol/L. In a mixed standard it is labelled with the name of the solute.
func (c *context) concentration(compound uncertain.Number) figure.Figure {
	label := "concentration"
	if len(c.Also) > 0 {
		label = c.Substance.Dissolved()
	}
	unit := c.Concentration.Unit
	return figure.New(c.concentrationID(), label, c.unitLabel(unit.Symbol), c.basis.write(c, compound).Scale(1/unit.Factor)).
		As(figure.Concentration)
}

// concentrationID is the ID of the figure of a solute: "concentration" of the
// first, "concentration 2" of the second.
func (c *context) concentrationID() string {
	if c.part > 0 {
		return concentrationFigure + " " + strconv.Itoa(c.part+1)
	}
	return concentrationFigure
}

// concentrationFigure is the ID of what a solution is named by.
const concentrationFigure = "concentration"

// withOthers adds the concentrations of the other solutes after the first, and what an
// ion of several of them adds up to; nets holds the net mass of each of the
// others in g, first that of the first.
func (c *context) withOthers(
	figures []figure.Figure,
	first uncertain.Number,
	nets []uncertain.Number,
	volume uncertain.Number,
) []figure.Figure {
	if len(c.others) == 0 {
		return figures
	}
	compounds := []uncertain.Number{c.compoundOf(first, volume)} // mol/L
	at := 1
	for i := range c.others {
		o := &c.others[i]
		compound := o.compoundOf(nets[i], volume)
		if compounds = append(compounds, compound); compound.Value > 0 {
			figures = slices.Insert(figures, at, o.concentration(compound))
			at++
		}
	}
	for _, s := range c.sharedEntities() {
		sum, i := uncertain.Number{}, 0
		for o := range c.solutes() {
			sum = sum.Plus(compounds[i].Scale(o.counts(s.of)))
			i++
		}
		unit := s.asks.Concentration.Unit
		if unit.Dimension == quantity.MassConcentration {
			sum = sum.Times(s.asks.entity)
		}
		figures = slices.Insert(
			figures,
			at,
			figure.New(inAll(s.of), s.of+" in all", s.asks.unitLabel(unit.Symbol), sum.Scale(1/unit.Factor)).As(figure.Concentration),
		)
		at++
	}
	return figures
}

// compoundOf is the amount concentration of the compound in mol/L that a net mass in g
// gives in a volume in mL.
func (c *context) compoundOf(net, volume uncertain.Number) uncertain.Number {
	return net.Times(c.buoyancy).Times(c.assay).Over(c.weighed).Over(volume.Scale(1e-3))
}

// unitLabel says of what a concentration is when it is not of the compound.
func (c *context) unitLabel(unit string) string {
	if c.Of != "" {
		return unit + " " + c.Of
	}
	return unit
}

// Recipe computes what to do for a request. An error is a verdict.Problems.
func (r Request) Recipe() (Recipe, error) {
	c, err := r.check()
	if err != nil {
		return Recipe{}, err
	}
	recipe := Recipe{
		Formula:   c.formula.Pieces,
		MolarMass: figure.New("molarMass", "molar mass", "g/mol", c.molar),
		Flask:     c.flask,
		Neck:      c.neck(),
		Portion:   c.portionOf(c.flask),
		Unit:      c.unit(),
		With:      c.with(),
		Decimals:  c.decimals,
		Figures:   c.planned(),
		Verdicts:  c.planVerdicts(c.reading(c.flask)),
		Cautions:  c.cautions(),
	}
	if c.MakeUp == ByAdding {
		recipe.Water = c.sayWater(c.waterToAdd(c.plannedMasses()))
	}
	for _, o := range c.others {
		recipe.Also = append(recipe.Also, o.portionOf(c.flask))
	}
	if len(c.batches) > 1 {
		for _, f := range c.batches {
			recipe.Batches = append(recipe.Batches, Batch{f, c.takings(f)})
		}
	}
	return recipe, nil
}

// takings says what goes into a flask.
func (c *context) takings(flask glassware.Flask) string {
	if len(c.others) == 0 {
		return c.say(c.taking(flask))
	}
	var list []string
	for o := range c.solutes() {
		list = append(list, o.say(o.taking(flask))+" of "+o.solid.String())
	}
	return strings.Join(list, " and ")
}

// planned computes the figures of a solution made exactly by the recipe.
func (c *context) planned() []figure.Figure {
	volume := c.plannedVolume()
	nets := make([]uncertain.Number, len(c.others))
	for i, o := range c.others {
		nets[i] = o.netMass(o.taking(c.flask), 0, "portion "+strconv.Itoa(i+2))
	}
	first := c.netMass(c.taking(c.flask), 0, "portion 1")
	return c.withOthers(c.figures(first, volume), first, nets, volume)
}

// portionOf is what to take of the solute for a flask.
func (c *context) portionOf(flask glassware.Flask) Portion {
	take := c.taking(flask)
	return Portion{
		Name:     c.Substance.Name,
		Formula:  c.solid.Pieces,
		Take:     take,
		TakeText: quantity.Digits(take, c.decimals),
		Low:      take * (1 - c.Band),
		High:     take * (1 + c.Band),
	}
}

// neck is the inner diameter of the neck in mm; 0 of a bottle, which has no mark.
func (c *context) neck() float64 {
	if c.MakeUp != ToTheMark {
		return 0
	}
	return c.flask.Neck()
}
