package work_test

import (
	"encoding/json"
	"errors"
	"os"
	"testing"
	"time"

	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/work"
)

// record is a run of the sample records.
type record struct {
	Kind    string          `json:"kind"`
	Request json.RawMessage `json:"request"`
	By      string          `json:"by"`
	Begun   time.Time       `json:"begun"`
	Facts   []fact.Fact     `json:"facts"`
	Batch   int             `json:"batch"`
}

func records(t *testing.T) []record {
	t.Helper()
	text, err := os.ReadFile("../../demo/records.json")
	if err != nil {
		t.Fatal(err)
	}
	var all struct {
		Runs []record `json:"runs"`
	}
	if err := json.Unmarshal(text, &all); err != nil {
		t.Fatal(err)
	}
	return all.Runs
}

// typed is a fact as it would be typed again.
func typed(f fact.Fact) run.Stated {
	s := run.Stated{Fact: f}
	again := func(q *quantity.Quantity) *quantity.Stated {
		if q == nil {
			return nil
		}
		return &quantity.Stated{Text: quantity.Digits(q.Value, q.Decimals), Unit: q.Unit.Symbol}
	}
	s.Quantity, s.After, s.Spread = again(f.Quantity), again(f.After), again(f.Spread)
	for _, q := range f.Beside {
		s.Beside = append(s.Beside, *again(&q))
	}
	s.Fact.Quantity, s.Fact.After, s.Fact.Spread, s.Fact.Beside = nil, nil, nil, nil
	return s
}

// A run that is carried on by itself stands where it would with a server: with all that was stated of
// it, whatever part of that was on record.
func TestAheadOfTheSampleRecords(t *testing.T) {
	kinds := map[string]int{}
	for _, r := range records(t) {
		plan := work.Plan{Kind: r.Kind, Request: r.Request, Batch: r.Batch}
		read, err := plan.Read()
		if err != nil {
			t.Fatalf("%s: %v", r.Kind, err)
		}
		now := r.Facts[len(r.Facts)-1].At.Add(time.Minute)
		whole, err := read.Make(r.Facts, now)
		if err != nil {
			t.Fatal(err)
		}
		want, err := json.Marshal(whole)
		if err != nil {
			t.Fatal(err)
		}
		for _, onRecord := range []int{0, len(r.Facts) / 2, len(r.Facts)} {
			q := work.Question{Plan: plan, Begun: r.Begun, Facts: r.Facts[:onRecord], By: r.By, Now: now}
			for _, f := range r.Facts[onRecord:] {
				q.Stated = append(q.Stated, typed(f))
			}
			text, err := json.Marshal(q) // as a browser sends it
			if err != nil {
				t.Fatal(err)
			}
			var sent work.Question
			if err := json.Unmarshal(text, &sent); err != nil {
				t.Fatal(err)
			}
			a, err := work.Ahead(sent)
			if err != nil {
				t.Errorf("%s of %s, %d facts on record: %v", r.Kind, r.Begun, onRecord, err)
				continue
			}
			got, err := json.Marshal(a.Outcome)
			if err != nil {
				t.Fatal(err)
			}
			if string(got) != string(want) {
				t.Errorf("%s of %s, %d facts on record: another outcome", r.Kind, r.Begun, onRecord)
			}
			if len(a.Lines) != len(r.Facts)-onRecord {
				t.Errorf("%d lines", len(a.Lines))
			}
			for i, line := range a.Lines {
				if f := r.Facts[onRecord+i]; line.Sentence != read.Sentence(f) || line.Fact.By != r.By || !line.Fact.At.Equal(f.At) {
					t.Errorf("%+v", line)
				}
			}
		}
		kinds[r.Kind]++
	}
	if len(kinds) != 12 {
		t.Errorf("kinds: %v", kinds)
	}
}

func TestWhatCannotBeCarriedOn(t *testing.T) {
	r := records(t)[0] // a standard, which is tared first
	now := r.Begun.Add(time.Hour)
	q := work.Question{Plan: work.Plan{Kind: r.Kind, Request: r.Request}, Begun: r.Begun, By: "RA", Now: now}
	state := func(kind, text, unit string, at time.Time) run.Stated {
		return run.Stated{Fact: fact.Fact{ID: "x", Kind: kind, At: at}, Quantity: &quantity.Stated{Text: text, Unit: unit}}
	}
	for field, s := range map[string]run.Stated{
		"/quantity": state("tared", "nothing", "g", now),
		"/kind":     state("temperature", "20", "°C", now),
		"/at":       state("tared", "0", "g", r.Begun.Add(-time.Hour)),
	} {
		q.Stated = []run.Stated{s}
		var p verdict.Problems
		if _, err := work.Ahead(q); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	// What is refused at last leaves what came before it.
	q.Stated = []run.Stated{state("tared", "0", "g", now), state("tared", "0", "g", now)}
	if a, err := work.Ahead(q); err == nil || len(a.Lines) != 1 {
		t.Errorf("%+v %v", a, err)
	}
	q.Stated = q.Stated[:1]
	q.Asked = "x"
	if a, err := work.Ahead(q); err != nil || a.Step == nil || a.Step.Kind != "tared" || a.Step.Label != "Shown after taring" {
		t.Errorf("the field of what was just stated: %+v %v", a.Step, err)
	}
	q.Asked = "y"
	if _, err := work.Ahead(q); err == nil {
		t.Error("the field of a fact that there is not")
	}
	q.Plan.Kind = "alchemy"
	var p verdict.Problems
	if _, err := work.Ahead(q); !errors.As(err, &p) || p[0].Field != "/kind" {
		t.Errorf("%v", err)
	}
	if _, err := work.Decode("standard", json.RawMessage(`[]`)); err == nil {
		t.Error("a list is read as a plan")
	}
}

func BenchmarkAhead(b *testing.B) {
	text, err := os.ReadFile("../../demo/records.json")
	if err != nil {
		b.Fatal(err)
	}
	var all struct {
		Runs []record `json:"runs"`
	}
	if err := json.Unmarshal(text, &all); err != nil {
		b.Fatal(err)
	}
	r := all.Runs[0]
	q := work.Question{Plan: work.Plan{Kind: r.Kind, Request: r.Request}, Begun: r.Begun, By: r.By}
	for _, f := range r.Facts {
		q.Stated = append(q.Stated, typed(f))
	}
	q.Now = r.Facts[len(r.Facts)-1].At
	for b.Loop() {
		if _, err := work.Ahead(q); err != nil {
			b.Fatal(err)
		}
	}
}
