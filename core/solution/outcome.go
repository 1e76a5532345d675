package solution

import (
	"fmt"
	"time"

	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
)

// View is what the drawing of a run needs.
type View struct {
	Kind   string `json:"kind"`
	Vessel Vessel `json:"vessel"`
}

// Kind names this kind of work.
const Kind = "standard"

// Vessel is what stands in front of the person.
type Vessel struct {
	Flask     glassware.Flask `json:"flask"`
	Tolerance float64         `json:"tolerance"`
	Neck      float64         `json:"neck"` // mm; 0 of a bottle, which has no mark
	// Filled is the volume of liquid in mL; Level says it in words.
	Filled float64 `json:"filled"`
	Level  string  `json:"level"`
	// What is taken: the reading in Unit (g or mL) on With, nil before the first one,
	// with the band to aim at.
	Unit     string   `json:"unit"`
	With     string   `json:"with"`
	Reading  *float64 `json:"reading,omitempty"`
	Target   float64  `json:"target"`
	Low      float64  `json:"low"`
	High     float64  `json:"high"`
	Decimals int      `json:"decimals"`
}

func (a *account) outcome(now time.Time) run.Outcome {
	out := run.Outcome{Figures: a.shown, Readings: a.readings, Used: a.used(), Exact: a.byWeighingAlone() && a.dissolved != choiceNeckReached}
	if k, ok := a.keeping(); ok {
		out.Store = k.advice
	}
	if a.expires != "" && len(a.shown) > 0 {
		out.Products = []run.Product{a.product(out)}
	}
	out.Place(a.steps(now), &a.notes, a.reason, a.done)
	part := 0
	for i := range a.takings { // the scale shows what is being taken, or was last
		if part = i; !a.takings[i].kept {
			break
		}
	}
	out.View = View{Kind, a.vessel(&a.takings[part])}
	return out
}

// product is the bottle that goes on the shelf.
func (a *account) product(out run.Outcome) run.Product {
	p := run.Product{
		From:     run.FromSources,
		Title:    a.Title(),
		Formula:  a.formula.Pieces,
		Origin:   run.FromSolid,
		Exact:    out.Exact,
		Figures:  a.shown,
		Expires:  a.expires,
		Store:    out.Store,
		Note:     a.remarks,
		Readings: a.readings,
	}
	if n := len(a.batches); n > 1 {
		p.Title += fmt.Sprintf(", batch %d of %d", a.Batch+1, n)
	}
	state := "solid"
	if a.Substance.Liquid {
		p.Origin, state = run.FromConcentrate, "liquid"
	}
	p.MadeOf = make([]string, 0, len(a.takings)+1)
	p.Ingredients = make([]substance.Ingredient, 0, len(a.takings))
	for i, o := range a.takings {
		if i > 0 {
			p.Name += " + "
		}
		p.Name += o.Substance.Dissolved()
		p.MadeOf = append(p.MadeOf, o.Substance.Name+", "+state+", assay "+percent4(o.Assay)+" w/w")
		pure := o.net.Value * o.buoyancy.Value * o.assay.Value
		grams := pure / a.volume.Value * 1000 * o.molar.Value / o.weighed.Value
		p.Ingredients = append(p.Ingredients, substance.Ingredient{Key: o.Substance.Key, Grams: grams, Hazards: o.Substance.Hazards})
	}
	p.MadeOf = append(p.MadeOf, "deionised water")
	p.Hazards, p.Signal = substance.Classify(p.Ingredients)
	if days := a.standardiseDays(); days > 0 {
		if by := a.labelled.AddDate(0, 0, days).
			Format(time.DateOnly); p.Expires == "" ||
			by < p.Expires { // what is thrown away then is not standardised
			p.StandardiseBy = by
		}
	}
	return p
}

func (a *account) vessel(t *taking) Vessel {
	target := t.taking(a.flask)
	v := Vessel{
		Unit: t.unit(), With: t.with(), Flask: a.flask, Neck: a.neck(), Level: "empty",
		Target: target, Low: target * (1 - a.Band), High: target * (1 + a.Band), Decimals: t.decimals,
	}
	if a.MakeUp == ToTheMark {
		v.Tolerance = a.flask.Tolerance()
	}
	if taken := t.taken(); taken != 0 {
		v.Reading = &taken
	}
	fill := func(fraction float64, level string) { v.Filled, v.Level = fraction*a.flask.Volume, level }
	switch {
	case a.madeUp != nil:
		fill(1, "made up")
	case a.mark == choicePast:
		fill(1.01, "past the mark")
	case a.mark == choiceReached:
		fill(1, "at the mark")
	case a.MakeUp == ToTheMark && a.temperature != nil && (a.temperatureOK() || a.acceptedTemp):
		fill(0.97, "just below the mark")
	case a.dissolved != "", a.watered:
		fill(0.5, "about half full")
	case a.rinses > 0:
		fill(0.15, "rinsings and solid")
	}
	return v
}

// solutionFigures computes the figures with what is known now; nil before a mass is.
func (a *account) solutionFigures() []figure.Figure {
	net := a.takings[0].net
	if !(net.Value > 0) {
		return nil
	}
	nets := make([]uncertain.Number, len(a.others))
	for i := range nets {
		nets[i] = a.takings[i+1].net
	}
	return a.withOthers(a.figures(net, a.volume), net, nets, a.volume)
}

// contents is the volume in mL at 20 °C with what is known now.
func (a *account) contents() uncertain.Number {
	switch {
	case a.MakeUp == ToTheMark:
		temperature, limits := a.solutionTemperature()
		return a.flask.Contents(temperature, limits, a.filling)
	case a.madeUp == nil:
		return a.plannedVolume()
	case a.MakeUp == ByMass:
		return a.volumeByMass(*a.madeUp, a.filling)
	}
	return a.volumeByAdding(*a.madeUp, a.masses())
}

// solutionTemperature is that of the solution at the mark in °C, within ±limits:
// measured, or else the 20 °C that it is to come to.
func (a *account) solutionTemperature() (temperature, limits float64) {
	if a.temperature != nil {
		return *a.temperature, measuredTemperatureLimits
	}
	return glassware.ReferenceTemperature, a.temperatureLimits
}
