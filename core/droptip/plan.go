package droptip

import (
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"time"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// Kind names this kind of work.
const Kind = "droptip"

var _ run.Plan = Request{}

// How drops are caught.
const (
	Weighed    = "weighed"
	ByCylinder = "cylinder"
)

// Request is the calibration of a tip as it is planned.
type Request struct {
	// Name of the tip: “Dropper 3”. Liquid that drips from it; Density in g/mL, 0 of water.
	Name    string           `json:"name"`
	Liquid  string           `json:"liquid"`
	Density float64          `json:"density,omitempty"`
	By      string           `json:"by"`
	Glass   glassware.Item   `json:"glass"` // that they are caught in, by cylinder
	Balance weighing.Balance `json:"balance"`
	// Celsius of the liquid.
	Celsius    float64            `json:"celsius"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// MaxCounts is how many counts a calibration has at most, maxDrops how many drops each.
const (
	MaxCounts = 20
	maxDrops  = 1000
)

func (r Request) check() error {
	var p verdict.Problems
	for field, text := range map[string]string{"/name": r.Name, "/liquid": r.Liquid} {
		if n := len([]rune(text)); n == 0 || n > MaxName {
			p.Add(field, "say which, in at most %d letters", MaxName)
		}
	}
	if r.Density != 0 && !(r.Density >= 0.5 && r.Density <= 3) {
		p.Add("/density", "a density is in g/mL, from 0.5 to 3; leave it empty for water")
	}
	switch {
	case r.By != Weighed && r.By != ByCylinder:
		p.Add("/by", "drops are weighed, or caught in a cylinder")
	case r.By == ByCylinder && r.Glass.Division() == 0:
		p.Add("/by", "choose a cylinder of the lab")
	}
	if !(r.Celsius >= glassware.MinTemperature && r.Celsius <= glassware.MaxTemperature) {
		p.Add("/celsius", "the liquid has 0 to 40 °C")
	}
	return p.OrNil()
}

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

// Title names the calibration.
func (r Request) Title() string {
	return fmt.Sprintf("Drops of %s from %s", run.LowerFirst(r.Liquid), run.LowerFirst(r.Name))
}

// Design is what a plan gives, as its page shows it.
type Design struct {
	Title string `json:"title"`
	// Drops is how many to count at least, Counts how often; Way says how they are caught.
	Drops  int    `json:"drops"`
	Counts int    `json:"counts"`
	Way    string `json:"way"`
	// Prospect says how well so many drops give the volume of one (± at 95 %) by what catches them alone,
	// and how many would give 1 %.
	Prospect string `json:"prospect"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) {
	d := Design{
		Title:  r.Title(),
		Drops:  int(r.Thresholds.Of(RuleEnough)),
		Counts: int(r.Thresholds.Of(RuleCounts)),
		Way:    "weighed on " + r.Balance.Name,
	}
	if r.By == ByCylinder {
		d.Way = "caught in a " + r.Glass.Name()
	}
	if err := r.check(); err != nil {
		return d, err
	}
	d.Prospect = r.prospect(d.Drops, d.Counts)
	return d, nil
}

// wanted is how well the volume of a drop is to be known, ± as a part of it at 95 %; mostDrops is how
// many anybody counts for that.
const wanted, mostDrops = 0.01, 1000

func (r Request) prospect(drops, counts int) string {
	by := "balance"
	if r.By == ByCylinder {
		by = "cylinder"
	}
	says := fmt.Sprintf("By the %s alone, %d counts of %d drops give the volume of a drop to ± %s %%",
		by, counts, drops, quantity.Digits(100*r.foreseen(drops, counts), 2))
	least, most := 1, mostDrops
	if r.By == ByCylinder {
		most = int(r.Glass.Volume / r.Thresholds.Of(RuleDrop))
	}
	if r.foreseen(most, counts) > wanted {
		return says + "; no number of drops that it holds gives ± 1 %."
	}
	for least < most { // more drops are known better
		if middle := (least + most) / 2; r.foreseen(middle, counts) > wanted {
			least = middle + 1
		} else {
			most = middle
		}
	}
	return fmt.Sprintf("%s; for ± 1 %% it takes %s a count. How much drops differ comes on top.", says, Say(least))
}

// foreseen is how well counts of so many drops of the usual size would give the volume of one: ± at 95 %, as
// a part of it.
func (r Request) foreseen(drops, counts int) float64 {
	caught := float64(drops) * r.Thresholds.Of(RuleDrop)
	list := make([]Count, counts)
	for i := range list {
		f := fact.Fact{ID: strconv.Itoa(i)}
		q := quantity.Of(caught, "mL")
		if r.By == Weighed {
			q = quantity.Of(caught*r.density(), "g")
		}
		f.Quantity = &q
		list[i] = Count{drops, r.volume(f)}
	}
	found, ok := Solve(list)
	if !ok {
		return math.Inf(1)
	}
	return found.Volume.Expanded() / found.Volume.Value
}

// Uses implements [run.Plan].
func (r Request) Uses() (uses run.Uses) {
	if r.By == Weighed {
		uses.Instruments = append(uses.Instruments, r.Balance.Name)
	}
	return uses
}

// density of the liquid in g/mL.
func (r Request) density() float64 {
	if r.Density > 0 {
		return r.Density
	}
	return glassware.WaterDensity(r.Celsius) / 1000
}

// volume of what was caught, in mL, by what was read.
func (r Request) volume(f fact.Fact) uncertain.Number {
	if r.By == ByCylinder {
		return r.Glass.Reading(f.Quantity.In("mL"), f.ID)
	}
	return r.Balance.Net(f.Quantity.In("g"), 0, f.ID).Times(weighing.Buoyancy(1000 * r.density())).Scale(1 / r.density())
}

// The kinds of fact of a run, beside those that all kinds of work have. The Part of a fact is
// the place of its count.
const (
	KindCounted = "drops-counted" // Count
	KindCaught  = "drops-caught"  // Quantity: net mass, or the volume
)

const choiceEnough = "enough"

// Parts implements [run.Plan].
func (r Request) Parts() int { return MaxCounts }

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	switch {
	case f.Kind != KindCaught:
		return nil
	case r.By == Weighed:
		return []quantity.Dimension{quantity.Mass}
	}
	return []quantity.Dimension{quantity.Volume}
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	q := f.Quantity
	switch f.Kind {
	case KindCounted:
		f.Only(&p, "count")
		if f.Count == nil || *f.Count < 1 || *f.Count > maxDrops {
			p.Add("/count", "count 1 to %d drops", maxDrops)
		}
	case KindCaught:
		f.Only(&p, "quantity", "spread")
		switch {
		case r.By == Weighed && (q == nil || q.Unit.Dimension != quantity.Mass || !(q.In("g") > 0)):
			p.Add("/quantity", "the mass of the drops, like 1.013 g")
		case r.By == Weighed && q.In("g") > r.Balance.Capacity:
			p.Add("/quantity", "%s is more than %s weighs (%g g)", q, r.Balance.Name, r.Balance.Capacity)
		case r.By == ByCylinder && (q == nil || q.Unit.Dimension != quantity.Volume || !(q.In("mL") > 0 && q.In("mL") <= r.Glass.Volume)):
			p.Add("/quantity", "what is read on the cylinder, above 0 and at most %g mL", r.Glass.Volume)
		}
	default:
		return run.Check(f)
	}
	return p.OrNil()
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	count := fmt.Sprintf("Count %d: ", f.Part+1)
	switch f.Kind {
	case KindCounted:
		return count + Say(*f.Count)
	case KindCaught:
		return count + "together " + f.Quantity.String() + f.Read()
	}
	return run.Sentence(f, map[string]string{choiceEnough: "enough counts"})
}

// Result is what a finished calibration hands on.
type Result struct {
	Tip Tip
}

// Make implements [run.Plan].
func (r Request) Make(facts []fact.Fact, _ time.Time) (run.Outcome, error) {
	a, err := r.follow(facts)
	if err != nil {
		return run.Outcome{}, err
	}
	return a.outcome(), nil
}
