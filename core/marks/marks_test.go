package marks_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/marks"
	"vialbench/core/verdict"
)

func ExampleScheme_Mark() {
	off, follows, notes := -1.4, true, 2
	m := marks.Usual().Mark(marks.Handed{
		Error: &off, Runs: []float64{0.0510, 0.0512, 0.0511}, Follows: &follows, Half: 0.00005, U: 0.0004, Notes: &notes,
	})
	fmt.Printf("%g of %g\n", m.Points, m.Of)
	for _, l := range m.Lines {
		fmt.Printf("%s %g: %s\n", l.Of, l.Points, l.Why)
	}
	// Output:
	// 90 of 100
	// accuracy 30: −1.4 % off: within 2 %
	// precision 20: 3 runs, standard deviation 0.20 %: within 0.5 %
	// arithmetic 20: it follows from their own figures
	// digits 10: its digits fit its uncertainty
	// notes 10: notes kept: 2
}

func TestBands(t *testing.T) {
	s := marks.Usual()
	for off, want := range map[float64]float64{0: 40, 1: 40, -1: 40, 1 + 1e-12: 40, 1.01: 30, 2: 30, -5: 20, 5.01: 10, 10: 10, 10.01: 0, -80: 0} {
		if l := s.Mark(marks.Handed{Error: &off}).Lines[0]; l.Points != want || l.Most != 40 {
			t.Errorf("%g %% off: %g of %g (%s)", off, l.Points, l.Most, l.Why)
		}
	}
	// Two runs that differ by d have the relative standard deviation d/√2 of their mean.
	for d, want := range map[float64]float64{0: 20, 0.7: 20, 0.72: 15, 1.41: 15, 1.42: 8, 2.82: 8, 2.84: 0} {
		if l := s.Mark(marks.Handed{Runs: []float64{100 - d/2, 100 + d/2}}).Lines[1]; l.Points != want {
			t.Errorf("runs %g %% apart: %g (%s)", d, l.Points, l.Why)
		}
	}
	if l := s.Mark(marks.Handed{Runs: []float64{-100, -101}}).Lines[1]; l.Points != 15 {
		t.Errorf("%+v", l)
	}
	beyond := 11.0
	if l := s.Mark(marks.Handed{Error: &beyond}).Lines[0]; l.Why != "+11.0 % off: beyond 10 %" {
		t.Error(l.Why)
	}
}

// What cannot be judged counts on neither side.
func TestNotMarked(t *testing.T) {
	m := marks.Usual().Mark(marks.Handed{Runs: []float64{1}})
	if m.Of != 0 || m.Points != 0 {
		t.Errorf("%g of %g", m.Points, m.Of)
	}
	for _, l := range m.Lines {
		if l.Most != 0 || !strings.HasPrefix(l.Why, "not marked: ") {
			t.Errorf("%+v", l)
		}
	}
	if l := marks.Usual().Mark(marks.Handed{Runs: []float64{1, -1}}).Lines[1]; l.Most != 0 {
		t.Errorf("runs around nothing: %+v", l)
	}
}

func TestDigits(t *testing.T) {
	for _, c := range []struct {
		half, u float64
		fits    bool
		why     string
	}{
		{0.00005, 0.0004, true, "fit"},
		{0.00005, 0.0001, true, "fit"},
		{0.00005, 0.00009, false, "too few"},
		{0.5, 0.4, false, "too few"},
		{0.00005, 0.015, true, "fit"},
		{0.000005, 0.015, false, "too many"},
		{0.00005, 0.1, false, "too many"},
		{0.00005, 0.099, true, "fit"},
		{5e-7, 0.0004, true, "fit"},
		{5e-8, 0.0004, false, "too many"},
	} {
		l := marks.Usual().Mark(marks.Handed{Half: c.half, U: c.u}).Lines[3]
		if (l.Points == 10) != c.fits || l.Most != 10 || !strings.Contains(l.Why, c.why) {
			t.Errorf("± %g of U %g: %+v", c.half, c.u, l)
		}
	}
}

func TestArithmeticAndNotes(t *testing.T) {
	no := false
	if l := marks.Usual().Mark(marks.Handed{Follows: &no}).Lines[2]; l.Points != 0 || l.Most != 20 || l.Why != "it does not follow from their own figures" {
		t.Errorf("%+v", l)
	}
	s := marks.Scheme{Format: marks.Format, Title: "Notes", Parts: []marks.Part{{Of: marks.Notes, Points: 9, Least: 3}}}
	for notes, want := range map[int]float64{0: 0, 1: 3, 2: 6, 3: 9, 7: 9} {
		if m := s.Mark(marks.Handed{Notes: &notes}); m.Points != want || m.Of != 9 {
			t.Errorf("%d notes: %+v", notes, m)
		}
	}
}

// A scheme is an open file; what is wrong in it is told by its place.
func TestSchemesThatAreNone(t *testing.T) {
	text, err := json.Marshal(marks.Usual())
	if err != nil {
		t.Fatal(err)
	}
	for field, change := range map[string]func(*marks.Scheme){
		"":                         func(*marks.Scheme) {},
		"/format":                  func(s *marks.Scheme) { s.Format = "" },
		"/title":                   func(s *marks.Scheme) { s.Title = strings.Repeat("x", 61) },
		"/parts":                   func(s *marks.Scheme) { s.Parts = nil },
		"/parts/1/of":              func(s *marks.Scheme) { s.Parts[1].Of = marks.Accuracy },
		"/parts/0/of":              func(s *marks.Scheme) { s.Parts[0].Of = "style" },
		"/parts/2/points":          func(s *marks.Scheme) { s.Parts[2].Points = 0 },
		"/parts/2/points ":         func(s *marks.Scheme) { s.Parts[2].Points = math.NaN() },
		"/parts/4/least":           func(s *marks.Scheme) { s.Parts[4].Least = 21 },
		"/parts/0/bands":           func(s *marks.Scheme) { s.Parts[0].Bands = nil },
		"/parts/3/bands":           func(s *marks.Scheme) { s.Parts[3].Bands = []marks.Band{{Within: 1, Points: 1}} },
		"/parts/0/bands/1/within":  func(s *marks.Scheme) { s.Parts[0].Bands[1].Within = 1 },
		"/parts/0/bands/0/within":  func(s *marks.Scheme) { s.Parts[0].Bands[0].Within = 0 },
		"/parts/0/bands/2/points":  func(s *marks.Scheme) { s.Parts[0].Bands[2].Points = 31 },
		"/parts/0/bands/0/points ": func(s *marks.Scheme) { s.Parts[0].Bands[0].Points = 41 },
	} {
		var s marks.Scheme
		if err := json.Unmarshal(text, &s); err != nil {
			t.Fatal(err)
		}
		change(&s)
		err := s.Check()
		var p verdict.Problems
		switch want := strings.TrimSpace(field); {
		case want == "" && err != nil:
			t.Error(err)
		case want != "" && (!errors.As(err, &p) || p[0].Field != want):
			t.Errorf("%s: %v", field, err)
		}
	}
}

// What may just be: the longest title, the most points, bands and notes, a band without points, two runs.
func TestTheEdgesOfAScheme(t *testing.T) {
	s := marks.Scheme{Format: marks.Format, Title: strings.Repeat("x", 60), Parts: []marks.Part{
		{Of: marks.Accuracy, Points: 1000}, {Of: marks.Notes, Points: 1, Least: 20},
	}}
	for i := range 12 {
		s.Parts[0].Bands = append(s.Parts[0].Bands, marks.Band{Within: 1000 - float64(11-i), Points: 1000 * float64(11-i) / 11})
	}
	if err := s.Check(); err != nil {
		t.Error(err)
	}
	for what, change := range map[string]func(*marks.Scheme){
		"thirteen bands": func(s *marks.Scheme) { s.Parts[0].Bands = append(s.Parts[0].Bands, marks.Band{Within: 999.5}) },
		"1001 points":    func(s *marks.Scheme) { s.Parts[0].Points = 1001 },
		"a wide band":    func(s *marks.Scheme) { s.Parts[0].Bands[11].Within = 1001 },
		"less than none": func(s *marks.Scheme) { s.Parts[0].Bands[11].Points = -1 },
		"no notes":       func(s *marks.Scheme) { s.Parts[1].Least = -1 },
	} {
		bad := s
		bad.Parts = []marks.Part{s.Parts[0], s.Parts[1]}
		bad.Parts[0].Bands = append([]marks.Band{}, s.Parts[0].Bands...)
		change(&bad)
		if bad.Check() == nil {
			t.Errorf("%s: let in", what)
		}
	}
	s.Parts[1].Least = 0
	if err := s.Check(); err != nil {
		t.Error(err)
	}
}
