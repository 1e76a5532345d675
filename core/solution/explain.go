package solution

import (
	"fmt"
	"slices"
	"strings"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// planFigure is what the mass to weigh is asked for as.
const planFigure = "plan"

// Explain implements [run.Plan]. The concentration comes with what draws say of its
// uncertainty.
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	c, err := r.check()
	if err != nil {
		return nil, err
	}
	if figureID == planFigure {
		return c.explainPlan(), nil
	}
	lines, err := c.account(facts).explain(figureID)
	if err != nil || figureID != concentrationFigure || len(lines) == 0 {
		return lines, err
	}
	_, drawn, ok, err := Confirm(r, facts)
	if ok {
		lines = append(lines, drawn)
	}
	return lines, err
}

// explainPlan shows how the mass to weigh comes about.
func (c *context) explainPlan() []working.Line {
	lines := []working.Line{c.molarLine(c.solid, c.weighed)}
	litres := c.flask.Volume / 1000
	if c.Concentration.Unit.Dimension != quantity.AmountConcentration {
		lines = append(lines, working.Line{
			Title:       "Amount concentration wanted" + c.ofWhat(),
			Symbol:      "c",
			Formula:     c.basis.inverse,
			Substituted: "c = " + c.basis.putInverse(c),
			Result:      short(c.target) + " mol/L",
			From:        append([]string{"concentration as asked: " + c.Concentration.String() + c.ofWhat()}, c.basisSources()...),
		})
	}
	amount := c.target / c.nu * litres
	lines = append(lines, working.Line{
		Title: "Amount of the compound", Symbol: "n", Formula: `n = \frac{c\,V}{\nu}`,
		Substituted: fmt.Sprintf(`n = \frac{%s \times %s}{%g}`, plain(c.target, "mol/L"), plain(litres, "L"), c.nu),
		Result:      short(amount) + " mol",
		From:        []string{"volume: flask of " + c.flask.String(), fmt.Sprintf("ν: %g in one %s", c.nu, c.formula)},
	})
	line := working.Line{
		Title:   "Mass to weigh",
		Symbol:  "W",
		Formula: `W = \frac{n\,M}{w}`,
		Substituted: fmt.Sprintf(
			`W = \frac{%s \times %s}{%s}`,
			plain(amount, "mol"),
			working.Value(c.weighed, "g/mol"),
			working.Value(c.assay, ""),
		),
		Result: quantity.Digits(c.reading(c.flask), c.decimals) + " g",
		From:   c.massSources(),
	}
	if c.buoyancy.Value != 1 {
		line.Formula = `W = \frac{n\,M}{w\,b}`
		line.Substituted = fmt.Sprintf(
			`W = \frac{%s \times %s}{%s \times %s}`,
			plain(amount, "mol"),
			working.Value(c.weighed, "g/mol"),
			working.Value(c.assay, ""),
			factor(c.buoyancy),
		)
	}
	if c.byVolume {
		line.Result = working.Result(uncertain.Exact(c.reading(c.flask)), "g")
		lines = append(lines, line, working.Line{
			Title: "Volume to measure", Symbol: "V", Formula: `V_{\mathrm{liquid}} = \frac{W}{\rho}`,
			Substituted: fmt.Sprintf(`V_{\mathrm{liquid}} = \frac{%s}{%s}`, plain(c.reading(c.flask), "g"), working.Value(c.liquid, "g/mL")),
			Result:      c.say(c.taking(c.flask)), From: []string{"ρ: density of the concentrated liquid"},
		})
		return lines
	}
	return append(lines, line)
}

// explain shows how a figure of a run comes about: all lines up to it. Before a mass is
// known it shows the plan.
func (a *account) explain(figureID string) ([]working.Line, error) {
	if of, ok := strings.CutPrefix(figureID, inAll("")); ok {
		return a.explainAll(of)
	}
	t, figureID := a.ofFigure(figureID)
	net := t.net
	if !(net.Value > 0) {
		return a.explainPlan(), nil
	}
	byID := map[string]figure.Figure{}
	for _, f := range t.figures(net, a.volume) {
		byID[f.ID] = f
	}
	byID[concentrationFigure] = byID[t.concentrationID()]
	if _, known := byID[figureID]; !known {
		return nil, verdict.Problems{{Field: "/figure", Reason: "there is no such figure of this run"}}
	}
	c := t.context
	result := func(id string) string { return working.Result(byID[id].Number, byID[id].Unit) }
	var readings []string
	for _, p := range t.portions {
		if p.load != 0 {
			readings = append(readings, quantity.Digits(p.reading(), c.decimals)+working.Unit(c.unit()))
		}
	}
	mass := working.Line{
		Title: "Mass of pure " + c.solid.String(), Symbol: "m", Formula: `m = W \times w`,
		Substituted: fmt.Sprintf(`m = %s \times %s`, grouped(readings), working.Value(c.assay, "")),
		Result:      result("mass"), From: append([]string{"W: balance readings of this run"}, c.massSources()...),
	}
	if c.buoyancy.Value != 1 {
		mass.Formula = `m = W \times w \times b`
		mass.Substituted += ` \times ` + factor(c.buoyancy)
	}
	if c.byVolume {
		mass.Formula = `m = V_{\mathrm{liquid}} \times \rho \times w`
		mass.Substituted = fmt.Sprintf(
			`m = %s \times %s \times %s`,
			grouped(readings),
			working.Value(c.liquid, "g/mL"),
			working.Value(c.assay, ""),
		)
		mass.From[0] = "V: read on the " + c.with()
	}
	amount := working.Line{
		Title: "Amount", Symbol: "n", Formula: `n = \frac{m}{M}`,
		Substituted: fmt.Sprintf(`n = \frac{%s}{%s}`, working.Value(byID["mass"].Number, "g"), working.Value(c.weighed, "g/mol")),
		Result:      result("amount"), From: []string{"m and M: above"},
	}

	volume := a.volumeLine()
	contents := a.volume
	named := byID[concentrationFigure]
	switch figureID {
	case "mass":
		return []working.Line{mass}, nil
	case "amount":
		return []working.Line{c.molarLine(c.solid, c.weighed), mass, amount}, nil
	case "volume":
		return []working.Line{volume}, nil
	case "amountConcentration":
		return []working.Line{
			c.molarLine(c.solid, c.weighed),
			mass,
			amount,
			volume,
			{
				Title: "Amount concentration of the compound", Symbol: "c", Formula: `c = \frac{n}{V}`,
				Substituted: fmt.Sprintf(`c = \frac{%s}{%s}`, working.Value(byID["amount"].Number, "mmol"), working.Value(contents, "mL")),
				Result:      result("amountConcentration"), From: []string{"n and V: above"},
			},
		}, nil
	case "massConcentration":
		return []working.Line{
			c.molarLine(c.solid, c.weighed),
			mass,
			amount,
			volume,
			{
				Title:   "Mass concentration of the compound",
				Symbol:  `\gamma`,
				Formula: `\gamma = \frac{n\,M}{V}`,
				Substituted: fmt.Sprintf(
					`\gamma = \frac{%s \times %s}{%s}`,
					working.Value(byID["amount"].Number, "mmol"),
					working.Value(c.molar, "g/mol"),
					working.Value(contents, "mL"),
				),
				Result: result("massConcentration"),
				From:   []string{"n and V: above", "M: of " + c.formula.String()},
			},
		}, nil
	}
	lines := append([]working.Line{c.molarLine(c.solid, c.weighed), mass, amount, volume}, c.concentrationLines(byID)...)
	return append(lines, working.Uncertainty(named.Number, named.Unit)...), nil
}

// explainAll shows how much of an ion all solutes bring together.
func (a *account) explainAll(of string) ([]working.Line, error) {
	i := slices.IndexFunc(a.shown, func(f figure.Figure) bool { return f.ID == inAll(of) })
	if i < 0 {
		return nil, verdict.Problems{{Field: "/figure", Reason: "there is no such figure of this run"}}
	}
	total := a.shown[i]
	line := working.Line{
		Title:  of + " in all",
		Symbol: "c",
		Result: working.Result(total.Number, total.Unit),
		From:   []string{"from every substance in the flask that holds it"},
	}
	var terms, values []string
	n := 0
	for o := range a.solutes() {
		compound := o.compoundOf(a.takings[n].net, a.volume)
		if n++; o.counts(of) > 0 {
			terms = append(terms, fmt.Sprintf(`\nu_{%d}\,c_{%d}`, n, n))
			values = append(values, fmt.Sprintf(`%g \times %s`, o.counts(of), working.Value(compound, "mol/L")))
			line.From = append(line.From, fmt.Sprintf("%d: %s", n, o.solid))
		}
	}
	line.Formula, line.Substituted = "c = "+strings.Join(terms, " + "), "c = "+strings.Join(values, " + ")
	for _, s := range a.sharedEntities() {
		if s.of == of && s.asks.Concentration.Unit.Dimension == quantity.MassConcentration {
			line.Symbol = `\gamma`
			line.Formula = `\gamma = (` + strings.Join(terms, " + ") + `)\,M`
			line.Substituted = `\gamma = (` + strings.Join(values, " + ") + `) \times ` + working.Value(s.asks.entity, "g/mol")
		}
	}
	return []working.Line{line}, nil
}

// ofFigure finds the solute that a figure is of, and what the figure is called
// among those of one solute.
func (a *account) ofFigure(id string) (*taking, string) {
	for i := range a.takings {
		if a.takings[i].concentrationID() == id {
			return &a.takings[i], concentrationFigure
		}
	}
	return &a.takings[0], id
}

// volumeLine shows how the volume comes about.
func (a *account) volumeLine() working.Line {
	line := working.Line{Title: "Volume at 20 °C", Symbol: "V", Result: working.Result(a.volume, "mL")}
	reading, word := a.flask.Volume, "planned"
	if a.madeUp != nil {
		reading, word = *a.madeUp, "in this run"
	}
	switch a.MakeUp {
	case ByMass:
		if a.madeUp == nil {
			reading = a.solutionMass()
		}
		line.Formula = `V = \frac{W_{\mathrm{solution}}\,b}{\rho}`
		line.Substituted = fmt.Sprintf(
			`V = \frac{%s \times %s}{%s}`,
			plain(reading, "g"),
			factor(a.buoyancyOf(a.density.Value)),
			working.Value(a.density, "g/mL"),
		)
		line.From = []string{
			"W: mass of the solution, " + word,
			"b: air buoyancy",
			fmt.Sprintf("ρ: %g ± %g g/mL, as stated", a.SolutionDensity, a.SolutionDensityLimits),
		}
		return line
	case ByAdding:
		if a.madeUp == nil {
			reading = a.waterToAdd(a.masses())
		}
		return a.addedLine(line, reading, word)
	}
	temperature, _ := a.solutionTemperature()
	from := "temperature: to be brought to 20 °C"
	if a.temperature != nil {
		from = "temperature: measured in this run"
	}
	flask := a.flask.AtReference()
	line.Formula = `V = V_{20}\,\bigl(1 + \gamma\,(t - 20\,{}^{\circ}\mathrm{C})\bigr)\,\frac{\rho(t)}{\rho(20\,{}^{\circ}\mathrm{C})}`
	line.Substituted = fmt.Sprintf(`V = %s \times %s`, plain(flask.Value, "mL"), fmt.Sprintf("%.5f", a.volume.Value/flask.Value))
	tolerance := fmt.Sprintf("flask: %s, ±%g mL (ISO 1042)", a.flask, a.flask.Tolerance())
	if a.flask.Certified > 0 {
		tolerance = fmt.Sprintf("flask: %s, certificate, ±%g mL, k = 2", a.flask, a.flask.CertifiedLimits)
	}
	line.From = []string{
		tolerance,
		fmt.Sprintf("%s: %s °C", from, quantity.Digits(temperature, 1)),
		"ρ: water, Tanaka et al. 2001; γ: borosilicate, ISO 4787",
	}
	return line
}

// addedLine shows the volume that so much water in mL makes with what is dissolved in it.
func (a *account) addedLine(line working.Line, water float64, word string) working.Line {
	line.From = []string{"water added, " + word + ", " + a.added.Name()}
	masses := a.masses()
	switch {
	case a.SolutionDensity > 0:
		sum := 0.0
		for _, m := range masses {
			sum += m.Value
		}
		line.Formula = `V = \frac{m + V_{\mathrm{water}}\,\rho_{\mathrm{water}}}{\rho}`
		line.Substituted = fmt.Sprintf(`V = \frac{%s + %s \times %s}{%s}`, plain(sum, "g"), plain(water, "mL"),
			plain(glassware.WaterDensity(glassware.ReferenceTemperature)/1000, "g/mL"), working.Value(a.density, "g/mL"))
		line.From = append(line.From, "ρ: of the solution, as stated")
		return line
	case a.Substance.Liquid:
		liquid := masses[0].Value / a.Substance.Density
		if a.byVolume {
			liquid = masses[0].Value / a.liquid.Value
		}
		x := liquid / (liquid + water)
		line.Formula = `V = (V_{\mathrm{liquid}} + V_{\mathrm{water}})\,(1 - 4\,x\,(1-x)\,\kappa)`
		line.Substituted = fmt.Sprintf(
			`V = (%s + %s) \times (1 - 4 \times %s \times %s \times %g)`,
			plain(liquid, "mL"),
			plain(water, "mL"),
			short(x),
			short(1-x),
			contraction,
		)
		line.From = append(
			line.From,
			"x: part of the liquid in the volume",
			fmt.Sprintf("κ: liquid and water shrink by %g ± %g at most, half and half", contraction, contractionLimits),
		)
	default:
		formulas, values, i := `V_{\mathrm{water}}`, plain(water, "mL"), 0
		for o := range a.solutes() {
			keeps := saltKeeps
			if molecular(o.solid) {
				keeps = moleculeKeeps
			}
			formulas += ` + \varphi\,\frac{m}{\rho}`
			values += fmt.Sprintf(` + %g \times \frac{%s}{%s}`, keeps, plain(masses[i].Value, "g"), plain(o.solidDensity(), "g/mL"))
			i++
		}
		line.Formula, line.Substituted = "V = "+formulas, "V = "+values
		line.From = append(line.From, "φ: the part of its volume that a solid keeps in solution")
	}
	line.From = append(line.From, fmt.Sprintf("volumes are not additive: within ±%g %% besides (rule M-9)", a.Thresholds.Of(RuleAdding)))
	return line
}

func (c *context) concentrationLines(byID map[string]figure.Figure) []working.Line {
	wanted := byID[concentrationFigure]
	amount, volume := byID["amount"].Number, byID["volume"].Number
	compound := amount.Over(volume)
	lines := []working.Line{{
		Title: "Amount concentration of the compound", Symbol: "c", Formula: `c_{\mathrm{compound}} = \frac{n}{V}`,
		Substituted: fmt.Sprintf(`c_{\mathrm{compound}} = \frac{%s}{%s}`, working.Value(amount, "mmol"), working.Value(volume, "mL")),
		Result:      working.Result(compound, "mol/L"), From: []string{"n and V: above"},
	}}
	if c.Concentration.Unit.Dimension == quantity.AmountConcentration && c.Of == "" {
		return lines
	}
	return append(lines, working.Line{
		Title: "Concentration as asked for", Symbol: c.basis.symbol, Formula: c.basis.formula,
		Substituted: c.basis.symbol + " = " + c.basis.put(c, compound),
		Result:      working.Result(wanted.Number, wanted.Unit), From: append([]string{"concentration" + c.ofWhat()}, c.basisSources()...),
	})
}

// basisSources says where the values of the basis came from.
func (c *context) basisSources() []string {
	var list []string
	if c.Of != "" {
		list = append(list, fmt.Sprintf("ν: %g %s in one %s", c.nu, c.Of, c.formula))
	}
	switch c.Concentration.Unit.Dimension {
	case quantity.MassConcentration, quantity.MassFraction:
		list = append(list, "M of the entity: "+working.Result(c.entity, "g/mol"))
	case quantity.Molality:
		list = append(
			list,
			"M of "+c.anhydrous.String()+": "+working.Result(c.anhydrous.MolarMass(), "g/mol")+"; water of crystallisation counts as solvent",
		)
	case quantity.VolumeFraction:
		list = append(list, fmt.Sprintf("ρ°: %g g/mL, of the liquid as it is in the bottle", c.Substance.Density))
	case quantity.Equivalents:
		list = append(list, fmt.Sprintf("z: %g in the reaction %s", c.EquivalentCount, c.Reaction))
	}
	if c.basis.needsDensity {
		list = append(list, fmt.Sprintf("ρ: %g ± %g g/mL, as stated", c.SolutionDensity, c.SolutionDensityLimits))
	}
	return list
}
