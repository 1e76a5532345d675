package droptip

import (
	"cmp"
	"fmt"
	"strconv"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// counted is one count in the making.
type counted struct {
	drops  int
	caught *fact.Fact
}

func (c counted) done() bool { return c.drops > 0 && c.caught != nil }

type account struct {
	Request
	counts []counted
	ended  time.Time // when there were enough; zero before
	reason string
	notes  run.Notes
	reads  []run.Reading
}

func (r Request) follow(facts []fact.Fact) (*account, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	a := &account{Request: r, notes: run.NewNotes(len(facts)), counts: make([]counted, 1)}
	for _, f := range fact.Standing(facts) {
		if f.Part >= 0 && f.Part < MaxCounts {
			a.take(f)
		}
	}
	for i, c := range a.counts {
		if c.done() {
			a.notes.Say(stepOf(i), a.sayCount(i))
		}
	}
	if len(a.finished()) == 0 { // all were taken back: there is nothing to end with
		a.ended = time.Time{}
	}
	return a, nil
}

func stepOf(i int) string { return fmt.Sprintf("count %d", i) }

func (a *account) take(f fact.Fact) {
	for len(a.counts) <= f.Part {
		a.counts = append(a.counts, counted{})
	}
	c := &a.counts[f.Part]
	switch f.Kind {
	case KindCounted:
		c.drops = *f.Count
	case KindCaught:
		c.caught = &f
		if a.By == Weighed {
			a.reads = append(a.reads, run.Reading{Instrument: cmp.Or(f.Instrument, a.Balance.Name), At: f.At})
		}
	case run.KindDecided:
		switch f.Choice {
		case choiceEnough:
			a.ended = f.At
		case run.ChoiceStartAgain:
			a.reason = run.GivenUp(f)
		}
		return
	default:
		return
	}
	a.notes.Add(stepOf(f.Part), f.ID)
}

// finished are the counts that are complete.
func (a *account) finished() (list []Count) {
	for _, c := range a.counts {
		if c.done() {
			list = append(list, Count{c.drops, a.volume(*c.caught)})
		}
	}
	return list
}

func (a *account) sayCount(i int) string {
	c := a.counts[i]
	v := a.volume(*c.caught).Value / float64(c.drops)
	return fmt.Sprintf("Count %d: %d drops, %s: %s mL each", i+1, c.drops, c.caught.Quantity, quantity.Digits(v, decimals))
}

// decimals that the volume of a drop in mL is shown with beside others.
const decimals = 4

// ViewCount is a count as the screen shows it.
type ViewCount struct {
	Drops int    `json:"drops"`
	Read  string `json:"read"`
	Each  string `json:"each"` // mL of a drop
}

// View is what the drawing of a run needs.
type View struct {
	Kind     string            `json:"kind"`
	Counts   []ViewCount       `json:"counts"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

func (a *account) outcome() run.Outcome {
	found, ok := Solve(a.finished())
	view := View{Kind: Kind, Counts: []ViewCount{}, Verdicts: a.judge(found, ok)}
	out := run.Outcome{Exact: true, Readings: a.reads, Table: [][]string{{"count", "drops", "caught", "mL a drop"}}}
	for _, c := range a.counts {
		if !c.done() {
			continue
		}
		i := len(view.Counts)
		v := ViewCount{Drops: c.drops, Read: c.caught.Quantity.String(), Each: quantity.Digits(found.Each[i], decimals)}
		view.Counts = append(view.Counts, v)
		out.Table = append(out.Table, []string{strconv.Itoa(i + 1), strconv.Itoa(v.Drops), v.Read, v.Each})
	}
	if ok {
		out.Figures = a.figures(found)
		if !a.ended.IsZero() {
			out.Products = []run.Product{{
				Result: true, From: run.FromSources, Title: a.Title(), Name: a.Name, Exact: true, Figures: out.Figures,
				MadeOf: []string{}, Hazards: []string{}, Readings: a.reads,
				Detail: Result{Tip{Name: a.Name, Volume: found.Volume, Scatter: found.SD, At: a.ended}},
			}}
		}
	}
	if n := len(a.counts); ok && a.ended.IsZero() {
		at := n // the count that would come next, or is in the making
		if n < MaxCounts && !a.counts[n-1].done() {
			at = n - 1
		}
		out.Offers = []run.Offer{{Choice: verdict.Choice{ID: choiceEnough, Label: "Enough counts"}, Part: at}}
	}
	out.View = view
	out.Place(a.steps(view.Verdicts), &a.notes, a.reason, func(s *run.Step) bool { return a.counts[s.Part].done() })
	return out
}

func (a *account) steps(verdicts []verdict.Verdict) []run.Step {
	var list []run.Step
	if n := len(a.counts); a.ended.IsZero() && a.counts[n-1].done() && n < MaxCounts {
		a.counts = append(a.counts, counted{})
	}
	for i, c := range a.counts {
		switch {
		case c.done():
			list = append(list, run.Step{ID: stepOf(i), Part: i, Title: fmt.Sprintf("Count %d", i+1), Kind: KindCaught, Input: run.InputQuantity})
		case a.ended.IsZero():
			list = append(list, a.countStep(i, verdicts))
		}
	}
	return list
}

func (a *account) countStep(i int, verdicts []verdict.Verdict) run.Step {
	c := a.counts[i]
	s := run.Step{ID: stepOf(i), Part: i, Asks: true}
	if c.drops == 0 {
		s.Kind, s.Input, s.Label, s.Unit = KindCounted, run.InputDrops, "Drops", "drops"
		into := "an empty, dry cylinder"
		if a.By == Weighed {
			into = "a tared beaker"
		}
		s.Title = fmt.Sprintf("Count %d: let drops of %s fall into %s, and count them", i+1, run.LowerFirst(a.Liquid), into)
		s.Default = strconv.Itoa(int(a.Thresholds.Of(RuleEnough)))
		s.Hint = "The tip upright and dry outside, one drop a second. Count at least as many as stand here; more is better."
		s.Cautions = []string{"Goggles. Your local rules, the safety data sheets and licensed waste handling come first."}
		s.Verdicts = verdicts
		if i > 0 {
			s.Ends = &verdict.Choice{ID: choiceEnough, Label: "Enough counts"}
		}
		return s
	}
	s.Kind, s.Input, s.Title = KindCaught, run.InputQuantity, fmt.Sprintf("Count %d: the volume or mass of %d drops", i+1, c.drops)
	about := float64(c.drops) * a.Thresholds.Of(RuleDrop)
	if a.By == ByCylinder {
		s.Label, s.Unit, s.Dimensions = "Cylinder", "mL", []quantity.Dimension{quantity.Volume}
		s.Expects = quantity.Digits(about, 1) + " mL"
		s.Hint = "At eye level, the bottom of the meniscus, a tenth of the distance between two lines estimated."
		return s
	}
	s.Label, s.Unit, s.Dimensions, s.Instrument = "Net mass shown", "g", []quantity.Dimension{quantity.Mass}, a.Balance.Name
	s.Expects = quantity.Digits(about*a.density(), 2) + " g"
	s.Hint = "Read without waiting long: water evaporates."
	return s
}

// judge gives the verdicts on the counts.
func (a *account) judge(f Found, ok bool) []verdict.Verdict {
	list := []verdict.Verdict{}
	if !ok {
		return list
	}
	counts := a.finished()
	if least := a.Thresholds.Of(RuleEnough); float64(counts[len(counts)-1].Drops) < least {
		list = append(list, RuleEnough.Says(verdict.Look, nil, "%d drops only: one drop is %s %% of them. Count %s or more.",
			counts[len(counts)-1].Drops, quantity.Digits(100/float64(counts[len(counts)-1].Drops), 0), quantity.Digits(least, 0)))
	}
	most := a.Thresholds.Of(RuleConstant)
	switch more := int(a.Thresholds.Of(RuleCounts)) - len(counts); {
	case len(counts) > 1 && 100*f.Range > most:
		list = append(list, RuleConstant.Says(verdict.Look, nil,
			"The counts lie %s %% apart, more than %s %%: hold the tip upright, let it drip more slowly, and count again.",
			quantity.Digits(100*f.Range, 1), quantity.Digits(most, -1)))
	case more > 0:
		list = append(list, RuleCounts.Says(verdict.Look, nil, "Count %d more: one count shows no slip, and no constancy.", more))
	default:
		list = append(list, RuleConstant.Says(verdict.Fine, nil, "The %d counts lie within %s %%: the drops are of one size.",
			len(counts), quantity.Digits(100*f.Range, 1)))
	}
	return list
}

func (a *account) figures(f Found) []figure.Figure {
	one := f.Volume.Pow(-1)
	return []figure.Figure{
		figure.New("drop", "volume of a drop", "mL", f.Volume).As(figure.Volume),
		figure.New("per mL", "drops in 1 mL", "", one),
	}
}

// Explain implements [run.Plan].
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	found, ok := Solve(a.finished())
	if !ok {
		return nil, verdict.Problems{{Field: "/figure", Reason: "nothing was counted yet"}}
	}
	for _, f := range a.figures(found) {
		if f.ID == figureID {
			return append(a.lines(found, figureID), working.Uncertainty(f.Number, f.Unit)...), nil
		}
	}
	return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a tip is the volume of a drop, or the drops in 1 mL"}}
}

func (a *account) lines(found Found, figureID string) []working.Line {
	var list []working.Line
	var terms []string
	for i, c := range a.counts {
		if !c.done() {
			continue
		}
		caught := a.volume(*c.caught)
		l := working.Line{Title: fmt.Sprintf("Count %d", i+1), Symbol: "v", Result: working.Result(caught.Scale(1/float64(c.drops)), "mL")}
		if a.By == ByCylinder {
			l.Formula = `v = \frac{V}{n}`
			l.Substituted = fmt.Sprintf(`v = \frac{%s}{%d}`, working.Value(caught, "mL"), c.drops)
		} else {
			m := c.caught.Quantity.In("g")
			l.Formula = `v = \frac{b\,m}{n\,\rho}`
			l.Substituted = fmt.Sprintf(`v = \frac{%.5f \times %s}{%d \times %.5g%s}`, caught.Value*a.density()/m,
				quantity.Digits(m, a.Balance.Decimals())+working.Unit("g"), c.drops, a.density(), working.Unit("g/mL"))
			l.From = []string{"b: buoyancy of the air", a.sayDensity()}
		}
		list, terms = append(list, l), append(terms, fmt.Sprintf("%.4g", caught.Value/float64(c.drops)))
	}
	list = append(list, working.Line{
		Title:       "Volume of a drop",
		Symbol:      `\bar{v}`,
		Formula:     `\bar{v} = \frac{\sum v_i}{k}`,
		Substituted: fmt.Sprintf(`\bar{v} = \frac{%s}{%d}`, working.Sum(terms), len(terms)) + working.Unit("mL"),
		Result:      working.Result(found.Volume, "mL"),
	})
	if figureID == "per mL" {
		list = append(list, working.Line{
			Title: "Drops in 1 mL", Symbol: "n", Formula: `n = \frac{1\,\mathrm{mL}}{\bar{v}}`,
			Substituted: `n = \frac{1` + working.Unit("mL") + `}{` + working.Value(found.Volume, "mL") + `}`,
			Result:      working.Result(found.Volume.Pow(-1), ""),
		})
	}
	return list
}

func (a *account) sayDensity() string {
	if a.Density > 0 {
		return "ρ of " + run.LowerFirst(a.Liquid) + " as it was stated"
	}
	return fmt.Sprintf("ρ of water at %s °C (Tanaka et al., Metrologia 38 (2001) 301)", quantity.Digits(a.Celsius, 1))
}
