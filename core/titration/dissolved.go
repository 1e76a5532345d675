package titration

import (
	"cmp"
	"fmt"
	"math"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Dissolved is a solid that was weighed, dissolved and made up to the mark of a flask, of which the
// samples are taken. What is found in them goes back to the solid, in mol for each g:
//
//	b = c·F·V/m
//
// with c as it was titrated, F how many times the flask was diluted further, V the flask and m what
// was weighed. The titrant and the flask may be warmer than 20 °C: that of the aliquots cancels, this
// does not.
type Dissolved struct {
	Mass  float64         `json:"mass"` // g, about
	Flask glassware.Flask `json:"flask"`
}

// The steps of what is dissolved.
const (
	stepWeigh  = "weigh"
	stepMakeUp = "make up"
	stepMix    = "mix"
)

func (r Request) checkDissolved(p *verdict.Problems) {
	d := r.Dissolved
	if d == nil {
		return
	}
	if r.Standardise {
		p.Add("/dissolved", "a standard that is made up to a flask goes onto the shelf: make it under Standards, and take its bottle")
	}
	if r.By == Weighed {
		p.Add("/by", "samples of what is in a flask are taken by pipette, burette or cylinder")
	}
	if !(d.Mass > 0 && d.Mass <= r.Balance.Capacity) {
		p.Add("/dissolved/mass", "what is dissolved is above zero, and less than %s weighs (%s g)", r.Balance.Name, quantity.Trim(r.Balance.Capacity))
	}
	if math.IsNaN(d.Flask.Tolerance()) {
		p.Add("/dissolved/flask", "take one of the flasks of the lab, like 250 mL")
	} else if r.Volume > d.Flask.Volume {
		p.Add("/volume", "a sample is at most what the flask holds (%s mL)", quantity.Trim(d.Flask.Volume))
	}
}

// expectedSpecies is the concentration of what reacts in a sample as planned, in mol/L; 0 of an unknown.
func (r Request) expectedSpecies() float64 {
	if d := r.Dissolved; d != nil {
		return 1000 * d.Mass * r.perGram().Value / d.Flask.Volume / max(1, r.Diluted)
	}
	return r.Sample.species().Value
}

// judgeFlask says when the flask does not hold what the trials take of it.
func (r Request) judgeFlask() []verdict.Verdict {
	d := r.Dissolved
	if d == nil || r.Diluted > 1 || r.trials()*r.Volume <= d.Flask.Volume {
		return nil
	}
	return []verdict.Verdict{RuleFlask.Says(verdict.Look, nil,
		"%s trials of %s mL are more than the %s mL of the flask: take smaller samples, or a larger flask.",
		quantity.Trim(r.trials()), quantity.Trim(r.Volume), quantity.Trim(d.Flask.Volume))}
}

// sayDissolved says where the samples come from; empty of those from a bottle.
func (r Request) sayDissolved() string {
	d := r.Dissolved
	if d == nil {
		return ""
	}
	return fmt.Sprintf(", of about %s g made up to %s mL", quantity.Digits(d.Mass, r.Balance.Decimals()), quantity.Trim(d.Flask.Volume))
}

// preparation is what was done before the trials.
type preparation struct {
	solid      uncertain.Number // g
	read       string
	mark       string
	filling    string
	inversions int
}

// prepare takes down what was weighed and made up; false of any other fact.
func (a *account) prepare(f fact.Fact) bool {
	step := map[string]string{KindSolid: stepWeigh, KindMark: stepMakeUp, run.KindMixed: stepMix}[f.Kind]
	if a.Dissolved == nil || step == "" {
		return false
	}
	p := &a.prepared
	switch f.Kind {
	case KindSolid:
		p.solid = a.weighed(f)
		p.read = quantity.Digits(p.solid.Value, a.Balance.Decimals()) + " g"
	case KindMark:
		p.mark, p.filling = f.Choice, f.ID
	case run.KindMixed:
		p.inversions += *f.Count
	}
	a.notes.Add(step, f.ID)
	a.notes.Say(step, a.Sentence(f))
	if f.Kind == run.KindMixed {
		a.notes.Say(step, "Inverted "+run.Times(p.inversions))
	}
	return true
}

// weighed is a mass in g as the balance showed it.
func (a *account) weighed(f fact.Fact) uncertain.Number {
	a.reads = append(a.reads, run.Reading{Instrument: cmp.Or(f.Instrument, a.Balance.Name), At: f.At})
	return a.Balance.Weighed(f)
}

// preparing are the steps before the trials.
func (a *account) preparing() []run.Step {
	d := a.Dissolved
	if d == nil {
		return nil
	}
	weigh := a.asksMass(run.Step{
		ID: stepWeigh, Asks: true, Kind: KindSolid, Cautions: a.cautions(),
		Title: fmt.Sprintf("Weigh about %s g of %s", quantity.Digits(d.Mass, a.Balance.Decimals()), run.LowerFirst(a.Sample.Name)),
		Hint:  "What is weighed counts, not what was planned. By difference when some stays in the vessel.",
	}, d.Mass)
	makeUp := run.Step{
		ID: stepMakeUp, Title: "Dissolve it, rinse it into the " + quantity.Trim(d.Flask.Volume) + " mL flask, water to the mark",
		Asks: a.prepared.mark == "", Kind: KindMark, Input: run.InputChoice,
		Options: []verdict.Choice{{ID: choiceReached, Label: "Meniscus on the line"}, {ID: choicePastMark, Label: "Past the mark"}},
		Hint:    "All dissolved, and as warm as the room, before the last water. The bottom of the meniscus on the line, at eye level.",
	}
	if a.prepared.mark == choicePastMark {
		makeUp.Verdicts = []verdict.Verdict{RuleFlask.Finds(verdict.Stop, []verdict.Choice{{ID: run.ChoiceStartAgain, Label: "Begin again"}},
			"Past the mark: how much is in the flask is unknown, and so would be the part by mass. Discard it and weigh again.")}
	}
	wanted := a.Thresholds.Of(run.RuleInversions)
	mix := run.Step{
		ID: stepMix, Title: "Stopper, hold the stopper, invert " + quantity.Trim(wanted) + " times", Asks: true, Kind: run.KindMixed,
		Input: run.InputCount, Unit: "inversions", Default: quantity.Digits(math.Max(1, wanted-float64(a.prepared.inversions)), 0),
		Hint: "Each sample has to be like the others.",
	}
	if n := a.prepared.inversions; n > 0 && float64(n) < wanted {
		mix.Verdicts = []verdict.Verdict{run.RuleInversions.Says(verdict.Look, nil, "Inverted %s of %s.", run.Times(n), quantity.Trim(wanted))}
	}
	return []run.Step{weigh, makeUp, mix}
}

// preparedTo reports whether a step before the trials is finished.
func (a *account) preparedTo(step string) bool {
	switch p := a.prepared; step {
	case stepWeigh:
		return p.solid.Value > 0
	case stepMakeUp:
		return p.mark == choiceReached
	default:
		return float64(p.inversions) >= a.Thresholds.Of(run.RuleInversions)
	}
}

// inSolid is what each gram of a solid holds, in mol, by what was found in mol/L of it made up.
func (r Request) inSolid(c, solid uncertain.Number, filling string) uncertain.Number {
	return c.Times(r.factor()).Times(r.Dissolved.Flask.Filled(filling)).Over(solid).Times(warmth()).Scale(1e-3)
}

// perGramFound is that of the solid that was weighed; ok is false where none was.
func (a *account) perGramFound(c uncertain.Number) (n uncertain.Number, ok bool) {
	if a.Dissolved == nil || !(a.prepared.solid.Value > 0) || a.prepared.mark == "" {
		return n, false
	}
	return a.inSolid(c, a.prepared.solid, a.prepared.filling), true
}

// dissolvedFigures are those of the solid: its part by mass that is a compound of so many units of
// what was found, in mol/L, and the amount in each gram.
func (a *account) dissolvedFigures(id, compound string, found uncertain.Number) (list []figure.Figure) {
	b, ok := a.perGramFound(found)
	if !ok {
		return nil
	}
	if f, err := formula.Parse(compound); err == nil {
		list = append(list, figure.New(id+" %", "part by mass that is "+compound, "%", b.Times(f.MolarMass()).Scale(100)))
	}
	return append(list, figure.New(id+" in each gram", compound+" in each gram", "mmol/g", b.Scale(1000)))
}

// soughtInSolid is the compound whose part by mass is told, and how many units of what is titrated
// each unit of it contains.
func (a *account) soughtInSolid() (compound string, units float64) {
	if a.Substance != nil {
		return a.Substance.Formula, cmpUnits(a.Sample.Units)
	}
	return a.Sought(), 1
}

// solidLine comes from a concentration in mol/L to what the solid holds of a compound, which contains so
// many units of what was found.
func (a *account) solidLine(f figure.Figure, found uncertain.Number, compound string, units float64) working.Line {
	l := working.Line{
		Title: run.UpperFirst(f.Label), Symbol: "b", Result: working.Result(f.Number, f.Unit),
		Formula: `b = \frac{c\,V}{m}`, From: []string{
			"V: the " + a.Dissolved.Flask.String() + " flask, to the mark",
			"m: weighed, " + a.prepared.read,
		},
	}
	c := working.Value(found, "mol/L") + a.setTimes()
	if a.diluted() {
		l.Formula, l.From = `b = \frac{c\,F\,V}{m}`, append(l.From, a.sayFactor())
	}
	top := c + ` \times ` + working.Value(a.Dissolved.Flask.Filled(a.prepared.filling), "mL")
	below := working.Value(a.prepared.solid, "g")
	if f.Unit == "%" {
		mass, err := formula.Parse(compound)
		if err != nil {
			return l
		}
		l.Symbol, l.Formula = "w", `w = \frac{c\,V\,M}{m}`
		if a.diluted() {
			l.Formula = `w = \frac{c\,F\,V\,M}{m}`
		}
		top += ` \times ` + working.Value(mass.MolarMass(), "g/mol")
		l.From = append(l.From, "M of "+compound+" from atomic weights")
	}
	if units != 1 {
		below += ` \times ` + quantity.Digits(units, -1)
		l.Formula = l.Formula[:len(l.Formula)-len("{m}")] + `{m\,z}`
		l.From = append(l.From, "z: "+a.Sought()+" that each "+compound+" contains")
	}
	l.Substituted = l.Symbol + ` = \frac{` + top + `}{` + below + `}`
	return l
}
