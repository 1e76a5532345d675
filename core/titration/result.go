package titration

import (
	"fmt"
	"math"
	"slices"

	"vialbench/core/quantity"
	"vialbench/core/reaction"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Trial is one titration: what was taken, and what it took.
type Trial struct {
	// Titre in mL, with its sources.
	Titre uncertain.Number
	// Sample is what was taken of it: mL of a solution, or g of a solid.
	Sample uncertain.Number
	// Excess is what was added of the reagent of a back titration, in mmol.
	Excess uncertain.Number
	Rough  bool
	// SetAside says why it does not count; empty when it does.
	SetAside string
	// Blank reports whether the flask held no analyte.
	Blank bool
}

// counts reports whether it may enter the mean.
func (t Trial) counts() bool { return !t.Rough && !t.Blank && t.SetAside == "" && t.Titre.Value > 0 }

// Known is what is known beforehand: the strength of one side.
type Known struct {
	// Ratio is of the analyte by the titrant.
	Ratio reaction.Ratio
	// Standardise finds the titrant from the analyte; else the analyte from the titrant.
	Standardise bool
	// C in mol/L is the concentration of the species known: of the titrant, or of the analyte
	// in an aliquot.
	C uncertain.Number
	// PerGram in mol/g is how much of the analyte's species a gram of a weighed sample holds:
	// its purity over its molar mass. Weighed reports whether samples are weighed.
	PerGram uncertain.Number
	Weighed bool
	// Back is the ratio of what is sought to the reagent that was added in excess, whose rest is
	// titrated: it is then the analyte of Ratio. Nil of a direct titration.
	Back *reaction.Ratio
}

// Limits of agreement and of what is found besides.
type Limits struct {
	// Concordant in mL is how far apart trials may lie that agree.
	Concordant float64
	// EndPoint in mL is how well the end point is met each time, ± rectangular: about a drop.
	EndPoint float64
}

// Result is that of a set of trials.
type Result struct {
	// Titres are those of all trials less the blank, as each would have been with the sample of
	// the first that is no blank; in mL.
	Titres []float64
	// Used are the places of the trials that agree, or of all that count when none agree.
	Used []int
	// Agreed reports whether at least two of them agree.
	Agreed bool
	Blank  uncertain.Number // mL; zero without one
	// Mean and SD of the titres used, in mL.
	Mean, SD float64
	// C is what was sought in mol/L, or the amount for each g of a weighed sample in mol/g.
	C uncertain.Number
	// TypeA is the half-width of the 95 % interval of the mean by its scatter alone, relative;
	// 0 of one trial.
	TypeA float64
	// Outliers are the tests of the trials that count.
	Outliers []Outlier
	// whole is the excess by the blanks of a back titration, in mmol; zero without one.
	whole uncertain.Number
}

// excess is what was added in excess to a sample, in mmol: as a blank shows it, or as it was
// pipetted.
func (r Result) excess(pipetted uncertain.Number) uncertain.Number {
	if r.whole.Value > 0 {
		return r.whole
	}
	return pipetted
}

// Solve computes the result of trials. An error is a verdict.Problems.
func (k Known) Solve(trials []Trial, l Limits) (Result, error) {
	var r Result
	reference := uncertain.Number{}
	var blanks []uncertain.Number
	for i, t := range trials {
		switch {
		case t.Blank && t.SetAside == "":
			blanks = append(blanks, k.met(t.Titre, i, l))
		case !t.Blank && !(t.Sample.Value > 0):
			return r, verdict.Problems{{Field: fmt.Sprintf("/trials/%d/sample", i), Reason: "what was taken is more than nothing"}}
		case reference.Value == 0 && !t.Blank:
			reference = t.Sample
		}
	}
	if len(blanks) > 0 {
		r.Blank = meanOf(blanks)
		if k.Back != nil {
			r.whole = r.Blank.Times(k.C).Scale(k.Ratio.Value())
		}
	}
	titres, places := r.compare(trials, reference, k)
	if len(places) == 0 {
		return r, verdict.Problems{{Field: "/trials", Reason: "no trial counts yet"}}
	}
	set := Concordant(titres, l.Concordant)
	r.Agreed = set != nil
	if set == nil {
		for i := range places {
			set = append(set, i)
		}
	}
	var used []float64
	var found []uncertain.Number
	for _, i := range set {
		r.Used = append(r.Used, places[i])
		used = append(used, titres[i])
		t := trials[places[i]]
		titre := k.met(t.Titre, places[i], l)
		if k.Back != nil {
			found = append(found, k.back(titre, t.Sample, r.excess(t.Excess)))
			continue
		}
		found = append(found, k.one(titre.Minus(r.Blank), t.Sample))
	}
	r.Mean, r.SD = MeanSD(used)
	r.C = meanOf(found)
	if n := len(used); n > 1 {
		r.TypeA = StudentT(n-1) * r.SD / math.Sqrt(float64(n)) / r.Mean
	}
	// Of three, two that happen to be equal make any third an outlier; and where all agree, what is
	// tested are the steps of the reading.
	tests := []func([]float64) (Outlier, bool){Dixon, Grubbs}
	if len(titres) < 4 || slices.Max(titres)-slices.Min(titres) <= l.Concordant {
		tests = nil
	}
	for _, test := range tests {
		if o, ok := test(titres); ok {
			o.At = places[o.At]
			r.Outliers = append(r.Outliers, o)
		}
	}
	return r, nil
}

// judgeNegative says what makes a result negative; nil of one that is not.
func (r Result) judgeNegative() []verdict.Verdict {
	switch blank := r.Blank.Value; {
	case r.C.Value > 0:
		return nil
	case blank > 0 && r.whole.Value == 0:
		return []verdict.Verdict{
			RuleNegative.Says(
				verdict.Stop,
				nil,
				"The blank, %s mL, is as large as the titre, %s mL, or larger: nothing would be left. One of the two is misread, or they were exchanged.",
				quantity.Digits(blank, 2),
				quantity.Digits(r.Mean+blank, 2),
			),
		}
	}
	return []verdict.Verdict{
		RuleNegative.Finds(
			verdict.Stop,
			nil,
			"What was left takes as much as was added in excess, or more: the sample would hold nothing. One of these figures is misread, or of another sample.",
		),
	}
}

// compare fills in the titres as they would be with one sample, and picks those that count, with
// their places; a rough one is better than none.
func (r *Result) compare(trials []Trial, reference uncertain.Number, k Known) (titres []float64, places []int) {
	for _, t := range trials {
		v := 0.0
		switch {
		case t.Blank:
		case k.Back != nil: // what is used up goes with the sample, not what is left
			whole := r.excess(t.Excess).Value / k.Ratio.Value() / k.C.Value
			v = whole - (whole-t.Titre.Value)*reference.Value/t.Sample.Value
		default:
			v = (t.Titre.Value - r.Blank.Value) * reference.Value / t.Sample.Value
		}
		r.Titres = append(r.Titres, v)
	}
	for _, counts := range []func(Trial) bool{
		Trial.counts,
		func(t Trial) bool { t.Rough = false; return t.counts() },
	} {
		for i, t := range trials {
			if counts(t) {
				titres, places = append(titres, r.Titres[i]), append(places, i)
			}
		}
		if len(places) > 0 {
			break
		}
	}
	return titres, places
}

// met is a titre with the drop that the end point is met within.
func (k Known) met(titre uncertain.Number, trial int, l Limits) uncertain.Number {
	return k.metAt(titre, fmt.Sprintf("end point %d", trial), l)
}

func (k Known) metAt(titre uncertain.Number, id string, l Limits) uncertain.Number {
	if !(l.EndPoint > 0) {
		return titre
	}
	return titre.Plus(uncertain.WithLimits(0, l.EndPoint, uncertain.RectangularShape, uncertain.Source{
		ID: id, Label: "end point", Basis: fmt.Sprintf("±%g mL, rectangular, each time", l.EndPoint),
	}))
}

// one is what a single trial gives.
func (k Known) one(titre, sample uncertain.Number) uncertain.Number {
	ratio := k.Ratio.Value() // analyte by titrant
	switch {
	case k.Standardise && k.Weighed:
		return sample.Times(k.PerGram).Over(titre).Scale(1000 / ratio)
	case k.Standardise:
		return k.C.Times(sample).Over(titre).Scale(1 / ratio)
	case k.Weighed:
		return k.C.Times(titre).Over(sample).Scale(ratio / 1000)
	}
	return k.C.Times(titre).Over(sample).Scale(ratio)
}

// back is what a single trial of a back titration gives.
func (k Known) back(titre, sample, excess uncertain.Number) uncertain.Number {
	n := excess.Minus(k.C.Times(titre).Scale(k.Ratio.Value())).Scale(k.Back.Value())
	if k.Weighed {
		n = n.Scale(1e-3)
	}
	return n.Over(sample)
}

func meanOf(list []uncertain.Number) uncertain.Number {
	sum := uncertain.Number{}
	for _, n := range list {
		sum = sum.Plus(n)
	}
	return sum.Scale(1 / float64(len(list)))
}
