package titration

import (
	"math"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/substance"
)

func TestStandardise(t *testing.T) {
	b := on(t, lye(t))
	out, err := b.Plan.Make(nil, runtest.Noon)
	if err != nil {
		t.Fatal(err)
	}
	if s := runtest.Now(t, out); s.Kind != KindReady || len(s.Options) != 3 || len(s.Cautions) < 3 {
		t.Fatalf("%+v", s)
	}
	out = b.State(fact.Fact{Kind: KindReady, Choice: choiceNone})
	if s := runtest.Now(
		t,
		out,
	); says(s.Verdicts, "T-1") != "look: The burette was not rinsed 2 times with the titrant: what was in it thins it." ||
		s.Ends != nil {
		t.Errorf("%+v", s)
	}
	b.State(fact.Fact{Kind: KindSample, Choice: choiceDelivered})
	out = b.State(scale(KindStart, 0, "0.35"))
	s := runtest.Now(t, out)
	if s.Title != "Trial 1, rough: run it in, and read when you stop" ||
		!strings.Contains(s.Hint, "About 25.0 mL in all. At once to 24.4 mL") ||
		s.Scale != 50 {
		t.Errorf("%+v", s)
	}
	out = b.State(scale(KindRead, 0, "26.10"))
	s = runtest.Now(t, out)
	if s.Asks || len(s.Verdicts) != 1 || len(s.Verdicts[0].Choices) != 5 {
		t.Errorf("%+v", s)
	}
	out = b.State(decide(0, choiceEnd))
	v := view(out)
	if len(v.Trials) != 2 || !v.Trials[0].Rough || v.Trials[0].Titre != "25.75" || v.Needed != 1 || v.AtHand != 1 {
		t.Errorf("%+v", v)
	}
	out = b.trial(1, "0.20", "25.32")
	runtest.Drew(t, out, map[string]float64{run.RoleStandardises: 25.75 + 25.12, RoleSample: 50, RoleReagent: 0})
	if got := says(view(out).Verdicts, "T-7"); !strings.Contains(got, "One trial shows no slip: at least 1 more") {
		t.Errorf("%s", got)
	}
	if s := runtest.Now(t, out); s.Ends == nil || s.Ends.ID != choiceEnough {
		t.Errorf("%+v", s)
	}
	out = b.trial(2, "0.10", "25.30")
	v = view(out)
	if !v.Trials[1].Counts || v.Trials[0].Counts {
		t.Errorf("%+v", v.Trials)
	}
	if got := says(v.Verdicts, "T-6"); got != "fine: Trials 2 and 3 agree within 0.10 mL: mean 25.16 mL, s 0.057 mL." || v.Needed != 0 ||
		v.Trials[0].Used || !v.Trials[1].Used || !v.Trials[2].Used || v.Mean != "25.16" {
		t.Errorf("%s %+v", got, v.Trials)
	}
	if got := says(
		v.Verdicts,
		"T-12",
	); got != "fine: 0.6 % lower than it was made as (0.1000 mol/L). Moisture, air and standing can do that." {
		t.Error(got)
	}
	b.explains(out)
	out = b.State(decide(3, choiceEnough))
	if out.Status != run.Finished || len(out.Products) != 1 {
		t.Fatalf("%s %+v", out.Status, out.Products)
	}
	// 0.1 × 25/25.12 and 0.1 × 25/25.20, their mean.
	want := (0.1*25/25.12 + 0.1*25/25.20) / 2
	is, ok := out.Products[0].Detail.(run.Standardisation)
	if !ok || is.Bottle != "b2" || math.Abs(is.C.Value-want) > 1e-9 || math.Abs(out.Figures[0].Value-want) > 1e-9 ||
		out.Figures[0].Role != figure.Concentration {
		t.Errorf("%+v", is)
	}
	// The burette and the pipette are one error each, in both trials.
	budget := map[string]bool{}
	for _, c := range is.C.Contributions {
		budget[c.ID] = true
	}
	if !budget["khp"] || !budget["glass 50 mL burette B 1 A"] || !budget["end point 1"] || !budget["end point 2"] || budget["made"] {
		t.Errorf("%v", budget)
	}
	if line := out.Table[1]; line[0] != "1" || line[4] != "25.75" || line[6] != "no" || line[7] != "rough" || out.Table[2][6] != "yes" {
		t.Errorf("%v", out.Table)
	}
}

func TestUnsurePastRefilledBlank(t *testing.T) {
	b := on(t, iron(t))
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.trial(0, "0.00", "19.50")
	// Unsure: one drop more; the reading before was it.
	b.State(fact.Fact{Kind: KindSample, Part: 1, Choice: choiceDelivered})
	out := b.State(scale(KindStart, 1, "19.50"))
	if s := runtest.Now(t, out); says(s.Verdicts, "T-13") != "" || !strings.Contains(s.Hint, "top edge of the dark liquid") {
		t.Errorf("%+v", s)
	}
	b.State(scale(KindRead, 1, "38.55"))
	out = b.State(decide(1, choiceUnsure))
	if s := runtest.Now(t, out); s.Title != "Trial 2: one drop more, and read" {
		t.Errorf("%+v", s)
	}
	out = b.State(scale(KindRead, 1, "38.60"))
	if n := len(runtest.Now(t, out).Verdicts[0].Choices); n != 6 {
		t.Errorf("%d choices after a second reading", n)
	}
	out = b.State(decide(1, choiceEarlier))
	if v := view(out).Trials[1]; v.Titre != "19.05" || v.Last != "38.55" {
		t.Errorf("%+v", v)
	}
	// What is left will not do, filled up on the way: 38.55 to 49.00 and 1.20 to 9.84.
	b.State(fact.Fact{Kind: KindSample, Part: 2, Choice: choiceDelivered})
	out = b.State(scale(KindStart, 2, "38.55"))
	if got := says(runtest.Now(t, out).Verdicts, "T-13"); !strings.Contains(
		got,
		"From 38.55 mL on it takes about 19.0 mL, more than is left",
	) {
		t.Errorf("%s", got)
	}
	b.State(scale(KindRead, 2, "49.00"))
	out = b.State(decide(2, choiceRefill))
	if s := runtest.Now(t, out); s.Kind != KindRefill {
		t.Fatalf("%+v", s)
	}
	out = b.State(scale(KindRefill, 2, "1.20"))
	if s := runtest.Now(t, out); !strings.Contains(s.Hint, "At once to 8.8 mL") {
		t.Errorf("%s", s.Hint)
	}
	b.State(scale(KindRead, 2, "9.84"))
	out = b.State(decide(2, choiceEnd))
	v := view(out)
	if v.Trials[2].Titre != "19.09" || !v.Trials[2].Used || v.Needed != 0 {
		t.Errorf("%+v", v.Trials[2])
	}
	// Past it: set aside for good, never mended.
	b.State(fact.Fact{Kind: KindSample, Part: 3, Choice: choiceDelivered})
	b.State(scale(KindStart, 3, "0.50"))
	b.State(scale(KindRead, 3, "21.00"))
	out = b.State(decide(3, choicePast))
	if v := view(out).Trials[3]; v.SetAside != "past the end point" || v.Used {
		t.Errorf("%+v", v)
	}
	for _, o := range out.Offers {
		if o.Part == 3 && o.ID == choiceCount {
			t.Error("a trial past its end point may be let count")
		}
	}
	// A blank of 0.05 mL comes off all of them.
	b.State(decide(4, choiceBlank))
	b.State(scale(KindStart, 4, "1.00"))
	b.State(scale(KindRead, 4, "1.05"))
	out = b.State(decide(4, choiceEnd))
	want := 5 * 0.02 * (19.07 - 0.05) / 25
	if c := out.Figures[0]; math.Abs(c.Value-want) > 1e-9 {
		t.Errorf("%.6f, want %.6f", c.Value, want)
	}
	figures := map[string]float64{}
	for _, f := range out.Figures {
		figures[f.ID] = f.Value
	}
	// Ten times diluted before: back to the undiluted sample, in g/L (M 55.845), % w/v and % w/w.
	// What stands in each 25 mL: mmol, and mg.
	for id, wanted := range map[string]float64{"amount": 25 * want, "mass": 25 * want * 55.845, "undiluted": 10 * want, "normality": 10 * want, "g/L": 10 * want * 55.845, "% w/v": want * 55.845, "% w/w": want * 55.845 / 1.1} {
		if math.Abs(figures[id]/wanted-1) > 1e-4 {
			t.Errorf("%s: %g, want %g", id, figures[id], wanted)
		}
	}
	b.explains(out)
	if sentence := b.Plan.Sentence(b.Facts[len(b.Facts)-1]); sentence != "Trial 5: Decided: that was the end point" {
		t.Error(sentence)
	}
	// Trial 2 set aside, and let count again.
	out = b.State(decide(1, choiceSetAside))
	if v := view(out); v.Trials[1].Used || v.Needed != 1 {
		t.Errorf("%+v", v.Trials[1])
	}
	out = b.State(decide(1, choiceCount))
	if v := view(out); !v.Trials[1].Used {
		t.Errorf("%+v", v.Trials[1])
	}
	out = b.State(decide(0, choiceCount))
	if v := view(out); v.Trials[0].Rough || v.Trials[0].Used {
		t.Errorf("the first counts, and does not agree: %+v", v.Trials[0])
	}
}

func TestWeighed(t *testing.T) {
	khp := substance.Substance{}
	for _, s := range substance.Library() {
		if s.Formula == "KHC8H4O4" {
			khp = s
		}
	}
	r := lye(t)
	r.By, r.Mass, r.Substance = Weighed, 0.51, &khp
	r.Sample = Solution{Name: khp.Name, Formula: khp.Formula, Units: 1}
	if v := r.Expected(); math.Abs(v-24.97) > 0.02 {
		t.Errorf("expected %.3f mL", v)
	}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceTwice})
	weigh := func(part int, grams string) {
		t.Helper()
		q, err := quantity.ParseAny(grams, []quantity.Dimension{quantity.Mass}, "g")
		if err != nil {
			t.Fatal(err)
		}
		b.State(fact.Fact{Kind: KindSample, Part: part, Quantity: &q})
	}
	weigh(0, "0.5100")
	b.trial(0, "0.00", "25.20")
	weigh(1, "0.4900")
	out := b.trial(1, "0.00", "24.10")
	if v := view(out).Trials[1]; v.Compared != "25.08" {
		t.Errorf("as with the first sample: %s", v.Compared) // 24.10 × 0.51/0.49
	}
	weigh(2, "0.5300")
	out = b.trial(2, "0.00", "26.05")
	if got := says(view(out).Verdicts, "T-6"); !strings.HasPrefix(got, "fine: Trials 2 and 3 agree") {
		t.Errorf("%s", got)
	}
	labels := map[string]bool{}
	for _, x := range out.Figures[0].Budget {
		labels[x.Label] = true
	}
	if !labels["temperature"] || !labels["assay"] {
		t.Errorf("%v", labels)
	}
	b.explains(out)
	runtest.Used(t, out, "potassium-hydrogen-phthalate 1.53 g")
	if uses := r.Uses(); len(uses.Instruments) != 1 || len(uses.Sources) != 1 || uses.Sources[0].Role != run.RoleStandardises {
		t.Errorf("%+v", uses)
	}

	// The other way round: how pure a solid is, and the molar mass of an unknown acid.
	r.Standardise = false
	r.Titrant.C = number("c", 0.1, 0.0001)
	b2 := &bench{runtest.Bench[Request]{T: t, Plan: r, Facts: b.Facts}}
	out, err := r.Make(b.Facts, runtest.Noon)
	if err != nil {
		t.Fatal(err)
	}
	// 24.10 mL × 0.1/0.49 g and 26.05 × 0.1/0.53, times 204.22 g/mol.
	want := (2.410/0.49 + 2.605/0.53) / 2 / 1000 * 204.2223 * 100
	if f := out.Figures[1]; f.ID != "purity" || math.Abs(f.Value-want) > 0.005 {
		t.Errorf("%s %.3f %%, want %.3f", f.ID, f.Value, want)
	}
	b2.explains(out)
	runtest.Used(t, out)
	r.Substance = nil
	b2.Plan = r
	if out, err = r.Make(b.Facts, runtest.Noon); err != nil || out.Figures[1].ID != "molar mass" ||
		math.Abs(out.Figures[1].Value-204.2223/want*100) > 0.01 {
		t.Errorf("%+v %v", out.Figures, err)
	}
	b2.explains(out)
}

func TestSecondBuretteAndCylinder(t *testing.T) {
	r := lye(t)
	r.By, r.Volume, r.Glass = ByBurette, 20, glassware.Item{
		Kind:        glassware.Burette,
		Volume:      50,
		Class:       glassware.ClassA,
		Certificate: glassware.Certificate{Mark: "B 2"},
	}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	from, to := quantity.Of(0.5, "mL"), quantity.Of(20.7, "mL")
	b.State(fact.Fact{Kind: KindSample, Quantity: &from, After: &to})
	out := b.trial(0, "0.00", "20.00")
	// Three rinses of a tenth of the burette, and what ran in; the sample as it was read.
	runtest.Drew(t, out, map[string]float64{run.RoleStandardises: 3*5 + 20, RoleSample: 20.2, RoleReagent: 0})
	if got := view(out).Trials[0].Sample; got != "20.20 mL" || math.Abs(out.Figures[0].Value-0.101) > 1e-9 {
		t.Errorf("%s, %v", got, out.Figures[0])
	}
	b.explains(out)
	r.By, r.Glass = ByCylinder, glassware.Item{Kind: glassware.Cylinder, Volume: 25, Class: glassware.ClassA}
	b = on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.State(scale(KindSample, 0, "24.90"))
	out = b.trial(0, "0.00", "24.90")
	if math.Abs(out.Figures[0].Value-0.1) > 1e-9 || view(out).Trials[0].Sample != "24.90 mL" {
		t.Errorf("%v", out.Figures[0])
	}
	if got := says(view(out).Verdicts, "T-12"); got != "fine: Just as it was made (0.1000 mol/L)." {
		t.Error(got)
	}
}

func TestBadReadings(t *testing.T) {
	b := on(t, lye(t))
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.State(fact.Fact{Kind: KindSample, Choice: choiceDelivered})
	for mL, want := range map[string]string{
		"51.00": "it goes from 0 to 50 mL", "-1": "not on the scale", "12.345": "marked every 0.1 mL and read to 0.01 mL, no finer",
	} {
		if _, err := b.Try(scale(KindStart, 0, mL)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", mL, err)
		}
	}
	b.State(scale(KindStart, 0, "5.00"))
	// A final reading below the initial one: one of them is misread, and no end point is taken.
	out := b.State(scale(KindRead, 0, "4.00"))
	s := runtest.Now(t, out)
	if got := says(
		s.Verdicts,
		"T-2",
	); got != "stop: The burette cannot stand at 4.00 mL after 5.00 mL: correct the one that was misread, or read again." ||
		len(s.Verdicts[0].Choices) != 1 {
		t.Errorf("%s", got)
	}
	if _, err := b.Try(decide(0, choiceEnd)); err == nil {
		t.Error("an end point below the beginning is taken")
	}
	out = b.State(decide(0, choiceReread))
	if s := runtest.Now(t, out); !s.Asks || s.Kind != KindRead {
		t.Errorf("%+v", s)
	}
	// Nor does it run back from one drop to the next, as when a digit of 30.00 was lost.
	b.State(scale(KindRead, 0, "29.95"))
	b.State(decide(0, choiceUnsure))
	out = b.State(scale(KindRead, 0, "20.00"))
	if got := says(runtest.Now(t, out).Verdicts, "T-2"); !strings.HasPrefix(got, "stop: The burette cannot stand at 20.00 mL after 29.95 mL") {
		t.Error(got)
	}
	b.State(decide(0, choiceReread))
	b.State(scale(KindRead, 0, "30.00"))
	b.State(decide(0, choiceEnd))
	// A correction that turns them round takes the trial out.
	swapped := scale(KindStart, 0, "40.00")
	swapped.Replaces, swapped.Reason = b.Facts[2].ID, "misread"
	out = b.State(swapped)
	if v := view(out).Trials[0]; v.SetAside != "its readings do not fit" || len(out.Figures) != 0 {
		t.Errorf("%+v", v)
	}
	if _, err := b.Try(scale(KindStart, 0, "1.00")); err == nil {
		t.Error("two readings before")
	}
	for _, f := range []fact.Fact{{Kind: KindReady, Choice: "no"}, {Kind: KindSample}, {Kind: KindRead}, {Kind: "nothing"}} {
		if b.Plan.Check(f) == nil {
			t.Errorf("%+v is taken", f)
		}
	}
}

// A base of two hydroxides: what is found is told for the compound, and half as much of it is
// expected. 25 mL of 0.1 mol/L phthalate and 0.05 mol/L barium hydroxide: 25.00 mL.
func TestABaseOfTwoHydroxides(t *testing.T) {
	r := lye(t)
	units, ok := r.Reaction.TitrantUnits("Ba(OH)2")
	if !ok || units != 2 {
		t.Fatalf("%g %v", units, ok)
	}
	r.Titrant = Solution{Name: "Baryta", Formula: "Ba(OH)2", Units: units, Bottle: "b2", Number: 2, C: number("made", 0.05, 0.001)}
	if v := r.Expected(); math.Abs(v-25) > 1e-9 {
		t.Errorf("expected %.3f mL", v)
	}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.trial(0, "0.00", "24.00")
	out := b.State(decide(1, choiceEnough))
	is, ok := out.Products[0].Detail.(run.Standardisation)
	if want := 0.1 * 25 / 24 / 2; !ok || math.Abs(is.C.Value-want) > 1e-9 || math.Abs(out.Figures[0].Value-want) > 1e-9 {
		t.Errorf("%.6f mol/L, want %.6f", is.C.Value, want)
	}
	b.explains(out)
}

// Hardness: 12.50 mL of 0.0100 mol/L EDTA for 50.00 mL of water are 2.5 mmol/L, 250.2 mg/L as
// CaCO3 (M 100.087, arithmetic). Filled up after two readings of a trial.
func TestHardnessFilledUpOnTheWay(t *testing.T) {
	r := iron(t)
	r.Reaction, r.Diluted, r.Density, r.Volume, r.Glass = find(t, "edta-hardness"), 0, 0, 50, pipette(50)
	r.Titrant = Solution{Name: "EDTA", Formula: "C10H14N2Na2O8·2H2O", Units: 1, Bottle: "b3", Number: 3, C: number("c", 0.01, 0.00001)}
	b := on(t, r)
	b.State(fact.Fact{Kind: KindReady, Choice: choiceThrice})
	b.State(fact.Fact{Kind: KindSample, Choice: choiceDelivered})
	b.State(scale(KindStart, 0, "40.00"))
	b.State(scale(KindRead, 0, "45.00"))
	b.State(decide(0, choiceMore))
	b.State(scale(KindRead, 0, "49.00"))
	b.State(decide(0, choiceRefill))
	b.State(scale(KindRefill, 0, "1.00"))
	b.State(scale(KindRead, 0, "4.50"))
	out := b.State(decide(0, choiceEnd))
	if first := view(out).Trials[0]; first.Earlier != "9.00" || first.Start != "1.00" || first.Last != "4.50" || first.Titre != "12.50" {
		t.Errorf("%+v", first)
	}
	figures := map[string]float64{}
	for _, f := range out.Figures {
		figures[f.ID] = f.Value
	}
	if math.Abs(figures["c"]-0.0025) > 1e-9 || math.Abs(figures["mg/L"]-250.2175) > 0.01 {
		t.Errorf("%v", figures)
	}
	b.explains(out)
}
