package titration

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

// stretch is what ran in between two readings of the burette, or in drops that were counted.
type stretch struct {
	from, to float64 // mL of the scale, as it runs out; or drops
	// begins and id are the readings on both sides.
	begins, id string
}

// trial is one in the making.
type trial struct {
	// begun reports whether something was stated of it.
	begun bool
	taken bool
	// sample in mL or g, and what the person read of it.
	sample    uncertain.Number
	read      string
	sampledBy string           // that fact
	excess    uncertain.Number // of the reagent of a back titration, mmol
	started   bool
	start     float64 // where the burette stood when it was last started or filled up
	begins    string  // that reading
	before    []stretch
	// first ends at the first of two end points, after so many stretches before a refill; since is
	// how many of the readings belong to it.
	first       *stretch
	firstBefore int
	since       int
	// readings are those since then, open reports whether the last one is still to be decided on.
	readings  []stretch
	open      bool
	unsure    bool // one drop more was asked for: the reading before may have been the end
	refilling bool
	rough     *bool // as decided; nil as the rule has it
	blank     bool
	done      bool
	past      bool
	setAside  string
	at        time.Time
}

// misread reports whether the scale would have gone backwards.
func (t *trial) misread() bool {
	backwards := func(s stretch) bool { return !(s.to > s.from) }
	if slices.ContainsFunc(t.before, backwards) {
		return true
	}
	n := len(t.readings)
	if n > 1 && t.readings[n-1].to < t.readings[n-2].to {
		return true
	}
	return n > 0 && (backwards(t.readings[n-1]) || t.first != nil && t.firstBefore == len(t.before) && !(t.readings[n-1].to > t.first.to))
}

// earlier reports whether the reading before the last one may have been the end point.
func (t *trial) earlier() bool { return len(t.readings)-t.since > 1 }

// previous is where it stood before that.
func (t *trial) previous() float64 {
	if n := len(t.readings); n > 1 {
		return t.readings[n-2].to
	}
	return t.start
}

// last is where the burette stands.
func (t *trial) last() float64 {
	if n := len(t.readings); n > 0 {
		return t.readings[n-1].to
	}
	return t.start
}

type account struct {
	Request
	trials   []trial
	prepared preparation
	ready    string
	enough   time.Time // when there were enough trials; zero before
	reason   string
	notes    run.Notes
	reads    []run.Reading
}

// Make implements [run.Plan].
func (r Request) Make(facts []fact.Fact, _ time.Time) (run.Outcome, error) {
	a, err := r.follow(facts)
	if err != nil {
		return run.Outcome{}, err
	}
	return a.outcome(), nil
}

func (r Request) follow(facts []fact.Fact) (*account, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	a := &account{Request: r, notes: run.NewNotes(len(facts)), trials: make([]trial, 1)}
	for _, f := range fact.Standing(facts) {
		if f.Part >= 0 && f.Part < MaxTrials {
			a.take(f)
		}
	}
	for i := range a.trials {
		t := &a.trials[i]
		// What was taken back opens a trial again.
		t.done = t.done && t.taken && t.started && len(t.before)+len(t.readings) > 0
		if t.done {
			if t.misread() {
				t.setAside = "its readings do not fit"
			}
			a.notes.Say(stepOf(i), a.sayTrial(i))
		}
	}
	return a, nil
}

func stepOf(trial int) string { return fmt.Sprintf("trial %d", trial) }

// at makes room for a trial.
func (a *account) at(i int) *trial {
	for len(a.trials) <= i {
		a.trials = append(a.trials, trial{})
	}
	return &a.trials[i]
}

func (a *account) take(f fact.Fact) {
	if a.prepare(f) {
		return
	}
	t := a.at(f.Part)
	step := stepOf(f.Part)
	switch f.Kind {
	case KindReady:
		a.ready = f.Choice
		a.notes.Add("ready", f.ID)
		a.notes.Say("ready", a.Sentence(f))
		return
	case KindSample:
		a.sampled(t, f)
	case KindStart:
		t.started, t.start, t.begins, t.at = true, a.onScale(f.Quantity.In("mL")), f.ID, f.At
	case KindRead:
		to := t.last()
		if a.Tip != nil {
			to += float64(*f.Count)
		} else {
			to = a.onScale(f.Quantity.In("mL"))
		}
		t.readings = append(t.readings, stretch{t.start, to, t.begins, f.ID})
		t.open = true
	case KindRefill:
		t.start, t.begins, t.refilling = a.onScale(f.Quantity.In("mL")), f.ID, false
	case run.KindDecided:
		if !a.decide(t, f) {
			return
		}
	default:
		return
	}
	t.begun = true
	a.notes.Add(step, f.ID)
}

// sampled takes a sample down. Drops are counted from none: no scale is read before.
func (a *account) sampled(t *trial, f fact.Fact) {
	t.taken, t.started, t.sampledBy = true, t.started || a.Tip != nil, f.ID
	if a.Back != nil {
		t.excess = a.Back.excess(f.ID)
	}
	switch a.By {
	case ByPipette:
		t.sample, t.read = a.Glass.Delivered(f.ID), quantity.Trim(a.Volume)+" mL"
	case ByBurette:
		mL := f.After.In("mL") - f.Quantity.In("mL")
		t.sample, t.read = a.Glass.Dispensed(mL, f.ID), quantity.Digits(mL, a.Glass.Decimals())+" mL"
	case ByCylinder:
		t.sample, t.read = a.Glass.Reading(f.Quantity.In("mL"), f.ID), f.Quantity.String()
	case Weighed:
		t.sample = a.weighed(f)
		t.read = quantity.Digits(t.sample.Value, a.Balance.Decimals()) + " g"
	}
}

// decide follows a decision; ok is false of what says nothing of the trial.
func (a *account) decide(t *trial, f fact.Fact) (ok bool) {
	yes, no := true, false
	switch f.Choice {
	case choiceEnd:
		a.ends(t, len(t.readings)-1)
	case choiceUnsure:
		t.open, t.unsure = false, true
	case choiceMore:
		t.open, t.unsure = false, false
	case choiceReread:
		t.open = false
		if n := len(t.readings); n > 0 {
			t.readings = t.readings[:n-1]
		}
	case choiceEarlier:
		if t.earlier() {
			a.ends(t, len(t.readings)-2)
		}
	case choicePast:
		t.open, t.unsure, t.done, t.past = false, false, true, true
		t.setAside = "past the end point"
	case choiceRefill:
		if a.Tip != nil { // a dropper is filled up whenever it is empty
			return false
		}
		t.open, t.refilling = false, true
		if n := len(t.readings); n > 0 {
			t.before = append(t.before, t.readings[n-1])
			t.readings, t.since = nil, 0
		}
	case choiceBlank:
		t.blank, t.taken, t.read = true, true, "blank"
		t.started = t.started || a.Tip != nil
	case choiceRough:
		t.rough = &yes
	case choiceCount:
		t.rough, t.setAside = &no, ""
	case choiceSetAside:
		t.setAside = cmp.Or(f.Text, "set aside")
	case choiceEnough:
		a.enough = f.At
		a.notes.Add("enough", f.ID)
		return false
	case run.ChoiceStartAgain:
		a.reason = run.GivenUp(f)
		return false
	}
	return true
}

// ends takes a reading as the end point. Of two, the first leaves the trial at the bench.
func (a *account) ends(t *trial, reading int) {
	t.open, t.unsure = false, false
	if a.Reaction.Pair() && t.first == nil {
		if reading >= 0 {
			first := t.readings[reading]
			t.first, t.firstBefore, t.since = &first, len(t.before), reading+1
			t.readings = t.readings[:reading+1]
		}
		return
	}
	t.done = true
	t.readings = t.readings[:reading+1]
}

// rough reports whether a trial is rough: as was decided, or the first one by the rule.
func (a *account) rough(i int) bool {
	t := &a.trials[i]
	if t.rough != nil {
		return *t.rough
	}
	if a.Thresholds.Of(RuleRough) == 0 || t.blank {
		return false
	}
	first := slices.IndexFunc(a.trials, func(t trial) bool { return !t.blank })
	return i == first
}

// titre of a trial in mL: the tolerance of the burette is one error in all of them, each
// reading is one of its own. ok is false before it has a reading.
func (a *account) titre(i int) (v uncertain.Number, ok bool) {
	t := &a.trials[i]
	list := slices.Clone(t.before)
	if n := len(t.readings); n > 0 {
		list = append(list, t.readings[n-1])
	}
	for _, s := range list {
		v = v.Plus(a.delivered(s))
	}
	return a.warmed(v), len(list) > 0
}

// warmed is a titre with the temperature of the titrant, where that does not cancel.
func (a *account) warmed(v uncertain.Number) uncertain.Number {
	if a.By == Weighed && v.Value > 0 {
		return v.Times(warmth())
	}
	return v
}

// expansionLimits is how far from 20 °C the titrant may be, ± °C, and waterExpansion the
// expansion of aqueous solutions at 20 °C (EURACHEM/CITAC CG 4). Of an aliquot it cancels.
const expansionLimits, waterExpansion = 4.0, 2.1e-4

func warmth() uncertain.Number {
	return uncertain.WithLimits(1, expansionLimits*waterExpansion, uncertain.RectangularShape, uncertain.Source{
		ID: "temperature of the titrant", Label: "temperature", Basis: fmt.Sprintf("±%g °C, rectangular", expansionLimits),
	})
}

// finished are the trials as they are computed with, by their places; those still in the making
// are left out.
func (a *account) finished() (list []Trial, places []int) {
	for i := range a.trials {
		t := &a.trials[i]
		v, ok := a.titre(i)
		if !t.done || !ok {
			continue
		}
		sample := t.sample
		list = append(list, Trial{Titre: v, Sample: sample, Excess: t.excess, Rough: a.rough(i), SetAside: t.setAside, Blank: t.blank})
		places = append(places, i)
	}
	return list, places
}

// result is that of the finished trials; Used and the outliers name trials by their place.
func (a *account) result() (r Result, places []int, ok bool) {
	trials, places := a.finished()
	r, err := a.known().Solve(trials, a.limits())
	if err != nil {
		return r, places, false
	}
	for k := range r.Used {
		r.Used[k] = places[r.Used[k]]
	}
	for k := range r.Outliers {
		r.Outliers[k].At = places[r.Outliers[k].At]
	}
	return r, places, true
}

// sayTrial folds a trial into one line.
func (a *account) sayTrial(i int) string {
	t := &a.trials[i]
	v, _ := a.titre(i)
	text := fmt.Sprintf("Trial %d: %s mL", i+1, quantity.Digits(v.Value, a.decimals()))
	if a.Tip != nil {
		text = fmt.Sprintf("Trial %d: %s, %s mL", i+1, drops(t.last()), quantity.Digits(v.Value, a.decimals()))
	}
	if v1, ok := a.firstTitre(i); ok {
		text += fmt.Sprintf(" in all, %s mL to the first end point,", quantity.Digits(v1.Value, a.decimals()))
	}
	if !t.blank {
		text += " for " + t.read
	}
	switch {
	case t.setAside != "":
		text += ", set aside: " + t.setAside
	case t.blank:
		text += ", blank"
	case a.rough(i):
		text += ", rough"
	}
	return text
}

// rinsed is how often the burette was rinsed.
func (a *account) rinsed() float64 {
	return map[string]float64{choiceThrice: 3, choiceTwice: 2, choiceNone: 0}[a.ready]
}

// expects is about what a trial takes, in mL: as those that were done, by its sample, or as
// expected; 0 when nothing is known.
func (a *account) expects(t *trial) float64 {
	r, _, ok := a.result()
	if a.Reaction.Pair() && t.first == nil {
		return a.firstExpected(t, r, ok)
	}
	if !ok {
		v := a.Expected()
		if a.By == Weighed && t.sample.Value > 0 {
			v *= t.sample.Value / a.Mass
		}
		return v
	}
	first := slices.IndexFunc(a.trials, func(t trial) bool { return t.done && !t.blank })
	if a.Back != nil && t.sample.Value > 0 && first >= 0 {
		whole := r.excess(t.excess).Value / a.known().Ratio.Value() / a.Titrant.species().Value
		return whole - (whole-r.Mean)*t.sample.Value/a.trials[first].sample.Value
	}
	if t.sample.Value > 0 && first >= 0 {
		return r.Mean*t.sample.Value/a.trials[first].sample.Value + r.Blank.Value
	}
	return r.Mean + r.Blank.Value
}
