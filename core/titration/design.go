package titration

import (
	"fmt"
	"math"
	"slices"

	"vialbench/core/curve"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/reaction"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Design is what a plan gives, as its page shows it.
type Design struct {
	Title    string            `json:"title"`
	Equation reaction.Equation `json:"equation"`
	LaTeX    string            `json:"latex"`
	Ratio    string            `json:"ratio"`
	// Expected is about what a trial takes, and Needed what all of them take with rinsing, as
	// text; empty when it is not known.
	Expected string `json:"expected"`
	Needed   string `json:"needed"`
	// Prospect is what the trials that must agree would give without any slip: about ± how many per
	// cent (95 %), and what adds most to that; empty when it is not known.
	Prospect string `json:"prospect"`
	// Take is how much of the sample would use half to nine tenths of the burette, in mL or g as it
	// is typed; empty where the plan does.
	Take    string `json:"take"`
	Sample  string `json:"sample"`
	Burette string `json:"burette"`
	// Settles is the number of the bottle that takes over what is found; 0 where none does.
	Settles   int64             `json:"settles"`
	Indicator string            `json:"indicator"`
	Colour    string            `json:"colour"`
	Notes     []string          `json:"notes"`
	Cautions  []string          `json:"cautions"`
	Verdicts  []verdict.Verdict `json:"verdicts"`
	// Curve is the pH as it is predicted, of an acid with a base whose strengths are known.
	Curve *curve.Answer `json:"curve,omitempty"`
}

// curve is how the pH will run, with the indicators that serve; nil where that is not known.
func (r Request) curve() *curve.Answer {
	if !(r.Titrant.C.Value > 0) {
		return nil
	}
	q := curve.Question{
		Analyte: curve.Solution{Formula: r.Sample.Formula, C: r.Sample.C.Value}, Volume: r.Volume,
		Titrant: curve.Solution{Formula: r.Titrant.Formula, C: r.Titrant.C.Value}, Celsius: curveCelsius,
		Indicator: r.Reaction.Indicator,
	}
	if r.By == Weighed {
		q.Volume = dissolvedIn
		q.Analyte.C = 1000 * r.Mass * r.perGram().Value / cmpUnits(r.Sample.Units) / dissolvedIn
	}
	if r.Dissolved != nil {
		q.Analyte.C = r.expectedSpecies() / cmpUnits(r.Sample.Units)
	}
	a, err := curve.Solve(q)
	if err != nil { // no acid and base, or of strengths that are not known
		return nil
	}
	return &a
}

// A predicted curve is of 25 °C; a solid is dissolved in about so many mL.
const curveCelsius, dissolvedIn = 25, 50.0

// rinsing is what rinsing a burette takes each time, as a part of it (common practice).
const rinsing = 0.1

// Design implements [run.Plan].
func (r Request) Design() (any, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	e, err := r.Reaction.Balanced()
	if err != nil {
		return nil, err
	}
	ratio, err := r.Reaction.Ratio()
	if err != nil {
		return nil, err
	}
	d := Design{
		Title:     r.Title(),
		Equation:  e,
		LaTeX:     e.LaTeX(),
		Ratio:     r.Reaction.words(ratio),
		Sample:    r.saySample(),
		Burette:   r.sayDevice(),
		Indicator: r.Reaction.Indicator,
		Colour:    r.Reaction.Seen(),
		Notes:     slices.Clone(r.Reaction.Conditions),
		Cautions:  r.cautions(),
		Verdicts:  []verdict.Verdict{},
	}
	if d.Notes == nil {
		d.Notes = []string{}
	}
	switch {
	case r.Standardise:
		d.Settles = r.Titrant.Number
	case r.Settles:
		d.Settles = r.Sample.Number
	}
	d.Sample += r.sayDissolved() + r.sayDescent()
	if r.Back != nil {
		d.Ratio = r.Back.words(r.Reaction.Analyte) + ", and " + d.Ratio
		d.Sample += r.sayBack()
	} else {
		d.Curve = r.curve()
	}
	v := r.Expected()
	if v == 0 {
		return d, nil
	}
	d.Expected = quantity.Digits(v, 1) + " mL"
	if r.Tip != nil {
		d.Expected = fmt.Sprintf("%s (%s)", drops(v/r.Tip.Volume.Value), d.Expected)
	}
	d.Needed = fmt.Sprintf("about %s mL for %s trials and rinsing", quantity.Digits(r.needs(), 0), quantity.Trim(r.trials()))
	d.Verdicts, d.Take, d.Prospect = append(r.judgePlan(v), r.judgeFlask()...), r.take(v), r.prospect(v)
	return d, nil
}

// needs is about what all trials and rinsing take of the titrant, in mL, up to the next ten; 0 where what a
// trial takes is not known.
func (r Request) needs() float64 {
	v := r.Expected()
	if v == 0 {
		return 0
	}
	return 10 * math.Ceil((v*r.trials()+r.Thresholds.Of(RuleRinse)*rinsing*r.holds())/10)
}

// trials is how many there will be if all goes well.
func (r Request) trials() float64 { return r.Thresholds.Of(RuleTrials) + r.Thresholds.Of(RuleRough) }

func (r Request) cautions() []string {
	fill := "Never pipette by mouth."
	if r.Tip == nil && r.Burette.Kind == glassware.Burette {
		fill = "Fill the burette below eye level, through a funnel. " + fill
	}
	list := append(slices.Clone(r.Reaction.Cautions), fill, "Your local rules, the safety data sheets and licensed waste handling come first.")
	if r.Note != "" { // after them, and as what it is: anybody can write one into a link
		list = append(list, "A word from whoever planned this: “"+r.Note+"”")
	}
	return list
}

// sayMass is about how much is weighed.
func (r Request) sayMass() string {
	return fmt.Sprintf("about %s g of %s", quantity.Digits(r.Mass, r.Balance.Decimals()), run.LowerFirst(r.Sample.Name))
}

// saySample says what is taken for each trial.
func (r Request) saySample() string {
	switch r.By {
	case Weighed:
		return r.sayMass() + ", weighed"
	case ByPipette:
		return fmt.Sprintf("%s mL of %s by pipette", quantity.Trim(r.Volume), run.LowerFirst(r.Sample.String()))
	case ByBurette:
		return fmt.Sprintf("about %s mL of %s from a second burette", quantity.Trim(r.Volume), run.LowerFirst(r.Sample.String()))
	}
	return fmt.Sprintf("about %s mL of %s by cylinder, as it is read", quantity.Trim(r.Volume), run.LowerFirst(r.Sample.String()))
}
