package session_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vialbench/core/glassware"
	"vialbench/core/session"
	"vialbench/core/verdict"
)

// Bottles that have to be standardised are poured together, and titrated once; so is what is made beside one.
func TestBottlesAreStandardisedOnce(t *testing.T) {
	bottle := func(number int64, left float64, known bool) session.Bottle {
		b := naoh(fmt.Sprint("b", number), 0.1, left)
		b.Number, b.Known = number, known
		return b
	}
	for _, c := range []struct {
		name    string
		bottles []session.Bottle
		title   string
		opens   string // bottles that its question opens with
		after   string
	}{
		{"one", []session.Bottle{bottle(4, 2000, false)}, "Standardise sodium hydroxide, 0.1 mol/L", "b4", ""},
		{"two", []session.Bottle{bottle(4, 700, false), bottle(5, 600, false)}, "Pour bottles 4 and 5 together, and standardise sodium hydroxide, 0.1 mol/L", "b4 b5", ""},
		{"one of two", []session.Bottle{bottle(4, 700, false), bottle(5, 600, true)}, "Standardise bottle 4, sodium hydroxide, 0.1 mol/L", "b4", ""},
		{"beside what is made", []session.Bottle{bottle(4, 700, false)}, "Pour together and standardise sodium hydroxide, 0.1 mol/L", "b4", "make a"},
		{"what is made in two flasks", nil, "Pour together and standardise sodium hydroxide, 0.1 mol/L", "", "make a"},
		{"what is known", []session.Bottle{bottle(4, 700, true), bottle(5, 600, true)}, "", "", ""},
	} {
		q := question()
		q.Session.Items, q.Store.Bottles = q.Session.Items[:1], c.bottles
		var title, opens string
		var after []string
		for _, b := range plan(t, q).Bars {
			if b.Kind != "titration" {
				continue
			}
			if title != "" {
				t.Errorf("%s: standardised twice", c.name)
			}
			title, after = b.Title, b.After
			for _, take := range b.Option.Takes {
				opens = strings.TrimSpace(opens + " " + take.Bottle)
			}
		}
		if title != c.title || opens != c.opens || strings.Join(after, " ") != c.after {
			t.Errorf("%s: “%s” of %s after %v", c.name, title, opens, after)
		}
	}
}

// Two litres are made in one flask one after the other, in two flasks at once; and two solids dry in one oven one after the
// other, in two at once.
func TestFlasksAndOvensAreShared(t *testing.T) {
	begins := func(flasks int, thresholds verdict.Thresholds, kinds ...string) string {
		q := question()
		q.Session.Items = []session.Item{
			{ID: "a", Name: "Sodium chloride", Concentration: "0.1 mol/L", Each: "30 mL", Times: 1},
			{ID: "b", Name: "Potassium hydrogen phthalate", Concentration: "0.1 mol/L", Each: "30 mL", Times: 1},
		}
		q.Session.People = append(q.Session.People, session.Person{Name: "Sol Marsh", From: "08:00", To: "17:00"})
		q.Session.Meters, q.Store.Balances, q.Thresholds = 0, 2, thresholds
		q.Store.Glass = []glassware.Item{{Kind: glassware.VolumetricFlask, Volume: 1000, Class: glassware.ClassA, Count: flasks}}
		var list []session.Bar
		for _, b := range plan(t, q).Bars {
			if slices.Contains(kinds, strings.Fields(b.ID)[0]) {
				list = append(list, b)
			}
		}
		if len(list) != 2 {
			t.Fatalf("%+v", list)
		}
		if list[0].Starts.Equal(list[1].Starts) {
			return "at once"
		}
		if list[1].Starts.Before(list[0].Ends) {
			return "one over the other"
		}
		return "one after the other"
	}
	for flasks, want := range map[int]string{1: "one after the other", 2: "at once"} {
		if got := begins(flasks, verdict.Thresholds{"S-14": 2}, "make"); got != want {
			t.Errorf("%d flasks: %s", flasks, got)
		}
	}
	for ovens, together := range map[float64]bool{1: false, 2: true} {
		if got := begins(2, verdict.Thresholds{"S-14": ovens}, "dry"); (got != "one after the other") != together {
			t.Errorf("%g ovens: %s", ovens, got)
		}
	}
}
