package lab_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"os"
	"reflect"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/internal/lab"
	"vialbench/internal/store/storetest"
)

// quick hashes passwords with less care than a lab would.
var quick = lab.Options{Hashing: lab.Hashing{Passes: 1, MemoryKiB: 64}}

const password = "a long enough password"

// newLab is a lab with an instructor RA and an assistant IT.
func newLab(t testing.TB) (l *lab.Lab, instructor, assistant lab.Actor) {
	t.Helper()
	l = lab.New(storetest.Open(t), quick)
	first, err := l.CreateFirst(t.Context(), lab.NewAccount{Name: "Rowan Ashdown", Initials: "RA", Login: "Ashdown", Password: password})
	if err != nil {
		t.Fatal(err)
	}
	instructor = lab.Actor{Account: first}
	second, err := l.CreatePerson(
		t.Context(),
		instructor,
		lab.NewAccount{Name: "Imani Thorne", Initials: "IT", Login: "thorne", Password: password, Role: lab.Assistant},
	)
	if err != nil {
		t.Fatal(err)
	}
	return l, instructor, lab.Actor{Account: second}
}

func sample(t *testing.T) lab.Records {
	t.Helper()
	text, err := os.ReadFile("../../demo/records.json")
	if err != nil {
		t.Fatal(err)
	}
	var r lab.Records
	if err := json.Unmarshal(text, &r); err != nil {
		t.Fatal(err)
	}
	return r
}

func exported(t *testing.T, l *lab.Lab) *bytes.Buffer {
	t.Helper()
	var out bytes.Buffer
	if err := l.Export(t.Context(), &out); err != nil {
		t.Fatal(err)
	}
	return &out
}

// stated is a fact as a screen sends it.
func stated(f fact.Fact) lab.Statement {
	s := lab.Statement{Stated: run.Stated{Fact: f}}
	typed := func(q *quantity.Quantity) *quantity.Stated {
		if q == nil {
			return nil
		}
		text := quantity.Typed(strings.ReplaceAll(q.String(), "−", "-"))
		return &text
	}
	s.Quantity, s.After, s.Spread = typed(f.Quantity), typed(f.After), typed(f.Spread)
	s.Fact.Quantity, s.Fact.After, s.Fact.Spread = nil, nil, nil
	return s
}

func bottles(t *testing.T, l *lab.Lab) map[string]float64 {
	t.Helper()
	page, err := l.Bottles(t.Context(), lab.Shelf{}, 0)
	if err != nil {
		t.Fatal(err)
	}
	list := map[string]float64{}
	for _, b := range page.Items {
		list[b.Title] = b.Product.Figures[0].Value
	}
	return list
}

func TestImportOnceTwiceAndBackAgain(t *testing.T) {
	l, ra, _ := newLab(t)
	records := sample(t)
	facts := 0
	for _, r := range records.Runs {
		facts += len(r.Facts)
	}
	want := lab.ImportReport{Balances: 2, Meters: 2, Photometers: 1, Glass: len(records.Glass), Runs: len(records.Runs), Facts: facts}
	for _, dryRun := range []bool{true, false} {
		got, err := l.Import(t.Context(), ra, records, dryRun)
		if got.Changes = nil; err != nil || !reflect.DeepEqual(got, want) {
			t.Fatalf("dry run %v: %+v, %v; want %+v", dryRun, got, err, want)
		}
	}
	if got, err := l.Import(t.Context(), ra, records, false); err != nil ||
		!reflect.DeepEqual(
			got,
			lab.ImportReport{Known: 2 + len(records.Meters) + len(records.Photometers) + len(records.Care) + len(records.Glass) + len(records.Runs) + facts},
		) {
		t.Errorf("taken in again: %+v, %v", got, err)
	}
	other, rb, _ := newLab(t)
	if _, err := other.ImportFrom(t.Context(), rb, exported(t, l), false); err != nil {
		t.Fatalf("what was exported is not taken in: %v", err)
	}
	if a, b := bottles(t, l), bottles(t, other); len(a) != 15 || !reflect.DeepEqual(a, b) {
		t.Errorf("bottles %v, after the round trip %v", a, b)
	}
}

// All is taken in, or nothing; each problem names its place.
func TestImportNamesEveryProblem(t *testing.T) {
	l, ra, it := newLab(t)
	records := sample(t)
	records.Runs[0].Facts[1].Quantity.Value = -5
	records.Runs[1].By = "XY"
	records.Runs[2].Plan.Request = json.RawMessage(strings.Replace(string(records.Runs[2].Plan.Request), `"assay": `, `"assay": -`, 1))
	records.Balances[1].Resolution = -1
	_, err := l.Import(t.Context(), ra, records, false)
	var p verdict.Problems
	if !errors.As(err, &p) {
		t.Fatal(err)
	}
	var places []string
	for _, problem := range p {
		places = append(places, problem.Field)
	}
	if got := strings.Join(places, " "); got != "/balances/1 /runs/0/facts/1/quantity /runs/1/by /runs/2/plan/request/assay" {
		t.Errorf("problems at %s", got)
	}
	if n := len(bottles(t, l)); n != 0 {
		t.Errorf("%d bottles were taken in", n)
	}
	var forbidden lab.Forbidden
	if _, err := l.Import(t.Context(), it, sample(t), false); !errors.As(err, &forbidden) {
		t.Errorf("an assistant imports: %v", err)
	}
	if _, err := l.Import(t.Context(), ra, lab.Records{Format: "other"}, false); !errors.As(err, &p) {
		t.Errorf("another format: %v", err)
	}
}

// A correction of a finished run moves its bottle: another concentration, off the
// shelf when the mark turns out to be passed, and back again.
func TestBottleFollowsItsRun(t *testing.T) {
	l, ra, it := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	run := sample(t).Runs[0]
	correct := func(kind string, change func(*fact.Fact)) lab.RunView {
		t.Helper()
		view, err := l.Run(t.Context(), run.ID)
		if err != nil {
			t.Fatal(err)
		}
		var old fact.Fact
		for _, f := range view.Facts {
			if f.Kind == kind {
				old = f.Body
			}
		}
		f := fact.Fact{ID: uuid.NewString(), Kind: kind, Replaces: old.ID, Reason: "looked again"}
		change(&f)
		if view, err = l.StateFact(t.Context(), it, run.ID, stated(f)); err != nil {
			t.Fatal(err)
		}
		return view
	}
	title := "Potassium hydrogen phthalate, 0.1000 mol/L"
	before := bottles(t, l)[title]
	view := correct("weighed", func(f *fact.Fact) { q := quantity.Of(5.1927, "g"); f.Quantity = &q })
	if after := bottles(t, l)[title]; after <= before {
		t.Errorf("concentration %g after the correction, %g before", after, before)
	}
	correct("mark", func(f *fact.Fact) { f.Choice = "past" })
	bottle, err := l.Bottle(t.Context(), view.Bottles[0])
	if err != nil || bottle.State != "void" {
		t.Errorf("past the mark: bottle %s, %v", bottle.State, err)
	}
	correct("mark", func(f *fact.Fact) { f.Choice = "reached" })
	if bottle, _ = l.Bottle(t.Context(), view.Bottles[0]); bottle.State != "shelf" || bottle.Reason != "" {
		t.Errorf("after all on the mark: bottle %s (%s)", bottle.State, bottle.Reason)
	}
	if _, err := l.Discard(t.Context(), it, view.Bottles[0], "used up"); err != nil {
		t.Fatal(err)
	}
	var conflict lab.Conflict
	if _, err := l.Discard(t.Context(), it, view.Bottles[0], "used up"); err != nil {
		t.Errorf("the same sent again: %v", err)
	}
	if _, err := l.Discard(t.Context(), it, view.Bottles[0], "spilt"); !errors.As(err, &conflict) {
		t.Errorf("discarded twice: %v", err)
	}
	correct("mark", func(f *fact.Fact) { f.Choice = "past" })
	correct("mark", func(f *fact.Fact) { f.Choice = "reached" })
	if bottle, _ = l.Bottle(t.Context(), view.Bottles[0]); bottle.State != "discarded" {
		t.Errorf("a discarded bottle came back as %s", bottle.State)
	}
}

func TestTheLastInstructorStays(t *testing.T) {
	l, ra, it := newLab(t)
	assistant, no := lab.Assistant, false
	var conflict lab.Conflict
	if _, err := l.ChangePerson(t.Context(), ra, ra.ID, lab.AccountChange{Role: &assistant}); !errors.As(err, &conflict) {
		t.Errorf("the last instructor became an assistant: %v", err)
	}
	token, err := l.Begin(t.Context(), it.Account, lab.Attempt{})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := l.ChangePerson(t.Context(), ra, it.ID, lab.AccountChange{Active: &no}); err != nil {
		t.Fatal(err)
	}
	var gone lab.NotFound
	if _, err := l.WhoIs(t.Context(), token); !errors.As(err, &gone) {
		t.Errorf("a closed account is still signed in: %v", err)
	}
	if _, err := l.CreateFirst(
		t.Context(),
		lab.NewAccount{Name: "X", Initials: "X", Login: "x", Password: password},
	); !errors.As(err, &conflict) {
		t.Errorf("a second first instructor: %v", err)
	}
}

func TestSettingsAreBoundedAndVersioned(t *testing.T) {
	l, ra, _ := newLab(t)
	s, err := l.Settings(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	wrong := s
	wrong.Thresholds = verdict.Thresholds{"W-3": 500, "W-9": 1, "M-6": 1}
	var p verdict.Problems
	if _, err := l.ChangeSettings(t.Context(), ra, wrong); !errors.As(err, &p) || len(p) != 3 {
		t.Errorf("thresholds out of bounds: %v", err)
	}
	s.Thresholds = verdict.Thresholds{"M-7": 10}
	changed, err := l.ChangeSettings(t.Context(), ra, s)
	if err != nil || changed.Thresholds["M-7"] != 10 || changed.Version != s.Version+1 {
		t.Errorf("%+v, %v", changed, err)
	}
	var conflict lab.Conflict
	if _, err := l.ChangeSettings(t.Context(), ra, s); !errors.As(err, &conflict) {
		t.Errorf("changed from an old version: %v", err)
	}
}

func TestTheFirstBalanceGoesOntoTheBench(t *testing.T) {
	l, ra, _ := newLab(t)
	fern := weighing.Balance{Name: "Fern", Capacity: 220, Resolution: 0.0001, Repeatability: 0.0001, Linearity: 0.0002}
	if _, err := l.AddBalance(t.Context(), ra, fern); err != nil {
		t.Fatal(err)
	}
	var p verdict.Problems
	if _, err := l.AddBalance(t.Context(), ra, fern); !errors.As(err, &p) {
		t.Errorf("the same name twice: %v", err)
	}
	bench, err := l.Bench(t.Context())
	if err != nil || bench.Balance == nil || bench.Balance.Balance.Balance != fern {
		t.Errorf("%+v, %v", bench.Balance, err)
	}
}
