package titration

import (
	"vialbench/core/droptip"
	"vialbench/core/run"
)

// The bottles that a titration takes from.
const (
	RoleTitrant = "titrant"
	RoleSample  = "sample"
	RoleReagent = "reagent" // what is added in excess
	// RoleUndiluted is the bottle that the sample descends from by dilution.
	RoleUndiluted = "undiluted"
)

// roles are what the two bottles are to the run: one of them may be that whose strength is found.
func (r Request) roles() (titrant, sample string) {
	switch {
	case r.Standardise:
		return run.RoleStandardises, RoleSample
	case r.Settles:
		return RoleTitrant, run.RoleStandardises
	}
	return RoleTitrant, RoleSample
}

// Uses implements [run.Plan]. What is standardised is not what the result depends on.
func (r Request) Uses() run.Uses {
	var uses run.Uses
	if r.By == Weighed || r.Dissolved != nil {
		uses.Instruments = append(uses.Instruments, r.Balance.Name)
	}
	r.Tip.Uses(&uses)
	titrant, sampled := r.roles()
	if r.Titrant.Bottle != "" {
		uses.Sources = append(uses.Sources, run.Source{Role: titrant, Bottle: r.Titrant.Bottle, Needs: r.needs()})
	}
	if r.Back != nil && r.Back.Reagent.Bottle != "" {
		uses.Sources = append(uses.Sources, run.Source{Role: RoleReagent, Bottle: r.Back.Reagent.Bottle, Needs: r.trials() * r.Back.Volume})
	}
	if r.Sample.Bottle != "" {
		sample := run.Source{Role: sampled, Bottle: r.Sample.Bottle}
		if r.By != Weighed {
			sample.Needs = r.trials() * r.Volume
		}
		uses.Sources = append(uses.Sources, sample)
	}
	if r.Descent != nil {
		uses.Sources = append(uses.Sources, run.Source{Role: RoleUndiluted, Bottle: r.Descent.Bottle})
	}
	return uses
}

// drawn is what the trials took out of their bottles, those that were set aside or given up too,
// with what rinsed the burette. What stands in it at the end is left out: a full burette serves
// trial after trial.
func (a *account) drawn() []run.Drawn {
	from, sampled := a.roles()
	titrant, sample, reagent := run.Drawn{Role: from}, run.Drawn{Role: sampled}, run.Drawn{Role: RoleReagent}
	if a.Tip == nil {
		titrant.Volume = a.rinsed() * rinsing * a.holds()
	}
	for i := range a.trials {
		t := &a.trials[i]
		ran, _ := a.titre(i)
		titrant.Volume += max(0, ran.Value)
		if t.taken && !t.blank && a.By != Weighed {
			sample.Volume += t.sample.Value
		}
		if t.taken && a.Back != nil {
			reagent.Volume += a.Back.Volume
		}
	}
	return []run.Drawn{titrant, sample, reagent}
}

// used is what was weighed of a standard; a solid that is to be determined comes from elsewhere.
func (a *account) used() []run.Used {
	if a.Substance == nil || !a.Standardise {
		return nil
	}
	grams := 0.0
	for i := range a.trials {
		if t := &a.trials[i]; t.taken && !t.blank && a.By == Weighed {
			grams += t.sample.Value
		}
	}
	return run.Use(nil, a.Substance.Key, grams, "g")
}

// From implements [run.Sourced]: a solution is what its bottle holds.
func (r Request) From(role string, source run.Product) (run.Plan, bool) {
	var s *Solution
	if role == droptip.RoleTip {
		tip, changed := r.Tip.From(source)
		r.Tip = tip
		return r, changed
	}
	if r.Descent != nil && (role == RoleUndiluted || role == RoleSample) {
		now, changed := r.Descent.Follow(role == RoleUndiluted, source)
		r.Descent = now
		return r, changed
	}
	switch {
	case role == RoleTitrant:
		s = &r.Titrant
	case role == RoleReagent && r.Back != nil:
		back := *r.Back
		r.Back, s = &back, &back.Reagent
	case role == RoleSample && r.Standardise:
		s = &r.Sample
	default:
		return r, false
	}
	c, ok := source.Molar()
	if !ok {
		return r, false
	}
	was := *s
	s.C, s.Approximate = c, !source.Exact
	return r, was.C.Value != c.Value || was.C.U() != c.U() || was.Approximate != s.Approximate
}

// Bound implements [run.Sourced].
func (r Request) Bound(role string, source run.Source, number int64) run.Plan {
	if _, sample := r.roles(); role == sample {
		role = RoleSample
	}
	switch role {
	case RoleTitrant, run.RoleStandardises:
		r.Titrant.Bottle, r.Titrant.Number = source.Bottle, number
	case RoleSample:
		r.Sample.Bottle, r.Sample.Number = source.Bottle, number
	case RoleUndiluted:
		d := *r.Descent
		d.Bottle, d.Number = source.Bottle, number
		r.Descent = &d
	case RoleReagent:
		back := *r.Back
		back.Reagent.Bottle, back.Reagent.Number = source.Bottle, number
		r.Back = &back
	case droptip.RoleTip:
		r.Tip = r.Tip.Bound(source, number)
	}
	return r
}

// SolutionOf is what a bottle holds for a reaction, as its titrant or its analyte; ok is false
// when it holds none of it.
func (r Reaction) SolutionOf(p run.Product, bottle string, number int64, titrant bool) (s Solution, ok bool) {
	c, ok := p.Molar()
	if !ok || p.Solute() == "" {
		return s, false
	}
	s = Solution{Name: p.Name, Formula: p.Solute(), Bottle: bottle, Number: number, C: c, Approximate: !p.Exact}
	of := r.AnalyteUnits
	if titrant {
		of = r.TitrantUnits
	}
	s.Units, ok = of(s.Formula)
	return s, ok
}
