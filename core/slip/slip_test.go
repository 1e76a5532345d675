package slip_test

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/slip"
	"vialbench/core/verdict"
)

func ExampleAnswer() {
	// 10.00 mL of vinegar were made up to 100 mL, of which 20.00 mL took 16.70 mL of 0.1000 mol/L base.
	vinegar := slip.Titration{
		Titrant: slip.Bottled{Name: "the base", C: 0.1}, Ratio: 1, Aliquot: slip.Glass{ML: 20},
		Trials:  []slip.Trial{{Start: 0.4, End: 17.1}},
		Diluted: []slip.Dilution1{{Aliquot: slip.Glass{ML: 10}, Flask: slip.Glass{ML: 100}}},
	}
	found, err := slip.Answer(slip.Question{Figures: slip.Figures{Titration: &vinegar}, Unit: "mol/L", Stated: "0.0835"})
	fmt.Println(err)
	fmt.Printf("%.3f\n", found.Calculated)
	fmt.Println(found.Working[0].Sentence)
	fmt.Println(found.Working[0].Hint)
	// Output:
	// <nil>
	// 0.835
	// 0.0835 mol/L would be explained by the dilution factor left out: that gives 0.0835 mol/L. The figures cannot tell it from a decimal point that is shifted (10 times too small).
	// What was done to the sample before it was measured?
}

// The figures of the cases below, small enough to be worked out by hand.
var (
	// c = 0.1·(20.00 mL)/(10 mL)·0.5 = 0.1; the rough trial took 21.00 mL.
	acid = slip.Titration{
		Titrant: slip.Bottled{Name: "the base", C: 0.1, Nominal: 0.11, Normality: 0.2, Beside: 0.125}, Burette: 50, Division: 0.01, Ratio: 0.5, Electron: 0.4,
		Aliquot: slip.Glass{ML: 10, Others: []float64{25}}, MolarMass: 98.08,
		Trials: []slip.Trial{{Start: 1.2, End: 22.2, Rough: true}, {Start: 2.37, End: 22.36}, {Start: 1.44, End: 21.45}},
	}
	// The same with two trials of 20.00 and 20.60 mL.
	apart = slip.Titration{
		Titrant: slip.Bottled{C: 0.1}, Ratio: 0.5, Aliquot: slip.Glass{ML: 10},
		Trials: []slip.Trial{{Start: 2.37, End: 22.37}, {Start: 1.44, End: 22.04}},
	}
	misread = slip.Titration{
		Titrant: slip.Bottled{C: 0.1}, Ratio: 0.5, Aliquot: slip.Glass{ML: 10},
		Trials: []slip.Trial{{Start: 2.37, End: 22.36}, {Start: 1.44, End: 22.45}},
	}
	// c = 5/250·1000/250 = 0.08
	salt = slip.Solution{Mass: 5, MolarMass: 250, Flask: slip.Glass{ML: 250}, Division: 1e-4, Hydrates: map[string]float64{"anhydrous": 160}}
	// c = 0.1·10/100 = 0.01
	thinned = slip.Dilution{Stock: slip.Bottled{C: 0.1}, Steps: []slip.Dilution1{{Aliquot: slip.Glass{ML: 10}, Flask: slip.Glass{ML: 100}}}}
	// pH = 7.20 + log(0.25) = 6.598
	buffer = slip.Buffer{PKa: 7.2, Base: 10, Acid: 40}
	blank  = 0.05
	// c = (0.45 − 0.05 − 0.02)/0.1 = 3.8
	line = slip.Line{Readings: []float64{0.45}, Blank: &blank, Slope: 0.1, Intercept: 0.02}
	// A = −log(0.25) = 0.60206; c = 6.0206
	percent = slip.Line{Readings: []float64{25}, Percent: true, Slope: 0.1}
	// β = 0.1·2.00/20/(7.25 − 7.00) = 0.04
	drops = slip.Capacity{Added: slip.Bottled{C: 0.1}, Volume: slip.Glass{ML: 20}, Drops: 40, DropML: 0.05, Before: 7, After: 7.25}
)

// Each slip of the working, by what it gives, worked out by hand.
func TestSlipsOfTheWorking(t *testing.T) {
	titration, solution := slip.Figures{Titration: &acid}, slip.Figures{Solution: &salt}
	for _, c := range []struct {
		id      string
		figures slip.Figures
		stated  string
	}{
		{"start left out", titration, "0.10953"}, // ends 22.36 and 21.45, mean 21.905
		{"start added", titration, "0.11190"},    // one trial as 22.36 + 2.37: mean (24.73 + 20.01)/2 = 22.37
		{"rough averaged", titration, "0.10167"}, // (21.00 + 19.99 + 20.01)/3 = 20.333
		{"rough alone", titration, "0.10500"},
		{"one trial", slip.Figures{Titration: &apart}, "0.1030"},
		{"sum for mean", titration, "0.20000"},
		{"ratio upside down", titration, "0.4000"},
		{"electrons", titration, "0.0800"},
		{"nominal", titration, "0.1100"},
		{"bottles exchanged", titration, "0.1250"},
		{"another pipette", titration, "0.0400"},
		{"g/L for mol/L", titration, "9.808"},
		{"L to mL", titration, "1e-7"}, // of the aliquot
		{"mL for L", solution, "0.00008000"},
		{"mass as amount", solution, "20.00"},
		{"times molar mass", solution, "5000"},
		{"ratio of masses", solution, "200.0"},
		{"hydrate", solution, "0.1250"},
		{"decimal point", solution, "0.8000"},
		{"factor left out", slip.Figures{Dilution: &thinned}, "0.1000"},
		{"factor upside down", slip.Figures{Dilution: &thinned}, "1.000"},
		{"parts to parts", slip.Figures{Dilution: &thinned}, "0.009091"},
		{"of the rest", slip.Figures{Dilution: &thinned}, "0.01111"},
		{"ratio of bases", slip.Figures{Buffer: &buffer}, "7.802"},
		{"total for partner", slip.Figures{Buffer: &buffer}, "6.501"}, // log(10/50)
		{"natural logarithm", slip.Figures{Buffer: &buffer}, "5.814"},
		{"no logarithm", slip.Figures{Buffer: &buffer}, "7.450"},
		{"pOH", slip.Figures{Buffer: &buffer}, "7.402"},
		{"blank left out", slip.Figures{Line: &line}, "4.300"},
		{"blank added", slip.Figures{Line: &line}, "4.800"},
		{"slope and intercept", slip.Figures{Line: &line}, "15.00"}, // (0.4 − 0.1)/0.02
		{"no intercept", slip.Figures{Line: &line}, "4.000"},
		{"intercept added", slip.Figures{Line: &line}, "4.200"},
		{"times slope", slip.Figures{Line: &line}, "0.03800"},
		{"transmittance", slip.Figures{Line: &percent}, "2.500"},
		{"natural logarithm", slip.Figures{Line: &percent}, "13.863"},
		{"drops for mL", slip.Figures{Capacity: &drops}, "0.8000"},
		{"before left out", slip.Figures{Capacity: &drops}, "0.0013793"}, // 0.01/7.25
		{"digits copied", slip.Figures{Solution: &slip.Solution{Mass: 5.2671, MolarMass: 250, Flask: slip.Glass{ML: 250}}}, "0.09003"}, // 5.6271
		{"rounded early", slip.Figures{Buffer: &slip.Buffer{PKa: 7.198, Base: 12.34, Acid: 56.78}}, "6.499"},                           // log(0.2) = −0.699
	} {
		got, err := slip.Answer(slip.Question{Figures: c.figures, Unit: "mol/L", Stated: c.stated})
		if err != nil {
			t.Errorf("%s: %v", c.id, err)
			continue
		}
		if at := slices.IndexFunc(got.Working, func(x slip.Cause) bool { return names(x, c.id) }); at != 0 || !got.WorkingNamed || *got.Follows {
			t.Errorf("%s, %s: %+v", c.id, c.stated, got)
		}
	}
}

// What the hands did: the true value is what the figures would have given without it.
func TestSlipsOfTheHands(t *testing.T) {
	for _, c := range []struct {
		id      string
		figures slip.Figures
		held    float64
	}{
		{"past the mark", slip.Figures{Dilution: &thinned}, 0.1 * 10 / 101},
		{"added to", slip.Figures{Dilution: &thinned}, 0.1 * 10 / 110},
		{"overshot", slip.Figures{Titration: &acid}, 0.0995}, // one trial 0.2 mL too much: mean 19.90
		{"whole mL", slip.Figures{Titration: &misread}, 0.1}, // an end a mL too high: 19.99 and 21.01
		{"other solid", slip.Figures{Solution: &salt}, 0.125},
		{"pipette taken for another", slip.Figures{Titration: &acid}, 0.04},
		{"bottles taken", slip.Figures{Titration: &acid}, 0.125},
		{"water in the pipette", slip.Figures{Dilution: &thinned}, 0.0097},
		{"solid left behind", slip.Figures{Solution: &salt}, 0.076},
		{"digits written", slip.Figures{Solution: &slip.Solution{Mass: 5.3719, MolarMass: 250, Flask: slip.Glass{ML: 250}}}, 5.7319 / 250 * 4},
	} {
		got, err := slip.Answer(slip.Question{Figures: c.figures, Unit: "mol/L", U: 0.0005 * c.held, True: &c.held, TrueU: 0.0002 * c.held})
		if err != nil {
			t.Errorf("%s: %v", c.id, err)
			continue
		}
		if at := slices.IndexFunc(got.Hands, func(x slip.Cause) bool { return names(x, c.id) }); at != 0 || *got.Agrees {
			t.Errorf("%s: %+v", c.id, got)
		}
	}
}

// A result that follows from figures which agree with the bottle: nothing is told.
func TestNothingIsToldOfWhatIsRight(t *testing.T) {
	held := 0.1001
	got, err := slip.Answer(slip.Question{
		Figures: slip.Figures{Titration: &acid}, Unit: "mol/L", Stated: "0.1000", U: 0.0006, True: &held, TrueU: 0.0002,
	})
	if err != nil || !*got.Follows || !*got.Agrees || got.WorkingNamed || got.HandsNamed || len(got.Impossible) > 0 {
		t.Errorf("%+v %v", got, err)
	}
}

// A slip that a laboratory confirmed often is likelier there: of two that predict the same, it comes first.
func TestConfirmedSlipsComeFirst(t *testing.T) {
	q := slip.Question{Figures: slip.Figures{Dilution: &thinned}, Unit: "mol/L", Stated: "0.1000"}
	before, err := slip.Answer(q)
	if err != nil {
		t.Fatal(err)
	}
	q.Confirmed = map[string]int{"decimal point": 40}
	after, err := slip.Answer(q)
	if err != nil {
		t.Fatal(err)
	}
	if before.Working[0].Slips[0] != "factor left out" || after.Working[0].Slips[0] != "decimal point" || len(after.Working[0].Alike) == 0 {
		t.Errorf("before %+v, after %+v", before.Working[0], after.Working[0])
	}
}

// Without figures, what was stated is traced from the true value.
func TestFromTheTrueValueAlone(t *testing.T) {
	held := 0.0512
	got, err := slip.Answer(slip.Question{Unit: "mol/L", Stated: "51.3", True: &held, U: 0.0004})
	if err != nil || !got.WorkingNamed || got.Working[0].Slips[0] != "unit of a column" || len(got.Hands) > 0 {
		t.Errorf("%+v %v", got, err)
	}
	if got, err = slip.Answer(slip.Question{Unit: "mol/L", Stated: "0.0513", True: &held, U: 0.0004}); err != nil || got.WorkingNamed || !*got.Follows {
		t.Errorf("honest: %+v %v", got, err)
	}
}

func TestFiguresThatCannotBe(t *testing.T) {
	other := acid
	other.Trials = []slip.Trial{{Start: 0.5, End: 61.2}, {Start: 20, End: 0.3}, {Start: 0.123, End: 20}}
	got, err := slip.Answer(slip.Question{Figures: slip.Figures{Titration: &other}})
	if err != nil {
		t.Fatal(err)
	}
	told := strings.Join(got.Impossible, "\n")
	for _, part := range []string{
		"end reading of trial 1, 61.20 mL, is beyond the end of the scale, 50 mL", "trial 2 ends where it begins",
		"start reading of trial 3, 0.12 mL, has more digits than can be read: steps of 0.01 mL",
	} {
		if !strings.Contains(told, part) {
			t.Errorf("%q is missing in:\n%s", part, told)
		}
	}
	if len(got.Impossible) != 3 {
		t.Error(told)
	}
}

func TestQuestionsThatCannotBeAnswered(t *testing.T) {
	nothing, held := 0.0, 0.1
	bad := acid
	bad.Trials = nil
	rough := acid
	rough.Trials = []slip.Trial{{Start: 0, End: 1, Rough: true}}
	zero := thinned
	zero.Steps = []slip.Dilution1{{Aliquot: slip.Glass{ML: 0}, Flask: slip.Glass{ML: 100}}}
	for _, c := range []struct {
		q     slip.Question
		field string
	}{
		{slip.Question{}, "/titration"},
		{slip.Question{True: &held}, "/titration"},
		{slip.Question{Figures: slip.Figures{Titration: &bad}}, "/titration/trials"},
		{slip.Question{Figures: slip.Figures{Titration: &rough}}, "/titration/trials"},
		{slip.Question{Figures: slip.Figures{Dilution: &zero}}, "/dilution/steps/0/aliquot/mL"},
		{slip.Question{Figures: slip.Figures{Buffer: &slip.Buffer{PKa: 7, Base: 1}}}, "/buffer/acid"},
		{slip.Question{Figures: slip.Figures{Line: &slip.Line{Slope: 1}}}, "/line/readings"},
		{slip.Question{Figures: slip.Figures{Line: &slip.Line{Readings: []float64{1}}}}, "/line/slope"},
		{slip.Question{Figures: slip.Figures{Solution: &slip.Solution{Mass: math.Inf(1), MolarMass: 1, Flask: slip.Glass{ML: 1}}}}, "/solution/mass"},
		{slip.Question{Figures: slip.Figures{Capacity: &slip.Capacity{}}}, "/capacity/added/c"},
		{slip.Question{Figures: slip.Figures{Titration: &acid}, Stated: "about a tenth"}, "/stated"},
		{slip.Question{Figures: slip.Figures{Titration: &acid}, True: &nothing}, "/true"},
		{slip.Question{Figures: slip.Figures{Titration: &acid}, U: -1}, "/U"},
		{slip.Question{Figures: slip.Figures{Titration: &acid}, Others: make([]slip.Bottle, 61)}, "/others"},
	} {
		_, err := slip.Answer(c.q)
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != c.field {
			t.Errorf("%s: %v", c.field, err)
		}
	}
}

// Each slip has a name of its own, a title that completes a sentence, and a hint that asks.
func TestWordsOfSlips(t *testing.T) {
	known := map[string]bool{}
	for _, s := range slip.All() {
		if known[s.ID] || s.ID == "" || s.Title == "" || strings.HasSuffix(s.Title, ".") || s.Often <= 0 {
			t.Errorf("%+v", s)
		}
		if !strings.HasSuffix(s.Hint, "?") && !strings.HasSuffix(s.Hint, ".") {
			t.Errorf("%s: %s", s.ID, s.Hint)
		}
		known[s.ID] = true
	}
	if len(known) < 40 {
		t.Errorf("%d slips", len(known))
	}
}

// A result of which nobody says how well it is known agrees with the true value to within what the lab allows a class.
func TestWithoutAnUncertainty(t *testing.T) {
	base, err := slip.Answer(slip.Question{Figures: slip.Figures{Titration: &acid}, Unit: "mol/L"})
	if err != nil {
		t.Fatal(err)
	}
	agrees := func(off float64, th verdict.Thresholds) bool {
		held := base.Calculated / (1 + off)
		got, err := slip.Answer(slip.Question{Figures: slip.Figures{Titration: &acid}, Unit: "mol/L", True: &held, Thresholds: th})
		if err != nil || got.Agrees == nil {
			t.Fatal(err)
		}
		return *got.Agrees
	}
	if !agrees(0.004, nil) || agrees(0.02, nil) {
		t.Error("0.4 % agrees and 2 % does not")
	}
	if !agrees(0.02, verdict.Thresholds{"SL-3": 4}) || agrees(0.004, verdict.Thresholds{"SL-3": 0.1}) {
		t.Error("the threshold is the lab's")
	}
}
