package lab

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/work"
	"vialbench/core/working/workingtest"
)

// What every kind of work keeps to, whatever it makes. The plans are those of the sample
// records; a kind that is in the lab and not among them fails here.

var monday = time.Date(2026, 5, 11, 8, 0, 0, 0, time.UTC)

type sampleRun struct {
	name  string
	kind  kind
	plan  run.Plan
	facts []fact.Fact
}

func sampleRuns(t *testing.T) []sampleRun {
	t.Helper()
	var records Records
	text, err := os.ReadFile("../../demo/records.json")
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(text, &records); err != nil {
		t.Fatal(err)
	}
	var list []sampleRun
	seen := map[string]bool{}
	for _, r := range records.Runs {
		k, err := kindNamed(r.Plan.Kind)
		if err != nil {
			t.Fatal(err)
		}
		plan, err := work.Decode(k.name, r.Plan.Request)
		if err != nil {
			t.Fatal(err)
		}
		seen[k.name] = true
		facts := make([]fact.Fact, len(r.Facts))
		for i, f := range r.Facts {
			facts[i] = f.Fact
		}
		list = append(list, sampleRun{plan.Title(), k, plan, facts})
	}
	for _, k := range kinds {
		if !seen[k.name] {
			t.Errorf("the sample records have no run of the kind %s", k.name)
		}
	}
	return list
}

// eachSample runs a test over every sample run.
func eachSample(t *testing.T, check func(t *testing.T, s sampleRun)) {
	t.Helper()
	for _, s := range sampleRuns(t) {
		t.Run(s.kind.name+" "+s.name, func(t *testing.T) { check(t, s) })
	}
}

var firstQuantity = regexp.MustCompile(`\d+(\.\d+)?`)

// nextFact is what the step at hand asks for, done as its title says.
func nextFact(t *testing.T, out run.Outcome, n int) fact.Fact {
	t.Helper()
	i := slices.IndexFunc(out.Steps, func(s run.Step) bool { return s.State == run.Now })
	if i < 0 {
		t.Fatalf("an open run has no step at hand: %s", out.Status)
	}
	step := out.Steps[i]
	f := fact.Fact{ID: fmt.Sprintf("n%d", n), Kind: step.Kind, Part: step.Part, At: monday.Add(time.Duration(n) * time.Minute)}
	told := func(text string) *quantity.Quantity {
		q, err := quantity.ParseAny(text, step.Dimensions, step.Unit)
		if err != nil {
			t.Fatalf("%s: %v", step.Title, err)
		}
		return &q
	}
	says := cmp.Or(step.Default, step.Expects)
	if says == "" {
		if says = firstQuantity.FindString(step.Title); step.Tares || says == "" {
			says = "0.0000"
		}
		if slices.Contains(step.Dimensions, quantity.Absorbance) { // a title names the tube, not what it shows
			says = fmt.Sprintf("0.%d%d", step.Part+1, step.Part)
		}
	}
	if step.Beside != nil {
		q, err := quantity.ParseAny(step.Beside.Default, step.Beside.Dimensions, step.Beside.Unit)
		if err != nil {
			t.Fatalf("%s: %v", step.Title, err)
		}
		f.Beside = []quantity.Quantity{q}
	}
	switch {
	case step.Ends != nil && (len(step.Facts) > 2 || step.Part > 1): // done often enough
		f.Kind, f.Choice, f.Beside = run.KindDecided, step.Ends.ID, nil
	case !step.Asks:
		f.Kind, f.Choice, f.Beside = run.KindDecided, step.Verdicts[0].Choices[0].ID, nil
	case step.Input == run.InputQuantity:
		f.Quantity = told(says)
	case step.Input == run.InputSample:
		f.Quantity, f.Name, f.Choice = told("0.0"), "a pond", step.Options[0].ID
	case step.Input == run.InputReadings:
		f.Quantity, f.After = told("0.00"), told(says)
	case step.Input == run.InputCount, step.Input == run.InputDrops:
		count, err := strconv.Atoi(step.Default)
		if err != nil {
			t.Fatalf("%s proposes %q", step.Title, step.Default)
		}
		f.Count = &count
	case step.Input == run.InputLabel:
		f.Date = "2026-12-01"
	default:
		f.Choice = step.Options[0].ID
	}
	return f
}

// carryOut takes a run from its beginning to the end, every fact admitted, and calls
// back after each.
func carryOut(t *testing.T, plan run.Plan, each func(facts []fact.Fact, out run.Outcome)) []fact.Fact {
	t.Helper()
	var facts []fact.Fact
	for n := range 100 {
		out := made(t, plan, facts)
		each(facts, out)
		if out.Status != run.Open {
			return facts
		}
		f := nextFact(t, out, n)
		if err := run.Admit(plan, facts, f, monday); err != nil {
			t.Fatalf("%s: %v", out.AtHand(), err)
		}
		facts = append(facts, f)
	}
	t.Fatal("the run does not end")
	return nil
}

func made(t *testing.T, plan run.Plan, facts []fact.Fact) run.Outcome {
	t.Helper()
	out, err := plan.Make(facts, monday)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// results are what an outcome says of the matter: the steps name facts by their IDs,
// which may differ.
func results(t *testing.T, out run.Outcome) string {
	t.Helper()
	text, err := json.Marshal([]any{out.Status, out.Reason, out.Figures, out.Products, out.View})
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

func TestEveryKindGoesFromPlanToShelf(t *testing.T) {
	eachSample(t, func(t *testing.T, s sampleRun) {
		if _, err := s.plan.Design(); err != nil {
			t.Error(err)
		}
		facts := carryOut(t, s.plan, func(_ []fact.Fact, out run.Outcome) {
			now := 0
			ids := map[string]bool{}
			for _, step := range out.Steps {
				if step.State == run.Now {
					now++
				}
				if ids[step.ID] || step.Title == "" || step.Kind == "" {
					t.Errorf("a step is named twice or not at all: %+v", step)
				}
				ids[step.ID] = true
				if step.Asks && step.Input == run.InputQuantity && (len(step.Dimensions) == 0 || step.Unit == "" || step.Label == "") {
					t.Errorf("%s asks for a quantity and does not say of what", step.Title)
				}
			}
			if want := map[run.Status]int{run.Open: 1}[out.Status]; now != want {
				t.Errorf("%d steps are at hand of a run that is %s", now, out.Status)
			}
		})
		out := made(t, s.plan, facts)
		if out.Status != run.Finished || len(out.Products) == 0 {
			t.Fatalf("%s, %d products", out.Status, len(out.Products))
		}
		for _, p := range out.Products {
			if p.Result {
				continue
			}
			if len(p.Concentrations()) == 0 || p.Concentrations()[0].Value < 0 || // a blank holds nothing
				p.Title == "" || p.Expires == "" {
				t.Errorf("no label can be printed of %+v", p)
			}
		}
		for _, f := range facts {
			if s.plan.Sentence(f) == "" || s.plan.Sentence(f) == f.Kind {
				t.Errorf("the logbook does not say what %s is", f.Kind)
			}
		}
		for _, f := range out.Figures {
			lines, err := s.plan.Explain(facts, f.ID)
			if err != nil || len(lines) == 0 {
				t.Errorf("%s has no working: %v", f.ID, err)
			}
			workingtest.Check(t, lines)
		}
		if _, err := s.plan.Explain(facts, "the weather"); err == nil {
			t.Error("a figure that there is not was explained")
		}
	})
}

// A reading that was wrong and is corrected counts as if it had been right at once; one
// that is withdrawn counts as if it had never been stated. Whatever else was stated by
// then, nothing panics.
func TestEveryKindTakesCorrections(t *testing.T) {
	eachSample(t, func(t *testing.T, s sampleRun) {
		facts := carryOut(t, s.plan, func([]fact.Fact, run.Outcome) {})
		for i, f := range facts {
			right := f
			right.Replaces, right.Reason = "wrong", "misread"
			before := made(t, s.plan, facts)
			if f.Kind != run.KindDecided {
				wrong := slices.Clone(facts)
				wrong[i].ID = "wrong" // figures name the fact that stands
				if f.Quantity != nil {
					q := *f.Quantity
					q.Value *= 1.003
					wrong[i].Quantity = &q
				}
				if err := run.Admit(s.plan, wrong, right, monday); err != nil {
					t.Errorf("%s cannot be corrected: %v", s.plan.Sentence(f), err)
				}
				if after := made(t, s.plan, append(wrong, right)); results(t, after) != results(t, before) {
					t.Errorf("%s, corrected, is not as if stated so at first", s.plan.Sentence(f))
				}
			}
			back := fact.Fact{ID: "back", Kind: fact.Withdrawn, Replaces: f.ID, Reason: "another run", Part: f.Part}
			if err := run.Admit(s.plan, facts, back, monday); err != nil {
				t.Errorf("%s cannot be taken back: %v", s.plan.Sentence(f), err)
			}
			never := slices.Delete(slices.Clone(facts), i, i+1)
			if with, without := made(t, s.plan, append(slices.Clone(facts), back)), made(
				t,
				s.plan,
				never,
			); results(t, with) != results(t, without) ||
				with.AtHand() != without.AtHand() {
				t.Errorf("%s, taken back, is not as if never stated", s.plan.Sentence(f))
			}
			unexplained := right
			unexplained.Replaces, unexplained.Reason = f.ID, ""
			if run.Admit(s.plan, facts, unexplained, monday) == nil {
				t.Error("a correction without a reason was taken")
			}
		}
	})
}

// The order of what has nothing to do with one another does not matter: a note counts
// nowhere, and two neighbours that the gate takes in either order give the same.
func TestEveryKindIgnoresTheOrderOfUnrelatedFacts(t *testing.T) {
	eachSample(t, func(t *testing.T, s sampleRun) {
		facts := carryOut(t, s.plan, func([]fact.Fact, run.Outcome) {})
		note := fact.Fact{ID: "note", Kind: run.KindNote, Text: "the fan is off"}
		want := results(t, made(t, s.plan, facts))
		for i := range len(facts) + 1 {
			if err := run.Admit(s.plan, facts[:i], note, monday); err != nil {
				t.Fatalf("no note is taken after %d facts: %v", i, err)
			}
			if results(t, made(t, s.plan, slices.Insert(slices.Clone(facts), i, note))) != want {
				t.Errorf("a note after %d facts changes the result", i)
			}
			if i+1 < len(facts) && slices.ContainsFunc(made(t, s.plan, facts[:i+1]).Steps, func(s run.Step) bool { return s.Ends != nil }) {
				continue // the order of a log is a matter of it
			}
			if i+1 >= len(facts) || run.Admit(s.plan, facts[:i], facts[i+1], monday) != nil {
				continue
			}
			swapped := slices.Clone(facts)
			swapped[i], swapped[i+1] = swapped[i+1], swapped[i]
			if run.Admit(s.plan, swapped[:i+1], swapped[i+1], monday) == nil && results(t, made(t, s.plan, swapped)) != want {
				t.Errorf("%s and %s, the other way round, give another result", s.plan.Sentence(facts[i]), s.plan.Sentence(facts[i+1]))
			}
		}
	})
}

// Read in another unit, the same amount gives the same result.
func TestEveryKindTakesEveryUnit(t *testing.T) {
	other := map[string]string{"g": "mg", "mL": "µL"}
	eachSample(t, func(t *testing.T, s sampleRun) {
		facts := carryOut(t, s.plan, func([]fact.Fact, run.Outcome) {})
		in := func(q *quantity.Quantity) *quantity.Quantity {
			if q == nil || other[q.Unit.Symbol] == "" {
				return q
			}
			moved := quantity.Of(q.In(other[q.Unit.Symbol]), other[q.Unit.Symbol])
			moved.Decimals = max(0, q.Decimals-3)
			return &moved
		}
		converted := slices.Clone(facts)
		for i := range converted {
			converted[i].Quantity, converted[i].After = in(facts[i].Quantity), in(facts[i].After)
		}
		was, is := made(t, s.plan, facts), made(t, s.plan, converted)
		for i, f := range was.Figures {
			if g := is.Figures[i]; math.Abs(g.Value/f.Value-1) > 1e-9 || math.Abs(g.U()/f.U()-1) > 1e-6 {
				t.Errorf("%s: %s in one unit, %s in another", f.ID, f, g)
			}
		}
	})
}

// What is kept of a plan is the whole plan.
func TestEveryKindKeepsItsPlan(t *testing.T) {
	eachSample(t, func(t *testing.T, s sampleRun) {
		text, err := json.Marshal(s.plan)
		if err != nil {
			t.Fatal(err)
		}
		again, err := work.Decode(s.kind.name, text)
		if err != nil || !reflect.DeepEqual(again, s.plan) {
			t.Errorf("%v\n%+v\n%+v", err, again, s.plan)
		}
		for _, broken := range []string{``, `[]`, `{"volume":7}`, `{"substance":"salt"}`} {
			plan, err := work.Decode(s.kind.name, json.RawMessage(broken))
			if err == nil {
				_, err = plan.Design()
			}
			if err == nil {
				t.Errorf("%s was treated as a plan", broken)
			}
		}
		out := made(t, s.plan, s.facts)
		if results(t, out) != results(t, made(t, again, s.facts)) {
			t.Error("read back, the plan gives another result")
		}
	})
}

// Whatever is stated in whatever order, the gate answers and never panics, and what it
// lets in the sheet can show.
func TestEveryKindSurvivesNonsense(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	pick := func(list []string) string { return list[random.IntN(len(list))] }
	texts := []string{"", "reached", "past", "accept", run.ChoiceStartAgain, "delivered", "clear", "2026-02-30", "2026-12-01", "∞"}
	eachSample(t, func(t *testing.T, s sampleRun) {
		orderly := carryOut(t, s.plan, func([]fact.Fact, run.Outcome) {})
		var facts []fact.Fact
		admitted := 0
		for n := range 400 {
			f := orderly[random.IntN(len(orderly))]
			f.ID = fmt.Sprintf("r%d", n)
			switch random.IntN(6) {
			case 0:
				f.Kind = orderly[random.IntN(len(orderly))].Kind
			case 1:
				f.Choice, f.Date, f.Text = pick(texts), pick(texts), pick(texts)
			case 2:
				q := quantity.Of([]float64{0, -1, math.NaN(), math.Inf(1), 1e300, 1e-300}[random.IntN(6)], pick([]string{"g", "mL", "°C", "mol/L"}))
				f.Quantity = &q
			case 3:
				count := []int{-1, 0, 1, math.MaxInt}[random.IntN(4)]
				f.Count, f.Part = &count, random.IntN(9)-1
			case 4:
				if len(facts) > 0 {
					f.Replaces, f.Reason = facts[random.IntN(len(facts))].ID, "because"
					f.Kind = pick([]string{f.Kind, fact.Withdrawn})
				}
			default: // as it should be
				if out := made(t, s.plan, facts); out.Status == run.Open {
					f = nextFact(t, out, n)
				}
			}
			err := run.Admit(s.plan, facts, f, monday)
			var problems verdict.Problems
			if err != nil && !errors.As(err, &problems) {
				t.Fatalf("%+v: %v is no verdict", f, err)
			}
			if err == nil {
				facts = append(facts, f)
				admitted++
				_ = s.plan.Sentence(f)
			}
			for _, g := range made(t, s.plan, facts).Figures {
				if math.IsNaN(g.Value) || math.IsInf(g.Value, 0) || g.U() < 0 || math.IsNaN(g.U()) {
					t.Fatalf("%s is %s after %+v", g.ID, g, f)
				}
			}
		}
		if admitted < len(orderly)/2 {
			t.Errorf("only %d of 400 were let in: this tests little", admitted)
		}
	})
}
