package mixture

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"vialbench/core/absorbance"
	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// reading of a sample.
type reading struct {
	fact.Fact
	net float64       // less its blank
	age time.Duration // of the blank
}

// found is what a sample holds.
type found struct {
	photometry.MixtureAnswer
	means  []float64 // at both wavelengths
	c      []uncertain.Number
	sample []uncertain.Number // before it was diluted
}

type account struct {
	Request
	blanks [2][]fact.Fact // at each wavelength
	wanted [2]int         // how many settings are asked for
	reads  [][]reading
	again  []int
	ended  bool
	reason string
	notes  run.Notes
	used   []run.Reading

	models [2][]photometry.Model // of each substance
	found  []*found              // nil of a sample before it was read at both wavelengths
	not    string                // why nothing is found
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
	n := 2 * len(r.Samples)
	a := &account{
		Request: r, notes: run.NewNotes(len(facts)), wanted: [2]int{1, 1}, reads: make([][]reading, n), again: make([]int, n),
		found: make([]*found, len(r.Samples)),
	}
	for _, f := range fact.Standing(facts) {
		if f.Part >= 0 && f.Part < r.Parts() {
			a.take(f)
		}
	}
	models, err := a.lines().fitted()
	if err != nil {
		a.not = "A line cannot be used any more: " + err.Error() + "."
		return a, nil
	}
	a.models = models
	for i := range a.Samples {
		a.find(i)
	}
	return a, nil
}

func (a *account) take(f fact.Fact) {
	switch {
	case f.Kind == KindBlank && f.Part < 2:
		a.noted(blankStep(f.Part, len(a.blanks[f.Part])), f)
		a.blanks[f.Part] = append(a.blanks[f.Part], f)
	case f.Kind == KindRead && f.Part < len(a.reads):
		_, at := a.placed(f.Part)
		read := reading{Fact: f, net: photometry.Shown(*f.Quantity)}
		if blanks := a.blanks[at]; len(blanks) > 0 {
			last := blanks[len(blanks)-1]
			read.net -= photometry.Shown(*last.Quantity)
			read.age = f.At.Sub(last.At)
			if read.age.Minutes() > a.Thresholds.Of(photometry.RuleBlank) {
				a.wanted[at] = max(a.wanted[at], len(blanks)+1) // it is asked for again
			}
		}
		a.reads[f.Part] = append(a.reads[f.Part], read)
		a.noted(readStep(f.Part), f)
	case f.Kind == run.KindDecided && f.Choice == choiceEnd:
		a.ended = true
		a.notes.Add(judgeStep, f.ID)
		a.notes.Say(judgeStep, run.UpperFirst(strings.TrimPrefix(a.Sentence(f), "Decided: ")))
	case f.Kind == run.KindDecided && f.Choice == run.ChoiceStartAgain:
		a.reason = run.GivenUp(f)
	case f.Kind == run.KindDecided && f.Choice == choiceAgain && f.Part < len(a.again):
		a.again[f.Part]++
	}
}

// noted keeps what a step rests on, with what an instrument read.
func (a *account) noted(step string, f fact.Fact) {
	a.notes.Add(step, f.ID)
	a.notes.Say(step, a.Sentence(f))
	if name := cmp.Or(f.Instrument, a.Photometer.Named()); name != "" {
		a.used = append(a.used, run.Reading{Instrument: name, At: f.At})
	}
}

// done reports whether a sample was read often enough at a wavelength.
func (a *account) done(part int) bool { return len(a.reads[part]) >= a.Replicates+a.again[part] }

// lines of both substances at both wavelengths.
type lines [2][2]struct {
	absorbance.Line
	unit string
}

func (r Request) lines() (list lines) {
	for of, s := range r.Substances {
		for at, l := range s.Lines {
			list[of][at].Line, list[of][at].unit = l.Line, s.Unit
		}
	}
	return list
}

func (l lines) fitted() (models [2][]photometry.Model, err error) {
	for of := range l {
		for _, one := range l[of] {
			m, err := one.Model(one.unit)
			if err != nil {
				return models, err
			}
			models[of] = append(models[of], m)
		}
	}
	return models, nil
}

// shared lists the sources that several standards of one line have in common, like the error of their stock: the scatter of the line
// does not show them.
func (l lines) shared() (list []uncertain.Source) {
	for of := range l {
		for _, one := range l[of] {
			holders := map[string]int{}
			for _, k := range one.Of {
				for _, c := range one.Standards[k].Concentration.Contributions {
					holders[c.ID]++
					known := slices.ContainsFunc(list, func(s uncertain.Source) bool { return s.ID == c.ID })
					if holders[c.ID] == 2 && !known {
						list = append(list, c.Source)
					}
				}
			}
		}
	}
	return list
}

// shifted are the lines as they would be with a source off by its standard uncertainty.
func (l lines) shifted(id string) lines {
	for of := range l {
		for at := range l[of] {
			one := &l[of][at]
			one.Standards = slices.Clone(one.Standards)
			for i, s := range one.Standards {
				for _, c := range s.Concentration.Contributions {
					if c.ID == id {
						one.Standards[i].Concentration = uncertain.Exact(s.Concentration.Value + c.U)
					}
				}
			}
		}
	}
	return l
}

// question asks what a sample holds, by lines.
func (a *account) question(sample int, models [2][]photometry.Model) photometry.MixtureQuestion {
	q := photometry.MixtureQuestion{First: models[0], Second: models[1], Thresholds: a.Thresholds}
	for of := range a.Substances {
		q.Names = append(q.Names, a.Substances[of].Name)
	}
	for at := range a.Wavelengths {
		var list []float64
		for _, read := range a.reads[a.part(sample, at)] {
			list = append(list, read.net)
		}
		q.Readings = append(q.Readings, list)
	}
	return q
}

// find computes a sample, with the scatter of lines and readings and with what the standards share: each such source moves all lines
// that hold it at once.
func (a *account) find(sample int) {
	if len(a.reads[a.part(sample, 0)]) == 0 || len(a.reads[a.part(sample, 1)]) == 0 {
		return
	}
	q := a.question(sample, a.models)
	answer, err := photometry.Mixture(q)
	if err != nil {
		a.not = "These lines do not tell the two apart: " + err.Error() + "."
		return
	}
	is := &found{MixtureAnswer: answer}
	for _, list := range q.Readings {
		mean := 0.0
		for _, net := range list {
			mean += net / float64(len(list))
		}
		is.means = append(is.means, mean)
	}
	first := a.reads[a.part(sample, 0)][0].ID // of this run alone
	parts := [2][]uncertain.Contribution{}
	for of := range parts {
		parts[of] = []uncertain.Contribution{{
			Source: uncertain.Source{
				ID: "scatter " + a.Substances[of].Name + " " + first, Label: "scatter of the readings",
				Basis: "from the residuals of the lines, and how often the sample was read", DoF: answer.DF[of],
			},
			U: answer.SE[of],
		}}
	}
	of := a.lines()
	for _, source := range of.shared() {
		models, err := of.shifted(source.ID).fitted()
		if err != nil {
			continue // no standard can be that far off: the line would be none
		}
		moved, err := photometry.Mixture(a.question(sample, models))
		if err != nil {
			continue
		}
		for i := range parts {
			parts[i] = append(parts[i], uncertain.Contribution{Source: source, U: moved.C[i] - answer.C[i]})
		}
	}
	diluted := run.TypedFactor(a.Samples[sample].Diluted, "dilution "+first, a.Thresholds)
	for i := range parts {
		c := uncertain.Gather(answer.C[i], parts[i])
		is.c, is.sample = append(is.c, c), append(is.sample, c.Times(diluted))
	}
	a.found[sample] = is
}

// doubts are what is to be said of the readings of a sample at a wavelength.
func (a *account) doubts(part int) []verdict.Verdict {
	list := []verdict.Verdict{}
	for _, read := range a.reads[part] {
		list = append(list, a.Photometer.Doubts(photometry.Shown(*read.Quantity), read.age, read.Text, a.Thresholds)...)
	}
	return list
}

// judged are the verdicts on what a sample holds.
func (a *account) judged(sample int) []verdict.Verdict {
	list := []verdict.Verdict{}
	is := a.found[sample]
	if is == nil {
		return list
	}
	list = append(list, is.Verdicts...)
	for of, s := range a.Substances {
		for at, l := range s.Lines {
			list = append(list, photometry.Aged(l.Line.At, a.reads[a.part(sample, at)][0].At, a.Thresholds)...)
		}
		most := 0.0
		for _, l := range s.Lines {
			for _, standard := range l.Line.Standards {
				most = max(most, standard.Concentration.Value)
			}
		}
		if is.C[of] > most {
			list = append(list, photometry.RuleInside.Says(verdict.Look, nil, "%s lies beyond its strongest standard, %s %s: dilute the sample, and read it again.",
				s.Name, quantity.Trim(most), s.Unit))
		}
	}
	return distinct(list)
}

// distinct drops what was said before.
func distinct(list []verdict.Verdict) []verdict.Verdict {
	said := map[string]bool{}
	return slices.DeleteFunc(list, func(v verdict.Verdict) bool {
		was := said[v.Sentence]
		said[v.Sentence] = true
		return was
	})
}
