package buffer

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"vialbench/core/equilibrium"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Advice is how much acid or base is still to be added.
type Advice struct {
	// Acid reports whether it is acid, else base.
	Acid bool `json:"acid"`
	// All is what is needed in mL, First a safe portion of it.
	All   float64 `json:"all"`
	First float64 `json:"first"`
	// Goal is the pH to come to in the beaker.
	Goal float64 `json:"goal"`
	// TooMuch reports whether it would pass the mark.
	TooMuch bool `json:"tooMuch"`
}

// Advise calculates from a reading what brings a mixture of so many mL to the pH that gives
// the target once the flask is filled:
//
//	n = (b(goal) − b(read))·V,  goal = target − (pH filled − pH now)
//
// with b(pH) the strong base in mol/L that the balance asks for. The change by filling up
// is that of the model. An error is a verdict.Problems.
func (r Request) Advise(m equilibrium.Mixture, volume, measured, target float64) (Advice, error) {
	s, err := m.Solver()
	if err != nil {
		return Advice{}, err
	}
	filled, err := m.Scaled(exact(volume / r.Volume)).Solver()
	if err != nil {
		return Advice{}, err
	}
	a := Advice{Goal: target - (filled.Solve().PH - s.Solve().PH)}
	_, is := s.At(measured)
	_, wanted := s.At(a.Goal)
	mmol := (wanted - is) * volume
	a.Acid = mmol < 0
	a.All = math.Abs(mmol) / r.strength(a.Acid).Value
	a.First = a.All * r.Thresholds.Of(RulePortion) / 100
	a.TooMuch = volume+a.All > r.Volume*r.Thresholds.Of(RuleRoom)/100
	return a, nil
}

// strongLimits is how well the acid and base at the bench are known, as a fraction.
const strongLimits = 0.02

// strength of the acid or base at the bench, in mol/L: that of its bottle, or as stated.
func (r Request) strength(acid bool) uncertain.Number {
	stock, stated, id := r.BaseStock, r.StrongBase, "Na+"
	if acid {
		stock, stated, id = r.AcidStock, r.StrongAcid, "Cl-"
	}
	if stock != nil {
		return stock.Concentration
	}
	return uncertain.New(stated, strongLimits*stated, uncertain.Source{
		ID: "strength " + id, Label: "acid or base added", Basis: "±2 % (k = 1)",
	})
}

// The thinnest and the strongest acid or base that a buffer is brought to its pH with, in
// mol/L.
const thinnest, strongest = 0.001, 12

// reagents reads what a buffer is to be brought to its pH with.
func (q Question) reagents(r *Request, p *verdict.Problems) {
	for _, x := range []struct {
		field, bottle string
		c             float64
		into          **Stock
		charge        float64 // of its strong ion
		like          string
	}{
		{"Acid", q.AcidBottle, r.StrongAcid, &r.AcidStock, -1, "a strong acid of one proton, like hydrochloric acid"},
		{"Base", q.BaseBottle, r.StrongBase, &r.BaseStock, 1, "a strong base, like sodium hydroxide"},
	} {
		if !(x.c >= thinnest && x.c <= strongest) {
			p.Add("/strong"+x.field, "what brings it to its pH has from %g to %d mol/L", thinnest, strongest)
		}
		if x.bottle == "" {
			continue
		}
		field := "/" + strings.ToLower(x.field) + "Bottle"
		i := slices.IndexFunc(q.Shelf, func(s Stock) bool { return s.Bottle == x.bottle })
		if i < 0 {
			p.Add(field, "this bottle is not on the shelf any more, or is no acid or base: choose another one")
			continue
		}
		s := q.Shelf[i]
		if c, ok := s.ingredient().Compound(); !ok || c.Strong() == 0 || c.StrongCharge() != x.charge {
			p.Add(field, "bottle %d is none: take %s", s.Number, x.like)
			continue
		}
		*x.into = &s
	}
}

// Follow is a stock as its bottle holds it now.
func (s *Stock) Follow(source run.Product) (now *Stock, changed bool) {
	c, ok := source.Molar()
	if !ok || s == nil {
		return s, false
	}
	is := *s
	is.Concentration = c
	return &is, c.Value != s.Concentration.Value || c.U() != s.Concentration.U()
}

// Bound is a stock in another lab, where its bottle has another name.
func (s *Stock) Bound(source run.Source, number int64) *Stock {
	if s == nil {
		return nil
	}
	is := *s
	is.Bottle, is.Number = source.Bottle, number
	return &is
}

// with names the reagent of an advice: “sodium hydroxide solution, 1 mol/L”.
func (r Request) with(acid bool) string {
	stock := r.BaseStock
	if acid {
		stock = r.AcidStock
	}
	if stock != nil {
		return fmt.Sprintf("%s, %s mol/L, bottle %d", run.LowerFirst(stock.Name), trim(stock.Concentration.Value), stock.Number)
	}
	if acid {
		return "hydrochloric acid, " + trim(r.StrongAcid) + " mol/L"
	}
	return "sodium hydroxide solution, " + trim(r.StrongBase) + " mol/L"
}

// mL writes a small volume.
func mL(x float64) string { return quantity.Digits(quantity.Significant(x, 2), -1) + " mL" }

// say puts an advice into a sentence.
func (r Request) sayAdvice(a Advice) string {
	return fmt.Sprintf("Add %s of %s; about %s in all.", mL(a.First), r.with(a.Acid), mL(a.All))
}
