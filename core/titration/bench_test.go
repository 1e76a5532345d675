package titration

import (
	"fmt"
	"strings"
	"testing"

	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/core/working/workingtest"
)

// bench carries a plan out.
type bench struct{ runtest.Bench[Request] }

func on(t testing.TB, r Request) *bench { return &bench{runtest.Bench[Request]{T: t, Plan: r}} }

func find(t testing.TB, key string) Reaction {
	t.Helper()
	r, ok := Find(key)
	if !ok {
		t.Fatal(key)
	}
	return r
}

func burette() glassware.Item {
	return glassware.Item{
		Kind:        glassware.Burette,
		Volume:      50,
		Class:       glassware.ClassA,
		Count:       1,
		Certificate: glassware.Certificate{Mark: "B 1"},
	}
}

func pipette(mL float64) glassware.Item {
	return glassware.Item{Kind: glassware.OneMarkPipette, Volume: mL, Class: glassware.ClassA, Count: 1}
}

// lye is standardised against 25 mL of phthalate.
func lye(t testing.TB) Request {
	r := Request{
		Reaction:    find(t, "phthalate-for-base"),
		Standardise: true,
		By:          ByPipette,
		Volume:      25,
		Glass:       pipette(25),
		Burette:     burette(),
		Celsius:     20,
		Balance:     weighing.Usual(),
	}
	r.Titrant = Solution{
		Name:        "Sodium hydroxide",
		Formula:     "NaOH",
		Units:       1,
		Bottle:      "b2",
		Number:      2,
		C:           number("made", 0.1, 0.002),
		Approximate: true,
	}
	r.Sample = Solution{
		Name:    "Potassium hydrogen phthalate",
		Formula: "KHC8H4O4",
		Units:   1,
		Bottle:  "b1",
		Number:  1,
		C:       number("khp", 0.1, 0.0001),
	}
	return r
}

// iron is determined with permanganate.
func iron(t testing.TB) Request {
	r := lye(t)
	r.Reaction, r.Standardise, r.Diluted, r.Density = find(t, "permanganate-iron"), false, 10, 1.1
	r.Titrant = Solution{Name: "Potassium permanganate", Formula: "KMnO4", Units: 1, Bottle: "b3", Number: 3, C: number("c", 0.02, 0.00004)}
	r.Sample = Solution{Name: "Pond iron"}
	return r
}

func scale(kind string, part int, mL string) fact.Fact {
	q, err := quantity.ParseAny(mL, []quantity.Dimension{quantity.Volume}, "mL")
	if err != nil {
		panic(err)
	}
	return fact.Fact{Kind: kind, Part: part, Quantity: &q}
}

// inGrams is a mass as the balance shows it.
func inGrams(t testing.TB, grams float64) *quantity.Quantity {
	t.Helper()
	q, err := quantity.ParseAny(fmt.Sprintf("%.4f", grams), []quantity.Dimension{quantity.Mass}, "g")
	if err != nil {
		t.Fatal(err)
	}
	return &q
}

func decide(part int, choice string) fact.Fact {
	return fact.Fact{Kind: run.KindDecided, Part: part, Choice: choice}
}

// trial goes from a reading to another, and says that it was the end point.
func (b *bench) trial(part int, from, to string) run.Outcome {
	b.T.Helper()
	if b.Plan.By == ByPipette {
		b.State(fact.Fact{Kind: KindSample, Part: part, Choice: choiceDelivered})
	}
	b.State(scale(KindStart, part, from))
	b.State(scale(KindRead, part, to))
	return b.State(decide(part, choiceEnd))
}

func view(out run.Outcome) View { return out.View.(View) } //nolint:errcheck // its own kind

func says(list []verdict.Verdict, rule string) string {
	for _, v := range list {
		if v.Rule == rule {
			return string(v.Level) + ": " + v.Sentence
		}
	}
	return ""
}

// explains computes every line of the working of every figure again.
func (b *bench) explains(out run.Outcome) {
	b.T.Helper()
	for _, f := range out.Figures {
		lines, err := b.Plan.Explain(b.Facts, f.ID)
		if err != nil || len(lines) < 2 {
			b.T.Errorf("%s: %v", f.ID, err)
		}
		workingtest.Check(b.T, lines)
		if last := lines[len(lines)-1]; last.Symbol != "U" || strings.TrimSpace(last.Result) != strings.TrimSpace(f.UText+" "+f.Unit) {
			b.T.Errorf("%s: its uncertainty stands nowhere: %+v", f.ID, last)
		}
	}
	if _, err := b.Plan.Explain(b.Facts, "nothing"); err == nil {
		b.T.Error("a figure that there is not is explained")
	}
}
