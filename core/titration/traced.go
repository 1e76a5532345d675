package titration

import (
	"math"
	"slices"

	"vialbench/core/fact"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/slip"
	"vialbench/core/uncertain"
)

// Trace implements [slip.Traceable] of what is found by one end point in aliquots, directly or by what an excess leaves: the
// undiluted concentration, or the part by mass of a solid that was made up to a flask, in %; or of a titrant that is standardised, also
// by weighed samples. The burette is read, or drops are counted.
func (r Request) Trace(facts []fact.Fact) (w slip.Worked, ok bool) {
	if r.Reaction.Pair() || r.By == Weighed && !r.Standardise {
		return w, false
	}
	a, err := r.follow(facts)
	if err != nil {
		return w, false
	}
	found, places, ok := a.result()
	if !ok || r.Standardise && cmpUnits(a.Titrant.Units) != 1 || r.Back != nil && found.Blank.Value != 0 {
		return w, false
	}
	t := a.traced(found)
	t.Trials = a.readTrials(found, places)
	if !slices.ContainsFunc(t.Trials, func(t slip.Trial) bool { return !t.Rough }) {
		return w, false
	}
	c := found.C
	if a.diluted() && !r.Standardise {
		c = c.Times(a.factor())
		t.Diluted = []slip.Dilution1{{Aliquot: slip.Glass{ML: 1}, Flask: slip.Glass{ML: a.factor().Value}}}
	}
	if f, err := formula.Parse(a.Sought()); err == nil {
		t.MolarMass = f.MolarMass().Value
	}
	w = slip.Worked{Figures: slip.Figures{Titration: &t}, Unit: "mol/L"}
	if r.Dissolved != nil {
		if c, t.Solid, ok = a.part(found.C); !ok {
			return w, false
		}
		w.Unit = "% w/w"
	}
	w.Value, w.U = c.Value, c.Expanded()
	w.Density = r.Density
	if r.Back != nil { // a titre that is a little more is a result that is a little less: its trials are no shares of it
		return w, true
	}
	for _, i := range found.Used {
		share := found.Titres[slices.Index(places, i)] / found.Mean
		if r.Standardise {
			share = 1 / share
		}
		w.Runs = append(w.Runs, c.Value*share)
	}
	return w, true
}

// traced is what it is worked out from, but for the trials.
func (a *account) traced(found Result) slip.Titration {
	k := a.known()
	t := slip.Titration{
		Titrant: slip.Bottled{Name: a.Titrant.Name, C: k.C.Value}, Ratio: k.Ratio.Value(), Standardises: a.Standardise,
		Burette: a.Burette.Volume, Blank: found.Blank.Value,
	}
	if a.Standardise {
		t.Titrant.Name, t.Ratio = a.Sample.Name, 1/t.Ratio
	}
	if a.Tip != nil {
		t.DropML, t.Burette = a.Tip.Volume.Value, 0
	}
	if a.By == Weighed {
		t.Weighed = a.solid()
	} else {
		t.Aliquot = slip.Glass{ML: a.meanSample(found).Value, Others: glassware.OneMarkVolumes()}
	}
	if b := a.Back; b != nil {
		t.Excess = &slip.Excess{
			Reagent: slip.Bottled{Name: b.Reagent.Name, C: b.Reagent.species().Value}, Ratio: k.Back.Value(),
			Aliquot: slip.Glass{ML: b.Volume, Others: glassware.OneMarkVolumes()},
		}
	}
	return t
}

// part is the part by mass of a solid that was made up to a flask, in %, by the concentration that was found in it.
func (a *account) part(c uncertain.Number) (w uncertain.Number, of *slip.Solid, ok bool) {
	compound, units := a.soughtInSolid()
	f, err := formula.Parse(compound)
	b, ok := a.perGramFound(c.Scale(1 / units))
	if err != nil || !ok {
		return w, nil, false
	}
	flask := slip.Glass{ML: a.Dissolved.Flask.Volume, Others: glassware.Flasks(nil).Volumes(a.Dissolved.Flask.Class)}
	of = &slip.Solid{Mass: a.prepared.solid.Value, Flask: flask, MolarMass: f.MolarMass().Value, Units: units}
	return b.Times(f.MolarMass()).Scale(100), of, true
}

// solid is that of which samples are weighed: what is not its molar mass stands in its purity.
func (a *account) solid() *slip.Weighing {
	w := slip.Weighing{}
	if f, err := formula.Parse(a.Substance.Formula); err == nil {
		w.MolarMass = f.MolarMass().Value
		w.Purity = quantity.Significant(a.perGram().Value*w.MolarMass, 9)
	}
	return &w
}

// readTrials are the trials that have two readings, or a count: one that was refilled on the way has more.
func (a *account) readTrials(found Result, places []int) (list []slip.Trial) {
	for _, i := range places {
		trial := &a.trials[i]
		if len(trial.before) > 0 || trial.setAside != "" {
			continue
		}
		t := slip.Trial{Start: trial.start, End: trial.last(), Rough: !slices.Contains(found.Used, i)}
		if a.Tip != nil {
			t = slip.Trial{Drops: int(math.Round(trial.last())), Rough: t.Rough}
		}
		if a.By == Weighed {
			t.Sample = trial.sample.Value
		}
		list = append(list, t)
	}
	return list
}
