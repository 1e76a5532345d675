package solution

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

// The kinds of fact of a run, beside those that all kinds of work have.
const (
	KindTared       = "tared"       // Quantity: what the tared balance shows
	KindWeighed     = "weighed"     // Quantity: net reading; with After: vessel before and after
	KindWatered     = "watered"     // Choice: in
	KindMeasured    = "measured"    // Quantity: volume of a concentrated liquid
	KindTransferred = "transferred" // Count: rinses
	KindDissolved   = "dissolved"   // Choice: clear, solid-left or neck-reached
	KindMadeUp      = "made-up"     // Quantity: mass of the solution, or volume of water added
	KindMark        = "mark"        // Choice: reached or past
)

// The choices that facts carry.
const (
	choiceClear       = "clear"
	choiceSolidLeft   = "solid-left"
	choiceNeckReached = "neck-reached"
	choiceWaterIn     = "in"
	choiceReached     = "reached"
	choicePast        = "past"

	choiceKeep           = "keep-mass"
	choiceAdd            = "add-mass"
	choiceRemove         = "remove-mass"
	choicePortion        = "another-portion"
	choiceFlask          = "flask " // with the volume in mL: "flask 500 mL"
	choiceTakeTempAsIs   = "accept-temperature"
	choiceWait           = "wait-temperature"
	choiceMixedEnough    = "accept-mixing"
	choiceSolidDissolved = "accept-dissolved"
)

// The steps of a run.
const (
	stepSettle      = "settle"
	stepWater       = "water"
	stepWeigh       = "weigh"
	stepMeasure     = "measure" // shown as stepWeigh
	stepTransfer    = "transfer"
	stepDissolve    = "dissolve"
	stepTemperature = "temperature"
	stepMark        = "mark"
	stepMadeUp      = "made-up"
	stepMix         = "mix"
	stepLabel       = "label"
)

// account follows the facts of one run.
type account struct {
	*context
	flask   glassware.Flask
	takings []taking // one for each solute
	general []string // cautions
	watered bool
	tared   bool
	tare    float64

	rinses           int
	dissolved        string
	acceptedSolid    bool
	temperature      *float64
	acceptedTemp     bool
	mark             string
	madeUp           *float64 // g of solution or mL of water
	filling          string   // the fact that says the vessel is full
	inversions       int
	acceptedMixing   bool
	labelled         time.Time
	expires, remarks string
	reason           string
	readings         []run.Reading

	notes  run.Notes
	volume uncertain.Number
	shown  []figure.Figure // what all of it gives; nil before a mass is known
}

// weighed notes when which balance was read.
func (a *account) weighed(f fact.Fact) {
	a.readings = append(a.readings, run.Reading{Instrument: cmp.Or(f.Instrument, a.Balance.Name), At: f.At})
}

// Make implements [run.Plan].
func (r Request) Make(facts []fact.Fact, now time.Time) (run.Outcome, error) {
	c, err := r.check()
	if err != nil {
		return run.Outcome{}, err
	}
	a := c.account(facts)
	return a.outcome(now), nil
}

func (c *context) account(facts []fact.Fact) *account {
	a := &account{
		context: c, flask: c.flask, general: c.cautions(), notes: run.NewNotes(len(facts)),
		takings: make([]taking, 0, 1+len(c.others)),
	}
	for o := range c.solutes() {
		a.takings = append(a.takings, taking{context: o, portions: []portion{{}}, awaiting: true})
	}
	for _, f := range fact.Standing(facts) {
		a.take(f)
	}
	for i := range a.takings {
		read := slices.ContainsFunc(a.takings[i].portions, func(p portion) bool { return p.load != 0 })
		if step := weighStep(i); a.notes.Has(step) && read { // else what was read is taken back
			a.notes.Say(step, a.takings[i].summary(len(a.takings) > 1))
		}
	}
	for i := range a.takings {
		a.takings[i].net = a.takings[i].mass()
	}
	a.volume = a.contents()
	a.shown = a.solutionFigures()
	return a
}

// weighStep is the ID of the step in which a solute is taken.
func weighStep(part int) string {
	if part == 0 {
		return stepWeigh
	}
	return stepWeigh + " " + strconv.Itoa(part+1)
}

func (a *account) note(step string, f fact.Fact, summary string) {
	a.notes.Add(step, f.ID)
	a.notes.Say(step, summary)
}

// take follows one standing fact.
func (a *account) take(f fact.Fact) {
	if f.Part < 0 || f.Part >= len(a.takings) {
		return
	}
	switch f.Kind {
	case KindTared:
		a.tared, a.tare = true, f.Quantity.Base()
		a.note(stepSettle, f, "Balance settled, weighing vessel tared at "+f.Quantity.String())
	case KindWatered:
		a.watered = true
		a.note(stepWater, f, "About "+quantity.Digits(a.flask.Volume/2, -1)+" mL of water in the "+a.vesselWord())
	case KindWeighed, KindMeasured:
		a.read(f)
	case run.KindDecided:
		a.decide(f)
	case KindTransferred:
		a.rinses = *f.Count
		a.note(stepTransfer, f, "Transferred, vessel and funnel rinsed "+run.Times(*f.Count))
	case KindDissolved:
		a.dissolved = f.Choice
		a.note(stepDissolve, f, map[string]string{
			choiceClear: "Dissolved, clear before the neck", choiceSolidLeft: "Solid left at half",
			choiceNeckReached: "The neck was reached with solid left",
		}[f.Choice])
	case run.KindTemperature:
		t := f.Quantity.Base()
		a.temperature, a.acceptedTemp = &t, false
		a.note(stepTemperature, f, "Solution at "+f.Quantity.String())
	case KindMark:
		a.mark, a.filling = f.Choice, f.ID
		a.note(stepMark, f, map[string]string{choiceReached: "Filled to the mark", choicePast: "Past the mark"}[f.Choice])
		if f.Choice == choicePast {
			a.reason = "past the mark: the volume is unknown"
		}
	case KindMadeUp:
		amount := f.Quantity.Base() // g
		words := "The solution weighs "
		if a.MakeUp == ByAdding {
			amount, words = f.Quantity.In("mL"), "Water added, "
		} else {
			a.weighed(f)
		}
		a.madeUp, a.filling = &amount, f.ID
		a.note(stepMadeUp, f, words+f.Quantity.String())
	case run.KindMixed:
		a.inversions += *f.Count
		a.note(stepMix, f, "Stoppered and inverted "+run.Times(a.inversions))
	case run.KindLabelled:
		a.labelled, a.expires, a.remarks = f.At, f.Date, f.Text
		a.note(stepLabel, f, "Labelled, keeps until "+f.Date)
	}
}

// vesselWord names what the solution is made in.
func (c *context) vesselWord() string {
	if c.MakeUp == ToTheMark {
		return "flask"
	}
	return "bottle"
}

// read follows a reading of what is taken.
func (a *account) read(f fact.Fact) {
	t := &a.takings[f.Part]
	p := &t.portions[len(t.portions)-1]
	before := p.reading()
	p.id, p.spread = f.ID, 0
	switch {
	case f.Kind == KindMeasured:
		p.load = f.Quantity.In("mL")
	case f.After != nil:
		p.load, p.tare = f.Quantity.Base(), f.After.Base()
		p.short = shownDecimals(*f.Quantity) < t.decimals || shownDecimals(*f.After) < t.decimals
	default:
		p.load, p.tare = f.Quantity.Base(), a.tare
		p.short = shownDecimals(*f.Quantity) < t.decimals
	}
	if f.Spread != nil {
		p.spread = f.Spread.Base()
	}
	if f.Kind == KindWeighed {
		a.weighed(f)
	}
	if t.removing {
		p.removed += math.Max(0, before-p.reading())
	}
	t.awaiting, t.removing = false, false
	a.notes.Add(weighStep(f.Part), f.ID)
}

// stepOfChoice is the step that a decision belongs to.
var stepOfChoice = map[string]string{
	choiceKeep: stepWeigh, choiceAdd: stepWeigh, choiceRemove: stepWeigh, choicePortion: stepWeigh,
	choiceTakeTempAsIs: stepTemperature, choiceWait: stepTemperature, choiceMixedEnough: stepMix, choiceSolidDissolved: stepDissolve,
}

// chosenFlask reads the flask out of a decision for another one. The decision names
// it, so that correcting the mass later does not change which flask was taken.
func (a *account) chosenFlask(choice string) (glassware.Flask, bool) {
	text, ok := strings.CutPrefix(choice, choiceFlask)
	if !ok {
		return glassware.Flask{}, false
	}
	volume, err := strconv.ParseFloat(strings.TrimSuffix(text, " mL"), 64)
	if err != nil {
		return glassware.Flask{}, false
	}
	flask, exact, err := a.cupboard.For(volume, a.flask.Class)
	return flask, err == nil && exact
}

// flaskFor returns the next larger flask that what was taken is not too much for.
// There is none for one batch of several, which are all of their own size.
func (a *account) flaskFor(t *taking) (flask glassware.Flask, ok bool) {
	if a.MakeUp != ToTheMark || len(a.batches) > 1 {
		return flask, false
	}
	taken := t.taken()
	flask, ok = a.cupboard.Larger(a.flask)
	for ok && taken > t.taking(flask)*(1+a.Band) {
		flask, ok = a.cupboard.Larger(flask)
	}
	return flask, ok
}

func (a *account) decide(f fact.Fact) {
	t := &a.takings[f.Part]
	if flask, ok := a.chosenFlask(f.Choice); ok {
		a.flask, t.awaiting = flask, true
		a.notes.Add(weighStep(f.Part), f.ID)
		return
	}
	if step, ok := stepOfChoice[f.Choice]; ok {
		if step == stepWeigh {
			step = weighStep(f.Part)
		}
		a.notes.Add(step, f.ID)
	}
	switch f.Choice {
	case choiceKeep:
		t.kept = true
	case choiceAdd, choiceRemove:
		t.awaiting, t.removing = true, f.Choice == choiceRemove
	case choicePortion:
		t.awaiting = true
		t.portions = append(t.portions, portion{})
	case run.ChoiceStartAgain:
		a.reason = run.GivenUp(f)
	case choiceTakeTempAsIs:
		a.acceptedTemp = true
	case choiceWait:
		a.temperature = nil
	case choiceMixedEnough:
		a.acceptedMixing = true
	case choiceSolidDissolved:
		a.acceptedSolid = true
	}
}

// shownDecimals returns the decimals in g that a reading was recorded with; a
// reading whose decimals are not known counts as complete.
func shownDecimals(q quantity.Quantity) int {
	if q.Decimals < 0 {
		return math.MaxInt
	}
	return q.Decimals - int(math.Round(math.Log10(q.Unit.Factor)))
}

// masses are those of everything taken, in g; by the recipe where nothing is yet.
func (a *account) masses() []uncertain.Number {
	list := a.plannedMasses()
	for i := range a.takings {
		if net := a.takings[i].net; net.Value > 0 {
			list[i] = net.Times(a.takings[i].buoyancy)
		}
	}
	return list
}

// temperatureOK reports whether the solution is near 20 °C.
func (a *account) temperatureOK() bool {
	return a.temperature != nil && math.Abs(*a.temperature-glassware.ReferenceTemperature) <= a.Thresholds.Of(RuleTemperature)
}

func (a *account) mixedEnough() bool {
	return float64(a.inversions) >= a.Thresholds.Of(run.RuleInversions)
}

// done reports whether a step is finished.
func (a *account) done(step *run.Step) bool {
	switch step.ID {
	case stepWater:
		return a.watered
	case stepSettle:
		return a.tared
	case weighStep(step.Part):
		t := &a.takings[step.Part]
		return t.kept && t.net.Value > 0 // what was kept may have been taken back since
	case stepTransfer:
		return a.rinses > 0
	case stepDissolve:
		return a.dissolved == choiceClear || a.dissolved != "" && a.acceptedSolid
	case stepTemperature:
		return a.temperatureOK() || a.temperature != nil && a.acceptedTemp
	case stepMark:
		return a.mark != ""
	case stepMadeUp:
		return a.madeUp != nil
	case stepMix:
		return a.mixedEnough() || a.inversions > 0 && a.acceptedMixing
	default:
		return a.expires != ""
	}
}
