package solution

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// The kinds of fact of a run.
const (
	KindTared       = "tared"       // Quantity: what the tared balance shows
	KindWeighed     = "weighed"     // Quantity: net reading; with After: vessel before and after
	KindWatered     = "watered"     // Choice: in
	KindMeasured    = "measured"    // Quantity: volume of a concentrated liquid
	KindDecided     = "decided"     // Choice: one of the choices offered at the step
	KindTransferred = "transferred" // Count: rinses
	KindDissolved   = "dissolved"   // Choice: clear, solid-left or neck-reached
	KindTemperature = "temperature" // Quantity: of the solution in the flask
	KindMark        = "mark"        // Choice: reached or past
	KindMixed       = "mixed"       // Count: inversions, added up
	KindLabelled    = "labelled"    // Date: expires; Text: what to remember
	KindNote        = "note"        // Text
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
	choiceStartAgain     = "start-again"
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
	stepMix         = "mix"
	stepLabel       = "label"
)

// Status is where a run stands.
type Status string

// A run is open until it is labelled (finished) or given up (void).
const (
	Open     Status = "open"
	Finished Status = "finished"
	Void     Status = "void"
)

// Input says what a step asks for.
type Input string

// The inputs of steps.
const (
	InputMass        Input = "mass"
	InputVolume      Input = "volume"
	InputTemperature Input = "temperature"
	InputCount       Input = "count"
	InputChoice      Input = "choice"
	InputLabel       Input = "label"
)

// State of a step.
type State string

// A step is done, at hand, or still to come.
const (
	Done   State = "done"
	Now    State = "now"
	Coming State = "coming"
)

// Step is one line of the run sheet.
type Step struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Hint  string `json:"hint,omitempty"`
	State State  `json:"state"`
	// Kind is the kind of fact that the step takes, Input how it is stated.
	Kind  string `json:"kind"`
	Input Input  `json:"input"`
	// Unit of what is typed, Default what stands in the field at first.
	Unit    string           `json:"unit,omitempty"`
	Default string           `json:"default,omitempty"`
	Options []verdict.Choice `json:"options,omitempty"`
	// Asks tells whether a reading is asked for; false when a decision is.
	Asks     bool              `json:"asks"`
	Summary  string            `json:"summary,omitempty"`
	Cautions []string          `json:"cautions,omitempty"`
	Verdicts []verdict.Verdict `json:"verdicts,omitempty"`
	// Facts are the IDs of the standing facts of the step.
	Facts []string `json:"facts,omitempty"`
}

// Vessel is what stands in front of the person, for the drawing.
type Vessel struct {
	Flask     glassware.Flask `json:"flask"`
	Tolerance float64         `json:"tolerance"`
	Neck      float64         `json:"neck"` // mm
	// Filled is the volume of liquid in mL; Level says it in words.
	Filled float64 `json:"filled"`
	Level  string  `json:"level"`
	// What is taken: the reading in Unit (g or mL) on With, nil before the first one,
	// with the band to aim at.
	Unit     string   `json:"unit"`
	With     string   `json:"with"`
	Reading  *float64 `json:"reading,omitempty"`
	Target   float64  `json:"target"`
	Low      float64  `json:"low"`
	High     float64  `json:"high"`
	Decimals int      `json:"decimals"`
}

// Outcome is what the facts of a run amount to.
type Outcome struct {
	Status  Status   `json:"status"`
	Reason  string   `json:"reason,omitempty"` // why it is void
	Steps   []Step   `json:"steps"`
	Vessel  Vessel   `json:"vessel"`
	Figures []Figure `json:"figures"` // empty before a mass is known
	// Exact tells whether the concentration stands by weighing alone.
	Exact   bool   `json:"exact"`
	Expires string `json:"expires,omitempty"`
	Note    string `json:"note,omitempty"`
}

// portion is one vessel of solid on the pan, or one measure of liquid.
type portion struct {
	load, tare float64 // the two readings, in unit(); of a glass only the first
	removed    float64 // taken off again and discarded, in unit()
	short      bool    // fewer digits were recorded than the balance shows
}

// reading is the net reading, in unit().
func (p portion) reading() float64 { return p.load - p.tare }

// account follows the facts of one run.
type account struct {
	context
	flask    glassware.Flask
	portions []portion
	watered  bool
	tared    bool
	tare     float64
	awaiting bool // the next reading of the pan is asked for
	removing bool
	kept     bool

	rinses           int
	dissolved        string
	acceptedSolid    bool
	temperature      *float64
	acceptedTemp     bool
	mark             string
	inversions       int
	acceptedMixing   bool
	labelled         bool
	expires, remarks string
	reason           string

	facts     map[string][]string // by step
	summaries map[string]string
	shown     []Figure // what all of it gives; nil before a mass is known
}

// Make computes the outcome of the facts of a run. Facts that a step does not
// know are passed over; [Admit] refuses them before they are stored. The clock
// only fills in the expiry that the label step proposes.
func Make(r Request, facts []fact.Fact, now time.Time) (Outcome, error) {
	c, err := r.check()
	if err != nil {
		return Outcome{}, err
	}
	a := c.account(facts)
	return a.outcome(now), nil
}

func (c context) account(facts []fact.Fact) *account {
	a := &account{context: c, flask: c.flask, portions: []portion{{}}, awaiting: true,
		facts: map[string][]string{}, summaries: map[string]string{}}
	for _, f := range fact.Standing(facts) {
		a.take(f)
	}
	if len(a.facts[stepWeigh]) > 0 {
		a.summaries[stepWeigh] = a.weighedSummary()
	}
	a.shown = a.solutionFigures()
	return a
}

func (a *account) note(step string, f fact.Fact, summary string, args ...any) {
	a.facts[step] = append(a.facts[step], f.ID)
	a.summaries[step] = fmt.Sprintf(summary, args...)
}

// take follows one standing fact.
func (a *account) take(f fact.Fact) {
	switch f.Kind {
	case KindTared:
		a.tared, a.tare = true, f.Quantity.Base()
		a.note(stepSettle, f, "Balance settled, weighing vessel tared at %s", f.Quantity)
	case KindWatered:
		a.watered = true
		a.note(stepWater, f, "About %g mL of water in the flask", a.flask.Volume/2)
	case KindWeighed, KindMeasured:
		a.read(f)
	case KindDecided:
		a.decide(f)
	case KindTransferred:
		a.rinses = *f.Count
		a.note(stepTransfer, f, "Transferred, vessel and funnel rinsed %s", times(*f.Count))
	case KindDissolved:
		a.dissolved = f.Choice
		a.note(stepDissolve, f, "%s", map[string]string{choiceClear: "Dissolved, clear before the neck", choiceSolidLeft: "Solid left at half",
			choiceNeckReached: "The neck was reached with solid left"}[f.Choice])
	case KindTemperature:
		t := f.Quantity.Base()
		a.temperature, a.acceptedTemp = &t, false
		a.note(stepTemperature, f, "Solution at %s", f.Quantity)
	case KindMark:
		a.mark = f.Choice
		a.note(stepMark, f, "%s", map[string]string{choiceReached: "Filled to the mark", choicePast: "Past the mark"}[f.Choice])
		if f.Choice == choicePast {
			a.reason = "past the mark: the volume is unknown"
		}
	case KindMixed:
		a.inversions += *f.Count
		a.note(stepMix, f, "Stoppered and inverted %s", times(a.inversions))
	case KindLabelled:
		a.labelled, a.expires, a.remarks = true, f.Date, f.Text
		a.note(stepLabel, f, "Labelled, keeps until %s", f.Date)
	}
}

// read follows a reading of what is taken.
func (a *account) read(f fact.Fact) {
	p := &a.portions[len(a.portions)-1]
	before := p.reading()
	switch {
	case f.Kind == KindMeasured:
		p.load = f.Quantity.In("mL")
	case f.After != nil:
		p.load, p.tare = f.Quantity.Base(), f.After.Base()
		p.short = shownDecimals(*f.Quantity) < a.decimals || shownDecimals(*f.After) < a.decimals
	default:
		p.load, p.tare = f.Quantity.Base(), a.tare
		p.short = shownDecimals(*f.Quantity) < a.decimals
	}
	if a.removing {
		p.removed += math.Max(0, before-p.reading())
	}
	a.awaiting, a.removing = false, false
	a.facts[stepWeigh] = append(a.facts[stepWeigh], f.ID)
}

// stepOfChoice is the step that a decision belongs to.
var stepOfChoice = map[string]string{choiceKeep: stepWeigh, choiceAdd: stepWeigh, choiceRemove: stepWeigh, choicePortion: stepWeigh,
	choiceTakeTempAsIs: stepTemperature, choiceWait: stepTemperature, choiceMixedEnough: stepMix, choiceSolidDissolved: stepDissolve}

// chosenFlask reads the flask out of a decision for another one. The decision names
// it, so that correcting the mass later does not change which flask was taken.
func (a *account) chosenFlask(choice string) (glassware.Flask, bool) {
	var volume float64
	if n, err := fmt.Sscanf(choice, choiceFlask+"%g mL", &volume); n != 1 || err != nil {
		return glassware.Flask{}, false
	}
	flask, exact, err := glassware.FlaskFor(volume, a.flask.Class)
	return flask, err == nil && exact
}

// flaskFor returns the next larger flask that what was taken is not too much for.
func (a *account) flaskFor(taken float64) (glassware.Flask, bool) {
	flask, ok := a.flask.Larger()
	for ok && taken > a.taking(flask)*(1+a.Band) {
		flask, ok = flask.Larger()
	}
	return flask, ok
}

func (a *account) decide(f fact.Fact) {
	if flask, ok := a.chosenFlask(f.Choice); ok {
		a.flask, a.awaiting = flask, true
		a.facts[stepWeigh] = append(a.facts[stepWeigh], f.ID)
		return
	}
	if step, ok := stepOfChoice[f.Choice]; ok {
		a.facts[step] = append(a.facts[step], f.ID)
	}
	switch f.Choice {
	case choiceKeep:
		a.kept = true
	case choiceAdd, choiceRemove:
		a.awaiting, a.removing = true, f.Choice == choiceRemove
	case choicePortion:
		a.awaiting = true
		a.portions = append(a.portions, portion{})
	case choiceStartAgain:
		a.reason = "given up"
		if f.Text != "" {
			a.reason += ": " + f.Text
		}
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

func times(n int) string {
	if n == 1 {
		return "once"
	}
	return fmt.Sprintf("%d times", n)
}

func (a *account) weighedSummary() string {
	var parts []string
	removed := 0.0
	for _, p := range a.portions {
		if p.load != 0 {
			parts = append(parts, a.say(p.reading()))
		}
		removed += p.removed
	}
	text := "Weighed "
	if a.byVolume {
		text = "Measured "
	}
	text += strings.Join(parts, " + ")
	if len(parts) > 1 {
		text += " = " + a.say(a.taken())
	}
	if removed > 0 {
		text += ", " + a.say(removed) + " discarded"
	}
	return text
}

// taken is the sum of the readings, in unit().
func (a *account) taken() float64 {
	sum := 0.0
	for _, p := range a.portions {
		sum += p.reading()
	}
	return sum
}

// mass is the sum of the portions, in g.
func (a *account) mass() uncertain.Number {
	sum := uncertain.Number{}
	for i, p := range a.portions {
		if p.load != 0 {
			sum = sum.Plus(a.netMass(p.load, p.tare, fmt.Sprintf("portion %d", i+1)))
		}
	}
	return sum
}

// temperatureOK tells whether the solution is near 20 °C.
func (a *account) temperatureOK() bool {
	return a.temperature != nil && math.Abs(*a.temperature-glassware.ReferenceTemperature) <= a.Thresholds.Of(RuleTemperature)
}

func (a *account) mixedEnough() bool { return float64(a.inversions) >= a.Thresholds.Of(RuleInversions) }

// done tells whether a step is finished.
func (a *account) done(step string) bool {
	switch step {
	case stepWater:
		return a.watered
	case stepSettle:
		return a.tared
	case stepWeigh:
		return a.kept
	case stepTransfer:
		return a.rinses > 0
	case stepDissolve:
		return a.dissolved == choiceClear || a.dissolved != "" && a.acceptedSolid
	case stepTemperature:
		return a.temperatureOK() || a.temperature != nil && a.acceptedTemp
	case stepMark:
		return a.mark != ""
	case stepMix:
		return a.mixedEnough() || a.inversions > 0 && a.acceptedMixing
	default:
		return a.labelled
	}
}

// solutionFigures computes the figures with what is known now; nil before a mass is.
func (a *account) solutionFigures() []Figure {
	net := a.mass()
	if !(net.Value > 0) {
		return nil
	}
	temperature, limits := a.solutionTemperature()
	return a.figures(net, a.flask, temperature, limits)
}

// solutionTemperature is that of the solution at the mark in °C, within ±limits:
// measured, or else the 20 °C that it is to come to.
func (a *account) solutionTemperature() (temperature, limits float64) {
	if a.temperature != nil {
		return *a.temperature, measuredTemperatureLimits
	}
	return glassware.ReferenceTemperature, assumedTemperatureLimits
}

func (a *account) outcome(now time.Time) Outcome {
	out := Outcome{Status: Open, Reason: a.reason, Figures: a.shown, Expires: a.expires, Note: a.remarks,
		Exact: a.Substance.Class == substance.Primary && !a.Substance.Hygroscopic && a.dissolved != choiceNeckReached}
	atHand := false
	for _, step := range a.steps(now) {
		switch {
		case a.done(step.ID):
			step.State = Done
		case !atHand && a.reason == "":
			step.State, atHand = Now, true
		default:
			step.State = Coming
		}
		if step.State != Now {
			step.Default, step.Asks = "", false
			if step.State == Coming {
				step.Cautions, step.Verdicts = nil, nil
			}
		}
		for i := range step.Verdicts {
			if step.State == Done { // decided already
				step.Verdicts[i].Choices = nil
			}
		}
		step.Summary, step.Facts = a.summaries[step.ID], a.facts[step.ID]
		out.Steps = append(out.Steps, step)
	}
	switch {
	case a.reason != "":
		out.Status, out.Figures = Void, nil
	case !atHand:
		out.Status = Finished
	}
	out.Vessel = a.vessel()
	return out
}

func (a *account) vessel() Vessel {
	target := a.taking(a.flask)
	v := Vessel{Unit: a.unit(), With: a.with(), Flask: a.flask, Tolerance: a.flask.Tolerance(), Neck: a.flask.Neck(), Level: "empty",
		Target: target, Low: target * (1 - a.Band), High: target * (1 + a.Band), Decimals: a.decimals}
	if taken := a.taken(); taken != 0 {
		v.Reading = &taken
	}
	fill := func(fraction float64, level string) { v.Filled, v.Level = fraction*a.flask.Volume, level }
	switch {
	case a.mark == choicePast:
		fill(1.01, "past the mark")
	case a.mark == choiceReached:
		fill(1, "at the mark")
	case a.done(stepTemperature):
		fill(0.97, "just below the mark")
	case a.done(stepDissolve) || a.dissolved != "":
		fill(0.5, "about half full")
	case a.watered:
		fill(0.5, "about half full")
	case a.rinses > 0:
		fill(0.15, "rinsings and solid")
	}
	return v
}

// steps lists the steps with what they ask and say now.
func (a *account) steps(now time.Time) []Step {
	target := a.taking(a.flask)
	general := a.cautions()
	keeps := a.Thresholds.Of(RuleShelfSecondary)
	if a.Substance.Class == substance.Primary {
		keeps = a.Thresholds.Of(RuleShelfPrimary)
	}
	drying := ""
	if a.Substance.Drying != "" {
		drying = "Drying: " + a.Substance.Drying + ". "
	}
	solid := "the concentrated liquid"
	if !a.Substance.Liquid {
		solid = "the " + map[bool]string{true: "dried "}[strings.Contains(a.Substance.Drying, " h at")] + "solid"
		if !sameSolid(a.context) {
			solid += " (" + a.solid.String() + ")"
		}
	}
	taken := a.weighVerdicts()
	all := []Step{
		{ID: stepWater, Title: fmt.Sprintf("Water into the flask first, about %g mL", a.flask.Volume/2), Kind: KindWatered, Input: InputChoice, Asks: true,
			Options: []verdict.Choice{{ID: choiceWaterIn, Label: "The water is in"}}, Hint: "Acid and concentrated base go into water, never the reverse.", Cautions: general},
		{ID: stepSettle, Title: "Let the balance settle, tare the weighing vessel", Kind: KindTared, Input: InputMass, Unit: "g", Asks: true,
			Default: quantity.Digits(0, a.decimals), Hint: "Firm and level, away from draughts; it shows grams. Record what it shows after taring.",
			Cautions: general[:1], Verdicts: a.tareVerdicts()},
		{ID: stepWeigh, Title: fmt.Sprintf("Weigh %s of %s", a.say(target), solid),
			Kind: KindWeighed, Input: InputMass, Unit: "g", Asks: a.awaiting,
			Hint:     drying + "Small portions near the end. What is too much goes to waste, never back into the bottle.",
			Cautions: general[1:], Verdicts: taken},
		{ID: stepMeasure, Title: fmt.Sprintf("Measure %s of %s with a %s", a.say(target), solid, a.with()), Kind: KindMeasured, Input: InputVolume, Unit: "mL", Asks: a.awaiting,
			Hint: "With a bulb, the meniscus at eye level; let it run into the water, touch off the tip, do not blow out.", Cautions: general[1:], Verdicts: taken},
		{ID: stepTransfer, Title: "Transfer through the funnel, rinse vessel and funnel", Kind: KindTransferred, Input: InputCount, Unit: "rinses", Asks: true,
			Default: "3", Hint: rinsingHint(), Verdicts: a.transferVerdicts()},
		{ID: stepDissolve, Title: fmt.Sprintf("Fill to about %g mL, swirl until clear before the neck", a.flask.Volume/2), Kind: KindDissolved, Input: InputChoice,
			Asks: a.dissolved == "" || a.dissolved == choiceSolidLeft, Options: []verdict.Choice{{ID: choiceClear, Label: "All dissolved, clear"}, {ID: choiceSolidLeft, Label: "Solid left"},
				{ID: choiceNeckReached, Label: "Neck reached with solid left"}}, Hint: a.Substance.Note, Verdicts: a.dissolveVerdicts()},
		{ID: stepTemperature, Title: fmt.Sprintf("Fill to just below the mark, let it come to 20 ± %g °C", a.Thresholds.Of(RuleTemperature)), Kind: KindTemperature, Input: InputTemperature, Unit: "°C",
			Asks: a.temperature == nil, Default: quantity.Digits(a.WaterTemperature, 1), Hint: "Measure in the flask or in a beaker of the same water beside it.", Verdicts: a.temperatureVerdicts()},
		{ID: stepMark, Title: "To the mark, drop by drop, at eye level", Kind: KindMark, Input: InputChoice, Asks: true,
			Options: []verdict.Choice{{ID: choiceReached, Label: "Meniscus on the line"}, {ID: choicePast, Label: "Past the mark"}},
			Hint:    "The bottom of the meniscus on the line.", Verdicts: a.markVerdicts()},
		{ID: stepMix, Title: fmt.Sprintf("Stopper, hold the stopper, invert %g times", a.Thresholds.Of(RuleInversions)), Kind: KindMixed, Input: InputCount, Unit: "inversions", Asks: !a.mixedEnough(),
			Default: quantity.Digits(math.Max(1, a.Thresholds.Of(RuleInversions)-float64(a.inversions)), 0),
			Hint:    "The level may stand a little lower afterwards, since the liquid wets neck and stopper: do not top up. The volume was right at the mark.", Verdicts: a.mixVerdicts()},
		{ID: stepLabel, Title: "Label and shelve", Kind: KindLabelled, Input: InputLabel, Asks: true,
			Default: now.AddDate(0, 0, int(keeps)).Format(time.DateOnly), Hint: "At once: unlabelled clear liquids get mixed up."},
	}
	steps := make([]Step, 0, len(all))
	for _, id := range a.order() {
		i := slices.IndexFunc(all, func(s Step) bool { return s.ID == id })
		step := all[i]
		if id == stepTransfer && a.Substance.Liquid {
			step.Title, step.Hint = "Slowly into the water, rinse the vessel in", "A thin stream, swirling. "+rinsingHint()
			step.Cautions = general[1:]
		}
		if step.ID == stepMeasure {
			step.ID = stepWeigh // one step, whichever way it is taken
		}
		steps = append(steps, step)
	}
	return steps
}

// order lists the steps in the order of the work: a solid is weighed and dissolved,
// a concentrated liquid goes into water, weighed or measured.
func (a *account) order() []string {
	switch {
	case a.byVolume:
		return []string{stepWater, stepMeasure, stepTransfer, stepTemperature, stepMark, stepMix, stepLabel}
	case a.Substance.Liquid:
		return []string{stepWater, stepSettle, stepWeigh, stepTransfer, stepTemperature, stepMark, stepMix, stepLabel}
	}
	return []string{stepSettle, stepWeigh, stepTransfer, stepDissolve, stepTemperature, stepMark, stepMix, stepLabel}
}

func (a *account) tareVerdicts() []verdict.Verdict {
	most := a.Thresholds.Of(RuleTare) * a.Balance.Resolution
	if !a.tared || math.Abs(a.tare) <= most*(1+1e-9) {
		return nil
	}
	return []verdict.Verdict{RuleTare.Says(verdict.Look, nil, "It showed %s after taring; this is taken off every reading.", a.say(a.tare))}
}

// concentrationText writes the concentration that stands now, without uncertainty.
func (a *account) concentrationText() string {
	for _, f := range a.shown {
		if f.ID == "concentration" {
			return f.Text + " " + f.Unit
		}
	}
	return ""
}

// rinsingHint says in numbers why several small rinses beat a large one.
func rinsingHint() string {
	return fmt.Sprintf("Deionised water, all into the flask. With %g mL clinging, 3 rinses of %g mL leave %.2g %% of it, one of %g mL leaves %.2g %%.",
		usualResidue, usualRinse, 100*LeftAfterRinsing(3, usualRinse, usualResidue), 3*usualRinse, 100*LeftAfterRinsing(1, 3*usualRinse, usualResidue))
}

// finest is the smallest difference that can be seen, in unit().
func (a *account) finest() float64 {
	if a.byVolume {
		return a.measure.Division() / 5
	}
	return a.Balance.Resolution
}

func (a *account) weighVerdicts() []verdict.Verdict {
	net := a.taken()
	if a.awaiting && !a.kept || !(net > 0) {
		return nil
	}
	target := a.taking(a.flask)
	off := net/target - 1
	percent := func(x float64) string { return fmt.Sprintf("%.2g %%", math.Abs(100*x)) }
	reads := "The bottle will read " + a.concentrationText() + ", and that is what the label will say."
	keep := verdict.Choice{ID: choiceKeep, Label: "Keep this " + map[bool]string{true: "volume", false: "mass"}[a.byVolume]}
	add := verdict.Choice{ID: choiceAdd, Label: "Add " + a.say(target-net) + " more"}
	another := verdict.Choice{ID: choicePortion, Label: "Another portion, tared again"}
	again := verdict.Choice{ID: choiceStartAgain, Label: "Start again"}

	var list []verdict.Verdict
	switch {
	case math.Abs(off) <= a.Band:
		side := "over"
		choices := []verdict.Choice{keep, again}
		if off < 0 {
			side = "under"
			if target-net > a.finest() {
				choices = []verdict.Choice{keep, add, another, again}
			}
		}
		where := percent(off) + " " + side
		if math.Abs(net-target) < a.finest() {
			where = "On the target"
		}
		list = append(list, RuleBand.Says(verdict.Fine, choices, "%s, inside the ±%g %% band. %s", where, 100*a.Band, reads))
	case off < 0:
		list = append(list, RuleBand.Says(verdict.Look, []verdict.Choice{add, another, keep, again}, "%s under, below the ±%g %% band. %s", percent(off), 100*a.Band, reads))
	default:
		fits := ""
		volume := a.flask.Volume * net / target
		if _, exact, err := glassware.FlaskFor(math.Round(10*volume)/10, a.flask.Class); !a.byVolume && !exact && err == nil {
			fits = fmt.Sprintf(" This mass fits %.1f mL, and there is no such flask.", volume)
		}
		choices := []verdict.Choice{keep, {ID: choiceRemove, Label: "Remove " + a.say(net-target) + " and discard it"}}
		if larger, ok := a.flaskFor(net); ok {
			label := fmt.Sprintf("Take the %g mL flask", larger.Volume)
			if more := a.taking(larger) - net; more >= a.finest() {
				label += ", take " + a.say(more) + " more"
			}
			choices = append(choices, verdict.Choice{ID: fmt.Sprintf("%s%g mL", choiceFlask, larger.Volume), Label: label})
		}
		v := RuleBand.Says(verdict.Look, append(choices, again), "%s over, above the ±%g %% band. %s%s", percent(off), 100*a.Band, reads, fits)
		v.Reason += " " + RuleExcess.Why
		list = append(list, v)
	}
	if slices.ContainsFunc(a.portions, func(p portion) bool { return p.short }) {
		list = append(list, RuleDigits.Says(verdict.Look, nil, "%s shows %d decimals in g, and fewer were recorded: correct the reading if digits were left out.", a.Balance.Name, a.decimals))
	}
	tolerance := a.Thresholds.Of(RuleSmallestMass) / 100
	if smallest := a.Balance.SmallestMass(tolerance); !a.byVolume && net < smallest {
		list = append(list, RuleSmallestMass.Says(verdict.Look, nil, "%s is less than %s weighs to %.2g %% (from %s on).", a.say(net), a.Balance.Name, 100*tolerance, a.say(smallest)))
	}
	return list
}

func (a *account) transferVerdicts() []verdict.Verdict {
	least := a.Thresholds.Of(RuleRinses)
	if a.rinses > 0 && float64(a.rinses) < least {
		return []verdict.Verdict{RuleRinses.Says(verdict.Look, nil, "Rinsed fewer than %g times: look for solid on the funnel.", least)}
	}
	return nil
}

func (a *account) dissolveVerdicts() []verdict.Verdict {
	again := verdict.Choice{ID: choiceStartAgain, Label: "Start again"}
	goOn := verdict.Choice{ID: choiceSolidDissolved, Label: "It has dissolved since, go on"}
	switch a.dissolved {
	case choiceSolidLeft:
		return []verdict.Verdict{RuleDissolved.Says(verdict.Look, []verdict.Choice{goOn, again}, "Solid left: no more water yet. Swirl on, or warm it gently in the hand and let it cool.")}
	case choiceNeckReached:
		return []verdict.Verdict{RuleDissolved.Says(verdict.Stop, []verdict.Choice{again, goOn}, "The neck is reached and solid is left: the volume at the mark will not be the right one.")}
	}
	return nil
}

func (a *account) temperatureVerdicts() []verdict.Verdict {
	if a.temperature == nil {
		return nil
	}
	t := *a.temperature
	change := 100 * (1/glassware.ExpansionFactor(t) - 1)
	if a.temperatureOK() {
		return []verdict.Verdict{RuleTemperature.Says(verdict.Fine, nil, "Near enough to 20 °C; corrected for all the same (%s %%).", signed(change))}
	}
	return []verdict.Verdict{RuleTemperature.Says(verdict.Look, []verdict.Choice{
		{ID: choiceWait, Label: "Let it come to 20 °C"}, {ID: choiceTakeTempAsIs, Label: "Go on, corrected for"}},
		"%s °C from 20 °C: filled to the mark now, the concentration at 20 °C is %s %% off. It can be corrected for.",
		quantity.Digits(math.Abs(t-glassware.ReferenceTemperature), 1), signed(change))}
}

func signed(x float64) string {
	text := quantity.Digits(x, 2)
	if x >= 0 {
		return "+" + text
	}
	return text
}

func (a *account) markVerdicts() []verdict.Verdict {
	if a.mark != choicePast {
		return nil
	}
	return []verdict.Verdict{RuleMark.Says(verdict.Stop, nil, "Past the mark: the volume is unknown. Discard it and begin again; this run stays on record. %s", LocalRules)}
}

func (a *account) mixVerdicts() []verdict.Verdict {
	wanted := a.Thresholds.Of(RuleInversions)
	if a.inversions == 0 || a.mixedEnough() {
		return nil
	}
	return []verdict.Verdict{RuleInversions.Says(verdict.Look, []verdict.Choice{{ID: choiceMixedEnough, Label: "It is mixed, go on"}},
		"%d inversions so far, %g more to come.", a.inversions, wanted-float64(a.inversions))}
}

// Admit checks a new fact against the run so far; an error is a verdict.Problems
// with JSON pointers into the fact.
func Admit(r Request, facts []fact.Fact, f fact.Fact, now time.Time) error {
	c, err := r.check()
	if err != nil {
		return err
	}
	if f.Kind == KindNote {
		return checkFields(c, f)
	}
	if f.Replaces != "" {
		return admitCorrection(c, facts, f)
	}
	a := c.account(facts)
	out := a.outcome(now)
	switch out.Status {
	case Void:
		return verdict.Problems{{Field: "/kind", Reason: "this run is void (" + out.Reason + "): begin again from the plan, or correct the reading that voided it"}}
	case Finished:
		return verdict.Problems{{Field: "/kind", Reason: "this run is finished: correct a reading if one was wrong"}}
	}
	i := slices.IndexFunc(out.Steps, func(s Step) bool { return s.State == Now })
	step := out.Steps[i]
	if f.Kind == KindDecided {
		for _, v := range step.Verdicts {
			if slices.ContainsFunc(v.Choices, func(c verdict.Choice) bool { return c.ID == f.Choice }) {
				return nil
			}
		}
		if f.Choice == choiceStartAgain {
			return nil
		}
		return verdict.Problems{{Field: "/choice", Reason: fmt.Sprintf("“%s” is not a choice at this step (%s)", f.Choice, step.Title)}}
	}
	if f.Kind != step.Kind || !step.Asks {
		return verdict.Problems{{Field: "/kind", Reason: "not the step at hand: " + lowerFirst(step.Title) + " comes now"}}
	}
	return checkFields(c, f)
}

func lowerFirst(s string) string { return strings.ToLower(s[:1]) + s[1:] }

// admitCorrection checks a fact that replaces another.
func admitCorrection(c context, facts []fact.Fact, f fact.Fact) error {
	standing := fact.Standing(facts)
	i := slices.IndexFunc(standing, func(old fact.Fact) bool { return old.ID == f.Replaces })
	switch {
	case i < 0:
		return verdict.Problems{{Field: "/replaces", Reason: "this reading was corrected already: look at the newest one"}}
	case strings.TrimSpace(f.Reason) == "":
		return verdict.Problems{{Field: "/reason", Reason: "a correction needs a reason, like “misread”"}}
	case f.Kind == fact.Withdrawn:
		return nil
	case f.Kind != standing[i].Kind:
		return verdict.Problems{{Field: "/kind", Reason: fmt.Sprintf("a %s reading is corrected by a %s reading", standing[i].Kind, standing[i].Kind)}}
	case f.Kind == KindDecided:
		return verdict.Problems{{Field: "/kind", Reason: "a decision is withdrawn, not corrected"}}
	}
	return checkFields(c, f)
}

// maxCount is the largest count of rinses or inversions taken for meant.
const maxCount = 200

// checkFields checks the values of a fact.
func checkFields(c context, f fact.Fact) error {
	var p verdict.Problems
	mass := func(field string, q *quantity.Quantity, what string) {
		switch {
		case q == nil:
			p.Add(field, "%s is missing: write it like 5.1082 g", what)
		case q.Unit.Dimension != quantity.Mass:
			p.Add(field, "%s is a mass, in g, not in %s", what, q.Unit.Symbol)
		case math.IsNaN(q.Value) || math.Abs(q.Base()) > c.Balance.Capacity:
			p.Add(field, "%s carries up to %g g: %s cannot be its reading", c.Balance.Name, c.Balance.Capacity, q)
		}
	}
	choice := func(ids ...string) {
		if !slices.Contains(ids, f.Choice) {
			p.Add("/choice", "choose one of %s", strings.Join(ids, ", "))
		}
	}
	count := func(what string) {
		if f.Count == nil || *f.Count < 1 || *f.Count > maxCount {
			p.Add("/count", "%s are a number from 1 to %d", what, maxCount)
		}
	}
	switch f.Kind {
	case KindTared:
		mass("/quantity", f.Quantity, "what the balance shows")
		if len(p) == 0 && math.Abs(f.Quantity.Base()) > 0.01*c.Balance.Capacity {
			p.Add("/quantity", "%s is no tared balance: press tare and record what it shows then", f.Quantity)
		}
	case KindWeighed:
		mass("/quantity", f.Quantity, "the reading")
		if f.After != nil {
			mass("/after", f.After, "the reading after")
			if len(p) == 0 && f.After.Base() >= f.Quantity.Base() {
				p.Add("/after", "after pouring out, the vessel weighs less than before (%s)", f.Quantity)
			}
		} else if len(p) == 0 && f.Quantity.Base() <= 0 {
			p.Add("/quantity", "%s: a mass is above zero; tare again when the pan shows less than nothing", f.Quantity)
		}
	case KindWatered:
		choice(choiceWaterIn)
	case KindMeasured:
		switch {
		case f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Volume:
			p.Add("/quantity", "a volume is in mL, like %s", c.say(c.taking(c.flask)))
		case !(f.Quantity.Base() > 0) || f.Quantity.In("mL") > 10*c.measure.Volume:
			p.Add("/quantity", "%s: above zero, and not more than ten fillings of a %s", f.Quantity, c.measure)
		}
	case KindTransferred:
		count("rinses")
	case KindDissolved:
		choice(choiceClear, choiceSolidLeft, choiceNeckReached)
	case KindTemperature:
		switch {
		case f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Temperature:
			p.Add("/quantity", "a temperature is in °C, like 20.5 °C")
		case !(f.Quantity.Value >= glassware.MinTemperature && f.Quantity.Value <= glassware.MaxTemperature):
			p.Add("/quantity", "%s: glass is used between 0 and 40 °C here", f.Quantity)
		}
	case KindMark:
		choice(choiceReached, choicePast)
	case KindMixed:
		count("inversions")
	case KindLabelled:
		if _, err := time.Parse(time.DateOnly, f.Date); err != nil {
			p.Add("/date", "the day it keeps until, like 2027-03-31")
		}
	case KindNote:
		if strings.TrimSpace(f.Text) == "" {
			p.Add("/text", "the note is empty")
		}
	default:
		p.Add("/kind", "no reading of the kind “%s”", f.Kind)
	}
	return p.OrNil()
}
