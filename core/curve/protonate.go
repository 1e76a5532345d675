package curve

import (
	"fmt"
	"math"

	"vialbench/core/buffer"
	"vialbench/core/equilibrium"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Protonate is the strong acid by which an amino acid, or another base, is brought to its fully
// protonated form before its curve is taken:
//
//	V(acid) = z·c·V/c(acid)
//
// with z the protons that each molecule still takes up, 1 of a zwitterion. How much went in is
// read, one drop more shows whether it was enough, and all of it enters the balance.
// The fit finds it again: the first jump comes when the base has made up for it.
type Protonate struct {
	Acid     buffer.Stock         `json:"acid"`
	Compound equilibrium.Compound `json:"compound"`
}

// RuleProtonated is about the form that a curve begins with.
var RuleProtonated = verdict.Rule{
	ID: "T-26", Title: "Fully protonated at the start", Threshold: 0.1, Unit: "pH", Min: 0.02, Max: 0.5,
	Why:    "One drop of acid more should change little. While it still moves the pH, some of it is taken up.",
	Source: "common practice",
}

// missing is how many protons each unit still takes up.
func (r Request) missing() float64 { return r.Analyte.Lost() }

// AcidVolume is how much of the acid brings the analyte to its fully protonated form, in mL.
func (r Request) AcidVolume() float64 {
	if r.Protonate == nil {
		return 0
	}
	each := -r.Protonate.Compound.StrongCharge()
	return r.missing() * r.guess() * r.Volume / (each * r.Protonate.Acid.Concentration.Value)
}

// mostAcid is how much of it is that can be meant, in mL.
func (r Request) mostAcid() float64 { return 3*r.AcidVolume() + 1 }

func (r Request) checkProtonate(p *verdict.Problems) {
	switch a := r.Protonate; {
	case a == nil:
	case a.Compound.Strong() >= 0 || !(a.Acid.Concentration.Value > 0):
		p.Add("/acid", "it is brought there with a strong acid of known strength, like HCl")
	case len(r.Analyte.Units) == 0 || !(r.missing() > 0):
		p.Add("/acid", "%s takes up no acid: it is fully protonated as it is", r.Flask.Name)
	case r.Titrant.StrongCharge() <= 0:
		p.Add("/acid", "from its fully protonated form on it is titrated with a base")
	case !(r.AcidVolume() <= r.Volume):
		p.Add("/acid", "that takes %s mL of this acid: take a stronger one", quantity.Digits(r.AcidVolume(), 1))
	}
}

func (r Request) sayAcid() string {
	text := fmt.Sprintf("%s, %s mol/L", called(r.Protonate.Acid), quantity.Digits(r.Protonate.Acid.Concentration.Value, 4))
	if r.Protonate.Acid.Number > 0 {
		text += fmt.Sprintf(", bottle %d", r.Protonate.Acid.Number)
	}
	return text
}

// acid is the amount that went in, in mmol of protons.
func (a *account) acid() float64 {
	if a.Protonate == nil {
		return 0
	}
	return -a.Protonate.Compound.StrongCharge() * a.Protonate.Acid.Concentration.Value * a.acidified
}

// acidStep adds the acid, reads the pH, and asks for one drop more.
func (a *account) acidStep() run.Step {
	s := run.Step{ID: "acid", Asks: true}
	switch {
	case a.acidOwed:
		s.Kind, s.Title = KindAcidPH, fmt.Sprintf("The pH with %s mL of acid", quantity.Digits(a.acidified, 2))
		s.Hint = "Stir; wait until it has settled."
		pH := a.curve().At([]float64{0})[0]
		s.Stands = &run.Stands{PH: pH, Celsius: a.celsius}
		return a.Probe.Meter().Asks(s, a.celsius, a.Probe.Expected(pH, a.celsius))
	case len(a.acidPH) == 0 || a.dropMore:
		s.Kind, s.Input, s.Label, s.Unit, s.Dimensions = KindAcid, run.InputQuantity, "Acid", "mL", []quantity.Dimension{quantity.Volume}
		s.Title = fmt.Sprintf("To its fully protonated form: %s mL of %s into the beaker", quantity.Digits(a.AcidVolume(), 2), a.sayAcid())
		s.Expects = quantity.Digits(a.AcidVolume(), 2) + " mL"
		s.Hint = "As many moles of acid as protons are missing. What is read is what counts."
		if a.unknown() {
			s.Hint = "Its strength is unknown: this amount is a guess. One drop more will show whether it was enough."
		}
		if a.dropMore {
			s.Title, s.Expects, s.Hint = "One drop of acid more", quantity.Digits(acidDrop, 2)+" mL", "About 0.05 mL, unless the drop was counted."
		}
		s.Cautions = []string{"Acid burns skin and eyes: goggles and gloves."}
		return s
	}
	s.Kind, s.Title, s.Asks = KindAcidPH, "Is it fully protonated?", false
	s.Verdicts = []verdict.Verdict{a.judgeAcid()}
	return s
}

// acidDrop is a drop of it in mL (common practice).
const acidDrop = 0.05

// judgeAcid says what the last drop did.
func (a *account) judgeAcid() verdict.Verdict {
	more := verdict.Choice{ID: choiceDrop, Label: "One drop more, and read"}
	enough := verdict.Choice{ID: choiceProtonated, Label: "It is: go on"}
	n := len(a.acidPH)
	last := quantity.Digits(a.acidPH[n-1], 2)
	if n == 1 {
		return RuleProtonated.Says(verdict.Look, []verdict.Choice{more, enough}, "pH %s. One drop more shows whether it was enough.", last)
	}
	moved := math.Abs(a.acidPH[n-1] - a.acidPH[n-2])
	if limit := a.Thresholds.Of(RuleProtonated); moved > limit {
		return RuleProtonated.Says(
			verdict.Look,
			[]verdict.Choice{more, enough},
			"One drop more moved the pH by %s, to %s: some of it is still taken up.",
			quantity.Digits(moved, 2),
			last,
		)
	}
	return RuleProtonated.Says(
		verdict.Fine,
		[]verdict.Choice{enough, more},
		"One drop more moved the pH by %s only, to %s: it is fully protonated.",
		quantity.Digits(moved, 2),
		last,
	)
}
