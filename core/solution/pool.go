package solution

import (
	"strings"

	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Poured is a finished batch and how much of it is poured together with others.
type Poured struct {
	run.Outcome
	// Share is the part of it that is left and poured, 0…1.
	Share float64
}

// Pool is the outcome of pouring batches of one plan together:
//
//	c = Σ c·V / Σ V
//
// of each batch, with V the volume poured. What the batches share, like the assay
// or the tolerance of one flask filled several times, stays one error; filling and
// weighing are errors of each. An error is a verdict.Problems.
func Pool(batches []Poured) (run.Outcome, error) {
	var p verdict.Problems
	if len(batches) < 2 {
		p.Add("/bottles", "pouring together takes at least two bottles")
		return run.Outcome{}, p
	}
	first := batches[0].Outcome
	for _, b := range batches {
		switch {
		case b.Status != run.Finished || len(b.Figures) != len(first.Figures):
			p.Add("/bottles", "only finished bottles of one plan are poured together")
		case !(b.Share > 0 && b.Share <= 1):
			p.Add("/bottles", "a bottle with nothing left cannot be poured together with others")
		}
	}
	if len(p) > 0 {
		return run.Outcome{}, p
	}
	total := uncertain.Number{}
	for _, b := range batches {
		total = total.Plus(b.volume().Scale(b.Share))
	}
	out := run.Outcome{Status: run.Finished, Exact: true, Volume: total.Value, Store: first.Store}
	for i, f := range first.Figures {
		sum := uncertain.Number{}
		concentration := strings.HasSuffix(strings.TrimRight(f.ID, " 23456789"), "oncentration")
		for _, b := range batches {
			n := b.Figures[i].Scale(b.Share)
			if concentration {
				n = n.Times(b.volume())
			}
			sum = sum.Plus(n)
		}
		if concentration {
			sum = sum.Over(total)
		}
		out.Figures = append(out.Figures, figure.New(f.ID, f.Label, f.Unit, sum))
	}
	for _, b := range batches {
		out.Exact = out.Exact && b.Exact
		out.Expires = earlier(out.Expires, b.Expires)
		out.StandardiseBy = earlier(out.StandardiseBy, b.StandardiseBy)
		out.Weighed = append(out.Weighed, b.Weighed...)
	}
	vessel := run.Vessel{Level: quantity.Digits(total.Value, 0) + " mL poured together", Filled: total.Value}
	if first.Vessel != nil {
		vessel.Flask, vessel.Unit, vessel.With = first.Vessel.Flask, first.Vessel.Unit, first.Vessel.With
	}
	vessel.Flask.Volume = total.Value
	out.Vessel = &vessel
	return out, nil
}

// volume is the figure of the volume in mL.
func (b Poured) volume() uncertain.Number {
	for _, f := range b.Figures {
		if f.ID == "volume" {
			return f.Number
		}
	}
	return uncertain.Exact(b.Volume)
}

// earlier returns the earlier of two days, YYYY-MM-DD; an empty one is no day.
func earlier(a, b string) string {
	if a == "" || b != "" && b < a {
		return b
	}
	return a
}
