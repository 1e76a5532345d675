package absorbance

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"time"

	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// reading of a tube.
type reading struct {
	fact.Fact
	net   float64       // what counts
	blank int           // the setting before it, by its place; −1 before the first
	age   time.Duration // of that setting
}

type account struct {
	Request
	cells  []*fact.Fact // the cells after the first, with the blank in them
	blanks []fact.Fact
	wanted int // how many settings of the blank are asked for
	reads  [][]reading
	again  []int
	struck []string // why; empty of a tube that counts
	guess  []string
	warm   [ofUnknowns + 1]*fact.Fact
	ended  bool
	reason string
	notes  run.Notes
	used   []run.Reading

	line   Line
	answer *photometry.Answer // nil before there is a line
	not    string             // why there is none
	found  map[int]int        // the place of an unknown in the answer, by its part
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
	n := len(r.Standards) + len(r.Unknowns)
	a := &account{
		Request: r, notes: run.NewNotes(len(facts)), wanted: 1, cells: make([]*fact.Fact, r.Cells), reads: make([][]reading, n),
		again: make([]int, n), struck: make([]string, n), guess: make([]string, n),
	}
	for _, f := range fact.Standing(facts) {
		if f.Part >= 0 && f.Part < r.Parts() {
			a.take(f)
		}
	}
	for part, why := range a.struck {
		if reads := a.reads[part]; why != "" && len(reads) > 0 {
			a.notes.Say(readStep(part), a.Sentence(reads[len(reads)-1].Fact)+"; struck: "+why)
		}
	}
	a.subtract()
	a.fit()
	return a, nil
}

func (a *account) take(f fact.Fact) {
	tube := f.Part < len(a.reads)
	switch {
	case f.Kind == KindCell && f.Part < a.Cells:
		a.cells[f.Part] = &f
		a.noted(cellStep(f.Part), f)
	case f.Kind == KindBlank:
		a.noted(blankStep(len(a.blanks)), f)
		a.blanks = append(a.blanks, f)
	case f.Kind == KindRead && tube:
		read := reading{Fact: f, blank: len(a.blanks) - 1}
		if read.blank >= 0 {
			read.age = f.At.Sub(a.blanks[read.blank].At)
			if read.age.Minutes() > a.Thresholds.Of(photometry.RuleBlank) {
				a.wanted = max(a.wanted, len(a.blanks)+1) // it is asked for again
			}
		}
		a.reads[f.Part] = append(a.reads[f.Part], read)
		a.noted(readStep(f.Part), f)
	case f.Kind == KindWarm && f.Part < len(a.warm):
		a.warm[f.Part] = &f
		a.notes.Add(warmStep(f.Part), f.ID)
		a.notes.Say(warmStep(f.Part), a.Sentence(f))
	case f.Kind == KindGuessed && tube:
		a.guess[f.Part] = f.Choice
		a.noted(guessStep(f.Part), f)
	case f.Kind == run.KindDecided:
		a.decide(f, tube)
	}
}

func (a *account) decide(f fact.Fact, tube bool) {
	switch {
	case f.Choice == choiceEnd:
		a.ended = true
		a.notes.Add(judgeStep, f.ID)
		a.notes.Say(judgeStep, run.UpperFirst(strings.TrimPrefix(a.Sentence(f), "Decided: ")))
	case f.Choice == run.ChoiceStartAgain:
		a.reason = run.GivenUp(f)
	case f.Choice == choiceBlank:
		a.wanted = max(a.wanted, len(a.blanks)+1)
	case f.Choice == choiceAgain && tube:
		a.again[f.Part]++
	case f.Choice == choiceStrike && tube:
		a.struck[f.Part] = f.Text
		a.notes.Add(readStep(f.Part), f.ID)
	}
}

// noted keeps what a step rests on, with what an instrument read.
func (a *account) noted(step string, f fact.Fact) {
	a.notes.Add(step, f.ID)
	a.notes.Say(step, a.Sentence(f))
	if name := cmp.Or(f.Instrument, a.Photometer.Named()); name != "" && f.Quantity != nil {
		a.used = append(a.used, run.Reading{Instrument: name, At: f.At})
	}
}

// subtract takes blank and cell off every reading.
func (a *account) subtract() {
	for part := range a.reads {
		for i := range a.reads[part] {
			read := &a.reads[part][i]
			read.net = photometry.Shown(*read.Quantity)
			if read.blank >= 0 {
				read.net -= photometry.Shown(*a.blanks[read.blank].Quantity)
			}
			if cell := a.cells[a.cell(part)]; cell != nil {
				read.net -= photometry.Shown(*cell.Quantity)
			}
			read.net *= a.Additions.brought(part)
		}
	}
}

// line is that of an earlier run, or the standards of this one without readings.
func (r Request) line() Line {
	if r.Earlier != nil {
		return r.Earlier.Line
	}
	return Line{Standards: r.Standards, Of: []int{}, A: []float64{}, Scatter: r.Scatter}
}

// sorted are the concentrations of the standards, the lowest first.
func (r Request) sorted() []float64 {
	var list []float64
	for _, s := range r.line().Standards {
		list = append(list, s.Concentration.Value)
	}
	slices.Sort(list)
	return list
}

// say writes a concentration rounded to its uncertainty, with its unit.
func say(n uncertain.Number, unit string) string {
	text, _ := quantity.Round(n.Value, n.Expanded())
	if n.Value == 0 || n.U() == 0 {
		text = quantity.Trim(quantity.Significant(n.Value, 4))
	}
	return text + " " + unit
}

func (r Request) sayConcentration(c float64, digits int) string {
	return quantity.Trim(quantity.Significant(c, digits)) + " " + r.Unit
}

// fit fits the line to what counts, and reads the unknowns from it.
func (a *account) fit() {
	a.line, a.found = a.Request.line(), map[int]int{}
	if f := a.warm[ofStandards]; f != nil && a.Earlier == nil {
		celsius := f.Quantity.In("°C")
		a.line.Celsius = &celsius
	}
	if a.Earlier == nil {
		for k := range a.Standards {
			if a.struck[k] != "" {
				continue
			}
			for _, read := range a.reads[k] {
				a.line.Of, a.line.A = append(a.line.Of, k), append(a.line.A, read.net)
				if read.At.After(a.line.At) {
					a.line.At = read.At
				}
			}
		}
	}
	q := a.line.question(a.Unit, a.Thresholds)
	for i, u := range a.Unknowns {
		part := len(a.Standards) + i
		if len(a.reads[part]) == 0 {
			continue
		}
		a.found[part] = len(q.Unknowns)
		asked := photometry.Unknown{Name: u.Name}
		for _, read := range a.reads[part] {
			asked.Readings = append(asked.Readings, read.net)
		}
		q.Unknowns = append(q.Unknowns, asked)
	}
	if len(q.X) < 3 {
		a.not = "The line appears with the third standard."
		return
	}
	answer, err := photometry.Fit(q)
	if err != nil {
		a.not = "No line goes through these readings: " + err.Error() + "."
		return
	}
	a.answer = &answer
}

// concentration of an unknown as it was read, by its part, with all that adds to it; ok is false before it is known.
func (a *account) concentration(part int) (c uncertain.Number, ok bool) {
	i, read := a.found[part]
	if a.answer == nil || !read {
		return c, false
	}
	scatter := "scatter " + a.reads[part][0].ID // of this run alone
	c, err := a.line.question(a.Unit, nil).Carry(a.answer.Unknowns[i], a.line.concentrations(), a.line.Of, scatter)
	return c, err == nil
}

// factor is how many times an unknown was diluted, and whether it was.
func (a *account) factor(part int) (f uncertain.Number, diluted bool) {
	u := a.Unknowns[a.unknown(part)]
	id := ""
	if len(a.reads[part]) > 0 {
		id = a.reads[part][0].ID
	}
	f = run.TypedFactor(u.Diluted, "dilution "+id, a.Thresholds)
	if u.Descent != nil {
		f = f.Times(u.Descent.Factor())
	}
	return f, u.Diluted > 1 || u.Descent != nil
}

// warmer says when the unknowns were not as warm as the standards of their line.
func (a *account) warmer() []verdict.Verdict {
	line, f, most := a.line.Celsius, a.warm[ofUnknowns], a.Thresholds.Of(photometry.RuleWarm)
	if line == nil || f == nil || math.Abs(f.Quantity.In("°C")-*line) <= most {
		return nil
	}
	return []verdict.Verdict{photometry.RuleWarm.Says(verdict.Look, nil, "The unknowns were at %s, and the standards of their line at %s °C: let both come to one temperature, and read again.",
		f.Quantity, quantity.Digits(*line, 1))}
}

// done reports whether a tube was read often enough.
func (a *account) done(part int) bool { return len(a.reads[part]) >= a.Replicates+a.again[part] }

// doubts are what is to be said of the readings of a tube.
func (a *account) doubts(part int) []verdict.Verdict {
	list := []verdict.Verdict{}
	for _, read := range a.reads[part] {
		list = append(list, a.Photometer.Doubts(photometry.Shown(*read.Quantity), read.age, read.Text, a.Thresholds)...)
	}
	if a.Earlier != nil && len(a.reads[part]) > 0 {
		list = append(list, photometry.Aged(a.line.At, a.reads[part][0].At, a.Thresholds)...)
	}
	return list
}
