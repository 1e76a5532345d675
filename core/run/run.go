// Package run is what the runs of every kind of work share: the [Plan] that a kind
// implements, the steps of a run sheet, where a run stands, what its facts amount to
// ([Outcome]), what it puts on the shelf ([Product]), and the one gate that facts pass
// ([Admit]). The kinds themselves (package solution, package dilution) turn a request
// and facts into an outcome.
package run

import (
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Plan is what a kind of work implements: what is wanted, with all that it depends on,
// so that a stored plan stays as it was made. A plan encodes itself as JSON.
type Plan interface {
	// Title names what is wanted.
	Title() string
	// Design is what the plan gives, as its page shows it. Errors are
	// verdict.Problems.
	Design() (any, error)
	// Make computes the outcome of the facts of a run. Facts that no step knows are
	// passed over. The clock fills in only what a step proposes, like an expiry.
	Make(facts []fact.Fact, now time.Time) (Outcome, error)
	// Parts is how many things the facts may be about: solutes, or tubes.
	Parts() int
	// Takes lists the dimensions in which the quantities of a fact may be stated, by
	// its Kind and Part; none when it has no quantity.
	Takes(f fact.Fact) []quantity.Dimension
	// Check reports whether a fact makes sense by itself. A kind leaves the facts that
	// all kinds have to [Check].
	Check(f fact.Fact) error
	// Sentence says a fact in words, as the logbook shows it. A kind leaves the facts
	// that all kinds have to [Sentence].
	Sentence(f fact.Fact) string
	// Explain shows how a figure of the outcome comes about. A kind may explain its plan
	// besides, by a name that no figure has.
	Explain(facts []fact.Fact, figure string) ([]working.Line, error)
	// Uses says what the plan depends on.
	Uses() Uses
}

// Batched is a plan that is carried out in several runs, each of them a plan itself.
type Batched interface {
	Plan
	// Batches is how many there are, 1 or more; Nth is one of them, from 0.
	Batches() int
	Nth(i int) Plan
}

// Liquid is what everybody who carries a plan out needs of one liquid.
type Liquid struct {
	Name string
	// Strength is as it is typed, like “0.1 mol/L”; empty of what has none, or of what is sought.
	Strength string
	// PH is that of a buffer; 0 of any other.
	PH float64
	// Each is what one trial takes in mL, Times how many there are; 0 where that is not known beforehand.
	Each  float64
	Times int
	// From is the glass that it is used from, “burette”, “pipette” or “probe”, which holds Size in mL.
	From string
	Size float64
	// Known reports whether its strength must be known.
	Known bool
}

// Classwork is a plan that a class carries out at many places at once.
type Classwork interface {
	Plan
	// Liquids lists what each place needs.
	Liquids() []Liquid
}

// Sourced is a plan that takes figures from what stands on the shelf, and takes them
// again when those are corrected. changed is false when nothing moved.
type Sourced interface {
	Plan
	From(role string, source Product) (plan Plan, changed bool)
	// Bound names the bottle or the earlier run that a role takes from: in another lab,
	// it is another one.
	Bound(role string, source Source, number int64) Plan
}

// Uses is what a plan depends on.
type Uses struct {
	// Sources are bottles on the shelf.
	Sources []Source
	// Instruments are named as the lab names them.
	Instruments []string
}

// Source is a bottle, or the result of an earlier run, that a plan takes from. Role tells several apart: “stock”.
type Source struct {
	Role   string
	Bottle string // its ID
	Run    string // or that of the earlier run that it is a result of
	// Needs is about how much the plan will take of it, in mL; 0 where that is not known beforehand, or
	// where nothing is poured.
	Needs float64
}

// Drawn is what the facts of a run have taken out of a bottle so far, in mL; 0 when nothing was,
// or all of it was taken back. The bottle is that of a Role of its sources or, without a role, the
// Part of its own products.
type Drawn struct {
	Role   string
	Part   int
	Volume float64
}

// Used is what the facts of a run have taken of a substance out of its container in the store so far: in g of a
// solid, in mL of a liquid; 0 when it was taken back. Key is that of the substance.
type Used struct {
	Key    string
	Amount float64
	Unit   string // “g” or “mL”
}

// Use adds to what was used of a substance, by its key. What has no key is a sample, and stands in no store.
func Use(list []Used, key string, amount float64, unit string) []Used {
	if key == "" {
		return list
	}
	for i := range list {
		if list[i].Key == key && list[i].Unit == unit {
			list[i].Amount += amount
			return list
		}
	}
	return append(list, Used{key, amount, unit})
}

// Status is where a run stands.
type Status string

// A run is open until it is labelled (finished) or given up (void).
const (
	Open     Status = "open"
	Finished Status = "finished"
	Void     Status = "void"
)

// Input says what a step asks for.
type Input string

// The inputs of steps.
const (
	InputQuantity Input = "quantity"
	InputCount    Input = "count"
	InputChoice   Input = "choice"
	InputLabel    Input = "label"
	InputReadings Input = "readings" // of a scale, before and after
	InputDrops    Input = "drops"    // a count that goes up with each drop
	// InputSample is a reading with the name of what it was taken in, and one of the
	// options; such a step is repeated until its Ends is chosen.
	InputSample Input = "sample"
)

// State of a step.
type State string

// A step is done, at hand, or still to come.
const (
	Done   State = "done"
	Now    State = "now"
	Coming State = "coming"
)

// Step is one line of the run sheet.
type Step struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Hint  string `json:"hint,omitempty"`
	State State  `json:"state"`
	// Kind is the kind of fact that the step takes, Input how it is stated.
	Kind  string `json:"kind"`
	Input Input  `json:"input"`
	// Label stands beside the field.
	Label string `json:"label,omitempty"`
	// Part is which of the solutes or tubes the step is about, from 0.
	Part int `json:"part,omitempty"`
	// Dimensions of what is typed, its Unit, and Default what stands in the field at
	// first. ByDifference reports whether two readings may be stated instead of one.
	Dimensions   []quantity.Dimension `json:"dimensions,omitempty"`
	Unit         string               `json:"unit,omitempty"`
	Default      string               `json:"default,omitempty"`
	ByDifference bool                 `json:"byDifference,omitempty"`
	// Expects is about what will be read, like “177 mV”. It stands beside the field, not in it: a
	// proposal is no reading. A Default is for what is done rather than read: a count of drops or
	// inversions, a day.
	Expects string `json:"expects,omitempty"`
	// Stands is what a probe stands in, as calculated: a stand-in meter reads that.
	Stands *Stands `json:"stands,omitempty"`
	// Beside is what is read at the same time: the temperature beside a potential.
	Beside *Field `json:"beside,omitempty"`
	// Then is what may be read after something was set: the display after it was adjusted.
	Then *Field `json:"then,omitempty"`
	// Instrument that the reading comes from, when a connected one may state it; Tares
	// reports whether it is to be set to zero first.
	Instrument string `json:"instrument,omitempty"`
	Tares      bool   `json:"tares,omitempty"`
	// Wavelength that a photometer is set to, nm; 0 when none is read.
	Wavelength float64 `json:"wavelength,omitempty"`
	// Molar is what is in its cell as calculated, mol/L: a stand-in photometer is told that. Nil where it is not known.
	Molar *float64 `json:"molar,omitempty"`
	// Remarks are what may be said of the reading beside it, each as it goes on record.
	Remarks []string `json:"remarks,omitempty"`
	// Scale is where the scale ends that is read, in mL; 0 when none is.
	Scale   float64          `json:"scale,omitempty"`
	Options []verdict.Choice `json:"options,omitempty"`
	Clock   *Clock           `json:"clock,omitempty"`
	// Ends is the decision that ends a step that is repeated.
	Ends *verdict.Choice `json:"ends,omitempty"`
	// Asks reports whether a reading is asked for; false when a decision is.
	Asks     bool              `json:"asks"`
	Summary  string            `json:"summary,omitempty"`
	Cautions []string          `json:"cautions,omitempty"`
	Verdicts []verdict.Verdict `json:"verdicts,omitempty"`
	// Facts are the IDs of the standing facts of the step.
	Facts []string `json:"facts,omitempty"`
}

// Clock runs beside a step that takes its time.
type Clock struct {
	Since   time.Time `json:"since"`
	Minutes float64   `json:"minutes"` // that it takes at least
	// What it is that waits: “the bulb”, “tube 1”.
	What string `json:"what"`
}

// Stands is a solution that a probe stands in.
type Stands struct {
	PH      float64 `json:"pH"`
	Celsius float64 `json:"celsius"`
}

// Field is a quantity that is typed beside another.
type Field struct {
	Label      string               `json:"label"`
	Unit       string               `json:"unit"`
	Default    string               `json:"default"`
	Dimensions []quantity.Dimension `json:"dimensions"`
}

// Offer is a decision that may be taken whatever step is at hand.
type Offer struct {
	verdict.Choice
	Part int `json:"part,omitempty"`
}

// Reading is when an instrument was read, by the name that the lab gives it.
type Reading struct {
	Instrument string    `json:"instrument"`
	At         time.Time `json:"at"`
}

// Outcome is what the facts of a run amount to.
type Outcome struct {
	Status  Status          `json:"status"`
	Reason  string          `json:"reason,omitempty"` // why it is void
	Steps   []Step          `json:"steps"`
	Offers  []Offer         `json:"offers"`
	Figures []figure.Figure `json:"figures"` // none before the first reading
	// Exact reports whether the result stands without being standardised.
	Exact bool   `json:"exact"`
	Store string `json:"store,omitempty"` // how it is kept
	// View is what only the drawing of the kind needs.
	View any `json:"view"`
	// Table is what a run gives as a table, its head first; nil of a run whose figures say
	// it all, see [Outcome.AsTable].
	Table [][]string `json:"-"`
	// Plots are drawn on its report, one under the other; none of a run that has nothing to draw.
	Plots []Plot `json:"-"`
	// Readings are those of instruments.
	Readings []Reading `json:"-"`
	// Products are what a finished run puts on the shelf.
	Products []Product `json:"-"`
	// Drawn is what was taken out of bottles, whatever became of the run.
	Drawn []Drawn `json:"-"`
	// Used is what was taken out of the store, whatever became of the run.
	Used []Used `json:"-"`
}

// AtHand is the title of the step at hand; empty when none is.
func (o Outcome) AtHand() string {
	for _, s := range o.Steps {
		if s.State == Now {
			return s.Title
		}
	}
	return ""
}

// AsTable is what a run gives as a table, its head first.
func (o Outcome) AsTable() [][]string {
	if o.Table != nil {
		return o.Table
	}
	list := [][]string{{"figure", "value", "U (k = 2)", "unit"}}
	for _, f := range o.Figures {
		list = append(list, []string{f.Label, f.Text, f.UText, f.Unit})
	}
	return list
}

// ended fills in where a run stands: void for a reason, or finished when no step is at
// hand.
func (o *Outcome) ended(reason string, atHand int) {
	switch o.Status, o.Reason = Open, reason; {
	case reason != "":
		o.Status, o.Figures, o.Products = Void, nil, nil
	case atHand < 0:
		o.Status = Finished
	}
	if o.Status != Finished {
		o.Products = nil
	}
	if o.Figures == nil {
		o.Figures = []figure.Figure{}
	}
	if o.Status == Open {
		o.Offers = append(o.Offers, Offer{Choice: verdict.Choice{ID: ChoiceStartAgain, Label: "Give this run up"}})
	}
	if o.Offers == nil {
		o.Offers = []Offer{}
	}
}

// Place sets where every step and the run stand: steps with what is noted of them, and
// the outcome of them all. A reason makes the run void.
func (o *Outcome) Place(steps []Step, notes *Notes, reason string, done func(*Step) bool) {
	o.Steps = steps
	o.ended(reason, notes.place(steps, reason != "", done))
}
