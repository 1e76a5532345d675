package solution_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/solution"
	"vialbench/core/verdict"
)

// The rule of "Weighing" in the trade (common practice): inside the band keep;
// over it keep, remove and discard, take the larger flask, or start again.
func TestWeighingVerdicts(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	for _, c := range []struct {
		mass, level, says, choices string
	}{
		{"5.0918 g", "fine", "0.27 % under, inside the ±1 % band", "keep-mass add-mass another-portion start-again"},
		{"5.1056 g", "fine", "On the target", "keep-mass start-again"},
		{"4.50 g", "look", "12 % under, below", "add-mass another-portion keep-mass start-again"},
		{"5.31 g", "look", "4 % over, above", "keep-mass remove-mass flask 500 mL start-again"},
	} {
		s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed(c.mass))
		v := step(mustMake(t, r, s), "weigh").Verdicts[0]
		var ids []string
		for _, choice := range v.Choices {
			ids = append(ids, choice.ID)
		}
		if string(v.Level) != c.level || !strings.HasPrefix(v.Sentence, c.says) || strings.Join(ids, " ") != c.choices {
			t.Errorf("%s: %s “%s” %v", c.mass, v.Level, v.Sentence, ids)
		}
	}
}

// 5.31 g instead of 5.1056 g: in the 500 mL flask it takes 10.2111 − 5.31 g more.
func TestLargerFlaskBringsTheConcentrationBack(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed("5.31 g"))
	over := step(mustMake(t, r, s), "weigh").Verdicts[0]
	if !strings.HasSuffix(over.Sentence, "This mass fits 260.0 mL, and there is no such flask.") {
		t.Errorf("%q", over.Sentence)
	}
	choices := over.Choices
	if got := choices[2].Label; got != "Take the 500 mL flask, take 4.9011 g more" {
		t.Errorf("%q", got)
	}
	s.add(choose(run.KindDecided, "flask 500 mL")).add(weighed("10.2111 g")).add(choose(run.KindDecided, "keep-mass")).finish()
	out := mustMake(t, r, s)
	if out.Status != run.Finished || vessel(out).Flask.Volume != 500 || math.Abs(out.Figures[0].Value-0.1) > 1e-6 {
		t.Errorf("%s, %v, %g mol/L", out.Status, vessel(out).Flask, out.Figures[0].Value)
	}
}

// "Record every digit shown, including trailing zeros" (common practice).
func TestDigitsLeftOutAreNoticed(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	for text, wanted := range map[string]bool{"5.1056 g": false, "5.11 g": true, "5105.6 mg": false, "5106 mg": true} {
		s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed(text))
		got := slices.ContainsFunc(step(mustMake(t, r, s), "weigh").Verdicts, func(v verdict.Verdict) bool { return v.Rule == "W-7" })
		if got != wanted {
			t.Errorf("%s: noticed %v, want %v", text, got, wanted)
		}
	}
}

// A large overshoot goes to a flask that it is not too much for, never to less than
// nothing more; and the flask that was taken stays when the mass is corrected.
func TestFlaskOfALargeOvershoot(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	for mass, want := range map[string]string{"10.2111 g": "Take the 500 mL flask", "12.0000 g": "Take the 1000 mL flask, take 8.4222 g more", "10.0000 g": "Take the 500 mL flask, take 0.2111 g more"} {
		s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed(mass))
		v := step(mustMake(t, r, s), "weigh").Verdicts[0]
		if got := v.Choices[2].Label; got != want || mass == "10.2111 g" && strings.Contains(v.Sentence, "no such flask") {
			t.Errorf("%s: %q in “%s”, want %q", mass, got, v.Sentence, want)
		}
	}
	s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).
		add(weighed("5.31 g")).
		add(choose(run.KindDecided, "flask 500 mL"))
	fix := weighed("13.31 g")
	fix.Replaces, fix.Reason = "f2", "misread"
	if got := vessel(mustMake(t, r, s.add(fix))).Flask.Volume; got != 500 {
		t.Errorf("after the correction the flask is %g mL", got)
	}
}

func TestPortionsAddUpAndExcessIsOnRecord(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	before := weighed("18.3310 g")
	after, _ := quantity.Parse("16.2200 g", quantity.Mass, "")
	before.After = &after
	s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).
		add(weighed("3.2000 g")).add(choose(run.KindDecided, "remove-mass")).add(weighed("3.0000 g")).
		add(choose(run.KindDecided, "another-portion")).add(before).add(choose(run.KindDecided, "keep-mass"))
	out := mustMake(t, r, s)
	if got := step(out, "weigh").Summary; got != "Weighed 3.0000 g + 2.1110 g = 5.1110 g, 0.2000 g discarded" {
		t.Errorf("summary %q", got)
	}
	runtest.Used(t, out, "potassium-hydrogen-phthalate 5.311 g") // what was discarded is gone too
}

func TestPastTheMarkVoidsAndCorrectionRevives(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).
		add(weighed("5.1050 g")).
		add(choose(run.KindDecided, "keep-mass")).
		add(counted(solution.KindTransferred, 3)).
		add(choose(solution.KindDissolved, "clear")).
		add(reading(run.KindTemperature, "20.0 °C", quantity.Temperature)).
		add(choose(solution.KindMark, "past"))
	out := mustMake(t, r, s)
	if out.Status != run.Void || len(out.Figures) > 0 || !strings.Contains(out.Reason, "volume is unknown") {
		t.Errorf("%s %q with %d figures", out.Status, out.Reason, len(out.Figures))
	}
	if err := run.Admit(r, s.facts, counted(run.KindMixed, 20), today); err == nil {
		t.Error("a void run takes facts")
	}
	fix := choose(solution.KindMark, "reached")
	fix.Replaces, fix.Reason = s.facts[len(s.facts)-1].ID, "wrong key"
	if err := run.Admit(r, s.facts, fix, today); err != nil {
		t.Errorf("correction refused: %v", err)
	}
	if out := mustMake(t, r, s.add(fix)); out.Status != run.Open || step(out, "mix").State != run.Now {
		t.Errorf("after the correction: %s", out.Status)
	}
}

// A correction changes the concentration in proportion, and leaves the decision.
func TestCorrectedReadingCountsAgain(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	s := bench("5.0918 g")
	before := mustMake(t, r, s).Figures[0].Value
	fix := weighed("5.1918 g")
	fix.Replaces, fix.Reason = "f2", "misread"
	out := mustMake(t, r, s.add(fix))
	if got := out.Figures[0].Value / before; out.Status != run.Finished || math.Abs(got-5.1918/5.0918) > 1e-12 {
		t.Errorf("%s, ratio %g", out.Status, got)
	}
}

// Water at 24.5 °C fills the flask with 0.10 % less amount per volume once it has
// cooled: β(water) ≈ 2.1–2.6·10⁻⁴ /°C less the glass (common practice: 0.02 % per °C).
func TestTemperatureIsCorrectedAndAsked(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	s := (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).
		add(weighed("5.1056 g")).
		add(choose(run.KindDecided, "keep-mass")).
		add(counted(solution.KindTransferred, 1)).
		add(choose(solution.KindDissolved, "clear"))
	cold := mustMake(t, r, s).Figures[0].Value
	s.add(reading(run.KindTemperature, "24.5 °C", quantity.Temperature))
	out := mustMake(t, r, s)
	if change := out.Figures[0].Value/cold - 1; math.Abs(change-0.00098) > 0.00004 {
		t.Errorf("change %.5f, want 0.00098", change)
	}
	at := step(out, "temperature")
	if at.State != run.Now || at.Asks || at.Verdicts[0].Level != verdict.Look {
		t.Errorf("%+v", at)
	}
	if v := step(out, "transfer").Verdicts; len(v) != 1 || v[0].Rule != "M-3" {
		t.Errorf("one rinse passes: %+v", v)
	}
	out = mustMake(
		t,
		r,
		s.add(choose(run.KindDecided, "accept-temperature")).add(choose(solution.KindMark, "reached")).add(counted(run.KindMixed, 12)),
	)
	if v := step(
		out,
		"mix",
	).Verdicts; len(v) != 1 || !strings.Contains(v[0].Sentence, "12 inversions so far, 8 more") ||
		step(out, "mix").Default != "8" {
		t.Errorf("%+v", step(out, "mix"))
	}
}

// Solid left: swirl on; at the neck it is graver; the answer after swirling is a
// new reading, and what was said before stays in the facts.
func TestDissolving(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	start := func() *script {
		return (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed("5.1056 g")).
			add(choose(run.KindDecided, "keep-mass")).add(counted(solution.KindTransferred, 3))
	}
	s := start().add(choose(solution.KindDissolved, "solid-left"))
	at := step(mustMake(t, r, s), "dissolve")
	if at.State != run.Now || !at.Asks || at.Verdicts[0].Level != verdict.Look {
		t.Errorf("solid left: %+v", at)
	}
	out := mustMake(t, r, s.add(choose(solution.KindDissolved, "clear")))
	if step(out, "dissolve").State != run.Done || !out.Exact || len(step(out, "dissolve").Facts) != 2 {
		t.Errorf("clear in the end: %+v", step(out, "dissolve"))
	}
	s = start().add(choose(solution.KindDissolved, "neck-reached"))
	at = step(mustMake(t, r, s), "dissolve")
	if at.Asks || at.Verdicts[0].Level != verdict.Stop || at.Verdicts[0].Choices[0].ID != "start-again" {
		t.Errorf("at the neck: %+v", at)
	}
	if out := mustMake(t, r, s.add(choose(run.KindDecided, "accept-dissolved"))); step(out, "dissolve").State != run.Done || out.Exact {
		t.Errorf("went on from the neck: exact %v", out.Exact)
	}
}

// The tared zero is taken off; far from zero it is remarked on.
func TestTareIsTakenOff(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	with := func(tare string) run.Outcome {
		return mustMake(t, r, (&script{}).add(reading(solution.KindTared, tare, quantity.Mass)).add(weighed("5.1056 g")))
	}
	zero, off := with("0.0000 g"), with("0.0010 g")
	if got := *vessel(zero).Reading - *vessel(off).Reading; math.Abs(got-0.0010) > 1e-12 {
		t.Errorf("difference %g g, want 0.0010", got)
	}
	if len(step(zero, "settle").Verdicts) != 0 || len(step(off, "settle").Verdicts) != 1 {
		t.Error("only the second is far from zero")
	}
}

// Cautions follow the hazard statements, and the local rules always come last.
func TestCautions(t *testing.T) {
	for key, says := range map[string]string{
		"sodium-hydroxide": "Burns eyes and skin", "potassium-permanganate": "Oxidiser", "potassium-dichromate": "May cause cancer",
		"disodium-edta-dihydrate": "breathed in", "copper-sulfate-pentahydrate": "nothing down the sink", "sodium-chloride": "Goggles",
	} {
		recipe, err := request(key, "0.01 mol/L", "500 mL").Recipe()
		if err != nil {
			t.Fatal(err)
		}
		if !slices.ContainsFunc(recipe.Cautions, func(c string) bool { return strings.Contains(c, says) }) ||
			recipe.Cautions[len(recipe.Cautions)-1] != solution.LocalRules {
			t.Errorf("%s: %q", key, recipe.Cautions)
		}
	}
}

// Whatever is stated in whatever order: what is admitted neither breaks the
// account nor leaves a run without a step at hand, and every fact has a sentence.
func FuzzRun(f *testing.F) {
	f.Add([]byte{0, 1, 2, 3, 4, 5, 6, 7, 8})
	f.Add([]byte{0, 1, 2, 9, 10, 11, 12, 13, 14, 15})
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	offers := []fact.Fact{
		reading(solution.KindTared, "0.0000 g", quantity.Mass),
		weighed("5.1056 g"),
		choose(run.KindDecided, "keep-mass"),
		counted(solution.KindTransferred, 3),
		choose(solution.KindDissolved, "clear"),
		reading(run.KindTemperature, "20.0 °C", quantity.Temperature),
		choose(solution.KindMark, "reached"),
		counted(run.KindMixed, 7),
		{Kind: run.KindLabelled, Date: "2026-11-08"},
		weighed("5.9 g"),
		choose(run.KindDecided, "flask 500 mL"),
		choose(run.KindDecided, "remove-mass"),
		choose(run.KindDecided, "another-portion"),
		choose(solution.KindDissolved, "neck-reached"),
		reading(run.KindTemperature, "31 °C", quantity.Temperature),
		choose(solution.KindMark, "past"),
		choose(run.KindDecided, "start-again"),
		choose(run.KindDecided, "wait-temperature"),
		choose(run.KindDecided, "accept-mixing"),
		{Kind: run.KindNote, Text: "n"},
		{
			Kind:     fact.Withdrawn,
			Replaces: "f2",
			Reason:   "r",
		},
		{Kind: solution.KindWeighed, Quantity: weighed("4 g").Quantity, Replaces: "f2", Reason: "r"},
	}
	f.Fuzz(func(t *testing.T, picks []byte) {
		s := &script{}
		for _, pick := range picks[:min(len(picks), 40)] {
			next := offers[int(pick)%len(offers)]
			if run.Admit(r, s.facts, next, today) == nil {
				s.add(next)
			}
		}
		out, err := r.Make(s.facts, today)
		if err != nil {
			t.Fatal(err)
		}
		now := 0
		for _, step := range out.Steps {
			if step.State == run.Now {
				now++
				if !step.Asks && len(step.Verdicts) == 0 {
					t.Errorf("step %s neither asks nor offers a choice: %v", step.ID, picks)
				}
			}
		}
		if want := map[run.Status]int{run.Open: 1, run.Finished: 0, run.Void: 0}[out.Status]; now != want {
			t.Errorf("%s with %d steps at hand: %v", out.Status, now, picks)
		}
		for _, fact := range s.facts {
			if text := r.Sentence(fact); text == "" || text == fact.Kind || strings.Contains(text, "%!") {
				t.Errorf("sentence %q of %+v", text, fact)
			}
		}
		if _, err := r.Explain(s.facts, "concentration"); err != nil {
			t.Error(err)
		}
	})
}
