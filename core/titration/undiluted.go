package titration

import (
	"fmt"

	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
)

// factor is how many times the sample was diluted, 1 when it was not: as was typed, which is known as
// well as the rule has it, and by the descent of its bottle.
func (r Request) factor() uncertain.Number {
	f := run.TypedFactor(r.Diluted, "dilution beforehand", r.Thresholds)
	if r.Descent != nil {
		f = f.Times(r.Descent.Factor())
	}
	return f
}

// diluted reports whether there is an undiluted sample to go back to.
func (r Request) diluted() bool { return r.Diluted > 1 || r.Descent != nil }

// undiluted follows the name of what is told of the sample before it was diluted; empty when it
// was not.
func (r Request) undiluted() string {
	switch {
	case r.Descent != nil:
		return fmt.Sprintf(", undiluted (bottle %d)", r.Descent.Number)
	case r.Diluted > 1:
		return ", undiluted"
	}
	return ""
}

// sayDescent says how the sample was diluted, where its bottle tells.
func (r Request) sayDescent() string {
	if r.Descent == nil {
		return ""
	}
	return fmt.Sprintf(", diluted %s times from bottle %d", quantity.Digits(r.factor().Value, 4), r.Descent.Number)
}

// setTimes is the dilution of the sample as a factor of a formula; empty of an undiluted one.
func (r Request) setTimes() string {
	if !r.diluted() {
		return ""
	}
	f := r.factor()
	if r.Descent == nil {
		return ` \times ` + quantity.Digits(f.Value, -1)
	}
	text, _ := quantity.Round(f.Value, f.Expanded()/100) // the factor is one of several: two digits more
	return ` \times ` + text
}

// sayFactor says where the factor came from.
func (r Request) sayFactor() string {
	text := "F: how many times it had been diluted"
	if r.Descent != nil {
		text += fmt.Sprintf(", by the record of its bottle since bottle %d", r.Descent.Number)
	}
	return text
}

// undilutedFigure is the undiluted concentration of what was found in the sample, mol/L.
func (a *account) undilutedFigure(c uncertain.Number) figure.Figure {
	label := a.Sought() + " in " + run.LowerFirst(a.Sample.Name) + a.undiluted()
	return figure.New("undiluted", label, "mol/L", c.Times(a.factor())).As(figure.OtherConcentration)
}
