package titration

import (
	"fmt"
	"strings"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/reaction"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Explain implements [run.Plan].
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	result, _, ok := a.result()
	for _, f := range a.figures(result, ok) {
		if f.ID == figureID {
			return a.explain(f, result), nil
		}
	}
	return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a titration is a concentration, or the mean titre"}}
}

func (a *account) explain(f figure.Figure, r Result) []working.Line {
	lines := []working.Line{a.meanLine(r)}
	switch {
	case f.ID == "mean":
	case a.Reaction.Pair():
		lines = append(lines, a.pairLines(f, r)...)
	default:
		if a.Back != nil {
			lines = append(lines, a.backLines(r)...)
		} else {
			lines = append(lines, a.concentrationLine(r))
		}
		if compound, units := a.soughtInSolid(); a.Dissolved != nil && f.ID != "c" {
			lines = append(lines, a.solidLine(f, r.C, compound, units))
		} else if f.ID != "c" || a.Standardise && cmpUnits(a.Titrant.Units) != 1 {
			lines = append(lines, a.convertedLine(f, r))
		}
	}
	return append(lines, working.Uncertainty(f.Number, f.Unit)...)
}

// meanLine averages the titres that agree.
func (a *account) meanLine(r Result) working.Line {
	var terms, from []string
	for _, i := range r.Used {
		v, _ := a.titre(i)
		terms = append(terms, quantity.Digits(v.Value, max(2, a.decimals())))
		from = append(from, a.sayTrial(i))
	}
	blank, less := "", ""
	if a.lessBlank(r) {
		blank, less = " - "+working.Value(r.Blank, "mL"), ` - V_{\mathrm{blank}}`
	}
	if a.Tip != nil {
		from = append(from, a.sayDevice())
	}
	if !r.Agreed && len(r.Used) > 1 {
		from = append(from, "no two agree: all that count are averaged")
	}
	return working.Line{
		Title: "Mean titre", Symbol: `\bar{V}`, Formula: `\bar{V} = \frac{\sum V_i}{n}` + less,
		Substituted: fmt.Sprintf(`\bar{V} = \frac{%s}{%d}`, working.Sum(terms), len(r.Used)) + working.Unit("mL") + blank,
		Result:      working.Result(a.mean(r), "mL"), From: from,
	}
}

// concentrationLine comes from the mean to what was sought, in units of the species. It is set
// for the mean of the samples: the result is the mean of what each trial gives.
func (a *account) concentrationLine(r Result) working.Line {
	k := a.known()
	titre, sample := working.Value(a.mean(r), "mL"), a.meanSample(r)
	l := working.Line{Symbol: "c", Result: working.Result(r.C, "mol/L"), From: []string{
		a.Reaction.words(k.Ratio) + ": " + strings.ReplaceAll(a.Reaction.Equation, "->", "→"),
		fmt.Sprintf("the mean of what %d trials give; set here with their mean titre and sample", len(r.Used)),
	}}
	if r.Blank.Value != 0 {
		l.From = append(l.From, "blank taken off: "+working.Result(r.Blank, "mL"))
	}
	if r.TypeA > 0 {
		l.From = append(
			l.From,
			fmt.Sprintf("by the scatter of the %d trials alone, with Student’s t: ±%s %%", len(r.Used), quantity.Digits(100*r.TypeA, 2)),
		)
	}
	of := fmt.Sprintf(`\frac{%d}{%d}`, k.Ratio.Of, k.Ratio.By)
	back := fmt.Sprintf(`\frac{%d}{%d}`, k.Ratio.By, k.Ratio.Of)
	analyte, titrant := species(a.Reaction.Analyte), species(a.Reaction.Titrant)
	switch {
	case k.Standardise && k.Weighed:
		l.Title = "Concentration of " + a.Reaction.Titrant
		l.Formula = `c_{` + titrant + `} = \frac{\nu_T}{\nu_A}\,\frac{m\,P\,z}{M\,V}`
		l.Substituted = `c = ` + back + ` \times \frac{` + working.Value(sample, "g") + ` \times ` + fmt.Sprintf(
			"%.6g",
			k.PerGram.Value,
		) + working.Unit("mol/g") + `}{` + titre + `}`
		l.From = append(l.From, a.sayPerGram())
	case k.Standardise:
		l.Title = "Concentration of " + a.Reaction.Titrant
		l.Formula = `c_{` + titrant + `} = \frac{\nu_T}{\nu_A}\,\frac{c_{` + analyte + `}\,V_A}{V}`
		l.Substituted = `c = ` + back + ` \times \frac{` + working.Value(k.C, "mol/L") + ` \times ` + working.Value(
			sample,
			"mL",
		) + `}{` + titre + `}`
		l.From = append(l.From, "c of "+a.Reaction.Analyte+": "+a.Sample.String())
	case k.Weighed:
		l.Title, l.Symbol, l.Result = a.Reaction.Analyte+" in each gram", "b", working.Result(r.C.Scale(1000), "mmol/g")
		l.Formula = `b_{` + analyte + `} = \frac{\nu_A}{\nu_T}\,\frac{c_{` + titrant + `}\,V}{m}`
		l.Substituted = `b = ` + of + ` \times \frac{` + working.Value(
			k.C,
			"mol/L",
		) + ` \times ` + titre + `}{` + working.Value(sample, "g") + `}`
		l.From = append(l.From, "c of "+a.Reaction.Titrant+": "+a.Titrant.String())
	default:
		l.Title = "Concentration of " + a.Reaction.Analyte
		l.Formula = `c_{` + analyte + `} = \frac{\nu_A}{\nu_T}\,\frac{c_{` + titrant + `}\,V}{V_A}`
		l.Substituted = `c = ` + of + ` \times \frac{` + working.Value(
			k.C,
			"mol/L",
		) + ` \times ` + titre + `}{` + working.Value(sample, "mL") + `}`
		l.From = append(l.From, "c of "+a.Reaction.Titrant+": "+a.Titrant.String())
	}
	return l
}

// species sets a formula as an index.
func species(text string) string {
	if e, err := reaction.Parse(text + " -> " + text); err == nil {
		return reaction.Set(e.Left[0].Pieces)
	}
	return `\mathrm{` + text + `}`
}

func (a *account) sayPerGram() string {
	text := fmt.Sprintf("P z/M: %s mol of %s in each gram of %s", quantity.Digits(a.perGram().Value, 7), a.Reaction.Analyte, a.Substance.Name)
	if a.Substance.Assay > 0 {
		text += fmt.Sprintf(", assay %g %%", 100*a.Substance.Assay)
	}
	return text
}

// convertedLine comes from the concentration of the species to another figure.
func (a *account) convertedLine(f figure.Figure, r Result) working.Line {
	l := working.Line{Title: strings.ToUpper(f.Label[:1]) + f.Label[1:], Symbol: "x", Result: working.Result(f.Number, f.Unit)}
	c, times := working.Value(r.C, "mol/L"), a.setTimes()
	molar := func(text string) string {
		m, err := formula.Parse(text)
		if err != nil {
			return "1"
		}
		l.From = append(l.From, "M of "+text+" from atomic weights")
		return working.Value(m.MolarMass(), "g/mol")
	}
	switch f.ID {
	case "c":
		l.Formula, l.Substituted = `c = \frac{c}{z}`, `c = \frac{`+c+`}{`+quantity.Digits(a.Titrant.Units, -1)+`}`
		l.From = []string{"z: " + a.Reaction.Titrant + " that each " + a.Titrant.Formula + " brings"}
	case "undiluted":
		l.Formula, l.Substituted = `c_0 = F\,c`, `c_0 = `+c+times
		l.From = []string{a.sayFactor()}
	case "normality":
		n, _, why, _ := a.equivalents()
		if !a.Standardise {
			_, n, _, _ = a.equivalents()
			why += "; " + a.Reaction.words(a.known().Ratio)
		}
		l.Symbol, l.Formula, l.Substituted = "N", `N = z\,c`, `N = `+quantity.Trim(n)+` \times `+c+times
		l.From = []string{why + ": the number belongs to this reaction"}
	case "equivalent mass":
		_, n, why, _ := a.equivalents()
		l.Symbol, l.Formula = "M", `M = \frac{1}{z\,b}`
		l.Substituted = `M = \frac{1}{` + quantity.Trim(n) + ` \times ` + fmt.Sprintf("%.6g", r.C.Value) + working.Unit("mol/g") + `}`
		l.From = []string{why + "; " + a.Reaction.words(a.known().Ratio)}
	case "waters":
		f, _ := formula.Parse(a.Substance.Formula) //nolint:errcheck // the figure is there
		dry, water, _ := hydrate(f)
		l.Formula = `x = \frac{z/b - M}{M_{\mathrm{H_2O}}}`
		l.Substituted = `x = \frac{` + working.Value(a.perUnit(r), "g/mol") + ` - ` + molar(dry.String()) + `}{` + molar(water.String()) + `}`
	case "amount":
		l.Symbol, l.Formula, l.Substituted = "n", `n = c\,V_A`, `n = `+c+` \times `+working.Value(a.meanSample(r), "mL")
	case "mass":
		l.Symbol, l.Formula = "m", `m = c\,V_A\,M`
		l.Substituted = `m = ` + c + ` \times ` + working.Value(a.meanSample(r), "mL") + ` \times ` + molar(a.Sought())
	case "g/L", "mg/L":
		l.Formula, l.Substituted = `\rho = c\,M`, `\rho = `+c+times+` \times `+molar(a.Sought())
	case "% w/v":
		l.Formula, l.Substituted = `w = c\,M \times 100\,\mathrm{mL}`, `w = `+c+times+` \times `+molar(a.Sought())
	case "% w/w":
		l.Formula = `w = \frac{c\,M}{\rho}`
		l.Substituted = `w = \frac{` + c + times + ` \times ` + molar(a.Sought()) + `}{` + quantity.Digits(
			a.Density,
			-1,
		) + working.Unit("g/mL") + `}`
	case "purity":
		l.Formula = `w = \frac{b\,M}{z}`
		l.Substituted = `w = \frac{` + fmt.Sprintf("%.6g", r.C.Value) + working.Unit(
			"mol/g",
		) + ` \times ` + molar(a.Substance.Formula) + `}{` + quantity.Digits(cmpUnits(a.Sample.Units), -1) + `}`
	case "molar mass":
		l.Formula, l.Substituted = `M = \frac{1}{b}`, `M = \frac{1}{`+fmt.Sprintf("%.6g", r.C.Value)+working.Unit("mol/g")+`}`
	}
	return l
}
