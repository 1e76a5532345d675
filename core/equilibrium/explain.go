package equilibrium

import "vialbench/core/working"

// Lines show the balance of charge at the pH at which it holds, and that pH.
func (a Answer) Lines() []working.Line {
	var minus, from []string
	sum := 0.0
	for _, term := range a.Balance {
		from = append(from, term.Name+": "+working.SayNumber(term.Value)+" mol/L")
		if term.Value < 0 {
			minus = append(minus, working.Number(-term.Value))
			sum -= term.Value
		}
	}
	proton := a.Species[0]
	return []working.Line{
		{
			Title: "Balance of charge: as much above as below, at one pH only", Symbol: `\textstyle\sum^+`,
			Formula: `\sum_{z>0} z_i c_i = \sum_{z<0} |z_i|\, c_i`, Substituted: `\sum^+ = ` + working.Sum(minus),
			Result: working.Digits(sum) + " mol/L", From: from,
		},
		{
			Title: "pH at which it holds", Symbol: `\mathrm{pH}`, Formula: `\mathrm{pH} = -\log(\gamma\,[\mathrm{H^+}])`,
			Substituted: `\mathrm{pH} = -\log(` + working.Number(proton.Activity) + ` \times ` + working.Number(proton.C) + `)`,
			Result:      working.Result(a.PH, ""), From: []string{"γ: of H⁺, at the ionic strength of the buffer"},
		},
	}
}
