package solution

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
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
	amount := mass.Over(c.weighed)
	litres := volume.Scale(1e-3)
	compound := amount.Over(litres)

	unit := c.Concentration.Unit
	figures := append(make([]figure.Figure, 0, 6), c.concentration(compound))
	if unit.Dimension != quantity.AmountConcentration || c.Of != "" {
		figures = append(figures, figure.New("amountConcentration", "of the compound", "mol/L", compound).As(figure.OtherConcentration))
	}
	if unit.Dimension != quantity.MassConcentration || c.Of != "" {
		figures = append(figures, figure.New("massConcentration", "of the compound", "g/L", compound.Times(c.molar)).As(figure.OtherConcentration))
	}
	return append(figures,
		figure.New("amount", "amount of the compound", "mmol", amount.Scale(1e3)).As(figure.Amount),
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
	return figure.New(c.concentrationID(), label, c.unitLabel(unit.Symbol), c.basis.write(c, compound).Scale(1/unit.Factor)).As(figure.Concentration)
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
// ion that several of them bring comes to in all; nets holds the net mass of each of the
// others in g, first that of the first.
func (c *context) withOthers(figures []figure.Figure, first uncertain.Number, nets []uncertain.Number, volume uncertain.Number) []figure.Figure {
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
		figures = slices.Insert(figures, at, figure.New(inAll(s.of), s.of+" in all", s.asks.unitLabel(unit.Symbol), sum.Scale(1/unit.Factor)).As(figure.Concentration))
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
	return Portion{Name: c.Substance.Name, Formula: c.solid.Pieces, Take: take, TakeText: quantity.Digits(take, c.decimals), Low: take * (1 - c.Band), High: take * (1 + c.Band)}
}

// neck is the inner diameter of the neck in mm; 0 of a bottle, which has no mark.
func (c *context) neck() float64 {
	if c.MakeUp != ToTheMark {
		return 0
	}
	return c.flask.Neck()
}

func (c *context) planVerdicts(reading float64) []verdict.Verdict {
	var list []verdict.Verdict
	say := func(v verdict.Verdict) { list = append(list, v) }

	if v, ok := c.volumeVerdict(); ok {
		say(v)
	}
	for o := range c.solutes() {
		list = append(list, o.soluteVerdicts(o.reading(c.flask))...)
	}
	list = append(list, c.mixtureVerdicts()...)
	if c.Balance.Name == weighing.Usual().Name {
		say(RuleUsualBalance.Says(verdict.Look, []verdict.Choice{{ID: ChoiceSetup + "balances", Label: "Enter your balance"}}, "Reckoned with %s, %g g by %g g: enter your own in the lab setup, and the recipe goes by that.", c.Balance.Name, c.Balance.Capacity, c.Balance.Resolution))
	}
	if v, ok := c.reachVerdict(); ok {
		say(v)
	}
	if c.MakeUp == ByMass && c.solutionMass() > c.Balance.Capacity {
		say(weighing.RuleCapacity.Says(verdict.Stop, nil, "The solution weighs %s g, more than %s carries (%g g). Make less of it, or take a larger balance.",
			quantity.Digits(c.solutionMass(), 0), c.Balance.Name, c.Balance.Capacity))
	}
	if rise := c.temperatureRise(reading); rise > c.Thresholds.Of(RuleHeat) {
		say(RuleHeat.Says(verdict.Look, nil, "About %.0f K warmer in %g mL of water: pour slowly, swirl, cool in a water bath, and let it come to 20 °C before the mark.", rise, c.flask.Volume/2))
	}
	if off := c.WaterTemperature - glassware.ReferenceTemperature; math.Abs(off) > c.Thresholds.Of(RuleTemperature) && c.MakeUp == ToTheMark {
		say(RuleTemperature.Says(verdict.Look, nil, "The water on the bench is at %s °C: allow time for it to come to 20 °C before the last drops.", quantity.Digits(c.WaterTemperature, 1)))
	}
	if v, ok := c.keepingVerdict(); ok {
		say(v)
	}
	if len(list) == 0 {
		say(RulePrimary.Says(verdict.Fine, nil, "A primary standard, and %s and the flask are good for it.", c.Balance.Name))
	}
	return list
}

// volumeVerdict says what is to be said of the volume: no such flask, batches, or
// that the volume is nominal.
func (c *context) volumeVerdict() (verdict.Verdict, bool) {
	switch {
	case c.MakeUp == ByAdding:
		volume := c.plannedVolume()
		return RuleAdding.Says(verdict.Look, nil, "%s of water makes about %g mL with what is dissolved in it: the volume is known within ±%.1f %% only, and the concentration is nominal.",
			c.sayWater(c.waterToAdd(c.plannedMasses())), c.flask.Volume, 100*volume.Expanded()/volume.Value), true
	case len(c.batches) > 1:
		sum, parts := 0.0, make([]string, len(c.batches))
		for i, f := range c.batches {
			sum += f.Volume
			parts[i] = quantity.Digits(f.Volume, -1)
		}
		over := ""
		if !c.exact {
			over = fmt.Sprintf(", %s mL more than asked for", quantity.Digits(sum-c.Volume.In("mL"), -1))
		}
		return RuleBatches.Says(verdict.Look, nil, "%d batches: %s mL%s. Each is made and recorded by itself, then all are poured together.", len(c.batches), strings.Join(parts, " + "), over), true
	case c.exact:
		return verdict.Verdict{}, false
	}
	volumes := c.cupboard.Volumes(c.FlaskClass)
	i := slices.Index(volumes, c.flask.Volume)
	choices := []verdict.Choice{volumeChoice(c.flask.Volume)}
	if i > 0 {
		choices = append([]verdict.Choice{volumeChoice(volumes[i-1])}, choices...)
	}
	if split, err := c.cupboard.Split(c.Volume.In("mL"), c.FlaskClass); err == nil && len(split) > 1 {
		choices = append(choices, verdict.Choice{ID: ChoiceBatches, Label: fmt.Sprintf("Make it in %d batches", len(split))})
	}
	return RuleFlask.Says(verdict.Look, choices, "There is no flask of %s; the recipe is for %g mL.", c.Volume, c.flask.Volume), true
}

// ChoiceSetup begins a choice that leads into a part of the lab setup.
const ChoiceSetup = "setup "

// ChoiceBatches is the choice to split the volume; the question form reads it.
const ChoiceBatches = "batches"

// reachVerdict says whether the uncertainty asked for can be had, and with which
// of the balances at hand.
func (c *context) reachVerdict() (verdict.Verdict, bool) {
	if c.Wanted == 0 {
		return verdict.Verdict{}, false
	}
	relative := func(with weighing.Balance) float64 {
		other := *c
		other.Balance, other.decimals = with, with.Decimals()
		f := other.planned()[0]
		return f.Expanded / f.Value
	}
	type option struct {
		name string
		best float64
	}
	options := []option{{c.Balance.Name, relative(c.Balance)}}
	if !c.byVolume {
		for _, b := range c.Balances {
			if b.Name != c.Balance.Name {
				options = append(options, option{b.Name, relative(b)})
			}
		}
	}
	here := options[0]
	slices.SortStableFunc(options, func(a, b option) int { return cmp.Compare(a.best, b.best) })
	texts := make([]string, len(options))
	for i, o := range options {
		texts[i] = fmt.Sprintf("%s ±%.2g %%", o.name, 100*o.best)
	}
	with := "With " + strings.Join(texts, ", with ") + " (k = 2)"
	asked := fmt.Sprintf("±%.2g %% was asked for", 100*c.Wanted)
	switch {
	case here.best <= c.Wanted:
		return RuleReach.Says(verdict.Fine, nil, "%s. %s: it can be reached.", with, asked), true
	case options[0].best <= c.Wanted:
		return RuleReach.Says(verdict.Look, nil, "%s. %s: put %s on the bench.", with, asked, options[0].name), true
	}
	if c.MakeUp == ToTheMark {
		measured := *c
		measured.temperatureLimits = measuredTemperatureLimits
		if f := measured.planned()[0]; f.Expanded/f.Value <= c.Wanted {
			return RuleReach.Says(verdict.Look, nil, "%s. %s: measured in the flask, the temperature is known better, and ±%.2g %% is reached.", with, asked, 100*f.Expanded/f.Value), true
		}
	}
	worst := c.planned()[0].Budget[0].Label
	return RuleReach.Says(verdict.Stop, nil, "%s. %s, and nothing here reaches it; “%s” adds most. Make more of it, or make it stronger and dilute.", with, asked, worst), true
}

// soluteVerdicts is what is to be said of one solute and its mass in g.
func (c *context) soluteVerdicts(reading float64) []verdict.Verdict {
	var list []verdict.Verdict
	say := func(v verdict.Verdict) { list = append(list, v) }
	tolerance := c.Thresholds.Of(weighing.RuleSmallestMass) / 100
	if smallest := c.Balance.SmallestMass(tolerance); !c.byVolume && reading < smallest {
		var choices []verdict.Choice
		for _, v := range c.cupboard.Volumes(c.FlaskClass) {
			if v > c.flask.Volume && reading*v/c.flask.Volume >= smallest {
				choices = []verdict.Choice{volumeChoice(v)}
				break
			}
		}
		say(weighing.RuleSmallestMass.Says(verdict.Look, choices,
			"%s g is less than %s weighs to %.2g %%: that starts at %s g. Make more of it, or a stronger stock and dilute.",
			quantity.Digits(reading, c.decimals), c.Balance.Name, 100*tolerance, quantity.Digits(smallest, c.decimals)))
	}
	if !c.byVolume && reading > c.Balance.Capacity {
		say(weighing.RuleCapacity.Says(verdict.Stop, nil, "%s g is more than %s carries (%g g). Weigh it in portions, or on a larger balance.",
			quantity.Digits(reading, c.decimals), c.Balance.Name, c.Balance.Capacity))
	}
	if !sameSolid(c) {
		say(RuleHydrate.Says(verdict.Look, nil, "The bottle at hand holds %s, not %s: the same amount takes %.4g times the mass.", c.solid, c.formula, c.weighed.Value/c.molar.Value))
	}
	if c.DryingLoss > 0 {
		say(RuleDrying.Says(verdict.Look, nil, "Not dried: %s of what is weighed is water, so the mass is %.4g times that of the dried solid.", percent4(c.DryingLoss), 1/(1-c.DryingLoss)))
	}
	if v, ok := c.confusion(); ok {
		say(v)
	}
	if v, ok := c.solubilityVerdict(reading); ok {
		say(v)
	}
	if v, ok := c.scantVerdict(); ok {
		say(v)
	}
	switch {
	case c.byVolume:
		say(RulePrimary.Says(verdict.Look, nil, "Measured with a %s, the bottle is approximate until it is standardised. Weighing the liquid is the better way.", c.measure.Name()))
	case c.Substance.Liquid:
		say(RulePrimary.Says(verdict.Look, nil, "What the label of a concentrated liquid says is approximate: standardise the bottle."))
	case c.Substance.Hygroscopic:
		say(RulePrimary.Says(verdict.Look, nil, "%s takes up water from the air: the bottle is approximate until it is standardised.", c.Substance.Name))
	case c.Substance.Class != substance.Primary:
		say(RulePrimary.Says(verdict.Look, nil, "%s is not a primary standard: the bottle is approximate until it is standardised.", c.Substance.Name))
	}
	return list
}

func sameSolid(c *context) bool { return c.Waters == nil || c.solid.String() == c.formula.String() }

// confusion notices a mass concentration whose number looks like a molarity: one
// significant digit between 0.001 and 5, in g/L. Both readings are put side by side.
func (c *context) confusion() (verdict.Verdict, bool) {
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
