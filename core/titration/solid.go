package titration

import (
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

// solidFigures are those of a solid that was weighed: how much of what reacts a gram holds, and
// its part by mass or its molar mass.
func (a *account) solidFigures(r Result) []figure.Figure {
	perGram := r.C.Scale(1000)
	list := []figure.Figure{figure.New("c", a.Sought()+" in each gram", "mmol/g", perGram)}
	if a.Substance != nil {
		if f, err := formula.Parse(a.Substance.Formula); err == nil {
			part := r.C.Scale(1 / cmpUnits(a.Sample.Units)).Times(f.MolarMass()).Scale(100)
			list = append(list, figure.New("purity", "part by mass that is "+run.LowerFirst(a.Substance.Name), "%", part))
			if dry, water, is := hydrate(f); is {
				waters := a.perUnit(r).Minus(dry.MolarMass()).Over(water.MolarMass())
				list = append(list, figure.New("waters", "x in "+dry.String()+"·xH2O, if nothing else is in it", "", waters))
			}
			return list
		}
	}
	list = append(
		list,
		figure.New("molar mass", "molar mass, if a molecule reacts as one "+a.Sought(), "g/mol", uncertain.Exact(1).Over(r.C)),
	)
	if _, n, _, ok := a.equivalents(); ok {
		list = append(
			list,
			figure.New("equivalent mass", "equivalent mass, that of one mole of equivalents", "g/mol", uncertain.Exact(1/n).Over(r.C)),
		)
	}
	return list
}

// perUnit is the mass in g of a solid that brings as much as one mole of it does.
func (a *account) perUnit(r Result) uncertain.Number {
	return uncertain.Exact(cmpUnits(a.Sample.Units)).Over(r.C)
}

// hydrate parts a formula into what is left without its water, and water.
func hydrate(f formula.Formula) (dry, water formula.Formula, ok bool) {
	dry, err1 := f.WithWaters(0)
	water, err2 := formula.Parse("H2O")
	return dry, water, f.Waters() > 0 && err1 == nil && err2 == nil
}
