package curve

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// View is what the drawing of a run needs.
type View struct {
	Kind     string  `json:"kind"`
	Readings []Point `json:"readings"`
	// Facts are the IDs of what each reading was stated by.
	Facts []ReadingFacts `json:"facts"`
	// Predicted is the curve by the model, Fitted the one that was fitted; empty before.
	Predicted []Point `json:"predicted"`
	Fitted    []Point `json:"fitted"`
	// Forms are those of the analyte along the predicted curve.
	Forms []Form `json:"forms"`
	// Slopes are pH/mL at the readings; Before and After are the lines of Gran.
	Slopes     []Slope           `json:"slopes"`
	EndPoints  []EndPoint        `json:"endPoints"`
	Halves     []Half            `json:"halves"`
	Before     *Gran             `json:"before,omitempty"`
	After      *Gran             `json:"after,omitempty"`
	Residuals  []Point           `json:"residuals"`
	Parameters []Parameter       `json:"parameters"`
	Next       string            `json:"next"` // where to run the burette to, mL; empty at the end
	Verdicts   []verdict.Verdict `json:"verdicts"`
}

// ReadingFacts are the facts of a point: of the burette, or of the drops, and of the meter.
type ReadingFacts struct {
	Volume string `json:"volume"`
	PH     string `json:"pH"`
}

type account struct {
	Request
	facts   []ReadingFacts
	stood   string // the fact by which the burette stands where it does
	ready   bool
	started bool
	start   float64
	at      float64 // where the burette stands, mL
	owed    bool    // a reading is owed
	points  []Point
	ph      []uncertain.Number
	doubts  []verdict.Verdict
	celsius float64
	done    bool
	wrong   bool    // the burette went backwards
	likely  float64 // concentration that the readings look like, mol/L, where nobody has a guess
	reason  string
	notes   run.Notes
	reads   []run.Reading
	// acids are what went in before the curve, in mL, acidified in all; acidPH what was read with
	// it. acidOwed reports whether a reading is owed, dropMore that a drop is.
	acids      []float64
	acidified  float64
	acidPH     []float64
	acidOwed   bool
	dropMore   bool
	protonated bool
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
	a := &account{Request: r, notes: run.NewNotes(len(facts)), celsius: r.Celsius, owed: true, started: r.Tip != nil}
	for _, f := range fact.Standing(facts) {
		a.take(f)
	}
	if a.unknown() && len(a.points) >= leastReadings && !a.wrong {
		a.likely = a.curve().starts(a.sorted())[0]
	}
	if n := len(a.points); n > 0 {
		a.notes.Say("curve", fmt.Sprintf("%d readings, pH %s to %s, %s mL added", n, quantity.Digits(a.points[0].PH, 2),
			quantity.Digits(a.points[n-1].PH, 2), quantity.Digits(a.points[n-1].Volume, 2)))
	}
	return a, nil
}

func (a *account) take(f fact.Fact) {
	switch f.Kind {
	case KindReady:
		a.ready = true
		a.notes.Add("ready", f.ID)
		a.notes.Say("ready", a.Sentence(f))
	case KindAcid:
		a.acids = append(a.acids, f.Quantity.In("mL"))
		a.acidified += f.Quantity.In("mL")
		a.acidOwed, a.dropMore = true, false
		a.notes.Add("acid", f.ID)
	case KindAcidPH:
		got := a.Probe.Read(f, a.Celsius, a.Thresholds)
		if got.Reading != nil {
			a.reads = append(a.reads, *got.Reading)
		}
		a.acidPH, a.acidOwed, a.celsius = append(a.acidPH, got.PH.Value), false, got.Celsius
		a.notes.Add("acid", f.ID)
	case KindStart:
		a.started, a.start = true, f.Quantity.In("mL")
		a.at, a.stood = a.start, f.ID
		a.notes.Add("start", f.ID)
		a.notes.Say("start", a.Sentence(f))
	case KindAdded:
		to := a.at
		if a.Tip != nil {
			to += float64(*f.Count) * a.Tip.Volume.Value
		} else {
			to = f.Quantity.In("mL")
		}
		a.wrong = a.wrong || to < a.at
		a.at, a.stood, a.owed = to, f.ID, true
		a.notes.Add("curve", f.ID)
	case KindRead:
		got := a.Probe.Read(f, a.Celsius, a.Thresholds)
		if got.Reading != nil {
			a.reads = append(a.reads, *got.Reading)
		}
		a.points, a.ph = append(a.points, Point{a.at - a.start, got.PH.Value}), append(a.ph, got.PH)
		a.facts = append(a.facts, ReadingFacts{a.stood, f.ID})
		a.owed, a.doubts, a.celsius = false, got.Verdicts, got.Celsius
		a.notes.Add("curve", f.ID)
	case run.KindDecided:
		switch f.Choice {
		case choiceDone:
			a.done = true
			a.notes.Add("curve", f.ID)
		case choiceDrop:
			a.dropMore = true
			a.notes.Add("acid", f.ID)
		case choiceProtonated:
			a.protonated = true
			a.notes.Add("acid", f.ID)
			a.notes.Say("acid", fmt.Sprintf("%s mL of acid, pH %s: fully protonated", quantity.Digits(a.acidified, 2),
				quantity.Digits(a.acidPH[len(a.acidPH)-1], 2)))
		case run.ChoiceStartAgain:
			a.reason = run.GivenUp(f)
		}
	}
}

// drawn is what went into the beaker so far.
func (a *account) drawn() []run.Drawn {
	flask := run.Drawn{Role: RoleFlask}
	if a.ready {
		flask.Volume = a.Volume
	}
	return []run.Drawn{flask, {Role: RoleBurette, Volume: max(0, a.at-a.start)}, {Role: RoleAcid, Volume: a.acidified}}
}

// curve is the titration by the model, with the acid that went in.
func (a *account) curve() Curve {
	c := a.Request.curve()
	if a.acidified > 0 {
		c = a.curveWith(a.guess(), a.acidified, a.acid())
	}
	if a.likely > 0 {
		c.C = a.likely
	}
	return c
}

// full is what is in the beaker before the curve, in mL.
func (a *account) full() float64 { return a.Volume + a.Water + a.acidified }

// read is what the readings tell so far; ok is false while they are too few.
func (a *account) read() (answer ReadAnswer, ok bool) {
	if len(a.points) < leastReadings || a.wrong {
		return answer, false
	}
	c := a.curve()
	find := []string{FitC, FitPKa, FitOffset}
	if len(c.Analyte.Units) == 0 {
		find = []string{FitC, FitOffset}
	}
	if a.Carbonic {
		find = append(find, FitCarbonate)
	}
	if c.Acid > 0 {
		find = append(find, FitAcid)
	}
	answer, err := c.read(a.sorted(), find, a.Thresholds)
	if err != nil { // too few readings for a fit yet
		answer, _ = c.read(a.sorted(), nil, a.Thresholds)
	}
	return answer, true
}

// sorted are the readings by their volume.
func (a *account) sorted() []Point {
	points := slices.Clone(a.points)
	slices.SortStableFunc(points, func(x, y Point) int { return cmp.Compare(x.Volume, y.Volume) })
	return points
}

func (a *account) outcome() run.Outcome {
	out := run.Outcome{Exact: true, Readings: a.reads, Drawn: a.drawn()}
	c := a.curve()
	expected := c.Equivalences()
	last := expected[len(expected)-1]
	view := View{
		Kind:       Kind,
		Readings:   slices.Clone(a.points),
		Facts:      append([]ReadingFacts{}, a.facts...),
		Predicted:  []Point{},
		Fitted:     []Point{},
		Forms:      []Form{},
		Slopes:     []Slope{},
		EndPoints:  []EndPoint{},
		Halves:     []Half{},
		Residuals:  []Point{},
		Parameters: []Parameter{},
		Verdicts:   []verdict.Verdict{},
	}
	if view.Readings == nil {
		view.Readings = []Point{}
	}
	volumes := make([]float64, usualPoints)
	for i := range volumes {
		volumes[i] = math.Max(1.3*last, a.at-a.start) * float64(i) / float64(usualPoints-1)
	}
	if a.unknown() && len(a.points) < leastReadings {
		volumes = nil // nothing is predicted of what is not known
	}
	for i, pH := range c.At(volumes) {
		view.Predicted = append(view.Predicted, Point{volumes[i], pH})
	}
	if forms := c.Forms(volumes); len(volumes) > 0 && forms != nil {
		view.Forms = forms
	}
	answer, ok := a.read()
	if ok {
		view.Slopes, view.EndPoints, view.Halves = answer.Slopes, answer.EndPoints, answer.Halves
		view.Before, view.After = answer.Before, answer.After
		view.Verdicts = answer.Verdicts
		if f := answer.Fit; f != nil {
			view.Fitted, view.Residuals, view.Parameters = f.Curve, f.Residuals, f.Parameters
		}
	}
	if !a.done && !a.owed {
		view.Next = a.next(answer)
	}
	out.Figures = a.figures(answer)
	if a.done {
		out.Products = []run.Product{{
			Result: true, From: run.FromSources, Title: a.Title(), Name: a.Title(), Exact: true, Figures: out.Figures,
			MadeOf: []string{}, Hazards: []string{}, Readings: a.reads,
		}}
	}
	out.View, out.Table = view, a.table(view)
	out.Place(a.steps(view), &a.notes, a.reason, a.isDone)
	return out
}

// measured is what else a concentration depends on beside the fit: the titrant, the burette that
// it ran from, and what the sample was taken with; a factor of 1, with their uncertainties. How
// much water covers the probe does not matter: the amount stays.
func (a *account) measured(answer ReadAnswer) uncertain.Number {
	last := a.points[len(a.points)-1].Volume
	if n := len(answer.EndPoints); n > 0 {
		last = answer.EndPoints[n-1].Volume
	}
	sample := a.sample()
	one := func(n uncertain.Number) uncertain.Number { return n.Scale(1 / n.Value) }
	return one(a.Burette.Concentration).Times(one(a.dispensed(last, "titrant"))).Over(one(sample))
}

// figures are the end points and what the fit found.
func (a *account) figures(answer ReadAnswer) []figure.Figure {
	list := []figure.Figure{}
	if f := answer.Fit; f != nil {
		for _, p := range f.Parameters {
			switch p.Name {
			case "c":
				n := p.Value.Scale(a.full() / a.Volume).Times(a.measured(answer))
				label := "concentration of " + called(a.Flask)
				list = append(list, figure.New("c", label, "mol/L", n).As(figure.Concentration))
			case "acid":
				list = append(list, figure.New("acid", "strong acid in the beaker at the start", "mmol", p.Value.Scale(a.full())))
			case "carbonate":
				list = append(list, figure.New("carbonate", "part of the base that is carbonate", "%", p.Value.Scale(100)))
			case "offset":
				list = append(list, figure.New("offset", "offset of the meter", "pH", p.Value))
			default:
				list = append(list, figure.New(p.Name, p.Name, "", p.Value))
			}
		}
	}
	if pI, _, ok := a.curve().isoelectric(answer.Fit); ok && answer.Fit != nil {
		list = append(list, figure.New("pI", "isoelectric point", "pH", pI))
	}
	for _, e := range answer.EndPoints {
		v := a.dispensed(e.Volume, fmt.Sprint("end point ", e.Number)).Plus(uncertain.WithLimits(
			0,
			e.Within,
			uncertain.RectangularShape,
			uncertain.Source{
				ID:    fmt.Sprint("steepest ", e.Number),
				Label: "where it is steepest",
				Basis: fmt.Sprintf("±%.2g mL, half the distance of the readings there, rectangular", e.Within),
			},
		))
		list = append(
			list,
			figure.New(fmt.Sprint("end point ", e.Number), fmt.Sprintf("end point %d, where it is steepest", e.Number), "mL", v).As(figure.Volume),
		)
	}
	return list
}

func (a *account) table(v View) [][]string {
	list := [][]string{{"added mL", "pH", "U (k = 2)", "slope, pH/mL", "fitted pH"}}
	for i, p := range a.points {
		text, u := quantity.Round(p.PH, a.ph[i].Expanded())
		line := []string{quantity.Digits(p.Volume, 2), text, u, "", ""}
		if k := slices.IndexFunc(v.Slopes, func(s Slope) bool { return s.Volume == p.Volume }); k >= 0 {
			line[3] = quantity.Digits(v.Slopes[k].First, 3)
		}
		if i < len(v.Fitted) {
			line[4] = quantity.Digits(v.Fitted[i].PH, 3)
		}
		list = append(list, line)
	}
	return list
}
