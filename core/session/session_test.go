package session_test

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"vialbench/core/glassware"
	"vialbench/core/schedule"
	"vialbench/core/session"
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

func day(text string) time.Time {
	t, err := time.Parse("2006-01-02 15:04", text)
	if err != nil {
		panic(err)
	}
	return t
}

// A class of twelve pairs titrates pond water, on a Wednesday.
func pondWater() session.Session {
	return session.Session{
		Title: "Hardness of pond water", Place: "Lab 2", Starts: day("2026-12-09 09:00"), Ends: day("2026-12-09 12:00"), Zone: "UTC", Groups: 12,
		Items: []session.Item{
			{ID: "a", Name: "sodium hydroxide", Concentration: "0.1 mol/L", Each: "20 mL", Times: 2, Glass: session.Burette, Size: "50 mL", Standardised: true},
			{ID: "b", Name: "Potassium hydrogen phthalate", Concentration: "0.1 mol/L", Each: "20 mL", Times: 2, Glass: session.Pipette, Size: "20 mL"},
		},
		Meters: 2,
		People: []session.Person{{Name: "R. Ashdown", From: "08:00", To: "17:00"}, {Name: "J. Thorne", From: "08:00", To: "12:00"}},
	}
}

func cupboard() session.Store {
	flasks := glassware.Cupboard{}
	for _, volume := range []float64{100, 250, 500, 1000} {
		flasks = append(flasks, glassware.Flask{Volume: volume, Class: glassware.ClassA})
	}
	return session.Store{
		Flasks: flasks, Class: glassware.ClassA, Substances: substance.Library(), Balances: 1, Meters: 2,
		Pieces: []session.Piece{{Glass: session.Burette, Size: 50, Number: 10}, {Glass: session.Pipette, Size: 20, Number: 12}},
	}
}

func ExampleNeeds() {
	needs, _ := session.Needs(pondWater(), nil)
	for _, line := range needs[0].Lines {
		fmt.Printf("%s: %g mL\n", line.Why, line.ML)
	}
	fmt.Println(needs[0].Sentence)
	// Output:
	// 2 × 20 mL: 40 mL
	// 1 trial to spare: 20 mL
	// rinsing 1 burette, 2 × 5 mL: 10 mL
	// what stays of the filling: 5 mL
	// 75 mL for each of 13 places, 1.02 L in all
}

func need(t *testing.T, item session.Item, rules verdict.Thresholds) session.Need {
	t.Helper()
	s := pondWater()
	s.Items = []session.Item{item}
	needs, err := session.Needs(s, rules)
	if err != nil {
		t.Fatal(err)
	}
	return needs[0]
}

// What the trade says (common practice): 100 mL of each is plenty for two runs of 20 mL out of two burettes, and a
// burette of 50 mL takes about 60 mL with rinsing.
func TestWhatTheTradeSays(t *testing.T) {
	from := session.Item{ID: "a", Name: "x", Each: "20 mL", Times: 2, Glass: session.Burette, Size: "50 mL"}
	if n := need(t, from, nil); n.ML > 100 || n.ML < 60 {
		t.Errorf("two runs of 20 mL need %g mL; 100 mL is plenty", n.ML)
	}
	from.Times = 1
	if n := need(t, from, verdict.Thresholds{"S-1": 0}); n.ML != 60 {
		t.Errorf("a burette of 50 mL takes %g mL with rinsing, not 60", n.ML)
	}
	// A capacity test: ten portions of 1 mL out of a burette of 25 mL, beside 50 mL in a beaker.
	portions := session.Item{ID: "a", Name: "x", Each: "1 mL", Times: 10, Glass: session.Burette, Size: "25 mL"}
	if n := need(t, portions, nil); n.ML != 10+1+10+14 {
		t.Errorf("ten portions need %g mL: 10 + 1 to spare, 10 rinsing, and a filling of 25", n.ML)
	}
}

func TestEveryAllowance(t *testing.T) {
	for _, c := range []struct {
		item session.Item
		want string
	}{
		{session.Item{Each: "10 mL", Times: 3}, "trials 30, spare 10"},
		{session.Item{Each: "25 mL", Times: 3, Glass: session.Burette, Pieces: 2}, "trials 75, spare 25, rinsing 20, stays 10"},
		{session.Item{Each: "25 mL", Times: 2, Glass: session.Pipette, Size: "25 mL"}, "trials 50, spare 25, rinsing 10, stays 10"},
		{session.Item{Each: "3 mL", Times: 6, Glass: session.Cuvette}, "trials 18, spare 3, rinsing 6"},
		{session.Item{Each: "20 mL", Times: 4, Glass: session.Probe}, "trials 80, spare 20, stays 10"},
		{session.Item{Each: "10 mL", Times: 3, Allowances: map[string]string{"spare": "0 mL", "other": "5 mL"}}, "trials 30, spare 0, other 5"},
	} {
		c.item.ID, c.item.Name = "a", "x"
		n := need(t, c.item, nil)
		var lines []string
		sum := 0.0
		for _, l := range n.Lines {
			lines = append(lines, fmt.Sprintf("%s %g", l.ID, l.ML))
			sum += l.ML
			if _, set := c.item.Allowances[l.ID]; l.Set != set {
				t.Errorf("%s: set %v", l.ID, l.Set)
			}
		}
		if got := strings.Join(lines, ", "); got != c.want || n.ML != sum {
			t.Errorf("%+v: %s (%g mL); want %s", c.item, got, n.ML, c.want)
		}
		if n.Places != 13 || fmt.Sprintf("%.4g", n.Total) != fmt.Sprintf("%.4g", 13*sum*1.05) {
			t.Errorf("%d places need %g mL", n.Places, n.Total)
		}
	}
	// Worked by hand: 13 places of 40 mL and 5 % are 546 mL.
	n := need(t, session.Item{ID: "a", Name: "x", Each: "10 mL", Times: 3}, nil)
	if n.Total != 546 || n.Working[1].Result != "546 mL" || n.Working[0].Substituted != `30 + 10\,\mathrm{mL}` || n.Working[0].Result != "40 mL" {
		t.Errorf("%g mL, working %+v", n.Total, n.Working)
	}
	if got := n.Working[1].Substituted; got != `13 \cdot 40\,\mathrm{mL} \cdot (1 + 0.05)` {
		t.Errorf("working %s", got)
	}
	if got := n.Working[0].From; !slices.Equal(got, []string{"3 × 10 mL: 30 mL", "1 trial to spare: 10 mL (rule S-1)"}) {
		t.Errorf("from %q", got)
	}
}

func question() session.Question {
	return session.Question{Session: pondWater(), Store: cupboard(), Now: day("2026-12-07 10:02")}
}

func plan(t *testing.T, q session.Question) session.Design {
	t.Helper()
	d, err := session.Plan(context.Background(), q)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func TestPlan(t *testing.T) {
	d := plan(t, question())
	at := map[string]session.Bar{}
	for _, b := range d.Bars {
		at[b.ID] = b
		if len(b.Breaks) > 0 {
			t.Errorf("%s breaks %q", b.Title, b.Breaks)
		}
		if b.Ends.After(day("2026-12-09 08:45")) || b.Starts.Before(day("2026-12-07 10:05")) {
			t.Errorf("%s from %s to %s", b.Title, b.Starts, b.Ends)
		}
	}
	if d.Late != 0 || !d.Proven || d.Unplanned != "" || !d.Ready.Equal(day("2026-12-09 08:45")) || !d.Begins.Equal(d.Bars[0].Starts) {
		t.Errorf("late by %d, proven %v, ready %s, %s", d.Late, d.Proven, d.Ready, d.Unplanned)
	}
	for _, order := range [][2]string{{"dry b", "cool b"}, {"cool b", "make b"}, {"make a", "standardise a"}, {"make a", "fill 1"}, {"standardise a", "fill 1"}, {"set out", "fill 1"}} {
		first, second := at[order[0]], at[order[1]]
		if first.Title == "" || second.Title == "" || second.Starts.Before(first.Ends) {
			t.Errorf("%s ends %s, %s starts %s", order[0], first.Ends, order[1], second.Starts)
		}
	}
	if b := at["make a"]; b.Title != "Make sodium hydroxide, 0.1 mol/L, 1 L and 100 mL" || b.Hands != 60 || b.Kind != "standard" {
		t.Errorf("%+v", b)
	}
	if b := at["calibrate 2"]; b.Starts.Before(day("2026-12-09 08:00")) || b.Kind != "calibration" || b.Title != "Calibrate pH meter 2" {
		t.Errorf("%+v", b)
	}
	if b := at["fill 1"]; b.Hands != 25 || !strings.Contains(b.Title, "Rinse and fill 7 burettes: sodium hydroxide") || at["fill 2"].Hands != 20 || b.Starts.Before(day("2026-12-09 07:45")) {
		t.Errorf("%+v", b)
	}
	if len(d.Verdicts) != 1 || d.Verdicts[0].Sentence != "12 burettes of 50 mL at once, 10 owned: 2 groups share, or two rounds." {
		t.Errorf("%+v", d.Verdicts)
	}
}

// A strength that nobody found is found after the dilution, which is not done twice.
func TestDilutedThenStandardised(t *testing.T) {
	q := question()
	stock := naoh("n", 1, 500)
	stock.Known = false
	q.Store.Bottles = []session.Bottle{stock}
	d := plan(t, q)
	i := slices.IndexFunc(d.Bars, func(b session.Bar) bool { return b.ID == "standardise a" })
	if i < 0 || !slices.Equal(d.Bars[i].After, []string{"dilute a"}) || d.Bars[i].Kind != "titration" {
		t.Errorf("%+v", d.Bars)
	}
	q.Store.Bottles[0].Known = true
	if d := plan(t, q); slices.ContainsFunc(d.Bars, func(b session.Bar) bool { return b.ID == "standardise a" }) {
		t.Error("a strength that is known is found again")
	}
}

// With a bottle that serves, nothing is made; what is done is gone; what somebody moved stays where it was put, and says
// what it breaks.
func TestWhatIsLeft(t *testing.T) {
	q := question()
	q.Store.Bottles = []session.Bottle{naoh("n", 0.1003, 2000)}
	q.Done = []string{"set out", "calibrate 1"}
	q.Moved = map[string]time.Time{"make b": day("2026-12-07 11:00")}
	d := plan(t, q)
	var ids []string
	for _, b := range d.Bars {
		ids = append(ids, b.ID)
		if b.ID == "make b" && (!b.Starts.Equal(day("2026-12-07 11:00")) || len(b.Breaks) != 1 || !strings.Contains(b.Breaks[0], "is not over by then")) {
			t.Errorf("%+v", b)
		}
	}
	slices.Sort(ids)
	if !slices.Equal(ids, []string{"calibrate 2", "cool b", "dry b", "fill 1", "fill 2", "make b"}) || d.Takes["n"] == 0 {
		t.Errorf("%q, takes %v", ids, d.Takes)
	}
}

// At half past five on the evening before there is no time left; what would mend it was tried.
func TestTooLate(t *testing.T) {
	q := question()
	q.Now = day("2026-12-09 06:00")
	d := plan(t, q)
	if d.Late <= 0 || len(d.Mends) == 0 {
		t.Fatalf("late by %d, mends %+v", d.Late, d.Mends)
	}
	for i, m := range d.Mends {
		if m.Late >= d.Late || i > 0 && m.Late < d.Mends[i-1].Late {
			t.Errorf("%+v", m)
		}
	}
	// A bottle of the salt from elsewhere spares drying it: the solver says by how much, and says so when asked by itself.
	k := slices.IndexFunc(d.Mends, func(m session.Mend) bool { return strings.Contains(m.What, "phthalate") })
	if k < 0 {
		t.Fatalf("%+v", d.Mends)
	}
	q.Store.Bottles = []session.Bottle{{ID: "k", Name: "Potassium hydrogen phthalate", Strength: 0.1, Unit: "mol/L", Left: 5000}}
	if with := plan(t, q); with.Late != max(0, d.Mends[k].Late) {
		t.Errorf("with a bottle late by %d, told %d", with.Late, d.Mends[k].Late)
	}
}

// The clocks of London go back on 25 October 2026 and forward on 28 March 2027: the hours of people are those on the wall.
func TestNightsOfClockChange(t *testing.T) {
	for _, c := range []struct{ now, starts, first string }{
		{"2026-10-23 17:00", "2026-10-26 12:00", "2026-10-26 08:00"},
		{"2027-03-26 18:00", "2027-03-29 11:00", "2027-03-29 07:00"},
	} {
		q := question()
		q.Session.Zone, q.Now, q.Session.Starts = "Europe/London", day(c.now), day(c.starts)
		q.Session.Ends = q.Session.Starts.Add(time.Hour)
		q.Session.People = q.Session.People[1:] // from 8 to 12, so that all falls on the morning itself
		q.Session.Items = q.Session.Items[:0]
		q.Session.Own = []session.OwnTask{{ID: "x", Title: "Collect the pond water", Hands: 60}}
		q.Session.Meters = 0
		d := plan(t, q)
		for _, b := range d.Bars {
			if b.Starts.Before(day(c.first)) || b.Ends.After(day(c.starts)) {
				t.Errorf("%s: %s from %s to %s, hours begin at %s", c.now, b.Title, b.Starts, b.Ends, c.first)
			}
		}
		q.Now = q.Session.Starts.Add(-100 * time.Minute) // 60 + 40 minutes of work do not fit before the quarter
		if d := plan(t, q); d.Late != 15 {
			t.Errorf("%s: late by %d; by hand 60 + 40 minutes from 100 before end at the hour, and 15 before it are asked for", c.now, d.Late)
		}
	}
}

// What cannot be scheduled says so, and the rest of the plan stands.
func TestNoSchedule(t *testing.T) {
	for _, c := range []struct {
		says   string
		change func(s *session.Session)
	}{
		{"add a person", func(s *session.Session) { s.People = nil }},
		{"“Collect the pond water”: 600 minutes at the bench are longer", func(s *session.Session) {
			s.Own = []session.OwnTask{{ID: "x", Title: "Collect the pond water", Hands: 600}}
		}},
	} {
		q := question()
		c.change(&q.Session)
		if d := plan(t, q); !strings.Contains(d.Unplanned, c.says) || len(d.Needs) != 2 || len(d.Bars) != 0 {
			t.Errorf("%q, %d bars", d.Unplanned, len(d.Bars))
		}
	}
	q := question()
	q.Now = q.Session.Starts // what has begun is not planned any more
	if d := plan(t, q); len(d.Bars) != 0 || d.Late != 0 || len(d.Supplies) != 2 {
		t.Errorf("%+v", d)
	}
}

func BenchmarkNeedsAndSupply(b *testing.B) {
	s, store := pondWater(), cupboard()
	for i := range 12 {
		item := s.Items[i%2]
		item.ID = fmt.Sprint(i)
		s.Items = append(s.Items, item)
	}
	s.Items = s.Items[2:]
	for i := range 60 {
		store.Bottles = append(store.Bottles, naoh(fmt.Sprint(i), 0.05+0.01*float64(i), 700))
	}
	for b.Loop() {
		needs, err := session.Needs(s, nil)
		if err != nil {
			b.Fatal(err)
		}
		store.Supplies(s, needs, nil)
	}
}

func BenchmarkPlan(b *testing.B) {
	q := question()
	for b.Loop() {
		if _, err := session.Plan(context.Background(), q); err != nil {
			b.Fatal(err)
		}
	}
}

// Nobody is there on a Saturday, but for a session that is on one.
func TestSaturdays(t *testing.T) {
	q := question()
	q.Session.Items, q.Session.Meters = nil, 0
	q.Session.Own = []session.OwnTask{{ID: "x", Title: "Sort the nets", Hands: 300}}
	q.Now, q.Session.Starts = day("2026-12-11 16:00"), day("2026-12-14 09:00") // a Friday and a Monday
	q.Session.Ends = q.Session.Starts.Add(time.Hour)
	q.Session.People = q.Session.People[:1]
	if d := plan(t, q); d.Late <= 0 {
		t.Errorf("from Friday at 16:00, 300 minutes before Monday at 9:00: late by %d", d.Late)
	}
	q.Session.Starts = day("2026-12-12 16:00") // on the Saturday itself
	q.Session.Ends = q.Session.Starts.Add(time.Hour)
	d := plan(t, q)
	if d.Late != 0 || d.Begins.Before(day("2026-12-11 16:00")) {
		t.Errorf("late by %d, begins %v", d.Late, d.Begins)
	}
	for _, b := range d.Bars {
		if b.ID == "own x" && (b.Starts.Before(day("2026-12-12 08:00")) || b.Ends.After(day("2026-12-12 15:45"))) {
			t.Errorf("%s to %s", b.Starts, b.Ends)
		}
	}
}

// One person, 100 minutes before: 60 of their own and 40 for the places leave it 15 late; an hour earlier is no help once
// it is that hour; a second person is, and so is to be ready at the hour itself.
func TestMendsByHand(t *testing.T) {
	q := question()
	q.Session.Items, q.Session.Meters, q.Session.People = nil, 0, q.Session.People[:1]
	q.Session.Own = []session.OwnTask{{ID: "x", Title: "Sort the nets", Hands: 60}}
	q.Session.Starts = day("2026-12-09 09:40")
	q.Session.Ends = q.Session.Starts.Add(time.Hour)
	q.Now = day("2026-12-09 07:10") // hours begin at 8:00
	d := plan(t, q)
	want := []session.Mend{
		{What: "Everybody comes an hour earlier", Late: -35}, // 7:10 + 100 min = 8:50, 9:25 asked for
		{What: "One person more, with the hours of R. Ashdown", Late: -25},
		{What: "Ready at the hour itself, without the 15 minutes before", Late: 0},
	}
	if d.Late != 15 || !slices.Equal(d.Mends, want) {
		t.Errorf("late by %d, mends %+v", d.Late, d.Mends)
	}
}

func TestWhatIsUsedAtOnce(t *testing.T) {
	q := question()
	q.Session.Groups, q.Session.Meters, q.Store.Meters = 5, 3, 2
	q.Session.Items[0].Pieces = 2 // 10 burettes, and 10 there
	d := plan(t, q)
	if len(d.Verdicts) != 1 || d.Verdicts[0].Sentence != "3 pH meters at once, 2 owned: 1 group shares, or two rounds." {
		t.Errorf("%+v", d.Verdicts)
	}
	q.Session.Groups = 6
	if d := plan(t, q); len(d.Verdicts) != 2 || !strings.HasPrefix(d.Verdicts[0].Sentence, "12 burettes of 50 mL at once, 10 owned") {
		t.Errorf("%+v", d.Verdicts)
	}
}

// Lists are lists for whoever reads the JSON, and the words of the working are whole.
func TestNothingIsNull(t *testing.T) {
	text, err := json.Marshal(plan(t, question()))
	if err != nil || strings.Contains(string(text), "null") {
		t.Errorf("%v: %s", err, text)
	}
	n := need(t, session.Item{ID: "a", Name: "x", Each: "10 mL", Times: 3}, verdict.Thresholds{"S-7": 2})
	if got := n.Working[1].From; !slices.Equal(got, []string{"places: 12 groups and 2 besides (rule S-7)", "spilled: 5 % (rule S-6)"}) {
		t.Errorf("%q", got)
	}
	if n.Portions() != "40 mL: 3 × 10 mL, 1 trial to spare" {
		t.Errorf("%q", n.Portions())
	}
}

func TestCautions(t *testing.T) {
	got := cupboard().Cautions(pondWater())
	if len(got) != 1 || got[0].Title != "Sodium hydroxide" || got[0].Signal != "Danger" || !slices.Contains(got[0].Statements, "H314 Causes severe skin burns and eye damage") {
		t.Errorf("%+v", got)
	}
}

// What another session has planned is an obstacle: the one balance, and the hands of whoever does it.
func TestOtherSessionsInTheWay(t *testing.T) {
	q := question()
	q.Session.Meters, q.Session.People = 0, q.Session.People[:1]
	q.Session.Items = q.Session.Items[:0]
	q.Session.Own = []session.OwnTask{{ID: "x", Title: "Sort the nets", Hands: 30}}
	q.Now = day("2026-12-09 08:00") // 30 of their own and 40 for the places, until 8:45
	if d := plan(t, q); d.Late != 25 {
		t.Fatalf("alone late by %d; 70 minutes from 8:00 end at 9:10", d.Late)
	}
	q.Busy = []session.Busy{{Person: "R. Ashdown", Starts: day("2026-12-09 08:20"), Free: day("2026-12-09 08:40"), Ends: day("2026-12-09 10:40")}}
	d := plan(t, q)
	// Neither fits before 8:20 (30 and 40 minutes), so that all begins at 8:40.
	if d.Late != 65 || !d.Begins.Equal(day("2026-12-09 08:40")) {
		t.Errorf("with hands taken late by %d, begins %v", d.Late, d.Begins)
	}
	q.Busy[0].Person = "J. Thorne" // somebody who is not asked here
	if d := plan(t, q); d.Late != 25 {
		t.Errorf("with the hands of somebody else late by %d", d.Late)
	}

	weighing := question()
	weighing.Session.Meters, weighing.Session.Own = 0, nil
	weighing.Session.Items = weighing.Session.Items[:1]
	weighing.Session.Items[0].Standardised, weighing.Session.Items[0].Glass = false, session.Poured
	weighing.Now = day("2026-12-09 07:55")
	balance := []schedule.Use{{Thing: "balance", Number: 1}}
	weighing.Busy = []session.Busy{{Uses: balance, Starts: day("2026-12-09 08:00"), Free: day("2026-12-09 08:30"), Ends: day("2026-12-09 09:30")}}
	for _, waiting := range []bool{false, true} {
		balance[0].Waiting = waiting
		free := map[bool]string{false: "2026-12-09 08:30", true: "2026-12-09 09:30"}[waiting]
		d := plan(t, weighing)
		i := slices.IndexFunc(d.Bars, func(b session.Bar) bool { return b.ID == "make a" })
		if i < 0 || d.Bars[i].Starts.Before(day(free)) {
			t.Errorf("the balance is free at %s: %+v", free, d.Bars)
		}
		weighing.Session.Starts, weighing.Session.Ends = day("2026-12-09 11:00"), day("2026-12-09 12:00")
	}
}
