package solution_test

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/solution"
	"vialbench/core/verdict"
)

// A field is taken up to its bound, and refused just beyond, with a sentence that gives the bound.
func TestBoundsOfAPlan(t *testing.T) {
	salt := func() solution.Request { return request("sodium-chloride", "0.1 mol/L", "250 mL") }
	liquid := func() solution.Request { return acid("hydrochloric-acid", "0.1 mol/L", glassware.GraduatedPipette) }
	mL := func(x float64) quantity.Quantity { return quantity.Of(x, "mL") }
	for _, c := range []struct {
		field, says string
		of          func() solution.Request
		set         func(r *solution.Request, x float64)
		good, bad   []float64
	}{
		{"/band", "±0.05 % and ±20 %", salt, func(r *solution.Request, x float64) { r.Band = x }, []float64{0.0005, 0.2}, []float64{0.000499, 0.201}},
		{"/wanted", "between 0 and 100 %", salt, func(r *solution.Request, x float64) { r.Wanted = x }, []float64{0, 0.999}, []float64{-0.001, 1}},
		{"/waterTemperature", "between 0 and 40 °C", salt, func(r *solution.Request, x float64) { r.WaterTemperature = x }, []float64{0, 40}, []float64{-0.1, 40.1}},
		{"/assay", "at most 102 % w/w", salt, func(r *solution.Request, x float64) { r.Assay = x }, []float64{0.5, 1.02}, []float64{0, 1.0201}},
		{"/assayLimits", "less than the assay", salt, func(r *solution.Request, x float64) { r.AssayLimits = x }, []float64{0, 0.9}, []float64{-0.001, 1}},
		{"/dryingLoss", "between 0 and 90 %", salt, func(r *solution.Request, x float64) { r.DryingLoss = x }, []float64{0, 0.89}, []float64{-0.01, 0.9}},
		{"/liquidDensity", "between 0.5 and 3 g/mL", liquid, func(r *solution.Request, x float64) { r.LiquidDensity = x }, []float64{0.5, 3}, []float64{0.49, 3.01}},
		{"/statedMolarity", "at most 60 mol/L", liquid, func(r *solution.Request, x float64) { r.StatedMolarity = x }, []float64{1, 60}, []float64{-1, 60.1}},
		{"/statedMolarityLimits", "less than it", liquid, func(r *solution.Request, x float64) { r.StatedMolarity, r.StatedMolarityLimits = 12, x }, []float64{0, 11}, []float64{-0.1, 12}},
		{"/solutionDensity", "between 0.5 and 3 g/mL", salt, func(r *solution.Request, x float64) { r.SolutionDensity = x }, []float64{0.5, 1, 3}, []float64{0.49, 3.01}},
		{"/solutionDensityLimits", "less than 0.5 g/mL", salt, func(r *solution.Request, x float64) { r.SolutionDensity, r.SolutionDensityLimits = 1, x }, []float64{0, 0.49}, []float64{-0.1, 0.5}},
		{"/volume", "at least 0.1 mL and at most 60 L", func() solution.Request {
			r := salt()
			r.MakeUp = solution.ByAdding
			return r
		}, func(r *solution.Request, x float64) { r.Volume = mL(x) }, []float64{0.1, 60000}, []float64{0.09, 60001}},
	} {
		for _, x := range c.good {
			r := c.of()
			c.set(&r, x)
			if _, err := r.Recipe(); err != nil && strings.Contains(" "+fields(err)+" ", c.field+" ") {
				t.Errorf("%s = %g: %v", c.field, x, err)
			}
		}
		for _, x := range c.bad {
			r := c.of()
			c.set(&r, x)
			if _, err := r.Recipe(); err == nil || fields(err) != c.field || !strings.Contains(err.Error(), c.says) {
				t.Errorf("%s = %g: %v, want “%s”", c.field, x, err, c.says)
			}
		}
	}
	r := salt()
	r.Also = make([]solution.Solute, 20)
	if _, err := r.Recipe(); err == nil || !strings.Contains(err.Error(), "a mixed standard has at most 6 substances") {
		t.Errorf("%v", err)
	}
}

// How warm it gets when all of it goes into half a flask of water, by hand from the same tables of heats: sodium hydroxide releases
// 42.54 kJ/mol at 27.8 mol of water; 37 % hydrochloric acid 13.55 kJ/mol on the way from 3.4 to 31.2.
func TestHeatByHand(t *testing.T) {
	hydrochloric := acid("hydrochloric-acid", "1 mol/L", "")
	for name, c := range map[string]struct {
		r    solution.Request
		rise float64
	}{
		"sodium hydroxide":  {request("sodium-hydroxide", "1 mol/L", "100 mL"), 4254.4 / (50*4.18 + 4.0*1.5)},
		"hydrochloric acid": {hydrochloric, 0},
	} {
		c.r.Volume = quantity.Of(100, "mL")
		if name == "hydrochloric acid" {
			w := c.r.Assay
			grams := 0.1 * 36.458 / w
			before := (1 - w) / 18.015 * 36.458 / w
			at := func(n float64) float64 { // between 3 and 4, and between 20 and 50
				if n < 4 {
					return 56.85 + (61.20-56.85)*(n-3)
				}
				return 71.78 + (73.28-71.78)*(n-20)/30
			}
			heat := 100 * (at(before+50/18.015/0.1) - at(before))
			c.rise = heat / ((50+grams-3.6458)*4.18 + 3.6458*1.5)
		}
		warms := func(threshold float64) bool {
			c.r.Thresholds = verdict.Thresholds{solution.RuleHeat.ID: threshold}
			recipe, err := c.r.Recipe()
			if err != nil {
				t.Fatal(err)
			}
			return speaks(recipe.Verdicts, solution.RuleHeat)
		}
		if !warms(c.rise*0.999) || warms(c.rise*1.001) {
			t.Errorf("%s: it does not warm by %.3f K", name, c.rise)
		}
	}
}

// What is said at the bench, with its numbers.
func TestSentencesAtTheBench(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	dissolved := func() *script {
		return begun("5.1056 g").add(counted(solution.KindTransferred, 3)).add(choose(solution.KindDissolved, "clear"))
	}
	for name, c := range map[string]struct {
		step, rule, want string
		s                *script
	}{
		// Water: 998.207 g/L at 20 °C, 997.198 at 24.4 and 999.009 at 15.6 (CRC Handbook, from memory); glass 1e-5/K.
		"warm": {
			"temperature", "M-5", "4.4 °C from 20 °C: filled to the mark now, the concentration at 20 °C is +0.10 % off. It can be corrected for.",
			dissolved().add(reading(run.KindTemperature, "24.4 °C", quantity.Temperature)),
		},
		"cold": {
			"temperature", "M-5", "4.4 °C from 20 °C: filled to the mark now, the concentration at 20 °C is −0.08 % off. It can be corrected for.",
			dissolved().add(reading(run.KindTemperature, "15.6 °C", quantity.Temperature)),
		},
		"near": {
			"temperature", "M-5", "Near enough to 20 °C; corrected for all the same (+0.04 %).",
			dissolved().add(reading(run.KindTemperature, "22.0 °C", quantity.Temperature)),
		},
		"mixing": {
			"mix", "M-7", "8 inversions so far, 12 more to come.",
			dissolved().add(reading(run.KindTemperature, "20.0 °C", quantity.Temperature)).add(choose(solution.KindMark, "reached")).add(counted(run.KindMixed, 8)),
		},
		"rinsed": {"transfer", "M-3", "Rinsed fewer than 2 times: look for solid on the funnel.", begun("5.1056 g").add(counted(solution.KindTransferred, 1))},
		"tared": {
			"settle", "W-1", "It showed 0.0012 g after taring; this is taken off every reading.",
			(&script{}).add(reading(solution.KindTared, "0.0012 g", quantity.Mass)),
		},
		// 5.31/5.1056 − 1 = 4.0 %; 5.31 g fit 250·5.31/5.1056 = 260.0 mL.
		"over": {
			"weigh", "W-3", "4 % over, above the ±1 % band. The label will say 0.1040 mol/L",
			(&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed("5.3100 g")),
		},
		// 0.0150 g is under 100·0.0002/0.1 = 0.2 g.
		"little": {
			"weigh", "W-2", "0.0150 g is less than Fern weighs to 0.1 % (from 0.2000 g on).",
			(&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed("0.0150 g")),
		},
	} {
		got := ofRule(step(mustMake(t, r, c.s), c.step).Verdicts, c.rule)
		if name == "over" {
			if !strings.HasPrefix(got, "4 % over, above the ±1 % band. ") || !strings.Contains(got, "0.1040") || !strings.HasSuffix(got, "This mass fits 260.0 mL, and there is no such flask.") {
				t.Errorf("%s: %q", name, got)
			}
			continue
		}
		if got != c.want {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
	// 3.1 % under: 5.1056 − 4.9473 = 0.1583 g are missing, and are added first; 5.41 g are 0.3044 g too much.
	for mass, label := range map[string]string{"4.9473 g": "Add 0.1583 g more", "5.4100 g": "Remove 0.3044 g and discard it"} {
		choices := step(mustMake(t, r, (&script{}).add(reading(solution.KindTared, "0.0000 g", quantity.Mass)).add(weighed(mass))), "weigh").Verdicts[0].Choices
		found := false
		for _, choice := range choices {
			found = found || choice.Label == label
		}
		if !found {
			t.Errorf("%s: %+v, want %s", mass, choices, label)
		}
	}
}

// A bottle made up by mass, or by adding water, says how far it is from its recipe, and how well its volume is known.
func TestSentencesOfWhatIsMadeUp(t *testing.T) {
	r := request("sodium-chloride", "1 g/L", "500 mL")
	r.MakeUp, r.SolutionDensity = solution.ByMass, 0.9989
	// 500 mL weigh 499.45 g; 504.44 g are 1.00 % more, and 505 mL.
	r.Balance.Capacity, r.Balance.Resolution = 3200, 0.01
	weighs := 500 * 0.9989
	s := (&script{}).add(reading(solution.KindTared, "0.00 g", quantity.Mass)).add(weighed("0.50 g")).add(choose(run.KindDecided, "keep-mass")).
		add(choose(solution.KindDissolved, "clear")).add(reading(solution.KindMadeUp, strconv.FormatFloat(1.01*weighs, 'f', 2, 64)+" g", quantity.Mass))
	out := mustMake(t, r, s)
	if got := ofRule(step(out, "made-up").Verdicts, "W-3"); !strings.HasPrefix(got, "+1.00 % from the recipe; the bottle is named by what it weighs, 505.0") {
		t.Errorf("%q", got)
	}
	r.MakeUp, r.SolutionDensity = solution.ByAdding, 0
	s.facts[4] = reading(solution.KindMadeUp, "500 mL", quantity.Volume)
	s.facts[4].ID = "f5"
	// ±3 % of rule M-9, rectangular, is U = 3.5 % with k = 2.
	if got := ofRule(step(mustMake(t, r, s), "made-up").Verdicts, "M-9"); got != "It makes about 500 mL, known to ±3.5 %: the concentration is nominal." {
		t.Errorf("%q", got)
	}
}

var numbers = regexp.MustCompile(`\d+\.\d+`)

// The line of the draws tells the interval that was drawn: its middle ± half of it, and both ends.
func TestTheLineOfTheDraws(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL")
	s, line, ok, err := solution.Confirm(r, bench("5.0918 g").facts)
	if err != nil || !ok {
		t.Fatal(ok, err)
	}
	var got []float64
	for _, text := range numbers.FindAllString(line.Substituted+" "+line.Result, -1) {
		x, err := strconv.ParseFloat(text, 64)
		if err != nil {
			t.Fatal(err)
		}
		got = append(got, x)
	}
	half := (s.High - s.Low) / 2
	want := []float64{s.Low, s.High, (s.Low + s.High) / 2, half}
	if len(got) != len(want) {
		t.Fatalf("%v in %s, %s", got, line.Substituted, line.Result)
	}
	for i := range want {
		if math.Abs(got[i]-want[i]) > 0.05*half {
			t.Errorf("%s, %s: %g, want %g", line.Substituted, line.Result, got[i], want[i])
		}
	}
	if line.From[1] != "the first order is confirmed: both intervals are the same" {
		t.Errorf("%q", line.From[1])
	}
	// A rectangular assay that makes up nearly all of it has a narrower interval than twice its standard deviation.
	r.AssayLimits = 0.02
	if _, line, _, err = solution.Confirm(r, bench("5.0918 g").facts); err != nil || !strings.Contains(line.From[1], "“assay” is not normally distributed") {
		t.Errorf("%v %q", err, line.From)
	}
}

// What a fact cannot be is refused at its bound.
func TestBoundsOfFacts(t *testing.T) {
	r := request("potassium-hydrogen-phthalate", "0.1 mol/L", "250 mL") // Fern carries 220 g
	after := func(f fact.Fact, text string) fact.Fact {
		q, err := quantity.Parse(text, quantity.Mass, "")
		if err != nil {
			t.Fatal(err)
		}
		f.After = &q
		return f
	}
	for _, c := range []struct {
		f    fact.Fact
		says string // nothing where it is taken
	}{
		{reading(solution.KindTared, "2.2000 g", quantity.Mass), ""},
		{reading(solution.KindTared, "-2.2000 g", quantity.Mass), ""},
		{reading(solution.KindTared, "2.2001 g", quantity.Mass), "press tare"},
		{reading(solution.KindTared, "-2.2001 g", quantity.Mass), "press tare"},
		{weighed("220.0000 g"), ""},
		{weighed("220.0001 g"), "Fern carries up to 220 g"},
		{weighed("0.0000 g"), "a mass is above zero"},
		{weighed("0.0001 g"), ""},
		{after(weighed("18.3310 g"), "18.3309 g"), ""},
		{after(weighed("18.3310 g"), "18.3310 g"), "the vessel weighs less than before"},
	} {
		s := &script{}
		if c.f.Kind == solution.KindWeighed {
			s.add(reading(solution.KindTared, "0.0000 g", quantity.Mass))
		}
		c.f.ID = "new"
		err := run.Admit(r, s.facts, c.f, today)
		if (err == nil) != (c.says == "") || err != nil && !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s %s: %v, want “%s”", c.f.Kind, c.f.Quantity, err, c.says)
		}
	}
	adding := request("sodium-chloride", "1 g/L", "500 mL")
	adding.MakeUp = solution.ByAdding
	s := begun("0.5000 g").add(counted(solution.KindTransferred, 3)).add(choose(solution.KindDissolved, "clear"))
	for text, taken := range map[string]bool{"50.1 mL": true, "50 mL": false, "4999 mL": true, "5000 mL": false} {
		f := reading(solution.KindMadeUp, text, quantity.Volume)
		f.ID = "new"
		if err := run.Admit(adding, s.facts, f, today); (err == nil) != taken {
			t.Errorf("%s of water to 500 mL: %v", text, err)
		}
	}
}
