package calibration

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// point follows one buffer at the bench.
type point struct {
	dipped bool
	read   *electrode.Read
	shown  string
	// settling is the time constant with which the probe came to rest, s; 0 unknown.
	settling float64
	kept     bool
	// otherwise reports whether it was read in mV though the first one was in pH, or the reverse.
	otherwise bool
	// found is what the display showed before it was adjusted; nil when it was not.
	found *electrode.Read
}

type account struct {
	Request
	read   quantity.Dimension // what the first reading was in; none before
	bulb   string
	dryAt  time.Time
	soaked time.Duration // how long, once it was
	points []point
	used   bool
	last   time.Time // of the readings
	reason string
	notes  run.Notes
	reads  []run.Reading
}

// Result is what a finished calibration hands on: what the probe was found to be, and when.
type Result struct {
	Calibration electrode.Calibration `json:"calibration"`
	At          time.Time             `json:"at"`
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
	a := &account{Request: r, points: make([]point, len(r.Buffers)), notes: run.NewNotes(len(facts))}
	standing := fact.Standing(facts)
	// A meter that shows either is read as the first buffer was.
	if i := slices.IndexFunc(standing, func(f fact.Fact) bool { return f.Kind == KindRead }); i >= 0 {
		first := standing[i].Quantity
		a.read = first.Unit.Dimension
		if a.read == quantity.Acidity && !a.Meter.ShowsPH {
			a.Meter.ShowsPH, a.Meter.Resolution = true, electrode.LastDigit(*first)
		}
	}
	for _, f := range standing {
		if f.Part >= 0 && f.Part < len(a.points) {
			a.take(f)
		}
	}
	return a, nil
}

func stepID(step string, part int) string { return step + " " + strconv.Itoa(part+1) }

func (a *account) note(step string, f fact.Fact, summary string, args ...any) {
	a.notes.Add(step, f.ID)
	a.notes.Say(step, fmt.Sprintf(summary, args...))
}

func (a *account) take(f fact.Fact) {
	p := &a.points[f.Part]
	switch f.Kind {
	case KindBulb:
		a.bulb, a.dryAt = f.Choice, f.At
		a.note("bulb", f, "The bulb: %s", choiceWords[f.Choice])
	case KindSoaked:
		a.soaked = max(f.At.Sub(a.dryAt), time.Nanosecond)
		a.note("soak", f, "Soaked for %s min", quantity.Digits(math.Floor(a.soaked.Minutes()), 0))
	case KindDipped:
		p.dipped = true
		a.note(stepID("dip", f.Part), f, "Rinsed, blotted, in %s", a.Buffers[f.Part].Name)
	case KindRead:
		read := a.Meter.Read(f, a.Celsius)
		p.read, p.shown, p.settling, p.kept = &read, electrode.ShownBy(f), electrode.Settling(f), false
		p.otherwise = f.Quantity.Unit.Dimension != a.read
		if p.found = nil; f.After != nil {
			found := a.Meter.Read(fact.Fact{Quantity: f.Quantity, Beside: f.Beside}, a.Celsius)
			p.found = &found
		}
		if f.At.After(a.last) {
			a.last = f.At
		}
		name := a.Meter.Name
		if f.Instrument != "" {
			name = f.Instrument
		}
		a.reads = append(a.reads, run.Reading{Instrument: name, At: f.At})
		a.note(stepID("read", f.Part), f, "%s in %s, %s °C", p.shown, a.Buffers[f.Part].Name, quantity.Digits(read.Celsius, 1))
	case run.KindDecided:
		a.decide(f)
	}
}

func (a *account) decide(f fact.Fact) {
	switch f.Choice {
	case choiceKeep:
		a.points[f.Part].kept = true
	case choiceAgain:
		a.points[f.Part] = point{}
		a.notes.Forget(stepID("dip", f.Part))
		a.notes.Forget(stepID("read", f.Part))
		a.notes.Forget("judge")
		a.used = false
	case choiceUse:
		a.used = true
		a.note("judge", f, "Taken into use")
	case run.ChoiceStartAgain:
		a.reason = run.GivenUp(f)
	}
}

// done reports whether a step is finished.
func (a *account) done(s *run.Step) bool {
	p := a.points[s.Part]
	switch word, _, _ := strings.Cut(s.ID, " "); word {
	case "bulb":
		return a.bulb != ""
	case "soak":
		return a.soaked > 0
	case "dip":
		return p.dipped
	case "read":
		return p.read != nil && (p.kept || len(a.pointVerdicts(s.Part)) == 0)
	}
	return a.used && a.whole()
}

// whole reports whether every buffer was read.
func (a *account) whole() bool {
	return !slices.ContainsFunc(a.points, func(p point) bool { return p.read == nil })
}

// calibration is the result of the readings; nil before all are there.
func (a *account) calibration() *electrode.Calibration {
	if !a.whole() {
		return nil
	}
	points := make([]electrode.Point, len(a.points))
	for i, p := range a.points {
		points[i] = electrode.Point{ID: p.read.ID, Buffer: a.Buffers[i], MV: p.read.MV, Celsius: p.read.Celsius, Spread: p.read.Spread}
	}
	c, err := electrode.Calibrate(a.Meter, points, a.Thresholds.Of(electrode.RuleSchool) == 1)
	if err != nil { // what the gate let in can be computed; buffers of one pH cannot
		return nil
	}
	return &c
}

// View is what the drawing of a run needs.
type View struct {
	Kind    string       `json:"kind"`
	Meter   string       `json:"meter"`
	Buffers []ViewBuffer `json:"buffers"`
	// Line is there once every buffer was read.
	Line *Line `json:"line,omitempty"`
}

// ViewBuffer is a buffer as it stands now, in the order of the plan.
type ViewBuffer struct {
	Name string `json:"name"`
	// PH and Celsius at which it was read, or as planned.
	PH      float64 `json:"pH"`
	Celsius float64 `json:"celsius"`
	// MV read, and its text; Read reports whether it was.
	MV    float64 `json:"mV"`
	Text  string  `json:"text"`
	Read  bool    `json:"read"`
	Doubt bool    `json:"doubt"`
	// Residual from the line, as a pH.
	Residual string  `json:"residual,omitempty"`
	Off      float64 `json:"off"`
}

// Line is the line that was found: mV at pH 0 and at pH 14, at the temperature of the
// calibration, and those of theory.
type Line struct {
	At0       float64           `json:"at0"`
	At14      float64           `json:"at14"`
	Theory0   float64           `json:"theory0"`
	Theory14  float64           `json:"theory14"`
	Low       float64           `json:"low"`
	High      float64           `json:"high"`
	Verdicts  []verdict.Verdict `json:"verdicts"`
	Segmented bool              `json:"segmented"`
}

func (a *account) outcome() run.Outcome {
	out := run.Outcome{Exact: true, Readings: a.reads}
	c := a.calibration()
	view := View{Kind: Kind, Meter: a.Meter.Name, Buffers: make([]ViewBuffer, len(a.points))}
	for i, p := range a.points {
		view.Buffers[i] = a.viewBuffer(i, c)
		if p.read != nil {
			out.Offers = append(out.Offers, run.Offer{Choice: verdict.Choice{ID: choiceAgain, Label: "Take pH " + a.sayPH(i) + " again"}, Part: i})
		}
	}
	var verdicts []verdict.Verdict
	if c != nil {
		verdicts = c.Judge(a.Low, a.High, a.last, a.Thresholds)
		k := electrode.Nernst(c.Celsius)
		at := func(pH, offset, slope float64) float64 { return offset - slope*k*(pH-7) }
		view.Line = &Line{
			At0:       at(0, c.Offset.Value, c.Slope.Value),
			At14:      at(14, c.Offset.Value, c.Slope.Value),
			Theory0:   at(0, 0, 1),
			Theory14:  at(14, 0, 1),
			Low:       c.Low(),
			High:      c.High(),
			Verdicts:  verdicts,
			Segmented: len(c.Pieces) > 0,
		}
		out.Figures = a.figures(c)
	}
	if a.used && c != nil {
		out.Products = []run.Product{a.product(*c, out.Figures)}
	}
	out.View = view
	out.Place(a.steps(verdicts), &a.notes, a.reason, a.done)
	return out
}

func (a *account) viewBuffer(i int, c *electrode.Calibration) ViewBuffer {
	p, b := a.points[i], a.Buffers[i]
	v := ViewBuffer{Name: b.Name, Celsius: a.Celsius, Read: p.read != nil, Text: p.shown}
	if v.Read {
		v.Celsius, v.MV, v.Doubt = p.read.Celsius, p.read.MV, len(a.pointVerdicts(i)) > 0
	}
	v.PH, _ = b.At(v.Celsius) // the gate refused what has no value
	if c == nil || len(c.Points) < 3 {
		return v
	}
	for _, f := range c.Points {
		if f.ID == p.read.ID {
			v.Off = math.Round(1000*f.ResidualPH)/1000 + 0 // no negative zero
			v.Residual = quantity.Digits(v.Off, 3)
		}
	}
	return v
}

func (a *account) figures(c *electrode.Calibration) []figure.Figure {
	list := []figure.Figure{
		figure.New("slope", "slope", "%", c.Slope.Scale(100)).As(figure.Slope),
		figure.New("slope in mV", "slope at "+quantity.Digits(c.Celsius, 1)+" °C", "mV/pH", c.SlopeMV()),
		figure.New("offset", "offset at pH 7", "mV", c.Offset).As(figure.Offset),
	}
	if off, ok := a.asFound(); ok {
		list = append(list, figure.New("as found", "off before it was adjusted", "pH", off))
	}
	longest := 0.0
	for _, p := range a.points {
		longest = max(longest, p.settling)
	}
	if longest > 0 {
		list = append(
			list,
			figure.New("time constant", "time constant of the slowest point", "s", uncertain.New(
				longest,
				settlingU*longest,
				uncertain.Source{
					ID:    "response",
					Label: "fit of the response",
					Basis: "about 5 % (k = 2), as simulated probes show",
				},
			)).As(figure.TimeConstant),
		)
	}
	return list
}

// asFound says how far the display was off before anybody turned a knob: at the first buffer,
// since each adjustment moves the others. Empty when nothing was adjusted.
func (a *account) asFound() (off uncertain.Number, ok bool) {
	for i, p := range a.points {
		if p.found == nil {
			continue
		}
		pH, err := a.Buffers[i].At(p.found.Celsius)
		if err != nil {
			return off, false
		}
		shown := 7 - p.found.MV/electrode.Nernst(p.found.Celsius)
		digit := uncertain.WithLimits(shown, a.Meter.Resolution/2, uncertain.RectangularShape,
			uncertain.Source{ID: "digit", Label: "last digit of the display", Basis: "half of it"})
		return digit.Minus(uncertain.WithLimits(pH, a.Buffers[i].Limits, uncertain.RectangularShape,
			uncertain.Source{ID: "buffer", Label: "value of the buffer", Basis: "what the bottle says"})), true
	}
	return off, false
}

// settlingU is the relative standard uncertainty of a time constant, after a step of 100 mV
// and more.
const settlingU = 0.025

func (a *account) product(c electrode.Calibration, figures []figure.Figure) run.Product {
	p := run.Product{
		Result:   true,
		From:     run.FromSources,
		Title:    a.Title(),
		Name:     a.Meter.Name,
		Exact:    true,
		Figures:  figures,
		Hazards:  []string{},
		Readings: a.reads,
		Detail:   Result{c, a.last},
	}
	for _, b := range a.Buffers {
		p.MadeOf = append(p.MadeOf, b.Name)
	}
	return p
}
