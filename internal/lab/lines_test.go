package lab_test

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"vialbench/core/readings"
	"vialbench/core/verdict"
)

// A table of samples goes into a log, all of it or nothing, and once.
func TestTakeLines(t *testing.T) {
	l, ra, it := newLab(t)
	m := meterOf(t, l, ra, "Heron")
	calibrated := calibrate(t, l, it, m.ID, 0)
	log := begun(t, l, it, readings.Kind, `{"meter": "`+m.ID+`", "name": "Pond", "celsius": 20}`)
	take := func(text string) error {
		_, err := l.TakeLines(t.Context(), it, log.ID, strings.NewReader(text))
		return err
	}
	for text, want := range map[string]string{
		"sample;shown\nInlet;12,3\n;5\n":         "/3/sample",
		"sample;shown\nInlet;twelve\n":           "/2/shown",
		"sample;shown\nInlet;1700\n":             "/2/shown",
		"sample;shown;°C\nInlet;12,3;120\n":      "/2/°C",
		"sample;shown;weather\nInlet;12,3;dry\n": "/1/weather",
		"shown\n12,3\n":                          "/1",
	} {
		var p verdict.Problems
		if err := take(text); !errors.As(err, &p) || p[0].Field != want {
			t.Errorf("%q: %v, want a problem at %s", text, err, want)
		}
	}
	if rows := rowsOf(t, l, log.ID); len(rows) != 0 {
		t.Errorf("of a faulty table %d lines were taken in", len(rows))
	}
	table := "sample;shown;°C;note\nInlet;-20,0;21,5;brown\nOutlet;'-35,1 mV;;\nOutlet;'-35,1 mV;;\n"
	for range 2 { // sent again, it is taken in once
		if err := take(table); err != nil {
			t.Fatal(err)
		}
	}
	rows := rowsOf(t, l, log.ID)
	if len(rows) != 3 || rows[0].Sample != "Inlet" || rows[0].Shown != "−20.0 mV" || rows[0].Celsius != "21.5" || rows[0].Note != "brown" ||
		rows[1].Shown != "−35.1 mV" || rows[1].Celsius != "20.0" {
		t.Errorf("%+v", rows)
	}
	many := strings.Builder{}
	many.WriteString("sample;shown\n")
	for i := range 497 {
		fmt.Fprintf(&many, "Tube %d;%d,5\n", i, i%100)
	}
	if err := take(many.String()); err != nil {
		t.Fatal(err)
	}
	if rows := rowsOf(t, l, log.ID); len(rows) != 500 || rows[499].Sample != "Tube 496" || rows[499].Shown != "96.5 mV" {
		t.Errorf("%d lines after a long table", len(rows))
	}
	if _, err := l.TakeLines(t.Context(), it, calibrated.ID, strings.NewReader(table)); err == nil ||
		!strings.Contains(err.Error(), "takes no table") {
		t.Errorf("%v", err)
	}
}

// A table of 500 readings into a log.
func BenchmarkTakeLines(b *testing.B) {
	l, ra, it := newLab(b)
	m := meterOf(b, l, ra, "Heron")
	calibrate(b, l, it, m.ID, 0)
	for n := 0; b.Loop(); n++ {
		b.StopTimer()
		log := begun(b, l, it, readings.Kind, `{"meter": "`+m.ID+`", "name": "Pond", "celsius": 20}`)
		text := strings.Builder{}
		text.WriteString("sample;shown\n")
		for i := range 500 {
			fmt.Fprintf(&text, "Tube %d;%d,5\n", i, i%100)
		}
		b.StartTimer()
		if _, err := l.TakeLines(b.Context(), it, log.ID, strings.NewReader(text.String())); err != nil {
			b.Fatal(err)
		}
	}
}
