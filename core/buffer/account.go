package buffer

import (
	"cmp"
	"strconv"
	"time"

	"vialbench/core/calibration"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

// Row is one buffer as it stands.
type Row struct {
	Target float64 `json:"target"`
	// Calculated is the pH of what is in it, Measured that of the last reading; the latter is
	// empty before one.
	Calculated figure.Figure  `json:"calculated"`
	Measured   *figure.Figure `json:"measured,omitempty"`
	// Error is the percentage error of the reading, with its sign.
	Error string `json:"error"`
	// Advice is what to add to it now.
	Advice    *Advice    `json:"advice,omitempty"`
	Diagnosis *Diagnosis `json:"diagnosis,omitempty"`
}

// Reading is one pH that was read on the way.
type Reading struct {
	PH    float64 `json:"pH"`
	Added float64 `json:"added"` // mL of acid (negative) or base by then
}

// View is what the drawing of a run needs.
type View struct {
	Kind     string    `json:"kind"`
	Name     string    `json:"name"`
	Flask    float64   `json:"flask"`  // mL
	Filled   float64   `json:"filled"` // mL, about
	Rows     []Row     `json:"rows"`
	Readings []Reading `json:"readings"`
	Goal     float64   `json:"goal"` // in the beaker; 0 before a reading
}

// tube is one buffer in the making.
type tube struct {
	target float64
	plan   Line
	// taken of each ingredient, in its unit; zero before.
	taken    []uncertain.Number
	readings []calibration.Taken // in the beaker
	acid     uncertain.Number
	base     uncertain.Number // mL added
	after    uncertain.Number // mL of these that came after the mark
	// adjusting is the kind of what is to be added now, settled that the pH is left as it is.
	adjusting  string
	settled    bool
	mark       string
	filling    string
	keptPast   bool
	inversions int
	final      *calibration.Taken
	kept       bool
}

type account struct {
	Request
	tubes     []tube
	watered   bool
	stirred   string
	labelled  time.Time
	expires   string
	remarks   string
	reason    string
	notes     run.Notes
	reads     []run.Reading
	additions int
}

// Make implements [run.Plan].
func (r Request) Make(facts []fact.Fact, now time.Time) (run.Outcome, error) {
	a, err := r.follow(facts)
	if err != nil {
		return run.Outcome{}, err
	}
	return a.outcome(now), nil
}

func (r Request) follow(facts []fact.Fact) (*account, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	a := &account{Request: r, notes: run.NewNotes(len(facts))}
	lines, err := r.lines()
	if err != nil {
		return nil, err
	}
	for _, l := range lines {
		a.tubes = append(a.tubes, tube{target: l.Target, plan: l, taken: make([]uncertain.Number, r.perTube())})
	}
	for _, f := range fact.Standing(facts) {
		if f.Part >= 0 && f.Part < r.Parts() {
			a.take(f)
		}
	}
	for i := range a.tubes {
		if t := &a.tubes[i]; len(t.readings) > 0 {
			a.notes.Say(stepOf("read", i*a.perTube()), a.sayReadings(t))
		}
	}
	return a, nil
}

// sayReadings says where the pH in the beaker stands, and what brought it there.
func (a *account) sayReadings(t *tube) string {
	text := "In the beaker: pH " + quantity.Digits(t.readings[len(t.readings)-1].PH.Value, 2)
	for _, x := range []struct {
		mL   uncertain.Number
		acid bool
	}{{t.acid, true}, {t.base, false}} {
		if x.mL.Value > 0 {
			text += ", with " + mL(x.mL.Value) + " of " + a.with(x.acid)
		}
	}
	return text
}

// drawn is what was measured out of bottles: stocks, and what adjusted the pH.
func (a *account) drawn() []run.Drawn {
	list := []run.Drawn{{Role: RoleAcid}, {Role: RoleBase}, {Role: RoleAdjustAcid}, {Role: RoleAdjustBase}}
	for _, t := range a.tubes {
		for k, i := range a.ingredients()[:2] {
			if i.Bottle != "" {
				list[k].Volume += t.taken[k].Value
			}
		}
		list[2].Volume += t.acid.Value
		list[3].Volume += t.base.Value
	}
	return list
}

// used is what was weighed and measured out of the store: what comes from no bottle on the shelf.
func (a *account) used() []run.Used {
	var list []run.Used
	for _, t := range a.tubes {
		for k, i := range a.ingredients() {
			if i.Bottle != "" || i.Stock.Value > 0 {
				continue
			}
			unit := "g"
			if i.Liquid() {
				unit = "mL"
			}
			list = run.Use(list, i.Substance.Key, t.taken[k].Value, unit)
		}
	}
	return list
}

// single reports whether one buffer is made, and brought to its pH.
func (a *account) single() bool { return !a.inRow() }

// filledUp reports whether a tube holds all that it was planned to: up to its mark, where it has one.
func (a *account) filledUp(t *tube) bool { return t.mark != "" || a.byVolume() }

// stepOf is the ID of a step of a tube.
func stepOf(name string, part int) string { return name + " " + strconv.Itoa(part) }

func (a *account) take(f fact.Fact) {
	t := &a.tubes[f.Part/a.perTube()]
	part := f.Part - f.Part%a.perTube()
	note := func(step string) {
		a.notes.Add(step, f.ID)
		a.notes.Say(step, a.Sentence(f))
	}
	switch f.Kind {
	case KindWatered:
		a.watered = true
		note("water")
	case KindStirred:
		a.stirred = f.Choice
		note("stir")
	case KindWeighed:
		a.weigh(t, f)
		note(stepOf("take", f.Part))
	case KindMeasured:
		v := f.Quantity.In("mL")
		t.taken[f.Part%a.perTube()] = a.measure(v).Dispensed(v, f.ID)
		note(stepOf("take", f.Part))
	case KindRead:
		t.readings = append(t.readings, a.reading(f))
		t.adjusting, t.settled = "", false
		note(stepOf("read", part))
	case KindAcid, KindBase:
		a.addTo(t, f)
		if a.filledUp(t) {
			note(stepOf("final", part))
		} else {
			note(stepOf("read", part))
		}
	case KindMark:
		t.mark, t.filling, t.keptPast = f.Choice, f.ID, false
		note(stepOf("mark", part))
	case run.KindMixed:
		t.inversions += *f.Count
		a.notes.Add(stepOf("mix", part), f.ID)
		a.notes.Say(stepOf("mix", part), "Inverted "+run.Times(t.inversions))
	case KindFinal:
		got := a.reading(f)
		t.final, t.kept, t.adjusting = &got, false, ""
		note(stepOf("final", part))
	case run.KindLabelled:
		a.labelled, a.expires, a.remarks = f.At, f.Date, f.Text
		note("label")
	case run.KindDecided:
		a.decide(t, part, f)
	}
}

func (a *account) weigh(t *tube, f fact.Fact) {
	t.taken[f.Part%a.perTube()] = a.Balance.Weighed(f)
	a.reads = append(a.reads, run.Reading{Instrument: cmp.Or(f.Instrument, a.Balance.Name), At: f.At})
}

func (a *account) addTo(t *tube, f fact.Fact) {
	v := f.Quantity.In("mL")
	n := a.dropper(v).Dispensed(v, f.ID)
	if f.Kind == KindAcid {
		t.acid = t.acid.Plus(n)
	} else {
		t.base = t.base.Plus(n)
	}
	t.adjusting = ""
	if a.filledUp(t) {
		t.after, t.final = t.after.Plus(n), nil
		return
	}
	a.additions++
}

// decide follows a decision.
func (a *account) decide(t *tube, part int, f fact.Fact) {
	step := map[string]string{
		choiceAcid: "read", choiceBase: "read", choiceLeave: "read", choiceReadOn: "read",
		choiceKeepPast: "mark", choiceKeep: "final",
	}[f.Choice]
	switch f.Choice {
	case choiceAcid:
		t.adjusting, t.settled = KindAcid, a.filledUp(t)
	case choiceBase:
		t.adjusting, t.settled = KindBase, a.filledUp(t)
	case choiceLeave:
		t.settled, t.adjusting = true, ""
	case choiceReadOn:
		t.settled, t.adjusting = false, ""
		if n := len(t.readings); n > 0 {
			t.readings = t.readings[:n-1]
		}
	case choiceKeepPast:
		t.keptPast = true
	case choiceKeep:
		t.kept = true
	case run.ChoiceStartAgain:
		a.reason = run.GivenUp(f)
	}
	if step == "read" && a.filledUp(t) {
		step = "final"
	}
	if step != "" {
		a.notes.Add(stepOf(step, part), f.ID)
	}
}

// reading is the pH of a reading.
func (a *account) reading(f fact.Fact) calibration.Taken {
	got := a.Probe.Read(f, a.MadeAt, a.Thresholds)
	if got.Reading != nil {
		a.reads = append(a.reads, *got.Reading)
	}
	return got
}

// full reports whether everything that a tube is made of was taken.
func (t *tube) full() bool {
	for _, n := range t.taken {
		if !(n.Value > 0) {
			return false
		}
	}
	return true
}

// last is the reading that stands.
func (t *tube) last() (calibration.Taken, bool) {
	switch n := len(t.readings); {
	case t.final != nil:
		return *t.final, true
	case n > 0:
		return t.readings[n-1], true
	}
	return calibration.Taken{}, false
}

// row is a tube as the screen shows it.
func (a *account) row(t *tube) Row {
	volume := a.contents(t)
	atBench := t.mark == "" && a.single()
	if atBench && a.watered {
		volume = exact(a.beaker(t))
	}
	got, isRead := t.last()
	celsius := a.MadeAt
	if isRead {
		celsius = got.Celsius
	}
	m := a.mixture(t, volume, celsius)
	row := Row{Target: t.target}
	pH, err := m.PH()
	if err != nil {
		return row
	}
	row.Calculated = figure.New("calculated", "pH calculated", "", pH).As(figure.PH)
	if !isRead {
		return row
	}
	shown := figure.New("measured", "pH read", "", got.PH).As(figure.PH)
	row.Measured = &shown
	goal := a.goal(t, got.Celsius)
	row.Error = signedPercent(percentError(got.PH, goal).Value)
	if t.full() {
		seen := Seen{Predicted: pH, Measured: got.PH, Goal: a.goalNow(t, got), DoubtfulMeter: a.Probe.Doubtful(got)}
		if d, err := a.Diagnose(a.made(t, volume.Value, got.Celsius), seen); err == nil {
			row.Diagnosis = &d
		}
	}
	if atBench {
		if advice, err := a.Advise(m, volume.Value, got.PH.Value, goal); err == nil {
			row.Advice = &advice
		}
	}
	return row
}

func signedPercent(x float64) string {
	text := quantity.Digits(x, 1)
	if x > 0 {
		text = "+" + text
	}
	return text + " %"
}
