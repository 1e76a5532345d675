package dilution

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"strconv"
	"strings"
	"time"

	"vialbench/core/equilibrium"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// tube follows one rung at the bench.
type tube struct {
	made
	rinses     int
	watered    bool
	delivered  bool
	filled     bool
	past       bool
	inversions int
	void       string
}

type account struct {
	Request
	ladder      Ladder
	tubes       []tube
	lost        map[int]float64 // mL, by where it came from: into tubes that were made again
	temperature *float64
	labelled    time.Time
	readings    []run.Reading
	expires     string
	remarks     string
	reason      string
	notes       run.Notes
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
	ladder, err := r.Ladder()
	if err != nil {
		return nil, err
	}
	a := &account{Request: r, ladder: ladder, tubes: make([]tube, len(r.Rungs)), lost: map[int]float64{}, notes: run.NewNotes(len(facts))}
	for i := range a.tubes {
		a.reset(i, "")
	}
	for _, f := range fact.Standing(facts) {
		if f.Part >= 0 && f.Part < len(a.tubes) {
			a.take(f)
		}
	}
	return a, nil
}

// reset empties a tube; void says why what was in it is.
func (a *account) reset(i int, void string) {
	a.tubes[i] = tube{void: void, delivered: a.Rungs[i].Taken == 0, filled: a.Rungs[i].Flask == nil && a.Rungs[i].Solvent == 0}
	for _, step := range []string{"rinse", "water", "take", "fill", "mix"} {
		a.notes.Forget(stepID(step, i))
	}
}

// redo empties a tube and all that was made from it.
func (a *account) redo(i int, void string) {
	for k := i + 1; k < len(a.Rungs); k++ {
		if a.Rungs[k].From == i && (a.tubes[k].rinses > 0 || a.tubes[k].id != "") {
			a.redo(k, "made from tube "+a.ladder.Tubes[i].Label+", which is made again")
		}
	}
	a.lost[a.Rungs[i].From] += a.drew(i)
	a.lost[i] = 0 // that came out of the tube as it was
	a.reset(i, void)
}

// drew is what a tube took from where it comes from, rinsing included, in mL.
func (a *account) drew(i int) (mL float64) {
	t, rung := &a.tubes[i], a.Rungs[i]
	if rung.Taken > 0 && t.delivered {
		mL = a.taken(rung, &t.made, t.id).Value
	}
	if t.rinses > 0 {
		mL += a.Rinse
	}
	return mL
}

// drawn is what was taken from the stock and, along a chain, from each tube for the next.
func (a *account) drawn() []run.Drawn {
	from := maps.Clone(a.lost)
	for i, rung := range a.Rungs {
		from[rung.From] += a.drew(i)
	}
	list := []run.Drawn{{Role: RoleStock, Volume: from[FromStock]}}
	for i := range a.Rungs {
		list = append(list, run.Drawn{Part: i, Volume: from[i]})
	}
	return list
}

func stepID(step string, tube int) string { return step + " " + strconv.Itoa(tube+1) }

func (a *account) note(step string, f fact.Fact, summary string, args ...any) {
	a.notes.Add(step, f.ID)
	a.notes.Say(step, fmt.Sprintf(summary, args...))
}

func (a *account) take(f fact.Fact) {
	t, rung := &a.tubes[f.Part], a.Rungs[f.Part]
	label := a.ladder.Tubes[f.Part].Label
	switch f.Kind {
	case run.KindTemperature:
		x := f.Quantity.Base()
		a.temperature = &x
		a.note("temperature", f, "Stock and solvent at %s", f.Quantity)
	case KindRinsed:
		t.rinses = *f.Count
		a.note(stepID("rinse", f.Part), f, "%s rinsed %d times with %s", rung.With.Name(), *f.Count, a.name(rung.From))
	case KindWatered:
		t.watered = true
		a.note(stepID("water", f.Part), f, "Tube %s: half the solvent is in", label)
	case KindTaken:
		t.delivered, t.id, t.void = true, f.ID, ""
		text := short(rung.Taken) + " mL"
		if rung.Weighed {
			grams := f.Quantity.In("g")
			if f.After != nil { // by difference: the vessel before and after
				grams -= f.After.In("g")
			}
			t.grams, t.spread = &grams, 0
			if f.Spread != nil {
				t.spread = f.Spread.Base()
			}
			a.readings = append(a.readings, run.Reading{Instrument: cmp.Or(f.Instrument, a.Balance.Name), At: f.At})
			text = quantity.Digits(grams, a.Balance.Decimals()) + " g, weighed,"
		} else if f.Quantity != nil {
			mL := f.After.In("mL") - f.Quantity.In("mL")
			t.taken = &mL
			text = fmt.Sprintf("%s to %s, %s mL", f.Quantity, f.After, quantity.Digits(mL, rung.With.Decimals()))
		}
		a.note(stepID("take", f.Part), f, "Into tube %s: %s of %s", label, text, a.name(rung.From))
	case KindFilled:
		t.past = f.Choice == choicePast
		t.filled = !t.past
		if t.id == "" { // a blank
			t.id = f.ID
		}
		text := "to the mark"
		if t.past {
			text = "past the mark"
		}
		if f.Quantity != nil {
			mL := f.After.In("mL") - f.Quantity.In("mL")
			t.solvent = &mL
			text = fmt.Sprintf("solvent %s to %s, %s mL", f.Quantity, f.After, quantity.Digits(mL, rung.SolventWith.Decimals()))
		}
		a.note(stepID("fill", f.Part), f, "Tube %s: %s", label, text)
	case run.KindMixed:
		t.inversions += *f.Count
		a.note(stepID("mix", f.Part), f, "Tube %s inverted %d times", label, t.inversions)
	case run.KindDecided:
		switch f.Choice {
		case choiceRedo:
			a.redo(f.Part, "made again")
		case run.ChoiceStartAgain:
			a.reason = run.GivenUp(f)
		}
	case run.KindLabelled:
		a.labelled, a.expires, a.remarks = f.At, f.Date, f.Text
		a.note("label", f, "Labelled, keep until %s", f.Date)
	}
}

// done reports whether a step is finished; what is made from a tube that is not, waits.
func (a *account) done(s *run.Step) bool {
	t := a.tubes[s.Part]
	switch word, _, _ := strings.Cut(s.ID, " "); word {
	case "temperature":
		return a.temperature != nil
	case "rinse":
		return t.rinses > 0
	case "water":
		return t.watered
	case "take":
		return t.delivered
	case "fill":
		return t.filled
	case "mix":
		return t.inversions >= a.turns()
	}
	return a.expires != ""
}

// Kind names this kind of work.
const Kind = "dilution"

// View is what the drawing of a run needs.
type View struct {
	Kind string     `json:"kind"`
	Rack []RackTube `json:"rack"`
}

// RackTube is one tube as it stands now.
type RackTube struct {
	Label string `json:"label"`
	// Made reports whether it holds its solution; Void says why it is to be made again.
	Made bool   `json:"made"`
	Void string `json:"void,omitempty"`
	// Concentration in what is made, else as planned; Factor from the stock on.
	Concentration figure.Figure `json:"concentration"`
	Factor        float64       `json:"factor"`
	Volume        figure.Figure `json:"volume"` // made, in mL at 20 °C
}

func (a *account) outcome(now time.Time) run.Outcome {
	out := run.Outcome{Exact: !a.Stock.Approximate, Readings: a.readings, Drawn: a.drawn()}
	at, volumes := a.bench(), a.expansions(a.temperature)
	concentrations := a.concentrations(at, volumes)
	rack := make([]RackTube, len(a.tubes))
	for i, t := range a.ladder.Tubes {
		c := a.ladder.figure(i, concentrations[i])
		_, final := a.volumes(i, at[i], volumes)
		made := a.tubes[i].delivered && a.tubes[i].filled && a.tubes[i].id != "" && a.sound(t.From)
		rack[i] = RackTube{
			Label: t.Label, Made: made, Void: a.tubes[i].void, Concentration: c, Factor: t.Factor,
			Volume: figure.New("volume "+t.Label, "volume at 20 °C", "mL", final).As(figure.Volume),
		}
		if made {
			out.Figures = append(out.Figures, c)
		}
		if a.tubes[i].id != "" {
			out.Offers = append(out.Offers, run.Offer{Choice: verdict.Choice{ID: choiceRedo, Label: "Make tube " + t.Label + " again"}, Part: i})
		}
	}
	if a.expires != "" {
		for i, t := range rack {
			out.Products = append(out.Products, a.product(i, t))
		}
	}
	out.View = View{Kind, rack}
	out.Place(a.steps(now), &a.notes, a.reason, a.done)
	return out
}

// product is one tube on the shelf.
func (a *account) product(i int, t RackTube) run.Product {
	p := run.Product{
		Part:     i,
		From:     a.Rungs[i].From,
		Tube:     true,
		Title:    fmt.Sprintf("%s, diluted to %s %s", a.Stock.Name, t.Concentration.Text, t.Concentration.Unit),
		Name:     a.Stock.Name,
		Formula:  a.Stock.Formula,
		Origin:   run.FromSolution,
		MadeOf:   []string{a.Stock.String(), "deionised water"},
		Exact:    !a.Stock.Approximate,
		Figures:  []figure.Figure{t.Concentration, t.Volume},
		Expires:  a.expires,
		Note:     a.remarks,
		Readings: a.readings,
	}
	if a.Rungs[i].Taken == 0 {
		p.Title = a.Stock.Name + ", the blank of its rack"
	}
	if a.Stock.Concentrate {
		p.Origin = run.FromConcentrate
	}
	if a.Rungs[i].From != FromStock {
		p.MadeOf[0] = "tube " + a.ladder.Tubes[a.Rungs[i].From].Label
	}
	p.Ingredients = substance.Diluted(a.Stock.contains(), t.Concentration.Value/a.ladder.scale/a.Stock.Concentration.Value)
	p.Hazards, p.Signal = substance.Classify(p.Ingredients)
	if m := a.Stock.Mixture; m != nil { // a buffer: its pH moves a little
		thinner := a.thinned(t.Concentration.Scale(1 / a.ladder.scale))
		p.Mixture = &thinner
		if pH, err := thinner.PH(); err == nil {
			label := "pH calculated at " + quantity.Digits(thinner.Celsius.Value, 0) + " °C, not measured"
			p.Figures = append(p.Figures, figure.New("pH "+t.Label, label, "", pH).As(figure.PH))
		}
	}
	return p
}

// thinned is the buffer of the stock, diluted to a concentration.
func (a *account) thinned(c uncertain.Number) equilibrium.Mixture {
	return a.Stock.Mixture.Scaled(c.Over(a.Stock.Concentration))
}

// turns is how many inversions mix a tube.
func (a *account) turns() int { return int(math.Ceil(a.Thresholds.Of(run.RuleInversions))) }

// bench is what is known of every tube.
func (a *account) bench() []*made {
	at := make([]*made, len(a.tubes))
	for i := range a.tubes {
		at[i] = &a.tubes[i].made
	}
	return at
}

// sound reports whether a source holds its solution.
func (a *account) sound(from int) bool {
	return from == FromStock || a.tubes[from].delivered && a.tubes[from].filled
}
