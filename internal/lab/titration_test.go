package lab_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/titration"
	"vialbench/core/verdict"
	"vialbench/core/working"
	"vialbench/core/working/workingtest"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// bottleNamed finds a bottle on the shelf by the name of what is in it.
func bottleNamed(t *testing.T, l *lab.Lab, name string) lab.BottleView {
	t.Helper()
	page, err := l.Bottles(t.Context(), lab.Shelf{}, 0)
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(page.Items, func(b lab.BottleView) bool { return b.Product.Name == name })
	if i < 0 {
		t.Fatalf("no %s", name)
	}
	return bottleByID(t, l, page.Items[i].ID)
}

func bottleByID(t *testing.T, l *lab.Lab, id string) lab.BottleView {
	t.Helper()
	b, err := l.Bottle(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	return b
}

// withLye puts a bottle of sodium hydroxide on the shelf, made approximately.
func withLye(t *testing.T, l *lab.Lab, by lab.Actor) {
	t.Helper()
	withRecords(t, l, by, "testdata/lye.json")
}

// withRecords takes in a file of records.
func withRecords(t *testing.T, l *lab.Lab, by lab.Actor, path string) {
	t.Helper()
	file, err := os.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	defer file.Close() //nolint:errcheck // read only
	if _, err := l.ImportFrom(t.Context(), by, file, false); err != nil {
		t.Fatal(err)
	}
}

// dilutedTenTimes makes 100 mL out of a bottle, ten times as thin.
func dilutedTenTimes(t *testing.T, l *lab.Lab, by lab.Actor, id string) lab.BottleView {
	t.Helper()
	question, err := json.Marshal(
		map[string]any{"mode": "chain", "class": "A", "factors": []string{"10"}, "volume": 100, "stock": map[string]any{"bottle": id}},
	)
	if err != nil {
		t.Fatal(err)
	}
	p, err := l.CreatePlan(t.Context(), by, uuid.NewString(), "dilution", question)
	if err != nil {
		t.Fatal(err)
	}
	view, err := l.BeginRun(t.Context(), by, uuid.NewString(), p.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	view, _ = makeRack(t, l, by, view)
	return bottleByID(t, l, view.Bottles[0])
}

// titrate begins a titration, and goes through trials by pipette.
func titrate(t *testing.T, l *lab.Lab, by lab.Actor, question map[string]any, readings ...[2]string) string {
	t.Helper()
	body, err := json.Marshal(question)
	if err != nil {
		t.Fatal(err)
	}
	p, err := l.CreatePlan(t.Context(), by, uuid.NewString(), "titration", body)
	if err != nil {
		t.Fatal(err)
	}
	id := uuid.NewString()
	if _, err := l.BeginRun(t.Context(), by, id, p.ID, 0); err != nil {
		t.Fatal(err)
	}
	state := func(f fact.Fact, mL string) {
		t.Helper()
		s := lab.Statement{Stated: run.Stated{Fact: f}}
		s.ID = uuid.NewString()
		if mL != "" {
			s.Quantity = &quantity.Stated{Text: mL, Unit: "mL"}
		}
		if _, err := l.StateFact(t.Context(), by, id, s); err != nil {
			t.Fatalf("%+v: %v", f, err)
		}
	}
	state(fact.Fact{Kind: "burette-ready", Choice: "rinsed-3"}, "")
	for i, r := range readings {
		state(fact.Fact{Kind: "sample", Part: i, Choice: "delivered"}, "")
		state(fact.Fact{Kind: "start", Part: i}, r[0])
		state(fact.Fact{Kind: "read", Part: i}, r[1])
		state(fact.Fact{Kind: "decided", Part: i, Choice: "end-point"}, "")
	}
	state(fact.Fact{Kind: "decided", Part: len(readings), Choice: "enough"}, "")
	return id
}

func molar(t *testing.T, b lab.BottleView) float64 {
	t.Helper()
	c, ok := b.Product.Molar()
	if !ok {
		t.Fatalf("bottle %d has no concentration", b.Number)
	}
	return c.Value
}

// What a titration will take is told before anything is kept: 0.5105 g of phthalate
// (M 204.222) take 2.500 mmol of a base that was made as 0.1001 mol/L.
func TestAPreviewKeepsNothing(t *testing.T) {
	l, ra, _ := newLab(t)
	withLye(t, l, ra)
	ask := func(mass string) (titration.Design, error) {
		body, err := json.Marshal(map[string]any{
			"reaction": "phthalate-for-base", "standardise": true, "by": "weighed", "mass": mass,
			"titrantBottle": bottleNamed(t, l, "Sodium hydroxide").ID, "substance": "potassium-hydrogen-phthalate", "burette": 50, "celsius": 20,
		})
		if err != nil {
			t.Fatal(err)
		}
		view, err := l.Preview(t.Context(), ra, uuid.NewString(), titration.Kind, body)
		if err == nil && (view.Status != "open" || view.Step == "" || view.Outcome.Figures == nil || len(view.Facts) != 0) {
			t.Errorf("%+v", view)
		}
		if b := bottleNamed(t, l, "Sodium hydroxide"); err == nil && mass == "0.5105" &&
			(len(view.Needs) != 1 || view.Needs[0] != lab.Need{Bottle: b.ID, Number: b.Number, Title: b.Title, Needs: 90, Left: b.Left()}) {
			t.Errorf("%+v", view.Needs)
		}
		design, _ := view.Design.(titration.Design)
		return design, err
	}
	d, err := ask("0.5105")
	if err != nil || d.Expected != "25.0 mL" || d.Curve == nil || len(d.Verdicts) != 0 {
		t.Errorf("%+v %v", d, err)
	}
	if d, err = ask("0.1021"); err != nil || len(d.Verdicts) != 1 || !strings.Contains(d.Verdicts[0].Sentence, "take about 0.72 g") {
		t.Errorf("%+v %v", d.Verdicts, err)
	}
	if page, err := l.Plans(t.Context(), 0); err != nil || len(page.Items) != 1 { // that of the lye
		t.Errorf("%d plans, %v", len(page.Items), err)
	}
	if _, err := l.Preview(t.Context(), ra, uuid.NewString(), "alchemy", nil); err == nil {
		t.Error("a kind that there is not")
	}
}

// A standardisation writes what it found on the bottle, and on what was made from it since; a
// correction moves both, and taking it back brings the making value back.
func TestStandardisationReachesTheBottle(t *testing.T) {
	l, ra, _ := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	violet := bottleNamed(t, l, "Potassium permanganate")
	if !violet.Product.Exact || violet.Product.Standardised == nil || len(violet.Standardisations) != 1 ||
		violet.Product.Standardised.Made.Text != "0.02007" || violet.Product.Figures[0].Text != "0.019870" {
		t.Fatalf("the sample bottle: %+v", violet.Product)
	}
	withLye(t, l, ra)
	lye, khp := bottleNamed(t, l, "Sodium hydroxide"), bottleNamed(t, l, "Potassium hydrogen phthalate")
	if lye.Product.Exact || lye.Product.Standardised != nil || lye.StandardiseOn == nil {
		t.Fatalf("not standardised yet: %+v", lye.Product)
	}
	thin := dilutedTenTimes(t, l, ra, lye.ID)
	if c := molar(t, thin); math.Abs(c/molar(t, lye)-0.1) > 1e-3 {
		t.Fatalf("diluted ten times: %.6f of %.6f mol/L", c, molar(t, lye))
	}

	before := molar(t, lye)
	id := titrate(
		t,
		l,
		ra,
		map[string]any{
			"reaction": "phthalate-for-base", "standardise": true, "titrantBottle": lye.ID, "sampleBottle": khp.ID, "by": "pipette",
			"volume": 25, "burette": 50, "celsius": 21,
		},
		[2]string{"0.20", "25.70"},
		[2]string{"0.10", "25.00"},
		[2]string{"0.00", "24.94"},
	)
	lye = bottleByID(t, l, lye.ID)
	want := molar(t, khp) * 25 * (1/24.90 + 1/24.94) / 2
	if got := molar(
		t,
		lye,
	); math.Abs(got/want-1) > 2e-5 || len(lye.Standardisations) != 1 || !lye.Product.Exact || lye.Product.Standardised.Made.Text != "0.1001" ||
		lye.Product.Standardised.Run != id { // the certificate of glass may move it a little
		t.Errorf("%.6f mol/L, want %.6f; %d standardisations", got, want, len(lye.Standardisations))
	}
	// What is left of both is what the readings say, the rinsing of the burette with it.
	full := bottleByID(t, l, khp.ID).Left()
	rinsed := lye.Volume - lye.Left() - 10 - (25.50 + 24.90 + 24.94) // 10 mL were diluted
	if math.Abs(rinsed-3*5) > 1e-9 || math.Abs(khp.Left()-full-3*25) > 1e-9 {
		t.Errorf("%g mL for rinsing, %g mL of phthalate", rinsed, khp.Left()-full)
	}
	// What was diluted from it before follows.
	after := bottleByID(t, l, thin.ID)
	if ratio := molar(t, after) / molar(t, thin); math.Abs(ratio*before/want-1) > 2e-5 || len(after.Changes) == 0 {
		t.Errorf("the dilution moved by %.6f, its stock by %.6f", ratio, want/before)
	}
	// Its working is that of the titration; what else it tells follows from that, line by line.
	for _, f := range lye.Product.Figures {
		lines, err := l.BottleWorking(t.Context(), lye.ID, f.ID)
		if err != nil {
			t.Fatal(f.ID, err)
		}
		workingtest.Check(t, lines)
		follows := slices.ContainsFunc(lines, func(l working.Line) bool { return strings.HasPrefix(l.Formula, "x = x_0") })
		titrated := slices.ContainsFunc(lines, func(l working.Line) bool { return l.Title == "Mean titre" })
		if titrated != (f.Role != figure.Volume) || follows != (titrated && f.ID != lye.Product.Figures[0].ID) {
			t.Errorf("%s: titrated %v, follows %v", f.ID, titrated, follows)
		}
	}
	if _, err := l.BottleWorking(t.Context(), lye.ID, "nothing"); err == nil {
		t.Error("a figure that there is not is explained")
	}
	if lines, err := l.BottleWorking(t.Context(), khp.ID, khp.Product.Figures[0].ID); err != nil || len(lines) < 3 {
		t.Errorf("%v %v", lines, err)
	}
	if n := len(lye.Changes); n == 0 || !strings.Contains(lye.Changes[n-1].Moved, "→") {
		t.Errorf("%+v", lye.Changes)
	}
	// The titre of the phthalate is 0.2 mL longer than was read at first.
	view, err := l.Run(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(view.Facts, func(f store.Fact) bool { return f.Body.Kind == "read" && f.Body.Part == 1 })
	s := lab.Statement{Stated: run.Stated{
		Fact:     fact.Fact{ID: uuid.NewString(), Kind: "read", Part: 1, Replaces: view.Facts[i].ID, Reason: "misread"},
		Quantity: &quantity.Stated{Text: "25.02 mL"},
	}}
	if _, err := l.StateFact(t.Context(), ra, id, s); err != nil {
		t.Fatal(err)
	}
	if more := lye.Left() - bottleByID(t, l, lye.ID).Left(); math.Abs(more-0.02) > 1e-9 {
		t.Errorf("corrected: %g mL more were drawn", more)
	}
	corrected := molar(t, bottleByID(t, l, lye.ID))
	if want := molar(t, khp) * 25 * (1/24.92 + 1/24.94) / 2; math.Abs(corrected/want-1) > 2e-5 {
		t.Errorf("corrected: %.6f mol/L, want %.6f", corrected, want)
	}
	// The phthalate itself is corrected: what was standardised with it follows.
	made, err := l.Run(t.Context(), *khp.RunID)
	if err != nil {
		t.Fatal(err)
	}
	i = slices.IndexFunc(made.Facts, func(f store.Fact) bool { return f.Body.Kind == "weighed" })
	was := made.Facts[i].Body.Quantity.In("g")
	s = lab.Statement{Stated: run.Stated{
		Fact:     fact.Fact{ID: uuid.NewString(), Kind: "weighed", Replaces: made.Facts[i].ID, Reason: "digits swapped"},
		Quantity: &quantity.Stated{Text: quantity.Digits(was*1.01, 4), Unit: "g"},
	}}
	if _, err := l.StateFact(t.Context(), ra, *khp.RunID, s); err != nil {
		t.Fatal(err)
	}
	if got := molar(t, bottleByID(t, l, lye.ID)); math.Abs(got/corrected-1.01) > 1e-4 {
		t.Errorf("after the phthalate moved by 1 %%: by %.5f", got/corrected)
	}
	// Taken back, it is what it was made as again.
	view, err = l.Run(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	enough := view.Facts[slices.IndexFunc(view.Facts, func(f store.Fact) bool { return f.Body.Choice == "enough" })]
	if _, err := l.StateFact(
		t.Context(),
		ra,
		id,
		lab.Statement{Stated: run.Stated{
			Fact: fact.Fact{ID: uuid.NewString(), Kind: fact.Withdrawn, Part: enough.Body.Part, Replaces: enough.ID, Reason: "another trial"},
		}},
	); err != nil {
		t.Fatal(err)
	}
	if b := bottleByID(t, l, lye.ID); math.Abs(molar(t, b)-before) > 1e-12 || b.Product.Exact || b.Product.Standardised != nil {
		t.Errorf("taken back: %.6f mol/L, was %.6f", molar(t, b), before)
	}
}

func TestTitrationsThatCannotBe(t *testing.T) {
	l, ra, _ := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	withLye(t, l, ra)
	lye, khp := bottleNamed(t, l, "Sodium hydroxide"), bottleNamed(t, l, "Potassium hydrogen phthalate")
	for field, change := range map[string]func(map[string]any){
		"/question/reaction":      func(q map[string]any) { q["reaction"] = "nothing" },
		"/question/titrantBottle": func(q map[string]any) { q["titrantBottle"] = khp.ID },
		"/question/sampleBottle":  func(q map[string]any) { q["sampleBottle"] = lye.ID },
		"/question/volume":        func(q map[string]any) { q["volume"] = 17 },
		"/question/substance":     func(q map[string]any) { q["by"], q["substance"], q["mass"] = "weighed", "sodium-chloride", 1 },
		"/question/burette":       func(q map[string]any) { q["mark"] = "B 99" },
		"/question/dissolved/flask": func(q map[string]any) {
			q["standardise"], q["substance"], q["dissolved"] = false, "potassium-hydrogen-phthalate", map[string]any{"mass": 5, "flask": 240}
		},
		"/question/dissolved": func(q map[string]any) {
			q["substance"], q["dissolved"] = "potassium-hydrogen-phthalate", map[string]any{"mass": 5, "flask": 250}
		},
		"/question/equation": func(q map[string]any) { q["reaction"], q["equation"] = "", "NaOH + HCl -> NaCl" },
	} {
		q := map[string]any{
			"reaction":      "phthalate-for-base",
			"standardise":   true,
			"titrantBottle": lye.ID,
			"sampleBottle":  khp.ID,
			"by":            "pipette",
			"volume":        25,
			"burette":       50,
			"celsius":       21,
		}
		change(q)
		body, err := json.Marshal(q)
		if err != nil {
			t.Fatal(err)
		}
		var p verdict.Problems
		if _, err := l.CreatePlan(t.Context(), ra, uuid.NewString(), "titration", body); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	if _, err := l.AddGlass(t.Context(), ra, glassware.Item{Kind: glassware.Burette, Volume: 50, Class: glassware.ClassA, Count: 1, Certificate: glassware.Certificate{Mark: "B 7"}}); err != nil {
		t.Fatal(err)
	}
	body := []byte(`{"reaction": "phthalate-for-base", "standardise": true, "titrantBottle": "` + lye.ID + `", "sampleBottle": "` + khp.ID +
		`", "by": "pipette", "volume": 25, "burette": 50, "mark": "B 7", "celsius": 21}`)
	plan, err := l.CreatePlan(t.Context(), ra, uuid.NewString(), "titration", body)
	if err != nil || !strings.Contains(plan.Design.(titration.Design).Burette, "B 7") {
		t.Errorf("the piece that was asked for: %+v %v", plan.Design, err)
	}
	list, err := l.Titrations(t.Context())
	if err != nil || len(list) < 25 {
		t.Fatalf("%d titrations, %v", len(list), err)
	}
	i := slices.IndexFunc(list, func(v lab.TitrationView) bool { return v.Key == "phthalate-for-base" })
	if v := list[i]; len(v.Titrants) != 2 || !slices.Contains(v.Titrants, lye.ID) || !slices.Equal(v.Samples, []string{khp.ID}) ||
		!slices.Contains(v.Solids, "potassium-hydrogen-phthalate") {
		t.Errorf("%+v", v)
	}
}

// What is found in a bottle of a dilution is told of the undiluted one too, by the record: 1 in 10,
// with the uncertainty of its glass alone.
func TestBackToTheUndilutedBottle(t *testing.T) {
	l, ra, _ := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	withLye(t, l, ra)
	khp, lye := bottleNamed(t, l, "Potassium hydrogen phthalate"), bottleNamed(t, l, "Sodium hydroxide")
	question, err := json.Marshal(map[string]any{
		"mode": "chain", "class": "A", "factors": []string{"5", "2"}, "keep": 60,
		"stock": map[string]any{"bottle": khp.ID},
	})
	if err != nil {
		t.Fatal(err)
	}
	kept, err := l.CreatePlan(t.Context(), ra, uuid.NewString(), "dilution", question)
	if err != nil {
		t.Fatal(err)
	}
	diluted, err := l.BeginRun(t.Context(), ra, uuid.NewString(), kept.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	makeRack(t, l, ra, diluted)
	family, err := l.Family(t.Context(), khp.ID)
	if err != nil {
		t.Fatal(err)
	}
	thinnest := family[len(family)-1].ID
	id := titrate(t, l, ra, map[string]any{
		"reaction": "phthalate-for-base", "titrantBottle": lye.ID, "sampleBottle": thinnest,
		"by": "pipette", "volume": 25, "burette": 50, "celsius": 21,
	}, [2]string{"0.00", "2.50"}, [2]string{"0.00", "2.50"})
	view, err := l.Run(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	f := map[string]figure.Figure{}
	for _, x := range view.Outcome.Figures {
		f[x.ID] = x
	}
	if got := f["undiluted"].Value / f["c"].Value; math.Abs(got-10) > 0.005 ||
		!strings.HasSuffix(f["undiluted"].Label, fmt.Sprintf("undiluted (bottle %d)", khp.Number)) {
		t.Fatalf("%g times: %v", got, f["undiluted"])
	}
	for _, x := range f["undiluted"].Budget {
		if x.Label == "assay" && strings.HasPrefix(x.Basis, "99.95 %") {
			t.Errorf("the assay of the solid does not cancel: %+v", x)
		}
	}
}
