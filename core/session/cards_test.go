package session_test

import (
	"fmt"
	"strings"
	"testing"

	"vialbench/core/run"
	"vialbench/core/session"
	"vialbench/core/verdict"
)

func TestWhatAGroupFillsIn(t *testing.T) {
	s := pondWater()
	s.Items[0].Pieces = 2
	s.Items = append(s.Items,
		session.Item{ID: "c", Name: "phosphate buffer", PH: "7", Each: "25 mL", Times: 4, Glass: session.Probe},
		session.Item{ID: "d", Name: "iron standards", Each: "3 mL", Times: 6, Glass: session.Cuvette},
		session.Item{ID: "e", Name: "indicator", Each: "0.1 mL", Times: 3})
	var got []string
	for _, b := range s.Blanks(verdict.Thresholds{"S-1": 2}) {
		got = append(got, fmt.Sprintf("%s: %s, %d", b.Title, strings.Join(b.Columns, "|"), b.Rows))
	}
	want := []string{
		"sodium hydroxide, burette 1: trial|start, mL|end, mL|used, mL|remarks, 4",
		"sodium hydroxide, burette 2: trial|start, mL|end, mL|used, mL|remarks, 4",
		"phosphate buffer: reading|pH|°C|time|remarks, 4",
		"iron standards: reading|wavelength, nm|blank|absorbance|remarks, 6",
	}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("%s\nwant\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
	for i, want := range []string{
		"2 × 20 mL from 2 burettes of 50 mL", "2 × 20 mL from a pipette of 20 mL", "4 × 25 mL from a beaker of 50 mL",
		"6 × 3 mL from a cuvette of 3 mL", "3 × 0.1 mL",
	} {
		if got := s.Items[i].Uses(); got != want {
			t.Errorf("%s, want %s", got, want)
		}
	}
}

func TestItemOfALiquid(t *testing.T) {
	got := session.ItemOf(run.Liquid{Name: "Phosphate buffer", Strength: "0.05 mol/L", PH: 7.018, Each: 25, Times: 2, From: "probe", Size: 50, Known: true})
	want := session.Item{
		Name: "Phosphate buffer", Concentration: "0.05 mol/L", PH: "7.02", Each: "25 mL", Times: 2, Glass: session.Probe, Size: "50 mL", Standardised: true,
	}
	if fmt.Sprint(got) != fmt.Sprint(want) {
		t.Errorf("%+v, want %+v", got, want)
	}
	if got = session.ItemOf(run.Liquid{Name: "Indicator"}); fmt.Sprint(got) != fmt.Sprint(session.Item{Name: "Indicator", Times: 1}) {
		t.Errorf("%+v", got)
	}
}
