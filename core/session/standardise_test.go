package session_test

import (
	"fmt"
	"strings"
	"testing"

	"vialbench/core/session"
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
