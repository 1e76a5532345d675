package buffer

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vialbench/core/uncertain"
)

// recipes that slips are tried on.
func recipes(t testing.TB) []Request {
	return []Request{
		request(t, "phosphoric", 7.0, 0.05, solid(t, "potassium-dihydrogen-phosphate"), solid(t, "disodium-hydrogen-phosphate-dodecahydrate")),
		request(t, "phosphoric", 7.5, 0.1, stock(t, "potassium-dihydrogen-phosphate", 0.25), stock(t, "disodium-hydrogen-phosphate", 0.25)),
		request(t, "acetic", 4.4, 0.1, stock(t, "acetic-acid-glacial", 1), solid(t, "sodium-acetate-trihydrate")),
		request(t, "acetic", 5.1, 0.2, stock(t, "acetic-acid-glacial", 2.5), stock(t, "sodium-hydroxide", 1)),
		request(t, "tris", 8.4, 0.05, stock(t, "hydrochloric-acid", 1), solid(t, "tris")),
		request(t, "tris", 7.7, 0.1, solid(t, "tris-hydrochloride"), solid(t, "tris")),
		request(t, "carbonic", 10.1, 0.05, solid(t, "sodium-hydrogencarbonate"), solid(t, "sodium-carbonate")),
		request(t, "citric", 5.0, 0.1, solid(t, "citric-acid-monohydrate"), solid(t, "trisodium-citrate-dihydrate")),
	}
}

// mishap is something that goes wrong at a bench, as it happens there: how often beside the others,
// and what it does to what was meant, worked out here by itself. Nothing is returned where it cannot
// happen to a recipe. names begin the IDs of the slips that tell it.
type mishap struct {
	name  string
	often int
	names []string
	do    func(r Request, m Made, random *rand.Rand) (Made, bool)
}

// systemOf is what an ingredient brings of the system of a recipe: protons lost, by mol; ok is false
// of a strong acid or base.
func systemOf(r Request, i Ingredient) (lost float64, ok bool) {
	c, _ := i.Compound()
	for _, u := range c.Units {
		if u.System.Key == r.System.Key {
			return c.Lost() / u.Count, true
		}
	}
	return 0, false
}

// byHenderson is what somebody takes who works with a pKa and a ratio, of as much as was meant.
func byHenderson(r Request, m Made, pKa, low float64) (Made, bool) {
	part := 1 / (1 + math.Pow(10, pKa-r.Target)) // of the base
	a, okA := systemOf(r, r.Acid)
	b, okB := systemOf(r, r.Base)
	switch {
	case okA && okB && math.Abs(b-a-1) < 1e-9:
		total := m.Acid + m.Base
		m.Acid, m.Base = total*(1-part), total*part
	case okA && okB:
		return m, false
	case okA:
		m.Base = m.Acid * (low + part - a)
	default:
		m.Acid = m.Base * (b - low - part)
	}
	return m, m.Acid >= 0 && m.Base >= 0
}

var mishaps = []mishap{
	{"ratio upside down", 20, []string{"ratio"}, func(r Request, m Made, _ *rand.Rand) (Made, bool) {
		step, _ := r.System.Step(r.Target, r.Celsius)
		a, okA := systemOf(r, r.Acid)
		b, okB := systemOf(r, r.Base)
		switch {
		case okA && okB:
			m.Acid, m.Base = m.Base, m.Acid
		case okA:
			m.Base = m.Acid*(2*(float64(step)-a)+1) - m.Base
		default:
			m.Acid = m.Base*(2*(b-float64(step))-1) - m.Acid
		}
		return m, m.Acid > 0 && m.Base > 0
	}},
	{"pKa at 25 °C", 8, []string{"25 °C"}, func(r Request, m Made, _ *rand.Rand) (Made, bool) {
		step, pKa := r.System.Step(r.Target, r.Celsius)
		usual := r.System.Constants[step].PKa
		before, ok := byHenderson(r, m, pKa, float64(step))
		after, _ := byHenderson(r, m, usual, float64(step))
		m.Acid, m.Base = m.Acid+after.Acid-before.Acid, m.Base+after.Base-before.Base
		return m, ok && math.Abs(usual-pKa) > 0.1 && m.Acid > 0 && m.Base > 0
	}},
	{"wrong pKa", 5, []string{"pKa"}, func(r Request, m Made, random *rand.Rand) (Made, bool) {
		step, _ := r.System.Step(r.Target, r.Celsius)
		other := random.IntN(len(r.System.Constants))
		out, ok := byHenderson(r, m, r.System.Constants[other].At(r.Celsius), float64(step))
		return out, ok && other != step
	}},
	{"bottles exchanged", 8, []string{"swapped"}, func(r Request, m Made, _ *rand.Rand) (Made, bool) {
		factor := r.Base.For(1) / r.Acid.For(1)
		_, okA := systemOf(r, r.Acid)
		_, okB := systemOf(r, r.Base)
		m.Acid, m.Base = m.Base*factor, m.Acid/factor
		return m, okA && okB && r.Acid.Liquid() == r.Base.Liquid()
	}},
	{"one bottle for both", 5, []string{"both"}, func(r Request, m Made, _ *rand.Rand) (Made, bool) {
		_, okA := systemOf(r, r.Acid)
		_, okB := systemOf(r, r.Base)
		m.Acid, m.Base = m.Acid+m.Base*r.Base.For(1)/r.Acid.For(1), 0
		return m, okA && okB && r.Acid.Liquid() == r.Base.Liquid()
	}},
	{"another hydrate", 12, []string{"hydrate"}, func(r Request, m Made, random *rand.Rand) (Made, bool) {
		list := hydrates(r.Base.Substance)
		if len(list) == 0 || r.Base.Liquid() {
			return m, false
		}
		m.Base *= list[random.IntN(len(list))].factor
		return m, true
	}},
	{
		"a stock of ten times the strength",
		6,
		[]string{"strong"},
		func(r Request, m Made, _ *rand.Rand) (Made, bool) { m.Base *= 10; return m, r.Base.Liquid() },
	},
	{
		"a stock ten times as thin",
		6,
		[]string{"weak"},
		func(r Request, m Made, _ *rand.Rand) (Made, bool) { m.Acid /= 10; return m, r.Acid.Liquid() },
	},
	{"left out", 5, []string{"no"}, func(_ Request, m Made, _ *rand.Rand) (Made, bool) { m.Base = 0; return m, true }},
	{"twice", 4, []string{"twice"}, func(_ Request, m Made, _ *rand.Rand) (Made, bool) { m.Acid *= 2; return m, true }},
	{"air", 6, []string{"air"}, func(r Request, m Made, random *rand.Rand) (Made, bool) {
		m.Carbonic = (0.5 + 9.5*random.Float64()) * 1e-6 * m.Volume
		return m, r.Target > 7.5
	}},
	{"read at another temperature", 8, []string{"+", "-"}, func(_ Request, m Made, random *rand.Rand) (Made, bool) {
		was := m.Celsius
		m.Celsius = []float64{4, 20, 25, 37}[random.IntN(4)]
		return m, math.Abs(m.Celsius-was) >= 5
	}},
}

// Buffers for 4 to 37 °C that went wrong as they do at a bench, each by one mishap that shows at all:
// its slip is among those named, and mostly the first; an honest one is hardly ever blamed. Some
// cannot be told apart by a pH: what was left out from what came out of one bottle.
func TestMishapsAreNamed(t *testing.T) {
	random := rand.New(rand.NewPCG(2, 2))
	list := recipes(t)
	var draw []mishap
	for _, m := range mishaps {
		for range m.often {
			draw = append(draw, m)
		}
	}
	const meter = 0.01
	tried, first, shown, blamed := 0, 0, 0, 0
	missed, of := map[string]int{}, map[string]int{}
	for tries := 0; tried < 300 && tries < 20000; tries++ {
		r := list[random.IntN(len(list))]
		r.Celsius = []float64{4, 20, 25, 25, 37}[random.IntN(5)]
		r.MadeAt = r.Celsius
		c, err := r.compose(r.Target)
		if err != nil {
			continue
		}
		litres := r.Volume / 1000
		made := Made{Acid: c.Acid * litres, Base: c.Base * litres, Volume: r.Volume, Celsius: r.Celsius}
		predicted, err := r.planned(c, r.Celsius).PH()
		if err != nil {
			t.Fatal(err)
		}
		x := draw[random.IntN(len(draw))]
		off, ok := x.do(r, made, random)
		if !ok {
			continue
		}
		solver, err := r.mixture(off).Solver()
		if err != nil {
			continue
		}
		u := math.Hypot(meter, predicted.U())
		pH := solver.Solve().PH
		if math.Abs(pH-predicted.Value) < 2*RuleMiss.Threshold*u || pH < -1 || pH > 15 {
			continue
		}
		tried++
		of[x.name]++
		reading := func(pH float64) uncertain.Number {
			return uncertain.New(pH+random.NormFloat64()*u, meter, uncertain.Source{ID: "meter", Label: "meter"})
		}
		d, err := r.Diagnose(made, Seen{Predicted: predicted, Measured: reading(pH), Goal: r.Target})
		if err != nil {
			t.Fatal(err)
		}
		at := slices.IndexFunc(d.Causes, func(c Cause) bool {
			return len(c.Slips) == 1 && slices.ContainsFunc(x.names, func(name string) bool { return strings.HasPrefix(c.Slips[0], name) })
		})
		switch {
		case at == 0:
			first++
			shown++
		case at > 0:
			shown++
		default:
			missed[x.name]++
		}
		honest, err := r.Diagnose(made, Seen{Predicted: predicted, Measured: reading(predicted.Value), Goal: r.Target})
		if err != nil || !honest.Explained {
			blamed++
		}
	}
	t.Logf(
		"of %d mishaps %v, %d are named first, %d are named; missed: %v; %d honest buffers are blamed",
		tried,
		of,
		first,
		shown,
		missed,
		blamed,
	)
	if tried < 300 || first < 250 || shown < 285 || blamed > 6 {
		t.Errorf("of %d mishaps %d are named first, %d are named; %d honest buffers are blamed", tried, first, shown, blamed)
	}
}

// What another hydrate in the bottle does, by the molar masses: 358.14 and 177.99 g/mol for
// 141.96.
func TestHydratesOfTheShelf(t *testing.T) {
	got := map[string]float64{}
	for _, h := range hydrates(library(t, "disodium-hydrogen-phosphate")) {
		got[h.text] = h.factor
	}
	for text, want := range map[string]float64{"Na2HPO4·12H2O": 141.96 / 358.14, "Na2HPO4·2H2O": 141.96 / 177.99} {
		if math.Abs(got[text]-want) > 1e-4 {
			t.Errorf("%s: %.5f, want %.5f", text, got[text], want)
		}
	}
}

// What can be done depends on the slip: a lost ingredient means beginning again; a ratio that
// takes little is mended, one that takes much is not.
func TestRemedies(t *testing.T) {
	causeOf := func(r Request, slipped func(Made) Made, id string) Cause {
		t.Helper()
		c, err := r.compose(r.Target)
		if err != nil {
			t.Fatal(err)
		}
		litres := r.Volume / 1000
		made := Made{Acid: c.Acid * litres, Base: c.Base * litres, Volume: r.Volume, Celsius: 25}
		s, err := r.mixture(slipped(made)).Solver()
		if err != nil {
			t.Fatal(err)
		}
		predicted, _ := r.planned(c, 25).PH() //nolint:errcheck // composed above
		measured := uncertain.New(s.Solve().PH, 0.01, uncertain.Source{ID: "meter"})
		d, err := r.Diagnose(made, Seen{Predicted: predicted, Measured: measured, Goal: r.Target})
		if err != nil {
			t.Fatal(err)
		}
		for _, cause := range d.Causes {
			if len(cause.Slips) == 1 && cause.Slips[0] == id {
				return cause
			}
		}
		t.Fatalf("%s is not among %+v", id, d.Causes)
		return Cause{}
	}
	swap := func(m Made) Made { m.Acid, m.Base = m.Base, m.Acid; return m }
	strong := request(t, "tris", 7.7, 0.1, solid(t, "tris-hydrochloride"), solid(t, "tris"))
	if c := causeOf(strong, swap, "ratio"); !strings.HasPrefix(c.Remedy, "Begin again: it would take") {
		t.Errorf("much: %s", c.Remedy)
	}
	thin := request(t, "tris", 7.7, 0.01, solid(t, "tris-hydrochloride"), solid(t, "tris"))
	if c := causeOf(thin, swap, "ratio"); !strings.HasPrefix(c.Remedy, "Add ") || !strings.Contains(c.Remedy, "hydrochloric acid, 1 mol/L") {
		t.Errorf("little: %s", c.Remedy)
	}
	twice := func(m Made) Made { m.Base *= 2; return m }
	if c := causeOf(strong, twice, "twice base"); !strings.HasPrefix(c.Remedy, "Begin again: its strength") {
		t.Errorf("too strong: %s", c.Remedy)
	}
}

// A remedy brings what is in the flask to its goal, as the balance has it, and goes in while
// there is room; what the temperature or the meter does has nothing to do with what is in the flask.
func TestRemediesComeToTheGoal(t *testing.T) {
	r := request(t, "tris", 7.7, 0.01, solid(t, "tris-hydrochloride"), solid(t, "tris"))
	made := Made{Acid: 0.5e-3, Base: 0.5e-3, Volume: 100, Celsius: 25}
	for _, goal := range []float64{7.7, 7.98} {
		text := r.remedy(made, goal, false)
		s, _ := r.mixture(made).Solver()
		// Half of 1 mmol is base now, at its pKa; by the ratio alone so much is at the goal.
		want := 0.5 - 1/(1+math.Pow(10, s.Solve().PH-goal))
		var got float64
		if _, err := fmt.Sscanf(text, "Add %f mL of hydrochloric acid", &got); err != nil || math.Abs(got-want) > 0.1*want {
			t.Errorf("%s, want %.3f mL", text, want)
		}
	}
	strong := request(t, "tris", 7.7, 0.1, solid(t, "tris-hydrochloride"), solid(t, "tris"))
	upside := Made{Acid: 7.5e-3, Base: 17.5e-3, Volume: strong.Volume, Celsius: 25}
	if text := strong.remedy(upside, 7.7, false); !strings.HasPrefix(text, "Begin again: it would take") {
		t.Errorf("a full flask: %s", text)
	}
	upside.Volume = 0.4 * strong.Volume
	if text := strong.remedy(upside, 7.7, false); !strings.HasPrefix(text, "Add ") {
		t.Errorf("in the beaker there is room: %s", text)
	}
	warm := made
	warm.Celsius = 35
	s, _ := r.mixture(warm).Solver()
	p, _ := r.mixture(made).PH() //nolint:errcheck // it could be solved
	d, err := r.Diagnose(
		made,
		Seen{Predicted: uncertain.Exact(p.Value), Measured: uncertain.New(s.Solve().PH, 0.02, uncertain.Source{ID: "meter"}), Goal: 7.7},
	)
	if err != nil {
		t.Fatal(err)
	}
	found := false
	for _, c := range d.Causes {
		alone := c.Slips[0] == "+10 °C" && len(c.Slips) == 1
		found = found || alone
		if alone &&
			(c.Sentence != "It was 35 °C, not 25 °C, when it was read." || c.Remedy != "Let it come to 25 °C, and read it again before anything is added.") {
			t.Errorf("%+v", c)
		}
	}
	if !found {
		t.Errorf("%+v", d)
	}
}
