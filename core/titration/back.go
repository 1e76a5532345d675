package titration

import (
	"fmt"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/reaction"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Back is the first half of a back titration: the sample takes part of a reagent that was added in
// excess, and what is left of it is titrated:
//
//	n(A) = ν(A)/ν(R) · (n₀(R) − ν(R)/ν(T)·c(T)·V)
//
// with n₀ = c(R)·V(R) as it was pipetted, or ν(R)/ν(T)·c(T)·V_blank when the same volume of it was
// titrated without a sample.
type Back struct {
	// Reagent is the analyte of the reaction in the flask; Volume in mL of it goes to each sample,
	// with Glass.
	Reagent Solution       `json:"reagent"`
	Volume  float64        `json:"volume"`
	Glass   glassware.Item `json:"glass"`
	// Equation is of the sample with the reagent, balanced; Analyte what is sought.
	Equation string `json:"equation"`
	Analyte  string `json:"analyte"`
}

// BackOf balances the equation of a sample with the reagent of a titration. An error is a
// verdict.Problems.
func BackOf(r Reaction, equation, analyte string) (Back, error) {
	a, err := reaction.Solve(reaction.Question{Equation: equation, Of: analyte, By: r.Analyte})
	if err != nil {
		var p verdict.Problems
		for _, x := range problems(err) {
			// What is titrated afterwards has to stand in the equation of the sample.
			p.Add(map[string]string{"/equation": "/backEquation", "/of": "/backAnalyte", "/by": "/backEquation"}[x.Field], "%s", x.Reason)
		}
		return Back{}, p
	}
	return Back{Equation: a.Text, Analyte: analyte}, nil
}

// ratio is how many moles of what is sought go with one of the reagent.
func (b *Back) ratio(reagent string) (reaction.Ratio, error) {
	e, err := reaction.Parse(b.Equation)
	if err != nil {
		return reaction.Ratio{}, err
	}
	if e, err = e.Balance(); err != nil {
		return reaction.Ratio{}, err
	}
	return e.RatioOf(b.Analyte, reagent)
}

func (r Request) checkBack(p *verdict.Problems) {
	switch b := r.Back; {
	case b == nil:
		return
	case r.Standardise || r.Reaction.Pair():
		p.Add("/back", "a back titration tells what is in the flask, by one end point")
	case !(b.Reagent.C.Value > 0):
		p.Add("/reagentBottle", "take a bottle whose strength is known for what is added in excess")
	case !(b.Volume > 0) || b.Glass.Volume != b.Volume || b.Glass.Kind != glassware.OneMarkPipette:
		p.Add("/reagent", "what is added in excess comes by pipette: take a volume that one of the lab delivers")
	default:
		if _, err := b.ratio(r.Reaction.Analyte); err != nil {
			p.Add("/backEquation", "%s", problems(err)[0].Reason)
		}
	}
}

// Sought is the species whose amount is found in the flask.
func (r Request) Sought() string {
	if r.Back != nil {
		return r.Back.Analyte
	}
	return r.Reaction.Analyte
}

// equivalents is how many a mole of the titrant and of what is sought are; see
// [Reaction.Equivalents].
func (r Request) equivalents() (titrant, sought float64, why string, ok bool) {
	titrant, sought, why, ok = r.Reaction.Equivalents()
	if ok && r.Back != nil {
		ratio, err := r.Back.ratio(r.Reaction.Analyte)
		if err != nil {
			return 0, 0, "", false
		}
		sought /= ratio.Value()
	}
	return titrant, sought, why, ok
}

// excess is what is added to a sample, in mmol of the reagent's species; id keeps the times apart.
func (b *Back) excess(id string) uncertain.Number {
	return b.Reagent.species().Times(b.Glass.Delivered("excess " + id))
}

// sayBack says what goes to each sample; empty where nothing does.
func (r Request) sayBack() string {
	if r.Back == nil {
		return ""
	}
	return fmt.Sprintf(", then %s mL of %s, by pipette", quantity.Trim(r.Back.Volume), run.LowerFirst(r.Back.Reagent.String()))
}

// words writes the ratio of the sample to the reagent.
func (b *Back) words(reagent string) string {
	ratio, err := b.ratio(reagent)
	if err != nil {
		return ""
	}
	return fmt.Sprintf("%d mol of %s for %d mol of %s", ratio.Of, b.Analyte, ratio.By, reagent)
}

// left is what is left of the excess in a titre, as a part of it.
func (k Known) left(titre, excess uncertain.Number) float64 {
	return k.Ratio.Value() * k.C.Value * titre.Value / excess.Value
}

// judgeBack says whether enough of the excess was used, and enough is left.
func (a *account) judgeBack(r Result) []verdict.Verdict {
	least := a.Thresholds.Of(RuleBack)
	used := 0.0
	for _, i := range r.Used {
		v, _ := a.titre(i)
		used += 100 * (1 - a.known().left(v, r.excess(a.trials[i].excess))) / float64(len(r.Used))
	}
	says := func(level verdict.Level, sentence string) []verdict.Verdict {
		return []verdict.Verdict{RuleBack.Says(level, nil, sentence, quantity.Digits(used, 0))}
	}
	switch {
	case used <= 0:
		return says(
			verdict.Stop,
			"The sample took none of the excess (%s %%): more was left than went in. Is it the right bottle, the right strength?",
		)
	case used < least:
		return says(
			verdict.Look,
			"The sample took %s %% of the excess only: a small difference of two large amounts. Take more sample, or less reagent.",
		)
	case used > 100-least:
		return says(
			verdict.Look,
			"The sample took %s %% of the excess: little is left to show that it was enough. Take less sample, or more reagent.",
		)
	}
	return says(verdict.Fine, "The sample took %s %% of the excess.")
}

// backLines come from the mean titre to what was sought.
func (a *account) backLines(r Result) []working.Line {
	k := a.known()
	titre, sample, excess := uncertain.Number{}, a.meanSample(r), uncertain.Number{}
	n := 1 / float64(len(r.Used))
	for _, i := range r.Used {
		v, _ := a.titre(i)
		titre, excess = titre.Plus(v.Scale(n)), excess.Plus(r.excess(a.trials[i].excess).Scale(n))
	}
	reagent, of := species(a.Reaction.Analyte), fmt.Sprintf(`\frac{%d}{%d}`, k.Ratio.Of, k.Ratio.By)
	rest := k.C.Times(titre).Scale(k.Ratio.Value())
	added := working.Line{Title: a.Reaction.Analyte + " in excess", Symbol: "n_0", Result: working.Result(excess, "mmol")}
	if r.Blank.Value > 0 {
		added.Formula = `n_0(` + reagent + `) = \frac{\nu_R}{\nu_T}\,c_T\,V_{\mathrm{blank}}`
		added.Substituted = `n_0 = ` + of + ` \times ` + working.Value(k.C, "mol/L") + ` \times ` + working.Value(r.Blank, "mL")
		added.From = []string{"titrated without a sample"}
	} else {
		added.Formula = `n_0(` + reagent + `) = c_R\,V_R`
		added.Substituted = `n_0 = ` + working.Value(a.Back.Reagent.species(), "mol/L") + ` \times ` + working.Value(
			a.Back.Glass.Delivered(""),
			"mL",
		)
		added.From = []string{"c of " + a.Reaction.Analyte + ": " + a.Back.Reagent.String()}
	}
	left := working.Line{
		Title: a.Reaction.Analyte + " left", Symbol: "n", Formula: `n(` + reagent + `) = \frac{\nu_R}{\nu_T}\,c_T\,V`,
		Substituted: `n = ` + of + ` \times ` + working.Value(k.C, "mol/L") + ` \times ` + working.Value(titre, "mL"),
		Result:      working.Result(rest, "mmol"),
		From:        []string{a.Reaction.words(k.Ratio), "c of " + a.Reaction.Titrant + ": " + a.Titrant.String()},
	}
	l := working.Line{
		Title:   "Concentration of " + a.Sought(),
		Symbol:  "c",
		Result:  working.Result(r.C, "mol/L"),
		Formula: `c_{` + species(a.Sought()) + `} = \frac{\nu_A}{\nu_R}\,\frac{n_0 - n}{V_A}`,
		From: []string{
			a.Back.words(a.Reaction.Analyte),
			fmt.Sprintf("the mean of what %d trials give; set here with their means", len(r.Used)),
		},
	}
	taken := working.Value(sample, "mL")
	if k.Weighed {
		l.Title, l.Symbol, l.Result = a.Sought()+" in each gram", "b", working.Result(r.C.Scale(1000), "mmol/g")
		l.Formula = `b_{` + species(a.Sought()) + `} = \frac{\nu_A}{\nu_R}\,\frac{n_0 - n}{m}`
		taken = working.Value(sample, "g")
	}
	l.Substituted = l.Symbol + ` = ` + fmt.Sprintf(
		`\frac{%d}{%d}`,
		k.Back.Of,
		k.Back.By,
	) + ` \times \frac{` + working.Value(excess, "mmol") + ` - ` +
		working.Value(rest, "mmol") + `}{` + taken + `}`
	return []working.Line{added, left, l}
}

// SoughtUnits is how many units of what is sought each unit of a compound contains; ok is false when
// it contains none.
func (r Request) SoughtUnits(compound string) (n float64, ok bool) {
	if r.Back == nil {
		return r.Reaction.AnalyteUnits(compound)
	}
	n = units(readCompound(compound), readCompound(r.Back.Analyte), "", 0)
	return n, n > 0
}
