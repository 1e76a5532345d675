package titration

import (
	"fmt"
	"slices"

	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// ViewTrial is a trial as the screen shows it.
type ViewTrial struct {
	N      int    `json:"n"`
	Sample string `json:"sample"`
	// Start and Last are readings of the burette, Titre what ran in, Compared what it would have
	// been with the sample of the first; as text, empty before.
	Start string `json:"start"`
	Last  string `json:"last"`
	// Earlier is what had run in before the burette was filled up on the way, in mL as text; empty
	// where it was not.
	Earlier string `json:"earlier"`
	// First is what ran in to the first of two end points, in mL as text; empty where there is one.
	First    string `json:"first"`
	Titre    string `json:"titre"`
	Compared string `json:"compared"`
	Rough    bool   `json:"rough"`
	Blank    bool   `json:"blank"`
	SetAside string `json:"setAside"`
	// Used reports whether it is one of those that agree and are averaged.
	Used bool `json:"used"`
	// Counts reports whether it enters the result, though none may agree yet.
	Counts bool `json:"counts"`
	Done   bool `json:"done"`
	// From and To are where the burette stands, in mL; To is From before a reading.
	From float64 `json:"from"`
	To   float64 `json:"to"`
	// Facts are the IDs of the facts by which the sample, the reading before and the last one stand;
	// empty where there is none of its own.
	Facts TrialFacts `json:"facts"`
}

// TrialFacts are the facts of a trial.
type TrialFacts struct {
	Sample string `json:"sample"`
	Start  string `json:"start"`
	Last   string `json:"last"`
}

// View is what the drawing of a run needs.
type View struct {
	Kind   string      `json:"kind"`
	Trials []ViewTrial `json:"trials"`
	AtHand int         `json:"atHand"` // the trial; -1 when none is
	// Scale of the burette and its smallest division, in mL; Dark reports whether its liquid hides the
	// meniscus.
	Scale    float64 `json:"scale"`
	Division float64 `json:"division"`
	Dark     bool    `json:"dark"`
	// Device is what the titrant comes from, in a word; of a syringe the scale shows what is left.
	// Drop is the volume in mL of one that is counted; From, To and Expected are then drops.
	Device string  `json:"device"`
	Drop   float64 `json:"drop"`
	// Expected is about where the burette will stand at the end point of the trial at hand; 0 when
	// that is not known.
	Expected float64           `json:"expected"`
	Mean     string            `json:"mean"`
	SD       string            `json:"sd"`
	Needed   int               `json:"needed"`
	LaTeX    string            `json:"latex"`
	Colour   string            `json:"colour"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

func (a *account) outcome() run.Outcome {
	steps := a.steps() // makes room for the trial at hand
	r, places, ok := a.result()
	out := run.Outcome{Exact: true, Readings: a.reads, Figures: a.figures(r, ok), Drawn: a.drawn(), Used: a.used()}
	view := View{
		Kind: Kind, AtHand: -1, Trials: []ViewTrial{}, Scale: a.Burette.Volume, Division: a.Burette.Division(), Dark: a.Reaction.Dark,
		Colour: a.Reaction.Colour, Needed: a.needed(r, ok), Verdicts: a.judgeTrials(), Device: a.device(),
	}
	if a.Tip != nil {
		view.Scale, view.Division, view.Drop = 0, 0, a.Tip.Volume.Value
	}
	if e, err := a.Reaction.Balanced(); err == nil {
		view.LaTeX = e.LaTeX()
	}
	for i := range a.trials {
		view.Trials = append(view.Trials, a.viewOf(i, r, places, ok))
		if t := &a.trials[i]; !t.done && (t.begun || a.enough.IsZero()) && a.ready != "" && view.AtHand < 0 {
			view.AtHand = i
			if v := a.expects(&a.trials[i]); v > 0 && a.trials[i].started && !a.trials[i].blank {
				view.Expected = a.endOf(&a.trials[i], v)
			}
		}
	}
	if ok && r.Agreed {
		view.Mean, view.SD = quantity.Digits(r.Mean, 2), quantity.Digits(r.SD, 3)
	}
	if a.enough.IsZero() {
		out.Offers = a.offers()
	}
	if !a.enough.IsZero() && ok {
		p := run.Product{
			Result: true, From: run.FromSources, Title: a.Title(), Name: a.Title(), Exact: true, Figures: out.Figures,
			MadeOf: []string{}, Hazards: []string{}, Readings: a.reads,
		}
		if a.Standardise && a.Titrant.Bottle != "" {
			p.Detail = run.Standardisation{Bottle: a.Titrant.Bottle, C: r.C.Scale(1 / a.Titrant.Units), At: a.enough}
		}
		if a.Settles {
			p.Detail = run.Standardisation{Bottle: a.Sample.Bottle, C: r.C.Scale(1 / a.Sample.Units), At: a.enough}
		}
		out.Products = []run.Product{p}
	}
	out.View, out.Table = view, a.table(view)
	out.Place(steps, &a.notes, a.reason, a.done)
	return out
}

func (a *account) viewOf(i int, r Result, places []int, ok bool) ViewTrial {
	t := &a.trials[i]
	v := ViewTrial{
		N:        i + 1,
		Sample:   t.read,
		Rough:    a.rough(i),
		Blank:    t.blank,
		SetAside: t.setAside,
		Done:     t.done,
		From:     t.start,
		To:       t.last(),
		Facts:    TrialFacts{Sample: t.sampledBy, Start: t.begins},
	}
	if n := len(t.readings); n > 0 {
		v.Facts.Last = t.readings[n-1].id
	}
	if t.started {
		v.Start = a.shows(t.start)
	}
	if len(t.readings) > 0 {
		v.Last = a.shows(t.last())
	}
	earlier := 0.0
	for _, s := range t.before {
		earlier += a.delivered(s).Value
	}
	if len(t.before) > 0 {
		v.Earlier = quantity.Digits(earlier, a.decimals())
	}
	if n, is := a.titre(i); is && t.done {
		v.Titre = quantity.Digits(n.Value, a.decimals())
	}
	if n, is := a.firstTitre(i); is {
		v.First = quantity.Digits(n.Value, a.decimals())
	}
	if ok && t.done {
		v.Used = r.Agreed && slices.Contains(r.Used, i)
		v.Counts = slices.Contains(r.Used, i)
		if at := slices.Index(places, i); at >= 0 && !t.blank {
			v.Compared = quantity.Digits(r.Titres[at], a.decimals())
		}
	}
	return v
}

// offers are what may be decided of trials that are done, and of the next one.
func (a *account) offers() (list []run.Offer) {
	offer := func(i int, id, label string) {
		list = append(list, run.Offer{Choice: verdict.Choice{ID: id, Label: label}, Part: i})
	}
	for i := range a.trials {
		t := &a.trials[i]
		name := fmt.Sprintf("trial %d", i+1)
		switch {
		case !t.done && !t.taken && a.ready != "":
			if !a.Reaction.Pair() {
				offer(i, choiceBlank, "The next one is a blank")
			}
			if i > 0 {
				offer(i, choiceEnough, "Enough trials")
			}
		case !t.done || t.past:
		case t.setAside != "":
			offer(i, choiceCount, "Let "+name+" count after all")
		case t.blank:
			offer(i, choiceSetAside, "Set "+name+" aside")
		case a.rough(i):
			offer(i, choiceCount, "Let "+name+" count")
		default:
			offer(i, choiceRough, "Count "+name+" as rough")
			offer(i, choiceSetAside, "Set "+name+" aside")
		}
	}
	return list
}

// figures are the results of the trials.
func (a *account) figures(r Result, ok bool) []figure.Figure {
	if !ok {
		return nil
	}
	var list []figure.Figure
	switch {
	case a.Reaction.Pair():
		list = a.pairFigures(r)
	case a.Standardise:
		units := cmpUnits(a.Titrant.Units)
		list = append(
			list,
			figure.New("c", "concentration of "+run.LowerFirst(a.Titrant.Name), "mol/L", r.C.Scale(1/units)).As(figure.Concentration),
		)
		list = append(list, a.normality(r.C, "")...)
	case a.By == Weighed:
		list = append(list, a.solidFigures(r)...)
	default:
		list = append(list, a.sampleFigures(r)...)
	}
	label := "mean titre"
	if a.lessBlank(r) {
		label = "mean titre, less the blank"
	}
	return append(list, figure.New("mean", label, "mL", a.mean(r)).As(figure.Volume))
}

// lessBlank reports whether a blank is taken off each titre; in a back titration it is the excess.
func (a *account) lessBlank(r Result) bool { return r.Blank.Value != 0 && a.Back == nil }

// mean is that of the titres that agree, less the blank.
func (a *account) mean(r Result) uncertain.Number {
	mean := uncertain.Exact(0)
	for _, i := range r.Used {
		v, _ := a.titre(i)
		mean = mean.Plus(v.Scale(1 / float64(len(r.Used))))
	}
	if a.lessBlank(r) {
		mean = mean.Minus(r.Blank)
	}
	return mean
}

// cmpUnits is how many units, 1 of an unknown.
func cmpUnits(units float64) float64 {
	if units > 0 {
		return units
	}
	return 1
}

// normality is a concentration of what is sought in equivalents; none where none are counted.
func (a *account) normality(c uncertain.Number, suffix string) []figure.Figure {
	titrant, analyte, _, ok := a.equivalents()
	if !ok {
		return nil
	}
	n, species := analyte, a.Sought()
	if a.Standardise {
		n, species = titrant, a.Reaction.Titrant
	}
	label := fmt.Sprintf("normality%s, %s eq for each mol of %s", suffix, quantity.Trim(n), species)
	return []figure.Figure{figure.New("normality", label, "eq/L", c.Scale(n)).As(figure.OtherConcentration)}
}

// meanSample is what was treated as the trials that agree, in mL or g.
func (a *account) meanSample(r Result) (mean uncertain.Number) {
	for _, i := range r.Used {
		mean = mean.Plus(a.trials[i].sample.Scale(1 / float64(len(r.Used))))
	}
	return mean
}

// sampleFigures are those of a solution: of the sample as it was taken, of the undiluted one, and
// in the other units that people ask for.
func (a *account) sampleFigures(r Result) []figure.Figure {
	c, suffix := r.C, ""
	name := a.Sought()
	found := figure.New("c", name+" in "+run.LowerFirst(a.Sample.Name), "mol/L", c).As(figure.Concentration)
	if a.Dissolved != nil {
		found.Label += ", made up"
		compound, units := a.soughtInSolid()
		return append(a.dissolvedFigures("solid", compound, c.Scale(1/units)), found)
	}
	list := []figure.Figure{found}
	if a.diluted() {
		list = append(list, a.undilutedFigure(c))
		c, suffix = c.Times(a.factor()), a.undiluted()
	}
	list = append(list, a.normality(c, suffix)...)
	amount := r.C.Times(a.meanSample(r))
	list = append(list, figure.New("amount", name+" in each sample", "mmol", amount))
	f, err := formula.Parse(a.Sought())
	if err != nil {
		return list
	}
	list = append(list, figure.New("mass", name+" in each sample", "mg", amount.Times(f.MolarMass())))
	grams := c.Times(f.MolarMass())
	list = append(list, figure.New("g/L", name+suffix, "g/L", grams).As(figure.OtherConcentration),
		figure.New("% w/v", name+suffix, "% w/v", grams.Scale(0.1)).As(figure.OtherConcentration))
	if a.Density > 0 {
		list = append(list, figure.New("% w/w", name+suffix, "% w/w", grams.Scale(0.1/a.Density)).As(figure.OtherConcentration))
	}
	if a.Sought() == "CaCO3" {
		list = append(list, figure.New("mg/L", "hardness as CaCO3"+suffix, "mg/L", grams.Scale(1000)).As(figure.OtherConcentration))
	}
	return list
}

// table is the trials as a table.
func (a *account) table(v View) [][]string {
	before, after := a.device()+" before, mL", "after, mL"
	if a.Tip != nil {
		before, after = "from", "drops"
	}
	list := [][]string{{"trial", "sample", before, after, "titre, mL", "as with the first sample, mL", "counts", "why"}}
	if a.Reaction.Pair() {
		list[0] = append(list[0], "to the first end point, mL")
	}
	for _, t := range v.Trials {
		if !t.Done {
			continue
		}
		counts, why := "no", t.SetAside
		switch {
		case t.Counts:
			counts = "yes"
		case t.Blank:
			why = "blank"
		case t.Rough:
			why = "rough"
		case why == "":
			why = "does not agree"
		}
		line := []string{fmt.Sprint(t.N), t.Sample, t.Start, t.Last, t.Titre, t.Compared, counts, why}
		if a.Reaction.Pair() {
			line = append(line, t.First)
		}
		list = append(list, line)
	}
	return list
}
