package titration

import (
	"fmt"
	"strings"
	"testing"

	"vialbench/core/glassware"
)

// What each place needs is what the plan of one place says: 25 mL of 0.1 mol/L take as much of 0.1 mol/L.
func TestLiquidsForAClass(t *testing.T) {
	said := func(r Request) string {
		var list []string
		for _, l := range r.Liquids() {
			list = append(list, fmt.Sprintf("%s %s %g×%d %s %g %v", l.Name, l.Strength, l.Each, l.Times, l.From, l.Size, l.Known))
		}
		return strings.Join(list, "; ")
	}
	r := lye(t)
	want := "Sodium hydroxide 0.1 mol/L 25×2 burette 50 false; Potassium hydrogen phthalate 0.1 mol/L 25×2 pipette 25 true"
	if got := said(r); got != want {
		t.Errorf("%s, want %s", got, want)
	}
	r.Standardise = false
	if got := r.Liquids(); !got[0].Known || got[1].Known {
		t.Errorf("what finds must be known, what is found not: %+v", got)
	}
	r.By, r.Glass = ByCylinder, glassware.Item{Kind: glassware.Cylinder, Volume: 50}
	if got := r.Liquids()[1]; got.From != "" || got.Size != 0 {
		t.Errorf("%+v", got)
	}
	r.By = Weighed
	if got := r.Liquids(); len(got) != 1 {
		t.Errorf("what is weighed is no liquid: %+v", got)
	}
	if got := strengthOf(Solution{}); got != "" {
		t.Errorf("an unknown of %s", got)
	}
}
