package capacity

import (
	"fmt"

	"vialbench/core/buffer"
	"vialbench/core/equilibrium"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Titrant is an acid or a base that is added from a bottle on the shelf.
type Titrant struct {
	Name   string `json:"name"`
	Bottle string `json:"bottle"`
	Number int64  `json:"number"`
	// C is its concentration in mol/L, Compound what it brings into water.
	C        uncertain.Number     `json:"c"`
	Compound equilibrium.Compound `json:"compound"`
}

// String names it as the run sheet does.
func (t Titrant) String() string {
	return fmt.Sprintf("%s from bottle %d", run.LowerFirst(t.Name), t.Number)
}

// TitrantOf is a bottle as a titrant; ok is false when it is no solution of one
// acid or base with an amount concentration. own are systems of the lab's own.
func TitrantOf(p run.Product, bottle string, number int64, own ...equilibrium.System) (t Titrant, ok bool) {
	s, ok := buffer.StockOf(p, bottle, number, 0, own...)
	if !ok {
		return t, false
	}
	compound, ok := equilibrium.CompoundOf(s.Formula, own...)
	return Titrant{Name: p.Title, Bottle: bottle, Number: number, C: s.Concentration, Compound: compound}, ok
}

// leastGiven is how many protons each molecule gives off or takes up for it to count as an
// acid or a base at the pH of the buffer.
const leastGiven = 0.01

func (r Request) checkTitrants(p *verdict.Problems) {
	for _, b := range r.beakers() {
		if b.Water || b.from == nil {
			continue
		}
		v := r.vessel(b)
		if pH := v.Theory([]float64{0})[0].PH; v.gives(pH) < leastGiven {
			field, what := "/baseFrom", "takes up no proton"
			if b.Acid {
				field, what = "/acidFrom", "gives off no proton"
			}
			p.Add(field, "%s %s at the pH of this buffer (%s): take another bottle", run.UpperFirst(b.from.Name), what, quantity.Digits(pH, 1))
		}
	}
}

// follow is a titrant as its bottle holds it now.
func (t *Titrant) follow(source run.Product) (now *Titrant, changed bool) {
	if t == nil {
		return nil, false
	}
	var own []equilibrium.System
	for _, u := range t.Compound.Units {
		own = append(own, u.System)
	}
	is, ok := TitrantOf(source, t.Bottle, t.Number, own...)
	if !ok {
		return t, false
	}
	return &is, is.C.Value != t.C.Value || is.C.U() != t.C.U()
}

// bound is a titrant in another lab, where its bottle has another name.
func (t *Titrant) bound(source run.Source, number int64) *Titrant {
	if t == nil {
		return nil
	}
	now := *t
	now.Bottle, now.Number = source.Bottle, number
	return &now
}

// MixtureOf is what is dissolved in a product: that of a buffer, or its one solute.
// own are systems of the lab's own.
func MixtureOf(p run.Product, own ...equilibrium.System) (m equilibrium.Mixture, ok bool) {
	if p.Mixture != nil {
		return *p.Mixture, true
	}
	s, ok := buffer.StockOf(p, "", 0, 0, own...)
	if !ok {
		return m, false
	}
	compound, ok := equilibrium.CompoundOf(s.Formula, own...)
	m.Add(compound, s.Concentration)
	return m, ok
}
