package quantity_test

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

func TestNumberAsPeopleTypeIt(t *testing.T) {
	for text, want := range map[string]float64{
		"12.5": 12.5, "12,5": 12.5, "99.95 %": 99.95, "−3": -3, "+4": 4, "1e-3": 0.001, "1,000,000": 1e6, "1.000.000": 1e6, "1,000.5": 1000.5,
		"1.000,5": 1000.5, "1\u202f000": 1000, "1.000": 1, "0,100": 0.1, "1000": 1000, ".5": 0.5,
	} {
		if got, err := quantity.Number(text); err != nil || got != want {
			t.Errorf("%q is %g, %v; want %g", text, got, err, want)
		}
	}
	for text, advice := range map[string]string{
		"1,000": "1000 or as 1.000", "-2,500": "-2500 or as -2.500", "": "no number", "%": "no number", "1 000": "two numbers", "1,2,3": "two ways",
		"1,00.5": "two ways", "0x10": "not a number", "1_000": "not a number", "Inf": "not a number", "NaN": "not a number", "1e999": "not a number", "٣": "digits 0 to 9", "abc": "not a number",
	} {
		if got, err := quantity.Number(text); err == nil || !strings.Contains(err.Error(), advice) {
			t.Errorf("%q is %g, %v; want an error with %q", text, got, err, advice)
		}
	}
}

// asked is a question with every kind of field.
type asked struct {
	Assay  float64            `json:"assay"`
	Count  int                `json:"count"`
	Waters *float64           `json:"waters"`
	Name   string             `json:"name"`
	List   []float64          `json:"list"`
	Limits map[string]float64 `json:"limits"`
	Inner  struct {
		Volume quantity.Quantity `json:"volume"`
		Mass   float64           `json:"mass"`
	} `json:"inner"`
}

func TestDecodeReadsWhatWasTyped(t *testing.T) {
	var a asked
	err := quantity.Decode([]byte(`{"assay":"99,5 %","count":"3","waters":" ","name":"5","list":["1.5",2],"limits":{"M-1":"0,2"},
		"inner":{"volume":{"value":250,"unit":"mL"},"mass":"0.1"}}`), &a)
	if err != nil {
		t.Fatal(err)
	}
	if a.Assay != 99.5 || a.Count != 3 || a.Waters != nil || a.Name != "5" || !slices.Equal(a.List, []float64{1.5, 2}) ||
		a.Limits["M-1"] != 0.2 ||
		a.Inner.Mass != 0.1 ||
		a.Inner.Volume.In("mL") != 250 {
		t.Errorf("%+v", a)
	}
	for text, want := range map[string]string{
		`{"assay":"x","count":"1.000,0.0","list":[1,"1,000"],"inner":{"mass":"5 g"},"limits":{"M-1":"?"}}`: "/assay /count /inner/mass /limits/M-1 /list/1",
		`{"asay":1}`: "", `{"assay":true}`: "", `nonsense`: "", ``: "",
	} {
		err := quantity.Decode([]byte(text), new(asked))
		var problems verdict.Problems
		if !errors.As(err, &problems) {
			t.Errorf("%s: %v", text, err)
			continue
		}
		var fields []string
		for _, p := range problems {
			fields = append(fields, p.Field)
		}
		slices.Sort(fields)
		if got := strings.Join(fields, " "); got != want {
			t.Errorf("%s: problems at %q, want %q", text, got, want)
		}
	}
	var big asked
	if err := quantity.Decode([]byte(`{"assay":0.1000000000000000055511151231257827}`), &big); err != nil || big.Assay != 0.1 {
		t.Errorf("%v, %v", big.Assay, err)
	}
}

// How strengths are written in the trade, in one unit each (SI Brochure, 9th ed., 5.4, has
// the negative powers; capital and small litre are both of the SI).
func TestUnitsAsTheyAreWritten(t *testing.T) {
	for text, want := range map[string]string{
		"mol L−1": "mol/L", "mol·L⁻¹": "mol/L", "mol l^-1": "mol/L", "mol/l": "mol/L", "mol / L": "mol/L", "molar": "mol/L", "uM": "µmol/L", "μM": "µmol/L", "mM": "mmol/L",
		"mg/dl": "mg/dL", "mg dL-1": "mg/dL", "mEq/L": "meq/L", "N": "eq/L", "ml": "mL", "ul": "µL", "µl": "µL", "ug/ml": "µg/mL", "g kg-1": "g/kg", "dm³": "L", "mV": "mV", "AU": "AU",
	} {
		if u, err := quantity.FindUnit(text); err != nil || u.Symbol != want {
			t.Errorf("%q is %s, %v; want %s", text, u.Symbol, err, want)
		}
	}
	for text, advice := range map[string]string{"%": "% w/v", "ppb": "ppb w/v", "l": "", "stone": "use one of", "": "use one of", "mol L-2": "use one of", "/L": "use one of"} {
		if u, err := quantity.FindUnit(text); advice != "" && (err == nil || !strings.Contains(err.Error(), advice)) {
			t.Errorf("%q is %s, %v", text, u.Symbol, err)
		}
	}
	if u, err := quantity.UnitOf("mg/L CaCO3"); err != nil || u.Symbol != "mg/L" {
		t.Error(u, err)
	}
	if u, err := quantity.UnitOf("% w/w Na"); err != nil || u.Symbol != "% w/w" {
		t.Error(u, err)
	}
	if _, err := quantity.UnitOf("stones of it"); err == nil {
		t.Error("a stone is no unit here")
	}
}

func TestWhatIsCounted(t *testing.T) {
	strong := []quantity.Dimension{quantity.MassConcentration, quantity.AmountConcentration, quantity.MassFraction}
	for text, want := range map[string]string{
		"10 mg/L NO3-N": "10 mg/L|NO3-N", "250 mg/L as CaCO3": "250 mg/L|CaCO3", "0.1 mol/L Cl-": "0.1 mol/L|Cl-", "100 mg/L  as  P": "100 mg/L|P",
	} {
		q, of, ok := quantity.Counted(text, strong)
		if !ok || q+"|"+of != want {
			t.Errorf("%q: %q of %q, %v", text, q, of, ok)
		}
	}
	for _, text := range []string{"5 % w/w", "0.1 mol/L", "0.1", "", "x as y", "10 mg/L as ", "10 mL of it"} {
		if q, of, ok := quantity.Counted(text, strong); ok || q != text {
			t.Errorf("%q counts %q", text, of)
		}
	}
}

func TestStatedAsTextOrValue(t *testing.T) {
	value := 25.0
	if q, err := (quantity.Stated{Value: &value, Unit: "mL"}).Read(quantity.Volume); err != nil || math.Abs(q.Base()-0.025) > 1e-15 {
		t.Error(q, err)
	}
	if q, err := quantity.Typed("25.00 mL").Read(quantity.Volume); err != nil || q.Decimals != 2 {
		t.Error(q, err)
	}
	if _, err := (quantity.Stated{Value: &value, Unit: "stone"}).Read(quantity.Mass); err == nil {
		t.Error("25 stone were read")
	}
	if _, err := quantity.Typed("25 g").Read(quantity.Volume); err == nil || !strings.Contains(err.Error(), "is a mass") {
		t.Error(err)
	}
}

// A dilution by volume divides what is counted in a volume, and nothing else.
func TestPerVolume(t *testing.T) {
	var yes []string
	for _, d := range []quantity.Dimension{quantity.Mass, quantity.Volume, quantity.AmountConcentration, quantity.MassConcentration, quantity.MassFraction, quantity.Molality, quantity.Equivalents, quantity.VolumeFraction, quantity.Absorbance} {
		if d.PerVolume() {
			yes = append(yes, string(d))
		}
	}
	if got := fmt.Sprint(yes); got != "[amount concentration mass concentration equivalents volume fraction]" {
		t.Error(got)
	}
}
