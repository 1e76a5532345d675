package run_test

import (
	"fmt"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/core/working"
)

// Holds is a small kind of work, whole: how much a beaker holds, by the water that it is filled with.
type Holds struct {
	Name    string           `json:"name"`
	Balance weighing.Balance `json:"balance"`
}

const kindFilled = "filled" // Quantity: the water, net

func (h Holds) Title() string        { return "What " + h.Name + " holds" }
func (h Holds) Design() (any, error) { return h, nil }
func (h Holds) Parts() int           { return 1 }
func (h Holds) Uses() run.Uses       { return run.Uses{Instruments: []string{h.Balance.Name}} }

func (h Holds) Takes(f fact.Fact) []quantity.Dimension {
	if f.Kind == kindFilled {
		return []quantity.Dimension{quantity.Mass}
	}
	return nil
}

func (h Holds) Check(f fact.Fact) error {
	if f.Kind != kindFilled {
		return run.Check(f)
	}
	var p verdict.Problems
	f.Only(&p, "quantity")
	if f.Quantity == nil || !(f.Quantity.In("g") > 0) {
		p.Add("/quantity", "the mass of the water, like 251.3 g")
	}
	return p.OrNil()
}

func (h Holds) Sentence(f fact.Fact) string {
	if f.Kind == kindFilled {
		return "Filled with " + f.Quantity.String() + " of water"
	}
	return run.Sentence(f, nil)
}

// volume in mL, when the beaker was filled.
func (h Holds) volume(facts []fact.Fact) (v figure.Figure, ok bool) {
	for _, f := range fact.Standing(facts) {
		if f.Kind == kindFilled {
			return figure.New("volume", "volume", "mL", h.Balance.Weighed(f).Over(uncertain.Exact(glassware.WaterDensity(20)/1000))).As(figure.Volume), true
		}
	}
	return v, false
}

func (h Holds) Make(facts []fact.Fact, _ time.Time) (run.Outcome, error) {
	notes := run.NewNotes(len(facts))
	for _, f := range fact.Standing(facts) {
		if f.Kind == kindFilled {
			notes.Add("fill", f.ID)
			notes.Say("fill", h.Sentence(f))
		}
	}
	out := run.Outcome{Exact: true}
	v, filled := h.volume(facts)
	if filled {
		out.Figures = []figure.Figure{v}
	}
	steps := []run.Step{{
		ID: "fill", Title: "Tare " + h.Name + ", fill it to the brim", Kind: kindFilled, Asks: true, Input: run.InputQuantity,
		Label: "Net mass shown", Unit: "g", Dimensions: []quantity.Dimension{quantity.Mass}, Instrument: h.Balance.Name,
	}}
	out.Place(steps, &notes, "", func(*run.Step) bool { return filled })
	return out, nil
}

func (h Holds) Explain(facts []fact.Fact, _ string) ([]working.Line, error) {
	v, _ := h.volume(facts)
	return working.Uncertainty(v.Number, v.Unit), nil
}

// A kind of work is a value that implements Plan: here a whole one, taken through its only step. What else it
// needs to be on the bench stands in docs/adding-a-kind.md.
func Example() {
	plan := Holds{Name: "the green beaker", Balance: weighing.Usual()}
	now := time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)
	out, _ := plan.Make(nil, now) //nolint:errcheck // it has none
	fmt.Println(out.Status, "|", out.Steps[0].Title)

	typed := run.Stated{Fact: fact.Fact{ID: "f1", Kind: kindFilled, At: now}, Quantity: &quantity.Stated{Text: "151,2870", Unit: "g"}}
	filled, err := typed.Read(plan)
	if err == nil {
		err = run.Admit(plan, nil, filled, now)
	}
	fmt.Println(err)
	out, _ = plan.Make([]fact.Fact{filled}, now) //nolint:errcheck // likewise
	fmt.Println(out.Status, "|", out.Steps[0].Summary, "|", out.Figures[0].Text, "±", out.Figures[0].UText, out.Figures[0].Unit)
	fmt.Println(run.Admit(plan, []fact.Fact{filled}, filled, now))
	// Output:
	// open | Tare the green beaker, fill it to the brim
	// <nil>
	// finished | Filled with 151.2870 g of water | 151.55878 ± 0.00044 mL
	// this run is finished: correct a reading if one was wrong
}
