package titration

import (
	"encoding/json"
	"fmt"

	"vialbench/core/droptip"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// Kind names this kind of work.
const Kind = "titration"

var _ run.Sourced = Request{}

// How a sample is taken.
const (
	ByPipette  = "pipette"
	ByBurette  = "burette" // a second one, two readings
	ByCylinder = "cylinder"
	Weighed    = "weighed"
)

// Solution is what is in a bottle, or in none: an unknown.
type Solution struct {
	Name string `json:"name"`
	// Formula of what is dissolved, as plain text; empty of an unknown. Units is how many units
	// of the species that reacts each of it brings.
	Formula string  `json:"formula,omitempty"`
	Units   float64 `json:"units,omitempty"`
	// Bottle and Number are those on the shelf, C its concentration in mol/L of the compound; zero
	// when that is sought.
	Bottle string           `json:"bottle,omitempty"`
	Number int64            `json:"number,omitempty"`
	C      uncertain.Number `json:"c"`
	// Approximate reports whether it has not been standardised.
	Approximate bool `json:"approximate,omitempty"`
}

// species is its concentration of what reacts.
func (s Solution) species() uncertain.Number { return s.C.Scale(s.Units) }

func (s Solution) String() string {
	if s.Number > 0 {
		return fmt.Sprintf("%s, bottle %d", s.Name, s.Number)
	}
	return s.Name
}

// Request is a titration as it is planned.
type Request struct {
	Reaction Reaction `json:"reaction"`
	// Standardise finds the titrant from the sample; else the sample from the titrant.
	Standardise bool     `json:"standardise"`
	Titrant     Solution `json:"titrant"`
	Sample      Solution `json:"sample"`
	// Substance is what is weighed, when samples are.
	Substance *substance.Substance `json:"substance,omitempty"`
	// By says how a sample is taken: Volume in mL with Glass, or Mass in g, about.
	By     string         `json:"by"`
	Volume float64        `json:"volume,omitempty"`
	Mass   float64        `json:"mass,omitempty"`
	Glass  glassware.Item `json:"glass"`
	// Dissolved is the solid that was made up to what the samples are taken of; nil of a solution.
	Dissolved *Dissolved `json:"dissolved,omitempty"`
	// Diluted is how many times the sample had been diluted before; 0 when it was not. Density
	// of the undiluted one in g/mL; 0 when it does not matter.
	Diluted float64 `json:"diluted,omitempty"`
	// Settles reports whether the bottle of the sample takes over what is found, as one that is
	// standardised does.
	Settles bool `json:"settles,omitempty"`
	// Descent of the sample's bottle from an undiluted one; nil where there is none.
	Descent *run.Descent `json:"descent,omitempty"`
	Density float64      `json:"density,omitempty"`
	// Burette is what the titrant runs from: a burette, or other graduated glass. With a Tip drops
	// are counted instead.
	Burette glassware.Item `json:"burette"`
	Tip     *droptip.Tip   `json:"tip,omitempty"`
	// Back is what is added in excess beforehand; nil of a direct titration.
	Back *Back `json:"back,omitempty"`
	// Note is a word to those who carry it out: a caution, or what to look out for.
	Note       string             `json:"note,omitempty"`
	Celsius    float64            `json:"celsius"`
	Balance    weighing.Balance   `json:"balance"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// MaxTrials is how many trials a titration has at most.
const MaxTrials = 20

// MaxName is the longest name of a sample, MaxNote the longest word to a class.
const (
	MaxName = 80
	MaxNote = 500
)

func (r Request) check() error {
	var p verdict.Problems
	if _, err := r.Reaction.Ratio(); err != nil {
		return err
	}
	name := func(field string, s Solution) {
		if n := len([]rune(s.Name)); n == 0 || n > MaxName {
			p.Add(field, "say what it is, in at most %d letters", MaxName)
		}
	}
	name("/titrant", r.Titrant)
	name("/sample", r.Sample)
	r.checkSampling(&p)
	r.checkDissolved(&p)
	r.checkBack(&p)
	if !r.Standardise && !(r.Titrant.C.Value > 0) {
		p.Add("/titrant", "what is in the burette must be known: take a bottle with a concentration")
	}
	if r.Standardise && r.Reaction.Pair() {
		p.Add("/standardise", "two end points tell what is in the flask; to standardise the acid take sodium carbonate alone")
	}
	switch {
	case r.Tip != nil && r.Tip.Check() != nil:
		p.Add("/drop", "%s", problems(r.Tip.Check())[0].Reason)
	case r.Tip == nil && !r.runs():
		p.Add("/burette", "choose a burette of the lab, or a graduated pipette or a syringe; or count drops")
	}
	r.checkBounds(&p)
	return p.OrNil()
}

// checkBounds checks what only has to lie within bounds.
func (r Request) checkBounds(p *verdict.Problems) {
	if !(r.Diluted >= 0 && r.Diluted <= 1e9) || r.Diluted > 0 && r.Diluted < 1 {
		p.Add("/diluted", "diluted how many times: 1 or more, like 10 for 1 in 10")
	}
	if len([]rune(r.Note)) > MaxNote {
		p.Add("/note", "at most %d letters", MaxNote)
	}
	if !(r.Density >= 0 && r.Density <= 20) {
		p.Add("/density", "a density is in g/mL, like 1.01")
	}
	if !(r.Celsius >= 0 && r.Celsius <= 100) { // some are titrated hot
		p.Add("/celsius", "solutions are titrated from 0 to 100 °C")
	}
}

// checkSampling checks how samples are taken, and whether their bottle can take over what is found.
func (r Request) checkSampling(p *verdict.Problems) {
	if r.Settles && (r.Standardise || r.Sample.Bottle == "" || r.By == Weighed || r.Diluted > 1 || r.Descent != nil || r.Reaction.Pair()) {
		p.Add("/settles", "only what is found of an undiluted sample from a bottle goes onto its bottle: one strength, of one solute")
	}
	switch r.By {
	case ByPipette, ByBurette, ByCylinder:
		if !(r.Volume > 0 && r.Volume <= r.Glass.Volume*(1+1e-9)) {
			p.Add("/volume", "a sample is above zero, and at most what a %s holds (%s mL)", r.Glass.Kind, quantity.Trim(r.Glass.Volume))
		}
		if r.Standardise && r.Dissolved == nil && !(r.Sample.C.Value > 0) {
			p.Add("/sample", "to standardise takes a sample of known concentration: a bottle of it, or a solid that is weighed")
		}
	case Weighed:
		if !(r.Mass > 0 && r.Mass <= r.Balance.Capacity) {
			p.Add("/mass", "a sample is above zero, and less than %s weighs (%s g)", r.Balance.Name, quantity.Trim(r.Balance.Capacity))
		}
		if r.Standardise && r.Substance == nil {
			p.Add("/substance", "say which standard is weighed")
		}
	default:
		p.Add("/by", "a sample is taken by pipette, burette or cylinder, or weighed")
	}
}

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

// Title names the titration.
func (r Request) Title() string {
	if r.Standardise {
		return "Standardise " + run.LowerFirst(r.Titrant.Name)
	}
	if r.Back != nil {
		return run.UpperFirst(r.Sample.Name) + ": " + r.Back.Analyte + " by back titration"
	}
	return run.UpperFirst(r.Sample.Name) + ": " + run.LowerFirst(r.Reaction.Title)
}

// perGram is how much of the species that reacts each gram of what is weighed holds, mol/g.
func (r Request) perGram() uncertain.Number {
	if r.Substance == nil {
		return uncertain.Number{}
	}
	f, err := formula.Parse(r.Substance.Formula)
	if err != nil {
		return uncertain.Number{}
	}
	n := uncertain.Exact(r.Sample.Units).Over(f.MolarMass())
	if r.Substance.Assay > 0 {
		n = n.Times(uncertain.WithLimits(r.Substance.Assay, r.Substance.AssayLimits, uncertain.RectangularShape, uncertain.Source{
			ID: "assay " + r.Substance.Key, Label: "assay",
			Basis: fmt.Sprintf("%g %% ± %g %%, rectangular", 100*r.Substance.Assay, 100*r.Substance.AssayLimits),
		}))
	}
	return n
}

// known is what is known beforehand.
func (r Request) known() Known {
	ratio, _ := r.Reaction.Ratio() //nolint:errcheck // the request was checked
	k := Known{Ratio: ratio, Standardise: r.Standardise, Weighed: r.By == Weighed}
	if r.Back != nil {
		if back, err := r.Back.ratio(r.Reaction.Analyte); err == nil {
			k.Back = &back
		}
	}
	switch {
	case !r.Standardise:
		k.C = r.Titrant.species()
	case k.Weighed:
		k.PerGram = r.perGram()
	default:
		k.C = r.Sample.species()
	}
	return k
}

// limits are the lab's; where drops are counted, the end point lies within the last one.
func (r Request) limits() Limits {
	l := Limits{Concordant: r.Thresholds.Of(RuleAgree), EndPoint: r.Thresholds.Of(RuleEndPoint)}
	if r.Tip != nil {
		l.EndPoint = r.Tip.Volume.Value / 2
	}
	return l
}

// Expected is about what a trial will take, in mL; 0 when that is not known beforehand. An
// approximate strength is good enough for that.
func (r Request) Expected() float64 {
	ratio, err := r.Reaction.Ratio()
	if err != nil || !(r.Titrant.C.Value > 0) {
		return 0
	}
	amount := 0.0 // mmol of the analyte’s species
	switch r.By {
	case Weighed:
		amount = 1000 * r.Mass * r.perGram().Value
	default:
		amount = r.Volume * r.expectedSpecies()
	}
	if r.Back != nil {
		back, err := r.Back.ratio(r.Reaction.Analyte)
		if err != nil || amount == 0 {
			return 0
		}
		amount = max(0, r.Back.excess("").Value-amount/back.Value())
	}
	return amount / ratio.Value() / r.Titrant.species().Value
}
