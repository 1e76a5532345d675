package capacity

import (
	"fmt"
	"math"
	"strconv"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// The kinds of fact of a run. The Part of a fact is the place of its beaker.
const (
	KindPoured = "poured" // Choice: in
	KindRead   = "pH"     // Quantity: what the meter shows
	KindAdded  = "added"  // Quantity: a portion, in mL
)

const (
	choiceIn   = "in"
	choiceDone = "beaker-done"
)

// Parts implements [run.Plan].
func (r Request) Parts() int { return len(r.beakers()) }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch f.Kind {
	case KindRead:
		return r.Probe.Meter().Takes()
	case KindAdded:
		return []quantity.Dimension{quantity.Volume}
	}
	return nil
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	switch f.Kind {
	case KindPoured:
		f.Only(&p, "choice")
		run.CheckChoice(f, &p, choiceIn)
	case KindRead:
		f.Only(&p, "quantity", "spread", "beside", "text")
		r.Probe.Meter().CheckReading(f, &p)
	case KindAdded:
		f.Only(&p, "quantity", "text")
		switch q := f.Quantity; {
		case q == nil || q.Unit.Dimension != quantity.Volume:
			p.Add("/quantity", "a portion is a volume, like 0.50 mL")
		case !(q.In("mL") > 0 && q.In("mL") <= r.Volume):
			p.Add("/quantity", "%s: a portion is above zero, and less than what is in the beaker", q)
		}
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	name := ""
	if list := r.beakers(); f.Part >= 0 && f.Part < len(list) {
		name = list[f.Part].Name
	}
	switch f.Kind {
	case KindPoured:
		return fmt.Sprintf("%s mL in each beaker", trim(r.Volume+r.Covered))
	case KindRead:
		return name + ": " + electrode.Shown(*f.Quantity) + f.Read()
	case KindAdded:
		return name + ": " + f.Quantity.String() + " more" + f.Read()
	}
	return run.Sentence(f, map[string]string{choiceDone: name + " is done"})
}

// Row is one reading of a beaker.
type Row struct {
	Added string  `json:"added"` // mL in all, as text
	ML    float64 `json:"mL"`
	PH    string  `json:"pH"`
	Value float64 `json:"value"`
	// Beta of the step that led here, mmol/L per pH, empty of the first; Theory is the pH by
	// theory.
	Beta   string  `json:"beta"`
	Theory string  `json:"theory"`
	Middle float64 `json:"middle"` // pH half way
	B      float64 `json:"b"`      // β, mol/L; 0 when it tells nothing
	UB     float64 `json:"uB"`     // U of it, k = 2
}

// ViewBeaker is one beaker as it stands.
type ViewBeaker struct {
	Beaker
	Rows  []Row `json:"rows"`
	Curve Curve `json:"curve"`
	Done  bool  `json:"done"`
}

// View is what the drawing of a run needs.
type View struct {
	Kind     string            `json:"kind"`
	Name     string            `json:"name"`
	Beakers  []ViewBeaker      `json:"beakers"`
	AtHand   int               `json:"atHand"` // the beaker; -1 when none is
	Verdicts []verdict.Verdict `json:"verdicts"`
}

type beaker struct {
	Beaker
	v      Vessel
	added  uncertain.Number
	owed   bool // a reading is owed for what was added
	done   bool
	doubts []verdict.Verdict
}

type account struct {
	Request
	beakers []beaker
	poured  bool
	reason  string
	notes   run.Notes
	reads   []run.Reading
	celsius float64
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
	a := &account{Request: r, notes: run.NewNotes(len(facts)), celsius: r.Celsius}
	for _, b := range r.beakers() {
		a.beakers = append(a.beakers, beaker{Beaker: b, v: r.vessel(b), owed: true})
	}
	for _, f := range fact.Standing(facts) {
		if f.Part >= 0 && f.Part < len(a.beakers) {
			a.take(f)
		}
	}
	a.findDrink()
	for i := range a.beakers {
		if b := &a.beakers[i]; len(b.v.Points) > 0 {
			last := b.v.Points[len(b.v.Points)-1]
			a.notes.Say(stepOf(i), fmt.Sprintf("%s: %d readings, pH %s to %s, %s mL added", run.UpperFirst(b.Name), len(b.v.Points),
				quantity.Digits(b.v.Points[0].PH.Value, 2), quantity.Digits(last.PH.Value, 2), quantity.Digits(last.Added.Value, 2)))
		}
	}
	return a, nil
}

func stepOf(beaker int) string { return "beaker " + strconv.Itoa(beaker) }

func (a *account) take(f fact.Fact) {
	b := &a.beakers[f.Part]
	switch f.Kind {
	case KindPoured:
		a.poured = true
		a.notes.Add("pour", f.ID)
		a.notes.Say("pour", a.Sentence(f))
	case KindRead:
		got := a.Probe.Read(f, a.Celsius, a.Thresholds)
		if got.Reading != nil {
			a.reads = append(a.reads, *got.Reading)
		}
		b.v.Points = append(b.v.Points, Point{ID: f.ID, Added: b.added, PH: got.PH})
		b.owed, b.doubts, a.celsius = false, got.Verdicts, got.Celsius
		a.notes.Add(stepOf(f.Part), f.ID)
	case KindAdded:
		b.added = b.added.Plus(a.portion(f))
		b.owed = true
		a.notes.Add(stepOf(f.Part), f.ID)
	case run.KindDecided:
		switch f.Choice {
		case choiceDone:
			b.done = true
			a.notes.Add(stepOf(f.Part), f.ID)
		case run.ChoiceStartAgain:
			a.reason = run.GivenUp(f)
		}
	}
}

// readingLimits is how well a portion is read on a burette or a syringe, in mL (common
// practice: a fifth of 0.1 mL).
const readingLimits = 0.02

// portion is what was added at a time, by its reading or by drops.
func (a *account) portion(f fact.Fact) uncertain.Number {
	mL := f.Quantity.In("mL")
	if a.Drops > 0 {
		return uncertain.New(mL, dropLimits*mL, dropSource())
	}
	return uncertain.WithLimits(
		mL,
		readingLimits,
		uncertain.RectangularShape,
		uncertain.Source{ID: "portion " + f.ID, Label: "reading the scale", Basis: "±0.02 mL, rectangular"},
	)
}

// findDrink finds the strength of an acid that nobody knows from the buffer that it went
// into.
func (a *account) findDrink() {
	if a.Drink == "" {
		return
	}
	for i := range a.beakers {
		if b := &a.beakers[i]; b.Acid && !b.Water {
			if c, ok := FitTitrant(b.v); ok {
				for k := range a.beakers {
					if a.beakers[k].Acid {
						a.beakers[k].v.C = c
					}
				}
			}
		}
	}
}

// buffers are the vessels of the buffer itself that something was added to with a known
// strength.
func (a *account) buffers() []Vessel {
	var list []Vessel
	for _, b := range a.beakers {
		if !b.Water && len(b.v.Points) > 0 && b.v.C.Value > 0 && (!b.Acid || a.Drink == "") {
			list = append(list, b.v)
		}
	}
	return list
}

func (a *account) outcome() run.Outcome {
	out := run.Outcome{Exact: true, Readings: a.reads}
	view := View{Kind: Kind, Name: a.Name, AtHand: -1, Beakers: []ViewBeaker{}, Verdicts: a.judge()}
	ended := true
	for i := range a.beakers {
		b := &a.beakers[i]
		view.Beakers = append(view.Beakers, a.viewOf(b))
		if !b.done {
			ended = false
			if view.AtHand < 0 && a.poured {
				view.AtHand = i
			}
			out.Offers = append(out.Offers, run.Offer{Choice: verdict.Choice{ID: choiceDone, Label: "Done with " + b.Name}, Part: i})
		}
	}
	out.Figures, out.Table = a.figures(), table(view)
	if ended {
		out.Products = []run.Product{{Result: true, From: run.FromSources, Title: a.Title(), Name: a.Name, Exact: true, Figures: out.Figures,
			MadeOf: []string{}, Hazards: []string{}, Readings: a.reads}}
	}
	out.View = view
	out.Place(a.steps(), &a.notes, a.reason, a.done)
	return out
}

func (a *account) viewOf(b *beaker) ViewBeaker {
	v := ViewBeaker{Beaker: b.Beaker, Done: b.done, Rows: []Row{}}
	v.C = b.v.C.Value
	if b.v.C.Value > 0 {
		v.Curve = a.curve(b.v, math.Max(curvePortions*a.Portion, 1.2*b.added.Value))
	}
	theory, steps := b.v.Theory(b.v.volumes()), b.v.Steps(a.Thresholds)
	for i, p := range b.v.Points {
		text, _ := quantity.Round(p.PH.Value, p.PH.Expanded())
		row := Row{
			Added:  quantity.Digits(p.Added.Value, 2),
			ML:     p.Added.Value,
			PH:     text,
			Value:  p.PH.Value,
			Theory: quantity.Digits(theory[i].PH, 2),
		}
		if i > 0 {
			if s := steps[i-1]; !s.Wrong && s.Beta.Value > 0 && b.v.C.Value > 0 {
				beta, u := quantity.Round(1000*s.Beta.Value, 1000*s.Beta.Expanded())
				row.Beta, row.Middle, row.B, row.UB = beta+" ± "+u, s.PH, s.Beta.Value, s.Beta.Expanded()
				if s.Small {
					row.B, row.UB = 0, 0
				}
			}
		}
		v.Rows = append(v.Rows, row)
	}
	return v
}

// judge says what is to be thought of the beakers together.
func (a *account) judge() []verdict.Verdict {
	list := []verdict.Verdict{}
	if f, ok := FitBuffer(a.buffers()); ok {
		list = append(list, a.judgeFit(f))
	}
	for _, w := range a.beakers {
		for _, b := range a.beakers {
			if !w.Water || b.Water || w.Acid != b.Acid || len(w.v.Points) < 2 || len(b.v.Points) < 2 {
				continue
			}
			list = append(list, RuleWater.Says(verdict.Fine, nil, "The water has moved by %s pH with %s mL, the buffer by %s with %s mL.",
				quantity.Digits(moved(w), 1), quantity.Digits(w.added.Value, 2), quantity.Digits(moved(b), 2), quantity.Digits(b.added.Value, 2)))
		}
	}
	return list
}

func moved(b beaker) float64 {
	return math.Abs(b.v.Points[len(b.v.Points)-1].PH.Value - b.v.Points[0].PH.Value)
}

// figures are what the test comes to.
func (a *account) figures() []figure.Figure {
	var list []figure.Figure
	for i, b := range a.beakers {
		if b.Water || len(b.v.Points) < 2 || !(b.v.C.Value > 0) {
			continue
		}
		id := strconv.Itoa(i)
		way := map[bool]string{true: "one pH down", false: "one pH up"}[b.Acid]
		if a.Drink != "" && b.Acid {
			list = append(list, figure.New("titrant", "strength of "+a.Drink+" as an acid", "mol/L", b.v.C))
		}
		if s := b.v.Steps(a.Thresholds)[0]; !s.Wrong && !s.Small {
			list = append(
				list,
				figure.New("beta "+id, "capacity near pH "+quantity.Digits(s.PH, 2)+", "+b.Name, "mol/L", s.Beta).As(figure.Capacity),
			)
		}
		if c, ok := b.v.ToOne(); ok {
			list = append(list, figure.New("to-one "+id, "to move it "+way, "mol/L", c).As(figure.Capacity))
		}
	}
	if f, ok := FitBuffer(a.buffers()); ok {
		list = append(list, figure.New("strength", "strength found, beside the label’s", "", f.Strength))
	}
	return list
}

func table(v View) [][]string {
	list := [][]string{{"beaker", "added mL", "pH", "pH by theory", "β, mmol/L per pH, ± U (k = 2)"}}
	for _, b := range v.Beakers {
		for _, r := range b.Rows {
			list = append(list, []string{b.Name, r.Added, r.PH, r.Theory, r.Beta})
		}
	}
	return list
}

func (a *account) steps() []run.Step {
	list := []run.Step{
		{
			ID:    "pour",
			Title: fmt.Sprintf("%d beakers: %s", len(a.beakers), a.sayPour()),
			Kind:  KindPoured,
			Input: run.InputChoice,
			Asks:  true,
			Options: []verdict.Choice{
				{ID: choiceIn, Label: "It is in"},
			},
			Hint:     "Water in the others, as much. Water that covers the probe counts: put the same into each.",
			Cautions: []string{"Goggles and gloves. Your local rules, the safety data sheets and licensed waste handling come first."},
		},
	}
	for i := range a.beakers {
		list = append(list, a.beakerStep(i))
	}
	return list
}

func (a *account) sayPour() string {
	text := trim(a.Volume) + " mL of " + run.LowerFirst(a.Name) + " in each"
	if a.Number > 0 {
		text += fmt.Sprintf(", from bottle %d", a.Number)
	}
	if a.Covered > 0 {
		text += ", and " + trim(a.Covered) + " mL of water to cover the probe"
	}
	return text
}

// beakerStep reads the pH and takes a portion, in turn.
func (a *account) beakerStep(i int) run.Step {
	b := &a.beakers[i]
	s := run.Step{ID: stepOf(i), Part: i, Asks: true}
	total := b.added.Value
	if b.owed {
		s.Kind, s.Title = KindRead, fmt.Sprintf("%s: the pH after %s mL", run.UpperFirst(b.Name), quantity.Digits(total, 2))
		if len(b.v.Points) == 0 {
			s.Title, s.Verdicts = run.UpperFirst(b.Name)+": the pH before anything is added", a.Probe.Judge()
		}
		s.Hint = "Rinse and blot between beakers. Stir, wait until it has settled."
		mV := math.NaN()
		if b.v.C.Value > 0 || total == 0 {
			pH := b.v.Theory([]float64{total})[0].PH
			mV = a.Probe.Expected(pH, a.celsius)
			s.Stands = &run.Stands{PH: pH, Celsius: a.celsius}
		}
		return a.Probe.Meter().Asks(s, a.celsius, mV)
	}
	s.Kind, s.Input, s.Label, s.Dimensions, s.Unit = KindAdded, run.InputQuantity, "Portion", []quantity.Dimension{quantity.Volume}, "mL"
	s.Title = fmt.Sprintf("%s: add %s of %s", run.UpperFirst(b.Name), a.sayPortion(), b.With)
	s.Default = quantity.Digits(a.Portion, max(2, decimals(a.Portion)))
	s.Hint = fmt.Sprintf("%s mL so far. Stir after each portion.", quantity.Digits(total, 2))
	s.Ends = &verdict.Choice{ID: choiceDone, Label: "Done with this beaker"}
	if steps := b.v.Steps(a.Thresholds); len(steps) > 0 {
		s.Verdicts = append(judgeStep(steps[len(steps)-1], b.Acid), b.doubts...)
	}
	return s
}

// decimals that a portion is written with.
func decimals(x float64) int {
	n := 0
	for ; n < 4 && math.Abs(x-math.Round(x)) > 1e-6; n++ {
		x *= 10
	}
	return n
}

func (a *account) done(s *run.Step) bool {
	if s.ID == "pour" {
		return a.poured
	}
	return a.beakers[s.Part].done
}
