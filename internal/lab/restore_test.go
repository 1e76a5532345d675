package lab_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/stock"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
	"vialbench/internal/store/storetest"
)

// busyLab is a lab in which everything has happened that is on record: the sample runs,
// batches poured together and a dilution from the pool, takings, a discarded bottle, one
// void after its end, a corrected one that moved, printed labels, checks that passed and
// failed, a substance of its own, changed rules, a changed bench, a closed account, a plan
// that was never run, a titration in drops of a calibrated tip.
func busyLab(t *testing.T) (*lab.Lab, lab.Actor) {
	t.Helper()
	l, ra, it := newLab(t)
	must := func(_ any, err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(l.Import(t.Context(), ra, sample(t), false))
	balances, err := l.Balances(t.Context())
	must(nil, err)
	fern := balances[0]
	must(l.CheckBalance(t.Context(), it, fern.ID, uuid.NewString(), 100, 0.0005, 100.0003))
	must(l.CheckBalance(t.Context(), ra, fern.ID, uuid.NewString(), 100, 0.0005, 100.0151))
	planID, n := plan(t, l, it, "3 L")
	var bottles []string
	for batch := range n {
		bottles = append(bottles, finish(t, l, it, planID, batch, 14.912).Bottles[0])
	}
	pool := uuid.NewString()
	must(l.Pool(t.Context(), it, pool, bottles))
	must(l.TakeFrom(t.Context(), it, pool, uuid.NewString(), 120, "group 3"))
	must(l.TakeFrom(t.Context(), ra, pool, uuid.NewString(), -20, "misread: 100 mL, not 120"))
	must(nil, l.LabelsPrinted(t.Context(), it, []string{pool}))
	must(l.CreatePlan(t.Context(), it, uuid.NewString(), "dilution", json.RawMessage(
		`{"mode": "chain", "class": "A", "factors": ["10"], "volume": 100, "stock": {"bottle": "`+pool+`"}}`)))

	// A titration in drops depends on the run that calibrated their tip.
	tips, err := l.Tips(t.Context())
	must(nil, err)
	dripped, err := asks(t, l, it, map[string]any{
		"reaction": "permanganate-oxalate", "standardise": true, "by": "weighed", "mass": 0.02,
		"titrantBottle": bottleNamed(t, l, "Potassium permanganate").ID, "substance": "sodium-oxalate", "celsius": 21,
		"device": "drops", "tip": tips[0].Run.ID,
	})
	must(nil, err)
	must(l.BeginRun(t.Context(), it, uuid.NewString(), dripped.ID, 0))

	correct := func(run, kind string, change func(*fact.Fact)) {
		t.Helper()
		view, err := l.Run(t.Context(), run)
		must(nil, err)
		i := slices.IndexFunc(view.Facts, func(f store.Fact) bool {
			return f.Kind == kind && !slices.ContainsFunc(view.Facts, func(g store.Fact) bool { return g.Body.Replaces == f.ID })
		})
		f := fact.Fact{ID: uuid.NewString(), Kind: kind, Replaces: view.Facts[i].ID, Reason: "looked again"}
		change(&f)
		must(l.StateFact(t.Context(), it, run, stated(f)))
	}
	single, _ := plan(t, l, it, "100 mL")
	moved, spoilt := finish(t, l, it, single, 0, 0.7455), finish(t, l, ra, single, 0, 0.7460)
	correct(moved.ID, "weighed", func(f *fact.Fact) { q := quantity.Of(0.7499, "g"); f.Quantity = &q })
	correct(spoilt.ID, "weighed", func(f *fact.Fact) { f.Kind = fact.Withdrawn })
	used := finish(t, l, it, single, 0, 0.7450)
	must(l.Discard(t.Context(), ra, used.Bottles[0], "used up"))

	must(l.AddSubstance(t.Context(), ra, substance.Substance{Name: "Pond salt", Formula: "NaCl", Class: substance.Secondary}))
	must(l.AddSystem(t.Context(), ra, cyanophenol()))
	settings, err := l.Settings(t.Context())
	must(nil, err)
	settings.LabName, settings.Thresholds = "Alderbrook College", verdict.Thresholds{"M-7": 12}
	must(l.ChangeSettings(t.Context(), ra, settings))
	bench, err := l.Bench(t.Context())
	must(nil, err)
	must(
		l.ChangeBench(t.Context(), it, lab.BenchChange{Session: "Tuesday", WaterTemperature: 21.4, BalanceID: &fern.ID, Version: bench.Version}),
	)
	leaver, err := l.CreatePerson(
		t.Context(),
		ra,
		lab.NewAccount{Name: "Sol Marsh", Initials: "SM", Login: "marsh", Password: password, Role: lab.Assistant},
	)
	must(nil, err)
	closed := false
	must(l.ChangePerson(t.Context(), ra, leaver.ID, lab.AccountChange{Active: &closed}))

	// A session with a task ticked, one done by a run, one moved; and one taken off the plan.
	planned, removed := uuid.NewString(), uuid.NewString()
	view, err := l.KeepLabSession(t.Context(), it, planned, nextWeek("Hardness", "Potassium chloride", "0.1 mol/L"), 0)
	must(nil, err)
	must(l.TickTask(t.Context(), it, planned, uuid.NewString(), "set out", true))
	must(nil, l.DoTask(t.Context(), ra, moved.ID, lab.TaskOf{Session: planned, Task: "make x", Title: "Make potassium chloride"}))
	at := view.StartsAt.Add(-26 * time.Hour)
	must(l.MoveTask(t.Context(), ra, planned, "make x", &at, 1))
	must(l.KeepLabSession(t.Context(), it, removed, nextWeek("Off", "Potassium chloride", "0.1 mol/L"), 0))
	must(nil, l.RemoveLabSession(t.Context(), it, removed, 1))

	busyClass(t, l, ra, it, planned, single)

	// The store: a container that a run drew from, one that was counted and moved, and an article that was taken off.
	kept, gone, tub, box := uuid.NewString(), uuid.NewString(), uuid.NewString(), uuid.NewString()
	must(nil, l.KeepArticle(t.Context(), it, kept, salt, 0))
	must(nil, l.KeepArticle(t.Context(), ra, gone, stock.Article{Name: "Buffer sachets, pH 7", Unit: stock.Pieces}, 0))
	must(nil, l.KeepContainer(t.Context(), it, tub, lab.ContainerChange{Article: kept, Amount: "500 g"}))
	must(nil, l.KeepContainer(t.Context(), it, box, lab.ContainerChange{Article: gone, Amount: "12"}))
	finish(t, l, it, single, 0, 0.7456)
	must(nil, l.CountContainer(t.Context(), ra, box, uuid.NewString(), "11", "one torn"))
	must(nil, l.KeepContainer(t.Context(), ra, box, lab.ContainerChange{Article: gone, Place: "cellar", Expires: "2031-01-31", Version: 1}))
	must(nil, l.RemoveArticle(t.Context(), ra, gone, 1))
	return l, ra
}

// everyBottle gives all that is known of every bottle, computed or kept.
func everyBottle(t *testing.T) func(*lab.Lab) []string {
	return func(l *lab.Lab) (list []string) {
		t.Helper()
		page, err := l.Bottles(t.Context(), lab.Shelf{}, 0)
		if err != nil {
			t.Fatal(err)
		}
		for _, b := range page.Items {
			product, err := json.Marshal(b.Product)
			if err != nil {
				t.Fatal(err)
			}
			list = append(
				list,
				fmt.Sprint(b.Number, b.ID, b.Title, b.Volume, b.Taken, b.State, b.Reason, b.ExpiresOn, b.StandardiseOn, b.Doubt, b.Maker.Initials,
					string(product)),
			)
		}
		return list
	}
}

// everyRun gives all that is known of every run.
func everyRun(t *testing.T) func(*lab.Lab) []string {
	return func(l *lab.Lab) (list []string) {
		t.Helper()
		page, err := l.Runs(t.Context(), "", "", 0)
		if err != nil {
			t.Fatal(err)
		}
		for _, r := range page.Items {
			view, err := l.Run(t.Context(), r.ID)
			if err != nil {
				t.Fatal(err)
			}
			figures, err := json.Marshal(view.Outcome.Figures)
			if err != nil {
				t.Fatal(err)
			}
			list = append(
				list,
				fmt.Sprint(r.Number, r.ID, r.Batch, r.Status, r.Reason, r.Step, r.ChangedAt.UTC(), r.BegunAt.UTC(), view.Plan.Title, view.Doubt,
					view.Bottles, view.Batches, string(figures)),
			)
		}
		return list
	}
}

// All records go out, and into an empty database, and out again the same to the byte:
// numbers, labels, people and history. The same file taken in once more changes nothing.
func TestRestoredToTheByte(t *testing.T) {
	l, _ := busyLab(t)
	first := exported(t, l).Bytes()
	for _, part := range []string{
		`"poured"`, `"discarded"`, `"void"`, `"printed"`, `"misread: 100 mL, not 120"`, `"Pond salt"`, `"Sol Marsh"`, `"share"`,
		`"passed":false`, `"moved"`, `"recorded"`, `"before":{`, `"M-7":12`, `"session":"Tuesday"`, `"active":false`,
	} {
		if !bytes.Contains(first, []byte(part)) {
			t.Errorf("the export has no %s", part)
		}
	}
	if bytes.Contains(first, []byte("argon2")) {
		t.Error("the export has a password in it")
	}
	other := lab.New(storetest.Open(t), quick)
	report, err := other.Restore(t.Context(), bytes.NewReader(first))
	if err != nil {
		t.Fatal(err)
	}
	if len(report.Changes) > 0 && slices.ContainsFunc(report.Changes, func(s string) bool { return !strings.HasPrefix(s, "new: ") }) {
		t.Errorf("restored otherwise: %v", report.Changes)
	}
	second := exported(t, other).Bytes()
	if !bytes.Equal(first, second) {
		a, b := strings.Split(string(first), "\n"), strings.Split(string(second), "\n")
		for i := range min(len(a), len(b)) {
			if a[i] != b[i] {
				t.Fatalf("line %d:\n%.700s\n%.700s", i+1, a[i], b[i])
			}
		}
		t.Fatalf("%d and %d lines", len(a), len(b))
	}
	for _, view := range []func(*lab.Lab) []string{everyBottle(t), everyRun(t)} {
		was, is := view(l), view(other)
		for i := range was {
			if i >= len(is) || was[i] != is[i] {
				t.Errorf("what is computed differs:\n%.900s\n%.900s", was[i], strings.Join(is[min(i, len(is)):min(i+1, len(is))], ""))
			}
		}
	}
	var conflict lab.Conflict
	if _, err := other.Restore(t.Context(), bytes.NewReader(first)); !errors.As(err, &conflict) {
		t.Errorf("restored over what is there: %v", err)
	}
	if _, err := other.SignIn(t.Context(), "ashdown", password, lab.Attempt{}); !errors.As(err, new(lab.SignInFailed)) {
		t.Errorf("signed in without a password: %v", err)
	}
	if err := other.SetPassword(t.Context(), "Ashdown", "another long password"); err != nil {
		t.Fatal(err)
	}
	in, err := other.SignIn(t.Context(), "ashdown", "another long password", lab.Attempt{})
	if err != nil {
		t.Fatal(err)
	}
	again, err := other.ImportFrom(t.Context(), lab.Actor{Account: in.Account}, bytes.NewReader(first), false)
	if err != nil || again.Runs+again.Facts+again.Plans+again.Balances+again.Glass+again.Substances+again.Changed > 0 {
		t.Errorf("taken in again: %+v, %v", again, err)
	}
	// the next ones go on counting
	page, err := other.Runs(t.Context(), "", "", 0)
	if err != nil {
		t.Fatal(err)
	}
	next := finish(t, other, lab.Actor{Account: in.Account}, page.Items[0].PlanID, 0, 0.7451)
	if next.Number != page.Items[0].Number+1 {
		t.Errorf("run %d comes after run %d", next.Number, page.Items[0].Number)
	}
}

// Records that come into a lab at work keep their IDs, so that labels lead to their
// bottles, and get numbers of this lab; another person with the same initials stays
// another person; all that is otherwise than in the file is said.
func TestRecordsIntoALabAtWork(t *testing.T) {
	theirs, _ := busyLab(t)
	file := exported(t, theirs).String()
	l := lab.New(storetest.Open(t), quick)
	first, err := l.CreateFirst(t.Context(), lab.NewAccount{Name: "Rhea Alder", Initials: "RA", Login: "ashdown", Password: password})
	if err != nil {
		t.Fatal(err)
	}
	ra := lab.Actor{Account: first}
	if _, err := l.SetUpUsual(t.Context(), ra); err != nil {
		t.Fatal(err)
	}
	planID, _ := plan(t, l, ra, "100 mL")
	own := finish(t, l, ra, planID, 0, 0.7455)
	report, err := l.ImportFrom(t.Context(), ra, strings.NewReader(file), false)
	if err != nil {
		t.Fatal(err)
	}
	said := strings.Join(report.Changes, "\n")
	for _, what := range []string{
		"run 1 of the file is run 2 here", "bottle 1 of the file is bottle 2 here; its label still leads to it",
		"new: account of Rowan Ashdown (RA2)", "rules and the bench in the file were left alone", "the history of changes",
	} {
		if !strings.Contains(said, what) {
			t.Errorf("nothing says “%s” in:\n%s", what, said)
		}
	}
	mine, err := l.Run(t.Context(), own.ID)
	if err != nil || mine.Number != 1 || mine.Facts[0].Body.By != "RA" {
		t.Errorf("the lab's own run is %d of %s, %v", mine.Number, mine.Facts[0].Body.By, err)
	}
	var records lab.Records
	if err := json.Unmarshal([]byte(file), &records); err != nil {
		t.Fatal(err)
	}
	for _, b := range records.Bottles {
		here, err := l.Bottle(t.Context(), b.ID)
		if err != nil || here.State != b.State || here.Reason != b.Reason {
			t.Errorf("bottle %d: %s (%s) here, %s (%s) in the file, %v", b.Number, here.State, here.Reason, b.State, b.Reason, err)
		}
	}
	theirRun, err := l.Run(t.Context(), records.Runs[0].ID)
	if by := theirRun.Facts[0].Body.By; err != nil || by != "RA2" && by != "IT" {
		t.Errorf("a fact of theirs is by %s, %v", by, err)
	}
	if settings, _ := l.Settings(t.Context()); settings.LabName == "Alderbrook College" {
		t.Error("the rules of the other lab were taken over")
	}
}

// What a file says too much, and what says something else under a known ID, is named.
func TestRecordsThatDoNotFitAreNamed(t *testing.T) {
	l, ra := busyLab(t)
	file := exported(t, l).String()
	before := exported(t, l).String()
	for what, c := range map[string]struct{ old, new, place string }{
		"bottles of another run":     {`"part":1,"plan"`, `"part":2,"plan"`, "/bottles/"},
		"an unknown section":         {`"glass": [`, `"glasses": [], "glass": [`, "/glasses"},
		"a list that is none":        {`"glass": [`, `"glass": {"a": 1}, "changes": [], "taken": [`, ""},
		"more digits than are":       {`"unit":"g","decimals":4`, `"unit":"g","decimals":9223372036854775807`, "/runs/0"},
		"many digits":                {`"unit":"g","decimals":4`, `"unit":"g","decimals":50000000`, "/runs/0"},
		"a text without end":         {`"purpose":"group 3"`, `"purpose":"` + strings.Repeat("x", 3000) + `"`, "/takings/"},
		"a NUL":                      {`"purpose":"group 3"`, `"purpose":"group\u00003"`, "/takings/"},
		"a NUL in a fact":            {`"choice":"keep-mass"`, `"choice":"keep-mass","text":"a\u0000b"`, "/runs/0/facts/"},
		"a request without end":      {`"substance":{`, `"substance":{"note":"` + strings.Repeat("x", 300_000) + `",`, "/runs/0/plan/request"},
		"a deep request":             {`"substance":{`, `"deep":` + strings.Repeat("[", 50) + strings.Repeat("]", 50) + `,"substance":{`, "/runs/0/plan/request"},
		"a large number":             {`"band":0.01`, `"band":1e99`, "/runs/0/plan/request"},
		"a member of a request":      {`"substance":{`, `"flavour":"sweet","substance":{`, "/runs/0/plan/request"},
		"an ID in another way":       {`"runs": [` + "\n" + `{"id":"`, `"runs": [` + "\n" + `{"id":"urn:uuid:`, "/runs/0/id"},
		"an unknown member":          {`"initials":"IT"`, `"initials":"IT","nickname":"x"`, "/people"},
		"an unknown member of a run": {`"begun":`, `"ended":1,"begun":`, "/runs/0"},
		"of a fact":                  {`"kind":"tared"`, `"kind":"tared","mood":"good"`, "/runs/0"},
		"another weight of a check":  {`"reading":100.0003`, `"reading":100.0004`, "/checks/0"},
		"another taking":             {`"purpose":"group 3"`, `"purpose":"group 4"`, "/takings"},
		"another fact":               {`"kind":"dissolved"`, `"kind":"watered"`, "/runs/0/facts"},
		"another format":             {lab.RecordsFormat, "vialbench-records/9", "/format"},
		"cut off":                    {"]}\n", "", ""},
		"not JSON":                   {`"runs": [`, `"runs": nonsense`, ""},
		"runs before what they need": {`"people": [`, `"runs": [], "people": [`, "/people"},
		"a state that is none":       {`"state":"discarded"`, `"state":"lost"`, ""},
	} {
		text := strings.Replace(file, c.old, c.new, 1)
		if text == file {
			t.Errorf("%s: the file has no %s", what, c.old)
			continue
		}
		_, err := l.ImportFrom(t.Context(), ra, strings.NewReader(text), false)
		if what == "a state that is none" { // of a bottle that is here already nothing is taken over
			if err != nil {
				t.Errorf("%s: %v", what, err)
			}
			continue
		}
		var p verdict.Problems
		if !errors.As(err, &p) || !strings.HasPrefix(p[0].Field, c.place) {
			t.Errorf("%s: %v, want a problem at %s", what, err, c.place)
		}
	}
	if after := exported(t, l).String(); after != before {
		t.Error("a refused file left something behind")
	}
}

// Times that cannot be are refused, whether they are stated or come in a file.
func TestImpossibleTimesAreRefused(t *testing.T) {
	l, ra, it := newLab(t)
	if _, err := l.Import(t.Context(), ra, sample(t), false); err != nil {
		t.Fatal(err)
	}
	run := sample(t).Runs[0]
	for _, at := range []string{"1990-05-12T09:00:00Z", "0001-01-02T00:00:00Z", "9999-12-31T00:00:00Z"} {
		var s lab.Statement
		s.Fact = fact.Fact{ID: uuid.NewString(), Kind: "note", Text: "when?"}
		if err := s.At.UnmarshalText([]byte(at)); err != nil {
			t.Fatal(err)
		}
		if _, err := l.StateFact(t.Context(), it, run.ID, s); problems(t, err)["/at"] == "" {
			t.Errorf("%s is taken: %v", at, err)
		}
		records := sample(t)
		for i := range records.Runs {
			records.Runs[i].ID, records.Runs[i].Plan.ID = uuid.NewString(), uuid.NewString()
			for k := range records.Runs[i].Facts {
				records.Runs[i].Facts[k].ID = uuid.NewString()
			}
		}
		records.Runs = records.Runs[:2]
		records.Runs[0].Begun = s.At
		records.Runs[1].Facts[0].At = s.At
		_, err := l.Import(t.Context(), ra, records, false)
		if p := problems(t, err); p["/runs/0/begun"] == "" || p["/runs/1/facts/0/at"] == "" {
			t.Errorf("%s is taken in: %v", at, err)
		}
	}
}

// Every change says who made it, when, and what was there before; passwords are never
// told.
func TestHistoryOfChanges(t *testing.T) {
	l, ra := busyLab(t)
	page, err := l.History(t.Context(), 0)
	if err != nil {
		t.Fatal(err)
	}
	var lines []string
	for _, h := range page.Items {
		for _, v := range h.Values {
			after := "?"
			if v.After != nil {
				after = *v.After
			}
			lines = append(lines, fmt.Sprintf("%s %s %s %s: %s → %s", h.By, h.What, h.Name, v.Field, v.Before, after))
		}
	}
	all := strings.Join(lines, "\n")
	for _, want := range []string{
		"RA rules  lab name: Our laboratory → Alderbrook College", "IT bench  session:  → Tuesday", "bench  water temperature: 20 → 21.4",
		"RA account Sol Marsh active: true → false", "bench  balance:  → Fern", "state: shelf → discarded", "reason:  → used up (RA)", "state: shelf → poured", "state: shelf → void",
	} {
		if !strings.Contains(all, want) {
			t.Errorf("the history has no “%s”:\n%s", want, all)
		}
	}
	secret := "a third long password"
	if _, err := l.ChangePerson(t.Context(), ra, ra.ID, lab.AccountChange{Password: &secret}); err != nil {
		t.Fatal(err)
	}
	if page, err = l.History(t.Context(), 0); err != nil || page.Items[0].What != "account" ||
		!reflect.DeepEqual(page.Items[0].Values, []lab.HistoryValue{{Field: "password", Before: "another"}}) {
		t.Errorf("a changed password: %+v, %v", page.Items[0], err)
	}
}
