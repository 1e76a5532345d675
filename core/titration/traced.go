package titration

import (
	"slices"

	"vialbench/core/fact"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/slip"
)

// Trace implements [slip.Traceable] of what is found in aliquots by a burette that is read: the undiluted concentration, or
// that of the titrant.
func (r Request) Trace(facts []fact.Fact) (w slip.Worked, ok bool) {
	if r.Reaction.Pair() || r.Back != nil || r.Tip != nil || r.By == Weighed || r.Dissolved != nil {
		return w, false
	}
	a, err := r.follow(facts)
	if err != nil {
		return w, false
	}
	found, places, ok := a.result()
	units := cmpUnits(a.Titrant.Units)
	if !ok || found.Blank.Value != 0 || r.Standardise && units != 1 {
		return w, false
	}
	k := a.known()
	t := slip.Titration{
		Titrant: slip.Bottled{Name: a.Titrant.Name, C: k.C.Value}, Ratio: k.Ratio.Value(), Standardises: r.Standardise,
		Aliquot: slip.Glass{ML: a.meanSample(found).Value, Others: glassware.OneMarkVolumes()}, Burette: a.Burette.Volume,
	}
	if r.Standardise {
		t.Titrant.Name, t.Ratio = a.Sample.Name, 1/t.Ratio
	}
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
	w = slip.Worked{Figures: slip.Figures{Titration: &t}, Unit: "mol/L", Value: c.Value, U: c.Expanded()}
	for _, i := range found.Used {
		share := found.Titres[slices.Index(places, i)] / found.Mean
		if r.Standardise {
			share = 1 / share
		}
		w.Runs = append(w.Runs, c.Value*share)
	}
	return w, true
}

// readTrials are the trials that have two readings: one that was refilled on the way has more.
func (a *account) readTrials(found Result, places []int) (list []slip.Trial) {
	for _, i := range places {
		trial := &a.trials[i]
		if len(trial.before) == 0 && trial.setAside == "" {
			list = append(list, slip.Trial{Start: trial.start, End: trial.last(), Rough: !slices.Contains(found.Used, i)})
		}
	}
	return list
}
