package titration

import (
	"fmt"

	"vialbench/core/quantity"
	"vialbench/core/reaction"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Question asks for the result of trials, without a record.
type Question struct {
	// Reaction is a key of the library; or an Equation with its Titrant and Analyte.
	Reaction string `json:"reaction"`
	Equation string `json:"equation"`
	Titrant  string `json:"titrant"`
	Analyte  string `json:"analyte"`
	// BackEquation is of the sample with what was added in excess, whose rest is titrated, and
	// BackAnalyte what is sought in it; empty of a direct titration.
	BackEquation string `json:"backEquation"`
	BackAnalyte  string `json:"backAnalyte"`
	// Standardise finds the titrant; else the analyte is found.
	Standardise bool `json:"standardise"`
	// C in mol/L is what is known: of the titrant, or of the analyte in an aliquot. With its
	// contributions it brings all that it rests on.
	C uncertain.Number `json:"c"`
	// Weighed reports whether samples are in g; MolarMass in g/mol and Purity as a fraction are then
	// those of the solid whose unit is one analyte.
	Weighed   bool             `json:"weighed"`
	MolarMass uncertain.Number `json:"molarMass"`
	Purity    uncertain.Number `json:"purity"`
	Trials    []AskedTrial     `json:"trials"`
	// Concordant and EndPoint in mL; 0 takes what is usual, a negative EndPoint none.
	Concordant float64 `json:"concordant"`
	EndPoint   float64 `json:"endPoint"`
}

// AskedTrial is a trial of a question: numbers bring their uncertainty along.
type AskedTrial struct {
	Titre    uncertain.Number `json:"titre"`  // mL
	Sample   uncertain.Number `json:"sample"` // mL or g
	Excess   uncertain.Number `json:"excess"` // mmol of what was added in excess, for a back titration
	Rough    bool             `json:"rough"`
	Blank    bool             `json:"blank"`
	SetAside string           `json:"setAside"`
}

// Answer is their result.
type Answer struct {
	// C in mol/L, of weighed samples mol for each g, and as text.
	C    uncertain.Number `json:"c"`
	Text string           `json:"text"`
	Unit string           `json:"unit"`
	// Titres are compared in mL, Used the places of those averaged.
	Titres   []float64         `json:"titres"`
	Used     []int             `json:"used"`
	Agreed   bool              `json:"agreed"`
	Mean     float64           `json:"mean"`
	SD       float64           `json:"sd"`
	TypeA    float64           `json:"typeA"` // relative, 95 %
	Outliers []Outlier         `json:"outliers"`
	Budget   []uncertain.Share `json:"budget"`
	Equation reaction.Equation `json:"equation"`
	Ratio    string            `json:"ratio"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Solve answers it. An error is a verdict.Problems.
func Solve(q Question) (Answer, error) {
	r, ok := Find(q.Reaction)
	if !ok {
		if q.Equation == "" {
			return Answer{}, verdict.Problems{
				{Field: "/reaction", Reason: "name a titration of the library, or write an equation with its titrant and analyte"},
			}
		}
		var err error
		if r, err = Typed(q.Equation, q.Titrant, q.Analyte); err != nil {
			return Answer{}, err
		}
	}
	p := q.check()
	if len(p) > 0 {
		return Answer{}, p
	}
	ratio, err := r.Ratio()
	if err != nil {
		return Answer{}, err
	}
	k := Known{Ratio: ratio, Standardise: q.Standardise, Weighed: q.Weighed, C: q.C}
	if q.BackEquation != "" {
		back, err := BackOf(r, q.BackEquation, q.BackAnalyte)
		if err != nil {
			return Answer{}, err
		}
		of, err := back.ratio(r.Analyte)
		if err != nil {
			return Answer{}, err
		}
		k.Back = &of
	}
	if q.Weighed && q.Standardise {
		k.PerGram = q.Purity.Over(q.MolarMass)
	}
	limits := Limits{Concordant: q.Concordant, EndPoint: max(0, q.EndPoint)}
	if q.Concordant == 0 {
		limits.Concordant = RuleAgree.Threshold
	}
	if q.EndPoint == 0 {
		limits.EndPoint = RuleEndPoint.Threshold
	}
	var trials []Trial
	for _, t := range q.Trials {
		trials = append(trials, Trial{Titre: t.Titre, Sample: t.Sample, Excess: t.Excess, Rough: t.Rough, Blank: t.Blank, SetAside: t.SetAside})
	}
	result, err := k.Solve(trials, limits)
	if err != nil {
		return Answer{}, err
	}
	e, err := r.Balanced()
	if err != nil {
		return Answer{}, err
	}
	a := Answer{
		C:        result.C,
		Unit:     "mol/L",
		Titres:   result.Titres,
		Used:     result.Used,
		Agreed:   result.Agreed,
		Mean:     result.Mean,
		SD:       result.SD,
		TypeA:    result.TypeA,
		Outliers: result.Outliers,
		Budget:   result.C.Budget(),
		Equation: e,
		Ratio:    r.words(ratio),
		Verdicts: []verdict.Verdict{},
	}
	if q.Weighed && !q.Standardise {
		a.Unit = "mol/g"
	}
	text, u := quantity.Round(result.C.Value, result.C.Expanded())
	a.Text = text + " ± " + u + " " + a.Unit
	if a.Outliers == nil {
		a.Outliers = []Outlier{}
	}
	a.Verdicts = append(a.Verdicts, result.judgeNegative()...)
	if !result.Agreed {
		a.Verdicts = append(
			a.Verdicts,
			RuleAgree.Says(verdict.Look, nil, "No two agree within %s mL yet: another trial.", quantity.Digits(limits.Concordant, 2)),
		)
	}
	return a, nil
}

// maxAsked is the most that any number of a question may be.
const maxAsked = 1e6

func (q Question) check() (p verdict.Problems) {
	positive := func(field string, n uncertain.Number, what string) {
		if !(n.Value > 0 && n.Value <= maxAsked) {
			p.Add(field, "%s is above zero", what)
		}
	}
	if !q.Weighed || !q.Standardise {
		positive("/c", q.C, "the concentration that is known, in mol/L,")
	} else {
		positive("/molarMass", q.MolarMass, "the molar mass, in g/mol,")
		positive("/purity", q.Purity, "the purity, as a fraction,")
	}
	if n := len(q.Trials); n == 0 || n > MaxTrials {
		p.Add("/trials", "give 1 to %d trials", MaxTrials)
		return p
	}
	for i, t := range q.Trials {
		if !(t.Titre.Value >= 0 && t.Titre.Value <= maxAsked) {
			p.Add(fmt.Sprintf("/trials/%d/titre", i), "a titre is zero or more, in mL")
		}
		if t.Blank {
			continue
		}
		positive(fmt.Sprintf("/trials/%d/sample", i), t.Sample, "a sample, in mL or g,")
		if q.BackEquation != "" {
			positive(fmt.Sprintf("/trials/%d/excess", i), t.Excess, "what was added in excess, in mmol,")
		}
	}
	if q.BackEquation != "" && q.Standardise {
		p.Add("/standardise", "a back titration tells what is in the flask")
	}
	if !(q.Concordant >= 0 && q.Concordant <= maxAsked) {
		p.Add("/concordant", "how far apart trials may lie that agree is zero or more, in mL")
	}
	return p
}
