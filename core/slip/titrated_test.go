package slip_test

import (
	"encoding/json"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/slip"
	"vialbench/core/verdict"
)

// byWeighing standardises a base with samples of hydrogen phthalate.
func byWeighing() group {
	const m, purity = 204.22, 0.9992
	t := slip.Titration{
		Weighed: &slip.Weighing{MolarMass: m, Purity: purity, Ions: map[string]float64{"K": 39.0983}}, Ratio: 1, Standardises: true,
		Burette: 50, Division: 0.01,
	}
	c := between(0.09, 0.11)
	titres, masses := []float64{}, []float64{}
	for i := range 3 {
		mass := math.Round(1e4*between(0.45, 0.6)) / 1e4
		start, v := to2(between(0.1, 2)), 1000*mass*purity/m/c+between(-0.03, 0.03)
		if i == 0 {
			v += between(0.3, 0.9)
		}
		trial := slip.Trial{Start: start, End: to2(start + v), Sample: mass, Rough: i == 0}
		t.Trials = append(t.Trials, trial)
		titres, masses = append(titres, trial.End-trial.Start), append(masses, mass)
	}
	of := func(i int, m float64) float64 { return 1000 * masses[i] * purity / m / titres[i] }
	mean := func(m float64) float64 { return (of(1, m) + of(2, m)) / 2 }
	end := func(i int) float64 { return 1000 * masses[i] * purity / m / t.Trials[i].End }
	return group{figures: slip.Figures{Titration: &t}, honest: mean(m), mistakes: map[string]float64{
		"mL for L": mean(m) / 1000, "mass as amount": mean(1), "metal for salt": mean(39.0983),
		"start left out": (end(1) + end(2)) / 2, "rough averaged": (of(0, m) + of(1, m) + of(2, m)) / 3,
		"rough alone": of(0, m), "sum for mean": of(1, m) + of(2, m), "decimal point": mean(m) * 10,
	}}
}

// byExcess finds ammonia by what it leaves of an acid.
func byExcess() group {
	reagent, ct := math.Round(1e5*between(0.095, 0.105))/1e5, math.Round(1e5*between(0.09, 0.11))/1e5
	t := slip.Titration{
		Titrant: slip.Bottled{C: ct, Nominal: 0.1}, Burette: 50, Division: 0.01, Aliquot: slip.Glass{ML: 20, Others: []float64{10, 25}}, Ratio: 1,
		Excess: &slip.Excess{Reagent: slip.Bottled{C: reagent}, Aliquot: slip.Glass{ML: 50, Others: []float64{25}}, Ratio: 0.5},
	}
	v := between(14, 24)
	for i := range 3 {
		start := to2(between(0.1, 1))
		t.Trials = append(t.Trials, slip.Trial{Start: start, End: to2(start + v + between(-0.02, 0.02)), Rough: i == 0})
	}
	titre := func(i int) float64 { return t.Trials[i].End - t.Trials[i].Start }
	mean := (titre(1) + titre(2)) / 2
	c := func(added, left, ratio, aliquot float64) float64 { return (added - left) * ratio / aliquot }
	return group{figures: slip.Figures{Titration: &t}, honest: c(50*reagent, ct*mean, 0.5, 20), mistakes: map[string]float64{
		"rest for used": c(ct*mean, 0, 0.5, 20), "rest left out": c(50*reagent, 0, 0.5, 20), "ratio left out": c(50*reagent, ct*mean, 1, 20),
		"ratio upside down": c(50*reagent, ct*mean, 2, 20), "nominal": c(50*reagent, 0.1*mean, 0.5, 20), "another pipette": c(50*reagent, ct*mean, 0.5, 25),
	}}
}

// byDrops finds an acid by counted drops, less those of a blank.
func byDrops() group {
	ct, drop, blank := math.Round(1e4*between(0.09, 0.11))/1e4, math.Round(1e4*between(0.04, 0.05))/1e4, to2(between(0.2, 0.4))
	t := slip.Titration{
		Titrant: slip.Bottled{C: ct}, DropML: drop, Blank: blank, Aliquot: slip.Glass{ML: 5, Others: []float64{10}}, Ratio: 1,
	}
	n := 90 + draw.IntN(40)
	counts := []float64{float64(n + 7), float64(n), float64(n + 1)}
	for i, x := range counts {
		t.Trials = append(t.Trials, slip.Trial{Drops: int(x), Rough: i == 0})
	}
	mean := (counts[1] + counts[2]) / 2
	c := func(mL float64) float64 { return ct * mL / 5 }
	return group{figures: slip.Figures{Titration: &t}, honest: c(mean*drop - blank), mistakes: map[string]float64{
		"blank left out": c(mean * drop), "blank added": c(mean*drop + blank), "another pipette": c(mean*drop-blank) / 2,
		"rough averaged": c((counts[0]+counts[1]+counts[2])/3*drop - blank), "decimal point": c(mean*drop-blank) * 10,
	}}
}

// Slips of the other ways of titrating are named, and nobody honest is blamed.
func TestSlipsOfOtherTitrations(t *testing.T) {
	kinds := []func() group{byWeighing, byExcess, byDrops}
	seen, named, blamed := 0, 0, 0
	missed := map[string]int{}
	for i := range 300 {
		g := kinds[i%len(kinds)]()
		trace := func(value float64) slip.Traced {
			got, err := slip.Answer(slip.Question{Figures: g.figures, Unit: "mol/L", Stated: plainly(value)})
			if err != nil {
				t.Fatal(err)
			}
			return got
		}
		got := trace(g.honest)
		if math.Abs(got.Calculated/g.honest-1) > 1e-9 {
			t.Fatalf("way %d: figures give %g, by hand %g", i%len(kinds), got.Calculated, g.honest)
		}
		if got.WorkingNamed {
			blamed++
		}
		for id, wrong := range g.mistakes {
			if math.Abs(wrong/g.honest-1) < 2e-3 {
				continue // it cannot be seen
			}
			seen++
			if got := trace(wrong); len(got.Working) > 0 && got.WorkingNamed && names(got.Working[0], id) {
				named++
			} else {
				missed[id]++
			}
		}
	}
	t.Logf("%d of %d slips named first, %d of 300 honest blamed; missed %v", named, seen, blamed, missed)
	if float64(named) < 0.95*float64(seen) || blamed > 6 {
		t.Errorf("%d of %d slips named first, %d of 300 honest blamed", named, seen, blamed)
	}
}

// What a titration cannot be is said where it stands.
func TestTitrationsThatCannotBe(t *testing.T) {
	whole := byWeighing().figures.Titration
	for field, spoil := range map[string]func(t *slip.Titration){
		"/titration/trials":            func(t *slip.Titration) { t.Trials = nil },
		"/titration/trials/1/sample":   func(t *slip.Titration) { t.Trials[1].Sample = 0 },
		"/titration/trials/0/drops":    func(t *slip.Titration) { t.DropML = 0.05 },
		"/titration/blank":             func(t *slip.Titration) { t.Blank = -0.1 },
		"/titration/ratio":             func(t *slip.Titration) { t.Ratio = 0 },
		"/titration/weighed":           func(t *slip.Titration) { t.Standardises = false },
		"/titration/weighed/molarMass": func(t *slip.Titration) { t.Weighed.MolarMass = -1 },
		"/titration/titrant/c":         func(t *slip.Titration) { t.Weighed = nil },
		"/titration/solid": func(t *slip.Titration) {
			t.Solid = &slip.Solid{Mass: 1, MolarMass: 100, Flask: slip.Glass{ML: 100}}
		},
		"/titration/solid/mass": func(t *slip.Titration) {
			*t = *byExcess().figures.Titration
			t.Solid = &slip.Solid{MolarMass: 100, Flask: slip.Glass{ML: 100}}
		},
		"/titration/excess/reagent/c": func(t *slip.Titration) {
			*t = *byExcess().figures.Titration
			t.Excess.Reagent.C = 0
		},
		"/titration/excess/ratio": func(t *slip.Titration) {
			*t = *byExcess().figures.Titration
			t.Excess.Ratio = -1
		},
		"/titration/excess/aliquot/mL": func(t *slip.Titration) {
			*t = *byExcess().figures.Titration
			t.Excess.Aliquot.ML = 0
		},
	} {
		var spoilt slip.Titration
		text, err := json.Marshal(whole)
		if err != nil || json.Unmarshal(text, &spoilt) != nil {
			t.Fatal(err)
		}
		spoil(&spoilt)
		_, err = slip.Answer(slip.Question{Figures: slip.Figures{Titration: &spoilt}, Unit: "mol/L", Stated: "0.1"})
		var p verdict.Problems
		if !errors.As(err, &p) || !slices.ContainsFunc(p, func(x verdict.Problem) bool { return x.Field == field && !strings.Contains(x.Reason, "%!") }) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// A mishap of one trial of three shows by its disagreement with the others, with weighed samples as with aliquots.
func TestAMishapOfOneWeighedTrial(t *testing.T) {
	found := 0
	for range 200 {
		g := byWeighing()
		trials := g.figures.Titration.Trials
		trials[0].Rough, trials[0].End = false, to2(trials[0].Start+(trials[1].End-trials[1].Start)*trials[0].Sample/trials[1].Sample)
		trials[2].End = to2(trials[2].End + 1) // read a whole mL too high
		honest := g.honest
		got, err := slip.Answer(slip.Question{Figures: g.figures, Unit: "mol/L", U: 0.004 * honest, True: &honest, TrueU: 0.001 * honest})
		if err != nil {
			t.Fatal(err)
		}
		if len(got.Hands) > 0 && strings.Contains(got.Hands[0].Title, "trial 3") {
			found++
		}
	}
	if found < 180 {
		t.Errorf("trial 3 is named in %d of 200", found)
	}
}

// A density brings the two kinds of per cent.
func TestMassByVolume(t *testing.T) {
	g := byExcess()
	for _, factor := range []float64{1.1, 1 / 1.1} {
		q := slip.Question{Figures: g.figures, Unit: "% w/v", Stated: plainly(g.honest * factor), Density: 1.1}
		got, err := slip.Answer(q)
		if err != nil || len(got.Working) == 0 || !names(got.Working[0], "% w/v for % w/w") {
			t.Errorf("× %.3f: %+v (%v)", factor, got.Working, err)
		}
		q.Unit = "mol/L" // no per cent can be mistaken there
		if got, err = slip.Answer(q); err != nil || len(got.Working) > 0 && names(got.Working[0], "% w/v for % w/w") {
			t.Errorf("× %.3f in mol/L: %+v (%v)", factor, got.Working, err)
		}
		q.Unit, q.Density = "% w/v", 0
		if got, err = slip.Answer(q); err != nil || len(got.Working) > 0 && names(got.Working[0], "% w/v for % w/w") {
			t.Errorf("× %.3f without a density: %+v (%v)", factor, got.Working, err)
		}
	}
	if _, err := slip.Answer(slip.Question{Figures: g.figures, Stated: "1", Density: -1}); err == nil || !strings.Contains(err.Error(), "density") {
		t.Errorf("a density below zero: %v", err)
	}
}
