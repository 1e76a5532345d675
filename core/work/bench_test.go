package work_test

import (
	"encoding/json"
	"math"
	"reflect"
	"testing"
	"time"

	"vialbench/core/benchtop"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/weighing"
	"vialbench/core/work"
)

// coarse is a bench with a coarse balance, a burette of class B, warm water, and no meter.
func coarse() benchtop.Bench {
	celsius := 27.0
	return benchtop.Bench{
		Balance: &weighing.Balance{Name: "Moss", Capacity: 3200, Resolution: 0.01, Repeatability: 0.01, Linearity: 0.02},
		Burette: &glassware.Item{Kind: glassware.Burette, Volume: 50, Class: "B", Count: 1},
		Celsius: &celsius,
	}
}

// The sample records carried out at another bench: its instruments stand in the request, and what does not depend on any stays.
func TestAtAnotherBench(t *testing.T) {
	took := map[string]int{}
	for _, r := range records(t) {
		b := coarse()
		was, err := work.Plan{Kind: r.Kind, Request: r.Request, Batch: r.Batch}.Read()
		if err != nil {
			t.Fatal(err)
		}
		is, err := work.Plan{Kind: r.Kind, Request: r.Request, Batch: r.Batch, Bench: &b}.Read()
		if err != nil {
			t.Fatal(err)
		}
		if reflect.DeepEqual(was, is) {
			continue
		}
		took[r.Kind]++
		got := written(t, is)
		for _, field := range []string{"celsius", "waterTemperature"} {
			if c, has := got[field]; has && c != 27.0 {
				t.Errorf("%s: %s %v", r.Kind, field, c)
			}
		}
		if of, has := got["balance"].(map[string]any); has && of["name"] != "Moss" {
			t.Errorf("%s: %v", r.Kind, of)
		}
		for _, field := range []string{"burette", "glass"} {
			if of, has := got[field].(map[string]any); has && of["kind"] == "burette" && of["class"] != "B" {
				t.Errorf("%s: %s %v", r.Kind, field, of)
			}
		}
		compared(t, r, was, is)
	}
	for kind, least := range map[string]int{"standard": 7, "dilution": 2, "titration": 1, "curve": 1, "capacity": 1, "droptip": 1, "readings": 1} {
		if took[kind] != least {
			t.Errorf("%s: %d runs, want %d", kind, took[kind], least)
		}
	}
}

func written(t *testing.T, plan run.Plan) (fields map[string]any) {
	t.Helper()
	text, err := json.Marshal(plan)
	if err == nil {
		err = json.Unmarshal(text, &fields)
	}
	if err != nil {
		t.Fatal(err)
	}
	return fields
}

// compared looks at the main figure of what was weighed or titrated: it is less certain, and about the same.
func compared(t *testing.T, r record, was, is run.Plan) {
	t.Helper()
	if r.Kind != "standard" && r.Kind != "titration" {
		return
	}
	now := r.Facts[len(r.Facts)-1].At.Add(time.Minute)
	before, err := was.Make(r.Facts, now)
	if err != nil || len(before.Figures) == 0 {
		return // one that was given up
	}
	after, err := is.Make(r.Facts, now)
	if err != nil {
		t.Fatal(err)
	}
	a, b := before.Figures[0].Number, after.Figures[0].Number
	if !(b.U() > a.U()) || math.Abs(b.Value/a.Value-1) > 0.003 {
		t.Errorf("%s: %s, at the coarse bench %s", r.Kind, before.Figures[0], after.Figures[0])
	}
}

// What does not fit leaves the plan as it was made: a balance that does not carry the flask, a burette of another volume.
func TestWhatDoesNotFit(t *testing.T) {
	for _, r := range records(t) {
		was, err := work.Decode(r.Kind, r.Request)
		if err != nil {
			t.Fatal(err)
		}
		b := benchtop.Bench{Burette: &glassware.Item{Kind: glassware.Burette, Volume: 25, Class: "A", Count: 1}}
		if is := benchtop.At(was, b); !reflect.DeepEqual(was, is) {
			t.Errorf("%s: another burette", r.Kind)
		}
		nowhere := -40.0
		if is := benchtop.At(was, benchtop.Bench{Celsius: &nowhere}); !reflect.DeepEqual(was, is) {
			t.Errorf("%s: water of −40 °C", r.Kind)
		}
	}
}
