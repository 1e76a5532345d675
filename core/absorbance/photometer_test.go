package absorbance_test

import (
	"slices"
	"strings"
	"testing"

	"vialbench/core/absorbance"
	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
)

func dunlin() *photometry.Photometer {
	m := photometry.UsualPhotometer()
	m.Name, m.StrayLight = "Dunlin", 0.1
	return &m
}

// A photometer on record is read by every step at the wavelength of the line, which it has to reach, and is named by every reading.
func TestReadWithAPhotometer(t *testing.T) {
	r := six()
	r.Photometer = dunlin()
	if got := r.Uses().Instruments; !slices.Equal(got, []string{"Dunlin"}) {
		t.Error(got)
	}
	b := begun(t, r)
	step := b.atHand()
	if !step.Tares || step.Instrument != "Dunlin" || step.Wavelength != 880 || step.Molar == nil || *step.Molar != 0 {
		t.Errorf("the blank: %+v", step)
	}
	b.do(absorbance.KindBlank, 0, "0.000")
	step = b.atHand()
	if step.Tares || step.Instrument != "Dunlin" || step.Molar == nil {
		t.Errorf("the first tube: %+v", step)
	}
	out, _ := b.out()
	var molar []float64
	for _, s := range out.Steps {
		if s.Kind == absorbance.KindRead && s.Molar != nil {
			molar = append(molar, *s.Molar)
		}
	}
	if len(molar) != len(r.Standards) {
		t.Fatalf("what is in the cell is known of %d tubes", len(molar))
	}
	near(t, "mol/L of 1 mg/L P", molar[1], 1e-3/30.973761998, 1e-12)
	wrong := fact.Fact{Kind: absorbance.KindRead, Beside: []quantity.Quantity{quantity.Of(620, "nm")}}
	if err := b.state(wrong, "0.1"); err == nil || !strings.Contains(err.Error(), "stood at 620 nm") {
		t.Error(err)
	}
	right := fact.Fact{Kind: absorbance.KindRead, Beside: []quantity.Quantity{quantity.Of(880, "nm")}, Instrument: "Dunlin"}
	if err := b.state(right, "0.004"); err != nil {
		t.Fatal(err)
	}
	b.do(absorbance.KindRead, 1, "1.960")
	if out, _ = b.out(); len(out.Readings) != 3 || out.Readings[2].Instrument != "Dunlin" {
		t.Errorf("%+v", out.Readings)
	}
	said := ""
	for _, s := range out.Steps {
		for _, v := range s.Verdicts {
			said += v.Sentence + "\n"
		}
	}
	if !strings.Contains(said, "Stray light of Dunlin takes 2.1 % off 1.960 AU") {
		t.Error(said)
	}

	r.Wavelength = 300
	if _, err := r.Design(); err == nil || !strings.Contains(err.Error(), "Dunlin reaches 320 to 1000 nm") {
		t.Error(err)
	}
}

// Without one, nothing is set to zero by the sheet, and no reading is an instrument's.
func TestReadWithoutAPhotometer(t *testing.T) {
	b := begun(t, six())
	if step := b.atHand(); step.Tares || step.Instrument != "" {
		t.Errorf("%+v", step)
	}
	b.do(absorbance.KindBlank, 0, "0.000")
	if out, _ := b.out(); len(out.Readings) != 0 || six().Uses().Instruments != nil {
		t.Errorf("%+v", out.Readings)
	}
}
