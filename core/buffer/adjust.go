package buffer

import (
	"fmt"
	"math"

	"vialbench/core/equilibrium"
	"vialbench/core/quantity"
)

// Advice is how much acid or base is still to be added.
type Advice struct {
	// Acid tells that it is acid, else base.
	Acid bool `json:"acid"`
	// All is what is reckoned to be needed in mL, First a safe portion of it.
	All   float64 `json:"all"`
	First float64 `json:"first"`
	// Goal is the pH to come to in the beaker.
	Goal float64 `json:"goal"`
	// TooMuch tells that it would pass the mark.
	TooMuch bool `json:"tooMuch"`
}

// Advise reckons from a reading what brings a mixture of so many mL to the pH that comes to
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
	strength := r.StrongBase
	if a.Acid = mmol < 0; a.Acid {
		strength = r.StrongAcid
	}
	a.All = math.Abs(mmol) / strength
	a.First = a.All * r.Thresholds.Of(RulePortion) / 100
	a.TooMuch = volume+a.All > r.Volume*r.Thresholds.Of(RuleRoom)/100
	return a, nil
}

// with names the reagent of an advice: “sodium hydroxide solution, 1 mol/L”.
func (r Request) with(acid bool) string {
	if acid {
		return "hydrochloric acid, " + trim(r.StrongAcid) + " mol/L"
	}
	return "sodium hydroxide solution, " + trim(r.StrongBase) + " mol/L"
}

// mL writes a small volume.
func mL(x float64) string { return quantity.Digits(roundTo(x, 2), -1) + " mL" }

// say puts an advice into a sentence.
func (r Request) sayAdvice(a Advice) string {
	return fmt.Sprintf("Add %s of %s; about %s in all.", mL(a.First), r.with(a.Acid), mL(a.All))
}
