package dilution

import (
	"fmt"
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
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// The kinds of fact of a dilution. Those of one tube carry its place as their Part.
const (
	KindTemperature = "temperature" // Quantity: of stock and solvent
	KindRinsed      = "rinsed"      // Count: the pipette with what it will take
	KindWatered     = "watered"     // Choice: in; solvent first, before a concentrated liquid
	KindTaken       = "taken"       // Choice: delivered; or Quantity and After: readings of a scale, mL; or masses, see [Rung.Weighed]
	KindFilled      = "filled"      // Choice: reached or past; or the readings of the solvent
	KindMixed       = "mixed"       // Count: inversions, added up
	KindDecided     = "decided"     // Choice
	KindLabelled    = "labelled"    // Date: expires; Text
	KindNote        = "note"        // Text
)

const (
	choiceWaterIn    = "in"
	choiceDelivered  = "delivered"
	choiceReached    = "reached"
	choicePast       = "past"
	choiceRedo       = "redo-stage"
	choiceStartAgain = "start-again"
)

// tube follows one rung at the bench.
type tube struct {
	made
	rinses     int
	watered    bool
	delivered  bool
	filled     bool
	past       bool
	inversions int
	void       string
}

type account struct {
	Request
	ladder      Ladder
	tubes       []tube
	temperature *float64
	labelled    time.Time
	weighed     []time.Time
	expires     string
	remarks     string
	reason      string
	notes       run.Notes
}

// Title names the ladder.
func (r Request) Title() string {
	n := len(r.Rungs)
	if n == 1 {
		return "Dilution of " + r.Stock.String()
	}
	return fmt.Sprintf("Dilution of %s, %d tubes", r.Stock, n)
}

// Make computes the outcome of the facts of a run. The clock only fills in the expiry
// that the label step proposes.
func Make(r Request, facts []fact.Fact, now time.Time) (run.Outcome, error) {
	a, err := r.follow(facts)
	if err != nil {
		return run.Outcome{}, err
	}
	return a.outcome(now), nil
}

func (r Request) follow(facts []fact.Fact) (*account, error) {
	ladder, err := Plan(r)
	if err != nil {
		return nil, err
	}
	a := &account{Request: r, ladder: ladder, tubes: make([]tube, len(r.Rungs)), notes: run.NewNotes(len(facts))}
	for i := range a.tubes {
		a.reset(i, "")
	}
	for _, f := range fact.Standing(facts) {
		if f.Part >= 0 && f.Part < len(a.tubes) {
			a.take(f)
		}
	}
	return a, nil
}

// reset empties a tube; void says why what was in it is.
func (a *account) reset(i int, void string) {
	a.tubes[i] = tube{void: void, delivered: a.Rungs[i].Taken == 0, filled: a.Rungs[i].Flask == nil && a.Rungs[i].Solvent == 0}
	for _, step := range []string{"rinse", "water", "take", "fill", "mix"} {
		a.notes.Forget(stepID(step, i))
	}
}

// redo empties a tube and all that was made from it.
func (a *account) redo(i int, void string) {
	a.reset(i, void)
	for k := i + 1; k < len(a.Rungs); k++ {
		if a.Rungs[k].From == i && (a.tubes[k].rinses > 0 || a.tubes[k].id != "") {
			a.redo(k, "made from tube "+a.ladder.Tubes[i].Label+", which is made again")
		}
	}
}

func stepID(step string, tube int) string { return step + " " + strconv.Itoa(tube+1) }

func (a *account) note(step string, f fact.Fact, summary string, args ...any) {
	a.notes.Add(step, f.ID)
	a.notes.Say(step, fmt.Sprintf(summary, args...))
}

func (a *account) take(f fact.Fact) {
	t, rung := &a.tubes[f.Part], a.Rungs[f.Part]
	label := a.ladder.Tubes[f.Part].Label
	switch f.Kind {
	case KindTemperature:
		x := f.Quantity.Base()
		a.temperature = &x
		a.note("temperature", f, "Stock and solvent at %s", f.Quantity)
	case KindRinsed:
		t.rinses = *f.Count
		a.note(stepID("rinse", f.Part), f, "%s rinsed %d times with %s", rung.With.Name(), *f.Count, a.name(rung.From))
	case KindWatered:
		t.watered = true
		a.note(stepID("water", f.Part), f, "Tube %s: half the solvent is in", label)
	case KindTaken:
		t.delivered, t.id, t.void = true, f.ID, ""
		text := short(rung.Taken) + " mL"
		if rung.Weighed {
			grams := f.Quantity.In("g")
			if f.After != nil { // by difference: the vessel before and after
				grams -= f.After.In("g")
			}
			t.grams, t.spread = &grams, 0
			if f.Spread != nil {
				t.spread = f.Spread.Base()
			}
			a.weighed = append(a.weighed, f.At)
			text = quantity.Digits(grams, a.Balance.Decimals()) + " g, weighed,"
		} else if f.Quantity != nil {
			mL := f.After.In("mL") - f.Quantity.In("mL")
			t.taken = &mL
			text = fmt.Sprintf("%s to %s, %s mL", f.Quantity, f.After, quantity.Digits(mL, rung.With.Decimals()))
		}
		a.note(stepID("take", f.Part), f, "Into tube %s: %s of %s", label, text, a.name(rung.From))
	case KindFilled:
		t.past = f.Choice == choicePast
		t.filled = !t.past
		if t.id == "" { // a blank
			t.id = f.ID
		}
		text := "to the mark"
		if t.past {
			text = "past the mark"
		}
		if f.Quantity != nil {
			mL := f.After.In("mL") - f.Quantity.In("mL")
			t.solvent = &mL
			text = fmt.Sprintf("solvent %s to %s, %s mL", f.Quantity, f.After, quantity.Digits(mL, rung.SolventWith.Decimals()))
		}
		a.note(stepID("fill", f.Part), f, "Tube %s: %s", label, text)
	case KindMixed:
		t.inversions += *f.Count
		a.note(stepID("mix", f.Part), f, "Tube %s inverted %d times", label, t.inversions)
	case KindDecided:
		switch f.Choice {
		case choiceRedo:
			a.redo(f.Part, "made again")
		case choiceStartAgain:
			a.reason = "given up"
			if f.Text != "" {
				a.reason += ": " + f.Text
			}
		}
	case KindLabelled:
		a.labelled, a.expires, a.remarks = f.At, f.Date, f.Text
		a.note("label", f, "Labelled, keep until %s", f.Date)
	}
}

// done tells whether a step is finished; what is made from a tube that is not, waits.
func (a *account) done(s *run.Step) bool {
	t := a.tubes[s.Part]
	switch word, _, _ := strings.Cut(s.ID, " "); word {
	case "temperature":
		return a.temperature != nil
	case "rinse":
		return t.rinses > 0
	case "water":
		return t.watered
	case "take":
		return t.delivered
	case "fill":
		return t.filled
	case "mix":
		return t.inversions >= a.turns()
	}
	return a.expires != ""
}

func (a *account) outcome(now time.Time) run.Outcome {
	out := run.Outcome{Status: run.Open, Reason: a.reason, Expires: a.expires, Note: a.remarks, Exact: !a.Stock.Approximate, Weighed: a.weighed}
	at, volumes := a.bench(), a.expansions(a.temperature)
	concentrations := a.concentrations(at, volumes)
	for i, t := range a.ladder.Tubes {
		c := figure.Readable("tube "+strconv.Itoa(i+1), "tube "+t.Label, a.Stock.Unit, concentrations[i])
		_, final := a.volumes(i, at[i], volumes)
		made := a.tubes[i].delivered && a.tubes[i].filled && a.tubes[i].id != "" && a.sound(t.From)
		out.Rack = append(out.Rack, run.RackTube{Label: t.Label, Made: made, Void: a.tubes[i].void, Concentration: c, Factor: t.Factor, Volume: figure.New("volume", "volume at 20 °C", "mL", final)})
		if made {
			out.Figures = append(out.Figures, c)
		}
	}
	steps := a.steps(now)
	atHand := a.notes.Place(steps, a.reason != "", a.done)
	out.Steps = steps
	switch {
	case a.reason != "":
		out.Status, out.Figures = run.Void, nil
	case atHand < 0:
		out.Status = run.Finished
	}
	return out
}

// turns is how many inversions mix a tube.
func (a *account) turns() int { return int(math.Ceil(a.Thresholds.Of(run.RuleInversions))) }

// bench is what is known of every tube.
func (a *account) bench() []*made {
	at := make([]*made, len(a.tubes))
	for i := range a.tubes {
		at[i] = &a.tubes[i].made
	}
	return at
}

// sound tells whether a source holds its solution.
func (a *account) sound(from int) bool {
	return from == FromStock || a.tubes[from].delivered && a.tubes[from].filled
}

func (a *account) steps(now time.Time) []run.Step {
	list := []run.Step{{ID: "temperature", Title: "Let stock and solvent come to the temperature of the room", Kind: KindTemperature, Input: run.InputTemperature, Unit: "°C",
		Asks: true, Default: quantity.Digits(a.WaterTemperature, 1), Hint: "Both at the same temperature: then it hardly matters which.",
		Cautions: []string{"Goggles and gloves on; never pipette by mouth. Your local rules and the safety data sheet come first."}}}
	before := map[string]int{} // which liquid each pipette held last
	for i, rung := range a.Rungs {
		if rung.Taken > 0 {
			if from, known := before[rung.With.Name()]; !rung.Weighed && (!known || from != rung.From) {
				list = append(list, run.Step{ID: stepID("rinse", i), Part: i, Title: "Rinse the " + rung.With.Name() + " with " + a.name(rung.From), Kind: KindRinsed, Input: run.InputCount, Unit: "rinses", Asks: true,
					Default: "2", Hint: "Two or three small portions, each thrown away: what clings to it would make it weaker or stronger."})
			}
			before[rung.With.Name()] = rung.From
			take := a.takeStep(i)
			if a.Stock.Concentrate && rung.From == FromStock {
				list = append(list, run.Step{ID: stepID("water", i), Part: i, Title: "Half the solvent into tube " + a.ladder.Tubes[i].Label + " first", Kind: KindWatered, Input: run.InputChoice, Asks: true,
					Options: []verdict.Choice{{ID: choiceWaterIn, Label: "The solvent is in"}}, Hint: "Acid and concentrated base go into water, never the reverse.", Cautions: concentrateCautions})
				take.Cautions = concentrateCautions
			}
			list = append(list, take)
		}
		if rung.Flask != nil || rung.Solvent > 0 {
			list = append(list, a.fillStep(i))
		}
		list = append(list, run.Step{ID: stepID("mix", i), Part: i, Title: "Stopper tube " + a.ladder.Tubes[i].Label + ", invert " + strconv.Itoa(a.turns()) + " times, write its label", Kind: KindMixed, Input: run.InputCount, Unit: "inversions",
			Asks: a.tubes[i].inversions < a.turns(), Default: strconv.Itoa(max(1, a.turns()-a.tubes[i].inversions)), Hint: a.keepHint(i)})
	}
	return append(list, run.Step{ID: "label", Title: "The rack onto the shelf", Kind: KindLabelled, Input: run.InputLabel, Asks: true, Default: now.AddDate(0, 0, keepsDays).Format(time.DateOnly),
		Hint: "Labels for all of it print from the shelf, on a sheet for vials. Weak solutions keep less well than the stock. With one pipette or cell for all, measure from weak to strong: " + a.order() + "."})
}

// concentrateCautions stand where a concentrated liquid is handled.
var concentrateCautions = []string{"In the fume hood, from opening the bottle to the diluted solution; goggles, gloves, coat.", "Into water, slowly, never the reverse; swirl, and let it cool before the mark.",
	"Never pipette by mouth.", "Your local rules, the safety data sheet and licensed waste handling come first."}

// delivers tells that a pipette gives its volume without a scale being read.
func delivers(with glassware.Item) bool {
	return with.Kind == glassware.OneMarkPipette || with.Kind == glassware.PistonPipette
}

// keepsDays is how long dilutions keep unless told otherwise (common practice).
const keepsDays = 7

// keepHint says how much of a tube must be there.
func (a *account) keepHint(i int) string {
	hint := "At once: clear liquids get mixed up."
	if a.Keep > 0 {
		hint += " Keep " + short(a.Keep) + " mL of it in a labelled bottle"
		if carried := a.ladder.Tubes[i].Needed - a.Keep; carried > 0 {
			hint += "; " + short(carried) + " mL go on, with rinsing the pipette"
		}
		hint += "."
	}
	return hint
}

// order names the tubes from weak to strong.
func (a *account) order() string {
	labels := make([]string, len(a.ladder.Order))
	for k, i := range a.ladder.Order {
		labels[k] = a.ladder.Tubes[i].Label
	}
	return strings.Join(labels, ", ")
}

func (a *account) takeStep(i int) run.Step {
	rung, t := a.Rungs[i], a.tubes[i]
	s := run.Step{ID: stepID("take", i), Part: i, Title: "Take " + short(rung.Taken) + " mL of " + a.name(rung.From) + " for tube " + a.ladder.Tubes[i].Label, Kind: KindTaken, Asks: !t.delivered}
	switch {
	case rung.Weighed:
		grams := quantity.Digits(a.ladder.Tubes[i].Grams, a.Balance.Decimals())
		s.Title = "Weigh " + grams + " g of " + a.name(rung.From) + " on " + a.Balance.Name + ", for tube " + a.ladder.Tubes[i].Label
		s.Input, s.Unit, s.Hint = run.InputMass, "g", "By difference from a dropping bottle, or in a small tared beaker that is rinsed into the flask. Near is good enough: what was weighed is what counts."
	case delivers(rung.With):
		s.Input, s.Options = run.InputChoice, []verdict.Choice{{ID: choiceDelivered, Label: "Delivered, tip touched off"}}
		s.Hint = "Bottom of the meniscus on the line at eye level; let it run, wait, touch off the tip, do not blow out."
		if rung.With.Kind == glassware.PistonPipette {
			s.Hint = "Set it, fit a tip, wet it two or three times; hold it upright, press slowly to the first stop, let go slowly; deliver to the second stop against the wall."
		}
		if rung.Times > 1 {
			s.Title += fmt.Sprintf(", with the %s filled %d times", rung.With.Name(), rung.Times)
		} else {
			s.Title += ", with the " + rung.With.Name()
		}
	default:
		s.Input, s.Unit, s.Scale = run.InputReadings, "mL", rung.With.Volume
		s.Title += ", from the " + rung.With.Name()
		s.Hint = "No bubble in the tip. Read before and after, one digit beyond the smallest division; the scale runs downward."
	}
	if t.void != "" && !t.delivered {
		s.Verdicts = append(s.Verdicts, RulePast.Says(verdict.Look, nil, "Tube %s is to be made again: %s. Empty and rinse it.", a.ladder.Tubes[i].Label, t.void))
	}
	if t.grams != nil {
		if t.spread > 0 {
			s.Verdicts = append(s.Verdicts, a.Balance.TakenMoving(t.spread))
		}
		if planned := a.ladder.Tubes[i].Grams; math.Abs(*t.grams/planned-1) > 0.02 {
			s.Verdicts = append(s.Verdicts, RuleNearest.Says(verdict.Look, nil, "%s g were weighed, %s g were planned: the tube is named by what it holds.", quantity.Digits(*t.grams, a.Balance.Decimals()), quantity.Digits(planned, a.Balance.Decimals())))
		}
	}
	if t.taken != nil {
		if off := *t.taken/rung.Taken - 1; math.Abs(off) > 0.02 {
			s.Verdicts = append(s.Verdicts, RuleNearest.Says(verdict.Look, nil, "%s mL were taken, %s mL were planned: the tube is named by what it holds.", quantity.Digits(*t.taken, rung.With.Decimals()), short(rung.Taken)))
		}
	}
	return s
}

func (a *account) fillStep(i int) run.Step {
	rung, t := a.Rungs[i], a.tubes[i]
	label := a.ladder.Tubes[i].Label
	s := run.Step{ID: stepID("fill", i), Part: i, Kind: KindFilled, Asks: !t.filled && !t.past}
	if rung.Flask == nil {
		s.Title, s.Input, s.Unit = "Add "+short(rung.Solvent)+" mL of solvent to tube "+label+", from the "+rung.SolventWith.Name(), run.InputReadings, "mL"
		s.Scale = rung.SolventWith.Volume
		s.Hint = "From the other burette. Read before and after."
		return s
	}
	s.Title, s.Input = "Solvent to the mark of the "+rung.Flask.String()+" flask, tube "+label, run.InputChoice
	s.Options = []verdict.Choice{{ID: choiceReached, Label: "Meniscus on the line"}, {ID: choicePast, Label: "Past the mark"}}
	s.Hint = "Half full, swirl, then to the mark drop by drop, at eye level."
	if t.past {
		s.Verdicts = []verdict.Verdict{RulePast.Says(verdict.Stop, []verdict.Choice{{ID: choiceRedo, Label: "Make this stage again"}, {ID: choiceStartAgain, Label: "Give it all up"}},
			"Past the mark: how much is in tube %s is unknown. Discard it and make it again; what was made from it is void too.", label)}
	}
	return s
}

// Admit checks a new fact against the run so far; an error is a verdict.Problems with
// JSON pointers into the fact.
func Admit(r Request, facts []fact.Fact, f fact.Fact, now time.Time) error {
	a, err := r.follow(facts)
	if err != nil {
		return err
	}
	wrong := func(field, reason string, args ...any) error {
		return verdict.Problems{{Field: field, Reason: fmt.Sprintf(reason, args...)}}
	}
	if f.Part < 0 || f.Part >= len(r.Rungs) {
		return wrong("/part", "there are %d tubes", len(r.Rungs))
	}
	if f.Kind == KindNote {
		return r.checkFields(f)
	}
	if f.Replaces != "" {
		standing := fact.Standing(facts)
		i := slices.IndexFunc(standing, func(old fact.Fact) bool { return old.ID == f.Replaces })
		switch {
		case i < 0:
			return wrong("/replaces", "this reading was corrected already: look at the newest one")
		case strings.TrimSpace(f.Reason) == "":
			return wrong("/reason", "a correction needs a reason, like “misread”")
		case f.Kind == fact.Withdrawn:
			return nil
		case f.Kind != standing[i].Kind || f.Part != standing[i].Part || f.Kind == KindDecided:
			return wrong("/kind", "a reading is corrected by one of the same kind and tube; a decision is taken back")
		}
		return r.checkFields(f)
	}
	out := a.outcome(now)
	if f.Kind == KindDecided && f.Choice == choiceRedo && out.Status != run.Void {
		if a.tubes[f.Part].id == "" {
			return wrong("/part", "nothing is in tube %s yet", a.ladder.Tubes[f.Part].Label)
		}
		return nil
	}
	switch out.Status {
	case run.Void:
		return wrong("/kind", "this run is void (%s): begin again from the plan", out.Reason)
	case run.Finished:
		return wrong("/kind", "this run is finished: correct a reading if one was wrong")
	}
	if f.Kind == KindDecided {
		if f.Choice == choiceStartAgain {
			return nil
		}
		return wrong("/choice", "“%s” is not a choice here", f.Choice)
	}
	i := slices.IndexFunc(out.Steps, func(s run.Step) bool { return s.State == run.Now })
	if s := out.Steps[i]; f.Kind != s.Kind || f.Part != s.Part || !s.Asks {
		return wrong("/kind", "not the step at hand: %s comes now", strings.ToLower(s.Title[:1])+s.Title[1:])
	}
	return r.checkFields(f)
}

// checkFields checks the values of a fact.
func (r Request) checkFields(f fact.Fact) error {
	var p verdict.Problems
	rung := r.Rungs[f.Part]
	readings := func(with glassware.Item) {
		for field, q := range map[string]*quantity.Quantity{"/quantity": f.Quantity, "/after": f.After} {
			switch {
			case q == nil || q.Unit.Dimension != quantity.Volume:
				p.Add(field, "a reading of the scale is a volume, like 12.34 mL")
			case !(q.Value >= 0) || q.In("mL") > with.Volume*(1+exactly):
				p.Add(field, "%s is not on the scale: it goes from 0 to %s mL, and is never read beyond", q, short(with.Volume))
			}
		}
		if len(p) == 0 && f.After.Base() <= f.Quantity.Base() {
			p.Add("/after", "the reading after (%s) must be larger than the one before (%s): the scale runs downward", f.After, f.Quantity)
		}
	}
	choice := func(ids ...string) {
		if !slices.Contains(ids, f.Choice) {
			p.Add("/choice", "choose one of %s", strings.Join(ids, ", "))
		}
	}
	only := func(fields ...string) { f.Only(&p, fields...) }
	switch f.Kind {
	case KindTemperature:
		only("quantity")
		if f.Quantity == nil || f.Quantity.Unit.Dimension != quantity.Temperature || !(f.Quantity.Value >= glassware.MinTemperature && f.Quantity.Value <= glassware.MaxTemperature) {
			p.Add("/quantity", "a temperature between 0 and 40 °C, like 20.5 °C")
		}
	case KindRinsed, KindMixed:
		only("count")
		if f.Count == nil || *f.Count < 1 || *f.Count > 200 {
			p.Add("/count", "a number from 1 to 200")
		}
	case KindWatered:
		only("choice")
		choice(choiceWaterIn)
	case KindTaken:
		switch {
		case rung.Weighed:
			only("quantity", "after", "spread")
			r.checkMass(f, &p)
		case delivers(rung.With):
			only("choice")
			choice(choiceDelivered)
		default:
			only("quantity", "after")
			readings(rung.With)
		}
	case KindFilled:
		if rung.Flask != nil {
			only("choice")
			choice(choiceReached, choicePast)
		} else if rung.SolventWith != nil {
			only("quantity", "after")
			readings(*rung.SolventWith)
		}
	case KindLabelled:
		only("date", "text")
		if _, err := time.Parse(time.DateOnly, f.Date); err != nil {
			p.Add("/date", "the day it keeps until, like 2027-03-31")
		}
	case KindNote:
		only("text")
		if strings.TrimSpace(f.Text) == "" {
			p.Add("/text", "the note is empty")
		}
	default:
		p.Add("/kind", "no reading of the kind “%s”", f.Kind)
	}
	return p.OrNil()
}

// checkMass checks the mass of a portion: net, or the vessel before and after.
func (r Request) checkMass(f fact.Fact, p *verdict.Problems) {
	r.Balance.CheckSpread(f.Spread, p)
	for field, q := range map[string]*quantity.Quantity{"/quantity": f.Quantity, "/after": f.After} {
		switch {
		case q == nil && field == "/after":
		case q == nil || q.Unit.Dimension != quantity.Mass || !(q.Value >= 0):
			p.Add(field, "what the balance shows is a mass, like 5.9234 g")
		case q.In("g") > r.Balance.Capacity:
			p.Add(field, "%s is more than %s carries: %g g", q, r.Balance.Name, r.Balance.Capacity)
		}
	}
	switch {
	case len(*p) > 0:
	case f.After != nil && f.After.Base() >= f.Quantity.Base():
		p.Add("/after", "after pouring out the vessel weighs less than before (%s)", f.Quantity)
	case f.After == nil && !(f.Quantity.Value > 0):
		p.Add("/quantity", "a net mass is above zero")
	}
}

// Sentence says a fact in words, as the logbook shows it.
func Sentence(f fact.Fact) string {
	tube := fmt.Sprintf("tube %d", f.Part+1)
	readings := ""
	switch {
	case f.Quantity != nil && f.After != nil:
		readings = fmt.Sprintf(", %s to %s", f.Quantity, f.After)
	case f.Quantity != nil:
		readings = fmt.Sprintf(", %s", f.Quantity)
	}
	switch f.Kind {
	case KindTemperature:
		return fmt.Sprintf("Stock and solvent at %s", f.Quantity)
	case KindRinsed:
		return fmt.Sprintf("Pipette rinsed %d times for %s", *f.Count, tube)
	case KindWatered:
		return "Half the solvent is in " + tube
	case KindTaken:
		return "Taken for " + tube + readings
	case KindFilled:
		if f.Choice != "" {
			return "Making up " + tube + ": " + map[string]string{choiceReached: "meniscus on the line", choicePast: "past the mark"}[f.Choice]
		}
		return "Solvent into " + tube + readings
	case KindMixed:
		return fmt.Sprintf("Inverted %s %d times", tube, *f.Count)
	case KindDecided:
		words := map[string]string{choiceRedo: "make " + tube + " again", choiceStartAgain: "give it all up"}[f.Choice]
		if f.Text != "" {
			words += " (" + f.Text + ")"
		}
		return "Decided: " + words
	case KindLabelled:
		return "Labelled, keep until " + f.Date
	case KindNote:
		return "Note: " + f.Text
	case fact.Withdrawn:
		return "Taken back"
	}
	return f.Kind
}

// ExplainRun shows how the concentration of a tube of a run comes about; the figure is
// one of Outcome.Figures by ID, "tube 2".
func ExplainRun(r Request, facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	n, err := strconv.Atoi(strings.TrimPrefix(figureID, "tube "))
	if err != nil {
		return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a dilution is that of a tube, like “tube 2”"}}
	}
	return r.explain(n-1, a.bench(), r.expansions(a.temperature))
}
