package session_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/session"
	"vialbench/core/verdict"
)

func TestBadSessions(t *testing.T) {
	for _, c := range []struct {
		field, says string
		change      func(s *session.Session)
	}{
		{"/groups", "1 to 60 groups", func(s *session.Session) { s.Groups = 0 }},
		{"/groups", "1 to 60 groups", func(s *session.Session) { s.Groups = 61 }},
		{"/title", "needs a title", func(s *session.Session) { s.Title = " " }},
		{"/ends", "ends after it starts", func(s *session.Session) { s.Ends = s.Starts }},
		{"/zone", "no time zone", func(s *session.Session) { s.Zone = "Pond/Edge" }},
		{"/items", "at most 40", func(s *session.Session) { s.Items = make([]session.Item, 41) }},
		{"/items/0/name", "say what is in it", func(s *session.Session) { s.Items[0].Name = "" }},
		{"/items/0/concentration", "", func(s *session.Session) { s.Items[0].Concentration = "0.1 mL" }},
		{"/items/1/each", "", func(s *session.Session) { s.Items[1].Each = "twenty" }},
		{"/items/1/each", "a volume from 0.01 mL", func(s *session.Session) { s.Items[1].Each = "0 mL" }},
		{"/items/1/times", "1 to 50", func(s *session.Session) { s.Items[1].Times = 0 }},
		{"/items/0/glass", "used from", func(s *session.Session) { s.Items[0].Glass = "bucket" }},
		{"/items/0/allowances/luck", "no such allowance", func(s *session.Session) { s.Items[0].Allowances = map[string]string{"luck": "1 mL"} }},
		{"/items/0/pH", "0.5 and 13.5", func(s *session.Session) { s.Items[0].PH = "15" }},
		{"/people/1/name", "a name of their own", func(s *session.Session) { s.People[1].Name = s.People[0].Name }},
		{"/people/0/to", "08:00 to 17:00", func(s *session.Session) { s.People[0].To = "07:00" }},
		{"/own/0/title", "needs a title", func(s *session.Session) { s.Own = []session.OwnTask{{Title: "", Hands: 5}} }},
	} {
		q := question()
		c.change(&q.Session)
		_, err := session.Plan(context.Background(), q)
		var problems verdict.Problems
		if !errors.As(err, &problems) || problems[0].Field != c.field || !strings.Contains(problems[0].Reason, c.says) {
			t.Errorf("%s: %v", c.field, err)
		}
	}
}

// Each bound is taken, and one step beyond it is not.
func TestTheEdges(t *testing.T) {
	for _, c := range []struct {
		field      string
		at, beyond func(s *session.Session)
	}{
		{"/groups", func(s *session.Session) { s.Groups = 60 }, func(s *session.Session) { s.Groups = 61 }},
		{"/groups", func(s *session.Session) { s.Groups = 1 }, func(s *session.Session) { s.Groups = 0 }},
		{"/title", func(s *session.Session) { s.Title = strings.Repeat("x", 120) }, func(s *session.Session) { s.Title += "x" }},
		{"/place", func(s *session.Session) { s.Place = strings.Repeat("x", 80) }, func(s *session.Session) { s.Place += "x" }},
		{"/ends", func(s *session.Session) { s.Ends = s.Starts.Add(24 * time.Hour) }, func(s *session.Session) { s.Ends = s.Ends.Add(time.Second) }},
		{"/meters", func(s *session.Session) { s.Meters = 60 }, func(s *session.Session) { s.Meters = 61 }},
		{"/meters", func(s *session.Session) { s.Meters = 0 }, func(s *session.Session) { s.Meters = -1 }},
		{"/items", func(s *session.Session) { s.Items = slices.Repeat(s.Items[:1], 40) }, func(s *session.Session) { s.Items = append(s.Items, s.Items[0]) }},
		{"/items/0/times", func(s *session.Session) { s.Items[0].Times = 50 }, func(s *session.Session) { s.Items[0].Times = 51 }},
		{"/items/0/times", func(s *session.Session) { s.Items[0].Times = 1 }, func(s *session.Session) { s.Items[0].Times = 0 }},
		{"/items/0/pieces", func(s *session.Session) { s.Items[0].Pieces = 6 }, func(s *session.Session) { s.Items[0].Pieces = 7 }},
		{"/items/0/pieces", func(s *session.Session) { s.Items[0].Pieces = 0 }, func(s *session.Session) { s.Items[0].Pieces = -1 }},
		{"/items/0/each", func(s *session.Session) { s.Items[0].Each = "10 L" }, func(s *session.Session) { s.Items[0].Each = "10.01 L" }},
		{"/items/0/each", func(s *session.Session) { s.Items[0].Each = "0.01 mL" }, func(s *session.Session) { s.Items[0].Each = "0.009 mL" }},
		{"/items/0/name", func(s *session.Session) { s.Items[0].Name = strings.Repeat("x", 120) }, func(s *session.Session) { s.Items[0].Name += "x" }},
		{"/items/0/pH", func(s *session.Session) { s.Items[0].PH = "0.5" }, func(s *session.Session) { s.Items[0].PH = "0.49" }},
		{"/items/0/pH", func(s *session.Session) { s.Items[0].PH = "13.5" }, func(s *session.Session) { s.Items[0].PH = "13.51" }},
		{"/items/0/concentration", func(s *session.Session) { s.Items[0].Concentration = "0.0001 mol/L" }, func(s *session.Session) { s.Items[0].Concentration = "0 mol/L" }},
		{"/items/0/allowances/stays", func(s *session.Session) { s.Items[0].Allowances = map[string]string{"stays": "0 mL"} }, func(s *session.Session) { s.Items[0].Allowances["stays"] = "-1 mL" }},
		{"/people", func(s *session.Session) {
			s.People = nil
			for i := range 12 {
				s.People = append(s.People, session.Person{Name: fmt.Sprint("helper ", i), From: "08:00", To: "08:01"})
			}
		}, func(s *session.Session) {
			s.People = append(s.People, session.Person{Name: "one more", From: "08:00", To: "09:00"})
		}},
		{"/people/0/to", func(s *session.Session) { s.People[0].To = "08:01" }, func(s *session.Session) { s.People[0].To = "08:00" }},
		{"/people/0/name", func(s *session.Session) { s.People[0].Name = strings.Repeat("x", 80) }, func(s *session.Session) { s.People[0].Name += "x" }},
		{"/own", func(s *session.Session) { s.Own = slices.Repeat([]session.OwnTask{{Title: "x", Hands: 1}}, 20) }, func(s *session.Session) { s.Own = append(s.Own, s.Own[0]) }},
		{"/own/0/title", func(s *session.Session) { s.Own = []session.OwnTask{{Title: "x", Wait: 7 * 24 * 60}} }, func(s *session.Session) { s.Own[0].Hands = 1 }},
		{"/own/0/title", func(s *session.Session) { s.Own = []session.OwnTask{{Title: strings.Repeat("x", 120), Hands: 1}} }, func(s *session.Session) { s.Own[0].Title += "x" }},
		{"/own/0/title", func(s *session.Session) { s.Own = []session.OwnTask{{Title: "x", Hands: 1}} }, func(s *session.Session) { s.Own[0].Hands = 0 }},
	} {
		s := pondWater()
		c.at(&s)
		if err := s.Check(); err != nil {
			t.Errorf("%s at its bound: %v", c.field, err)
		}
		c.beyond(&s)
		var problems verdict.Problems
		if err := s.Check(); !errors.As(err, &problems) || problems[0].Field != c.field {
			t.Errorf("%s beyond its bound: %v", c.field, err)
		}
	}
}
