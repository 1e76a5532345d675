// Package scan is a scan over wavelengths as work at the bench: readings by hand, each after the blank was set at its wavelength, or
// a spectrum that a photometer or a file brought along (the plan), the maximum between them, and the wavelength that a person
// chooses to measure at (the outcome). What is computed stands in package photometry.
package scan

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Kind names this kind of work.
const Kind = "scan"

var _ run.Plan = Request{}

// Request is a scan as it is planned.
type Request struct {
	// Name says what is scanned: “Iron with phenanthroline, the strongest tube”.
	Name string `json:"name"`
	// Wavelengths that are read by hand, in nm, in their order; none of a spectrum.
	Wavelengths []float64 `json:"wavelengths"`
	// X and Y are a spectrum that was read by an instrument: nm and absorbance; From says where it comes from.
	X    []float64 `json:"x"`
	Y    []float64 `json:"y"`
	From string    `json:"from,omitempty"`
	// Photometer that it is read with; nil where that is not on record.
	Photometer *photometry.Photometer `json:"photometer,omitempty"`
	// Low and High are the ends of what lamp and filters reach, nm; 0 where they set no end.
	Low        float64            `json:"low,omitempty"`
	High       float64            `json:"high,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// The most of each.
const (
	MaxName   = 60
	maxByHand = 60
	// MaxKept is how many points of a spectrum are kept with a plan.
	MaxKept = 2000
)

// Spread lists wavelengths from one to another, so far apart, all in nm. An error is a verdict.Problems.
func Spread(from, to, step float64) ([]float64, error) {
	var p verdict.Problems
	if !(from >= 190 && to <= 1100 && to > from) {
		p.Add("/from", "a scan leads from a lower to a higher wavelength, within 190 to 1100 nm")
	}
	if !(step > 0) || (to-from)/step > maxByHand-1+1e-9 {
		p.Add("/step", "by hand at most %d wavelengths are read: %g nm apart or more", maxByHand, math.Ceil((to-from)/(maxByHand-1)))
	}
	if len(p) > 0 {
		return nil, p
	}
	var list []float64
	for i := 0; from+float64(i)*step <= to+1e-9; i++ {
		list = append(list, from+float64(i)*step)
	}
	return list, nil
}

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

func (r Request) check() error {
	var p verdict.Problems
	if n := len([]rune(r.Name)); n == 0 || n > MaxName {
		p.Add("/name", "say what is scanned, in at most %d letters", MaxName)
	}
	switch {
	case len(r.X) == 0 && (len(r.Wavelengths) < 4 || len(r.Wavelengths) > maxByHand):
		p.Add("/wavelengths", "a scan by hand has 4 to %d wavelengths", maxByHand)
	case len(r.X) > MaxKept:
		p.Add("/x", "a spectrum of %d points is too long to keep: at most %d, every second or tenth point will do", len(r.X), MaxKept)
	case len(r.X) > 0:
		if _, err := photometry.Scan(r.question(r.X, r.Y)); err != nil {
			return err
		}
	}
	for i, x := range r.Wavelengths {
		if !(x >= 190 && x <= 1100) {
			p.Add("/wavelengths/"+strconv.Itoa(i), "a wavelength is in nm, from 190 to 1100")
		} else {
			r.Photometer.CheckSetting(x, "/wavelengths/"+strconv.Itoa(i), &p)
		}
		for k := range i {
			if r.Wavelengths[k] == x {
				p.Add("/wavelengths/"+strconv.Itoa(i), "%g nm stands there twice", x)
			}
		}
	}
	if !(r.Low >= 0 && r.High >= 0) || r.High > 0 && r.High <= r.Low {
		p.Add("/low", "the lamp reaches from a lower to a higher wavelength, in nm")
	}
	return p.OrNil()
}

func (r Request) question(x, y []float64) photometry.ScanQuestion {
	return photometry.ScanQuestion{X: x, Y: y, From: r.Low, To: r.High, Thresholds: r.Thresholds}
}

// Title names the scan.
func (r Request) Title() string { return "Scan of " + run.LowerFirst(r.Name) }

// Design is what a plan gives, as its page shows it.
type Design struct {
	Request Request `json:"request"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) { return Design{r}, r.check() }

// Parts implements [run.Plan].
func (r Request) Parts() int { return max(1, len(r.Wavelengths)) }

// Uses implements [run.Plan].
func (r Request) Uses() run.Uses { return run.Uses{Instruments: r.Photometer.Instruments()} }

// The kinds of fact of a run, beside those that all kinds of work have. The Part of a reading is the place of its wavelength.
const (
	KindRead   = "scan-read"   // Quantity: absorbance or transmittance
	KindChosen = "scan-chosen" // Quantity: the wavelength to measure at
)

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch f.Kind {
	case KindRead:
		return photometry.Readings()
	case KindChosen:
		return []quantity.Dimension{quantity.Wavelength}
	}
	return nil
}

var shown = []quantity.Dimension{quantity.Absorbance, quantity.Transmittance}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	switch f.Kind {
	case KindRead:
		f.Only(&p, "quantity", "spread", "beside", "text")
		photometry.CheckShown(f.Quantity, &p)
		if f.Part >= len(r.Wavelengths) {
			p.Add("/part", "there is no such wavelength in this plan")
		} else {
			photometry.CheckSet(f.Beside, r.Wavelengths[f.Part], &p)
		}
	case KindChosen:
		f.Only(&p, "quantity")
		if f.Quantity == nil || !(f.Quantity.In("nm") >= 190 && f.Quantity.In("nm") <= 1100) {
			p.Add("/quantity", "a wavelength is in nm, from 190 to 1100")
		}
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	switch f.Kind {
	case KindRead:
		at := 0.0
		if f.Part < len(r.Wavelengths) {
			at = r.Wavelengths[f.Part]
		}
		return fmt.Sprintf("At %g nm it shows %s", at, f.Quantity) + f.Read()
	case KindChosen:
		return "To be measured at " + f.Quantity.String()
	}
	return run.Sentence(f, nil)
}

// Reading is one as the screen shows it.
type Reading struct {
	Fact  string  `json:"fact"`
	X     float64 `json:"x"`
	Y     float64 `json:"y"`
	Shown string  `json:"shown"`
}

// View is what the drawing of a run needs.
type View struct {
	Kind     string    `json:"kind"`
	Readings []Reading `json:"readings"` // by hand
	// X and Y are all points, Answer what they give; nil before there are enough.
	X      []float64              `json:"x"`
	Y      []float64              `json:"y"`
	Answer *photometry.ScanAnswer `json:"answer,omitempty"`
	Chosen float64                `json:"chosen"`
	// Best is the range of absorbances that is read best.
	Best float64 `json:"best"`
}

// account is a scan while its facts are gone through.
type account struct {
	Request
	view   View
	reads  map[int]fact.Fact
	reason string
	notes  run.Notes
	used   []run.Reading
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
	a := &account{Request: r, notes: run.NewNotes(len(facts)), reads: map[int]fact.Fact{}}
	a.view = View{Kind: Kind, Readings: []Reading{}, X: r.X, Y: r.Y, Best: r.Thresholds.Of(photometry.RuleBand)}
	for _, f := range fact.Standing(facts) {
		switch {
		case f.Kind == KindRead && f.Part < len(r.Wavelengths):
			a.reads[f.Part] = f
			a.note(stepOf(f.Part), f)
		case f.Kind == KindChosen:
			a.view.Chosen = f.Quantity.In("nm")
			a.note(chooseStep, f)
		case f.Kind == run.KindDecided && f.Choice == run.ChoiceStartAgain:
			a.reason = run.GivenUp(f)
		}
	}
	if len(r.X) == 0 {
		a.view.X, a.view.Y = []float64{}, []float64{}
		for part, x := range r.Wavelengths {
			if f, read := a.reads[part]; read {
				y := photometry.Shown(*f.Quantity)
				a.view.X, a.view.Y = append(a.view.X, x), append(a.view.Y, y)
				a.view.Readings = append(a.view.Readings, Reading{f.ID, x, y, f.Quantity.String()})
			}
		}
	}
	if answer, err := photometry.Scan(r.question(a.view.X, a.view.Y)); err == nil {
		a.view.Answer = &answer
	}
	return a, nil
}

func (a *account) note(step string, f fact.Fact) {
	a.notes.Add(step, f.ID)
	a.notes.Say(step, a.Sentence(f))
	if name := cmp.Or(f.Instrument, a.Photometer.Named()); name != "" && f.Kind == KindRead {
		a.used = append(a.used, run.Reading{Instrument: name, At: f.At})
	}
}

func stepOf(part int) string { return "at " + strconv.Itoa(part) }

const chooseStep = "choose"

func (a *account) outcome() run.Outcome {
	out := run.Outcome{Exact: true, View: a.view, Figures: a.figures(), Readings: a.used, Table: [][]string{{"nm", "AU"}}}
	for i, x := range a.view.X {
		out.Table = append(out.Table, []string{quantity.Trim(x), quantity.Digits(a.view.Y[i], 4)})
	}
	if answer := a.view.Answer; answer != nil {
		plot := run.Plot{XLabel: "nm", YLabel: "absorbance"}
		var line [][2]float64
		for i, x := range answer.CurveX {
			line = append(line, [2]float64{x, answer.CurveY[i]})
		}
		plot.Lines = [][][2]float64{line}
		for _, r := range a.view.Readings {
			plot.Points = append(plot.Points, [2]float64{r.X, r.Y})
		}
		for _, p := range answer.Peaks {
			plot.Drops, plot.Names = append(plot.Drops, [2]float64{p.X, p.Y}), append(plot.Names, quantity.Digits(p.X, 0)+" nm")
		}
		out.Plots = []run.Plot{plot}
	}
	if a.view.Chosen > 0 {
		out.Products = []run.Product{{
			Result: true, From: run.FromSources, Title: a.Title(), Name: a.Name, Exact: true, Figures: out.Figures,
			MadeOf: []string{}, Hazards: []string{}, Readings: a.used,
		}}
	}
	out.Place(a.steps(), &a.notes, a.reason, func(s *run.Step) bool {
		if s.ID == chooseStep {
			return a.view.Chosen > 0
		}
		_, read := a.reads[s.Part]
		return read
	})
	return out
}

func (a *account) steps() []run.Step {
	var list []run.Step
	for part, x := range a.Wavelengths {
		if len(a.X) > 0 {
			break
		}
		list = append(list, run.Step{
			ID: stepOf(part), Part: part, Kind: KindRead, Asks: true, Input: run.InputQuantity,
			Label: "Absorbance shown", Unit: "AU", Dimensions: shown, Instrument: a.Photometer.Named(), Wavelength: x, Remarks: photometry.Remarks(),
			Title:    fmt.Sprintf("%g nm: set zero with the blank, then read the cell", x),
			Hint:     "The blank is set again at every wavelength: lamp and detector differ from one to the next.",
			Cautions: []string{"Wear goggles and gloves. Your local rules, the safety data sheet and licensed waste handling come first."},
		})
	}
	s := run.Step{
		ID: chooseStep, Kind: KindChosen, Asks: true, Input: run.InputQuantity,
		Label: "Measure at", Unit: "nm", Dimensions: []quantity.Dimension{quantity.Wavelength},
		Title: "Choose the wavelength to measure at", Hint: "At the top, where it is flat; away from what the blank absorbs.",
	}
	if a.view.Answer != nil {
		s.Verdicts = a.view.Answer.Verdicts
		at := a.view.Answer.Measure
		if at == 0 { // there is no top: the highest reading, until there is a better scan
			at = a.view.X[slices.Index(a.view.Y, slices.Max(a.view.Y))]
		}
		s.Expects = quantity.Digits(at, 0) + " nm"
	}
	return append(list, s)
}

func (a *account) figures() []figure.Figure {
	if a.view.Answer == nil || len(a.view.Answer.Peaks) == 0 {
		return []figure.Figure{}
	}
	p := a.view.Answer.Peaks[0]
	return []figure.Figure{
		figure.New("maximum", "maximum between the readings", "nm",
			uncertain.New(p.X, p.U, uncertain.Source{ID: "maximum", Label: "spacing and scatter of the readings"})),
	}
}

// Explain implements [run.Plan].
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	list := a.figures()
	if len(list) == 0 || figureID != list[0].ID {
		return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a scan is its maximum"}}
	}
	p := a.view.Answer.Peaks[0]
	near := a.view.X[0]
	for _, x := range a.view.X {
		if math.Abs(x-p.X) < math.Abs(near-p.X) {
			near = x
		}
	}
	return append([]working.Line{{
		Title: "Maximum", Symbol: `\lambda`, Formula: `\lambda = \lambda_i + \delta`,
		Substituted: fmt.Sprintf(`\lambda = %s + (%s)`, working.Number(near), working.Number(p.X-near)) + working.Unit("nm"),
		Result:      working.Result(list[0].Number, "nm"),
		From:        []string{"λᵢ: the nearest reading", "δ: to the top of the parabola through the readings around it"},
	}}, working.Uncertainty(list[0].Number, "nm")...), nil
}
