package buffer

import (
	"fmt"
	"math"
	"strings"
	"time"

	"vialbench/core/equilibrium"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

func (a *account) outcome(now time.Time) run.Outcome {
	out := run.Outcome{Readings: a.reads, Exact: true, Drawn: a.drawn(), Used: a.used()}
	view := View{Kind: Kind, Name: a.name(), Flask: a.Volume, Readings: []Reading{}, Rows: []Row{}}
	for i := range a.tubes {
		t := &a.tubes[i]
		view.Rows = append(view.Rows, a.row(t))
		if t.full() {
			out.Figures = append(out.Figures, a.shown(i)...)
		}
	}
	t := &a.tubes[0]
	view.Filled = a.filled(t)
	for _, x := range t.readings {
		view.Readings = append(view.Readings, Reading{PH: x.PH.Value, Added: t.base.Value - t.acid.Value})
	}
	if got, ok := t.last(); ok {
		view.Goal = a.goalNow(t, got)
	}
	if a.expires != "" {
		for i := range a.tubes {
			if a.tubes[i].full() {
				out.Products = append(out.Products, a.product(i))
			}
		}
	}
	out.View, out.Table = view, a.table(view.Rows)
	out.Place(a.steps(now), &a.notes, a.reason, a.done)
	return out
}

// filled is how much there is in front of the person, in mL.
func (a *account) filled(t *tube) float64 {
	switch {
	case a.filledUp(t):
		return a.contents(t).Value
	case a.single() && !a.watered:
		return 0
	}
	return a.beaker(t)
}

// shown are the figures of a tube with what is known now.
func (a *account) shown(tubeAt int) []figure.Figure {
	t := &a.tubes[tubeAt]
	celsius := a.MadeAt
	got, isRead := t.last()
	if isRead {
		celsius = got.Celsius
	}
	list := a.figures(a.mixture(t, a.contents(t), celsius))
	suffix, words := "", ""
	if !a.single() {
		suffix, words = fmt.Sprintf(" %d", tubeAt+1), a.tubeWord(t)
	}
	for i := range list {
		list[i].ID += suffix
		list[i].Label = words + list[i].Label
	}
	if isRead {
		f := figure.New("measured"+suffix, words+"pH read at "+trim(got.Celsius)+" °C", "", got.PH).As(figure.PH)
		off := percentError(got.PH, a.goal(t, got.Celsius))
		list = append([]figure.Figure{f, figure.New("error"+suffix, words+"percent error of the pH", "%", off).As(figure.PercentError)}, list...)
	}
	return list
}

// product is the bottle that goes on the shelf: named by the pH that was read.
func (a *account) product(tubeAt int) run.Product {
	t := &a.tubes[tubeAt]
	var concentration, rest []figure.Figure
	for _, f := range a.shown(tubeAt) {
		switch {
		case f.Role == figure.Concentration:
			concentration = append(concentration, f)
		case f.Role == figure.PH && !t.isReading(f): // what was read stands for the bottle
		default:
			rest = append(rest, f)
		}
	}
	m := a.mixture(t, a.contents(t), a.Celsius)
	p := run.Product{
		Part:     tubeAt,
		From:     run.FromSources,
		Tube:     !a.single(),
		Name:     a.name(),
		Formula:  []formula.Piece{},
		Origin:   run.FromSolution,
		Exact:    true,
		Figures:  append(append(concentration, rest...), figure.New("volume", "volume", "mL", a.contents(t)).As(figure.Volume)),
		Expires:  a.expires,
		Note:     a.remarks,
		Readings: a.reads,
		MadeOf:   []string{},
		Mixture:  &m,
	}
	pH := t.target
	if t.final != nil {
		pH = t.final.PH.Value
	}
	p.Title = fmt.Sprintf("%s, %s mol/L, pH %s", p.Name, t.plan.Total, quantity.Digits(pH, 2))
	for k, i := range a.ingredients() {
		p.MadeOf = append(p.MadeOf, i.String())
		f, err := formula.Parse(i.Substance.Formula)
		if err != nil {
			continue
		}
		grams := i.Amount(t.taken[k]).Value * f.MolarMass().Value / a.contents(t).Value * 1000
		p.Ingredients = append(p.Ingredients, substance.Ingredient{Key: i.Substance.Key, Grams: grams, Hazards: i.Substance.Hazards})
	}
	if t.acid.Value > 0 {
		p.MadeOf = append(p.MadeOf, a.with(true))
	}
	if t.base.Value > 0 {
		p.MadeOf = append(p.MadeOf, a.with(false))
	}
	if !a.byVolume() {
		p.MadeOf = append(p.MadeOf, "deionised water")
	}
	// What acid and base neutralise of one another is no hazard any more: what is left of the
	// strong ones is told by the pH.
	p.Ingredients = a.neutralised(p.Ingredients)
	p.Hazards, p.Signal = substance.Classify(p.Ingredients)
	return p
}

// neutralised leaves out strong acids and bases, which a buffer between pH 2.5 and 11.5 has
// none of any more.
func (a *account) neutralised(list []substance.Ingredient) []substance.Ingredient {
	kept := list[:0]
	for k, x := range list {
		if c, ok := a.ingredients()[k].Compound(); ok && c.Strong() != 0 && a.Target > 2.5 && a.Target < 11.5 {
			continue
		}
		kept = append(kept, x)
	}
	return kept
}

// table is a row of buffers as a table.
func (a *account) table(rows []Row) [][]string {
	head := []string{"pH wanted"}
	for _, i := range a.ingredients() {
		head = append(head, i.String()+", "+i.Unit())
	}
	list := [][]string{append(head, "pH calculated", "U (k = 2)", "pH read", "U (k = 2)", "error")}
	for i, row := range rows {
		line := []string{quantity.Digits(row.Target, 2)}
		for k, x := range a.ingredients() {
			text := ""
			if n := a.tubes[i].taken[k]; n.Value > 0 {
				text = quantity.Digits(n.Value, map[bool]int{true: 2, false: a.Balance.Decimals()}[x.Liquid()])
			}
			line = append(line, text)
		}
		line = append(line, row.Calculated.Text, row.Calculated.UText, "", "", row.Error)
		if row.Measured != nil {
			line[len(line)-3], line[len(line)-2] = row.Measured.Text, row.Measured.UText
		}
		list = append(list, line)
	}
	return list
}

// Explain implements [run.Plan]. “plan” explains the design.
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	if figureID == "plan" {
		t := &a.tubes[0]
		return append([]working.Line{r.estimate(t.plan.mix).Line}, r.plannedBalance(t.plan.mix)...), nil
	}
	for i := range a.tubes {
		t := &a.tubes[i]
		for _, f := range a.shown(i) {
			if f.ID == figureID {
				return a.explain(t, f), nil
			}
		}
	}
	return nil, verdict.Problems{
		{Field: "/figure", Reason: "a figure of a buffer is its pH, its concentration, its capacity or its ionic strength"},
	}
}

func (a *account) explain(t *tube, f figure.Figure) []working.Line {
	if t.isReading(f) {
		got, _ := t.last()
		return a.Probe.Lines("pH as it was read", got)
	}
	celsius := a.MadeAt
	if got, ok := t.last(); ok {
		celsius = got.Celsius
		if f.Role == figure.PercentError {
			lines := append(a.Probe.Lines("pH as it was read", got), a.errorLine(f, got.PH, a.goal(t, celsius)))
			return append(lines, working.Uncertainty(f.Number, f.Unit)...)
		}
	}
	m := a.mixture(t, a.contents(t), celsius)
	lines := a.amountLines(t)
	answer, err := m.Answer(a.Thresholds)
	if err != nil {
		return lines
	}
	switch f.Role {
	case figure.Concentration:
		lines = append(lines, a.concentrationLine(t, f, answer))
	case figure.PH:
		lines = append(lines, answer.Lines()...)
	case figure.Capacity:
		lines = append(lines, capacityLine(f, answer))
	default:
		lines = append(lines, strengthLine(f, answer))
	}
	return append(lines, working.Uncertainty(f.Number, f.Unit)...)
}

// percentError is (measured − target)/target × 100, with its sign.
func percentError(measured uncertain.Number, target float64) uncertain.Number {
	return measured.Minus(exact(target)).Scale(100 / target)
}

func (a *account) errorLine(f figure.Figure, measured uncertain.Number, target float64) working.Line {
	l := working.Line{
		Title: "Percent error, with its sign", Symbol: `\delta`,
		Formula: `\delta = \frac{\mathrm{pH}_\text{read} - \mathrm{pH}_\text{wanted}}{\mathrm{pH}_\text{wanted}} \times 100\,\%`,
		Substituted: fmt.Sprintf(`\delta = \frac{%s - %s}{%s} \times 100\,\%%`,
			working.Value(measured, ""), working.Number(target), working.Number(target)),
		Result: working.Result(f.Number, f.Unit),
		From:   []string{"pH wanted: at the temperature that it was read at"},
	}
	if math.Abs(target-a.Target) < 0.005 {
		l.From = []string{"pH wanted: as planned"}
	}
	return l
}

// concentrationLine counts the forms of the system.
func (a *account) concentrationLine(t *tube, f figure.Figure, answer equilibrium.Answer) working.Line {
	l := working.Line{Title: "Concentration, " + a.countsWhat(), Symbol: "c", Result: working.Result(f.Number, f.Unit)}
	var terms []string
	for k, i := range a.ingredients() {
		c, _ := i.Compound()
		if n := units(c, a.System.Key); n > 0 {
			terms = append(terms, fmt.Sprintf(`%g \times %s`, n, working.Value(i.Amount(t.taken[k]).Scale(1000), "mmol")))
		}
	}
	l.Formula = `c = \frac{\sum n}{V}`
	l.Substituted = `c = \frac{` + strings.Join(terms, " + ") + `}{` + working.Value(a.contents(t), "mL") + `}`
	if a.Basis == 0 {
		return l
	}
	for _, x := range answer.Species {
		if x.System == a.System.Key && x.Formula == a.countsWhat() {
			l.Formula = `c = \alpha\,\frac{\sum n}{V}`
			l.Substituted = `c = ` + working.Number(x.Fraction) + ` \times ` + strings.TrimPrefix(l.Substituted, "c = ")
			l.From = append([]string{"α: the part of all forms that is " + x.Formula + " at this pH"}, l.From...)
		}
	}
	return l
}

func capacityLine(f figure.Figure, answer equilibrium.Answer) working.Line {
	var terms, from []string
	for _, part := range answer.Parts {
		terms = append(terms, working.Number(part.Value))
		from = append(from, part.Name+": "+working.SayNumber(part.Value)+" mol/L")
	}
	return working.Line{
		Title: "Buffer capacity, base in mol/L for each pH", Symbol: `\beta`,
		Formula:     `\beta = \frac{\mathrm{d}c_\mathrm{base}}{\mathrm{d}\,\mathrm{pH}} = \sum_i \beta_i`,
		Substituted: `\beta = ` + working.Sum(terms), Result: working.Result(f.Number, f.Unit), From: from,
	}
}

func strengthLine(f figure.Figure, answer equilibrium.Answer) working.Line {
	var terms, from []string
	for _, x := range answer.Species {
		if z := float64(x.Charge); x.C*z*z > 1e-6*answer.Strength {
			terms = append(terms, fmt.Sprintf(`%s \times (%d)^2`, working.Number(x.C), x.Charge))
			from = append(from, x.Formula+": "+working.SayNumber(x.C)+" mol/L")
		}
	}
	return working.Line{
		Title: "Ionic strength", Symbol: "I", Formula: `I = \frac{1}{2}\sum_i c_i z_i^2`,
		Substituted: `I = \frac{1}{2} \times (` + working.Sum(terms) + `)`, Result: working.Result(f.Number, f.Unit), From: from,
	}
}

// plannedBalance is the balance of what is planned.
func (r Request) plannedBalance(c Composition) []working.Line {
	answer, err := r.planned(c, r.Celsius).Answer(r.Thresholds)
	if err != nil {
		return nil
	}
	return append(answer.Lines(), working.Uncertainty(answer.PH, "")...)
}

// isReading reports whether a figure is what the meter read.
func (t *tube) isReading(f figure.Figure) bool { return strings.HasPrefix(f.ID, "measured") }

// amountLines show how much of each ingredient is in it.
func (a *account) amountLines(t *tube) []working.Line {
	var lines []working.Line
	for k, i := range a.ingredients() {
		n := i.Amount(t.taken[k])
		line := working.Line{
			Title:  "Amount of " + i.Substance.Name,
			Symbol: "n",
			Result: working.Result(n.Scale(1000), "mmol"),
			From:   []string{i.String()},
		}
		if i.Liquid() {
			line.Formula = `n = c\,V`
			line.Substituted = `n = ` + working.Value(i.Molarity(), "mol/L") + ` \times ` + working.Value(t.taken[k], "mL")
		} else {
			line.Formula = `n = \frac{m}{M/w}`
			line.Substituted = `n = \frac{` + working.Value(t.taken[k], "g") + `}{` + working.Value(i.MolarMass(), "g/mol") + `}`
			line.From = append(line.From, "M/w: molar mass of "+i.Substance.Formula+" by its assay")
		}
		lines = append(lines, line)
	}
	return lines
}
