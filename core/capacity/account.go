package capacity

import (
	"fmt"
	"strconv"
	"time"

	"vialbench/core/droptip"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

type beaker struct {
	Beaker
	v     Vessel
	added uncertain.Number
	// portion is the fact that added something since the last reading, portions those of each.
	portion  string
	portions []string
	owed     bool // a reading is owed for what was added
	done     bool
	doubts   []verdict.Verdict
	// Of a beaker in a bath: when it went in, how warm the bath was, how warm each reading, and
	// which colour was seen, −1 before.
	since   time.Time
	bath    float64
	celsius []float64
	seen    int
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
		a.beakers = append(a.beakers, beaker{Beaker: b, v: r.vessel(b), owed: true, seen: -1})
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
			text := fmt.Sprintf("%s: pH %s", run.UpperFirst(b.Name), quantity.Digits(b.v.Points[0].PH.Value, 2))
			if len(b.v.Points) > 1 {
				text += fmt.Sprintf(" to %s, %d readings", quantity.Digits(last.PH.Value, 2), len(b.v.Points))
			}
			if last.Added.Value > 0 {
				text += fmt.Sprintf(", %s mL added", quantity.Digits(last.Added.Value, 2))
			}
			a.notes.Say(stepOf(i), text)
		}
	}
	return a, nil
}

// drawn is what was poured into the beakers and added to them.
func (a *account) drawn() []run.Drawn {
	buffer, acid, base := run.Drawn{Role: RoleBuffer}, run.Drawn{Role: RoleAcid}, run.Drawn{Role: RoleBase}
	for _, b := range a.beakers {
		if a.poured && !b.Water {
			buffer.Volume += a.Volume
		}
		if b.Acid {
			acid.Volume += b.added.Value
		} else {
			base.Volume += b.added.Value
		}
	}
	return []run.Drawn{buffer, acid, base}
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
		got := a.Probe.Read(f, a.expected(b), a.Thresholds)
		if got.Reading != nil {
			a.reads = append(a.reads, *got.Reading)
		}
		b.v.Points = append(b.v.Points, Point{ID: f.ID, Added: b.added, PH: got.PH})
		b.portions, b.portion = append(b.portions, b.portion), ""
		b.owed, b.doubts, b.celsius = false, got.Verdicts, append(b.celsius, got.Celsius)
		if b.since.IsZero() {
			a.celsius = got.Celsius // the room’s
		}
		a.notes.Add(stepOf(f.Part), f.ID)
	case KindAdded:
		b.added = b.added.Plus(a.portion(f))
		b.owed, b.portion = true, f.ID
		a.notes.Add(stepOf(f.Part), f.ID)
	case KindBath:
		b.since, b.bath, b.owed = f.At, f.Quantity.Base(), true
		a.notes.Add(stepOf(f.Part), f.ID)
	case KindSeen:
		b.seen, _ = shadeOf(f.Choice)
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
	if f.Count != nil {
		return a.tip().Drops(float64(*f.Count), f.ID)
	}
	mL := f.Quantity.In("mL")
	if a.Drops > 0 {
		return a.tip().Drops(mL/a.tip().Volume.Value, f.ID)
	}
	return uncertain.WithLimits(
		mL,
		readingLimits,
		uncertain.RectangularShape,
		uncertain.Source{ID: "portion " + f.ID, Label: "reading the scale", Basis: "±0.02 mL, rectangular"},
	)
}

// tip is what counted drops fall from.
func (a *account) tip() droptip.Tip {
	if a.Tip != nil {
		return *a.Tip
	}
	return droptip.Uncounted("a dropper", a.Portion/float64(a.Drops))
}

// findDrink finds the strength of an unknown acid from the buffer that it went
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
